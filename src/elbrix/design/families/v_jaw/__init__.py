"""V-jaws: a matched pair for rounds, milled as one bar and parted.

Screwed to the vise in place of its jaw plates, or keyed and bolted to the table as V-blocks.

x across the V, y along it from the low end, z up from the base.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, counterbored, hole_table, pattern
from elbrix.design.families.v_jaw import pictures, proof
from elbrix.design.families.v_jaw.sizes import ANGLES, BOLTS, FLOOR, PARAMETERS, VJawSizes, half
from elbrix.design.family import Capability, Design, Request, SlotFit
from elbrix.design.hosts import largest_bolt, slot_of, vise_of
from elbrix.design.parts import Part, made, screws
from elbrix.design.work import IN_VISE, Blank, Groove, HandOperation, Step, VGroove, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import HANDLE_SHARE
from elbrix.mechanics.tightened import handle_load
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.results.checks import Check, Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe

#: Share of the vise's largest torque the push is reckoned with.


class VJaw:
    """See the module."""

    key = "v_jaw"
    title = "V-jaws"
    when = "When rounds are drilled or milled: held without turning, on the vise or the table."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, request.slot)
        neck, slot_name, measured = slot_of(shop, request)
        smallest = p.assume("smallest", 12.0)
        largest = p.assume("largest", max(30.0, smallest))
        opposite = p.assume("opposite", "twin")
        good = [a for a in ANGLES if proof.fits_range(a, smallest, largest, opposite) and a >= 90]
        angle = float(
            p.work(
                "angle",
                f"{good[0] if good else ANGLES[-1]:g}",
                "the narrowest of 90° and 120° whose range holds them all",
                f"{format_number(largest)}/{format_number(smallest)} against"
                f" {', '.join(f'{format_number(1 / math.cos(half(a)) ** 2, 2)} at {a:g}°' for a in ANGLES[1:])}",
                "a narrow V is steadier sideways, a wide one holds a wider range",
            )
        )
        mouth = p.reckon("v_width", worked("1.02·largest·cos(A/2)", largest, term(angle, 3, "°")), up=0.5)
        relief = p.reckon("relief_width", worked("0.6·smallest·cos(A/2)", smallest, term(angle, 3, "°")), down=0.5, least=1.0)
        deep = mouth / 2 / math.tan(half(angle))
        relief_deep = p.assume("relief_depth", 1.0)
        screw = p.measure(
            "jaw_screw", vise.jaw_screw if vise.jaw_screw in BOLTS else "M8", vise.name, known=known and vise.jaw_screw in BOLTS
        )
        spacing = p.measure(
            "screw_spacing",
            vise.jaw_screw_spacing_mm or round(0.64 * vise.jaw_width_mm),
            vise.name,
            known=known and vise.jaw_screw_spacing_mm > 0,
        )
        above = p.measure(
            "screw_height",
            vise.jaw_screw_height_mm or round(0.45 * vise.jaw_height_mm),
            vise.name,
            known=known and vise.jaw_screw_height_mm > 0,
        )
        p.measure("jaw_height", vise.jaw_height_mm, vise.name, known=known)
        p.measure("opening", vise.opening_mm, vise.name, known=known)
        p.measure("neck", neck, slot_name, known=measured)
        bolt = p.work(
            "bolt",
            largest_bolt(neck.min, BOLTS),
            "the largest a T-nut for the slot has a sound wall for",
            f"{format_number(neck.min)} − 0.3",
        )
        a, b = counterbored("V", 0, 0, screw), counterbored("T", 0, 0, bolt)
        p.reckon(
            "width",
            worked(
                "screws apart + max(larger counterbore + 4; 3·larger hole)", spacing, max(a.bore, b.bore), max(a.drill, b.drill)
            ),
            up=1.0,
        )
        p.assume("bolt_spacing", spacing, "as the vise's screws")
        bolts_at = p.reckon(
            "bolt_position",
            worked("vise screws + (counterbore + other)/2 + 0.5·hole", above, a.bore, b.bore, min(a.drill, b.drill)),
            up=0.5,
        )
        p.reckon("length", worked("max(jaw's height; table bolts + 1.5·hole)", vise.jaw_height_mm, bolts_at, b.drill), up=1.0)
        keys = p.assume("keyways", "both")
        p.reckon("keyway_width", worked("tightest slot", neck.min, source="for a plain key of the key family"), down=0.01)
        key_deep = p.assume("keyway_depth", 4.0) if keys != "none" else p.assume("keyway_depth", 1.0)
        p.reckon(
            "height",
            worked(
                f"max(V + relief + keyway + {FLOOR[0]:g}; counterbored head + keyway + 0.8·hole)",
                deep,
                relief_deep,
                key_deep,
                b.bore_depth,
                b.drill,
            ),
            up=1.0,
        )
        least_pin = max(2 * deep / (1 + 1 / math.sin(half(angle))), relief / math.cos(half(angle))) + 0.3
        most_pin = mouth / math.cos(half(angle)) - 0.4
        pins = [q.diameter_mm for q in shop.pins if least_pin <= q.diameter_mm <= most_pin]
        p.measure(
            "pin_diameter",
            pins[-1] if pins else round(min(most_pin, 1.5 * least_pin), 1),
            "Shop" if pins else "none owned does",
            known=bool(pins),
        )
        p.reckon(
            "clamping_force",
            worked(f"force per N·m·largest torque·{HANDLE_SHARE:g}", vise.force_per_nm, vise.max_torque_nm),
            near=1.0,
        )
        p.assume("material", "mild steel")
        p.choose("pieces", max(2, request.pieces if request.pieces < 9 else 2))
        return p.values(PARAMETERS)

    @staticmethod
    def _pressed(s: VJawSizes, shop: Shop) -> tuple[Check, ...]:
        """Whether a vise of the shop presses so hard: the strongest, as nobody said which."""
        vise = max(shop.vises, key=lambda v: v.force_per_nm * v.max_torque_nm, default=None)
        if vise is None:
            return ()
        force = "clamping_force"
        return (handle_load("handle", s.v.number(force) / vise.force_per_nm, vise.max_torque_nm, ("vise",), force),)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = VJawSizes(values)
        note = (
            f"Pair milled as one bar and parted, marked 1 and 2; V in the middle to {length(0.02)}; over pin"
            f" Ø{length(values.number('pin_diameter'), 3)}: {length(s.over_pin, 3)} ±{length(0.03)}; edges broken {length(0.3)}"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=(*proof.checks(s), *self._pressed(s, shop)),
            holes=hole_table(s.holes),
            datum="middle of the V and low end",
            note_words=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        keyed = design.values.word("keyways") != "none"
        return (
            Group("Work", ("smallest", "largest", "opposite", "least", "most", "alone", "moves", "clamping_force", "flank")),
            Group("V", ("angle", "v_width", "deep", "relief_width", "relief_depth", "tilt", "pin_diameter", "over_pin")),
            Group("Block", ("width", "height", "length", "floor", "material", "mass", "pieces")),
            Group("Vise", ("jaw_screw", "screw_spacing", "screw_height", "jaw_height", "opening", "apart", "opens")),
            Group(
                "Table",
                (
                    "centre_low",
                    "centre_high",
                    "neck",
                    "bolt",
                    "bolt_spacing",
                    "bolt_position",
                    "keyways",
                    *(("keyway_width", "keyway_depth") if keyed else ()),
                ),
            ),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = VJawSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = VJawSizes(design.values)
        tools: list[Recipe] = list(Span(0.0, s.height).tools(s.holes))
        if s.keys in ("both", "across"):
            at, k, w = s.v.number("bolt_position"), s.keyway / 2, s.width / 2 + 1
            tools.append(Prism(((-w, at - k), (w, at - k), (w, at + k), (-w, at + k)), -1.0, s.keyway_depth, "xy"))
        return Cut(Prism(pictures.profile(s), 0.0, s.length), tuple(tools))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", design.values.number("bolt_spacing") / 2

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = VJawSizes(design.values)
        v = s.v
        steps: list[Step] = [
            Groove(name="Relief", width_mm=s.relief, depth_mm=s.bottom, feature="relief_width", id="relief", allowed_mm=0.2),
            VGroove(
                name="V",
                included_deg=s.angle,
                mouth_mm=s.mouth,
                relief_mm=s.relief,
                pin_mm=v.number("pin_diameter"),
                over_pin_mm=s.over_pin,
                feature="v",
            ),
        ]
        if s.keys in ("both", "along"):
            steps.append(
                Groove(
                    name="Keyway along, turned over",
                    width_mm=s.keyway,
                    depth_mm=s.keyway_depth,
                    below=True,
                    feature="keyway_width",
                    id="key_along",
                    allowed_mm=0.015,
                )
            )
        # The bar lies along the V: its X is the family's y, its Y, away, the family's −x.
        holes = pattern(
            s.holes,
            s.height,
            "Holes in the lands",
            x0=0.0,
            y0=0.0,
            along="y",
            held=f"{IN_VISE}, V up, on parallels clear of the holes",
        )
        assert holes is not None
        steps.append(holes)
        if s.keys in ("both", "across"):
            steps.append(
                Groove(
                    name="Keyway across, turned over",
                    width_mm=s.keyway,
                    depth_mm=s.keyway_depth,
                    at_mm=v.number("bolt_position"),
                    across=True,
                    below=True,
                    feature="keyway_width",
                    id="key_across",
                    allowed_mm=0.015,
                )
            )
        steps.append(
            HandOperation(
                name="Fit",
                words=(
                    "Mark them 1 and 2 and which end is up before parting. Stone the bases. Screwed to the vise, a ground"
                    f" Ø{length(s.smallest)} to {length(s.largest)} bar between: it stands upright to {length(0.02)} over"
                    f" {length(min(s.length, 50), 0)} and does not rock."
                ),
                tools=("oil stone", "indicator", "square"),
                check="The bar is gripped high and low: paper is held at both.",
            )
        )
        blank = Blank(
            width_mm=s.width,
            height_mm=s.height,
            length_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
            along="+y",
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """The jaws of every vise whose screws were measured, and the slots its bolts go into."""
        s = VJawSizes(design.values)
        found = []
        for vise in shop.vises:
            if not vise.jaw_screw_spacing_mm:
                continue
            off = max(
                abs(vise.jaw_screw_spacing_mm - s.v.number("screw_spacing")) / 2,
                abs(vise.jaw_screw_height_mm - s.v.number("screw_height")),
            )
            free = (s.screws[0].drill - float(vise.jaw_screw[1:] or 0)) / 2 if vise.jaw_screw.startswith("M") else 0.0
            same = vise.jaw_screw == s.v.word("jaw_screw")
            verdict = Verdict.NO_GO if not same or off > free else Verdict.GO
            found.append(
                SlotFit(
                    vise.name,
                    "jaw screws",
                    verdict,
                    (
                        "its screws line up"
                        if verdict is Verdict.GO
                        else f"its screws are {vise.jaw_screw}, {length(vise.jaw_screw_spacing_mm)} apart"
                    ),
                )
            )
        for machine, slot in shop.measured_slots():
            if slot.straight and slot.neck is not None:
                room = slot.neck.min - float(s.v.word("bolt")[1:])
                found.append(
                    SlotFit(
                        machine.name,
                        slot.label,
                        Verdict.GO if room >= 0.3 else Verdict.NO_GO,
                        "its bolts go in" if room >= 0.3 else f"{s.v.word('bolt')} does not go in",
                    )
                )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        v = design.values
        keys = {"both": 2, "none": 0}.get(v.word("keyways"), 1)
        return (
            *screws(2, v.word("jaw_screw"), "to the vise", feature="vise screws"),
            *screws(2, v.word("bolt"), "to the table, instead", feature="table bolts"),
            *((made(keys, f"key {length(v.number('keyway_width'))} wide, for the slot"),) if keys else ()),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = VJawSizes(design.values)
        low, high = max(s.least, s.alone), s.most
        return (
            Capability(
                "round", f"rounds Ø{length(low, 1)} to {length(high, 1)}", {"from_mm": low, "to_mm": high, "height_mm": s.length}
            ),
        )


FAMILY: Final = VJaw()
