"""What sets and reads angles: sine plates and bars, levels, protractors, fixed angle pieces."""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct

from elbrix.quantities.errors import ShopError


class SineTool(Struct, frozen=True, kw_only=True):
    """A sine plate or bar as measured."""

    id: str
    name: str
    centres_mm: float
    roll_pivot_mm: float = 20.0
    roll_stack_mm: float = 20.0
    centres_u_mm: float = 0.003  #: how far the centres may be off what was measured
    rolls_u_mm: float = 0.002  #: the same for the difference of the two rolls
    face_u_mm: float = 0.003  #: the work face out of parallel with the rolls, over the centres
    face_to_bottoms: bool = False  #: the work face is parallel to the line under the rolls, not to their centres
    face_above_mm: float = 0.0  #: work face above the roll centres; 0: not measured
    length_mm: float = 0.0  #: of the work face; 0: not measured
    width_mm: float = 0.0
    material: str = "mild steel"
    checked_on: str = ""  #: ISO date of the last check; empty: never
    check_months: int = 0  #: how often it is checked; 0: not by the calendar

    def __post_init__(self) -> None:
        if not (self.centres_mm > 0 and self.roll_pivot_mm > 0 and self.roll_stack_mm > 0):
            raise ShopError(
                "Sine plate",
                "centres or rolls of nothing",
                "The roll centres stand a known way apart",
                "Measure over the rolls and take one roll off",
                entry="centres_mm",
            )
        if max(self.roll_pivot_mm, self.roll_stack_mm) >= self.centres_mm:
            raise ShopError(
                "Sine plate",
                "the rolls meet",
                "Their centres stand further apart than they are thick",
                "Measure both again",
                entry="roll_pivot_mm",
            )


class AngleToolKind(StrEnum):
    """What sort of angle tool it is."""

    LEVEL = "digital level"
    PROTRACTOR = "protractor"
    VISE_PROTRACTOR = "vise protractor"
    ANGLE_PIECE = "angle piece"  #: a V, an angle parallel, a wedge: one fixed angle
    TILTING_PLATE = "tilting plate"


class AngleTool(Struct, frozen=True, kw_only=True):
    """One of them, and how far to trust it."""

    id: str
    name: str
    kind: AngleToolKind
    resolution_deg: float = 0.1  #: what it reads to; of an angle piece nothing
    error_deg: float = 0.1  #: how far its reading, or the piece, may be off
    angle_deg: float = 0.0  #: of an angle piece
    reach_deg: float = 90.0  #: of a tilting plate, how far it goes

    def __post_init__(self) -> None:
        if self.resolution_deg < 0 or self.error_deg < 0 or not 0 <= self.angle_deg < 180:
            raise ShopError(
                self.name or "Angle tool", "a negative resolution or error", "Both are how far it may be off", "Give 0 or more"
            )
