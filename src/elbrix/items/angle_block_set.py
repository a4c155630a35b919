"""Boxes of angle blocks."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Scene
from elbrix.items.gauge_set import blocks_and_out
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.gauges import AngleBlockSet
from elbrix.shop.shop import Shop


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    from elbrix.angles.pictures import box_plan_scene

    return box_plan_scene(item, across=4), "Dashed: not here   ·   click a block to say where it is"


def _new(id: str, variant: str) -> AngleBlockSet:
    from elbrix.gauging.owned import owned_angle_set

    return owned_angle_set(id, "Angle blocks", "angle 13")


KIND = ItemKind(
    kind="angle blocks",
    key="angle_blocks",
    title="Angle blocks",
    order=140,
    type=AngleBlockSet,
    attribute="angle_sets",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    count=blocks_and_out,
    prefix="angle-box",
    new=_new,
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="limit_arcsec", label="Angle tolerance ±", kind=Kind.NUMBER, low=0.1, high=120, unit="″"),
    ),
)
