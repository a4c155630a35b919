"""A sine plate drawn: in place on its stack at the steepest angle, and from three sides."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from elbrix.angles.pictures import blocks_on
from elbrix.design.families.sine_plate.layout import STRIP_HIGH, STRIP_WIDE, Layout
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box

if TYPE_CHECKING:
    from elbrix.gauging.build_up import BuiltStack


def profile(s: Layout) -> tuple[Point, ...]:
    """The plate from the side, x from the low end, z from the underside."""
    return ((0, 0), (s.length, 0), (s.length, s.thickness), (0, s.thickness))


def in_place(s: Layout, stack: BuiltStack | None, height_mm: float) -> Scene:
    """On the surface plate, tilted to the steepest angle."""
    theta = math.radians(s.v.number("max_angle"))
    r, rs = s.roll / 2, s.roll_stack / 2
    tilt = math.asin((rs + height_mm - r) / s.centres)
    c, n = math.cos(tilt), math.sin(tilt)

    def at(x: float, z: float) -> Point:
        """From the plate's own x and z (from the underside) to the picture; the pivot roll's centre is at (0, r)."""
        u, w = x - s.roll_x[0], z + s.below
        return u * c - w * n, r + u * n + w * c

    far = at(s.roll_x[1], -s.below)
    right = far[0] + 0.42 * s.centres
    elements: list[Element] = [
        Path(
            ((-2.4 * r, 0), (right, 0), (right, -0.07 * s.centres), (-2.4 * r, -0.07 * s.centres)),
            Style.SURROUNDINGS_SECTION,
            "surface plate",
            closed=True,
        ),
        Line((-2.4 * r, 0), (right, 0), Style.SURROUNDINGS, "surface plate"),
    ]
    ring = tuple(at(x, z) for x, z in profile(s))
    elements += [Path(ring, Style.BODY, "plate", closed=True), Path(ring, Style.VISIBLE, "plate", closed=True)]
    if s.strip_holes:
        strip = tuple(
            at(x, z)
            for x, z in (
                (0, s.thickness),
                (STRIP_WIDE, s.thickness),
                (STRIP_WIDE, s.thickness + STRIP_HIGH),
                (0, s.thickness + STRIP_HIGH),
            )
        )
        elements += [Path(strip, Style.BODY, "stop strip", closed=True), Path(strip, Style.VISIBLE, "stop strip", closed=True)]
    for x in sorted({x for x, _ in s.work_holes}):
        d = s.work_thread.major_mm / 2
        elements += [Line(at(x + k, 0), at(x + k, s.thickness), Style.HIDDEN, "work holes") for k in (-d, d)]
    for centre, radius in (((0.0, r), r), (far, rs)):
        disc = Path(tuple(Arc(centre, radius).points(36)[:-1]), Style.BODY, "rolls", closed=True)
        elements += [disc, Arc(centre, radius, feature="rolls")]
    elements += [
        Line((0, r), far, Style.CENTRE),
        Line((0, r), (0.6 * s.centres, r), Style.CENTRE),
        Arc((0, r), 0.3 * s.centres, 0, math.degrees(tilt), Style.CENTRE, "plate"),
    ]
    dims = [
        Dimension(
            "roll_centres",
            (0, r),
            at(s.length / 2, s.thickness / 2),
            Side.AT,
            value_mm=s.centres,
            prefix="C ",
            entry="roll_centres",
            feature="rolls",
            step_mm=0.001,
            order=0,
        ),
        Dimension(
            "max_angle",
            (0, r),
            (0.40 * s.centres * math.cos(tilt / 2), r + 0.40 * s.centres * math.sin(tilt / 2)),
            Side.AT,
            text=f"{math.degrees(theta):g}°",
            value_mm=math.degrees(theta),
            entry="max_angle",
            feature="plate",
            order=1,
        ),
    ]
    if stack is not None:
        elements += blocks_on(far[0], stack, "stack", side=1, room=0.055 * s.centres)
        dims.append(
            Dimension(
                "stack",
                (far[0] + 15, 0),
                (far[0] + 15, stack.height_mm),
                Side.RIGHT,
                value_mm=stack.height_mm,
                suffix="stack",
                step_mm=0.0001,
                feature="stack",
            )
        )
    return Scene("in place", "On its stack at the steepest angle", tuple(elements), tuple(dims))


def front(s: Layout) -> Scene:
    """From the side: the profile with its rolls."""
    a, b = s.roll_x
    z = -s.below
    elements: list[Element] = [
        Path(profile(s), Style.BODY, "plate", closed=True),
        Path(profile(s), Style.VISIBLE, "plate", closed=True),
    ]
    for x, d in ((a, s.roll), (b, s.roll_stack)):
        half = math.degrees(math.asin(min(1.0, s.below / (d / 2))))
        elements += [
            Arc((x, z), d / 2, 180 - half, 360 + half, Style.VISIBLE, "rolls"),
            Line((x, z - d * 0.7), (x, s.thickness + 3), Style.CENTRE),
            Line((x - d * 0.7, z), (x + d * 0.7, z), Style.CENTRE),
        ]
    for x in sorted({x for x, _ in s.work_holes}):
        d = s.work_thread.major_mm / 2
        elements += [Line((x + k, 0), (x + k, s.thickness), Style.HIDDEN, "work holes") for k in (-d, d)]
    dims = (
        Dimension("roll_centres", (a, z), (b, z), Side.BELOW, entry="roll_centres", feature="rolls", step_mm=0.001, order=0),
        Dimension("length", (0, 0), (s.length, 0), Side.BELOW, feature="plate", step_mm=0.5),
        Dimension(
            "thickness",
            (s.length, 0),
            (s.length, s.thickness),
            Side.RIGHT,
            entry="thickness",
            feature="plate",
            step_mm=0.1,
            order=2,
        ),
        Dimension(
            "overhang", (0, s.thickness), (a, s.thickness), Side.ABOVE, entry="overhang", feature="plate", step_mm=0.1, order=3
        ),
        Dimension(
            "roll_diameter",
            (a, z - s.roll / 2),
            (a, z + s.roll / 2),
            Side.LEFT,
            prefix="Ø",
            value_mm=s.roll,
            entry="roll_diameter",
            feature="rolls",
            step_mm=0.001,
            order=1,
        ),
    )
    handles = (
        Handle(
            "thickness",
            (0, s.thickness),
            (s.length, s.thickness),
            (0.0, 1.0),
            1.0,
            1.0,
            8.0,
            80.0,
            "the counterbores need it",
            "heavier than it need be",
            "plate",
        ),
    )
    return Scene("front", "Side", tuple(elements), dims, handles)


def top(s: Layout) -> Scene:
    """The work face with every hole."""
    w = s.width / 2
    elements: list[Element] = [
        box(0, -w, s.length, w, Style.BODY, "plate"),
        box(0, -w, s.length, w, Style.VISIBLE, "plate"),
        Line((-4, 0), (s.length + 4, 0), Style.CENTRE),
    ]
    for x in s.roll_x:
        elements += [
            Line((x, -w - 4), (x, w + 4), Style.CENTRE),
            *(Line((x + k * s.roll / 2, -w), (x + k * s.roll / 2, w), Style.HIDDEN, "rolls") for k in (-1, 1)),
        ]
    elements += [Arc(p, s.work_thread.major_mm / 2, feature="work holes") for p in s.work_holes]
    for p in s.screws:
        elements += [Arc(p, s.bore_mm / 2, feature="roll screws"), Arc(p, s.clear_mm / 2, feature="roll screws")]
    elements += [Arc(p, 2.0, feature="stop strip") for p in s.strip_holes]
    if s.strip_holes:
        elements.append(Line((STRIP_WIDE, -w), (STRIP_WIDE, w), Style.HIDDEN, "stop strip"))
    many = len(s.holes) > 24
    for hole in s.holes:
        if not many or hole.name[0] != "W" or hole.name in ("W1", f"W{len(s.work_holes)}"):
            elements.append(Note((hole.x_mm, hole.y_mm + s.bore_mm * 0.75), hole.name, quiet=True, align=0))
    dims = (Dimension("width", (s.length, -w), (s.length, w), Side.RIGHT, entry="width", feature="plate", step_mm=0.1, order=4),)
    handles = (
        Handle(
            "width",
            (0, w),
            (s.length, w),
            (0.0, 1.0),
            2.0,
            1.0,
            20.0,
            400.0,
            "two screws a roll need room",
            "larger than it need be",
            "plate",
        ),
    )
    return Scene("top", "Top", tuple(elements), dims, handles)


def side(s: Layout) -> Scene:
    """From the low end."""
    w, z = s.width / 2, -s.below
    elements: list[Element] = [
        box(-w, 0, w, s.thickness, Style.BODY, "plate"),
        box(-w, 0, w, s.thickness, Style.VISIBLE, "plate"),
        box(-w, z - s.roll / 2, w, 0, Style.VISIBLE, "rolls"),
        Line((0, s.thickness + 4), (0, z - s.roll * 0.7), Style.CENTRE),
    ]
    dims = (Dimension("face_above", (w, z), (w, s.thickness), Side.RIGHT, feature="plate", step_mm=0.01),)
    return Scene("side", "Low end", tuple(elements), dims)
