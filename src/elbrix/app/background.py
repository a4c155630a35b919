"""Work that waits for another process, done without the window standing still."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QTimer

T = TypeVar("T")


def in_background(call: Callable[[], T]) -> T:
    """Run a call in a thread and turn the event loop until it is done; its result or its error comes back here.

    For calls that touch no widget: waiting for the kernel, writing files.
    """
    found: list[T] = []
    failed: list[BaseException] = []

    def work() -> None:
        try:
            found.append(call())
        except BaseException as error:  # carried over to the caller, whatever it is
            failed.append(error)

    thread = threading.Thread(target=work, daemon=True, name="background")
    loop, watch = QEventLoop(), QTimer()
    watch.setInterval(10)
    watch.timeout.connect(lambda: None if thread.is_alive() else loop.quit())
    thread.start()
    watch.start()
    if thread.is_alive():
        loop.exec()
    thread.join()
    if failed:
        raise failed[0]
    return found[0]
