"""What an inspection is, whichever thing is looked at: what it asks, where to touch, what follows, what the hands do next.

Each kind is one module in `kinds/` with a `KIND`; bench, card, printed sheet and book know only this.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, Protocol, runtime_checkable

from msgspec import Struct

from elbrix.drawing.scene import Scene
from elbrix.inspecting import kinds
from elbrix.inspecting.readings import Place, Readings, Sheet
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.parameters.plugins import find_all, find_one, module_names
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Verdict
from elbrix.results.figures import Figure
from elbrix.results.results import Results
from elbrix.shop.shop import Shop


class ShopFinding(Struct, frozen=True, kw_only=True):
    """What was found about a thing of the shop, to be kept there with consent."""

    key: str
    words: str  #: on the button: "Keep as Hazel's head tilt"
    items: tuple[Any, ...] = ()  #: the things of the shop as they are now known
    chosen: Mapping[str, str] = {}  #: of the design it is about: parameter → its value, in mm


class Size(Struct, frozen=True, kw_only=True):
    """A size of a drawing that can be measured on the piece."""

    key: str
    label: str
    designed_mm: float


class Mating(Struct, frozen=True, kw_only=True):
    """Holes of a design that wait for their mate."""

    label: str  #: what they are called
    mate: str  #: "the upper plate"
    places: tuple[tuple[float, float], ...]  #: where the drawing has them, from its datum
    release: Callable[[str], tuple[Verdict, str, Mapping[str, str]]]  #: places as typed → verdict, why, what is then chosen


class Subject(Struct, frozen=True, kw_only=True):
    """A design as what is measured: its drawing, its sizes, and what another size would do to its checks."""

    title: str
    scene: Scene  #: with a dimension for each size it shows; their `entry` is the size
    sizes: tuple[Size, ...]
    judge: Callable[[str, float], tuple[Verdict, str]]  #: (size, as made in mm) → worst new verdict, why
    mating: Mating | None = None  #: None: all its holes are made by the drawing


class Inspection(Results, Struct, frozen=True, kw_only=True):
    """An inspection worked out, as far as its readings go."""

    kind: str
    values: Values
    sheet: Sheet
    figures: tuple[Figure, ...]
    checks: tuple[Check, ...] = ()
    groups: tuple[Group, ...]
    scene: Scene
    steps: tuple[str, ...] = ()  #: what the hands do next; lengths marked for the unit
    cautions: tuple[str, ...] = ()
    findings: tuple[ShopFinding, ...] = ()


class Exercise(Struct, frozen=True, kw_only=True):
    """A described thing to measure: what is true at each place, by which tool it is read, and what should come out."""

    tool: str  #: kind of simulated instrument: "caliper", "dial" …
    true: Mapping[str, float]  #: by place, in the unit of its readings
    answers: Mapping[str, float]  #: by figure


@runtime_checkable
class InspectionKind(Protocol):
    """One kind of inspection."""

    key: str
    title: str
    when: str  #: one line: what question does it answer?
    order: int
    can_practise: bool  #: whether `exercise` has something
    measures_piece: bool  #: whether its readings are sizes of a piece, to be kept with its design
    main: str  #: the figure by which one inspection is compared with the next; empty for none

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        """What it asks for, with the shop's own things as choices."""

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        """Values around what was chosen."""

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        """Where to touch, in measuring order.

        Raises:
            ShopError: Values that contradict each other; `entry` names the parameter.
        """

    def reading_u(self, values: Values) -> float:
        """95 % uncertainty of a reading that came without its own, in the unit of the readings."""

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        """Everything that follows from the readings there are.

        Raises:
            ShopError: Values or readings that contradict each other.
        """

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise | None:
        """Something to practise on; None when it has none."""


@runtime_checkable
class OfADesign(Protocol):
    """A kind that is about one design."""

    def about(self, subject: Subject) -> InspectionKind:
        """The same kind, of a design."""


@cache
def all_kinds() -> dict[str, InspectionKind]:
    """Every kind by key, in order."""
    found = find_all(kinds, "KIND", InspectionKind)  # type: ignore[type-abstract]
    return {k.key: k for k in sorted((k for _, k in found), key=lambda k: (k.order, k.key))}


def find_kind(key: str) -> InspectionKind:
    """A kind by key.

    Raises:
        ShopError: There is none of that name.
    """
    found = find_one(kinds, key, "KIND", InspectionKind)  # type: ignore[type-abstract]
    if found is None:
        raise ShopError(
            "Inspect",
            f"there is no inspection “{key[:40]}”",
            "Elbrix knows: " + ", ".join(module_names(kinds)),
            "Pick one of those",
        )
    return found


def inspect(kind: InspectionKind, shop: Shop, chosen: Mapping[str, ParameterValue], readings: Readings) -> Inspection:
    """Propose around the choices, lay out the readings, work it out.

    Raises:
        ShopError: Values or readings that contradict each other.
    """
    values = kind.propose(shop, chosen)
    sheet = Sheet(kind.places(values, shop), readings, kind.reading_u(values))
    return kind.work_out(values, sheet, shop)
