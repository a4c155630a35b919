"""Pins that locate, and bores that something has to fit."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.figures import format_number


class Pin(Struct, frozen=True, kw_only=True):
    """Dowel or gauge pins of one size, as measured."""

    id: str
    diameter_mm: float
    length_mm: float
    count: int = 2

    def __post_init__(self) -> None:
        if not (0 < self.diameter_mm < 200 and 0 < self.length_mm < 2000):
            raise ShopError("Pin", "a pin of no size", "It has a diameter and a length", "Measure it", entry="diameter_mm")

    @property
    def title(self) -> str:
        return f"pin Ø{format_number(self.diameter_mm, 3)} × {self.length_mm:g}"


class Bore(Struct, frozen=True, kw_only=True):
    """A bore measured at several places and directions: of a casting, a quill housing, a rotary table."""

    id: str
    name: str
    smallest_mm: float  #: the smallest Ø found anywhere in it
    largest_mm: float
    depth_mm: float = 0.0  #: 0: right through, or not measured

    def __post_init__(self) -> None:
        if not (math.isfinite(self.largest_mm) and 0 < self.smallest_mm <= self.largest_mm):
            raise ShopError(
                self.name or "Bore",
                "a smallest Ø above the largest, or none",
                "What goes in is ruled by the smallest",
                "Measure it again, crosswise at both ends",
                entry="smallest_mm",
            )

    @property
    def title(self) -> str:
        return self.name

    @property
    def uneven_mm(self) -> float:
        return self.largest_mm - self.smallest_mm
