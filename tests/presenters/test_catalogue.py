"""The catalogue's presenter against the book itself: what is listed, found, typed and opened, without a window."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from elbrix.book.documents import DesignDoc
from elbrix.book.stock_take import by_place, differing, stock_take
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.items.kind import item_kinds
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Row
from elbrix.presenters.catalogue import CataloguePresenter
from elbrix.presenters.stock_take import places_of, stock_take_card
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH, UnitStyle

STYLES = (METRIC, INCH)


@pytest.fixture
def book(tmp_path: Path) -> Iterator[Book]:
    opened = write_demo(tmp_path / "demo.elbrix")
    yield opened
    opened.close()


def presented(book: Book, id: str, style: UnitStyle = METRIC, words: str = "") -> CataloguePresenter:
    return CataloguePresenter(book, style, book.get(DesignDoc, id), words)


def rows(p: CataloguePresenter) -> dict[str, Row]:
    return {r.key: r for s in p.card().sections for r in s.rows}


def naive(doc: DesignDoc) -> str:
    """Everything somebody who looks for words might mean, in one string."""
    return " ".join(
        (doc.title, doc.notes, doc.location, *(r.reason for r in doc.revisions), *(x.text for x in doc.lessons))
    ).lower()


@pytest.mark.parametrize("words", ["nut", "vise", "Hazel", "drawer", "bronze", "scraped"])
def test_a_word_that_stands_in_an_item_finds_it(book: Book, words: str) -> None:
    p = presented(book, "t-nut-hazel", words=words)
    found = {d.id for d in p.docs}
    must = {d.id for d in book.all(DesignDoc) if f" {words.lower()}" in f" {naive(d)}"}
    assert must <= found
    assert len(found) < len(book.all(DesignDoc)) or words == "drawer"


def test_without_words_everything_is_listed_and_with_nonsense_nothing(book: Book) -> None:
    assert {d.id for d in presented(book, "riser-vise").docs} == {d.id for d in book.all(DesignDoc)}
    assert presented(book, "riser-vise", words="xyzzyqq").docs == []


@pytest.mark.parametrize("style", STYLES, ids=["mm", "in"])
def test_a_size_as_made_is_kept_with_its_readings_and_shown_again(book: Book, style: UnitStyle) -> None:
    p = presented(book, "stop-table", style)
    assert p.design is not None
    row = next(r for k, r in rows(p).items() if Act.read(k).do == Verb.MADE and r.edit == "text")
    name = Act.read(row.key).of
    size = p.design.values.number(name)
    per = 1.0 if style is METRIC else MM_PER_INCH
    typed = "; ".join(f"{(size + off) / per:.4f}" for off in (0.01, 0.02))
    _, doc = p.typed(row.key, typed, "25 mm micrometer")
    made = next(m for m in doc.as_made if m.figure == name)
    assert made.readings_mm == pytest.approx((size + 0.01, size + 0.02), abs=2e-3)
    assert made.measured_with == "25 mm micrometer"
    book.put("measured", doc)
    again = rows(presented(book, "stop-table", style))[row.key]
    assert again.entry_text.count(";") == 1
    _, cleared = presented(book, "stop-table", style).typed(row.key, "")
    assert all(m.figure != name for m in cleared.as_made)


@pytest.mark.parametrize(
    ("key", "text"),
    [
        ("made_count", "a few"),
        ("made_count", "-1"),
        ("made_count", "1e9"),
        (Act(Verb.COSTS, "price").key, "cheap"),
        ("made neck_width", "999"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_changes(book: Book, key: str, text: str) -> None:
    p = presented(book, "t-nut-hazel")
    before = book.get(DesignDoc, "t-nut-hazel")
    with pytest.raises(ShopError) as caught:
        p.typed(key if key != "made neck_width" else Act(Verb.MADE, "neck_width").key, text)
    assert caught.value.what
    assert caught.value.why
    assert caught.value.do
    assert book.get(DesignDoc, "t-nut-hazel") == before
    with pytest.raises(ShopError):
        p.typed("notes", "x" * 4001)


def test_words_typed_are_kept_as_they_are(book: Book) -> None:
    p = presented(book, "t-nut-hazel")
    for key, attr in (("location", "location"), ("condition", "condition"), ("notes", "notes")):
        _, doc = p.typed(key, "  behind the  lathe ")
        assert getattr(doc, attr) == "behind the  lathe"
    _, doc = p.typed("made_count", " 12 ")
    assert doc.made == 12


def test_a_tile_for_every_measured_slot_and_its_reason_with_it(book: Book) -> None:
    for id in ("t-nut-hazel", "stop-table", "clamps-toe", "riser-vise"):
        p = presented(book, id)
        tiles = p.tiles()
        assert len(tiles) == len(p.fits)
        ranks = [("go", "marginal", "no-go").index(t.verdict) for t in tiles]
        assert ranks == sorted(ranks)
        for tile in tiles:
            why = p.why(tile.key)
            assert why is not None
            assert tile.reason[1:] in why.reason
            assert tile.label in why.title
        good = sum(t.verdict == "go" for t in tiles)
        assert rows(p)["fits"].value == f"{good} of {len(tiles)} slots"
    assert presented(book, "t-nut-hazel").why("nothing|there") is None


# --- stock-take ------------------------------------------------------------------------------------------------------


def test_every_item_lies_at_one_place_and_the_sum_is_that_of_the_book(book: Book) -> None:
    places = places_of(book)
    listed = [line.doc.id for place in places for line in place.lines]
    assert len(set(listed)) == len(listed)
    assert set(listed) == {d.id for d in book.all(DesignDoc) if d.made or d.location}
    counted = stock_take(book).counted
    assert sum(p.pieces for p in places) == sum(counted.get(d.id, d.made) for d in book.all(DesignDoc) if d.made or d.location)
    card = stock_take_card(places)
    assert [s.title for s in card.sections] == [p.name or "Stored nowhere" for p in places]
    off = sum(n != next(d.made for d in book.all(DesignDoc) if d.id == id) for id, n in counted.items())
    assert next(b for b in card.buttons if b.key == "take over").enabled is (off > 0)


def test_a_difference_stands_out_with_its_sign(book: Book) -> None:
    doc = next(d for d in book.all(DesignDoc) if d.made > 1)
    counted = stock_take(book)
    for found, said in ((doc.made + 2, "(+2)"), (doc.made - 1, "(−1)"), (doc.made, "")):
        places = by_place(
            book.all(DesignDoc),
            item_kinds()["storage place"].of(book.shop),
            type(counted)(id=counted.id, counted={doc.id: found}),
        )
        row = next(r for s in stock_take_card(places).sections for r in s.rows if r.key == Act(Verb.COUNT, doc.id).key)
        assert row.value == (f"{found}  {said}" if said else str(found))
        assert row.strong is bool(said)
        assert len(differing(places)) == bool(said)
