"""Tapers, grooves and threads on diameters that are turned."""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import StrEnum
from typing import Final, Protocol

from elbrix.design.work import TurnedGroove, TurnedKnurl, TurnedTaper, TurnedThread
from elbrix.making.context import Context, asked
from elbrix.making.plan import Move, Operation, Position, Term
from elbrix.making.strokes import Stroke, Tool
from elbrix.mechanics.change_wheels import change_wheels
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import within
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.threads import find_thread


class Pace(StrEnum):
    """How fast the work turns under a tool."""

    TURN = "turn"  #: as its Ø is turned
    PART = "part"  #: a tool as wide as its cut
    SLOWEST = "slowest"  #: rolled in, or chased up to a stop
    HAND = "by hand"  #: the power is off


class Lathe(Protocol):
    """What a detail asks of the turning it belongs to."""

    ctx: Context
    stock: float  #: Ø of the bar, mm

    def across(self, terms: list[Term]) -> Position:
        """The cross-slide's number."""

    def operation(
        self, title: str, tool: str, shape: Tool, moves: Sequence[Move], note: str = "", pace: Pace | Cutter = Pace.TURN
    ) -> Operation:
        """One operation at its pace."""


#: A tool runs in from before the end so far, mm.
BEFORE_MM: Final = 2.0
TURNING_TOOL: Final = Tool(kind="turning", axis="z", on="lathe", holder="tool post")
STEEL_TOOL: Final = "turning tool"
#: Threads up to this Ø are cut with a die when the shop does not say otherwise, mm.
_DIE_MM: Final = 16.0
#: Depth of an outside thread on the radius, in pitches: 17/24·H. Source: ISO 68-1, root rounded.
_THREAD_DEPTH: Final = 0.6134
#: A thread whose pitch is off by more than this over its length is said: on the pitch diameter it counts 1.7 times, mm.
_PITCH_OFF_MM: Final = 0.02


def taper(lathe: Lathe, step: TurnedTaper) -> Operation:
    """By the compound slide at its angle."""
    ctx = lathe.ctx
    a, b = step.from_size_mm / 2, step.to_size_mm / 2
    long = step.to_mm - step.from_mm
    # Carried on past both ends along its own line.
    more = 1.0
    k = (b - a) / long
    path = ((a - k * more, 0.0, -step.from_mm + more), (b, 0.0, -step.to_mm))
    move = Move(
        id=f"{step.id}.1",
        words=(
            f"{step.name}: compound slide set to {format_number(_degrees(k), 1)}° to the axis, from"
            f" Ø{ctx.say(step.from_size_mm)} at the end over {ctx.say(long)}"
        ),
        positions=(
            lathe.across([Term(f"{within(step.name)} at the end", step.from_size_mm)]),
            ctx.at("Z", [Term("beginning", -step.from_mm)]),
        ),
        strokes=(Stroke(path),),
        lock="carriage",
        feature=step.feature,
        allowed_mm=0.05,
    )
    return lathe.operation(step.name, STEEL_TOOL, TURNING_TOOL, (move,))


def groove(lathe: Lathe, step: TurnedGroove) -> Operation:
    """Straight in with a tool of its width."""
    ctx = lathe.ctx
    wide = step.to_mm - step.from_mm
    z = ctx.at("Z", [Term("its far side from the face", -step.to_mm)])
    move = Move(
        id=f"{step.id}.1",
        words=f"{step.name}: in to Ø{ctx.say(step.size_mm)}, {ctx.say(wide)} wide",
        positions=(lathe.across([Term(step.name.lower(), step.size_mm)]), z),
        strokes=(Stroke(((lathe.stock / 2 + BEFORE_MM, 0.0, z.value_mm), (step.size_mm / 2, 0.0, z.value_mm))),),
        lock="carriage",
        feature=step.feature,
        allowed_mm=step.allowed_mm,
        caution="Slow, with oil: a grooving tool that digs in throws the work.",
    )
    tool = Tool(kind="parting", axis="z", on="lathe", width_mm=wide, holder="tool post")
    return lathe.operation(
        step.name, f"grooving tool {ctx.say(wide)} wide", tool, (move,), "Round its corners with a stone", Pace.PART
    )


def knurl(lathe: Lathe, step: TurnedKnurl) -> Operation:
    """Rolled in, squeezed between wheels or pressed from one side; the diameter grows."""
    ctx = lathe.ctx
    z = ctx.at("Z", [Term("to", -step.to_mm)])
    move = Move(
        id=f"{step.id}.1",
        words=(
            f"{step.name}: pitch {ctx.say(step.pitch_mm)} over {ctx.say(step.to_mm - step.from_mm)}; half a turn by hand first,"
            " look that the marks fall into each other, then in one go, with oil and a brush"
        ),
        positions=(z,),
        lock="nothing",
        feature=step.feature,
        asked=asked(f"{step.id}.over", "caliper over the crests, burrs brushed off", step.over_mm, 0.3 * step.pitch_mm),
        caution="It bends the work and pulls at the tool post: a centre in the end, slowest speed, no cloth near the wheels.",
    )
    ctx.request(f"knurling tool, straight wheels of pitch {ctx.say(step.pitch_mm)}", True)
    return lathe.operation(
        step.name, "knurling tool", Tool(kind="knurl", axis="z", on="lathe", holder="tool post"), (move,), pace=Pace.SLOWEST
    )


def thread(lathe: Lathe, step: TurnedThread) -> Operation:
    """With a die that is owned or usual; a larger one by the tool, in passes of the machine's own table."""
    ctx = lathe.ctx
    of = find_thread(parse_thread(step.thread))
    owned = any(c.name == of.name for c in ctx.shop.cutters_of(CutterKind.DIE))
    to = ctx.at("Z", [Term("full thread to", -step.to_mm)])
    long = step.to_mm - step.from_mm
    if owned or of.major_mm <= _DIE_MM:
        die = ctx.find(CutterKind.DIE, of.major_mm, name=of.name)
        move = Move(
            id=f"{step.id}.die",
            words=f"{step.name}: {of.shown} over {ctx.say(long)}, spindle by hand, oil, half a turn back each turn",
            positions=(to,),
            lock="carriage",
            feature=step.feature,
            caution="Power off, and a centre taken back: a die that binds tears the hand that holds it.",
        )
        return lathe.operation(
            f"Thread {of.shown}", f"{die.title} in the tailstock's holder", Tool(kind="die"), (move,), pace=Pace.HAND
        )
    deep = _THREAD_DEPTH * of.pitch_mm
    move = Move(
        id=f"{step.id}.cut",
        words=f"{step.name}: {of.shown} over {ctx.say(long)}, in passes of {ctx.say(0.1)} to this number; try the nut",
        positions=(lathe.across([Term("as turned", of.major_mm - 0.1), Term("two depths of thread, 0.6134·P", -2 * deep)]), to),
        lock="half nuts as the machine's maker says",
        feature=step.feature,
        caution="Slowest speed; know where the tool stops before the spindle turns.",
    )
    return lathe.operation(
        f"Thread {of.shown}", "60° threading tool", Tool(kind="threading"), (move,), _wheels(ctx, of.pitch_mm, long), Pace.SLOWEST
    )


def _wheels(ctx: Context, pitch_mm: float, long: float) -> str:
    """The train that cuts a pitch, where the lathe's wheels are listed; what it is off over the thread is said."""
    m = ctx.machine
    if not m.lead_screw_mm or not m.change_wheels:
        ctx.request(f"change wheels for {pitch_mm:g} mm pitch", True, "by the machine's own table")
        return ""
    try:
        train = change_wheels(pitch_mm, m.lead_screw_mm, m.change_wheels)
    except ShopError as error:
        ctx.problems.append(str(error))
        return ""
    ctx.request(f"change wheels {train.words}", True, f"{pitch_mm:g} mm pitch from a screw of {m.lead_screw_mm:g}")
    off = abs(train.error_mm_m) * long / 1000
    if off > _PITCH_OFF_MM:
        ctx.problems.append(
            f"The nearest wheels, {train.words}, cut {float(train.pitch_mm):.4f} for {pitch_mm:g} mm pitch:"
            f" {ctx.say(off, 3)} off over the thread; a nut of that length would bind"
        )
    near = "" if train.exact else f", {float(train.pitch_mm):.4f}"
    return f"Change wheels, driver to driven: {train.words}{near}. Guard shut before the spindle turns"


def _degrees(k: float) -> float:
    return math.degrees(math.atan(abs(k)))
