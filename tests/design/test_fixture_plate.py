"""Fixture plates: places from the slots, pins by sliding a pin about in its hole, holes by brute force, and what cannot be."""

from __future__ import annotations

import math
from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.bores import Hole, counterbored, nearest_pair, tapped
from elbrix.design.families.fixture_plate import FAMILY
from elbrix.design.families.fixture_plate.sizes import FixturePlateSizes
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.design.markout import mark_out
from elbrix.making.planner import plan_work
from elbrix.mechanics.pins import relieved_accept_mm, turn_rad, two_full_accept_mm, widest_land_mm
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


def plate(shop: Shop, machine: str = "hazel", **typed: str) -> Design:
    return solve_for(FAMILY, shop, Request(machine=machine), read_choices(FAMILY, typed))


def said(design: Design, key: str) -> float:
    return design.figure(key).value


# --- places -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "points"),
    [
        ("row 12,30 + 3 x 25", [(12, 30), (37, 30), (62, 30), (87, 30)]),
        ("column 5,-10 + 2 × 7.5", [(5, -10), (5, -2.5), (5, 5)]),
        ("circle 4 on 100", [(50, 0), (0, 50), (-50, 0), (0, -50)]),
        ("circle 2 on 60 at 90 about 10,5; 1,1", [(10, 35), (10, -25), (1, 1)]),
        ("row 1 in,0 + 1 x 1 in", [(25.4, 0), (50.8, 0)]),
    ],
)
def test_rows_columns_and_circles_become_ordinates(text: str, points: list[tuple[float, float]]) -> None:
    found = read_places(text, "mm", "Holes").points
    assert [p for q in found for p in q] == pytest.approx([p for q in points for p in q], abs=1e-5)


def test_a_chain_counts_every_hole_from_the_datum() -> None:
    # A third of a millimetre, thirty times: what is rounded hole by hole would be 0.1 short.
    assert read_places("row 0,0 + 30 x 1/3", "mm", "Holes").points[-1][0] == pytest.approx(10.0, abs=1e-9)


@pytest.mark.parametrize(
    "text", ["row 5,5 + x 3", "circle 0 on 40", "circle 3 on -4", "row 1,1 + 700 x 1", "circle 3 on 40 at x"]
)
def test_chains_that_are_none(text: str) -> None:
    with pytest.raises(EntryError):
        read_places(text, "mm", "Holes")


# --- on the table -----------------------------------------------------------------------------------------------------


def test_bolts_lie_on_the_slots_that_were_measured(demo_shop: Shop) -> None:
    # Hazel: 12.04 at its tightest lets M10 through; slots at −50, 0, 50; M10 goes through 11.
    design = plate(demo_shop)
    s = FixturePlateSizes(design.values)
    assert design.values.word("bolt") == "M10" and {abs(b.y) for b in s.bolts} == {50.0}
    assert said(design, "shift") == pytest.approx(0.5)
    span = math.hypot(2 * abs(s.bolts[0].x), 100)
    assert said(design, "turn") == pytest.approx(math.degrees(1 / span), rel=1e-6)


@given(st.floats(10, 90), st.booleans(), st.floats(-200, 200))
def test_off_the_slot_is_to_the_nearest_of_all_slots(pitch: float, over: bool, y: float) -> None:
    slots = [(i if over else i + 0.5) * pitch for i in range(-40, 40)]
    from elbrix.design.hosts import off_slots

    assert off_slots(y, pitch, over=over) == pytest.approx(min(abs(y - s) for s in slots), abs=1e-9)


def test_a_bolt_beside_the_slot_is_refused(demo_shop: Shop) -> None:
    near = plate(demo_shop, bolts="-100,-50.3; 100,-50; 0,50").check("on_slots")
    assert near.value == pytest.approx(0.3) and near.verdict is Verdict.MARGINAL
    assert plate(demo_shop, bolts="-100,-50.6; 100,-50; 0,50").check("on_slots").verdict is Verdict.NO_GO


def test_on_the_ring_slot_of_the_rotary_table(demo_shop: Shop) -> None:
    design = plate(demo_shop, "clover", kind="rotary")
    s = FixturePlateSizes(design.values)
    assert [math.hypot(b.x, b.y) for b in s.bolts] == pytest.approx([92.0] * 4, abs=0.001)
    assert s.centre == 25.005 and design.holes[0].what.startswith("Ø25.005 +0.01/−0 bored")
    assert all(h.below for h in s.work_holes)  # heads sunk underneath


def test_the_corner_datum_says_the_same_holes(demo_shop: Shop, kernel: Kernel) -> None:
    middle = plate(
        demo_shop, kind="work", length="200", width="140", bolts="-80,-50; 80,50", pattern="30,10", pin_positions="-50,0; 50,0"
    )
    corner = plate(
        demo_shop,
        kind="work",
        length="200",
        width="140",
        datum="corner",
        bolts="20,20; 180,120",
        pattern="130,80",
        pin_positions="50,70; 150,70",
    )
    for a, b in zip(middle.holes, corner.holes, strict=True):
        assert (a.x_mm + 100, a.y_mm + 70) == pytest.approx((b.x_mm, b.y_mm))
    assert kernel.ask("mass", FAMILY.solid(middle))["volume_mm3"] == pytest.approx(
        kernel.ask("mass", FAMILY.solid(corner))["volume_mm3"]
    )


def test_upside_down_the_pattern_is_mirrored(demo_shop: Shop) -> None:
    a = FixturePlateSizes(plate(demo_shop, kind="work", pattern="30,10; -20,5").values).work_holes
    b = FixturePlateSizes(plate(demo_shop, kind="work", pattern="30,10; -20,5", mirrored="yes").values).work_holes
    assert [(h.x, h.y) for h in b] == [(-h.x, h.y) for h in a]


# --- holes ------------------------------------------------------------------------------------------------------------


@given(
    st.lists(
        st.tuples(
            st.floats(-90, 90),
            st.floats(-60, 60),
            st.sampled_from(["M5", "M8", "M12"]),
            st.sampled_from(["tapped", "sunk", "under"]),
        ),
        min_size=2,
        max_size=14,
    )
)
def test_the_nearest_pair_is_the_nearest_of_all(spots: list[tuple[float, float, str, str]]) -> None:
    holes: list[Hole] = []
    for i, (x, y, size, how) in enumerate(spots):
        holes.append(tapped(f"H{i}", x, y, size) if how == "tapped" else counterbored(f"H{i}", x, y, size, below=how == "under"))

    def gap(a: Hole, b: Hole) -> float:
        apart = math.hypot(a.x - b.x, a.y - b.y)
        if a.below == b.below:
            return apart - a.mouth / 2 - b.mouth / 2
        return apart - max(a.mouth / 2 + b.d / 2, a.d / 2 + b.mouth / 2)

    found = nearest_pair(holes)
    assert found is not None and found[0] == pytest.approx(min(gap(a, b) for a, b in combinations(holes, 2)), abs=1e-9)


def test_a_grid_leaves_out_what_would_meet_a_bolt_or_a_pin(demo_shop: Shop) -> None:
    design = plate(demo_shop, pins="full", pin_positions="-50,0; 50,0", pattern="grid 12.5", length="240", width="134")
    s = FixturePlateSizes(design.values)
    assert len(s.work_holes) > 100
    for h in s.work_holes:
        for o in (*s.bolts, *s.pins):
            assert math.hypot(h.x - o.x, h.y - o.y) >= h.d / 2 + o.mouth / 2 + 0.5 * h.d - 1e-9
        assert s.edge(h.x, h.y) >= 1.5 * h.d - 1e-9
    assert (0.0, 0.0) in {(h.x, h.y) for h in s.work_holes}  # and keeps the middle


def test_the_solid_weighs_what_the_card_says(demo_shop: Shop, kernel: Kernel) -> None:
    design = plate(demo_shop, kind="work", pattern="-40,10; 40,10; 0,-20", old_holes="0,30; 20,-40", old_hole_diameter="9")
    volume = kernel.ask("mass", FAMILY.solid(design))["volume_mm3"]
    assert volume * 2700e-9 == pytest.approx(said(design, "mass"), rel=1e-6)
    # By hand: the block, four Ø11 bolt holes with counterbores 17 × 10.5, three tapped holes, two pin holes, two old ones.
    t, w = said(design, "thickness"), said(design, "width")
    by_hand = 240 * w * t - math.pi / 4 * (
        4 * (11**2 * (t - 10.5) + 17**2 * 10.5) + 3 * 5.0**2 * t + 2 * 5.992**2 * t + 2 * 81 * t
    )
    assert volume == pytest.approx(by_hand, rel=1e-6)


def test_holes_under_the_cutter_are_named(demo_shop: Shop) -> None:
    design = plate(
        demo_shop,
        kind="work",
        pattern="0,20; 60,-30",
        pin_positions="-60,-12; 60,12",
        cutter_path="-80,20; 80,20",
        cutter_diameter="16",
    )
    check = design.check("cutter_path")
    assert check.verdict is Verdict.NO_GO and "W1" in check.reason and check.value == pytest.approx(-8 - 3)


# --- two pins ---------------------------------------------------------------------------------------------------------


def goes_in(hole: float, pin: float, land: float, off: float) -> bool:
    """Whether a pin with flats a land apart, its middle `off` along the line, lies inside its hole.

    Every point of its outline looked at.
    """
    r = pin / 2
    corner = math.sqrt(max(0.0, r * r - land * land / 4))
    for y in (corner, *(-r + pin * i / 500 for i in range(501))):
        x = min(land / 2, math.sqrt(max(0.0, r * r - y * y)))
        for sign in (-1, 1):
            if math.hypot(sign * x + off, y) > hole / 2 + 1e-9:
                return False
    return True


@given(st.floats(3, 20), st.floats(0.005, 0.08), st.floats(0.01, 0.2))
def test_the_widest_land_is_the_widest_that_goes_in(pin: float, play: float, off: float) -> None:
    hole = pin + play
    land = widest_land_mm(hole, pin, off)
    if 0.2 < land < pin:
        assert goes_in(hole, pin, land * 0.995, off) and not goes_in(hole, pin, min(land * 1.02, pin), off * 1.001)
        # Turned round: with that land exactly that error is accepted.
        assert relieved_accept_mm(hole, pin, land, 0.0) == pytest.approx(off, rel=1e-6)


def test_pins_by_hand(demo_shop: Shop) -> None:
    # Two full pins with 0.02 each take 0.02; relieved to a third of 6: 0.01 + (√(4 + 36.2404 − 36) − 2)/2 = 0.0396.
    assert two_full_accept_mm(0.02, 0.02) == pytest.approx(0.02)
    design = plate(demo_shop, kind="work", pin_positions="-61,0; 61,0")
    assert (
        said(design, "accepted") == pytest.approx(0.01 + (math.sqrt(4.2404) - 2) / 2, abs=1e-6)
        and design.check("spacing").verdict is Verdict.GO
    )
    assert said(design, "pin_turn") == pytest.approx(206264.8 * 0.04 / 244, rel=1e-4)
    assert math.degrees(turn_rad(0.02, 0.02, 122)) * 3600 == pytest.approx(33.81, abs=0.01)
    full = plate(demo_shop, kind="work", pins="full")
    assert full.check("spacing").verdict is Verdict.NO_GO and "relieve one" in full.check("spacing").reason
    assert plate(demo_shop, kind="work", spacing_error="0.015").values.word("pins") == "full"


def test_pin_holes_at_assembly_are_kept_off_the_card(demo_shop: Shop) -> None:
    design = plate(demo_shop, kind="work", pin_holes="assembly")
    plan = plan_work("Plate", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    ids = [m.id for _, _, m in plan.moves]
    assert not any("ream" in i for i in ids) and any("Withheld" in m.words for _, _, m in plan.moves)
    assert any(
        "ream" in m.id
        for _, _, m in plan_work("Plate", FAMILY.work(plate(demo_shop, kind="work"), demo_shop), demo_shop, home="hazel").moves
    )


# --- made -------------------------------------------------------------------------------------------------------------


def test_every_hole_is_drilled_where_the_table_says(demo_shop: Shop) -> None:
    design = plate(demo_shop, "clover", kind="rotary")
    plan = plan_work("Plate", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    s = FixturePlateSizes(design.values)

    def at(prefix: str) -> set[tuple[float, float]]:
        found = set()
        for _, _, m in plan.moves:
            if m.id.startswith(prefix):
                xy = {p.axis: p.value_mm for p in m.positions}
                found.add((round(xy["X"], 3), round(xy["Y"], 3)))
        return found

    assert at("pattern.drill11") == {(round(b.x + s.length / 2, 3), round(b.y, 3)) for b in s.bolts}
    # From underneath: turned over about its long axis, far is near.
    assert at("under.drill6.6") == {(round(h.x + s.length / 2, 3), round(-h.y, 3)) for h in s.work_holes}


def test_marking_out_by_hand() -> None:
    sheet = mark_out([("A", -30, 10), ("B", 20, 10), ("C", 20, -15)], -50, -30)
    assert sheet.length == ((20.0, ("A",)), (70.0, ("B", "C"))) and sheet.width == ((15.0, ("C",)), (40.0, ("A", "B")))
    assert [round(r, 3) for _, _, r in sheet.radii] == [50.0, 25.0] and "A to B 50" in plain(sheet.words)


def test_where_it_fits(demo_shop: Shop) -> None:
    fits = {f.machine: f for f in FAMILY.fits(plate(demo_shop), demo_shop)}
    assert fits["Hazel"].verdict is Verdict.GO and fits["Pip"].verdict is Verdict.NO_GO
    assert fits["Old Margaret"].verdict is Verdict.NO_GO and "off the slot" in fits["Old Margaret"].reason  # 57.15 apart


def test_the_demo_plates_are_proven(demo_shop: Shop) -> None:
    for ident in ("plate-yoke", "plate-segments"):
        doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == ident)
        assert all(c.verdict is Verdict.GO for c in solve_doc(doc, demo_shop).checks)


# --- what cannot be ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"pattern": "300,0"}, "beside the plate", "pattern"),
        ({"bolts": "0,80"}, "beside the plate", "bolts"),
        ({"kind": "work", "pin_positions": "0,0; 200,0"}, "beside the plate", "pin_positions"),
        ({"thickness": "10"}, "Nothing would be left", "thickness"),
        ({"pattern": "grid 3", "length": "900", "width": "240"}, "Nobody taps that many", "pattern"),
    ],
)
def test_plates_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match=said_) as caught:
        plate(demo_shop, **typed)
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "check"),
    [
        ({"pattern": "0,0; 7,0"}, "web"),
        ({"bolt": "M16", "thickness": "40", "width": "160", "length": "300"}, "in_slot"),
        ({"width": "300"}, "on_table"),
        ({"bolts": "0,0"}, "bolts"),
        ({"kind": "work", "pins": "full", "pin_positions": "0,10"}, "located"),
        ({"kind": "work", "pin_positions": "-6,-30; 6,-30", "pattern": "-90,0; 90,0"}, "apart"),
    ],
)
def test_what_is_refused_says_why(typed: dict[str, str], check: str, demo_shop: Shop) -> None:
    found = plate(demo_shop, **typed).check(check)
    assert found.verdict is Verdict.NO_GO and found.reason


def test_heavy_plates_want_two_people(demo_shop: Shop) -> None:
    heavy = plate(demo_shop, length="500", width="200", thickness="25", material="mild steel").check("mass")
    assert heavy.verdict is Verdict.MARGINAL and "two people" in heavy.reason
