"""Clamps and supports drawn: in use, and from three sides."""

from __future__ import annotations

from elbrix.design.families.clamp.sizes import CUP, HEEL_END_MM, NOSE_MM, ClampSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.mechanics.drilling import point_mm, tapped_mm

_TITLES = {
    "strap": "Over work and heel, the stud between",
    "toe": "Bolted beside the work, its toe against it",
    "step": "A strap's heel on one of its steps",
    "heel": "Under a strap's heel",
    "jack": "Under the work",
}


def in_place(s: ClampSizes) -> Scene:
    around = {"strap": _strap_used, "toe": _toe_used, "step": _step_used, "heel": _heel_used, "jack": _jack_used}[s.kind](s)
    own = _stairs(s) if s.kind == "step" else _side_on(s, whole=True)
    return Scene("in place", _TITLES[s.kind], (*around, *own), _used_sizes(s), _handles(s))


# --- in use -----------------------------------------------------------------------------------------------------------


def _strap_used(s: ClampSizes) -> list[Element]:
    """Work under the tip, a block under the heel, the stud where it stands worst."""
    table, stud, d = -0.8 * s.length * 0.45, NOSE_MM + s.tip_arm, s.stud.major_mm
    heel = s.length - HEEL_END_MM
    return [
        Line((-40, table), (s.length + 30, table), Style.SURROUNDINGS, "slot"),
        box(-40, table, 0.9 * s.pad, 0, Style.SURROUNDINGS_SECTION, "work"),
        box(heel - 12, table, heel + 12, 0, Style.SURROUNDINGS, "load"),
        box(stud - d / 2, table - 12, stud + d / 2, s.height + 1.6 * d, Style.SURROUNDINGS, "slot_width"),
        box(stud - 0.9 * d, s.height, stud + 0.9 * d, s.height + 0.9 * d, Style.SURROUNDINGS, "slot_width"),
        Note((-20, table / 2), "work", quiet=True, align=0),
        Note((heel + 16, table / 2), "heel", quiet=True),
        Note((-4, s.height + 6), "{value} on the work", feature="tip", figure="tip_force", align=1),
    ]


def _toe_used(s: ClampSizes) -> list[Element]:
    """Body, bolt, push screw, toe and the work, from the side; the head of the screw stands out by its height."""
    d, m = s.stud.major_mm, s.screw.major_mm
    head, bolt = 0.65 * m, (s.start + s.end) / 2
    x0 = s.length + head
    a, b = (x0, s.push_height), (x0 + (s.toe_length**2 - (s.push_height - s.contact) ** 2) ** 0.5, s.contact)
    ux, uz = (b[0] - a[0]) / s.toe_length, (b[1] - a[1]) / s.toe_length
    half = s.toe_thickness / 2
    toe = tuple((p[0] - k * uz * half, p[1] + k * ux * half) for p, k in ((a, -1), (b, -1), (b, 1), (a, 1)))
    high = max(s.height, s.contact + s.toe_thickness) + 10
    return [
        Line((-25, 0), (b[0] + 60, 0), Style.SURROUNDINGS, "slot"),
        box(b[0], 0, b[0] + 50, high, Style.SURROUNDINGS_SECTION, "work"),
        box(bolt - d / 2, -12, bolt + d / 2, s.height + 1.2 * d, Style.SURROUNDINGS, "slot_width"),
        box(bolt - 0.9 * d, s.height, bolt + 0.9 * d, s.height + 0.9 * d, Style.SURROUNDINGS, "slot_width"),
        box(s.length, s.push_height - 0.85 * m, x0, s.push_height + 0.85 * m, Style.SURROUNDINGS, "push"),
        Path(toe, Style.BODY, "toe", closed=True),
        Path(toe, Style.VISIBLE, "toe", closed=True),
        Line(a, b, Style.CENTRE, "toe"),
        Note((b[0] + 25, high / 2), "work", quiet=True, align=0),
        Note(((a[0] + b[0]) / 2, a[1] + s.toe_thickness + 8), "{value} down", feature="toe", figure="down_angle", align=0),
    ]


def _step_used(s: ClampSizes) -> list[Element]:
    i = s.steps // 2
    _low, high = s.tread_at(i)
    z = s.heights[i]
    return [
        Line((-s.depth / 2 - 30, 0), (s.depth / 2 + 30, 0), Style.SURROUNDINGS, "slot"),
        box(-s.depth / 2 - 40, z, high, z + 14, Style.SURROUNDINGS, "load"),
        Note((-s.depth / 2 - 36, z + 7), "strap", quiet=True),
    ]


def _heel_used(s: ClampSizes) -> list[Element]:
    return [
        Line((-20, 0), (s.length + 40, 0), Style.SURROUNDINGS, "slot"),
        box(s.length * 0.3, s.height, s.length + 50, s.height + 14, Style.SURROUNDINGS, "load"),
        Note((s.length + 40, s.height + 7), "strap", quiet=True, align=1),
    ]


def _jack_used(s: ClampSizes) -> list[Element]:
    wide, m = s.width + 20, s.screw.major_mm
    up = (s.jack_least + s.jack_most) / 2
    k = up - s.head_height
    return [
        Line((-wide, 0), (wide, 0), Style.SURROUNDINGS, "slot"),
        box(-wide, up, wide, up + 16, Style.SURROUNDINGS_SECTION, "work"),
        box(-0.85 * m, k, 0.85 * m, up, Style.SURROUNDINGS, "push"),
        box(-m / 2, k - s.v.number("screw_length"), m / 2, k, Style.SURROUNDINGS, "push"),
        Note((wide - 3, up + 8), "work", quiet=True, align=1),
    ]


# --- the thing itself -------------------------------------------------------------------------------------------------


def _side_on(s: ClampSizes, *, whole: bool = False) -> list[Element]:
    """From the front: x along, z up."""
    if s.kind == "jack":
        return _jack_body(s)
    if s.toe and not whole:
        return _toe_body(s)
    if s.kind == "strap" and s.relief:
        a, b, r = s.pad, s.length - s.pad_heel, s.relief
        ring: tuple[Point, ...] = ((0, 0), (a, 0), (a, r), (b, r), (b, 0), (s.length, 0), (s.length, s.height), (0, s.height))
    else:
        ring = ((0, 0), (s.length, 0), (s.length, s.height), (0, s.height))
    found: list[Element] = [Path(ring, Style.BODY, "body", closed=True), Path(ring, Style.VISIBLE, "body", closed=True)]
    if s.kind in ("strap", "toe"):
        r = s.slot / 2
        found += [
            Line((x, 0 if s.kind == "toe" else s.relief), (x, s.height), Style.HIDDEN, "slot_width")
            for x in (s.start - r, s.end + r)
        ]
    if s.kind == "toe":
        found += _push_hole(s)
    return found


def _push_hole(s: ClampSizes) -> list[Element]:
    """The blind tapped hole of a push screw, from the front end."""
    drill, deep = s.screw.tap_drill[1], tapped_mm(s.thread_deep, s.screw.pitch_mm)
    z, x = s.push_height, s.length
    end = x - deep
    return [
        *(Line((x, z + k * drill / 2), (end, z + k * drill / 2), Style.HIDDEN, "push") for k in (-1, 1)),
        Path(((end, z - drill / 2), (end - point_mm(drill), z), (end, z + drill / 2)), Style.HIDDEN, "push"),
        *(
            Line((x, z + k * s.screw.major_mm / 2), (x - s.thread_deep, z + k * s.screw.major_mm / 2), Style.THREAD, "push")
            for k in (-1, 1)
        ),
        Line((end - 4, z), (x + 4, z), Style.CENTRE, "push"),
    ]


def cup(s: ClampSizes) -> float:
    """Ø of the cup in a toe's end for the head of the push screw."""
    return min(round(0.6 * s.toe_thickness, 1), round(s.screw.major_mm, 1))


def _toe_body(s: ClampSizes) -> list[Element]:
    t, c = s.toe_thickness, cup(s)
    return [
        box(0, 0, s.toe_length, t, Style.BODY, "toe"),
        box(0, 0, s.toe_length, t, Style.VISIBLE, "toe"),
        *(Line((0, t / 2 + k * c / 2), (CUP, t / 2 + k * c / 2), Style.HIDDEN, "toe") for k in (-1, 1)),
        Path(((CUP, t / 2 - c / 2), (CUP + point_mm(c), t / 2), (CUP, t / 2 + c / 2)), Style.HIDDEN, "toe"),
        Line((-4, t / 2), (CUP + c + 4, t / 2), Style.CENTRE, "toe"),
    ]


def _jack_body(s: ClampSizes) -> list[Element]:
    r, drill = s.width / 2, s.screw.tap_drill[1] / 2
    c = chamfer(s)
    ring = (
        (-r + c, 0),
        (r - c, 0),
        (r, c),
        (r, s.height - c),
        (r - c, s.height),
        (-r + c, s.height),
        (-r, s.height - c),
        (-r, c),
    )
    return [
        Path(ring, Style.BODY, "body", closed=True),
        Path(ring, Style.VISIBLE, "body", closed=True),
        *(Line((-r, z), (r, z), Style.VISIBLE, "body") for z in (c, s.height - c)),
        *(Line((k * drill, 0), (k * drill, s.height), Style.HIDDEN, "push") for k in (-1, 1)),
        *(Line((k * s.screw.major_mm / 2, 0), (k * s.screw.major_mm / 2, s.height), Style.THREAD, "push") for k in (-1, 1)),
        Line((0, -4), (0, s.height + 4), Style.CENTRE),
    ]


def chamfer(s: ClampSizes) -> float:
    """Leg of the broken edges of a jack's body."""
    return min(1.0, s.height / 6)


def stairs(s: ClampSizes) -> tuple[Point, ...]:
    """The outline of a step block: (y, z), the lowest step at −y."""
    found: list[Point] = [(-s.depth / 2, 0.0)]
    for i, z in enumerate(s.heights):
        low, high = s.tread_at(i)
        found += [(low, z), (high, z)]
    return (*found, (s.depth / 2, 0.0))


def _stairs(s: ClampSizes) -> list[Element]:
    ring = stairs(s)
    return [Path(ring, Style.BODY, "body", closed=True), Path(ring, Style.VISIBLE, "steps", closed=True)]


def _used_sizes(s: ClampSizes) -> tuple[Dimension, ...]:
    if s.kind == "step":
        return _stair_sizes(s)
    if s.kind == "jack":
        return _jack_sizes(s)
    dims = [
        Dimension("length", (0, 0), (s.length, 0), Side.BELOW, entry="length", feature="body", order=0),
        Dimension("height", (s.length, 0), (s.length, s.height), Side.RIGHT, entry="height", feature="height", order=2),
    ]
    if s.kind == "strap":
        stud = NOSE_MM + s.tip_arm
        dims.append(
            Dimension(
                "stud_to_tip", (NOSE_MM, s.height), (stud, s.height), Side.ABOVE, entry="stud_to_tip", feature="tip", order=1
            )
        )
        dims[1] = Dimension("height", (0, 0), (0, s.height), Side.LEFT, entry="height", feature="height", order=2)
    if s.kind == "toe":
        dims[1] = Dimension("height", (0, 0), (0, s.height), Side.LEFT, entry="height", feature="height", order=2)
        m = 0.65 * s.screw.major_mm
        b = s.length + m + (s.toe_length**2 - (s.push_height - s.contact) ** 2) ** 0.5
        dims += [
            Dimension(
                "push_height", (s.length, 0), (s.length, s.push_height), Side.RIGHT, entry="push_height", feature="push", order=3
            ),
            Dimension("contact_height", (b, 0), (b, s.contact), Side.RIGHT, entry="contact_height", feature="toe", order=4),
        ]
    return tuple(dims)


def _stair_sizes(s: ClampSizes) -> tuple[Dimension, ...]:
    low, high = s.tread_at(0)
    far = s.depth / 2
    return (
        Dimension("height", (far, 0), (far, s.height), Side.RIGHT, entry="height", feature="height", order=0),
        Dimension("treads", (-far, 0), (far, 0), Side.BELOW, feature="steps"),
        Dimension("tread", (low, s.base), (high, s.base), Side.ABOVE, entry="tread", feature="steps", order=2),
        Dimension("rise", (high, s.base), (high, s.base + s.rise), Side.LEFT, entry="rise", feature="steps", order=1),
    )


def _jack_sizes(s: ClampSizes) -> tuple[Dimension, ...]:
    r, m = s.width / 2, s.screw.major_mm / 2
    return (
        Dimension("height", (-r, 0), (-r, s.height), Side.LEFT, entry="height", feature="height", order=0),
        Dimension("width", (-r, 0), (r, 0), Side.BELOW, prefix="Ø", entry="width", feature="body", order=1),
        Dimension(
            "push_screw",
            (-m, s.height),
            (m, s.height),
            Side.ABOVE,
            text=s.screw.shown,
            entry="push_screw",
            feature="push",
            order=2,
        ),
    )


def _handles(s: ClampSizes) -> tuple[Handle, ...]:
    if s.kind in ("step", "jack"):
        r = s.depth / 2 if s.kind == "step" else s.width / 2
        least = (s.steps - 1) * s.rise + 2 if s.kind == "step" else 4.0
        return (
            Handle(
                "height",
                (-r, s.height),
                (r, s.height),
                (0.0, 1.0),
                1.0,
                0.5,
                min(least, s.height),
                200.0,
                "its steps need that height" if s.kind == "step" else "its screw needs thread",
                "higher than it need be",
                "height",
                value=s.height,
            ),
        )
    least = s.end + s.slot / 2 + 2 if s.kind == "strap" else 10.0
    if s.kind == "toe":
        least = s.length - s.thread_deep + 2 * s.screw.pitch_mm
    return (
        Handle(
            "length",
            (s.length, 0),
            (s.length, s.height),
            (1.0, 0.0),
            1.0,
            1.0,
            min(least, s.length),
            400.0,
            "the slot has to be inside it",
            "longer than any strap here",
            "body",
            value=s.length,
        ),
    )


def front(s: ClampSizes) -> Scene:
    if s.kind == "step":
        found: list[Element] = [
            box(0, 0, s.length, s.height, Style.BODY, "body"),
            box(0, 0, s.length, s.height, Style.VISIBLE, "body"),
            *(Line((0, z), (s.length, z), Style.VISIBLE, "steps") for z in s.heights[:-1]),
        ]
        return Scene(
            "front",
            "Front",
            tuple(found),
            (
                Dimension("length", (0, 0), (s.length, 0), Side.BELOW, entry="length", feature="body"),
                Dimension("height", (s.length, 0), (s.length, s.height), Side.RIGHT, entry="height", feature="height"),
                Dimension("base", (0, 0), (0, s.base), Side.LEFT, feature="steps"),
            ),
            _handles(s),
        )
    if s.kind == "jack":
        return Scene("front", "Front", tuple(_jack_body(s)), _jack_sizes(s), _handles(s))
    if s.toe:
        dims: list[Dimension] = [
            Dimension("toe_length", (0, 0), (s.toe_length, 0), Side.BELOW, entry="toe_length", feature="toe"),
            Dimension(
                "toe_thickness",
                (s.toe_length, 0),
                (s.toe_length, s.toe_thickness),
                Side.RIGHT,
                entry="toe_thickness",
                feature="toe",
            ),
        ]
        return Scene("front", "Front of the toe", tuple(_toe_body(s)), tuple(dims))
    dims = [
        Dimension("length", (0, 0), (s.length, 0), Side.BELOW, entry="length", feature="body"),
        Dimension("height", (s.length, 0), (s.length, s.height), Side.RIGHT, entry="height", feature="height"),
    ]
    if s.kind == "toe":
        dims[1] = Dimension("height", (0, 0), (0, s.height), Side.LEFT, entry="height", feature="height")
        dims.append(
            Dimension("push_height", (s.length, 0), (s.length, s.push_height), Side.RIGHT, entry="push_height", feature="push")
        )
    elif s.kind == "strap" and s.relief:
        dims += [
            Dimension("pad", (0, s.height), (s.pad, s.height), Side.ABOVE, entry="pad", feature="tip"),
            Dimension(
                "heel_pad", (s.length - s.pad_heel, s.height), (s.length, s.height), Side.ABOVE, feature="relief", step_mm=0.5
            ),
            Dimension("relief", (0, 0), (0, s.relief), Side.LEFT, entry="relief", feature="relief"),
        ]
    return Scene("front", "Front", tuple(_side_on(s)), tuple(dims), _handles(s))


def top(s: ClampSizes) -> Scene:
    if s.kind == "jack":
        r = s.width / 2
        c = chamfer(s)
        found: list[Element] = [
            Arc((0, 0), r, style=Style.VISIBLE, feature="body"),
            Arc((0, 0), r - c, style=Style.VISIBLE, feature="body"),
            Arc((0, 0), s.screw.tap_drill[1] / 2, style=Style.VISIBLE, feature="push"),
            Arc((0, 0), s.screw.major_mm / 2, 100, 370, Style.THREAD, "push"),
            Line((-1.2 * r, 0), (1.2 * r, 0), Style.CENTRE),
            Line((0, -1.2 * r), (0, 1.2 * r), Style.CENTRE),
        ]
        return Scene("top", "Top", tuple(found))
    if s.kind == "step":
        w = s.depth / 2
        found = [
            box(0, -w, s.length, w, Style.BODY, "body"),
            box(0, -w, s.length, w, Style.VISIBLE, "body"),
            *(Line((0, s.tread_at(i)[1]), (s.length, s.tread_at(i)[1]), Style.VISIBLE, "steps") for i in range(s.steps - 1)),
        ]
        return Scene("top", "Top", tuple(found))
    long = s.toe_length if s.toe else s.length
    w = s.width / 2
    found = [box(0, -w, long, w, Style.BODY, "body"), box(0, -w, long, w, Style.VISIBLE, "body")]
    dims = [Dimension("width", (0, -w), (0, w), Side.LEFT, entry="width", feature="body")]
    if s.toe:
        c = cup(s)
        found += [Line((0, k * c / 2), (CUP, k * c / 2), Style.HIDDEN, "toe") for k in (-1, 1)]
    elif s.kind in ("strap", "toe"):
        r = s.slot / 2
        found += [
            *(Line((s.start, k * r), (s.end, k * r), Style.VISIBLE, "slot_width") for k in (-1, 1)),
            Arc((s.start, 0), r, 90, 270, Style.VISIBLE, "slot_width"),
            Arc((s.end, 0), r, -90, 90, Style.VISIBLE, "slot_width"),
            Line((-4, 0), (long + 4, 0), Style.CENTRE),
        ]
        dims += [
            Dimension("slot_start", (0, w), (s.start, w), Side.ABOVE, entry="slot_start", feature="slot_width", step_mm=0.5),
            Dimension("slot_end", (0, -w), (s.end, -w), Side.BELOW, entry="slot_end", feature="slot_width", step_mm=0.5),
            Dimension("slot_width", (long, -r), (long, r), Side.RIGHT, entry="slot_width", feature="slot_width", step_mm=0.1),
        ]
        if s.kind == "toe":
            drill = s.screw.tap_drill[1] / 2
            end = s.length - tapped_mm(s.thread_deep, s.screw.pitch_mm)
            found += [Line((s.length, k * drill), (end, k * drill), Style.HIDDEN, "push") for k in (-1, 1)]
    return Scene("top", "Top", tuple(found), tuple(dims))


def side(s: ClampSizes) -> Scene:
    if s.kind == "step":
        return Scene("side", "Right end", tuple(_stairs(s)), _stair_sizes(s), _handles(s))
    if s.kind == "jack":
        return Scene("side", "Right", tuple(_jack_body(s)))
    w = s.width / 2
    high = s.toe_thickness if s.toe else s.height
    found: list[Element] = [box(-w, 0, w, high, Style.BODY, "body"), box(-w, 0, w, high, Style.VISIBLE, "body")]
    if s.toe:
        found.append(Arc((0, high / 2), cup(s) / 2, style=Style.HIDDEN, feature="toe"))
    elif s.kind in ("strap", "toe"):
        found += [Line((k * s.slot / 2, 0), (k * s.slot / 2, high), Style.HIDDEN, "slot_width") for k in (-1, 1)]
        if s.kind == "toe":
            found += [
                Arc((0, s.push_height), s.screw.tap_drill[1] / 2, style=Style.VISIBLE, feature="push"),
                Arc((0, s.push_height), s.screw.major_mm / 2, 100, 370, Style.THREAD, "push"),
            ]
        elif s.relief:
            found.append(Line((-w, s.relief), (w, s.relief), Style.HIDDEN, "relief"))
    return Scene("side", "Right end", tuple(found))
