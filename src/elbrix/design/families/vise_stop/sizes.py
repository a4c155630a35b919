"""The sizes of a stop on the end of a vise's fixed jaw.

X forward from the jaw's face, y up from the bed, z out from the jaw's end; mm.
"""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design import slit_clamp
from elbrix.design.bores import Hole, counterbored, reamed
from elbrix.design.made_of import made_of
from elbrix.design.slit_clamp import SlitClamp
from elbrix.mechanics.pins import SLIDE, hole_limits
from elbrix.mechanics.strength import rod_bends_mm
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import length

SCREWS: Final = ("M4", "M5", "M6", "M8")

PARAMETERS: Final = (
    Parameter(name="vise", label="Vise", kind=Kind.TEXT, unit="", usually="its name in Shop", feature="jaw"),
    Parameter(
        name="jaw_thickness",
        label="Fixed jaw thickness",
        kind=Kind.LENGTH,
        low=5,
        high=150,
        step=0.5,
        usually="measured in Shop",
        feature="jaw",
    ),
    Parameter(
        name="jaw_height",
        label="Jaw height",
        kind=Kind.LENGTH,
        low=5,
        high=200,
        step=0.5,
        usually="measured in Shop",
        feature="jaw",
    ),
    Parameter(
        name="thickness",
        label="Plate thickness",
        kind=Kind.LENGTH,
        low=6,
        high=60,
        step=1,
        words=("thicker", "thinner"),
        usually=f"the rod's Ø and {length(6)}",
        feature="plate",
    ),
    Parameter(
        name="height",
        label="Plate height",
        kind=Kind.LENGTH,
        low=10,
        high=200,
        step=1,
        words=("higher", "lower"),
        usually="below the jaw's top",
        feature="plate",
    ),
    Parameter(
        name="mounting_screw",
        label="Mounting screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((s, s) for s in SCREWS),
        feature="screws",
    ),
    Parameter(
        name="lower_screw",
        label="Lower screw height",
        kind=Kind.LENGTH,
        low=3,
        high=200,
        step=0.5,
        words=("higher", "lower"),
        feature="screws",
    ),
    Parameter(
        name="upper_screw",
        label="Upper screw height",
        kind=Kind.LENGTH,
        low=3,
        high=200,
        step=0.5,
        words=("higher", "lower"),
        feature="screws",
    ),
    Parameter(
        name="rod_diameter",
        label="Rod Ø",
        kind=Kind.LENGTH,
        low=3,
        high=25,
        step=0.01,
        words=("thicker", "thinner"),
        usually="ground rod, as measured",
        feature="rod_diameter",
    ),
    Parameter(
        name="rod_offset",
        label="Rod offset from jaw",
        kind=Kind.LENGTH,
        low=2,
        high=100,
        step=0.5,
        words=("farther", "nearer"),
        usually=f"its Ø and {length(1)}",
        feature="rod_diameter",
    ),
    Parameter(
        name="rod_height",
        label="Rod height",
        kind=Kind.LENGTH,
        low=3,
        high=200,
        step=0.5,
        words=("higher", "lower"),
        usually="it meets the work below the cut",
        feature="rod_diameter",
    ),
    Parameter(
        name="rod_reach",
        label="Rod reach",
        kind=Kind.LENGTH,
        low=5,
        high=400,
        step=1,
        words=("farther", "less"),
        usually="from the jaw's end to the work",
        feature="rod_diameter",
    ),
    *slit_clamp.PARAMETERS,
    Parameter(
        name="rod_force",
        label="Force on the rod",
        kind=Kind.NUMBER,
        unit="N",
        low=1,
        high=5000,
        step=5,
        usually="by hand, 50",
        feature="rod_diameter",
    ),
    Parameter(
        name="deflection", label="Allowed deflection", kind=Kind.LENGTH, low=0.001, high=0.5, step=0.005, feature="rod_diameter"
    ),
    *made_of("plate"),
)


class ViseStopSizes:
    """The arithmetic of one stop.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.thickness, self.height, self.jaw_thickness = v.number("thickness"), v.number("height"), v.number("jaw_thickness")
        self.rod, self.rod_x, self.rod_y, self.slit = (
            v.number("rod_diameter"),
            v.number("rod_offset"),
            v.number("rod_height"),
            v.number("slit_width"),
        )
        if self.rod_y + self.rod / 2 + 2 > self.height:
            raise ShopError(
                "Rod",
                f"Ø{length(self.rod)} at {length(self.rod_y)} in a plate {length(self.height)} high",
                "It needs metal over it for the clamp screw",
                "Set it lower, or make the plate higher",
                entry="rod_height",
            )
        if v.number("upper_screw") <= v.number("lower_screw"):
            raise ShopError(
                "Screws",
                f"the upper one at {length(v.number('upper_screw'))} is not above the lower",
                "Two places hold it from turning",
                "Set it higher",
                entry="upper_screw",
            )

    @property
    def left(self) -> float:
        """Over the jaw's end."""
        return -self.jaw_thickness

    @property
    def right(self) -> float:
        return self.rod_x + self.rod / 2 + max(6.0, 1.05 * self.rod)

    @property
    def width(self) -> float:
        return self.right - self.left

    def edge(self, x: float, y: float) -> float:
        return min(x - self.left, self.right - x, y, self.height - y)

    @cached_property
    def screws(self) -> tuple[Hole, ...]:
        return tuple(
            counterbored(
                f"S{i}",
                -self.jaw_thickness / 2,
                self.v.number(n),
                self.v.word("mounting_screw"),
                feature="screws",
                use="into the jaw's end",
            )
            for i, n in enumerate(("lower_screw", "upper_screw"), 1)
        )

    @cached_property
    def bore(self) -> Hole:
        size = round(self.rod + SLIDE[0], 3)
        limits = hole_limits(size, self.rod, SLIDE)
        return reamed("R", self.rod_x, self.rod_y, size, limits=limits, feature="rod_diameter", use="the rod slides")

    @property
    def holes(self) -> tuple[Hole, ...]:
        return (*self.screws, self.bore)

    @property
    def clamp_y(self) -> float:
        """Clamp screw across the slit, half way between rod and top."""
        return (self.rod_y + self.rod / 2 + self.height) / 2

    @cached_property
    def clamp(self) -> SlitClamp:
        return SlitClamp(self.v)

    @property
    def clamp_depths(self) -> dict[str, float]:
        """Of the clamp screw's hole from the right end: to the slit, to its end, and how deep the head is let in; mm."""
        to_slit = self.right - self.rod_x
        return {"to_slit": to_slit, "to_end": to_slit + self.clamp_thread, "counterbore_depth": 0.3 * self.clamp.d + 1}

    @property
    def clamp_thread(self) -> float:
        """Thread cut for it behind the slit: a diameter and a half and a turn, where there is room to the left end."""
        return min(self.rod_x - self.slit / 2 - max(self.left, -6.0), round(1.5 * self.clamp.d + 1, 1))

    @property
    def clamp_apart(self) -> float:
        """Metal between the clamp screw's hole and the nearest fixing hole, whose axes cross askew, mm."""
        end = self.right - self.clamp_depths["to_end"]
        found = []
        for h in self.screws:
            aside, beyond = abs(h.y - self.clamp_y), end - h.x
            r = h.bore / 2 if h.bore_depth >= self.thickness / 2 - self.clamp.d / 2 else h.drill / 2
            if beyond <= 0:
                found.append(aside - r - self.clamp.d / 2)
            else:
                found.append(math.hypot(beyond, max(0.0, aside - self.clamp.d / 2)) - r)
        return min(found, default=math.inf)

    @property
    def bends(self) -> float:
        """How far the rod's end gives when the work is pushed sideways on it, as it may be."""
        return rod_bends_mm(self.v.number("rod_force"), self.v.number("rod_reach"), self.rod)
