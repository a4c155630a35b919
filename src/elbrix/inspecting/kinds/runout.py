"""Run-out of a rotary table, a chuck or a plug, on its rim or its face: the first harmonic says where to tap and how much."""

from __future__ import annotations

import math
import random
from typing import ClassVar

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Point, Scene, Style
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import (
    PlainInspection,
    choice,
    count,
    found,
    marks,
    parameter_group,
    size,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import K_95, Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.runouts import Runout, runout
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


class RunoutInspection(PlainInspection):
    """See the module."""

    key = "runout"
    title = "Run-out"
    when = "Does it run true on rim or face, and where do I tap it?"
    order = 80
    main = "centring"
    defaults: ClassVar = {"on": "rim", "radius": 60.0, "count": 8, "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            choice("on", "Read on", (("rim", "the rim"), ("face", "the face")), "rim: off centre; face: wobble"),
            size("radius", "Radius it is read at", "from the axis", 2, 1000, feature="rim"),
            count("count", "Places round", 4, 24, "evenly, the work turned under the indicator"),
            tolerance("Run-out allowed", "total reading after setting"),
            *tool_parameters(shop, "a lever indicator that stands still"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        r, many = values.number("radius"), int(values.number("count"))
        return tuple(
            Place(
                key=f"a{i + 1}",
                label=f"{360 * i / many:g}°",
                quantity=Quantity.DEVIATION,
                at=(r * math.cos(math.tau * i / many), r * math.sin(math.tau * i / many)),
                low=-5,
                high=5,
                spot=(360 * i / many,),
            )
            for i in range(many)
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        face = values.word("on") == "face"
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        turn: Runout | None = None
        if sheet.complete:
            turn = runout([math.radians(p.spot[0]) for p in sheet.places], sheet.means())
            u = K_95 * sheet.sigma * math.sqrt(2 / len(sheet.places))
            u_two = K_95 * sheet.sigma * math.sqrt(2)
            name = "Wobble, half of the harmonic" if face else "Off centre"
            figures += [
                found(
                    "centring",
                    name,
                    turn.eccentricity_mm,
                    u,
                    ("√(a² + b²) of a·cos φ + b·sin φ + c, least squares", ""),
                    features=("vector",),
                ),
                found(
                    "high_at",
                    "High at",
                    math.degrees(turn.high_at),
                    math.degrees(math.atan2(u, max(turn.eccentricity_mm, 1e-9))),
                    ("atan(b/a)", ""),
                    unit="deg",
                    features=("vector",),
                ),
                found("tir", "Total reading now", turn.tir_mm, u_two, ("highest − lowest", "")),
                found("left", "Left after setting", turn.left_mm, u_two, ("highest − lowest without the harmonic", "")),
            ]
            groups.append(Group("Found", ("centring", "high_at", "tir", "left")))
            limit = values.number("tolerance")
            checks = [
                within(
                    "tir", "Run-out now", turn.tir_mm, u_two, limit, ("it runs true", "close to the limit", "it has to be set")
                ),
                within(
                    "left",
                    "Left after setting",
                    turn.left_mm,
                    u_two,
                    limit,
                    (
                        "setting it can bring it within",
                        "setting it may just bring it within",
                        "no setting brings it within: it is not round, or not flat. Look for dirt, a burr, a sprung part",
                    ),
                ),
            ]
            at = format_number(math.degrees(turn.high_at), 0)
            if turn.eccentricity_mm <= u:
                steps.append("It runs true, as far as this indicator can tell")
            elif face:
                steps.append(
                    f"The face stands highest at {at}°. Tap it down there, or shim the opposite side by"
                    f" {length(2 * turn.eccentricity_mm)} at this radius, and read again"
                )
            else:
                steps.append(
                    f"Turn {at}° to the indicator: it reads highest there. Tap it away from the indicator until the dial has"
                    f" fallen by {length(turn.eccentricity_mm)}, then turn it round and read again"
                )
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=_scene(sheet, values.number("radius"), turn),
            steps=steps,
            cautions=("Turned by hand, the drive switched off at the machine; no chuck key left in the chuck",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        e, at = abs(chance.gauss(0.05, 0.03)) + 0.005, chance.uniform(0, math.tau)
        true = {p.key: e * math.cos(math.radians(p.spot[0]) - at) for p in self.places(values, shop)}
        return Exercise(tool="dial", true=true, answers={"centring": e, "tir": max(true.values()) - min(true.values())})


def _scene(sheet: Sheet, r: float, turn: Runout | None) -> Scene:
    elements: list[Element] = [
        Arc((0, 0), r, style=Style.VISIBLE, feature="rim"),
        Arc((0, 0), 0.25 * r, style=Style.THIN, feature="rim"),
        Line((-1.1 * r, 0), (1.1 * r, 0), Style.CENTRE),
        Line((0, -1.1 * r), (0, 1.1 * r), Style.CENTRE),
    ]
    read = [(math.radians(p.spot[0]), sheet.mean(p.key)) for p in sheet.places if sheet.has(p.key)]
    if len(read) > 1:
        low, high = min(v for _, v in read), max(v for _, v in read)
        scale = 0.22 * r / max((high - low) / 2, 1e-6)
        middle = (low + high) / 2
        ring: tuple[Point, ...] = tuple(
            ((0.62 * r + (v - middle) * scale) * math.cos(a), (0.62 * r + (v - middle) * scale) * math.sin(a)) for a, v in read
        )
        elements.append(Path(ring, Style.THIN, "trace", closed=len(read) == len(sheet.places)))
        elements.append(Note((0, -1.32 * r), f"trace enlarged, {length((high - low) / 2, 4)} to its edge", quiet=True, align=0))
    if turn is not None and turn.eccentricity_mm > 0:
        tip = (0.85 * r * math.cos(turn.high_at), 0.85 * r * math.sin(turn.high_at))
        elements.append(Line((0, 0), tip, Style.TOOL, "vector"))
        for side in (2.7, -2.7):
            a = turn.high_at + side
            elements.append(Line(tip, (tip[0] + 0.1 * r * math.cos(a), tip[1] + 0.1 * r * math.sin(a)), Style.TOOL, "vector"))
    rings, numbers = marks(sheet, 0.03 * r, sign=True)
    return Scene("turn", "Looking at the face, angles counter-clockwise", tuple(elements + rings), tuple(numbers))


KIND = RunoutInspection()
