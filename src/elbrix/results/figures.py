"""A number that can show its working, and says whether it was measured, chosen, calculated or assumed."""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct


class Origin(StrEnum):
    """Where a number came from. Told apart on screen by form, not only by colour."""

    MEASURED = "measured"
    CHOSEN = "chosen"
    CALCULATED = "calculated"
    ASSUMED = "assumed"
    STANDARD = "from a table"


class Derivation(Struct, frozen=True):
    """How a number came about, in the order one would write it on paper."""

    formula: str  #: "neck = tightest slot neck − clearance"
    with_numbers: str  #: "12.05 − 0.30, down to 0.1"
    source: str = ""  #: rule, standard or measurement it rests on


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


def format_number(value: float, places: int = 3) -> str:
    """A number for a line of working: short, but never a rounded-away digit that matters."""
    text = f"{value:.{places}f}".rstrip("0").rstrip(".") if places else f"{value:.0f}"
    return "0" if text == "-0" else text
