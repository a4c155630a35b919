"""The sizes of one nut in one slot, and the rules they come from."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.design.family import HoleSizes
from elbrix.design.slot_nut import SHORT_PITCHES
from elbrix.mechanics.drilling import point_mm, tapped_mm
from elbrix.mechanics.ring_slot import longest_straight_mm
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import PulledNut
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.slots import SLOT_SIZES
from elbrix.standards.materials import material, nut_factor, proof_mpa
from elbrix.standards.threads import Thread, find_thread

BLIND_FLOOR: Final = 1.5

STEELS: Final = ("mild steel", "free-cutting steel", "medium carbon steel", "alloy steel, hardened and tempered")
STOPS: Final = (
    ("short", "tap stopped short"),
    ("staked", "last thread staked"),
    ("pin", "cross pin"),
    ("blind", "blind hole"),
    ("none", "none, right through"),
)


class StudStop(Struct, frozen=True):
    """What a stud stop costs in engaged thread, and where it halts the stud above the nut's underside, mm."""

    engaged: float
    halts_at: float
    formula: str


def cross_pin(d: float) -> float:
    """Ø of a cross pin that stops a stud, mm."""
    return max(2.0, round_down(d / 5, 0.5))


def _stop(kind: str, total: float, thread: Thread) -> StudStop:
    p, d = thread.pitch_mm, thread.major_mm
    if kind == "short":
        return StudStop(
            total - SHORT_PITCHES * p,
            SHORT_PITCHES * p,
            f"total − {SHORT_PITCHES:g}·P: {format_number(total)} − {SHORT_PITCHES:g} × {format_number(p)}",
        )
    if kind == "staked":
        return StudStop(total - p, p, f"total − P: {format_number(total)} − {format_number(p)}")
    if kind == "pin":
        pin = cross_pin(d)  # its middle 1.5 of it above the underside: the stud halts on its top
        return StudStop(total - 2 * pin, 2 * pin, f"total − 2·pin: {format_number(total)} − 2 × {format_number(pin)}")
    if kind == "blind":
        point = point_mm(thread.tap_drill[1])
        lead = tapped_mm(0.0, p)
        return StudStop(
            total - BLIND_FLOOR - point - lead,
            BLIND_FLOOR + point + lead,
            f"total − floor − point − 3·P: {format_number(total)} − {BLIND_FLOOR} − {format_number(point)} −"
            f" {format_number(lead)}",
        )
    return StudStop(total, 0.0, f"total: {format_number(total)}")


#: What is asked, in the order of asking.
PARAMETERS: Final = (
    *(
        Parameter(
            name=name,
            label=label,
            kind=Kind.READINGS,
            low=low,
            high=high,
            usually="measured in Shop",
            feature=f"slot {name}",
            step=0.05,
        )
        for name, label, low, high in SLOT_SIZES
    ),
    Parameter(
        name="ring_radius",
        label="Ring slot radius",
        kind=Kind.LENGTH,
        low=0,
        high=2000,
        usually="0 for a straight slot",
        feature="slot neck",
        step=1,
    ),
    Parameter(
        name="neck_width",
        label="Nut neck width",
        kind=Kind.LENGTH,
        low=2,
        high=60,
        usually=f"tightest slot neck − {length(0.3)}",
        words=("wider", "narrower"),
        feature="neck",
    ),
    Parameter(
        name="neck_height",
        label="Nut neck height",
        kind=Kind.LENGTH,
        low=1,
        high=60,
        usually=f"shallowest lip − {length(1)}",
        words=("taller", "shorter"),
        feature="neck",
    ),
    Parameter(
        name="head_width",
        label="Nut head width",
        kind=Kind.LENGTH,
        low=4,
        high=120,
        usually=f"narrowest slot head − {length(1)}",
        words=("wider", "narrower"),
        feature="head",
    ),
    Parameter(
        name="head_height",
        label="Nut head height",
        kind=Kind.LENGTH,
        low=1,
        high=80,
        usually=f"head space − {length(0.5)}",
        words=("taller", "lower"),
        feature="head",
    ),
    Parameter(
        name="length",
        label="Nut length",
        kind=Kind.LENGTH,
        low=3,
        high=300,
        usually="the head width, to the next mm",
        words=("longer", "shorter"),
        step=1,
        feature="length",
    ),
    Parameter(
        name="chamfer",
        label="Head chamfer",
        kind=Kind.LENGTH,
        low=0,
        high=5,
        usually="misses the slot's corner fillets",
        feature="head",
    ),
    Parameter(name="thread", label="Thread", kind=Kind.THREAD, usually="largest first choice with a good wall", feature="thread"),
    Parameter(
        name="stud_stop",
        label="Stud stop",
        kind=Kind.CHOICE,
        choices=STOPS,
        usually="so the stud cannot jack on the slot floor",
        feature="thread",
    ),
    Parameter(
        name="material", label="Nut material", kind=Kind.CHOICE, choices=tuple((m, m) for m in STEELS), usually="from the rack"
    ),
    Parameter(
        name="stud_class",
        label="Stud class",
        kind=Kind.CHOICE,
        choices=tuple((c, c) for c in ("4.6", "5.6", "8.8", "10.9", "12.9")),
        usually="marked on the stud's end",
    ),
    Parameter(
        name="lubrication",
        label="Stud lubrication",
        kind=Kind.CHOICE,
        choices=(("dry", "dry"), ("oiled", "oiled")),
        usually="as used",
    ),
    Parameter(
        name="torque",
        label="Tightening torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.02,
        high=2000,
        usually="what all parts allow, at most 3/8 of the stud's proof load",
        step=1,
        words=("more", "less"),
    ),
    Parameter(
        name="pieces",
        label="Pieces",
        kind=Kind.COUNT,
        unit="",
        low=1,
        high=200,
        usually="as many as you need",
        step=1,
        words=("more", "fewer"),
    ),
)


class TNutSizes:
    """The arithmetic of one nut in one slot. Small, made anew at every solve."""

    def __init__(self, v: Values) -> None:
        self.v = v
        self.neck, self.lip, self.head, self.depth = (v.readings(n) for n, *_ in SLOT_SIZES)
        self.nut_neck, self.neck_height = v.number("neck_width"), v.number("neck_height")
        self.nut_head, self.head_height = v.number("head_width"), v.number("head_height")
        self.length, self.chamfer = v.number("length"), v.number("chamfer")
        self.total = self.neck_height + self.head_height
        self.thread = find_thread(parse_thread(v.word("thread")))
        self.stop_kind = v.word("stud_stop")
        self.stop = _stop(self.stop_kind, self.total, self.thread)
        self.engaged = max(0.0, self.stop.engaged)
        self.material = material(v.word("material"))
        self.proof = proof_mpa(v.word("stud_class"), self.thread.major_mm).value
        self.k = nut_factor(v.word("lubrication"))
        self.torque = v.number("torque")
        self.preload = preload_n(self.torque, self.k, self.thread.major_mm)
        self.pulled = PulledNut(
            thread=self.thread,
            engaged_mm=self.engaged,
            neck=self.nut_neck,
            head=self.nut_head,
            head_height=self.head_height,
            length=self.length,
            yield_mpa=self.material.yield_mpa,
            proof=self.proof,
            slot_neck=(self.neck.min, self.neck.max),
            slot_head=self.head.max,
            lip=self.lip.min,
        )
        self.below = self.lip.min - self.neck_height
        self.ring_radius = v.number("ring_radius")

    def hole_words(self) -> str:
        """The line of the hole table; a depth is never rounded up past where the tap has to stop."""
        name, size_mm = self.thread.tap_drill
        drill = length(size_mm, 2) if name.replace(".", "", 1).isdecimal() else name
        deep = length(math.floor(self.engaged * 100 + 1e-6) / 100, 2)
        mouth = f", countersunk Ø{length(self.mouth, 1)} × 90°"
        if self.stop_kind == "blind":
            return f"{self.thread.shown}, drill {drill} × {length(self.drill_depth(), 1)} deep, full thread {deep} deep{mouth}"
        if self.stop_kind == "short":
            return f"{self.thread.shown}, drill {drill} through, full thread {deep} deep from the top{mouth}"
        return f"{self.thread.shown}, drill {drill} through, tap through{mouth}"

    def hole_sizes(self) -> HoleSizes:
        """The numbers of the stud's hole."""
        through = self.stop_kind != "blind"
        return HoleSizes(
            diameter_mm=self.thread.tap_drill[1],
            depth_mm=0.0 if through else self.drill_depth(),
            thread=self.thread.name,
            thread_depth_mm=self.engaged if self.stop_kind in ("blind", "short") else 0.0,
        )

    @property
    def mouth(self) -> float:
        """Ø of the countersink in front of the thread."""
        return min(self.thread.major_mm * 1.05, self.nut_neck - 0.4)

    def drill_depth(self) -> float:
        """Full drill diameter from the top: to the floor's point for a blind hole, else through."""
        return self.total - BLIND_FLOOR - point_mm(self.thread.tap_drill[1]) if self.stop_kind == "blind" else self.total

    def ring_longest(self) -> float:
        return min(
            longest_straight_mm(self.ring_radius, self.neck.min - 0.1, self.nut_neck),
            longest_straight_mm(self.ring_radius, self.head.min - 0.2, self.nut_head),
        )
