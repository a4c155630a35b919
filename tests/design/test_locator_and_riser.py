"""Locators and risers: fits and heights by hand.

Load lines by another road, turned parts measured off their plan, and what cannot be.
"""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import MultiPoint
from shapely import Point as Spot

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.families.locator import FAMILY as LOCATOR
from elbrix.design.families.locator.sizes import LocatorSizes
from elbrix.design.families.riser import FAMILY as RISER
from elbrix.design.families.riser.sizes import RiserSizes
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


def locator(shop: Shop, **typed: str) -> Design:
    return solve_for(LOCATOR, shop, Request(), read_choices(LOCATOR, typed))


def riser(shop: Shop, machine: str = "hazel", **typed: str) -> Design:
    return solve_for(RISER, shop, Request(machine=machine), read_choices(RISER, typed))


def said(design: Design, key: str) -> float:
    return design.figure(key).value


def turned_plan(design: Design, shop: Shop) -> Plan:
    return plan_work("Part", LOCATOR.work(design, shop), shop)


# --- locators ---------------------------------------------------------------------------------------------------------


def test_a_pin_goes_by_the_tightest_place(demo_shop: Shop) -> None:
    design = locator(demo_shop, hole="10.02; 10.005; 10.03")
    assert (
        said(design, "locating_diameter") == pytest.approx(9.987)
        and said(design, "least_play") == pytest.approx(0.018)
        and said(design, "most_play") == pytest.approx(0.043)
    )
    assert design.check("goes_in").verdict is Verdict.GO and design.check("round").verdict is Verdict.MARGINAL
    assert locator(demo_shop, hole="10", locating_diameter="10.002").check("goes_in").verdict is Verdict.NO_GO
    assert locator(demo_shop, hole="10", fit="close").values.number("locating_diameter") == pytest.approx(9.992)


def test_the_land_goes_by_what_the_spacing_is_off(demo_shop: Shop) -> None:
    # Hole 10, pin 9.982, spacing within 0.03, round pin's play 0.018: e = 0.021.
    design = locator(demo_shop, kind="relieved", hole="10")
    e = 0.03 - 0.009
    assert said(design, "widest_land") == pytest.approx(((100 - 9.982**2) / 4 - e * e) / e, rel=1e-9)
    assert design.values.number("land_width") == pytest.approx(3.3)  # a third, down to 0.1, is less than nine tenths of that
    worse = locator(demo_shop, kind="relieved", hole="10", spacing_error="0.06")
    assert worse.values.number("land_width") < 3.3 and worse.check("land_width").verdict is not Verdict.NO_GO
    assert (
        locator(demo_shop, kind="relieved", hole="10", spacing_error="0.2", land_width="3").check("land_width").verdict
        is Verdict.NO_GO
    )


def test_a_bush_goes_by_the_widest_and_the_tightest_place(demo_shop: Shop) -> None:
    design = locator(demo_shop, kind="bush", measured_bore="bronze yoke, trunnion")
    # Measured 18.03 to 18.07: 18.075 holds by 0.005 where it is widest and is 0.045 too large where it is tightest.
    assert (
        said(design, "locating_diameter") == pytest.approx(18.075)
        and said(design, "press_least") == pytest.approx(0.005)
        and said(design, "press_most") == pytest.approx(0.045)
    )
    assert said(design, "hole_depth") == 22 and design.check("even").verdict is Verdict.MARGINAL
    assert {f.machine for f in LOCATOR.fits(design, demo_shop)} == {"bronze yoke, trunnion"}


def test_a_pivot_turns_and_does_not_rattle(demo_shop: Shop) -> None:
    design = locator(demo_shop, kind="pivot", hole="12.01", hole_depth="15", end_float="0.05")
    assert said(design, "locating_length") == pytest.approx(15.05) and said(design, "locating_diameter") == pytest.approx(12.002)
    assert design.values.word("thread") == "M10x1.5" and design.check("end_float").verdict is Verdict.GO
    assert locator(demo_shop, kind="pivot", hole_depth="15", locating_length="14.9").check("end_float").verdict is Verdict.NO_GO


def cylinder(d: float, long: float) -> float:
    return math.pi / 4 * d * d * long


@pytest.mark.parametrize("kind", ["pin", "relieved", "pivot", "bush"])
def test_the_solid_weighs_its_cylinders(kind: str, demo_shop: Shop, kernel: Kernel) -> None:
    design = locator(demo_shop, kind=kind)
    s = LocatorSizes(design.values)
    lead = s.lead * math.tan(math.radians(15))
    r = s.size / 2
    # The lead takes a ring off: a cone frustum instead of a cylinder.
    gone = math.pi * s.lead * (r * r - (r * r + r * (r - lead) + (r - lead) ** 2) / 3)
    if kind == "bush":
        by_hand = cylinder(s.size, s.height) + cylinder(s.head, s.head_height) - cylinder(s.inner, s.length) - gone
    elif kind == "pivot":
        by_hand = cylinder(9.9, s.shank_length) + cylinder(s.size, s.height) + cylinder(s.head, s.head_height)
    else:
        by_hand = cylinder(s.shank, s.shank_length) + cylinder(s.size, s.height) - gone
    volume = kernel.ask("mass", LOCATOR.solid(design))["volume_mm3"]
    if kind == "relieved":
        # What stays between two flats: a circle cut off on both sides.
        w, d = s.land, s.size
        area = d * d / 2 * math.asin(w / d) + w / 2 * math.sqrt(d * d - w * w)
        assert volume == pytest.approx(cylinder(s.shank, s.shank_length) + area * s.height, rel=4e-3)
    else:
        assert volume == pytest.approx(by_hand, rel=1e-6)


# --- on the lathe -----------------------------------------------------------------------------------------------------


def test_the_last_cut_of_every_diameter_is_its_size(demo_shop: Shop) -> None:
    for kind in ("pin", "pivot", "bush"):
        design = locator(demo_shop, kind=kind)
        s = LocatorSizes(design.values)
        plan = turned_plan(design, demo_shop)
        assert plan.machine == "Tam" and [x.id for x in plan.setups][:2] == ["saw", "turn"]
        finals = {m.asked.key: m for _, _, m in plan.moves if m.asked and m.asked.key.endswith(".size")}
        wanted = {
            "pin": {"locating.size": s.size, "shank.size": s.shank},
            "pivot": {"journal.size": s.size, "head.size": s.head},
            "bush": {"outside.size": s.size},
        }[kind]
        for key, size in wanted.items():
            move = finals[key]
            assert move.asked is not None and move.asked.expected_mm == pytest.approx(size)
            # Tam's dial reads the radius.
            x = next(p for p in move.positions if p.axis == "X")
            assert x.value_mm == pytest.approx(size / 2) and "half of" in x.terms[0].words


def test_a_diameter_dial_reads_diameters(demo_shop: Shop) -> None:
    lathe = Machine(id="l", name="L", kind=MachineKind.LATHE, dial_reads="diameter", readout_step_mm=0.005)
    shop = Shop(machines=(lathe,), bars=demo_shop.bars)
    design = locator(shop, kind="pin")
    xs = [
        p.value_mm
        for _, _, m in turned_plan(design, shop).moves
        for p in m.positions
        if p.axis == "X" and m.asked and m.asked.key == "locating.size"
    ]
    assert xs == [pytest.approx(said(design, "locating_diameter"))]


def test_the_carriage_goes_left_and_right(demo_shop: Shop) -> None:
    # Tam's carriage: 12 mm a turn, 120 divisions. 22, and past the parting cut by 0.3 and 3: −25.3 is two turns and 13.
    plan = turned_plan(
        locator(demo_shop, kind="bush", locating_length="22", head_diameter="0", head_height="0", hole_depth="25"), demo_shop
    )
    z = next(p for _, _, m in plan.moves if m.id == "outside.1" for p in m.positions if p.axis == "Z")
    assert z.dial.text == "left 2 turns + 13 div" and "chuck" in z.dial.approach


def test_finishing_cuts_are_equal_and_go_one_way(demo_shop: Shop) -> None:
    plan = turned_plan(locator(demo_shop, kind="bush"), demo_shop)
    sizes = [m.asked.expected_mm for _, _, m in plan.moves if m.asked and m.asked.key.startswith("outside.size")]
    steps = [a - b for a, b in pairwise(sizes)]
    # Tam's cross-slide has 0.05 a line: a cut of 0.2 on the Ø could hardly be told from the next, 0.3 can.
    assert len(sizes) == 2 and steps == pytest.approx([0.3], abs=1e-6)


def test_thinner_end_out_of_the_chuck_and_length_adds_up(demo_shop: Shop) -> None:
    for typed in ({}, {"plate_hole": "6"}, {"plate_hole": "14"}):
        design = locator(demo_shop, **typed)
        work = LOCATOR.work(design, demo_shop)
        parts = [x for x in work.steps if type(x).__name__ == "TurnedPart"]
        by_reach = sorted(parts, key=lambda x: x.length_mm)  # type: ignore[union-attr]
        assert [x.size_mm for x in by_reach] == sorted(x.size_mm for x in parts)  # type: ignore[union-attr]
        assert by_reach[-1].length_mm == pytest.approx(said(design, "length")) == pytest.approx(work.blank.length_mm)  # type: ignore[union-attr]


def test_a_bar_that_is_all_but_the_size_is_no_bar_for_it(demo_shop: Shop) -> None:
    # Ø25.015 cannot come out of Ø25, however bright; Ø50 is the next there is.
    plan = turned_plan(
        locator(demo_shop, kind="bush", measured_bore="Clover's centre bore", head_diameter="0", head_height="0"), demo_shop
    )
    assert plan.bar is not None and plan.bar.bar.width_mm == 50


def test_a_round_bar_is_taken_or_bought(demo_shop: Shop) -> None:
    plan = turned_plan(locator(demo_shop, kind="pin"), demo_shop)
    assert plan.bar is not None and plan.bar.bar.width_mm == 16  # Ø10.008 from 16, of medium carbon steel
    big = turned_plan(locator(demo_shop, kind="pivot", hole="40"), demo_shop)
    assert big.bar is None and "Buy Ø" in big.problems[0]
    assert turned_plan(locator(Shop()), Shop()).assumed


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"kind": "relieved", "land_width": "11"}, "round pin", "land_width"),
        ({"kind": "bush", "bush_bore": "24.9"}, "No wall", "bush_bore"),
        ({"kind": "pivot", "thread": "M16"}, "shoulder", "thread"),
        ({"kind": "pivot", "head_diameter": "10"}, "has to stand out", "head_diameter"),
    ],
)
def test_locators_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match=said_) as caught:
        locator(demo_shop, **typed)
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "check"),
    [
        ({"shank_diameter": "9.99"}, "press"),
        ({"shank_length": "25"}, "shank_diameter"),
        ({"locating_length": "13"}, "jams"),
        ({"kind": "bush", "locating_diameter": "25.2"}, "splits"),
        ({"kind": "bush", "locating_length": "30"}, "long"),
        ({"kind": "relieved", "land_width": "0.4"}, "wears"),
    ],
)
def test_what_is_refused_says_why(typed: dict[str, str], check: str, demo_shop: Shop) -> None:
    found = locator(demo_shop, **typed).check(check)
    assert found.verdict is Verdict.NO_GO and found.reason


# --- risers -----------------------------------------------------------------------------------------------------------


def test_the_height_is_the_sum_and_its_errors_add(demo_shop: Shop) -> None:
    design = riser(
        demo_shop,
        kind="two",
        riser_height="42",
        lower="17",
        upper="25.03",
        lower_tolerance="0.02",
        upper_tolerance="0.03",
        height_tolerance="0.1",
    )
    assert (
        said(design, "height") == pytest.approx(42.03)
        and said(design, "worst") == pytest.approx(0.05)
        and said(design, "likely") == pytest.approx(math.hypot(0.02, 0.03))
    )
    assert design.check("height").value == pytest.approx(0.08) and design.check("height").verdict is Verdict.GO
    assert (
        riser(demo_shop, kind="two", riser_height="42", lower="17", upper="25.06", height_tolerance="0.08")
        .check("height")
        .verdict
        is Verdict.NO_GO
    )


def test_bolts_go_through_and_one_diameter_into_the_nut(demo_shop: Shop) -> None:
    # 40 high, the head sunk 10.5. The nut's neck, 7.2, fills lips of 8.2 to 8.3; its thread ends 10.65 down; M10.
    made = riser(demo_shop)
    lips = made.values.readings("lip")
    assert said(made, "bolt_least") == pytest.approx(40 - 10.5 + lips.max - 7.2 + 10)
    assert said(made, "bolt_most") == pytest.approx(40 - 10.5 + lips.min - 7.2 + 10.65, abs=0.06)
    assert said(made, "bolt_long") == 40 and made.check("bolt_thread").verdict is Verdict.MARGINAL
    # Another nut, drilled through: the slot's floor is the end.
    deep = riser(demo_shop, nut_full_thread="30")
    assert said(deep, "bolt_most") == pytest.approx(29.5 + deep.values.readings("slot_depth").min - 0.5)
    assert riser(demo_shop, nut_full_thread="6").check("bolt_thread").verdict is Verdict.NO_GO


@given(
    st.lists(
        st.tuples(st.floats(-60, 60), st.sampled_from([-25.0, 25.0, 0.0])),
        min_size=3,
        max_size=6,
        unique_by=lambda p: (round(p[0] / 12), p[1]),
    ),
    st.floats(-90, 90),
    st.floats(-60, 60),
)
def test_the_load_line_against_the_bolts_polygon(bolts: list[tuple[float, float]], x: float, y: float) -> None:
    text = "; ".join(f"{a:.2f},{b:.2f}" for a, b in bolts)
    design = riser(
        Shop(),
        bolts=text,
        load_x=f"{x:.2f}",
        load_y=f"{y:.2f}",
        length="170",
        width="90",
        joining_positions="none",
        top_positions="none",
    )
    ring = MultiPoint([(round(a, 2), round(b, 2)) for a, b in bolts]).convex_hull
    p = Spot(round(x, 2), round(y, 2))
    s = RiserSizes(design.values)
    if ring.geom_type != "Polygon":
        assert s.load_inside <= 1e-9
        return
    inside = ring.boundary.distance(p) if ring.contains(p) else 0.0
    if inside > 0.01:
        assert s.load_inside == pytest.approx(inside, abs=0.01)
        assert design.check("load").verdict is not Verdict.NO_GO
    elif ring.distance(p) > 0.01:
        assert s.load_inside < 0 and design.check("load").verdict is Verdict.NO_GO


def test_a_single_row_is_flagged(demo_shop: Shop) -> None:
    design = riser(demo_shop, "tam")
    assert design.values.number("slot_pitch") == 0 and design.check("bolts").verdict is Verdict.MARGINAL
    assert "single row" in design.check("bolts").reason
    assert riser(demo_shop, "tam", load_y="20").check("load").verdict is Verdict.NO_GO


def test_each_plate_has_its_own_holes(demo_shop: Shop, kernel: Kernel) -> None:
    upper, lower = riser(demo_shop, kind="two"), riser(demo_shop, kind="two", part="lower")
    a, b = {h.name: h.what for h in upper.holes}, {h.name: h.what for h in lower.holes}
    assert "counterbore" in a["B1"] and "counterbore" not in b["B1"] and "M8" in b["J1"] and "counterbore" in a["J1"]
    for design in (upper, lower):
        s = RiserSizes(design.values)
        volume = kernel.ask("mass", RISER.solid(design))["volume_mm3"]
        cones = sum(math.pi / 12 * h.drill**3 / 2 / math.tan(math.radians(59)) for h in s.holes if h.depth)
        assert volume == pytest.approx(s.volume - cones, rel=1e-5)


def test_joining_holes_wait_for_the_mate(demo_shop: Shop) -> None:
    lower = riser(demo_shop, kind="two", part="lower")
    plan = plan_work("Riser", RISER.work(lower, demo_shop), demo_shop, home="hazel")
    assert not any(m.id.startswith("pattern.tap") for _, _, m in plan.moves)
    assert any("Withheld till the upper plate" in m.words for _, _, m in plan.moves)
    assert plan.setups[next(i for i, s in enumerate(plan.setups) if s.id == "bench_first") + 1].id in ("part", "face", "pattern")
    now = riser(demo_shop, kind="two", part="lower", joining_holes="now")
    assert any(
        m.id.startswith("pattern.tap") for _, _, m in plan_work("R", RISER.work(now, demo_shop), demo_shop, home="hazel").moves
    )


def test_the_demo_riser_is_proven_and_fits_hazel_only(demo_shop: Shop) -> None:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "riser-vise")
    design = solve_doc(doc, demo_shop)
    assert {c.key for c in design.checks if c.verdict is not Verdict.GO} == {"bolt_thread"}  # M10 × 40: 0.94 d of thread
    assert [f.machine for f in RISER.fits(design, demo_shop) if f.verdict is Verdict.GO] == ["Hazel"]


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"bolts": "-90,0"}, "beside the plate", "bolts"),
        ({"top_positions": "0,60"}, "beside the plate", "top_positions"),
        ({"register_diameter": "20", "register_depth": "39.5"}, "floor would be gone", "register_depth"),
        ({"register_diameter": "90", "register_depth": "5", "top_positions": "none"}, "breaks out", "register_diameter"),
        ({"kind": "two", "upper": "10.6", "lower": "30"}, "Nothing would be left", "upper"),
    ],
)
def test_risers_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match=said_) as caught:
        riser(demo_shop, **typed)
    assert caught.value.entry == entry


def test_a_plug_centres_what_stands_on_it(demo_shop: Shop) -> None:
    assert (
        riser(demo_shop, register_diameter="25.01", plug_diameter="25", top_positions="none").check("register_diameter").verdict
        is Verdict.GO
    )
    assert (
        riser(demo_shop, register_diameter="24.97", plug_diameter="25", top_positions="none").check("register_diameter").verdict
        is Verdict.NO_GO
    )
    plan = plan_work(
        "R", RISER.work(riser(demo_shop, register_diameter="25.01", top_positions="none"), demo_shop), demo_shop, home="hazel"
    )
    assert any(m.asked and m.asked.expected_mm == pytest.approx(25.01) for _, _, m in plan.moves)
