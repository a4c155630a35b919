"""Lengths: as entered, as an exact value in millimetres, and as shown on a dial."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import read_length

MM_PER_INCH: Final = 25.4  # exact


class Length(Struct, frozen=True):
    """A length that keeps what the person entered and its exact value."""

    text: str  #: as entered, with the unit it was meant in
    exact_mm: Fraction

    @property
    def mm(self) -> float:
        return float(self.exact_mm)

    @classmethod
    def parse(
        cls, text: str, unit: str = "mm", where: str = "Length", low_mm: float | None = None, high_mm: float | None = None
    ) -> Length:
        """Read a length; a bare number is in `unit` ("mm" or "in").

        Raises:
            EntryError: Unreadable, or outside [low_mm, high_mm]. When the same digits in the other unit would fit,
                the message says so: a dropped unit is the usual reason.
        """
        exact = read_length(text, unit, where)
        if unit == "in" and "mm" not in text:
            exact = _on_the_grid(exact)
        value = float(exact)
        if (low_mm is not None and value < low_mm) or (high_mm is not None and value > high_mm):
            raise _out_of_range(text, value, unit, where, low_mm, high_mm)
        return cls(text.strip(), exact)


#: What an entry field writes of a size in inches is off by up to half its last digit, mm.
_LAST_DIGIT_MM: Final = Fraction(13, 10**7)


def same_length(a_mm: float, b_mm: float) -> bool:
    """Whether two sizes may be one that was written down in inches and read again."""
    return abs(a_mm - b_mm) <= 2 * float(_LAST_DIGIT_MM)


def all_same(a_mm: Sequence[float], b_mm: Sequence[float]) -> bool:
    """Whether sizes are the same ones, in the same order."""
    return len(a_mm) == len(b_mm) and all(map(same_length, a_mm, b_mm))


def _on_the_grid(exact_mm: Fraction) -> Fraction:
    """The tenth of a micron that was meant, when the size is as near to one as an entry field writes it in inches.

    Else 130 mm, opened in inches and accepted, would come back a nanometre under a limit of 130. No decimal inch of up to five
    places lies so near to a tenth of a micron without being it, and no binary fraction that is used.
    """
    near = Fraction(round(exact_mm * 10_000), 10_000)
    return near if abs(near - exact_mm) <= _LAST_DIGIT_MM else exact_mm


def _out_of_range(text: str, value: float, unit: str, where: str, low_mm: float | None, high_mm: float | None) -> EntryError:
    low, high = (low_mm if low_mm is not None else -math.inf), (high_mm if high_mm is not None else math.inf)
    other = "in" if unit == "mm" else "mm"
    do = "Measure again, or check the digits and the unit"
    try:
        swapped = float(read_length(text, other, where))
    except EntryError:
        swapped = value
    if swapped != value and low <= swapped <= high:
        do = f"If it was meant in {'inches' if other == 'in' else 'millimetres'}, write {text.strip()} {other}"
    elif low >= 0 > value:
        do = "A size has no sign: type it without the minus"
    limit = (
        f"from {show(low, unit)} to {show(high, unit)} {unit}"
        if math.isfinite(low) and math.isfinite(high)
        else f"at least {show(low, unit)} {unit}"
        if math.isfinite(low)
        else f"at most {show(high, unit)} {unit}"
    )
    return EntryError(where, f"{show(value, unit)} {unit} cannot be right", f"It must be {limit}", do)


def round_to_step(value: float, step: float) -> float:
    """The nearest multiple of a step; halves go away from zero, as on a dial. A step of 0 leaves the value alone."""
    if step <= 0 or not math.isfinite(value):
        return value
    # A float quotient like 2.4999999999 is a half that binary could not hold; the nudge is far below any dial.
    return math.copysign(round(math.floor(abs(value) / step + 0.5 + 1e-9) * step, 9), value)


def step_shown(value_mm: float, step_mm: float | None) -> float | None:
    """The step a size is shown in: its own, but where it lies between two of them as fine as it is.

    A length that was typed as 101.26 in steps of a millimetre is no 101. A fine step stays: it shows more than none would.
    """
    if step_mm is None or step_mm <= DEFAULT_STEP["mm"] or abs(round_to_step(value_mm, step_mm) - value_mm) < 1e-6:
        return step_mm
    return None


def round_down(value: float, step: float) -> float:
    """The largest multiple of a step that is not above the value."""
    return round(math.floor(value / step + 1e-9) * step, 9)  # 11.7, not 11.700000000000001


def fine_step(value: float, step: float) -> float:
    """A step, or a tenth of it where the value is less than two of it."""
    return step if value >= 2 * step else step / 10


def round_up(value: float, step: float) -> float:
    """The smallest multiple of a step that is not below the value."""
    return round(math.ceil(value / step - 1e-9) * step, 9)


def decimals_of(step: float) -> int:
    """How many decimals show every multiple of a step: 0.005 → 3, 0.1 → 1, 2 → 0."""
    for places in range(7):
        if abs(step * 10**places - round(step * 10**places)) < 1e-6:
            return places
    return 6


#: Decimals when nothing finer was asked for: a hundredth, and half a thou.
DEFAULT_STEP: Final = {"mm": 0.01, "in": 0.0001}


def show(value_mm: float, unit: str = "mm", step: float | None = None) -> str:
    """A length as text in a unit ("mm" or "in"), rounded to a step of that unit.

    Without a step it is shown to 0.01 mm or 0.0001 in, longer when it was entered finer (up to a tenth of a micron).
    """
    if not math.isfinite(value_mm):
        return "no limit"
    value = value_mm if unit == "mm" else value_mm / MM_PER_INCH
    if step is None:
        step = DEFAULT_STEP[unit]
        for finer in (1, 10, 20, 100) if unit == "mm" else (1, 2, 10):
            if abs(value - round_to_step(value, step / finer)) < step / 1e5:
                step /= finer
                break
    places = decimals_of(step)
    text = f"{round_to_step(value, step):.{places}f}"
    return text.lstrip("-") if float(text) == 0 else text


def rounding_mm(value_mm: float, unit: str, step: float) -> float:
    """Shown less true, in mm: what rounding to the step of the dial does to the number."""
    per = 1.0 if unit == "mm" else MM_PER_INCH
    return round_to_step(value_mm / per, step) * per - value_mm


def entry_text(value_mm: float, unit: str) -> str:
    """A text that reads back as the same length to 1e-6 mm: what an entry field holds when it opens."""
    value = value_mm if unit == "mm" else value_mm / MM_PER_INCH
    text = f"{value:.{6 if unit == 'mm' else 7}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


#: Under these a number of its unit has a digit more: 83 N of downward force are no 0.1 kN.
_FINER: Final = {"kN": 1.0, "kg": 0.1, "N·m": 1.0}
#: A bare number up to here shows its fraction.
_LARGE: Final = 100.0
#: A number that would be rounded to nothing keeps two digits when it is this many places smaller at most; noise stays nothing.
_SMALLER: Final = 2
#: Units written close to their number.
_TIGHT: Final = frozenset({"deg", "″", "′"})


class UnitStyle(Struct, frozen=True):
    """How one display unit shows and reads every kind of number."""

    length: str = "mm"  #: "mm" or "in"

    def feed(self, mm_min: float) -> str:
        """A feed with its unit, as it is set: whole mm or tenths of an inch a minute."""
        return f"{mm_min:.0f} mm/min" if self.length == "mm" else f"{mm_min / MM_PER_INCH:.1f} in/min"

    def show(self, value: float, unit: str, step_mm: float | None = None) -> str:
        """A number of any unit as text; only lengths change with the display unit."""
        if unit == "mm":
            if self.length == "mm":
                return show(value, "mm", step_mm)
            step = None if step_mm is None else max(0.0001, round_to_step(step_mm / MM_PER_INCH, 0.0001) or 0.0001)
            # An inch step that is no decimal of its own (0.01 mm is .0004", 0.1 mm is .0039") would round to numbers that are
            # not there.
            return show(value, "in", None if step is None else 0.001 if step >= 0.001 else 0.0005 if step >= 0.0005 else 0.0001)
        if not math.isfinite(value):
            return "no limit"
        if not unit and step_mm is None and abs(value) < _LARGE and value != round(value):
            return f"{value:.3g}"  # a share: friction 0.12 is no friction 0
        digits = {
            "MPa": 0,
            "N": 0,
            "kN": 1,
            "N·m": 1,
            "deg": 2,
            "%": 0,
            "× d": 2,
            "": 0,
            "kg": 2,
            "g": 0,
            "rpm": 0,
            "min": 0,
            "″": 1,
            "K": 1,
            "µm": 2,
        }.get(unit, 2)
        if unit == "deg" and step_mm is not None:
            digits = decimals_of(step_mm)  # of degrees then
        if unit in _FINER and 0 < abs(value) < _FINER[unit]:
            digits += 1
        text = f"{value:.{digits}f}"
        if float(text) == 0 and abs(value) >= 10.0 ** -(digits + _SMALLER):
            return f"{value:.2g}"  # a little is not nothing: a pin of 3 g weighs no 0.00 kg
        return text

    def name(self, unit: str) -> str:
        """The unit as written behind the number."""
        return {"mm": "mm" if self.length == "mm" else "in", "deg": "°"}.get(unit, unit)

    def with_unit(self, value: float, unit: str, step_mm: float | None = None) -> str:
        """Number and unit together: "11.7 mm"."""
        name = self.name(unit)
        return f"{self.show(value, unit, step_mm)}{'' if unit in _TIGHT else ' '}{name}".rstrip()


METRIC: Final = UnitStyle("mm")
INCH: Final = UnitStyle("in")
