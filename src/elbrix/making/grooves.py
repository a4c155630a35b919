"""Channels, Vs, flats and slits: numbers for the cutter's centre, each allowance as its own term."""

from __future__ import annotations

import math
from typing import Any, Final

from elbrix.design.work import Flat, Groove, SlitCut, VGroove
from elbrix.making.context import FINISH_FLOOR_MM, FINISH_WALL_MM, OVER_RUN_MM, Context, asked
from elbrix.making.milling import bar_lie, run_along, touch_middle
from elbrix.making.passes import passes
from elbrix.making.plan import Move, Operation, Setup, SizedBy, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.tracks import SHARE, tracks, tracks_to_wall
from elbrix.quantities.sentences import sentence, within
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter, CutterKind

_LOCKS: Final = "quill, and the idle slide once it is on its number"
#: A cutter this near the width of a channel cuts it in one go, mm.
_JUST: Final = 0.02
#: Metal thinner than this beside a relief is no reason for a pass of its own, mm.
_SLIVER_MM: Final = 1.0
#: A width that has to be right this closely is milled with a thinner cutter, wall by wall, mm.
_CLOSE_MM: Final = 0.03


def _mill_for(ctx: Context, width_mm: float, depth_mm: float, allowed_mm: float) -> Cutter:
    """The thickest end mill that can be held, goes in, and leaves both walls to a number where the width matters."""
    most = width_mm - 0.3 if allowed_mm <= _CLOSE_MM else width_mm + _JUST
    fitting = [c for c in ctx.mills() if c.diameter_mm <= most]
    long = [c for c in fitting if not c.edge_length_mm or c.edge_length_mm >= depth_mm]
    return ctx.end_mill(long or fitting, max(1.0, math.floor(most)))


def _across_lie(ctx: Context, face: str) -> Lie:
    """A piece turned a quarter so that a channel across it runs along X; Y is then counted from its low end."""
    return Lie(up=face, away="F", zero=(0.0, 0.0, 0.0 if face == "A" else -ctx.blank.height_mm))


def channel(ctx: Context, work: Groove) -> Setup:
    """Down in tracks and passes between its walls, then each wall to its own number."""
    face = "C" if work.below else "A"
    mill = _mill_for(ctx, work.width_mm, work.depth_mm, work.allowed_mm)
    d = mill.diameter_mm
    zeroes: tuple[Zero, ...]
    if work.across:
        lie = _across_lie(ctx, face)
        y_move, y_zero = ctx.touch_side(f"{work.id}.zero.Y", "Y", "the finished low end, E", 0.0, "")
        z_move, z_zero = ctx.touch_top(f"{work.id}.zero.Z", f"the top, {face}")
        start = Operation(title="Find zero", tool=y_zero.tool, moves=(y_move, z_move))
        zeroes = (y_zero, z_zero)
        half = ctx.width / 2 + d / 2 + OVER_RUN_MM
        ends = (-half, half)
    else:
        lie = bar_lie(ctx, face, "B" if face == "A" else "D")
        moves, zeroes = touch_middle(ctx, f"{work.id}.zero", lie)
        start = Operation(title="Find zero", tool=zeroes[0].tool, moves=moves)
        ends = run_along(ctx, d)
    middle = (
        [Term("its middle from the low end" if work.across else "its middle from the middle of the bar", work.at_mm)]
        if work.at_mm or work.across
        else []
    )
    if mill.edge_length_mm and mill.edge_length_mm < work.depth_mm:
        ctx.problems.append(
            f"The {mill.title} cuts only {ctx.say(mill.edge_length_mm)} deep; {within(work.name)} is {ctx.say(work.depth_mm)}"
        )
    jaws = ctx.sides.jaws(lie, work.depth_mm)
    return ctx.setup(
        work.id,
        work.name,
        lie,
        (
            start,
            Operation(
                title=f"Channel {ctx.say(work.width_mm)}",
                tool=mill.title,
                cutter=ctx.tool(mill, work.depth_mm),
                speed=ctx.speed(mill),
                moves=_channel_moves(ctx, work, middle, d, ends),
                note=f"{ctx.say(work.depth_mm)} deep; cutter centre",
            ),
        ),
        holding=f"{ctx.in_vise(lie)} on parallels, the jaws {ctx.say(jaws - work.depth_mm, 1)} below the channel",
        datum=(
            f"Y zero at the finished low end, E; Z zero on {face}"
            if work.across
            else f"Y zero in the middle of the bar; Z zero on {face}"
        ),
        zeroes=zeroes,
        jaws_mm=jaws,
        each=work.across,
        cautions=("Spindle stopped before you measure or brush.",),
    )


def _channel_moves(ctx: Context, work: Groove, middle: list[Term], d: float, ends: tuple[float, float]) -> tuple[Move, ...]:
    spare = (work.width_mm - d) / 2
    deep = passes(work.depth_mm, ctx.roughing_mm(d), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    leave = min(FINISH_WALL_MM, spare) if spare > _JUST / 2 else 0.0
    half = work.width_mm / 2 - leave
    lines = tracks(-half, half, min(d, 2 * half)) if 2 * half >= d - 1e-6 else (0.0,)
    more: dict[str, Any] = {"lock": _LOCKS, "feature": work.feature}
    near_wall = SizedBy("Y", -1.0, inside=True) if leave else None  # else the cutter makes it
    size = asked(f"{work.id}.wide", "width, with a pin or gauge blocks", work.width_mm, work.allowed_mm, near_wall)
    moves = []
    for k, line in enumerate(lines, 1):
        for n, p in enumerate(deep, 1):
            last = k == len(lines) and n == len(deep) and not leave
            terms = [*middle, *([Term("track from the middle", line)] if len(lines) > 1 else [])] or [Term("middle", 0.0)]
            of = f", track {k} of {len(lines)}" if len(lines) > 1 else ""
            moves.append(
                ctx.cut(
                    f"{work.id}.last" if last else f"{work.id}.rough{n}" if len(lines) == 1 else f"{work.id}.t{k}.rough{n}",
                    "Last pass, full depth: the cutter makes the width" if last else f"Down the middle{of}, pass {n}",
                    (ctx.at("Y", terms), ctx.at("Z", [Term("depth so far", -p.to_mm)])),
                    "X",
                    ends,
                    asked=size if last else None,
                    allowed_mm=max(0.0, -spare) + (_JUST / 2 if not leave else 0.0),
                    **more,
                )
            )
    if leave:
        for side, sign in (("far", 1.0), ("near", -1.0)):
            terms = [*middle, Term("half the channel", sign * work.width_mm / 2), Term("half the cutter", -sign * d / 2)]
            moves.append(
                ctx.cut(
                    f"{work.id}.{side}",
                    f"{sentence(side)} wall, full depth",
                    (ctx.at("Y", terms), ctx.at("Z", [Term("depth", -work.depth_mm)])),
                    "X",
                    ends,
                    wall=sign,
                    finish=True,
                    asked=size if sign < 0 else None,
                    **more,
                )
            )
    return tuple(moves)


# --- V ----------------------------------------------------------------------------------------------------------------


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


def vees(ctx: Context, work: VGroove) -> list[Setup]:
    """One flank after the other; the bar is turned end for end between, so a V in the middle has the same numbers twice."""
    if work.included_deg < 90:
        ctx.problems.append(
            f"A V of {format_number(work.included_deg)}°: below 90° an end mill's corner does not go to the bottom, its side"
            " would cut into the other flank. It is not planned: shape or grind it, have it cut with an angle cutter, or open"
            " the V to 90°"
        )
        ctx.gathered.leaves.append(f"{work.name} of {format_number(work.included_deg)}°")
        return []
    tilt = tilt_for(work.included_deg)
    mills = ctx.mills()
    mill = ctx.end_mill(mills, 16.0)
    ctx.request(f"{format_number(tilt)}° on the level or sine plate", True)
    return [_flank(ctx, work, mill, number, away, tilt) for number, away in ((1, "B"), (2, "D"))]


#: So far under a leaning edge the side beside it is touched, mm: an edge itself cannot be touched with what hangs down beside it.
EDGE_DEPTH_MM: Final = 2.0


def _flank(ctx: Context, work: VGroove, mill: Cutter, number: int, away: str, tilt: float) -> Setup:
    """The near flank, level: the far edge of the bar is high, the cutter's far side runs at the bottom of the V."""
    d = mill.diameter_mm
    at = work.at_mm if away == "B" else -work.at_mm
    edge = ctx.width / 2 - at  # from the middle of the V to the high edge, which is the far one
    y_edge = ctx.width / 2 if away == "B" else -ctx.width / 2
    lie = Lie(up="A", away=away, zero=(ctx.bar_zero[0] if away == "B" else ctx.bar_ends[1], y_edge, 0.0), tilt_deg=tilt)
    down, across = vee_numbers(edge, work.mouth_mm, work.included_deg)
    tau = math.radians(tilt)
    deep = work.mouth_mm / 2 * math.tan(tau)
    line = deep / math.cos(tau)  # up the plumb line through the bottom, to the land
    high = _highest(deep, tau, work.relief_mm / 2)
    flank = work.mouth_mm / 2 / math.cos(tau)
    # The first setting's side has cut off the other flank along that plumb line: what stands is a wedge of A − 90°, nothing at
    # 90°, where the second setting only dusts and shows whether both agree.
    wedge = line * math.sin(math.radians(work.included_deg - 90))
    dusts = number == 2 and wedge < FINISH_WALL_MM
    rise = high if number == 1 else max(wedge, FINISH_WALL_MM)
    steps = passes(rise, ctx.roughing_mm(d), FINISH_WALL_MM, ctx.options.passes)
    words, size = ctx.finder
    # Side and edge lean: a finder that hangs down beside the edge meets the side, which stands out further the deeper it is met.
    out = EDGE_DEPTH_MM * math.tan(tau)
    zero_y = ctx.at("Y", [Term("half the edge finder", size / 2), Term("how far the side stands out that deep", out)])
    zero = Move(
        id=f"{work.id}.{number}.zero",
        words=(
            f"Find the high edge of the tilted bar: the end of the {words} on it, then {ctx.say(EDGE_DEPTH_MM)} lower and from"
            f" behind against side {away}: Y reads this number there. The cutter on a feeler on the edge for Z"
        ),
        positions=(zero_y, ctx.at("Z", [Term("feeler", 0.05)])),
        zeroes="YZ",
        lock="X",
    )
    zeroes = (
        Zero(axis="Y", touches=f"the high edge, {away}", tool=words, reads_mm=zero_y.value_mm),
        Zero(axis="Z", touches=f"the high edge, {away}", tool="the cutter on a feeler", reads_mm=0.05),
    )
    count = max(1, math.ceil((flank - d) / (SHARE * d) - 1e-9) + 1)
    step = (flank - d) / (count - 1) if count > 1 else 0.0
    moves = []
    for n, p in enumerate(steps, 1):
        last = n == len(steps)
        left = rise - p.to_mm
        z = [Term("high edge to the flank", -down), *([Term("left for the next pass", left)] if not last else [])]
        for k in range(count):
            out = step * k
            if k and left >= line * (1 - (step * (k - 1) + d + FINISH_WALL_MM) / flank) - 1e-6:
                continue  # the land falls away toward you: beyond the track before there is nothing so high
            y = [
                Term("edge to the bottom of the V", -across),
                Term("half the cutter", -d / 2),
                *([Term("left for finishing", -FINISH_WALL_MM)] if not p.finish else []),
                *([Term("toward you by a track", -out)] if out > 1e-9 else []),
            ]
            ask = (
                asked(
                    f"{work.id}.pin", f"a pin Ø{ctx.size(work.pin_mm)} in the V: its top above the face", work.over_pin_mm, 0.03
                )
                if last and number == 2 and work.pin_mm and k == 0
                else None
            )
            moves.append(
                ctx.cut(
                    f"{work.id}.{number}.{n}" + (f".t{k + 1}" if count > 1 else ""),
                    f"Flank {number}, pass {n}" + (f", track {k + 1} of {count}" if count > 1 else ""),
                    (
                        ctx.at("Y", y, key=f"{work.id}.y" if last and k == 0 else ""),
                        ctx.at("Z", z, key=f"{work.id}.z" if last else ""),
                    ),
                    "X",
                    run_along(ctx, d),
                    wall=1.0 if k == 0 else 0.0,
                    finish=p.finish,
                    lock=_LOCKS,
                    asked=ask,
                    feature=work.feature,
                    may_be_air=dusts,
                )
            )
    return ctx.setup(
        f"{work.id}.{number}",
        f"{work.name}, flank {number}",
        lie,
        (
            Operation(title="Find zero", tool=words, moves=(zero,)),
            Operation(
                title=f"Flank of {format_number(work.included_deg)}°",
                tool=mill.title,
                cutter=ctx.tool(mill, high),
                speed=ctx.speed(mill),
                moves=tuple(moves),
                note=(
                    "It only dusts: the first setting's side cut made this flank"
                    if dusts
                    else "Cutter centre; it begins at the corner of the mouth"
                ),
            ),
        ),
        holding=(
            f"{ctx.in_vise(lie)}, tilted {format_number(tilt)}° about its long axis with side {away} high and away from you,"
            " checked with the level on the top or a sine plate under it; a stop at one end"
        ),
        datum=f"Y and Z zero at the high edge ({away}) of the tilted bar, + away and up",
        zeroes=zeroes,
        stands="stands tilted",
        jaws_mm=0.0,
        cautions=("Tilted work stands on an edge: clamp hard, tap it down, try to move it by hand before the spindle turns.",),
    )


def _highest(deep: float, tau: float, relief: float) -> float:
    """Highest metal over the level flank under a cutter that stays short of the plumb line through the bottom by a finishing cut.

    Args:
        relief: Half the width of a relief that was cut along the bottom before.
    """
    edge = (deep * math.sin(tau) - FINISH_WALL_MM) / math.cos(tau)
    at = edge if edge > relief + _SLIVER_MM else -relief
    return max(0.1, at * math.sin(tau) + deep * math.cos(tau))


# --- flats on a round -------------------------------------------------------------------------------------------------


def flats(ctx: Context, work: Flat) -> list[Setup]:
    """Two flats on a turned part in a V-block, turned half round between."""
    ctx.request("V-block with clamp", True)
    ctx.request("square", True)
    mills = ctx.mills()
    long = work.to_mm - work.from_mm
    mill = ctx.end_mill([m for m in mills if m.diameter_mm <= max(long * 2, 6.0)] or mills[-1:], 6.0)
    d, r, widest = mill.diameter_mm, work.round_mm / 2, ctx.blank.round_mm / 2
    found = []
    for number, (up, away) in enumerate((("A", "B"), ("C", "D")), 1):
        # The axis of the round is the x of its bar frame, its middle as deep as its widest part is thick by half.
        lie = Lie(up=up, away=away, zero=(0.0, 0.0, r - widest if up == "A" else -widest - r))
        x_move, x_zero = ctx.touch_side(f"{work.id}.{number}.zero.X", "X", "the free end, E", 0.0, "")
        z_move, z_zero = ctx.touch_top(f"{work.id}.{number}.zero.Z", f"the top of the Ø{ctx.size(work.round_mm)}")
        deep = r - work.across_mm / 2
        steps = passes(deep, ctx.roughing_mm(d), 0.1, ctx.options.passes, finish_cuts=1)
        reach = r + d / 2 + OVER_RUN_MM
        # The flat ends at a shoulder on one side and runs out over the end of the round on the other.
        wall, end = (work.to_mm, work.from_mm) if work.from_mm <= 0 else (work.from_mm, work.to_mm)
        side = 1.0 if end < wall else -1.0
        lines = tracks_to_wall(wall, end, d)
        moves = []
        for n, p in enumerate(steps, 1):
            for k, at in enumerate(lines, 1):
                out = at - (wall - side * d / 2)
                terms = [
                    Term("end of the flat", wall),
                    Term("half the cutter", -side * d / 2),
                    *([Term("out by a track", out)] if abs(out) > 1e-9 else []),
                ]
                last = number == 2 and n == len(steps) and k == len(lines)
                moves.append(
                    ctx.cut(
                        f"{work.id}.{number}.{n}" + (f".t{k}" if len(lines) > 1 else ""),
                        f"Flat {number}, pass {n}" + (f", track {k} of {len(lines)}" if len(lines) > 1 else ""),
                        (ctx.at("X", terms), ctx.at("Z", [Term("depth from the top of that Ø", -p.to_mm)])),
                        "Y",
                        (-reach, reach),
                        wall=side,
                        finish=p.finish,
                        lock=_LOCKS,
                        feature=work.feature,
                        asked=asked(f"{work.id}.across", "micrometer over the flats", work.across_mm, 0.02, SizedBy("Z", 2.0))
                        if last
                        else None,
                    )
                )
        found.append(
            ctx.setup(
                f"{work.id}.{number}",
                f"{work.name}, flat {number}",
                lie,
                (
                    Operation(title="Find zero", tool=x_zero.tool, moves=(x_move, z_move)),
                    Operation(
                        title=f"Flat {ctx.say(deep)} deep",
                        tool=mill.title,
                        cutter=ctx.tool(mill, deep),
                        speed=ctx.speed(mill, "Y"),
                        moves=tuple(moves),
                    ),
                ),
                holding="in a V-block on the table, clamped behind the flat"
                + ("; turned half round against a square" if number == 2 else ""),
                datum=f"X zero at the free end, Z zero on the top of the Ø{ctx.size(work.round_mm)}",
                zeroes=(x_zero, z_zero),
                fixture="V-block",
                stands="is a round bar",
                each=True,
                cautions=("A short round turns under the cut: clamp hard, try it by hand before the spindle turns.",),
            )
        )
    return found


def slit(ctx: Context, work: SlitCut) -> Setup:
    """Sawn by hand or with a slitting saw: what it takes is a box."""
    saws = ctx.shop.cutters_of(CutterKind.SLITTING_SAW)
    ctx.request(saws[0].title if saws else "hacksaw", True)
    move = Move(
        id=f"{work.id}.saw",
        words=work.words,
        removes=ctx.frame.body(work.low, work.high) if ctx.frame else None,
        feature=work.feature,
        caution="A thin saw breaks when the work shifts: clamp hard, slow feed.",
    )
    return Setup(
        id=work.id,
        title=work.name,
        holding="In the vise, the cut just outside the jaws",
        datum="scribed line",
        operations=(Operation(title="Saw", tool="hacksaw or slitting saw", moves=(move,)),),
        cautions=("Small parts in a file hand: hold them in the vise.",),
    )
