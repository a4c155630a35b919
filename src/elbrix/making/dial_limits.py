"""Whether the dials and the measuring tools of the shop are fine enough for the limits of a size, and what is done where not.

A last number that would cut beyond the limits is taken back to the one that leaves metal on, and the rest is brought off by an
indicator or by hand, measured. Metal can come off later; it cannot be put back.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from msgspec.structs import replace

from elbrix.design.tolerances import SizeLimits
from elbrix.making.dials import division_mm, within_limits
from elbrix.making.plan import AskedSize, KitItem, Move, Plan, Position, Setup
from elbrix.making.unmeasured import GAUGE_PINS, MEASURED
from elbrix.quantities.lengths import INCH, METRIC
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

#: How the step is called that brings off what the move before it leaves.
TO_SIZE: Final = ".to_size"
#: A size that is taken over with a gauge set by feel, and read over a micrometer then, may be off by so much more, mm.
_BY_FEEL_MM: Final = 0.01
_BY_FEEL: Final = ("telescoping", "small-hole")
_MEASURING: Final = ("indicator", "caliper", "micrometer", "depth gauge")
#: A pin tells of a hole that is no farther off its Ø, mm.
_NEAR_PIN_MM: Final = 0.005
#: Nearer than this there is nothing left to bring off, mm.
_NOTHING_MM: Final = 5e-5


def to_limits(plan: Plan, shop: Shop) -> Plan:
    """The plan with last numbers that stay within limits, and a step of its own for what no dial can be set to.

    Args:
        plan: With the drawing's limits at the sizes that are asked for.
    """
    by_id = {m.id: m for m in shop.machines}
    setups = tuple(_setup(s, by_id.get(s.machine_id or plan.machine_id), shop) for s in plan.setups)
    added = [m for s in setups for m in s.moves if m.id.endswith(TO_SIZE) or m.id.startswith(MEASURED)]
    return replace(plan, setups=setups, kit=(*plan.kit, *_reached_for(added, plan.kit, shop)))


def _reached_for(moves: list[Move], there: tuple[KitItem, ...], shop: Shop) -> Iterable[KitItem]:
    """What those steps are done with and is not on the list yet."""
    said = [f"{m.words} {m.asked.words if m.asked is not None else ''}" for m in moves]
    for word in (*_MEASURING, "file", "abrasive cloth"):
        if any(word in words for words in said) and not any(word in item.words for item in there):
            owned = word not in _MEASURING or not shop.measuring or any(word in t.name.lower() for t in shop.measuring)
            yield KitItem(word, owned, "" if owned else "none in Shop")
    gauged = [m.asked.expected_mm for m in moves if m.asked is not None and GAUGE_PINS in m.asked.words]
    if gauged:
        owned = all(any(abs(pin.diameter_mm - size) < _NEAR_PIN_MM for pin in shop.pins) for size in gauged)
        yield KitItem(GAUGE_PINS, owned, "" if owned else "none of that size in Shop; a small-hole gauge is less sure")


def _setup(setup: Setup, machine: Machine | None, shop: Shop) -> Setup:
    operations = []
    for operation in setup.operations:
        moves = tuple(m for move in operation.moves for m in _move(move, setup, machine, shop))
        operations.append(replace(operation, moves=moves))
    return replace(setup, operations=tuple(operations))


def _move(move: Move, setup: Setup, machine: Machine | None, shop: Shop) -> Iterable[Move]:
    if move.asked is None:
        return (move,)
    size = _read_with(move.asked, shop, next((p.unit for p in move.positions), "mm"))
    by = size.by
    position = next((p for p in move.positions if by is not None and p.axis == by.axis), None)
    if machine is None or position is None or by is None:
        return (replace(move, asked=size),)
    size = replace(size, division_mm=abs(division_mm(machine, position.axis, position.unit) * by.per))
    if size.limits is None:
        return (replace(move, asked=size),)
    low, high = sorted((-size.limits.under / by.per, size.limits.over / by.per))
    dial = within_limits(machine, position.axis, position.value_mm, (low, high), by.leaves, position.unit)
    positions = tuple(replace(p, dial=dial) if p is position else p for p in move.positions)
    if low - _NOTHING_MM <= dial.off_mm <= high + _NOTHING_MM:
        return (replace(move, positions=positions, asked=size),)
    return replace(move, positions=positions, asked=None), _to_size(move, setup, size, position, abs(dial.off_mm * by.per))


def _to_size(move: Move, setup: Setup, size: AskedSize, position: Position, left_mm: float) -> Move:
    """The step that brings off what the dial leaves."""
    style = INCH if position.unit == "in" else METRIC
    by_hand = setup.on_lathe and size.by is not None and not size.by.inside
    how = "an indicator against the slide" + (", or a fine file and abrasive cloth" if by_hand else "")
    return Move(
        id=f"{move.id}{TO_SIZE}",
        words=(
            f"Bring it to size, {style.with_unit(left_mm, 'mm', 0.001)} to go, with {how}: a division of {position.axis} is more"
            " than the limits leave. A little at a time, measured"
        ),
        asked=size,
        feature=move.feature,
        lock=move.lock,
        caution=(
            "File left-handed, its handle on; cloth on a flat stick, never round the work or a finger. The ways covered."
            if by_hand
            else ""
        ),
    )


def _read_with(size: AskedSize, shop: Shop, unit: str) -> AskedSize:
    """The size with the tool of the shop it is read with, and how far to trust that."""
    kind = next((k for k in ("micrometer", "caliper") if k in size.words), "")
    tool = shop.measuring_tool(kind, size.expected_mm, unit) if kind else None
    if tool is None:
        return size
    feel = _BY_FEEL_MM if any(word in size.words for word in _BY_FEEL) else 0.0
    return replace(size, tool=tool.name, trusted_mm=tool.trusted_mm + feel)


def band_mm(limits: SizeLimits) -> float:
    """How wide limits are, mm."""
    return limits.under + limits.over
