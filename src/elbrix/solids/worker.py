"""The kernel's own process: takes jobs from a pipe, answers with plain data, never lives longer than its client."""

from __future__ import annotations

import contextlib
import ctypes
import signal
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any, Final

from elbrix.solids import kernel

_SET_PARENT_DEATH_SIGNAL: Final = 1  # of Linux's prctl

_JOBS: dict[str, Callable[..., Any]] = {
    "view": kernel.view,
    "section": kernel.section,
    "mesh": kernel.mesh,
    "mass": lambda recipe: kernel.mass_of(kernel.build(recipe)),
    "stl": kernel.stl_bytes,
    "step": kernel.step_bytes,
    "read_step": kernel.read_step_mass,
    "read_step_outline": kernel.read_step_outline,
    "ready": lambda: True,
}


def serve(line: Connection) -> None:
    """Answer (number, job, arguments) with (number, ok, result or reason) until the pipe closes."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl+C is the window's to handle
    _die_with_parent()
    with contextlib.suppress(EOFError, OSError):
        while True:
            number, job, arguments = line.recv()
            line.send((number, *_answer(job, arguments)))


def _die_with_parent() -> None:
    """Deep in one job or stopped, it would not notice that the fork server is gone; the system does."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(_SET_PARENT_DEATH_SIGNAL, signal.SIGKILL, 0, 0, 0)


def _answer(job: str, arguments: tuple[Any, ...]) -> tuple[bool, Any]:
    try:
        return True, _JOBS[job](*arguments)
    except kernel.KernelRefusal as refusal:
        return False, str(refusal)
    except Exception as failure:  # noqa: BLE001 - the kernel's failures share no base class but this
        return False, f"the geometry kernel gave up ({type(failure).__name__})"
