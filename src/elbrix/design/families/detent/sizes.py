"""The sizes of a ball detent: a screwed plunger with its ball, spring and groove. Turned about z; z = 0 is its back; mm, N, MPa.

In the groove the ball stands out of the plunger's face by the gap and the groove's depth; ridden out, by the gap alone.
"""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.made_of import made_of
from elbrix.mechanics.drilling import HALF_POINT_RAD, point_mm
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import Material, material
from elbrix.standards.threads import Thread, find_thread

KINDS: Final = (("staked", "edge staked over the ball"), ("stepped", "narrow mouth, bored from the back"))
#: Shear modulus of spring steel wire, MPa, and what its coils bear, MPa. Source: EN 10270-1 wire, static use, careful.
SHEAR_MODULUS: Final = 81_500.0
COIL_STRESS: Final = (700.0, 900.0)
#: A ball sinks into soft metal till its mean pressure is this many times the yield. Source: Tabor, The Hardness of Metals.
FLOWS: Final = 3.0
#: Closed ends of a spring: coils that do not work.
DEAD_COILS: Final = 2.0
MU: Final = 0.12
#: Height of the cone a 118° drill leaves, over its radius.
SLOPE: Final = 1 / math.tan(HALF_POINT_RAD)

PARAMETERS: Final = (
    Parameter(name="kind", label="Ball retention", kind=Kind.CHOICE, unit="", choices=KINDS, feature="mouth"),
    Parameter(
        name="ball", label="Ball Ø", kind=Kind.LENGTH, low=1, high=25, step=0.01, words=("larger", "smaller"), feature="ball"
    ),
    Parameter(
        name="groove",
        label="Groove depth",
        kind=Kind.LENGTH,
        low=0.1,
        high=12,
        step=0.1,
        words=("deeper", "shallower"),
        usually="0.3 of the ball's radius: about 45°",
        feature="groove",
    ),
    Parameter(
        name="gap",
        label="Gap to the plate",
        kind=Kind.LENGTH,
        low=0.05,
        high=5,
        step=0.05,
        words=("wider", "narrower"),
        usually="the lever clears the plate by it",
        feature="groove",
    ),
    Parameter(
        name="wanted",
        label="Wanted holding force",
        kind=Kind.NUMBER,
        unit="N",
        low=0.5,
        high=2000,
        step=1,
        usually="at the ball, before it clicks out",
        feature="groove",
    ),
    Parameter(
        name="wire",
        label="Spring wire Ø",
        kind=Kind.LENGTH,
        low=0.1,
        high=4,
        step=0.05,
        words=("thicker", "thinner"),
        usually="measured",
        feature="spring",
    ),
    Parameter(
        name="coil",
        label="Spring outside Ø",
        kind=Kind.LENGTH,
        low=0.8,
        high=24,
        step=0.1,
        usually="measured, at rest",
        feature="spring",
    ),
    Parameter(
        name="coils",
        label="Working coils",
        kind=Kind.NUMBER,
        unit="",
        low=1.5,
        high=60,
        step=0.5,
        usually="counted, the closed ones left away",
        feature="spring",
    ),
    Parameter(
        name="free_length",
        label="Spring length, free",
        kind=Kind.LENGTH,
        low=2,
        high=150,
        step=0.1,
        words=("longer", "shorter"),
        usually="measured, at rest",
        feature="spring",
    ),
    Parameter(
        name="bore",
        label="Bore Ø",
        kind=Kind.LENGTH,
        low=1,
        high=26,
        step=0.01,
        words=("wider", "narrower"),
        usually=f"the ball + {length(0.1)}, a drill you have",
        feature="bore",
    ),
    Parameter(
        name="bore_depth",
        label="Bore depth",
        kind=Kind.LENGTH,
        low=2,
        high=150,
        step=0.1,
        words=("deeper", "shallower"),
        usually="so that the spring gives what is wanted",
        feature="bore",
    ),
    Parameter(
        name="mouth",
        label="Mouth Ø over the ball",
        kind=Kind.LENGTH,
        low=0.8,
        high=25,
        step=0.05,
        words=("wider", "narrower"),
        usually="the ball comes out far enough, and not out",
        feature="mouth",
    ),
    Parameter(name="thread", label="Plunger thread", kind=Kind.THREAD, unit="", usually="outside", feature="body"),
    Parameter(
        name="length",
        label="Plunger length",
        kind=Kind.LENGTH,
        low=4,
        high=160,
        step=0.5,
        words=("longer", "shorter"),
        feature="body",
    ),
    *made_of("body", most=20),
)


class DetentSizes:
    """The arithmetic of one detent.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v, self.kind = v, v.word("kind")
        self.ball, self.groove, self.gap = v.number("ball"), v.number("groove"), v.number("gap")
        self.wire, self.coil, self.coils, self.free = (v.number(n) for n in ("wire", "coil", "coils", "free_length"))
        self.bore, self.deep, self.mouth = v.number("bore"), v.number("bore_depth"), v.number("mouth")
        self.length = v.number("length")
        self.thread: Thread = find_thread(parse_thread(v.word("thread")))
        if self.coil <= 2.2 * self.wire:
            raise _refused(
                "Spring",
                f"wire {length(self.wire)} in a coil Ø{length(self.coil)}",
                "Nothing is left inside the coil",
                "Measure both again",
                "wire",
            )
        if self.groove >= self.ball / 2:
            raise _refused(
                "Groove",
                f"{length(self.groove)} deep for a ball Ø{length(self.ball)}",
                "From half the ball on it never rides out",
                "Make it shallower",
                "groove",
            )
        if self.bore <= self.ball:
            raise _refused(
                "Bore",
                f"Ø{length(self.bore)} for a ball Ø{length(self.ball)}",
                "The ball has to move in it",
                "Make it wider",
                "bore",
            )
        if self.thread.minor_d_mm <= self.bore + 0.6:
            raise _refused(
                "Thread",
                f"{self.thread.shown} over a bore Ø{length(self.bore)}",
                "No wall is left under its root",
                "Take a larger thread",
                "thread",
            )
        if self.kind == "stepped" and self.mouth >= self.bore - 0.05:
            raise _refused(
                "Mouth",
                f"Ø{length(self.mouth)} in a bore Ø{length(self.bore)}",
                "No step is left that keeps the ball",
                "Make it narrower",
                "mouth",
            )
        if self.kind == "stepped" and self.straight < 0.1:
            raise _refused(
                "Mouth",
                f"{length(self.straight)} {LENGTH_UNIT} of it are left in front of the bore",
                "The drill's point would open it",
                "Make the plunger longer, or the bore less deep",
                "bore_depth",
            )
        if self.kind == "staked" and self.deep + point_mm(self.bore) > self.length - 0.5:
            raise _refused(
                "Bore",
                f"{length(self.deep)} deep in a plunger {length(self.length)} long",
                "Its floor would be open",
                "Make the plunger longer",
                "length",
            )

    # --- the spring ---------------------------------------------------------------------------------------------------

    @property
    def mean_coil(self) -> float:
        return self.coil - self.wire

    @property
    def rate(self) -> float:
        """N/mm: G·w⁴/(8·Dm³·n)."""
        return float(SHEAR_MODULUS * self.wire**4 / (8 * self.mean_coil**3 * self.coils))

    @property
    def solid(self) -> float:
        """Its coils on each other."""
        return self.wire * (self.coils + DEAD_COILS)

    @property
    def seat(self) -> float:
        """From what the spring stands on to the face: the bore's floor, or what closes the back of a stepped plunger."""
        return self.deep if self.kind == "staked" else self.length

    @property
    def room(self) -> float:
        """Behind the ball when it is flush with the face."""
        return self.seat - self.ball

    @property
    def in_groove(self) -> float:
        """Spring length with the ball in its groove."""
        return self.room + self.gap + self.groove

    @property
    def ridden_out(self) -> float:
        """Spring length with the ball on the plate beside the groove."""
        return self.room + self.gap

    def force(self, length: float) -> float:
        return self.rate * (self.free - length)

    # --- the groove ---------------------------------------------------------------------------------------------------

    @property
    def flank_deg(self) -> float:
        """Where the groove's edge meets the ball: cos β = 1 − g/r."""
        return math.degrees(math.acos(1 - self.groove / (self.ball / 2)))

    @property
    def holds_n(self) -> float:
        """Sideways force that lifts the ball out: F·(tan β + µ)/(1 − µ·tan β); without end from µ·tan β = 1."""
        t = math.tan(math.radians(self.flank_deg))
        return math.inf if MU * t >= 1 else self.force(self.in_groove) * (t + MU) / (1 - MU * t)

    @property
    def straight(self) -> float:
        """Of a stepped plunger: length of the mouth in front of the cone the drill leaves."""
        return self.lip - SLOPE * (self.bore - self.mouth) / 2

    @property
    def proud(self) -> float:
        """Out of the face as far as the mouth lets the ball: its edge, or the cone behind it where that is narrower."""
        r, m = self.ball / 2, self.mouth / 2
        if m >= r:
            return self.ball
        edge = r - math.sqrt(r * r - m * m)
        if self.kind == "staked":
            return edge
        if m >= r * math.cos(HALF_POINT_RAD):
            return edge - self.straight
        # The cone's flank is met before the mouth's edge.
        return self.deep + SLOPE * self.bore / 2 - r / math.sin(HALF_POINT_RAD) + r - self.length

    # --- the plunger --------------------------------------------------------------------------------------------------

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def turned(self) -> float:
        """Ø the thread is cut on."""
        return round(self.thread.major_mm - 0.1, 2)

    @property
    def lip(self) -> float:
        """Of a stepped plunger: length of the mouth."""
        return self.length - self.deep

    @property
    def floor(self) -> float:
        """Of a staked one: metal behind the point of the drill."""
        return self.length - self.deep - point_mm(self.bore)

    @property
    def lead(self) -> float:
        return min(round(0.65 * self.thread.pitch_mm, 2), self.length / 6)

    @property
    def volume(self) -> float:
        """mm³, thread as turned."""
        q, c, r = self.turned / 2, self.lead, self.bore / 2
        whole = math.pi * q * q * (self.length - 2 * c) + 2 * math.pi * c / 3 * (q * q + q * (q - c) + (q - c) ** 2)
        if self.kind == "staked":
            return whole - math.pi * r * r * (self.deep + point_mm(self.bore) / 3)
        # From the back the drill's point leaves a cone in front of the bore, as far as the mouth.
        m = self.mouth / 2
        cone = math.pi * SLOPE * (r - m) / 3 * (r * r + r * m + m * m)
        return whole - math.pi * r * r * self.deep - cone - math.pi * m * m * self.straight


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
