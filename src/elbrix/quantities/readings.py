"""A feature measured at several places."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError


class Readings(Struct, frozen=True, kw_only=True):
    """One feature, one or more readings in mm, never averaged away: fits use the governing extreme."""

    values_mm: tuple[float, ...]
    measured_with: str = ""  #: the tool, as the Shop names it
    on: str = ""  #: ISO date
    places: tuple[str, ...] = ()  #: where each was taken: "left end", "middle"

    def __post_init__(self) -> None:
        if not self.values_mm:
            raise ShopError("Readings", "there is no reading", "A feature needs at least one", "Measure it at one place or more")
        if not all(math.isfinite(v) for v in self.values_mm):
            raise ShopError("Readings", "one of them is no number", "A reading is a length", "Measure that place again")

    @property
    def min(self) -> float:
        return min(self.values_mm)

    @property
    def max(self) -> float:
        return max(self.values_mm)

    @property
    def mean(self) -> float:
        return math.fsum(self.values_mm) / len(self.values_mm)

    @property
    def spread(self) -> float:
        """Largest less smallest, mm."""
        return self.max - self.min

    @property
    def count(self) -> int:
        return len(self.values_mm)

    def shifted(self, by_mm: float) -> Readings:
        """The same readings, all off by as much: what-if for "how far may this be wrong"."""
        return Readings(
            values_mm=tuple(v + by_mm for v in self.values_mm), measured_with=self.measured_with, on=self.on, places=self.places
        )
