"""Boxes of gauge blocks."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Scene
from elbrix.items.kind import ItemKind, choices_of, materials_known
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Check
from elbrix.shop.gauges import GaugeSet
from elbrix.shop.shop import Shop


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    from elbrix.angles.pictures import box_scene

    return (
        box_scene(item, (), part),
        "To scale. Dashed: lent out or in a stack; crossed: worn   ·   click a block to say where it is",
    )


def _checks(shop: Shop, item: Any) -> list[Check]:
    from elbrix.shop.audit import box_checks  # not needed to read a book

    return box_checks(item) if item is not None else []


def _variants() -> tuple[tuple[str, str], ...]:
    from elbrix.gauging.blocks import standard_set_names

    return tuple((name, f"{name} pieces") for name in standard_set_names())


def _new(id: str, variant: str) -> GaugeSet:
    from elbrix.gauging.owned import owned_set

    return owned_set(id, f"{variant or 'metric 47'} set", variant or "metric 47")


def blocks_and_out(box: Any, style: UnitStyle) -> str:
    """How many blocks a box has, and how many of them are away."""
    out = sum(not b.here for b in box.blocks)
    return f"{len(box.blocks)} blocks" + (f", {out} out" if out else "")


KIND = ItemKind(
    kind="gauge set",
    key="blocks",
    title="Gauge blocks",
    order=130,
    type=GaugeSet,
    attribute="gauge_sets",
    scene=_drawn,
    checks=_checks,
    name=lambda t, style: str(t.name),
    count=blocks_and_out,
    sort=lambda g: (g.unit == "in", -len(g.blocks)),
    variants=_variants,
    prefix="box",
    new=_new,
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="grade", label="Grade", kind=Kind.CHOICE, unit="", choices=choices_of(("K", "0", "1", "2"))),
        Parameter(name="calibrated_on", label="Calibration date", kind=Kind.DATE, unit=""),
        Parameter(name="calibration_u_um", label="Calibration uncertainty ±", kind=Kind.NUMBER, low=0.001, high=5, unit="µm"),
        Parameter(name="material", label="Block material", kind=Kind.CHOICE, unit="", choices=materials_known()),
    ),
)
