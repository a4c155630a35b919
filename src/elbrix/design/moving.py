"""A hole taken up on the plate and set down elsewhere.

Settled on slots, on other holes' lines and on whole steps, its symmetric partners with it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Final

from msgspec.structs import replace

from elbrix.design.bores import Hole
from elbrix.drawing.scene import MovablePoint
from elbrix.parameters.places import SAME_MM, Places, Point, checked, places_text, read_places
from elbrix.quantities.lengths import round_to_step

#: A line of something else pulls a hole to it from this far, mm.
PULL: Final = 1.6


def spots(
    holes: Sequence[Hole],
    entry: str,
    others: Iterable[Hole],
    *,
    origin: Point = (0.0, 0.0),
    lines_y: Iterable[float] = (),
    ring: float = 0.0,
    step: float = 1.0,
) -> tuple[MovablePoint, ...]:
    """One for every hole of a parameter.

    Args:
        holes: In the order of the parameter's places.
        others: Everything there is to line up with.
        origin: The datum the places count from.
        lines_y: Lines along x they settle on first: slots.
        ring: A circle about the middle they settle on first: a ring slot.
    """
    listed = list(others)
    found = []
    for i, h in enumerate(holes):
        xs = {0.0, *(o.x for o in listed if o is not h)}
        ys = {0.0, *(o.y for o in listed if o is not h), *lines_y}
        found.append(
            MovablePoint(
                entry,
                i,
                (h.x, h.y),
                h.mouth / 2,
                origin=origin,
                step=step,
                lines_x=tuple(sorted(xs)),
                lines_y=tuple(sorted(ys)),
                ring=ring,
                feature=h.feature,
            )
        )
    return tuple(found)


def settle_point(spot: MovablePoint, to: Point) -> Point:
    """Where it settles: on a ring, on the nearest line that pulls, else on whole steps from the datum."""
    if spot.ring and abs(math.hypot(*to) - spot.ring) < 3 * PULL:
        angle = math.radians(round(math.degrees(math.atan2(to[1], to[0]))))
        return (spot.ring * math.cos(angle), spot.ring * math.sin(angle))

    def one(value: float, lines: tuple[float, ...], zero: float) -> float:
        near = min(lines, key=lambda line: abs(line - value), default=None)
        if near is not None and abs(near - value) <= PULL:
            return near
        return zero + round_to_step(value - zero, spot.step)

    return (one(to[0], spot.lines_x, spot.origin[0]), one(to[1], spot.lines_y, spot.origin[1]))


def moved(text: str, spot: MovablePoint, to: Point, where: str, *, alone: bool) -> str:
    """The places with one moved to where it settles, as typed.

    Args:
        text: The places as they were when it was taken up.
        to: In the coordinates of the picture.
        alone: Leave its partners, mirrored about either middle line or both, where they are.

    Raises:
        EntryError: Two would lie on one spot.
    """
    places = read_places(text, "mm", where)
    ox, oy = spot.origin
    points = [(x + ox, y + oy) for x, y in places.points]
    was, now = points[spot.index], settle_point(spot, to)
    signs = [(1, 1)] if alone else [(1, 1), (-1, 1), (1, -1), (-1, -1)]
    new = list(points)
    for sx, sy in reversed(signs):
        twin = (sx * was[0], sy * was[1])
        for i, p in enumerate(points):
            if math.dist(p, twin) < 5 * SAME_MM and (i == spot.index) is (sx == sy == 1):
                new[i] = (sx * now[0], sy * now[1])
    found = checked([(round(x - ox, 3), round(y - oy, 3)) for x, y in new], where)
    return places_text(replace(places, points=found) if places.points else Places(points=found))
