"""What a design refuses is said beside an entry, in the shop's unit, and covers what was only worked out."""

from __future__ import annotations

import random
import re

import pytest
from campaigns.designs import odd

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, all_families, find_family, read_choices, solve_for
from elbrix.making.planner import plan_work
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import INCH
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain, said_in
from elbrix.shop.shop import Shop

SHOP = shop_of(documents())
#: Numbers that are no lengths: sizes of threads, counts, angles, torques, and places as they were typed.
NO_LENGTH = re.compile(
    r"M\d[\d.]*( ?× ?[\d.]+)?|\b0 (for none|to)|#?\d+(/\d+)?-\d+( UN\w+)?|[\d,]+ holes|\b\d+ (of|at) (?=\u2063)"
    r"|[\d.]+ ?°|([\d.]+ to )?[\d.,]+ N(·m)?\b|\b[A-Z]+\d+\b|“[^”]*”|1\.5 of their Ø"
)


def refusals(key: str, count: int = 260) -> list[ShopError]:
    chance, family, found = random.Random(len(key)), find_family(key), []
    for _ in range(count):
        typed = {p.name: odd(p, chance) for p in chance.sample(list(family.parameters), min(5, len(family.parameters)))}
        try:
            solve_for(family, chance.choice((SHOP, Shop())), Request(), read_choices(family, typed))
        except EntryError:
            continue  # the text itself: answered in the unit it was typed in
        except ShopError as error:
            found.append(error)
    return found


@pytest.mark.parametrize("key", all_families())
def test_a_refusal_names_its_entry_and_gives_its_lengths_in_the_shops_unit(key: str) -> None:
    names = {p.name for p in find_family(key).parameters}
    for error in refusals(key):
        assert error.what and error.why and error.do
        assert error.entry in names, error
        unmarked = re.sub("\u2063[^\u2063]*\u2063", "", NO_LENGTH.sub("", str(error)))
        assert not re.search(r"\d|\bmm\b", unmarked), str(error)
        assert "mm" not in said_in(str(error), INCH)


def test_a_wall_too_thin_is_said_in_inches_to_an_inch_shop() -> None:
    with pytest.raises(ShopError) as met:
        solve_for(find_family("depth_stop"), SHOP, Request(), read_choices(find_family("depth_stop"), {"width": "25.4"}))
    assert met.value.entry == "width"
    assert "in 25.4 mm" in plain(str(met.value)) and "in 1.0000 inches" in said_in(str(met.value), INCH)


# --- what is worked out keeps the limits of what is typed --------------------------------------------------------------


def test_the_sleeve_of_the_smallest_bore_has_a_bore_and_two_walls() -> None:
    family = find_family("depth_stop")
    for bore in ("4", "4.00", "5", "8", "15", "16", "25"):
        design = solve_for(family, SHOP, Request(), read_choices(family, {"part": "sleeve", "bore": bore}))
        out, inner = design.values.number("sleeve_pressed"), design.values.number("sleeve_bore")
        assert inner >= 2 and (out - inner) / 2 >= min(2.99, out / 5 - 1e-9)
        family.solid(design)


@pytest.mark.parametrize(
    ("key", "typed", "entry", "says"),
    [
        ("locator", {"kind": "bush", "hole": "1.54"}, "bush_bore", "0 mm comes of the other sizes. It must be from 0.8"),
        ("locator", {"kind": "pin", "hole": "1.54"}, "", ""),  # a pin has no bore: nothing to refuse
    ],
)
def test_a_size_worked_out_keeps_the_limits_of_a_typed_one(key: str, typed: dict[str, str], entry: str, says: str) -> None:
    family = find_family(key)
    if not entry:
        solve_for(family, Shop(), Request(), read_choices(family, typed))
        return
    with pytest.raises(ShopError) as met:
        solve_for(family, Shop(), Request(), read_choices(family, typed))
    assert met.value.entry == entry and says in plain(str(met.value))


@pytest.mark.parametrize("key", all_families())
def test_first_designs_are_within_the_limits_of_their_own_entries(key: str) -> None:
    family = find_family(key)
    for shop in (SHOP, Shop()):
        design = solve_for(family, shop, Request(), {})
        for p in family.parameters:
            if p.name in design.values and p.kind is Kind.LENGTH:
                value = design.values.number(p.name)
                assert p.low - 1e-6 <= value <= p.high + 1e-6 or not any(p.name in g.rows for g in family.card(design)), p.name


def test_a_curved_nut_in_a_ring_that_is_too_small_for_it_does_not_fit_and_says_so() -> None:
    family = find_family("ring_nut")
    typed = {"head": "114.15", "ring_radius": "120.00", "length": "87.49"}
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    fits = family.fits(design, SHOP)
    assert fits and all(f.verdict is Verdict.NO_GO and f.reason for f in fits)


# --- what random designs found in rehearsal ---------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("key", "typed"),
    [
        ("fixture_plate", {"old_holes": "5,5; 40,5; 40,30; 22,12; 5,30", "bolt": "M10"}),
        ("fixture_plate", {"pin_positions": "5,5; 40,5", "old_holes": "circle 5 on 40"}),
        ("ring_nut", {"length": "5.39", "head_height": "51.92", "depth": "95.27"}),
        ("ring_nut", {"centring_error": "0.46", "ring_radius": "15.00"}),
    ],
)
def test_rehearsed_clean(key: str, typed: dict[str, str]) -> None:
    family = find_family(key)
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    heard = rehearse_slips(plan_work("D", family.work(design, SHOP), SHOP), SHOP, SlipsMade())
    assert [f.words for f in heard.findings] == []


def test_holes_that_are_there_mean_a_plate_that_is_there() -> None:
    family = find_family("fixture_plate")
    design = solve_for(family, SHOP, Request(pieces=3), read_choices(family, {"old_holes": "22,12"}))
    plan = plan_work("D", family.work(design, SHOP), SHOP)
    assert plan.there and plan.bar is None and plan.cut_length.value == 0 and not plan.problems
    assert "on the plate" in plan.source and any("Prove" in words for words in plan.assumed)
    assert not {s.id for s in plan.setups} & {"saw", "part", "face", "length"} and not any("square" in s.id for s in plan.setups)
    assert plan.kit[0].owned and "plate" in plan.kit[0].words
    # The drawing shows the hole, the rehearsal does not drill it.
    assert len(family.solid(design).tools) == len(plan.solid.tools) + 1  # type: ignore[attr-defined, union-attr]
