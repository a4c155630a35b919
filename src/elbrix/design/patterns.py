"""Hole patterns read from a table or a drawing somebody else made.

Untrusted: sizes are limited, nothing is run, nothing half taken.
"""

from __future__ import annotations

import math
from pathlib import Path
from typing import Final

from elbrix.exchange.csv_tables import read_csv
from elbrix.exchange.dxf_read import open_dxf
from elbrix.exchange.outlines import read_outline
from elbrix.parameters.parameter import Kind
from elbrix.parameters.places import Places, Point, checked, places_text
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import MM_PER_INCH

LARGEST_FILE: Final = 8_000_000
_WHERE: Final = "Hole pattern"


def read_pattern(path: Path) -> str:
    """A pattern file as typed places, by its ending.

    Raises:
        ShopError: A file that cannot be read, or whose holes cannot be.
    """
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise ShopError(
                _WHERE,
                f"{path.name} has {path.stat().st_size / 1e6:.0f} MB",
                "A hole pattern is far smaller",
                "Check which file it is",
            )
        data = path.read_bytes()
    except OSError as error:
        raise ShopError(
            _WHERE, f"{path.name} cannot be opened", f"{error.strerror or error}", "Check the name and the folder"
        ) from None
    return places_text(Places(points=pattern_from_dxf(data) if path.suffix.lower() == ".dxf" else pattern_from_csv(data)))


def read_from_file(kind: Kind, path: Path) -> str:
    """What a parameter of places or of an outline takes from a file, as it would be typed.

    Raises:
        ShopError: A file that cannot be read, or has nothing of the kind.
    """
    if kind is Kind.OUTLINE:
        return read_outline(path, _no_solid).places
    return read_pattern(path)


def _no_solid(*_job: object) -> None:
    raise ShopError("Outline", "it is a solid", "A nest is cut to a flat outline", "Write the outline as DXF")


def pattern_from_csv(data: bytes) -> tuple[Point, ...]:
    """Ordinates from a table with the columns x_mm and y_mm, or x_in and y_in.

    Raises:
        ShopError: What is wrong, with the line.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ShopError(_WHERE, "it is no text", "A table is read as UTF-8 text", "Save it again as CSV") from None
    head = next((line for line in text.splitlines() if line.strip()), "")
    unit = "in" if "x_in" in head else "mm"
    rows = read_csv(text, _WHERE, (f"x_{unit}", f"y_{unit}"), ("name", "what"))
    per = MM_PER_INCH if unit == "in" else 1.0
    points: list[Point] = []
    for line, row in rows:
        pair = []
        for axis in ("x", "y"):
            cell = row[f"{axis}_{unit}"].removeprefix("'")
            try:
                value = float(cell) if len(cell) < 20 and cell.isascii() and "_" not in cell else math.nan
            except ValueError:
                value = math.nan
            if not abs(value) < 1e4:
                raise ShopError(
                    _WHERE,
                    f"line {line}: {axis} “{cell[:12]}”",
                    "It is no ordinate",
                    "Write decimals with a point; nothing was taken",
                )
            pair.append(value * per)
        points.append((pair[0], pair[1]))
    if not points:
        raise ShopError(_WHERE, "there is no row", "A pattern has one hole or more", "Check which file it is")
    return checked(points, _WHERE)


def pattern_from_dxf(data: bytes) -> tuple[Point, ...]:
    """Middles of circles, and points, of a DXF drawing; its origin is the datum. Other things in it are left alone.

    Raises:
        ShopError: No DXF, a unit that is not known, no circle, or too many.
    """
    drawing, per = open_dxf(data, _WHERE)
    points: dict[Point, None] = {}  # a counterbore is two circles on one spot
    for item in drawing.modelspace():
        kind = item.dxftype()
        if kind not in ("CIRCLE", "POINT") or (kind == "CIRCLE" and not item.dxf.hasattr("radius")):
            continue
        at = item.dxf.center if kind == "CIRCLE" else item.dxf.location
        spot = (round(at.x * per, 6), round(at.y * per, 6))
        if not all(math.isfinite(v) and abs(v) < 1e4 for v in spot):
            raise ShopError(
                _WHERE, "a circle far outside any plate", "The drawing's unit is probably wrong", "Write it again in mm"
            )
        points[spot] = None
        if len(points) > 5000:
            break
    if not points:
        raise ShopError(_WHERE, "there is no circle in it", "Holes are read from circles and points", "Draw the holes as circles")
    try:
        return checked(list(points), _WHERE)
    except EntryError as error:
        raise ShopError(error.where, error.what, error.why, error.do) from None
