"""The drawer label: what it is, what it fits, where it lives, and a code to find it again."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QPainter

from elbrix.app.paper.pages import INK, SOFT, Pen
from elbrix.drawing.scene import Scene
from elbrix.quantities.lengths import METRIC


class DrawerLabel(Struct, frozen=True, kw_only=True):
    """62 × 29 mm, a usual label size; also fine on plain paper."""

    name: str
    title: str
    lines: tuple[str, ...]
    location: str
    code: str
    scene: Scene
    size_mm: tuple[float, float] = (62, 29)

    @property
    def count(self) -> int:
        return 1

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, METRIC)
        pen.box(5, 5, 610, 280, 2)
        pen.scene(self.scene, 12, 14, 150, 180, lambda d: "", letters=1, stroke=1.4)
        place = self.location or "Storage place: ______"
        large = 32.0 if pen.fits(470, place, 32, bold=True) else 24.0
        floor = 276 - pen.height(470, place, large, bold=True)
        pen.words(16, floor, 470, place, large, bold=True)
        at = 12 + pen.words(170, 12, 318, self.title, 27, bold=True) + 2
        # What it is for and which revision come first: what does not stand on the label any more is in the book.
        for line in self.lines:
            tall = pen.height(318, line, 22)
            if at + tall > floor - 4:
                continue
            at += pen.words(170, at, 318, line, 22) + 1
        self._code(painter, 496, 150, 112)
        pen.words(496, 14, 112, self.code, 17, colour=SOFT)

    def _code(self, painter: QPainter, x: float, y: float, size: float) -> None:
        import segno  # only a label needs it

        matrix = segno.make(self.code, error="m", micro=False).matrix
        step = size / len(matrix)
        for row, line in enumerate(matrix):
            for column, dark in enumerate(line):
                if dark:
                    painter.fillRect(QRectF(x + column * step, y + row * step, step * 1.02, step * 1.02), QColor(INK))


class PlaceLabel(Struct, frozen=True, kw_only=True):
    """Of a drawer or a box: its name large, and what lies in it."""

    name: str
    title: str
    lines: tuple[str, ...]
    size_mm: tuple[float, float] = (62, 29)

    @property
    def count(self) -> int:
        return 1

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, METRIC)
        pen.box(5, 5, 610, 280, 2)
        at = 14 + pen.words(20, 12, 580, self.title, 44 if pen.fits(580, self.title, 44, bold=True) else 30, bold=True) + 4
        for n, line in enumerate(self.lines):
            tall = pen.height(580, line, 22)
            if at + 2 * tall > 276 and n + 1 < len(self.lines):
                pen.words(20, at, 580, f"and {len(self.lines) - n} more", 22, colour=SOFT)
                break
            at += pen.words(20, at, 580, line, 22) + 2
