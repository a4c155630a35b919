"""Everything that many angle settings say and draw, written down so that no change of it goes by unseen.

Like `design_record` it proves nothing: that the numbers are right is proven by geometry done another way. It holds still every
figure, check, word, step, method, budget line and stroke. Whoever changes one on purpose reads the differences and writes it
anew: `PYTHONPATH=. python tests/angles_record.py`, from the checkout.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from campaigns.designs import odd

import records
from elbrix.angles.setup import AngleKind, AngleSetup, all_kinds, find_kind, solve_angle_setup
from elbrix.book.angle_setups import solve_angle
from elbrix.book.documents import AngleDoc, shop_of
from elbrix.demo import documents
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.shop.shop import Shop
from records import plain

KEPT: Final = Path(__file__).parent / "data" / "angles-record.json.gz"
#: Random settings of each kind.
_RANDOM: Final = 18


def settings() -> Iterator[tuple[str, AngleKind, AngleSetup | ShopError]]:
    """(name, kind, what it solves to) of every setting."""
    everything = documents()
    shop = shop_of(everything)
    for doc in (d for d in everything if isinstance(d, AngleDoc)):
        yield doc.id, find_kind(doc.kind), solve_angle(doc, shop)
    chance = random.Random(41)
    for key, kind in all_kinds().items():
        yield f"{key} empty", kind, _solved(kind, Shop(), {})
        yield f"{key} demo", kind, _solved(kind, shop, {})
        for p in kind.parameters(shop):
            for value, _ in p.choices:
                if value:
                    yield f"{key} {p.name}={value}", kind, _solved(kind, shop, {p.name: value})
                    more = _typed(kind, shop, chance, wild=False) | {p.name: value}
                    yield f"{key} {p.name}={value} and more", kind, _solved(kind, shop, more)
        for n in range(_RANDOM):
            there = Shop() if n % 5 == 4 else shop
            yield f"{key} {n}", kind, _solved(kind, there, _typed(kind, there, chance, wild=n % 2 == 1))


def _typed(kind: AngleKind, shop: Shop, chance: random.Random, *, wild: bool) -> dict[str, str]:
    some = list(kind.parameters(shop))
    some = chance.sample(some, min(4, len(some)))
    if wild:
        return {p.name: odd(p, chance) for p in some}
    proposed = kind.propose(shop, {})
    found = {}
    for p in some:
        if p.choices:
            found[p.name] = chance.choice([value for value, _ in p.choices])
        elif p.name in proposed and isinstance(now := proposed[p.name].value, int | float) and now:
            found[p.name] = _near(p, float(now), chance)
    return found


def _near(p: Parameter, now: float, chance: random.Random) -> str:
    value = now * chance.uniform(0.6, 1.5)
    if p.kind is Kind.COUNT:
        return str(max(1, round(value)))
    return f"{math.degrees(value):.4f}d" if p.kind is Kind.ANGLE else f"{value:.4f}"


def _solved(kind: AngleKind, shop: Shop, typed: dict[str, str]) -> AngleSetup | ShopError:
    try:
        chosen = {p.name: p.read(typed[p.name]) for p in kind.parameters(shop) if p.name in typed}
        return solve_angle_setup(kind, shop, chosen)
    except (EntryError, ShopError) as error:
        return error


def said(kind: AngleKind, found: AngleSetup | ShopError) -> Any:
    """Everything of a setting but the search for longer stacks, which is no answer yet."""
    if isinstance(found, ShopError):
        return {"refused": [found.where, found.what, found.why, found.do, found.entry]}
    rest = {f: plain(getattr(found, f)) for f in found.__struct_fields__ if f not in ("longer", "values")}
    return {"kind": kind.key, "values": {name: plain(found.values[name]) for name in found.values}, **rest}


def record() -> dict[str, Any]:
    return {name: said(kind, found) for name, kind, found in settings()}


def kept() -> dict[str, Any]:
    return records.read(KEPT)  # type: ignore[no-any-return]


if __name__ == "__main__":
    print(records.write(KEPT, record()), "bytes")
