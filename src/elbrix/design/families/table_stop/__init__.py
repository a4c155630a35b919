"""Table stop: a block with a tongue in the slot and one bolt; work is pushed against its face.

x across the slot, y along it, z up from the table. The face that stops is the one at +x, or its end when it stops along the slot.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, hole_table
from elbrix.design.families.table_stop import pictures, proof
from elbrix.design.families.table_stop.sizes import BOLTS, NUT_FACTOR, PARAMETERS, PLAY, TableStopSizes
from elbrix.design.family import Callout, Capability, Design, Request, SlotFit
from elbrix.design.hosts import BOOK_NECK, largest_bolt, table_of
from elbrix.design.parts import Part, nuts, screws
from elbrix.design.slot_nut import nut_for
from elbrix.design.work import IN_VISE, Blank, Groove, HandOperation, HolePattern, PatternHole, Shoulder, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import stud_torque_nm
from elbrix.mechanics.tightened import SCREW_CLASS
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import TableStop
from elbrix.solids.recipe import Cut, Prism, Recipe
from elbrix.standards.screws import clearance_hole
from elbrix.standards.threads import find_thread

_BOOK_LIP: Final = Readings(values_mm=(9.0,))


class TableStopFamily:
    """See the module."""

    key = "table_stop"
    title = "Table stop"
    when = "When work on the table is pushed against something that stands square to the slot, every time."
    group = "stop it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        machine, slot = table_of(shop, request)
        known = machine is not None and slot is not None
        name = (
            f"{machine.name}, {slot.label}" if machine is not None and slot is not None else "not measured: book slot for 12 mm"
        )
        neck = p.measure("neck", slot.neck if slot is not None and slot.neck is not None else BOOK_NECK, name, known=known)
        lip = p.measure("lip", slot.lip if slot is not None and slot.lip is not None else _BOOK_LIP, name, known=known)
        nut = nut_for(neck.min, lip.min, lip.max, slot.head.min if slot is not None and slot.head is not None else 0.0)
        p.rounded(
            "nut_neck_height",
            nut.neck_height,
            worked("shallowest lip − 1", lip.min, source="as our own T-nut for this slot: below the table when it is pulled up"),
        )
        nut_long = p.work(
            "nut_length", nut.length, "as our own T-nut for this slot: as long as its head is wide", f"{nut.length:g}"
        )
        p.reckon(
            "tongue_gap", worked("nut + 2", nut_long, source="its neck fills the lips, the tongue may not stand on it"), up=1.0
        )
        p.reckon("tongue_width", worked(f"tightest slot − {PLAY:g}", neck.min, source="it slides and does not shake"), down=0.01)
        p.reckon("tongue_height", worked("0.6·lip", lip.min), down=0.1, least=1.0)
        high = p.assume("height", 20.0)
        p.reckon(
            "length",
            worked(
                f"max(5·slot; nut + 2 + 1.6·slot; 1300·(widest slot − slot + {PLAY:g}))",
                neck.min,
                nut_long,
                neck.max,
                source="0.8 × the slot of tongue at each end of the gap; and long enough to stand square in its play",
            ),
            up=1.0,
        )
        bolt = p.work(
            "bolt",
            largest_bolt(neck.min, BOLTS),
            "the largest a T-nut for the slot has a sound wall for",
            f"{format_number(neck.min)} − 0.3",
        )
        d = float(bolt[1:])
        clear = clearance_hole(bolt, "medium").value
        p.reckon("width", worked("max(3·bolt hole; 0.9·height)", clear, high), up=1.0)
        most = stud_torque_nm(find_thread(parse_thread(bolt)), SCREW_CLASS, NUT_FACTOR)
        p.reckon(
            "torque", worked("min(0.25·d²; T)", d, most, source="a short spanner; at most 3/8 of the bolt's proof load"), down=0.5
        )
        p.assume("stopping_face", "across")
        p.assume("stop_force", 100.0)
        p.assume("contact_height", round_down(0.6 * high, 0.5))
        p.assume("square_length", 100.0)
        p.assume("squareness", 0.12)
        p.assume("material", "mild steel")
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = TableStopSizes(values)
        note = f"Tongue in the middle, fitted to its slot, square to the stopping face within {length(0.01)}"
        face = Callout("the stopping face, ground", "top", (0.0, s.length / 2) if s.along else (s.width / 2, 0.0))
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=hole_table(s.holes),
            datum="middle of the tongue and of the length",
            note_words=note,
            callouts=(face,),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("Slot", ("neck", "lip", "tongue_width", "tongue_height", "tongue_gap", "play", "turn")),
            Group("Block", ("width", "length", "height", "mass", "material", "pieces")),
            Group("Bolt", ("bolt", "torque", "pull", "nut_neck_height", "nut_length")),
            Group(
                "Load",
                (
                    "stopping_face",
                    "stop_force",
                    "contact_height",
                    "slips",
                    "tips",
                    "square_length",
                    "squareness",
                    "out_of_square",
                ),
            ),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = TableStopSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = TableStopSizes(design.values)
        tools: list[Recipe] = list(Span(-s.tongue_height, s.height).tools(s.holes))
        if s.gap:
            g, w = s.gap / 2, s.tongue / 2 + 1
            tools.append(Prism(((-w, -g), (w, -g), (w, g), (-w, g)), -s.tongue_height - 1, 0.0, "xy"))
        return Cut(Prism(pictures.profile(s), -s.length / 2, s.length / 2), tuple(tools))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        s = TableStopSizes(design.values)
        clear = clearance_hole(s.bolt, "medium").value
        h = s.holes[0]
        steps: list[Step] = [
            Shoulder(name="Tongue", width_mm=s.tongue, depth_mm=s.tongue_height, feature="tongue_width", id="tongue"),
            *(
                (
                    Groove(
                        name="Gap in the tongue",
                        width_mm=s.gap,
                        depth_mm=s.tongue_height,
                        at_mm=s.length / 2,
                        across=True,
                        feature="tongue_width",
                        id="gap",
                        allowed_mm=0.3,
                    ),
                )
                if s.gap
                else ()
            ),
            HolePattern(
                name="Bolt hole, from the top",
                holes=(PatternHole(s.length / 2, 0.0, drill_mm=clear, bore_mm=h.bore, bore_depth_mm=h.bore_depth),),
                thickness_mm=s.height + s.tongue_height,
                face="C",
                id="bolt",
                held=f"{IN_VISE}, the tongue down between parallels",
            ),
            HandOperation(
                name="Fit",
                words=(
                    f"Stone the tongue till it slides in the tightest place, {length(s.tongue, 2)} or a hair less. In the"
                    " slot, pushed to one side, bolted: indicator along the stopping face, square to the slot's edge within"
                    f" {length(s.v.number('squareness'), 3)} over {length(s.v.number('square_length'))}. Always"
                    " push it to the same side."
                ),
                tools=("oil stone", "indicator"),
                check="Taken out and put back, the face reads the same by the indicator.",
            ),
        ]
        blank = Blank(
            width_mm=s.width,
            height_mm=s.height + s.tongue_height,
            length_mm=s.length,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
            along="+y",
            up="-z",
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Its tongue in every measured straight slot."""
        s = TableStopSizes(design.values)
        found = []
        for machine, slot in shop.measured_slots():
            if not slot.straight or slot.neck is None:
                continue
            play = slot.neck.min - s.tongue
            verdict = Limits(0.0, 0.005, 0.06, 0.4).judge(play)
            why = (
                "the tongue slides"
                if verdict is Verdict.GO
                else "the tongue does not go in"
                if play < 0
                else f"{length(play, 2)} of play: it stands askew"
            )
            found.append(SlotFit(machine.name, slot.label, verdict, why))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        v = design.values
        # Without a tongue that slides: its face is as far from the bolt as half of it in that direction.
        toward = v.number("length" if v.word("stopping_face") == "across" else "width")
        return TableStop(id=id, body_mm=toward, height_mm=v.number("height"), reach_mm=toward / 2, count=count)

    def parts(self, design: Design) -> tuple[Part, ...]:
        return (*screws(1, design.values.word("bolt"), "to the slot", feature="bolt"), *nuts(1, design.values.word("bolt")))

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = TableStopSizes(design.values)
        return (
            Capability(
                "stop",
                f"a face {length(s.height)} high, {format_number(design.figure('slips').value, 1)} ×"
                f" {format_number(s.v.number('stop_force'))} N",
                {"height_mm": s.height},
            ),
        )


FAMILY: Final = TableStopFamily()
