"""Table keys in the window: chosen on the shelf, typed and dragged on the plate, read back from their files, planned."""

from __future__ import annotations

import io
import math

import ezdxf
import pytest
from hands import drag, open_design, solved, type_in
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.window import Window
from elbrix.book.designs import solve_doc
from elbrix.design.families.table_key import FAMILY
from elbrix.design.files import file_bytes
from elbrix.solids.client import Kernel


@pytest.fixture
def bench(window: Window) -> DesignBench:
    # What is in the catalogue stays as issued: a draft of it is changed.
    return open_design(window, "table-keys")


def test_the_shelf_offers_a_key_under_locate_it(window: Window) -> None:
    window.new_design()
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench)
    bench.shelf._take_slot("hazel", "front slot")
    QTest.mouseClick(bench.shelf.families["table_key"], Qt.MouseButton.LeftButton)
    made = window.session.design
    assert made is not None and (made.family, made.slot) == ("table_key", "front slot")
    design = solve_doc(made, window.session.shop)
    assert design.values.readings("neck").min == 12.08 and design.figure("table_width").value == pytest.approx(12.07)


def test_typed_on_the_plate_and_dragged_by_its_edge(window: Window) -> None:
    window.new_design()
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench)
    QTest.mouseClick(bench.shelf.families["table_key"], Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    type_in(bench.plate, "vise_width", "13.5")
    assert solved(bench).figure("vise_width").value == 13.5
    handle = next(h for h in bench.plate.shown.scene.handles if h.entry == "table_height")
    view = bench.plate.panes[0].view
    start = view.px(((handle.a[0] + handle.b[0]) / 2, handle.a[1]))
    before = solved(bench).figure("table_height").value
    drag(bench.plate, start, start + (view.px((0, -1.0)) - view.px((0, 0))))
    assert solved(bench).figure("table_height").value == pytest.approx(before + 1.0, abs=0.11)


def test_the_ways_out_stand_on_the_card(bench: DesignBench) -> None:
    rows = bench.card.rows
    assert rows["advice"].row.value.startswith("Offset keys") and rows["advice"].row.wrap
    left = [float(rows[f"remedy_{i}"].row.value) for i in range(1, 7)]
    assert left == sorted(left) and left[0] == 0.01
    assert "can be taken back" in rows["remedy_2"].row.derivation


def test_inches_show_the_same_key(bench: DesignBench) -> None:
    bench.session.set_unit("in")
    QApplication.processEvents()
    assert float(bench.card.rows["table_width"].row.value) * 25.4 == pytest.approx(12.04, abs=0.003)
    assert bench.card.rows["offset"].row.value == "0.0047"  # 0.12 mm; the plate says the same
    bench.session.set_unit("mm")


def test_its_dxf_read_back_by_another_library(bench: DesignBench, kernel: Kernel) -> None:
    design = solved(bench)
    text = file_bytes(FAMILY, design, kernel, "dxf", "Keys", "2026-01-01T00:00:00").decode()
    drawing = ezdxf.read(io.StringIO(text))
    assert drawing.header["$INSUNITS"] == 4
    circles = sorted({round(e.dxf.radius * 2, 3) for e in drawing.modelspace().query("CIRCLE")})
    assert circles == [4.5, 7.5]  # the screw's hole, and the bore for its head
    xs = [p[0] for e in drawing.modelspace().query("LINE") for p in (e.dxf.start, e.dxf.end)]
    assert max(xs) - min(xs) > 14.01


def test_its_step_holds_the_solid_that_was_weighed(bench: DesignBench, kernel: Kernel) -> None:
    design = solved(bench)
    step = file_bytes(FAMILY, design, kernel, "step", "Keys", "2026-01-01T00:00:00")
    found = kernel.ask("mass", FAMILY.solid(design))
    n = {k: design.figure(k).value for k in ("table_width", "table_height", "vise_width", "vise_height", "length")}
    metal = n["length"] * (n["table_width"] * n["table_height"] + n["vise_width"] * n["vise_height"])
    hole = math.pi / 4 * (7.5**2 * 4.3 + 4.5**2 * (n["table_height"] + n["vise_height"] - 4.3))
    assert found["volume_mm3"] == pytest.approx(metal - hole, rel=1e-6) and step.startswith(b"ISO-10303-21")


def test_its_hole_table_counts_from_the_middle_of_the_table_half(bench: DesignBench, kernel: Kernel) -> None:
    rows = file_bytes(FAMILY, solved(bench), kernel, "csv", "Keys", "2026-01-01T00:00:00").decode().splitlines()
    line = next(r for r in rows if r.startswith("A"))
    assert line.split(",")[1:3] == ["0.120", "0.000"]


def test_it_is_planned_from_the_rack_to_the_indicator(window: Window, bench: DesignBench) -> None:
    window.open_bench("make")
    make = window.benches["make"]
    titles = [s.title for s in make.presenter.plan.setups]  # type: ignore[attr-defined]
    assert titles[0] == "Saw the bar" and "Table half, turned over" in titles and titles[-1] == "At the bench"
    last = make.presenter.plan.setups[-1].moves[-1]  # type: ignore[attr-defined]
    assert "Indicator along the fixed jaw: 0.05 over 125" in last.words and "two people" in last.caution
