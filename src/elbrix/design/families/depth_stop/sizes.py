"""The sizes of a quill depth stop's slider. x, y from the axis of its sleeve, z up from its underside; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design import slit_clamp
from elbrix.design.bores import Hole, tapped
from elbrix.design.made_of import made_of
from elbrix.design.slit_clamp import SlitClamp
from elbrix.geometry.shapes import Ring, hull
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.parameters.places import Point, read_places
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length

WAYS: Final = (("between", "between tip and landing"), ("under", "under the slider"))
#: The sleeve over the widest place of its bore, and the slider over the sleeve, mm. Source: shop practice.
HOLD: Final = 0.003
SLIDE: Final = 0.02

PARAMETERS: Final = (
    Parameter(
        name="part",
        label="Part shown",
        kind=Kind.CHOICE,
        unit="",
        choices=(("slider", "the slider"), ("sleeve", "the sleeve")),
        feature="plate",
    ),
    Parameter(
        name="casting_bore",
        label="Bore of the casting",
        kind=Kind.TEXT,
        unit="",
        usually="a bore's name in Shop",
        feature="sleeve",
    ),
    Parameter(
        name="bore",
        label="Bore Ø",
        kind=Kind.READINGS,
        low=4,
        high=200,
        step=0.001,
        usually="crosswise at both ends",
        feature="sleeve",
    ),
    Parameter(name="bore_depth", label="Bore depth", kind=Kind.LENGTH, low=3, high=300, step=0.5, feature="sleeve"),
    Parameter(
        name="sleeve_pressed",
        label="Sleeve Ø, pressed end",
        kind=Kind.LENGTH,
        low=4,
        high=200,
        step=0.005,
        words=("larger", "smaller"),
        usually=f"widest bore + {length(0.003)}",
        feature="sleeve",
    ),
    Parameter(
        name="sleeve",
        label="Sleeve Ø, sliding end",
        kind=Kind.LENGTH,
        low=4,
        high=200,
        step=0.01,
        words=("larger", "smaller"),
        usually=f"a shoulder of {length(2)} over the pressed part",
        feature="sleeve",
    ),
    Parameter(
        name="sleeve_bore",
        label="Sleeve bore Ø",
        kind=Kind.LENGTH,
        low=2,
        high=190,
        step=0.5,
        words=("larger", "smaller"),
        usually="what passes through it",
        feature="sleeve",
    ),
    Parameter(
        name="sleeve_height",
        label="Sleeve height",
        kind=Kind.LENGTH,
        low=4,
        high=300,
        step=1,
        words=("higher", "lower"),
        usually=f"above the casting: the slider, its travel and {length(10)}",
        feature="sleeve",
    ),
    Parameter(
        name="slider_bore",
        label="Slider bore Ø",
        kind=Kind.LENGTH,
        low=4,
        high=200,
        step=0.01,
        usually=f"sleeve + {length(0.02)}",
        feature="bore",
    ),
    Parameter(
        name="thickness",
        label="Slider thickness",
        kind=Kind.LENGTH,
        low=6,
        high=60,
        step=1,
        words=("thicker", "thinner"),
        feature="plate",
    ),
    Parameter(
        name="width",
        label="Slider width",
        kind=Kind.LENGTH,
        low=12,
        high=200,
        step=1,
        words=("wider", "narrower"),
        feature="plate",
    ),
    Parameter(
        name="front_length",
        label="Slider length, front",
        kind=Kind.LENGTH,
        low=8,
        high=250,
        step=1,
        words=("farther", "less"),
        feature="plate",
    ),
    Parameter(
        name="rear_length",
        label="Slider length, rear",
        kind=Kind.LENGTH,
        low=8,
        high=200,
        step=1,
        words=("farther", "less"),
        feature="plate",
    ),
    Parameter(
        name="tip_distance",
        label="Tip distance from axis",
        kind=Kind.LENGTH,
        low=5,
        high=240,
        step=0.5,
        words=("farther", "nearer"),
        feature="tip",
    ),
    Parameter(
        name="tip_thread", label="Tip thread", kind=Kind.THREAD, unit="", usually="a fine one is set closer", feature="tip"
    ),
    Parameter(
        name="feet",
        label="Foot positions",
        kind=Kind.PLACES,
        unit="",
        usually="three, round the tip and the axis",
        feature="feet",
    ),
    Parameter(
        name="foot_thread",
        label="Foot thread",
        kind=Kind.THREAD,
        unit="",
        usually="screws with a flat end, fitted to the casting",
        feature="feet",
    ),
    Parameter(name="stack_place", label="Gauge stack position", kind=Kind.CHOICE, unit="", choices=WAYS, feature="tip"),
    Parameter(name="travel", label="Travel", kind=Kind.LENGTH, low=0, high=300, step=0.01, feature="tip"),
    Parameter(
        name="tip_protrusion",
        label="Tip protrusion",
        kind=Kind.LENGTH,
        low=0,
        high=100,
        step=0.01,
        usually="measured below the slider",
        feature="tip",
    ),
    Parameter(
        name="feed_force",
        label="Feed force",
        kind=Kind.NUMBER,
        unit="N",
        low=1,
        high=20000,
        step=10,
        usually="a hand on the feed lever, 400",
    ),
    *slit_clamp.PARAMETERS,
    *made_of("plate"),
)


class DepthStopSizes:
    """The arithmetic of one slider and its sleeve.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.bore, self.sleeve, self.out = v.readings("bore"), v.number("sleeve"), v.number("sleeve_pressed")
        self.ring, self.thickness, self.width = v.number("slider_bore"), v.number("thickness"), v.number("width")
        self.front, self.back, self.tip_x, self.slit = (
            v.number("front_length"),
            v.number("rear_length"),
            v.number("tip_distance"),
            v.number("slit_width"),
        )
        if self.ring >= self.width - 6:
            raise ShopError(
                "Slider",
                f"bored Ø{length(self.ring)} in {length(self.width)} {LENGTH_UNIT}",
                "Metal is left on both sides of the sleeve",
                "Make it wider",
                entry="width",
            )
        if self.ring <= self.sleeve:
            raise ShopError(
                "Slider",
                f"bored Ø{length(self.ring, 3)} over a sleeve Ø{length(self.sleeve, 3)}",
                "It has to slide on it",
                f"Bore it {length(SLIDE)} larger than the sleeve",
                entry="slider_bore",
            )
        if v.number("sleeve_bore") >= self.out - 1:
            raise ShopError(
                "Sleeve",
                f"bored Ø{length(v.number('sleeve_bore'))} in Ø{length(self.out)}",
                "No wall is left",
                "Make the bore smaller",
                entry="sleeve_bore",
            )
        if self.out >= self.sleeve - 0.5:
            raise ShopError(
                "Sleeve",
                f"Ø{length(self.sleeve)} over a pressed part Ø{length(self.out)}",
                "Its shoulder seats on the casting",
                "Make it larger",
                entry="sleeve",
            )
        if v.number("bore_depth") < 4:
            raise ShopError(
                "Casting bore",
                f"less than {length(4)} {LENGTH_UNIT} deep",
                "The sleeve is held by it",
                "Measure it again",
                entry="bore_depth",
            )
        if not self.ring / 2 < self.tip_x < self.front:
            raise ShopError(
                "Setting tip",
                f"{length(self.tip_x)} in front of the axis",
                f"Between the bore, {length(self.ring / 2)}, and the edge, {length(self.front)}",
                "Move it",
                entry="tip_distance",
            )
        beside = next((f for f in self.feet if self.edge(f.x, f.y) <= 0), None)
        if beside is not None:
            raise ShopError(
                "Feet",
                f"{beside.name} at {length(beside.x)}, {length(beside.y)} lies beside the slider or in its bore",
                f"x goes from {length(-self.back)} to {length(self.front)}, y to ±{length(self.width / 2)}",
                "Move it",
                entry="feet",
            )

    @property
    def sleeve_shown(self) -> bool:
        """Whether the part shown is the sleeve."""
        return self.v.word("part") == "sleeve"

    @property
    def length(self) -> float:
        return self.front + self.back

    def edge(self, x: float, y: float) -> float:
        return min(self.front - x, x + self.back, self.width / 2 - abs(y), math.hypot(x, y) - self.ring / 2)

    @cached_property
    def tip(self) -> Hole:
        return tapped("T", self.tip_x, 0.0, self.v.word("tip_thread"), feature="tip", use="setting tip, with a lock nut")

    @cached_property
    def feet(self) -> tuple[Hole, ...]:
        places = read_places(self.v.word("feet"), "mm", "Feet").points
        return tuple(
            tapped(f"F{i}", x, y, self.v.word("foot_thread"), feature="feet", below=True, use="foot")
            for i, (x, y) in enumerate(places, 1)
        )

    @property
    def holes(self) -> tuple[Hole, ...]:
        return (self.tip, *self.feet)

    @cached_property
    def polygon(self) -> Ring:
        points: list[Point] = [(f.x, f.y) for f in self.feet]
        return hull(points) if len(points) > 2 else tuple(points)

    @cached_property
    def inside(self) -> float:
        """How far inside the feet the tip's load acts; below 0 it rocks, mm."""
        ring = self.polygon
        if len(ring) < 3:
            return -math.inf
        pairs = zip(ring, (*ring[1:], ring[0]), strict=True)
        return min(((b[0] - a[0]) * (0.0 - a[1]) - (b[1] - a[1]) * (self.tip_x - a[0])) / math.dist(a, b) for a, b in pairs)

    # --- the clamp ---------------------------------------------------------------------------------------------------

    @property
    def clamp_x(self) -> float:
        """Clamp screw across the slit, between bore and back edge."""
        return -(self.ring / 2 + self.back) / 2

    @cached_property
    def clamp(self) -> SlitClamp:
        return SlitClamp(self.v)

    @property
    def clamp_apart(self) -> float:
        """Metal between the clamp screw's hole and the nearest foot or tip, whose axes cross at right angles, mm."""
        found = []
        for h in self.holes:
            y, r = h.y, h.d / 2
            along = (
                self.clamp.bore
                if y + r > self.width / 2 - self.clamp_counterbore
                else self.clamp.clear
                if y + r > 0
                else self.clamp.d
            )
            found.append(abs(h.x - self.clamp_x) - r - along / 2)
        return min(found, default=math.inf)

    @property
    def clamp_counterbore(self) -> float:
        """How deep its head is let in from the side: to the head's own height and a little."""
        return self.clamp.head + 0.5

    @property
    def stack(self) -> float:
        """Gauge blocks for the travel."""
        return self.v.number("travel") + (self.v.number("tip_protrusion") if self.v.word("stack_place") == "under" else 0.0)
