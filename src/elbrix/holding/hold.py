"""A layout worked out: everything placed, the margin along the path, reach, travel, what is located.

As figures, checks and pictures.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.drawing.scene import Scene
from elbrix.geometry.shapes import Ring, clipped, hull, outside_by, overlap, rectangle
from elbrix.holding import cut
from elbrix.holding.contacts import HeldPart
from elbrix.holding.cut import CuttingLoad, cutting_of, piece_of
from elbrix.holding.elastic import Carried, Springs
from elbrix.holding.layout import ChosenElement, ClampingElement, Piece, Place, PlacedElement, find_element
from elbrix.holding.locating import Located, guidance, located, moved_by_errors
from elbrix.holding.margin import ENOUGH, LOW_SHARE, Margin, held_by, margin_of
from elbrix.holding.owned import shelf_check
from elbrix.holding.pictures import above_scene, front_scene
from elbrix.holding.reach import Clash, clashes, furthest, spanner_room, travel_needed
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values, figure_of
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.results import Results
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.standards.materials import nut_factor

_SHOWN_MOST: Final = 99.0
#: The springs are loaded up to this multiple at the most, in so many steps.
_SPRUNG_MOST: Final = 12.0
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
        at = Place(shop=shop, machine=machine, piece=piece, mu=mu, nut_factor=factor, seats=seats, number=i)
        element = things[i][0]
        return replace(element.place(names[i], proposed[i], at), behaviour=element.behaviour)

    bearing = {i: place(i, ()) for i, (t, _) in enumerate(things) if t.support_height_mm(proposed[i], shop) > 0}
    seats = tuple(s for p in bearing.values() for s in p.seats) if raised else _table_seat(machine, piece)
    placed = [bearing[i] if i in bearing else place(i, seats) for i in range(len(things))]
    cutting = cutting_of(values, shop, piece, *((8, 6) if quick else ()))
    held = held_by(piece, tuple(clipped(piece.outline, hull(s)) for s in seats) if raised else seats, placed, mu)
    margin = margin_of(held, cutting, whole=not quick)
    located_ = located(held.contacts)
    met = clashes(cutting.path, cutting.end_mm, cutting.tool, [s for p in placed for s in p.solids])
    done = tuple((t, v, p) for (t, _), v, p in zip(things, proposed, placed, strict=True))
    own = _own_checks(machine, piece, cutting, margin, located_, met, placed, values)
    if (shelf := shelf_check(use for p in placed for use in p.uses)) is not None:
        own.append(shelf)
    carried = _carried(held, margin, cutting) if not quick else None
    swaps = _swaps(piece, seats, placed, mu, cutting, met) if not quick else ()
    if swaps:
        own.append(_swap_check(swaps))
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
            *_figures(shop, machine, values, done, margin, cutting, held),
            _locator_figure(held, piece),
            *_carried_figures(carried),
        ),
        checks=(*own, *(c for p in placed for c in p.checks)),
        groups=_groups(done, names, values, carried is not None),
        scenes=(
            above_scene(machine, piece, cutting, margin, placed, met, held),
            front_scene(machine, piece, cutting, margin, placed),
        ),
        tighten=tuple(p.tighten for p in _in_order(placed) if p.tighten),
        cautions=(*CAUTIONS, *dict.fromkeys(c for p in placed for c in p.cautions)),
        swaps=tuple(s.words for s in swaps),
    )


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


def times(factor: float) -> str:
    """A margin as said: "2.6×"."""
    return "no limit" if math.isinf(factor) else f"{factor:.1f}×" if factor < 10 else f"{factor:.0f}×"


def _own_checks(
    machine: Machine,
    piece: Piece,
    cutting: CuttingLoad,
    margin: Margin,
    found: Located,
    met: Sequence[Clash],
    placed: Sequence[PlacedElement],
    values: Values,
) -> list[Check]:
    mu = values.number("friction")
    where = cutting.path[margin.worst // cutting.each] if cutting.path else (0.0, 0.0)
    reason = (
        f"holds by {times(margin.least)} with µ {mu:g} and low preload; first {margin.motion.words}, the cutter at X"
        f" {where[0]:.0f}, Y {where[1]:.0f}"
        if margin.rests and math.isfinite(margin.least)
        else margin.motion.words
    )
    checks = [
        Check(
            key="margin",
            label="Safety factor",
            value=min(margin.least, _SHOWN_MOST),
            unit="×",
            limits=Limits(no_below=1.0, marginal_below=ENOUGH),
            text=times(margin.least) if margin.rests else "does not rest",
            features=("work", "cutter_path"),
            figures=("force", "friction"),
            remedies=("*.torque", "depth_of_cut", "width_of_cut", "feed"),
            reason=reason,
            derivation=Derivation(
                "largest multiple of the cutting load that some split of the contact forces balances, over every place and"
                " direction",
                f"preload × {LOW_SHARE:g}; {len(cutting.loads)} loads; as figured {times(margin.with_figures)}, at the worst"
                f" mixture of preloads {times(margin.at_corners)}",
                "rigid body, friction cones; an upper bound, so 2 is asked",
            ),
        )
    ]
    for p in placed:
        if p.problem:
            checks.append(
                Check(
                    key=f"problem {p.name}",
                    label=p.name.capitalize(),
                    value=1,
                    unit="",
                    limits=Limits(no_above=0),
                    text="cannot be",
                    features=(p.name,),
                    reason=p.problem,
                )
            )
    for p in placed:
        if (
            (room := p.behaviour.spanner_mm)
            and not p.problem
            and (way := spanner_room(p.spot, [s for q in placed for s in q.solids], p.name, piece.top_mm + 4.0, room))
        ):
            checks.append(
                Check(
                    key=f"spanner {p.name}",
                    label=f"Spanner room, {p.name}",
                    value=1,
                    unit="",
                    limits=Limits(marginal_above=0),
                    text="in the way",
                    features=(p.name, way.partition(",")[0]),
                    reason=f"{way} stands within {room:g} mm of its nut: a socket on an extension, or the stud moved",
                )
            )
    for i, a in enumerate(placed):
        for b in placed[i + 1 :]:
            if _same_room(a, b):
                checks.append(
                    Check(
                        key=f"room {a.name} {b.name}",
                        label=f"Clash, {a.name} and {b.name}",
                        value=1,
                        unit="",
                        limits=Limits(no_above=0),
                        text="in one place",
                        features=(a.name, b.name),
                        reason="two things cannot stand in one place",
                    )
                )
    deepest = max(met, key=lambda c: c.by_mm, default=None)
    checks.append(
        Check(
            key="reach",
            label="Tool access",
            remedies=("?.parallels",),
            value=len({c.index for c in met}),
            unit="",
            limits=Limits(no_above=0),
            text="yes" if not met else f"{len({c.index for c in met})} of {len(cutting.path)} places no",
            features=("cutter_path", *dict.fromkeys(c.what.partition(",")[0] for c in met)),
            reason=(
                "tool, holder and spindle nose clear everything by 1 mm"
                if deepest is None
                else f"it meets {deepest.what}, {format_number(deepest.by_mm, 1)} mm deep"
            ),
            derivation=Derivation("axis to the thing − widest part of tool and holder below its top", "room 1 mm"),
        )
    )
    if cutting.path and not piece.bottom_mm:
        checks.append(
            Check(
                key="table",
                label="Cutter above the table",
                value=cutting.end_mm,
                unit="mm",
                limits=Limits(no_below=0.0, marginal_below=0.3),
                step=0.1,
                features=("cutter_path",),
                figures=("depth_below_top",),
                reason=(
                    "it stays off the table"
                    if cutting.end_mm >= 0.3
                    else (
                        "a hair above the table"
                        if cutting.end_mm >= 0
                        else "it cuts into the table: raise the work, or cut less deep"
                    )
                ),
                derivation=Derivation(
                    "work height − below the top",
                    f"{format_number(piece.height_mm, 2)} − {format_number(values.number('depth_below_top'), 2)}",
                ),
            )
        )
    x, y = travel_needed(cutting.path)
    for name, request, axis in (("X", x, machine.axes.get("X")), ("Y", y, machine.axes.get("Y"))):
        if axis is not None and axis.travel_mm:
            far = furthest(cutting.path)[0 if name == "X" else 1]
            left = min(axis.travel_mm - request, axis.travel_mm / 2 - far)
            checks.append(
                Check(
                    key=f"travel {name}",
                    label=f"Spare travel {name}",
                    value=left,
                    unit="mm",
                    limits=Limits(no_below=0.0, marginal_below=10.0),
                    step=1,
                    features=("cutter_path",),
                    figures=("x" if name == "X" else "y",),
                    remedies=("x" if name == "X" else "y",),
                    reason=(
                        "the table reaches every place"
                        if left >= 10
                        else (
                            "close to the end of its travel"
                            if left >= 0
                            else "the table ends before the cut does: move the work to the middle"
                        )
                    ),
                    derivation=Derivation(
                        "half travel − furthest place from the middle",
                        f"{format_number(axis.travel_mm)}/2 − {format_number(far, 1)}",
                        "the spindle over the table's middle at half travel",
                    ),
                )
            )
    checks.append(
        Check(
            key="located",
            label="Degrees of freedom located",
            value=found.held,
            unit="",
            limits=Limits(marginal_below=6),
            text=f"{found.held} of 6",
            features=("work",),
            reason=(
                "by what stops it, without friction"
                if found.held == 6
                else f"only friction keeps it from: {', '.join(found.free)}"
            )
            + (f"; {found.twice} held twice" if found.twice else ""),
            derivation=Derivation(
                "rank of the contacts' normals and their moments",
                f"{found.held}; best over worst held {format_number(min(found.condition, 9999), 1)}",
                "a seat counts as three points, an edge as two",
            ),
        )
    )
    over = (
        max((outside_by(rectangle(machine.table_length_mm, machine.table_width_mm), p) for p in piece.outline), default=0.0)
        if machine.table_length_mm and machine.table_width_mm and not piece.bottom_mm
        else 0.0
    )
    if over > 0:
        checks.append(
            Check(
                key="over",
                label="Work over the table's edge",
                value=over,
                unit="mm",
                limits=Limits(marginal_above=0.0),
                step=1,
                features=("work",),
                figures=("x", "y"),
                remedies=("x", "y"),
                reason="what hangs over nothing carries no clamp",
            )
        )
    return checks


def _same_room(a: PlacedElement, b: PlacedElement) -> bool:
    return any(
        min(s.top_mm, t.top_mm) - max(s.bottom_mm, t.bottom_mm) > 0.5 and overlap(s.ring, t.ring)
        for s in a.solids
        for t in b.solids
    )


def _figures(
    shop: Shop,
    machine: Machine,
    values: Values,
    things: Sequence[tuple[ClampingElement, Values, PlacedElement]],
    margin: Margin,
    cutting: CuttingLoad,
    held: HeldPart,
) -> list[Figure]:
    found = [figure_of(p, values[p.name]) for p in cut.parameters(shop)]
    for i, (thing, given, placed) in enumerate(things):
        found += [
            replace(figure_of(p, given[p.name]), key=f"{i}.{p.name}", features=(placed.name,))
            for p in thing.parameters(shop, machine)
        ]
        found += list(placed.figures)
    found += [
        Figure(
            key="force",
            label="Side force",
            value=cutting.force.sideways_n,
            unit="N",
            features=("cutter_path",),
            derivation=cutting.force.derivation,
        ),
        Figure(
            key="up",
            label="Upward force" if cutting.force.up_n >= 0 else "And down",
            value=abs(cutting.force.up_n),
            unit="N",
            features=("cutter_path",),
            derivation=Derivation(
                "0.3 of it: the helix" if cutting.force.up_n >= 0 else "thrust of the drill", format_number(cutting.force.up_n, 0)
            ),
        ),
        Figure(
            key="weight",
            label="Work weight",
            value=held.weight_n / 9.80665,
            unit="kg",
            features=("work",),
            derivation=Derivation("area · height · density", f"{format_number(held.weight_n, 2)} N/9.80665"),
        ),
        Figure(
            key="least",
            label="Safety factor",
            value=min(margin.least, _SHOWN_MOST),
            unit="",
            text=times(margin.least) if margin.rests else "it does not rest",
            features=("work",),
            derivation=Derivation("the least over the path", f"low preload × {LOW_SHARE:g}", "friction cones, rigid body"),
        ),
        Figure(
            key="figured",
            label="Safety, nominal preload",
            value=min(margin.with_figures, _SHOWN_MOST),
            unit="",
            text=times(margin.with_figures),
            derivation=Derivation("the same, worst load, preload × 1", times(margin.with_figures)),
        ),
        Figure(
            key="cornered",
            label="Safety, worst preload mix",
            value=min(margin.at_corners, _SHOWN_MOST),
            unit="",
            text=times(margin.at_corners),
            derivation=Derivation(
                "every clamp once low and once high",
                times(margin.at_corners),
                "the margin is concave in the preloads: its worst is at a corner",
            ),
        ),
        Figure(key="gives", label="Failure mode", value=0.0, unit="", text=margin.motion.words, features=("work",)),
    ]
    return found


def _groups(
    things: Sequence[tuple[ClampingElement, Values, PlacedElement]], names: Sequence[str], values: Values, springs: bool
) -> tuple[Group, ...]:
    shape = values.word("shape")
    size = {"block": ("length", "width"), "round": ("width",), "outline": ("outline",)}[shape]
    cuts = {"milling": ("depth_of_cut", "width_of_cut", "feed"), "drilling": ("feed",)}.get(values.word("cut"), ())
    groups = [
        Group("Work", ("shape", *size, "height", "material", "x", "y", "angle", "weight"), id="work"),
        Group(
            "Cut",
            (
                "cut",
                "cutter",
                "cutter_path",
                *(("places",) if values.word("cutter_path") in ("points", "line") else ()),
                "depth_below_top",
                *cuts,
                "force",
                "up",
            ),
            id="cut",
        ),
    ]
    for i, (_, given, placed) in enumerate(things):
        groups.append(
            Group(names[i].capitalize(), (*(f"{i}.{n}" for n in given), *(f.key for f in placed.figures)), id=f"element {i}")
        )
    groups.append(
        Group(
            "Holding",
            (
                "friction",
                "lubrication",
                "least",
                "figured",
                "cornered",
                "gives",
                "errors",
                *(("slides", "carries", "moves") if springs else ()),
            ),
            id="holding",
        )
    )
    return tuple(groups)


def _carried(held: HeldPart, margin: Margin, cutting: CuttingLoad) -> Carried | None:
    """What the springs say of the worst load, with the preloads as figured."""
    if not margin.rests or not cutting.loads or not math.isfinite(margin.least):
        return None
    figured = replace(held, forces=tuple(replace(p, force_n=p.force_n / LOW_SHARE) for p in held.forces))
    return Springs(figured).solve(
        [cutting.loads[margin.worst]], [max(1.0, min(margin.with_figures, _SPRUNG_MOST))], steps=_SPRING_STEPS
    )[0]


def _locator_figure(held: HeldPart, piece: Piece) -> Figure:
    corners = [(x, y, z) for x, y in piece.outline[:: max(1, len(piece.outline) // 12)] for z in (piece.bottom_mm, piece.top_mm)]
    by, name = moved_by_errors(held.contacts, corners)
    return Figure(
        key="errors",
        label="Corner shift per 0.01 mm",
        value=0.01 * by,
        step=0.001,
        features=("work",),
        derivation=Derivation(
            "least squares over all locators; worst corner, worst single locator",
            f"0.01 · {format_number(by, 3)}",
            f"the {name or 'seat'}; locators far apart move it least",
        ),
    )


def _carried_figures(carried: Carried | None) -> list[Figure]:
    if carried is None:
        return []
    slides = (
        f"{carried.slips_first} at {carried.slips_at:.1f}×"
        if math.isfinite(carried.slips_at)
        else f"nothing up to {carried.reached:.1f}×"
    )
    most = max(carried.normal_n, default=0.0)
    guess = "every contact a spring of 50 N/µm, sideways 0.7 of it; clamps one after another, then the load"
    return [
        Figure(
            key="slides",
            label="First contact to slide",
            value=0.0,
            unit="",
            text=slides,
            features=("work",),
            derivation=Derivation(
                "contacts on springs, worst load in steps",
                guess,
                "preloads as figured; before the limit, contacts slide one by one",
            ),
        ),
        Figure(
            key="carries",
            label="Largest contact force",
            value=most / 1000,
            unit="kN",
            features=("work",),
            derivation=Derivation("largest normal force at the whole load", guess),
        ),
        Figure(
            key="moves",
            label="Movement at the cutter",
            value=carried.moved_mm * 1000,
            unit="",
            text=f"{carried.moved_mm * 1000:.0f} µm" if carried.moved_mm >= 0.0005 else "under 1 µm",
            features=("work",),
            derivation=Derivation(
                "motion of the loaded point from clamped to cutting",
                guess,
                "an order of magnitude: nobody knows a contact's stiffness better",
            ),
        ),
    ]


class _Swap(Struct, frozen=True):
    """One state of a cut in several holds."""

    words: str
    factor: float  #: infinite for a line that is no state
    off: str = ""  #: the thing that is taken off in it


def _swaps(
    piece: Piece, seats: tuple[Ring, ...], placed: Sequence[PlacedElement], mu: float, cutting: CuttingLoad, met: Sequence[Clash]
) -> list[_Swap]:
    """Two holds: which clamp comes off when, and the margin in each state; empty when none stands in the way."""
    in_way: dict[str, set[int]] = {}
    for clash in met:
        in_way.setdefault(clash.what.partition(",")[0], set()).add(clash.index)
    movable = [p for p in placed if p.forces and p.name in in_way and p.behaviour.moves_aside]
    if not movable:
        return []
    blocked = {c.index for c in met}
    free = [i for i in range(len(cutting.path)) if i not in blocked]
    first, factor = _margin_words(held_by(piece, seats, placed, mu), cutting, free)
    lines = [
        _Swap(
            f"First hold: everything as drawn; cut {len(free)} of {len(cutting.path)} places, leave those beside"
            f" {', '.join(p.name for p in movable)}. {first}",
            factor,
        )
    ]
    for p in movable:
        here = sorted(in_way[p.name])
        words, factor = _margin_words(held_by(piece, seats, placed, mu, without=p.name), cutting, here)
        lines.append(
            _Swap(
                f"Then {p.name} comes off, the others stay tight; set an indicator against the work before and read it after: not"
                f" 0.01 moved. Cut the places it stood in ({len(here)}). {words}",
                factor,
                p.name,
            )
        )
        lines.append(_Swap(f"Put {p.name} back where the cut is finished, before the next one comes off", math.inf))
    return lines


def _swap_check(swaps: Sequence[_Swap]) -> Check:
    worst = min(swaps, key=lambda s: s.factor)
    bare = f"with {worst.off} off" if worst.off else "in the first hold"
    reason = (
        f"every state holds: the least {bare}"
        if worst.factor >= ENOUGH
        else f"{bare} it is held too little: one clamp more, put on before that one comes off"
    )
    return Check(
        key="swap",
        label="Safety while re-clamping",
        value=min(worst.factor, _SHOWN_MOST),
        unit="×",
        limits=Limits(no_below=1.0, marginal_below=ENOUGH),
        text=times(worst.factor),
        features=(worst.off,) if worst.off else ("cutter_path",),
        reason=reason,
        derivation=Derivation(
            "the margin of each state over the places cut in it",
            "; ".join(times(s.factor) for s in swaps if math.isfinite(s.factor)),
        ),
    )


def _margin_words(held: HeldPart, cutting: CuttingLoad, places: Sequence[int]) -> tuple[str, float]:
    loads = tuple(x for i in places for x in cutting.loads[i * cutting.each : (i + 1) * cutting.each])
    if not loads:
        return "Nothing is cut then", math.inf
    found = margin_of(held, replace(cutting, loads=loads, path=tuple(cutting.path[i] for i in places)), whole=False)
    return (
        (f"It holds by {times(found.least)}", found.least)
        if found.rests
        else ("It does not rest then: put another clamp on first", 0.0)
    )
