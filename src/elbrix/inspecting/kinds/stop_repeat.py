"""Repeatability of a stop: the same setting tried again and again, and what the next trial is good for."""

from __future__ import annotations

import math
from typing import ClassVar

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Inspection
from elbrix.inspecting.plain import PlainInspection, count, found, graph, marks, parameter_group, tolerance, tool_parameters
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.repeats import repeat, student_95
from elbrix.parameters.parameter import Group, Parameter, Values
from elbrix.results.checks import Limits, judged
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


class StopRepeat(PlainInspection):
    """See the module."""

    key = "stop_repeat"
    title = "Stop repeatability"
    when = "How near does the next piece, or the next stroke, come to the last ones?"
    order = 110
    main = "mean"
    can_practise = False
    defaults: ClassVar = {"trials": 10, "tolerance": 0.02}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            count("trials", "Trials", 4, 20, "against the stop, away, and against it again"),
            tolerance("Position allowed ±", "what the work bears"),
            *tool_parameters(shop, "an indicator where the work ends"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        many = int(values.number("trials"))
        return (Place(key="stop", label="at the stop", quantity=Quantity.DEVIATION, at=(0.0, 0.0), times=many, low=-5, high=5),)

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        allowed = values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        taken = sheet.values("stop")
        if len(taken) > 2:
            trial = repeat(taken)
            reading = values.number("reading_u")
            # Trials that are all alike say no more than the tool's last digit does.
            following = math.hypot(student_95(trial.count - 1) * trial.stdev * math.sqrt(1 + 1 / trial.count), 0.3 * reading)
            told = f"{student_95(trial.count - 1):.3f} · {format_number(trial.stdev, 5)}"
            figures += [
                found("mean", "Mean of the trials", trial.mean, trial.half_width_95, (f"of {trial.count} trials", "")),
                found("spread", "Farthest apart", max(taken) - min(taken), 0.0, ("largest − smallest", "")),
                found("stdev", "Standard deviation", trial.stdev, 0.0, ("√(Σ(x − mean)²/(n − 1))", f"n = {trial.count}")),
                found(
                    "following",
                    "Next trial, ±",
                    following,
                    0.0,
                    (
                        "√((t · s)² · (1 + 1/n) + (0.3 · u)²)",
                        f"√(({told})² · {1 + 1 / trial.count:.4f} + (0.3 · {format_number(reading, 4)})²)",
                    ),
                ),
            ]
            groups.append(Group("Found", ("mean", "spread", "stdev", "following")))
            checks.append(
                judged(
                    "following",
                    "Next trial",
                    following,
                    Limits(marginal_above=0.7 * allowed, no_above=allowed),
                    (
                        "95 of 100 trials come within what is allowed",
                        "just within what is allowed: a chip more and it is not",
                        "the stop does not repeat well enough for this work",
                    ),
                    derivation=("95 of 100 trials lie so near the mean", ""),
                    step=0.001,
                )
            )
            if following > allowed:
                steps.append(
                    "Look for chips on the stop's face, a point where a face touches, a screw that gives, and push with the same"
                    " force each time; then try again"
                )
            else:
                steps.append(f"Set it so that the mean is on size: take {length(trial.mean)} off the setting")
            if trial.stdev < reading / 4:
                steps.append("The trials differ by less than this tool can tell: the stop may be better than it looks")
        elements: list[Element] = [
            box(-3, -14, 0, 14, Style.BODY, "stop"),
            box(-3, -14, 0, 14, Style.VISIBLE, "stop"),
            box(0, -8, 46, 8, Style.SURROUNDINGS, "stop"),
            Note((24, 0), "work", quiet=True, align=0),
            Line((-20, -14), (60, -14), Style.SURROUNDINGS, "table"),
        ]
        if taken:
            mean = math.fsum(taken) / len(taken)
            step = 60 / max(len(taken) - 1, 1)
            elements += graph([(-10 + i * step, v - mean) for i, v in enumerate(taken)], -10, 50, 34, 10, "stop")
            elements.append(Note((-10, 48), "trials about their mean, enlarged", quiet=True))
        rings, numbers = marks(sheet, 1.2, sign=True)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("stop", "Against the stop", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Spindle stopped while a piece is put against the stop",),
        )


KIND = StopRepeat()
