"""Angle settings drawn to real proportions: sine plates on their stacks, the box of blocks, Vs, dovetails, tilts."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import TYPE_CHECKING

from elbrix.angles.sine import SinePlate
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Path, Point, Scene, Side, Style, box
from elbrix.quantities.decimals import MM_PER
from elbrix.shop.gauges import AngleBlockSet, Block, BlockState, GaugeSet, angle_of_block

if TYPE_CHECKING:
    from elbrix.gauging.build_up import BuiltStack  # NumPy is only loaded when a stack is worked out

#: A gauge block seen from its narrow side, and its long one, mm (ISO 3650: 9 × 30 or 35).
BLOCK_THIN, BLOCK_WIDE = 9.0, 30.0


def along(origin: Point, angle_rad: float, run: float, off: float) -> Point:
    """A point `run` along a line at an angle and `off` to its left."""
    c, s = math.cos(angle_rad), math.sin(angle_rad)
    return origin[0] + run * c - off * s, origin[1] + run * s + off * c


def sine_scene(
    plate: SinePlate,
    tilt_rad: float,
    face_rad: float,
    stack: BuiltStack | None,
    base: BuiltStack | None,
    *,
    spacer_mm: float,
    face_above_mm: float,
    work: Point,
    words: str,
    turned: bool,
) -> Scene:
    """A sine plate from the side, on the surface plate (y = 0), pivot roll at x = 0.

    Args:
        tilt_rad: Of the line of roll centres.
        face_rad: Of the work face: a little different when the rolls are.
        stack: Under the stack roll; None: a spacer, or nothing.
        base: Under the pivot roll too, for angles the thinnest block is too thick for.
        spacer_mm: Height of a solid spacer; 0: a stack.
        face_above_mm: Work face above the line of centres, at its middle.
        work: Length along the face and height of the work, mm.
        words: The angle as shown.
        turned: The work lies turned by a right angle, so its angle is the complement.
    """
    c, rp, rs = (
        plate.centres_mm,
        plate.roll_pivot_mm / 2 or c_roll(plate.centres_mm),
        plate.roll_stack_mm / 2 or c_roll(plate.centres_mm),
    )
    foot = base.height_mm if base is not None else 0.0
    pivot = (0.0, foot + rp)
    far = along(pivot, tilt_rad, c, 0)
    end = 0.1 * c
    top = face_above_mm
    under = 0.12 * rp
    body = Path(
        (
            along(pivot, tilt_rad, -0.9 * rp, under),
            along(pivot, tilt_rad, c + end + rp, under),
            _face(pivot, tilt_rad, face_rad, c, c + end + rp, top),
            _face(pivot, tilt_rad, face_rad, c, -0.9 * rp, top),
        ),
        Style.BODY,
        "plate",
        closed=True,
    )
    outline = Path((*body.points,), Style.VISIBLE, "plate", closed=True)
    elements: list[Element] = [*_surface(-end - rp, far[0] + 0.42 * c), body, outline]
    if work[0] > 0:
        elements += _work(pivot, tilt_rad, face_rad, c, top, c + end + rp, work, turned)
    for centre, radius, name in ((pivot, rp, "pivot roll"), (far, rs, "stack roll")):
        disc = Path(tuple(Arc(centre, radius).points(36)[:-1]), Style.BODY, name, closed=True)
        elements += [disc, Arc(centre, radius, feature=name), *_cross(centre, radius)]
    elements += [Line(pivot, far, Style.CENTRE), Line(pivot, (pivot[0] + 0.62 * c, pivot[1]), Style.CENTRE)]
    elements.append(Arc(pivot, 0.42 * c, 0, math.degrees(tilt_rad), Style.CENTRE, "angle"))
    right = min(0.42 * c * math.cos(tilt_rad / 2), far[0] - BLOCK_WIDE / 2 - 0.17 * c)  # clear of the stack
    number_at = (right, pivot[1] + right * math.tan(tilt_rad / 2))
    dims: list[Dimension] = [
        Dimension(
            "angle",
            pivot,
            number_at,
            Side.AT,
            text=words,
            value_mm=math.degrees(tilt_rad),
            entry="angle",
            feature="angle",
            order=0,
        ),
        Dimension(
            "tool",
            pivot,
            along(pivot, tilt_rad, c / 2, (top + under) / 2),
            Side.AT,
            value_mm=c,
            prefix="C ",
            feature="plate",
            step_mm=0.001,
            measured=True,
        ),
    ]
    x = far[0]
    if spacer_mm > 0:
        elements += [
            box(x - BLOCK_WIDE / 2, 0, x + BLOCK_WIDE / 2, spacer_mm, Style.BODY, "stack"),
            box(x - BLOCK_WIDE / 2, 0, x + BLOCK_WIDE / 2, spacer_mm, Style.VISIBLE, "stack"),
        ]
        dims.append(
            Dimension(
                "spacer",
                (x + BLOCK_WIDE / 2, 0),
                (x + BLOCK_WIDE / 2, spacer_mm),
                Side.RIGHT,
                entry="spacer",
                value_mm=spacer_mm,
                step_mm=0.001,
                suffix="spacer",
                feature="stack",
                measured=True,
                order=1,
            )
        )
    elif stack is not None:
        elements += blocks_on(x, stack, "stack", side=1, room=0.05 * c)
        dims.append(
            Dimension(
                "height",
                (x + BLOCK_WIDE / 2, 0),
                (x + BLOCK_WIDE / 2, stack.height_mm),
                Side.RIGHT,
                value_mm=stack.height_mm,
                step_mm=0.0001,
                feature="stack",
                suffix="stack",
            )
        )
    if base is not None:
        elements += blocks_on(0.0, base, "base", side=-1, room=0.05 * c)
    reach = c * math.cos(tilt_rad)
    handle = Handle(
        "angle",
        far,
        along(pivot, tilt_rad, c + end + rp, top),
        (-math.sin(tilt_rad), math.cos(tilt_rad)),
        math.degrees(1) / c,
        step=1e-4,
        low=0.0,
        high=89.0,
        low_reason="it lies flat",
        high_reason="a sine plate stays under 90°",
        feature="plate",
    )
    return Scene("sine", "Sine plate from the side", tuple(elements), tuple(dims), (handle,) if reach > 0 else ())


def c_roll(centres_mm: float) -> float:
    """A roll radius to draw when none is known."""
    return 0.1 * centres_mm


def _face(pivot: Point, tilt: float, face: float, c: float, run: float, top: float) -> Point:
    """A point of the work face: it crosses `top` above the middle of the centres and leans by the face's own angle."""
    return along(pivot, tilt, run, top + (run - c / 2) * math.tan(face - tilt))


def _surface(left: float, right: float) -> list[Element]:
    deep = 0.05 * (right - left)
    ground = Path(
        ((left, 0), (right, 0), (right, -deep), (left, -deep)), Style.SURROUNDINGS_SECTION, "surface plate", closed=True
    )
    return [ground, Line((left, 0), (right, 0), Style.VISIBLE, "surface plate")]


def _cross(centre: Point, radius: float) -> list[Element]:
    reach = 0.35 * radius
    return [
        Line((centre[0] - reach, centre[1]), (centre[0] + reach, centre[1]), Style.CENTRE),
        Line((centre[0], centre[1] - reach), (centre[0], centre[1] + reach), Style.CENTRE),
    ]


def _on_face(
    pivot: Point, tilt: float, face: float, c: float, top: float, run: float, long: float, high: float
) -> tuple[Point, ...]:
    """A rectangle standing on the work face."""
    a = _face(pivot, tilt, face, c, run, top)
    b = along(a, face, long, 0)
    return a, b, along(b, face, 0, high), along(a, face, 0, high)


def _work(pivot: Point, tilt: float, face: float, c: float, top: float, upper: float, work: Point, turned: bool) -> list[Element]:
    """The work at the upper end of the face, against its stop, and the level cut that gives it its angle.

    Clear of the plate's end.
    """
    length, high = work
    corners = _on_face(pivot, tilt, face, c, top, upper - length, length, high)
    strip = _on_face(pivot, tilt, face, c, top, upper - length - 0.06 * c, 0.06 * c, 0.3 * high)
    level = corners[1][1] + 0.45 * high * math.cos(face)
    kept = _below(corners, level)
    cut = [p for p in kept if abs(p[1] - level) < 1e-9]
    lines: list[Element] = [
        Path(strip, Style.BODY, "stop strip", closed=True),
        Path(strip, Style.VISIBLE, "stop strip", closed=True),
        Path(corners, Style.HIDDEN, "work", closed=True),
        Path(tuple(kept), Style.SECTION, "work", closed=True),
        Path(tuple(kept), Style.VISIBLE, "work", closed=True),
    ]
    if len(cut) >= 2:
        left, right = min(p[0] for p in cut), max(p[0] for p in cut)
        lines.append(Line((left - 0.2 * c, level), (right + 0.2 * c, level), Style.TOOL, "cut"))
        lines.append(Note((left - 0.22 * c, level), "cut level" + (", work turned" if turned else ""), quiet=True, align=1))
    return lines


def _below(ring: Sequence[Point], level: float) -> list[Point]:
    """The part of a polygon below a level."""
    kept: list[Point] = []
    for a, b in zip(ring, [*ring[1:], ring[0]], strict=True):
        if a[1] <= level:
            kept.append(a)
        if (a[1] - level) * (b[1] - level) < 0:
            t = (level - a[1]) / (b[1] - a[1])
            kept.append((a[0] + t * (b[0] - a[0]), level))
    return kept


def blocks_on(x: float, stack: BuiltStack, prefix: str, *, side: int, room: float) -> list[Element]:
    """A stack's blocks from the surface plate up, each with its length beside it on a leader.

    Args:
        side: 1: the lengths stand to the right, -1: to the left.
        room: Height one length needs, mm.
    """
    elements: list[Element] = []
    half = BLOCK_WIDE / 2
    y = 0.0
    middles: list[float] = []
    for piece in stack.pieces:
        feature = f"{prefix} {piece.name}" if piece.what == "block" else "wear block"
        ring = box(x - half, y, x + half, y + piece.length_mm, Style.BODY, feature)
        elements += [ring, box(x - half, y, x + half, y + piece.length_mm, Style.VISIBLE, feature)]
        middles.append(y + piece.length_mm / 2)
        y += piece.length_mm
    ats = _spread(middles, room)
    for piece, middle, at in zip(stack.pieces, middles, ats, strict=True):
        words = piece.name if piece.what == "block" else f"{piece.name} wear"
        left = x + side * (half + 1.6 * room)
        thick = piece.length_mm > 1.6 * room
        if thick:
            elements.append(Note((x, middle), words, align=0, plain=True, feature=f"{prefix} {piece.name}"))
        else:
            elements.append(
                Note(
                    (left, at),
                    words,
                    leader=(x + side * half * 0.8, middle),
                    plain=True,
                    feature=f"{prefix} {piece.name}",
                    align=-side,
                )
            )
    return elements


def _spread(middles: list[float], room: float) -> list[float]:
    """Heights at least `room` apart, as near to where they belong as that allows."""
    ats = list(middles)
    for _ in range(200):
        moved = False
        for i, (a, b) in enumerate(pairwise(ats)):
            if b - a < room * 0.999:
                push = (room - (b - a)) / 2
                ats[i], ats[i + 1] = a - push, b + push
                moved = True
        if not moved:
            break
    lift = max(0.0, room * 0.5 - min(ats, default=room))
    return [a + lift for a in ats]


def stacks_scene(stacks: Sequence[BuiltStack], wanted_mm: Sequence[float]) -> Scene:
    """One stack or two on the surface plate from the side, each with the height that is wanted."""
    tall = max(*(b.height_mm for b in stacks), *wanted_mm, 12.0)
    apart = BLOCK_WIDE + max(20.0, 0.4 * tall)
    right = (len(stacks) - 1) * apart
    reach = max(12.0, 0.3 * tall)
    room = 0.05 * max(tall, right + BLOCK_WIDE + 2 * reach)  # for one length beside its block
    elements: list[Element] = _surface(-BLOCK_WIDE / 2 - reach, right + BLOCK_WIDE / 2 + reach)
    dims: list[Dimension] = []
    handles: list[Handle] = []
    for i, (built, wanted) in enumerate(zip(stacks, wanted_mm, strict=True)):
        x, name, entry = i * apart, ("stack", "base")[i], ("height", "second_height")[i]
        elements += blocks_on(x, built, name, side=-1 if i == 0 else 1, room=room)
        side = 1 if i == 0 else -1
        edge = x + side * BLOCK_WIDE / 2
        elements.append(Line((x - BLOCK_WIDE * 0.8, wanted), (x + BLOCK_WIDE * 0.8, wanted), Style.CENTRE, name))
        dims.append(
            Dimension(
                entry,
                (edge, 0),
                (edge, wanted),
                Side.RIGHT if side > 0 else Side.LEFT,
                value_mm=wanted,
                entry=entry,
                step_mm=0.0001,
                feature=name,
                order=i,
            )
        )
        if i == 0:
            top = built.height_mm
            handles.append(
                Handle(
                    entry,
                    (x - BLOCK_WIDE / 2, top),
                    (x + BLOCK_WIDE / 2, top),
                    (0.0, 1.0),
                    1.0,
                    step=1e-4,
                    low=0.5,
                    low_reason="thinner than any block",
                    feature=name,
                )
            )
    return Scene("height", "Gauge blocks from the side", tuple(elements), tuple(dims), tuple(handles))


#: Blocks from this length stand in rows of their own, so that no thin one is lost between them, mm.
_TALL = 15.0


def _rows(blocks: Sequence[Block], across: int) -> list[Sequence[Block]]:
    return [blocks[start : start + across] for start in range(0, len(blocks), across)]


def box_scene(gauges: GaugeSet, in_stack: Sequence[str] = (), picked: str = "", across: int = 16) -> Scene:
    """A set as blocks in its box, to scale, seen from their narrow side.

    Rows of `across`, missing ones dashed, those in the stack lifted.

    A block's feature is "block " and its length; dragging one onto a block of the stack swaps the two.
    """
    per = float(MM_PER[gauges.unit])
    blocks = sorted(gauges.blocks, key=lambda b: float(b.nominal))
    elements: list[Element] = []
    y = 0.0
    pitch = BLOCK_THIN + 12.0
    thin = [b for b in blocks if float(b.nominal) * per < _TALL]
    tall_ones = blocks[len(thin) :]
    for row in (*_rows(thin, across), *_rows(tall_ones, across)):
        tall = max(float(b.nominal) * per for b in row)
        y -= tall + 15.0
        for i, block in enumerate(row):
            x, high = i * pitch, float(block.nominal) * per
            feature = f"block {block.nominal}"
            lifted = block.nominal in in_stack
            if block.state is BlockState.LENT or lifted or block.state is BlockState.IN_USE:
                elements.append(box(x, y, x + BLOCK_THIN, y + high, Style.HIDDEN, feature))
            else:
                style = Style.VISIBLE if block.nominal == picked or block.here else Style.SURROUNDINGS
                elements += [
                    box(x, y, x + BLOCK_THIN, y + high, Style.BODY, feature),
                    box(x, y, x + BLOCK_THIN, y + high, style, feature),
                ]
            if block.state is BlockState.WORN:
                elements += [
                    Line((x, y), (x + BLOCK_THIN, y + high), Style.TOOL, feature),
                    Line((x, y + high), (x + BLOCK_THIN, y), Style.TOOL, feature),
                ]
            elements.append(
                Note(
                    (x + BLOCK_THIN / 2, y - 6.0),
                    block.nominal,
                    quiet=not (block.nominal == picked or lifted),
                    align=0,
                    feature=feature,
                    stays=True,
                )
            )
        elements.append(Line((-4, y), (across * pitch - 6, y), Style.SURROUNDINGS))
    return Scene("box", gauges.name, tuple(elements))


#: Cells of the box seen from above, wide enough for a length written into them.
CELL_WIDE, CELL_HIGH = 50.0, 19.0


def box_plan_scene(gauges: GaugeSet | AngleBlockSet, in_stack: Sequence[str] = (), across: int = 5, mine: str = "") -> Scene:
    """A set from above: a cell per block with its length, dashed where the block is not in its place.

    Args:
        in_stack: Blocks of the stack on show: their cells are hatched.
        mine: Id of the setting on show, whose own blocks count as here.
    """

    def size(block: Block) -> float:
        return float(block.nominal) if isinstance(gauges, GaugeSet) else angle_of_block(block.nominal)

    blocks = sorted(gauges.blocks, key=size)
    elements: list[Element] = []
    for i, block in enumerate(blocks):
        row, column = divmod(i, across)
        x, y = column * CELL_WIDE, -(row + 1) * CELL_HIGH
        feature = f"block {block.nominal}"
        there = block.here or (mine and block.holder == mine)
        ring = (x + 1.5, y + 1.5, x + CELL_WIDE - 1.5, y + CELL_HIGH - 1.5)
        if block.nominal in in_stack:
            elements += [box(*ring, Style.SECTION, feature)]
        elif there:
            elements += [box(*ring, Style.BODY, feature), box(*ring, Style.SURROUNDINGS, feature)]
        else:
            elements.append(box(*ring, Style.HIDDEN, feature))
        mark = {BlockState.WORN: "×", BlockState.LENT: "", BlockState.IN_USE: ""}.get(block.state, "") if not there else ""
        at = (x + CELL_WIDE / 2, y + CELL_HIGH / 2)
        elements.append(Note(at, mark + block.nominal, quiet=not there, plain=True, align=0, stays=True))
    return Scene("box", gauges.name, tuple(elements))
