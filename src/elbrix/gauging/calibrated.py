"""Stacks of calibrated blocks, ranked by their real error alone.

All lengths are whole ticks of one exact grid, deviations included. For exactly c blocks the sums of ⌊c/2⌋ and of ⌈c/2⌉
blocks are laid
against each other: every pair that shares no block and lands in a window round the target is a stack. The window grows until
it holds
as many stacks as were wanted; since it held every stack that near, none better is left out.
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
MOST_CALIBRATED: Final = 8
_MOST_SUMS: Final = 3_000_000


class _Sums(Struct):
    """Sums of exactly so many blocks, in order, with their blocks as bit words."""

    totals: NDArray[np.int64]
    words: NDArray[np.uint64]


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
            off[block] = Fraction(str(value)) / 1000
        self._mm = [
            length * MM_PER[blocks.unit] + off.get(b, 0) for b, length in zip(blocks.blocks, blocks.lengths(), strict=True)
        ]
        grid = math.lcm(*(v.denominator for v in self._mm))
        self._per_mm = grid
        self._ticks = np.array([int(v * grid) for v in self._mm], np.int64)
        self._limits = [limit_um(float(length * MM_PER[blocks.unit])) for length in blocks.lengths()]
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
        if not 1 <= most <= MOST_CALIBRATED:
            raise ShopError(
                "Stack", f"{most} calibrated blocks", f"Up to {MOST_CALIBRATED} are compared by their real lengths", "Allow fewer"
            )
        found = self._nearest(target_mm, min(most, len(self._ticks)), want, watch)
        right = tuple(s for s in found if tolerance_mm is None or abs(s.error_mm) <= float(tolerance_mm) + 1e-15)
        return StackAnswer(True, right) if right else StackAnswer(False, (), tuple(found[:2]))

    def _sums_of(self, count: int) -> _Sums:
        if count not in self._sums:
            n = len(self._ticks)
            if math.comb(n, count) > _MOST_SUMS:
                raise ShopError(
                    "Stack",
                    f"too many ways to take {count} of {n} blocks",
                    f"Elbrix compares {_MOST_SUMS:,} at most",
                    "Allow fewer blocks",
                )
            totals, words = self._listed(count)
            order = np.argsort(totals, kind="stable")
            self._sums[count] = _Sums(totals[order], words[order])
        return self._sums[count]

    def _listed(self, count: int) -> tuple[NDArray[np.int64], NDArray[np.uint64]]:
        """(sums, bit words) of every choice of `count` blocks, ordered by their last block.

        So ordered, the choices of `count` whose last block is j are the first C(j, count − 1) choices of one block fewer, plus j.
        """
        totals, words = np.zeros(1, np.int64), np.zeros((1, self._word_count), np.uint64)
        for size in range(1, count + 1):
            parts, marks = [], []
            for last in range(size - 1, len(self._ticks)):
                before = math.comb(last, size - 1)
                parts.append(totals[:before] + self._ticks[last])
                marked = words[:before].copy()
                marked[:, last // 64] |= np.uint64(1 << last % 64)
                marks.append(marked)
            totals = np.concatenate(parts) if parts else np.zeros(0, np.int64)
            words = np.concatenate(marks) if marks else np.zeros((0, self._word_count), np.uint64)
        return totals, words

    def _nearest(self, target_mm: Fraction, most: int, want: int, watch: Watch) -> list[Stack]:
        target = target_mm * self._per_mm
        low, high = math.floor(target), math.ceil(target)
        widest = int(self._ticks.sum()) + high
        window = max(1, self._per_mm // 100_000)  # begin with 0.01 µm
        effort = [math.comb(len(self._ticks), count - count // 2) for count in range(1, most + 1)]
        while True:
            found: dict[tuple[int, ...], int] = {}
            for count in range(1, most + 1):
                watch(sum(effort[: count - 1]) / sum(effort))
                found.update(dict.fromkeys(self._within(count, low - window, high + window), count))
            if len(found) >= want or window > widest:
                return self._ranked(found, target_mm, want)
            window *= 4

    def _within(self, count: int, low: int, high: int) -> list[tuple[int, ...]]:
        """Every stack of exactly `count` blocks with a sum in [low, high], as bit words."""
        small, large = self._sums_of(count // 2), self._sums_of(count - count // 2)
        starts = np.searchsorted(large.totals, low - small.totals, "left")
        ends = np.searchsorted(large.totals, high - small.totals, "right")
        rows = np.flatnonzero(ends > starts)
        if not len(rows):
            return []
        spans = (ends - starts)[rows]
        left = np.repeat(rows, spans)
        right = np.arange(int(spans.sum())) - np.repeat(np.cumsum(spans) - spans, spans) + np.repeat(starts[rows], spans)
        apart = ~(small.words[left] & large.words[right]).any(axis=1)
        words = np.unique(small.words[left[apart]] | large.words[right[apart]], axis=0)
        return [tuple(int(w) for w in row) for row in words]

    def _ranked(self, found: dict[tuple[int, ...], int], target_mm: Fraction, want: int) -> list[Stack]:
        ranked = []
        for words, count in found.items():
            numbers = [i for i in range(len(self._ticks)) if words[i // 64] >> i % 64 & 1]
            error = sum((self._mm[i] for i in numbers), Fraction(0)) - target_mm
            u = math.sqrt(math.fsum(self._limits[i] ** 2 for i in numbers))
            blocks = tuple(sorted((self.set.blocks[i] for i in numbers), key=Fraction))
            ranked.append((abs(error), count, u, Stack(blocks, float(error), u)))
        ranked.sort(key=lambda r: r[:3])
        return [r[3] for r in ranked[:want]]
