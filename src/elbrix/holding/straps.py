"""A strap clamp as a lever: force of the tip, height of the heel, bending, and what the stud does to the slot. N, mm, MPa."""

from __future__ import annotations

from typing import Final

from msgspec import Struct

from elbrix.design.slot_nut import SHORT_PITCHES, nut_for, nut_length_mm, straight_in_ring_mm
from elbrix.mechanics.tightened import PulledNut, screw_load
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Points
from elbrix.results.formulas import Worked, term, worked
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.workholding import Clamp, SupportBlock
from elbrix.standards.materials import material, proof_mpa
from elbrix.standards.threads import Thread

#: From the very end of a strap to where its tip presses, and from its other end to the heel.
NOSE_MM: Final = 4.0
HEEL_END_MM: Final = 6.0
#: The heel may stand this much above the work before the strap slides off it; a hair below is already wrong.
HEEL_HIGH_MM: Final = 3.0


def heel_arm_mm(clamp: Clamp, tip_arm_mm: float) -> float:
    """Stud to heel, for a stud that far from the tip."""
    return clamp.length_mm - NOSE_MM - HEEL_END_MM - tip_arm_mm


def bending_share(clamp: Clamp, tip_n: float, tip_arm_mm: float) -> Worked:
    """Bending stress under the stud, where the slot weakens it, over what the clamp yields at."""
    return worked(
        "6·F·arm/((b − slot)·t²)/yield",
        term(tip_n, 1, "N"),
        term(tip_arm_mm, 2),
        clamp.width_mm,
        clamp.slot_width_mm,
        clamp.thickness_mm,
        term(clamp.yield_mpa, 0, "MPa"),
    )


class Heel(Struct, frozen=True):
    """What stands under the heel."""

    block: SupportBlock | None
    height_mm: float  #: it is set to; 0: nothing owned reaches


def heel_for(shop: Shop, wanted_mm: float) -> Heel:
    """The owned block that comes level with the work, or a hair above: the least too high."""
    best: Heel | None = None
    for block in shop.supports:
        height = block.height_for(wanted_mm) if block.count > 0 else None
        if height is not None and (best is None or height < best.height_mm):
            best = Heel(block, height)
    return best or Heel(None, 0.0)


def lips_under_stud(slot: TSlot, thread: Thread, strength_class: str, pull_n: float, named: Points) -> tuple[Check, ...]:
    """What a stud does to itself and to the slot's lips, through a nut of mild steel that fits the slot as measured.

    Empty when no nut does.
    """
    if slot.neck is None or slot.lip is None or slot.head is None or slot.depth is None:
        return ()
    try:
        nut = nut_for(slot.neck.min, slot.lip.min, slot.lip.max, slot.head.min, slot.depth.min)
    except ShopError:
        return ()
    longest = straight_in_ring_mm(slot.ring_radius_mm, slot.neck.min, nut.neck_width, slot.head.min, nut.head_width)
    pulled = PulledNut(
        thread=thread,
        engaged_mm=nut.neck_height + nut.head_height - SHORT_PITCHES * thread.pitch_mm,
        neck=nut.neck_width,
        head=nut.head_width,
        head_height=nut.head_height,
        length=nut_length_mm(nut.head_width, longest),
        yield_mpa=material("mild steel").yield_mpa,
        proof=proof_mpa(strength_class, thread.major_mm).value,
        slot_neck=(slot.neck.min, slot.neck.max),
        slot_head=slot.head.max,
        lip=slot.lip.min,
    )
    checks = pulled.lip_checks(pull_n, dict.fromkeys(("bearing", "lip_shear", "lip_bending", "flange"), named))
    return (screw_load("stud", "Stud load", pull_n, thread, strength_class, named), *(c for c in checks if c.key != "flange"))
