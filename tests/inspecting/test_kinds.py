"""Every inspection against figures worked by hand or built from the geometry it is about."""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Callable

import numpy as np
import pytest
from msgspec.structs import replace

from elbrix.angles.kinds.sine.facts import budget_of, facts_of
from elbrix.angles.setup import find_kind as find_angle_kind
from elbrix.angles.setup import solve_angle_setup
from elbrix.book.designs import as_made_design, made_sizes
from elbrix.book.documents import AsMade, DesignDoc, shop_of
from elbrix.book.inspections import subject_of
from elbrix.demo import documents
from elbrix.inspecting.inspection import Inspection, OfADesign, all_kinds, find_kind, inspect
from elbrix.inspecting.kinds.flatness import contacts, steadiness
from elbrix.making.dials import on_dial
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from simulated_readings import measured

Look = Callable[..., Inspection]
#: Kinds that are not about a design.
_ALONE = [key for key, kind in all_kinds().items() if not isinstance(kind, OfADesign)]


def _said(inspection: Inspection) -> str:
    return plain(" / ".join(inspection.steps))


def _text(value: float) -> str:
    return f"{value:.7f}"


# --- head tram -------------------------------------------------------------------------------------------------------


def _swept(lean_right: float, lean_back: float, r: float) -> dict[str, str]:
    """What an indicator on an arm reads over a level table, from the spindle's own direction: + where it is pressed in."""
    axis = np.array([lean_right, lean_back, 1.0])
    axis /= np.linalg.norm(axis)
    found = {}
    for key, at in (("east", 0.0), ("north", 90.0), ("west", 180.0), ("south", 270.0)):
        arm = np.array([math.cos(math.radians(at)), math.sin(math.radians(at)), 0.0])
        arm -= axis * (arm @ axis)
        found[key] = _text(-r * float(arm[2] / np.linalg.norm(arm)))
    return found


@pytest.mark.parametrize(("right", "back"), [(2e-4, 0.0), (-1e-4, 3e-4), (0.0, -2e-4)])
def test_head_leans_as_the_spindle_does(look: Look, demo_shop: Shop, right: float, back: float) -> None:
    found = look("head_tram", _swept(right, back, 110.0), machine="hazel", sweep="220", cutter="60", feed="either")
    (machine,) = found.findings[0].items
    assert machine.head_lean_right_mm_m == pytest.approx(1000 * right, abs=1e-3)
    assert machine.head_lean_back_mm_m == pytest.approx(1000 * back, abs=1e-3)
    # A ring of 30 mm radius leaning by φ is 30·sin φ deep.
    assert found.figure("dish").value == pytest.approx(30 * math.sin(math.hypot(right, back)), rel=1e-3)
    # The top leans right, so the nose hangs left and has to swing right.
    if right:
        assert f"nose swings to the {'right' if right > 0 else 'left'}" in _said(found)
    if back:
        assert f"nose swings to the {'far side' if back > 0 else 'near side'}" in _said(found)


def test_dish_shows_along_the_feed_only(look: Look) -> None:
    tilted = {"east": "0.02", "west": "-0.02", "north": "0", "south": "0"}
    assert look("head_tram", tilted, sweep="200", cutter="50", feed="X").figure("dish").value == pytest.approx(0.005, rel=1e-3)
    assert look("head_tram", tilted, sweep="200", cutter="50", feed="Y").figure("dish").value == pytest.approx(0.0, abs=1e-9)


def test_four_readings_that_belong_to_no_plane_are_told(look: Look) -> None:
    found = look("head_tram", {"east": "0.02", "west": "0.02", "north": "-0.02", "south": "-0.02"}, sweep="200")
    assert found.figure("closure").value == pytest.approx(0.04)
    assert found.check("closure").verdict is Verdict.NO_GO


def test_a_square_head_is_left_alone(look: Look) -> None:
    found = look("head_tram", dict.fromkeys(("east", "west", "north", "south"), "0.001"), sweep="200")
    assert "leave it alone" in _said(found)


# --- jaw -------------------------------------------------------------------------------------------------------------

_LEVEL = {"low": "0", "high": "0", "bed_left": "0", "bed_right": "0"}


def test_jaw_is_tapped_about_the_snug_bolt(look: Look) -> None:
    """Turn the jaw about its left bolt by the tap: both readings are then alike."""
    found = look("jaw", {"left": "0", "right": "0.032", **_LEVEL}, travel="100", pivot_to_end="150")
    tap = found.figure("tap").value
    assert tap == pytest.approx(0.048)
    assert 0.032 - tap / 150 * 100 == pytest.approx(0.0)
    assert "right end stands nearer to you" in _said(found)
    assert "tap the right end 0.048 away from you" in _said(found)
    assert found.figure("yaw").value == pytest.approx(math.degrees(math.atan(0.00032)) * 60)
    assert found.check("yaw_over_travel").verdict is Verdict.NO_GO


def test_lean_goes_to_the_vise_and_the_rise_to_the_hands(look: Look) -> None:
    readings = {"left": "0", "right": "0", "low": "0", "high": "0.015", "bed_left": "0.02", "bed_right": "0"}
    found = look("jaw", readings, height="30")
    (vise,) = found.findings[0].items
    assert vise.fixed_lean_mm_per_m == pytest.approx(0.5)
    assert "top leans toward you by 0.015 over 30" in _said(found)
    assert "higher on the left by 0.02" in _said(found)


# --- surfaces --------------------------------------------------------------------------------------------------------


def _grid(heights: list[list[float]]) -> dict[str, str]:
    return {f"c{i + 1}r{j + 1}": _text(z) for j, row in enumerate(heights) for i, z in enumerate(row)}


def test_a_crowned_face_rocks_and_a_hollow_one_does_not(look: Look) -> None:
    sizes = {"length": "200", "width": "100", "columns": "3", "rows": "3", "tolerance": "0.005"}
    crowned = look("flatness", _grid([[0, 0, 0], [0, 0.05, 0], [0, 0, 0]]), **sizes)
    hollow = look("flatness", _grid([[0, 0, 0], [0, -0.05, 0], [0, 0, 0]]), **sizes)
    for found in (crowned, hollow):
        assert found.figure("flatness").value == pytest.approx(0.05)
        assert found.figure("zone").value == pytest.approx(0.05)
    assert hollow.check("rests").verdict is Verdict.GO
    assert crowned.check("rests").verdict is Verdict.MARGINAL
    assert "column 2, row 2" in _said(crowned)


def test_a_tilted_face_is_flat_and_its_slopes_are_told(look: Look) -> None:
    found = look("flatness", _grid([[0.0, 0.02, 0.04], [0.01, 0.03, 0.05]]), length="200", width="50", columns="3", rows="2")
    assert found.figure("flatness").value == pytest.approx(0.0, abs=1e-9)
    assert found.figure("slope_x").value == pytest.approx(0.2)
    assert found.figure("slope_y").value == pytest.approx(0.2)


def test_places_a_flat_piece_rests_on_against_every_three_of_them() -> None:
    """Of every plane through three places that lies on or above all, the lowest over the middle."""
    chance = random.Random(5)
    for _ in range(60):
        spots = [(float(x), float(y)) for x in range(0, 90, 30) for y in range(0, 60, 20)]
        heights = [chance.uniform(0, 0.05) for _ in spots]
        on = contacts(spots, heights)
        best = math.inf
        for three in itertools.combinations(range(len(spots)), 3):
            rows = np.array([[*spots[i], 1.0] for i in three])
            if abs(np.linalg.det(rows)) < 1e-9:
                continue
            a, b, c = np.linalg.solve(rows, [heights[i] for i in three])
            if all(a * x + b * y + c >= z - 1e-9 for (x, y), z in zip(spots, heights, strict=True)):
                best = min(best, a * 30 + b * 20 + c)
        a, b, c = np.linalg.lstsq(np.array([[*spots[i], 1.0] for i in on]), [heights[i] for i in on], rcond=None)[0]
        assert a * 30 + b * 20 + c == pytest.approx(best, abs=1e-9)
        assert steadiness(spots, on) >= 0


def test_straightness_by_hand(look: Look) -> None:
    found = look("straightness", {"p1": "0", "p2": "0.01", "p3": "0"}, length="100", count="3", tolerance="0.002")
    assert found.figure("straightness").value == pytest.approx(0.01)  # line at a third of it: −1/3 and 2/3
    assert found.figure("zone").value == pytest.approx(0.01)
    assert "crowned" in _said(found)


def test_taper_is_read_from_both_sides(look: Look) -> None:
    corners = {"left_near": "20.00", "left_far": "20.01", "right_near": "20.02", "right_far": "20.03", "middle": "20.015"}
    found = look("parallelism", corners, times="1", reading_u="0.001")
    assert found.figure("taper_along").value == pytest.approx(0.02)
    assert found.figure("taper_across").value == pytest.approx(0.01)
    assert found.figure("parallelism").value == pytest.approx(0.03)
    assert "shim under left, near side by as much" in _said(found)


def test_square_and_work_are_told_apart(look: Look) -> None:
    """Work leaning right by 0.02 and a square leaning off by 0.01: 0.03 with it on the left, −0.01 on the right."""
    found = look("squareness", {"first": "0.03", "turned": "-0.01"}, height="100", times="1")
    assert found.figure("work_out").value == pytest.approx(0.02)
    assert found.figure("square_out").value == pytest.approx(0.01)
    assert "leans to the right by 0.02" in _said(found)


# --- turning ---------------------------------------------------------------------------------------------------------


def test_run_out_points_at_the_high_place(look: Look) -> None:
    readings = {f"a{i + 1}": _text(0.05 * math.cos(math.radians(45 * i - 90))) for i in range(8)}
    found = look("runout", readings, count="8")
    assert found.figure("centring").value == pytest.approx(0.05, rel=1e-4)
    assert found.figure("high_at").value == pytest.approx(90, abs=1e-2)
    assert found.figure("left").value == pytest.approx(0, abs=1e-6)
    assert "Turn 90° to the indicator" in _said(found)
    assert "fallen by 0.05" in _said(found)


def _swept_round(x: float, y: float, *, bore: bool) -> dict[str, str]:
    """A round of Ø40 whose centre stands at (x, y) from the spindle: + where the plunger is pressed."""
    found = {}
    for at in (0, 90, 180, 270):
        c, s = math.cos(math.radians(at)), math.sin(math.radians(at))
        along = x * c + y * s  # distance from the spindle to the wall along this ray
        across = -x * s + y * c
        reach = along + math.sqrt(20**2 - across**2)
        # In a bore a near wall presses the plunger that points outward; a plug presses one that points inward.
        found[f"a{at}"] = _text(20 - reach if bore else reach - 20)
    return found


@pytest.mark.parametrize(("x", "y"), [(0.08, -0.03), (-0.05, 0.0)])
@pytest.mark.parametrize("on", ["bore", "plug"])
def test_table_moves_the_centre_under_the_spindle(look: Look, x: float, y: float, on: str) -> None:
    found = look("centring", _swept_round(x, y, bore=on == "bore"), on=on)
    assert x + found.figure("off_x").value == pytest.approx(0, abs=1e-4)
    assert y + found.figure("off_y").value == pytest.approx(0, abs=1e-4)
    assert f"to the {'left' if x > 0 else 'right'}" in _said(found)


def test_four_jaw_is_tightened_where_the_work_stands_out(look: Look) -> None:
    found = look("centring", {"a0": "0.10", "a90": "0", "a180": "-0.10", "a270": "0"}, on="four-jaw")
    assert "Slacken jaw 3 a little and tighten jaw 1 until the dial at jaw 1 has fallen by 0.1" in _said(found)


# --- settings, stops, holes, heat ------------------------------------------------------------------------------------


def test_an_angle_too_steep_is_told_in_blocks(look: Look) -> None:
    found = look("sine_check", {"table": "0.1", "work": "30.15"}, wanted="30°", centres="100", times="1", reading_u="0.005")
    assert found.figure("off").value == pytest.approx(3.0)
    assert found.figure("stack_off").value == pytest.approx(100 * (math.sin(math.radians(30.05)) - 0.5), rel=2e-3)
    assert "too steep" in _said(found)
    assert "out of the stack" in _said(found)


def test_next_trial_of_a_stop_by_hand(look: Look) -> None:
    found = look("stop_repeat", {"stop": "0 0.01 0.02 0.01"}, trials="4", tolerance="0.02", reading_u="0.0001")
    assert found.figure("stdev").value == pytest.approx(0.0081650, rel=1e-4)
    assert found.figure("following").value == pytest.approx(3.18245 * 0.0081650 * math.sqrt(1.25), rel=1e-4)
    assert found.check("following").verdict is Verdict.NO_GO


def test_a_stop_whose_trials_are_all_alike_is_no_better_than_the_tool(look: Look) -> None:
    found = look("stop_repeat", {"stop": "0.01 0.01 0.01 0.01 0.01"}, trials="5", tolerance="0.02", reading_u="0.02")
    assert found.figure("following").value == pytest.approx(0.006)
    assert "less than this tool can tell" in _said(found)


def test_scale_of_a_stop_by_hand(look: Look) -> None:
    readings = {f"t{s}": f"{1.002 * s + 5:.6f}" for s in (0, 10, 20, 30, 40)}
    found = look("stop_scale", readings, settings="0, 10, 20, 30, 40", wanted="41.7")
    assert found.figure("setting").value == pytest.approx((41.7 - 5) / 1.002, abs=1e-6)
    assert found.figure("factor").value == pytest.approx(1.002)


def test_the_spot_that_is_out_is_named(look: Look) -> None:
    wanted = [(0, 0), (40, 0), (40, 30), (0, 30), (20, 15)]
    readings = {}
    for i, (x, y) in enumerate(wanted):
        readings[f"h{i + 1}x"], readings[f"h{i + 1}y"] = f"{x + 3 + (0.3 if i == 1 else 0)}", f"{y - 2}"
    found = look("spots", readings, wanted="; ".join(f"{x},{y}" for x, y in wanted), reading_u="0.01")
    assert found.figure("shift_x").value == pytest.approx(3, abs=1e-6)
    assert found.figure("off 2").value == pytest.approx(0.3, abs=1e-6)
    assert "Hole 2 stands 0.3 right" in _said(found)
    assert found.check("agree").verdict is Verdict.NO_GO


def test_holes_over_pins_come_back_to_their_places(look: Look) -> None:
    holes = [(0.0, 0.0), (40.0, 0.0), (40.0, 30.0), (0.0, 30.0)]
    real = [(0.0, 0.0), (40.0, 0.0), (40.4, 30.0), (0.0, 30.0)]
    readings = {
        f"o{i + 1}-{j + 1}": f"{math.dist(real[i], real[j]) + 6:.6f}" for i, j in itertools.combinations(range(len(holes)), 2)
    }
    found = look("spots_over_pins", readings, wanted="0,0; 40,0; 40,30; 0,30", pin="6")
    off = [found.figure(f"off {i + 1}").value for i in range(4)]
    assert max(off) == off[2] == pytest.approx(0.4, abs=0.05)


def test_warm_aluminium_by_hand(look: Look) -> None:
    """100 mm · (23.5·20 − 11.5·0)·10⁻⁶; in still air τ = 3.8·10⁶ · 0.02/(2 · 8) s, down to half of the limit."""
    found = look(
        "heat",
        {"work": "40", "gauge": "20", "room": "20"},
        length="100",
        material="aluminium alloy",
        gauge_material="mild steel",
        thickness="20",
        tolerance="0.01",
    )
    assert found.figure("moved").value == pytest.approx(0.047)
    tau = 3.8e6 * 0.02 / 16
    assert found.figure("wait").value == pytest.approx(tau * math.log(20 / (0.005 / (100 * 23.5e-6))) / 60)
    assert found.check("moved").verdict is Verdict.NO_GO


def test_backlash_is_kept_with_its_handwheel(look: Look, demo_shop: Shop) -> None:
    found = look("backlash", {"up": "0.01 0.01", "down": "-0.05 -0.05"}, machine="pip", axis="X", times="2")
    assert found.figure("backlash").value == pytest.approx(0.06)
    (machine,) = found.findings[0].items
    assert machine.axes["X"].backlash_mm == pytest.approx(0.06)
    assert machine.axes["Y"] == demo_shop.machine("pip").axes["Y"]


def test_a_survey_keeps_every_place_and_names_the_nut(look: Look, demo_shop: Shop) -> None:
    hazel = demo_shop.machine("hazel")
    readings = {f"s{s + 1}p{p}": "12.08 12.08 12.08" for s in range(len(hazel.slots)) for p in (1, 2, 3)}
    readings["s2p3"] = "12.21 12.20 12.22"
    found = look("slot_survey", readings, machine="hazel", clearance="0.1", reading_u="0.02")
    tight = found.figure("tightest")
    assert tight.value == pytest.approx(12.08)
    assert found.figure("nut").value == pytest.approx(math.floor((12.08 - tight.u - 0.1) / 0.05 + 1e-9) * 0.05)
    assert found.check("worn 2").verdict is Verdict.MARGINAL
    (machine,) = found.findings[0].items
    assert machine.slots[1].neck.values_mm == pytest.approx((12.08, 12.08, 12.21))
    assert machine.slots[1].lip == hazel.slots[1].lip


def test_a_burr_at_an_end_is_no_taper(look: Look) -> None:
    readings = {f"s{s}p{p}": "12.08 12.08 12.08" for s in (1, 2, 3) for p in (1, 2, 3)} | {"s1p3": "11.95 11.95 11.95"}
    assert "a burr" in _said(look("slot_survey", readings, machine="hazel"))


def test_the_odd_reading_is_named(look: Look) -> None:
    found = look("parallelism", {"middle": "20.001 20.000 20.001 20.000 20.150"}, times="5", reading_u="0.003")
    assert "Reading 5 at middle does not belong" in _said(found)


# --- every kind ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("key", _ALONE)
def test_every_kind_shows_its_places_before_anything_is_read(key: str, demo_shop: Shop) -> None:
    found = inspect(find_kind(key), demo_shop, {}, {})
    assert found.sheet.missing == found.sheet.places
    assert not found.checks
    shown = {d.entry for d in found.scene.dimensions}
    assert {f"read {p.key}" for p in found.sheet.places} <= shown
    assert found.cautions


@pytest.mark.parametrize("key", _ALONE)
def test_every_kind_works_with_an_empty_shop_or_says_what_is_missing(key: str) -> None:
    if key == "slot_survey":
        with pytest.raises(ShopError, match="no machine with slots"):
            inspect(find_kind(key), Shop(), {}, {})
    else:
        assert inspect(find_kind(key), Shop(), {}, {}).sheet.places


@pytest.mark.parametrize("key", _ALONE)
def test_every_kind_bears_half_of_its_readings(key: str, demo_shop: Shop) -> None:
    """The picture lives while readings come."""
    from elbrix.inspecting.readings import Taken

    kind = find_kind(key)
    places = kind.places(kind.propose(demo_shop, {}), demo_shop)
    for upto in range(len(places) + 1):
        taken = {
            p.key: (Taken(value=(p.low + p.high) / 2 if abs(p.low) < 1e3 else 0.5 * n),) for n, p in enumerate(places[:upto])
        }
        inspect(kind, demo_shop, {}, taken)


@pytest.mark.parametrize("key", _ALONE)
def test_a_kind_that_says_it_can_be_practised_can(key: str, demo_shop: Shop) -> None:
    kind = find_kind(key)
    exercise = kind.exercise(kind.propose(demo_shop, {}), demo_shop, random.Random(1))
    assert (exercise is not None) == kind.can_practise


# --- screw -----------------------------------------------------------------------------------------------------------


def _dialled(off: Callable[[float], float], shop: Shop, machine: str, **chosen: str) -> dict[str, str]:
    kind = find_kind("screw")
    known = {p.name: p for p in kind.parameters(shop)}
    values = kind.propose(shop, {n: known[n].read(t) for n, t in {"machine": machine, **chosen}.items()})
    return {p.key: _text(off(p.spot[0])) for p in kind.places(values, shop)}


def test_a_screw_is_kept_and_the_turns_of_a_plan_allow_for_it(look: Look, demo_shop: Shop) -> None:
    """A screw of 2.0008 mm a turn: fifty turns are 100.04 mm, so that 100 wants fifty turns less two lines of 0.02."""
    machine = next(m for m in demo_shop.machines if m.axes and not m.readout_step_mm and m.axes["X"].mm_per_turn == 2)
    found = look("screw", _dialled(lambda x: 0.0004 * x, demo_shop, machine.id), machine=machine.id, axis="X", times="1")
    assert found.figure("error").value == pytest.approx(0.4)
    assert found.figure("wander").value == pytest.approx(0.0, abs=1e-7)
    (kept,) = found.findings[0].items
    assert kept.axes["X"].error_mm_m == pytest.approx(0.4)
    dial = on_dial(kept, "X", 100.0)
    assert dial.text == "49 turns + 98 div"
    assert dial.set_mm == pytest.approx((49 * 100 + 98) * 2.0008 / 100)
    assert abs(dial.off_mm) <= 0.0101
    assert on_dial(machine, "X", 100.0).text == "50 turns"
    assert kept.axes["Y"] == machine.axes["Y"]


def test_a_worn_middle_is_told_and_not_taken_for_a_screw(look: Look, demo_shop: Shop) -> None:
    worn = _dialled(lambda x: 0.03 * math.exp(-(((x - 50) / 15) ** 2)), demo_shop, "hazel")
    found = look("screw", worn, machine="hazel", axis="X", tolerance="0.01", times="1")
    assert found.check("wander").verdict is Verdict.NO_GO
    assert 0.01 < found.figure("wander").value < 0.02


@pytest.mark.parametrize("machine", ["hazel", "clover", ""])
@pytest.mark.parametrize("reach", ["25", "100", "180"])
def test_places_of_a_screw_lie_on_its_lines_and_not_all_on_one(demo_shop: Shop, machine: str, reach: str) -> None:
    kind = find_kind("screw")
    known = {p.name: p for p in kind.parameters(demo_shop)}
    machine = machine if any(m.id == machine and m.axes for m in demo_shop.machines) else ""
    values = kind.propose(demo_shop, {n: known[n].read(t) for n, t in {"machine": machine, "reach": reach}.items()})
    at = [p.spot[0] for p in kind.places(values, demo_shop)]
    assert at == sorted(set(at))
    assert at[0] == 0
    if machine:
        wheel = next(m for m in demo_shop.machines if m.id == machine).axes["X"]
        lines = [x * wheel.divisions / wheel.mm_per_turn for x in at]
        assert all(abs(n - round(n)) < 1e-6 for n in lines)
        assert len({round(n) % wheel.divisions for n in lines}) > len(at) // 2


# --- a machine's table -----------------------------------------------------------------------------------------------


def test_a_tables_rise_turns_what_is_set_on_it(look: Look, demo_shop: Shop) -> None:
    """0.1 over a metre along X is 20.6 seconds of arc on every face cut there, and nothing along Y."""
    heights = {f"c{i + 1}r{j + 1}": _text(1e-4 * x) for i, x in enumerate((0.0, 300.0, 600.0)) for j in range(2)}
    sizes = {"length": "600", "width": "200", "columns": "3", "rows": "2", "reading_u": "0.0001"}
    found = look("flatness", heights, machine="hazel", read_from="spindle", **sizes)
    (table,) = found.findings[0].items
    assert table.table_rise_x_mm_m == pytest.approx(0.1, abs=1e-4)
    assert abs(table.table_rise_y_mm_m) < 0.01
    by_stand = look("flatness", heights, machine="hazel", read_from="stand", **sizes)
    assert by_stand.findings[0].items[0].table_rise_x_mm_m == 0.0  # a stand on the same face knows nothing of the slides
    shop = replace(demo_shop, machines=tuple(table if m.id == table.id else m for m in demo_shop.machines))
    kind = find_angle_kind("sine")
    known = {p.name: p for p in kind.parameters(shop)}

    def rise(on: str) -> float:
        values = kind.propose(shop, {n: known[n].read(t) for n, t in {"angle": "30", "stands_on": on}.items()})
        facts = facts_of(values, shop)
        lines = {line.key: line for line in budget_of(values, facts, None, None, shop, facts.height).lines}
        return 3600 * math.degrees(lines["rise"].worst_rad) if "rise" in lines else 0.0

    assert rise("hazel X") == pytest.approx(20.6, abs=0.1)
    assert rise("hazel Y") < 2.1
    assert rise("") == 0.0
    on_table = {"angle": "30", "stands_on": "hazel X", "surface_flatness_um": "3"}
    told = solve_angle_setup(kind, shop, {n: known[n].read(t) for n, t in on_table.items()})
    level = solve_angle_setup(kind, shop, {"angle": known["angle"].read("30")})
    assert told.figure("worst").value == pytest.approx(level.figure("worst").value + 20.6, abs=0.1)


def test_a_reading_that_no_such_piece_has_is_no_go_and_ends_nothing() -> None:
    """Every size of every demo design, read anywhere from nothing to twice: a verdict in words, never an error."""
    everything = documents()
    shop = shop_of(everything)
    for doc in (d for d in everything if isinstance(d, DesignDoc)):
        subject = subject_of(doc, shop)
        for size in subject.sizes:
            for made in (0.0, 0.03, 0.4 * size.designed_mm, size.designed_mm - 1.9, 1.6 * size.designed_mm, 9999.0):
                verdict, why = subject.judge(size.key, made)
                assert why, (doc.id, size.key, made)
                assert made < 9000 or verdict is Verdict.NO_GO


def test_thick_work_is_practised_with_what_goes_over_it() -> None:
    kind, shop = find_kind("parallelism"), shop_of(documents())
    thickness = next(p for p in kind.parameters(shop) if p.name == "thickness")
    for text, tool in (("18", "micrometer"), ("40", "caliper")):
        values = kind.propose(shop, {"thickness": thickness.read(text)})
        exercise = kind.exercise(values, shop, random.Random(4))
        assert exercise is not None
        assert exercise.tool == tool
        assert measured(kind, values, shop, exercise, 4)  # the instrument reads all of it


def test_sizes_as_made_that_no_piece_has_are_said_in_the_catalogue() -> None:
    """The same typed beside a finished piece: a verdict, whatever it is, and what the piece then does or why it does nothing."""
    everything = documents()
    shop = shop_of(everything)
    for doc in (d for d in everything if isinstance(d, DesignDoc)):
        for size in subject_of(doc, shop).sizes:
            for made in (0.001, 0.3 * size.designed_mm, size.designed_mm, 9999.0):
                typed = replace(doc, as_made=(AsMade(on="2026-11-30", figure=size.key, readings_mm=(made,)),))
                (found,) = made_sizes(typed, shop)
                assert found.reason
                assert made < 9000 or found.verdict is Verdict.NO_GO
                if found.verdict is not Verdict.NO_GO:
                    assert as_made_design(typed, shop).values.number(size.key) == made
