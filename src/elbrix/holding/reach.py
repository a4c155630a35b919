"""Can the cutter go there: tool, holder and spindle nose against everything on the table, and the table's travel."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct

from elbrix.geometry.shapes import Point, distance, inside, outside_by
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


def clashes(path: Sequence[Point], end_mm: float, tool: ToolShape, solids: Sequence[Solid], room_mm: float = 1.0) -> list[Clash]:
    """Every place where tool, holder or nose comes within `room_mm` of something.

    Args:
        path: Tool axis, on the table.
        end_mm: Height of the cutter's end above the table.
    """
    found = []
    for i, at in enumerate(path):
        for solid in solids:
            radius = tool.radius_at(solid.top_mm - end_mm)
            if radius <= 0:
                continue
            off = outside_by(solid.ring, at)
            if off < radius + room_mm - 1e-9:
                found.append(Clash(i, solid.name, radius + room_mm - off))
    return found


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
