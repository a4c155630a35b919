"""Table key: locates a vise, a block or a plate in the table's slot.

Plain, of two widths, or with its halves set off from each other for a vise whose slots are out of line.

x across the slot, y along it, z up from the table's top.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.families.table_key import pictures, proof
from elbrix.design.families.table_key.sizes import BELOW, PARAMETERS, PLAY, STEP, TableKeySizes, screw_for
from elbrix.design.family import Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.parts import Part, screws
from elbrix.design.work import Blank, HandOperation, PieceHole, Shoulder, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned

_BOOK_NECK, _BOOK_LIP, _BOOK_DEEP = 12.0, 9.0, 6.0
_JAW, _APART_SHARE = 125.0, 0.6  # assumed without a vise; keys apart as a share of the body


class TableKey:
    """See the module."""

    key = "table_key"
    title = "Table key"
    when = "When a vise or a plate should stand square to the table every time it is put back."
    group = "locate it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        neck, lip = self._slot(p, shop, request)
        vise = self._vise(shop)
        keyed = vise is not None and vise.key_width_mm > 0
        name = vise.name if vise is not None else "a vise, assumed"
        host = p.measure(
            "vise_slot",
            vise.key_width_mm if vise is not None and keyed else neck.min,
            name if keyed else "no key slot in Shop: taken as the table's",
            known=keyed,
        )
        deep = p.assume("vise_slot_depth", _BOOK_DEEP, "measure it")
        play = PLAY[p.assume("fit", "close")]
        table = p.reckon(
            "table_width", worked("tightest slot − play", neck.min, play, source="fitted with a stone"), down=STEP, least=STEP
        )
        half = p.reckon("vise_width", worked("vise slot − play", host, play), down=STEP, least=STEP)
        out = p.assume("misalignment", 0.0, "not read")
        again = p.assume("misalignment_check", out, "as the first reading" if out else "not read")
        offset = p.reckon(
            "offset",
            worked(
                "(reading + other way round)/4",
                out,
                again,
                source="half of what the slots are out of line, mean of both; the other key is turned round",
            ),
            near=STEP,
        )
        body = vise.body_mm if vise is not None else 300.0
        apart = vise.key_spacing_mm if vise is not None else 0.0
        p.measure(
            "key_spacing",
            apart or float(round(_APART_SHARE * body)),
            name if apart else f"0.6 of the body of {name}: measure it",
            known=bool(apart),
        )
        p.work(
            "screw", screw_for(min(table - 2 * abs(offset), half)), "the largest whose counterbored head leaves 1.5 beside it", ""
        )
        p.reckon("table_height", worked(f"min(0.7·lip; lip − {BELOW:g})", lip.min), down=0.1, least=0.1)
        p.reckon("vise_height", worked("vise slot depth − 0.5", deep), down=0.1, least=0.1)
        p.reckon("length", worked("1.5·max(table half; vise half)", table, half), up=1.0)
        p.measure("jaw_length", vise.jaw_width_mm if vise is not None else _JAW, name, known=vise is not None)
        p.assume("squareness", 0.05)
        p.assume("reading_resolution", 0.01)
        p.assume("material", "medium carbon steel")
        p.choose("pieces", max(2, request.pieces))
        return p.values(PARAMETERS)

    @staticmethod
    def _slot(p: Proposal, shop: Shop, request: Request) -> tuple[Readings, Readings]:
        """Neck and lip of the slot that is meant, measured or from a book."""
        for machine, slot in shop.measured_slots():
            if slot.straight and request.machine in ("", machine.id, machine.name) and request.slot in ("", slot.label):
                assert slot.neck is not None and slot.lip is not None
                note = f"{machine.name}, {slot.label}"
                return p.measure("neck", slot.neck, note), p.measure("lip", slot.lip, note)
        note = "not measured: a book slot for 12 mm, measure your own"
        return p.assume("neck", Readings(values_mm=(_BOOK_NECK,)), note), p.assume("lip", Readings(values_mm=(_BOOK_LIP,)), note)

    def _vise(self, shop: Shop) -> Vise | None:
        return next((v for v in shop.vises if v.key_width_mm > 0), shop.vises[0] if shop.vises else None)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = TableKeySizes(values)
        hole = HoleLine(
            "A",
            s.screw_x,
            0.0,
            f"for {s.screw}: Ø{length(s.clear)} through, Ø{length(s.bore)} × {length(s.bore_depth)} from the table side",
            sizes=HoleSizes(diameter_mm=s.clear, counterbore_mm=s.bore, counterbore_depth_mm=s.bore_depth, below=True),
        )
        note = (
            f"{'An' if s.kind == 'offset' else 'A'} {s.kind} key"
            + (", the second one turned round" if s.off else "")
            + f"; halves fitted to their slots, {length(s.low_w)} and {length(s.high_w)}"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s, shop)),
            checks=tuple(proof.checks(s, shop)),
            holes=(hole,),
            datum="middle of the table half",
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        told = {f.key for f in design.figures}
        found = [
            Group("Measured", ("neck", "lip", "vise_slot", "vise_slot_depth")),
            Group(
                "The key",
                (
                    "kind",
                    "fit",
                    "table_width",
                    "vise_width",
                    "offset",
                    "table_height",
                    "vise_height",
                    "total",
                    "length",
                    "screw",
                    "material",
                    "pieces",
                ),
            ),
            Group("Squareness", ("key_spacing", "jaw_length", "squareness", "table_play", "vise_play", "left_by_play")),
            Group(
                "Vise slot misalignment",
                (
                    "misalignment",
                    "misalignment_check",
                    "reading_resolution",
                    *(k for k in ("mean_out", "yaw", "error") if k in told),
                ),
            ),
        ]
        ways = tuple(k for k in (f"remedy_{i}" for i in range(1, 7)) if k in told)
        if ways:
            found.append(Group("Remedies", ("advice", *ways), "what each leaves over the jaw"))
        return tuple(found)

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = TableKeySizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = TableKeySizes(design.values)
        # The screw comes from below: a tool that looks up.
        rise = (
            (0.0, 1.0),
            (s.bore / 2, 1.0),
            (s.bore / 2, -s.bore_depth),
            (s.clear / 2, -s.bore_depth),
            (s.clear / 2, -s.total - 1.0),
            (0.0, -s.total - 1.0),
        )
        tool = Turned(rise, (s.screw_x, 0.0, -s.low_h), axis=(0.0, 0.0, -1.0))
        return Cut(Prism(pictures.profile(s), -s.length / 2, s.length / 2), (tool,))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = TableKeySizes(design.values)
        steps: list[Shoulder | PieceHole | HandOperation] = []
        if s.milled_high:
            steps.append(
                Shoulder(
                    name="Vise half",
                    width_mm=s.high_w,
                    depth_mm=s.high_h,
                    off_mm=s.off - s.middle,
                    id="vise_half",
                    feature="vise half",
                )
            )
        if s.milled_low:
            # Turned over about its long axis: what was on the far side is on the near one.
            steps.append(
                Shoulder(
                    name="Table half, turned over",
                    width_mm=s.low_w,
                    depth_mm=s.low_h,
                    off_mm=s.middle,
                    id="table_half",
                    below=True,
                    feature="table half",
                )
            )
        steps += [
            PieceHole(
                name="Screw holes, from the table side",
                off_mm=s.middle - s.screw_x,
                thickness_mm=s.total,
                drill_mm=s.clear,
                bore_mm=s.bore,
                bore_depth_mm=s.bore_depth,
                feature="screw",
            ),
            HandOperation(
                name="Fit",
                words=(
                    f"Break every edge {length(0.2)}. Stone both sides of the table half till it slides in the tightest place of"
                    f" the slot without shaking, {length(s.low_w, 2)} or a hair less; the vise half, {length(s.high_w, 2)},"
                    " is pushed in by hand."
                ),
                tools=("oil stone", "micrometer"),
                check="It slides the whole way along the slot and does not shake at its widest place.",
            ),
            HandOperation(
                name="Prove",
                words=(
                    "Screws in, vise on the table, pushed to one side of the slot and bolted. Indicator along the fixed jaw:"
                    f" {length(design.values.number('squareness'), 3)} over"
                    f" {length(design.values.number('jaw_length'))} at the most."
                ),
                tools=("indicator",),
                caution="A vise is lifted by two people or a hoist.",
                check="Taken off and put on again it reads the same.",
            ),
        ]
        blank = Blank(
            width_mm=s.across,
            height_mm=s.total,
            length_mm=s.length,
            pieces=int(design.values.number("pieces")),
            material=design.values.word("material"),
            along="-y",
        )
        notes = ("One of two keys is turned round end for end: their offsets then point to opposite sides.",) if s.off else ()
        return Work(blank, tuple(steps), notes=notes, solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """The table half in every measured straight slot."""
        found = []
        for machine, slot in shop.measured_slots():
            if not slot.straight:
                continue
            assert slot.neck is not None and slot.lip is not None
            there = TableKeySizes(
                design.values.having(
                    neck=ParameterValue(slot.neck, Origin.MEASURED), lip=ParameterValue(slot.lip, Origin.MEASURED)
                )
            )
            judged = [c for c in proof.checks(there, shop) if c.key in ("slides", "below")]
            bad = max(judged, key=lambda c: c.verdict.rank)
            found.append(
                SlotFit(machine.name, slot.label, bad.verdict, "slides and guides" if bad.verdict is Verdict.GO else bad.reason)
            )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        return screws(1, design.values.word("screw"), "from the table side into the vise", feature="screw")

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = TableKeySizes(design.values)
        return (
            Capability(
                "key",
                f"key from a {length(s.neck.min)} slot to a {length(s.host)} one",
                {"slot_mm": s.neck.min, "host_mm": s.host},
            ),
        )


FAMILY: Final = TableKey()
