"""Letters of a drawing's callouts: which one has which, and where it stands in its view."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import count, pairwise, product
from string import ascii_lowercase
from typing import Final

from elbrix.design.family import Callout, Design
from elbrix.drawing.scene import Arc, Line, Note, Path, Point, Scene

#: A letter stands off its feature by so much of the view's larger side, at least so many mm; and farther where that is crowded.
_OFF_SHARE, _OFF_MM, _FARTHER = 0.1, 3.0, (1.0, 1.6, 2.4)
#: Directions it may stand in.
_WAYS: Final = tuple((math.cos(math.radians(a)), math.sin(math.radians(a))) for a in (45, 135, -45, -135, 0, 180, 90, -90))


def letters(design: Design) -> tuple[tuple[str, Callout], ...]:
    """Every callout with its letter."""
    return _with_letters(design.callouts)


def _with_letters(callouts: Sequence[Callout]) -> tuple[tuple[str, Callout], ...]:
    """A to z, then aa, ab and on: none is left out."""
    names = ("".join(n) for long in count(1) for n in product(ascii_lowercase, repeat=long))
    return tuple(zip(names, callouts, strict=False))


def lettered(view: Scene, callouts: Sequence[Callout]) -> Scene:
    """A view with the letters of its callouts, each as a note with a leader, where no line and nothing written is near."""
    mine = [(letter, c) for letter, c in _with_letters(callouts) if c.view == view.name]
    if not mine:
        return view
    left, bottom, right, top = view.bounds()
    off = max(_OFF_MM, _OFF_SHARE * max(right - left, top - bottom))
    taken = [e.at for e in view.elements if isinstance(e, Note)]
    found: list[Note] = []
    for letter, c in mine:
        at = _place(view, c.at, off, taken)
        taken.append(at)
        found.append(Note(at, letter, leader=c.at, align=0, plain=True))
    return view.with_elements((*view.elements, *found))


def _place(view: Scene, to: Point, off: float, taken: Sequence[Point]) -> Point:
    """The nearest spot with half the usual distance free round it, else the freest."""
    spots = [(to[0] + k * off * dx, to[1] + k * off * dy) for k in _FARTHER for dx, dy in _WAYS]
    rooms = [_room(view, p, taken) for p in spots]
    return next((p for p, room in zip(spots, rooms, strict=True) if room >= 0.5 * off), spots[rooms.index(max(rooms))])


def _room(view: Scene, p: Point, taken: Sequence[Point]) -> float:
    """From a spot to the nearest line or letter, mm."""
    found = [math.dist(p, t) for t in taken]
    for e in view.elements:
        if isinstance(e, Line):
            found.append(_from_line(p, e.a, e.b))
        elif isinstance(e, Arc):
            found.append(abs(math.dist(p, e.centre) - e.radius))
        elif isinstance(e, Path):
            ring = (*e.points, e.points[0]) if e.closed else e.points
            found += [_from_line(p, a, b) for a, b in pairwise(ring)]
    return min(found, default=math.inf)


def _from_line(p: Point, a: Point, b: Point) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    long = dx * dx + dy * dy
    share = max(0.0, min(1.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / long)) if long else 0.0
    return math.dist(p, (a[0] + share * dx, a[1] + share * dy))
