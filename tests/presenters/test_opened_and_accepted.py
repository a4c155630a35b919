"""An entry that is opened and accepted as it stands changes nothing: no value, no tool, no day, in either unit.

Everything on every card of the demo shop, by the presenters alone: no window.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc, shop_of
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.items.kind import listed_kinds
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.card import CardView, Row
from elbrix.presenters.catalogue import CataloguePresenter
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.shop.presenter import ShopPresenter
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from elbrix.quantities.readings import Readings

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = tuple(d for d in DOCS if isinstance(d, DesignDoc))
STYLES = (METRIC, INCH)
#: A length in inches is written to a ten-millionth: so near it comes back, mm.
NEAR = 2.6e-6
NUMBERS = re.compile(r"-?\d+\.\d+")


def of(kind: type) -> list[Any]:
    return [d for d in DOCS if isinstance(d, kind)]


def rows(card: CardView) -> Iterator[Row]:
    for section in card.sections:
        yield from section.rows


def entries(card: CardView) -> list[Row]:
    return [r for r in rows(card) if r.edit == "text" and r.entry_text]


def same(a: Any, b: Any, where: str = "") -> None:
    """Two documents, every number nearly, everything else exactly; what was typed may now be said in another unit."""
    if isinstance(a, Readings) and isinstance(b, Readings):  # what is typed for one design was not taken in the slot
        same(a.values_mm, b.values_mm, where)
    elif isinstance(a, Struct) and isinstance(b, Struct):
        assert type(a) is type(b), where
        for name in a.__struct_fields__:
            if name != "typed":
                same(getattr(a, name), getattr(b, name), f"{where}.{name}")
    elif isinstance(a, dict) and isinstance(b, dict):
        assert a.keys() == b.keys(), where
        for k in a:
            same(a[k], b[k], f"{where}[{k}]")
    elif isinstance(a, list | tuple) and isinstance(b, list | tuple):
        assert len(a) == len(b), where
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            same(x, y, f"{where}[{i}]")
    elif isinstance(a, str) and isinstance(b, str) and "," in a:  # places: ordinates to a millionth
        assert NUMBERS.sub("#", a) == NUMBERS.sub("#", b), where
        same([float(n) for n in NUMBERS.findall(a)], [float(n) for n in NUMBERS.findall(b)], where)
    elif isinstance(a, float) or isinstance(b, float):
        assert a == pytest.approx(b, abs=NEAR), where
    else:
        assert a == b, where


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
def test_every_thing_of_the_shop(style: UnitStyle) -> None:
    """Readings keep the tool and the day they were taken; a box keeps its blocks."""
    looked = 0
    whats = [m.id for m in SHOP.machines] + list(listed_kinds())
    for what in whats:
        first = ShopPresenter(SHOP, style, what, "", "")
        items = [t.id for t in first.things] or [""]
        slots = [s.label for s in first.machine.slots] if first.machine is not None else [""]
        for item in items:
            for slot in slots:
                p = ShopPresenter(SHOP, style, what, item, slot)
                thing = p.machine if p.machine is not None else p.item
                for row in entries(p.card()):
                    _, doc = p.typed(row.key, row.entry_text)
                    same(doc, thing, f"{what} {item} {slot} {row.key}")
                    looked += 1
    assert looked > 900


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_every_number_of_a_design(doc: DesignDoc, style: UnitStyle) -> None:
    """It is chosen then, and the design is the same: what is calculated, what is judged, what is drawn."""
    p = DesignPresenter(doc, SHOP, style)
    assert p.design is not None
    listed = entries(p.card())
    assert listed
    for row in listed[:: 1 if style is METRIC else 3]:
        again = p.typed(row.key, row.entry_text)
        assert row.key in again.chosen
        now = DesignPresenter(again, SHOP, style).design
        assert now is not None
        # A proposal that is chosen may free another to follow it; the number itself stays.
        before, after = p.design.values[row.key], now.values[row.key]
        same(after.value, before.value, row.key)
        if row.key in doc.chosen:
            assert [c.verdict for c in now.checks] == [c.verdict for c in p.design.checks], row.key
        same(p.let_go(row.key), replace(doc, chosen={k: v for k, v in doc.chosen.items() if k != row.key}))


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
@pytest.mark.parametrize("doc", of(AngleDoc), ids=lambda d: d.id)
def test_every_number_of_a_setting(doc: AngleDoc, style: UnitStyle) -> None:
    p = AnglesPresenter(doc, SHOP, style)
    assert p.setting is not None
    for row in entries(p.card()):
        if row.key not in p.parameters:
            continue
        now = AnglesPresenter(p.typed(row.key, row.entry_text), SHOP, style).setting
        assert now is not None
        if p.setting.values[row.key].value == "":
            assert now.stacks == p.setting.stacks  # chosen now, and the same one
        else:
            same(now.values[row.key].value, p.setting.values[row.key].value, row.key)


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
@pytest.mark.parametrize("doc", of(LayoutDoc), ids=lambda d: d.id)
def test_every_number_of_a_layout(doc: LayoutDoc, style: UnitStyle) -> None:
    p = HoldPresenter(doc, SHOP, style, quick=True, designs=DESIGNS)
    assert p.hold is not None
    listed = entries(p.card())
    assert len(listed) > 10
    for row in listed:
        now = HoldPresenter(p.typed(row.key, row.entry_text), SHOP, style, quick=True, designs=DESIGNS)
        assert now.hold is not None
        same(now.given(row.key).value, p.given(row.key).value, row.key)


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
@pytest.mark.parametrize("doc", of(InspectionDoc), ids=lambda d: d.id)
def test_every_reading_of_an_inspection(doc: InspectionDoc, style: UnitStyle) -> None:
    """A reading that is typed as it stood is the same reading: its tool, its day, how sure it was."""
    p = InspectPresenter(doc, SHOP, style, DESIGNS)
    assert p.inspection is not None
    for name, place in p.places.items():
        if place.key in doc.readings:
            same(p.typed(name, p.entry_text(name)).readings, doc.readings, place.label)
    for row in entries(p.card()):
        if row.key in p.parameters:
            again = InspectPresenter(p.typed(row.key, row.entry_text), SHOP, style, DESIGNS)
            assert again.inspection is not None
            same(again.inspection.values[row.key].value, p.inspection.values[row.key].value, row.key)


@pytest.fixture(scope="module")
def demo_book(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Book]:
    book = write_demo(Path(tmp_path_factory.mktemp("demo")) / "demo.elbrix")
    yield book
    book.close()


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
def test_every_entry_of_an_item_of_the_catalogue(demo_book: Book, style: UnitStyle) -> None:
    looked = 0
    for doc in DESIGNS:
        p = CataloguePresenter(demo_book, style, demo_book.get(DesignDoc, doc.id))
        for row in entries(p.card()):
            _, now = p.typed(row.key, row.entry_text)
            same(now, p.doc, f"{doc.id} {row.key}")
            looked += 1
    assert looked > 70
