"""Clamps and supports: strap clamp, toe clamp, step block, heel block, screw jack.

x along it, y across from its middle, z up from its underside; a jack stands about z. A strap's tip is at x = 0, the back of a toe
clamp's body too.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.families.clamp import cutting, figures, pictures, proof
from elbrix.design.families.clamp.sizes import BEFORE_SLOT, DRY, HEEL_END_MM, KINDS, NOSE_MM, PARAMETERS, ClampSizes, clear_of
from elbrix.design.family import Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.hosts import slot_of
from elbrix.design.parts import Part, made, nuts, screws
from elbrix.design.slot_nut import nut_thread
from elbrix.design.work import Blank, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.drilling import point_mm, tapped_mm, thread_depth_wanted
from elbrix.mechanics.strength import COUNTED, MU, preload_n, stud_load_n, stud_torque_nm, torque_nm
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_up
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import kilonewtons, term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, Clamp, ClampKind, SupportBlock
from elbrix.solids.recipe import Recipe
from elbrix.standards.materials import material
from elbrix.standards.threads import Thread, find_thread

_STUD_CLASS: Final = "8.8"
#: A strap is bent to this share of its yield.
_BENT: Final = 0.45


class ClampFamily:
    """See the module."""

    key = "clamp"
    title = "Clamp or support"
    when = "When no strap, toe clamp, step block or jack you own has the reach, the height or the width."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        kind = p.assume("kind", "strap")
        p.assume("part", "body")
        stud = self._stud(p, shop, request)
        d = stud.major_mm
        stud_torque_nm(stud, _STUD_CLASS, DRY)
        torque = p.torque(
            "torque",
            worked(
                "F·K·d",
                kilonewtons(stud_load_n(stud, _STUD_CLASS)),
                DRY,
                term(d, 3, "mm"),
                source="F: 3/8 of the proof load of the stud, class 8.8",
            ),
            step=1.0,
        )
        slot = self._slot_width(p, shop, stud)
        screw = find_thread(parse_thread(p.assume("push_screw", "M8x1.25" if kind == "toe" else "M12x1.75")))
        p.assume("material", "mild steel" if kind in ("heel", "jack", "step") else "medium carbon steel")
        self._body(p, kind, d, slot, screw, torque)
        self._toe(p, kind, screw, stud, torque)
        p.assume("steps", 6)
        p.assume("rise", 3.0)
        p.assume("tread", 7.0)
        p.reckon("load", worked("T/(K·d)/2", term(torque, 3, "N·m"), DRY, d, source="half of the stud's tension"), up=1.0)
        long = p.now("height")
        assert isinstance(long, float)
        p.reckon("screw_length", worked("height", long, source="as deep as the body"), down=1.0, least=6.0)
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    @staticmethod
    def _stud(p: Proposal, shop: Shop, request: Request) -> Thread:
        neck, name, known = slot_of(shop, request)
        usual = nut_thread(neck.min)
        owned = sorted({s.thread for s in shop.studs})
        if owned and not any(find_thread(parse_thread(t)) == usual for t in owned):
            usual = find_thread(parse_thread(owned[0]))
            name = "the studs you own"
        text = p.measure("stud", usual.name, name, known=known or bool(owned))
        return find_thread(parse_thread(text))

    @staticmethod
    def _slot_width(p: Proposal, shop: Shop, stud: Thread) -> float:
        clear = clear_of(stud)
        mills = sorted(c.diameter_mm for c in shop.square_end_mills() if clear - 0.3 <= c.diameter_mm <= clear + 1.5)
        if mills:
            return p.measure("slot_width", mills[0], "an end mill you have")
        return p.reckon("slot_width", worked("clearance hole", clear), up=0.1)

    @staticmethod
    def _thickness(p: Proposal, torque: float, d: float, slot: float, relief: float) -> None:
        """Of a strap: bent to 0.45 of its yield where the stud stands worst."""
        long, arm, wide = (float(p.now(n)) for n in ("length", "stud_to_tip", "width"))
        heel = max(1.0, long - NOSE_MM - HEEL_END_MM - arm)
        tip = preload_n(torque, DRY, d) * heel / (arm + heel)
        p.reckon(
            "height",
            worked(
                f"√(6·F·arm/((b − slot)·{_BENT:g}·yield)) + relief",
                term(tip, 1),
                arm,
                wide,
                slot,
                term(material(str(p.now("material"))).yield_mpa, 6),
                relief,
            )
            if wide > slot
            else worked("1.8·d", d),
            up=1.0,
        )

    def _body(self, p: Proposal, kind: str, d: float, slot: float, screw: Thread, torque: float) -> None:
        """Length, width, height and the slot of the body."""
        wide = {"strap": round_up(slot + 1.8 * d, 1.0), "toe": round_up(slot + 1.8 * d, 1.0), "step": 0, "heel": 25.0}.get(
            kind, round_up(screw.major_mm + 16, 1.0)
        )
        if kind in ("strap", "toe"):
            p.reckon("width", worked("slot + 1.8·d", slot, d), up=1.0)
        else:
            p.assume("width", wide or 42.0)
        if kind == "strap":
            # Heel and tip arms alike at the far end of the slot; three d from the tip when the stud stands nearest to it.
            start = p.assume("slot_start", round_up(NOSE_MM + 1.5 * d, 1.0))
            end = p.assume("slot_end", round_up(max(start + 25.0, NOSE_MM + 3.5 * d), 1.0))
            p.reckon(
                "length",
                worked(
                    "max(2·(slot's end − nose) + nose + heel end; slot's end + slot/2 + 6)",
                    end,
                    NOSE_MM,
                    HEEL_END_MM,
                    slot,
                    source="the heel is then never nearer to the stud than the work",
                ),
                up=1.0,
            )
            p.reckon("stud_to_tip", worked("(slot's start + slot's end)/2 − nose", start, end, NOSE_MM), down=0.5)
            relief = p.assume("relief", 0.8)
            p.assume("pad", 10.0)
            self._thickness(p, torque, d, slot, relief)
            return
        p.assume("height", {"toe": 30.0, "step": 30.0, "heel": 38.0}.get(kind, round_up(2.5 * screw.major_mm, 1.0)))
        start = p.assume("slot_start", round_up(max(24.0, slot / 2 + 2.5), 1.0))
        end = p.assume("slot_end", max(start, start + 12.0))
        deep = tapped_mm(thread_depth_wanted("steel") * screw.major_mm, screw.pitch_mm) + point_mm(screw.tap_drill[1])
        if kind == "toe":
            p.reckon(
                "length",
                worked(
                    f"slot's end + slot/2 + {BEFORE_SLOT:g} + max(hole; hole + 0.1·d)",
                    end,
                    slot,
                    deep,
                    screw.major_mm,
                    source="the push screw's thread with lead and point",
                ),
                up=1.0,
            )
        else:
            p.assume("length", 32.0 if kind == "step" else 50.0)
        p.assume("stud_to_tip", 20.0)
        p.assume("relief", 0.0)
        p.assume("pad", 10.0)

    @staticmethod
    def _toe(p: Proposal, kind: str, screw: Thread, stud: Thread, torque: float) -> None:
        high = p.now("height")
        assert isinstance(high, float)
        holds = MU * COUNTED * preload_n(torque, DRY, stud.major_mm)
        torque_nm(holds / 1.5, DRY, screw.major_mm)
        p.torque(
            "push_torque",
            worked(
                "F/1.5·K·d",
                term(holds, 1, "N"),
                DRY,
                term(screw.major_mm, 3, "mm"),
                source="what pushes with 2/3 of what the bolt's friction holds",
            ),
            step=0.1,
        )
        up = p.reckon("push_height", worked("0.55·height", high), down=0.5, least=3.0)
        long = p.assume("toe_length", 60.0)
        p.reckon(
            "contact_height",
            worked("push screw − 0.12·toe length", up, long, source="7° below the screw over its length"),
            down=0.5,
            least=0.5,
        )
        p.assume("toe_thickness", 10.0)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = ClampSizes(values)
        holes: tuple[HoleLine, ...] = ()
        if s.kind in ("strap", "toe") and not s.toe:
            holes = (
                HoleLine(
                    "S1",
                    s.start,
                    0.0,
                    f"centre of slot end 1; slot {length(s.slot)} wide, through",
                    sizes=HoleSizes(diameter_mm=s.slot),
                ),
                HoleLine("S2", s.end, 0.0, "centre of slot end 2", sizes=HoleSizes(diameter_mm=s.slot)),
            )
        note = {
            "strap": "Tip rounded where it touches the work; edges broken",
            "toe": (
                f"Cup Ø{length(pictures.cup(s))} in one end; the other hardened if it is to last"
                if s.toe
                else f"{s.screw.shown} full thread {length(s.thread_deep)} deep in front, drill {length(s.screw.tap_drill[1], 2)}"
            ),
            "step": f"{s.steps} steps of {length(s.rise)}, each tread {length(s.tread)} deep, level within {length(0.05)}",
            "heel": "All six faces square; edges broken",
            "jack": (
                f"{s.screw.shown} right through, drill {length(s.screw.tap_drill[1], 2)}, square to both ends within"
                f" {length(0.05)}; both ends chamfered {length(pictures.chamfer(s))} × 45°"
            ),
        }[s.kind]
        return Design(
            family=self.key,
            values=values,
            figures=tuple(figures.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=holes,
            datum={"strap": "tip and middle of the width", "toe": "back and middle of the width"}.get(s.kind, "underside"),
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        kind = design.values.word("kind")
        made_of = ("mass", "material", "pieces")
        slot = Group("Slot for the stud", ("stud", "slot_width", "slot_start", "slot_end", "torque", "pull"))
        if kind == "strap":
            return (
                Group("Strap", ("kind", "length", "width", "height", "pad", "relief", *made_of)),
                slot,
                Group("Lever", ("stud_to_tip", "heel_arm", "tip_force", "bending")),
            )
        if kind == "toe":
            return (
                Group("Body", ("kind", "part", "length", "width", "height", *made_of)),
                slot,
                Group("Push", ("push_screw", "push_torque", "push", "push_height", "thread_deep")),
                Group("Toe", ("toe_length", "toe_thickness", "contact_height", "down_angle", "down_force", "reach")),
            )
        if kind == "step":
            return (
                Group("Block", ("kind", "length", "height", "load", *made_of)),
                Group("Steps", ("steps", "rise", "tread", "base", "treads")),
            )
        if kind == "heel":
            return (Group("Block", ("kind", "length", "width", "height", "load", *made_of)),)
        return (
            Group("Body", ("kind", "width", "height", *made_of)),
            Group("Screw", ("push_screw", "screw_length", "lowest", "highest", "load")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = ClampSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        return cutting.solid(ClampSizes(design.values))

    def section(self, design: Design) -> tuple[str, float]:
        s = ClampSizes(design.values)
        return ("x", s.length / 2) if s.kind == "step" else ("y", 0.0)

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = ClampSizes(design.values)
        pieces, stuff = int(s.v.number("pieces")), s.v.word("material")
        if s.kind == "jack":
            blank = Blank(
                width_mm=s.width,
                height_mm=s.width,
                round_mm=s.width,
                length_mm=s.height,
                pieces=pieces,
                material=stuff,
                along="+z",
                up="+x",
            )
            return Work(blank, cutting.steps(s), solid=self.solid(design))
        wide = s.depth if s.kind == "step" else s.width
        blank = Blank(
            width_mm=wide,
            height_mm=s.toe_thickness if s.toe else s.height,
            length_mm=s.toe_length if s.toe else s.length,
            pieces=pieces,
            material=stuff,
        )
        return Work(blank, cutting.steps(s), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every measured straight slot whose T-nut's stud goes through its own slot."""
        s = ClampSizes(design.values)
        found = []
        if s.kind not in ("strap", "toe"):
            return ()
        for machine, slot in shop.measured_slots():
            if not slot.straight or slot.neck is None:
                continue
            thread = nut_thread(slot.neck.min)
            room = s.slot - thread.major_mm
            verdict = Verdict.GO if 0.5 <= room <= 3 else Verdict.MARGINAL if room >= 0 else Verdict.NO_GO
            words = {
                Verdict.GO: f"a stud {thread.shown} of that slot goes through it",
                Verdict.MARGINAL: f"a stud {thread.shown} of that slot goes through, "
                + ("tightly" if room < 0.5 else "with a thick washer"),
                Verdict.NO_GO: f"a stud {thread.shown} of that slot is too thick for it",
            }[verdict]
            found.append(SlotFit(machine.name, slot.label, verdict, words))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        s = ClampSizes(design.values)
        if s.kind == "strap":
            own = s.as_clamp
            return Clamp(
                id=id,
                kind=ClampKind.STRAP,
                length_mm=own.length_mm,
                width_mm=own.width_mm,
                # What the relief leaves is what bends.
                thickness_mm=own.thickness_mm - s.relief,
                slot_from_mm=own.slot_from_mm,
                slot_to_mm=own.slot_to_mm,
                slot_width_mm=own.slot_width_mm,
                count=count,
                yield_mpa=own.yield_mpa,
            )
        if s.kind == "toe":
            if s.toe:
                return None  # half of a toe clamp is none
            return Clamp(
                id=id,
                kind=ClampKind.TOE,
                length_mm=s.reach,
                width_mm=s.width,
                thickness_mm=s.height,
                slot_from_mm=s.start,
                slot_to_mm=s.end,
                slot_width_mm=s.slot,
                down_deg=round(s.down_deg, 3),
                count=count,
                yield_mpa=s.metal.yield_mpa,
            )
        kind = {"step": BlockKind.STEP, "heel": BlockKind.HEEL}.get(s.kind, BlockKind.JACK)
        low, high = {"step": (s.base, s.height), "jack": (s.jack_least, s.jack_most)}.get(s.kind, (s.height, s.height))
        return SupportBlock(
            id=id,
            kind=kind,
            min_height_mm=low,
            max_height_mm=high,
            step_mm=s.rise if s.kind == "step" else 0.0,
            length_mm=s.width if s.kind == "jack" else s.length,
            width_mm=s.tread if s.kind == "step" else s.width,
            count=count,
        )

    def parts(self, design: Design) -> tuple[Part, ...]:
        s = ClampSizes(design.values)
        stud = s.v.word("stud")
        if s.kind == "toe":
            return (
                made(1, f"toe {length(s.toe_length)} × {length(s.width)} × {length(s.toe_thickness)}", "toe"),
                *screws(1, s.v.word("push_screw"), "its head against the toe", kind="hexagon screw", feature="push"),
                *screws(1, stud, "to the slot", feature="slot_width"),
                *nuts(1, stud),
            )
        if s.kind == "jack":
            return screws(
                1, s.v.word("push_screw"), "in the body", s.v.number("screw_length"), kind="hexagon screw", feature="push"
            )
        if s.kind == "strap":
            return (Part(words=f"stud {s.stud.shown}", stud=True, thread=stud, feature="slot_width"), *nuts(1, stud))
        return ()

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = ClampSizes(design.values)
        if s.kind == "strap":
            near, far = s.start - NOSE_MM, s.end - NOSE_MM
            words = f"work {length(near)} to {length(far)} from the stud, {format_number(s.tip_n / 1000, 1)} kN"
            return (Capability("strap", words, {"force_n": s.tip_n}),)
        if s.kind == "toe":
            return (
                Capability(
                    "toe",
                    f"work to {length(s.reach)} from the bolt, {format_number(s.push_n / 1000, 1)} kN sideways",
                    {"force_n": s.push_n},
                ),
            )
        low, high = {"step": (s.base, s.height), "jack": (s.jack_least, s.jack_most)}.get(
            s.kind, (min(s.length, s.width, s.height), max(s.length, s.width, s.height))
        )
        return (
            Capability(
                "support",
                f"{dict(KINDS)[s.kind].split(' with')[0]} {length(low)} to {length(high)}",
                {"least_mm": low, "most_mm": high},
            ),
        )


FAMILY: Final = ClampFamily()
