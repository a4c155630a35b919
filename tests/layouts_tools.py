"""Short ways to write a layout down in a test."""

from __future__ import annotations

from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc
from elbrix.book.layouts import solve_doc, typed_in
from elbrix.holding.solve import LayoutResult
from elbrix.shop.shop import Shop


def thing(kind: str, **chosen: str) -> ElementDoc:
    return ElementDoc(kind=kind, chosen={k: Chosen(text=v) for k, v in chosen.items()})


def doc(*things: ElementDoc, machine: str = "hazel", **chosen: str) -> LayoutDoc:
    return LayoutDoc(id="h", title="h", machine=machine, chosen={k: Chosen(text=v) for k, v in chosen.items()}, elements=things)


_RECORDED: dict[int, LayoutResult] = {}


def solve_recorded(number: int, layout: LayoutDoc, shop: Shop) -> LayoutResult:
    """A layout of the record in the demo shop: several tests look at the same ones."""
    if number not in _RECORDED:
        _RECORDED[number] = solve(layout, shop)
    return _RECORDED[number]


def solve(layout: LayoutDoc, shop: Shop) -> LayoutResult:
    """Solved, with every value read as if it were typed, so that a slip in a test is no silent proposal."""
    return solve_doc(typed_in(layout, shop), shop)
