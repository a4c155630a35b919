"""What a vise's jaws bear on: worked by hand, and what a plan keeps quiet about is looked for in the metal itself."""

from __future__ import annotations

import random

import pytest
from campaigns.designs import odd

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.making.grip import Band, Sides
from elbrix.making.options import Options
from elbrix.making.planner import plan_work
from elbrix.making.pose import Lie
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.clearances import in_the_way
from elbrix.rehearsal.section import extent
from kinds_of_family import KINDS, SHOP, kind_id, solved

UP_A = Lie(up="A", away="B", zero=(0.0, 0.0, 0.0))
OVER = Lie(up="C", away="D", zero=(0.0, 0.0, -12.0))


def tee() -> Sides:
    """A bar 20 wide and 12 high with a neck 8 wide and 9 deep: a flange of 3 is left under it."""
    sides = Sides([Band(0.0, 12.0, 10.0, 10.0)], 60.0)
    sides.step("A", 9.0, 4.0, 4.0)
    return sides


def test_a_square_bar_is_held_by_all_that_is_below_the_jaws() -> None:
    bar = Sides([Band(-0.5, 12.5, 10.0, 10.5)], 60.0)
    assert bar.gripped(UP_A, 2.0) == pytest.approx(10.5)
    assert bar.gripped(Lie(up="B", away="A", zero=(0.0, 10.0, 0.0)), 3.0) == pytest.approx(17.5)  # down to D, 10.5 out
    assert bar.gripped(Lie(up="F", away="B", zero=(0.0, 0.0, 0.0)), 8.0) == pytest.approx(52.0)
    bar.trim("A", 0.0)
    bar.trim("D", 10.0)
    assert bar.bands == [Band(0.0, 12.5, 10.0, 10.0)]


def test_jaws_meet_what_stands_out_furthest() -> None:
    sides = tee()
    assert sides.gripped(UP_A, 2.0) == pytest.approx(3.0)  # the flange, not the 7 of neck above it
    assert sides.gripped(OVER, 2.0) == pytest.approx(1.0)  # what is left of it under the jaws' tops
    assert sides.gripped(OVER, 3.0) == pytest.approx(9.0)  # past it they shut on the neck


def test_jaws_end_closer_or_under_a_step_when_there_is_little_to_hold() -> None:
    low = Sides([Band(0.0, 12.0, 10.0, 10.0)], 60.0)
    assert low.jaws(UP_A, 5.0) == pytest.approx(7.0)  # 2 below the cut, 5 in the jaws
    assert low.jaws(UP_A, 8.0) == pytest.approx(9.0)  # 1 below it: 3 are left
    assert low.jaws(UP_A, 10.0) == pytest.approx(10.5)  # what there is: 1.5
    assert tee().jaws(OVER, 0.5) == pytest.approx(3.0)  # under the flange, on the neck


def test_one_side_with_less_decides() -> None:
    sides = Sides([Band(0.0, 12.0, 10.0, 10.0)], 60.0)
    sides.step("A", 10.0, 10.0, 4.0)  # a ledge towards D only
    assert sides.gripped(UP_A, 2.0) == pytest.approx(2.0)
    assert sides.gripped(OVER, 2.5) == pytest.approx(9.5)  # the near side is narrow all the way up, the far side full


def test_ends_of_a_tee_are_faced_lying_so_that_it_is_held() -> None:
    sides = tee()
    sides.step("C", 2.0, 10.0, 10.0)
    flat, over = UP_A, Lie(up="C", away="D", zero=(0.0, 0.0, -12.0))
    assert not sides.better(over, flat)  # 3 of flange do for either
    thin = Sides([Band(0.0, 5.5, 4.0, 4.0), Band(5.5, 6.5, 10.0, 10.0)], 60.0)
    assert thin.better(Lie(up="C", away="D", zero=(0.0, 0.0, -6.5)), flat)


@pytest.mark.parametrize("key", ["table_key", "trip_stop", "gib", "soft_jaw", "table_stop", "t_nut", "clamp", "detent"])
def test_no_plan_is_quiet_about_work_the_jaws_do_not_hold(key: str) -> None:
    """The rehearsal looks for metal between the jaws; the plan worked with bands. What the one finds the other has said."""
    shop = shop_of(documents())
    family, chance, planned = find_family(key), random.Random(f"grip {key}"), 0
    for _ in range(40):
        typed = {p.name: odd(p, chance) for p in chance.sample(list(family.parameters), min(4, len(family.parameters)))}
        try:
            work = family.work(solve_for(family, shop, Request(), read_choices(family, typed)), shop)
            plan = plan_work("P", work, shop, Options(style=chance.choice(("quick", "full"))))  # type: ignore[arg-type]
        except ShopError:
            continue
        if plan.blank is None:
            continue
        planned += 1
        if planned > 8:
            break
        for f in in_the_way(plan, shop):
            if f.kind == "unheld":
                title = next(s.title for s in plan.setups if s.id == f.setup)
                assert any(f"“{title}”" in p and "in the jaws" in p for p in plan.problems), (typed, f.words)
    assert planned >= 4, key


def test_a_key_with_a_thin_flange_says_so_on_the_card_and_in_its_proof() -> None:
    shop, family = shop_of(documents()), find_family("table_key")
    design = solve_for(family, shop, Request(), read_choices(family, {"vise_slot": "3.33", "lip": "2.24"}))
    plan = plan_work("P", family.work(design, shop), shop)
    assert any(f.kind == "unheld" and f.setup == "vise_half" for f in in_the_way(plan, shop))
    setup = next(s for s in plan.setups if s.id == "vise_half")
    words = next(p for p in plan.problems if "in the jaws" in p)
    assert words in setup.cautions and setup.title in words
    assert next(c for c in design.checks if c.key == "held").verdict.value == "marginal"


def test_a_broad_chamfer_cutter_never_comes_down_on_the_jaws() -> None:
    """Its point goes below the leg by what it works up its flank: jaws end under that, and less is worked where they cannot."""
    shop, family = shop_of(documents()), find_family("t_nut")
    for leg in ("0.3", "1", "2.24", "3"):
        design = solve_for(family, shop, Request(), read_choices(family, {"chamfer": leg}))
        plan = plan_work("P", family.work(design, shop), shop)
        setup = next(s for s in plan.setups if s.id == "chamfers")
        deepest = min(p[2] for m in setup.moves for stroke in m.strokes for p in stroke.path)
        assert deepest < -float(leg)
        assert setup.jaws_mm >= -deepest + 0.5 - 1e-9
        assert not [f.words for f in in_the_way(plan, shop) if f.kind == "collision"]


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_the_vise_that_is_named_opens_over_the_work(kind: tuple[str, str, str]) -> None:
    """A plate 140 wide was to go "in the vise", which opens 130: the split vise was meant."""
    family, design = solved(*kind)
    try:
        plan = plan_work(kind[0], family.work(design, SHOP), SHOP, Options())
    except ShopError:
        return
    if plan.blank is None:
        return
    widest = max(v.opening_mm for v in SHOP.vises if not v.split)
    for setup in plan.setups:
        if setup.pose is not None and setup.fixture == "vise" and "in the vise" in setup.holding and setup.stands == "":
            low, high = extent(plan, setup)
            assert high[1] - low[1] <= widest + 1.5, (setup.id, setup.holding)  # what is left on the bar is squared off first
