"""How far a stack may be off: its blocks' limits, wringing, temperature; line by line, worst case and root-sum-square."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec import Struct

from elbrix.results.figures import format_number
from elbrix.standards.fits import block_limit_um

WRING_UM: Final = 0.05  #: one wrung joint
REFERENCE_C: Final = 20.0  #: ISO 1


class StackBudgetLine(Struct, frozen=True):
    """One contribution, µm: how far it may be off at worst, and its part of the root-sum-square."""

    label: str
    worst_um: float
    rss_um: float
    how: str  #: in words and numbers


class StackUncertainty(Struct, frozen=True):
    """All contributions."""

    lines: tuple[StackBudgetLine, ...]

    @property
    def worst_um(self) -> float:
        return math.fsum(line.worst_um for line in self.lines)

    @property
    def rss_um(self) -> float:
        return math.sqrt(math.fsum(line.rss_um**2 for line in self.lines))


def block_u_um(length_mm: float, grade: str, calibrated_u_um: float | None = None) -> float:
    """How far one block may be off: its calibration's uncertainty, or the limit of its grade (ISO 3650, te).

    Raises:
        ShopError: A grade or length outside ISO 3650.
    """
    return block_limit_um(length_mm, grade, "te").value if calibrated_u_um is None else calibrated_u_um


def stack_uncertainty(
    limits_um: Sequence[float], *, height_mm: float = 0.0, difference_k: float = 0.0, expansion_um_m_k: float = 11.5
) -> StackUncertainty:
    """Of one stack.

    Args:
        limits_um: How far each of its pieces may be off.
        height_mm: Of the stack, for the temperature.
        difference_k: How much warmer or colder the blocks may be than the work, K, ≥ 0.
        expansion_um_m_k: Of the blocks.
    """
    joints = max(0, len(limits_um) - 1)
    lines = [
        StackBudgetLine(
            "Block lengths",
            math.fsum(limits_um),
            math.hypot(*limits_um),
            ", ".join(format_number(v, 2) for v in limits_um) + " µm",
        ),
        StackBudgetLine("Wringing", WRING_UM * joints, WRING_UM * math.sqrt(joints), f"{joints} joints of {WRING_UM} µm"),
    ]
    if difference_k > 0:
        off = height_mm * expansion_um_m_k * difference_k / 1000
        how = f"{format_number(height_mm)} mm · {expansion_um_m_k:g} µm/(m·K) · {difference_k:g} K"
        lines.append(StackBudgetLine("Blocks warmer than the work", off, off, how))
    return StackUncertainty(tuple(lines))
