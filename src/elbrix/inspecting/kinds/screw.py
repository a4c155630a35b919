"""Error of a screw: the slide is sent by its dial to the lengths of gauge blocks, and an indicator tells how far it came."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping
from typing import ClassVar, Final

from msgspec.structs import replace

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import (
    PlainInspection,
    choice,
    count,
    found,
    graph,
    marks,
    parameter_group,
    size,
    slope_u,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import K_95, Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.quantities.errors import EntryError
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.machines import MAX_ERROR_MM_M, Axis, Machine
from elbrix.shop.shop import Shop

#: A place this near to a whole turn from the first says nothing of what happens within a turn, of a turn.
_SAME_PHASE: Final = 0.06


class ScrewError(PlainInspection):
    """See the module."""

    key = "screw"
    title = "Error of a screw"
    when = "Does the slide go as far as its dial says, all along its travel?"
    order = 27
    main = "error"
    defaults: ClassVar = {"machine": "", "axis": "X", "reach": 100.0, "count": 9, "times": 2, "tolerance": 0.02}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        machines = [m for m in shop.machines if m.axes]
        axes = sorted({a for m in machines for a in m.axes}) or ["X"]
        return (
            choice("machine", "Machine", [("", "not listed"), *((m.id, m.name) for m in machines)], "whose screw it is"),
            choice("axis", "Handwheel", [(a, a) for a in axes]),
            size("reach", "Furthest place", "the longest stack of blocks at hand", 5, 1000, feature="screw"),
            count("count", "Places", 4, 25, "with the start; not all of them whole turns apart"),
            count("times", "Readings a place", 1, 9, "each come to anew, always from the same side"),
            tolerance("Error allowed", "over the whole reach, after the turns allow for the screw"),
            *tool_parameters(shop, "a lever indicator against blocks on a stop, zeroed at the first place"),
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        return {**self.defaults, "machine": next((m.id for m in shop.machines if m.axes), "")}

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        reach, many = values.number("reach"), int(values.number("count"))
        wheel = _wheel(shop, values)
        if wheel is not None and wheel.travel_mm and reach > wheel.travel_mm:
            raise EntryError(
                "Furthest place",
                f"{format_number(reach)} mm is beyond its travel of {format_number(wheel.travel_mm)} mm",
                "The slide does not go there",
                "Give a shorter one",
                "reach",
            )
        return tuple(
            Place(
                key=f"d{i}",
                label=_dial_words(at, wheel) or f"place {i + 1}",
                quantity=Quantity.DEVIATION,
                at=(200 * at / reach, 0.0),
                times=int(values.number("times")),
                low=-5,
                high=5,
                spot=(at,),
            )
            for i, at in enumerate(spread(reach, many, wheel))
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        findings: tuple[ShopFinding, ...] = ()
        elements: list[Element] = [
            box(-6, -9, 206, -3, Style.BODY, "screw"),
            box(-6, -9, 206, -3, Style.VISIBLE, "screw"),
            *(Line((p.at[0], -3), p.at, Style.THIN, "screw") for p in sheet.places),
            *(Note((p.at[0], -16 - 5 * (i % 2)), length(p.spot[0], 3), plain=True, align=0) for i, p in enumerate(sheet.places)),
            Note((100, -30), "blocks between stop and indicator", quiet=True, align=0),
        ]
        if sheet.complete:
            at, off = [p.spot[0] for p in sheet.places], [sheet.mean(p.key) for p in sheet.places]
            slope, left = straight(at, off)
            u_slope, u_left = 1000 * slope_u(sheet), K_95 * sheet.sigma
            wander = (max(left) - min(left)) / 2
            figures += [
                found(
                    "error",
                    "Goes further than the dial says, over a metre",
                    1000 * slope,
                    u_slope,
                    ("least squares, slope of the error along the slide", ""),
                    unit="mm/m",
                    features=("screw",),
                ),
                found(
                    "wander",
                    "Uneven around that by ±",
                    wander,
                    u_left,
                    (
                        "half of the most less the least that the line leaves",
                        f"({format_number(max(left), 5)} − {format_number(min(left), 5)})/2",
                    ),
                    features=("screw",),
                ),
                found(
                    "whole",
                    "Error over the reach, as it is",
                    max(off) - min(off),
                    u_left,
                    ("most less least of all places", f"{format_number(max(off), 4)} − {format_number(min(off), 4)}"),
                    features=("screw",),
                ),
            ]
            groups.append(Group("Found", ("error", "wander", "whole")))
            checks.append(
                within(
                    "wander",
                    "Uneven travel",
                    2 * wander,
                    u_left,
                    values.number("tolerance"),
                    (
                        "even enough: what is left after allowing for the screw is within what is allowed",
                        "too close to the limit to be sure",
                        "worn in places: measure sizes closer than this, whatever the dial says",
                    ),
                )
            )
            sure = abs(1000 * slope) > u_slope
            steps = _orders(values, shop, 1000 * slope if sure else 0.0, wander)
            findings = _findings(values, shop, 1000 * slope if sure else 0.0, wander)
        elif sheet.missing:
            steps.append(_next_order(sheet.missing[0], _wheel(shop, values)))
        if not _within_a_turn(values, shop, self.places(values, shop)):
            steps.append("Every place is a whole turn from the others: what happens within a turn is not seen. Change the reach")
        elements += graph([(p.at[0], sheet.mean(p.key)) for p in sheet.places if sheet.has(p.key)], 0, 200, 48, 18)
        rings, numbers = marks(sheet, 2.2, sign=True)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("screw", "Along the screw", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Spindle stopped; blocks wiped, wrung and never between parts that are clamped",),
            findings=findings,
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        slope, swing, phase = chance.gauss(0, 2e-4), abs(chance.gauss(0, 0.004)), chance.uniform(0, math.tau)
        wheel = _wheel(shop, values)
        turn = wheel.mm_per_turn if wheel is not None else 4.0
        places = self.places(values, shop)

        def true(x: float) -> float:
            return slope * x + swing * (math.sin(math.tau * x / turn + phase) - math.sin(phase))

        off = {p.key: true(p.spot[0]) for p in places}
        return Exercise(
            tool="dial", true=off, answers={"error": 1000 * straight([p.spot[0] for p in places], list(off.values()))[0]}
        )


def spread(reach_mm: float, many: int, wheel: Axis | None = None) -> tuple[float, ...]:
    """Places from zero to about a reach, on lines of the dial and of lengths that blocks make up; fewer when they fall together.

    Equal spaces fall on the same part of a turn again and again, so those between are shifted by a changing part of a
    space.
    """
    step = _block_step_mm(wheel)
    space = reach_mm / (many - 1)
    between = [i * space + 0.35 * space * ((i * 0.618) % 1 - 0.5) for i in range(1, many - 1)]
    return tuple(sorted({round(x / step) * step for x in (0.0, *between, reach_mm)}))


def _block_step_mm(wheel: Axis | None) -> float:
    """The least number of lines of the dial, half a millimetre or so, that blocks of 0.01 mm or 0.001 in make up."""
    if wheel is None:
        return 0.5
    line = wheel.mm_per_turn / wheel.divisions
    for n in range(1, 2001):
        per = (n * line / 0.01, n * line / 0.0254)
        if n * line >= 0.4 and any(abs(x - round(x)) < 1e-6 for x in per):
            return n * line
    return wheel.mm_per_turn


def _dial_words(at_mm: float, wheel: Axis | None) -> str:
    """Where the dial stands, as it is counted and not as the screw is known: "6 turns + 20 div"."""
    if wheel is None:
        return ""
    turns, lines = divmod(round(at_mm * wheel.divisions / wheel.mm_per_turn), wheel.divisions)
    return f"{turns} turns + {lines} div"


def straight(at: list[float], off: list[float]) -> tuple[float, list[float]]:
    """(slope, what the line leaves at each place) of a least-squares line."""
    x0, y0 = math.fsum(at) / len(at), math.fsum(off) / len(off)
    slope = math.fsum((x - x0) * (y - y0) for x, y in zip(at, off, strict=True)) / math.fsum((x - x0) ** 2 for x in at)
    return slope, [y - y0 - slope * (x - x0) for x, y in zip(at, off, strict=True)]


def _wheel(shop: Shop, values: Values) -> Axis | None:
    machine = _machine(shop, values)
    return machine.axes.get(values.word("axis")) if machine is not None else None


def _machine(shop: Shop, values: Values) -> Machine | None:
    return next((m for m in shop.machines if m.id == values.word("machine")), None)


def _within_a_turn(values: Values, shop: Shop, places: tuple[Place, ...]) -> bool:
    wheel = _wheel(shop, values)
    if wheel is None:
        return True
    parts = [(p.spot[0] / wheel.mm_per_turn) % 1 for p in places]
    return any(min(part, 1 - part) > _SAME_PHASE for part in parts)


def _orders(values: Values, shop: Shop, error_mm_m: float, wander: float) -> list[str]:
    axis, reach = values.word("axis"), values.number("reach")
    if error_mm_m == 0:
        said = [f"{axis} goes as far as its dial says, as near as these readings can tell"]
    else:
        way = "further" if error_mm_m > 0 else "less far"
        by = length(abs(error_mm_m) * reach / 1000, 3)
        said = [f"{axis} goes {by} {way} over {length(reach)} than its dial says: keep it, and Make's turns allow for it"]
    machine = _machine(shop, values)
    if machine is not None and machine.readout_step_mm > 0:
        said.append(f"{machine.name} has a readout: its cards go by that, and not by the screw")
    said.append(f"What remains is ±{length(wander, 3)}: nothing closer is to be had from this dial without measuring")
    return said


def _next_order(place: Place, wheel: Axis | None) -> str:
    if place.spot[0] == 0:
        return "Come forward to zero on the dial, indicator against the stop without a block, and set both to zero"
    dial = _dial_words(place.spot[0], wheel) or "the same on the dial"
    return f"Come forward to {dial}, never back to it; put blocks of {length(place.spot[0])} against the stop; read"


def _findings(values: Values, shop: Shop, error_mm_m: float, wander: float) -> tuple[ShopFinding, ...]:
    machine, wheel, axis = _machine(shop, values), _wheel(shop, values), values.word("axis")
    if machine is None or wheel is None or abs(error_mm_m) > MAX_ERROR_MM_M:
        return ()
    # The dial was believed to be its nominal advance while it was read: the error is of that, and not added to an older one.
    known = replace(wheel, error_mm_m=round(error_mm_m, 4), wander_mm=round(wander, 4))
    kept = replace(machine, axes={**machine.axes, axis: known})
    return (ShopFinding(key="screw", words=f"Keep as {machine.name}'s {axis} screw", items=(kept,)),)


KIND = ScrewError()
