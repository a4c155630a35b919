"""Backlash of a handwheel: the same line come to from one side and from the other, against an indicator on the table."""

from __future__ import annotations

import random
from collections.abc import Mapping
from typing import ClassVar

from msgspec.structs import replace

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import PlainInspection, arrow, choice, count, found, marks, parameter_group, tool_parameters
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Limits, judged
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

#: Usual of a screw in order, and of one whose nut wants adjusting.
_USUAL, _WORN = 0.1, 0.5


class Backlash(PlainInspection):
    """See the module."""

    key = "backlash"
    title = "Backlash of a handwheel"
    when = "How much is lost on turning back, and does the plan know it?"
    order = 25
    main = "backlash"
    defaults: ClassVar = {"machine": "", "axis": "X", "times": 3}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        machines = [m for m in shop.machines if m.axes]
        axes = sorted({a for m in machines for a in m.axes}) or ["X"]
        return (
            choice("machine", "Machine", [("", "not listed"), *((m.id, m.name) for m in machines)], "whose screw it is"),
            choice("axis", "Handwheel", [(a, a) for a in axes]),
            count("times", "Trials a side", 2, 9, "each time well past the line, then back to it"),
            *tool_parameters(shop, "a lever indicator against the table, zeroed anywhere"),
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        return {**self.defaults, "machine": next((m.id for m in shop.machines if m.axes), "")}

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        times = int(values.number("times"))
        return tuple(
            Place(key=key, label=label, quantity=Quantity.DEVIATION, at=(x, 34.0), times=times, low=-5, high=5)
            for key, label, x in (("up", "line reached turning up", -30.0), ("down", "same line reached turning back", 30.0))
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        findings: tuple[ShopFinding, ...] = ()
        if sheet.complete:
            lost, u = abs(sheet.mean("down") - sheet.mean("up")), sheet.u_of({"down": 1, "up": -1})
            figures.append(
                found(
                    "backlash",
                    "Backlash",
                    lost,
                    u,
                    (
                        "|turning back − turning up|, the table stands apart by it at the same line",
                        f"|{format_number(sheet.mean('down'), 4)} − {format_number(sheet.mean('up'), 4)}|",
                    ),
                    features=("up", "down"),
                )
            )
            groups.append(Group("Found", ("backlash",)))
            checks.append(
                judged(
                    "backlash",
                    "Backlash",
                    lost,
                    Limits(marginal_above=_USUAL, no_above=_WORN),
                    (
                        "usual of a screw in order",
                        "much: come to every number from the same side, and never climb mill with it",
                        "so much that a cutter can pull the table: adjust the nut before anything is cut with climb",
                    ),
                    features=("up", "down"),
                    derivation=("usual up to 0.1 mm, worn from 0.5", ""),
                    step=0.005,
                )
            )
            machine = _machine(shop, values.word("machine"))
            axis = values.word("axis")
            if machine is not None and axis in machine.axes:
                known = replace(machine, axes={**machine.axes, axis: replace(machine.axes[axis], backlash_mm=round(lost, 4))})
                findings = (ShopFinding(key="backlash", words=f"Keep as {machine.name}'s {axis}", items=(known,)),)
            steps.append(
                f"Every number on {axis} is come to from one side: turn {length(max(2 * lost, 0.5))} or more past it, then back"
                " up to it"
            )
        elements: list[Element] = [
            box(-70, -6, 70, 14, Style.BODY, "table"),
            box(-70, -6, 70, 14, Style.VISIBLE, "table"),
            Arc((92, 4), 16, style=Style.VISIBLE, feature="wheel"),
            Line((70, 4), (76, 4), Style.VISIBLE, "wheel"),
            Line((92, 20), (92, 17), Style.VISIBLE, "wheel"),
            *arrow((-50, 24), (-14, 24), feature="up"),
            *arrow((50, 24), (14, 24), feature="down"),
            Note((0, -14), "table, its handwheel, the line it is turned to", quiet=True, align=0),
        ]
        rings, numbers = marks(sheet, 1.6, sign=True)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("screw", "The table from the front", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Spindle stopped; slides unlocked, and the indicator clear of everything that turns",),
            findings=findings,
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        lost = abs(chance.gauss(0.06, 0.03)) + 0.01
        return Exercise(tool="dial", true={"up": 0.0, "down": -lost}, answers={"backlash": lost})


def _machine(shop: Shop, id: str) -> Machine | None:
    return next((m for m in shop.machines if m.id == id), None)


KIND = Backlash()
