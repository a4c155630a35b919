"""One line of the tape: arithmetic, a triangle, a dial, dividing, or any question Ask answers with a number."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any, Final

from msgspec import Struct, field

from elbrix.answers.tape.amounts import ANGLE, LENGTH, NONE, Amount, refuse, unit_of
from elbrix.answers.tape.reckoning import is_reckoning, reckon
from elbrix.answers.tape.worm import Worm, angle, divisions, off_words, plain, worm_asked, worm_table
from elbrix.making.dials import on_dial
from elbrix.mechanics.triangles import Triangle, solve_triangle
from elbrix.quantities.angles import angle_text
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.grammar import UNIT_MM
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

Earlier = Mapping[int, Amount]
_TRIANGLE: Final = re.compile(r"\s*triangle\b(.*)", re.IGNORECASE | re.DOTALL)
_PART: Final = re.compile(r"([abcABC])\s*=\s*(.*?)(?=\s+[abcABC]\s*=|\s*[,;]\s*[abcABC]\s*=|$)", re.DOTALL)
_DIAL: Final = re.compile(r"(?P<what>.+?)\s+on\s+(?P<machine>.+?)\s+(?P<axis>[xyzXYZ])\s*", re.DOTALL)
#: The same with the axis left out, which is said: every other "on" belongs to a question.
_DIAL_OF: Final = re.compile(r"(?P<what>.+?)\s+on\s+(?P<machine>.+?)\s*", re.DOTALL)
#: Halves to sixty-fourths are written as fractions of an inch.
_FINEST: Final = 64
#: Words of a machine's name that are longer stand for it.
_SHORT: Final = 3
#: So many settings of a rotary table are listed.
_MAX_ROWS: Final = 120


class TapeLine(Struct, frozen=True, kw_only=True):
    """A result.

    Attributes:
        amount: For later lines.
        text: As shown.
        exact: A fraction as text, in `exact_unit`; "" when it is none.
        more: What else belongs to it, as plain data.
        rows: What has to be set one after another where no part of it can be repeated.
    """

    amount: Amount
    text: str
    exact: str = ""
    exact_unit: str = ""
    more: dict[str, Any] = field(default_factory=dict)
    rows: tuple[str, ...] = ()

    @property
    def value(self) -> float:
        """In mm, degrees, N, kg and their products, unrounded."""
        return float(self.amount.number)

    @property
    def unit(self) -> str:
        return unit_of(self.amount.dims)


def is_tape(text: str, shop: Shop) -> bool:
    """Whether a text is for the tape: arithmetic, a triangle, a dial or dividing."""
    return bool(
        is_reckoning(text)
        or _TRIANGLE.fullmatch(text)
        or worm_asked(text, shop)
        or ((m := _DIAL.fullmatch(text)) and _named(m["machine"], shop) is not None)
        or _without_axis(text, shop)
    )


def _without_axis(text: str, shop: Shop) -> Machine | None:
    """The machine of a length to be dialled that names no axis; None: the text is something else."""
    match = _DIAL_OF.fullmatch(text)
    if match is None or not (is_reckoning(match["what"]) or re.fullmatch(r"[0-9./ ]+(?:mm|in|\")?", match["what"])):
        return None
    machine = _named(match["machine"], shop)
    return machine if machine is not None and not machine.worm_turns else None


def work_out(
    text: str,
    shop: Shop,
    unit: str = "",
    lines: Earlier | None = None,
    ask: Callable[[str], tuple[float, str, str]] | None = None,
) -> TapeLine:
    """Work a line out.

    Args:
        text: The line.
        shop: Machines for dials and dividing.
        unit: "mm" or "in" of bare numbers, "" for none.
        lines: Earlier results by number.
        ask: Answers a question with (value, unit, text); for what is no arithmetic.

    Raises:
        ShopError: It cannot be read, or cannot be.
    """
    if match := _TRIANGLE.fullmatch(text):
        return _triangle(match[1], unit, lines)
    if worm := worm_asked(text, shop):
        return _by_worm(worm, worm_table(worm, shop, _machine), lines)
    if match := _DIAL.fullmatch(text):
        return _dialled(match["what"], _machine(match["machine"], shop), match["axis"].upper(), unit, lines)
    if machine := _without_axis(text, shop):
        axes = ", ".join(machine.axes) or "X, Y, Z"
        raise refuse("the axis is not said", f"{machine.name} has a handwheel each for {axes}", f"{text.strip()} X")
    try:
        return shown(reckon(text, unit, lines), unit)
    except EntryError:
        if ask is None or is_reckoning(text) or not re.search(r"[A-Za-z]{2}", text):
            raise
    value, of, words = ask(text)
    return TapeLine(amount=_asked(value, of), text=words, more={"asked_unit": of})


def shown(amount: Amount, unit: str = "") -> TapeLine:
    """A result with its text and its fraction."""
    inches = unit == "in" and amount.dims == LENGTH
    number = amount.number / UNIT_MM["in"] if inches and isinstance(amount.number, Fraction) else amount.number
    if inches and not isinstance(amount.number, Fraction):
        number = float(amount.number) / 25.4
    exact = str(number) if isinstance(number, Fraction) else ""
    return TapeLine(
        amount=amount, text=_text(number, amount, inches=inches), exact=exact, exact_unit="in" if inches else unit_of(amount.dims)
    )


def _text(number: Fraction | float, amount: Amount, *, inches: bool) -> str:
    if amount.dims == ANGLE:
        return f"{_decimal(float(number))}° ({angle_text(math.radians(float(number)))})"
    if not inches:
        return f"{_decimal(float(number))} {unit_of(amount.dims)}".strip()
    if isinstance(number, Fraction) and number.denominator > 1 and _FINEST % number.denominator == 0:
        whole, rest = divmod(abs(number), 1)
        sign = "−" if number < 0 else ""
        return f'{sign}{f"{whole} " if whole else ""}{rest}" ({_decimal(float(number))}")'
    return f'{_decimal(float(number))}"'


def _decimal(value: float) -> str:
    """Six places, and no more digits than there are; very small and very large ones as they are."""
    if value and not 1e-4 <= abs(value) < 1e12:
        return f"{value:.6g}"
    text = f"{value:.6f}".rstrip("0").rstrip(".")
    return text.replace("-", "−") if text != "-0" else "0"


def _named(said: str, shop: Shop) -> Machine | None:
    """The machine that is meant: by its name, or by a word of it that no other machine has, "Margaret" for Old Margaret."""
    said = said.strip().casefold()
    whole = [m for m in shop.machines if m.name.casefold() == said]
    part = [m for m in shop.machines if len(said) > _SHORT and said in m.name.casefold().split()]
    return whole[0] if whole else part[0] if len(part) == 1 else None


def _machine(said: str, shop: Shop) -> Machine:
    found = _named(said, shop)
    if found is None:
        have = ", ".join(m.name for m in shop.machines) or "none"
        raise refuse(
            f"no machine, or more than one, is called “{said.strip()[:24]}”", f"The shop has: {have}", "Use one of those names"
        )
    return found


def _triangle(text: str, unit: str, lines: Earlier | None) -> TapeLine:
    sides: dict[str, float] = {}
    angles: dict[str, float] = {}
    used = 0
    for part in _PART.finditer(text):
        name, said = part[1], part[2]
        used += len(part[0])
        if name in sides or name in angles:
            raise refuse(f"{name} stands twice", "Each side and angle is one number", "Leave one away")
        found = reckon(said, "" if name.isupper() else unit or "mm", lines)
        wanted = ANGLE if name.isupper() else LENGTH
        if found.dims not in (wanted, NONE):
            raise refuse(
                f"{name} is no {'angle' if name.isupper() else 'length'}", "a, b, c are sides; A, B, C angles", "Check it"
            )
        (angles if name.isupper() else sides)[name] = math.radians(float(found.number)) if name.isupper() else float(found.number)
    if re.sub(r"[\s,;]", "", _PART.sub("", text)):
        raise refuse(
            f"“{_PART.sub('', text).strip()[:24]}” was not understood",
            "Every part is a letter, = and a number",
            "triangle a=30 C=90 b=40",
        )
    answers = solve_triangle(sides, angles)
    first = answers[0]
    missing = next(n for n in ("a", "b", "c", "A", "B", "C") if n not in sides and n not in angles)
    value = getattr(first, missing)
    amount = Amount(math.degrees(value), ANGLE) if missing.isupper() else Amount(value, LENGTH)
    words = "   or   ".join(_corners(t, unit) for t in answers)
    return TapeLine(amount=amount, text=words, more={"found": missing, "triangles": [_plain(t) for t in answers]})


def _corners(t: Triangle, unit: str) -> str:
    per, mark = (25.4, '"') if unit == "in" else (1.0, "")
    sides = ", ".join(f"{n} {format_number(getattr(t, n) / per, 4)}{mark}" for n in ("a", "b", "c"))
    angles = ", ".join(f"{n} {format_number(math.degrees(getattr(t, n)), 4)}°" for n in ("A", "B", "C"))
    return f"{sides}; {angles}"


def _plain(t: Triangle) -> dict[str, float]:
    sides = {n: getattr(t, n) for n in ("a", "b", "c")}
    return {**sides, **{f"{n}_deg": math.degrees(getattr(t, n)) for n in ("A", "B", "C")}, "area_mm2": t.area_mm2}


def _by_worm(asked: Worm, machine: Machine, lines: Earlier | None) -> TapeLine:
    on = "" if asked.machine else f", on {machine.name}"
    if asked.angle:
        amount, turn = angle(asked, machine, lines)
        more = {"turns": turn.turns, "rest": turn.rest, "circle": turn.circle, "on_dial": turn.on_dial}
        return TapeLine(amount=amount, text=f"{turn.words}{on}{off_words(turn.error_deg)}", more=more)
    found = divisions(asked, machine, lines)
    rows = () if found.exact else tuple(found.words_of(k) for k in range(1, min(found.count, _MAX_ROWS)))
    return TapeLine(
        amount=Amount(found.turns_each),
        text=f"{found.words}{on}{off_words(found.error_deg, most=True)}",
        exact=str(found.turns_each),
        more=plain(found),
        rows=rows,
    )


def _dialled(what: str, machine: Machine, axis: str, unit: str, lines: Earlier | None) -> TapeLine:
    amount = reckon(what, unit or "mm", lines)
    if amount.dims != LENGTH:
        raise refuse("what is dialled is no length", "A handwheel moves a slide", "Give a length")
    wheel = machine.axes.get(axis)
    if wheel is None and machine.readout_step_mm <= 0:
        raise ShopError(machine.name, f"it has no handwheel {axis}", "Its dial cannot be worked out", "Add it in Shop")
    dial = on_dial(machine, axis, float(amount.number), unit or "mm")
    words = dial.text + (f"  ({dial.approach})" if dial.approach else "")
    more: dict[str, Any] = {"set_mm": dial.set_mm, "off_mm": dial.off_mm}
    if machine.readout_step_mm <= 0 and wheel is not None:
        turns, divisions = divmod(round(abs(float(amount.number)) / wheel.division_mm), wheel.divisions)
        more |= {"turns": turns, "divisions": divisions}
    return TapeLine(amount=amount, text=words, more=more)


def _asked(value: float, unit: str) -> Amount:
    known: dict[str, tuple[float, tuple[int, int, int, int]]] = {
        "mm": (1.0, LENGTH),
        "in": (25.4, LENGTH),
        "µm": (0.001, LENGTH),
        "deg": (1.0, ANGLE),
        "N": (1.0, (0, 0, 1, 0)),
        "kN": (1000.0, (0, 0, 1, 0)),
        "kg": (1.0, (0, 0, 0, 1)),
        "N·m": (1000.0, (1, 0, 1, 0)),
    }
    scale, dims = known.get(unit, (1.0, NONE))
    return Amount(value * scale, dims)
