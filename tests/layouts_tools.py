"""Short ways to write a layout down in a test."""

from __future__ import annotations

from elbrix.book.documents import Chosen, HoldDoc, ThingDoc
from elbrix.book.layouts import choose_hold, solve_doc
from elbrix.holding.hold import Hold
from elbrix.shop.shop import Shop


def thing(kind: str, **chosen: str) -> ThingDoc:
    return ThingDoc(kind=kind, chosen={k: Chosen(text=v) for k, v in chosen.items()})


def doc(*things: ThingDoc, machine: str = "hazel", **chosen: str) -> HoldDoc:
    return HoldDoc(id="h", title="h", machine=machine, chosen={k: Chosen(text=v) for k, v in chosen.items()}, things=things)


def solve(layout: HoldDoc, shop: Shop) -> Hold:
    """Solved, with every value read as if it were typed, so that a slip in a test is no silent proposal."""
    read = HoldDoc(
        id=layout.id, title=layout.title, machine=layout.machine, things=tuple(ThingDoc(kind=t.kind) for t in layout.things)
    )
    for name, choice in layout.chosen.items():
        read = choose_hold(read, shop, name, choice.text)
    for i, one in enumerate(layout.things):
        for name, choice in one.chosen.items():
            read = choose_hold(read, shop, f"{i}.{name}", choice.text)
    return solve_doc(read, shop)
