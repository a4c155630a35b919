"""Sizes that follow from the others: they are drawn in brackets, so that nobody adds their limits up. Source: ISO 129-1."""

from __future__ import annotations

from collections.abc import Sequence

from elbrix.design.family import Design
from elbrix.drawing.scene import Dimension, Scene, Side

#: Which axes of the part a view shows across and up.
_AXES = {"front": ("x", "z"), "top": ("x", "y"), "side": ("y", "z")}
_Place = tuple[str, float]  #: axis, mm


def reference_sizes(design: Design, scenes: Sequence[Scene]) -> frozenset[str]:
    """Keys of the sizes without an entry whose ends other sizes, or the hole table, join already."""
    joined = _Joined()
    shown = [(s.name, d) for s in scenes if s.name in _AXES for d in s.dimensions if d.side is not Side.AT]
    across, up = _AXES[design.face]
    for hole in design.holes:
        for axis, datum, by in ((across, design.origin[0], hole.x_mm), (up, design.origin[1], hole.y_mm)):
            joined.join((axis, datum), (axis, datum + by))
    own = [(view, d) for view, d in shown if d.entry or d.value_mm is not None or d.prefix]
    for view, d in own:
        joined.join(*_ends(view, d))
    found = []
    for view, d in shown:
        if (view, d) in own:
            continue
        a, b = _ends(view, d)
        if joined.of(a) == joined.of(b):
            found.append(d.key)
        joined.join(a, b)
    return frozenset(found)


def _ends(view: str, d: Dimension) -> tuple[_Place, _Place]:
    across, up = _AXES[view]
    return ((across, d.a[0]), (across, d.b[0])) if d.along_x else ((up, d.a[1]), (up, d.b[1]))


class _Joined:
    """Places joined by sizes."""

    def __init__(self) -> None:
        self._up: dict[_Place, _Place] = {}

    def of(self, place: _Place) -> _Place:
        here = (place[0], round(place[1], 3) + 0.0)
        while self._up.setdefault(here, here) != here:
            here = self._up[here]
        return here

    def join(self, a: _Place, b: _Place) -> None:
        self._up[self.of(a)] = self.of(b)
