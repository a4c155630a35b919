"""The sleeve of a depth stop: turned to the casting's uneven bore, drawn, cut from the lathe's numbers.

Turned about z; z = 0 is the casting's top, the part that is pressed in lies below.
"""

from __future__ import annotations

from elbrix.design.families.depth_stop.sizes import DepthStopSizes
from elbrix.design.family import Callout
from elbrix.design.work import Blank, HandOperation, TurnedBore, TurnedPart, TurnedTaper, Work
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Path, Point, Scene, Side, Style
from elbrix.results.length_text import length
from elbrix.solids.recipe import Cut, Recipe, Turned

#: Lead-in of the pressed end: along it, and on the radius; mm.
LEAD_LONG, LEAD_IN = 2.0, 0.25


def profile(s: DepthStopSizes) -> tuple[Point, ...]:
    """Half section of the outside, from the axis, upward: (radius, z)."""
    o, r, deep, high = s.out / 2, s.sleeve / 2, s.v.number("bore_depth"), s.v.number("sleeve_height")
    return ((0.0, -deep), (o - LEAD_IN, -deep), (o, -deep + LEAD_LONG), (o, 0.0), (r, 0.0), (r, high), (0.0, high))


def callouts(s: DepthStopSizes) -> tuple[Callout, ...]:
    low = -s.v.number("bore_depth")
    words = f"lead Ø{length(s.out - 2 * LEAD_IN, 3)} at the end, {length(LEAD_LONG)} long"
    return (Callout(words, "front", (s.out / 2 - LEAD_IN / 2, low + LEAD_LONG / 2)),)


def solid(s: DepthStopSizes) -> Recipe:
    low, high, r = -s.v.number("bore_depth") - 1, s.v.number("sleeve_height") + 1, s.v.number("sleeve_bore") / 2
    at = (0.0, 0.0, 0.0)
    return Cut(Turned(profile(s), at), (Turned(((0.0, low), (r, low), (r, high), (0.0, high)), at),))


def work(s: DepthStopSizes) -> Work:
    """Bored, then the pressed part in equal cuts that are measured, the guide for the slider after it, all in one chucking."""
    deep, high = s.v.number("bore_depth"), s.v.number("sleeve_height")
    steps = (
        TurnedBore(name="Bore", size_mm=s.v.number("sleeve_bore"), allowed_mm=0.1, feature="sleeve", id="sleeve_bore"),
        TurnedTaper(
            name="Lead",
            from_size_mm=s.out - 2 * LEAD_IN,
            to_size_mm=s.out,
            from_mm=0.0,
            to_mm=LEAD_LONG,
            feature="sleeve",
            id="lead",
        ),
        TurnedPart(name="Pressed part", size_mm=s.out, length_mm=deep, allowed_mm=0.003, feature="sleeve", id="pressed"),
        TurnedPart(
            name="Guide for the slider", size_mm=s.sleeve, length_mm=deep + high, allowed_mm=0.01, feature="sleeve", id="guide"
        ),
        HandOperation(
            name="Draw it in",
            words=(
                f"Measure the bore again first: {length(s.bore.min, 3)} to {length(s.bore.max, 3)}. A little oil,"
                " drawn in with a bolt and two washers till the shoulder seats, never hammered; square to the casting."
            ),
            tools=("draw bolt", "bore gauge"),
            check="A feeler finds no gap under its shoulder; the quill runs in it without touching.",
        ),
    )
    blank = Blank(
        width_mm=s.sleeve,
        height_mm=s.sleeve,
        round_mm=s.sleeve,
        length_mm=deep + high,
        material=s.v.word("material"),
        along="+z",
        up="+x",
    )
    return Work(blank, steps, solid=solid(s))


def _outline(s: DepthStopSizes) -> tuple[Point, ...]:
    right = [p for p in profile(s) if p[0] > 0]
    return (*right, *((-r, z) for r, z in reversed(right)))


def _body(s: DepthStopSizes) -> list[Element]:
    deep, high, i = s.v.number("bore_depth"), s.v.number("sleeve_height"), s.v.number("sleeve_bore") / 2
    o = s.out / 2
    return [
        Path(_outline(s), Style.BODY, "sleeve", closed=True),
        Path(_outline(s), Style.VISIBLE, "sleeve", closed=True),
        Line((-o, LEAD_LONG - deep), (o, LEAD_LONG - deep), Style.VISIBLE, "sleeve"),
        Line((-s.sleeve / 2, 0), (s.sleeve / 2, 0), Style.VISIBLE, "sleeve"),
        *(Line((k * i, -deep), (k * i, high), Style.HIDDEN, "sleeve") for k in (-1, 1)),
        Line((0, -deep - 4), (0, high + 4), Style.CENTRE),
    ]


def views(s: DepthStopSizes) -> tuple[Scene, Scene, Scene]:
    """Front, top and side of the sleeve."""
    deep, high = s.v.number("bore_depth"), s.v.number("sleeve_height")
    o, r, i = s.out / 2, s.sleeve / 2, s.v.number("sleeve_bore") / 2
    dims = (
        Dimension(
            "sleeve_pressed",
            (-o, -deep),
            (o, -deep),
            Side.BELOW,
            prefix="Ø",
            entry="sleeve_pressed",
            feature="sleeve",
            step_mm=0.001,
        ),
        Dimension("sleeve", (-r, high), (r, high), Side.ABOVE, prefix="Ø", entry="sleeve", feature="sleeve", step_mm=0.001),
        Dimension("bore_depth", (-o, -deep), (-o, 0), Side.LEFT, entry="bore_depth", feature="sleeve"),
        Dimension("sleeve_height", (r, 0), (r, high), Side.RIGHT, entry="sleeve_height", feature="sleeve"),
    )
    reach = 1.2 * r
    seen: list[Element] = [
        Arc((0, 0), r, style=Style.VISIBLE, feature="sleeve"),
        Arc((0, 0), o, style=Style.HIDDEN, feature="sleeve"),
        Arc((0, 0), i, style=Style.VISIBLE, feature="sleeve"),
        Line((-reach, 0), (reach, 0), Style.CENTRE),
        Line((0, -reach), (0, reach), Style.CENTRE),
    ]
    bore = Dimension("sleeve_bore", (-i, 0), (i, 0), Side.BELOW, prefix="Ø", entry="sleeve_bore", feature="sleeve", step_mm=0.1)
    return (
        Scene("front", "Front of the sleeve", tuple(_body(s)), dims),
        Scene("top", "Top", tuple(seen), (bore,)),
        Scene("side", "Right", tuple(_body(s))),
    )
