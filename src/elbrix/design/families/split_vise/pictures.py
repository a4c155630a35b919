"""A split vise drawn: with work between its halves, and each part from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import Hole, Span, circles, hidden_lines
from elbrix.design.families.split_vise.sizes import POINT_DEEP, SplitViseSizes
from elbrix.drawing.scene import Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.standards.screws import head


def in_place(s: SplitViseSizes) -> Scene:
    """From the side: both halves, the plate, the screw and the work, on the table or on rails."""
    gap = max(10.0, min(0.7 * s.opening, 1.1 * s.long))
    base = s.rail_height if s.rails else 0.0
    out = 2 * s.long + gap + s.plate + 30
    travel = min(s.v.number("screw_travel") / 2, 0.4 * s.upright + 10)
    work = (s.long, s.long + gap)  # the fixed half's face is at y = long
    moving = work[1] + s.plate + travel  # and the screw half's there
    r, point = s.screw.major_mm / 2, s.point / 2
    push = base + s.push
    fixed = tuple((s.long - y, base + z) for y, z in s.end)
    screwed = tuple((moving + y, base + z) for y, z in s.end)
    deep = 0.8 * max(s.foot, 12.0)
    found: list[Element] = [
        box(-24, -deep, out + travel, 0, Style.SURROUNDINGS_SECTION, "slot"),
        box(work[0], base, work[1], base + s.height + 4, Style.SURROUNDINGS, "work"),
    ]
    if s.rails:
        found += [
            box(-12, 0, moving + s.long + 12, base, Style.BODY, "rails"),
            box(-12, 0, moving + s.long + 12, base, Style.VISIBLE, "rails"),
        ]
    for ring in (fixed, screwed):
        found += [Path(ring, Style.BODY, "halves", closed=True), Path(ring, Style.VISIBLE, "halves", closed=True)]
    plate = (work[1], base, work[1] + s.plate, base + s.height)
    found += [box(*plate, Style.BODY, "jaw"), box(*plate, Style.VISIBLE, "jaw")]
    tail = moving + s.upright + travel + s.screw.major_mm
    back = work[1] + s.plate
    found += [
        *(Line((back, push + k * r), (tail, push + k * r), Style.VISIBLE, "screw") for k in (-1, 1)),
        box(back - POINT_DEEP, push - point, back, push + point, Style.HIDDEN, "screw"),
        box(tail, push - 1.4 * r, tail + 1.2 * r, push + 1.4 * r, Style.VISIBLE, "screw"),
        Line((back - 6, push), (tail + 2 * r, push), Style.CENTRE, "screw"),
    ]
    for at, sign in ((s.long, -1.0), (moving, 1.0)):
        for y in dict.fromkeys(b.y for b in s.bolts):
            found += _bolt(s, at + sign * y, base)
        if s.rails:
            d = s.dowel / 2
            y = at + sign * s.dowel_y
            found.append(box(y - d, base - 0.8 * s.rail_height, y + d, base + s.foot, Style.HIDDEN, "rails"))
        else:
            half = s.key_long / 2
            found += [
                box(at + sign * y - half, -s.down, at + sign * y + half, s.seat, Style.HIDDEN, "keys") for y in s.key_places
            ]
    found += [
        Note((sum(work) / 2, base + s.height * 0.55), "work", quiet=True, align=0),
        Note((s.long / 2, base + s.height + 5), "fixed half", quiet=True, align=0),
        Note((moving + s.long * 0.75, base + s.height + 5), "screw half", quiet=True, align=0),
    ]
    dims = (
        Dimension("half_length", (0, base), (s.long, base), Side.BELOW, entry="half_length", feature="halves", order=0),
        Dimension("height", (-24, base), (-24, base + s.height), Side.LEFT, entry="height", feature="halves", order=1),
        Dimension(
            "upright",
            (s.long - s.upright, base + s.height),
            (s.long, base + s.height),
            Side.ABOVE,
            entry="upright",
            feature="halves",
            order=2,
        ),
        Dimension(
            "push_height", (out + travel, base), (out + travel, push), Side.RIGHT, entry="push_height", feature="screw", order=3
        ),
    )
    return Scene("in place", "Work between the halves, from the side", tuple(found), dims, _handles(s, base))


def _bolt(s: SplitViseSizes, y: float, base: float) -> list[Element]:
    """A hold-down bolt with its head on the foot."""
    r = float(s.bolt[1:]) / 2
    wide, high = head("socket_cap", s.bolt, "head_d").value / 2, head("socket_cap", s.bolt, "head_h").value
    top = base + s.foot
    return [
        box(y - wide, top, y + wide, top + high, Style.VISIBLE, "bolts"),
        *(Line((y + k * r, base - 6), (y + k * r, top), Style.HIDDEN, "bolts") for k in (-1, 1)),
        Line((y, base - 8), (y, top + high + 3), Style.CENTRE, "bolts"),
    ]


def _handles(s: SplitViseSizes, base: float) -> tuple[Handle, ...]:
    least = math.ceil(max(s.push + s.screw.major_mm / 2 + 1, s.foot + 3.5))
    return (
        Handle(
            "height",
            (0.0, base + s.height),
            (s.long, base + s.height),
            (0.0, 1.0),
            1.0,
            0.5,
            float(least),
            200.0,
            "the screw needs metal over it",
            "higher than it need be",
            "halves",
            value=s.height,
        ),
    )


def end_view(s: SplitViseSizes) -> tuple[Point, ...]:
    """The drawn part's outline from its right: y and z."""
    if s.part == "jaw":
        return ((0, 0), (s.plate, 0), (s.plate, s.height), (0, s.height))
    if s.part == "rail":
        h = s.rail_length / 2
        return ((-h, 0), (h, 0), (h, s.rail_height), (-h, s.rail_height))
    return s.end


def _flat(holes: tuple[Hole, ...]) -> list[Element]:
    return circles(holes)


def front(s: SplitViseSizes) -> Scene:
    """Towards the jaw face: x and z."""
    if s.part == "rail":
        w, h = s.rail_width / 2, s.rail_height
        found: list[Element] = [box(-w, 0, w, h, Style.BODY, "rails"), box(-w, 0, w, h, Style.VISIBLE, "rails")]
        found += hidden_lines(s.rail_holes[:1], Span(0.0, h), lambda p, z: (p, z), lambda b: b.x)
        dims = [Dimension("rail_height", (w, 0), (w, h), Side.RIGHT, entry="rail_height", feature="rails")]
        return Scene("front", "Front", tuple(found), tuple(dims))
    w, h = s.width / 2, s.height
    name = "jaw" if s.part == "jaw" else "halves"
    found = [box(-w, 0, w, h, Style.BODY, name), box(-w, 0, w, h, Style.VISIBLE, name)]
    dims = [
        Dimension("jaw_width", (-w, 0), (w, 0), Side.BELOW, entry="jaw_width", feature=name),
        Dimension("height", (w, 0), (w, h), Side.RIGHT, entry="height", feature="halves"),
    ]
    if s.part != "fixed":
        found += circles(s.face_holes if s.part == "screw" else s.plate_holes)
        dims += [
            Dimension("push_height", (-w, 0), (-w, s.push), Side.LEFT, entry="push_height", feature="screw"),
            Dimension(
                "guide_apart", (-s.guide_apart / 2, h), (s.guide_apart / 2, h), Side.ABOVE, entry="guide_apart", feature="guides"
            ),
        ]
    if s.half:
        found += hidden_lines(s.foot_holes, Span(0.0, s.foot), lambda p, z: (p, z), lambda b: b.x)
        if not s.rails:
            k = s.key / 2
            found.append(Path(((-k, 0), (-k, s.seat), (k, s.seat), (k, 0)), Style.VISIBLE, "keys"))
            dims += [
                Dimension(
                    "key_width", (-k, 0), (k, 0), Side.BELOW, entry="key_width", feature="keys", suffix="key", step_mm=0.01
                ),
                Dimension("key_seat", (w, 0), (k, s.seat), Side.RIGHT, entry="key_seat", feature="keys"),
            ]
    return Scene("front", "Front", tuple(found), tuple(dims))


def top(s: SplitViseSizes) -> Scene:
    """From above: x and y."""
    if s.part == "rail":
        w, h = s.rail_width / 2, s.rail_length / 2
        found: list[Element] = [box(-w, -h, w, h, Style.BODY, "rails"), box(-w, -h, w, h, Style.VISIBLE, "rails")]
        found += circles(s.rail_holes)
        dims = [
            Dimension("rail_width", (-w, -h), (w, -h), Side.BELOW, entry="rail_width", feature="rails"),
            Dimension("rail_length", (-w, -h), (-w, h), Side.LEFT, feature="rails"),
        ]
        threads = [b for b in s.rail_holes if b.threaded]
        dims.append(
            Dimension("rail_pitch", (w, threads[0].y), (w, threads[1].y), Side.RIGHT, entry="rail_pitch", feature="rails")
        )
        return Scene("top", "Top", tuple(found), tuple(dims))
    w = s.width / 2
    deep = s.plate if s.part == "jaw" else s.long
    name = "jaw" if s.part == "jaw" else "halves"
    found = [box(-w, 0, w, deep, Style.BODY, name), box(-w, 0, w, deep, Style.VISIBLE, name)]
    if s.part == "jaw":
        found += hidden_lines(s.plate_holes, Span(0.0, s.plate, "xz"), lambda p, y: (p, y), lambda b: b.x)
        dims = [Dimension("jaw_plate", (-w, 0), (-w, deep), Side.LEFT, entry="jaw_plate", feature="jaw")]
        return Scene("top", "Top", tuple(found), tuple(dims))
    found.append(Line((-w, s.upright), (w, s.upright), Style.VISIBLE, "halves"))
    found += circles(s.foot_holes)
    if not s.rails:
        found += [Line((k * s.key / 2, 0), (k * s.key / 2, s.long), Style.HIDDEN, "keys") for k in (-1, 1)]
    if s.part == "screw":
        found += hidden_lines(s.face_holes, Span(0.0, s.upright, "xz"), lambda p, y: (p, y), lambda b: b.x)
    dims = [
        Dimension("half_length", (-w, 0), (-w, s.long), Side.LEFT, entry="half_length", feature="halves"),
        Dimension("bolt_first", (w, 0), (w, s.first), Side.RIGHT, entry="bolt_first", feature="bolts"),
    ]
    if s.rails:
        dims.append(
            Dimension(
                "rail_apart",
                (-s.rail_apart / 2, s.long),
                (s.rail_apart / 2, s.long),
                Side.ABOVE,
                entry="rail_apart",
                feature="rails",
            )
        )
    else:
        dims.append(
            Dimension("bolt_apart", (w, s.first), (w, s.first + s.apart), Side.RIGHT, entry="bolt_apart", feature="bolts")
        )
    return Scene("top", "Top", tuple(found), tuple(dims))


def side(s: SplitViseSizes) -> Scene:
    """From the right end: y and z."""
    name = {"jaw": "jaw", "rail": "rails"}.get(s.part, "halves")
    ring = end_view(s)
    found: list[Element] = [Path(ring, Style.BODY, name, closed=True), Path(ring, Style.VISIBLE, name, closed=True)]
    if s.part == "rail":
        found += hidden_lines(s.rail_holes, Span(0.0, s.rail_height), lambda p, z: (p, z), lambda b: b.y)
        return Scene("side", "Right end", tuple(found), ())
    if s.part == "jaw":
        found += hidden_lines(s.plate_holes, Span(0.0, s.plate, "xz"), lambda p, y: (y, p), lambda b: b.y)
        return Scene("side", "Right end", tuple(found), ())
    found += hidden_lines(s.foot_holes, Span(0.0, s.foot), lambda p, z: (p, z), lambda b: b.y)
    if s.part == "screw":
        found += hidden_lines(s.face_holes, Span(0.0, s.upright, "xz"), lambda p, y: (y, p), lambda b: b.y)
    if not s.rails:
        found.append(Line((0, s.seat), (s.long, s.seat), Style.HIDDEN, "keys"))
    dims = (
        Dimension("upright", (0, s.height), (s.upright, s.height), Side.ABOVE, entry="upright", feature="halves"),
        Dimension("foot_height", (s.long, 0), (s.long, s.foot), Side.RIGHT, entry="foot_height", feature="halves"),
    )
    return Scene("side", "Right end", tuple(found), dims)
