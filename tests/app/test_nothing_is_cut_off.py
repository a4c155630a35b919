"""At 1280 × 800 no label, value or hint is cut off: tiles, card rows and film strip of everything there is, in mm and inches."""

from __future__ import annotations

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.card.card import Card
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.proof.strip import ProofStrip
from elbrix.app.session import Session
from elbrix.app.theme.type import font
from elbrix.app.window import Window
from elbrix.book.designs import new_design
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc
from elbrix.demo import write_demo
from elbrix.design.family import all_families
from elbrix.items.kind import listed_kinds


@pytest.fixture(scope="module")
def shown(tmp_path_factory: pytest.TempPathFactory, qapp: QApplication) -> Window:
    book = write_demo(tmp_path_factory.mktemp("cut") / "demo.elbrix")
    for key, family in all_families().items():
        for parameter in family.parameters:
            if parameter.name == "kind":  # every kind of every family, as it is proposed
                for value, _ in parameter.choices:
                    from elbrix.book.designs import choose

                    fresh = new_design(family, f"{key}-{value}", "hazel", "middle slot", f"{family.title}, {value}")
                    book.put("kinds", choose(fresh, "kind", value))
    window = Window(Session(book))
    window.resize(1280, 800)
    window.show()
    QApplication.processEvents()
    return window


#: Mark and margin beside a sentence, px.
_ROUND_A_SENTENCE = 26


def cut_rows(card: Card) -> list[str]:
    """Rows whose label or value does not stand whole in its room."""
    found = []
    for row in card.rows.values():
        room = row.width()
        label = QFontMetrics(font(13, bold=row.row.strong)).horizontalAdvance(row.row.label)
        value = QFontMetrics(font(14, bold=row.row.strong)).horizontalAdvance(row.row.value or row.row.placeholder)
        if not row._wraps and 20 + label + value + 34 + 6 > room:
            found.append(f"{row.row.label} {row.row.value}")
        if QFontMetrics(font(12)).horizontalAdvance(row.row.label) > room - 26 and row._wraps:
            found.append(row.row.label)
        if row._wraps and row.row.value:
            said = f"{row.row.value} {row.row.unit}".strip()
            box = QFontMetrics(font(13)).boundingRect(0, 0, room - _ROUND_A_SENTENCE, 4000, int(Qt.TextFlag.TextWordWrap), said)
            if 22 + box.height() > row._high:
                found.append(f"{row.row.label} | {said}")
    return found


def cut_tiles(strip: ProofStrip) -> list[str]:
    found = []
    for widget in strip.tiles:
        if widget.tile is not None:
            value = QFontMetrics(font(12, bold=True)).horizontalAdvance(widget.tile.value)
            label = QFontMetrics(font(12)).horizontalAdvance(widget.tile.label)
            if label > widget.width() - value - 44:
                found.append(f"{widget.tile.label} | {widget.tile.value}")
    return found


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_tiles_and_rows_are_whole(unit: str, shown: Window) -> None:
    session = shown.session
    session.set_unit(unit)
    cut: set[str] = set()
    for kind, bench in (
        (DesignDoc, "design"),
        (DesignDoc, "catalogue"),
        (AngleDoc, "angles"),
        (LayoutDoc, "hold"),
        (InspectionDoc, "inspect"),
    ):
        shown.open_bench(bench)
        for doc in session.book.all(kind):
            session.take(kind, doc.id)
            QApplication.processEvents()
            cut |= {f"{doc.id}: {words}" for words in (*cut_rows(shown.bench.card), *cut_tiles(shown.bench.strip))}
            hints = shown.bench.card._hints
            cut |= {
                f"{doc.id}, hint: {h.text()}"
                for h in hints
                if h.isVisible() and h.text() and h.fontMetrics().horizontalAdvance(h.text()) > h.width() + 1
            }
    assert not cut


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_machines_and_things_of_the_shop_are_whole(unit: str, shown: Window) -> None:
    """A lathe's row of speeds was high enough for its numbers and not for their unit."""
    session = shown.session
    session.set_unit(unit)
    shown.open_bench("shop")
    bench = shown.benches["shop"]
    assert isinstance(bench, ShopBench)
    cut: set[str] = set()
    for what in (*(m.id for m in session.shop.machines), *listed_kinds()):
        bench.see(what)
        QApplication.processEvents()
        cut |= {f"{what}: {words}" for words in cut_rows(bench.card)}
    assert not cut


def test_film_strip_drawers_and_preparation_are_whole(shown: Window) -> None:
    """Every plan of the demo shop with every size it asks for measured: setups, tiles; and the drawers of the catalogue."""
    session = shown.session
    cut: set[str] = set()
    for doc in [d for d in session.book.all(DesignDoc) if "-" in d.id]:
        session.pick_design(doc.id)
        shown.open_bench("make")
        make = shown.bench
        assert isinstance(make, MakeBench)
        shown.refresh()
        QApplication.processEvents()
        plan = make.presenter.plan if make.presenter is not None else None
        if plan is None:
            continue
        asked = {m.asked.key: m.asked.expected_mm for _, _, m in plan.moves if m.asked is not None}
        session.put("measured", replace(session.job_of(doc), measured=asked))
        shown.refresh()
        QApplication.processEvents()
        cut |= {f"{doc.id}: {words}" for words in cut_tiles(make.strip)}
        cut |= {label.text() for label in (shown.head._title, shown.head._subtitle) if "…" in label.text()}
        cut |= {f"{doc.id}: {t.title}" for t in make.film.findChildren(Thumbnail) if "…" in "".join(t.title_lines())}
    shown.open_bench("catalogue")
    QApplication.processEvents()
    thumbs = shown.bench.findChildren(Thumbnail)
    assert len(thumbs) > 5
    cut |= {t.title for t in thumbs if "…" in "".join(t.title_lines())}
    assert not cut
