"""Forces on the work as arrows: what clamps press with, what each contact gives at the limit, and the cut itself."""

from __future__ import annotations

import math
from typing import Final, Literal

from elbrix.drawing.scene import Arc, Element, Line, Note, Point, Style
from elbrix.geometry.shapes import bounds
from elbrix.holding.contacts import HeldPart, Vec
from elbrix.holding.layout import Piece
from elbrix.holding.margin import Margin

#: The largest force is drawn so long, as a share of the work's size; one below this share of it is left out.
_LONGEST: Final = 0.3
_MIN: Final = 0.04
_HEAD: Final = 0.22  # of an arrow's length
_HEAD_MAX_MM: Final = 6.0
_NUMBERED: Final = 5  # so many of the largest have their numbers
View = Literal["above", "front"]


def force_arrows(piece: Piece, held: HeldPart, margin: Margin, view: View) -> list[Element]:
    """Arrows in one view, the largest with their size; a force along the line of sight is a ring with a dot or a cross.

    Contacts are shown as the limit has them, clamps with their least preload, the cut as many times as they balance.
    """
    if margin.limit is None or not margin.limit.forces or not math.isfinite(margin.least):
        return []
    forces: list[tuple[Vec, Vec, float]] = [(p.at, p.along, p.force_n) for p in held.forces if p.force_n > 0]
    forces += [(c.at, c.inward, n) for c, n in zip(held.contacts, margin.limit.forces, strict=False) if n > 0]
    if margin.load is not None and margin.limit.factor is not None:
        size = math.hypot(*margin.load.force_n)
        if size > 0:
            x, y, z = margin.load.force_n
            forces.append((margin.load.at, (x / size, y / size, z / size), size * margin.limit.factor))
    most = max((f for *_, f in forces), default=0.0)
    shown = sorted((f for f in forces if f[2] >= _MIN * most), key=lambda f: -f[2])
    left, low, right, high = bounds(piece.outline)
    scale = _LONGEST * max(right - left, high - low) / most if most > 0 else 0.0
    found: list[Element] = []
    for n, (at, along, force) in enumerate(shown):
        found += _arrow(_flat(at, view), _flat(along, view), _toward(along, view), force * scale)
        if n < _NUMBERED and view == "above":  # the view from the front is too small for numbers
            (x, y), (dx, dy) = _flat(at, view), _flat(along, view)
            words = f"{force / 1000:.1f} kN" if force >= 950 else f"{force:.0f} N"
            found.append(Note((x - dx * force * scale - 4, y - dy * force * scale + 5), words, feature="forces"))
    return found


def _flat(v: Vec, view: View) -> Point:
    return (v[0], v[1]) if view == "above" else (v[0], v[2])


def _toward(v: Vec, view: View) -> float:
    """How much of a direction comes out of the picture."""
    return v[2] if view == "above" else -v[1]


def _arrow(at: Point, along: Point, toward: float, length: float) -> list[Element]:
    """An arrow whose head is where the force acts; along the line of sight a ring, with a dot when it comes toward one."""
    share = math.hypot(*along)
    (x, y), (dx, dy) = at, along
    if share < 0.35:
        r = max(1.5, min(5.0, 0.2 * length))
        ring: list[Element] = [Arc(at, r, style=Style.VISIBLE, feature="forces")]
        if toward > 0:
            return [*ring, Arc(at, 0.3 * r, style=Style.VISIBLE, feature="forces")]
        k = r * math.sqrt(0.5)
        cross = [((x - k, y - k), (x + k, y + k)), ((x - k, y + k), (x + k, y - k))]
        return [*ring, *(Line(a, b, Style.VISIBLE, "forces") for a, b in cross)]
    ux, uy = dx / share, dy / share
    start = (x - dx * length, y - dy * length)
    head = min(_HEAD * length * share, _HEAD_MAX_MM)
    barbs = [(x - head * ux - side * 0.45 * head * uy, y - head * uy + side * 0.45 * head * ux) for side in (1, -1)]
    return [Line(start, at, Style.VISIBLE, "forces"), *(Line(barb, at, Style.VISIBLE, "forces") for barb in barbs)]
