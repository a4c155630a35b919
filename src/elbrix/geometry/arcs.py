"""Outlines whose curves are true arcs again: a bored nest is a cylinder, not a polygon."""

from __future__ import annotations

import math
from collections.abc import Sequence

from elbrix.geometry.shapes import Point

Circle = tuple[float, float, float]  #: x, y, radius
Arcs = tuple[tuple[int, Point], ...]  #: (edge, a point it runs through): the edge begins at the outline's corner of that number
_ON: float = 1e-5  # a corner is on a circle when it is as near, mm
#: An arc is cut in two beyond this: three points tell a half round's side no more.
_WIDEST = math.radians(150)


def with_arcs(ring: Sequence[Point], circles: Sequence[Circle]) -> tuple[tuple[Point, ...], Arcs]:
    """A closed outline with the runs of its corners that lie on given circles made arcs.

    Args:
        ring: Corners in order, either way round; those on a curve lie on its circle.
        circles: The curves' circles; corners on none of them stay corners.

    Returns:
        (corners, arcs), as `solids.recipe.Prism` takes them.
    """
    n = len(ring)
    edges = [_circle_of(ring[i], ring[(i + 1) % n], circles) for i in range(n)]
    # Begin where a run begins, so that none is met in two halves.
    start = next((i for i in range(n) if edges[i] != edges[i - 1]), 0)
    outline: list[Point] = []
    arcs: list[tuple[int, Point]] = []
    i = 0
    while i < n:
        k = (start + i) % n
        circle = edges[k]
        run = 1
        while i + run < n and circle is not None and edges[(start + i + run) % n] == circle:
            run += 1
        if circle is None:
            outline.append(ring[k])
            i += 1
            continue
        corners = [ring[(start + i + j) % n] for j in range(run + 1)]
        for a, through, _ in _pieces(corners, circle):
            arcs.append((len(outline), through))
            outline.append(a)
        i += run
    return tuple(outline), tuple(arcs)


def area_with_arcs(outline: Sequence[Point], arcs: Arcs) -> float:
    """Area inside such an outline, mm²: the polygon's, and the segment of every arc."""
    n = len(outline)
    total = sum(outline[i][0] * outline[(i + 1) % n][1] - outline[(i + 1) % n][0] * outline[i][1] for i in range(n)) / 2
    for i, m in arcs:
        a, b = outline[i], outline[(i + 1) % n]
        chord, height = math.dist(a, b), _off(a, b, m)
        if abs(height) < 1e-9:
            continue
        radius = chord * chord / (8 * abs(height)) + abs(height) / 2
        half = math.asin(min(1.0, chord / 2 / radius))
        half = half if abs(height) <= radius else math.pi - half
        # An arc to the right of its chord bulges out of an outline that runs counter-clockwise.
        total += math.copysign(radius * radius * (half - math.sin(half) * math.cos(half)), -height)
    return abs(total)


def _off(a: Point, b: Point, p: Point) -> float:
    """How far a point lies to the left of the line from a to b."""
    long = math.dist(a, b)
    return ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / long if long else 0.0


def _circle_of(a: Point, b: Point, circles: Sequence[Circle]) -> Circle | None:
    """The circle that an edge is a chord of, when it is a short one."""
    for x, y, r in circles:
        if abs(math.dist(a, (x, y)) - r) < _ON and abs(math.dist(b, (x, y)) - r) < _ON and math.dist(a, b) < r * 0.6:
            return (x, y, r)
    return None


def _pieces(corners: Sequence[Point], circle: Circle) -> list[tuple[Point, Point, Point]]:
    """(from, through, to) along a circle, none wider than `_WIDEST`."""
    x, y, r = circle
    angles = [math.atan2(p[1] - y, p[0] - x) for p in corners]
    for i in range(1, len(angles)):
        while angles[i] - angles[i - 1] > math.pi:
            angles[i] -= 2 * math.pi
        while angles[i] - angles[i - 1] < -math.pi:
            angles[i] += 2 * math.pi
    first, last = angles[0], angles[-1]
    count = max(1, math.ceil(abs(last - first) / _WIDEST - 1e-9))

    def at(share: float) -> Point:
        angle = first + (last - first) * share
        return (x + r * math.cos(angle), y + r * math.sin(angle))

    ends = [corners[0], *(at(i / count) for i in range(1, count)), corners[-1]]
    return [(ends[i], at((i + 0.5) / count), ends[i + 1]) for i in range(count)]
