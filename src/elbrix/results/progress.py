"""Long work that tells how far it is and can be told to stop."""

from __future__ import annotations

from collections.abc import Callable

#: Called now and then with the share done, 0 to 1. It may raise `Stopped`, which long work lets through.
Watch = Callable[[float], None]


class Stopped(Exception):
    """Somebody said stop; nothing is wrong and nothing was changed."""


def unwatched(share: float) -> None:
    """Nobody is watching."""
