"""Each thing that holds, by hand: where it touches, which way it pushes, what it is judged by."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from elbrix.geometry.shapes import circle, rectangle
from elbrix.holding.layout import Solid, all_elements, find_element
from elbrix.holding.margin import LOW_SHARE, times
from elbrix.holding.reach import furthest, spanner_room, travel_needed
from elbrix.holding.seats import seat_contacts
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.gauges import Parallel
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, Clamp, ClampKind, SupportBlock, TableStop, Vise
from layouts_tools import doc, solve, thing

# --- the vise ---------------------------------------------------------------------------------------------------------

VISE = Vise(
    id="v", name="vise", jaw_width_mm=100, jaw_height_mm=40, bed_height_mm=50, opening_mm=120, force_per_nm=400, max_torque_nm=40
)
PAIRS = tuple(Parallel(id=f"p{h}", height_mm=float(h), thickness_mm=8, length_mm=150) for h in (10, 20, 30))


def in_vise(demo_shop: Shop, **chosen: str):  # type: ignore[no-untyped-def]
    shop = replace(demo_shop, vises=(VISE,), parallels=PAIRS)
    own = {k: chosen.pop(k) for k in list(chosen) if k in ("offset", "parallels", "torque", "spacer", "jaw_friction")}
    return solve(
        doc(thing("vise", **own), **{"length": "80", "width": "40", "height": "30", "cutter_path": "over its top", **chosen}),
        shop,
    )


def test_vise_force_grip_and_height(demo_shop: Shop) -> None:
    hold = in_vise(demo_shop, parallels="p20", torque="20")
    assert hold.piece.bottom_mm == 70 and hold.check("0.grip").value == 20  # jaws end at 90
    assert hold.figure("0.force").value == pytest.approx(8.0)
    assert sum(p.force_n for p in hold.held.forces) == pytest.approx(LOW_SHARE * 8000)
    assert {p.direction for p in hold.held.forces} == {(0, 1, 0)} and all(p.at[2] == 80 for p in hold.held.forces)
    fixed = [c for c in hold.held.contacts if "fixed" in c.name]
    assert (
        {c.at[1] for c in fixed} == {20.0}
        and {c.at[0] for c in fixed} == {-40.0, 40.0}
        and {round(c.at[2], 6) for c in fixed} == {72.0, 88.0}
    )


def test_the_lowest_pair_that_leaves_half_above_the_jaws(demo_shop: Shop) -> None:
    # 40 of jaw less half of 30: 25 or more is wanted, so the 30 pair.
    assert in_vise(demo_shop).elements[0][1].word("parallels") == "p30"
    assert in_vise(demo_shop, height="90").elements[0][1].word("parallels") == ""


def test_pulled_straight_up_it_slips_at_its_friction(demo_shop: Shop) -> None:
    hold = in_vise(
        demo_shop,
        parallels="p20",
        torque="20",
        friction="0.15",
        jaw_friction="0.1",
        cut="drilling",
        cutter="drill-8.5",
        places="0,0",
        cutter_path="at places",
    )
    from elbrix.holding.contacts import Load
    from elbrix.holding.limit import LimitSolver

    limit = LimitSolver(hold.held).solve([Load((0, 0, 85), (0, 0, 1000))])[0]
    assert limit.factor == pytest.approx((hold.piece.weight_n + 5600 * (0.15 + 0.1)) / 1000, rel=0.02)


@pytest.mark.parametrize(
    ("chosen", "key", "verdict"),
    [
        ({"parallels": "p30", "height": "30"}, "0.grip", Verdict.GO),
        ({"parallels": "p30", "height": "80"}, "0.grip", Verdict.MARGINAL),
        ({"offset": "44"}, "0.middle", Verdict.NO_GO),
        ({"offset": "38"}, "0.middle", Verdict.MARGINAL),
        ({"offset": "30", "spacer": "yes"}, "0.middle", Verdict.GO),
        ({"torque": "38"}, "0.torque", Verdict.MARGINAL),
        ({"torque": "60"}, "0.torque", Verdict.NO_GO),
    ],
)
def test_vise_verdicts(chosen: dict[str, str], key: str, verdict: Verdict, demo_shop: Shop) -> None:
    assert in_vise(demo_shop, **chosen).check(key).verdict is verdict


def test_a_round_between_flat_jaws_touches_on_a_line(demo_shop: Shop) -> None:
    hold = in_vise(demo_shop, shape="a round", width="50", parallels="p20")
    fixed = [c for c in hold.held.contacts if "fixed" in c.name]
    assert fixed and all(abs(c.at[0]) < 4 for c in fixed) and hold.margin.rests


# --- stops, toes, supports --------------------------------------------------------------------------------------------


def test_a_stop_pushes_square_to_the_side_it_meets(demo_shop: Shop) -> None:
    shop = replace(demo_shop, stops=(TableStop(id="s", body_mm=30, height_mm=16, reach_mm=80),))
    hold = solve(doc(thing("stop", slot="middle slot", x="-90", direction="0"), length="100", width="60", height="20"), shop)
    contact = next(c for c in hold.held.contacts if c.name == "stop")
    assert contact.at == pytest.approx((-50, 0, 8)) and contact.inward == pytest.approx((1, 0, 0))
    turned = solve(
        doc(thing("stop", slot="middle slot", x="-90", direction="0"), length="100", width="60", height="20", angle="10"), shop
    )
    leaning = next(c for c in turned.held.contacts if c.name == "stop")
    assert leaning.inward == pytest.approx((math.cos(math.radians(10)), math.sin(math.radians(10)), 0))


def test_three_two_one_is_six(demo_shop: Shop) -> None:
    things = (
        thing("stop", slot="middle slot", x="-100", direction="0"),
        thing("stop", slot="front slot", x="-30", direction="90"),
        thing("stop", slot="front slot", x="30", direction="90"),
    )
    hold = solve(doc(*things, length="120", width="60", height="30"), demo_shop)
    assert hold.located.held == 6 and hold.located.twice == 0 and hold.check("located").verdict is Verdict.GO


def test_a_toe_clamp_against_a_stop_holds_and_alone_pushes_the_work_away(demo_shop: Shop) -> None:
    shop = replace(
        demo_shop,
        clamps=(Clamp(id="t", kind=ClampKind.TOE, length_mm=60, width_mm=30, thickness_mm=18, slot_from_mm=20, slot_to_mm=44),),
    )
    toe = thing("toe", slot="middle slot", x="90", direction="180", torque="2")
    against = solve(
        doc(
            toe,
            thing("stop", slot="middle slot", x="-90", direction="0"),
            length="100",
            width="60",
            height="20",
            cut="a light cut",
        ),
        shop,
    )
    alone = solve(doc(toe, length="100", width="60", height="20", cut="a light cut"), shop)
    push = against.held.forces[0]
    assert against.margin.rests and not alone.margin.rests and alone.check("margin").verdict is Verdict.NO_GO
    assert push.at[:2] == pytest.approx((50, 0)) and push.along == pytest.approx(
        (-math.cos(math.radians(10)), 0, -math.sin(math.radians(10))), abs=1e-9
    )
    assert against.figure("0.push").value == pytest.approx(1.0)  # 2 N·m on M10, dry
    askew = solve(
        doc(thing("toe", slot="middle slot", x="90", direction="150", torque="5"), length="100", width="60", height="20"), shop
    )
    assert askew.check("0.square").value == pytest.approx(30)


def test_supports_carry_where_they_stand(demo_shop: Shop) -> None:
    shop = replace(
        demo_shop,
        supports=(
            SupportBlock(id="r", kind=BlockKind.RISER, min_height_mm=25, max_height_mm=25, length_mm=40, width_mm=30, count=4),
        ),
    )
    hold = solve(
        doc(thing("support", x="-40", y="0"), thing("support", x="40", y="0"), length="140", width="60", height="20"), shop
    )
    seats = {(round(c.at[0]), round(c.at[1])) for c in hold.held.contacts if not c.mu}
    assert hold.piece.bottom_mm == 25 and seats == {
        (-60, -15),
        (-20, -15),
        (-60, 15),
        (-20, 15),
        (20, -15),
        (60, -15),
        (20, 15),
        (60, 15),
    }
    one = solve(doc(thing("support", x="45", y="0"), length="140", width="60", height="20"), shop)
    assert not one.margin.rests  # its weight hangs beside the block


# --- the plate --------------------------------------------------------------------------------------------------------


def test_screws_pins_and_what_they_accept(demo_shop: Shop) -> None:
    plate = {
        "length": "160",
        "width": "100",
        "thickness": "15",
        "screw_positions": "-40,0; 40,0",
        "thread": "M6",
        "torque": "6",
        "pin_positions": "-50,0; 50,0",
        "pin_diameter": "6",
        "pin_clearance": "0.02",
        "spacing_error": "0.03",
    }
    full = solve(doc(thing("plate", pins="two full", **plate), length="120", width="60", height="20"), demo_shop)
    assert full.check("0.spacing").value == pytest.approx(0.02 - 0.03) and full.check("0.spacing").verdict is Verdict.NO_GO
    relieved = solve(doc(thing("plate", pins="relieved", **plate), length="120", width="60", height="20"), demo_shop)
    e = 0.03 - 0.01  # the full pin's own play takes half of its clearance
    assert relieved.check("0.land").value == pytest.approx(((6.02**2 - 6**2) / 4 - e**2) / e, rel=1e-6)
    assert relieved.check("0.yaw").value == pytest.approx(math.degrees(0.02 / 100) * 3600)
    assert relieved.located.held == 6 and relieved.figure("0.pull").value == pytest.approx(6 / (0.2 * 6))
    across = [c for c in relieved.held.contacts if c.name.endswith("pin 2")]
    assert (
        len(across) == 2
        and {tuple(round(v) for v in c.inward) for c in across} == {(0, 1, 0), (0, -1, 0)}
        and all(c.mu == 0 for c in across)
    )


def test_heads_on_the_work_stand_in_the_way_of_facing(demo_shop: Shop) -> None:
    plate = thing("plate", screw_positions="-40,0; 40,0", thread="M6")
    faced = solve(doc(plate, length="120", width="60", height="20", cutter_path="over its top", depth_below_top="1"), demo_shop)
    assert faced.check("reach").verdict is Verdict.NO_GO and "head of screw" in faced.check("reach").reason


# --- small things -----------------------------------------------------------------------------------------------------


def test_seats_of_a_round_are_a_dozen_inside_it() -> None:
    contacts = seat_contacts((circle(90),), 5.0, 0.2)
    assert 8 <= len(contacts) <= 13 and all(math.hypot(*c.at[:2]) == pytest.approx(90) and c.at[2] == 5 for c in contacts)


def test_travel_and_spanners() -> None:
    path = [(-30.0, 5.0), (50.0, -10.0)]
    assert travel_needed(path) == (80, 15) and furthest(path) == (50, 10) and travel_needed([]) == (0, 0)
    post = Solid(ring=rectangle(10, 10), bottom_mm=0, top_mm=60, name="post")
    assert spanner_room((20, 0), [post], "strap", 30, 24) == "post" and spanner_room((40, 0), [post], "strap", 30, 24) == ""
    assert spanner_room((20, 0), [post], "strap", 70, 24) == "" and spanner_room((20, 0), [post], "post", 30, 24) == ""


def test_margins_as_said() -> None:
    assert [times(f) for f in (2.55, 9.96, 12.4, math.inf)] == ["2.5×", "10.0×", "12×", "no limit"]


def test_every_thing_says_what_it_is_for() -> None:
    known = all_elements()
    assert list(known) == ["strap", "vise", "stop", "toe", "support", "plate", "backing_bar", "split_vise"]
    for key, one in known.items():
        assert one.title and one.when and find_element(key) is one
    with pytest.raises(ShopError, match="no thing"):
        find_element("magnet")


# --- what a first proposal and a sentence must say ------------------------------------------------------------------


@pytest.mark.parametrize(("reach", "says"), [("30", "the clamp's own slot reaches there"), ("65", "the clamp has no slot there")])
def test_the_sentence_of_a_straps_own_slot_goes_with_its_value(demo_shop: Shop, reach: str, says: str) -> None:
    """A strap of 100 slotted from 14 to 58: its stud stands at reach + 8 from the nose."""
    hold = solve(
        doc(thing("strap", stud_to_tip=reach, x="95", direction="180"), length="150", width="100", height="20"), demo_shop
    )
    check = hold.check("0.slotted")
    assert check.reason == says and (check.value >= 0) == (reach == "30")


def test_a_first_width_of_cut_is_half_the_cutter(demo_shop: Shop) -> None:
    hold = solve(doc(thing("strap"), length="150", width="100", height="20"), demo_shop)
    cutter = next(c for c in demo_shop.cutters if c.id == hold.values.word("cutter"))
    assert hold.values.number("width_of_cut") == round(cutter.diameter_mm / 2, 2)


def test_a_half_on_a_slot_gives_way_and_a_half_on_rails_does_not(demo_shop: Shop) -> None:
    """On a slot the bolts' friction is all that is behind the fixed half; on rails the rails are."""
    solved = {
        stands: solve(doc(thing("split_vise", stands=stands), length="120", width="60", height="30"), demo_shop)
        for stands in ("slot", "rails")
    }
    most = {s: {c.most_n for c in h.held.contacts if "fixed half" in c.name} for s, h in solved.items()}
    assert most["rails"] == {math.inf}
    assert len(most["slot"]) == 1 and all(0 < m < math.inf for m in most["slot"])
