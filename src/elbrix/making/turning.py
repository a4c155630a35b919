"""Turned parts: faced, turned, bored and parted on the lathe, in diameters as its dial reads them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Final

from elbrix.design.work import TurnedBore, TurnedPart
from elbrix.drawing.scene import Element, Line, Path, Scene, Style, box
from elbrix.making.context import Context
from elbrix.making.passes import passes
from elbrix.making.plan import AskedSize, Move, Operation, Position, Setup, Term
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.threads import find_thread

#: Roughing cut on the diameter by rigidity, and what is left on it for finishing in equal cuts, mm.
_ROUGH: Final = {"light": 0.6, "medium": 1.5, "heavy": 3.0}
_FINISH: Final = 0.6
_FACE: Final = 0.3
_SPEED_TOOL: Final = "turning tool"


def turned(ctx: Context, steps: Sequence[TurnedPart | TurnedBore]) -> list[Setup]:
    """First end with everything on it, parted, then the second end faced to length."""
    stock = ctx.bar.width_mm if ctx.bar else ctx.blank.round_mm + 1.0
    length = ctx.blank.length_mm
    outsides = [s for s in steps if isinstance(s, TurnedPart)]
    profile = tuple((s.length_mm, s.size_mm) for s in sorted(outsides, key=lambda s: s.length_mm))
    tool = Cutter(id="turning tool", kind=CutterKind.END_MILL, diameter_mm=stock, teeth=1)
    ctx.request("turning and facing tools, parting tool", True)
    operations = [
        Operation(
            title="Face",
            tool="facing tool",
            speed=ctx.speed(tool, "Z"),
            moves=(
                Move(
                    id="turn.face",
                    words="Face the end clean; Z zero is the face",
                    positions=(ctx.at("Z", [Term("face", 0.0)]),),
                    lock="carriage",
                ),
                Move(
                    id="turn.zero",
                    words="Take a skim, measure it, and set the cross-slide dial to read it",
                    positions=(_across(ctx, [Term("diameter as measured after the skim", stock - 0.3)]),),
                    lock="carriage",
                ),
            ),
        )
    ]
    at = stock - 0.3
    for step in sorted(outsides, key=lambda s: -s.size_mm):
        operations.append(_outside(ctx, step, at, tool))
        at = step.size_mm
    operations += [_bore(ctx, s) for s in steps if isinstance(s, TurnedBore)]
    operations.append(
        Operation(
            title="Part",
            tool="parting tool",
            moves=(
                Move(
                    id="turn.part",
                    words=f"Part off {ctx.say(length + _FACE)} from the face",
                    positions=(
                        ctx.at(
                            "Z",
                            [
                                Term("length", -length),
                                Term("left for facing", -_FACE),
                                Term("parting tool's width goes beyond", 0.0),
                            ],
                        ),
                    ),
                    lock="carriage",
                    caution="Catch the piece with a wire or a tray, never with the hand; slow, plenty of oil.",
                ),
            ),
        )
    )
    pieces = f", {ctx.blank.pieces} pieces one after the other" if ctx.blank.pieces > 1 else ""
    first = Setup(
        id="turn",
        title="Turn" + pieces,
        holding=f"In the three-jaw chuck, {ctx.say(length + 12)} out; over three times its Ø a centre holds the end",
        datum=f"Z zero on the faced end, − toward the chuck; the cross-slide reads the {ctx.machine.dial_reads}",
        operations=tuple(operations),
        pictures={"": partial(_side, stock, length, profile)},
        stands="is turned in the lathe",
        cautions=("Take the chuck key out before the spindle turns.", "No gloves, no loose sleeves, no rag at a turning lathe."),
    )
    second = Setup(
        id="second_end",
        title="Second end",
        holding="In the chuck on the finished Ø, a strip of brass between; it runs true to 0.02 by the indicator",
        datum="Z zero on the finished end, against the stop in the chuck",
        operations=(
            Operation(
                title="Face to length",
                tool="facing tool",
                speed=ctx.speed(tool, "Z"),
                moves=(
                    Move(
                        id="second_end.face",
                        words="Face to length, break the edges 0.3",
                        positions=(ctx.at("Z", [Term("length", length)]),),
                        lock="carriage",
                        asked=AskedSize(key="length", words="over the ends", expected_mm=length, allowed_mm=0.05),
                    ),
                ),
            ),
        ),
        pictures={"": partial(_side, stock, length, profile)},
        stands="is turned in the lathe",
    )
    return [first, second]


def _across(ctx: Context, terms: list[Term]) -> Position:
    """The cross-slide: a diameter, or its half when the dial reads the radius."""
    if ctx.machine.dial_reads == "radius":
        terms = [Term(f"half of: {t.words}", t.value_mm / 2) for t in terms]
    return ctx.at("X", terms)


def _outside(ctx: Context, step: TurnedPart, start: float, tool: Cutter) -> Operation:
    moves = []
    z = ctx.at("Z", [Term("from the face", -step.length_mm)])
    cuts = (
        passes(start - step.size_mm, _ROUGH.get(ctx.machine.rigidity, 1.5), _FINISH, ctx.options.passes, finish_cuts=3)
        if start - step.size_mm > 0.005
        else ()
    )
    for n, p in enumerate(cuts, 1):
        left = start - p.to_mm - step.size_mm
        terms = [Term(step.name.lower(), step.size_mm), *([Term("left for the next cut", left)] if left > 1e-9 else [])]
        last = n == len(cuts)
        asked = (
            AskedSize(
                key=f"{step.id}.size" if last else f"{step.id}.size{n}",
                words=f"micrometer over the {step.name.lower()}",
                expected_mm=step.size_mm + left,
                allowed_mm=step.allowed_mm if last else 0.1,
            )
            if p.finish
            else None
        )
        moves.append(
            Move(
                id=f"{step.id}.{n}",
                words=f"{step.name}, {'equal finishing cut' if p.finish else f'roughing cut {n}'}",
                positions=(_across(ctx, terms), z),
                lock="compound slide",
                asked=asked,
            )
        )
    note = f"To {ctx.say(step.length_mm)} from the face, ±{ctx.say(step.allowed_mm, 3)}"
    if not moves:
        note = "The bar has this size: leave it"
    return Operation(
        title=f"Turn Ø{format_number(step.size_mm, 3)}",
        tool=_SPEED_TOOL,
        speed=ctx.speed(tool, "Z"),
        moves=tuple(moves),
        note=note,
    )


def _bore(ctx: Context, step: TurnedBore) -> Operation:
    length = ctx.blank.length_mm
    depth = [Term("depth", -step.depth_mm)] if step.depth_mm else [Term("length", -length), Term("through", -2.0)]
    z = ctx.at("Z", depth)
    if step.thread:
        thread = find_thread(parse_thread(step.thread))
        drill, tap = ctx.find(CutterKind.DRILL, thread.tap_drill[1]), ctx.find(CutterKind.TAP, thread.major_mm, name=thread.name)
        deeper = ctx.at("Z", [*depth, Term("three turns for the tap's lead", -3 * thread.pitch_mm)]) if step.depth_mm else z
        return Operation(
            title=f"Drill and tap {thread.shown}",
            tool=f"{drill.title}, {tap.title}",
            speed=ctx.speed(drill, "Z"),
            moves=(
                Move(id=f"{step.id}.drill", words="Centre, then drill", positions=(deeper,), lock="tailstock"),
                Move(
                    id=f"{step.id}.tap",
                    words="Tap by hand, the tailstock's centre as guide",
                    positions=(z,),
                    lock="spindle",
                    caution="Power off.",
                ),
            ),
        )
    first = step.drill_mm or max(3.0, step.size_mm - 1.0)
    drill = ctx.find(CutterKind.DRILL, first)
    moves = [Move(id=f"{step.id}.drill", words=f"Centre and drill Ø{ctx.say(first)}", positions=(z,), lock="tailstock")]
    gap = step.size_mm - first
    for n, p in enumerate(passes(gap, 1.0, min(_FINISH, gap), ctx.options.passes, finish_cuts=3) if gap > 0.005 else (), 1):
        size = first + p.to_mm
        last = abs(size - step.size_mm) < 1e-9
        asked = (
            AskedSize(
                key=f"{step.id}.size" if last else f"{step.id}.size{n}",
                words="bore, crosswise at both ends",
                expected_mm=size,
                allowed_mm=step.allowed_mm if last else 0.1,
            )
            if p.finish
            else None
        )
        terms = [
            Term(step.name.lower(), step.size_mm),
            *([Term("left for the next cut", size - step.size_mm)] if not last else []),
        ]
        moves.append(
            Move(
                id=f"{step.id}.{n}",
                words=f"{step.name}, {'equal finishing cut' if p.finish else 'roughing cut'}",
                positions=(_across(ctx, terms), z),
                lock="compound slide",
                asked=asked,
            )
        )
    return Operation(
        title=f"Bore Ø{format_number(step.size_mm, 3)}",
        tool=f"{drill.title}, boring bar",
        speed=ctx.speed(drill, "Z"),
        moves=tuple(moves),
        note=f"±{ctx.say(step.allowed_mm, 3)}; equal cuts, because bar and machine then give way by the same amount each time",
    )


def _side(stock: float, length: float, profile: tuple[tuple[float, float], ...]) -> Scene:
    """The part from the side, chuck on the left, its faced end at x = 0."""
    upper: list[tuple[float, float]] = [(0.0, 0.0)]
    for end, size in profile:
        upper += [(upper[-1][0], size / 2), (-end, size / 2)]
    upper += [(-length, upper[-1][1] if profile else stock / 2), (-length, 0.0)]
    ring = tuple(upper + [(x, -y) for x, y in reversed(upper)])
    elements: list[Element] = [
        box(-length - 30, -stock * 0.9, -length - 10, stock * 0.9, Style.SURROUNDINGS_SECTION, "chuck"),
        box(-length - 10, -stock / 2, -length, stock / 2, Style.THIN, "bar"),
        Path(ring, Style.BODY, "work", closed=True),
        Path(ring, Style.VISIBLE, "work", closed=True),
        Line((-length - 34, 0), (8, 0), Style.CENTRE),
    ]
    return Scene("setup", "In the chuck, from the front", tuple(elements))
