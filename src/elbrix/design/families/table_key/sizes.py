"""The sizes of a table key, and the rules they come from.

X across the slot, z up from the table's top: the table half hangs below, the vise half stands above.
"""

from __future__ import annotations

from functools import cached_property
from typing import Final

from elbrix.design.made_of import made_of
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.screws import clearance_hole, head

#: Play of a key in its slot, mm: what is aimed at, and where it stops being that fit. Source: shop practice.
PLAY: Final = {"close": 0.01, "easy": 0.03}
PLAY_MIN, PLAY_CLOSE, PLAY_EASY, PLAY_LOOSE = 0.005, 0.02, 0.05, 0.15
FITS: Final = (("close", f"close, {length(0.005)} to {length(0.02)}"), ("easy", f"easy, {length(0.02)} to {length(0.05)}"))
STEP: Final = 0.01
#: Halves this near to each other are one width: it slides in both and shakes in neither, mm.
PLAIN_MM: Final = 0.02
#: Room below the table half and above the vise half, and round and over a counterbored head, mm.
BELOW, ABOVE, ROUND, SUNK = 1.0, 0.5, 0.5, 0.3
SCREWS: Final = ("M3", "M4", "M5", "M6", "M8", "M10")
_WALL: Final = 1.5  # beside the counterbored head
#: Less than this between two widths is one width, mm.
_TO_SIZE_MM: Final = 0.005

PARAMETERS: Final = (
    Parameter(
        name="neck",
        label="Slot neck width",
        kind=Kind.READINGS,
        low=4,
        high=60,
        usually="measured in Shop, between the lips",
        feature="table slot",
        step=0.01,
    ),
    Parameter(
        name="lip",
        label="Lip depth",
        kind=Kind.READINGS,
        low=1,
        high=60,
        usually="measured in Shop",
        feature="table slot",
        step=0.05,
    ),
    Parameter(
        name="vise_slot",
        label="Vise slot width",
        kind=Kind.LENGTH,
        low=3,
        high=60,
        usually="measured with a pin or blocks",
        feature="vise slot",
        step=0.01,
    ),
    Parameter(name="vise_slot_depth", label="Vise slot depth", kind=Kind.LENGTH, low=1.5, high=40, feature="vise slot", step=0.1),
    Parameter(
        name="fit", label="Fit", kind=Kind.CHOICE, unit="", choices=FITS, usually="close: it is put on once", feature="table half"
    ),
    Parameter(
        name="table_width",
        label="Table half width",
        kind=Kind.LENGTH,
        low=3,
        high=60,
        step=STEP,
        words=("wider", "narrower"),
        usually="tightest slot − play",
        feature="table half",
    ),
    Parameter(
        name="vise_width",
        label="Vise half width",
        kind=Kind.LENGTH,
        low=3,
        high=60,
        step=STEP,
        words=("wider", "narrower"),
        usually="vise slot − play",
        feature="vise half",
    ),
    Parameter(
        name="offset",
        label="Vise half offset",
        kind=Kind.LENGTH,
        low=-10,
        high=10,
        step=STEP,
        words=("further right", "further left"),
        usually="half of what the vise's slots are out of line; the other key turned round",
        feature="vise half",
    ),
    Parameter(
        name="table_height",
        label="Table half height",
        kind=Kind.LENGTH,
        low=1,
        high=40,
        step=0.1,
        words=("higher", "lower"),
        usually=f"0.7 of the lips, {length(1)} clear",
        feature="table half",
    ),
    Parameter(
        name="vise_height",
        label="Vise half height",
        kind=Kind.LENGTH,
        low=1,
        high=40,
        step=0.1,
        words=("higher", "lower"),
        usually=f"vise slot − {length(0.5)}",
        feature="vise half",
    ),
    Parameter(
        name="length",
        label="Key length",
        kind=Kind.LENGTH,
        low=5,
        high=200,
        step=1,
        words=("longer", "shorter"),
        usually="1.5 × the wider half",
        feature="length",
    ),
    Parameter(
        name="screw",
        label="Key screw size",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((s, s) for s in SCREWS),
        usually=f"the largest whose head leaves {length(1.5)} beside it",
        feature="screw",
    ),
    Parameter(
        name="key_spacing",
        label="Key spacing",
        kind=Kind.LENGTH,
        low=5,
        high=2000,
        step=1,
        words=("farther", "nearer"),
        usually="as far as the vise's base allows",
    ),
    Parameter(name="jaw_length", label="Jaw length", kind=Kind.LENGTH, low=10, high=1000, step=1, usually="the vise's jaw width"),
    Parameter(
        name="squareness", label="Squareness tolerance", kind=Kind.LENGTH, low=0.001, high=1, step=0.005, usually="over the jaw"
    ),
    Parameter(
        name="misalignment",
        label="Vise slot misalignment",
        kind=Kind.LENGTH,
        low=-10,
        high=10,
        step=STEP,
        usually="the one at the right end toward you is +; from one side",
        feature="vise slot",
    ),
    Parameter(
        name="misalignment_check",
        label="Misalignment, other side",
        kind=Kind.LENGTH,
        low=-10,
        high=10,
        step=STEP,
        usually="same sign rule; both must agree",
        feature="vise slot",
    ),
    Parameter(
        name="reading_resolution",
        label="Reading resolution",
        kind=Kind.LENGTH,
        low=0.001,
        high=0.2,
        step=0.005,
        usually="of the instrument it was read with",
    ),
    *made_of(most=50, material_usually="from the rack"),
)


def screw_for(width: float) -> str:
    """The largest screw whose counterbored head leaves a wall in a key of that width; the smallest when none does."""
    good = [s for s in SCREWS if head("socket_cap", s, "head_d").value + ROUND + 2 * _WALL <= width]
    return good[-1] if good else SCREWS[0]


class TableKeySizes:
    """The arithmetic of one key.

    Raises:
        ShopError: Sizes that make no key.
    """

    def __init__(self, v: Values) -> None:
        self.v = v
        self.neck, self.lip = v.readings("neck"), v.readings("lip")
        self.host, self.host_depth = v.number("vise_slot"), v.number("vise_slot_depth")
        self.low_w, self.high_w, self.off = v.number("table_width"), v.number("vise_width"), v.number("offset")
        self.low_h, self.high_h, self.length = v.number("table_height"), v.number("vise_height"), v.number("length")
        self.screw = v.word("screw")
        self.d = float(self.screw[1:])
        self.clear = clearance_hole(self.screw, "medium").value
        self.bore = head("socket_cap", self.screw, "head_d").value + ROUND
        self.bore_depth = head("socket_cap", self.screw, "head_h").value + SUNK
        if self.shared <= 0:
            raise ShopError(
                "Offset",
                f"{length(self.off)} {LENGTH_UNIT} parts the two halves",
                "They are one piece of metal and have to overlap",
                "Make it less, or a half wider",
                entry="offset",
            )
        if self.bore >= self.low_w:
            raise ShopError(
                "Screw",
                f"the head of {self.screw} is wider than the key",
                f"It is counterbored Ø{length(self.bore)} into {length(self.low_w)} {LENGTH_UNIT}",
                "Take a smaller screw",
                entry="screw",
            )

    @property
    def total(self) -> float:
        return self.low_h + self.high_h

    @property
    def left(self) -> float:
        return min(-self.low_w / 2, self.off - self.high_w / 2)

    @property
    def right(self) -> float:
        return max(self.low_w / 2, self.off + self.high_w / 2)

    @property
    def across(self) -> float:
        """Over both halves."""
        return self.right - self.left

    @property
    def milled_high(self) -> bool:
        """Whether the vise half is narrower than the whole: shouldered."""
        return self.across - self.high_w > _TO_SIZE_MM

    @property
    def milled_low(self) -> bool:
        return self.across - self.low_w > _TO_SIZE_MM

    @property
    def middle(self) -> float:
        """Of the whole, from the middle of the table half."""
        return (self.left + self.right) / 2

    @property
    def shared(self) -> float:
        """Width in which the halves stand on each other."""
        return min(self.low_w / 2, self.off + self.high_w / 2) - max(-self.low_w / 2, self.off - self.high_w / 2)

    @property
    def screw_x(self) -> float:
        """Where the screw stands from the middle of the table half: in the middle of the vise half, where the vise is tapped."""
        return self.off

    @property
    def wall(self) -> float:
        """Beside the counterbored head, in the table half."""
        return (self.low_w - self.bore) / 2 - abs(self.screw_x)

    @property
    def table_play(self) -> float:
        return self.neck.min - self.low_w

    @property
    def vise_play(self) -> float:
        return self.host - self.high_w

    @property
    def loosest(self) -> float:
        """Play where the table slot is widest, both halves together."""
        return self.neck.max - self.low_w + self.vise_play

    @cached_property
    def left_by_play(self) -> float:
        """How far the jaw may stand off square, over its length: J·c/S."""
        return self.v.number("jaw_length") * max(0.0, self.loosest) / self.v.number("key_spacing")

    @property
    def out(self) -> float:
        """Mean of the two readings."""
        return (self.v.number("misalignment") + self.v.number("misalignment_check")) / 2

    @property
    def corrected(self) -> float:
        """How far out of line two of these keys set the slots right: one as drawn, the other turned round."""
        return 2 * self.off

    @property
    def error(self) -> float:
        """What the slots' misalignment, as far as the keys do not take it up, does over the jaw: J·δ/S."""
        return self.v.number("jaw_length") * abs(self.out - self.corrected) / self.v.number("key_spacing")

    @property
    def kind(self) -> str:
        if self.off:
            return "offset"
        return "stepped" if abs(self.low_w - self.high_w) > PLAIN_MM else "plain"


def down(value: float, step: float) -> float:
    return max(step, round_down(value, step))
