"""The code on a drawer label opens its item; what is found leads to a bench that exists."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from elbrix.answers.answer import NotAnswered
from elbrix.answers.ask import ask, world_of
from elbrix.answers.by_code import label_code
from elbrix.app.benches.registry import all_benches
from elbrix.book.documents import DesignDoc
from elbrix.book.store import Book
from elbrix.demo import write_demo


@pytest.fixture(scope="module")
def book(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Book]:
    found = write_demo(tmp_path_factory.mktemp("label") / "demo.elbrix")
    yield found
    found.close()


def test_every_label_of_the_demo_opens_its_item(book: Book) -> None:
    world = world_of(book)
    for doc in book.all(DesignDoc):
        answer = ask(label_code(doc), world)
        assert answer.go is not None
        assert (answer.go.bench, answer.go.thing) == ("catalogue", doc.id)
        assert not answer.notes


def test_an_old_label_says_so_and_a_strange_one_is_refused(book: Book) -> None:
    assert "print a new label" in ask("ELBRIX t-nut-hazel A", world_of(book)).notes[0]
    with pytest.raises(NotAnswered, match="no item of this book"):
        ask("ELBRIX nobody-knows-this B", world_of(book))


@pytest.mark.parametrize("words", ["where is the gnomon wedge", "where is the dial plate", "where is hazel's head"])
def test_what_is_found_leads_to_a_bench_there_is(book: Book, words: str) -> None:
    go = ask(words, world_of(book)).go
    assert go is not None
    assert go.bench in all_benches()
