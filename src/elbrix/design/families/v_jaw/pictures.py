"""V-jaws drawn: holding the largest and the smallest round between vise jaws, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.v_jaw.sizes import VJawSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box


def profile(s: VJawSizes) -> tuple[Point, ...]:
    """The end, counter-clockwise from the low left corner; z = 0 at the base."""
    w, m, r = s.width / 2, s.mouth / 2, s.relief / 2
    h, on = s.height, s.height - s.depth + s.relief / 2 / math.tan(s.a)
    key = (
        ((-s.keyway / 2, 0.0), (-s.keyway / 2, s.keyway_depth), (s.keyway / 2, s.keyway_depth), (s.keyway / 2, 0.0))
        if s.keys in ("both", "along")
        else ()
    )
    return ((-w, 0.0), *key, (w, 0.0), (w, h), (m, h), (r, on), (r, h - s.bottom), (-r, h - s.bottom), (-r, on), (-m, h), (-w, h))


def in_place(s: VJawSizes) -> Scene:
    """Between the jaws of the vise, from above: the largest round full, the smallest thin."""
    gap = s.apart(s.largest)
    w = s.width / 2
    thick = max(10.0, 0.25 * s.width)
    lower = profile(s)
    found: list[Element] = [
        box(-w - 6, -thick, w + 6, 0, Style.SURROUNDINGS_SECTION, "vise"),
        Path(lower, Style.BODY, "block", closed=True),
        Path(lower, Style.VISIBLE, "block", closed=True),
    ]
    top = s.height + max(gap, 0.5)
    if s.twin:
        upper = tuple((x, top + s.height - z) for x, z in lower)
        found += [Path(upper, Style.BODY, "block", closed=True), Path(upper, Style.VISIBLE, "block", closed=True)]
        back = top + s.height
    else:
        back = top
    found.append(box(-w - 6, back, w + 6, back + thick, Style.SURROUNDINGS_SECTION, "vise"))
    point = s.height - s.depth
    for d, style in ((s.largest, Style.SURROUNDINGS), (s.smallest, Style.HIDDEN)):
        found.append(Arc((0, point + s.centre_above(d)), d / 2, style=style, feature="round"))
    found += [
        Line((0, -thick), (0, back + thick), Style.CENTRE),
        *hidden_lines(s.holes, Span(0.0, s.height), lambda p, z: (p, z), lambda h: h.x),
    ]
    found += [
        Note((w + 10, s.height + 0.5 * max(gap, 1.0)), "{value} between the faces", figure="apart", feature="round"),
        Note((-w, back + thick * 0.35), "moving jaw", quiet=True),
        Note((-w, -thick * 0.65), "fixed jaw", quiet=True),
    ]
    y = point + s.centre_above(s.largest)
    dims = (
        Dimension(
            "v_width", (-s.mouth / 2, s.height), (s.mouth / 2, s.height), Side.BELOW, entry="v_width", feature="v", order=1
        ),
        Dimension("height", (-w, 0), (-w, s.height), Side.LEFT, entry="height", feature="block", order=3),
        Dimension("width", (-w, -thick), (w, -thick), Side.BELOW, entry="width", feature="block", order=4),
        Dimension(
            "largest",
            (s.largest / 2, y - s.largest / 2),
            (w * 0.55, y),
            Side.AT,
            value_mm=s.largest,
            prefix="Ø",
            entry="largest",
            feature="round",
            order=0,
        ),
    )
    return Scene("in place", "In the vise, from above", tuple(found), dims, _handles(s))


def _handles(s: VJawSizes) -> tuple[Handle, ...]:
    m, w = s.mouth / 2, s.width / 2
    held = min(b.x - b.mouth / 2 for b in s.holes if b.x > 0)
    return (
        *(
            Handle(
                "v_width",
                (k * m, s.height - 0.4 * s.depth),
                (k * m, s.height),
                (k, 0.0),
                2.0,
                0.5,
                s.relief + 1,
                max(s.relief + 1, math.floor(2 * held - 2)),
                "the flanks begin at the relief",
                "the counterbores are there",
                "v",
                value=s.mouth,
            )
            for k in (-1.0, 1.0)
        ),
        *(
            Handle(
                "width",
                (k * w, 0),
                (k * w, s.height),
                (k, 0.0),
                2.0,
                1.0,
                math.ceil(s.mouth + 4),
                500.0,
                "a land is left beside the V",
                "wider than any vise here",
                "block",
                value=s.width,
            )
            for k in (-1.0, 1.0)
        ),
        Handle(
            "height",
            (-w, s.height),
            (-m, s.height),
            (0.0, 1.0),
            1.0,
            1.0,
            math.ceil(s.height - s.floor + 1),
            200.0,
            "metal is left under the V",
            "higher than it need be",
            "block",
            value=s.height,
        ),
    )


def front(s: VJawSizes) -> Scene:
    """The end, with the V."""
    ring = profile(s)
    w, h = s.width / 2, s.height
    found: list[Element] = [
        Path(ring, Style.BODY, "block", closed=True),
        Path(ring, Style.VISIBLE, "block", closed=True),
        Line((0, -4), (0, h + 6), Style.CENTRE),
    ]
    found += hidden_lines(s.holes, Span(0.0, h), lambda p, z: (p, z), lambda b: b.x)
    found.append(Line((-w, h), (w, h), Style.THIN, "v"))
    dims = [
        Dimension("v_width", (-s.mouth / 2, h), (s.mouth / 2, h), Side.ABOVE, entry="v_width", feature="v"),
        Dimension(
            "angle",
            (0, h - s.depth),
            (0, h - 0.35 * s.depth),
            Side.AT,
            value_mm=s.angle,
            text=f"{s.angle:g}°",
            entry="angle",
            feature="v",
        ),
        Dimension("height", (w, 0), (w, h), Side.RIGHT, entry="height", feature="block"),
        Dimension("bottom", (-w, h - s.bottom), (-w, h), Side.LEFT, feature="relief_width", step_mm=0.01),
        Dimension(
            "relief_width",
            (-s.relief / 2, h - s.bottom),
            (s.relief / 2, h - s.bottom),
            Side.BELOW,
            entry="relief_width",
            feature="relief_width",
        ),
        Dimension("width", (-w, 0), (w, 0), Side.BELOW, entry="width", feature="block"),
    ]
    if s.keys in ("both", "along"):
        dims.insert(
            5,
            Dimension(
                "keyway_width",
                (-s.keyway / 2, 0),
                (s.keyway / 2, 0),
                Side.BELOW,
                entry="keyway_width",
                feature="keyway_width",
                suffix="key",
                step_mm=0.01,
            ),
        )
        dims.append(
            Dimension(
                "keyway_depth",
                (-w, 0),
                (-s.keyway / 2, s.keyway_depth),
                Side.LEFT,
                value_mm=s.keyway_depth,  # a size of its own, although the one across is as deep
                feature="keyway_width",
            )
        )
    return Scene("front", "Front", tuple(found), tuple(dims), _handles(s))


def top(s: VJawSizes) -> Scene:
    """Face up, with the holes."""
    w, y = s.width / 2, s.length
    found: list[Element] = [box(-w, 0, w, y, Style.BODY, "block"), box(-w, 0, w, y, Style.VISIBLE, "block")]
    found += [Line((k * q, 0), (k * q, y), Style.VISIBLE, "v") for q in (s.mouth / 2, s.relief / 2) for k in (-1, 1)]
    if s.keys in ("both", "across"):
        at = s.v.number("bolt_position")
        found += [Line((-w, at + k * s.keyway / 2), (w, at + k * s.keyway / 2), Style.HIDDEN, "keyway_width") for k in (-1, 1)]
    found += [*circles(s.holes), Line((0, -4), (0, y + 4), Style.CENTRE)]
    v = s.v
    dims = (
        Dimension("length", (-w, 0), (-w, y), Side.LEFT, entry="length", feature="block"),
        Dimension("screw_height", (w, 0), (w, v.number("screw_height")), Side.RIGHT, entry="screw_height", feature="vise screws"),
        Dimension(
            "bolt_position", (w, 0), (w, v.number("bolt_position")), Side.RIGHT, entry="bolt_position", feature="table bolts"
        ),
        Dimension(
            "screw_spacing",
            (-v.number("screw_spacing") / 2, y),
            (v.number("screw_spacing") / 2, y),
            Side.ABOVE,
            entry="screw_spacing",
            feature="vise screws",
        ),
        *(
            (
                Dimension(
                    "bolt_spacing",
                    (-v.number("bolt_spacing") / 2, y),
                    (v.number("bolt_spacing") / 2, y),
                    Side.ABOVE,
                    entry="bolt_spacing",
                    feature="table bolts",
                ),
            )
            if abs(v.number("bolt_spacing") - v.number("screw_spacing")) > 0.01
            else ()
        ),
    )
    handle = Handle(
        "length",
        (-w, y),
        (w, y),
        (0.0, 1.0),
        1.0,
        1.0,
        math.ceil(max(v.number("screw_height"), v.number("bolt_position")) + 2),
        300.0,
        "its holes need metal",
        "longer than it need be",
        "block",
        value=s.length,
    )
    return Scene("top", "Top", tuple(found), dims, (handle,))


def side(s: VJawSizes) -> Scene:
    """Along the V."""
    found: list[Element] = [
        box(0, 0, s.length, s.height, Style.BODY, "block"),
        box(0, 0, s.length, s.height, Style.VISIBLE, "block"),
        Line((0, s.height - s.bottom), (s.length, s.height - s.bottom), Style.HIDDEN, "relief_width"),
    ]
    if s.keys in ("both", "across"):
        at, k = s.v.number("bolt_position"), s.keyway / 2
        found.append(
            Path(((at - k, 0), (at - k, s.keyway_depth), (at + k, s.keyway_depth), (at + k, 0)), Style.VISIBLE, "keyway_width")
        )
    found += hidden_lines(s.holes, Span(0.0, s.height), lambda p, z: (p, z), lambda b: b.y)
    return Scene("side", "Right end", tuple(found), _across_sizes(s))


def _across_sizes(s: VJawSizes) -> tuple[Dimension, ...]:
    """Of the keyway across: its width, its place from the low end and its depth."""
    if s.keys not in ("both", "across"):
        return ()
    at, k, deep = s.v.number("bolt_position"), s.keyway / 2, s.keyway_depth
    return (
        Dimension(
            "keyway_across",
            (at - k, 0),
            (at + k, 0),
            Side.BELOW,
            entry="keyway_width",
            feature="keyway_width",
            suffix="key",
            step_mm=0.01,
        ),
        Dimension("keyway_at", (0, 0), (at, 0), Side.BELOW, entry="bolt_position", feature="keyway_width"),
        Dimension(
            "keyway_across_depth",
            (s.length, 0),
            (at + k, deep),
            Side.RIGHT,
            value_mm=deep,  # a size of its own, although the other keyway is as deep
            feature="keyway_width",
        ),
    )
