"""A long search in a process of its own: the window stays alive, sees how far it is, and stops it when it is told to."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from elbrix.quantities.errors import ShopError
from elbrix.results.progress import Watch

if TYPE_CHECKING:
    from multiprocessing.connection import Connection  # loaded when something is searched for, not at start

_LOOK_MS = 25


def _work(pipe: Connection, call: Callable[[Watch], object]) -> None:
    """What the other process does."""
    try:
        pipe.send(("found", call(lambda share: pipe.send(("share", share)))))
    except ShopError as error:
        pipe.send(("problem", str(error)))
    finally:
        pipe.close()


class Search(QObject):
    """One search at a time; a new one stops the one before."""

    told = pyqtSignal()  #: `share` has grown
    ended = pyqtSignal()  #: with `found`, or `problem`, or neither when it was stopped

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.running = False
        self.share = 0.0
        self.found: object = None
        self.problem = ""
        self._process: Any = None
        self._pipe: Connection | None = None
        self._look = QTimer(self)
        self._look.setInterval(_LOOK_MS)
        self._look.timeout.connect(self._listen)

    def start(self, call: Callable[[Watch], object]) -> None:
        """Begin. The call and what it brings back are plain values that can be sent to another process."""
        import multiprocessing

        processes = multiprocessing.get_context("spawn")  # a plain new process: nothing of the window is copied into it
        self.stop()
        self.running, self.share, self.found, self.problem = True, 0.0, None, ""
        self._pipe, other = processes.Pipe(duplex=False)
        self._process = processes.Process(target=_work, args=(other, call), daemon=True, name="search")
        self._process.start()
        other.close()  # so the end of the process is seen on our side
        self._look.start()

    def stop(self) -> None:
        """Give up."""
        was = self.running
        self._let_go()
        if was:
            self.ended.emit()

    def _let_go(self) -> None:
        self._look.stop()
        self.running = False
        if self._process is not None:
            self._process.kill()
            self._process.join(1.0)
            self._process = None
        if self._pipe is not None:
            self._pipe.close()
            self._pipe = None

    def _listen(self) -> None:
        pipe = self._pipe
        while pipe is not None and pipe.poll():
            try:
                what, value = pipe.recv()
            except EOFError:
                self.problem = "The search ended by itself. Try it again"
                self._let_go()
                self.ended.emit()
                return
            if what == "share":
                self.share = value
                self.told.emit()
                continue
            if what == "found":
                self.found = value
            else:
                self.problem = value
            self.share = 1.0
            self._let_go()
            self.ended.emit()
            return
