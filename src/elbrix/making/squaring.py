"""Squaring the bar: which face where, in which order, half of what is over off each side."""

from __future__ import annotations

import math
from typing import Final

from msgspec.structs import replace

from elbrix.making.context import FINISH_WALL_MM, OVER_RUN_MM, Context, asked
from elbrix.making.grip import Band, Sides
from elbrix.making.passes import passes
from elbrix.making.plan import AskedSize, Move, Operation, Setup, SizedBy, Term, Zero
from elbrix.making.pose import FACES, Lie, opposite
from elbrix.making.stock_choice import AS_IT_IS, SIDE_ALLOWANCE
from elbrix.making.strokes import Stroke
from elbrix.making.tracks import tracks
from elbrix.shop.stock import Finish
from elbrix.shop.tooling import Cutter, CutterKind

DEBURR = "Deburr every edge with a file before the work goes back: a burr lifts it off the jaw"
#: Deepest facing cut over the whole width by rigidity, mm.
_MAX_FACING = {"light": 0.4, "medium": 0.8, "heavy": 1.5}
#: Which face is up and which is against the fixed jaw, in order.
_ORDER: Final = (("A", "B"), ("B", "A"), ("D", "A"), ("C", "B"))
#: A bar may stand so many jaw heights high in the vise; jaws of a vise that is not in the shop, mm.
_HIGH_OVER_JAWS, _USUAL_JAW_MM = 2.5, 40.0
_TITLES: Final = {"A": "top", "B": "far side", "C": "underside", "D": "near side"}


def bar_sizes(ctx: Context) -> tuple[float, float]:
    """Width and height of the bar as bought."""
    if ctx.bar:
        return ctx.bar.width_mm, ctx.bar.height_mm
    if ctx.blank.there:
        return ctx.blank.width_mm, ctx.blank.height_mm
    both = 2 * SIDE_ALLOWANCE[Finish.BRIGHT]
    return ctx.blank.width_mm + both, ctx.blank.height_mm + both


def raw_faces(ctx: Context) -> dict[str, float]:
    """How far each long face of the bar stands outside the finished one, mm; none where it is to size."""
    width, height = bar_sizes(ctx)
    over_w, over_h = width - ctx.blank.width_mm, height - ctx.blank.height_mm
    over_w, over_h = (v if v > AS_IT_IS else 0.0 for v in (over_w, over_h))
    if ctx.options.style == "full":
        return {"A": over_h / 2, "C": over_h / 2, "B": over_w / 2, "D": over_w / 2}
    return {"A": 0.0, "C": over_h, "B": 0.0, "D": over_w}


def finished(ctx: Context, face: str) -> float:
    """Where a long face of the finished bar is: how deep under A, or how far out to B and D, mm."""
    return {"A": 0.0, "C": ctx.blank.height_mm}.get(face, ctx.blank.width_mm / 2)


def raw_sides(ctx: Context) -> Sides:
    """What a vise can meet of the bar as it was bought."""
    over = raw_faces(ctx)
    across = Band(-over["A"], finished(ctx, "C") + over["C"], finished(ctx, "B") + over["B"], finished(ctx, "D") + over["D"])
    return Sides([across], ctx.blank.length_mm)


def squaring(ctx: Context) -> list[Setup]:
    """One setup for each face there is something to take off."""
    over = raw_faces(ctx)
    if all(v == 0 for v in over.values()):
        ctx.assumed.append("The bar is to size on all four sides: they are only as square as the bar was drawn")
        return []
    if ctx.options.style != "full":
        ctx.assumed.append(
            "Quick style: the bar's bright faces A and B are the datum. They are only as square as the bar was drawn"
        )
    mill = _facing_cutter(ctx)
    ctx.request("parallels under the work, rod at the moving jaw", True)
    ctx.request("square", True)
    ctx.request("file", True)
    on_edge = stands_on_edge(ctx)
    return [
        _face(ctx, up, away, over, mill) if on_edge or up in ("A", "C") else _edge(ctx, up, over)
        for up, away in _ORDER
        if over[up] > 0
    ]


def gripped(ctx: Context, across_mm: float) -> bool:
    """Whether any vise opens that far; a shop without one is taken to have one that does."""
    opens = [v.opening_mm for v in ctx.shop.vises]
    return not opens or max(opens) >= across_mm


def stands_on_edge(ctx: Context) -> bool:
    """Whether the bar can stand on its edge in the vise to have the other milled: a plate sways high over the jaws."""
    jaws = max((v.jaw_height_mm for v in ctx.shop.vises), default=_USUAL_JAW_MM)
    return bar_sizes(ctx)[0] <= _HIGH_OVER_JAWS * jaws and gripped(ctx, ctx.blank.height_mm + 5)


def _edge(ctx: Context, face: str, over: dict[str, float]) -> Setup:
    """A plate's edge by the side of an end mill, the plate under straps with that edge standing out over the table's."""
    # The underside is still rough: the cutter has to reach past it.
    height, half = ctx.blank.height_mm + over["C"], ctx.blank.width_mm / 2
    mills = ctx.mills()
    long = [m for m in mills if not m.edge_length_mm or m.edge_length_mm >= height + 1]
    mill = ctx.end_mill(long or sorted(mills, key=lambda m: -m.edge_length_mm), 16.0)
    d = mill.diameter_mm
    # The edge that is milled lies away from you: Y is counted from the other one, as it is then.
    away = face
    opposite_over = 0.0 if face == "D" else over["D"]
    near = -half - opposite_over if face == "B" else -half
    lie = Lie(up="A", away=away, zero=(ctx.bar_zero[0], near if face == "B" else -near, 0.0))
    wide = 2 * half + (opposite_over if face == "B" else 0.0)
    touch, zero = ctx.touch_side(f"square.{face}.zero", "Y", f"the near edge, {opposite(face)}", 0.0, "")
    levels = max(1, math.ceil((height + 1.0) / (mill.edge_length_mm or height + 1.0) - 1e-9))
    steps = passes(
        over[face], max(0.5, 0.5 * d * ctx.depth_share), min(FINISH_WALL_MM, over[face]), ctx.options.passes, finish_cuts=1
    )
    ends = _run(ctx, lie, d)
    moves: list[Move] = [touch]
    for n, p in enumerate(steps, 1):
        left = over[face] - p.to_mm
        y = ctx.at(
            "Y",
            [
                Term("finished width" if face == "D" else "from the near edge to the finished far one", wide),
                Term("half the cutter", d / 2),
                *([Term("left for the next pass", left)] if left > 1e-9 else []),
            ],
        )
        z = ctx.at("Z", [Term("thickness", -height), Term("below it", -1.0)])
        move = ctx.cut(
            f"square.{face}.{n}",
            f"Edge {face}, pass {n}" + (f", in {levels} levels" if levels > 1 else ""),
            (y, z),
            "X",
            ends,
            wall=-1.0,
            finish=p.finish,
            lock="quill, and Y once it is on its number",
            feature=_TITLES[face],
            asked=asked("bar_width", "caliper over B and D, at both ends", ctx.blank.width_mm, by=SizedBy("Y"))
            if face == "D" and n == len(steps)
            else None,
        )
        moves.append(at_levels(move, levels, -height - 1.0))
    tool = ctx.tool(mill, height + 1.0)
    most = max(p.cut_mm for p in steps)
    speed = ctx.speed(mill, takes_mm2=most * (height + 1.0) / levels, width_mm=most)
    setup = ctx.setup(
        f"square.{face}",
        f"Mill edge {face}",
        lie,
        (
            Operation(title="Find zero", tool=zero.tool, moves=(moves[0],)),
            Operation(title=f"Edge {face}", tool=mill.title, cutter=tool, speed=speed, moves=tuple(moves[1:])),
        ),
        holding=f"on parallels under straps along the table, edge {face} standing out by the cutter and 3",
        datum=f"Y zero at the near edge, {opposite(face)}; Z zero on A",
        zeroes=(zero,),
        fixture="straps",
        cautions=("Nothing of the table or a strap in the cutter's way: run it past by hand first.",),
    )
    ctx.sides.trim(face, finished(ctx, face))
    return setup


def at_levels(move: Move, levels: int, deepest: float) -> Move:
    """A side cut taken in levels, because the cutter's edges are shorter than the work is thick."""
    if levels < 2:
        return move
    a, b = move.strokes[0].path
    strokes = tuple(
        Stroke(((a[0], a[1], deepest * n / levels), (b[0], b[1], deepest * n / levels))) for n in range(1, levels + 1)
    )
    return replace(move, strokes=strokes)


#: Less than this of hollow or slope is nothing anybody measures on a milled face.
_LEAN_SHOWS_MM: Final = 0.004


def _face(ctx: Context, up: str, away: str, over: dict[str, float], mill: Cutter) -> Setup:
    take = over[up]
    long, across = ("A", "C"), ("B", "D")
    done = [f for f, _ in _ORDER[: [f for f, _ in _ORDER].index(up)]]
    lies_across = long if up in across else across
    wide = ctx.blank.height_mm if up in across else ctx.blank.width_mm
    wide += sum(over[f] for f in lies_across if f not in done)
    top = {"A": 0.0, "C": ctx.blank.height_mm, "B": ctx.blank.width_mm / 2, "D": ctx.blank.width_mm / 2}[up] + take
    n = FACES[up]
    # The middle of what lies up, so that Y is counted from the middle of the work as it is then.
    shift = [0.0, 0.0, 0.0]
    for face in lies_across:
        beyond = 0.0 if face in done else over[face]
        for i in range(3):
            shift[i] += FACES[face][i] * beyond / 2
    middle = [0.0, 0.0, -ctx.blank.height_mm / 2 if up in across else 0.0]
    zero = tuple(n[i] * top + shift[i] + middle[i] for i in range(3))
    lie = Lie(up=up, away=away, zero=(ctx.bar_zero[0], zero[1], zero[2]))
    most = _MAX_FACING.get(ctx.machine.rigidity, 0.8)
    cuts = max(1, math.ceil(take / most - 1e-9))
    ends = _run(ctx, lie, mill.diameter_mm)
    lines = tracks(-wide / 2, wide / 2, mill.diameter_mm, over=True)
    words = f"Mill {up}: {ctx.say(take)} off"
    if len(lines) > 1:
        words += f", in {len(lines)} overlapping tracks"
    if cuts > 1:
        words += f", in {cuts} passes of {ctx.say(take / cuts)}"
    strokes = []
    for k in range(1, cuts + 1):
        for n_line, y in enumerate(lines):
            there = ends if n_line % 2 == 0 else (ends[1], ends[0])
            strokes.append(Stroke(tuple((x, y, -take * k / cuts) for x in there)))
    size: AskedSize | None = None
    if up == "C":
        size = asked("bar_height", "micrometer over A and C, at both ends", ctx.blank.height_mm, by=SizedBy("Z"))
    elif up == "D":
        size = asked("bar_width", "micrometer over B and D, at both ends", ctx.blank.width_mm, by=SizedBy("Z"))
    z = ctx.at("Z", [Term("below the touched face", -take)])
    move = Move(
        id=f"square.{up}",
        words=words,
        positions=(z,),
        strokes=tuple(strokes),
        lock="quill, and Y once it stands",
        asked=size,
        feature=_TITLES[up],
    )
    last = Move(
        id=f"square.{up}.deburr",
        words=DEBURR,
        caution="Milled edges cut: file away from you, gloves only with the spindle stopped.",
    )
    held = gripped(ctx, wide)
    speed = ctx.speed(mill, takes_mm2=take / cuts * min(wide, mill.diameter_mm))
    rod = "a round rod at the moving jaw, " if not {away, "C" if up == "A" else up} & set(done) or up in ("A", "B") else ""
    setup = ctx.setup(
        f"square.{up}",
        f"Mill face {up}",
        lie,
        (Operation(title=f"Mill {up}", tool=mill.title, cutter=ctx.tool(mill), speed=speed, moves=(move, last)),),
        holding=(
            f"{ctx.in_vise(lie)}, {rod}at least half its height in the jaws, tapped down on the parallels"
            if held
            else "on the table on parallels under straps, moved over one after the other as the cutter comes to them"
        ),
        fixture="vise" if held else "straps",
        datum=f"Z zero on the raw {up}, touched with the cutter",
        zeroes=(Zero(axis="Z", touches=f"the raw face {up}", tool="the cutter", reads_mm=0.0),),
        jaws_mm=ctx.sides.jaws(lie, take) if held else 0.0,
        cautions=(
            "Keep hands and rag away from the turning cutter; eye protection on.",
            "Brush chips only with the spindle stopped.",
            *_leaning_head(ctx, mill, wide / len(lines)),
        ),
    )
    ctx.sides.trim(up, finished(ctx, up))
    return setup


def _leaning_head(ctx: Context, mill: Cutter, wide: float) -> tuple[str, ...]:
    """What the head's lean, as it was last swept, does to a face milled along X in passes of a width.

    A ring that leans along the feed cuts a trough: R − √(R² − (w/2)²) of it deep, times the lean. One that leans
    across the feed cuts a slope.
    """
    if ctx.machine.horizontal:
        return ()
    r, half = mill.diameter_mm / 2, min(wide, mill.diameter_mm) / 2
    hollow = (r - math.sqrt(max(r * r - half * half, 0.0))) * abs(ctx.machine.head_lean_right_mm_m) / 1000
    slope = wide * abs(ctx.machine.head_lean_back_mm_m) / 1000
    if max(hollow, slope) < _LEAN_SHOWS_MM:
        return ()
    found = f"hollow by {ctx.say(hollow, 3)} and sloped by {ctx.say(slope, 3)}"
    words = f"The head of {ctx.machine.name} leans, as last swept: this face comes out {found}."
    return (f"{words} Set the head square first if that is too much.",)


def _run(ctx: Context, lie: Lie, d: float) -> tuple[float, float]:
    """X from before the bar to behind it, whichever way it lies."""
    ends = sorted(lie.machine((x, 0.0, 0.0))[0] for x in ctx.bar_ends)
    return ends[0] - d / 2 - OVER_RUN_MM, ends[1] + d / 2 + OVER_RUN_MM


def _facing_cutter(ctx: Context) -> Cutter:
    """A face mill 1.3 × wider than the work when there is one, else the thickest end mill that can be held, in tracks."""
    wide = max(bar_sizes(ctx))
    for cutter in reversed(ctx.shop.cutters_of(CutterKind.FACE_MILL)):
        if cutter.diameter_mm >= 1.3 * wide and ctx.held(cutter).certain:
            ctx.need_cutter(cutter)
            return cutter
    mills = ctx.mills()
    if not mills:
        return ctx.find(CutterKind.FACE_MILL, 50.0)
    ctx.need_cutter(mills[0])
    if mills[0].diameter_mm < 1.3 * wide:
        ctx.assumed.append(
            f"No face mill 1.3 × as wide as the work ({ctx.say(1.3 * wide, 0)}) that can be held: faced in tracks with the"
            f" {mills[0].title}"
        )
    return mills[0]
