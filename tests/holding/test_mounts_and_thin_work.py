"""How the vise itself stays, split and floating ones, and thin work, against beam theory worked numerically."""

from __future__ import annotations

import math

import numpy as np
import pytest
from msgspec.structs import replace
from scipy.linalg import eigh

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.holding.bolted import stands_n
from elbrix.holding.solve import LayoutResult
from elbrix.holding.thin import buckling_n, sag_mm, tip_shift_mm
from elbrix.mechanics.strength import COUNTED, preload_n, youngs_mpa
from elbrix.results.checks import Check, Verdict
from elbrix.shop.shop import Shop
from elbrix.standards.materials import friction
from layouts_tools import doc, solve, thing

SHOP = shop_of(documents())
BLOCK = {"length": "100", "width": "60", "height": "30", "depth_below_top": "5"}
DRILL = {"cut": "drilling", "cutter_path": "points", "places": "0,0"}


def check(hold: LayoutResult, key: str) -> Check | None:
    return next((c for c in hold.checks if c.key == key or c.key.startswith(key + " ")), None)


def value(hold: LayoutResult, key: str) -> float:
    found = check(hold, key)
    assert found is not None, [c.key for c in hold.checks]
    return found.value


def in_vise(shop: Shop = SHOP, work: dict[str, str] = BLOCK, cut: dict[str, str] | None = None, **chosen: str) -> LayoutResult:
    return solve(doc(thing("vise", **chosen), **work, **(cut or {"cut": "medium"})), shop)


def beam(stiffness: float, length: float, count: int, ends: tuple[bool, bool]) -> tuple[np.ndarray, np.ndarray, list[int]]:
    """(bending, axial load, free) matrices of cubic beam elements, some ends hinged."""
    h = length / count
    k = stiffness / h**3 * np.array([[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h]])
    k = np.vstack([k, -k[0], [k[1, 0], k[1, 3], -k[1, 0], k[1, 1]]])
    g = np.array([[36, 3 * h, -36, 3 * h], [3 * h, 4 * h * h, -3 * h, -h * h]])
    g = np.vstack([g, -g[0], [3 * h, -h * h, -3 * h, 4 * h * h]]) / (30 * h)
    size = 2 * (count + 1)
    bending, axial = np.zeros((size, size)), np.zeros((size, size))
    for i in range(count):
        at = slice(2 * i, 2 * i + 4)
        bending[at, at] += k
        axial[at, at] += g
    held = [0] if ends[0] else []
    held += [size - 2] if ends[1] else []
    return bending, axial, [i for i in range(size) if i not in held]


def test_bowing_is_the_first_mode_of_a_hinged_strip() -> None:
    young, along, thick, gap = 70_000.0, 80.0, 1.5, 90.0
    bending, axial, free = beam(young * along * thick**3 / 12, gap, 16, (True, True))
    least = eigh(bending[np.ix_(free, free)], axial[np.ix_(free, free)], eigvals_only=True)[0]
    assert buckling_n(young, along, thick, gap) == pytest.approx(least, rel=1e-4)


@pytest.mark.parametrize(("one", "other"), [(20.0, 20.0), (10.0, 35.0)])
def test_sag_is_that_of_a_beam_on_two_supports(one: float, other: float) -> None:
    young, wide, thick, count = 200_000.0, 25.0, 3.0, 18
    bending, _, free = beam(young * wide * thick**3 / 12, one + other, count, (True, True))
    push = np.zeros(2 * (count + 1))
    node = round(count * one / (one + other))
    push[2 * node] = 400.0
    moved = np.zeros_like(push)
    moved[free] = np.linalg.solve(bending[np.ix_(free, free)], push[free])
    assert sag_mm(400, young, one, other, wide, thick) == pytest.approx(moved[2 * node], rel=1e-9)
    assert sag_mm(400, young, other, one, wide, thick) == pytest.approx(moved[2 * node], rel=1e-9)
    free_end = sag_mm(400, young, one, float("inf"), wide, thick)
    assert free_end == pytest.approx(400 * one**3 / (3 * young * wide * thick**3 / 12))


def test_a_sheet_bends_with_the_cube_of_its_height_until_the_load_spreads() -> None:
    assert tip_shift_mm(100, 2e5, 40, 2, 30) == pytest.approx(8 * tip_shift_mm(100, 2e5, 20, 2, 20) * 20 / 30)
    assert tip_shift_mm(100, 2e5, 40, 2, 1000) == pytest.approx(100 * 40**3 * 12 / (3 * 2e5 * 40 * 8))


def test_the_bolts_of_a_vise_bear_what_their_friction_gives() -> None:
    hold = in_vise()
    # Low over the base it would slide: λ·F = µ·(2·P − λ·up). The cutter stands high, so tipping comes first or as soon.
    pull = COUNTED * preload_n(20.0, 0.2, 10.0)
    weak = in_vise(bolts="2", bolt_torque="2")
    tight = in_vise(bolts="2", bolt_torque="20")
    force = weak.cutting.force
    mu = friction("steel on cast iron, dry")
    slides = mu * 2 * (pull / 10) / (force.sideways_n + mu * force.up_n)
    assert 0 < value(weak, "mount") <= slides * 1.02
    assert value(tight, "mount") == pytest.approx(10 * value(weak, "mount"), rel=0.05)
    assert check(weak, "mount").verdict is Verdict.NO_GO  # type: ignore[union-attr]
    assert value(in_vise(bolts="4", bolt_torque="2"), "mount") > value(weak, "mount")
    assert check(hold, "mount").verdict is Verdict.GO  # type: ignore[union-attr]


def test_a_floating_vise_never_mills_and_needs_its_stop() -> None:
    assert check(in_vise(mounting="floating"), "mount").verdict is Verdict.NO_GO  # type: ignore[union-attr]
    drill = next(c for c in SHOP.cutters if c.kind.value == "drill")
    far = in_vise(cut={**DRILL, "cutter": drill.title}, mounting="floating", stop_arm="200", bolt_torque="10")
    torque = far.cutting.force.torque_nmm
    assert value(far, "mount") == pytest.approx(min(99.0, stands_n(10, 0.2) * 200 / torque))
    near = in_vise(cut={**DRILL, "cutter": drill.title}, mounting="floating", stop_arm="20", bolt_torque="10")
    assert value(near, "mount") == pytest.approx(min(99.0, stands_n(10, 0.2) * 20 / torque))
    through = {**BLOCK, "depth_below_top": "30"}
    lifted = in_vise(work=through, cut={**DRILL, "cutter": drill.title}, mounting="floating", vise_weight="2")
    pull = 0.5 * -lifted.cutting.force.up_n
    assert value(lifted, "lift") == pytest.approx((2 * 9.80665 + lifted.piece.weight_n) / pull)


def test_a_square_held_by_two_corners_cannot_be() -> None:
    square = {"length": "50", "width": "50", "height": "30", "angle": "45", "depth_below_top": "5"}
    assert "corner" in in_vise(work=square).elements[0][2].problem
    assert not in_vise(work={**square, "angle": "0"}).elements[0][2].problem


def test_a_jaw_that_leans_helps_less_and_says_what_it_does() -> None:
    def with_lean(lean: float) -> Shop:
        return replace(SHOP, vises=tuple(replace(v, fixed_lean_mm_per_m=lean) for v in SHOP.vises))

    straight, leans = in_vise(with_lean(0.0)), in_vise(with_lean(2.0))
    assert leans.margin.least <= straight.margin.least + 1e-9
    assert value(leans, "0.lean") == pytest.approx(2.0 * 30 / 1000)
    assert check(leans, "0.lean").verdict is Verdict.MARGINAL  # type: ignore[union-attr]
    assert check(straight, "0.lean") is None


def test_sheet_lying_in_the_jaws_bows_and_stout_work_is_not_asked() -> None:
    sheet = {"length": "100", "width": "90", "height": "2", "material": "aluminium alloy", "depth_below_top": "0.2"}
    hold = in_vise(work=sheet, parallels="none: on the bed")
    shown = check(hold, "bows")
    assert shown is not None, "a sheet 45 times wider than thick lies deep in the jaws, but is squeezed all the same"
    force = hold.elements[0][1].number("torque") * next(v for v in SHOP.vises).force_per_nm
    assert shown.value == pytest.approx(buckling_n(70_000, 100, 2, 90) / force, rel=0.03)
    assert shown.verdict is Verdict.NO_GO
    assert check(in_vise(), "bows") is None


def test_a_sheet_standing_up_rings_until_it_is_backed() -> None:
    sheet = {"length": "80", "width": "3", "height": "90", "depth_below_top": "1"}
    light = {"cut": "light", "cutter_path": "line", "places": "-40,0; 40,0"}
    bare = in_vise(work=sheet, cut=light)
    assert check(bare, "rings").verdict is Verdict.NO_GO  # type: ignore[union-attr]
    tall = max((p for p in SHOP.parallels), key=lambda p: p.height_mm)
    taller = replace(SHOP, parallels=(*SHOP.parallels, replace(tall, id="tall", height_mm=80.0, count=2)))
    backed = in_vise(taller, work=sheet, cut=light, backing="parallel 80 high")
    assert value(backed, "rings") < value(bare, "rings")
    assert "climb" in check(backed, "rings").reason  # type: ignore[union-attr]


SPLIT = next(v for v in SHOP.vises if v.split)


def split(**chosen: str) -> LayoutResult:
    work = {"length": "250", "width": "60", "height": "40", "depth_below_top": "2"}
    return solve(doc(thing("split_vise", **chosen), **work, cut="light"), SHOP)


def test_the_halves_of_a_split_vise_stay_by_their_own_bolts_only() -> None:
    hard = split(torque="30", bolt_torque="20", bolts="2")
    assert value(hard, "0.stays") == pytest.approx(2 * stands_n(20, 0.2) / (1.3 * 30 * SPLIT.force_per_nm))
    assert check(hard, "0.stays").verdict is Verdict.NO_GO  # type: ignore[union-attr]
    pull = 2 * COUNTED * preload_n(20, 0.2, 10)
    assert value(hard, "0.tips") == pytest.approx(pull * SPLIT.jaw_thickness_mm / 2 / (1.3 * 30 * SPLIT.force_per_nm * 20))
    railed = split(torque="30", stands="on rails")
    assert check(railed, "0.stays") is None
    assert railed.margin.least > hard.margin.least
    usual = split()
    assert check(usual, "0.stays").verdict is Verdict.GO  # type: ignore[union-attr]
    assert usual.margin.least > 0


def test_what_a_half_still_bears_is_all_the_cut_may_add() -> None:
    """A push along the slot at the fixed half, against a closed sum: bolts − screw."""
    soft = split(torque="4", bolt_torque="20", stands="on one slot")
    bears, screw = 2 * stands_n(20, 0.2), 4 * SPLIT.force_per_nm * COUNTED
    assert bears > screw
    # Whatever the cut does sideways, it cannot push the fixed half harder than its bolts bear, less what friction takes.
    floor = friction("steel on cast iron, dry") * (soft.piece.weight_n + 2 * screw)
    assert soft.margin.least * soft.cutting.force.sideways_n <= bears - screw + floor + 2 * 0.1 * screw + 1


def test_a_backing_bar_takes_the_sag_out_of_the_middle() -> None:
    sheet = {"length": "220", "width": "80", "height": "2", "depth_below_top": "0.5"}
    drill = {**DRILL, "cutter": next(c for c in SHOP.cutters if c.kind.value == "drill").title}
    supports = [thing("support", x=str(x), y="0", height="25.4") for x in (-80, 80)]
    bare = solve(doc(*supports, **sheet, **drill), SHOP)
    assert value(bare, "sags") > 0.02
    backed = solve(doc(*supports, thing("backing_bar", y="0", length="100"), **sheet, **drill), SHOP)
    assert check(backed, "sags") is None
    low = solve(doc(*supports, thing("backing_bar", height="24"), **sheet, **drill), SHOP)
    assert value(low, "sags") == pytest.approx(value(bare, "sags"))
    assert check(low, "2.level").verdict is Verdict.MARGINAL  # type: ignore[union-attr]


def test_a_round_that_stands_tall_in_the_jaws_bends_as_a_round(demo_shop: Shop) -> None:
    """It touches the jaws along a line and had no width to bend with: an error of the program."""
    cut = {"cut": "milling", "cutter_path": "around", "depth_below_top": "2", "depth_of_cut": "1", "feed": "0.05"}
    hold = solve(doc(thing("vise"), shape="round", width="20", height="120", material="mild steel", **cut), demo_shop)
    check = next(c for c in hold.checks if c.key.startswith("rings"))
    squeezed = next(p.squeeze for _, _, p in hold.elements if p.squeeze is not None)
    arm = max(load.at[2] for load in hold.cutting.loads) - max(squeezed.jaw_top_mm, squeezed.backed_to_mm)
    by_hand = hold.cutting.force.sideways_n * arm**3 / (3 * youngs_mpa("mild steel") * math.pi * 20**4 / 64)
    assert check.value == pytest.approx(by_hand, rel=2e-2)
