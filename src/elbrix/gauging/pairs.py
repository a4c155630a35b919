"""Two stacks at the same time from one set: under both rolls of a sine plate, or under both ends of a straight edge.

The fewest blocks in all. For every total, from the sum of the two single optima up, all stacks of both heights are listed as
bit words
and looked through for two that share no block; the first total with such a pair is the least. That there is none is proved on the
residues: what is left of a height beside the coarse blocks must come from the fine ones, and both heights draw on the same.
"""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Final

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from elbrix.gauging.stacks import MAX_BLOCKS, StackSolver
from elbrix.quantities.errors import ShopError

_Words = NDArray[np.uint64]
#: Stacks of one height listed at the most. Beyond it nothing is claimed.
_MAX_LISTED: Final = 400_000
_CHUNK: Final = 2_000_000
#: Pairs of stacks laid against each other in one question: about a second.
_MAX_COMPARED: Final = 250_000_000
_LARGEST_STEP: Final = 2048


class Pair(Struct, frozen=True):
    """Two stacks without a block in common; not feasible: proved that there are none."""

    feasible: bool
    first: tuple[str, ...] = ()
    second: tuple[str, ...] = ()

    @property
    def blocks_total(self) -> int:
        return len(self.first) + len(self.second)


def pair(
    solver: StackSolver, targets: tuple[Fraction, Fraction], most_each: int = MAX_BLOCKS, tolerance: Fraction = Fraction(0)
) -> Pair:
    """The two stacks with the fewest blocks in all.

    Args:
        targets: Heights in the set's unit, exact; they may be equal.
        most_each: Blocks in one stack at the most.
        tolerance: How far off either is still right, in the set's unit, ≥ 0.

    Raises:
        ShopError: A height that is none, or so many ways that neither a pair nor its absence was found.
    """
    if min(targets) <= 0 or most_each < 1 or tolerance < 0:
        raise ShopError("Two stacks", "a height of nothing", "Each stack has a height", "Give two heights above nothing")
    sides = [_Side(solver, t, tolerance, most_each) for t in targets]
    if not all(side.counts for side in sides):
        return Pair(False)
    if min(sides[0].heights) + min(sides[1].heights) > sum(int(b / solver.tick) for b in solver.set.lengths()):
        return Pair(False)  # all blocks together are not so high
    tested = False
    compared = 0
    for total in range(sides[0].counts[0] + sides[1].counts[0], sides[0].counts[-1] + sides[1].counts[-1] + 1):
        unknown = False
        for c in sides[0].counts:
            if total - c not in sides[1].counts:
                continue
            a, b = sides[0].listed(c), sides[1].listed(total - c)
            if a is None or b is None:
                unknown = True
                continue
            compared += len(a) * len(b)
            if compared > _MAX_COMPARED:
                raise _too_many(total)
            hit = _apart(a, b)
            if hit is not None:
                return Pair(True, _names(solver, a[hit[0]]), _names(solver, b[hit[1]]))
        if not tested:
            # Failing at the least total is a sign: prove it before the lists grow.
            tested = True
            if not _residues_allow(solver, sides[0].heights, sides[1].heights):
                return Pair(False)
        if unknown:
            raise _too_many(total)
    return Pair(False)


def _too_many(total: int) -> ShopError:
    return ShopError(
        "Two stacks",
        f"no pair of under {total} blocks, and too many ways beyond that",
        f"Over {_MAX_LISTED:,} stacks, or {_MAX_COMPARED // 1_000_000} million pairs of them, would have to be compared",
        "Allow fewer blocks in a stack, or change one height a little",
    )


class _Side:
    """One of the two: which heights are right, with how many blocks, and all its stacks by count."""

    def __init__(self, solver: StackSolver, target: Fraction, tolerance: Fraction, most: int) -> None:
        low, high = math.ceil((target - tolerance) / solver.tick), math.floor((target + tolerance) / solver.tick)
        near = sorted(range(max(1, low), min(high, solver.longest) + 1), key=lambda t: abs(t * solver.tick - target))
        allowed = (1 << (min(most, MAX_BLOCKS) + 1)) - 2
        self._solver = solver
        self._counts = {t: found for t in near if (found := solver.counts(t) & allowed)}
        self.heights = tuple(self._counts)  #: ticks, nearest first
        self.counts = [c for c in range(1, MAX_BLOCKS + 1) if any(found >> c & 1 for found in self._counts.values())]
        self._lists: dict[int, _Words | None] = {}

    def listed(self, count: int) -> _Words | None:
        """Every stack of that many blocks; None for too many."""
        if count not in self._lists:
            parts: list[_Words] = []
            room = _MAX_LISTED
            for t, found in self._counts.items():
                part = self._solver.every(t, count, room) if found >> count & 1 else None
                if found >> count & 1 and part is None:
                    self._lists[count] = None
                    return None
                if part is not None:
                    parts.append(part)
                    room -= len(part)
            self._lists[count] = np.concatenate(parts) if parts else np.zeros((0, 1), np.uint64)
        return self._lists[count]


def _apart(a: _Words, b: _Words) -> tuple[int, int] | None:
    """Rows of the first pair without a common bit."""
    if not len(a) or not len(b):
        return None
    at_once = max(1, _CHUNK // (len(b) * a.shape[1]))
    for start in range(0, len(a), at_once):
        part = a[start : start + at_once]
        common = part[:, None, 0] & b[None, :, 0]
        for word in range(1, a.shape[1]):
            common |= part[:, None, word] & b[None, :, word]
        if not common.all():  # a row of nothing in common
            row, column = np.unravel_index(int(np.argmin(common != 0)), common.shape)
            return start + int(row), int(column)
    return None


def _names(solver: StackSolver, row: NDArray[np.uint64]) -> tuple[str, ...]:
    blocks = solver.set.blocks
    return tuple(sorted((blocks[i] for i in range(len(blocks)) if int(row[i // 64]) >> i % 64 & 1), key=Fraction))


def _residues_allow(solver: StackSolver, firsts: tuple[int, ...], seconds: tuple[int, ...]) -> bool:
    """Whether two disjoint groups of fine blocks leave both heights on the coarse step. False is a proof; True is not."""
    step = solver.step
    if step == 1 or step > _LARGEST_STEP:
        return True
    reached = np.zeros((step, step), bool)
    reached[0, 0] = True
    for residue in solver.fine_residues:
        reached = reached | np.roll(reached, residue, 0) | np.roll(reached, residue, 1)
    return bool(reached[np.ix_([t % step for t in firsts], [t % step for t in seconds])].any())
