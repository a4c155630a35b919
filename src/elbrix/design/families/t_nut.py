"""T-nut for a straight slot, one or a batch; and whether a straight one would do in a ring slot.

x across the slot, y along it, z up from the nut's underside. Read top to bottom: what is asked, what is proposed, what follows,
what may go wrong, what it looks like, how it is made.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from elbrix.design.family import Capability, Design, Group, Hole, Need, SlotFit
from elbrix.design.parameters import Given, Kind, Parameter, Values
from elbrix.design.ring_slot import longest_straight_mm
from elbrix.design.strength import (
    LIP_BEARING,
    LIP_BENDING,
    LIP_SHEAR,
    SHEAR_OVER_YIELD,
    FlangeLoad,
    bearing_mpa,
    nut_thread_shear_mm2,
    preload_n,
    torque_nm,
)
from elbrix.design.work import BenchWork, Blank, Chamfer, Shoulder, TappedHole, Work
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Path, Scene, Side, Style, Words, box
from elbrix.quantities.checks import Check, Limits, Verdict, worst
from elbrix.quantities.errors import ShopError
from elbrix.quantities.figures import Figure, Origin, Working, num
from elbrix.quantities.lengths import round_down, round_up
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot
from elbrix.solids.recipe import Cut, Prism, Recipe, drilled
from elbrix.standards.materials import PRELOAD_SCATTER, material, nut_factor, proof_mpa
from elbrix.standards.near_miss import thread_near_misses
from elbrix.standards.threads import Thread, find_thread, first_choice

#: Play and clearances, mm. Source: shop practice; sizes round down to STEP.
NECK_PLAY: Final = 0.3  # both sides together
HEAD_PLAY: Final = 1.0
TOP_BELOW: Final = 1.0
HEAD_CLEAR: Final = 0.5
STEP: Final = 0.1
#: Broken edges of lip and flange that carry nothing, mm together.
EDGE_BREAKS: Final = 0.3
#: Unfinished threads a stopped tap leaves, and the lead of a tap in a blind hole, in pitches.
SHORT_PITCHES, BLIND_LEAD_PITCHES = 2.5, 3.0
BLIND_FLOOR: Final = 1.5
POINT_118: Final = 0.30  # height of a 118° drill point over its diameter, tan 31°/2

_STEELS: Final = ("mild steel", "free-cutting steel", "medium carbon steel", "alloy steel, hardened and tempered")
_STOPS: Final = (
    ("short", "tap stopped short"),
    ("staked", "last thread staked"),
    ("pin", "cross pin"),
    ("blind", "blind hole"),
    ("none", "none, right through"),
)


@dataclass(frozen=True, slots=True)
class _Stop:
    """What a stud stop costs in engaged thread, and where it halts the stud above the nut's underside, mm."""

    engaged: float
    halts_at: float
    formula: str


def _stop(kind: str, total: float, thread: Thread) -> _Stop:
    p, d = thread.pitch_mm, thread.major_mm
    if kind == "short":
        return _Stop(
            total - SHORT_PITCHES * p,
            SHORT_PITCHES * p,
            f"total − {SHORT_PITCHES:g}·P: {num(total)} − {SHORT_PITCHES:g} × {num(p)}",
        )
    if kind == "staked":
        return _Stop(total - p, p, f"total − P: {num(total)} − {num(p)}")
    if kind == "pin":
        pin = max(2.0, round_down(d / 5, 0.5))
        return _Stop(total - 1.5 * pin, 1.5 * pin, f"total − 1.5·pin: {num(total)} − 1.5 × {num(pin)}")
    if kind == "blind":
        point = POINT_118 * thread.tap_drill[1]
        lead = BLIND_LEAD_PITCHES * p
        return _Stop(
            total - BLIND_FLOOR - point - lead,
            BLIND_FLOOR + point + lead,
            f"total − floor − point − 3·P: {num(total)} − {BLIND_FLOOR} − {num(point)} − {num(lead)}",
        )
    return _Stop(total, 0.0, f"total: {num(total)}")


def wall_limits(neck: float) -> Limits:
    """Wall of metal beside the thread in the neck: good from min(0.8, 0.055 × neck), close from 0.25 mm."""
    return Limits(no_below=0.25, close_below=min(0.8, 0.055 * neck))


def choose_thread(neck: float, owned: tuple[str, ...] = ()) -> Thread:
    """The largest first-choice thread whose wall in the neck is good; an owned stud one size smaller wins over an unowned one.

    Raises:
        ShopError: A neck too narrow for any.
    """
    good = [t for t in first_choice() if wall_limits(neck).judge((neck - t.major_mm) / 2) is Verdict.GO]
    if not good:
        raise ShopError(
            "Neck width",
            f"{neck:g} mm holds no thread",
            f"The smallest is {first_choice()[0].shown}",
            "Measure the slot again, or check the unit",
            "neck_width",
        )
    for thread in good[:-3:-1]:
        if thread.name in owned:
            return thread
    return good[-1]


class TNut:
    """The family."""

    key = "t_nut"
    title = "T-nut"
    when = "When a stud has to pull in a T-slot and what can be bought does not fit yours."
    group = "fasten it"
    parameters = (
        *(
            Parameter(name=name, label=label, kind=Kind.READINGS, low=low, high=high, usually="measured in Shop", feature=f"slot {name}", step=0.05)
            for name, label, low, high in SLOT_SIZES
        ),
        Parameter(name="ring_radius", label="Ring slot radius", kind=Kind.LENGTH, low=0, high=2000, usually="0 for a straight slot", feature="slot neck", step=1),
        Parameter(name="neck_width", label="Neck", kind=Kind.LENGTH, low=2, high=60, usually="tightest slot neck − 0.3", words=("wider", "narrower"), feature="neck"),
        Parameter(name="neck_height", label="Neck height", kind=Kind.LENGTH, low=1, high=60, usually="shallowest lip − 1", words=("taller", "shorter"), feature="neck"),
        Parameter(name="head_width", label="Head", kind=Kind.LENGTH, low=4, high=120, usually="narrowest slot head − 1", words=("wider", "narrower"), feature="head"),
        Parameter(name="head_height", label="Head height", kind=Kind.LENGTH, low=1, high=80, usually="head space − 0.5", words=("taller", "lower"), feature="head"),
        Parameter(name="length", label="Length", kind=Kind.LENGTH, low=3, high=300, usually="the head width, to the next mm", words=("longer", "shorter"), step=1, feature="length"),
        Parameter(name="chamfer", label="Head edges broken", kind=Kind.LENGTH, low=0, high=5, usually="misses the slot's corner fillets", feature="head"),
        Parameter(name="thread", label="Thread", kind=Kind.THREAD, usually="largest first choice with a good wall", feature="thread"),
        Parameter(name="stud_stop", label="Stud stop", kind=Kind.CHOICE, choices=_STOPS, usually="so the stud cannot jack on the slot floor", feature="thread"),
        Parameter(name="material", label="Nut material", kind=Kind.CHOICE, choices=tuple((m, m) for m in _STEELS), usually="from the rack"),
        Parameter(name="stud_class", label="Stud strength", kind=Kind.CHOICE, choices=tuple((c, c) for c in ("4.6", "5.6", "8.8", "10.9", "12.9")), usually="marked on the stud's end"),
        Parameter(name="lubrication", label="Stud thread", kind=Kind.CHOICE, choices=(("dry", "dry"), ("oiled", "oiled")), usually="as used"),
        Parameter(name="torque", label="Stud torque", kind=Kind.NUMBER, unit="N·m", low=0.5, high=2000, usually="what all parts allow, at most 3/8 of the stud's proof load", step=1, words=("more", "less")),
        Parameter(name="pieces", label="Pieces", kind=Kind.COUNT, unit="", low=1, high=200, usually="as many as you need", step=1, words=("more", "fewer")),
    )  # fmt: skip

    # --- propose -----------------------------------------------------------------------------------------------------

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        """Sizes that fit the measured slot; a book slot, marked as assumed, when nothing was measured."""
        given = self._slot_values(shop, need) | {
            k: v for k, v in chosen.items() if isinstance(v.value, Readings) or k == "ring_radius"
        }
        slot = {name: given[name].value for name, *_ in SLOT_SIZES}
        neck, lip, head, depth = (slot[name] for name, *_ in SLOT_SIZES)
        assert (
            isinstance(neck, Readings)
            and isinstance(lip, Readings)
            and isinstance(head, Readings)
            and isinstance(depth, Readings)
        )
        self._contradictions(neck, lip, head, depth)

        def settle(
            name: str, value: float | int | str, formula: str, numbers: str, source: str, origin: Origin = Origin.CALCULATED
        ) -> float:
            given[name] = chosen.get(name) or Given(value, origin, working=Working(formula, numbers, source))
            found = given[name].value
            return found if isinstance(found, float | int) else 0.0

        neck_width = settle(
            "neck_width",
            round_down(neck.min - NECK_PLAY, STEP),
            "tightest slot neck − play, down to 0.1",
            f"{num(neck.min)} − {NECK_PLAY}",
            "it must slide in the tightest place",
        )
        tall = min(max(lip.min - TOP_BELOW, round_up(0.6 * lip.min, STEP)), lip.min - 0.5)
        neck_height = settle(
            "neck_height",
            max(1.0, round_down(tall, STEP)),
            "shallowest lip − 1, down to 0.1 (not under 0.6 × lip)",
            f"{num(lip.min)} − {TOP_BELOW:g}",
            "pulled up, the top must stay below the table",
        )
        head_width = settle(
            "head_width",
            round_down(head.min - HEAD_PLAY, STEP),
            "narrowest slot head − 1, down to 0.1",
            f"{num(head.min)} − {HEAD_PLAY:g}",
            "it must slide in the tightest place",
        )
        space = depth.min - lip.max
        high = min(space - HEAD_CLEAR, depth.min - HEAD_CLEAR - neck_height)
        settle(
            "head_height",
            max(1.0, round_down(high, STEP)),
            "shallowest floor − deepest lip − 0.5, down to 0.1",
            f"{num(depth.min)} − {num(lip.max)} − {HEAD_CLEAR}",
            "it must slide everywhere",
        )
        longest = self._ring_longest(given, neck.min, neck_width, head.min, head_width)
        length = (
            round_up(head_width, 1.0)
            if math.isinf(longest)
            else min(round_up(head_width, 1.0), max(3.0, round_down(longest, 0.5)))
        )
        settle(
            "length",
            length,
            "the head width, up to the next mm",
            f"{num(head_width)} → {num(length)}",
            "at least as long as wide; longer spreads the load on the lips",
        )
        settle("chamfer", 0.5, "half a millimetre", "0.5", "slot floors have corner fillets", Origin.ASSUMED)
        owned = tuple(dict.fromkeys(_canonical(s.thread) for s in shop.studs))
        if "thread" in chosen:
            given["thread"] = chosen["thread"]
        else:
            thread = choose_thread(neck_width, owned)
            why = "and there are studs of it on the shelf" if thread.name in owned else "no owned stud comes as near"
            given["thread"] = Given(
                thread.name,
                Origin.CALCULATED,
                working=Working(
                    "largest first choice whose wall in the neck is good",
                    f"({num(neck_width)} − {thread.major_mm:g})/2 = {num((neck_width - thread.major_mm) / 2)} wall",
                    why,
                ),
            )
        settle(
            "stud_stop",
            "short",
            "tap stopped before the last threads",
            "",
            "without a stop the stud jacks against the floor and breaks the lips",
            Origin.ASSUMED,
        )
        settle("material", "mild steel", "", "", "change it to the bar you have", Origin.ASSUMED)
        classes = [s.strength_class for s in shop.studs if _canonical(s.thread) == given["thread"].value]
        settle(
            "stud_class",
            classes[0] if classes else "8.8",
            "",
            "",
            "studs on the shelf" if classes else "usual for clamping studs",
            Origin.MEASURED if classes else Origin.ASSUMED,
        )
        settle("lubrication", "dry", "", "", "as found in most shops", Origin.ASSUMED)
        settle("pieces", need.pieces, "", "", "as asked", Origin.CHOSEN)
        self._settle_torque(given, chosen)
        return Values({p.name: given[p.name] for p in self.parameters})

    def _slot_values(self, shop: Shop, need: Need) -> dict[str, Given]:
        found: TSlot | None = None
        note = ""
        for machine, slot in shop.measured_slots():
            if (not need.machine or machine.id == need.machine or machine.name == need.machine) and (
                not need.slot or slot.label == need.slot
            ):
                found, note = slot, f"{machine.name}, {slot.label}"
                break
        if found is None:
            book = {"neck": 12.0, "lip": 9.0, "head": 19.0, "depth": 20.0}
            working = Working("", "", "book slot for 12 mm: reference, measure your own")
            return {
                name: Given(Readings(values_mm=(v,)), Origin.ASSUMED, note="not measured", working=working)
                for name, v in book.items()
            } | {"ring_radius": Given(0.0, Origin.ASSUMED)}
        slot_given = {name: Given(getattr(found, name), Origin.MEASURED, note=note) for name, *_ in SLOT_SIZES}
        return slot_given | {"ring_radius": Given(found.ring_radius_mm, Origin.MEASURED, note=note)}

    def _contradictions(self, neck: Readings, lip: Readings, head: Readings, depth: Readings) -> None:
        TSlot(label="Slot", neck=neck, lip=lip, head=head, depth=depth)  # refuses what cannot be

    def _ring_longest(
        self, given: Mapping[str, Given], slot_neck: float, neck_width: float, slot_head: float, head_width: float
    ) -> float:
        radius = given["ring_radius"].value
        if not isinstance(radius, float | int) or radius <= 0:
            return math.inf
        return min(
            longest_straight_mm(radius, slot_neck - 0.1, neck_width), longest_straight_mm(radius, slot_head - 0.2, head_width)
        )

    def _settle_torque(self, given: dict[str, Given], chosen: Mapping[str, Given]) -> None:
        if "torque" in chosen:
            given["torque"] = chosen["torque"]
            return
        given["torque"] = Given(1.0, Origin.CALCULATED)
        solved = self._sizes(Values(given))
        usual = 0.375 * solved.stud_n
        allowed = min(usual, *(limit for _, limit, _ in solved.allowed()))
        torque = max(1.0, round_down(torque_nm(allowed, solved.k, solved.thread.major_mm), 1.0))
        given["torque"] = Given(torque, Origin.CALCULATED, working=Working(
            "K·d·F, F the least preload any part allows, at most 3/8 of the stud's proof load, down to 1 N·m",
            f"{solved.k:g} × {solved.thread.major_mm:g} mm × {num(allowed / 1000, 2)} kN", "guidance: the machine maker's figure first",
        ))  # fmt: skip

    # --- solve -------------------------------------------------------------------------------------------------------

    def _sizes(self, values: Values) -> _Sizes:
        return _Sizes(values)

    def solve(self, values: Values, shop: Shop) -> Design:
        """Derived sizes, checks and the hole, from values that may be anything within their limits."""
        s = self._sizes(values)
        self._contradictions(s.neck, s.lip, s.head, s.depth)
        if not s.nut_neck < s.nut_head:
            raise ShopError(
                "Head width",
                f"{s.nut_head:g} mm is no wider than the neck, {s.nut_neck:g} mm",
                "The head is what holds under the lips",
                "Make the head wider or the neck narrower",
                "head_width",
            )
        if s.chamfer * 2 >= min(s.head_high, s.nut_head):
            raise ShopError(
                "Head edges broken",
                f"{s.chamfer:g} mm leaves nothing of a head {s.head_high:g} mm high",
                "The chamfer runs along both lower edges",
                "Make it smaller",
                "chamfer",
            )
        stop_words = dict(_STOPS)[s.stop_kind]
        return Design(
            family=self.key,
            values=values,
            figures=tuple(s.figures()),
            checks=tuple(s.checks(shop)),
            holes=(Hole("A", 0.0, 0.0, s.hole_words()),),
            datum="middle of the nut's top",
            note=f"{s.thread.shown}, {stop_words}",
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        places = min(design.values.readings(n).count for n, *_ in SLOT_SIZES)
        on = max((design.values.readings(n).on for n, *_ in SLOT_SIZES), default="")
        ring = ("ring_radius", "ring_longest") if design.values.number("ring_radius") else ()
        return (
            Group("Measured slot", (*(n for n, *_ in SLOT_SIZES), *ring), f"{places} place{'s' if places > 1 else ''}" + (f", {on}" if on else "")),
            Group("Nut", ("neck_width", "neck_height", "head_width", "head_height", "total_height", "length", "thread", "engagement_mm", "stud_stop", "chamfer", "material", "pieces")),
            Group("What it takes", ("stud_class", "lubrication", "torque", "preload", "highest_torque")),
        )  # fmt: skip

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = self._sizes(design.values)
        return (_in_place(s), _front(s), _top(s), _side(s))

    def solid(self, design: Design) -> Recipe:
        s = self._sizes(design.values)
        mouth = min(s.thread.major_mm * 1.05, s.nut_neck - 0.4)
        drill = s.thread.tap_drill[1]
        steps = ((mouth, (mouth - drill) / 2), (drill, s.drill_depth()))
        through = None if s.stop_kind == "blind" else s.total
        return Cut(Prism(_profile(s), -s.length / 2, s.length / 2), (drilled((0.0, 0.0, s.total), steps, through_to=through),))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = self._sizes(design.values)
        blind = s.stop_kind == "blind"
        tap_deep = s.total - SHORT_PITCHES * s.thread.pitch_mm if s.stop_kind == "short" else s.engaged if blind else 0.0
        steps: list[Shoulder | Chamfer | TappedHole | BenchWork] = [
            Shoulder(name="Shoulders", across_mm=s.nut_neck, deep_mm=s.neck_high, feature="neck"),
            Chamfer(name="Break the head's lower edges", leg_mm=s.chamfer, feature="head"),
            TappedHole(
                name="Stud hole", thread=s.thread.name, thickness_mm=s.total, drill_through=not blind,
                drill_deep_mm=s.drill_depth() if blind else 0.0, tap_deep_mm=tap_deep,
                countersink_mm=min(s.thread.major_mm * 1.05, s.nut_neck - 0.4), feature="thread",
            ),
        ]  # fmt: skip
        if s.stop_kind == "staked":
            steps.append(
                BenchWork(
                    name="Stake the last thread",
                    words="Turn the nut over on a block. Two light blows of a centre punch beside the thread, opposite each other. Try a stud: it must stop.",
                    tools=("centre punch", "hammer"),
                    caution="Eye protection on.",
                )
            )
        if s.stop_kind == "pin":
            pin = max(2.0, round_down(s.thread.major_mm / 5, 0.5))
            steps.append(
                BenchWork(
                    name="Cross pin",
                    words=f"Drill Ø{pin:g} across the head, {num(0.75 * pin)} mm above the underside, through the thread. Drive in a pin, file both ends flush.",
                    tools=(f"drill Ø{pin:g}", f"pin Ø{pin:g}"),
                )
            )
        blank = Blank(
            across_mm=s.nut_head,
            high_mm=s.total,
            along_mm=s.length,
            pieces=int(design.values.number("pieces")),
            material=design.values.word("material"),
        )
        return Work(blank, tuple(steps), notes=("Top is the neck side. The letters on the faces are those of the drawing.",))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """The geometric checks, with the sizes as they are, in every measured slot."""
        found = []
        for machine, slot in shop.measured_slots():
            there = design.values.having(
                **{n: Given(getattr(slot, n), Origin.MEASURED) for n, *_ in SLOT_SIZES}, ring_radius=slot.ring_radius_mm
            )
            checks = [
                c
                for c in self._sizes(there).checks(shop)
                if c.key in ("slides", "top_below", "head_slides", "head_height", "lies_flat", "ring", "bearing")
            ]
            verdict = worst([c.verdict for c in checks])
            bad = [c for c in checks if c.verdict is verdict]
            found.append(
                SlotFit(machine.name, slot.label, verdict, "slides and seats" if verdict is Verdict.GO else bad[0].reason)
            )
        return tuple(found)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = self._sizes(design.values)
        most = design.figure("highest_torque").value
        name = s.thread.name.split("x")[0] if s.thread.metric else s.thread.name
        return (Capability("stud", f"{name} stud to {most:.0f} N·m", {"thread_mm": s.thread.major_mm, "torque_nm": most}),)


def _canonical(thread: str) -> str:
    """One spelling: "M10" and "M10x1.5" are the same stud; a thread in no table stays as written."""
    try:
        return find_thread(parse_thread(thread)).name
    except ShopError:
        return thread


class _Sizes:
    """The arithmetic of one nut in one slot. Small, made anew at every solve."""

    def __init__(self, v: Values) -> None:
        self.v = v
        self.neck, self.lip, self.head, self.depth = (v.readings(n) for n, *_ in SLOT_SIZES)
        self.nut_neck, self.neck_high = v.number("neck_width"), v.number("neck_height")
        self.nut_head, self.head_high = v.number("head_width"), v.number("head_height")
        self.length, self.chamfer = v.number("length"), v.number("chamfer")
        self.total = self.neck_high + self.head_high
        self.thread = find_thread(parse_thread(v.word("thread")))
        self.stop_kind = v.word("stud_stop")
        self.stop = _stop(self.stop_kind, self.total, self.thread)
        self.engaged = max(0.0, self.stop.engaged)
        self.material = material(v.word("material"))
        self.proof = proof_mpa(v.word("stud_class"), self.thread.major_mm).value
        self.k = nut_factor(v.word("lubrication"))
        self.torque = v.number("torque")
        self.preload = preload_n(self.torque, self.k, self.thread.major_mm)
        # Loads, governing extremes: thinnest lip, widest neck, nut pushed against one wall.
        self.overlap = (self.nut_head + self.nut_neck) / 2 - self.neck.max - EDGE_BREAKS
        arm = self.head.max / 2 - (self.neck.min + self.nut_head) / 4
        self.lip_load = FlangeLoad(arm_mm=arm, effective_length_mm=self.length + 2 * max(arm, 0.0), thick_mm=self.lip.min)
        own = (self.neck.max + self.nut_head) / 4 - self.nut_neck / 2
        self.flange = FlangeLoad(arm_mm=own, effective_length_mm=self.length, thick_mm=self.head_high)
        self.stud_n = self.thread.stress_area_mm2 * self.proof
        self.strip_n = nut_thread_shear_mm2(self.thread, self.engaged) * SHEAR_OVER_YIELD * self.material.yield_mpa
        self.below = self.lip.min - self.neck_high
        self.ring_radius = v.number("ring_radius")

    def allowed(self) -> list[tuple[str, float, float]]:
        """Part, preload at its close limit and at its no-go limit, N."""
        bearing_1 = bearing_mpa(1.0, self.overlap, self.length)
        unit = [
            ("stud", self.stud_n / (1 + PRELOAD_SCATTER), self.stud_n),
            ("nut thread", self.strip_n / (1 + PRELOAD_SCATTER), self.strip_n),
            ("lip pressure", LIP_BEARING[0] / bearing_1, LIP_BEARING[1] / bearing_1),
            ("lip shear", LIP_SHEAR[0] / self.lip_load.shear_mpa(1.0), LIP_SHEAR[1] / self.lip_load.shear_mpa(1.0)),
        ]
        bending_1 = self.lip_load.bending_mpa(1.0)
        if bending_1 > 0:
            unit.append(("lip bending", LIP_BENDING[0] / bending_1, LIP_BENDING[1] / bending_1))
        own_1 = self.flange.bending_mpa(1.0)
        if own_1 > 0:
            unit.append(("nut flange", self.material.yield_mpa / 1.5 / own_1, self.material.yield_mpa / own_1))
        return unit

    def hole_words(self) -> str:
        drill = self.thread.tap_drill[0]
        if self.stop_kind == "blind":
            return f"{self.thread.shown}, drill {drill} to {num(self.drill_depth(), 1)}, tap to {num(self.engaged, 1)}"
        if self.stop_kind == "short":
            return f"{self.thread.shown}, drill {drill} through, tap to {num(self.engaged, 1)}"
        return f"{self.thread.shown}, drill {drill} through, tap through"

    def drill_depth(self) -> float:
        """Full drill diameter from the top: to the floor's point for a blind hole, else through."""
        return self.total - BLIND_FLOOR - POINT_118 * self.thread.tap_drill[1] if self.stop_kind == "blind" else self.total

    def figures(self) -> list[Figure]:
        v, band = self.v, PRELOAD_SCATTER
        given = [
            Figure(
                key=p.name, label=p.label, unit=p.unit, origin=v[p.name].origin, working=v[p.name].working, note=v[p.name].note, step=None,
                value=v.readings(p.name).min if p.kind is Kind.READINGS else v.number(p.name) if p.kind in (Kind.LENGTH, Kind.NUMBER, Kind.COUNT) else 0.0,
                text=self.thread.shown if p.kind is Kind.THREAD else p.shown_choice(v.word(p.name)) if p.kind is Kind.CHOICE else "",
                features=(p.feature,) if p.feature else (),
            )
            for p in TNut.parameters
        ]  # fmt: skip
        at_close, at_no = min(self.allowed(), key=lambda a: a[1]), min(self.allowed(), key=lambda a: a[2])
        t_close, t_no = (torque_nm(f, self.k, self.thread.major_mm) for f in (at_close[1], at_no[2]))
        derived = [
            Figure(key="total_height", label="Total height", value=self.total, features=("neck", "head"), working=Working("neck height + head height", f"{num(self.neck_high)} + {num(self.head_high)}")),
            Figure(key="side_gap", label="Gap each side", value=(self.neck.min - self.nut_neck) / 2, features=("neck",), working=Working("(tightest slot neck − neck)/2", f"({num(self.neck.min)} − {num(self.nut_neck)})/2")),
            Figure(key="below_table", label="Top below the table, pulled up", value=self.below, features=("neck",), working=Working("shallowest lip − neck height", f"{num(self.lip.min)} − {num(self.neck_high)}")),
            Figure(key="engagement_mm", label="Full thread", value=self.engaged, step=0.1, features=("thread",), working=Working("thread engaged: " + self.stop.formula.split(":")[0], self.stop.formula.split(": ")[-1], dict(_STOPS)[self.stop_kind])),
            Figure(key="preload", label="Preload", value=self.preload / 1000, unit="kN", features=("thread",), note=f"{self.preload * (1 - band) / 1000:.1f} to {self.preload * (1 + band) / 1000:.1f} kN: a torque wrench cannot say closer",
                   working=Working("F = T/(K·d)", f"{num(self.torque)} N·m/({self.k:g} × {self.thread.major_mm:g} mm)", f"K {self.k:g} {v.word('lubrication')}, reference; scatter ±{band:.0%}")),
            Figure(key="highest_torque", label="Highest torque", value=t_close, unit="N·m", features=("thread",), note=f"{at_close[0]} comes near its limit first; {at_no[0]} gives out at {t_no:.0f} N·m",
                   working=Working("K·d·F, F the least any part allows", f"{self.k:g} × {self.thread.major_mm:g} mm × {num(at_close[1] / 1000, 2)} kN", f"{at_close[0]}; machine maker's figure first")),
        ]  # fmt: skip
        if self.ring_radius:
            longest = self.ring_longest()
            derived.append(Figure(key="ring_longest", label="Longest straight nut", value=longest, step=0.1, features=("length",), working=Working(
                "2·√(R_o² − (R_i + n)²), the smaller of neck and head", f"R {num(self.ring_radius)}, neck {num(self.neck.min)} − 0.1 and {num(self.nut_neck)}, head {num(self.head.min)} − 0.2 and {num(self.nut_head)}", "middle on the inner wall, corners on the outer")))  # fmt: skip
        return given + derived

    def ring_longest(self) -> float:
        return min(
            longest_straight_mm(self.ring_radius, self.neck.min - 0.1, self.nut_neck),
            longest_straight_mm(self.ring_radius, self.head.min - 0.2, self.nut_head),
        )

    def checks(self, shop: Shop) -> list[Check]:
        play, head_play = self.neck.min - self.nut_neck, self.head.min - self.nut_head
        space = self.depth.min - self.lip.max - self.head_high
        wall = (self.nut_neck - self.thread.major_mm) / 2
        scale = max(0.8, self.proof / 580 * 235 / self.material.yield_mpa)
        engagement = self.engaged / self.thread.major_mm
        f = self.preload
        bearing, shear, bending = (
            bearing_mpa(f, self.overlap, self.length),
            self.lip_load.shear_mpa(f),
            self.lip_load.bending_mpa(f),
        )
        own = self.flange.bending_mpa(f)
        stud, strip = f / self.stud_n, f / self.strip_n if self.strip_n > 0 else math.inf
        y = self.material.yield_mpa
        places = min(r.count for r in (self.neck, self.lip, self.head, self.depth))
        if any(self.v[n].origin is Origin.ASSUMED for n, *_ in SLOT_SIZES):
            places = 0
        kn = f"{num(f / 1000, 2)} kN"
        found = [
            Check(key="slides", label="Slides in the tightest place", value=play, unit="mm", limits=Limits(0.05, 0.2, 0.5), features=("neck", "slot neck"), figures=("neck", "neck_width", "side_gap"), mends=("neck_width",),
                  reason=("wider than the tightest neck: it will not go in" if play < 0 else "too tight: a burr or a chip jams it" if play < 0.2 else "loose: it turns and leans in the slot" if play > 0.5 else "room to slide, not to turn"),
                  working=Working("tightest slot neck − neck", f"{num(self.neck.min)} − {num(self.nut_neck)}", "0.2 to 0.5 both sides together")),
            Check(key="top_below", label="Top stays under the table", value=self.below, unit="mm", limits=Limits(0.2, 0.5), features=("neck", "slot lip"), figures=("lip", "neck_height", "below_table"), mends=("neck_height",),
                  reason="pulled up, the nut's top stands above the table: the clamp presses on the nut and holds nothing"
                if self.below < 0
                else "pulled up, the nut's top is all but level with the table: a burr or a shallower place, and the clamp presses on the nut and holds nothing"
                if self.below < 0.2
                else "only just: a burr or a shallower place and it clamps on itself"
                if self.below < 0.5 else "the pull goes into the lips, not into the nut's top",
                  working=Working("shallowest lip − neck height", f"{num(self.lip.min)} − {num(self.neck_high)}", "nut pulled hard against the lips")),
            Check(key="neck_fills", label="Neck fills the lips", value=self.neck_high / self.lip.min * 100, unit="%", limits=Limits(close_below=60), features=("neck",), figures=("neck_height", "lip"), mends=("neck_height",),
                  reason="a short neck guides badly and costs thread" if self.neck_high < 0.6 * self.lip.min else "the lips guide it over most of their depth",
                  working=Working("neck height / shallowest lip", f"{num(self.neck_high)}/{num(self.lip.min)}")),
            Check(key="head_slides", label="Head slides everywhere", value=head_play, unit="mm", limits=Limits(0.1, 0.4, 2.5), features=("head", "slot head"), figures=("head", "head_width"), mends=("head_width",),
                  reason="the head is wider than the slot: it will not go in" if head_play < 0 else "chips in the slot will jam it" if head_play < 0.4 else "narrow: less lip to bear on" if head_play > 2.5 else "room for chips and the corner fillets",
                  working=Working("narrowest slot head − head", f"{num(self.head.min)} − {num(self.nut_head)}", "about 1 mm")),
            Check(key="head_height", label="Head clears the slot floor", value=space, unit="mm", limits=Limits(0.2, 0.5), features=("head", "slot floor"), figures=("depth", "lip", "head_height"), mends=("head_height",),
                  reason="the head is taller than the space under the lips" if space < 0 else "it binds where the slot is shallow" if space < 0.5 else "it slides everywhere",
                  working=Working("shallowest floor − deepest lip − head height", f"{num(self.depth.min)} − {num(self.lip.max)} − {num(self.head_high)}")),
            Check(key="lies_flat", label="Lies below the table", value=self.depth.min - self.total, unit="mm", limits=Limits(0.2, 0.5), features=("neck", "slot floor"), figures=("depth", "total_height"), mends=("neck_height", "head_height"),
                  reason="lying on the floor it stands above the table and catches the work" if self.depth.min - self.total < 0.5 else "nothing catches the work when the nut is loose",
                  working=Working("shallowest floor − total height", f"{num(self.depth.min)} − {num(self.total)}")),
            Check(key="wall", label="Metal beside the thread", value=wall, unit="mm", limits=wall_limits(self.nut_neck), features=("thread", "neck"), figures=("neck_width", "thread"), mends=("thread",),
                  reason="the thread is wider than the neck" if wall < 0 else "the neck would burst or crack at the thread" if wall < 0.25 else "thin: tap with care and no side load" if self.limits_close(wall) else "a sound wall in the neck",
                  working=Working("(neck − thread)/2", f"({num(self.nut_neck)} − {self.thread.major_mm:g})/2", f"good from min(0.8, 0.055 × neck) = {num(min(0.8, 0.055 * self.nut_neck))}")),
            Check(key="engagement", label="Thread engagement", value=engagement, unit="× d", limits=Limits(0.8 * scale, 1.0 * scale), features=("thread",), figures=("engagement_mm", "thread"), mends=("neck_height", "head_height", "stud_stop", "thread"),
                  reason="too little thread: it strips before the stud gives" if engagement < 0.8 * scale else "enough with care; strips first if overdone" if engagement < scale else "the stud gives before the thread strips",
                  working=Working("full thread / diameter", f"{num(self.engaged)}/{self.thread.major_mm:g}", f"1.0 × d for an 8.8 stud in mild steel, here × {num(scale, 2)}")),
            Check(key="stud_stop", label="Stud stops inside the nut", value=self.stop.halts_at, unit="mm", limits=Limits(no_below=0.5), features=("thread", "slot floor"), figures=("stud_stop",), mends=("stud_stop",),
                  reason="the stud runs through, jacks against the slot floor and breaks the lips" if self.stop_kind == "none" else "it cannot reach the slot floor",
                  working=Working("where the stud halts above the underside", num(self.stop.halts_at), dict(_STOPS)[self.stop_kind])),
            Check(key="stud", label="Stud", value=stud * 100, unit="%", limits=Limits(close_above=100 / (1 + PRELOAD_SCATTER), no_above=100), features=("thread",), figures=("preload", "torque"), mends=("torque",),
                  reason="past its proof load: it stretches for good" if stud > 1 else "at the high end of the torque scatter it may stretch" if stud * (1 + PRELOAD_SCATTER) > 1 else "below its proof load even when the torque scatters high",
                  working=Working("F/(stress area × proof stress)", f"{kn}/({num(self.thread.stress_area_mm2, 1)} mm² × {self.proof:.0f} MPa)", "ISO 898-1")),
            Check(key="strip", label="Nut thread against stripping", value=min(strip * 100, 1e6), unit="%", limits=Limits(close_above=100 / (1 + PRELOAD_SCATTER), no_above=100), features=("thread",), figures=("engagement_mm", "material"), mends=("torque", "material", "head_height"),
                  reason="the thread shears out of the nut" if strip > 1 else "near shearing when the torque scatters high" if strip * (1 + PRELOAD_SCATTER) > 1 else "the nut's thread has strength in hand",
                  working=Working("F/(π·d·Le/P·[P/2 + (d − D2)·tan 30°] × 0.58 × yield)", f"{kn}/({num(nut_thread_shear_mm2(self.thread, self.engaged), 0)} mm² × 0.58 × {y:.0f} MPa)", "yield: reference")),
            Check(key="bearing", label="Pressure under the lips", value=min(bearing, 1e6), unit="MPa", limits=Limits(-1, -1, *LIP_BEARING), features=("head", "slot lip"), figures=("head_width", "length", "neck"), mends=("length", "head_width", "torque"),
                  reason="the nut hardly reaches under one lip" if self.overlap <= 0 else "it dents the lips" if bearing > LIP_BEARING[1] else "marks the lips in time" if bearing > LIP_BEARING[0] else "spread wide enough for grey iron",
                  working=Working("F/(2·overlap·L), overlap = (head + neck)/2 − widest slot neck − 0.3", f"{kn}/(2 × {num(self.overlap)} × {num(self.length)})", "nut pushed to one side; grey iron, machine maker's figure first")),
            Check(key="lip_shear", label="Lips in shear", value=shear, unit="MPa", limits=Limits(close_above=LIP_SHEAR[0], no_above=LIP_SHEAR[1]), features=("slot lip",), figures=("lip", "length"), mends=("length", "torque"),
                  reason="it may break the lips out of the table" if shear > LIP_SHEAR[1] else "high for grey iron" if shear > LIP_SHEAR[0] else "the lips have strength in hand",
                  working=Working("F/(2·t·Leff), Leff = L + 2·arm", f"{kn}/(2 × {num(self.lip.min)} × {num(self.lip_load.effective_length_mm, 1)})", "away from the slot's end; at the end Leff is L + arm")),
            Check(key="lip_bending", label="Lips in bending", value=bending, unit="MPa", limits=Limits(close_above=LIP_BENDING[0], no_above=LIP_BENDING[1]), features=("slot lip",), figures=("lip", "length", "head_width"), mends=("length", "torque"),
                  reason="it may crack the lips at their root" if bending > LIP_BENDING[1] else "high for grey iron" if bending > LIP_BENDING[0] else "the lips have strength in hand",
                  working=Working("3·F·arm/(Leff·t²), arm = slot head/2 − (slot neck + head)/4", f"3 × {kn} × {num(self.lip_load.arm_mm, 2)}/({num(self.lip_load.effective_length_mm, 1)} × {num(self.lip.min)}²)", "cantilever at the lip's root")),
            Check(key="flange", label="Nut's own flange", value=own, unit="MPa", limits=Limits(close_above=y / 1.5, no_above=y), features=("head",), figures=("head_height", "head_width", "material"), mends=("head_height", "length", "torque", "material"),
                  reason="the head bends down at the neck" if own > y else "less than 1.5 times in hand" if own > y / 1.5 else "the head stays flat",
                  working=Working("3·F·arm/(L·head height²), arm = (slot neck + head)/4 − neck/2", f"3 × {kn} × {num(self.flange.arm_mm, 2)}/({num(self.length)} × {num(self.head_high)}²)", f"yield {y:.0f} MPa, reference")),
            Check(key="places", label="Slot measured in places", value=places, unit="", limits=Limits(close_below=3), features=("slot neck",), figures=("neck", "lip", "head", "depth"), text=f"{places} of 3",
                  reason="a book slot stands in: measure yours before you cut" if not places else "a slot is seldom the same along the table; measure both ends and the middle" if places < 3 else "both ends and the middle were measured",
                  working=Working("fewest places any size was read at", str(places))),
        ]  # fmt: skip
        if self.ring_radius:
            longest = self.ring_longest()
            found.append(Check(key="ring", label="Straight nut passes the ring slot", value=longest - self.length, unit="mm", limits=Limits(0.0, 0.3), features=("length", "slot neck"), figures=("ring_longest", "length"), mends=("length",),
                               reason="too long for the curve: shorten it, or make it curved" if longest < self.length else "a straight nut will do; it saves a rotary-table job",
                               working=Working("longest straight nut − length", f"{num(longest)} − {num(self.length)}")))  # fmt: skip
        others = [
            find_thread(parse_thread(s.thread))
            for s in shop.studs
            if (_canonical(s.thread) != self.thread.name and _canonical(s.thread) != s.thread)
            or "x" in s.thread
            or "-" in s.thread
        ]
        alike = thread_near_misses(self.thread, {t for t in others if t.name != self.thread.name})
        if alike:
            found.append(Check(key="look_alike", label="Look-alike stud", value=len(alike), unit="", limits=Limits(close_above=0), features=("thread",), figures=("thread",), text=alike[0].partner,
                               reason=alike[0].sentence + "; mark the nut with its thread", working=Working("studs within 6 % in diameter and 16 % in pitch", ", ".join(m.partner for m in alike))))  # fmt: skip
        return found

    def limits_close(self, wall: float) -> bool:
        return wall_limits(self.nut_neck).judge(wall) is Verdict.CLOSE


def _profile(s: _Sizes) -> tuple[tuple[float, float], ...]:
    """The T, underside on z = 0, counter-clockwise; lower edges broken."""
    h, n, c = s.nut_head / 2, s.nut_neck / 2, s.chamfer
    low = ((-h + c, 0.0), (h - c, 0.0), (h, c)) if c else ((-h, 0.0), (h, 0.0))
    close = ((-h, c),) if c else ()
    return (*low, (h, s.head_high), (n, s.head_high), (n, s.total), (-n, s.total), (-n, s.head_high), (-h, s.head_high), *close)


def _in_place(s: _Sizes) -> Scene:
    """End view in the measured slot, nut pulled up against the lips; y = 0 is the table top."""
    a, t, b, h = s.neck.min / 2, s.lip.min, s.head.min / 2, s.depth.min
    out, under = b + max(4.0, 0.28 * b), h + max(2.5, 0.15 * h)
    lift = -t - s.head_high  # of the nut's underside
    host = Path(
        ((-out, 0), (-a, 0), (-a, -t), (-b, -t), (-b, -h), (b, -h), (b, -t), (a, -t), (a, 0), (out, 0), (out, -under), (-out, -under)),
        Style.HOST_SECTION, "table", closed=True,
    )  # fmt: skip
    nut = Path(tuple((x, z + lift) for x, z in _profile(s)), Style.BODY, "nut", closed=True)
    top, d = lift + s.total, s.thread.major_mm / 2
    drill = s.thread.tap_drill[1] / 2
    deep = top - s.drill_depth()
    elements: tuple[Element, ...] = (
        host,
        nut,
        Line((-a, 0), (-a, -t), Style.HOST, "slot neck"),
        Line((a, 0), (a, -t), Style.HOST, "slot neck"),
        Line((-b, -t), (-a, -t), Style.HOST, "slot lip"),
        Line((b, -t), (a, -t), Style.HOST, "slot lip"),
        Line((-b, -t), (-b, -h), Style.HOST, "slot head"),
        Line((b, -t), (b, -h), Style.HOST, "slot head"),
        Line((-b, -h), (b, -h), Style.HOST, "slot floor"),
        *(Line((x * d, top), (x * d, top - (s.engaged if s.stop_kind in ("short", "blind") else s.total)), Style.THREAD, "thread") for x in (-1, 1)),
        *(Line((x * drill, top), (x * drill, deep), Style.HIDDEN, "thread") for x in (-1, 1)),
        *_edges(s, lift),
        Line((0, top + 2), (0, lift - 2), Style.CENTRE),
        Words((out + 0.12 * b, 0.44 * h), "{value} gap each side", leader=(a, -t * 0.25), feature="neck", figure="side_gap"),
        Words((out + 0.12 * b, 0.26 * h), "stays {value} below the table", leader=(s.nut_neck / 2 * 0.7, top), feature="neck", figure="below_table"),
    )  # fmt: skip
    dims = (
        Dimension("neck", (-a, 0), (a, 0), Side.ABOVE, suffix="slot", entry="neck", feature="slot neck", measured=True, order=0),
        Dimension(
            "neck_width", (-s.nut_neck / 2, top), (s.nut_neck / 2, top), Side.ABOVE, entry="neck_width", feature="neck", order=4
        ),
        Dimension("lip", (-a, -t), (-a, 0), Side.LEFT, suffix="lip", entry="lip", feature="slot lip", measured=True, order=1),
        Dimension(
            "head", (-b, -h), (b, -h), Side.BELOW, suffix="slot", entry="head", feature="slot head", measured=True, order=2
        ),
        Dimension(
            "depth", (-b, -h), (-b, 0), Side.LEFT, suffix="deep", entry="depth", feature="slot floor", measured=True, order=3
        ),
        Dimension(
            "head_width", (-s.nut_head / 2, lift), (s.nut_head / 2, lift), Side.BELOW, entry="head_width", feature="head", order=6
        ),
        Dimension(
            "neck_height", (s.nut_neck / 2, -t), (s.nut_neck / 2, top), Side.RIGHT, entry="neck_height", feature="neck", order=5
        ),
        Dimension(
            "head_height", (s.nut_head / 2, lift), (s.nut_head / 2, -t), Side.RIGHT, entry="head_height", feature="head", order=7
        ),
    )
    return Scene("in place", "End view in the slot", elements, dims, _handles(s, lift, in_slot=True))


def _edges(s: _Sizes, lift: float) -> tuple[Line, ...]:
    n, h, mid, top = s.nut_neck / 2, s.nut_head / 2, s.head_high + lift, s.total + lift
    return (
        Line((-n, top), (n, top), Style.VISIBLE, "neck"),
        *(Line((x * n, mid), (x * n, top), Style.VISIBLE, "neck") for x in (-1, 1)),
        *(Line((x * n, mid), (x * h, mid), Style.VISIBLE, "head") for x in (-1, 1)),
        *(Line((x * h, lift + s.chamfer), (x * h, mid), Style.VISIBLE, "head") for x in (-1, 1)),
        *(Line((x * h, lift + s.chamfer), (x * (h - s.chamfer), lift), Style.VISIBLE, "head") for x in (-1, 1)),
        Line((-h + s.chamfer, lift), (h - s.chamfer, lift), Style.VISIBLE, "head"),
    )


def _handles(s: _Sizes, lift: float, *, in_slot: bool) -> tuple[Handle, ...]:
    n, h, mid, top = s.nut_neck / 2, s.nut_head / 2, s.head_high + lift, s.total + lift
    neck_most, head_most = round_down(s.neck.min - 0.2, STEP), round_down(s.head.min - 0.4, STEP)
    found = [
        *(
            Handle(
                "neck_width",
                (x * n, mid),
                (x * n, top),
                (x, 0.0),
                2.0,
                STEP,
                s.thread.major_mm + 0.5,
                neck_most,
                "the thread needs a wall",
                f"the tightest slot neck is {s.neck.min:g} mm",
                "neck",
            )
            for x in (-1.0, 1.0)
        ),
        *(
            Handle(
                "head_width",
                (x * h, lift + s.chamfer),
                (x * h, mid),
                (x, 0.0),
                2.0,
                STEP,
                n * 2 + 1,
                head_most,
                "the head must reach under the lips",
                f"the narrowest slot head is {s.head.min:g} mm",
                "head",
            )
            for x in (-1.0, 1.0)
        ),
        Handle(
            "neck_height",
            (-n, top),
            (n, top),
            (0.0, 1.0),
            1.0,
            STEP,
            1.0,
            round_down(s.lip.min - 0.5, STEP),
            "a nut has a neck",
            f"the shallowest lip is {s.lip.min:g} mm",
            "neck",
        ),
    ]
    if in_slot:
        high = round_down(s.depth.min - s.lip.max - HEAD_CLEAR, STEP)
        found.append(
            Handle(
                "head_height",
                (-h, lift),
                (h, lift),
                (0.0, -1.0),
                1.0,
                STEP,
                1.0,
                high,
                "a nut has a head",
                "the space under the lips ends there",
                "head",
            )
        )
    return tuple(found)


def _front(s: _Sizes) -> Scene:
    d, drill = s.thread.major_mm / 2, s.thread.tap_drill[1] / 2
    full = s.engaged if s.stop_kind in ("short", "blind") else s.total
    n, h = s.nut_neck / 2, s.nut_head / 2
    elements: tuple[Element, ...] = (
        *_edges(s, 0.0),
        *(Line((x * d, s.total), (x * d, s.total - full), Style.THREAD, "thread") for x in (-1, 1)),
        *(Line((x * drill, s.total), (x * drill, s.total - s.drill_depth()), Style.HIDDEN, "thread") for x in (-1, 1)),
        Line((0, s.total + 2), (0, -2), Style.CENTRE),
    )
    dims = (
        Dimension("neck_width", (-n, s.total), (n, s.total), Side.ABOVE, entry="neck_width", feature="neck", order=4),
        Dimension("head_width", (-h, 0), (h, 0), Side.BELOW, entry="head_width", feature="head", order=6),
        Dimension("neck_height", (-n, s.head_high), (-n, s.total), Side.LEFT, entry="neck_height", feature="neck", order=5),
        Dimension("head_height", (-h, 0), (-h, s.head_high), Side.LEFT, entry="head_height", feature="head", order=7),
        Dimension("total_height", (-h, 0), (-n, s.total), Side.LEFT, feature="head", order=20),
    )
    return Scene("front", "Front", elements, dims, _handles(s, 0.0, in_slot=False))


def _top(s: _Sizes) -> Scene:
    n, h, y = s.nut_neck / 2, s.nut_head / 2, s.length / 2
    elements: tuple[Element, ...] = (
        box(-h, -y, h, y, Style.VISIBLE, "head"),
        *(Line((x * n, -y), (x * n, y), Style.VISIBLE, "neck") for x in (-1, 1)),
        Arc((0, 0), s.thread.tap_drill[1] / 2, style=Style.VISIBLE, feature="thread"),
        Arc((0, 0), s.thread.major_mm / 2, 80, 350, Style.THREAD, "thread"),
        Line((-s.thread.major_mm * 0.7, 0), (s.thread.major_mm * 0.7, 0), Style.CENTRE),
        Line((0, -s.thread.major_mm * 0.7), (0, s.thread.major_mm * 0.7), Style.CENTRE),
    )
    dims = (Dimension("length", (-h, -y), (-h, y), Side.LEFT, entry="length", feature="length", order=8),)
    handle = (
        Handle(
            "length",
            (-h, y),
            (h, y),
            (0.0, 1.0),
            2.0,
            1.0,
            3.0,
            300.0,
            "a nut has a length",
            "longer than that is a rail",
            "length",
        ),
    )
    return Scene("top", "Top", elements, dims, handle)


def _side(s: _Sizes) -> Scene:
    y, drill = s.length / 2, s.thread.tap_drill[1] / 2
    elements: tuple[Element, ...] = (
        box(-y, 0, y, s.total, Style.VISIBLE, "length"),
        Line((-y, s.head_high), (y, s.head_high), Style.VISIBLE, "head"),
        *(Line((x * drill, s.total), (x * drill, s.total - s.drill_depth()), Style.HIDDEN, "thread") for x in (-1, 1)),
        Line((0, s.total + 2), (0, -2), Style.CENTRE),
    )
    return Scene("side", "Side", elements)


FAMILY: Final = TNut()
