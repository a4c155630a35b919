"""One thing measured several times: how well it repeats, which reading is the odd one, is the size right."""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from typing import Final

import msgspec

from elbrix.metrology.rows import check_column, check_rows
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict

#: Chance of calling a good reading the odd one (two-sided).
_ODD_SHARE: Final = 0.05
#: Rounding of a decimal limit that is met to the last digit, mm.
_TO_THE_DIGIT_MM: Final = 1e-9
#: Settings of a stop within this of each other are one, in the scale's unit.
_ONE_SETTING: Final = 1e-9


class Repeat(msgspec.Struct, frozen=True):
    """What n readings of one thing are worth; in the unit of the readings."""

    mean: float
    stdev: float
    half_width_95: float
    median: float
    outlier: int | None
    count: int

    def half_width(self, factor: float) -> float:
        """Half width of the mean for a coverage factor of one's own."""
        return factor * self.stdev / math.sqrt(self.count)


def student_95(free: int) -> float:
    """Student's t for 95 %, two-sided.

    Args:
        free: Degrees of freedom.
    """
    return _student(free, 0.975)


def _student(free: int, share: float) -> float:
    from scipy.special import stdtrit  # slow to load: only when something was measured

    return float(stdtrit(free, share))


def repeat(readings: Sequence[float]) -> Repeat:
    """Mean, spread and the odd one out.

    The half width is Student's for the mean; the odd one is named by Grubbs' test, two-sided, 5 % (it takes at
    least three readings that are not all alike).

    Raises:
        ShopError: Fewer than two readings.
    """
    values = check_column("repeats", readings, 2)
    count = len(values)
    mean = math.fsum(values) / count
    stdev = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (count - 1))
    half = student_95(count - 1) * stdev / math.sqrt(count)
    return Repeat(mean, stdev, half, statistics.median(values), _odd(values, mean, stdev), count)


def _odd(values: Sequence[float], mean: float, stdev: float) -> int | None:
    count = len(values)
    if count < 3 or stdev <= 1e-12 * max(1.0, abs(mean)):
        return None
    furthest = max(range(count), key=lambda i: abs(values[i] - mean))
    t = _student(count - 2, 1 - _ODD_SHARE / (2 * count))
    most = (count - 1) / math.sqrt(count) * math.sqrt(t * t / (count - 2 + t * t))
    return furthest if abs(values[furthest] - mean) / stdev > most else None


def as_made(lower_mm: float, upper_mm: float, readings: Sequence[float], u_mm: float) -> tuple[float, Verdict]:
    """Is a made size within its limits, allowing for what the measurement is worth?

    Go when the mean is within the limits by at least the uncertainty, no-go when it is outside by more,
    marginal between. One reading outside by more than the uncertainty makes a go marginal: a mean hides a taper.

    Args:
        lower_mm: Least size.
        upper_mm: Largest size.
        readings: mm.
        u_mm: Uncertainty of the measurement, 95 %.

    Returns:
        (mean, verdict).

    Raises:
        ShopError: Limits the wrong way round, a negative uncertainty, no reading.
    """
    if lower_mm > upper_mm:
        raise ShopError(
            "as made", f"the lower limit {lower_mm:g} is above the upper {upper_mm:g}", "Nothing lies between", "Swap them"
        )
    if u_mm < 0:
        raise ShopError("as made", "a negative uncertainty", "It is how far a reading may be off", "Give 0 or more")
    values = check_column("as made", readings, 1)
    mean = math.fsum(values) / len(values)
    inside = min(mean - lower_mm, upper_mm - mean)
    worst = min(min(values) - lower_mm, upper_mm - max(values))
    if inside < -u_mm - _TO_THE_DIGIT_MM:
        return mean, Verdict.NO_GO
    sure = inside >= u_mm - _TO_THE_DIGIT_MM and worst >= -u_mm - _TO_THE_DIGIT_MM
    return mean, Verdict.GO if sure else Verdict.MARGINAL


class StopScale(msgspec.Struct, frozen=True):
    """A stop's scale against the readout: readout = factor · scale + offset.

    `sigma` is the scatter of the readout about the line (n − 2); nan from two pairs, which show none.
    """

    factor: float
    offset: float
    sigma: float
    count: int
    middle: float
    spread: float

    def setting(self, wanted: float) -> float:
        """The scale's number for a wanted readout."""
        return (wanted - self.offset) / self.factor

    def half_width_95(self, wanted: float) -> float:
        """How far the next stop at that setting may be from the wanted readout, 95 % (nan from two pairs)."""
        if self.count < 3:
            return math.nan
        away = (self.setting(wanted) - self.middle) ** 2 / self.spread
        return student_95(self.count - 2) * self.sigma * math.sqrt(1 + 1 / self.count + away)


def stop_scale(pairs: Sequence[Sequence[float]]) -> StopScale:
    """Calibrate a trip or depth stop's scale by least squares.

    Args:
        pairs: (scale, readout).

    Raises:
        ShopError: Fewer than two settings, or a readout that does not follow the scale.
    """
    check_rows("stop", pairs, 2, 2)
    scale, readout = [float(s) for s, _ in pairs], [float(r) for _, r in pairs]
    if max(scale) - min(scale) <= _ONE_SETTING:
        raise ShopError(
            "stop",
            "all trials are at one setting",
            "The fit could lie anyhow through them",
            "Add a place well away from the others",
        )
    count = len(pairs)
    middle, level = math.fsum(scale) / count, math.fsum(readout) / count
    about = [s - middle for s in scale]
    spread = math.fsum(a * a for a in about)
    factor = math.fsum(a * (r - level) for a, r in zip(about, readout, strict=True)) / spread
    if abs(factor) < 1e-9:
        raise ShopError("stop", "the readout does not follow the scale", "No setting can be worked out", "Check the pairs")
    offset = level - factor * middle
    squares = math.fsum((r - factor * s - offset) ** 2 for s, r in zip(scale, readout, strict=True))
    sigma = math.sqrt(squares / (count - 2)) if count > 2 else math.nan
    return StopScale(factor, offset, sigma, count, middle, spread)
