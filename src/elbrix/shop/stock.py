"""Bars on the rack."""

from __future__ import annotations

from enum import StrEnum
from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH

#: A bar is called by a size it is this near to, mm.
_AS_NAMED_MM: Final = 0.005


class Finish(StrEnum):
    """The surface a bar was bought with."""

    BRIGHT = "bright"
    GROUND = "ground"
    ROLLED = "rolled"
    SAWN = "sawn"


class Form(StrEnum):
    """Its section."""

    FLAT = "flat"  #: width × height, square bars too
    ROUND = "round"
    HEXAGON = "hexagon"  #: width across the flats


class Bar(Struct, frozen=True, kw_only=True):
    """A bar on the rack and what is left of it."""

    id: str
    form: Form = Form.FLAT
    width_mm: float  #: diameter of a round bar, across the flats of a hexagon
    height_mm: float = 0.0  #: 0 for a round bar or a hexagon
    length_mm: float  #: what is left
    material: str = "mild steel"
    finish: Finish = Finish.BRIGHT
    rack: str = ""  #: where it lies
    full_length_mm: float = 0.0  #: as bought, for the picture; 0: not known
    guessed: str = ""  #: how the material was guessed, when it was: "magnet and file"

    def __post_init__(self) -> None:
        if not (self.width_mm > 0 and self.length_mm >= 0 and (self.form is not Form.FLAT or self.height_mm > 0)):
            raise ShopError(
                "Bar",
                "a section or length of nothing",
                "A bar has a section and a length left",
                "Measure it again",
                entry="width",
            )

    @property
    def title(self) -> str:
        return f"{section_text(self.form, self.width_mm, self.height_mm)} {self.finish.value} {self.material}"


def section_text(form: Form, width_mm: float, height_mm: float = 0.0, *, inch: bool | None = None) -> str:
    """A section as it is sold, with its unit: "20 × 16 mm", "Ø1 1/4 in", "17 mm hexagon".

    Inch stock is called by its fractions whatever the shop shows, as its label on the rack says: sizes that are sixteenths and
    no whole millimetres.

    Args:
        form: Of the section.
        width_mm: Ø, or across the flats.
        height_mm: Of a flat.
        inch: Sold in inches; None: as its sizes say.
    """
    sizes = (width_mm, height_mm) if form is Form.FLAT else (width_mm,)
    sixteenths = [s / MM_PER_INCH * 16 for s in sizes]
    if inch is None:
        whole_mm = all(abs(s - round(s)) < _AS_NAMED_MM for s in sizes)
        inch = not whole_mm and all(abs(n - round(n)) * MM_PER_INCH / 16 < _AS_NAMED_MM for n in sixteenths)
    named = [inches_text(round(n)) for n in sixteenths] if inch else [f"{s:g}" for s in sizes]
    text = f"{' × '.join(named)} {'in' if inch else 'mm'}"
    return {Form.ROUND: f"Ø{text}", Form.HEXAGON: f"{text} hexagon"}.get(form, text)


def inches_text(sixteenths: int) -> str:
    """Sixteenths of an inch as they are said: "3/4", "1 1/4", "2"."""
    whole, part = divmod(Fraction(sixteenths, 16), 1)
    return " ".join(str(p) for p in (whole, part) if p) or "0"
