"""How far a sum of readings may be off: by hand, and by drawing instruments and readings at random."""

from __future__ import annotations

import math
import random

import pytest

from elbrix.inspecting.inspection import all_kinds, inspect
from elbrix.inspecting.plain import within
from elbrix.inspecting.readings import Place, Sheet, Taken
from elbrix.instruments.lines import Quantity
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from simulated_readings import measured


def _place(key: str, times: int = 1) -> Place:
    return Place(key=key, label=key, quantity=Quantity.LENGTH, at=(0.0, 0.0), times=times)


def _sheet(u: float = 0.02, **readings: tuple[float, ...]) -> Sheet:
    places = [_place(key, len(values)) for key, values in readings.items()]
    return Sheet(places, {k: tuple(Taken(value=v, tool="a") for v in vs) for k, vs in readings.items()}, u)


def test_one_reading_is_as_sure_as_its_tool() -> None:
    assert _sheet(0.02, a=(12.0,)).u_of({"a": 1}) == pytest.approx(0.02)


def test_without_repeats_the_worse_split_is_taken() -> None:
    """Fixed error drops out of a difference, noise out of a mean: nobody knows which it is."""
    sheet = _sheet(0.02, a=(12.0,), b=(12.1,))
    assert sheet.u_of({"a": 1, "b": -1}) == pytest.approx(0.02 * math.sqrt(2))  # all of it noise
    assert sheet.u_of({"a": 0.5, "b": 0.5}) == pytest.approx(0.02)  # all of it the tool's own


def test_readings_that_are_all_alike_are_not_taken_for_certain() -> None:
    """A caliper that shows 12.06 nine times tells of its last digit: the difference of two places is not known for ever."""
    sheet = _sheet(0.02, a=(12.06,) * 9, b=(12.10,) * 9)
    assert sheet.u_of({"a": 1, "b": -1}) >= 0.3 * 0.02 * math.sqrt(2) - 1e-12
    assert sheet.u_of({"a": 1}) >= 0.02 - 1e-9  # the tool's own error is all that is left of it
    assert sheet.sigma > 0.002


def test_two_tools_share_no_error() -> None:
    places = [_place("a"), _place("b")]
    taken = {"a": (Taken(value=1.0, u=0.03, tool="one"),), "b": (Taken(value=1.0, u=0.04, tool="other"),)}
    assert Sheet(places, taken, 1.0).u_of({"a": 1, "b": 1}) == pytest.approx(0.05)


@pytest.mark.parametrize("parts", [{"a": 1.0}, {"a": 1.0, "b": -1.0}, {"a": 0.5, "b": 0.5}])
def test_stated_uncertainty_covers_drawn_readings(parts: dict[str, float]) -> None:
    """Ten thousand instruments with a fixed error and noise of their own: about 95 of 100 are within."""
    chance, hits, trials = random.Random(3), 0, 3000
    sigma = math.hypot(0.006, 0.008)
    for _ in range(trials):
        own = chance.gauss(0, 0.006)
        read = {k: tuple(true + own + chance.gauss(0, 0.008) for _ in range(4)) for k, true in (("a", 10.0), ("b", 10.5))}
        sheet = _sheet(1.96 * sigma, **read)
        found = sum(c * sheet.mean(k) for k, c in parts.items())
        true = sum(c * {"a": 10.0, "b": 10.5}[k] for k, c in parts.items())
        hits += abs(found - true) <= sheet.u_of(parts)
    assert 0.925 < hits / trials < 0.985


def test_a_guard_band_lies_on_both_sides_of_a_limit() -> None:
    def verdict(value: float, u: float) -> Verdict:
        return within("x", "x", value, u, 0.05, ("", "", "")).verdict

    assert [verdict(v, 0.01) for v in (0.039, 0.041, -0.059, 0.061)] == [
        Verdict.GO,
        Verdict.MARGINAL,
        Verdict.MARGINAL,
        Verdict.NO_GO,
    ]
    assert verdict(0.0, 0.08) is Verdict.MARGINAL  # a tool that coarse can never say go


def test_a_thousand_exercises_are_covered_as_stated(demo_shop: Shop) -> None:
    """Seeded things with seeded errors, read by the simulated instruments: the stated 95 of 100 is neither 60 nor 100."""
    kinds = [k for k in all_kinds().values() if k.key != "as_made"]
    hits: dict[str, list[bool]] = {}
    for kind in kinds:
        values = kind.propose(demo_shop, {})
        for n in range(84):
            exercise = kind.exercise(values, demo_shop, random.Random(f"{kind.key} {n}"))
            if exercise is None:
                break
            found = inspect(kind, demo_shop, {}, measured(kind, values, demo_shop, exercise, n)).figure(kind.main)
            hits.setdefault(kind.key, []).append(abs(found.value - exercise.answers[kind.main]) <= found.u)
    every = [hit for kind in hits.values() for hit in kind]
    assert len(every) >= 1000
    assert 0.92 <= sum(every) / len(every) <= 0.98
    assert all(sum(kind) / len(kind) >= 0.88 for kind in hits.values()), {k: sum(v) / len(v) for k, v in hits.items()}
