"""The sizes of a pair of V-jaws, and the rules they come from.

X across the V, y along it from the low end, z up from the base; mm.
"""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, counterbored
from elbrix.design.made_of import made_of
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material

ANGLES: Final = (60.0, 90.0, 120.0)
OPPOSITE: Final = (("twin", "its twin"), ("flat", "a flat jaw"))
KEYS: Final = (("both", "both ways"), ("along", "along the V"), ("across", "across it"), ("none", "none"))
#: Metal under the V and its relief, mm: good, and least. Source: shop practice.
FLOOR: Final = (8.0, 4.0)
BOLTS: Final = ("M4", "M5", "M6", "M8", "M10", "M12")

PARAMETERS: Final = (
    Parameter(
        name="smallest",
        label="Smallest Ø held",
        kind=Kind.LENGTH,
        low=1,
        high=400,
        step=0.5,
        words=("larger", "smaller"),
        feature="round",
    ),
    Parameter(
        name="largest",
        label="Largest Ø held",
        kind=Kind.LENGTH,
        low=2,
        high=500,
        step=0.5,
        words=("larger", "smaller"),
        feature="round",
    ),
    Parameter(name="opposite", label="Opposite jaw", kind=Kind.CHOICE, unit="", choices=OPPOSITE, feature="round"),
    Parameter(
        name="angle",
        label="V angle",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((f"{a:g}", f"{a:g}°") for a in ANGLES),
        usually="the narrowest whose range holds them all",
        feature="v",
    ),
    Parameter(
        name="v_width",
        label="V width at the face",
        kind=Kind.LENGTH,
        low=2,
        high=400,
        step=0.5,
        words=("wider", "narrower"),
        usually="the largest round touches inside it",
        feature="v",
    ),
    Parameter(
        name="relief_width",
        label="Relief width",
        kind=Kind.LENGTH,
        low=1,
        high=60,
        step=0.5,
        words=("wider", "narrower"),
        usually="a slot the cutter runs out in",
        feature="relief_width",
    ),
    Parameter(
        name="relief_depth",
        label="Relief depth",
        kind=Kind.LENGTH,
        low=0,
        high=30,
        step=0.5,
        words=("deeper", "shallower"),
        feature="relief_width",
    ),
    Parameter(
        name="width",
        label="Block width",
        kind=Kind.LENGTH,
        low=10,
        high=500,
        step=1,
        words=("wider", "narrower"),
        usually="the vise's screws and their edges",
        feature="block",
    ),
    Parameter(
        name="height",
        label="Block height",
        kind=Kind.LENGTH,
        low=6,
        high=200,
        step=1,
        words=("higher", "lower"),
        usually=f"the V, its relief, the keyway and {length(8)}",
        feature="block",
    ),
    Parameter(
        name="length",
        label="Block length",
        kind=Kind.LENGTH,
        low=8,
        high=300,
        step=1,
        words=("longer", "shorter"),
        usually="the jaw's height, or both rows of holes",
        feature="block",
    ),
    Parameter(
        name="jaw_height",
        label="Vise jaw height",
        kind=Kind.LENGTH,
        low=3,
        high=300,
        usually="measured in Shop",
        feature="vise screws",
    ),
    Parameter(
        name="opening", label="Vise opening", kind=Kind.LENGTH, low=5, high=1500, usually="measured in Shop", feature="round"
    ),
    Parameter(
        name="jaw_screw",
        label="Jaw screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((b, b) for b in BOLTS),
        usually="the vise's own",
        feature="vise screws",
    ),
    Parameter(
        name="screw_spacing",
        label="Jaw screw spacing",
        kind=Kind.LENGTH,
        low=5,
        high=500,
        step=0.01,
        usually="measured in Shop",
        feature="vise screws",
    ),
    Parameter(
        name="screw_height",
        label="Jaw screw height",
        kind=Kind.LENGTH,
        low=2,
        high=200,
        step=0.01,
        usually="measured in Shop",
        feature="vise screws",
    ),
    Parameter(
        name="neck",
        label="Slot neck width",
        kind=Kind.READINGS,
        low=4,
        high=60,
        step=0.01,
        usually="measured in Shop, between the lips",
        feature="keyway_width",
    ),
    Parameter(
        name="bolt",
        label="Table bolt size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((b, b) for b in BOLTS),
        usually="the largest that goes into the slot",
        feature="table bolts",
    ),
    Parameter(
        name="bolt_spacing",
        label="Table bolt spacing",
        kind=Kind.LENGTH,
        low=5,
        high=500,
        step=0.5,
        words=("farther", "nearer"),
        usually="as the vise's screws",
        feature="table bolts",
    ),
    Parameter(
        name="bolt_position",
        label="Table bolt position",
        kind=Kind.LENGTH,
        low=3,
        high=300,
        step=0.5,
        words=("farther", "nearer"),
        usually="clear of the vise's screws",
        feature="table bolts",
    ),
    Parameter(name="keyways", label="Keyways", kind=Kind.CHOICE, unit="", choices=KEYS, feature="keyway_width"),
    Parameter(
        name="keyway_width",
        label="Keyway width",
        kind=Kind.LENGTH,
        low=2,
        high=60,
        step=0.01,
        usually="the tightest slot, for a plain key",
        feature="keyway_width",
    ),
    Parameter(
        name="keyway_depth",
        label="Keyway depth",
        kind=Kind.LENGTH,
        low=1,
        high=20,
        step=0.5,
        words=("deeper", "shallower"),
        feature="keyway_width",
    ),
    Parameter(
        name="pin_diameter",
        label="Check pin Ø",
        kind=Kind.LENGTH,
        low=1,
        high=100,
        step=0.001,
        usually="an owned one that stands proud",
        feature="v",
    ),
    Parameter(
        name="clamping_force",
        label="Clamping force",
        kind=Kind.NUMBER,
        unit="N",
        low=10,
        high=100000,
        step=100,
        usually="handle torque × its force per N·m",
    ),
    *made_of("block", most=8, material_usually="from the rack", pieces_usually="two, milled as one bar and parted"),
)


def half(angle_deg: float) -> float:
    """Half the included angle, radians."""
    return math.radians(angle_deg) / 2


def holds_from(mouth: float, angle_deg: float, opposite: str) -> float:
    """The smallest round before the jaws meet, Ø: M·cos(A/2) between twins; 2·g/(1 + 1/sin(A/2)) against a flat jaw."""
    a = half(angle_deg)
    if opposite == "twin":
        return mouth * math.cos(a)
    return mouth / math.tan(a) / (1 + 1 / math.sin(a))


def holds_to(mouth: float, angle_deg: float) -> float:
    """The largest round that touches inside the mouth, Ø: M/cos(A/2)."""
    return mouth / math.cos(half(angle_deg))


#: Wall beside a keyway at the least, mm.
_KEY_WALL: Final = 3.0


class VJawSizes:
    """The arithmetic of one pair.

    Raises:
        ShopError: Sizes that make no V-jaw.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.angle, self.mouth = float(v.word("angle")), v.number("v_width")
        self.a = half(self.angle)
        self.relief, self.relief_depth = v.number("relief_width"), v.number("relief_depth")
        self.width, self.height, self.length = v.number("width"), v.number("height"), v.number("length")
        self.largest, self.smallest, self.twin = v.number("largest"), v.number("smallest"), v.word("opposite") == "twin"
        self.keyway, self.keyway_depth, self.keys = v.number("keyway_width"), v.number("keyway_depth"), v.word("keyways")
        if self.largest < self.smallest:
            raise ShopError(
                "Rounds",
                f"from Ø{length(self.smallest)} up to Ø{length(self.largest)}",
                "The smaller one comes first",
                "Exchange the two",
                entry="largest",
            )
        if self.mouth >= self.width - 2:
            raise ShopError(
                "Mouth",
                f"{length(self.mouth)} {LENGTH_UNIT} in a block of {length(self.width)}",
                "A land is left on either side",
                "Make the mouth narrower or the block wider",
                entry="v_width",
            )
        if self.relief >= self.mouth:
            raise ShopError(
                "Relief",
                f"{length(self.relief)} {LENGTH_UNIT} takes the whole V away",
                "The flanks begin above it",
                "Make it narrower",
                entry="relief_width",
            )
        if self.floor <= 0.5:
            raise ShopError(
                "Height",
                f"a V {length(self.depth)} deep, its relief and the keyway go through {length(self.height)} {LENGTH_UNIT}",
                "Metal has to be left under them",
                "Make the block higher, the mouth narrower or the angle wider",
                entry="height",
            )
        for name in ("screw_height", "bolt_position"):
            if not 0 < v.number(name) < self.length:
                raise ShopError(
                    "Holes",
                    f"a hole {length(v.number(name))} from the low end",
                    f"The block is {length(self.length)} long",
                    "Make it longer",
                    entry=name,
                )

        bolt, half_key = v.number("bolt_position"), self.keyway / 2
        across = min(bolt, self.length - bolt) - half_key if self.keys in ("both", "across") else math.inf
        along = self.width / 2 - half_key if self.keys in ("both", "along") else math.inf
        if min(across, along) < _KEY_WALL:
            raise ShopError(
                "Keyway",
                f"{length(self.keyway)} {LENGTH_UNIT} wide runs out over the {'end' if across < along else 'side'} of the block",
                f"{length(_KEY_WALL)} of wall is left beside it at the least",
                "Make it narrower, or the block longer or wider",
                entry="keyway_width",
            )

    # --- the V -------------------------------------------------------------------------------------------------------

    @property
    def depth(self) -> float:
        """Of the V to its sharp point: (M/2)/tan(A/2)."""
        return self.mouth / 2 / math.tan(self.a)

    @property
    def tilt_deg(self) -> float:
        """Of the block to mill a flank level."""
        return (180 - self.angle) / 2

    @property
    def bottom(self) -> float:
        """Depth of the relief below the face."""
        return self.depth + self.relief_depth

    @property
    def floor(self) -> float:
        """Metal under the relief, over the keyway along it."""
        under = self.keyway_depth if self.keys != "none" else 0.0
        return self.height - self.bottom - under

    @property
    def least(self) -> float:
        """Smallest round it holds before the jaws meet."""
        return holds_from(self.mouth, self.angle, "twin" if self.twin else "flat")

    @property
    def most(self) -> float:
        return holds_to(self.mouth, self.angle)

    @property
    def alone(self) -> float:
        """Smallest round that does not fall into the relief."""
        return self.relief / math.cos(self.a)

    def centre_above(self, d: float) -> float:
        """Of a round, above the sharp point of the V."""
        return d / 2 / math.sin(self.a)

    def apart(self, d: float) -> float:
        """Face to face of the jaws with that round between; below 0 they meet first."""
        if self.twin:
            return d / math.sin(self.a) - 2 * self.depth
        return self.centre_above(d) + d / 2 - self.depth

    @property
    def backs(self) -> float:
        """What the vise has to open with the largest round in."""
        return self.apart(self.largest) + (2 if self.twin else 1) * self.height

    @property
    def over_pin(self) -> float:
        """Top of the pin above the face: (P/2)·(1 + 1/sin(A/2)) − g."""
        p = self.v.number("pin_diameter")
        return p / 2 * (1 + 1 / math.sin(self.a)) - self.depth

    @property
    def pin_touches(self) -> float:
        """Half width at which the pin touches."""
        return self.v.number("pin_diameter") / 2 * math.cos(self.a)

    @property
    def moves(self) -> float:
        """How far a round's centre moves for each mm of Ø.

        1/(2·sin(A/2)); between twins it stays in the middle of the vise's opening, and this much along each jaw.
        """
        return 1 / (2 * math.sin(self.a))

    # --- holes -------------------------------------------------------------------------------------------------------

    @cached_property
    def screws(self) -> tuple[Hole, ...]:
        """Into the vise, in place of its jaw plates."""
        return tuple(
            counterbored(
                f"V{i}",
                k * self.v.number("screw_spacing") / 2,
                self.v.number("screw_height"),
                self.v.word("jaw_screw"),
                feature="vise screws",
                use="to the vise",
            )
            for i, k in enumerate((-1, 1), 1)
        )

    @cached_property
    def bolts(self) -> tuple[Hole, ...]:
        """To the table."""
        return tuple(
            counterbored(
                f"T{i}",
                k * self.v.number("bolt_spacing") / 2,
                self.v.number("bolt_position"),
                self.v.word("bolt"),
                feature="table bolts",
                use="to the table",
            )
            for i, k in enumerate((-1, 1), 1)
        )

    @property
    def holes(self) -> tuple[Hole, ...]:
        return (*self.screws, *self.bolts)

    def edge(self, x: float, y: float) -> float:
        """From a place on the lands to the outside or to the mouth of the V."""
        return min(self.width / 2 - abs(x), y, self.length - y, abs(x) - self.mouth / 2)

    @property
    def mass_kg(self) -> float:
        """Holes not taken off."""
        return self.area * self.length * self.density * 1e-9

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def area(self) -> float:
        """Of the end, mm²: the block less V, relief and keyway along it."""
        beside = (self.mouth - self.relief) / 2 / math.tan(self.a)  # height of the flanks
        v = (self.mouth + self.relief) / 2 * beside + self.relief * (self.bottom - beside)
        return self.width * self.height - v - (self.keyway * self.keyway_depth if self.keys in ("both", "along") else 0.0)
