"""The assembly sheet: every part has a number, every balloon points at what it names, every step is there once."""

from __future__ import annotations

from typing import Any

import pytest
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication

from elbrix.app.paper.assembly_sheet import assembly_sheet, middle_of
from elbrix.app.paper.pages import Pen
from elbrix.app.window import Window
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.book.parts import parts_list
from elbrix.demo import documents
from elbrix.design.work import HandOperation
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from elbrix.results.length_text import said_in

SHOP = shop_of(documents())
DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
PUT_TOGETHER = [id for id, doc in DOCS.items() if parts_list(doc, SHOP)]


@pytest.mark.parametrize("id", PUT_TOGETHER)
@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
def test_every_part_and_every_step_stands_once(
    id: str, style: UnitStyle, qapp: QApplication, monkeypatch: pytest.MonkeyPatch
) -> None:
    doc = DOCS[id]
    sheet = assembly_sheet(doc, SHOP, style)
    assert [line.number for line in sheet.lines] == list(range(1, len(parts_list(doc, SHOP)) + 2))
    written: list[str] = []
    write = Pen.words

    def kept(pen: Pen, x: float, y: float, wide: float, text: str, *how: Any, **named: Any) -> Any:
        written.append(text)
        return write(pen, x, y, wide, text, *how, **named)

    monkeypatch.setattr(Pen, "words", kept)
    for page in range(sheet.count):
        image = QImage(2100, 2970, QImage.Format.Format_RGB32)
        painter = QPainter(image)
        sheet.paint(painter, page)
        painter.end()
    said = " ".join(written)
    for line in sheet.lines:
        assert line.words in said and line.there
    hand = [s for s in family_of(doc).work(solve_doc(doc, SHOP), SHOP).steps if isinstance(s, HandOperation)]
    for step in hand:
        words, caution = said_in(step.words, style), said_in(step.caution, style)
        assert written.count(words) == 1 and (not caution or f"▲ {caution}" in written)
        assert step.first or f"Check: {said_in(step.check, style)}" in written
    # Each step and each of its checks has a box to tick.
    assert written.count("□") == len(sheet.steps) + sum(bool(s.check) for s in sheet.steps)
    # A thing that is picked from the picture has its balloon: the number in the list and once more beside the picture.
    for line in sheet.lines:
        assert written.count(str(line.number)) == 1 + (middle_of(sheet.scene, line.feature) is not None)


def test_most_parts_are_pointed_at_and_on_their_own_shape() -> None:
    pointed = every = 0
    for id in PUT_TOGETHER:
        sheet = assembly_sheet(DOCS[id], SHOP, METRIC)
        left, bottom, right, top = sheet.scene.bounds()
        for line in sheet.lines:
            every += 1
            at = middle_of(sheet.scene, line.feature)
            if at is not None:
                pointed += 1
                assert left <= at[0] <= right and bottom <= at[1] <= top
    assert pointed > 0.6 * every


def test_a_single_piece_says_there_is_nothing_to_put_together() -> None:
    alone = next(d for id, d in DOCS.items() if id not in PUT_TOGETHER)
    with pytest.raises(ShopError, match="single piece"):
        assembly_sheet(alone, SHOP, METRIC)


def test_it_is_printed_from_the_item(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    window.open_bench("catalogue")
    window.session.pick_design("clamps-toe")
    bench = window.bench
    seen: list[str] = []
    monkeypatch.setattr(bench, "print_page", lambda: seen.append(bench.pages().name))
    bench.card.pressed.emit("assembly")
    assert seen and "assembly" in seen[0]
