"""The sizes of a riser. x along the slots, y across them, from the middle; z up from the table; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, counterbored, tapped
from elbrix.design.hosts import off_slots
from elbrix.design.made_of import made_of
from elbrix.geometry.shapes import Ring, hull
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import Point, read_places
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.sentences import sentence
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material
from elbrix.standards.screws import clearance_hole

KINDS: Final = (("one", "one plate"), ("two", "two plates, one on the other"))
PARTS: Final = (("lower", "the lower plate"), ("upper", "the upper plate"))
WHEN: Final = (("now", "now, by ordinates"), ("assembly", "at assembly, through the mate"))
#: Lengths socket screws are sold in, mm. Source: usual preferred lengths.
SOLD_LENGTHS: Final = (
    10,
    12,
    16,
    20,
    25,
    30,
    35,
    40,
    45,
    50,
    55,
    60,
    65,
    70,
    75,
    80,
    90,
    100,
    110,
    120,
    130,
    140,
    150,
    160,
    180,
    200,
)
#: A bolt ends at least this far above the slot's floor, mm.
FLOOR_MM: Final = 0.5
BOLTS: Final = ("M5", "M6", "M8", "M10", "M12", "M16")
#: Lifted by one person without thinking, kg.

PARAMETERS: Final = (
    Parameter(name="kind", label="Riser type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="plate"),
    Parameter(
        name="part",
        label="Plate drawn",
        kind=Kind.CHOICE,
        unit="",
        choices=PARTS,
        usually="each plate has its own sheet",
        feature="plate",
    ),
    Parameter(
        name="riser_height",
        label="Riser height",
        kind=Kind.LENGTH,
        low=5,
        high=500,
        step=0.1,
        usually="what stands on it has to come to a height",
        feature="height",
    ),
    Parameter(
        name="height_tolerance", label="Height tolerance ±", kind=Kind.LENGTH, low=0.002, high=5, step=0.01, feature="height"
    ),
    Parameter(
        name="lower",
        label="Lower plate thickness",
        kind=Kind.LENGTH,
        low=5,
        high=200,
        step=0.1,
        words=("thicker", "thinner"),
        usually="from the rack",
        feature="height",
    ),
    Parameter(
        name="lower_tolerance", label="Lower plate tolerance ±", kind=Kind.LENGTH, low=0.001, high=1, step=0.005, feature="height"
    ),
    Parameter(
        name="upper",
        label="Upper plate thickness",
        kind=Kind.LENGTH,
        low=5,
        high=200,
        step=0.1,
        words=("thicker", "thinner"),
        usually="wanted − lower",
        feature="height",
    ),
    Parameter(
        name="upper_tolerance", label="Upper plate tolerance ±", kind=Kind.LENGTH, low=0.001, high=1, step=0.005, feature="height"
    ),
    Parameter(
        name="length",
        label="Plate length",
        kind=Kind.LENGTH,
        low=20,
        high=1000,
        step=1,
        words=("longer", "shorter"),
        feature="plate",
    ),
    Parameter(
        name="width",
        label="Plate width",
        kind=Kind.LENGTH,
        low=20,
        high=800,
        step=1,
        words=("wider", "narrower"),
        feature="plate",
    ),
    Parameter(
        name="slot_pitch",
        label="Slot spacing",
        kind=Kind.LENGTH,
        low=0,
        high=500,
        step=0.01,
        usually="0: only one; measured in Shop",
        feature="slots",
    ),
    Parameter(
        name="neck",
        label="Slot neck width",
        kind=Kind.READINGS,
        low=4,
        high=60,
        step=0.01,
        usually="measured in Shop",
        feature="slots",
    ),
    Parameter(
        name="lip", label="Lip depth", kind=Kind.READINGS, low=1, high=60, step=0.05, usually="measured in Shop", feature="slots"
    ),
    Parameter(
        name="slot_depth",
        label="Slot depth",
        kind=Kind.READINGS,
        low=2,
        high=120,
        step=0.05,
        usually="measured in Shop",
        feature="slots",
    ),
    Parameter(
        name="nut_neck_height",
        label="T-nut neck height",
        kind=Kind.LENGTH,
        low=0,
        high=60,
        step=0.1,
        usually="of the nut you have",
        feature="bolts",
    ),
    Parameter(
        name="nut_full_thread",
        label="T-nut full thread",
        kind=Kind.LENGTH,
        low=1,
        high=100,
        step=0.1,
        usually="from its top to where the tap stopped",
        feature="bolts",
    ),
    Parameter(
        name="centred_over",
        label="Plate centre",
        kind=Kind.CHOICE,
        unit="",
        choices=(("slot", "over a slot"), ("between", "between two slots")),
        feature="slots",
    ),
    Parameter(
        name="bolt",
        label="Table bolt size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((b, b) for b in BOLTS),
        usually="the largest that goes into the slot",
        feature="bolts",
    ),
    Parameter(
        name="bolts",
        label="Table bolt positions",
        kind=Kind.PLACES,
        unit="",
        usually="right through everything, on the slots",
        feature="bolts",
    ),
    Parameter(
        name="joining_screw",
        label="Joining screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((b, b) for b in BOLTS[:5]),
        usually="upper plate into threads of the lower",
        feature="joining_positions",
    ),
    Parameter(
        name="joining_positions",
        label="Joining screw positions",
        kind=Kind.PLACES,
        unit="",
        usually="clear of the bolts",
        feature="joining_positions",
    ),
    Parameter(
        name="joining_holes",
        label="Joining hole making",
        kind=Kind.CHOICE,
        unit="",
        choices=WHEN,
        usually="spotted through the upper plate",
        feature="joining_positions",
    ),
    Parameter(
        name="top_thread", label="Top hole thread", kind=Kind.THREAD, unit="", usually="of what stands on it", feature="top holes"
    ),
    Parameter(
        name="top_positions",
        label="Top hole positions",
        kind=Kind.PLACES,
        unit="",
        usually="of what stands on it",
        feature="top holes",
    ),
    Parameter(
        name="register_diameter",
        label="Register Ø",
        kind=Kind.LENGTH,
        low=0,
        high=200,
        step=0.01,
        usually="0: none; a plug in it centres what stands on top",
        feature="register_diameter",
    ),
    Parameter(
        name="register_depth",
        label="Register depth",
        kind=Kind.LENGTH,
        low=1,
        high=100,
        step=0.5,
        words=("deeper", "shallower"),
        feature="register_diameter",
    ),
    Parameter(
        name="plug_diameter",
        label="Register plug Ø",
        kind=Kind.LENGTH,
        low=0.5,
        high=200,
        step=0.001,
        usually="as measured",
        feature="register_diameter",
    ),
    Parameter(
        name="load_x",
        label="Load position X",
        kind=Kind.LENGTH,
        low=-1000,
        high=1000,
        step=1,
        usually="straight down there, from the middle",
        feature="load",
    ),
    Parameter(name="load_y", label="Load position Y", kind=Kind.LENGTH, low=-1000, high=1000, step=1, feature="load"),
    *made_of("plate"),
)


class RiserSizes:
    """The arithmetic of one riser.

    Raises:
        ShopError: What makes none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.two, self.length, self.width = v.word("kind") == "two", v.number("length"), v.number("width")
        self.lower = v.number("lower")
        self.upper = v.number("upper") if self.two else 0.0
        self.register, self.register_depth, self.bolt = v.number("register_diameter"), v.number("register_depth"), v.word("bolt")
        beside = next((h for h in (*self.bolts, *self.joins, *self.tops) if self.edge(h.x, h.y) <= 0), None)
        if beside is not None:
            entry = {"bolts": "bolts", "joining_positions": "joining_positions"}.get(beside.feature, "top_positions")
            raise ShopError(
                "Holes",
                f"{beside.name} at {length(beside.x)}, {length(beside.y)} lies beside the plate",
                f"x goes to ±{length(self.length / 2)}, y to ±{length(self.width / 2)}, from the middle",
                "Move it in, or make the plate larger",
                entry=entry,
            )
        if self.register and self.register_depth >= self.top_thickness - 1:
            raise ShopError(
                "Register",
                f"{length(self.register_depth)} into {length(self.top_thickness)} {LENGTH_UNIT}",
                "Its floor would be gone",
                "Make it shallower",
                entry="register_depth",
            )
        if self.register >= min(self.length, self.width):
            raise ShopError(
                "Register",
                f"Ø{length(self.register)} in a plate of {length(min(self.length, self.width))}",
                "It breaks out at the sides",
                "Make it smaller",
                entry="register_diameter",
            )
        if any(h.bore_depth >= self.top_thickness - 0.5 for h in (*self.bolts, *self.joins)):
            raise ShopError(
                "Bolts",
                f"a head counterbored {length(self.bolts[0].bore_depth)} into {length(self.top_thickness)} {LENGTH_UNIT}",
                "Nothing would be left under it",
                "Make the top plate thicker or the bolts smaller",
                entry="upper" if self.two else "lower",
            )

    @property
    def height(self) -> float:
        return self.lower + self.upper

    @property
    def top_thickness(self) -> float:
        """Of the plate the heads are counterbored in."""
        return self.upper if self.two else self.lower

    @property
    def part(self) -> str:
        """Which plate is drawn."""
        return self.v.word("part") if self.two else "upper"

    @property
    def thickness(self) -> float:
        """Of the drawn plate."""
        return self.lower if self.part == "lower" else self.top_thickness

    @property
    def worst(self) -> float:
        """How far the height may be off, both plates at their limits."""
        return self.v.number("lower_tolerance") + (self.v.number("upper_tolerance") if self.two else 0.0)

    @property
    def likely(self) -> float:
        return math.hypot(self.v.number("lower_tolerance"), self.v.number("upper_tolerance") if self.two else 0.0)

    def edge(self, x: float, y: float) -> float:
        return min(self.length / 2 - abs(x), self.width / 2 - abs(y))

    def _points(self, name: str) -> tuple[Point, ...]:
        return read_places(self.v.word(name), "mm", sentence(name)).points

    # --- holes, as they are in the plate the heads are in ------------------------------------------------------------

    @cached_property
    def bolts(self) -> tuple[Hole, ...]:
        return tuple(
            counterbored(f"B{i}", x, y, self.bolt, use="right through, to the slot")
            for i, (x, y) in enumerate(self._points("bolts"), 1)
        )

    @cached_property
    def joins(self) -> tuple[Hole, ...]:
        if not self.two:
            return ()
        return tuple(
            counterbored(f"J{i}", x, y, self.v.word("joining_screw"), feature="joining_positions", use="into the lower plate")
            for i, (x, y) in enumerate(self._points("joining_positions"), 1)
        )

    @cached_property
    def tops(self) -> tuple[Hole, ...]:
        """Blind threads: a screw may not reach the joint."""
        thread = self.v.word("top_thread")
        found = []
        for i, (x, y) in enumerate(self._points("top_positions"), 1):
            one = tapped(f"T{i}", x, y, thread, feature="top holes")
            deep = round(1.5 * one.d, 1)
            found.append(tapped(f"T{i}", x, y, thread, thread_deep=deep, feature="top holes", use="for what stands on it"))
        return tuple(found)

    @cached_property
    def holes(self) -> tuple[Hole, ...]:
        """Of the drawn plate."""
        register = (
            (
                Hole(
                    name="R",
                    x=0.0,
                    y=0.0,
                    drill=self.register,
                    depth=self.register_depth,
                    feature="register_diameter",
                    use="register, bored",
                    size="register_diameter",
                ),
            )
            if self.register
            else ()
        )
        if self.part == "upper":
            return (*register, *self.bolts, *self.joins, *self.tops)
        clear = clearance_hole(self.bolt, "medium").value
        after = "at assembly, spotted through the upper plate" if self.at_assembly else ""
        through = tuple(
            Hole(name=h.name, x=h.x, y=h.y, drill=clear, feature="bolts", use="the bolt goes right through") for h in self.bolts
        )
        threads = tuple(
            tapped(h.name, h.x, h.y, self.v.word("joining_screw"), feature="joining_positions", use=after) for h in self.joins
        )
        return (*through, *threads)

    @property
    def at_assembly(self) -> bool:
        return self.two and self.v.word("joining_holes") == "assembly"

    # --- held --------------------------------------------------------------------------------------------------------

    @property
    def clear(self) -> float:
        return (clearance_hole(self.bolt, "medium").value - float(self.bolt[1:])) / 2

    def off_slot(self, hole: Hole) -> float:
        return off_slots(hole.y, self.v.number("slot_pitch"), over=self.v.word("centred_over") == "slot")

    @property
    def under_head(self) -> float:
        """Metal under a bolt's head, down to the table."""
        return self.height - (self.bolts[0].bore_depth if self.bolts else 0.0)

    @property
    def nut_down(self) -> tuple[float, float]:
        """How far the pulled-up nut's top lies below the table, where the lips are shallowest and where they are deepest."""
        lip, neck = self.v.readings("lip"), self.v.number("nut_neck_height")
        return max(0.0, lip.min - neck), max(0.0, lip.max - neck)

    @property
    def bolt_least(self) -> float:
        """One diameter of thread where the lips are deepest."""
        return self.under_head + self.nut_down[1] + float(self.bolt[1:])

    @property
    def bolt_most(self) -> float:
        """To the end of the nut's full thread where the lips are shallowest, and never nearer than 0.5 to the slot's floor."""
        in_nut = self.under_head + self.nut_down[0] + self.v.number("nut_full_thread")
        return min(in_nut, self.under_head + self.v.readings("slot_depth").min - FLOOR_MM)

    @property
    def bolt_length(self) -> float:
        """A sold length: the shortest with a diameter of thread that is not too long, else the longest that is not."""
        good = [n for n in SOLD_LENGTHS if n <= self.bolt_most]
        return float(next((n for n in good if n >= self.bolt_least), good[-1] if good else round_down(self.bolt_most, 0.5)))

    @cached_property
    def polygon(self) -> Ring:
        """Round the bolts."""
        return hull([(b.x, b.y) for b in self.bolts]) if len(self.bolts) > 2 else tuple((b.x, b.y) for b in self.bolts)

    @cached_property
    def load_inside(self) -> float:
        """How far inside the bolts' polygon the load acts; below 0 outside, mm. A single row has no inside."""
        p = (self.v.number("load_x"), self.v.number("load_y"))
        ring = self.polygon
        if len(ring) < 3:
            if len(ring) < 2:
                return -math.inf
            return -_from_line(p, ring[0], ring[1])
        sides = [
            (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)
        ]
        lengths = [math.dist(a, b) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)]
        return min(s / n for s, n in zip(sides, lengths, strict=True))

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def assembly_kg(self) -> float:
        """Of all that is lifted: both plates when there are two, the other one without its holes taken off."""
        other = (self.height - self.thickness) * self.length * self.width if self.two else 0.0
        return (self.volume + other) * self.density * 1e-9

    @property
    def volume(self) -> float:
        """Of the drawn plate less its holes, mm³; points of drills not counted."""
        gone = 0.0
        for h in self.holes:
            gone += math.pi / 4 * (h.drill**2 * ((h.depth or self.thickness) - h.bore_depth) + h.bore**2 * h.bore_depth)
        return self.length * self.width * self.thickness - gone


def _from_line(p: Point, a: Point, b: Point) -> float:
    long = math.dist(a, b)
    return abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / long if long else math.dist(p, a)
