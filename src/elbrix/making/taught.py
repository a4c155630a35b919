"""What the cuts so far teach the next: how far they came out beside what was set, and what is taken off for it. mm."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from msgspec import Struct


class Cuts(Struct, frozen=True):
    """How far the measured cuts came out beside what was set for them, in order."""

    off_mm: tuple[float, ...]

    @property
    def count(self) -> int:
        return len(self.off_mm)

    @property
    def mean_mm(self) -> float:
        """What the next is expected to be off."""
        return sum(self.off_mm) / len(self.off_mm) if self.off_mm else 0.0

    @property
    def spread_mm(self) -> float:
        """One standard deviation of a single cut; 0 with fewer than two."""
        if len(self.off_mm) < 2:
            return 0.0
        return math.sqrt(sum((o - self.mean_mm) ** 2 for o in self.off_mm) / (len(self.off_mm) - 1))


def cuts_so_far(measured: Mapping[str, float], sizes: Sequence[tuple[str, float]]) -> Cuts:
    """The equal cuts of one feature that were measured.

    Each was set for its size less what the cuts before it had taught: against that it is counted. Counted against its size
    alone, a cutter that always leaves as much would seem cured after the first correction, and the last cut be off again.

    Args:
        measured: Sizes by key.
        sizes: (key, size wanted) of each cut, in order.
    """
    found: list[float] = []
    for key, wanted in sizes:
        taught = Cuts(tuple(found)).mean_mm
        if key in measured:
            found.append(measured[key] - (wanted - taught))
    return Cuts(tuple(found))
