"""The outline of the work from a drawing or a solid somebody else made. Untrusted: sizes are limited, nothing is half taken."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import Any, Final

from msgspec import Struct

from elbrix.exchange.dxf_read import LARGEST_DXF, open_dxf
from elbrix.geometry.shapes import Point, Ring, area, check_outline, hull
from elbrix.parameters.places import Places, places_text
from elbrix.quantities.errors import ShopError

LARGEST_FILE: Final = 30_000_000
_WHERE: Final = "Outline"
_JOIN_MM: Final = 0.01
#: A curve may leave its straight pieces by as much, mm.
_SAG_MM: Final = 0.02
_ARC_STEP: Final = math.radians(9)
#: No finer than that part of its size.
_FINEST: Final = 5000
_MAX_EDGES: Final = 4000
#: Corners of all its edges together.
_MAX_POINTS: Final = 20_000
#: Corners an outline is kept with.
_MAX_CORNERS: Final = 200
#: By as much an outline may be off because corners were left out, mm.
_MAX_OFF_MM: Final = 0.1


class ReadOutline(Struct, frozen=True):
    """What was found."""

    places: str  #: corners as typed places, mm
    height_mm: float  #: 0: the file does not say
    note: str = ""


def read_outline(path: Path, ask_kernel: Callable[..., Any]) -> ReadOutline:
    """An outline by the file's ending: the largest closed one of a DXF, or of a STEP solid what it covers seen from above.

    Args:
        ask_kernel: Called with a job and its arguments for a STEP file; what it raises as ShopError goes through.

    Raises:
        ShopError: A file that cannot be read, or an outline that is none.
    """
    try:
        size = path.stat().st_size
        if size > LARGEST_FILE:
            raise ShopError(
                _WHERE,
                f"{path.name} has {size / 1e6:.0f} MB",
                "Elbrix reads 30 MB at most",
                "Leave out what the outline does not need",
            )
        if size == 0:
            raise ShopError(_WHERE, f"{path.name} is empty", "There is nothing in it to read", "Write it again")
        data = path.read_bytes()
    except OSError as error:
        raise ShopError(
            _WHERE, f"{path.name} cannot be opened", f"{error.strerror or error}", "Check the name and the folder"
        ) from None
    if path.suffix.lower() in (".step", ".stp"):
        found = ask_kernel("read_step_outline", data)
        ring = check_outline(hull([(round(x, 3), round(y, 3)) for x, y in found["points"]]), _WHERE)
        note = "A solid's outline is taken without its bays: what it covers seen from above"
        return ReadOutline(_text(ring), float(found["height_mm"]), note)
    if path.suffix.lower() != ".dxf":
        raise ShopError(
            _WHERE, f"{path.name} is neither DXF nor STEP", "Outlines are read from those two", "Write it as one of them"
        )
    return ReadOutline(_text(outline_from_dxf(data)), 0.0)


def fewer_corners(ring: Ring, most: int = _MAX_CORNERS) -> Ring:
    """The same outline with so many corners at the most: those go first that it is least off without.

    Raises:
        ShopError: Without them it would be off by more than is taken silently.
    """
    if len(ring) <= most:
        return ring
    import shapely  # only large outlines need it

    whole, off_mm = shapely.Polygon(ring), _SAG_MM / 4
    while off_mm <= _MAX_OFF_MM:
        kept = tuple(shapely.get_coordinates(shapely.simplify(whole, off_mm, preserve_topology=True)).tolist())[:-1]
        if len(kept) <= most:
            found = tuple((float(x), float(y)) for x, y in kept)
            return found if area(found) * area(ring) > 0 else found[::-1]
        off_mm *= 1.25
    raise ShopError(
        _WHERE,
        f"its edge has {len(ring):,} corners, none of which can be left out",
        f"{most} are kept at most, and it would be more than {_MAX_OFF_MM:g} mm off with so few",
        "Draw its curves as arcs, or leave the finest of it out",
    )


def _text(ring: Ring) -> str:
    ring = fewer_corners(ring)
    return places_text(Places(points=tuple((round(x, 3), round(y, 3)) for x, y in ring)))


def outline_from_dxf(data: bytes) -> Ring:
    """The largest closed outline of a drawing: a closed polyline, a circle, or lines and arcs that meet end to end.

    Raises:
        ShopError: No DXF, nothing closed, or edges that cross.
    """
    if len(data) > LARGEST_DXF:
        raise ShopError(
            _WHERE,
            f"a drawing of {len(data) / 1e6:.0f} MB",
            f"Elbrix reads {LARGEST_DXF / 1e6:.0f} MB at most",
            "Leave only the outline in it",
        )
    drawing, per = open_dxf(data, _WHERE)
    from ezdxf.lldxf.const import DXFError  # loaded with the first drawing

    rings: list[list[Point]] = []
    runs: list[list[Point]] = []
    left = _MAX_POINTS
    item: Any
    for count, item in enumerate(drawing.modelspace()):
        if count > _MAX_EDGES:
            raise ShopError(_WHERE, "too many edges", f"{_MAX_EDGES:,} are read at most", "Leave only the outline in the drawing")
        try:
            points, closed = _points_of(item, per, left)
        except (ArithmeticError, ValueError, IndexError, TypeError, AttributeError, RecursionError, DXFError):
            raise ShopError(
                _WHERE,
                f"its {item.dxftype().lower()} number {count + 1} cannot be drawn",
                "Its numbers are none, or do not belong together",
                "Take it out, or write the drawing again",
            ) from None
        left -= len(points)
        if left <= 0:
            raise ShopError(
                _WHERE,
                "its curves have too many points",
                f"{_MAX_POINTS:,} are read at most; the drawing's unit may be wrong",
                "Leave only the outline in the drawing",
            )
        if closed and len(points) >= 3:
            rings.append(points)
        elif len(points) >= 2:
            runs.append(points)
    rings += _joined(_once(runs, _JOIN_MM / per), _JOIN_MM / per)
    if not rings:
        raise ShopError(
            _WHERE,
            "nothing in the drawing is closed",
            "An outline goes round and meets itself to 0.01 mm",
            "Close it, or join its ends",
        )
    if not all(math.isfinite(v) and abs(v) * per < 1e5 for ring in rings for p in ring for v in p):
        raise ShopError(_WHERE, "it is far larger than any table", "The drawing's unit is probably wrong", "Write it again in mm")
    largest = max(rings, key=lambda r: abs(area(r)))
    return check_outline([(x * per, y * per) for x, y in largest], _WHERE)


def _once(runs: list[list[Point]], join: float) -> list[list[Point]]:
    """Without specks shorter than what is joined, and without edges that were drawn twice over each other, either way round."""
    found: list[list[Point]] = []
    seen: set[tuple[tuple[int, int], ...]] = set()
    for run in runs:
        if sum(math.dist(a, b) for a, b in pairwise(run)) <= join:
            continue
        # Two edges between the same ends may still differ, a chord and its arc: their middles tell.
        middle = (math.fsum(x for x, _ in run) / len(run), math.fsum(y for _, y in run) / len(run))
        spots = tuple((round(x / join), round(y / join)) for x, y in (run[0], middle, run[-1]))
        if spots in seen or tuple(reversed(spots)) in seen:
            continue
        seen.add(spots)
        found.append(run)
    return found


def _points_of(item: Any, per: float, most: int) -> tuple[list[Point], bool]:
    """(corners, closed) of one thing of a drawing; nothing for what is no edge.

    Raises:
        ArithmeticError, ValueError, DXFError: Numbers that make no edge.
    """
    kind = item.dxftype()
    if kind == "CIRCLE":
        if not item.dxf.hasattr("radius"):
            raise ValueError("a circle of no radius")
        c, r = item.dxf.center, item.dxf.radius
        return _arc((c.x, c.y), r, 0.0, 2 * math.pi, per)[:-1], True
    if kind in ("LWPOLYLINE", "POLYLINE"):
        points = _polyline(item, most, per)
        return points, item.is_closed or _meets(points, per)
    if kind in ("SPLINE", "ELLIPSE"):
        points = []
        for q in item.flattening(_sag(item, per), 4):
            points.append(_finite(q.x, q.y))
            if len(points) > most:
                break
        closed = _meets(points, per)
        return points[:-1] if closed else points, closed
    if kind == "LINE":
        return [_finite(item.dxf.start.x, item.dxf.start.y), _finite(item.dxf.end.x, item.dxf.end.y)], False
    if kind == "ARC":
        return _dxf_arc(item, per), False
    return [], False


def _meets(points: list[Point], per: float) -> bool:
    return len(points) > 3 and math.dist(points[0], points[-1]) * per < _JOIN_MM


def _sag(item: Any, per: float) -> float:
    """How far a curve may leave its straight pieces, in the drawing's unit: no finer than its size asks for."""
    if item.dxftype() == "ELLIPSE":
        size = math.hypot(item.dxf.major_axis.x, item.dxf.major_axis.y)
    else:
        spots = [_finite(p[0], p[1]) for p in (*item.control_points, *item.fit_points)]
        size = max((math.dist(spots[0], p) for p in spots), default=0.0)
    if not math.isfinite(size) or size <= 0:
        raise ValueError("a curve of no size")
    return max(_SAG_MM / per, size / _FINEST)


def _polyline(item: Any, most: int, per: float) -> list[Point]:
    """Corners with its bulges as short straight pieces."""
    points: list[Point] = []
    for piece in item.virtual_entities():
        if piece.dxftype() == "ARC":
            run = _dxf_arc(piece, per)
            if points and math.dist(points[-1], run[-1]) < math.dist(points[-1], run[0]):
                run.reverse()
        else:
            run = [_finite(piece.dxf.start.x, piece.dxf.start.y), _finite(piece.dxf.end.x, piece.dxf.end.y)]
        points += run if not points else run[1:]
        if len(points) > most:
            break
    return points


def _finite(x: float, y: float) -> Point:
    if not (math.isfinite(x) and math.isfinite(y)):
        raise ValueError("no place")
    return float(x), float(y)


def _dxf_arc(item: Any, per: float) -> list[Point]:
    """An arc counter-clockwise from its first angle to its second, each taken within a turn."""
    _finite(item.dxf.start_angle, item.dxf.end_angle)
    start = math.radians(item.dxf.start_angle % 360.0)
    turn = math.radians((item.dxf.end_angle - item.dxf.start_angle) % 360.0) or 2 * math.pi
    return _arc((item.dxf.center.x, item.dxf.center.y), item.dxf.radius, start, start + turn, per)


def _arc(centre: Point, radius: float, start: float, end: float, per: float) -> list[Point]:
    """Corners on an arc, so near that its sides leave it by no more than a spline's do.

    Args:
        per: Millimetres in one unit of the drawing.
    """
    _finite(*centre)
    _finite(radius, 0.0)
    if radius <= 0:
        raise ValueError("an arc of no radius")
    sag = max(_SAG_MM / per, radius / _FINEST)
    step = min(_ARC_STEP, 2 * math.acos(1 - min(1.0, sag / radius)))
    count = max(2, math.ceil((end - start) / step - 1e-9))
    return [
        (
            centre[0] + radius * math.cos(start + (end - start) * i / count),
            centre[1] + radius * math.sin(start + (end - start) * i / count),
        )
        for i in range(count + 1)
    ]


def _joined(runs: list[list[Point]], join: float) -> list[list[Point]]:
    """Closed rings out of runs that meet end to end."""
    ends = _Ends(join)
    for number, run in enumerate(runs):
        ends.add(number, run)
    left = dict(enumerate(runs))
    found = []
    while left:
        number, run = left.popitem()
        ends.take(number, run)
        ring = list(run)
        while math.dist(ring[0], ring[-1]) > join:
            number = ends.at(ring[-1], left)
            if number < 0:
                break
            run = left.pop(number)
            ends.take(number, run)
            ring += run[1:] if math.dist(ring[-1], run[0]) <= join else run[-2::-1]
        if len(ring) > 3 and math.dist(ring[0], ring[-1]) <= join:
            found.append(ring[:-1])
    return found


class _Ends:
    """Ends of runs by where they are, so that the next one is found without looking at all."""

    def __init__(self, join: float) -> None:
        self._join = join
        self._cells: dict[tuple[int, int], set[int]] = {}

    def _cell(self, p: Point) -> tuple[int, int]:
        return math.floor(p[0] / self._join), math.floor(p[1] / self._join)

    def add(self, number: int, run: list[Point]) -> None:
        for p in (run[0], run[-1]):
            self._cells.setdefault(self._cell(p), set()).add(number)

    def take(self, number: int, run: list[Point]) -> None:
        for p in (run[0], run[-1]):
            self._cells[self._cell(p)].discard(number)

    def at(self, p: Point, runs: dict[int, list[Point]]) -> int:
        """A run that ends at a place; −1 for none."""
        column, row = self._cell(p)
        near = (n for i in (-1, 0, 1) for j in (-1, 0, 1) for n in self._cells.get((column + i, row + j), ()))
        return min((n for n in near if min(math.dist(p, runs[n][0]), math.dist(p, runs[n][-1])) <= self._join), default=-1)
