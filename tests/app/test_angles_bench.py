"""The Angles bench in a real window: typed, dragged, carried, chosen, wrung, printed, searched."""

from __future__ import annotations

import math
from fractions import Fraction
from pathlib import Path

import pytest
from hands import click_number, drag, middle_of, type_in
from pypdf import PdfReader
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QMenu
from pytestqt.qtbot import QtBot

from elbrix.angles.setup import all_kinds
from elbrix.app.benches.angles.view import AnglesBench
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc
from elbrix.quantities.angles import parse_angle
from elbrix.shop.gauges import BlockState, GaugeSet


@pytest.fixture
def bench(window: Window) -> AnglesBench:
    window.open_bench("angles")
    found = window.benches["angles"]
    assert isinstance(found, AnglesBench)
    found.show_document("angle-gnomon")
    return found


def doc(bench: AnglesBench, id: str = "angle-gnomon") -> AngleDoc:
    found = bench.session.book.get(AngleDoc, id)
    assert found is not None
    return found


def stack(bench: AnglesBench) -> list[str]:
    assert bench.presenter is not None
    return bench.presenter.stack_text().split()


def box(bench: AnglesBench) -> GaugeSet:
    found = bench.session.book.get(GaugeSet, "box-88")
    assert found is not None
    return found


# --- the wedge, from the drawing to the card --------------------------------------------------------------------------


def test_the_gnomon_wedge_as_worked_by_hand(bench: AnglesBench) -> None:
    # 100·sin 53°14′ = 80.1080; with 1.11 lent out: 70 + 8 + 1.1 + 1.008.
    assert stack(bench) == ["70", "8", "1.1", "1.008"]
    assert bench.card.rows["height"].row.value == "80.1080"
    assert bench.card.rows["read_back"].row.value == "53.2° ± 12′"
    assert not any(t.tile and t.tile.verdict == "no-go" for t in bench.strip.tiles)


def test_type_the_angle_on_the_plate(bench: AnglesBench) -> None:
    type_in(bench.plate, "angle", "30d")
    assert bench.card.rows["height"].row.value == "50.0000" and stack(bench) == ["50"]
    bench.session.book.undo()
    assert stack(bench) == ["70", "8", "1.1", "1.008"]  # one step for the whole entry


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("95", "out of range"),
        ("-3", "out of range"),
        ("53,2", "no angle"),
        ("53d61m", "60 or more"),
        ("wide", "no angle"),
        ("89.95", "out of range"),
    ],
)
def test_a_wrong_angle_says_why_beside_it_and_loses_nothing(bench: AnglesBench, typed: str, said: str) -> None:
    before = doc(bench)
    click_number(bench.plate, "angle")
    bench.plate.editor.setText(typed)
    bench.plate.typed.emit("angle", typed)
    assert said in bench.plate.error_text and doc(bench) == before
    QTest.keyClick(bench.plate.editor, Qt.Key.Key_Escape)
    assert doc(bench) == before


def test_dragging_the_plate_settles_on_what_two_blocks_make(bench: AnglesBench) -> None:
    plate = bench.plate
    handle = plate.shown.scene.handles[0]
    pane = plate.panes[0]
    start = pane.view.px(((handle.a[0] + handle.b[0]) / 2, (handle.a[1] + handle.b[1]) / 2))
    drag(plate, start, start + QPointF(12, 22))
    blocks = stack(bench)
    assert blocks != ["70", "8", "1.1", "1.008"] and len(blocks) <= 2
    angle = parse_angle(doc(bench).chosen["angle"].text)
    assert 100 * math.sin(angle) == pytest.approx(float(sum(Fraction(b) for b in blocks)), abs=2e-5)


def test_carry_a_block_onto_the_stack_to_swap_it_and_off_to_take_it_away(bench: AnglesBench) -> None:
    plate = bench.plate
    drag(plate, middle_of(plate, "block 7"), middle_of(plate, "stack 8"))
    assert stack(bench) == ["70", "7", "1.1", "1.008"] and doc(bench).chosen["stack"].text == "70 7 1.1 1.008"
    drag(plate, middle_of(plate, "stack 7"), QPointF(20, plate.height() - 60))
    assert stack(bench) == ["70", "1.1", "1.008"]
    drag(plate, middle_of(plate, "block 9"), middle_of(plate, "plate"))
    assert stack(bench) == ["70", "9", "1.1", "1.008"]
    for _ in range(3):
        bench.session.book.undo()
    assert stack(bench) == ["70", "8", "1.1", "1.008"] and "stack" not in doc(bench).chosen


@pytest.mark.parametrize(("block", "why"), [("1.11", "lent out"), ("1.005", "worn")])
def test_a_block_that_is_not_here_cannot_be_carried(bench: AnglesBench, block: str, why: str) -> None:
    drag(bench.plate, middle_of(bench.plate, f"block {block}"), middle_of(bench.plate, "stack 8"))
    assert stack(bench) == ["70", "8", "1.1", "1.008"]
    assert why in bench.card.rows["stack"].error_text


def test_take_another_stack_another_way_and_back(bench: AnglesBench) -> None:
    key = next(k for k in bench.card.rows if k.startswith("take "))
    bench.card.rows[key].activate()
    assert " ".join(stack(bench)) == key[5:]
    bench.card.rows["method level"].activate() if "method level" in bench.card.rows else bench.pick("method digital level")
    assert doc(bench).chosen["method"].text == "digital level"
    assert "set by level on the work" in bench.title()[1]
    check = next(t.tile for t in bench.strip.tiles if t.tile and t.tile.key == "method")
    assert check.verdict == "no-go"  # 12′ where 2′ are asked
    bench.card.released.emit("method")
    assert "method" not in doc(bench).chosen and "sine plate and stack" in bench.title()[1]


def test_wring_books_the_blocks_out_and_back(bench: AnglesBench) -> None:
    bench.card.button("wring").click()
    out = {b.nominal for b in box(bench).blocks if b.state is BlockState.IN_USE}
    assert out == {"70", "8", "1.1", "1.008"} and "4 blocks out of the box" in bench.title()[1]
    assert stack(bench) == ["70", "8", "1.1", "1.008"]  # its own blocks still count as here
    bench.show_document("angle-height")
    assert not out & set(stack(bench))
    bench.show_document("angle-gnomon")
    bench.card.button("back").click()
    assert all(b.state is not BlockState.IN_USE for b in box(bench).blocks)


def test_a_chosen_stack_whose_block_leaves_is_told_and_mended(bench: AnglesBench) -> None:
    bench.pick("stack", "70 8 1.1 1.008")
    lent = box(bench)
    from msgspec.structs import replace

    bench.session.put("lend", lent.with_block(replace(lent.block("8"), state=BlockState.LENT)))
    assert "8" not in stack(bench)
    bench.open_why("dropped")
    assert "8 is lent out" in bench.why.words()
    bench.why.fix.click()
    assert doc(bench).chosen["stack"].text == " ".join(stack(bench)) and bench.why_of("dropped") is None


def test_a_steep_angle_offers_its_complement(bench: AnglesBench) -> None:
    bench.pick("orientation", "drawn")
    type_in(bench.plate, "angle", "75")
    bench.open_why("steep")
    bench.why.fix.click()
    assert doc(bench).chosen["orientation"].text == "complement"
    assert bench.card.rows["height"].row.value == f"{100 * math.sin(math.radians(15)):.4f}"


def test_the_setting_card_prints(bench: AnglesBench, tmp_path: Path) -> None:
    pages = bench.pages()
    assert pages is not None
    write_pdf(pages, tmp_path / "card.pdf")
    text = " ".join(PdfReader(tmp_path / "card.pdf").pages[0].extract_text().split())
    for words in ("Gnomon wedge", "Wring 1.1 on", "80.108", "Never mill on gauge blocks", "53.2° ± 12′"):
        assert words in text


def test_survives_being_opened_again(bench: AnglesBench, window: Window) -> None:
    type_in(bench.plate, "angle", "41d15m")
    from elbrix.book.store import Book

    path = window.session.book.path
    copy = path.with_name("copy.elbrix")
    window.session.book.flush()
    copy.write_bytes(path.read_bytes())  # as kill -9 would leave it
    for side in ("-wal", "-shm"):
        if (more := path.with_name(path.name + side)).exists():
            copy.with_name(copy.name + side).write_bytes(more.read_bytes())
    again = Book.open(copy)
    kept = again.get(AngleDoc, "angle-gnomon")
    assert kept is not None and kept.chosen["angle"].typed == "41d15m"
    again.close()


# --- every kind, new ones, an empty shop ------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", list(all_kinds()))
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_new_setting_of_every_kind(bench: AnglesBench, window: Window, kind: str, unit: str) -> None:
    window.session.set_unit(unit)
    bench.choose()
    bench.card.rows[f"new {kind}"].activate()
    assert bench.presenter is not None and bench.presenter.setting is not None and bench.presenter.doc.kind == kind
    entries = [p.dimension for p in bench.plate.placed if p.dimension.entry]
    assert entries and not bench.plate.shown.message
    for dimension in entries:  # what an entry opens with reads back as the same
        text = bench.presenter.entry_text(dimension.entry)
        bench.plate.typed.emit(dimension.entry, text)
        assert bench.plate.error_text == ""
    assert bench.pages() is not None


def test_the_title_menu_leads_everywhere(bench: AnglesBench, window: Window) -> None:
    menu = window.title_menu()
    assert isinstance(menu, QMenu)
    names = [a.text() for a in menu.actions()]
    assert any("V-jaws for 30 mm rounds" in n for n in names) and any(n == "New: a dovetail over rods" for n in names)
    next(a for a in menu.actions() if a.text() == "Duplicate").trigger()
    assert bench.presenter is not None and bench.presenter.doc.title.endswith("copy")
    next(a for a in window.title_menu().actions() if a.text() == "Remove").trigger()
    assert all(not d.title.endswith("copy") for d in window.session.book.all(AngleDoc))


def test_an_empty_shop_says_what_to_do_and_still_works(empty_window: Window) -> None:
    empty_window.open_bench("angles")
    bench = empty_window.benches["angles"]
    assert isinstance(bench, AnglesBench) and "Pick on the card" in bench.plate.shown.message
    bench.card.rows["new sine"].activate()
    assert "assumed" in bench.card.rows["block_set"].row.value and bench.strip.tiles


# --- heights, and the long search -------------------------------------------------------------------------------------


def test_two_stacks_at_once_and_none(bench: AnglesBench) -> None:
    bench.show_document("angle-height")
    bench._typed("second_height", "41.7265", print)
    assert bench.presenter is not None and len(bench.presenter.setting.stacks if bench.presenter.setting else ()) == 2
    first, second = (set(part.split()) for part in bench.presenter.stack_text().split(" / "))
    assert not first & second
    type_in(bench.plate, "second_height", "30")
    parts = [part.split() for part in bench.presenter.stack_text().split(" / ")]
    assert [sum(Fraction(b) for b in part) for part in parts] == [Fraction("41.7265"), 30] and sum(map(len, parts)) == 7
    said: list[str] = []
    bench._typed("second_height", "0.7", said.append)
    assert "cannot be had" in said[-1] and doc(bench, "angle-height").chosen["second_height"].text == "30"


def test_a_long_search_runs_beside_the_window(bench: AnglesBench, qtbot: QtBot) -> None:
    bench.show_document("angle-height")
    bench.card.button("longer").click()
    assert bench.search.running and bench.card.button("stop").isEnabled()
    bench._typed("wear", "none", print)  # the bench goes on working
    assert bench.card.rows["height"].row.value == "41.7265"
    bench.card.button("longer").click() if not bench.search.running else None
    qtbot.waitUntil(lambda: not bench.search.running, timeout=60_000)
    rows = [r for k, r in bench.card.rows.items() if k.startswith("take ")]
    assert rows and rows[0].row.label.endswith("µm off")
    offs = [abs(float(r.row.label.split()[2])) for r in rows]
    assert offs == sorted(offs) and offs[0] < 0.02
    rows[0].activate()
    assert bench.presenter is not None and len(bench.presenter.stack_text().split()) > 4
    assert next(r for k, r in bench.card.rows.items() if k.startswith("take ")).row.label == rows[0].row.label  # the finds stay


def test_a_long_search_can_be_stopped_and_an_edit_stops_it(bench: AnglesBench, qtbot: QtBot) -> None:
    bench.show_document("angle-height")
    bench.card.button("longer").click()
    bench.card.button("stop").click()
    assert not bench.search.running and "Looking" not in " ".join(t.text() for t in bench.card._texts)
    bench.card.button("longer").click()
    bench._typed("height", "30", print)
    assert not bench.search.running
    qtbot.wait(300)
    assert not any(k.startswith("take ") and "µm" in r.row.label for k, r in bench.card.rows.items())
