"""A depth stop drawn: on its sleeve with the gauge stack, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.depth_stop.sizes import DepthStopSizes
from elbrix.design.moving import spots
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Scene, Side, Style, box


def in_place(s: DepthStopSizes) -> Scene:
    """From the side: casting, sleeve, slider, tip over its landing with the stack between."""
    v = s.v
    r, o, i, deep = s.ring / 2, s.out / 2, v.number("sleeve_bore") / 2, v.number("bore_depth")
    level = max(8.0, v.number("tip_protrusion") + s.stack + 4) if v.word("stack_place") == "between" else max(8.0, s.stack)
    far = s.front + 16
    found: list[Element] = []
    # The casting with its uneven bore; the slider stands above it on its feet, the landing is in front.
    found += [
        box(o if k > 0 else -s.back - 12, -deep, far if k > 0 else -o, 0, Style.SURROUNDINGS_SECTION, "casting") for k in (1, -1)
    ]
    top = level + s.thickness + 10
    found += [box(k * i if k > 0 else -o, -deep, o if k > 0 else -i, 0, Style.SECTION, "sleeve") for k in (1, -1)]
    found += [
        box(k * i if k > 0 else -s.sleeve / 2, 0, s.sleeve / 2 if k > 0 else -i, top, Style.SECTION, "sleeve") for k in (1, -1)
    ]
    found += [box(x0, level, x1, level + s.thickness, Style.BODY, "plate") for x0, x1 in ((-s.back, -r), (r, s.front))]
    found += [box(x0, level, x1, level + s.thickness, Style.VISIBLE, "plate") for x0, x1 in ((-s.back, -r), (r, s.front))]
    d, tip = s.tip.d / 2, v.number("tip_protrusion")
    found += [
        box(s.tip_x - d, level - tip, s.tip_x + d, level + s.thickness + 8, Style.VISIBLE, "tip"),
        Line((s.tip_x, -6), (s.tip_x, level + s.thickness + 12), Style.CENTRE),
    ]
    wide = max(8.0, 2.4 * d)
    low, high = (0.0, level - tip) if v.word("stack_place") == "between" else (0.0, level)
    at = s.tip_x if v.word("stack_place") == "between" else (r + s.tip_x - d) / 2
    if high > low:
        found += [
            box(at - wide / 2, low, at + wide / 2, high, Style.TOOL, "stack"),
            *(Line((at - wide / 2, high * q), (at + wide / 2, high * q), Style.TOOL, "stack") for q in (0.35, 0.7)),
        ]
    found += [
        Note((far + 3, high / 2), "stack {value}", leader=(at + wide / 2, high / 2), feature="tip", figure="stack"),
        Note((-s.back - 10, -deep * 0.6), "casting", quiet=True),
    ]
    dims = (
        Dimension(
            "tip_distance",
            (0, level + s.thickness),
            (s.tip_x, level + s.thickness),
            Side.ABOVE,
            entry="tip_distance",
            feature="tip",
            order=1,
        ),
        Dimension(
            "thickness", (-s.back, level), (-s.back, level + s.thickness), Side.LEFT, entry="thickness", feature="plate", order=2
        ),
        Dimension(
            "sleeve_pressed",
            (-o, -deep),
            (o, -deep),
            Side.BELOW,
            prefix="Ø",
            entry="sleeve_pressed",
            feature="sleeve",
            step_mm=0.001,
            order=0,
        ),
    )
    return Scene("in place", "On its sleeve, from the side", tuple(found), dims)


def _slit(s: DepthStopSizes) -> list[Element]:
    k, c = s.slit / 2, s.clamp_x
    d = s.clamp.clear / 2
    start = -math.sqrt((s.ring / 2) ** 2 - k * k)
    return [
        *(Line((-s.back, q), (start, q), Style.VISIBLE, "slit_width") for q in (-k, k)),
        *(Line((c + q, 0), (c + q, s.width / 2), Style.HIDDEN, "slit_width") for q in (-d, d)),
        *(Line((c + 0.9 * q, -s.width / 2), (c + 0.9 * q, 0), Style.THREAD, "slit_width") for q in (-d, d)),
        Line((c, -s.width / 2 - 4), (c, s.width / 2 + 4), Style.CENTRE, "slit_width"),
    ]


def top(s: DepthStopSizes) -> Scene:
    w = s.width / 2
    found: list[Element] = [
        box(-s.back, -w, s.front, w, Style.BODY, "plate"),
        box(-s.back, -w, s.front, w, Style.VISIBLE, "plate"),
        Arc((0, 0), s.ring / 2, feature="bore"),
        *circles(s.holes),
        *_slit(s),
    ]
    found += [Line((-s.back - 4, 0), (s.front + 4, 0), Style.CENTRE), Line((0, -w - 4), (0, w + 4), Style.CENTRE)]
    if len(s.polygon) > 2:
        found.append(Path(s.polygon, Style.THIN, "feet", closed=True))
    dims = (
        Dimension("front_length", (0, -w), (s.front, -w), Side.BELOW, entry="front_length", feature="plate"),
        Dimension("rear_length", (-s.back, -w), (0, -w), Side.BELOW, entry="rear_length", feature="plate"),
        Dimension("width", (-s.back, -w), (-s.back, w), Side.LEFT, entry="width", feature="plate"),
        Dimension("tip_distance", (0, w), (s.tip_x, w), Side.ABOVE, entry="tip_distance", feature="tip"),
        Dimension(
            "slit",
            (s.front, -s.slit / 2),
            (s.front, s.slit / 2),
            Side.RIGHT,
            entry="slit_width",
            feature="slit_width",
            suffix="slit",
        ),
        Dimension(
            "slider_bore",
            (0, 0),
            (0, 0.6),
            Side.AT,
            value_mm=s.ring,
            prefix="Ø",
            entry="slider_bore",
            feature="bore",
            step_mm=0.01,
        ),
    )
    handles = (
        *(
            Handle(
                "width",
                (-s.back, k * w),
                (s.front, k * w),
                (0.0, k),
                2.0,
                1.0,
                math.ceil(s.ring + 7),
                200.0,
                "metal beside the sleeve",
                "wider than it need be",
                "plate",
                value=s.width,
            )
            for k in (-1.0, 1.0)
        ),
        Handle(
            "front_length",
            (s.front, -w),
            (s.front, w),
            (1.0, 0.0),
            1.0,
            1.0,
            math.ceil(s.tip_x + s.tip.d),
            250.0,
            "the tip needs metal round it",
            "longer than it need be",
            "plate",
            value=s.front,
        ),
    )
    return Scene("top", "Top", tuple(found), dims, handles, spots(s.feet, "feet", s.holes, step=0.5))


def front(s: DepthStopSizes) -> Scene:
    found: list[Element] = [
        box(-s.back, 0, s.front, s.thickness, Style.BODY, "plate"),
        box(-s.back, 0, s.front, s.thickness, Style.VISIBLE, "plate"),
    ]
    found += [Line((k * s.ring / 2, 0), (k * s.ring / 2, s.thickness), Style.HIDDEN, "bore") for k in (-1, 1)]
    found += [
        Arc((s.clamp_x, s.thickness / 2), s.clamp.clear / 2, style=Style.HIDDEN, feature="slit_width"),
        *hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.x),
    ]
    return Scene(
        "front",
        "Front",
        tuple(found),
        (
            Dimension("thickness", (s.front, 0), (s.front, s.thickness), Side.RIGHT, entry="thickness", feature="plate"),
            Dimension("clamp_x", (s.clamp_x, 0), (0, 0), Side.BELOW, feature="slit_width", step_mm=0.1),
            Dimension("clamp_z", (-s.back, 0), (-s.back, s.thickness / 2), Side.LEFT, feature="slit_width"),
        ),
    )


def side(s: DepthStopSizes) -> Scene:
    w = s.width / 2
    found: list[Element] = [
        box(-w, 0, w, s.thickness, Style.BODY, "plate"),
        box(-w, 0, w, s.thickness, Style.VISIBLE, "plate"),
        *hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.y),
    ]
    return Scene("side", "Right end", tuple(found))
