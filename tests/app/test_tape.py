"""The bench calculator's tape: kept with the job, counted on, carried into a field, printed on the route card."""

from __future__ import annotations

from pathlib import Path

from hands import click_number
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
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
