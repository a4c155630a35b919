"""The last move ticked: bar shorter, count up, the piece in the shop; one undo takes all of it back."""

from __future__ import annotations

import math
from pathlib import Path

import pytest
from msgspec.structs import replace

from elbrix.book.designs import as_made_design, choose, plan_doc, solve_doc
from elbrix.book.documents import Chosen, DesignDoc, JobDoc, LayoutDoc
from elbrix.book.finishing import finish, is_finished
from elbrix.book.layouts import solve_doc as solve_layout
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.making.plan import Plan
from layouts_tools import thing


@pytest.fixture
def book(tmp_path: Path) -> Book:
    return write_demo(tmp_path / "b.elbrix")


def planned(book: Book, id: str) -> tuple[DesignDoc, Plan, JobDoc]:
    doc = book.get(DesignDoc, id)
    assert doc is not None
    plan = plan_doc(doc, solve_doc(doc, book.shop), book.shop)
    return doc, plan, JobDoc(id=f"job-{id}", design=id, done=tuple(m.id for _, _, m in plan.moves), keyed={"a.X": "1"})


def test_only_when_every_move_is_done(book: Book) -> None:
    _, plan, job = planned(book, "t-nut-hazel")
    assert is_finished(plan, job) and not is_finished(plan, replace(job, done=job.done[1:]))
    assert not is_finished(replace(plan, setups=()), job)


def test_the_bar_the_count_and_the_nut_in_one_edit(book: Book) -> None:
    doc, plan, job = planned(book, "t-nut-hazel")
    assert plan.bar is not None
    bar = next(b for b in book.shop.bars if b.id == plan.bar.bar.id)
    before = sorted(book.documents, key=str)
    done = finish(doc, plan, job, book.shop)
    book.put(done.label, *done.documents)
    now = book.shop
    assert next(b for b in now.bars if b.id == bar.id).length_mm == pytest.approx(
        bar.length_mm - plan.bar.cut_mm - 2.5
    )  # the saw's cut is gone as well
    assert book.get(DesignDoc, doc.id).made == doc.made + doc.pieces  # type: ignore[union-attr]
    nut = next(f for f in now.fasteners if f.id == "made-t-nut-hazel")
    made = as_made_design(doc, book.shop).values
    assert (nut.count, nut.thread) == (doc.pieces, made.word("thread")) and nut.neck_mm == made.number("neck_width")
    kept = book.get(JobDoc, job.id)
    assert kept is not None and kept.done == () and kept.keyed == {}
    book.undo()
    assert sorted(book.documents, key=str) == before


def test_a_second_batch_adds_up_and_a_bar_is_never_less_than_nothing(book: Book) -> None:
    doc, plan, job = planned(book, "t-nut-hazel")
    for _ in range(2):
        done = finish(book.get(DesignDoc, doc.id), plan, job, book.shop)  # type: ignore[arg-type]
        book.put(done.label, *done.documents)
    assert next(f for f in book.shop.fasteners if f.id == "made-t-nut-hazel").count == 2 * doc.pieces
    for _ in range(12):
        done = finish(book.get(DesignDoc, doc.id), plan, job, book.shop)  # type: ignore[arg-type]
        book.put(done.label, *done.documents)
    assert plan.bar is not None
    assert next(b for b in book.shop.bars if b.id == plan.bar.bar.id).length_mm >= 0


@pytest.mark.parametrize("id", ["riser-vise", "stop-table", "sine-plate", "pin-relieved", "v-jaws", "plate-yoke"])
def test_every_family_finishes_and_what_has_a_list_is_in_it(book: Book, id: str) -> None:
    doc, plan, job = planned(book, id)
    done = finish(doc, plan, job, book.shop)
    book.put(done.label, *done.documents)
    assert book.get(DesignDoc, id).made == doc.made + doc.pieces  # type: ignore[union-attr]
    listed = [d for d in book.documents if d.id == f"made-{id}"]
    # One plate of a riser of two is not that high, a relieved pin is not round, jaws and plates have no list.
    assert len(listed) == (1 if id in ("stop-table", "sine-plate") else 0)


def test_a_riser_that_was_made_stands_under_work_in_hold(book: Book) -> None:
    doc, plan, job = planned(book, "riser-vise")
    doc = choose(choose(doc, "kind", "one"), "riser_height", "45")
    done = finish(doc, plan, job, book.shop)
    book.put(done.label, *done.documents)
    layout = LayoutDoc(id="x", title="x", machine="hazel", elements=(thing("support", block="made-riser-vise", height="45"),))
    assert solve_layout(layout, book.shop).elements[0][2].problem == ""


@pytest.mark.parametrize("id", ["studs-hazel", "clamps-toe", "blocks-step", "nuts-curved", "detent-handle", "gib-tam"])
def test_what_was_made_lately_is_owned_or_only_counted(book: Book, id: str) -> None:
    doc, plan, job = planned(book, id)
    done = finish(doc, plan, job, book.shop)
    book.put(done.label, *done.documents)
    assert book.get(DesignDoc, id).made == doc.made + doc.pieces  # type: ignore[union-attr]
    listed = [d for d in book.documents if d.id == f"made-{id}"]
    assert len(listed) == (0 if id in ("detent-handle", "gib-tam") else 1)


def test_a_toe_clamp_a_step_block_and_studs_that_were_made_hold_work(book: Book) -> None:
    """Made, owned, and used in one layout: the toe against a stop, a strap of the shop on the made block by the made stud."""
    for id in ("studs-hazel", "clamps-toe", "blocks-step"):
        doc, plan, job = planned(book, id)
        done = finish(doc, plan, job, book.shop)
        book.put(done.label, *done.documents)
    toe = next(c for c in book.shop.clamps if c.id == "made-clamps-toe")
    stud = next(s for s in book.shop.studs if s.id == "made-studs-hazel")
    assert toe.kind.value == "toe clamp" and (stud.thread, stud.count) == ("M10x1.5", 4)
    things = (
        thing("toe", clamp="made-clamps-toe", x="105", direction="180", torque="1"),
        thing("stop", x="-80", direction="0"),
        thing("strap", stud="made-studs-hazel", x="-62", direction="0"),
    )
    layout = LayoutDoc(
        id="x",
        title="x",
        machine="hazel",
        chosen={k: Chosen(text=v) for k, v in {"shape": "block", "length": "100", "width": "60", "height": "14"}.items()},
        elements=things,
    )
    solved = solve_layout(layout, book.shop)
    placed = {p.name: p for _, _, p in solved.elements}
    assert placed["toe"].problem == ""
    # It reaches as far as body, screw and toe do, and pushes as far down as its own toe points.
    push = placed["toe"].forces[0]
    assert math.degrees(math.asin(-push.along[2])) == pytest.approx(toe.down_deg)
    far = replace(
        layout, elements=(thing("toe", clamp="made-clamps-toe", x=f"{50 + toe.length_mm + 2:.0f}", direction="180"), *things[1:])
    )
    assert "short of the work" in next(p for _, _, p in solve_layout(far, book.shop).elements if p.name == "toe").problem
    blocks = [b for b in book.shop.supports if b.id == "made-blocks-step"]
    assert blocks and blocks[0].height_for(14) == 14  # 8, 11, 14, …
