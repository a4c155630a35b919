"""Readings as they came, refused when they cannot carry an answer."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.quantities.errors import ShopError

#: More readings than a person or an instrument takes of one thing; the fits grow with their number.
MAX_READINGS: Final = 10_000


def check_rows(where: str, rows: Sequence[Sequence[float]], columns: int, least: int, most: int = MAX_READINGS) -> None:
    """Refuse readings that nothing can be worked out from.

    Args:
        where: Words for the message.
        rows: The readings.
        columns: Numbers of each.
        least: So many are needed.
        most: So many are taken.

    Raises:
        ShopError: Too few, too many, of the wrong shape, not finite, or absurd.
    """
    if len(rows) < least:
        raise ShopError(where, f"{len(rows)} readings are too few", f"It takes at least {least}", "Measure at more places")
    if len(rows) > most:
        raise ShopError(where, f"{len(rows)} readings are too many", f"At most {most} are taken at once", "Thin them out evenly")
    if any(len(row) != columns for row in rows):
        raise ShopError(where, "a reading has too few or too many numbers", f"Each has {columns}", "Complete it")
    if not all(math.isfinite(number) for row in rows for number in row):
        raise ShopError(where, "a reading is no finite number", "Nothing can be worked out from it", "Take it again")
    if any(abs(number) > 1e6 for row in rows for number in row):
        raise ShopError(where, "a reading is beyond a kilometre", "No instrument of a shop reads that", "Check its unit")


def check_column(where: str, readings: Sequence[float], least: int) -> list[float]:
    """Readings of one number each, as plain numbers.

    Raises:
        ShopError: As `check_rows`.
    """
    check_rows(where, [(r,) for r in readings], 1, least)
    return [float(r) for r in readings]
