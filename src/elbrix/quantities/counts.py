"""Whole numbers as they are typed."""

from __future__ import annotations

from typing import Final

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import clip
from elbrix.quantities.patterns import Pattern

_AMOUNT: Final = Pattern(r"[0-9]{1,7}(\.[0-9]{1,4})?")
#: A comma before three digits is a decimal sign in one shop and a thousands mark in another.
_THOUSANDS: Final = Pattern(r"([0-9]{1,4}),([0-9]{3})")


def parse_amount(text: str, where: str) -> float:
    """An amount of money typed as a plain number, with a point or a comma before the hundredths.

    Raises:
        EntryError: No number, below nothing, beyond belief, or a comma that may mark thousands.
    """
    if two := _THOUSANDS.fullmatch(text.strip()):
        whole, part = two[1] + two[2], f"{two[1]}.{two[2]}"
        raise EntryError(
            where,
            f"{clip(text.strip(), 24)} can mean two amounts",
            "A comma is a decimal sign in one shop and a thousands mark in another",
            f"Write {whole}, or {part}",
        )
    plain = text.strip().replace(",", ".")
    if _AMOUNT.fullmatch(plain) is None:
        raise EntryError(
            where, f"{clip(text.strip(), 24)} is no amount", "It is a plain number, in your own money", "Write 12.50"
        )
    return float(plain)


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
