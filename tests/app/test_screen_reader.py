"""What a screen reader finds: everything that takes the focus has a name, a role, and says what pressing it does."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app.benches.registry import all_benches
from elbrix.app.pickable import Pickable
from elbrix.app.window import Window

BENCHES = ("shop", "design", "angles", "hold", "make", "inspect", "catalogue")


def in_focus_order(window: Window) -> list[QWidget]:
    """Everything that is seen and can have the focus."""
    every = [w for w in window.findChildren(QWidget) if w.isVisible() and w.focusPolicy() != Qt.FocusPolicy.NoFocus]
    return [w for w in every if w.isEnabled()]


def test_no_bench_is_forgotten() -> None:
    assert set(BENCHES) == set(all_benches())


@pytest.mark.parametrize("bench", BENCHES)
def test_what_takes_the_focus_has_a_name(window: Window, qtbot: QtBot, bench: str) -> None:
    window.open_bench(bench)
    qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=20_000)
    found = in_focus_order(window)
    assert len(found) > 20
    nameless = [w for w in found if not (w.accessibleName() or (isinstance(w, QAbstractButton) and w.text()))]
    assert not nameless, nameless
    names = [w.accessibleName() for w in found if w.accessibleName()]
    odd = [name for name in names if name != name.strip() or "_" in name]
    assert not odd


@pytest.mark.parametrize("bench", ["design", "angles", "hold", "shop"])
def test_the_plate_says_its_live_numbers_as_the_card_calls_them(window: Window, qtbot: QtBot, bench: str) -> None:
    window.open_bench(bench)
    qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=20_000)
    plate, card = window.bench.plate, window.bench.card
    plate.setFocus()
    QApplication.processEvents()
    told, entries = plate.accessibleDescription(), plate.entries()
    assert entries and told == plate.in_words()
    for dimension in entries:
        if dimension.entry in card.rows:
            row = card.rows[dimension.entry].row
            assert f"{row.label} {plate._shown.label(dimension)}" in told
    plate.open_entry(entries[0].entry)
    assert plate.editor.accessibleName() in told


def test_a_painted_thing_is_a_button_that_can_be_pressed(window: Window, qtbot: QtBot) -> None:
    """An assistive technology presses it without a mouse: the role's own action."""
    rail = window.rail.stops
    rail["hold"].click()
    assert window.front == "hold" and rail["hold"].isChecked() and not rail["design"].isChecked()
    window.open_bench("catalogue")
    qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=20_000)
    sides = window.bench.drawers.sides  # type: ignore[attr-defined]
    sides["fits"].click()
    assert [key for key, side in sides.items() if side.isChecked()] == ["fits"]
    assert all(isinstance(w, QAbstractButton) for w in window.findChildren(Pickable))


def test_one_press_picks_once(window: Window) -> None:
    stop, heard = window.rail.stops["angles"], []
    stop.picked.connect(heard.append)
    QTest.mouseClick(stop, Qt.MouseButton.LeftButton)
    QTest.keyClick(stop, Qt.Key.Key_Space)
    QTest.keyClick(stop, Qt.Key.Key_Return)
    assert heard == ["angles"] * 3


def test_a_refusal_is_said_with_the_entry(window: Window) -> None:
    window.open_bench("design")
    window.session.pick_design("t-nut-hazel")
    row = window.bench.card.rows["length"]
    assert row.accessibleDescription() == "Enter to type"
    row.setFocus()
    QTest.keyClick(row, Qt.Key.Key_Return)
    editor = row._editor
    assert editor is not None and editor.accessibleName() == row.row.label
    editor.setText("twelve")
    editor.textEdited.emit("twelve")
    assert row.error_text and editor.accessibleDescription() == row.error_text
    editor.setText("21")
    editor.textEdited.emit("21")
    assert not editor.accessibleDescription()
    window.bench.plate.open_entry("neck_width")
    window.bench.plate.editor.setText("wide")
    window.bench.plate.editor.textEdited.emit("wide")
    assert window.bench.plate.error_text == window.bench.plate.editor.accessibleDescription() != ""
