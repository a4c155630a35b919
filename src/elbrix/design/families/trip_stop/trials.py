"""Trials of a trip stop.

What the scale said and where the slide stopped, the line through them, and how far it may be trusted.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec import Struct

from elbrix.standards.statistics import student_95

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


def read_step_mm(stops: Sequence[float]) -> float:
    """The step the stops were read in, as far as their digits tell: 0.1, 0.01 or 0.001 mm."""
    return next((step for step in (0.1, 0.01) if all(abs(r / step - round(r / step)) < 1e-6 for r in stops)), 0.001)


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
    scattered = math.sqrt(math.fsum((r - offset - factor * s) ** 2 for s, r in trials) / (n - 2))
    sigma = max(scattered, read_step_mm([r for _, r in trials]) / math.sqrt(12))
    return FittedLine(offset, factor, sigma, n, mean, spread)
