"""Tilts about two axes: z up, right-handed. Three different things are called a compound angle; each has its function.

A tilt about X then about a fixed Y, the same about the work's own Y, and two slopes seen in two projections.
"""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError

Vector = tuple[float, float, float]


class Tilt(Struct, frozen=True):
    """A plane's true tilt and the azimuth of its upward normal, radians, counter-clockwise from +X: that is downhill."""

    true_rad: float
    downhill_rad: float
    normal: Vector


def _tilt(normal: Vector) -> Tilt:
    return Tilt(math.acos(max(-1.0, min(1.0, normal[2]))), math.atan2(normal[1], normal[0]), normal)


def _within(name: str, *angles_rad: float) -> None:
    for angle in angles_rad:
        if not -math.pi / 2 < angle < math.pi / 2:
            raise ShopError(
                name,
                f"{math.degrees(angle):.4g}° is out of range",
                "A tilt is under 90° either way",
                "Turn the work over or set the complement",
            )


def tilt_fixed_axes(x_rad: float, then_y_rad: float) -> Tilt:
    """Turn about X, then about the machine's Y. The normal is R_y·R_x·z."""
    _within("Compound angle", x_rad, then_y_rad)
    return _tilt((math.cos(x_rad) * math.sin(then_y_rad), -math.sin(x_rad), math.cos(x_rad) * math.cos(then_y_rad)))


def tilt_own_axes(x_rad: float, then_own_y_rad: float) -> Tilt:
    """Turn about X, then about the work's own Y. The normal is R_x·R_y·z; the same true tilt, another direction."""
    _within("Compound angle", x_rad, then_own_y_rad)
    return _tilt(
        (math.sin(then_own_y_rad), -math.sin(x_rad) * math.cos(then_own_y_rad), math.cos(x_rad) * math.cos(then_own_y_rad))
    )


def from_projections(slope_xz_rad: float, slope_yz_rad: float) -> tuple[float, float]:
    """True tilt and uphill azimuth, radians, of the plane z = x·tan A + y·tan B."""
    _within("Projected angles", slope_xz_rad, slope_yz_rad)
    a, b = math.tan(slope_xz_rad), math.tan(slope_yz_rad)
    return math.atan(math.hypot(a, b)), math.atan2(b, a)


def onto_two_plates(true_rad: float, downhill_rad: float) -> tuple[float, float]:
    """Tilt about X of the lower plate and about its own Y of the upper one that give a true tilt and direction, radians.

    From the own-axes normal: n_x = sin y, n_y = −sin x·cos y.

    Raises:
        ShopError: A tilt of 90° or more.
    """
    if not 0 <= true_rad < math.pi / 2:
        raise ShopError(
            "Double sine plate",
            f"{math.degrees(true_rad):.4g}° cannot be set",
            "Two stacked plates reach under 90°",
            "Turn the work on the plate",
        )
    nx, ny = math.sin(true_rad) * math.cos(downhill_rad), math.sin(true_rad) * math.sin(downhill_rad)
    y = math.asin(max(-1.0, min(1.0, nx)))
    return math.asin(max(-1.0, min(1.0, -ny / math.cos(y)))), y


def between_planes_rad(tilt1_rad: float, azimuth1_rad: float, tilt2_rad: float, azimuth2_rad: float) -> float:
    """Angle between the normals of two planes given by tilt and azimuth, radians."""
    n1, n2 = _normal(tilt1_rad, azimuth1_rad), _normal(tilt2_rad, azimuth2_rad)
    cross = math.hypot(n1[1] * n2[2] - n1[2] * n2[1], n1[2] * n2[0] - n1[0] * n2[2], n1[0] * n2[1] - n1[1] * n2[0])
    return math.atan2(cross, sum(a * b for a, b in zip(n1, n2, strict=True)))  # exact near 0° too, where acos is not


def _normal(tilt: float, azimuth: float) -> Vector:
    return (math.sin(tilt) * math.cos(azimuth), math.sin(tilt) * math.sin(azimuth), math.cos(tilt))
