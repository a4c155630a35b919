"""What fits what: each cell against the nut tried in the slot by hand, and the one change that would make it go."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.documents import AsMade, DesignDoc
from elbrix.demo import documents
from elbrix.finding.fit_matrix import columns, fit_row, what_else
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop


@pytest.fixture(scope="module")
def designs() -> dict[str, DesignDoc]:
    return {d.id: d for d in documents() if isinstance(d, DesignDoc)}


def test_a_nut_goes_where_neck_and_head_are_wider_than_it(demo_shop: Shop, designs: dict[str, DesignDoc]) -> None:
    """Neck and head of the demo nut tried in every measured slot of the shop: what cannot go in is never go."""
    row = fit_row(designs["t-nut-hazel"], demo_shop)
    tried = 0
    for machine, slot in demo_shop.measured_slots():
        fit = row.at((machine.name, slot.label))
        assert fit is not None
        assert slot.neck is not None
        assert slot.head is not None
        tried += 1
        if slot.neck.min < 11.68 or slot.head.min < 18.15:  # its smallest readings as made
            assert fit.verdict is Verdict.NO_GO, (machine.name, slot.label)
        if machine.name == "Hazel":
            assert fit.verdict is Verdict.GO
    assert tried > 6
    assert {(m.name, s.label) for m, s in demo_shop.measured_slots()} <= set(columns((row,)))


def test_cells_follow_when_the_piece_or_the_slot_is_measured_again(demo_shop: Shop, designs: dict[str, DesignDoc]) -> None:
    nut = designs["t-nut-hazel"]
    swollen = replace(nut, as_made=(AsMade(on="2026-11-29", figure="neck_width", readings_mm=(12.2,)),))
    fit = fit_row(swollen, demo_shop).at(("Hazel", "middle slot"))
    assert fit is not None
    assert fit.verdict is Verdict.NO_GO
    hazel = demo_shop.machine("hazel")
    wide = tuple(replace(s, neck=replace(s.neck, values_mm=(12.6,), places=())) if s.neck else s for s in hazel.slots)
    shop = replace(demo_shop, machines=(replace(hazel, slots=wide), *(m for m in demo_shop.machines if m.id != "hazel")))
    again = fit_row(swollen, shop).at(("Hazel", "middle slot"))
    assert again is not None
    assert again.verdict is Verdict.GO


def test_one_change_that_would_make_it_go_is_tried(demo_shop: Shop, designs: dict[str, DesignDoc]) -> None:
    nut = designs["t-nut-pip"]
    fit = fit_row(nut, demo_shop).at(("Pip", "front slot"))
    assert fit is not None
    assert fit.verdict is Verdict.MARGINAL
    fix = what_else(nut, fit, demo_shop)
    assert fix is not None
    name, text = fix.changes[0]
    changed = replace(nut, as_made=(AsMade(on="2026-11-29", figure=name, readings_mm=(float(text),)),))
    after = fit_row(changed, demo_shop).at(("Pip", "front slot"))
    assert after is not None
    assert after.verdict is Verdict.GO


def test_a_place_it_already_fits_needs_no_change(demo_shop: Shop, designs: dict[str, DesignDoc]) -> None:
    nut = designs["t-nut-hazel"]
    fit = fit_row(nut, demo_shop).at(("Hazel", "middle slot"))
    assert fit is not None
    assert what_else(nut, fit, demo_shop) is None
