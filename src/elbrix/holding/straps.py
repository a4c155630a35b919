"""A strap clamp as a lever: force of the tip, height of the heel, bending, and what the stud does to the slot. N, mm, MPa."""

from __future__ import annotations

from functools import lru_cache
from typing import Final

from msgspec import Struct

from elbrix.design.family import Request, find_family, solve_for
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.workholding import Clamp, SupportBlock
from elbrix.standards.materials import PRELOAD_SCATTER, proof_mpa
from elbrix.standards.threads import Thread

#: From the very end of a strap to where its tip presses, and from its other end to the heel.
NOSE_MM: Final = 4.0
HEEL_END_MM: Final = 6.0
#: The heel may stand this much above the work before the strap slides off it; a hair below is already wrong.
HEEL_HIGH_MM: Final = 3.0
_LIPS: Final = ("lip_bending", "lip_shear", "bearing", "stud")


def heel_arm_mm(clamp: Clamp, tip_arm_mm: float) -> float:
    """Stud to heel, for a stud that far from the tip."""
    return clamp.length_mm - NOSE_MM - HEEL_END_MM - tip_arm_mm


def bending_mpa(clamp: Clamp, tip_n: float, tip_arm_mm: float) -> float:
    """Stress in the strap at its stud: F·arm over (b − slot)·t²/6."""
    return 6 * tip_n * tip_arm_mm / ((clamp.width_mm - clamp.slot_width_mm) * clamp.thickness_mm**2)


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


def screw_check(
    key: str, name: str, thread: Thread, strength_class: str, pull_n: float, torque: str, remedies: tuple[str, ...] = ()
) -> Check:
    """A screw or stud pulled to a preload, against its proof load with the scatter of the torque.

    Args:
        torque: Whole name of the torque's parameter.
        mends: Whole names of what may be changed; the torque when not said.
    """
    proof = proof_mpa(strength_class, thread.major_mm).value
    share = pull_n / (thread.stress_area_mm2 * proof)
    reason = (
        "past its proof load: it stretches for good, or breaks"
        if share > 1
        else (
            "at the high end of the torque scatter it may stretch"
            if share * (1 + PRELOAD_SCATTER) > 1
            else "below its proof load even when the torque scatters high"
        )
    )
    return Check(
        key=key,
        label=f"Screw load, {name}",
        value=share * 100,
        unit="%",
        limits=Limits(marginal_above=100 / (1 + PRELOAD_SCATTER), no_above=100),
        features=(name,),
        figures=(torque,),
        remedies=remedies or (torque,),
        reason=reason,
        derivation=Derivation(
            "F/(stress area × proof stress)",
            f"{format_number(pull_n, 0)} N/({format_number(thread.stress_area_mm2, 1)} mm² × {proof:.0f} MPa)",
            f"ISO 898-1, class {strength_class}",
        ),
    )


@lru_cache(maxsize=64)
def slot_checks_of_stud(slot: TSlot, thread: str, torque_nm: float) -> tuple[Check, ...]:
    """What the stud does to the slot's lips and to itself, through the nut that fits the slot as measured.

    Empty when no nut does.
    """
    family = find_family("t_nut")
    table = Machine(id="table", name="the table", kind=MachineKind.KNEE, slots=(slot,))
    try:
        chosen = {"torque": ParameterValue(torque_nm, Origin.CHOSEN), "thread": ParameterValue(thread, Origin.CHOSEN)}
        design = solve_for(family, Shop(machines=(table,)), Request(machine=table.id, slot=slot.label), chosen)
    except ShopError:
        return ()
    return tuple(c for c in design.checks if c.key in _LIPS)
