"""The Inspect bench with hands and instruments: typed, sent, wrong, kept, printed; nothing lost, nothing invented."""

from __future__ import annotations

import contextlib
import socket
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hands import type_in
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.benches.inspect.view import InspectBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.registry import all_benches
from elbrix.app.paper.inspection_sheet import inspection_sheet
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.inspecting.inspection import all_kinds
from elbrix.instruments import bench as instrument_bench
from elbrix.shop.machines import Machine


@pytest.fixture
def inspect(window: Window) -> InspectBench:
    window.open_bench("inspect")
    found = window.bench
    assert isinstance(found, InspectBench)
    return found


def _fresh(bench: InspectBench, kind: str) -> InspectionDoc:
    bench.start(kind)
    doc = bench.doc
    assert isinstance(doc, InspectionDoc)
    return doc


def _now(bench: InspectBench) -> InspectionDoc:
    doc = bench.doc
    assert isinstance(doc, InspectionDoc)
    return doc


class Wire:
    """A stranger's instrument: a socket in the folder that sends what the test wants."""

    def __init__(self, path: Path) -> None:
        self._server = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self._server.bind(str(path))
        self._server.listen()
        self._lines: list[socket.socket] = []
        self._first = threading.Event()
        self.path = path
        threading.Thread(target=self._accept, daemon=True).start()

    def _accept(self) -> None:
        while True:
            try:
                line, _ = self._server.accept()
            except OSError:
                return
            self._lines.append(line)
            self._first.set()

    def send(self, text: str) -> None:
        assert self._first.wait(5)
        for line in self._lines:
            line.sendall(text.encode())

    def pull(self) -> None:
        """The cable comes out."""
        with contextlib.suppress(OSError):
            self._server.shutdown(socket.SHUT_RDWR)  # wakes who waits for another listener
        self._server.close()
        for line in self._lines:
            line.close()
        self.path.unlink(missing_ok=True)


@pytest.fixture
def folder(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Path:
    monkeypatch.setenv(instrument_bench.FOLDER_VARIABLE, str(tmp_path / "i"))
    return instrument_bench.folder()


@pytest.fixture
def dial(folder: Path, window: Window, qtbot: QtBot) -> Iterator[Wire]:
    wire = Wire(folder / "dial-1.sock")
    window.instruments.look()
    qtbot.waitUntil(lambda: window.instruments.names == ("dial-1",))
    wire.send("dial-1 is dial 0.002 mm -0.4 0.4 v1\n")
    yield wire
    wire.pull()


# --- typed -----------------------------------------------------------------------------------------------------------


def test_every_kind_can_be_begun_from_the_card(inspect: InspectBench) -> None:
    inspect.choose()
    offered = {key.removeprefix("new ") for key in inspect.card.rows}
    assert offered == set(all_kinds())
    for key in offered:
        inspect.choose()
        inspect.card.picked.emit(f"new {key}", "")
        assert _now(inspect).kind == key
        assert inspect.title()[0]


def test_a_tram_by_keyboard_alone_goes_from_place_to_place(inspect: InspectBench) -> None:
    _fresh(inspect, "head_tram")
    plate = inspect.plate
    plate.setFocus()
    assert plate.open_entry("read east")
    for text in ("0.02", "0.006", "-0.018", "-0.006"):
        plate.editor.selectAll()
        QTest.keyClicks(plate.editor, text)
        QTest.keyClick(plate.editor, Qt.Key.Key_Tab)
    assert {k: v[0].value for k, v in _now(inspect).readings.items()} == {
        "east": 0.02,
        "north": 0.006,
        "west": -0.018,
        "south": -0.006,
    }
    assert inspect.strip.isVisibleTo(inspect)
    assert any("nose swings" in row.row.value for key, row in inspect.card.rows.items() if key.startswith("step"))


def test_a_wrong_reading_stands_beside_its_place_and_changes_nothing(inspect: InspectBench) -> None:
    doc = _fresh(inspect, "head_tram")
    type_in(inspect.plate, "at east", "0.02x")
    assert inspect.plate.error_text
    QTest.keyClick(inspect.plate.editor, Qt.Key.Key_Escape)
    assert not inspect.plate.editing
    assert _now(inspect) == doc


def test_readings_typed_in_inches_are_kept_as_lengths(inspect: InspectBench, window: Window) -> None:
    window.session.set_unit("in")
    _fresh(inspect, "head_tram")
    type_in(inspect.plate, "at east", "0.001")
    assert _now(inspect).readings["east"][0].value == pytest.approx(0.0254)


def test_what_was_found_goes_to_the_machine_and_comes_back_with_undo(inspect: InspectBench, window: Window) -> None:
    window.session.take(InspectionDoc, "tram-hazel")
    before = window.session.book.get(Machine, "hazel")
    inspect.card.button("keep head").click()
    after = window.session.book.get(Machine, "hazel")
    assert before is not None
    assert after is not None
    assert after.head_lean_right_mm_m == pytest.approx(0.04 / 220 * 1000, rel=1e-3)
    window.undo()
    assert window.session.book.get(Machine, "hazel") == before


def test_a_piece_is_measured_against_its_design_and_kept(inspect: InspectBench, window: Window) -> None:
    window.session.take(InspectionDoc, "made-t-nut-hazel")
    type_in(inspect.plate, "neck_width", "11.65; 11.66; 11.65")
    inspect.card.button("keep as made").click()
    design = window.session.book.get(DesignDoc, "t-nut-hazel")
    assert design is not None
    assert next(m for m in design.as_made if m.figure == "neck_width").readings_mm == (11.65, 11.66, 11.65)


def test_a_design_is_picked_on_the_card(inspect: InspectBench) -> None:
    _fresh(inspect, "as_made")
    assert "about t-nut-hazel" in inspect.card.rows
    inspect.card.picked.emit("about t-nut-hazel", "")
    assert _now(inspect).about == "t-nut-hazel"
    assert "read neck_width" in inspect.card.rows


def test_again_and_earlier(inspect: InspectBench, window: Window) -> None:
    window.session.take(InspectionDoc, "tram-hazel")
    inspect.card.button("again").click()
    assert _now(inspect).id != "tram-hazel"
    assert not _now(inspect).readings
    assert {"open tram-hazel", "open tram-hazel-spring"} <= set(inspect.card.rows)
    inspect.card.picked.emit("open tram-hazel-spring", "")
    assert _now(inspect).id == "tram-hazel-spring"


def test_readings_leave_as_a_table(inspect: InspectBench, window: Window, tmp_path: Path) -> None:
    window.session.take(InspectionDoc, "tram-hazel")
    inspect.write_table(tmp_path / "t.csv")
    lines = (tmp_path / "t.csv").read_text().splitlines()
    assert lines[0] == "place,quantity,value,unit,uncertainty,tool,taken"
    assert lines[1].startswith("right,deviation,0.022,mm,0.0032,dial-1,2026-11-16T10:40")
    inspect.write_table(tmp_path / "nowhere" / "t.csv")
    assert "cannot be written" in window.notice.text()


def test_the_sheet_grows_by_pages_with_its_readings(inspect: InspectBench) -> None:
    _fresh(inspect, "flatness")
    presenter = inspect.presenter
    assert presenter is not None
    assert inspection_sheet(presenter).count == 1
    inspect.card.typed.emit("columns", "12")
    inspect.card.typed.emit("rows", "12")
    assert inspect.presenter is not None
    assert inspection_sheet(inspect.presenter).count == 2
    assert len([k for k in inspect.card.rows if k.startswith("read ")]) == 24  # the card lists those about the next one


# --- sent ------------------------------------------------------------------------------------------------------------


def test_a_sent_reading_lands_in_the_place_that_is_lit(inspect: InspectBench, dial: Wire, qtbot: QtBot) -> None:
    _fresh(inspect, "head_tram")
    dial.send("dial-1 deviation 0.012 mm ±0.004 1\n")
    qtbot.waitUntil(lambda: "east" in _now(inspect).readings)
    taken = _now(inspect).readings["east"][0]
    assert (taken.value, taken.u, taken.tool) == (0.012, 0.004, "dial-1")
    assert taken.on
    following = inspect.presenter.following if inspect.presenter is not None else None
    assert following is not None
    assert following.key == "north"


def test_three_times_at_a_place_then_on(inspect: InspectBench, folder: Path, window: Window, qtbot: QtBot) -> None:
    wire = Wire(folder / "caliper-1.sock")
    window.instruments.look()
    qtbot.waitUntil(lambda: bool(window.instruments.names))
    _fresh(inspect, "slot_survey")
    assert inspect.plate.open_entry("read s1p1")
    wire.send("".join(f"caliper-1 length 12.0{n} mm ±0.02 {n}\n" for n in range(1, 5)))
    qtbot.waitUntil(lambda: "s1p2" in _now(inspect).readings)
    assert [t.value for t in _now(inspect).readings["s1p1"]] == [12.01, 12.02, 12.03]
    assert inspect.plate.editing == "read s1p2"
    wire.pull()


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("dial-1 length 0.10 mm ±0.02 1\n", "wants deviation"),
        ("dial-1 deviation 0.01 thou ±0.02 1\n", "not measured in"),
        ("dial-1 deviation nan mm ±0.02 1\n", "no number"),
        ("dial-1 deviation 0.01\n", "value, unit"),
        ("dial-1 deviation 0.39 mm ±0.02 1\ndial-1 deviation 0.38 mm ±0.02 1\n", "came twice"),
        ("dial-2 fault\n", "half a line"),
        ("dial-1 fault unplugged\n", "unplugged"),
        ("x" * 5000 + "\n", "characters at most"),
    ],
)
def test_what_is_no_reading_is_said_beside_the_place(
    inspect: InspectBench, dial: Wire, qtbot: QtBot, line: str, said: str
) -> None:
    _fresh(inspect, "head_tram")
    dial.send(line)
    place = "read north" if "0.39" in line else "read east"
    qtbot.waitUntil(lambda: said in inspect.card.rows[place].error_text, timeout=3000)
    assert len(_now(inspect).readings) == ("0.39" in line)


def test_a_reading_nobody_asked_for_lands_nowhere(window: Window, dial: Wire, qtbot: QtBot) -> None:
    window.open_bench("catalogue")
    before = [window.session.book.all(kind) for kind in (InspectionDoc, DesignDoc)]
    dial.send("dial-1 deviation 0.012 mm ±0.004 1\n")
    qtbot.waitUntil(lambda: "no field asks" in window.notice.text())
    assert [window.session.book.all(kind) for kind in (InspectionDoc, DesignDoc)] == before


def test_a_burst_is_taken_in_order_without_the_window_standing_still(inspect: InspectBench, dial: Wire, qtbot: QtBot) -> None:
    """A thousand lines: four places take the first four, the rest are kept in the log and land nowhere."""
    _fresh(inspect, "head_tram")
    beats: list[int] = []
    timer = inspect.startTimer(5)
    inspect.timerEvent = lambda event: beats.append(1)  # type: ignore[method-assign]
    dial.send("".join(f"dial-1 deviation 0.0{n % 10} mm ±0.004 {n}\n" for n in range(1, 1001)))
    qtbot.waitUntil(lambda: len(inspect.window().instruments.listener.log) >= 1000, timeout=20000)  # type: ignore[union-attr]
    inspect.killTimer(timer)
    assert [_now(inspect).readings[k][0].value for k in ("east", "north", "west", "south")] == [0.01, 0.02, 0.03, 0.04]
    assert len(beats) > 3


def test_half_a_line_waits_for_its_other_half_or_is_nothing(
    inspect: InspectBench, dial: Wire, window: Window, qtbot: QtBot
) -> None:
    _fresh(inspect, "head_tram")
    dial.send("dial-1 deviation 0.0")
    qtbot.wait(60)
    assert not _now(inspect).readings
    dial.send("12 mm ±0.004 1\ndial-1 deviation 0.3")
    qtbot.waitUntil(lambda: "east" in _now(inspect).readings)
    dial.pull()
    qtbot.waitUntil(lambda: not window.instruments.names)
    assert set(_now(inspect).readings) == {"east"}


def test_a_reading_fills_any_field_that_asks_and_keeps_its_tool(window: Window, folder: Path, qtbot: QtBot) -> None:
    wire = Wire(folder / "caliper-1.sock")
    window.instruments.look()
    qtbot.waitUntil(lambda: bool(window.instruments.names))
    window.open_bench("design")
    plate = window.bench.plate
    plate.setFocus()
    assert plate.open_entry("neck_width")
    wire.send("caliper-1 length 11.65 mm ±0.02 1\n")

    def chosen() -> str:
        design = window.session.design
        return design.chosen["neck_width"].typed if design is not None and "neck_width" in design.chosen else ""

    qtbot.waitUntil(lambda: "caliper-1" in chosen())
    assert chosen().startswith("11.65 mm by caliper-1 ± 0.02 mm, 20")
    assert "as read: 11.65 mm by caliper-1" in window.bench.card.rows["neck_width"].row.derivation
    assert plate.editing != "neck_width"  # on to the next
    window.undo()  # one reading is one step
    assert "caliper-1" not in chosen()
    # On the card the row is finished: a second press does not write over the first.
    plate._cancelled()
    window.bench.card.rows["neck_height"].open_editor()
    wire.send("caliper-1 length 7.10 mm ±0.02 2\ncaliper-1 length 7.90 mm ±0.02 3\n")

    def height() -> str:
        design = window.session.design
        return design.chosen["neck_height"].text if design is not None and "neck_height" in design.chosen else ""

    qtbot.waitUntil(lambda: len(window.instruments.listener.log) >= 3 and height() != "")
    qtbot.wait(60)
    assert float(height()) == 7.1
    wire.pull()


def test_a_slot_keeps_the_instrument_it_was_read_with(window: Window, folder: Path, qtbot: QtBot) -> None:
    wire = Wire(folder / "caliper-7.sock")
    window.instruments.look()
    qtbot.waitUntil(lambda: bool(window.instruments.names))
    window.open_bench("shop")
    shop = window.bench
    shop.see("hazel")  # type: ignore[attr-defined]
    shop.start_measuring()  # type: ignore[attr-defined]
    asked = shop.asking()
    assert asked is not None
    wire.send("caliper-7 length 12.09 mm ±0.02 1\n")

    def tools() -> set[str]:
        machine = window.session.book.get(Machine, "hazel")
        assert machine is not None
        return {r.measured_with for s in machine.slots for r in (s.neck, s.lip, s.head, s.depth) if r is not None}

    qtbot.waitUntil(lambda: "caliper-7" in tools())
    wire.pull()


# --- simulated -------------------------------------------------------------------------------------------------------


def test_practice_from_start_to_truth_by_keyboard(inspect: InspectBench, folder: Path, window: Window, qtbot: QtBot) -> None:
    window.session.take(InspectionDoc, "jaw-vise")
    inspect.practise()
    qtbot.waitUntil(lambda: bool(_now(inspect).readings), timeout=10000)
    for left in range(5, 0, -1):
        done = 6 - left
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)
        QTest.keyClick(window, Qt.Key.Key_F8)
        qtbot.waitUntil(lambda d=done: len(_now(inspect).readings) > d, timeout=5000)  # type: ignore[misc]
    assert [key for key in inspect.card.rows if key.startswith("true ")]
    window.instruments.stop_simulated()
    qtbot.waitUntil(lambda: not window.instruments.names)
    instrument_bench.reap("dial-practice")


def test_an_instrument_that_is_killed_is_started_again_where_it_was(
    inspect: InspectBench, folder: Path, window: Window, qtbot: QtBot
) -> None:
    window.session.take(InspectionDoc, "tram-hazel")
    inspect.practise()
    qtbot.waitUntil(lambda: len(_now(inspect).readings) == 1, timeout=10000)
    instrument_bench._started["dial-practice"].kill()
    qtbot.waitUntil(lambda: not window.instruments.names)
    inspect.card.button("press").click()
    qtbot.waitUntil(lambda: len(_now(inspect).readings) == 2, timeout=10000)
    assert set(_now(inspect).readings) == {"east", "north"}
    window.instruments.stop_simulated()
    qtbot.waitUntil(lambda: not window.instruments.names)
    instrument_bench.reap("dial-practice")


def test_the_menu_offers_instruments_and_f8_says_when_none_measures_that(window: Window, folder: Path) -> None:
    window.open_bench("inspect")
    window.bench.start("head_tram")  # type: ignore[attr-defined]
    words = [a.text() for a in window.instruments_menu().actions() if a.text()]
    assert "Start a simulated caliper" in words
    QTest.keyClick(window, Qt.Key.Key_F8)
    QApplication.processEvents()
    assert "No instrument here measures that" in window.notice.text()


def test_every_bench_registers_itself(window: Window) -> None:
    assert list(all_benches()) == ["shop", "design", "angles", "hold", "make", "inspect", "catalogue"]
    for number, key in enumerate(all_benches(), 1):
        QTest.keyClick(window, Qt.Key(Qt.Key.Key_0.value + number), Qt.KeyboardModifier.AltModifier)
        assert window.front == key


# --- at the machine --------------------------------------------------------------------------------------------------


def test_a_readout_shows_the_way_left_and_a_slip_before_the_cut(window: Window, folder: Path, qtbot: QtBot) -> None:
    wire = Wire(folder / "readout-1.sock")
    window.instruments.look()
    qtbot.waitUntil(lambda: bool(window.instruments.names))
    window.open_bench("make")
    make = window.bench
    assert isinstance(make, MakeBench)
    assert make.presenter is not None
    wanted = next(
        (m.id, p) for _, _, m in make.presenter.moves for p in m.positions if len(m.positions) == 2 and abs(p.dial.set_mm) > 5
    )
    make.at_machine()
    make._pick(wanted[0])
    axis, target = wanted[1].axis, wanted[1].dial.set_mm
    line = make.presenter.line(*make.presenter.moves[make.presenter.place_of(wanted[0])])
    way = make.machine_view.ways[[name for name, _ in line.numbers].index(axis)]
    wire.send(f"readout-1 axis {axis} {target - 3.2:.3f} mm ±0.005 1\n")
    qtbot.waitUntil(lambda: "3.200 mm to go" in way.text())
    wire.send(f"readout-1 axis {axis} {-target:.3f} mm ±0.005 2\n")
    qtbot.waitUntil(lambda: "other sign" in way.text(), timeout=4000)
    wire.send(f"readout-1 axis {axis} {target:.3f} mm ±0.005 3\n")
    qtbot.waitUntil(lambda: "is there" in way.text())
    assert make.current == wanted[0]  # nothing is ticked by itself
    make.leave_machine()
    wire.send(f"readout-1 axis {axis} 1.000 mm ±0.005 4\n")
    qtbot.wait(80)
    assert "readout" not in window.notice.text()  # a readout may count on while nobody asks
    make.at_machine()
    assert not way.isVisibleTo(make.machine_view)  # what it said while nobody looked is no place to cut at
    wire.send(f"readout-1 axis {axis} {target:.3f} mm ±0.005 5\n")
    qtbot.waitUntil(lambda: "is there" in way.text() and way.isVisibleTo(make.machine_view))
    wire.pull()
    qtbot.waitUntil(lambda: not window.instruments.names)
    assert not way.isVisibleTo(make.machine_view)  # nor is what it said before its cable was pulled


# --- from anything ---------------------------------------------------------------------------------------------------


def test_an_inspection_begins_from_what_is_in_hand(window: Window) -> None:
    """A machine, a vise, a setting, a piece: the bench opens filled in."""

    def opened() -> InspectionDoc:
        assert window.front == "inspect"
        doc = window.session.in_hand(InspectionDoc)
        assert doc is not None
        bench = window.bench
        assert isinstance(bench, InspectBench)
        assert bench.presenter is not None
        assert bench.presenter.problem is None, bench.presenter.problem
        return doc

    window.open_bench("shop")
    window.bench.see("hazel")  # type: ignore[attr-defined]
    for button, kind in (("survey", "slot_survey"), ("tram", "head_tram"), ("backlash", "backlash")):
        window.open_bench("shop")
        window.bench.card.button(f"inspect {button}").click()
        assert (opened().kind, opened().chosen["machine"].text) == (kind, "hazel")
    window.open_bench("shop")
    window.bench.see("vises")  # type: ignore[attr-defined]
    window.bench.card.button("inspect jaw").click()
    assert opened().kind == "jaw"
    window.open_bench("angles")
    window.session.take(AngleDoc, "angle-gnomon")
    window.bench.card.button("read back").click()
    doc = opened()
    assert (doc.kind, doc.chosen["tool_kind"].text, doc.chosen["tolerance"].text) == ("sine_check", "sine-100", "2")
    window.session.pick_design("t-nut-hazel")
    window.open_bench("catalogue")
    window.bench.card.button("measure").click()
    assert (opened().kind, opened().about) == ("as_made", "t-nut-hazel")


def test_of_two_windows_only_the_one_in_front_takes_a_reading(
    inspect: InspectBench, dial: Wire, window: Window, open_window: Callable[[Book], Window], tmp_path: Path, qtbot: QtBot
) -> None:
    other = open_window(write_demo(tmp_path / "other.elbrix"))
    other.open_bench("inspect")
    qtbot.waitUntil(lambda: other.instruments.names == ("dial-1",))
    behind = other.bench
    assert isinstance(behind, InspectBench)
    for bench in (behind, inspect):
        _fresh(bench, "head_tram")
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    dial.send("dial-1 deviation 0.012 mm ±0.004 1\n")
    qtbot.waitUntil(lambda: "east" in _now(inspect).readings)
    qtbot.wait(50)
    assert not _now(behind).readings


def test_of_two_programs_the_one_looked_at_last_takes_a_reading(
    inspect: InspectBench, folder: Path, dial: Wire, window: Window, qtbot: QtBot
) -> None:
    """Another program came to the front: a reading is not for us. It ends, or we come back: it is."""
    _fresh(inspect, "head_tram")
    other = subprocess.Popen([sys.executable, "-c", "input()"], stdin=subprocess.PIPE)
    try:
        (folder / "front").write_text(str(other.pid), encoding="ascii")
        dial.send("dial-1 deviation 0.011 mm ±0.003 1\n")
        qtbot.wait(150)
        assert not _now(inspect).readings
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)
        QApplication.sendEvent(window, QEvent(QEvent.Type.ActivationChange))
        dial.send("dial-1 deviation 0.012 mm ±0.003 2\n")
        qtbot.waitUntil(lambda: [t.value for t in _now(inspect).readings.get("east", ())] == [0.012])
        (folder / "front").write_text(str(other.pid), encoding="ascii")
    finally:
        other.communicate(b"\n")
    dial.send("dial-1 deviation 0.013 mm ±0.003 3\n")
    qtbot.waitUntil(lambda: [t.value for t in _now(inspect).readings.get("north", ())] == [0.013])


def test_no_size_of_a_piece_stays_in_mm_when_inches_are_on_show(inspect: InspectBench, window: Window) -> None:
    window.session.take(InspectionDoc, "made-t-nut-hazel")
    window.session.set_unit("in")
    shown = {t.tile.label: t.tile.value for t in inspect.strip.tiles if t.tile is not None}
    neck, designed = (float(v) for v in shown["Nut neck width"].split(" for "))
    assert (neck, designed) == (pytest.approx(11.701 / 25.4, abs=1e-4), pytest.approx(11.7 / 25.4, abs=1e-4))
