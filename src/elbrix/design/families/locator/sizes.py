"""The sizes of a locator. It is turned about z; z = 0 is the face of the plate it stands in, or the mouth of the bore; mm."""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.made_of import made_of
from elbrix.mechanics.pins import CLOSE, SLIDE, relieved_accept_mm, widest_land_mm
from elbrix.mechanics.pins import PRESS as PRESSED
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.threads import Thread, find_thread

KINDS: Final = (
    ("pin", "a round pin"),
    ("relieved", "a relieved pin"),
    ("pivot", "a shoulder pivot"),
    ("bush", "a bush for an uneven bore"),
)
#: Play, mm: what is aimed at, and the band that is still that fit. Source: shop practice.
FITS: Final = (("slide", f"slides, {length(0.01)} to {length(0.025)}"), ("close", f"close, {length(0.004)} to {length(0.012)}"))
PLAY: Final = {"slide": 0.018, "close": 0.008}
BAND: Final = {"slide": SLIDE, "close": CLOSE}
#: Press fits, mm over the hole: holds, and splits thin walls. Source: shop practice.
PRESS: Final = (-PRESSED[1], -PRESSED[0])
#: Lead-in at the top, as a share of the Ø, and its angle.
LEAD, LEAD_DEG = 0.12, 15.0

PARAMETERS: Final = (
    Parameter(name="kind", label="Locator type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="body"),
    Parameter(
        name="measured_bore",
        label="Measured bore",
        kind=Kind.TEXT,
        unit="",
        usually="a bore's name in Shop, or empty",
        feature="hole",
    ),
    Parameter(
        name="hole",
        label="Hole Ø",
        kind=Kind.READINGS,
        low=1,
        high=400,
        step=0.001,
        usually="crosswise at both ends",
        feature="hole",
    ),
    Parameter(
        name="hole_depth",
        label="Hole depth",
        kind=Kind.LENGTH,
        low=1,
        high=500,
        step=0.1,
        usually="the work's thickness there",
        feature="hole",
    ),
    Parameter(name="fit", label="Fit", kind=Kind.CHOICE, unit="", choices=FITS, feature="body"),
    Parameter(
        name="locating_diameter",
        label="Locating Ø",
        kind=Kind.LENGTH,
        low=0.8,
        high=400,
        step=0.001,
        words=("larger", "smaller"),
        usually="tightest hole − play; a bush: + interference",
        feature="body",
    ),
    Parameter(
        name="locating_length",
        label="Locating length",
        kind=Kind.LENGTH,
        low=0.5,
        high=400,
        step=0.1,
        words=("longer", "shorter"),
        usually="two thirds of the hole: a long one jams",
        feature="body",
    ),
    Parameter(
        name="plate_hole",
        label="Plate hole Ø",
        kind=Kind.LENGTH,
        low=0.8,
        high=200,
        step=0.001,
        usually="as reamed",
        feature="shank_diameter",
    ),
    Parameter(
        name="plate_thickness", label="Plate thickness", kind=Kind.LENGTH, low=2, high=200, step=0.5, feature="shank_diameter"
    ),
    Parameter(
        name="shank_diameter",
        label="Shank Ø",
        kind=Kind.LENGTH,
        low=0.8,
        high=200,
        step=0.001,
        words=("larger", "smaller"),
        usually=f"the plate's hole + {length(0.008)}",
        feature="shank_diameter",
    ),
    Parameter(
        name="shank_length",
        label="Shank length",
        kind=Kind.LENGTH,
        low=1,
        high=200,
        step=0.5,
        words=("longer", "shorter"),
        usually="1.2 × its Ø, never past the plate",
        feature="shank_diameter",
    ),
    Parameter(
        name="land_width",
        label="Land width",
        kind=Kind.LENGTH,
        low=0.2,
        high=100,
        step=0.1,
        words=("wider", "narrower"),
        usually="a third of the Ø, or less for the error",
        feature="land_width",
    ),
    Parameter(
        name="round_pin_clearance",
        label="Round pin clearance",
        kind=Kind.LENGTH,
        low=0,
        high=0.5,
        step=0.001,
        usually="of the other one of the pair",
        feature="land_width",
    ),
    Parameter(
        name="spacing_error",
        label="Hole spacing error",
        kind=Kind.LENGTH,
        low=0,
        high=1,
        step=0.005,
        usually="work against plate, at worst",
        feature="land_width",
    ),
    Parameter(name="pin_spacing", label="Pin spacing", kind=Kind.LENGTH, low=3, high=2000, step=1, feature="land_width"),
    Parameter(
        name="end_float",
        label="End float",
        kind=Kind.LENGTH,
        low=0,
        high=2,
        step=0.01,
        words=("more", "less"),
        usually="the part turns freely and does not rattle",
        feature="body",
    ),
    Parameter(
        name="thread",
        label="Shank thread",
        kind=Kind.THREAD,
        unit="",
        usually="the largest under the journal",
        feature="shank_diameter",
    ),
    Parameter(
        name="head_diameter",
        label="Head Ø",
        kind=Kind.LENGTH,
        low=0,
        high=400,
        step=0.5,
        words=("larger", "smaller"),
        usually="0: none; 1.5 × the journal",
        feature="head_diameter",
    ),
    Parameter(
        name="head_height",
        label="Head height",
        kind=Kind.LENGTH,
        low=0,
        high=60,
        step=0.5,
        words=("higher", "lower"),
        usually="0: none",
        feature="head_diameter",
    ),
    Parameter(
        name="bush_bore",
        label="Bush bore Ø",
        kind=Kind.LENGTH,
        low=0.8,
        high=390,
        step=0.001,
        words=("larger", "smaller"),
        usually="what runs in it + play",
        feature="bush_bore",
    ),
    *made_of("body", most=50),
)


class LocatorSizes:
    """The arithmetic of one locator.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.kind, self.hole = v.word("kind"), v.readings("hole")
        self.size, self.height, self.depth = v.number("locating_diameter"), v.number("locating_length"), v.number("hole_depth")
        self.shank, self.shank_length, self.land = v.number("shank_diameter"), v.number("shank_length"), v.number("land_width")
        # A head has a Ø and a height; one alone is none.
        head, high = v.number("head_diameter"), v.number("head_height")
        self.head, self.head_height = (head, high) if head and high else (0.0, 0.0)
        self.inner = v.number("bush_bore")
        self.error, self.other = v.number("spacing_error"), v.number("round_pin_clearance")
        if self.kind == "relieved" and self.land >= self.size:
            raise ShopError(
                "Land",
                f"{length(self.land)} {LENGTH_UNIT} on a pin Ø{length(self.size)}",
                "That is a round pin",
                "Make it narrower",
                entry="land_width",
            )
        if self.kind == "bush" and self.inner >= self.size - 0.5:
            raise ShopError(
                "Bush",
                f"a bore of {length(self.inner)} in Ø{length(self.size)}",
                "No wall would be left",
                "Make the bore smaller",
                entry="bush_bore",
            )
        if self.kind == "pivot" and self.thread.major_mm >= self.size:
            raise ShopError(
                "Pivot",
                f"{self.thread.shown} under a journal Ø{length(self.size)}",
                "The shoulder is what it seats on",
                "Take a smaller thread",
                entry="thread",
            )
        if self.kind == "pivot" and not self.head:
            raise ShopError(
                "Head",
                "none",
                "Without one the lever slides off its journal",
                "Give it a Ø over the journal's and a height",
                entry="head_height" if head else "head_diameter",
            )
        if self.head and self.head <= self.size:
            raise ShopError(
                "Head",
                f"Ø{length(self.head)} over Ø{length(self.size)}",
                "It has to stand out",
                "Make it larger, or 0 for none",
                entry="head_diameter",
            )

    @property
    def thread(self) -> Thread:
        return find_thread(parse_thread(self.v.word("thread")))

    @property
    def play(self) -> float:
        """In the tightest place; below 0 it is pressed."""
        return self.hole.min - self.size

    @property
    def press(self) -> float:
        """Of the shank in the plate."""
        return self.shank - self.v.number("plate_hole")

    @property
    def lead(self) -> float:
        """Length of the lead-in."""
        return min(0.4 * self.height, LEAD * self.size / 2 / math.tan(math.radians(LEAD_DEG)) * 0.5)

    @property
    def widest_land(self) -> float:
        """Widest land that still goes in."""
        return widest_land_mm(self.hole.min, self.size, self.error - self.other / 2)

    @property
    def accepted(self) -> float:
        """Spacing error the pair accepts with this land."""
        return relieved_accept_mm(self.hole.min, self.size, min(self.land, self.size), self.other)

    @property
    def length(self) -> float:
        """Over everything."""
        if self.kind == "bush":
            return self.height + self.head_height
        return self.height + self.shank_length + self.head_height

    @property
    def thread_outside(self) -> float:
        """What a thread is turned to before the die, mm."""
        return round(self.thread.major_mm - 0.1, 2)

    @property
    def profile(self) -> tuple[tuple[float, float], ...]:
        """Half section from the axis, upward: (radius, z)."""
        r, t, hd = self.size / 2, self.height, self.head / 2
        drop = self.lead * math.tan(math.radians(LEAD_DEG))
        if self.kind == "bush":
            head = ((hd, 0.0), (hd, self.head_height), (0.0, self.head_height)) if self.head else ((r, 0.0), (0.0, 0.0))
            return ((0.0, -t), (r - drop, -t), (r, -t + self.lead), (r, 0.0), *(p for p in head if p != (r, 0.0)))
        if self.kind == "pivot":
            q = self.thread_outside / 2
            return (
                (0.0, -self.shank_length),
                (q, -self.shank_length),
                (q, 0.0),
                (r, 0.0),
                (r, t),
                (hd, t),
                (hd, t + self.head_height),
                (0.0, t + self.head_height),
            )
        q = self.shank / 2
        flange = ((hd, 0.0), (hd, self.head_height)) if self.head else ()
        base = self.head_height if flange else 0.0
        return (
            (0.0, -self.shank_length),
            (q, -self.shank_length),
            (q, 0.0),
            *flange,
            (r, base),
            (r, base + t - self.lead),
            (r - drop, base + t),
            (0.0, base + t),
        )
