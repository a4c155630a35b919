"""A real window on the demo shop, or on an empty one."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QSettings
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app import leaving
from elbrix.app.rubbish import Rubbish
from elbrix.app.session import Session
from elbrix.app.start import application
from elbrix.app.window import Window
from elbrix.book.store import Book
from elbrix.demo import write_demo


@pytest.fixture(scope="session")
def qapp() -> QApplication:
    return application()


@pytest.fixture(scope="session")
def rubbish(qapp: QApplication) -> Rubbish:
    return Rubbish(qapp)


@pytest.fixture(autouse=True)
def nothing_is_taken_apart_beside_the_window(rubbish: Rubbish) -> Iterator[None]:
    """As in the program; between tests Python looks by itself again, there is no loop to look in."""
    rubbish.start()
    yield
    rubbish.stop()


@pytest.fixture(autouse=True)
def own_settings(tmp_path: Path) -> None:
    """No test reads or writes where the windows of this machine's user stood."""
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))


Opener = Callable[[Book], Window]


@pytest.fixture
def open_window(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> Iterator[Opener]:
    """Opens windows and closes them after the test."""
    opened: list[Window] = []

    def opener(book: Book) -> Window:
        window = Window(Session(book))
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        opened.append(window)
        return window

    yield opener
    monkeypatch.setattr(leaving, "may_leave", lambda _parent, _book: True)  # what a test left unsaved is not asked about
    for window in opened:
        window.close()
        window.deleteLater()
    opened.clear()
    QApplication.processEvents()
    # Without a loop nothing that was let go would ever go, and every later test would style it again.
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo shop, written once: every test that wants one works on a copy."""
    found = tmp_path_factory.mktemp("demo") / "demo.elbrix"
    write_demo(found).close()
    return found


@pytest.fixture
def window(open_window: Opener, demo_file: Path, tmp_path: Path) -> Window:
    """The demo shop with Design in front."""
    found = open_window(Book.open(Path(shutil.copy(demo_file, tmp_path / "demo.elbrix"))))
    found.session.pick_design("t-nut-hazel")
    found.open_bench("design")
    return found


@pytest.fixture
def empty_window(open_window: Opener, tmp_path: Path) -> Window:
    return open_window(Book.create(tmp_path / "empty.elbrix"))
