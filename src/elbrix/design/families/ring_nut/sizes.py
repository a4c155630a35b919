"""The sizes of a curved T-nut. x along the slot's tangent from its middle, y outward, z up from the underside; mm.

The ring's centre lies at y = −R. Its ends are straight across, so that it comes off a bar.
"""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.made_of import made_of
from elbrix.design.slot_nut import SHORT_PITCHES, straight_in_ring_mm
from elbrix.design.slot_parameters import SLOT_AS_MEASURED
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import PulledNut
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import length
from elbrix.standards.materials import Material, material, nut_factor, proof_mpa
from elbrix.standards.threads import Thread, find_thread

#: Of the studs it is proved for: as bought.
STUD_CLASS: Final = "8.8"
DRY: Final = nut_factor("dry")

PARAMETERS: Final = (
    Parameter(
        name="ring_radius",
        label="Ring slot radius",
        kind=Kind.LENGTH,
        low=15,
        high=2000,
        step=0.1,
        usually="measured: centre bore to both walls, halved",
        feature="slot",
    ),
    *SLOT_AS_MEASURED,
    Parameter(
        name="entry_hole",
        label="Entry hole Ø",
        kind=Kind.LENGTH,
        low=0,
        high=300,
        step=0.1,
        usually="where nuts are put in; 0: the slot is open somewhere",
        feature="entry",
    ),
    Parameter(
        name="centring_error",
        label="Radius error",
        kind=Kind.LENGTH,
        low=0,
        high=2,
        step=0.01,
        usually="left by centring and by the radius as measured",
        feature="neck",
    ),
    Parameter(
        name="neck_width",
        label="Nut neck width",
        kind=Kind.LENGTH,
        low=2,
        high=60,
        step=0.1,
        words=("wider", "narrower"),
        usually=f"tightest slot − {length(0.3)}",
        feature="neck",
    ),
    Parameter(
        name="neck_height",
        label="Nut neck height",
        kind=Kind.LENGTH,
        low=1,
        high=60,
        step=0.1,
        words=("higher", "lower"),
        usually=f"shallowest lip − {length(1)}",
        feature="neck",
    ),
    Parameter(
        name="head_width",
        label="Nut head width",
        kind=Kind.LENGTH,
        low=4,
        high=120,
        step=0.1,
        words=("wider", "narrower"),
        usually=f"narrowest slot head − {length(1)}",
        feature="head_part",
    ),
    Parameter(
        name="head_height",
        label="Nut head height",
        kind=Kind.LENGTH,
        low=1,
        high=80,
        step=0.1,
        words=("higher", "lower"),
        usually=f"what the slot leaves − {length(0.5)}",
        feature="head_part",
    ),
    Parameter(
        name="length",
        label="Nut length",
        kind=Kind.LENGTH,
        low=4,
        high=300,
        step=1,
        words=("longer", "shorter"),
        usually="straight across, 2 × its head",
        feature="length",
    ),
    Parameter(
        name="thread",
        label="Thread",
        kind=Kind.THREAD,
        unit="",
        usually="the largest with a sound wall in the neck",
        feature="thread",
    ),
    Parameter(
        name="torque",
        label="Tightening torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.02,
        high=3000,
        step=1,
        words=("tighter", "looser"),
        usually="what the lips allow",
        feature="thread",
    ),
    *made_of("neck", most=24, pieces_usually="3 or 6: evenly round the table"),
)


class RingNutSizes:
    """The arithmetic of one curved nut.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.radius = v.number("ring_radius")
        self.neck, self.lip, self.head, self.depth = (v.readings(n) for n in ("neck", "lip", "head", "depth"))
        self.nut_neck, self.neck_height = v.number("neck_width"), v.number("neck_height")
        self.nut_head, self.head_height = v.number("head_width"), v.number("head_height")
        self.length = v.number("length")
        self.thread: Thread = find_thread(parse_thread(v.word("thread")))
        if self.nut_head <= self.nut_neck:
            raise _refused(
                "Nut head",
                f"{length(self.nut_head)} under a neck of {length(self.nut_neck)}",
                "The head is what lies under the lips",
                "Make the head wider or the neck narrower",
                "head_width",
            )
        if self.thread.major_mm >= self.nut_neck:
            raise _refused(
                "Thread",
                f"{self.thread.shown} in a neck of {length(self.nut_neck)}",
                "The thread would be open at the sides",
                "Take a smaller thread",
                "thread",
            )
        if self.inner(self.nut_head) <= self.length / 2 + 1:
            raise _refused(
                "Nut length",
                f"{length(self.length)} on an inner radius of {length(self.inner(self.nut_head))}",
                "It would be more than half the ring",
                "Make it shorter",
                "length",
            )
        if self.full_thread < 2 * self.thread.pitch_mm:
            raise _refused(
                "Thread",
                f"{length(max(0.0, self.full_thread))} of full thread",
                "The tap is stopped two and a half turns short of the underside, so that the stud cannot come through",
                "Make the nut higher or the thread finer",
                "head_height",
            )

    # --- its shape ----------------------------------------------------------------------------------------------------

    def inner(self, width: float) -> float:
        """Radius of the inner wall of a width."""
        return self.radius - width / 2

    def outer(self, width: float) -> float:
        return self.radius + width / 2

    def y_on(self, radius: float, x: float) -> float:
        """Where a wall lies at an x: y from the middle of the slot."""
        return math.sqrt(max(0.0, radius * radius - x * x)) - self.radius

    @property
    def total(self) -> float:
        return self.neck_height + self.head_height

    @property
    def low_y(self) -> float:
        """The innermost place of it: the inner corners of the head."""
        return self.y_on(self.inner(self.nut_head), self.length / 2)

    @property
    def high_y(self) -> float:
        """The outermost: the middle of the head's outer wall."""
        return self.outer(self.nut_head) - self.radius

    @property
    def bar_width(self) -> float:
        return self.high_y - self.low_y

    @property
    def middle_y(self) -> float:
        return (self.high_y + self.low_y) / 2

    def outline(self, width: float) -> tuple[tuple[tuple[float, float], ...], tuple[tuple[int, tuple[float, float]], ...]]:
        """Corners counter-clockwise from the inner left, each wall in two arcs that meet in the middle; and the arcs."""
        h, a, b = self.length / 2, self.inner(width), self.outer(width)
        ring = (
            (-h, self.y_on(a, h)),
            (0.0, self.y_on(a, 0.0)),
            (h, self.y_on(a, h)),
            (h, self.y_on(b, h)),
            (0.0, self.y_on(b, 0.0)),
            (-h, self.y_on(b, h)),
        )
        q = h / 2
        arcs = tuple((i, (x, self.y_on(r, q))) for i, x, r in ((0, -q, a), (1, q, a), (3, q, b), (4, -q, b)))
        return ring, arcs

    def area(self, width: float) -> float:
        """Between two arcs and two straight ends: the strip under each arc, mm²."""

        def under(r: float) -> float:
            h = self.length / 2
            return h * math.sqrt(r * r - h * h) + r * r * math.asin(h / r)

        return under(self.outer(width)) - under(self.inner(width))

    @property
    def volume(self) -> float:
        """mm³, its hole taken off at the drill's Ø."""
        hole = math.pi / 4 * self.thread.tap_drill[1] ** 2 * self.total
        return self.area(self.nut_neck) * self.neck_height + self.area(self.nut_head) * self.head_height - hole

    # --- in the slot --------------------------------------------------------------------------------------------------

    @property
    def straight_longest(self) -> float:
        """The longest straight nut of these widths that slides in the ring."""
        return straight_in_ring_mm(self.radius, self.neck.min, self.nut_neck, self.head.min, self.nut_head)

    @property
    def bend(self) -> float:
        """How far its ends stand off its middle because it was cut on another radius: L²/8·(1/R − 1/(R + e))."""
        e = self.v.number("centring_error")
        return self.length**2 / 8 * (1 / self.radius - 1 / (self.radius + e))

    @property
    def neck_play(self) -> float:
        """Left in the neck, both sides together."""
        return self.neck.min - self.nut_neck - self.bend

    @property
    def head_play(self) -> float:
        return self.head.min - self.nut_head - self.bend

    @property
    def circle(self) -> float:
        """Ø of the smallest circle round its head: through its outer corners, or round all four."""
        h = self.length / 2
        y_in, y_out, y_top = self.low_y, self.y_on(self.outer(self.nut_head), h), self.high_y
        # Smallest circle on the axis of symmetry: its centre slides along y; the farthest of corners and top decides.
        low, high = y_in, y_top
        for _ in range(100):
            a, b = low + (high - low) / 3, high - (high - low) / 3

            def far(y: float) -> float:
                return max(math.hypot(h, y_in - y), math.hypot(h, y_out - y), y_top - y)

            if far(a) < far(b):
                high = b
            else:
                low = a
        y = (low + high) / 2
        return 2 * max(math.hypot(h, y_in - y), math.hypot(h, y_out - y), y_top - y)

    # --- loads --------------------------------------------------------------------------------------------------------

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def full_thread(self) -> float:
        return self.total - SHORT_PITCHES * self.thread.pitch_mm

    @property
    def pull_n(self) -> float:
        return preload_n(self.v.number("torque"), DRY, self.thread.major_mm)

    @property
    def pulled(self) -> PulledNut:
        return PulledNut(
            thread=self.thread,
            engaged_mm=self.full_thread,
            neck=self.nut_neck,
            head=self.nut_head,
            head_height=self.head_height,
            length=self.length,
            yield_mpa=self.metal.yield_mpa,
            proof=proof_mpa(STUD_CLASS, self.thread.major_mm).value,
            slot_neck=(self.neck.min, self.neck.max),
            slot_head=self.head.max,
            lip=self.lip.min,
        )


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
