"""The rail of benches at the left. Only benches that work are in it."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from elbrix.app.benches.registry import BenchEntry
from elbrix.app.pickable import Pickable
from elbrix.app.theme.icons import paint_icon
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import set_tip

WIDTH = 92


class _Stop(Pickable):
    """One bench."""

    def __init__(self, entry: BenchEntry, number: int) -> None:
        super().__init__(entry.key, focus=Qt.FocusPolicy.TabFocus)
        self.name, self._icon = entry.title, entry.icon
        self.palette_ = LIGHT
        self.setFixedSize(WIDTH, 60)
        set_tip(self, f"{self.name}   Alt+{number}")
        self.setAccessibleName(self.name)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        p = self.palette_
        if self.on:
            painter.fillRect(self.rect(), QColor(255, 255, 255, 22))
            painter.fillRect(0, 0, 4, self.height(), QColor(p.accent))
        colour = QColor(p.rail_on if self.on or self.hasFocus() else p.rail_soft)
        paint_icon(painter, self._icon, QRectF(28, 10, 36, 24), colour)
        painter.setPen(colour)
        painter.setFont(font(12, bold=self.on))
        painter.drawText(QRectF(0, 36, self.width(), 18), Qt.AlignmentFlag.AlignCenter, self.name)


class _Keys(Pickable):
    """At the foot: which key does what."""

    def __init__(self) -> None:
        super().__init__("keys", focus=Qt.FocusPolicy.TabFocus)
        self.palette_ = LIGHT
        self.setFixedSize(WIDTH, 34)
        set_tip(self, "Which key does what, and other keys for it (F1)")
        self.setAccessibleName("Keys")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(QColor(self.palette_.rail_on if self.hasFocus() else self.palette_.rail_soft))
        painter.setFont(font(12))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Keys")


class Rail(QWidget):
    """Name on top, benches below in the order a job runs."""

    pressed = pyqtSignal(str)

    def __init__(self, benches: Iterable[BenchEntry], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDTH)
        self._palette = LIGHT
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 58, 0, 0)
        layout.setSpacing(6)
        self.stops: dict[str, _Stop] = {}
        for number, entry in enumerate(benches, 1):
            stop = _Stop(entry, number)
            stop.picked.connect(self.pressed)
            self.stops[entry.key] = stop
            layout.addWidget(stop)
        layout.addStretch(1)
        self.keys = _Keys()
        layout.addWidget(self.keys)

    def show_on(self, key: str, palette: Palette) -> None:
        self._palette = palette
        for stop in self.stops.values():
            stop.on = stop.key == key
            stop.palette_ = palette
            stop.update()
        self.keys.palette_ = palette
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._palette.rail))
        painter.setPen(QColor("#f6f2e4"))
        painter.setFont(font(17, bold=True))
        painter.drawText(QRectF(0, 16, self.width(), 24), Qt.AlignmentFlag.AlignCenter, "elbrix")
