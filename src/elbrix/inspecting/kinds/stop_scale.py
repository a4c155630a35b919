"""A trip or depth stop's scale against what it really does: which number to set for a wanted depth, and how sure."""

from __future__ import annotations

import math
import random
from typing import ClassVar

from elbrix.drawing.scene import Element, Line, Note, Path, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import (
    CALIPER_U,
    PlainInspection,
    found,
    marks,
    parameter_group,
    size,
    slope_u,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.repeats import stop_scale
from elbrix.parameters.parameter import Group, Kind, Parameter, Values
from elbrix.quantities.errors import EntryError
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


class StopScaleInspection(PlainInspection):
    """See the module."""

    key = "stop_scale"
    title = "Scale of a depth stop"
    when = "Which number on the stop's scale gives the depth I want?"
    order = 120
    main = "factor"
    usual_u = CALIPER_U
    defaults: ClassVar = {"settings": "0, 10, 20, 30, 40", "wanted": 41.7, "tolerance": 0.1}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            Parameter(
                name="settings",
                label="Scale set to",
                kind=Kind.COUNTS,
                unit="",
                low=0,
                high=1000,
                usually="whole divisions, spread out",
            ),
            size("wanted", "Depth wanted", "where the quill is to stop", -1000, 1000, 0.1, feature="wanted"),
            tolerance("Depth allowed ±", "from the drawing", 0.001, 10),
            *tool_parameters(shop, "a depth gauge, or the readout of the quill"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        settings = [float(s) for s in values.word("settings").split(",") if s.strip()]
        if len(settings) < 3:
            raise EntryError(
                "Scale set to",
                f"{len(settings)} settings",
                "Three show how straight the scale runs",
                "Write for example 0, 10, 20, 30",
                "settings",
            )
        reach = max(settings) - min(settings)
        return tuple(
            Place(
                key=f"t{s:g}",
                label=f"scale at {s:g}",
                quantity=Quantity.LENGTH,
                at=(60 * (s - min(settings)) / reach, 0.0),
                low=-1000,
                high=1000,
                spot=(s,),
            )
            for s in settings
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        wanted = values.number("wanted")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        elements: list[Element] = [
            box(-6, -4, 66, 4, Style.BODY, "scale"),
            box(-6, -4, 66, 4, Style.VISIBLE, "scale"),
            *(Line((p.at[0], -4), (p.at[0], 0), Style.THIN, "scale") for p in sheet.places),
            *(Note((p.at[0], -8), f"{p.spot[0]:g}", plain=True, align=0) for p in sheet.places),
        ]
        if sheet.complete:
            scale = stop_scale([(p.spot[0], sheet.mean(p.key)) for p in sheet.places])
            setting, half = scale.setting(wanted), scale.half_width_95(wanted)
            fixed = sheet.u_of({p.key: 1 / len(sheet.places) for p in sheet.places})
            u = math.hypot(half, fixed)
            figures += [
                found(
                    "factor", "Depth for each division", scale.factor, slope_u(sheet), ("least squares", ""), features=("scale",)
                ),
                found(
                    "setting",
                    "Set the scale to",
                    setting,
                    u / abs(scale.factor),
                    (
                        "(wanted − offset)/factor",
                        f"({format_number(wanted, 3)} − {format_number(scale.offset, 3)})/{format_number(scale.factor, 5)}",
                    ),
                    unit="",
                    features=("scale",),
                ),
                found(
                    "reached",
                    "Depth it then reaches, ±",
                    u,
                    0.0,
                    (
                        "√(scatter of the next stop² + the tool's own²)",
                        f"√({format_number(half, 4)}² + {format_number(fixed, 4)}²)",
                    ),
                ),
            ]
            groups.append(Group("Found", ("setting", "reached", "factor")))
            checks.append(
                within(
                    "reached",
                    "Depth reached",
                    u,
                    0.0,
                    values.number("tolerance"),
                    ("sure enough for this depth", "", "too unsure for this depth: more settings, nearer to it"),
                )
            )
            lowest, highest = min(p.spot[0] for p in sheet.places), max(p.spot[0] for p in sheet.places)
            if not lowest <= setting <= highest:
                steps.append(
                    f"The setting {setting:.2f} lies outside those that were tried: try one beside it before relying on it"
                )
            steps.append(f"Set the scale to {setting:.2f}, try it on scrap, and measure {length(wanted)} before the first piece")
            most = max(abs(sheet.mean(p.key) - scale.factor * p.spot[0] - scale.offset) for p in sheet.places) or 1e-6
            elements.append(
                Path(
                    tuple(
                        (p.at[0], 22 + 8 * (sheet.mean(p.key) - scale.factor * p.spot[0] - scale.offset) / most)
                        for p in sheet.places
                    ),
                    Style.VISIBLE,
                    "scale",
                )
            )
            elements.append(Line((0, 22), (60, 22), Style.CENTRE, "scale"))
            elements.append(Note((0, 33), f"off the straight line, {length(most, 4)} at most", quiet=True))
        rings, numbers = marks(sheet, 1.2, step=0.01)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("scale", "The stop's scale", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Spindle stopped and the cutter out while the stop is tried",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        factor, offset = 1 + chance.gauss(0, 0.004), 5 + chance.gauss(0, 0.5)
        true = {p.key: factor * p.spot[0] + offset for p in self.places(values, shop)}
        return Exercise(
            tool="depth", true=true, answers={"factor": factor, "setting": (values.number("wanted") - offset) / factor}
        )


KIND = StopScaleInspection()
