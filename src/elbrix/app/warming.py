"""What the benches behind the first one need, loaded while nobody waits for it."""

from __future__ import annotations

import importlib
import threading
import time
from typing import Final

from elbrix.angles import kinds as angle_kinds
from elbrix.app.background import beside
from elbrix.app.benches.registry import all_benches
from elbrix.design import families
from elbrix.holding import elements
from elbrix.inspecting import kinds as inspecting_kinds
from elbrix.parameters.plugins import module_names

#: Loaded one after another, with a breath between: a module holds the interpreter while it is built.
_FIRST: Final = ("numpy",)
_THEN: Final = (
    "elbrix.rehearsal.slips",
    "elbrix.holding.solve",
    "numpy.random",
    "elbrix.gauging.angle_blocks",
    "numpy.ma",
    "elbrix.rehearsal.pictures",
    "elbrix.rehearsal.proof",
    "elbrix.app.card.pictures",
    "elbrix.answers.ask",
    "elbrix.presenters.needs",
)
_BREATH_S: Final = 0.02
_warmed = threading.Event()


def warm_up() -> None:
    """Begin, once in a process, in a thread of its own; what cannot be loaded says so where it is needed."""
    if not _warmed.is_set():
        _warmed.set()
        beside(_load, "warming")


def modules() -> tuple[str, ...]:
    """What is loaded, in its order."""
    kinds = (
        f"{package.__name__}.{name}"
        for package in (elements, angle_kinds, inspecting_kinds, families)
        for name in sorted(module_names(package))
    )
    return (*_FIRST, *(entry.module for entry in all_benches().values()), *_THEN, *kinds)


def _load() -> None:
    for name in modules():
        try:
            importlib.import_module(name)
        except Exception:  # noqa: BLE001 - the bench that needs it says what is wrong
            return
        time.sleep(_BREATH_S)
