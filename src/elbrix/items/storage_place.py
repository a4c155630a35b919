"""Storage places: drawers and boxes, how many pieces each takes."""

from __future__ import annotations

from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.places import StoragePlace

KIND = ItemKind(
    kind="storage_place",
    key="storage_places",
    title="Storage places",
    order=200,
    type=StoragePlace,
    sort=lambda p: p.name.casefold(),
    count=lambda p, style: f"room for {p.capacity}" if p.capacity else "not counted",
    new=lambda id, variant: StoragePlace(id=id, name="Drawer"),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="capacity", label="Pieces it takes, 0 not counted", kind=Kind.COUNT, unit="", low=0, high=100_000),
        Parameter(name="notes", label="Notes", kind=Kind.TEXT, unit=""),
    ),
)
