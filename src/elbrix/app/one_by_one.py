"""Many small answers worked out beside the window, one after another, each shown as it comes: pictures of a shelf, of drawers.

What only moves widgets about belongs in a `Trickle`, in the window's own thread.
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterable
from typing import Any, Final

from PyQt6.QtCore import QObject, pyqtSignal

from elbrix.app.background import Later
from elbrix.app.trickle import Trickle

#: So long a thread goes on before what it has found is shown, s: an answer of its own for each would be looked for each time.
_STRETCH_S: Final = 0.03

#: What is worked out, from plain values and with nothing of the window; and what shows it.
Work = tuple[Callable[[], Any], Callable[[Any], None]]


class OneByOne(QObject):
    """Works waiting for their turn; a new set takes the place of the one before."""

    ended = pyqtSignal()  #: everything is shown

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._works: deque[Work] = deque()
        self._later = Later(self)
        self._later.done.connect(self._found)
        self._showing = Trickle(self)
        self._showing.ended.connect(self._next)

    @property
    def busy(self) -> bool:
        return self._later.busy or self._showing.busy

    def start(self, works: Iterable[Work]) -> None:
        """Begin these, in order."""
        self.stop()
        self._works = deque(works)
        self._next()

    def instead(self, works: Iterable[Work]) -> None:
        """Begin these instead of what still waits; what is being worked out is shown all the same.

        For what is asked anew while the pointer scrolls: begun from nothing each time, nothing would ever be shown.
        """
        self._works = deque(works)  # a thread that is under way keeps its own
        if not self.busy:
            self._next()

    def stop(self) -> None:
        """What waits is not wanted any more."""
        self._works = deque()  # a thread that is under way keeps its own
        self._later.drop()
        self._showing.stop()

    def _next(self) -> None:
        if self._works:
            works = self._works
            self._later.start(lambda: _stretch(works))
        else:
            self.ended.emit()

    def _found(self, shows: list[Callable[[], None]]) -> None:
        self._showing.start(shows)


def _stretch(works: deque[Work]) -> list[Callable[[], None]]:
    """A few works done: what shows each of them. One that fails does so when it is shown, and keeps no other from its turn."""
    found: list[Callable[[], None]] = []
    end = time.monotonic() + _STRETCH_S
    while works and (not found or time.monotonic() < end):
        call, show = works.popleft()
        try:
            found.append(_shown(show, call()))
        except Exception as error:  # noqa: BLE001 - carried over to the window's thread, whatever it is
            found.append(_failed(error))
    return found


def _shown(show: Callable[[Any], None], found: object) -> Callable[[], None]:
    return lambda: show(found)


def _failed(error: Exception) -> Callable[[], None]:
    def fail() -> None:
        raise error

    return fail
