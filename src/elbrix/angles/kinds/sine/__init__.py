"""A face set to an angle on a sine plate or bar, with the blocks that are really there."""

from __future__ import annotations

import math
from collections.abc import Mapping

from msgspec.structs import replace

from elbrix.angles.from_boxes import box_parameters, box_proposal, longer_search
from elbrix.angles.kinds.sine import telling
from elbrix.angles.kinds.sine.facts import (
    FACES,
    REFUSED,
    TURNED,
    budget_of,
    choose_stack,
    facts_of,
    owned_readers,
    owned_tools,
    settle_angle,
    surfaces,
    table_under,
    window_mm,
)
from elbrix.angles.methods import SURFACE_UM, TABLE_UM, recommend, shown, ways_to_set
from elbrix.angles.pictures import sine_scene
from elbrix.angles.setup import AngleSetup, ReadBack
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, figure_of, merge_choices
from elbrix.quantities.angles import show_angle
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import Derivation, Origin
from elbrix.shop.shop import Shop


class SineSetting:
    """See the module."""

    key = "sine"
    title = "On a sine plate"
    when = "An angle closer than a level or protractor can set it"
    order = 1

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        tools = tuple((t.id, t.name) for t in owned_tools(shop))
        readers = tuple((r.id, r.name) for r in owned_readers(shop)) or (("", "none"),)
        ways = tuple((w.key, w.title) for w in ways_to_set(shop, math.radians(30)))
        return (
            Parameter(
                name="angle",
                label="Work angle",
                kind=Kind.ANGLE,
                unit="",
                low=0.0,
                high=89.9,
                usually="from the drawing",
                feature="angle",
            ),
            Parameter(
                name="tolerance",
                label="Angle tolerance",
                kind=Kind.ANGLE,
                unit="",
                low=0.0002,
                high=10.0,
                usually="from the drawing",
            ),
            Parameter(name="orientation", label="Work orientation", kind=Kind.CHOICE, unit="", choices=TURNED, feature="work"),
            Parameter(
                name="method",
                label="Setting method",
                kind=Kind.CHOICE,
                unit="",
                choices=ways,
                usually="the quickest owned way within the tolerance",
            ),
            Parameter(name="tool", label="Sine plate", kind=Kind.CHOICE, unit="", choices=tools, feature="plate"),
            Parameter(name="face", label="Work face", kind=Kind.CHOICE, unit="", choices=FACES, feature="plate"),
            *box_parameters(shop),
            Parameter(
                name="spacer",
                label="Solid spacer height",
                kind=Kind.LENGTH,
                low=0.0,
                high=500,
                step=0.001,
                usually="0: a stack of blocks",
                feature="stack",
            ),
            Parameter(
                name="stands_on",
                label="Standing on",
                kind=Kind.CHOICE,
                unit="",
                choices=surfaces(shop),
                usually="where the face is cut or checked",
                feature="plate",
            ),
            Parameter(
                name="surface_flatness_um",
                label="Surface out of flat",
                kind=Kind.NUMBER,
                unit="µm",
                low=0,
                high=100,
                usually="its certificate, or the table as inspected",
            ),
            Parameter(
                name="difference_k",
                label="Temperature difference",
                kind=Kind.NUMBER,
                unit="K",
                low=0,
                high=30,
                usually="0 after an hour side by side",
            ),
            Parameter(name="instrument", label="Read-back instrument", kind=Kind.CHOICE, unit="", choices=readers),
            Parameter(name="work_length", label="Work length", kind=Kind.LENGTH, low=5, high=600, step=0.5, feature="work"),
        )

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        def assumed(value: float | str, why: str) -> ParameterValue:
            return ParameterValue(value, Origin.ASSUMED, derivation=Derivation("", "", why))

        angle = chosen["angle"].value if "angle" in chosen else math.radians(30)
        tolerance = chosen["tolerance"].value if "tolerance" in chosen else math.radians(1 / 60)
        assert isinstance(angle, float) and isinstance(tolerance, float)
        tools, readers = owned_tools(shop), owned_readers(shop)
        picked = next((t for t in tools if "tool" in chosen and t.id == chosen["tool"].value), tools[0])
        face = "bottoms" if picked.face_to_bottoms else "centres"
        length = chosen["work_length"].value if "work_length" in chosen else min(60.0, 0.8 * picked.centres_mm)
        assert isinstance(length, float)
        try:
            way = recommend(ways_to_set(shop, angle, work_length_mm=length), tolerance).way.key
        except ShopError:
            way = "sine"
        proposed = {
            "angle": assumed(angle, "type the drawing's"),
            "tolerance": assumed(tolerance, "the drawing says; coarser than 1' a level or protractor is quicker"),
            "orientation": ParameterValue(
                "complement" if angle > REFUSED else "drawn",
                Origin.CALCULATED,
                derivation=Derivation("over 60° the complement", "", "the error grows with tan θ"),
            ),
            "method": ParameterValue(
                way,
                Origin.CALCULATED,
                derivation=Derivation("the quickest owned way within the tolerance", "", "the table under Ways to set it"),
            ),
            "tool": ParameterValue(picked.id, Origin.MEASURED if shop.sine_tools else Origin.ASSUMED),
            "face": ParameterValue(
                face,
                Origin.MEASURED if shop.sine_tools else Origin.ASSUMED,
                derivation=Derivation("", "", "with equal rolls both are the same"),
            ),
            **box_proposal(shop),
            "spacer": ParameterValue(0.0, Origin.CALCULATED),
            "stands_on": assumed("", "where the blocks were wrung"),
            "surface_flatness_um": _surface(shop, chosen),
            "difference_k": assumed(0.5, "plate and blocks an hour side by side"),
            "instrument": ParameterValue(readers[0].id if readers else "", Origin.MEASURED if readers else Origin.ASSUMED),
            "work_length": assumed(length, "for the picture and the scribed line"),
        }
        return Values(merge_choices(chosen, proposed))

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        facts = facts_of(values, shop, holder)
        dropped: dict[str, str] = {}
        stack, base, others = choose_stack(values, facts, dropped)
        spacer = values.number("spacer")
        if stack is None and not spacer:
            spacer_used, rise = 0.0, 0.0
        else:
            spacer_used = spacer
            rise = spacer or (stack.real_mm - (base.real_mm if base else 0.0) if stack else 0.0)
        try:
            reached = facts.plate.angle_rad(rise, to_centres=facts.to_centres)
        except ShopError as error:
            raise EntryError("Stack", error.what, error.why, error.do, "spacer" if spacer else "stack") from None
        work_angle = math.pi / 2 - reached if facts.turned else reached
        budget = budget_of(values, facts, stack, base, shop, rise)
        parameters = self.parameters(shop)
        ways = tuple(
            ways_to_set(shop, min(max(facts.angle, 1e-6), math.pi / 2 - 1e-6), work_length_mm=values.number("work_length"))
        )
        advice = recommend(list(ways), facts.tolerance)
        figures = [figure_of(p, values[p.name]) for p in parameters]
        figures = [f if f.key != "stack" else telling.stack_figure(f, stack, base, spacer_used) for f in figures]
        figures = [replace(f, text=f"±{shown(facts.tolerance)}") if f.key == "tolerance" else f for f in figures]
        figures += telling.figures(facts, stack, base, rise, work_angle, budget, values, shop)
        checks, fixes = telling.checks(facts, budget, stack, base, values, shop, dropped, work_angle, spacer_used)
        tilt = facts.plate.angle_rad(rise)
        scene = sine_scene(
            facts.plate,
            tilt,
            reached,
            stack,
            base,
            spacer_mm=spacer_used,
            face_above_mm=facts.tool.face_above_mm or facts.plate.roll_pivot_mm * 0.85,
            work=(values.number("work_length"), values.number("work_length") * 0.62),
            words=show_angle(facts.set_at, "dms"),
            turned=facts.turned,
        )
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            groups=telling.groups(spacer_used, reads=bool(values.word("instrument"))),
            scenes=(scene,),
            steps=telling.steps(facts, stack, base, spacer_used, figures),
            cautions=telling.CAUTIONS,
            fixes=fixes,
            methods=ways,
            advice=advice,
            stacks=tuple(s for s in (stack, base) if s is not None),
            others=others,
            dropped=dropped,
            read_back=ReadBack(angle=facts.set_at, tolerance=values.number("tolerance"), sine_tool=values.word("tool")),
            longer=(
                longer_search(facts.sources, facts.height, window_mm(facts))
                if stack is not None and base is None and not spacer
                else None
            ),
        )

    def settle(self, setting: AngleSetup, shop: Shop, name: str, value: float, holder: str = "") -> str:
        if name != "angle":
            return f"{value:g}"
        return settle_angle(setting.values, shop, math.radians(value), holder)


def _surface(shop: Shop, chosen: Mapping[str, ParameterValue]) -> ParameterValue:
    """How flat what it stands on is: as inspected, else as such a surface usually is."""
    table, _ = table_under(shop, str(chosen["stands_on"].value) if "stands_on" in chosen else "")
    if table is None:
        why = "a shop grade plate over 100 mm; its certificate first"
        return ParameterValue(SURFACE_UM, Origin.ASSUMED, derivation=Derivation("", "", why))
    if not table.table_flat_um:
        why = f"nobody measured {table.name}'s table: Inspect does"
        return ParameterValue(TABLE_UM, Origin.ASSUMED, derivation=Derivation("", "", why))
    why = f"{table.name}'s whole table as inspected: over the setting it is no more"
    return ParameterValue(table.table_flat_um, Origin.MEASURED, derivation=Derivation("", "", why))


KIND = SineSetting()
