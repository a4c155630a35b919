"""The sizes of a soft jaw. x along the jaw from its middle, y back from its face, z up from the vise's bed; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, counterbored, reamed
from elbrix.design.families.soft_jaw.nest import Nest, beyond, beyond_circles, centred, outline_nest, recess_area
from elbrix.design.made_of import made_of
from elbrix.geometry.arcs import Circle
from elbrix.geometry.shapes import Ring, circle
from elbrix.mechanics.pins import PRESS, SLIDE, hole_limits
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material

KINDS: Final = (
    ("plain", "plain"),
    ("ledge", "with a ledge"),
    ("pins", "with two squaring pins"),
    ("vee", "with a V along it"),
    ("round", "with a round nest"),
    ("outline", "with an outline nest"),
)
JAWS: Final = (("pair", "two, one on each side"), ("single", "one, on the fixed side"))
SIDES: Final = (("fixed", "the fixed jaw's"), ("moving", "the moving jaw's"))
FITS: Final = (("slip", "slide, + 0.015"), ("press", "press, − 0.008"))
#: Pin holes over or under the pin, mm: what is aimed at, and the fit it has to keep.
FIT_MM: Final = {"slip": 0.015, "press": -0.008}
BAND: Final = {"slip": SLIDE, "press": PRESS}
SCREWS: Final = ("M4", "M5", "M6", "M8", "M10", "M12")
#: Walls: behind a nest, over the screws' heads; grip: least, and share of the work's height. Source: shop practice.
WALL_BEHIND, WALL_OVER, GRIP_MIN, GRIP_SHARE = 6.0, 2.0, 3.0, 0.1

PARAMETERS: Final = (
    Parameter(name="vise", label="Vise", kind=Kind.TEXT, unit="", usually="its name in Shop", feature="vise"),
    Parameter(name="kind", label="Jaw type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="jaw"),
    Parameter(name="jaws", label="Jaw set", kind=Kind.CHOICE, unit="", choices=JAWS, feature="jaw"),
    Parameter(
        name="side",
        label="Jaw drawn",
        kind=Kind.CHOICE,
        unit="",
        choices=SIDES,
        usually="the other one is its mirror picture, but for an outline",
        feature="jaw",
    ),
    Parameter(name="work_height", label="Work height", kind=Kind.LENGTH, low=1, high=500, step=0.5, feature="work"),
    Parameter(name="work_length", label="Work length", kind=Kind.LENGTH, low=1, high=1000, step=0.5, feature="work"),
    Parameter(
        name="work_width",
        label="Work width",
        kind=Kind.LENGTH,
        low=1,
        high=1000,
        step=0.5,
        usually="its Ø in a V or a round nest",
        feature="work",
    ),
    Parameter(
        name="grip_height",
        label="Grip height",
        kind=Kind.LENGTH,
        low=0.5,
        high=200,
        step=0.5,
        words=("more", "less"),
        usually=f"a tenth of its height, {length(3)} at least; of a V its middle below the top",
        feature="grip_height",
    ),
    Parameter(
        name="length",
        label="Jaw length",
        kind=Kind.LENGTH,
        low=10,
        high=600,
        step=1,
        words=("longer", "shorter"),
        usually="the vise's jaw width",
        feature="jaw",
    ),
    Parameter(
        name="height",
        label="Jaw height",
        kind=Kind.LENGTH,
        low=6,
        high=250,
        step=0.5,
        words=("higher", "lower"),
        usually="the vise's jaws above the bed",
        feature="jaw",
    ),
    Parameter(
        name="thickness",
        label="Jaw thickness",
        kind=Kind.LENGTH,
        low=5,
        high=120,
        step=1,
        words=("thicker", "thinner"),
        usually=f"the nest and {length(6)} behind it, counterbored heads and 0.8 d",
        feature="jaw",
    ),
    Parameter(
        name="jaw_screw",
        label="Jaw screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((s, s) for s in SCREWS),
        usually="the vise's own",
        feature="screws",
    ),
    Parameter(
        name="screw_spacing",
        label="Jaw screw spacing",
        kind=Kind.LENGTH,
        low=5,
        high=500,
        step=0.01,
        usually="measured in Shop",
        feature="screws",
    ),
    Parameter(
        name="screw_height",
        label="Jaw screw height",
        kind=Kind.LENGTH,
        low=2,
        high=200,
        step=0.01,
        usually="measured in Shop",
        feature="screws",
    ),
    Parameter(
        name="opening", label="Vise opening", kind=Kind.LENGTH, low=5, high=1500, usually="measured in Shop", feature="vise"
    ),
    Parameter(
        name="ledge_depth",
        label="Ledge depth",
        kind=Kind.LENGTH,
        low=0.5,
        high=60,
        step=0.5,
        words=("deeper", "shallower"),
        usually="3, or more for work that tips",
        feature="ledge",
    ),
    Parameter(
        name="pin_diameter",
        label="Pin Ø",
        kind=Kind.LENGTH,
        low=2,
        high=25,
        step=0.001,
        usually="owned ones, as measured",
        feature="pins",
    ),
    Parameter(
        name="pin_spacing",
        label="Pin spacing",
        kind=Kind.LENGTH,
        low=5,
        high=500,
        step=0.5,
        words=("farther", "nearer"),
        usually="as far as the work and the jaw allow",
        feature="pins",
    ),
    Parameter(
        name="pin_protrusion",
        label="Pin protrusion",
        kind=Kind.LENGTH,
        low=0.5,
        high=40,
        step=0.5,
        words=("farther", "less"),
        feature="pins",
    ),
    Parameter(
        name="pin_fit",
        label="Pin fit",
        kind=Kind.CHOICE,
        unit="",
        choices=FITS,
        usually="slide: they come out for other work",
        feature="pins",
    ),
    Parameter(
        name="pin_height_error",
        label="Pin height error",
        kind=Kind.LENGTH,
        low=0.001,
        high=0.5,
        step=0.005,
        usually="as the machine places a hole",
        feature="pins",
    ),
    Parameter(
        name="pin_lean",
        label="Pin lean, mm/mm",
        kind=Kind.NUMBER,
        unit="",
        low=0,
        high=0.1,
        step=0.0005,
        usually="its play over the depth of its hole",
        feature="pins",
    ),
    Parameter(
        name="square_length",
        label="Squareness length",
        kind=Kind.LENGTH,
        low=1,
        high=500,
        step=1,
        usually="the face to be cut",
        feature="work",
    ),
    Parameter(name="squareness", label="Squareness tolerance", kind=Kind.LENGTH, low=0.001, high=1, step=0.005, feature="work"),
    Parameter(name="v_angle", label="V angle", kind=Kind.CHOICE, unit="", choices=(("90", "90°"), ("120", "120°")), feature="v"),
    Parameter(
        name="v_width",
        label="V width at the face",
        kind=Kind.LENGTH,
        low=1,
        high=150,
        step=0.5,
        words=("wider", "narrower"),
        feature="v",
    ),
    Parameter(
        name="nest_clearance",
        label="Nest clearance on Ø",
        kind=Kind.LENGTH,
        low=-1,
        high=2,
        step=0.01,
        words=("larger", "smaller"),
        usually=f"{length(0.04)} to {length(0.2)}: it touches in its middle",
        feature="nest",
    ),
    Parameter(
        name="outline", label="Work outline", kind=Kind.OUTLINE, unit="", usually="corners in order, or a DXF", feature="nest"
    ),
    Parameter(
        name="outline_clearance",
        label="Outline clearance",
        kind=Kind.LENGTH,
        low=0,
        high=2,
        step=0.01,
        words=("more", "less"),
        feature="nest",
    ),
    Parameter(
        name="cutter_diameter",
        label="Cutter Ø",
        kind=Kind.LENGTH,
        low=1,
        high=40,
        step=0.5,
        words=("larger", "smaller"),
        usually="the largest owned that leaves nothing standing",
        feature="nest",
    ),
    Parameter(
        name="corners",
        label="Sharp corners",
        kind=Kind.CHOICE,
        unit="",
        choices=(("relieved", "relieved with the same cutter"), ("left", "left as the cutter leaves them")),
        feature="nest",
    ),
    Parameter(
        name="spacer",
        label="Spacer thickness",
        kind=Kind.LENGTH,
        low=0,
        high=100,
        step=0.5,
        usually="so that they still close on the work",
        feature="nest",
    ),
    Parameter(
        name="torque",
        label="Handle torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.5,
        high=300,
        step=1,
        usually="as the work is held later",
    ),
    Parameter(
        name="force_per_nm",
        label="Clamping force per N·m",
        kind=Kind.NUMBER,
        unit="N",
        low=10,
        high=5000,
        step=10,
        usually="measured in Shop",
    ),
    *made_of("jaw"),
)


class SoftJawSizes:
    """The arithmetic of one jaw.

    Raises:
        ShopError: Sizes that make no jaw.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.kind, self.moving = v.word("kind"), v.word("side") == "moving"
        self.width, self.height, self.thickness = v.number("length"), v.number("height"), v.number("thickness")
        self.grip, self.work_depth = v.number("grip_height"), v.number("work_width")
        self.ledge, self.pin, self.spacer = v.number("ledge_depth"), v.number("pin_diameter"), v.number("spacer")
        if self.grip >= self.height and self.kind != "plain":
            raise ShopError(
                "Grip",
                f"{length(self.grip)} {LENGTH_UNIT} in a jaw {length(self.height)} high",
                "Nothing would be left under the work",
                "Hold it over less",
                entry="grip_height",
            )
        if self.kind == "outline" and len(self.ring) < 3:
            raise ShopError(
                "Outline",
                "there is none yet",
                "A nest follows the work's outline",
                "Type its corners, or read a DXF",
                entry="outline",
            )
        if self.kind in ("round", "outline", "vee", "ledge") and self.behind <= 0.5:
            raise ShopError(
                "Jaw",
                f"the recess goes {length(self.recess)} deep into {length(self.thickness)} {LENGTH_UNIT}",
                "It comes out at the back",
                "Make the jaw thicker, or the spacer wider",
                entry="thickness",
            )
        if self.kind in ("round", "outline") and self.recess_half >= self.width / 2:
            raise ShopError(
                "Nest",
                f"{length(2 * self.recess_half)} {LENGTH_UNIT} wide in a jaw {length(self.width)} long",
                "It comes out at the ends",
                "Make the jaw longer, or turn the work",
                entry="length",
            )
        if self.kind == "vee" and not self.v_mouth / 2 < min(self.v_up, self.height - self.v_up):
            raise ShopError(
                "V",
                f"a mouth of {length(self.v_mouth)} at {length(self.v_up)} from the bed",
                f"The jaw is {length(self.height)} high",
                "Make the mouth narrower",
                entry="v_width",
            )

    # --- where the work lies -----------------------------------------------------------------------------------------

    @property
    def seat(self) -> float:
        """What the work rests on, above the bed."""
        return self.height - self.grip

    @property
    def pin_up(self) -> float:
        """Of the pins' middles: the work rests on top of them."""
        return self.seat - self.pin / 2

    @property
    def v_mouth(self) -> float:
        return self.v.number("v_width")

    @property
    def v_half(self) -> float:
        return math.radians(float(self.v.word("v_angle"))) / 2

    @property
    def v_depth(self) -> float:
        return self.v_mouth / 2 / math.tan(self.v_half)

    @property
    def v_up(self) -> float:
        """Middle of the V."""
        return self.seat

    @property
    def nest_r(self) -> float:
        """Radius of a round nest."""
        return (self.work_depth + self.v.number("nest_clearance")) / 2

    @cached_property
    def ring(self) -> Ring:
        points = read_places(self.v.word("outline"), "mm", "Outline").points
        return centred(points) if len(points) > 2 else ()

    @cached_property
    def nest(self) -> Nest:
        """Outline nest of both jaws."""
        return outline_nest(
            self.ring, self.v.number("outline_clearance"), self.v.number("cutter_diameter"), self.v.word("corners") == "relieved"
        )

    @cached_property
    def recesses(self) -> tuple[Ring, ...]:
        """What is cut out of this jaw, seen from above: x along it, y behind its face; open at y = 0."""
        rings: tuple[Ring, ...]
        if self.kind == "round":
            rings = (circle(self.nest_r, 96),)
        elif self.kind == "outline":
            rings = self.nest.rings
        else:
            return ()
        return beyond(rings, self.spacer, self.moving)

    @cached_property
    def recess_circles(self) -> tuple[Circle, ...]:
        """Of every curve of the recesses, in the same x and y."""
        if self.kind == "round":
            return beyond_circles(((0.0, 0.0, self.nest_r),), self.spacer, self.moving)
        return beyond_circles(self.nest.circles, self.spacer, self.moving) if self.kind == "outline" else ()

    @cached_property
    def recess(self) -> float:
        """Deepest behind the face."""
        if self.kind == "ledge":
            return self.ledge
        if self.kind == "vee":
            return self.v_depth
        return max((y for ring in self.recesses for _, y in ring), default=0.0)

    @property
    def recess_half(self) -> float:
        return max((abs(x) for ring in self.recesses for x, _ in ring), default=0.0)

    @property
    def behind(self) -> float:
        """Metal behind the recess."""
        return self.thickness - self.recess

    # --- holes -------------------------------------------------------------------------------------------------------

    @cached_property
    def screws(self) -> tuple[Hole, ...]:
        return tuple(
            counterbored(
                f"S{i}",
                k * self.v.number("screw_spacing") / 2,
                self.v.number("screw_height"),
                self.v.word("jaw_screw"),
                feature="screws",
                use="to the vise",
            )
            for i, k in enumerate((-1, 1), 1)
        )

    @cached_property
    def pins(self) -> tuple[Hole, ...]:
        if self.kind != "pins":
            return ()
        size = round(self.pin + FIT_MM[self.v.word("pin_fit")], 3)
        return tuple(
            reamed(
                f"P{i}",
                k * self.v.number("pin_spacing") / 2,
                self.pin_up,
                size,
                limits=hole_limits(size, self.pin, BAND[self.v.word("pin_fit")]),
                use="through: the air gets out, the pin too",
            )
            for i, k in enumerate((-1, 1), 1)
        )

    @property
    def holes(self) -> tuple[Hole, ...]:
        return (*self.screws, *self.pins)

    def edge(self, x: float, z: float) -> float:
        return min(self.width / 2 - abs(x), z, self.height - z)

    @cached_property
    def over_heads(self) -> float:
        """From the recess down to the screws' counterbores, mm; large when the recess passes beside them."""
        h = self.screws[0]
        top = h.y + h.bore / 2
        if self.kind == "ledge":
            return self.seat - top
        if self.kind == "vee":
            return self.v_up - self.v_mouth / 2 - top
        if self.kind in ("round", "outline"):
            # Beside the nest the head may be as high as it likes.
            near = [x for ring in self.recesses for x, y in ring if y < h.bore_depth + 0.01]
            beside = abs(h.x) - h.bore / 2 - max((abs(x) for x in near), default=0.0)
            return max(self.seat - top, beside)
        return self.height - top

    # --- squareness and push -----------------------------------------------------------------------------------------

    @property
    def play(self) -> float:
        """Of a pin in its hole."""
        return max(0.0, FIT_MM[self.v.word("pin_fit")])

    @property
    def mass_kg(self) -> float:
        """Holes not taken off."""
        return self.volume * self.density * 1e-9

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def volume(self) -> float:
        """Of the jaw with its recess, without its holes, mm³."""
        gone = 0.0
        if self.kind == "ledge":
            gone = self.ledge * self.grip * self.width
        elif self.kind == "vee":
            gone = self.v_depth * self.v_mouth / 2 * self.width
        elif self.recesses:
            gone = sum(recess_area(r, self.recess_circles) for r in self.recesses) * self.grip
        return self.width * self.height * self.thickness - gone
