"""At the machine: one move, huge, readable at two metres."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from elbrix.app.plate.painter import fitted, paint_scene, plate_look
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label
from elbrix.drawing.scene import Scene
from elbrix.presenters.make import MoveLine

if TYPE_CHECKING:
    from elbrix.rehearsal.at_readout import AxisLeft

#: Height of the figures in pixels on a usual screen: over 20 mm, ten times the smallest letter readable at two metres.
FIGURE_PX = 116


class MachineView(QWidget):
    """Covers the whole window. Space is done and next, Left one back, Esc leaves."""

    done = pyqtSignal()
    back = pyqtSignal()
    left = pyqtSignal()
    measured = pyqtSignal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._palette = LIGHT
        self._line: MoveLine | None = None
        self._scene: Scene | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._where, self._words, self._tool, self._details, self._caution, self._ask, self._error = (Label() for _ in range(7))
        for label in (self._words, self._details, self._caution, self._ask):
            label.setWordWrap(True)
        self._error.setObjectName("error")
        self._error.hide()
        self.numbers = [Label() for _ in range(3)]
        self.ways = [Label() for _ in range(3)]  #: under each number, what the readout says is left
        self.entry = QLineEdit()
        self.entry.setFixedWidth(280)
        self.entry.returnPressed.connect(self._entered)
        self.tick, self._back, self._leave = (QPushButton(), QPushButton("Back"), QPushButton("Close"))
        self.tick.setObjectName("main")
        self._back.setObjectName("plain")
        self._leave.setObjectName("plain")
        for button in (self.tick, self._back, self._leave):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.tick.clicked.connect(self.done)
        self._back.clicked.connect(self.back)
        self._leave.clicked.connect(self.left)
        self._asking = QWidget()
        asking = QHBoxLayout(self._asking)
        asking.setContentsMargins(0, 0, 0, 0)
        asking.addWidget(self._ask, 1)
        asking.addWidget(self.entry)
        foot = QHBoxLayout()
        foot.addWidget(self.tick)
        foot.addWidget(self._back)
        foot.addStretch(1)
        foot.addWidget(self._leave)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(44, 28, 44, 26)
        layout.setSpacing(10)
        layout.addWidget(self._where)
        layout.addWidget(self._words)
        layout.addStretch(1)
        for label, way in zip(self.numbers, self.ways, strict=True):
            layout.addWidget(label)
            layout.addWidget(way)
            way.hide()
        layout.addStretch(1)
        for part in (self._tool, self._details, self._caution, self._asking, self._error):
            layout.addWidget(part)
        layout.addLayout(foot)
        self.hide()

    def show_line(self, line: MoveLine, place: str, palette: Palette, scene: Scene | None) -> None:
        """One move, with the picture of its setup."""
        self._line, self._palette, self._scene = line, palette, scene

        def style(label: QWidget, px: int, colour: str, weight: str = "normal") -> None:
            label.setStyleSheet(f"font-size: {px}px; font-weight: {weight}; color: {colour};")

        style(self._where, 20, palette.hidden)
        self._where.setText(f"{place}   {line.setup}" + ("   done" if line.done else ""))
        style(self._words, 36 if len(line.words) < 130 else 28, palette.scribed, "bold")
        self._words.setText(line.words)
        room = max(400, round(self.width() * (0.55 if scene is not None and scene.elements else 1.0)) - 60)
        for label, number in zip(self.numbers, [*line.numbers, *[("", "")] * 3], strict=False):
            label.setVisible(bool(number[0]))
            text = f"{number[0]}  {number[1]}"
            px = FIGURE_PX
            while px > 60 and QFontMetrics(font(px, bold=True)).horizontalAdvance(text) > room:
                px -= 6
            if len(line.numbers) > 2:
                px = min(px, 100)
            label.setText(text)
            style(label, px, palette.brass, "bold")
        style(self._tool, 24, palette.centre)
        self._tool.setText("    ".join(p for p in (line.tool, line.speed) if p))
        style(self._details, 20, palette.host)
        details = [d for d in (line.note, *line.details) if d]
        self._details.setText("\n".join(details))
        self._details.setVisible(bool(details))
        style(self._caution, 26, palette.note, "bold")
        self._caution.setText(f"▲ {line.caution}")
        self._caution.setVisible(bool(line.caution))
        style(self._ask, 28, palette.scribed)
        self._ask.setText(line.ask)
        self._asking.setVisible(bool(line.ask))
        self.entry.setStyleSheet(f"font-size: 34px; background: {palette.card}; color: {palette.ink}; padding: 6px;")
        self.entry.setText(line.measured)
        self.entry.setAccessibleName(line.ask)
        self.tick.setText("Done, next   (Space)")
        self.tick.setStyleSheet("font-size: 22px; padding: 12px 24px;")
        for button in (self._back, self._leave):
            button.setStyleSheet(f"font-size: 18px; color: {palette.scribed};")
        self.show_error("")
        for way in self.ways:
            way.hide()
        self.update()

    def show_left(self, left: Sequence[tuple[AxisLeft, str]]) -> None:
        """What is left on each axis, under its number; a slip where the numbers are, before the cut."""
        if self._line is None:
            return
        by_axis = {a.axis: (a, words) for a, words in left}
        for way, number in zip(self.ways, [*self._line.numbers, *[("", "")] * 3], strict=False):
            found = by_axis.get(number[0])
            way.setVisible(found is not None)
            if found is None:
                continue
            axis, words = found
            colour = self._palette.note if axis.slip else self._palette.centre if axis.there else self._palette.scribed
            way.setText(f"■ {axis.slip}" if axis.slip else f"● {axis.axis} is there" if axis.there else f"{axis.axis}  {words}")
            way.setWordWrap(True)
            way.setStyleSheet(f"font-size: {30 if axis.slip else 44}px; font-weight: bold; color: {colour};")

    def show_error(self, text: str) -> None:
        self._error.setText(text)
        self._error.setVisible(bool(text))

    @property
    def error_text(self) -> str:
        return self._error.text() if self._error.isVisibleTo(self) else ""

    def _entered(self) -> None:
        if self._line is not None:
            self.measured.emit(self._line.ask_key, self.entry.text())
            self.setFocus()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._palette.plate))
        if self._scene is None or not self._scene.elements:
            return
        top = self._words.geometry().bottom() + 10
        box = QRectF(self.width() * 0.6, top, self.width() * 0.38, max(60.0, self._tool.y() - top + 40))
        look = plate_look(self._palette, 22)
        view = fitted(self._scene, box.width(), box.height(), lambda d: "", look, margin=8, top=0).moved(box.left(), box.top())
        paint_scene(painter, self._scene, view, look)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Space:
            self.done.emit()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Backspace):
            self.back.emit()
        elif event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_F11):
            self.left.emit()
        elif (event.text().isdecimal() or event.text() == ".") and self._line is not None and self._line.ask:
            self.entry.setFocus()
            self.entry.setText(event.text())
        else:
            super().keyPressEvent(event)
