"""Many small things with the window awake between them, pictures that are kept, menus that go."""

from __future__ import annotations

import threading
import time
from functools import partial

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QObject, QPoint, QSizeF
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QApplication, QMenu, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app import warming
from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.menus import open_once
from elbrix.app.one_by_one import OneByOne, Work
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.trickle import Trickle
from elbrix.app.window import Window
from elbrix.book.designs import choose
from elbrix.drawing.scene import Line, Scene
from elbrix.presenters.catalogue import CataloguePresenter


def test_answers_come_in_order_from_another_thread(qtbot: QtBot) -> None:
    owner = QObject()
    beside, shown, threads = OneByOne(owner), [], set()

    def slow(n: int) -> int:
        threads.add(threading.get_ident())
        time.sleep(0.004)
        return n * n

    with qtbot.waitSignal(beside.ended, timeout=5000):
        beside.start([(partial(slow, n), shown.append) for n in range(30)])
        assert beside.busy
    assert shown == [n * n for n in range(30)] and not beside.busy
    assert threading.get_ident() not in threads


def test_a_new_set_takes_the_place_of_one_under_way(qtbot: QtBot) -> None:
    owner = QObject()
    beside, shown = OneByOne(owner), []
    beside.start([(partial(time.sleep, 0.02), lambda _: shown.append("old")) for _ in range(20)])
    qtbot.waitUntil(lambda: len(shown) > 2, timeout=5000)
    with qtbot.waitSignal(beside.ended, timeout=5000):
        before = len(shown)
        beside.start([(partial(str, n), shown.append) for n in range(3)])
    assert shown[before:] == ["0", "1", "2"]
    beside.start([(partial(time.sleep, 0.05), lambda _: shown.append("late"))])
    beside.stop()
    qtbot.wait(120)
    assert "late" not in shown and not beside.busy


def test_asked_anew_all_the_time_it_still_comes(qtbot: QtBot) -> None:
    """As a list that is scrolled asks: what was under way is shown, and what waited gives way to what is wanted now."""
    owner = QObject()
    beside, shown = OneByOne(owner), []

    def wanted(turn: int) -> list[Work]:
        return [(partial(_slowly, (turn, n)), shown.append) for n in range(50)]

    turn = 0
    while len(shown) < 20 and turn < 400:
        beside.instead(wanted(turn))
        turn += 1
        qtbot.wait(5)
    assert len(shown) >= 20 and turn > 5
    with qtbot.waitSignal(beside.ended, timeout=5000):
        beside.instead([(partial(str, "last"), shown.append)])
    assert shown[-1] == "last" and not beside.busy


def _slowly(what: tuple[int, int]) -> tuple[int, int]:
    time.sleep(0.004)
    return what


def test_one_that_fails_keeps_no_other_from_its_turn(qtbot: QtBot) -> None:
    owner = QObject()
    beside, shown = OneByOne(owner), []
    with qtbot.captureExceptions() as failed, qtbot.waitSignal(beside.ended, timeout=5000):
        beside.start([(partial(int, text), shown.append) for text in ("1", "none", "3", "nor this")])
    assert shown == [1, 3] and [f[0] for f in failed] == [ValueError] * 2


def test_calls_are_made_in_order_and_the_window_breathes_between(qtbot: QtBot) -> None:
    owner = QObject()
    trickle, done, turns = Trickle(owner), [], []

    def slow(n: int) -> None:
        done.append(n)
        time.sleep(0.004)

    with qtbot.waitSignal(trickle.ended, timeout=5000):
        trickle.start([partial(slow, n) for n in range(30)])
        assert trickle.busy and done == [], "nothing is done before the window turns"
        while trickle.busy:
            begun = time.monotonic()
            QApplication.processEvents()
            turns.append(time.monotonic() - begun)
    assert done == list(range(30)) and len(turns) >= 5, "not all in one turn"
    assert not trickle.busy


def test_a_new_set_takes_the_place_of_the_old_and_none_ends_it(qtbot: QtBot) -> None:
    owner = QObject()
    trickle, done = Trickle(owner), []
    trickle.start([partial(done.append, "old") for _ in range(5)])
    trickle.start([partial(done.append, "new")])
    qtbot.waitUntil(lambda: not trickle.busy, timeout=2000)
    assert done == ["new"]
    trickle.start([partial(done.append, "never")])
    trickle.stop()
    QApplication.processEvents()
    assert done == ["new"] and not trickle.busy
    trickle.start([])
    assert not trickle.busy


def test_a_picture_is_painted_once_until_it_changes(qtbot: QtBot) -> None:
    scene = Scene("a", elements=(Line((0, 0), (10, 10)),))
    thumb = Thumbnail("k", scene, "Title", ("line",))
    qtbot.addWidget(thumb)
    size = QSizeF(100, 60)
    first = thumb._drawn(scene, size)
    assert thumb._drawn(scene, size).cacheKey() == first.cacheKey()
    other = Scene("b", elements=(Line((0, 10), (10, 0)),))
    assert thumb._drawn(other, size).toImage() != first.toImage()
    assert thumb._drawn(other, QSizeF(50, 30)).width() < first.width()


def test_a_menu_goes_when_it_is_closed(qtbot: QtBot) -> None:
    parent = QWidget()
    qtbot.addWidget(parent)
    menu = QMenu(parent)
    menu.addAction(QAction("one", menu))
    gone: list[object] = []
    menu.destroyed.connect(gone.append)
    open_once(menu, QPoint(0, 0))
    menu.close()
    qtbot.waitUntil(lambda: bool(gone), timeout=2000)


def test_drawers_work_out_only_what_changed(window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    worked: list[str] = []
    real = CataloguePresenter.entry

    def counted(self: CataloguePresenter, doc: object) -> object:
        worked.append(doc.id)  # type: ignore[attr-defined]
        return real(self, doc)  # type: ignore[arg-type]

    monkeypatch.setattr(CataloguePresenter, "entry", counted)
    window.open_bench("catalogue")
    bench = window.benches["catalogue"]
    assert isinstance(bench, CatalogueBench)
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=10_000)
    everything = {d.id for d in window.session.designs}
    assert set(worked) == everything and all(t._scene is not None for t in bench.drawers.cards.values() if t.key != "t-nut-first")
    worked.clear()
    nut = next(d for d in window.session.designs if d.id == "t-nut-hazel")
    window.session.put("changed", choose(nut, "length", "22"))
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=10_000)
    assert worked == ["t-nut-hazel"], "the others are kept"
    worked.clear()
    machine = next(m for m in window.session.shop.machines if m.id == "hazel")
    window.session.put("shop", replace(machine, notes="moved"))
    qtbot.waitUntil(lambda: not bench.catching_up, timeout=10_000)
    assert set(worked) == everything, "another shop may mean other sizes"


def test_what_the_other_benches_need_is_loaded_once_and_without_a_fault(monkeypatch: pytest.MonkeyPatch) -> None:
    loaded: list[str] = []
    wanted = warming.modules()
    monkeypatch.setattr(warming.importlib, "import_module", loaded.append)
    monkeypatch.setattr(warming, "_BREATH_S", 0.0)
    warming._load()
    assert loaded == list(wanted)
    for name in wanted:
        assert __import__(name) is not None

    def broken(name: str) -> None:
        raise ImportError(name)

    monkeypatch.setattr(warming.importlib, "import_module", broken)
    warming._load()  # the bench that needs it says what is wrong
