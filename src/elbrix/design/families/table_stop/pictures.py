"""A table stop drawn: in its slot with the work against it, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.table_stop.sizes import Sizes
from elbrix.drawing.scene import Dimension, Element, Handle, Line, Path, Point, Scene, Side, Style, Words, box


def profile(s: Sizes) -> tuple[Point, ...]:
    """The end, counter-clockwise; z = 0 at the table."""
    w, t = s.width / 2, s.tongue / 2
    return ((-t, -s.tongue_high), (t, -s.tongue_high), (t, 0), (w, 0), (w, s.height), (-w, s.height), (-w, 0), (-t, 0))


def in_place(s: Sizes) -> Scene:
    """From the end of the slot, work against its side."""
    a, t, w = s.neck.min / 2, s.lip.min, s.width / 2
    out, deep = w + 34, 2.1 * t
    wide = 1.7 * a
    table = (
        (-out, 0),
        (-a, 0),
        (-a, -t),
        (-wide, -t),
        (-wide, -deep),
        (wide, -deep),
        (wide, -t),
        (a, -t),
        (a, 0),
        (out, 0),
        (out, -deep - 6),
        (-out, -deep - 6),
    )
    found: list[Element] = [Path(table, Style.HOST_SECTION, "table", closed=True)]
    if not s.along:
        found += [
            box(w, 0, out, max(s.height * 1.2, s.v.number("meets") * 1.4), Style.HOST, "work"),
            Line((out, s.v.number("meets")), (w + 2, s.v.number("meets")), Style.TOOL, "face"),
            Path(
                ((w + 5, s.v.number("meets") + 2), (w + 1, s.v.number("meets")), (w + 5, s.v.number("meets") - 2)),
                Style.TOOL,
                "face",
            ),
        ]
    found += [
        Path(profile(s), Style.BODY, "block", closed=True),
        Path(profile(s), Style.VISIBLE, "block", closed=True),
        *_bolt(s),
        Words((-out, -deep - 11), "{value} play", leader=(-a, -0.4 * t), feature="tongue", figure="play"),
    ]
    dims = (
        Dimension(
            "tongue",
            (-s.tongue / 2, -deep - 6),
            (s.tongue / 2, -deep - 6),
            Side.BELOW,
            entry="tongue",
            feature="tongue",
            step_mm=0.01,
            order=0,
        ),
        Dimension("width", (-w, s.height), (w, s.height), Side.ABOVE, entry="width", feature="block", order=1),
        Dimension("height", (-out, 0), (-out, s.height), Side.LEFT, entry="height", feature="block", order=2),
        Dimension("meets", (out, 0), (out, s.v.number("meets")), Side.RIGHT, entry="meets", feature="face", order=3),
    )
    return Scene("in place", "In the slot, from its end", tuple(found), dims, _handles(s))


def _bolt(s: Sizes) -> list[Element]:
    return hidden_lines(s.holes, Span(-s.tongue_high, s.height), lambda p, z: (p, z), lambda h: h.x)


def _handles(s: Sizes) -> tuple[Handle, ...]:
    w = s.width / 2
    return (
        *(
            Handle(
                "width",
                (k * w, 0),
                (k * w, s.height),
                (k, 0.0),
                2.0,
                1.0,
                math.ceil(s.tongue + 4),
                200.0,
                "it rests on the table beside the tongue",
                "wider than it need be",
                "block",
                value=s.width,
            )
            for k in (-1.0, 1.0)
        ),
        Handle(
            "height",
            (-w, s.height),
            (w, s.height),
            (0.0, 1.0),
            1.0,
            0.5,
            math.ceil(s.holes[0].bore_deep + 2),
            150.0,
            "the bolt's head is sunk in it",
            "in the cutter's way",
            "block",
            value=s.height,
        ),
    )


def front(s: Sizes) -> Scene:
    w = s.width / 2
    found: list[Element] = [
        Path(profile(s), Style.BODY, "block", closed=True),
        Path(profile(s), Style.VISIBLE, "block", closed=True),
        *_bolt(s),
    ]
    dims = (
        Dimension(
            "tongue",
            (-s.tongue / 2, -s.tongue_high),
            (s.tongue / 2, -s.tongue_high),
            Side.BELOW,
            entry="tongue",
            feature="tongue",
            step_mm=0.01,
        ),
        Dimension("tongue_high", (w, -s.tongue_high), (w, 0), Side.RIGHT, entry="tongue_high", feature="tongue"),
        Dimension("height", (-w, 0), (-w, s.height), Side.LEFT, entry="height", feature="block"),
        Dimension("width", (-w, s.height), (w, s.height), Side.ABOVE, entry="width", feature="block"),
    )
    return Scene("front", "Front", tuple(found), dims, _handles(s))


def top(s: Sizes) -> Scene:
    w, y = s.width / 2, s.length / 2
    found: list[Element] = [
        box(-w, -y, w, y, Style.BODY, "block"),
        box(-w, -y, w, y, Style.VISIBLE, "block"),
        *circles(s.holes),
        *(Line((k * s.tongue / 2, -y), (k * s.tongue / 2, y), Style.HIDDEN, "tongue") for k in (-1, 1)),
    ]
    handle = Handle(
        "length",
        (-w, y),
        (w, y),
        (0.0, 1.0),
        2.0,
        1.0,
        math.ceil(s.holes[0].bore + 4),
        300.0,
        "the bolt needs metal round it",
        "longer than it need be",
        "block",
        value=s.length,
    )
    return Scene(
        "top",
        "Top",
        tuple(found),
        (Dimension("length", (-w, -y), (-w, y), Side.LEFT, entry="length", feature="block"),),
        (handle,),
    )


def side(s: Sizes) -> Scene:
    y = s.length / 2
    found: list[Element] = [
        box(-y, -s.tongue_high, y, s.height, Style.VISIBLE, "block"),
        Line((-y, 0), (y, 0), Style.VISIBLE, "tongue"),
        *hidden_lines(s.holes, Span(-s.tongue_high, s.height), lambda p, z: (p, z), lambda h: h.y),
    ]
    return Scene("side", "Right end", tuple(found))
