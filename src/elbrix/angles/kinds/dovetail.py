"""A dovetail measured over or between rods, and the gib or shim that takes up its play."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.angles.kinds.plain import PlainKind, beside, parameter_figures, propose_plain
from elbrix.angles.over_pins import dovetail_female, dovetail_male, rod_touch_mm
from elbrix.angles.setup import AngleSetup, SetupStep
from elbrix.drawing.scene import Arc, Dimension, Element, Path, Scene, Side, Style
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

SHAPES = (("male", "male, narrow at the root"), ("female", "female, wide at the floor"))
PARAMETERS = (
    Parameter(name="shape", label="Dovetail type", kind=Kind.CHOICE, unit="", choices=SHAPES),
    Parameter(
        name="corner_width",
        label="Corner width",
        kind=Kind.LENGTH,
        low=1,
        high=1000,
        step=0.01,
        usually="root of a male, floor of a female",
        feature="corners",
    ),
    Parameter(name="height", label="Dovetail height", kind=Kind.LENGTH, low=0.5, high=300, step=0.01, feature="flank_angle"),
    Parameter(name="flank_angle", label="Flank angle", kind=Kind.ANGLE, unit="", low=20, high=85, feature="flank_angle"),
    Parameter(
        name="rod_diameter",
        label="Rod Ø",
        kind=Kind.LENGTH,
        low=0.5,
        high=100,
        step=0.001,
        usually="two measured pins of one size",
        feature="rod_diameter",
    ),
    Parameter(
        name="over_rods",
        label="Measured over rods",
        kind=Kind.LENGTH,
        low=0,
        high=1200,
        step=0.001,
        usually="0: not measured yet",
        feature="rod_diameter",
    ),
    Parameter(
        name="side_play",
        label="Side play",
        kind=Kind.LENGTH,
        low=0,
        high=20,
        step=0.01,
        usually="slide pushed over, feeler or indicator",
        feature="flank_angle",
    ),
    Parameter(
        name="gib_thickness",
        label="Gib thickness",
        kind=Kind.LENGTH,
        low=0,
        high=30,
        step=0.1,
        usually="0: a shim takes the play up",
        feature="flank_angle",
    ),
)


class Dovetail(PlainKind):
    """See the module."""

    key = "dovetail"
    title = "A dovetail over rods"
    when = "How wide is the dovetail in its corners, and what takes up the play?"
    order = 4

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return PARAMETERS

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        return propose_plain(
            chosen,
            {
                "shape": "male",
                "corner_width": 60.0,
                "height": 12.0,
                "flank_angle": math.radians(55),
                "rod_diameter": 10.0,
                "over_rods": 0.0,
                "side_play": 0.0,
                "gib_thickness": 0.0,
            },
        )

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        male = values.word("shape") == "male"
        w, h, a, rod = (values.number(n) for n in ("corner_width", "height", "flank_angle", "rod_diameter"))
        try:
            across, other = (dovetail_male if male else dovetail_female)(w, h, a, rod)
        except ShopError as error:
            raise beside(error, "rod_diameter") from None
        sign, word = (1, "over") if male else (-1, "between")
        cot = 1 / math.tan(a / 2)
        # A rod in the corner touches the flank this high above the floor; higher than the flank it rests on the edge.
        touch = rod_touch_mm(a, rod)
        figures = [
            *parameter_figures(PARAMETERS, values),
            reckoned(
                "across",
                f"Size {word} rods",
                worked(
                    f"W {'+' if male else '−'} P·(1 + 1/tan(α/2))",
                    term(w, 4),
                    term(rod, 4),
                    term(math.degrees(a), 6, "°"),
                    source="a rod touches floor and flank",
                ),
                step=0.001,
                features=("rod_diameter",),
            ),
            reckoned(
                "other",
                "Width at the top" if male else "Narrow at the top",
                worked(
                    f"W {'+' if male else '−'} 2·h/tan(α)",
                    term(w, 4),
                    h,
                    term(math.degrees(a), 6, "°"),
                    source="to sharp corners",
                ),
                step=0.001,
                features=("flank_angle",),
            ),
            reckoned(
                "touch",
                "Rod contact height",
                worked("(P/2)·(1 + cos(α))", rod, term(math.degrees(a), 6, "°"), source="height above the floor"),
                step=0.01,
                features=("rod_diameter",),
            ),
        ]
        checks = [
            Check(
                key="touch",
                label="Rod contact over height",
                value=touch / h,
                unit="",
                limits=Limits(marginal_above=0.85, no_above=1.0),
                text=f"{touch / h:.0%}",
                features=("rod_diameter", "flank_angle"),
                figures=("touch", "rod_diameter"),
                reason=(
                    "they rest on the edge, not on the flank: take thinner rods"
                    if touch > h
                    else "near the edge"
                    if touch > 0.85 * h
                    else "well inside the flank"
                ),
            )
        ]
        rows = ["shape", "corner_width", "height", "flank_angle", "rod_diameter", "across", "over_rods"]
        if values.number("over_rods"):
            real = values.number("over_rods") - sign * rod * (1 + cot)
            if real <= 0:
                raise EntryError(
                    "Dovetail, reading",
                    f"{format_number(values.number('over_rods'), 3)} leaves no width",
                    f"The rods alone take {format_number(rod * (1 + cot), 3)}",
                    f"Measure {word} the rods again",
                    "over_rods",
                )
            figures.append(
                reckoned(
                    "real",
                    "Dovetail width as cut",
                    worked(
                        f"reading {'−' if male else '+'} P·(1 + 1/tan(α/2))",
                        term(values.number("over_rods"), 4),
                        rod,
                        term(math.degrees(a), 6, "°"),
                        source="the formula turned round",
                    ),
                    step=0.001,
                    features=("corners",),
                )
            )
            checks.append(
                Check(
                    key="as_cut",
                    label="Width as cut",
                    value=real - w,
                    unit="mm",
                    limits=Limits(-0.1, -0.02, 0.02, 0.1),
                    step=0.001,
                    features=("corners",),
                    figures=("real",),
                    reason="as drawn" if abs(real - w) <= 0.02 else "wider than drawn" if real > w else "narrower than drawn",
                )
            )
            rows.append("real")
        play, gib = values.number("side_play"), values.number("gib_thickness")
        figures += [
            reckoned(
                "shim",
                "Shim thickness",
                worked("x·sin(α)", play, term(math.degrees(a), 6, "°"), source="the play square to the flank"),
                step=0.01,
                features=("flank_angle",),
            ),
            reckoned(
                "off_slide",
                "Metal to remove for gib",
                worked(
                    "max(0; s/sin(α) − x)",
                    gib,
                    term(math.degrees(a), 6, "°"),
                    play,
                    source="plus what the gib's screws need to adjust",
                ),
                step=0.01,
                features=("flank_angle",),
            ),
        ]
        takes = ["side_play", "shim", "gib_thickness", "off_slide"] if gib else ["side_play", "shim", "gib_thickness"]
        if gib:
            checks.append(
                Check(
                    key="gib",
                    label="Gib thick enough",
                    value=gib,
                    unit="mm",
                    limits=Limits(marginal_below=2.5, no_below=1.0),
                    step=0.1,
                    features=("flank_angle",),
                    figures=("gib_thickness",),
                    reason=(
                        "it will not bow between its screws"
                        if gib >= 2.5
                        else "a thin gib bows between its screws: more screws, or a thicker one"
                    ),
                )
            )
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            scenes=(self._scene(male, w, h, a, rod, across, other),),
            groups=(
                Group("Dovetail and rods", tuple(rows)),
                Group("Results", ("other", "touch")),
                Group("Side play", tuple(takes), "shim or gib"),
            ),
            steps=(
                SetupStep("Relieve or clean the corners: no swarf under the rods", "the formula is for rods down in the corner"),
                SetupStep(
                    f"Lay two rods Ø{length(rod, 3)} in the corners, measure {word} them",
                    "at both ends: a difference is taper",
                    f"{length(across, 3)} {LENGTH_UNIT}",
                ),
                SetupStep("Type the reading: the width in the corners follows"),
            ),
            cautions=("Dovetail edges cut: deburr before measuring, and stop the spindle",),
        )

    def _scene(self, male: bool, w: float, h: float, a: float, rod: float, across: float, other: float) -> Scene:
        r, out = rod / 2, max(w, other) / 2 + max(0.25 * w, 2.6 * rod)
        ring: tuple[tuple[float, float], ...]
        if male:
            ring = (
                (-out, 0),
                (-w / 2, 0),
                (-other / 2, h),
                (other / 2, h),
                (w / 2, 0),
                (out, 0),
                (out, -0.7 * h),
                (-out, -0.7 * h),
            )
            centre = across / 2 - r
        else:
            ring = (
                (-out, h),
                (-other / 2, h),
                (-w / 2, 0),
                (w / 2, 0),
                (other / 2, h),
                (out, h),
                (out, -0.7 * h),
                (-out, -0.7 * h),
            )
            centre = across / 2 + r
        elements: list[Element] = [
            Path(ring, Style.BODY, "block", closed=True),
            Path(ring, Style.VISIBLE, "flank_angle", closed=True),
        ]
        for s in (-1, 1):
            elements.append(Arc((s * centre, r), r, feature="rod_diameter"))
        left = -across / 2
        dims = (
            Dimension(
                "corner_width",
                (-w / 2, 0),
                (w / 2, 0),
                Side.BELOW,
                entry="corner_width",
                feature="corners",
                step_mm=0.01,
                order=0,
            ),
            Dimension("height", (out, 0), (out, h), Side.RIGHT, entry="height", feature="flank_angle", step_mm=0.01, order=1),
            Dimension(
                "across",
                (left, r),
                (-left, r),
                Side.ABOVE,
                feature="rod_diameter",
                step_mm=0.001,
                suffix="over the rods" if male else "between the rods",
            ),
            Dimension(
                "flank_angle",
                (w / 2, 0),
                ((w + other) / 4 - 0.14 * w, h * 0.5),
                Side.AT,
                text=f"{math.degrees(a):g}°",
                value_mm=math.degrees(a),
                entry="flank_angle",
                feature="flank_angle",
                order=2,
            ),
            Dimension(
                "rod_diameter",
                (centre, r),
                (-centre, r),
                Side.AT,
                value_mm=rod,
                prefix="Ø",
                entry="rod_diameter",
                feature="rod_diameter",
                step_mm=0.001,
                order=3,
            ),
        )
        return Scene("dovetail", "Dovetail with its rods, end on", tuple(elements), dims)


KIND = Dovetail()
