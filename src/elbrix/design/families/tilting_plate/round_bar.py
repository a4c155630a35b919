"""The bar of a tilting plate: a round faced to length, two tapped holes across it.

x along its axis from its middle, z up toward the plate.
"""

from __future__ import annotations

from elbrix.design.families.tilting_plate.sizes import TiltingPlateSizes
from elbrix.design.work import Blank, PatternHole, RoundHoles, Step, TurnedPart, TurnedTaper, Work
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Path, Scene, Side, Style
from elbrix.mechanics.drilling import point_mm
from elbrix.solids.recipe import Cut, Recipe, Turned, drilled

#: Leg of its broken ends, mm.
CHAMFER = 1.0


def _places(s: TiltingPlateSizes) -> tuple[float, float]:
    half = s.v.number("screw_spacing") / 2
    return -half, half


def solid(s: TiltingPlateSizes) -> Recipe:
    r, half = s.bar / 2, s.v.number("bar_length") / 2
    long = 2 * half
    profile = ((0.0, 0.0), (r - CHAMFER, 0.0), (r, CHAMFER), (r, long - CHAMFER), (r - CHAMFER, long), (0.0, long))
    drill = s.screw.tap_drill[1]
    holes = tuple(drilled((x, 0.0, r), ((drill, s.bar_drilled),)) for x in _places(s))
    return Cut(Turned(profile, (-half, 0.0, 0.0), (1.0, 0.0, 0.0)), holes)


def work(s: TiltingPlateSizes) -> Work:
    """Faced to length, its ends broken, then drilled and tapped across in V-blocks."""
    long, d, half = s.v.number("bar_length"), s.bar, s.v.number("bar_length") / 2
    steps: tuple[Step, ...] = (
        TurnedPart(name="Bar", size_mm=d, length_mm=long, allowed_mm=0.1, feature="bar", id="bar"),
        TurnedTaper(
            name="Chamfer", from_size_mm=d - 2 * CHAMFER, to_size_mm=d, from_mm=0.0, to_mm=CHAMFER, feature="bar", id="chamfer"
        ),
        TurnedTaper(
            name="Chamfer",
            from_size_mm=d,
            to_size_mm=d - 2 * CHAMFER,
            from_mm=long - CHAMFER,
            to_mm=long,
            feature="bar",
            id="chamfer2",
        ),
        RoundHoles(
            name="Screw holes",
            holes=tuple(
                PatternHole(
                    half + x,
                    0.0,
                    thread=s.screw.name,
                    drill_mm=s.screw.tap_drill[1],
                    depth_mm=s.bar_drilled,
                    thread_depth_mm=s.engaged,
                )
                for x in _places(s)
            ),
            feature="screws",
            id="across",
        ),
    )
    blank = Blank(width_mm=d, height_mm=d, round_mm=d, length_mm=long, material=s.v.word("material"), along="+x", up="+z")
    return Work(blank, steps, solid=solid(s))


def views(s: TiltingPlateSizes) -> tuple[Scene, Scene, Scene]:
    """Front, top and side of the bar."""
    r, half = s.bar / 2, s.v.number("bar_length") / 2
    c, drill, major = CHAMFER, s.screw.tap_drill[1] / 2, s.screw.major_mm / 2
    ring = (
        (-half, -r + c),
        (-half + c, -r),
        (half - c, -r),
        (half, -r + c),
        (half, r - c),
        (half - c, r),
        (-half + c, r),
        (-half, r - c),
    )
    outline: list[Element] = [
        Path(ring, Style.BODY, "bar", closed=True),
        Path(ring, Style.VISIBLE, "bar", closed=True),
        *(Line((k * (half - c), -r), (k * (half - c), r), Style.VISIBLE, "bar") for k in (-1, 1)),
        Line((-half - 4, 0), (half + 4, 0), Style.CENTRE),
    ]
    seen, across = list(outline), list(outline)
    floor = r - s.bar_drilled
    for x in _places(s):
        seen += [Line((x + k * drill, r), (x + k * drill, floor), Style.HIDDEN, "screws") for k in (-1, 1)]
        seen += [Line((x + k * major, r), (x + k * major, r - s.engaged), Style.THREAD, "screws") for k in (-1, 1)]
        seen.append(Path(((x - drill, floor), (x, floor - point_mm(2 * drill)), (x + drill, floor)), Style.HIDDEN, "screws"))
        seen.append(Line((x, -r - 3), (x, r + 3), Style.CENTRE, "screws"))
        across += [
            Arc((x, 0), drill, style=Style.VISIBLE, feature="screws"),
            Arc((x, 0), major, 100, 370, Style.THREAD, "screws"),
        ]
    low, high = _places(s)
    sizes = (
        Dimension("bar_length", (-half, -r), (half, -r), Side.BELOW, entry="bar_length", feature="bar"),
        Dimension("bar_diameter", (-half, -r), (-half, r), Side.LEFT, prefix="Ø", entry="bar_diameter", feature="bar"),
        Dimension("screw_spacing", (low, r), (high, r), Side.ABOVE, entry="screw_spacing", feature="screws"),
        Dimension("drilled", (high, floor), (high, r), Side.RIGHT, feature="screws", step_mm=0.1),
    )
    end: list[Element] = [
        Arc((0, 0), r, style=Style.VISIBLE, feature="bar"),
        Arc((0, 0), r - c, style=Style.VISIBLE, feature="bar"),
        *(Line((k * drill, floor), (k * drill, r), Style.HIDDEN, "screws") for k in (-1, 1)),
        Line((-1.2 * r, 0), (1.2 * r, 0), Style.CENTRE),
        Line((0, -1.2 * r), (0, 1.2 * r), Style.CENTRE),
    ]
    return (
        Scene("front", "Front of the bar", tuple(seen), sizes),
        Scene("top", "Top", tuple(across)),
        Scene("side", "Right end", tuple(end)),
    )
