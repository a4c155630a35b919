"""Slants that are milled level: a long side with the bar tilted about its length, a top with one end packed up."""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.work import BevelledEdge, TaperedFace
from elbrix.making.context import FINISH_FLOOR_MM, OVER_RUN_MM, Context, asked
from elbrix.making.milling import run_along
from elbrix.making.passes import passes
from elbrix.making.plan import Move, Operation, Setup, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.tracks import tracks
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter

_LOCKS: Final = "quill, and Y once it is on its number"
_TILTED: Final = "Tilted work stands on an edge: clamp hard, try to move it by hand before the spindle turns."


def _touched(ctx: Context, id: str, corner: str, high: float) -> tuple[Move, Zero]:
    """The high corner touched with the cutter on a feeler: from there it is so far down to the slant."""
    z = ctx.at("Z", [Term("the high corner over the slant", high), Term("feeler", 0.05)])
    move = Move(
        id=f"{id}.zero.Z",
        words=f"Touch the high corner, {corner}, with the cutter on a feeler; Z then reads that",
        positions=(z,),
        zeroes="Z",
    )
    return move, Zero(axis="Z", touches=f"the high corner, {corner}", tool="the cutter on a feeler", reads_mm=z.value_mm)


def bevelled_edge(ctx: Context, work: BevelledEdge) -> Setup:
    """The bar on its other long side, tilted till the slant lies level; the corner that stands up goes."""
    t, tau = ctx.blank.height_mm, math.radians(work.deg)
    high, flank = t * math.sin(tau), t / math.cos(tau)
    up, away = (work.side, "C") if work.side == "B" else (work.side, "A")
    y, z = (ctx.width / 2, 0.0) if work.side == "B" else (-ctx.width / 2, -t)
    # Machine zero in the edge the slant begins at: the near one, which stays.
    lie = Lie(up=up, away=away, zero=(ctx.bar_zero[0], y, z), tilt_deg=work.deg)
    mills = ctx.mills()
    fitting = sorted((m for m in mills if m.diameter_mm >= 1.3 * flank), key=lambda m: m.diameter_mm) or mills
    mill = ctx.end_mill(fitting, 12.0)
    d = mill.diameter_mm
    ctx.request(f"{format_number(work.deg, 2)}° on the level or sine plate", True)
    words, size = ctx.finder
    y_zero = ctx.at("Y", [Term("half the edge finder", -size / 2)])
    y_move = Move(
        id=f"{work.id}.zero.Y",
        words=f"Touch the near lower edge with the {words}; Y then reads that",
        positions=(y_zero,),
        zeroes="Y",
        lock="X",
    )
    z_move, z_zero = _touched(ctx, work.id, f"{work.side} and {away}", high)
    moves: list[Move] = []
    lines = tracks(0.0, flank, d, over=True)
    for n, p in enumerate(passes(high, ctx.roughing_mm(d), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1), 1):
        left = high - p.to_mm
        for k, line in enumerate(lines, 1):
            moves.append(
                ctx.cut(
                    f"{work.id}.{n}" + (f".t{k}" if len(lines) > 1 else ""),
                    f"Slant, pass {n}" + (f", track {k} of {len(lines)}" if len(lines) > 1 else ""),
                    (
                        ctx.at("Y", [Term("cutter's middle from the near edge", line)]),
                        ctx.at("Z", [*([Term("left for the next pass", left)] if left > 1e-9 else [Term("the slant", 0.0)])]),
                    ),
                    "X",
                    run_along(ctx, d),
                    finish=p.finish,
                    lock=_LOCKS,
                    feature=work.feature,
                    asked=asked(
                        f"{work.id}.angle", "protractor, slant to the broad face, degrees", 90 - work.deg, 0.1, drawn=False
                    )
                    if left <= 1e-9 and k == len(lines)
                    else None,
                    may_be_air=len(lines) > 1 and left > 1e-9,
                )
            )
    return ctx.setup(
        work.id,
        work.name,
        lie,
        (
            Operation(title="Find zero", tool=words, moves=(y_move, z_move)),
            Operation(
                title=f"Slant {format_number(work.deg, 2)}° out of square",
                tool=mill.title,
                cutter=ctx.tool(mill, high),
                speed=ctx.speed(mill),
                moves=tuple(moves),
            ),
        ),
        holding=(
            f"{ctx.in_vise(lie)} on a thin parallel, tilted {format_number(work.deg, 2)}° about its length with {away} high and"
            " away from you, checked with the level or on a sine plate; brass strips in the jaws"
        ),
        datum=f"Y and Z zero in the near edge of {work.side}, which stays; + away and up",
        zeroes=(Zero(axis="Y", touches="the near edge", tool=words, reads_mm=y_zero.value_mm), z_zero),
        stands="stands tilted",
        jaws_mm=0.0,
        each=True,
        cautions=(_TILTED,),
    )


#: A taper this small may be gone with what the face before left, mm.
_HAIR_MM: Final = 0.03


def tapered_face(ctx: Context, work: TaperedFace) -> Setup:
    """Each piece on packing, its high end up, milled level along Y: what stands up at that end goes."""
    long = ctx.blank.length_mm
    tau = math.atan(work.drop_mm / long)
    high = long * math.sin(tau)
    lie = Lie(up="A", away="F", zero=(0.0, 0.0, 0.0), tilt_deg=math.degrees(tau))
    mills = ctx.mills()
    mill: Cutter = ctx.end_mill(mills, 16.0)
    d = mill.diameter_mm
    z_move, z_zero = _touched(ctx, work.id, "F and A", high)
    middle = ctx.at("X", [Term("middle of the width", 0.0)])
    x_move = Move(id=f"{work.id}.zero.X", words="X zero in the middle of the width, by eye", positions=(middle,), zeroes="X")
    flank = math.hypot(long, work.drop_mm)
    y_move = Move(
        id=f"{work.id}.zero.Y",
        words="Y zero over the near end, E, by eye",
        positions=(ctx.at("Y", [Term("near end", 0.0)]),),
        zeroes="Y",
    )
    # Along the bar's y, which lies along the machine's X, to the left.
    lines = tracks(-work.high_y_mm, -work.low_y_mm, d, over=True)
    moves: list[Move] = []
    for n, p in enumerate(passes(high, max(0.2, d * ctx.depth_share), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1), 1):
        left = high - p.to_mm
        for k, line in enumerate(lines, 1):
            moves.append(
                ctx.cut(
                    f"{work.id}.{n}" + (f".t{k}" if len(lines) > 1 else ""),
                    f"Taper, pass {n}" + (f", track {k} of {len(lines)}" if len(lines) > 1 else ""),
                    (
                        ctx.at("X", [Term("cutter's middle from the middle", line)]),
                        ctx.at("Z", [Term("left for the next pass", left)] if left > 1e-9 else [Term("the taper", 0.0)]),
                    ),
                    "Y",
                    (-d / 2 - OVER_RUN_MM, flank + d / 2 + OVER_RUN_MM),
                    finish=p.finish,
                    lock="quill, and X once it is on its number",
                    feature=work.feature,
                    asked=asked(f"{work.id}.thin", "thickness at the thin end", ctx.blank.height_mm - work.drop_mm, 0.02)
                    if left <= 1e-9 and k == len(lines)
                    else None,
                    # The middle is set by eye: the tracks reach over both edges. And a hair is hardly there to be cut.
                    may_be_air=len(lines) > 1 or high < _HAIR_MM,
                )
            )
    return ctx.setup(
        work.id,
        work.name + (f", each of {ctx.blank.pieces}" if ctx.blank.pieces > 1 else ""),
        lie,
        (
            Operation(title="Find zero", tool="the cutter", moves=(x_move, y_move, z_move)),
            Operation(
                title=f"Taper {ctx.say(work.drop_mm)} over {ctx.say(long)}",
                tool=mill.title,
                cutter=ctx.tool(mill, high),
                speed=ctx.speed(mill, "Y"),
                moves=tuple(moves),
            ),
        ),
        holding=(
            f"on a flat plate, {ctx.say(work.drop_mm)} of packing under the end F, held by double-sided tape or edge clamps below"
            " its top; the indicator along it rises by that"
        ),
        datum="Z zero in the edge of E and the top, which stays; X in the middle, Y at the near end",
        zeroes=(z_zero,),
        fixture="straps",
        stands="lies on packing",
        each=True,
        cautions=("A thin strip lifts under the cutter: light cuts, sharp cutter, downward pressure everywhere.",),
    )
