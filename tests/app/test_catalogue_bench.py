"""Catalogue: what fits what by keyboard, revisions opened and brought back, what was cut written back."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.window import Window
from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc


@pytest.fixture
def catalogue(window: Window) -> CatalogueBench:
    window.open_bench("catalogue")
    bench = window.bench
    assert isinstance(bench, CatalogueBench)
    return bench


def test_fits_are_walked_with_the_arrows_and_explained(catalogue: CatalogueBench, window: Window, qtbot: QtBot) -> None:
    QTest.mouseClick(catalogue.drawers.sides["fits"], Qt.MouseButton.LeftButton)
    matrix = catalogue.drawers.matrix
    qtbot.waitUntil(lambda: len(matrix.rows) > 12 and not catalogue.catching_up)
    names = [r.design for r in matrix.rows]
    row, column = names.index("t-nut-pip"), matrix.places.index(("Pip", "front slot"))
    matrix.setFocus()
    for _ in range(row):
        QTest.keyClick(matrix, Qt.Key.Key_Down)
    for _ in range(column):
        QTest.keyClick(matrix, Qt.Key.Key_Right)
    assert "Small T-nut for Pip in Pip, front slot: marginal" in matrix.accessibleDescription()
    QTest.keyClick(matrix, Qt.Key.Key_Return)
    assert window.session.design_id == "t-nut-pip"
    assert catalogue.why.isVisible()
    # The change makes a copy that goes; the item stays what it is.
    qtbot.waitUntil(lambda: not catalogue.catching_up)
    here = catalogue.why_of("Pip|front slot")
    assert here is not None
    assert here.fix
    elsewhere = catalogue.why_of("Hazel|rear slot")  # that change helps in no other place
    assert elsewhere is not None
    assert not elsewhere.fix
    before = window.session.book.get(DesignDoc, "t-nut-pip")
    catalogue.why.fix_pressed.emit(catalogue.why.key)
    copy = window.session.design
    assert copy is not None
    assert copy.id != "t-nut-pip"
    assert window.front == "design"
    assert window.session.book.get(DesignDoc, "t-nut-pip") == before


def test_a_revision_is_opened_compared_printed_and_brought_back(catalogue: CatalogueBench, window: Window) -> None:
    catalogue.card.picked.emit("rev A", "")
    assert catalogue.card.rows["was length"].row.value == "19.00 → 20.00"
    printed: list[str] = []
    window.session.print_wanted.disconnect()
    window.session.print_wanted.connect(lambda: printed.append(catalogue.pages_title()))
    catalogue.card.button("rev print").click()
    assert printed == ["Drawing, revision A"]
    assert catalogue.pages_title() == "Drawer label"
    catalogue.card.button("rev back").click()
    doc = window.session.design
    assert doc is not None
    assert solve_doc(doc, window.session.shop).values.number("length") == 19
    window.undo()
    doc = window.session.design
    assert doc is not None
    assert solve_doc(doc, window.session.shop).values.number("length") == 20
    window.session.pick_design("t-nut-pip")  # it has an A of its own, which nobody opened
    assert "rev back" not in catalogue.card._buttons
    window.session.pick_design("t-nut-hazel")
    catalogue.card.picked.emit("rev A", "")
    catalogue.card.button("rev close").click()
    assert "was length" not in catalogue.card.rows


def test_as_made_becomes_the_next_revision_in_one_step(catalogue: CatalogueBench, window: Window) -> None:
    catalogue.card.button("made revision").click()
    doc = window.session.design
    assert doc is not None
    assert doc.letter == "C"
    assert "neck" in doc.revisions[-1].reason
    window.undo()
    doc = window.session.design
    assert doc is not None
    assert doc.letter == "B"


def test_an_as_made_size_keeps_its_tool(catalogue: CatalogueBench, window: Window) -> None:
    catalogue.card.rows["made length"].open_editor()
    asked = catalogue.asking()
    assert asked is not None
    assert asked[1].low <= 20 <= asked[1].high


def test_a_lesson_is_tied_to_its_size_and_comes_up_with_it(catalogue: CatalogueBench, window: Window) -> None:
    row = catalogue.card.rows["lesson new"]
    row.open_editor()
    assert row.editor is not None
    QTest.keyClicks(row.editor, "nut neck width: it bound at the right end")
    assert window.session.design is not None
    assert window.session.design.lessons == ()  # not letter by letter
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    (lesson,) = window.session.design.lessons
    assert (lesson.about, lesson.text) == ("neck_width", "nut neck width: it bound at the right end")
    window.open_bench("design")
    assert "it bound at the right end" in window.bench.card.rows["neck_width"].row.derivation
    window.open_bench("make")
    presenter = window.bench.presenter  # type: ignore[attr-defined]
    told = [line.setup for line in presenter.lines() if any("it bound at the right end" in d for d in line.details)]
    assert told  # beside the moves that make the neck
    assert len(told) < len(presenter.lines())
    window.open_bench("catalogue")
    window.undo()
    assert window.session.design.lessons == ()


def test_a_lesson_is_changed_and_taken_away(catalogue: CatalogueBench, window: Window) -> None:
    for words in ("keep it dry", "second"):
        catalogue._keep("lesson new", words)
    catalogue._keep("lesson 0", "keep it oiled")
    catalogue._keep("lesson 1", " ")
    design = window.session.design
    assert design is not None
    assert [(entry.text, entry.about) for entry in design.lessons] == [("keep it oiled", "")]
    catalogue._keep("lesson new", "x" * 600)
    assert "characters" in catalogue.card.rows["lesson new"].error_text


def test_the_menu_has_the_items_and_their_paper(catalogue: CatalogueBench, window: Window) -> None:
    words = [a.text() for a in window.title_menu().actions() if a.text()]
    assert any(w.startswith("Print the catalogue") for w in words)
    assert {"Rename…", "Duplicate", "Export files…"} <= set(words)
