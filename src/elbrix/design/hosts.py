"""What an accessory goes on: the vise and the slot that were measured, or a usual one that says it was not."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from elbrix.design.family import Request
from elbrix.design.slot_nut import fitting_bolt
from elbrix.parameters.parameter import Values
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Origin
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.workholding import Vise

#: Stand-ins, marked as assumed wherever a number comes from them.
BOOK_NECK: Final = Readings(values_mm=(12.0,))
_USUAL_VISE: Final = Vise(
    id="", name="a 125 mm vise, assumed", jaw_width_mm=125, jaw_height_mm=40, bed_height_mm=55, opening_mm=120
)


def vise_of(shop: Shop, name: str = "") -> tuple[Vise, bool]:
    """The vise of that name, else the first whose jaw screws were measured, else the first; and whether it is there at all."""
    for vise in shop.vises:
        if name and name.lower() in (vise.id.lower(), vise.name.lower()):
            return vise, True
    screwed = [v for v in shop.vises if v.jaw_screw_spacing_mm > 0]
    found = next(iter(screwed or shop.vises), None)
    return (found, True) if found is not None else (_USUAL_VISE, False)


def slot_of(shop: Shop, request: Request) -> tuple[Readings, str, bool]:
    """Neck of the straight slot that was asked for, else of the first measured; where from; whether it was measured."""
    for machine, slot in shop.measured_slots():
        if (
            slot.straight
            and slot.neck is not None
            and request.machine in ("", machine.id, machine.name)
            and request.slot in ("", slot.label)
        ):
            return slot.neck, f"{machine.name}, {slot.label}", True
    return BOOK_NECK, "not measured: book slot for 12 mm", False


def table_of(shop: Shop, request: Request, *, rotary: bool = False) -> tuple[Machine | None, TSlot | None]:
    """The table something is bolted to and a slot of it: the one asked for, or the first of its kind."""
    found = [(m, t) for m, t in shop.measured_slots() if request.machine in (m.id, m.name) or m.kind is not MachineKind.LATHE]
    asked = [(m, t) for m, t in found if request.machine in (m.id, m.name) and request.slot in ("", t.label)]
    kind = [(m, t) for m, t in found if (m.kind is MachineKind.ROTARY_TABLE) is rotary]
    if asked and (asked[0][0].kind is MachineKind.ROTARY_TABLE) is rotary:
        return asked[0]
    return kind[0] if kind else asked[0] if asked and not rotary else (None, None)


def measured_check(v: Values, name: str = "neck") -> list[Check]:
    """A word of caution where a book slot stands in for one that was not measured; nothing where it was."""
    if v[name].origin is not Origin.ASSUMED:
        return []
    return [
        Check(
            key="slot_measured",
            label="Slot measurements",
            value=0,
            unit="",
            limits=Limits(marginal_below=1),
            text="none",
            features=("slots", "slot"),
            figures=(name,),
            reason="a book slot stands in: measure yours before you cut",
        )
    ]


def pitch_of(machine: Machine) -> float:
    """Middle to middle of neighbouring straight slots, mean; 0 with one slot."""
    at = sorted(t.offset_mm for t in machine.slots if t.straight)
    return round((at[-1] - at[0]) / (len(at) - 1), 3) if len(at) > 1 else 0.0


def off_slots(y: float, pitch: float, *, over: bool) -> float:
    """From a place across the slots to the middle of the nearest one, mm.

    Args:
        pitch: Slot to slot; 0: only one.
        over: The middle, y = 0, lies over a slot, else between two.
    """
    if not pitch:
        return abs(y)
    start = 0.0 if over else pitch / 2
    return abs((y - start + pitch / 2) % pitch - pitch / 2)


def largest_bolt(neck: float, sizes: Iterable[str]) -> str:
    """The largest of some metric sizes that a T-nut for the slot takes; the smallest when none does."""
    return fitting_bolt(neck, tuple(sizes))
