"""Work that waits for another process, done without the window standing still."""

from __future__ import annotations

import sys
import threading
import time
from collections.abc import Callable
from functools import cache
from itertools import count
from typing import Final, TypeVar

from PyQt6.QtCore import (
    QBuffer,
    QEvent,
    QEventLoop,
    QIODevice,
    QLineF,
    QObject,
    QSettings,
    QSocketNotifier,
    QStandardPaths,
    Qt,
    QTimer,
    pyqtSignal,
)
from PyQt6.QtGui import QFont, QImage, QKeyEvent, QPageLayout, QPageSize, QPainter
from PyQt6.QtWidgets import QDialog, QFileDialog, QSizePolicy

T = TypeVar("T")

#: A class of Qt makes its enums when one of them is first asked for, in Python code: two threads that ask at the same time make
#: two of each, and what takes the one refuses the other for good, or the process dies. They are made before the first thread.
ENUMS_OF: Final = (
    *(Qt, QEvent, QIODevice, QBuffer, QLineF, QSettings, QSocketNotifier, QStandardPaths),
    *(QFont, QImage, QKeyEvent, QPageLayout, QPageSize, QPainter, QDialog, QFileDialog, QSizePolicy),
)

# The window hands the interpreter over at every call into Qt and waits to get it back for as long as this: with the usual
# 5 ms a picture of a hundred calls would stand still for half a second beside a thread that reckons.
sys.setswitchinterval(0.0005)


@cache
def _make_enums() -> None:
    for owner in ENUMS_OF:
        getattr(owner, "no such name", None)  # looking for one that is not there makes all of them


def beside(work: Callable[[], None], name: str) -> threading.Thread:
    """Start a thread beside the window; every thread of the window is started here, by the window's own."""
    _make_enums()
    thread = threading.Thread(target=work, daemon=True, name=name)
    thread.start()
    return thread


def in_background(call: Callable[[], T]) -> T:
    """Run a call in a thread and turn the event loop until it is done; its result or its error comes back here.

    For calls that touch no widget: waiting for the kernel, writing files.
    """
    found: list[T] = []
    failed: list[BaseException] = []

    def work() -> None:
        try:
            found.append(call())
        except BaseException as error:  # noqa: BLE001 - carried over to the caller, whatever it is
            failed.append(error)

    thread = beside(work, "background")
    loop, watch = QEventLoop(), QTimer()
    watch.setInterval(10)
    watch.timeout.connect(lambda: None if thread.is_alive() else loop.quit())
    try:
        watch.start()
        if thread.is_alive():
            loop.exec()
    finally:
        watch.stop()  # it must not look again once the loop is gone
    thread.join()
    if failed:
        raise failed[0]
    return found[0]


#: A call that has gone on for so long no longer keeps the others waiting: one more is begun beside it, s.
_LONG_S: Final = 0.1
_MAX_RUNNING: Final = 2


class _Queue:
    """Calls that wait for their turn beside the window: the newest first, and of each asker only its newest.

    Each that runs takes as much of the interpreter as the window itself. With a thread for every call that was overtaken, an
    edit a moment later stood for seconds.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._waiting: dict[int, Callable[[], None]] = {}  # by asker, the newest last
        self._running = 0
        self._begun = 0.0  # when the newest of those that run began

    def put(self, asker: int, work: Callable[[], None]) -> None:
        """Have something done, in place of what the same asker still waits for."""
        with self._lock:
            self._waiting.pop(asker, None)
            self._waiting[asker] = work
        self.go_on()

    def forget(self, asker: int) -> None:
        """What it waits for is not wanted any more."""
        with self._lock:
            self._waiting.pop(asker, None)

    def go_on(self) -> None:
        """Begin what may be begun. Asked by the window's thread, which begins every thread."""
        with self._lock:
            late = time.monotonic() - self._begun > _LONG_S
            begins = bool(self._waiting) and (not self._running or (self._running < _MAX_RUNNING and late))
            self._running += begins
            if begins:
                self._begun = time.monotonic()
        if begins:
            beside(self._work, "later")

    def _work(self) -> None:
        while True:
            with self._lock:
                if not self._waiting:
                    self._running -= 1
                    return
                work = self._waiting.pop(next(reversed(self._waiting)))
                self._begun = time.monotonic()
            try:
                work()
            except BaseException:
                with self._lock:
                    self._running -= 1  # the thread ends with it, the queue does not
                raise


_queue = _Queue()
_askers = count()


class _Failed:
    def __init__(self, error: Exception) -> None:
        self.error = error


class Later(QObject):
    """An answer worked out beside the window, in a thread; one that was overtaken is dropped, and not begun if it still waits.

    For calls of plain values that take a few tenths of a second: the thread and the window share the interpreter, so the
    window stays awake but not for itself alone. What takes longer belongs in a process (`searching`).
    """

    done = pyqtSignal(object)  #: what the newest call gave; a call that failed goes where every uncaught error goes

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._asker = next(_askers)
        self._number = 0
        self._answers: list[tuple[int, object]] = []  # the thread appends, the window takes; a list append is one step
        self._look = QTimer(self)
        self._look.setInterval(15)
        self._look.timeout.connect(self._listen)

    @property
    def busy(self) -> bool:
        return self._look.isActive()

    def start(self, call: Callable[[], object]) -> None:
        """Begin; an older call's answer is not listened to any more."""
        self._number += 1
        number, answers = self._number, self._answers

        def work() -> None:
            found: object = None
            try:
                found = call()
            except Exception as error:  # noqa: BLE001 - carried over to the window's thread, whatever it is
                found = _Failed(error)
            answers.append((number, found))

        _queue.put(self._asker, work)
        self._look.start()

    def drop(self) -> None:
        """Nothing that is under way is wanted any more."""
        self._number += 1
        _queue.forget(self._asker)
        self._look.stop()

    def _listen(self) -> None:
        _queue.go_on()
        while self._answers:
            number, found = self._answers.pop(0)
            if number == self._number:
                self._look.stop()
                if isinstance(found, _Failed):
                    sys.excepthook(type(found.error), found.error, found.error.__traceback__)
                elif found is not None:
                    self.done.emit(found)
