"""How far a stack may be off: its blocks' limits, wringing, temperature; line by line, worst case and root-sum-square."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from elbrix.quantities.figures import num
from elbrix.standards.fits import block_limit_um

WRING_UM: Final = 0.05  #: one wrung joint
REFERENCE_C: Final = 20.0  #: ISO 1


@dataclass(frozen=True, slots=True)
class Line:
    """One contribution, µm: how far it may be off at worst, and its part of the root-sum-square."""

    label: str
    worst_um: float
    rss_um: float
    how: str  #: in words and numbers


@dataclass(frozen=True, slots=True)
class StackUncertainty:
    """All contributions."""

    lines: tuple[Line, ...]

    @property
    def worst_um(self) -> float:
        return math.fsum(line.worst_um for line in self.lines)

    @property
    def rss_um(self) -> float:
        return math.sqrt(math.fsum(line.rss_um**2 for line in self.lines))


def stack_uncertainty(
    lengths_mm: Sequence[float],
    grade: str,
    *,
    calibration_u_um: Sequence[float | None] = (),
    height_mm: float | None = None,
    difference_k: float = 0.0,
    expansion_um_m_k: float = 11.5,
) -> StackUncertainty:
    """Of one stack.

    Args:
        lengths_mm: Nominal lengths of its blocks.
        grade: ISO 3650 grade, for blocks without a calibration.
        calibration_u_um: By block, the uncertainty of its calibrated length; None: its grade's limit counts.
        height_mm: Of the stack; None: the sum.
        difference_k: How much warmer or colder the blocks may be than the work, K, ≥ 0.
        expansion_um_m_k: Of the blocks.

    Raises:
        ShopError: A grade or length outside ISO 3650.
    """
    by_block = calibration_u_um or [None] * len(lengths_mm)
    limits = [
        block_limit_um(length, grade, "te").value if u is None else u for length, u in zip(lengths_mm, by_block, strict=True)
    ]
    counted = sum(u is not None for u in by_block)
    source = (
        f"grade {grade}, ISO 3650" if not counted else "calibrated" if counted == len(limits) else f"grade {grade} and calibrated"
    )
    joints = max(0, len(lengths_mm) - 1)
    lines = [
        Line(
            "Block lengths",
            math.fsum(limits),
            math.hypot(*limits) if limits else 0.0,
            f"{source}: " + ", ".join(num(v, 2) for v in limits),
        ),
        Line("Wringing", WRING_UM * joints, WRING_UM * math.sqrt(joints), f"{joints} joints of {WRING_UM} µm"),
    ]
    if difference_k > 0:
        height = math.fsum(lengths_mm) if height_mm is None else height_mm
        off = height * expansion_um_m_k * difference_k / 1000
        lines.append(
            Line(
                "Blocks warmer than the work", off, off, f"{num(height)} mm · {expansion_um_m_k:g} µm/(m·K) · {difference_k:g} K"
            )
        )
    return StackUncertainty(tuple(lines))
