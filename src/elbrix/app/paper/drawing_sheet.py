"""The workshop drawing.

Views with sizes, hole table, title block; pages for many holes and for marking out; and one with every working.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Final

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtGui import QPainter

from elbrix.app.paper.hole_pages import (
    COLUMNS,
    HEAD,
    LETTERS,
    TABLE_WIDTH,
    PageRoom,
    grouped,
    mark_pages,
    names_of,
    paint_mark_out,
    paint_table,
    row_heights,
    strip_height,
    table_pages,
    table_rows,
)
from elbrix.app.paper.pages import DISCLAIMER, INK, SOFT, Pen, shown_scale, standard_fit, text_height, unit_words
from elbrix.app.plate.painter import View, paper_look, place_sizes
from elbrix.design.family import Design
from elbrix.design.files import drawn_text, usual_gap
from elbrix.design.reference_sizes import reference_sizes
from elbrix.design.tolerances import GENERAL_MM, SizeLimits
from elbrix.drawing.placing import PlacedDimension
from elbrix.drawing.scene import Dimension, Scene
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.drawing.views import arrange, placed_views
from elbrix.presenters.words import check_text, said_scene
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import within
from elbrix.results.figures import Derivation
from elbrix.results.length_text import said_in

#: The cone of the projection symbol, small end toward the circles.
_CONE: Final = ((0.0, 14.0), (56.0, 0.0), (56.0, 56.0), (0.0, 42.0))
_Box = tuple[float, float, float, float]
#: Letters of the sizes, tenths of a millimetre; how far the views are moved apart, in shares of what is usual, till none is in
#: the way.
_SIZES: Final = 30.0
_GAPS: Final = (1.0, 1.3, 1.7, 2.2, 2.8, 3.6, 5.0, 7.0)
#: Width of a column of workings, and where it begins, tenths of a millimetre.
_COLUMN, _WORKINGS_TOP = 1350.0, 200.0


class DrawingSheet(Struct, frozen=True, kw_only=True, dict=True):
    """A4 or A3, across."""

    name: str
    title: str
    subtitle: str
    design: Design
    views: tuple[Scene, ...]  #: not set side by side yet
    limits: Mapping[str, SizeLimits]
    style: UnitStyle
    material: str
    mass: str
    on: str
    quantity: str = ""
    face: Scene | None = None  #: the view that shows the holes square on, for the mark-out sheet
    choice: SheetChoice = USUAL

    def drawn(self, choice: SheetChoice) -> DrawingSheet:
        """The same drawing another way."""
        return replace(self, choice=choice)

    @property
    def size_mm(self) -> tuple[float, float]:
        return self.choice.size_mm

    @property
    def count(self) -> int:
        return 1 + self._tables + self._marks + len(self._working_pages)

    @cached_property
    def page(self) -> PageRoom:
        return PageRoom(*self.size_mm)

    @cached_property
    def _tables(self) -> int:
        return table_pages(self.design, self.style, self.limits, self.page)

    @cached_property
    def _marks(self) -> int:
        return mark_pages(self.design, self.face, self.page) if self.face is not None else 0

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, self.style)
        if index and index <= self._tables:
            paint_table(pen, self.design, self.title, self.style, index - 1, self.limits, self.page)
        elif index and index <= self._tables + self._marks and self.face is not None:
            paint_mark_out(pen, self.design, self.face, self.title, self.style, self.page, index - self._tables - 1)
        elif index:
            self._workings(pen, index - self._tables - self._marks - 1)
        else:
            self._first(pen)
        pen.words(110, self.page.high - 68, self.page.wide - 220, DISCLAIMER, 20, colour=SOFT)

    def _first(self, pen: Pen) -> None:
        page = self.page
        pen.box(100, 80, page.wide - 200, page.high - 160, 5)
        top = page.table_end - strip_height(self.design, self.style, self.limits, page)
        scene = self._spread(page.wide - 220, top - 110)
        view = pen.scene(scene, 110, 90, page.wide - 220, top - 110, self._label, letters=_SIZES, standard=True)
        self._holes(pen, 130, top)
        self._block(pen, view.scale, top - 12)

    def _spread(self, wide: float, high: float) -> Scene:
        """The views so far apart that no number of one lies on another."""
        look, usual = paper_look(_SIZES, 2.2), usual_gap(self.views)
        scene = Scene("")
        for share in _GAPS:
            views = placed_views(self.views, share * usual, self.choice)
            scene = arrange(self.views, share * usual, self.choice)
            view = standard_fit(said_scene(scene, self.style), wide, high, self._label, look)
            placed = place_sizes(scene, view, self._label, look)
            taken = [_taken(v, view, placed) for v in views]
            numbers = [(p.dimension.near, p.text_box) for p in placed]
            if not any(_meet(text, box) for near, text in numbers for own, box in taken if near != own):
                break
        return scene

    def _label(self, d: Dimension) -> str:
        return drawn_text(d, self.limits, self.style, self._reference)

    @cached_property
    def _reference(self) -> frozenset[str]:
        return reference_sizes(self.design, self.views)

    def _holes(self, pen: Pen, x: float, y: float) -> None:
        if self.design.holes:
            pen.words(x, y, TABLE_WIDTH, f"Holes, from the {self.design.datum}", 34, bold=True)
            y += HEAD
        if self._tables:
            for what, holes in grouped(self.design, self.style, self.limits):
                text = f"{names_of(holes)}: {what}"
                if y + pen.height(TABLE_WIDTH, text, LETTERS) > self.page.table_end - 44:
                    break
                y += pen.words(x, y, TABLE_WIDTH, text, LETTERS) + 8
            rest = f"All {len(self.design.holes)} places and what has a letter: page 2"
            pen.words(x, y + 6, TABLE_WIDTH, rest, LETTERS, bold=True)
            return
        if self.design.holes:
            for (dx, w), text in zip(COLUMNS, ("", "X", "Y", ""), strict=True):
                pen.words(x + dx, y, w, text, 30, colour=SOFT, align="right" if text in "XY" and text else "left")
            y += 42
        for cells, height in zip(
            table_rows(self.design, self.style, self.limits), row_heights(self.design, self.style, self.limits), strict=True
        ):
            for i, ((dx, w), text) in enumerate(zip(COLUMNS, cells, strict=True)):
                pen.words(x + dx, y, w, text, LETTERS, align="right" if i in (1, 2) else "left")
            y += height
            pen.line(x, y - 2, x + TABLE_WIDTH, y - 2, 1)

    def _block(self, pen: Pen, scale: float, y: float) -> None:
        x, w, bottom = self.page.wide - 1180, 1080.0, self.page.high - 80
        pen.box(x, y, w, bottom - y, 4)
        at = y + 14
        at += pen.words(x + 24, at, w - 48, self.title, 40, bold=True) + 4
        at += pen.words(x + 24, at, w - 48, self.subtitle, 27, colour=SOFT) + 10
        general = f"±{GENERAL_MM:g} mm" if self.style.length == "mm" else "±0.0039 in"
        broken = "0.3 mm" if self.style.length == "mm" else "0.012 in"
        rows = (
            ("Material", self.material),
            ("Quantity", self.quantity),
            ("Mass, scale", f"{self.mass}; {shown_scale(scale)} on {self.choice.paper}"),
            (
                "General",
                (
                    f"{unit_words(self.style)}. Untoleranced sizes {general}, angles ±0.5°; metric threads 6H/6g, inch 2B/2A."
                    f" Break edges {broken}. Ra 3.2 µm. Projection {within(self.choice.words)}"
                ),
            ),
            ("Drawn", f"{self.on}      Checked ____________"),
        )
        for name, text in rows:
            if not text:
                continue
            pen.words(x + 24, at, 190, name, 27, colour=SOFT)
            at += pen.words(x + 214, at, w - 238 - 130, text, 27) + 6
        self._projection(pen, x + w - 140, bottom - 78)

    def _projection(self, pen: Pen, x: float, y: float) -> None:
        """The symbol of the projection: the round end beside the small end of the cone, or beside its large end.

        Source: ISO 5456-2.
        """
        for r in (14.0, 28.0):
            pen.circle(x + 28, y + 28, r)
        cone = [(56.0 - dx, dy) for dx, dy in _CONE] if self.choice.first else list(_CONE)
        for (x1, y1), (x2, y2) in zip(cone, (*cone[1:], cone[0]), strict=True):
            pen.line(x + 72 + x1, y + y1, x + 72 + x2, y + y2, 2.5, INK)
        pen.line(x - 6, y + 28, x + 134, y + 28, 1, INK)
        pen.line(x + 28, y - 6, x + 28, y + 62, 1, INK)

    @cached_property
    def _working_pages(self) -> list[list[_Working]]:
        """Every working, flowed into columns and pages; none is left out."""
        rows: list[tuple[str, str, Derivation | None]] = [
            (f.label, f.text or self.style.with_unit(f.value, f.unit, f.step), f.derivation)
            for f in self.design.figures
            if f.derivation
        ]
        rows += [(f"{c.verdict.sign} {c.label}", check_text(c, self.style), c.derivation) for c in self.design.checks]
        columns = int((self.page.wide - 180) // (_COLUMN + 40))
        pages: list[list[_Working]] = [[]]
        column, y = 0, _WORKINGS_TOP
        for label, value, derivation in rows:
            text = ""
            if derivation is not None:
                text = " = ".join(p for p in (derivation.formula, derivation.with_numbers) if p)
                text += f"   ({derivation.source})" if derivation.source else ""
            if not text and label[:1] not in "●▲■":
                continue
            said = [said_in(words, self.style) for words in (label, value, text)]
            head = max(text_height(_COLUMN - 420, said[0], 27, bold=True), text_height(400, said[1], 27, bold=True))
            height = head + (text_height(_COLUMN - 20, said[2], 23) if text else 0)
            if y + height > self.page.table_end:
                column, y = column + 1, _WORKINGS_TOP
                if column == columns:
                    pages.append([])
                    column = 0
            pages[-1].append(_Working(110 + column * (_COLUMN + 40), y, said[0], said[1], said[2], head))
            y += height + 12
        return pages

    def _workings(self, pen: Pen, index: int) -> None:
        """How every number came about, to be worked again with a pencil."""
        pen.words(110, 80, 1800, self.title, 44, bold=True)
        pen.words(
            110, 140, 2700, "How every number came about. Worked in mm, N and MPa; names as on the drawing.", 24, colour=SOFT
        )
        pen.line(110, 184, self.page.wide - 110, 184, 3)
        for w in self._working_pages[index]:
            pen.words(w.x, w.y, _COLUMN - 420, w.label, 27, bold=True)
            pen.words(w.x + _COLUMN - 420, w.y, 400, w.value, 27, align="right", bold=True)
            if w.text:
                pen.words(w.x, w.y + w.head, _COLUMN - 20, w.text, 23, colour=SOFT)


def _taken(scene: Scene, view: View, placed: Sequence[PlacedDimension]) -> tuple[_Box, _Box]:
    """What of the sheet one view takes with its sizes: (its own bounds, mm; tenths of a millimetre, up)."""
    own = scene.bounds()
    mine = [p for p in placed if p.dimension.near == own]
    corners = [view.up(own[:2]), view.up(own[2:]), *(q for p in mine for q in (p.a, p.b, p.text_box[:2], p.text_box[2:]))]
    xs, ys = [c[0] for c in corners], [c[1] for c in corners]
    return own, (min(xs), min(ys), max(xs), max(ys))


def _meet(a: tuple[float, ...], b: tuple[float, ...]) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


class _Working(Struct, frozen=True):
    """One working on its page."""

    x: float
    y: float
    label: str
    value: str
    text: str
    head: float  #: height of the line above the text
