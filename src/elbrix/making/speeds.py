"""Spindle speed and feed: guidance from conservative tables, set to a step the machine has."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.results.figures import Derivation, format_number
from elbrix.shop.machines import Machine
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import Material

#: Feed per tooth of an HSS end mill in mild steel per mm of diameter, and its ceiling, mm. Guidance, on the careful side.
_FZ_PER_MM, _FZ_MOST = 0.004, 0.08
_RIGIDITY: Final = {"light": 0.6, "medium": 0.8, "heavy": 1.0}
#: Share of the milling speed.
_SLOWER: Final = {
    CutterKind.DRILL: 0.8,
    CutterKind.REAMER: 0.35,
    CutterKind.TAP: 0.25,
    CutterKind.DIE: 0.25,
    CutterKind.COUNTERSINK: 0.35,
    CutterKind.SPOT_DRILL: 0.7,
    CutterKind.SLITTING_SAW: 0.6,
}


class Speed(Struct, frozen=True):
    """What to set."""

    rpm: int
    feed_mm_min: float
    seconds_per_turn: float  #: of the handwheel that feeds; 0 when it is not known
    derivation: Derivation
    caution: str = ""


def speed_for(machine: Machine, cutter: Cutter, stock: Material, axis: str = "X") -> Speed:
    """Revolutions per minute to the next lower step owned, and the feed that goes with them.

    rpm = 1000·v/(π·D); feed = rpm·z·fz. Without recorded steps the calculated speed stands, and says so.
    """
    v = (stock.carbide_m_min if cutter.material == "carbide" else stock.hss_m_min) * _SLOWER.get(cutter.kind, 1.0)
    wanted = 1000 * v / (math.pi * cutter.diameter_mm)
    caution = ""
    steps = sorted(machine.speeds_rpm)
    if not steps:
        rpm, note = round(wanted / 10) * 10 or 1, "no speed steps recorded"
    elif wanted < steps[0]:
        rpm, note = steps[0], f"slowest step of {machine.name}"
        caution = (
            f"The slowest step is {rpm / wanted:.1f} times the table's speed: light cuts, plenty of fluid, or a smaller cutter"
        )
    else:
        rpm, note = max(s for s in steps if s <= wanted), f"next lower step of {machine.name}"
    fz = _feed_per_tooth(cutter, stock, machine)
    feed = rpm * cutter.teeth * fz
    wheel = machine.axes.get(axis)
    derivation = Derivation(
        "1000·v/(π·D), to the next lower step; feed = rpm·z·fz",
        f"1000·{format_number(v, 1)}/(π·{format_number(cutter.diameter_mm)}) = {wanted:.0f} → {rpm};"
        f" {rpm}·{cutter.teeth}·{format_number(fz)} = {feed:.0f} mm/min",
        f"{stock.name}, {cutter.material}; {note}; guidance, the cutter maker's figures first",
    )
    return Speed(rpm, feed, 60 * wheel.mm_per_turn / feed if wheel and feed > 0 else 0.0, derivation, caution)


def _feed_per_tooth(cutter: Cutter, stock: Material, machine: Machine) -> float:
    careful = _RIGIDITY.get(machine.rigidity, 0.8)
    if cutter.kind is CutterKind.REAMER:
        return 0.02 * cutter.diameter_mm / cutter.teeth  # twice a drill's feed, at less than half its speed
    if cutter.kind is CutterKind.DRILL:
        return 0.01 * cutter.diameter_mm / cutter.teeth * careful
    if cutter.kind is CutterKind.SLITTING_SAW:
        return 0.01 * careful
    return min(_FZ_MOST, _FZ_PER_MM * cutter.diameter_mm) * stock.fz_factor * careful
