"""Parallels, in pairs."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.items.kind import ItemKind, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.length_text import length
from elbrix.shop.gauges import Parallel
from elbrix.shop.shop import Shop


def parallel_scene(parallels: tuple[Parallel, ...], picked: str) -> Scene:
    """Pairs of parallels end on beside each other, to scale, with their length behind them dashed."""
    elements: list[Element] = []
    x = 0.0
    for pair in parallels:
        style = Style.VISIBLE if pair.id == picked else Style.SURROUNDINGS
        for i in range(min(2, pair.count)):
            left = x + i * (pair.thickness_mm + 3)
            elements += [
                box(left, 0, left + pair.thickness_mm, pair.height_mm, Style.BODY, pair.id),
                box(left, 0, left + pair.thickness_mm, pair.height_mm, style, pair.id),
            ]
        elements.append(Note((x + pair.thickness_mm, -6), length(pair.height_mm), quiet=pair.id != picked, align=0))
        x += 2 * pair.thickness_mm + 16
    elements.append(Line((-6, 0), (x, 0), Style.SURROUNDINGS))
    return Scene("parallels", "Parallels, end on", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return parallel_scene(shop.parallels, item.id if item is not None else ""), "To scale, end on; pairs as measured"


KIND = ItemKind(
    kind="parallel",
    key="parallels",
    title="Parallels",
    order=150,
    type=Parallel,
    attribute="parallels",
    scene=_drawn,
    count=number_of,
    sort=lambda p: p.height_mm,
    name=lambda t, style: " × ".join(style.show(v, "mm") for v in (t.height_mm, t.thickness_mm, t.length_mm)),
    new=lambda id, variant: Parallel(id=id, height_mm=20, thickness_mm=8, length_mm=150),
    parameters=(
        Parameter(name="height_mm", label="Height, measured", kind=Kind.LENGTH, low=0.5, high=300, step=0.001),
        Parameter(name="thickness_mm", label="Thickness", kind=Kind.LENGTH, low=0.5, high=100, step=0.0),
        Parameter(name="length_mm", label="Length", kind=Kind.LENGTH, low=5, high=1000, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=99),
        Parameter(name="u_mm", label="Uncertainty ±", kind=Kind.LENGTH, low=0.0001, high=1, step=0.0001),
    ),
)
