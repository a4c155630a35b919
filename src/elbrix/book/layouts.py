"""Layouts in the book: solved against the shop as it stands, things added, changed, moved and taken away."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from elbrix.book.choices import chosen_from, read_chosen
from elbrix.book.documents import MAX_ELEMENTS, Chosen, ElementDoc, LayoutDoc
from elbrix.book.latest import Latest
from elbrix.holding import cut
from elbrix.holding.layout import ChosenElement, find_element
from elbrix.holding.remedies import nearest_fix
from elbrix.holding.solve import LayoutResult, all_parameters, machine_for, solve_layout
from elbrix.parameters.parameter import Parameter
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Fix
from elbrix.shop.shop import Shop


def asked_of(doc: LayoutDoc, shop: Shop) -> tuple[ChosenElement, ...]:
    """The things with what was chosen for each, read back."""
    machine = machine_for(shop, doc.machine)
    return tuple(
        ChosenElement(kind=t.kind, chosen=read_chosen(find_element(t.kind).parameters(shop, machine), t.chosen))
        for t in doc.elements
    )


#: What an answer depends on, apart from the shop.
_Asked = tuple[str, dict[str, Chosen], tuple[ElementDoc, ...]]
_QUICK: Final[Latest[_Asked, LayoutResult]] = Latest()
#: A step back, a step forward and the layout before are there at once.
_WHOLE: Final[Latest[_Asked, LayoutResult]] = Latest(8)


def solve_doc(doc: LayoutDoc, shop: Shop, *, quick: bool = False) -> LayoutResult:
    """The layout as the shop stands now; the last few answers are remembered.

    Raises:
        ShopError: Its values contradict each other.
    """
    kept = _QUICK if quick else _WHOLE
    return kept.of((doc.machine, doc.chosen, doc.elements), shop, lambda: solve_anew(doc, shop, quick=quick))


def solve_anew(doc: LayoutDoc, shop: Shop, *, quick: bool = False) -> LayoutResult:
    """The same, worked out whatever is remembered.

    Raises:
        ShopError: Its values contradict each other.
    """
    chosen = read_chosen(cut.parameters(shop), doc.chosen)
    return solve_layout(shop, machine_for(shop, doc.machine), chosen, asked_of(doc, shop), quick=quick)


def fix_of(doc: LayoutDoc, shop: Shop, key: str) -> Fix | None:
    """The nearest change that would mend a check; takes up to a second.

    Raises:
        ShopError: The layout contradicts itself.
    """
    return nearest_fix(
        shop, machine_for(shop, doc.machine), read_chosen(cut.parameters(shop), doc.chosen), asked_of(doc, shop), key
    )


def fixed(doc: LayoutDoc, shop: Shop, fix: Fix) -> LayoutDoc:
    """The document with a fix applied."""
    for name, text in fix.changes:
        doc = choose_layout(doc, shop, name, text)
    return doc


def parameters_of(doc: LayoutDoc, shop: Shop) -> dict[str, Parameter]:
    """Every parameter of the layout by its whole name."""
    return all_parameters(shop, machine_for(shop, doc.machine), asked_of(doc, shop))


def choose_layout(
    doc: LayoutDoc, shop: Shop, name: str, text: str, unit: str = "mm", known: dict[str, Parameter] | None = None
) -> LayoutDoc:
    """The document with one value chosen from typed text; things' values have their number before: "1.x".

    Args:
        known: `parameters_of` this document, when they are at hand.

    Raises:
        EntryError: The text cannot be taken; nothing changes.
    """
    parameters = known or parameters_of(doc, shop)
    if name not in parameters:
        raise ShopError("Hold", f"it asks for no “{name}”", "Only what is on the card can be set", "Pick a line of the card")
    chosen = chosen_from(parameters[name], text, unit)
    number, _, own = name.rpartition(".")
    if not number:
        return replace(doc, chosen={**doc.chosen, own: chosen})
    return _with_thing(doc, int(number), {**doc.elements[int(number)].chosen, own: chosen})


def typed_in(doc: LayoutDoc, shop: Shop) -> LayoutDoc:
    """The layout with every value read as if it were typed: labels of choices, sizes in any unit.

    Raises:
        ShopError: A text that cannot be read; nothing becomes a proposal in silence.
    """
    read = replace(doc, chosen={}, elements=tuple(replace(e, chosen={}) for e in doc.elements))
    for name, choice in doc.chosen.items():
        read = choose_layout(read, shop, name, choice.text)
    for i, element in enumerate(doc.elements):
        for name, choice in element.chosen.items():
            read = choose_layout(read, shop, f"{i}.{name}", choice.text)
    return read


def forget_layout(doc: LayoutDoc, name: str) -> LayoutDoc:
    """The document with one value back to what is proposed."""
    number, _, own = name.rpartition(".")
    if not number:
        return replace(doc, chosen={k: v for k, v in doc.chosen.items() if k != own})
    return _with_thing(doc, int(number), {k: v for k, v in doc.elements[int(number)].chosen.items() if k != own})


def add_element(doc: LayoutDoc, kind: str) -> LayoutDoc:
    """One more thing, where it is proposed.

    Raises:
        EntryError: There are too many already.
    """
    find_element(kind)
    if len(doc.elements) >= MAX_ELEMENTS:
        raise EntryError("Hold", f"{len(doc.elements)} things already", f"{MAX_ELEMENTS} fit on a layout", "Take one away first")
    return replace(doc, elements=(*doc.elements, ElementDoc(kind=kind)))


def remove_element(doc: LayoutDoc, number: int) -> LayoutDoc:
    return replace(doc, elements=tuple(t for i, t in enumerate(doc.elements) if i != number))


def _with_thing(doc: LayoutDoc, number: int, chosen: dict[str, Chosen]) -> LayoutDoc:
    return replace(doc, elements=tuple(replace(t, chosen=chosen) if i == number else t for i, t in enumerate(doc.elements)))
