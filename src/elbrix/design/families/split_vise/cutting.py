"""The solid of a part of a split vise, and what is cut to make it. mm, in the family's frame."""

from __future__ import annotations

from elbrix.design.bores import Span, pattern
from elbrix.design.families.split_vise.sizes import SplitViseSizes
from elbrix.design.work import Blank, Groove, HandOperation, HolePattern, PatternHole, Shoulder, Step, Work
from elbrix.results.length_text import length
from elbrix.solids.recipe import Cut, Prism, Recipe


def solid(s: SplitViseSizes) -> Recipe:
    """The drawn part."""
    if s.part == "jaw":
        w = s.width / 2
        plate = Prism(((-w, 0.0), (w, 0.0), (w, s.plate), (-w, s.plate)), 0.0, s.height, "xy")
        return Cut(plate, tuple(Span(0.0, s.plate, "xz").tools(s.plate_holes)))
    if s.part == "rail":
        w, h = s.rail_width / 2, s.rail_length / 2
        bar = Prism(((-w, -h), (w, -h), (w, h), (-w, h)), 0.0, s.rail_height, "xy")
        return Cut(bar, tuple(Span(0.0, s.rail_height).tools(s.rail_holes)))
    body = Prism(s.end, -s.width / 2, s.width / 2, "yz")
    tools: list[Recipe] = list(Span(0.0, s.foot).tools(s.foot_holes))
    if s.part == "screw":
        tools += Span(0.0, s.upright, "xz").tools(s.face_holes)
    if not s.rails:
        k = s.key / 2
        tools.append(Prism(((-k, -1.0), (k, -1.0), (k, s.long + 1.0), (-k, s.long + 1.0)), -1.0, s.seat, "xy"))
    return Cut(body, tuple(tools))


def work(s: SplitViseSizes) -> Work:
    """What is done to make the drawn part."""
    steps = {"jaw": _jaw, "rail": _rail}.get(s.part, _half)(s)
    long, wide, high = s.block
    pieces = int(s.v.number("pieces")) * (2 if s.part == "rail" else 1)
    along, up = {"jaw": ("+x", "+y"), "rail": ("+y", "+z")}.get(s.part, ("+x", "+z"))
    blank = Blank(width_mm=wide, height_mm=high, length_mm=long, pieces=pieces, material=s.v.word("material"), along=along, up=up)
    return Work(blank, tuple(steps), solid=solid(s))


def _half(s: SplitViseSizes) -> list[Step]:
    steps: list[Step] = []
    if foot := pattern(s.foot_holes, s.foot, "Holes of the foot", x0=-s.width / 2, y0=s.long / 2, below=True, id="foot"):
        steps.append(foot)
    steps.insert(
        0,
        Shoulder(
            name="Foot",
            width_mm=s.upright,
            depth_mm=s.height - s.foot,
            off_mm=s.upright / 2 - s.long / 2,
            feature="halves",
            id="step",
            max_corner_mm=1.0,
        ),
    )
    if not s.rails:
        steps.append(
            Groove(
                name="Keyway",
                width_mm=s.key,
                depth_mm=s.seat,
                at_mm=s.width / 2,
                across=True,
                below=True,
                feature="keys",
                id="keyway",
                allowed_mm=0.005,
            )
        )
    if s.part == "screw":
        steps.append(
            HandOperation(
                name="Guides from the jaw plate",
                words=(
                    "The jaw plate, finished and without its pins, clamped to the face, its edges in line: a pin"
                    f" Ø{length(s.guide)} in the spindle finds each guide hole of it, the numbers only bring you near. Two"
                    " holes by the dials of two set-ups never match closely enough for both pins to slide."
                ),
                tools=(f"pin Ø{s.guide:g}", "clamps"),
                check="The pin goes through the plate by hand over each hole before it is drilled.",
                first=True,
            )
        )
        # On D, with A away: X along the bar, Y up from the middle of its height.
        steps.append(
            HolePattern(
                name="Screw and guides",
                holes=tuple(
                    PatternHole(
                        h.x + s.width / 2, h.y - s.height / 2, thread=h.thread, drill_mm=h.drill, ream_mm=h.ream, limits=h.limits
                    )
                    for h in s.face_holes
                ),
                thickness_mm=s.upright,
                feature="screw",
                face="D",
                id="upright",
            )
        )
    stands = (
        "On the rails: dowels in, bolts tight, feeler between the faces."
        if s.rails
        else (
            f"Keys in, {length(s.key, 2)} or a hair less: stone them till they slide in the tightest place. Both halves pushed to"
            " the same side."
        )
    )
    last = " The other parts first: with this half the vise is whole and stands in Shop." if s.part == "screw" else ""
    steps.append(
        HandOperation(
            name="Fit",
            words=(
                f"Edges broken, faces stoned. {stands} Indicator along the jaw face, square to the slot; jaws shut on a bar:"
                f" both faces bear.{last}"
            ),
            tools=("oil stone", "indicator", "feeler gauges"),
            check="Shut on two strips of paper, high and low at both ends: all are held.",
        )
    )
    return steps


def _jaw(s: SplitViseSizes) -> list[Step]:
    # Seen from its back with its top away … the bar's +y is down: z counts the other way.
    holes = tuple(
        PatternHole(h.x + s.width / 2, s.height / 2 - h.y, drill_mm=h.drill, ream_mm=h.ream, depth_mm=h.depth, limits=h.limits)
        for h in s.plate_holes
    )
    return [
        HolePattern(name="Screw seat, guides", holes=holes, thickness_mm=s.plate, feature="guides", id="seat"),
        HandOperation(
            name="Guide pins",
            words=(
                f"Press two hardened pins Ø{length(s.guide)} in from the back, flush with the face or a hair under it:"
                " nothing may stand out to the work. They slide in the screw half without shake."
            ),
            tools=("arbor press", "oil stone"),
            caution="Pressing: a pin that is askew flies out. Eyes covered, hands clear.",
            check="The plate runs in and out by hand over its whole travel; nothing stands out of its face.",
        ),
    ]


def _rail(s: SplitViseSizes) -> list[Step]:
    holes = pattern(s.rail_holes, s.rail_height, "Holes of the rail", x0=-s.rail_length / 2, y0=0.0, along="y")
    assert holes is not None
    return [
        holes,
        HandOperation(
            name="Pair",
            words=(
                "Both rails stoned flat. Bolts to the table just tight, a half with its dowels on both, indicator along one rail,"
                " then tight. Dowels go in by hand: one that has to be driven tells of rails that are askew."
            ),
            tools=("oil stone", "indicator"),
            check="A half goes on at both ends and in the middle, dowels by hand.",
        ),
    ]
