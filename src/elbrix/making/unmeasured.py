"""Sizes the drawing limits that no cut asks for: measured when the last of them is made, before the piece goes on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from msgspec.structs import replace

from elbrix.design.family import Design, HoleSizes
from elbrix.design.tolerances import SizeLimits
from elbrix.making.plan import AskedSize, Move, Operation, Plan, Setup
from elbrix.quantities.sentences import within

#: A measured size is one of the drawing's when they are as near as this, mm.
SAME_MM: Final = 1e-6
#: Limits as narrow as this are not for a caliper, mm.
_MICROMETER_MM: Final = 0.05
#: What a hole is gauged with.
GAUGE_PINS: Final = "gauge pins"
#: A hole that is further off its limits than this holds no pin, or lets none in, mm.
FAILS_MM: Final = 0.01
#: How the steps that measure them are called.
MEASURED: Final = "measured."
#: Of a plan: what is done by hand at its end.
_BENCH: Final = "bench"


def measured_last(plan: Plan, design: Design, limits: Mapping[str, SizeLimits], drawn: Mapping[str, str]) -> Plan:
    """The plan with a step for each size of the piece that has limits of its own and is measured nowhere, and for each such hole.

    They come first at the bench: what is pressed in, staked or screwed on there may hide them.

    Args:
        drawn: Sizes the piece's drawing shows, by parameter, and how each is called.
    """
    asked = {m.asked.key: (m.feature, m.asked.expected_mm) for _, _, m in plan.moves if m.asked is not None and m.asked.drawn}

    def known(name: str, size_mm: float) -> bool:
        """Whether it is asked for; each question answers for one size, of several as large for the one it names."""
        alike = [key for key, (_, expected) in asked.items() if abs(size_mm - expected) < SAME_MM]
        named = [key for key in alike if asked[key][0] == name]
        free = [
            key for key in alike if asked[key][0] not in drawn or abs(design.values.number(asked[key][0]) - size_mm) > SAME_MM
        ]
        answers = [*named, *free]
        if answers:
            del asked[answers[0]]
        return bool(answers)

    moves = [
        _step(name, label, _tool(name, own), design.values.number(name), own)
        for name, label in drawn.items()
        if (own := limits.get(name)) is not None and not own.general and not known(name, design.values.number(name))
    ]
    for sizes, holes in _alike(design).items():
        if sizes.limits is not None and not known("", sizes.diameter_mm):
            label = f"{'Hole' if len(holes) == 1 else 'Holes'} {', '.join(holes)}"
            moves.append(_step(f"hole.{holes[0]}", label, GAUGE_PINS, sizes.diameter_mm, hole_limits(sizes.limits)))
    if not moves or not plan.setups:
        return plan
    each = ", each piece" if len(plan.pieces) > 1 else ""
    operation = Operation(title=f"Measure what the drawing limits{each}", moves=tuple(moves))
    *before, last = plan.setups
    if last.id == _BENCH:
        return replace(plan, setups=(*before, replace(last, operations=(operation, *last.operations))))
    bench = Setup(id="measure", title="Measure", holding="By hand", datum="none", operations=(operation,))
    return replace(plan, setups=(*plan.setups, bench))


def hole_limits(limits: tuple[float, float]) -> SizeLimits:
    """Limits of a hole of the table as those of a size."""
    under, over = limits
    return SizeLimits(under, over, under + FAILS_MM, over + FAILS_MM)


def _alike(design: Design) -> dict[HoleSizes, list[str]]:
    """Names of the holes of the table, those of one size together."""
    found: dict[HoleSizes, list[str]] = {}
    for hole in design.holes:
        if hole.sizes is not None:
            found.setdefault(hole.sizes, []).append(hole.name)
    return found


def _step(name: str, label: str, tool: str, size_mm: float, limits: SizeLimits) -> Move:
    return Move(
        id=f"{MEASURED}{name}",
        words=f"{label}: out of what the drawing allows, the piece is not used",
        asked=AskedSize(key=f"{MEASURED}{name}", words=f"{tool}, {within(label)}", expected_mm=size_mm, limits=limits),
        feature=name,
    )


def _tool(name: str, limits: SizeLimits) -> str:
    if "depth" in name:
        return "depth gauge"
    return "micrometer" if limits.under + limits.over < _MICROMETER_MM else "caliper"
