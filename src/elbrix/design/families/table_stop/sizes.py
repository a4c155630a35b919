"""The sizes of a table stop, and the rules they come from. x across the slot, y along it, z up from the table; mm."""

from __future__ import annotations

from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, counterbored
from elbrix.design.made_of import made_of
from elbrix.mechanics.strength import COUNTED, preload_n
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material

BOLTS: Final = ("M5", "M6", "M8", "M10", "M12")
PLAY: Final = 0.02
NUT_FACTOR: Final = 0.2

PARAMETERS: Final = (
    Parameter(
        name="neck",
        label="Slot neck width",
        kind=Kind.READINGS,
        low=4,
        high=60,
        step=0.01,
        usually="measured in Shop, between the lips",
        feature="slot",
    ),
    Parameter(
        name="lip", label="Lip depth", kind=Kind.READINGS, low=1, high=60, step=0.05, usually="measured in Shop", feature="slot"
    ),
    Parameter(
        name="nut_neck_height",
        label="T-nut neck height",
        kind=Kind.LENGTH,
        low=0,
        high=60,
        step=0.1,
        usually="of the nut you have",
        feature="bolt",
    ),
    Parameter(
        name="nut_length",
        label="T-nut length",
        kind=Kind.LENGTH,
        low=3,
        high=120,
        step=1,
        usually="along the slot",
        feature="bolt",
    ),
    Parameter(
        name="tongue_gap",
        label="Gap in the tongue for the nut",
        kind=Kind.LENGTH,
        low=0,
        high=200,
        step=1,
        words=("longer", "shorter"),
        usually="the nut's length and 2; 0: none",
        feature="tongue_width",
    ),
    Parameter(
        name="tongue_width",
        label="Tongue width",
        kind=Kind.LENGTH,
        low=3,
        high=60,
        step=0.01,
        words=("wider", "narrower"),
        usually=f"tightest slot − {length(0.02)}",
        feature="tongue_width",
    ),
    Parameter(
        name="tongue_height",
        label="Tongue height",
        kind=Kind.LENGTH,
        low=1,
        high=40,
        step=0.1,
        words=("higher", "lower"),
        usually="0.6 of the lips",
        feature="tongue_width",
    ),
    Parameter(
        name="width", label="Stop width", kind=Kind.LENGTH, low=8, high=200, step=1, words=("wider", "narrower"), feature="block"
    ),
    Parameter(
        name="length",
        label="Stop length",
        kind=Kind.LENGTH,
        low=10,
        high=300,
        step=1,
        words=("longer", "shorter"),
        feature="block",
    ),
    Parameter(
        name="height",
        label="Stop height",
        kind=Kind.LENGTH,
        low=6,
        high=150,
        step=0.5,
        words=("higher", "lower"),
        usually="below the work's top",
        feature="block",
    ),
    Parameter(
        name="bolt",
        label="Bolt size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((b, b) for b in BOLTS),
        usually="the largest that goes into the slot",
        feature="bolt",
    ),
    Parameter(
        name="torque",
        label="Tightening torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.5,
        high=150,
        step=0.5,
        words=("tighter", "looser"),
        feature="bolt",
    ),
    Parameter(
        name="stopping_face",
        label="Stopping face",
        kind=Kind.CHOICE,
        unit="",
        choices=(("across", "across the slot: its side"), ("along", "along the slot: its end")),
        feature="face",
    ),
    Parameter(
        name="stop_force",
        label="Force on the stop",
        kind=Kind.NUMBER,
        unit="N",
        low=1,
        high=20000,
        step=10,
        usually="by hand 100; a cutter's push from Hold",
        feature="face",
    ),
    Parameter(
        name="contact_height",
        label="Contact height",
        kind=Kind.LENGTH,
        low=0.5,
        high=150,
        step=0.5,
        words=("higher", "lower"),
        usually="above the table",
        feature="face",
    ),
    Parameter(name="square_length", label="Squareness length", kind=Kind.LENGTH, low=5, high=1000, step=5, feature="face"),
    Parameter(name="squareness", label="Squareness tolerance", kind=Kind.LENGTH, low=0.001, high=2, step=0.01, feature="face"),
    *made_of("block", most=20),
)


#: Tongue left at each end of a gap, mm.
_TONGUE_MIN_MM: Final = 4.0


class TableStopSizes:
    """The arithmetic of one stop.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.neck, self.lip = v.readings("neck"), v.readings("lip")
        self.tongue, self.tongue_height, self.bolt = v.number("tongue_width"), v.number("tongue_height"), v.word("bolt")
        self.width, self.length, self.height = v.number("width"), v.number("length"), v.number("height")
        if self.tongue >= self.width:
            raise ShopError(
                "Tongue",
                f"{length(self.tongue)} {LENGTH_UNIT} under a block of {length(self.width)}",
                "The block rests on the table beside it",
                "Make the block wider",
                entry="width",
            )
        if self.holes[0].bore_depth >= self.height - 1:
            raise ShopError(
                "Bolt",
                f"its head counterbored {length(self.holes[0].bore_depth)} in {length(self.height)} {LENGTH_UNIT}",
                "Nothing would be left under it",
                "Make the block higher or the bolt smaller",
                entry="height",
            )
        if self.gap >= self.length - 2 * _TONGUE_MIN_MM:
            raise ShopError(
                "Gap in the tongue",
                f"{length(self.gap)} {LENGTH_UNIT} in a block {length(self.length)} long",
                f"At each end {length(_TONGUE_MIN_MM)} {LENGTH_UNIT} of tongue are needed to guide it",
                "Make the block longer or the gap shorter",
                entry="tongue_gap",
            )
        if self.holes[0].drill >= self.tongue:
            raise ShopError(
                "Bolt",
                f"a hole Ø{length(self.holes[0].drill)} in a tongue of {length(self.tongue)}",
                "It cuts the tongue in two",
                "Take a smaller bolt",
                entry="bolt",
            )

    @property
    def gap(self) -> float:
        """Of the tongue, over the nut; none when it would take all of it."""
        return self.v.number("tongue_gap")

    @property
    def nut_room(self) -> float:
        """Between the pulled-up nut and what is over it, mm: the table's own top where the tongue is cut away for it."""
        over = 0.0 if self.gap >= self.v.number("nut_length") + 1 else self.tongue_height
        return self.lip.min - self.v.number("nut_neck_height") - over

    @cached_property
    def holes(self) -> tuple[Hole, ...]:
        return (counterbored("B", 0.0, 0.0, self.bolt, feature="bolt", use="to the slot"),)

    def edge(self, x: float, y: float) -> float:
        return min(self.width / 2 - abs(x), self.length / 2 - abs(y))

    @property
    def pull_n(self) -> float:
        return preload_n(self.v.number("torque"), NUT_FACTOR, float(self.bolt[1:]))

    @property
    def along(self) -> bool:
        return self.v.word("stopping_face") == "along"

    @property
    def tips_n(self) -> float:
        """Push that tips it over its far edge: pull·half width/height of the push."""
        half = (self.length if self.along else self.width) / 2
        return COUNTED * self.pull_n * half / self.v.number("contact_height")

    @property
    def play(self) -> float:
        return self.neck.max - self.tongue

    @property
    def mass_kg(self) -> float:
        """Holes not taken off."""
        return self.volume * self.density * 1e-9

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def volume(self) -> float:
        """Without its hole, mm³."""
        return self.width * self.height * self.length + self.tongue * self.tongue_height * (self.length - self.gap)
