"""Regular expressions that are compiled when they are first used: compiling all of them would cost every start."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator


class Pattern:
    """As `re.compile`, later."""

    __slots__ = ("_compiled", "_flags", "_text")

    def __init__(self, text: str, flags: int = 0) -> None:
        self._text, self._flags = text, flags
        self._compiled: re.Pattern[str] | None = None

    def _now(self) -> re.Pattern[str]:
        if self._compiled is None:
            self._compiled = re.compile(self._text, self._flags)
        return self._compiled

    def match(self, text: str, start: int = 0) -> re.Match[str] | None:
        return self._now().match(text, start)

    def fullmatch(self, text: str) -> re.Match[str] | None:
        return self._now().fullmatch(text)

    def search(self, text: str) -> re.Match[str] | None:
        return self._now().search(text)

    def finditer(self, text: str) -> Iterator[re.Match[str]]:
        return self._now().finditer(text)

    def split(self, text: str) -> list[str]:
        return list(self._now().split(text))

    def sub(self, by: str | Callable[[re.Match[str]], str], text: str) -> str:
        return self._now().sub(by, text)
