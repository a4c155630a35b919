"""What holds work on a table: vises, clamps, blocks under their heels, supports, stops, nuts and screws."""

from __future__ import annotations

import math
from enum import StrEnum

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length


def _sizes(name: str, **sizes: float) -> None:
    for entry, value in sizes.items():
        if not (math.isfinite(value) and value > 0):
            raise ShopError(
                name or "Workholding",
                f"{entry.replace('_mm', '').replace('_', ' ')} of {length(value)} {LENGTH_UNIT}",
                "Everything has a size",
                "Measure it",
                entry=entry,
            )


class Vise(Struct, frozen=True, kw_only=True):
    """A machine vise, or the two blocks of a split one."""

    id: str
    name: str
    jaw_width_mm: float
    jaw_height_mm: float  #: above the bed the work stands on
    bed_height_mm: float  #: bed above the table; 0 of a split one: its work stands on the table
    opening_mm: float
    jaw_thickness_mm: float = 20.0
    length_mm: float = 0.0  #: of the body, along the screw; 0: not measured
    force_per_nm: float = 400.0  #: clamp force in N for each N·m at the handle
    max_torque_nm: float = 40.0  #: the maker's torque, or what the handle gives by hand
    key_width_mm: float = 0.0  #: 0: no keys
    fixed_lean_mm_per_m: float = 0.0  #: how far the fixed jaw leans or turns, mm over a metre
    split: bool = False
    jaw_screw: str = ""  #: thread that holds the jaw plates on: "M8"; empty: not known
    jaw_screw_spacing_mm: float = 0.0  #: middle to middle, two screws; 0: not measured
    jaw_screw_height_mm: float = 0.0  #: above the bed
    key_spacing_mm: float = 0.0  #: key slots, middle to middle; 0: not measured

    def __post_init__(self) -> None:
        _sizes(
            self.name,
            jaw_width_mm=self.jaw_width_mm,
            jaw_height_mm=self.jaw_height_mm,
            # Between the halves of a split one the work stands on the table itself.
            **({} if self.split and self.bed_height_mm == 0 else {"bed_height_mm": self.bed_height_mm}),
            opening_mm=self.opening_mm,
            jaw_thickness_mm=self.jaw_thickness_mm,
            force_per_nm=self.force_per_nm,
            max_torque_nm=self.max_torque_nm,
        )

    @property
    def title(self) -> str:
        return self.name

    @property
    def body_mm(self) -> float:
        """Length of the body along the screw."""
        return self.length_mm or self.opening_mm + 3.5 * self.jaw_thickness_mm


def screw_force_per_nm(d2_mm: float, pitch_mm: float, mu: float, collar_mm: float) -> float:
    """Clamp force in N for each N·m at the handle: F = T/(d2/2·tan(φ + ρ) + µ·r_collar).

    Args:
        d2_mm: Pitch diameter of the screw.
        pitch_mm: Travel of one turn.
        mu: Friction in thread and collar.
        collar_mm: Mean radius of the collar.
    """
    _sizes("Vise screw", d2_mm=d2_mm, pitch_mm=pitch_mm)
    lead, rho = math.atan(pitch_mm / (math.pi * d2_mm)), math.atan(mu)
    return 1000.0 / (d2_mm / 2 * math.tan(lead + rho) + mu * collar_mm)


class ClampKind(StrEnum):
    """What sort of clamp it is."""

    STRAP = "strap clamp"
    TOE = "toe clamp"  #: pushes sideways and down


class Clamp(Struct, frozen=True, kw_only=True):
    """Clamps of one size."""

    id: str
    kind: ClampKind = ClampKind.STRAP
    length_mm: float
    width_mm: float
    thickness_mm: float
    slot_from_mm: float = 0.0  #: where the slot for the stud begins, from the tip
    slot_to_mm: float = 0.0  #: and ends
    slot_width_mm: float = 11.0
    down_deg: float = 10.0  #: of a toe clamp: how far its push points down
    count: int = 2
    yield_mpa: float = 350.0

    def __post_init__(self) -> None:
        _sizes(self.title, length_mm=self.length_mm, width_mm=self.width_mm, thickness_mm=self.thickness_mm)
        if not 0 <= self.slot_from_mm <= self.slot_to_mm <= self.length_mm or self.slot_width_mm >= self.width_mm:
            raise ShopError(
                self.title,
                "a slot that is not inside the clamp",
                "The stud goes through it",
                "Measure it from the tip",
                entry="slot_from_mm",
            )

    @property
    def title(self) -> str:
        return f"{self.kind.value} {self.length_mm:g} × {self.width_mm:g} × {self.thickness_mm:g}"


class BlockKind(StrEnum):
    """What sort of support it is."""

    STEP = "step block"
    HEEL = "heel block"
    JACK = "jack"
    RISER = "1-2-3 style block"


class SupportBlock(Struct, frozen=True, kw_only=True):
    """What stands under a heel, or under the work."""

    id: str
    kind: BlockKind
    min_height_mm: float  #: lowest height
    max_height_mm: float  #: highest; the same for a plain block
    step_mm: float = 0.0  #: heights go in these steps; 0: any height between
    length_mm: float = 30.0
    width_mm: float = 25.0
    count: int = 2

    def __post_init__(self) -> None:
        _sizes(
            self.title,
            min_height_mm=self.min_height_mm,
            max_height_mm=self.max_height_mm,
            length_mm=self.length_mm,
            width_mm=self.width_mm,
        )
        if self.max_height_mm < self.min_height_mm:
            raise ShopError(
                self.title, "it goes lower than it begins", "Lowest height first", "Exchange the two", entry="max_height_mm"
            )

    @property
    def title(self) -> str:
        high = f" to {self.max_height_mm:g}" if self.max_height_mm > self.min_height_mm else ""
        return f"{self.kind.value} {self.min_height_mm:g}{high}"

    def height_for(self, wanted_mm: float) -> float | None:
        """The lowest height it has that is not under a wanted one; None when it is too low or too high."""
        if wanted_mm > self.max_height_mm + 1e-9:
            return None
        if wanted_mm <= self.min_height_mm:
            return self.min_height_mm
        if not self.step_mm:
            return wanted_mm if self.max_height_mm > self.min_height_mm else self.max_height_mm
        return min(
            self.max_height_mm,
            self.min_height_mm + math.ceil((wanted_mm - self.min_height_mm) / self.step_mm - 1e-9) * self.step_mm,
        )


class TableStop(Struct, frozen=True, kw_only=True):
    """Stops that bolt into a slot, with a tongue that reaches to the work."""

    id: str
    body_mm: float  #: width of the body, square on the table
    height_mm: float
    reach_mm: float = 60.0  #: of the tongue, from the middle of the body
    count: int = 2

    def __post_init__(self) -> None:
        _sizes(self.title, body_mm=self.body_mm, height_mm=self.height_mm, reach_mm=self.reach_mm)

    @property
    def title(self) -> str:
        return f"table stop {self.body_mm:g} × {self.height_mm:g}"


class FastenerKind(StrEnum):
    """What sort of fastener it is."""

    T_NUT = "T-nut"
    NUT = "nut"
    CAP_SCREW = "cap screw"
    T_BOLT = "T-bolt"  #: its head slides in the slot


class Fastener(Struct, frozen=True, kw_only=True):
    """Nuts, screws and bolts of one size."""

    id: str
    kind: FastenerKind = FastenerKind.NUT
    thread: str  #: "M10", "1/2-13"
    length_mm: float = 0.0  #: under the head; 0 for a nut
    neck_mm: float = 0.0  #: what goes between the slot's lips, T-nuts and T-bolts; 0: not measured
    count: int = 1
    strength_class: str = "8.8"

    def __post_init__(self) -> None:
        if not (math.isfinite(self.length_mm) and self.length_mm >= 0 and math.isfinite(self.neck_mm) and self.neck_mm >= 0):
            raise ShopError(self.title, "a size below nothing", "Everything has a size", "Measure it", entry="length_mm")

    @property
    def title(self) -> str:
        long = f" × {self.length_mm:g}" if self.length_mm else ""
        neck = f" for a {self.neck_mm:g} neck" if self.neck_mm else ""
        return f"{self.kind.value} {self.thread}{long}{neck}"
