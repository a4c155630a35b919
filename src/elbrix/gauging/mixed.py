"""One stack from a metric and an inch set together, when that is allowed.

The inch part stands on its own grid, the rest of the height on the metric one: the fewest blocks are the least sum of the
two tables of
least counts over every inch height. Both tables are exact, so the answer is.
"""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np

from elbrix.gauging.stacks import MAX_BLOCKS, Stack, StackAnswer, StackSolver
from elbrix.quantities.decimals import MM_PER
from elbrix.quantities.errors import ShopError


class MixedSolver:
    """Two sets, one stack. Blocks are named by their nominal with the unit of their set: "1.005 mm", "0.1001 in"."""

    def __init__(self, one: StackSolver, other: StackSolver) -> None:
        self.one, self.other = one, other
        self._tick_one = one.tick * MM_PER[one.set.unit]
        self._tick_other = other.tick * MM_PER[other.set.unit]

    def best(
        self, target_mm: Fraction, *, tolerance_mm: Fraction = Fraction(0), want: int = 10, most: int = MAX_BLOCKS
    ) -> StackAnswer:
        """Fewest blocks first, then least |error|, then least root-sum-square; the nearest are not looked for.

        Raises:
            ShopError: A target or tolerance that is none.
        """
        if target_mm <= 0 or tolerance_mm < 0 or want < 1:
            raise ShopError("Stack", f"a target of {float(target_mm):g}", "A stack has a height", "Give a height above nothing")
        grid = math.lcm(self._tick_one.denominator, self._tick_other.denominator, target_mm.denominator, tolerance_mm.denominator)
        one, other = int(self._tick_one * grid), int(self._tick_other * grid)
        target, tolerance = int(target_mm * grid), int(tolerance_mm * grid)
        high = target + tolerance
        least_one = self.one.least_counts(high // one).astype(np.int16)
        least_other = self.other.least_counts(high // other).astype(np.int16)
        least_one[0] = least_other[0] = 0  # nothing from that set
        j = np.flatnonzero(least_other != 255)
        rest = target - j * other
        low_k = np.maximum(0, -((tolerance - rest) // one))
        high_k = np.minimum((rest + tolerance) // one, len(least_one) - 1)
        spans = np.maximum(0, high_k - low_k + 1)
        js = np.repeat(j, spans)
        ks = np.repeat(low_k, spans) + np.arange(int(spans.sum())) - np.repeat(np.cumsum(spans) - spans, spans)
        usable = (least_one[ks] != 255) & (ks + js > 0) if len(ks) else np.zeros(0, bool)
        js, ks = js[usable], ks[usable]
        totals = least_one[ks] + least_other[js]
        errors = ks * one + js * other - target
        found: list[Stack] = []
        for count in range(1, min(most, MAX_BLOCKS) + 1):
            at = np.flatnonzero(totals <= count)
            here: list[Stack] = []
            for row in at[np.argsort(np.abs(errors[at]), kind="stable")].tolist():
                if len(here) >= want - len(found) and abs(here[-1].error_mm) < abs(int(errors[row])) / grid:
                    break
                here += self._made(int(ks[row]), int(js[row]), count, want, int(errors[row]) / grid)
                here.sort(key=lambda s: (abs(s.error_mm), s.u_um))
            found += here[: want - len(found)]
            if len(found) >= want:
                break
        return StackAnswer(bool(found), tuple(found))

    def _made(self, k: int, j: int, count: int, want: int, error_mm: float) -> list[Stack]:
        """Stacks of exactly `count` blocks with k ticks from one set and j from the other."""
        made = []
        for c in range(count + 1):
            lefts = self.one.exactly(k, c, want) if k and c else [((), 0.0)] if not k and not c else []
            rights = (
                self.other.exactly(j, count - c, want)
                if lefts and j and count - c
                else [((), 0.0)]
                if not j and c == count
                else []
            )
            for left, u in lefts:
                for right, v in rights:
                    made.append(Stack((*_named(self.one, left), *_named(self.other, right)), error_mm, math.hypot(u, v)))
        return sorted(made, key=lambda s: s.u_um)[:want]


def _named(solver: StackSolver, numbers: tuple[int, ...]) -> tuple[str, ...]:
    blocks, unit = solver.set.blocks, solver.set.unit
    return tuple(f"{b} {unit}" for b in sorted((blocks[i] for i in numbers), key=Fraction))
