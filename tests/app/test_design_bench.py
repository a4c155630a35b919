"""The Design bench in a real window: typed, dragged, undone, switched, killed."""

from __future__ import annotations

import os
import signal

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc
from elbrix.design.family import all_families
from elbrix.drawing.placing import overlaps
from elbrix.presenters.design import LOOKING, DesignPresenter
from elbrix.quantities.lengths import INCH, METRIC
from elbrix.solids.client import KERNEL_GAVE_UP


def bench(window: Window) -> DesignBench:
    found = window.benches["design"]
    assert isinstance(found, DesignBench)
    return found


def chosen(window: Window, name: str) -> str:
    doc = window.session.book.get(DesignDoc, "t-nut-hazel")
    assert doc is not None
    return doc.chosen[name].text if name in doc.chosen else ""


def click_number(window: Window, key: str) -> None:
    plate = bench(window).plate
    box = next(p.text_box for p in plate.placed if p.dimension.key == key)
    QTest.mouseClick(plate, Qt.MouseButton.LeftButton, pos=QPoint(round((box[0] + box[2]) / 2), round(-(box[1] + box[3]) / 2)))


def drawn(window: Window, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: not window.session.kernel.busy, timeout=20_000)


def test_type_in_a_brass_number(window: Window, qtbot: QtBot) -> None:
    plate = bench(window).plate
    click_number(window, "neck_width")
    assert plate.editing == "neck_width" and plate.editor.text() == "11.7" and plate.editor.hasFocus()
    QTest.keyClicks(plate.editor, "11.5")
    assert chosen(window, "neck_width") == "11.5"  # kept as it is typed
    assert bench(window).card.rows["neck_width"].row.value == "11.50"
    assert next(p.text for p in plate.placed if p.dimension.key == "neck_width") == "11.50"
    QTest.keyClick(plate.editor, Qt.Key.Key_Return)
    assert plate.editing == ""
    window.undo()
    assert chosen(window, "neck_width") == "11.7"  # one step of undo for the whole entry
    window.redo()
    assert chosen(window, "neck_width") == "11.5"


def test_escape_restores(window: Window) -> None:
    plate = bench(window).plate
    before = chosen(window, "head_width")
    click_number(window, "head_width")
    QTest.keyClicks(plate.editor, "17.5")
    assert chosen(window, "head_width") == "17.5"
    QTest.keyClick(plate.editor, Qt.Key.Key_Escape)
    assert chosen(window, "head_width") == before and plate.editing == ""


def test_tab_follows_the_measuring_order(window: Window) -> None:
    plate = bench(window).plate
    plate.setFocus()
    QTest.keyClick(plate, Qt.Key.Key_Tab)
    walked = [plate.editing]
    for _ in range(7):
        QTest.keyClick(plate.editor, Qt.Key.Key_Tab)
        walked.append(plate.editing)
    assert walked == ["neck", "lip", "head", "depth", "neck_width", "neck_height", "head_width", "head_height"]
    QTest.keyClick(plate.editor, Qt.Key.Key_Backtab)
    assert plate.editing == "head_width"


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("wide", "cannot be read"),
        ("12,1", "Write the decimal with a point"),
        ("0", "It must be"),
        ("-5", "without the minus"),
        ("19.5", "no wider than the neck"),
        ("9" * 10_000, "characters"),
        ("nan", "number is missing"),
    ],
)
def test_a_wrong_entry_says_why_beside_it_and_loses_nothing(window: Window, typed: str, said: str) -> None:
    plate = bench(window).plate
    click_number(window, "neck_width")
    plate.editor.setText(typed)
    plate.typed.emit("neck_width", typed)
    assert said in plate.error_text
    assert chosen(window, "neck_width") == "11.7"
    assert plate.editor.property("wrong") is True
    QTest.keyClick(plate.editor, Qt.Key.Key_Return)  # stays open until it is put right
    assert plate.editing == "neck_width"
    plate.editor.setText("11.6")
    plate.typed.emit("neck_width", "11.6")
    assert plate.error_text == "" and chosen(window, "neck_width") == "11.6"


def test_drag_an_edge_and_it_settles(window: Window) -> None:
    plate = bench(window).plate
    handle = next(h for h in plate.shown.scene.handles if h.entry == "neck_width" and h.along == (1.0, 0.0))
    middle = plate.view.px(((handle.a[0] + handle.b[0]) / 2, (handle.a[1] + handle.b[1]) / 2))
    start, scale = middle.toPoint(), plate.view.scale
    QTest.mousePress(plate, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.7, 1.0):  # 0.23 mm inwards on one side is 0.46 on the width: settles on 11.2
        _move(plate, QPointF(start.x() - 0.23 * scale * share, start.y()))
    _move(plate, QPointF(start.x() - 0.23 * scale, start.y()))
    QTest.mouseRelease(plate, Qt.MouseButton.LeftButton, pos=QPoint(round(start.x() - 0.23 * scale), start.y()))
    assert chosen(window, "neck_width") in ("11.2", "11.3")  # 11.7 − 0.46, a pixel either way, on a tenth
    window.undo()
    assert chosen(window, "neck_width") == "11.7"


def test_a_drag_runs_into_its_limit_and_says_which(window: Window) -> None:
    plate = bench(window).plate
    handle = next(h for h in plate.shown.scene.handles if h.entry == "neck_height")
    start = plate.view.px(((handle.a[0] + handle.b[0]) / 2 + 1, handle.a[1])).toPoint()
    QTest.mousePress(plate, Qt.MouseButton.LeftButton, pos=start)
    _move(plate, QPointF(start.x(), start.y() - 200))
    assert chosen(window, "neck_height") == "7.7"  # lip 8.2 − 0.5
    assert "the shallowest lip is 8.2 mm" in plate._drag_words
    QTest.mouseRelease(plate, Qt.MouseButton.LeftButton, pos=start)


def _move(plate: object, to: QPointF) -> None:
    from PyQt6.QtCore import QEvent
    from PyQt6.QtGui import QMouseEvent

    event = QMouseEvent(
        QEvent.Type.MouseMove, to, to, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    plate.mouseMoveEvent(event)  # type: ignore[attr-defined]


def test_units_switch_everything_live(window: Window) -> None:
    window.session.set_unit("in")
    plate = bench(window).plate
    assert next(p.text for p in plate.placed if p.dimension.key == "neck_width") == "0.4606"
    row = bench(window).card.rows["neck_width"].row
    assert (row.value, row.unit, row.entry_text) == ("0.4606", "in", "0.4606299")
    click_number(window, "neck_width")
    QTest.keyClicks(plate.editor, ".455")
    assert float(chosen(window, "neck_width")) == pytest.approx(0.455 * 25.4)
    QTest.keyClick(plate.editor, Qt.Key.Key_Return)
    window.session.set_unit("mm")
    assert next(p.text for p in plate.placed if p.dimension.key == "neck_width") == "11.557"


def test_pointing_lights_what_belongs_together(window: Window) -> None:
    found = bench(window)
    found.strip.pointed.emit("top_below")
    assert "neck" in found.plate._lit and found.card.rows["neck_height"]._lit
    found.card.pointed.emit("head_width")
    assert "head" in found.plate._lit and found.strip.tile("head_slides").lit
    found.plate.pointed.emit(frozenset({"thread"}))
    assert found.card.rows["thread"]._lit and found.strip.tile("wall").lit and not found.strip.tile("slides").lit


def test_why_opens_and_the_fix_is_one_click(window: Window, qtbot: QtBot) -> None:
    window.session.pick_design("t-nut-first")
    found = bench(window)
    assert found.strip.tiles[0].tile is not None and found.strip.tiles[0].tile.key == "top_below"  # worst first
    QTest.mouseClick(found.strip.tile("top_below"), Qt.MouseButton.LeftButton)
    assert found.why.isVisible() and "8.2 − 8.1 = 0.10 mm" in found.why.words()
    qtbot.waitUntil(lambda: "than measured" in found.why.words(), timeout=10_000)
    qtbot.waitUntil(found.why.fix.isVisible, timeout=10_000)
    QTest.mouseClick(found.why.fix, Qt.MouseButton.LeftButton)
    presenter = found.presenter
    assert presenter is not None and presenter.design is not None
    assert presenter.design.check("top_below").verdict.value == "go"
    window.undo()
    assert found.presenter is not None and found.presenter.design is not None
    assert found.presenter.design.check("top_below").verdict.value == "no-go"


def test_every_derived_number_shows_its_working(window: Window, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: "cut_length" in bench(window).card.rows)  # the plan follows the first paint
    rows = bench(window).card.rows
    for key in ("total_height", "engagement_mm", "preload", "highest_torque", "cut_length", "dial_shoulder_far"):
        assert rows[key].row.derivation, key
    rows["preload"].activate()
    assert rows["preload"]._working.isVisibleTo(bench(window).card) and "K·d" in rows["preload"]._working.text()


def test_four_views_from_the_keyboard(window: Window, qtbot: QtBot) -> None:
    found = bench(window)
    found.plate.setFocus()
    for key, tab in ((Qt.Key.Key_2, 1), (Qt.Key.Key_3, 2), (Qt.Key.Key_4, 3), (Qt.Key.Key_1, 0)):
        QTest.keyClick(found.plate, key)
        drawn(window, qtbot)
        assert found.plate.shown.tab == tab
        if tab == 3:
            picture = found.plate.solid
            assert picture is not None
            before = picture.turn_deg
            QTest.keyClick(found.plate, Qt.Key.Key_Left)
            assert picture.turn_deg != before
        if tab == 1:
            assert any(e.style.value == "hidden" for e in found.plate.shown.scene.elements if hasattr(e, "style"))


def test_zoom_pan_and_fit(window: Window) -> None:
    plate = bench(window).plate
    fitted = plate.view
    plate._zoom(2.0, QPointF(200, 200))
    assert plate.view.scale == pytest.approx(2 * fitted.scale)
    under = fitted.mm(QPointF(200, 200))
    assert plate.view.px(under).x() == pytest.approx(200) and plate.view.px(under).y() == pytest.approx(200)
    plate.setFocus()
    QTest.keyClick(plate, Qt.Key.Key_Home)
    assert plate.view.scale == pytest.approx(fitted.scale)


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080), (980, 640)])
def test_no_number_covers_another_at_any_size(window: Window, qtbot: QtBot, unit: str, size: tuple[int, int]) -> None:
    window.resize(*size)
    window.session.set_unit(unit)
    found = bench(window)
    for tab in (0, 1):
        found.plate.tab_picked.emit(tab)
        drawn(window, qtbot)
        for pane in found.plate._panes:
            assert overlaps(pane.placed) == []
        for p in found.plate.placed:  # and none runs off the plate
            assert p.text_box[0] >= 0 and p.text_box[2] <= found.plate.width()
            assert -p.text_box[3] >= 0 and -p.text_box[1] <= found.plate.height()


def test_killing_the_kernel_while_editing_loses_nothing(window: Window, qtbot: QtBot) -> None:
    found = bench(window)
    drawn(window, qtbot)
    first = window.session.kernel.pid
    assert first
    click_number(window, "neck_width")
    QTest.keyClicks(found.plate.editor, "11.4")
    os.kill(first, signal.SIGKILL)
    QTest.keyClick(found.plate.editor, Qt.Key.Key_Return)
    click_number(window, "head_width")
    QTest.keyClicks(found.plate.editor, "17.6")
    QTest.keyClick(found.plate.editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.session.kernel.pid not in (0, first), timeout=20_000)
    drawn(window, qtbot)
    assert (chosen(window, "neck_width"), chosen(window, "head_width")) == ("11.4", "17.6")
    presenter = found.presenter
    assert presenter is not None and presenter.recipe is not None
    qtbot.waitUntil(lambda: presenter.drawn.get("iso", presenter.recipe) is not None, timeout=20_000)
    assert found._kernel_words == ""


def test_shelf_starts_a_design_for_the_picked_slot(window: Window) -> None:
    window.new_design()
    found = bench(window)
    assert found.shelf.isVisible() and window.bench.title()[0] == "New design"
    found.shelf._take_slot("pip", "rear slot")
    QTest.mouseClick(found.shelf.families["t_nut"], Qt.MouseButton.LeftButton)
    doc = window.session.design
    assert doc is not None and (doc.machine, doc.slot) == ("pip", "rear slot") and not found.shelf.isVisible()
    assert found.presenter is not None and found.presenter.design is not None
    assert found.presenter.design.values.number("neck_width") == pytest.approx(9.8)  # 10.10 − 0.3


def test_putting_a_changed_design_in_the_catalogue(window: Window) -> None:
    row = bench(window).card.rows["length"]
    row.activate()
    assert row.editor is not None
    QTest.keyClicks(row.editor, "26")
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert "changed since" in window.bench.title()[1]
    bench(window).issue("Longer for the yoke")
    doc = window.session.book.get(DesignDoc, "t-nut-hazel")
    assert doc is not None and doc.letter == "C" and doc.revisions[-1].values["length"] == "26"
    assert window.bench is window.benches["catalogue"]


def test_choices_and_letting_go(window: Window) -> None:
    window.session.pick_design("t-nut-tam")
    card = bench(window).card
    card.picked.emit("stud_stop", "pin")
    doc = window.session.book.get(DesignDoc, "t-nut-tam")
    assert doc is not None and doc.chosen["stud_stop"].text == "pin"
    card.released.emit("stud_stop")
    doc = window.session.book.get(DesignDoc, "t-nut-tam")
    assert doc is not None and "stud_stop" not in doc.chosen


def test_contradiction_is_said_on_the_plate_and_can_be_undone(window: Window) -> None:
    from msgspec.structs import replace

    from elbrix.quantities.readings import Readings
    from elbrix.shop.machines import Machine

    hazel = window.session.book.get(Machine, "hazel")
    assert hazel is not None
    middle = replace(hazel.slots[1], neck=Readings(values_mm=(18.9,)), head=Readings(values_mm=(19.0,)))
    window.session.put("Remeasured", replace(hazel, slots=(hazel.slots[0], middle, hazel.slots[2])))
    window.session.pick_design("t-nut-hazel")
    window.session.put("Neck", replace(window.session.design, chosen={}))  # type: ignore[type-var]
    assert "no wider than the neck" in bench(window).plate.shown.message
    bench(window).card.pressed.emit("undo")
    assert bench(window).plate.shown.message == ""


def test_presenter_needs_no_window(demo_shop: object) -> None:
    from elbrix.demo import documents

    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "t-nut-hazel")
    for style in (METRIC, INCH):
        presenter = DesignPresenter(doc, demo_shop, style)  # type: ignore[arg-type]
        assert presenter.plate().scene.dimensions and presenter.card().sections and presenter.tiles()
        for tile in presenter.tiles():
            presenter.looked[tile.key] = presenter.look(tile.key)
            why = presenter.why(tile.key)
            assert why is not None and LOOKING not in why.derivation + why.reason


@pytest.mark.parametrize("tab", range(4))
def test_a_kernel_that_gives_up_leaves_every_view_standing(window: Window, tab: int) -> None:
    """Whatever it was asked for it refuses: outlines stay, the foot says why, and it is not asked the same again."""
    bench = window.bench
    assert isinstance(bench, DesignBench) and bench.presenter is not None
    bench._drawn.results.clear()
    bench._tab = tab
    bench.refresh()
    wanted = bench.presenter.wanted()
    assert wanted
    for purpose, _, arguments in wanted:
        window.session.kernel.refused.emit(purpose, arguments, KERNEL_GAVE_UP)
    assert "cannot be drawn" in bench.plate.shown.footer
    bench.refresh()
    assert not bench.presenter.wanted()
    assert bench.plate.shown.scene.elements or tab == 3
    assert bench.presenter.mass_words() == "mass unknown"


def test_the_shelf_stands_in_the_window_at_every_width_the_commonest_first(window: Window, qtbot: QtBot) -> None:
    window.open_bench("design")
    window.new_design()
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench) and bench._shelf is not None
    shelf = bench._shelf
    for width in (980, 1280, 1920, 980):
        window.resize(width, 700)
        for _ in range(4):  # pictures go to other rows, then the page is laid out for it
            QApplication.processEvents()
        page = shelf._area.widget()
        assert page is not None and page.width() <= shelf._area.viewport().width() + 1  # type: ignore[union-attr]
        tops = {key: t.mapTo(page, t.rect().topLeft()) for key, t in shelf.families.items()}
        fastening = [f.key for f in all_families().values() if f.group == "fasten it"]
        assert min(fastening, key=lambda k: (tops[k].y(), tops[k].x())) == "t_nut"
