"""The sizes of a trip stop's bar. x along it from its left end, y across from its middle, z up from its back; mm."""

from __future__ import annotations

from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, tapped
from elbrix.design.families.trip_stop.trials import FittedLine, fitted
from elbrix.design.made_of import made_of
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import read_pairs
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.screws import clearance_hole, head

SCREWS: Final = ("M4", "M5", "M6", "M8")

PARAMETERS: Final = (
    Parameter(
        name="travel",
        label="Adjustment range",
        kind=Kind.LENGTH,
        low=2,
        high=800,
        step=1,
        words=("farther", "less"),
        feature="slot_width",
    ),
    Parameter(
        name="screw",
        label="Clamp screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((s, s) for s in SCREWS),
        usually="a shoulder nut or a socket screw in the slot",
        feature="slot_width",
    ),
    Parameter(
        name="slot_width",
        label="Slot width",
        kind=Kind.LENGTH,
        low=3,
        high=20,
        step=0.1,
        words=("wider", "narrower"),
        usually="the screw's clearance, and a cutter you have",
        feature="slot_width",
    ),
    Parameter(
        name="width", label="Bar width", kind=Kind.LENGTH, low=8, high=120, step=1, words=("wider", "narrower"), feature="bar"
    ),
    Parameter(
        name="thickness",
        label="Bar thickness",
        kind=Kind.LENGTH,
        low=3,
        high=40,
        step=1,
        words=("thicker", "thinner"),
        feature="bar",
    ),
    Parameter(
        name="end_wall",
        label="End wall",
        kind=Kind.LENGTH,
        low=3,
        high=100,
        step=1,
        words=("more", "less"),
        usually="1.5 × the slot",
        feature="bar",
    ),
    Parameter(
        name="nose_length",
        label="Nose length",
        kind=Kind.LENGTH,
        low=4,
        high=120,
        step=1,
        words=("longer", "shorter"),
        usually="past the slot, hardened or faced",
        feature="nose_length",
    ),
    Parameter(
        name="scale_screw",
        label="Scale screws",
        kind=Kind.CHOICE,
        unit="",
        choices=(("none", "none: it is engraved"), ("M2x0.4", "M2"), ("M3x0.5", "M3")),
        feature="scale",
    ),
    Parameter(
        name="trials",
        label="Trials: scale, stop",
        kind=Kind.PAIRS,
        unit="",
        usually="20, 20.06; 40, 40.11; … for one feed and direction",
        feature="scale",
    ),
    Parameter(name="wanted_travel", label="Wanted travel", kind=Kind.LENGTH, low=-2000, high=2000, step=0.05, feature="scale"),
    Parameter(
        name="travel_tolerance", label="Travel tolerance ±", kind=Kind.LENGTH, low=0.005, high=5, step=0.01, feature="scale"
    ),
    *made_of("bar", most=20),
)


class TripStopSizes:
    """The arithmetic of one trip stop.

    Raises:
        ShopError: Sizes that make none, or trials that cannot be read.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.travel, self.slot, self.width, self.thickness = (
            v.number("travel"),
            v.number("slot_width"),
            v.number("width"),
            v.number("thickness"),
        )
        self.end, self.nose = v.number("end_wall"), v.number("nose_length")
        if self.slot >= self.width - 3:
            raise ShopError(
                "Slot",
                f"{length(self.slot)} {LENGTH_UNIT} in a bar of {length(self.width)}",
                "Metal is left beside it",
                "Make the bar wider",
                entry="width",
            )

    @property
    def slot_length(self) -> float:
        """Over its round ends: the travel and one cutter."""
        return self.travel + self.slot

    @property
    def length(self) -> float:
        return self.end + self.slot_length + max(self.end, self.nose)

    @property
    def slot_x(self) -> tuple[float, float]:
        """Middles of its round ends."""
        a = self.end + self.slot / 2
        return a, a + self.travel

    @property
    def clear(self) -> float:
        return clearance_hole(self.v.word("screw")).value

    @property
    def head_d(self) -> float:
        return head("socket_cap", self.v.word("screw"), "head_d").value

    @cached_property
    def scale(self) -> tuple[Hole, ...]:
        thread = self.v.word("scale_screw")
        if thread == "none":
            return ()
        y = -(self.width / 2 + self.slot / 2) / 2
        return tuple(
            tapped(f"C{i}", x, y, thread, feature="scale", use="for the scale")
            for i, x in enumerate((self.slot_x[0], self.slot_x[1]), 1)
        )

    def edge(self, x: float, y: float) -> float:
        return min(x, self.length - x, self.width / 2 - abs(y), abs(y) - self.slot / 2)

    @cached_property
    def readings(self) -> tuple[tuple[float, float], ...]:
        return read_pairs(self.v.word("trials"), "mm", "Trials").points

    @cached_property
    def line(self) -> FittedLine | None:
        return fitted(self.readings)
