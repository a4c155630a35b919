"""Every entry of every bench, with any text at all.

A changed document that can be kept, or words beside the entry. Never anything else.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.items.kind import listed_kinds
from elbrix.presenters.card import Row
from elbrix.presenters.catalogue import CataloguePresenter
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.make import MakePresenter
from elbrix.presenters.shop.presenter import ShopPresenter
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH, METRIC
from elbrix.shop.shop import Shop

T = TypeVar("T")

texts = st.one_of(
    st.text(max_size=20),
    st.text("0123456789.,;/-+*() mmin\"'", max_size=16),
    st.floats(allow_nan=True, width=32).map(str),
    st.integers(-10, 10**6).map(str),
    st.sampled_from(["", " ", "²", "1/0", "3/8", "M10", "9" * 5000, "12.05; 12.08", "−5", "4; 200; 0.05", "80, 120", "\0", "½"]),
)
styles = st.sampled_from([METRIC, INCH])


def kept_or_said(change: Callable[[], T]) -> T | None:
    """What an entry led to; None when it was refused in words."""
    try:
        return change()
    except ShopError as error:
        if not error.beside:
            pytest.fail("refused without a word")
        return None


def an_entry(data: st.DataObject, found: list[Row], text: str) -> tuple[str, str]:
    """One of the entries and what is put there: any text, or one of its choices."""
    row = data.draw(st.sampled_from(found))
    return row.key, data.draw(st.sampled_from([c[0] for c in row.choices])) if row.edit == "choice" else text


def rows(view: object) -> list[Row]:
    return [r for s in view.sections for r in s.rows if r.edit in ("text", "choice")]  # type: ignore[attr-defined]


@pytest.fixture(scope="module")
def shop_entries(demo_shop: Shop) -> list[tuple[str, Row]]:
    """(list or machine, entry) for everything in the demo shop that can be typed."""
    found = []
    for what in (*(m.id for m in demo_shop.machines), *listed_kinds()):
        card = ShopPresenter(demo_shop, METRIC, what, "", "").card()
        found += [(what, r) for r in rows(card)]
    return found


def test_there_is_plenty_to_type(shop_entries: list[tuple[str, Row]]) -> None:
    assert len(shop_entries) > 40 and {what for what, *_ in shop_entries} > set(listed_kinds())


@settings(max_examples=250)
@given(data=st.data(), text=texts, style=styles)
def test_shop(demo_shop: Shop, shop_entries: list[tuple[str, Row]], data: st.DataObject, text: str, style: object) -> None:
    what = data.draw(st.sampled_from(sorted({what for what, _ in shop_entries})))
    key, put = an_entry(data, [row for of, row in shop_entries if of == what], text)
    presenter = ShopPresenter(demo_shop, style, what, "", "")  # type: ignore[arg-type]
    taken = kept_or_said(lambda: presenter.typed(key, put))
    if taken is None:
        return
    words, document = taken
    assert words and type(document) in (type(presenter.machine), type(presenter.item))


@settings(max_examples=300)
@given(data=st.data(), text=texts, style=styles)
def test_design(demo_shop: Shop, data: st.DataObject, text: str, style: object) -> None:
    doc = data.draw(st.sampled_from([d for d in documents() if isinstance(d, DesignDoc)]))
    presenter = DesignPresenter(doc, demo_shop, style)  # type: ignore[arg-type]
    key, put = an_entry(data, rows(presenter.card()), text)
    taken = kept_or_said(lambda: presenter.typed(key, put))
    if taken is None:
        return
    changed = taken
    solve_doc(changed, demo_shop)  # what was taken can be drawn
    assert changed.id == doc.id and changed.revisions == doc.revisions


@pytest.fixture(scope="module")
def demo_book(tmp_path_factory: pytest.TempPathFactory) -> Book:
    return write_demo(Path(tmp_path_factory.mktemp("entries")) / "demo.elbrix")


@settings(max_examples=200)
@given(data=st.data(), text=texts, style=styles)
def test_catalogue(demo_book: Book, data: st.DataObject, text: str, style: object) -> None:
    doc = data.draw(st.sampled_from(demo_book.all(DesignDoc)))
    presenter = CataloguePresenter(demo_book, style, doc)  # type: ignore[arg-type]
    key, put = an_entry(data, rows(presenter.card()), text)
    taken = kept_or_said(lambda: presenter.typed(key, put))
    if taken is None:
        return
    words, changed = taken
    assert words and changed.id == doc.id and demo_book.get(DesignDoc, doc.id) == doc


@settings(max_examples=150)
@given(data=st.data(), text=texts, style=styles)
def test_measured_sizes_while_making(demo_book: Book, data: st.DataObject, text: str, style: object) -> None:
    doc = demo_book.get(DesignDoc, "t-nut-hazel")
    job = demo_book.get(JobDoc, "job-t-nut-hazel")
    assert doc is not None and job is not None
    presenter = MakePresenter(doc, demo_book.shop, style, job)  # type: ignore[arg-type]
    asked = [line.ask_key for line in presenter.lines() if line.ask_key]
    key = data.draw(st.sampled_from(asked))
    taken = kept_or_said(lambda: presenter.with_measured(key, text))
    if taken is None:
        return
    changed = taken
    again = MakePresenter(doc, demo_book.shop, style, changed)  # type: ignore[arg-type]
    assert again.plan is not None and {line.id for line in again.lines()} >= set(changed.done) - {""}
