"""One line asked for, in the window's own look; no box of the desktop's."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from elbrix.app.dialogs import asked
from elbrix.app.words import Label


class LineDialog(QDialog):
    """A question, a line to answer on, two buttons."""

    def __init__(self, parent: QWidget, question: str, hint: str, text: str = "") -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self.setObjectName("cardPaper")
        title, under = Label(question), Label(hint)
        title.setObjectName("groupTitle")
        under.setObjectName("rowLabel")
        under.setWordWrap(True)
        self.line = QLineEdit(text)
        self.line.setMaxLength(300)
        self.line.setAccessibleName(question)
        self.keep, self.leave = QPushButton("Save"), QPushButton("Cancel")
        self.keep.setObjectName("main")
        self.leave.setObjectName("plain")
        self.keep.setEnabled(bool(text))
        self.line.textChanged.connect(lambda t: self.keep.setEnabled(bool(t.strip())))
        self.keep.clicked.connect(self.accept)
        self.leave.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        buttons.addWidget(self.keep)
        buttons.addStretch(1)
        buttons.addWidget(self.leave)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 14)
        layout.setSpacing(10)
        for part in (title, under, self.line):
            layout.addWidget(part)
        layout.addLayout(buttons)
        self.setFixedWidth(460)


def ask_line(parent: QWidget, question: str, hint: str, text: str = "") -> str:
    """The answer, stripped; empty when it was left."""
    dialog = LineDialog(parent, question, hint, text)
    return dialog.line.text().strip() if asked(dialog) else ""
