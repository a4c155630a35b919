"""What a cutting plan is made of. Plain values: the bench, the paper and the command line all show these.

The plan is geometry: a setup says by its `pose` how the part stands in the machine, a move by its `strokes` what its cutter takes
away. With the blank these are enough to cut the piece; numbers and words are made from them.
"""

from __future__ import annotations

import re
from typing import Final

from msgspec import Struct

from elbrix.design.tolerances import SizeLimits, limited_text
from elbrix.making.dials import DialNumber
from elbrix.making.pose import Lie, Pose
from elbrix.making.speeds import Speed
from elbrix.making.stock_choice import StockChoice, StockOption
from elbrix.making.strokes import Body, Point3, Stroke, Tool
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.patterns import Pattern
from elbrix.results.checks import Limits
from elbrix.results.figures import Figure
from elbrix.solids.recipe import Recipe


class Term(Struct, frozen=True):
    """One term of a number: "half cutter" +6.000."""

    words: str
    value_mm: float


class Position(Struct, frozen=True, kw_only=True):
    """Where an axis has to stand, with its terms; for a cutter it is its centre."""

    axis: str
    value_mm: float
    terms: tuple[Term, ...] = ()
    dial: DialNumber
    unit: str = "mm"  #: what its terms are said in
    key: str = ""  #: figure key, when the card names it
    per_mm: float = 1.0  #: of the slide's own way: 0.5 where a lathe's dial reads the diameter


#: What a measurement may begin with that is taken in the hand.
_BY_HAND: Final = Pattern(
    r"micrometer|caliper|telescoping gauge|small-hole gauge|inside gauge|protractor|indicator|depth gauge|gauge pins"
)


class SizedBy(Struct, frozen=True):
    """The axis whose last number makes a size."""

    axis: str
    per: float = 1.0  #: how far the size grows when the number grows by a millimetre
    inside: bool = False  #: a bore or a slot: metal that is left makes it smaller

    @property
    def leaves(self) -> int:
        """Which way the number goes to leave metal on: +1 or −1."""
        return 1 if (self.per > 0) != self.inside else -1


class AskedSize(Struct, frozen=True, kw_only=True):
    """A size to measure after a move; typing it re-plans what follows."""

    key: str
    words: str  #: what it is read with, and where: "caliper over the bar, from the far side to the new shoulder"
    expected_mm: float
    allowed_mm: float = 0.05  #: by rule of thumb, where the drawing says nothing closer
    limits: SizeLimits | None = None  #: the drawing's
    drawn: bool = True  #: a size of the drawing, and not one on the way to it, or how far something is off
    by: SizedBy | None = None  #: None: no dial of the machine makes it
    division_mm: float = 0.0  #: how far a division of that dial changes it; 0: no dial makes it
    tool: str = ""  #: what of the shop it is read with
    trusted_mm: float = 0.0  #: a reading with that may be off by so much; 0: not known

    @property
    def judged(self) -> Limits:
        """Of how far it came out off what is expected, mm: what the drawing allows is go, what makes a check fail is no-go."""
        if self.limits is None:
            return Limits(-3 * self.allowed_mm, -self.allowed_mm, self.allowed_mm, 3 * self.allowed_mm)
        own = self.limits
        return Limits(-own.fails_under, -own.under, own.over, own.fails_over)

    def shown(self, style: UnitStyle) -> str:
        """What it should be, with the drawing's limits: "12.03 +0.005/−0.01 mm"."""
        if self.limits is None:
            return style.with_unit(self.expected_mm, "mm")
        return f"{limited_text(self.expected_mm, self.limits, style, None)} {style.name('mm')}"

    @property
    def asking(self) -> str:
        """As it is asked for at the machine: "Measure with the caliper over the ends"."""
        return f"Measure {'with the ' if _BY_HAND.match(self.words) else ''}{self.words}"

    @property
    def place(self) -> str:
        """Where it is measured, without what with: "over B and D"."""
        return re.sub(r"^(?:.*(?:micrometer|caliper|inside gauge) )", "", self.words).split(",")[0]


class Move(Struct, frozen=True, kw_only=True):
    """One thing to do, in order."""

    id: str
    words: str
    positions: tuple[Position, ...] = ()
    strokes: tuple[Stroke, ...] = ()  #: what it cuts, in the setup's machine frame
    removes: Body | None = None  #: sawn or filed away by hand, in the part frame
    zeroes: str = ""  #: axes whose zero it sets: "X", "YZ"
    feature: str = ""  #: what of the part it makes
    allowed_mm: float = 0.0  #: how far its surface may lie off the part's
    piece: int = 0  #: of a bar with several, the one it cuts; a cut along the bar is given with the first
    may_be_air: bool = False  #: it need not find metal: a spring pass, a parting cut behind the piece
    lock: str = ""
    direction: str = ""  #: "conventional" or "climb", and which way the table goes
    caution: str = ""
    asked: AskedSize | None = None


class Operation(Struct, frozen=True, kw_only=True):
    """One tool's work in a setup."""

    title: str
    tool: str = ""
    cutter: Tool | None = None  #: as it is held
    speed: Speed | None = None
    moves: tuple[Move, ...] = ()
    note: str = ""


#: How a plan's problem begins that has no bar to be cut from.
NO_BAR: Final = "No bar on the rack does"
#: The term of a touch that puts zero in the middle of a finished width.
HALF_WIDTH: Final = "half the width"


class Zero(Struct, frozen=True, kw_only=True):
    """What an axis reads where a face is touched."""

    axis: str
    touches: str  #: "side D", "the top, A"
    tool: str  #: it is touched with
    reads_mm: float
    half_mm: float = 0.0  #: from the face that is touched to the middle it counts from; 0: it does not count from a middle


class Setup(Struct, frozen=True, kw_only=True):
    """One way of holding the work, with one datum."""

    id: str
    title: str
    holding: str
    datum: str
    operations: tuple[Operation, ...]
    lie: Lie | None = None  #: None: not on a machine
    pose: Pose | None = None
    zeroes: tuple[Zero, ...] = ()
    fixture: str = ""  #: "vise", "chuck", "straps", "jaws in place"
    jaws_mm: float = 0.0  #: the vise's jaws end this far below the face that is up; 0: not in a vise
    machine_id: str = ""  #: empty: the plan's own
    cautions: tuple[str, ...] = ()
    stands: str = ""  #: how the work stands where it does not lie flat on a mill's table: "stands tilted"
    each: bool = False  #: done to every piece by itself

    @property
    def on_lathe(self) -> bool:
        """Whether the work turns: slides, quill and table of a mill have no part in it."""
        return self.fixture in ("chuck", "faceplate")

    @property
    def moves(self) -> tuple[Move, ...]:
        return tuple(m for o in self.operations for m in o.moves)


class KitItem(Struct, frozen=True):
    """A thing to lay out before starting."""

    words: str
    owned: bool
    note: str = ""


class Plan(Struct, frozen=True, kw_only=True):
    """A whole cutting plan."""

    title: str
    machine_id: str
    machine: str
    stock: StockChoice
    bar: StockOption | None
    cut_length: Figure
    setups: tuple[Setup, ...]
    kit: tuple[KitItem, ...]
    material: str = ""
    there: str = ""  #: the piece that is worked on, when it is not cut from a bar
    wide_bar: bool = False  #: so much wider than the part that a saw's lengthwise cut is worth while
    blank: Body | None = None  #: of one piece, in the part frame
    solid: Recipe | None = None  #: what it has to become
    pieces: tuple[Point3, ...] = ()  #: of each piece from the first, along the bar, in the bar frame
    leaves: tuple[str, ...] = ()  #: what is not cut by the moves
    assumed: tuple[str, ...] = ()  #: what stood in for missing data
    problems: tuple[str, ...] = ()  #: what keeps some steps from being planned

    @property
    def source(self) -> str:
        """What the work is made from, after "made": "from 20 × 16 mm bright mild steel", "on the plate …", "buy …"."""
        if self.there:
            return f"on {self.there}"
        return f"from {self.bar.bar.title}" if self.bar is not None else f"buy {self.stock.buy}"

    @property
    def turned(self) -> bool:
        """Whether it is begun on a lathe."""
        return any(s.fixture == "chuck" for s in self.setups)

    @property
    def moves(self) -> tuple[tuple[Setup, Operation, Move], ...]:
        """Every move in order with where it belongs."""
        return tuple((s, o, m) for s in self.setups for o in s.operations for m in o.moves)
