"""The outlines of a drawing's views as closed runs with true arcs: to be cut round, or laid on other drawings."""

from __future__ import annotations

import math
from typing import Final

from elbrix.drawing.scene import Arc, Line, Path, Point, Scene, Style
from elbrix.geometry.arcs import Circle, with_arcs

#: Ends nearer than this are one, mm.
_MEET_MM: Final = 0.002
#: Arcs are followed in steps of this while the outline is looked for.
_STEP_DEG: Final = 6.0
_EDGES: Final = frozenset({Style.VISIBLE, Style.SECTION})

#: A corner and how far the edge from it bulges: the tangent of a quarter of its angle, counter-clockwise above 0.
Corner = tuple[float, float, float]


def outer_contours(scene: Scene) -> list[list[Corner]]:
    """The outer outline of each view, counter-clockwise; what is not closed has none."""
    import shapely  # only files want it

    ends = _Ends()
    runs: list[list[Point]] = []
    circles: list[Circle] = []
    for e in scene.elements:
        if not isinstance(e, Line | Arc | Path) or e.style not in _EDGES:
            continue
        if isinstance(e, Line):
            runs.append([ends.of(e.a), ends.of(e.b)])
        elif isinstance(e, Path):
            points = [ends.of(p) for p in e.points]
            runs.append([*points, points[0]] if e.closed else points)
        elif e.ratio != 1.0:
            points = e.points()
            runs.append([ends.of(points[0]), *points[1:-1], ends.of(points[-1])])
        else:
            points = e.points(max(8, math.ceil((e.end_deg - e.start_deg) / _STEP_DEG)))
            runs.append([ends.of(points[0]), *points[1:-1], ends.of(points[-1])])
            circles.append((*e.centre, e.radius))
    lines = [shapely.LineString(run) for run in runs if len({*run}) > 1]
    if not lines:
        return []
    areas = shapely.union_all(list(shapely.polygonize([shapely.union_all(lines)]).geoms))
    found = []
    for area in getattr(areas, "geoms", [areas]):
        if area.is_empty or area.geom_type != "Polygon":
            continue
        ring = shapely.get_coordinates(shapely.geometry.polygon.orient(area, 1.0).exterior)[:-1]
        found.append(_bulged([(float(x), float(y)) for x, y in _straightened(ring.tolist())], circles))
    return found


def _straightened(ring: list[list[float]]) -> list[list[float]]:
    """Without corners at which the edge goes straight on: where an inner edge of the view met it."""
    kept = []
    n = len(ring)
    for i, (x, y) in enumerate(ring):
        (ax, ay), (bx, by) = ring[i - 1], ring[(i + 1) % n]
        across = (x - ax) * (by - ay) - (y - ay) * (bx - ax)
        if abs(across) > 1e-7 * max(1.0, math.hypot(bx - ax, by - ay)):
            kept.append([x, y])
    return kept


def _bulged(ring: list[Point], circles: list[Circle]) -> list[Corner]:
    outline, arcs = with_arcs(ring, circles)
    through = dict(arcs)
    found = []
    for i, (x, y) in enumerate(outline):
        bulge = 0.0
        if i in through:
            bx, by = outline[(i + 1) % len(outline)]
            mx, my = through[i]
            chord = math.hypot(bx - x, by - y)
            bulge = -2 * ((bx - x) * (my - y) - (by - y) * (mx - x)) / chord**2
        found.append((x, y, bulge))
    return found


class _Ends:
    """Ends of edges; those that are meant to meet get the same place."""

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], Point] = {}

    def of(self, p: Point) -> Point:
        column, row = math.floor(p[0] / _MEET_MM), math.floor(p[1] / _MEET_MM)
        for i in (-1, 0, 1):
            for j in (-1, 0, 1):
                known = self._cells.get((column + i, row + j))
                if known is not None and math.dist(known, p) < _MEET_MM:
                    return known
        self._cells[(column, row)] = p
        return p
