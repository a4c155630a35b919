"""Words on the screen are words: a name with angle brackets in it is shown as typed, never read as a page with pictures."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction, QMouseEvent
from PyQt6.QtWidgets import QLabel, QMenu, QWidget


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


def with_signs(words: str) -> str:
    """Words for a button or a menu, in which a single & would be taken for the mark of a key: "Pin & bush"."""
    return words.replace("&", "&&")


def menu_line(menu: QMenu, words: str, act: Callable[[], object]) -> QAction:
    """One more line of a menu, and what picking it does."""
    action = QAction(with_signs(words), menu)
    action.triggered.connect(lambda _=False: act())
    menu.addAction(action)
    return action
