"""Channels, Vs, bored holes and pockets: numbers for the cutter's centre, each allowance as its own term."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise
from typing import Final

from elbrix.design.work import BoredHole, Groove, Pocket, VGroove
from elbrix.drawing.scene import Arc, Element, Line, Path, Scene, Style, box
from elbrix.making.context import FINDER_MM, FINISH_FLOOR_MM, FINISH_WALL_MM, Context
from elbrix.making.milling import depth_share, touch_off
from elbrix.making.passes import passes
from elbrix.making.pictures import vise_end
from elbrix.making.plan import AskedSize, Move, Operation, Setup, Term
from elbrix.mechanics.drilling import point_mm
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter, CutterKind

_LOCKS: Final = "quill, and the idle slide once it is on its number"
#: A cutter this near the width of a channel cuts it in one go, mm.
_JUST: Final = 0.02
#: Left in a bore for equal finishing cuts with the boring head, on the diameter, mm.
_BORE_FINISH: Final = 0.6


def _mill_for(ctx: Context, most_mm: float) -> Cutter:
    """The largest owned end mill that goes in."""
    fitting = [c for c in ctx.shop.cutters_of(CutterKind.END_MILL) if c.diameter_mm <= most_mm + _JUST]
    if fitting:
        ctx.need_cutter(fitting[0])
        return fitting[0]
    return ctx.find(CutterKind.END_MILL, max(1.0, math.floor(most_mm)))


def channel(ctx: Context, work: Groove) -> Setup:
    """Down the middle in passes, then each wall to its own number."""
    mill = _mill_for(ctx, work.width_mm)
    d = mill.diameter_mm
    spare = (work.width_mm - d) / 2
    axis, along = ("X", "Y") if work.across else ("Y", "X")
    middle = (
        [Term("its middle from the low end" if work.across else "its middle from the middle of the bar", work.at_mm)]
        if work.at_mm or work.across
        else []
    )
    deep = passes(work.depth_mm, max(0.3, d * depth_share(ctx)), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    moves = [
        Move(
            id=f"{work.id}.rough{n}",
            words=f"Down the middle, pass {n}",
            positions=(ctx.at(axis, middle or [Term("middle", 0.0)]), ctx.at("Z", [Term("depth so far", -p.to_mm)])),
            lock=_LOCKS,
            direction="full width: conventional on one side, climb on the other; hold it well",
        )
        for n, p in enumerate(deep, 1)
    ]
    if spare > _JUST / 2:
        for side, sign in (("far" if not work.across else "high", 1.0), ("near" if not work.across else "low", -1.0)):
            terms = [*middle, Term("half the channel", sign * work.width_mm / 2), Term("half the cutter", -sign * d / 2)]
            asked = (
                AskedSize(
                    key=f"{work.id}.wide",
                    words="width, with a pin or gauge blocks",
                    expected_mm=work.width_mm,
                    allowed_mm=work.allowed_mm,
                )
                if sign < 0
                else None
            )
            moves.append(
                Move(
                    id=f"{work.id}.{side}",
                    words=f"{side.capitalize()} wall, full depth",
                    positions=(ctx.at(axis, terms), ctx.at("Z", [Term("depth", -work.depth_mm)])),
                    lock=_LOCKS,
                    direction=ctx.direction(True),
                    asked=asked,
                )
            )
    else:
        moves[-1] = Move(
            id=f"{work.id}.last",
            words="Last pass, full depth: the cutter makes the width",
            positions=moves[-1].positions,
            lock=_LOCKS,
            asked=AskedSize(
                key=f"{work.id}.wide",
                words="width, with a pin or gauge blocks",
                expected_mm=work.width_mm,
                allowed_mm=work.allowed_mm,
            ),
        )
    zero = (
        (
            Move(
                id=f"{work.id}.zero",
                words="Touch the finished low end: X reads this number there. Z zero on the face",
                positions=(ctx.at("X", [Term("half the edge finder", -FINDER_MM / 2)]),),
                lock="Y",
            ),
        )
        if work.across
        else touch_off(ctx, f"{work.id}.zero")
    )
    if mill.edge_length_mm and mill.edge_length_mm < work.depth_mm:
        ctx.problems.append(
            f"The {mill.title} cuts only {ctx.say(mill.edge_length_mm)} deep; {work.name.lower()} is {ctx.say(work.depth_mm)}"
        )
    up = "underside up" if work.below else "A up"
    picture = partial(
        _channel_end,
        ctx.blank.length_mm if work.across else ctx.width,
        ctx.height,
        work.width_mm,
        work.depth_mm,
        work.at_mm - ctx.blank.length_mm / 2 if work.across else -work.at_mm,
    )
    return Setup(
        id=work.id,
        title=work.name,
        holding=f"In the vise, {up}, on parallels; the jaws below the channel by 2 mm or more",
        datum=(
            "X zero at the finished low end; Z zero on the face"
            if work.across
            else "Y zero in the middle of the bar; Z zero on the face"
        ),
        operations=(
            Operation(title="Find zero", tool=f"edge finder Ø{FINDER_MM:g}", moves=tuple(zero)),
            Operation(
                title=f"Channel {ctx.say(work.width_mm)}",
                tool=mill.title,
                speed=ctx.speed(mill, along),
                moves=tuple(moves),
                note=f"{ctx.say(work.depth_mm)} deep; cutter centre",
            ),
        ),
        pictures={"": picture},
    )


def _channel_end(wide: float, high: float, channel_mm: float, deep: float, at: float) -> Scene:
    a, b, h = at - channel_mm / 2, at + channel_mm / 2, wide / 2
    ring = (
        (-h, -high),
        (h, -high),
        (h, 0.0),
        (min(b, h), 0.0),
        (min(b, h), -deep),
        (max(a, -h), -deep),
        (max(a, -h), 0.0),
        (-h, 0.0),
    )
    return vise_end(wide, high, letters=("", "", ""), profile=ring, cutter=(at, -deep, channel_mm), out_of_jaws=deep + 2)


def tilt_for(included_deg: float) -> float:
    """How far the bar is tilted so that one flank of a V lies level, degrees: (180 − A)/2."""
    return (180.0 - included_deg) / 2


def vee_numbers(edge_mm: float, mouth_mm: float, included_deg: float) -> tuple[float, float]:
    """Where a flank lies once the bar is tilted by `tilt_for`, from its high edge: (down, across to the bottom of the V), mm.

    The bar's top is turned by τ about the high edge, E from the middle of the V. The level flank then lies (E + M/2)·sin τ below
    that edge; the V's bottom, g = (M/2)·tan τ deep, lies E·cos τ − g·sin τ across from it.
    """
    tau = math.radians(tilt_for(included_deg))
    deep = mouth_mm / 2 * math.tan(tau)
    return (edge_mm + mouth_mm / 2) * math.sin(tau), edge_mm * math.cos(tau) - deep * math.sin(tau)


def vee(ctx: Context, work: VGroove) -> Setup:
    """One flank after the other; the bar is turned end for end between, so a V in the middle has the same numbers twice."""
    tilt = tilt_for(work.included_deg)
    mills = ctx.shop.cutters_of(CutterKind.END_MILL)
    mill = mills[0] if mills else ctx.find(CutterKind.END_MILL, 16.0)
    if mills:
        ctx.need_cutter(mill)
    ctx.request(f"{format_number(tilt)}° on the level or sine plate", True)
    d = mill.diameter_mm
    moves: list[Move] = [
        Move(
            id=f"{work.id}.zero",
            words=(
                "Touch the high edge of the tilted bar: from above with a feeler, Z zero is the edge; from the side, Y zero is"
                " the edge"
            ),
            positions=(ctx.at("Y", [Term("half the cutter", -d / 2)]), ctx.at("Z", [Term("feeler", 0.05)])),
            lock="X",
        )
    ]
    edges = (ctx.width / 2 - work.at_mm, ctx.width / 2 + work.at_mm)  # the far edge is high first
    for flank, edge in enumerate(edges, 1):
        down, across = vee_numbers(edge, work.mouth_mm, work.included_deg)
        steps = passes(down, max(0.3, d * depth_share(ctx)), FINISH_WALL_MM, ctx.options.passes)
        for n, p in enumerate(steps, 1):
            left = 0.0 if p.finish and n == len(steps) else FINISH_WALL_MM if not p.finish else 0.0
            last = n == len(steps)
            z = [Term("high edge to the flank", -down), *([Term("left for the next pass", down - p.to_mm)] if not last else [])]
            y = [
                Term("edge to the bottom of the V", across),
                Term("half the cutter", d / 2),
                *([Term("left for finishing", left)] if left else []),
            ]
            asked = (
                AskedSize(
                    key=f"{work.id}.pin",
                    words=f"a pin Ø{format_number(work.pin_mm, 3)} in the V: its top above the face",
                    expected_mm=work.over_pin_mm,
                    allowed_mm=0.03,
                )
                if last and flank == 2 and work.pin_mm
                else None
            )
            moves.append(
                Move(
                    id=f"{work.id}.{flank}.{n}",
                    words=f"Flank {flank}, pass {n}"
                    + (
                        ": turn the bar end for end first, same tilt, zero at the edge that is high now"
                        if flank == 2 and n == 1
                        else ""
                    ),
                    positions=(
                        ctx.at("Y", y, key=f"{work.id}.y" if last else ""),
                        ctx.at("Z", z, key=f"{work.id}.z" if last else ""),
                    ),
                    lock=_LOCKS,
                    direction=ctx.direction(p.finish),
                    asked=asked,
                )
            )
    cautions = ["Tilted work stands on an edge: clamp hard, tap it down, try to move it by hand before the spindle turns."]
    if work.included_deg < 90:
        cautions.append(
            "Below 90° the other flank hangs over the cut: the end mill's side must not reach it. Finish the bottom with an angle"
            " cutter, or leave the relief wide."
        )
    return Setup(
        id=work.id,
        title=work.name,
        holding=(
            f"In the vise, tilted {format_number(tilt)}° about its long axis, checked with the level on the top or a sine plate"
            " under it; a stop at one end"
        ),
        datum="Y and Z zero at the high edge of the tilted bar, + away and up",
        operations=(
            Operation(
                title=f"Flanks of {format_number(work.included_deg)}°",
                tool=mill.title,
                speed=ctx.speed(mill),
                moves=tuple(moves),
                note="Cutter centre; the first passes of each flank cut the land only at its edge",
            ),
        ),
        pictures={"": partial(_vee_tilted, ctx.width, ctx.height, work.mouth_mm, tilt, d, edges[0])},
        cautions=tuple(cautions),
        stands="stands tilted",
    )


def _vee_tilted(wide: float, high: float, mouth: float, tilt_deg: float, d: float, edge: float) -> Scene:
    t = -math.radians(tilt_deg)
    deep = mouth / 2 * math.tan(-t)

    def at(u: float, w: float) -> tuple[float, float]:
        u += edge  # from the middle of the V
        return (u * math.cos(t) - w * math.sin(t), u * math.sin(t) + w * math.cos(t))

    ring = tuple(
        at(u, w)
        for u, w in (
            (-edge, -high),
            (wide - edge, -high),
            (wide - edge, 0),
            (mouth / 2, 0),
            (0, -deep),
            (-mouth / 2, 0),
            (-edge, 0),
        )
    )
    x, z = at(0.0, -deep)
    elements: list[Element] = [
        Path(ring, Style.BODY, "work", closed=True),
        Path(ring, Style.VISIBLE, "work", closed=True),
        box(x, z, x + d, z + high, Style.TOOL, "cutter"),
        Line((x + d / 2, z - 3), (x + d / 2, z + high + 3), Style.CENTRE),
        Line((-4, 0), (6, 0), Style.THIN),
    ]
    return Scene("setup", "Tilted, from the end", tuple(elements))


def bored_hole(ctx: Context, work: BoredHole) -> Setup:
    """Drilled near, then bored in equal cuts, each measured before the next."""
    near = max(
        (c.diameter_mm for c in ctx.shop.cutters_of(CutterKind.DRILL) if c.diameter_mm <= work.size_mm - 1.0),
        default=work.size_mm - min(2.0, 0.2 * work.size_mm),
    )
    ctx.find(CutterKind.DRILL, near)
    ctx.request("boring head and bar", True)
    bar = Cutter(id="boring bar", kind=CutterKind.END_MILL, diameter_mm=work.size_mm, teeth=1, name="boring bar")
    place = (
        ctx.at("X", [Term("ordinate from the low end", work.x_mm)]),
        ctx.at("Y", [Term("ordinate from the middle", work.y_mm)]),
    )
    z = [Term("depth", -work.depth_mm)] if work.depth_mm else [Term("thickness", -work.thickness_mm), Term("through", -1.0)]
    hole = (
        [Term("depth, point included", -max(0.5, work.depth_mm - point_mm(near) - 0.5))]
        if work.depth_mm
        else [*z, Term("drill point", -point_mm(near))]
    )
    gap = work.size_mm - near
    cuts = passes(gap, 1.0, min(_BORE_FINISH, gap), ctx.options.passes, finish_cuts=3)
    moves = [
        Move(
            id=f"{work.id}.drill",
            words=f"Spot and drill Ø{ctx.say(near)}",
            positions=(*place, ctx.at("Z", hole)),
            lock="X and Y",
            caution="It grabs as it breaks through: ease the feed." if not work.depth_mm else "",
        )
    ]
    for n, p in enumerate(cuts, 1):
        size = near + p.to_mm
        asked = (
            AskedSize(
                key=f"{work.id}.size" if n == len(cuts) else f"{work.id}.size{n}",
                words="bore, crosswise at both ends",
                expected_mm=size,
                allowed_mm=work.allowed_mm if n == len(cuts) else 0.1,
            )
            if p.finish
            else None
        )
        moves.append(
            Move(
                id=f"{work.id}.cut{n}",
                words=f"Bore to Ø{ctx.say(size)}" + (", equal finishing cut" if p.finish else ""),
                positions=(*place, ctx.at("Z", z)),
                lock="X and Y; never shifted between drilling and boring",
                asked=asked,
            )
        )
    return Setup(
        id=work.id,
        title=work.name,
        holding=work.held or "On parallels under straps or in the vise, clear of the bar below",
        datum="X zero at the finished low end; Y zero in the middle of the width; Z zero on the top",
        operations=(
            Operation(
                title=f"Bore Ø{ctx.say(work.size_mm)}",
                tool="boring head",
                speed=ctx.speed(bar, "Z"),
                moves=tuple(moves),
                note="Drill wander is corrected by the first boring cut: the head turns about the spindle, not about the hole",
            ),
        ),
        pictures={"": partial(_bore_above, ctx.blank.length_mm, ctx.width, work.x_mm, work.y_mm, work.size_mm)},
        cautions=("A boring head is out of balance: not above the maker's speed.", "No gloves and no rag near the turning tool."),
    )


def _bore_above(length: float, width: float, x: float, y: float, size: float) -> Scene:
    elements: list[Element] = [
        box(0, -width / 2, length, width / 2, Style.BODY, "work"),
        box(0, -width / 2, length, width / 2, Style.VISIBLE, "work"),
        Arc((x, y), size / 2, style=Style.TOOL, feature="bore"),
        Line((x, y - size), (x, y + size), Style.CENTRE),
        Line((x - size, y), (x + size, y), Style.CENTRE),
    ]
    return Scene("setup", "From above, X from the low end", tuple(elements))


def pocket(ctx: Context, work: Pocket) -> Setup:
    """Corner by corner with the cutter's centre; roughed a little inside, in passes down."""
    mill = ctx.find(CutterKind.END_MILL, work.cutter_mm, tolerance=0.06)
    deep = passes(
        work.depth_mm, max(0.3, mill.diameter_mm * depth_share(ctx)), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1
    )
    ends = len(work.corners)
    moves = [
        Move(
            id=f"{work.id}.{n}",
            words=f"Corner {n}"
            + (
                ": come in here, straight, before going down a pass"
                if n == 1
                else " and out"
                if n == ends and not work.closed
                else ""
            ),
            positions=(
                ctx.at("X", [Term("cutter centre from the low end", x)]),
                ctx.at("Y", [Term("cutter centre from the middle", y)]),
            ),
            lock="quill",
        )
        for n, (x, y) in enumerate(work.corners, 1)
    ]
    downs = ", ".join(ctx.say(p.to_mm) for p in deep)
    slanted = any(abs(a[0] - b[0]) > 0.01 and abs(a[1] - b[1]) > 0.01 for a, b in pairwise(work.corners))
    note = f"The whole path at each depth: {downs}; keep {ctx.say(FINISH_WALL_MM)} inside it till the last round"
    if slanted:
        note += ". A slanted run is cut with X and Y in small steps, or with the work turned so that it lies along a slide"
    return Setup(
        id=work.id,
        title=work.name,
        holding=work.held or "In the vise or under straps",
        datum="X zero at the low end; Y zero in the middle of the width; Z zero on the face",
        operations=(
            Operation(
                title=f"Follow the outline {ctx.say(work.depth_mm)} deep",
                tool=mill.title,
                speed=ctx.speed(mill),
                moves=tuple(moves),
                note=note,
            ),
        ),
        pictures={"": partial(_pocket_above, ctx.blank.length_mm, ctx.width, work.corners, work.cutter_mm, work.closed)},
    )


def _pocket_above(length: float, width: float, corners: tuple[tuple[float, float], ...], d: float, closed: bool) -> Scene:
    elements: list[Element] = [
        box(0, -width / 2, length, width / 2, Style.BODY, "work"),
        box(0, -width / 2, length, width / 2, Style.VISIBLE, "work"),
        Path(corners, Style.TOOL, "path", closed=closed),
    ]
    elements += [Arc(p, d / 2, style=Style.THIN, feature="path") for p in corners]
    return Scene("setup", "From above, X from the low end", tuple(elements))
