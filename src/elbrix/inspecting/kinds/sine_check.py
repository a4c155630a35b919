"""An angle that was set, read back by level or protractor: does it agree with the stack, and if not, by how much of it?"""

from __future__ import annotations

import math
import random
from typing import ClassVar

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import LEVEL_U, PlainInspection, choice, count, found, marks, parameter_group, size, within
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Kind, Parameter, Values
from elbrix.quantities.angles import show_angle
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

#: What wringing films and the limits of a handful of blocks amount to, mm.
_STACK_MM = 0.003


class SineCheck(PlainInspection):
    """See the module."""

    key = "sine_check"
    title = "Angle read back"
    when = "Is the angle that was set really there, and what is to blame if it is not?"
    order = 100
    main = "angle"
    usual_u = LEVEL_U
    defaults: ClassVar = {"wanted": math.radians(30), "tool_kind": "", "centres": 100.0, "times": 3, "tolerance": 2.0}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        tools = [(t.id, t.name) for t in shop.sine_tools]
        return (
            Parameter(
                name="wanted", label="Angle set", kind=Kind.ANGLE, unit="", low=0, high=89, usually="from the job", feature="work"
            ),
            choice("tool_kind", "Set on", [("", "no sine plate of the shop"), *tools]),
            size("centres", "Roll centres", "of the plate or bar; turns minutes into blocks", 10, 1000, feature="plate"),
            count("times", "Readings a place", 1, 9, "three show how well it repeats"),
            Parameter(
                name="tolerance",
                label="Angle allowed ±",
                kind=Kind.NUMBER,
                unit="′",
                low=0.01,
                high=600,
                step=0.1,
                usually="from the drawing",
            ),
            Parameter(
                name="reading_u",
                label="Uncertainty ±",
                kind=Kind.NUMBER,
                unit="deg",
                low=0.0001,
                high=5,
                step=0.01,
                usually="of one reading of the level or protractor",
            ),
        )

    def proposals(self, shop: Shop, chosen: object) -> dict[str, float | int | str]:
        given = dict(self.defaults)
        picked = chosen.get("tool_kind") if isinstance(chosen, dict) else None
        tool = next((t for t in shop.sine_tools if picked is not None and t.id == picked.value), None)
        if tool is None and picked is None and shop.sine_tools:
            tool = shop.sine_tools[0]
        if tool is not None:
            given |= {"tool_kind": tool.id, "centres": tool.centres_mm}
        return given

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        a, times = values.number("wanted"), int(values.number("times"))
        return (
            Place(
                key="table",
                label="on the table",
                quantity=Quantity.ANGLE,
                at=(-60.0, 6.0),
                times=times,
                low=-10,
                high=10,
                unit="deg",
            ),
            Place(
                key="work",
                label="on the work, the same way round",
                quantity=Quantity.ANGLE,
                at=(60 * math.cos(a) - 8 * math.sin(a), 60 * math.sin(a) + 8 * math.cos(a)),
                times=times,
                low=max(-90.0, math.degrees(a) - 12),
                high=min(100.0, math.degrees(a) + 12),
                unit="deg",
            ),
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        wanted, centres, limit = values.number("wanted"), values.number("centres"), values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            angle, u = sheet.mean("work") - sheet.mean("table"), sheet.u_of({"work": 1, "table": -1})
            off = angle - math.degrees(wanted)
            stack, u_stack = (centres * math.cos(wanted) * math.radians(v) for v in (off, u))
            figures += [
                found(
                    "angle",
                    "Angle found",
                    angle,
                    u,
                    ("work − table", f"{format_number(sheet.mean('work'), 4)} − {format_number(sheet.mean('table'), 4)}"),
                    unit="deg",
                    features=("work", "table"),
                ),
                found(
                    "off",
                    "Off what was set",
                    60 * off,
                    60 * u,
                    ("found − set", f"{format_number(angle, 4)} − {format_number(math.degrees(wanted), 4)}"),
                    unit="′",
                    features=("work",),
                ),
                found(
                    "stack_off",
                    "That is of the stack",
                    stack,
                    u_stack,
                    (
                        "centres · cos(angle) · error",
                        f"{centres:g} · {math.cos(wanted):.5f} · {format_number(math.radians(off), 8)}",
                    ),
                    features=("plate",),
                ),
            ]
            groups.append(Group("Found", ("angle", "off", "stack_off")))
            checks.append(
                within(
                    "off",
                    "Agrees with the stack",
                    60 * off,
                    60 * u,
                    limit,
                    ("the angle is there", "this reading cannot decide it", "the angle is not what was set"),
                    unit="′",
                    features=("work",),
                )
            )
            steps = _orders(off, u, limit / 60, stack)
        a = values.number("wanted")
        elements: list[Element] = [
            Line((-90, 0), (110, 0), Style.SURROUNDINGS, "table"),
            Line((0, 0), (100 * math.cos(a), 100 * math.sin(a)), Style.VISIBLE, "plate"),
            Line(
                (-8 * math.sin(a), 8 * math.cos(a)),
                (100 * math.cos(a) - 8 * math.sin(a), 100 * math.sin(a) + 8 * math.cos(a)),
                Style.VISIBLE,
                "plate",
            ),
            Arc((0, 0), 34, 0, math.degrees(a), Style.CENTRE, "work"),
            Note((36, 10), show_angle(a, "dms"), feature="work"),
        ]
        rings, numbers = marks(sheet, 2.6)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("angle", "The setting from the side", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Read the table first, then the work, without turning the level about: its own zero drops out",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        table, off = chance.gauss(0, 0.1), chance.gauss(0, 0.05)
        angle = math.degrees(values.number("wanted")) + off
        return Exercise(tool="level", true={"table": table, "work": table + angle}, answers={"angle": angle, "off": 60 * off})


def _orders(off: float, u: float, limit: float, stack: float) -> list[str]:
    if abs(off) + u <= limit:
        return ["The angle is there: lock the plate, and cut"]
    if abs(off) <= limit + u:
        return ["This reading cannot decide it: take a finer level, or run an indicator along a piece of known angle"]
    way = "out of" if stack > 0 else "into"
    orders = [f"The angle is {'too steep' if off > 0 else 'too flat'}: as much as {length(abs(stack))} {way} the stack"]
    if abs(stack) > 10 * _STACK_MM:
        orders.append(
            "Far more than films and block limits explain: a wrong block, or its number read upside down. Take the stack down and"
            " read every block again"
        )
    else:
        orders.append(
            "Dirt under a roll or between two blocks does that, or a plate that rocks on the table: wipe, wring again, and press"
            " on both ends of the plate before reading"
        )
    return orders


KIND = SineCheck()
