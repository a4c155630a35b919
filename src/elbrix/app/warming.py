"""What the benches behind the first one need, loaded while nobody waits for it."""

from __future__ import annotations

import importlib
import threading
import time
from typing import Final

#: Loaded one after another, with a breath between: a module holds the interpreter while it is built.
_MODULES: Final = (
    "numpy",
    "elbrix.app.benches.design.view",
    "elbrix.app.benches.make.view",
    "elbrix.rehearsal.asked",
    "elbrix.app.benches.hold.view",
    "elbrix.holding.solve",
    "elbrix.app.benches.angles.view",
    "elbrix.app.benches.catalogue.view",
    "elbrix.answers.ask",
)
_BREATH_S: Final = 0.02
_warmed = threading.Event()


def warm_up() -> None:
    """Begin, once in a process, in a thread of its own; what cannot be loaded says so where it is needed."""
    if not _warmed.is_set():
        _warmed.set()
        threading.Thread(target=_load, daemon=True, name="warming").start()


def _load() -> None:
    for name in _MODULES:
        try:
            importlib.import_module(name)
        except Exception:  # noqa: BLE001 - the bench that needs it says what is wrong
            return
        time.sleep(_BREATH_S)
