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
#: Where no steps are recorded, the slowest is taken to be this share of the table's speed.
_SLOWEST: Final = 0.25


class Speed(Struct, frozen=True):
    """What to set."""

    rpm: int
    feed_mm_min: float
    seconds_per_turn: float  #: of the handwheel that feeds; 0 when it is not known
    derivation: Derivation
    caution: str = ""


def speed_for(
    machine: Machine, cutter: Cutter, stock: Material, axis: str = "X", *, share: float = 1.0, most_rpm: float = math.inf
) -> Speed:
    """Revolutions per minute to the next lower step owned, and the feed that goes with them.

    rpm = 1000·v/(π·D); feed = rpm·z·fz. Without recorded steps the calculated speed stands, and says so.

    Args:
        machine: Whose steps are taken.
        cutter: Its Ø, or that of the work it stands for on a lathe.
        stock: What is cut.
        axis: That feeds.
        share: Of the table's speed: what digs in or grabs goes slower.
        most_rpm: What is not balanced turns no faster.
    """
    v = (stock.carbide_m_min if cutter.material == "carbide" else stock.hss_m_min) * _SLOWER.get(cutter.kind, 1.0) * share
    wanted = 1000 * v / (math.pi * cutter.diameter_mm)
    held_back, wanted = wanted > most_rpm, min(wanted, most_rpm)
    caution = ""
    steps = sorted(machine.speeds_rpm)
    if not steps:
        rpm, note = max(1, int(wanted / 10) * 10), "no speed steps recorded"
    elif wanted < steps[0] and held_back:
        rpm, note = steps[0], f"slowest step of {machine.name}"
        caution = f"Balance it first: {machine.name} turns no slower than {rpm} rpm, and it throws from {most_rpm:.0f} rpm on"
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
        (
            f"no faster than {most_rpm:.0f} → {rpm};"
            if held_back
            else f"1000·{format_number(v, 1)}/(π·{format_number(cutter.diameter_mm)}) = {wanted:.0f} → {rpm};"
        )
        + f" {rpm}·{cutter.teeth}·{format_number(fz)} = {feed:.0f} mm/min",
        f"{stock.name}, {cutter.material}; {note}; guidance, the cutter maker's figures first",
    )
    return Speed(rpm, feed, 60 * wheel.mm_per_turn / feed if wheel and feed > 0 else 0.0, derivation, caution)


def slowest_for(machine: Machine, cutter: Cutter, stock: Material, axis: str = "X") -> Speed:
    """The slowest step, for what is rolled in or chased up to a stop; where none is recorded a quarter of the table's speed."""
    steps = sorted(machine.speeds_rpm)
    return speed_for(machine, cutter, stock, axis, share=_SLOWEST if not steps else 1.0, most_rpm=steps[0] if steps else math.inf)


def _feed_per_tooth(cutter: Cutter, stock: Material, machine: Machine) -> float:
    careful = _RIGIDITY.get(machine.rigidity, 0.8)
    if cutter.kind is CutterKind.REAMER:
        return 0.02 * cutter.diameter_mm / cutter.teeth  # twice a drill's feed, at less than half its speed
    if cutter.kind is CutterKind.DRILL:
        return 0.01 * cutter.diameter_mm / cutter.teeth * careful
    if cutter.kind is CutterKind.SLITTING_SAW:
        return 0.01 * careful
    return min(_FZ_MOST, _FZ_PER_MM * cutter.diameter_mm) * stock.fz_factor * careful
