"""Stops and the tilting plate.

Stiffness by integrating a beam, a line by another library, tilt by walking the plate into the jaws, and what cannot be.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate, stats
from shapely import Polygon

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.families.tilting_plate.sizes import TiltingPlateSizes as Tilt
from elbrix.design.families.trip_stop.trials import fitted
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.planner import plan_work
from elbrix.mechanics.strength import rod_bends_mm
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


def made(key: str, shop: Shop, machine: str = "hazel", **typed: str) -> Design:
    family = find_family(key)
    return solve_for(family, shop, Request(machine=machine), read_choices(family, typed))


def said(design: Design, key: str) -> float:
    return design.figure(key).value


# --- vise stop --------------------------------------------------------------------------------------------------------


@given(st.floats(5, 500), st.floats(10, 200), st.floats(4, 20))
def test_a_rod_bends_as_its_curvature_adds_up(push: float, out: float, size: float) -> None:
    inertia = math.pi * size**4 / 64
    # Deflection of the end: moment F·(L − x) over E·I, twice integrated: ∫ M/(EI)·(L − x) dx.
    end, _ = integrate.quad(lambda x: push * (out - x) / (205_000 * inertia) * (out - x), 0, out)
    assert rod_bends_mm(push, out, size) == pytest.approx(end, rel=1e-8)


def test_the_rod_is_held_and_stiff(demo_shop: Shop) -> None:
    design = made("vise_stop", demo_shop)
    # M5 at 4 N·m, dry: 4000/(0.2·5) = 4 kN; twice 0.12 of seven tenths of that.
    assert said(design, "clamp_n") == pytest.approx(4.0) and said(design, "grip") == pytest.approx(2 * 0.12 * 0.7 * 4000)
    assert said(design, "bends") == pytest.approx(50 * 60**3 * 64 / (3 * 205_000 * math.pi * 10**4))
    assert made("vise_stop", demo_shop, rod_reach="120").check("bends").verdict is Verdict.NO_GO
    assert made("vise_stop", demo_shop, torque="0.3", rod_force="60").check("holds").verdict is Verdict.NO_GO


def test_it_stays_under_the_cutter_and_off_the_jaw(demo_shop: Shop) -> None:
    assert made("vise_stop", demo_shop, height="42").check("under").verdict is Verdict.NO_GO
    assert made("vise_stop", demo_shop, rod_offset="4.9").check("face").verdict is Verdict.NO_GO
    fits = {f.machine: f.verdict for f in find_family("vise_stop").fits(made("vise_stop", demo_shop), demo_shop)}
    assert fits == {"125 mm vise": Verdict.GO, "split vise, two blocks": Verdict.NO_GO}


# --- table stop -------------------------------------------------------------------------------------------------------


def test_a_table_stop_by_hand(demo_shop: Shop) -> None:
    design = made(
        "table_stop", demo_shop, stop_force="200", contact_height="10", width="34", torque="20", length="60", square_length="100"
    )
    pull = 20_000 / (0.2 * 10)
    assert said(design, "slips") == pytest.approx(0.12 * 0.7 * pull / 200) and said(design, "tips") == pytest.approx(
        0.7 * pull * 17 / 10 / 200
    )
    # Tongue 12.02 in a slot that is 12.06 at its widest: 0.04 over 60 of length.
    assert said(design, "out_of_square") == pytest.approx(100 * 0.04 / 60)
    assert made("table_stop", demo_shop, tongue_width="12.05").check("slides").verdict is Verdict.NO_GO
    assert made("table_stop", demo_shop, tongue_height="8.4").check("enters").verdict is Verdict.NO_GO
    # The nut's neck, 7.2, fills all but 1.05 of lips of 8.25: a tongue 4.9 high without a gap stands on it by 3.85.
    assert design.check("below").value == pytest.approx(8.25 - 7.2) and design.check("below").verdict is Verdict.GO
    whole = made("table_stop", demo_shop, tongue_gap="0").check("below")
    assert whole.value == pytest.approx(8.25 - 7.2 - 4.9) and whole.verdict is Verdict.NO_GO


def test_along_the_slot_only_friction_holds_it(demo_shop: Shop) -> None:
    across, along = (made("table_stop", demo_shop, stopping_face=way, stop_force="1500") for way in ("across", "along"))
    assert across.check("slips").verdict is Verdict.MARGINAL and "tongue takes it" in across.check("slips").reason
    assert along.check("slips").verdict is Verdict.NO_GO


def test_its_tongue_is_a_shoulder_and_its_bolt_comes_from_the_top(demo_shop: Shop, kernel: Kernel) -> None:
    design = made("table_stop", demo_shop)
    family = find_family("table_stop")
    plan = plan_work("Stop", family.work(design, demo_shop), demo_shop, home="hazel")
    setup = next(s for s in plan.setups if s.id == "tongue")
    mill = next(c for c in demo_shop.cutters if c.title == next(o.tool for o in setup.operations if "shoulder" in o.title))
    walls = [
        abs(p.value_mm) - mill.diameter_mm / 2
        for m in setup.moves
        for p in m.positions
        if p.key in ("tongue.shoulder_far", "tongue.shoulder_near")
    ]
    assert sum(walls) == pytest.approx(design.values.number("tongue_width"), abs=0.006)
    assert "C up" in next(s for s in plan.setups if s.id == "bolt").holding
    w, el, h, t, th = (design.values.number(n) for n in ("width", "length", "height", "tongue_width", "tongue_height"))
    gap = design.values.number("tongue_gap")  # the bolt's hole goes through it
    hole = math.pi / 4 * (17**2 * 10.5 + 11**2 * (h - 10.5))
    wanted = w * h * el + t * th * (el - gap) - hole
    assert kernel.ask("mass", family.solid(design))["volume_mm3"] == pytest.approx(wanted, rel=1e-6)


# --- depth stop -------------------------------------------------------------------------------------------------------


def test_the_stack_is_the_travel_or_the_travel_and_the_tip(demo_shop: Shop) -> None:
    assert said(made("depth_stop", demo_shop, travel="12.34"), "stack") == pytest.approx(12.34)
    assert said(
        made("depth_stop", demo_shop, stack_place="under", travel="12.34", tip_protrusion="6.1"), "stack"
    ) == pytest.approx(18.44)


def test_the_stack_is_built_from_the_shops_own_box(demo_shop: Shop) -> None:
    design = made("depth_stop", demo_shop, travel="12.34")
    assert sum(float(b) for b in design.figure("blocks").text.split(" + ")) == pytest.approx(12.34)
    assert "no gauge blocks" in made("depth_stop", Shop()).figure("blocks").text


def test_the_sleeve_goes_by_the_uneven_bore(demo_shop: Shop) -> None:
    design = made("depth_stop", demo_shop)  # Pip's boss, 25.12 to 25.19
    assert said(design, "sleeve_pressed") == pytest.approx(25.195) and said(design, "press_most") == pytest.approx(0.075)
    assert (
        design.check("splits").verdict is Verdict.MARGINAL
        and made("depth_stop", demo_shop, sleeve_pressed="25.3").check("splits").verdict is Verdict.NO_GO
    )


def test_three_feet_hold_the_tip(demo_shop: Shop) -> None:
    design = made("depth_stop", demo_shop, feet="32.5,-19; 32.5,19; -20,9", tip_distance="27.5")
    ring = Polygon([(32.5, -19), (32.5, 19), (-20, 9)])
    from shapely import Point as Spot

    assert said(design, "inside") == pytest.approx(ring.boundary.distance(Spot(27.5, 0)), abs=1e-6)
    out = made("depth_stop", demo_shop, feet="20,-19; 20,19; -20,9")
    assert out.check("rocks").verdict is Verdict.NO_GO and said(out, "inside") < 0
    assert made("depth_stop", demo_shop, feet="32.5,-19; 32.5,19").check("feet").verdict is Verdict.NO_GO


# --- trip stop --------------------------------------------------------------------------------------------------------

TRIALS = "20, 20.18; 40, 40.11; 60, 60.24; 80, 80.20; 100, 100.31"


def test_the_line_and_its_band_agree_with_statistics(demo_shop: Shop) -> None:
    design = made("trip_stop", demo_shop, trials=TRIALS, wanted_travel="76.2")
    x, y = np.array([20, 40, 60, 80, 100.0]), np.array([20.18, 40.11, 60.24, 80.20, 100.31])
    line = stats.linregress(x, y)
    assert said(design, "factor") == pytest.approx(line.slope) and said(design, "offset") == pytest.approx(line.intercept)
    sigma = math.sqrt(((y - line.intercept - line.slope * x) ** 2).sum() / 3)
    setting = (76.2 - line.intercept) / line.slope
    band = stats.t.ppf(0.975, 3) * sigma * math.sqrt(1 + 1 / 5 + (setting - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum())
    assert (
        said(design, "sigma") == pytest.approx(sigma)
        and said(design, "setting") == pytest.approx(setting)
        and said(design, "band") == pytest.approx(band)
    )


def test_the_band_holds_what_it_says() -> None:
    # Nineteen stops out of twenty fall inside it: five trials and the next stop, four thousand times.
    random = np.random.default_rng(7)
    scale = np.array([20, 40, 60, 80, 100.0])
    inside = 0
    for _ in range(4000):
        stops = 0.1 + 1.002 * scale + random.normal(0, 0.05, 5)
        line = fitted(tuple(zip(scale.tolist(), stops.tolist(), strict=True)))
        assert line is not None
        at = line.setting(70.0)
        inside += abs(0.1 + 1.002 * at + random.normal(0, 0.05) - 70.0) <= line.band(at)
    assert inside / 4000 == pytest.approx(0.95, abs=0.015)


def test_too_few_trials_say_so(demo_shop: Shop) -> None:
    assert fitted(((1, 1), (2, 2))) is None and fitted(((5, 1), (5, 2), (5, 3))) is None
    few = made("trip_stop", demo_shop, trials="20,20.1; 40,40.2")
    assert (
        few.check("tried").verdict is Verdict.MARGINAL
        and "guess" in few.check("tried").reason
        and not any(f.key == "band" for f in few.figures)
    )
    assert made("trip_stop", demo_shop, trials=TRIALS, wanted_travel="150").check("tried_there").verdict is Verdict.MARGINAL
    with pytest.raises(EntryError, match="no pair") as caught:
        made("trip_stop", demo_shop, trials="20; 40")
    assert caught.value.entry == "trials"


def test_the_slot_is_the_travel_and_a_cutter(demo_shop: Shop, kernel: Kernel) -> None:
    design = made("trip_stop", demo_shop, travel="80")
    assert said(design, "slot_long") == pytest.approx(88)
    v = design.values
    area = said(design, "length") * v.number("width") - 80 * 8 - math.pi / 4 * 64
    assert kernel.ask("mass", find_family("trip_stop").solid(design))["volume_mm3"] == pytest.approx(
        area * v.number("thickness"), rel=2e-4
    )
    plan = plan_work("Trip", find_family("trip_stop").work(design, demo_shop), demo_shop, home="hazel")
    xs = [p.value_mm for s in plan.setups if s.id == "slot" for m in s.moves if m.strokes for p in m.positions if p.axis == "X"]
    # Its ends are drilled first, spotted and through; then the mill runs from one to the other and back.
    assert sorted(set(xs)) == pytest.approx([v.number("end_wall") + 4, v.number("end_wall") + 84])


# --- tilting plate ----------------------------------------------------------------------------------------------------


def clear(s: Tilt, degrees: float) -> bool:
    """Whether plate and vise overlap at a tilt, by a geometry library."""
    plate = Polygon(s.plate_ring(math.radians(degrees)))
    return not any(plate.intersection(Polygon(h)).area > 1e-9 for h in s.hosts)


@given(st.floats(16, 38), st.floats(0.5, 3), st.floats(14, 60), st.floats(14, 60), st.floats(8, 25))
def test_the_tilt_limit_is_where_they_touch_first(bar: float, below: float, front: float, back: float, jaw: float) -> None:
    design = made(
        "tilting_plate",
        Shop(),
        bar_diameter=f"{bar:.1f}",
        axis_depth=f"{below:.1f}",
        front_length=f"{front:.1f}",
        rear_length=f"{back:.1f}",
        jaw_thickness=f"{jaw:.1f}",
        pattern="none",
    )
    s = Tilt(design.values)
    for limit, sign in ((s.front_down, 1.0), (s.back_down, -1.0)):
        if limit < 80:
            assert clear(s, sign * max(0.0, limit - 0.05)) or limit == 0
            assert not clear(s, sign * (limit + 0.1))
        for part in (0.2, 0.5, 0.9):
            assert clear(s, sign * part * limit) or limit == 0


def test_the_limit_by_hand(demo_shop: Shop) -> None:
    # Bar 30, notch 18: axis 12 below the plate. A wide plate touches the jaw's outer edge, 33 out and 1 up: 33·sin θ + cos θ =
    # 12.
    s = Tilt(made("tilting_plate", demo_shop, front_length="60", rear_length="60").values)
    theta = math.radians(s.front_down)
    assert 33 * math.sin(theta) + math.cos(theta) == pytest.approx(12, abs=0.002)
    # One side shorter than the jaw is thick goes farther down.
    narrow = Tilt(made("tilting_plate", demo_shop, front_length="20", rear_length="60", pattern="none").values)
    assert narrow.front_down > s.front_down + 3 and narrow.back_down == pytest.approx(s.back_down, abs=0.01)


def test_screws_stop_short_in_the_bar(demo_shop: Shop) -> None:
    design = made("tilting_plate", demo_shop)
    assert said(design, "drop") == pytest.approx(12) and said(design, "sinks") == pytest.approx(3)
    assert said(design, "engaged") == pytest.approx(9) and design.check("through").verdict is Verdict.GO
    thin = made("tilting_plate", demo_shop, bar_diameter="12", screw="M6", notch_width="7", tilt="5")
    drill = 5.0
    left = 12 - said(thin, "drilled") - drill / 2 / math.tan(math.radians(59))
    assert left == pytest.approx(2.0, abs=1e-6) and thin.check("thread").verdict is not Verdict.GO


def test_setting_error_counts_zeroing_and_reading(demo_shop: Shop) -> None:
    assert said(made("tilting_plate", demo_shop, reading_resolution="0.1", tool_error="0.1"), "error") == pytest.approx(
        math.sqrt(2 * 0.05**2 + 0.01)
    )


def test_the_notch_follows_the_bar(demo_shop: Shop) -> None:
    family = find_family("tilting_plate")
    design = made("tilting_plate", demo_shop, front_length="30", rear_length="50")
    plan = plan_work("Tilt", family.work(design, demo_shop), demo_shop, home="hazel")
    notch = [
        p.value_mm
        for s in plan.setups
        if s.id == "notch"
        for m in s.moves
        if m.id.startswith("notch.") and m.strokes
        for p in m.positions
        if p.axis == "Y"
    ]
    # The axis is 10 nearer than the plate's middle; underside up, what is near is far.
    assert notch and all(abs(y - 10.0) < 4 for y in notch) and sum(notch) / len(notch) == pytest.approx(10.0)
    screws = [
        p.value_mm
        for s in plan.setups
        if s.id == "pattern"
        for m in s.moves
        if m.id.startswith("pattern.bore")
        for p in m.positions
        if p.axis == "Y"
    ]
    assert screws == pytest.approx([-10.0, -10.0])


# --- all of them ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("ident", ["stop-vise", "stop-table", "stop-quill", "stop-trip", "tilting-plate"])
def test_the_demo_shops_are_proven(ident: str, demo_shop: Shop) -> None:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == ident)
    assert {c.key for c in solve_doc(doc, demo_shop).checks if c.verdict is not Verdict.GO} <= {
        "splits"
    }  # an oval boss is what it is


@pytest.mark.parametrize(
    ("key", "typed", "said_", "entry"),
    [
        ("vise_stop", {"rod_height": "36"}, "metal over it", "rod_height"),
        ("vise_stop", {"upper_screw": "5"}, "not above the lower", "upper_screw"),
        ("table_stop", {"width": "12"}, "rests on the table beside it", "width"),
        ("table_stop", {"height": "11"}, "Nothing would be left", "height"),
        ("table_stop", {"bolt": "M12"}, "cuts the tongue in two", "bolt"),
        ("depth_stop", {"width": "34"}, "on both sides of the sleeve", "width"),
        ("depth_stop", {"slider_bore": "30"}, "has to slide", "slider_bore"),
        ("depth_stop", {"tip_distance": "60", "front_length": "40"}, "Between the bore", "tip_distance"),
        ("depth_stop", {"feet": "0,5; 30,10; 30,-10"}, "beside the slider or in its bore", "feet"),
        ("trip_stop", {"slot_width": "16", "width": "18"}, "Metal is left beside it", "width"),
        ("tilting_plate", {"notch_width": "31"}, "fall through it", "notch_width"),
        ("tilting_plate", {"notch_depth": "15.5", "thickness": "16"}, "cut in two", "notch_depth"),
        ("tilting_plate", {"thickness": "9"}, "Nothing is left between", "thickness"),
        ("tilting_plate", {"screw_spacing": "130"}, "beside the plate", "screw_spacing"),
    ],
)
def test_what_is_none(key: str, typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match=said_) as caught:
        made(key, demo_shop, **typed)
    assert caught.value.entry == entry
