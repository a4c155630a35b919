"""The tables of a book, and how an older book is lifted to them."""

from __future__ import annotations

import contextlib
import sqlite3
from pathlib import Path
from typing import Final

from elbrix.book import backup
from elbrix.book.documents import from_json, lift_body, words_of
from elbrix.book.formats import lift_kind
from elbrix.book.opening import APPLICATION_ID, SCHEMA_VERSION, BookProblem
from elbrix.quantities.errors import ShopError

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


def migrate(connection: sqlite3.Connection, path: Path) -> None:
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


#: The setting of a book that has been made quick.
_QUICKENED: Final = "quick"


def search_row(kind: str, id: str) -> int:
    """The row of a thing in the word search: known without looking, so that no edit walks through all of them."""
    import hashlib  # it brings a cipher library along, which no start needs

    return int.from_bytes(hashlib.blake2b(f"{kind}\x00{id}".encode("utf-8", "surrogatepass"), digest_size=8).digest()) >> 1


def quicken(connection: sqlite3.Connection) -> None:
    """What a book of many things is quick by: older ones get it when they are first opened to write. No room is no fault."""
    try:
        if connection.execute("SELECT 1 FROM setting WHERE key = ?", (_QUICKENED,)).fetchone():
            return
        connection.execute("BEGIN IMMEDIATE")
        connection.execute("CREATE INDEX IF NOT EXISTS change_of ON change (kind, id, seq)")
        first = connection.execute("SELECT rowid, kind, id FROM search LIMIT 1").fetchone()
        if first is not None and first[0] != search_row(first[1], first[2]):
            rows = connection.execute("SELECT kind, id, words FROM search").fetchall()
            connection.execute("DELETE FROM search")
            connection.executemany(
                "INSERT OR REPLACE INTO search (rowid, kind, id, words) VALUES (?, ?, ?, ?)",
                [(search_row(kind, id_), kind, id_, words) for kind, id_, words in rows],
            )
        connection.execute("INSERT OR REPLACE INTO setting VALUES (?, '1')", (_QUICKENED,))
        connection.execute("COMMIT")
    except sqlite3.Error:
        with contextlib.suppress(sqlite3.Error):
            connection.execute("ROLLBACK")


def _lift_items(connection: sqlite3.Connection, version: int) -> None:
    rows = connection.execute("SELECT kind, id, body, changed FROM item").fetchall()
    connection.execute("DELETE FROM item")
    connection.execute("DELETE FROM search")
    for old_kind, id_, old_body, changed in rows:
        kind, body, words = old_kind, old_body, ""
        with contextlib.suppress(ShopError):  # what cannot be read stays as it is, and is said when the book is read
            kind, body = lift_body(old_kind, old_body, version)
            words = words_of(from_json(kind, body))
        connection.execute("INSERT INTO item VALUES (?, ?, ?, ?)", (kind, id_, body, changed))
        row = (search_row(kind, id_), kind, id_, words)
        connection.execute("INSERT INTO search (rowid, kind, id, words) VALUES (?, ?, ?, ?)", row)


def _lift_history(connection: sqlite3.Connection, version: int) -> None:
    for seq, n, kind, before, after in connection.execute("SELECT seq, n, kind, before, after FROM change").fetchall():
        try:
            bodies = [None if b is None else lift_body(kind, b, version)[1] for b in (before, after)]
        except ShopError:
            continue  # it cannot be undone any more; the items are not touched by it
        connection.execute(
            "UPDATE change SET kind = ?, before = ?, after = ? WHERE seq = ? AND n = ?",
            (lift_kind(kind, version), *bodies, seq, n),
        )
