"""A vise stop drawn: on the jaw's end with its rod, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.vise_stop.sizes import ViseStopSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Scene, Side, Style, box


def _slit(s: ViseStopSizes) -> list[Element]:
    x, k = s.rod_x, s.slit / 2
    c, d = s.clamp_y, s.clamp.clear / 2
    return [
        *(
            Line((x + q, s.rod_y + math.sqrt(max(0.0, (s.rod / 2) ** 2 - k * k))), (x + q, s.height), Style.VISIBLE, "slit_width")
            for q in (-k, k)
        ),
        *(Line((x, c + q), (s.right, c + q), Style.HIDDEN, "slit_width") for q in (-d, d)),
        *(Line((x - s.clamp_thread, c + q * 0.9), (x, c + q * 0.9), Style.THREAD, "slit_width") for q in (-d, d)),
        Line((s.left, c), (s.right + 4, c), Style.CENTRE, "slit_width"),
    ]


def in_place(s: ViseStopSizes) -> Scene:
    """From the vise's end: the stop before the jaw's end, the moving jaw side to the right."""
    gap = max(20.0, 2.2 * s.rod_x)
    h = s.v.number("jaw_height")
    found: list[Element] = [
        box(s.left, 0, 0, h, Style.SURROUNDINGS_SECTION, "jaw"),
        box(s.left - 6, -14, gap + 22, 0, Style.SURROUNDINGS_SECTION, "bed"),
        box(gap, 0, gap + 22, h, Style.SURROUNDINGS, "jaw"),
        box(s.left, 0, s.right, s.height, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.height, Style.VISIBLE, "plate"),
        *circles(s.screws),
        Arc((s.rod_x, s.rod_y), s.rod / 2, style=Style.VISIBLE, feature="rod_diameter"),
        *_slit(s),
        Note((gap + 3, h * 0.8), "moving jaw", quiet=True),
        Note((gap * 0.3, -8), "bed", quiet=True),
        Note(
            (gap + 28, s.rod_y),
            "reaches in {value}",
            leader=(s.rod_x + s.rod / 2, s.rod_y),
            feature="rod_diameter",
            figure="rod_reach",
        ),
    ]
    dims = (
        Dimension("rod_offset", (0, -14), (s.rod_x, -14), Side.BELOW, entry="rod_offset", feature="rod_diameter", order=1),
        Dimension(
            "rod_height", (s.left - 6, 0), (s.left - 6, s.rod_y), Side.LEFT, entry="rod_height", feature="rod_diameter", order=2
        ),
        Dimension("height", (s.left - 6, 0), (s.left - 6, s.height), Side.LEFT, entry="height", feature="plate", order=3),
        Dimension("wide", (s.left, s.height), (s.right, s.height), Side.ABOVE, feature="plate"),
    )
    return Scene("in place", "On the vise, from its end", tuple(found), dims, _handles(s))


def _handles(s: ViseStopSizes) -> tuple[Handle, ...]:
    top = s.v.number("jaw_height")
    return (
        Handle(
            "height",
            (s.left, s.height),
            (s.right, s.height),
            (0.0, 1.0),
            1.0,
            1.0,
            math.ceil(s.rod_y + s.rod / 2 + s.clamp.d + 3),
            max(s.height, top),
            "the clamp screw needs metal",
            "the cutter passes over the jaw's top",
            "plate",
            value=s.height,
        ),
        Handle(
            "rod_offset",
            (s.rod_x + s.rod / 2, s.rod_y - s.rod / 2),
            (s.rod_x + s.rod / 2, s.rod_y + s.rod / 2),
            (1.0, 0.0),
            1.0,
            0.5,
            math.ceil(s.rod / 2),
            100.0,
            "it rubs on the jaw's face",
            "farther than the work is wide",
            "rod_diameter",
            value=s.rod_x,
        ),
    )


def top(s: ViseStopSizes) -> Scene:
    """Square on, as it stands at the jaw's end."""
    found: list[Element] = [
        box(s.left, 0, s.right, s.height, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.height, Style.VISIBLE, "plate"),
        *circles(s.holes),
        *_slit(s),
    ]
    v = s.v
    dims = (
        Dimension(
            "slit",
            (s.rod_x - s.slit / 2, s.height),
            (s.rod_x + s.slit / 2, s.height),
            Side.ABOVE,
            entry="slit_width",
            feature="slit_width",
        ),
        Dimension("wide", (s.left, 0), (s.right, 0), Side.BELOW, feature="plate"),
        Dimension("rod_x", (s.left, s.height), (s.rod_x, s.height), Side.ABOVE, feature="rod_diameter", step_mm=0.01),
        Dimension("height", (s.left, 0), (s.left, s.height), Side.LEFT, entry="height", feature="plate"),
        Dimension(
            "lower_screw", (s.right, 0), (s.right, v.number("lower_screw")), Side.RIGHT, entry="lower_screw", feature="screws"
        ),
        Dimension(
            "upper_screw", (s.right, 0), (s.right, v.number("upper_screw")), Side.RIGHT, entry="upper_screw", feature="screws"
        ),
        Dimension("rod_height", (s.left, 0), (s.left, s.rod_y), Side.LEFT, entry="rod_height", feature="rod_diameter"),
    )
    return Scene("top", "Face", tuple(found), dims, _handles(s))


def front(s: ViseStopSizes) -> Scene:
    """From below."""
    found: list[Element] = [
        box(s.left, 0, s.right, s.thickness, Style.BODY, "plate"),
        box(s.left, 0, s.right, s.thickness, Style.VISIBLE, "plate"),
        *hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.x),
    ]
    return Scene(
        "front",
        "Front",
        tuple(found),
        (Dimension("thickness", (s.right, 0), (s.right, s.thickness), Side.RIGHT, entry="thickness", feature="plate"),),
    )


def side(s: ViseStopSizes) -> Scene:
    """From the right: the clamp screw's mouth."""
    c = (s.clamp_y, s.thickness / 2)
    found: list[Element] = [
        box(0, 0, s.height, s.thickness, Style.BODY, "plate"),
        box(0, 0, s.height, s.thickness, Style.VISIBLE, "plate"),
        Arc(c, s.clamp.bore / 2, feature="slit_width"),
        Arc(c, s.clamp.clear / 2, feature="slit_width"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.y)
    dims = (
        Dimension("clamp_y", (0, 0), (s.clamp_y, 0), Side.BELOW, feature="clamp_screw"),
        Dimension("clamp_z", (s.height, 0), (s.height, s.thickness / 2), Side.RIGHT, feature="clamp_screw"),
    )
    return Scene("side", "Right end", tuple(found), dims)
