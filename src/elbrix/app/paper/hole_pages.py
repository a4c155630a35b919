"""Pages of a drawing about its holes.

The whole table when there are many, and the sheet to mark out by, full size with a scale bar.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.app.paper.pages import DISCLAIMER, SOFT, Pen, text_height, unit_words
from elbrix.design.family import Design, Hole
from elbrix.design.markout import mark_out
from elbrix.drawing.scene import Arc, Line, Path, Scene, Style
from elbrix.quantities.lengths import METRIC, UnitStyle
from elbrix.results.length_text import said_in

#: Letters of a drawing, tenths of a millimetre: capitals of 2.4 mm.
LETTERS: Final = 33.0
#: The strip under the views: the least and the most it takes, where it ends, how wide the table is, and its heading.
STRIP_LEAST, STRIP_MOST, TABLE_END, TABLE_WIDTH, HEAD = 470.0, 600.0, 2010.0, 1620.0, 56.0
COLUMNS: Final = ((0.0, 90.0), (90.0, 170.0), (270.0, 170.0), (480.0, 1140.0))
_COLUMNS, _WIDE, _TOP, _BOTTOM, _ROW = 4, 690.0, 250.0, 1990.0, 34.0
#: Lines of the height gauge that stand on the mark-out page; the table has them all.
_LINES: Final = 22
#: Room for a full-size picture on the mark-out page, mm.
_FULL_SIZE: Final = (180.0, 165.0)


def grouped(holes: Sequence[Hole], style: UnitStyle = METRIC) -> list[tuple[str, list[Hole]]]:
    """Holes by what they are, in order of first use."""
    found: dict[str, list[Hole]] = {}
    for hole in holes:
        found.setdefault(said_in(hole.words, style), []).append(hole)
    return list(found.items())


def hole_cells(hole: Hole, style: UnitStyle) -> tuple[str, str, str, str]:
    """One row of the table on the drawing: name, X, Y, what it is."""
    return hole.name, style.show(hole.x_mm, "mm"), style.show(hole.y_mm, "mm"), said_in(hole.words, style)


def row_heights(design: Design, style: UnitStyle) -> list[float]:
    """Height of each row of the table on the drawing, tenths of a millimetre."""
    return [
        max(text_height(w, text, LETTERS) for (_, w), text in zip(COLUMNS, hole_cells(hole, style), strict=True)) + 6
        for hole in design.holes
    ]


def names_of(holes: Sequence[Hole]) -> str:
    """ "W1 to W41", or each one."""
    if len(holes) > 3:
        return f"{holes[0].name} to {holes[-1].name}, {len(holes)} of them"
    return ", ".join(h.name for h in holes)


def _lines(design: Design, style: UnitStyle) -> list[tuple[str, Hole | None]]:
    """Headings and holes, one after the other."""
    found: list[tuple[str, Hole | None]] = []
    for what, holes in grouped(design.holes, style):
        found.append((what, None))
        found += [("", hole) for hole in holes]
    return found


def _flowed(design: Design, style: UnitStyle) -> list[list[tuple[int, float, str, Hole | None]]]:
    """Per page: column, y, heading, hole."""
    pages: list[list[tuple[int, float, str, Hole | None]]] = [[]]
    column, y = 0, _TOP
    for what, hole in _lines(design, style):
        tall = text_height(_WIDE - 50, what, 26, bold=True) + 20 if hole is None else _ROW
        if y + tall + (_ROW if hole is None else 0) > _BOTTOM:
            column, y = column + 1, _TOP
            if column == _COLUMNS:
                pages.append([])
                column = 0
        pages[-1].append((column, y, what, hole))
        y += tall
    return pages


def table_pages(design: Design, style: UnitStyle) -> int:
    """How many pages the whole table takes; 0 when it stands on the drawing, by the height its rows really take."""
    return 0 if _table_height(design, style) <= STRIP_MOST else len(_flowed(design, style))


def _table_height(design: Design, style: UnitStyle) -> float:
    return HEAD + 42 + sum(row_heights(design, style)) if design.holes else 0.0


def strip_height(design: Design, style: UnitStyle) -> float:
    """Height of the strip with table and title block: the views have the rest of the sheet."""
    if table_pages(design, style):
        return STRIP_MOST
    return max(STRIP_LEAST, _table_height(design, style))


def paint_table(pen: Pen, design: Design, title: str, style: UnitStyle, page: int) -> None:
    """One page of the table: ordinates from the datum, and the same as distance and angle from it."""
    pen.words(110, 80, 1800, f"{title}: holes", 44, bold=True)
    pen.words(
        110,
        140,
        2700,
        f"Ordinates from the {design.datum}, each by itself; R and angle are the same place from the same datum.",
        24,
        colour=SOFT,
    )
    pen.words(2260, 90, 600, unit_words(style), 24, colour=SOFT, align="right")
    pen.line(110, 184, 2860, 184, 3)
    heads = ((90, "X"), (230, "Y"), (370, "R"), (510, "°"))
    for column in range(_COLUMNS):
        for dx, text in heads:
            pen.words(110 + column * _WIDE + dx, 200, 120, text, 24, colour=SOFT, align="right")
    for column, y, what, hole in _flowed(design, style)[page]:
        x = 110 + column * _WIDE
        if hole is None:
            pen.words(x, y + 6, _WIDE - 50, what, 26, bold=True)
            continue
        radius, angle = math.hypot(hole.x_mm, hole.y_mm), math.degrees(math.atan2(hole.y_mm, hole.x_mm))
        pen.words(x, y, 90, hole.name, 26)
        for (dx, _), text in zip(
            heads,
            (style.show(hole.x_mm, "mm"), style.show(hole.y_mm, "mm"), style.show(radius, "mm"), f"{angle:.3f}"),
            strict=True,
        ):
            pen.words(x + dx, y, 120, text, 26, align="right")
        pen.line(x, y + _ROW - 1, x + _WIDE - 55, y + _ROW - 1, 1)
    pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)


def paint_mark_out(pen: Pen, design: Design, face: Scene, title: str, style: UnitStyle) -> None:
    """The face full size when it fits.

    Else as large as a standard scale allows, with the height gauge's lines and the dividers' steps.
    """
    left, low, right, top = _edges(face)
    places = [(h.name, h.x_mm + design.origin[0], h.y_mm + design.origin[1]) for h in design.holes]
    sheet = mark_out(places, left, low)
    pen.words(110, 80, 1900, f"{title}: mark-out", 44, bold=True)
    full = right - left <= _FULL_SIZE[0] and top - low <= _FULL_SIZE[1]
    bar = "100 mm" if style.length == "mm" else "4 in"
    how = (
        f"Full size: lay the work on it, the punch marks have to meet. Measure the bar below first: it must be {bar} long."
        if full
        else "Too large to print full size here: by the height gauge and the dividers."
    )
    pen.words(110, 140, 1900, how, 24, colour=SOFT)
    pen.words(2260, 90, 600, unit_words(style), 24, colour=SOFT, align="right")
    pen.line(110, 184, 2860, 184, 3)
    picture = Scene(
        "mark-out",
        elements=tuple(
            e for e in face.elements if isinstance(e, Arc | Line | Path) and e.style not in (Style.BODY, Style.HIDDEN)
        ),
    )
    if full:
        view = pen.full_size(picture, 125, 220, left, top)
        y = 220 + (top - low) * 10 + 70
    else:
        view = pen.scene(picture, 120, 220, 1780, 1560, lambda _: "", standard=True)
    for name, x_mm, y_mm in places:
        at = view.px((x_mm, y_mm))
        pen.words(at.x() + 8, at.y() - 34, 120, name, 26)

    if full:
        _bar(pen, 130, min(y, 1900), style)
    x = 1980.0
    y = 210.0
    columns = (
        ("Height gauge, left end down", sheet.length, "X", design.origin[0] - left),
        ("Height gauge, near side down", sheet.width, "Y", design.origin[1] - low),
    )
    for heading, lines, axis, beyond in columns:
        pen.words(x, y, 880, heading, 28, bold=True)
        y += 42
        for height, names in lines[:_LINES]:
            pen.words(x, y, 170, style.show(height, "mm"), 26, align="right")
            pen.words(x + 200, y, 670, " ".join(names[:14]) + (" …" if len(names) > 14 else ""), 24, colour=SOFT)
            y += 33
        if more := more_lines(len(lines), axis, style.show(beyond, "mm")):
            pen.words(x, y, 880, more, 24, bold=True)
            y += 33
        y += 22
    if sheet.radii and y < 1700:
        pen.words(x, y, 880, "Dividers, to prove it", 28, bold=True)
        y += 42
        for a, b, r in sheet.radii:
            if y > 1960:
                break
            pen.words(x, y, 170, style.show(r, "mm"), 26, align="right")
            pen.words(x + 200, y, 670, f"{a} to {b}", 24, colour=SOFT)
            y += 33
    pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)


def more_lines(count: int, axis: str, beyond: str) -> str:
    """What is said under the lines of the height gauge when there are more than the page holds: nobody may take them for all.

    Args:
        beyond: From the surface the work stands on to the datum of the hole table, as shown.
    """
    return f"and {count - _LINES} more: {axis} of the hole table + {beyond}" if count > _LINES else ""


def _edges(face: Scene) -> tuple[float, float, float, float]:
    """Bounds of the part itself: its filled outline."""
    points = [p for e in face.elements if isinstance(e, Path) and e.style is Style.BODY for p in e.points]
    if not points:
        return face.bounds()
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _bar(pen: Pen, x: float, y: float, style: UnitStyle) -> None:
    """A hundred millimetres, or four inches."""
    step, count = (100.0, 10) if style.length == "mm" else (254.0, 4)
    for i in range(count + 1):
        high = 40 if i % 5 == 0 or style.length != "mm" else 24
        pen.line(x + i * step, y, x + i * step, y - high, 2, "#22252c")
    pen.line(x, y, x + count * step, y, 3, "#22252c")
    pen.words(x + count * step + 16, y - 34, 400, "100 mm" if style.length == "mm" else "4 in", 26)


def shows_marks(design: Design) -> bool:
    """Whether a sheet to mark out by is worth a page: two holes or more on one face."""
    return len(design.holes) > 1
