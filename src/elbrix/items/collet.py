"""Collets: which shanks can be held in which spindle."""

from __future__ import annotations

import math
from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Collet


def collet_scene(collets: tuple[Collet, ...], picked: str) -> Scene:
    """Collets from their mouths, to scale: the bore full, the body round it thin."""
    elements: list[Element] = []
    x = 0.0
    for collet in collets:
        on, style = collet.id == picked, picked_style(collet.id == picked)
        r, body = collet.size_mm / 2, collet.size_mm / 2 + 7
        x += body + 6
        elements += [Arc((x, 0), body, style=style, feature=collet.id), Arc((x, 0), r, style=style, feature=collet.id)]
        elements += [
            Line((x + r * math.cos(a), r * math.sin(a)), (x + body * math.cos(a), body * math.sin(a)), Style.THIN, collet.id)
            for a in (math.pi / 2, math.pi * 7 / 6, math.pi * 11 / 6)
        ]
        elements.append(Note((x, -body - 6), collet.name, quiet=not on, align=0))
        x += body + 6
    return Scene("collets", "Collets, from the mouth", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return collet_scene(shop.collets, item.id if item is not None else ""), "Bores to scale"


KIND = ItemKind(
    kind="collet",
    key="collets",
    title="Collets",
    order=30,
    type=Collet,
    attribute="collets",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    sort=lambda c: c.size_mm,
    count=lambda collet, style: f"Ø{style.show(collet.size_mm, 'mm')}",
    new=lambda id, variant: Collet(id=id, size_mm=10, name="collet 10"),
    parameters=(
        Parameter(name="size_mm", label="Shank diameter", kind=Kind.LENGTH, low=0.5, high=60, step=0.0),
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="machine", label="Machine it fits, blank for any", kind=Kind.TEXT, unit=""),
    ),
)
