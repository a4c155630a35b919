"""A shaded picture of a mesh by z-buffer, with its edges; NumPy only, quick enough to turn by hand.

Painter's sorting draws wrong overlaps on real parts; a depth buffer does not.
"""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Shaded(Struct, frozen=True):
    """Brightness per pixel (0 where nothing is, else 0.15…1), and visible edge pieces in pixels."""

    light: Floats  #: shape (height, width)
    edges: list[Floats]  #: each (n, 2), x right and y down


def view_matrix(turn_deg: float, tilt_deg: float) -> Floats:
    """Rows: right, up, towards the viewer; turn about z, then tilt down from above."""
    a, b = math.radians(turn_deg), math.radians(tilt_deg)
    right = np.array([math.cos(a), math.sin(a), 0.0])
    viewer = np.array([math.sin(a) * math.cos(b), -math.cos(a) * math.cos(b), math.sin(b)])
    return np.array([right, np.cross(viewer, right), viewer])


def shade(triangles: Floats, edges: list[Floats], matrix: Floats, width: int, height: int, margin: float = 0.12) -> Shaded:
    """Draw a mesh.

    Args:
        triangles: (n, 3, 3) corners in mm, seen counter-clockwise from outside.
        edges: Runs of points (m, 3) in mm.
        matrix: From `view_matrix`.
        width: Pixels, > 0.
        height: Pixels, > 0.
        margin: Share of the picture left free around.

    Returns:
        Brightness and visible edges.
    """
    turned = triangles.astype(np.float64) @ matrix.T
    low, high = turned[..., :2].min(axis=(0, 1)), turned[..., :2].max(axis=(0, 1))
    scale = float(
        min(width * (1 - 2 * margin) / max(high[0] - low[0], 1e-9), height * (1 - 2 * margin) / max(high[1] - low[1], 1e-9))
    )
    middle = (low + high) / 2

    def to_pixels(points: Floats) -> Floats:
        found = np.empty_like(points)
        found[..., 0] = (points[..., 0] - middle[0]) * scale + width / 2
        found[..., 1] = height / 2 - (points[..., 1] - middle[1]) * scale
        found[..., 2] = points[..., 2] * scale
        return found

    depth = np.full((height, width), -np.inf)
    light = np.zeros((height, width))
    normals = np.cross(turned[:, 1] - turned[:, 0], turned[:, 2] - turned[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    lamp = np.array([-0.42, 0.72, 0.55])
    bright = 0.52 + 0.48 * np.clip(normals @ lamp, 0, 1)
    corners = to_pixels(turned)
    for index in np.flatnonzero(normals[:, 2] > 1e-6):
        _fill(corners[index], float(bright[index]), depth, light)
    shown: list[Floats] = []
    for run in edges:
        shown += _visible(to_pixels(run.astype(np.float64) @ matrix.T), depth)
    return Shaded(light, shown)


def _fill(corner: Floats, bright: float, depth: Floats, light: Floats) -> None:
    height, width = depth.shape
    x0, x1 = max(0, math.floor(corner[:, 0].min())), min(width - 1, math.ceil(corner[:, 0].max()))
    y0, y1 = max(0, math.floor(corner[:, 1].min())), min(height - 1, math.ceil(corner[:, 1].max()))
    if x1 < x0 or y1 < y0:
        return
    (ax, ay, az), (bx, by, bz), (cx, cy, cz) = corner.tolist()
    area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
    if abs(area) < 1e-9:
        return
    px = np.arange(x0, x1 + 1) + 0.5
    py = (np.arange(y0, y1 + 1) + 0.5)[:, None]
    u = ((bx - px) * (cy - py) - (by - py) * (cx - px)) / area
    v = ((cx - px) * (ay - py) - (cy - py) * (ax - px)) / area
    w = 1.0 - u - v
    z = u * az + v * bz + w * cz
    patch = depth[y0 : y1 + 1, x0 : x1 + 1]
    inside = (u >= -1e-9) & (v >= -1e-9) & (w >= -1e-9) & (z > patch)
    patch[inside] = z[inside]
    light[y0 : y1 + 1, x0 : x1 + 1][inside] = bright


def _visible(run: Floats, depth: Floats) -> list[Floats]:
    """Pieces of an edge that nothing stands in front of."""
    length = np.hypot(*np.diff(run[:, :2], axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(length)])
    if along[-1] < 0.5:
        return []
    at = np.linspace(0, along[-1], max(2, int(along[-1] / 2) + 1))
    points = np.stack([np.interp(at, along, run[:, i]) for i in range(3)], axis=1)
    height, width = depth.shape
    x, y = np.clip(points[:, 0].astype(int), 1, width - 2), np.clip(points[:, 1].astype(int), 1, height - 2)
    # The edge lies on its own surface: it is hidden only when the whole neighbourhood is clearly nearer.
    near = np.min([depth[y + dy, x + dx] for dy in (-1, 0, 1) for dx in (-1, 0, 1)], axis=0)
    seen = points[:, 2] > near - 1.5
    pieces, start = [], None
    for i, visible in enumerate([*seen.tolist(), False]):
        if visible and start is None:
            start = i
        elif not visible and start is not None:
            if i - start > 1:
                pieces.append(points[start:i, :2])
            start = None
    return pieces
