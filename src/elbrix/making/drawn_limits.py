"""Sizes that are measured at the machine are held to what the drawing allows, not to a rule of thumb."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from elbrix.design.family import Design
from elbrix.design.tolerances import SizeLimits
from elbrix.making.dial_limits import to_limits
from elbrix.making.plan import AskedSize, Move, Plan
from elbrix.shop.shop import Shop

#: A hole that is further off its limits than this holds no pin, or lets none in, mm.
_FAILS_MM = 0.01
#: A measured size is one of the drawing's when they are as near as this, mm.
_SAME_MM = 1e-6


def with_limits(plan: Plan, design: Design, limits: dict[str, SizeLimits], shop: Shop) -> Plan:
    """The plan with the drawing's limits at every size that is asked for and stands on it; of two of one size the closer."""
    drawn = [(design.values.number(name), own) for name, own in limits.items() if name in design.values]
    for hole in design.holes:
        if hole.sizes is not None and hole.sizes.limits is not None:
            under, over = hole.sizes.limits
            drawn.append((hole.sizes.diameter_mm, SizeLimits(under, over, under + _FAILS_MM, over + _FAILS_MM)))
    limited = replace(
        plan,
        setups=tuple(
            replace(s, operations=tuple(replace(o, moves=tuple(_limited(o.moves, drawn))) for o in s.operations))
            for s in plan.setups
        ),
    )
    return to_limits(limited, shop)


def _limited(moves: Iterable[Move], drawn: list[tuple[float, SizeLimits]]) -> Iterable[Move]:
    for move in moves:
        own = _of(move.asked, drawn) if move.asked is not None else None
        yield move if own is None or move.asked is None else replace(move, asked=replace(move.asked, limits=own))


def _of(asked: AskedSize, drawn: list[tuple[float, SizeLimits]]) -> SizeLimits | None:
    mine = [own for value, own in drawn if abs(value - asked.expected_mm) < _SAME_MM]
    return min(mine, key=lambda own: own.under + own.over) if mine else None
