"""The grammar of one line of the tape. There is no evaluation of code: what stands below is all there is.

    sum     = product { ("+" | "-") product }
    product = power { ("*" | "/") power }
    power   = sign [ "^" sign ] [ "%" ]
    sign    = { "+" | "-" } atom
    atom    = angle | fraction [unit] | number [unit] | "#" line | "pi" | function sign
            | "(" sum ")" [unit]

A fraction is two whole numbers with a stroke, a mixed one has a whole before it: 1 5/8", and 1-5/8" where the inch mark
follows at once. A unit after a fraction belongs to all of it. Trigonometry of a bare number is of degrees.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Final

from elbrix.answers.tape.amounts import (
    ANGLE,
    LENGTH,
    NONE,
    SPELLINGS,
    UNITS,
    Amount,
    added,
    named,
    over,
    raised,
    refuse,
    rooted,
    tidied,
    times,
)
from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import UNIT_MM, clip, tidy
from elbrix.quantities.patterns import Pattern

LONGEST_LINE: Final = 200
_DEEPEST: Final = 20
_MAX_DIGITS: Final = 40
_N: Final = r"(?:[0-9]+\.?[0-9]*|\.[0-9]+)"
_UNIT: Final = (
    r"(?:mm|cm|m(?![A-Za-z])|µm|um|inch(?:es)?|in(?![A-Za-z])|\"|thous?|degrees?|deg|°|rad(?:ians)?|kN|N["
    r" .·*]?m(?![A-Za-z])|N|lbf|kg|"
    r"g(?![A-Za-z])|lbs?|oz|MPa)(?![A-Za-z0-9])"
)
_TOKEN: Final = Pattern(
    r"\s*(?:"
    rf"(?P<angle>{_N}\s*(?:°|d(?![A-Za-z])|deg(?![A-Za-z]))\s*(?:{_N}\s*(?:'(?!')|′|m(?![A-Za-z]))\s*)?"
    rf"(?:{_N}\s*(?:\"|″|''|s(?![A-Za-z])))?"
    rf"|{_N}\s*(?:'(?!')|′)\s*(?:{_N}\s*(?:\"|''))?)"
    r"|(?P<dashed>[0-9]+-[0-9]+/[0-9]+(?=\s*(?:\"|in|inch|inches)(?![A-Za-z])))"
    r"|(?P<mixed>[0-9]+ +[0-9]+/[0-9]+(?![0-9.]))"
    r"|(?P<fraction>[0-9]+/[0-9]+(?![0-9.]))"
    rf"|(?P<number>{_N})"
    rf"|(?P<unit>{_UNIT})"
    r"|(?P<line>#[0-9]+)"
    r"|(?P<word>[A-Za-zπ]+)"
    r"|(?P<op>\*\*|[-+*/^()%√])"
    r")"
)
_PART: Final = rf"({_N})\s*([^0-9.\s]*)"
_SMALL: Final = {"°": 1, "d": 1, "deg": 1, "'": 60, "′": 60, "m": 60, '"': 3600, "″": 3600, "''": 3600, "s": 3600}
#: Sines that are fractions, by degrees.
_SINES: Final = {0: Fraction(0), 30: Fraction(1, 2), 90: Fraction(1), 150: Fraction(1, 2), 180: Fraction(0), 210: Fraction(-1, 2)}
_MORE_SINES: Final = {270: Fraction(-1), 330: Fraction(-1, 2)}
_UNSURE: Final = Pattern(r"(?<![0-9./])[0-9]+-[0-9]+/[0-9]+")


def reckon(text: str, unit: str = "", lines: Mapping[int, Amount] | None = None) -> Amount:
    """Work a line out.

    Args:
        text: The line.
        unit: "mm" or "in" of bare numbers; "" leaves them numbers, and millimetres beside a length.
        lines: Earlier results by number.

    Raises:
        EntryError: Something in it cannot be read, or cannot be.
    """
    plain = tidy(text)
    if not plain:
        raise refuse("nothing is written", "The tape works out what stands on it", 'Write for example 12.5 + 1/2"')
    if len(plain) > LONGEST_LINE:
        raise refuse(f"{len(plain)} characters", f"A line has {LONGEST_LINE} at most", "Split it over several lines")
    reader = _Reader(plain, UNIT_MM[unit] if unit else Fraction(1), lines or {})
    found = reader.sum()
    if reader.at < len(reader.tokens):
        raise refuse(
            f"{clip(reader.tokens[reader.at][1])} after a complete number", "Two numbers need a sign between them", "Put one in"
        )
    if found.bare:
        return Amount(tidied(times(found, Amount(UNIT_MM[unit])).number), LENGTH) if unit else Amount(found.number)
    return found


def is_reckoning(text: str) -> bool:
    """Whether a text is arithmetic: it reads as a line and has a sign or a function in it."""
    plain = tidy(text)
    if not plain or len(plain) > LONGEST_LINE:
        return False
    try:
        tokens = _tokens(plain)
    except EntryError:
        return False
    functions = any(kind == "word" and word.lower() in _FUNCTIONS for kind, word in tokens)
    words = [word for kind, word in tokens if kind == "word" and word.lower() not in (*_FUNCTIONS, "pi", "π")]
    signs = any(kind in ("op", "line") for kind, _ in tokens[1:]) or any(kind == "line" for kind, _ in tokens)
    return (signs or functions) and not words


def _tokens(text: str) -> list[tuple[str, str]]:
    found: list[tuple[str, str]] = []
    place = 0
    while place < len(text):
        match = _TOKEN.match(text, place)
        if match is None or match.end() == place:
            rest = text[place:].strip()
            if rest.startswith(","):
                raise refuse(
                    "a comma cannot be read here",
                    "It is a decimal sign in one shop and a thousands mark in another",
                    "Write 12.05",
                )
            raise refuse(
                f"{clip(rest)} cannot be read here", "That is no number, unit, sign or function", 'Write 12.05, 1 5/8", sin(30)'
            )
        kind = str(match.lastgroup)
        found.append((kind, match.group(kind)))
        place = match.end()
    return found


class _Reader:
    def __init__(self, text: str, per: Fraction, lines: Mapping[int, Amount]) -> None:
        self.tokens = _tokens(text)
        self.per, self.lines = per, lines
        self.at = self.depth = 0
        dashed = _UNSURE.search(text)
        if dashed and any(kind == "fraction" and f"-{word}" in dashed.group() for kind, word in self.tokens):
            whole, rest = dashed.group().split("-")
            raise refuse(
                f"{dashed.group()} can mean two sizes",
                f"It may be {whole} and {rest}, or {whole} less {rest}",
                f'Write {whole} {rest} or {whole} - {rest} with blanks, or an inch mark: {whole}-{rest}"',
            )

    def peek(self) -> tuple[str, str]:
        return self.tokens[self.at] if self.at < len(self.tokens) else ("end", "")

    def take(self, kind: str, *words: str) -> str | None:
        here, word = self.peek()
        if here == kind and (not words or word in words):
            self.at += 1
            return word
        return None

    def sum(self) -> Amount:
        self.depth += 1
        if self.depth > _DEEPEST:
            raise refuse(
                "too many brackets inside each other", f"{_DEEPEST} are enough for anything", "Split it over several lines"
            )
        total = self.product()
        while (sign := self.take("op", "+", "-")) is not None:
            total = added(total, self.product(), 1 if sign == "+" else -1, self.per)
        self.depth -= 1
        return total

    def product(self) -> Amount:
        total = self.power()
        while (sign := self.take("op", "*", "/")) is not None:
            total = times(total, self.power()) if sign == "*" else over(total, self.power())
        return total

    def power(self) -> Amount:
        negative = False
        while (sign := self.take("op", "+", "-")) is not None:
            negative ^= sign == "-"
        found = self.atom()
        if self.take("op", "^", "**") is not None:
            found = raised(found, self.signed())
        if self.take("op", "%") is not None:
            if found.dims != NONE:
                raise refuse(f"a percentage of {named(found.dims)}", "A percentage is a number", "Write × 5 %")
            found = Amount(over(found, Amount(Fraction(100))).number)
        return times(found, Amount(Fraction(-1))) if negative else found

    def signed(self) -> Amount:
        negative = False
        while (sign := self.take("op", "+", "-")) is not None:
            negative ^= sign == "-"
        found = self.atom()
        return times(found, Amount(Fraction(-1))) if negative else found

    def atom(self) -> Amount:
        kind, word = self.peek()
        self.at += 1
        if kind == "op" and word == "(":
            found = self.sum()
            if self.take("op", ")") is None:
                raise refuse("a bracket that does not close", "What belongs together is not clear", "Close it")
            return self.with_unit(found)
        if kind == "angle":
            return Amount(_angle(word), ANGLE)
        if kind in ("dashed", "mixed", "fraction", "number"):
            if sum(c.isdigit() for c in word) > _MAX_DIGITS:
                raise refuse(f"{clip(word)} has too many digits", f"{_MAX_DIGITS} are more than anything has", "Shorten it")
            return self.with_unit(Amount(_fraction(word), NONE, bare=True))
        if kind == "line":
            number = int(word[1:])
            if number not in self.lines:
                have = ", ".join(f"#{n}" for n in sorted(self.lines)) or "none yet"
                raise refuse(f"there is no line {word[:12]}", f"Earlier lines are: {have}", "Take one of those")
            return self.lines[number]
        if kind == "op" and word == "√":
            return rooted(self.signed())
        if kind == "word" and word.lower() in ("pi", "π"):
            return Amount(math.pi)
        if kind == "word" and word.lower() in _FUNCTIONS:
            return _FUNCTIONS[word.lower()](self.signed())
        if kind == "end":
            raise refuse("the line ends too soon", "A number is missing behind the last sign", "Complete it")
        raise refuse(
            f"{clip(word)} cannot stand here", "A number, a bracket or a function is expected", 'Write 12.05, 1 5/8", sin(30), #1'
        )

    def with_unit(self, found: Amount) -> Amount:
        word = self.take("unit")
        if word is None:
            return found
        if not found.bare:
            raise refuse(f"a second unit {clip(word)}", f"It already is {named(found.dims)}", "Leave one away")
        name = SPELLINGS["Nm" if word[0] == "N" and word[-1] == "m" and len(word) <= 3 else word]
        scale, dims = UNITS[name]
        if isinstance(found.number, Fraction) and isinstance(scale, Fraction):
            return Amount(found.number * scale, dims)
        return Amount(float(found.number) * float(scale), dims)


def _fraction(word: str) -> Fraction:
    parts = word.replace("-", " ").split()
    if "/" in word and int(word.rpartition("/")[2]) == 0:
        raise refuse("a fraction over 0", "Nothing comes of it", "Check the number under the stroke")
    return sum((Fraction(p) for p in parts), Fraction(0))


def _angle(word: str) -> Fraction:
    """Degrees of 53°14'20", 32d30m or 14'."""
    total, before = Fraction(0), 0
    parts = [m.groups() for m in re.finditer(_PART, word)]
    for number, mark in parts:
        per = _SMALL[mark]
        if before and Fraction(number) >= 60:
            raise refuse(f"{clip(word)} has 60 or more minutes or seconds", "Sixty make the next larger unit", "Carry them over")
        if "." in number and (number, mark) != parts[-1]:
            raise refuse(f"{clip(word)} has a decimal before its minutes", "It would count twice", "Use one or the other")
        total += Fraction(number) / per
        before = per
    return total


def _degrees(a: Amount, name: str) -> Number_:
    if not a.bare and a.dims not in (ANGLE, NONE):
        raise refuse(f"{name} of {named(a.dims)}", "It is taken of an angle", "Give degrees: 32.5°")
    return a.number


Number_ = Fraction | float


def _sine(degrees: Number_) -> Number_:
    if (
        isinstance(degrees, Fraction)
        and degrees.denominator == 1
        and (known := (_SINES | _MORE_SINES).get(int(degrees) % 360)) is not None
    ):
        return known
    turned = math.fmod(float(degrees), 360.0)
    return math.sin(math.radians(turned))


def _sin(a: Amount) -> Amount:
    return Amount(_sine(_degrees(a, "a sine")))


def _cos(a: Amount) -> Amount:
    return Amount(_sine(90 - _degrees(a, "a cosine")))


def _tan(a: Amount) -> Amount:
    degrees = _degrees(a, "a tangent")
    up, down = _sine(degrees), _sine(90 - degrees)
    if down == 0:
        raise refuse("the tangent of a right angle", "It has no end", "Check the angle")
    if isinstance(degrees, Fraction) and degrees % 180 in (45, 135):
        return Amount(Fraction(1 if degrees % 180 == 45 else -1))
    return Amount(up / down if isinstance(up, Fraction) and isinstance(down, Fraction) else float(up) / float(down))


def _inverse(name: str, act: Callable[[float], float], *, within_one: bool) -> Callable[[Amount], Amount]:
    exact = {
        "asin": {Fraction(1, 2): 30, Fraction(1): 90, Fraction(0): 0},
        "acos": {Fraction(1, 2): 60, Fraction(1): 0, Fraction(0): 90},
    }
    exact["atan"] = {Fraction(1): 45, Fraction(0): 0}

    def turned(a: Amount) -> Amount:
        if a.dims != NONE:
            raise refuse(f"{name} of {named(a.dims)}", "It is taken of a ratio", "Divide one length by the other first")
        if within_one and abs(float(a.number)) > 1:
            raise refuse(
                f"{name} of {float(a.number):g}", "No angle has that: it is from −1 to 1", "Check which length is the longer"
            )
        if isinstance(a.number, Fraction) and (known := exact[name].get(a.number)) is not None:
            return Amount(Fraction(known), ANGLE)
        return Amount(math.degrees(act(float(a.number))), ANGLE)

    return turned


_FUNCTIONS: Final[dict[str, Callable[[Amount], Amount]]] = {
    "sin": _sin,
    "cos": _cos,
    "tan": _tan,
    "asin": _inverse("asin", math.asin, within_one=True),
    "acos": _inverse("acos", math.acos, within_one=True),
    "atan": _inverse("atan", math.atan, within_one=False),
    "sqrt": rooted,
    "root": rooted,
}
_FUNCTIONS.update({f"arc{n}": _FUNCTIONS[f"a{n}"] for n in ("sin", "cos", "tan")})
