"""From start to paper with the simulated bench alone, by keyboard: a survey, a tram, a jaw, a grid, a piece as made."""

from __future__ import annotations

from pathlib import Path

import pypdf
import pytest
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QMenu, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app.benches.inspect.view import InspectBench
from elbrix.app.benches.registry import all_benches
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc
from elbrix.instruments import bench as instrument_bench


def _enter(bench: InspectBench, key: str) -> None:
    """A line of the card, by keyboard."""
    bench.card.rows[key].setFocus()
    QTest.keyClick(bench.card.rows[key], Qt.Key.Key_Return)


@pytest.mark.parametrize("kind", ["slot_survey", "head_tram", "jaw", "flatness", "as_made"])
def test_from_start_to_paper(kind: str, window: Window, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, qtbot: QtBot) -> None:
    monkeypatch.setenv(instrument_bench.FOLDER_VARIABLE, str(tmp_path / "i"))
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    QTest.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    bench = window.bench
    assert isinstance(bench, InspectBench)
    bench.choose()
    _enter(bench, f"new {kind}")
    if kind == "as_made":
        _enter(bench, "about t-nut-hazel")
    QTest.keyClick(bench.card.button("practise"), Qt.Key.Key_Space)

    def taken() -> int:
        doc = window.session.in_hand(InspectionDoc)
        return sum(len(r) for r in doc.readings.values()) if doc is not None else 0

    qtbot.waitUntil(lambda: taken() == 1, timeout=15000)
    assert window.isActiveWindow()
    assert window.focusWidget() is not None  # who works by keyboard is not left nowhere when the card is made anew
    assert bench.presenter is not None
    assert bench.presenter.inspection is not None
    wanted = bench.presenter.inspection.sheet.wanted
    for count in range(2, wanted + 1):
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)
        QTest.keyClick(window, Qt.Key.Key_F8)
        qtbot.waitUntil(lambda c=count: taken() == c, timeout=8000)  # type: ignore[misc]
    presenter = bench.presenter
    assert presenter.inspection is not None
    assert presenter.inspection.sheet.complete
    assert presenter.exercise is not None
    # Most of what it found holds the truth (each does with 95 of 100), and none is far from it.
    for key, true in presenter.exercise.answers.items():
        figure = presenter.inspection.figure(key)
        assert abs(figure.value - true) <= 2.5 * figure.u, key
    pages = bench.pages()
    assert pages is not None
    write_pdf(pages, tmp_path / "sheet.pdf")
    text = "".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "sheet.pdf").pages)
    assert "Inspection sheet" in text
    assert presenter.doc.title.split(",")[0] in text
    window.instruments.stop_simulated()
    qtbot.waitUntil(lambda: not window.instruments.names)
    for name in list(instrument_bench._started):
        instrument_bench.reap(name)


class _Strays(QObject):
    """Widgets that were shown as windows of their own, if only for a moment: on a desktop they flash and take the focus."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = []

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        shown = event is not None and event.type() == QEvent.Type.Show
        if shown and isinstance(watched, QWidget) and watched.isWindow() and not isinstance(watched, Window | QMenu | QDialog):
            self.found.append(f"{type(watched).__name__} {watched.accessibleName()}")
        return False


def test_no_part_of_a_bench_is_ever_a_window_by_itself(window: Window, qtbot: QtBot) -> None:
    strays = _Strays()
    app = QApplication.instance()
    assert app is not None
    app.installEventFilter(strays)
    try:
        for key in all_benches():
            window.open_bench(key)
            for kind in (DesignDoc, AngleDoc, LayoutDoc, InspectionDoc):
                for doc in window.session.book.all(kind)[:4]:
                    window.session.take(kind, doc.id)
                    QApplication.processEvents()
            window.session.set_unit("in" if window.session.style.length == "mm" else "mm")
            QApplication.processEvents()
        window.new_design()
        window.ask.open()
        QTest.keyClicks(window.ask, "tap drill M10")
        qtbot.wait(300)
    finally:
        app.removeEventFilter(strays)
    assert not strays.found
