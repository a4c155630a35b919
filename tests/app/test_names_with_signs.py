"""A shop's own names with signs in them: shown as they are written, everywhere; nothing of them is a key, a page or a length."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app.benches.registry import all_benches
from elbrix.app.window import Window
from elbrix.app.words import menu_line, with_signs
from elbrix.book.documents import kind_of
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.instruments import bench as instrument_bench

from .conftest import Opener

#: A key's mark, a page, a length's mark round a number that is none, and signs of a path.
SIGNS = "Pin & <b>bush</b> \u20631.2.3\u2063 \u206325.4\u2063 %n {0}"
SHOWN = SIGNS.replace("\u2063", "")


def _renamed(thing: Any) -> Any:
    """A thing of the shop under a name with signs; a title that is worked out stays."""
    names = [f for f in ("name", "title", "label") if f in thing.__struct_fields__ and isinstance(getattr(thing, f), str)]
    noted = [f for f in ("notes", "location", "rack") if f in thing.__struct_fields__]
    return replace(thing, **{f: f"{getattr(thing, f)} {SIGNS}" for f in names}, **dict.fromkeys(noted, SIGNS))


@pytest.fixture(scope="module")
def signed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("signs") / "signs.elbrix"
    book = Book.create(path)
    book.put("signs", *(_renamed(d) for d in documents()))
    book.close()
    return path


@pytest.fixture(autouse=True)
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Sockets of a test stand apart."""
    monkeypatch.setenv(instrument_bench.FOLDER_VARIABLE, str(tmp_path / "i"))


@pytest.fixture
def window(signed: Path, open_window: Opener) -> Iterator[Window]:
    book = Book.open(signed)
    yield open_window(book)
    book.close()


def _menus(window: Window) -> Iterator[QMenu]:
    yield window.title_menu()
    yield window.instruments_menu()
    yield from window.findChildren(QMenu)


def _plain(text: str) -> bool:
    """Whether no lone & would be taken for the mark of a key."""
    return "&" not in text.replace("&&", "")


@pytest.mark.parametrize("bench", list(all_benches()))
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_every_bench_shows_them_as_words(window: Window, qtbot: QtBot, bench: str, unit: str) -> None:
    window.session.set_unit(unit)
    window.open_bench(bench)
    qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=60_000)
    QApplication.processEvents()
    window.grab()  # everything is painted once
    met = ""
    for button in window.findChildren(QAbstractButton):
        if isinstance(button, QPushButton):
            assert _plain(button.text()), button.text()
            met += button.text()
    for menu in _menus(window):
        for action in menu.actions():
            assert _plain(action.text()), action.text()
            met += action.text()
    for label in window.findChildren(QLabel):
        assert label.textFormat() == Qt.TextFormat.PlainText or not label.text(), label.text()
        met += label.text()
    for widget in window.findChildren(QWidget):
        tip = widget.toolTip()
        assert not Qt.mightBeRichText(tip) or tip.startswith("<qt>"), tip
        assert "<b>" not in tip, tip
    assert "<b>bush</b>" in met  # they were met
    for row in window.bench.card.rows.values():
        met += f"{row.row.label} {row.row.value}"
    assert "\u2063" not in met and "0.9999" not in met  # 25.4 of a name is no length


def test_marks_of_lengths_do_not_come_in_with_a_document(signed: Path) -> None:
    book = Book.open(signed)
    try:
        every = book.documents
        assert len(every) == len({(kind_of(d), d.id) for d in documents()})
        said = [str(getattr(d, f)) for d in every for f in ("name", "title", "notes", "rack") if hasattr(d, f)]
        assert sum(SHOWN in words for words in said) > 60
        assert not any("\u2063" in words for words in said)
    finally:
        book.close()


def test_a_line_of_a_menu_says_what_it_is_told_and_does_it(qtbot: QtBot) -> None:
    menu, done = QMenu(), []
    qtbot.addWidget(menu)
    action = menu_line(menu, "Pin & bush", lambda: done.append(1))
    assert isinstance(action, QAction) and action.text() == "Pin && bush" == with_signs("Pin & bush")
    action.trigger()
    assert done == [1] and menu.actions() == [action]
