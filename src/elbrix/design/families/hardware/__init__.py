"""Clamp hardware from bar: studs, tall nuts, shoulder, thumb screws and T-bolts, turned from round or hexagon bar.

Turned about z; z = 0 is its lower end. A hexagon has its corners at +x and −x.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.families.hardware import pictures, proof, thumb
from elbrix.design.families.hardware.sizes import CHAMFER_DEG, CHAMFER_SHARE, DRY, KINDS, PARAMETERS, HardwareSizes, undercut_root
from elbrix.design.families.hardware.thumb import FINGERS_N
from elbrix.design.family import Capability, Design, Request, SlotFit
from elbrix.design.hosts import slot_of, table_of
from elbrix.design.parts import Part, nuts, size_of
from elbrix.design.slot_nut import SHORT_PITCHES, nut_for
from elbrix.design.work import (
    Blank,
    Flat,
    HandOperation,
    MadeLength,
    Step,
    TurnedBore,
    TurnedGroove,
    TurnedPart,
    TurnedTaper,
    TurnedThread,
    Work,
)
from elbrix.drawing.scene import Scene
from elbrix.geometry.shapes import hexagon
from elbrix.mechanics.strength import STUD_SHARE, torque_nm
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Form
from elbrix.shop.tooling import Stud
from elbrix.shop.workholding import Fastener, FastenerKind
from elbrix.solids.recipe import Cut, Join, Prism, Recipe, Turned
from elbrix.standards.materials import material
from elbrix.standards.screws import head
from elbrix.standards.threads import Thread, find_thread, first_choice

_BOOK: Final = {"lip": 9.0, "head": 19.0, "depth": 21.0}


class Hardware:
    """See the module."""

    key = "hardware"
    title = "Clamp hardware from bar"
    when = "When a stud, nut, screw or T-bolt has to have a length nobody sells."
    group = "fasten it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        kind = p.assume("kind", "stud")
        section = p.assume("section", "round")
        neck_read, name, known = slot_of(shop, request)
        _, slot = table_of(shop, request)
        neck = p.measure("neck", neck_read, name, known=known)
        found: dict[str, Readings] = {}
        for part, book in _BOOK.items():
            read = getattr(slot, part) if known and slot is not None else None
            found[part] = p.measure(
                part,
                read or Readings(values_mm=(book,)),
                name if read else "not measured: book slot for 12 mm",
                known=read is not None,
            )
        lip = found["lip"]
        nut = nut_for(neck.min, lip.min, lip.max, found["head"].min, found["depth"].min)
        thread = self._thread(p, kind, neck, nut.thread)
        d, pitch = thread.major_mm, thread.pitch_mm
        steel = material(str(chosen["material"].value) if "material" in chosen else "medium carbon steel")
        root = undercut_root(thread)
        necked = kind in ("shoulder_screw", "thumb_screw")
        area = min(thread.stress_area_mm2, math.pi / 4 * root**2) if necked else thread.stress_area_mm2
        torque_nm(STUD_SHARE * steel.yield_mpa * area, DRY, d)
        p.assume("knurl", 0.8)
        if kind == "thumb_screw":
            wide = p.reckon("head_diameter", worked("2·d", d), up=1.0)
            p.reckon("torque", worked("finger force·head/2", term(FINGERS_N, 0, "N"), wide), unit="N·m", down=0.05, least=0.2)
        else:
            p.torque(
                "torque",
                worked(
                    f"K·d·{STUD_SHARE:g}·yield·weakest section",
                    DRY,
                    d,
                    term(steel.yield_mpa, 6, "MPa"),
                    term(area, 2, "mm²"),
                    source="the lips and the nut may allow less",
                ),
                step=0.5,
            )
        low = p.assume("clamp_low", 20.0)
        high = p.assume("clamp_high", max(60.0, low + 1))
        tall = self._nut_height(p, thread)
        engaged = (
            p.reckon(
                "engaged",
                worked(
                    f"nut's neck + its head − {SHORT_PITCHES:g}·pitch",
                    nut.neck_height,
                    nut.head_height,
                    nut.thread.pitch_mm,
                    source="its tap is stopped short",
                ),
                down=0.5,
            )
            if kind == "stud"
            else p.reckon("engaged", worked("1.5·d + 2·pitch", d, pitch, source="with the undercut"), up=0.5)
        )
        self._length(p, kind, thread, (engaged, low, high, tall), nut.neck_height, lip, found["depth"], section)
        self._head(p, kind, thread, neck, found["head"], shop, section)
        p.assume("material", "medium carbon steel")
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    @staticmethod
    def _thread(p: Proposal, kind: str, neck: Readings, nut_thread: Thread) -> Thread:
        if kind == "t_bolt":
            passing = [t for t in first_choice() if t.major_mm <= neck.min - 0.1]
            best = passing[-1] if passing else first_choice()[0]
            return find_thread(
                parse_thread(
                    p.work("thread", best.name, "the largest that goes between the lips", f"{format_number(neck.min)} − 0.1")
                )
            )
        if kind in ("shoulder_screw", "thumb_screw"):
            return find_thread(parse_thread(p.assume("thread", "M6x1")))
        return find_thread(
            parse_thread(
                p.work("thread", nut_thread.name, "the largest a T-nut for the slot takes", f"{format_number(neck.min)} − 0.3")
            )
        )

    @staticmethod
    def _nut_height(p: Proposal, thread: Thread) -> float:
        size = thread.name.split("x")[0] if thread.metric else thread.name.rpartition("-")[0]
        try:
            nut, washer = head("nut", size, "height").value, head("washer", size, "thickness").value
        except ShopError:  # of no table
            return p.assume("nut_height", round(1.1 * thread.major_mm, 1))
        return p.reckon("nut_height", worked("nut + washer", nut, washer, source="of the standard"), near=0.01)

    @staticmethod
    def _length(
        p: Proposal,
        kind: str,
        thread: Thread,
        ends: tuple[float, float, float, float],
        nut_neck: float,
        lip: Readings,
        depth: Readings,
        section: str,
    ) -> None:
        """Head, overall length and the upper thread, which reaches a turn below the thinnest work."""
        (d, pitch), (engaged, low, high, tall) = (thread.major_mm, thread.pitch_mm), ends
        bolt = kind == "t_bolt"
        head_high = (
            p.reckon(
                "head_height",
                worked("min(0.8·d; shallowest depth − deepest lip − 0.5)", d, depth.min, lip.max),
                down=0.5,
                least=1.0,
            )
            if bolt
            else p.reckon("head_height", worked("0.65·d", d), up=0.5)
        )
        foot = head_high + lip.max if bolt else engaged + max(0.0, lip.min - nut_neck)
        if kind == "tall_nut":
            long = p.reckon("length", worked("2·d", d), up=0.5)
        else:
            long = p.reckon("length", worked("below the table + most clamped + nut + 2·pitch", foot, high, tall, pitch), up=1.0)
        most = long - head_high - 1 if bolt else long - foot - 8 if section == "hexagon" and kind == "stud" else long - 1
        p.reckon(
            "upper_thread",
            worked(
                "length − below the table − least clamped + pitch + 0.3",
                long,
                foot,
                low,
                pitch,
                source="a turn, and what they are off",
            ),
            up=0.5,
            least=1.0,
            most=max(1.0, round_down(most, 0.5)),
        )

    @staticmethod
    def _head(p: Proposal, kind: str, thread: Thread, neck: Readings, slot_head: Readings, shop: Shop, section: str) -> None:
        d, pitch = thread.major_mm, thread.pitch_mm
        hole = p.assume("hole", Readings(values_mm=(round(d + 2.01, 2), round(d + 2.02, 2))))
        thick = p.assume("work_thickness", 10.0)
        shoulder = p.reckon("shoulder_diameter", worked("tightest hole − 0.015", term(hole.min, 4)), down=0.001)
        p.reckon("shoulder_length", worked("what turns on it + 0.1", thick, source="end float"), near=0.01)
        p.reckon("undercut", worked("2·pitch", pitch), up=0.5)
        around = shoulder + 3 if kind == "shoulder_screw" else 1.5 * d + 1 if kind == "tall_nut" else d + 2
        flats = sorted(b.width_mm for b in shop.bars if b.form is Form.HEXAGON)
        own = next((f for f in flats if around <= f <= 1.6 * around), None)
        if own is not None:
            p.measure("across_flats", own, "hexagon bar on the rack")
        else:
            p.reckon("across_flats", worked("room round the thread", around), up=1.0)
        wide = p.reckon("head_width", worked("max(d + 2; narrowest slot head − 1)", d, slot_head.min), down=0.1)
        if kind == "thumb_screw":
            return
        p.reckon("head_diameter", worked("max(1.25·flats; widest slot head + 1)", wide, slot_head.max), up=0.5)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = HardwareSizes(values)
        size = s.thread.shown
        end = f"end chamfered {length(s.break_, 2)} × 45°"
        knob = (
            f"straight knurl, pitch {length(s.v.number('knurl'))}, after turning Ø{length(s.head_turned, 2)}"
            if s.v.number("knurl")
            else f"head Ø{length(s.head_turned, 2)}, plain"
        )
        note = {
            "stud": f"{size} both ends, {end}; shank between them Ø{length(s.d, 2)}"
            if not s.all_thread
            else f"{size} right through, {end}",
            "tall_nut": (
                f"{size} right through, drill {length(s.thread.tap_drill[1], 2)}, square to its faces; both ends chamfered"
                f" {CHAMFER_DEG:g}°"
            ),
            "shoulder_screw": (
                f"{size}, {end}, undercut Ø{length(s.root, 1)}; hexagon {length(s.hexagon)} across flats, chamfered"
                f" {CHAMFER_DEG:g}°"
            ),
            "thumb_screw": f"{size}, {end}, undercut Ø{length(s.root, 2)} × {length(s.undercut, 1)} under the head; {knob}",
            "t_bolt": (
                f"{size}, {end}; neck Ø{length(s.d, 2)}, flats {length(s.head_width, 1)} symmetrical to the shank, head's"
                " underside square to it"
            ),
        }[s.kind]
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=(),
            datum="its axis and its lower end",
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        kind = design.values.word("kind")
        made = ("mass", "material", "pieces")
        load = Group("Load", ("torque", "pull", "stress") if kind != "tall_nut" else ("torque", "pull"))
        if kind == "tall_nut":
            return (Group("Nut", ("kind", "thread", "length", "across_flats", *made)), load)
        if kind == "shoulder_screw":
            return (
                Group("Turns on it", ("kind", "hole", "work_thickness", "shoulder_diameter", "shoulder_length")),
                Group("Screw", ("thread", "engaged", "undercut", "across_flats", "head_height", "overall", *made)),
                load,
            )
        if kind == "thumb_screw":
            head_of = ("head_diameter", "head_height", "knurl", "before_knurl", "over_crests")
            return (Group("Head", ("kind", *head_of)), Group("Screw", ("thread", "engaged", "undercut", "overall", *made)), load)
        clamped = Group("Clamped", ("clamp_low", "clamp_high", "nut_height", "out", "down_to"))
        if kind == "stud":
            flats = ("across_flats",) if design.values.word("section") == "hexagon" else ()
            return (
                Group("Slot", ("kind", "neck", "lip", "head", "depth", "foot")),
                Group("Stud", ("thread", "engaged", "upper_thread", "length", "section", *flats, *made)),
                clamped,
                load,
            )
        return (
            Group("Slot", ("kind", "neck", "lip", "head", "depth", "foot")),
            Group("Bolt", ("thread", "upper_thread", "length", "head_width", "head_diameter", "head_height", *made)),
            clamped,
            load,
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = HardwareSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = HardwareSizes(design.values)
        at = (0.0, 0.0, 0.0)
        if s.kind == "tall_nut":
            r = s.thread.tap_drill[1] / 2
            bore = Turned(((0.0, -1.0), (r, -1.0), (r, s.length + 1), (0.0, s.length + 1)), at)
            return Cut(self._flats(s), (bore, *self._chamfers(s)))
        body = Turned(s.profile, at)
        if s.kind == "t_bolt":
            far, half = s.head, s.head_width / 2
            flats = tuple(
                Prism(((a, -far), (b, -far), (b, far), (a, far)), -1.0, s.head_height + 1.0, "xy")
                for a, b in ((-far, -half), (half, far))
            )
            return Cut(body, flats)
        if not s.in_hexagon:
            return body
        whole = Join((body, self._flats(s)))
        return whole if s.kind == "stud" else Cut(whole, self._chamfers(s))

    @staticmethod
    def _flats(s: HardwareSizes) -> Prism:
        low, high = s.hex_span
        return Prism(hexagon(s.hexagon), low, high, "xy")

    @staticmethod
    def _chamfers(s: HardwareSizes) -> tuple[Recipe, ...]:
        """What takes the corners off a hexagon's ends: of a nut both, of a head the outer one."""
        far, small, slope = s.corners, CHAMFER_SHARE * s.hexagon / 2, math.tan(math.radians(30))

        def ring(z: float, out: float) -> Turned:
            """Everything beyond a cone that begins on the face at `small`."""
            return Turned(
                ((0.0, z + 2 * out), (far, z + 2 * out), (far, z - out * (far - small) * slope), (small, z), (0.0, z + out)),
                (0.0, 0.0, 0.0),
            )

        low, high = s.hex_span
        return (ring(high, 1.0),) if s.kind == "shoulder_screw" else (ring(high, 1.0), ring(low, -1.0))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = HardwareSizes(design.values)
        steps: list[Step] = {
            "stud": self._stud_work,
            "tall_nut": self._nut_work,
            "shoulder_screw": self._screw_work,
            "t_bolt": self._bolt_work,
            "thumb_screw": self._thumb_work,
        }[s.kind](s)
        # A stud that is thread from end to end is nowhere as thick as its nominal Ø.
        thick = s.bar if s.in_hexagon else 2 * max(r for r, _ in s.profile)
        blank = Blank(
            width_mm=thick,
            height_mm=thick,
            round_mm=thick,
            hex_mm=s.hexagon if s.in_hexagon else 0.0,
            length_mm=s.length,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
            along="-z" if s.kind == "t_bolt" else "+z",
            up="+x",
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    @staticmethod
    def _lead(s: HardwareSizes, id: str, *, far: bool = False) -> TurnedTaper:
        """The 45° in front of a thread; `far`: at the second end."""
        small, whole, c = s.turned - 2 * s.break_, s.turned, s.break_
        ends = (whole, small, s.length - c, s.length) if far else (small, whole, 0.0, c)
        return TurnedTaper(
            name="Chamfer", from_size_mm=ends[0], to_size_mm=ends[1], from_mm=ends[2], to_mm=ends[3], feature="thread", id=id
        )

    @staticmethod
    def _hex_chamfer(s: HardwareSizes, id: str, *, far: bool) -> TurnedTaper:
        small, drop = CHAMFER_SHARE * s.hexagon, s.hex_drop
        ends = (s.corners, small, s.length - drop, s.length) if far else (small, s.corners, 0.0, drop)
        return TurnedTaper(
            name="Chamfer of the flats",
            from_size_mm=ends[0],
            to_size_mm=ends[1],
            from_mm=ends[2],
            to_mm=ends[3],
            feature="flats",
            id=id,
        )

    def _stud_work(self, s: HardwareSizes) -> list[Step]:
        high = s.length
        if s.all_thread:
            return [
                TurnedPart(name="Thread's outside", size_mm=s.turned, length_mm=high, feature="thread", id="outside"),
                self._lead(s, "lead"),
                self._lead(s, "lead2", far=True),
                TurnedThread(name="Thread", thread=s.thread.name, from_mm=0.0, to_mm=high, feature="thread", id="thread"),
            ]
        return [
            TurnedPart(name="Lower thread's outside", size_mm=s.turned, length_mm=s.lower, feature="thread", id="lower"),
            *(
                [TurnedPart(name="Neck", size_mm=s.d, length_mm=s.collar, allowed_mm=0.1, feature="body", id="neck")]
                if s.in_hexagon
                else []
            ),
            TurnedPart(name="Middle", size_mm=s.bar, length_mm=high - s.upper, allowed_mm=0.1, feature="body", id="middle"),
            TurnedPart(name="Upper thread's outside", size_mm=s.turned, length_mm=high, feature="upper_thread", id="upper"),
            self._lead(s, "lead"),
            self._lead(s, "lead2", far=True),
            TurnedThread(name="Lower thread", thread=s.thread.name, from_mm=0.0, to_mm=s.lower, feature="thread", id="cut_lower"),
            TurnedThread(
                name="Upper thread",
                thread=s.thread.name,
                from_mm=high - s.upper,
                to_mm=high,
                feature="upper_thread",
                id="cut_upper",
            ),
        ]

    def _thumb_work(self, s: HardwareSizes) -> list[Step]:
        return [*thumb.work(s), self._lead(s, "lead")]

    def _nut_work(self, s: HardwareSizes) -> list[Step]:
        return [
            self._hex_chamfer(s, "chamfer", far=False),
            self._hex_chamfer(s, "chamfer2", far=True),
            TurnedBore(name="Thread", size_mm=s.thread.tap_drill[1], thread=s.thread.name, feature="thread", id="tapped"),
        ]

    def _screw_work(self, s: HardwareSizes) -> list[Step]:
        b, end = s.lower, s.lower + s.shoulder_length
        groove = (
            [TurnedGroove(name="Undercut", size_mm=s.root, from_mm=b - s.undercut, to_mm=b, feature="undercut", id="undercut")]
            if s.undercut
            else []
        )
        return [
            TurnedPart(
                name="Thread's outside",
                size_mm=s.turned,
                length_mm=b,
                feature="thread",
                id="outside",
                shoulder=MadeLength(
                    size="shoulder_length", length_mm=s.shoulder_length, words="caliper between the two shoulders", behind=True
                ),
            ),
            TurnedPart(name="Shoulder", size_mm=s.shoulder, length_mm=end, allowed_mm=0.005, feature="shoulder", id="shoulder"),
            TurnedPart(name="Head", size_mm=s.corners, length_mm=s.length, allowed_mm=0.1, feature="flats", id="head"),
            self._lead(s, "lead"),
            *groove,
            self._hex_chamfer(s, "chamfer", far=True),
            TurnedThread(
                name="Thread", thread=s.thread.name, from_mm=0.0, to_mm=b - s.undercut, feature="thread", id="cut_thread"
            ),
        ]

    def _bolt_work(self, s: HardwareSizes) -> list[Step]:
        shank = s.length - s.head_height
        return [
            TurnedPart(name="Thread's outside", size_mm=s.turned, length_mm=s.upper, feature="upper_thread", id="outside"),
            TurnedPart(name="Shank", size_mm=s.d, length_mm=shank, feature="body", id="shank"),
            TurnedPart(name="Head", size_mm=s.head, length_mm=s.length, allowed_mm=0.1, feature="head_height", id="head"),
            self._lead(s, "lead"),
            TurnedThread(
                name="Thread", thread=s.thread.name, from_mm=0.0, to_mm=s.upper, feature="upper_thread", id="cut_thread"
            ),
            Flat(
                name="Flats of the head",
                across_mm=s.head_width,
                round_mm=s.head,
                from_mm=shank,
                to_mm=s.length,
                feature="head_width",
                id="flats",
            ),
            HandOperation(
                name="Try it",
                words=(
                    "Edges of the head broken. It slides along the whole slot with the fingers, and its shank stands square when"
                    " the head is pulled against the lips."
                ),
                tools=("file", "square"),
                check="It goes the whole way along the slot, and a square stands against its shank.",
            ),
        ]

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every measured straight slot: a stud by its T-nut's thread, a T-bolt by its head."""
        s = HardwareSizes(design.values)
        found = []
        for machine, slot in shop.measured_slots():
            if not slot.straight or slot.neck is None or s.kind not in ("stud", "t_bolt"):
                continue
            if s.kind == "stud":
                wanted = nut_for(slot.neck.min, slot.lip.min if slot.lip else 9.0, slot.lip.max if slot.lip else 9.0).thread
                same = wanted.name == s.thread.name
                smaller = s.d < wanted.major_mm
                verdict = Verdict.GO if same else Verdict.MARGINAL if smaller else Verdict.NO_GO
                words = (
                    "its T-nut takes the thread"
                    if same
                    else (
                        f"a T-nut there has {wanted.shown} usually"
                        if smaller
                        else f"too thick: a T-nut there takes {wanted.shown}"
                    )
                )
            else:
                room = slot.neck.min - s.d
                ahead = slot.head.min - s.head_width if slot.head is not None else 0.0
                verdict = Limits(0.0, 0.1).judge(min(room, ahead))
                words = "it slides" if verdict is Verdict.GO else "tight" if verdict is Verdict.MARGINAL else "it does not go in"
            found.append(SlotFit(machine.name, slot.label, verdict, words))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        v, s = design.values, HardwareSizes(design.values)
        if s.kind == "stud":
            return Stud(id=id, thread=v.word("thread"), length_mm=s.length, count=count, strength_class=_nearest_class(s))
        if s.kind == "tall_nut":
            return Fastener(id=id, kind=FastenerKind.NUT, thread=v.word("thread"), count=count)
        if s.kind == "t_bolt":
            return Fastener(
                id=id,
                kind=FastenerKind.T_BOLT,
                thread=v.word("thread"),
                length_mm=s.length - s.head_height,
                neck_mm=s.d,
                count=count,
                strength_class=_nearest_class(s),
            )
        return None  # the list of screws is of socket screws

    def parts(self, design: Design) -> tuple[Part, ...]:
        s = HardwareSizes(design.values)
        name = s.v.word("thread")
        nut = Part(words=f"nut {size_of(name)} and washer", fastener=FastenerKind.NUT, thread=name, feature="clamped")
        return {"stud": (*nuts(1, name, "slot"), nut), "t_bolt": (nut,)}.get(s.kind, ())

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = HardwareSizes(design.values)
        torque = s.v.number("torque")
        if s.kind in ("stud", "t_bolt"):
            return (
                Capability(
                    "clamped height",
                    f"{dict(KINDS)[s.kind].split(',')[0].split(' for')[0]}: clamps"
                    f" {length(s.down_to, 1)} to {length(s.v.number('clamp_high'))} over the table,"
                    f" {format_number(torque)} N·m",
                    {"least_mm": s.down_to, "most_mm": s.v.number("clamp_high")},
                ),
            )
        if s.kind == "tall_nut":
            return (Capability("nut", f"a nut {s.thread.shown} to {format_number(torque)} N·m", {"nut_mm": s.d}),)
        if s.kind == "thumb_screw":
            return (
                Capability("closed by hand", f"{s.thread.shown}, {format_number(torque, 2)} N·m by fingers", {"screw_mm": s.d}),
            )
        return (
            Capability(
                "pivot", f"a hole Ø{length(s.v.readings('hole').min, 3)} that turns", {"hole_mm": s.v.readings("hole").min}
            ),
        )


def _nearest_class(s: HardwareSizes) -> str:
    """The property class a home-made piece is entered as: the strongest its steel's yield covers, never more."""
    return next((c for c, least in (("8.8", 640.0), ("5.6", 300.0)) if s.metal.yield_mpa >= least), "4.6")


FAMILY: Final = Hardware()
