"""The family protocol: everything a bench may ask of a family, and nothing a bench may know about one.

To add a family, write one module in `families/` with a `FAMILY` that has these members; chooser, plate, card, proof, files,
cutting plan and catalogue follow. `families/table_key/` is the one to copy; docs/adding-a-family.md goes through it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cache
from typing import Final, Protocol, runtime_checkable

from msgspec import Struct, field

from elbrix.design import families
from elbrix.design.work import Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values, parameter_named
from elbrix.parameters.plugins import find_all, find_one
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Verdict
from elbrix.results.figures import Figure
from elbrix.results.length_text import plain
from elbrix.results.results import Results
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Recipe

#: What one wants it for, in the order of the shelf: the commonest first.
GROUPS: Final = ("fasten it", "hold it", "locate it", "stop it", "tilt it")


class Request(Struct, frozen=True, kw_only=True):
    """What an accessory is wanted for."""

    machine: str = ""  #: id; empty: the first with a measured slot
    slot: str = ""  #: label; empty: its first measured one
    pieces: int = 1


class HoleSizes(Struct, frozen=True, kw_only=True):
    """The numbers of a hole, for a table that a program reads; mm, a depth of 0 is right through."""

    diameter_mm: float  #: what is drilled, reamed or bored; of a thread its tapping drill, of a slot its width
    depth_mm: float = 0.0  #: full diameter
    thread: str = ""
    thread_depth_mm: float = 0.0
    counterbore_mm: float = 0.0
    counterbore_depth_mm: float = 0.0
    below: bool = False  #: from the other face
    limits: tuple[float, float] | None = None  #: how much under and over its Ø it may come out; None: as the drawing's block says


class HoleLine(Struct, frozen=True):
    """One line of a hole table: ordinates from the datum named by the family, mm."""

    name: str
    x_mm: float
    y_mm: float
    words: str  #: "M10 × 1.5, drill 8.5 through, tap to 9.8", its lengths marked (`results.length_text`)
    size: str = ""  #: the parameter that is its Ø, when its limits are found with those of the other sizes
    sizes: HoleSizes | None = None

    @property
    def what(self) -> str:
        """Its words in mm."""
        return plain(self.words)


class Callout(Struct, frozen=True):
    """What a drawing says of a feature that is neither a size between two points nor a hole of its table, with a letter."""

    words: str  #: "lower edges 0.5 × 45°", its lengths marked (`results.length_text`)
    view: str  #: "front", "top" or "side": where the letter stands
    at: tuple[float, float]  #: in that view, on the feature, mm

    @property
    def what(self) -> str:
        """Its words in mm."""
        return plain(self.words)


class Design(Results, Struct, frozen=True, kw_only=True):
    """A solved design: everything that follows from its values."""

    family: str
    values: Values
    figures: tuple[Figure, ...]
    checks: tuple[Check, ...]
    holes: tuple[HoleLine, ...] = ()
    callouts: tuple[Callout, ...] = ()  #: lettered a, b, c … in this order
    datum: str = ""
    origin: tuple[float, float] = (0.0, 0.0)  #: where the datum lies in the coordinates of the view that shows the holes, mm
    face: str = "top"  #: the view that shows the holes square on
    note_words: str = ""  #: one line for the drawing: "Ø8.982 +0/−0.004, land 2.5", its lengths marked (`results.length_text`)

    @property
    def note(self) -> str:
        """The line for the drawing, in mm."""
        return plain(self.note_words)


class SlotFit(Struct, frozen=True):
    """Whether a design goes into one slot of one machine."""

    machine: str
    slot: str
    verdict: Verdict
    reason: str


class Capability(Struct, frozen=True):
    """What a design can hold or take, for the search by need."""

    kind: str  #: "stud"
    words: str  #: "M10 stud to 21 N·m"
    sizes: Mapping[str, float] = field(default_factory=dict)


class InLayout(Struct, frozen=True):
    """A design as a thing of a clamping layout: which kind, and its values as they would be typed, mm."""

    kind: str
    values: Mapping[str, str]


@runtime_checkable
class Layable(Protocol):
    """A family whose designs can be laid into a clamping layout."""

    def in_layout(self, design: Design) -> InLayout:
        """What the layout takes over."""


@runtime_checkable
class Family(Protocol):
    """One kind of accessory."""

    key: str  #: "t_nut"
    title: str  #: "T-nut"
    when: str  #: one line: when would I want this?
    group: str  #: "fasten it"
    parameters: tuple[Parameter, ...]

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        """Values for every parameter from measured things, around what was chosen.

        Never fails for want of data: it assumes and says so.
        """

    def solve(self, values: Values, shop: Shop) -> Design:
        """Derived sizes with working, checks, features.

        Raises:
            ShopError: The values contradict each other; `entry` names the parameter.
        """

    def card(self, design: Design) -> tuple[Group, ...]:
        """The groups of the card."""

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        """Return the scene "in place" first, then the outlines of "front", "top" and "side".

        With their sizes and handles, drawn without the kernel.
        """

    def solid(self, design: Design) -> Recipe:
        """The one real solid."""

    def section(self, design: Design) -> tuple[str, float]:
        """Where to cut it to show its inside: axis "x" or "y", and at which mm."""

    def work(self, design: Design, shop: Shop) -> Work:
        """What has to be done to make it."""

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every measured slot in the shop it may go into."""

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        """What it can hold."""


class Withheld(Struct, frozen=True, kw_only=True):
    """Holes that wait for their mate."""

    positions: str  #: the parameter that says where they are
    making: str  #: the parameter that says when they are made; "now" releases them
    mate: str  #: what they have to meet: "the upper plate"


@runtime_checkable
class MeetsNeeds(Protocol):
    """A family whose designs are looked for by need."""

    meets: frozenset[str]  #: kinds of its capabilities that are looked for: "stud"


@runtime_checkable
class MadeAtAssembly(Protocol):
    """A family some of whose holes are made when their mate is there."""

    def withheld(self, design: Design) -> Withheld | None:
        """The holes that wait; None when all are made by the drawing."""


@runtime_checkable
class BecomesThing(Protocol):
    """A family whose finished pieces the shop has a list for."""

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        """The pieces as a thing of the shop, by their sizes as made; None of a variant the list does not take."""


def all_families() -> dict[str, Family]:
    """Every family by key, found by its module: one new module adds one."""
    return _families_in(tuple(families.__path__))


@runtime_checkable
class Commonest(Protocol):
    """The family most often wanted of its group."""

    commonest: bool


def in_group(group: str) -> list[Family]:
    """The families of a group, the commonest first."""
    return sorted((f for f in all_families().values() if f.group == group), key=lambda f: not isinstance(f, Commonest))


@cache
def _families_in(path: tuple[str, ...]) -> dict[str, Family]:
    found = dict(find_all(families, "FAMILY", Family))  # type: ignore[type-abstract]
    for name, family in found.items():
        if family.key != name:  # a copied module that kept its key would hide the one it was copied from
            raise TypeError(f"the family in module {name} calls itself {family.key}: its key is its module's name")
    return found


def find_family(key: str) -> Family:
    """A family by key or title.

    Raises:
        ShopError: There is none of that name.
    """
    wanted = key.strip().lower().replace("-", "_").replace(" ", "_")
    # Only that one is loaded: a start shows one design, not a dozen.
    if (alone := find_one(families, wanted, "FAMILY", Family)) is not None:  # type: ignore[type-abstract]
        return alone
    known = all_families()
    if wanted not in known:
        raise ShopError("Design", f"there is no family “{key}”", "Elbrix knows: " + ", ".join(known), "Pick one of those")
    return known[wanted]


def parameter_of(family: Family, name: str) -> Parameter:
    """A parameter by name, dashes and blanks allowed.

    Raises:
        ShopError: The family asks for no such thing.
    """
    return parameter_named(family.parameters, name, family.title)


def read_choices(
    family: Family, texts: Mapping[str, str] | Iterable[tuple[str, str]], unit: str = "mm"
) -> dict[str, ParameterValue]:
    """Typed overrides by parameter name.

    Raises:
        ShopError: A name or text that cannot be taken.
    """
    found = {}
    for name, text in dict(texts).items():
        parameter = parameter_of(family, name)
        found[parameter.name] = parameter.read(text, unit)
    return found


def solve_for(family: Family, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Design:
    """Propose around the choices and solve.

    Raises:
        ShopError: The choices make no part, or a size worked out from them is one that could not be typed.
    """
    design = family.solve(family.propose(shop, request, chosen), shop)
    _refuse_outside(family, design)
    return design


def _refuse_outside(family: Family, design: Design) -> None:
    """A size worked out from the others keeps the limits of a typed one: a spring of 72 m is no spring.

    Only what stands on the card is asked; a family may work out a size that its kind of part does not have.
    """
    shown = {name for group in family.card(design) for name in group.rows}
    for parameter in family.parameters:
        if parameter.name in shown and parameter.name in design.values:
            parameter.refuse_worked_out(design.values[parameter.name])
