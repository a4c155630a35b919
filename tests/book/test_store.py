"""The book: what was confirmed is there, whatever happened."""

from __future__ import annotations

import json
import multiprocessing
import os
import random
import signal
import sqlite3
import time
from datetime import date
from multiprocessing.connection import Connection
from pathlib import Path

import pytest
from jsonschema import Draft202012Validator

from elbrix.book import backup
from elbrix.book.documents import Chosen, DesignDoc, JobDoc, from_json, json_schema, new_id, next_letter, shop_of, to_json
from elbrix.book.items_file import export_schema, export_text, import_items, read_items
from elbrix.book.opening import APPLICATION_ID, BookProblem, inspect
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.quantities.errors import ShopError
from elbrix.shop.stock import Bar


def design(id: str = "d", title: str = "T-nut", **chosen: str) -> DesignDoc:
    return DesignDoc(id=id, family="t_nut", title=title, chosen={k: Chosen(text=v) for k, v in chosen.items()})


# --- edits, undo ----------------------------------------------------------------------------------------------------


def test_the_latest_are_those_changed_last(book: Book, monkeypatch: pytest.MonkeyPatch) -> None:
    for n, at in enumerate((3, 1, 2, 5, 4)):
        monkeypatch.setattr("elbrix.book.store._now", lambda at=at: f"2026-01-0{at}T08:00:00")
        book.put("New", design(f"d{n}"))
    assert [d.id for d in book.latest(DesignDoc, 3)] == ["d3", "d4", "d0"]
    monkeypatch.setattr("elbrix.book.store._now", lambda: "2026-01-06T08:00:00")
    book.put("Neck", design("d1", neck_width="11"))
    assert [d.id for d in book.latest(DesignDoc, 9)] == ["d1", "d3", "d4", "d0", "d2"]
    assert book.latest(JobDoc, 9) == []


def test_edits_undo_and_redo(book: Book) -> None:
    book.put("New", design(neck_width="11.7"))
    book.put("Neck 11.5", design(neck_width="11.5"))
    assert book.undo_label == "Neck 11.5" and book.redo_label == ""
    assert book.undo() == "Neck 11.5"
    assert book.get(DesignDoc, "d").chosen["neck_width"].text == "11.7"  # type: ignore[union-attr]
    assert book.redo_label == "Neck 11.5" and book.redo() == "Neck 11.5"
    assert book.get(DesignDoc, "d").chosen["neck_width"].text == "11.5"  # type: ignore[union-attr]
    assert book.undo() and book.undo() and book.undo() == ""
    assert book.all(DesignDoc) == []


def test_undo_survives_a_restart(book: Book) -> None:
    book.put("New", design(neck_width="11.7"))
    book.put("Neck 11.5", design(neck_width="11.5"))
    book.undo()
    book.close()
    again = Book.open(book.path)
    assert again.redo_label == "Neck 11.5" and again.undo_label == "New"
    again.redo()
    assert again.get(DesignDoc, "d").chosen["neck_width"].text == "11.5"  # type: ignore[union-attr]
    again.undo()
    again.undo()
    assert again.all(DesignDoc) == []
    again.close()


def test_a_new_edit_leaves_the_undone_ones_behind(book: Book) -> None:
    book.put("A", design("a"))
    book.put("B", design("b"))
    book.undo()
    book.put("C", design("c"))
    assert book.redo() == "" and {d.id for d in book.all(DesignDoc)} == {"a", "c"}
    assert [what for _, what in book.history("design", "c")] == ["C"]
    assert book.history("design", "b") == []


def test_typing_one_number_is_one_step(book: Book) -> None:
    book.put("New", design(neck_width="12"))
    for text in ("1", "11", "11.", "11.4"):
        book.put(f"Neck {text}", design(neck_width=text), merge="d neck 1")
    assert book.undo_label == "Neck 11.4"
    book.undo()
    assert book.get(DesignDoc, "d").chosen["neck_width"].text == "12"  # type: ignore[union-attr]
    book.redo()
    assert book.get(DesignDoc, "d").chosen["neck_width"].text == "11.4"  # type: ignore[union-attr]


def test_removing_is_undone_too(book: Book) -> None:
    book.put("Bar", Bar(id="b", width_mm=20, height_mm=16, length_mm=500))
    book.remove("Used up", *book.all(Bar))
    assert book.shop.bars == ()
    book.undo()
    assert book.shop.bars[0].length_mm == 500


def test_same_again_is_no_edit(book: Book) -> None:
    book.put("New", design())
    book.put("Nothing", design())
    assert book.undo_label == "New"


def test_search_finds_words_and_beginnings(book: Book) -> None:
    book.put("New", design("a", "Nut for Hazel"), design("b", "Nut for Pip"))
    assert [i for _, i in book.search("haz")] == ["a"]
    assert {i for _, i in book.search("nut")} == {"a", "b"}
    assert book.search("nut hazel")[0][1] == "a" and book.search("brass") == []
    book.undo()
    assert book.search("haz") == []
    for odd in ('"', "a OR b", "NEAR(", "*", "-x", "'; drop table item; --", "x" * 5000):
        book.search(odd)  # no syntax of the index leaks through


# --- the file -------------------------------------------------------------------------------------------------------


def test_a_stranger_can_read_the_file(book: Book) -> None:
    book.put("Bar", Bar(id="b", width_mm=20, height_mm=16, length_mm=500))
    book.close()
    raw = sqlite3.connect(book.path)
    assert raw.execute("PRAGMA application_id").fetchone() == (APPLICATION_ID,)
    assert "Elbrix workshop book" in raw.execute("SELECT words FROM about ORDER BY line").fetchone()[0]
    assert json.loads(raw.execute("SELECT body FROM item WHERE kind = 'bar'").fetchone()[0])["width_mm"] == 20
    raw.close()
    assert [p.name for p in book.path.parent.glob("shop.elbrix*")] == ["shop.elbrix"]  # one file


def test_second_opener_may_only_read(book: Book) -> None:
    book.put("New", design())
    second = Book.open(book.path)
    assert second.read_only and "another window" in second.read_only_reason
    assert second.get(DesignDoc, "d") is not None
    with pytest.raises(ShopError, match="only read"):
        second.put("Try", design("x"))
    assert second.undo() == ""
    second.close()
    book.put("Still writing", design("y"))
    book.close()
    third = Book.open(book.path)
    assert not third.read_only
    third.close()


def _unchanged(path: Path, before: bytes) -> None:
    assert path.read_bytes() == before


@pytest.mark.parametrize(
    ("name", "content", "kind"),
    [("notes.elbrix", b"Bring milk", "damaged"), ("notes.txt", b"Bring milk" * 50, "foreign"), ("empty.elbrix", b"", "damaged")],
)
def test_what_is_no_book_is_left_alone(tmp_path: Path, name: str, content: bytes, kind: str) -> None:
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(BookProblem) as problem:
        Book.open(path)
    assert problem.value.kind == kind and "other" in problem.value.choices and problem.value.do
    _unchanged(path, content)
    assert list(tmp_path.iterdir()) == [path]


def test_another_programs_database_is_foreign(tmp_path: Path) -> None:
    path = tmp_path / "other.elbrix"
    raw = sqlite3.connect(path)
    raw.execute("CREATE TABLE t (x)")
    raw.commit()
    raw.close()
    before = path.read_bytes()
    with pytest.raises(BookProblem) as problem:
        Book.open(path)
    assert problem.value.kind == "foreign"
    _unchanged(path, before)


def test_a_newer_book_is_not_touched(book: Book) -> None:
    book.close()
    raw = sqlite3.connect(book.path)
    raw.execute("PRAGMA user_version = 99")
    raw.commit()
    raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    raw.close()
    before = book.path.read_bytes()
    with pytest.raises(BookProblem, match="newer Elbrix") as problem:
        Book.open(book.path)
    assert problem.value.kind == "newer"
    _unchanged(book.path, before)


def test_a_damaged_book_is_not_touched(book: Book) -> None:
    book.put("Many", *(design(f"d{i}", f"Nut number {i} " * 30) for i in range(200)))
    book.close()
    data = bytearray(book.path.read_bytes())
    for at in range(4096 * 4, len(data), 4096):
        data[at : at + 400] = random.Random(at).randbytes(400)
    book.path.write_bytes(bytes(data))
    with pytest.raises(BookProblem) as problem:
        Book.open(book.path)
    assert problem.value.kind == "damaged" and "backup" in problem.value.choices
    _unchanged(book.path, bytes(data))


def test_missing_book_says_so(tmp_path: Path) -> None:
    with pytest.raises(BookProblem) as problem:
        Book.open(tmp_path / "gone.elbrix")
    assert problem.value.kind == "missing" and "new" in problem.value.choices


@pytest.mark.skipif(os.geteuid() == 0 and not Path("/proc").exists(), reason="needs a system that refuses writing")
def test_a_file_that_cannot_be_written_opens_to_read(book: Book, monkeypatch: pytest.MonkeyPatch) -> None:
    book.put("New", design())
    book.close()
    before = book.path.read_bytes()
    monkeypatch.setattr(os, "access", lambda path, mode: mode != os.W_OK)  # root may write anywhere; say it may not
    opened = Book.open(book.path)
    assert opened.read_only and "cannot be written" in opened.read_only_reason and opened.get(DesignDoc, "d") is not None
    opened.close()
    _unchanged(book.path, before)


def test_never_overwrites(book: Book) -> None:
    with pytest.raises(ShopError, match="there already"):
        Book.create(book.path)


# --- trouble while writing ------------------------------------------------------------------------------------------


def test_full_disk_keeps_edits_in_memory_until_there_is_room(book: Book) -> None:
    book.put("Before", design("before"))
    (pages,) = book._connection.execute("PRAGMA page_count").fetchone()
    book._connection.execute(f"PRAGMA max_page_count = {pages}")  # SQLite then fails exactly as on a full disk
    book.put("Large", design("large", "x" * 50_000))
    book.put("Next", design("next", "y" * 50_000))
    assert "full" in book.unsaved_reason and book.unsaved_reason.startswith("2 edits")
    assert {d.id for d in book.all(DesignDoc)} == {"before", "large", "next"}  # nothing is lost to the user
    assert book.undo() == "Next" and book.redo() == "Next"  # and work goes on
    book._connection.execute("PRAGMA max_page_count = 1000000")
    assert book.flush() and book.unsaved_reason == ""
    book.close()
    again = Book.open(book.path)
    assert {d.id for d in again.all(DesignDoc)} == {"before", "large", "next"} and again.integrity() == "ok"
    again.close()


def test_vanished_folder_keeps_edits_until_it_is_back(tmp_path: Path) -> None:
    folder = tmp_path / "stick"
    book = Book.create(folder / "shop.elbrix")
    book.put("Before", design("before"))
    away = tmp_path / "away"
    folder.rename(away)
    book.put("While away", design("while"))
    assert "gone" in book.unsaved_reason and book.get(DesignDoc, "while") is not None
    away.rename(folder)
    assert book.flush() and book.unsaved_reason == ""
    book.close()
    again = Book.open(folder / "shop.elbrix")
    assert {d.id for d in again.all(DesignDoc)} == {"before", "while"}
    again.close()


def _keep_editing(path: Path, line: Connection) -> None:
    """The child: edits, undoes and redoes as fast as it can and confirms each one only after it returned."""
    book = Book.open(path)
    start = len(book.all(DesignDoc))
    for n in range(start, start + 100_000):
        book.put(f"Edit {n}", design(f"d{n}", f"Nut {n}"), Bar(id="b", width_mm=20, height_mm=16, length_mm=float(n)))
        if n % 7 == 3:
            book.undo()
            book.redo()
        line.send(n)


def test_sixty_kills_lose_nothing_confirmed(tmp_path: Path) -> None:
    path = tmp_path / "shop.elbrix"
    Book.create(path).close()
    context = multiprocessing.get_context("fork")
    chance = random.Random(20261125)
    confirmed = -1
    for kill in range(60):
        ours, theirs = context.Pipe(duplex=False)
        child = context.Process(target=_keep_editing, args=(path, theirs))
        child.start()
        theirs.close()
        assert ours.poll(20), "the child never confirmed an edit"
        time.sleep(chance.random() * 0.02)
        os.kill(child.pid or 0, signal.SIGKILL)
        child.join()
        try:
            while ours.poll():
                confirmed = max(confirmed, ours.recv())
        except EOFError:
            pass
        inspect(path)
        book = Book.open(path)
        assert not book.read_only, kill
        assert book.integrity() == "ok", kill
        kept = {int(d.id[1:]) for d in book.all(DesignDoc)}
        assert kept >= set(range(confirmed + 1)), kill
        assert max(kept) <= confirmed + 1, kill  # at most the one that was being confirmed
        bar = book.get(Bar, "b")
        assert bar is not None and bar.length_mm == max(kept), kill  # both halves of an edit, or neither
        assert len(book.search("nut")) == len(kept), kill
        book.close()
    assert confirmed >= 100


# --- backups, migration ---------------------------------------------------------------------------------------------


def test_one_backup_a_day_and_the_newest_fourteen_kept(book: Book) -> None:
    book.put("New", design())
    for day in range(1, 21):
        backup.daily(book._connection, book.path, date(2026, 11, day))
        assert backup.daily(book._connection, book.path, date(2026, 11, day)) is None  # not twice
    copies = sorted(p.name for p in backup.folder_of(book.path).iterdir())
    assert len(copies) == backup.KEEP_DAILY and copies[0] == "shop 2026-11-07.elbrix" and copies[-1] == "shop 2026-11-20.elbrix"
    copy = Book.open(backup.folder_of(book.path) / copies[-1])
    assert copy.get(DesignDoc, "d") is not None and copy.integrity() == "ok"
    copy.close()


def test_opening_makes_todays_backup(book: Book) -> None:
    book.put("New", design())
    book.close()
    Book.open(book.path).close()
    newest = backup.newest(book.path)
    assert newest is not None and date.today().isoformat() in newest.name


# --- documents, export, import --------------------------------------------------------------------------------------


def test_every_document_goes_out_and_comes_back() -> None:
    from elbrix.book.documents import kind_of

    for document in documents():
        assert from_json(kind_of(document), to_json(document)) == document


def test_whole_book_out_and_in(tmp_path: Path) -> None:
    demo = write_demo(tmp_path / "demo.elbrix")
    text = export_text(demo.documents)
    fresh = Book.create(tmp_path / "fresh.elbrix")
    done = import_items(fresh, read_items(text))
    assert done.added == len(demo.documents) and set(map(repr, fresh.documents)) == set(map(repr, demo.documents))
    assert import_items(fresh, read_items(text)).same == len(demo.documents)
    fresh.undo()  # an import is one edit
    assert fresh.documents == []
    demo.close()
    fresh.close()


def test_import_keeps_or_replaces(book: Book) -> None:
    book.put("Mine", design("a", "Mine"))
    theirs = read_items(export_text([design("a", "Theirs"), design("b", "New")]))
    assert import_items(book, theirs, replace=False).added == 1
    assert book.get(DesignDoc, "a").title == "Mine"  # type: ignore[union-attr]
    import_items(book, theirs)
    assert book.get(DesignDoc, "a").title == "Theirs"  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no JSON"),
        ("[]", "something else"),
        ('{"format": "elbrix-items"}', "something else"),
        ('{"format": "elbrix-items", "version": 99, "items": []}', "newer"),
        ('{"format": "elbrix-items", "version": 1, "items": [{"kind": "bar", "item": {"id": "x"}}]}', "item 1"),
        ('{"format": "elbrix-items", "version": 1, "items": [{"kind": "spaceship", "item": {}}]}', "no kind of thing"),
        ('{"format": "elbrix-items", "version": 1, "items": [7]}', "item 1"),
        ("[" * 100_000, "no JSON"),
        (
            (
                '{"format": "elbrix-items", "version": 1, "items": [{"kind": "bar", "item": {"id": "b", "width_mm": -5,'
                ' "height_mm": 1, "length_mm": 2}}]}'
            ),
            "section or length of nothing",
        ),
    ],
)
def test_bad_imports_take_nothing(book: Book, text: str, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        import_items(book, read_items(text))
    assert book.documents == []


def test_an_export_is_valid_by_the_schema_and_a_broken_one_is_not() -> None:
    """By another reader of JSON Schema: the whole demo shop, and what nobody may take for an export."""
    schema = export_schema()
    Draft202012Validator.check_schema(schema)
    valid = Draft202012Validator(schema)
    whole = json.loads(export_text(documents()))
    assert not list(valid.iter_errors(whole))
    for broken in (
        {},
        [],
        whole | {"format": "something else"},
        whole | {"version": 1},
        whole | {"items": [{"kind": "nonsense", "item": {}}]},
        whole | {"items": [{"kind": "bar", "item": {"id": 7}}]},
        whole | {"items": [{"kind": "bar"}]},
    ):
        assert list(valid.iter_errors(broken)), broken


def test_schema_names_every_kind() -> None:
    schema = json_schema()
    assert set(schema["kinds"]) == {
        "machine",
        "inspection",
        "photo",
        "stock_take",
        "storage place",
        "wear reading",
        "logged cut",
        "bar",
        "cutter",
        "collet",
        "holder",
        "touch_off",
        "stud",
        "measuring",
        "gauge set",
        "angle blocks",
        "parallel",
        "sine tool",
        "angle tool",
        "vise",
        "clamp",
        "support",
        "stop",
        "fastener",
        "pin",
        "bore",
        "layout",
        "design",
        "job",
        "angle",
    }
    assert "TSlot" in schema["$defs"] and "neck" in schema["$defs"]["TSlot"]["properties"]


def test_letters_and_names() -> None:
    assert [next_letter(x) for x in ("", "A", "Y", "Z", "AZ", "ZZ")] == ["A", "B", "Z", "AA", "BA", "AAA"]
    assert new_id("t_nut", ["t-nut-hazel"], "Hazel") == "t-nut-hazel-2"
    assert new_id("bar", [], "Ω") == "bar"


def test_mills_come_first_in_the_shop() -> None:
    assert [m.name for m in shop_of(documents()).machines] == ["Hazel", "Pip", "Old Margaret", "Tam", "Clover"]


def test_a_job_is_kept_with_its_measured_sizes(book: Book) -> None:
    book.put("Job", JobDoc(id="j", design="d", measured={"neck": 11.71}, done=("saw.cut",)))
    book.close()
    again = Book.open(book.path)
    assert again.get(JobDoc, "j") == JobDoc(id="j", design="d", measured={"neck": 11.71}, done=("saw.cut",))
    again.close()
