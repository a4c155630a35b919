"""Bars on the rack."""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct

from elbrix.quantities.errors import ShopError


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
        section = {Form.ROUND: f"Ø{self.width_mm:g}", Form.HEXAGON: f"{self.width_mm:g} hexagon"}.get(
            self.form, f"{self.width_mm:g} × {self.height_mm:g}"
        )
        return f"{section} {self.finish.value} {self.material}"
