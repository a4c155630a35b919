"""The quill stop's sleeve and the tilting plate's bar as parts: weighed, cut from their plans, met by what they belong to."""

from __future__ import annotations

import math

import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import bounds

SHOP = shop_of(documents())


def solved(family: str, shop: Shop = SHOP, **typed: str) -> Design:
    found = find_family(family)
    return solve_for(found, shop, Request(), read_choices(found, typed))


SLEEVE = {
    "part": "sleeve",
    "bore": "25.12; 25.19",
    "bore_depth": "28",
    "sleeve_pressed": "25.195",
    "sleeve": "30",
    "sleeve_bore": "19",
    "sleeve_height": "40",
    "slider_bore": "30.02",
}
BAR = {"part": "bar", "bar_diameter": "30", "bar_length": "120", "screw_spacing": "70", "screw": "M6", "notch_width": "18"}


def test_the_sleeve_weighs_its_rings(kernel: Kernel) -> None:
    d = solved("depth_stop", **SLEEVE)
    o, r, i, lead = 25.195 / 2, 15.0, 9.5, 0.25
    cone = math.pi * 2 / 3 * (o * o + o * (o - lead) + (o - lead) ** 2)
    by_hand = math.pi * o * o * 26 + cone + math.pi * r * r * 40 - math.pi * i * i * 68
    assert kernel.ask("mass", find_family("depth_stop").solid(d))["volume_mm3"] == pytest.approx(by_hand, rel=1e-9)


def test_the_sleeve_is_turned_to_the_bore_in_cuts_that_are_measured() -> None:
    d = solved("depth_stop", **SLEEVE)
    plan = plan_work("T", find_family("depth_stop").work(d, SHOP), SHOP)
    assert rehearse(plan).clean and plan.machine == "Tam"
    sizes = [m.asked for _, _, m in plan.moves if m.asked is not None and m.id.startswith("pressed.")]
    # The last is the pressed part itself to three thousandths; those before leave equal cuts.
    assert sizes[-1].expected_mm == pytest.approx(25.195) and sizes[-1].allowed_mm == 0.003
    left = [a.expected_mm - 25.195 for a in sizes]
    each = 0.6 / len(sizes)
    assert len(sizes) >= 2 and left == pytest.approx([0.6 - each * n for n in range(1, len(sizes) + 1)], abs=1e-6)
    # Pressed part and guide come out of one chucking, so they run true to each other.
    assert {s.id for s, _, m in plan.moves if m.id.startswith(("pressed.", "guide."))} == {"turn"}


def test_the_bar_weighs_and_its_holes_meet_the_plate(kernel: Kernel) -> None:
    bar, plate = solved("tilting_plate", **BAR), solved("tilting_plate", **{**BAR, "part": "plate"})
    family = find_family("tilting_plate")
    r, deep = 2.5, bar.figure("drilled").value
    # Mouths are saddles: a hole of Ø5 in a round of 30 begins a little below its crest.
    saddle = math.pi * r * r * 15 - sum(
        math.sqrt(225 - y * y) * 2 * math.sqrt(r * r - y * y) * (2 * r / 4000)
        for y in (-r + 2 * r * (k + 0.5) / 4000 for k in range(4000))
    )
    body = math.pi * 225 * 118 + 2 * math.pi / 3 * (225 + 15 * 14 + 196)
    hole = math.pi * r * r * deep + math.pi * r**3 / math.tan(math.radians(59)) / 3 - saddle
    assert kernel.ask("mass", family.solid(bar))["volume_mm3"] == pytest.approx(body - 2 * hole, rel=5e-6)
    screws = [h.x_mm for h in plate.holes if h.name.startswith("S")]
    assert sorted(screws) == [-35.0, 35.0]
    low, high = bounds(family.solid(bar))
    assert (low[0], high[0]) == (-60.0, 60.0)


def test_the_bar_is_cut_clean_and_a_hole_set_wrong_is_named() -> None:
    d = solved("tilting_plate", **BAR)
    plan = plan_work("T", find_family("tilting_plate").work(d, SHOP), SHOP, home="hazel")
    assert rehearse(plan).clean
    across = [(s, m) for s, _, m in plan.moves if s.id == "across" and m.strokes]
    # Ordinates from the free end: 60 − 35 and 60 + 35.
    assert {round(p.value_mm, 3) for _, m in across for p in m.positions if p.axis == "X"} == {25.0, 95.0}
    drill = next(m for _, m in across if "drill" in m.id)
    x = next(p for p in drill.positions if p.axis == "X")
    assert rehearse(plan, Slips(keyed={(drill.id, "X"): x.dial.set_mm + 2.0})).wrong_at == drill.id


@pytest.mark.parametrize(
    ("family", "typed", "entry"),
    [
        ("depth_stop", {**SLEEVE, "sleeve": "25.5", "slider_bore": "25.6"}, "sleeve"),
        ("depth_stop", {**SLEEVE, "bore_depth": "3"}, "bore_depth"),
        ("depth_stop", {**SLEEVE, "sleeve_bore": "24.5"}, "sleeve_bore"),
        ("tilting_plate", {**BAR, "bar_length": "80"}, "bar_length"),
    ],
)
def test_what_cannot_be_is_refused_beside_its_entry(family: str, typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved(family, **typed)
    assert refused.value.entry == entry
