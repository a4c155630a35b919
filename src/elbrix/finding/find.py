"""From a need in words to what meets it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from elbrix.book.documents import DesignDoc
from elbrix.finding import holding, others
from elbrix.finding.hit import Found, Hit, Make
from elbrix.finding.need import Need, read_need
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop


def find(text: str, shop: Shop, designs: Sequence[DesignDoc], unit: str = "mm") -> Found:
    """What in the shop meets a need, proved and best first; and what to make when nothing does.

    Raises:
        ShopError: The need is not understood, contradicts itself, or has a part without a meaning.
    """
    need = read_need(text, shop, unit)
    hits, notes, make = _answers(need, shop, designs)
    return Found(need=need, hits=tuple(hits), make=() if hits else (make,), notes=tuple(notes))


def _answers(need: Need, shop: Shop, designs: Sequence[DesignDoc]) -> tuple[list[Hit], list[str], Make]:
    if need.what == "hold":
        return *holding.ways_to_hold(need, shop), holding.to_make(need)
    if need.what == "stud":
        return *others.nuts(need, shop, designs), others.nut_to_make(need, shop)
    if need.what == "angle":
        return *others.angles(need, shop), others.sine_plate_to_make(need)
    if need.what == "stop":
        return *others.stops(need, shop, designs), others.stop_to_make(need)
    return *others.heights(need, shop, designs), others.riser_to_make(need)


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
        "make": [{"family": m.family, "values": m.values, "words": plain(m.words)} for m in found.make],
        "notes": [plain(n) for n in found.notes],
    }
