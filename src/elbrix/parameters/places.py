"""Places of holes as typed or read from a table or a drawing.

"grid 20", pairs of ordinates from one datum, or a row, column or circle that becomes ordinates.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from functools import lru_cache
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.grammar import clip
from elbrix.quantities.lengths import Length, entry_text
from elbrix.quantities.patterns import Pattern
from elbrix.results.figures import format_number
from elbrix.results.length_text import length

Point = tuple[float, float]
MAX_PLACES: Final = 600
MAX_PAIRS: Final = 60
_LONGEST: Final = 20_000
_FARTHEST: Final = 3000.0
_GRID: Final = Pattern(r"grid\s+(?P<p>\S.*)", re.IGNORECASE)
#: "row 12,30 + 5 x 25": the first, then five more, 25 apart along x; a column goes along y.
_CHAIN: Final = Pattern(
    r"(?P<way>row|column)\s+(?P<x>[^,;+]+),(?P<y>[^,;+]+)\+\s*(?P<n>\d{1,3})\s*[x×*]\s*(?P<p>\S.*)", re.IGNORECASE
)
#: "circle 6 on 90 at 30 about 50,20": six on a Ø90 circle, the first at 30°, round a middle; the last two may be left away.
_CIRCLE: Final = Pattern(
    r"circle\s+(?P<n>\d{1,3})\s+on\s+(?P<d>.+?)(?:\s+at\s+(?P<a>[-+.\d]{1,12}))?(?:\s+about\s+(?P<x>[^,;]+),(?P<y>[^,;]+))?",
    re.IGNORECASE,
)
#: Two places nearer than this are one.
SAME_MM: Final = 0.01


class Places(Struct, frozen=True):
    """A grid of one pitch over the whole face, or ordinates, mm."""

    grid_mm: float = 0.0
    points: tuple[Point, ...] = ()


@lru_cache(maxsize=512)  # a pattern of holes is read for its design, its picture, its plan and every check of another size
def read_places(text: str, unit: str, where: str) -> Places:
    """Read "grid 20", "20,10; 40,10", "row 12,30 + 5 x 25", "circle 6 on 90 at 30" or nothing. Rows and circles become ordinates.

    Args:
        unit: Of bare numbers, "mm" or "in".

    Raises:
        EntryError: Anything else; a pair without its partner, a place twice, too many.
    """
    example = "Write grid 20; pairs from the datum: 20,10; 40,10; or row 20,10 + 4 x 25, circle 6 on 90"
    plain = text.strip()
    if len(plain) > _LONGEST:
        raise EntryError(where, f"{len(plain):,} characters", f"{MAX_PLACES} places are kept at most", "Read them from a table")
    if not plain or plain.lower() == "none":
        return Places()
    grid = _GRID.fullmatch(plain)
    if grid:
        return Places(Length.parse(grid["p"], unit, f"{where}, grid", 3, 500).mm)
    points: list[Point] = []
    for part in (p for p in re.split(r"[;\n]", plain) if p.strip()):
        run = _run(part.strip(), unit, where)
        if run is not None:
            points += run
            if len(points) > MAX_PLACES:
                break
            continue
        pair = [q for q in part.split(",") if q.strip()]
        if len(pair) != 2:
            hint = "A decimal with a comma makes one number too many" if len(pair) > 2 else "Each place has an x and a y"
            raise EntryError(where, f"{clip(part.strip(), 24)} is no place", hint, example)
        points.append(tuple(Length.parse(q, unit, where, -_FARTHEST, _FARTHEST).mm for q in pair))  # type: ignore[arg-type]
    return Places(points=checked(points, where))


def read_pairs(text: str, unit: str, where: str) -> Places:
    """Read pairs of sizes, "20,20.06; 40,40.11", in their order, or none; the same pair may come again.

    Raises:
        EntryError: A pair without its partner, a number that is none, too many.
    """
    if len(text) > _LONGEST:
        raise EntryError(where, f"{len(text):,} characters", f"{MAX_PAIRS} pairs are kept at most", "Leave the oldest away")
    if text.strip().lower() == "none":
        return Places()
    found: list[Point] = []
    for part in (p for p in text.split(";") if p.strip()):
        pair = [q for q in part.split(",") if q.strip()]
        if len(pair) != 2:
            raise EntryError(
                where, f"{clip(part.strip(), 24)} is no pair", "Each is two sizes, a comma between", "Write 20,20.06; 40,40.11"
            )
        found.append(tuple(Length.parse(q, unit, where, -_FARTHEST, _FARTHEST).mm for q in pair))  # type: ignore[arg-type]
    if len(found) > MAX_PAIRS:
        raise EntryError(where, f"{len(found)} pairs", f"{MAX_PAIRS} are kept at most", "Leave the oldest away")
    return Places(points=tuple(found))


def _run(part: str, unit: str, where: str) -> list[Point] | None:
    """A row, a column or a circle as ordinates; None when it is neither."""

    def size(text: str, low: float = -_FARTHEST) -> float:
        return Length.parse(text, unit, where, low, _FARTHEST).mm

    if chain := _CHAIN.fullmatch(part):
        x, y, pitch = size(chain["x"]), size(chain["y"]), size(chain["p"])
        along = chain["way"].lower() == "row"
        # Each ordinate from the datum, not from the hole before it: rounding never adds up.
        return [(x + i * pitch, y) if along else (x, y + i * pitch) for i in range(int(chain["n"]) + 1)]
    if circle := _CIRCLE.fullmatch(part):
        count, radius = int(circle["n"]), size(circle["d"], 0.1) / 2
        if not count:
            raise EntryError(where, "a circle of no holes", "It has one or more", "Write how many")
        try:
            first = float(circle["a"] or 0)
        except ValueError:
            raise EntryError(
                where,
                f"{clip(circle['a'], 12)} is no angle",
                "The first hole's angle is in degrees",
                "Write circle 6 on 90 at 30",
            ) from None
        x, y = size(circle["x"] or "0"), size(circle["y"] or "0")
        angles = [math.radians(first + 360 * i / count) for i in range(count)]
        return [(round(x + radius * math.cos(a), 6), round(y + radius * math.sin(a), 6)) for a in angles]
    return None


def checked(points: list[Point], where: str) -> tuple[Point, ...]:
    """The same places, when they can be.

    Raises:
        EntryError: Too many, or two on one spot.
    """
    if len(points) > MAX_PLACES:
        raise EntryError(where, f"{len(points):,} places", f"{MAX_PLACES} are kept at most", "Leave some away, or use a grid")
    seen: set[tuple[int, int]] = set()
    for p in points:
        key = (round(p[0] / SAME_MM), round(p[1] / SAME_MM))
        if key in seen:
            raise EntryError(
                where,
                f"{format_number(p[0])},{format_number(p[1])} is there twice",
                "Two holes on one spot are one",
                "Take one away",
            )
        seen.add(key)
    return tuple(points)


def places_text(places: Places, unit: str = "mm") -> str:
    """As typed, in mm or inches: reads back as the same places."""
    return _written(places, lambda value: entry_text(value, unit))


def places_said(places: Places) -> str:
    """The same for a card, its lengths marked for the unit on show."""
    return _written(places, length)


def _written(places: Places, size: Callable[[float], str]) -> str:
    if places.grid_mm:
        return f"grid {size(places.grid_mm)}"
    return "; ".join(f"{size(x)},{size(y)}" for x, y in places.points)


def beside(error: ShopError, entry: str) -> EntryError:
    """The same message beside an entry."""
    return EntryError(error.where, error.what, error.why, error.do, entry)
