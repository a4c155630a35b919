"""A triangle from any three of its sides and angles."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError

_SIDES: Final = ("a", "b", "c")
_ANGLES: Final = ("A", "B", "C")
_HALF_TURN: Final = math.pi
#: A sine this near 1 is a right angle: the two triangles of an open case are one.
_SAME: Final = 1e-12


class Triangle(Struct, frozen=True):
    """Sides in mm, and the angle opposite each in radians."""

    a: float
    b: float
    c: float
    A: float
    B: float
    C: float

    @property
    def area_mm2(self) -> float:
        return 0.5 * self.a * self.b * math.sin(self.C)


def solve_triangle(sides: Mapping[str, float], angles: Mapping[str, float]) -> tuple[Triangle, ...]:
    """Every triangle with these sides and angles: one, or two where two sides and the angle beside them leave it open.

    Args:
        sides: Some of "a", "b", "c", mm.
        angles: Some of "A", "B", "C", opposite them, radians.

    Raises:
        ShopError: Not three of them, no side among them, or no such triangle.
    """
    for name, value in {**sides, **angles}.items():
        if not (math.isfinite(value) and value > 0):
            raise ShopError("Triangle", f"{name} is {value:g}", "Sides and angles are above zero", "Check it")
    if len(sides) + len(angles) != 3 or not sides:
        raise ShopError(
            "Triangle",
            f"{len(sides)} sides and {len(angles)} angles",
            "Three of the six fix a triangle, one side among them",
            "Write for example triangle a=30 C=90 b=40",
        )
    if sum(angles.values()) >= _HALF_TURN:
        raise _none("its angles are 180° or more")
    if len(sides) == 3:
        return (_by_sides(*(sides[n] for n in _SIDES)),)
    if len(sides) == 1:
        return (_by_angles(sides, angles),)
    (angle,) = angles
    beside = [n for n in sides if n != angle.lower()]
    if len(beside) == 2:
        p, q = (sides[n] for n in beside)
        square = angles[angle] == math.pi / 2
        third = math.hypot(p, q) if square else math.hypot(p - q, 2 * math.sqrt(p * q) * math.sin(angles[angle] / 2))
        return (_by_sides(*({**sides, angle.lower(): third}[n] for n in _SIDES)),)
    return _open_case(sides, angle, angles[angle], beside[0])


def _none(why: str) -> ShopError:
    return ShopError("Triangle", "there is no such triangle", f"It does not close: {why}", "Check the three numbers")


def _by_sides(a: float, b: float, c: float) -> Triangle:
    """Half-angle formulas, which keep their digits in flat triangles. Source: s = (a+b+c)/2, tan(A/2) = r/(s − a)."""
    s = (a + b + c) / 2
    rest = (s - a, s - b, s - c)
    if min(rest) <= 0:
        raise _none("one side is as long as the other two together")
    r = math.sqrt(math.prod(rest) / s)
    found = [2 * math.atan2(r, x) for x in rest]
    return Triangle(a, b, c, found[0], found[1], found[2])


def _by_angles(sides: Mapping[str, float], angles: Mapping[str, float]) -> Triangle:
    full = dict(angles)
    missing = next(n for n in _ANGLES if n not in full)
    full[missing] = _HALF_TURN - sum(full.values())
    ((name, side),) = sides.items()
    scale = side / math.sin(full[name.upper()])
    a, b, c = (scale * math.sin(full[n]) for n in _ANGLES)
    return Triangle(a, b, c, full["A"], full["B"], full["C"])


def _open_case(sides: Mapping[str, float], angle: str, value: float, other: str) -> tuple[Triangle, ...]:
    opposite, beside = sides[angle.lower()], sides[other]
    sine = beside * math.sin(value) / opposite
    if sine > 1 + _SAME:
        raise _none(f"{angle.lower()} is too short to reach")
    first = math.asin(min(1.0, sine))
    answers = [first] if abs(sine - 1) <= _SAME else [first, _HALF_TURN - first]
    third = next(n for n in _ANGLES if n not in (angle, other.upper()))
    found = []
    for at in answers:
        left = _HALF_TURN - value - at
        if left > _SAME:
            full = {angle: value, other.upper(): at, third: left}
            long = {**sides, third.lower(): opposite * math.sin(left) / math.sin(value)}
            found.append(Triangle(long["a"], long["b"], long["c"], full["A"], full["B"], full["C"]))
    if not found:
        raise _none("its angles are 180° or more")
    return tuple(found)
