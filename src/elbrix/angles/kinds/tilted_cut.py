"""A cut at an angle through a thickness: how far over, how long, and how far to go before the flat is as wide as drawn."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.angles.cuts import chamfer, flat_table
from elbrix.angles.kinds.plain import PlainKind, beside, parameter_figures, propose_plain
from elbrix.angles.over_pins import tilted_cut
from elbrix.angles.pictures import along
from elbrix.angles.setup import AngleSetup, SetupStep, Table
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Path, Scene, Side, Style
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

PARAMETERS = (
    Parameter(name="thickness", label="Work thickness", kind=Kind.LENGTH, low=0.5, high=500, step=0.1, feature="thickness"),
    Parameter(
        name="cut_angle", label="Cut angle", kind=Kind.ANGLE, unit="", low=1, high=89, usually="from the drawing", feature="cut"
    ),
    Parameter(name="flat_width", label="Flat width", kind=Kind.LENGTH, low=0, high=500, step=0.1, feature="cut"),
    Parameter(name="length", label="Work length", kind=Kind.LENGTH, low=0, high=2000, step=0.5, feature="block"),
    Parameter(
        name="table_travel",
        label="Table travel",
        kind=Kind.LENGTH,
        low=0,
        high=3000,
        step=1,
        usually="of the machine's table in that direction",
    ),
    Parameter(
        name="edge_length",
        label="Cutter edge length",
        kind=Kind.LENGTH,
        low=0,
        high=300,
        step=0.5,
        usually="length of the flank that cuts",
        feature="cut",
    ),
)


class TiltedCut(PlainKind):
    """See the module."""

    key = "tilted_cut"
    title = "A tilted cut or chamfer"
    when = "How far to feed in, and over, for the flat the drawing shows"
    order = 5

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return PARAMETERS

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        longest = max((m.table_length_mm for m in shop.machines), default=400.0)
        return propose_plain(
            chosen,
            {
                "thickness": 20.0,
                "cut_angle": math.radians(53 + 14 / 60),
                "flat_width": 0.0,
                "length": 60.0,
                "table_travel": longest * 0.6,
                "edge_length": 0.0,
            },
        )

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        t, a, flat = values.number("thickness"), values.number("cut_angle"), values.number("flat_width")
        try:
            over, through = tilted_cut(t, a)
            rows = flat_table(a, t)
        except ShopError as error:
            raise beside(error, "thickness") from None
        wanted = min(flat, through) if flat else through
        infeed = wanted * math.sin(2 * a) / 2
        corner = chamfer(a, max(1e-6, wanted * math.cos(a)), values.number("edge_length"))
        figures = [
            *parameter_figures(PARAMETERS, values),
            reckoned(
                "over",
                "Run, full thickness",
                worked("T/tan(α)", t, term(math.degrees(a), 6, "°"), source="along the face"),
                step=0.01,
                features=("cut",),
            ),
            reckoned(
                "through", "Cut face length", worked("T/sin(α)", t, term(math.degrees(a), 6, "°")), step=0.01, features=("cut",)
            ),
            reckoned(
                "edge_run",
                "Run from the edge",
                worked(
                    "T·tan(α)",
                    t,
                    term(math.degrees(a), 6, "°"),
                    source="when the angle is given from the normal: which of the two the drawing means decides the part",
                ),
                step=0.01,
                features=("cut",),
            ),
            reckoned(
                "infeed",
                "Infeed",
                worked(
                    "flat·sin(2·α)/2", wanted, term(math.degrees(a), 6, "°"), source="from touching the corner, square to the cut"
                ),
                step=0.01,
                features=("cut",),
            ),
            reckoned(
                "leg_face",
                "Leg on the face",
                worked("flat·cos(α)", wanted, term(math.degrees(a), 6, "°")),
                step=0.01,
                features=("cut",),
            ),
            reckoned(
                "leg_edge",
                "Leg on the thickness",
                worked("flat·sin(α)", wanted, term(math.degrees(a), 6, "°")),
                step=0.01,
                features=("cut",),
            ),
        ]
        checks = [
            Check(
                key="flat",
                label="Flat over thickness cut",
                value=(flat or through) / through,
                unit="",
                limits=Limits(no_above=1.0),
                text=f"{(flat or through) / through:.0%}",
                features=("cut",),
                figures=("flat_width",),
                reason="the whole thickness has no wider flat" if flat > through else "it fits in the thickness",
            ),
            Check(
                key="travel",
                label="Spare travel",
                value=values.number("table_travel") - values.number("length"),
                unit="mm",
                limits=Limits(marginal_below=20, no_below=0),
                step=0.5,
                figures=("table_travel", "length"),
                reason=(
                    "the cutter also has to run in and out: allow its diameter"
                    if values.number("table_travel") - values.number("length") < 20
                    else "room to run in and out"
                ),
            ),
        ]
        if corner.steps:
            checks.append(
                Check(
                    key="steps",
                    label="Number of passes",
                    value=corner.steps,
                    unit="",
                    limits=Limits(marginal_above=1),
                    features=("cut",),
                    figures=("edge_length",),
                    text=f"{corner.steps}",
                    reason=(
                        "the edge covers the cut in one"
                        if corner.steps == 1
                        else "the cut is wider than the edge: overlapping steps, and a witness line between them"
                    ),
                )
            )
        table = Table(
            title=f"As it grows, {LENGTH_UNIT}",
            header=("Infeed", "Leg on the face", "Flat"),
            rows=tuple((length(r.infeed_mm, 2), length(r.along_face_mm, 2), length(r.flat_mm, 2)) for r in rows),
        )
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            scenes=(self._scene(t, a, over, wanted),),
            table=table,
            groups=(
                Group("Cut", ("thickness", "cut_angle", "flat_width", "infeed", "leg_face", "leg_edge")),
                Group("Full thickness", ("over", "through", "edge_run")),
                Group("Machine and cutter", ("length", "table_travel", "edge_length")),
            ),
            steps=(
                SetupStep("Touch the corner, note the dial", "paper or a turned-back cutter; that is infeed nought"),
                SetupStep(
                    "Feed square to the cut and measure the flat",
                    "the table says how far it should be",
                    f"{length(infeed, 2)} {LENGTH_UNIT} for {length(wanted, 2)}",
                ),
            ),
            cautions=("A corner cut starts as a line: light first cuts, the full width comes only at the end",),
        )

    def _scene(self, t: float, a: float, over: float, wanted: float) -> Scene:
        """The face lies on top; the cut leans from it at the angle, starting at the right upper corner."""
        wide = max(over * 1.5, t * 2.2)
        off_face, off_edge = wanted * math.cos(a), wanted * math.sin(a)
        start, end = (wide - off_face, t), (wide, t - off_edge)
        kept = ((0, 0), (wide, 0), end, start, (0, t))
        elements: list[Element] = [
            Path(kept, Style.BODY, "block", closed=True),
            Path(kept, Style.VISIBLE, "block", closed=True),
            Path((start, (wide, t), end), Style.HIDDEN, "cut"),
            Line(start, end, Style.TOOL, "cut"),
        ]
        elements.append(Arc(start, 0.6 * min(off_face, off_edge) + 1e-6, -math.degrees(a), 0, Style.CENTRE, "cut"))
        dims = (
            Dimension("thickness", (0, 0), (0, t), Side.LEFT, entry="thickness", feature="thickness", step_mm=0.1, order=0),
            Dimension(
                "cut_angle",
                start,
                along(start, -a / 2, 0.62 * min(off_face, off_edge), 0),
                Side.AT,
                text=f"{math.degrees(a):.4g}°",
                value_mm=math.degrees(a),
                entry="cut_angle",
                feature="cut",
                order=1,
            ),
            Dimension("leg_face", start, (wide, t), Side.ABOVE, feature="cut", step_mm=0.01),
            Dimension("leg_edge", (wide, t), end, Side.RIGHT, feature="cut", step_mm=0.01),
        )
        return Scene("cut", "The cut, end on", tuple(elements), dims)


KIND = TiltedCut()
