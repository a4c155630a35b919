"""Pages of a drawing about its holes.

The whole table when there are many, and the sheets to mark out by, full size with a scale bar; in tiles when one does not do.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from msgspec import Struct
from PyQt6.QtCore import QRectF

from elbrix.app.paper.pages import INK, SOFT, Pen, text_height, unit_words
from elbrix.app.plate.painter import View
from elbrix.design.callouts import letters
from elbrix.design.family import Design, HoleLine
from elbrix.design.markout import mark_out
from elbrix.design.tolerances import SizeLimits, hole_words
from elbrix.drawing.scene import Arc, Line, Path, Scene, Style
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.length_text import said_in

#: Letters of a drawing, tenths of a millimetre: capitals of 2.4 mm.
LETTERS: Final = 33.0
#: The strip under the views: the least it takes, how wide the table is, and its heading.
STRIP_MIN, TABLE_WIDTH, HEAD = 470.0, 1620.0, 56.0
COLUMNS: Final = ((0.0, 90.0), (90.0, 170.0), (270.0, 170.0), (480.0, 1140.0))
_WIDE, _TOP, _ROW = 690.0, 250.0, 34.0
#: The strip when the table has pages of its own.
_SUMMARY: Final = 600.0
#: Lines of the height gauge that stand on the mark-out page; the table has them all.
_LINES: Final = 22
#: Neighbouring tiles of a mark-out share so much, mm; of more tiles than this nobody makes a sheet.
_SHARED, _MAX_TILES = 10.0, 16


class PageRoom(Struct, frozen=True):
    """A page across, mm, and what of it is for what, tenths of a millimetre."""

    width_mm: float = 297.0
    height_mm: float = 210.0

    @property
    def wide(self) -> float:
        return 10 * self.width_mm

    @property
    def high(self) -> float:
        return 10 * self.height_mm

    @property
    def table_end(self) -> float:
        return self.high - 90

    @property
    def strip_most(self) -> float:
        """The most that the strip with table and block takes of the first page."""
        return _SUMMARY + 0.4 * (self.high - 2100)

    @property
    def columns(self) -> int:
        """Of the whole table."""
        return int((self.wide - 200) // _WIDE)

    @property
    def full_size(self) -> tuple[float, float]:
        """Room for a full-size picture beside the lines of the height gauge, mm."""
        return self.width_mm - 117, self.height_mm - 45

    @property
    def tile(self) -> tuple[float, float]:
        """What of a full-size picture one tile shows besides what it shares, mm."""
        return self.width_mm - 24 - _SHARED, self.height_mm - 52 - _SHARED


A4: Final = PageRoom()
NO_LIMITS: Final[Mapping[str, SizeLimits]] = {}


def _what(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits]) -> list[tuple[HoleLine, str]]:
    return [(hole, hole_words(hole, design, style, limits)) for hole in design.holes]


def grouped(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits] = NO_LIMITS) -> list[tuple[str, list[HoleLine]]]:
    """Holes by what they are, in order of first use."""
    found: dict[str, list[HoleLine]] = {}
    for hole, words in _what(design, style, limits):
        found.setdefault(words, []).append(hole)
    return list(found.items())


def table_rows(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits] = NO_LIMITS) -> list[tuple[str, str, str, str]]:
    """Rows of the table on the drawing: name, X, Y, what it is; callouts stand where they are and have no ordinates."""
    holes = [(h.name, style.show(h.x_mm, "mm"), style.show(h.y_mm, "mm"), words) for h, words in _what(design, style, limits)]
    return [*holes, *((letter, "", "", said_in(c.words, style)) for letter, c in letters(design))]


def row_heights(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits] = NO_LIMITS) -> list[float]:
    """Height of each row of the table on the drawing, tenths of a millimetre."""
    return [
        max(text_height(w, text, LETTERS) for (_, w), text in zip(COLUMNS, cells, strict=True)) + 6
        for cells in table_rows(design, style, limits)
    ]


def names_of(holes: Sequence[HoleLine]) -> str:
    """ "W1 to W41", or each one."""
    if len(holes) > 3:
        return f"{holes[0].name} to {holes[-1].name}, {len(holes)} of them"
    return ", ".join(h.name for h in holes)


def _lines(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits]) -> list[tuple[str, HoleLine | None]]:
    """Headings and holes, one after the other, and the callouts."""
    found: list[tuple[str, HoleLine | None]] = []
    for what, holes in grouped(design, style, limits):
        found.append((what, None))
        found += [("", hole) for hole in holes]
    return found + [(f"{letter}: {said_in(c.words, style)}", None) for letter, c in letters(design)]


def _flowed(
    design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits], page: PageRoom
) -> list[list[tuple[int, float, str, HoleLine | None]]]:
    """Per page: column, y, heading, hole."""
    pages: list[list[tuple[int, float, str, HoleLine | None]]] = [[]]
    column, y = 0, _TOP
    for what, hole in _lines(design, style, limits):
        tall = text_height(_WIDE - 50, what, 26, bold=True) + 20 if hole is None else _ROW
        if y + tall + (_ROW if hole is None else 0) > page.high - 110:
            column, y = column + 1, _TOP
            if column == page.columns:
                pages.append([])
                column = 0
        pages[-1].append((column, y, what, hole))
        y += tall
    return pages


def table_pages(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits] = NO_LIMITS, page: PageRoom = A4) -> int:
    """How many pages the whole table takes; 0 when it stands on the drawing, by the height its rows really take."""
    return 0 if _table_height(design, style, limits) <= page.strip_most else len(_flowed(design, style, limits, page))


def _table_height(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits]) -> float:
    return (HEAD + 42 if design.holes else 0.0) + sum(row_heights(design, style, limits))


def strip_height(design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits] = NO_LIMITS, page: PageRoom = A4) -> float:
    """Height of the strip with table and title block: the views have the rest of the sheet."""
    if table_pages(design, style, limits, page):
        return _SUMMARY
    return max(STRIP_MIN, _table_height(design, style, limits))


def paint_table(
    pen: Pen, design: Design, title: str, style: UnitStyle, index: int, limits: Mapping[str, SizeLimits], page: PageRoom
) -> None:
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
    pen.words(page.wide - 710, 90, 600, unit_words(style), 24, colour=SOFT, align="right")
    pen.line(110, 184, page.wide - 110, 184, 3)
    heads = ((90, "X"), (230, "Y"), (370, "R"), (510, "°"))
    for column in range(page.columns):
        for dx, text in heads:
            pen.words(110 + column * _WIDE + dx, 200, 120, text, 24, colour=SOFT, align="right")
    for column, y, what, hole in _flowed(design, style, limits, page)[index]:
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


def mark_pages(design: Design, face: Scene, page: PageRoom = A4) -> int:
    """How many sheets to mark out by: none for less than two holes; one, and tiles after it where one will not do."""
    if len(design.holes) < 2:
        return 0
    return 1 if _fits(face, page) else 1 + len(tiles(face, page))


def _fits(face: Scene, page: PageRoom) -> bool:
    left, low, right, top = _edges(face)
    return right - left <= page.full_size[0] and top - low <= page.full_size[1]


def tiles(face: Scene, page: PageRoom) -> list[tuple[int, int]]:
    """Column and row of each tile, from the lower left; none when there would be too many."""
    left, low, right, top = _edges(face)
    across, up = math.ceil((right - left) / page.tile[0] - 1e-9), math.ceil((top - low) / page.tile[1] - 1e-9)
    return [(c, r) for r in range(up) for c in range(across)] if across * up <= _MAX_TILES else []


def tile_name(tile: tuple[int, int]) -> str:
    """ "B2": the second to the right in the second row from below."""
    return f"{chr(ord('A') + tile[0])}{tile[1] + 1}"


def paint_mark_out(
    pen: Pen, design: Design, face: Scene, title: str, style: UnitStyle, page: PageRoom = A4, index: int = 0
) -> None:
    """The face full size when it fits.

    Else as large as a standard scale allows, with the height gauge's lines and the dividers' steps, and full size in tiles on
    the pages after it.
    """
    left, low, _, top = _edges(face)
    if index:
        _paint_tile(pen, design, face, title, style, page, tiles(face, page)[index - 1])
        return
    places = [(h.name, h.x_mm + design.origin[0], h.y_mm + design.origin[1]) for h in design.holes]
    sheet = mark_out(places, left, low)
    pen.words(110, 80, 1900, f"{title}: mark-out", 44, bold=True)
    full, count = _fits(face, page), len(tiles(face, page))
    bar = _bar_words(style)
    how = (
        f"Full size: lay the work on it, the punch marks have to meet. Measure the bar below first: it must be {bar} long."
        if full
        else f"Full size on the {count} sheets after this one. Here by the height gauge and the dividers."
        if count
        else "Too large to print full size: by the height gauge and the dividers."
    )
    pen.words(110, 140, 1900, how, 24, colour=SOFT)
    pen.words(page.wide - 710, 90, 600, unit_words(style), 24, colour=SOFT, align="right")
    pen.line(110, 184, page.wide - 110, 184, 3)
    picture = _picture(face)
    if full:
        view = pen.full_size(picture, 125, 220, left, top)
        y = 220 + (top - low) * 10 + 70
    else:
        view = pen.scene(picture, 120, 220, page.wide - 1190, page.high - 540, lambda _: "", standard=True)
    _names(pen, places, view, picture)
    if full:
        _bar(pen, 130, min(y, page.high - 200), style)
    x = page.wide - 990
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
            pen.words(x + 200, y, 670, _one_line(pen, names), 24, colour=SOFT)
            y += 33
        if more := more_lines(len(lines), axis, style.show(beyond, "mm")):
            pen.words(x, y, 880, more, 24, bold=True)
            y += 33
        y += 22
    if sheet.radii and y < page.high - 400:
        pen.words(x, y, 880, "Dividers, to prove it", 28, bold=True)
        y += 42
        for a, b, r in sheet.radii:
            if y > page.high - 140:
                break
            pen.words(x, y, 170, style.show(r, "mm"), 26, align="right")
            pen.words(x + 200, y, 670, f"{a} to {b}", 24, colour=SOFT)
            y += 33


def _one_line(pen: Pen, names: Sequence[str]) -> str:
    """As many names as stand on one line of the height gauge."""
    for count in range(len(names), 0, -1):
        text = " ".join(names[:count]) + (" …" if count < len(names) else "")
        if pen.fits(660, text, 24):
            return text
    return "…"


def _picture(face: Scene) -> Scene:
    """What is marked out: no fills, nothing hidden."""
    shown = (e for e in face.elements if isinstance(e, Arc | Line | Path) and e.style not in (Style.BODY, Style.HIDDEN))
    return Scene("mark-out", elements=tuple(shown))


def _names(pen: Pen, places: Sequence[tuple[str, float, float]], view: View, picture: Scene) -> None:
    """Beside each hole its name: outside its circles where they have room, else in them."""
    widest: dict[tuple[float, float], float] = {}
    for e in picture.elements:
        if isinstance(e, Arc):
            key = (round(e.centre[0], 2), round(e.centre[1], 2))
            widest[key] = max(widest.get(key, 0.0), e.radius)
    for name, x_mm, y_mm in places:
        at, r = view.px((x_mm, y_mm)), 0.72 * view.scale * widest.get((round(x_mm, 2), round(y_mm, 2)), 0.0)
        pen.words(at.x() + r + 6, at.y() - r - 30, 120, name, 26)


def _paint_tile(
    pen: Pen, design: Design, face: Scene, title: str, style: UnitStyle, page: PageRoom, tile: tuple[int, int]
) -> None:
    """One sheet of the full-size picture: its corners are crosses that lie on those of its neighbours."""
    left, low, _, _ = _edges(face)
    wide, high = page.tile
    x0, y0 = left + tile[0] * wide, low + tile[1] * high
    pen.words(110, 80, 1900, f"{title}: mark-out {tile_name(tile)}", 44, bold=True)
    pen.words(
        110,
        140,
        2400,
        f"Full size. Lay sheet on sheet so that the crosses meet; measure the bar first: it must be {_bar_words(style)} long.",
        24,
        colour=SOFT,
    )
    edge, top = 120.0, 220.0
    clip = QRectF(edge, top, 10 * (wide + _SHARED), 10 * (high + _SHARED))
    pen.painter.save()
    pen.painter.setClipRect(clip)
    # The tile's own lower left corner stands half of what it shares inside the clip.
    view = pen.full_size(_picture(face), edge + 5 * _SHARED, top + 5 * _SHARED, x0, y0 + high)
    shown = [
        (h.name, h.x_mm + design.origin[0], h.y_mm + design.origin[1])
        for h in design.holes
        if x0 <= h.x_mm + design.origin[0] <= x0 + wide and y0 <= h.y_mm + design.origin[1] <= y0 + high
    ]
    _names(pen, shown, view, _picture(face))
    pen.painter.restore()
    for c in (0, 1):
        for r in (0, 1):
            at = view.px((x0 + c * wide, y0 + r * high))
            pen.line(at.x() - 45, at.y(), at.x() + 45, at.y(), 2, INK)
            pen.line(at.x(), at.y() - 45, at.x(), at.y() + 45, 2, INK)
            pen.circle(at.x(), at.y(), 22, 2)
            pen.words(at.x() + 14, at.y() + 8, 160, f"{chr(ord('a') + tile[0] + c)}{tile[1] + r}", 22, colour=SOFT)
    _bar(pen, page.wide - 1500, 205, style)


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
    pen.words(x + count * step + 16, y - 34, 400, _bar_words(style), 26)


def _bar_words(style: UnitStyle) -> str:
    return "100 mm" if style.length == "mm" else "4 in"
