"""Step blocks, jacks and risers."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, SupportBlock


def support_scene(blocks: tuple[SupportBlock, ...], picked: str) -> Scene:
    """Blocks and jacks from the side at their lowest, with their highest dashed, to scale."""
    elements: list[Element] = []
    x = 0.0
    for block in blocks:
        on, style = block.id == picked, picked_style(block.id == picked)
        elements += [
            box(x, 0, x + block.length_mm, block.min_height_mm, Style.BODY, block.id),
            box(x, 0, x + block.length_mm, block.min_height_mm, style, block.id),
        ]
        if block.max_height_mm > block.min_height_mm:
            elements.append(box(x, block.min_height_mm, x + block.length_mm, block.max_height_mm, Style.HIDDEN, block.id))
        elements.append(
            Note((x + block.length_mm / 2, -9), f"{block.count} × {length(block.min_height_mm)}", quiet=not on, align=0)
        )
        elements.append(Note((x + block.length_mm / 2, -19), block.kind.value, quiet=True, align=0))
        x += max(block.length_mm, 44.0) + 26
    elements.append(Line((-10, 0), (x - 10, 0), Style.SURROUNDINGS))
    return Scene("supports", "Blocks and jacks from the side", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return support_scene(
        shop.supports, item.id if item is not None else ""
    ), "To scale at their lowest; dashed: as high as they go"


KIND = ItemKind(
    kind="support",
    key="supports",
    title="Step blocks, jacks, risers",
    order=80,
    type=SupportBlock,
    attribute="supports",
    scene=_drawn,
    count=number_of,
    sort=lambda b: (b.kind, b.min_height_mm),
    new=lambda id, variant: SupportBlock(id=id, kind=BlockKind.STEP, min_height_mm=6, max_height_mm=38, step_mm=2),
    parameters=(
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(BlockKind)),
        Parameter(name="min_height_mm", label="Lowest height", kind=Kind.LENGTH, low=0.5, high=500, step=0.0),
        Parameter(name="max_height_mm", label="Highest height", kind=Kind.LENGTH, low=0.5, high=500, step=0.0),
        Parameter(name="step_mm", label="Height step, 0 for any", kind=Kind.LENGTH, low=0, high=100, step=0.0),
        Parameter(name="length_mm", label="Length", kind=Kind.LENGTH, low=3, high=500, step=0.0),
        Parameter(name="width_mm", label="Width", kind=Kind.LENGTH, low=3, high=300, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=99),
    ),
)
