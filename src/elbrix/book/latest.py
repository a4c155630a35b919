"""The last few answers: an edit is tried before it is kept, and shown once it is, and is worked out once."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import Generic, TypeVar

from elbrix.shop.shop import Shop

D = TypeVar("D")
R = TypeVar("R")


class Latest(Generic[D, R]):
    """Answers by document and shop. A shop is another one as soon as anything in it has changed, the same when nothing has.

    Threads may ask at the same time: at worst both work it out.
    """

    def __init__(self, most: int = 3) -> None:
        self._kept: deque[tuple[D, Shop, R]] = deque(maxlen=most)

    def of(self, doc: D, shop: Shop, work_out: Callable[[], R]) -> R:
        """What is known of a document in a shop; else it is worked out, and what that raises is not kept."""
        for asked, there, found in tuple(self._kept):
            if asked == doc and (there is shop or there == shop):
                return found
        found = work_out()
        self._kept.append((doc, shop, found))
        return found
