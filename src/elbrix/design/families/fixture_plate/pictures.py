"""A fixture plate drawn: on its table from above, and from three sides."""

from __future__ import annotations

import math

from msgspec.structs import replace

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.fixture_plate.sizes import FixturePlateSizes
from elbrix.design.moving import spots
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, MovablePoint, Note, Path, Scene, Side, Style, box


def in_place(s: FixturePlateSizes) -> Scene:
    """On the table from above, over its slots."""
    el, w = s.length / 2, s.width / 2
    out = max(18.0, 0.12 * s.length)
    far, deep = el + out, min(s.v.number("table_width") / 2, w + max(out, s.pitch * 0.6))
    half = s.v.readings("neck").min / 2
    found: list[Element] = []
    if s.ring or s.kind == "rotary":
        radius = s.v.number("table_width") / 2
        found += [Arc((0, 0), radius, style=Style.SURROUNDINGS, feature="table")]
        found += [Arc((0, 0), s.ring + k * half, style=Style.SURROUNDINGS, feature="slots") for k in (-1, 1) if s.ring]
    else:
        found.append(box(-far, -deep, far, deep, Style.SURROUNDINGS_SECTION if deep < w else Style.SURROUNDINGS, "table"))
        start = 0.0 if s.v.word("centred_over") == "slot" else s.pitch / 2
        rows = [start + i * s.pitch for i in range(-12, 13) if abs(start + i * s.pitch) < deep - half] if s.pitch else [0.0]
        for y in rows:
            found += [Line((-far, y + k * half), (far, y + k * half), Style.SURROUNDINGS, "slots") for k in (-1, 1)]
            found.append(Line((-far, y), (far, y), Style.CENTRE, "slots"))
    under = [h for h in found[1:] if not isinstance(h, Path)]  # what is hidden by the plate is dashed on it
    found += [box(-el, -w, el, w, Style.BODY, "plate"), *_face(s)]
    found += [
        replace(e, style=Style.HIDDEN)
        for e in under
        if isinstance(e, Line | Arc) and e.style is Style.SURROUNDINGS and e.feature == "slots"
    ]
    if len(s.path) > 1:
        found.append(Path(s.path, Style.TOOL, "cutter_path"))
    found += [Arc(p, s.cutter / 2, style=Style.TOOL, feature="cutter_path") for p in s.path]
    if s.pitch and not s.ring:
        found.append(Note((far + 4, -w * 0.5), "slots {value} apart", feature="slots", figure="slot_pitch"))
    return Scene("in place", "On the table, from above", tuple(found), (*_sizes(s), *_ordinates(s)), _handles(s), _spots(s))


def _face(s: FixturePlateSizes) -> list[Element]:
    el, w = s.length / 2, s.width / 2
    d = s.x0, s.y0
    found: list[Element] = [
        box(-el, -w, el, w, Style.VISIBLE, "plate"),
        *circles((*s.holes, *s.taken)),
        Line((-el - 5, 0), (el + 5, 0), Style.CENTRE),
        Line((0, -w - 5), (0, w + 5), Style.CENTRE),
        Arc(d, 2.5, style=Style.THIN, feature="plate"),
    ]
    if len(s.pins) == 2 and s.v.word("pins") == "relieved":
        a, b = s.pins
        line = math.atan2(b.y - a.y, b.x - a.x) + math.pi / 2
        r = s.pin * 0.8
        found.append(
            Line(
                (b.x - r * math.cos(line), b.y - r * math.sin(line)),
                (b.x + r * math.cos(line), b.y + r * math.sin(line)),
                Style.THIN,
                "pins",
            )
        )
    return found


def _sizes(s: FixturePlateSizes) -> tuple[Dimension, ...]:
    el, w = s.length / 2, s.width / 2
    return (
        Dimension("length", (-el, -w), (el, -w), Side.BELOW, entry="length", feature="plate", order=0),
        Dimension("width", (-el, -w), (-el, w), Side.LEFT, entry="width", feature="plate", order=1),
    )


def _ordinates(s: FixturePlateSizes) -> tuple[Dimension, ...]:
    """The bolts' distances: what has to meet the slots."""
    found = []
    xs = sorted({round(b.x, 3) for b in s.bolts})
    ys = sorted({round(b.y, 3) for b in s.bolts})
    el, w = s.length / 2, s.width / 2
    if len(xs) > 1:
        found.append(Dimension("bolts_x", (xs[0], w), (xs[-1], w), Side.ABOVE, feature="bolts", suffix="bolts", order=5))
    if len(ys) > 1:
        found.append(Dimension("bolts_y", (el, ys[0]), (el, ys[-1]), Side.RIGHT, feature="bolts", order=6))
    return tuple(found)


def _handles(s: FixturePlateSizes) -> tuple[Handle, ...]:
    el, w = s.length / 2, s.width / 2
    if s.v.word("datum") == "corner":
        return ()  # stretching it would move every hole from the datum's corner
    most_x, most_y = max((abs(h.x) + h.d for h in s.holes), default=10.0), max((abs(h.y) + h.d for h in s.holes), default=10.0)
    grid = s.v.word("pattern").startswith("grid")
    least_x = 20.0 if grid and not s.bolts else round(2 * most_x)
    least_y = 20.0 if grid and not s.bolts else round(2 * most_y)
    return (
        *(
            Handle(
                "length",
                (k * el, -w),
                (k * el, w),
                (k, 0.0),
                2.0,
                1.0,
                least_x,
                2000.0,
                "a hole needs metal round it",
                "longer than any table here",
                "plate",
                value=s.length,
            )
            for k in (-1.0, 1.0)
        ),
        *(
            Handle(
                "width",
                (-el, k * w),
                (el, k * w),
                (0.0, k),
                2.0,
                1.0,
                least_y,
                1500.0,
                "a hole needs metal round it",
                "wider than any table here",
                "plate",
                value=s.width,
            )
            for k in (-1.0, 1.0)
        ),
    )


def _spots(s: FixturePlateSizes) -> tuple[MovablePoint, ...]:
    """Bolts, pins and typed work holes can be taken up; bolts settle on the slots."""
    start = 0.0 if s.v.word("centred_over") == "slot" else s.pitch / 2
    slots = [start + i * s.pitch for i in range(-12, 13)] if s.pitch and not s.ring else []
    origin = (s.x0, s.y0)
    found = spots(s.bolts, "bolts", s.holes, origin=origin, lines_y=slots, ring=s.ring)
    found += spots(s.pins, "pin_positions", s.holes, origin=origin)
    if not s.v.word("pattern").startswith("grid") and s.v.word("mirrored") != "yes":
        found += spots(s.work_holes, "pattern", s.holes, origin=origin)
    return found


def top(s: FixturePlateSizes) -> Scene:
    """Every hole, from above."""
    return Scene(
        "top",
        "Top",
        (box(-s.length / 2, -s.width / 2, s.length / 2, s.width / 2, Style.BODY, "plate"), *_face(s)),
        (*_sizes(s), *_ordinates(s)),
        _handles(s),
    )


def front(s: FixturePlateSizes) -> Scene:
    """From the front."""
    el = s.length / 2
    found: list[Element] = [
        box(-el, 0, el, s.thickness, Style.BODY, "plate"),
        box(-el, 0, el, s.thickness, Style.VISIBLE, "plate"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.x)
    dims = (Dimension("thickness", (el, 0), (el, s.thickness), Side.RIGHT, entry="thickness", feature="plate", order=2),)
    handle = Handle(
        "thickness",
        (-el, s.thickness),
        (el, s.thickness),
        (0.0, 1.0),
        1.0,
        1.0,
        max(5.0, math.ceil(s.thickness - s.floor + 1)),
        120.0,
        "the counterbored heads need it",
        "heavier than it need be",
        "plate",
    )
    return Scene("front", "Front", tuple(found), dims, (handle,))


def side(s: FixturePlateSizes) -> Scene:
    """From the right end."""
    w = s.width / 2
    found: list[Element] = [box(-w, 0, w, s.thickness, Style.BODY, "plate"), box(-w, 0, w, s.thickness, Style.VISIBLE, "plate")]
    found += hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.y)
    return Scene("side", "Right end", tuple(found))
