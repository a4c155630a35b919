"""The schools of a shop: where the datum is, how sides are touched, how close holes are made, climbing. Each with its reason."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from elbrix.making.context import Context
from elbrix.making.options import Options
from elbrix.making.plan import HALF_WIDTH, Move, Position, Setup, Term
from elbrix.results.length_text import length

#: A finishing drill leaves a hole so much over its own size, least and most, mm. Source: shop practice.
DRILL_OVER_MM: Final = (0.02, 0.06)
#: (value, words: reason) of each; what stands before the colon is the choice.
DATUM: Final = (
    ("middle", "Y from the middle: an error of the width is halved on both sides"),
    ("corner", "Y from the near side: one touch, and the drawing's numbers from one corner"),
)
HOLES: Final = (
    ("ream", "holes reamed: round, straight and to size, for pins"),
    ("two drills", f"two drills: quick, {length(DRILL_OVER_MM[0])} to {length(DRILL_OVER_MM[1])} over size, for slip fits only"),
)
CLIMB: Final = (
    ("", "climb by the machine: its backlash decides"),
    ("no", "never climb: an old screw would let the table jump"),
    ("finish only", "climb at the last cut: a better face, little force"),
    ("yes", "climb: cooler, cleaner, wants a screw without backlash"),
)
#: What a shop is used to, and wants again in its next plan; the machine, the bar and the cutter are the job's.
HABITS: Final = ("style", "passes", "spring_pass", "lathe", "datum", "holes", "climb", "touch_off")


def habits(options: Options, of: Options) -> Options:
    """Options with another's habits."""
    return replace(options, **{name: getattr(of, name) for name in HABITS})


def from_the_corner(ctx: Context, setup: Setup) -> Setup:
    """A setup counted from the middle, counted from its near side instead: every number, every stroke and the zero itself.

    Only where Y is zero in the middle of what lies there; a turned, tilted or round piece keeps its own.
    """
    y = next((z for z in setup.zeroes if z.axis == "Y"), None)
    if ctx.options.datum != "corner" or y is None or setup.lie is None or setup.lie.tilt_deg or y.half_mm <= 0:
        return setup
    half = y.half_mm
    machine = next((m for m in ctx.shop.machines if m.id == setup.machine_id), ctx.machine)
    here = replace(ctx, machine=machine)

    def position(p: Position, *, touch: bool) -> Position:
        if p.axis != "Y":
            return p
        terms = [t for t in p.terms if not (touch and t.words == HALF_WIDTH)]
        if not touch:
            terms.append(Term("half the width, from the near side", half))
        return replace(here.at("Y", terms, p.key), per_mm=p.per_mm)

    def move(m: Move) -> Move:
        touch = m.zeroes == "Y"
        strokes = tuple(replace(s, path=tuple((a, b + half, c) for a, b, c in s.path)) for s in m.strokes)
        return replace(m, positions=tuple(position(p, touch=touch) for p in m.positions), strokes=strokes)

    lie = setup.lie
    # The zero moves toward the near side: against the way the face that is away looks.
    near = lie.turn[1]
    at = tuple(z - half * n for z, n in zip(lie.zero, near, strict=True))
    moved = replace(lie, zero=at)
    reads = y.reads_mm + half
    return replace(
        setup,
        lie=moved,
        pose=moved.pose(ctx.frame) if ctx.frame else None,
        zeroes=tuple(replace(z, reads_mm=reads, half_mm=0.0) if z.axis == "Y" else z for z in setup.zeroes),
        operations=tuple(replace(o, moves=tuple(move(m) for m in o.moves)) for o in setup.operations),
        datum=setup.datum.replace("in the middle of the width", "at the near side").replace(
            "Y zero in the middle", "Y zero at the near side"
        ),
    )
