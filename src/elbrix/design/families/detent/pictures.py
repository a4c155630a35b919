"""A ball detent drawn: in its lever over the groove, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.families.detent.sizes import DetentSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.mechanics.drilling import point_mm


def outline(s: DetentSizes) -> tuple[tuple[float, float], ...]:
    """Half section of the outside, from the axis: (radius, z)."""
    q, c, high = s.turned / 2, s.lead, s.length
    return ((0.0, 0.0), (q - c, 0.0), (q, c), (q, high - c), (q - c, high), (0.0, high))


def _silhouette(s: DetentSizes) -> tuple[Point, ...]:
    right = [p for p in outline(s) if p[0] > 0]
    return (*right, *((-r, z) for r, z in reversed(right)))


def in_place(s: DetentSizes) -> Scene:
    """The plunger cut open in its lever, the ball in the groove of the plate above its face."""
    high, far = s.length, 1.6 * s.thread.major_mm
    plate = high + s.gap
    ball = plate + s.groove - s.ball / 2
    half = math.sqrt((s.ball / 2) ** 2 - (s.ball / 2 - s.groove) ** 2)
    r = s.thread.major_mm / 2
    found: list[Element] = [
        *(box(k * r if k > 0 else -far, 1.0, far if k > 0 else -r, high, Style.SURROUNDINGS_SECTION, "lever") for k in (1, -1)),
        Path(
            (
                (-far, plate),
                (-half, plate),
                (0, plate + s.groove),
                (half, plate),
                (far, plate),
                (far, plate + 7),
                (-far, plate + 7),
            ),
            Style.SURROUNDINGS_SECTION,
            "groove",
            closed=True,
        ),
        Path(_silhouette(s), Style.BODY, "body", closed=True),
        Path(_silhouette(s), Style.VISIBLE, "body", closed=True),
        *_bore(s, Style.VISIBLE),
        *_coils(s, ball - s.ball / 2),
        Arc((0, ball), s.ball / 2, style=Style.VISIBLE, feature="ball"),
        Line((0, -4), (0, plate + 11), Style.CENTRE),
        Note((far + 2, high / 2), "lever", quiet=True),
        Note((far + 2, plate + 3), "plate", quiet=True),
        Note((-far - 3, plate + 4), "holds {value}", feature="groove", figure="holds", align=1),
    ]
    return Scene("in place", "In its lever, the ball in the groove", tuple(found), _sizes(s), _handles(s))


def _coils(s: DetentSizes, top: float) -> list[Element]:
    """The spring between its floor and the ball, as a zigzag."""
    low = s.length - s.seat
    n = max(3, min(16, round(s.coils)))
    x = s.mean_coil / 2
    points = [(x if i % 2 else -x, low + (top - low) * i / (2 * n)) for i in range(2 * n + 1)]
    return [Path(tuple(points), Style.SURROUNDINGS, "spring")]


def _bore(s: DetentSizes, style: Style) -> list[Element]:
    r, high = s.bore / 2, s.length
    if s.kind == "staked":
        floor = high - s.deep
        return [
            *(Line((k * r, floor), (k * r, high), style, "bore") for k in (-1, 1)),
            Path(((-r, floor), (0, floor - point_mm(s.bore)), (r, floor)), style, "bore"),
        ]
    m, cone = s.mouth / 2, high - s.straight
    return [
        *(Path(((k * r, 0), (k * r, s.deep), (k * m, cone), (k * m, high)), style, "bore") for k in (-1, 1)),
        Line((-m, cone), (m, cone), style, "mouth"),
        Line((-r, s.deep), (r, s.deep), style, "bore"),
    ]


def _sizes(s: DetentSizes) -> tuple[Dimension, ...]:
    q, high = s.turned / 2, s.length
    deep = (
        Dimension(
            "bore_depth", (s.bore / 2, high - s.deep), (s.bore / 2, high), Side.RIGHT, entry="bore_depth", feature="bore", order=1
        )
        if s.kind == "staked"
        else Dimension(
            "bore_depth", (s.bore / 2, 0), (s.bore / 2, s.deep), Side.RIGHT, entry="bore_depth", feature="bore", order=1
        )
    )
    return (
        Dimension("length", (-q, 0), (-q, high), Side.LEFT, entry="length", feature="body", order=0),
        deep,
        Dimension("thread", (-q, 0), (q, 0), Side.BELOW, text=s.thread.shown, entry="thread", feature="body", order=2),
        Dimension(
            "bore",
            (-s.bore / 2, high if s.kind == "staked" else 0.0),
            (s.bore / 2, high if s.kind == "staked" else 0.0),
            Side.ABOVE if s.kind == "staked" else Side.BELOW,
            prefix="Ø",
            entry="bore",
            feature="bore",
            step_mm=0.01,
            order=3,
        ),
        *(
            (
                Dimension(
                    "mouth",
                    (-s.mouth / 2, high),
                    (s.mouth / 2, high),
                    Side.ABOVE,
                    prefix="Ø",
                    entry="mouth",
                    feature="mouth",
                    step_mm=0.01,
                    order=4,
                ),
            )
            if s.kind == "stepped"
            else ()
        ),
    )


def _handles(s: DetentSizes) -> tuple[Handle, ...]:
    q, high = s.turned / 2, s.length
    if s.kind == "stepped":
        return ()
    return (
        Handle(
            "length",
            (-q, high),
            (q, high),
            (0.0, 1.0),
            1.0,
            0.5,
            min(s.length, s.deep + point_mm(s.bore) + 0.5),
            160.0,
            "the bore's floor would be open",
            "longer than it need be",
            "body",
            value=high,
        ),
    )


def _body(s: DetentSizes) -> list[Element]:
    root = s.thread.major_mm / 2 - 0.6134 * s.thread.pitch_mm
    return [
        Path(_silhouette(s), Style.BODY, "body", closed=True),
        Path(_silhouette(s), Style.VISIBLE, "body", closed=True),
        *(Line((-s.turned / 2, z), (s.turned / 2, z), Style.VISIBLE, "body") for z in (s.lead, s.length - s.lead)),
        *(Line((k * root, 0), (k * root, s.length), Style.THREAD, "body") for k in (-1, 1)),
        *_bore(s, Style.HIDDEN),
        Line((0, -4), (0, s.length + 4), Style.CENTRE),
    ]


def front(s: DetentSizes) -> Scene:
    return Scene("front", "Front", tuple(_body(s)), _sizes(s), _handles(s))


def top(s: DetentSizes) -> Scene:
    """From its face."""
    q = s.turned / 2
    reach = 1.25 * q
    hole = s.bore if s.kind == "staked" else s.mouth
    found: list[Element] = [
        Arc((0, 0), q, style=Style.VISIBLE, feature="body"),
        Arc((0, 0), q - s.lead, style=Style.VISIBLE, feature="body"),
        Arc((0, 0), hole / 2, style=Style.VISIBLE, feature="bore" if s.kind == "staked" else "mouth"),
        *([Arc((0, 0), s.bore / 2, style=Style.HIDDEN, feature="bore")] if s.kind == "stepped" else []),
        Line((-reach, 0), (reach, 0), Style.CENTRE),
        Line((0, -reach), (0, reach), Style.CENTRE),
    ]
    return Scene("top", "Face", tuple(found))


def side(s: DetentSizes) -> Scene:
    return Scene("side", "Right", tuple(_body(s)))
