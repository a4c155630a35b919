"""What a table key looks like: between table and vise, and from front, top and side, drawn without the kernel."""

from __future__ import annotations

from elbrix.design.families.table_key.sizes import BELOW, PLAY_MIN, STEP, TableKeySizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Scene, Side, Style, box
from elbrix.quantities.lengths import round_down
from elbrix.results.length_text import LENGTH_UNIT, length


def profile(s: TableKeySizes) -> tuple[tuple[float, float], ...]:
    """The end outline, counter-clockwise; z = 0 at the table's top."""
    l0, l1, h0, h1 = -s.low_w / 2, s.low_w / 2, s.off - s.high_w / 2, s.off + s.high_w / 2
    ring = [(l0, -s.low_h), (l1, -s.low_h), (l1, 0.0), (h1, 0.0), (h1, s.high_h), (h0, s.high_h), (h0, 0.0), (l0, 0.0)]
    return tuple(p for i, p in enumerate(ring) if p != ring[i - 1])


def in_place(s: TableKeySizes) -> Scene:
    """End view: the table's slot below, the vise's above, the key in both."""
    a, t = s.neck.min / 2, s.lip.min
    h, deep = s.host / 2, s.host_depth
    out, thick = max(a, abs(s.off) + h) + max(8.0, 0.7 * s.neck.min), deep + max(5.0, 0.4 * s.neck.min)
    wide = a + 0.3 * s.neck.min
    table = Path(
        (
            (-out, 0),
            (-a, 0),
            (-a, -t),
            (-wide, -t),
            (-wide, -t - 4),
            (wide, -t - 4),
            (wide, -t),
            (a, -t),
            (a, 0),
            (out, 0),
            (out, -t - 8),
            (-out, -t - 8),
        ),
        Style.SURROUNDINGS_SECTION,
        "table",
        closed=True,
    )
    vise = Path(
        ((-out, 0), (s.off - h, 0), (s.off - h, deep), (s.off + h, deep), (s.off + h, 0), (out, 0), (out, thick), (-out, thick)),
        Style.SURROUNDINGS_SECTION,
        "vise",
        closed=True,
    )
    elements: tuple[Element, ...] = (
        table,
        vise,
        Path(profile(s), Style.BODY, "key", closed=True),
        *(Line((x * a, 0), (x * a, -t), Style.SURROUNDINGS, "table slot") for x in (-1, 1)),
        *(Line((s.off + x * h, 0), (s.off + x * h, deep), Style.SURROUNDINGS, "vise slot") for x in (-1, 1)),
        *_edges(s),
        *_screw(s),
        Line((0, -s.low_h - 3), (0, 2), Style.CENTRE),
        Note((out * 0.35, -t - 6.5), "table", quiet=True),
        Note((-out * 0.7, thick - 2.5), "vise", quiet=True),
        Note((out + 5, -0.1 * t), "{value} play", leader=(a, -0.4 * t), feature="table half", figure="table_play"),
        Note((out + 5, 0.75 * deep), "{value} play", leader=(s.off + h, 0.5 * deep), feature="vise half", figure="vise_play"),
    )
    dims = [
        Dimension(
            "neck", (-a, -t), (a, -t), Side.BELOW, suffix="slot", entry="neck", feature="table slot", measured=True, order=0
        ),
        Dimension(
            "table_width",
            (-s.low_w / 2, -s.low_h),
            (s.low_w / 2, -s.low_h),
            Side.BELOW,
            entry="table_width",
            feature="table half",
            order=3,
            step_mm=0.001,
        ),
        Dimension(
            "vise_slot",
            (s.off - h, deep),
            (s.off + h, deep),
            Side.ABOVE,
            suffix="vise",
            entry="vise_slot",
            feature="vise slot",
            measured=True,
            order=2,
            step_mm=0.001,
        ),
        Dimension(
            "vise_width",
            (s.off - s.high_w / 2, s.high_h),
            (s.off + s.high_w / 2, s.high_h),
            Side.ABOVE,
            entry="vise_width",
            feature="vise half",
            order=4,
            step_mm=0.001,
        ),
        Dimension("table_height", (-out, -s.low_h), (-out, 0), Side.LEFT, entry="table_height", feature="table half", order=6),
        Dimension("vise_height", (-out, 0), (-out, s.high_h), Side.LEFT, entry="vise_height", feature="vise half", order=7),
    ]
    if s.off:
        dims.append(
            Dimension(
                "offset",
                (0.0, s.high_h),
                (s.off, s.high_h),
                Side.ABOVE,
                value_mm=s.off,
                suffix="off",
                entry="offset",
                feature="vise half",
                order=5,
                step_mm=0.001,
            )
        )
    return Scene("in place", "End view between table and vise", elements, tuple(dims), _handles(s))


def _edges(s: TableKeySizes) -> tuple[Line, ...]:
    half, h0, h1 = s.low_w / 2, s.off - s.high_w / 2, s.off + s.high_w / 2
    return (
        Line((-half, -s.low_h), (half, -s.low_h), Style.VISIBLE, "table half"),
        *(Line((x * half, -s.low_h), (x * half, 0), Style.VISIBLE, "table half") for x in (-1, 1)),
        *(Line((x, 0), (x, s.high_h), Style.VISIBLE, "vise half") for x in (h0, h1)),
        Line((h0, s.high_h), (h1, s.high_h), Style.VISIBLE, "vise half"),
        *(Line((a, 0), (b, 0), Style.VISIBLE, "vise half") for a, b in ((-half, h0), (half, h1)) if abs(a - b) > 1e-9),
    )


def _screw(s: TableKeySizes) -> tuple[Line, ...]:
    x, top = s.screw_x, -s.low_h + s.bore_depth
    return (
        *(Line((x + k * s.bore / 2, -s.low_h), (x + k * s.bore / 2, top), Style.HIDDEN, "screw") for k in (-1, 1)),
        Line((x - s.bore / 2, top), (x + s.bore / 2, top), Style.HIDDEN, "screw"),
        *(Line((x + k * s.clear / 2, top), (x + k * s.clear / 2, s.high_h), Style.HIDDEN, "screw") for k in (-1, 1)),
        Line((x, -s.low_h - 2), (x, s.high_h + 2), Style.CENTRE),
    )


def _handles(s: TableKeySizes) -> tuple[Handle, ...]:
    half, least = s.low_w / 2, s.bore + 1.0
    most_low, most_high = round_down(s.neck.min - PLAY_MIN, STEP), round_down(s.host - PLAY_MIN, STEP)
    return (
        *(
            Handle(
                "table_width",
                (k * half, -s.low_h),
                (k * half, -0.3),
                (k, 0.0),
                2.0,
                STEP,
                least,
                most_low,
                "the screw's head needs a wall",
                f"the tightest slot is {length(s.neck.min, 3)} {LENGTH_UNIT}",
                "table half",
                value=s.low_w,
            )
            for k in (-1.0, 1.0)
        ),
        *(
            Handle(
                "vise_width",
                (s.off + k * s.high_w / 2, 0.3),
                (s.off + k * s.high_w / 2, s.high_h),
                (k, 0.0),
                2.0,
                STEP,
                s.clear + 1,
                most_high,
                "the screw goes through it",
                f"the vise's slot is {length(s.host, 3)} {LENGTH_UNIT}",
                "vise half",
                value=s.high_w,
            )
            for k in (-1.0, 1.0)
        ),
        Handle(
            "table_height",
            (-half, -s.low_h),
            (half, -s.low_h),
            (0.0, -1.0),
            1.0,
            0.1,
            1.0,
            max(1.0, round_down(s.lip.min - 0.5 * BELOW, 0.1)),
            "it has to reach into the slot",
            "the lips end there",
            "table half",
            value=s.low_h,
        ),
        Handle(
            "vise_height",
            (s.off - s.high_w / 2, s.high_h),
            (s.off + s.high_w / 2, s.high_h),
            (0.0, 1.0),
            1.0,
            0.1,
            1.0,
            max(1.0, round_down(s.host_depth - 0.2, 0.1)),
            "it has to reach into the vise",
            "the vise's slot ends there",
            "vise half",
            value=s.high_h,
        ),
    )


def front(s: TableKeySizes) -> Scene:
    """The end of the key."""
    dims = [
        Dimension(
            "table_width",
            (-s.low_w / 2, -s.low_h),
            (s.low_w / 2, -s.low_h),
            Side.BELOW,
            entry="table_width",
            feature="table half",
            step_mm=0.001,
        ),
        Dimension(
            "vise_width",
            (s.off - s.high_w / 2, s.high_h),
            (s.off + s.high_w / 2, s.high_h),
            Side.ABOVE,
            entry="vise_width",
            feature="vise half",
            step_mm=0.001,
        ),
        Dimension("table_height", (s.left, -s.low_h), (s.left, 0), Side.LEFT, entry="table_height", feature="table half"),
        Dimension("vise_height", (s.left, 0), (s.left, s.high_h), Side.LEFT, entry="vise_height", feature="vise half"),
        Dimension("total", (s.right, -s.low_h), (s.right, s.high_h), Side.RIGHT, feature="vise half"),
    ]
    if s.off:
        dims.append(
            Dimension(
                "offset",
                (0.0, s.high_h),
                (s.off, s.high_h),
                Side.ABOVE,
                value_mm=s.off,
                suffix="off",
                entry="offset",
                feature="vise half",
                step_mm=0.001,
            )
        )
    return Scene("front", "Front", (*_edges(s), *_screw(s)), tuple(dims), _handles(s))


def top(s: TableKeySizes) -> Scene:
    """From above: the vise half and where the screw comes through."""
    y, x = s.length / 2, s.screw_x
    hidden = Style.HIDDEN
    elements: tuple[Element, ...] = (
        box(s.left, -y, s.right, y, Style.VISIBLE, "length"),
        *(
            Line((k, -y), (k, y), Style.VISIBLE, "vise half")
            for k in (s.off - s.high_w / 2, s.off + s.high_w / 2)
            if s.left + 1e-9 < k < s.right - 1e-9
        ),
        *(Line((k, -y), (k, y), hidden, "table half") for k in (-s.low_w / 2, s.low_w / 2) if s.left + 1e-9 < k < s.right - 1e-9),
        Arc((x, 0), s.clear / 2, style=Style.VISIBLE, feature="screw"),
        Arc((x, 0), s.bore / 2, style=hidden, feature="screw"),
        Line((x - 0.7 * s.bore, 0), (x + 0.7 * s.bore, 0), Style.CENTRE),
        Line((x, -0.7 * s.bore), (x, 0.7 * s.bore), Style.CENTRE),
    )
    dims = (Dimension("length", (s.left, -y), (s.left, y), Side.LEFT, entry="length", feature="length"),)
    handle = (
        Handle(
            "length",
            (s.left, y),
            (s.right, y),
            (0.0, 1.0),
            2.0,
            1.0,
            round(s.bore + 3),
            200.0,
            "the screw's head needs metal round it",
            "longer than that is a rail",
            "length",
            value=s.length,
        ),
    )
    return Scene("top", "Top", elements, dims, handle)


def side(s: TableKeySizes) -> Scene:
    """Along the slot."""
    y, up = s.length / 2, -s.low_h + s.bore_depth
    elements: tuple[Element, ...] = (
        box(-y, -s.low_h, y, s.high_h, Style.VISIBLE, "length"),
        *((Line((-y, 0), (y, 0), Style.VISIBLE, "vise half"),) if s.kind != "plain" else ()),
        *(Line((k * s.bore / 2, -s.low_h), (k * s.bore / 2, up), Style.HIDDEN, "screw") for k in (-1, 1)),
        Line((-s.bore / 2, up), (s.bore / 2, up), Style.HIDDEN, "screw"),
        *(Line((k * s.clear / 2, up), (k * s.clear / 2, s.high_h), Style.HIDDEN, "screw") for k in (-1, 1)),
        Line((0, s.high_h + 2), (0, -s.low_h - 2), Style.CENTRE),
    )
    return Scene("side", "Side", elements)
