"""Signed distances to what a stroke takes away. Points are (n, 3) arrays in a setup's machine frame, mm; inside is negative.

Every stroke of every cutter is a plane outline that is carried along or turned, so its distance is closed: first how far a point
lies from the path, then how far that pair (distance, height) lies from the outline.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any, Final

import numpy as np

from elbrix.making.strokes import Body, Stroke, Tool

#: Stands for "without end": longer than any shop's bar, mm.
FAR: Final = 1e5
#: A corner radius is a polygon this near to its arc, mm.
_ARC_MM: Final = 0.0005
Array = np.ndarray[Any, np.dtype[np.float64]]
Mask = np.ndarray[Any, np.dtype[np.bool_]]
Index = np.ndarray[Any, np.dtype[np.intp]]


def to_outline(points: Array, outline: Array) -> Array:
    """Signed distance of (n, 2) points to a closed outline, less than nothing inside."""
    best = np.full(len(points), np.inf)
    inside = np.zeros(len(points), dtype=bool)
    x, y = points[:, 0], points[:, 1]
    ends = np.roll(outline, -1, axis=0)
    for (ax, ay), (bx, by) in zip(outline, ends, strict=True):
        ex, ey = bx - ax, by - ay
        long = ex * ex + ey * ey
        if long < 1e-24:
            continue
        t = np.clip(((x - ax) * ex + (y - ay) * ey) / long, 0.0, 1.0)
        dx, dy = x - ax - t * ex, y - ay - t * ey
        np.minimum(best, dx * dx + dy * dy, out=best)
        if ay != by:
            crossing = ((y < ay) != (y < by)) & (x < ax + (y - ay) * ex / ey)
            inside ^= crossing
    found: Array = np.sqrt(best)
    found[inside] *= -1
    return found


def to_path(points: Array, path: Array) -> Array:
    """Distance of (n, 2) points to a line through corners; one corner is a point."""
    if len(path) == 1:
        one: Array = np.hypot(points[:, 0] - path[0, 0], points[:, 1] - path[0, 1])
        return one
    x, y = points[:, 0], points[:, 1]
    best = np.full(len(points), np.inf)
    for (ax, ay), (bx, by) in pairwise(path.tolist()):
        ex, ey = bx - ax, by - ay
        long = ex * ex + ey * ey
        if abs(ex) < 1e-12 or abs(ey) < 1e-12:  # along an axis, as most strokes are
            dx = np.maximum(np.maximum(min(ax, bx) - x, x - max(ax, bx)), 0.0)
            dy = np.maximum(np.maximum(min(ay, by) - y, y - max(ay, by)), 0.0)
        else:
            t = np.clip(((x - ax) * ex + (y - ay) * ey) / long, 0.0, 1.0)
            dx, dy = x - ax - t * ex, y - ay - t * ey
        np.minimum(best, dx * dx + dy * dy, out=best)
    found: Array = np.sqrt(best)
    return found


def silhouette(tool: Tool) -> Array:
    """A turning cutter seen from the side: (radius, height over its end), both sides of the axis, open at the top."""
    r = tool.diameter_mm / 2
    right: list[tuple[float, float]]
    if tool.kind in ("drill", "countersink", "spot_drill"):
        right = [(0.0, 0.0), (r, r / math.tan(math.radians(tool.point_deg or 118.0) / 2)), (r, FAR)]
    elif tool.kind == "ball_mill":
        right = [*_corner(r, r), (r, FAR)]
    elif tool.kind in ("t_slot", "dovetail"):
        neck = tool.shank_diameter_mm / 2
        upper = r if tool.kind == "t_slot" else r - tool.width_mm / math.tan(math.radians(tool.point_deg))
        right = [(r, 0.0), (upper, tool.width_mm), (neck, tool.width_mm), (neck, FAR)]
    elif tool.corner_mm > 0:
        right = [*((x + r - tool.corner_mm, z) for x, z in _corner(tool.corner_mm, tool.corner_mm)), (r, FAR)]
    else:
        right = [(r, 0.0), (r, FAR)]
    left = [(-x, z) for x, z in reversed(right) if x > 0 or z > 0]
    return np.array(right + left)


def _corner(r: float, up: float) -> list[tuple[float, float]]:
    steps = max(4, math.ceil(math.pi / 2 / (2 * math.acos(max(0.0, 1 - _ARC_MM / r)))) if r > _ARC_MM else 4)
    return [(r * math.sin(a), up - r * math.cos(a)) for a in (math.pi / 2 * i / steps for i in range(steps + 1))]


def to_stroke(points: Array, tool: Tool, stroke: Stroke) -> Array:
    """Signed distance to what one stroke of a cutter takes away.

    Raises:
        ValueError: A slanted stroke: those are given in small level steps.
    """
    path = np.array(stroke.path, dtype=float)
    if tool.on == "lathe" and tool.kind in ("turning", "boring", "parting"):
        return _on_the_lathe(points, tool, path)
    if tool.axis in ("x", "y"):
        return _disc(points, tool, path)
    if np.ptp(path[:, 2]) > 1e-9:
        if np.ptp(path[:, 0]) > 1e-9 or np.ptp(path[:, 1]) > 1e-9:
            raise ValueError("a stroke goes level or straight down")
        path = path[[int(np.argmin(path[:, 2]))]]
    away = to_path(points[:, :2], path[:, :2])
    if _is_plain(tool):
        # A square end, open at the top: two planes say it all.
        side, under = away - tool.diameter_mm / 2, path[0, 2] - points[:, 2]
        plain: Array = np.hypot(np.maximum(side, 0.0), np.maximum(under, 0.0))
        plain += np.minimum(np.maximum(side, under), 0.0)
        return plain
    return to_outline(np.column_stack((away, points[:, 2] - path[0, 2])), silhouette(tool))


def _is_plain(tool: Tool) -> bool:
    """Whether a turning cutter is a cylinder with a flat end."""
    pointed = ("drill", "countersink", "spot_drill", "ball_mill", "t_slot", "dovetail")
    return tool.corner_mm <= 0 and tool.kind not in pointed


def swept_box(tool: Tool, stroke: Stroke) -> tuple[Array, Array] | None:
    """Low and high corner of what a stroke takes away; None for one that turns the work."""
    if tool.on == "lathe":
        return None
    path = np.array(stroke.path)
    r = tool.diameter_mm / 2
    low, high = path.min(axis=0) - r, path.max(axis=0) + r
    low[2], high[2] = path[:, 2].min(), FAR
    if tool.axis != "z":
        high[2] = path[:, 2].max() + tool.diameter_mm
    return low, high


def _disc(points: Array, tool: Tool, path: Array) -> Array:
    """A disc on an arbor along x or y, its middle and lowest point on a level path square to the arbor."""
    a, b = (1, 0) if tool.axis == "y" else (0, 1)  # along the arbor, along the path
    r = tool.diameter_mm / 2
    centre = path[:, [b, 2]] + (0.0, r)
    # What stands over the disc is gone too where the arbor goes by; only the disc itself cuts.
    round_ = to_path(points[:, [b, 2]], centre) - r
    flat = np.abs(points[:, a] - path[0, a]) - tool.width_mm / 2
    out: Array = np.hypot(np.maximum(round_, 0.0), np.maximum(flat, 0.0))
    out += np.minimum(np.maximum(round_, flat), 0.0)
    return out


def _on_the_lathe(points: Array, tool: Tool, path: Array) -> Array:
    """Turned, bored or parted: the corner goes along (radius, height), the free end lies up."""
    around = np.column_stack((np.hypot(points[:, 0], points[:, 1]), points[:, 2]))
    corners = [(float(x), float(z)) for x, _, z in path]
    (x0, z0), (x1, z1) = corners[0], corners[-1]
    if tool.kind == "parting":
        low, high = min(x0, x1), FAR
        low = -1.0 if low <= 1e-9 else low
        outline = [(low, z1), (high, z1), (high, z1 + tool.width_mm), (low, z1 + tool.width_mm)]
    elif tool.kind == "turning":
        if abs(z0 - z1) < 1e-9:  # facing: everything beyond the face
            low = min(x0, x1)
            corners = [(-1.0 if low <= 1e-9 else low, z0)]
        outline = [(corners[0][0], FAR), *corners, (FAR, corners[-1][1]), (FAR, FAR)]
    else:
        outline = [(corners[0][0], FAR), *corners, (-FAR, corners[-1][1]), (-FAR, FAR)]
    return to_outline(around, np.array(outline))


def to_body(points: Array, body: Body) -> Array:
    """Signed distance to a box, a round or a hexagon, in the frame it is given in."""
    if body.shape == "box":
        low, high = np.array(body.min_mm), np.array(body.max_mm)
        q = np.abs(points - (low + high) / 2) - (high - low) / 2
        from_box: Array = np.linalg.norm(np.maximum(q, 0.0), axis=1) + np.minimum(q.max(axis=1), 0.0)
        return from_box
    along = "xyz".index(body.axis)
    across = [i for i in range(3) if i != along]
    if body.shape == "hex":
        corners = [body.across_flats_mm / math.sqrt(3)] * 6
        ring = np.array([(c * math.cos(math.pi * i / 3), c * math.sin(math.pi * i / 3)) for i, c in enumerate(corners)])
        side = to_outline(points[:, across], ring)
    else:
        around = np.hypot(points[:, across[0]], points[:, across[1]])
        side = around - body.diameter_mm / 2
        if body.inner_diameter_mm:
            side = np.maximum(side, body.inner_diameter_mm / 2 - around)
    ends = np.abs(points[:, along] - (body.from_mm + body.to_mm) / 2) - (body.to_mm - body.from_mm) / 2
    out: Array = np.hypot(np.maximum(side, 0.0), np.maximum(ends, 0.0))
    out += np.minimum(np.maximum(side, ends), 0.0)
    return out
