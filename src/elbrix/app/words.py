"""Words on the screen are words: a name with angle brackets in it is shown as typed, never read as a page with pictures."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """A label of plain text."""

    pressed = pyqtSignal()

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.PlainText)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()
        super().mousePressEvent(event)


def set_tip(widget: QWidget, text: str) -> None:
    """A tool tip of plain text."""
    if "<" in text:  # Qt would take it for markup
        text = "<qt>" + text.replace("&", "&amp;").replace("<", "&lt;") + "</qt>"
    widget.setToolTip(text)
