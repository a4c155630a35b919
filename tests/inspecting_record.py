"""Everything that many inspections say and draw, written down so that no change of it goes by unseen.

Like `design_record` it proves nothing: that the numbers are right is proven by truths that simulated instruments read. It holds
still every place, figure, check, step, finding and stroke. Whoever changes one on purpose reads the differences and writes it
anew: `PYTHONPATH=. python tests/inspecting_record.py`, from the checkout.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from campaigns.designs import odd

import records
from elbrix.book.documents import DesignDoc, InspectionDoc, shop_of
from elbrix.book.inspections import subject_of
from elbrix.demo import documents
from elbrix.inspecting.inspection import Inspection, InspectionKind, OfADesign, all_kinds, inspect
from elbrix.inspecting.readings import Place, Taken
from elbrix.parameters.parameter import Kind, ParameterValue
from elbrix.presenters.inspect import InspectPresenter
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import METRIC
from elbrix.shop.shop import Shop
from records import plain
from simulated_readings import measured

KEPT: Final = Path(__file__).parent / "data" / "inspecting-record.json.gz"
#: Random inspections of each kind.
_RANDOM: Final = 12
Chosen = dict[str, ParameterValue]


def inspections() -> Iterator[tuple[str, Inspection | ShopError]]:
    """(name, what it comes to) of every inspection."""
    everything = documents()
    shop, designs = shop_of(everything), [d for d in everything if isinstance(d, DesignDoc)]
    for doc in (d for d in everything if isinstance(d, InspectionDoc)):
        there = InspectPresenter(doc, shop, METRIC, designs)
        yield doc.id, there.inspection or there.problem or ShopError("", "", "", "")
    chance = random.Random(53)
    for key, kind in all_kinds().items():
        yield f"{key} empty", _looked(kind, Shop(), {}, {})
        yield f"{key} begun", _looked(kind, shop, {}, {})
        if isinstance(kind, OfADesign):
            for n, doc in enumerate(designs):
                about = kind.about(subject_of(doc, shop))
                yield f"{key} {doc.id}", _looked(about, shop, {}, _taken(about, shop, {}, chance, n))
            continue
        for n in range(_RANDOM):
            there_is = Shop() if n % 6 == 5 else shop
            chosen = _typed(kind, there_is, chance) if n % 2 else {}
            yield f"{key} {n}", _looked(kind, there_is, chosen, _taken(kind, there_is, chosen, chance, n))


def _typed(kind: InspectionKind, shop: Shop, chance: random.Random) -> Chosen:
    """A few things chosen: a choice, a count, a size near what is proposed."""
    some = list(kind.parameters(shop))
    proposed, found = kind.propose(shop, {}), {}
    for p in chance.sample(some, min(3, len(some))):
        now = proposed[p.name].value if p.name in proposed else None
        if not p.choices and p.kind is not Kind.TEXT and isinstance(now, int | float) and now:
            text = (
                str(max(1, round(now * chance.uniform(0.6, 1.5))))
                if p.kind is Kind.COUNT
                else f"{now * chance.uniform(0.6, 1.5):.3f}"
            )
        else:
            text = odd(p, chance)
        try:
            found[p.name] = p.read(text)
        except EntryError:
            continue
    return found


def _taken(kind: InspectionKind, shop: Shop, chosen: Chosen, chance: random.Random, n: int) -> dict[str, tuple[Taken, ...]]:
    """What instruments read of an exercise, or a few readings near what makes sense; now and then only half of them."""
    try:
        values = kind.propose(shop, chosen)
        places = kind.places(values, shop)
        exercise = kind.exercise(values, shop, random.Random(n)) if kind.can_practise else None
        if exercise is not None and n % 3:
            found = measured(kind, values, shop, exercise, n)
        else:
            found = {p.key: tuple(Taken(value=_somewhere(p, chance)) for _ in range(p.times)) for p in places}
    except (ShopError, AssertionError):  # no place to touch, or a size beyond the instrument's range
        return {}
    return dict(list(found.items())[: len(found) // 2]) if n % 4 == 3 else found


def _somewhere(place: Place, chance: random.Random) -> float:
    """A reading that may be typed there: near nothing where that makes sense, else anywhere within what does."""
    least = max(place.low, min(-0.2, place.high))
    most = min(place.high, max(0.2, place.low + 0.4))
    if chance.random() < 0.2:
        least, most = max(place.low, -1e3), min(place.high, 1e3)
    return round(chance.uniform(least, most), 3)


def _looked(kind: InspectionKind, shop: Shop, chosen: Chosen, taken: dict[str, tuple[Taken, ...]]) -> Inspection | ShopError:
    try:
        return inspect(kind, shop, chosen, taken)
    except ShopError as error:
        return error


def said(found: Inspection | ShopError) -> Any:
    if isinstance(found, ShopError):
        return {"refused": [found.where, found.what, found.why, found.do, found.entry]}
    rest = {f: plain(getattr(found, f)) for f in found.__struct_fields__ if f not in ("values", "sheet")}
    return {**rest, "values": {name: plain(found.values[name]) for name in found.values}, "places": plain(found.sheet.places)}


def record() -> dict[str, Any]:
    return {name: said(found) for name, found in inspections()}


def kept() -> dict[str, Any]:
    return records.read(KEPT)  # type: ignore[no-any-return]


if __name__ == "__main__":
    print(records.write(KEPT, record()), "bytes")
