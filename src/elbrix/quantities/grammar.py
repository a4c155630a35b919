"""The small arithmetic of length entries: numbers, fractions, mixed numbers, units, + - * / and brackets.

Everything is exact (`fractions.Fraction`). There is no evaluation of code: the grammar below is all there is.

    sum     = product { ("+" | "-") product }
    product = factor { ("*" | "/") factor [unit] }      a unit after a bare quotient belongs to the whole: 5/16"
    factor  = { "+" | "-" } ( number | mixed | "(" sum ")" )
    mixed   = whole blank whole "/" whole                1 5/16
"""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError
from elbrix.quantities.patterns import Pattern

#: Millimetres in one of each unit. 1 in = 25.4 mm exactly (international inch, 1959).
UNIT_MM: Final = {
    "mm": Fraction(1),
    "in": Fraction(254, 10),
    "thou": Fraction(254, 10000),
    "µm": Fraction(1, 1000),
    "cm": Fraction(10),
}
_UNIT_NAMES: Final = {
    "mm": "mm",
    "in": "in",
    "inch": "in",
    "inches": "in",
    '"': "in",
    "thou": "thou",
    "thous": "thou",
    "um": "µm",
    "µm": "µm",
    "cm": "cm",
}
#: Units in which nobody writes a bare partner: "1/2 - 12 thou" does not say whether the half is an inch.
_SHY_UNITS: Final = frozenset({"thou", "µm", "cm"})
LONGEST_ENTRY: Final = 60
_MAX_DIGITS: Final = 18
_DEEPEST: Final = 12

_SAME_SIGN: Final = str.maketrans(
    {
        "−": "-",
        "–": "-",
        "×": "*",
        "·": "*",
        "÷": "/",
        "⁄": "/",
        "″": '"',
        "”": '"',
        "“": '"',
        "μ": "µ",
        "\u00a0": " ",
        "\u2009": " ",
        "\u202f": " ",
        "\t": " ",
    }
)
_VULGAR: Final = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_TOKEN: Final = Pattern(
    r"\s*(?:(?P<mixed>[0-9]+ +[0-9]+ ?/ ?[0-9]+(?![0-9.]))"
    r"|(?P<number>[0-9]+\.?[0-9]*|\.[0-9]+)"
    r"|(?P<unit>[A-Za-zµ]+|\")"
    r"|(?P<op>[-+*/()]))"
)
_DASHED_MIXED: Final = Pattern(r"(?<![0-9./])[0-9]+-[0-9]+/[0-9]+")


class LengthTerm(Struct, frozen=True):
    """A number with or without a unit: `units` is empty for a bare number."""

    amount: Fraction  #: mm when `units` is not empty
    units: frozenset[str] = frozenset()


def tidy(text: str) -> str:
    """One spelling for the signs that keyboards and word processors write differently."""
    for sign, plain in _VULGAR.items():
        text = text.replace(sign, f" {plain}")
    return text.translate(_SAME_SIGN).strip()


def clip(text: str, length: int = 24) -> str:
    """The text in quotes, short enough for a message."""
    shown = "".join(c if c.isprintable() else "·" for c in text[: length + 1])
    return f"“{shown[:length]}…”" if len(shown) > length else f"“{shown}”"


class _Reader:
    def __init__(self, where: str, text: str) -> None:
        self.where, self.text = where, text
        self.tokens: list[tuple[str, str]] = []
        self.at = 0
        self.depth = 0
        place = 0
        while place < len(text):
            match = _TOKEN.match(text, place)
            if match is None or match.end() == place:
                rest = text[place:].strip()
                if rest.startswith(","):
                    raise self.refuse(
                        "a comma",
                        "A comma is a decimal sign in one shop and a thousands mark in another",
                        "Write the decimal with a point: 12.05",
                    )
                raise self.refuse(
                    clip(rest), "That is no number, unit or sign of arithmetic", 'Write for example 12.05, 1 5/16" or 1/2 - 0.012'
                )
            kind = str(match.lastgroup)
            self.tokens.append((kind, match.group(kind)))
            place = match.end()

    def refuse(self, what: str, why: str, do: str) -> EntryError:
        return EntryError(self.where, f"{what} cannot be read here", why, do)

    def peek(self) -> tuple[str, str]:
        return self.tokens[self.at] if self.at < len(self.tokens) else ("end", "")

    def take(self, kind: str, *texts: str) -> str | None:
        here, text = self.peek()
        if here == kind and (not texts or text in texts):
            self.at += 1
            return text
        return None

    def unit(self) -> str | None:
        kind, text = self.peek()
        if kind != "unit":
            return None
        name = _UNIT_NAMES.get(text if text == '"' else text.lower())
        if name is None:
            raise self.refuse(
                f"the unit {clip(text)}", 'Elbrix knows mm, cm, µm, in, " and thou', "Use one of those or leave the unit away"
            )
        self.at += 1
        return name

    def sum(self) -> LengthTerm:
        total = self.product()
        while (sign := self.take("op", "+", "-")) is not None:
            part = self.product()
            total, part = self._same_unit(total, part)
            total = LengthTerm(
                total.amount + part.amount if sign == "+" else total.amount - part.amount, total.units | part.units
            )
        return total

    def _same_unit(self, left: LengthTerm, right: LengthTerm) -> tuple[LengthTerm, LengthTerm]:
        def lend(bare: LengthTerm, units: frozenset[str]) -> LengthTerm:
            if len(units) != 1 or units & _SHY_UNITS:
                raise self.refuse(
                    f"the bare number {_short(bare.amount)} beside {' and '.join(sorted(units))}",
                    "It is not clear which unit the bare number is in",
                    "Write a unit on every number",
                )
            (unit,) = units
            return LengthTerm(bare.amount * UNIT_MM[unit], units)

        if left.units and not right.units:
            right = lend(right, left.units)
        elif right.units and not left.units:
            left = lend(left, right.units)
        return left, right

    def product(self) -> LengthTerm:
        total = self._with_unit(self.factor())
        while (sign := self.take("op", "*", "/")) is not None:
            part = self.factor()
            if part.units and (total.units or sign == "/"):
                raise self.refuse("a length times or over a length", "That gives no length", "Use a plain number for one of them")
            if sign == "/" and part.amount == 0:
                raise self.refuse("a division by zero", "Nothing can be divided by zero", "Check the number under the stroke")
            total = LengthTerm(
                total.amount * part.amount if sign == "*" else total.amount / part.amount, total.units | part.units
            )
            total = self._with_unit(total)
        return total

    def _with_unit(self, term: LengthTerm) -> LengthTerm:
        unit = self.unit()
        if unit is None:
            return term
        if term.units:
            raise self.refuse("a unit on a number that has one", "The number already has its unit", "Leave one of the units away")
        return LengthTerm(term.amount * UNIT_MM[unit], frozenset({unit}))

    def factor(self) -> LengthTerm:
        sign = 1
        while (mark := self.take("op", "+", "-")) is not None:
            sign = -sign if mark == "-" else sign
        if self.take("op", "("):
            self.depth += 1
            if self.depth > _DEEPEST:
                raise self.refuse("that many brackets", f"Elbrix follows {_DEEPEST} at most", "Work it out in smaller parts")
            inside = self.sum()
            if not self.take("op", ")"):
                raise self.refuse("a bracket left open", "Every ( needs its )", "Close the bracket")
            self.depth -= 1
            return LengthTerm(sign * inside.amount, inside.units)
        mixed = self.take("mixed")
        if mixed is not None:
            whole, over, under = (self._whole(part) for part in re.split(r"[ /]+", mixed))
            if under == 0:
                raise self.refuse("a fraction over zero", "Nothing can be divided by zero", "Check the number under the stroke")
            return LengthTerm(sign * (whole + Fraction(over, under)))
        number = self.take("number")
        if number is None:
            kind, text = self.peek()
            raise self.refuse(
                clip(text) if kind != "end" else "an unfinished entry",
                "A number is missing there",
                "Finish the entry, for example 1/2 - 0.012",
            )
        self._whole(number)
        return LengthTerm(sign * Fraction(number if number[-1] != "." else number[:-1]))

    def _whole(self, digits: str) -> int:
        if len(digits) > _MAX_DIGITS:
            raise self.refuse(
                f"{clip(digits, 12)} with {len(digits)} digits",
                f"Elbrix reads {_MAX_DIGITS} digits at most",
                "Shorten the number",
            )
        return int(digits.replace(".", "") or "0")


def _short(amount: Fraction) -> str:
    return f"{float(amount):g}"


@lru_cache(maxsize=4096)  # a design's choices are read again for each of its solutions
def read_length(text: str, bare_unit: str, where: str) -> Fraction:
    """Return the exact length in mm that a text says.

    Args:
        text: As typed: `12.05`, `1 5/16"`, `.6255 in`, `180 thou`, `1/2 - 0.012`.
        bare_unit: Unit of a number without one, "mm" or "in".
        where: What the entry is, for the message.

    Raises:
        EntryError: Anything else; never another exception, whatever the text.
    """
    if len(text) > LONGEST_ENTRY:
        raise EntryError(
            where,
            f"{len(text):,} characters cannot be one length",
            f"An entry has {LONGEST_ENTRY} characters at most",
            "Type or paste the one number only",
        )
    plain = tidy(text)
    if not plain:
        raise EntryError(where, "Nothing was entered", "A length is needed here", 'Type it, for example 12.05 or 1 5/16"')
    dashed = _DASHED_MIXED.search(plain)
    if dashed:
        whole, rest = dashed.group().split("-")
        raise EntryError(
            where,
            f"{dashed.group()} can mean two sizes",
            f"It may be {whole} and {rest}, or {whole} less {rest}",
            f"Write {whole} {rest} or {whole} - {rest}, with blanks",
        )
    reader = _Reader(where, plain)
    term = reader.sum()
    if reader.peek()[0] != "end":
        raise reader.refuse(
            clip(reader.peek()[1]), "The number before it is complete", "Put a sign between the two, or take one away"
        )
    amount = term.amount if term.units else term.amount * UNIT_MM[bare_unit]
    if abs(amount) > 1_000_000 * 1000:
        raise reader.refuse("a length over a thousand kilometres", "No shop is that long", "Check the digits and the unit")
    return amount
