"""What a T-nut looks like: in its slot, and from front, top and side, drawn without the kernel."""

from __future__ import annotations

from elbrix.design.families.t_nut.sizes import TNutSizes
from elbrix.design.slot_nut import HEAD_CLEAR, STEP
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Scene, Side, Style, box
from elbrix.quantities.lengths import round_down
from elbrix.results.length_text import LENGTH_UNIT, length


def profile(s: TNutSizes) -> tuple[tuple[float, float], ...]:
    """The T, underside on z = 0, counter-clockwise; lower edges broken."""
    h, n, c = s.nut_head / 2, s.nut_neck / 2, s.chamfer
    low = ((-h + c, 0.0), (h - c, 0.0), (h, c)) if c else ((-h, 0.0), (h, 0.0))
    close = ((-h, c),) if c else ()
    return (
        *low,
        (h, s.head_height),
        (n, s.head_height),
        (n, s.total),
        (-n, s.total),
        (-n, s.head_height),
        (-h, s.head_height),
        *close,
    )


def in_place(s: TNutSizes) -> Scene:
    """End view in the measured slot, nut pulled up against the lips; y = 0 is the table top."""
    a, t, b, h = s.neck.min / 2, s.lip.min, s.head.min / 2, s.depth.min
    out, under = b + max(4.0, 0.28 * b), h + max(2.5, 0.15 * h)
    lift = -t - s.head_height  # of the nut's underside
    host = Path(
        (
            (-out, 0),
            (-a, 0),
            (-a, -t),
            (-b, -t),
            (-b, -h),
            (b, -h),
            (b, -t),
            (a, -t),
            (a, 0),
            (out, 0),
            (out, -under),
            (-out, -under),
        ),
        Style.SURROUNDINGS_SECTION,
        "table",
        closed=True,
    )
    nut = Path(tuple((x, z + lift) for x, z in profile(s)), Style.BODY, "nut", closed=True)
    top, d = lift + s.total, s.thread.major_mm / 2
    drill = s.thread.tap_drill[1] / 2
    deep = top - s.drill_depth()
    elements: tuple[Element, ...] = (
        host,
        nut,
        Line((-a, 0), (-a, -t), Style.SURROUNDINGS, "slot neck"),
        Line((a, 0), (a, -t), Style.SURROUNDINGS, "slot neck"),
        Line((-b, -t), (-a, -t), Style.SURROUNDINGS, "slot lip"),
        Line((b, -t), (a, -t), Style.SURROUNDINGS, "slot lip"),
        Line((-b, -t), (-b, -h), Style.SURROUNDINGS, "slot head"),
        Line((b, -t), (b, -h), Style.SURROUNDINGS, "slot head"),
        Line((-b, -h), (b, -h), Style.SURROUNDINGS, "slot floor"),
        *(
            Line(
                (x * d, top), (x * d, top - (s.engaged if s.stop_kind in ("short", "blind") else s.total)), Style.THREAD, "thread"
            )
            for x in (-1, 1)
        ),
        *(Line((x * drill, top), (x * drill, deep), Style.HIDDEN, "thread") for x in (-1, 1)),
        *_edges(s, lift),
        Line((0, top + 2), (0, lift - 2), Style.CENTRE),
        # The note about the point further in stands higher, so the two leaders never cross.
        Note(
            (out + 0.12 * b, 0.44 * h),
            "stays {value} below the table",
            leader=(s.nut_neck / 2 * 0.7, top),
            feature="neck",
            figure="below_table",
        ),
        Note((out + 0.12 * b, 0.26 * h), "{value} gap each side", leader=(a, -t * 0.25), feature="neck", figure="side_gap"),
    )
    dims = (
        Dimension("neck", (-a, 0), (a, 0), Side.ABOVE, suffix="slot", entry="neck", feature="slot neck", measured=True, order=0),
        Dimension(
            "neck_width", (-s.nut_neck / 2, top), (s.nut_neck / 2, top), Side.ABOVE, entry="neck_width", feature="neck", order=4
        ),
        Dimension("lip", (-a, -t), (-a, 0), Side.LEFT, suffix="lip", entry="lip", feature="slot lip", measured=True, order=1),
        Dimension(
            "head", (-b, -h), (b, -h), Side.BELOW, suffix="slot", entry="head", feature="slot head", measured=True, order=2
        ),
        Dimension(
            "depth", (-b, -h), (-b, 0), Side.LEFT, suffix="deep", entry="depth", feature="slot floor", measured=True, order=3
        ),
        Dimension(
            "head_width", (-s.nut_head / 2, lift), (s.nut_head / 2, lift), Side.BELOW, entry="head_width", feature="head", order=6
        ),
        Dimension(
            "neck_height", (s.nut_neck / 2, -t), (s.nut_neck / 2, top), Side.RIGHT, entry="neck_height", feature="neck", order=5
        ),
        Dimension(
            "head_height", (s.nut_head / 2, lift), (s.nut_head / 2, -t), Side.RIGHT, entry="head_height", feature="head", order=7
        ),
    )
    return Scene("in place", "End view in the slot", elements, dims, _handles(s, lift, in_slot=True))


def _edges(s: TNutSizes, lift: float) -> tuple[Line, ...]:
    n, h, mid, top = s.nut_neck / 2, s.nut_head / 2, s.head_height + lift, s.total + lift
    return (
        Line((-n, top), (n, top), Style.VISIBLE, "neck"),
        *(Line((x * n, mid), (x * n, top), Style.VISIBLE, "neck") for x in (-1, 1)),
        *(Line((x * n, mid), (x * h, mid), Style.VISIBLE, "head") for x in (-1, 1)),
        *(Line((x * h, lift + s.chamfer), (x * h, mid), Style.VISIBLE, "head") for x in (-1, 1)),
        *(Line((x * h, lift + s.chamfer), (x * (h - s.chamfer), lift), Style.VISIBLE, "head") for x in (-1, 1)),
        Line((-h + s.chamfer, lift), (h - s.chamfer, lift), Style.VISIBLE, "head"),
    )


def _handles(s: TNutSizes, lift: float, *, in_slot: bool) -> tuple[Handle, ...]:
    n, h, mid, top = s.nut_neck / 2, s.nut_head / 2, s.head_height + lift, s.total + lift
    neck_most, head_most = round_down(s.neck.min - 0.2, STEP), round_down(s.head.min - 0.4, STEP)
    found = [
        *(
            Handle(
                "neck_width",
                (x * n, mid),
                (x * n, top),
                (x, 0.0),
                2.0,
                STEP,
                s.thread.major_mm + 0.5,
                neck_most,
                "the thread needs a wall",
                f"the tightest slot neck is {length(s.neck.min)} {LENGTH_UNIT}",
                "neck",
            )
            for x in (-1.0, 1.0)
        ),
        *(
            Handle(
                "head_width",
                (x * h, lift + s.chamfer),
                (x * h, mid),
                (x, 0.0),
                2.0,
                STEP,
                n * 2 + 1,
                head_most,
                "the head must reach under the lips",
                f"the narrowest slot head is {length(s.head.min)} {LENGTH_UNIT}",
                "head",
            )
            for x in (-1.0, 1.0)
        ),
        Handle(
            "neck_height",
            (-n, top),
            (n, top),
            (0.0, 1.0),
            1.0,
            STEP,
            1.0,
            round_down(s.lip.min - 0.5, STEP),
            "a nut has a neck",
            f"the shallowest lip is {length(s.lip.min)} {LENGTH_UNIT}",
            "neck",
        ),
    ]
    if in_slot:
        high = round_down(s.depth.min - s.lip.max - HEAD_CLEAR, STEP)
        found.append(
            Handle(
                "head_height",
                (-h, lift),
                (h, lift),
                (0.0, -1.0),
                1.0,
                STEP,
                1.0,
                high,
                "a nut has a head",
                "the space under the lips ends there",
                "head",
            )
        )
    return tuple(found)


def front(s: TNutSizes) -> Scene:
    d, drill = s.thread.major_mm / 2, s.thread.tap_drill[1] / 2
    full = s.engaged if s.stop_kind in ("short", "blind") else s.total
    n, h = s.nut_neck / 2, s.nut_head / 2
    elements: tuple[Element, ...] = (
        *_edges(s, 0.0),
        *(Line((x * d, s.total), (x * d, s.total - full), Style.THREAD, "thread") for x in (-1, 1)),
        *(Line((x * drill, s.total), (x * drill, s.total - s.drill_depth()), Style.HIDDEN, "thread") for x in (-1, 1)),
        Line((0, s.total + 2), (0, -2), Style.CENTRE),
    )
    dims = (
        Dimension("neck_width", (-n, s.total), (n, s.total), Side.ABOVE, entry="neck_width", feature="neck", order=4),
        Dimension("head_width", (-h, 0), (h, 0), Side.BELOW, entry="head_width", feature="head", order=6),
        Dimension("neck_height", (-n, s.head_height), (-n, s.total), Side.LEFT, entry="neck_height", feature="neck", order=5),
        Dimension("head_height", (-h, 0), (-h, s.head_height), Side.LEFT, entry="head_height", feature="head", order=7),
        Dimension("total_height", (-h, 0), (-n, s.total), Side.LEFT, feature="head", order=20),
    )
    return Scene("front", "Front", elements, dims, _handles(s, 0.0, in_slot=False))


def top(s: TNutSizes) -> Scene:
    n, h, y = s.nut_neck / 2, s.nut_head / 2, s.length / 2
    elements: tuple[Element, ...] = (
        box(-h, -y, h, y, Style.VISIBLE, "head"),
        *(Line((x * n, -y), (x * n, y), Style.VISIBLE, "neck") for x in (-1, 1)),
        Arc((0, 0), s.thread.tap_drill[1] / 2, style=Style.VISIBLE, feature="thread"),
        Arc((0, 0), s.thread.major_mm / 2, 80, 350, Style.THREAD, "thread"),
        Line((-s.thread.major_mm * 0.7, 0), (s.thread.major_mm * 0.7, 0), Style.CENTRE),
        Line((0, -s.thread.major_mm * 0.7), (0, s.thread.major_mm * 0.7), Style.CENTRE),
    )
    dims = (Dimension("length", (-h, -y), (-h, y), Side.LEFT, entry="length", feature="length", order=8),)
    handle = (
        Handle(
            "length",
            (-h, y),
            (h, y),
            (0.0, 1.0),
            2.0,
            1.0,
            3.0,
            300.0,
            "a nut has a length",
            "longer than that is a rail",
            "length",
        ),
    )
    return Scene("top", "Top", elements, dims, handle)


def side(s: TNutSizes) -> Scene:
    y, drill = s.length / 2, s.thread.tap_drill[1] / 2
    elements: tuple[Element, ...] = (
        box(-y, 0, y, s.total, Style.VISIBLE, "length"),
        Line((-y, s.head_height), (y, s.head_height), Style.VISIBLE, "head"),
        *(Line((x * drill, s.total), (x * drill, s.total - s.drill_depth()), Style.HIDDEN, "thread") for x in (-1, 1)),
        Line((0, s.total + 2), (0, -2), Style.CENTRE),
    )
    return Scene("side", "Side", elements)
