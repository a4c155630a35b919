"""Two holes located by two pins: what spacing error they accept, what turn they leave. mm and radians.

c1 and c2 are diametral clearances: hole less pin.
"""

from __future__ import annotations

import math
from typing import Final

#: Clearance of a pin in its hole, least and most, mm; below 0 it is pressed in. Source: shop practice.
SLIDE: Final = (0.01, 0.025)
CLOSE: Final = (0.004, 0.012)
PRESS: Final = (-0.012, -0.005)


def hole_limits(hole: float, pin: float, fit: tuple[float, float]) -> tuple[float, float]:
    """How much under and over its size a hole may come out, mm, for a pin of that size to keep its fit."""
    return (max(0.0, round(hole - pin - fit[0], 6)), max(0.0, round(pin + fit[1] - hole, 6)))


def two_full_accept_mm(c1: float, c2: float) -> float:
    """Spacing error two round pins accept: each may sit half its clearance to one side, (c1 + c2)/2."""
    return (c1 + c2) / 2


def widest_land_mm(hole: float, pin: float, left: float) -> float:
    """Widest land of a relieved pin that still goes in with its hole off by `left` along the line of centres.

    The land's corner, at half the land from the middle, must stay inside the hole: (w/2 + e)² + (d² − w²)/4 ≤ D²/4,
    so w ≤ ((D² − d²)/4 − e²)/e; at most the whole pin. Below 0: none goes in.

    Args:
        hole: Ø of its hole.
        pin: Ø over its lands.
        left: Spacing error less half the clearance of the round pin.
    """
    return pin if left <= 0 else min(pin, ((hole**2 - pin**2) / 4 - left**2) / left)


def relieved_accept_mm(hole: float, pin: float, land: float, c_round: float) -> float:
    """Spacing error a round and a relieved pin accept: `widest_land_mm` turned round, and half the round pin's clearance."""
    return c_round / 2 + (math.sqrt(max(0.0, land**2 + hole**2 - pin**2)) - land) / 2


def turn_rad(c1: float, c2: float, apart: float) -> float:
    """Turn the play of two pins leaves, either way: (c1 + c2)/(2·L)."""
    return (c1 + c2) / (2 * apart)
