"""Opens the window: application, fonts, book, and the ways out when a book cannot be opened."""

from __future__ import annotations

import gc
import sys
from pathlib import Path
from typing import Final

from PyQt6 import sip
from PyQt6.QtWidgets import QApplication, QFileDialog

from elbrix import __version__
from elbrix.app.faults import Faults
from elbrix.app.session import Session
from elbrix.app.theme.type import font, load_fonts
from elbrix.app.user_places import data_folder
from elbrix.app.window import Window
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError


def application(arguments: list[str] | None = None) -> QApplication:
    """The one application, with fonts and icon."""
    existing = QApplication.instance()
    if isinstance(existing, QApplication):
        return existing
    # Told on the command line, the style costs nothing; `setStyle` would wrap it and build ten enums.
    app = QApplication([*(arguments or ["elbrix"]), "-style", "Fusion"])
    app.setApplicationName("elbrix")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("org.elbrix.Elbrix")
    load_fonts()
    app.setFont(font(13))
    return app


def home_book() -> Path:
    """The book opened when none is named."""
    return data_folder() / "workshop.elbrix"


def open_or_make(path: Path) -> Book:
    """Open a book, or start one where there is none; it is looked over when its window was seen.

    Raises:
        ShopError: It can be neither opened nor started.
    """
    return Book.open(path, later=True) if path.exists() else Book.create(path)


def run_window(path: Path | None, *, demo: bool = False) -> int:
    """Run until the window is closed."""
    gc.disable()  # nothing made before the first paint is rubbish
    app = application(sys.argv[:1])
    book = _demo() if demo else _open(path or home_book())
    if book is None:
        return 1
    session = Session(book)
    Faults(session).install()
    window = Window(session, starting=True)
    window.bench.after_paint(lambda: _settle(app, window))
    window.show()
    code = app.exec()
    _let_go(app)
    return code


def _let_go(app: QApplication) -> None:
    """Take the windows away while their application is still there.

    Python lets go of both in any order, and a widget that outlives its application may end the process with a fault.
    """
    for widget in app.topLevelWidgets():
        if not sip.isdeleted(widget):
            sip.delete(widget)


#: The first look at the first bench is undisturbed.
_WARM_AFTER_MS: Final = 600


def _settle(app: QApplication, window: Window) -> None:
    """What the first paint could do without."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtGui import QIcon

    from elbrix.app.rubbish import Rubbish
    from elbrix.app.warming import warm_up

    gc.freeze()  # what is there now stays: it is not looked through again and again
    Rubbish(app).start()
    app.setWindowIcon(QIcon(str(Path(__file__).parent / "theme" / "elbrix.svg")))
    QTimer.singleShot(_WARM_AFTER_MS, warm_up)
    QTimer.singleShot(2 * _WARM_AFTER_MS, window.listen)
    QTimer.singleShot(2 * _WARM_AFTER_MS, window.looking.start)
    QTimer.singleShot(4 * _WARM_AFTER_MS, window.ask.needs.keep_up)


def _demo() -> Book | None:
    from elbrix.app.demo_copy import demo_path, open_demo_book  # a start with a book of one's own does not need it

    try:
        return open_demo_book(later=True)
    except (ShopError, OSError) as error:
        return _open(home_book(), _as_problem(error, demo_path()))


def _open(path: Path, problem: BookProblem | None = None) -> Book | None:
    """Open, and when that cannot be, offer the ways on until one works or the toolmaker leaves."""
    while True:
        if problem is None:
            try:
                return open_or_make(path)
            except (ShopError, OSError) as error:
                problem = _as_problem(error, path)
        from elbrix.app.opening import ask_what_to_do

        choice = ask_what_to_do(problem)
        problem = None
        if choice is None:
            return None
        if choice == "other":
            name, _ = QFileDialog.getOpenFileName(
                None, "Open a book", str(path.parent), "Elbrix (*.elbrix)", options=QFileDialog.Option.DontUseNativeDialog
            )
            path = Path(name) if name else path
        elif isinstance(choice, Path):
            path = choice


def _as_problem(error: Exception, path: Path) -> BookProblem:
    """Whatever keeps a book from being opened, as something to choose about: a message on a terminal is not seen."""
    if isinstance(error, BookProblem):
        return error
    what, why, do = (
        (error.what, error.why, error.do)
        if isinstance(error, ShopError)
        else (
            f"it cannot be opened or written ({error.strerror if isinstance(error, OSError) else error})",
            "The name, the folder or the disk does not allow it",
            "Choose another book or another folder",
        )
    )
    return BookProblem("refused", path, what, why, do, ("other",))
