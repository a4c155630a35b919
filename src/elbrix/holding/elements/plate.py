"""A fixture plate on the table: the work lies on it, held by screws and located by pins through its own holes."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.drawing.scene import Arc, Element, Line, Style
from elbrix.geometry.shapes import Point, Ring, bounds, clipped, hull, inside, is_face, placed, rectangle
from elbrix.holding.contacts import ClampForce, Contact
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext, Solid
from elbrix.holding.mounted import bolted_mount, mount_parameters, usual_mount
from elbrix.holding.owned import fasteners_use
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import SCREW_CLASS, screw_load
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits, Points
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import torque_text
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import FastenerKind
from elbrix.standards.materials import PRELOAD_SCATTER
from elbrix.standards.screws import head
from elbrix.standards.threads import find_thread

_PINS = (("none", "none"), ("two full", "two full pins"), ("relieved", "one full, one relieved"))
#: Directions a full pin is taken to push in.
_WAYS = 8


def _name_place(ring: Ring, piece: Piece) -> Point:
    """In the middle of what the work leaves free between it and the plate's front or rear edge."""
    left, low, right, high = bounds(ring)
    _, front_of_work, _, rear_of_work = bounds(piece.outline)
    front, rear = front_of_work - low, high - rear_of_work
    return ((left + right) / 2, high - rear / 2 if rear >= front else low + front / 2)


class PlateElement:
    """See the module."""

    key = "plate"
    title = "Fixture plate"
    when = "The work has holes of its own, and its whole top is cut"
    order = 5
    behaviour = Behaviour(name="fixture plate")

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            Parameter(name="length", label="Plate length", kind=Kind.LENGTH, low=20, high=2000, step=1),
            Parameter(name="width", label="Plate width", kind=Kind.LENGTH, low=20, high=1000, step=1),
            Parameter(name="thickness", label="Plate thickness", kind=Kind.LENGTH, low=3, high=200, step=0.1),
            Parameter(
                name="screw_positions",
                label="Screw positions",
                kind=Kind.PLACES,
                unit="",
                usually="x,y; x,y from the work's middle",
            ),
            Parameter(name="thread", label="Screw thread", kind=Kind.THREAD, unit=""),
            Parameter(name="torque", label="Tightening torque", kind=Kind.NUMBER, unit="N·m", low=0.2, high=300, step=0.5),
            Parameter(name="pins", label="Pins", kind=Kind.CHOICE, unit="", choices=_PINS),
            Parameter(
                name="pin_positions", label="Pin positions", kind=Kind.PLACES, unit="", usually="x,y; x,y from the work's middle"
            ),
            Parameter(name="pin_diameter", label="Pin Ø", kind=Kind.LENGTH, low=1, high=60, step=0.001),
            Parameter(
                name="pin_clearance",
                label="Pin clearance",
                kind=Kind.LENGTH,
                low=0,
                high=1,
                step=0.001,
                usually="diametral clearance",
            ),
            Parameter(
                name="spacing_error",
                label="Pin spacing error",
                kind=Kind.LENGTH,
                low=0,
                high=2,
                step=0.001,
                usually="work against plate, at worst",
            ),
            *mount_parameters("four, at its corners"),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        left, low, right, high = bounds(piece.outline)
        across = (right - left) / 2 * 0.6
        row = f"{-across:.1f},0; {across:.1f},0"
        a = Origin.ASSUMED
        return Values(
            merge_choices(
                chosen,
                {
                    "length": ParameterValue(right - left + 60, a),
                    "width": ParameterValue(high - low + 40, a),
                    "thickness": ParameterValue(16.0, a),
                    "screw_positions": ParameterValue(row, a),
                    "thread": ParameterValue("M6x1", a),
                    "torque": ParameterValue(6.0, a),
                    "pins": ParameterValue("relieved", a),
                    "pin_positions": ParameterValue(row, a),
                    "pin_diameter": ParameterValue(6.0, a),
                    "pin_clearance": ParameterValue(0.02, a),
                    "spacing_error": ParameterValue(0.02, a),
                    **usual_mount("4"),
                },
            )
        )

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return values.number("thickness")

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        piece, thick = at.piece, values.number("thickness")
        ring = placed(rectangle(values.number("length"), values.number("width")), *piece.middle, 0.0)
        seat = clipped(piece.outline, ring)
        screws, pins = self._places(values, "screw_positions", piece), self._places(values, "pin_positions", piece)[:2]
        thread = find_thread(parse_thread(values.word("thread")))
        pull = preload_n(values.number("torque"), at.nut_factor, thread.major_mm)
        size = f"M{thread.major_mm:g}" if thread.metric else thread.name.rpartition("-")[0]
        try:
            head_d, head_h = head("socket_cap", size, "head_d").value, head("socket_cap", size, "head_h").value
        except ShopError:
            head_d, head_h = 1.5 * thread.major_mm, thread.major_mm
        problem = ""
        if not is_face(seat):
            problem = "the work does not lie on it"
        elif outside := [p for p in screws if not inside(piece.outline, p)]:
            problem = (
                f"a screw at {format_number(outside[0][0] - piece.middle[0])}, {format_number(outside[0][1] - piece.middle[1])}"
                " is beside the work"
            )
        forces = (
            ()
            if problem
            else tuple(
                ClampForce((x, y, piece.top_mm), (0, 0, -1), pull, at.mu / 2, f"{name}, screw {i}")
                for i, (x, y) in enumerate(screws, 1)
            )
        )
        contacts: list[Contact] = []
        mode = values.word("pins")
        z = piece.bottom_mm + min(0.3 * piece.height_mm, values.number("pin_diameter"))
        r = values.number("pin_diameter") / 2
        over: list[Element] = []
        if mode != "none" and len(pins) == 2 and not problem:
            line = math.atan2(pins[1][1] - pins[0][1], pins[1][0] - pins[0][0])
            for i, (x, y) in enumerate(pins):
                # A relieved pin touches only across the line to the other one.
                ways = (
                    [line + math.pi / 2, line - math.pi / 2]
                    if i == 1 and mode == "relieved"
                    else [2 * math.pi * k / _WAYS for k in range(_WAYS)]
                )
                # Without friction: a pin with play is never pressed from both sides at once, and would else grip without limit.
                contacts += [
                    Contact(
                        (x + r * math.cos(w), y + r * math.sin(w), z),
                        (math.cos(w), math.sin(w), 0.0),
                        0.0,
                        f"{name}, pin {i + 1}",
                    )
                    for w in ways
                ]
                over.append(Arc((x, y), r, feature=name))
                if i == 1 and mode == "relieved":
                    over.append(
                        Line(
                            (x - r * math.cos(line), y - r * math.sin(line)),
                            (x + r * math.cos(line), y + r * math.sin(line)),
                            Style.THIN,
                            name,
                        )
                    )
        over += [
            e
            for x, y in screws
            for e in (Arc((x, y), head_d / 2, feature=name), Arc((x, y), thread.major_mm / 2, style=Style.HIDDEN, feature=name))
        ]
        solids = [Solid(ring=ring, bottom_mm=0.0, top_mm=thick, name=name)]
        solids += [
            Solid(
                ring=placed(rectangle(head_d, head_d), x, y, 0.0),
                bottom_mm=piece.top_mm,
                top_mm=piece.top_mm + head_h,
                name=f"{name}, head of screw {i}",
            )
            for i, (x, y) in enumerate(screws, 1)
        ]
        checks = [] if problem or mode == "none" or len(pins) < 2 else self._pin_checks(values, at, name, pins)
        if screws and not problem:
            named = Points(features=(name,), figures=(at.entry("torque"),), remedies=(at.entry("torque"),))
            checks.append(screw_load(at.entry("screw"), f"Screw load, {name}", pull, thread, SCREW_CLASS, named))
        side: list[Element] = [*front(ring, 0.0, thick, name, Style.SURROUNDINGS)]
        side += [
            e
            for x, y in screws
            for e in front(placed(rectangle(head_d, head_d), x, y, 0.0), piece.top_mm, piece.top_mm + head_h, name)
        ]
        figures = (
            reckoned(
                at.entry("pull"),
                "Screw preload",
                worked(
                    "T/(K·d)",
                    term(values.number("torque"), 3, "N·m"),
                    at.nut_factor,
                    term(thread.major_mm, 3, "mm"),
                    source=f"friction scatters by {PRELOAD_SCATTER:.0%} either way",
                ),
                unit="kN",
                features=(name,),
            ),
        )
        # One diameter of thread holds; longer than work and plate together, and it bottoms on the table.
        long = (piece.height_mm + thread.major_mm, piece.height_mm + thick)
        return PlacedElement(
            name=name,
            uses=fasteners_use(at.shop, FastenerKind.CAP_SCREW, thread, taken=len(screws), long=long),
            contacts=tuple(contacts),
            forces=forces,
            seats=(hull(seat),) if is_face(seat) else (),
            solids=tuple(solids),
            above=tuple(body(ring, name, Style.SURROUNDINGS)),
            over=tuple(over),
            front=tuple(side),
            checks=tuple(checks),
            figures=figures,
            problem=problem,
            spot=(bounds(ring)[0], bounds(ring)[3]),
            name_at=_name_place(ring, piece),
            tighten=f"{sentence(name)}: screws crosswise, {torque_text(values.number('torque'), 1)}",
            mount=bolted_mount(ring, values, at.nut_factor, name, at.entry("bolt_torque")),
            cautions=("A plate over 15 kg is lifted by two people or a hoist",),
        )

    def _places(self, values: Values, name: str, piece: Piece) -> list[tuple[float, float]]:
        places = read_places(values.word(name), "mm", "Places")
        return [(piece.middle[0] + x, piece.middle[1] + y) for x, y in places.points]

    def _pin_checks(self, values: Values, at: PlacingContext, name: str, pins: list[tuple[float, float]]) -> list[Check]:
        play, error = values.number("pin_clearance"), values.number("spacing_error")
        apart = math.dist(*pins)
        takes = play if values.word("pins") == "two full" else math.inf
        yaw = math.degrees(2 * play / (2 * apart)) * 3600 if apart else math.inf
        entry = at.entry
        found = [
            Check(
                key=entry("apart"),
                label="Pin spacing",
                value=apart / max(1e-9, _longest(at.piece)) * 100,
                unit="%",
                limits=Limits(marginal_below=50, no_below=15),
                features=(name,),
                figures=(entry("pin_positions"),),
                reason=(
                    "as far apart as the work allows"
                    if apart >= 0.5 * _longest(at.piece)
                    else "far apart they hold the direction better"
                ),
                derivation=Derivation(
                    "pin to pin/work length", f"{format_number(apart, 2)}/{format_number(_longest(at.piece), 2)}"
                ),
            ),
            Check(
                key=entry("yaw"),
                label="Rotation on the pins",
                value=yaw,
                unit="″",
                limits=Limits(marginal_above=180),
                features=(name,),
                figures=(entry("pin_clearance"), entry("pin_positions")),
                reason="small" if yaw <= 180 else "tighter pins, or farther apart",
                derivation=Derivation(
                    "(c1 + c2)/(2·L)", f"({format_number(play, 4)} + {format_number(play, 4)})/(2 · {format_number(apart, 2)})"
                ),
            ),
        ]
        if values.word("pins") == "two full":
            found.append(
                Check(
                    key=entry("spacing"),
                    label="Spacing the two pins accept",
                    value=takes - error,
                    unit="mm",
                    limits=Limits(no_below=0.0),
                    step=0.001,
                    features=(name,),
                    figures=(entry("spacing_error"), entry("pin_clearance")),
                    reason="the work goes on" if error <= takes else "it will not go on: relieve one pin",
                    derivation=Derivation(
                        "(c1 + c2)/2 − spacing error",
                        f"({format_number(play, 4)} + {format_number(play, 4)})/2 − {format_number(error, 4)}",
                    ),
                )
            )
        else:
            hole, pin = values.number("pin_diameter") + play, values.number("pin_diameter")
            left = max(error - play / 2, 0.0)
            land = ((hole**2 - pin**2) / 4 - left**2) / left if left > 0 else pin
            found.append(
                Check(
                    key=entry("land"),
                    label="Largest relieved pin land",
                    value=min(land, pin),
                    unit="mm",
                    limits=Limits(marginal_below=0.12 * pin, no_below=0.0),
                    step=0.01,
                    features=(name,),
                    figures=(entry("spacing_error"), entry("pin_diameter")),
                    reason=(
                        "a land of that width still goes in"
                        if land > 0.12 * pin
                        else "too thin a land to last: better spacing, or more play"
                    ),
                    derivation=Derivation(
                        "((D² − d²)/4 − e²)/e, at the most d",
                        (
                            f"((({format_number(hole, 4)})² − ({format_number(pin, 4)})²)/4 −"
                            f" ({format_number(left, 4)})²)/{format_number(left, 4)}"
                            if left > 0
                            else "the play alone takes the error"
                        ),
                    ),
                )
            )
        return found


def _longest(piece: Piece) -> float:
    left, low, right, high = bounds(piece.outline)
    return max(right - left, high - low)


ELEMENT = PlateElement()
