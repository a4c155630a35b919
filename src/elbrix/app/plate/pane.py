"""One picture on the plate: its own scale, where its sizes stand, and what is under a pixel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from msgspec import Struct, field
from PyQt6.QtCore import QLineF, QPointF, QRectF

from elbrix.app.plate.painter import PaintStyle, View, element_path, fitted, place_sizes
from elbrix.drawing.placing import PlacedDimension
from elbrix.drawing.scene import Dimension, Handle, MovablePoint, Note, Scene

_REACH: Final = 7.0  # pixels within which a line is pointed at
Label = Callable[[Dimension], str]


class Pane(Struct):
    """A scene in a box of the plate, in pixels."""

    scene: Scene
    box: QRectF
    view: View = field(default_factory=View)
    placed: list[PlacedDimension] = field(default_factory=list)

    def fit(self, label: Label, look: PaintStyle, *, alone: bool) -> None:
        """As large as the box allows.

        Notes may reach into the room of a second picture; only a picture alone keeps them inside.
        """
        top = 36.0 if self.box.top() < 10 else 8.0
        view = fitted(self.scene, self.box.width(), self.box.height(), label, look, top=top, notes=alone)
        self.view = view.moved(self.box.left(), self.box.top())

    @property
    def share(self) -> float:
        """How much of its box the thing itself takes, by its longer side; 1 for nothing to show."""
        left, bottom, right, top = self.scene.bounds()
        if not self.scene.elements or self.box.isEmpty():
            return 1.0
        return max((right - left) * self.view.scale / self.box.width(), (top - bottom) * self.view.scale / self.box.height())

    @property
    def longest_px(self) -> float:
        """The longer side of the thing as it is drawn."""
        left, bottom, right, top = self.scene.bounds()
        return max(right - left, top - bottom) * self.view.scale

    def place(self, label: Label, look: PaintStyle) -> None:
        """Stand the sizes anew."""
        self.placed = place_sizes(self.scene, self.view, label, look)

    def size_at(self, at: QPointF) -> Dimension | None:
        """The size whose number is under a pixel."""
        for p in self.placed:
            left, bottom, right, top = p.text_box
            if QRectF(left - 3, -top - 3, right - left + 6, top - bottom + 6).contains(at):
                return p.dimension
        return None

    def handle_at(self, at: QPointF) -> Handle | None:
        """The edge under a pixel that can be dragged."""
        for handle in self.scene.handles:
            if _distance(at, QLineF(self.view.px(handle.a), self.view.px(handle.b))) < _REACH:
                return handle
        return None

    def spot_at(self, at: QPointF) -> MovablePoint | None:
        """The place under a pixel that can be taken up; the nearest of several."""
        near = [(QLineF(at, self.view.px(s.shown)).length(), s) for s in self.scene.spots]
        near = [(d, s) for d, s in near if d <= max(_REACH, s.radius * self.view.scale)]
        return min(near, key=lambda n: n[0])[1] if near else None

    def features_at(self, at: QPointF) -> frozenset[str]:
        """The feature whose line is under a pixel, else the one whose face is."""
        near = QRectF(at.x() - 4, at.y() - 4, 8, 8)
        close = self.scene.near(self.view.mm(at), 6.0 / self.view.scale)
        drawn = [(e, element_path(e, self.view)) for e in close if not isinstance(e, Note) and e.feature]
        for element, path in drawn:
            if path.intersects(near) and not path.contains(near):
                return frozenset({element.feature})
        for element, path in reversed(drawn):
            if getattr(element, "closed", False) and path.contains(at):
                return frozenset({element.feature})
        return frozenset()

    def topmost(self, at: QPointF, prefixes: tuple[str, ...]) -> str:
        """The uppermost feature under a pixel whose name begins so; empty for none."""
        near = QRectF(at.x() - 4, at.y() - 4, 8, 8)
        for element in reversed(self.scene.near(self.view.mm(at), 6.0 / self.view.scale)):
            if isinstance(element, Note) or not element.feature.startswith(prefixes):
                continue
            path = element_path(element, self.view)
            if path.intersects(near) if not getattr(element, "closed", False) else path.contains(at):
                return element.feature
        return ""


def _distance(at: QPointF, line: QLineF) -> float:
    dx, dy = line.dx(), line.dy()
    length2 = dx * dx + dy * dy
    t = 0.0 if length2 == 0 else min(1.0, max(0.0, ((at.x() - line.x1()) * dx + (at.y() - line.y1()) * dy) / length2))
    return QLineF(at, QPointF(line.x1() + t * dx, line.y1() + t * dy)).length()
