"""Bores that something has to fit."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.locating import Bore
from elbrix.shop.shop import Shop


def bore_scene(bores: tuple[Bore, ...], picked: str) -> Scene:
    """Bores from their mouths, the smallest circle in each drawn full, the largest hidden and ten times as far off."""
    elements: list[Element] = []
    x = 0.0
    for bore in bores:
        on, style = bore.id == picked, picked_style(bore.id == picked)
        r = bore.smallest_mm / 2
        x += r + 10
        grown = min(r + 5 * bore.uneven_mm, 1.3 * r)
        elements += [Arc((x, 0), grown, style=Style.HIDDEN, feature=bore.id), Arc((x, 0), r, style=style, feature=bore.id)]
        elements += [Line((x - r - 3, 0), (x + r + 3, 0), Style.CENTRE), Line((x, -r - 3), (x, r + 3), Style.CENTRE)]
        elements.append(Note((x, -grown - 8), bore.title, quiet=not on, align=0))
        x += r + 10 + 0.3 * r
    return Scene("bores", "Bores, unevenness ten times", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return bore_scene(shop.bores, item.id if item is not None else ""), "The smallest diameter rules what goes in"


KIND = ItemKind(
    kind="bore",
    key="bores",
    title="Bores to fit",
    order=120,
    type=Bore,
    attribute="bores",
    scene=_drawn,
    name=lambda t, style: str(t.title),
    sort=lambda b: b.name,
    count=lambda bore, style: f"Ø{style.show(bore.smallest_mm, 'mm')} at least",
    new=lambda id, variant: Bore(id=id, name="bore", smallest_mm=20, largest_mm=20),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="smallest_mm", label="Smallest diameter anywhere", kind=Kind.LENGTH, low=0.5, high=1000, step=0.001),
        Parameter(name="largest_mm", label="Largest diameter anywhere", kind=Kind.LENGTH, low=0.5, high=1000, step=0.001),
        Parameter(name="depth_mm", label="Depth, 0 for through", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
    ),
)
