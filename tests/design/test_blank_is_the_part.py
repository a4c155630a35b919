"""The blank that is cut for a design measures what its part measures: no size of something that is not there adds to it."""

from __future__ import annotations

import random

import pytest
from campaigns.designs import blank_and_part, near, odd

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, all_families, find_family, read_choices, solve_for
from elbrix.making.options import Options
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.solids.recipe import bounds

SHOP = shop_of(documents())


@pytest.mark.parametrize("key", sorted(all_families()))
def test_whatever_is_typed(key: str) -> None:
    family, chance, looked = find_family(key), random.Random(f"blank {key}"), 0
    first = solve_for(family, SHOP, Request(), {})
    for n in range(60):
        some = chance.sample(list(family.parameters), min(4, len(family.parameters)))
        typed = {p.name: odd(p, chance) if n % 2 else near(p, first, chance) for p in some}
        try:
            design = solve_for(family, SHOP, Request(), read_choices(family, {k: v for k, v in typed.items() if v is not None}))
            work = family.work(design, SHOP)
        except ShopError:
            continue
        looked += 1
        assert not (wrong := blank_and_part(work)), (typed, wrong)
    assert looked >= 8


@pytest.mark.parametrize(
    ("typed", "long", "wide"),
    [
        ({}, 20.5, 10.008),  # 12.5 of shank and 8 of locating part
        ({"head_height": "5"}, 25.5, 16.0),  # a Ø is proposed for it: 10 + 6, up to a half
        ({"head_diameter": "18"}, 23.5, 18.0),  # and a height of 3
        ({"head_diameter": "0", "head_height": "59"}, 20.5, 10.008),  # one alone is no flange
        ({"head_diameter": "18", "head_height": "0"}, 20.5, 10.008),
    ],
)
def test_a_flange_has_a_diameter_and_a_height_or_is_none(typed: dict[str, str], long: float, wide: float) -> None:
    family = find_family("locator")
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    low, high = bounds(family.solid(design))
    assert high[2] - low[2] == pytest.approx(long)
    assert high[0] - low[0] == pytest.approx(wide)
    work = family.work(design, SHOP)
    assert work.blank.length_mm == pytest.approx(long)
    plan = plan_work("P", work, SHOP)
    assert not [f.words for f in rehearse_slips(plan, SHOP, SlipsMade()).findings]
    assert next(f for f in design.figures if f.key == "length").value == pytest.approx(long)


def test_a_pivot_needs_its_head() -> None:
    family = find_family("locator")
    for name in ("head_diameter", "head_height"):
        with pytest.raises(ShopError) as caught:
            solve_for(family, SHOP, Request(), read_choices(family, {"kind": "pivot", name: "0"}))
        assert caught.value.entry == name


@pytest.mark.parametrize("more", [{}, {"shank_diameter": "14"}, {"head_diameter": "18"}])
def test_flats_of_a_pin_are_as_deep_as_the_pin_there_asks(more: dict[str, str]) -> None:
    """Touched is the top of the locating part, also where shank or flange are thicker: from there half of what goes."""
    family = find_family("locator")
    typed = {"kind": "relieved", "locating_diameter": "9.98", "land_width": "3.3", **more}
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    plan = plan_work("P", family.work(design, SHOP), SHOP)
    assert not [f.words for f in rehearse_slips(plan, SHOP, SlipsMade()).findings]
    for setup in (s for s in plan.setups if s.fixture == "V-block"):
        assert "9.98" in next(z for z in setup.zeroes if z.axis == "Z").touches
        deepest = min(p[2] for m in setup.moves for stroke in m.strokes for p in stroke.path)
        assert deepest == pytest.approx(-(9.98 - 3.3) / 2)


def test_what_a_counterbore_leaves_by_intent_is_no_alarm_beside_the_face() -> None:
    """A 10 mm cutter in a drawn 10.5: the quarter left at its mouth stands nearer to the milled face than to the cutter."""
    family = find_family("table_key")
    design = solve_for(family, SHOP, Request(), read_choices(family, {"pieces": "39", "neck": "60.00"}))
    plan = plan_work("P", family.work(design, SHOP), SHOP, Options(style="quick", datum="corner"))
    bore = next(m for _, _, m in plan.moves if m.id == "bores.bore.1")
    assert bore.allowed_mm == pytest.approx(0.25, abs=1e-4)
    assert not [f.words for f in rehearse_slips(plan, SHOP, SlipsMade()).findings if f.kind in ("left", "gouge")]
