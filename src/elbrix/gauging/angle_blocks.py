"""Angle blocks wrung on either way round: the fewest that add up and take away to an angle, exactly."""

from __future__ import annotations

from functools import lru_cache
from itertools import product
from typing import Final

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from elbrix.quantities.errors import ShopError
from elbrix.shop.gauges import AngleBlockSet, angle_of_block

Ints = NDArray[np.int64]
_MAX: Final = 20  #: blocks in a box: three ways each, in two halves


class AngleStack(Struct, frozen=True):
    """Blocks added and taken away, largest first."""

    plus: tuple[str, ...]
    minus: tuple[str, ...]
    error_arcsec: int

    @property
    def count(self) -> int:
        return len(self.plus) + len(self.minus)

    @property
    def words(self) -> str:
        """ "41° + 9° + 3° + 27' − 13' …" as they are wrung."""
        return " + ".join(self.plus) + "".join(f" − {m}" for m in self.minus)


@lru_cache(maxsize=16)
def _sums(half: tuple[str, ...]) -> tuple[Ints, Ints, Ints]:
    """Every total that some of the blocks make, rising: (seconds of arc, how many blocks, their signs), the fewest of each."""
    signs = np.array(list(product((0, 1, -1), repeat=len(half))), np.int64)
    totals = signs @ np.array([angle_of_block(n) for n in half], np.int64) if half else np.zeros(1, np.int64)
    counts = np.abs(signs).sum(axis=1)
    order = np.lexsort((counts, totals))
    keep = np.concatenate(([True], np.diff(totals[order]) != 0))
    return totals[order][keep], counts[order][keep], signs[order][keep]


@lru_cache(maxsize=32)  # the ways to set an angle look at the same ones again and again
def best_angle_stack(box: AngleBlockSet, angle_arcsec: float) -> AngleStack:
    """The nearest angle the blocks that are here make; of equally near ones the fewest blocks.

    Every choice of + and − is looked at, in two halves laid against each other.

    Raises:
        ShopError: No block here, more than 20, or an angle that is none.
    """
    here = [b.nominal for b in box.blocks if b.here]
    if not here or len(here) > _MAX:
        raise ShopError(box.name, f"{len(here)} blocks to wring", f"From 1 to {_MAX} are tried", "Check the box in Shop")
    if not 0 < angle_arcsec < 360 * 3600:
        raise ShopError(box.name, "an angle of nothing", "Blocks make an angle", "Give one above 0°")
    halves = [here[0::2], here[1::2]]
    made = [_sums(tuple(half)) for half in halves]
    (left, left_counts, left_signs), (right, right_counts, right_signs) = made
    spots = np.searchsorted(right, angle_arcsec - left)
    candidates = []
    for shift in (-1, 0):
        at = np.clip(spots + shift, 0, len(right) - 1)
        candidates.append((np.abs(left + right[at] - angle_arcsec), left_counts + right_counts[at], np.arange(len(left)), at))
    error = np.concatenate([c[0] for c in candidates])
    count = np.concatenate([c[1] for c in candidates])
    best = np.lexsort((count, error))[0]
    i, j = (int(np.concatenate([c[k] for c in candidates])[best]) for k in (2, 3))
    signed = [*zip(halves[0], left_signs[i].tolist(), strict=True), *zip(halves[1], right_signs[j].tolist(), strict=True)]
    signed.sort(key=lambda s: -angle_of_block(s[0]))
    total = int(left[i] + right[j])
    return AngleStack(tuple(n for n, s in signed if s > 0), tuple(n for n, s in signed if s < 0), round(total - angle_arcsec))
