"""Every button and every line that can be pressed, of every card of every bench, and every line of the menus under the title.

With files that hold nonsense, and where a bench asks for some also with files that can be read. What follows is a change that
can be undone, another bench, a page, or a refusal in words; never an error, never another book.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QPushButton
from pytestqt.qtbot import QtBot

from elbrix.app.benches.hold.view import HoldBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc
from elbrix.instruments import bench as instrument_bench
from elbrix.items.kind import listed_kinds
from elbrix.presenters.acts import Act

#: Seconds of searches that go on beside the window, and processes of their own: begun by other tests.
SLOW = {"suggest", "practise", "Practice"}


@pytest.fixture
def files(request: pytest.FixtureRequest, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> str:
    """What a hand does when it is asked for a file."""
    texts = {"csv": "x_mm,y_mm\n10,10\n30,10\n", "json": "{}", "dxf": "0\nEOF\n"}

    def read(_parent: object, _title: str, _folder: str, kinds: str, **_: object) -> tuple[str, str]:
        ending = next((e for e in ("csv", "dxf", "json", "jpg", "elbrix") if f"*.{e}" in kinds), "bin")
        path = tmp_path / f"chosen.{ending}"
        if request.param == "good" and ending in texts:
            path.write_text(texts[ending], encoding="utf-8")
        else:
            path.write_bytes(b"\x00\xffno such thing\n" * 20)
        return str(path), ""

    def write(_parent: object, _title: str, _suggested: str, _kinds: str, **_: object) -> tuple[str, str]:
        there = {"nonsense": str(tmp_path / "no" / "such" / "folder" / "f"), "good": str(tmp_path / "written")}
        return there[request.param], ""

    monkeypatch.setattr(QFileDialog, "getOpenFileName", staticmethod(read))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", staticmethod(write))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", staticmethod(lambda *_, **__: write(None, "", "", "")[0]))
    answer = QDialog.DialogCode.Accepted if request.param == "good" else QDialog.DialogCode.Rejected
    monkeypatch.setattr(QDialog, "exec", lambda _self: answer.value)
    monkeypatch.setenv(instrument_bench.FOLDER_VARIABLE, str(tmp_path / "i"))
    return str(request.param)


def places(window: Window, bench: str) -> dict[str, Callable[[], object]]:
    """Everything a bench can show: its name, and how one comes to it. Of things of one kind the first."""
    session = window.session
    if bench == "shop":
        shop = window.benches["shop"]
        assert isinstance(shop, ShopBench)
        return {what: partial(shop.see, what) for what in (*(m.id for m in session.shop.machines), *listed_kinds())}
    found: dict[str, Callable[[], object]] = {}
    if bench in ("angles", "hold", "inspect"):
        type_ = {"angles": AngleDoc, "hold": LayoutDoc, "inspect": InspectionDoc}[bench]
        for doc in session.book.all(type_):
            found.setdefault(str(getattr(doc, "kind", "layout")), partial(session.take, type_, doc.id))
        return found
    for design in session.book.all(DesignDoc)[: 3 if bench == "make" else None]:
        found.setdefault(f"{design.family} {bool(design.letter)}", partial(session.pick_design, design.id))
    return found


def pressable(window: Window) -> list[tuple[str, str]]:
    """("press" or "pick", key) of what the card in front offers; ("click", words) of the buttons beside Make's moves."""
    if isinstance(window.bench, MakeBench):
        shown = window.bench.findChildren(QPushButton)
        return [("click", b.text()) for b in shown if b.isVisible() and b.isEnabled() and b.text() and "▾" not in b.text()]
    card = window.bench.card
    buttons = {**card._buttons, **card._foot_buttons, **{k: b for part in card._parts for k, b in part.buttons.items()}}
    rows = [("pick", key) for key, row in card.rows.items() if row.row.edit == "press"]
    return rows + [("press", key) for key, button in buttons.items() if button.isEnabled()]


def settle(window: Window, qtbot: QtBot) -> None:
    for _ in range(3):
        QApplication.processEvents()
    if not isinstance(window.bench, HoldBench | MakeBench):  # whose whole answers take seconds, and are waited for at the end
        qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=60_000)


@pytest.mark.parametrize(
    ("bench", "files"),
    [
        *((bench, "nonsense") for bench in ("shop", "design", "angles", "hold", "make", "inspect", "catalogue")),
        *((bench, "good") for bench in ("shop", "design", "catalogue")),
    ],
    indirect=["files"],
)
def test_whatever_is_pressed(window: Window, qtbot: QtBot, files: str, bench: str) -> None:
    book, met = window.session.book, set()
    for place, go_there in places(window, bench).items():
        go_there()
        window.open_bench(bench)
        settle(window, qtbot)
        for how, key in pressable(window):
            verb = str(Act.read(key).do or key) if how != "click" else key
            what = (how, verb, place if bench in ("angles", "inspect") and how == "press" else "")
            if what in met or verb in SLOW:
                continue
            met.add(what)
            go_there()  # what was pressed before may have led elsewhere
            window.open_bench(bench)
            settle(window, qtbot)
            if (how, key) not in pressable(window):
                continue
            undo = book.undo_label
            if how == "click":
                next(b for b in window.bench.findChildren(QPushButton) if b.text() == key and b.isVisible()).click()
            elif how == "press":
                window.bench.card.pressed.emit(key)
            else:
                window.bench.card.picked.emit(key, "")
            settle(window, qtbot)
            assert window.isVisible() and window.session.book is book
            if book.undo_label != undo:
                book.undo()
                settle(window, qtbot)
    qtbot.waitUntil(lambda: not window.bench.catching_up, timeout=60_000)
    assert len(met) >= {"shop": 6, "design": 3, "angles": 8, "hold": 5, "make": 3, "inspect": 16, "catalogue": 6}[bench]


@pytest.mark.parametrize("files", ["good"], indirect=True)
@pytest.mark.parametrize("bench", ["design", "angles", "hold", "inspect", "catalogue"])
def test_every_line_of_the_menu_under_the_title(window: Window, qtbot: QtBot, files: str, bench: str) -> None:
    window.open_bench(bench)
    settle(window, qtbot)
    lines = window.title_menu().actions()
    own = next((n for n, a in enumerate(lines) if a.isSeparator()), len(lines))  # before it stand the documents, one like another
    assert len(lines) > 3
    for n in (*range(min(own, 2)), *range(own, len(lines))):
        window.open_bench(bench)
        settle(window, qtbot)
        actions = window.title_menu().actions()
        undo = window.session.book.undo_label
        if n < len(actions) and actions[n].isEnabled() and not actions[n].isSeparator():
            actions[n].trigger()
            settle(window, qtbot)
            assert window.isVisible()
            if window.session.book.undo_label != undo:
                window.session.book.undo()
                settle(window, qtbot)
