"""Where along a table something bolted can stand: a straight slot, or one half of a ring slot. mm from the table's middle."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.shop.machines import Machine
from elbrix.shop.slots import TSlot

_HALVES: Final = (("far half", 1.0), ("near half", -1.0))


class Run(Struct, frozen=True, kw_only=True):
    """One line to stand on. An x has one place on it."""

    label: str  #: what a layout calls it
    slot: TSlot
    side: float = 0.0  #: of a ring: +1 its half away from the operator, −1 the near one

    def y(self, x: float) -> float:
        """Of its middle at an x; of a ring's ends beyond them."""
        if not self.side:
            return self.slot.offset_mm
        return self.side * math.sqrt(max(0.0, self.slot.ring_radius_mm**2 - x * x))

    def reaches(self, x: float) -> bool:
        """Whether there is slot at that x; a straight one is as long as the table."""
        return not self.side or abs(x) <= self.slot.ring_radius_mm


def runs(machine: Machine, *, rings: bool = False) -> tuple[Run, ...]:
    """All of a machine's, straight ones first.

    Args:
        rings: A bolt with a nut stands in a ring slot, too; a tongue does not.
    """
    straight = [Run(label=s.label, slot=s) for s in machine.slots if s.straight]
    round_ = [Run(label=f"{s.label}, {words}", slot=s, side=k) for s in machine.slots if not s.straight for words, k in _HALVES]
    return (*straight, *(round_ if rings else ()))


def run_of(machine: Machine, label: str, *, rings: bool = True) -> Run | None:
    """One by its label."""
    return next((r for r in runs(machine, rings=rings) if r.label == label), None)
