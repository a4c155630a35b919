"""The sizes of clamp hardware turned from bar. Turned about z; z = 0 is its lower end; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.families.hardware import thumb
from elbrix.design.made_of import made_of
from elbrix.design.slot_nut import SlotNut, nut_for
from elbrix.design.slot_parameters import SLOT_AS_MEASURED
from elbrix.mechanics.strength import preload_n
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_up
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import length
from elbrix.standards.materials import Material, material, nut_factor
from elbrix.standards.threads import Thread, find_thread

KINDS: Final = (
    ("stud", "a stud for a T-nut"),
    ("tall_nut", "a tall nut"),
    ("shoulder_screw", "a shoulder screw"),
    ("t_bolt", "a T-bolt, its head in the slot"),
    ("thumb_screw", "a thumb screw, its head knurled"),
)
#: Turned under the nominal Ø before the die, mm: a die raises the crests. Source: shop practice.
BEFORE_DIE: Final = 0.1
#: A nut has to have as many turns of the thread standing out of it.
TURNS_OUT: Final = 2.0
#: A hexagon stays so far above the table, mm: it is wider than the slot, and would lock the stud to it.
OVER_TABLE: Final = 1.0
#: Of a hexagon's chamfer: its angle to the face, and its small Ø in shares of the width across the flats.
CHAMFER_DEG, CHAMFER_SHARE = 30.0, 0.95
DRY: Final = nut_factor("dry")

PARAMETERS: Final = (
    Parameter(name="kind", label="Hardware type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="body"),
    Parameter(
        name="section",
        label="Bar section",
        kind=Kind.CHOICE,
        unit="",
        choices=(("round", "round bar"), ("hexagon", "hexagon bar, its flats stay in the middle")),
        usually="hexagon: it can be held with a spanner",
        feature="body",
    ),
    *SLOT_AS_MEASURED,
    Parameter(
        name="thread", label="Thread", kind=Kind.THREAD, unit="", usually="the largest the slot's T-nut takes", feature="thread"
    ),
    Parameter(
        name="torque",
        label="Tightening torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.02,
        high=3000,
        step=0.5,
        words=("tighter", "looser"),
        usually="3/8 of what the material bears",
        feature="thread",
    ),
    Parameter(
        name="clamp_low",
        label="Clamped height, least",
        kind=Kind.LENGTH,
        low=0,
        high=400,
        step=1,
        usually="top of the strap over the table, thinnest work",
        feature="clamped",
    ),
    Parameter(
        name="clamp_high",
        label="Clamped height, most",
        kind=Kind.LENGTH,
        low=1,
        high=400,
        step=1,
        usually="top of the strap over the table, thickest work",
        feature="clamped",
    ),
    Parameter(
        name="nut_height",
        label="Nut and washer height",
        kind=Kind.LENGTH,
        low=1,
        high=120,
        step=0.5,
        usually="of the thread",
        feature="clamped",
    ),
    Parameter(
        name="engaged",
        label="Lower thread length",
        kind=Kind.LENGTH,
        low=1,
        high=150,
        step=0.5,
        words=("longer", "shorter"),
        usually="the T-nut's full thread; 1.5 × d in a plate",
        feature="thread",
    ),
    Parameter(
        name="upper_thread",
        label="Upper thread length",
        kind=Kind.LENGTH,
        low=1,
        high=400,
        step=0.5,
        words=("longer", "shorter"),
        usually="down to a turn below the thinnest work",
        feature="upper_thread",
    ),
    Parameter(
        name="length",
        label="Overall length",
        kind=Kind.LENGTH,
        low=3,
        high=500,
        step=0.5,
        words=("longer", "shorter"),
        usually="of a nut its height",
        feature="body",
    ),
    Parameter(
        name="across_flats",
        label="Width across flats",
        kind=Kind.LENGTH,
        low=4,
        high=80,
        step=0.5,
        words=("wider", "narrower"),
        usually="the spanner's",
        feature="flats",
    ),
    Parameter(
        name="hole",
        label="Hole Ø on the shoulder",
        kind=Kind.READINGS,
        low=2,
        high=100,
        step=0.001,
        usually="of what turns on it",
        feature="hole",
    ),
    Parameter(
        name="work_thickness",
        label="Thickness on the shoulder",
        kind=Kind.LENGTH,
        low=1,
        high=200,
        step=0.1,
        usually="of what turns on it",
        feature="hole",
    ),
    Parameter(
        name="shoulder_diameter",
        label="Shoulder Ø",
        kind=Kind.LENGTH,
        low=2,
        high=100,
        step=0.001,
        words=("larger", "smaller"),
        usually=f"tightest hole − {length(0.015)}",
        feature="shoulder",
    ),
    Parameter(
        name="shoulder_length",
        label="Shoulder length",
        kind=Kind.LENGTH,
        low=1,
        high=200,
        step=0.01,
        words=("longer", "shorter"),
        usually=f"thickness + {length(0.1)}: it turns and does not rattle",
        feature="shoulder",
    ),
    Parameter(
        name="undercut",
        label="Undercut width",
        kind=Kind.LENGTH,
        low=0,
        high=20,
        step=0.5,
        words=("wider", "narrower"),
        usually="two pitches: the die cannot cut to the shoulder",
        feature="undercut",
    ),
    Parameter(
        name="head_height",
        label="Head height",
        kind=Kind.LENGTH,
        low=1,
        high=60,
        step=0.5,
        words=("higher", "lower"),
        feature="head_height",
    ),
    Parameter(
        name="head_diameter",
        label="Head Ø",
        kind=Kind.LENGTH,
        low=4,
        high=120,
        step=0.5,
        words=("larger", "smaller"),
        usually="turned; 1.3 × what lies between its flats",
        feature="head_height",
    ),
    Parameter(
        name="head_width",
        label="Head width over flats",
        kind=Kind.LENGTH,
        low=3,
        high=120,
        step=0.1,
        words=("wider", "narrower"),
        usually=f"narrowest slot head − {length(1)}",
        feature="head_width",
    ),
    Parameter(
        name="knurl",
        label="Knurl pitch",
        kind=Kind.LENGTH,
        low=0,
        high=3,
        step=0.1,
        words=("coarser", "finer"),
        usually="of your knurling wheels; 0: none",
        feature="head_height",
    ),
    *made_of("body", most=50),
)


class HardwareSizes:
    """The arithmetic of one piece of hardware.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v, self.kind = v, v.word("kind")
        self.thread: Thread = find_thread(parse_thread(v.word("thread")))
        self.d, self.pitch = self.thread.major_mm, self.thread.pitch_mm
        self.hexagon = v.number("across_flats")
        self.shoulder, self.shoulder_length = v.number("shoulder_diameter"), v.number("shoulder_length")
        self.head_height, self.head, self.head_width = (
            v.number("head_height"),
            v.number("head_diameter"),
            v.number("head_width"),
        )
        self.lower, self.upper, self.undercut = v.number("engaged"), v.number("upper_thread"), v.number("undercut")
        {
            "stud": self._no_stud,
            "tall_nut": self._no_nut,
            "shoulder_screw": self._no_screw,
            "t_bolt": self._no_bolt,
            "thumb_screw": self._no_thumb,
        }[self.kind]()

    def _no_stud(self) -> None:
        if self.in_hexagon and self.hexagon < self.d + 1:
            raise _refused(
                "Hexagon",
                f"{length(self.hexagon)} across the flats round {self.thread.shown}",
                "The thread would cut into its flats, and nothing would seat on the nut",
                f"Take {length(self.d + 1)} or more, or round bar",
                "across_flats",
            )
        if self.in_hexagon and self.collar + self.upper > self.length - 3:
            raise _refused(
                "Thread",
                f"{length(self.collar)} below it, {length(self.upper)} above, of {length(self.length)}",
                "No hexagon is left between them",
                "Make it longer, its threads shorter, or take round bar",
                "upper_thread",
            )
        self._short(max(self.lower, self.upper), "longer than the stud")

    def _no_nut(self) -> None:
        if self.hexagon <= self.d * 1.1 + 1:
            raise _refused(
                "Hexagon",
                f"{length(self.hexagon)} across the flats round {self.thread.shown}",
                "No wall would be left",
                f"Take {length(1.5 * self.d, 1)} or more",
                "across_flats",
            )

    def _no_screw(self) -> None:
        if self.hexagon <= self.shoulder + 1:
            raise _refused(
                "Head",
                f"{length(self.hexagon)} across the flats over a shoulder Ø{length(self.shoulder)}",
                "What turns on it would come off over the head",
                "Take a wider hexagon",
                "across_flats",
            )
        if self.d >= self.shoulder - 0.5:
            raise _refused(
                "Thread",
                f"{self.thread.shown} under a shoulder Ø{length(self.shoulder)}",
                "The shoulder's face is what it seats on",
                "Take a smaller thread",
                "thread",
            )
        if self.undercut > self.lower - 2 * self.pitch:
            raise _refused(
                "Undercut",
                f"{length(self.undercut)} of a thread {length(self.lower)} long",
                "Less than two turns of thread are left",
                "Make the thread longer or the undercut narrower",
                "undercut",
            )

    def _no_bolt(self) -> None:
        if self.head <= self.head_width:
            raise _refused(
                "Head",
                f"Ø{length(self.head)}, {length(self.head_width)} over its flats",
                "It has no flats then, and turns in the slot",
                "Make it larger in diameter or narrower over the flats",
                "head_diameter",
            )
        if self.head_width <= self.d + 1:
            raise _refused(
                "Head",
                f"{length(self.head_width)} over the flats round {self.thread.shown}",
                "Nothing of it lies under the lips",
                "Make it wider, or the thread smaller",
                "head_width",
            )
        self._short(self.upper + self.head_height, "longer than its shank")

    def _no_thumb(self) -> None:
        if self.head_turned <= self.d + 2:
            raise _refused(
                "Head",
                f"Ø{length(self.head)} over {self.thread.shown}",
                "No shoulder is left under it, and nothing for fingers",
                f"Take {length(math.ceil(1.8 * self.d))} or more",
                "head_diameter",
            )
        if self.v.number("knurl") > 0.15 * self.head:
            raise _refused(
                "Knurl pitch",
                f"{length(self.v.number('knurl'))} round a head of Ø{length(self.head)}",
                "Fewer than twenty teeth: the wheel does not roll, it tears",
                "A finer knurl, or a larger head",
                "knurl",
            )
        if self.undercut > self.lower - 2 * self.pitch:
            raise _refused(
                "Undercut",
                f"{length(self.undercut)} of a thread {length(self.lower)} long",
                "Less than two turns of thread are left",
                "Make the thread longer or the undercut narrower",
                "undercut",
            )

    def _short(self, needed: float, what: str) -> None:
        if needed > self.length - 1:
            raise _refused(
                "Thread",
                f"{what}: {length(needed)} on {length(self.length)}",
                "A thread ends before the piece does",
                "Make it longer, or the thread shorter",
                "length",
            )

    # --- what it is ---------------------------------------------------------------------------------------------------

    @property
    def in_hexagon(self) -> bool:
        """Whether flats of the bar stay on it."""
        return self.kind in ("tall_nut", "shoulder_screw") or (self.kind == "stud" and self.v.word("section") == "hexagon")

    @property
    def length(self) -> float:
        """Over everything."""
        if self.kind == "shoulder_screw":
            return self.lower + self.shoulder_length + self.head_height
        if self.kind == "thumb_screw":
            return self.lower + self.head_height
        return self.v.number("length")

    @property
    def turned(self) -> float:
        """Ø a thread is cut on."""
        return round(self.d - BEFORE_DIE, 2)

    @property
    def head_turned(self) -> float:
        """Ø of a thumb screw's head before it is knurled."""
        return thumb.plain_mm(self.head, self.v.number("knurl"))

    @property
    def break_(self) -> float:
        """Leg of the 45° chamfer in front of a thread."""
        return round(0.65 * self.pitch, 2)

    @property
    def collar(self) -> float:
        """Where a stud's hexagon begins: clear of the table it is too wide to sink into."""
        below = max(0.0, self.v.readings("lip").max - self.nut.neck_height)
        return round_up(self.lower + below + OVER_TABLE, 0.5)

    @property
    def root(self) -> float:
        """Ø of the undercut: just under the thread's root."""
        return undercut_root(self.thread)

    @property
    def all_thread(self) -> bool:
        """A round stud whose threads meet."""
        return self.kind == "stud" and not self.in_hexagon and self.lower + self.upper > self.length - 3

    @property
    def corners(self) -> float:
        """Of the hexagon, over them."""
        return self.hexagon * 2 / math.sqrt(3)

    @property
    def hex_drop(self) -> float:
        """How far the hexagon's chamfer comes down at its corners."""
        return (self.corners - CHAMFER_SHARE * self.hexagon) / 2 * math.tan(math.radians(CHAMFER_DEG))

    @property
    def bar(self) -> float:
        """Ø it is turned from, over the corners of a hexagon."""
        if self.in_hexagon:
            return self.corners
        return {"t_bolt": self.head, "thumb_screw": self.head_turned}.get(self.kind, self.d)

    @property
    def hex_span(self) -> tuple[float, float]:
        """From which z to which z the flats reach."""
        if self.kind == "stud":
            return self.collar, self.length - self.upper
        return (self.lower + self.shoulder_length if self.kind == "shoulder_screw" else 0.0), self.length

    @cached_property
    def profile(self) -> tuple[tuple[float, float], ...]:
        """Half section of what is turned, from the axis, upward: (radius, z); a hexagon comes on top of it."""
        q, c, r, high = self.turned / 2, self.break_, self.d / 2, self.length
        foot = ((0.0, 0.0), (q - c, 0.0), (q, c))
        top = ((q, high - c), (q - c, high), (0.0, high))
        if self.kind == "stud":
            if self.all_thread:
                return (*foot, *top)
            return (*foot, (q, self.lower), (r, self.lower), (r, high - self.upper), (q, high - self.upper), *top)
        if self.kind == "t_bolt":
            h, k = self.head / 2, self.head_height
            return ((0.0, 0.0), (h, 0.0), (h, k), (r, k), (r, high - self.upper), (q, high - self.upper), *top)
        if self.kind == "thumb_screw":
            return thumb.profile(self)
        g, b, w = self.root / 2, self.lower, self.shoulder / 2
        cut = ((q, b - self.undercut), (g, b - self.undercut), (g, b)) if self.undercut else ((q, b),)
        into = b + self.shoulder_length + self.head_height / 2  # inside the head, so that the two are one
        return (*foot, *cut, (w, b), (w, into), (0.0, into))

    # --- what it bears ------------------------------------------------------------------------------------------------

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def pull_n(self) -> float:
        return preload_n(self.v.number("torque"), DRY, self.d)

    @property
    def area(self) -> float:
        """The weakest section across it, mm²."""
        if self.kind in ("shoulder_screw", "thumb_screw") and self.undercut:
            return min(self.thread.stress_area_mm2, math.pi / 4 * self.root**2)
        return self.thread.stress_area_mm2

    # --- in its slot --------------------------------------------------------------------------------------------------

    @cached_property
    def nut(self) -> SlotNut:
        """The T-nut our own rules make for the slot."""
        v = self.v
        lip = v.readings("lip")
        return nut_for(v.readings("neck").min, lip.min, lip.max, v.readings("head").min, v.readings("depth").min)

    @property
    def foot(self) -> float:
        """How much of it is below the table when it is pulled up."""
        if self.kind == "t_bolt":
            return self.head_height + self.v.readings("lip").max
        return self.lower + max(0.0, self.v.readings("lip").min - self.nut.neck_height)

    @property
    def out(self) -> float:
        """Standing out of the nut over the thickest work."""
        return self.length - self.foot - self.v.number("clamp_high") - self.v.number("nut_height")

    @property
    def down_to(self) -> float:
        """The lowest clamped height its thread lets the nut reach."""
        return max(0.0, self.length - self.foot - self.upper) if not self.all_thread else 0.0

    @property
    def under_lips(self) -> float:
        """Of a T-bolt's head, on each side."""
        return (self.head_width - self.v.readings("neck").max) / 2

    @property
    def lip_length(self) -> float:
        """Of the head along the slot, where it is shortest: at its flats."""
        return math.sqrt(max(0.0, self.head**2 - self.head_width**2))

    @property
    def volume(self) -> float:
        """mm³, threads as turned."""
        found = 0.0
        for (r0, z0), (r1, z1) in zip(self.profile, self.profile[1:], strict=False):
            found += math.pi * (z1 - z0) * (r0 * r0 + r0 * r1 + r1 * r1) / 3
        low, high = self.hex_span
        flat = math.sqrt(3) / 2 * self.hexagon**2
        if self.kind == "tall_nut":
            return flat * self.length - math.pi / 4 * self.thread.tap_drill[1] ** 2 * self.length
        if self.kind == "shoulder_screw":
            return found + flat * self.head_height - math.pi / 4 * self.shoulder**2 * self.head_height / 2
        if self.in_hexagon:
            return found + (flat - math.pi / 4 * self.d**2) * (high - low)
        if self.kind == "t_bolt":
            half = self.head_width / 2
            r = self.head / 2
            cut = r * r * math.acos(half / r) - half * math.sqrt(r * r - half * half)
            return found - 2 * cut * self.head_height
        return found


def undercut_root(thread: Thread) -> float:
    """Ø of an undercut behind a thread: a little under its root, mm."""
    return round(thread.minor_d_mm - 0.2, 1)


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
