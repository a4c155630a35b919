"""Whole numbers as they are typed."""

from __future__ import annotations

from elbrix.quantities.errors import EntryError


def parse_count(text: str, where: str, low: int, high: int, fix: str = "Count again") -> int:
    """A whole number from `low` to `high`.

    Plain digits only: Python would call a raised ² a digit and then fail to read it, and would refuse a number thousands of
    digits long with
    an error of its own.

    Raises:
        EntryError: Anything else; says the bounds.
    """
    plain = text.strip()
    if plain.isascii() and plain.isdecimal() and len(plain.lstrip("0")) <= len(str(high)) and low <= int(plain[-20:]) <= high:
        return int(plain[-20:])
    raise EntryError(where, f"“{plain[:12]}” is no count", f"It is a whole number from {low} to {high}", fix)
