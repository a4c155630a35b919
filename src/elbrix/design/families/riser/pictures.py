"""A riser drawn: bolted to its slots, from the end, and each plate from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Hole, Span, circles, hidden_lines
from elbrix.design.families.riser.sizes import RiserSizes
from elbrix.design.moving import spots
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Scene, Side, Style, box


def in_place(s: RiserSizes) -> Scene:
    """From the end of the slots: table, plates, bolts down to the slots, load line."""
    w, a = s.width / 2, s.v.readings("neck").min / 2
    t, pitch = s.v.readings("lip").min, s.v.number("slot_pitch")
    deep = 2.2 * t
    out = max(w + 14, pitch * 0.8)
    start = 0.0 if s.v.word("centred_over") == "slot" or not pitch else pitch / 2
    slots = [start + i * pitch for i in range(-8, 9) if abs(start + i * pitch) < out - 2 * a] if pitch else [0.0]
    ring = [(-out, 0.0)]
    for y in sorted(slots):
        ring += [
            (y - a, 0.0),
            (y - a, -t),
            (y - 1.7 * a, -t),
            (y - 1.7 * a, -deep),
            (y + 1.7 * a, -deep),
            (y + 1.7 * a, -t),
            (y + a, -t),
            (y + a, 0.0),
        ]
    ring += [(out, 0.0), (out, -deep - 6), (-out, -deep - 6)]
    found: list[Element] = [Path(tuple(ring), Style.SURROUNDINGS_SECTION, "slots", closed=True)]
    levels = [(0.0, s.lower)] + ([(s.lower, s.height)] if s.two else [])
    for low, high in levels:
        found += [box(-w, low, w, high, Style.BODY, "plate"), box(-w, low, w, high, Style.VISIBLE, "plate")]
    found += _through(s)
    load = (s.v.number("load_y"), s.height)
    found += [
        Line((load[0], s.height + 0.5 * s.height + 12), load, Style.TOOL, "load"),
        Path(((load[0] - 2, s.height + 6), load, (load[0] + 2, s.height + 6)), Style.TOOL, "load"),
        Note((load[0] + 3, s.height + 0.4 * s.height + 12), "load", feature="load"),
    ]
    dims = [
        Dimension("lower", (-w, 0), (-w, s.lower), Side.LEFT, entry="lower", feature="height", order=1),
        Dimension("height", (w, 0), (w, s.height), Side.RIGHT, feature="height", step_mm=0.01),
    ]
    if s.two:
        dims.append(Dimension("upper", (-w, s.lower), (-w, s.height), Side.LEFT, entry="upper", feature="height", order=2))
    dims.append(Dimension("width", (-w, s.height), (w, s.height), Side.ABOVE, entry="width", feature="plate", order=3))
    if pitch and len(slots) > 1:
        found.append(Note((-out, -deep - 12), "slots {value} apart", feature="slots", figure="slot_pitch"))
    return Scene("in place", "On the table, along the slots", tuple(found), tuple(dims), _handles(s))


def _through(s: RiserSizes) -> list[Element]:
    """Bolts down to the lips, joining screws into the lower plate."""
    found: list[Element] = []
    lip = s.v.readings("lip").min
    for y in sorted({round(b.y, 3) for b in s.bolts}):
        b = s.bolts[0]
        r = b.drill / 2
        found += [Line((y + k * r, s.height - b.bore_depth), (y + k * r, 0), Style.HIDDEN, "bolts") for k in (-1, 1)]
        found.append(
            Path(
                (
                    (y - b.bore / 2, s.height),
                    (y - b.bore / 2, s.height - b.bore_depth),
                    (y + b.bore / 2, s.height - b.bore_depth),
                    (y + b.bore / 2, s.height),
                ),
                Style.HIDDEN,
                "bolts",
            )
        )
        found.append(Line((y, s.height + 4), (y, -lip - 6), Style.CENTRE, "bolts"))
    for y in sorted({round(j.y, 3) for j in s.joins}):
        j = s.joins[0]
        found += [
            Line(
                (y + k * j.drill / 2, s.height - j.bore_depth), (y + k * j.drill / 2, s.lower), Style.HIDDEN, "joining_positions"
            )
            for k in (-1, 1)
        ]
        d = float(s.v.word("joining_screw")[1:])
        found += [Line((y + k * d / 2, s.lower), (y + k * d / 2, 0), Style.THREAD, "joining_positions") for k in (-1, 1)]
    if s.register:
        r = s.register / 2
        found.append(
            Path(
                ((-r, s.height), (-r, s.height - s.register_depth), (r, s.height - s.register_depth), (r, s.height)),
                Style.HIDDEN,
                "register_diameter",
            )
        )
    return found


def _handles(s: RiserSizes) -> tuple[Handle, ...]:
    w = s.width / 2
    least = math.ceil(2 * max((abs(h.y) + h.mouth / 2 + 1 for h in (*s.bolts, *s.joins, *s.tops)), default=10))
    found = [
        Handle(
            "width",
            (k * w, 0),
            (k * w, s.height),
            (k, 0.0),
            2.0,
            1.0,
            least,
            800.0,
            "its holes need metal",
            "wider than it need be",
            "plate",
            value=s.width,
        )
        for k in (-1.0, 1.0)
    ]
    name, low = ("upper", s.lower) if s.two else ("lower", 0.0)
    found.append(
        Handle(
            name,
            (-w, s.height),
            (w, s.height),
            (0.0, 1.0),
            1.0,
            0.1,
            math.ceil(max((h.bore_depth for h in (*s.bolts, *s.joins)), default=4) + 2),
            200.0,
            "counterbored heads need it",
            "heavier than it need be",
            "height",
            value=s.height - low,
        )
    )
    return tuple(found)


def top(s: RiserSizes) -> Scene:
    """The drawn plate from above."""
    el, w = s.length / 2, s.width / 2
    found: list[Element] = [
        box(-el, -w, el, w, Style.BODY, "plate"),
        box(-el, -w, el, w, Style.VISIBLE, "plate"),
        *circles(s.holes),
    ]
    found += [Line((-el - 4, 0), (el + 4, 0), Style.CENTRE), Line((0, -w - 4), (0, w + 4), Style.CENTRE)]
    if s.part == "upper":
        found.append(Arc((s.v.number("load_x"), s.v.number("load_y")), 2.0, style=Style.TOOL, feature="load"))
    dims = [
        Dimension("length", (-el, -w), (el, -w), Side.BELOW, entry="length", feature="plate"),
        Dimension("width", (-el, -w), (-el, w), Side.LEFT, entry="width", feature="plate"),
    ]
    for key, along in (("bolts_x", 0), ("bolts_y", 1)):
        at = sorted({round((b.x, b.y)[along], 3) for b in s.bolts})
        if len(at) > 1:
            a, b = ((at[0], w), (at[-1], w)) if along == 0 else ((el, at[0]), (el, at[-1]))
            dims.append(Dimension(key, a, b, Side.ABOVE if along == 0 else Side.RIGHT, feature="bolts"))
    handle = Handle(
        "length",
        (el, -w),
        (el, w),
        (1.0, 0.0),
        2.0,
        1.0,
        math.ceil(2 * max((abs(h.x) + h.mouth / 2 + 1 for h in s.holes), default=10)),
        1000.0,
        "its holes need metal",
        "longer than it need be",
        "plate",
        value=s.length,
    )
    pitch = s.v.number("slot_pitch")
    start = 0.0 if s.v.word("centred_over") == "slot" else pitch / 2
    slots = [start + i * pitch for i in range(-8, 9)] if pitch else []
    taken = (*s.bolts, *s.joins, *s.tops)
    spotted = (
        (
            *spots(s.bolts, "bolts", taken, lines_y=slots),
            *spots(s.joins, "joining_positions", taken),
            *spots(s.tops, "top_positions", taken),
        )
        if s.part == "upper"
        else ()
    )
    return Scene("top", "Top", tuple(found), tuple(dims), (handle,), spotted)


def _edge(s: RiserSizes, half: float, along: int, name: str, title: str, dims: tuple[Dimension, ...] = ()) -> Scene:
    def at(h: Hole) -> float:
        return (h.x, h.y)[along]

    found: list[Element] = [
        box(-half, 0, half, s.thickness, Style.BODY, "plate"),
        box(-half, 0, half, s.thickness, Style.VISIBLE, "plate"),
    ]
    found += hidden_lines(s.holes, Span(0.0, s.thickness), lambda p, z: (p, z), at)
    return Scene(name, title, tuple(found), dims)


def front(s: RiserSizes) -> Scene:
    el = s.length / 2
    entry = "lower" if s.part == "lower" or not s.two else "upper"
    return _edge(
        s, el, 0, "front", "Front", (Dimension(entry, (el, 0), (el, s.thickness), Side.RIGHT, entry=entry, feature="height"),)
    )


def side(s: RiserSizes) -> Scene:
    return _edge(s, s.width / 2, 1, "side", "Right end")
