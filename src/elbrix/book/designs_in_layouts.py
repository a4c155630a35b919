"""Accessories of the catalogue laid into a layout: their sizes copied, and whether their drawing has changed since."""

from __future__ import annotations

from collections.abc import Iterable
from heapq import nsmallest
from typing import Final

from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import Chosen, DesignDoc, ElementDoc, LayoutDoc
from elbrix.book.layouts import add_element
from elbrix.design.family import Layable
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

#: Offered in a layout; the others lie in the Catalogue.
MAX_OFFERED: Final = 12


def offered(designs: Iterable[DesignDoc]) -> list[DesignDoc]:
    """The designs that can lie in a layout: those first that were made, then those that were released."""
    return nsmallest(MAX_OFFERED, layable(designs), key=lambda d: (not d.made, not d.letter))


def layable(designs: Iterable[DesignDoc]) -> list[DesignDoc]:
    """The designs that can lie in a layout."""
    lies: dict[str, bool] = {}
    found = []
    for doc in designs:
        if doc.family not in lies:
            lies[doc.family] = isinstance(family_of(doc), Layable)
        if lies[doc.family]:
            found.append(doc)
    return found


def thing_of(doc: DesignDoc, shop: Shop) -> ElementDoc:
    """The design as a thing of a layout.

    Raises:
        ShopError: It is nothing that lies in a layout, or does not solve.
    """
    family = family_of(doc)
    if not isinstance(family, Layable):
        raise ShopError("Hold", f"{doc.title} is nothing that lies on a table", "A layout takes plates", "Pick a fixture plate")
    laid = family.in_layout(solve_doc(doc, shop))
    return ElementDoc(kind=laid.kind, chosen={k: Chosen(text=v) for k, v in laid.values.items()}, design=doc.id)


def add_design(hold: LayoutDoc, doc: DesignDoc, shop: Shop) -> LayoutDoc:
    """One more thing: the design.

    Raises:
        EntryError: There are too many things already.
        ShopError: As `thing_of`.
    """
    thing = thing_of(doc, shop)
    more = add_element(hold, thing.kind)
    return replace(more, elements=(*more.elements[:-1], thing))


def changed_since(thing: ElementDoc, doc: DesignDoc, shop: Shop) -> bool:
    """Whether the drawing says other sizes than the layout took; a design that does not solve says nothing."""
    try:
        now = thing_of(doc, shop)
    except ShopError:
        return False
    return any(thing.chosen.get(k) != v for k, v in now.chosen.items())


def sizes_taken_again(hold: LayoutDoc, number: int, doc: DesignDoc, shop: Shop) -> LayoutDoc:
    """The layout with a thing's sizes as its drawing has them now; what was chosen besides stays.

    Raises:
        ShopError: As `thing_of`.
    """
    now = thing_of(doc, shop)
    things = [replace(t, chosen={**t.chosen, **now.chosen}) if i == number else t for i, t in enumerate(hold.elements)]
    return replace(hold, elements=tuple(things))
