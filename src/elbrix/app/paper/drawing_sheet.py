"""The workshop drawing.

Views with sizes, hole table, title block; pages for many holes and for marking out; and one with every working.
"""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.hole_pages import FEW, grouped, names_of, paint_mark_out, paint_table, shows_marks, table_pages
from elbrix.app.paper.pages import DISCLAIMER, SOFT, Pen, shown_scale, unit_words
from elbrix.design.family import Design
from elbrix.drawing.scene import Dimension, Scene
from elbrix.presenters.words import check_text
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.figures import Derivation


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
    face: Scene | None = None  #: the view that shows the holes square on, for the mark-out sheet
    size_mm: tuple[float, float] = (297, 210)

    @property
    def count(self) -> int:
        return 2 + self._tables + self._marks

    @property
    def _tables(self) -> int:
        return table_pages(self.design)

    @property
    def _marks(self) -> int:
        return int(self.face is not None and shows_marks(self.design))

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter)
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
        scale = pen.scene(self.scene, 130, 110, 2710, 1290, self.label, standard=True)
        self._holes(pen, 130, 1450)
        self._checks(pen, 1010, 1450)
        self._block(pen, scale)
        pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)

    def _holes(self, pen: Pen, x: float, y: float) -> None:
        if not self.design.holes:
            return
        pen.words(x, y, 800, f"Holes, from the {self.design.datum}", 30, bold=True)
        y += 50
        if len(self.design.holes) > FEW:
            for what, holes in grouped(self.design.holes)[:8]:
                y += pen.words(x, y, 840, f"{names_of(holes)}: {what}", 26) + 8
            pen.words(x, y + 6, 840, f"All {len(self.design.holes)} places: page 2", 26, bold=True)
            return
        columns = ((0, 60), (60, 110), (180, 110), (320, 520))
        for (dx, w), text in zip(columns, ("", "X", "Y", ""), strict=True):
            pen.words(x + dx, y, w, text, 24, colour=SOFT, align="right" if text in "XY" and text else "left")
        y += 36
        for hole in self.design.holes:
            cells = (hole.name, self.style.show(hole.x_mm, "mm"), self.style.show(hole.y_mm, "mm"), hole.what)
            used = [
                pen.words(x + dx, y, w, text, 26, align="right" if i in (1, 2) else "left")
                for i, ((dx, w), text) in enumerate(zip(columns, cells, strict=True))
            ]
            y += max(used) + 6
            pen.line(x, y - 2, x + 840, y - 2, 1)

    def _checks(self, pen: Pen, x: float, y: float) -> None:
        pen.words(x, y, 900, "Proof", 30, bold=True)
        y += 50
        per = (len(self.design.checks) + 1) // 2
        for i, check in enumerate(self.design.checks[:24]):
            column, row = divmod(i, per)
            at = x + column * 500
            pen.words(at, y + row * 36, 30, check.verdict.sign, 20)
            pen.words(at + 30, y + row * 36, 440, check.label, 20)
            pen.words(at + 330, y + row * 36, 150, check_text(check, self.style)[:11], 20, align="right")

    def _block(self, pen: Pen, scale: float) -> None:
        x, y, w = 2030.0, 1450.0, 840.0
        pen.box(x, y, w, 2020 - y, 4)
        at = y + 18
        at += pen.words(x + 24, at, w - 48, self.title, 40, bold=True) + 10
        at += pen.words(x + 24, at, w - 48, self.subtitle, 24, colour=SOFT) + 16
        rows = (
            ("Material", self.material),
            ("Mass", self.mass),
            ("Scale", f"{shown_scale(scale)} on A4"),
            ("Projection", "third angle"),
            ("", f"{unit_words(self.style)}; edges broken; ±0.1 mm where nothing is said"),
            ("Drawn", self.on),
        )
        for name, text in rows:
            pen.words(x + 24, at, 190, name, 24, colour=SOFT)
            at += pen.words(x + 214, at, w - 238, text, 24) + 8

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
            if derivation is None or not (derivation.formula or derivation.with_numbers):
                continue
            text = " = ".join(p for p in (derivation.formula, derivation.with_numbers) if p) + (
                f"   ({derivation.source})" if derivation.source else ""
            )
            height = 36 + pen.height(width - 20, text, 23)
            if y + height > 2010:
                x, y = x + width + 40, 200.0
            pen.words(x, y, width - 240, label, 27, bold=True)
            pen.words(x + width - 260, y, 240, value, 27, align="right", bold=True)
            pen.words(x, y + 34, width - 20, text, 23, colour=SOFT)
            y += height + 12
        pen.words(110, 2032, 2750, DISCLAIMER, 20, colour=SOFT)
