"""Opens the window: application, fonts, book, and the ways out when a book cannot be opened."""

from __future__ import annotations

import sys
from pathlib import Path

from platformdirs import user_data_path
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication, QFileDialog

from elbrix import __version__
from elbrix.app.opening import ask_what_to_do
from elbrix.app.session import Session
from elbrix.app.theme.type import font, load_fonts
from elbrix.app.window import Window
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.demo import write_demo


def application(arguments: list[str] | None = None) -> QApplication:
    """The one application, with fonts and icon."""
    existing = QApplication.instance()
    if isinstance(existing, QApplication):
        return existing
    app = QApplication(arguments or ["elbrix"])
    app.setApplicationName("elbrix")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("elbrix")
    app.setStyle("Fusion")
    load_fonts()
    app.setFont(font(13))
    icon = Path(__file__).parent / "theme" / "elbrix.svg"
    if icon.exists():
        app.setWindowIcon(QIcon(str(icon)))
    return app


def home_book() -> Path:
    """The book opened when none is named."""
    return user_data_path("elbrix", appauthor=False) / "workshop.elbrix"


def demo_book() -> Path:
    """Where the copy of the demo shop goes."""
    return user_data_path("elbrix", appauthor=False) / "demo" / "Wrenfield Dial Works.elbrix"


def open_or_make(path: Path) -> Book:
    """Open a book, or start one where there is none.

    Raises:
        ShopError: It can be neither opened nor started.
    """
    return Book.open(path) if path.exists() else Book.create(path)


def run_window(path: Path | None, *, demo: bool = False) -> int:
    """Run until the window is closed."""
    app = application(sys.argv[:1])
    book = _demo() if demo else _open(path or home_book())
    if book is None:
        return 1
    window = Window(Session(book))
    if demo and not book.setting("bench"):
        window.open_bench("design")
    window.show()
    return app.exec()


def _demo() -> Book | None:
    path = demo_book()
    path.parent.mkdir(parents=True, exist_ok=True)
    probe = Book.open(path) if path.exists() and _openable(path) else None
    if probe is not None:
        if probe.read_only:
            return probe  # the demo is open in another window: look at that one
        probe.close()
    return write_demo(path)


def _openable(path: Path) -> bool:
    try:
        Book.open(path).close()
    except BookProblem:
        return False
    return True


def _open(path: Path) -> Book | None:
    """Open, and when that cannot be, offer the ways on until one works or the toolmaker leaves."""
    while True:
        try:
            return open_or_make(path)
        except BookProblem as problem:
            choice = ask_what_to_do(problem)
        if choice is None:
            return None
        if choice == "other":
            name, _ = QFileDialog.getOpenFileName(
                None, "Open a book", str(path.parent), "Elbrix (*.elbrix)", options=QFileDialog.Option.DontUseNativeDialog
            )
            path = Path(name) if name else path
        elif isinstance(choice, Path):
            path = choice
