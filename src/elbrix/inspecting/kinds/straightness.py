"""Straightness of an edge, a slideway or a jaw from deviations along it."""

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
    graph,
    marks,
    parameter_group,
    size,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import K_95, Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.zones import fit_line
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


class Straightness(PlainInspection):
    """See the module."""

    key = "straightness"
    title = "Straightness"
    when = "How straight is this edge or slideway, and is it hollow or crowned?"
    order = 50
    main = "straightness"
    defaults: ClassVar = {"length": 200.0, "count": 7, "tolerance": 0.02}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            size("length", "Length", "first to last place", 5, 10000, feature="edge"),
            count("count", "Places", 3, 40, "evenly along the length"),
            tolerance("Out of straight allowed", "from the drawing, or what the work bears"),
            *tool_parameters(shop, "an indicator run along a straight reference"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        long, many = values.number("length"), int(values.number("count"))
        return tuple(
            Place(
                key=f"p{i + 1}",
                label=f"place {i + 1} of {many}",
                quantity=Quantity.DEVIATION,
                at=(i * long / (many - 1), 0.0),
                low=-5,
                high=5,
                spot=(i * long / (many - 1),),
            )
            for i in range(many)
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        long = values.number("length")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        read = [(p.spot[0], sheet.mean(p.key)) for p in sheet.places if sheet.has(p.key)]
        shown = read
        if sheet.complete:
            fit = fit_line(read)
            u = K_95 * sheet.sigma * math.sqrt(2)
            spots = [x for x, _ in read]
            middle = math.fsum(spots) / len(spots)
            slope_u = 1000 * K_95 * sheet.sigma / math.sqrt(math.fsum((s - middle) ** 2 for s in spots))
            high = sheet.places[max(range(len(read)), key=fit.off_mm.__getitem__)]
            low = sheet.places[min(range(len(read)), key=fit.off_mm.__getitem__)]
            shown = list(zip(spots, fit.off_mm, strict=True))
            figures += [
                found(
                    "straightness",
                    "Straightness",
                    fit.straightness_mm,
                    u,
                    (
                        "highest − lowest over the least-squares line",
                        f"{format_number(max(fit.off_mm), 5)} − {format_number(min(fit.off_mm), 5)}",
                    ),
                    features=(high.key, low.key),
                ),
                found("zone", "Narrowest zone", fit.zone_mm, u, ("least distance of two lines with all places between", "")),
                found("slope", "Slope", fit.slope * 1000, slope_u, ("least squares", ""), unit="mm/m"),
            ]
            groups.append(Group("Found", ("straightness", "zone", "slope")))
            checks.append(
                within(
                    "zone",
                    "Straightness, narrowest zone",
                    fit.zone_mm,
                    u,
                    values.number("tolerance"),
                    ("straight enough", "too close to the limit to be sure", "not straight enough"),
                    features=(high.key, low.key),
                )
            )
            ends = (fit.off_mm[0] + fit.off_mm[-1]) / 2
            inside = math.fsum(fit.off_mm[1:-1]) / (len(fit.off_mm) - 2)
            if fit.straightness_mm > u:
                shape = "crowned: high in the middle" if inside > ends else "hollow: high at its ends"
                steps.append(
                    f"It is {shape}; highest at {high.label}, lowest at {low.label}. Turn the reference end for end and read"
                    " again: what turns with it is the reference's own"
                )
            else:
                steps.append("Straight, as far as this indicator can tell")
        elements: list[Element] = [
            box(0, -0.12 * long, long, 0, Style.BODY, "edge"),
            box(0, -0.12 * long, long, 0, Style.VISIBLE, "edge"),
            *graph(shown, 0, long, 0.28 * long, 0.1 * long),
            Note((0, 0.28 * long + 0.12 * long), "deviations, enlarged", quiet=True),
            Line((0, 0.16 * long), (0, 0.4 * long), Style.SURROUNDINGS),
        ]
        rings, numbers = marks(sheet, 0.012 * long, sign=True)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("edge", "The edge with its deviations", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=(f"Read from one end to the other without turning back: an indicator lags by {length(0.002)} or so",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        long, bow, slope = values.number("length"), chance.uniform(-0.05, 0.05), chance.gauss(0, 2e-4)
        true, points = {}, []
        for place in self.places(values, shop):
            x = place.spot[0]
            z = bow * (2 * x / long - 1) ** 2 + slope * x
            true[place.key] = z
            points.append((x, z))
        fit = fit_line(points)
        return Exercise(tool="dial", true=true, answers={"straightness": fit.straightness_mm, "slope": 1000 * fit.slope})


KIND = Straightness()
