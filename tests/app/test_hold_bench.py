"""The Hold bench in a real window: carried, dragged, typed, added, suggested, printed."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hands import drag, middle_of, move, type_in
from msgspec.structs import replace
from pypdf import PdfReader
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu
from pytestqt.qtbot import QtBot

from elbrix.app.benches.hold.view import HoldBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.documents import LayoutDoc, to_json
from elbrix.cli.main import main


@pytest.fixture
def bench(window: Window) -> HoldBench:
    window.open_bench("hold")
    found = window.benches["hold"]
    assert isinstance(found, HoldBench)
    found.show_document("hold-dial")
    QApplication.processEvents()
    return found


def doc(bench: HoldBench) -> LayoutDoc:
    found = bench.session.in_hand(LayoutDoc)
    assert found is not None
    return found


def margin(bench: HoldBench) -> str:
    return next(t.tile.value for t in bench.strip.tiles if t.tile and t.tile.key == "margin")


def settled(bench: HoldBench, qtbot: QtBot) -> None:
    """The whole answer is there."""
    qtbot.waitUntil(lambda: bench.presenter is not None and not bench.presenter.quick, timeout=10_000)


def test_the_dial_plate_shows_its_margin_and_its_two_holds(bench: HoldBench, qtbot: QtBot) -> None:
    settled(bench, qtbot)
    assert margin(bench) == "4.2×" and "holds by 4.2× with µ 0.12" in bench.title()[1]
    words = " ".join(t.text() for t in bench.card._texts)
    assert "First hold" in words and "Then strap 2 comes off" in words and "1. Strap 1: M10" in words
    reach = next(t.tile for t in bench.strip.tiles if t.tile and t.tile.key == "reach")
    assert reach.verdict == "no-go"


def test_carry_a_strap_and_it_settles_on_a_slot(bench: HoldBench, qtbot: QtBot) -> None:
    plate = bench.plate
    scale = plate.panes[0].view.scale
    start = middle_of(plate, "strap 3")
    drag(plate, start, start + QPointF(-30 * scale, 0.0))
    assert doc(bench).elements[2].chosen["x"].text == "66" and doc(bench).elements[2].chosen["slot"].text == "rear slot"
    settled(bench, qtbot)
    start = middle_of(plate, "strap 3")
    drag(plate, start, start + QPointF(0.0, 60 * plate.panes[0].view.scale))
    assert doc(bench).elements[2].chosen["slot"].text == "middle slot"
    bench.session.book.undo()
    assert doc(bench).elements[2].chosen["slot"].text == "rear slot"  # the whole carry is one step
    bench.session.book.undo()
    assert doc(bench).elements[2].chosen["x"].text == "96"


def test_the_margin_follows_while_something_is_carried(bench: HoldBench, qtbot: QtBot) -> None:
    plate = bench.plate
    start = middle_of(plate, "work")
    before = margin(bench)
    QTest.mousePress(plate, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for i in range(1, 6):
        move(plate, start + QPointF(0.0, 6.0 * i))
    assert bench.presenter is not None and bench.presenter.quick and margin(bench) != before
    assert float(doc(bench).chosen["y"].text) < 0
    QTest.mouseRelease(plate, Qt.MouseButton.LeftButton, pos=(start + QPointF(0.0, 30.0)).toPoint())
    settled(bench, qtbot)
    assert "work" in doc(bench).title or bench.card.rows["y"].row.value.startswith("-")


def test_drag_a_tip(bench: HoldBench) -> None:
    plate = bench.plate
    handle = next(h for h in plate.shown.scene.handles if h.entry == "0.stud_to_tip")
    view = plate.panes[0].view
    start = view.px(((handle.a[0] + handle.b[0]) / 2, (handle.a[1] + handle.b[1]) / 2))
    drag(plate, start, start + QPointF(-10 * view.scale, 0.0))
    assert doc(bench).elements[0].chosen["stud_to_tip"].text == "47"


def test_type_numbers_on_plate_and_card(bench: HoldBench, qtbot: QtBot) -> None:
    type_in(bench.plate, "width", "200")
    assert doc(bench).chosen["width"].text == "200"
    bench.card.typed.emit("0.torque", "10")
    assert doc(bench).elements[0].chosen["torque"].text == "10"
    settled(bench, qtbot)
    bench.card.typed.emit("friction", "lots")
    assert "is not a number" in bench.card.rows["friction"].error_text and "friction" not in doc(bench).chosen
    bench.card.released.emit("0.torque")
    assert "torque" not in doc(bench).elements[0].chosen


def test_add_and_take_away(bench: HoldBench, qtbot: QtBot) -> None:
    bench.card.rows["add stop"].activate()
    assert [t.kind for t in doc(bench).elements] == ["strap", "strap", "strap", "stop"]
    settled(bench, qtbot)
    assert (
        any(p.name == "stop" for _, _, p in bench.presenter.hold.elements) if bench.presenter and bench.presenter.hold else False
    )
    bench.card.button("remove 3").click()
    assert [t.kind for t in doc(bench).elements] == ["strap"] * 3


def test_why_shows_the_motion(bench: HoldBench, qtbot: QtBot) -> None:
    bench.open_why("margin")
    assert "friction cones" in bench.why.words() and "first it spins" in bench.why.words()
    qtbot.wait(220)
    assert bench._moving.isActive()
    moving = [e for e in bench.plate.shown.scene.elements if getattr(e, "feature", "") == "gives"]
    assert moving
    bench.close_why()
    assert not bench._moving.isActive()


def test_suggestions_run_beside_and_can_be_taken(bench: HoldBench, qtbot: QtBot) -> None:
    before = doc(bench)
    bench.card.button("suggest").click()
    assert bench.search.running and bench.card.button("stop").isEnabled()
    qtbot.waitUntil(lambda: not bench.search.running, timeout=120_000)
    rows = [k for k in bench.card.rows if k.startswith("take ")]
    assert len(rows) == 3 and "Holds by" in bench.card.rows["take 0"].row.value
    bench.card.rows["take 0"].activate()
    assert doc(bench) != before and "take 1" in bench.card.rows
    bench.session.book.undo()
    assert doc(bench) == before


def test_a_search_is_stopped(bench: HoldBench) -> None:
    bench.card.button("suggest").click()
    bench.card.button("stop").click()
    assert not bench.search.running and bench.card.button("suggest").isEnabled()


@pytest.mark.parametrize("kind", ["block", "straps", "plate"])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_new_layouts(bench: HoldBench, window: Window, kind: str, unit: str) -> None:
    window.session.set_unit(unit)
    bench.choose()
    bench.card.rows[f"new {kind}"].activate()
    assert bench.presenter is not None and bench.presenter.hold is not None and not bench.plate.shown.message
    assert bench.presenter.hold.margin.rests
    for row in list(bench.card.rows.values()):
        if row.row.edit == "text" and row.row.entry_text:
            bench.card.typed.emit(row.row.key, row.row.entry_text)
            assert bench.card.rows[row.row.key].error_text == "", row.row.key


def test_the_setting_card_prints(bench: HoldBench, tmp_path: Path) -> None:
    pages = bench.pages()
    assert pages is not None
    write_pdf(pages, tmp_path / "card.pdf")
    text = " ".join(PdfReader(tmp_path / "card.pdf").pages[0].extract_text().split())
    for words in ("Dial plate 180", "Strap 1: M10", "16 N·m", "holds by 4.3×", "handles off", "Then strap 2 comes off"):
        assert words in text


def test_the_title_menu(bench: HoldBench, window: Window) -> None:
    names = [a.text() for a in window.title_menu().actions()]
    assert "Gnomon wedge blank in the vise" in names and "On Pip" in names
    next(a for a in window.title_menu().actions() if a.text() == "On Pip").trigger()
    assert doc(bench).machine == "pip" and bench.title()[1].startswith("on Pip")
    next(a for a in window.title_menu().actions() if a.text() == "Duplicate").trigger()
    assert doc(bench).title.endswith("copy")
    bench.remove()
    assert all(not d.title.endswith("copy") for d in window.session.book.all(LayoutDoc))


def test_an_empty_shop(empty_window: Window) -> None:
    empty_window.open_bench("hold")
    bench = empty_window.benches["hold"]
    assert isinstance(bench, HoldBench) and "Pick on the card" in bench.plate.shown.message
    bench.card.rows["new block"].activate()
    assert "assumed" in bench.card.rows["0.vise"].row.value and bench.presenter is not None and bench.presenter.hold is not None


def test_the_command_line_reads_a_layout(bench: HoldBench, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "layout.json"
    path.write_text(to_json(doc(bench)), encoding="utf-8")
    assert main(["hold", str(path), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert (
        answer["margin"] == pytest.approx(4.239, abs=0.01)
        and answer["mode"] == "spin"
        and answer["located"] == 3
        and answer["clashes"]
    )
    path.write_text('{"id": "x", "title": 5}', encoding="utf-8")
    assert main(["hold", str(path)]) == 1 and "cannot be read" in capsys.readouterr().err


def test_a_path_is_drawn_on_the_plate_with_the_pen(bench: HoldBench, qtbot: QtBot) -> None:
    bench.show_document("hold-wedge")
    bench.card.button("pen").click()
    assert "The pen is down" in bench.plate.shown.footer
    for x, y in ((-50, -14), (50, -14), (50, 15)):
        QTest.mouseClick(bench.plate, Qt.MouseButton.LeftButton, pos=bench.plate.panes[0].view.px((x, y)).toPoint())
    drawn = [tuple(map(int, pair.split(","))) for pair in doc(bench).chosen["places"].text.split(";")]
    assert doc(bench).chosen["cutter_path"].text == "line" and len(drawn) == 3
    assert all(
        abs(a - b) <= 2
        for got, meant in zip(drawn, ((-50, -14), (50, -14), (50, 15)), strict=True)
        for a, b in zip(got, meant, strict=True)
    )
    bench.plate.setFocus()
    QTest.keyClick(bench.plate, Qt.Key.Key_Escape)
    QTest.mouseClick(bench.plate, Qt.MouseButton.LeftButton, pos=bench.plate.panes[0].view.px((0, 0)).toPoint())
    assert doc(bench).chosen["places"].text.count(";") == 2 and "The pen is down" not in bench.plate.shown.footer
    settled(bench, qtbot)
    assert bench.presenter is not None and not bench.presenter.pen


def test_a_bad_margin_offers_its_mend_and_the_mend_is_one_step(bench: HoldBench, qtbot: QtBot) -> None:
    bench.card.typed.emit("depth_of_cut", "6")
    bench.card.typed.emit("width_of_cut", "8")
    settled(bench, qtbot)
    before = doc(bench)
    bench.open_why("margin")
    qtbot.waitUntil(lambda: bench.why.fix.isVisible(), timeout=10_000)  # noqa: PLW0108 - it may be another button by then
    bench.why.fix.click()
    assert doc(bench) != before
    settled(bench, qtbot)
    assert next(t.tile.verdict for t in bench.strip.tiles if t.tile and t.tile.key == "margin") == "go"
    bench.session.book.undo()
    assert doc(bench) == before


def test_an_operation_of_a_plan_is_held(window: Window) -> None:
    window.session.pick_design("t-nut-hazel")
    window.open_bench("make")
    make = window.benches["make"]
    assert isinstance(make, MakeBench)
    make.moves.picked.emit("shoulder.deburr")
    make.moves.hold_button.click()
    assert window.bench is make and "no milling or drilling" in window.notice.text()
    make.moves.picked.emit("holes.drill.1")
    make.moves.hold_button.click()
    assert window.bench is window.benches["hold"]
    held = window.session.in_hand(LayoutDoc)
    assert held is not None and held.title == "T-nut for the long table: drill 8.5" and held.chosen["cutter"].text == "drill-8.5"
    assert held.design == "t-nut-hazel"
    window.open_bench("make")
    make.moves.hold_button.click()  # it is kept with the job: the same one again, not another
    assert (
        window.session.in_hand(LayoutDoc) == held
        and sum(d.design == "t-nut-hazel" for d in window.session.book.all(LayoutDoc)) == 1
    )


def test_a_layout_is_kept_with_a_job(bench: HoldBench) -> None:
    bench.session.pick_design("sine-plate")
    job = bench.session.design
    assert job is not None
    menu = QMenu()
    bench.fill_title_menu(menu)
    next(a for a in menu.actions() if a.text() == f"Attach to job {job.title}").trigger()
    assert doc(bench).design == job.id and bench.title()[1].endswith(f"for {job.title}")
    menu.clear()
    bench.fill_title_menu(menu)
    next(a for a in menu.actions() if a.text() == f"Detach from {job.title}").trigger()
    assert doc(bench).design == ""


def test_a_plate_from_the_catalogue_and_its_changed_drawing(window: Window, qtbot: QtBot) -> None:
    from elbrix.book.designs import choose

    window.open_bench("hold")
    bench = window.benches["hold"]
    assert isinstance(bench, HoldBench)
    bench.show_document("hold-yoke")
    settled(bench, qtbot)
    assert "lay plate-yoke" in bench.card.rows and "lay v-jaws" not in bench.card.rows
    session = window.session
    design = next(d for d in session.designs if d.id == "plate-yoke")
    # What is only drawn says so where it is used; once it is made it does not.
    for made, said in ((0, True), (1, False)):
        design = replace(design, made=made)
        session.put("counted", design)
        bench.show_document("hold-wedge")
        bench.show_document("hold-yoke")
        settled(bench, qtbot)
        assert any("none is made yet" in s.text for s in bench.presenter.card().sections) is said
    session.put("thicker", choose(design, "thickness", "25"))
    bench.show_document("hold-wedge")
    bench.show_document("hold-yoke")
    settled(bench, qtbot)
    QTest.mouseClick(bench.card.button("update 0"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert doc(bench).elements[0].chosen["thickness"].text == "25"
    bench.pick("lay plate-segments")
    assert doc(bench).elements[-1].design == "plate-segments"
