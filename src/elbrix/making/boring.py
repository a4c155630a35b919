"""Bored holes and pockets: drilled or cleared, then brought to size."""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.work import BoredHole, Pocket
from elbrix.making.context import BORING_BAR, BORING_HEAD, FINISH_FLOOR_MM, Context, asked, in_bore
from elbrix.making.faceplate import faceplate_bore
from elbrix.making.faceplate import wanted as on_faceplate
from elbrix.making.holes import DRILL_THROUGH_MM, face_lie, ordinates, piece_zero
from elbrix.making.passes import passes
from elbrix.making.plan import Move, Operation, Setup, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.strokes import Stroke, Tool
from elbrix.making.wander import roughing, said, wander_asked
from elbrix.mechanics.drilling import point_mm, spot_mm
from elbrix.quantities.sentences import within
from elbrix.shop.tooling import Cutter, CutterKind, HolderKind

#: The least bore a bar goes into, mm.
MIN_BORE_MM: Final = 4.0
#: Left in a bore for equal finishing cuts with the boring head, on the diameter, mm.
_BORE_FINISH: Final = 0.6
#: Roughing cut of a boring head on the diameter by rigidity, mm.
_BORE_CUT: Final = {"light": 1.0, "medium": 2.0, "heavy": 3.0}
#: A slot as wide as its cutter is as drawn within that, mm.
_AS_DRAWN_MM: Final = 0.005
#: A flat-bottomed bore is drilled this far short of its floor, mm.
_SHORT_MM: Final = 0.5


def in_place_lie(ctx: Context, gap_mm: float, *, moving: bool) -> Lie:
    """A jaw screwed to the vise: its top up, its face half the gap from the parting line, away from you or nearer to you.

    X zero at its left end, Y zero on the parting line, Z zero on the jaws' tops.
    """
    # The jaw's face is A and its top is B. In the fixed jaw A is toward you and C away, in the moving one the other way about.
    if moving:
        return Lie(up="B", away="A", zero=(ctx.blank.length_mm, ctx.blank.width_mm / 2, gap_mm / 2))
    return Lie(up="B", away="C", zero=(0.0, ctx.blank.width_mm / 2, gap_mm / 2))


def _where(ctx: Context, work: BoredHole | Pocket) -> tuple[Lie, Operation, tuple[Zero, ...]]:
    """Lie, zero-finding and zeros of a piece by itself, or of jaws cut in place."""
    id, gap_mm = work.id, work.gap_mm
    if gap_mm is None:
        lie = face_lie(ctx, "A")
        return lie, *piece_zero(ctx, id, lie)
    lie = in_place_lie(ctx, gap_mm, moving=work.moving)
    x_move, x = ctx.touch_side(f"{id}.zero.X", "X", "the jaws' left end", 0.0, "")
    far = gap_mm / 2 + ctx.blank.height_mm
    y_move, y = ctx.touch_side(f"{id}.zero.Y", "Y", "the back of the near jaw", -far, "half the spacer and the jaw's thickness")
    z_move, z = ctx.touch_top(f"{id}.zero.Z", "the jaws' tops, B")
    return lie, Operation(title="Find zero", tool=x.tool, moves=(x_move, y_move, z_move)), (x, y, z)


def bored_hole(ctx: Context, work: BoredHole) -> list[Setup]:
    """Drilled near, then bored in equal cuts, each measured before the next."""
    if work.size_mm < MIN_BORE_MM:
        ctx.problems.append(
            f"{work.name}: Ø{ctx.say(work.size_mm)} is too small for a boring bar. It is not planned: drill and ream it, or make"
            f" it Ø{ctx.say(MIN_BORE_MM)} or more"
        )
        ctx.gathered.leaves.append(f"{work.name} Ø{ctx.say(work.size_mm)}")
        return []
    if on_faceplate(ctx, work):
        return [faceplate_bore(ctx, work)]
    lie, start, zeroes = _where(ctx, work)
    through = not work.depth_mm
    thick = work.thickness_mm or ctx.blank.height_mm
    floor = [Term("depth", -work.depth_mm)] if not through else [Term("thickness", -thick), Term("through", -DRILL_THROUGH_MM)]
    head = next((h for h in ctx.shop.holders if h.kind is HolderKind.BORING_HEAD and h.machine in ("", ctx.machine.id)), None)
    ctx.request(head.title if head else "boring head and bar", head is not None or not ctx.shop.holders)
    if head is not None and not head.least_mm <= work.size_mm <= head.most_mm:
        ctx.problems.append(
            f"{head.title} bores {ctx.say(head.least_mm)} to {ctx.say(head.most_mm)}: {within(work.name)} is"
            f" {ctx.say(work.size_mm)}"
        )
    operations = [start]
    # In place the middle is open between the jaws: the head begins where there is metal.
    least = max(3.0, head.least_mm if head else 6.0)
    near = work.gap_mm if work.gap_mm is not None and abs(work.y_mm) < 1e-9 and work.gap_mm >= least else 0.0
    near = near or _drilled(ctx, work, operations, floor) or _begun(ctx, work, operations, floor)
    operations += _bored(ctx, work, near, floor)
    held = ctx.held_as(work.held, lie) or f"on parallels under straps or {ctx.in_vise(lie)}, clear of the bar below"
    setup = ctx.setup(
        work.id,
        work.name,
        lie,
        operations,
        holding=held,
        datum="X zero at the left end; Y zero "
        + ("on the parting line" if work.gap_mm is not None else "in the middle of the width")
        + f"; Z zero on {lie.up}",
        zeroes=zeroes,
        jaws_mm=ctx.sides.jaws(lie, 0.0) if work.gap_mm is None else 0.0,
        fixture="vise" if work.gap_mm is None else "jaws in place",
        each=work.gap_mm is None,
        cautions=("A boring head is out of balance: not above the maker's speed.", "No gloves and no rag near the turning tool."),
    )
    return [setup]


def _drilled(ctx: Context, work: BoredHole, operations: list[Operation], floor: list[Term]) -> float:
    """Spotted and drilled under size; its Ø, or nothing where the bore is too shallow for a drill's point."""
    drill = _drill_below(ctx, work.size_mm - 1.0, work)
    near, cone = drill.diameter_mm, point_mm(drill.diameter_mm)
    through = not work.depth_mm
    if not through and work.depth_mm < cone + 1.0:
        return 0.0
    x, y = ordinates(ctx, work.x_mm, work.y_mm)
    spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, under=6.0, over=6.0)
    ends = max(0.5, work.depth_mm - _SHORT_MM)
    deep = spot_mm(near, spot.diameter_mm, (work.thickness_mm or math.inf) if through else ends)
    short = [Term("depth, its point above the floor", -ends)]
    z = ctx.at("Z", [*floor, Term("drill point", -cone)] if through else short)
    caution = "It grabs as it breaks through: ease the feed." if through else ""
    for title, cutter, id, at in (
        ("Spot", spot, "spot", ctx.at("Z", [Term("spot", -deep)])),
        (f"Drill Ø{ctx.say(near)}", drill, "drill", z),
    ):
        operations.append(
            Operation(
                title=title,
                tool=cutter.title,
                cutter=ctx.tool(cutter, -at.value_mm),
                speed=ctx.speed(cutter, "Z"),
                moves=(
                    ctx.plunge(
                        f"{work.id}.{id}",
                        title,
                        x,
                        y,
                        at,
                        caution=caution if id == "drill" else "",
                        feature=work.feature,
                        asked=wander_asked(work.id, "it turns with the spindle") if id == "drill" else None,
                    ),
                ),
            )
        )
    return near


def _drill_below(ctx: Context, most_mm: float, work: BoredHole) -> Cutter:
    """The largest owned drill that leaves a boring cut."""
    fitting = [c for c in ctx.shop.cutters_of(CutterKind.DRILL) if c.diameter_mm <= most_mm]
    if fitting:
        ctx.need_cutter(fitting[0])
        return fitting[0]
    return ctx.find(CutterKind.DRILL, max(1.0, round(work.size_mm - min(2.0, 0.2 * work.size_mm), 1)))


def _begun(ctx: Context, work: BoredHole, operations: list[Operation], floor: list[Term]) -> float:
    """A hole begun with an end mill straight down; its Ø."""
    mills = [m for m in ctx.mills() if m.diameter_mm <= work.size_mm - 1.0]
    mill = ctx.end_mill(mills, max(2.0, work.size_mm - 1.0))
    steps = passes(-sum(t.value_mm for t in floor), max(1.0, mill.diameter_mm * 0.5), 0.2, "equal", finish_cuts=1)
    x, y = ordinates(ctx, work.x_mm, work.y_mm)
    last = ctx.plunge(
        f"{work.id}.begin",
        f"Straight down with a centre-cutting end mill, in {len(steps)} steps",
        x,
        y,
        ctx.at("Z", floor),
        feature=work.feature,
    )
    operations.append(
        Operation(
            title=f"Begin with Ø{ctx.say(mill.diameter_mm)}",
            tool=mill.title,
            cutter=ctx.tool(mill, work.depth_mm),
            speed=ctx.speed(mill, "Z"),
            moves=(last,),
        )
    )
    return mill.diameter_mm


def _bored(ctx: Context, work: BoredHole, near: float, floor: list[Term]) -> list[Operation]:
    gap = work.size_mm - near
    rough = roughing(ctx, work.id, _BORE_CUT.get(ctx.machine.rigidity, 2.0))
    wander = said(ctx, work.id, work.name, near, work.size_mm)
    finish = min(_BORE_FINISH, gap)
    cuts = passes(gap, rough, finish, ctx.options.passes, finish_cuts=ctx.finish_cuts(BORING_HEAD, finish))
    x, y = ordinates(ctx, work.x_mm, work.y_mm)
    found = []
    bar = Cutter(id=BORING_BAR, kind=CutterKind.END_MILL, diameter_mm=work.size_mm, teeth=1, name=BORING_BAR)
    for n, p in enumerate(cuts, 1):
        last = n == len(cuts)
        size = near + p.to_mm if last or p.finish else round(near + p.to_mm, 1)
        ask = (
            asked(
                f"{work.id}.size" if last else f"{work.id}.size{n}",
                in_bore(size),
                size,
                work.allowed_mm if last else 0.1,
                drawn=last,
            )
            if p.finish
            else None
        )
        taught = ctx.came_out([(f"{work.id}.size{k}", near + c.to_mm) for k, c in enumerate(cuts[: n - 1], 1)])
        grows = size - (near if n == 1 else near + cuts[n - 2].to_mm) + (taught[0].value_mm if taught else 0.0)
        by_indicator = f"; an indicator on the tool's tip: {ctx.say(grows / 2, 3)} out" if n > 1 else ""
        set_to = (
            f"; set the head to Ø{ctx.say(size + taught[0].value_mm, 3)}: the cuts before came out beside it" if taught else ""
        )
        move = ctx.plunge(
            f"{work.id}.cut{n}",
            f"Bore to Ø{ctx.say(size, 3 if last else 2)}" + (", equal finishing cut" if p.finish else "") + by_indicator + set_to,
            x,
            y,
            ctx.at("Z", floor),
            lock="X and Y; never shifted between drilling and boring",
            asked=ask,
            feature=work.feature,
        )
        found.append(
            Operation(
                title=f"Bore Ø{ctx.say(size, 3 if last else 2)}",
                tool=BORING_HEAD,
                cutter=Tool(kind="boring", diameter_mm=size, holder=BORING_HEAD),
                speed=ctx.speed(bar, "Z", takes_mm2=math.pi * size * grows / 2),
                moves=(move,),
                note=(
                    wander or "Drill wander is corrected by boring: the head turns about the spindle, not about the hole"
                    if n == 1
                    else ""
                ),
            )
        )
    return found


def pocket(ctx: Context, work: Pocket) -> Setup:
    """Cleared from the inside out, ring by ring, the last one along the wall; every ring in passes down."""
    lie, start, zeroes = _where(ctx, work)
    mill = ctx.find(CutterKind.END_MILL, work.cutter_mm)
    off = abs(mill.diameter_mm - work.cutter_mm) if not work.closed and len(work.corners) == 2 else 0.0
    if off > _AS_DRAWN_MM:
        ctx.assumed.append(
            f"{work.name} comes out {ctx.say(mill.diameter_mm, 3)} wide, as the {mill.title} is; drawn are"
            f" {ctx.say(work.cutter_mm, 3)}"
        )
    rings = _rings(work)
    deep = passes(work.depth_mm, ctx.roughing_mm(mill.diameter_mm), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    operations = [
        start,
        *(_slot_ends(ctx, work, mill) if not work.closed and len(work.corners) == 2 else ()),
        *_reliefs(ctx, work, mill),
    ]
    downs = ", ".join(ctx.say(p.to_mm) for p in deep)
    for k, ring in enumerate(rings, 1):
        last = k == len(rings)
        operations.append(
            Operation(
                title="Along the wall" if last else f"Clear, round {k} of {len(rings)}",
                tool=mill.title,
                cutter=ctx.tool(mill, work.depth_mm),
                speed=ctx.speed(mill),
                moves=_round_moves(ctx, work, ring, k, [p.to_mm for p in deep], last=last, off_mm=off / 2),
                note=f"The whole round at each depth: {downs}",
            )
        )
    return ctx.setup(
        work.id,
        work.name,
        lie,
        operations,
        holding=ctx.held_as(work.held, lie) or f"{ctx.in_vise(lie)} or under straps",
        datum="X zero at the left end; Y zero "
        + ("on the parting line" if work.gap_mm is not None else "in the middle of the width")
        + f"; Z zero on {lie.up}",
        zeroes=zeroes,
        jaws_mm=ctx.sides.jaws(lie, 0.0) if work.gap_mm is None else 0.0,
        fixture="vise" if work.gap_mm is None else "jaws in place",
        each=work.gap_mm is None,
    )


def _slot_ends(ctx: Context, work: Pocket, mill: Cutter) -> list[Operation]:
    """Both ends of a slot drilled first: an end mill is spared the plunge, and the ends are straight."""
    fitting = [c for c in ctx.shop.cutters_of(CutterKind.DRILL) if c.diameter_mm <= mill.diameter_mm - 0.3]
    drill = fitting[0] if fitting else ctx.find(CutterKind.DRILL, round(mill.diameter_mm - 0.5, 1))
    ctx.need_cutter(drill, bool(fitting))
    spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, under=6.0, over=6.0)
    cone = point_mm(drill.diameter_mm)
    deep = spot_mm(drill.diameter_mm, spot.diameter_mm, work.depth_mm + cone)
    depths = (
        ("Spot the ends", spot, "spot", [Term("spot", -deep)]),
        (
            f"Drill the ends Ø{ctx.say(drill.diameter_mm)}",
            drill,
            "drill",
            [Term("depth", -work.depth_mm), Term("drill point", -cone)],
        ),
    )
    found = []
    for title, cutter, id, z in depths:
        moves = []
        for n, (a, b) in enumerate(work.corners, 1):
            x, y = ordinates(ctx, a, b)
            moves.append(
                ctx.plunge(f"{work.id}.{id}.{n}", f"{title.split()[0]} end {n}", x, y, ctx.at("Z", z), feature=work.feature)
            )
        found.append(
            Operation(
                title=title,
                tool=cutter.title,
                cutter=ctx.tool(cutter, work.depth_mm),
                speed=ctx.speed(cutter, "Z"),
                moves=tuple(moves),
            )
        )
    return found


Ring = tuple[tuple[float, float], ...]


def _rings(work: Pocket) -> list[Ring]:
    """The wall's path and the rounds inside it, from the inside out."""
    if not work.closed:
        return [work.corners]
    from shapely import Polygon

    found: list[Ring] = [work.corners]
    step = 0.8 * work.cutter_mm
    inner = Polygon(work.corners)
    while True:
        inner = inner.buffer(-step, join_style="mitre", mitre_limit=4.0)
        parts = [g for g in getattr(inner, "geoms", [inner]) if not g.is_empty]
        if not parts:
            break
        for part in parts:
            ring = tuple((float(a), float(b)) for a, b in part.exterior.simplify(0.01).coords[:-1])
            if work.gap_mm is None or any(abs(b) > (work.gap_mm / 2 - work.cutter_mm / 2) for _, b in ring):
                found.append(ring)
    return found[::-1]


def _round_moves(
    ctx: Context, work: Pocket, ring: Ring, k: int, depths: list[float], *, last: bool, off_mm: float
) -> tuple[Move, ...]:
    moves = []
    closed = work.closed
    for n, here in enumerate(ring, 1):
        before = ring[n - 2] if n > 1 or closed else here
        path = (before, here) if n > 1 or closed else (here,)
        strokes = tuple(Stroke(tuple((a, b, -d) for a, b in path)) for d in depths)
        moves.append(
            Move(
                id=f"{work.id}.{n}" if last else f"{work.id}.r{k}.{n}",
                words=f"Corner {n}" + (": come in here, straight, before going down a pass" if n == 1 else ""),
                positions=(
                    ctx.at("X", [Term("cutter centre from the left end", here[0])]),
                    ctx.at(
                        "Y",
                        [
                            Term(
                                (
                                    "cutter centre from the parting line"
                                    if work.gap_mm is not None
                                    else "cutter centre from the middle"
                                ),
                                here[1],
                            )
                        ],
                    ),
                ),
                strokes=strokes,
                lock="quill",
                feature=work.feature,
                allowed_mm=0.004 + off_mm,
                may_be_air=work.gap_mm is not None,
            )
        )
    return tuple(moves)


def _reliefs(ctx: Context, work: Pocket, mill: Cutter) -> list[Operation]:
    """Corner reliefs go first, straight down with the end mill while there is metal all round it."""
    if not work.reliefs:
        return []
    moves = []
    for n, (a, b) in enumerate(work.reliefs, 1):
        x, y = ordinates(ctx, a, b)
        moves.append(
            ctx.plunge(
                f"{work.id}.relief.{n}",
                f"Corner relief {n}, straight down",
                x,
                y,
                ctx.at("Z", [Term("depth", -work.depth_mm)]),
                feature=work.feature,
                allowed_mm=0.004,
                may_be_air=work.gap_mm is not None,
            )
        )
    return [
        Operation(
            title="Corner reliefs",
            tool=mill.title,
            cutter=ctx.tool(mill, work.depth_mm),
            speed=ctx.speed(mill, "Z"),
            moves=tuple(moves),
            note="A centre-cutting end mill, a millimetre at a time",
        )
    ]
