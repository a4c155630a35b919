"""The strip that leads through measuring a slot: what, where, how, and a place to type the reading."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from elbrix.app.words import Label


class MeasuringPanel(QFrame):
    """Shows one step and reports the reading typed."""

    entered = pyqtSignal(str)
    skipped = pyqtSignal()
    back = pyqtSignal()
    finished = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("cardPaper")
        self._what, self._how, self._progress, self._error = Label(), Label(), Label(), Label()
        self._what.setObjectName("groupTitle")
        self._how.setObjectName("rowLabel")
        self._how.setWordWrap(True)
        self._progress.setObjectName("hint")
        self._error.setObjectName("error")
        self._error.setWordWrap(True)
        self._error.hide()
        self.line = QLineEdit()
        self.line.setFixedWidth(150)
        self.line.setMaxLength(20000)
        self.line.setPlaceholderText("reading")
        self.line.textEdited.connect(lambda _: self.show_error(""))
        self._unit = Label()
        self._unit.setObjectName("unit")
        self.next, skip, back, done = (QPushButton("Next"), QPushButton("Skip"), QPushButton("Back"), QPushButton("Done"))
        self.next.setObjectName("main")
        for button in (skip, back, done):
            button.setObjectName("plain")
        self.line.returnPressed.connect(lambda: self.entered.emit(self.line.text()))
        self.next.clicked.connect(lambda: self.entered.emit(self.line.text()))
        skip.clicked.connect(self.skipped)
        back.clicked.connect(self.back)
        done.clicked.connect(self.finished)
        head = QHBoxLayout()
        head.addWidget(self._what)
        head.addStretch(1)
        head.addWidget(self._progress)
        entry = QHBoxLayout()
        for part in (self.line, self._unit, self.next):
            entry.addWidget(part)
        entry.addStretch(1)
        for part in (back, skip, done):
            entry.addWidget(part)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 10)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addWidget(self._how)
        layout.addLayout(entry)
        layout.addWidget(self._error)
        self.hide()

    def show_step(self, what: str, how: str, progress: str, text: str, unit: str) -> None:
        """Ask for one reading; `text` is the one already there."""
        self._what.setText(what)
        self._how.setText(how)
        self._progress.setText(progress)
        self._unit.setText(unit)
        self.line.setText(text)
        self.line.setAccessibleName(what)
        self.line.selectAll()
        self.line.setFocus()
        self.show_error("")

    def show_error(self, text: str) -> None:
        self._error.setText(text)
        self._error.setVisible(bool(text))

    @property
    def error_text(self) -> str:
        return self._error.text() if self._error.isVisibleTo(self) else ""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finished.emit()
        elif event is not None:
            super().keyPressEvent(event)
