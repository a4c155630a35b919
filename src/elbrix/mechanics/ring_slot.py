"""Whether a straight nut would do in a circular T-slot."""

from __future__ import annotations

import math

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length


def longest_straight_mm(ring_radius_mm: float, gap_width_mm: float, nut_width_mm: float) -> float:
    """The longest straight block of a width that slides in a circular gap.

    The block touches the inner wall with its middle and the outer wall with its outer corners:
    (R_i + n)² + (L/2)² = R_o², so L = 2·√(R_o² − (R_i + n)²).

    Args:
        ring_radius_mm: Centre radius R of the gap.
        gap_width_mm: Its width with the wanted clearance already taken off both sides.
        nut_width_mm: Width n of the block.

    Returns:
        mm; 0 when the block is wider than the gap.

    Raises:
        ShopError: A gap that reaches the centre.
    """
    inner, outer = ring_radius_mm - gap_width_mm / 2, ring_radius_mm + gap_width_mm / 2
    if inner <= 0:
        raise ShopError(
            "Ring slot, radius",
            f"{length(ring_radius_mm)} {LENGTH_UNIT} is too small for a slot {length(gap_width_mm)} {LENGTH_UNIT} wide",
            "The slot would reach its own centre",
            "Measure the radius to the middle of the slot",
            entry="ring_radius",
        )
    return 2 * math.sqrt(max(0.0, outer**2 - (inner + nut_width_mm) ** 2))
