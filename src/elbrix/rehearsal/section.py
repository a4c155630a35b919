"""Sections through the metal as it is after some of a plan's moves: closed outlines in a plane of a setup's machine frame."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.making.plan import Plan, Setup
from elbrix.rehearsal.distances import Array, Mask, swept_box, to_body, to_stroke
from elbrix.rehearsal.run import CuttingMove, Slips, corners, deepest, posed, steps_of, zero_shifts

Point = tuple[float, float]
Ring = tuple[Point, ...]
#: Cells across the longer side of a section.
CELLS: Final = 150


class Plane(Struct, frozen=True):
    """A plane of the machine frame: across, up, and where it cuts the third axis."""

    across: int
    up: int
    at: float
    flip: bool = False  #: across runs to the left

    @property
    def third(self) -> int:
        return 3 - self.across - self.up


def extent(plan: Plan, setup: Setup) -> tuple[Array, Array]:
    """Both corners of the blank's box in a setup's machine frame."""
    there = posed(corners(plan), setup)
    return there.min(axis=0), there.max(axis=0)


def metal(plan: Plan, setup: Setup, points: Array, upto: str, slips: Slips | None = None, near_mm: float = math.inf) -> Array:
    """Signed distance to the metal at points of a setup's machine frame after a move, that move included.

    Args:
        upto: Id of the last move that was made; empty: everything before this setup.
        slips: What was set otherwise than planned.
        near_mm: So far from the metal's faces the distance is right; deeper in it is only less than that. Quicker.
    """
    part = _in_part(setup, points)
    assert plan.blank is not None
    off = to_body(part, plan.blank)
    lain, columns = part, part.T
    for step, there in _cuts(plan, setup, part, upto, slips):
        if step.move.removes is not None:
            off = np.maximum(off, -to_body(part, step.move.removes))
            continue
        if there is not lain:
            lain, columns = there, np.ascontiguousarray(there.T)
        for stroke in deepest(step.tool, step.strokes):
            which = np.flatnonzero(_beside(columns, swept_box(step.tool, stroke), near_mm))
            if len(which) == len(off):
                off = np.maximum(off, -to_stroke(there, step.tool, stroke))
            elif len(which):
                off[which] = np.maximum(off[which], -to_stroke(there[which], step.tool, stroke))
    return off


def _beside(columns: Array, box: tuple[Array, Array] | None, near_mm: float) -> Mask:
    """Which points lie in what a stroke sweeps, or so near to it; all where nobody can say what it sweeps."""
    found: Mask = np.full(len(columns[0]), fill_value=True)
    if box is not None and math.isfinite(near_mm):
        for column, low, high in zip(columns, box[0] - near_mm, box[1] + near_mm, strict=True):
            found &= (column >= low) & (column <= high)
    return found


def within_metal(plan: Plan, setup: Setup, points: Array, skin_mm: float) -> Mask:
    """Whether points of a setup's machine frame are in the metal by more than a skin, as the setup begins.

    Quicker than `metal`: of each stroke only the points are looked at that it may take, and that are still there.
    """
    part = _in_part(setup, points)
    assert plan.blank is not None
    solid: Mask = to_body(part, plan.blank) < -skin_mm
    lain, columns = part, part.T
    for step, there in _cuts(plan, setup, part, "", None):
        if step.move.removes is not None:
            solid &= to_body(part, step.move.removes) > skin_mm
            continue
        if there is not lain:
            lain, columns = there, np.ascontiguousarray(there.T)
        for stroke in deepest(step.tool, step.strokes):
            which = np.flatnonzero(solid & _beside(columns, swept_box(step.tool, stroke), skin_mm))
            if len(which):
                solid[which] = to_stroke(there[which], step.tool, stroke) > skin_mm
    return solid


def _in_part(setup: Setup, points: Array) -> Array:
    assert setup.pose is not None
    found: Array = (points - np.array(setup.pose.offset)) @ np.array(setup.pose.rotation)
    return found


def _cuts(plan: Plan, setup: Setup, part: Array, upto: str, slips: Slips | None) -> Iterator[tuple[CuttingMove, Array]]:
    """Every cutting move up to one, with points of the part as they lie in its setup."""
    order = {m.id: n for n, (_, _, m) in enumerate(plan.moves)}
    first = next(n for n, (s, _, _) in enumerate(plan.moves) if s.id == setup.id)
    last = order.get(upto, first - 1)
    frame, there = "", part
    for step in steps_of(plan, slips):
        if order[step.move.id] > last:
            return
        if step.setup.id != frame and step.move.removes is None:
            frame = step.setup.id
            there = posed(part, step.setup, shift=zero_shifts(step.setup, slips) if slips else None)
        yield step, there


def outlines(
    plan: Plan, setup: Setup, plane: Plane, upto: str, cells: int = CELLS, slips: Slips | None = None
) -> tuple[Ring, ...]:
    """The metal in a plane, as closed outlines in (across, up)."""
    low, high = extent(plan, setup)
    a, u = plane.across, plane.up
    cell = max(high[a] - low[a], high[u] - low[u]) / cells
    xs = np.arange(low[a] - 1.5 * cell, high[a] + 2 * cell, cell)
    ys = np.arange(low[u] - 1.5 * cell, high[u] + 2 * cell, cell)
    grid = np.empty((len(ys) * len(xs), 3))
    gx, gy = np.meshgrid(xs, ys)
    grid[:, a], grid[:, u], grid[:, plane.third] = gx.ravel(), gy.ravel(), plane.at
    off = metal(plan, setup, grid, upto, slips, near_mm=3 * cell).reshape(len(ys), len(xs))  # a square's corners are nearer
    rings = [_sharp(r, cell) for r in _contours(off, xs, ys)]
    sign = -1.0 if plane.flip else 1.0
    return tuple(tuple((sign * x, y) for x, y in r) for r in rings if len(r) > 2)


def _cross(one: tuple[float, float, float], other: tuple[float, float, float]) -> Point:
    """Where the distance is nothing between two corners (distance, x, y)."""
    (a, x, y), (b, v, w) = one, other
    t = a / (a - b) if a != b else 0.5
    return (round(x + t * (v - x), 7), round(y + t * (w - y), 7))


def _contours(off: Array, xs: Array, ys: Array) -> list[list[Point]]:
    """Closed lines where a grid of distances passes through nothing, by marching over its squares."""
    inside = off < 0
    joins: dict[Point, list[Point]] = {}
    mixed = inside[:-1, :-1].astype(int) + inside[1:, :-1] + inside[:-1, 1:] + inside[1:, 1:]
    rows, columns = np.nonzero((mixed > 0) & (mixed < 4))
    # One by one, plain numbers are several times quicker than those of an array; only the squares that are cut are wanted.
    around = ((0, 0), (0, 1), (1, 1), (1, 0))
    corners = zip(
        *(
            zip(off[rows + i, columns + j].tolist(), xs[columns + j].tolist(), ys[rows + i].tolist(), strict=True)
            for i, j in around
        ),
        strict=True,
    )
    for square in corners:
        cuts = [_cross(p, q) for p, q in zip(square, (*square[1:], square[0]), strict=True) if (p[0] < 0) != (q[0] < 0)]
        for p, q in zip(cuts[::2], cuts[1::2], strict=True):
            if p != q:
                joins.setdefault(p, []).append(q)
                joins.setdefault(q, []).append(p)
    rings = []
    while joins:
        start = next(iter(joins))
        ring, here = [start], start
        while True:
            ways = joins.get(here, [])
            if not ways:
                joins.pop(here, None)
                break
            there = ways.pop()
            if not ways:
                joins.pop(here, None)
            back = joins.get(there, [])
            if here in back:
                back.remove(here)
                if not back:
                    joins.pop(there, None)
            if there == start:
                break
            ring.append(there)
            here = there
        if len(ring) > 3:
            rings.append(ring)
    return rings


def _sharp(ring: list[Point], cell: float) -> Ring:
    """Straight runs as one line each, and the small bevel a grid leaves at a corner taken back to the corner."""
    from shapely import Polygon

    shape = Polygon(ring)
    if not shape.is_valid or shape.area < 4 * cell * cell:
        return ()
    plain = shape.simplify(0.12 * cell)
    points = [(float(x), float(y)) for x, y in (plain if isinstance(plain, Polygon) else shape).exterior.coords[:-1]]
    found: list[Point] = []
    n = len(points)
    skip = False
    for i in range(n):
        if skip:
            skip = False
            continue
        a, b, c, d = (points[(i + k) % n] for k in (-1, 0, 1, 2))
        if math.dist(b, c) < 1.6 * cell and math.dist(a, b) > 2.5 * cell and math.dist(c, d) > 2.5 * cell:
            corner = _meet(a, b, c, d)
            if corner is not None and math.dist(corner, b) < 2.5 * cell and math.dist(corner, c) < 2.5 * cell:
                found.append(corner)
                skip = True
                continue
        found.append(b)
    if skip and found:
        found = found[1:] if math.dist(found[0], points[0]) < 1e-12 else found
    return tuple(found)


def _meet(a: Point, b: Point, c: Point, d: Point) -> Point | None:
    """Where the lines a–b and c–d meet; None when they are as good as parallel."""
    ux, uy, vx, vy = b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]
    turn = ux * vy - uy * vx
    if abs(turn) < 1e-3 * math.hypot(ux, uy) * math.hypot(vx, vy):
        return None
    t = ((c[0] - b[0]) * vy - (c[1] - b[1]) * vx) / turn
    return (b[0] + t * ux, b[1] + t * uy)


def without(rings: tuple[Ring, ...], others: tuple[Ring, ...]) -> tuple[Ring, ...]:
    """What of some outlines the others do not cover, thicker than a line."""
    from shapely import Polygon, unary_union

    a, b = (unary_union([Polygon(r).buffer(0) for r in group]) for group in (rings, others))
    rest = a.difference(b).buffer(-0.02).buffer(0.02)
    return tuple(
        tuple((float(x), float(y)) for x, y in g.exterior.coords[:-1])
        for g in getattr(rest, "geoms", [rest])
        if isinstance(g, Polygon) and not g.is_empty and g.area > 0.01
    )
