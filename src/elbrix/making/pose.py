"""How the work lies on a machine, as values; the words are made from them.

**Bar frame**: x along the bar from its finished low end, y from the middle of its width, z from its finished top. Its faces are
named once: A the top, C the underside, B and D the sides at +y and −y, E the low end, F the high end.
**Machine frame**: a mill's X to the right, Y away from the operator, Z up; a lathe's X the radius, Z along the spindle with the
free end up. mm, degrees.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.making.strokes import Body, Point3

FACES: Final[dict[str, Point3]] = {
    "A": (0.0, 0.0, 1.0),
    "B": (0.0, 1.0, 0.0),
    "C": (0.0, 0.0, -1.0),
    "D": (0.0, -1.0, 0.0),
    "E": (-1.0, 0.0, 0.0),
    "F": (1.0, 0.0, 0.0),
}
Matrix = tuple[Point3, Point3, Point3]


def opposite(face: str) -> str:
    """The face on the other side."""
    return {"A": "C", "C": "A", "B": "D", "D": "B", "E": "F", "F": "E"}[face]


def cross(a: Point3, b: Point3) -> Point3:
    """Vector product."""
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def applied(m: Matrix, p: Point3) -> Point3:
    """A matrix times a point."""
    return (
        m[0][0] * p[0] + m[0][1] * p[1] + m[0][2] * p[2],
        m[1][0] * p[0] + m[1][1] * p[1] + m[1][2] * p[2],
        m[2][0] * p[0] + m[2][1] * p[1] + m[2][2] * p[2],
    )


def multiplied(a: Matrix, b: Matrix) -> Matrix:
    """One matrix after another: a·b."""
    columns = [applied(a, (b[0][j], b[1][j], b[2][j])) for j in range(3)]
    return tuple(tuple(columns[j][i] for j in range(3)) for i in range(3))  # type: ignore[return-value]


def turned_back(m: Matrix) -> Matrix:
    """The inverse of a rotation."""
    return tuple(tuple(m[j][i] for j in range(3)) for i in range(3))  # type: ignore[return-value]


class Frame(Struct, frozen=True):
    """Where the bar frame stands in the part's own frame: part = turn · bar + at."""

    turn: Matrix
    at: Point3

    def part(self, bar: Point3) -> Point3:
        p = applied(self.turn, bar)
        return (p[0] + self.at[0], p[1] + self.at[1], p[2] + self.at[2])

    def body(self, low: Point3, high: Point3) -> Body:
        """A box of the bar frame in the part's frame."""
        a, b = self.part(low), self.part(high)
        return Body(
            min_mm=tuple(min(x, y) for x, y in zip(a, b, strict=True)),  # type: ignore[arg-type]
            max_mm=tuple(max(x, y) for x, y in zip(a, b, strict=True)),  # type: ignore[arg-type]
        )

    @property
    def along(self) -> int:
        """Which axis of the part lies along the bar: 0, 1 or 2."""
        column = [abs(row[0]) for row in self.turn]
        return column.index(max(column))


_DIRECTIONS: Final = {
    f"{sign}{axis}": tuple((1.0 if sign == "+" else -1.0) if a == axis else 0.0 for a in "xyz") for sign in "+-" for axis in "xyz"
}


def frame_of(along: str, up: str, low: Point3, high: Point3) -> Frame:
    """The bar frame of a part that fills a box.

    Args:
        along: Direction of the bar's x in the part's frame: "+x", "-y" …; `up` that of its z.
        low: Corner of the finished part's box, `high` the other; mm.
    """
    x: Point3 = _DIRECTIONS[along]  # type: ignore[assignment]
    z: Point3 = _DIRECTIONS[up]  # type: ignore[assignment]
    y = cross(z, x)
    middle = tuple((a + b) / 2 for a, b in zip(low, high, strict=True))
    half = tuple((b - a) / 2 for a, b in zip(low, high, strict=True))
    at = tuple(m - h * abs(v) * v + h * abs(w) * w for m, h, v, w in zip(middle, half, x, z, strict=True))
    turn = tuple((x[i], y[i], z[i]) for i in range(3))
    return Frame(turn, at)  # type: ignore[arg-type]


class Lie(Struct, frozen=True, kw_only=True):
    """How the work lies in one setup: which face is up and which is away, where the machine's zero stands, and a tilt."""

    up: str
    away: str
    zero: Point3  #: of the machine, in the bar frame
    tilt_deg: float = 0.0  #: about the machine's X; +: the far side is high

    @property
    def turn(self) -> Matrix:
        """Machine = turn · (bar − zero)."""
        up, away = FACES[self.up], FACES[self.away]
        flat: Matrix = (cross(away, up), away, up)
        if not self.tilt_deg:
            return flat
        c, s = math.cos(math.radians(self.tilt_deg)), math.sin(math.radians(self.tilt_deg))
        return multiplied(((1.0, 0.0, 0.0), (0.0, c, -s), (0.0, s, c)), flat)

    @property
    def right(self) -> str:
        """The face to the right."""
        way = cross(FACES[self.away], FACES[self.up])
        return next(f for f, d in FACES.items() if d == tuple(v + 0.0 for v in way))

    def machine(self, bar: Point3) -> Point3:
        """A point of the bar in machine coordinates."""
        return applied(self.turn, (bar[0] - self.zero[0], bar[1] - self.zero[1], bar[2] - self.zero[2]))

    def pose(self, frame: Frame) -> Pose:
        """In the part's frame."""
        turn = multiplied(self.turn, turned_back(frame.turn))
        at = applied(turn, frame.at)
        zero = applied(self.turn, self.zero)
        return Pose(turn, (-zero[0] - at[0], -zero[1] - at[1], -zero[2] - at[2]))


class Pose(Struct, frozen=True):
    """Machine = rotation · part + offset, mm."""

    rotation: Matrix
    offset: Point3


def turned_words(lie: Lie, before: Lie | None) -> str:
    """How the work got from one lie to the next: "turned over about its long axis"."""
    if before is None or (before.up, before.away) == (lie.up, lie.away):
        return ""
    if before.right == lie.right:
        if lie.up == opposite(before.up):
            return "turned over about its long axis"
        return "turned a quarter about its long axis"
    if before.up == lie.up and before.right == opposite(lie.right):
        return "turned end for end, the same face up"
    if before.away == lie.away and lie.up == opposite(before.up):
        return "turned over end for end"
    return "turned"
