"""Everything that many designs say and draw, written down so that no change of it goes by unseen.

Like `holding_record` it proves nothing: that the numbers are right is proven by hand, by building the slot and trying the
piece in it, and by search. It holds still every figure, check, word and line. Whoever changes one on purpose reads the
differences and writes it anew: `PYTHONPATH=. python tests/design_record.py`, from the checkout.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from campaigns.designs import near, odd

import records
from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, all_families, find_family, read_choices, solve_for
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.shop.shop import Shop
from records import plain

KEPT: Final = Path(__file__).parent / "data" / "design-record.json.gz"
#: Random designs for each family: half far out, half near what is proposed.
_RANDOM: Final = 8


def designs() -> Iterator[tuple[str, Family, Design | ShopError, Shop]]:
    """(name, family, what it solves to, shop) of every design."""
    everything = documents()
    shop = shop_of(everything)
    for doc in (d for d in everything if isinstance(d, DesignDoc)):
        yield doc.id, find_family(doc.family), solve_doc(doc, shop), shop
    chance = random.Random(31)
    for key, family in all_families().items():
        for n in range(_RANDOM):
            there = Shop() if n % 4 == 1 else shop
            typed = _typed(family, there, chance, wild=n % 2 == 0)
            try:
                found: Design | ShopError = solve_for(family, there, Request(), read_choices(family, typed))
            except EntryError:
                continue
            except ShopError as error:
                found = error
            yield f"{key} {n}", family, found, there


def _typed(family: Family, shop: Shop, chance: random.Random, *, wild: bool) -> dict[str, str]:
    kinds = {p.name: odd(p, chance) for p in family.parameters if p.kind is Kind.CHOICE and chance.random() < 0.6}
    some = chance.sample(list(family.parameters), min(4, len(family.parameters)))
    if wild:
        return {p.name: odd(p, chance) for p in some}
    try:
        first = solve_for(family, shop, Request(), read_choices(family, kinds))
    except ShopError:
        return kinds
    sizes = {p.name: near(p, first, chance) for p in some if p.name not in kinds}
    return kinds | {name: text for name, text in sizes.items() if text is not None}


def said(family: Family, design: Design | ShopError, shop: Shop) -> Any:
    """Figures, checks, holes and words of a design, what it draws, fits and can hold."""
    if isinstance(design, ShopError):
        return {"refused": [design.where, design.what, design.why, design.do, design.entry]}
    return {
        "values": {name: plain(design.values[name]) for name in design.values},
        "figures": plain(design.figures),
        "checks": plain(design.checks),
        "holes": plain(design.holes),
        "words": [design.datum, design.note_words],
        "callouts": plain(design.callouts),
        "card": plain(family.card(design)),
        "fits": plain(family.fits(design, shop)),
        "scenes": plain(family.scenes(design)),
        "solid": plain(family.solid(design)),
        "work": plain(family.work(design, shop)),
        "can": plain(family.can_hold(design)),
    }


def record() -> dict[str, Any]:
    return {name: said(family, design, shop) for name, family, design, shop in designs()}


def kept() -> dict[str, Any]:
    return records.read(KEPT)  # type: ignore[no-any-return]


if __name__ == "__main__":
    print(records.write(KEPT, record()), "bytes")
