"""Split vise: two halves on one slot or on rails, for work longer than any vise opens.

The fixed half has a jaw face; the screw half pushes a jaw plate on two guide pins. Each part has its own sheet and plan.
x across the jaws, y along the slot from the jaw face of a half to its heel, z up from what it stands on.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import hole_table
from elbrix.design.families.split_vise import cutting, pictures, proof
from elbrix.design.families.split_vise.asked import BOLTS, PARAMETERS, PINS
from elbrix.design.families.split_vise.sizes import (
    BESIDE,
    DOWEL_MPA,
    MU_OILED,
    MU_USUAL,
    NUT_FACTOR,
    OFF,
    POINT_DEEP,
    POINT_SHARE,
    ROOM,
    SplitViseSizes,
)
from elbrix.design.family import Callout, Capability, Design, Request, SlotFit
from elbrix.design.hosts import BOOK_NECK, largest_bolt, pitch_of, table_of
from elbrix.design.parts import Part, made, nuts, screws
from elbrix.design.slot_nut import nut_for
from elbrix.design.work import Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import COUNTED, MU, preload_n, stud_load_n
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise, screw_force_per_nm
from elbrix.solids.recipe import Recipe
from elbrix.standards.materials import material
from elbrix.standards.screws import head
from elbrix.standards.threads import find_thread

_BOOK_LIP: Final = Readings(values_mm=(9.0,))
#: Share of what the halves stand that a new one is tightened to.
_PROPOSED: Final = 1.6
_TABLE: Final = 500.0
_PITCH: Final = 50.0


def _callouts(s: SplitViseSizes) -> tuple[Callout, ...]:
    """The holes through the upright: the screw's, and the guides' that have to meet those of the jaw plate."""
    if s.part != "screw":
        return ()
    screw, guide, _ = s.face_holes
    return (
        Callout(f"{screw.words}, square to the face", "front", (screw.x, screw.y)),
        Callout(
            f"two of {guide.words}; their places from the jaw plate, clamped on, not from the dials", "front", (guide.x, guide.y)
        ),
    )


class SplitVise:
    """See the module."""

    key = "split_vise"
    title = "Split vise"
    when = "When the work is longer than a vise opens, and its ends are parallel."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p, n = Proposal(chosen), format_number
        rails = p.assume("kind", "slot") == "rails"
        p.choose("part", "fixed")
        machine, slot = table_of(shop, request)
        known = machine is not None and slot is not None
        name = (
            f"{machine.name}, {slot.label}" if machine is not None and slot is not None else "not measured: book slot for 12 mm"
        )
        neck = p.measure("neck", slot.neck if slot is not None and slot.neck is not None else BOOK_NECK, name, known=known)
        lip = p.measure("lip", slot.lip if slot is not None and slot.lip is not None else _BOOK_LIP, name, known=known)
        pitch = p.measure("slot_pitch", pitch_of(machine) if machine is not None else 0.0, name, known=known)
        nut = nut_for(neck.min, lip.min, lip.max, slot.head.min if slot is not None and slot.head is not None else 0.0)
        nut_long = p.work(
            "nut_length", nut.length, "as our own T-nut for this slot: as long as its head is wide", f"{nut.length:g}"
        )
        table = machine.table_length_mm if machine is not None and machine.table_length_mm >= 50 else 0.0
        table = p.measure("table_length", table or _TABLE, name if table else "not measured", known=bool(table))
        bolt = p.work(
            "bolt", largest_bolt(neck.min, BOLTS), "the largest a T-nut for the slot has a sound wall for", f"{n(neck.min)} − 0.3"
        )
        d, wide = float(bolt[1:]), head("socket_cap", bolt, "head_d").value
        high = head("socket_cap", bolt, "head_h").value
        thread = find_thread(parse_thread(bolt))
        tight = p.torque(
            "bolt_torque",
            worked("0.9·F·K·d", term(stud_load_n(thread, "8.8"), 1, "N"), NUT_FACTOR, d, source="F: 3/8 of the proof load"),
            step=0.5,
        )
        screw = find_thread(parse_thread(str(p.assume("screw", "M12x1.75" if d >= 8 else "M8x1.25")).strip()))
        foot = p.reckon("foot_height", worked("1.5·bolt", d), up=0.5)
        push = p.reckon(
            "push_height",
            worked(f"foot + {BESIDE:g} + screw/2", foot, screw.major_mm)
            if rails
            else worked(f"foot + head + {BESIDE:g} + screw/2", foot, high, screw.major_mm),
            up=0.5,
        )
        p.reckon("height", worked("max(push + 1.55·screw; foot + 12)", push, screw.major_mm, foot), up=1.0)
        upright = p.reckon("upright", worked("1.6·screw", screw.major_mm), up=0.5)
        first = p.reckon(
            "bolt_first",
            worked(f"upright + head/2 + {BESIDE + OFF:g}", upright, wide)
            if rails
            else worked(
                f"max(upright + head/2 + {BESIDE + OFF:g}; nut/2 + {10 + ROOM + BESIDE + OFF:g})",
                upright,
                wide,
                nut_long,
                source="a key of 10 before the nut",
            ),
            up=0.5,
        )
        apart = p.reckon("bolt_apart", worked("max(nut + 2; head + 2)", nut_long, wide), up=1.0)
        guide = next((g for g in PINS if g >= 0.5 * screw.major_mm), PINS[-1])
        pin = float(p.assume("guide", f"{guide:g}"))
        dowel = float(p.assume("dowel", "8"))
        hole_pitch = p.assume("rail_pitch", _PITCH)
        rail_wide = p.reckon("rail_width", worked("3.4·bolt", d), up=1.0)
        p.reckon("rail_height", worked("2·bolt", d), up=1.0, least=16.0)
        spread = (
            p.reckon("rail_apart", worked("max(slot spacing; rail + 2)", pitch, rail_wide))
            if pitch
            else p.reckon("rail_apart", worked("rail + 30", rail_wide), up=1.0)
        )
        width = p.reckon(
            "jaw_width",
            worked("rails' bolts + 3.4·bolt", spread, d) if rails else worked("80", source="as wide as most long work"),
            up=1.0,
            least=80.0,
        )
        p.reckon("guide_apart", worked("width − 3.2·pin − 4", width, pin), down=1.0, least=8.0)
        # No more than the halves stand with what the screw gives at the most; on rails than the dowels stand.
        per_nm = screw_force_per_nm(screw.pitch_d_mm, screw.pitch_mm, MU_OILED, POINT_SHARE * screw.major_mm / 3)
        stand = 2 * DOWEL_MPA * math.pi / 4 * dowel**2 if rails else 2 * MU * COUNTED * preload_n(tight, NUT_FACTOR, d)
        turned = p.reckon(
            "screw_torque",
            worked(
                f"min(bears/{_PROPOSED:g}; 0.75·F)/force per N·mm",
                term(stand, 2),
                term(stud_load_n(screw, "8.8"), 2),
                term(per_nm / 1000, 5),
                source=f"oiled: the most it gives. What two {('dowels' if rails else 'bolts')} bear, and 3/4 of the screw's load",
            ),
            unit="N·m",
            down=0.1,
            least=0.1,
        )
        # Bent as the check bends it, to three tenths of its yield.
        pressed, bears = turned * per_nm, 0.3 * material(str(p.assume("material", "mild steel"))).yield_mpa
        p.reckon(
            "jaw_plate",
            worked(
                "√(6·most force·width/8/(height − point)/(0.3·yield))",
                term(pressed, 1),
                width,
                float(p.now("height")),
                round(POINT_SHARE * screw.major_mm, 1),
                term(bears / 0.3, 6),
            ),
            up=0.5,
            least=POINT_DEEP + 5,
        )
        key_long = p.reckon(
            "key_length",
            worked(
                f"first bolt − nut/2 − {ROOM:g} − {BESIDE:g} − {OFF:g}",
                first,
                nut_long,
                source="clear at each end, and what they are off",
            ),
            down=0.5,
            least=5.0,
        )
        p.reckon(
            "half_length",
            worked(
                "first bolt + max(pitch/2 + 1.5·dowel; 1.5·bolt)",
                first,
                hole_pitch,
                dowel,
                d,
                source="the dowel half a pitch behind the bolt, and its edge",
            )
            if rails
            else worked(
                f"first bolt + max(bolts apart + nut/2 + {BESIDE:g} + key + {ROOM + OFF:g}; 1.5·bolt)",
                first,
                apart,
                nut_long,
                key_long,
                d,
                source="both nuts, the key behind them, clear at each, and what they are off",
            ),
            up=1.0,
        )
        p.reckon("key_width", worked("tightest slot − 0.02", neck.min, source="it slides and does not shake"), down=0.01)
        seat = p.reckon("key_seat", worked("min(4; 0.3·foot)", foot), up=0.1)
        p.reckon("key_down", worked("0.6·lip", lip.min), down=0.1, least=1.0)
        p.assume("key_screw", "M4x0.7" if seat + 0.6 * lip.min >= 6 else "M3x0.5")
        ends = math.ceil(3.6 * d + 6)
        p.reckon(
            "stations",
            worked("(table − 2·end)/pitch + 1", table, ends, hole_pitch, source="as many as the table has room for"),
            down=1.0,
            least=3,
            most=30,
        )
        p.reckon(
            "screw_travel", worked("pitch + 5", hole_pitch) if rails else worked("20", source="to take work out and in"), up=1.0
        )
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = SplitViseSizes(values)
        notes = {
            "jaw": f"Faces parallel to {length(0.01)}; guide pins Ø{length(s.guide)} m6, pressed in from the back",
            "rail": f"A pair, both {length(s.rail_height, 2)} to {length(0.01)}; dowels Ø{length(s.dowel)} slide in by hand",
        }
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=hole_table(s.holes),
            datum={"jaw": "middle and underside", "rail": "middle of the rail"}.get(s.part, "middle of the jaw face"),
            face={"jaw": "front"}.get(s.part, "top"),
            callouts=_callouts(s),
            note_words=notes.get(
                s.part,
                f"Jaw face square to the underside and to the keyway within {length(0.01)}"
                if not s.rails
                else f"Jaw face square to the underside within {length(0.01)}",
            ),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        s = SplitViseSizes(design.values)
        stands = (
            Group(
                "Rails",
                (
                    "slot_pitch",
                    "table_length",
                    "rail_apart",
                    "rail_width",
                    "rail_height",
                    "rail_pitch",
                    "stations",
                    "rail_length",
                    "dowel",
                    "dowel_y",
                ),
            )
            if s.rails
            else Group(
                "Slot and keys",
                (
                    "neck",
                    "lip",
                    "nut_length",
                    "table_length",
                    "key_width",
                    "play",
                    "askew",
                    "key_seat",
                    "key_down",
                    "key_height",
                    "key_length",
                    "key_screw",
                ),
            )
        )
        return (
            Group("Vise", ("kind", "part", "opening", "jaw_width", "height", "material", "mass", "pieces")),
            Group("Halves", ("half_length", "upright", "foot_height")),
            Group(
                "Screw and jaw plate",
                (
                    "screw",
                    "push_height",
                    "screw_travel",
                    "screw_length",
                    "point",
                    "screw_torque",
                    "per_nm",
                    "force_least",
                    "force_most",
                    "jaw_plate",
                    "guide",
                    "guide_apart",
                ),
            ),
            Group("Bolts", ("bolt", "bolt_torque", "bolt_first", *(() if s.rails else ("bolt_apart",)), "bears")),
            stands,
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = SplitViseSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        return cutting.solid(SplitViseSizes(design.values))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        return cutting.work(SplitViseSizes(design.values))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Its keys in every measured straight slot; on rails the bolts."""
        s = SplitViseSizes(design.values)
        found = []
        for machine, slot in shop.measured_slots():
            if not slot.straight or slot.neck is None:
                continue
            if s.rails:
                goes = slot.neck.min >= float(s.bolt[1:])
                found.append(
                    SlotFit(
                        machine.name,
                        slot.label,
                        Verdict.GO if goes else Verdict.NO_GO,
                        f"its bolts {s.bolt} go in" if goes else f"{s.bolt} does not go in",
                    )
                )
                continue
            play = slot.neck.min - s.key
            why = (
                "the keys slide"
                if 0 <= play <= 0.06
                else "the keys do not go in"
                if play < 0
                else f"{length(play, 2)} of play: the halves stand askew"
            )
            found.append(SlotFit(machine.name, slot.label, Limits(0.0, 0.005, 0.06, 0.4).judge(play), why))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        """The whole vise, with its last part: the screw half."""
        s = SplitViseSizes(design.values)
        if s.part != "screw":
            return None
        # Hold tips a half about the middle of its thickness: never more than its bolts' own levers.
        lever = 2 * s.levers / len(s.bolts)
        return Vise(
            id=id,
            name=f"split vise, jaws {format_number(s.width)}",
            jaw_width_mm=s.width,
            jaw_height_mm=s.height,
            bed_height_mm=s.rail_height if s.rails else 0.0,
            opening_mm=min(1000.0, max(5.0, s.opening)),
            jaw_thickness_mm=round_down(min(s.long, lever, 150.0), 0.1),
            force_per_nm=round_down(s.per_nm(MU_USUAL), 1.0),
            max_torque_nm=s.v.number("screw_torque"),
            split=True,
        )

    def parts(self, design: Design) -> tuple[Part, ...]:
        s = SplitViseSizes(design.values)
        others = [words for key, words in _OTHERS if key != s.part and (s.rails or key != "rail")]
        size = s.bolt
        each = 2 * len(s.bolts)
        down = (
            (
                *screws(each, size, "halves to the rails", feature="bolts"),
                *screws(4, size, "rails to the table", feature="bolts"),
                *nuts(4, size),
                Part(words=f"dowel Ø{length(s.dowel)}, hardened, halves on the rails", count=4, pin_mm=s.dowel, feature="rails"),
            )
            if s.rails
            else (
                *screws(each, size, "halves to the slot", feature="bolts"),
                *nuts(each, size),
                made(
                    4,
                    f"key {length(s.key, 2)} × {length(s.seat + s.down)} × {length(s.key_long)}, counterbored for its screw",
                    "keys",
                ),
                *screws(4, s.v.word("key_screw"), "keys to the halves", feature="keys"),
            )
        )
        return (
            *(made(2 if words.startswith("rail") else 1, f"{words}, of the same design") for words in others),
            *down,
            made(1, f"push screw {s.screw.shown} × {length(s.screw_length, 0)}, domed point Ø{length(s.point)}", "screw"),
            Part(words=f"guide pin Ø{length(s.guide)}, hardened, pressed into the plate", count=2, pin_mm=s.guide, feature="jaw"),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = SplitViseSizes(design.values)
        return (
            Capability(
                "grip",
                f"work to {length(s.opening, 0)} long, {format_number(s.force_least / 1000, 2)} kN at least",
                {"opening_mm": s.opening, "force_n": s.force_least},
            ),
        )


_OTHERS: Final = (("fixed", "fixed half"), ("screw", "screw half"), ("jaw", "moving jaw plate"), ("rail", "rail"))

FAMILY: Final = SplitVise()
