"""Parting the pieces and bringing each to length against a stop."""

from __future__ import annotations

from functools import partial

from elbrix.making.context import FINISH_WALL_MM, Context
from elbrix.making.holes import saw_cuts
from elbrix.making.pictures import bar_front
from elbrix.making.plan import AskedSize, Move, Operation, Setup, Term
from elbrix.shop.tooling import CutterKind


def parting(ctx: Context) -> Setup | None:
    """Saw between the pieces; a slitting saw when there is one with that kerf, else the bandsaw or hacksaw."""
    cuts = saw_cuts(ctx)
    if not cuts:
        return None
    saws = ctx.shop.cutters_of(CutterKind.SLITTING_SAW)
    saw = next((s for s in saws if s.width_mm <= ctx.cutting.kerf_mm + 1e-9), None)
    if saw:
        ctx.need_cutter(saw)
    else:
        ctx.request("bandsaw or hacksaw", True)
    moves = tuple(
        Move(
            id=f"part.{i + 1}",
            words=f"Part piece {i + 1} from the bar",
            positions=(ctx.at("X", [Term("middle of the saw cut from the cleaned end", x)]),) if saw else (),
            lock="X, Y" if saw else "",
            caution="Catch the piece before it falls, never with a finger in the cut.",
        )
        for i, x in enumerate(cuts)
    )
    scribed = "; ".join(ctx.say(x) for x in cuts)
    return Setup(
        id="part",
        title="Part the pieces",
        holding="In the vise, the cut just outside the jaws",
        datum="X zero at the cleaned left end",
        operations=(
            Operation(
                title="Saw",
                tool=saw.title if saw else "bandsaw or hacksaw",
                speed=ctx.speed(saw) if saw else None,
                moves=moves,
                note=f"Saw in the middle of the {ctx.say(ctx.cutting.kerf_mm)} kerfs: {scribed}",
            ),
        ),
        pictures={"": partial(bar_front, ctx.bar_length, ctx.height, [], cuts)},
        cautions=("A thin saw breaks when the work shifts: clamp hard, slow feed.",),
    )


def facing(ctx: Context) -> Setup:
    """Both ends of every piece: the first side cleans up, the second comes to length off a stop."""
    length = ctx.blank.length_mm
    mills = ctx.shop.cutters_of(CutterKind.END_MILL)
    mill = mills[0] if mills else ctx.find(CutterKind.END_MILL, 16.0)
    if mills:
        ctx.need_cutter(mill)
    ctx.request("work stop on the vise", True)
    d = mill.diameter_mm
    clean = ctx.at(
        "X", [Term("length", length), Term("second end's facing", ctx.cutting.facing_mm), Term("half the cutter", d / 2)]
    )
    final = ctx.at("X", [Term("length", length), Term("half the cutter", d / 2)], key="length_dial")
    rough = ctx.at("X", [Term("length", length), Term("half the cutter", d / 2), Term("left for finishing", FINISH_WALL_MM)])
    scene = partial(
        bar_front, length, ctx.height, [], [], jaw=(length * 0.1, length * 0.8), cutter=(length + d / 2, -ctx.height, d)
    )
    moves = (
        Move(
            id="face.zero",
            words="Touch the stop's face with the edge finder, or the cutter on a feeler: X zero is the stop",
            positions=(ctx.at("X", [Term("stop", 0.0)]),),
            lock="Y",
        ),
        Move(
            id="face.first",
            words=f"Sawn end against the stop: clean the other end of all {ctx.blank.pieces}",
            positions=(clean,),
            lock="X, quill",
            direction=ctx.direction(False),
        ),
        Move(
            id="face.rough",
            words="Turn each piece end for end, clean end against the stop: rough to length",
            positions=(rough,),
            lock="X, quill",
            direction=ctx.direction(False),
        ),
        Move(
            id="face.second",
            words="Last cut to length, the same number for every piece",
            positions=(final,),
            lock="X, quill",
            direction=ctx.direction(True),
            asked=AskedSize(key="length", words="caliper over the ends", expected_mm=length, allowed_mm=0.1),
        ),
        Move(id="face.deburr", words="Deburr all edges", caution="Small parts in a file hand: hold them in the vise."),
    )
    return Setup(
        id="face",
        title="Face to length on a stop",
        holding="Across the vise on parallels, pushed against the stop, tapped down",
        datum="X zero at the stop",
        operations=(
            Operation(
                title="Ends",
                tool=mill.title,
                speed=ctx.speed(mill, "Y"),
                moves=moves,
                note=f"{ctx.blank.pieces} pieces, one setting",
            ),
        ),
        pictures={"": scene},
        cautions=("A short piece tips in long jaws: a spacer of the same width at the other end keeps them parallel.",),
    )
