"""From a need in words to what meets it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Final

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.finding import holding, others, proving
from elbrix.finding.abilities import Abilities, Able, KnownAbilities
from elbrix.finding.hit import Found, Hit, Make
from elbrix.finding.need import Need, read_need
from elbrix.making.minutes import plan_minutes
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop


def find(text: str, shop: Shop, designs: Sequence[DesignDoc], unit: str = "mm", known: KnownAbilities | None = None) -> Found:
    """What in the shop meets a need, proved and best first; and what to make when nothing does.

    Args:
        known: What was worked out of the designs before; what is missing is, and added to it.

    Raises:
        ShopError: The need is not understood, contradicts itself, or has a part without a meaning.
    """
    need = read_need(text, shop, unit)
    able = known or KnownAbilities()
    hits, notes, drawn = _answers(need, shop, designs, lambda doc: able.of(doc, shop))
    make: list[Make] = []
    if not hits and drawn:
        make = [_as_drawn(d, shop) for d in drawn[:1]]
    elif not hits:
        make, why_not = _TO_MAKE[need.what](need, shop)
        notes = [*notes, *why_not]
    return Found(need=need, hits=tuple(hits), make=tuple(make), notes=tuple(notes))


def first_look(text: str, shop: Shop, designs: Sequence[DesignDoc], unit: str, known: KnownAbilities) -> Found:
    """What is known without solving anything: while somebody types; nothing is said to be made, and no layout is proved.

    Raises:
        ShopError: As `find`.
    """
    need = read_need(text, shop, unit)
    if need.what == "hold":
        return Found(need=need, hits=(), make=(), to_prove=tuple(holding.to_try(need, shop)))
    waiting = 0

    def able(doc: DesignDoc) -> Abilities | None:
        nonlocal waiting
        found = known.known(doc, shop)
        waiting += found is None
        return found

    hits, _, _ = _answers(need, shop, designs, able)
    return Found(need=need, hits=tuple(hits), make=(), waiting=waiting)


def _answers(need: Need, shop: Shop, designs: Sequence[DesignDoc], able: Able) -> tuple[list[Hit], list[str], list[DesignDoc]]:
    """(what meets it, why what comes near does not, designs that would and were not made)."""
    if need.what == "hold":
        return *holding.ways_to_hold(need, shop), []
    if need.what == "stud":
        return others.nuts(need, shop, designs, able)
    if need.what == "angle":
        return *others.angles(need, shop), []
    if need.what == "stop":
        return others.stops(need, shop, designs, able)
    return *others.heights(need, shop, designs, able), []


#: What to make when nothing meets it, by what is needed.
_TO_MAKE: Final[dict[str, Callable[[Need, Shop], tuple[list[Make], list[str]]]]] = {
    "hold": proving.plates,
    "stud": proving.nuts,
    "angle": proving.sine_plates,
    "stop": proving.stops,
    "lift": proving.risers,
}


def _as_drawn(doc: DesignDoc, shop: Shop) -> Make:
    """A design that only has to be made."""
    plan = plan_doc(doc, solve_doc(doc, shop), shop)
    return Make(
        family=doc.family,
        values={},
        words=f"{doc.title}: it is drawn, and was not made yet",
        machine=doc.machine,
        slot=doc.slot,
        design=doc.id,
        bar=plan.source,
        minutes=plan_minutes(plan),
    )


def found_data(found: Found) -> dict[str, Any]:
    """As plain data; sizes in mm, unrounded."""
    return {
        "understood": found.need.told(),
        "hits": [
            {
                "items": list(h.items),
                "words": plain(h.words),
                "verdict": h.verdict.value,
                "margin": h.margin,
                "minutes": h.minutes,
                "uses": h.uses,
            }
            for h in found.hits
        ],
        "make": [
            {
                "family": m.family,
                "values": m.values,
                "words": plain(m.words),
                "machine": m.machine,
                "slot": m.slot,
                "design": m.design,
                "bar": plain(m.bar),
                "minutes": m.minutes,
            }
            for m in found.make
        ],
        "notes": [plain(n) for n in found.notes],
    }
