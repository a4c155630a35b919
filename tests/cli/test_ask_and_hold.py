"""`elbrix ask`, `elbrix hold` and the calculation `hold_limit`, as scripts use them."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from elbrix.cli import calc
from elbrix.cli.main import main


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    code = main(list(arguments))
    captured = capsys.readouterr()
    return code, captured.out, captured.err


# --- ask --------------------------------------------------------------------------------------------------------------


def test_ask_in_words_and_in_json(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "ask", "tap drill", "M10x1.5")
    assert code == 0 and "Tap drill for M10 × 1.5" in out and "8.50 mm" in out and "ISO 261" in out and "▲" in out
    code, out, _ = run(capsys, "ask", "--json", "sine 53d14m on 100 to 2'")
    answer = json.loads(out)
    assert code == 0 and answer["figures"][0]["value"] == pytest.approx(100 * math.sin(math.radians(53 + 14 / 60)))
    assert answer["go"]["bench"] == "angles" and answer["go"]["chosen"]["tool"] == "sine-100" and answer["topic"] == "sine"
    code, out, _ = run(capsys, "ask", "--units", "in", "drill near 0.25")
    assert code == 0 and "0.2500 in" in out


def test_a_need_is_met_as_in_the_window(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "ask", "lift the vise 60")
    assert code == 0 and "Best" in out and "60" in out
    code, out, _ = run(capsys, "ask", "--json", "lift the vise 60")
    assert code == 0 and json.loads(out)["topic"] == "need"


def test_an_answer_in_inches_says_inches(capsys: pytest.CaptureFixture[str]) -> None:
    """Title, feed and lengths in the middle of a sentence too; no mark of theirs is printed."""
    for asked in ("tram .001 over 10", "speed 1/2 hss bronze", "sine 53d14m on 5"):
        code, out, _ = run(capsys, "ask", "--units", "in", asked)
        told = [line for line in out.splitlines() if line[2:5] != "   "]  # a working says its own unit
        assert code == 0 and "\u2063" not in out and not [t for t in told if " mm" in t and "Ø" not in t], (
            asked
        )  # a cutter keeps its own size


def test_ask_without_an_answer(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, err = run(capsys, "ask", "banana")
    assert code == 1 and out == "" and "not understood" in err and "These work" in err
    code, out, _ = run(capsys, "ask", "--json", "stack 12,5")
    assert code == 1 and json.loads(out)["tries"] and "point" in json.loads(out)["error"]
    code, out, _ = run(capsys, "ask")
    assert code == 0 and "tap drill M10" in out


def test_ask_a_book_of_ones_own(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    from elbrix.book.store import Book

    Book.create(tmp_path / "own.elbrix").close()
    code, _, err = run(capsys, "ask", "--book", str(tmp_path / "own.elbrix"), "where are the M10 nuts")
    assert code == 1 and "nothing in the book" in err


# --- hold_limit -------------------------------------------------------------------------------------------------------

SEATS = [{"position_mm": [x, y, 0], "normal_into_part": [0, 0, 1], "mu": 0.2} for x in (-50, 50) for y in (-30, 30)]
BLOCK: dict[str, Any] = {
    "calc": "hold_limit",
    "contacts": SEATS,
    "weight_N": 100,
    "cg_mm": [0, 0, 20],
    "gravity_direction": [0, 0, -1],
}


def limit(**more: Any) -> dict[str, Any]:
    return calc.answer(BLOCK | more)


def test_slip_tip_and_lists() -> None:
    slip = limit(load={"point_mm": [0, 0, 0], "force_N": [10, 0, 0]})
    assert slip["lambda"] == pytest.approx(2.0) and slip["mode"] == "slip" and "right" in slip["motion"]
    both = limit(loads=[{"point_mm": [0, 0, 300], "force_N": [10, 0, 0]}, {"point_mm": [0, 0, 0], "force_N": [0, 0, -10]}])
    assert both["lambda"] == [pytest.approx(100 * 50 / 3000), "unbounded"] and both["mode"] == ["tip", "unbounded"]


def test_straps_and_tip_friction() -> None:
    strap = {"position_mm": [0, 0, 40], "direction": [0, 0, -1], "stud_force_N": 900, "tip_arm_mm": 30, "heel_arm_mm": 60}
    found = limit(clamps=[strap], load={"point_mm": [0, 0, 0], "force_N": [10, 0, 0]})
    assert found["lambda"] == pytest.approx(0.2 * (100 + 600) / 10)
    plain = {"position_mm": [0, 0, 0], "direction": [0, 0, -1], "force_N": 600, "tip_mu": 0.1}
    assert limit(clamps=[plain], load={"point_mm": [0, 0, 0], "force_N": [10, 0, 0]})["lambda"] == pytest.approx(
        (0.2 * 700 + 60) / 10
    )


def test_not_at_rest_is_null() -> None:
    found = calc.answer(BLOCK | {"contacts": SEATS[:2], "load": {"point_mm": [0, 0, 0], "force_N": [1, 0, 0]}})
    assert found["lambda"] is None and found["mode"] == "no-rest"


def test_gravity_may_point_anywhere() -> None:
    wall = [{"position_mm": [0, y, z], "normal_into_part": [1, 0, 0], "mu": 0.2} for y in (-30, 30) for z in (-50, 50)]
    found = calc.answer(
        {
            "calc": "hold_limit",
            "contacts": wall,
            "weight_N": 100,
            "cg_mm": [20, 0, 0],
            "gravity_direction": [-1, 0, 0],
            "load": {"point_mm": [0, 0, 0], "force_N": [0, 0, 10]},
        }
    )
    assert found["lambda"] == pytest.approx(2.0)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({}, "load"),
        ({"load": {}}, "load of nothing"),
        ({"loads": []}, "there is no load"),
        ({"load": {"force_N": [1, 2]}}, "three numbers"),
        ({"load": {"force_N": [1, 0, 0]}, "contacts": "x"}, "no list"),
        ({"load": {"force_N": [1, 0, 0]}, "weight_N": "heavy"}, "weight_N"),
        ({"load": {"force_N": [1, 0, 0]}, "weight_N": -5}, "weighs"),
        ({"load": {"force_N": [1, 0, 0]}, "gravity_direction": [0, 0, 0]}, "direction"),
        (
            {"load": {"force_N": [1, 0, 0]}, "contacts": [{"position_mm": [0, 0, 0], "normal_into_part": [0, 0, 1], "mu": -1}]},
            "friction",
        ),
        ({"load": {"force_N": [1, 0, 0]}, "clamps": [{"position_mm": [0, 0, 0], "direction": [0, 0, -1]}]}, "force_N"),
        (
            {
                "load": {"force_N": [1, 0, 0]},
                "clamps": [
                    {"position_mm": [0, 0, 0], "direction": [0, 0, -1], "stud_force_N": 5, "tip_arm_mm": 0, "heel_arm_mm": 5}
                ],
            },
            "arm",
        ),
    ],
)
def test_wrong_questions_are_errors(more: dict[str, Any], said: str) -> None:
    found = limit(**more)
    assert said in found["error"] and "lambda" not in found


_NUMBERS = st.floats(-1e4, 1e4) | st.sampled_from([0.0, math.nan, math.inf, 1e300]) | st.none() | st.text(max_size=3)
_VECTORS = st.lists(_NUMBERS, max_size=4)


@given(
    st.fixed_dictionaries(
        {
            "contacts": st.lists(
                st.fixed_dictionaries({"position_mm": _VECTORS, "normal_into_part": _VECTORS, "mu": _NUMBERS}), max_size=5
            ),
            "clamps": st.lists(
                st.fixed_dictionaries({"position_mm": _VECTORS, "direction": _VECTORS, "force_N": _NUMBERS}), max_size=2
            ),
            "weight_N": _NUMBERS,
            "cg_mm": _VECTORS,
            "load": st.fixed_dictionaries({"point_mm": _VECTORS, "force_N": _VECTORS}),
        }
    )
)
def test_any_question_is_answered_or_an_error(asked: dict[str, Any]) -> None:
    found = calc.answer({"calc": "hold_limit"} | asked)
    assert "error" in found or found["lambda"] is None or found["lambda"] == "unbounded" or found["lambda"] >= 0


@given(
    st.lists(st.tuples(st.floats(-100, 100), st.floats(-60, 60), st.floats(0.0, 1.0)), min_size=3, max_size=7),
    st.tuples(st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50)),
)
@example([(0.0, 0.0, 0.5), (0.0, 2.0, 1.0), (11.0, 7.0, 0.0)], (11.0, 7.0, 0.0))
@example([(0.0, 0.0, 0.5), (0.0, 2.0, 1.0), (11.0, 14.0, 0.0)], (11.0, 14.0, 0.0))
def test_any_seat_is_answered(seats: list[tuple[float, float, float]], force: tuple[float, float, float]) -> None:
    contacts = [{"position_mm": [x, y, 0], "normal_into_part": [0, 0, 1], "mu": mu} for x, y, mu in seats]
    found = calc.answer(BLOCK | {"contacts": contacts, "load": {"point_mm": [0, 0, 30], "force_N": list(force)}})
    if "error" in found:
        assert "load of nothing" in found["error"]
    else:
        assert (
            found["mode"] in ("slip", "spin", "tip", "lift", "pull-out", "insufficient", "no-rest", "unbounded")
            and found["motion"]
        )
