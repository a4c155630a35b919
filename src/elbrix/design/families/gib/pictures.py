"""A gib drawn: between slide and way, and from three sides."""

from __future__ import annotations

import math

from elbrix.design.bores import circles
from elbrix.design.families.gib.sizes import DIMPLE_DEEP, GibSizes
from elbrix.drawing.scene import Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.mechanics.drilling import point_mm


def in_place(s: GibSizes) -> Scene:
    """Across the slide: the gib between the way's flank and the slide, its screw behind it."""
    beta = s.angle if s.dovetail else math.pi / 2
    high, t, w = s.v.number("way_height"), s.thick, s.width
    c, k = math.cos(beta), math.sin(beta)

    def at(along: float, out: float) -> Point:
        """Along the flank from its root, out from it."""
        return (along * c + out * k, along * k - out * c)

    flank = s.flank
    low = (flank - w) / 2
    ring = tuple(at(a, b) for a, b in ((low, 0.0), (low + w, 0.0), (low + w, t), (low, t)))
    # Its edges lie with floor and top of the way: bevelled as they are.
    if s.dovetail:
        lean = s.lean
        ring = (at(low, 0.0), at(low + w, 0.0), at(low + w + lean, t), at(low + lean, t))
    beyond, deep = t / k, max(16.0, 0.8 * flank)
    back = t + 2.0
    far = max(flank * 1.4, 26.0)
    screw = s.screw.major_mm / 2
    middle = low + w / 2 + (s.lean if s.dovetail else 0.0)
    found: list[Element] = [
        Path(
            (at(0, 0), at(flank, 0), (at(flank, 0)[0] - far, high), (-far, high), (-far, 0.0)),
            Style.SURROUNDINGS_SECTION,
            "way",
            closed=True,
        ),
        Path(ring, Style.BODY, "edges", closed=True),
        Path(ring, Style.VISIBLE, "edges", closed=True),
        Path(
            ((beyond, 0.0), (beyond + flank * c, high), (beyond + flank * c + deep, high), (beyond + deep, 0.0)),
            Style.SURROUNDINGS,
            "slide",
            closed=True,
        ),
        Note((-far * 0.6, high * 0.5), "way", quiet=True, align=0),
        Note((beyond + flank * c + deep + 2, high * 0.75), "slide", quiet=True),
    ]
    if s.screws:
        found += [
            Line(at(middle + q * screw, t), at(middle + q * screw, back + 22), Style.SURROUNDINGS, "screws") for q in (-1, 1)
        ]
        found.append(Line(at(middle, t - 2), at(middle, back + 26), Style.CENTRE, "screws"))
    dims = (
        Dimension("way_height", (-far, 0), (-far, high), Side.LEFT, entry="way_height", feature="edges", order=3),
        Dimension(
            "thickness",
            at(low + w * 0.75, t / 2),
            (at(low + w, t)[0] + 6, high + 7),
            Side.AT,
            value_mm=s.thick,
            entry="thickness",
            feature="thickness",
            step_mm=0.01,
            order=0,
        ),
    )
    return Scene("in place", "Between way and slide, cut across", tuple(found), dims)


def _outline(s: GibSizes) -> tuple[Point, ...]:
    return ((0, 0), (s.length, 0), (s.length, s.thick - s.drop), (0, s.thick))


def _handle(s: GibSizes) -> Handle:
    least = 20.0 if not s.screws else max(20.0, 2 * s.first + 2.5)
    return Handle(
        "length",
        (s.length, 0),
        (s.length, s.thick),
        (1.0, 0.0),
        1.0,
        1.0,
        min(least, s.length),
        800.0,
        "its screws press on it",
        "longer than any slide here",
        "body",
        value=s.length,
    )


def front(s: GibSizes) -> Scene:
    found: list[Element] = [
        Path(_outline(s), Style.BODY, "body", closed=True),
        Path(_outline(s), Style.VISIBLE, "body", closed=True),
    ]
    r = s.dimple / 2
    for x in s.places:
        found += [Line((x + k * r, 0), (x + k * r, DIMPLE_DEEP), Style.HIDDEN, "screws") for k in (-1, 1)]
        found.append(
            Path(((x - r, DIMPLE_DEEP), (x, DIMPLE_DEEP + point_mm(s.dimple)), (x + r, DIMPLE_DEEP)), Style.HIDDEN, "screws")
        )
        found.append(Line((x, -3), (x, s.thick + 3), Style.CENTRE, "screws"))
    dims: list[Dimension] = [
        Dimension("length", (0, 0), (s.length, 0), Side.BELOW, entry="length", feature="body", order=2),
        Dimension("thickness", (0, 0), (0, s.thick), Side.LEFT, entry="thickness", feature="thickness", step_mm=0.01, order=0),
    ]
    if s.drop:
        dims.append(
            Dimension("thin_end", (s.length, 0), (s.length, s.thick - s.drop), Side.RIGHT, feature="thickness", step_mm=0.01)
        )
    if s.screws > 1:
        dims.append(
            Dimension("end_distance", (0, s.thick), (s.first, s.thick), Side.ABOVE, entry="end_distance", feature="screws")
        )
    return Scene("front", "Front", tuple(found), tuple(dims), (_handle(s),))


def top(s: GibSizes) -> Scene:
    w, k = s.overall / 2, s.lean
    found: list[Element] = [
        box(0, -w, s.length, w, Style.BODY, "body"),
        box(0, -w, s.length, w, Style.VISIBLE, "body"),
        *([Line((0, -w + k), (s.length, -w + k), Style.VISIBLE, "edges")] if k else []),
        *([Line((0, w - k), (s.length, w - k), Style.HIDDEN, "edges")] if k else []),
        *circles(s.holes),
        Line((-3, s.under_y), (s.length + 3, s.under_y), Style.CENTRE),
    ]
    dims = (Dimension("overall", (0, -w), (0, w), Side.LEFT, feature="edges", step_mm=0.01),)
    return Scene("top", "Top", tuple(found), dims, (_handle(s),))


def side(s: GibSizes) -> Scene:
    """Its section from the thick end; an angle and a width."""
    (ay, az), (by, _), (cy, cz), (dy, _) = s.section
    found: list[Element] = [
        Path(s.section, Style.BODY, "edges", closed=True),
        Path(s.section, Style.VISIBLE, "edges", closed=True),
        *([Note((cy + 2, s.thick / 2), "{value}", feature="edges", figure="bevel")] if s.dovetail else []),
    ]
    if s.drop:
        k = (s.thick - s.drop) * math.tan(math.radians(s.bevel_deg))
        found.append(Line((ay + k, s.thick - s.drop), (by + k, s.thick - s.drop), Style.HIDDEN, "thickness"))
    dims = (
        Dimension("width", (ay, az), (by, az), Side.BELOW, entry="width", feature="edges", step_mm=0.1),
        Dimension("width_top", (dy, cz), (cy, cz), Side.ABOVE, feature="edges", step_mm=0.1),
    )
    return Scene("side", "Thick end", tuple(found), dims)
