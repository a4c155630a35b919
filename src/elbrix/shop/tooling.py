"""Cutters, collets, studs and measuring tools."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.results.length_text import LENGTH_UNIT, length

#: A mill's corner up to this counts as square, mm: the usual chamfer of an edge clears it.
SQUARE_MM: Final = 0.2


class CutterKind(StrEnum):
    """What sort of cutter it is."""

    END_MILL = "end mill"
    FACE_MILL = "face mill"
    SIDE_AND_FACE = "side and face cutter"
    SLITTING_SAW = "slitting saw"
    SPOT_DRILL = "spot drill"
    DRILL = "drill"
    TAP = "tap"
    COUNTERSINK = "countersink"
    ANGLE_CUTTER = "angle cutter"
    REAMER = "reamer"
    DIE = "die"


class Cutter(Struct, frozen=True, kw_only=True):
    """A cutter as measured. Diameter AND shank: they are seldom the same and often of another standard."""

    id: str
    kind: CutterKind
    diameter_mm: float  #: measured
    shank_mm: float = 0.0  #: 0: on an arbor
    teeth: int = 2
    material: str = "HSS"  #: "HSS" or "carbide"
    edge_length_mm: float = 0.0
    width_mm: float = 0.0  #: side and face cutters and saws
    name: str = ""  #: thread of a tap, gauge of a drill
    flank_deg: float = 0.0  #: of an angle cutter, edge to axis
    corner_mm: float = 0.0  #: radius at the end of a mill's edges; 0: square, half the Ø: a ball
    notes: str = ""

    def __post_init__(self) -> None:
        if not 0 < self.diameter_mm < 500:
            raise ShopError(
                "Cutter",
                f"{length(self.diameter_mm)} {LENGTH_UNIT} is no cutter",
                "A cutter has a diameter",
                "Measure it over opposite teeth",
                entry="diameter",
            )
        if self.teeth < 1:
            raise ShopError("Cutter", "no teeth", "Feed is worked out per tooth", "Count the teeth", entry="teeth")

        if not 0 <= self.corner_mm <= self.diameter_mm / 2:
            raise ShopError(
                "Cutter",
                f"a corner radius of {length(self.corner_mm)} {LENGTH_UNIT}",
                "It is from 0, square, to half the diameter, a ball",
                "Measure it, or leave it at 0",
                entry="corner_mm",
            )

    @property
    def square(self) -> bool:
        """Whether it leaves an inner corner in which what is square sits."""
        return self.corner_mm <= SQUARE_MM

    @property
    def title(self) -> str:
        rounded = f" R{self.corner_mm:g}" if self.corner_mm else ""
        if self.kind in (CutterKind.TAP, CutterKind.DIE):
            return f"{self.name} {self.kind.value}"
        if self.kind is CutterKind.ANGLE_CUTTER:
            return f"{self.flank_deg:g}° angle cutter Ø{round(self.diameter_mm, 2):g}"
        if self.kind in (CutterKind.SIDE_AND_FACE, CutterKind.SLITTING_SAW):
            return f"{self.kind.value} Ø{self.diameter_mm:g} × {self.width_mm:g}"
        if self.kind is CutterKind.DRILL and self.name:
            return f"drill {self.name}"
        return f"{self.kind.value} Ø{round(self.diameter_mm, 2):g}{rounded}"


class Collet(Struct, frozen=True, kw_only=True):
    """A collet and the shank it is for."""

    id: str
    size_mm: float
    name: str
    machine: str = ""  #: id of the machine it fits; empty: any


class Stud(Struct, frozen=True, kw_only=True):
    """Clamping studs on the shelf."""

    id: str
    thread: str  #: "M10", "1/2-13"
    length_mm: float
    count: int = 1
    strength_class: str = "8.8"


class MeasuringTool(Struct, frozen=True, kw_only=True):
    """A measuring tool and how far to trust it."""

    id: str
    name: str
    resolution_mm: float
    uncertainty_mm: float
    reach_mm: float = 150.0
    checked_on: str = ""  #: ISO date of the last check; empty: never
    check_months: int = 0  #: how often it is checked; 0: not by the calendar

    @property
    def trusted_mm(self) -> float:
        """A reading may be off by so much: what is said of it, and never less than half a division, to which it is read."""
        return max(self.uncertainty_mm, self.resolution_mm / 2)

    @property
    def unit(self) -> str:
        """ "in" when a division is a whole number of tenths of a thou and none of microns, else "mm"."""
        tenths, microns = self.resolution_mm / (MM_PER_INCH * 1e-4), self.resolution_mm * 1e3
        return "in" if abs(tenths - round(tenths)) < 1e-6 and abs(microns - round(microns)) > 1e-6 else "mm"


class HolderKind(StrEnum):
    """What sort of holder it is."""

    DRILL_CHUCK = "drill chuck"
    ARBOR = "arbor"
    BORING_HEAD = "boring head"
    TOOL_POST = "tool post"


class Holder(Struct, frozen=True, kw_only=True):
    """What cutters are held in besides collets."""

    id: str
    kind: HolderKind
    name: str = ""
    least_mm: float = 0.0  #: smallest shank it takes, of a boring head the smallest bore
    most_mm: float = 13.0  #: largest
    machine: str = ""  #: id of the machine it fits; empty: any

    def __post_init__(self) -> None:
        if not 0 <= self.least_mm <= self.most_mm:
            raise ShopError(
                "Holder",
                f"it takes {self.least_mm:g} to {self.most_mm:g}",
                "The largest size is at least the smallest",
                "Read both from the holder",
                entry="most_mm",
            )

    @property
    def title(self) -> str:
        return self.name or self.kind.value


class TouchOff(Struct, frozen=True, kw_only=True):
    """What a side is touched with: an edge finder, a rolled rod, a ground pin."""

    id: str
    size_mm: float  #: Ø that touches
    name: str = "edge finder"
    machine: str = ""  #: id of the machine it is used on; empty: any

    def __post_init__(self) -> None:
        if not 0 < self.size_mm <= 50:
            raise ShopError(
                "Touch-off tool",
                f"Ø{self.size_mm:g} is none",
                "Half of it stands in every number that is counted from a touched side",
                "Measure its tip",
                entry="size_mm",
            )

    @property
    def title(self) -> str:
        return f"{self.name} Ø{self.size_mm:g}"
