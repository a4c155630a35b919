"""A soft jaw drawn: with its work in the vise, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Span, circles, hidden_lines
from elbrix.design.families.soft_jaw.nest import beyond
from elbrix.design.families.soft_jaw.sizes import SoftJawSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.geometry.shapes import circle


def end(s: SoftJawSizes) -> tuple[Point, ...]:
    """The jaw from its right end: y to the right behind its face, z up."""
    t, h = s.thickness, s.height
    if s.kind == "ledge":
        return ((0, 0), (t, 0), (t, h), (s.ledge, h), (s.ledge, s.seat), (0, s.seat))
    if s.kind == "vee":
        m, z = s.v_mouth / 2, s.v_up
        return ((0, 0), (t, 0), (t, h), (0, h), (0, z + m), (s.v_depth, z), (0, z - m))
    return ((0, 0), (t, 0), (t, h), (0, h))


def in_place(s: SoftJawSizes) -> Scene:
    return _from_above(s) if s.kind in ("round", "outline") else _from_the_end(s)


def _from_the_end(s: SoftJawSizes) -> Scene:
    """Both jaws from the end with the work between: grip, seat, bed."""
    pair = s.v.word("jaws") == "pair"
    d, top = s.work_depth, s.seat + s.v.number("work_height")
    if s.kind == "vee":
        gap = d / math.sin(s.v_half) - 2 * s.v_depth if pair else d / 2 * (1 + 1 / math.sin(s.v_half)) - s.v_depth
        gap = max(gap, 0.0)
    else:
        gap = max(0.0, d - (s.ledge * (2 if pair else 1) if s.kind == "ledge" else 0.0))
    right = tuple((y + gap / 2, z) for y, z in end(s))
    out = s.thickness + gap / 2
    host = max(14.0, 0.5 * s.thickness)
    found: list[Element] = [
        box(-out - host, -host * 0.7, out + host, 0, Style.SURROUNDINGS_SECTION, "vise"),
        box(out, 0, out + host, s.height * 0.96, Style.SURROUNDINGS_SECTION, "vise"),
        Path(right, Style.BODY, "jaw", closed=True),
        Path(right, Style.VISIBLE, "jaw", closed=True),
    ]
    left_at = -gap / 2
    if pair:
        left = tuple((-y, z) for y, z in right)
        found += [Path(left, Style.BODY, "jaw", closed=True), Path(left, Style.VISIBLE, "jaw", closed=True)]
        left_at = -out
    found.append(box(left_at - host, 0, left_at, s.height * 0.96, Style.SURROUNDINGS_SECTION, "vise"))
    if s.kind == "vee":
        x = gap / 2 + s.v_depth - d / 2 / math.sin(s.v_half)
        found.append(Arc((x, s.v_up), d / 2, style=Style.SURROUNDINGS, feature="work"))
    else:
        reach = gap / 2 + (s.ledge if s.kind == "ledge" else 0.0)
        found.append(box(-reach if pair else -gap / 2, s.seat, reach, top, Style.SURROUNDINGS, "work"))
    if s.kind == "pins":
        long = s.thickness * 0.9
        for sign in (1, -1) if pair else (1,):
            a, b = sign * (gap / 2 - s.v.number("pin_protrusion")), sign * (gap / 2 + long)
            found.append(box(min(a, b), s.pin_up - s.pin / 2, max(a, b), s.pin_up + s.pin / 2, Style.HIDDEN, "pins"))
    if s.kind == "plain":
        found += [box(k * gap * 0.3 - 3, 0, k * gap * 0.3 + 3, s.seat, Style.SURROUNDINGS, "parallel") for k in (-1, 1)]
    span = Span(gap / 2, gap / 2 + s.thickness, "xz")
    found += hidden_lines(s.screws[:1], span, lambda p, y: (y, p), lambda h: h.y)
    found += [Note((out + 2, s.height * 0.96 + 3), "fixed jaw", quiet=True), Note((0, -host * 0.45), "bed", quiet=True, align=0)]
    if s.kind != "vee":
        found.append(
            Note(
                (out + host + 26, s.seat + s.grip * 0.5),
                "{value} grip",
                leader=(gap / 2, s.seat + s.grip * 0.5),
                feature="grip_height",
                figure="grip_height",
            )
        )
    dims = [
        Dimension("height", (out + host, 0), (out + host, s.height), Side.RIGHT, entry="height", feature="jaw", order=1),
        Dimension("thickness", (gap / 2, -host * 0.7), (out, -host * 0.7), Side.BELOW, entry="thickness", feature="jaw", order=2),
        Dimension("seat", (-out - host, 0), (-out - host, s.seat), Side.LEFT, feature="grip_height"),
    ]
    if s.kind == "ledge":
        dims.append(
            Dimension(
                "ledge_depth",
                (gap / 2, s.height),
                (gap / 2 + s.ledge, s.height),
                Side.ABOVE,
                entry="ledge_depth",
                feature="ledge",
                order=3,
            )
        )
    if s.kind == "vee":
        dims.append(
            Dimension(
                "v_width",
                (out, s.v_up - s.v_mouth / 2),
                (out, s.v_up + s.v_mouth / 2),
                Side.RIGHT,
                entry="v_width",
                feature="v",
                order=3,
            )
        )
    handles = [
        Handle(
            "height",
            (gap / 2, s.height),
            (out, s.height),
            (0.0, 1.0),
            1.0,
            0.5,
            math.ceil(s.screws[0].y + s.screws[0].bore / 2 + 2),
            250.0,
            "the screws' heads are there",
            "higher than any vise backs",
            "jaw",
            value=s.height,
        ),
        Handle(
            "thickness",
            (out, 0),
            (out, s.height),
            (1.0, 0.0),
            1.0,
            1.0,
            math.ceil(max(s.recess, s.screws[0].bore_depth) + 2),
            120.0,
            "the recess and the heads need it",
            "the vise opens no farther",
            "jaw",
            value=s.thickness,
        ),
    ]
    if s.kind != "plain":
        handles.append(
            Handle(
                "grip_height",
                (gap / 2, s.seat),
                (gap / 2 + max(s.recess, 2.0), s.seat),
                (0.0, -1.0),
                1.0,
                0.5,
                0.5,
                max(1.0, s.height - 2),
                "something has to be held",
                "the bed is there",
                "grip_height",
                value=s.grip,
            )
        )
    return Scene("in place", "In the vise, from the right end", tuple(found), tuple(dims), tuple(handles))


def _from_above(s: SoftJawSizes) -> Scene:
    """Both jaws from above, apart by the spacer they are cut on, with the work in its nest."""
    w, g, t = s.width / 2, s.spacer / 2, s.thickness
    host = max(10.0, 0.4 * t)
    rings = (circle(s.nest_r, 96),) if s.kind == "round" else s.nest.rings
    found: list[Element] = [
        box(-w - 4, g + t, w + 4, g + t + host, Style.SURROUNDINGS_SECTION, "vise"),
        box(-w - 4, -g - t - host, w + 4, -g - t, Style.SURROUNDINGS_SECTION, "vise"),
    ]
    for sign, moving in ((1.0, False), (-1.0, True)):
        low, high = sorted((sign * g, sign * (g + t)))
        found += [box(-w, low, w, high, Style.BODY, "jaw"), box(-w, low, w, high, Style.VISIBLE, "jaw")]
        for ring in beyond(rings, s.spacer, moving):
            placed = tuple((sign * x, sign * (y + g)) for x, y in ring)
            found += [Path(placed, Style.SECTION, "nest", closed=True), Path(placed, Style.VISIBLE, "nest", closed=True)]
    if s.kind == "round":
        found.append(Arc((0, 0), s.work_depth / 2, style=Style.SURROUNDINGS, feature="work"))
    else:
        found.append(Path(s.ring, Style.SURROUNDINGS, "work", closed=True))
        found += [Arc(p, s.v.number("cutter_diameter") / 2, style=Style.HIDDEN, feature="nest") for p in s.nest.reliefs]
    found += [
        Line((-w - 8, 0), (w + 8, 0), Style.CENTRE),
        Line((0, -g - t - host), (0, g + t + host), Style.CENTRE),
        Note((-w, g + t + host * 0.35), "fixed jaw", quiet=True),
        Note((-w, -g - t - host * 0.65), "moving jaw", quiet=True),
    ]
    dims = [
        Dimension("length", (-w, -g - t - host), (w, -g - t - host), Side.BELOW, entry="length", feature="jaw", order=1),
        Dimension("thickness", (w, g), (w, g + t), Side.RIGHT, entry="thickness", feature="jaw", order=2),
        Dimension("spacer", (-w, -g), (-w, g), Side.LEFT, entry="spacer", suffix="spacer", feature="nest", order=3),
    ]
    if s.kind == "round":
        dims.append(
            Dimension(
                "work_width",
                (0, 0),
                (0.36 * s.work_depth, 0.2 * s.work_depth),
                Side.AT,
                value_mm=s.work_depth,
                prefix="Ø",
                entry="work_width",
                feature="work",
                order=0,
            )
        )
    handle = Handle(
        "thickness",
        (-w, g + t),
        (w, g + t),
        (0.0, 1.0),
        1.0,
        1.0,
        math.ceil(max(s.recess, s.screws[0].bore_depth) + 2),
        120.0,
        "the nest and the heads need it",
        "the vise opens no farther",
        "jaw",
        value=t,
    )
    return Scene("in place", "In the vise, from above, closed on the spacer", tuple(found), tuple(dims), (handle,))


def front(s: SoftJawSizes) -> Scene:
    """The face toward the work."""
    w, h = s.width / 2, s.height
    found: list[Element] = [box(-w, 0, w, h, Style.BODY, "jaw"), box(-w, 0, w, h, Style.VISIBLE, "jaw")]
    if s.kind == "ledge":
        found.append(Line((-w, s.seat), (w, s.seat), Style.VISIBLE, "ledge"))
    if s.kind == "vee":
        found += [Line((-w, z), (w, z), Style.VISIBLE, "v") for z in (s.v_up - s.v_mouth / 2, s.v_up, s.v_up + s.v_mouth / 2)]
    for ring in s.recesses:
        half = [x for x, y in ring if y < 0.01]
        if half:
            found.append(Path(((min(half), h), (min(half), s.seat), (max(half), s.seat), (max(half), h)), Style.VISIBLE, "nest"))
    found += [*circles(s.holes), Line((0, -4), (0, h + 4), Style.CENTRE)]
    v = s.v
    dims = [
        Dimension("length", (-w, 0), (w, 0), Side.BELOW, entry="length", feature="jaw"),
        Dimension("height", (-w, 0), (-w, h), Side.LEFT, entry="height", feature="jaw"),
        Dimension(
            "screw_height",
            (w, 0),
            (w, v.number("screw_height")),
            Side.RIGHT,
            entry="screw_height",
            feature="screws",
            step_mm=0.01,
        ),
        Dimension(
            "screw_spacing",
            (-v.number("screw_spacing") / 2, h),
            (v.number("screw_spacing") / 2, h),
            Side.ABOVE,
            entry="screw_spacing",
            feature="screws",
            step_mm=0.01,
        ),
    ]
    if s.kind == "pins":
        dims += [
            Dimension(
                "pin_spacing",
                (-v.number("pin_spacing") / 2, h),
                (v.number("pin_spacing") / 2, h),
                Side.ABOVE,
                entry="pin_spacing",
                feature="pins",
            ),
            Dimension("pin_up", (w, 0), (w, s.pin_up), Side.RIGHT, feature="pins", step_mm=0.01),
        ]
    elif s.kind != "plain":
        dims.append(Dimension("seat", (w, 0), (w, s.v_up if s.kind == "vee" else s.seat), Side.RIGHT, feature="grip_height"))
    return Scene("front", "Face", tuple(found), tuple(dims))


def top(s: SoftJawSizes) -> Scene:
    """From above: the recess, and the holes hidden."""
    w, t = s.width / 2, s.thickness
    found: list[Element] = [box(-w, 0, w, t, Style.BODY, "jaw"), box(-w, 0, w, t, Style.VISIBLE, "jaw")]
    if s.kind in ("ledge", "vee"):
        found.append(Line((-w, s.recess), (w, s.recess), Style.VISIBLE if s.kind == "ledge" else Style.HIDDEN, "ledge"))
    found += [Path(r, Style.VISIBLE, "nest", closed=True) for r in s.recesses]
    found += hidden_lines(s.holes, Span(0.0, t, "xz"), lambda p, y: (p, y), lambda h: h.x)
    dims = [Dimension("thickness", (-w, 0), (-w, t), Side.LEFT, entry="thickness", feature="jaw")]
    if s.kind in ("ledge", "vee", "round", "outline"):
        dims.append(Dimension("recess", (w, 0), (w, s.recess), Side.RIGHT, feature="nest", step_mm=0.01))
    if s.kind == "round":
        dims.append(Dimension("centre", (-w, -s.spacer / 2), (-w, 0), Side.LEFT, feature="nest", step_mm=0.01))
    return Scene("top", "Top", tuple(found), tuple(dims))


def side(s: SoftJawSizes) -> Scene:
    """From the right end."""
    ring = end(s)
    found: list[Element] = [Path(ring, Style.BODY, "jaw", closed=True), Path(ring, Style.VISIBLE, "jaw", closed=True)]
    if s.recesses:
        found += [
            Line((0, s.seat), (s.recess, s.seat), Style.HIDDEN, "nest"),
            Line((s.recess, s.seat), (s.recess, s.height), Style.HIDDEN, "nest"),
        ]
    found += hidden_lines(s.holes, Span(0.0, s.thickness, "xz"), lambda p, y: (y, p), lambda h: h.y)
    dims = (
        (Dimension("ledge_depth", (0, s.height), (s.ledge, s.height), Side.ABOVE, entry="ledge_depth", feature="ledge"),)
        if s.kind == "ledge"
        else (
            Dimension(
                "v_width", (0, s.v_up - s.v_mouth / 2), (0, s.v_up + s.v_mouth / 2), Side.LEFT, entry="v_width", feature="v"
            ),
        )
        if s.kind == "vee"
        else ()
    )
    return Scene("side", "Right end", tuple(found), dims)
