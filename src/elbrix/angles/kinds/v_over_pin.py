"""A V measured over a pin, or two: how far a pin should stand above the face, and what V a reading means."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.angles.kinds.plain import PlainKind, beside, parameter_figures, propose_plain
from elbrix.angles.over_pins import v_angle_rad, v_over_pin, v_width_mm
from elbrix.angles.setup import AngleSetup, SetupStep
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Path, Scene, Side, Style
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.quantities.angles import show_angle
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.results.checks import Check, Fix, Limits
from elbrix.results.figures import format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

PARAMETERS = (
    Parameter(
        name="v_angle", label="V angle", kind=Kind.ANGLE, unit="", low=1, high=179, usually="from the drawing", feature="flank"
    ),
    Parameter(
        name="v_width",
        label="V width at the face",
        kind=Kind.LENGTH,
        low=0.5,
        high=500,
        step=0.01,
        usually="from the drawing",
        feature="mouth",
    ),
    Parameter(
        name="pin_diameter",
        label="Pin Ø",
        kind=Kind.LENGTH,
        low=0.2,
        high=300,
        step=0.001,
        usually="a measured pin",
        feature="pin_diameter",
    ),
    Parameter(
        name="over_pin",
        label="Measured over pin",
        kind=Kind.LENGTH,
        low=-200,
        high=500,
        step=0.001,
        usually="0: not measured yet",
        feature="pin_diameter",
    ),
    Parameter(
        name="second_pin",
        label="Second pin Ø",
        kind=Kind.LENGTH,
        low=0,
        high=300,
        step=0.001,
        usually="0: no second pin",
        feature="pin 2",
    ),
    Parameter(
        name="over_second_pin",
        label="Measured over 2nd pin",
        kind=Kind.LENGTH,
        low=-200,
        high=500,
        step=0.001,
        usually="with a second pin the angle itself is found",
        feature="pin 2",
    ),
)


class VOverPin(PlainKind):
    """See the module."""

    key = "v_over_pin"
    title = "A V over a pin"
    when = "Is the V as wide, as deep and as open as drawn?"
    order = 3

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return PARAMETERS

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        return propose_plain(
            chosen,
            {
                "v_angle": math.radians(90),
                "v_width": 40.0,
                "pin_diameter": 30.0,
                "over_pin": 0.0,
                "second_pin": 0.0,
                "over_second_pin": 0.0,
            },
        )

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        a, width, pin = values.number("v_angle"), values.number("v_width"), values.number("pin_diameter")
        try:
            found = v_over_pin(a, width, pin)
        except ShopError as error:
            raise beside(error, "v_angle") from None
        half = a / 2
        best = round_down(0.75 * width / math.cos(half), 1.0)
        figures = [
            *parameter_figures(PARAMETERS, values),
            reckoned(
                "top",
                "Pin above the face",
                worked(
                    "(P/2)·(1 + 1/sin(A/2)) − g",
                    term(pin, 4),
                    term(2 * math.degrees(half), 6, "°"),
                    term(found.vertex_depth_mm, 4),
                    source="the pin touches both flanks",
                ),
                step=0.001,
                features=("pin_diameter",),
            ),
            reckoned(
                "vertex",
                "V depth",
                worked("(M/2)/tan(A/2)", term(width, 4), term(2 * math.degrees(half), 6, "°")),
                step=0.001,
                features=("flank",),
            ),
            reckoned(
                "contact",
                "Contact line spacing",
                worked("P·cos(A/2)", term(pin, 4), term(2 * math.degrees(half), 6, "°")),
                step=0.001,
                features=("flank",),
            ),
            reckoned(
                "per_width",
                "Drop over width error",
                worked("1/(2·tan(A/2))", term(2 * math.degrees(half), 6, "°"), source="derivative of the depth of the point"),
                unit="×",
            ),
            reckoned(
                "largest",
                "Largest Ø possible",
                worked("M/cos(A/2)", width, term(2 * math.degrees(half), 6, "°")),
                step=0.1,
                features=("mouth",),
            ),
        ]
        rows = ["v_angle", "v_width", "pin_diameter", "top"]
        checks = [
            Check(
                key="flanks",
                label="Pin contact over mouth",
                value=found.contact_width_mm / width,
                unit="",
                limits=Limits(marginal_above=0.9, no_above=1.0),
                text=f"{found.contact_width_mm / width:.0%}",
                features=("pin_diameter", "flank"),
                figures=("contact", "pin_diameter"),
                remedies=("pin_diameter",),
                reason=(
                    "it rests on the edges: the reading means nothing"
                    if not found.contact_on_flanks
                    else (
                        "near the edges, where the V may be burred or broken"
                        if found.contact_width_mm > 0.9 * width
                        else "well down the flanks"
                    )
                ),
            ),
            Check(
                key="proud",
                label="Pin protrusion",
                value=found.pin_top_above_face_mm,
                unit="mm",
                limits=Limits(marginal_below=0.5, no_below=0.0),
                step=0.01,
                features=("pin_diameter",),
                figures=("top",),
                remedies=("pin_diameter",),
                reason=(
                    "it can be measured from the face"
                    if found.pin_top_above_face_mm >= 0.5
                    else "a height gauge or micrometer needs it above the face: take a thicker pin"
                ),
            ),
        ]
        fixes = {
            c.key: Fix(f"Use a pin of Ø{format_number(best)}", (("pin_diameter", f"{best:g}"),))
            for c in checks
            if c.verdict.rank and best > 0
        }
        measured = values.number("over_pin")
        if measured:
            try:
                real = v_width_mm(a, pin, measured)
            except ShopError as error:
                raise beside(error, "over_pin") from None
            figures.append(
                reckoned(
                    "real_width",
                    "Measured V width",
                    worked(
                        "2·tan(A/2)·((P/2)·(1 + 1/sin(A/2)) − reading)",
                        term(math.degrees(a), 6, "°"),
                        term(pin, 4),
                        term(measured, 4),
                        source="the formula turned round",
                    ),
                    step=0.001,
                    features=("mouth",),
                )
            )
            checks.append(
                Check(
                    key="as_cut",
                    label="V width as cut",
                    value=real - width,
                    unit="mm",
                    limits=Limits(-0.2, -0.05, 0.05, 0.2),
                    step=0.001,
                    features=("mouth",),
                    figures=("real_width",),
                    reason=(
                        "as drawn"
                        if abs(real - width) <= 0.05
                        else "wider than drawn"
                        if real > width
                        else "not as wide yet: there is metal left"
                    ),
                )
            )
            rows += ["over_pin", "real_width"]
        else:
            rows.append("over_pin")
        pin2, read2 = values.number("second_pin"), values.number("over_second_pin")
        rows += ["second_pin", "over_second_pin"] if pin2 else ["second_pin"]
        if pin2 and read2 and measured:
            try:
                angle = v_angle_rad(*((pin, measured, pin2, read2) if pin > pin2 else (pin2, read2, pin, measured)))
            except ShopError as error:
                raise beside(error, "over_second_pin") from None
            figures.append(
                reckoned(
                    "real_angle",
                    "V angle as cut",
                    worked(
                        "2·asin((P1 − P2)/2/(reading 1 − P1/2 − reading 2 + P2/2))",
                        term(pin, 4),
                        term(pin2, 4),
                        term(measured, 4),
                        term(read2, 4),
                        source="two pins, no width needed",
                    ),
                    unit="",
                    text=show_angle(angle, "dms"),
                    features=("flank",),
                )
            )
            checks.append(
                Check(
                    key="angle_as_cut",
                    label="Angle as cut",
                    value=math.degrees(angle - a) * 60,
                    unit="′",
                    limits=Limits(-20, -5, 5, 20),
                    features=("flank",),
                    figures=("real_angle",),
                    reason="as drawn" if abs(angle - a) < math.radians(5 / 60) else "the tilt was off by half of this",
                )
            )
            rows.append("real_angle")
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            fixes=fixes,
            scenes=(self._scene(a, width, pin, found.pin_top_above_face_mm, found.vertex_depth_mm, pin2),),
            groups=(Group("V and pin", tuple(rows)), Group("Results", ("vertex", "contact", "per_width", "largest"))),
            steps=(
                SetupStep("Deburr the V's edges, wipe flanks and pin", "a burr lifts the pin by its full height"),
                SetupStep(
                    f"Lay the pin Ø{length(pin, 3)} in the V and measure from the face to its top",
                    "at both ends: a difference is a lean or a taper",
                    f"{length(found.pin_top_above_face_mm, 3)} {LENGTH_UNIT}",
                ),
                SetupStep("Type the reading: the true width follows", "a second pin gives the angle as well"),
            ),
            cautions=("Measure with the spindle stopped and the cutter covered: Vs have sharp edges",),
        )

    def _scene(self, a: float, width: float, pin: float, top: float, depth: float, pin2: float) -> Scene:
        half = a / 2
        out, deep = width * 0.85, max(depth * 1.25, depth + width * 0.15)
        body = ((-out, 0), (-width / 2, 0), (0, -depth), (width / 2, 0), (out, 0), (out, -deep), (-out, -deep))
        centre = top - pin / 2
        touch = (pin / 2 * math.cos(half), centre - pin / 2 * math.sin(half))
        elements: list[Element] = [
            Path(body, Style.BODY, "block", closed=True),
            Path(body[:5], Style.VISIBLE, "flank"),
            Path((body[4], *body[5:], body[0]), Style.VISIBLE, "block"),
        ]
        elements += [
            Arc((0, centre), pin / 2, feature="pin_diameter"),
            Line((0, top + 0.1 * pin), (0, -depth - 0.1 * width), Style.CENTRE),
            Line((-0.6 * pin, centre), (0.6 * pin, centre), Style.CENTRE),
        ]
        elements += [
            Line((-touch[0], touch[1]), (0, centre), Style.HIDDEN, "pin_diameter"),
            Line((touch[0], touch[1]), (0, centre), Style.HIDDEN, "pin_diameter"),
        ]
        if pin2:
            other = pin2 / 2 / math.sin(half) - depth
            elements.append(Arc((0, other), pin2 / 2, style=Style.HIDDEN, feature="pin 2"))
        elements.append(Arc((0, -depth), 0.45 * depth, 90 - math.degrees(half), 90 + math.degrees(half), Style.CENTRE, "flank"))
        dims = (
            Dimension(
                "v_angle",
                (0, -depth),
                (0, -depth * 0.62),
                Side.AT,
                text=(
                    show_angle(a, "dms") if abs(math.degrees(a) - round(math.degrees(a))) > 1e-9 else f"{round(math.degrees(a))}°"
                ),
                value_mm=math.degrees(a),
                entry="v_angle",
                feature="flank",
                order=0,
            ),
            Dimension(
                "v_width", (-width / 2, 0), (width / 2, 0), Side.BELOW, entry="v_width", feature="mouth", step_mm=0.01, order=1
            ),
            Dimension(
                "pin_diameter",
                (0, centre),
                (0, centre + 0.18 * pin),
                Side.AT,
                value_mm=pin,
                prefix="Ø",
                entry="pin_diameter",
                feature="pin_diameter",
                step_mm=0.001,
                order=2,
            ),
            Dimension(
                "top", (pin * 0.2, 0), (pin * 0.2, top), Side.RIGHT, feature="pin_diameter", step_mm=0.001, suffix="over the pin"
            ),
            Dimension("vertex", (0, -depth), (0, 0), Side.LEFT, feature="flank", step_mm=0.01),
        )
        return Scene("v", "V with its pin, end on", tuple(elements), dims)


KIND = VOverPin()
