"""An indicator on something that turns: how far off its centre it runs, and what centring cannot take away."""

from __future__ import annotations

import math
from collections.abc import Sequence

import msgspec
import numpy as np

from elbrix.metrology.readings_in import need_directions, table
from elbrix.quantities.errors import ShopError


class Runout(msgspec.Struct, frozen=True):
    """What a turn under an indicator shows; mm and radians.

    `eccentricity_mm` is the distance of the two axes (half of what centring takes off the dial), `high_at` the
    angle of the highest place of the first harmonic, `left_mm` peak to valley of what centring cannot take away.
    """

    eccentricity_mm: float
    high_at: float
    tir_mm: float
    left_mm: float


def runout(angles: Sequence[float], readings: Sequence[float]) -> Runout:
    """First harmonic of readings round a turn, by least squares.

    Args:
        angles: Radians.
        readings: mm.

    Raises:
        ShopError: Not as many readings as angles, or fewer than three different angles.
    """
    if len(angles) != len(readings):
        raise ShopError(
            "run-out", f"{len(angles)} angles and {len(readings)} readings", "Each reading has its angle", "Complete them"
        )
    data = table("run-out", list(zip(angles, readings, strict=True)), 2, 3)
    design = np.column_stack([np.cos(data[:, 0]), np.sin(data[:, 0]), np.ones(len(data))])
    need_directions("run-out", design, "fewer than three different angles")
    found = np.linalg.lstsq(design, data[:, 1], rcond=None)[0]
    left = data[:, 1] - design @ found
    return Runout(
        eccentricity_mm=math.hypot(found[0], found[1]),
        high_at=math.atan2(found[1], found[0]) % math.tau,
        tir_mm=float(data[:, 1].max() - data[:, 1].min()),
        left_mm=float(left.max() - left.min()),
    )
