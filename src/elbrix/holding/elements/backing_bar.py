"""A bar under thin work, level with what else it lies on: it may be cut into, and takes the sag out of the middle."""

from __future__ import annotations

from collections.abc import Mapping

from elbrix.drawing.scene import Dimension, Side, Style
from elbrix.geometry.shapes import bounds, clipped, is_face, placed, rectangle
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Origin
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

_HIGH_MM, _WIDE_MM = 12.0, 20.0
_LEVEL_MM = 0.02


class BackingBarElement:
    """See the module."""

    key = "backing_bar"
    title = "Backing bar"
    when = "Thin work between parallels or supports, or a cut that goes through"
    order = 6
    behaviour = Behaviour(name="backing bar", draggable=True)

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            Parameter(name="x", label="Position X", kind=Kind.LENGTH, low=-3000, high=3000, step=1),
            Parameter(name="y", label="Position Y", kind=Kind.LENGTH, low=-2000, high=2000, step=1),
            Parameter(name="direction", label="Direction", kind=Kind.ANGLE, unit="", low=-360, high=360, usually="0: along X"),
            Parameter(name="length", label="Bar length", kind=Kind.LENGTH, low=5, high=2000, step=1),
            Parameter(name="width", label="Bar width", kind=Kind.LENGTH, low=2, high=500, step=0.5),
            Parameter(
                name="height",
                label="Bar top above the table",
                kind=Kind.LENGTH,
                low=0.5,
                high=500,
                step=0.01,
                usually="level with what the work lies on",
            ),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        left, _, right, _ = bounds(piece.outline)
        a = Origin.ASSUMED
        proposed = {
            "x": ParameterValue(piece.middle[0], a),
            "y": ParameterValue(piece.middle[1], a),
            "direction": ParameterValue(0.0, a),
            "length": ParameterValue(right - left, a),
            "width": ParameterValue(_WIDE_MM, a),
            "height": ParameterValue(piece.bottom_mm or _HIGH_MM, Origin.CALCULATED),
        }
        return Values(merge_choices(chosen, proposed))

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return values.number("height")

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        root, high = (values.number("x"), values.number("y")), values.number("height")
        ring = placed(rectangle(values.number("length"), values.number("width")), *root, values.number("direction"))
        seat = clipped(at.piece.outline, ring)
        short = at.piece.bottom_mm - high
        problem = "" if is_face(seat) else "it lies beside the work, not under it"
        bears = not problem and short <= _LEVEL_MM
        return PlacedElement(
            name=name,
            seats=(seat,) if bears else (),
            above=tuple(body(ring, name, Style.HIDDEN)),
            front=tuple(front(ring, max(0.0, high - _HIGH_MM), high, name, Style.SURROUNDINGS)),
            dimensions=(
                Dimension(
                    at.entry("y"),
                    (root[0], 0.0),
                    root,
                    Side.AT,
                    value_mm=root[1],
                    prefix="y ",
                    entry=at.entry("y"),
                    feature=name,
                    step_mm=0.5,
                    order=10 + at.number,
                ),
            ),
            checks=(
                ()
                if problem
                else (
                    Check(
                        key=at.entry("level"),
                        label=f"Gap under the work, {name}",
                        value=short,
                        unit="mm",
                        limits=Limits(marginal_above=_LEVEL_MM),
                        step=0.01,
                        features=(name,),
                        figures=(at.entry("height"),),
                        remedies=(at.entry("height"),),
                        reason=(
                            "it bears the work"
                            if bears
                            else "it is lower than the others and bears nothing: shim it until the work just touches"
                        ),
                    ),
                )
            ),
            problem=problem,
            spot=root,
            tighten=f"{sentence(name)}: slid under until it just drags, before anything is tightened",
        )


ELEMENT = BackingBarElement()
