"""Bodies read when they are asked for: the same book, whatever was read before and by whom it was changed."""

from __future__ import annotations

import random
import sqlite3
import threading
from pathlib import Path

import pytest

from elbrix.book import backup
from elbrix.book.documents import DesignDoc, Document, PhotoDoc, to_json
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.quantities.errors import ShopError

JPEG = b"\xff\xd8\xff" + b"0" * 100


def design(id: str, title: str = "T-nut") -> DesignDoc:
    return DesignDoc(id=id, family="t_nut", title=title)


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A closed copy of the demo book, of two thousand designs."""
    book = write_demo(tmp_path / "shop.elbrix")
    book.put("many", *(design(f"nut-{n:04}", f"Nut {n}") for n in range(2000)))
    book.close()
    return tmp_path / "shop.elbrix"


def read_from(book: Book) -> list[str]:
    """What is asked of the file from now on."""
    asked: list[str] = []
    book._connection.set_trace_callback(lambda sql: asked.append(sql) if "body" in sql else None)
    return asked


def bodies(documents: list[Document]) -> list[str]:
    return sorted(to_json(d) for d in documents)


def test_names_are_known_and_nothing_is_read(path: Path) -> None:
    book = Book.open(path, later=True)
    asked = read_from(book)
    assert len(book.ids(DesignDoc)) > 2000 and not asked
    assert book.get(DesignDoc, "nut-1234") == design("nut-1234", "Nut 1234") and len(asked) == 1
    assert book.get(DesignDoc, "nut-1234") is not None and len(asked) == 1
    assert next(book.each(DesignDoc)).id == book.ids(DesignDoc)[0] and len(asked) == 2
    assert book.shop.machines and not any("'design'" in sql for sql in asked[2:])
    book.close()


def test_looked_over_by_the_handful_it_is_the_same_book(path: Path) -> None:
    whole, handful = Book.open(path), Book.look(path, later=True)
    turns = 1
    while handful.read_some():
        turns += 1
    assert turns > 8
    asked = read_from(handful)
    assert bodies(handful.documents) == bodies(whole.documents)
    assert all("'photo'" in sql for sql in asked)  # only photographs were left
    assert [d.id for d in handful.all(DesignDoc)] == whole.ids(DesignDoc)
    whole.close()
    handful.close()


def test_a_first_question_from_another_thread(path: Path) -> None:
    book, found = Book.open(path, later=True), []
    threads = [threading.Thread(target=lambda: found.append(len(book.all(DesignDoc)))) for _ in range(4)]
    for thread in threads:
        thread.start()
    book.put("one more", design("fresh"))
    for thread in threads:
        thread.join()
    assert len(found) == 4 and {n - len(book.all(DesignDoc)) for n in found} <= {0, -1}
    book.close()


def test_a_row_that_cannot_be_read_is_said_when_it_is_met_and_again_only_when_another_is(path: Path) -> None:
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE item SET body = '{' WHERE id IN ('nut-0001', 'nut-1999')")
    book = Book.open(path, later=True)
    assert not book.notices
    assert book.get(DesignDoc, "nut-0001") is None and "1 thing of this book" in book.notices[0]
    book.put_notices_away()
    assert not book.notices
    book.look_over()
    assert "2 things of this book" in book.notices[0] and len(book.ids(DesignDoc)) == len(book.all(DesignDoc))
    book.put("its name is taken", design("nut-0001", "Another"))
    book.close()
    again = Book.open(path)
    assert again.get(DesignDoc, "nut-0001") == design("nut-0001", "Another") and len(again.unreadable) == 2
    again.close()


@pytest.mark.parametrize("seed", range(6))
def test_a_reader_that_has_read_some_follows_every_way_of_changing(tmp_path: Path, seed: int) -> None:
    """Keeping, merging, removing, undoing and redoing in one window; another reads now this, now that."""
    chance = random.Random(seed)
    writer = Book.create(tmp_path / "shop.elbrix")
    writer.put("begin", *(design(f"d{n}") for n in range(8)))
    reader = Book.look(writer.path, later=True)
    for turn in range(120):
        what = chance.random()
        id_ = f"d{chance.randrange(10)}"
        there = writer.get(DesignDoc, id_)
        if what < 0.5:
            writer.put(f"edit {turn}", design(id_, f"Title {turn}"), merge=id_ if chance.random() < 0.7 else "")
        elif what < 0.6 and there is not None:
            writer.remove("away", there)
        elif what < 0.85:
            writer.undo()
        else:
            writer.redo()
        if chance.random() < 0.4:
            reader.reload_if_changed()
            if chance.random() < 0.5:
                assert reader.get(DesignDoc, id_) == writer.get(DesignDoc, id_)
            else:
                assert bodies(reader.documents) == bodies(writer.documents)
                assert (reader.undo_label, reader.redo_label) == (writer.undo_label, writer.redo_label)
    writer.close()
    reader.close()


def test_steps_long_past_are_read_from_the_file(tmp_path: Path) -> None:
    book = Book.create(tmp_path / "shop.elbrix")
    for n in range(120):
        book.put(f"title {n}", design("a", f"Title {n}"))
    assert sum(step.changes is not None for step in book._history.steps) <= 51  # the others are in the file
    for n in range(119, 0, -1):
        assert book.undo() == f"title {n}" and book.all(DesignDoc) == [design("a", f"Title {n - 1}")]
    for n in range(1, 120):
        assert book.redo() == f"title {n}" and book.all(DesignDoc) == [design("a", f"Title {n}")]
    book.close()


def test_what_the_old_disk_cannot_give_any_more_is_said_and_the_rest_is_in_the_copy(tmp_path: Path) -> None:
    book = Book.create(tmp_path / "shop.elbrix")
    book.put("a", design("a"), PhotoDoc(id="p", about="a", jpeg=JPEG))
    book.close()
    book = Book.open(tmp_path / "shop.elbrix")
    with sqlite3.connect(book.path) as connection:
        connection.execute("DELETE FROM item WHERE kind = 'photo'")
    with pytest.raises(ShopError, match="1 thing could not be read"):
        book.save_copy(tmp_path / "copy.elbrix")
    copy = Book.open(tmp_path / "copy.elbrix")
    assert copy.all(DesignDoc) == [design("a")] and not copy.all(PhotoDoc)
    copy.close()
    book.close()


def test_the_days_copy_is_made_when_it_is_looked_over(path: Path) -> None:
    later = Book.open(path, later=True)
    assert backup.newest(path) is None
    later.look_over()
    copy = backup.newest(path)
    assert copy is not None
    later.close()
    there = Book.open(copy)
    assert len(there.documents) > 2000
    there.close()
