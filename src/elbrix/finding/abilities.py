"""What each design can do and where it goes: worked out once, and known until the design or the shop changes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Final

from msgspec import Struct

from elbrix.book.designs import family_of, slot_fits, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.family import Capability, MeetsNeeds, SlotFit
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

#: Kinds of capability that a need looks for.
STUD: Final = "stud"
QUILL_STOP: Final = "quill stop"
HEIGHT: Final = "height"
NEEDED: Final = frozenset([STUD, QUILL_STOP, HEIGHT])


class Abilities(Struct, frozen=True):
    """Of one design, against the shop as it is measured now."""

    can: tuple[Capability, ...]
    fits: tuple[SlotFit, ...]  #: with its sizes as made

    def of(self, kind: str) -> tuple[Capability, ...]:
        """What it can do, of one kind."""
        return tuple(c for c in self.can if c.kind == kind)


def abilities_of(doc: DesignDoc, shop: Shop) -> Abilities:
    """Solved; nothing when the design contradicts itself."""
    try:
        can = tuple(family_of(doc).can_hold(solve_doc(doc, shop)))
    except ShopError:
        return Abilities((), ())
    return Abilities(can, slot_fits(doc, shop))


def those_in_question(designs: Iterable[DesignDoc], kinds: Iterable[str]) -> Iterator[DesignDoc]:
    """The designs whose family can be what somebody looks for, before anything is solved."""
    wanted, families = frozenset(kinds), dict[str, bool]()
    for doc in designs:
        if doc.family not in families:
            family = family_of(doc)
            families[doc.family] = isinstance(family, MeetsNeeds) and not family.meets.isdisjoint(wanted)
        if families[doc.family]:
            yield doc


#: A design → what it can do; None while that is not worked out yet.
Able = Callable[[DesignDoc], Abilities | None]


def those_able(designs: Iterable[DesignDoc], kind: str, able: Able) -> Iterator[tuple[DesignDoc, Abilities]]:
    """The designs that can do something of a kind, as far as it is known."""
    for doc in those_in_question(designs, [kind]):
        if (found := able(doc)) is not None and found.of(kind):
            yield doc, found


class KnownAbilities:
    """What was worked out so far, each with the design and the shop it follows from.

    Several threads may ask and learn at once: an entry says itself what it is true of.
    """

    def __init__(self) -> None:
        self._known: dict[str, tuple[DesignDoc, Shop, Abilities]] = {}

    def known(self, doc: DesignDoc, shop: Shop) -> Abilities | None:
        """What is known of a design as it is now; None when it has to be worked out."""
        found = self._known.get(doc.id)
        if found is None or found[1] is not shop:
            return None
        return found[2] if found[0] is doc or found[0] == doc else None

    def of(self, doc: DesignDoc, shop: Shop) -> Abilities:
        """The same, worked out when it is not known."""
        found = self.known(doc, shop)
        if found is None:
            found = abilities_of(doc, shop)
            self.learn(doc, shop, found)
        return found

    def learn(self, doc: DesignDoc, shop: Shop, found: Abilities) -> None:
        """Worked out elsewhere."""
        self._known[doc.id] = (doc, shop, found)
