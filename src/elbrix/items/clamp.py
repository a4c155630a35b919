"""Strap and toe clamps."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Note, Path, Point, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Clamp, ClampKind


def clamp_scene(clamps: tuple[Clamp, ...], picked: str) -> Scene:
    """Clamps from above with their slots, tip to the left, to scale."""
    elements: list[Element] = []
    y = 0.0
    for clamp in clamps:
        on, style = clamp.id == picked, picked_style(clamp.id == picked)
        y -= clamp.width_mm + 22
        nose = 0.3 * clamp.width_mm
        ring: tuple[Point, ...] = (
            (0, y + 0.3 * clamp.width_mm),
            (nose, y),
            (clamp.length_mm, y),
            (clamp.length_mm, y + clamp.width_mm),
            (nose, y + clamp.width_mm),
            (0, y + 0.7 * clamp.width_mm),
        )
        middle = y + clamp.width_mm / 2
        elements += [Path(ring, Style.BODY, clamp.id, closed=True), Path(ring, style, clamp.id, closed=True)]
        elements.append(
            box(
                clamp.slot_from_mm,
                middle - clamp.slot_width_mm / 2,
                clamp.slot_to_mm,
                middle + clamp.slot_width_mm / 2,
                style,
                clamp.id,
            )
        )
        elements.append(Note((clamp.length_mm + 8, middle), f"{clamp.count} of {clamp.title}", quiet=not on, stays=True))
    return Scene("clamps", "Clamps, tips to the left", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return clamp_scene(shop.clamps, item.id if item is not None else ""), "To scale"


KIND = ItemKind(
    kind="clamp",
    key="clamps",
    title="Clamps",
    order=70,
    type=Clamp,
    attribute="clamps",
    scene=_drawn,
    count=number_of,
    sort=lambda c: (c.kind, c.length_mm),
    new=lambda id, variant: Clamp(id=id, length_mm=100, width_mm=28, thickness_mm=16, slot_from_mm=15, slot_to_mm=56),
    parameters=(
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(ClampKind)),
        Parameter(name="length_mm", label="Length", kind=Kind.LENGTH, low=15, high=500, step=0.0),
        Parameter(name="width_mm", label="Width", kind=Kind.LENGTH, low=6, high=150, step=0.0),
        Parameter(name="thickness_mm", label="Thickness", kind=Kind.LENGTH, low=3, high=80, step=0.0),
        Parameter(name="slot_from_mm", label="Slot start from the tip", kind=Kind.LENGTH, low=0, high=400, step=0.0),
        Parameter(name="slot_to_mm", label="Slot end from the tip", kind=Kind.LENGTH, low=0, high=490, step=0.0),
        Parameter(name="slot_width_mm", label="Slot width", kind=Kind.LENGTH, low=1, high=60, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=99),
        Parameter(name="yield_mpa", label="Yield strength", kind=Kind.NUMBER, low=100, high=1500, unit="MPa"),
    ),
)
