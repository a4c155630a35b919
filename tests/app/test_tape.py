"""The bench calculator's tape: kept with the job, counted on, carried into a field, printed on the route card."""

from __future__ import annotations

from pathlib import Path

from hands import click_number
from pypdf import PdfReader
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDragMoveEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app.paper.documents import route_card
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.documents import JobDoc
from elbrix.book.store import Book


def _ask(window: Window, text: str) -> str:
    window.ask.setFocus()
    window.ask.setText(text)
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    return window.ask.panel.result.text()


def test_lines_are_kept_with_the_job_counted_on_and_printed(window: Window, tmp_path: Path) -> None:
    """41.275 = 1-5/8 inch; half an inch and 12.5 mm are 25.2 mm."""
    assert _ask(window, '12.5 + 1/2"') == "25.2 mm"
    window.ask.panel.card.button("keep").click()
    assert _ask(window, "#1 * 2") == "50.4 mm"
    window.ask.panel.card.button("keep").click()
    _ask(window, "#3 + 1")  # there is no third line
    assert window.ask.answer is None
    book = window.session.book
    book.flush()
    again = Book.open(book.path)
    job = next(j for j in again.all(JobDoc) if j.design == "t-nut-hazel")
    assert [(e.asked, e.text) for e in job.tape] == [('12.5 + 1/2"', "25.2 mm"), ("#1 * 2", "50.4 mm")]
    again.close()
    doc = window.session.design
    assert doc is not None
    write_pdf(route_card(doc, window.session.shop, window.session.style, window.session.job_of(doc)), tmp_path / "card.pdf")
    text = " ".join(" ".join(p.extract_text() for p in PdfReader(tmp_path / "card.pdf").pages).split())
    assert "Worked out for this job" in text and "#2 #1 * 2 = 50.4 mm" in text
    window.ask.clear()
    window.ask.open()
    assert "tape 1" in window.ask.panel.card.rows
    window.ask.panel.card.button("tear").click()
    assert window.session.job_of(doc).tape == ()
    window.undo()
    assert len(window.session.job_of(doc).tape) == 2


def test_a_result_is_carried_into_the_number_that_is_clicked(window: Window, qtbot: QtBot) -> None:
    assert _ask(window, "23.3 / 2") == "11.65 mm"
    window.ask.panel.card.button("carry").click()
    assert "11.65 mm is in the hand" in window.notice.text()
    plate = window.bench.plate
    click_number(plate, "neck_width")
    qtbot.waitUntil(lambda: plate.editor.text() == "11.65 mm")
    QTest.keyClick(plate.editor, Qt.Key.Key_Return)
    design = window.session.design
    assert design is not None and design.chosen["neck_width"].text.startswith("11.65")
    click_number(plate, "head_width")
    qtbot.wait(30)
    assert plate.editor.text() != "11.65 mm"  # it was put down once


def test_escape_lets_a_carried_number_go(window: Window, qtbot: QtBot) -> None:
    window.carry("12.7 mm")
    window.setFocus()
    QTest.keyClick(window, Qt.Key.Key_Escape)
    plate = window.bench.plate
    click_number(plate, "neck_width")
    qtbot.wait(30)
    assert plate.editor.text() != "12.7 mm"


def _drop(target: QWidget, at: QPointF, text: str, *, leave: bool = False) -> bool:
    """Carry a text over a widget and let it go there, or take it away again; whether it was taken."""
    data = QMimeData()
    data.setText(text)
    copy, left, no = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(at.toPoint(), copy, data, left, no)
    QApplication.sendEvent(target, enter)
    if not enter.isAccepted():
        return False
    QApplication.sendEvent(target, QDragMoveEvent(at.toPoint(), copy, data, left, no))
    if leave:
        QApplication.sendEvent(target, QDragLeaveEvent())
        return False
    drop = QDropEvent(at, copy, data, left, no)
    QApplication.sendEvent(target, drop)
    return drop.isAccepted()


def test_a_result_is_dragged_to_its_number(window: Window) -> None:
    assert _ask(window, "23.3 / 2") == "11.65 mm"
    data = window.ask.panel.result.drag().mimeData()
    assert data is not None and data.text() == "11.65 mm"
    row = window.bench.card.rows["neck_width"]
    assert _drop(row, QPointF(5, 5), data.text())
    doc = window.session.design
    assert doc is not None and doc.chosen["neck_width"].text == "11.65" and row.editor is not None
    plate = window.bench.plate
    spot = next(p for p in plate.placed if p.dimension.entry == "neck_height")
    middle = QPointF((spot.text_box[0] + spot.text_box[2]) / 2, -(spot.text_box[1] + spot.text_box[3]) / 2)
    assert _drop(plate, middle, "7.1 mm")
    doc = window.session.design
    assert doc is not None and doc.chosen["neck_height"].text == "7.1" and plate.editing == "neck_height"


def test_what_is_dropped_is_judged_as_what_is_typed(window: Window) -> None:
    rows, before = window.bench.card.rows, window.session.design
    assert _drop(rows["length"], QPointF(5, 5), "twenty") and rows["length"].error_text
    assert not _drop(rows["total_height"], QPointF(5, 5), "12")  # nothing is entered there
    assert not _drop(rows["length"], QPointF(5, 5), "12\n13") and not _drop(rows["length"], QPointF(5, 5), "9" * 500)
    assert not _drop(window.bench.plate, QPointF(2, 2), "12") and not _drop(rows["pieces"], QPointF(5, 5), "3", leave=True)
    assert window.session.design == before
