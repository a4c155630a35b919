"""What a cutting plan is made of. Plain values: the bench, the paper and the command line all show these."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from msgspec import Struct, field

from elbrix.drawing.scene import Scene
from elbrix.making.dials import DialNumber
from elbrix.making.speeds import Speed
from elbrix.making.stock_choice import StockChoice, StockOption
from elbrix.results.figures import Figure


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


class AskedSize(Struct, frozen=True, kw_only=True):
    """A size to measure after a move; typing it re-plans what follows."""

    key: str
    words: str  #: "over the bar, from the far side to the new shoulder"
    expected_mm: float
    allowed_mm: float = 0.05


class Move(Struct, frozen=True, kw_only=True):
    """One thing to do, in order."""

    id: str
    words: str
    positions: tuple[Position, ...] = ()
    lock: str = ""
    direction: str = ""  #: "conventional" or "climb"
    caution: str = ""
    asked: AskedSize | None = None
    scene: str = ""  #: which picture of the setup goes with it


class Operation(Struct, frozen=True, kw_only=True):
    """One tool's work in a setup."""

    title: str
    tool: str = ""
    speed: Speed | None = None
    moves: tuple[Move, ...] = ()
    note: str = ""


class Setup(Struct, frozen=True, kw_only=True):
    """One way of holding the work, with one datum."""

    id: str
    title: str
    holding: str
    datum: str
    operations: tuple[Operation, ...]
    pictures: Mapping[str, Callable[[], Scene]] = field(default_factory=dict)  #: move id or "" → how to draw its picture
    cautions: tuple[str, ...] = ()
    stands: str = ""  #: how the work stands where it does not lie flat on a mill's table: "stands tilted"

    @property
    def moves(self) -> tuple[Move, ...]:
        return tuple(m for o in self.operations for m in o.moves)

    def picture(self, move: Move | None = None) -> Scene | None:
        """The picture that goes with a move, else the setup's own."""
        draw = (self.pictures.get(move.id) if move else None) or self.pictures.get("")
        return draw() if draw else None


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
    assumed: tuple[str, ...] = ()  #: what stood in for missing data
    problems: tuple[str, ...] = ()  #: what keeps some steps from being planned

    @property
    def moves(self) -> tuple[tuple[Setup, Operation, Move], ...]:
        """Every move in order with where it belongs."""
        return tuple((s, o, m) for s in self.setups for o in s.operations for m in o.moves)
