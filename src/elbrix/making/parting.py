"""Parting the pieces and bringing each to length against a stop."""

from __future__ import annotations

import math

from elbrix.making.context import FINISH_WALL_MM, OVER_RUN_MM, Context, asked
from elbrix.making.holes import saw_cuts
from elbrix.making.plan import Move, Operation, Setup, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.squaring import at_levels, gripped
from elbrix.shop.tooling import Cutter


def parting(ctx: Context) -> Setup | None:
    """Saw between the pieces with the bandsaw or hacksaw."""
    cuts = saw_cuts(ctx)
    if not cuts:
        return None
    ctx.request("bandsaw or hacksaw", True)
    moves = tuple(
        Move(
            id=f"part.{i + 1}",
            words=f"Part piece {i + 1} from the bar, {ctx.say(x)} from the cleaned end",
            caution="Catch the piece before it falls, never with a finger in the cut.",
        )
        for i, x in enumerate(cuts)
    )
    return Setup(
        id="part",
        title="Part the pieces",
        holding="In the saw's vise, the cut just outside the jaws",
        datum="scribed from the cleaned left end",
        operations=(
            Operation(
                title="Saw",
                tool="bandsaw or hacksaw",
                moves=moves,
                note=f"In the middle of the {ctx.say(ctx.cutting.kerf_mm)} kerfs",
            ),
        ),
        cautions=("A thin saw breaks when the work shifts: clamp hard, slow feed.",),
    )


def _facing_mill(ctx: Context) -> Cutter:
    """The thickest end mill that can be held and reaches down the whole end, else the one with the longest edges."""
    mills = ctx.mills()
    long = [m for m in mills if not m.edge_length_mm or m.edge_length_mm >= ctx.blank.height_mm + 1]
    return ctx.end_mill(long or sorted(mills, key=lambda m: -m.edge_length_mm), 16.0)


def facing(ctx: Context) -> list[Setup]:
    """Both ends of every piece: the first cleans up, the second comes to length, each off the stop at its left."""
    length, extra = ctx.blank.length_mm, ctx.cutting.facing_mm
    mill = _facing_mill(ctx)
    words, finder = ctx.finder
    ctx.request("work stop on the vise", True)
    d = mill.diameter_mm
    # The first end: the sawn low end stands against the stop at the left, the high end is cleaned. Then turned end for end.
    # With A up, unless the jaws hold the pieces only when they lie turned over: a thin flange under a narrow neck.
    over = Lie(up="C", away="D", zero=(0.0, 0.0, -ctx.blank.height_mm))
    flat = Lie(up="A", away="B", zero=(0.0, 0.0, 0.0))
    up, away, z = ("C", "DB", -ctx.blank.height_mm) if ctx.sides.better(over, flat) else ("A", "BD", 0.0)
    first = Lie(up=up, away=away[0], zero=(-extra, 0.0, z))
    second = Lie(up=up, away=away[1], zero=(length, 0.0, z))
    reach = ctx.blank.width_mm / 2 + d / 2 + OVER_RUN_MM
    deep = -(ctx.blank.height_mm + 1.0)
    edge = mill.edge_length_mm or ctx.blank.height_mm + 1.0
    levels = max(1, math.ceil((ctx.blank.height_mm + 1.0) / edge - 1e-9))
    down = f", in {levels} levels: its edges are {ctx.say(edge)} long" if levels > 1 else ""

    def cut(id: str, what: str, terms: list[Term], *, finish: bool, key: str = "", ask: bool = False) -> Move:
        x = ctx.at("X", terms, key)
        down_z = ctx.at("Z", [Term("thickness", -ctx.blank.height_mm), Term("below it", -1.0)])
        move = ctx.cut(
            id,
            what + down,
            (x, down_z),
            "Y",
            (-reach, reach),
            wall=-1.0,
            finish=finish,
            lock="X, quill",
            feature="ends",
            asked=asked("length", "caliper over the ends", length, 0.1) if ask else None,
        )
        return at_levels(move, levels, deep)

    def setup(id: str, title: str, lie: Lie, moves: tuple[Move, ...], against: str) -> Setup:
        touch = ctx.at("X", [Term("half the edge finder", finder / 2)])
        zero = Move(
            id=f"{id}.zero",
            words=f"Touch the stop's face with the {words} before the work goes in: X reads this number there, zero is the stop",
            positions=(touch,),
            zeroes="X",
            lock="Y",
        )
        z_move, z_zero = ctx.touch_top(f"{id}.zero.Z", f"the top, {lie.up}")
        wide = not gripped(ctx, ctx.blank.width_mm)
        return ctx.setup(
            id,
            title,
            lie,
            (
                Operation(title="Find zero", tool=words, moves=(zero, z_move)),
                Operation(
                    title="Ends",
                    tool=mill.title,
                    cutter=ctx.tool(mill, ctx.blank.height_mm + 1.0),
                    speed=ctx.speed(mill, "Y", takes_mm2=extra * (ctx.blank.height_mm + 1.0) / levels, width_mm=extra),
                    moves=moves,
                    note=f"{ctx.blank.pieces} pieces, one setting" if ctx.blank.pieces > 1 else "",
                ),
            ),
            holding=(
                f"{against} against the stop at the left, "
                + (
                    "on the table under straps over parallels, the end standing out over them"
                    if wide
                    else f"on parallels {ctx.in_vise(lie)}, the right end standing out of the jaws, tapped down"
                )
            ),
            datum=f"X zero at the stop on the left, Z zero on {lie.up}",
            zeroes=(Zero(axis="X", touches="the stop at the left", tool=words, reads_mm=finder / 2), z_zero),
            jaws_mm=0.0 if wide else ctx.sides.jaws(lie, 0.0),
            fixture="straps" if wide else "vise",
            each=True,
            cautions=("A short piece tips in long jaws: a spacer of the same width at the other end keeps them parallel.",),
        )

    clean = cut(
        "face.first",
        f"Clean the right end of all {ctx.blank.pieces}" if ctx.blank.pieces > 1 else "Clean the right end",
        [Term("length", length), Term("second end's facing", extra), Term("half the cutter", d / 2)],
        finish=False,
    )
    rough = cut(
        "face.rough",
        "Rough to length",
        [Term("length", length), Term("half the cutter", d / 2), Term("left for finishing", FINISH_WALL_MM)],
        finish=False,
    )
    final = cut(
        "face.second",
        "Last cut to length" + (", the same number for every piece" if ctx.blank.pieces > 1 else ""),
        [Term("length", length), Term("half the cutter", d / 2)],
        finish=True,
        key="length_dial",
        ask=True,
    )
    deburr = Move(id="face.deburr", words="Deburr all edges", caution="Small parts in a file hand: hold them in the vise.")
    return [
        setup("face", "Face the first end on a stop", first, (clean,), "sawn low end"),
        setup("length", "To length on a stop", second, (rough, final, deburr), "clean end"),
    ]
