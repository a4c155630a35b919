"""The head line: what is in hand, undo and redo, print, unit and look."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from elbrix.app.theme.icons import paint_icon
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip


class IconButton(QAbstractButton):
    """A small drawn button."""

    def __init__(self, icon: str, tip: str) -> None:
        super().__init__()
        self._icon = icon
        self.palette_ = LIGHT
        self.lit = False  #: a dot beside it
        set_tip(self, tip)
        self.setAccessibleName(tip)
        self.setFixedSize(36, 32)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(36, 32)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        if self.hasFocus() or self.underMouse() or self.isChecked():
            painter.setPen(QPen(QColor(p.accent), 1.5) if self.hasFocus() else Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.card))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
        colour = QColor(p.ink)
        if not self.isEnabled():
            colour.setAlpha(70)
        paint_icon(painter, self._icon, QRectF(7, 7, 22, 18), colour, 1.6)
        if self.lit:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.go))
            painter.drawEllipse(QRectF(27, 4, 7, 7))


class UnitSwitch(QWidget):
    """mm or inch, both always readable."""

    switched = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.unit = "mm"
        self.palette_ = LIGHT
        self.setFixedSize(124, 34)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        set_tip(self, "mm or inch (Ctrl+U)")
        self.setAccessibleName("Unit: mm")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        painter.setPen(QPen(QColor(p.accent), 1.5) if self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.card))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 6, 6)
        for i, (unit, name) in enumerate((("mm", "mm"), ("in", "inch"))):
            box = QRectF(i * 62, 0, 62, 34)
            on = unit == self.unit
            if on:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(p.ink))
                painter.drawRoundedRect(box.adjusted(3, 3, -3, -3), 5, 5)
            painter.setPen(QColor(p.card if on else p.soft))
            painter.setFont(font(13, bold=on))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.switched.emit("mm" if event.position().x() < 62 else "in")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return):
            self.switched.emit("in" if self.unit == "mm" else "mm")
        elif event is not None:
            super().keyPressEvent(event)


class HeadLine(QWidget):
    """Title and the few things that are the same on every bench."""

    title_pressed = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(66)
        self._title, self._subtitle = Label(), Label()
        self._title.setObjectName("title")
        self._subtitle.setObjectName("subtitle")
        self._title.setCursor(Qt.CursorShape.PointingHandCursor)
        set_tip(self._title, "Other designs, a new one, or another name")
        self._title.pressed.connect(self.title_pressed)
        for label in (self._title, self._subtitle):
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(self._title)
        words.addWidget(self._subtitle)
        self.undo = IconButton("undo", "Undo")
        self.redo = IconButton("redo", "Redo")
        self.instruments = IconButton("caliper", "Instruments")
        self.print = IconButton("print", "Print (Ctrl+P)")
        self.lamp = IconButton("lamp", "Light or dim, for a dark shop")
        self.unit = UnitSwitch()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(20, 8, 16, 6)
        layout.setSpacing(6)
        layout.addLayout(words, 1)
        self._layout = layout
        for part in self._parts:
            layout.addWidget(part)

    @property
    def _parts(self) -> tuple[IconButton | UnitSwitch, ...]:
        return (self.undo, self.redo, self.instruments, self.print, self.lamp, self.unit)

    def show_instruments(self, words: str, *, any_there: bool) -> None:
        """Which instruments there are; the button is lit while one is."""
        self.instruments.lit = any_there
        set_tip(self.instruments, words)
        self.instruments.update()

    def seat(self, field: QWidget) -> None:
        """Give the Ask field its place, between the title and the buttons."""
        self._layout.insertWidget(1, field)
        self._layout.insertSpacing(2, 6)

    def show_words(
        self, title: str, subtitle: str, palette: Palette, unit: str, undo: str, redo: str, *, can_print: bool
    ) -> None:
        """Refresh everything; `undo` and `redo` are the labels of what they would do."""
        width = max(200, self._title.width())
        self._title.setText(self._title.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, width))
        set_tip(self._title, title)
        self._subtitle.setText(self._subtitle.fontMetrics().elidedText(subtitle, Qt.TextElideMode.ElideRight, width))
        for button, label, key in ((self.undo, undo, "Ctrl+Z"), (self.redo, redo, "Ctrl+Y")):
            button.setEnabled(bool(label))
            set_tip(button, f"{button.accessibleName()}: {label}   {key}" if label else button.accessibleName())
        self.print.setEnabled(can_print)
        for part in self._parts:
            part.palette_ = palette
            part.update()
        self.unit.unit = unit
        self.unit.setAccessibleName(f"Unit: {'inch' if unit == 'in' else 'mm'}")
