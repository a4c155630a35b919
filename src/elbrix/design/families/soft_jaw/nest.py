"""Nests: the recess whose wall follows the work.

Plane shapes with shapely, mm; x along the jaws, y away, the parting line at y = 0.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import TYPE_CHECKING, Any, Final

from msgspec import Struct

from elbrix.geometry.arcs import Arcs, Circle, area_with_arcs, with_arcs
from elbrix.geometry.shapes import Point, Ring, area, check_outline
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import length

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

#: A work corner blunter than this needs no relief, degrees.
_BLUNT: Final = 150.0
#: Work may stand into the wall by as much area as rounding makes, mm².
_NOTHING: Final = 0.02
_SEGMENTS: Final = 12  # to a quarter round
#: Nearer to the jaw's face than this a corner lies in it, mm.
_FACE: Final = 1e-6


class Nest(Struct, frozen=True):
    """An outline nest as it comes out."""

    rings: tuple[Ring, ...]  #: of the recess, both jaws together
    reliefs: tuple[Point, ...]  #: middles of the corner reliefs, each of the cutter's Ø
    path: Ring  #: of the cutter's middle
    left_mm2: float  #: work that still meets metal
    circles: tuple[Circle, ...]  #: of every curve of the rings: the cutter about its path's corners, and the reliefs


def centred(ring: Ring) -> Ring:
    """Counter-clockwise, the middle of its box at the origin."""
    xs, ys = [p[0] for p in ring], [p[1] for p in ring]
    mx, my = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    found = tuple((x - mx, y - my) for x, y in ring)
    return found if area(found) > 0 else tuple(reversed(found))


@lru_cache(maxsize=64)
def outline_nest(ring: Ring, clearance: float, cutter: float, relieved: bool) -> Nest:
    """The recess a cutter can make round an outline with a clearance, and what of the work it still meets.

    The cutter's middle runs on the outline grown by the clearance and shrunk by its radius; what it cannot reach at the work's
    sharp corners is drilled away with the same cutter, its middle on the corner's bisector so that it just reaches the corner.

    Raises:
        ShopError: An outline that is none, or a cutter that does not go in anywhere.
    """
    from shapely import Point as MovablePoint
    from shapely import Polygon, unary_union
    from shapely.geometry.polygon import orient

    work = Polygon(check_outline(ring, "Outline"))
    grown = work.buffer(clearance, join_style="mitre", mitre_limit=3.0)
    r = cutter / 2
    centre = grown.buffer(-r, join_style="mitre", mitre_limit=10.0)
    pieces = [g for g in getattr(centre, "geoms", [centre]) if not g.is_empty]
    if not pieces:
        raise ShopError(
            "Cutter",
            f"Ø{length(cutter)} does not go into the nest",
            "The outline is nowhere wide enough for it",
            "Take a smaller cutter",
            entry="cutter_diameter",
        )
    reach = unary_union([p.buffer(r, quad_segs=_SEGMENTS) for p in pieces])
    reliefs = _reliefs(tuple((float(x), float(y)) for x, y in orient(grown, 1.0).exterior.coords[:-1]), r) if relieved else ()
    whole: BaseGeometry = unary_union([reach, *(MovablePoint(p).buffer(r, quad_segs=_SEGMENTS) for p in reliefs)])
    left = work.difference(whole).area
    path = max(pieces, key=lambda p: p.area).exterior.simplify(0.01)
    corners = (*((float(x), float(y)) for p in pieces for x, y in p.exterior.coords[:-1]), *reliefs)
    return Nest(
        _rings(whole),
        reliefs,
        tuple((float(x), float(y)) for x, y in path.coords[:-1]),
        0.0 if left < _NOTHING else float(left),
        tuple((x, y, r) for x, y in corners),
    )


def _rings(shape: Any) -> tuple[Ring, ...]:
    return tuple(
        tuple((float(x), float(y)) for x, y in g.exterior.simplify(0.003).coords[:-1]) for g in getattr(shape, "geoms", [shape])
    )


def _reliefs(corners: tuple[Point, ...], r: float) -> tuple[Point, ...]:
    """At each sharp outward corner: a cutter's radius in from it, on its bisector."""
    found = []
    n = len(corners)
    for i, p in enumerate(corners):
        a, b = corners[i - 1], corners[(i + 1) % n]
        u, w = _unit(p, a), _unit(p, b)
        turn = (p[0] - a[0]) * (b[1] - p[1]) - (p[1] - a[1]) * (b[0] - p[0])
        inner = math.degrees(math.acos(max(-1.0, min(1.0, u[0] * w[0] + u[1] * w[1]))))
        if turn <= 0 or inner >= _BLUNT:
            continue
        bx, by = u[0] + w[0], u[1] + w[1]
        long = math.hypot(bx, by)
        found.append((p[0] + r * bx / long, p[1] + r * by / long))
    return tuple(found)


def _unit(a: Point, b: Point) -> Point:
    long = math.dist(a, b) or 1.0
    return ((b[0] - a[0]) / long, (b[1] - a[1]) / long)


@lru_cache(maxsize=64)
def opened(ring: Ring, circles: tuple[Circle, ...]) -> tuple[Ring, Arcs]:
    """A recess that is open to the jaw's face as a tool to cut it with: its curves true arcs, its open side in front of the face.

    Args:
        ring: As `beyond` gives it; y = 0 is the face.
        circles: Of its curves, in the same x and y.
    """
    found: list[Point] = []
    for i, (x, y) in enumerate(ring):
        after = ring[(i + 1) % len(ring)]
        found.append(_on_circle((x, y), circles) if y < _FACE else (x, y))
        if y < _FACE and after[1] < _FACE:
            found += [(found[-1][0], -1.0), (_on_circle(after, circles)[0], -1.0)]
    return with_arcs(found, circles)


def recess_area(ring: Ring, circles: tuple[Circle, ...]) -> float:
    """Area of a recess behind the face, its curves true arcs, mm²."""
    outline, arcs = opened(ring, circles)
    below = [x for x, y in outline if y < -_FACE]
    return area_with_arcs(outline, arcs) - sum(abs(b - a) for a, b in zip(below[::2], below[1::2], strict=True))


def _on_circle(p: Point, circles: tuple[Circle, ...]) -> Point:
    """Where the face cuts a curve: the face was met by its chord, a hair beside."""
    for x, y, r in circles:
        if abs(math.dist(p, (x, y)) - r) < 0.05 and abs(y - p[1]) <= r:
            across = math.sqrt(r * r - (p[1] - y) ** 2)
            return (x + math.copysign(across, p[0] - x), p[1])
    return p


@lru_cache(maxsize=64)
def beyond_circles(circles: tuple[Circle, ...], gap: float, moving: bool) -> tuple[Circle, ...]:
    """The circles of a recess in one jaw's own x and depth behind its face, as `beyond` turns its rings."""
    sign = -1.0 if moving else 1.0
    return tuple((sign * x, sign * y - gap / 2, r) for x, y, r in circles)


@lru_cache(maxsize=64)
def beyond(rings: tuple[Ring, ...], gap: float, moving: bool) -> tuple[Ring, ...]:
    """What of a recess lies in one jaw, in that jaw's own x and depth behind its face: the jaws stand `gap` apart.

    The moving jaw is seen from its own face, so it is turned half round.
    """
    from shapely import Polygon, box, unary_union

    sign = -1.0 if moving else 1.0
    whole = unary_union([Polygon([(sign * x, sign * y) for x, y in ring]) for ring in rings])
    part = whole.intersection(box(-1e4, gap / 2, 1e4, 1e4))
    found = []
    for g in getattr(part, "geoms", [part]):
        if g.geom_type == "Polygon" and g.area > 0.01:
            found.append(tuple((float(x), float(y) - gap / 2) for x, y in g.exterior.coords[:-1]))
    return tuple(found)


def largest_cutter(ring: Ring, clearance: float, owned: tuple[float, ...]) -> float:
    """The largest of some cutters that leaves nothing of the work standing in metal; 0 when none does."""
    for d in sorted(owned, reverse=True):
        try:
            if outline_nest(ring, clearance, d, True).left_mm2 == 0:
                return d
        except ShopError:  # it does not go in, or the outline is none: said when that one is solved
            continue
    return 0.0
