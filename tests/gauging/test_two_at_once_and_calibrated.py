"""Two stacks at once, calibrated lengths and mixed sets, each against looking at every subset there is."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elbrix.cli import calc
from elbrix.gauging.blocks import BlockSet, standard_set
from elbrix.gauging.calibrated import CalibratedSolver
from elbrix.gauging.mixed import MixedSolver
from elbrix.gauging.pairs import pair
from elbrix.gauging.stacks import StackSolver, solver_for
from elbrix.quantities.errors import ShopError

MM_PER_INCH = Fraction(254, 10)


def subsets(blocks: tuple[str, ...], most: int = 99) -> list[tuple[tuple[str, ...], Fraction]]:
    found = []
    for count in range(1, min(most, len(blocks)) + 1):
        for some in itertools.combinations(blocks, count):
            found.append((some, sum(map(Fraction, some), Fraction(0))))
    return found


def total(names: tuple[str, ...]) -> Fraction:
    return sum(map(Fraction, names), Fraction(0))


# --- two at once ------------------------------------------------------------------------------------------------------


def brute_pair(blocks: tuple[str, ...], targets: tuple[Fraction, Fraction], tolerance: Fraction, most: int) -> int:
    """The fewest blocks in all; 0 for none."""
    every = subsets(blocks, most)
    firsts = [set(s) for s, t in every if abs(t - targets[0]) <= tolerance]
    seconds = [set(s) for s, t in every if abs(t - targets[1]) <= tolerance]
    return min((len(a) + len(b) for a in firsts for b in seconds if not a & b), default=0)


small = st.lists(st.integers(1, 60), min_size=3, max_size=8, unique=True)


@settings(max_examples=150, deadline=None)
@given(small, st.integers(1, 120), st.integers(1, 120), st.integers(0, 2), st.integers(1, 5))
def test_pairs_are_the_least_there_is(ticks: list[int], first: int, second: int, tolerance: int, most: int) -> None:
    blocks = tuple(f"{t / 100:.2f}" for t in ticks)
    targets = (Fraction(first, 100), Fraction(second, 100))
    found = pair(StackSolver(BlockSet("own", "mm", blocks)), targets, most, Fraction(tolerance, 100))
    best = brute_pair(blocks, targets, Fraction(tolerance, 100), most)
    assert (found.blocks_total if found.feasible else 0) == best
    if found.feasible:
        assert not set(found.first) & set(found.second)
        assert max(len(found.first), len(found.second)) <= most
        for names, target in ((found.first, targets[0]), (found.second, targets[1])):
            assert abs(total(names) - target) <= Fraction(tolerance, 100)


@pytest.mark.parametrize("seed", range(4))
def test_pairs_from_a_worn_down_standard_set(seed: int) -> None:
    """Random holes in the 47-piece set, so that the second stack has to give way: against a search of every pair up to 4 + 4."""
    rng = random.Random(seed)
    left = tuple(rng.sample(standard_set("metric 47").blocks, 16))
    solver = StackSolver(BlockSet("left", "mm", left))
    for _ in range(5):
        a = total(tuple(rng.sample(left, 3)))
        found = pair(solver, (a, a), 4)
        assert (found.blocks_total if found.feasible else 0) == brute_pair(left, (a, a), Fraction(0), 4)


def test_the_only_half_micron_cannot_be_in_both() -> None:
    """41.7265 needs 1.0005, of which there is one: no arithmetic of the rest ends on half a µm."""
    m88 = solver_for(standard_set("88"))
    assert not pair(m88, (Fraction("41.7265"), Fraction("41.7265"))).feasible
    assert pair(m88, (Fraction("41.7265"), Fraction("41.726"))).feasible


def test_heights_off_the_step_have_no_pair() -> None:
    assert not pair(solver_for(standard_set("88")), (Fraction("41.7267"), Fraction(30))).feasible


def test_too_many_ways_is_said_and_not_guessed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("elbrix.gauging.pairs._MAX_LISTED", 3)
    with pytest.raises(ShopError, match="too many ways"):
        pair(StackSolver(standard_set("88")), (Fraction("61.113"), Fraction("61.113")))


def test_pair_calc_keeps_the_contract() -> None:
    found = calc.answer(
        {"calc": "stack_pair", "set": "m88", "targets": ["41.7265", "30.1"], "max_blocks_per_stack": 8, "wear_blocks": 2}
    )
    first, second = found["pair"]
    assert found["feasible"] and found["blocks_total"] == len(first) + len(second)
    assert first[0] == first[-1] == second[0] == second[-1] == "2"
    assert total(tuple(first)) == Fraction("41.7265") and total(tuple(second)) == Fraction("30.1")
    assert not set(first[1:-1]) & set(second[1:-1])
    assert "error" in calc.answer({"calc": "stack_pair", "set": "m88", "targets": ["41.7265"]})
    assert calc.answer({"calc": "stack_pair", "set": "m88", "targets": ["41.7265", "41.7265"]})["feasible"] is False


# --- calibrated -------------------------------------------------------------------------------------------------------


@settings(max_examples=120, deadline=None)
@given(
    st.lists(st.integers(500, 9000), min_size=2, max_size=9, unique=True),
    st.data(),
    st.integers(500, 20000),
    st.integers(1, 5),
    st.integers(1, 6),
)
def test_calibrated_stacks_by_their_real_error(ticks: list[int], data: st.DataObject, target: int, most: int, want: int) -> None:
    blocks = tuple(f"{t / 1000:.3f}" for t in ticks)
    deviations = {b: data.draw(st.integers(-300, 300)) / 1000 for b in blocks}
    goal = Fraction(target, 1000)
    answer = CalibratedSolver(BlockSet("own", "mm", blocks), deviations).best(goal, most=most, want=want)
    real = sorted(
        abs(t + sum((Fraction(str(deviations[b])) for b in some), Fraction(0)) / 1000 - goal) for some, t in subsets(blocks, most)
    )
    assert [abs(s.error_mm) for s in answer.stacks] == pytest.approx([float(e) for e in real[:want]], abs=1e-12)
    for s in answer.stacks:
        told = total(s.blocks) + sum((Fraction(str(deviations[b])) for b in s.blocks), Fraction(0)) / 1000 - goal
        assert s.error_mm == pytest.approx(float(told), abs=1e-15)


def test_calibrated_against_every_stack_of_up_to_three_blocks_of_the_88() -> None:
    blocks = standard_set("88")
    rng = random.Random(5)
    deviations = {b: rng.randrange(-200, 200) / 1000 for b in blocks.blocks}
    solver = CalibratedSolver(blocks, deviations)
    goal = Fraction("31.4159")
    real = {b: Fraction(b) + Fraction(str(deviations[b])) / 1000 for b in blocks.blocks}
    every = sorted(
        abs(sum((real[b] for b in some), Fraction(0)) - goal)
        for c in (1, 2, 3)
        for some in itertools.combinations(blocks.blocks, c)
    )
    assert [abs(s.error_mm) for s in solver.best(goal, most=3, want=5).stacks] == pytest.approx(
        [float(e) for e in every[:5]], abs=1e-12
    )


def test_a_tolerance_holds_for_the_real_error() -> None:
    solver = CalibratedSolver(BlockSet("own", "mm", ("10", "20")), {"10": 0.4})
    found = solver.best(Fraction(10), most=1, tolerance_mm=Fraction("0.0003"))
    assert not found.feasible and found.nearest[0].blocks == ("10",)
    assert solver.best(Fraction(10), most=1, tolerance_mm=Fraction("0.0004")).feasible


@pytest.mark.parametrize(
    ("deviations", "said"), [({"11": 0.1}, "no block 11"), ({"10": 900.0}, "µm, not mm"), ({"10": float("nan")}, "unit")]
)
def test_deviations_that_cannot_be(deviations: dict[str, float], said: str) -> None:
    with pytest.raises(ShopError, match=said):
        CalibratedSolver(BlockSet("own", "mm", ("10", "20")), deviations)


def test_calibrated_calc_keeps_the_contract() -> None:
    asked = {
        "calc": "stack_calibrated",
        "set": "m47",
        "target": "41.725",
        "deviation_um": {"1.005": 0.3, "1.02": -0.3},
        "max_blocks_total": 5,
        "want": 4,
    }
    found = calc.answer(asked)
    errors = [abs(s["error_mm"]) for s in found["stacks"]]
    assert found["feasible"] and errors == sorted(errors) and len(errors) == 4
    assert all(s["blocks_total"] == len(s["blocks"]) <= 5 for s in found["stacks"])
    assert "error" in calc.answer(asked | {"deviation_um": {"1.005": "0,3"}})
    assert "error" in calc.answer(asked | {"max_blocks_total": 12})
    without = calc.answer(asked | {"exclude": ["1.005"]})
    assert all("1.005" not in s["blocks"] for s in without["stacks"])


# --- mixed ------------------------------------------------------------------------------------------------------------


@settings(max_examples=80, deadline=None)
@given(
    st.lists(st.integers(1, 40), min_size=2, max_size=5, unique=True),
    st.lists(st.integers(1, 20), min_size=2, max_size=4, unique=True),
    st.integers(1, 900),
    st.integers(0, 30),
    st.integers(1, 4),
)
def test_mixed_stacks_are_the_least_there_is(metric: list[int], inch: list[int], target: int, tolerance: int, want: int) -> None:
    mm = tuple(f"{t / 10:.1f}" for t in metric)
    inches = tuple(f"{t / 50:.2f}" for t in inch)
    solver = MixedSolver(StackSolver(BlockSet("m", "mm", mm)), StackSolver(BlockSet("i", "in", inches)))
    goal, window = Fraction(target, 10), Fraction(tolerance, 100)
    lengths = {f"{b} mm": Fraction(b) for b in mm} | {f"{b} in": Fraction(b) * MM_PER_INCH for b in inches}
    every = []
    for count in range(1, len(lengths) + 1):
        for some in itertools.combinations(lengths, count):
            error = abs(sum((lengths[b] for b in some), Fraction(0)) - goal)
            if error <= window:
                every.append((count, float(error)))
    found = solver.best(goal, tolerance_mm=window, want=want)
    assert [(s.count, abs(s.error_mm)) for s in found.stacks] == [
        (c, pytest.approx(e, abs=1e-12)) for c, e in sorted(every)[:want]
    ]
    assert found.feasible is bool(every)


# --- the whole grid ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["metric 32", "metric 88", "inch 81"])
def test_whole_grid_of_least_counts_agrees_with_asking_one_by_one(name: str) -> None:
    solver = solver_for(standard_set(name))
    grid = solver.least_counts()
    assert len(grid) == solver.longest + 1 and grid[0] == 255
    for t in random.Random(3).sample(range(1, solver.longest), 300):
        counts = solver.counts(t)
        assert grid[t] == ((counts & -counts).bit_length() - 1 if counts else 255)
    assert list(solver.least_counts(5000)) == list(grid[:5001])
