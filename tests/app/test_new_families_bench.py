"""The jaw, plate and stop families in the window.

Chosen on the shelf, holes carried about the plate, refused beside the entry, printed.
"""

from __future__ import annotations

from pathlib import Path

import ezdxf
import pytest
from hands import doc, move, open_design, solved, type_in
from msgspec.structs import replace
from pypdf import PdfReader
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.paper.documents import drawing_sheet
from elbrix.app.paper.hole_pages import grouped, names_of, table_pages
from elbrix.app.paper.output import write_pdf
from elbrix.app.window import Window
from elbrix.book.designs import solve_doc
from elbrix.design.family import HoleLine, all_families
from elbrix.design.moving import moved, settle_point
from elbrix.drawing.placing import overlaps
from elbrix.drawing.scene import MovablePoint
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import METRIC
from elbrix.solids.client import Kernel
from kinds_of_family import solved as solved_kind

NEW = [k for k in all_families() if k not in ("t_nut", "sine_plate", "table_key")]


def spot(bench: DesignBench, entry: str, index: int) -> MovablePoint:
    return next(s for s in bench.plate.shown.scene.spots if (s.entry, s.index) == (entry, index))


def carry(bench: DesignBench, taken: MovablePoint, dx: float, dy: float, *, shift: bool = False) -> None:
    """A hole taken up in its middle and let go so far away, mm."""
    plate = bench.plate
    view = plate.panes[0].view
    start = view.px(taken.shown)
    end = view.px((taken.shown[0] + dx, taken.shown[1] + dy))
    held = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    QTest.mousePress(plate, Qt.MouseButton.LeftButton, held, start.toPoint())
    for share in (0.4, 1.0):
        to = start + (end - start) * share
        plate.mouseMoveEvent(QMouseEvent(QEvent.Type.MouseMove, to, to, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, held))
    plate.mouseReleaseEvent(
        QMouseEvent(QEvent.Type.MouseButtonRelease, end, end, Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton, held)
    )
    QApplication.processEvents()


@pytest.mark.parametrize("key", NEW)
def test_every_one_is_on_the_shelf_and_starts_from_the_shop(window: Window, key: str) -> None:
    window.new_design()
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench)
    QTest.mouseClick(bench.shelf.families[key], Qt.MouseButton.LeftButton)
    made = window.session.design
    assert made is not None and made.family == key
    assert not bench.plate.shown.message and bench.card.rows and bench.plate.entries()
    design = solve_doc(made, window.session.shop)
    assert [c for c in design.checks if c.verdict.value == "no-go"] == []
    # Every row of the card has its number, and no two share a key.
    for key_, row in bench.card.rows.items():
        assert row.row.value or row.row.derivation or row.row.edit, key_


# --- holes in the hand ------------------------------------------------------------------------------------------------


def test_a_bolt_settles_on_the_slot_and_its_partners_follow(window: Window) -> None:
    bench = open_design(window, "plate-yoke")
    carry(bench, spot(bench, "bolts", 0), 7.3, 1.2)  # nearly on the slot: it is pulled back to it
    assert solved(bench).values.word("bolts") == "-71,-50; 71,-50; -71,50; 71,50"
    window.session.book.undo()
    QApplication.processEvents()
    assert solved(bench).values.word("bolts") == "-78,-50; 78,-50; -78,50; 78,50"  # one step of undo for the whole way


def test_with_shift_it_moves_alone(window: Window) -> None:
    bench = open_design(window, "plate-yoke")
    carry(bench, spot(bench, "bolts", 1), -20, 0.4, shift=True)
    assert solved(bench).values.word("bolts") == "-78,-50; 58,-50; -78,50; 78,50"


def test_a_work_hole_lines_up_with_the_others(window: Window) -> None:
    bench = open_design(window, "plate-yoke")
    carry(bench, spot(bench, "pattern", 2), 41.2, -20.4)  # over toward 42, −2.4
    assert solved(bench).values.word("pattern") == "-42,-12; 42,-12; 42,-2"


def test_on_a_ring_slot_it_stays_on_the_ring(window: Window) -> None:
    bench = open_design(window, "plate-segments")
    carry(bench, spot(bench, "bolts", 0), 2.0, -2.5, shift=True)
    from elbrix.design.families.fixture_plate.sizes import FixturePlateSizes

    first = FixturePlateSizes(solved(bench).values).bolts[0]
    assert (first.x**2 + first.y**2) ** 0.5 == pytest.approx(92, abs=0.002)


def test_it_stays_where_it_last_could_lie(window: Window) -> None:
    bench = open_design(window, "plate-yoke")
    carry(bench, spot(bench, "pattern", 0), -90, 0)  # off the plate: −132; on the way it was at −78
    assert solved(bench).values.word("pattern") == "-78,-12; 78,-12; 0,18"


def test_holes_can_be_moved_in_the_views_too(window: Window) -> None:
    bench = open_design(window, "riser-vise")
    QTest.keyClick(bench.plate, "2")
    QApplication.processEvents()
    if not bench.plate.shown.scene.spots:
        QTest.qWait(50)
    carry(bench, spot(bench, "top_positions", 0), 5.0, 0.0)
    assert solved(bench).values.word("top_positions") == "-35,-8; 35,-8; -35,8; 35,8"


def test_settling_and_moving_by_themselves() -> None:
    free = MovablePoint("p", 0, (10.0, 5.0), 3.0, lines_x=(0.0, 30.0), lines_y=(0.0,))
    assert settle_point(free, (28.9, 7.4)) == (30.0, 7.0) and settle_point(free, (27.2, 1.2)) == (27.0, 0.0)
    corner = MovablePoint("p", 0, (10.0, 5.0), 3.0, origin=(-50.5, -20.25))
    assert settle_point(corner, (10.2, 5.1)) == (10.5, 4.75)  # whole steps from the datum
    assert moved("10,5; -10,5; 3,3", free, (12, 5), "Holes", alone=False) == "12,5; -12,5; 3,3"
    assert moved("10,5; -10,5; 3,3", free, (12, 5), "Holes", alone=True) == "12,5; -10,5; 3,3"
    with pytest.raises(EntryError, match="there twice"):
        moved("10,5; 3,3", free, (3, 3), "Holes", alone=True)


def test_a_click_on_a_hole_changes_nothing(window: Window) -> None:
    bench = open_design(window, "plate-yoke")
    before = doc(bench)
    at = bench.plate.panes[0].view.px(spot(bench, "bolts", 0).shown)
    QTest.mouseClick(bench.plate, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert doc(bench) == before
    move(bench.plate, QPointF(5, 5))


# --- typed, read, refused ---------------------------------------------------------------------------------------------


def test_a_size_typed_on_the_plate(window: Window) -> None:
    bench = open_design(window, "v-jaws")
    type_in(bench.plate, "v_width", "16")
    assert solved(bench).values.number("v_width") == 16


def test_an_outline_is_read_from_a_drawing_and_a_bad_one_refused_beside_it(window: Window, tmp_path: Path) -> None:
    bench = open_design(window, "jaws-foot")
    before = solved(bench).values.word("outline")
    drawing = ezdxf.new()
    drawing.units = 4
    drawing.modelspace().add_lwpolyline([(0, 0), (44, 0), (44, 26), (0, 26)], close=True)
    drawing.saveas(tmp_path / "box.dxf")
    bench.read_holes("outline", tmp_path / "box.dxf")
    assert solved(bench).values.word("outline") == "0,0; 44,0; 44,26; 0,26"
    bad = ezdxf.new()
    bad.modelspace().add_line((0, 0), (5, 5))
    bad.saveas(tmp_path / "open.dxf")
    bench.read_holes("outline", tmp_path / "open.dxf")
    assert "closed" in bench.card.rows["outline"].error_text and solved(bench).values.word("outline") != before


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ("x_mm,y_mm\n10,10\n20,oops\n", "line 3"),
        ("x_mm,y_in\n10,10\n", ""),
        ("x_mm,y_mm\n10,10\n10,10\n", "twice"),
        ("x_mm,y_mm\n900,0\n", "beside the plate"),
        ("", ""),
    ],
)
def test_a_bad_hole_table_takes_nothing(window: Window, tmp_path: Path, content: str, said: str) -> None:
    bench = open_design(window, "plate-yoke")
    before = doc(bench)
    path = tmp_path / "holes.csv"
    path.write_text(content)
    bench.read_holes("pattern", path)
    assert said in bench.card.rows["pattern"].error_text and bench.card.rows["pattern"].error_text and doc(bench) == before


# --- on paper ---------------------------------------------------------------------------------------------------------


def test_many_holes_have_pages_of_their_own(window: Window, tmp_path: Path) -> None:
    bench = open_design(window, "plate-segments")
    kernel = Kernel()
    try:
        sheet = drawing_sheet(doc(bench), window.session.shop, window.session.style, kernel)
    finally:
        kernel.stop()
    assert (
        table_pages(sheet.design, sheet.style) == 1 and sheet.count == 6
    )  # itself, its table, the mark-out and two tiles of it, workings
    write_pdf(sheet, tmp_path / "d.pdf")
    pages = [" ".join(p.extract_text().split()) for p in PdfReader(str(tmp_path / "d.pdf")).pages]
    assert "page 2" in pages[0] and "W1 to W12, 12 of them" in pages[0]
    # Ordinates, and the same as radius and angle: the first segment hole lies on Ø118 at 30°.
    assert "59.00" in pages[1] and "30.000" in pages[1] and "51.10" in pages[1]
    assert "mark-out" in pages[2] and "Height gauge" in pages[2]


def test_holes_are_named_together() -> None:
    holes = (*(HoleLine(f"W{i}", i, 0, "M6") for i in range(1, 6)), HoleLine("B1", 0, 9, "Ø11"))
    design = replace(solved_kind("fixture_plate", "", "")[1], holes=holes)
    assert [(w, names_of(h)) for w, h in grouped(design, METRIC)] == [("M6", "W1 to W5, 5 of them"), ("Ø11", "B1")]


@pytest.mark.parametrize(("count", "left"), [(22, 0), (30, 8)])
def test_lines_a_mark_out_page_has_no_room_for_are_counted(window: Window, tmp_path: Path, count: int, left: int) -> None:
    bench = open_design(window, "plate-segments")
    kernel = Kernel()
    try:
        sheet = drawing_sheet(doc(bench), window.session.shop, window.session.style, kernel)
    finally:
        kernel.stop()
    # Every hole on a line of its own, both ways.
    holes = tuple(HoleLine(f"H{i}", 3.0 * i - 45, 40 - 2.5 * i, "M4") for i in range(count))
    crowded = replace(sheet, design=replace(sheet.design, holes=holes))
    write_pdf(crowded, tmp_path / "d.pdf")
    page = " ".join(PdfReader(str(tmp_path / "d.pdf")).pages[1 + crowded._tables].extract_text().split())
    assert "mark-out" in page
    assert "Sizes in mm" in page
    assert page.count("of the hole table +") == (2 if left else 0)
    if left:  # the plate is 200 by 200 about its middle
        assert (
            f"and {left} more: X of the hole table + 100.00" in page and f"and {left} more: Y of the hole table + 100.00" in page
        )


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_no_number_of_the_catalogue_covers_another_or_leaves_the_plate(window: Window, unit: str) -> None:
    window.resize(1280, 800)
    window.session.set_unit(unit)
    for ident in [d.id for d in window.session.designs]:
        bench = open_design(window, ident)
        for tab in (0, 1):
            bench.plate.tab_picked.emit(tab)
            QApplication.processEvents()
            assert bench.plate.panes and all(overlaps(pane.placed) == [] for pane in bench.plate.panes), (ident, tab)
            for p in bench.plate.placed:
                assert p.text_box[0] >= 0 and p.text_box[2] <= bench.plate.width(), (ident, tab)
                assert -p.text_box[3] >= 0 and -p.text_box[1] <= bench.plate.height(), (ident, tab)
