"""How a solid is made, as plain hashable values that cross to the kernel process. mm; x right, y away, z up."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError

Point2 = tuple[float, float]
Point3 = tuple[float, float, float]


class Prism(Struct, frozen=True):
    """A closed outline pushed along a straight line.

    `plane` "xz": outline points are (x, z), pushed along y from `start` to `end`; "xy": (x, y) along z; "yz": (y, z) along x.
    """

    outline: tuple[Point2, ...]
    start: float
    end: float
    plane: str = "xz"
    arcs: tuple[tuple[int, Point2], ...] = ()  #: (number of an edge's first corner, a point that edge runs through): a true arc

    def __post_init__(self) -> None:
        if len(self.outline) < 3 or not self.end > self.start or self.plane not in ("xz", "xy", "yz"):
            raise ShopError("Solid", "a prism of nothing", "An outline needs three corners and a length", "Check the sizes")
        if not all(0 <= i < len(self.outline) for i, _ in self.arcs):
            raise ShopError("Solid", "an arc beside its outline", "An arc belongs to an edge", "Check the sizes")
        if not all(math.isfinite(v) for p in (*self.outline, *(m for _, m in self.arcs)) for v in p):
            raise ShopError("Solid", "an outline with a corner nowhere", "A size is no number", "Check the sizes")


class Turned(Struct, frozen=True):
    """A closed (radius, height) profile turned about an axis: a drill, a pocket, a roll.

    Heights run along `axis` from `at`. The first and last point lie on the axis (radius 0).
    """

    profile: tuple[Point2, ...]
    at: Point3
    axis: Point3 = (0.0, 0.0, 1.0)

    def __post_init__(self) -> None:
        if len(self.profile) < 3 or not all(math.isfinite(v) and p[0] >= 0 for p in self.profile for v in p):
            raise ShopError(
                "Solid", "a turned shape of nothing", "A profile needs three points at radius 0 or more", "Check the sizes"
            )


class Cut(Struct, frozen=True):
    """A body with tools taken away."""

    body: Recipe
    tools: tuple[Recipe, ...]


class Join(Struct, frozen=True):
    """Bodies made one."""

    bodies: tuple[Recipe, ...]


Recipe = Prism | Turned | Cut | Join


def drilled(
    at: Point3,
    steps: tuple[tuple[float, float], ...],
    *,
    through_to: float | None = None,
    point_deg: float = 118.0,
    out: Point3 = (0.0, 0.0, 1.0),
    mouth: float = 0.0,
) -> Turned:
    """A stepped hole going in from `at` (its mouth), down unless `out` points elsewhere.

    Args:
        at: Middle of the mouth.
        steps: (diameter, depth from the mouth) from the widest to the deepest, mm.
        through_to: Depth it breaks out at; the last step then gets no point and runs 1 mm past it.
        point_deg: Included angle of the drill point of a blind hole; 180: a flat floor.
        out: Direction out of the mouth.
        mouth: Ø of a 90° countersunk mouth; 0: none.

    Returns:
        A tool to cut with; it starts 1 mm above the mouth so that the mouth is cut clean.
    """
    widest = steps[0][0] / 2
    profile: list[Point2] = [(0.0, 1.0), (max(widest, mouth / 2), 1.0)]
    if mouth / 2 > widest:
        profile += [(mouth / 2, 0.0), (widest, widest - mouth / 2)]
    for (d, depth), following in zip(steps, [*steps[1:], None], strict=True):
        end = depth if through_to is None or following else through_to + 1.0
        profile.append((d / 2, -end))
        if following:
            profile.append((following[0] / 2, -end))
        elif through_to is None:
            profile.append((0.0, -end - (0.0 if point_deg >= 180 else d / 2 / math.tan(math.radians(point_deg / 2)))))
        else:
            profile.append((0.0, -end))
    return Turned(tuple(profile), at, out)


def bounds(recipe: Recipe) -> tuple[Point3, Point3]:
    """Both corners of the box a recipe's body fills, its cuts not counted; mm."""
    if isinstance(recipe, Cut):
        return bounds(recipe.body)
    if isinstance(recipe, Join):
        boxes = [bounds(b) for b in recipe.bodies]
        low, high = (tuple(f(b[n][i] for b in boxes) for i in range(3)) for n, f in ((0, min), (1, max)))
        return low, high  # type: ignore[return-value]
    if isinstance(recipe, Prism):
        order = {"xz": (0, 2, 1), "xy": (0, 1, 2), "yz": (1, 2, 0)}[recipe.plane]
        rows = [[p[0] for p in recipe.outline], [p[1] for p in recipe.outline], [recipe.start, recipe.end]]
        by_axis = sorted(zip(order, rows, strict=True))
        return tuple(min(r) for _, r in by_axis), tuple(max(r) for _, r in by_axis)  # type: ignore[return-value]
    long = math.hypot(*recipe.axis)
    axis = [v / long for v in recipe.axis]
    radius = max(r for r, _ in recipe.profile)
    heights = [h for _, h in recipe.profile]
    ends = [[a + h * v for a, v in zip(recipe.at, axis, strict=True)] for h in (min(heights), max(heights))]
    out = [radius * math.sqrt(max(0.0, 1 - v * v)) for v in axis]
    low = tuple(min(e[i] for e in ends) - out[i] for i in range(3))
    high = tuple(max(e[i] for e in ends) + out[i] for i in range(3))
    return low, high  # type: ignore[return-value]
