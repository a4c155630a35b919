"""Make's handwheels: turned with the mouse wheel, round with the mouse, by keys; backlash named; nothing of it kept."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.make.wheels import WheelDial
from elbrix.app.window import Window
from elbrix.drawing.scene import Path, Style

WALL = "shoulder.far.finish2"


@pytest.fixture
def bench(window: Window, qtbot: QtBot) -> MakeBench:
    window.session.pick_design("t-nut-pip")
    window.open_bench("make")
    found = window.benches["make"]
    assert isinstance(found, MakeBench)
    found.moves.option_picked.emit("machine", "pip")
    found.moves.picked.emit(WALL)
    found.plate.tab_picked.emit(1)
    qtbot.waitUntil(lambda: not found.catching_up, timeout=20_000)
    return found


def dial(bench: MakeBench, axis: str) -> WheelDial:
    found = bench.turning.panel.dials[axis]
    assert found.view is not None
    return found


def slide(bench: MakeBench, axis: str) -> float:
    assert bench.turning.wheels is not None and bench.turning.wheels.slides is not None
    return bench.turning.wheels.slides.wheels[axis].slide_mm


def notch(widget: WheelDial, up: int, keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    at = QPointF(widget.rect().center())
    QApplication.sendEvent(
        widget,
        QWheelEvent(
            at,
            QPointF(widget.mapToGlobal(at.toPoint())),
            QPoint(),
            QPoint(0, 120 * up),
            Qt.MouseButton.NoButton,
            keys,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        ),
    )


def test_every_way_of_turning(bench: MakeBench) -> None:
    y = dial(bench, "Y")
    assert y.view is not None
    assert y.hasFocus() or QApplication.focusWidget() is None
    begun, per = slide(bench, "Y"), 2.0 / y.view.divisions  # Pip: 2 mm a turn
    notch(y, 1)
    assert slide(bench, "Y") == pytest.approx(begun + per)
    notch(y, 1, Qt.KeyboardModifier.ShiftModifier)
    notch(y, 1, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(y, Qt.Key.Key_Right)
    QTest.keyClick(y, Qt.Key.Key_Up)
    QTest.keyClick(y, Qt.Key.Key_PageUp)
    expected = begun + (1 + 10 + 1 + 10) * per + 2 * 2.0
    assert slide(bench, "Y") == pytest.approx(expected)
    # A quarter round with the mouse, clockwise.
    centre = y._centre
    points = [
        QPoint(round(centre.x() + 50 * math.sin(a)), round(centre.y() - 50 * math.cos(a)))
        for a in (0.0, 0.4, 0.8, 1.2, math.pi / 2)
    ]
    QTest.mousePress(y, Qt.MouseButton.LeftButton, pos=points[0])
    for at in points[1:]:
        QTest.mouseMove(y, at)
        QApplication.processEvents()
    QTest.mouseRelease(y, Qt.MouseButton.LeftButton, pos=points[-1])
    assert slide(bench, "Y") == pytest.approx(expected + 0.5, abs=2 * per)


def test_turned_to_the_card_it_is_there_and_from_the_wrong_side_it_is_backlash(bench: MakeBench, qtbot: QtBot) -> None:
    assert bench.presenter is not None
    move = next(m for _, _, m in bench.presenter.moves if m.id == WALL)
    wanted = next(p for p in move.positions if p.axis == "Y")
    y = dial(bench, "Y")
    assert y.view is not None and y.view.wanted == wanted.dial.text and not y.view.there
    per = 2.0 / y.view.divisions
    away = round((wanted.dial.set_mm - slide(bench, "Y")) / per)
    bench.turning.panel.turned.emit("Y", away - 40)
    bench.turning.panel.turned.emit("Y", 40)
    assert y.view.there and y.view.told == "there" and y.view.reads == wanted.dial.text
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=20_000)
    assert not any(isinstance(e, Path) and e.style is Style.PATH_NO_GO for e in bench.plate.shown.scene.elements)
    bench.turning.panel.turned.emit("Y", 40)
    bench.turning.panel.turned.emit("Y", -40)
    assert y.view.reads == wanted.dial.text and not y.view.there  # the ring is right, the slide is not
    qtbot.waitUntil(lambda: dial(bench, "Y").view.slip, timeout=5_000)  # type: ignore[union-attr]
    assert "backlash" in dial(bench, "Y").view.told  # type: ignore[union-attr]
    # Far past it the metal shows what it would cost.
    bench.turning.panel.turned.emit("Y", -100)
    qtbot.waitUntil(
        lambda: any(isinstance(e, Path) and e.style is Style.PATH_NO_GO for e in bench.plate.shown.scene.elements), timeout=20_000
    )


def test_nothing_of_it_is_kept_and_the_slides_stay_where_they_were_left(bench: MakeBench, window: Window) -> None:
    doc = window.session.design
    assert doc is not None
    before = window.session.job_of(doc)
    bench.turning.panel.turned.emit("Y", 17)
    left = slide(bench, "Y")
    assert bench.presenter is not None
    at = bench.presenter.place_of(WALL)
    following = next(m.id for s, _, m in bench.presenter.moves[at + 1 :] if m.strokes and m.positions)
    bench.moves.picked.emit(following)
    assert slide(bench, "Y") == pytest.approx(left)
    assert window.session.job_of(doc) == before
    bench.plate.tab_picked.emit(0)
    assert bench.turning.panel.isHidden() and not bench.strip.isHidden() and bench.presenter.turned is None
    bench.plate.tab_picked.emit(1)
    assert not bench.turning.panel.isHidden() and bench.strip.isHidden()
    window.open_bench("design")
    window.open_bench("make")
    assert bench.turning.panel.isHidden()


def test_in_practice_the_wheels_do_not_tell(bench: MakeBench, qtbot: QtBot) -> None:
    bench.practise()
    qtbot.waitUntil(lambda: bench.presenter is not None and bench.presenter.hidden is not None, timeout=60_000)
    bench.turning.panel.turned.emit("Y", 3)
    assert all(d.view is not None and not d.view.told and not d.view.there for d in bench.turning.panel.dials.values())


def test_a_low_window_keeps_the_plate(bench: MakeBench, window: Window) -> None:
    window.resize(980, 640)
    QApplication.processEvents()
    assert not bench.film.isVisible() and bench.plate.height() > 200
    window.resize(1280, 900)
    QApplication.processEvents()
    assert bench.film.isVisible()


def test_a_move_by_hand_has_no_wheels(bench: MakeBench, qtbot: QtBot) -> None:
    bench.moves.picked.emit("saw.cut")
    assert bench.turning.panel.isHidden()
    qtbot.waitUntil(lambda: bool(bench.plate.shown.tabs), timeout=20_000)  # the way back stays
    bench.moves.picked.emit(WALL)
    assert not bench.turning.panel.isHidden()
