"""Sizes that are measured at the machine are held to what the drawing allows, not to a rule of thumb, and none is forgotten."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from elbrix.design.family import Design, Family, parameter_of
from elbrix.design.tolerances import SizeLimits, drawn_sizes, size_limits
from elbrix.design.work import HandOperation
from elbrix.making.dial_limits import to_limits
from elbrix.making.plan import AskedSize, Move, Plan
from elbrix.making.unmeasured import SAME_MM, hole_limits, measured_last
from elbrix.shop.shop import Shop


def with_limits(plan: Plan, family: Family, design: Design, shop: Shop) -> Plan:
    """The plan with the drawing's limits at every size that is asked for and stands on it; of two of one size the closer.

    What has limits of its own and is asked for nowhere is measured at the end.
    """
    limits = size_limits(family, design, shop)
    drawn = [(design.values.number(name), own) for name, own in limits.items() if name in design.values]
    for hole in design.holes:
        if hole.sizes is not None and hole.sizes.limits is not None:
            drawn.append((hole.sizes.diameter_mm, hole_limits(hole.sizes.limits)))
    limited = replace(
        plan,
        setups=tuple(
            replace(s, operations=tuple(replace(o, moves=tuple(_limited(o.moves, drawn))) for o in s.operations))
            for s in plan.setups
        ),
    )
    proven = {name for step in family.work(design, shop).steps if isinstance(step, HandOperation) for name in step.proves}
    shown = {name: parameter_of(family, name).label for name in drawn_sizes(family, design) if name not in proven}
    return to_limits(measured_last(limited, design, limits, shown), shop)


def _limited(moves: Iterable[Move], drawn: list[tuple[float, SizeLimits]]) -> Iterable[Move]:
    for move in moves:
        own = _of(move.asked, drawn) if move.asked is not None else None
        yield move if own is None or move.asked is None else replace(move, asked=replace(move.asked, limits=own))


def _of(asked: AskedSize, drawn: list[tuple[float, SizeLimits]]) -> SizeLimits | None:
    mine = [own for value, own in drawn if abs(value - asked.expected_mm) < SAME_MM]
    return min(mine, key=lambda own: own.under + own.over) if mine else None
