"""Chucks, arbors, boring heads and tool posts: what cutters are held in besides collets."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Holder, HolderKind


def holder_scene(holders: tuple[Holder, ...], picked: str) -> Scene:
    """Holders from the side, mouth down, with the largest shank each takes; to scale."""
    elements: list[Element] = []
    x = 0.0
    for holder in holders:
        on = holder.id == picked
        style = picked_style(on)
        half = holder.most_mm / 2
        body = half + 9
        x += body + 10
        elements += [
            box(x - body, 0, x + body, 34, Style.BODY, holder.id),
            box(x - body, 0, x + body, 34, style, holder.id),
            box(x - 6, 34, x + 6, 58, style, holder.id),
            box(x - half, -16, x + half, 0, style, holder.id),
            Line((x, -22), (x, 62), Style.CENTRE),
            Note((x, -30), holder.title, quiet=not on, align=0),
        ]
        x += body + 34
    return Scene("holders", "Holders, mouth down", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return holder_scene(shop.holders, item.id if item is not None else ""), "Largest shanks to scale"


KIND = ItemKind(
    kind="holder",
    key="holders",
    title="Chucks and holders",
    order=35,
    type=Holder,
    attribute="holders",
    scene=_drawn,
    name=lambda t, style: str(t.title),
    sort=lambda t: (t.kind.value, t.most_mm),
    count=lambda t, style: f"to {style.show(t.most_mm, 'mm')}",
    new=lambda id, variant: Holder(id=id, kind=HolderKind.DRILL_CHUCK, name="drill chuck", least_mm=1, most_mm=13),
    parameters=(
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(HolderKind)),
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="least_mm", label="Smallest it takes", kind=Kind.LENGTH, low=0, high=200, step=0.0),
        Parameter(name="most_mm", label="Largest it takes", kind=Kind.LENGTH, low=0.5, high=300, step=0.0),
        Parameter(name="machine", label="Machine it fits, blank for any", kind=Kind.TEXT, unit=""),
    ),
)
