"""The demo shop's window without a monitor, for the campaigns."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from types import TracebackType

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QCoreApplication, QEvent, QSettings

from elbrix.app import leaving
from elbrix.app.rubbish import Rubbish
from elbrix.app.session import Session
from elbrix.app.start import application
from elbrix.app.warming import warm_up
from elbrix.app.window import Window
from elbrix.demo import write_demo

#: So long a toolmaker looks at a window before the first click.
_WARMED_S = 2.0


def memory_mb() -> float:
    """Of this process, resident."""
    with Path("/proc/self/statm").open() as file:
        return int(file.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6


def turn() -> None:
    """What one turn of the window's loop does, widgets that were let go included: without a loop they would stay for ever."""
    QCoreApplication.processEvents()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


@contextmanager
def demo_window() -> Iterator[tuple[Window, list[str]]]:
    """(window, what nobody caught); the book is a copy and goes with it."""
    with TemporaryDirectory() as folder:
        QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, folder)
        app = application()  # held: it goes with the last reference
        Rubbish(app).start()  # as in the program
        caught: list[str] = []

        def met(kind: type[BaseException], fault: BaseException | None, _trace: TracebackType | None) -> None:
            caught.append(f"{kind.__name__}: {fault}"[:200])

        before, sys.excepthook = sys.excepthook, met
        window = Window(Session(write_demo(Path(folder) / "demo.elbrix")))
        window.resize(1280, 800)
        window.show()
        app.processEvents()
        warm_up()  # as a started program does while nobody waits
        time.sleep(_WARMED_S)
        try:
            yield window, caught
        finally:
            leaving.may_leave = lambda _parent, _book: True
            window.close()
            turn()
            sys.excepthook = before
