"""Riser or base block: one or two plates bolted right through to the slots, to bring what stands on it to a height.

Also for a lathe's cross-slide.

x along the slots, y across, from the middle; z up from the table.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from elbrix.design.bores import Hole, Span, counterbored, hole_table, pattern
from elbrix.design.families.riser import pictures, proof
from elbrix.design.families.riser.sizes import BOLTS, PARAMETERS, RiserSizes
from elbrix.design.family import Capability, Design, Request, SlotFit, Withheld
from elbrix.design.hosts import BOOK_NECK, largest_bolt, off_slots, pitch_of, table_of
from elbrix.design.markout import mark_out
from elbrix.design.parts import Part, made, nuts, screws
from elbrix.design.slot_nut import SHORT_PITCHES, nut_for
from elbrix.design.work import Blank, BoredHole, HandOperation, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.lifting import lifting_words
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, SupportBlock
from elbrix.solids.recipe import Cut, Prism, Recipe

_BOOK_LIP: Final = Readings(values_mm=(9.0,))
_BOOK_DEPTH: Final = Readings(values_mm=(20.0,))


def _with_holes(s: RiserSizes, holes: Sequence[Hole]) -> Recipe:
    """The plate with its register and some of its holes: what is drilled at assembly is not there when it leaves the mill."""
    el, w = s.length / 2, s.width / 2
    block = Prism(((-el, -w), (el, -w), (el, w), (-el, w)), 0.0, s.thickness, "xy")
    tools: list[Recipe] = list(Span(0.0, s.thickness).tools(holes))
    if s.register and s.part == "upper":
        tools.append(Span(0.0, s.thickness).flat(0.0, 0.0, s.register, s.register_depth))
    return Cut(block, tuple(tools)) if tools else block


class Riser:
    """See the module."""

    key = "riser"
    title = "Riser"
    when = "When a vise, a tool or a dividing head has to stand higher, square to the slots."
    group = "hold it"
    meets = frozenset({"height"})
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        kind = p.assume("kind", "one")
        p.assume("part", "upper")
        machine, slot = table_of(shop, request)
        known = machine is not None
        name = machine.name if machine is not None else "not measured: book slot for 12 mm"
        pitch = p.measure("slot_pitch", pitch_of(machine) if machine is not None else 50.0, name, known=known)
        neck = p.measure("neck", slot.neck if slot is not None and slot.neck is not None else BOOK_NECK, name, known=known)
        lip = p.measure("lip", slot.lip if slot is not None and slot.lip is not None else _BOOK_LIP, name, known=known)
        deep = p.measure(
            "slot_depth", slot.depth if slot is not None and slot.depth is not None else _BOOK_DEPTH, name, known=known
        )
        nut = nut_for(neck.min, lip.min, lip.max, depth_min=deep.min)
        p.rounded(
            "nut_neck_height",
            nut.neck_height,
            worked("shallowest lip − 1", lip.min, source="as our own T-nut for this slot: below the table when it is pulled up"),
        )
        p.reckon(
            "nut_full_thread",
            worked(
                f"neck + head − {SHORT_PITCHES:g}·pitch",
                nut.neck_height,
                nut.head_height,
                nut.thread.pitch_mm,
                source="its tap is stopped short",
            ),
            down=0.05,
        )
        bolt = p.work(
            "bolt",
            largest_bolt(neck.min, BOLTS),
            "the largest a T-nut for the slot has a sound wall for",
            f"{format_number(neck.min)} − 0.3",
        )
        join = p.assume("joining_screw", BOLTS[max(0, BOLTS.index(bolt) - 1)] if bolt != "M16" else "M12")
        head, join_head = counterbored("B", 0, 0, bolt), counterbored("J", 0, 0, join)
        wanted = p.assume("riser_height", 40.0)
        p.assume("height_tolerance", 0.1)
        if kind == "two":
            lower = p.reckon("lower", worked("max(d + 4; 0.4·height)", float(join[1:]), wanted), up=1.0)
            p.reckon("upper", worked("wanted − lower", wanted, lower), near=0.001, least=5.0)
        else:
            p.reckon("lower", worked("height", wanted))
            p.assume("upper", 20.0)
        p.assume("lower_tolerance", 0.02)
        p.assume("upper_tolerance", 0.02)
        inset = math.ceil(1.5 * head.drill)
        length = p.assume("length", 140.0)
        if pitch:
            over = p.assume("centred_over", "between")
            half = pitch / 2 if over == "between" else pitch
            rows: tuple[float, ...] = (-half, half)
            p.reckon("width", worked("2·(slots + edge)", half, inset, source="two slots and the bolts' edges"), up=2.0)
        else:
            p.assume("centred_over", "slot")
            rows = (0.0,)
            p.assume("width", 70.0)
        x = length / 2 - inset
        p.work(
            "bolts",
            "; ".join(f"{format_number(k * x)},{format_number(y)}" for y in rows for k in (-1, 1)),
            "on the slots, 1.5 × the hole from the ends",
            f"{format_number(length / 2)} − {inset}",
        )
        width = float(p.now("width"))
        places = (
            [(k * max(8.0, 0.3 * length), j * (width / 2 - math.ceil(1.5 * join_head.drill))) for j in (-1, 1) for k in (-1, 1)]
            if len(rows) == 1
            else [(k * x, 0.0) for k in (-1, 1)] + [(0.0, rows[0]), (0.0, rows[-1])]
        )
        p.work(
            "joining_positions",
            "; ".join(f"{format_number(a)},{format_number(b)}" for a, b in places) if kind == "two" else "none",
            "between the bolts, clear of them",
            f"{len(places)} places",
        )
        p.assume("joining_holes", "assembly" if kind == "two" else "now")
        p.assume("top_thread", "M8x1.25")
        p.assume("top_positions", "-25,0; 25,0" if kind == "one" else "-24,-10; 24,-10; -24,10; 24,10")
        p.assume("register_diameter", 0.0)
        p.assume("register_depth", 5.0)
        p.assume("plug_diameter", 25.0)
        p.assume("load_x", 0.0)
        p.assume("load_y", 0.0)
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = RiserSizes(values)
        which = f"{'Upper' if s.part == 'upper' else 'Lower'} of two" if s.two else "One plate"
        note = (
            f"{which}, {length(s.thickness, 3)} thick, faces parallel to {length(0.01)}; with the other {length(s.height, 3)}"
            if s.two
            else f"{length(s.thickness, 3)} thick, faces parallel to {length(0.01)}"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=hole_table(s.holes),
            datum="middle of the plate",
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        two, told = design.values.word("kind") == "two", {f.key for f in design.figures}
        register = (
            "register_diameter",
            *(("register_depth", "plug_diameter", "register_play") if "register_play" in told else ()),
        )
        return (
            Group(
                "Height",
                (
                    "kind",
                    *(("part",) if two else ()),
                    "riser_height",
                    "height_tolerance",
                    "lower",
                    "lower_tolerance",
                    *(("upper", "upper_tolerance") if two else ()),
                    "height",
                    "worst",
                    "likely",
                ),
            ),
            Group("Plates" if two else "The plate", ("length", "width", "material", "mass", "pieces")),
            Group(
                "Table",
                (
                    "slot_pitch",
                    "neck",
                    "lip",
                    "slot_depth",
                    "centred_over",
                    "bolt",
                    "bolts",
                    "nut_neck_height",
                    "nut_full_thread",
                    *(("bolt_least", "bolt_most", "bolt_long") if "bolt_long" in told else ()),
                ),
            ),
            *((Group("Joining", ("joining_screw", "joining_positions", "joining_holes", "which")),) if two else ()),
            Group("Top", ("top_thread", "top_positions", *register, "load_x", "load_y")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = RiserSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = RiserSizes(design.values)
        return _with_holes(s, [h for h in s.holes if h.feature != "register_diameter"])

    def section(self, design: Design) -> tuple[str, float]:
        s = RiserSizes(design.values)
        return "y", s.bolts[0].y if s.bolts else 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def withheld(self, design: Design) -> Withheld | None:
        s = RiserSizes(design.values)
        if not s.at_assembly:
            return None
        return Withheld(positions="joining_positions", making="joining_holes", mate="the upper plate")

    def work(self, design: Design, shop: Shop) -> Work:
        s = RiserSizes(design.values)
        now = [
            h
            for h in s.holes
            if h.feature != "register_diameter" and not (s.at_assembly and s.part == "lower" and h.feature == "joining_positions")
        ]
        steps: list[Step] = [
            HandOperation(
                name="Mark out",
                words=mark_out([(h.name, h.x, h.y) for h in now], -s.length / 2, -s.width / 2).words,
                tools=("height gauge", "dividers", "layout dye"),
                first=True,
            )
        ]
        if s.register and s.part == "upper":
            steps.append(
                BoredHole(
                    name="Register",
                    x_mm=s.length / 2,
                    y_mm=0.0,
                    size_mm=s.register,
                    depth_mm=s.register_depth,
                    thickness_mm=s.thickness,
                    feature="register_diameter",
                    id="register",
                    allowed_mm=0.01,
                )
            )
        holes = pattern(now, s.thickness, "Holes", x0=-s.length / 2, y0=0.0)
        if holes is not None:
            steps.append(holes)
        if s.at_assembly and s.part == "lower":
            steps.append(
                HandOperation(
                    name="Joining holes, at assembly",
                    words=(
                        "Withheld till the upper plate is made. Clamp it on where it belongs, spot through its holes, drill and"
                        f" tap {design.values.word('joining_screw')} one after the other, each with its screw in before the next."
                        " Or measure its holes in Inspect and release these: they are then made by ordinates."
                    ),
                    tools=("transfer drill", "tap"),
                    check="Every screw goes in by hand, and the faces stay shut when one is slackened.",
                )
            )
        lift = lifting_words(s.assembly_kg)
        steps.append(
            HandOperation(
                name="Table",
                words=(
                    f"{lift}Stone it, wipe the table. Bolts M{s.bolt[1:]} × {length(s.bolt_length, 0)} under the head;"
                    f" longer than {length(s.bolt_most, 1)} it jams at the end of the nut's thread, or stands on the"
                    " slot's floor and lifts its lips. Indicator along one edge, then tight crosswise."
                ),
                tools=("oil stone", "indicator"),
                check="A feeler finds no gap under it; the top indicates level, all bolts tight.",
            )
        )
        blank = Blank(
            width_mm=s.width,
            height_mm=s.thickness,
            length_mm=s.length,
            pieces=int(design.values.number("pieces")),
            material=design.values.word("material"),
        )
        return Work(blank, tuple(steps), solid=_with_holes(s, now))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Tables whose slots lie under its bolts."""
        s = RiserSizes(design.values)
        found = []
        for machine in shop.machines:
            slots = [t for t in machine.slots if t.measured and t.straight]
            if not slots or not s.bolts:
                continue
            pitch, neck = pitch_of(machine), min(t.neck.min for t in slots if t.neck is not None)
            off = min(max(off_slots(b.y, pitch, over=over) for b in s.bolts) for over in (True, False))
            verdict = Limits(marginal_above=0.5 * s.clear, no_above=s.clear).judge(off)
            why = "its bolts lie over the slots" if verdict is Verdict.GO else f"a bolt lies {length(off, 2)} off the slot"
            if neck < float(s.bolt[1:]):
                verdict, why = Verdict.NO_GO, f"{s.bolt} does not go into its slots"
            found.append(SlotFit(machine.name, "its slots", verdict, why))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        v = design.values
        if v.word("kind") != "one":
            return None  # one of its plates alone is not that high
        high = v.number("riser_height")
        return SupportBlock(
            id=id,
            kind=BlockKind.RISER,
            min_height_mm=high,
            max_height_mm=high,
            length_mm=v.number("length"),
            width_mm=v.number("width"),
            count=count,
        )

    def parts(self, design: Design) -> tuple[Part, ...]:
        s, v = RiserSizes(design.values), design.values
        mate = f"{'lower' if v.word('part') == 'upper' else 'upper'} plate, of the same design"
        joined = (
            (*screws(len(s.joins), v.word("joining_screw"), "plate to plate", feature="joining_positions"), made(1, mate))
            if s.two
            else ()
        )
        return (
            *screws(len(s.bolts), v.word("bolt"), "to the table", float(s.bolt_length), feature="bolts"),
            *nuts(len(s.bolts), v.word("bolt")),
            *joined,
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = RiserSizes(design.values)
        return (
            Capability(
                "height",
                f"lifts by {length(s.height, 2)}, {len(s.tops)} holes {design.values.word('top_thread')} on top",
                {"height_mm": s.height},
            ),
        )


FAMILY: Final = Riser()
