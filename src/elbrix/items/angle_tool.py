"""Levels, protractors, angle pieces and tilting plates."""

from __future__ import annotations

import math
from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Point, Scene, Style, box, picked_style, shift
from elbrix.items.kind import ItemKind, choices_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.quantities.angles import parse_angle, show_angle
from elbrix.quantities.lengths import UnitStyle
from elbrix.shop.angle_tools import AngleTool, AngleToolKind
from elbrix.shop.shop import Shop


def angle_tool_scene(tools: tuple[AngleTool, ...], picked: str) -> Scene:
    """Angle pieces at their true angle, readers with their scale."""
    elements: list[Element] = []
    x, y = 0.0, 0.0
    for tool in tools:
        if x > 380:
            x, y = 0.0, y - 150
        on, style = tool.id == picked, picked_style(tool.id == picked)
        elements += [shift(e, x, y) for e in _angle_tool(tool, style)]
        elements.append(Note((x + 60, y - 18), tool.name, quiet=not on, align=0))
        trusted = (
            f"true to ±{tool.error_deg:g}°"
            if tool.kind is AngleToolKind.ANGLE_PIECE
            else f"reads to {tool.resolution_deg:g}°, ±{tool.error_deg:g}°"
        )
        elements.append(Note((x + 60, y - 36), trusted, quiet=True, align=0))
        x += 190
    return Scene("angles", "Levels, protractors and angle pieces", tuple(elements))


def _angle_tool(tool: AngleTool, style: Style) -> list[Element]:
    """At the origin, 120 wide."""
    name = tool.id
    if tool.kind is AngleToolKind.ANGLE_PIECE:
        a = math.radians(tool.angle_deg)
        if "v" in tool.name.lower().split("-")[0].split():  # a V: both flanks lean by the angle
            ring: tuple[Point, ...] = (
                (0, 0),
                (120, 0),
                (120, 66),
                (94, 66),
                (60, 66 - 34 * math.tan(min(a, 1.2))),
                (26, 66),
                (0, 66),
            )
        else:
            ring = ((0, 0), (110, 0), (110, min(90.0, 110 * math.tan(min(a, 1.3)))))
        return [Path(ring, Style.BODY, name, closed=True), Path(ring, style, name, closed=True)]
    if tool.kind is AngleToolKind.TILTING_PLATE:
        lean = math.radians(min(tool.reach_deg, 40))
        tip: Point = (116 * math.cos(lean), 10 + 116 * math.sin(lean))
        return [
            box(0, 0, 120, 10, style, name),
            Path(((4, 10), tip, (tip[0] - 8 * math.sin(lean), tip[1] + 8 * math.cos(lean)), (4, 18)), style, name, closed=True),
        ]
    if tool.kind is AngleToolKind.LEVEL:
        return [
            box(0, 0, 120, 40, Style.BODY, name),
            box(0, 0, 120, 40, style, name),
            box(34, 12, 86, 30, Style.THIN, name),
            Note((60, 21), "0.0°", align=0, plain=True),
        ]
    centre: Point = (60, 12)
    scale: list[Element] = [
        Arc(centre, 56, 0, 180, style, name),
        Line((0, 12), (120, 12), style, name),
        box(0, 0, 120, 12, style, name),
    ]
    for degrees in range(0, 181, 15):
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        scale.append(
            Line(
                (60 + 56 * c, 12 + 56 * s),
                (60 + (46 if degrees % 45 else 40) * c, 12 + (46 if degrees % 45 else 40) * s),
                Style.THIN,
                name,
            )
        )
    return [*scale, Line(centre, (60 + 50 * math.cos(0.9), 12 + 50 * math.sin(0.9)), style, name)]


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return angle_tool_scene(
        shop.angle_tools, item.id if item is not None else ""
    ), "Pieces at their angle; readers with their scale"


def _count(tool: Any, style: UnitStyle) -> str:
    if tool.kind is AngleToolKind.ANGLE_PIECE:
        return show_angle(parse_angle(str(tool.angle_deg)))
    return f"reads {tool.resolution_deg:g}°"


KIND = ItemKind(
    kind="angle tool",
    key="angles",
    title="Levels, protractors, pieces",
    order=170,
    type=AngleTool,
    attribute="angle_tools",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    count=_count,
    new=lambda id, variant: AngleTool(id=id, name="protractor", kind=AngleToolKind.PROTRACTOR, resolution_deg=1, error_deg=0.5),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(AngleToolKind)),
        Parameter(name="resolution_deg", label="Resolution", kind=Kind.ANGLE, low=0, high=5, unit="deg"),
        Parameter(name="error_deg", label="Uncertainty ±", kind=Kind.ANGLE, low=0, high=5, unit="deg"),
        Parameter(name="angle_deg", label="Angle of an angle piece", kind=Kind.ANGLE, low=0, high=179.9, unit="deg"),
        Parameter(name="reach_deg", label="Largest tilt of a tilting plate", kind=Kind.ANGLE, low=0, high=90, unit="deg"),
    ),
)
