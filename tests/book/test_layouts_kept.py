"""Layouts in the book: kept as they happen, undone, read back, and what a change of them does not disturb."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, plan_doc
from elbrix.book.designs import solve_doc as solve_design
from elbrix.book.documents import WORK_KINDS, Chosen, DesignDoc, ElementDoc, LayoutDoc, from_json, kind_of, shop_of, to_json
from elbrix.book.layouts import add_element, fix_of, fixed, remove_element, solve_doc
from elbrix.book.plan_layouts import layout_of_operation
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Fastener, FastenerKind


@pytest.fixture
def book(tmp_path: Path) -> Book:
    return write_demo(tmp_path / "shop.elbrix")


def layout(book: Book, id: str = "hold-dial") -> LayoutDoc:
    found = book.get(LayoutDoc, id)
    assert found is not None
    return found


def test_a_layout_survives_the_end_of_the_program(book: Book) -> None:
    doc = replace(layout(book), design="t-nut-hazel", title="Moved")
    book.put("Moved", doc)
    book.close()
    again = Book.open(book.path)
    assert again.get(LayoutDoc, "hold-dial") == doc
    again.undo()
    back = again.get(LayoutDoc, "hold-dial")
    assert back is not None and back.title != "Moved" and back.design == ""


def test_a_layout_in_hand_leaves_the_shop_alone(book: Book) -> None:
    shop = book.shop
    book.put("Moved", replace(layout(book), title="Moved"))
    assert book.shop is shop  # every frame of a drag changes a layout: the shop is not put together anew for it
    nut = Fastener(id="more", kind=FastenerKind.NUT, thread="M12", count=2)
    book.put("More nuts", nut)
    assert book.shop is not shop and nut in book.shop.fasteners
    book.undo()
    assert nut not in book.shop.fasteners


def test_only_work_is_left_out_of_the_shop() -> None:
    kinds = {kind_of(d) for d in documents()}
    assert set(WORK_KINDS) <= kinds
    tools = [d for d in documents() if kind_of(d) not in WORK_KINDS]
    assert shop_of(tools) == shop_of(documents())


def test_a_layout_from_before_jobs_is_read() -> None:
    doc = from_json("layout", '{"id": "old", "title": "Old", "elements": [{"kind": "vise", "chosen": {}}]}')
    assert isinstance(doc, LayoutDoc) and doc.design == "" and doc.elements == (ElementDoc(kind="vise"),)
    assert from_json("layout", to_json(doc)) == doc


@pytest.mark.parametrize(
    "body", ['{"id": "x"}', '{"id": "x", "title": "t", "elements": [{"chosen": {}}]}', '{"id": "x", "title": "t", "elements": 3}']
)
def test_layouts_that_are_none(body: str) -> None:
    with pytest.raises(ShopError):
        from_json("layout", body)


def test_a_kind_that_is_not_known_says_which_are(book: Book) -> None:
    with pytest.raises(ShopError, match="strap"):
        add_element(layout(book), "magnet")
    odd = replace(layout(book), elements=(ElementDoc(kind="magnet"),))
    with pytest.raises(ShopError, match="magnet"):
        solve_doc(odd, book.shop)


def test_things_up_to_as_many_as_fit(book: Book) -> None:
    doc = replace(layout(book), elements=())
    for _ in range(24):
        doc = add_element(doc, "support")
    with pytest.raises(EntryError, match="24"):
        add_element(doc, "support")
    assert len(remove_element(doc, 3).elements) == 23


def test_a_mend_is_kept_as_one_step(book: Book) -> None:
    bad = replace(
        layout(book), chosen={**layout(book).chosen, "depth_of_cut": Chosen(text="6"), "width_of_cut": Chosen(text="8")}
    )
    book.put("Deeper", bad)
    fix = fix_of(bad, book.shop, "margin")
    assert fix is not None
    book.put(fix.text, fixed(bad, book.shop, fix))
    assert layout(book) != bad
    book.undo()
    assert layout(book) == bad


def test_a_tool_that_is_gone_is_replaced_and_said(book: Book) -> None:
    doc = layout(book, "hold-wedge")
    vise = next(v for v in book.shop.vises if v.id == "vise-125")
    book.remove("Sold", vise)
    hold = solve_doc(doc, book.shop)
    assert hold.elements[0][1].word("vise") == "vise-split" and hold.figure("0.vise").text == "split vise, two blocks"
    assert [u.name for u in hold.elements[0][2].uses] == ["split vise, two blocks"]


def test_turned_and_tilted_work_is_no_layout(demo_shop: Shop) -> None:
    for ident, setup, said in (("bush-yoke", "turn", "turned in the lathe"), ("v-jaws", "vee.1", "stands tilted")):
        doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == ident)
        design = solve_design(doc, demo_shop)
        plan = plan_doc(doc, design, demo_shop)
        move = next(m.id for s, _, m in plan.moves if s.id == setup)
        with pytest.raises(ShopError, match=said):
            layout_of_operation(plan, family_of(doc).work(design, demo_shop).blank, move, demo_shop, "h")
