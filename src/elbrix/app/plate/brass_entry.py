"""The entry that opens on a brass number, with its message beside it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from elbrix.app.theme.type import font
from elbrix.app.words import Label


class BrassEntry(QLineEdit):
    """One line over the plate. A wrong text keeps it open: nothing typed is lost."""

    stepped = pyqtSignal(int)  #: Tab: on to the next number, or back
    accepted = pyqtSignal()  #: Enter
    cancelled = pyqtSignal()  #: Esc

    def __init__(self, plate: QWidget) -> None:
        super().__init__(plate)
        self._plate = plate
        self.setObjectName("brass")
        self.parameter = ""  #: whose number is being typed; empty for none
        self._error = Label(parent=plate)
        self._error.setObjectName("error")
        self._error.setWordWrap(True)
        self.hide()
        self._error.hide()

    def start(self, parameter: str, name: str, text: str, middle: QPointF | None) -> None:
        """Open on a number.

        Args:
            name: What it is called on the card.
        """
        self.parameter = parameter
        self.setText(text)
        self.setAccessibleName(name)
        self.move_over(middle)
        self.show()
        self.raise_()
        self.setFocus()
        self.selectAll()

    def finish(self) -> str:
        """Close; the parameter it was open on."""
        parameter, self.parameter = self.parameter, ""
        self.hide()
        self.show_error("")
        return parameter

    def move_over(self, middle: QPointF | None) -> None:
        """Stand over the number, inside the plate."""
        if not self.parameter or middle is None:
            return
        room, tall = self._plate.width(), self._plate.height()
        width = max(96, round(QFontMetricsF(font(15, bold=True)).horizontalAdvance(self.text())) + 30)
        width = min(width, room - 16)
        left = min(max(8, round(middle.x()) - width // 2), room - width - 8)
        self.setGeometry(left, min(max(8, round(middle.y()) - 15), tall - 38), width, 30)

    def show_error(self, text: str) -> None:
        """A message beside the entry; empty clears it."""
        if text == self._error.text():
            return
        wrong = bool(text)
        self.setProperty("wrong", wrong)
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)
        self.setAccessibleDescription(text)
        self._error.setText(text)
        self._error.setVisible(wrong)
        if wrong:
            self._error.setFixedWidth(min(340, self._plate.width() - 24))
            self._error.adjustSize()
            box = self.geometry()
            x = min(max(12, box.left()), self._plate.width() - self._error.width() - 12)
            below = box.bottom() + 6
            y = below if below + self._error.height() < self._plate.height() - 8 else box.top() - self._error.height() - 6
            self._error.move(x, y)
            self._error.raise_()

    @property
    def error_text(self) -> str:
        return self._error.text() if self._error.isVisibleTo(self._plate) else ""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            key = event.key()
            if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
                if not self.error_text:
                    self.stepped.emit(1 if key == Qt.Key.Key_Tab else -1)
                return True
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if not self.error_text:
                    self.accepted.emit()
                return True
            if key == Qt.Key.Key_Escape:
                self.cancelled.emit()
                return True
        return super().event(event)
