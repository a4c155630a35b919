"""Vises."""

from __future__ import annotations

from typing import Any, Final

from elbrix.drawing.scene import Dimension, Element, Line, Scene, Side, Style, box
from elbrix.items.kind import ItemKind, LookedAt
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise

_BODIES: Final = ((str(False), "one piece"), (str(True), "split, two halves"))


def vise_scene(vise: Vise) -> Scene:
    """A vise from above and from the side, to scale."""
    t, w = vise.jaw_thickness_mm, vise.jaw_width_mm
    gap = min(vise.opening_mm, 0.6 * w)
    long, name = vise.body_mm, vise.id
    base = (-0.4 * w, -t - gap - 0.5 * t - max(0.0, long - gap - 3.5 * t), 0.4 * w, 1.6 * t)
    elements: list[Element] = [box(*base, Style.BODY, name), box(*base, Style.SURROUNDINGS, name)]
    for low, high in ((0.0, t), (-gap - t, -gap)):
        elements += [box(-w / 2, low, w / 2, high, Style.BODY, name), box(-w / 2, low, w / 2, high, Style.VISIBLE, name)]
    dims = [Dimension("jaw_width_mm", (-w / 2, t), (w / 2, t), Side.ABOVE, feature=name, step_mm=0.1, suffix="jaws")]
    left, bed, top = w / 2 + 110.0, vise.bed_height_mm, vise.bed_height_mm + vise.jaw_height_mm
    elements += [
        Line((left - 20, 0), (left + long + 20, 0), Style.SURROUNDINGS, "table"),
        box(left, 0, left + long, bed, Style.BODY, name),
        box(left, 0, left + long, bed, Style.SURROUNDINGS, name),
    ]
    for x in (left + long - 2.6 * t, left + long - 3.6 * t - gap):
        elements += [box(x, bed, x + t, top, Style.BODY, name), box(x, bed, x + t, top, Style.VISIBLE, name)]
    dims += [
        Dimension("bed_height_mm", (left + long, 0), (left + long, bed), Side.RIGHT, feature=name, step_mm=0.1, suffix="bed"),
        Dimension("jaw_height_mm", (left, bed), (left, top), Side.LEFT, feature=name, step_mm=0.1, suffix="jaws"),
    ]
    return Scene("vise", f"{vise.name}, from above and from the side", tuple(elements), tuple(dims))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return vise_scene(item), "To scale; the jaws half open"


def _looked_at(vise: Vise) -> tuple[LookedAt, ...]:
    return (LookedAt(key="jaw", words="Read the jaw", kind="jaw", title=vise.name, chosen={"vise": vise.id}),)


KIND = ItemKind(
    looked_at=_looked_at,
    kind="vise",
    key="vises",
    title="Vises",
    order=60,
    type=Vise,
    attribute="vises",
    scene=_drawn,
    name=lambda t, style: str(t.title),
    count=lambda vise, style: f"jaws {style.show(vise.jaw_width_mm, 'mm', 0.1)}",
    new=lambda id, variant: Vise(id=id, name="vise", jaw_width_mm=100, jaw_height_mm=35, bed_height_mm=50, opening_mm=100),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="split", label="Body", kind=Kind.CHOICE, unit="", choices=_BODIES),
        Parameter(name="jaw_width_mm", label="Jaw width", kind=Kind.LENGTH, low=10, high=500, step=0.0),
        Parameter(name="jaw_height_mm", label="Jaw height above the bed", kind=Kind.LENGTH, low=3, high=200, step=0.0),
        Parameter(name="bed_height_mm", label="Bed height above the table", kind=Kind.LENGTH, low=0, high=300, step=0.0),
        Parameter(name="opening_mm", label="Jaw opening", kind=Kind.LENGTH, low=5, high=1000, step=0.0),
        Parameter(name="jaw_thickness_mm", label="Jaw thickness", kind=Kind.LENGTH, low=3, high=150, step=0.0),
        Parameter(name="length_mm", label="Body length", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="force_per_nm", label="Clamp force per N·m", kind=Kind.NUMBER, low=10, high=5000, unit="N"),
        Parameter(name="max_torque_nm", label="Largest handle torque", kind=Kind.NUMBER, low=0.1, high=500, unit="N·m"),
        Parameter(name="key_width_mm", label="Key width, 0 for none", kind=Kind.LENGTH, low=0, high=60, step=0.0),
        Parameter(name="key_spacing_mm", label="Key slot spacing", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="jaw_screw", label="Jaw screw thread", kind=Kind.TEXT, unit=""),
        Parameter(name="jaw_screw_spacing_mm", label="Jaw screw spacing", kind=Kind.LENGTH, low=0, high=500, step=0.01),
        Parameter(
            name="jaw_screw_height_mm", label="Jaw screw height above the bed", kind=Kind.LENGTH, low=0, high=200, step=0.01
        ),
        Parameter(name="fixed_lean_mm_per_m", label="Fixed jaw lean", kind=Kind.NUMBER, low=0, high=20, unit="mm/m"),
    ),
)
