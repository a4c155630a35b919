"""What designs, settings and holds have in common: figures and checks that are found by key."""

from __future__ import annotations

from typing import Protocol

from elbrix.results.checks import Check, Verdict, worst
from elbrix.results.figures import Figure


class _Telling(Protocol):
    @property
    def figures(self) -> tuple[Figure, ...]: ...

    @property
    def checks(self) -> tuple[Check, ...]: ...


class Results:
    """Look-ups by key for anything with `figures` and `checks`."""

    __slots__ = ()

    def figure(self: _Telling, key: str) -> Figure:
        """A figure by key; KeyError for none."""
        for figure in self.figures:
            if figure.key == key:
                return figure
        raise KeyError(key)

    def check(self: _Telling, key: str) -> Check:
        """A check by key; KeyError for none."""
        for check in self.checks:
            if check.key == key:
                return check
        raise KeyError(key)

    @property
    def verdict(self: _Telling) -> Verdict:
        """The worst of all checks."""
        return worst([c.verdict for c in self.checks])
