"""Machines: table, slots, dials and spindle."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

from msgspec import Struct, field

from elbrix.quantities.errors import ShopError
from elbrix.shop.slots import TSlot

#: A screw further out than this is another screw, mm over a metre.
MAX_ERROR_MM_M: Final = 10.0


class MachineKind(StrEnum):
    """What sort of machine it is."""

    KNEE = "knee mill"
    BED = "bed mill"
    BENCH = "bench mill"
    HORIZONTAL = "horizontal mill"
    LATHE = "lathe"
    ROTARY_TABLE = "rotary table"


class Axis(Struct, frozen=True, kw_only=True):
    """One handwheel."""

    mm_per_turn: float
    divisions: int
    backlash_mm: float = 0.0  #: lost motion on reversing
    travel_mm: float = 0.0  #: 0: not recorded
    error_mm_m: float = 0.0  #: how much further the slide goes over a metre than its dial says
    wander_mm: float = 0.0  #: ± around that, anywhere in its travel: what no allowance takes out

    def __post_init__(self) -> None:
        if not (self.mm_per_turn > 0 and self.divisions > 0 and self.backlash_mm >= 0):
            raise ShopError(
                "Handwheel",
                "a turn or a division of nothing",
                "Each turn moves the slide a known way",
                "Count the divisions and read the travel of one turn",
            )
        if not (abs(self.error_mm_m) <= MAX_ERROR_MM_M and self.wander_mm >= 0):
            raise ShopError(
                "Handwheel",
                f"a screw that is out by {self.error_mm_m:.4g} mm over a metre",
                f"No screw is out by more than {MAX_ERROR_MM_M:g}: that is another screw, or a slip",
                "Measure it again, or correct the advance of a turn",
            )

    @property
    def turn_mm(self) -> float:
        """What a turn really moves the slide, mm: its advance with the screw's error as it was found."""
        return self.mm_per_turn * (1 + self.error_mm_m / 1000)

    @property
    def division_mm(self) -> float:
        """What a division really moves the slide, mm."""
        return self.turn_mm / self.divisions


class Machine(Struct, frozen=True, kw_only=True):
    """A machine as it stands in this shop. Missing data never blocks: the plan says what it assumed."""

    id: str
    name: str
    kind: MachineKind
    table_length_mm: float = 0.0
    table_width_mm: float = 0.0
    slots: tuple[TSlot, ...] = ()
    axes: dict[str, Axis] = field(default_factory=dict)  #: "X", "Y", "Z"
    readout_step_mm: float = 0.0  #: 0: no readout
    speeds_rpm: tuple[int, ...] = ()  #: every step it has, any order
    speeds_note: str = ""
    taper: str = ""
    rigidity: str = "medium"  #: light, medium or heavy
    climb: str = "finish only"  #: "never", "finish only" or "yes"
    power_w: float = 0.0
    quill_mm: float = 0.0  #: stroke of the quill; 0: none or not measured
    daylight_mm: float = 0.0  #: most between spindle nose and table; 0: not measured
    arbor_mm: float = 0.0  #: horizontal arbor Ø; 0: none
    collar_mm: float = 0.0  #: spacing collar Ø on the arbor
    bore_mm: float = 0.0  #: centre bore Ø of a rotary table; 0: none or not measured
    worm_turns: int = 0  #: turns of a rotary table's worm for one of the table; 0: not known
    worm_marks: int = 0  #: marks of the dial on its worm; 0: none
    index_circles: tuple[int, ...] = ()  #: holes of every circle of the index plates that are owned
    spindle_bore_mm: float = 0.0  #: of a lathe, which bar goes through; 0: not known
    dial_reads: str = "diameter"  #: of a lathe's cross-slide: "diameter" or "radius"
    lead_screw_mm: float = 0.0  #: pitch of a lathe's lead screw; 0: not known
    change_wheels: tuple[int, ...] = ()  #: teeth of the change wheels that are owned, each once
    head_lean_right_mm_m: float = 0.0  #: how far the spindle's top leans to the right over a metre; 0: square, or not swept
    head_lean_back_mm_m: float = 0.0  #: the same, away from the operator
    table_flat_um: float = 0.0  #: out of flat over the face that was measured; 0: not measured
    table_rise_x_mm_m: float = 0.0  #: how far the table rises toward X+ over a metre against its slide; 0: level, or not measured
    table_rise_y_mm_m: float = 0.0  #: the same, toward Y+
    notes: str = ""

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise ShopError(
                "Machine",
                "it has no name",
                "Slots and accessories are told apart by their machine",
                "Give it the name the shop uses",
                entry="name",
            )
        if self.table_length_mm < 0 or self.table_width_mm < 0:
            raise ShopError(self.name, "a table of negative size", "A table has a length and a width", "Measure it again")

    @property
    def horizontal(self) -> bool:
        return self.arbor_mm > 0

    def slot(self, label: str) -> TSlot:
        """One of its slots by label.

        Raises:
            ShopError: It has none of that name.
        """
        for slot in self.slots:
            if slot.label == label:
                return slot
        have = ", ".join(s.label for s in self.slots) or "no slots yet"
        raise ShopError(
            self.name, f"it has no slot called “{label}”", f"It has: {have}", "Pick one of those or add the slot in Shop"
        )
