"""A table stop drawn: in its slot with the work against it, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.table_stop.sizes import TableStopSizes
from elbrix.drawing.scene import Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box


def profile(s: TableStopSizes) -> tuple[Point, ...]:
    """The end, counter-clockwise; z = 0 at the table."""
    w, t = s.width / 2, s.tongue / 2
    return ((-t, -s.tongue_height), (t, -s.tongue_height), (t, 0), (w, 0), (w, s.height), (-w, s.height), (-w, 0), (-t, 0))


def in_place(s: TableStopSizes) -> Scene:
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
    found: list[Element] = [Path(table, Style.SURROUNDINGS_SECTION, "table", closed=True)]
    if not s.along:
        found += [
            box(w, 0, out, max(s.height * 1.2, s.v.number("contact_height") * 1.4), Style.SURROUNDINGS, "work"),
            Line((out, s.v.number("contact_height")), (w + 2, s.v.number("contact_height")), Style.TOOL, "face"),
            Path(
                (
                    (w + 5, s.v.number("contact_height") + 2),
                    (w + 1, s.v.number("contact_height")),
                    (w + 5, s.v.number("contact_height") - 2),
                ),
                Style.TOOL,
                "face",
            ),
        ]
    found += [
        Path(profile(s), Style.BODY, "block", closed=True),
        Path(profile(s), Style.VISIBLE, "block", closed=True),
        *_bolt(s),
        Note((-out, -deep - 11), "{value} play", leader=(-a, -0.4 * t), feature="tongue_width", figure="play"),
    ]
    dims = (
        Dimension(
            "tongue_width",
            (-s.tongue / 2, -deep - 6),
            (s.tongue / 2, -deep - 6),
            Side.BELOW,
            entry="tongue_width",
            feature="tongue_width",
            step_mm=0.01,
            order=0,
        ),
        Dimension("width", (-w, s.height), (w, s.height), Side.ABOVE, entry="width", feature="block", order=1),
        Dimension("height", (-out, 0), (-out, s.height), Side.LEFT, entry="height", feature="block", order=2),
        Dimension(
            "contact_height",
            (out, 0),
            (out, s.v.number("contact_height")),
            Side.RIGHT,
            entry="contact_height",
            feature="face",
            order=3,
        ),
    )
    return Scene("in place", "In the slot, from its end", tuple(found), dims, _handles(s))


def _bolt(s: TableStopSizes) -> list[Element]:
    return hidden_lines(s.holes, Span(-s.tongue_height, s.height), lambda p, z: (p, z), lambda h: h.x)


def _handles(s: TableStopSizes) -> tuple[Handle, ...]:
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
            math.ceil(s.holes[0].bore_depth + 2),
            150.0,
            "the bolt's head is counterbored into it",
            "in the cutter's way",
            "block",
            value=s.height,
        ),
    )


def front(s: TableStopSizes) -> Scene:
    w = s.width / 2
    found: list[Element] = [
        Path(profile(s), Style.BODY, "block", closed=True),
        Path(profile(s), Style.VISIBLE, "block", closed=True),
        *_bolt(s),
    ]
    dims = (
        Dimension(
            "tongue_width",
            (-s.tongue / 2, -s.tongue_height),
            (s.tongue / 2, -s.tongue_height),
            Side.BELOW,
            entry="tongue_width",
            feature="tongue_width",
            step_mm=0.01,
        ),
        Dimension("tongue_height", (w, -s.tongue_height), (w, 0), Side.RIGHT, entry="tongue_height", feature="tongue_width"),
        Dimension("height", (-w, 0), (-w, s.height), Side.LEFT, entry="height", feature="block"),
        Dimension("width", (-w, s.height), (w, s.height), Side.ABOVE, entry="width", feature="block"),
    )
    return Scene("front", "Front", tuple(found), dims, _handles(s))


def top(s: TableStopSizes) -> Scene:
    w, y = s.width / 2, s.length / 2
    found: list[Element] = [
        box(-w, -y, w, y, Style.BODY, "block"),
        box(-w, -y, w, y, Style.VISIBLE, "block"),
        *circles(s.holes),
        *(
            Line((k * s.tongue / 2, j * s.gap / 2), (k * s.tongue / 2, j * y), Style.HIDDEN, "tongue_width")
            for k in (-1, 1)
            for j in (-1, 1)
        ),
        *(
            Line((-s.tongue / 2, j * s.gap / 2), (s.tongue / 2, j * s.gap / 2), Style.HIDDEN, "tongue_width")
            for j in (-1, 1)
            if s.gap
        ),
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


def side(s: TableStopSizes) -> Scene:
    y = s.length / 2
    found: list[Element] = [
        *(
            (
                Path(
                    (
                        (-y, -s.tongue_height),
                        (-s.gap / 2, -s.tongue_height),
                        (-s.gap / 2, 0),
                        (s.gap / 2, 0),
                        (s.gap / 2, -s.tongue_height),
                        (y, -s.tongue_height),
                        (y, s.height),
                        (-y, s.height),
                    ),
                    Style.VISIBLE,
                    "block",
                    closed=True,
                ),
            )
            if s.gap
            else (box(-y, -s.tongue_height, y, s.height, Style.VISIBLE, "block"),)
        ),
        Line((-y, 0), (y, 0), Style.VISIBLE, "tongue_width"),
        *hidden_lines(s.holes, Span(-s.tongue_height, s.height), lambda p, z: (p, z), lambda h: h.y),
    ]
    gap = Dimension(
        "tongue_gap",
        (-s.gap / 2, -s.tongue_height),
        (s.gap / 2, -s.tongue_height),
        Side.BELOW,
        entry="tongue_gap",
        feature="tongue_width",
    )
    return Scene("side", "Right end", tuple(found), (gap,) if s.gap else ())
