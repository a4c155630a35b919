"""Storage places: drawers and boxes, how many pieces each takes."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.places import StoragePlace
from elbrix.shop.shop import Shop

#: One front of the cabinet, in units of the picture: places have no measured size.
_WIDE, _HIGH, _GAP = 150.0, 34.0, 6.0


def cabinet_scene(places: tuple[StoragePlace, ...], picked: str) -> Scene:
    """The places as fronts of one cabinet, in two columns once they are many; not to scale."""
    columns = 1 if len(places) <= 6 else 2 if len(places) <= 24 else 4
    rows = -(-len(places) // columns)
    elements: list[Element] = []
    for n, place in enumerate(places):
        x, y = (n // rows) * (_WIDE + _GAP), -(n % rows) * (_HIGH + _GAP)
        style = picked_style(place.id == picked)
        elements += [
            box(x, y, x + _WIDE, y + _HIGH, Style.BODY, place.id),
            box(x, y, x + _WIDE, y + _HIGH, style, place.id),
            Arc((x + _WIDE - 12, y + _HIGH / 2), 4, style=style, feature=place.id),
            Note((x + 8, y + _HIGH * 0.62), place.name, feature=place.id, quiet=place.id != picked),
        ]
        room = f"room for {place.capacity}" if place.capacity else "not counted"
        elements.append(Note((x + 8, y + _HIGH * 0.24), room, feature=place.id, quiet=True))
    elements.append(box(-_GAP, -(rows - 1) * (_HIGH + _GAP) - _GAP, columns * (_WIDE + _GAP), _HIGH + _GAP, Style.HIDDEN))
    return Scene("places", "Storage places", tuple(elements), to_scale=False)


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return cabinet_scene(KIND.of(shop), item.id if item is not None else ""), "Not to scale"


KIND = ItemKind(
    kind="storage place",
    key="storage_places",
    title="Storage places",
    order=200,
    type=StoragePlace,
    scene=_drawn,
    sort=lambda p: p.name.casefold(),
    count=lambda p, style: f"room for {p.capacity}" if p.capacity else "not counted",
    new=lambda id, variant: StoragePlace(id=id, name="Drawer"),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="capacity", label="Pieces it takes, 0 not counted", kind=Kind.COUNT, unit="", low=0, high=100_000),
        Parameter(name="notes", label="Notes", kind=Kind.TEXT, unit=""),
    ),
)
