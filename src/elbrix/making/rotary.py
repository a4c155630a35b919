"""Walls round a centre, on a rotary table: the cutter at radius ± half its Ø, the worm turned between two angles.

The table's centre is the zero of X and Y; X stays there, Y is the radius.
"""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Final

from msgspec.structs import replace

from elbrix.design.work import RingWall
from elbrix.making.context import FINISH_FLOOR_MM, FINISH_WALL_MM, OVER_RUN_MM, Context, asked
from elbrix.making.passes import passes
from elbrix.making.plan import Move, Operation, Setup, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.strokes import Stroke
from elbrix.making.tracks import tracks_to_wall
from elbrix.mechanics.dividing import turn_worm
from elbrix.quantities.sentences import within
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.tooling import Cutter

#: A path round a centre is a polygon this near to its arc, mm.
_ARC_MM: Final = 0.002
#: A table is centred by an indicator to that, mm. Source: shop practice.
_CENTRED_MM: Final = 0.005
#: The reading of how far its centre is still off.
CENTRE_OFF: Final = "ring_centre"


def worm_words(table: Machine | None, angle_deg: float) -> str:
    """An angle as turns and marks of the worm: "3 turns + 132 marks"; degrees where the worm is not known."""
    if table is None or table.worm_turns < 1:
        return f"{format_number(angle_deg, 2)}°"
    if not table.worm_marks:
        return f"{format_number(angle_deg / 360.0 * table.worm_turns, 3)} turns ({format_number(angle_deg, 2)}°)"
    found = turn_worm(Fraction(angle_deg), table.worm_turns, (), table.worm_marks)
    return f"{found.words} ({format_number(angle_deg, 2)}°)"


def swing_deg(half_mm: float, cutter_mm: float, radius_mm: float) -> float:
    """From the middle to where a cutter on a radius is clear of the piece's end, degrees."""
    return math.degrees(math.asin(min(1.0, (half_mm + cutter_mm / 2 + OVER_RUN_MM) / radius_mm)))


def _arc(radius: float, half_deg: float, depth: float) -> Stroke:
    step = 2 * math.acos(max(0.0, 1 - _ARC_MM / radius))
    n = max(2, math.ceil(2 * math.radians(half_deg) / step))
    angles = [math.radians(half_deg) * (2 * i / n - 1) for i in range(n + 1)]
    return Stroke(tuple((radius * math.sin(a), radius * math.cos(a), -depth) for a in angles))


def ring_walls(ctx: Context, walls: list[RingWall]) -> Setup:
    """All walls of a piece in one setup on the rotary table, in the order they are given."""
    first = walls[0]
    tables = [m for m in ctx.shop.machines if m.kind is MachineKind.ROTARY_TABLE]
    table = next((m for m in tables if m.worm_turns), tables[0] if tables else None)
    ctx.request(table.name if table else "rotary table", table is not None, "" if table else "none in Shop: angles in degrees")
    ctx.request("indicator", True)
    # Inside a ring the cutter has to turn, too.
    room = min((w.radius_mm for w in walls if w.edge_mm < w.radius_mm), default=math.inf)
    mills = [m for m in ctx.mills() if m.diameter_mm <= room]
    deepest = max(w.depth_mm for w in walls)
    long = [m for m in mills if not m.edge_length_mm or m.edge_length_mm >= deepest]
    ledge = min(abs(w.edge_mm - w.radius_mm) for w in walls)
    fitting = sorted((m for m in long if m.diameter_mm >= 1.2 * ledge), key=lambda m: m.diameter_mm) or long or mills
    mill = ctx.end_mill(fitting, min(12.0, math.floor(room)) if math.isfinite(room) else 12.0)
    if mill.diameter_mm > room:
        ctx.problems.append(
            f"The {mill.title} does not turn inside a ring of radius {ctx.say(room)}: its inside waits for a thinner one"
        )
        mill = replace(mill, id="a thinner end mill", diameter_mm=max(0.5, math.floor(room)))
    off = abs(ctx.measured.get(CENTRE_OFF, 0.0))
    if off:
        closest = min(walls, key=lambda w: w.allowed_mm)
        words = (
            f"The table's centre is {ctx.say(off, 3)} off: every wall may lie as far beside its radius, and its width is right"
        )
        if off > closest.allowed_mm:
            ctx.problems.append(f"{words}; {within(closest.name)} is allowed {ctx.say(closest.allowed_mm, 3)}. Centre it again")
        else:
            ctx.assumed.append(words)
    lie = Lie(up="A", away="B", zero=(ctx.blank.length_mm / 2, first.centre_y_mm, 0.0))
    operations = [_centred(ctx, table, first.hole_radius_mm), *(_wall(ctx, table, mill, w) for w in walls)]
    bore = table.bore_mm if table else 0.0
    return ctx.setup(
        "ring",
        "Ring walls" + (f", each of {ctx.blank.pieces}" if ctx.blank.pieces > 1 else ""),
        lie,
        operations,
        holding=(
            "on a flat plate on the rotary table, screwed down through its own thread from below, the screw's head counterbored"
            " in the plate; the plate may be cut into"
        ),
        datum=(
            f"X and Y zero on the rotary table's centre; Y is the radius, + away; Z zero on the top ({lie.up}); the worm's zero"
            " where the piece's long side lies along X"
        ),
        zeroes=(
            Zero(
                axis="X",
                touches="the rotary table's centre" + (f", bore Ø{ctx.say(bore, 3)}" if bore else ""),
                tool="indicator",
                reads_mm=0.0,
            ),
            Zero(axis="Y", touches="the rotary table's centre", tool="indicator", reads_mm=0.0),
        ),
        fixture="rotary table",
        stands="lies on the rotary table",
        each=True,
        cautions=(
            "One screw alone holds it: light cuts, and the table's own clamp half tight while it turns.",
            "Turn the table against the cutter, never with it: backlash of the worm lets the piece jump into a climbing cutter.",
        ),
    )


def _centred(ctx: Context, table: Machine | None, radius: float) -> Operation:
    bored = table is not None and table.bore_mm > 0
    by = (
        f"Indicator in the spindle round the centre bore Ø{ctx.say(table.bore_mm, 3)}, or a plug of that Ø"
        if table is not None and bored
        else "No bore is recorded: indicator in the spindle on a ground pin set in the table's middle; the pin is swung half"
        " round with the table, and half of what it moved is left in it"
    )
    zero_x = Move(
        id="ring.centre.X",
        words=f"{by}: move X till it reads alike left and right",
        positions=(ctx.at("X", [Term("the table's centre", 0.0)]),),
        zeroes="X",
        lock="X",
    )
    zero_y = Move(
        id="ring.centre.Y",
        words=(
            f"And Y till it reads alike near and far; swing once more, it reads alike all round within {ctx.say(2 * _CENTRED_MM)}"
        ),
        positions=(ctx.at("Y", [Term("the table's centre", 0.0)]),),
        zeroes="Y",
        asked=asked(
            CENTRE_OFF,
            "how far the centre is still off: half of what the indicator swings all round",
            0.0,
            _CENTRED_MM,
            drawn=False,
        ),
    )
    place = Move(
        id="ring.place",
        words=(
            f"Y to the radius {ctx.say(radius)}: a pointed rod in the spindle goes into the piece's hole. Its long side along X"
            " by the indicator, then screwed down. Worm to zero, always turned up to it from the same side"
        ),
        positions=(ctx.at("Y", [Term("radius of the slot's middle", radius)]),),
        lock="X and Y",
        asked=asked("ring_run", "indicator over the piece's hole, rod against radius", radius, 0.03, drawn=False),
    )
    return Operation(title="Centre", tool="indicator", moves=(zero_x, zero_y, place))


#: A roughing cut that would take less is left out, mm.
_HARDLY_MM: Final = 0.1


def _wall(ctx: Context, table: Machine | None, mill: Cutter, work: RingWall) -> Operation:
    d = min(ctx.measured.get("cutter_diameter", mill.diameter_mm), work.radius_mm)
    sign = 1.0 if work.edge_mm > work.radius_mm else -1.0
    base = [
        Term(work.name.lower(), work.radius_mm),
        Term("half the cutter" + (" outside" if sign > 0 else " inside"), sign * d / 2),
    ]
    floor = passes(work.depth_mm, ctx.roughing_mm(d), FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    # A wall that is hardly farther away than what roughing leaves is finished at once.
    rough = abs(work.edge_mm - work.radius_mm) > FINISH_WALL_MM + _HARDLY_MM
    lines = tracks_to_wall(work.radius_mm, work.edge_mm, d) if rough else ()
    moves = []
    for k, line in enumerate(lines, 1):
        last = k == len(lines)
        out = line - (work.radius_mm + sign * d / 2) + (sign * FINISH_WALL_MM if last else 0.0)
        words = "left for finishing" if last else "out to this track"
        moves.append(
            _round(
                ctx,
                table,
                f"{work.id}.rough{k}",
                f"Rough, track {k} of {len(lines)}" if len(lines) > 1 else "Rough",
                [*base, Term(words, out)],
                [p.to_mm for p in floor],
                work,
                d,
            )
        )
    moves.append(
        _round(ctx, table, f"{work.id}.finish", "Finish, full depth, both ways once", base, [work.depth_mm], work, d, finish=True)
    )
    return Operation(
        title=work.name,
        tool=mill.title,
        cutter=ctx.tool(mill, work.depth_mm),
        speed=ctx.speed(mill, "X"),
        moves=tuple(moves),
        note=f"To radius {ctx.say(work.radius_mm)}, {ctx.say(work.depth_mm)} deep",
    )


def _round(
    ctx: Context,
    table: Machine | None,
    id: str,
    words: str,
    terms: list[Term],
    depths: list[float],
    work: RingWall,
    d: float,
    *,
    finish: bool = False,
) -> Move:
    """One radius, swung from one end of the piece to the other at each depth."""
    terms = [t for t in terms if abs(t.value_mm) > 1e-9]
    y = ctx.at("Y", terms)
    radius = sum(t.value_mm for t in terms)
    half = swing_deg(work.half_mm, d, radius)
    down = ", ".join(ctx.say(depth) for depth in depths)
    return Move(
        id=id,
        words=f"{words}: worm from {worm_words(table, half)} before the middle to as much behind it; depths {down}",
        positions=(y, ctx.at("Z", [Term("depth", -depths[-1])])),
        strokes=tuple(_arc(radius, half, depth) for depth in depths),
        lock="X, Y and quill",
        feature=work.feature,
        allowed_mm=0.005,
        asked=asked(f"{work.id}.size", work.asked, work.expected_mm, work.allowed_mm) if finish and work.asked else None,
    )
