"""Sizes at the ends of what their entries take: found by turning every number of every family to its least and its most."""

from __future__ import annotations

import math

import pytest

from elbrix.design.families.trip_stop.trials import fitted, read_step_mm
from elbrix.design.family import Design, Request, all_families, find_family, read_choices, solve_for
from elbrix.design.judging import nearest_fix
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop

#: Families whose parts stay light whatever is typed.
SMALL = ("depth_stop", "detent", "gib", "hardware", "locator", "ring_nut", "split_vise", "t_nut", "table_key")
SMALL += ("trip_stop", "vise_stop")

GO, CLOSE, NO = Verdict.GO, Verdict.MARGINAL, Verdict.NO_GO


def _solved(shop: Shop, key: str, **typed: str) -> Design:
    return solve_for(find_family(key), shop, Request(), read_choices(find_family(key), typed))


@pytest.mark.parametrize(
    ("family", "typed", "check", "verdict"),
    [
        # Half a millimetre of edges bears nothing; of the rest one millimetre climbs out, two are sound.
        ("table_stop", {"tongue_height": "1"}, "tongue_bears", NO),
        ("table_stop", {"tongue_height": "2"}, "tongue_bears", CLOSE),
        ("table_stop", {"tongue_height": "2.5"}, "tongue_bears", GO),
        ("split_vise", {"key_down": "1.4"}, "key_down_bears", NO),
        ("split_vise", {"key_down": "2.4"}, "key_down_bears", CLOSE),
        ("split_vise", {"key_seat": "1.4"}, "key_seat_bears", NO),
        ("v_jaw", {"keyway_depth": "1"}, "keyway_bears", NO),
        ("v_jaw", {"keyway_depth": "2.5"}, "keyway_bears", GO),
        ("soft_jaw", {"kind": "ledge", "ledge_depth": "0.9"}, "ledge_bears", NO),
        ("soft_jaw", {"kind": "ledge", "ledge_depth": "1.9"}, "ledge_bears", CLOSE),
        ("soft_jaw", {"kind": "ledge", "ledge_depth": "2"}, "ledge_bears", GO),
        # Two pins of Ø 8 on 11 mm are in each other's way; on 24 they hold.
        ("locator", {"kind": "relieved", "locating_diameter": "8", "pin_spacing": "11.9"}, "apart", NO),
        ("locator", {"kind": "relieved", "locating_diameter": "8", "pin_spacing": "23.9"}, "apart", CLOSE),
        ("locator", {"kind": "relieved", "locating_diameter": "8", "pin_spacing": "24.1"}, "apart", GO),
    ],
)
def test_what_went_unjudged(family: str, typed: dict[str, str], check: str, verdict: Verdict, demo_shop: Shop) -> None:
    design = _solved(demo_shop, family, **typed)
    assert next(c for c in design.checks if c.key == check).verdict is verdict


@pytest.mark.parametrize(("over", "verdict"), [(0.6, GO), (0.4, CLOSE), (0.1, NO), (-3.0, NO)])
def test_a_nut_too_tall_for_the_lips_clamps_on_the_riser(over: float, verdict: Verdict, demo_shop: Shop) -> None:
    lip = _solved(demo_shop, "riser").values.readings("lip").min
    design = _solved(demo_shop, "riser", nut_neck_height=f"{lip - over:.3f}")
    assert next(c for c in design.checks if c.key == "nut_top").verdict is verdict


@pytest.mark.parametrize("key", sorted(all_families()))
def test_what_is_heavy_says_who_lifts_it(key: str, demo_shop: Shop) -> None:
    """Its lengths at their most, one after the other as far as they go: over 15 kg no family is silent."""
    family = find_family(key)
    typed: dict[str, str] = {}
    heaviest = 0.0
    for p in family.parameters:
        if p.kind is not Kind.LENGTH or p.name not in ("length", "width", "height", "thickness", "half_length", "front_length"):
            continue
        for size in (p.high, p.high / 2, p.high / 4):
            try:
                design = solve_for(family, demo_shop, Request(), read_choices(family, {**typed, p.name: f"{size:g}"}))
            except ShopError:
                continue
            typed[p.name] = f"{size:g}"
            weights = [f.value for f in design.figures if f.unit == "kg" and f.key not in design.values]
            heaviest = max([heaviest, *weights])
            if max(weights, default=0.0) > 15:
                told = next(c for c in design.checks if c.key == "mass")
                assert told.verdict is not GO and ("two people" in told.reason or "crane" in told.reason)
            break
    assert heaviest > 15 or key in SMALL


@pytest.mark.parametrize(
    ("key", "typed"),
    [("table_stop", {"length": "120", "width": "125", "height": "150"}), ("v_jaw", {"width": "500", "length": "180"})],
)
def test_what_is_heavy_is_offered_a_lighter_size(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    """Its check stood outside of what a remedy is looked for in: none was ever found, and none was there to ask for."""
    design = _solved(demo_shop, key, **typed)
    assert design.check("mass").verdict is CLOSE
    fix = nearest_fix(find_family(key), design, demo_shop, "mass")
    assert fix is not None
    lighter = _solved(demo_shop, key, **typed | dict(fix.changes))
    assert lighter.check("mass").verdict is GO


@pytest.mark.parametrize(
    ("stops", "step"),
    [([10.0, 60.0, 100.0], 0.1), ([10.1, 60.2], 0.1), ([10.05, 60.0], 0.01), ([10.055, 60.0], 0.001), ([10.0551], 0.001)],
)
def test_the_step_of_a_readout_shows_in_its_digits(stops: list[float], step: float) -> None:
    assert read_step_mm(stops) == step


def test_three_trials_on_one_line_are_no_proof_of_a_perfect_stop() -> None:
    """Read to 0.1, what seems to lie on a line may be off by half of that either way, evenly: 0.1/√12."""
    line = fitted(((0.0, 10.0), (50.0, 60.0), (90.0, 100.0)))
    assert line is not None and line.sigma == pytest.approx(0.1 / math.sqrt(12))
    finer = fitted(((0.0, 10.005), (50.0, 60.005), (90.0, 100.005)))
    assert finer is not None and finer.sigma == pytest.approx(0.001 / math.sqrt(12))
    scattered = fitted(((0.0, 10.0), (50.0, 60.5), (90.0, 100.0)))
    # By hand: the middle one is off the line between the outer two by 0.5, and the line of least squares shares that out.
    residuals = [-0.14754, 0.33197, -0.18443]
    assert scattered is not None and scattered.sigma == pytest.approx(math.sqrt(sum(r * r for r in residuals)), rel=1e-3)
