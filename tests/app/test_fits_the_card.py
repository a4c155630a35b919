"""No card is wider than its paper: a number pushed off the edge is a number nobody reads."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication, QPushButton, QScrollArea

from elbrix.app.card.card import Card
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc
from elbrix.items.kind import listed_kinds


def overhang(card: Card) -> int:
    """px of the card's contents beyond what can be seen."""
    QApplication.processEvents()
    area = card.findChild(QScrollArea)
    assert area is not None
    page, view = area.widget(), area.viewport()
    assert page is not None and view is not None
    return page.width() - view.width()


@pytest.mark.parametrize("what", [*listed_kinds(), "hazel", "clover"])
def test_shop(window: Window, what: str) -> None:
    window.open_bench("shop")
    for size in (980, 1280):
        window.resize(size, 800)
        window.bench.see(what)  # type: ignore[attr-defined]
        if what == "blocks":
            window.bench.plate.clicked.emit("block 1.11")
        assert overhang(window.bench.card) <= 0


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_no_button_of_an_item_is_cut_off(window: Window, unit: str) -> None:
    """Some have four of them at the foot of the card."""
    window.session.set_unit(unit)
    window.open_bench("catalogue")
    most = 0
    for design in window.session.designs:
        window.session.pick_design(design.id)
        card = window.bench.card
        QApplication.processEvents()
        buttons = [b for b in card.findChildren(QPushButton) if b.isVisibleTo(card) and b.text()]
        most = max(most, card._foot.count())
        for button in buttons:
            assert button.width() >= button.sizeHint().width() - 1, (design.id, button.text())
        assert overhang(card) <= 0, design.id
    assert most >= 4


def test_designs_and_settings(window: Window) -> None:
    for unit in ("mm", "in"):
        window.session.set_unit(unit)
        window.open_bench("design")
        for design in window.session.designs:
            window.session.pick_design(design.id)
            assert overhang(window.bench.card) <= 0, design.id
        window.open_bench("angles")
        for setting in window.session.book.all(AngleDoc):
            window.session.take(AngleDoc, setting.id)
            assert overhang(window.bench.card) <= 0, setting.id
