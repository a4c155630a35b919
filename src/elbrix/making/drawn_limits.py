"""Sizes that are measured at the machine are held to what the drawing allows, not to a rule of thumb, and none is forgotten."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct
from msgspec.structs import replace

from elbrix.design.family import Design, Family, parameter_of
from elbrix.design.tolerances import SizeLimits, drawn_sizes, size_limits
from elbrix.design.work import HandOperation
from elbrix.making.dial_limits import to_limits
from elbrix.making.plan import AskedSize, Move, Plan
from elbrix.making.unmeasured import SAME_MM, hole_limits, measured_last
from elbrix.shop.shop import Shop


def with_limits(plan: Plan, family: Family, design: Design, shop: Shop) -> Plan:
    """The plan with the drawing's limits at every size that is asked for and stands on it; of several of one size the closest.

    What has limits of its own and is asked for nowhere is measured at the end.
    """
    limits = size_limits(family, design, shop)
    drawn = [_Drawn(name, design.values.number(name), own) for name, own in limits.items() if name in design.values]
    for hole in design.holes:
        if hole.sizes is not None and hole.sizes.limits is not None:
            drawn.append(_Drawn(hole.size, hole.sizes.diameter_mm, hole_limits(hole.sizes.limits)))
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


class _Drawn(Struct, frozen=True):
    """A size of the drawing."""

    name: str
    size_mm: float
    limits: SizeLimits


def _limited(moves: Iterable[Move], drawn: list[_Drawn]) -> Iterable[Move]:
    for move in moves:
        own = _of(move.asked, move.feature, drawn) if move.asked is not None and move.asked.drawn else None
        yield move if own is None or move.asked is None else replace(move, asked=replace(move.asked, limits=own))


def _of(asked: AskedSize, feature: str, drawn: list[_Drawn]) -> SizeLimits | None:
    """Limits of the size that is meant; where only its number tells which, of all that are as large."""
    alike = [d for d in drawn if abs(d.size_mm - asked.expected_mm) < SAME_MM]
    mine = [d.limits for d in alike if d.name == feature] or [d.limits for d in alike]
    if not mine:
        return None
    return SizeLimits(
        under=min(own.under for own in mine),
        over=min(own.over for own in mine),
        fails_under=min(own.fails_under for own in mine),
        fails_over=min(own.fails_over for own in mine),
    )
