"""Can the cutter go there: tool, holder and spindle nose against everything on the table, and the table's travel."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct

from elbrix.geometry.shapes import Point, bounds, distance, inside, least_outside_by
from elbrix.holding.layout import Solid


class ToolShape(Struct, frozen=True, kw_only=True):
    """A cutter in its holder, from its end up, as stacked cylinders."""

    diameter_mm: float
    edge_mm: float  #: what sticks out of the holder
    shank_mm: float
    holder_mm: float = 40.0
    holder_length_mm: float = 50.0
    nose_mm: float = 90.0

    def radius_at(self, above_end_mm: float) -> float:
        """Radius of the widest part at or below a height above the cutter's end; 0 below it."""
        if above_end_mm < 0:
            return 0.0
        radius = self.diameter_mm / 2
        if above_end_mm > self.edge_mm:
            radius = max(radius, self.holder_mm / 2)
        if above_end_mm > self.edge_mm + self.holder_length_mm:
            radius = max(radius, self.nose_mm / 2)
        return radius


class Clash(Struct, frozen=True):
    """One place on the path where the cutter meets something."""

    index: int  #: of the path
    what: str
    by_mm: float  #: how far it goes in


class Stretch(Struct, frozen=True):
    """A straight piece of the way of the tool's axis; a single place when both ends are one."""

    start: Point
    end: Point
    index: int  #: place of the path it belongs to


def clashes(
    way: Sequence[Stretch],
    end_mm: float,
    tool: ToolShape,
    solids: Sequence[Solid],
    room_mm: float = 1.0,
    work: Solid | None = None,
) -> list[Clash]:
    """Every place of the path where tool, holder or nose comes within `room_mm` of something, there or on the way to the next.

    Args:
        way: All of the way of the tool's axis, on the table: between two places of a path a clamp has room.
        end_mm: Height of the cutter's end above the table.
        work: What is cut: the cutter may touch it, what holds the cutter may not.
    """
    found: list[Clash] = []
    stands = [(s.ring, tool.radius_at(s.top_mm - end_mm) + room_mm, s.name) for s in solids if s.top_mm >= end_mm]
    if work is not None and (held := tool.radius_at(work.top_mm - end_mm)) > tool.diameter_mm / 2:
        stands.append((work.ring, held, work.name))
    for ring, near, name in stands:
        left, low, right, high = bounds(ring)
        deepest: dict[int, float] = {}
        for stretch in way:
            (x, y), (u, v) = stretch.start, stretch.end
            if min(x, u) > right + near or max(x, u) < left - near or min(y, v) > high + near or max(y, v) < low - near:
                continue
            middle, half = ((x + u) / 2, (y + v) / 2), math.dist(stretch.start, stretch.end) / 2
            if half and distance(ring, middle) > near + half and not inside(ring, middle):
                continue  # nothing of it comes nearer than its middle does by half its length
            off = least_outside_by(ring, stretch.start, stretch.end)
            if off < near - 1e-9:
                deepest[stretch.index] = max(deepest.get(stretch.index, 0.0), near - off)
        found += [Clash(i, name, by) for i, by in sorted(deepest.items())]
    return sorted(found, key=lambda c: c.index)


def travel_needed(path: Sequence[Point]) -> tuple[float, float]:
    """(along X, along Y) the path asks of the table, mm."""
    if not path:
        return 0.0, 0.0
    xs, ys = [p[0] for p in path], [p[1] for p in path]
    return max(xs) - min(xs), max(ys) - min(ys)


def furthest(path: Sequence[Point]) -> tuple[float, float]:
    """(in X, in Y) the farthest any place of the path is from the table's middle."""
    return max((abs(p[0]) for p in path), default=0.0), max((abs(p[1]) for p in path), default=0.0)


def spanner_room(at: Point, solids: Sequence[Solid], own: str, low_mm: float, radius_mm: float) -> str:
    """What stands in a spanner's way round a nut; empty for nothing."""
    for solid in solids:
        if solid.name.startswith(own) or solid.top_mm <= low_mm:
            continue
        off = 0.0 if inside(solid.ring, at) else distance(solid.ring, at)
        if off < radius_mm and math.isfinite(off):
            return solid.name
    return ""
