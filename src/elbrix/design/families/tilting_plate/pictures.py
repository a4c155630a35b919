"""A tilting plate drawn: tilted in the vise as far as is wanted, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.tilting_plate.sizes import TiltingPlateSizes
from elbrix.design.moving import spots
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box


def profile(s: TiltingPlateSizes) -> tuple[Point, ...]:
    """The end: y and z from the underside, counter-clockwise, with the notch."""
    n = s.notch / 2
    return (
        (-s.front, 0),
        (-n, 0),
        (-n, s.notch_depth),
        (n, s.notch_depth),
        (n, 0),
        (s.back, 0),
        (s.back, s.thickness),
        (-s.front, s.thickness),
    )


def in_place(s: TiltingPlateSizes) -> Scene:
    """From the end of the jaws, front tilted down; the level plate and its limits thin."""
    wanted = s.v.number("tilt")
    tilt = math.radians(min(wanted, s.front_down))
    c, n = math.cos(tilt), math.sin(tilt)

    def at(y: float, z: float) -> Point:
        z += s.drop
        return (y * c - z * n, y * n + z * c)

    ring = tuple(at(y, z) for y, z in profile(s))
    jaws = s.hosts[:2]
    bed = jaws[0][0][1]
    r, t = s.bar / 2, s.v.number("jaw_thickness")
    found: list[Element] = [Path(j, Style.SURROUNDINGS_SECTION, "vise", closed=True) for j in jaws]
    wide = r + t + 1.6 * s.bar
    found.append(box(-wide, bed - 12, wide, bed, Style.SURROUNDINGS_SECTION, "vise"))
    found.append(Path(tuple((y, z + s.drop) for y, z in profile(s)), Style.THIN, "plate", closed=True))
    disc = tuple(Arc((0, 0), r).points(40)[:-1])
    found += [
        Path(disc, Style.BODY, "bar", closed=True),
        Arc((0, 0), r, feature="bar"),
        Path(ring, Style.BODY, "plate", closed=True),
        Path(ring, Style.VISIBLE, "plate", closed=True),
    ]
    b = s.screws[0]
    top, floor = s.thickness, s.thickness - b.bore_depth
    found += [Line(at(k * b.bore / 2, top), at(k * b.bore / 2, floor), Style.HIDDEN, "screws") for k in (-1, 1)]
    found += [Line(at(k * b.drill / 2, floor), at(k * b.drill / 2, s.notch_depth), Style.HIDDEN, "screws") for k in (-1, 1)]
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
        Note((-wide, bed + 0.35 * s.bar), "front to {value}", feature="tilt", figure="front_down"),
        Note((r + t + 3, bed + 0.35 * s.bar), "back to {value}", feature="tilt", figure="back_down"),
    ]
    dims = (
        Dimension(
            "tilt",
            (0, 0),
            (1.02 * far * math.cos(tilt / 2), far * math.sin(tilt / 2)),
            Side.AT,
            value_mm=wanted,
            text=f"{wanted:g}°",
            entry="tilt",
            feature="tilt",
            order=0,
        ),
        Dimension(
            "bar_diameter", (-r, bed - 12), (r, bed - 12), Side.BELOW, prefix="Ø", entry="bar_diameter", feature="bar", order=1
        ),
    )
    return Scene("in place", "In the vise, tilted, from the jaws' end", tuple(found), dims)


def front(s: TiltingPlateSizes) -> Scene:
    """The plate from its front."""
    el = s.length / 2
    found: list[Element] = [
        box(-el, 0, el, s.thickness, Style.BODY, "plate"),
        box(-el, 0, el, s.thickness, Style.VISIBLE, "plate"),
        Line((-el, s.notch_depth), (el, s.notch_depth), Style.HIDDEN, "notch_width"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.x)
    dims = (
        Dimension("thickness", (el, 0), (el, s.thickness), Side.RIGHT, entry="thickness", feature="plate"),
        Dimension("length", (-el, 0), (el, 0), Side.BELOW, entry="length", feature="plate"),
    )
    handle = Handle(
        "thickness",
        (-el, s.thickness),
        (el, s.thickness),
        (0.0, 1.0),
        1.0,
        1.0,
        math.ceil(s.thickness - s.floor + 1),
        80.0,
        "head and notch need it",
        "heavier than it need be",
        "plate",
        value=s.thickness,
    )
    return Scene("front", "Front", tuple(found), dims, (handle,))


def top(s: TiltingPlateSizes) -> Scene:
    """The work face."""
    el = s.length / 2
    found: list[Element] = [
        box(-el, -s.front, el, s.back, Style.BODY, "plate"),
        box(-el, -s.front, el, s.back, Style.VISIBLE, "plate"),
        *(Line((-el, k * s.notch / 2), (el, k * s.notch / 2), Style.HIDDEN, "notch_width") for k in (-1, 1)),
    ]
    found += [
        *circles(s.holes),
        Line((-el - 4, 0), (el + 4, 0), Style.CENTRE),
        Line((0, -s.front - 4), (0, s.back + 4), Style.CENTRE),
    ]
    a = s.v.number("screw_spacing") / 2
    dims = (
        Dimension("front_length", (-el, -s.front), (-el, 0), Side.LEFT, entry="front_length", feature="plate"),
        Dimension("rear_length", (-el, 0), (-el, s.back), Side.LEFT, entry="rear_length", feature="plate"),
        Dimension("screw_spacing", (-a, s.back), (a, s.back), Side.ABOVE, entry="screw_spacing", feature="screws"),
        Dimension("length", (-el, -s.front), (el, -s.front), Side.BELOW, entry="length", feature="plate"),
    )
    most = 400.0
    handles = (
        Handle(
            "rear_length",
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
            "front_length",
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


def side(s: TiltingPlateSizes) -> Scene:
    """The end, with the notch."""
    ring = profile(s)
    found: list[Element] = [
        Path(ring, Style.BODY, "plate", closed=True),
        Path(ring, Style.VISIBLE, "plate", closed=True),
        *hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.y),
    ]
    dims = (
        Dimension("notch_width", (-s.notch / 2, 0), (s.notch / 2, 0), Side.BELOW, entry="notch_width", feature="notch_width"),
        Dimension("notch_depth", (s.back, 0), (s.back, s.notch_depth), Side.RIGHT, entry="notch_depth", feature="notch_width"),
    )
    return Scene("side", "Right end", tuple(found), dims)
