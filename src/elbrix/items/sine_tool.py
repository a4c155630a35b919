"""Sine plates and bars."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from elbrix.drawing.scene import Scene
from elbrix.items.kind import ItemKind, materials_known
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.shop import Shop
from elbrix.shop.upkeep import overdue, upkeep_checks


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    from elbrix.angles.pictures import sine_scene
    from elbrix.angles.sine import SinePlate

    plate = SinePlate(centres_mm=item.centres_mm, roll_pivot_mm=item.roll_pivot_mm, roll_stack_mm=item.roll_stack_mm)
    flat = sine_scene(
        plate,
        plate.angle_rad(0.0),
        0.0,
        None,
        None,
        spacer_mm=0,
        face_above_mm=item.face_above_mm or item.roll_pivot_mm * 0.85,
        work=(0.0, 0.0),
        words="",
        turned=False,
    )
    return (
        replace(flat, dimensions=tuple(d for d in flat.dimensions if d.key == "tool"), handles=()),
        "Lying flat on the surface plate",
    )


KIND = ItemKind(
    kind="sine tool",
    key="sine",
    title="Sine plates and bars",
    order=160,
    type=SineTool,
    attribute="sine_tools",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    prefix="sine",
    count=lambda t, style: (
        f"C {style.show(t.centres_mm, 'mm')}" + (", check it" if overdue(t.checked_on, t.check_months) else "")
    ),
    checks=lambda shop, item: (
        upkeep_checks(item.checked_on, item.check_months, "over its rolls and its face, by Inspect") if item is not None else []
    ),
    new=lambda id, variant: SineTool(id=id, name="sine plate", centres_mm=100),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="centres_mm", label="Roll centre distance, measured", kind=Kind.LENGTH, low=10, high=1000, step=0.001),
        Parameter(name="roll_pivot_mm", label="Pivot roll diameter", kind=Kind.LENGTH, low=1, high=200, step=0.001),
        Parameter(name="roll_stack_mm", label="Stack roll diameter", kind=Kind.LENGTH, low=1, high=200, step=0.001),
        Parameter(name="centres_u_mm", label="Centre distance uncertainty ±", kind=Kind.LENGTH, low=0, high=1, step=0.0001),
        Parameter(name="rolls_u_mm", label="Roll diameter difference, at most", kind=Kind.LENGTH, low=0, high=1, step=0.0001),
        Parameter(name="face_u_mm", label="Face parallelism", kind=Kind.LENGTH, low=0, high=1, step=0.0001),
        Parameter(name="face_above_mm", label="Face above the roll centres", kind=Kind.LENGTH, low=0, high=300, step=0.0),
        Parameter(name="length_mm", label="Face length", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="width_mm", label="Face width", kind=Kind.LENGTH, low=0, high=1000, step=0.0),
        Parameter(name="material", label="Material", kind=Kind.CHOICE, unit="", choices=materials_known()),
        Parameter(name="checked_on", label="Last checked on", kind=Kind.DATE, unit=""),
        Parameter(name="check_months", label="Check every, 0 for never", kind=Kind.COUNT, low=0, high=120, unit="months"),
    ),
)
