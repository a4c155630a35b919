"""Holes measured over pins, in any order: a free network finds where each one is, without a readout."""

from __future__ import annotations

import itertools
import math
from typing import ClassVar

from elbrix.drawing.scene import Line, Scene, Style
from elbrix.inspecting.inspection import Inspection
from elbrix.inspecting.kinds.spots import holes_parameter, pattern_scene, wanted_places
from elbrix.inspecting.plain import (
    CALIPER_U,
    PlainInspection,
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
from elbrix.metrology.hole_patterns import LengthOverPins, OverPins, over_pins
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.quantities.errors import EntryError
from elbrix.results.checks import Limits, judged
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

#: Every pair of more holes than this is more than anybody measures.
_MAX = 8


class SpotsOverPins(PlainInspection):
    """See the module."""

    key = "spots_over_pins"
    title = "Holes over pins"
    when = "Where are the holes really, measured over pins with a caliper?"
    order = 140
    main = "off 1"
    can_practise = False
    usual_u = CALIPER_U
    defaults: ClassVar = {"wanted": "0,0; 40,0; 40,30; 0,30", "pin": 6.0, "tolerance": 0.1}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            holes_parameter(),
            size("pin", "Pin Ø", "one in each hole, without play", 0.3, 100, 0.001),
            tolerance("Out of place allowed", "from the hole's middle to where it belongs"),
            *tool_parameters(shop, "a caliper, outside over two pins"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        points, pin = wanted_places(values, 3), values.number("pin")
        if len(points) > _MAX:
            raise EntryError(
                "Holes wanted",
                f"{len(points)} holes have {math.comb(len(points), 2)} pairs",
                f"{_MAX} holes at once are the most",
                "Measure them in parts that share two holes",
                "wanted",
            )
        found_places = []
        for i, j in itertools.combinations(range(len(points)), 2):
            a, b = points[i], points[j]
            over = math.dist(a, b) + pin
            found_places.append(
                Place(
                    key=f"o{i + 1}-{j + 1}",
                    label=f"over holes {i + 1} and {j + 1}",
                    quantity=Quantity.LENGTH,
                    at=(a[0] + 0.42 * (b[0] - a[0]), a[1] + 0.42 * (b[1] - a[1])),
                    low=over - 3,
                    high=over + 3,
                    spot=(float(i), float(j)),
                )
            )
        return tuple(found_places)

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        points = wanted_places(values, 3)
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        laid: OverPins | None = None
        if sheet.complete:
            spans = [LengthOverPins(int(p.spot[0]), int(p.spot[1]), sheet.mean(p.key)) for p in sheet.places]
            sigma = max(sheet.sigma, values.number("reading_u") / K_95)
            laid = over_pins(points, [values.number("pin")] * len(points), spans, sigma)
            u = K_95 * sigma
            off = [math.hypot(*r) for r in laid.residual_mm]
            figures += [
                found(
                    f"off {i + 1}",
                    f"Hole {i + 1} out of place",
                    d,
                    u,
                    ("free network, laid onto the wanted places", f"{format_number(r[0], 4)}, {format_number(r[1], 4)}"),
                    features=(f"hole {i + 1}",),
                )
                for i, (d, r) in enumerate(zip(off, laid.residual_mm, strict=True))
            ]
            groups.append(Group("Found", tuple(f"off {i + 1}" for i in range(len(points)))))
            worst = max(range(len(off)), key=off.__getitem__)
            checks = [
                within(
                    f"off {worst + 1}",
                    "Worst hole",
                    off[worst],
                    u,
                    values.number("tolerance"),
                    ("every hole is in its place", "too close to the limit to be sure", f"hole {worst + 1} is out of place"),
                    features=(f"hole {worst + 1}",),
                ),
                judged(
                    "agree",
                    "Lengths that agree",
                    len(laid.wrong_spans) + (0.5 if laid.undecided else 0.0),
                    Limits(marginal_above=0.0, no_above=0.5),
                    (
                        "every length agrees with the others",
                        "something does not agree, and it cannot be said what: measure every pair again",
                        "a length does not agree with the others: a pin not home, or a digit",
                    ),
                    unit="",
                    text=f"{len(sheet.places) - len(laid.wrong_spans)} of {len(sheet.places)}",
                ),
            ]
            for s in laid.wrong_spans:
                steps.append(f"Measure {sheet.places[s].label} again: it does not agree with the other lengths")
            for i in laid.wrong:
                dx, dy = laid.residual_mm[i]
                steps.append(
                    f"Hole {i + 1} stands {length(abs(dx))} {'right' if dx > 0 else 'left'} and {length(abs(dy))}"
                    f" {'far' if dy > 0 else 'near'} of where it belongs: fit its mate to it, or plug it and drill anew"
                )
            if not steps:
                steps.append("No hole is further out than the lengths themselves can tell")
        elements = pattern_scene(points, laid.residual_mm if laid else (), laid.wrong if laid else ())
        elements += [
            Line(points[i], points[j], Style.CENTRE, f"pair {i + 1}-{j + 1}")
            for i, j in itertools.combinations(range(len(points)), 2)
        ]
        rings, numbers = marks(sheet, 0.35, step=0.01)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("holes", "The holes from above, errors enlarged", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Pins without play, pressed home, and no burr at the holes",),
        )


KIND = SpotsOverPins()
