"""A card that changes keeps the sections that do not: their widgets, what is typed in them, and the focus."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from elbrix.app.card.card import Card
from elbrix.app.card.legend import Legend
from elbrix.app.theme.palette import DIM
from elbrix.presenters.card import Button, CardView, Row, Section


def rows(*keys: str) -> tuple[Row, ...]:
    return tuple(
        Row(key=k, label=k.capitalize(), value="1.00", unit="mm", origin="chosen", edit="text", entry_text="1") for k in keys
    )


NUT = Section(title="Nut", rows=rows("neck", "head"))
STUD = Section(title="Stud", rows=rows("thread"), buttons=(Button(key="more", text="More"),))
DIAL = Section(title="Dial", rows=rows("far", "near"))


@pytest.fixture
def card(qtbot: QtBot) -> Card:
    found = Card()
    qtbot.addWidget(found)
    found.resize(360, 600)
    found.show_view(CardView(sections=(NUT, STUD), buttons=(Button(key="go", text="Go", main=True),)))
    found.show()
    QApplication.processEvents()
    return found


def gone(card: Card) -> None:
    QApplication.processEvents()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def order(card: Card) -> list[str]:
    """Rows from the top as they are seen."""
    at = {key: row.mapTo(card, row.rect().topLeft()).y() for key, row in card.rows.items()}
    assert len(set(at.values())) == len(at)
    return sorted(at, key=lambda k: at[k])


def test_what_stays_is_the_same_widget_and_what_comes_stands_where_it_belongs(card: Card) -> None:
    before = dict(card.rows)
    card.show_view(CardView(sections=(DIAL, NUT, STUD), buttons=(Button(key="go", text="Go", main=True),)))
    gone(card)
    # With another number before its title a section is another one; what has the same number and rows is the same.
    assert order(card) == ["far", "near", "neck", "head", "thread"]
    card.show_view(CardView(sections=(DIAL, NUT, STUD, Section(title="Last", rows=rows("last")))))
    gone(card)
    kept = dict(card.rows)
    assert order(card)[-1] == "last"
    card.show_view(CardView(sections=(DIAL, NUT)))
    gone(card)
    assert card.rows["neck"] is kept["neck"] and card.rows["far"] is kept["far"]
    assert order(card) == ["far", "near", "neck", "head"] and "thread" not in card.rows
    assert before["neck"] is not kept["neck"]


def test_typing_goes_on_while_another_section_comes(card: Card, qtbot: QtBot) -> None:
    row = card.rows["neck"]
    row.activate()
    assert row.editor is not None
    row.editor.setText("33")
    editor = row.editor
    card.show_view(CardView(sections=(NUT, STUD, DIAL)))
    gone(card)
    assert card.rows["neck"] is row and row.editor is editor and editor.text() == "33"
    heard: list[tuple[str, str]] = []
    card.typed.connect(lambda key, text: heard.append((key, text)))
    QTest.keyClicks(editor, "5")
    assert heard == [("neck", "335")] or heard[-1][0] == "neck"


def test_every_row_is_heard_once_however_often_the_card_changed(card: Card) -> None:
    heard: list[str] = []
    card.pressed.connect(heard.append)
    for _ in range(4):
        card.show_view(CardView(sections=(NUT, STUD, DIAL)))
        card.show_view(CardView(sections=(NUT, STUD)))
    gone(card)
    card.button("more").click()
    assert heard == ["more"]
    picked: list[str] = []
    card.accepted.connect(picked.append)
    row = card.rows["neck"]
    row.activate()
    row.finish()
    assert picked == ["neck"]


def test_sections_alike_are_two_and_none_is_left_over(card: Card) -> None:
    twins = (Section(title="", text="one"), Section(title="", text="two"), NUT)
    card.show_view(CardView(sections=twins))
    gone(card)
    assert [t.text() for t in card._texts] == ["one", "two", ""]
    card.show_view(CardView(sections=(twins[1], twins[0])))
    gone(card)
    assert [t.text() for t in card._texts] == ["two", "one"]
    assert len(card._parts) == 2 and not card.rows
    assert not [b for b in card.findChildren(QPushButton) if b.isVisible()]
    card.show_view(CardView(sections=(NUT,)))
    gone(card)
    assert len(card.findChildren(Legend)) == 1


def test_another_palette_is_taken_by_the_rows_that_are_there(card: Card) -> None:
    before, seen = dict(card.rows), card.grab().toImage()
    card.set_palette(DIM)
    card.show_view(CardView(sections=(NUT, STUD)))
    gone(card)
    assert all(card.rows[k] is before[k] for k in before) and order(card) == ["neck", "head", "thread"]
    assert {row._palette for row in card.rows.values()} == {DIM}
    assert card.grab().toImage() != seen


def test_the_focus_stays_on_the_card_when_its_row_goes(card: Card, qtbot: QtBot) -> None:
    card.activateWindow()
    card.rows["thread"].setFocus()
    QApplication.processEvents()
    had = card.rows["thread"].hasFocus()
    card.show_view(CardView(sections=(NUT, DIAL)))
    gone(card)
    focused = QApplication.focusWidget()
    assert not had or (focused is not None and card.isAncestorOf(focused))
