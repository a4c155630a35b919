"""Many small things done one after another with the window awake between them: pictures of a film, of a shelf, of drawers."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterable
from typing import Final

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

#: One turn of the window's loop takes no more than this, and one call.
_TURN_S: Final = 0.012


class Trickle(QObject):
    """Calls waiting for their turn; a new set takes the place of the one before."""

    ended = pyqtSignal()  #: every call is made

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._calls: deque[Callable[[], None]] = deque()
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._turn)

    @property
    def busy(self) -> bool:
        return self._timer.isActive()

    def start(self, calls: Iterable[Callable[[], None]]) -> None:
        """Make these calls, in order."""
        self._calls = deque(calls)
        if self._calls:
            self._timer.start()
        else:
            self._timer.stop()

    def stop(self) -> None:
        """What waits is not wanted any more."""
        self._calls.clear()
        self._timer.stop()

    def _turn(self) -> None:
        end = time.monotonic() + _TURN_S
        while self._calls:
            self._calls.popleft()()
            if time.monotonic() > end:
                break
        if not self._calls and self._timer.isActive():
            self._timer.stop()
            self.ended.emit()
