"""One direction between those a cut is looked at in everywhere may be worse: where it could be, it is looked for.

A push between two directions is a mixture of both, and what stands each alone stands the mixture: that bounds from below what may
lie between two factors. Only gaps whose bound is under the least are halved, again and again, until nothing worse can be in them.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec.structs import replace

from elbrix.holding.contacts import Load
from elbrix.holding.limit import Limit, LimitSolver

#: A gap is left alone when what may lie in it is within this share of the least: no factor is shown finer.
_NEAR_ENOUGH: Final = 2e-3
#: Halvings of a gap: from an eighth of a turn to about three degrees.
_HALVINGS: Final = 4


def _least_between(a: float, b: float, apart: float) -> float:
    """The least factor a push between two directions may have.

    A push at θ from the first of two at δ is sin(δ − θ)/sin δ of it and sin θ/sin δ of the other; with shares of what each bears
    of A = 1/a and B = 1/b it bears 1/(A·sin(δ − θ) + B·sin θ)·sin δ, and the sum of two sines has its crest at
    √(A² + B² − 2·A·B·cos δ).

    Args:
        apart: δ, radians, less than half a turn.
    """
    if min(a, b) <= 0:
        return 0.0
    one, other = 1 / a, 1 / b
    # Where the crest lies outside the gap an end of it is the least.
    if other <= one * math.cos(apart) or one <= other * math.cos(apart):
        return min(a, b)
    crest = math.sqrt(one**2 + other**2 - 2 * one * other * math.cos(apart))
    return math.sin(apart) / crest


def look_between(solver: LimitSolver, loads: list[Load], limits: list[Limit], factors: list[float], each: int) -> None:
    """Put what is worse between two directions in the place of the worse of them, in all three lists.

    Args:
        each: Loads of one place of the path: the same push in so many directions, evenly round.
    """
    size = [math.hypot(*load.force_n[:2]) for load in loads]
    if each < 3 or min(size, default=0.0) < 1e-9:
        return
    apart = 2 * math.pi / each
    #: place, angle and factor of both ends
    gaps = [
        (place, apart * k, factors[place + k], apart * (k + 1), factors[place + (k + 1) % each])
        for place in range(0, len(loads), each)
        for k in range(each)
    ]
    for _ in range(_HALVINGS):
        least = min(factors)
        wide = gaps[0][3] - gaps[0][1]
        gaps = [g for g in gaps if _least_between(g[2], g[4], wide) < least * (1 - _NEAR_ENOUGH)]
        if not gaps:
            return
        middles = [(start + end) / 2 for _, start, _, end, _ in gaps]
        pushes = [
            replace(loads[place], force_n=(size[place] * math.cos(turn), size[place] * math.sin(turn), loads[place].force_n[2]))
            for (place, *_), turn in zip(gaps, middles, strict=True)
        ]
        found = solver.solve(pushes)
        halves = []
        for (place, start, a, end, b), turn, push, limit in zip(gaps, middles, pushes, found, strict=True):
            factor = math.inf if limit.factor is None else limit.factor
            at = min(range(place, place + each), key=lambda i: factors[i])
            if factor < factors[at]:
                loads[at], limits[at], factors[at] = push, limit, factor
            halves += [(place, start, a, turn, factor), (place, turn, factor, end, b)]
        gaps = halves
