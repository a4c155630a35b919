"""Dividing on a worm: turns of the handle, holes of an index circle or marks of its dial, and what the nearest ones leave."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError

_MAX: Final = 10_000


class Dividing(Struct, frozen=True):
    """Equal divisions by one circle of holes, or by a dial's marks.

    Attributes:
        count: How many divisions.
        turns_each: Turns of the worm for each, exact.
        circle: Holes of the circle, or marks of the dial.
        on_dial: Whether they are marks.
        error_deg: The most any division is off when each is set from the table, not from the one before.
        places: (whole turns, holes on) of every division from the first, which is (0, 0).
    """

    count: int
    turns_each: Fraction
    circle: int
    on_dial: bool
    error_deg: float
    places: tuple[tuple[int, int], ...]

    @property
    def exact(self) -> bool:
        return self.error_deg == 0.0

    @property
    def words(self) -> str:
        """How far to go for the first division."""
        return self.words_of(1)

    def words_of(self, division: int) -> str:
        """How far to go from the first, which is 0, to this one."""
        return worm_words(*self.places[division], self.circle, on_dial=self.on_dial)


class WormTurn(Struct, frozen=True):
    """An angle as whole turns of the worm and a rest in holes or marks.

    Attributes:
        turns: Whole turns of the worm.
        rest: Holes or marks beyond them.
        circle: Holes of the circle, or marks of the dial.
        on_dial: Whether they are marks.
        error_deg: What is set less what was wanted.
    """

    turns: int
    rest: int
    circle: int
    on_dial: bool
    error_deg: float

    @property
    def words(self) -> str:
        return worm_words(self.turns, self.rest, self.circle, on_dial=self.on_dial)


def worm_words(turns: int, rest: int, circle: int, *, on_dial: bool) -> str:
    """ "12 turns + 18 holes on the 21 circle", "3 turns + 132 marks of 240"."""
    parts = [f"{turns} turn{'s' if turns != 1 else ''}"] if turns else []
    if rest or not parts:
        one = "" if rest != 1 else "mark" if on_dial else "hole"
        parts.append(f"{rest} {one or 'marks'} of {circle}" if on_dial else f"{rest} {one or 'holes'} on the {circle} circle")
    return " + ".join(parts)


def turn_worm(angle_deg: Fraction, worm_turns: int, circles: Sequence[int], dial_marks: int = 0) -> WormTurn:
    """The best circle, or the dial, for one angle: one that comes out exactly, the smallest of them; else the nearest.

    Args:
        angle_deg: To turn the table, not negative.
        worm_turns: Turns of the worm for one of the table.
        circles: Holes of each circle that is owned.
        dial_marks: Marks of the worm's own dial; 0: none.

    Raises:
        ShopError: A negative angle, no worm, nothing to count by.
    """
    if angle_deg < 0:
        raise ShopError(
            "Dividing", "a negative angle", "The worm is always turned the same way, against its backlash", "Leave − away"
        )
    turns = angle_deg * worm_turns / 360

    def one(way: tuple[int, bool]) -> WormTurn:
        circle, on_dial = way
        near = round(turns * circle)
        return WormTurn(*divmod(near, circle), circle, on_dial, float((near - turns * circle) * 360 / (worm_turns * circle)))

    return min((one(w) for w in _ways(worm_turns, circles, dial_marks)), key=lambda t: (abs(t.error_deg), t.on_dial, t.circle))


def divide(count: int, worm_turns: int, circles: Sequence[int], dial_marks: int = 0) -> Dividing:
    """The best circle for so many divisions: one that comes out exactly, the smallest of them; else the nearest.

    Args:
        count: Divisions of the circle.
        worm_turns: Turns of the worm for one of the table.
        circles: Holes of each circle that is owned.
        dial_marks: Marks of the worm's own dial; 0: none.

    Raises:
        ShopError: No division, no worm, nothing to count by.
    """
    if not 2 <= count <= _MAX:
        raise ShopError("Dividing", f"{count} divisions", f"It is a whole number from 2 to {_MAX}", "Check the number")
    found = [_with(count, worm_turns, circle, on_dial=on_dial) for circle, on_dial in _ways(worm_turns, circles, dial_marks)]
    return min(found, key=lambda d: (d.error_deg, d.on_dial, d.circle))


def _ways(worm_turns: int, circles: Sequence[int], dial_marks: int) -> list[tuple[int, bool]]:
    """What parts of a turn can be counted by: (holes or marks, whether it is the dial)."""
    if worm_turns < 1:
        raise ShopError("Dividing", "the worm's ratio is not known", "Every division is a share of its turns", "Give it in Shop")
    ways = [(c, False) for c in circles if c > 0] + ([(dial_marks, True)] if dial_marks > 0 else [])
    if not ways:
        raise ShopError(
            "Dividing",
            "neither index plates nor a dial are listed",
            "Parts of a turn are counted in holes or marks",
            "Add them in Shop",
        )
    return ways


def _with(count: int, worm_turns: int, circle: int, *, on_dial: bool) -> Dividing:
    each = Fraction(worm_turns, count)
    per_hole = 360.0 / (worm_turns * circle)
    places, worst = [], Fraction(0)
    for k in range(count):
        holes = k * each * circle
        near = round(holes)
        worst = max(worst, abs(near - holes))
        places.append(divmod(near, circle))
    return Dividing(count, each, circle, on_dial, float(worst) * per_hole, tuple(places))
