"""Trials of a trip stop.

What the scale said and where the slide stopped, the line through them, and how far it may be trusted.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import clip
from elbrix.quantities.lengths import Length
from elbrix.standards.statistics import student_95

MOST: Final = 60
#: Share of stops that fall inside the band.
CONFIDENCE: Final = 0.95


class FittedLine(Struct, frozen=True):
    """readout = offset + factor · scale, fitted on n trials; sigma with n − 2. mm."""

    offset: float
    factor: float
    sigma: float
    n: int
    mean: float  #: of the scale settings
    spread: float  #: sum of squares about that mean

    def setting(self, travel: float) -> float:
        """What to set on the scale for a travel."""
        return (travel - self.offset) / self.factor

    def band(self, scale: float) -> float:
        """Half width, mm, in which the next stop falls.

        T·σ·√(1 + 1/n + (s − s̄)²/Sxx). Source: prediction interval of a straight line.
        """
        return student_95(self.n - 2).value * self.sigma * math.sqrt(1 + 1 / self.n + (scale - self.mean) ** 2 / self.spread)


def read_trials(text: str, unit: str = "mm", where: str = "Trials") -> tuple[tuple[float, float], ...]:
    """Pairs "scale, stopped at; …".

    Raises:
        EntryError: A pair without its partner, a number that is none, too many.
    """
    found = []
    for part in (p for p in text.split(";") if p.strip()):
        pair = [q for q in part.split(",") if q.strip()]
        if len(pair) != 2:
            raise EntryError(
                where,
                f"{clip(part.strip(), 24)} is no trial",
                "Each is what the scale said and where it stopped",
                "Write 20, 20.06; 40, 40.11",
                "trials",
            )
        found.append((Length.parse(pair[0], unit, where, -2000, 2000).mm, Length.parse(pair[1], unit, where, -2000, 2000).mm))
    if len(found) > MOST:
        raise EntryError(where, f"{len(found)} trials", f"{MOST} are kept at most", "Leave the oldest away", "trials")
    return tuple(found)


def fitted(trials: tuple[tuple[float, float], ...]) -> FittedLine | None:
    """The least-squares line; None with fewer than three trials or one scale setting only."""
    n = len(trials)
    if n < 3:
        return None
    mean = math.fsum(s for s, _ in trials) / n
    level = math.fsum(r for _, r in trials) / n
    spread = math.fsum((s - mean) ** 2 for s, _ in trials)
    if spread < 1e-9:
        return None
    factor = math.fsum((s - mean) * (r - level) for s, r in trials) / spread
    if abs(factor) < 1e-6:
        return None
    offset = level - factor * mean
    sigma = math.sqrt(math.fsum((r - offset - factor * s) ** 2 for s, r in trials) / (n - 2))
    return FittedLine(offset, factor, sigma, n, mean, spread)
