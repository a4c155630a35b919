"""The Ask field: typed, answered, opened on its bench."""

from __future__ import annotations

import time
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from elbrix.answers.topics import all_topics
from elbrix.app.asking import needs
from elbrix.app.benches.angles.view import AnglesBench
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, LayoutDoc


def asked(window: Window, text: str) -> None:
    window.ask.open()
    window.ask.clear()
    QTest.keyClicks(window.ask, text)
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    settled(window)


def settled(window: Window) -> None:
    """Until what is answered beside the window is there."""
    end = time.monotonic() + 20
    while window.ask.busy and time.monotonic() < end:
        QTest.qWait(10)


def test_f4_types_answers_and_goes_on(window: Window, qtbot: QtBot) -> None:
    window.activateWindow()
    QTest.keyClick(window, Qt.Key.Key_F4)
    assert window.ask.hasFocus() and window.ask.panel.isVisible()
    assert "try tap drill M10" in window.ask.panel.card.rows
    QTest.keyClicks(window.ask, "sine 53d14m on 100 to 2'")
    qtbot.waitUntil(lambda: window.ask.panel.result.text() == "80.1080 mm", timeout=3000)  # while typing, without Enter
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    bench = window.benches["angles"]
    assert window.front == "angles" and isinstance(bench, AnglesBench) and not window.ask.panel.isVisible()
    assert bench.presenter is not None and bench.presenter.stack_text() == "70 8 1.1 1.008"
    assert bench.presenter.doc.chosen["angle"].text == "53°14'00\""
    window.undo()  # an edit like any other
    assert all(d.title != "53°14'00\" on a sine plate" for d in window.session.book.all(AngleDoc))


def test_the_working_opens_on_the_card(window: Window) -> None:
    asked(window, "tap drill M10")
    row = window.ask.panel.card.rows["percent"]
    row.activate()
    assert row.working_open and "2·0.649519·1.5" in row.row.derivation
    assert window.ask.panel.card.rows["tap_drill"].row.value == "8.50"


def test_inches_on_the_card_and_in_the_question(window: Window, qtbot: QtBot) -> None:
    window.session.set_unit("in")
    asked(window, "drill near 0.25")
    assert window.ask.panel.title.text() == "Drills near 0.2500 inches" and window.ask.panel.result.text() == "0.2500 in"
    window.session.set_unit("mm")
    qtbot.waitUntil(lambda: window.ask.panel.result.text() != "0.2500 in")  # an open answer follows the switch


def test_what_is_not_understood_suggests_what_is(window: Window) -> None:
    asked(window, "stack 12,5")
    card = window.ask.panel.card
    assert "Write the decimal with a point" in card._texts[0].text() and window.ask.text() == "stack 12,5"
    tries = [k for k in card.rows if k.startswith("try ")]
    card.rows[tries[0]].activate()
    settled(window)
    assert window.ask.text() == tries[0][4:] and window.ask.panel.result.text()


def test_half_typed_keeps_the_last_answer(window: Window, qtbot: QtBot) -> None:
    asked(window, "tap drill M10")
    QTest.keyClicks(window.ask, "x")
    qtbot.wait(300)
    assert window.ask.panel.title.text() == "Tap drill for M10 × 1.5"
    QTest.keyClicks(window.ask, "9")
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    assert "not in the table" in window.ask.panel.card._texts[0].text()


def test_escape_and_a_click_elsewhere_close_it(window: Window) -> None:
    asked(window, "tap drill M10")
    QTest.keyClick(window.ask, Qt.Key.Key_Escape)
    assert not window.ask.panel.isVisible() and not window.ask.hasFocus()
    window.ask.open()
    assert window.ask.panel.isVisible() and window.ask.selectedText() == "tap drill M10"
    QTest.keyClick(window.ask, Qt.Key.Key_Down)
    assert window.ask.panel.isAncestorOf(QApplication.focusWidget())
    window.bench.plate.setFocus()
    assert not window.ask.panel.isVisible()


@pytest.mark.parametrize(
    ("text", "front"),
    [
        ("tap drill M10", "shop"),
        ("where are the 12 mm nuts", "catalogue"),
        ("8 holes on 200", "angles"),
        ("hold round 180", "hold"),
        ("stack 41.7265", "angles"),
    ],
)
def test_each_answer_opens_its_bench(window: Window, text: str, front: str) -> None:
    asked(window, text)
    window.ask.panel.card.button("go").click()
    assert window.front == front
    if text.startswith("tap"):
        assert window.bench.title()[0] == "Cutters"


def test_the_panel_stays_inside_the_window(window: Window) -> None:
    for size in ((980, 640), (1280, 800), (1920, 1080)):
        window.resize(*size)
        QApplication.processEvents()
        for topic in all_topics():
            asked(window, topic.examples[0])
            panel, page = window.ask.panel, window.ask.panel.parentWidget()
            assert page is not None and page.rect().contains(panel.geometry()), (size, topic.key)


def test_a_need_is_met_beside_the_window_and_opens_in_hold(window: Window, qtbot: QtBot) -> None:
    asked(window, "hold block 100 x 60 x 30 on Hazel, top clear")
    qtbot.waitUntil(lambda: window.ask.answer is not None, timeout=20_000)
    shown = " ".join(row.row.value for row in window.ask.panel.card.rows.values())
    assert "vise: holds by" in shown and "Looking" not in window.ask.panel.title.text()
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    assert window.front == "hold"
    layout = window.session.in_hand(LayoutDoc)
    assert layout is not None and layout.chosen["length"].text == "100" and layout.elements[0].kind == "vise"


def test_what_is_known_stands_there_before_the_proofs(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Of a large book a process of its own finds out beforehand what the designs can do."""
    monkeypatch.setattr(needs, "_FEW", 0)
    monkeypatch.setattr(needs, "_QUIET_MS", 0)
    monkeypatch.setattr(needs, "cache_folder", lambda: tmp_path)
    asking = window.ask.needs
    assert asking.waiting() > 2
    asked(window, "M10 stud in a 12 slot")
    assert any("being worked out" in label.text() for label in window.ask.panel.findChildren(QLabel))
    asking.keep_up()
    asking._quiet.start(0)
    qtbot.waitUntil(lambda: asking.waiting() == 0 and not asking.busy, timeout=60_000)
    assert list((tmp_path / "abilities").iterdir())
    window.ask.setText("")
    asked(window, "M10 nut in a 12 slot on Hazel")
    shown = [row.row.value for row in window.ask.panel.card.rows.values()]
    assert "Looking" in window.ask.panel.title.text() and shown and "Hazel rear slot" in shown[0]
    QTest.keyClick(window.ask, Qt.Key.Key_Return)  # nothing to go on to until it is proved
    assert window.front != "catalogue"
    qtbot.waitUntil(lambda: window.ask.answer is not None, timeout=20_000)
    assert shown == [row.row.value for row in window.ask.panel.card.rows.values()]
    asked(window, "hold block 100 x 60 x 30 on Hazel, top clear")
    tried = [row.row for row in window.ask.panel.card.rows.values() if "solved" in row.row.label]
    assert any("vise" in row.value for row in tried) and not any(row.origin for row in tried)


def test_what_nothing_meets_says_what_to_make(window: Window, qtbot: QtBot) -> None:
    asked(window, "M12 stud in an 18 slot")
    qtbot.waitUntil(lambda: window.ask.answer is not None, timeout=20_000)
    assert "Nothing in the shop" in window.ask.panel.title.text()
    assert any("T-nut M12" in row.row.value for row in window.ask.panel.card.rows.values())


@pytest.mark.parametrize("text", ["t-nut for 12-3", "t-nut for M80", "stud M801 in a 1/2 slot", "nut for a 1/2-3 stud"])
def test_a_need_of_what_no_table_has_is_refused_beside_the_question(window: Window, text: str) -> None:
    asked(window, text)
    assert "is not in the table" in window.ask.panel.card._texts[0].text() and window.ask.text() == text


def test_a_line_of_arithmetic_is_worked_out(window: Window) -> None:
    asked(window, '12.5 + 1/2"')
    assert window.ask.panel.result.text() == "25.2 mm"


def test_a_scanner_opens_the_item_with_its_one_enter(window: Window) -> None:
    """It types the code of the label and Enter, and nothing else."""
    window.ask.open()
    QTest.keyClicks(window.ask, "ELBRIX t-nut-pip A")
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    assert window.front == "catalogue"
    assert window.session.design_id == "t-nut-pip"
