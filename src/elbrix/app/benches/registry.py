"""Benches register themselves: each is a package here that says in its `BENCH` what it is called and where its widget lies."""

from __future__ import annotations

import importlib
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct

from elbrix.app import benches
from elbrix.app.theme.icons import Runs

if TYPE_CHECKING:
    from elbrix.app.benches.bench import Bench
    from elbrix.app.session import Session


class BenchEntry(Struct, frozen=True, kw_only=True):
    """One bench of the rail. Its module is loaded when it is first opened."""

    key: str
    title: str
    order: int
    view: str  #: "module:class"
    icon: Runs  #: strokes on a 32 × 22 grid

    @property
    def module(self) -> str:
        return self.view.partition(":")[0]

    def make(self, session: Session) -> Bench:
        """The bench for a window."""
        module, _, name = self.view.partition(":")
        bench: Bench = getattr(importlib.import_module(module), name)(session)
        return bench


@cache
def all_benches() -> dict[str, BenchEntry]:
    """Every bench by key, in the order a job runs."""
    names = sorted(p.parent.name for folder in benches.__path__ for p in Path(folder).glob("*/__init__.py"))
    found = [importlib.import_module(f"{benches.__name__}.{name}").BENCH for name in names]
    return {entry.key: entry for entry in sorted(found, key=lambda e: e.order)}
