"""The outline of the work from a drawing or a solid somebody else made. Untrusted: sizes are limited, nothing is half taken."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import Any, Final

from msgspec import Struct

from elbrix.exchange.dxf_read import open_dxf
from elbrix.geometry.shapes import Point, Ring, area, check_outline, hull
from elbrix.parameters.places import Places, places_text
from elbrix.quantities.errors import ShopError

LARGEST_FILE: Final = 30_000_000
_WHERE: Final = "Outline"
_JOIN_MM: Final = 0.01
#: A curve may leave its straight pieces by as much, mm.
_SAG_MM: Final = 0.02
_ARC_STEP: Final = math.radians(9)
_MOST_EDGES: Final = 4000
#: Corners an outline is kept with.
_MOST_CORNERS: Final = 200


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


def _text(ring: Ring) -> str:
    if len(ring) > _MOST_CORNERS:
        step = len(ring) / _MOST_CORNERS
        ring = tuple(ring[int(i * step)] for i in range(_MOST_CORNERS))
    return places_text(Places(points=tuple((round(x, 3), round(y, 3)) for x, y in ring)))


def outline_from_dxf(data: bytes) -> Ring:
    """The largest closed outline of a drawing: a closed polyline, a circle, or lines and arcs that meet end to end.

    Raises:
        ShopError: No DXF, nothing closed, or edges that cross.
    """
    drawing, per = open_dxf(data, _WHERE)
    rings: list[list[Point]] = []
    runs: list[list[Point]] = []
    item: Any
    for count, item in enumerate(drawing.modelspace()):
        if count > _MOST_EDGES:
            raise ShopError(
                _WHERE, "too many edges", f"{_MOST_EDGES:,} are read at most", "Leave only the outline in the drawing"
            )
        kind = item.dxftype()
        if kind == "CIRCLE":
            c, r = item.dxf.center, item.dxf.radius
            rings.append(_arc((c.x, c.y), r, 0.0, 2 * math.pi)[:-1])
        elif kind in ("LWPOLYLINE", "POLYLINE"):
            points = _polyline(item)
            (rings if item.is_closed or (len(points) > 3 and math.dist(points[0], points[-1]) * per < _JOIN_MM) else runs).append(
                points
            )
        elif kind in ("SPLINE", "ELLIPSE"):
            points = [(float(q.x), float(q.y)) for q in item.flattening(_SAG_MM / per)]
            closed = len(points) > 3 and math.dist(points[0], points[-1]) * per < _JOIN_MM
            (rings if closed else runs).append(points[:-1] if closed else points)
        elif kind == "LINE":
            runs.append([(item.dxf.start.x, item.dxf.start.y), (item.dxf.end.x, item.dxf.end.y)])
        elif kind == "ARC":
            start, end = math.radians(item.dxf.start_angle), math.radians(item.dxf.end_angle)
            runs.append(
                _arc((item.dxf.center.x, item.dxf.center.y), item.dxf.radius, start, end if end > start else end + 2 * math.pi)
            )
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


def _polyline(item: Any) -> list[Point]:
    """Corners with its bulges as short straight pieces."""
    points: list[Point] = []
    for piece in item.virtual_entities():
        if piece.dxftype() == "ARC":
            start, end = math.radians(piece.dxf.start_angle), math.radians(piece.dxf.end_angle)
            run = _arc(
                (piece.dxf.center.x, piece.dxf.center.y), piece.dxf.radius, start, end if end > start else end + 2 * math.pi
            )
            if points and math.dist(points[-1], run[-1]) < math.dist(points[-1], run[0]):
                run.reverse()
        else:
            run = [(piece.dxf.start.x, piece.dxf.start.y), (piece.dxf.end.x, piece.dxf.end.y)]
        points += run if not points else run[1:]
    return points


def _arc(centre: Point, radius: float, start: float, end: float) -> list[Point]:
    count = max(2, math.ceil((end - start) / _ARC_STEP))
    return [
        (
            centre[0] + radius * math.cos(start + (end - start) * i / count),
            centre[1] + radius * math.sin(start + (end - start) * i / count),
        )
        for i in range(count + 1)
    ]


def _joined(runs: list[list[Point]], join: float) -> list[list[Point]]:
    """Closed rings out of runs that meet end to end."""
    left, found = [list(r) for r in runs], []
    while left:
        ring = left.pop()
        grown = True
        while grown and math.dist(ring[0], ring[-1]) > join:
            grown = False
            for i, run in enumerate(left):
                if math.dist(ring[-1], run[0]) <= join:
                    ring += run[1:]
                elif math.dist(ring[-1], run[-1]) <= join:
                    ring += run[-2::-1]
                else:
                    continue
                left.pop(i)
                grown = True
                break
        if len(ring) > 3 and math.dist(ring[0], ring[-1]) <= join:
            found.append(ring[:-1])
    return found
