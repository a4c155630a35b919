"""Layouts drawn to scale: the table from above with the margin along the path, and the same from the front."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Scene, Side, Style, box
from elbrix.geometry.shapes import Ring, bounds
from elbrix.holding.contacts import HeldPart
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.layout import Piece, PlacedElement
from elbrix.holding.margin import ENOUGH, Margin
from elbrix.holding.reach import Clash
from elbrix.shop.machines import Machine

#: How far the ghost of the work moves, as a share of its size.
_GHOST: Final = 0.09
#: Table shown beyond everything on it, mm.
_MARGIN: Final = 78.0


def above_scene(
    machine: Machine,
    piece: Piece,
    cutting: CuttingLoad,
    margin: Margin,
    placed: Sequence[PlacedElement],
    met: Sequence[Clash],
    held: HeldPart,
) -> Scene:
    """From above. The table is cut off where nothing stands on it any more."""
    rings = [piece.outline, *(s.ring for p in placed for s in p.solids)]
    boxes = [bounds(r) for r in rings]
    left, right = min(b[0] for b in boxes) - _MARGIN, max(b[2] for b in boxes) + _MARGIN
    half = machine.table_length_mm / 2 or 1e6
    wide = machine.table_width_mm or 200.0
    left, right = max(-half, min(left, -_MARGIN)), min(half, max(right, _MARGIN))
    low, high = min(b[1] for b in boxes) - 0.4 * _MARGIN, max(b[3] for b in boxes) + 0.4 * _MARGIN
    offsets = [s.offset_mm for s in machine.slots if s.straight] or [0.0]
    offsets += [k * s.ring_radius_mm for s in machine.slots for k in (-1, 1) if not s.straight]
    low, high = max(-wide / 2, min(low, min(offsets) - 20)), min(wide / 2, max(high, max(offsets) + 20))
    elements: list[Element] = [box(left, low, right, high, Style.BODY, "table")]
    for edge, end in ((low, -wide / 2), (high, wide / 2)):
        elements.append(
            Line((left, edge), (right, edge), Style.SURROUNDINGS if abs(edge - end) < 1e-6 else Style.HIDDEN, "table")
        )
    for x, end in ((left, -half), (right, half)):
        elements.append(Line((x, low), (x, high), Style.SURROUNDINGS if abs(x - end) < 1e-6 else Style.HIDDEN, "table"))
    for slot in machine.slots:
        neck = slot.neck.mean if slot.neck else 12.0
        feature = f"slot {slot.label}"
        if not slot.straight:
            r = slot.ring_radius_mm
            elements += [Arc((0.0, 0.0), r + k * neck / 2, style=Style.SURROUNDINGS, feature=feature) for k in (-1, 1)]
            elements.append(Note((0.0, r + neck / 2 + 6), slot.label, quiet=True, align=0))
            continue
        elements.append(
            box(left, slot.offset_mm - neck / 2, right, slot.offset_mm + neck / 2, Style.SURROUNDINGS_SECTION, feature)
        )
        elements.append(Note((left + 3, slot.offset_mm + neck / 2 + 6), slot.label, quiet=True))
    for p in placed:
        if p.seats:
            elements += p.above
    elements += [Path(piece.outline, Style.SECTION, "work", closed=True), Path(piece.outline, Style.VISIBLE, "work", closed=True)]
    bad = {c.what.partition(",")[0] for c in met} | {p.name for p in placed if p.problem}
    for p in placed:
        elements += p.over if p.seats else (*p.above, *p.over)
        if p.problem:
            elements.append(Note((p.spot[0] + 12, p.spot[1] + 14), f"■ {p.name}: {p.problem}", leader=p.spot, feature=p.name))
        else:
            elements.append(
                Note(p.name_at or (p.spot[0], p.spot[1] - 17), p.name, quiet=p.name not in bad, align=0, feature=p.name)
            )
    elements += _path(cutting, margin, met)
    elements += _ghost(piece, margin)
    w = bounds(piece.outline)
    dims: list[Dimension] = []
    if piece.shape == "round":
        dims.append(
            Dimension(
                "width", (w[0], w[3]), (w[2], w[3]), Side.ABOVE, prefix="Ø", entry="width", feature="work", step_mm=0.1, order=0
            )
        )
    elif piece.shape == "block" and abs((w[2] - w[0]) * (w[3] - w[1]) - _area(piece.outline)) < 1e-6:
        dims += [
            Dimension("length", (w[0], w[3]), (w[2], w[3]), Side.ABOVE, entry="length", feature="work", step_mm=0.1, order=0),
            Dimension("width", (w[2], w[1]), (w[2], w[3]), Side.RIGHT, entry="width", feature="work", step_mm=0.1, order=1),
        ]
    dims += [d for p in placed for d in p.dimensions]
    handles = tuple(h for p in placed for h in p.handles)
    return Scene("above", f"{machine.name}, table from above", tuple(elements), tuple(dims), handles)


def _area(ring: Ring) -> float:
    from elbrix.geometry.shapes import area

    return area(ring)


def _path(cutting: CuttingLoad, margin: Margin, met: Sequence[Clash]) -> list[Element]:
    """The path, each stretch by the safety factor at its worse end, with a mark at each place.

    An open circle where the margin is enough, a crossed one where it is not, a disc where it moves; a square where the
    cutter cannot go.
    """
    closed = len(cutting.path) > 2 and math.dist(cutting.path[0], cutting.path[-1]) < 0.4 * max(1.0, _span(cutting))
    found: list[Element] = []
    factors = [margin.at_places[i] if i < len(margin.at_places) else math.inf for i in range(len(cutting.path))]
    for i, start in enumerate(cutting.path if closed else cutting.path[:-1]):
        end_at = (i + 1) % len(cutting.path)
        worse = min(factors[i], factors[end_at])
        style = Style.PATH_GO if worse >= ENOUGH else Style.PATH_MARGINAL if worse >= 1 else Style.PATH_NO_GO
        found.append(Line(start, cutting.path[end_at], style, "cutter_path"))
    size = max(2.4, 0.019 * _span(cutting))
    stopped = {c.index for c in met}
    for i, (x, y) in enumerate(cutting.path):
        factor = factors[i]
        feature = f"place {i}"
        if i in stopped:
            found += [box(x - size, y - size, x + size, y + size, Style.TOOL, feature)]
        elif factor >= ENOUGH:
            found.append(Arc((x, y), size * 0.7, style=Style.THIN, feature=feature))
        else:
            found += [
                Arc((x, y), size * 1.2, style=Style.TOOL, feature=feature),
                Line((x - size, y - size), (x + size, y + size), Style.TOOL, feature),
            ]
            if factor < 1:
                found.append(Line((x - size, y + size), (x + size, y - size), Style.TOOL, feature))
    if cutting.path and margin.rests and math.isfinite(margin.least):
        x, y = cutting.path[margin.worst // cutting.each]
        found.append(Arc((x, y), cutting.cutter.diameter_mm / 2, style=Style.TOOL, feature="cutter_path"))
        word = f"least here: {margin.least:.1f}×"
        found.append(
            Note((x + cutting.cutter.diameter_mm, y - cutting.cutter.diameter_mm), word, leader=(x, y), feature="cutter_path")
        )
        load = margin.load
        push = math.hypot(load.force_n[0], load.force_n[1]) if load is not None else 0.0
        if load is not None and push > 0:
            long = 0.12 * max(60.0, _span(cutting))
            end = (x + long * load.force_n[0] / push, y + long * load.force_n[1] / push)
            found.append(Line((x, y), end, Style.TOOL, "cutter_path"))
    return found


def _span(cutting: CuttingLoad) -> float:
    b = bounds(cutting.path) if cutting.path else (0.0, 0.0, 1.0, 1.0)
    return max(b[2] - b[0], b[3] - b[1], 20.0)


def ghost_ring(piece: Piece, margin: Margin, phase: float = 1.0) -> Ring:
    """The work's outline a little way into the motion it gives with; empty when nothing moves it.

    Args:
        phase: 0: at rest, 1: as far as it is shown.
    """
    if margin.limit is None or not math.isfinite(margin.least):
        return ()
    vx, vy, _, tx, ty, tz = margin.limit.motion
    b = bounds(piece.outline)
    size = max(b[2] - b[0], b[3] - b[1])
    middle = piece.middle
    z = piece.top_mm
    speeds = [math.hypot(vx + ty * z - tz * y, vy + tz * x - tx * z) for x, y in piece.outline]
    fastest = max(speeds, default=0.0)
    if fastest <= 0:
        return ()
    k = phase * _GHOST * size / fastest
    del middle
    return tuple((x + k * (vx + ty * z - tz * y), y + k * (vy + tz * x - tx * z)) for x, y in piece.outline)


def _ghost(piece: Piece, margin: Margin) -> list[Element]:
    ring = ghost_ring(piece, margin)
    return [Path(ring, Style.HIDDEN, "gives", closed=True)] if ring else []


def front_scene(machine: Machine, piece: Piece, cutting: CuttingLoad, margin: Margin, placed: Sequence[PlacedElement]) -> Scene:
    """From the front: heights on the table, the cutter at its worst place."""
    rings = [piece.outline, *(s.ring for p in placed for s in p.solids)]
    boxes = [bounds(r) for r in rings]
    left, right = min(b[0] for b in boxes) - 0.6 * _MARGIN, max(b[2] for b in boxes) + 0.6 * _MARGIN
    elements: list[Element] = [
        Path(((left, 0.0), (right, 0.0), (right, -14.0), (left, -14.0)), Style.SURROUNDINGS_SECTION, "table", closed=True),
        Line((left, 0.0), (right, 0.0), Style.VISIBLE, "table"),
    ]
    for p in placed:
        elements += p.front
    w = bounds(piece.outline)
    elements += [
        box(w[0], piece.bottom_mm, w[2], piece.top_mm, Style.SECTION, "work"),
        box(w[0], piece.bottom_mm, w[2], piece.top_mm, Style.VISIBLE, "work"),
    ]
    if cutting.path:
        x = cutting.path[margin.worst // cutting.each][0]
        tool, end = cutting.tool, cutting.end_mm
        elements += [
            box(x - tool.diameter_mm / 2, end, x + tool.diameter_mm / 2, end + tool.edge_mm, Style.TOOL, "cutter_path"),
            box(
                x - tool.holder_mm / 2,
                end + tool.edge_mm,
                x + tool.holder_mm / 2,
                end + tool.edge_mm + min(30.0, tool.holder_length_mm),
                Style.HIDDEN,
                "cutter_path",
            ),
        ]
    dims = [
        Dimension(
            "height",
            (w[2], piece.bottom_mm),
            (w[2], piece.top_mm),
            Side.RIGHT,
            entry="height",
            feature="work",
            step_mm=0.1,
            order=2,
        )
    ]
    if piece.bottom_mm:
        dims.append(Dimension("lift", (w[0], 0.0), (w[0], piece.bottom_mm), Side.LEFT, feature="work", step_mm=0.1))
    return Scene("front", "From the front", tuple(elements), tuple(dims))
