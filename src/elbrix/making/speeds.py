"""Spindle speed and feed: guidance from conservative tables, set to a step the machine has."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.mechanics.cutting import ARRIVES, cutting_power_w
from elbrix.mechanics.drilling import HALF_POINT_RAD
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.machines import Machine
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import Material

#: Feed per tooth of an HSS end mill in mild steel per mm of diameter, and its ceiling, mm. Guidance, on the careful side.
_FZ_PER_MM, _FZ_MAX = 0.004, 0.08
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
#: A feed is held back to no less than this share of the table's: under it an edge rubs instead of cutting. Source: shop practice.
_MIN_FEED: Final = 0.5
#: A turning tool that cuts over its whole width digs in: it goes at so much of the speed of turning. Source: shop practice.
PARTED_SHARE: Final = 0.5
#: Of a motor that has just enough nothing is said.
_JUST_ENOUGH: Final = 1.005


class Speed(Struct, frozen=True):
    """What to set."""

    rpm: int
    feed_mm_min: float
    seconds_per_turn: float  #: of the handwheel that feeds; 0 when it is not known
    derivation: Derivation
    caution: str = ""
    asks_w: float = 0.0  #: of the spindle; 0 where the cut or the motor is not known
    arrives_w: float = 0.0  #: at the spindle; 0 where the motor is not known

    @property
    def too_much(self) -> bool:
        """Whether the motor does not turn it, the feed held back as far as it may be."""
        return 0 < self.arrives_w * _JUST_ENOUGH < self.asks_w


def speed_for(
    machine: Machine,
    cutter: Cutter,
    stock: Material,
    axis: str = "X",
    *,
    share: float = 1.0,
    most_rpm: float = math.inf,
    takes_mm2: float = 0.0,
    width_mm: float = math.inf,
) -> Speed:
    """Revolutions per minute to the next lower step owned, and the feed that goes with them.

    rpm = 1000·v/(π·D); feed = rpm·z·fz. Without recorded steps the calculated speed stands, and says so. Where the cut would ask
    more than arrives at the spindle the feed is held back, then a lower step taken: the power of a belt or gear drive is the same
    at each.

    Args:
        machine: Whose steps are taken.
        cutter: Its Ø, or that of the work it stands for on a lathe.
        stock: What is cut.
        axis: That feeds.
        share: Of the table's speed: what digs in or grabs goes slower.
        most_rpm: What is not balanced turns no faster.
        takes_mm2: Metal in the way of its feed, across it; 0: not known. A drill takes its whole Ø.
        width_mm: How far the side of a mill is in the metal, at most its whole Ø: the less, the thinner and dearer its chips.
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
    takes = math.pi / 4 * cutter.diameter_mm**2 if cutter.kind is CutterKind.DRILL else takes_mm2
    held = _held_back(machine, cutter, stock, takes, width_mm, rpm, fz)
    feed = held.rpm * cutter.teeth * held.fz
    wheel = machine.axes.get(axis)
    back = (
        f" held back to the {format_number(held.arrives_w, 0)} W that arrive of {machine.name}’s motor: {held.rpm} rpm,"
        f" {format_number(held.fz, 4)} mm a tooth;"
        if held.rpm < rpm or held.fz < fz
        else ""
    )
    derivation = Derivation(
        "1000·v/(π·D), to the next lower step; feed = rpm·z·fz",
        (
            f"no faster than {most_rpm:.0f} → {rpm};"
            if held_back
            else f"1000·{format_number(v, 3)}/(π·{format_number(cutter.diameter_mm, 4)}) = {wanted:.0f} → {rpm};"
        )
        + back
        + f" {held.rpm}·{cutter.teeth}·{format_number(held.fz, 4)} = {feed:.0f} mm/min",
        f"{stock.name}, {cutter.material}; {note}; guidance, the cutter maker's figures first",
    )
    if held.asks_w > held.arrives_w * _JUST_ENOUGH > 0:
        caution = (
            f"It asks {held.asks_w:.0f} W of the spindle and {held.arrives_w:.0f} W arrive: it stalls and breaks."
            f" {_lighter(cutter, held, axis)}" + (f" {caution}" if caution else "")
        )
    return Speed(
        held.rpm,
        feed,
        60 * wheel.mm_per_turn / feed if wheel and feed > 0 else 0.0,
        derivation,
        caution,
        held.asks_w if held.arrives_w else 0.0,
        held.arrives_w,
    )


class _Held(Struct, frozen=True):
    """A speed and feed as the motor allows them."""

    rpm: int
    fz: float
    asks_w: float
    arrives_w: float


def _held_back(
    machine: Machine, cutter: Cutter, stock: Material, takes_mm2: float, width_mm: float, rpm: int, fz: float
) -> _Held:
    """Feed and step that the motor turns, or the gentlest there are."""
    arrives = machine.power_w * ARRIVES
    if not arrives or not takes_mm2:
        return _Held(rpm, fz, 0.0, arrives)
    slower = [s for s in sorted(machine.speeds_rpm, reverse=True) if s <= rpm] or [
        max(1, round(rpm * k)) for k in (1.0, 0.8, 0.65, 0.5, 0.4, _SLOWEST)
    ]
    for step in slower:
        asks = _asks_w(cutter, stock, takes_mm2, width_mm, step, fz)
        # P goes with the chip to 1 − mc: both the metal and what a thin chip costs more.
        share = min(1.0, (arrives / asks) ** (1 / (1 - stock.mc)))
        if share >= _MIN_FEED:
            return _Held(step, fz * share, min(asks, arrives), arrives)
    gentle = fz * _MIN_FEED
    return _Held(slower[-1], gentle, _asks_w(cutter, stock, takes_mm2, width_mm, slower[-1], gentle), arrives)


def _asks_w(cutter: Cutter, stock: Material, takes_mm2: float, width_mm: float, rpm: int, fz: float) -> float:
    """Of the spindle. A chip is the mean over the arc in the metal, for each of a drill's two lips half its feed a turn."""
    if cutter.kind is CutterKind.DRILL:
        chip = fz * cutter.teeth / 2 * math.sin(HALF_POINT_RAD)
    elif cutter.teeth == 1:  # a turning or boring tool is in the metal all the way round
        chip = fz
    else:
        share = min(1.0, width_mm / cutter.diameter_mm)
        chip = fz * 2 * share / math.acos(1 - 2 * share)
    return cutting_power_w(stock, takes_mm2 * rpm * cutter.teeth * fz, chip)


def _lighter(cutter: Cutter, held: _Held, axis: str) -> str:
    """What to do about a cut the motor does not turn."""
    share = held.arrives_w / held.asks_w
    if cutter.kind is CutterKind.END_MILL and axis == "Z" and cutter.teeth > 1:
        return "Straight down with a thinner cutter, then bored or milled out."
    if cutter.kind is not CutterKind.DRILL:
        return f"Take cuts of {share:.0%} of the depth."
    # Drilled out from this Ø, what is left of the area is what the motor turns; alone, nothing over this does it.
    before, alone = math.ceil(cutter.diameter_mm * math.sqrt(1 - share)), math.floor(cutter.diameter_mm * math.sqrt(share))
    if before <= alone:
        return f"Drill Ø{length(before)} {LENGTH_UNIT} first."
    return f"Drill it up in steps, the first no larger than Ø{length(alone)} {LENGTH_UNIT}, or on a stronger machine."


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
    return min(_FZ_MAX, _FZ_PER_MM * cutter.diameter_mm) * stock.fz_factor * careful
