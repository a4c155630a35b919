"""The marks of a card and what they mean."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from elbrix.app.theme.icons import paint_origin
from elbrix.app.theme.palette import Palette
from elbrix.app.theme.type import font


class Legend(QWidget):
    """What the marks in the first column of the card mean."""

    def __init__(self, palette: Palette, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._palette = palette
        self.setFixedHeight(52)
        self.setAccessibleName("Marks: " + ", ".join(words for _, words in LEGEND))

    def set_palette(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(font(11))
        colour = QColor(self._palette.soft)
        x, y = 3.0, 12.0
        for origin, words in LEGEND:
            wide = QFontMetrics(painter.font()).horizontalAdvance(words)
            if x + 18 + wide > self.width():
                x, y = 3.0, y + 20
            paint_origin(painter, origin, QRectF(x, y, 11, 11), colour)
            painter.setPen(colour)
            painter.drawText(QRectF(x + 17, y - 4, wide + 4, 20), Qt.AlignmentFlag.AlignVCenter, words)
            x += 17 + wide + 16


#: Origin → how the legend of the card says it.
LEGEND = (
    ("measured", "measured"),
    ("chosen", "chosen"),
    ("calculated", "calculated"),
    ("assumed", "assumed"),
    ("from a table", "from a table"),
)
