"""Squareness by reversal: the same height read with the square on one side, then on the other; the square may be out itself."""

from __future__ import annotations

import math
import random
from typing import ClassVar

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import (
    PlainInspection,
    count,
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
from elbrix.metrology.reversal import reversed_square
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


class Squareness(PlainInspection):
    """See the module."""

    key = "squareness"
    title = "Squareness by reversal"
    when = "How far is the work out of square, and the square itself?"
    order = 70
    main = "work_out"
    defaults: ClassVar = {"height": 100.0, "times": 2, "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            size("height", "Height", "between the low place, where it is zeroed, and the high one", 3, 2000, feature="work"),
            count("times", "Readings a side", 1, 9, "two show how well it repeats"),
            tolerance("Out of square allowed", "over the height"),
            *tool_parameters(shop, "a lever indicator against the square, zeroed low, read high"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        high, times = values.number("height"), int(values.number("times"))
        return tuple(
            Place(key=key, label=label, quantity=Quantity.DEVIATION, at=(x * high, high), times=times, low=-5, high=5)
            for key, label, x in (("first", "square on the left", -0.42), ("turned", "square on the right", 0.42))
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        high = values.number("height")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            first, turned = sheet.mean("first"), sheet.mean("turned")
            work, square = reversed_square(first, turned)
            u, u_square = sheet.u_of({"first": 0.5, "turned": -0.5}), sheet.u_of({"first": 0.5, "turned": 0.5})
            told = f"({format_number(first, 4)} {{}} {format_number(turned, 4)})/2"
            figures += [
                found("work_out", "Work out of square", work, u, ("(first − turned)/2", told.format("−")), features=("work",)),
                found(
                    "work_angle",
                    "Work, as an angle",
                    math.degrees(math.atan(work / high)) * 60,
                    math.degrees(u / high) * 60,
                    ("atan(out of square/height)", f"atan({format_number(work, 4)}/{format_number(high, 2)})"),
                    unit="′",
                    features=("work",),
                ),
                found(
                    "square_out",
                    "Square out of square",
                    square,
                    u_square,
                    ("(first + turned)/2", told.format("+")),
                    features=("square",),
                ),
            ]
            groups.append(Group("Found", ("work_out", "work_angle", "square_out")))
            checks = [
                within(
                    "work_out",
                    "Work",
                    work,
                    u,
                    values.number("tolerance"),
                    ("the work is square", "too close to the limit to be sure", "the work is out of square"),
                    features=("work",),
                )
            ]
            side = "right" if work > 0 else "left"
            steps = (
                [f"The work's top leans to the {side} by {length(abs(work))} over {length(high)}"]
                if abs(work) > u
                else ["The work is square, as far as this indicator can tell"]
            )
            if abs(square) > u_square:
                steps.append(
                    f"The square itself is out by {length(abs(square))}: mark it, and go on reversing, or have it put right"
                )
        elements: list[Element] = [
            box(-0.18 * high, 0, 0.18 * high, 1.05 * high, Style.BODY, "work"),
            box(-0.18 * high, 0, 0.18 * high, 1.05 * high, Style.VISIBLE, "work"),
            Line((-0.9 * high, 0), (0.9 * high, 0), Style.SURROUNDINGS, "table"),
            *_square(-0.22 * high, -1, high),
            *_square(0.22 * high, 1, high),
            Note((-0.6 * high, -0.1 * high), "first", quiet=True, align=0),
            Note((0.6 * high, -0.1 * high), "then turned about", quiet=True, align=0),
        ]
        rings, numbers = marks(sheet, 0.018 * high, sign=True)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("square", "Work and square, seen from the front", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Burrs off the low edge, and the same height on both sides: the sign is + where the top leans away",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        work, square = chance.gauss(0, 0.02), chance.gauss(0, 0.01)
        return Exercise(
            tool="dial", true={"first": work + square, "turned": square - work}, answers={"work_out": work, "square_out": square}
        )


def _square(x: float, way: int, high: float) -> list[Element]:
    return [
        Line((x, 0), (x, 1.1 * high), Style.HIDDEN, "square"),
        Line((x + way * 0.07 * high, 0.1 * high), (x + way * 0.07 * high, 1.1 * high), Style.HIDDEN, "square"),
        Line((x, 1.1 * high), (x + way * 0.07 * high, 1.1 * high), Style.HIDDEN, "square"),
        Line((x, 0), (x + way * 0.55 * high, 0), Style.HIDDEN, "square"),
        Line((x + way * 0.07 * high, 0.1 * high), (x + way * 0.55 * high, 0.1 * high), Style.HIDDEN, "square"),
        Line((x + way * 0.55 * high, 0), (x + way * 0.55 * high, 0.1 * high), Style.HIDDEN, "square"),
    ]


KIND = Squareness()
