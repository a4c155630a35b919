"""A table stop: a body bolted into a slot, its tongue against the work."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.drawing.scene import Arc, Dimension, Element, Side
from elbrix.geometry.shapes import bounds, inside, placed, ray, rectangle
from elbrix.holding.bolted import bolt_load_check, bolt_pull_n, bolt_torque_parameter, stands_figure, stands_n, usual_bolt_torque
from elbrix.holding.contacts import Contact
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext, Solid, in_a_slot, slot_near
from elbrix.holding.owned import ShelfUse
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.results.length_text import torque_text
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import TableStop
from elbrix.standards.materials import nut_factor

_ASSUMED = TableStop(id="", body_mm=30, height_mm=25)
_TONGUE_MM = 8.0


def _owned(shop: Shop) -> tuple[TableStop, ...]:
    return shop.stops or (_ASSUMED,)


class StopElement:
    """See the module."""

    key = "stop"
    title = "Table stop"
    when = "Locates a side, and holds it against the cut"
    order = 3
    behaviour = Behaviour(name="stop", draggable=True)

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            *in_a_slot(machine, "Slot", "Position X", "Direction"),
            Parameter(name="stop", label="Stop", kind=Kind.CHOICE, unit="", choices=tuple((s.id, s.title) for s in _owned(shop))),
            bolt_torque_parameter(),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        left, low, *_ = bounds(piece.outline)
        slot, offset, beside = slot_near(machine, piece, chosen)
        stop = _owned(shop)[0]
        x = chosen["x"].value if "x" in chosen else left - stop.body_mm if beside else piece.middle[0]
        assert isinstance(x, float)
        if "direction" in chosen:
            turn = chosen["direction"].value
        else:
            turn = (0.0 if x < piece.middle[0] else math.pi) if beside else (math.pi / 2 if offset < low else -math.pi / 2)
        assert isinstance(turn, float)
        return Values(
            merge_choices(
                chosen,
                {
                    "slot": ParameterValue(slot, Origin.ASSUMED),
                    "x": ParameterValue(float(x), Origin.ASSUMED),
                    "direction": ParameterValue(turn, Origin.CALCULATED),
                    "stop": ParameterValue(stop.id, Origin.MEASURED if shop.stops else Origin.ASSUMED),
                    "bolt_torque": usual_bolt_torque(nut_factor("dry")),
                },
            )
        )

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return 0.0

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        stop = next((s for s in _owned(at.shop) if s.id == values.word("stop")), _owned(at.shop)[0])
        slot, turn = at.slot(values.word("slot")), values.number("direction")
        way = (math.cos(turn), math.sin(turn))
        root = at.stands_at(values.word("slot"), values.number("x"))
        met = ray(at.piece.outline, root, way)
        high = min(stop.height_mm, at.piece.top_mm)
        z = (max(at.piece.bottom_mm, 0.0) + high) / 2
        problem, end = "", root
        contacts: tuple[Contact, ...] = ()
        if slot is None:
            problem = "it stands between the slots: carry it to a slot"
        elif inside(at.piece.outline, root):
            problem = "it stands inside the work"
        elif met is None:
            problem = "its tongue points past the work"
        elif met[0] > stop.reach_mm:
            problem = f"its tongue ends {format_number(met[0] - stop.reach_mm, 1)} mm short of the work"
        elif high <= at.piece.bottom_mm:
            problem = "it is lower than the work's underside"
        if met is not None:
            end = (root[0] + way[0] * met[0], root[1] + way[1] * met[0])
        if not problem and met is not None:
            bears = stands_n(values.number("bolt_torque"), at.nut_factor)
            contacts = (Contact((end[0], end[1], z), (-met[1][0], -met[1][1], 0.0), at.mu, name, passive=True, most_n=bears),)
        ring = placed(rectangle(stop.body_mm, stop.body_mm), root[0], root[1], turn)
        length = math.dist(root, end)
        tongue = placed(rectangle(max(length, 1.0), _TONGUE_MM), (root[0] + end[0]) / 2, (root[1] + end[1]) / 2, turn)
        above: list[Element] = [*body(tongue, name), *body(ring, name), Arc(root, 5.0, feature=name), Arc(end, 2.0, feature=name)]
        low_on = (high - at.piece.bottom_mm) / at.piece.height_mm * 100
        checks = (
            ()
            if problem
            else (
                Check(
                    key=at.entry("height"),
                    label=f"Contact height, {name}",
                    value=low_on,
                    unit="%",
                    limits=Limits(marginal_below=25),
                    features=(name,),
                    reason=(
                        "high enough that the work does not climb over it"
                        if low_on >= 25
                        else "it holds only the lowest edge: the work may climb over it"
                    ),
                    derivation=Derivation(
                        "stop above the underside/work height",
                        f"({format_number(high, 1)} −"
                        f" {format_number(at.piece.bottom_mm, 1)})/{format_number(at.piece.height_mm, 1)}",
                    ),
                ),
                bolt_load_check(name, bolt_pull_n(values.number("bolt_torque"), at.nut_factor), at.entry("bolt_torque")),
            )
        )
        beyond = (root[0] - (stop.body_mm / 2 + 26) * way[0], root[1] - (stop.body_mm / 2 + 14) * way[1])
        return PlacedElement(
            name=name,
            uses=(ShelfUse(stop.title, stop.count),) if stop.id else (),
            contacts=contacts,
            solids=(
                Solid(ring=ring, bottom_mm=0.0, top_mm=stop.height_mm, name=name),
                Solid(ring=tongue, bottom_mm=0.0, top_mm=stop.height_mm, name=name),
            ),
            above=tuple(above),
            front=tuple(front(ring, 0.0, stop.height_mm, name)),
            dimensions=(
                Dimension(
                    at.entry("x"),
                    (0.0, root[1]),
                    beyond,
                    Side.AT,
                    value_mm=root[0],
                    prefix="x ",
                    entry=at.entry("x"),
                    feature=name,
                    step_mm=0.5,
                    order=10 + at.number,
                ),
            ),
            checks=checks,
            figures=(stands_figure(at.entry("bears"), name, values.number("bolt_torque"), at.nut_factor),),
            problem=problem,
            spot=root,
            name_at=(beyond[0], beyond[1] - 13),
            tighten=(
                f"{sentence(name)}: its bolt to {torque_text(values.number('bolt_torque'))} before the straps, the"
                " work pushed against it"
            ),
        )


ELEMENT = StopElement()
