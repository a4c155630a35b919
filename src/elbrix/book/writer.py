"""Who writes a book: two locks, and the mark by which a write-ahead log is known to belong to the file it lies beside."""

from __future__ import annotations

import contextlib
import fcntl
import os
import sqlite3
import time
from pathlib import Path
from typing import Final

#: Setting of a book that says which window wrote it last.
MARK: Final = "written by"
_LONGEST_RECORD: Final = 500


def log_of(path: Path) -> Path:
    """SQLite's write-ahead log of a book."""
    return path.with_name(path.name + "-wal")


def _index_of(path: Path) -> Path:
    return path.with_name(path.name + "-shm")


def mark_in(path: Path) -> str | None:
    """The mark in the file itself, whatever a log beside it says; None where it cannot be read."""
    try:
        connection = sqlite3.connect(f"{path.resolve().as_uri()}?immutable=1", uri=True)
        with contextlib.closing(connection):
            row = connection.execute("SELECT value FROM setting WHERE key = ?", (MARK,)).fetchone()
    except sqlite3.Error:
        return None
    return str(row[0]) if row else ""


class WriterLock:
    """Held by the one window that writes; the second opener does not get it.

    One lock is on a small file beside the book and holds though the book is replaced; the other is on the book itself and holds
    under every name the file has. The small file also keeps the marks of the last writer.
    """

    def __init__(self, path: Path) -> None:
        self.path = path.with_name(f".{path.name}.lock")
        self.book = path
        self._file: int | None = None
        self._book_file: int | None = None
        self._stat: tuple[int, int] | None = None
        self._mark = ""

    def take(self) -> bool:
        """True when nobody else writes. The system lets go of it when the process ends, however it ends."""
        self._file = _locked(self.path, os.O_CREAT | os.O_RDWR | os.O_NOFOLLOW)
        if self._file is None:
            return False
        self._book_file = _locked(self.book, os.O_RDWR)
        if self._book_file is None:
            self.release()
            return False
        return True

    def release(self) -> None:
        for file in (self._book_file, self._file):
            if file is not None:
                os.close(file)
        self._file = self._book_file = None

    # --- the log beside it -------------------------------------------------------------------------------------------

    def put_foreign_log_aside(self) -> str:
        """Move a log away that was written for another file of this name: replayed over this one it would damage it.

        Returns:
            What was done, in words; empty for nothing.
        """
        log = log_of(self.book)
        if not log.exists() or log.stat().st_size == 0:
            return ""
        known = self._read_record()
        if not (known and mark_in(self.book) not in known):
            return ""
        aside = set_aside(self.book)
        return (
            f"Another copy of this book was put here while edits of the one before waited in its log; the log was kept as"
            f" “{aside.name}”"
        )

    def claim(self, connection: sqlite3.Connection) -> None:
        """Mark the book as written by this window; from now on only a log with this mark is its own."""
        old = mark_in(self.book) or ""
        self._mark = os.urandom(8).hex()
        self._write_record(old, self._mark)  # both, until the file itself has the new one
        connection.execute(
            "INSERT INTO setting VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value", (MARK, self._mark)
        )
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        if mark_in(self.book) == self._mark:
            self._write_record(self._mark)
        self.wrote()

    def _read_record(self) -> list[str]:
        if self._file is None:
            return []
        return os.pread(self._file, _LONGEST_RECORD, 0).decode("ascii", "replace").split("\n")[1:]

    def _write_record(self, *marks: str) -> None:
        if self._file is not None:
            text = "\n".join(("elbrix", *marks)).encode()
            os.pwrite(self._file, text, 0)
            os.ftruncate(self._file, len(text))
            os.fsync(self._file)

    # --- the file itself ---------------------------------------------------------------------------------------------

    def wrote(self) -> None:
        """Note how the file stands after a write of our own."""
        with contextlib.suppress(OSError):
            found = self.book.stat()
            self._stat = found.st_size, found.st_mtime_ns

    def trouble(self) -> str:
        """Why the book must not be written to now; empty when it is ours as before."""
        if self._book_file is None:
            return "the book is closed"
        try:
            there, ours = self.book.stat(), os.fstat(self._book_file)
        except OSError:
            return "the file or its folder is gone"
        if (there.st_ino, there.st_dev) != (ours.st_ino, ours.st_dev):
            return "another file lies there now"
        if self._stat is not None and (there.st_size, there.st_mtime_ns) != self._stat:
            if mark_in(self.book) != self._mark:
                return "another file was copied over it"
            self._stat = there.st_size, there.st_mtime_ns
        return ""

    @property
    def copied_over(self) -> bool:
        """Whether other content lies in the very file that is open."""
        return self.trouble() == "another file was copied over it"


def _locked(path: Path, how: int) -> int | None:
    try:
        file = os.open(path, how, 0o644)
    except OSError:
        return None
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(file)
        return None
    return file


def set_aside(path: Path) -> Path:
    """Move a book's log and its index away, under a name that says when."""
    log = log_of(path)
    aside = path.with_name(f"{path.name}-log set aside {time.strftime('%Y-%m-%d %H.%M.%S')}")
    log.replace(aside)
    _index_of(path).unlink(missing_ok=True)
    return aside


def close_over(connection: sqlite3.Connection, path: Path) -> None:
    """Close a book whose file was overwritten in place: nothing of the log may reach what lies there now.

    SQLite copies its log into the file as it closes; here it finds the log empty, gives up, and the new content stays. A copy of
    the log is kept.
    """
    import shutil  # seldom wanted, and never at a start

    log = log_of(path)
    with contextlib.suppress(OSError):
        if log.stat().st_size:
            shutil.copyfile(log, path.with_name(f"{path.name}-log set aside {time.strftime('%Y-%m-%d %H.%M.%S')}"))
            os.truncate(log, 0)
    with contextlib.suppress(sqlite3.Error):
        connection.close()
    with contextlib.suppress(OSError):
        log.unlink(missing_ok=True)
        _index_of(path).unlink(missing_ok=True)
