"""What a solved layout says: its checks, figures and the groups of its card."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec.structs import replace

from elbrix.geometry.shapes import outside_by, overlap, rectangle
from elbrix.holding import cut
from elbrix.holding.contacts import Contact, HeldPart
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.elastic import Carried
from elbrix.holding.layout import ClampingElement, Piece, PlacedElement
from elbrix.holding.locating import Located, moved_by_errors
from elbrix.holding.margin import ENOUGH, LOW_SHARE, Margin, times
from elbrix.holding.reach import Clash, furthest, spanner_room, travel_needed
from elbrix.holding.reclamping import Reclamping
from elbrix.parameters.parameter import Group, Values, figure_of
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

_SHOWN_MAX: Final = 99.0


def _wider_than_the_cutter(wide: float, cutter_mm: float) -> Check:
    return Check(
        key="width_of_cut",
        label="Width of cut over cutter Ø",
        value=100 * wide / cutter_mm,
        unit="%",
        limits=Limits(no_above=100),
        features=("cutter_path",),
        figures=("width_of_cut",),
        remedies=("width_of_cut",),
        reason=f"the cutter takes {length(cutter_mm, 2)} {LENGTH_UNIT} at the most, reckoned here: a wider cutter, or two cuts",
        derivation=Derivation("width of cut/Ø", f"{format_number(wide, 3)}/{format_number(cutter_mm, 3)}"),
    )


def own_checks(
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
        f" {length(where[0], 0)}, Y {length(where[1], 0)}"
        if margin.rests and math.isfinite(margin.least) and margin.limit is not None
        else margin.motion.words
    )
    checks = [
        Check(
            key="margin",
            label="Safety factor",
            value=min(margin.least, _SHOWN_MAX),
            unit="×",
            limits=Limits(no_below=1.0, marginal_below=ENOUGH),
            text="loose" if margin.motion.mode == "loose" else times(margin.least) if margin.rests else "does not rest",
            features=("work", "cutter_path"),
            figures=("force", "friction"),
            remedies=("*.torque", "depth_of_cut", "width_of_cut", "feed"),
            reason=reason,
            derivation=Derivation(
                "largest multiple of the cutting load that some split of the contact forces balances, over every place and"
                " direction",
                f"preload × {LOW_SHARE:g}; {len(cutting.loads)} loads; as figured {times(margin.with_figures)}, at the worst"
                f" {'mixture' if margin.mixed_all else 'mixture tried'} of preloads {times(margin.at_corners)}",
                "rigid body, friction cones; an upper bound, so 2 is asked",
            ),
        )
    ]
    if values.word("cut") == "milling" and (wide := values.number("width_of_cut")) > cutting.cutter.diameter_mm + 1e-9:
        checks.append(_wider_than_the_cutter(wide, cutting.cutter.diameter_mm))
    for p in placed:
        if p.problem:
            checks.append(
                Check(
                    key=f"problem {p.name}",
                    label=sentence(p.name),
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
                    reason=f"{way} stands within {length(room)} {LENGTH_UNIT} of its nut:"
                    " a socket on an extension, or the stud moved",
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
            text="clear" if not met else f"hits at {len({c.index for c in met})} of {len(cutting.path)} places",
            features=("cutter_path", *dict.fromkeys(c.what.partition(",")[0] for c in met)),
            reason=(
                f"tool, holder and spindle nose clear everything by {length(1)} {LENGTH_UNIT}"
                if deepest is None
                else f"tool or holder would hit {deepest.what}, up to {length(deepest.by_mm, 1)} {LENGTH_UNIT} deep"
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


def figures_of(
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
            value=min(margin.least, _SHOWN_MAX),
            unit="",
            text=times(margin.least) if margin.rests else "it does not rest",
            features=("work",),
            derivation=Derivation("the least over the path", f"low preload × {LOW_SHARE:g}", "friction cones, rigid body"),
        ),
        Figure(
            key="figured",
            label="Safety, nominal preload",
            value=min(margin.with_figures, _SHOWN_MAX),
            unit="",
            text=times(margin.with_figures),
            derivation=Derivation("the same, worst load, preload × 1", times(margin.with_figures)),
        ),
        Figure(
            key="cornered",
            label="Safety, worst preload mix",
            value=min(margin.at_corners, _SHOWN_MAX),
            unit="",
            text=times(margin.at_corners),
            derivation=Derivation(
                "every clamp once low and once high" if margin.mixed_all else "each clamp alone high, and each alone low",
                times(margin.at_corners),
                "the margin is concave in the preloads: its worst is at a corner",
            ),
        ),
        Figure(key="gives", label="Failure mode", value=0.0, unit="", text=margin.motion.words, features=("work",)),
    ]
    return found


def groups_of(
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
            Group(
                sentence(names[i]),
                (*(f"{i}.{n}" for n in given if n not in placed.idle), *(f.key for f in placed.figures)),
                id=f"element {i}",
            )
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


def locator_figure(contacts: Sequence[Contact], piece: Piece) -> Figure:
    corners = [(x, y, z) for x, y in piece.outline[:: max(1, len(piece.outline) // 12)] for z in (piece.bottom_mm, piece.top_mm)]
    by, name = moved_by_errors(contacts, corners)
    return Figure(
        key="errors",
        label="Corner shift over locator error",
        value=by,
        unit="×",
        features=("work",),
        derivation=Derivation(
            "least squares over all locators; worst corner, worst single locator",
            format_number(by, 3),
            f"the {name or 'seat'}; locators far apart move it least",
        ),
    )


def carried_figures(carried: Carried | None) -> list[Figure]:
    if carried is None:
        return []
    slides = (
        "it does not come to rest in this order"
        if carried.reached <= 0
        else f"{carried.slips_first} at {carried.slips_at:.1f}×"
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
            text=(
                "not known"
                if carried.reached <= 0
                else f"{carried.moved_mm * 1000:.0f} µm"
                if carried.moved_mm >= 0.0005
                else "under 1 µm"
            ),
            features=("work",),
            derivation=Derivation(
                "motion of the loaded point from clamped to cutting",
                guess,
                "an order of magnitude: nobody knows a contact's stiffness better",
            ),
        ),
    ]


def unsettled_check() -> Check:
    """The springs found no rest while the clamps were tightened one after another."""
    return Check(
        key="order",
        label="Order of tightening",
        value=1,
        unit="",
        limits=Limits(marginal_above=0),
        text="finds no rest",
        features=("work",),
        reason="on springs the work moves while it is clamped in this order: push it against its stops, tighten a little in turn",
        derivation=Derivation("weight, then one clamp after another, each contact a spring", "it did not come to rest"),
    )


def reclamping_check(swaps: Sequence[Reclamping]) -> Check:
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
        value=min(worst.factor, _SHOWN_MAX),
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
