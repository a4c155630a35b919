"""Make with its rehearsal: numbers as they were really set, the slip named on the plate, practice."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.window import Window
from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc, shop_of
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.presenters.make import hours
from elbrix.rehearsal.trainer import hide

WALL = "shoulder.far.finish2"


@pytest.fixture
def bench(window: Window, qtbot: QtBot) -> MakeBench:
    window.session.pick_design("t-nut-hazel")
    window.open_bench("make")
    found = window.benches["make"]
    assert isinstance(found, MakeBench)
    found.moves.picked.emit(WALL)
    heard(found, qtbot)
    return found


def heard(bench: MakeBench, qtbot: QtBot) -> None:
    """Until the rehearsal beside the window has answered."""
    qtbot.waitUntil(lambda: bench.presenter is not None and bench.presenter.heard is not None, timeout=20_000)


def tiles(bench: MakeBench) -> dict[str, str]:
    return {t.tile.key: t.tile.verdict for t in bench.strip.tiles if t.tile}


def key_in(bench: MakeBench, text: str, number: int = 0) -> None:
    entry = bench.moves.widgets[WALL].set_entries[number]
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, text)
    QTest.keyClick(entry, Qt.Key.Key_Return)
    QApplication.processEvents()


def test_a_good_card_says_so(bench: MakeBench) -> None:
    assert {k: v for k, v in tiles(bench).items() if k.startswith("rehearsed")} == {
        "rehearsed gouge": "go",
        "rehearsed left": "go",
        "rehearsed clear": "go",
    }
    assert "about 6 h" in bench.title()[1]  # six nuts, every one faced at both ends and tapped by hand


def test_a_number_set_wrong_is_named_and_its_metal_shown(bench: MakeBench, qtbot: QtBot) -> None:
    before = bench.plate.shown.scene
    key_in(bench, "5.85")
    heard(bench, qtbot)
    assert tiles(bench)["rehearsed slip"] == "no-go" and tiles(bench)["rehearsed gouge"] == "no-go"
    assert "half the cutter, 3 mm" in bench.plate.shown.footer
    gouged = [e for e in bench.plate.shown.scene.elements if getattr(e, "feature", "") == "gouged"]
    assert gouged and bench.plate.shown.scene != before
    why = bench.why_of("rehearsed gouge")
    assert why is not None and "cuts 3 mm into the neck" in why.reason
    # Kept as it happens, undone in one step, and gone when the entry is emptied.
    job = bench.session.book.get(JobDoc, "job-t-nut-hazel")
    assert job is not None and job.keyed == {f"{WALL}.Y": "5.85"}
    key_in(bench, "")
    entry = bench.moves.widgets[WALL].set_entries[0]
    entry.setText("")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    heard(bench, qtbot)
    assert "rehearsed slip" not in tiles(bench)


@pytest.mark.parametrize(("text", "says"), [("banana", "is no number"), ("900", "travels")])
def test_what_is_no_number_is_said_beside_it_and_nothing_is_lost(bench: MakeBench, text: str, says: str) -> None:
    key_in(bench, text)
    widget = bench.moves.widgets[WALL]
    assert says in widget.error_text
    job = bench.session.book.get(JobDoc, "job-t-nut-hazel")
    assert job is not None and job.keyed == {}


def test_what_was_keyed_is_there_after_a_start(bench: MakeBench, tmp_path: Path) -> None:
    key_in(bench, "8.90")
    again = Book.open(bench.session.book.path)
    job = again.get(JobDoc, "job-t-nut-hazel")
    again.close()
    assert job is not None and job.keyed == {f"{WALL}.Y": "8.90"}


def _practise(bench: MakeBench, qtbot: QtBot) -> None:
    bench.moves.practice_button.click()
    qtbot.waitUntil(lambda: bench.presenter is not None and bench.presenter.hidden is not None, timeout=20_000)
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=20_000)


def test_practice_hides_a_slip_and_tells_when_it_is_found(bench: MakeBench, window: Window, qtbot: QtBot) -> None:
    _practise(bench, qtbot)
    assert bench.presenter is not None and bench.presenter.hidden is not None
    hidden = bench.presenter.hidden
    assert bench.plate.shown.title.startswith("PRACTICE") and "wrong" in window.notice.text()
    assert bench.moves.practice_button.text() == "This one"
    line = next(x for x in bench.presenter.lines() if x.id == hidden.move)
    assert (hidden.axis, hidden.shown) in line.numbers and not any(" = " in d for d in line.details)
    other = next(x.id for x in bench.presenter.lines() if x.numbers and x.id != hidden.move)
    bench.moves.picked.emit(other)
    bench.moves.practice_button.click()
    assert "what the plan has" in window.notice.text() and bench.presenter.hidden is not None
    bench.moves.picked.emit(hidden.move)
    bench.moves.practice_button.click()
    assert "Found" in window.notice.text() and bench.presenter.hidden is None
    assert not bench.plate.shown.title.startswith("PRACTICE")


def test_a_practice_card_never_goes_to_the_machine(bench: MakeBench, window: Window, qtbot: QtBot) -> None:
    """Nor one into which a slip is just being put."""
    for leave in (bench.at_machine, lambda: window.open_bench("shop")):
        for wait in (True, False):
            window.open_bench("make")
            if wait:
                _practise(bench, qtbot)
            else:
                bench.moves.practice_button.click()
            leave()
            assert bench.presenter is not None and bench.presenter.hidden is None
            qtbot.wait(50)
            qtbot.waitUntil(lambda: not bench.catching_up, timeout=20_000)
            assert bench.presenter.hidden is None
            assert bench.moves.practice_button.text() == "Practice"
            bench.leave_machine()


def test_a_hidden_slip_is_one_that_harms() -> None:
    things = documents()
    shop = shop_of(things)
    for doc in (
        d for d in things if isinstance(d, DesignDoc) and d.id in ("t-nut-pip", "sine-plate", "pin-relieved", "stop-quill")
    ):
        plan = plan_doc(doc, solve_doc(doc, shop), shop)
        for seed in range(2):
            hidden = hide(plan, shop, seed)
            assert hidden is not None and hidden.harm and (seed or hidden == hide(plan, shop, seed))
            real = next(p for _, _, m in plan.moves if m.id == hidden.move for p in m.positions if p.axis == hidden.axis)
            assert hidden.shown != real.dial.text


@pytest.mark.parametrize(("minutes", "text"), [(3, "10 min"), (44, "40 min"), (61, "1 h"), (190, "3 h 10")])
def test_times_are_said_as_at_a_bench(minutes: float, text: str) -> None:
    assert hours(minutes) == text
