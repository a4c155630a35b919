"""A painted thing that is picked by a click, Enter or Space, and shows when it has the focus."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget


class Pickable(QAbstractButton):
    """Reports its key. To a screen reader it is a button, pressed or not, which it may press as well."""

    picked = pyqtSignal(str)

    def __init__(self, key: str, parent: QWidget | None = None, focus: Qt.FocusPolicy = Qt.FocusPolicy.StrongFocus) -> None:
        super().__init__(parent)
        self.key = key
        self.clicked.connect(lambda _=False: self.picked.emit(self.key))  # pressed by an assistive technology
        self.setFocusPolicy(focus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    @property
    def on(self) -> bool:
        """Whether it is the one in hand."""
        return self.isChecked()

    @on.setter
    def on(self, on: bool) -> None:
        if on and not self.isCheckable():
            self.setCheckable(True)  # from now on it is one of several of which one is in hand
        self.setChecked(on)

    def nextCheckState(self) -> None:
        """Which one is in hand is said by its owner, not by a press."""

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """It was picked when it was pressed."""

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """The same."""

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
