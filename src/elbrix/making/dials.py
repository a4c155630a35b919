"""Numbers as the machine shows them: on a readout, or as handwheel turns and divisions with the backlash taken up."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.quantities.lengths import MM_PER_INCH, round_to_step, rounding_mm, show
from elbrix.shop.machines import Axis, Machine, MachineKind

#: Two numbers nearer than this are one, mm.
_SAME_MM: Final = 1e-6


class DialNumber(Struct, frozen=True):
    """One position as it is set."""

    text: str  #: "−11.850", or "3 turns + 92 div"
    set_mm: float  #: what the dial really sets, mm
    off_mm: float  #: set less wanted
    approach: str  #: how to come to it; empty on a readout

    @property
    def is_exact(self) -> bool:
        return abs(self.off_mm) < 1e-6


def on_dial(machine: Machine, axis: str, wanted_mm: float, unit: str = "mm") -> DialNumber:
    """A position on one axis of a machine, counted from its zero.

    With a readout the number is rounded to its step; without one it becomes turns and divisions. Zero and every position are set
    coming in the + direction, so the backlash always lies on the same side.
    """
    wheel = machine.axes.get(axis)
    if machine.readout_step_mm > 0 or wheel is None:
        step = machine.readout_step_mm or 0.01
        if unit == "in":
            step_in = max(0.0001, round_to_step(step / 25.4, 0.0001))
            off = rounding_mm(wanted_mm, "in", step_in)
            return DialNumber(_signed(show(wanted_mm + off, "in", step_in)), wanted_mm + off, off, "")
        off = rounding_mm(wanted_mm, "mm", step)
        return DialNumber(_signed(show(wanted_mm, "mm", step)), wanted_mm + off, off, "")
    return on_handwheel(wheel, axis, wanted_mm, machine.kind, unit)


def division_mm(machine: Machine, axis: str, unit: str = "mm") -> float:
    """By how much a number of an axis goes from one to the next, mm: a division of the handwheel, or the readout's last step."""
    wheel = machine.axes.get(axis)
    if machine.readout_step_mm <= 0 and wheel is not None:
        return wheel.division_mm
    step = machine.readout_step_mm or 0.01
    return max(0.0001, round_to_step(step / MM_PER_INCH, 0.0001)) * MM_PER_INCH if unit == "in" else step


def within_limits(
    machine: Machine, axis: str, wanted_mm: float, off_mm: tuple[float, float], leaves: int, unit: str = "mm"
) -> DialNumber:
    """The number next to a wanted one that lies within limits; where none does, the next one that leaves metal on.

    Args:
        off_mm: How far it may be off the wanted one, down and up, mm.
        leaves: Which way leaves metal on, +1 or −1.
    """
    step = division_mm(machine, axis, unit)
    nearest = on_dial(machine, axis, wanted_mm, unit).set_mm
    near = [on_dial(machine, axis, nearest + k * step, unit) for k in (-1, 0, 1)]
    found = [replace(dial, off_mm=dial.set_mm - wanted_mm) for dial in near]
    low, high = off_mm
    inside = [dial for dial in found if low - _SAME_MM <= dial.off_mm <= high + _SAME_MM]
    leaving = [dial for dial in found if dial.off_mm * leaves > 0]
    return min(inside or leaving, key=lambda dial: abs(dial.off_mm))


def _signed(text: str) -> str:
    return text.replace("-", "−") if text.startswith("-") else text


def _way(mm: float, unit: str, step_mm: float) -> str:
    """A way in a sentence: "0.7", "0.028 in"."""
    return show(mm, "mm", step_mm) if unit == "mm" else f"{mm / MM_PER_INCH:.3f} in"


def on_handwheel(wheel: Axis, axis: str, wanted_mm: float, kind: MachineKind, unit: str = "mm") -> DialNumber:
    """A position in turns and divisions, whatever else the machine shows; to the nearest division."""
    lathe = kind is MachineKind.LATHE
    total = round(abs(wanted_mm) / wheel.division_mm)
    turns, divisions = divmod(total, wheel.divisions)
    set_mm = math.copysign(total * wheel.division_mm, wanted_mm) if total else 0.0
    parts = [f"{turns} turn{'s' if turns != 1 else ''}"] if turns else []
    if divisions or not turns:
        parts.append(f"{divisions} div")
    text = " + ".join(parts)
    past = wheel.backlash_mm + wheel.mm_per_turn / 4
    if lathe and axis == "Z":
        # The carriage: minus is toward the chuck, where every cut goes.
        text = f"left {text}" if set_mm < 0 else f"right {text}" if set_mm > 0 else text
        approach = "come to it going left, toward the chuck"
    elif lathe:
        approach = "come to it feeding in; if you overran, go back half a turn and come again"
    elif axis == "Z" and kind in (MachineKind.KNEE, MachineKind.HORIZONTAL):
        # The knee goes up into the cutter: less than zero is a knee raised, and its weight keeps it on one flank of its screw.
        text = f"knee up {text}" if set_mm < 0 else f"knee down {text}" if set_mm > 0 else text
        approach = "raise the knee to it; if you overran, lower it half a turn and come up again"
    elif axis == "Z":
        # Weight keeps a head on one flank of its screw, so Z is always set going down.
        text = f"down {text}" if set_mm < 0 else f"up {text}" if set_mm > 0 else text
        approach = (
            f"come down to it, never back up to it: {_way(wheel.backlash_mm, unit, 0.01)} backlash"
            if wheel.backlash_mm
            else "come down to it"
        )
    elif set_mm < 0:
        on_ring = (wheel.divisions - divisions) % wheel.divisions
        text = f"back {text}"
        approach = (
            f"go {_way(past, unit, 0.1)} past it, then come forward to {on_ring} on the ring:"
            f" the {_way(wheel.backlash_mm, unit, 0.01)} backlash is taken up"
        )
    else:
        approach = f"come forward to it; if you overran, go back {_way(past, unit, 0.1)} and come again"
    return DialNumber(text, set_mm, set_mm - wanted_mm, approach)
