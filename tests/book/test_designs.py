"""Designs in the book: they follow the shop until they are issued, and are compared with what was made."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import (
    as_made_design,
    choose,
    forget_choice,
    issue_revision,
    made_sizes,
    new_design,
    plan_doc,
    revised_since,
    slot_fits,
    solve_doc,
)
from elbrix.book.documents import AsMade, DesignDoc, JobDoc
from elbrix.design.family import find_family
from elbrix.quantities.errors import EntryError
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop


@pytest.fixture
def doc() -> DesignDoc:
    return new_design(find_family("t_nut"), "n", "mill", "middle slot", "Nut", pieces=4)


def remeasured(shop: Shop, **sizes: float) -> Shop:
    machine: Machine = shop.machines[0]
    slot = replace(machine.slots[0], **{k: Readings(values_mm=(v,)) for k, v in sizes.items()})  # type: ignore[arg-type]
    return replace(shop, machines=(replace(machine, slots=(slot,)),))


def test_a_draft_follows_the_slot(doc: DesignDoc, small_shop: Shop) -> None:
    assert solve_doc(doc, small_shop).values.number("neck_width") == 11.7
    assert solve_doc(doc, remeasured(small_shop, neck=11.95)).values.number("neck_width") == 11.6


def test_an_issued_design_stays_and_the_fit_changes(doc: DesignDoc, small_shop: Shop) -> None:
    issued = issue_revision(doc, small_shop, "First issue", on="2026-11-25")
    tighter = remeasured(small_shop, neck=11.6)
    assert solve_doc(issued, tighter).values.number("neck_width") == 11.7
    assert slot_fits(issued, small_shop)[0].verdict is Verdict.GO
    assert slot_fits(issued, tighter)[0].verdict is Verdict.NO_GO


def test_chosen_and_let_go(doc: DesignDoc, small_shop: Shop) -> None:
    chosen = choose(doc, "neck_width", "0.4567 in")
    assert chosen.chosen["neck_width"].text == "11.60018" and chosen.chosen["neck_width"].typed == "0.4567 in"
    assert solve_doc(chosen, small_shop).values.number("neck_width") == pytest.approx(11.60018)
    assert solve_doc(forget_choice(chosen, "neck_width"), small_shop).values.number("neck_width") == 11.7
    inches = choose(doc, "neck_width", ".46", "in")
    assert float(inches.chosen["neck_width"].text) == pytest.approx(0.46 * 25.4) and "(in)" in inches.chosen["neck_width"].typed
    with pytest.raises(EntryError):
        choose(doc, "neck_width", "broad")


def test_revisions_need_a_reason_and_take_letters(doc: DesignDoc, small_shop: Shop) -> None:
    with pytest.raises(EntryError, match="nobody remembers"):
        issue_revision(doc, small_shop, "  ")
    first = issue_revision(doc, small_shop, "First issue")
    assert first.letter == "A" and not revised_since(first, solve_doc(first, small_shop))
    changed = choose(first, "length", "25")
    assert revised_since(changed, solve_doc(changed, small_shop))
    second = issue_revision(changed, small_shop, "Longer")
    assert second.letter == "B" and second.revisions[0].values["length"] == "19" and second.revisions[1].values["length"] == "25"


def test_as_made_sizes_are_judged_by_what_they_do(doc: DesignDoc, small_shop: Shop) -> None:
    made = (
        AsMade(on="2026-11-25", figure="neck_width", readings_mm=(11.68, 11.9)),
        AsMade(on="2026-11-25", figure="head_width", readings_mm=(18.1, 18.2)),
    )
    found = {m.parameter: m for m in made_sizes(replace(issue_revision(doc, small_shop, "x"), as_made=made), small_shop)}
    assert found["neck_width"].verdict is Verdict.MARGINAL  # 0.15 play where it is widest
    assert found["head_width"].verdict is Verdict.GO


def test_the_largest_reading_is_the_one_that_binds(doc: DesignDoc, small_shop: Shop) -> None:
    made = replace(issue_revision(doc, small_shop, "x"), as_made=(AsMade(on="", figure="neck_width", readings_mm=(11.6, 12.1)),))
    assert as_made_design(made, small_shop).values.number("neck_width") == 12.1
    assert slot_fits(made, small_shop)[0].verdict is Verdict.NO_GO


def test_a_job_replans(doc: DesignDoc, small_shop: Shop) -> None:
    design = solve_doc(doc, small_shop)
    job = JobDoc(id="j", design="n", measured={"bar_width": 18.4})
    zero = [p.value_mm for _, _, m in plan_doc(doc, design, small_shop, job).moves if m.id == "zero.Y" for p in m.positions]
    assert zero == [pytest.approx(-9.2 - 5)]  # from the near side
