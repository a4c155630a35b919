"""A curved T-nut drawn: in its slot from above, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.families.ring_nut.sizes import RingNutSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box


def _arcs(s: RingNutSizes, width: float, style: Style, feature: str) -> list[Element]:
    """Both walls of a width, and its straight ends."""
    h, centre = s.length / 2, (0.0, -s.radius)
    found: list[Element] = []
    for r in (s.inner(width), s.outer(width)):
        half = math.degrees(math.asin(min(1.0, h / r)))
        found.append(Arc(centre, r, 90 - half, 90 + half, style, feature))
    for k in (-1, 1):
        found.append(Line((k * h, s.y_on(s.inner(width), h)), (k * h, s.y_on(s.outer(width), h)), style, feature))
    return found


def _filled(s: RingNutSizes, width: float) -> tuple[Point, ...]:
    """Its outline as a polygon, for the fill."""
    h, n = s.length / 2, 24
    xs = [h * (2 * i / n - 1) for i in range(n + 1)]
    return (*((x, s.y_on(s.inner(width), x)) for x in xs), *((x, s.y_on(s.outer(width), x)) for x in reversed(xs)))


def in_place(s: RingNutSizes) -> Scene:
    """The table from above: the ring slot round its centre, as much of it as is near."""
    centre, span = (0.0, -s.radius), min(80.0, math.degrees(math.asin(min(1.0, 1.4 * s.length / 2 / s.radius))) + 12)
    found: list[Element] = []
    for width, style in ((s.neck.min, Style.SURROUNDINGS), (s.head.min, Style.HIDDEN)):
        found += [Arc(centre, r, 90 - span, 90 + span, style, "slot") for r in (s.radius - width / 2, s.radius + width / 2)]
    found.append(Arc(centre, s.radius, 90 - span, 90 + span, Style.CENTRE, "slot"))
    if s.v.number("entry_hole"):
        found.append(
            Arc(
                (s.radius * math.sin(math.radians(span)), s.radius * math.cos(math.radians(span)) - s.radius),
                s.v.number("entry_hole") / 2,
                style=Style.SURROUNDINGS,
                feature="entry",
            )
        )
    found += [
        Path(_filled(s, s.nut_head), Style.BODY, "head_part", closed=True),
        *_arcs(s, s.nut_head, Style.HIDDEN, "head_part"),
        *_arcs(s, s.nut_neck, Style.VISIBLE, "neck"),
        *_thread(s),
        Note((0.0, s.low_y - 14), "R {value} to the table's centre", quiet=False, align=0, feature="slot", figure="ring_radius"),
    ]
    return Scene("in place", "In its ring slot, from above", tuple(found), _top_sizes(s), _handles(s))


def _thread(s: RingNutSizes) -> list[Element]:
    return [
        Arc((0, 0), s.thread.tap_drill[1] / 2, style=Style.VISIBLE, feature="thread"),
        Arc((0, 0), s.thread.major_mm / 2, 100, 370, Style.THREAD, "thread"),
        Line((-s.thread.major_mm, 0), (s.thread.major_mm, 0), Style.CENTRE),
        Line((0, -s.thread.major_mm), (0, s.thread.major_mm), Style.CENTRE),
    ]


def _top_sizes(s: RingNutSizes) -> tuple[Dimension, ...]:
    h, high = s.length / 2, s.high_y
    return (
        Dimension("length", (-h, high), (h, high), Side.ABOVE, entry="length", feature="length", order=0),
        Dimension(
            "neck_width",
            (h, s.inner(s.nut_neck) - s.radius),
            (h, s.outer(s.nut_neck) - s.radius),
            Side.RIGHT,
            entry="neck_width",
            feature="neck",
            order=1,
        ),
        Dimension(
            "head_width",
            (-h, s.inner(s.nut_head) - s.radius),
            (-h, s.outer(s.nut_head) - s.radius),
            Side.LEFT,
            entry="head_width",
            feature="head_part",
            order=2,
        ),
    )


def _handles(s: RingNutSizes) -> tuple[Handle, ...]:
    h = s.length / 2
    most = 2 * (s.inner(s.nut_head) - 1.5)
    return tuple(
        Handle(
            "length",
            (k * h, s.y_on(s.inner(s.nut_head), h)),
            (k * h, s.y_on(s.outer(s.nut_head), h)),
            (k, 0.0),
            2.0,
            1.0,
            4.0,
            min(300.0, max(s.length, math.floor(most))),
            "it has to hold a thread",
            "more than half the ring",
            "length",
            value=s.length,
        )
        for k in (-1.0, 1.0)
    )


def top(s: RingNutSizes) -> Scene:
    found: list[Element] = [
        Path(_filled(s, s.nut_head), Style.BODY, "head_part", closed=True),
        *_arcs(s, s.nut_head, Style.VISIBLE, "head_part"),
        *_arcs(s, s.nut_neck, Style.VISIBLE, "neck"),
        *_thread(s),
    ]
    return Scene("top", "Top", tuple(found), (*_top_sizes(s), *_radii(s)), _handles(s))


def _radii(s: RingNutSizes) -> tuple[Dimension, ...]:
    """The four radii, by their numbers: where they stand is the middle of each wall."""
    low = s.low_y
    return (
        Dimension("bar_width", (s.length / 2, low), (s.length / 2, s.high_y), Side.RIGHT, feature="head_part", step_mm=0.1),
        Dimension("hole_y", (0, low), (0, 0), Side.LEFT, feature="thread", step_mm=0.01),
    )


def front(s: RingNutSizes) -> Scene:
    """From outside the ring: its ends, the ledge and the thread."""
    h, t = s.length / 2, s.total
    r, drill = s.thread.major_mm / 2, s.thread.tap_drill[1] / 2
    found: list[Element] = [
        box(-h, 0, h, t, Style.BODY, "neck"),
        box(-h, 0, h, t, Style.VISIBLE, "neck"),
        Line((-h, s.head_height), (h, s.head_height), Style.VISIBLE, "head_part"),
        *(Line((k * drill, 0), (k * drill, t), Style.HIDDEN, "thread") for k in (-1, 1)),
        *(Line((k * r, t - s.full_thread), (k * r, t), Style.THREAD, "thread") for k in (-1, 1)),
        Line((0, -3), (0, t + 3), Style.CENTRE),
    ]
    dims = (
        Dimension("length", (-h, 0), (h, 0), Side.BELOW, entry="length", feature="length"),
        Dimension("head_height", (h, 0), (h, s.head_height), Side.RIGHT, entry="head_height", feature="head_part"),
        Dimension("total", (-h, 0), (-h, t), Side.LEFT, feature="neck", step_mm=0.1),
        Dimension("thread", (-r, t), (r, t), Side.ABOVE, text=s.thread.shown, entry="thread", feature="thread"),
    )
    return Scene("front", "Front", tuple(found), dims)


def side(s: RingNutSizes) -> Scene:
    """From the right: the end's section, the rest of the curve behind it."""
    h, t, k = s.length / 2, s.total, s.head_height
    ends = {w: (s.y_on(s.inner(w), h), s.y_on(s.outer(w), h)) for w in (s.nut_neck, s.nut_head)}
    (a, b), (c, d) = ends[s.nut_head], ends[s.nut_neck]
    ring = ((a, 0), (b, 0), (b, k), (d, k), (d, t), (c, t), (c, k), (a, k))
    far_head, far_neck = s.high_y, s.outer(s.nut_neck) - s.radius
    found: list[Element] = [
        Path(ring, Style.BODY, "head_part", closed=True),
        Path(ring, Style.VISIBLE, "head_part", closed=True),
        Path(((b, 0), (far_head, 0), (far_head, k), (d, k)), Style.VISIBLE, "head_part"),
        Path(((far_neck, k), (far_neck, t), (d, t)), Style.VISIBLE, "neck"),
    ]
    dims = (
        Dimension("neck_height", (far_neck, k), (far_neck, t), Side.RIGHT, entry="neck_height", feature="neck"),
        Dimension("head_height", (a, 0), (a, k), Side.LEFT, entry="head_height", feature="head_part"),
    )
    return Scene("side", "Right end", tuple(found), dims)
