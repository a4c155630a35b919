"""Layouts: shapes, clamp mechanics, cutting forces and reach by hand; the demo layouts; what cannot be."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.choices import read_chosen
from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc
from elbrix.book.layouts import add_element, asked_of, choose_layout, forget_layout, parameters_of, remove_element, solve_doc
from elbrix.demo.holding import layouts
from elbrix.geometry.shapes import (
    area,
    check_outline,
    circle,
    clipped,
    distance,
    hull,
    inside,
    nearest,
    overlap,
    placed,
    ray,
    rectangle,
)
from elbrix.holding import cut
from elbrix.holding.contacts import Contact
from elbrix.holding.layout import Solid, all_elements
from elbrix.holding.locating import located, moved_by_errors
from elbrix.holding.margin import LOW_SHARE
from elbrix.holding.reach import Stretch, ToolShape, clashes
from elbrix.holding.solve import LayoutResult, machine_for
from elbrix.holding.straps import bending_share, heel_for
from elbrix.holding.suggest import suggest
from elbrix.mechanics.cutting import GRABS_UP, OUTWARD, PULLS_UP, WORN, drilling_force, guessed_force, milling_force
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.results.progress import Stopped
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, Clamp, SupportBlock, Vise, screw_force_per_nm
from elbrix.standards.materials import material

DEMO = {d.id: d for d in layouts() if isinstance(d, LayoutDoc)}
STEEL = material("mild steel")


def doc(*things: ElementDoc, machine: str = "hazel", **chosen: str) -> LayoutDoc:
    return LayoutDoc(id="h", title="h", machine=machine, chosen={k: Chosen(text=v) for k, v in chosen.items()}, elements=things)


def thing(kind: str, **chosen: str) -> ElementDoc:
    return ElementDoc(kind=kind, chosen={k: Chosen(text=v) for k, v in chosen.items()})


def check(hold: LayoutResult, key: str) -> Verdict:
    return hold.check(key).verdict


# --- shapes -----------------------------------------------------------------------------------------------------------

SQUARE = rectangle(10, 10)


def test_shapes_by_hand() -> None:
    assert area(SQUARE) == 100 and area(tuple(reversed(SQUARE))) == -100
    assert inside(SQUARE, (5, 0)) and inside(SQUARE, (0, 0)) and not inside(SQUARE, (5.1, 0))
    assert nearest(SQUARE, (9, 2)) == (5, 2) and distance(SQUARE, (0, 0)) == 5
    assert ray(SQUARE, (-20, 1), (1, 0)) == (pytest.approx(15), (pytest.approx(-1), pytest.approx(0)))
    assert ray(SQUARE, (-20, 7), (1, 0)) is None
    assert area(clipped(SQUARE, rectangle(4, 30))) == pytest.approx(40)
    assert clipped(SQUARE, placed(SQUARE, 30, 0, 0)) == ()
    assert overlap(SQUARE, placed(SQUARE, 9.9, 0, 0)) and not overlap(SQUARE, placed(SQUARE, 10, 0, 0))
    assert set(hull([*SQUARE, (0, 0), (2, 3)])) == set(SQUARE)
    assert abs(area(circle(10)) - math.pi * 100) < 1


@given(st.lists(st.tuples(st.integers(-100, 100), st.integers(-100, 100)), min_size=3, max_size=20))
def test_a_hull_holds_all_its_points(points: list[tuple[float, float]]) -> None:
    ring = hull(points)
    if len(ring) >= 3 and area(ring) > 1e-3:
        assert all(inside(ring, p) or distance(ring, p) < 1e-6 for p in points)


@pytest.mark.parametrize(
    ("ring", "said"),
    [
        (((0, 0), (10, 0)), "corners"),
        (((0, 0), (10, 10), (10, 0), (0, 10)), "cross"),
        (((0, 0), (5, 0), (10, 0)), "no area"),
        (tuple((float(i), float(i % 7)) for i in range(2500)), "at most"),
    ],
)
def test_outlines_that_are_none(ring: tuple[tuple[float, float], ...], said: str) -> None:
    with pytest.raises(ShopError, match=said):
        check_outline(ring)


def test_an_outline_turned_round_is_turned_back() -> None:
    assert area(check_outline(tuple(reversed(SQUARE)))) > 0
    assert len(check_outline((*SQUARE, SQUARE[0]))) == 4


# --- forces -----------------------------------------------------------------------------------------------------------


def test_milling_force_by_hand() -> None:
    # Half the cutter, four teeth: one in the cut, hardest at 90° where its chip is the whole feed.
    hardest = STEEL.kc11_mpa * 0.05 ** (1 - STEEL.mc) * 3 * math.hypot(1, OUTWARD)
    found = milling_force(STEEL, 12, 4, 3, 6, 0.05)
    assert found.sideways_n == pytest.approx(hardest * WORN, rel=1e-3)
    assert found.torque_nmm == pytest.approx(hardest / math.hypot(1, OUTWARD) * WORN * 6, rel=1e-3)
    assert found.up_n == pytest.approx(PULLS_UP * found.sideways_n)
    # A slot with two teeth has one in the cut as well; a thin cut never sees the whole feed.
    assert milling_force(STEEL, 12, 2, 3, 99, 0.05).sideways_n == pytest.approx(found.sideways_n, rel=1e-3)
    assert milling_force(STEEL, 12, 4, 3, 1, 0.05).sideways_n < 0.75 * found.sideways_n
    with pytest.raises(ShopError, match="cut of nothing"):
        milling_force(STEEL, 12, 4, 0, 6, 0.05)


def test_the_teeth_of_a_slot_add_up_as_vectors() -> None:
    """Another road: unit vectors turned with complex numbers, on a finer turn."""
    best = 0.0
    for k in range(2000):
        total = 0j
        for tooth in range(4):
            phi = (k / 2000 + tooth) * math.pi / 2
            if 0 < phi < math.pi:
                push = STEEL.kc11_mpa * (0.05 * math.sin(phi)) ** (1 - STEEL.mc) * 3
                total += push * complex(1, -OUTWARD) * complex(math.cos(phi), math.sin(phi))
        best = max(best, abs(total))
    assert milling_force(STEEL, 12, 4, 3, 12, 0.05).sideways_n == pytest.approx(best * WORN, rel=2e-3)


def test_drilling_force_by_hand() -> None:
    found = drilling_force(STEEL, 8, 0.1)
    kc = STEEL.kc11_mpa * (0.05 * math.sin(math.radians(59))) ** -STEEL.mc
    assert found.torque_nmm == pytest.approx(kc * 0.1 * 64 / 8 * WORN)
    assert found.up_n == pytest.approx(-kc * 0.1 * 8 / 4 * math.sin(math.radians(59)) * WORN) and found.sideways_n == 0
    assert guessed_force("light").sideways_n < guessed_force("heavy").sideways_n
    with pytest.raises(ShopError):
        guessed_force("brutal")


def test_a_strap_by_hand(demo_shop: Shop) -> None:
    clamp = Clamp(id="c", length_mm=100, width_mm=30, thickness_mm=18, slot_from_mm=16, slot_to_mm=56, slot_width_mm=11)
    assert bending_share(clamp, 5000, 30).value * clamp.yield_mpa == pytest.approx(6 * 5000 * 30 / (19 * 18**2))
    hold = solve_doc(
        doc(
            thing("strap", slot="middle slot", x="74", direction="180", stud_to_tip="30", torque="20", clamp="strap-100"),
            length="100",
            width="60",
            height="20",
        ),
        demo_shop,
    )
    # 20 N·m on M10 dry: 10 kN; heel arm 100 − 4 − 6 − 30 = 60, so 60/90 of it.
    assert hold.figure("0.pull").value == pytest.approx(10.0) and hold.figure("0.tip_n").value == pytest.approx(10 * 60 / 90)
    assert hold.check("0.lever").value == pytest.approx(60 / 90 * 100)
    push = hold.held.forces[0]
    assert push.at == pytest.approx((44, 0, 20)) and push.force_n == pytest.approx(LOW_SHARE * 6666.7, rel=1e-4)


def test_the_heel_is_level_or_a_hair_above() -> None:
    step = SupportBlock(id="s", kind=BlockKind.STEP, min_height_mm=6, max_height_mm=38, step_mm=2)
    jack = SupportBlock(id="j", kind=BlockKind.JACK, min_height_mm=30, max_height_mm=60)
    assert [step.height_for(h) for h in (3, 6, 7, 8, 38, 39)] == [6, 6, 8, 8, 38, None]
    assert jack.height_for(33.3) == 33.3
    assert heel_for(Shop(supports=(step, jack)), 33.3).height_mm == 33.3
    assert heel_for(Shop(supports=(step,)), 50).block is None


def test_vise_force_of_its_screw() -> None:
    # A 20 × 4 screw, µ 0.15, collar radius 15: tan(φ + ρ) with φ = 3.64°, ρ = 8.53°.
    assert screw_force_per_nm(20, 4, 0.15, 15) == pytest.approx(
        1000 / (10 * math.tan(math.radians(3.6426 + 8.5308)) + 2.25), rel=1e-3
    )
    with pytest.raises(ShopError, match="jaw width"):
        Vise(id="v", name="v", jaw_width_mm=0, jaw_height_mm=1, bed_height_mm=1, opening_mm=1)


def test_reach_is_by_the_widest_part_below_the_top() -> None:
    tool = ToolShape(diameter_mm=10, edge_mm=20, shank_mm=10, holder_mm=40, holder_length_mm=50, nose_mm=100)
    assert [tool.radius_at(h) for h in (-1, 5, 25, 80)] == [0, 5, 20, 50]
    low = Solid(ring=rectangle(20, 20), bottom_mm=0, top_mm=9, name="low")
    tall = replace(low, top_mm=40, name="tall")
    assert clashes([Stretch((16.1, 0), (16.1, 0), 0)], 0, tool, [low]) == [] and clashes(
        [Stretch((15.9, 0), (15.9, 0), 0)], 0, tool, [low]
    )[0].by_mm == pytest.approx(0.1)
    assert clashes([Stretch((25, 0), (25, 0), 0)], 0, tool, [tall])[0].what == "tall"  # the holder
    assert clashes([Stretch((16.1, 0), (16.1, 0), 0)], 10, tool, [low]) == []  # above it


def test_locating_counts_motions() -> None:
    seats = tuple(Contact((x, y, 0), (0, 0, 1), 0.1) for x in (-50, 50) for y in (-30, 30))
    side = tuple(Contact((x, -30, 10), (0, 1, 0), 0.1) for x in (-40, 40))
    end = (Contact((-50, 0, 10), (1, 0, 0), 0.1),)
    assert (located(seats).held, located(seats + side).held) == (3, 5)
    whole = located(seats + side + end)
    assert whole.held == 6 and whole.twice == 0 and whole.free == ()
    assert located(seats + side).free == ("along the table",)
    assert located((*seats, *side, *end, Contact((50, 5, 10), (-1, 0, 0), 0.1))).twice == 1
    assert located(()).held == 0


# --- layouts ----------------------------------------------------------------------------------------------------------


def test_the_margin_of_a_strapped_block_by_hand(demo_shop: Shop) -> None:
    straps = (
        thing("strap", slot="middle slot", x="74", direction="180", stud_to_tip="30", torque="20", clamp="strap-100"),
        thing("strap", slot="middle slot", x="-74", direction="0", stud_to_tip="30", torque="20", clamp="strap-100"),
    )
    hold = solve_doc(
        doc(
            *straps, length="100", width="60", height="20", cut="drilling", cutter="drill-8.5", cutter_path="points", places="0,0"
        ),
        demo_shop,
    )
    # The torque without what the thrust would earn in friction, and through the work with the lips' pull up: it can only spin,
    # about its middle, on µ·N where the tips press, 14 mm from the middle of each end and as far out as the pads reach.
    torque, up = hold.cutting.force.torque_nmm, hold.cutting.loads[1].force_n[2]
    assert up in (0.0, pytest.approx(-hold.cutting.force.up_n * GRABS_UP))
    given = hold.held.weight_n + 2 * LOW_SHARE * 6666.67
    radius = math.hypot(50, 6 + 20)  # a tip's own 6 mm, and the height of the work on every side; the end cuts it off
    assert hold.margin.least == pytest.approx(0.15 * given * radius / (torque + 0.15 * up * radius), rel=2e-3)


def test_loose_work_is_never_drilled(demo_shop: Shop) -> None:
    """A plate that only lies there: the drill's own thrust is no clamp."""
    hold = solve_doc(
        doc(length="150", width="150", height="6", cut="drilling", cutter="drill-8.5", cutter_path="points"), demo_shop
    )
    assert hold.margin.least < 1 and check(hold, "margin") is Verdict.NO_GO
    through = solve_doc(
        doc(
            length="150",
            width="150",
            height="6",
            cut="drilling",
            cutter="drill-8.5",
            cutter_path="points",
            places="0,0",
            depth_below_top="6",
        ),
        demo_shop,
    )
    assert through.cutting.loads[1].force_n[2] > 0  # its lips lift it where they break through


def test_a_spacer_in_the_vise_takes_half_of_the_force(demo_shop: Shop) -> None:
    alone, shared = (
        solve_doc(doc(thing("vise", torque="25", spacer=s), length="30", width="40", height="40", cut="light"), demo_shop)
        for s in ("no", "yes")
    )
    said = [next(f.value for f in h.figures if f.key == "0.force") for h in (alone, shared)]
    assert said[1] == pytest.approx(said[0] / 2)
    assert shared.margin.least < 0.6 * alone.margin.least


def test_the_verdict_knows_the_worst_mixture_of_preloads(demo_shop: Shop) -> None:
    """Two clamps across the work push it sideways when one is tight and the other is not: what they leave is what is said."""
    for id_ in DEMO:
        hold = solve_doc(DEMO[id_], demo_shop)
        assert hold.margin.least <= hold.margin.at_corners * (1 + 1e-9) and hold.margin.mixed_all


def test_the_demo_layouts_tell_something_true(demo_shop: Shop) -> None:
    dial, wedge, yoke = (solve_doc(DEMO[k], demo_shop) for k in ("hold-dial", "hold-wedge", "hold-yoke"))
    assert check(dial, "reach") is Verdict.NO_GO and dial.swaps and check(dial, "swap") is Verdict.MARGINAL
    assert dial.margin.motion.mode == "spin" and dial.margin.least > 2 and dial.located.held == 3
    assert (
        check(wedge, "reach") is Verdict.GO and wedge.margin.motion.mode == "tip" and wedge.located.free == ("along the table",)
    )
    assert wedge.piece.bottom_mm == pytest.approx(58 + 24.995)
    assert yoke.located.held == 6 and check(yoke, "0.land") is Verdict.GO
    for hold in (dial, wedge, yoke):
        keys = [f.key for f in hold.figures]
        assert len(keys) == len(set(keys)) and all(k in keys for g in hold.groups for k in g.rows)
        assert len({c.key for c in hold.checks}) == len(hold.checks)
        assert all(c.reason and not c.reason.endswith(".") for c in hold.checks)
        assert hold.margin.at_corners <= hold.margin.least * (1 + 1e-9) <= hold.margin.with_figures * (1 + 1e-6)
        assert min(hold.margin.at_places) == pytest.approx(hold.margin.least, rel=2e-3)


def test_quick_errs_low_and_only_a_little(demo_shop: Shop) -> None:
    for id_ in DEMO:
        quick, whole = solve_doc(DEMO[id_], demo_shop, quick=True), solve_doc(DEMO[id_], demo_shop)
        assert 0.9 * whole.margin.least <= quick.margin.least <= 1.6 * whole.margin.least  # fewer places may miss the worst


def test_less_friction_and_less_torque_hold_less(demo_shop: Shop) -> None:
    base = solve_doc(DEMO["hold-dial"], demo_shop).margin.least
    assert solve_doc(choose_layout(DEMO["hold-dial"], demo_shop, "friction", "0.1"), demo_shop).margin.least < base
    assert solve_doc(choose_layout(DEMO["hold-dial"], demo_shop, "0.torque", "8"), demo_shop).margin.least < base
    assert solve_doc(choose_layout(DEMO["hold-dial"], demo_shop, "lubrication", "oiled threads"), demo_shop).margin.least > base


@pytest.mark.parametrize("kind", list(all_elements()))
@pytest.mark.parametrize("empty", [False, True])
def test_every_thing_stands_in_any_shop(kind: str, empty: bool, demo_shop: Shop) -> None:
    shop = Shop() if empty else demo_shop
    hold = solve_doc(doc(thing(kind), thing(kind), machine="" if empty else "hazel"), shop)
    assert (
        len(hold.elements) == 2
        and hold.scenes[0].elements
        and {p.name for _, _, p in hold.elements}
        and len({p.name for _, _, p in hold.elements}) == 2
    )
    assert machine_for(shop, "").name


@pytest.mark.parametrize(
    ("layout", "said"),
    [
        (doc(thing("strap", slot="middle slot", x="150", direction="180", stud_to_tip="30")), "misses the work"),
        (doc(thing("strap", slot="middle slot", x="10", direction="180", stud_to_tip="30")), "through the work"),
        (doc(thing("stop", x="80"), machine="clover"), "between the slots"),
        (doc(thing("strap", slot="ring slot, far half", x="95"), machine="clover"), "outside the ring slot"),
        (doc(thing("strap", slot="middle slot", x="560", direction="180", stud_to_tip="30")), "off the table"),
        (doc(thing("stop", slot="middle slot", x="-130", direction="0")), "short of the work"),
        (doc(thing("stop", slot="middle slot", x="-80", direction="90")), "points past"),
        (doc(thing("stop", slot="middle slot", x="0")), "inside the work"),
        (doc(thing("vise"), width="150"), "wider than the jaws"),
        (doc(thing("vise", offset="300")), "beside the jaws"),
        (doc(thing("support", x="300")), "beside the work"),
        (
            doc(thing("support", x="-30", height="25.4"), thing("support", x="30", block="jack-40", height="45")),
            "lower than the others",
        ),
        (doc(thing("plate", screw_positions="400,0")), "beside the work"),
    ],
)
def test_what_cannot_be_is_said_beside_the_thing(layout: LayoutDoc, said: str, demo_shop: Shop) -> None:
    hold = solve_doc(layout, demo_shop)
    assert any(said in p.problem for _, _, p in hold.elements), [p.problem for _, _, p in hold.elements]
    assert any(said in c.reason and c.verdict is Verdict.NO_GO for c in hold.checks)


def test_two_things_in_one_place_and_work_over_the_edge(demo_shop: Shop) -> None:
    same = solve_doc(
        doc(
            thing("strap", slot="middle slot", x="74", direction="180", stud_to_tip="30"),
            thing("strap", slot="middle slot", x="80", direction="180", stud_to_tip="36"),
        ),
        demo_shop,
    )
    assert any(c.key.startswith("room") and c.verdict is Verdict.NO_GO for c in same.checks)
    over = solve_doc(doc(length="100", width="60", y="110"), demo_shop)
    assert over.check("over").value == pytest.approx(110 + 30 - 127)
    gone = solve_doc(doc(length="100", width="60", y="400"), demo_shop)
    assert not gone.margin.rests and gone.check("margin").text == "does not rest"


def test_a_strap_over_air_and_a_cut_into_the_table(demo_shop: Shop) -> None:
    air = solve_doc(
        doc(
            thing("support", x="0", height="25.4"),
            thing("strap", slot="middle slot", x="80", direction="180", stud_to_tip="37"),
            length="140",
            width="60",
        ),
        demo_shop,
    )
    assert check(air, "1.support") is Verdict.NO_GO
    deep = solve_doc(doc(height="20", depth_below_top="21"), demo_shop)
    assert check(deep, "table") is Verdict.NO_GO


def test_pushed_off_its_stop_it_is_located_and_still_slides(demo_shop: Shop) -> None:
    hold = solve_doc(doc(thing("stop", slot="middle slot", x="-90", direction="0"), friction="0", cut="light"), demo_shop)
    assert hold.margin.motion.mode == "loose" and check(hold, "margin") is Verdict.NO_GO


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("length", "-5"),
        ("friction", "much"),
        ("friction", "2"),
        ("0.x", "12,5"),
        ("0.torque", "0"),
        ("0.stud_to_tip", "banana"),
        ("outline", "0,0; 10"),
        ("depth_of_cut", "0"),
    ],
)
def test_wrong_entries_change_nothing(name: str, text: str, demo_shop: Shop) -> None:
    layout = DEMO["hold-dial"]
    with pytest.raises(EntryError) as error:
        choose_layout(layout, demo_shop, name, text)
    assert error.value.entry == name and error.value.do


def test_an_open_or_crossing_outline_is_refused_beside_its_entry(demo_shop: Shop) -> None:
    layout = choose_layout(choose_layout(doc(), demo_shop, "outline", "0,0; 10,10; 10,0; 0,10"), demo_shop, "shape", "an outline")
    with pytest.raises(EntryError, match="cross") as error:
        solve_doc(layout, demo_shop)
    assert error.value.entry == "outline"


def test_things_are_added_let_go_and_taken_away(demo_shop: Shop) -> None:
    layout = add_element(DEMO["hold-wedge"], "stop")
    assert [t.kind for t in layout.elements] == ["vise", "stop"] and "1.slot" in parameters_of(layout, demo_shop)
    chosen = choose_layout(layout, demo_shop, "1.x", "2 in")
    assert chosen.elements[1].chosen["x"].text == "50.8" and forget_layout(chosen, "1.x").elements[1].chosen == {}
    assert remove_element(chosen, 0).elements == chosen.elements[1:]
    full = replace(layout, elements=layout.elements * 12)
    with pytest.raises(EntryError, match="24 fit"):
        add_element(full, "strap")
    with pytest.raises(ShopError, match="no thing"):
        add_element(layout, "magnet")


# --- suggestions ------------------------------------------------------------------------------------------------------


def test_suggestions_are_three_real_and_different(demo_shop: Shop) -> None:
    layout = DEMO["hold-dial"]
    machine = machine_for(demo_shop, layout.machine)
    told: list[float] = []
    given: dict[str, ParameterValue] = read_chosen(cut.parameters(demo_shop), layout.chosen)
    found = suggest(demo_shop, machine, given, asked_of(layout, demo_shop), told.append)
    assert len(found) == 3 and told == sorted(told) and told[-1] == 1.0
    labels = {s.label for s in machine.slots}
    for one in found:
        moved = layout
        for number, values in one.values.items():
            assert values["slot"] in labels
            moved = forget_layout(moved, f"{number}.tip")
            for name, text in values.items():
                moved = choose_layout(moved, demo_shop, f"{number}.{name}", text)
        hold = solve_doc(moved, demo_shop)
        assert hold.margin.least == pytest.approx(one.margin, rel=1e-6) and "Holds by" in one.sentence
        assert not any(p.problem for _, _, p in hold.elements)

    def stop(share: float) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        suggest(demo_shop, machine, given, asked_of(layout, demo_shop), stop)
    with pytest.raises(ShopError, match="no strap"):
        suggest(demo_shop, machine, given, asked_of(DEMO["hold-wedge"], demo_shop))


def test_how_a_locators_error_moves_the_work() -> None:
    # Two side stops 80 apart: one 1 off turns the work by 1/80 about the other, so a corner 200 past them moves by 1 + 200/80
    # sideways.
    seats_ = tuple(Contact((x, y, 0), (0, 0, 1), 0.0, "seat") for x, y in ((-50, 0), (50, -30), (50, 30)))
    sides = (
        Contact((-40, -30, 0), (0, 1, 0), 0.0, "stop 1"),
        Contact((40, -30, 0), (0, 1, 0), 0.0, "stop 2"),
        Contact((-50, 0, 0), (1, 0, 0), 0.0, "end"),
    )
    by, name = moved_by_errors((*seats_, *sides), [(240.0, -30.0, 0.0)])
    assert name == "stop 2" and by == pytest.approx(math.hypot((240 + 40) / 80, (-30 - 0) / 80), rel=1e-6)
    near = (Contact((-10, -30, 0), (0, 1, 0), 0.0, "stop 1"), Contact((10, -30, 0), (0, 1, 0), 0.0, "stop 2"), sides[2])
    assert moved_by_errors((*seats_, *near), [(240.0, -30.0, 0.0)])[0] > by  # close together they move it more
    assert moved_by_errors((), [(0.0, 0.0, 0.0)]) == (0.0, "")
