"""Revisions as they were: opened, compared, brought back; what was cut becomes the drawing."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import choose, issue_revision, made_sizes, solve_doc
from elbrix.book.documents import AsMade, DesignDoc
from elbrix.book.revisions import as_revision, compared, copy_of, made_as_revision, restored, revision_of
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop


@pytest.fixture
def doc(demo_shop: Shop) -> DesignDoc:
    """A nut released twice: 11.7 wide, then 12.0, which is too wide for the slot."""
    first = DesignDoc(id="n", family="t_nut", title="Nut", machine="hazel", slot="middle slot", pieces=2)
    first = issue_revision(choose(first, "neck_width", "11.7"), demo_shop, "first issue", "2026-01-02")
    return issue_revision(choose(first, "neck_width", "12.0"), demo_shop, "wider", "2026-03-04")


def test_a_revision_is_solved_as_it_was(doc: DesignDoc, demo_shop: Shop) -> None:
    then = as_revision(doc, "A")
    assert then.letter == "A"
    assert solve_doc(then, demo_shop).values.number("neck_width") == pytest.approx(11.7)
    assert solve_doc(doc, demo_shop).values.number("neck_width") == pytest.approx(12.0)


def test_the_slot_of_a_revision_is_the_one_of_its_day(doc: DesignDoc, demo_shop: Shop) -> None:
    """The slot is measured again and is wider; the old revision still shows the slot it was drawn for."""
    hazel = demo_shop.machine("hazel")
    wider = tuple(replace(s, neck=replace(s.neck, values_mm=(12.4,), places=())) if s.neck else s for s in hazel.slots)
    shop = replace(demo_shop, machines=(replace(hazel, slots=wider), *(m for m in demo_shop.machines if m.id != "hazel")))
    assert solve_doc(as_revision(doc, "A"), shop).values.readings("neck").max < 12.4
    assert solve_doc(restored(doc, "A"), shop).values.readings("neck").min == pytest.approx(12.4)


def test_what_changed_and_which_checks_moved(doc: DesignDoc, demo_shop: Shop) -> None:
    found = compared(doc, "A", demo_shop)
    assert [(s.name, s.before, s.after) for s in found.sizes] == [("neck_width", "11.7", "12")]
    moved = {m.label: (m.before, m.after) for m in found.checks}
    before, after = moved["Neck clearance"]
    assert before is not None
    assert after is not None
    assert before.verdict is Verdict.GO
    assert after.verdict is not Verdict.GO
    assert compared(doc, "A", demo_shop, "A").sizes == compared(doc, "B", demo_shop).sizes == ()
    assert compared(doc, "B", demo_shop).checks == ()


def test_back_to_a_revision_keeps_what_was_made_and_released(doc: DesignDoc, demo_shop: Shop) -> None:
    made = replace(doc, made=3, location="drawer 2")
    back = restored(made, "A")
    assert solve_doc(back, demo_shop).values.number("neck_width") == pytest.approx(11.7)
    assert (back.made, back.location, back.revisions) == (3, "drawer 2", doc.revisions)
    copy = copy_of(made, "A", "n2")
    assert (copy.id, copy.made, copy.revisions, copy.location) == ("n2", 0, (), "")


def test_as_made_becomes_the_next_revision(doc: DesignDoc, demo_shop: Shop) -> None:
    made = replace(doc, as_made=(AsMade(on="2026-11-29", figure="neck_width", readings_mm=(11.66, 11.68, 11.70)),))
    after = made_as_revision(made, demo_shop, "2026-11-29")
    assert after.letter == "C"
    assert solve_doc(after, demo_shop).values.number("neck_width") == pytest.approx(11.68)
    assert revision_of(after, "C").reason == "as made: nut neck width"
    assert after.as_made == made.as_made
    (size,) = made_sizes(after, demo_shop)
    assert size.designed_mm == pytest.approx(11.68)


def test_what_cannot_be_is_refused_and_changes_nothing(doc: DesignDoc, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match="nothing was measured"):
        made_as_revision(doc, demo_shop)
    with pytest.raises(ShopError, match="there is no"):
        as_revision(doc, "Z")
