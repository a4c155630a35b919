"""V-jaws: a matched pair for rounds, milled as one bar and parted.

Screwed to the vise in place of its jaw plates, or keyed and bolted to the table as V-blocks.

x across the V, y along it from the low end, z up from the base.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, hole_table, pattern, sunk
from elbrix.design.families.v_jaw import pictures, proof
from elbrix.design.families.v_jaw.sizes import ANGLES, BOLTS, FLOOR, PARAMETERS, Sizes, half
from elbrix.design.family import Capability, Design, Need, SlotFit
from elbrix.design.hosts import largest_bolt, slot_of, vise_of
from elbrix.design.work import BenchWork, Blank, Channel, Step, Vee, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Given, Group, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down, round_up
from elbrix.results.checks import Verdict
from elbrix.results.figures import num
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe

#: Share of the vise's largest torque the push is reckoned with.
_HANDLE: Final = 0.5


class VJaw:
    """See the module."""

    key = "v_jaw"
    title = "V-jaws"
    when = "When rounds are drilled or milled: held without turning, on the vise or the table."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, need.slot)
        neck, slot_name, measured = slot_of(shop, need)
        smallest = p.assume("smallest", 12.0)
        largest = p.assume("largest", max(30.0, smallest))
        opposite = p.assume("opposite", "twin")
        good = [a for a in ANGLES if proof.fits_range(a, smallest, largest, opposite) and a >= 90]
        angle = float(
            p.work(
                "angle",
                f"{good[0] if good else ANGLES[-1]:g}",
                "the narrowest of 90° and 120° whose range holds them all",
                f"{num(largest)}/{num(smallest)} against"
                f" {', '.join(f'{num(1 / math.cos(half(a)) ** 2, 2)} at {a:g}°' for a in ANGLES[1:])}",
                "a narrow V is steadier sideways, a wide one holds a wider range",
            )
        )
        mouth = p.work(
            "mouth",
            round_up(1.02 * largest * math.cos(half(angle)), 0.5),
            "1.02·largest·cos(A/2), up to 0.5",
            f"1.02·{num(largest)}·cos({num(angle / 2)}°)",
        )
        relief = p.work(
            "relief",
            max(1.0, round_down(0.6 * smallest * math.cos(half(angle)), 0.5)),
            "0.6·smallest·cos(A/2), down to 0.5",
            f"0.6·{num(smallest)}·cos({num(angle / 2)}°)",
        )
        deep = mouth / 2 / math.tan(half(angle))
        relief_deep = p.assume("relief_deep", 1.0)
        screw = p.measure(
            "screw", vise.jaw_screw if vise.jaw_screw in BOLTS else "M8", vise.name, known=known and vise.jaw_screw in BOLTS
        )
        spacing = p.measure(
            "spacing",
            vise.jaw_screw_spacing_mm or round(0.64 * vise.jaw_width_mm),
            vise.name,
            known=known and vise.jaw_screw_spacing_mm > 0,
        )
        above = p.measure(
            "above",
            vise.jaw_screw_above_mm or round(0.45 * vise.jaw_height_mm),
            vise.name,
            known=known and vise.jaw_screw_above_mm > 0,
        )
        p.measure("jaw_height", vise.jaw_height_mm, vise.name, known=known)
        p.measure("opening", vise.opening_mm, vise.name, known=known)
        p.measure("neck", neck, slot_name, known=measured)
        bolt = p.work(
            "bolt", largest_bolt(neck.min, BOLTS), "the largest that goes into the slot with 1 to spare", f"{num(neck.min)} − 1"
        )
        a, b = sunk("V", 0, 0, screw), sunk("T", 0, 0, bolt)
        p.work(
            "width",
            round_up(max(spacing + max(a.bore, b.bore) + 4, spacing + 3 * max(a.drill, b.drill)), 1.0),
            "screws apart + 3 × the larger hole",
            f"{num(spacing)} + 3·{num(max(a.drill, b.drill))}",
        )
        p.assume("bolts_apart", spacing, "as the vise's screws")
        bolts_at = p.work(
            "bolts_at",
            round_up(above + (a.bore + b.bore) / 2 + 0.5 * min(a.drill, b.drill), 0.5),
            "vise screws + half of both counterbores + 0.5·d",
            f"{num(above)} + ({num(a.bore)} + {num(b.bore)})/2 + 0.5·{num(min(a.drill, b.drill))}",
        )
        p.work(
            "length",
            round_up(max(vise.jaw_height_mm, bolts_at + 1.5 * b.drill), 1.0),
            "the jaw's height, or 1.5·d past the table bolts",
            f"max({num(vise.jaw_height_mm)}, {num(bolts_at)} + 1.5·{num(b.drill)})",
        )
        keys = p.assume("keys", "both")
        p.work(
            "keyway",
            round_down(neck.min, 0.1),
            "the tightest slot, down to 0.1",
            num(neck.min),
            "for a plain key of the key family",
        )
        key_deep = p.assume("keyway_deep", 4.0) if keys != "none" else p.assume("keyway_deep", 1.0)
        p.work(
            "height",
            round_up(max(deep + relief_deep + key_deep + FLOOR[0], b.bore_deep + key_deep + 0.8 * b.drill), 1.0),
            "V + relief + keyway + 8, or head + keyway + 0.8·d",
            f"max({num(deep)} + {num(relief_deep)} + {num(key_deep)} + {num(FLOOR[0])}, {num(b.bore_deep)} + {num(key_deep)} +"
            f" 0.8·{num(b.drill)})",
        )
        least_pin = max(2 * deep / (1 + 1 / math.sin(half(angle))), relief / math.cos(half(angle))) + 0.3
        most_pin = mouth / math.cos(half(angle)) - 0.4
        pins = [q.diameter_mm for q in shop.pins if least_pin <= q.diameter_mm <= most_pin]
        p.measure(
            "pin",
            pins[-1] if pins else round(min(most_pin, 1.5 * least_pin), 1),
            "Shop" if pins else "none owned does",
            known=bool(pins),
        )
        p.work(
            "push",
            round(vise.force_per_nm * vise.most_nm * _HANDLE, 0),
            "force per N·m × half the largest torque",
            f"{num(vise.force_per_nm)}·{num(vise.most_nm)}·{num(_HANDLE)}",
        )
        p.assume("material", "mild steel")
        p.choose("pieces", max(2, need.pieces if need.pieces < 9 else 2))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = Sizes(values)
        note = (
            "Pair milled as one bar and parted, marked 1 and 2; V in the middle to 0.02; over pin"
            f" Ø{num(values.number('pin'), 3)}: {num(s.over_pin, 3)} ±0.03; edges broken 0.3"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=hole_table(s.holes),
            datum="middle of the V and low end",
            note=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        keyed = design.values.word("keys") != "none"
        return (
            Group("What it holds", ("smallest", "largest", "opposite", "least", "most", "alone", "moves", "push", "flank")),
            Group("The V", ("angle", "mouth", "deep", "relief", "relief_deep", "tilt", "pin", "over_pin")),
            Group("The block", ("width", "height", "length", "floor", "material", "mass", "pieces")),
            Group("On the vise", ("screw", "spacing", "above", "jaw_height", "opening", "apart", "opens")),
            Group(
                "On the table",
                (
                    "centre_low",
                    "centre_high",
                    "neck",
                    "bolt",
                    "bolts_apart",
                    "bolts_at",
                    "keys",
                    *(("keyway", "keyway_deep") if keyed else ()),
                ),
            ),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = Sizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = Sizes(design.values)
        tools: list[Recipe] = list(Span(0.0, s.height).tools(s.holes))
        if s.keys in ("both", "across"):
            at, k, w = s.v.number("bolts_at"), s.keyway / 2, s.width / 2 + 1
            tools.append(Prism(((-w, at - k), (w, at - k), (w, at + k), (-w, at + k)), -1.0, s.keyway_deep, "xy"))
        return Cut(Prism(pictures.profile(s), 0.0, s.length), tuple(tools))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", design.values.number("bolts_apart") / 2

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = Sizes(design.values)
        v = s.v
        steps: list[Step] = [
            Channel(name="Relief", wide_mm=s.relief, deep_mm=s.bottom, feature="relief", id="relief", allowed_mm=0.2),
            Vee(name="V", included_deg=s.angle, mouth_mm=s.mouth, pin_mm=v.number("pin"), over_pin_mm=s.over_pin, feature="v"),
        ]
        if s.keys in ("both", "along"):
            steps.append(
                Channel(
                    name="Keyway along, turned over",
                    wide_mm=s.keyway,
                    deep_mm=s.keyway_deep,
                    below=True,
                    feature="keyway",
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
            held="in the vise, V up, on parallels clear of the holes",
        )
        assert holes is not None
        steps.append(holes)
        if s.keys in ("both", "across"):
            steps.append(
                Channel(
                    name="Keyway across, turned over",
                    wide_mm=s.keyway,
                    deep_mm=s.keyway_deep,
                    at_mm=v.number("bolts_at"),
                    across=True,
                    below=True,
                    feature="keyway",
                    id="key_across",
                    allowed_mm=0.015,
                )
            )
        steps.append(
            BenchWork(
                name="Fit",
                words=(
                    "Mark them 1 and 2 and which end is up before parting. Stone the bases. Screwed to the vise, a ground"
                    f" Ø{num(s.smallest)} to {num(s.largest)} bar between: it stands upright to 0.02 over"
                    f" {num(min(s.length, 50), 0)} and does not rock."
                ),
                tools=("oil stone", "indicator", "square"),
            )
        )
        blank = Blank(
            across_mm=s.width, high_mm=s.height, along_mm=s.length, pieces=int(v.number("pieces")), material=v.word("material")
        )
        return Work(blank, tuple(steps))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """The jaws of every vise whose screws were measured, and the slots its bolts go into."""
        s = Sizes(design.values)
        found = []
        for vise in shop.vises:
            if not vise.jaw_screw_spacing_mm:
                continue
            off = max(
                abs(vise.jaw_screw_spacing_mm - s.v.number("spacing")) / 2, abs(vise.jaw_screw_above_mm - s.v.number("above"))
            )
            free = (s.screws[0].drill - float(vise.jaw_screw[1:] or 0)) / 2 if vise.jaw_screw.startswith("M") else 0.0
            same = vise.jaw_screw == s.v.word("screw")
            verdict = Verdict.NO_GO if not same or off > free else Verdict.GO
            found.append(
                SlotFit(
                    vise.name,
                    "jaw screws",
                    verdict,
                    (
                        "its screws line up"
                        if verdict is Verdict.GO
                        else f"its screws are {vise.jaw_screw}, {num(vise.jaw_screw_spacing_mm)} apart"
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

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = Sizes(design.values)
        low, high = max(s.least, s.alone), s.most
        return (
            Capability(
                "round", f"rounds Ø{num(low, 1)} to {num(high, 1)}", {"from_mm": low, "to_mm": high, "height_mm": s.length}
            ),
        )


FAMILY: Final = VJaw()
