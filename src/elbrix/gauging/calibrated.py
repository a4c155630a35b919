"""Stacks of calibrated blocks, ranked by their real error alone.

All lengths are whole ticks of one exact grid, deviations included. For exactly c blocks the sums of ⌊c/2⌋ and of ⌈c/2⌉ blocks are
laid against each other: every pair whose first half ends before the second begins, and which lands in a window round the target,
is a stack, once. The window is as wide as the worst of the stacks that a look at some of the pairs found already: none better is
left out. Where more pairs than can be compared land in it, the answer says so.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from fractions import Fraction
from typing import Final

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from elbrix.gauging.blocks import BlockSet
from elbrix.gauging.stacks import Stack, StackAnswer, limit_um
from elbrix.quantities.decimals import MM_PER, parse_decimal
from elbrix.quantities.errors import ShopError
from elbrix.results.progress import Watch, unwatched

#: Blocks in a calibrated stack at the most: four against four.
MAX_CALIBRATED: Final = 8
_MAX_SUMS: Final = 3_000_000
#: Pairs of halves looked through in one window.
_MAX_PAIRS: Final = 4_000_000
_AT_ONCE: Final = 500_000
#: Halves looked at first, to know how wide the window has to be; and sums on either side of what each of them lacks.
_SAMPLE: Final = 20_000
_BESIDE: Final = 6
#: A deviation is taken to this step, µm: far below any calibration.
_DEVIATION_DIGITS: Final = 6


class _Sums(Struct):
    """Sums of exactly so many blocks, in order; blocks as bit words, the first and the last of them, Σ of squared limits."""

    totals: NDArray[np.int64]
    words: NDArray[np.uint64]
    first: NDArray[np.uint8]
    last: NDArray[np.uint8]
    squares: NDArray[np.float64]

    def taken(self, order: NDArray[np.intp]) -> _Sums:
        return _Sums(self.totals[order], self.words[order], self.first[order], self.last[order], self.squares[order])


class _Found(Struct):
    """Stacks of one count: how far each is off in ticks, its blocks, Σ of squared limits."""

    off: NDArray[np.float64]
    words: NDArray[np.uint64]
    squares: NDArray[np.float64]
    count: int


class CalibratedSolver:
    """One set with its deviations; build once, ask often."""

    def __init__(self, blocks: BlockSet, deviation_um: Mapping[str, float]) -> None:
        """The set and what is known of its blocks.

        Args:
            blocks: The set.
            deviation_um: Calibrated length less nominal by block, µm; blocks not named have none.

        Raises:
            ShopError: A deviation of a block the set does not have, or one that is out of all proportion.
        """
        self.set = blocks
        known = {length: b for b, length in zip(blocks.blocks, blocks.lengths(), strict=True)}
        off: dict[str, Fraction] = {}
        for name, value in deviation_um.items():
            block = known.get(parse_decimal(name, "Deviation"))
            if block is None:
                raise ShopError("Deviation", f"there is no block {name}", "Only blocks of the set have one", "Check the digits")
            if not math.isfinite(value) or abs(value) > 100:
                raise ShopError(
                    "Deviation",
                    f"{name} is {value:g} µm off",
                    "A block that far off is none any more",
                    "Check the unit: µm, not mm",
                )
            off[block] = Fraction(str(round(value, _DEVIATION_DIGITS))) / 1000
        self._mm = [
            length * MM_PER[blocks.unit] + off.get(b, 0) for b, length in zip(blocks.blocks, blocks.lengths(), strict=True)
        ]
        grid = math.lcm(*(v.denominator for v in self._mm))
        self._per_mm = grid
        self._ticks = np.array([int(v * grid) for v in self._mm], np.int64)
        self._limits = [limit_um(float(length * MM_PER[blocks.unit])) for length in blocks.lengths()]
        self._squares = np.array(self._limits) ** 2
        self._sums: dict[int, _Sums] = {}
        self._word_count = (len(blocks.blocks) + 63) // 64

    def best(
        self, target_mm: Fraction, *, most: int, want: int = 10, tolerance_mm: Fraction | None = None, watch: Watch = unwatched
    ) -> StackAnswer:
        """Stacks of up to `most` blocks by |real error|; then fewest blocks, then least root-sum-square.

        Args:
            target_mm: Exact, > 0.
            most: Blocks at the most, up to 8.
            want: Number of stacks.
            tolerance_mm: Stacks further off are not right; None: none is too far off.
            watch: Told the share done before each number of blocks.

        Raises:
            ShopError: A target or a count that cannot be searched.
        """
        if target_mm <= 0 or want < 1:
            raise ShopError("Stack", f"a target of {float(target_mm):g}", "A stack has a height", "Give a height above nothing")
        if not 1 <= most <= MAX_CALIBRATED:
            raise ShopError(
                "Stack", f"{most} calibrated blocks", f"Up to {MAX_CALIBRATED} are compared by their real lengths", "Allow fewer"
            )
        count = min(most, len(self._ticks))
        bounded = ""
        while math.comb(len(self._ticks), count - count // 2) > _MAX_SUMS:  # decided before anything is worked out
            count -= 1
            bounded = f"Stacks of up to {count} blocks were compared: of {len(self._ticks)} blocks there are too many ways beyond"
        found, cut = self._nearest(target_mm, count, want, watch)
        bounded = bounded or cut
        right = tuple(s for s in found if tolerance_mm is None or abs(s.error_mm) <= float(tolerance_mm) + 1e-15)
        return StackAnswer(True, right, bounded=bounded) if right else StackAnswer(False, (), tuple(found[:2]), bounded)

    def _sums_of(self, count: int) -> _Sums:
        if count not in self._sums:
            listed = self._listed(count)
            self._sums[count] = listed.taken(np.argsort(listed.totals, kind="stable"))
        return self._sums[count]

    def _listed(self, count: int) -> _Sums:
        """Every choice of `count` blocks, ordered by their last block.

        So ordered, the choices of `count` whose last block is j are the first C(j, count − 1) choices of one block fewer, plus j.
        """
        n = len(self._ticks)
        made = _Sums(
            np.zeros(1, np.int64),
            np.zeros((1, self._word_count), np.uint64),
            np.full(1, 255, np.uint8),
            np.zeros(1, np.uint8),
            np.zeros(1),
        )
        for size in range(1, count + 1):
            of = np.concatenate([np.arange(math.comb(last, size - 1)) for last in range(size - 1, n)])
            last = np.repeat(np.arange(size - 1, n), [math.comb(last, size - 1) for last in range(size - 1, n)])
            words = made.words[of]
            words[np.arange(len(of)), last // 64] |= np.left_shift(np.uint64(1), (last % 64).astype(np.uint64))
            made = _Sums(
                made.totals[of] + self._ticks[last],
                words,
                np.minimum(made.first[of], last).astype(np.uint8),
                last.astype(np.uint8),
                made.squares[of] + self._squares[last],
            )
        return made

    def _nearest(self, target_mm: Fraction, most: int, want: int, watch: Watch) -> tuple[list[Stack], str]:
        """The `want` stacks nearest to a target, best first; and what was bounded, in words."""
        target = target_mm * self._per_mm
        whole, part = divmod(target, 1)
        # No stack is higher than all blocks, so nothing is lost by looking for a higher one just above that.
        top = int(self._ticks.sum()) + 1
        base, rest = (int(whole), float(part)) if whole <= top else (top, 0.0)
        effort = [math.comb(len(self._ticks), count - count // 2) for count in range(1, most + 1)]
        sampled = [self._sample(count, base, rest) for count in range(1, most + 1)]
        offs = np.sort(np.concatenate(sampled))
        window = float(offs[want - 1]) if len(offs) >= want else math.inf
        found: list[_Found] = []
        bounded = ""
        for count in range(1, most + 1):
            watch(sum(effort[: count - 1]) / sum(effort))
            part_found, whole_look = self._within(count, base, rest, window, want)
            if not whole_look:
                bounded = "Very many stacks are as near as these; not all of them were compared"
            found.append(part_found)
            # What is better already narrows what has to be looked at.
            offs = np.sort(np.concatenate([f.off for f in found]))
            if len(offs) >= want:
                window = min(window, float(offs[want - 1]))
        return self._ranked(found, target_mm, want), bounded

    def _sample(self, count: int, base: int, rest: float) -> NDArray[np.float64]:
        """How far off some stacks of exactly `count` blocks are, each once."""
        small, large = self._sums_of(count // 2), self._sums_of(count - count // 2)
        rows = np.unique(np.linspace(0, len(small.totals) - 1, min(_SAMPLE, len(small.totals))).astype(np.intp))
        at = np.searchsorted(large.totals, base - small.totals[rows])
        offs, seen = [], set()
        for k in range(-_BESIDE, _BESIDE + 1):
            there = np.clip(at + k, 0, len(large.totals) - 1)
            apart = ~(small.words[rows] & large.words[there]).any(axis=1)
            off = np.abs((small.totals[rows] + large.totals[there] - base)[apart] - rest)
            words = (small.words[rows] | large.words[there])[apart]
            # Only the nearest are of use, and each stack counts once.
            for i in np.argsort(off, kind="stable")[:200].tolist():
                key = words[i].tobytes()
                if key not in seen:
                    seen.add(key)
                    offs.append(off[i])
        return np.array(offs, float)

    def _within(self, count: int, base: int, rest: float, window: float, want: int) -> tuple[_Found, bool]:
        """The nearest stacks of exactly `count` blocks in a window; and whether every one of them was looked at."""
        small, large = self._sums_of(count // 2), self._sums_of(count - count // 2)
        reach = int(min(window + 1.0, 4e18)) if math.isfinite(window) else int(self._ticks.sum()) + base + 1
        starts = np.searchsorted(large.totals, base - reach - small.totals, "left")
        ends = np.searchsorted(large.totals, base + reach + 1 - small.totals, "right")
        spans = ends - starts
        total = int(spans.sum())
        rows = np.flatnonzero(spans)
        best = _Found(np.zeros(0), np.zeros((0, self._word_count), np.uint64), np.zeros(0), count)
        looked = 0
        at = 0
        sums = np.cumsum(spans[rows])
        while at < len(rows) and looked < _MAX_PAIRS:
            upto = max(at + 1, int(np.searchsorted(sums, (sums[at - 1] if at else 0) + _AT_ONCE)))
            some = rows[at:upto]
            each = np.minimum(spans[some], _AT_ONCE)
            left = np.repeat(some, each)
            right = np.arange(int(each.sum())) - np.repeat(np.cumsum(each) - each, each) + np.repeat(starts[some], each)
            looked += len(left)
            at = upto
            # Each stack once: its first half ends before its second begins.
            kept = small.last[left] < large.first[right] if count > 1 else np.ones(len(left), bool)
            left, right = left[kept], right[kept]
            off = np.abs(small.totals[left] + large.totals[right] - base - rest)
            near = off <= window
            left, right, off = left[near], right[near], off[near]
            best = _Found(
                np.concatenate([best.off, off]),
                np.concatenate([best.words, small.words[left] | large.words[right]]),
                np.concatenate([best.squares, small.squares[left] + large.squares[right]]),
                count,
            )
            if len(best.off) > want:
                order = np.lexsort((best.squares, best.off))[:want]
                best = _Found(best.off[order], best.words[order], best.squares[order], count)
        return best, looked >= total

    def _ranked(self, found: list[_Found], target_mm: Fraction, want: int) -> list[Stack]:
        ranked = []
        for part in found:
            for row in part.words:
                numbers = [i for i in range(len(self._ticks)) if int(row[i // 64]) >> i % 64 & 1]
                error = sum((self._mm[i] for i in numbers), Fraction(0)) - target_mm
                u = math.sqrt(math.fsum(self._limits[i] ** 2 for i in numbers))
                blocks = tuple(sorted((self.set.blocks[i] for i in numbers), key=Fraction))
                ranked.append((abs(error), part.count, u, Stack(blocks, float(error), u)))
        ranked.sort(key=lambda r: r[:3])
        return [r[3] for r in ranked[:want]]
