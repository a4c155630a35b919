"""Accessories of the catalogue laid into a layout: their sizes copied, and whether their drawing has changed since."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import Chosen, DesignDoc, HoldDoc, ThingDoc
from elbrix.book.layouts import add_thing
from elbrix.design.family import Layable
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop


def layable(designs: Iterable[DesignDoc]) -> list[DesignDoc]:
    """The designs that can lie in a layout."""
    return [d for d in designs if isinstance(family_of(d), Layable)]


def thing_of(doc: DesignDoc, shop: Shop) -> ThingDoc:
    """The design as a thing of a layout.

    Raises:
        ShopError: It is nothing that lies in a layout, or does not solve.
    """
    family = family_of(doc)
    if not isinstance(family, Layable):
        raise ShopError("Hold", f"{doc.title} is nothing that lies on a table", "A layout takes plates", "Pick a fixture plate")
    laid = family.in_layout(solve_doc(doc, shop))
    return ThingDoc(kind=laid.kind, chosen={k: Chosen(text=v) for k, v in laid.values.items()}, design=doc.id)


def add_design(hold: HoldDoc, doc: DesignDoc, shop: Shop) -> HoldDoc:
    """One more thing: the design.

    Raises:
        EntryError: There are too many things already.
        ShopError: As `thing_of`.
    """
    thing = thing_of(doc, shop)
    more = add_thing(hold, thing.kind)
    return replace(more, things=(*more.things[:-1], thing))


def changed_since(thing: ThingDoc, doc: DesignDoc, shop: Shop) -> bool:
    """Whether the drawing says other sizes than the layout took; a design that does not solve says nothing."""
    try:
        now = thing_of(doc, shop)
    except ShopError:
        return False
    return any(thing.chosen.get(k) != v for k, v in now.chosen.items())


def taken_again(hold: HoldDoc, number: int, doc: DesignDoc, shop: Shop) -> HoldDoc:
    """The layout with a thing's sizes as its drawing has them now; what was chosen besides stays.

    Raises:
        ShopError: As `thing_of`.
    """
    now = thing_of(doc, shop)
    things = [replace(t, chosen={**t.chosen, **now.chosen}) if i == number else t for i, t in enumerate(hold.things)]
    return replace(hold, things=tuple(things))
