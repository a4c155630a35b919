"""Pictures of a setup from the plan's own geometry: the metal as it is, its face letters, jaws, the cutter. To scale, mm."""

from __future__ import annotations

from typing import Final

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Scene, Style, box
from elbrix.geometry.shapes import Ring
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.pose import opposite
from elbrix.making.strokes import Tool
from elbrix.rehearsal.run import Slips, moved
from elbrix.rehearsal.section import CELLS, Plane, extent, outlines, without

#: From the start of a piece back to the middle of the saw cut before it, mm.
_KERF_MIDDLE_MM: Final = 0.65
#: Parallels that hold work off a faceplate, and the faceplate, as they are drawn, mm.
_PARALLEL_MM, _FACEPLATE_MM = 8.0, 14.0
#: A thumbnail needs fewer cells.
SMALL_CELLS: Final = 60


def setup_scene(
    plan: Plan, setup: Setup, move: Move | None = None, cells: int = CELLS, slips: Slips | None = None
) -> Scene | None:
    """The work in a setup after a move, or before its first one; None where there is nothing to draw.

    Args:
        slips: What was set otherwise than planned: the metal is drawn as it is then, what is gone too much in the colour of
            no-go.
    """
    if setup.pose is None or plan.blank is None or setup.lie is None:
        return by_hand_scene(plan, setup)
    operation = next((o for o in setup.operations if move is not None and move in o.moves), None)
    if setup.on_lathe:
        look = MetalView(plan, setup, operation, move, cells, slips)
        return _on_the_faceplate(look) if setup.fixture == "faceplate" else _in_the_chuck(look)
    view = _view(setup, operation, move)
    if view == "above":
        return _from_above(plan, setup, move)
    look = MetalView(plan, setup, operation, move, cells, slips)
    return _from_end(look) if view == "end" else _from_front(look)


def _view(setup: Setup, operation: Operation | None, move: Move | None) -> str:
    """Which way to look so that the move is seen: along its stroke, or down on a pattern of places."""
    moves = [move] if move is not None and move.strokes else [m for m in setup.moves if m.strokes]
    path = moves[0].strokes[0].path if moves else ()
    if len(path) < 2:
        return "end"
    (x0, y0, z0), (x1, y1, z1) = path[0], path[-1]
    if abs(z1 - z0) > 1e-9 and x0 == x1 and y0 == y1:
        return "above" if setup.each else "front"
    if abs(x1 - x0) > 1e-9 and abs(y1 - y0) > 1e-9:
        return "above"
    if setup.each and {"X", "Y"} <= {p.axis for m in moves for p in m.positions}:
        return "above"
    return "end" if abs(x1 - x0) > 1e-9 else "front"


class MetalView(Struct, frozen=True):
    """What is looked at: the metal of a setup after a move."""

    plan: Plan
    setup: Setup
    operation: Operation | None
    move: Move | None
    cells: int
    slips: Slips | None

    @property
    def end(self) -> tuple[float, float, float] | None:
        """Where the cutter's end stands after the move, as it was really set."""
        move = self.move
        if move is None or not move.strokes or self.operation is None or self.operation.cutter is None:
            return None
        strokes = moved(move, self.slips, self.operation.cutter) if self.slips is not None else move.strokes
        return strokes[-1].path[-1]

    def metal(self, plane: Plane) -> list[Element]:
        """The metal in a plane; as keyed, with what is gone too much."""
        upto = self.move.id if self.move is not None else ""
        planned = outlines(self.plan, self.setup, plane, upto, self.cells)
        if self.slips is None or self.slips.none:
            return _filled(planned)
        keyed = outlines(self.plan, self.setup, plane, upto, self.cells, self.slips)
        return [*_filled(keyed), *(Path(r, Style.PATH_NO_GO, "gouged", closed=True) for r in without(planned, keyed))]


def shifted(element: Element, x: float) -> Element:
    """An outline moved to the right."""
    return replace(element, points=tuple((a + x, b) for a, b in element.points)) if isinstance(element, Path) else element


def bounds_of(elements: list[Element], other: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    """Left, bottom, right and top of outlines; of nothing, the other ones given."""
    points = [p for e in elements if isinstance(e, Path) for p in e.points]
    if not points:
        return other
    return min(p[0] for p in points), min(p[1] for p in points), max(p[0] for p in points), max(p[1] for p in points)


def _filled(rings: tuple[tuple[tuple[float, float], ...], ...]) -> list[Element]:
    found: list[Element] = []
    for ring in rings:
        found += [Path(ring, Style.BODY, "work", closed=True), Path(ring, Style.VISIBLE, "work", closed=True)]
    return found


def _cutter(tool: Tool, x: float, z: float, top: float) -> list[Element]:
    """A cutter from the side, its end at (x, z)."""
    if tool.axis != "z":
        r = tool.diameter_mm / 2
        w = tool.width_mm / 2
        return [box(x - w, z, x + w, z + 2 * r, Style.TOOL, "cutter")]
    r = tool.diameter_mm / 2
    stands = max(z + 8.0, top) + max(10.0, 0.5 * tool.diameter_mm)
    if tool.point_deg:
        cone = r / float(np.tan(np.radians(tool.point_deg / 2)))
        outline = ((x, z), (x + r, z + cone), (x + r, stands), (x - r, stands), (x - r, z + cone))
        return [Path(outline, Style.TOOL, "cutter", closed=True), Line((x, z - 2), (x, stands + 2), Style.CENTRE)]
    return [box(x - r, z, x + r, stands, Style.TOOL, "cutter"), Line((x, z - 2), (x, stands + 2), Style.CENTRE)]


def _end_of(move: Move | None) -> tuple[float, float, float] | None:
    return move.strokes[-1].path[-1] if move is not None and move.strokes else None


def _from_end(look: MetalView) -> Scene:
    """From the left end: Y runs to the left, so that the fixed jaw, away from you, stands on the left."""
    plan, setup, operation = look.plan, look.setup, look.operation
    low, high = extent(plan, setup)
    work = look.metal(Plane(1, 2, float(low[0] + 0.37 * (high[0] - low[0])), flip=True))
    far, bottom, near, top_of_work = bounds_of(work, (-float(high[1]), float(low[2]), -float(low[1]), float(high[2])))
    wide, tall = near - far, top_of_work - bottom
    elements: list[Element] = []
    if setup.fixture == "vise" and not (setup.lie and setup.lie.tilt_deg):
        # The plan says how far below Z zero they end; where it does not, a little below the top of the work.
        top = -setup.jaws_mm if setup.jaws_mm else top_of_work - 0.12 * tall
        reach, deep = max(10.0, 0.5 * wide), bottom - max(6.0, 0.4 * tall)
        elements += [
            box(far - reach, deep, far, top, Style.SURROUNDINGS_SECTION, "fixed jaw"),
            box(near, deep, near + reach, top, Style.SURROUNDINGS_SECTION, "moving jaw"),
            box(far + 0.04 * wide, deep, far + 0.22 * wide, bottom, Style.SURROUNDINGS, "parallel"),
            box(near - 0.22 * wide, deep, near - 0.04 * wide, bottom, Style.SURROUNDINGS, "parallel"),
            Note((far - reach / 2, (top + deep) / 2), "fixed", quiet=True, align=0),
            Note((near + reach / 2, (top + deep) / 2), "moving", quiet=True, align=0),
        ]
    elements += work
    assert setup.lie is not None
    elements += _letters(far, near, bottom, top_of_work, setup.lie.away, setup.lie.up, opposite(setup.lie.away))
    end = look.end
    if end is not None and operation is not None and operation.cutter is not None:
        elements += _cutter(operation.cutter, -end[1], end[2], float(high[2]))
    return Scene("setup", "From the left end", tuple(elements))


def _from_front(look: MetalView) -> Scene:
    """From where you stand: X to the right."""
    plan, setup, operation = look.plan, look.setup, look.operation
    low, high = extent(plan, setup)
    end = look.end
    pitch = plan.pieces[1][0] - plan.pieces[0][0] if len(plan.pieces) > 1 and not setup.each else 0.0
    piece = round((end[0] - (low[0] + high[0]) / 2) / pitch) if end is not None and pitch else 0
    at = float(end[1]) if end is not None and low[1] < end[1] < high[1] else float(low[1] + 0.5 * (high[1] - low[1]))
    work = look.metal(Plane(0, 2, at))
    elements: list[Element] = []
    for i in range(len(plan.pieces) if pitch else 1):
        shift = pitch * i
        if i <= max(piece, 0) or not pitch:
            elements += [shifted(e, shift) for e in work]
        else:
            elements.append(box(float(low[0]) + shift, float(low[2]), float(high[0]) + shift, float(high[2]), Style.THIN, "work"))
        if pitch:
            elements.append(Note((float(low[0] + high[0]) / 2 + shift, float(high[2]) + 3.0), str(i + 1), quiet=True, align=0))
    assert setup.lie is not None
    last = float(high[0]) + (pitch * (len(plan.pieces) - 1) if pitch else 0.0)
    elements += _letters(
        float(low[0]), last, float(low[2]), float(high[2]), opposite(setup.lie.right), setup.lie.up, setup.lie.right
    )
    if end is not None and operation is not None and operation.cutter is not None:
        elements += _cutter(operation.cutter, end[0], end[2], float(high[2]))
    return Scene("setup", "From the front", tuple(elements))


def _from_above(plan: Plan, setup: Setup, move: Move | None) -> Scene:
    """Down on the work: every place of the setup, the one to do now marked."""
    low, high = extent(plan, setup)
    x0, y0, x1, y1 = (float(v) for v in (low[0], low[1], high[0], high[1]))
    elements: list[Element] = [box(x0, y0, x1, y1, Style.BODY, "work"), box(x0, y0, x1, y1, Style.VISIBLE, "work")]
    assert setup.lie is not None
    widest: dict[tuple[float, float], float] = {}
    for operation in setup.operations:
        if operation.cutter is None:
            continue
        for m in operation.moves:
            for stroke in m.strokes:
                ends = {(p[0], p[1]) for p in stroke.path}
                if len(ends) == 1:
                    place = next(iter(ends))
                    widest[place] = max(widest.get(place, 0.0), operation.cutter.diameter_mm)
                else:
                    elements.append(Path(tuple((p[0], p[1]) for p in stroke.path), Style.THIN, "path"))
    end = _end_of(move)
    for place, d in widest.items():
        elements.append(Arc(place, d / 2, style=Style.VISIBLE, feature="hole"))
    if end is not None:
        d = next((o.cutter.diameter_mm for o in setup.operations if o.cutter is not None and move in o.moves), 4.0)
        elements += [
            Arc((end[0], end[1]), d / 2, style=Style.TOOL, feature="cutter"),
            Line((end[0], y0 - 6), (end[0], y1 + 6), Style.CENTRE),
            Line((x0 - 6, end[1]), (x1 + 6, end[1]), Style.CENTRE),
        ]
    left, right = opposite(setup.lie.right), setup.lie.right
    for at, letter, align in (
        (((x0 + x1) / 2, y1 - 0.06 * (y1 - y0)), setup.lie.away, 0),
        (((x0 + x1) / 2, y0 + 0.06 * (y1 - y0)), opposite(setup.lie.away), 0),
        ((x0 + 0.02 * (x1 - x0), (y0 + y1) / 2), left, -1),
        ((x1 - 0.02 * (x1 - x0), (y0 + y1) / 2), right, 1),
    ):
        elements.append(Note(at, letter, align=align))
    return Scene("setup", f"From above, {setup.lie.up} up", tuple(elements))


def _in_the_chuck(look: MetalView) -> Scene:
    """From the front of the lathe: the chuck on the left, the free end on the right."""
    plan, setup, operation, move = look.plan, look.setup, look.operation, look.move
    low, high = extent(plan, setup)
    work = look.metal(Plane(2, 0, 0.0))
    r = float(high[0])
    z0, z1 = float(low[2]), float(high[2])
    elements: list[Element] = [
        box(z0 - 8 - 0.8 * r, -1.7 * r, z0 - 8, 1.7 * r, Style.SURROUNDINGS_SECTION, "chuck"),
        box(z0 - 8, -r, z0, r, Style.THIN, "bar"),
        *work,
        Line((z0 - 12 - 0.8 * r, 0.0), (z1 + 8, 0.0), Style.CENTRE),
    ]
    assert setup.lie is not None
    elements.append(Note((z1 + 3.0, 0.25 * r), setup.lie.up))
    elements += _lathe_tool(operation, move, z1 + 14.0, max(3.0, 0.3 * r))
    return Scene("setup", "From the front of the lathe", tuple(elements))


def _on_the_faceplate(look: MetalView) -> Scene:
    """From above: the faceplate on the left, the work on parallels before it, the hole's middle on the axis."""
    plan, setup = look.plan, look.setup
    low, high = extent(plan, setup)
    work = look.metal(Plane(2, 0, 0.0))
    z0, x0, z1, x1 = bounds_of(work, (float(low[2]), float(low[0]), float(high[2]), float(high[0])))
    plate, reach = z0 - _PARALLEL_MM, 1.15 * max(-x0, x1)
    wide = min(_PARALLEL_MM, 0.15 * (x1 - x0))
    elements: list[Element] = [
        box(plate - _FACEPLATE_MM, -reach, plate, reach, Style.SURROUNDINGS_SECTION, "faceplate"),
        *(box(plate, x, z0, x + wide, Style.SURROUNDINGS, "parallel") for x in (x0 + wide, x1 - 2 * wide)),
        *work,
        Line((plate - _FACEPLATE_MM - 6.0, 0.0), (z1 + 18.0, 0.0), Style.CENTRE),
    ]
    assert setup.lie is not None
    elements.append(Note((z1 + 3.0, x1 - 0.15 * (x1 - x0)), setup.lie.up))
    elements += _lathe_tool(look.operation, look.move, z1 + 14.0, 6.0)
    return Scene("setup", "On the faceplate, from above", tuple(elements))


def _lathe_tool(operation: Operation | None, move: Move | None, right: float, size: float) -> list[Element]:
    """What cuts, where it stands after the move: a drill on the axis, a bar inside a bore, a tool beside the work.

    Args:
        operation: In hand.
        move: Just done.
        right: How far to the right it is drawn.
        size: Of the tool's tip.
    """
    if move is None or not move.strokes or operation is None or operation.cutter is None:
        return []
    x, _, z = move.strokes[-1].path[-1]
    kind = operation.cutter.kind
    if kind in ("drill", "tap"):
        d = operation.cutter.diameter_mm / 2
        point = operation.cutter.point_deg
        cone = d / float(np.tan(np.radians(point / 2))) if point else 0.0
        outline = ((z, 0.0), (z + cone, d), (right, d), (right, -d), (z + cone, -d))
        return [Path(outline, Style.TOOL, "cutter", closed=True)]
    if kind == "boring":
        tip = min(size, 0.6 * x)
        ring: Ring = ((z, x), (z + 0.5 * tip, x - tip), (right, x - tip), (right, x - 0.3 * tip), (z + 1.2 * tip, x - 0.3 * tip))
    else:
        ring = ((z, x), (z + size, x + 0.4 * size), (z + size, x + 1.6 * size), (z, x + 1.2 * size))
    return [Path(ring, Style.TOOL, "cutter", closed=True)]


def _letters(left: float, right: float, low: float, high: float, at_left: str, on_top: str, at_right: str) -> list[Element]:
    wide, tall = right - left, high - low
    return [
        Note((left + 0.04 * wide, low + 0.4 * tall), at_left),
        Note(((left + right) / 2, high - min(3.5, 0.3 * tall)), on_top, align=0),
        Note((right - 0.04 * wide, low + 0.4 * tall), at_right, align=1),
    ]


def by_hand_scene(plan: Plan, setup: Setup) -> Scene | None:
    """What is sawn, or what is there when the bench work begins."""
    if plan.blank is None or plan.bar is None:
        return None
    if setup.id in ("saw", "part"):
        long, high = plan.cut_length.value, plan.bar.height_mm
        elements: list[Element] = [box(0, 0, long, high, Style.BODY, "work"), box(0, 0, long, high, Style.VISIBLE, "work")]
        cuts = [long] if setup.id == "saw" else [p[0] - _KERF_MIDDLE_MM for p in plan.pieces[1:]]
        if setup.id == "saw":
            elements.append(box(long, 0, 1.3 * long, high, Style.THIN, "bar"))
        elements += [Line((x, -0.3 * high), (x, 1.3 * high), Style.CENTRE) for x in cuts]
        return Scene("setup", "From the front", tuple(elements))
    before = [s for s in plan.setups[: plan.setups.index(setup)] if s.pose is not None]
    if not before or not before[-1].moves:
        return None
    return setup_scene(plan, before[-1], before[-1].moves[-1], SMALL_CELLS)
