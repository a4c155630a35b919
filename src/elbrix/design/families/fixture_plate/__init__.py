"""Fixture plate: a grid for anything.

The pattern of one piece of work, or a plate for the rotary table with its heads counterbored underneath.

x along the table, y away, from the middle of the plate; z up from its underside.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from elbrix.design.bores import Hole, Span, counterbored, hole_table, pattern
from elbrix.design.families.fixture_plate import pictures, proof
from elbrix.design.families.fixture_plate.sizes import BOLTS, CENTRE_OVER, LAND, PARAMETERS, FixturePlateSizes
from elbrix.design.family import Capability, Design, InLayout, Request, SlotFit, Withheld
from elbrix.design.hosts import BOOK_NECK, largest_bolt, pitch_of, table_of
from elbrix.design.parts import Part, made, nuts, screws
from elbrix.design.work import Blank, BoredHole, HandOperation, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.drilling import thread_depth_wanted
from elbrix.mechanics.lifting import lifting_words
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Limits, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.solids.recipe import Cut, Prism, Recipe
from elbrix.standards.threads import find_thread

_NOT: Final = "not measured: book slot for 12 mm"


def _with_holes(s: FixturePlateSizes, holes: Sequence[Hole]) -> Recipe:
    """The plate with some of its holes: what is drilled at assembly is not there when it leaves the mill."""
    el, w = s.length / 2, s.width / 2
    block = Prism(((-el, -w), (el, -w), (el, w), (-el, w)), 0.0, s.thickness, "xy")
    return Cut(block, Span(0.0, s.thickness).tools(holes)) if holes else block


class FixturePlate:
    """See the module."""

    key = "fixture_plate"
    title = "Fixture plate"
    when = "When work has no edge a vise could hold, or comes back again and again."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        rotary = str(chosen["kind"].value) == "rotary" if "kind" in chosen else False
        machine, slot = table_of(shop, request, rotary=rotary)
        kind = p.assume("kind", "rotary" if machine is not None and machine.kind is MachineKind.ROTARY_TABLE else "grid")
        name, known = (machine.name, True) if machine is not None else (_NOT, False)
        straight = slot is None or slot.straight
        pitch = p.measure(
            "slot_pitch",
            pitch_of(machine) if straight and machine is not None else 0.0 if not straight else 50.0,
            name,
            known=known,
        )
        neck = p.measure(
            "neck",
            slot.neck if slot is not None and slot.neck is not None else BOOK_NECK,
            f"{name}, {slot.label}" if slot is not None else _NOT,
            known=known,
        )
        ring = p.measure("ring_radius", 0.0 if straight or slot is None else slot.ring_radius_mm, name, known=known)
        over = p.assume("centred_over", "slot")
        bore = machine.bore_mm if machine is not None else 0.0
        p.measure("centre_hole", bore if kind == "rotary" else 0.0, f"{name}, its bore", known=kind == "rotary" and bore > 0)
        long, wide = (
            (machine.table_length_mm or 1000.0, machine.table_width_mm or 250.0) if machine is not None else (1000.0, 250.0)
        )
        p.measure("table_length", long, name, known=known)
        p.measure("table_width", wide, name, known=known)
        bolt = p.work(
            "bolt",
            largest_bolt(neck.min, BOLTS),
            "the largest a T-nut for the slot has a sound wall for",
            f"{format_number(neck.min)} − 0.3",
            "a stud or screw of that size, with its nut in the slot",
        )
        head = counterbored("B", 0, 0, bolt)
        inset = math.ceil(max(1.5 * head.drill, head.bore / 2 + 2))
        if ring:
            side = p.reckon(
                "length", worked("2·(0.75·ring + edge)", ring, inset, source="bolts at 45° on the ring, and their edges"), up=2.0
            )
            width = p.reckon("width", worked("length", side, source="square"))
            at = round(ring * math.sqrt(0.5), 3)
            rows: tuple[float, ...] = (-at, at)
            columns: tuple[float, ...] = (-at, at)
        else:
            length = p.assume("length", round_down(min(240.0, 0.6 * long), 10))
            off = pitch if over == "slot" else pitch / 2
            rows = tuple(k * off for k in (-1, 1)) if pitch and 2 * off + 2 * inset <= wide else (0.0,)
            width = (
                p.reckon("width", worked("2·(outer bolts + edge)", abs(rows[0]), inset), up=2.0)
                if len(rows) > 1
                else p.reckon("width", worked("table width", wide), most=100.0)
            )
            columns = tuple(k * (length / 2 - inset) for k in (-1, 1))
        thread = p.assume("work_thread", "M6x1" if kind != "grid" else "M8x1.25")
        d = find_thread(parse_thread(thread)).major_mm
        material = p.assume("material", "aluminium alloy" if kind != "rotary" else "mild steel")
        held = p.assume("fastening", "sunk" if kind == "rotary" else "tapped")
        need_thread = d * thread_depth_wanted(material)
        p.reckon(
            "thickness",
            worked(
                "max(counterbored head + 0.8·d; work's thread)",
                head.bore_depth,
                float(bolt[1:]),
                need_thread if held == "tapped" else 0.0,
            ),
            up=2.0,
            least=10.0,
        )
        datum = p.assume("datum", "middle")
        corner = datum == "corner"
        length, width = float(p.now("length")), float(p.now("width"))
        dx, dy = (length / 2, width / 2) if corner else (0.0, 0.0)
        text = "; ".join(f"{format_number(x + dx)},{format_number(y + dy)}" for y in rows for x in columns)
        p.work("bolts", text, "on the slots, 1.5 × the hole from the edge", f"edge {inset}")
        far = round(0.32 * length)
        p.assume(
            "pattern",
            (
                "grid 25"
                if kind == "grid"
                else (
                    f"circle 3 on {round(0.6 * min(length, width))} at 90 about {format_number(dx)},{format_number(dy)}"
                    if kind == "rotary"
                    else f"{format_number(dx - far)},{format_number(dy)}; {format_number(dx + far)},{format_number(dy)}"
                )
            ),
        )
        p.assume("mirrored", "no")
        play = p.assume("pin_clearance", 0.02)
        error = p.assume("spacing_error", 0.03)
        asked = "none" if kind != "work" else "relieved" if error > play else "full"
        (
            p.work(
                "pins",
                asked,
                "relieved when the spacing error is more than (c1 + c2)/2",
                f"({format_number(play)} + {format_number(play)})/2 against {format_number(error)}",
            )
            if kind == "work"
            else p.assume("pins", asked)
        )
        p.assume(
            "pin_positions",
            f"{format_number(dx - far + 16)},{format_number(dy - 12)}; {format_number(dx + far - 16)},{format_number(dy - 12)}",
        )
        p.assume("pin_diameter", 6.0)
        for name_, value in (("pin_holes", "now"), ("old_holes", "none"), ("cutter_path", "none")):
            p.assume(name_, value)
        p.assume("old_hole_diameter", 8.5)
        p.assume("cutter_diameter", 12.0)
        p.assume("work_kg", 0.0)
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = FixturePlateSizes(values)
        note = (
            f"{len(s.work_holes)} holes {s.work_holes[0].words if s.work_holes else ''}; every ordinate from the {s.datum},"
            f" ±{length(0.05)}; top and underside parallel to {length(0.02)}"
        )
        if s.pins and not s.at_assembly:
            # What the pins may be off together is shared evenly with the work's holes.
            note += f"; pin holes to each other ±{length(values.number('spacing_error') / 2, 3)}"
        place = lambda h: (round(h.x - s.x0, 6), round(h.y - s.y0, 6))  # noqa: E731
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s, shop)),
            checks=tuple(proof.checks(s, shop)),
            holes=hole_table(s.holes, place),
            datum=s.datum,
            origin=(s.x0, s.y0),
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        told = {f.key for f in design.figures}
        v = design.values
        ring = v.number("ring_radius") > 0
        where = (
            ("ring_radius", "neck", "centre_hole")
            if ring
            else ("slot_pitch", "neck", "centred_over", *(("centre_hole",) if v.number("centre_hole") else ()))
        )
        pins = (
            "pins",
            *(
                (
                    "pin_positions",
                    "pin_diameter",
                    "pin_clearance",
                    "spacing_error",
                    "accepted",
                    "pins_apart",
                    "pin_turn",
                    *(("land",) if "land" in told else ()),
                    "pin_holes",
                )
                if v.word("pins") != "none"
                else ()
            ),
        )
        taken = ("old_holes", *(("old_hole_diameter",) if v.word("old_holes") not in ("", "none") else ()))
        path = ("cutter_path", *(("cutter_diameter",) if v.word("cutter_path") not in ("", "none") else ()))
        return (
            Group("Purpose", ("kind", "fastening", "work_thread", "mirrored")),
            Group("Plate", ("length", "width", "thickness", "datum", "material", "mass", "work_kg", "pieces")),
            Group("Table", (*where, "table_length", "table_width", "bolt", "bolts", "shift", "turn", "align")),
            Group("Work holes", ("pattern", "hole_count", *(("polar",) if "polar" in told else ())), "each from the datum"),
            Group("Pins", pins),
            Group("Obstacles", (*taken, *path)),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = FixturePlateSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = FixturePlateSizes(design.values)
        return _with_holes(s, (*s.holes, *s.taken))

    def section(self, design: Design) -> tuple[str, float]:
        s = FixturePlateSizes(design.values)
        return "y", s.bolts[0].y if s.bolts else 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def withheld(self, design: Design) -> Withheld | None:
        s = FixturePlateSizes(design.values)
        if not (s.pins and s.at_assembly):
            return None
        return Withheld(positions="pin_positions", making="pin_holes", mate="the work")

    def work(self, design: Design, shop: Shop) -> Work:
        s = FixturePlateSizes(design.values)
        before = [h for h in s.holes if h.feature != "pins" or not s.at_assembly]
        now = [h for h in before if h.feature != "centre_hole"]
        x0 = -s.length / 2
        steps: list[Step] = []
        if s.centre:
            steps.append(
                BoredHole(
                    name="Centre hole",
                    x_mm=s.length / 2,
                    y_mm=0.0,
                    size_mm=s.centre,
                    thickness_mm=s.thickness,
                    allowed_mm=CENTRE_OVER,
                    feature="centre_hole",
                    id="centre",
                )
            )
        for below, name in ((False, "Holes from the top"), (True, "Holes from underneath")):
            found = pattern(now, s.thickness, name, x0=x0, y0=0.0, below=below, id="under" if below else "pattern")
            if found is not None:
                steps.append(found)
        if s.pins and s.at_assembly:
            steps.append(
                HandOperation(
                    name="Pin holes, at assembly",
                    words=(
                        "Withheld till the work is fitted. Screw the work on where it belongs, prove it with an indicator, then"
                        f" drill and ream through it into the plate, {length(s.pins[0].ream, 3)} for the pins."
                        " Or measure its holes in Inspect and release these: they are then made by ordinates."
                    ),
                    tools=("reamer", "indicator"),
                    check="The work goes on and off both pins by hand, and not with a shake.",
                )
            )
        if len(s.pins) == 2:
            land = (
                f" The second pin is relieved to a land of {length(LAND * s.pin, 1)}; its lands lie across the line of the pins."
                if s.v.word("pins") == "relieved"
                else ""
            )
            steps.append(
                HandOperation(
                    name="Pins",
                    words=(
                        f"Press the pins Ø{length(s.pin, 3)} in, a hair of oil, square. Through holes let the air out and"
                        f" the pin come out again.{land}"
                    ),
                    tools=("press or copper hammer",),
                    caution="A hardened pin can chip: eye protection.",
                    check="Square to the plate by a small square; the work drops on.",
                )
            )
        lift = lifting_words(s.mass_kg)
        steps.append(
            HandOperation(
                name="Table",
                words=(
                    f"{lift}Stone the underside. {_set_true(s)} Socket heads only: a flat-head screw locates as well as holds and"
                    " would fight the pins."
                ),
                tools=("oil stone", "indicator"),
                check="The indicator says no more along its edge than the layout allows, bolts tight.",
            )
        )
        blank = Blank(
            width_mm=s.width,
            height_mm=s.thickness,
            length_mm=s.length,
            pieces=1 if s.taken else int(design.values.number("pieces")),
            material=design.values.word("material"),
            there="the plate that has the existing holes" if s.taken else "",
        )
        return Work(blank, tuple(steps), notes=("Mark the datum corner before the first hole.",), solid=_with_holes(s, before))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Its bolts over the slots of every table that was measured."""
        s = FixturePlateSizes(design.values)
        found = []
        for machine in shop.machines:
            slots = [t for t in machine.slots if t.measured]
            if not slots or machine.kind is MachineKind.LATHE or not s.bolts:
                continue
            off, tight = _lands(s, machine, slots), min(t.neck.min for t in slots if t.neck is not None) - float(s.bolt[1:])
            verdict = Limits(marginal_above=0.5 * s.clear / 2, no_above=s.clear / 2).judge(off)
            over = max(s.length - machine.table_length_mm, s.width - machine.table_width_mm) if machine.table_length_mm else 0.0
            if tight < 0:
                verdict, why = Verdict.NO_GO, f"{s.bolt} does not go into its slots"
            elif over > 2 * s.thickness:
                verdict, why = Verdict.NO_GO, f"{length(over, 0)} larger than the table"
            else:
                why = "its bolts lie over the slots" if verdict is Verdict.GO else f"a bolt lies {length(off, 2)} off the slot"
            found.append(SlotFit(machine.name, "its slots", verdict, why))
        return tuple(found)

    def in_layout(self, design: Design) -> InLayout:
        """Size, screws and pins, from the middle; a grid says no screws: what lies on it is clamped."""
        s = FixturePlateSizes(design.values)
        v = s.v
        values = {
            "length": format_number(s.length),
            "width": format_number(s.width),
            "thickness": format_number(s.thickness),
            "thread": v.word("work_thread"),
            "pins": {"full": "two full"}.get(v.word("pins"), v.word("pins")),
        }
        if s.kind != "grid":
            values["screw_positions"] = "; ".join(f"{format_number(h.x)},{format_number(h.y)}" for h in s.work_holes) or "none"
        if s.pins:
            values |= {
                "pin_positions": "; ".join(f"{format_number(p.x)},{format_number(p.y)}" for p in s.pins),
                "pin_diameter": format_number(s.pin, 4),
                "pin_clearance": format_number(s.play, 4),
                "spacing_error": format_number(v.number("spacing_error"), 4),
            }
        return InLayout("plate", values)

    def parts(self, design: Design) -> tuple[Part, ...]:
        s, v = FixturePlateSizes(design.values), design.values
        d = v.number("pin_diameter")
        full = {"full": 2, "relieved": 1}.get(v.word("pins"), 0)
        pins = [Part(words=f"locating pin Ø{length(d)}, full", count=full, pin_mm=d, feature="pins")] if full else []
        if v.word("pins") == "relieved":
            pins.append(made(1, f"relieved pin Ø{length(d)}, filed to its lands", "pins"))
        work = "into the plate, through the work" if v.word("fastening") == "tapped" else "from below, into the work"
        return (
            *screws(len(s.bolts), v.word("bolt"), "to the table", feature="bolts"),
            *nuts(len(s.bolts), v.word("bolt")),
            *screws(len(s.work_holes), v.word("work_thread"), work, feature="work holes"),
            *pins,
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = FixturePlateSizes(design.values)
        return (
            Capability(
                "flat work",
                f"flat work on {length(s.length)} × {length(s.width)}, {len(s.work_holes)} holes"
                f" {design.values.word('work_thread')}",
                {"length_mm": s.length, "width_mm": s.width},
            ),
        )


def _lands(s: FixturePlateSizes, machine: Machine, slots: list[TSlot]) -> float:
    """How far the worst bolt is from a slot when the plate is shifted across to lie best, mm."""
    rings = [t.ring_radius_mm for t in slots if not t.straight]
    if rings:
        return max(min(abs(math.hypot(b.x, b.y) - r) for r in rings) for b in s.bolts)
    at = [t.offset_mm for t in machine.slots if t.straight]

    def worst(shift: float, holes: tuple[Hole, ...]) -> float:
        return max(min(abs(b.y + shift - y) for y in at) for b in holes)

    # Best with one bolt right over a slot, or half way between two bolts' errors.
    shifts = [y - b.y for y in at for b in s.bolts]
    shifts += [(a + b) / 2 for a in shifts for b in shifts if 0 < abs(a - b) < 2]
    return min(worst(k, s.bolts) for k in shifts)


def _set_true(s: FixturePlateSizes) -> str:
    """How the plate is set on its table: by its edge, or on a rotary table by its centre and an angle."""
    if not (s.ring or s.kind == "rotary"):
        return "Bolts finger tight, indicator along the long edge, then tight crosswise."
    bore = s.v.number("centre_hole")
    by = (
        f"Over a plug in its centre hole Ø{length(bore, 3)} and the table's bore, or an indicator in that hole"
        if bore
        else "An indicator on a circle of its holes, or on its round edge"
    )
    return (
        f"{by}, the table swung right round: move the plate, not the table, till it reads alike; half of what is left is the"
        " radius error of every place. Bolts tight crosswise, swing once more. The worm's zero where its datum hole lies along X."
    )


FAMILY: Final = FixturePlate()
