"""A book of one's own: the steps of the first hour follow what is done, lead to their benches, and go."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from elbrix.app.window import Window
from elbrix.book.designs import issue_revision
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.store import Book
from elbrix.presenters.first_hour import first_hour


def _done(window: Window) -> list[bool]:
    return [step.done for step in first_hour(window.session.book)]


def test_the_demo_shop_needs_no_first_hour(window: Window) -> None:
    assert not window.first_hour.isVisible() and first_hour(window.session.book) == ()


def test_steps_follow_what_is_done_until_the_last(empty_window: Window) -> None:
    window, book = empty_window, empty_window.session.book
    assert window.first_hour.isVisible() and _done(window) == [False] * 5
    window.bench.card.button("sample").click()
    assert _done(window) == [True, True, False, False, False]
    window.undo()  # the sample is gone as it came
    assert _done(window) == [False] * 5 and book.documents == []
    window.redo()
    window.session.pick_design("t-nut-sample")
    window.first_hour.steps[2].picked.emit(window.first_hour.steps[2].key)
    assert window.front == "make"
    window.bench.tick_and_next()  # type: ignore[attr-defined]
    assert _done(window)[2]
    doc = book.get(DesignDoc, "t-nut-sample")
    assert doc is not None and book.all(JobDoc)[0].done
    window.open_bench("design")
    window.session.put("Released", issue_revision(doc, book.shop, "first"))
    released = book.get(DesignDoc, "t-nut-sample")
    assert released is not None
    window.session.put("Stored", replace(released, location="Drawer 1"))
    assert first_hour(book) == () and not window.first_hour.isVisible()


def test_put_away_it_does_not_come_again(empty_window: Window) -> None:
    empty_window.first_hour.close_.click()
    assert not empty_window.first_hour.isVisible()
    empty_window.refresh()
    assert not empty_window.first_hour.isVisible()
    path = empty_window.session.book.path
    empty_window.session.book.flush()
    again = Book.open(path)
    assert first_hour(again) == ()
    again.close()


def test_a_hint_leaves_once_its_user_knows_it(window: Window) -> None:
    plate = window.bench.plate
    assert "Tab follows" in plate._foot and "Home fits" in plate._foot
    plate.open_entry(plate.entries()[0].entry)
    for _ in range(7):
        QTest.keyClick(plate.editor, Qt.Key.Key_Tab)
    QTest.keyClick(plate.editor, Qt.Key.Key_Escape)
    window.refresh()
    assert "Tab follows" not in plate._foot and "Click a brass" not in plate._foot and "Home fits" in plate._foot
