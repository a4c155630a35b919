"""Exact gauge-block stacks.

Fewest blocks, then least error, then least root-sum-square of the limits; or a proof that there is none.

Lengths are whole ticks of the set's own grid. Blocks are split at a coarse step: multiples of it, and the rest. For each
half a table
says, after each block, which sums can be made of how many of the blocks so far (a bit per count). A target is a fine sum
plus a coarse
sum; the fewest blocks are one vector minimum, and all stacks of that count are walked back through the tables without a dead end.
"""

from __future__ import annotations

import math
from fractions import Fraction
from functools import lru_cache
from typing import Final

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from elbrix.gauging.blocks import BlockSet
from elbrix.quantities.decimals import MM_PER
from elbrix.quantities.errors import ShopError

MAX_BLOCKS: Final = 15  # bits of the count masks
#: Cells of all tables of a set, and heights of its whole grid: beyond it a question would take seconds and gigabytes.
_MAX_CELLS: Final = 40_000_000
_MAX_HEIGHTS: Final = 40_000_000
#: Heights within a tolerance that are told one by one.
_MAX_NEAR: Final = 2_000
_Masks = NDArray[np.uint16]
#: Ranking limits of one block in µm: 0.2 + L/250, L in mm.
_BASE_UM, _PER_MM_UM = 0.2, 1 / 250


def limit_um(length_mm: float) -> float:
    """Limit of one block for ranking, grade 1 or K."""
    return _BASE_UM + length_mm * _PER_MM_UM


class Stack(Struct, frozen=True):
    """A stack, thinnest block first."""

    blocks: tuple[str, ...]
    error_mm: float  #: stack less target
    u_um: float  #: root-sum-square of the limits

    @property
    def count(self) -> int:
        return len(self.blocks)


class StackAnswer(Struct, frozen=True):
    """Stacks best first; or the nearest heights that can be made."""

    feasible: bool
    stacks: tuple[Stack, ...]
    nearest: tuple[Stack, ...] = ()
    bounded: str = ""  #: what was not looked through, in words


def _least(masks: _Masks) -> NDArray[np.uint8]:
    """The lowest bit set in each mask; 255 for none."""
    low = (masks & (~masks + np.uint16(1))).astype(np.float32)
    return np.where(masks == 0, np.uint8(255), np.frexp(low)[1].astype(np.int16) - 1).astype(np.uint8)


class _Half:
    """One half of the set with its tables."""

    def __init__(self, lengths: list[int], names: list[int], limits: list[float], room: int) -> None:
        self.lengths, self.names, self.limits = lengths, names, np.array(limits)
        self.room = room  # longest sum kept
        self.stages: list[_Masks] = [np.zeros(room + 1, dtype=np.uint16)]  # before block i, and after the last
        self.stages[0][0] = 1
        self.using: list[_Masks] = []  # with block i the last one taken
        for length in lengths:
            using = np.zeros(room + 1, dtype=np.uint16)
            if length <= room:
                using[length:] = (self.stages[-1][: room + 1 - length] << 1).astype(np.uint16)
            self.using.append(using)
            self.stages.append(self.stages[-1] | using)

    @property
    def masks(self) -> _Masks:
        return self.stages[-1]

    def walk(self, totals: NDArray[np.int64], counts: NDArray[np.int64]) -> _Walked:
        """Every choice of blocks for many (sum, count) pairs at once, from the last block back.

        Nothing that cannot be finished is followed.
        """
        origins = np.arange(len(totals))
        sums, left = totals.copy(), counts.astype(np.uint16)
        squares = np.zeros(len(totals))
        steps: list[_Step] = []
        for i in range(len(self.lengths) - 1, -1, -1):
            taking = (self.using[i][sums] >> left & 1).astype(bool)
            if not taking.any():
                continue  # so every row can do without it
            skip = (self.stages[i][sums] >> left & 1).nonzero()[0]
            take = taking.nonzero()[0]
            kept = np.concatenate([skip, take])
            first = len(skip)
            sums, left, squares, origins = sums[kept], left[kept], squares[kept], origins[kept]
            sums[first:] -= self.lengths[i]
            left[first:] -= 1
            squares[first:] += self.limits[i] ** 2
            steps.append(_Step(self.names[i], first, kept))
        return _Walked(origins, squares, steps)


class _Step(Struct):
    """One block gone over: rows from `first` on took it; `parents` says which row each came from."""

    block: int
    first: int
    parents: NDArray[np.intp]


class _Walked(Struct):
    """Choices found, and how to tell their blocks afterwards: only the few that are wanted are told."""

    origins: NDArray[np.intp]
    squares: NDArray[np.float64]
    steps: list[_Step]

    def blocks(self, row: int) -> tuple[int, ...]:
        """Block numbers of one choice."""
        found = []
        for step in reversed(self.steps):
            if row >= step.first:
                found.append(step.block)
            row = int(step.parents[row])
        return tuple(found)

    def words(self, words: int) -> tuple[NDArray[np.intp], NDArray[np.uint64]]:
        """(origin, bit words) of every choice, told in one sweep back through the steps."""
        found = np.zeros((len(self.origins), words), np.uint64)
        rows = np.arange(len(self.origins))
        for step in reversed(self.steps):
            found[rows >= step.first, step.block // 64] |= np.uint64(1 << step.block % 64)
            rows = step.parents[rows]
        return self.origins, found

    def best(self, want: int) -> dict[int, list[int]]:
        """Rows of the `want` least sums of squares for each origin, best first."""
        found: dict[int, list[int]] = {}
        for row in np.lexsort((self.squares, self.origins)).tolist():
            rows = found.setdefault(int(self.origins[row]), [])
            if len(rows) < want:
                rows.append(row)
        return found


class StackSolver:
    """Tables for one set; build once, ask often."""

    def __init__(self, blocks: BlockSet) -> None:
        if not blocks.blocks:
            raise ShopError(blocks.name, "there is no block in it", "A stack is made of blocks", "Put some back")
        self.set = blocks
        lengths = blocks.lengths()
        self.tick = Fraction(
            math.gcd(*(f.numerator * (math.lcm(*(g.denominator for g in lengths)) // f.denominator) for f in lengths)),
            math.lcm(*(g.denominator for g in lengths)),
        )
        ticks = [int(v / self.tick) for v in lengths]
        per_mm = MM_PER[blocks.unit]
        limits = [limit_um(float(v * per_mm)) for v in lengths]
        self._limits = limits
        self.longest = sum(sorted(ticks, reverse=True)[:MAX_BLOCKS])  #: no stack is higher, ticks
        self.step, cells = self._coarse_step(ticks)
        if cells > _MAX_CELLS or self.longest > _MAX_HEIGHTS:
            raise ShopError(
                blocks.name,
                f"{len(ticks)} blocks on a grid of {float(self.tick):g} {blocks.unit}",
                "So many heights can be made of them that they cannot all be compared",
                "Check the digits of the finest blocks, or leave some away",
            )
        fine = [i for i, t in enumerate(ticks) if t % self.step]
        coarse = [i for i, t in enumerate(ticks) if not t % self.step]
        # No stack of 15 blocks needs more fine length than its 15 longest fine blocks: the table is cut there, and nothing is
        # lost.
        room = sum(sorted((ticks[i] for i in fine), reverse=True)[:MAX_BLOCKS])
        self._fine = _Half([ticks[i] for i in fine], fine, [limits[i] for i in fine], room)
        self._coarse = _Half(
            [ticks[i] // self.step for i in coarse],
            coarse,
            [limits[i] for i in coarse],
            sum(ticks[i] // self.step for i in coarse),
        )
        self.fine_residues = [ticks[i] % self.step for i in fine]  #: of the fine blocks, for proofs of impossibility
        self._least: NDArray[np.uint8] | None = None

    def _coarse_step(self, ticks: list[int]) -> tuple[int, float]:
        """The step that splits the set into halves of about equal tables, most blocks being multiples of it; and their cells."""
        best, best_cost = 1, math.inf
        for step in {math.gcd(a, b) for a in ticks for b in ticks if a >= b} | set(ticks):
            fine = sorted((t for t in ticks if t % step), reverse=True)
            coarse = sum(t // step for t in ticks if not t % step)
            cost = sum(fine[:MAX_BLOCKS]) * (len(fine) + 1) + coarse * (len(ticks) - len(fine) + 1) + step
            if cost < best_cost:
                best, best_cost = step, cost
        return best, best_cost

    def _splits(self, target: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Fine and coarse sums that add up to a target."""
        fine = np.arange(target % self.step, min(self._fine.room, target) + 1, self.step)
        coarse = (target - fine) // self.step
        keep = coarse <= self._coarse.room
        return fine[keep], coarse[keep]

    def counts(self, target: int) -> int:
        """A bit per number of blocks that can make a target, in ticks; 0 for none."""
        if not 0 < target <= self.longest:
            return 0
        fine, coarse = self._splits(target)
        a, b = self._fine.masks[fine].astype(np.uint32), self._coarse.masks[coarse].astype(np.uint32)
        found = 0
        for c in range(MAX_BLOCKS + 1):
            have = a[(b >> c & 1).astype(bool)]
            if have.size:
                found |= int(np.bitwise_or.reduce(have)) << c
        return found & ((1 << (MAX_BLOCKS + 1)) - 2)

    def every(self, target: int, count: int, most: int) -> NDArray[np.uint64] | None:
        """Every stack of exactly `count` blocks as rows of bit words, block i in bit i % 64 of word i // 64.

        None for more than `most` of them.
        """
        words = (len(self.set.blocks) + 63) // 64
        fine, coarse = self._splits(target)
        a, b = self._fine.masks[fine], self._coarse.masks[coarse]
        found: list[NDArray[np.uint64]] = []
        total = 0
        for c in range(count + 1):
            ats = np.flatnonzero((a >> np.uint16(count - c) & 1).astype(bool) & (b >> np.uint16(c) & 1).astype(bool))
            if not len(ats):
                continue
            fines = self._fine.walk(fine[ats], np.full(len(ats), count - c)).words(words)
            coarses = self._coarse.walk(coarse[ats], np.full(len(ats), c)).words(words)
            for at in range(len(ats)):
                left, right = fines[1][fines[0] == at], coarses[1][coarses[0] == at]
                total += len(left) * len(right)
                if total > most:
                    return None
                found.append((left[:, None, :] | right[None, :, :]).reshape(-1, words))
        return np.concatenate(found) if found else np.zeros((0, words), np.uint64)

    def least_counts(self, highest: int | None = None) -> NDArray[np.uint8]:
        """The fewest blocks for every height from 0 to `highest` or the longest, in ticks; 255 where there is no stack.

        The whole grid at once: heights are laid out as rows of one coarse step, and each row of the fine table is added to
        each coarse sum.
        """
        step, none = self.step, np.uint8(255)
        fine = _least(self._fine.masks)
        top = self.longest if highest is None else min(highest, self.longest)
        coarse = _least(self._coarse.masks[: top // step + 1])
        rows = -(-len(fine) // step)
        padded = np.full(rows * step, none)
        padded[: len(fine)] = fine
        by_row = padded.reshape(rows, step)
        found = np.full((len(coarse) + rows - 1, step), none)
        room = np.empty((len(coarse), step), np.uint8)
        for q in range(rows):
            used = np.flatnonzero(by_row[q] != none)
            if not len(used):
                continue
            if len(used) == step:
                np.add(by_row[q][None, :], coarse[:, None], out=room)
                np.minimum(
                    found[q : q + len(coarse)], np.where((coarse == none)[:, None], none, room), out=found[q : q + len(coarse)]
                )
            else:
                some = np.where((coarse == none)[:, None], none, by_row[q][used][None, :] + coarse[:, None])
                found[q : q + len(coarse), used] = np.minimum(found[q : q + len(coarse), used], some)
        flat = found.reshape(-1)[: top + 1]
        flat[0] = none  # no blocks make no stack
        flat[flat > MAX_BLOCKS] = none
        return flat

    def exactly(self, target: int, count: int, want: int) -> list[tuple[tuple[int, ...], float]]:
        """The `want` best stacks of exactly `count` blocks, as (block numbers, root-sum-square µm)."""
        fine, coarse = self._splits(target)
        a, b = self._fine.masks[fine], self._coarse.masks[coarse]
        pairs = [
            (at, c)
            for c in range(count + 1)
            for at in np.flatnonzero((a >> np.uint16(count - c) & 1).astype(bool) & (b >> np.uint16(c) & 1).astype(bool))
        ]
        if not pairs:
            return []
        ats, coarse_counts = np.array([p[0] for p in pairs]), np.array([p[1] for p in pairs])
        fines = self._fine.walk(fine[ats], count - coarse_counts)
        coarses = self._coarse.walk(coarse[ats], coarse_counts)
        fine_rows, coarse_rows = fines.best(want), coarses.best(want)
        joined = [
            (float(fines.squares[f] + coarses.squares[g]), f, g)
            for origin in range(len(pairs))
            for f in fine_rows[origin]
            for g in coarse_rows[origin]
        ]
        joined.sort()
        return [(tuple(sorted((*fines.blocks(f), *coarses.blocks(g)))), math.sqrt(squares)) for squares, f, g in joined[:want]]

    # --- asked from outside ------------------------------------------------------------------------------------------

    def best(self, target: Fraction, *, tolerance: Fraction = Fraction(0), want: int = 10, most: int = MAX_BLOCKS) -> StackAnswer:
        """The best stacks for a target in the set's unit.

        Args:
            target: Exact, > 0.
            tolerance: How far off is still right, in the set's unit, ≥ 0.
            want: Number of stacks.
            most: Blocks at the most.

        Returns:
            Fewest blocks first, then least |error|, then least root-sum-square; not feasible: the nearest below and above.

        Raises:
            ShopError: A target or tolerance that is none.
        """
        if target <= 0 or tolerance < 0 or want < 1:
            raise ShopError("Stack", f"a target of {float(target):g}", "A stack has a height", "Give a height above nothing")
        low, high = math.ceil((target - tolerance) / self.tick), math.floor((target + tolerance) / self.tick)
        first, last = max(1, low), min(high, self.longest)
        bounded = ""
        if last - first >= _MAX_NEAR:
            middle = min(max(round(target / self.tick), first), last)
            first, last = max(first, middle - _MAX_NEAR // 2), min(last, middle + _MAX_NEAR // 2)
            bounded = f"Heights within {float((last - first) * self.tick / 2):g} {self.set.unit} of the target were looked at"
        heights = sorted(range(first, last + 1), key=lambda t: (abs(t * self.tick - target), t))
        counts = {t: self.counts(t) for t in heights}
        found: list[Stack] = []
        for count in range(1, min(most, MAX_BLOCKS) + 1):
            for t in heights:
                if counts[t] >> count & 1 and len(found) < want:
                    found += self._stacks(t, target, count, want - len(found))
            if len(found) >= want:
                break
        if found:
            return StackAnswer(True, tuple(found), bounded=bounded)
        return StackAnswer(False, (), self._nearest(target, most), bounded)

    def _stacks(self, ticks: int, target: Fraction, count: int, want: int) -> list[Stack]:
        error = float((ticks * self.tick - target) * MM_PER[self.set.unit])
        order = sorted(self.exactly(ticks, count, want), key=lambda f: f[1])
        return [Stack(tuple(sorted((self.set.blocks[i] for i in numbers), key=Fraction)), error, u) for numbers, u in order]

    def _nearest(self, target: Fraction, most: int) -> tuple[Stack, ...]:
        """The nearest height below and above that can be made."""
        count = min(most, MAX_BLOCKS)
        if count < 1:
            return ()  # no block may be used: nothing is near
        if self._least is None:
            self._least = self.least_counts()
        made = np.flatnonzero(self._least <= count)
        exact_tick = target / self.tick
        at = int(np.searchsorted(made, min(math.ceil(exact_tick), self.longest + 1)))
        found = []
        for k in (at - 1, at):
            if 0 <= k < len(made):
                t = int(made[k])
                found += self._stacks(t, target, int(self._least[t]), 1)
        return tuple(dict.fromkeys(found))


@lru_cache(maxsize=16)
def solver_for(blocks: BlockSet) -> StackSolver:
    """A solver with its tables built, kept for the next question."""
    return StackSolver(blocks)
