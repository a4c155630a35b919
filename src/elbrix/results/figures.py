"""A number that can show its working, and says whether it was measured, chosen, calculated or assumed."""

from __future__ import annotations

import math
import re
from enum import StrEnum
from typing import Final

from msgspec import Struct

from elbrix.quantities.patterns import Pattern


class Origin(StrEnum):
    """Where a number came from. Told apart on screen by form, not only by colour."""

    MEASURED = "measured"
    CHOSEN = "chosen"
    CALCULATED = "calculated"
    ASSUMED = "assumed"
    STANDARD = "from a table"


def format_number(value: float, places: int = 3) -> str:
    """A number for a line of working: short, but never a rounded-away digit that matters."""
    text = f"{value:.{places}f}".rstrip("0").rstrip(".") if places else f"{value:.0f}"
    return "0" if text == "-0" else text


#: Digits of a number in a formula that count, at the least: who works the line again comes to what is shown.
_SIGNIFICANT: Final = 4
#: A negative number alone in brackets: "sin((−3°))".
_TWICE: Final = Pattern(r"\(\((−[^()]*)\)\)")


#: A negative number of a line that was written by hand, what it is added to or taken from, and its power; not one of a marked
#: length (`length_text`), which is written anew in the shop's unit.
_NEGATIVE: Final = Pattern(r"([−+·×/÷]\s*)?(?<![\w.\u2063\u2064])-(\d[\d.]*)([²³]?)")


def _bracketed(match: re.Match[str]) -> str:
    sign, number, power = match[1] or "", match[2], match[3]
    return f"{sign}(−{number}){power}" if sign or power else f"−{number}"


def on_paper(line: str) -> str:
    """A line of working with its negative numbers as one writes them: "0.022 − -0.018" as "0.022 − (−0.018)"."""
    return _NEGATIVE.sub(_bracketed, line) if "-" in line else line


class FormulaTerm(Struct, frozen=True):
    """One number of a formula: as it is worked with (N, mm, MPa, radians), and how it is written."""

    value: float
    shown: float  #: in `unit`
    places: int = 3
    unit: str = ""

    @property
    def text(self) -> str:
        """As it is written, a small one with more decimals."""
        places = self.places
        if 0.0 < abs(self.shown) < 10.0 ** (_SIGNIFICANT - 1 - places):
            places = _SIGNIFICANT - 1 - math.floor(math.log10(abs(self.shown)))
        text = format_number(self.shown, places)
        if self.unit:
            text += self.unit if self.unit == "°" else f" {self.unit}"
        return f"(−{text[1:]})" if text[0] == "-" else text


class FormulaLine(Struct, frozen=True):
    """A formula with its numbers. Written out only when somebody looks at it: a search solves hundreds of times unseen."""

    template: str  #: {0}, {1} … where a number stands
    terms: tuple[FormulaTerm, ...]
    then: str = ""  #: what was made of it: " = 3.9, up to 4"

    def __str__(self) -> str:
        text = self.template.format(*[t.text for t in self.terms]) + self.then
        return _TWICE.sub(r"(\1)", text) if "((−" in text else text


class Derivation(Struct, frozen=True):
    """How a number came about, in the order one would write it on paper."""

    formula: str  #: "neck = tightest slot neck − clearance"
    line: str | FormulaLine  #: the same with numbers
    source: str = ""  #: rule, standard or measurement it rests on

    @property
    def with_numbers(self) -> str:
        """ "12.05 − 0.3 = 11.75, down to 11.7"."""
        return on_paper(str(self.line))


class Figure(Struct, frozen=True, kw_only=True):
    """One number of a design or plan."""

    key: str  #: links plate, card and proof
    label: str  #: as said in the shop
    value: float
    unit: str = "mm"  #: "mm", "deg", "N", "N·m", "MPa", "× d", "" …
    origin: Origin = Origin.CALCULATED
    derivation: Derivation | None = None
    step: float | None = None  #: rounding when shown, mm, or degrees of an angle; None: as fine as it is
    text: str = ""  #: shown instead of the number, for names: "M10 × 1.5"
    features: tuple[str, ...] = ()  #: what lights up on the plate
    note: str = ""
    u: float = 0.0  #: half width in which the true number lies with 95 %, in `unit`; 0: not said
