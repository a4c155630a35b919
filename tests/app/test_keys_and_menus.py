"""What the long way round does: keys, menus, and the pointer, in the real window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QMenu
from pytestqt.qtbot import QtBot

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.entry import LineDialog
from elbrix.app.headline import UnitSwitch
from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc


def design(window: Window) -> DesignBench:
    found = window.benches["design"]
    assert isinstance(found, DesignBench)
    return found


def point(plate: DrawingView, at: QPointF) -> None:
    none = Qt.MouseButton.NoButton
    plate.mouseMoveEvent(
        QMouseEvent(QMouseEvent.Type.MouseMove, at, plate.mapToGlobal(at), none, none, Qt.KeyboardModifier.NoModifier)
    )


def open_menu() -> QMenu:
    found = QApplication.activePopupWidget()
    assert isinstance(found, QMenu)
    return found


def press(menu: QMenu, words: str) -> None:
    """Trigger the entry of a menu that begins like this."""
    action = next(a for a in menu.actions() if a.text().startswith(words))
    assert action.isEnabled()
    action.trigger()
    menu.close()


def answer_next_dialog(text: str) -> None:
    """Type into the dialog that is about to open, and keep it; an empty text leaves it."""

    def answer() -> None:
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, LineDialog)
        dialog.line.setText(text)
        QTest.keyClick(dialog.line, Qt.Key.Key_Return if text else Qt.Key.Key_Escape)

    QTimer.singleShot(0, answer)


# --- plate ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("text", ["²", "³", "0", "7", "½", "ß"])
def test_keys_that_mean_nothing_do_nothing(window: Window, text: str) -> None:
    # Some keyboards have a key for a raised two; it is a digit to Python, but no number.
    bench = design(window)
    tab = bench.plate.shown.tab
    bench.plate.keyPressEvent(QKeyEvent(QKeyEvent.Type.KeyPress, 0, Qt.KeyboardModifier.NoModifier, text))
    assert bench.plate.shown.tab == tab and bench.plate.editing == ""


def test_the_pointer_shows_what_can_be_done_there(window: Window) -> None:
    plate = design(window).plate
    box = next(p.text_box for p in plate.placed if p.dimension.entry == "neck_width")
    point(plate, QPointF((box[0] + box[2]) / 2, -(box[1] + box[3]) / 2))
    assert plate.cursor().shape() is Qt.CursorShape.IBeamCursor
    for handle in plate.shown.scene.handles:
        middle = plate.view.px(((handle.a[0] + handle.b[0]) / 2, (handle.a[1] + handle.b[1]) / 2))
        if plate.size_at(middle) is None and plate.handle_at(middle) is handle:
            point(plate, middle)
            sideways = abs(handle.along[0]) > abs(handle.along[1])
            assert plate.cursor().shape() is (Qt.CursorShape.SizeHorCursor if sideways else Qt.CursorShape.SizeVerCursor)
    point(plate, QPointF(3, plate.height() - 3))
    assert plate.cursor().shape() is Qt.CursorShape.ArrowCursor


def test_leaving_the_plate_lets_the_card_go_dark(window: Window) -> None:
    bench = design(window)
    heard: list[frozenset[str]] = []
    bench.plate.pointed.connect(heard.append)
    handle = bench.plate.shown.scene.handles[0]
    point(bench.plate, bench.plate.view.px(((handle.a[0] + handle.b[0]) / 2, (handle.a[1] + handle.b[1]) / 2)))
    assert heard[-1]
    bench.plate.leaveEvent(None)
    assert heard[-1] == frozenset()


def test_the_solid_turns_by_keys(window: Window, qtbot: QtBot) -> None:
    bench = design(window)
    QTest.keyClick(bench.plate, Qt.Key.Key_4)
    qtbot.waitUntil(lambda: bench.plate.solid is not None, timeout=20_000)
    bench.plate.grab()
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=20_000)
    before = bench.plate.grab().toImage()
    QTest.keyClick(bench.plate, Qt.Key.Key_Left)
    QTest.keyClick(bench.plate, Qt.Key.Key_Up)
    qtbot.waitUntil(lambda: bench.plate.grab().toImage() != before, timeout=20_000)


# --- card -----------------------------------------------------------------------------------------------------------


def test_choices_open_as_a_menu_and_can_be_taken_back(window: Window) -> None:
    bench = design(window)
    row = bench.card.rows["stud_stop"]
    row.activate()
    menu = open_menu()
    assert [a.text() for a in menu.actions() if a.text()] == [*(words for _, words in row.row.choices), "Back to proposal"]
    other = next(words for value, words in row.row.choices if words != row.row.value)
    press(menu, other)
    assert bench.card.rows["stud_stop"].row.value == other
    bench.card.rows["stud_stop"].activate()
    press(open_menu(), "Back to proposal")
    doc = window.session.design
    assert doc is not None and "stud_stop" not in doc.chosen


def test_right_click_copies_and_shows_the_working(window: Window) -> None:
    bench = design(window)
    row = bench.card.rows["neck_width"]

    def menu() -> QMenu:
        row.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, QPoint(5, 5), row.mapToGlobal(QPoint(5, 5))))
        return open_menu()

    press(menu(), "Show working")
    assert row.working_open
    press(menu(), "Copy the number")
    clipboard = QApplication.clipboard()
    assert clipboard is not None and clipboard.text() == row.row.value
    press(menu(), "Copy the whole card")
    lines = clipboard.text().splitlines()
    assert any("11.70" in line and "\t" in line for line in lines) and len(lines) > 10


# --- headline -------------------------------------------------------------------------------------------------------


def test_units_by_mouse_and_keyboard(window: Window) -> None:
    switch = window.findChild(UnitSwitch)
    assert switch is not None
    QTest.mouseClick(switch, Qt.MouseButton.LeftButton, pos=QPoint(100, 15))
    assert window.session.style.length == "in" and switch.unit == "in"
    QTest.keyClick(switch, Qt.Key.Key_Left)
    assert window.session.style.length == "mm"
    QTest.keyClick(switch, Qt.Key.Key_X)
    assert window.session.style.length == "mm"


def test_title_menu_goes_to_another_design_and_copies(window: Window) -> None:
    titles = [d.title for d in window.session.designs]
    other = next(d for d in window.session.designs if d.id != "t-nut-hazel")
    press(window.title_menu(), other.title)
    assert window.session.design is not None and window.session.design.id == other.id
    press(window.title_menu(), "Duplicate")
    fresh = window.session.design
    assert fresh is not None and fresh.title == f"{other.title}, copy" and fresh.revisions == () and fresh.chosen == other.chosen
    window.undo()
    assert sorted(d.title for d in window.session.designs) == sorted(titles)


def test_another_name_is_asked_for(window: Window) -> None:
    answer_next_dialog("Nut for the rotary table")
    press(window.title_menu(), "Rename")
    assert window.session.design is not None and window.session.design.title == "Nut for the rotary table"
    answer_next_dialog("")
    press(window.title_menu(), "Rename")
    assert window.session.design.title == "Nut for the rotary table"


def test_files_go_where_they_are_asked(window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(tmp_path))
    said: list[str] = []
    window.session.refused.connect(said.append)
    press(window.title_menu(), "Export files")
    kinds = {p.suffix for p in tmp_path.iterdir()}
    assert kinds >= {".step", ".stl", ".dxf", ".svg", ".pdf", ".csv", ".json"}
    assert said and str(tmp_path) in said[-1]


# --- why a revision -------------------------------------------------------------------------------------------------


def test_a_revision_asks_why_and_can_be_left(window: Window) -> None:
    bench = design(window)

    def revisions() -> int:
        doc = window.session.book.get(DesignDoc, "t-nut-hazel")
        assert doc is not None
        return len(doc.revisions)

    before = revisions()
    bench.card.typed.emit("neck_width", "11.6")
    answer_next_dialog("")
    bench.issue("")
    assert revisions() == before
    answer_next_dialog("It bound at the right end")
    bench.issue("")
    assert revisions() == before + 1 and window.bench is window.benches["catalogue"]


# --- shop -----------------------------------------------------------------------------------------------------------


def test_shop_buttons(window: Window) -> None:
    window.open_bench("shop")
    bench = window.benches["shop"]
    assert isinstance(bench, ShopBench)
    bench.see("hazel")
    machine = bench.presenter.machine
    assert machine is not None
    slots = len(machine.slots)
    bench.card.pressed.emit("add slot")
    fresh = bench.presenter.machine
    assert fresh is not None and len(fresh.slots) == slots + 1 and bench.presenter.slot is fresh.slots[-1]
    bench.card.typed.emit("slot_label", fresh.slots[0].label)  # taken
    assert "taken" in bench.card.rows["slot_label"].error_text
    bench.card.typed.emit("slot_label", "clamp slot")
    assert bench.presenter.slot is not None and bench.presenter.slot.label == "clamp slot"
    answer_next_dialog("Bertha")
    bench.card.pressed.emit("add machine")
    assert bench.presenter.machine is not None and bench.presenter.machine.name == "Bertha" and bench.measuring.isVisible()
    QTest.keyClick(bench.measuring.line, Qt.Key.Key_Escape)
    bench.stop_measuring()
    bench.card.pressed.emit("remove")
    assert all(m.name != "Bertha" for m in window.session.shop.machines)
    window.undo()
    assert any(m.name == "Bertha" for m in window.session.shop.machines)


# --- at the machine -------------------------------------------------------------------------------------------------


def test_digits_at_the_machine_go_into_the_measured_size(window: Window) -> None:
    window.open_bench("make")
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    bench._pick("shoulder.far.finish2")
    bench.at_machine()
    view = bench.machine_view
    said = "\n".join(label.text() for label in view.findChildren(QLabel))
    assert "Cutter centre" in said  # how the whole operation is done, with each of its moves
    view.keyPressEvent(QKeyEvent(QKeyEvent.Type.KeyPress, 0, Qt.KeyboardModifier.NoModifier, "²"))
    assert view.entry.text() == ""
    QTest.keyClick(view, Qt.Key.Key_1)
    assert view.entry.text() == "1"
    view.entry.setText("150")
    QTest.keyClick(view.entry, Qt.Key.Key_Return)
    assert "It must be" in view.error_text
    view.entry.setText("15.0")
    QTest.keyClick(view.entry, Qt.Key.Key_Return)
    assert view.error_text == ""
    here = bench.current
    QTest.keyClick(view, Qt.Key.Key_Space)
    assert bench.current != here
    QTest.keyClick(view, Qt.Key.Key_Left)
    assert bench.current == here
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert not view.isVisible()
