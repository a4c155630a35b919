"""What a fixture plate asks for, and where its holes come to lie. x, y from the middle of the plate, z from its underside; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, counterbored, reamed, screw_size, tapped
from elbrix.design.hosts import off_slots
from elbrix.design.made_of import made_of
from elbrix.mechanics.pins import PRESS, hole_limits, relieved_accept_mm, two_full_accept_mm
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import Places, Point, read_places
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import sentence
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material

KINDS: Final = (("grid", "a grid, for anything"), ("work", "for one piece of work"), ("rotary", "for the rotary table"))
HELD: Final = (("tapped", "into threads of the plate"), ("sunk", "by screws from below, into the work"))
PINS: Final = (("none", "none"), ("full", "two full pins"), ("relieved", "one full, one relieved"))
WHEN: Final = (("now", "now, by ordinates"), ("assembly", "at assembly, through the work"))
BOLTS: Final = ("M5", "M6", "M8", "M10", "M12", "M16")
#: Land of a relieved pin as a share of its Ø. Source: shop practice.
LAND: Final = 1 / 3
#: Lifted by one person without thinking, kg.

#: How much over its size the hole over a rotary table's centre pin may come out, mm.
CENTRE_OVER: Final = 0.01

PARAMETERS: Final = (
    Parameter(name="kind", label="Plate type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="plate"),
    Parameter(
        name="slot_pitch",
        label="Slot spacing",
        kind=Kind.LENGTH,
        low=0,
        high=500,
        step=0.01,
        usually="0: on a ring slot; measured in Shop",
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
        name="centred_over",
        label="Plate centre",
        kind=Kind.CHOICE,
        unit="",
        choices=(("slot", "over a slot"), ("between", "between two slots")),
        feature="slots",
    ),
    Parameter(
        name="ring_radius",
        label="Ring slot radius",
        kind=Kind.LENGTH,
        low=0,
        high=1000,
        step=0.1,
        usually="0: straight slots; measured in Shop",
        feature="slots",
    ),
    Parameter(
        name="centre_hole",
        label="Centre hole Ø",
        kind=Kind.LENGTH,
        low=0,
        high=200,
        step=0.005,
        usually="0: none; over a pin in the rotary table's bore",
        feature="centre_hole",
    ),
    Parameter(name="table_length", label="Table length", kind=Kind.LENGTH, low=50, high=6000, step=1, feature="slots"),
    Parameter(name="table_width", label="Table width", kind=Kind.LENGTH, low=30, high=3000, step=1, feature="slots"),
    Parameter(
        name="length",
        label="Plate length",
        kind=Kind.LENGTH,
        low=20,
        high=2000,
        step=1,
        words=("longer", "shorter"),
        feature="plate",
    ),
    Parameter(
        name="width",
        label="Plate width",
        kind=Kind.LENGTH,
        low=20,
        high=1500,
        step=1,
        words=("wider", "narrower"),
        feature="plate",
    ),
    Parameter(
        name="thickness",
        label="Plate thickness",
        kind=Kind.LENGTH,
        low=5,
        high=120,
        step=1,
        words=("thicker", "thinner"),
        usually="counterbored heads with 0.8 d under them, and the threads",
        feature="plate",
    ),
    Parameter(
        name="datum",
        label="Hole datum",
        kind=Kind.CHOICE,
        unit="",
        choices=(("middle", "the middle"), ("corner", "the low left corner")),
        feature="plate",
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
        usually="on the slots, as far apart as the plate allows",
        feature="bolts",
    ),
    Parameter(
        name="pattern",
        label="Work hole positions",
        kind=Kind.PLACES,
        unit="",
        usually="grid 25; row 20,10 + 4 x 25; circle 6 on 90; pairs; a table or DXF",
        feature="work holes",
    ),
    Parameter(name="fastening", label="Work fastening", kind=Kind.CHOICE, unit="", choices=HELD, feature="work holes"),
    Parameter(name="work_thread", label="Work screw thread", kind=Kind.THREAD, unit="", feature="work holes"),
    Parameter(
        name="mirrored",
        label="Work orientation",
        kind=Kind.CHOICE,
        unit="",
        choices=(("no", "as drawn"), ("yes", "upside down: pattern mirrored")),
        feature="work holes",
    ),
    Parameter(
        name="pins",
        label="Locating pins",
        kind=Kind.CHOICE,
        unit="",
        choices=PINS,
        usually="one relieved when the spacing is off by more than the play",
        feature="pins",
    ),
    Parameter(
        name="pin_positions", label="Pin positions", kind=Kind.PLACES, unit="", usually="two places, far apart", feature="pins"
    ),
    Parameter(
        name="pin_diameter", label="Pin Ø", kind=Kind.LENGTH, low=2, high=40, step=0.001, usually="as measured", feature="pins"
    ),
    Parameter(
        name="pin_clearance",
        label="Pin clearance in the work",
        kind=Kind.LENGTH,
        low=0,
        high=0.5,
        step=0.001,
        words=("more", "less"),
        usually=f"{length(0.01)} to {length(0.025)} slides",
        feature="pins",
    ),
    Parameter(
        name="spacing_error",
        label="Pin spacing error",
        kind=Kind.LENGTH,
        low=0,
        high=1,
        step=0.005,
        usually="work against plate, at worst",
        feature="pins",
    ),
    Parameter(name="pin_holes", label="Pin hole making", kind=Kind.CHOICE, unit="", choices=WHEN, feature="pins"),
    Parameter(
        name="old_holes",
        label="Existing hole positions",
        kind=Kind.PLACES,
        unit="",
        usually="an owned plate's, from the same datum",
        feature="old holes",
    ),
    Parameter(
        name="old_hole_diameter", label="Existing hole Ø", kind=Kind.LENGTH, low=1, high=100, step=0.1, feature="old holes"
    ),
    Parameter(
        name="cutter_path",
        label="Cutter path",
        kind=Kind.PLACES,
        unit="",
        usually="corner to corner over the plate; none: not known",
        feature="cutter_path",
    ),
    Parameter(name="cutter_diameter", label="Cutter Ø", kind=Kind.LENGTH, low=1, high=200, step=0.5, feature="cutter_path"),
    Parameter(
        name="work_kg",
        label="Work mass",
        kind=Kind.NUMBER,
        unit="kg",
        low=0,
        high=500,
        step=0.5,
        usually="lifted together with the plate",
    ),
    *made_of("plate"),
)


class FixturePlateSizes:
    """The arithmetic of one plate.

    Raises:
        ShopError: What makes no plate.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.length, self.width, self.thickness = v.number("length"), v.number("width"), v.number("thickness")
        self.kind, self.bolt, self.held = v.word("kind"), v.word("bolt"), v.word("fastening")
        self.pitch, self.ring, self.centre = v.number("slot_pitch"), v.number("ring_radius"), v.number("centre_hole")
        self.pin, self.play = v.number("pin_diameter"), v.number("pin_clearance")
        self.cutter = v.number("cutter_diameter")
        outside = [(h, x, y) for h in self.holes for x, y in ((h.x, h.y),) if self.edge(x, y) <= 0]
        if outside:
            h, x, y = outside[0]
            entry = {"bolts": "bolts", "pins": "pin_positions"}.get(h.feature, "pattern")
            raise ShopError(
                "Holes",
                f"{h.name} at {length(x - self.x0)}, {length(y - self.y0)} lies beside the plate",
                f"From the {self.datum} x goes from {length(-self.length / 2 - self.x0)} to"
                f" {length(self.length / 2 - self.x0)}, y from {length(-self.width / 2 - self.y0)} to"
                f" {length(self.width / 2 - self.y0)}",
                "Count from the datum, or make the plate larger",
                entry=entry,
            )
        if self.floor <= 0.5:
            raise ShopError(
                "Table bolts",
                f"a head counterbored {length(self._a_bolt.bore_depth)} into a plate of {length(self.thickness)} {LENGTH_UNIT}",
                "Nothing would be left under it",
                "Make the plate thicker or the bolts smaller",
                entry="thickness",
            )

    # --- datum -------------------------------------------------------------------------------------------------------

    @property
    def datum(self) -> str:
        return "low left corner" if self.v.word("datum") == "corner" else "middle"

    @property
    def x0(self) -> float:
        """Of the datum, from the middle."""
        return -self.length / 2 if self.v.word("datum") == "corner" else 0.0

    @property
    def y0(self) -> float:
        return -self.width / 2 if self.v.word("datum") == "corner" else 0.0

    def edge(self, x: float, y: float) -> float:
        """From a place to the nearest edge; below 0 outside."""
        return min(self.length / 2 - abs(x), self.width / 2 - abs(y))

    def _read(self, name: str) -> Places:
        return read_places(self.v.word(name), "mm", sentence(name))

    def _points(self, name: str) -> tuple[Point, ...]:
        """Typed places, from the middle."""
        return tuple((x + self.x0, y + self.y0) for x, y in self._read(name).points)

    # --- holes -------------------------------------------------------------------------------------------------------

    @cached_property
    def _a_bolt(self) -> Hole:
        return counterbored("B", 0.0, 0.0, self.bolt)

    @property
    def floor(self) -> float:
        """Metal under a bolt's head."""
        return self.thickness - self._a_bolt.bore_depth

    @cached_property
    def bolts(self) -> tuple[Hole, ...]:
        use = f"for {self.bolt} to the table"
        return tuple(counterbored(f"B{i}", x, y, self.bolt, use=use) for i, (x, y) in enumerate(self._points("bolts"), 1))

    @cached_property
    def pins(self) -> tuple[Hole, ...]:
        """Pin holes: the first for the full pin."""
        mode = self.v.word("pins")
        if mode == "none":
            return ()
        after = ", at assembly, through the work" if self.at_assembly else ""
        uses = ("full pin", "relieved pin, its lands across the line" if mode == "relieved" else "full pin")
        size = round(self.pin - 0.008, 3)  # the pin is pressed into the plate
        return tuple(
            reamed(f"P{i}", self.mirror * x, y, size, limits=hole_limits(size, self.pin, PRESS), use=uses[i - 1] + after)
            for i, (x, y) in enumerate(self._points("pin_positions")[:2], 1)
        )

    @property
    def mirror(self) -> float:
        """Work that lies upside down is turned over about the plate's y: its x, of screws and pins alike, change sign."""
        return -1.0 if self.v.word("mirrored") == "yes" else 1.0

    @property
    def at_assembly(self) -> bool:
        return self.v.word("pin_holes") == "assembly"

    @cached_property
    def taken(self) -> tuple[Hole, ...]:
        return tuple(
            Hole(name=f"O{i}", x=x, y=y, drill=self.v.number("old_hole_diameter"), feature="old holes", use="there already")
            for i, (x, y) in enumerate(self._points("old_holes"), 1)
        )

    @cached_property
    def work_holes(self) -> tuple[Hole, ...]:
        """As typed or read, mirrored if wanted; a grid leaves out what would meet anything else."""
        places = self._read("pattern")
        if not places.grid_mm:
            return tuple(self._work(i, self.mirror * (x + self.x0), y + self.y0) for i, (x, y) in enumerate(places.points, 1))
        probe = self._work(0, 0.0, 0.0)
        inset = 1.5 * probe.d
        nx, ny = (int((side / 2 - inset) // places.grid_mm) for side in (self.length, self.width))
        if (2 * nx + 1) * (2 * ny + 1) > 900:
            raise ShopError(
                "Work holes",
                f"a grid of {(2 * nx + 1) * (2 * ny + 1)} holes",
                "Nobody taps that many",
                "Choose a wider grid",
                entry="pattern",
            )
        others = (*self.bolts, *self.pins, *self.taken)
        spots = [(i * places.grid_mm, j * places.grid_mm) for i in range(-nx, nx + 1) for j in range(-ny, ny + 1)]
        free = [
            p
            for p in spots
            if all(math.dist(p, (o.x, o.y)) >= (probe.mouth + o.mouth) / 2 + 0.5 * probe.d for o in others)
            and math.hypot(*p) >= (self.centre / 2 + 1.5 * probe.d if self.centre else 0.0)
        ]
        return tuple(self._work(i, x, y) for i, (x, y) in enumerate(free, 1))

    def _work(self, number: int, x: float, y: float) -> Hole:
        thread = self.v.word("work_thread")
        if self.held == "sunk":
            return counterbored(f"W{number}", x, y, screw_size(thread), feature="work holes", below=True, use="up into the work")
        return tapped(f"W{number}", x, y, thread, feature="work holes")

    @property
    def holes(self) -> tuple[Hole, ...]:
        """Everything there is to make."""
        limits = (0.0, CENTRE_OVER)
        middle = reamed("C", 0.0, 0.0, self.centre, limits=limits, feature="centre_hole", use="over the centre pin")
        return (*((middle,) if self.centre else ()), *self.bolts, *self.pins, *self.work_holes)

    # --- how it lies -------------------------------------------------------------------------------------------------

    @property
    def clear(self) -> float:
        """Bolt hole less bolt: it may lie off by half of that."""
        return self._a_bolt.drill - float(self.bolt[1:])

    @cached_property
    def bolt_span(self) -> float:
        """Farthest two bolts are apart."""
        return max((math.dist((a.x, a.y), (b.x, b.y)) for a in self.bolts for b in self.bolts), default=0.0)

    @property
    def turn_deg(self) -> float:
        """How far the plate can turn on its bolts, either way: (D − d)/S."""
        return math.degrees(self.clear / self.bolt_span) if self.bolt_span else 180.0

    def off_slot(self, hole: Hole) -> float:
        """From a bolt to the middle of the nearest slot, mm."""
        if self.ring:
            return abs(math.hypot(hole.x, hole.y) - self.ring)
        return off_slots(hole.y, self.pitch, over=self.v.word("centred_over") == "slot")

    @cached_property
    def pin_spacing(self) -> float:
        return math.dist((self.pins[0].x, self.pins[0].y), (self.pins[1].x, self.pins[1].y)) if len(self.pins) == 2 else 0.0

    @property
    def accepted(self) -> float:
        """Spacing error the pins accept."""
        if self.v.word("pins") == "relieved":
            return relieved_accept_mm(self.pin + self.play, self.pin, LAND * self.pin, self.play)
        return two_full_accept_mm(self.play, self.play)

    @cached_property
    def path(self) -> tuple[Point, ...]:
        return self._points("cutter_path")

    def from_path(self, hole: Hole) -> float:
        """Metal between a hole and what the cutter sweeps, mm."""
        ends = list(zip(self.path, self.path[1:], strict=False)) or [(self.path[0], self.path[0])]
        return min(_to_line((hole.x, hole.y), a, b) for a, b in ends) - self.cutter / 2 - hole.mouth / 2

    @cached_property
    def volumes(self) -> tuple[float, float]:
        """Of the block, and of all its holes."""
        gone = 0.0
        for h in (*self.holes, *self.taken):
            shaft = h.drill if h.threaded else h.ream or h.drill
            gone += math.pi / 4 * (shaft**2 * (self.thickness - h.bore_depth) + h.bore**2 * h.bore_depth)
        return self.length * self.width * self.thickness, gone

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def mass_kg(self) -> float:
        return (self.volumes[0] - self.volumes[1]) * self.density * 1e-9


def _to_line(p: Point, a: Point, b: Point) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    long = dx * dx + dy * dy
    t = 0.0 if not long else max(0.0, min(1.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / long))
    return math.dist(p, (a[0] + t * dx, a[1] + t * dy))
