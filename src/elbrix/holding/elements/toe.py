"""A toe clamp: bolted beside the work, its nose pushes sideways and a little down; the whole top stays free."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.drawing.scene import Arc, Dimension, Element, Line, Side, Style
from elbrix.geometry.shapes import bounds, inside, placed, ray, rectangle
from elbrix.holding.bolted import (
    bolt_load_check,
    bolt_pull_n,
    bolt_torque_parameter,
    stands_check,
    stands_figure,
    usual_bolt_torque,
)
from elbrix.holding.contacts import ClampForce
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext, Solid, in_a_slot, slot_near
from elbrix.holding.owned import ShelfUse
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import SCREW_CLASS, screw_load
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits, Points
from elbrix.results.figures import Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import torque_text
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Clamp, ClampKind
from elbrix.standards.materials import nut_factor
from elbrix.standards.threads import find_thread

_ASSUMED = Clamp(id="", kind=ClampKind.TOE, length_mm=60, width_mm=30, thickness_mm=18, slot_from_mm=20, slot_to_mm=44)
_SCREW, _SCREW_MM = "M10", 10.0  # its push screw
_GAP_MM = 14.0  # how far before the body its nose usually ends


def _owned(shop: Shop) -> tuple[Clamp, ...]:
    return tuple(c for c in shop.clamps if c.kind is ClampKind.TOE) or (_ASSUMED,)


class ToeElement:
    """See the module."""

    key = "toe"
    title = "Toe clamp"
    when = "The whole top is cut: it pushes the work sideways against stops, and down"
    order = 3
    behaviour = Behaviour(name="toe", draggable=True, moves_aside=True)

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            *in_a_slot(machine, "Slot", "Position X", "Direction", rings=True),
            Parameter(
                name="clamp", label="Clamp", kind=Kind.CHOICE, unit="", choices=tuple((c.id, c.title) for c in _owned(shop))
            ),
            Parameter(name="torque", label="Push screw torque", kind=Kind.NUMBER, unit="N·m", low=0.5, high=100, step=0.5),
            bolt_torque_parameter(),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        _, low, right, _ = bounds(piece.outline)
        clamp = _owned(shop)[0]
        slot, offset, beside = slot_near(machine, piece, chosen, rings=True)
        x = chosen["x"].value if "x" in chosen else right + clamp.length_mm / 2 + _GAP_MM if beside else piece.middle[0]
        assert isinstance(x, float)
        turn = (
            chosen["direction"].value
            if "direction" in chosen
            else (math.pi if x > piece.middle[0] else 0.0)
            if beside
            else (math.pi / 2 if offset < low else -math.pi / 2)
        )
        assert isinstance(turn, float)
        proposed = {
            "slot": ParameterValue(slot, Origin.ASSUMED),
            "x": ParameterValue(float(x), Origin.ASSUMED),
            "direction": ParameterValue(turn, Origin.CALCULATED),
            "clamp": ParameterValue(clamp.id, Origin.MEASURED if clamp.id else Origin.ASSUMED),
            "torque": ParameterValue(2.0, Origin.ASSUMED),
            "bolt_torque": usual_bolt_torque(nut_factor("dry")),
        }
        return Values(merge_choices(chosen, proposed))

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return 0.0

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        clamp = next((c for c in _owned(at.shop) if c.id == values.word("clamp")), _owned(at.shop)[0])
        slot, turn, torque = at.slot(values.word("slot")), values.number("direction"), values.number("torque")
        way = (math.cos(turn), math.sin(turn))
        root = at.stands_at(values.word("slot"), values.number("x"))
        met = ray(at.piece.outline, root, way)
        reach = clamp.length_mm
        end = (root[0] + way[0] * met[0], root[1] + way[1] * met[0]) if met else root
        z = at.piece.bottom_mm + min(0.6 * at.piece.height_mm, clamp.thickness_mm)
        problem = ""
        if slot is None:
            problem = "it stands between the slots: carry it to a slot"
        elif not at.reaches(values.word("slot"), root[0]):
            problem = "it stands outside the ring slot: nearer to the middle"
        elif inside(at.piece.outline, root):
            problem = "it stands inside the work"
        elif met is None:
            problem = "its nose points past the work"
        elif met[0] > reach:
            problem = f"its nose ends {format_number(met[0] - reach, 1)} mm short of the work"
        down = math.radians(clamp.down_deg)
        force = preload_n(torque, at.nut_factor, _SCREW_MM)
        square = -(met[1][0] * way[0] + met[1][1] * way[1]) if met else 1.0
        forces = (
            ()
            if problem
            else (
                ClampForce(
                    (end[0], end[1], z), (way[0] * math.cos(down), way[1] * math.cos(down), -math.sin(down)), force, 0.0, name
                ),
            )
        )
        long = clamp.length_mm * 0.7
        ring = placed(rectangle(long, clamp.width_mm), root[0], root[1], turn)
        beyond = (root[0] - (long / 2 + 24) * way[0], root[1] - (long / 2 + 16) * way[1])
        above: list[Element] = [
            *body(ring, name),
            Arc(root, 7.0, feature=name),
            Line(root, end, Style.CENTRE, name),
            Arc(end, 2.5, style=Style.TOOL, feature=name),
        ]
        checks = (
            ()
            if problem
            else (
                Check(
                    key=at.entry("square"),
                    label=f"Squareness, {name}",
                    value=math.degrees(math.acos(max(-1.0, min(1.0, square)))),
                    unit="deg",
                    limits=Limits(marginal_above=8.0, no_above=25.0),
                    features=(name,),
                    figures=(at.entry("direction"),),
                    reason=(
                        "it pushes straight at the side" if square > 0.99 else "it pushes along the side as well: the work creeps"
                    ),
                ),
                stands_check(
                    at.entry("stays"),
                    name,
                    force * math.cos(down),
                    values.number("bolt_torque"),
                    at.nut_factor,
                    at.entry("bolt_torque"),
                ),
                screw_load(
                    at.entry("screw"),
                    f"Push screw load, {name}",
                    force,
                    find_thread(parse_thread(_SCREW)),
                    SCREW_CLASS,
                    Points(features=(name,), figures=(at.entry("torque"),), remedies=(at.entry("torque"),)),
                ),
                bolt_load_check(name, bolt_pull_n(values.number("bolt_torque"), at.nut_factor), at.entry("bolt_torque")),
                Check(
                    key=at.entry("toe_high"),
                    label=f"Downward force, {name}",
                    value=clamp.down_deg,
                    unit="deg",
                    limits=Limits(marginal_below=5.0),
                    features=(name,),
                    reason=(
                        "its nose presses the work onto the table"
                        if clamp.down_deg >= 5
                        else "without a push down the work climbs"
                    ),
                ),
            )
        )
        figures = (
            stands_figure(at.entry("bears"), name, values.number("bolt_torque"), at.nut_factor),
            reckoned(
                at.entry("push"),
                "Nose force",
                worked(
                    "T/(K·d)",
                    term(torque, 3, "N·m"),
                    at.nut_factor,
                    term(_SCREW_MM, 3, "mm"),
                    source="friction scatters by 30 % either way",
                ),
                unit="kN",
                features=(name,),
            ),
        )
        dims = (
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
        )
        return PlacedElement(
            name=name,
            uses=(ShelfUse(clamp.title, clamp.count),) if clamp.id else (),
            forces=forces,
            solids=(Solid(ring=ring, bottom_mm=0.0, top_mm=clamp.thickness_mm, name=name),),
            above=tuple(above),
            front=tuple(front(ring, 0.0, clamp.thickness_mm, name)),
            dimensions=dims,
            checks=checks,
            figures=figures,
            problem=problem,
            spot=root,
            name_at=(beyond[0], beyond[1] - 13),
            tighten=(
                f"{sentence(name)}: bolted down first, {torque_text(values.number('bolt_torque'))}, then the push screw to"
                f" {torque_text(torque, 1)}"
            ),
            cautions=("A toe clamp needs a stop on the far side: without one it pushes the work away",),
        )


ELEMENT = ToeElement()
