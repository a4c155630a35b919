"""Bolt circles, chords and sizes over two pins."""

from __future__ import annotations

import math

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length

Point = tuple[float, float]


def bolt_circle(holes: int, pitch_circle_mm: float, start_rad: float = 0.0, centre: Point = (0.0, 0.0)) -> list[Point]:
    """Hole middles, counter-clockwise from +X, mm.

    Raises:
        ShopError: No hole or no circle.
    """
    if holes < 1 or holes > 10_000 or not pitch_circle_mm > 0:
        raise ShopError(
            "Bolt circle",
            f"{holes} holes on {length(pitch_circle_mm)} {LENGTH_UNIT}",
            "It has one hole or more on a circle",
            "Check the count and the diameter",
        )
    r = pitch_circle_mm / 2
    return [
        (
            centre[0] + r * math.cos(start_rad + 2 * math.pi * i / holes),
            centre[1] + r * math.sin(start_rad + 2 * math.pi * i / holes),
        )
        for i in range(holes)
    ]


def chord_mm(pitch_circle_mm: float, angle_rad: float) -> float:
    """D·sin(θ/2)."""
    return pitch_circle_mm * math.sin(angle_rad / 2)


def angle_of_chord_rad(pitch_circle_mm: float, chord: float) -> float:
    """2·asin(chord/D).

    Raises:
        ShopError: A chord longer than the circle is wide.
    """
    if not 0 <= chord <= pitch_circle_mm or pitch_circle_mm <= 0:
        raise ShopError(
            "Chord",
            f"{length(chord)} {LENGTH_UNIT} on a circle of {length(pitch_circle_mm)} {LENGTH_UNIT}",
            "A chord is never longer than the diameter",
            "Check both",
        )
    return 2 * math.asin(chord / pitch_circle_mm)


def over_two_pins(distance_mm: float, pin1_mm: float, pin2_mm: float) -> tuple[float, float]:
    """(over, between) two pins with middles a distance apart, mm."""
    if pin1_mm <= 0 or pin2_mm <= 0 or distance_mm <= 0:
        raise ShopError("Two pins", "a pin or distance of nothing", "Both have a size", "Measure again")
    half = (pin1_mm + pin2_mm) / 2
    return distance_mm + half, distance_mm - half
