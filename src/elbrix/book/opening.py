"""Looks at a file before it is opened, without writing to it, and says what it is."""

from __future__ import annotations

import fcntl
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
    trouble = _quick_check(path)
    if trouble:
        raise BookProblem(
            "damaged",
            path,
            f"it is damaged ({trouble})",
            "A disk fault, or a copy that was cut short",
            "Nothing was changed in it. Open the newest backup, or choose another book",
            ("backup", "other", "new"),
        )


def _quick_check(path: Path) -> str:
    mode = "mode=ro" if os.access(path.parent, os.W_OK) else "immutable=1"
    try:
        connection = sqlite3.connect(f"{path.resolve().as_uri()}?{mode}", uri=True)
        try:
            (found,) = connection.execute("PRAGMA quick_check(1)").fetchone()
            connection.execute("SELECT count(*) FROM item").fetchone()
        finally:
            connection.close()
    except sqlite3.DatabaseError as error:
        return str(error)
    return "" if found == "ok" else str(found).splitlines()[-1][:80]


class WriterLock:
    """Held by the one window that writes; the second opener does not get it."""

    def __init__(self, path: Path) -> None:
        self.path = path.with_name(f".{path.name}.lock")
        self._file: int | None = None

    def take(self) -> bool:
        """True when nobody else writes. The system lets go of it when the process ends, however it ends."""
        try:
            file = os.open(self.path, os.O_CREAT | os.O_RDWR, 0o644)
        except OSError:
            return False
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(file)
            return False
        self._file = file
        return True

    def release(self) -> None:
        if self._file is not None:
            os.close(self._file)
            self._file = None
