"""Dowel and gauge pins."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Note, Path, Scene, Style, picked_style
from elbrix.items.kind import ItemKind, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.locating import Pin
from elbrix.shop.shop import Shop


def pin_scene(pins: tuple[Pin, ...], picked: str) -> Scene:
    """Pins lying side by side, to scale."""
    elements: list[Element] = []
    y = 0.0
    for pin in pins:
        on, style = pin.id == picked, picked_style(pin.id == picked)
        y -= pin.diameter_mm + 10
        c = 0.12 * pin.diameter_mm
        ring = (
            (c, y),
            (pin.length_mm - c, y),
            (pin.length_mm, y + c),
            (pin.length_mm, y + pin.diameter_mm - c),
            (pin.length_mm - c, y + pin.diameter_mm),
            (c, y + pin.diameter_mm),
            (0, y + pin.diameter_mm - c),
            (0, y + c),
        )
        elements += [Path(ring, Style.BODY, pin.id, closed=True), Path(ring, style, pin.id, closed=True)]
        elements.append(Note((0, y + pin.diameter_mm + 2.5), f"{pin.count} of {pin.title}", quiet=not on))
    return Scene("pins", "Pins", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return pin_scene(shop.pins, item.id if item is not None else ""), "To scale"


KIND = ItemKind(
    kind="pin",
    key="pins",
    title="Pins",
    order=110,
    type=Pin,
    attribute="pins",
    scene=_drawn,
    count=number_of,
    sort=lambda p: (p.diameter_mm, p.length_mm),
    new=lambda id, variant: Pin(id=id, diameter_mm=6, length_mm=24),
    parameters=(
        Parameter(name="diameter_mm", label="Diameter, measured", kind=Kind.LENGTH, low=0.3, high=100, step=0.001),
        Parameter(name="length_mm", label="Length", kind=Kind.LENGTH, low=1, high=500, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=999),
    ),
)
