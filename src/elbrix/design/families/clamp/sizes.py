"""The sizes of a clamp or support. x along it, y across from its middle, z up from its underside; a jack stands about z. mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.made_of import made_of
from elbrix.mechanics.drilling import point_mm, tapped_mm
from elbrix.mechanics.strength import preload_n
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.workholding import Clamp, ClampKind
from elbrix.standards.materials import Material, material, nut_factor
from elbrix.standards.screws import clearance_hole
from elbrix.standards.threads import Thread, find_thread

KINDS: Final = (
    ("strap", "a strap clamp"),
    ("toe", "a toe clamp: it pushes sideways and down"),
    ("step", "a step block"),
    ("heel", "a heel block with three heights"),
    ("jack", "a screw jack"),
)
DRY: Final = nut_factor("dry")
#: From the very end of a strap to where its tip presses, and from its other end to the heel: as the layout counts it.
NOSE_MM, HEEL_END_MM = 4.0, 6.0
#: The tapped hole of a push screw ends so far before the bolt's slot, mm.
BEFORE_SLOT: Final = 2.0
#: A cup in the toe for the head of the push screw: Ø and depth, mm.
CUP: Final = 1.0

PARAMETERS: Final = (
    Parameter(name="kind", label="Clamp or support", kind=Kind.CHOICE, unit="", choices=KINDS, feature="body"),
    Parameter(
        name="part",
        label="Part shown",
        kind=Kind.CHOICE,
        unit="",
        choices=(("body", "the body"), ("toe", "the toe of a toe clamp")),
        feature="body",
    ),
    Parameter(name="stud", label="Stud thread", kind=Kind.THREAD, unit="", usually="of the studs you own", feature="slot_width"),
    Parameter(
        name="torque",
        label="Stud torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.02,
        high=400,
        step=1,
        words=("tighter", "looser"),
        feature="slot_width",
    ),
    Parameter(
        name="length",
        label="Body length",
        kind=Kind.LENGTH,
        low=10,
        high=400,
        step=1,
        words=("longer", "shorter"),
        feature="body",
    ),
    Parameter(
        name="width", label="Body width", kind=Kind.LENGTH, low=6, high=150, step=1, words=("wider", "narrower"), feature="body"
    ),
    Parameter(
        name="height",
        label="Body height",
        kind=Kind.LENGTH,
        low=4,
        high=200,
        step=0.5,
        words=("higher", "lower"),
        usually="of a strap its thickness",
        feature="height",
    ),
    Parameter(
        name="slot_width",
        label="Stud slot width",
        kind=Kind.LENGTH,
        low=3,
        high=40,
        step=0.1,
        words=("wider", "narrower"),
        usually="the stud's clearance and a cutter you have",
        feature="slot_width",
    ),
    Parameter(
        name="slot_start",
        label="Slot, first centre",
        kind=Kind.LENGTH,
        low=4,
        high=390,
        step=1,
        words=("farther", "nearer"),
        usually="from the tip; of a toe clamp from its back",
        feature="slot_width",
    ),
    Parameter(
        name="slot_end",
        label="Slot, last centre",
        kind=Kind.LENGTH,
        low=4,
        high=395,
        step=1,
        words=("farther", "nearer"),
        usually="from the same end",
        feature="slot_width",
    ),
    Parameter(
        name="stud_to_tip",
        label="Stud to tip",
        kind=Kind.LENGTH,
        low=4,
        high=390,
        step=1,
        usually="as it is used worst: the middle of the slot",
        feature="tip",
    ),
    Parameter(
        name="relief",
        label="Relief underneath",
        kind=Kind.LENGTH,
        low=0,
        high=10,
        step=0.1,
        words=("deeper", "shallower"),
        usually=f"{length(0.8)}: only tip and heel touch",
        feature="relief",
    ),
    Parameter(
        name="pad",
        label="Tip pad length",
        kind=Kind.LENGTH,
        low=3,
        high=60,
        step=0.5,
        words=("longer", "shorter"),
        usually=f"{length(8)}: less bruises the work",
        feature="tip",
    ),
    Parameter(name="push_screw", label="Push screw", kind=Kind.THREAD, unit="", feature="push"),
    Parameter(
        name="push_torque", label="Push screw torque", kind=Kind.NUMBER, unit="N·m", low=0.005, high=100, step=0.5, feature="push"
    ),
    Parameter(
        name="push_height",
        label="Push screw height",
        kind=Kind.LENGTH,
        low=3,
        high=190,
        step=0.5,
        words=("higher", "lower"),
        usually="above the table",
        feature="push",
    ),
    Parameter(
        name="contact_height",
        label="Toe contact height",
        kind=Kind.LENGTH,
        low=0.5,
        high=190,
        step=0.5,
        words=("higher", "lower"),
        usually="on the work, above the table",
        feature="toe",
    ),
    Parameter(
        name="toe_length",
        label="Toe length",
        kind=Kind.LENGTH,
        low=10,
        high=200,
        step=1,
        words=("longer", "shorter"),
        feature="toe",
    ),
    Parameter(
        name="toe_thickness",
        label="Toe thickness",
        kind=Kind.LENGTH,
        low=4,
        high=40,
        step=0.5,
        words=("thicker", "thinner"),
        feature="toe",
    ),
    Parameter(name="steps", label="Steps", kind=Kind.COUNT, unit="", low=2, high=20, words=("more", "fewer"), feature="steps"),
    Parameter(
        name="rise",
        label="Step rise",
        kind=Kind.LENGTH,
        low=1,
        high=20,
        step=0.5,
        words=("higher", "lower"),
        usually="what the heel may be off by, doubled",
        feature="steps",
    ),
    Parameter(
        name="tread",
        label="Step tread",
        kind=Kind.LENGTH,
        low=3,
        high=40,
        step=0.5,
        words=("wider", "narrower"),
        usually="the heel's end stands on it",
        feature="steps",
    ),
    Parameter(
        name="load",
        label="Load",
        kind=Kind.NUMBER,
        unit="N",
        low=10,
        high=60000,
        step=100,
        usually="what the heel bears",
        feature="load",
    ),
    Parameter(
        name="screw_length",
        label="Jack screw length",
        kind=Kind.LENGTH,
        low=6,
        high=200,
        step=1,
        words=("longer", "shorter"),
        usually="under its head",
        feature="push",
    ),
    *made_of("body", most=20),
)


class ClampSizes:
    """The arithmetic of one clamp or support.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v, self.kind = v, v.word("kind")
        self.length, self.width, self.height = v.number("length"), v.number("width"), v.number("height")
        self.slot, self.start, self.end = v.number("slot_width"), v.number("slot_start"), v.number("slot_end")
        self.relief, self.pad = v.number("relief"), v.number("pad")
        self.push_height, self.contact = v.number("push_height"), v.number("contact_height")
        self.toe_length, self.toe_thickness = v.number("toe_length"), v.number("toe_thickness")
        self.steps, self.rise, self.tread = int(v.number("steps")), v.number("rise"), v.number("tread")
        self.screw = find_thread(parse_thread(v.word("push_screw")))
        if self.kind in ("strap", "toe"):
            self._no_slot()
        {"strap": self._no_strap, "toe": self._no_toe, "step": self._no_step, "jack": self._no_jack}.get(self.kind, _fine)()

    def _no_slot(self) -> None:
        if self.slot >= self.width - 4:
            raise _refused(
                "Slot",
                f"{length(self.slot)} wide in {length(self.width)}",
                f"{length(2)} {LENGTH_UNIT} of metal are needed on each side",
                "Make the body wider or the slot narrower",
                "width",
            )
        if self.end < self.start:
            raise _refused(
                "Slot",
                "its last centre before its first",
                "It has to be a slot or a hole",
                "Make it the same or farther",
                "slot_end",
            )
        if self.start - self.slot / 2 < 2 or self.end + self.slot / 2 > self.length - 2:
            near = self.start - self.slot / 2 < 2
            raise _refused(
                "Slot",
                "it is open at an end",
                "The stud would come out of it",
                f"Keep {length(self.slot / 2 + 2)} from the end",
                "slot_start" if near else "slot_end",
            )

    def _no_strap(self) -> None:
        if self.relief >= 0.5 * self.height:
            raise _refused(
                "Relief",
                f"{length(self.relief)} deep in {length(self.height)}",
                "Half the strap would be gone",
                "Make it shallower",
                "relief",
            )
        if self.relief and self.pad + self.pad_heel > self.length - 5:
            raise _refused(
                "Tip pad", "longer than the strap has room for", "A relief lies between tip and heel", "Make it shorter", "pad"
            )

    def _no_toe(self) -> None:
        if self.thread_deep < 2 * self.screw.pitch_mm:
            raise _refused(
                "Push screw",
                "its thread would run into the bolt's slot",
                f"{length(BEFORE_SLOT)} {LENGTH_UNIT} are left between",
                "Make the body longer or end the slot sooner",
                "length",
            )
        drill = self.screw.tap_drill[1]
        if self.push_height + drill / 2 > self.height - 1.5 or self.push_height - drill / 2 < 1.5:
            raise _refused(
                "Push screw",
                f"{length(self.push_height)} high in a body of {length(self.height)}",
                "Its hole would be open above or below",
                "Keep it inside the body",
                "push_height",
            )
        if abs(self.push_height - self.contact) >= 0.9 * self.toe_length:
            raise _refused("Toe", "it would stand on end", "It pushes sideways", "Make it longer", "toe_length")

    def _no_step(self) -> None:
        if self.base < 2:
            raise _refused(
                "Steps",
                f"{self.steps} of {length(self.rise)} on a block {length(self.height)} high",
                "Nothing would be left under the lowest",
                "Fewer or lower steps, or a higher block",
                "steps",
            )

    def _no_jack(self) -> None:
        if self.screw.major_mm > self.width - 6:
            raise _refused(
                "Jack screw",
                f"{self.screw.shown} in a body Ø{length(self.width)}",
                f"{length(3)} {LENGTH_UNIT} of wall are needed round it",
                "Take a larger body or a smaller screw",
                "push_screw",
            )

    # --- strap --------------------------------------------------------------------------------------------------------

    @property
    def pad_heel(self) -> float:
        """Left standing at the heel's end, underneath."""
        return max(self.pad, HEEL_END_MM + 4)

    @property
    def as_clamp(self) -> Clamp:
        """As the layout counts it: from its tip."""
        return Clamp(
            id="own",
            kind=ClampKind.STRAP,
            length_mm=self.length,
            width_mm=self.width,
            thickness_mm=self.height,
            slot_from_mm=self.start,
            slot_to_mm=self.end,
            slot_width_mm=self.slot,
            yield_mpa=self.metal.yield_mpa,
        )

    @property
    def tip_arm(self) -> float:
        return self.v.number("stud_to_tip")

    @property
    def heel_arm(self) -> float:
        return self.length - NOSE_MM - HEEL_END_MM - self.tip_arm

    @property
    def pull_n(self) -> float:
        return preload_n(self.v.number("torque"), DRY, self.stud.major_mm)

    @property
    def tip_n(self) -> float:
        """At the tip: the strap is a lever on its heel."""
        return self.pull_n * self.heel_arm / (self.tip_arm + self.heel_arm)

    @property
    def bending_mpa(self) -> float:
        """At the stud: tip·arm over what the slot and the relief leave."""
        t = self.height - self.relief
        return 6 * self.tip_n * self.tip_arm / ((self.width - self.slot) * t**2)

    # --- toe clamp ----------------------------------------------------------------------------------------------------

    @property
    def thread_deep(self) -> float:
        """Full thread of the push screw's hole, from the front."""
        whole = self.length - self.end - self.slot / 2 - BEFORE_SLOT
        return whole - tapped_mm(0.0, self.screw.pitch_mm) - point_mm(self.screw.tap_drill[1])

    @property
    def push_n(self) -> float:
        return preload_n(self.v.number("push_torque"), DRY, self.screw.major_mm)

    @property
    def down_deg(self) -> float:
        """How far the toe points down: asin((screw − contact)/length)."""
        return math.degrees(math.asin((self.push_height - self.contact) / self.toe_length))

    @property
    def reach(self) -> float:
        """From the bolt, as far back as it goes, to the tip of the toe, the screw just started."""
        return self.length - self.start + self.toe_length

    # --- supports -----------------------------------------------------------------------------------------------------

    @property
    def base(self) -> float:
        """Height of the lowest step."""
        return self.height - (self.steps - 1) * self.rise

    @property
    def heights(self) -> tuple[float, ...]:
        """Of the steps, the lowest first."""
        return tuple(round(self.base + i * self.rise, 6) for i in range(self.steps))

    @property
    def depth(self) -> float:
        """Of a step block, over all its treads."""
        return self.steps * self.tread

    def tread_at(self, i: int) -> tuple[float, float]:
        """From which y to which y step i reaches, the lowest at −y."""
        low = -self.depth / 2 + i * self.tread
        return low, low + self.tread

    @property
    def jack_least(self) -> float:
        """Its screw right down."""
        return self.height + self.head_height

    @property
    def jack_most(self) -> float:
        """As far as a full diameter of thread stays in the body."""
        return self.height + self.v.number("screw_length") - self.screw.major_mm + self.head_height

    @property
    def head_height(self) -> float:
        return round(0.65 * self.screw.major_mm, 1)

    # --- common -------------------------------------------------------------------------------------------------------

    @cached_property
    def stud(self) -> Thread:
        return find_thread(parse_thread(self.v.word("stud")))

    @property
    def mass_kg(self) -> float:
        return self.volume * self.metal.density_kg_m3 * 1e-9

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def toe(self) -> bool:
        """Whether the part shown is the toe of a toe clamp."""
        return self.kind == "toe" and self.v.word("part") == "toe"

    @property
    def volume(self) -> float:
        """Of the part shown, mm³."""
        if self.toe:
            return self.toe_length * self.width * self.toe_thickness
        if self.kind == "jack":
            bore = self.screw.tap_drill[1]
            return math.pi / 4 * (self.width**2 - bore**2) * self.height
        if self.kind == "step":
            return self.length * self.tread * sum(self.heights)
        if self.kind == "heel":
            return self.length * self.width * self.height
        slot = math.pi / 4 * self.slot**2 + (self.end - self.start) * self.slot
        if self.kind == "toe":
            return self.length * self.width * self.height - slot * self.height
        relieved = (self.length - self.pad - self.pad_heel) * self.width * self.relief if self.relief else 0.0
        over = self._slot_over_relief() * self.relief if self.relief else 0.0
        return self.length * self.width * self.height - slot * self.height - relieved + over

    def _slot_over_relief(self) -> float:
        """Area of the slot that lies over the relief, taken off twice otherwise, mm²."""
        return max(0.0, self._slot_up_to(self.length - self.pad_heel) - self._slot_up_to(self.pad))

    def _slot_up_to(self, x: float) -> float:
        """Area of the slot from its tip end to a place along the strap: round ends, straight between, mm²."""
        r = self.slot / 2

        def cap(t: float) -> float:  # of a round from its left end to t beside its middle
            t = max(-r, min(r, t))
            return r * r * (math.pi / 2 + math.asin(t / r)) + t * math.sqrt(max(0.0, r * r - t * t))

        before = cap(min(0.0, x - self.start))
        between = self.slot * max(0.0, min(x, self.end) - self.start)
        return before + between + cap(max(0.0, x - self.end)) - cap(0.0)


def clear_of(thread: Thread) -> float:
    """Clearance hole of a thread, mm."""
    size = thread.name.split("x")[0] if thread.metric else thread.name.rpartition("-")[0]
    try:
        return clearance_hole(size).value
    except ShopError:  # of no table
        return round(1.1 * thread.major_mm, 1)


def _fine() -> None:
    """Nothing to refuse."""


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
