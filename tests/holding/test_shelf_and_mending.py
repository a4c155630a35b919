"""What a layout takes from the shelf.

The nearest mend of a verdict, what would locate the work, and layouts out of a cutting plan.
"""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from msgspec.structs import replace

from elbrix.book.designs import blank_of, plan_doc
from elbrix.book.designs import solve_doc as solve_design
from elbrix.book.documents import Chosen, DesignDoc, ElementDoc, LayoutDoc
from elbrix.book.layouts import asked_of, fix_of, fixed, solve_doc
from elbrix.book.plan_layouts import layout_of_operation
from elbrix.demo.holding import layouts
from elbrix.demo.wrenfield import documents
from elbrix.holding.contacts import Contact
from elbrix.holding.cut import spread_along
from elbrix.holding.locating import guidance, located
from elbrix.holding.solve import LayoutResult, all_parameters
from elbrix.making.plan import Plan
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Fastener, FastenerKind

DEMO = {d.id: d for d in layouts() if isinstance(d, LayoutDoc)}


def with_values(doc: LayoutDoc, **chosen: str) -> LayoutDoc:
    return replace(doc, chosen={**doc.chosen, **{k: Chosen(text=v) for k, v in chosen.items()}})


def strap(x: str, **chosen: str) -> ElementDoc:
    values = {"slot": "middle slot", "x": x, "clamp": "strap-100", "stud": "stud-m10", **chosen}
    return ElementDoc(kind="strap", chosen={k: Chosen(text=v) for k, v in values.items()})


# --- the shelf --------------------------------------------------------------------------------------------------------


def test_everything_of_the_dial_plate_is_there(demo_shop: Shop) -> None:
    check = solve_doc(DEMO["hold-dial"], demo_shop).check("shelf")
    assert check.verdict is Verdict.GO and check.value == 0


def test_more_clamps_than_owned_is_said_with_the_number(demo_shop: Shop) -> None:
    few = replace(demo_shop, clamps=tuple(replace(c, count=1) if c.id == "strap-100" else c for c in demo_shop.clamps))
    check = solve_doc(DEMO["hold-dial"], few).check("shelf")  # two of them are on it
    assert check.verdict is Verdict.NO_GO and check.value == 1
    assert "2 × strap clamp 100 × 30 × 18 wanted, 1 in Shop" in check.reason


def shelf(shop: Shop, *fasteners: Fastener, doc: str = "hold-dial") -> tuple[float, str]:
    check = solve_doc(DEMO[doc], replace(shop, fasteners=fasteners)).check("shelf")
    return check.value, check.reason


def test_a_t_nut_too_wide_for_the_lips_does_not_count(demo_shop: Shop) -> None:
    # The lips are 12.04 apart at the least.
    wide = Fastener(id="n", kind=FastenerKind.T_NUT, thread="M10", neck_mm=12.1, count=9)
    slim = replace(wide, neck_mm=12.0)
    assert shelf(demo_shop, wide)[0] == 3 and "that goes into the middle slot" in shelf(demo_shop, wide)[1]
    assert shelf(demo_shop, slim)[0] == 0
    assert shelf(demo_shop, replace(slim, thread="M12"))[0] == 3  # a thread no nut for this slot can have is no help
    assert shelf(demo_shop, replace(slim, thread="M8"))[0] == 0  # those are taken, with the studs that go in them
    assert shelf(demo_shop)[0] == 0  # a shop that lists no nuts is not asked for them


def test_screws_of_a_plate_reach_the_thread_and_not_the_table(demo_shop: Shop) -> None:
    # Work 22 high, plate 20 thick, M6: one diameter of thread from 28, the table at 42.
    def short(length: float) -> float:
        return shelf(
            demo_shop, Fastener(id="s", kind=FastenerKind.CAP_SCREW, thread="M6", length_mm=length, count=9), doc="hold-yoke"
        )[0]

    assert [short(length) for length in (27, 28, 42, 43)] == [3, 0, 0, 3]


def test_a_fastener_has_sizes() -> None:
    with pytest.raises(ShopError, match="below nothing"):
        Fastener(id="f", thread="M6", length_mm=-1)
    assert Fastener(id="f", kind=FastenerKind.CAP_SCREW, thread="M6", length_mm=35).title == "cap screw M6 × 35"


# --- mending ----------------------------------------------------------------------------------------------------------


def verdicts(hold: LayoutResult) -> dict[str, Verdict]:
    return {c.key: c.verdict for c in hold.checks}


@pytest.mark.parametrize(
    ("doc", "chosen", "key"),
    [
        ("hold-dial", {"depth_of_cut": "6", "width_of_cut": "8"}, "margin"),
        ("hold-wedge", {"x": "-345"}, "travel X"),
        ("bare", {"y": "70"}, "over"),
    ],
)
def test_the_nearest_mend_really_mends_and_spoils_nothing(demo_shop: Shop, doc: str, chosen: dict[str, str], key: str) -> None:
    bad = with_values(DEMO[doc] if doc in DEMO else replace(DEMO["hold-dial"], elements=()), **chosen)
    before = verdicts(solve_doc(bad, demo_shop, quick=True))
    assert before[key] is not Verdict.GO
    fix = fix_of(bad, demo_shop, key)
    assert fix is not None
    after = verdicts(solve_doc(fixed(bad, demo_shop, fix), demo_shop, quick=True))
    assert after.get(key, Verdict.GO).rank < before[key].rank
    assert all(v.rank <= before.get(k, Verdict.GO).rank for k, v in after.items())


def test_torque_of_one_strap_comes_down_where_its_slot_gives(demo_shop: Shop) -> None:
    hard = replace(DEMO["hold-dial"], elements=(strap("118", direction="180", torque="48"), *DEMO["hold-dial"].elements[1:]))
    bad = [k for k, v in verdicts(solve_doc(hard, demo_shop)).items() if k.startswith("0.") and v is Verdict.NO_GO]
    assert bad
    fix = fix_of(hard, demo_shop, bad[0])
    assert fix is not None and [n for n, _ in fix.changes] == ["0.torque"] and float(fix.changes[0][1]) < 48
    assert fix.text.startswith("Tightening torque, strap 1: ")


@pytest.mark.parametrize(("doc", "deep", "key"), [("hold-dial", "9", "table"), ("hold-wedge", "33", "reach")])
def test_how_deep_the_cut_goes_is_never_changed(demo_shop: Shop, doc: str, deep: str, key: str) -> None:
    bad = with_values(DEMO[doc], depth_below_top=deep, cutter_path="around")
    assert solve_doc(bad, demo_shop, quick=True).check(key).verdict is not Verdict.GO
    fix = fix_of(bad, demo_shop, key)  # the part would be another
    assert fix is None or all(name != "depth_below_top" for name, _ in fix.changes)


def screw_share(doc: LayoutDoc, shop: Shop, key: str) -> float:
    return solve_doc(doc, shop, quick=True).check(key).value


def test_screws_of_a_plate_against_their_proof_load(demo_shop: Shop) -> None:
    # M6, 8.8, dry, 7 N·m: 7000/(0.2 · 6) = 5833 N over 20.1 mm² · 580 MPa; 1.3 times that still holds.
    assert screw_share(DEMO["hold-yoke"], demo_shop, "0.screw") == pytest.approx(100 * 5833.3 / (20.1 * 580), rel=2e-3)
    tight = replace(
        DEMO["hold-yoke"],
        elements=tuple(replace(t, chosen={**t.chosen, "torque": Chosen(text="15")}) for t in DEMO["hold-yoke"].elements),
    )
    assert solve_doc(tight, demo_shop, quick=True).check("0.screw").verdict is Verdict.NO_GO
    fix = fix_of(tight, demo_shop, "0.screw")
    assert fix is not None and float(dict(fix.changes)["0.torque"]) < 15


def test_no_mend_of_the_margin_breaks_a_screw(demo_shop: Shop) -> None:
    # Held by its screws alone, without pins.
    alone = replace(
        DEMO["hold-yoke"],
        elements=tuple(replace(t, chosen={**t.chosen, "pins": Chosen(text="none")}) for t in DEMO["hold-yoke"].elements),
    )
    bad = with_values(alone, depth_of_cut="10", width_of_cut="6", friction="0.1")
    assert solve_doc(bad, demo_shop, quick=True).check("margin").verdict is not Verdict.GO
    fix = fix_of(bad, demo_shop, "margin")
    assert fix is not None
    assert solve_doc(fixed(bad, demo_shop, fix), demo_shop, quick=True).check("0.screw").verdict is not Verdict.NO_GO


def test_a_stud_is_judged_where_nobody_measured_the_slot(demo_shop: Shop) -> None:
    hazel = replace(
        demo_shop.machines[0],
        slots=tuple(replace(s, neck=None, lip=None, head=None, depth=None) for s in demo_shop.machines[0].slots),
    )
    shop = replace(demo_shop, machines=(hazel, *demo_shop.machines[1:]))
    doc = replace(DEMO["hold-dial"], machine=hazel.id, elements=(strap("118", direction="180", torque="60"),))
    # M10, 8.8, dry: 60000/(0.2 · 10) = 30 kN over 57.99 mm² · 580 MPa = 33.6 kN.
    assert screw_share(doc, shop, "0.stud") == pytest.approx(100 * 30000 / (57.99 * 580), rel=2e-3)
    assert solve_doc(doc, shop, quick=True).check("0.stud").verdict is Verdict.NO_GO  # over 100/1.3, and nobody knows the lips


def test_the_push_screw_of_a_toe_clamp_is_judged(demo_shop: Shop) -> None:
    toe = ElementDoc(kind="toe", chosen={"torque": Chosen(text="80")})
    doc = replace(DEMO["hold-dial"], elements=(toe,))
    check = solve_doc(doc, demo_shop, quick=True).check("0.screw")
    assert check.verdict is Verdict.NO_GO and check.value == pytest.approx(100 * 40000 / (57.99 * 580), rel=2e-3)


KINDS = ("strap", "toe", "stop", "vise", "support", "plate")


@pytest.mark.parametrize("kind", KINDS)
def test_every_check_names_things_that_can_be_changed(demo_shop: Shop, kind: str) -> None:
    docs = [*DEMO.values(), replace(DEMO["hold-dial"], elements=(ElementDoc(kind=kind), ElementDoc(kind="strap")))]
    each = replace(DEMO["hold-dial"], elements=tuple(ElementDoc(kind=k) for k in KINDS))
    own = {n.rpartition(".")[2] for n in all_parameters(demo_shop, demo_shop.machines[0], asked_of(each, demo_shop)) if "." in n}
    for doc in docs:
        machine = next(m for m in demo_shop.machines if m.id == doc.machine)
        known = all_parameters(demo_shop, machine, asked_of(doc, demo_shop))
        for check in solve_doc(doc, demo_shop, quick=True).checks:
            for name in check.remedies:
                number, _, last = name.rpartition(".")
                assert last in own if number in ("*", "?") else name in known, (doc.id, check.key, name)


def test_what_is_right_or_past_mending_has_none(demo_shop: Shop) -> None:
    assert fix_of(DEMO["hold-wedge"], demo_shop, "margin") is None  # it holds
    assert fix_of(DEMO["hold-wedge"], demo_shop, "no such check") is None
    assert fix_of(DEMO["hold-wedge"], demo_shop, "located") is None  # only another stop would


# --- locating ---------------------------------------------------------------------------------------------------------

THREE = [Contact(at, (0, 0, 1), 0.15, f"rest {i}") for i, at in enumerate([(-40, -20, 0), (40, -20, 0), (0, 20, 0)])]
TWO = [Contact((x, 20, 5), (0, -1, 0), 0.15, f"side {x}") for x in (-40, 40)]
ONE = [Contact((-50, 0, 5), (1, 0, 0), 0.15, "end")]


def test_guidance_by_three_two_and_one() -> None:
    assert guidance(located([*THREE, *TWO, *ONE])).startswith("Located by three, two and one")
    assert guidance(located([*THREE, *TWO])).startswith("One: a stop against its end")
    assert guidance(located(THREE)).startswith("Two: two stops against its long side")
    assert "A second stop on the side" in guidance(located([*THREE, TWO[0], *ONE]))
    assert guidance(located([*TWO, *ONE])).startswith("Three:")
    fourth = Contact((0, 20, 5), (0, -1, 0), 0.15, "a third on the side, out of line")
    assert "1 more than needed" in guidance(located([*THREE, *TWO, *ONE, replace(fourth, at=(0, 21, 5))]))


# --- drawn paths and plans --------------------------------------------------------------------------------------------


def test_places_along_a_line_keep_its_corners_and_are_even() -> None:
    line = [(0.0, 0.0), (60.0, 0.0), (60.0, 30.0)]
    found = spread_along(line, 21)
    assert all(corner in found for corner in line) and len(found) <= 21
    gaps = [math.dist(a, b) for a, b in pairwise(found)]
    assert max(gaps) == pytest.approx(min(gaps)) and sum(gaps) == pytest.approx(90)
    assert spread_along([(1.0, 2.0)]) == [(1.0, 2.0)]


@pytest.fixture(scope="module")
def planned(demo_shop: Shop) -> tuple[DesignDoc, Plan]:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "t-nut-hazel")
    return doc, plan_doc(doc, solve_design(doc, demo_shop), demo_shop)


def laid(planned: tuple[DesignDoc, Plan], shop: Shop, move: str) -> LayoutDoc:
    return layout_of_operation(planned[1], blank_of(planned[0], shop), move, shop, "h")


def numbers(text: str) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in (pair.split(",") for pair in text.split(";"))]


def test_holes_of_a_plan_counted_from_the_middle_of_the_bar(planned: tuple[DesignDoc, Plan], demo_shop: Shop) -> None:
    doc = laid(planned, demo_shop, "holes.drill.3")
    # X of the plan is from the left end of the sawn bar, the holes one nut and one saw cut apart.
    length, xs = (
        planned[1].cut_length.value,
        [p.value_mm for _, o, m in planned[1].moves if o.tool == "drill Ø8.5" for p in m.positions if p.axis == "X"],
    )
    assert numbers(doc.chosen["places"].text) == [(pytest.approx(x - length / 2, abs=1e-3), 0.0) for x in xs] and len(xs) == 6
    assert (doc.chosen["cut"].text, doc.chosen["cutter_path"].text, doc.chosen["cutter"].text) == (
        "drilling",
        "points",
        "drill-8.5",
    )
    assert solve_doc(doc, demo_shop).margin.least > 2


def test_a_shoulder_of_a_plan_is_a_line_along_the_bar(planned: tuple[DesignDoc, Plan], demo_shop: Shop) -> None:
    doc = laid(planned, demo_shop, "shoulder.near.rough1")
    (x1, y1), (x2, y2) = numbers(doc.chosen["places"].text)
    assert y1 == y2 < 0 and x1 == -x2
    # The cutter's edge cuts from its own wall to the side of the bar.
    assert float(doc.chosen["width_of_cut"].text) == pytest.approx(float(doc.chosen["width"].text) / 2 - (abs(y1) - 3), abs=0.01)
    hold = solve_doc(doc, demo_shop)
    assert hold.values.number("depth_below_top") == pytest.approx(7.2) and hold.values.number("depth_of_cut") < 2


def test_ends_of_a_plan_stand_out_of_the_jaws(planned: tuple[DesignDoc, Plan], demo_shop: Shop) -> None:
    doc = laid(planned, demo_shop, "face.first")
    hold = solve_doc(doc, demo_shop)
    jaw_end = float(doc.elements[0].chosen["offset"].text) + demo_shop.vises[0].jaw_width_mm / 2
    assert 20 / 2 - jaw_end == pytest.approx(float(doc.chosen["width_of_cut"].text) + 3, abs=0.1)
    assert hold.check("reach").verdict is Verdict.GO and doc.elements[0].chosen["spacer"].text == "yes"


@pytest.mark.parametrize("move", ["shoulder.deburr", "part.1"])
def test_what_neither_mills_nor_drills_makes_no_layout(planned: tuple[DesignDoc, Plan], demo_shop: Shop, move: str) -> None:
    with pytest.raises(ShopError, match="no milling or drilling"):
        laid(planned, demo_shop, move)


def test_parallels_leave_the_cut_above_the_jaws(demo_shop: Shop) -> None:
    # 34 high in jaws of 40: a cut 25 deep leaves 27 above, 7 in the jaws, so parallels of 33 or more; half of it would be 23.
    def lowest(deep: str) -> float:
        hold = solve_doc(with_values(DEMO["hold-wedge"], depth_below_top=deep), demo_shop, quick=True)
        pair = hold.elements[0][1].word("parallels")
        return next(p.height_mm for p in demo_shop.parallels if p.id == pair)

    heights = sorted(p.height_mm for p in demo_shop.parallels if p.count > 1)
    assert lowest("2") == min(h for h in heights if h >= 23)
    most = max(h for h in heights if h <= 40 - 3.4)
    assert lowest("25") == min([h for h in heights if 33 <= h <= most] or [most])
