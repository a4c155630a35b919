"""A book looked over beside the window: the day's copy, and what cannot be read."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from pathlib import Path

from pytestqt.qtbot import QtBot

from elbrix.app.window import Window
from elbrix.book import backup
from elbrix.book.documents import AngleDoc, DesignDoc
from elbrix.book.store import Book
from elbrix.demo import write_demo


def test_copy_and_notice_follow_when_the_window_was_seen(
    qtbot: QtBot, tmp_path: Path, open_window: Callable[[Book], Window]
) -> None:
    path = tmp_path / "shop.elbrix"
    book = write_demo(path)
    damaged = book.ids(AngleDoc)[0]
    book.close()
    for copy in backup.folder_of(path).glob("*"):
        copy.unlink()
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE item SET body = 'x' WHERE kind = 'angle' AND id = ?", (damaged,))
    window = open_window(Book.open(path, later=True))
    assert not window.notice.isVisible() and backup.newest(path) is None
    window.looking.start()
    qtbot.waitUntil(lambda: not window.looking.busy, timeout=20_000)
    assert window.notice.isVisible() and damaged in window.notice.text()
    copy = backup.newest(path)
    assert copy is not None
    window.session.put("after", DesignDoc(id="after", family="t_nut", title="After"))  # the writer was not held up
    assert not window.session.book.unsaved_reason
    there = Book.look(copy)
    assert there.get(DesignDoc, "t-nut-hazel") is not None and len(there.unreadable) == 1  # as it is in the book
    there.close()
