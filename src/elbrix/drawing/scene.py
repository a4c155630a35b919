"""What a drawing is made of: lines, arcs, fills, words and dimensions in mm, each with a style and the feature it belongs to.

A scene is in the coordinates of the thing itself, x to the right and y up. How it is coloured and how large its letters are is
left to whoever shows it: the plate, the paper, a DXF file.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from enum import StrEnum
from functools import cached_property
from typing import Final

from msgspec import Struct, field
from msgspec.structs import replace

Point = tuple[float, float]


class Style(StrEnum):
    """What a stroke stands for; the painter and the writers of files each have their own pen for it."""

    VISIBLE = "visible"  #: scribed edges
    HIDDEN = "hidden"
    CENTRE = "centre"
    THIN = "thin"
    SURROUNDINGS = "host"  #: what the thing lives in: slot, vise, table
    THREAD = "thread"
    SECTION = "section"  #: filled cut face
    SURROUNDINGS_SECTION = "host section"  #: hatched cut face of the host
    BODY = "body"  #: plain fill of the thing
    TOOL = "tool"  #: a cutter or a caliper jaw
    PATH_GO = "path, go"  #: a stretch of the cutter's path where the work holds
    PATH_MARGINAL = "path, marginal"
    PATH_NO_GO = "path, no-go"


class Line(Struct, frozen=True):
    """A straight stroke."""

    a: Point
    b: Point
    style: Style = Style.VISIBLE
    feature: str = ""


class Arc(Struct, frozen=True):
    """Counter-clockwise from start to end, degrees; a full circle is 0 to 360. An ellipse has ratio and turn."""

    centre: Point
    radius: float
    start_deg: float = 0.0
    end_deg: float = 360.0
    style: Style = Style.VISIBLE
    feature: str = ""
    ratio: float = 1.0  #: small over large radius
    turn_deg: float = 0.0  #: of the large radius

    def points(self, count: int = 48) -> list[Point]:
        """Along the arc, for shapes a device cannot draw itself."""
        turn = math.radians(self.turn_deg)
        found = []
        for i in range(count + 1):
            t = math.radians(self.start_deg + (self.end_deg - self.start_deg) * i / count)
            u, v = self.radius * math.cos(t), self.radius * self.ratio * math.sin(t)
            found.append(
                (
                    self.centre[0] + u * math.cos(turn) - v * math.sin(turn),
                    self.centre[1] + u * math.sin(turn) + v * math.cos(turn),
                )
            )
        return found

    def corners(self) -> list[Point]:
        """Points that the arc just reaches to: of a circle's piece its ends and where it turns back, exactly."""
        if self.ratio != 1.0:
            return self.points(12)
        x, y, r = *self.centre, self.radius
        found = []
        if self.end_deg - self.start_deg < 360:
            for deg in (self.start_deg, self.end_deg):
                t = math.radians(deg)
                found.append((x + r * math.cos(t), y + r * math.sin(t)))
        first = math.ceil(self.start_deg / 90)
        for n in range(first, min(first + 4, math.floor(self.end_deg / 90) + 1)):
            dx, dy = _QUARTERS[n % 4]
            found.append((x + r * dx, y + r * dy))
        return found


#: Where a circle reaches furthest: right, up, left, down.
_QUARTERS: Final = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))


class Path(Struct, frozen=True):
    """A run of straight pieces, closed and filled or not."""

    points: tuple[Point, ...]
    style: Style = Style.VISIBLE
    feature: str = ""
    closed: bool = False
    holes: tuple[tuple[Point, ...], ...] = ()


class Note(Struct, frozen=True):
    """A note at a place; `leader` points at what it is about."""

    at: Point
    text: str
    leader: Point | None = None
    feature: str = ""
    figure: str = ""  #: key of the number it speaks of
    quiet: bool = False
    plain: bool = False  #: written like the edges: what is stamped on a thing
    align: int = -1  #: -1 text starts at `at`, 0 is centred on it, 1 ends there
    short: str = ""  #: said instead where room is short
    stays: bool = False  #: one of a column of names: a line further up or down it would name another thing


class Side(StrEnum):
    """Where a dimension line stands off from the thing."""

    ABOVE = "above"
    BELOW = "below"
    LEFT = "left"
    RIGHT = "right"
    AT = "at"  #: the number alone, standing on `b`: angles, radii, things without a dimension line


class Dimension(Struct, frozen=True):
    """A size between two points, measured along x (ABOVE, BELOW) or y (LEFT, RIGHT).

    `entry` names the parameter that typing changes; a size without one is only shown.
    """

    key: str
    a: Point
    b: Point
    side: Side
    text: str = ""  #: shown in place of the number
    value_mm: float | None = None  #: shown number; None: the distance itself
    prefix: str = ""  #: "Ø"
    suffix: str = ""  #: "slot"
    entry: str = ""
    step_mm: float | None = None
    feature: str = ""
    measured: bool = False
    order: int = 0  #: Tab order
    near: tuple[float, float, float, float] | None = None  #: bounds of the view it belongs to, when that is one of several

    @property
    def along_x(self) -> bool:
        return self.side in (Side.ABOVE, Side.BELOW)

    @property
    def value(self) -> float:
        if self.value_mm is not None:
            return self.value_mm
        return abs(self.b[0] - self.a[0]) if self.along_x else abs(self.b[1] - self.a[1])


class Handle(Struct, frozen=True):
    """An edge that can be dragged, and what settles it.

    Moving it by `along` times a distance changes the parameter by `gain` times that distance.
    """

    entry: str
    a: Point
    b: Point
    along: Point  #: unit vector of useful motion
    gain: float
    step: float = 0.1
    low: float = 0.0
    high: float = math.inf
    low_reason: str = ""
    high_reason: str = ""
    feature: str = ""
    value: float | None = None  #: what it stands at; None: a dimension of the same entry says so


class MovablePoint(Struct, frozen=True):
    """A place that can be taken up and set down elsewhere: one of the places of a parameter, and what it settles on."""

    entry: str
    index: int
    at: Point
    radius: float
    origin: Point = (0.0, 0.0)  #: the datum the places count from
    step: float = 1.0
    lines_x: tuple[float, ...] = ()  #: lines along y that pull it
    lines_y: tuple[float, ...] = ()  #: lines along x
    ring: float = 0.0  #: radius of a circle about the origin of the picture; 0: none
    feature: str = ""
    offset: Point = (0.0, 0.0)  #: of its view among several; everything else is in the view's own coordinates

    @property
    def shown(self) -> Point:
        """Where it stands in the picture."""
        return (self.at[0] + self.offset[0], self.at[1] + self.offset[1])


Element = Line | Arc | Path | Note


class Scene(Struct, frozen=True, dict=True):
    """One view."""

    name: str  #: "in place", "front", "top", "side", "iso", "section"
    title: str = ""
    elements: tuple[Element, ...] = ()
    dimensions: tuple[Dimension, ...] = ()
    handles: tuple[Handle, ...] = field(default=())
    spots: tuple[MovablePoint, ...] = ()
    to_scale: bool = True  #: whether its sizes are sizes of things, so that a scale can be said

    def bounds(self) -> tuple[float, float, float, float]:
        """Left, bottom, right, top of everything but words and dimensions, mm."""
        return self._bounds

    @cached_property
    def _bounds(self) -> tuple[float, float, float, float]:
        xs, ys = [], []
        for x, y in self._corners():
            xs.append(x)
            ys.append(y)
        return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 1.0, 1.0)

    @cached_property
    def strokes(self) -> int:
        """About how much there is to paint: a straight line is one."""
        found = 0
        for e in self.elements:
            if isinstance(e, Line):
                found += 1
            elif isinstance(e, Arc):
                found += 2 if e.ratio == 1.0 else 6
            elif isinstance(e, Path):
                found += 2 + (len(e.points) + sum(map(len, e.holes))) // 8
        return found

    def near(self, at: Point, reach: float) -> list[Element]:
        """The elements whose box a place is in or close to, in order: of thousands only a few are looked at in earnest."""
        x, y = at
        return [
            e
            for e, (left, bottom, right, top) in zip(self.elements, self._boxes, strict=True)
            if left - reach <= x <= right + reach and bottom - reach <= y <= top + reach
        ]

    @cached_property
    def _boxes(self) -> tuple[tuple[float, float, float, float], ...]:
        """Of each element, what it lies in; of an arc the whole circle."""
        found = []
        for e in self.elements:
            if isinstance(e, Arc):
                (x, y), r = e.centre, e.radius
                found.append((x - r, y - r, x + r, y + r))
                continue
            points = (e.a, e.b) if isinstance(e, Line) else e.points if isinstance(e, Path) else (e.at,)
            xs, ys = [p[0] for p in points] or [0.0], [p[1] for p in points] or [0.0]
            found.append((min(xs), min(ys), max(xs), max(ys)))
        return tuple(found)

    def _corners(self) -> Iterator[Point]:
        for e in self.elements:
            if isinstance(e, Line):
                yield from (e.a, e.b)
            elif isinstance(e, Arc):
                yield from e.corners()
            elif isinstance(e, Path):
                yield from e.points

    def with_elements(self, elements: Iterable[Element]) -> Scene:
        """The same view with other lines."""
        return replace(self, elements=tuple(elements))


def box(left: float, bottom: float, right: float, top: float, style: Style = Style.VISIBLE, feature: str = "") -> Path:
    """A closed rectangle."""
    return Path(((left, bottom), (right, bottom), (right, top), (left, top)), style, feature, closed=True)


def shift(element: Element, dx: float, dy: float) -> Element:
    """An element moved, for setting views side by side."""

    def move(p: Point) -> Point:
        return (p[0] + dx, p[1] + dy)

    if isinstance(element, Line):
        return replace(element, a=move(element.a), b=move(element.b))
    if isinstance(element, Arc):
        return replace(element, centre=move(element.centre))
    if isinstance(element, Path):
        return replace(element, points=tuple(map(move, element.points)), holes=tuple(tuple(map(move, h)) for h in element.holes))
    return replace(element, at=move(element.at), leader=move(element.leader) if element.leader else None)


def shift_scene(scene: Scene, dx: float, dy: float) -> Scene:
    """A whole view moved, with its dimensions and handles."""
    return Scene(
        scene.name,
        scene.title,
        tuple(shift(e, dx, dy) for e in scene.elements),
        tuple(
            replace(
                d,
                a=(d.a[0] + dx, d.a[1] + dy),
                b=(d.b[0] + dx, d.b[1] + dy),
                near=(d.near[0] + dx, d.near[1] + dy, d.near[2] + dx, d.near[3] + dy) if d.near else None,
            )
            for d in scene.dimensions
        ),
        tuple(replace(h, a=(h.a[0] + dx, h.a[1] + dy), b=(h.b[0] + dx, h.b[1] + dy)) for h in scene.handles),
        tuple(replace(s, offset=(s.offset[0] + dx, s.offset[1] + dy)) for s in scene.spots),
    )


def without_words(scene: Scene) -> Scene:
    """The picture alone, for places too small for notes."""
    return scene.with_elements(e for e in scene.elements if not isinstance(e, Note))


def picked_style(on: bool) -> Style:
    """How a thing among others is drawn: the picked one full, the rest quietly."""
    return Style.VISIBLE if on else Style.SURROUNDINGS
