"""Sine plate: a plain plate on two rolls with flats, set by a gauge stack between them. Centres by the error that is asked."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import TYPE_CHECKING, Final

from elbrix.angles.sine import SinePlate
from elbrix.design.families.sine_plate import pictures, proof
from elbrix.design.families.sine_plate.layout import STRIP_THREAD, Layout, usual_overhang, usual_thickness
from elbrix.design.family import Capability, Design, Need, SlotFit
from elbrix.design.made_of import made_of
from elbrix.design.work import BenchWork, Blank, HolePattern, PatternHole, Work
from elbrix.drawing.scene import Scene
from elbrix.gauging.owned import owned_set
from elbrix.parameters.parameter import Given, Group, Kind, Parameter, Values, settled
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Origin, Working, num
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Join, Prism, Recipe, Turned, drilled

if TYPE_CHECKING:
    from elbrix.gauging.build_up import Built

#: Centres tried in turn until the error is kept, mm.
CENTRES: Final = (75.0, 100.0, 125.0, 150.0, 200.0, 250.0, 300.0)
PARAMETERS: Final = (
    Parameter(
        name="finest",
        label="Keep the angle to ±",
        kind=Kind.NUMBER,
        unit="″",
        low=1,
        high=3600,
        usually="a fifth of the closest drawing tolerance",
        words=("coarser", "finer"),
        step=5,
    ),
    Parameter(
        name="steepest",
        label="Up to an angle of",
        kind=Kind.NUMBER,
        unit="deg",
        low=5,
        high=60,
        usually="45°, over 60° the complement is set",
        words=("steeper", "flatter"),
        step=5,
        feature="plate",
    ),
    Parameter(
        name="centres",
        label="Roll centres",
        kind=Kind.LENGTH,
        low=20,
        high=600,
        step=5,
        usually="the shortest that keeps the angle",
        words=("longer", "shorter"),
        feature="rolls",
    ),
    Parameter(
        name="roll",
        label="Rolls Ø",
        kind=Kind.LENGTH,
        low=6,
        high=60,
        step=1,
        usually="a fifth of the centres; a needle or dowel as bought",
        feature="rolls",
    ),
    Parameter(
        name="flat",
        label="Flat on each roll, deep",
        kind=Kind.LENGTH,
        low=0.2,
        high=10,
        step=0.1,
        usually="a tenth of the roll",
        words=("deeper", "shallower"),
        feature="rolls",
    ),
    Parameter(
        name="overhang",
        label="Plate past the roll centres",
        kind=Kind.LENGTH,
        low=4,
        high=200,
        step=0.5,
        words=("longer", "shorter"),
        feature="plate",
    ),
    Parameter(
        name="width", label="Width", kind=Kind.LENGTH, low=20, high=400, step=1, words=("wider", "narrower"), feature="plate"
    ),
    Parameter(
        name="thickness",
        label="Thickness",
        kind=Kind.LENGTH,
        low=8,
        high=80,
        step=1,
        usually="a fifth of the centres",
        words=("thicker", "thinner"),
        feature="plate",
    ),
    Parameter(
        name="uneven",
        label="Thicker at the stack end by",
        kind=Kind.LENGTH,
        low=-0.3,
        high=0.3,
        step=0.001,
        usually="as ground, over the centres; unlike rolls take it out",
        feature="plate",
    ),
    Parameter(
        name="centres_within",
        label="Centres within ±",
        kind=Kind.LENGTH,
        low=0.0005,
        high=0.1,
        step=0.0005,
        words=("coarser", "closer"),
        feature="rolls",
    ),
    Parameter(
        name="rolls_alike",
        label="Rolls alike to",
        kind=Kind.LENGTH,
        low=0.0002,
        high=0.05,
        step=0.0002,
        words=("coarser", "closer"),
        feature="rolls",
    ),
    Parameter(
        name="face_within",
        label="Face parallel to",
        kind=Kind.LENGTH,
        low=0.0005,
        high=0.1,
        step=0.0005,
        words=("coarser", "closer"),
        feature="plate",
    ),
    Parameter(
        name="pattern",
        label="Work holes",
        kind=Kind.PLACES,
        unit="",
        usually="grid 20, pairs from the low end and the middle, a table or a DXF",
        feature="work holes",
    ),
    Parameter(name="work_thread", label="Their thread", kind=Kind.THREAD, unit="", feature="work holes"),
    Parameter(name="roll_screw", label="Roll screws", kind=Kind.THREAD, unit="", feature="roll screws"),
    Parameter(
        name="strip",
        label="Stop strip",
        kind=Kind.CHOICE,
        unit="",
        choices=(("yes", "screwed on at the low end"), ("no", "none")),
        feature="stop strip",
    ),
    *made_of("plate"),
)


class SinePlateFamily:
    """See the module."""

    key = "sine_plate"
    title = "Sine plate"
    when = "When an angle must be closer than a level or protractor sets it."
    group = "tilt it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        def assumed(value: float | str | int, why: str = "") -> Given:
            return Given(value, Origin.ASSUMED, working=Working("", "", why))

        given: dict[str, Given] = {
            "finest": assumed(25.0, "a fifth of ±2′"),
            "steepest": assumed(45.0, "over 60° the complement is set"),
            "uneven": assumed(0.0, "measure the plate when it is ground"),
            "centres_within": assumed(0.003, "with a gauge stack between the rolls"),
            "rolls_alike": assumed(0.002, "bought dowels or needles, picked as a pair"),
            "face_within": assumed(0.003, "surface ground"),
            "pattern": assumed("grid 20"),
            "work_thread": assumed("M6x1"),
            "strip": assumed("yes"),
            "material": assumed("mild steel", "change it to the bar you have"),
            "pieces": Given(need.pieces if need.pieces and need.pieces < 4 else 1, Origin.CHOSEN),
        }
        given |= {k: v for k, v in chosen.items() if k in given}
        given["centres"] = chosen.get("centres") or self._centres(given, shop, chosen)
        centres = _number(given["centres"])
        roll = chosen.get("roll") or Given(
            float(max(10, 2 * round(centres / 10))),
            Origin.CALCULATED,
            working=Working("a fifth of the centres, even", f"{num(centres)}/5"),
        )
        given["roll"] = roll
        d = _number(roll)
        rest = {
            "flat": Given(
                round(d / 10, 1),
                Origin.CALCULATED,
                working=Working("d/10", f"{num(d)}/10", "wide enough to seat, the roll still carries"),
            ),
            "overhang": Given(
                usual_overhang(d),
                Origin.CALCULATED,
                working=Working(
                    "d/2 + 4, down to 0.5", f"{num(d / 2)} + 4", "room for a strip, clear of the surface plate when tilted"
                ),
            ),
            "width": Given(
                float(max(40, 10 * round(0.8 * centres / 10))),
                Origin.CALCULATED,
                working=Working("0.8·C to 10 mm", f"0.8·{num(centres)}", "wide enough to clamp on"),
            ),
            "thickness": Given(
                usual_thickness(centres),
                Origin.CALCULATED,
                working=Working("C/5, to the next 2 mm", f"{num(centres)}/5", "stiff under a clamp"),
            ),
            "roll_screw": Given(
                "M5x0.8" if d >= 14 else "M4x0.7" if d >= 11 else "M3x0.5",
                Origin.CALCULATED,
                working=Working("a quarter of the roll", f"{num(d)}/4"),
            ),
        }
        given |= settled(chosen, rest)
        return Values({p.name: chosen.get(p.name, given[p.name]) for p in self.parameters})

    def _centres(self, given: Mapping[str, Given], shop: Shop, chosen: Mapping[str, Given]) -> Given:
        """The shortest centres whose error budget keeps what is asked."""
        tried = []
        for centres in CENTRES:
            d = _number(chosen["roll"]) if "roll" in chosen else float(max(10, 2 * round(centres / 10)))
            extra = {
                "centres": centres,
                "roll": d,
                "flat": d / 10,
                "overhang": usual_overhang(d),
                "width": 0.8 * centres,
                "thickness": usual_thickness(centres),
            }
            values = Values({**given, **{k: Given(v, Origin.ASSUMED) for k, v in extra.items()}})
            error = proof.error_arcsec(values, shop)
            tried.append(f"{num(centres)}: {error:.1f}″")
            if error <= _number(given["finest"]) or centres == CENTRES[-1]:
                break
        return Given(
            centres,
            Origin.CALCULATED,
            working=Working(
                "the shortest whose expected error keeps the angle",
                "; ".join(tried),
                f"at {num(_number(given['steepest']))}°, blocks, rolls, face and surface plate together",
            ),
        )

    def solve(self, values: Values, shop: Shop) -> Design:
        s = Layout(values)
        if s.roll >= s.centres or s.roll_stack <= 2 * s.flat:
            raise ShopError(
                "Rolls",
                "they meet, or the flat eats them up",
                "Two rolls stand apart, and each is round below its flat",
                "Take thinner rolls or a shallower flat",
                "roll",
            )
        if s.below <= 0:
            raise ShopError(
                "Flat",
                f"{num(s.flat)} mm is half the roll or more",
                "The roll must stand below the plate",
                "Make the flat shallower",
                "flat",
            )
        if s.floor <= 0.5:
            raise ShopError(
                "Roll screws",
                f"a head sunk {num(s.bore_deep)} mm in a plate of {num(s.thick)} mm",
                "Nothing would be left under it",
                "Make the plate thicker or the screws smaller",
                "thickness",
            )
        outside = [(x, y) for x, y in s.work_holes if not (0 < x < s.length and abs(y) < s.width / 2)]
        if outside:
            raise ShopError(
                "Work holes",
                f"{num(outside[0][0])},{num(outside[0][1])} lies beside the plate",
                f"x goes from 0 to {num(s.length)}, y to ±{num(s.width / 2)}",
                "Ordinates are from the low end and the middle of the width",
                "pattern",
            )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s, PARAMETERS, shop)),
            checks=tuple(proof.checks(s, shop)),
            holes=s.holes,
            datum="low end and middle of the width",
            note=(
                f"C {num(s.centres, 3)} ± {num(values.number('centres_within'), 4)}, over the rolls"
                f" {num(s.centres + (s.roll + s.roll_stack) / 2, 3)}"
            ),
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("What it must do", ("finest", "steepest", "expected", "largest", "smallest", "finest_step")),
            Group("Rolls", ("centres", "roll", "stack_roll", "flat", "between", "over_rolls", "roll_screw")),
            Group(
                "Plate", ("length", "width", "thickness", "overhang", "uneven", "face_above", "sag", "mass", "material", "pieces")
            ),
            Group("Holes and stop", ("pattern", "hole_count", "work_thread", "strip")),
            Group("As close as", ("centres_within", "rolls_alike", "face_within")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = Layout(design.values)
        stack, height = _stack(s)
        return (pictures.in_place(s, stack, height), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = Layout(design.values)
        w = s.width / 2
        plate = Prism(pictures.profile(s), -w, w)
        above = Prism(((-1, 0), (s.length + 1, 0), (s.length + 1, s.roll), (-1, s.roll)), -w - 1, w + 1)
        rolls = tuple(
            Cut(Turned(((0, 0), (d / 2, 0), (d / 2, s.width), (0, s.width)), (x, -w, s.flat - d / 2), (0.0, 1.0, 0.0)), (above,))
            for x, d in zip(s.roll_x, (s.roll, s.roll_stack), strict=True)
        )
        drill = s.work_thread.tap_drill[1]
        tools = [drilled((x, y, s.thick), ((drill, s.thick),), through_to=s.thick) for x, y in s.work_holes]
        tools += [
            drilled((x, y, s.thick), ((s.bore_mm, s.bore_deep), (s.clear_mm, s.thick)), through_to=s.thick) for x, y in s.screws
        ]
        tools += [drilled((x, y, s.thick), ((3.3, s.thick),), through_to=s.thick) for x, y in s.strip_holes]
        return Join((Cut(plate, tuple(tools)), *rolls))

    def section(self, design: Design) -> tuple[str, float]:
        s = Layout(design.values)
        return "y", s.screws[1][1]

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = Layout(design.values)
        holes = [PatternHole(x, y, thread=s.work_thread.name) for x, y in s.work_holes]
        holes += [PatternHole(x, y, drill_mm=s.clear_mm, bore_mm=s.bore_mm, bore_deep_mm=s.bore_deep) for x, y in s.screws]
        holes += [PatternHole(x, y, thread=f"{STRIP_THREAD}x0.7") for x, y in s.strip_holes]
        between = s.centres - (s.roll + s.roll_stack) / 2
        apart = "" if s.roll == s.roll_stack else f", the stack roll Ø{num(s.roll_stack, 3)}"
        rolls = BenchWork(
            name="Rolls",
            words=(
                f"Two dowels or needles Ø{num(s.roll, 3)}{apart}, {num(s.width)} long, alike to"
                f" {num(design.values.number('rolls_alike') * 1000, 1)} µm. Stone or grind a flat {num(s.flat)} deep, drill and"
                f" tap it {s.roll_screw.shown} at the plate's screw places, spotted through."
            ),
            tools=("micrometer", "oil stone"),
            caution="Hardened rolls chip a tap: spot and tap before hardening, or use soft ground stock.",
        )
        setting = BenchWork(
            name="Set the centres",
            words=(
                f"Screws in, finger tight. A gauge stack of {num(between, 4)} between the rolls, both pushed against it and"
                " square to the plate; tighten a little at a time. Prove it over the rolls:"
                f" {num(s.centres + (s.roll + s.roll_stack) / 2, 3)}."
            ),
            tools=("gauge blocks", "micrometer over the rolls", "square"),
        )
        face = BenchWork(
            name="Face",
            words=(
                "On the rolls on a surface plate, indicator over the face: parallel to"
                f" {num(design.values.number('face_within') * 1000, 1)} µm, ground or scraped. What is left over goes into the"
                " stack roll."
            ),
            tools=("indicator", "surface plate"),
        )
        blank = Blank(
            across_mm=s.width,
            high_mm=s.thick,
            along_mm=s.length,
            pieces=int(design.values.number("pieces")),
            material=design.values.word("material"),
        )
        caution = ("Heavy: two people or a hoist.",) if s.mass_kg > proof.HEAVY_KG else ()
        return Work(
            blank,
            (
                HolePattern(name="Hole pattern", holes=tuple(holes), thickness_mm=s.thick, feature="work holes"),
                rolls,
                setting,
                face,
            ),
            notes=caution,
        )

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """It stands on a surface plate, in no slot."""
        return ()

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = Layout(design.values)
        most = min(60.0, s.largest_deg)
        return (
            Capability(
                "angle",
                f"0° to {most:.0f}° within ±{design.figure('expected').value:.0f}″",
                {"angle_deg": most, "error_arcsec": design.figure("expected").value},
            ),
            Capability(
                "flat work",
                f"work to {num(s.length - 2 * s.over)} × {num(s.width)}",
                {"length_mm": s.length, "width_mm": s.width},
            ),
        )


def _number(given: Given) -> float:
    assert isinstance(given.value, int | float)
    return float(given.value)


def _stack(s: Layout) -> tuple[Built | None, float]:
    """A stack for the picture: the steepest angle to the step of a usual set, and its height."""
    from elbrix.gauging.build_up import Sources  # NumPy is only loaded when a stack is worked out

    plate = SinePlate(centres_mm=s.centres, roll_pivot_mm=s.roll, roll_stack_mm=s.roll_stack)
    height = plate.stack_mm(math.radians(s.v.number("steepest")))
    box = owned_set("picture", "a usual set", "metric 88")
    try:
        stacks, nearest = Sources(box=box).best(height, 0.0003, 1)
    except ShopError:
        return None, height
    found = (stacks or nearest or (None,))[0]
    return found, found.height_mm if found is not None else height


FAMILY = SinePlateFamily()
