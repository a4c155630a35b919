"""Clamp hardware drawn: where it is used, and from three sides."""

from __future__ import annotations

import math
from itertools import pairwise

from elbrix.design.families.hardware import thumb
from elbrix.design.families.hardware.sizes import CHAMFER_SHARE, HardwareSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.geometry.shapes import hexagon


def in_place(s: HardwareSizes) -> Scene:
    """Cut through what it is used in."""
    around = {"tall_nut": _on_strap, "shoulder_screw": _on_plate, "thumb_screw": thumb.in_a_block}.get(s.kind, _in_slot)
    surroundings = around(s)
    title = {
        "stud": "In its T-nut, a strap clamped",
        "t_bolt": "In its slot, a strap clamped",
        "tall_nut": "On its stud over a strap",
        "shoulder_screw": "In its plate, what turns on it",
        "thumb_screw": "In what it closes",
    }[s.kind]
    return Scene("in place", title, (*surroundings, *_body(s, "front")), _sizes(s), _handles(s))


def _in_slot(s: HardwareSizes) -> list[Element]:
    """Slot, T-nut, the thickest work's strap and its nut; the table's top is where `foot` says."""
    v = s.v
    neck, head, lip, depth = (v.readings(n).min for n in ("neck", "head", "lip", "depth"))
    table, wide = s.foot, max(1.6 * head, 3.2 * s.d) / 2 + 8
    floor = table - depth
    lips: list[Element] = [
        Path(
            tuple(
                (k * x, z)
                for x, z in (
                    (neck / 2, table),
                    (wide, table),
                    (wide, floor - 6),
                    (0, floor - 6),
                    (0, floor),
                    (head / 2, floor),
                    (head / 2, table - lip),
                    (neck / 2, table - lip),
                )
            ),
            Style.SURROUNDINGS_SECTION,
            "slot",
            closed=True,
        )
        for k in (1, -1)
    ]
    if s.kind == "stud":
        nut = s.nut
        top = s.lower
        low = top - nut.neck_height - nut.head_height
        shoulder = top - nut.neck_height
        half = (head - 1) / 2
        ring = (
            (-nut.neck_width / 2, top),
            (nut.neck_width / 2, top),
            (nut.neck_width / 2, shoulder),
            (half, shoulder),
            (half, low),
            (-half, low),
            (-half, shoulder),
            (-nut.neck_width / 2, shoulder),
        )
        lips.append(Path(ring, Style.SURROUNDINGS, "slot", closed=True))
    for at, style, words in (
        (v.number("clamp_high"), Style.SURROUNDINGS, "thickest"),
        (v.number("clamp_low"), Style.HIDDEN, "thinnest"),
    ):
        lips += [Line((-wide, table + at), (-s.d / 2, table + at), style, "clamped")]
        lips += [Line((s.d / 2, table + at), (wide, table + at), style, "clamped")]
        lips.append(Note((wide, table + at + 0.35 * s.d), words, quiet=True, feature="clamped", align=1))
    nut_low, nut_high = table + v.number("clamp_high"), table + v.number("clamp_high") + v.number("nut_height")
    lips.append(box(-0.9 * s.d, nut_low, 0.9 * s.d, nut_high, Style.SURROUNDINGS, "clamped"))
    lips.append(Note((wide, table + 0.35 * s.d), "table", quiet=True, align=1))
    lips.append(Note((-0.95 * s.d - 4, (nut_high + s.length) / 2), "{value} out", feature="upper_thread", figure="out", align=1))
    return lips


def _on_strap(s: HardwareSizes) -> list[Element]:
    wide, d = 1.7 * s.corners / 2 + 6, s.d / 2
    return [
        *(
            box(k * 1.1 * d if k > 0 else -wide, -12, wide if k > 0 else -1.1 * d, 0, Style.SURROUNDINGS_SECTION, "clamped")
            for k in (1, -1)
        ),
        box(-d, -24, d, s.length + 6, Style.SURROUNDINGS, "thread"),
        Note((wide + 2, -6), "strap", quiet=True),
        Note((d + 3, s.length + 5), "stud", quiet=True),
    ]


def _on_plate(s: HardwareSizes) -> list[Element]:
    wide, hole, b = 1.4 * s.corners / 2 + 8, s.v.readings("hole").min / 2, s.lower
    thick = s.v.number("work_thickness")
    return [
        *(
            box(k * s.d / 2 if k > 0 else -wide, -4, wide if k > 0 else -s.d / 2, b, Style.SURROUNDINGS_SECTION, "thread")
            for k in (1, -1)
        ),
        *(
            box(k * hole if k > 0 else -wide * 0.9, b, wide * 0.9 if k > 0 else -hole, b + thick, Style.SURROUNDINGS, "hole")
            for k in (1, -1)
        ),
        Note((wide + 2, b / 2), "plate", quiet=True),
        Note((wide + 2, b + thick / 2), "turns on it", quiet=True),
    ]


# --- the thing itself -------------------------------------------------------------------------------------------------


def _outline(s: HardwareSizes) -> tuple[Point, ...]:
    right = [p for p in s.profile if p[0] > 0]
    return (*right, *((-r, z) for r, z in reversed(right)))


def _hex_view(s: HardwareSizes, way: str) -> list[Element]:
    """Flats of the bar from the side: corners left and right from the front, flats from the side."""
    low, high = s.hex_span
    half = (s.corners if way == "front" else s.hexagon) / 2
    inner = s.corners / 4 if way == "front" else 0.0
    drop, small = s.hex_drop, CHAMFER_SHARE * s.hexagon / 2
    bottom = s.kind == "tall_nut"
    top = s.kind != "stud"
    ring: list[Point] = []
    ring += [(small, low), (half, low + drop)] if bottom else [(half, low)]
    ring += [(half, high - drop), (small, high)] if top else [(half, high)]
    whole = (*ring, *((-x, z) for x, z in reversed(ring)))
    found: list[Element] = [Path(whole, Style.BODY, "flats", closed=True), Path(whole, Style.VISIBLE, "flats", closed=True)]
    lines = (-inner, inner) if inner else (0.0,)
    a, b = low + (drop if bottom else 0.0), high - (drop if top else 0.0)
    return [*found, *(Line((x, a), (x, b), Style.VISIBLE, "flats") for x in lines)]


def _body(s: HardwareSizes, way: str) -> list[Element]:
    found: list[Element] = []
    if s.kind != "tall_nut":
        found += [Path(_outline(s), Style.BODY, "body", closed=True), Path(_outline(s), Style.VISIBLE, "body", closed=True)]
        found += [
            Line((-a[0], a[1]), (a[0], a[1]), Style.VISIBLE, "body")
            for a, b in pairwise(s.profile[1:-1])
            if (a[0] != b[0] or a[1] == b[1]) and a[0] > 0
        ]
    if s.in_hexagon:
        found += _hex_view(s, way)
    if s.kind == "t_bolt":
        k, half = s.head_height, s.head / 2
        edge = math.sqrt(half**2 - (s.head_width / 2) ** 2)
        found += (
            [Line((x, 0), (x, k), Style.VISIBLE, "head_width") for x in (-s.head_width / 2, s.head_width / 2)]
            if way == "front"
            else [Line((x, 0), (x, k), Style.VISIBLE, "head_width") for x in (-edge, edge)]
        )
    if s.kind == "thumb_screw":
        found += thumb.knurled(s)
    q = s.d / 2 - 0.6134 * s.pitch
    spans = {
        "stud": ((0.0, s.length),) if s.all_thread else ((0.0, s.lower), (s.length - s.upper, s.length)),
        "t_bolt": ((s.length - s.upper, s.length),),
        "shoulder_screw": ((0.0, s.lower - s.undercut),),
        "thumb_screw": ((0.0, s.lower - s.undercut),),
        "tall_nut": (),
    }[s.kind]
    for low, high in spans:
        found += [Line((k * q, low), (k * q, high), Style.THREAD, "thread") for k in (-1, 1)]
    if s.kind == "tall_nut":
        drill = s.thread.tap_drill[1] / 2
        found += [Line((k * drill, 0), (k * drill, s.length), Style.HIDDEN, "thread") for k in (-1, 1)]
        found += [Line((k * s.d / 2, 0), (k * s.d / 2, s.length), Style.THREAD, "thread") for k in (-1, 1)]
    found.append(Line((0, -4), (0, s.length + 4), Style.CENTRE))
    return found


def _sizes(s: HardwareSizes) -> tuple[Dimension, ...]:
    high, r = s.length, s.bar / 2
    if s.kind == "thumb_screw":
        return thumb.sizes(s)
    if s.kind == "tall_nut":
        return (
            Dimension("length", (r, 0), (r, high), Side.RIGHT, entry="length", feature="body", order=0),
            Dimension(
                "thread",
                (-s.d / 2, high),
                (s.d / 2, high),
                Side.ABOVE,
                text=s.thread.shown,
                entry="thread",
                feature="thread",
                order=1,
            ),
        )
    if s.kind == "shoulder_screw":
        b, w = s.lower, s.shoulder / 2
        return (
            Dimension(
                "shoulder_diameter",
                (-w, b + s.shoulder_length),
                (w, b + s.shoulder_length),
                Side.ABOVE,
                prefix="Ø",
                entry="shoulder_diameter",
                feature="shoulder",
                step_mm=0.001,
                order=0,
            ),
            Dimension(
                "shoulder_length",
                (w, b),
                (w, b + s.shoulder_length),
                Side.RIGHT,
                entry="shoulder_length",
                feature="shoulder",
                step_mm=0.01,
                order=1,
            ),
            Dimension("engaged", (-s.d / 2, 0), (-s.d / 2, b), Side.LEFT, entry="engaged", feature="thread", order=2),
            Dimension(
                "head_height",
                (-r, b + s.shoulder_length),
                (-r, high),
                Side.LEFT,
                entry="head_height",
                feature="head_height",
                order=3,
            ),
            Dimension(
                "thread", (-s.d / 2, 0), (s.d / 2, 0), Side.BELOW, text=s.thread.shown, entry="thread", feature="thread", order=4
            ),
            *(
                (
                    Dimension(
                        "undercut",
                        (s.root / 2, b - s.undercut),
                        (s.root / 2, b),
                        Side.RIGHT,
                        entry="undercut",
                        feature="undercut",
                        order=5,
                    ),
                )
                if s.undercut
                else ()
            ),
        )
    dims = [
        Dimension("length", (r, 0), (r, high), Side.RIGHT, entry="length", feature="body", order=0),
        Dimension(
            "upper_thread",
            (-s.d / 2, high - s.upper),
            (-s.d / 2, high),
            Side.LEFT,
            entry="upper_thread",
            feature="upper_thread",
            order=1,
        ),
        Dimension(
            "thread",
            (-s.d / 2, high),
            (s.d / 2, high),
            Side.ABOVE,
            text=s.thread.shown,
            entry="thread",
            feature="thread",
            order=2,
        ),
    ]
    if s.kind == "stud":
        dims.append(
            Dimension("engaged", (-s.d / 2, 0), (-s.d / 2, s.lower), Side.LEFT, entry="engaged", feature="thread", order=3)
        )
    else:
        dims.append(
            Dimension("head_height", (-r, 0), (-r, s.head_height), Side.LEFT, entry="head_height", feature="head_height", order=3)
        )
        dims.append(
            Dimension(
                "head_diameter", (-r, 0), (r, 0), Side.BELOW, prefix="Ø", entry="head_diameter", feature="head_height", order=4
            )
        )
    return tuple(dims)


def _handles(s: HardwareSizes) -> tuple[Handle, ...]:
    r = s.bar / 2
    if s.kind == "thumb_screw":
        return ()
    if s.kind == "shoulder_screw":
        at = s.lower + s.shoulder_length
        return (
            Handle(
                "shoulder_length",
                (-r, at),
                (r, at),
                (0.0, 1.0),
                1.0,
                0.01,
                1.0,
                200.0,
                "something has to turn on it",
                "longer than it need be",
                "shoulder",
                value=s.shoulder_length,
            ),
        )
    least = {"tall_nut": 3.0, "stud": max(s.lower, s.upper) + 1.0, "t_bolt": s.upper + s.head_height + 1.0}[s.kind]
    if s.in_hexagon and s.kind == "stud":
        least = s.collar + s.upper + 3.0
    return (
        Handle(
            "length",
            (-r, s.length),
            (r, s.length),
            (0.0, 1.0),
            1.0,
            0.5,
            min(least, s.length),
            500.0,
            "its threads need that length",
            "longer than any bar here",
            "body",
            value=s.length,
        ),
    )


def front(s: HardwareSizes) -> Scene:
    return Scene("front", "Front", tuple(_body(s, "front")), _sizes(s), _handles(s))


def top(s: HardwareSizes) -> Scene:
    """Along its axis, from above."""
    found: list[Element] = []
    dims: list[Dimension] = []
    reach = s.bar / 2 * 1.25
    if s.in_hexagon:
        ring = hexagon(s.hexagon)
        found += [Path(ring, Style.BODY, "flats", closed=True), Path(ring, Style.VISIBLE, "flats", closed=True)]
        dims.append(
            Dimension(
                "across_flats", (0, -s.hexagon / 2), (0, s.hexagon / 2), Side.LEFT, entry="across_flats", feature="flats", order=6
            )
        )
    if s.kind == "t_bolt":
        half = s.head_width / 2
        angle = math.degrees(math.acos(min(1.0, half / (s.head / 2))))
        edge = math.sqrt((s.head / 2) ** 2 - half**2)
        found += [
            Arc((0, 0), s.head / 2, a, b, Style.VISIBLE, "head_height")
            for a, b in ((angle, 180 - angle), (180 + angle, 360 - angle))
        ]
        found += [Line((k * half, -edge), (k * half, edge), Style.VISIBLE, "head_width") for k in (-1, 1)]
        dims.append(
            Dimension("head_width", (-half, -edge), (half, -edge), Side.BELOW, entry="head_width", feature="head_width", order=6)
        )
    if s.kind == "tall_nut":
        found += [
            Arc((0, 0), s.thread.tap_drill[1] / 2, style=Style.VISIBLE, feature="thread"),
            Arc((0, 0), s.d / 2, 100, 370, Style.THREAD, "thread"),
        ]
    elif s.kind == "shoulder_screw":
        found.append(Arc((0, 0), s.shoulder / 2, style=Style.HIDDEN, feature="shoulder"))
    elif s.kind == "thumb_screw":
        found.append(Arc((0, 0), s.head_turned / 2, style=Style.VISIBLE, feature="head_height"))
        found.append(Arc((0, 0), s.d / 2, style=Style.HIDDEN, feature="thread"))
    else:
        found.append(Arc((0, 0), s.d / 2, style=Style.VISIBLE, feature="body"))
    found += [Line((-reach, 0), (reach, 0), Style.CENTRE), Line((0, -reach), (0, reach), Style.CENTRE)]
    return Scene("top", "Top", tuple(found), tuple(dims))


def side(s: HardwareSizes) -> Scene:
    return Scene("side", "Right", tuple(_body(s, "side")))
