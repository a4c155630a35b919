"""Turns what the kernel projected into scenes, and sets views side by side."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, Final

from msgspec.structs import replace

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Scene, Style, shift_scene
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.quantities.sentences import within

#: Styles a family draws itself because the solid does not show them: threads by convention, centre lines.
_CONVENTION: Final = frozenset({Style.THREAD, Style.CENTRE})


def from_kernel(curves: Iterable[tuple[Any, ...]]) -> tuple[Element, ...]:
    """Projected edges as lines and arcs, hidden ones first so that visible ones lie on top."""
    found: list[Element] = []
    for curve in sorted(curves, key=lambda c: not c[1]):
        kind, hidden, *v = curve
        style = Style.HIDDEN if hidden else Style.VISIBLE
        if kind == "L":
            found.append(Line((v[0], v[1]), (v[2], v[3]), style))
        elif kind == "C":
            found.append(Arc((v[0], v[1]), v[2], v[3], v[4], style))
        elif kind == "E":
            found.append(Arc((v[0], v[1]), v[2], v[5], v[6], style, ratio=v[3], turn_deg=v[4]))
        else:
            found.append(Path(tuple(v[0]), style))
    return tuple(found)


def exact_view(outline: Scene, curves: Iterable[tuple[Any, ...]]) -> Scene:
    """A family's outline with the kernel's exact edges in place of its own, keeping conventions, sizes and handles."""
    kept = tuple(e for e in outline.elements if isinstance(e, Note) or e.style in _CONVENTION)
    return outline.with_elements((*from_kernel(curves), *kept))


def section_scene(cut: dict[str, Any], title: str = "Section") -> Scene:
    """A section with its cut faces filled."""
    faces = tuple(
        Path(tuple(rings[0]), Style.SECTION, closed=True, holes=tuple(tuple(r) for r in rings[1:]))
        for rings in cut["faces"]
        if rings
    )
    edges = tuple(e for e in from_kernel(cut["curves"]) if not (isinstance(e, Path | Line | Arc) and e.style is Style.HIDDEN))
    return Scene("section", title, (*faces, *edges))


def arrange(scenes: Sequence[Scene], gap_mm: float, choice: SheetChoice = USUAL) -> Scene:
    """Views set side by side (`placed_views`), as one scene."""
    placed = placed_views(scenes, gap_mm, choice)
    return Scene(
        "drawing",
        f"Front, top and side, {within(choice.words)}",
        tuple(e for s in placed for e in s.elements),
        tuple(d for s in placed for d in s.dimensions),
        tuple(h for s in placed for h in s.handles),
        tuple(p for s in placed for p in s.spots),
    )


def placed_views(scenes: Sequence[Scene], gap_mm: float, choice: SheetChoice = USUAL) -> list[Scene]:
    """Views where they stand on the sheet.

    Third angle: the top above the front, the right side to its right. First angle: the top below it, the right side to its left.
    The section stands right of those beside the front, the solid right of the top.
    """
    by_name = {s.name: _own_sizes(s) for s in scenes}
    front = by_name.get("front", scenes[0])
    left, bottom, right, top = front.bounds()
    placed = [front]

    def beside_top(b: tuple[float, float, float, float]) -> float:
        """How far to move up what stands in the row of the top view."""
        return bottom - gap_mm - b[3] if choice.first else top + gap_mm - b[1]

    if "top" in by_name:
        b = by_name["top"].bounds()
        placed.append(shift_scene(by_name["top"], (left + right) / 2 - (b[0] + b[2]) / 2, beside_top(b)))
    edge = right
    for name in ("side", "section"):
        if name in by_name:
            b = by_name[name].bounds()
            if name == "side" and choice.first:
                placed.append(shift_scene(by_name[name], left - gap_mm - b[2], bottom - b[1]))
                continue
            placed.append(shift_scene(by_name[name], edge + gap_mm - b[0], bottom - b[1]))
            edge += gap_mm + b[2] - b[0]
    if "iso" in by_name:
        b = by_name["iso"].bounds()
        middle = (right + gap_mm + max(edge, right + gap_mm + b[2] - b[0])) / 2
        placed.append(shift_scene(by_name["iso"], middle - (b[0] + b[2]) / 2, beside_top(b)))
    return placed


def _own_sizes(scene: Scene) -> Scene:
    """The sizes of a view stand by that view, not by the whole sheet."""
    bounds = scene.bounds()
    return replace(scene, dimensions=tuple(replace(d, near=bounds) for d in scene.dimensions))
