"""Sentences with lengths and torques in them that can be said in mm and in inches: "Ø6.6 through, counterbore Ø11 × 6.8"."""

from __future__ import annotations

import re
from typing import Final

from elbrix.quantities.lengths import MM_PER_INCH, UnitStyle
from elbrix.quantities.patterns import Pattern
from elbrix.results.figures import format_number

#: Stands round a number that is a length; it has no width, so that a text that went out unread looks right in mm.
_MARK: Final = "\u2063"
#: The same round a length that is only roughly wanted.
_ROUGH_MARK: Final = "\u2064"
_ROUGH: Final = Pattern(rf"{_ROUGH_MARK}(-?[0-9]+(?:\.[0-9])?){_ROUGH_MARK}")
_LENGTH: Final = Pattern(rf"{_MARK}(-?[0-9]+(?:\.[0-9]+)?){_MARK}")
#: Behind a torque: a wrench that reads foot-pounds is what hangs in an inch shop.
_TORQUE: Final = Pattern(rf"([0-9]+(?:\.[0-9]+)?) N·m{_MARK}{_MARK}")
#: N·m in one foot-pound, and in one inch-pound; below so many N·m the latter are read. International foot, standard gravity.
_FTLB_NM, _INLB_NM, _IN_INCH_POUNDS = 1.3558179483, 0.1129848290, 7.0
#: What is called by its own size in mm in any shop: read in inches, "end mill Ø1" would be a cutter of an inch. Three decimals at
#: most: a length that was turned into inches has four, and may stand behind the same word.
_CALLED: Final = Pattern(
    r"\b((?:end mill|face mill|side and face cutter|slitting saw|spot drill|drill|countersink|angle cutter|reamer|edge finder)"
    r" Ø\d+(?:\.\d{1,3})?(?: × \d+(?:\.\d{1,3})?)?(?: R\d+(?:\.\d{1,3})?)?)(?!\d|\.\d| ?mm\b| in\b| ×| R\d)",
    re.IGNORECASE,
)
#: The name of the unit, for a sentence that says it.
LENGTH_UNIT: Final = f"{_MARK}mm{_MARK}"


def length(value_mm: float, places: int = 3) -> str:
    """A length for the middle of a sentence: as `format_number`, and marked so that `said_in` finds it."""
    return f"{_MARK}{format_number(value_mm, places)}{_MARK}"


def rough_length(value_mm: float) -> str:
    """A length that a tape measures, for the middle of a sentence: to a tenth of a millimetre, and in inches to a hundredth."""
    return f"{_ROUGH_MARK}{format_number(value_mm, 1)}{_ROUGH_MARK}"


def torque_text(value_nm: float, places: int = 0) -> str:
    """A torque for the middle of a sentence: in N·m, and in inches in foot-pounds or inch-pounds as well."""
    return f"{format_number(value_nm, places)} N·m{_MARK}{_MARK}"


def _with_pounds(nm: float) -> str:
    """To the nearest whole one, a twentieth off at most, where torque scatters by a quarter; of a few to a tenth."""
    per, name = (_INLB_NM, "in·lb") if nm < _IN_INCH_POUNDS else (_FTLB_NM, "ft·lb")
    value = nm / per
    return f"{value:.0f} {name}" if value >= 10 else f"{round(value, 1):g} {name}"


def said_in(text: str, style: UnitStyle) -> str:
    """A sentence with its lengths in a unit style; in mm as it was written.

    What has its own size in its name keeps it, and in inches says that it is in mm.
    """
    if style.length == "mm":
        return plain(text)
    text = _ROUGH.sub(lambda m: f"{float(m[1]) / MM_PER_INCH:.2f}", text)
    text = _TORQUE.sub(lambda m: f"{m[1]} N·m ({_with_pounds(float(m[1]))})", text)
    named = _CALLED.sub(lambda m: f"{m[1]} mm", text) if "Ø" in text else text
    return _LENGTH.sub(lambda m: style.show(float(m[1]), "mm"), named.replace(LENGTH_UNIT, "inches"))


def plain(text: str) -> str:
    """A sentence in mm, for files and for whoever compares texts."""
    return text.replace(_MARK, "").replace(_ROUGH_MARK, "")
