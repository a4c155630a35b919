"""Rotating copies of a book beside it."""

from __future__ import annotations

import contextlib
import sqlite3
from datetime import date
from pathlib import Path
from typing import Final

from elbrix.book.writer import MARK

KEEP_DAILY: Final = 14


def folder_of(book: Path) -> Path:
    """Where the copies of a book live."""
    return book.with_name(f"{book.stem} backups")


def path_of(book: Path, tag: str) -> Path:
    """Where the copy with a tag lies."""
    return folder_of(book) / f"{book.stem} {tag}.elbrix"


def make(connection: sqlite3.Connection, book: Path, tag: str) -> Path | None:
    """Copy the open book; None when it is there already or cannot be written (a full disk must not stop the work)."""
    target = path_of(book, tag)
    if target.exists():
        return None
    try:
        target.parent.mkdir(exist_ok=True)
        part = target.with_suffix(".part")
        part.unlink(missing_ok=True)
        connection.execute("VACUUM INTO ?", (str(part),))
        with contextlib.closing(sqlite3.connect(part)) as copy, copy:
            # A copy is a file of its own: a log that belongs to the book does not belong to it.
            copy.execute("DELETE FROM setting WHERE key = ?", (MARK,))
        part.replace(target)
    except (OSError, sqlite3.Error):
        with contextlib.suppress(OSError):
            target.with_suffix(".part").unlink(missing_ok=True)
        return None
    return target


def daily(connection: sqlite3.Connection, book: Path, today: date) -> Path | None:
    """One copy a day, the newest fourteen kept."""
    made = make(connection, book, today.isoformat())
    # By when they were written, not by their names: a clock that was wrong for a day must not push out today's.
    copies = sorted(folder_of(book).glob(f"{book.stem} [0-9]*.elbrix"), key=_written)
    for old in [c for c in copies if c != made][: max(0, len(copies) - KEEP_DAILY)]:
        with contextlib.suppress(OSError):
            old.unlink()
    return made


def _written(path: Path) -> int:
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return 0


def newest(book: Path) -> Path | None:
    """The newest copy of a book, if any."""
    copies = sorted(folder_of(book).glob("*.elbrix"), key=_written)
    return copies[-1] if copies else None
