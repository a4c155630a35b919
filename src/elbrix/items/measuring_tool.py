"""Measuring tools."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Path, Point, Scene, Style, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import MeasuringTool
from elbrix.shop.upkeep import overdue, upkeep_checks


def measuring_scene(tools: tuple[MeasuringTool, ...], picked: str) -> Scene:
    """Measuring tools by how far they reach, to scale along their length: a beam with a fixed and a sliding jaw."""
    elements: list[Element] = []
    y = 0.0
    for tool in sorted(tools, key=lambda t: t.reach_mm):
        on, style = tool.id == picked, picked_style(tool.id == picked)
        jaw, beam, reach = 38.0, 14.0, tool.reach_mm
        y -= jaw + 34
        fixed: tuple[Point, ...] = ((-18, y + jaw), (-18, y), (0, y), (0, y + jaw - beam))
        elements += [
            Path((*fixed, (reach + 46, y + jaw - beam), (reach + 46, y + jaw)), Style.BODY, tool.id, closed=True),
            Path((*fixed, (reach + 46, y + jaw - beam), (reach + 46, y + jaw)), style, tool.id, closed=True),
            Path(
                ((reach, y), (reach + 14, y), (reach + 30, y + jaw - beam), (reach, y + jaw - beam)), style, tool.id, closed=True
            ),
        ]
        step = 10.0 if reach <= 300 else 50.0
        elements += [
            Line((x, y + jaw), (x, y + jaw - (6 if i % 5 else 9)), Style.THIN, tool.id) for i, x in enumerate(_ticks(reach, step))
        ]
        elements.append(Note((reach + 60, y + jaw / 2), f"{tool.name}, ±{length(tool.trusted_mm, 4)}", quiet=not on))
    return Scene("measuring", "Measuring tools, by reach", tuple(elements))


def _ticks(reach: float, step: float) -> list[float]:
    return [i * step for i in range(int(reach // step) + 1)]


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return measuring_scene(
        shop.measuring, item.id if item is not None else ""
    ), "How far each reaches, to scale, and what it is trusted to"


def _read_to(tool: MeasuringTool) -> list[Check]:
    """A word where it is trusted to less than it can be read to; else nothing."""
    if tool.uncertainty_mm >= tool.resolution_mm / 2 - 1e-9:
        return []
    return [
        Check(
            key="read to",
            label="Uncertainty against resolution",
            value=tool.uncertainty_mm,
            unit="mm",
            limits=Limits(marginal_below=tool.resolution_mm / 2),
            reason="a reading is rounded to a division: half of one is taken wherever this tool stands in a calculation",
            derivation=Derivation("resolution / 2", f"{format_number(tool.resolution_mm, 4)} / 2"),
        )
    ]


KIND = ItemKind(
    kind="measuring",
    key="measuring",
    title="Measuring tools",
    order=50,
    type=MeasuringTool,
    attribute="measuring",
    scene=_drawn,
    name=lambda t, style: str(t.name),
    count=lambda tool, style: (
        f"±{style.show(tool.trusted_mm, 'mm')}" + (", check it" if overdue(tool.checked_on, tool.check_months) else "")
    ),
    checks=lambda shop, item: (
        [*upkeep_checks(item.checked_on, item.check_months, "against gauge blocks over its reach"), *_read_to(item)]
        if item is not None
        else []
    ),
    new=lambda id, variant: MeasuringTool(id=id, name="caliper", resolution_mm=0.01, uncertainty_mm=0.03),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="resolution_mm", label="Resolution", kind=Kind.LENGTH, low=0.0001, high=5, step=0.0001),
        Parameter(name="uncertainty_mm", label="Uncertainty ±", kind=Kind.LENGTH, low=0.0001, high=5, step=0.0001),
        Parameter(name="reach_mm", label="Reach", kind=Kind.LENGTH, low=0.05, high=2000, step=0.0),
        Parameter(name="checked_on", label="Last checked on", kind=Kind.DATE, unit=""),
        Parameter(name="check_months", label="Check every, 0 for never", kind=Kind.COUNT, low=0, high=120, unit="months"),
    ),
)
