"""Sine plates and bars: stack, angle and sensitivities, with unlike rolls in both conventions.

The plate stands on a pivot roll (diameter d_p) on the surface plate and a stack roll (d_s) on the blocks. Two work faces are
in use,
a few microns apart when the rolls differ: one parallel to the line of roll centres, one parallel to the line under the rolls.
"""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length


class SinePlate(Struct, frozen=True, kw_only=True):
    """A sine plate as measured, mm."""

    centres_mm: float
    roll_pivot_mm: float = 0.0  #: diameter; 0 with an equal stack roll has no effect
    roll_stack_mm: float = 0.0

    def __post_init__(self) -> None:
        if not self.centres_mm > 0 or self.roll_pivot_mm < 0 or self.roll_stack_mm < 0:
            raise ShopError(
                "Sine plate",
                "centres or rolls of nothing",
                "The roll centres stand a known way apart",
                "Measure over the rolls and take one roll off",
            )
        if abs(self.roll_pivot_mm - self.roll_stack_mm) >= 2 * self.centres_mm:
            raise ShopError(
                "Sine plate, rolls",
                "they differ by more than the centres",
                "Such a plate cannot stand",
                "Measure both rolls again",
            )

    @property
    def under_rolls_rad(self) -> float:
        """Angle between the line of centres and the line under the rolls, positive when the stack roll is larger."""
        return math.asin((self.roll_stack_mm - self.roll_pivot_mm) / (2 * self.centres_mm))

    def stack_mm(self, angle_rad: float, *, to_centres: bool = True) -> float:
        """The stack that sets an angle of the work face.

        Args:
            angle_rad: Work face to surface plate, 0 to just under 90°.
            to_centres: The work face is parallel to the centres; otherwise to the line under the rolls.

        Raises:
            ShopError: An angle no sine plate sets, or one that needs a negative stack.

        Source: triangle on the roll centres, H = C·sin θ + (d_p − d_s)/2.
        """
        tilt = angle_rad if to_centres else angle_rad + self.under_rolls_rad
        if not 0 <= angle_rad < math.pi / 2 or not tilt < math.pi / 2:
            raise ShopError(
                "Sine plate, angle",
                f"{math.degrees(angle_rad):.4g}° cannot be set",
                "A sine plate tilts from 0° to just under 90°",
                "Turn the work, or set the complement",
            )
        height = self.centres_mm * math.sin(tilt) + (self.roll_pivot_mm - self.roll_stack_mm) / 2
        if height < -1e-12:
            raise ShopError(
                "Sine plate, angle",
                f"{math.degrees(angle_rad):.4g}° would need a stack of {height:.4f} mm",
                "The stack roll is the larger one and already stands higher",
                "Swap the ends, or put blocks under both rolls",
            )
        return max(0.0, height)

    def angle_rad(self, stack_mm: float, *, to_centres: bool = True) -> float:
        """The angle a stack sets.

        Raises:
            ShopError: A stack taller than the plate can stand on, or negative.
        """
        sine = (stack_mm - (self.roll_pivot_mm - self.roll_stack_mm) / 2) / self.centres_mm
        if stack_mm < 0 or not -1 < sine < 1:
            raise ShopError(
                "Sine plate, stack",
                f"{length(stack_mm)} {LENGTH_UNIT} cannot be",
                f"With centres {length(self.centres_mm)} {LENGTH_UNIT} it is from 0 to just under that",
                "Check the stack and the centres",
            )
        tilt = math.asin(sine)
        return tilt if to_centres else tilt - self.under_rolls_rad

    def per_mm_stack_rad(self, angle_rad: float) -> float:
        """dθ/dH = 1/(C·cos θ), radians per mm."""
        return 1 / (self.centres_mm * math.cos(angle_rad))

    def per_mm_centres_rad(self, angle_rad: float) -> float:
        """dθ/dC = −tan θ/C: longer centres tilt less on the same stack."""
        return -math.tan(angle_rad) / self.centres_mm
