"""Exact decimals: numbers stamped on things, such as gauge blocks, that must never become floats."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from typing import Final

from elbrix.quantities.errors import ShopError
from elbrix.quantities.patterns import Pattern

_DECIMAL: Final = Pattern(r"[0-9]{0,4}\.?[0-9]{1,6}|[0-9]{1,4}\.")
#: A height somebody worked out may have any number of digits.
_HEIGHT: Final = Pattern(r"[0-9]{0,4}\.?[0-9]{1,40}|[0-9]{1,4}\.")
#: Millimetres in one unit, exactly.
MM_PER: Final = {"mm": Fraction(1), "in": Fraction(254, 10)}


def parse_decimal(text: str, where: str) -> Fraction:
    """A decimal text as an exact number.

    Raises:
        ShopError: Anything but a plain decimal; a comma is named.
    """
    plain = text.strip()
    if not _DECIMAL.fullmatch(plain):
        hint = "Write the decimal with a point" if "," in plain else "Write it as a plain decimal, for example 41.7265"
        raise ShopError(where, f"“{plain[:20]}” is no block length", "Blocks are decimals on their own grid", hint)
    return _exact(plain)


@lru_cache(maxsize=4096)
def _exact(plain: str) -> Fraction:
    """A box of blocks is read again whenever one of them is lent out: the same few hundred lengths."""
    return Fraction(plain)


def parse_height(text: str, where: str) -> Fraction:
    """A height as an exact number: a plain decimal of up to forty places.

    Raises:
        ShopError: Anything else.
    """
    plain = text.strip()
    if not _HEIGHT.fullmatch(plain):
        hint = "Write the decimal with a point" if "," in plain else "Write it as a plain decimal, for example 41.7265"
        raise ShopError(where, f"“{plain[:20]}” is no height", "A height is a plain decimal", hint)
    return Fraction(plain)
