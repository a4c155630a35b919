"""A long search beside the window: it tells how far it is, can be stopped, and brings back what it found."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from elbrix.quantities.errors import ShopError
from elbrix.quantities.watching import Stopped, Watch


class Search(QObject):
    """One search at a time; a new one stops the one before."""

    told = pyqtSignal()  #: `share` has grown
    ended = pyqtSignal()  #: `found`, or `problem`, or neither when it was stopped
    _step = pyqtSignal(int, float)
    _over = pyqtSignal(int, object, str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.running = False
        self.share = 0.0
        self.found: object = None
        self.problem = ""
        self._number = 0
        self._stop = threading.Event()
        # The thread only emits; these run in the window's own thread, and a search that was overtaken is not listened to.
        self._step.connect(self._stepped)
        self._over.connect(self._finished)

    def start(self, call: Callable[[Watch], object]) -> None:
        """Begin; `call` touches no widget and calls its watch now and then."""
        self.stop()
        self._number += 1
        self._stop = threading.Event()
        self.running, self.share, self.found, self.problem = True, 0.0, None, ""
        threading.Thread(target=self._work, args=(call, self._number, self._stop), daemon=True, name="search").start()

    def stop(self) -> None:
        """Give up; what is running is not listened to any more."""
        self._stop.set()
        self._number += 1
        if self.running:
            self.running = False
            self.ended.emit()

    def _work(self, call: Callable[[Watch], object], number: int, stop: threading.Event) -> None:
        def watch(share: float) -> None:
            if stop.is_set():
                raise Stopped
            self._step.emit(number, share)

        try:
            self._over.emit(number, call(watch), "")
        except Stopped:
            self._over.emit(number, None, "")
        except ShopError as error:
            self._over.emit(number, None, str(error))

    def _stepped(self, number: int, share: float) -> None:
        if number == self._number:
            self.share = share
            self.told.emit()

    def _finished(self, number: int, found: object, problem: str) -> None:
        if number == self._number:
            self.running, self.share, self.found, self.problem = False, 1.0, found, problem
            self.ended.emit()
