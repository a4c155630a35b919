"""The client's end of the kernel process: plain data, no kernel loaded here.

The process can crash or be killed at any time; nothing of the user's lives in it. `ask` starts it when needed and starts it once
more if it dies under a job; the window uses `send` and `receive` with the pipe's file number instead of waiting.
"""

from __future__ import annotations

import contextlib
import threading
from functools import cache
from typing import Any

from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import sentence
from elbrix.solids.serving import serve_late


@cache
def _context() -> Any:
    import multiprocessing  # loaded when the kernel is first wanted, not at start

    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["elbrix.solids.worker"])
    return context


#: Its own fault, not that of a size.
KERNEL_GAVE_UP = "the geometry kernel stopped twice over it"


class KernelGone(Exception):
    """The kernel process ended; its unanswered jobs must be sent again."""


class Kernel:
    """One kernel process. Not thread-safe but for `start`, which may run in a thread of its own because it blocks."""

    def __init__(self) -> None:
        self._process: Any = None
        self._line: Any = None
        self._starting = threading.Lock()
        self._number = 0

    def start(self) -> None:
        """Start the process unless it runs; takes a second the first time, hundredths after that."""
        with self._starting:
            if self.alive:
                return
            self.stop()
            ours, theirs = _context().Pipe()
            process = _context().Process(target=serve_late, args=(theirs,), daemon=True, name="elbrix-kernel")
            process.start()
            theirs.close()
            self._process, self._line = process, ours

    @property
    def alive(self) -> bool:
        return self._process is not None and bool(self._process.is_alive())

    @property
    def pid(self) -> int:
        """Process number, 0 when it does not run."""
        return int(self._process.pid) if self.alive else 0

    def fileno(self) -> int:
        """Readable when an answer waits, or when the process is gone."""
        return int(self._line.fileno())

    def stop(self) -> None:
        """End the process; harmless when it does not run."""
        if self._line is not None:
            self._line.close()
            self._line = None
        if self._process is not None:
            with contextlib.suppress(OSError, ValueError):
                self._process.kill()
                # Reaped by the fork server; a window must not wait for one that stands still.
                self._process.join(0.1)
            self._process = None

    def send(self, job: str, *arguments: Any) -> int:
        """Hand over a job and return its number.

        Raises:
            KernelGone: No process to take it.
        """
        if self._line is None:
            raise KernelGone
        self._number += 1
        try:
            self._line.send((self._number, job, arguments))
        except (OSError, ValueError) as gone:
            raise KernelGone from gone
        return self._number

    def waiting(self, seconds: float = 0.0) -> bool:
        """Whether `receive` would return at once."""
        return self._line is not None and bool(self._line.poll(seconds))

    def receive(self) -> tuple[int, bool, Any]:
        """Next (number, ok, result or reason).

        Raises:
            KernelGone: The process ended.
        """
        try:
            answer: tuple[int, bool, Any] = self._line.recv()
        except (EOFError, OSError, AttributeError) as gone:
            raise KernelGone from gone
        return answer

    def ask(self, job: str, *arguments: Any, seconds: float = 60.0) -> Any:
        """Do one job and wait for it.

        Raises:
            ShopError: The kernel cannot make it, or died twice over it.
        """
        for _ in range(2):
            try:
                self.start()
                number = self.send(job, *arguments)
                while self.waiting(seconds):
                    answered, ok, result = self.receive()
                    if answered == number:
                        if ok:
                            return result
                        raise refusal(str(result), reading=job.startswith("read"))
                self.stop()  # stuck: a second process may do better
            except KernelGone:
                self.stop()
        raise refusal(KERNEL_GAVE_UP)


def refusal(reason: str, *, reading: bool = False) -> ShopError:
    """What the kernel could not do, as the toolmaker reads it."""
    if reading:
        return ShopError("Solid", sentence(reason), "The file is damaged or of another kind", "Write it again as STEP")
    ours = reason == KERNEL_GAVE_UP
    return ShopError(
        "Solid",
        sentence(reason),
        "It does not start here, or something in this work ends it"
        if ours
        else "Drawings, mass and files come from that one solid",
        "Try again; outlines are drawn without it" if ours else "Change the size that was changed last, or undo it",
    )
