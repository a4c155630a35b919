"""The window's line to the kernel process: newest request per purpose wins, a crash is mended, the window never waits."""

from __future__ import annotations

import time
from typing import Any, Final

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal
from PyQt6.sip import voidptr

from elbrix.app.background import beside
from elbrix.solids.client import KERNEL_GAVE_UP, Kernel, KernelGone

#: A job overtaken by a newer one for the same purpose is cut short after this, s.
_PATIENCE: Final = 0.3
#: The first kernel process waits this long after it is first wanted, ms.
_AFTER_START_MS: Final = 250
#: A job that takes longer than this is taken for a process that stands still, s.
_LONGEST: Final = 60.0
#: A job that kills the process this often is given up.
_MAX_DEATHS: Final = 2


class KernelLink(QObject):
    """Requests by purpose ("front view", "solid"); answers come as signals."""

    answered = pyqtSignal(str, object, object)  #: purpose, arguments, result
    refused = pyqtSignal(str, object, str)  #: purpose, arguments, reason
    state_changed = pyqtSignal(str)  #: words for the plate's foot; empty when all is well
    _started = pyqtSignal(bool)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kernel = Kernel()
        self.longest = _LONGEST  #: s
        self._waiting: dict[str, tuple[str, tuple[Any, ...]]] = {}
        self._running: tuple[int, str, str, tuple[Any, ...], float] | None = None
        self._deaths = 0
        self._starting = False
        self._warm = False
        self._closed = False
        self._notifier: QSocketNotifier | None = None
        self._started.connect(self._on_started)
        self._watch = QTimer(self)
        self._watch.setInterval(150)
        self._watch.timeout.connect(self._cut_short)

    @property
    def pid(self) -> int:
        """Process number of the kernel, 0 when it does not run."""
        return self._kernel.pid

    @property
    def busy(self) -> bool:
        return bool(self._waiting) or self._running is not None

    def request(self, purpose: str, job: str, *arguments: Any) -> None:
        """Ask for something; an older request for the same purpose is dropped."""
        if self._closed:
            return
        self._waiting[purpose] = (job, arguments)
        if self._running and self._running[1] == purpose:
            self._watch.start()
        self._next()

    def close(self) -> None:
        """End the process."""
        self._closed = True
        self._waiting.clear()
        self._drop_notifier()
        self._kernel.stop()

    def _start(self) -> None:
        if self._starting or self._closed:
            return
        self._starting = True
        if not self._warm:
            # The window comes first: loading the kernel would fight it for the processor.
            self._warm = True
            QTimer.singleShot(_AFTER_START_MS, self._start_now)
        else:
            self._start_now()

    def _start_now(self) -> None:
        if self._closed:
            return

        def work() -> None:
            try:
                self._kernel.start()
                ok = True
            except (OSError, EOFError, RuntimeError):
                ok = False
            try:
                self._started.emit(ok)
            except RuntimeError:  # the window went away while the process started
                self._kernel.stop()

        beside(work, "kernel-start")

    def _on_started(self, ok: bool) -> None:
        self._starting = False
        if self._closed:
            self._kernel.stop()
            return
        if not ok:
            self.state_changed.emit("The geometry kernel does not start. Outlines are drawn without it; trying again")
            QTimer.singleShot(3000, self._next)
            return
        self._drop_notifier()
        self._notifier = QSocketNotifier(voidptr(self._kernel.fileno()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._readable)
        self.state_changed.emit("")
        self._next()

    def _drop_notifier(self) -> None:
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None

    def _next(self) -> None:
        if self._running is not None or not self._waiting or self._closed:
            return
        if self._notifier is None:
            self._start()
            return
        purpose = next(iter(self._waiting))
        job, arguments = self._waiting.pop(purpose)
        try:
            number = self._kernel.send(job, *arguments)
        except KernelGone:
            self._waiting = {purpose: (job, arguments)} | self._waiting
            self._died()
            return
        self._running = (number, purpose, job, arguments, time.monotonic())
        self._watch.start()

    def _readable(self) -> None:
        try:
            if not self._kernel.waiting():
                return
            number, ok, result = self._kernel.receive()
        except KernelGone:
            self._died()
            return
        running, self._running = self._running, None
        self._deaths = 0
        if running is not None and running[0] == number and running[1] not in self._waiting:
            if ok:
                self.answered.emit(running[1], running[3], result)
            else:
                self.refused.emit(running[1], running[3], str(result))
        self._next()

    def _died(self) -> None:
        """The process is gone: say so, start it again, ask again; nothing of the user's was in it."""
        self._drop_notifier()
        running, self._running = self._running, None
        self._kernel.stop()
        if running is not None and running[1] not in self._waiting:
            self._deaths += 1
            if self._deaths >= _MAX_DEATHS:
                self._deaths = 0
                self.refused.emit(running[1], running[3], KERNEL_GAVE_UP)
            else:
                self._waiting = {running[1]: (running[2], running[3])} | self._waiting
        self.state_changed.emit("The geometry kernel stopped and is starting again; nothing is lost")
        self._start()

    def _cut_short(self) -> None:
        if self._running is None:
            self._watch.stop()
        elif time.monotonic() - self._running[4] > self.longest and not self._kernel.waiting():
            self._watch.stop()
            self._died()
        elif self._running[1] not in self._waiting:
            return
        elif time.monotonic() - self._running[4] > _PATIENCE and not self._kernel.waiting():
            self._watch.stop()
            self._running = None
            self._drop_notifier()
            self._kernel.stop()
            self._start()
