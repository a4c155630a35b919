"""Heat treatment of the shop's metals: temperatures, soaking, how they are cooled. Reference: the supplier's figures first."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.standards.tables import not_in_table, table

#: Treatments in the order of asking, in words.
TREATMENTS: Final = (
    ("", "no heat treatment"),
    ("stress relief", "stress relieved before the first cut"),
    ("anneal", "annealed before the first cut"),
    ("harden", "hardened and tempered"),
    ("case", "case hardened"),
    ("blacken", "blackened in oil"),
)
#: Depth of a case after an hour at 925 °C, mm; it grows with the root of the time. Source: Harris's rule, 0.025 in·√h.
CASE_MM_PER_ROOT_HOUR: Final = 0.635


class Treatment(Struct, frozen=True, kw_only=True):
    """One treatment of one metal."""

    low_c: float
    high_c: float
    least_min: float
    min_per_mm: float
    cool: str
    temper_low_c: float = 0.0  #: 0: not tempered
    temper_high_c: float = 0.0

    def soak_min(self, section_mm: float) -> float:
        """Minutes at heat for the thickest section, up to 5; never under the least."""
        return max(self.least_min, 5 * math.ceil(self.min_per_mm * section_mm / 5 - 1e-9))


def treatment(kind: str, material: str) -> Treatment:
    """The treatment of a metal.

    Raises:
        ShopError: The metal cannot be treated so.
    """
    rows = table("heat")[kind]
    if material not in rows:
        raise not_in_table("Heat treatment", f"{material}, {kind}", list(rows))
    return Treatment(**rows[material])


def case_hours(depth_mm: float) -> float:
    """Hours in the carburizing pack at 925 °C for a case: (depth/0.635)²."""
    return (depth_mm / CASE_MM_PER_ROOT_HOUR) ** 2
