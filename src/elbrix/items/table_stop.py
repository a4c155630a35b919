"""Table stops."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import TableStop


def stop_scene(stops: tuple[TableStop, ...], picked: str) -> Scene:
    """Stops from above with how far their tongue goes, to scale."""
    elements: list[Element] = []
    y = 0.0
    for stop in stops:
        on, style = stop.id == picked, picked_style(stop.id == picked)
        y -= stop.body_mm + 20
        middle = y + stop.body_mm / 2
        elements += [
            box(0, y, stop.body_mm, y + stop.body_mm, Style.BODY, stop.id),
            box(0, y, stop.body_mm, y + stop.body_mm, style, stop.id),
            Arc((stop.body_mm / 2, middle), 5, style=style, feature=stop.id),
        ]
        elements.append(box(stop.body_mm, middle - 4, stop.body_mm / 2 + stop.reach_mm, middle + 4, Style.HIDDEN, stop.id))
        elements.append(Note((stop.body_mm / 2 + stop.reach_mm + 8, middle), f"{stop.count} of {stop.title}", quiet=not on))
    return Scene("stops", "Table stops, tongues to the right", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return stop_scene(shop.stops, item.id if item is not None else ""), "To scale; dashed: as far as the tongue goes"


KIND = ItemKind(
    kind="stop",
    key="stops",
    title="Table stops",
    order=90,
    type=TableStop,
    attribute="stops",
    scene=_drawn,
    count=number_of,
    new=lambda id, variant: TableStop(id=id, body_mm=30, height_mm=25),
    parameters=(
        Parameter(name="body_mm", label="Body width", kind=Kind.LENGTH, low=5, high=200, step=0.0),
        Parameter(name="height_mm", label="Height", kind=Kind.LENGTH, low=2, high=200, step=0.0),
        Parameter(name="reach_mm", label="Tongue reach", kind=Kind.LENGTH, low=5, high=400, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=99),
    ),
)
