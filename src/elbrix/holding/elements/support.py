"""A block or jack under the work; the work then stands off the table."""

from __future__ import annotations

from collections.abc import Mapping

from elbrix.drawing.scene import Dimension, Side, Style
from elbrix.geometry.shapes import clipped, is_face, placed, rectangle
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext, Solid
from elbrix.holding.owned import ShelfUse
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Origin, format_number
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, SupportBlock

_ASSUMED = SupportBlock(id="", kind=BlockKind.RISER, min_height_mm=25, max_height_mm=25, length_mm=50, width_mm=25)
_LEVEL_MM = 0.02


def _owned(shop: Shop) -> tuple[SupportBlock, ...]:
    return shop.supports or (_ASSUMED,)


class SupportElement:
    """See the module."""

    key = "support"
    title = "Support under the work"
    when = "The cut goes through, or the work is hollow below"
    order = 4
    behaviour = Behaviour(name="support", draggable=True)

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            Parameter(name="x", label="Position X", kind=Kind.LENGTH, low=-3000, high=3000, step=1),
            Parameter(name="y", label="Position Y", kind=Kind.LENGTH, low=-2000, high=2000, step=1),
            Parameter(
                name="block", label="Block", kind=Kind.CHOICE, unit="", choices=tuple((b.id, b.title) for b in _owned(shop))
            ),
            Parameter(
                name="height", label="Support height", kind=Kind.LENGTH, low=0.5, high=500, step=0.01, usually="all of them alike"
            ),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        plain = [b for b in _owned(shop) if b.kind in (BlockKind.RISER, BlockKind.JACK)] or list(_owned(shop))
        block = next((b for b in _owned(shop) if "block" in chosen and b.id == chosen["block"].value), plain[0])
        side = (number % 2) * 2 - 1
        span = max(abs(p[0] - piece.middle[0]) for p in piece.outline)
        proposed = {
            "x": ParameterValue(piece.middle[0] + side * 0.6 * span, Origin.ASSUMED),
            "y": ParameterValue(piece.middle[1], Origin.ASSUMED),
            "block": ParameterValue(block.id, Origin.MEASURED if shop.supports else Origin.ASSUMED),
            "height": ParameterValue(block.min_height_mm, Origin.CALCULATED),
        }
        return Values(merge_choices(chosen, proposed))

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return values.number("height")

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        block = next((b for b in _owned(at.shop) if b.id == values.word("block")), _owned(at.shop)[0])
        root, high = (values.number("x"), values.number("y")), values.number("height")
        ring = placed(rectangle(block.length_mm, block.width_mm), *root, 0.0)
        seat = clipped(at.piece.outline, ring)
        short = at.piece.bottom_mm - high
        problem = "" if is_face(seat) else "it stands beside the work, not under it"
        if not problem and short > _LEVEL_MM:
            problem = f"it is {format_number(short, 2)} mm lower than the others: the work rocks"
        if not problem and short < -_LEVEL_MM:
            problem = f"it is {format_number(-short, 2)} mm higher than the others: the work rocks on it"
        reach = block.height_for(high)
        if not problem and (reach is None or abs(reach - high) > _LEVEL_MM):
            problem = f"{block.title} does not come to {format_number(high, 2)}"
        checks = (
            ()
            if problem
            else (
                Check(
                    key=at.entry("level"),
                    label=f"Level, {name}",
                    value=short,
                    unit="mm",
                    limits=Limits(-_LEVEL_MM, -_LEVEL_MM, _LEVEL_MM, _LEVEL_MM),
                    step=0.01,
                    features=(name,),
                    figures=(at.entry("height"),),
                    reason="all at one height",
                ),
            )
        )
        dims = (
            Dimension(
                at.entry("x"),
                (0.0, root[1]),
                root,
                Side.AT,
                value_mm=root[0],
                prefix="x ",
                entry=at.entry("x"),
                feature=name,
                step_mm=0.5,
                order=10 + at.number,
            ),
        )
        return PlacedElement(
            name=name,
            uses=(ShelfUse(block.title, block.count),) if block.id else (),
            seats=(seat,) if not problem else (),
            solids=(Solid(ring=ring, bottom_mm=0.0, top_mm=high, name=name),),
            above=tuple(body(ring, name, Style.HIDDEN)),
            front=tuple(front(ring, 0.0, high, name, Style.SURROUNDINGS)),
            dimensions=dims,
            checks=checks,
            problem=problem,
            spot=root,
        )


ELEMENT = SupportElement()
