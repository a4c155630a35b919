"""A tilting plate drawn: tilted in the vise as far as is wanted, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.tilting_plate.sizes import Sizes
from elbrix.design.moving import spots
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Path, Point, Scene, Side, Style, Words, box


def profile(s: Sizes) -> tuple[Point, ...]:
    """The end: y and z from the underside, counter-clockwise, with the notch."""
    n = s.notch / 2
    return (
        (-s.front, 0),
        (-n, 0),
        (-n, s.notch_deep),
        (n, s.notch_deep),
        (n, 0),
        (s.back, 0),
        (s.back, s.thick),
        (-s.front, s.thick),
    )


def in_place(s: Sizes) -> Scene:
    """From the end of the jaws, front tilted down; the level plate and its limits thin."""
    wanted = s.v.number("wanted")
    tilt = math.radians(min(wanted, s.front_down))
    c, n = math.cos(tilt), math.sin(tilt)

    def at(y: float, z: float) -> Point:
        z += s.drop
        return (y * c - z * n, y * n + z * c)

    ring = tuple(at(y, z) for y, z in profile(s))
    jaws = s.hosts[:2]
    bed = jaws[0][0][1]
    r, t = s.bar / 2, s.v.number("jaw_thick")
    found: list[Element] = [Path(j, Style.HOST_SECTION, "vise", closed=True) for j in jaws]
    wide = r + t + 1.6 * s.bar
    found.append(box(-wide, bed - 12, wide, bed, Style.HOST_SECTION, "vise"))
    found.append(Path(tuple((y, z + s.drop) for y, z in profile(s)), Style.THIN, "plate", closed=True))
    disc = tuple(Arc((0, 0), r).points(40)[:-1])
    found += [
        Path(disc, Style.BODY, "bar", closed=True),
        Arc((0, 0), r, feature="bar"),
        Path(ring, Style.BODY, "plate", closed=True),
        Path(ring, Style.VISIBLE, "plate", closed=True),
    ]
    b = s.screws[0]
    top, floor = s.thick, s.thick - b.bore_deep
    found += [Line(at(k * b.bore / 2, top), at(k * b.bore / 2, floor), Style.HIDDEN, "screws") for k in (-1, 1)]
    found += [Line(at(k * b.drill / 2, floor), at(k * b.drill / 2, s.notch_deep), Style.HIDDEN, "screws") for k in (-1, 1)]
    d = s.screw.major_mm / 2
    found += [Line(at(k * d, s.sinks), at(k * d, s.sinks - s.engaged), Style.THREAD, "screws") for k in (-1, 1)]
    found.append(Line(at(0, top + 5), at(0, s.sinks - s.bar_drilled - 4), Style.CENTRE, "screws"))
    far = max(s.back, r + t) + 12
    found += [
        Line((0, 0), (far, 0), Style.CENTRE),
        Line((0, 0), (far * c, far * n), Style.CENTRE),
        Arc((0, 0), 0.8 * far, 0, math.degrees(tilt), Style.CENTRE, "tilt"),
    ]
    found += [
        Words((-wide, bed + 0.35 * s.bar), "front to {value}", feature="tilt", figure="front_down"),
        Words((r + t + 3, bed + 0.35 * s.bar), "back to {value}", feature="tilt", figure="back_down"),
    ]
    dims = (
        Dimension(
            "wanted",
            (0, 0),
            (1.02 * far * math.cos(tilt / 2), far * math.sin(tilt / 2)),
            Side.AT,
            value_mm=wanted,
            text=f"{wanted:g}°",
            entry="wanted",
            feature="tilt",
            order=0,
        ),
        Dimension("bar_size", (-r, bed - 12), (r, bed - 12), Side.BELOW, prefix="Ø", entry="bar_size", feature="bar", order=1),
    )
    return Scene("in place", "In the vise, tilted, from the jaws' end", tuple(found), dims)


def front(s: Sizes) -> Scene:
    """The plate from its front."""
    el = s.length / 2
    found: list[Element] = [
        box(-el, 0, el, s.thick, Style.BODY, "plate"),
        box(-el, 0, el, s.thick, Style.VISIBLE, "plate"),
        Line((-el, s.notch_deep), (el, s.notch_deep), Style.HIDDEN, "notch"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thick), lambda p, z: (p, z), lambda h: h.x)
    dims = (
        Dimension("thickness", (el, 0), (el, s.thick), Side.RIGHT, entry="thickness", feature="plate"),
        Dimension("length", (-el, 0), (el, 0), Side.BELOW, entry="length", feature="plate"),
    )
    handle = Handle(
        "thickness",
        (-el, s.thick),
        (el, s.thick),
        (0.0, 1.0),
        1.0,
        1.0,
        math.ceil(s.thick - s.floor + 1),
        80.0,
        "head and notch need it",
        "heavier than it need be",
        "plate",
        value=s.thick,
    )
    return Scene("front", "Front", tuple(found), dims, (handle,))


def top(s: Sizes) -> Scene:
    """The work face."""
    el = s.length / 2
    found: list[Element] = [
        box(-el, -s.front, el, s.back, Style.BODY, "plate"),
        box(-el, -s.front, el, s.back, Style.VISIBLE, "plate"),
        *(Line((-el, k * s.notch / 2), (el, k * s.notch / 2), Style.HIDDEN, "notch") for k in (-1, 1)),
    ]
    found += [
        *circles(s.holes),
        Line((-el - 4, 0), (el + 4, 0), Style.CENTRE),
        Line((0, -s.front - 4), (0, s.back + 4), Style.CENTRE),
    ]
    a = s.v.number("screws_apart") / 2
    dims = (
        Dimension("front", (-el, -s.front), (-el, 0), Side.LEFT, entry="front", feature="plate"),
        Dimension("back", (-el, 0), (-el, s.back), Side.LEFT, entry="back", feature="plate"),
        Dimension("screws_apart", (-a, s.back), (a, s.back), Side.ABOVE, entry="screws_apart", feature="screws"),
        Dimension("length", (-el, -s.front), (el, -s.front), Side.BELOW, entry="length", feature="plate"),
    )
    most = 400.0
    handles = (
        Handle(
            "back",
            (-el, s.back),
            (el, s.back),
            (0.0, 1.0),
            1.0,
            1.0,
            math.ceil(s.notch / 2 + 3),
            most,
            "the notch is there",
            "it touches the vise sooner",
            "plate",
            value=s.back,
        ),
        Handle(
            "front",
            (-el, -s.front),
            (el, -s.front),
            (0.0, -1.0),
            1.0,
            1.0,
            math.ceil(s.notch / 2 + 3),
            most,
            "the notch is there",
            "it touches the vise sooner",
            "plate",
            value=s.front,
        ),
    )
    spotted = () if s.v.word("pattern").startswith("grid") else spots(s.work_holes, "pattern", s.holes)
    return Scene("top", "Top", tuple(found), dims, handles, spotted)


def side(s: Sizes) -> Scene:
    """The end, with the notch."""
    ring = profile(s)
    found: list[Element] = [
        Path(ring, Style.BODY, "plate", closed=True),
        Path(ring, Style.VISIBLE, "plate", closed=True),
        *hidden_lines(s.holes, Span(0.0, s.thick), lambda p, z: (p, z), lambda h: h.y),
    ]
    dims = (
        Dimension("notch", (-s.notch / 2, 0), (s.notch / 2, 0), Side.BELOW, entry="notch", feature="notch"),
        Dimension("notch_deep", (s.back, 0), (s.back, s.notch_deep), Side.RIGHT, entry="notch_deep", feature="notch"),
    )
    return Scene("side", "Right end", tuple(found), dims)
