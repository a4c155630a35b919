"""Gauge boxes in the Shop, and hole patterns from files in Design."""

from __future__ import annotations

from pathlib import Path

import ezdxf
import pytest
from hands import middle_of
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc
from elbrix.gauging.blocks import standard_set_names
from elbrix.gauging.owned import write_block_csv
from elbrix.shop.gauges import BlockState, GaugeSet


@pytest.fixture
def bench(window: Window) -> ShopBench:
    window.open_bench("shop")
    found = window.benches["shop"]
    assert isinstance(found, ShopBench)
    found.see("blocks")
    return found


def box(window: Window, id: str = "box-88") -> GaugeSet:
    found = window.session.book.get(GaugeSet, id)
    assert found is not None
    return found


def pick_block(bench: ShopBench, name: str) -> None:
    QTest.mouseClick(bench.plate, Qt.MouseButton.LeftButton, pos=middle_of(bench.plate, f"block {name}").toPoint())


def test_a_block_is_lent_and_comes_back(bench: ShopBench, window: Window) -> None:
    pick_block(bench, "20")
    assert bench.card.rows["block_state"].row.value == "here"
    bench.card.rows["block_state"].picked.emit("block_state", "lent out")
    bench.card.rows["block_note"].typed.emit("block_note", "Tilda, until Friday")
    assert box(window).block("20").state is BlockState.LENT and box(window).block("20").note == "Tilda, until Friday"
    bench.card.rows["block_state"].picked.emit("block_state", "here")
    assert box(window).block("20").here and box(window).block("20").note == ""
    window.undo()
    assert box(window).block("20").state is BlockState.LENT


def test_a_deviation_is_typed_and_a_wrong_one_refused(bench: ShopBench, window: Window) -> None:
    pick_block(bench, "30")
    row = bench.card.rows["block_deviation"]
    row.typed.emit("block_deviation", "-0.12")
    assert box(window).block("30").deviation_um == -0.12
    for wrong in ("0,12", "much", "400"):
        row.typed.emit("block_deviation", wrong)
        assert "number of µm" in bench.card.rows["block_deviation"].error_text
    assert box(window).block("30").deviation_um == -0.12


def test_missing_blocks_are_drawn_apart(bench: ShopBench) -> None:
    styles = {
        e.feature: e.style.value
        for e in bench.plate.panes[0].scene.elements
        if getattr(e, "feature", "").startswith("block ") and hasattr(e, "points")
    }
    assert styles["block 1.11"] == "hidden" and styles["block 30"] != "hidden"


def test_a_calibration_comes_in_whole_or_not_at_all(bench: ShopBench, window: Window, tmp_path: Path) -> None:
    before = box(window)
    table = tmp_path / "set.csv"
    bench.write_table(table)
    assert table.read_text(encoding="utf-8") == write_block_csv(before)
    lines = table.read_text(encoding="utf-8").splitlines()

    def laid(*rows: str) -> str:
        table.write_text("\n".join(rows) + "\n", encoding="utf-8")
        bench.read_table(table)
        return bench.card.rows["field calibrated_on"].error_text

    assert "no row" in laid(*lines[:-1])
    assert "unit" in laid(lines[0], lines[1].replace(",mm,", ",in,"), *lines[2:])
    assert "second time" in laid(*lines, lines[5])
    table.write_bytes(b"\xff\xfe\x00binary")
    bench.read_table(table)
    assert "cannot be read" in bench.card.rows["field calibrated_on"].error_text
    assert box(window) == before
    fields = lines[1].split(",")
    fields[2] = "0.33"
    assert laid(lines[0], ",".join(fields), *lines[2:]) == ""
    assert (
        box(window).block(fields[0]).deviation_um == 0.33
        and sum(a != b for a, b in zip(box(window).blocks, before.blocks, strict=True)) == 1
    )


@pytest.mark.parametrize("name", standard_set_names())
def test_any_standard_set_can_be_added(bench: ShopBench, window: Window, name: str) -> None:
    before = {g.id for g in window.session.shop.gauge_sets}
    bench.add_set(name)
    new = [g for g in window.session.shop.gauge_sets if g.id not in before]
    assert len(new) == 1 and f"{len(new[0].blocks)}" in name.replace("-", " ").split()


@pytest.mark.parametrize(
    "what", ["blocks", "angle_blocks", "parallels", "sine", "angles", "cutters", "rack", "studs", "measuring"]
)
def test_every_list_is_drawn_and_its_fields_hold_what_they_show(bench: ShopBench, window: Window, what: str) -> None:
    bench.see(what)
    assert bench.plate.panes[0].scene.elements and not bench.plate.shown.message
    before = window.session.book.documents
    for key, row in list(bench.card.rows.items()):
        if row.row.edit == "text" and row.row.key.startswith("field ") and row.row.entry_text:
            bench.card.typed.emit(key, row.row.entry_text)
            assert bench.card.rows[key].error_text == ""
    assert [type(d) for d in window.session.book.documents] == [type(d) for d in before]


# --- hole patterns into a sine plate ----------------------------------------------------------------------------------


def test_holes_come_from_a_table_or_a_drawing(window: Window, tmp_path: Path) -> None:
    doc = next(d for d in window.session.designs if d.family == "sine_plate")
    window.session.pick_design(doc.id)
    window.open_bench("design")
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench)
    assert bench.card.button("read pattern").isEnabled()

    def pattern() -> str:
        found = window.session.book.get(DesignDoc, doc.id)
        assert found is not None
        return found.chosen["pattern"].text if "pattern" in found.chosen else ""

    table = tmp_path / "holes.csv"
    table.write_text("x_mm,y_mm\n40,-15\n60,15\n80,15\n", encoding="utf-8")
    bench.read_holes("pattern", table)
    assert pattern().replace(" ", "") == "40,-15;60,15;80,15"
    assert bench.presenter is not None and bench.presenter.design is not None
    drawing = tmp_path / "holes.dxf"
    made = ezdxf.new(units=4)
    for x, y in ((45, 20), (70, -20)):
        made.modelspace().add_circle((x, y), 3)
    made.saveas(drawing)
    bench.read_holes("pattern", drawing)
    assert pattern().replace(" ", "") == "45,20;70,-20"
    table.write_text("x_mm,y_mm\n20;15\n", encoding="utf-8")
    bench.read_holes("pattern", table)
    assert bench.card.rows["pattern"].error_text and pattern().replace(" ", "") == "45,20;70,-20"
