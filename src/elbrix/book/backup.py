"""Rotating copies of a book beside it."""

from __future__ import annotations

import contextlib
import sqlite3
from datetime import date
from pathlib import Path
from typing import Final

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
        part.replace(target)
    except (OSError, sqlite3.Error):
        with contextlib.suppress(OSError):
            target.with_suffix(".part").unlink(missing_ok=True)
        return None
    return target


def daily(connection: sqlite3.Connection, book: Path, today: date) -> Path | None:
    """One copy a day, the newest fourteen kept."""
    made = make(connection, book, today.isoformat())
    copies = sorted(folder_of(book).glob(f"{book.stem} [0-9]*.elbrix"))
    for old in copies[:-KEEP_DAILY]:
        with contextlib.suppress(OSError):
            old.unlink()
    return made


def newest(book: Path) -> Path | None:
    """The newest copy of a book, if any."""
    copies = sorted(folder_of(book).glob("*.elbrix"), key=lambda p: p.stat().st_mtime)
    return copies[-1] if copies else None
