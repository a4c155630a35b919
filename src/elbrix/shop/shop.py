"""The whole shop as one frozen value."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any, Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.shop.angle_tools import AngleTool, SineTool
from elbrix.shop.gauges import AngleBlockSet, GaugeSet, Parallel
from elbrix.shop.locating import Bore, Pin
from elbrix.shop.machines import Machine
from elbrix.shop.slots import TSlot
from elbrix.shop.stock import Bar
from elbrix.shop.tooling import Collet, Cutter, CutterKind, Holder, MeasuringTool, Stud, TouchOff
from elbrix.shop.workholding import Clamp, Fastener, SupportBlock, TableStop, Vise

#: Range of a micrometer and what its inch or metric neighbour reaches over, mm.
_MICROMETER_MM: Final = 25.0 + 0.4


class Shop(Struct, frozen=True, kw_only=True):
    """What is really there. Empty is a valid shop."""

    machines: tuple[Machine, ...] = ()
    bars: tuple[Bar, ...] = ()
    cutters: tuple[Cutter, ...] = ()
    collets: tuple[Collet, ...] = ()
    holders: tuple[Holder, ...] = ()
    touch_offs: tuple[TouchOff, ...] = ()
    studs: tuple[Stud, ...] = ()
    measuring: tuple[MeasuringTool, ...] = ()
    gauge_sets: tuple[GaugeSet, ...] = ()
    angle_sets: tuple[AngleBlockSet, ...] = ()
    parallels: tuple[Parallel, ...] = ()
    sine_tools: tuple[SineTool, ...] = ()
    angle_tools: tuple[AngleTool, ...] = ()
    vises: tuple[Vise, ...] = ()
    clamps: tuple[Clamp, ...] = ()
    supports: tuple[SupportBlock, ...] = ()
    stops: tuple[TableStop, ...] = ()
    fasteners: tuple[Fastener, ...] = ()
    pins: tuple[Pin, ...] = ()
    bores: tuple[Bore, ...] = ()
    others: tuple[tuple[str, tuple[Any, ...]], ...] = ()  #: kinds without an attribute here: (kind, things)

    def others_of(self, kind: str) -> tuple[Any, ...]:
        """Things of a kind that has no attribute of its own."""
        return dict(self.others).get(kind, ())

    def machine(self, id: str) -> Machine:
        """By id, or by name in any case.

        Raises:
            ShopError: No such machine.
        """
        for machine in self.machines:
            if id and (machine.id == id or machine.name.lower() == id.lower()):
                return machine
        have = ", ".join(m.name for m in self.machines) or "no machine yet"
        raise ShopError(
            "Shop", f"there is no machine “{id}”", f"The shop has: {have}", "Pick one of those or add the machine in Shop"
        )

    def measured_slots(self) -> Iterable[tuple[Machine, TSlot]]:
        """Every slot whose four sizes were all measured."""
        for machine in self.machines:
            for slot in machine.slots:
                if slot.measured:
                    yield machine, slot

    def cutters_of(self, *kinds: CutterKind) -> list[Cutter]:
        """Cutters of some kinds, thickest first."""
        return sorted((c for c in self.cutters if c.kind in kinds), key=lambda c: -c.diameter_mm)

    def square_end_mills(self) -> list[Cutter]:
        """End mills that leave a square inner corner, thickest first."""
        return [c for c in self.cutters_of(CutterKind.END_MILL) if c.square]

    def measuring_tool(self, kind: str, size_mm: float, unit: str = "mm") -> MeasuringTool | None:
        """The measuring tool of a kind that reaches a size: the surest, then one that reads in the unit.

        Of two alike always the same, in whatever order the shop lists them. A micrometer measures its last 25 mm.

        Args:
            kind: "micrometer", "caliper": a word of its name.
            size_mm: What is to be measured.
        """
        least = _MICROMETER_MM if kind == "micrometer" else math.inf
        fit = [t for t in self.measuring if kind in t.name.lower() and t.reach_mm - least <= size_mm <= t.reach_mm]
        return min(fit, key=lambda t: (t.trusted_mm, t.unit != unit, t.id)) if fit else None

    def touch_offs_for(self, machine: str) -> list[TouchOff]:
        """Touch-off tools that are used on a machine."""
        return [t for t in self.touch_offs if t.machine in ("", machine)]
