"""Thickness at the corners and in the middle: parallelism and taper of a plate, a parallel or a strip."""

from __future__ import annotations

import random
from typing import ClassVar, Final

from elbrix.drawing.scene import Element, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import (
    MICROMETER_U,
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
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

_SPOTS = (
    ("left_near", "left, near side", 0.0, 0.0),
    ("right_near", "right, near side", 1.0, 0.0),
    ("right_far", "right, far side", 1.0, 1.0),
    ("left_far", "left, far side", 0.0, 1.0),
    ("middle", "middle", 0.5, 0.5),
)


#: Thicker work is practised with the caliper, mm.
_MICROMETER_MM: Final = 24.9


class Parallelism(PlainInspection):
    """See the module."""

    key = "parallelism"
    title = "Parallelism and taper"
    when = "Is it the same thickness all over, and which way does it taper?"
    order = 60
    main = "taper_along"
    usual_u = MICROMETER_U
    defaults: ClassVar = {"length": 100.0, "width": 50.0, "thickness": 20.0, "times": 3, "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            size("length", "Between left and right", "middle to middle of the places", 2, 3000, feature="face"),
            size("width", "Between near and far", "middle to middle of the places", 2, 3000, feature="face"),
            size("thickness", "Thickness, about", "readings far from it are asked about", 0.1, 1000, 0.1),
            count("times", "Readings a place", 1, 9, "three show how well it repeats"),
            tolerance("Out of parallel allowed", "thickest less thinnest"),
            *tool_parameters(shop, "a micrometer"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        long, wide, thick = values.number("length"), values.number("width"), values.number("thickness")
        return tuple(
            Place(
                key=key,
                label=label,
                quantity=Quantity.LENGTH,
                at=(x * long, y * wide),
                times=int(values.number("times")),
                low=0.8 * thick,
                high=1.2 * thick,
                spot=(x * long, y * wide),
            )
            for key, label, x, y in _SPOTS
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            at = {p.key: sheet.mean(p.key) for p in sheet.places}
            thickest, thinnest = max(at, key=at.__getitem__), min(at, key=at.__getitem__)
            spread, u = at[thickest] - at[thinnest], sheet.u_of({thickest: 1, thinnest: -1})
            right = {"right_near": 0.5, "right_far": 0.5, "left_near": -0.5, "left_far": -0.5}
            far = {"left_far": 0.5, "right_far": 0.5, "left_near": -0.5, "right_near": -0.5}
            along, across = (sum(c * at[k] for k, c in way.items()) for way in (right, far))
            figures += [
                found(
                    "parallelism",
                    "Out of parallel",
                    spread,
                    u,
                    ("thickest − thinnest", f"{format_number(at[thickest], 5)} − {format_number(at[thinnest], 5)}"),
                    features=(thickest, thinnest),
                ),
                found("taper_along", "Taper, right less left", along, sheet.u_of(right), ("mean of right − mean of left", "")),
                found("taper_across", "Taper, far less near", across, sheet.u_of(far), ("mean of far − mean of near", "")),
                found(
                    "mean_thickness",
                    "Mean thickness",
                    sum(at.values()) / len(at),
                    sheet.u_of({k: 1 / len(at) for k in at}),
                    ("mean of all places", ""),
                    features=("face",),
                ),
            ]
            groups.append(Group("Found", ("parallelism", "taper_along", "taper_across", "mean_thickness")))
            checks.append(
                within(
                    "parallelism",
                    "Out of parallel",
                    spread,
                    u,
                    values.number("tolerance"),
                    ("parallel enough", "too close to the limit to be sure", "not parallel enough"),
                    features=(thickest, thinnest),
                )
            )
            names = {p.key: p.label for p in sheet.places}
            if spread > u:
                steps.append(
                    f"Thickest at {names[thickest]}, thinnest at {names[thinnest]}: {length(spread)} between them. To bring it"
                    f" parallel, shim under {names[thinnest]} by as much and take one light cut over the top"
                )
            else:
                steps.append("The same all over, as far as this tool can tell")
        long, wide = values.number("length"), values.number("width")
        edge = 0.12 * max(long, wide)
        elements: list[Element] = [
            box(-edge, -edge, long + edge, wide + edge, Style.BODY, "face"),
            box(-edge, -edge, long + edge, wide + edge, Style.VISIBLE, "face"),
        ]
        rings, numbers = marks(sheet, 0.015 * max(long, wide))
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("face", "The piece from above", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Piece and micrometer at the temperature of the room: a warm piece reads thick",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        along, across, thick = chance.gauss(0, 0.02), chance.gauss(0, 0.02), values.number("thickness") + chance.gauss(0, 0.05)
        true = {key: thick + along * (x - 0.5) + across * (y - 0.5) for key, _, x, y in _SPOTS}
        tool = "micrometer" if max(true.values()) < _MICROMETER_MM else "caliper"  # the one on the bench goes to 25
        return Exercise(tool=tool, true=true, answers={"taper_along": along, "taper_across": across, "mean_thickness": thick})


KIND = Parallelism()
