"""Numbers with what they measure. Exact as long as they can be: fractions, until a sine or a root makes them floats."""

from __future__ import annotations

import math
from collections.abc import Callable
from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import UNIT_MM

Number = Fraction | float

#: Exponents of (length, angle, force, mass); lengths in mm, angles in degrees, forces in N, masses in kg.
Dims = tuple[int, int, int, int]
NONE: Final[Dims] = (0, 0, 0, 0)
LENGTH: Final[Dims] = (1, 0, 0, 0)
ANGLE: Final[Dims] = (0, 1, 0, 0)
FORCE: Final[Dims] = (0, 0, 1, 0)
MASS: Final[Dims] = (0, 0, 0, 1)
TORQUE: Final[Dims] = (1, 0, 1, 0)
PRESSURE: Final[Dims] = (-2, 0, 1, 0)
#: Every unit: how much of the base one of it is, and of what.
UNITS: Final[dict[str, tuple[Number, Dims]]] = {
    **{name: (scale, LENGTH) for name, scale in UNIT_MM.items()},
    "m": (Fraction(1000), LENGTH),
    "deg": (Fraction(1), ANGLE),
    "rad": (180 / math.pi, ANGLE),
    "N": (Fraction(1), FORCE),
    "kN": (Fraction(1000), FORCE),
    "lbf": (Fraction("4.4482216152605"), FORCE),  # exact: 0.45359237 kg · 9.80665 m/s²
    "kg": (Fraction(1), MASS),
    "g": (Fraction(1, 1000), MASS),
    "lb": (Fraction("0.45359237"), MASS),
    "oz": (Fraction("0.028349523125"), MASS),
    "Nm": (Fraction(1000), TORQUE),
    "MPa": (Fraction(1), PRESSURE),
}
SPELLINGS: Final = {
    **{name: name for name in UNITS},
    '"': "in",
    "inch": "in",
    "inches": "in",
    "thous": "thou",
    "um": "µm",
    "°": "deg",
    "degree": "deg",
    "degrees": "deg",
    "radians": "rad",
    "N·m": "Nm",
    "lbs": "lb",
}
#: A fraction with more digits than this goes on as a float.
_MAX_BITS: Final = 2048
_MAX_POWER: Final = 12


class Amount(Struct, frozen=True):
    """A number of something. A bare one has no unit yet: beside a length it is one in the bench's unit."""

    number: Number
    dims: Dims = NONE
    bare: bool = False

    @property
    def exact(self) -> bool:
        return isinstance(self.number, Fraction)


def refuse(what: str, why: str, do: str) -> EntryError:
    """What the tape says when a line cannot be worked out."""
    return EntryError("Tape", what, why, do)


def tidied(number: Number) -> Number:
    """A number that stays a fraction while it is a short one.

    Raises:
        EntryError: Beyond what a float holds.
    """
    try:
        if isinstance(number, Fraction):
            long = max(number.numerator.bit_length(), number.denominator.bit_length()) > _MAX_BITS
            return float(number) if long else number
        if math.isfinite(number):
            return number
    except OverflowError:
        pass
    raise refuse("a number out of all proportion", "It has more digits than anything that is measured", "Check the powers")


def added(a: Amount, b: Amount, sign: int, per: Fraction) -> Amount:
    """A ± b.

    Args:
        a: First.
        b: Second.
        sign: 1 or −1.
        per: Millimetres in one of the bench's unit: what a bare number counts beside a length.

    Raises:
        EntryError: Two different things.
    """
    if a.bare and not b.bare:
        a = _as(a, b.dims, per)
    elif b.bare and not a.bare:
        b = _as(b, a.dims, per)
    if a.dims != b.dims:
        raise refuse(
            f"{named(a.dims)} and {named(b.dims)} cannot be added",
            "Only like things can",
            "Check the units, or a sign that should be × or /",
        )
    return Amount(tidied(_mixed(lambda x, y: x + sign * y, a, b)), a.dims, a.bare and b.bare)


def times(a: Amount, b: Amount) -> Amount:
    """A · b; a bare number only counts."""
    return Amount(tidied(_mixed(lambda x, y: x * y, a, b)), _sum(a.dims, b.dims, 1), _stays_bare(a, b))


def over(a: Amount, b: Amount) -> Amount:
    """a/b.

    Raises:
        EntryError: By nothing.
    """
    if b.number == 0:
        raise refuse("a division by 0", "Nothing comes of it", "Check the number under the stroke")
    return Amount(tidied(_mixed(lambda x, y: x / y, a, b)), _sum(a.dims, b.dims, -1), _stays_bare(a, b))


def raised(a: Amount, by: Amount) -> Amount:
    """A to a whole power.

    Raises:
        EntryError: Not a whole small power.
    """
    power = by.number
    if by.dims != NONE or power != int(power) or abs(float(power)) > _MAX_POWER:
        raise refuse("a power that is no small whole number", f"It is from −{_MAX_POWER} to {_MAX_POWER}", "Use sqrt for a root")
    n: int = int(power)
    if n < 0 and a.number == 0:
        raise refuse("a division by 0", "A negative power divides", "Check the number")
    value = a.number**n if isinstance(a.number, Fraction) else float(a.number) ** n
    return Amount(tidied(value), (a.dims[0] * n, a.dims[1] * n, a.dims[2] * n, a.dims[3] * n), a.bare)


def rooted(a: Amount) -> Amount:
    """Square root; exact where it comes out.

    Raises:
        EntryError: Of less than nothing, or of half a unit.
    """
    if float(a.number) < 0:
        raise refuse("a root of less than 0", "No number has that square", "Check the difference under the root")
    if any(d % 2 for d in a.dims):
        raise refuse(f"a root of {named(a.dims)}", "It would be half a unit", "Square what is under it first")
    half = (a.dims[0] // 2, a.dims[1] // 2, a.dims[2] // 2, a.dims[3] // 2)
    if isinstance(a.number, Fraction):
        up, down = math.isqrt(a.number.numerator), math.isqrt(a.number.denominator)
        if up * up == a.number.numerator and down * down == a.number.denominator:
            return Amount(Fraction(up, down), half, a.bare)
    return Amount(tidied(math.sqrt(a.number)), half, a.bare)


def named(dims: Dims) -> str:
    """What something of these dimensions is, in words."""
    known = {NONE: "a number", LENGTH: "a length", ANGLE: "an angle", FORCE: "a force", MASS: "a mass", TORQUE: "a torque"}
    return known.get(dims, unit_of(dims))


def unit_of(dims: Dims) -> str:
    """The unit of a result: "mm", "mm²", "deg", "N", "N·mm", "kg", "MPa", … and "" of a number."""
    if dims == PRESSURE:
        return "MPa"
    names = ("mm", "deg", "N", "kg")
    order = (2, 3, 0, 1)  # N·mm, kg·mm
    return "·".join(names[i] + (_power(dims[i]) if dims[i] != 1 else "") for i in order if dims[i])


def _power(n: int) -> str:
    return str(n).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))


def _as(bare: Amount, dims: Dims, per: Fraction) -> Amount:
    if dims == LENGTH:
        return Amount(_times_exact(bare.number, per), LENGTH)
    if dims in (ANGLE, NONE):
        return Amount(bare.number, dims)
    raise refuse(
        f"a bare number beside {named(dims)}", "It does not say in what unit it is", f"Give it one: {unit_of(dims) or 'mm'}"
    )


def _times_exact(number: Number, scale: Fraction) -> Number:
    return number * scale if isinstance(number, Fraction) else number * float(scale)


def _mixed(act: Callable[[Number, Number], Number], a: Amount, b: Amount) -> Number:
    try:
        if isinstance(a.number, Fraction) and isinstance(b.number, Fraction):
            return act(a.number, b.number)
        return act(float(a.number), float(b.number))
    except OverflowError:
        return math.inf


def _sum(a: Dims, b: Dims, sign: int) -> Dims:
    return a[0] + sign * b[0], a[1] + sign * b[1], a[2] + sign * b[2], a[3] + sign * b[3]


def _stays_bare(a: Amount, b: Amount) -> bool:
    """A bare length stays one when it is only counted or turned by a pure number."""
    return (a.bare and (b.bare or b.dims == NONE)) or (b.bare and a.dims == NONE)
