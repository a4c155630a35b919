"""Where dimension lines and their numbers stand so that none covers another.

Sizes on one side of the thing go into rows: the shortest nearest, and two share a row only if their spans and numbers leave room.
A number that does not fit between its arrows stands outside them.
"""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from elbrix.drawing.scene import Dimension, Point, Scene, Side

Box = tuple[float, float, float, float]  #: left, bottom, right, top


class PlacedDimension(Struct, frozen=True):
    """A dimension with its line and number placed, everything in the units of the device (y up)."""

    dimension: Dimension
    a: Point  #: ends of the dimension line
    b: Point
    from_a: Point  #: where the extension lines begin, on the thing
    from_b: Point
    text: str
    text_box: Box
    outside: bool  #: arrows point inwards from outside


class TextSizes(Struct, frozen=True):
    """Measures in device units."""

    width: Callable[[str], float]
    height: float
    row: float  #: from one row of dimensions to the next
    first: float  #: from the thing to the first row
    arrow: float


def place(
    scene: Scene, to_device: Callable[[Point], Point], label: Callable[[Dimension], str], sizes: TextSizes
) -> list[PlacedDimension]:
    """Place every dimension of a scene.

    Args:
        scene: The view.
        to_device: From the scene's mm to device units, y up.
        label: The text of a dimension, in the units on show.
        sizes: Letter and row sizes.

    Returns:
        In the order of the scene's dimensions. No two numbers overlap; no number lies on another dimension's row span.
    """
    whole = scene.bounds()
    placed: dict[int, PlacedDimension] = {}
    for i, d in enumerate(scene.dimensions):
        if d.side is Side.AT:
            placed[i] = _standing(d, to_device(d.b), label(d), sizes)
    for side, near in dict.fromkeys((d.side, d.near) for d in scene.dimensions if d.side is not Side.AT):
        left, bottom, right, top = near or whole
        low, high = to_device((left, bottom)), to_device((right, top))
        mine = [(i, d) for i, d in enumerate(scene.dimensions) if (d.side, d.near) == (side, near)]
        mine.sort(
            key=lambda pair: (
                pair[1].value if pair[1].value_mm is None else abs(_along(pair[1], pair[1].b) - _along(pair[1], pair[1].a)),
                pair[0],
            )
        )
        rows: list[list[tuple[float, float]]] = []
        for i, d in mine:
            pa, pb = to_device(d.a), to_device(d.b)
            text = label(d)
            width = sizes.width(text) + sizes.height * 0.8
            start, end = sorted((_along(d, pa), _along(d, pb)))
            request = width if d.along_x else sizes.height * 1.5
            outside = end - start < request + 2 * sizes.arrow
            # A number outside its arrows sits past the far end, so its row keeps that room free as well.
            span = (start - 2 * sizes.arrow, end + 2 * sizes.arrow + request) if outside else (start, end)
            if not d.along_x:
                middle = (start + end) / 2
                span = (min(span[0], middle - request / 2), max(span[1], middle + request / 2))
            row = next(
                (
                    r
                    for r, taken in enumerate(rows)
                    if all(span[1] + sizes.height * 0.4 < s or span[0] - sizes.height * 0.4 > e for s, e in taken)
                ),
                len(rows),
            )
            if row == len(rows):
                rows.append([])
            rows[row].append(span)
            placed[i] = _one(d, pa, pb, text, low, high, row, sizes, outside, width)
    return _settled(_widen_columns([placed[i] for i in range(len(scene.dimensions))], sizes), sizes)


def _along(d: Dimension, p: Point) -> float:
    return p[0] if d.along_x else p[1]


def _one(
    d: Dimension,
    pa: Point,
    pb: Point,
    text: str,
    low: Point,
    high: Point,
    row: int,
    sizes: TextSizes,
    outside: bool,
    width: float,
) -> PlacedDimension:
    off = sizes.first + row * sizes.row
    if d.along_x:
        y = high[1] + off if d.side is Side.ABOVE else low[1] - off
        a, b = (pa[0], y), (pb[0], y)
        end = max(pa[0], pb[0])
        centre = (end + 2 * sizes.arrow + width / 2, y) if outside else ((pa[0] + pb[0]) / 2, y)
    else:
        x = low[0] - off if d.side is Side.LEFT else high[0] + off
        a, b = (x, pa[1]), (x, pb[1])
        end = max(pa[1], pb[1])
        centre = (x, end + 2 * sizes.arrow + sizes.height * 0.75) if outside else (x, (pa[1] + pb[1]) / 2)
    half_w, half_h = width / 2, sizes.height * 0.65
    return PlacedDimension(
        d, a, b, pa, pb, text, (centre[0] - half_w, centre[1] - half_h, centre[0] + half_w, centre[1] + half_h), outside
    )


def _standing(d: Dimension, at: Point, text: str, sizes: TextSizes) -> PlacedDimension:
    half_w, half_h = (sizes.width(text) + sizes.height * 0.8) / 2, sizes.height * 0.65
    return PlacedDimension(d, at, at, at, at, text, (at[0] - half_w, at[1] - half_h, at[0] + half_w, at[1] + half_h), False)


def _widen_columns(placed: list[PlacedDimension], sizes: TextSizes) -> list[PlacedDimension]:
    """Upright columns stand as far apart as their widest numbers need."""
    found = list(placed)
    for side, near in dict.fromkeys(
        (p.dimension.side, p.dimension.near) for p in placed if p.dimension.side in (Side.LEFT, Side.RIGHT)
    ):
        sign = -1.0 if side is Side.LEFT else 1.0
        mine = [i for i, p in enumerate(found) if (p.dimension.side, p.dimension.near) == (side, near)]
        columns = sorted({round(found[i].a[0], 3) for i in mine}, key=lambda x: sign * x)
        at: float | None = None
        for column in columns:
            members = [i for i in mine if round(found[i].a[0], 3) == column]
            half = max((found[i].text_box[2] - found[i].text_box[0]) / 2 for i in members)
            x = column if at is None else at + sign * (half + sizes.height * 0.4)
            if at is None:
                # The first column's numbers must also clear the thing itself.
                edge = column - sign * sizes.first
                x = edge + sign * max(sizes.first, half + sizes.height * 0.3)
            for i in members:
                found[i] = _moved(found[i], x - column)
            at = x + sign * half
    return found


def _settled(placed: list[PlacedDimension], sizes: TextSizes) -> list[PlacedDimension]:
    """Numbers of two sides, or of two views, that still meet: one moves a row further out until none do."""
    boxes = [p.text_box for p in placed]
    moved: dict[int, tuple[float, float]] = {}
    meets = [_met_after(boxes, k) for k in range(len(boxes))]  # of each number, the later ones that it meets
    way = {
        Side.ABOVE: (0.0, sizes.row),
        Side.BELOW: (0.0, -sizes.row),
        Side.LEFT: (-sizes.row, 0.0),
        Side.RIGHT: (sizes.row, 0.0),
        Side.AT: (0.0, -sizes.row),
    }
    # Every step moves one outwards, so it ends; a pile of n on one spot takes n²/2 of them.
    for _ in range(24 + 2 * len(placed) ** 2):
        first = next((k for k, later in enumerate(meets) if later), None)
        if first is None:
            break
        i, j = first, min(meets[first])
        move = i if placed[i].dimension.along_x and not placed[j].dimension.along_x else j
        if placed[move].dimension.side is Side.AT:
            move = i + j - move  # a standing number stays
        if placed[i].dimension.side is placed[j].dimension.side is Side.AT:
            # Of two the lower goes down, so that they stand in the order of what they speak of.
            move = i if placed[i].b[1] < placed[j].b[1] - 1e-9 else j
        dx, dy = way[placed[move].dimension.side]
        left, bottom, right, top = boxes[move]
        left, bottom, right, top = boxes[move] = (left + dx, bottom + dy, right + dx, top + dy)
        before = moved.get(move, (0.0, 0.0))
        moved[move] = (before[0] + dx, before[1] + dy)
        meets[move] = _met_after(boxes, move)
        for k in range(move):
            b = boxes[k]
            if left < b[2] and b[0] < right and bottom < b[3] and b[1] < top:
                meets[k].add(move)
            else:
                meets[k].discard(move)
    return [_moved(p, *moved[k]) if k in moved else p for k, p in enumerate(placed)]


def _met_after(boxes: list[Box], at: int) -> set[int]:
    """The later boxes that one meets."""
    left, bottom, right, top = boxes[at]
    return {k for k, b in enumerate(boxes[at + 1 :], at + 1) if left < b[2] and b[0] < right and bottom < b[3] and b[1] < top}


def _moved(p: PlacedDimension, dx: float, dy: float = 0.0) -> PlacedDimension:
    left, bottom, right, top = p.text_box
    box = (left + dx, bottom + dy, right + dx, top + dy)
    return PlacedDimension(
        p.dimension, (p.a[0] + dx, p.a[1] + dy), (p.b[0] + dx, p.b[1] + dy), p.from_a, p.from_b, p.text, box, p.outside
    )


def overlaps(placed: list[PlacedDimension]) -> list[tuple[str, str]]:
    """Pairs of dimensions whose numbers cover one another; empty is good."""
    boxes = [p.text_box for p in placed]
    return [(placed[i].dimension.key, placed[j].dimension.key) for i in range(len(boxes)) for j in sorted(_met_after(boxes, i))]
