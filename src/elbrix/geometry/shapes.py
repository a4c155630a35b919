"""Plane shapes: hulls, cutting off at the table's edge, what is nearest, what a ray meets. mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.quantities.errors import ShopError

Point = tuple[float, float]
Ring = tuple[Point, ...]
_MAX_POINTS: Final = 2000


def circle(radius: float, count: int = 48) -> Ring:
    """A round as a ring, counter-clockwise: its corners lie on the circle, its sides inside, by 0.2 % of the radius at 48."""
    return tuple((radius * math.cos(2 * math.pi * i / count), radius * math.sin(2 * math.pi * i / count)) for i in range(count))


def rectangle(length: float, width: float) -> Ring:
    return (-length / 2, -width / 2), (length / 2, -width / 2), (length / 2, width / 2), (-length / 2, width / 2)


def hexagon(across_flats: float, middle: Point = (0.0, 0.0)) -> Ring:
    """A hexagon with corners left and right, counter-clockwise."""
    r = across_flats / math.sqrt(3)
    return tuple((middle[0] + r * math.cos(math.pi * i / 3), middle[1] + r * math.sin(math.pi * i / 3)) for i in range(6))


def placed(ring: Sequence[Point], x: float, y: float, turn_rad: float) -> Ring:
    """Turned, then moved."""
    c, s = math.cos(turn_rad), math.sin(turn_rad)
    return tuple((x + c * p[0] - s * p[1], y + s * p[0] + c * p[1]) for p in ring)


def area(ring: Sequence[Point]) -> float:
    """Positive when counter-clockwise."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in _edges(ring)) / 2


def is_face(ring: Sequence[Point], least_mm2: float = 1.0) -> bool:
    """Whether something can lie on it: an edge that is only touched, or a sliver, bears nothing."""
    return len(ring) >= 3 and abs(area(ring)) >= least_mm2


def centroid(ring: Sequence[Point]) -> Point:
    a = area(ring)
    if abs(a) < 1e-12:
        return (sum(p[0] for p in ring) / len(ring), sum(p[1] for p in ring) / len(ring))
    x = sum((p[0] + q[0]) * (p[0] * q[1] - q[0] * p[1]) for p, q in _edges(ring)) / (6 * a)
    y = sum((p[1] + q[1]) * (p[0] * q[1] - q[0] * p[1]) for p, q in _edges(ring)) / (6 * a)
    return x, y


def _edges(ring: Sequence[Point]) -> list[tuple[Point, Point]]:
    return list(zip(ring, [*ring[1:], ring[0]], strict=True))


def bounds(ring: Sequence[Point]) -> tuple[float, float, float, float]:
    """(left, low, right, high)."""
    return min(p[0] for p in ring), min(p[1] for p in ring), max(p[0] for p in ring), max(p[1] for p in ring)


def inside(ring: Sequence[Point], p: Point) -> bool:
    """Whether a point is in a ring, its edge counted in."""
    return outside_by(ring, p) < 1e-9


def _encircled(ring: Sequence[Point], p: Point) -> bool:
    """Whether a ray to the right crosses the ring an odd number of times."""
    hit = False
    for a, b in _edges(ring):
        if (a[1] > p[1]) != (b[1] > p[1]) and p[0] < a[0] + (p[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]):
            hit = not hit
    return hit


def _foot(p: Point, a: Point, b: Point) -> Point:
    """The point of a straight piece nearest to a point."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = dx * dx + dy * dy
    t = 0.0 if length < 1e-18 else max(0.0, min(1.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length))
    return a[0] + t * dx, a[1] + t * dy


def nearest(ring: Sequence[Point], p: Point) -> Point:
    """The point of the edge nearest to a point."""
    best, best_d = ring[0], math.inf
    for a, b in _edges(ring):
        q = _foot(p, a, b)
        d = math.hypot(q[0] - p[0], q[1] - p[1])
        if d < best_d:
            best, best_d = q, d
    return best


def distance(ring: Sequence[Point], p: Point) -> float:
    q = nearest(ring, p)
    return math.hypot(q[0] - p[0], q[1] - p[1])


def outside_by(ring: Sequence[Point], p: Point) -> float:
    """How far outside a ring a point is; negative inside."""
    off = distance(ring, p)
    return -off if _encircled(ring, p) else off


def _segments_apart(a: Point, b: Point, c: Point, d: Point) -> float:
    """Distance of two straight pieces that do not cross: from an end of one to the other."""
    return min(math.dist(p, _foot(p, u, v)) for p, u, v in ((a, c, d), (b, c, d), (c, a, b), (d, a, b)))


#: Places looked at along a straight piece that runs through a ring, to tell how deep it goes.
_THROUGH: Final = 16


def least_outside_by(ring: Sequence[Point], a: Point, b: Point) -> float:
    """How far outside a ring a straight piece stays all along; negative where it runs through it, then by how deep it goes."""
    if a == b:
        return outside_by(ring, a)
    ends = min(outside_by(ring, a), outside_by(ring, b))
    crosses, apart = False, math.inf
    for c, d in _edges(ring):
        if _side(a, b, c) * _side(a, b, d) < 0 and _side(c, d, a) * _side(c, d, b) < 0:
            crosses = True
            break
        apart = min(apart, _segments_apart(a, b, c, d))
    if not crosses and ends > 0:
        return apart
    steps = (k / _THROUGH for k in range(_THROUGH + 1))
    return min(0.0, *(outside_by(ring, (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]))) for t in steps))


def _side(a: Point, b: Point, p: Point) -> float:
    """On which side of a line a point lies: positive on the left."""
    return (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])


def hull(points: Sequence[Point]) -> Ring:
    """The convex hull, counter-clockwise (monotone chain)."""
    ordered = sorted(set(points))
    if len(ordered) < 3:
        return tuple(ordered)

    def half(row: Sequence[Point]) -> list[Point]:
        kept: list[Point] = []
        for p in row:
            while (
                len(kept) > 1
                and (kept[-1][0] - kept[-2][0]) * (p[1] - kept[-2][1]) - (kept[-1][1] - kept[-2][1]) * (p[0] - kept[-2][0])
                <= 1e-12
            ):
                kept.pop()
            kept.append(p)
        return kept[:-1]

    return tuple(half(ordered) + half(ordered[::-1]))


def clipped(ring: Sequence[Point], window: Sequence[Point]) -> Ring:
    """The part of a ring inside a convex, counter-clockwise window (Sutherland and Hodgman)."""
    kept = list(ring)
    for a, b in _edges(window):
        if not kept:
            return ()
        side = [(b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) for p in kept]
        fresh: list[Point] = []
        for i, p in enumerate(kept):
            q, here, there = kept[i - 1], side[i], side[i - 1]
            if (here >= 0) != (there >= 0):
                t = there / (there - here)
                fresh.append((q[0] + t * (p[0] - q[0]), q[1] + t * (p[1] - q[1])))
            if here >= 0:
                fresh.append(p)
        kept = fresh
    return tuple(kept)


def ray(ring: Sequence[Point], start: Point, way: Point) -> tuple[float, Point] | None:
    """(how far, outward normal of the edge met) of the first edge a ray from outside meets; None for none."""
    found: tuple[float, Point] | None = None
    sign = 1.0 if area(ring) >= 0 else -1.0
    for a, b in _edges(ring):
        ex, ey = b[0] - a[0], b[1] - a[1]
        cross = way[0] * ey - way[1] * ex
        if abs(cross) < 1e-12:
            continue
        t = ((a[0] - start[0]) * ey - (a[1] - start[1]) * ex) / cross
        u = ((a[0] - start[0]) * way[1] - (a[1] - start[1]) * way[0]) / cross
        if t >= -1e-9 and -1e-9 <= u <= 1 + 1e-9 and (found is None or t < found[0]):
            length = math.hypot(ex, ey)
            found = t, (sign * ey / length, -sign * ex / length)
    return found


def overlap(a: Sequence[Point], b: Sequence[Point]) -> bool:
    """Whether two convex rings share any room (separating axes); touching is not sharing."""
    for ring in (a, b):
        for p, q in _edges(ring):
            nx, ny = q[1] - p[1], p[0] - q[0]
            of_a, of_b = [nx * v[0] + ny * v[1] for v in a], [nx * v[0] + ny * v[1] for v in b]
            slack = 1e-9 * (abs(nx) + abs(ny)) * 1000
            if max(of_a) <= min(of_b) + slack or max(of_b) <= min(of_a) + slack:
                return False
    return True


def check_outline(ring: Sequence[Point], where: str = "Outline") -> Ring:
    """An outline as a ring, counter-clockwise.

    Raises:
        ShopError: Fewer than three corners, too many, no area, or edges that cross.
    """
    points = [p for i, p in enumerate(ring) if i == 0 or math.dist(p, ring[i - 1]) > 1e-6]
    if len(points) > 1 and math.dist(points[0], points[-1]) <= 1e-6:
        points.pop()
    if len(points) < 3:
        raise ShopError(where, f"{len(points)} corners", "An outline goes round", "Give three corners or more")
    if len(points) > _MAX_POINTS:
        raise ShopError(where, f"{len(points):,} corners", f"{_MAX_POINTS:,} are read at most", "Draw it with fewer")
    edges = _edges(points)
    for i, (a, b) in enumerate(edges):
        for j in range(i + 2, len(edges)):
            if i == 0 and j == len(edges) - 1:
                continue
            c, d = edges[j]
            if _cross(a, b, c, d):
                raise ShopError(
                    where, f"edges {i + 1} and {j + 1} cross", "An outline does not cross itself", "Put its corners in order"
                )
    if abs(area(points)) < 1e-6:
        raise ShopError(where, "it has no area", "Its corners lie in a line", "Check them")
    return tuple(points) if area(points) > 0 else tuple(reversed(points))


def _cross(a: Point, b: Point, c: Point, d: Point) -> bool:
    def side(p: Point, q: Point, r: Point) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0
