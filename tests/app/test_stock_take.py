"""Counting the drawers: kept as it is typed, differences taken over with one undo, printed."""

from __future__ import annotations

from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.card.card import Card
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc, StockTakeDoc
from elbrix.book.stock_take import ID, by_place
from elbrix.book.store import Book
from elbrix.presenters.stock_take import places_of, stock_take_card
from elbrix.shop.places import StoragePlace


@pytest.fixture
def catalogue(window: Window) -> CatalogueBench:
    window.open_bench("catalogue")
    found = window.bench
    assert isinstance(found, CatalogueBench)
    found.drawers.turn("stock")
    return found


def _type(card: Card, key: str, text: str) -> None:
    card.rows[key].activate()
    editor = card.rows[key].editor
    assert editor is not None
    editor.selectAll()
    QTest.keyClicks(editor, text)
    QTest.keyClick(card.rows[key].editor or editor, Qt.Key.Key_Return)


def _made(window: Window, id: str) -> int:
    doc = window.session.book.get(DesignDoc, id)
    assert doc is not None
    return doc.made


def test_counts_are_kept_as_they_are_typed_and_taken_over_together(
    catalogue: CatalogueBench, window: Window, tmp_path: Path
) -> None:
    stock, book = catalogue.drawers.stock, window.session.book
    assert stock.button("take over").text() == "Take over 1 difference"  # one was found missing last week
    _type(stock, "count t-nut-clover", "5")
    book.flush()
    again = Book.open(book.path)
    assert again.get(StockTakeDoc, ID).counted["t-nut-clover"] == 5  # type: ignore[union-attr]
    again.close()
    assert "(+2)" in stock.rows["count t-nut-clover"].row.value
    _type(stock, "count t-nut-pip", "four")
    assert stock.rows["count t-nut-pip"].error_text
    before = {id: _made(window, id) for id in ("t-nut-hazel", "t-nut-pip", "t-nut-clover")}
    assert before == {"t-nut-hazel": 6, "t-nut-pip": 4, "t-nut-clover": 3}
    catalogue._prints = "stock"
    path = tmp_path / "list.pdf"
    pages = catalogue.pages()
    assert pages is not None
    write_pdf(pages, path)
    text = " ".join(PdfReader(path).pages[0].extract_text().split())
    assert "T-nut for the long table 6 5 −1" in text and "Straight nut in Clover's ring slot 3 5 +2" in text
    assert "Small T-nut" not in text  # as many as the book knows
    stock.button("take over").click()
    assert {id: _made(window, id) for id in before} == {"t-nut-hazel": 5, "t-nut-pip": 4, "t-nut-clover": 5}
    assert not stock.button("take over").isEnabled() and book.get(StockTakeDoc, ID).counted == {}  # type: ignore[union-attr]
    window.undo()
    assert {id: _made(window, id) for id in before} == before
    assert book.get(StockTakeDoc, ID).counted["t-nut-clover"] == 5  # type: ignore[union-attr]


def test_a_place_that_holds_too_much_says_so(catalogue: CatalogueBench, window: Window) -> None:
    _type(catalogue.drawers.stock, "count t-nut-first", "3")  # one nail by the door takes one
    sections = {s.title: s for s in stock_take_card(places_of(window.session.book)).sections}
    assert sections["Nail by the door"].hint == "3 of 1" and "2 more than it takes" in sections["Nail by the door"].text


def test_every_place_has_a_label_with_what_lies_in_it(catalogue: CatalogueBench, tmp_path: Path) -> None:
    catalogue._prints = "places"
    pages = catalogue.pages()
    assert pages is not None
    write_pdf(pages, tmp_path / "places.pdf")
    text = " ".join(PdfReader(tmp_path / "places.pdf").pages[0].extract_text().split())
    assert "Drawer 3 T-nut for the long table" in text and "Clover's box" in text and "Nail by the door First try" in text


def test_drawer_one_is_not_drawer_twelve() -> None:
    def doc(id: str, location: str, made: int = 1) -> DesignDoc:
        return DesignDoc(id=id, family="t_nut", title=id, location=location, made=made)

    places = [StoragePlace(id=name, name=name) for name in ("Drawer 1", "Drawer 12", "Box")]
    docs = [doc("x", "drawer 12, left"), doc("y", "Drawer 1"), doc("z", "Shelf, top"), doc("n", ""), doc("d", "", 0)]
    found = {p.name: [line.doc.id for line in p.lines] for p in by_place(docs, places, StockTakeDoc(id=ID))}
    assert found == {"Drawer 1": ["y"], "Drawer 12": ["x"], "Box": [], "Shelf": ["z"], "": ["n"]}  # a mere drawing is not counted
