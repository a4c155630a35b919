"""At the machine with a readout that is heard: how far each axis has to go, whether it is there, and a slip before the cut."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from msgspec import Struct

from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.rehearsal.keyed import Wrong, cause_of
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

#: A slide stands there when it is this near, or one step of its readout, mm.
_THERE_MM: Final = 0.005
#: What is only told when the number fits it exactly: a slide that is still on its way passes through many numbers.
_TELLING: Final = frozenset({"sign", "axis", "unit", "diameter", "decimal", "tool_allowance", "turn", "backlash"})


def machine_of(setup: Setup, plan: Plan, shop: Shop) -> Machine | None:
    """The machine a setup runs on; None for one that was assumed."""
    id = setup.machine_id or plan.machine_id
    return next((m for m in shop.machines if m.id == id), None)


class AxisLeft(Struct, frozen=True, kw_only=True):
    """One axis of the move in hand."""

    axis: str
    stands_mm: float  #: as the readout says
    left_mm: float  #: still to go, with its sign
    there: bool
    way: str  #: "+" or "−" of the readout
    slip: str  #: what was probably done wrong, when it stands still where a known slip would put it; else ""


def axes_left(
    setup: Setup, operation: Operation, move: Move, stands: Mapping[str, float], machine: Machine | None, *, still: bool
) -> tuple[AxisLeft, ...]:
    """The axes of a move that the readout tells, in the order of the card.

    Args:
        stands: Axis → what the readout says, mm on the dial (diameter where the lathe's dial reads it).
        machine: The one it is cut on; None when it is not known.
        still: The slides have stopped: only then a wrong place is a slip.
    """
    return tuple(
        _left(setup, operation, move, p, stands[p.axis], machine, still=still) for p in move.positions if p.axis in stands
    )


def _left(
    setup: Setup, operation: Operation, move: Move, position: Position, stands: float, machine: Machine | None, *, still: bool
) -> AxisLeft:
    left = position.dial.set_mm - stands
    step = machine.readout_step_mm if machine is not None else 0.0
    there = abs(left) <= max(step, _THERE_MM) + 1e-9
    slip = ""
    if still and not there:
        cause, words = cause_of(
            Wrong(
                setup=setup,
                operation=operation,
                move=move,
                position=position,
                keyed_mm=stands,
                text=format_number(stands, 3),
                wheel=machine.axes.get(position.axis) if machine is not None else None,
                readout=True,
                lathe=machine is not None and machine.kind is MachineKind.LATHE,
            )
        )
        slip = words if cause in _TELLING else ""
    return AxisLeft(axis=position.axis, stands_mm=stands, left_mm=left, there=there, way="+" if left > 0 else "−", slip=slip)
