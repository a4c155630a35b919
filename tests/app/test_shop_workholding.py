"""Vises, clamps, blocks, stops, nuts and screws in the Shop bench: every list drawn, added to, changed, refused and undone."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.window import Window
from elbrix.drawing.scene import Note, Path
from elbrix.items.kind import listed_kinds
from elbrix.shop.tooling import Stud
from elbrix.shop.workholding import Fastener, FastenerKind, Vise

LISTS = ("vises", "clamps", "supports", "stops", "fasteners", "studs", "parallels")


@pytest.fixture
def bench(window: Window) -> ShopBench:
    window.open_bench("shop")
    found = window.benches["shop"]
    assert isinstance(found, ShopBench)
    return found


def owned(bench: ShopBench, what: str) -> tuple[object, ...]:
    found = listed_kinds()[what].of(bench.session.shop)
    assert isinstance(found, tuple)
    return found


@pytest.mark.parametrize("what", LISTS)
def test_every_thing_of_a_list_is_on_the_plate(bench: ShopBench, what: str) -> None:
    bench.see(what)
    things = owned(bench, what)
    assert things and bench.title()[0]
    drawn = {e.feature for e in bench.plate.shown.scene.elements if isinstance(e, Path)}
    if what == "vises":  # one vise fills the plate
        assert drawn
    else:
        assert {t.id for t in things} <= drawn  # type: ignore[attr-defined]
    for thing in things:
        assert f"item {thing.id}" in bench.card.rows  # type: ignore[attr-defined]


@pytest.mark.parametrize("what", LISTS)
def test_one_more_is_added_and_taken_back(bench: ShopBench, what: str) -> None:
    bench.see(what)
    before = owned(bench, what)
    bench.card.pressed.emit("add thing")
    QApplication.processEvents()
    assert len(owned(bench, what)) == len(before) + 1
    bench.session.book.undo()
    assert owned(bench, what) == before


def test_a_vise_is_measured_and_a_wrong_size_refused(bench: ShopBench) -> None:
    bench.see("vises")
    bench.pick("item vise-125")
    bench.card.typed.emit("field jaw_height_mm", "42.5")
    vise = bench.session.book.get(Vise, "vise-125")
    assert vise is not None and vise.jaw_height_mm == 42.5
    for wrong, said in (("0", "from 3.00 to 200.00 mm"), ("forty", "forty"), ("900", "from 3.00 to 200.00 mm")):
        bench.card.typed.emit("field jaw_height_mm", wrong)
        assert said in bench.card.rows["field jaw_height_mm"].error_text
        again = bench.session.book.get(Vise, "vise-125")
        assert again is not None and again.jaw_height_mm == 42.5
    bench.session.book.undo()
    again = bench.session.book.get(Vise, "vise-125")
    assert again is not None and again.jaw_height_mm == 40


def test_nuts_and_screws_are_counted_and_drawn_to_scale(bench: ShopBench) -> None:
    bench.see("fasteners")
    bench.pick("item screw-m6-35")
    bench.card.typed.emit("field count", "4")
    bench.card.typed.emit("field length_mm", "50")
    screw = bench.session.book.get(Fastener, "screw-m6-35")
    assert screw is not None and (screw.count, screw.length_mm) == (4, 50)
    scene = bench.plate.shown.scene
    shaft = max(
        (e for e in scene.elements if isinstance(e, Path) and e.feature == "screw-m6-35"),
        key=lambda e: max(p[0] for p in e.points),
    )
    assert max(p[0] for p in shaft.points) - min(p[0] for p in shaft.points) == pytest.approx(50)
    assert max(p[1] for p in shaft.points) - min(p[1] for p in shaft.points) == pytest.approx(6)
    assert any(isinstance(e, Note) and e.text == "4 of cap screw M6 × 50" for e in scene.elements)


def test_a_t_nut_is_drawn_with_the_neck_it_has(bench: ShopBench) -> None:
    bench.see("fasteners")
    bench.pick("item t-nut-m10")
    bench.card.typed.emit("field neck_mm", "13.4")
    heights = {
        round(max(p[1] for p in e.points) - min(p[1] for p in e.points), 6)
        for e in bench.plate.shown.scene.elements
        if isinstance(e, Path) and e.feature == "t-nut-m10"
    }
    assert heights == {18.0, 13.4}  # head 1.8 × d, and the neck
    bench.card.rows["field kind"].picked.emit("field kind", FastenerKind.NUT.value)
    nut = bench.session.book.get(Fastener, "t-nut-m10")
    assert nut is not None and nut.kind is FastenerKind.NUT


def test_a_thread_that_is_none_stays_beside_its_line(bench: ShopBench) -> None:
    bench.see("fasteners")
    bench.pick("item nut-m10")
    bench.card.typed.emit("field thread", "M11.3")
    assert "M11.3 is not in the table" in bench.card.rows["field thread"].error_text
    nut = bench.session.book.get(Fastener, "nut-m10")
    assert nut is not None and nut.thread == "M10"


def test_names_in_both_units(bench: ShopBench) -> None:
    for what in LISTS:
        for unit in ("mm", "in"):
            bench.session.set_unit(unit)
            assert all(listed_kinds()[what].name(t, bench.session.style) for t in owned(bench, what))


def test_a_book_with_a_thread_of_no_table_opens_all_the_same(bench: ShopBench) -> None:
    odd = Fastener(id="odd", kind=FastenerKind.NUT, thread="M11.3", count=3)
    stud = Stud(id="odd-stud", thread="M11.3", length_mm=90)
    assert bench.session.put("Odd ones", odd, stud)
    for what, id in (("fasteners", "odd"), ("studs", "odd-stud")):
        bench.see(what)
        assert f"item {id}" in bench.card.rows
        assert id not in {getattr(e, "feature", "") for e in bench.plate.shown.scene.elements}
