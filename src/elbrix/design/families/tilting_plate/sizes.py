"""The sizes of a tilting plate.

X along the bar, y across from the bar's axis, z up from the plate's underside; mm. The plate turns about the bar's
axis.
"""

from __future__ import annotations

import math
from functools import cached_property, lru_cache
from typing import Final

from msgspec import Struct

from elbrix.design.bores import Hole, counterbored, tapped
from elbrix.design.made_of import made_of
from elbrix.geometry.shapes import Ring, overlap
from elbrix.mechanics.drilling import point_mm, tapped_mm
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import material
from elbrix.standards.threads import Thread, find_thread

SCREWS: Final = ("M4", "M5", "M6", "M8", "M10")
#: Metal left in the bar under a screw's drill point; room over the bar's top in the notch, mm.
UNDER_POINT: Final = 2.0
OVER_BAR: Final = 0.3
_FINE: Final = math.radians(0.02)

PARAMETERS: Final = (
    Parameter(
        name="part",
        label="Part shown",
        kind=Kind.CHOICE,
        unit="",
        choices=(("plate", "the plate"), ("bar", "the round bar")),
        feature="plate",
    ),
    Parameter(name="vise", label="Vise", kind=Kind.TEXT, unit="", usually="its name in Shop", feature="vise"),
    Parameter(
        name="jaw_height",
        label="Jaw height",
        kind=Kind.LENGTH,
        low=8,
        high=300,
        step=0.5,
        usually="measured in Shop",
        feature="vise",
    ),
    Parameter(
        name="jaw_thickness",
        label="Jaw thickness",
        kind=Kind.LENGTH,
        low=3,
        high=150,
        step=0.5,
        usually="measured in Shop",
        feature="vise",
    ),
    Parameter(
        name="tilt",
        label="Tilt angle",
        kind=Kind.NUMBER,
        unit="deg",
        low=0,
        high=80,
        step=1,
        words=("steeper", "flatter"),
        feature="tilt",
    ),
    Parameter(
        name="bar_diameter",
        label="Bar Ø",
        kind=Kind.LENGTH,
        low=8,
        high=120,
        step=1,
        words=("thicker", "thinner"),
        usually="as thick as the jaws are high, from the rack",
        feature="bar",
    ),
    Parameter(
        name="bar_length",
        label="Bar length",
        kind=Kind.LENGTH,
        low=20,
        high=800,
        step=1,
        words=("longer", "shorter"),
        usually="the jaws' width",
        feature="bar",
    ),
    Parameter(
        name="axis_depth",
        label="Axis depth below jaw top",
        kind=Kind.LENGTH,
        low=0,
        high=50,
        step=0.5,
        words=("lower", "higher"),
        usually=f"{length(1)}: the jaws hold it on its full Ø",
        feature="bar",
    ),
    Parameter(
        name="notch_width",
        label="Notch width",
        kind=Kind.LENGTH,
        low=4,
        high=100,
        step=0.5,
        words=("wider", "narrower"),
        usually="0.6 of the bar: it lies on two edges",
        feature="notch_width",
    ),
    Parameter(
        name="notch_depth",
        label="Notch depth",
        kind=Kind.LENGTH,
        low=0.5,
        high=50,
        step=0.1,
        words=("deeper", "shallower"),
        usually="the bar's top clear of its floor",
        feature="notch_width",
    ),
    Parameter(
        name="front_length",
        label="Plate length, front",
        kind=Kind.LENGTH,
        low=5,
        high=400,
        step=1,
        words=("farther", "less"),
        feature="plate",
    ),
    Parameter(
        name="rear_length",
        label="Plate length, rear",
        kind=Kind.LENGTH,
        low=5,
        high=400,
        step=1,
        words=("farther", "less"),
        feature="plate",
    ),
    Parameter(
        name="length",
        label="Plate length along bar",
        kind=Kind.LENGTH,
        low=20,
        high=800,
        step=1,
        words=("longer", "shorter"),
        feature="plate",
    ),
    Parameter(
        name="thickness",
        label="Plate thickness",
        kind=Kind.LENGTH,
        low=8,
        high=80,
        step=1,
        words=("thicker", "thinner"),
        usually="counterbored head, 0.8 d and the notch",
        feature="plate",
    ),
    Parameter(
        name="screw", label="Bar screw size", kind=Kind.CHOICE, unit="", choices=tuple((s, s) for s in SCREWS), feature="screws"
    ),
    Parameter(
        name="screw_spacing",
        label="Bar screw spacing",
        kind=Kind.LENGTH,
        low=8,
        high=780,
        step=1,
        words=("farther", "nearer"),
        feature="screws",
    ),
    Parameter(
        name="pattern",
        label="Work hole positions",
        kind=Kind.PLACES,
        unit="",
        usually="from the middle of the length and the bar's axis; grid 20",
        feature="work holes",
    ),
    Parameter(name="work_thread", label="Work hole thread", kind=Kind.THREAD, unit="", feature="work holes"),
    Parameter(
        name="reading_resolution",
        label="Reading resolution",
        kind=Kind.NUMBER,
        unit="deg",
        low=0.001,
        high=2,
        step=0.05,
        usually="of the level or protractor",
        feature="tilt",
    ),
    Parameter(
        name="tool_error",
        label="Instrument error ±",
        kind=Kind.NUMBER,
        unit="deg",
        low=0,
        high=2,
        step=0.05,
        usually="its maker's figure",
        feature="tilt",
    ),
    *made_of("plate"),
)


class Set(Struct, frozen=True):
    """Plate, bar and vise from the end: all that says how far it tilts. y, z about the bar's axis; mm."""

    front: float
    back: float
    drop: float
    thickness: float
    bar: float
    below: float
    jaw_thickness: float
    jaw_height: float

    def plate(self, tilt_rad: float) -> Ring:
        c, s = math.cos(tilt_rad), math.sin(tilt_rad)
        corners = (
            (-self.front, self.drop),
            (self.back, self.drop),
            (self.back, self.drop + self.thickness),
            (-self.front, self.drop + self.thickness),
        )
        return tuple((y * c - z * s, y * s + z * c) for y, z in corners)

    @property
    def hosts(self) -> tuple[Ring, ...]:
        """Both jaws and the bed."""
        r, t, up = self.bar / 2, self.jaw_thickness, self.below
        bed = up - self.jaw_height
        far = 3 * (self.front + self.back + t)
        return (
            ((r, bed), (r + t, bed), (r + t, up), (r, up)),
            ((-r - t, bed), (-r, bed), (-r, up), (-r - t, up)),
            ((-far, bed - 50), (far, bed - 50), (far, bed), (-far, bed)),
        )

    def touches(self, tilt_rad: float) -> bool:
        """Whether the plate runs into a jaw or the bed."""
        ring = self.plate(tilt_rad)
        return any(overlap(ring, host) for host in self.hosts)


@lru_cache(maxsize=256)
def first_touch(at: Set, sign: float) -> float:
    """Tilt at which something touches first, radians, at the most 80°: walked, then halved.

    Args:
        sign: +1 front down, −1 back down.
    """
    if at.touches(0.0):
        return 0.0
    step, tilt, most = math.radians(0.5), 0.0, math.radians(80)
    while tilt < most:
        if at.touches(sign * (tilt + step)):
            low, high = tilt, tilt + step
            while high - low > _FINE / 20:
                middle = (low + high) / 2
                low, high = (low, middle) if at.touches(sign * middle) else (middle, high)
            return low
        tilt += step
    return most


class TiltingPlateSizes:
    """The arithmetic of one plate on its bar.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.bar, self.notch, self.notch_depth, self.thickness = (
            v.number("bar_diameter"),
            v.number("notch_width"),
            v.number("notch_depth"),
            v.number("thickness"),
        )
        self.front, self.back, self.length, self.below = (
            v.number("front_length"),
            v.number("rear_length"),
            v.number("length"),
            v.number("axis_depth"),
        )
        if self.notch >= self.bar:
            raise ShopError(
                "Notch",
                f"{length(self.notch)} {LENGTH_UNIT} for a bar Ø{length(self.bar)}",
                "The bar would fall through it and lie on nothing",
                "Make it narrower than the bar",
                entry="notch_width",
            )
        if self.notch_depth >= self.thickness - 1:
            raise ShopError(
                "Notch",
                f"{length(self.notch_depth)} deep in a plate of {length(self.thickness)}",
                "The plate would be cut in two",
                "Make it shallower, or the plate thicker",
                entry="notch_depth",
            )
        if self.notch / 2 >= min(self.front, self.back):
            raise ShopError(
                "Plate",
                f"only {length(min(self.front, self.back))} on one side of the axis",
                f"The notch takes {length(self.notch / 2)} of it",
                "Make the plate wider there",
                entry="rear_length" if self.back < self.front else "front_length",
            )
        if self.floor <= 0.5:
            raise ShopError(
                "Plate",
                f"head counterbored {length(self.screws[0].bore_depth)} over a notch {length(self.notch_depth)} deep",
                f"Nothing is left between them in {length(self.thickness)} {LENGTH_UNIT}",
                "Make the plate thicker or the screws smaller",
                entry="thickness",
            )
        beside = next((h for h in self.holes if self.edge(h.x, h.y) <= 0), None)
        if beside is not None:
            raise ShopError(
                "Holes",
                f"{beside.name} at {length(beside.x)}, {length(beside.y)} lies beside the plate",
                f"x goes to ±{length(self.length / 2)}, y from {length(-self.front)} to {length(self.back)}",
                "Move it in",
                entry="pattern" if beside.feature == "work holes" else "screw_spacing",
            )
        if v.number("screw_spacing") + 3 * self.screw.major_mm > v.number("bar_length"):
            raise ShopError(
                "Bar",
                f"{length(v.number('bar_length'))} {LENGTH_UNIT} long under screws {length(v.number('screw_spacing'))} apart",
                "They go through its axis, 1.5 of their Ø from its ends",
                "Make it longer, or the screws nearer to each other",
                entry="bar_length",
            )

    # --- the bar in its notch ----------------------------------------------------------------------------------------

    @property
    def drop(self) -> float:
        """Of the bar's axis below the plate's underside: √(D²/4 − w²/4)."""
        return math.sqrt(self.bar**2 - self.notch**2) / 2

    @property
    def sinks(self) -> float:
        """How far the bar's top stands into the notch."""
        return self.bar / 2 - self.drop

    @property
    def floor(self) -> float:
        """Metal between a counterbored head and the notch."""
        return self.thickness - self.notch_depth - self.screws[0].bore_depth

    def edge(self, x: float, y: float) -> float:
        return min(self.length / 2 - abs(x), y + self.front, self.back - y)

    @cached_property
    def screws(self) -> tuple[Hole, ...]:
        return tuple(
            counterbored(
                f"S{i}", k * self.v.number("screw_spacing") / 2, 0.0, self.v.word("screw"), feature="screws", use="into the bar"
            )
            for i, k in enumerate((-1, 1), 1)
        )

    @property
    def screw(self) -> Thread:
        return find_thread(parse_thread(self.v.word("screw")))

    @property
    def bar_shown(self) -> bool:
        """Whether the part shown is the bar."""
        return self.v.word("part") == "bar"

    @property
    def engaged(self) -> float:
        """Full thread in the bar: one and a half diameters, or what leaves two under the drill's point."""
        drill = self.screw.tap_drill[1]
        most = self.bar - UNDER_POINT - point_mm(drill) - tapped_mm(0.0, self.screw.pitch_mm)
        return max(0.0, min(1.5 * self.screw.major_mm, most))

    @property
    def bar_drilled(self) -> float:
        """Full drilled depth in the bar, from its top."""
        return tapped_mm(self.engaged, self.screw.pitch_mm)

    @property
    def bar_left(self) -> float:
        """Under the drill's point."""
        return self.bar - self.bar_drilled - point_mm(self.screw.tap_drill[1])

    @property
    def screw_length(self) -> float:
        """Under the head."""
        return self.floor + (self.notch_depth - self.sinks) + self.engaged

    @cached_property
    def work_holes(self) -> tuple[Hole, ...]:
        thread = self.v.word("work_thread")
        places = read_places(self.v.word("pattern"), "mm", "Work holes")
        if not places.grid_mm:
            return tuple(tapped(f"W{i}", x, y, thread, feature="work holes") for i, (x, y) in enumerate(places.points, 1))
        d, p = tapped("W", 0, 0, thread).d, places.grid_mm
        nx, ny = int(self.length / 2 // p), int(max(self.front, self.back) // p)
        spots = [(i * p, j * p) for i in range(-nx, nx + 1) for j in range(-ny, ny + 1) if self.edge(i * p, j * p) >= 1.5 * d]
        if len(spots) > 900:
            raise ShopError(
                "Work holes", f"a grid of {len(spots)} holes", "Nobody taps that many", "Choose a wider grid", entry="pattern"
            )
        # A thread over the notch would be short, one over a head none.
        free = [
            q
            for q in spots
            if abs(q[1]) >= self.notch / 2 + d
            and all(math.dist(q, (s.x, s.y)) >= (s.bore + d) / 2 + 0.5 * d for s in self.screws)
        ]
        return tuple(tapped(f"W{i}", x, y, thread, feature="work holes") for i, (x, y) in enumerate(free, 1))

    @property
    def holes(self) -> tuple[Hole, ...]:
        return (*self.screws, *self.work_holes)

    # --- how far it tilts --------------------------------------------------------------------------------------------

    @property
    def _set(self) -> Set:
        v = self.v
        return Set(
            self.front,
            self.back,
            self.drop,
            self.thickness,
            self.bar,
            self.below,
            v.number("jaw_thickness"),
            v.number("jaw_height"),
        )

    def plate_ring(self, tilt_rad: float) -> Ring:
        """The plate's end turned about the axis, which is the origin; + tilts its front, at −y, down."""
        return self._set.plate(tilt_rad)

    @property
    def hosts(self) -> tuple[Ring, ...]:
        """Both jaws and the bed, about the bar's axis."""
        return self._set.hosts

    @cached_property
    def front_down(self) -> float:
        """Largest tilt with its front down, degrees."""
        return math.degrees(first_touch(self._set, 1.0))

    @cached_property
    def back_down(self) -> float:
        return math.degrees(first_touch(self._set, -1.0))

    @property
    def setting_error(self) -> float:
        """Zeroed and read, each to half a step, and the tool's own error: √(2·(r/2)² + e²), degrees."""
        return math.sqrt(2 * (self.v.number("reading_resolution") / 2) ** 2 + self.v.number("tool_error") ** 2)

    @property
    def mass_kg(self) -> float:
        """Holes not taken off."""
        return self.volume * self.density * 1e-9

    @property
    def density(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def volume(self) -> float:
        """Of the plate with its notch, without holes, mm³."""
        return self.length * ((self.front + self.back) * self.thickness - self.notch * self.notch_depth)
