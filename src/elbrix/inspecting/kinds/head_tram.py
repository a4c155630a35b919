"""Head tram: an indicator in the spindle swept over the table says how the head leans and what dish it mills."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping
from typing import ClassVar

from msgspec.structs import replace

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import (
    PlainInspection,
    arrow,
    choice,
    found,
    marks,
    parameter_group,
    size,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.sweeps import Tram, tram
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.machines import MachineKind
from elbrix.shop.shop import Shop

_MILLS = (MachineKind.KNEE, MachineKind.BED, MachineKind.BENCH)
_SIDES = (("east", "right", 0.0), ("north", "far side", 90.0), ("west", "left", 180.0), ("south", "near side", 270.0))
#: Four readings on a true surface close to nothing; more than this many uncertainties says that something moved.
_CLOSES = 1.5


class HeadTram(PlainInspection):
    """See the module."""

    key = "head_tram"
    title = "Head tram"
    when = "Does the head stand square, and how hollow does it mill?"
    order = 20
    main = "lean_over_sweep"
    defaults: ClassVar = {"machine": "", "sweep": 250.0, "cutter": 50.0, "feed": "x", "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        mills = [(m.id, m.name) for m in shop.machines if m.kind in _MILLS]
        return (
            choice("machine", "Machine", [("", "not listed"), *mills], "whose head it is"),
            size("sweep", "Sweep Ø", "as far out as the table allows", 20, 2000, feature="sweep"),
            size("cutter", "Cutter Ø", "the largest face or fly cutter that is used", 2, 500, feature="cutter"),
            choice("feed", "Feed along", (("x", "X"), ("y", "Y"), ("", "either")), "the dish shows along the feed"),
            tolerance("Dish allowed", "what the work may be hollow across one pass"),
            *tool_parameters(shop, "a lever indicator in the spindle"),
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        mills = [m for m in shop.machines if m.kind in _MILLS]
        first = mills[0] if mills else None
        given = dict(self.defaults)
        if first is not None:
            given["machine"] = first.id
            if first.table_width_mm > 40:
                given["sweep"] = round(min(250.0, first.table_width_mm - 20), -1)
        return given

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        r = values.number("sweep") / 2
        return tuple(
            Place(
                key=key,
                label=side,
                quantity=Quantity.DEVIATION,
                at=(r * math.cos(math.radians(at)), r * math.sin(math.radians(at))),
                low=-5,
                high=5,
                spot=(at,),
            )
            for key, side, at in _SIDES
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        sweep, cutter, feed = values.number("sweep"), values.number("cutter"), values.word("feed")
        figures, checks, steps = self.begun(asked, values)
        findings: tuple[ShopFinding, ...] = ()
        arrows: list[Element] = []
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            at = {key: sheet.mean(key) for key, _, _ in _SIDES}
            lean = tram(at["east"], at["west"], at["north"], at["south"], sweep)
            across, along = at["east"] - at["west"], at["north"] - at["south"]
            u_x, u_y = sheet.u_of({"east": 1, "west": -1}), sheet.u_of({"north": 1, "south": -1})
            u_any = max(u_x, u_y)
            over = sweep * math.sin(lean.lean)
            dish, u_dish = lean.dish_mm(cutter, feed), cutter / (2 * sweep) * {"x": u_x, "y": u_y}.get(feed, u_any)
            figures += [
                found("tilt_over_sweep", "Right less left", across, u_x, ("right − left", _difference(at, "east", "west"))),
                found("nod_over_sweep", "Far less near", along, u_y, ("far − near", _difference(at, "north", "south"))),
                found(
                    "lean_over_sweep",
                    "Lean over the sweep",
                    over,
                    u_any,
                    ("√(tilt² + nod²)", f"√({format_number(across, 4)}² + {format_number(along, 4)}²)"),
                    features=("sweep",),
                ),
                found(
                    "dish",
                    "Dish of this cutter",
                    dish,
                    u_dish,
                    ("R · sin(lean along the feed)", f"{format_number(cutter / 2, 2)} · {format_number(dish / (cutter / 2), 6)}"),
                    features=("cutter",),
                ),
                found(
                    "closure",
                    "Closing error",
                    lean.closure_mm,
                    sheet.u_of({"east": 0.5, "west": 0.5, "north": -0.5, "south": -0.5}),
                    ("(right + left − far − near)/2", ""),
                ),
            ]
            groups.append(Group("Found", ("tilt_over_sweep", "nod_over_sweep", "lean_over_sweep", "dish", "closure")))
            checks = [
                within(
                    "dish",
                    "Dish",
                    dish,
                    u_dish,
                    values.number("tolerance"),
                    ("the pass comes out flat enough", "too close to the limit to be sure", "the pass comes out hollow"),
                    features=("cutter",),
                ),
                self._closing(lean, sheet),
            ]
            steps = _orders(across, along, u_x, u_y)
            if checks[0].verdict is Verdict.GO and len(steps) > 1:
                steps.insert(0, "The dish is within what is allowed: it can stay as it is. To bring the head nearer to square:")
            findings = self._findings(values, shop, lean)
            arrows = _arrows(across, along, u_x, u_y, sweep / 2, cutter / 2)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=_scene(sheet, sweep, cutter, arrows),
            steps=steps,
            cautions=(
                "Spindle switched off at the machine, and in neutral: it is turned by hand",
                "A head that is slackened can swing: hold it, and slacken the bolts only until it moves under a tap",
            ),
            findings=findings,
        )

    def _closing(self, lean: Tram, sheet: Sheet) -> Check:
        u = sheet.u_of({"east": 0.5, "west": 0.5, "north": -0.5, "south": -0.5})
        return judged(
            "closure",
            "Closing error",
            abs(lean.closure_mm),
            Limits(marginal_above=_CLOSES * u, no_above=3 * u),
            (
                "the four readings belong to one plane",
                "more than the indicator explains: a burr, or a surface that is not flat",
                "the four readings belong to no plane: the indicator slipped, or there is dirt under it",
            ),
            figures=("closure",),
        )

    def _findings(self, values: Values, shop: Shop, lean: Tram) -> tuple[ShopFinding, ...]:
        machine = next((m for m in shop.machines if m.id == values.word("machine")), None)
        if machine is None:
            return ()
        known = replace(
            machine,
            head_lean_right_mm_m=round(1000 * math.tan(lean.about_y), 4),
            head_lean_back_mm_m=round(-1000 * math.tan(lean.about_x), 4),
        )
        return (ShopFinding(key="head", words=f"Keep as {machine.name}'s head", items=(known,)),)

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        sweep = values.number("sweep")
        tilt, nod, level = chance.gauss(0, 0.03), chance.gauss(0, 0.03), chance.uniform(-0.1, 0.1)
        true = {"east": level + tilt / 2, "west": level - tilt / 2, "north": level + nod / 2, "south": level - nod / 2}
        lean = tram(true["east"], true["west"], true["north"], true["south"], sweep)
        return Exercise(
            tool="dial",
            true=true,
            answers={
                "tilt_over_sweep": tilt,
                "nod_over_sweep": nod,
                "lean_over_sweep": sweep * math.sin(lean.lean),
                "dish": lean.dish_mm(values.number("cutter"), values.word("feed")),
            },
        )


def _difference(at: dict[str, float], one: str, other: str) -> str:
    return f"{format_number(at[one], 4)} − {format_number(at[other], 4)}"


def _orders(across: float, along: float, u_x: float, u_y: float) -> list[str]:
    """What to tap which way. A side that reads higher is where the spindle stands lower over the table."""
    orders = []
    if abs(across) > u_x:
        low, way = ("right", "left") if across > 0 else ("left", "right")
        orders.append(
            f"Tilt: the spindle stands low on the {low}. Turn the head so that its nose swings to the {low}, until right and left"
            f" both read half way: it takes {length(abs(across) / 2)} off the {low} reading and gives it to the {way}"
        )
    if abs(along) > u_y:
        low, way = ("far side", "near side") if along > 0 else ("near side", "far side")
        orders.append(
            f"Nod: the spindle stands low on the {low}. Nod the head so that its nose swings to the {low}, until both sides read"
            f" half way: it takes {length(abs(along) / 2)} off the {low} reading and gives it to the {way}"
        )
    if not orders:
        return ["The head stands square, as far as this indicator can tell: leave it alone"]
    return [*orders, "Tighten the bolts crosswise, in three rounds, and sweep again: tightening moves the head"]


def _arrows(across: float, along: float, u_x: float, u_y: float, r: float, inner: float) -> list[Element]:
    """Where the head's nose is to swing."""
    drawn: list[Element] = []
    near, far = max(1.15 * inner, 0.18 * r), max(1.15 * inner, 0.18 * r) + 0.28 * r
    if abs(across) > u_x:
        way = 1.0 if across > 0 else -1.0
        drawn += arrow((way * near, 0.0), (way * far, 0.0), feature="tilt_over_sweep")
        drawn.append(Note((way * (near + far) / 2, 0.07 * r), f"nose this way, {length(abs(across) / 2)}", align=0))
    if abs(along) > u_y:
        way = 1.0 if along > 0 else -1.0
        drawn += arrow((0.0, way * near), (0.0, way * far), feature="nod_over_sweep")
        drawn.append(Note((0.06 * r, way * (near + far) / 2), f"nose this way, {length(abs(along) / 2)}", align=-1))
    return drawn


def _scene(sheet: Sheet, sweep: float, cutter: float, arrows: list[Element]) -> Scene:
    r = sweep / 2
    elements: list[Element] = [
        box(-1.35 * r, -1.2 * r, 1.35 * r, 1.2 * r, Style.SURROUNDINGS, "table"),
        *(Line((-1.35 * r, y * r), (1.35 * r, y * r), Style.SURROUNDINGS, "table") for y in (-0.52, -0.42, 0.42, 0.52)),
        Arc((0, 0), r, style=Style.CENTRE, feature="sweep"),
        Arc((0, 0), cutter / 2, style=Style.VISIBLE, feature="cutter"),
        Line((-0.06 * r, 0), (0.06 * r, 0), Style.CENTRE),
        Line((0, -0.06 * r), (0, 0.06 * r), Style.CENTRE),
        Note((0, -1.12 * r), "operator's side", quiet=True, align=0),
        *arrows,
    ]
    rings, numbers = marks(sheet, 0.035 * r, sign=True)
    return Scene("tram", "The table from above, the indicator swept round", tuple(elements + rings), tuple(numbers))


KIND = HeadTram()
