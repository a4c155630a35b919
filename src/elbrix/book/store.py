"""The book itself: documents in one SQLite file, every edit one transaction, undo and redo from the file's own history."""

from __future__ import annotations

import contextlib
import os
import sqlite3
import time
from collections.abc import Callable, Iterable
from datetime import date
from pathlib import Path
from typing import Any, Final, TypeVar

from msgspec import Struct, field

from elbrix.book import backup
from elbrix.book.documents import WORK_KINDS, Document, from_json, kind_of, lift_body, shop_of, to_json, words_of
from elbrix.book.formats import lift_kind
from elbrix.book.opening import APPLICATION_ID, SCHEMA_VERSION, BookProblem, WriterLock, inspect
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

SCHEMA: Final = f"""
PRAGMA application_id = {APPLICATION_ID};
PRAGMA user_version = {SCHEMA_VERSION};
CREATE TABLE about (line INTEGER PRIMARY KEY, words TEXT NOT NULL);
CREATE TABLE item (
 kind TEXT NOT NULL, id TEXT NOT NULL, body TEXT NOT NULL, changed TEXT NOT NULL, PRIMARY KEY (kind, id)
) WITHOUT ROWID;
CREATE TABLE edit (
 seq INTEGER PRIMARY KEY, at TEXT NOT NULL, label TEXT NOT NULL,
 state TEXT NOT NULL CHECK (state IN ('done', 'undone', 'left'))
);
CREATE TABLE change (
 seq INTEGER NOT NULL REFERENCES edit, n INTEGER NOT NULL, kind TEXT NOT NULL, id TEXT NOT NULL,
 before TEXT, after TEXT, PRIMARY KEY (seq, n)
) WITHOUT ROWID;
CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE VIRTUAL TABLE search USING fts5 (kind UNINDEXED, id UNINDEXED, words, tokenize = 'unicode61 remove_diacritics 2');
INSERT INTO about (words) VALUES
 ('An Elbrix workshop book. "item" holds one JSON document per thing; sizes are in mm.'),
 ('"edit" and "change" are the history: body before and after.'),
 ('State "undone" can be redone; "left" was undone and then overtaken.'),
 ('"search" is an index that can be made again from "item".');
"""
_UNDO_KEPT: Final = 1000
_MERGE_SECONDS: Final = 90.0
T = TypeVar("T")


class _Change(Struct):
    kind: str
    id: str
    before: str | None
    after: str | None


class _Edit(Struct):
    seq: int
    label: str
    changes: list[_Change]
    undone: bool = False
    merge: str = ""
    when: float = field(default_factory=time.monotonic)


_Statement = tuple[str, tuple[Any, ...]]


class Book:
    """An open book. One writer; everybody else reads."""

    def __init__(self, path: Path, connection: sqlite3.Connection, lock: WriterLock | None, notice: str = "") -> None:
        self.path = path
        self.read_only_reason = notice  #: why it is read-only, for the head line
        self.unsaved_reason = ""  #: why the newest edits are not in the file yet
        self.changed: list[Callable[[], None]] = []  #: called after every edit
        self._connection = connection
        self._lock = lock
        self._inode = _inode(path)
        self._items: dict[tuple[str, str], Document] = {}
        self._edits: list[_Edit] = []
        self._pending: list[list[_Statement]] = []
        self._shop: Shop | None = None
        self._load()
        (self._seen_version,) = connection.execute("PRAGMA data_version").fetchone()

    # --- opening -----------------------------------------------------------------------------------------------------

    @classmethod
    def create(cls, path: Path) -> Book:
        """Start an empty book.

        Raises:
            ShopError: The file exists or cannot be written.
        """
        if path.exists():
            raise ShopError(
                path.name, "that file is there already", "A new book never overwrites anything", "Choose another name, or open it"
            )
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            connection = sqlite3.connect(path, isolation_level=None)
            connection.execute("PRAGMA journal_mode = WAL")
            connection.executescript(f"BEGIN; {SCHEMA} COMMIT;")
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")  # so that the header can be read without the log
            connection.close()
        except (OSError, sqlite3.Error) as error:
            raise ShopError(
                path.name,
                f"the book cannot be started ({error})",
                "The folder is not there or cannot be written",
                "Choose another folder",
            ) from None
        return cls.open(path)

    @classmethod
    def open(cls, path: Path) -> Book:
        """Open a book: to write when nobody else does and the file allows, else to read, with the reason in `read_only_reason`.

        Raises:
            BookProblem: Missing, foreign, newer or damaged; the file was not written to.
        """
        inspect(path)
        notice = ""
        lock: WriterLock | None = WriterLock(path)
        if not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
            lock, notice = None, "Read only: the file or its folder cannot be written"
        elif lock is not None and not lock.take():
            lock, notice = None, "Read only: this book is open in another window"
        if lock is None:
            mode = "mode=ro" if os.access(path.parent, os.W_OK) else "immutable=1"
            return cls(path, sqlite3.connect(f"{path.resolve().as_uri()}?{mode}", uri=True, isolation_level=None), None, notice)
        connection = sqlite3.connect(path, isolation_level=None, timeout=2.0)
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA synchronous = FULL")
        connection.execute("PRAGMA foreign_keys = ON")
        _migrate(connection, path)
        book = cls(path, connection, lock)
        if book._items:
            backup.daily(connection, path, date.today())
        return book

    def reload_if_changed(self) -> bool:
        """For a reader: take in what the writing window has kept since; True when there was something."""
        if not self.read_only:
            return False
        try:
            (version,) = self._connection.execute("PRAGMA data_version").fetchone()
            if version == self._seen_version:
                return False
            self._seen_version = version
            self._items.clear()
            self._edits.clear()
            self._shop = None
            self._load()
        except sqlite3.Error:
            return False  # the writer is busy; the next look will do
        for call in list(self.changed):
            call()
        return True

    def close(self) -> None:
        """Write what waits and let go of the file."""
        with contextlib.suppress(sqlite3.Error):
            self.flush()
            self._connection.close()
        if self._lock:
            self._lock.release()

    @property
    def read_only(self) -> bool:
        return self._lock is None

    def _load(self) -> None:
        (version,) = self._connection.execute("PRAGMA user_version").fetchone()
        for old_kind, id_, old_body in self._connection.execute("SELECT kind, id, body FROM item ORDER BY kind, id"):
            kind, body = lift_body(old_kind, old_body, version)  # an older book that may only be read stays as it is
            self._items[(kind, id_)] = from_json(kind, body)
        rows = self._connection.execute(
            "SELECT seq, label, state FROM edit WHERE state != 'left' ORDER BY seq DESC LIMIT ?", (_UNDO_KEPT,)
        ).fetchall()
        for seq, label, state in reversed(rows):
            changes = [
                _Change(*c)
                for c in self._connection.execute("SELECT kind, id, before, after FROM change WHERE seq = ? ORDER BY n", (seq,))
            ]
            self._edits.append(_Edit(seq, label, changes, undone=state == "undone"))
        self._next = 1 + (self._connection.execute("SELECT coalesce(max(seq), 0) FROM edit").fetchone()[0])

    # --- reading -----------------------------------------------------------------------------------------------------

    def all(self, type_: type[T]) -> list[T]:
        """Every document of a type, by id."""
        return [d for d in self._items.values() if isinstance(d, type_)]

    def get(self, type_: type[T], id: str) -> T | None:
        """One document, or None."""
        for document in self._items.values():
            if isinstance(document, type_) and document.id == id:
                return document
        return None

    @property
    def documents(self) -> list[Document]:
        return list(self._items.values())

    @property
    def shop(self) -> Shop:
        """The shop as it stands now."""
        if self._shop is None:
            self._shop = shop_of(self._items[k] for k in sorted(self._items))
        return self._shop

    def search(self, words: str) -> list[tuple[str, str]]:
        """(kind, id) of documents that have every word, or begin of a word, best first."""
        terms = ["".join(c for c in w if c.isalnum() or c in "._-") for w in words.split()[:12]]
        query = " ".join(f'"{t}"*' for t in terms if t)
        if not query:
            return []
        return [
            (k, i)
            for k, i in self._connection.execute("SELECT kind, id FROM search WHERE search MATCH ? ORDER BY rank", (query,))
        ]

    def history(self, kind: str, id: str) -> list[tuple[str, str]]:
        """(when, what) of every edit that touched a document, newest first."""
        sql = (
            "SELECT e.at, e.label FROM edit e JOIN change c USING (seq) WHERE c.kind = ? AND c.id = ? AND e.state = 'done' ORDER"
            " BY e.seq DESC"
        )
        return list(self._connection.execute(sql, (kind, id)))

    def setting(self, key: str, default: str = "") -> str:
        """A remembered state of the window; not part of the history."""
        row = self._connection.execute("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
        return str(row[0]) if row else default

    def remember(self, key: str, value: str) -> None:
        """Keep a state of the window; never an error."""
        if not self.read_only:
            with contextlib.suppress(sqlite3.Error):
                self._connection.execute(
                    "INSERT INTO setting VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value", (key, value)
                )

    # --- editing -----------------------------------------------------------------------------------------------------

    def put(self, label: str, *documents: Document, merge: str = "") -> None:
        """Keep new or changed documents, as one edit.

        Args:
            label: What was done, for the undo menu: "Neck 11.7 → 11.5".
            documents: As they are now.
            merge: Edits in a row with the same key become one step of undo (a number being typed).

        Raises:
            ShopError: The book is read-only.
        """
        self._edit(label, [(kind_of(d), d.id, d) for d in documents], merge)

    def remove(self, label: str, *documents: Document) -> None:
        """Take documents out, as one edit; undo brings them back."""
        self._edit(label, [(kind_of(d), d.id, None) for d in documents], "")

    def _edit(self, label: str, wanted: list[tuple[str, str, Document | None]], merge: str) -> None:
        if self.read_only:
            raise ShopError(
                self.path.name,
                "this window may only read",
                self.read_only_reason.removeprefix("Read only: ") or "The book is read-only",
                "Close the other window, or export what you need",
            )
        changes = []
        for kind, id_, document in wanted:
            old = self._items.get((kind, id_))
            before = to_json(old) if old is not None else None
            # Read back once, so that 20 and 20.0 are the same size and nothing unreadable is ever written.
            after = to_json(from_json(kind, to_json(document))) if document is not None else None
            if before != after:
                changes.append(_Change(kind, id_, before, after))
        if not changes:
            return
        statements: list[_Statement] = []
        last = self._edits[-1] if self._edits else None
        merging = (
            merge
            and last
            and not last.undone
            and last.merge == merge
            and time.monotonic() - last.when < _MERGE_SECONDS
            and [(c.kind, c.id) for c in last.changes] == [(c.kind, c.id) for c in changes]
        )
        if merging and last:
            for old_change, new in zip(last.changes, changes, strict=True):
                old_change.after = new.after
            last.label, last.when = label, time.monotonic()
            statements.append(("UPDATE edit SET label = ?, at = ? WHERE seq = ?", (label, _now(), last.seq)))
            statements += [
                ("UPDATE change SET after = ? WHERE seq = ? AND n = ?", (c.after, last.seq, n))
                for n, c in enumerate(last.changes)
            ]
        else:
            if any(e.undone for e in self._edits):
                statements.append(("UPDATE edit SET state = 'left' WHERE state = 'undone'", ()))
                self._edits = [e for e in self._edits if not e.undone]
            edit = _Edit(self._next, label, changes, merge=merge)
            self._next += 1
            self._edits.append(edit)
            statements.append(("INSERT INTO edit VALUES (?, ?, ?, 'done')", (edit.seq, _now(), label)))
            statements += [
                ("INSERT INTO change VALUES (?, ?, ?, ?, ?, ?)", (edit.seq, n, c.kind, c.id, c.before, c.after))
                for n, c in enumerate(changes)
            ]
        self._apply([(c.kind, c.id, c.after) for c in changes], statements)

    @property
    def undo_label(self) -> str:
        """What undo would take back; empty for nothing."""
        return next((e.label for e in reversed(self._edits) if not e.undone), "")

    @property
    def redo_label(self) -> str:
        return next((e.label for e in self._edits if e.undone), "")

    def undo(self) -> str:
        """Take back the newest edit and return its label; empty when there is none."""
        edit = next((e for e in reversed(self._edits) if not e.undone), None)
        if edit is None or self.read_only:
            return ""
        edit.undone, edit.merge = True, ""
        self._apply(
            [(c.kind, c.id, c.before) for c in reversed(edit.changes)],
            [("UPDATE edit SET state = 'undone' WHERE seq = ?", (edit.seq,))],
        )
        return edit.label

    def redo(self) -> str:
        """Do the newest undone edit again and return its label."""
        edit = next((e for e in self._edits if e.undone), None)
        if edit is None or self.read_only:
            return ""
        edit.undone = False
        self._apply(
            [(c.kind, c.id, c.after) for c in edit.changes], [("UPDATE edit SET state = 'done' WHERE seq = ?", (edit.seq,))]
        )
        return edit.label

    def _apply(self, bodies: Iterable[tuple[str, str, str | None]], statements: list[_Statement]) -> None:
        for kind, id_, body in bodies:
            if kind not in WORK_KINDS:
                self._shop = None
            statements.append(("DELETE FROM search WHERE kind = ? AND id = ?", (kind, id_)))
            if body is None:
                self._items.pop((kind, id_), None)
                statements.append(("DELETE FROM item WHERE kind = ? AND id = ?", (kind, id_)))
            else:
                document = from_json(kind, body)
                self._items[(kind, id_)] = document
                statements.append(
                    (
                        (
                            "INSERT INTO item VALUES (?, ?, ?, ?) ON CONFLICT (kind, id) DO UPDATE SET body = excluded.body,"
                            " changed = excluded.changed"
                        ),
                        (kind, id_, body, _now()),
                    )
                )
                statements.append(("INSERT INTO search VALUES (?, ?, ?)", (kind, id_, words_of(document))))
        self._pending.append(statements)
        self.flush()
        for call in list(self.changed):
            call()

    def flush(self) -> bool:
        """Write what waits. False, with `unsaved_reason` saying why, when the file cannot take it; the edits stay in memory."""
        while self._pending:
            try:
                if _inode(self.path) != self._inode:
                    raise OSError("the file or its folder is gone")
                self._connection.execute("BEGIN IMMEDIATE")
                try:
                    for sql, values in self._pending[0]:
                        self._connection.execute(sql, values)
                    self._connection.execute("COMMIT")
                except BaseException:
                    with contextlib.suppress(sqlite3.Error):
                        self._connection.execute("ROLLBACK")
                    raise
            except (OSError, sqlite3.Error) as error:
                count = len(self._pending)
                self.unsaved_reason = (
                    f"{count} edit{'s are' if count > 1 else ' is'} not in the file yet: {error}. Keep this window open, make"
                    " room or bring the folder back; it is tried again by itself"
                )
                return False
            self._pending.pop(0)
        self.unsaved_reason = ""
        return True

    def integrity(self) -> str:
        """ "ok", or what SQLite and the documents complain of."""
        (found,) = self._connection.execute("PRAGMA integrity_check(1)").fetchone()
        if found != "ok":
            return str(found)
        for kind, id_, body in self._connection.execute("SELECT kind, id, body FROM item"):
            try:
                from_json(kind, body)
            except ShopError as error:
                return f"{kind} {id_}: {error.what}"
        return "ok"


def _inode(path: Path) -> int:
    try:
        return path.stat().st_ino
    except OSError:
        return -1


def _now() -> str:
    return time.strftime("%Y-%m-%dT%H:%M:%S")


def _migrate(connection: sqlite3.Connection, path: Path) -> None:
    """Lift an older book to today's format in one transaction; a copy of it is made before.

    Raises:
        BookProblem: The copy cannot be made, so nothing was changed.
    """
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    if version >= SCHEMA_VERSION:
        return
    tag = f"before format {SCHEMA_VERSION}"
    if backup.make(connection, path, tag) is None and not backup.path_of(path, tag).exists():
        raise BookProblem(
            "older",
            path,
            f"it is in format {version}, and no copy of it can be made beside it",
            "The disk is full or the folder cannot be written; Elbrix lifts no book to a newer format without a copy",
            "Make room and open it again. Nothing was changed in it",
            ("other",),
        )
    connection.execute("BEGIN IMMEDIATE")
    try:
        _lift_items(connection, version)
        _lift_history(connection, version)
        connection.execute("UPDATE setting SET key = 'layout' WHERE key = 'hold'")
        connection.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
        connection.execute("COMMIT")
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")  # so that the header can be read without the log


def _lift_items(connection: sqlite3.Connection, version: int) -> None:
    rows = connection.execute("SELECT kind, id, body, changed FROM item").fetchall()
    connection.execute("DELETE FROM item")
    connection.execute("DELETE FROM search")
    for old_kind, id_, old_body, changed in rows:
        kind, body = lift_body(old_kind, old_body, version)
        connection.execute("INSERT INTO item VALUES (?, ?, ?, ?)", (kind, id_, body, changed))
        connection.execute("INSERT INTO search VALUES (?, ?, ?)", (kind, id_, words_of(from_json(kind, body))))


def _lift_history(connection: sqlite3.Connection, version: int) -> None:
    for seq, n, kind, before, after in connection.execute("SELECT seq, n, kind, before, after FROM change").fetchall():
        bodies = [None if b is None else lift_body(kind, b, version)[1] for b in (before, after)]
        connection.execute(
            "UPDATE change SET kind = ?, before = ?, after = ? WHERE seq = ? AND n = ?",
            (lift_kind(kind, version), *bodies, seq, n),
        )
