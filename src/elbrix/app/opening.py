"""What to do about a book that cannot be opened: a clear choice, nothing written."""

from __future__ import annotations

import shutil
from pathlib import Path

from PyQt6.QtWidgets import QDialog, QPushButton, QVBoxLayout

from elbrix.app.dialogs import asked
from elbrix.app.theme.palette import LIGHT
from elbrix.app.theme.style import style_sheet
from elbrix.app.words import Label
from elbrix.book import backup
from elbrix.book.opening import BookProblem


def free_name(path: Path, words: str) -> Path:
    """A name beside a file that nothing has yet."""
    for n in range(1, 1000):
        candidate = path.with_name(f"{path.stem} {words}{'' if n == 1 else f' {n}'}.elbrix")
        if not candidate.exists():
            return candidate
    return path.with_name(f"{path.stem} {words} 1000.elbrix")


def copy_of_backup(path: Path) -> Path | None:
    """The newest backup, copied under a name of its own beside the book; None when there is none."""
    newest = backup.newest(path)
    if newest is None:
        return None
    target = free_name(path, "from backup")
    shutil.copyfile(newest, target)
    return target


class ProblemDialog(QDialog):
    """Says what is wrong and offers the ways on."""

    def __init__(self, problem: BookProblem) -> None:
        super().__init__()
        self.setObjectName("window")
        self.setStyleSheet(style_sheet(LIGHT))
        self.setWindowTitle("Elbrix")
        self.choice: str | Path | None = None
        self.problem = problem
        title, words = Label(problem.path.name), Label(problem.beside)
        title.setObjectName("title")
        words.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 20, 24, 18)
        layout.setSpacing(12)
        layout.addWidget(title)
        layout.addWidget(words)
        self.buttons: dict[str, QPushButton] = {}
        has_backup = backup.newest(problem.path) is not None
        offers = {
            "backup": ("Open a copy of the newest backup", has_backup),
            "other": ("Choose another book…", True),
            "new": ("Start a new book beside it", True),
        }
        for key in problem.choices:
            text, possible = offers[key]
            button = QPushButton(text)
            button.setEnabled(possible)
            button.clicked.connect(lambda _=False, k=key: self._take(k))
            self.buttons[key] = button
            layout.addWidget(button)
        leave = QPushButton("Leave it and close")
        leave.setObjectName("plain")
        leave.clicked.connect(self.reject)
        layout.addWidget(leave)
        self.setFixedWidth(520)

    def _take(self, key: str) -> None:
        if key == "backup":
            self.choice = copy_of_backup(self.problem.path)
        elif key == "new":
            self.choice = free_name(self.problem.path, "new")
        else:
            self.choice = key
        self.accept()


def ask_what_to_do(problem: BookProblem) -> str | Path | None:
    """ "other", a path to open or start, or None to leave."""
    dialog = ProblemDialog(problem)
    return dialog.choice if asked(dialog) else None
