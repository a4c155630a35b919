"""Cutters."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Note, Scene, Style, box
from elbrix.items.kind import ItemKind, choices_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind


def cutter_scene(cutters: tuple[Cutter, ...], picked: str) -> Scene:
    """Cutters standing in rows by diameter, to scale, shank up."""
    elements: list[Element] = []
    x = y = row_height = 0.0
    for cutter in sorted(cutters, key=lambda c: (c.kind.value, c.diameter_mm)):
        on = cutter.id == picked
        style = Style.VISIBLE if on else Style.SURROUNDINGS
        d = cutter.diameter_mm
        wide = max(d, cutter.shank_mm, 24.0) + 14
        if x + wide > 620:
            x, y, row_height = 0.0, y - row_height - 46, 0.0
        cx = x + wide / 2
        if cutter.shank_mm == 0 and cutter.width_mm:
            elements += [
                Arc((cx, y - d / 2), d / 2, style=style, feature=cutter.id),
                Arc((cx, y - d / 2), 13, style=Style.HIDDEN, feature=cutter.id),
            ]
            tall = d
        else:
            edge = cutter.edge_length_mm or (40.0 if d > 40 else max(12.0, d * 1.8))
            shank = cutter.shank_mm or (22.0 if d > 40 else d * 0.8)
            stem = max(22.0, edge * 0.8)
            elements += [
                box(cx - shank / 2, y - stem, cx + shank / 2, y, style, cutter.id),
                box(cx - d / 2, y - stem - edge, cx + d / 2, y - stem, Style.BODY, cutter.id),
                box(cx - d / 2, y - stem - edge, cx + d / 2, y - stem, style, cutter.id),
            ]
            tall = stem + edge
        called = cutter.name.split("x")[0] if cutter.name else f"{d:g}"  # by its own size in any shop, as in its title
        elements.append(Note((cx, y - tall - 9), called, quiet=not on, align=0))
        row_height = max(row_height, tall)
        x += wide
    return Scene("cutters", "Cutters, by kind and diameter, shanks up", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    said = "To scale, sizes as called, in mm   ·   a shank is seldom the size of its cutter"
    return cutter_scene(shop.cutters, item.id if item is not None else ""), said


def _checks(shop: Shop, _item: Any) -> list[Check]:
    from elbrix.shop.audit import cutter_checks  # not needed to read a book

    return cutter_checks(shop)


KIND = ItemKind(
    kind="cutter",
    key="cutters",
    title="Cutters",
    order=20,
    type=Cutter,
    attribute="cutters",
    scene=_drawn,
    checks=_checks,
    count=lambda cutter, style: f"shank {style.show(cutter.shank_mm, 'mm')}" if cutter.shank_mm else "on arbor",
    new=lambda id, variant: Cutter(id=id, kind=CutterKind.END_MILL, diameter_mm=10, shank_mm=10, teeth=4),
    parameters=(
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(CutterKind)),
        Parameter(name="diameter_mm", label="Diameter, measured", kind=Kind.LENGTH, low=0.2, high=300, step=0.0),
        Parameter(name="shank_mm", label="Shank diameter", kind=Kind.LENGTH, low=0, high=80, step=0.0, usually="0: on an arbor"),
        Parameter(name="teeth", label="Number of teeth", kind=Kind.COUNT, unit="", low=1, high=200),
        Parameter(name="edge_length_mm", label="Cutting edge length", kind=Kind.LENGTH, low=0, high=300, step=0.0),
        Parameter(name="width_mm", label="Width of a disc cutter", kind=Kind.LENGTH, low=0, high=100, step=0.0),
        Parameter(name="material", label="Cutter material", kind=Kind.CHOICE, unit="", choices=choices_of(("HSS", "carbide"))),
        Parameter(
            name="corner_mm", label="Corner radius of a mill", kind=Kind.LENGTH, low=0, high=50, step=0.0, usually="0: square"
        ),
        Parameter(name="flank_deg", label="Flank of an angle cutter", kind=Kind.ANGLE, low=0, high=89, unit="deg"),
        Parameter(name="name", label="Thread of a tap", kind=Kind.TEXT, unit=""),
        Parameter(name="notes", label="Notes", kind=Kind.TEXT, unit=""),
    ),
)
