"""Locators: a round pin, a relieved pin for the second hole, a shoulder pivot, a bush turned to an uneven bore.

Turned about z; z = 0 is the face of the plate, or the mouth of the bore.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.families.locator import pictures, proof
from elbrix.design.families.locator.sizes import LEAD_DEG, PARAMETERS, PLAY, LocatorSizes
from elbrix.design.family import Callout, Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.work import Blank, Flat, HandOperation, MadeLength, Step, TurnedBore, TurnedPart, TurnedTaper, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.pins import widest_land_mm
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down, round_up
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.locating import Pin
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned
from elbrix.standards.threads import find_thread

#: Interference aimed at over the widest place of a bore, mm.
_HOLD: Final = 0.003
_PIVOTS: Final = ("M3x0.5", "M4x0.7", "M5x0.8", "M6x1", "M8x1.25", "M10x1.5", "M12x1.75", "M16x2")


def _callouts(s: LocatorSizes) -> tuple[Callout, ...]:
    """The lead in front of what goes into a hole."""
    if s.kind == "pivot":
        return ()
    middle = -s.height + s.lead / 2 if s.kind == "bush" else s.height + s.head_height - s.lead / 2
    words = f"lead {LEAD_DEG:g}° to the axis, {length(s.lead, 2)} long"
    return (Callout(words, "front", (s.size / 2, middle)),)


class Locator:
    """See the module."""

    key = "locator"
    title = "Locator"
    when = "When work comes back to the same place by its holes, or something has to turn on a true axis."
    group = "locate it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        kind = p.assume("kind", "pin")
        wanted = str(chosen["measured_bore"].value) if "measured_bore" in chosen else ""
        bore = next((b for b in shop.bores if wanted and wanted.lower() in (b.id.lower(), b.name.lower())), None)
        if bore is None and kind == "bush" and not wanted:
            bore = next(iter(shop.bores), None)
        p.measure("measured_bore", bore.name if bore else "", "Shop", known=bore is not None)
        usual = Readings(values_mm=(10.0, 10.01)) if kind != "pivot" else Readings(values_mm=(12.01, 12.02))
        hole = p.measure(
            "hole",
            Readings(values_mm=(bore.smallest_mm, bore.largest_mm)) if bore else usual,
            bore.name if bore else "not measured",
            known=bore is not None,
        )
        deep = p.measure(
            "hole_depth",
            bore.depth_mm if bore and bore.depth_mm else 12.0,
            bore.name if bore else "",
            known=bool(bore and bore.depth_mm),
        )
        fit = p.assume("fit", "slide" if kind in ("pin", "relieved") else "close")
        play = PLAY[fit]
        if kind == "bush":
            size = p.reckon(
                "locating_diameter",
                worked(
                    f"widest bore + {_HOLD:g}",
                    term(hole.max, 4),
                    source="it then holds everywhere; the tightest place says how hard it goes in",
                ),
                up=0.005,
            )
        else:
            size = p.reckon("locating_diameter", worked("tightest hole − play", term(hole.min, 4), play), down=0.001)
        float_ = p.assume("end_float", 0.08)
        {"bush": deep, "pivot": deep + float_}.get(kind, round_down(2 / 3 * deep, 0.5))
        p.reckon(
            "locating_length",
            {"bush": worked("bore depth", deep), "pivot": worked("what turns on it + end float", deep, float_)}.get(kind)
            or worked("2/3·hole depth", deep),
            down=0.5 if kind not in ("bush", "pivot") else 0.0,
            least=0.5,
        )
        reamed = p.assume("plate_hole", float(max(3, round(size))))
        plate = p.assume("plate_thickness", 20.0)
        shank = p.reckon("shank_diameter", worked("hole + 0.008", reamed), near=0.001)
        thread = p.work(
            "thread",
            next((t for t in reversed(_PIVOTS) if find_thread(parse_thread(t)).major_mm <= size - 2.0), _PIVOTS[0]),
            "the largest 2 under the journal",
            f"{format_number(size)} − 2",
        )
        d = find_thread(parse_thread(thread)).major_mm
        p.reckon("shank_length", worked("1.3·d", d) if kind == "pivot" else worked("1.2·Ø", shank), up=0.5, most=plate)
        other = p.assume("round_pin_clearance", play)
        error = p.assume("spacing_error", 0.03)
        most = widest_land_mm(hole.min, size, error - other / 2)
        if kind != "relieved":
            p.assume("land_width", max(0.2, round_down(size / 3, 0.1)))
        else:
            p.reckon("land_width", worked("min(d/3; 0.9·widest that goes in)", size, most), down=0.1, least=0.2)
        p.assume("pin_spacing", 100.0)
        # A pin has a flange when somebody gives it a Ø or a height; the other one is proposed then.
        typed = [n for n in ("head_diameter", "head_height") if n in chosen and chosen[n].value]
        stands = kind == "bush" or (kind != "pivot" and bool(typed))
        p.reckon(
            "head_diameter",
            worked("1.5·journal", size) if kind == "pivot" else worked("Ø + 6", size) if stands else worked("0", source="none"),
            up=0.5,
        )
        p.assume("head_height", round_up(0.4 * size, 0.5) if kind == "pivot" else 3.0 if stands else 0.0)
        p.reckon(
            "bush_bore", worked("max(Ø − 2·max(2; 0.1·Ø); 0.3·Ø)", size, source="two walls of a tenth, 2 at least"), down=0.5
        )
        p.assume("material", {"bush": "bronze", "pivot": "medium carbon steel"}.get(kind, "medium carbon steel"))
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = LocatorSizes(values)
        note = {
            "pin": f"Pressed into Ø{length(values.number('plate_hole'), 3)}; hardened if it is to last",
            "relieved": (
                f"Pressed into Ø{length(values.number('plate_hole'), 3)}; land {length(s.land, 2)}, across the line of the two"
                " pins"
            ),
            "pivot": f"Shank {s.thread.shown}; corner under the shoulder undercut",
            "bush": f"Outside to the bore as measured; bore to Ø{length(s.inner, 3)} after pressing",
        }[s.kind]
        bore = HoleLine(
            "A", 0.0, 0.0, f"Ø{length(s.inner, 3)} through, finished after pressing", sizes=HoleSizes(diameter_mm=s.inner)
        )
        holes = (bore,) if s.kind == "bush" else ()
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=holes,
            datum="its axis and the plate's face",
            note_words=note,
            callouts=_callouts(s),
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        kind = design.values.word("kind")
        if kind == "bush":
            return (
                Group("Bore", ("kind", "measured_bore", "hole", "hole_depth")),
                Group(
                    "Bush",
                    (
                        "locating_diameter",
                        "press_most",
                        "press_least",
                        "locating_length",
                        "head_diameter",
                        "head_height",
                        "bush_bore",
                        "wall",
                        "closes",
                        "length",
                        "material",
                        "pieces",
                    ),
                ),
            )
        plate = (
            Group("Plate", ("plate_hole", "plate_thickness", "shank_diameter", "press", "shank_length"))
            if kind != "pivot"
            else Group("Plate", ("thread", "shank_length", "plate_thickness"))
        )
        body = {
            "pivot": (
                "locating_diameter",
                "least_play",
                "most_play",
                "end_float",
                "locating_length",
                "head_diameter",
                "head_height",
            )
        }.get(kind, ("locating_diameter", "least_play", "most_play", "locating_length", "head_diameter", "head_height"))
        pair = (
            (
                Group(
                    "Pin pair",
                    ("spacing_error", "round_pin_clearance", "pin_spacing", "widest_land", "land_width", "accepted", "turn"),
                ),
            )
            if kind == "relieved"
            else ()
        )
        return (
            Group("Hole", ("kind", "measured_bore", "hole", "hole_depth", "fit")),
            Group("Locator", (*body, "length", "holds", "material", "pieces")),
            *pair,
            plate,
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = LocatorSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = LocatorSizes(design.values)
        body = Turned(s.profile, (0.0, 0.0, 0.0))
        if s.kind == "bush":
            return self._bush(s, s.inner)
        if s.kind == "relieved":
            far, base = s.size, s.head_height
            flats = tuple(
                Prism(
                    (
                        ((k * far, -far), (k * far, far), (k * s.land / 2, far), (k * s.land / 2, -far))
                        if k < 0
                        else ((s.land / 2, -far), (far, -far), (far, far), (s.land / 2, far))
                    ),
                    base,
                    base + s.height + 1,
                    "xy",
                )
                for k in (-1, 1)
            )
            return Cut(body, flats)
        return body

    @staticmethod
    def _bush(s: LocatorSizes, inner: float) -> Recipe:
        low, high = s.profile[0][1] - 1, s.profile[-1][1] + 1
        bore = Turned(((0.0, low), (inner / 2, low), (inner / 2, high), (0.0, high)), (0.0, 0.0, 0.0))
        return Cut(Turned(s.profile, (0.0, 0.0, 0.0)), (bore,))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = LocatorSizes(design.values)
        v = s.v
        base = s.head_height if s.kind in ("pin", "relieved") else 0.0
        steps: list[Step] = []
        if s.kind == "bush":
            steps.append(TurnedBore(name="Bore, under size", size_mm=_bored_first(s), feature="bush_bore", allowed_mm=0.1))
            drop = s.lead * math.tan(math.radians(LEAD_DEG))
            steps.append(
                TurnedTaper(
                    name="Lead",
                    from_size_mm=s.size - 2 * drop,
                    to_size_mm=s.size,
                    from_mm=0.0,
                    to_mm=s.lead,
                    feature="body",
                    id="lead",
                )
            )
            steps.append(
                TurnedPart(
                    name="Outside",
                    size_mm=s.size,
                    length_mm=s.height,
                    allowed_mm=0.003,
                    feature="body",
                    id="outside",
                    shoulder=(
                        MadeLength(
                            size="locating_length", length_mm=s.height, words="caliper’s depth rod, from the face to the flange"
                        )
                        if s.head
                        else None
                    ),
                )
            )
            if s.head:
                steps.append(
                    TurnedPart(
                        name="Flange", size_mm=s.head, length_mm=s.length, allowed_mm=0.1, feature="head_diameter", id="flange"
                    )
                )
            steps.append(
                HandOperation(
                    name="Press in and finish",
                    words=(
                        f"Measure the bore again first: Ø{length(s.hole.min, 3)} to {length(s.hole.max, 3)}. A"
                        " little oil, drawn in with a bolt and two washers, never hammered. Then bore to"
                        f" Ø{length(s.inner, 3)}: pressing closed it."
                    ),
                    tools=("draw bolt", "bore gauge"),
                    check="A plug goes through by hand, and the bore is square to the face.",
                )
            )
        elif s.kind == "pivot":
            # The thread is at the free end, the head stays next to the chuck.
            steps.append(
                TurnedPart(
                    name="Thread's outside",
                    size_mm=s.thread_outside,
                    length_mm=s.shank_length,
                    feature="shank_diameter",
                    id="thread",
                    shoulder=MadeLength(
                        size="locating_length", length_mm=s.height, words="caliper between the shoulder and the head", behind=True
                    ),
                )
            )
            steps.append(
                TurnedPart(
                    name="Journal",
                    size_mm=s.size,
                    length_mm=s.shank_length + s.height,
                    allowed_mm=0.002,
                    feature="body",
                    id="journal",
                )
            )
            steps.append(
                TurnedPart(name="Head", size_mm=s.head, length_mm=s.length, allowed_mm=0.1, feature="head_diameter", id="head")
            )
            steps.append(
                HandOperation(
                    name="Thread",
                    words=(
                        f"Undercut {length(0.5)} at the shoulder, then {s.thread.shown} with a die in the tailstock holder;"
                        " two flats on the head for a spanner."
                    ),
                    tools=("die", "file"),
                    caution="Spindle turned by hand.",
                    check="A nut runs to the shoulder by hand, and what turns on it still turns.",
                )
            )
        else:
            parts = [
                ("Locating part", s.size, s.height, 0.004, "body", "locating"),
                ("Shank", s.shank, s.shank_length, 0.003, "shank_diameter", "shank"),
            ]
            if base:
                parts.insert(1, ("Flange", s.head, base, 0.1, "head_diameter", "flange"))
            # The thinner end stands out of the chuck.
            if s.size > s.shank:
                parts.reverse()
            along = 0.0
            for name, size, long, allowed, feature, ident in parts:
                along += long
                steps.append(TurnedPart(name=name, size_mm=size, length_mm=along, allowed_mm=allowed, feature=feature, id=ident))
            first = 0.0 if s.size <= s.shank else s.length - s.height
            drop = s.lead * math.tan(math.radians(LEAD_DEG))
            ends = (s.size - 2 * drop, s.size) if not first else (s.size, s.size - 2 * drop)
            at = (0.0, s.lead) if not first else (s.length - s.lead, s.length)
            steps.append(
                TurnedTaper(
                    name="Lead", from_size_mm=ends[0], to_size_mm=ends[1], from_mm=at[0], to_mm=at[1], feature="body", id="lead"
                )
            )
            if s.kind == "relieved":
                steps.append(
                    Flat(
                        name="Relief",
                        across_mm=s.land,
                        round_mm=s.size,
                        from_mm=first,
                        to_mm=first + s.height,
                        feature="land_width",
                        id="relief",
                    )
                )
            steps.append(
                HandOperation(
                    name="Lead and fit",
                    words=("The lead polished. Press the shank in with a drop of oil, square, with nothing under the hole."),
                    tools=("press",),
                    caution="A hardened pin can chip: eye protection.",
                    check="Square in its hole; the work goes on over the lead without being pushed.",
                )
            )
        widest = 2 * max(r for r, _ in s.profile)
        blank = Blank(
            width_mm=widest,
            height_mm=widest,
            round_mm=widest,
            length_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
            along="-z" if s.kind in ("pin", "relieved") and s.size <= s.shank else "+z",
            up="+x",
        )
        return Work(blank, tuple(steps), solid=self._as_turned(design))

    def _as_turned(self, design: Design) -> Recipe:
        """The part as it leaves lathe and mill: a bush is bored to size when it is pressed in."""
        s = LocatorSizes(design.values)
        return self._bush(s, _bored_first(s)) if s.kind == "bush" else self.solid(design)

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every bore in Shop it goes into."""
        s = LocatorSizes(design.values)
        found = []
        for bore in shop.bores:
            there = LocatorSizes(design.values.having(hole=Readings(values_mm=(bore.smallest_mm, bore.largest_mm))))
            if abs(bore.smallest_mm - s.size) > 0.5:
                continue
            key = "holds" if s.kind == "bush" else "goes_in"
            check = next(c for c in proof.checks(there) if c.key == key)
            found.append(SlotFit(bore.name, "bore", check.verdict, "it fits" if check.verdict is Verdict.GO else check.reason))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        v = design.values
        if v.word("kind") != "pin":
            return None  # the list of pins is of round ones
        return Pin(id=id, diameter_mm=v.number("locating_diameter"), length_mm=v.number("locating_length"), count=count)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = LocatorSizes(design.values)
        if s.kind == "bush":
            return (Capability("shaft", f"a shaft Ø{length(s.inner, 3)}", {"bore_mm": s.inner}),)
        return (Capability("hole", f"a hole Ø{length(s.hole.min, 3)}", {"hole_mm": s.hole.min}),)


def _bored_first(s: LocatorSizes) -> float:
    """A bush's bore before it is pressed in, mm."""
    return round(s.inner - 0.3, 3)


FAMILY: Final = Locator()
