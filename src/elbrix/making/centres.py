"""Turned between centres: both ends faced and centred first, then everything runs on the same two holes, driven by a dog.

The dog takes the end it sits on: what lies under it is turned when the piece has been turned round.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from msgspec.structs import replace

from elbrix.design.work import Blank, TurnedBore, TurnedGroove, TurnedKnurl, TurnedPart, TurnedTaper, TurnedThread
from elbrix.making.context import asked
from elbrix.making.ends import Step, sides
from elbrix.making.plan import Move, Operation, Setup, Zero
from elbrix.making.pose import Lie
from elbrix.making.strokes import Stroke
from elbrix.making.turned_details import BEFORE_MM, TURNING_TOOL
from elbrix.making.turning import Turning
from elbrix.quantities.sentences import within

#: What a dog covers: so many diameters, and no less than so many mm. Source: shop practice.
_DOG_SHARE, _DOG_MM = 0.8, 12.0
#: The second cut runs so far over where the first ended, mm.
_OVERLAP_MM: Final = 1.0
_CAUTIONS: Final = (
    "A dog catches sleeves and hands: use a safety dog, guard the driver, no gloves.",
    "Oil the tailstock centre, and slacken it when the work grows warm.",
)


def dog_mm(stock_mm: float) -> float:
    """How much of an end the dog covers."""
    return max(_DOG_MM, _DOG_SHARE * stock_mm)


def why_not(blank: Blank, steps: Sequence[object], stock_mm: float) -> str:
    """What keeps a piece from being turned between centres; empty: nothing.

    Args:
        steps: All its work.
        stock_mm: Ø of its bar.
    """
    turned = [s for s in steps if isinstance(s, Step)]
    if blank.hex_mm:
        return "a dog would mark the hexagon"
    if any(isinstance(s, TurnedBore) for s in turned):
        return "a bored end leaves no centre to run on"
    length, dog = blank.length_mm, dog_mm(stock_mm)
    if length < 2 * dog + 5:
        return "it is too short for a dog at each end"
    first, behind = sides(turned, length)
    widest = _widest(first)
    under = [s for s in (*first, *behind) if s is not widest and _ends(s) > length - dog + 1e-9]
    return f"the dog would sit where {within(under[0].name)} is turned" if under else ""


def _widest(steps: Sequence[Step]) -> TurnedPart | None:
    return max((s for s in steps if isinstance(s, TurnedPart)), key=lambda s: (s.length_mm, s.size_mm), default=None)


def _ends(step: Step) -> float:
    if isinstance(step, TurnedPart):
        return step.length_mm
    return 0.0 if isinstance(step, TurnedBore) else step.to_mm


def between_centres(t: Turning) -> list[Setup]:
    """Both ends faced and centred in the chuck, then turned from each end."""
    t.ctx.request("tailstock centre, driving plate and dog", True)
    t.ctx.request("centre drill", True)
    length, dog = t.ctx.blank.length_mm, dog_mm(t.stock)
    widest = _widest(t.steps)
    first: list[Step] = [replace(s, length_mm=min(s.length_mm, length - dog)) if s is widest else s for s in t.steps]
    last: list[Step] = list(t.behind)
    if widest is not None and widest.length_mm > length - dog:
        # Its end under the dog, from the second end; the other diameters of that end follow it.
        last.insert(0, replace(widest, id=f"{widest.id}_end", length_mm=dog + _OVERLAP_MM))
    runs = [
        _run(t, "turn", "E", (0.0, 0.0), "Turn between centres", first),
        *([_run(t, "second_end", "F", (length, 0.0), "Turn the other end", last)] if last else []),
    ]
    return [
        _end(t, "ends", "E", (0.0, 0.0), "Face and centre one end", ""),
        _end(t, "ends_second", "F", (length, 0.0), "Face to length, centre the other end", "length"),
        *(s for s in runs if any(m.strokes for m in s.moves)),  # a bar that is to size is only faced
    ]


def _end(t: Turning, id: str, up: str, at: tuple[float, float], title: str, measured: str) -> Setup:
    ctx, length = t.ctx, t.ctx.blank.length_mm
    face = Move(
        id=f"{id}.face",
        words=f"Face till it is {ctx.say(length)} over the ends" if measured else "Face the end clean",
        positions=(ctx.at("Z", []),),
        strokes=(Stroke(((t.stock / 2 + BEFORE_MM, 0.0, 0.0), (0.0, 0.0, 0.0))),),
        zeroes="Z",
        lock="carriage",
        asked=asked("length", "caliper over the ends", length) if measured else None,
        feature="length" if measured else "free end",
    )
    centre = Move(
        id=f"{id}.centre",
        words="Centre-drill it, small, to the same depth as the other end: its hole stays in it",
        lock="tailstock",
        feature="free end",
    )
    return ctx.setup(
        id,
        title,
        Lie(up=up, away="B", zero=(at[0], 0.0, -ctx.blank.round_mm / 2)),
        [
            t.operation("Face", "facing tool", TURNING_TOOL, (face,)),
            Operation(title="Centre", tool="centre drill in the tailstock chuck", moves=(centre,)),
        ],
        holding="in the chuck, standing out a little; it need not run true: the centres decide",
        datum="Z zero on the faced end, − toward the chuck",
        zeroes=(Zero(axis="Z", touches="the faced end", tool="the facing tool", reads_mm=0.0),),
        fixture="chuck",
        stands="is turned in the lathe",
        each=True,
        cautions=("Take the chuck key out before the spindle turns.",),
    )


def _run(t: Turning, id: str, up: str, at: tuple[float, float], title: str, steps: list[Step]) -> Setup:
    """Everything that is turned from one end, the dog on the other."""
    ctx = t.ctx
    z0 = Move(
        id=f"{id}.z",
        words="Touch the end with the turning tool: Z zero is the face",
        positions=(ctx.at("Z", []),),
        zeroes="Z",
        lock="carriage",
    )
    outsides = sorted((s for s in steps if isinstance(s, TurnedPart)), key=lambda s: -s.size_mm)
    operations = [t.operation("Set Z", "turning tool", TURNING_TOOL, (z0,)), t.touched(f"{id}.zero", t.stock)]
    size = t.stock
    for step in outsides:
        found = t.outside(step, size)
        if found is not None:
            operations.append(found)
        size = min(size, step.size_mm)
    operations += t.after([s for s in steps if isinstance(s, TurnedTaper | TurnedGroove | TurnedThread | TurnedKnurl)])
    return ctx.setup(
        id,
        title,
        Lie(up=up, away="B", zero=(at[0], 0.0, -ctx.blank.round_mm / 2)),
        operations,
        holding=(
            f"between centres, the dog on the {'other' if id == 'turn' else 'finished'} end"
            + ("" if id == "turn" else ", a strip of brass under it")
        ),
        datum=f"Z zero on the faced end, − toward the headstock; the cross-slide reads the {ctx.machine.dial_reads}",
        zeroes=(
            Zero(axis="Z", touches="the faced end", tool="the turning tool", reads_mm=0.0),
            Zero(axis="X", touches="the outside as measured", tool="the turning tool", reads_mm=t.across_reads(t.stock)),
        ),
        fixture="chuck",
        stands="is turned in the lathe",
        each=True,
        cautions=_CAUTIONS,
    )
