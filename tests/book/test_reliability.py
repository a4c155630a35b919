"""What audits broke: a log of another file, a file copied over, links, damaged rows, documents of another version, clocks."""

from __future__ import annotations

import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from datetime import date
from pathlib import Path

import pytest

from elbrix.book import backup
from elbrix.book.documents import AngleDoc, AsMade, DesignDoc, ElementDoc, LayoutDoc, from_json, to_json
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.book.writer import log_of, mark_in
from elbrix.demo import write_demo
from elbrix.quantities.errors import ShopError


def design(id: str, title: str = "T-nut") -> DesignDoc:
    return DesignDoc(id=id, family="t_nut", title=title)


def killed_writer(path: Path, label: str) -> None:
    """A window that keeps one edit and is killed: its log stays beside the book."""
    code = (
        "import os, signal, sys; from pathlib import Path; from elbrix.book.store import Book; from elbrix.book.documents import"
        " DesignDoc; b = Book.open(Path(sys.argv[1])); b.put('x', DesignDoc(id=sys.argv[2], family='t_nut', title=sys.argv[2]));"
        " os.kill(os.getpid(), signal.SIGKILL)"
    )
    assert subprocess.run([sys.executable, "-c", code, str(path), label], check=False).returncode == -signal.SIGKILL


def ids(book: Book) -> set[str]:
    return {d.id for d in book.all(DesignDoc)}


@pytest.fixture
def kept(tmp_path: Path) -> Path:
    """A book with one design, and a copy of it as a backup is made."""
    book = Book.create(tmp_path / "shop.elbrix")
    book.put("a", design("a"))
    backup.make(book._connection, book.path, "copy")
    book.close()
    return book.path


# --- logs -----------------------------------------------------------------------------------------------------------------


def test_a_log_of_its_own_is_taken_in_after_a_kill(kept: Path) -> None:
    killed_writer(kept, "late")
    assert log_of(kept).stat().st_size
    book = Book.open(kept)
    assert ids(book) == {"a", "late"} and not book.notices
    book.close()


@pytest.mark.parametrize("how", ["copied over it", "moved over it"])
def test_a_backup_put_over_a_book_whose_log_is_left_is_that_backup(kept: Path, how: str) -> None:
    killed_writer(kept, "late")
    copy = backup.path_of(kept, "copy")
    shutil.copyfile(copy, kept) if how == "copied over it" else os.replace(copy, kept)
    book = Book.open(kept)
    assert ids(book) == {"a"} and book.integrity() == "ok"
    assert "log" in book.notices[0] and list(kept.parent.glob("*-log set aside*"))
    book.close()
    assert sqlite3.connect(kept).execute("PRAGMA integrity_check").fetchone() == ("ok",)


def test_a_log_nobody_knows_is_put_aside_only_when_the_book_is_whole_without_it(kept: Path) -> None:
    killed_writer(kept, "late")
    kept.with_name(f".{kept.name}.lock").unlink()
    log = bytearray(log_of(kept).read_bytes())
    shutil.copyfile(backup.path_of(kept, "copy"), kept)
    log_of(kept).write_bytes(log)
    book = Book.open(kept)  # either it fits and is taken in whole, or it is put aside: never half
    assert ids(book) in ({"a"}, {"a", "late"}) and book.integrity() == "ok"
    book.close()


def test_a_backup_has_a_mark_of_its_own(kept: Path) -> None:
    assert mark_in(kept) and mark_in(backup.path_of(kept, "copy")) == ""


# --- another file under the window ----------------------------------------------------------------------------------------


@pytest.mark.parametrize("how", ["copied over it", "moved over it", "cut short"])
def test_a_book_replaced_under_the_window_is_left_alone(kept: Path, tmp_path: Path, how: str) -> None:
    book = Book.open(kept)
    book.put("b", design("b"))
    other = tmp_path / "other.elbrix"
    shutil.copyfile(backup.path_of(kept, "copy"), other)
    time.sleep(0.02)
    if how == "cut short":
        os.truncate(kept, 4096)
    elif how == "copied over it":
        shutil.copyfile(other, kept)
    else:
        os.replace(other, kept)
    before = kept.read_bytes()
    book.put("c", design("c"))
    assert "another file" in book.unsaved_reason and book.unsaved == ("c",) and ids(book) == {"a", "b", "c"}
    book.save_copy(tmp_path / "kept.elbrix")
    book.close()
    assert kept.read_bytes() == before
    again = Book.open(tmp_path / "kept.elbrix")
    assert ids(again) == {"a", "b", "c"}
    again.close()
    if how != "cut short":
        there = Book.open(kept)
        assert ids(there) == {"a"} and there.integrity() == "ok"
        there.close()


def test_a_changed_time_stamp_alone_is_no_other_file(kept: Path) -> None:
    book = Book.open(kept)
    os.utime(kept, (1, 1))
    book.put("b", design("b"))
    assert not book.unsaved_reason
    book.close()


@pytest.mark.parametrize("link", ["symlink", "hard link", "lock gone"])
def test_one_book_has_one_writer_whatever_it_is_called(kept: Path, tmp_path: Path, link: str) -> None:
    first = Book.open(kept)
    second = tmp_path / "elsewhere" / "link.elbrix"
    second.parent.mkdir()
    if link == "symlink":
        second.symlink_to(kept)
    elif link == "hard link":
        os.link(kept, second)
    else:
        second = kept
        kept.with_name(f".{kept.name}.lock").unlink()
    reader = Book.open(second)
    assert not first.read_only and reader.read_only
    reader.close()
    first.put("b", design("b"))
    assert not first.unsaved_reason
    first.close()


def test_a_lock_that_is_a_link_is_not_followed(kept: Path, tmp_path: Path) -> None:
    victim = tmp_path / "victim"
    victim.write_text("keep")
    lock = kept.with_name(f".{kept.name}.lock")
    lock.unlink(missing_ok=True)
    lock.symlink_to(victim)
    book = Book.open(kept)
    assert book.read_only and victim.read_text() == "keep"
    book.close()


# --- damaged, foreign, of another version ---------------------------------------------------------------------------------


def raw(path: Path, *statements: str) -> None:
    connection = sqlite3.connect(path)
    for sql in statements:
        connection.execute(sql)
    connection.commit()
    connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()


@pytest.mark.parametrize(
    "body",
    [
        "CAST(x'7b2261ff' AS TEXT)",
        "''",
        "NULL",
        "17",
        "'[1]'",
        "'{'",
        "x'00'",
        "replace(body, '\"a\"', '\"b\"')",
        '\'{"id":"a"}\'',
    ],
)
def test_one_row_that_cannot_be_read_does_not_stop_the_book(kept: Path, body: str) -> None:
    book = Book.open(kept)
    book.put("b", design("b"))
    book.close()
    if body == "NULL":  # the column forbids it in a sound book
        raw(kept, "PRAGMA writable_schema = 1", "UPDATE sqlite_master SET sql = replace(sql, 'body TEXT NOT NULL', 'body TEXT')")
    raw(kept, f"UPDATE item SET body = {body} WHERE id = 'a'")
    book = Book.open(kept)
    assert ids(book) == {"b"} and "“a”" in book.notices[0] and book.integrity() != "ok"
    book.put("c", design("c"))
    book.put("a again", design("a", "another"))  # takes the name; the damaged row stays beside it
    book.close()
    rows = sqlite3.connect(kept).execute("SELECT id FROM item WHERE kind = 'design' ORDER BY id").fetchall()
    assert [r[0].split(" (")[0] for r in rows] == ["a", "a", "b", "c"]


def test_a_step_of_the_history_that_cannot_be_read_only_ends_undo_there(kept: Path) -> None:
    book = Book.open(kept)
    book.put("b", design("b"))
    book.close()
    raw(kept, "UPDATE change SET after = CAST(x'ff' AS TEXT) WHERE seq = 1")
    book = Book.open(kept)
    assert book.undo() == "b"
    with pytest.raises(ShopError, match="cannot be taken: its record is no text"):
        book.undo()
    assert book.undo() == "" and ids(book) == {"a"}
    book.close()
    raw(kept, "UPDATE edit SET state = 'done'", "UPDATE change SET after = '{', before = '{' WHERE seq = 2")
    book = Book.open(kept)
    with pytest.raises(ShopError, match="cannot be taken"):
        book.undo()
    assert book.undo() == "" and ids(book) == {"a"}
    book.close()


@pytest.mark.parametrize(
    "damage",
    [
        "DROP TABLE edit",
        "DROP TABLE change",
        "DROP TABLE setting",
        "DROP TABLE search",
        "ALTER TABLE item RENAME COLUMN body TO corpus",
        "PRAGMA user_version = 0",
    ],
)
def test_a_book_without_a_part_is_a_clear_choice_and_is_not_written_to(kept: Path, damage: str) -> None:
    raw(kept, "PRAGMA journal_mode = DELETE", damage)
    before = kept.read_bytes()
    with pytest.raises(BookProblem) as problem:
        Book.open(kept)
    assert problem.value.kind == "damaged" and "backup" in problem.value.choices
    assert kept.read_bytes() == before
    shutil.copyfile(backup.path_of(kept, "copy"), kept)  # and nothing of the failed opening holds the mended one
    book = Book.open(kept)
    assert not book.read_only
    book.close()


def test_flipped_bytes_never_end_in_anything_but_a_book_or_a_choice(tmp_path: Path) -> None:
    whole = write_demo(tmp_path / "whole.elbrix")
    whole.close()
    data = whole.path.read_bytes()
    outcomes = {"opened": 0, "refused": 0}
    for k in range(120):
        path = tmp_path / f"{k}.elbrix"
        changed = bytearray(data)
        at = (k * 7919 * 31 + 101) % len(data)
        changed[at] ^= 1 << (k % 8)
        path.write_bytes(changed)
        try:
            book = Book.open(path)
        except BookProblem:
            outcomes["refused"] += 1
        else:
            outcomes["opened"] += 1
            book.search("nut")
            book.close()
        shutil.rmtree(path.with_name(f"{k} backups"), ignore_errors=True)
    assert outcomes["opened"] > 20 and outcomes["refused"]


@pytest.mark.parametrize(
    ("kind", "document", "words"),
    [
        ("design", DesignDoc(id="x", family="warp_drive", title="x"), "family"),
        ("design", DesignDoc(id="x", family="t_nut", title="x", pieces=10**6), "pieces"),
        ("design", DesignDoc(id="x", family="t_nut", title="x", as_made=(AsMade(on="", figure="n", readings_mm=()),)), "reading"),
        ("angle", AngleDoc(id="x", kind="astrolabe", title="x"), "kind"),
        ("layout", LayoutDoc(id="x", title="x", elements=(ElementDoc(kind="magnet"),)), "magnet"),
        ("layout", LayoutDoc(id="x", title="x", elements=(ElementDoc(kind="strap"),) * 300), "300"),
    ],
)
def test_what_no_bench_could_show_is_refused_in_words(kind: str, document: DesignDoc, words: str) -> None:
    with pytest.raises(ShopError, match=words):
        from_json(kind, to_json(document))


@pytest.mark.parametrize("text", ['"rolls_mm": 1e300', '"pieces": 99999999999'])
def test_no_number_is_beyond_a_shop(text: str) -> None:
    with pytest.raises(ShopError):
        from_json("bar", '{"id": "b", "length_mm": 1e300}' if "1e300" in text else '{"id": "b", "length_mm": 99999999999}')
    with pytest.raises(ShopError):
        from_json("job", '{"id": "j", "design": "d", "options": {"style": "sideways"}}')


def test_a_book_of_a_newer_version_keeps_what_this_one_does_not_know(kept: Path) -> None:
    raw(kept, "UPDATE item SET body = replace(body, '\"t_nut\"', '\"curved_nut\"') WHERE id = 'a'")
    book = Book.open(kept)
    assert not ids(book) and "curved_nut" in book.notices[0]
    book.close()
    assert "curved_nut" in sqlite3.connect(kept).execute("SELECT body FROM item WHERE id = 'a'").fetchone()[0]


# --- starting, readers, backups -------------------------------------------------------------------------------------------


def test_a_book_being_started_is_there_whole_or_not_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "link", full)
    with pytest.raises(ShopError, match="cannot be started"):
        Book.create(tmp_path / "new.elbrix")
    assert not list(tmp_path.iterdir())


@pytest.mark.skipif(os.getuid() == 0, reason="root may write everywhere")
def test_a_reader_in_a_folder_it_cannot_write_sees_the_newest_edits(kept: Path) -> None:
    killed_writer(kept, "late")
    kept.parent.chmod(0o500)
    try:
        book = Book.open(kept)
        assert ids(book) == {"a", "late"} and "not followed" in book.read_only_reason
        book.close()
    finally:
        kept.parent.chmod(0o700)


def test_a_reader_beside_a_log_reads_both(kept: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    killed_writer(kept, "late")
    real = os.access
    monkeypatch.setattr(
        os, "access", lambda path, mode: False if mode == os.W_OK and Path(path) == kept.parent else real(path, mode)
    )
    book = Book.open(kept)
    assert book.read_only and ids(book) == {"a", "late"} and "not followed" in book.read_only_reason
    book.close()


def test_a_clock_that_was_ahead_does_not_push_out_todays_copy(kept: Path) -> None:
    book = Book.open(kept)
    for day in range(1, 16):
        backup.daily(book._connection, kept, date(2031, 1, day))
    made = backup.daily(book._connection, kept, date(2026, 11, 29))
    assert made is not None and made.exists()
    assert len(list(backup.folder_of(kept).glob("* 20*.elbrix"))) <= backup.KEEP_DAILY
    book.close()
