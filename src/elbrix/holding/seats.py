"""Where the work really presses: under what presses it down. Points that stand for it, with friction there and nowhere else.

A flat piece on a table has friction where it is pressed, which is under the tips of its clamps, spread by about its own height,
and under its own weight. The far corners of what it lies on bear it when it is tipped, but nothing presses them: friction counted
there would hold against turning at an arm that is not there.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.geometry.shapes import Point, Ring, clipped, hull, outside_by, placed, rectangle
from elbrix.holding.contacts import ClampForce, Contact, Vec

_POINTS: Final = 12
#: Half of what a clamp's tip covers, mm; to that the height of the work is added on every side.
_TIP_MM: Final = 6.0
#: A push goes down when this share of it does.
_DOWN: Final = 0.05


def seat_points(seat: Ring) -> Ring:
    """The corners of a seat's hull, at the most a dozen, so rather too few than too many."""
    ring = hull(seat)
    return ring[:: max(1, math.ceil(len(ring) / _POINTS))]


def seat_contacts(seats: Sequence[Ring], bottom_mm: float, mu: float) -> tuple[Contact, ...]:
    """The faces the work rests on as points, all with one friction."""
    found = []
    for number, seat in enumerate(seats, 1):
        name = f"seat {number}" if len(seats) > 1 else "seat"
        found += [Contact((x, y, bottom_mm), (0.0, 0.0, 1.0), mu, name) for x, y in seat_points(seat)]
    return tuple(found)


def pressed_contacts(
    seats: Sequence[Ring], bottom_mm: float, height_mm: float, mu: float, forces: Sequence[ClampForce], cg: Vec
) -> tuple[Contact, ...]:
    """The same faces: their corners bear and have no friction, the pads under what presses have it.

    Args:
        height_mm: Of the work: a push spreads by it on its way down.
    """
    found = list(seat_contacts(seats, bottom_mm, 0.0))
    spots = [(p.at[0], p.at[1]) for p in forces if p.force_n > 0 and -p.along[2] >= _DOWN]
    for spot in dict.fromkeys((*spots, (cg[0], cg[1]))):
        for number, ring in _pads(seats, spot, _TIP_MM + height_mm):
            name = f"seat {number}" if len(seats) > 1 else "seat"
            found += [Contact((x, y, bottom_mm), (0.0, 0.0, 1.0), mu, name) for x, y in seat_points(ring)]
    return tuple(found)


def _pads(seats: Sequence[Ring], spot: Point, half_mm: float) -> list[tuple[int, Ring]]:
    """(number of the seat, what of it lies under a push); where nothing does, the nearest place of a seat."""
    square = placed(rectangle(2 * half_mm, 2 * half_mm), spot[0], spot[1], 0.0)
    found = [(n, pad) for n, seat in enumerate(seats, 1) if len(seat) >= 3 and len(pad := clipped(square, hull(seat))) >= 3]
    if found or not seats:
        return found
    number = min(range(len(seats)), key=lambda i: outside_by(seats[i], spot) if len(seats[i]) >= 3 else math.inf)
    corner = min(seats[number], key=lambda p: math.dist(p, spot), default=spot)
    return [(number + 1, (corner,))]
