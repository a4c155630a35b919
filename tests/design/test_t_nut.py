"""The T-nut against figures worked by hand for a slot 12.05 × 8.2 over 19.2 × 16.0."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.design.judging import hinge_sentence, hinges, nearest_fix
from elbrix.design.slot_nut import choose_thread
from elbrix.mechanics.ring_slot import longest_straight_mm
from elbrix.mechanics.strength import FlangeLoad, bearing_mpa, nut_thread_shear_mm2, preload_n, torque_nm
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.tooling import Stud
from elbrix.standards.threads import find_thread

FAMILY = find_family("t_nut")


def solved(shop: Shop, **texts: str) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, texts))


def readings(*values: float) -> Readings:
    return Readings(values_mm=values)


@pytest.mark.parametrize(
    ("name", "mm"),
    [
        pytest.param("neck_width", 11.7, id="12.05-0.3-down-to-a-tenth"),
        pytest.param("neck_height", 7.2, id="8.2-1"),
        pytest.param("head_width", 18.2, id="19.2-1"),
        pytest.param("head_height", 7.3, id="16-8.2-0.5"),
        pytest.param("length", 19.0, id="head-width-up-to-a-mm"),
    ],
)
def test_proposed_sizes(nut: Design, name: str, mm: float) -> None:
    assert nut.values.number(name) == pytest.approx(mm, abs=1e-9)
    assert nut.values[name].derivation is not None and nut.values[name].origin is Origin.CALCULATED


def test_the_tightest_reading_decides_never_the_mean(mill: Machine, slot: TSlot) -> None:
    uneven = replace(
        slot, neck=readings(12.30, 12.05, 12.20), lip=readings(8.2, 8.6), head=readings(19.6, 19.2), depth=readings(16.0, 16.5)
    )
    nut = solved(Shop(machines=(replace(mill, slots=(uneven,)),)))
    assert nut.values.number("neck_width") == 11.7
    assert nut.values.number("head_height") == pytest.approx(16.0 - 8.6 - 0.5)  # shallowest floor, deepest lip


@pytest.mark.parametrize(
    ("slot_mm", "thread"), [(8, "M6"), (10, "M8"), (12, "M10"), (14, "M12"), (18, "M16"), (22, "M20"), (28, "M24"), (36, "M30")]
)
def test_the_usual_pairs_come_out(slot_mm: float, thread: str) -> None:
    assert choose_thread(slot_mm - 0.3).name.startswith(f"{thread}x")


def test_owned_studs_one_size_smaller_win(mill: Machine) -> None:
    shop = Shop(machines=(mill,), studs=(Stud(id="s", thread="M8", length_mm=80),))
    assert solved(shop).values.word("thread") == "M8x1.25"
    assert solved(replace(shop, studs=(Stud(id="s", thread="M5", length_mm=80),))).values.word("thread") == "M10x1.5"


def test_loads_by_hand(small_shop: Shop) -> None:
    nut = solved(small_shop, torque="25")
    # F = 25 N·m/(0.20·10 mm) = 12.5 kN
    assert nut.figure("preload").value == pytest.approx(12.5)
    # As = π/4·(10 − 0.9382·1.5)² = 57.99 mm²; × 580 MPa = 33.63 kN
    assert nut.check("stud").value == pytest.approx(100 * 12500 / 33633.9, rel=1e-4)
    # overlap = (18.2 + 11.7)/2 − 12.05 − 0.3 = 2.6; 12500/(2·2.6·19)
    assert nut.check("bearing").value == pytest.approx(126.518, rel=1e-4)
    # arm = 9.6 − (12.05 + 18.2)/4 = 2.0375; Leff = 19 + 4.075 = 23.075
    assert nut.check("lip_shear").value == pytest.approx(12500 / (2 * 8.2 * 23.075), rel=1e-6)
    assert nut.check("lip_bending").value == pytest.approx(3 * 12500 * 2.0375 / (23.075 * 67.24), rel=1e-6)
    # own flange: arm = 30.25/4 − 5.85 = 1.7125; 3·12500·1.7125/(19·7.3²)
    assert nut.check("flange").value == pytest.approx(63.425, rel=1e-4)
    # engagement = (14.5 − 2.5·1.5)/10
    assert nut.check("engagement").value == pytest.approx(1.075)
    assert nut.check("lip_bending").verdict is Verdict.MARGINAL  # 49 MPa, over 40


def test_thread_shear_area_by_another_road() -> None:
    """At the stud's major diameter the nut keeps 7/8 of the pitch less nothing: integrate the 60° profile instead."""
    thread = find_thread(parse_thread("M10"))
    at_pitch_line = thread.pitch_mm / 2
    grown = 2 * (thread.major_mm - thread.pitch_d_mm) / 2 * math.tan(math.radians(30))
    per_turn = math.pi * thread.major_mm * (at_pitch_line + grown)
    assert nut_thread_shear_mm2(thread, 10.0) == pytest.approx(per_turn * 10.0 / thread.pitch_mm, rel=1e-9)
    assert nut_thread_shear_mm2(thread, -1) == 0


def test_torque_and_preload_are_each_others_inverse() -> None:
    assert torque_nm(preload_n(25, 0.2, 10), 0.2, 10) == pytest.approx(25)
    assert preload_n(25, 0.2, 10) == 12500


def test_cantilever_against_section_modulus() -> None:
    flange = FlangeLoad(arm_mm=2.0, effective_length_mm=20.0, thickness_mm=8.0)
    moment, modulus = 1000 / 2 * 2.0, 20.0 * 8.0**2 / 6
    assert flange.bending_mpa(1000) == pytest.approx(moment / modulus)
    assert bearing_mpa(1000, -0.1, 20) == math.inf


def test_highest_torque_is_where_the_first_part_reaches_its_limit(small_shop: Shop) -> None:
    highest = solved(small_shop).figure("highest_torque").value
    under, over = solved(small_shop, torque=f"{highest * 0.999:.3f}"), solved(small_shop, torque=f"{highest * 1.001:.3f}")
    loads = ("stud", "strip", "bearing", "lip_shear", "lip_bending", "flange")
    assert all(under.check(k).verdict is Verdict.GO for k in loads)
    assert any(over.check(k).verdict is Verdict.MARGINAL for k in loads)


def test_proposed_torque_never_strains_anything(nut: Design) -> None:
    assert all(nut.check(k).verdict is Verdict.GO for k in ("stud", "strip", "bearing", "lip_shear", "lip_bending", "flange"))


@pytest.mark.parametrize(
    ("stop", "engaged", "halts"),
    [
        ("short", 14.5 - 3.75, 3.75),
        ("staked", 14.5 - 1.5, 1.5),
        ("pin", 14.5 - 4.0, 4.0),  # on top of a pin of 2 whose middle is 3 above the underside
        ("blind", 14.5 - 1.5 - 8.5 / 2 * math.tan(math.radians(31)) - 4.5, 14.5 - 5.946342),
        ("none", 14.5, 0.0),
    ],
)
def test_what_each_stud_stop_costs(small_shop: Shop, stop: str, engaged: float, halts: float) -> None:
    nut = solved(small_shop, stud_stop=stop)
    assert nut.figure("engagement_mm").value == pytest.approx(engaged)
    assert nut.check("stud_stop").value == pytest.approx(halts)
    assert (nut.check("stud_stop").verdict is Verdict.NO_GO) == (stop == "none")


def test_a_blind_nut_for_m10_must_be_tall() -> None:
    """Engagement 10 + tap lead 3·1.5 + point 0.30·8.5 + floor 1.5 = 18.55, so 18.6."""
    thread = find_thread(parse_thread("M10"))
    assert 10 + 3 * thread.pitch_mm + 0.30 * thread.tap_drill[1] + 1.5 == pytest.approx(18.55)


@pytest.mark.parametrize(
    ("texts", "check", "verdict"),
    [
        pytest.param({"neck_width": "12.2"}, "slides", Verdict.NO_GO, id="wider-than-the-slot"),
        pytest.param({"neck_height": "8.2"}, "top_below", Verdict.NO_GO, id="as-tall-as-the-lip-is-deep"),
        pytest.param({"neck_height": "7.9"}, "top_below", Verdict.MARGINAL, id="0.3-below"),
        pytest.param({"head_width": "19.3"}, "head_slides", Verdict.NO_GO, id="head-too-wide"),
        pytest.param({"head_height": "7.8"}, "head_height", Verdict.NO_GO, id="head-fills-the-space"),
        pytest.param({"thread": "M12"}, "wall", Verdict.NO_GO, id="thread-wider-than-the-neck"),
        pytest.param({"thread": "M8", "neck_width": "8.6"}, "wall", Verdict.MARGINAL, id="thin-wall"),
        pytest.param({"neck_height": "4", "head_height": "4"}, "engagement", Verdict.NO_GO, id="too-little-thread"),
        pytest.param({"torque": "60"}, "lip_bending", Verdict.NO_GO, id="breaks-the-lips"),
        pytest.param({}, "places", Verdict.MARGINAL, id="measured-once"),
    ],
)
def test_what_fails_says_so(small_shop: Shop, texts: dict[str, str], check: str, verdict: Verdict) -> None:
    found = solved(small_shop, **texts).check(check)
    assert found.verdict is verdict and found.reason and found.derivation is not None


def test_unmeasured_slot_is_assumed_and_marked() -> None:
    nut = solved(Shop())
    assert nut.values["neck"].origin is Origin.ASSUMED
    assert nut.check("places").verdict is Verdict.MARGINAL and "measure yours" in nut.check("places").reason


def test_look_alike_studs_are_called_out(mill: Machine) -> None:
    shop = Shop(machines=(mill,), studs=(Stud(id="a", thread="M10", length_mm=80), Stud(id="b", thread="3/8-16", length_mm=80)))
    assert "3/8-16" in solved(shop).check("look_alike").text
    assert all(c.key != "look_alike" for c in solved(replace(shop, studs=shop.studs[:1])).checks)


# --- hinges and fixes -----------------------------------------------------------------------------------------------


def test_hinge_tells_how_far_the_lip_may_be_off(small_shop: Shop, nut: Design) -> None:
    first = hinges(FAMILY, nut.values, small_shop, "top_below")[0]
    # The top is 1.00 below; it stays go down to 0.50, so the lip may be 0.50 shallower.
    assert (first.parameter, first.becomes) == ("lip", Verdict.MARGINAL)
    assert first.by_mm == pytest.approx(-0.5, abs=0.002)
    sentence = hinge_sentence(FAMILY, nut.check("top_below"), first, lambda mm: f"{mm:.2f} mm")
    assert sentence.startswith("Passes unless the lip depth is 0.50 mm less than measured")


def test_the_part_stays_while_the_reading_moves(small_shop: Shop, nut: Design) -> None:
    first = hinges(FAMILY, nut.values, small_shop, "slides")[0]
    assert first.parameter == "neck" and first.by_mm == pytest.approx(0.15, abs=0.002)  # 0.35 → over 0.50 is loose


@pytest.mark.parametrize(
    ("texts", "check", "says"),
    [
        ({"neck_width": "12.1"}, "slides", "narrower"),
        ({"neck_height": "8.2"}, "top_below", "shorter"),
        ({"stud_stop": "none"}, "stud_stop", "tap stopped short"),
        ({"torque": "60"}, "lip_bending", "less"),
    ],
)
def test_nearest_fix_mends_and_harms_nothing(small_shop: Shop, texts: dict[str, str], check: str, says: str) -> None:
    before = solved(small_shop, **texts)
    fix = nearest_fix(FAMILY, before, small_shop, check)
    assert fix is not None and says in fix.text
    after = FAMILY.solve(before.values.having(**read_choices(FAMILY, fix.changes)), small_shop)
    assert after.check(check).verdict.rank < before.check(check).verdict.rank
    worse = [c.key for c in after.checks if c.verdict.rank > before.check(c.key).verdict.rank]
    assert worse == []


def test_the_fix_is_the_smallest_step(small_shop: Shop) -> None:
    fix = nearest_fix(FAMILY, solved(small_shop, neck_width="12.1"), small_shop, "slides")
    assert fix is not None and dict(fix.changes)["neck_width"] == "11.8"  # 0.25 play; 11.9 leaves only 0.15


def test_nothing_to_fix_where_only_measuring_helps(small_shop: Shop, nut: Design) -> None:
    assert nearest_fix(FAMILY, nut, small_shop, "places") is None


# --- ring slot ------------------------------------------------------------------------------------------------------


def test_longest_straight_block_by_brute_force() -> None:
    """Grow a block in the curve until a corner touches the outer wall."""
    radius, gap, width = 92.0, 12.05, 11.7
    inner, outer = radius - gap / 2, radius + gap / 2
    length = 0.0
    while math.hypot(inner + width, (length + 0.001) / 2) <= outer:
        length += 0.001
    assert longest_straight_mm(radius, gap, width) == pytest.approx(length, abs=0.002)


def test_a_wider_block_than_the_gap_has_no_length() -> None:
    assert longest_straight_mm(92, 12, 12.1) == 0
    with pytest.raises(ShopError):
        longest_straight_mm(5, 12, 11)


def test_straight_nut_in_a_ring_slot(mill: Machine, slot: TSlot) -> None:
    ring = replace(slot, ring_radius_mm=92.0)
    shop = Shop(machines=(replace(mill, slots=(ring,)),))
    nut = solved(shop)
    longest = nut.figure("ring_longest").value
    assert nut.values.number("length") <= longest and nut.check("ring").verdict is Verdict.GO
    assert solved(shop, length=f"{longest + 1:.2f}").check("ring").verdict is Verdict.NO_GO


# --- fits, refusals -------------------------------------------------------------------------------------------------


def test_fits_every_slot_it_should(demo_shop: Shop) -> None:
    design = solve_for(FAMILY, demo_shop, Request(machine="hazel", slot="middle slot"), {})
    by_slot = {(f.machine, f.slot): f.verdict for f in FAMILY.fits(design, demo_shop)}
    assert by_slot[("Hazel", "rear slot")] is Verdict.GO
    assert by_slot[("Pip", "front slot")] is Verdict.NO_GO
    assert ("Old Margaret", "front slot") not in by_slot  # not measured


@pytest.mark.parametrize(
    ("texts", "said"),
    [
        ({"neck": "8", "head": "7"}, "exchange the two readings"),
        ({"lip": "16.1"}, "exchange the two readings"),
        ({"head_width": "11"}, "no wider than the neck"),
        ({"chamfer": "4"}, "leaves nothing"),
        ({"neck": "12.05; nan"}, "number is missing"),
        ({"neck": "0"}, "cannot be right"),
        ({"neck": "-12"}, "without the minus"),
        ({"neck": "0.6895"}, "write 0.6895 in"),
        ({"thread": "M99"}, "not in the table"),
        ({"pieces": "2.5"}, "whole number"),
        ({"pieces": "0"}, "out of range"),
        ({"torque": "1e9"}, "not a number"),
        ({"stud_stop": "glue"}, "none of the choices"),
        ({"length": "9" * 10_000}, "characters"),
        ({"neck_width": ""}, "Nothing was entered"),
    ],
)
def test_bad_input_says_what_why_and_what_to_do(small_shop: Shop, texts: dict[str, str], said: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved(small_shop, **texts)
    error = refused.value
    assert said in str(error) and error.why and error.do and len(str(error)) < 600


def test_refusal_names_the_entry(small_shop: Shop) -> None:
    with pytest.raises(EntryError) as refused:
        solved(small_shop, neck_width="wide")
    assert refused.value.entry == "neck_width"


@given(
    st.floats(5, 40),
    st.floats(2, 30),
    st.floats(1.05, 2.2),
    st.floats(1.3, 3.0),
    st.lists(st.floats(-0.2, 0.2), min_size=1, max_size=4),
)
def test_a_proposed_nut_goes_into_its_own_slot(
    neck: float, lip: float, wider: float, deeper: float, scatter: list[float]
) -> None:
    """Whatever the slot, the proposal slides, clears the floor and stays under the table, or says it cannot."""
    slot = TSlot(
        label="slot",
        neck=readings(*(neck + s for s in scatter)),
        lip=readings(*(lip + s / 4 for s in scatter)),
        head=readings(*(neck * wider + 2 + s for s in scatter)),
        depth=readings(*(lip * deeper + 2 + s / 4 for s in scatter)),
    )
    shop = Shop(machines=(Machine(id="m", name="M", kind="knee mill", slots=(slot,)),))  # type: ignore[arg-type]
    try:
        nut = solve_for(FAMILY, shop, Request(), {})
    except ShopError:
        return
    assert nut.values.number("neck_width") < slot.neck.min and nut.values.number("head_width") < slot.head.min  # type: ignore[union-attr]
    for key in ("slides", "head_slides"):
        assert nut.check(key).verdict is not Verdict.NO_GO, key
    for key in ("top_below", "head_height"):
        check = nut.check(key)
        assert (
            check.verdict is Verdict.GO or nut.values.number("neck_height") <= 1.0 or nut.values.number("head_height") <= 1.0
        ), (key, check.value)


def test_values_are_immutable(nut: Design) -> None:
    other = nut.values.having(length=30.0)
    assert nut.values.number("length") == 19 and other.number("length") == 30
    assert isinstance(other["length"], ParameterValue)
