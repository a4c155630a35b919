"""Two shops' books made one: counted, nothing lost, one undo, and the other book untouched."""

from __future__ import annotations

import hashlib
import json
import random
import shutil
from pathlib import Path

import pytest
from msgspec.structs import replace

from elbrix.book.documents import DesignDoc, JobDoc, LayoutDoc, kind_of
from elbrix.book.items_file import export_text
from elbrix.book.merging import merge, read_other
from elbrix.book.store import Book
from elbrix.cli.main import main
from elbrix.demo import write_demo
from elbrix.quantities.errors import ShopError


@pytest.fixture
def books(tmp_path: Path) -> tuple[Book, Path]:
    """Ours, open, and the path of theirs; both from one demo book."""
    write_demo(tmp_path / "ours.elbrix").close()
    shutil.copy(tmp_path / "ours.elbrix", tmp_path / "theirs.elbrix")
    return Book.open(tmp_path / "ours.elbrix"), tmp_path / "theirs.elbrix"


def changed(book: Book, id: str, **what: object) -> DesignDoc:
    doc = book.get(DesignDoc, id)
    assert doc is not None
    new = replace(doc, **what)
    book.put(f"{id} changed", new)
    return new


def in_theirs(path: Path, id: str, **what: object) -> DesignDoc:
    book = Book.open(path)
    new = changed(book, id, **what)
    book.close()
    return new


def content(d: object) -> str:
    """Without what a merge may change in a copy."""
    plain = json.loads(export_text([d]))["items"][0]  # type: ignore[list-item]
    for name in ("id", "title", "name", "notes", "machine", "design"):
        plain["item"].pop(name, None)
    return json.dumps(plain, sort_keys=True)


def test_alike_books_change_nothing(books: tuple[Book, Path]) -> None:
    ours, theirs = books
    before, label = list(ours.documents), ours.undo_label
    done = merge(ours, read_other(theirs))
    assert done.same == len(before) and not (done.added or done.changed or done.kept or done.conflicts)
    assert ours.documents == before and ours.undo_label == label


def test_each_side_keeps_what_only_it_changed(books: tuple[Book, Path]) -> None:
    ours, path = books
    changed(ours, "t-nut-hazel", location="our drawer")
    in_theirs(path, "t-nut-pip", location="their drawer")
    digest = hashlib.sha256(path.read_bytes()).hexdigest()
    done = merge(ours, read_other(path))
    assert done.kept == (("design", "t-nut-hazel"),) and done.changed == (("design", "t-nut-pip"),) and not done.conflicts
    assert ours.get(DesignDoc, "t-nut-hazel").location == "our drawer"  # type: ignore[union-attr]
    assert ours.get(DesignDoc, "t-nut-pip").location == "their drawer"  # type: ignore[union-attr]
    assert hashlib.sha256(path.read_bytes()).hexdigest() == digest, "theirs is only read"


def test_both_changed_is_kept_as_two_with_their_work_pointing_at_theirs(books: tuple[Book, Path]) -> None:
    ours, path = books
    mine = changed(ours, "t-nut-hazel", location="ours")
    other = Book.open(path)
    changed(other, "t-nut-hazel", location="theirs")
    other.put("job", JobDoc(id="job-new", design="t-nut-hazel", done=("x",)))
    other.put("layout", LayoutDoc(id="lay-new", title="new", machine="hazel", design="t-nut-hazel"))
    other.close()
    before = list(ours.documents)
    done = merge(ours, read_other(path))
    (conflict,) = done.conflicts
    assert (conflict.kind, conflict.id) == ("design", "t-nut-hazel")
    copy = ours.get(DesignDoc, conflict.copy)
    assert copy is not None and copy.location == "theirs" and "t-nut-hazel" in copy.notes and copy.title != mine.title
    assert ours.get(DesignDoc, "t-nut-hazel") == mine
    assert ours.get(JobDoc, "job-new").design == conflict.copy  # type: ignore[union-attr]
    assert ours.get(LayoutDoc, "lay-new").design == conflict.copy  # type: ignore[union-attr]
    after = list(ours.documents)
    again = merge(ours, read_other(path))
    assert not again.conflicts and not again.changed and ours.documents == after, "merged again, nothing is doubled"
    ours.undo()
    assert ours.documents == before, "one undo takes it back whole"


@pytest.mark.parametrize("prefer", ["mine", "theirs"])
def test_one_side_can_be_preferred(books: tuple[Book, Path], prefer: str) -> None:
    ours, path = books
    changed(ours, "t-nut-hazel", location="ours")
    in_theirs(path, "t-nut-hazel", location="theirs")
    done = merge(ours, read_other(path), prefer)  # type: ignore[arg-type]
    assert len(done.conflicts) == 1 and done.conflicts[0].copy == ""
    assert ours.get(DesignDoc, "t-nut-hazel").location == ("ours" if prefer == "mine" else "theirs")  # type: ignore[union-attr]


def test_an_export_cannot_know_its_past_and_loses_nothing(books: tuple[Book, Path], tmp_path: Path) -> None:
    ours, _ = books
    file = tmp_path / "theirs.json"
    nut = ours.get(DesignDoc, "t-nut-hazel")
    assert nut is not None
    file.write_text(
        export_text([replace(nut, location="elsewhere"), replace(nut, id="quite-new", title="new")]), encoding="utf-8"
    )
    done = merge(ours, read_other(file))
    assert len(done.added) == 1 and len(done.conflicts) == 1
    file.write_text(export_text([nut]), encoding="utf-8")
    changed(ours, "t-nut-hazel", location="later")
    assert merge(ours, read_other(file)).kept == (("design", "t-nut-hazel"),), "what we once had is older, not other"


@pytest.mark.parametrize("seed", range(6))
def test_random_edits_on_both_sides_lose_nothing(books: tuple[Book, Path], seed: int) -> None:
    ours, path = books
    chance = random.Random(seed)
    other = Book.open(path)
    ids = [d.id for d in ours.all(DesignDoc)]
    for book in (ours, other):
        for _ in range(12):
            id_ = chance.choice(ids)
            what = chance.random()
            if what < 0.6 and book.get(DesignDoc, id_) is not None:
                changed(book, id_, made=chance.randint(0, 4), location=f"drawer {chance.randint(1, 3)}")
            elif what < 0.8:
                book.put("new", replace(ours.all(DesignDoc)[0], id=f"new-{chance.randint(1, 4)}", pieces=chance.randint(1, 3)))
            elif book.get(DesignDoc, id_) is not None:
                book.remove("away", book.get(DesignDoc, id_))
            if chance.random() < 0.2:
                book.undo()
    before, theirs = list(ours.documents), list(other.documents)
    other.close()
    done = merge(ours, read_other(path))
    now = {content(d) for d in ours.documents}
    overtaken = {(k, i) for k, i in done.changed}
    assert all(content(d) in now for d in before if (kind_of(d), d.id) not in overtaken)
    assert all(content(d) in now for d in theirs if (kind_of(d), d.id) not in set(done.kept))
    assert len(done.added) + done.same + len(done.changed) + len(done.kept) + len(done.conflicts) == len(theirs)
    if ours.documents != before:
        ours.undo()
    assert ours.documents == before


def test_what_is_no_book_is_refused(tmp_path: Path, books: tuple[Book, Path], capsys: pytest.CaptureFixture[str]) -> None:
    ours, path = books
    ours.close()
    for name, data in (("a.json", b"{}"), ("b.elbrix", b"SQLite format 3\x00rubbish"), ("c.txt", b"hello"), ("d.elbrix", b"")):
        (tmp_path / name).write_bytes(data)
        with pytest.raises(ShopError):
            read_other(tmp_path / name)
    with pytest.raises(ShopError, match="cannot be read"):
        read_other(tmp_path / "missing.elbrix")
    assert main(["merge", str(ours.path), "--book", str(ours.path)]) != 0
    in_theirs(path, "t-nut-pip", location="x")
    capsys.readouterr()
    assert main(["merge", str(path), "--book", str(ours.path), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["added"], told["changed"], told["conflicts"]) == (0, 1, 0)
