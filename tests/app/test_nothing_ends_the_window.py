"""Faults, unsaved edits, names with markup, files that cannot be: the window says it and stays."""

from __future__ import annotations

import os
import re
import shutil
import sys
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QLabel, QToolTip
from pytestqt.qtbot import QtBot

import elbrix.app
from elbrix.app import faults, leaving, start
from elbrix.app.background import Later
from elbrix.app.benches.registry import all_benches
from elbrix.app.faults import Faults
from elbrix.app.leaving import UnsavedDialog
from elbrix.app.plate.solid import SolidPicture
from elbrix.app.theme.palette import DIM, LIGHT, Palette
from elbrix.app.window import Window
from elbrix.app.words import Label, set_tip
from elbrix.book.documents import DesignDoc
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.exchange.whole_file import write_whole
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import Prism


def stuck(window: Window, monkeypatch: pytest.MonkeyPatch) -> Book:
    """The window's book with one edit the file cannot take."""
    book = window.session.book
    shutil.move(book.path, book.path.with_suffix(".away"))
    book.put("Neck 11.5", DesignDoc(id="late", family="t_nut", title="Late nut"))
    assert book.unsaved == ("Neck 11.5",)
    return book


# --- closing --------------------------------------------------------------------------------------------------------------


def test_closing_with_unsaved_edits_asks_and_can_be_stayed(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    book = stuck(window, monkeypatch)
    asked: list[Book] = []
    monkeypatch.setattr(leaving, "may_leave", lambda _parent, b: asked.append(b) or False)
    assert not window.close() and asked == [book] and window.isVisible()
    shutil.move(book.path.with_suffix(".away"), book.path)
    asked.clear()
    assert window.close() and not asked


def test_the_question_names_the_edits_and_saves_them_elsewhere(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    book = stuck(window, monkeypatch)
    dialog = UnsavedDialog(window, book)
    qtbot.addWidget(dialog)
    assert "1 edit" in dialog._title.text() and "Neck 11.5" in dialog._words.text() and "lose it" in dialog.lose.text()
    qtbot.mouseClick(dialog.again, Qt.MouseButton.LeftButton)
    assert not dialog.result() and "cannot" in dialog._said.text()
    dialog.save_copy(Path("/dev/full/copy"))
    assert not dialog.result()
    dialog.save_copy(tmp_path / "copy.elbrix")
    assert dialog.result()
    copy = Book.open(tmp_path / "copy.elbrix")
    assert copy.get(DesignDoc, "late") is not None and len(copy.documents) == len(book.documents)
    copy.close()
    shutil.move(book.path.with_suffix(".away"), book.path)


# --- faults ---------------------------------------------------------------------------------------------------------------


def test_a_fault_is_written_down_and_said_and_the_window_stays(
    window: Window, qtbot: QtBot, capsys: pytest.CaptureFixture[str]
) -> None:
    met = Faults(window.session)
    try:
        raise ZeroDivisionError("of ours")
    except ZeroDivisionError as error:
        met.met(type(error), error, error.__traceback__)
        met.met(type(error), error, error.__traceback__)
    assert "ZeroDivisionError" in window.notice.text() and window.isVisible()
    assert len(met.reports) == 1 and "of ours" in met.reports[0].read_text()
    assert met.reports[0].parent == window.session.book.path.parent
    assert "of ours" in capsys.readouterr().err


def test_what_fails_beside_the_window_is_not_dropped(window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[type[BaseException]] = []
    monkeypatch.setattr(sys, "excepthook", lambda kind, *_: seen.append(kind))
    later = Later()

    def fails() -> object:
        raise KeyError("lost")

    later.start(fails)
    qtbot.waitUntil(lambda: bool(seen), timeout=3000)
    assert seen == [KeyError]


def test_a_fault_that_cannot_be_written_is_said_all_the_same(
    window: Window, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    met = Faults(window.session)
    monkeypatch.setattr(Path, "write_text", lambda *_a, **_k: (_ for _ in ()).throw(OSError(28, "full")))
    met.met(ValueError, ValueError("x"), None)
    assert "ValueError" in window.notice.text() and not met.reports
    assert faults.Faults and "ValueError" in capsys.readouterr().err


def test_whatever_keeps_a_book_shut_is_a_choice(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    asked: list[BookProblem] = []
    monkeypatch.setattr("elbrix.app.opening.ask_what_to_do", asked.append)
    for path in (tmp_path / ("x" * 300 + ".elbrix"), Path("/dev/full/none.elbrix"), tmp_path):
        assert start._open(path) is None
    assert len(asked) == 3 and all(p.what and p.do for p in asked)


# --- words ----------------------------------------------------------------------------------------------------------------


def test_a_name_with_markup_is_shown_as_typed(window: Window, qtbot: QtBot) -> None:
    fifo = window.session.book.path.parent / "pipe"
    os.mkfifo(fifo)
    name = f"<b>nut</b> <img src='{fifo}'>"
    doc = window.session.designs[0]
    window.session.put("Name", DesignDoc(id=doc.id, family=doc.family, title=name, chosen=doc.chosen))
    window.session.pick_design(doc.id)
    for key in all_benches():
        window.open_bench(key)
        for label in window.findChildren(QLabel):
            assert label.textFormat() == Qt.TextFormat.PlainText, label.text()[:60]
    window.open_bench("design")
    assert "<b>" in window.windowTitle() or "<b>" in window.head._title.text()
    set_tip(window, "a <b> & c")
    assert window.toolTip() == "<qt>a &lt;b> &amp; c</qt>" and QToolTip is not None


@pytest.mark.house
def test_every_label_of_the_window_is_our_own_plain_one() -> None:
    """A label of Qt's own guesses whether its text is markup: none is made outside `words`."""
    root = Path(elbrix.app.__file__).parent
    for path in root.rglob("*.py"):
        if path.name != "words.py":
            text = path.read_text()
            assert not re.search(r"\bQLabel\(|\.setToolTip\(", text), path
    assert Label("<i>x").textFormat() == Qt.TextFormat.PlainText


# --- pictures, files ------------------------------------------------------------------------------------------------------


def test_the_shaded_solid_is_kept_and_bounded(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    from elbrix.app.plate import solid as module

    kernel = Kernel()
    mesh = kernel.ask("mesh", Prism(((0, 0), (40, 0), (40, 20), (0, 20)), 0.0, 10.0, "xy"))
    picture = SolidPicture(mesh)
    kernel.stop()
    sizes: list[int] = []
    real = module.shade
    monkeypatch.setattr(module, "shade", lambda t, e, m, w, h: sizes.append(w * h) or real(t, e, m, w, h))

    def painted(palette: Palette) -> QImage:
        image = QImage(3840, 2160, QImage.Format.Format_RGB32)
        image.fill(QColor("white"))
        painter = QPainter(image)
        picture.paint(painter, QRectF(0, 0, 3840, 2160), palette)
        painter.end()
        return image

    def waited(palette: Palette) -> QImage:
        """Painted, shaded beside the window when it has to be, and painted again."""
        painted(palette)
        qtbot.waitUntil(lambda: not picture.findChildren(Later)[0].busy)
        return painted(palette)

    assert painted(LIGHT).pixelColor(1920, 1080) == QColor("white")  # nobody waited for it
    first = waited(LIGHT)
    assert first.pixelColor(1920, 1080) != QColor("white")
    waited(LIGHT)
    waited(DIM)
    picture.turn(30, 0)
    stale = painted(DIM)
    assert waited(DIM) != stale
    assert len(sizes) == 3 and max(sizes) <= 500_000
    newer = SolidPicture(mesh, 75.0, 30.0, before=picture)
    picture = newer
    assert painted(DIM).pixelColor(1920, 1080) != QColor("white")  # what stood there stays till the new one is there
    waited(DIM)
    assert len(sizes) == 4


def test_a_file_is_written_whole_or_stays_as_it_was(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "sheet.pdf"
    write_whole(path, b"first")
    monkeypatch.setattr(os, "fsync", lambda _f: (_ for _ in ()).throw(OSError(28, "full")))
    with pytest.raises(OSError, match="full"):
        write_whole(path, b"second")
    assert path.read_bytes() == b"first" and [p.name for p in tmp_path.iterdir()] == ["sheet.pdf"]


def test_a_kernel_that_stands_still_is_given_up(window: Window, qtbot: QtBot) -> None:
    import signal

    link = window.session.kernel
    window.open_bench("design")
    qtbot.waitUntil(lambda: bool(link.pid) and not link.busy, timeout=30000)
    link.longest = 0.4
    os.kill(link.pid, signal.SIGSTOP)
    old = link.pid
    link.request("anything", "ready")
    started = time.monotonic()
    qtbot.waitUntil(lambda: bool(link.pid) and link.pid != old and not link.busy, timeout=20000)
    assert time.monotonic() - started < 15
