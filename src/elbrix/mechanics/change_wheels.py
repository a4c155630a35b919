"""Change wheels for a lathe's lead screw: which of the wheels one owns cut a pitch, exactly or as near as they come."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache
from itertools import combinations, permutations
from math import prod
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError

#: Teeth by which two wheels of a compound train must clear the wheel and stud beside them; guidance, the machine decides.
CLEAR: Final = 15
#: Fractions of a pitch with larger denominators are rounding of a typed decimal, and taken as the simpler one.
_FINEST: Final = 100_000
#: Steeper gearing up than this strains wheels and quadrant.
STEEPEST: Final = 3


class Train(Struct, frozen=True):
    """Wheels from the spindle to the screw: a drives b; compound, b and c turn together and c drives d.

    Attributes:
        drivers: On the spindle or its stud, then the compound stud.
        driven: Teeth driven by each of them; the last sits on the screw.
        pitch_mm: What it cuts, exact.
        wanted_mm: What was asked, exact.
    """

    drivers: tuple[int, ...]
    driven: tuple[int, ...]
    pitch_mm: Fraction
    wanted_mm: Fraction

    @property
    def exact(self) -> bool:
        return self.pitch_mm == self.wanted_mm

    @property
    def error_mm_m(self) -> float:
        """By how much the thread grows too long over a metre, mm."""
        return float((self.pitch_mm / self.wanted_mm - 1) * 1000)

    @property
    def words(self) -> str:
        """As it is put up: driver to driven."""
        return " · ".join(f"{a} to {b}" for a, b in zip(self.drivers, self.driven, strict=True))


def exact_pitch(mm: float) -> Fraction:
    """A pitch or a lead without what binary decimals add: 25.4/6 is 127/30."""
    return Fraction(mm).limit_denominator(_FINEST)


#: (drivers, driven)
_Wheels = tuple[tuple[int, ...], tuple[int, ...]]


def _meshes(a: int, b: int, c: int, d: int) -> bool:
    """Whether the compound pair passes the stud of the first driver, and the screw."""
    return a + b >= c + CLEAR and c + d >= b + CLEAR


def _put_up(drivers: tuple[int, int], driven: tuple[int, int]) -> _Wheels | None:
    """The order in which two drivers and two driven wheels pass each other, if there is one."""
    for a, c in (drivers, drivers[::-1]):
        for b, d in (driven, driven[::-1]):
            if _meshes(a, b, c, d):
                return (a, c), (b, d)
    return None


def _nearest(wheels: Sequence[int], ratio: Fraction) -> _Wheels:
    """Pairs of drivers against pairs of driven wheels sorted by their product: outward from where the ratio is met."""
    up, down = ratio.numerator, ratio.denominator

    def off(drivers: int, driven: int) -> float:
        return abs(drivers * down - up * driven) / driven  # whole numbers above the line: exact is nought

    def rank(train: _Wheels) -> tuple[float, int, int]:
        return off(prod(train[0]), prod(train[1])), len(train[0]), -min(*train[0], *train[1])

    best: _Wheels = min((((a,), (b,)) for a, b in permutations(wheels, 2)), key=rank)
    pairs = sorted(combinations(wheels, 2), key=prod)
    products = [prod(p) for p in pairs]
    for drivers in pairs:
        at = bisect_left(products, prod(drivers) * down / up)
        for way in (range(at, len(pairs)), range(at - 1, -1, -1)):
            for i in way:
                if off(prod(drivers), products[i]) > rank(best)[0]:
                    break
                if not set(drivers) & set(pairs[i]) and (found := _put_up(drivers, pairs[i])) is not None:
                    best = min(best, found, key=rank)
    return best


@lru_cache(maxsize=256)
def change_wheels(pitch_mm: float, screw_mm: float, wheels: tuple[int, ...]) -> Train:
    """The train of wheels that cuts a pitch: nearest first, then the fewest wheels, then the largest smallest wheel.

    One turn of the first wheel's shaft is taken for one turn of the spindle.

    Args:
        pitch_mm: Lead of the thread.
        screw_mm: Pitch of the lead screw.
        wheels: Teeth of the wheels that are owned, each once.

    Raises:
        ShopError: No lead screw or fewer than two wheels, or the pitch is geared up too steeply.
    """
    if pitch_mm <= 0 or screw_mm <= 0 or len(set(wheels)) < 2:
        raise ShopError(
            "Change wheels",
            "the lead screw or the wheels are not listed",
            "A train is made of two wheels at least, and its pitch counts from the screw's",
            "Enter both at the lathe, in Shop",
        )
    screw, wanted = exact_pitch(screw_mm), exact_pitch(pitch_mm)
    if wanted > STEEPEST * screw:
        raise ShopError(
            "Change wheels",
            f"a lead of {float(wanted):g} from a screw of {float(screw):g}",
            f"More than {STEEPEST} turns of the screw for one of the spindle strain the wheels",
            "Cut it on a lathe with a coarser screw",
        )
    drivers, driven = _nearest(sorted(set(wheels)), wanted / screw)
    return Train(drivers, driven, screw * Fraction(prod(drivers), prod(driven)), wanted)
