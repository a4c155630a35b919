"""Looks at a file before it is opened, without writing to it, and says what it is."""

from __future__ import annotations

import contextlib
import os
import sqlite3
from pathlib import Path
from typing import Final

from elbrix.book.formats import FORMAT
from elbrix.quantities.errors import ShopError

APPLICATION_ID: Final = 0x454C4258  #: "ELBX" in the SQLite header
SCHEMA_VERSION: Final = FORMAT
_MAGIC: Final = b"SQLite format 3\0"


class BookProblem(ShopError):
    """A file that cannot be opened as it is; it was not written to."""

    def __init__(self, kind: str, path: Path, what: str, why: str, do: str, choices: tuple[str, ...]) -> None:
        super().__init__(path.name, what, why, do)
        self.args = (kind, path, what, why, do, choices)
        self.kind = kind  #: missing, foreign, newer, older, damaged
        self.path = path
        self.choices = choices  #: of "backup", "other", "new"


def inspect(path: Path) -> None:
    """Pass a healthy book of this or an older version; never writes.

    Raises:
        BookProblem: Anything else.
    """
    if not path.exists():
        raise BookProblem(
            "missing",
            path,
            "there is no such file",
            "It was moved, renamed or is on a disk that is not there",
            "Choose another book or start a new one",
            ("other", "new"),
        )
    try:
        with path.open("rb") as file:
            header = file.read(100)
    except OSError as error:
        raise BookProblem(
            "damaged",
            path,
            f"it cannot be read ({error.strerror})",
            "The disk or its permissions refuse",
            "Choose another book",
            ("other",),
        ) from None
    if len(header) < 100 or not header.startswith(_MAGIC) or int.from_bytes(header[68:72], "big") != APPLICATION_ID:
        kind = "damaged" if path.suffix == ".elbrix" and not header.startswith(_MAGIC) else "foreign"
        what = "this is no Elbrix book" if kind == "foreign" else "its beginning is not that of a book"
        raise BookProblem(
            kind,
            path,
            what,
            "It holds something else, or was cut short",
            "Nothing was changed in it. Open a backup or choose another book",
            ("backup", "other", "new"),
        )
    version = int.from_bytes(header[60:64], "big")
    if version > SCHEMA_VERSION:
        raise BookProblem(
            "newer",
            path,
            f"it was written by a newer Elbrix (format {version}, this one knows {SCHEMA_VERSION})",
            "An older version would lose what it does not know",
            "Install the newer Elbrix, or choose another book",
            ("other",),
        )
    trouble = _quick_check(path) if version >= 1 else "its format number is not there"
    if trouble:
        raise BookProblem(
            "damaged",
            path,
            f"it is damaged ({trouble})",
            "A disk fault, or a copy that was cut short",
            "Nothing was changed in it. Open the newest backup, or choose another book",
            ("backup", "other", "new"),
        )


#: Tables a book has, with the columns that are read and written.
_TABLES: Final = {
    "about": {"words"},
    "item": {"kind", "id", "body", "changed"},
    "edit": {"seq", "at", "label", "state"},
    "change": {"seq", "n", "kind", "id", "before", "after"},
    "setting": {"key", "value"},
    "search": {"kind", "id", "words"},
}


def read_only_uri(path: Path) -> str:
    """How SQLite opens a file without changing anything beside it."""
    return f"{path.resolve().as_uri()}?{'mode=ro' if os.access(path.parent, os.W_OK) else 'immutable=1'}"


def _quick_check(path: Path, uri: str = "") -> str:
    try:
        with contextlib.closing(sqlite3.connect(uri or read_only_uri(path), uri=True)) as connection:
            (found,) = connection.execute("PRAGMA quick_check(1)").fetchone()
            if found != "ok":
                return str(found).splitlines()[-1][:80]
            for table, columns in _TABLES.items():
                there = {row[1] for row in connection.execute(f"PRAGMA table_info({table})")}
                if not there:
                    return f"its table “{table}” is missing"
                if not columns <= there:
                    return f"its table “{table}” has no “{min(columns - there)}”"
            connection.execute("SELECT count(*) FROM item").fetchone()
    except (sqlite3.Error, UnicodeDecodeError) as error:
        return str(error)[:80]
    return ""


def healthy_without_log(path: Path) -> bool:
    """Whether the file alone is a good book."""
    return not _quick_check(path, f"{path.resolve().as_uri()}?immutable=1")
