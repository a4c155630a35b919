"""A T-slot as measured."""

from __future__ import annotations

from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.quantities.readings import Readings
from elbrix.results.length_text import LENGTH_UNIT, length

#: The four sizes of a slot section in measuring order: attribute, name, low and high limit in mm of a believable reading.
SLOT_SIZES: Final = (
    ("neck", "Slot neck width", 4.0, 60.0),
    ("lip", "Lip depth", 1.5, 60.0),
    ("head", "Slot head width", 6.0, 120.0),
    ("depth", "Slot depth", 4.0, 130.0),
)


class TSlot(Struct, frozen=True, kw_only=True):
    """A T-slot section, each size read at one place or several along the table: mm, depths from the table top."""

    label: str  #: as the shop says it: "middle slot"
    neck: Readings | None = None  #: between the lips
    lip: Readings | None = None  #: table top to the underside of the lips
    head: Readings | None = None  #: the wide part, where the T-nut slides
    depth: Readings | None = None  #: table top to the slot floor
    offset_mm: float = 0.0  #: of its middle from the middle of the table, + away from the operator
    ring_radius_mm: float = 0.0  #: centre radius of a circular slot; 0 for a straight one

    def __post_init__(self) -> None:
        if self.lip and self.depth and not self.lip.max < self.depth.min:
            raise ShopError(
                where=f"{self.label}, lip depth",
                what=f"{length(self.lip.max)} {LENGTH_UNIT} cannot be, in a slot {length(self.depth.min)} {LENGTH_UNIT} deep",
                why="The lips end above the slot floor, so the lip depth is the smaller",
                do="Measure both again, or exchange the two readings",
                entry="lip",
            )
        if self.neck and self.head and not self.neck.max < self.head.min:
            raise ShopError(
                where=f"{self.label}, head width",
                what=f"{length(self.head.min)} {LENGTH_UNIT} cannot be, under a neck {length(self.neck.max)} {LENGTH_UNIT} wide",
                why="The head is the wide part below the lips",
                do="Measure both again, or exchange the two readings",
                entry="head",
            )

    @property
    def measured(self) -> bool:
        """All four sizes read at least once."""
        return all(getattr(self, name) is not None for name, *_ in SLOT_SIZES)

    @property
    def places(self) -> int:
        """The fewest places any size was read at."""
        return min((r.count if (r := getattr(self, name)) else 0) for name, *_ in SLOT_SIZES)

    @property
    def straight(self) -> bool:
        return self.ring_radius_mm == 0
