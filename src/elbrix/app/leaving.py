"""Closing a window whose newest edits are not in the file: nothing is thrown away unasked."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from elbrix.app.dialogs import asked
from elbrix.app.file_choice import file_to_write
from elbrix.app.words import Label
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError

#: Edits named in the question.
_NAMED = 6


class UnsavedDialog(QDialog):
    """Says what is not in the file, why, and offers the ways on."""

    def __init__(self, parent: QWidget, book: Book) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self.setObjectName("cardPaper")
        self.book = book
        self._title, self._words, self._said = Label(), Label(), Label()
        self._title.setObjectName("groupTitle")
        self._said.setObjectName("rowError")
        for label in (self._title, self._words, self._said):
            label.setWordWrap(True)
        self.again = QPushButton("Try again")
        self.copy = QPushButton("Save everything in another file…")
        self.lose = QPushButton()
        self.stay = QPushButton("Keep the window open")
        self.again.setObjectName("main")
        for button in (self.copy, self.lose, self.stay):
            button.setObjectName("plain")
        self.again.clicked.connect(self._try_again)
        self.copy.clicked.connect(self._save_copy)
        self.lose.clicked.connect(self.accept)
        self.stay.clicked.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 14)
        layout.setSpacing(10)
        for part in (self._title, self._words, self._said):
            layout.addWidget(part)
        for row in ((self.again, self.copy), (self.stay, self.lose)):
            line = QHBoxLayout()
            line.addWidget(row[0])
            line.addStretch(1)
            line.addWidget(row[1])
            layout.addLayout(line)
        self.setFixedWidth(560)
        self._tell()

    def _tell(self, said: str = "") -> None:
        labels = self.book.unsaved
        count = len(labels)
        plural = "s" if count != 1 else ""
        self._title.setText(f"{count} edit{plural} not in the file yet")
        named = "\n".join(f"– {x}" for x in labels[-_NAMED:])
        more = f"\n… and {count - _NAMED} before" if count > _NAMED else ""
        self._words.setText(f"{named}{more}\n\n{self.book.unsaved_reason}")
        self.lose.setText(f"Close and lose {'it' if count == 1 else f'these {count}'}")
        self._said.setText(said)
        self._said.setVisible(bool(said))
        self.adjustSize()

    def _try_again(self) -> None:
        if self.book.flush():
            self.accept()
        else:
            self._tell("The file still cannot take them")

    def _save_copy(self) -> None:
        path = file_to_write(self, "Save everything in another file", "Elbrix (*.elbrix)", f"{self.book.path.stem} copy.elbrix")
        if path is not None:
            self.save_copy(path)

    def save_copy(self, path: Path) -> None:
        """Write a copy; leave when it stands, else say why not."""
        try:
            self.book.save_copy(path.with_suffix(".elbrix"))
        except ShopError as error:
            self._tell(str(error))
        else:
            self.accept()


def may_leave(parent: QWidget, book: Book) -> bool:
    """Whether the window may close: what waited is written, kept elsewhere, or given up by whoever made it."""
    return asked(UnsavedDialog(parent, book))
