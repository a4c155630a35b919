"""Bits of layout drawings: a ring filled and edged, the same seen from the front."""

from __future__ import annotations

from collections.abc import Sequence

from elbrix.drawing.scene import Element, Path, Style, box
from elbrix.geometry.shapes import Point, Ring, bounds


def body(ring: Sequence[Point], feature: str, edge: Style = Style.VISIBLE) -> list[Element]:
    """Filled and edged, from above."""
    return [Path(tuple(ring), Style.BODY, feature, closed=True), Path(tuple(ring), edge, feature, closed=True)]


def front(ring: Ring, low: float, high: float, feature: str, edge: Style = Style.VISIBLE) -> list[Element]:
    """The same from the front: its length along the table by its heights."""
    left, _, right, _ = bounds(ring)
    return [box(left, low, right, high, Style.BODY, feature), box(left, low, right, high, edge, feature)]
