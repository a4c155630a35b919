"""Points with normals on the surface of a recipe's solid, and which side of it a point lies on. Part frame, mm."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Final

import numpy as np

from elbrix.rehearsal.distances import Array, Mask
from elbrix.solids.recipe import Cut, Join, Prism, Recipe, Turned

#: A point this far to each side of a surface tells which side is metal, mm.
_SIDE_MM: Final = 2e-4
#: A curve of an outline is followed this near, mm.
_CHORD_MM: Final = 0.0004
#: Beside an edge of a face the points stand closer: distances from it, mm.
_NEAR_EDGE: Final = (0.004, 0.06)


def followed(prism: Prism) -> Array:
    """The outline of a prism with its arcs as short lines."""
    arcs = dict(prism.arcs)
    found: list[tuple[float, float]] = []
    for i, a in enumerate(prism.outline):
        found.append(a)
        if i in arcs:
            found += _arc(a, arcs[i], prism.outline[(i + 1) % len(prism.outline)])
    return np.array(found)


def _arc(a: tuple[float, float], m: tuple[float, float], b: tuple[float, float]) -> list[tuple[float, float]]:
    """Points between the ends of an arc through m."""
    (ax, ay), (bx, by), (mx, my) = a, b, m
    d = 2 * (ax * (my - by) + mx * (by - ay) + bx * (ay - my))
    if abs(d) < 1e-12:
        return []
    a2, m2, b2 = ax * ax + ay * ay, mx * mx + my * my, bx * bx + by * by
    cx = (a2 * (my - by) + m2 * (by - ay) + b2 * (ay - my)) / d
    cy = (a2 * (bx - mx) + m2 * (ax - bx) + b2 * (mx - ax)) / d
    r = math.hypot(ax - cx, ay - cy)
    start, mid, end = (math.atan2(y - cy, x - cx) for x, y in (a, m, b))
    turn = (end - start) % (2 * math.pi)
    if (mid - start) % (2 * math.pi) > turn:
        turn -= 2 * math.pi
    steps = max(2, math.ceil(abs(turn) / (2 * math.acos(max(-1.0, 1 - _CHORD_MM / max(r, _CHORD_MM))))))
    return [(cx + r * math.cos(start + turn * i / steps), cy + r * math.sin(start + turn * i / steps)) for i in range(1, steps)]


def in_outline(points: Array, outline: Array) -> Mask:
    """Whether (n, 2) points lie inside a closed outline."""
    x, y = points[:, 0], points[:, 1]
    inside = np.zeros(len(points), dtype=bool)
    for (ax, ay), (bx, by) in zip(outline, np.roll(outline, -1, axis=0), strict=True):
        if ay != by:
            inside ^= ((y < ay) != (y < by)) & (x < ax + (y - ay) * (bx - ax) / (by - ay))
    return inside


_AXES: Final = {"xz": (0, 2, 1), "xy": (0, 1, 2), "yz": (1, 2, 0)}


class Shape:
    """A recipe made ready: its outlines followed, its boxes known."""

    def __init__(self, recipe: Recipe) -> None:
        self.recipe = recipe
        self.parts: tuple[Shape, ...] = ()
        self.outline: Array = np.empty((0, 2))
        self.low: Array = np.empty(3)
        self.high: Array = np.empty(3)
        if isinstance(recipe, Cut):
            self.parts = (Shape(recipe.body), *(Shape(t) for t in recipe.tools))
            self.low, self.high = self.parts[0].low, self.parts[0].high
        elif isinstance(recipe, Join):
            self.parts = tuple(Shape(b) for b in recipe.bodies)
            self.low = np.min([p.low for p in self.parts], axis=0)
            self.high = np.max([p.high for p in self.parts], axis=0)
        elif isinstance(recipe, Prism):
            self.outline = followed(recipe)
            self._prism_box(recipe)
        else:
            self.outline = np.array(recipe.profile)
            self._turned_box(recipe)

    def _prism_box(self, p: Prism) -> None:
        i, j, k = _AXES[p.plane]
        self.low[[i, j]], self.high[[i, j]] = self.outline.min(axis=0), self.outline.max(axis=0)
        self.low[k], self.high[k] = p.start, p.end

    def _turned_box(self, t: Turned) -> None:
        axis = np.array(t.axis) / np.linalg.norm(t.axis)
        r = self.outline[:, 0].max()
        ends = np.array([np.array(t.at) + h * axis for h in (self.outline[:, 1].min(), self.outline[:, 1].max())])
        out = r * np.sqrt(np.maximum(0.0, 1 - axis**2))
        self.low, self.high = ends.min(axis=0) - out, ends.max(axis=0) + out

    def holds(self, points: Array) -> Mask:
        """Whether (n, 3) points lie in the metal."""
        found = np.zeros(len(points), dtype=bool)
        near = np.flatnonzero(((points >= self.low - 1e-9) & (points <= self.high + 1e-9)).all(axis=1))
        if not len(near):
            return found
        p = points[near]
        r = self.recipe
        if isinstance(r, Cut):
            inside = self.parts[0].holds(p)
            for tool in self.parts[1:]:
                inside &= ~tool.holds(p)
        elif isinstance(r, Join):
            inside = np.zeros(len(p), dtype=bool)
            for part in self.parts:
                inside |= part.holds(p)
        elif isinstance(r, Prism):
            i, j, k = _AXES[r.plane]
            inside = (p[:, k] > r.start) & (p[:, k] < r.end) & in_outline(p[:, [i, j]], self.outline)
        else:
            axis = np.array(r.axis) / np.linalg.norm(r.axis)
            from_at = p - np.array(r.at)
            up = from_at @ axis
            out = np.linalg.norm(from_at - up[:, None] * axis, axis=1)
            inside = in_outline(np.column_stack((out, up)), self.outline)
        found[near] = inside
        return found

    def leaves(self) -> Iterator[Shape]:
        """Its prisms and turned shapes."""
        if self.parts:
            for part in self.parts:
                yield from part.leaves()
        else:
            yield self


def steps_along(long: float, spacing: float) -> Array:
    """Places along an edge: evenly, and closer beside both ends."""
    n = max(2, math.ceil(long / spacing))
    even = (np.arange(n) + 0.5) / n * long
    near = np.array([e for e in _NEAR_EDGE if e < long / 2])
    return np.unique(np.concatenate((even, near, long - near)))


def _prism_points(shape: Shape, p: Prism, spacing: float) -> tuple[Array, Array]:
    i, j, k = _AXES[p.plane]
    points: list[Array] = []
    normals: list[Array] = []

    def add(uv: Array, w: Array, n: tuple[float, float, float]) -> None:
        there = np.empty((len(uv), 3))
        there[:, i], there[:, j], there[:, k] = uv[:, 0], uv[:, 1], w
        points.append(there)
        normal = np.empty(3)
        normal[i], normal[j], normal[k] = n
        normals.append(np.tile(normal, (len(uv), 1)))

    along = p.start + steps_along(p.end - p.start, spacing)
    for a, b in zip(shape.outline, np.roll(shape.outline, -1, axis=0), strict=True):
        e = b - a
        long = float(np.hypot(*e))
        if long < 1e-9:
            continue
        # A short edge is one of many of a curve: its middle stands for it.
        t = steps_along(long, spacing) / long if long > 0.5 * spacing else np.array([0.5])
        here = a + t[:, None] * e
        grid = np.repeat(here, len(along), axis=0)
        add(grid, np.tile(along, len(here)), (e[1] / long, -e[0] / long, 0.0))
    low, high = shape.outline.min(axis=0), shape.outline.max(axis=0)
    u, v = (low[n] + steps_along(high[n] - low[n], spacing) for n in (0, 1))
    grid = np.array(np.meshgrid(u, v)).reshape(2, -1).T
    grid = grid[in_outline(grid, shape.outline)]
    for w, side in ((p.start, -1.0), (p.end, 1.0)):
        add(grid, np.full(len(grid), w), (0.0, 0.0, side))
    return np.concatenate(points), np.concatenate(normals)


def _turned_points(shape: Shape, t: Turned, spacing: float) -> tuple[Array, Array]:
    axis = np.array(t.axis) / np.linalg.norm(t.axis)
    aside = np.array((1.0, 0.0, 0.0)) if abs(axis[0]) < 0.9 else np.array((0.0, 1.0, 0.0))
    u = np.cross(axis, aside)
    u /= np.linalg.norm(u)
    v = np.cross(axis, u)
    points: list[Array] = []
    normals: list[Array] = []
    for a, b in zip(shape.outline, np.roll(shape.outline, -1, axis=0), strict=True):
        e = b - a
        long = float(np.hypot(*e))
        if long < 1e-9 or max(a[0], b[0]) < 1e-9:
            continue
        for s in steps_along(long, spacing) / long:
            r, h = a + s * e
            n = max(8, math.ceil(2 * math.pi * r / spacing))
            angle = 2 * math.pi * (np.arange(n) + 0.37) / n
            out = np.cos(angle)[:, None] * u + np.sin(angle)[:, None] * v
            points.append(np.array(t.at) + h * axis + r * out)
            normals.append((e[1] * out - e[0] * axis) / long)
    return np.concatenate(points), np.concatenate(normals)


class Surface:
    """Points on the finished part, and which side of it any point lies on."""

    def __init__(self, recipe: Recipe, wanted: int = 20_000) -> None:
        self.shape = Shape(recipe)
        size = self.shape.high - self.shape.low
        area = 2 * (size[0] * size[1] + size[1] * size[2] + size[0] * size[2])
        spacing = max(0.15, math.sqrt(area / wanted))
        points, normals = [], []
        for leaf in self.shape.leaves():
            r = leaf.recipe
            prism = isinstance(r, Prism)
            p, n = _prism_points(leaf, r, spacing) if prism else _turned_points(leaf, r, spacing)  # type: ignore[arg-type]
            within = ((p >= self.shape.low - 1e-6) & (p <= self.shape.high + 1e-6)).all(axis=1)
            points.append(p[within])
            normals.append(n[within])
        p, n = np.concatenate(points), np.concatenate(normals)
        out, into = self.shape.holds(p + _SIDE_MM * n), self.shape.holds(p - _SIDE_MM * n)
        kept = out != into
        self.points = p[kept]
        self.normals = np.where(out[kept][:, None], -n[kept], n[kept])  #: out of the metal
