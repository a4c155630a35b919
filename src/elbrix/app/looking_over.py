"""A book looked over when there is time: what nobody asked for yet is read, and the day's copy made."""

from __future__ import annotations

import contextlib
import gc
import sqlite3
from datetime import date
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from elbrix.app.background import Later
from elbrix.book import backup
from elbrix.book.opening import read_only_uri
from elbrix.book.store import Book


class LookOver(QObject):
    """After the first paint, by the handful, so that no key waits for it."""

    found = pyqtSignal()  #: something that cannot be read

    def __init__(self, book: Book, parent: QObject) -> None:
        super().__init__(parent)
        self._book = book
        self._known = len(book.unreadable)
        self._copying = Later(self)
        self._turns = QTimer(self)
        self._turns.setInterval(0)
        self._turns.timeout.connect(self._turn)

    @property
    def busy(self) -> bool:
        return self._turns.isActive() or self._copying.busy

    def start(self) -> None:
        self._turns.start()

    def stop(self) -> None:
        self._turns.stop()

    def _turn(self) -> None:
        if self._book.read_some():
            return
        self._turns.stop()
        gc.freeze()  # the documents stay: they are not looked through again and again for rubbish
        if len(self._book.unreadable) > self._known:
            self.found.emit()
        if not self._book.read_only:
            path = self._book.path
            self._copying.start(lambda: _copied(path))


def _copied(path: Path) -> bool:
    """The day's copy, by a connection of its own: the window's writes go on meanwhile. A disk that refuses is no fault."""
    with (
        contextlib.suppress(OSError, sqlite3.Error),
        contextlib.closing(sqlite3.connect(read_only_uri(path), uri=True, timeout=2.0)) as connection,
    ):
        if connection.execute("SELECT 1 FROM item LIMIT 1").fetchone():
            backup.daily(connection, path, date.today())
    return True
