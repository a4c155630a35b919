"""The workshop drawing.

Views with sizes, hole table, title block; pages for many holes and for marking out; and one with every working.
"""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.hole_pages import (
    COLUMNS,
    HEAD,
    LETTERS,
    TABLE_END,
    TABLE_WIDTH,
    grouped,
    hole_cells,
    names_of,
    paint_mark_out,
    paint_table,
    row_heights,
    shows_marks,
    strip_height,
    table_pages,
)
from elbrix.app.paper.pages import DISCLAIMER, INK, SOFT, Pen, shown_scale, unit_words
from elbrix.design.family import Design
from elbrix.drawing.scene import Dimension, Scene
from elbrix.presenters.words import check_text
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.figures import Derivation

#: The cone of the projection symbol, small end toward the circles.
_CONE = ((0.0, 14.0), (56.0, 0.0), (56.0, 56.0), (0.0, 42.0))


class DrawingSheet(Struct, frozen=True, kw_only=True):
    """A4 across."""

    name: str
    title: str
    subtitle: str
    design: Design
    scene: Scene
    label: Callable[[Dimension], str]
    style: UnitStyle
    material: str
    mass: str
    on: str
    quantity: str = ""
    face: Scene | None = None  #: the view that shows the holes square on, for the mark-out sheet
    size_mm: tuple[float, float] = (297, 210)

    @property
    def count(self) -> int:
        return 2 + self._tables + self._marks

    @property
    def _tables(self) -> int:
        return table_pages(self.design, self.style)

    @property
    def _marks(self) -> int:
        return int(self.face is not None and shows_marks(self.design))

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, self.style)
        if index and index <= self._tables:
            paint_table(pen, self.design, self.title, self.style, index - 1)
            return
        if index == self._tables + 1 and self._marks and self.face is not None:
            paint_mark_out(pen, self.design, self.face, self.title, self.style)
            return
        if index:
            self._workings(pen)
            return
        pen.box(100, 80, 2770, 1940, 5)
        top = TABLE_END - strip_height(self.design, self.style)
        view = pen.scene(self.scene, 110, 90, 2750, top - 110, self.label, letters=30, standard=True)
        self._holes(pen, 130, top)
        self._block(pen, view.scale, top - 12)
        pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)

    def _holes(self, pen: Pen, x: float, y: float) -> None:
        if not self.design.holes:
            return
        pen.words(x, y, TABLE_WIDTH, f"Holes, from the {self.design.datum}", 34, bold=True)
        y += HEAD
        if self._tables:
            for what, holes in grouped(self.design.holes, self.style):
                text = f"{names_of(holes)}: {what}"
                if y + pen.height(TABLE_WIDTH, text, LETTERS) > TABLE_END - 44:
                    break
                y += pen.words(x, y, TABLE_WIDTH, text, LETTERS) + 8
            pen.words(x, y + 6, TABLE_WIDTH, f"All {len(self.design.holes)} places: page 2", LETTERS, bold=True)
            return
        for (dx, w), text in zip(COLUMNS, ("", "X", "Y", ""), strict=True):
            pen.words(x + dx, y, w, text, 30, colour=SOFT, align="right" if text in "XY" and text else "left")
        y += 42
        for hole, height in zip(self.design.holes, row_heights(self.design, self.style), strict=True):
            for i, ((dx, w), text) in enumerate(zip(COLUMNS, hole_cells(hole, self.style), strict=True)):
                pen.words(x + dx, y, w, text, LETTERS, align="right" if i in (1, 2) else "left")
            y += height
            pen.line(x, y - 2, x + TABLE_WIDTH, y - 2, 1)

    def _block(self, pen: Pen, scale: float, y: float) -> None:
        x, w = 1790.0, 1080.0
        pen.box(x, y, w, 2020 - y, 4)
        at = y + 14
        at += pen.words(x + 24, at, w - 48, self.title, 40, bold=True) + 4
        at += pen.words(x + 24, at, w - 48, self.subtitle, 27, colour=SOFT) + 10
        general = "±0.1 mm" if self.style.length == "mm" else "±0.004 in"
        broken = "0.3 mm" if self.style.length == "mm" else "0.012 in"
        rows = (
            ("Material", self.material),
            ("Quantity", self.quantity),
            ("Mass, scale", f"{self.mass}; {shown_scale(scale)} on A4"),
            (
                "General",
                (
                    f"{unit_words(self.style)}. Untoleranced sizes {general}. Break edges {broken}. Ra 3.2 µm. Projection third"
                    " angle"
                ),
            ),
            ("Drawn", self.on),
        )
        for name, text in rows:
            if not text:
                continue
            pen.words(x + 24, at, 190, name, 27, colour=SOFT)
            at += pen.words(x + 214, at, w - 238 - 130, text, 27) + 6
        self._projection(pen, x + w - 140, 2020 - 78)

    @staticmethod
    def _projection(pen: Pen, x: float, y: float) -> None:
        """The symbol of third-angle projection: the round end beside the small end of the cone. Source: ISO 5456-2."""
        for r in (14.0, 28.0):
            pen.circle(x + 28, y + 28, r)
        for (x1, y1), (x2, y2) in zip(_CONE, (*_CONE[1:], _CONE[0]), strict=True):
            pen.line(x + 72 + x1, y + y1, x + 72 + x2, y + y2, 2.5, INK)
        pen.line(x - 6, y + 28, x + 134, y + 28, 1, INK)
        pen.line(x + 28, y - 6, x + 28, y + 62, 1, INK)

    def _workings(self, pen: Pen) -> None:
        """How every number came about, to be worked again with a pencil."""
        pen.words(110, 80, 1800, self.title, 44, bold=True)
        pen.words(
            110, 140, 2700, "How every number came about. Worked in mm, N and MPa; names as on the drawing.", 24, colour=SOFT
        )
        pen.line(110, 184, 2860, 184, 3)
        rows: list[tuple[str, str, Derivation | None]] = [
            (f.label, f.text or self.style.with_unit(f.value, f.unit, f.step), f.derivation)
            for f in self.design.figures
            if f.derivation
        ]
        rows += [(f"{c.verdict.sign} {c.label}", check_text(c, self.style), c.derivation) for c in self.design.checks]
        x, y, width = 110.0, 200.0, 1350.0
        for label, value, derivation in rows:
            text = ""
            if derivation is not None:
                text = " = ".join(p for p in (derivation.formula, derivation.with_numbers) if p)
                text += f"   ({derivation.source})" if derivation.source else ""
            if not text and label[:1] not in "●▲■":
                continue
            head = max(pen.height(width - 420, label, 27, bold=True), pen.height(400, value, 27, bold=True))
            height = head + (pen.height(width - 20, text, 23) if text else 0)
            if y + height > 2010:
                x, y = x + width + 40, 200.0
            if x > 1600:
                break
            pen.words(x, y, width - 420, label, 27, bold=True)
            pen.words(x + width - 420, y, 400, value, 27, align="right", bold=True)
            if text:
                pen.words(x, y + head, width - 20, text, 23, colour=SOFT)
            y += height + 12
        pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)
