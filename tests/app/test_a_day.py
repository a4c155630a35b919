"""A day of a toolmaker through the window: measure, design, make, inspect, put away, and find it again."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit
from pytestqt.qtbot import QtBot

from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.benches.design.view import DesignBench
from elbrix.app.benches.inspect.view import InspectBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.results.checks import Verdict
from elbrix.shop.machines import Machine
from elbrix.shop.stock import Bar
from elbrix.shop.tooling import Cutter


def _enter(line: QLineEdit, text: str) -> None:
    line.clear()
    QTest.keyClicks(line, text)
    QTest.keyClick(line, Qt.Key.Key_Return)


def _found_by_need(window: Window, qtbot: QtBot, need: str, place: str) -> None:
    window.ask.setFocus()
    window.ask.setText(need)
    QTest.keyClick(window.ask, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: "What meets" in window.ask.panel.title.text(), timeout=20_000)
    rows = [shown.row for shown in window.ask.panel.card.rows.values()]
    assert any(place in str(row) for row in rows), rows


def test_from_a_bare_table_to_a_drawer_and_back(empty_window: Window, qtbot: QtBot) -> None:
    window, book = empty_window, empty_window.session.book
    book.put("What the shop has", *(d for d in documents() if isinstance(d, Bar | Cutter)))

    # Morning: a machine, and its slot by caliper, three places of four sizes.
    shop = window.bench
    assert isinstance(shop, ShopBench)
    shop.add_machine("Lark")
    shop.start_measuring()
    places = "14.08 9.6 23.1 18.4", "14.05 9.5 23.0 18.3", "14.10 9.6 23.1 18.4"  # neck, lip, head, floor
    for reading in " ".join(places).split():
        _enter(shop.measuring.line, reading)
        assert not shop.measuring.error_text
    lark = next(m for m in book.shop.machines if m.name == "Lark")
    (slot,) = lark.slots
    assert slot.measured and slot.neck is not None and slot.neck.min == 14.05

    # A nut that fits, by typing one number; everything else follows from the slot.
    window.open_bench("design")
    design = window.bench
    assert isinstance(design, DesignBench)
    design.start_design("t_nut", lark.id, slot.label)
    window.refresh()
    doc = window.session.design
    assert doc is not None and design.presenter is not None and design.presenter.design is not None
    assert design.presenter.design.verdict is not Verdict.NO_GO
    neck = design.presenter.design.values.number("neck_width")
    assert 0.1 < slot.neck.min - neck < 0.6
    doc_id = doc.id

    # Noon: the plan, rehearsed, every move ticked; the last one owns the pieces.
    window.open_bench("make")
    make = window.bench
    assert isinstance(make, MakeBench)
    qtbot.waitUntil(lambda: make.presenter is not None and make.presenter.heard is not None, timeout=60_000)
    assert make.presenter is not None and make.presenter.heard is not None and make.presenter.heard.slip is None
    for _ in make.presenter.lines():
        QTest.keyClick(make.moves, Qt.Key.Key_Space)
    made = book.get(DesignDoc, doc_id)
    assert made is not None and made.made == made.pieces

    # Afternoon: one piece measured against its drawing, kept with it.
    window.open_bench("inspect")
    inspect = window.bench
    assert isinstance(inspect, InspectBench)
    inspect.start("as_made")
    inspect.pick(f"about {doc_id}")
    assert inspect.presenter is not None
    for key, place in list(inspect.presenter.places.items()):
        drawn = design.presenter.design.values.number(place.key) if design.presenter.design is not None else 0.0
        inspect.typed_on_card(key, "; ".join(f"{drawn - 0.01:.3f}" for _ in range(place.times)))
    assert inspect.presenter is not None and inspect.presenter.inspection is not None
    assert inspect.presenter.inspection.sheet.complete
    inspect.card.button("keep as made").click()

    # Evening: released, in its drawer.
    window.open_bench("catalogue")
    catalogue = window.bench
    assert isinstance(catalogue, CatalogueBench)
    window.session.pick_design(doc_id)
    catalogue.card.typed.emit("location", "Drawer 2, front")
    kept = book.get(DesignDoc, doc_id)
    assert kept is not None and kept.as_made and kept.location == "Drawer 2, front"

    # Next morning, from the file: asked for by need, it is found where it lies.
    book.flush()
    again = Book.open(book.path)
    assert again.read_only  # the window still has it
    assert again.get(DesignDoc, doc_id) == kept and again.get(Machine, lark.id) == lark
    again.close()
    thread = design.presenter.design.values.word("thread") if design.presenter.design is not None else ""
    _found_by_need(window, qtbot, f"{thread.partition('x')[0]} stud on Lark", "Drawer 2, front")
