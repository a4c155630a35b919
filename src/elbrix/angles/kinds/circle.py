"""Holes on a circle: where they are, how far apart, and over which pins that is proved."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.angles.circles import bolt_circle, chord_mm, over_two_pins
from elbrix.angles.kinds.plain import PlainKind, beside, parameter_figures, propose_plain
from elbrix.angles.setup import AngleSetup, SetupStep, Table
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Scene, Side, Style
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.quantities.angles import show_angle
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

PARAMETERS = (
    Parameter(name="holes", label="Number of holes", kind=Kind.COUNT, unit="", low=1, high=360, feature="hole_diameter"),
    Parameter(
        name="circle_diameter", label="Bolt circle Ø", kind=Kind.LENGTH, low=1, high=3000, step=0.01, feature="circle_diameter"
    ),
    Parameter(
        name="start_angle",
        label="First hole angle",
        kind=Kind.ANGLE,
        unit="",
        low=-360,
        high=360,
        usually="0 is to the right, then counter-clockwise",
        feature="hole_diameter",
    ),
    Parameter(name="hole_diameter", label="Hole Ø", kind=Kind.LENGTH, low=0.3, high=300, step=0.01, feature="hole_diameter"),
    Parameter(
        name="x", label="Centre X", kind=Kind.LENGTH, low=-3000, high=3000, step=0.01, usually="both 0: ordinates from the middle"
    ),
    Parameter(name="y", label="Centre Y", kind=Kind.LENGTH, low=-3000, high=3000, step=0.01),
    Parameter(
        name="pin_diameter",
        label="Pin Ø",
        kind=Kind.LENGTH,
        low=0.3,
        high=300,
        step=0.001,
        usually="a slide fit in the holes",
        feature="pin_diameter",
    ),
    Parameter(
        name="over_pins",
        label="Measured over pins",
        kind=Kind.LENGTH,
        low=0,
        high=3300,
        step=0.001,
        usually="0: not measured yet",
        feature="pin_diameter",
    ),
)


class Circle(PlainKind):
    """See the module."""

    key = "circle"
    title = "Holes on a circle"
    when = "Ordinates for a bolt circle, and the size over two pins that proves it"
    order = 6

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return PARAMETERS

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        hole = chosen["hole_diameter"].value if "hole_diameter" in chosen else 6.0
        assert isinstance(hole, float)
        defaults = {
            "holes": 6,
            "circle_diameter": 160.0,
            "start_angle": math.radians(90),
            "hole_diameter": hole,
            "x": 0.0,
            "y": 0.0,
            "pin_diameter": hole,
            "over_pins": 0.0,
        }
        return propose_plain(chosen, defaults)

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        n, d, start, hole, pin = (
            int(values.number("holes")),
            values.number("circle_diameter"),
            values.number("start_angle"),
            values.number("hole_diameter"),
            values.number("pin_diameter"),
        )
        centre = (values.number("x"), values.number("y"))
        try:
            points = bolt_circle(n, d, start, centre)
            next_ = chord_mm(d, 2 * math.pi / n) if n > 1 else 0.0
            over = over_two_pins(next_, pin, pin)[0] if n > 1 else 0.0
        except ShopError as error:
            raise beside(error, "circle_diameter") from None
        step = f"{360 / n:g}°"
        figures = [
            *parameter_figures(PARAMETERS, values),
            reckoned(
                "chord",
                "Chord, hole to hole",
                worked("D·sin(180°/n)", term(d, 4), n) if n > 1 else worked("0", source="one hole has no neighbour"),
                step=0.001,
                features=("hole_diameter",),
            ),
            reckoned(
                "over",
                "Size over two pins",
                worked("chord + pin Ø", term(next_, 4), term(pin if n > 1 else 0.0, 4)),
                step=0.001,
                features=("pin_diameter",),
            ),
            reckoned(
                "between",
                "Gap between pins",
                worked("chord − pin Ø", term(next_, 4), term(pin if n > 1 else 0.0, 4)),
                step=0.001,
                features=("pin_diameter",),
            ),
            reckoned("index", "Angle, hole to hole", worked("360/n", n), unit="", text=show_angle(2 * math.pi / n, "dms")),
        ]
        web = next_ - hole if n > 1 else d
        checks = [
            Check(
                key="web",
                label="Web between holes",
                value=web,
                unit="mm",
                limits=Limits(marginal_below=0.5 * hole, no_below=0.0),
                step=0.01,
                features=("hole_diameter",),
                figures=("holes", "circle_diameter", "hole_diameter"),
                reason=(
                    "the holes meet"
                    if web < 0
                    else (
                        "under half a diameter: they may break into one another"
                        if web < 0.5 * hole
                        else "at least half a diameter is left"
                    )
                ),
                derivation=Derivation("chord − hole Ø", f"{format_number(next_, 3)} − {format_number(hole, 3)}"),
            )
        ]
        if n > 1 and pin > hole:
            checks.append(
                Check(
                    key="pin",
                    label="Pins go in",
                    value=hole - pin,
                    unit="mm",
                    limits=Limits(no_below=0.0),
                    step=0.001,
                    features=("pin_diameter",),
                    figures=("pin_diameter",),
                    reason="the pins are thicker than the holes",
                )
            )
        rows = ["pin_diameter", "over", "between", "over_pins"]
        if values.number("over_pins") and n > 1:
            real = values.number("over_pins") - pin
            turn = 2 * math.asin(min(1.0, real / d))
            figures.append(
                reckoned(
                    "real",
                    "Hole spacing as drilled",
                    worked("reading − pin Ø", term(values.number("over_pins"), 4), term(pin, 4)),
                    step=0.001,
                    features=("hole_diameter",),
                )
            )
            figures.append(
                reckoned(
                    "real_angle",
                    "Hole angle as drilled",
                    worked("2·asin(min(1; chord/D))", term(real, 4), term(d, 4), source="on the circle as drawn"),
                    unit="",
                    text=show_angle(turn, "dms"),
                )
            )
            checks.append(
                Check(
                    key="as_drilled",
                    label="Spacing as drilled",
                    value=real - next_,
                    unit="mm",
                    limits=Limits(-0.1, -0.03, 0.03, 0.1),
                    step=0.001,
                    features=("hole_diameter",),
                    figures=("real",),
                    reason="as drawn" if abs(real - next_) <= 0.03 else "off: check the next pair before moving any",
                )
            )
            rows += ["real", "real_angle"]
        table = Table(
            title=f"Ordinates, {LENGTH_UNIT}",
            header=("Hole", "X", "Y"),
            rows=tuple((str(i), length(p[0] + 0.0), length(p[1] + 0.0)) for i, p in enumerate(points, 1)),
        )
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            scenes=(self._scene(n, d, hole, pin, points, centre, next_),),
            table=table,
            groups=(
                Group("Bolt circle", ("holes", "circle_diameter", "start_angle", "hole_diameter", "x", "y")),
                Group("Spacing", ("chord", "index"), step),
                Group("Check over pins", tuple(rows)),
            ),
            steps=(
                SetupStep("Every ordinate from the one datum, never hole to hole", "errors add up from hole to hole"),
                SetupStep("Spot all, then drill all", "a spot in the wrong place still shows"),
                SetupStep("Pins in two neighbours, measure over them", "", f"{length(over, 3)} {LENGTH_UNIT}" if n > 1 else ""),
            ),
            cautions=("Lock the idle axes before every hole; clear the swarf before the next ordinate",),
        )

    def _scene(
        self,
        n: int,
        d: float,
        hole: float,
        pin: float,
        points: list[tuple[float, float]],
        centre: tuple[float, float],
        chord: float,
    ) -> Scene:
        r = d / 2
        elements: list[Element] = [Arc(centre, r, style=Style.CENTRE, feature="circle_diameter")]
        elements += [
            Line((centre[0] - r * 1.15, centre[1]), (centre[0] + r * 1.15, centre[1]), Style.CENTRE),
            Line((centre[0], centre[1] - r * 1.15), (centre[0], centre[1] + r * 1.15), Style.CENTRE),
        ]
        if centre != (0.0, 0.0):
            elements += [
                Line((0, -r * 0.1), (0, r * 0.2), Style.HIDDEN, "datum"),
                Line((-r * 0.1, 0), (r * 0.2, 0), Style.HIDDEN, "datum"),
            ]
        for i, p in enumerate(points, 1):
            elements.append(Arc(p, hole / 2, feature="hole_diameter"))
            if n <= 24:
                away = (
                    p[0] + (p[0] - centre[0]) / r * (hole / 2 + 0.06 * d),
                    p[1] + (p[1] - centre[1]) / r * (hole / 2 + 0.06 * d),
                )
                elements.append(Note(away, str(i), quiet=i != 1, align=0))
        if n > 1:
            elements.append(Line(points[0], points[1], Style.TOOL, "pin_diameter"))
        dims = [
            Dimension(
                "circle_diameter",
                (centre[0] - r, centre[1]),
                (centre[0] + r, centre[1]),
                Side.BELOW,
                prefix="Ø",
                entry="circle_diameter",
                feature="circle_diameter",
                step_mm=0.01,
                order=0,
            ),
            Dimension(
                "hole_diameter",
                points[0],
                (points[-1][0] * 0.55 + centre[0] * 0.45, points[-1][1] * 0.55 + centre[1] * 0.45),
                Side.AT,
                prefix="holes Ø",
                value_mm=hole,
                entry="hole_diameter",
                feature="hole_diameter",
                step_mm=0.01,
                order=1,
            ),
        ]
        if n > 1:
            middle = (
                (points[0][0] + points[1][0]) / 2 * 0.72 + centre[0] * 0.28,
                (points[0][1] + points[1][1]) / 2 * 0.72 + centre[1] * 0.28,
            )
            dims.append(
                Dimension(
                    "chord", points[0], middle, Side.AT, value_mm=chord, suffix="apart", feature="pin_diameter", step_mm=0.001
                )
            )
        return Scene("circle", "Holes on their circle, from above", tuple(elements), tuple(dims))


KIND = Circle()
