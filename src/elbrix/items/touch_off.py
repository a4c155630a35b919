"""Touch-off tools: half of one stands in every number that is counted from a touched side."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import TouchOff


def touch_off_scene(tools: tuple[TouchOff, ...], picked: str) -> Scene:
    """Each against a side it touches, and its end; to scale."""
    elements: list[Element] = []
    x = 0.0
    for tool in tools:
        on, style = tool.id == picked, picked_style(tool.id == picked)
        r = tool.size_mm / 2
        x += 30
        elements += [
            box(x - 24, -26, x, 0, Style.SURROUNDINGS_SECTION, "work"),
            box(x, -14, x + 2 * r, 30, Style.BODY, tool.id),
            box(x, -14, x + 2 * r, 30, style, tool.id),
            Line((x + r, -34), (x + r, 36), Style.CENTRE),
            Arc((x + r, 48 + r), r, style=style, feature=tool.id),
            Note((x + r, -42), tool.title, quiet=not on, align=0),
        ]
        x += 2 * r + 40
    return Scene("touch_offs", "Touch-off tools against a side", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return touch_off_scene(shop.touch_offs, item.id if item is not None else ""), "To scale"


KIND = ItemKind(
    kind="touch_off",
    key="touch_offs",
    title="Edge finders",
    order=45,
    type=TouchOff,
    attribute="touch_offs",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    sort=lambda t: t.size_mm,
    count=lambda t, style: f"Ø{style.show(t.size_mm, 'mm')}",
    new=lambda id, variant: TouchOff(id=id, size_mm=10),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="size_mm", label="Diameter that touches", kind=Kind.LENGTH, low=0.5, high=50, step=0.001),
        Parameter(name="machine", label="Machine it is used on, blank for any", kind=Kind.TEXT, unit=""),
    ),
)
