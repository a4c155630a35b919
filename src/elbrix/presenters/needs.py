"""What was found for a need, as an answer of Ask. No widgets here."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from elbrix.answers.answer import Answer, Destination, NotAnswered
from elbrix.book.documents import DesignDoc
from elbrix.finding.abilities import KnownAbilities
from elbrix.finding.find import find, first_look
from elbrix.finding.hit import Found, Hit, Make
from elbrix.finding.need import EXAMPLES
from elbrix.holding.margin import ENOUGH
from elbrix.presenters.make import hours
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.figures import Derivation, Figure
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

#: What a layout of Hold is begun with, by its first thing.
_BEGUN: Final = {"vise": "block", "strap": "straps"}
_RANKS: Final = ("Best", "Second", "Third", "Fourth", "Fifth", "Also")
#: Ways that are tried, listed while they are solved.
_MAX_TRIES: Final = 6
_CAUTION: Final = "Proved with guessed friction against a light cut; the machine maker's limits come first"


def meet(
    text: str, shop: Shop, designs: Sequence[DesignDoc], style: UnitStyle, known: KnownAbilities | None = None
) -> Answer | NotAnswered:
    """The answer to a need, or why there is none.

    Args:
        known: As of `finding.find`.
    """
    try:
        return need_answer(text, find(text, shop, designs, style.length, known), style)
    except ShopError as error:
        return NotAnswered(error, EXAMPLES)


def met_so_far(
    text: str, shop: Shop, designs: Sequence[DesignDoc], style: UnitStyle, known: KnownAbilities
) -> Answer | NotAnswered:
    """What is known at once, the proofs follow; or why there is nothing to prove."""
    try:
        found = first_look(text, shop, designs, style.length, known)
    except ShopError as error:
        return NotAnswered(error, EXAMPLES)
    tries = [
        Figure(key=f"try {n}", label="○ Being solved", value=0.0, unit="", text=said_in(words, style), derivation=None)
        for n, words in enumerate(found.to_prove[:_MAX_TRIES])
    ]
    more = len(found.to_prove) - _MAX_TRIES
    notes = (
        *([f"{more} more ways are tried"] if more > 0 else []),
        *([f"{found.waiting} designs are still being worked out"] if found.waiting else []),
    )
    figures = tuple(_figure(n, hit, style) for n, hit in enumerate(found.hits))
    return Answer(title="Looking through the shop…", figures=(*figures, *tries), notes=notes, topic="need")


def need_answer(text: str, found: Found, style: UnitStyle) -> Answer:
    """Hits with their proof, best first; else what to make."""
    figures = [_figure(n, hit, style) for n, hit in enumerate(found.hits)]
    figures += [
        Figure(key=f"make {m.family}", label="To make", value=0.0, unit="", text=_to_make(m, style), derivation=None)
        for m in found.make
    ]
    go = _go(found)
    return Answer(
        title=f"What meets: {text.strip()[:60]}" if found.hits else "Nothing in the shop meets that yet",
        figures=tuple(figures),
        notes=tuple(("Does not: " if found.need.what == "hold" else "") + said_in(n, style) for n in found.notes),
        cautions=(_CAUTION,) if found.need.what == "hold" and found.hits else (),
        go=go,
        topic="need",
        understood=text.strip(),
    )


def _to_make(make: Make, style: UnitStyle) -> str:
    """What to make, from which bar, in how long."""
    parts = (make.words, make.bar, f"about {hours(make.minutes)}" if make.minutes else "")
    return said_in(", ".join(p for p in parts if p), style)


def _figure(n: int, hit: Hit, style: UnitStyle) -> Figure:
    holds = "layout" in hit.uses and hit.margin is not None
    source = f"safety factor {hit.margin:.2f}, asked {ENOUGH:g}" if holds else ""
    return Figure(
        key=f"hit {n}",
        label=f"{hit.verdict.sign} {_RANKS[min(n, len(_RANKS) - 1)]}",
        value=hit.margin or 0.0,
        unit="",
        text=said_in(hit.words, style),
        derivation=Derivation("solved before it is shown", source, ", ".join(hit.items)),
    )


def _go(found: Found) -> Destination | None:
    first = next(iter(found.hits), None)
    if first is None:
        make = next(iter(found.make), None)
        if make is None:
            return None
        if make.design:
            return Destination(words="Open the drawing", bench="design", thing=make.design)
        values = {"machine": make.machine, "slot": make.slot, **make.values}
        return Destination(words="Design it", bench="design", kind=make.family, title=make.words[:60], chosen=values)
    layout: Mapping[str, Any] = first.uses.get("layout", {})
    if layout and layout["elements"][0]["kind"] in _BEGUN:
        chosen = {k: str(v["text"]) for k, v in layout["chosen"].items()}
        return Destination(
            words="Lay it out in Hold",
            bench="hold",
            kind=_BEGUN[layout["elements"][0]["kind"]],
            title=str(layout["title"]),
            chosen=chosen,
        )
    if "design" in first.uses:
        return Destination(words="See it in the catalogue", bench="catalogue", thing=str(first.uses["design"]))
    return None
