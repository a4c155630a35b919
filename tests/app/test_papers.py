"""Every page of every paper of the demo shop, in mm and inches: nothing over anything, nothing off the page, nothing cut."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter
from PyQt6.QtWidgets import QApplication

from elbrix.app.paper import documents as papers
from elbrix.app.paper.assembly_sheet import assembly_sheet
from elbrix.app.paper.batch_sheet import batch_sheet
from elbrix.app.paper.catalogue_pages import catalogue_pages, label_sheet
from elbrix.app.paper.inspection_sheet import inspection_sheet
from elbrix.app.paper.layout_card import LayoutCard
from elbrix.app.paper.pages import Pages, Pen
from elbrix.app.paper.setting_card import SettingCard
from elbrix.app.theme.type import font
from elbrix.book.batches import batch_of
from elbrix.book.documents import AngleDoc, Chosen, DesignDoc, InspectionDoc, JobDoc, LayoutDoc, TakenDoc, shop_of
from elbrix.book.parts import parts_list
from elbrix.demo import documents
from elbrix.drawing.scene import Note
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.batch import BatchPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from elbrix.results.length_text import LENGTH_UNIT, length, plain, said_in
from elbrix.solids.client import Kernel

DOCS = documents()
SHOP = shop_of(DOCS)
ITEMS = [d for d in DOCS if isinstance(d, DesignDoc | AngleDoc | LayoutDoc | InspectionDoc)]
DESIGNS = [d for d in DOCS if isinstance(d, DesignDoc)]
STYLES = {"mm": METRIC, "in": INCH}

Written = list[tuple[QRectF, str, float]]


@pytest.fixture(autouse=True)
def app(qapp: QApplication) -> None:
    """Fonts need the application."""


@pytest.fixture
def written(monkeypatch: pytest.MonkeyPatch) -> Written:
    """Everything that a pen writes, with the box that its letters really take."""
    found: Written = []
    write = Pen.words

    def words(self: Pen, x: float, y: float, width: float, text: str, size: float = 32, **how: object) -> float:
        used = write(self, x, y, width, text, size, **how)  # type: ignore[arg-type]
        if text.strip():
            metrics = QFontMetricsF(font(size, bold=bool(how.get("bold")), italic=bool(how.get("italic"))))
            longest = max(metrics.horizontalAdvance(line) for line in text.split("\n"))
            wide = min(width, longest)
            left = {"left": x, "right": x + width - wide, "centre": x + (width - wide) / 2}[str(how.get("align", "left"))]
            found.append((QRectF(left, y, max(wide, metrics.horizontalAdvance(max(text.split(), key=len))), used), text, size))
        return used

    monkeypatch.setattr(Pen, "words", words)
    return found


def papers_of(doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc, style: UnitStyle, kernel: Kernel) -> Iterator[Pages]:
    if isinstance(doc, DesignDoc):
        yield papers.drawing_sheet(doc, SHOP, style, kernel)
        yield papers.route_card(doc, SHOP, style, JobDoc(id="j", design=doc.id))
        yield papers.drawer_label(doc, SHOP, style)
        if parts_list(doc, SHOP):
            yield assembly_sheet(doc, SHOP, style)
    elif isinstance(doc, AngleDoc):
        angles = AnglesPresenter(doc, SHOP, style)
        assert angles.setting is not None
        yield SettingCard(name="card", presenter=angles, setting=angles.setting)
    elif isinstance(doc, InspectionDoc):
        inspect = InspectPresenter(doc, SHOP, style, DESIGNS)
        assert inspect.inspection is not None
        yield inspection_sheet(inspect)
    else:
        hold = HoldPresenter(doc, SHOP, style)
        assert hold.hold is not None
        yield LayoutCard(name="card", presenter=hold, hold=hold.hold)


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("doc", [d for d in ITEMS if not isinstance(d, AngleDoc)], ids=lambda d: d.id)
def test_no_heading_stands_alone_at_the_foot_of_a_page(
    doc: DesignDoc | LayoutDoc | InspectionDoc, unit: str, kernel: Kernel, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What is to be done under "Turn Ø6.008" stood overleaf, and the heading was all of it that page 1 had."""
    from elbrix.app.paper import pages as module

    flow = module.flowed

    def looked(blocks, style):  # type: ignore[no-untyped-def]
        listed: list[module.Block] = []
        found = flow(lambda pen: listed.extend(blocks(pen)) or listed, style)  # type: ignore[func-returns-value]
        heads = {id(block.draw) for block in listed if block.heading}
        assert not [page for page in found[:-1] if id(page[-1][1]) in heads]
        assert sum(len(page) for page in found) == len(listed)
        return found

    monkeypatch.setattr(module, "flowed", looked)
    monkeypatch.setattr("elbrix.app.paper.route_card.flowed", looked)
    for sheet in papers_of(doc, STYLES[unit], kernel):
        assert sheet.count > 0


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("doc", ITEMS, ids=lambda d: d.id)
def test_nothing_is_written_over_anything(
    doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc, unit: str, written: Written, kernel: Kernel
) -> None:
    for pages in papers_of(doc, STYLES[unit], kernel):
        _nothing_over_anything(pages, written)


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_catalogue_label_sheet_and_a_long_sheet_of_readings_are_whole(unit: str, written: Written) -> None:
    style = STYLES[unit]
    designs = DESIGNS[::3] if unit == "mm" else DESIGNS[1::3]  # some in each unit: a page is solved anew and takes its time
    book = catalogue_pages(designs, SHOP, style, "Catalogue of the shop")
    _nothing_over_anything(book, written)
    written.clear()
    for index in range(book.count):
        painter = QPainter(image := QImage(64, 64, QImage.Format.Format_RGB32))
        book.paint(painter, index)
        painter.end()
        assert not image.isNull()
    texts = [text for _, text, _ in written]
    for design in designs:
        assert sum(design.title.startswith(t.rstrip("…")) and len(t) > 6 for t in texts) >= 2, (
            design.title
        )  # its place, and the index
    labels = label_sheet((DESIGNS * 2)[:44], SHOP, style)
    assert labels.count == 2
    many = {
        f"c{i}r{j}": (TakenDoc(value=0.001 * i - 0.002 * j, u=0.003, tool="dial-1"),) for i in range(1, 13) for j in range(1, 13)
    }
    chosen = {"columns": Chosen(text="12"), "rows": Chosen(text="12")}
    grid = InspectionDoc(id="g", kind="flatness", title="A large plate", began="2026-11-29", chosen=chosen, readings=many)
    sheet = inspection_sheet(InspectPresenter(grid, SHOP, style))
    assert sheet.count == 2
    _nothing_over_anything(sheet, written)
    # Forty holes and a page full of orders: every one of them is on a page, and every caution.
    holes = [(15 * (n % 8), 20 * (n // 8)) for n in range(40)]
    read = {
        f"h{n + 1}{a}": (TakenDoc(value=p[i] + (0.3 if n % 3 == 0 else 0), u=0.005),)
        for n, p in enumerate(holes)
        for i, a in enumerate("xy")
    }
    spots = InspectionDoc(id="s", kind="spots", title="Many holes", began="2026-11-29", readings=read)
    spots = replace(spots, chosen={"wanted": Chosen(text="; ".join(f"{x},{y}" for x, y in holes))})
    sheet = inspection_sheet(InspectPresenter(spots, SHOP, style))
    _nothing_over_anything(sheet, written)
    said = all_words(sheet, written)
    found = sheet.inspection
    for step in found.steps:
        assert any(said_in(step, style) in text for text in said)
    for words in (
        *found.cautions,
        *(c.label for c in found.checks),
        *(sheet.presenter.row(k).label for g in found.groups for k in g.rows),
    ):
        assert any(said_in(words, style) in text for text in said), words


def all_words(pages: Pages, written: Written) -> list[str]:
    """What the pages say, with its lengths in the unit on show."""
    written.clear()
    for index in range(pages.count):
        painter = QPainter(image := QImage(64, 64, QImage.Format.Format_RGB32))
        pages.paint(painter, index)
        painter.end()
        assert not image.isNull()
    return [said_in(text, STYLES["in" if "inches" in " ".join(t for _, t, _ in written) else "mm"]) for _, text, _ in written]


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, LayoutDoc)], ids=lambda d: d.id)
def test_a_layout_card_has_its_cut_every_thing_every_doubt_and_every_caution(doc: LayoutDoc, unit: str, written: Written) -> None:
    """Whoever clamps by it has no screen beside the machine."""
    presenter = HoldPresenter(doc, SHOP, STYLES[unit])
    hold = presenter.hold
    assert hold is not None
    said = all_words(LayoutCard(name="card", presenter=presenter, hold=hold), written)
    wanted = [*hold.cautions, *hold.tighten, *hold.swaps, *(g.title for g in hold.groups if g.id != "holding")]
    wanted += [c.reason for c in hold.checks if c.verdict.rank]
    wanted += [presenter.row(k).label for g in hold.groups if g.id == "cut" for k in g.rows]
    for words in wanted:
        assert any(said_in(words, STYLES[unit]) in text for text in said), words


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_the_batch_sheet_has_every_bar_setup_and_tool(unit: str, written: Written) -> None:
    style, known = STYLES[unit], {d.id: d for d in DESIGNS}
    jobs = [(known[i], None) for i in ("t-nut-hazel", "t-nut-tam", "t-nut-clover", "v-jaws", "table-keys")]
    batch = batch_of(jobs, SHOP, style.length)
    sheet = batch_sheet(BatchPresenter(batch, style))
    _nothing_over_anything(sheet, written)
    written.clear()
    for index in range(sheet.count):
        painter = QPainter(image := QImage(64, 64, QImage.Format.Format_RGB32))
        sheet.paint(painter, index)
        painter.end()
        assert not image.isNull()
    said = "\n".join(text for _, text, _ in written).lower()
    for words in (
        *(u.bar.title for u in batch.layout.bars),
        *(k.item.words for k in batch.kit),
        *(t.setup.title for t in batch.turns),
        *batch.titles.values(),
    ):
        assert words.lower() in said, words
    rests = " ".join(e.text for e in BatchPresenter(batch, style).plate().scene.elements if isinstance(e, Note))
    for use in batch.layout.bars:
        assert (f"{use.left_mm / 25.4:.2f}" if unit == "in" else f"{use.left_mm:g}") in plain(rests)


def _nothing_over_anything(pages: Pages, written: Written) -> None:
    """Every page: inside its paper, and no text over another."""
    image = QImage(64, 64, QImage.Format.Format_RGB32)
    wide, high = (10 * v for v in pages.size_mm)
    for index in range(pages.count):
        written.clear()
        painter = QPainter(image)
        pages.paint(painter, index)
        painter.end()
        where = f"{pages.name}, page {index + 1}"
        assert written, where
        for box, text, _ in written:
            assert QRectF(-1, -1, wide + 2, high + 2).contains(box), (where, text)
        # Letters stand inside their line: a sliver of shared leading is no overlap.
        bodies = [(b.adjusted(2, 0.22 * s, -2, -0.18 * s), t) for b, t, s in written]
        for i, (a, first) in enumerate(bodies):
            for b, second in bodies[i + 1 :]:
                both = a.intersected(b)
                assert both.width() < 4 or both.height() < 3, (where, first, second)


#: What is no size of the part: names of threads, masses, scales, roughness, and what the shop calls its things.
_NO_SIZES = re.compile(r"M\d+(?:\.\d+)? × \d+(?:\.\d+)?|\d+(?:\.\d+)? (?:kg|g)\b|\d+ : \d+|Ra 3\.2 µm|\d+ mm vise|\d+(?:\.\d+)?°")


@pytest.mark.parametrize("doc", [d for d in ITEMS if isinstance(d, DesignDoc)], ids=lambda d: d.id)
def test_an_inch_drawing_has_no_metric_sizes(doc: DesignDoc, written: Written, kernel: Kernel) -> None:
    """Hole table, note and general tolerance speak inches: nothing with a decimal says the same as on the metric sheet."""

    def sheet(style: UnitStyle) -> set[str]:
        written.clear()
        image = QImage(64, 64, QImage.Format.Format_RGB32)
        painter = QPainter(image)
        papers.drawing_sheet(doc, SHOP, style, kernel).paint(painter, 0)
        painter.end()
        return {_NO_SIZES.sub("", t) for _, t, _ in written}

    metric, inch = sheet(METRIC), sheet(INCH)
    assert not [t for t in inch if re.search(r"\d ?mm\b", t)]
    assert not {t for t in metric & inch if re.search(r"\d\.\d", t)}


@pytest.mark.parametrize("doc", [d for d in ITEMS if isinstance(d, DesignDoc)], ids=lambda d: d.id)
def test_no_dial_number_is_split_or_cut(doc: DesignDoc, written: Written, kernel: Kernel) -> None:
    card = papers.route_card(doc, SHOP, METRIC, JobDoc(id="j", design=doc.id))
    image = QImage(64, 64, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    for index in range(card.count):
        card.paint(painter, index)
    painter.end()
    texts = " \n ".join(t for _, t, _ in written)
    for _, _, move in card.plan.moves:
        for position in move.positions:
            assert f"{position.axis}  {position.dial.text}" in texts
    for item in card.plan.kit:
        assert item.words in texts
    told = [*card.plan.problems, *card.plan.assumed]
    for setup in card.plan.setups:
        told += [setup.title, setup.holding, setup.datum, *setup.cautions]
        for operation in setup.operations:  # how it is done: by hand, half a turn back; a millimetre at a time
            told += [operation.title, operation.tool, operation.note]
            for move in operation.moves:
                told += [move.words, move.lock, move.direction, move.caution]
                told += [move.asked.asking] if move.asked is not None else []
    flat = plain(texts)
    assert not [t for t in told if t and plain(t) not in flat]


def drawn(style: UnitStyle, text: str) -> QImage:
    image = QImage(700, 120, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    pen = Pen(painter, style)
    pen.words(10, 10, 680, text, 30)
    painter.end()
    return image


@pytest.mark.parametrize("text", ["key from a {} slot to a {} one", "at X {}, Y {}", "not {} {} moved"])
def test_whoever_wrote_it_a_paper_says_lengths_in_the_shops_unit(text: str) -> None:
    """Drawer labels, layout cards and route cards had sentences that nobody had put into inches: the pen does it now."""
    marked = text.format(length(12.7), length(25.4)) if "moved" not in text else text.format(length(0.0254), LENGTH_UNIT)
    inch = text.format("0.5000", "1.0000") if "moved" not in text else text.format("0.0010", "inches")
    metric = text.format("12.7", "25.4") if "moved" not in text else text.format("0.025", "mm")
    assert drawn(INCH, marked) == drawn(INCH, inch)
    assert drawn(METRIC, marked) == drawn(METRIC, metric)
    assert drawn(INCH, marked) != drawn(METRIC, marked)
    painter = QPainter(image := QImage(8, 8, QImage.Format.Format_RGB32))
    pen = Pen(painter, INCH)
    assert pen.height(300, marked, 30) == pen.height(300, inch, 30)
    assert pen.fits(300, marked, 30) == pen.fits(300, inch, 30)
    painter.end()
    assert not image.isNull()


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_label_says_what_its_item_can_hold_in_the_shops_unit(unit: str, written: Written) -> None:
    for doc in DESIGNS[::4]:
        painter = QPainter(image := QImage(64, 64, QImage.Format.Format_RGB32))
        papers.drawer_label(doc, SHOP, STYLES[unit]).paint(painter, 0)
        painter.end()
        assert not image.isNull()
    assert written
    assert not [text for _, text, _ in written if "\u2063" in text]
