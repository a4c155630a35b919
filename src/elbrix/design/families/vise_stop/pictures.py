"""A vise stop drawn: on the jaw's end with its rod, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.vise_stop.sizes import Sizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Scene, Side, Style, Words, box


def _slit(s: Sizes) -> list[Element]:
    x, k = s.rod_x, s.slit / 2
    c, d = s.clamp_y, s.clamp.clear / 2
    return [
        *(
            Line((x + q, s.rod_y + math.sqrt(max(0.0, (s.rod / 2) ** 2 - k * k))), (x + q, s.high), Style.VISIBLE, "slit")
            for q in (-k, k)
        ),
        *(Line((x, c + q), (s.right, c + q), Style.HIDDEN, "slit") for q in (-d, d)),
        *(Line((x - s.clamp_thread, c + q * 0.9), (x, c + q * 0.9), Style.THREAD, "slit") for q in (-d, d)),
        Line((s.left, c), (s.right + 4, c), Style.CENTRE, "slit"),
    ]


def in_place(s: Sizes) -> Scene:
    """From the vise's end: the stop before the jaw's end, the moving jaw side to the right."""
    gap = max(20.0, 2.2 * s.rod_x)
    h = s.v.number("jaw_high")
    found: list[Element] = [
        box(s.left, 0, 0, h, Style.HOST_SECTION, "jaw"),
        box(s.left - 6, -14, gap + 22, 0, Style.HOST_SECTION, "bed"),
        box(gap, 0, gap + 22, h, Style.HOST, "jaw"),
        box(s.left, 0, s.right, s.high, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.high, Style.VISIBLE, "plate"),
        *circles(s.screws),
        Arc((s.rod_x, s.rod_y), s.rod / 2, style=Style.VISIBLE, feature="rod"),
        *_slit(s),
        Words((gap + 3, h * 0.8), "moving jaw", quiet=True),
        Words((gap * 0.3, -8), "bed", quiet=True),
        Words((gap + 28, s.rod_y), "reaches in {value}", leader=(s.rod_x + s.rod / 2, s.rod_y), feature="rod", figure="reach"),
    ]
    dims = (
        Dimension("rod_out", (0, -14), (s.rod_x, -14), Side.BELOW, entry="rod_out", feature="rod", order=1),
        Dimension("rod_up", (s.left - 6, 0), (s.left - 6, s.rod_y), Side.LEFT, entry="rod_up", feature="rod", order=2),
        Dimension("high", (s.left - 6, 0), (s.left - 6, s.high), Side.LEFT, entry="high", feature="plate", order=3),
        Dimension("wide", (s.left, s.high), (s.right, s.high), Side.ABOVE, feature="plate"),
    )
    return Scene("in place", "On the vise, from its end", tuple(found), dims, _handles(s))


def _handles(s: Sizes) -> tuple[Handle, ...]:
    top = s.v.number("jaw_high")
    return (
        Handle(
            "high",
            (s.left, s.high),
            (s.right, s.high),
            (0.0, 1.0),
            1.0,
            1.0,
            math.ceil(s.rod_y + s.rod / 2 + s.clamp.d + 3),
            max(s.high, top),
            "the clamp screw needs metal",
            "the cutter passes over the jaw's top",
            "plate",
            value=s.high,
        ),
        Handle(
            "rod_out",
            (s.rod_x + s.rod / 2, s.rod_y - s.rod / 2),
            (s.rod_x + s.rod / 2, s.rod_y + s.rod / 2),
            (1.0, 0.0),
            1.0,
            0.5,
            math.ceil(s.rod / 2),
            100.0,
            "it rubs on the jaw's face",
            "farther than the work is wide",
            "rod",
            value=s.rod_x,
        ),
    )


def top(s: Sizes) -> Scene:
    """Square on, as it stands at the jaw's end."""
    found: list[Element] = [
        box(s.left, 0, s.right, s.high, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.high, Style.VISIBLE, "plate"),
        *circles(s.holes),
        *_slit(s),
    ]
    v = s.v
    dims = (
        Dimension("wide", (s.left, 0), (s.right, 0), Side.BELOW, feature="plate"),
        Dimension("rod_x", (s.left, s.high), (s.rod_x, s.high), Side.ABOVE, feature="rod", step_mm=0.01),
        Dimension("high", (s.left, 0), (s.left, s.high), Side.LEFT, entry="high", feature="plate"),
        Dimension("low_screw", (s.right, 0), (s.right, v.number("low_screw")), Side.RIGHT, entry="low_screw", feature="screws"),
        Dimension(
            "high_screw", (s.right, 0), (s.right, v.number("high_screw")), Side.RIGHT, entry="high_screw", feature="screws"
        ),
        Dimension("rod_up", (s.left, 0), (s.left, s.rod_y), Side.LEFT, entry="rod_up", feature="rod"),
    )
    return Scene("top", "Face", tuple(found), dims, _handles(s))


def front(s: Sizes) -> Scene:
    """From below."""
    found: list[Element] = [
        box(s.left, 0, s.right, s.thick, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.thick, Style.VISIBLE, "plate"),
        *hidden_lines(s.holes, Span(0.0, s.thick), lambda p, z: (p, z), lambda h: h.x),
    ]
    return Scene(
        "front",
        "Front",
        tuple(found),
        (Dimension("thickness", (s.right, 0), (s.right, s.thick), Side.RIGHT, entry="thickness", feature="plate"),),
    )


def side(s: Sizes) -> Scene:
    """From the right: the clamp screw's mouth."""
    c = (s.clamp_y, s.thick / 2)
    found: list[Element] = [
        box(0, 0, s.high, s.thick, Style.BODY, "plate"),
        box(0, 0, s.high, s.thick, Style.VISIBLE, "plate"),
        Arc(c, s.clamp.bore / 2, feature="slit"),
        Arc(c, s.clamp.clear / 2, feature="slit"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thick), lambda p, z: (p, z), lambda h: h.y)
    return Scene("side", "Right end", tuple(found))
