"""In an inch shop every sentence of every demo item is in inches: cards, tiles, reasons, choices and moves."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import pytest

from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, JobDoc, LayoutDoc, shop_of
from elbrix.demo import documents
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.card import CardView
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.make import MakePresenter
from elbrix.presenters.proof import Tile, Why
from elbrix.quantities.lengths import INCH

DOCS = documents()
SHOP = shop_of(DOCS)
ITEMS = [d for d in DOCS if isinstance(d, DesignDoc | AngleDoc | LayoutDoc | InspectionDoc)]
#: What keeps its millimetres: names, metric stock and metric blocks, slopes, stiffness, rates that name their own step.
OWN = re.compile(
    r"1(25|00) mm (vise|sine plate)|[\d.]+ mm (shank|pitch)|N/mm|mm/m|per 0\.0?1 mm|hand lengthens 50 mm"
    # A metric bar keeps its name.
    r"|(Ø[\d.]+|[\d.]+ × [\d.]+) mm (bright|ground|rolled|sawn)|[\d.]+ mm hexagon"
    r"|(Step \d+: )?[\d.]+ mm:? +(Wring|Lay [\d.]+ down)[^\n]*"
)


def of_card(card: CardView) -> Iterator[str]:
    for section in card.sections:
        yield from (section.title, section.hint, section.text)
        for row in section.rows:
            yield f"{row.label} {row.unit} {row.value}"
            yield f"{row.label}: {row.value} {row.unit}"
        yield from (button.text for button in section.buttons)


def of_tiles(tiles: tuple[Tile, ...], why: Callable[[str], Why | None]) -> Iterator[str]:
    for tile in tiles:
        yield from (tile.label, tile.value, tile.reason)
        told = why(tile.key)
        if told is not None:
            yield from (told.title, told.reason, told.critical, told.fix)


def sentences(doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc) -> Iterator[str]:
    if isinstance(doc, DesignDoc):
        make = MakePresenter(doc, SHOP, INCH, JobDoc(id="j", design=doc.id))
        yield make.subtitle()
        yield from of_tiles(make.tiles(), make.why)
        for _, words, choices in make.options():
            yield from (words, *(text for _, text in choices))
        for line in make.lines():
            yield from (line.words, line.tool, line.caution, line.ask, *line.details)
        shown: DesignPresenter | AnglesPresenter | HoldPresenter | InspectPresenter = DesignPresenter(doc, SHOP, INCH)
    elif isinstance(doc, LayoutDoc):
        shown = HoldPresenter(doc, SHOP, INCH)
    elif isinstance(doc, AngleDoc):
        shown = AnglesPresenter(doc, SHOP, INCH)
    else:
        shown = InspectPresenter(doc, SHOP, INCH)
    yield shown.subtitle()
    yield from of_card(shown.card())
    yield from of_tiles(shown.tiles(), shown.why)


@pytest.mark.parametrize("doc", ITEMS, ids=lambda d: d.id)
def test_no_millimetre_is_left(doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc) -> None:
    for text in sentences(doc):
        assert not re.search(r"\bmm\b", OWN.sub("", text)), text
