"""What an angle setting is, whichever way it is made: what it asks for, what follows, and what the bench may show of it.

Each kind of setting is one module in `kinds/` with a `KIND`; the bench, the card, the printed sheet and the book know only this.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Protocol, runtime_checkable

from msgspec import Struct, field

from elbrix.angles import kinds
from elbrix.angles.from_boxes import Longer
from elbrix.angles.methods import Advice, Method
from elbrix.drawing.scene import Scene
from elbrix.gauging.build_up import BuiltStack
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.parameters.plugins import find_all
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Fix
from elbrix.results.figures import Figure
from elbrix.results.results import Results
from elbrix.shop.shop import Shop


class SetupStep(Struct, frozen=True):
    """One line of the wring list or of the setting-up."""

    words: str
    care: str = ""  #: what to mind
    running: str = ""  #: height or reading reached after it


class Table(Struct, frozen=True, kw_only=True):
    """A small table on the card: infeed against flat, hole ordinates."""

    title: str
    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


class ReadBack(Struct, frozen=True, kw_only=True):
    """How a setting can be read back: the angle a level on the work then shows against the table."""

    angle: float  #: radians
    tolerance: float  #: radians
    sine_tool: str = ""  #: id of the plate or bar it stands on


class AngleSetup(Results, Struct, frozen=True, kw_only=True):
    """A setting worked out."""

    kind: str
    values: Values
    figures: tuple[Figure, ...]
    checks: tuple[Check, ...]
    groups: tuple[Group, ...]
    scenes: tuple[Scene, ...]  #: the picture, then other views of it
    steps: tuple[SetupStep, ...] = ()
    cautions: tuple[str, ...] = ()
    fixes: Mapping[str, Fix] = field(default_factory=dict)  #: by check
    methods: tuple[Method, ...] = ()
    advice: Advice | None = None
    stacks: tuple[BuiltStack, ...] = ()  #: under the stack roll, then under the other rolls that stand on blocks
    others: tuple[BuiltStack, ...] = ()  #: other stacks that would do
    longer: Longer | None = None  #: a search for others that takes a while
    table: Table | None = None
    read_back: ReadBack | None = None  #: None: there is no one angle to read
    dropped: Mapping[str, str] = field(default_factory=dict)  #: chosen values that could not be followed, and why


@runtime_checkable
class AngleKind(Protocol):
    """One kind of setting."""

    key: str
    title: str
    when: str  #: one line: when would I want this?
    order: int  #: among the others on the chooser

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        """What it asks for, with the shop's own tools as choices."""

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        """Values around what was chosen. Never fails for want of tools: it assumes and says so."""

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        """Everything that follows.

        Args:
            holder: Id of the setting, which may use the blocks it holds already.

        Raises:
            ShopError: Values that contradict each other; `entry` names the parameter.
        """

    def settle(self, setting: AngleSetup, shop: Shop, name: str, value: float, holder: str = "") -> str:
        """What a dragged value settles on, as typed text. The value is in the handle's unit: degrees or mm."""


@cache
def all_kinds() -> dict[str, AngleKind]:
    """Every kind by key, in the order of their `order`."""
    found = [kind for _, kind in find_all(kinds, "KIND", AngleKind)]  # type: ignore[type-abstract]
    return {k.key: k for k in sorted(found, key=lambda k: (k.order, k.key))}


def find_kind(key: str) -> AngleKind:
    """A kind by key.

    Raises:
        ShopError: There is none of that name.
    """
    known = all_kinds()
    if key not in known:
        raise ShopError("Angles", f"there is no setting “{key}”", "Elbrix knows: " + ", ".join(known), "Pick one of those")
    return known[key]


def solve_angle_setup(kind: AngleKind, shop: Shop, chosen: Mapping[str, ParameterValue], holder: str = "") -> AngleSetup:
    """Propose around the choices and solve."""
    return kind.solve(kind.propose(shop, chosen), shop, holder)
