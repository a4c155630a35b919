"""Shoulders and broken edges: cutter centre numbers with each allowance as its own term, both sides by sign."""

from __future__ import annotations

import math
from typing import Any, Final

from elbrix.design.work import Chamfer, Shoulder
from elbrix.making.context import FINISH_FLOOR_MM, FINISH_WALL_MM, OVER_RUN_MM, Context, asked
from elbrix.making.grip import BELOW_MM, MIN_GRIP_MM, TOGETHER_MM
from elbrix.making.passes import passes
from elbrix.making.plan import AskedSize, Move, Operation, Setup, SizedBy, Term, Zero
from elbrix.making.pose import Lie, opposite
from elbrix.making.squaring import DEBURR
from elbrix.making.tracks import tracks_to_wall
from elbrix.quantities.sentences import sentence
from elbrix.shop.tooling import Cutter, CutterKind

_NOTHING_MM: Final = 0.002  # less on a side is nothing to take off
_OVER: Final = "micrometer over the neck"
_DOWN: Final = "caliper’s depth rod, from the top down to the shoulder"
_LOCKS: Final = "quill, and Y once it is on its number"


def bar_lie(ctx: Context, up: str = "A", away: str = "B") -> Lie:
    """The bar flat in the vise: X from its low end, Y from its middle, Z from the face that is up."""
    z = 0.0 if up == "A" else -ctx.blank.height_mm
    return Lie(up=up, away=away, zero=(ctx.bar_zero[0], 0.0, z))


def run_along(ctx: Context, d: float) -> tuple[float, float]:
    """X from before the bar to behind it."""
    return -d / 2 - OVER_RUN_MM, ctx.bar_length + d / 2 + OVER_RUN_MM


def touch_middle(ctx: Context, id: str, lie: Lie, jaws_mm: float = math.inf) -> tuple[tuple[Move, ...], tuple[Zero, ...]]:
    """Zero in the middle of the bar across, from its near side, and on its top.

    Args:
        jaws_mm: Where the jaws end below the top; nothing can be touched between them.
    """
    half, side, what = ctx.width / 2, f"the near side, {opposite(lie.away)}", "half the bar"
    stands = ctx.sides.near_mm(lie, jaws_mm)
    if stands is not None and stands < ctx.blank.width_mm / 2 - TOGETHER_MM:  # a bar that came out wider is touched as it is
        half, side, what = stands, "the near side of what stands above the jaws", "from the middle to it"
    y_move, y = ctx.touch_side(f"{id}.Y", "Y", side, -half, what)
    z_move, z = ctx.touch_top(f"{id}.Z", f"the top, {lie.up}")
    return (y_move, z_move), (y, z)


def shoulders(ctx: Context, work: Shoulder) -> Setup:
    """Both shoulders from the middle, by end mill or by the horizontal machine's side and face cutter."""
    lie = bar_lie(ctx, "C", "D") if work.below else bar_lie(ctx)
    arbor = ctx.machine.horizontal
    ledge = max(ctx.width / 2 - _wall(work, sign) for sign in (1.0, -1.0))
    mill = _side_cutter(ctx, work) if arbor else _end_mill(ctx, ledge, work.depth_mm, work.max_corner_mm)
    wide = mill.width_mm if arbor else mill.diameter_mm
    key = "cutter_width" if arbor else "cutter_diameter"
    d = ctx.measured.get(key, wide)
    half_words = ("half the cutter's width" if arbor else "half the cutter") + (" as measured" if key in ctx.measured else "")
    if not arbor and mill.edge_length_mm and mill.edge_length_mm < work.depth_mm:
        ctx.problems.append(
            f"The {mill.title} cuts only {ctx.say(mill.edge_length_mm)} deep; the shoulder is {ctx.say(work.depth_mm)}: its shank"
            " would rub"
        )
    start, zeroes = touch_middle(ctx, "zero" if work.id == "shoulder" else f"{work.id}.zero", lie)
    tool = ctx.tool(mill, work.depth_mm, "y" if arbor else "z")
    operations = [Operation(title="Find zero", tool=zeroes[0].tool, moves=start)]
    for side, sign in (("far", 1.0), ("near", -1.0)):
        half_neck = _wall(work, sign)
        if ctx.width / 2 - half_neck < _NOTHING_MM:
            continue  # it stands out to that side of the bar
        if sign < 0 and _key(work, "first_shoulder") in ctx.measured:
            # The first shoulder came out where it came out; the second makes the neck right.
            half_neck = work.width_mm - _stands(ctx, work)[0]
        operations.append(
            Operation(
                title=f"{sentence(side)} shoulder ({'+' if sign > 0 else '−'}Y)",
                tool=mill.title,
                cutter=tool,
                speed=ctx.speed(mill),
                moves=_side(ctx, work, side, sign, half_neck, mill, d, half_words, first=len(operations) == 1),
                note=f"{'Middle of the cutter’s width' if arbor else 'Cutter centre'}; {ctx.say(ledge)} ledge,"
                f" {ctx.say(work.depth_mm)} deep",
            )
        )
    operations.append(Operation(title="Deburr", tool="file", moves=(Move(id=f"{work.id}.deburr", words=DEBURR),)))
    jaws = ctx.sides.jaws(lie, work.depth_mm)
    held = f"{ctx.in_vise(lie)} on parallels, the jaws {ctx.say(jaws - work.depth_mm, 1)} below the shoulder"
    setup = ctx.setup(
        "shoulders" if work.id == "shoulder" else work.id,
        work.name,
        lie,
        operations,
        holding=held + ("; the arbor across the table, its support in place" if arbor else ""),
        datum=f"Y zero in the middle of the bar, + away from you; Z zero on the top ({lie.up})",
        zeroes=zeroes,
        jaws_mm=jaws,
        cautions=(
            "Both ends of a long bar stick out: nothing may stand where they pass.",
            "Spindle stopped before you measure or brush.",
        ),
    )
    away, near = _stands(ctx, work)
    ctx.sides.step(lie.up, work.depth_mm, *((near, away) if work.below else (away, near)))
    return setup


def _side(
    ctx: Context,
    work: Shoulder,
    side: str,
    sign: float,
    half_neck: float,
    mill: Cutter,
    d: float,
    half_words: str,
    *,
    first: bool,
) -> tuple[Move, ...]:
    """The moves of one side: tracks from the outside in, down in passes, then the wall in finishing cuts at full depth.

    The first side's depth is measured while there is a finishing cut to go: its error is that of the zero, and of both sides.
    """
    most = ctx.roughing_mm(mill.width_mm if ctx.machine.horizontal else mill.diameter_mm)
    floor = passes(work.depth_mm - work.taken_mm, most, FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    wall = passes(FINISH_WALL_MM, FINISH_WALL_MM, FINISH_WALL_MM, ctx.options.passes, spring=ctx.options.spring_pass)
    ends = run_along(ctx, mill.diameter_mm)
    edge, at_wall = ctx.width / 2, half_neck
    base = [Term("half the bar", sign * edge), Term("the shoulder", sign * (at_wall - edge)), Term(half_words, sign * d / 2)]
    moves: list[Move] = []
    lines = tracks_to_wall(at_wall, edge, d)
    roughed = [p for p in floor if not p.finish]
    depth_key, deep_now = _key(work, "depth_so_far"), work.taken_mm + (roughed[-1].to_mm if roughed else 0.0)
    # Deeper is a lower number: what came out too deep is added.
    taught = [Term(t.words, -t.value_mm) for t in ctx.came_out([(depth_key, deep_now)])]
    more: dict[str, Any] = {"lock": _LOCKS, "feature": work.feature}
    for k, line in enumerate(lines, 1):
        last_line = k == len(lines)
        out = line - (at_wall + d / 2)
        tag, of = (f".t{k}", f", track {k} of {len(lines)}") if len(lines) > 1 else ("", "")
        for n, p in enumerate((q for q in floor if not (last_line and q.finish)), 1):
            terms = [*base, *([Term("out to this track", sign * out)] if out > 1e-9 else [])]
            if last_line:
                terms = [*base, Term("left for finishing", sign * FINISH_WALL_MM)]
            y, z = ctx.at("Y", terms), ctx.at("Z", [Term("depth so far", -work.taken_mm - p.to_mm)])
            moves.append(
                ctx.cut(
                    f"{work.id}.{side}{tag}.rough{n}",
                    f"Rough the {side} shoulder{of}, pass {n}",
                    (y, z),
                    "X",
                    ends,
                    wall=-sign,
                    asked=(
                        asked(depth_key, _DOWN, deep_now, 0.1, SizedBy("Z", -1.0, inside=True), drawn=False)
                        if first and last_line and roughed and p is roughed[-1]
                        else None
                    ),
                    **more,
                )
            )
    for n, p in enumerate(wall, 1):
        left = FINISH_WALL_MM - p.to_mm
        terms = [*base, *([Term("left for the next pass", sign * left)] if left > 1e-9 else [])]
        y = ctx.at("Y", terms, key=_key(work, f"shoulder_{side}") if left <= 1e-9 else "")
        z = ctx.at("Z", [Term("depth of the shoulder", -work.depth_mm), *taught], key=_key(work, "shoulder_depth"))
        words = "spring pass, same numbers" if p.cut_mm == 0 else f"finish {n}, {ctx.say(p.cut_mm)} off the wall"
        size: AskedSize | None = None
        if n == len(wall):
            size = (
                _asked_first(ctx, work, half_neck)
                if sign > 0
                else asked(_key(work, "neck"), _OVER, work.width_mm, by=SizedBy("Y", -1.0))
            )
        moves.append(
            ctx.cut(
                f"{work.id}.{side}.finish{n}",
                f"{sentence(side)} shoulder, {words}",
                (y, z),
                "X",
                ends,
                wall=-sign,
                finish=True,
                asked=size,
                may_be_air=p.cut_mm == 0,
                **more,
            )
        )
    return tuple(moves)


def _wall(work: Shoulder, sign: float) -> float:
    """From the middle of the bar to the wall that is left on one side."""
    return work.width_mm / 2 + sign * work.off_mm


def _stands(ctx: Context, work: Shoulder) -> tuple[float, float]:
    """How far what is left stands out from the middle of the bar, to the far side and to the near one; measured where it was."""
    first, both = ctx.measured.get(_key(work, "first_shoulder")), ctx.measured.get(_key(work, "neck"))
    away = _wall(work, 1.0) if first is None else first - ctx.width / 2
    return away, _wall(work, -1.0) if first is None and both is None else (work.width_mm if both is None else both) - away


def _key(work: Shoulder, name: str) -> str:
    """Of a number or a measured size; those of a second shoulder are its own."""
    return name if work.id == "shoulder" else f"{work.id}.{name}"


def _asked_first(ctx: Context, work: Shoulder, half_neck: float) -> AskedSize:
    near = "B" if work.below else "D"
    return asked(
        _key(work, "first_shoulder"),
        f"caliper over the bar, from side {near} to the new shoulder",
        ctx.width / 2 + half_neck,
        by=SizedBy("Y"),
        drawn=False,
    )


def _side_cutter(ctx: Context, work: Shoulder) -> Cutter:
    """The widest side and face cutter of the shop that reaches down over the arbor's collars."""
    cutters = [c for c in ctx.shop.cutters_of(CutterKind.SIDE_AND_FACE) if c.width_mm > 0]
    cutter = cutters[0] if cutters else Cutter(id="missing", kind=CutterKind.SIDE_AND_FACE, diameter_mm=80, width_mm=10, teeth=16)
    if cutters:
        ctx.need_cutter(cutter)
    else:
        ctx.request(cutter.title, False, "not in the shop: only its own steps wait for it")
    reach = (cutter.diameter_mm - ctx.machine.collar_mm) / 2 - 1.0
    if reach < work.depth_mm:
        ctx.problems.append(
            f"The {cutter.title} over Ø{ctx.say(ctx.machine.collar_mm)} collars reaches {ctx.say(reach)} deep, the shoulder is"
            f" {ctx.say(work.depth_mm)}: a larger cutter or smaller collars"
        )
    return cutter


def _end_mill(ctx: Context, ledge: float, deep: float, corner_mm: float) -> Cutter:
    """The thinnest that covers the ledge in one track and is long enough, else the thickest that is long enough."""
    mills = ctx.mills(corner_mm)
    long = [c for c in mills if not c.edge_length_mm or c.edge_length_mm >= deep]
    covering = [c for c in long if c.diameter_mm >= 1.5 * ledge]
    return ctx.end_mill(sorted(covering, key=lambda c: c.diameter_mm) or long or mills, 12.0, corner_mm)


#: How far up its flank a chamfer cutter works, as one would like it first, mm.
_UP_THE_FLANK_MM: Final = (2.0, 1.5, 1.0, 0.5)


def _held_clear(ctx: Context, lie: Lie, depth_mm: float) -> float:
    """What the jaws hold when they just clear a cut so deep."""
    return ctx.sides.gripped(lie, depth_mm + BELOW_MM[-1])


def chamfers(ctx: Context, work: Chamfer) -> Setup | None:
    """Broken lower edges: the bar turned over, a countersink or chamfer cutter along both edges."""
    if work.leg_mm <= 0:
        return None
    cutters = ctx.shop.cutters_of(CutterKind.COUNTERSINK)
    cutter = cutters[0] if cutters else ctx.find(CutterKind.COUNTERSINK, 16.0)
    if cutters:
        ctx.need_cutter(cutter)
    lie = bar_lie(ctx, "C", "D")
    start, zeroes = touch_middle(ctx, "chamfer.zero", lie)
    # The point of a 90° cutter is dull: it cuts a little up its flank, less where the jaws would have to end too low for it.
    flank = cutter.diameter_mm / 2 - work.leg_mm - 0.5
    runs = [r for r in _UP_THE_FLANK_MM if r <= flank] or [flank]
    run = next((r for r in runs if _held_clear(ctx, lie, work.leg_mm + r) >= MIN_GRIP_MM), runs[-1])
    moves = []
    for side, sign in (("far", 1.0), ("near", -1.0)):
        y = ctx.at(
            "Y",
            [
                Term("half the bar", sign * ctx.width / 2),
                Term("the chamfer", -sign * work.leg_mm),
                Term("up the cutter's 45° flank", sign * (work.leg_mm + run)),
            ],
        )
        z = ctx.at("Z", [Term("the chamfer", -work.leg_mm), Term("up the flank, below the edge", -run)])
        moves.append(
            ctx.cut(
                f"chamfer.{side}",
                f"Run along the {side} edge: {ctx.say(work.leg_mm)} × 45°",
                (y, z),
                "X",
                run_along(ctx, cutter.diameter_mm),
                wall=-sign,
                finish=True,
                lock=_LOCKS,
                feature=work.feature,
                allowed_mm=0.1,
            )
        )
    return ctx.setup(
        "chamfers",
        work.name,
        lie,
        (
            Operation(title="Find zero", tool=zeroes[0].tool, moves=start),
            Operation(
                title="Deburr edges",
                tool=cutter.title,
                cutter=ctx.tool(cutter),
                speed=ctx.speed(cutter),
                moves=tuple(moves),
                note="Or with a file: they only have to miss the corner fillets of the slot",
            ),
        ),
        holding=f"{ctx.in_vise(lie)}, jaws on the head's sides, parallels clear of the neck",
        datum=f"Y zero in the middle of the bar, Z zero on the underside ({lie.up}), touched with the point of the cutter",
        zeroes=zeroes,
        jaws_mm=ctx.sides.jaws(lie, work.leg_mm + run),
        cautions=("The edge is sharp until it is broken.",),
    )
