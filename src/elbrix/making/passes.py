"""How a depth or width is taken in passes."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length

#: Share of what is left that each creeping cut takes.
_CREEP: Final = 0.5
_LAST_CREEP: Final = 0.03


class Pass(Struct, frozen=True):
    """One pass: how far it takes the surface, counted from where the cut began."""

    to_mm: float
    cut_mm: float
    finish: bool


def passes(
    total_mm: float, most_mm: float, finish_mm: float, style: str = "equal", *, finish_cuts: int = 2, spring: bool = False
) -> tuple[Pass, ...]:
    """Split a total into roughing and finishing passes.

    Args:
        total_mm: To be removed, > 0.
        most_mm: Deepest roughing cut, > 0.
        finish_mm: Left for finishing; all of it when the total is no more than that.
        style: "equal": the finishing allowance in equal cuts, so that machine and cutter give way by the same amount each time
            and the second-last measurement foretells the last. "creep": each cut half of what is left.
        finish_cuts: Number of equal finishing cuts.
        spring: Add a last pass at the same number, cutting nothing but what sprang away.

    Returns:
        Passes whose last `to_mm` is the total exactly.

    Raises:
        ShopError: Nothing to remove, or cuts of nothing.
    """
    if not (total_mm > 0 and most_mm > 0 and finish_mm >= 0 and finish_cuts >= 1):
        raise ShopError(
            "Passes",
            f"{length(total_mm)} {LENGTH_UNIT} cannot be split into cuts of {length(most_mm)}",
            "Both must be more than nothing",
            "Check the sizes",
        )
    finish = min(finish_mm, total_mm)
    rough = total_mm - finish
    found: list[Pass] = []
    if rough > 1e-9:
        count = math.ceil(rough / most_mm - 1e-9)
        found += [Pass(rough * (i + 1) / count, rough / count, False) for i in range(count)]
    if finish > 1e-9:
        at = rough
        for cut in _finishing(finish, style, finish_cuts):
            at += cut
            found.append(Pass(at, cut, True))
    found[-1] = Pass(total_mm, found[-1].cut_mm, found[-1].finish)
    if spring:
        found.append(Pass(total_mm, 0.0, True))
    return tuple(found)


def _finishing(finish: float, style: str, count: int) -> list[float]:
    if style == "equal":
        return [finish / count] * count
    cuts, left = [], finish
    while left * _CREEP > _LAST_CREEP:
        cuts.append(left * _CREEP)
        left -= cuts[-1]
    return [*cuts, left]
