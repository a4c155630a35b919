"""A locator drawn: in its plate with the work on it, and from three sides."""

from __future__ import annotations

import math
from itertools import pairwise

from elbrix.design.families.locator.sizes import LocatorSizes
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box


def outline(s: LocatorSizes) -> tuple[Point, ...]:
    """The whole silhouette, from the side across the lands."""
    right = s.profile
    return (*right[1:-1], *((-r, z) for r, z in reversed(right[1:-1])))


def in_place(s: LocatorSizes) -> Scene:
    """Cut through plate and work, or through the housing."""
    ring = outline(s)
    far = max(abs(x) for x, _ in ring) * 2 + 6
    d = s.hole.min / 2
    found: list[Element] = []
    if s.kind == "bush":
        found += [
            box(k * d if k > 0 else -far, -s.depth, far if k > 0 else -d, 0, Style.SURROUNDINGS_SECTION, "housing")
            for k in (1, -1)
        ]
    else:
        q = (s.thread.major_mm if s.kind == "pivot" else s.v.number("plate_hole")) / 2
        t = s.v.number("plate_thickness")
        base = s.head_height if s.kind != "pivot" else 0.0
        found += [
            box(q if k > 0 else -far, -t, far if k > 0 else -q, 0, Style.SURROUNDINGS_SECTION, "plate_thickness") for k in (1, -1)
        ]
        found += [
            box(d if k > 0 else -far * 0.85, base, far * 0.85 if k > 0 else -d, base + s.depth, Style.SURROUNDINGS, "work")
            for k in (1, -1)
        ]
        found += [
            Note((far * 0.45, -t * 0.55), "plate", quiet=True),
            Note((far * 0.45, base + s.depth * 0.4), "work", quiet=True),
        ]
    found += [
        Path(ring, Style.BODY, "body", closed=True),
        *_edges(s),
        Line((0, -max(s.depth, s.shank_length) - 4), (0, s.height + s.head_height + 4), Style.CENTRE),
    ]
    z = -s.height / 2 if s.kind == "bush" else s.height * 0.55
    key = "press_most" if s.kind == "bush" else "least_play"
    found.append(
        Note((far + 4, z), "{value} " + ("pressed" if s.kind == "bush" else "play"), leader=(d, z), feature="body", figure=key)
    )
    return Scene(
        "in place",
        "In its plate with the work on it" if s.kind != "bush" else "Pressed into its bore",
        tuple(found),
        _sizes(s),
        _handles(s),
    )


def _edges(s: LocatorSizes) -> list[Element]:
    right = s.profile
    found: list[Element] = [Path(outline(s), Style.VISIBLE, "body", closed=True)]
    found += [
        Line((-a[0], a[1]), (a[0], a[1]), Style.VISIBLE, "body") for a, b in pairwise(right[1:-1]) if a[0] != b[0] or a[1] == b[1]
    ]
    if s.kind == "bush":
        low, high = right[0][1], right[-1][1]
        found += [Line((k * s.inner / 2, low), (k * s.inner / 2, high), Style.HIDDEN, "bush_bore") for k in (-1, 1)]
    if s.kind == "pivot":
        q = s.thread.major_mm / 2 - 0.6 * s.thread.pitch_mm
        found += [Line((k * q, -s.shank_length), (k * q, 0), Style.THREAD, "shank_diameter") for k in (-1, 1)]
    return found


def _sizes(s: LocatorSizes) -> tuple[Dimension, ...]:
    r = s.size / 2
    base = s.head_height if s.kind in ("pin", "relieved") else 0.0
    if s.kind == "bush":
        dims = [
            Dimension(
                "locating_diameter",
                (-r, -s.height),
                (r, -s.height),
                Side.BELOW,
                prefix="Ø",
                entry="locating_diameter",
                feature="body",
                step_mm=0.001,
                order=0,
            ),
            Dimension(
                "bush_bore",
                (-s.inner / 2, s.head_height),
                (s.inner / 2, s.head_height),
                Side.ABOVE,
                prefix="Ø",
                entry="bush_bore",
                feature="bush_bore",
                step_mm=0.001,
                order=1,
            ),
            Dimension("locating_length", (-r, -s.height), (-r, 0), Side.LEFT, entry="locating_length", feature="body", order=2),
        ]
    else:
        top = base + s.height
        dims = [
            Dimension(
                "locating_diameter",
                (-r, top),
                (r, top),
                Side.ABOVE,
                prefix="Ø",
                entry="locating_diameter",
                feature="body",
                step_mm=0.001,
                order=0,
            ),
            Dimension("locating_length", (-r, base), (-r, top), Side.LEFT, entry="locating_length", feature="body", order=2),
            Dimension(
                "shank_length", (-r, -s.shank_length), (-r, 0), Side.LEFT, entry="shank_length", feature="shank_diameter", order=3
            ),
        ]
        if s.kind != "pivot":
            dims.append(
                Dimension(
                    "shank_diameter",
                    (-s.shank / 2, -s.shank_length),
                    (s.shank / 2, -s.shank_length),
                    Side.BELOW,
                    prefix="Ø",
                    entry="shank_diameter",
                    feature="shank_diameter",
                    step_mm=0.001,
                    order=1,
                )
            )
        else:
            dims.append(
                Dimension(
                    "thread",
                    (-s.thread.major_mm / 2, -s.shank_length),
                    (s.thread.major_mm / 2, -s.shank_length),
                    Side.BELOW,
                    text=s.thread.shown,
                    entry="thread",
                    feature="shank_diameter",
                    order=1,
                )
            )
    if s.head:
        h = s.head / 2
        at = s.height + s.head_height if s.kind == "pivot" else s.head_height if s.kind == "bush" else 0.0
        dims.append(
            Dimension(
                "head_height",
                (h, at - s.head_height if s.kind != "pin" and s.kind != "relieved" else 0.0),
                (h, at if s.kind in ("pivot", "bush") else s.head_height),
                Side.RIGHT,
                entry="head_height",
                feature="head_diameter",
                order=5,
            )
        )
        dims.append(
            Dimension(
                "head_diameter",
                (-h, at),
                (h, at),
                Side.ABOVE,
                prefix="Ø",
                entry="head_diameter",
                feature="head_diameter",
                order=4,
            )
        )
    return tuple(dims)


def _handles(s: LocatorSizes) -> tuple[Handle, ...]:
    r = s.size / 2
    if s.kind == "bush":
        return (
            Handle(
                "locating_length",
                (-r, -s.height),
                (r, -s.height),
                (0.0, -1.0),
                1.0,
                0.1,
                1.0,
                s.depth,
                "it has to hold",
                "the bore ends there",
                "body",
                value=s.height,
            ),
        )
    base = s.head_height if s.kind != "pivot" else 0.0
    found = [
        Handle(
            "locating_length",
            (-r, base + s.height),
            (r, base + s.height),
            (0.0, 1.0),
            1.0,
            0.1,
            0.5,
            400.0 if s.kind == "pivot" else s.depth,
            "it has to reach the work",
            "it would stand out above the work",
            "body",
            value=s.height,
        )
    ]
    q = s.shank / 2
    found.append(
        Handle(
            "shank_length",
            (-q, -s.shank_length),
            (q, -s.shank_length),
            (0.0, -1.0),
            1.0,
            0.5,
            1.0,
            200.0 if s.kind == "pivot" else max(1.0, s.v.number("plate_thickness")),
            "it has to hold",
            "the plate ends there",
            "shank_diameter",
            value=s.shank_length,
        )
    )
    return tuple(found)


def front(s: LocatorSizes) -> Scene:
    """From the side; a relieved pin along the line of the two pins."""
    found: list[Element] = [
        Path(outline(s), Style.BODY, "body", closed=True),
        *_edges(s),
        Line((0, s.profile[0][1] - 4), (0, s.profile[-1][1] + 4), Style.CENTRE),
    ]
    return Scene("front", "Front", tuple(found), _sizes(s), _handles(s))


def top(s: LocatorSizes) -> Scene:
    """Along its axis."""
    radii = sorted({round(r, 4) for r, _ in s.profile if r > 0}, reverse=True)
    found: list[Element] = [Arc((0, 0), r, style=Style.VISIBLE, feature="body") for r in radii]
    if s.kind == "bush":
        found.append(Arc((0, 0), s.inner / 2, style=Style.VISIBLE, feature="bush_bore"))
    reach = radii[0] * 1.25
    found += [Line((-reach, 0), (reach, 0), Style.CENTRE), Line((0, -reach), (0, reach), Style.CENTRE)]
    dims: tuple[Dimension, ...] = ()
    if s.kind == "relieved":
        x, y = s.land / 2, math.sqrt(max(0.0, (s.size / 2) ** 2 - (s.land / 2) ** 2))
        found += [Line((k * x, -y), (k * x, y), Style.VISIBLE, "land_width") for k in (-1, 1)]
        found.append(Note((reach + 1, 0), "line of the two pins", quiet=True))
        dims = (
            Dimension(
                "land_width",
                (-x, -y),
                (x, -y),
                Side.BELOW,
                entry="land_width",
                suffix="land_width",
                feature="land_width",
                order=6,
            ),
        )
    return Scene("top", "Top", tuple(found), dims)


def side(s: LocatorSizes) -> Scene:
    """From the right: a relieved pin shows its full Ø."""
    found: list[Element] = [
        Path(outline(s), Style.BODY, "body", closed=True),
        *_edges(s),
        Line((0, s.profile[0][1] - 4), (0, s.profile[-1][1] + 4), Style.CENTRE),
    ]
    return Scene("side", "Right", tuple(found))
