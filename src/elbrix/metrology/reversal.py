"""Two readings that tell the work from the tool: a square turned about, a jaw run along."""

from __future__ import annotations

import math

from elbrix.quantities.errors import ShopError


def reversed_square(first_mm: float, turned_mm: float) -> tuple[float, float]:
    """Out of square of the work and of the square itself, over the same height.

    With the square on one side the gap is work + square; on the other side the work leans the other way.

    Args:
        first_mm: Deviation over the height, + = the top leans away from the square.
        turned_mm: The same with the square on the other side.

    Returns:
        (work, square) in mm; + = the work leans away from the square's first side, the square away from the work.
    """
    return (first_mm - turned_mm) / 2, (first_mm + turned_mm) / 2


def jaw_yaw(travel_mm: float, start_mm: float, end_mm: float, pivot_to_end_mm: float) -> tuple[float, float]:
    """How far a jaw is out of line with the travel, and what its far end has to move.

    Args:
        travel_mm: Distance between the two readings.
        start_mm: Reading at the start.
        end_mm: Reading at the end.
        pivot_to_end_mm: From the bolt it turns about to the end that is tapped.

    Returns:
        (yaw in radians, + for a reading that rises along the travel; mm at the far end, of the same sign).

    Raises:
        ShopError: No travel, or a pivot beyond the end.
    """
    if not travel_mm > 0:
        raise ShopError("jaw", f"a travel of {travel_mm:g}", "The angle is the difference over the travel", "Measure it")
    if pivot_to_end_mm < 0:
        raise ShopError("jaw", "the pivot is beyond the end", "It is the distance from one to the other", "Give 0 or more")
    slope = (end_mm - start_mm) / travel_mm
    return math.atan(slope), slope * pivot_to_end_mm
