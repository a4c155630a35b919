"""What a layout is made of.

The piece where it lies, the cut, and things that hold it. x to the right along the table, y away from the operator, z
up from the table; the table's middle is the origin.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Protocol, runtime_checkable

from msgspec import Struct, field

from elbrix.drawing.scene import Dimension, Element, Handle
from elbrix.geometry.shapes import Point, Ring, bounds
from elbrix.holding import elements
from elbrix.holding.contacts import ClampForce, Contact, Vec
from elbrix.holding.owned import ShelfUse
from elbrix.holding.slot_runs import run_of, runs
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values
from elbrix.parameters.plugins import find_all
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check
from elbrix.results.figures import Figure
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot


class Piece(Struct, frozen=True, kw_only=True):
    """The work as it lies."""

    shape: str
    outline: Ring  #: counter-clockwise, on the table
    middle: Point
    bottom_mm: float
    height_mm: float
    cut_depth_mm: float  #: how far below its top the cutter's end runs
    material: str
    weight_n: float
    cg: Vec

    @property
    def top_mm(self) -> float:
        return self.bottom_mm + self.height_mm


class Solid(Struct, frozen=True, kw_only=True):
    """Room something takes up: a ring between two heights."""

    ring: Ring
    bottom_mm: float
    top_mm: float
    name: str


class Behaviour(Struct, frozen=True, kw_only=True):
    """How a kind of clamping element behaves, so that neither the solver nor the bench has to know it by name."""

    name: str  #: short, for the plate and for checks: "strap"
    draggable: bool = False  #: can be taken up on the plate and set down elsewhere
    moves_aside: bool = False  #: can be taken off and refitted while the rest holds
    tightened_last: bool = False  #: after everything that only locates or pushes sideways
    spanner_mm: float = 0.0  #: room a spanner needs round its nut; 0: it has none
    placed_by_search: bool = False  #: better places for it can be looked for


class Mount(Struct, frozen=True, kw_only=True):
    """How a body stands on the table."""

    ring: Ring  #: its base
    bolts: tuple[Point, ...]
    preload_n: float  #: of each, at the least
    bears: str  #: entry of the bolts' torque
    name: str
    floats: bool = False  #: nothing bolts it down: a stop takes the torque
    stop_arm_mm: float = 0.0  #: spindle to the stop
    stop_bears_n: float = 0.0
    weight_n: float = 0.0  #: of a body that floats


class Squeeze(Struct, frozen=True, kw_only=True):
    """Work between two jaws."""

    gap_mm: float  #: jaw to jaw
    along_mm: float  #: of the work's edge in the jaws
    force_n: float
    jaw_top_mm: float
    backed_to_mm: float = 0.0  #: top of what stands behind it; 0: nothing
    name: str = ""
    torque: str = ""  #: entry of the torque
    backing: str = ""  #: entry of the backing


class PlacedElement(Struct, frozen=True, kw_only=True):
    """A thing in its place."""

    name: str  #: "strap 1"
    contacts: tuple[Contact, ...] = ()
    forces: tuple[ClampForce, ...] = ()
    seats: tuple[Ring, ...] = ()  #: where the work rests on it
    solids: tuple[Solid, ...] = ()
    above: tuple[Element, ...] = ()  #: from above; what bears the work is drawn under it
    over: tuple[Element, ...] = ()  #: and what is then still to be seen on top of the work
    front: tuple[Element, ...] = ()
    dimensions: tuple[Dimension, ...] = ()
    handles: tuple[Handle, ...] = ()
    checks: tuple[Check, ...] = ()
    figures: tuple[Figure, ...] = ()
    problem: str = ""  #: stands on the plate beside it
    behaviour: Behaviour = Behaviour(name="")
    spot: Point = (0.0, 0.0)  #: what it turns round: a stud, a middle
    name_at: Point | None = None  #: where its name is written; None: beside the spot
    tighten: str = ""  #: one line of the order of tightening
    cautions: tuple[str, ...] = ()
    uses: tuple[ShelfUse, ...] = ()  #: what it takes from the shelf
    idle: tuple[str, ...] = ()  #: parameters that mean nothing as the others are chosen; the card leaves them out
    mount: Mount | None = None  #: how it is itself held; None: by what it is bolted with as it is tightened
    squeeze: Squeeze | None = None  #: the work between its jaws


class PlacingContext(Struct, frozen=True, kw_only=True):
    """What a thing is placed into."""

    shop: Shop
    machine: Machine
    piece: Piece
    mu: float
    nut_factor: float
    seats: tuple[Ring, ...] = ()  #: of everything the work rests on
    number: int = 0  #: which thing of the layout, for names of entries

    def entry(self, name: str) -> str:
        """The parameter's name in the whole layout."""
        return f"{self.number}.{name}"

    def slot(self, label: str) -> TSlot | None:
        run = run_of(self.machine, label)
        return run.slot if run is not None else None

    def reaches(self, label: str, x: float) -> bool:
        """Whether that slot goes as far."""
        run = run_of(self.machine, label)
        return run is not None and run.reaches(x)

    def stands_at(self, label: str, x: float) -> tuple[float, float]:
        """Where something in that slot stands; without a slot on the table's middle line."""
        run = run_of(self.machine, label)
        return x, run.y(x) if run is not None else 0.0


@runtime_checkable
class ClampingElement(Protocol):
    """One kind of thing that holds."""

    key: str
    title: str
    when: str
    order: int  #: among the others that can be added
    behaviour: Behaviour

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        """What it asks for."""

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        """Values around what was chosen."""

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        """How far above the table it bears the work; 0: it does not."""

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        """Where it then stands and what it does."""


@cache
def all_elements() -> dict[str, ClampingElement]:
    """Every kind by key, in order."""
    found = (e for _, e in find_all(elements, "ELEMENT", ClampingElement))  # type: ignore[type-abstract]
    return {e.key: e for e in sorted(found, key=lambda e: (e.order, e.key))}


def in_a_slot(
    machine: Machine, slot: str, x: str, turn: str, usually: tuple[str, str] = ("", ""), *, rings: bool = False
) -> tuple[Parameter, ...]:
    """What everything asks that stands in a slot: which, where along it, and where it points.

    Args:
        slot: Label of the slot; x and turn of the other two; usually of x and turn.
        rings: It stands in a ring slot as well.
    """
    slots = tuple((r.label, r.label) for r in runs(machine, rings=rings))
    return (
        Parameter(name="slot", label=slot, kind=Kind.CHOICE, unit="", choices=slots),
        Parameter(name="x", label=x, kind=Kind.LENGTH, low=-3000, high=3000, step=1, usually=usually[0]),
        Parameter(name="direction", label=turn, kind=Kind.ANGLE, unit="", low=-360, high=360, usually=usually[1]),
    )


def slot_near(
    machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], *, rings: bool = False
) -> tuple[str, float, bool]:
    """(label, offset in mm where the work's middle is, whether the work lies across it) of a slot.

    The one that was chosen, else the one nearest the work's middle; "" and 0 without slots.
    """
    there = runs(machine, rings=rings)
    middle = piece.middle[0]
    nearest = min(there, key=lambda r: abs(r.y(middle) - piece.middle[1]), default=None)
    label = str(chosen["slot"].value) if "slot" in chosen else nearest.label if nearest is not None else ""
    offset = next((r.y(middle) for r in there if r.label == label), 0.0)
    _, low, _, high = bounds(piece.outline)
    return label, offset, low <= offset <= high


def find_element(key: str) -> ClampingElement:
    """A kind by key.

    Raises:
        ShopError: There is none of that name.
    """
    known = all_elements()
    if key not in known:
        raise ShopError("Hold", f"there is no thing “{key}”", "Elbrix knows: " + ", ".join(known), "Pick one of those")
    return known[key]


class ChosenElement(Struct, frozen=True, kw_only=True):
    """A thing and what was chosen for it."""

    kind: str
    chosen: Mapping[str, ParameterValue] = field(default_factory=dict)
