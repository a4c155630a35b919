"""A result taken with the pointer and dropped on the number it is for."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDrag, QDropEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QLineEdit

from elbrix.app.words import Label

#: No number anybody enters is longer.
_LONGEST: Final = 200


class DraggedResult(Label):
    """Large words that can be taken along."""

    def __init__(self) -> None:
        super().__init__()
        self._taken: QPointF | None = None
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._taken = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._taken is None or not self.text():
            return
        if (event.position() - self._taken).manhattanLength() >= QApplication.startDragDistance():
            self._taken = None
            self.drag().exec(Qt.DropAction.CopyAction)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._taken = None

    def drag(self) -> QDrag:
        """What is taken along: the number with its unit, as text that other programs take too."""
        drag, data = QDrag(self), QMimeData()
        data.setText(self.text())
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        return drag


def dropped_text(event: QDropEvent | None) -> str:
    """The one line that is carried; "" when it is nothing that could be entered."""
    data = event.mimeData() if event is not None else None
    text = data.text().strip() if data is not None and data.hasText() else ""
    return text if 0 < len(text) <= _LONGEST and len(text.splitlines()) == 1 else ""


def enter(editor: QLineEdit, text: str) -> None:
    """Stand in an entry as if it had been typed: with its refusal beside it when it cannot be taken."""
    editor.setText(text)
    editor.textEdited.emit(text)
    editor.selectAll()
