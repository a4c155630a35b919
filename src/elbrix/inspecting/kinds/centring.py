"""Centring from four dial readings: a spindle over a bore or a plug, or work in a four-jaw chuck."""

from __future__ import annotations

import math
import random
from typing import ClassVar

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import (
    PlainInspection,
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
from elbrix.metrology.sweeps import centre_moves
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

_ON = (("bore", "a bore, swept by the spindle"), ("plug", "a plug, swept by the spindle"), ("four-jaw", "work in a four-jaw"))
_ANGLES = (0, 90, 180, 270)


class Centring(PlainInspection):
    """See the module."""

    key = "centring"
    title = "Centring by indicator"
    when = "How far is the spindle from the centre, and which way does the table, or which jaw, move?"
    order = 90
    main = "off_x"
    defaults: ClassVar = {"on": "bore", "diameter": 40.0, "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            choice("on", "Centre on", _ON, "what the indicator runs on"),
            size("diameter", "Diameter", "of the bore, plug or work", 2, 1000, feature="round"),
            tolerance("Off centre allowed", "between the two axes"),
            *tool_parameters(shop, "a lever indicator"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        r, jaws = values.number("diameter") / 2, values.word("on") == "four-jaw"
        ways = ("right", "far side", "left", "near side")
        return tuple(
            Place(
                key=f"a{a}",
                label=f"jaw {i + 1}" if jaws else ways[i],
                quantity=Quantity.DEVIATION,
                at=(r * math.cos(math.radians(a)), r * math.sin(math.radians(a))),
                low=-10,
                high=10,
                spot=(float(a),),
            )
            for i, a in enumerate(_ANGLES)
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        jaws, limit = values.word("on") == "four-jaw", values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            at = [sheet.mean(f"a{a}") for a in _ANGLES]
            u_x, u_y = sheet.u_of({"a0": 0.5, "a180": -0.5}), sheet.u_of({"a90": 0.5, "a270": -0.5})
            # Work in a chuck reads high where it stands out, as a plug does.
            x, y = centre_moves(at[0], at[1], at[2], at[3], on="bore" if values.word("on") == "bore" else "plug")
            names = ("Jaw 1 less jaw 3, half", "Jaw 2 less jaw 4, half") if jaws else ("Table to move in X", "Table to move in Y")
            if jaws:
                x, y = -x, -y
            sign = "" if values.word("on") in ("bore", "four-jaw") else "−"
            figures += [
                found("off_x", names[0], x, u_x, _halves(sign, at[0], at[2]), features=("vector",)),
                found("off_y", names[1], y, u_y, _halves(sign, at[1], at[3]), features=("vector",)),
                found(
                    "off",
                    "Off centre",
                    math.hypot(x, y),
                    max(u_x, u_y),
                    ("√(x² + y²)", f"√({format_number(x, 4)}² + {format_number(y, 4)}²)"),
                    features=("vector",),
                ),
                found(
                    "closure",
                    "Out of round, at least",
                    abs(at[0] + at[2] - at[1] - at[3]) / 2,
                    sheet.u_of({"a0": 0.5, "a180": 0.5, "a90": -0.5, "a270": -0.5}),
                    ("|0° + 180° − 90° − 270°|/2", ""),
                    features=("round",),
                ),
            ]
            groups.append(Group("Found", ("off_x", "off_y", "off", "closure")))
            off = math.hypot(x, y)
            checks.append(
                within(
                    "off",
                    "Off centre",
                    off,
                    max(u_x, u_y),
                    limit,
                    ("on centre", "too close to the limit to be sure", "not on centre yet"),
                    features=("vector",),
                )
            )
            steps = _jaw_orders(x, y, u_x, u_y) if jaws else _table_orders(x, y, u_x, u_y)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=_scene(sheet, values.number("diameter") / 2, jaws=jaws),
            steps=steps,
            cautions=(
                "Spindle or chuck turned by hand, the drive switched off at the machine; no chuck key left in the chuck",
                *(
                    ("Heavy work held off centre is out of balance: ask the maker of chuck and lathe for the speed",)
                    if jaws
                    else ()
                ),
            ),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        x, y = chance.gauss(0, 0.06), chance.gauss(0, 0.06)
        way = 1.0 if values.word("on") in ("bore", "four-jaw") else -1.0
        true = {"a0": way * x, "a90": way * y, "a180": -way * x, "a270": -way * y}
        return Exercise(tool="dial", true=true, answers={"off_x": x, "off_y": y})


def _halves(sign: str, one: float, other: float) -> tuple[str, str]:
    return f"{sign}(reading − the one opposite)/2", f"{sign}({format_number(one, 4)} − {format_number(other, 4)})/2"


def _table_orders(x: float, y: float, u_x: float, u_y: float) -> list[str]:
    orders = []
    if abs(x) > u_x:
        orders.append(
            f"Move the table {length(abs(x))} to the {'right' if x > 0 else 'left'}, the last of it without turning back"
        )
    if abs(y) > u_y:
        orders.append(
            f"Move the table {length(abs(y))} {'away from you' if y > 0 else 'toward you'}, the last of it the same way"
        )
    if not orders:
        return ["The spindle stands on the centre, as far as this indicator can tell: lock the slides and set the dials to zero"]
    return [*orders, "Lock the slides, sweep again, then set both dials to zero: locking moves them"]


def _jaw_orders(x: float, y: float, u_x: float, u_y: float) -> list[str]:
    orders = []
    for off, u, (one, other) in ((x, u_x, (1, 3)), (y, u_y, (2, 4))):
        if abs(off) > u:
            high, low = (one, other) if off > 0 else (other, one)
            orders.append(
                f"Slacken jaw {low} a little and tighten jaw {high} until the dial at jaw {high} has fallen by {length(abs(off))}"
            )
    if not orders:
        return ["The work runs on centre, as far as this indicator can tell: go round all four jaws once more, equally tight"]
    return [*orders, "Go round all four jaws equally tight, and read again: tightening moves the work"]


def _scene(sheet: Sheet, r: float, *, jaws: bool) -> Scene:
    elements: list[Element] = [
        Arc((0, 0), r, style=Style.VISIBLE, feature="round"),
        Line((-1.25 * r, 0), (1.25 * r, 0), Style.CENTRE),
        Line((0, -1.25 * r), (0, 1.25 * r), Style.CENTRE),
    ]
    if jaws:
        elements.append(Arc((0, 0), 2.1 * r, style=Style.SURROUNDINGS, feature="chuck"))
        for i, a in enumerate(_ANGLES):
            x, y = math.cos(math.radians(a)), math.sin(math.radians(a))
            near, far, half = 1.02 * r, 2.0 * r, 0.22 * r
            corners = [(d * x - s * y, d * y + s * x) for d, s in ((near, -half), (far, -half), (far, half), (near, half))]
            elements += [Line(corners[k], corners[(k + 1) % 4], Style.SURROUNDINGS, f"jaw {i + 1}") for k in range(4)]
            elements.append(Note((1.5 * r * x, 1.5 * r * y), f"jaw {i + 1}", quiet=True, align=0))
    else:
        elements.append(box(-1.6 * r, -1.6 * r, 1.6 * r, 1.6 * r, Style.SURROUNDINGS, "table"))
        elements.append(Note((0, -1.5 * r), "operator's side", quiet=True, align=0))
    rings, numbers = marks(sheet, 0.045 * r, sign=True)
    return Scene("round", "Along the axis", tuple(elements + rings), tuple(numbers))


KIND = Centring()
