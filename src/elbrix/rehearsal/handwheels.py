"""Handwheels that can be turned: what the ring says, where the slide really stands, and what of that is lost motion.

A dial is zeroed coming in the direction of approach, so it is right whenever it was turned that way last. Turned back, the
screw runs through its backlash before it takes the slide along, and the slide stands off the dial by that much.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.rehearsal.at_readout import AxisLeft, axes_left, machine_of
from elbrix.rehearsal.keyed import keyed_text
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop

#: Machines whose knee rests on its screw: its weight keeps it on one flank.
_KNEES: Final = frozenset({MachineKind.KNEE, MachineKind.HORIZONTAL})


class Handwheel(Struct, frozen=True, kw_only=True):
    """One handwheel and its slide, mm from the zero of its dial."""

    axis: str
    wheel: Axis
    approach: int = 1  #: direction it is set in: +1 or −1; 0 where weight keeps it on one flank
    dial_mm: float = 0.0  #: what the dial says
    slide_mm: float = 0.0  #: where the slide stands

    def turned(self, divisions: float) -> Handwheel:
        """Turned by so many divisions; a slide at the end of its travel takes the wheel no further."""
        dial = self.dial_mm + divisions * self.wheel.division_mm
        far = self.wheel.travel_mm
        if far:
            dial = min(max(dial, -far), far)
        backlash = self.approach * self.wheel.backlash_mm
        low, high = sorted((dial, dial + backlash))
        return replace(self, dial_mm=dial, slide_mm=min(max(self.slide_mm, low), high))

    @property
    def lost_mm(self) -> float:
        """How far the slide stands from what the dial says."""
        return self.slide_mm - self.dial_mm

    @property
    def on_ring(self) -> float:
        """The division that stands at the mark, 0 up to the number of divisions."""
        per = self.wheel.divisions
        return round(self.dial_mm / self.wheel.division_mm, 6) % per

    @property
    def turns(self) -> int:
        """Whole turns from zero, away from it."""
        return math.trunc(round(self.dial_mm / self.wheel.turn_mm, 9))


class Slides(Struct, frozen=True, kw_only=True):
    """The handwheels of a machine at one move of a plan."""

    setup: Setup
    operation: Operation
    move: Move
    machine: Machine
    wheels: Mapping[str, Handwheel]

    def turned(self, axis: str, divisions: float) -> Slides:
        """One of them turned; an axis without a handwheel stays."""
        wheel = self.wheels.get(axis)
        return self if wheel is None else replace(self, wheels={**self.wheels, axis: wheel.turned(divisions)})

    @property
    def positions(self) -> tuple[Position, ...]:
        """Numbers of the move that a handwheel sets."""
        return tuple(p for p in self.move.positions if p.axis in self.wheels)

    def keyed(self) -> dict[str, str]:
        """Where the slides stand as it would be keyed beside the card: "MOVE.AXIS" → text."""
        return {
            f"{self.move.id}.{p.axis}": keyed_text(self.wheels[p.axis].slide_mm, p, self.machine, exactly=True)
            for p in self.positions
        }

    def left(self, *, still: bool) -> tuple[AxisLeft, ...]:
        """How far each slide is from the number of the card; `still` names the slip where it fits one."""
        stands = {p.axis: self.wheels[p.axis].slide_mm for p in self.positions}
        return axes_left(self.setup, self.operation, self.move, stands, self.machine, still=still)


def slides_at(plan: Plan, shop: Shop, move: str) -> Slides | None:
    """The handwheels as they stand before a move: where the moves before it in this setup left them, backlash taken up.

    None where nothing is turned: a move by hand, or a machine whose handwheels are not recorded.
    """
    found = next(((s, o, m) for s, o, m in plan.moves if m.id == move), None)
    if found is None:
        return None
    setup, operation, at = found
    machine = machine_of(setup, plan, shop)
    if machine is None or not any(p.axis in machine.axes for p in at.positions):
        return None
    wheels = {axis: Handwheel(axis=axis, wheel=wheel, approach=_approach(machine, axis)) for axis, wheel in machine.axes.items()}
    for before in setup.moves:
        if before.id == at.id:
            break
        for p in before.positions:
            if p.axis in wheels:
                wheels[p.axis] = replace(wheels[p.axis], dial_mm=p.dial.set_mm, slide_mm=p.dial.set_mm)
    return Slides(setup=setup, operation=operation, move=at, machine=machine, wheels=wheels)


def _approach(machine: Machine, axis: str) -> int:
    """As the dial numbers of a plan are set: a mill's X and Y forward, its head down, a lathe inward and toward the chuck."""
    if axis == "Z" and machine.kind in _KNEES:
        return 0
    return -1 if axis == "Z" or machine.kind is MachineKind.LATHE else 1
