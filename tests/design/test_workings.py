"""Every number that shows its working can be worked again from what it shows, with nothing but the shown line."""

from __future__ import annotations

import pytest

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.family import Design
from elbrix.making.planner import card_figures
from elbrix.results.checks import Check
from elbrix.results.figures import Figure
from elbrix.shop.shop import Shop
from paper_arithmetic import evaluate, settled


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("12.05 − 0.3", 11.75),
        ("(12.05 − 11.7)/2", 0.175),
        ("9.5 kN/(2 × 8.2 × 23.1)", 9500 / (2 * 8.2 * 23.1)),
        ("3 × 9.5 kN × 2.04/(23.1 × 8.2²)", 3 * 9500 * 2.04 / (23.1 * 8.2**2)),
        ("19 N·m/(0.2 × 10 mm)", 9500),
        ("9.5 kN/(58 mm² × 580 MPa)", 9500 / (58 * 580)),
    ],
)
def test_the_paper_arithmetic_itself(line: str, expected: float) -> None:
    assert evaluate(line) == pytest.approx(expected)


#: How the shown number follows from the worked one: per cent, kN …
_SCALE = {"%": 100.0, "kN": 0.001, "N·m": 0.001}
#: Lines that are words, not arithmetic.
_WORDS = {"chamfer", "stud_stop", "thread", "length", "ring_longest", "cut_length", "torque", "look_alike", "hole_count"}


def _designs() -> list[DesignDoc]:
    return [d for d in documents() if isinstance(d, DesignDoc)]


@pytest.fixture(params=[d.id for d in _designs()])
def solved(request: pytest.FixtureRequest, demo_shop: Shop) -> Design:
    doc = next(d for d in _designs() if d.id == request.param)
    return solve_doc(doc, demo_shop)


def _worked(what: Figure | Check) -> float:
    assert what.derivation is not None
    line = what.derivation.with_numbers
    return settled(line) if " to " in line else evaluate(line) * _SCALE.get(what.unit, 1.0)


def test_every_figure_of_every_demo_design(solved: Design) -> None:
    checked = 0
    for figure in solved.figures:
        if figure.derivation is None or not figure.derivation.with_numbers or figure.key in _WORDS:
            continue
        assert figure.value == pytest.approx(_worked(figure), rel=0.002, abs=0.002), figure.key
        checked += 1
    assert checked >= 3


def test_every_check_of_every_demo_design(solved: Design) -> None:
    checked = 0
    for check in solved.checks:
        if check.derivation is None or not check.derivation.with_numbers or check.key in _WORDS:
            continue
        assert check.value == pytest.approx(_worked(check), rel=0.002, abs=0.002), check.key
        checked += 1
    assert checked >= (14 if solved.family == "t_nut" else 5)


def test_proposed_torque_shows_the_preload_it_rests_on(demo_shop: Shop) -> None:
    for doc in _designs():
        design = solve_doc(doc, demo_shop)
        if "torque" not in design.values:
            continue
        given = design.values["torque"]
        if given.derivation is None:
            continue
        assert settled(given.derivation.with_numbers) == pytest.approx(design.values.number("torque"))  # down to a whole N·m


def test_cut_length_and_dial_numbers(demo_shop: Shop) -> None:
    for doc in _designs():
        plan = plan_doc(doc, solve_doc(doc, demo_shop), demo_shop)
        cut = plan.cut_length
        assert cut.derivation is not None
        assert 0 <= cut.value - evaluate(cut.derivation.with_numbers) + 1e-6 < 0.5  # up to half a millimetre
        for figure in card_figures(plan):
            assert figure.derivation is not None
            assert evaluate(figure.derivation.with_numbers) == pytest.approx(figure.value, abs=0.002), figure.key


def test_formula_and_numbers_have_the_same_shape(solved: Design) -> None:
    """As many signs in the words as in the numbers: a term left out of one of them would show."""
    for check in solved.checks:
        if check.derivation is None or check.key in _WORDS:
            continue
        words, numbers = check.derivation.formula, check.derivation.with_numbers
        if any(sign in words for sign in "−/"):
            assert words.count("−") == numbers.count("−"), check.key
            assert words.count("/") == numbers.count("/"), check.key


def test_every_proposal_says_what_it_rests_on(solved: Design) -> None:
    for name, given in solved.values.items():
        if given.derivation is not None and given.derivation.formula:
            assert given.derivation.source or given.derivation.with_numbers, name
    for check in solved.checks:
        assert check.reason and not check.reason.endswith("."), check.key
        assert check.label[0].isupper() and check.features, check.key
