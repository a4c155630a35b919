"""A painted thing that is picked by a click, Enter or Space, and shows when it has the focus."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QWidget


class Pickable(QWidget):
    """Reports its key."""

    picked = pyqtSignal(str)

    def __init__(self, key: str, parent: QWidget | None = None, focus: Qt.FocusPolicy = Qt.FocusPolicy.StrongFocus) -> None:
        super().__init__(parent)
        self.key = key
        self.on = False  #: the one in hand
        self.setFocusPolicy(focus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.picked.emit(self.key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.picked.emit(self.key)
        elif event is not None:
            super().keyPressEvent(event)

    def focusInEvent(self, event: object) -> None:
        self.update()

    def focusOutEvent(self, event: object) -> None:
        self.update()
