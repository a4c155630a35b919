"""A layout worked out: everything placed, the safety factor along the path, reach, travel and locating; then its report."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.drawing.scene import Scene
from elbrix.geometry.shapes import Ring, clipped, hull, rectangle
from elbrix.holding import cut
from elbrix.holding.contacts import HeldPart
from elbrix.holding.cut import CuttingLoad, cutting_of, piece_of
from elbrix.holding.elastic import Carried, Springs
from elbrix.holding.layout import ChosenElement, ClampingElement, Piece, PlacedElement, PlacingContext, Solid, find_element
from elbrix.holding.locating import Located, guidance, located
from elbrix.holding.margin import Margin, held_by, margin_of, sprung
from elbrix.holding.mounted import mount_checks
from elbrix.holding.owned import shelf_check
from elbrix.holding.pictures import above_scene, front_scene
from elbrix.holding.reach import Clash, clashes
from elbrix.holding.reclamping import reclampings
from elbrix.holding.report import (
    carried_figures,
    figures_of,
    groups_of,
    locator_figure,
    own_checks,
    reclamping_check,
    unsettled_check,
)
from elbrix.holding.seats import seat_contacts
from elbrix.holding.thin import sag_check, squeeze_checks
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Check
from elbrix.results.figures import Figure
from elbrix.results.results import Results
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.standards.materials import nut_factor

#: The springs are loaded up to this multiple at the most, in so many steps.
_SPRUNG_MAX: Final = 12.0
_SPRING_STEPS: Final = 20
CAUTIONS: Final = (
    (
        "An upper bound with guessed friction: 2 or more is asked, and the first cut is a light one. The machine maker's limits"
        " come first"
    ),
    "Nothing on the table may turn with the spindle: handles off, spanners away, hands behind the guard before it starts",
)


class LayoutResult(Results, Struct, frozen=True, kw_only=True):
    """Everything that follows from a layout."""

    values: Values
    elements: tuple[tuple[ClampingElement, Values, PlacedElement], ...]
    piece: Piece
    cutting: CuttingLoad
    margin: Margin
    held: HeldPart
    located: Located
    guidance: str  #: what would locate it
    clashes: tuple[Clash, ...]
    figures: tuple[Figure, ...]
    checks: tuple[Check, ...]
    groups: tuple[Group, ...]
    scenes: tuple[Scene, ...]  #: from above, from the front
    tighten: tuple[str, ...] = ()
    cautions: tuple[str, ...] = CAUTIONS
    swaps: tuple[str, ...] = ()  #: which clamp moves when, in words


def machine_for(shop: Shop, id: str) -> Machine:
    """The machine of a layout; the first mill when none is named, an assumed one in an empty shop."""
    mills = [m for m in shop.machines if m.kind not in (MachineKind.LATHE, MachineKind.ROTARY_TABLE)]
    return next(
        (m for m in shop.machines if m.id == id),
        (
            mills[0]
            if mills
            else Machine(
                id="", name="a table without slots, assumed", kind=MachineKind.KNEE, table_length_mm=600, table_width_mm=200
            )
        ),
    )


def all_parameters(shop: Shop, machine: Machine, asked: Sequence[ChosenElement]) -> dict[str, Parameter]:
    """Every parameter of a layout by its whole name: those of the work plain, those of the things with their number before."""
    found = {p.name: p for p in cut.parameters(shop)}
    for i, thing in enumerate(asked):
        for p in find_element(thing.kind).parameters(shop, machine):
            found[f"{i}.{p.name}"] = replace(p, name=f"{i}.{p.name}")
    return found


def solve_layout(
    shop: Shop, machine: Machine, chosen: Mapping[str, ParameterValue], asked: Sequence[ChosenElement], *, quick: bool = False
) -> LayoutResult:
    """Place everything and work out what it does.

    Args:
        chosen: Of the work and the cut.
        quick: Fewer places and directions, and no corners: for every frame of a drag.

    Raises:
        ShopError: Values of the work or the cut that cannot be; `entry` names the parameter.
    """
    values = cut.propose(shop, machine, chosen)
    flat = piece_of(values, 0.0)
    things = [(find_element(a.kind), a) for a in asked]
    proposed = [t.propose(shop, machine, flat, a.chosen, i) for i, (t, a) in enumerate(things)]
    raised = max((t.support_height_mm(v, shop) for (t, _), v in zip(things, proposed, strict=True)), default=0.0)
    piece = piece_of(values, raised)
    if raised:
        proposed = [t.propose(shop, machine, piece, a.chosen, i) for i, (t, a) in enumerate(things)]
    mu, factor = values.number("friction"), nut_factor(values.word("lubrication"))
    names = _names([t for t, _ in things])

    def place(i: int, seats: tuple[Ring, ...]) -> PlacedElement:
        at = PlacingContext(shop=shop, machine=machine, piece=piece, mu=mu, nut_factor=factor, seats=seats, number=i)
        element = things[i][0]
        return replace(element.place(names[i], proposed[i], at), behaviour=element.behaviour)

    bearing = {i: place(i, ()) for i, (t, _) in enumerate(things) if t.support_height_mm(proposed[i], shop) > 0}
    seats = tuple(s for p in bearing.values() for s in p.seats) if raised else _table_seat(machine, piece)
    placed = [bearing[i] if i in bearing else place(i, seats) for i in range(len(things))]
    cutting = cutting_of(values, shop, piece, *((8, 6) if quick else ()))
    bearing_on = tuple(clipped(piece.outline, hull(s)) for s in seats) if raised else seats
    held = held_by(piece, bearing_on, placed, mu)
    margin = margin_of(held, cutting, whole=not quick, dragged=quick)
    touching = (*seat_contacts(bearing_on, piece.bottom_mm, mu), *(c for p in placed for c in p.contacts))
    located_ = located(touching)
    own_metal = Solid(ring=piece.outline, bottom_mm=piece.bottom_mm, top_mm=piece.top_mm, name="the work")
    met = clashes(
        cutting.way,
        cutting.end_mm,
        cutting.tool,
        [s for p in placed for s in p.solids],
        work=own_metal if cutting.cutter.edge_length_mm else None,
    )
    done = tuple((t, v, p) for (t, _), v, p in zip(things, proposed, placed, strict=True))
    own = own_checks(machine, piece, cutting, margin, located_, met, placed, values)
    if (shelf := shelf_check(use for p in placed for use in p.uses)) is not None:
        own.append(shelf)
    if not quick:
        own += _of_the_holders(placed, bearing_on, piece, cutting, machine)
    carried = _carried(sprung(piece, bearing_on, placed, mu), margin) if not quick else None
    swaps = reclampings(piece, seats, placed, mu, cutting, met) if not quick else ()
    if carried is not None and carried.reached <= 0:
        own.append(unsettled_check())
    if swaps:
        own.append(reclamping_check(swaps))
    return LayoutResult(
        values=values,
        elements=done,
        piece=piece,
        cutting=cutting,
        margin=margin,
        held=held,
        located=located_,
        guidance=guidance(located_),
        clashes=tuple(met),
        figures=(
            *figures_of(shop, machine, values, done, margin, cutting, held),
            locator_figure(touching, piece),
            *carried_figures(carried),
        ),
        checks=(*own, *(c for p in placed for c in p.checks)),
        groups=groups_of(done, names, values, carried is not None),
        scenes=(
            above_scene(machine, piece, cutting, margin, placed, met, held),
            front_scene(machine, piece, cutting, margin, placed),
        ),
        tighten=tuple(p.tighten for p in _in_order(placed) if p.tighten),
        cautions=(*CAUTIONS, *dict.fromkeys(c for p in placed for c in p.cautions)),
        swaps=tuple(s.words for s in swaps),
    )


def _of_the_holders(
    placed: Sequence[PlacedElement], seats: Sequence[Ring], piece: Piece, cutting: CuttingLoad, machine: Machine
) -> list[Check]:
    """How what holds the work is itself held, and what thin work does in it."""
    found = [c for p in placed if p.mount is not None and not p.problem for c in mount_checks(p.mount, cutting, machine)]
    found += [c for p in placed if p.squeeze is not None for c in squeeze_checks(p.squeeze, piece, cutting)]
    bent = sag_check(seats, piece, cutting) if piece.bottom_mm else None
    return [*found, bent] if bent is not None else found


def _names(things: Sequence[ClampingElement]) -> list[str]:
    """ "strap 1", "strap 2", "vise": the short name, numbered where there are several."""
    words = [t.behaviour.name for t in things]
    count: dict[str, int] = {}
    found = []
    for word in words:
        count[word] = count.get(word, 0) + 1
        found.append(f"{word} {count[word]}" if words.count(word) > 1 else word)
    return found


def _table_seat(machine: Machine, piece: Piece) -> tuple[Ring, ...]:
    """What of the work lies on the table: over its edge nothing carries."""
    if not machine.table_length_mm or not machine.table_width_mm:
        return (piece.outline,)
    ring = clipped(hull(piece.outline), rectangle(machine.table_length_mm, machine.table_width_mm))
    return (ring,) if len(ring) >= 3 else ()


def _in_order(placed: Sequence[PlacedElement]) -> list[PlacedElement]:
    """Stops before what presses against them, what presses down last."""
    return sorted(placed, key=lambda p: (bool(p.forces), p.behaviour.tightened_last))


def _carried(held: HeldPart, margin: Margin) -> Carried | None:
    """What the springs say of the worst load, with the preloads as figured."""
    if not margin.rests or not held.forces or margin.load is None or not math.isfinite(margin.least):
        return None
    return Springs(held).solve([margin.load], [max(1.0, min(margin.with_figures, _SPRUNG_MAX))], steps=_SPRING_STEPS)[0]
