"""No input of any calculation gets past its checks: an answer in finite numbers, or words."""

from __future__ import annotations

import json
import math
import random
from typing import Any

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from elbrix.cli import calc

KEYS = [
    "centres_mm",
    "stack_mm",
    "angle_deg",
    "angle_dms",
    "roll_pivot_mm",
    "roll_stack_mm",
    "tilt_x_deg",
    "then_tilt_y_deg",
    "slope_seen_in_xz_deg",
    "slope_seen_in_yz_deg",
    "true_tilt_deg",
    "downhill_azimuth_deg",
    "centres_base_mm",
    "centres_top_mm",
    "tilt1_deg",
    "azimuth1_deg",
    "tilt2_deg",
    "azimuth2_deg",
    "included_angle_deg",
    "width_at_top_mm",
    "pin_d_mm",
    "pin_top_above_face_mm",
    "pin1_mm",
    "top1_mm",
    "pin2_mm",
    "top2_mm",
    "narrow_width_at_root_mm",
    "wide_width_at_floor_mm",
    "height_mm",
    "flank_angle_deg",
    "rod_d_mm",
    "thickness_mm",
    "angle_from_face_deg",
    "holes",
    "pitch_circle_d_mm",
    "start_angle_deg",
    "centre_mm",
    "angle_between_deg",
    "pin1_d_mm",
    "pin2_d_mm",
    "hole1_mm",
    "hole2_mm",
    "chord_mm",
    "table",
    "thread",
    "size",
    "dim",
    "slot",
    "u_stack_um",
]

LISTED = ("centre_mm", "hole1_mm", "hole2_mm")
USUAL = [k for k in KEYS if not k.startswith(("table", "thread", "size", "dim", "slot", "angle_dms", *LISTED))]
ROUND = (0, 1, 30, 45, 60, 90, 180, 360, -1, 1e9, 1e-9, 1e300)
LETTERS = "0123456789.,-/°'\" xXøØ\x00\u2028é"


def number(chance: random.Random) -> float:
    kind = chance.randrange(4)
    if kind == 0:
        return chance.choice(ROUND)
    return chance.randint(-5, 200) if kind == 1 else chance.uniform(-400, 400) * chance.choice((1.0, 1.0, 1e-3))


def anything(chance: random.Random) -> Any:
    text = "".join(chance.choices(LETTERS, k=chance.randint(0, 8)))
    return chance.choice(
        (
            number(chance),
            None,
            chance.random() < 0.5,
            text,
            [number(chance) for _ in range(chance.randint(0, 3))],
            {text[:3]: number(chance)},
            math.nan,
            math.inf,
        )
    )


def question(seed: int) -> dict[str, Any]:
    """Every key with a usual number, some of them overwritten by anything: most questions get as far as the formula."""
    chance = random.Random(seed)
    asked: dict[str, Any] = {k: number(chance) for k in USUAL} | {k: [number(chance), number(chance)] for k in LISTED}
    return asked | {k: anything(chance) for k in chance.sample(KEYS, chance.randint(0, 2))}


def finite(value: Any) -> bool:
    if isinstance(value, dict):
        return all(finite(v) for v in value.values())
    if isinstance(value, list):
        return all(finite(v) for v in value)
    return not isinstance(value, float) or math.isfinite(value)


@pytest.mark.parametrize("name", sorted(set(calc.CALCS) - {"stack"}))
@settings(max_examples=150)
@given(seed=st.integers(0, 2**40))
def test_an_answer_or_words(name: str, seed: int) -> None:
    """One number draws them all: fifty values each drawn by themselves take ten times as long to draw as to answer."""
    asked = question(seed) | {"calc": name}
    found = calc.answer(asked)
    if "error" in found:
        assert repr(found) == repr(asked | {"error": found["error"]}) and len(found["error"]) > 10  # nan is no nan
    else:
        outputs = calc.CALCS[name](asked)
        assert outputs and finite(outputs) and repr(found) == repr(asked | outputs)
    json.dumps(found)


@pytest.mark.parametrize("name", sorted(calc.CALCS))
def test_nothing_given_is_asked_for(name: str) -> None:
    found = calc.answer({"calc": name})
    assert set(found) == {"calc", "error"}
    assert "input of the wrong kind" not in found["error"]


@settings(max_examples=60)
@given(
    target=st.one_of(st.text(max_size=12), st.decimals(-5, 500, places=4).map(str)),
    tol=st.floats(-1, 30),
    wear=st.integers(-1, 4),
    want=st.integers(-1, 4),
    most=st.integers(-1, 18),
)
@example(target="0", tol=-1.0, wear=0, want=1, most=1)
def test_stacks_answer_or_words(target: str, tol: float, wear: int, want: int, most: int) -> None:
    asked = {
        "calc": "stack",
        "set": "m88",
        "target": target,
        "tol_um": tol,
        "wear_blocks": wear,
        "want": want,
        "max_blocks_total": most,
    }
    found = calc.answer(asked)
    if "error" in found:
        assert len(found["error"]) > 10
        return
    per_stack = [s["blocks_total"] for s in found["stacks"]]
    assert per_stack == sorted(per_stack) and all(n <= most for n in per_stack) and len(per_stack) <= want
    for s in found["stacks"]:
        assert len(s["blocks"]) == s["blocks_total"]
        assert abs(sum(map(float, s["blocks"])) - float(target) - s["error_mm"]) < 1e-9
        assert abs(s["error_mm"]) <= tol / 1000 + 1e-12
    assert found["feasible"] is bool(found["stacks"])
    assert found["feasible"] or 1 <= len(found["nearest"]) <= 2
    for s in found.get("nearest", []):
        assert abs(s["error_mm"]) > tol / 1000 - 1e-12 and s["blocks_total"] <= most


@given(st.text(max_size=60))
def test_no_text_breaks_the_line(text: str) -> None:
    answered, code = calc.run(text)
    assert code in (0, 1, 2)
    json.loads(answered)


def test_infinity_is_no_answer() -> None:
    found = calc.answer({"calc": "tilted_cut", "thickness_mm": 1e300, "angle_from_face_deg": 1e-9})
    assert "out of all proportion" in found["error"] and "step_over_mm" not in found


def test_one_bad_entry_spoils_no_other() -> None:
    asked = [
        {"calc": "tilted_cut", "thickness_mm": 10, "angle_from_face_deg": 45},
        7,
        {"calc": "nothing"},
        {"calc": "sine_stack"},
    ]
    answered, code = calc.run(json.dumps(asked))
    found = json.loads(answered)
    assert code == 1 and len(found) == 4
    assert found[0]["step_over_mm"] == pytest.approx(10) and found[0]["cut_length_mm"] == pytest.approx(10 * math.sqrt(2))
    assert all("error" in f for f in found[1:])
