"""Work that turns beside its middle: the force it throws with, and how fast it may turn before it wants a counterweight."""

from __future__ import annotations

import math
from typing import Final

#: A throw a light bench lathe is felt to shake with, N. Guidance, on the careful side: a counterweight from there on.
SHAKES_N: Final = 30.0


def throw_n(mass_kg: float, off_mm: float, rpm: float) -> float:
    """Centrifugal force, N: m·e·(π·n/30)²."""
    return mass_kg * off_mm / 1000 * (math.pi * rpm / 30) ** 2


def speed_to_balance(mass_kg: float, off_mm: float) -> float:
    """The speed in rpm from which it throws with `SHAKES_N`: 30/π·√(F/(m·e))."""
    return 30 / math.pi * math.sqrt(SHAKES_N / (mass_kg * off_mm / 1000))
