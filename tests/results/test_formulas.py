"""A formula gives the value, the line with numbers and the words; worked by hand here."""

from __future__ import annotations

import ast
import collections
import math
from pathlib import Path

import pytest

import elbrix
from elbrix.results.checks import Limits, Verdict, judged
from elbrix.results.figures import Derivation, FormulaTerm
from elbrix.results.formulas import formula, kilonewtons, reckoned, term, worked

SOURCE = Path(elbrix.__file__).parent


@pytest.mark.parametrize(
    ("text", "terms", "value", "numbers"),
    [
        ("W·c/L", (100, 0.02, 40), 0.05, "100·0.02/40"),
        ("a − b − c", (10, 4, 3), 3.0, "10 − 4 − 3"),
        ("a/b/c", (24, 4, 3), 2.0, "24/4/3"),
        ("a + b·c²", (1, 2, 3), 19.0, "1 + 2·3²"),
        ("(a − b)/2", (12.05, 11.7), 0.175, "(12.05 − 11.7)/2"),
        ("height − V − height of the pin", (40, 10, 3), 27.0, "40 − 10 − 3"),
        ("√(Δx² + Δy²)", (-3, 4), 5.0, "√((−3)² + 4²)"),
        ("(P/2)·(1 + 1/sin(A/2))", (20, term(60, 3, "°")), 30.0, "(20/2)·(1 + 1/sin(60°/2))"),
        ("3600·atan(δ/S)", (1, 1), 162000.0, "3600·atan(1/1)"),
        ("min(half − n; over)", (5, 2, 4), 3.0, "min(5 − 2; 4)"),
        ("|keyway − slot|", (12, 12.3), 0.3, "|12 − 12.3|"),
        ("T/(K·d)", (term(19, 3, "N·m"), 0.2, term(10, 3, "mm")), 9500.0, "19 N·m/(0.2·10 mm)"),
        ("F/(A·yield)", (kilonewtons(9500), term(58, 3, "mm²"), term(580, 3, "MPa")), 9500 / 58 / 580, "9.5 kN/(58 mm²·580 MPa)"),
        ("E·π·d⁴/64", (2, 2), math.pi / 2, "2·π·2⁴/64"),
        ("torque·force per N·m", (8, 250), 2000.0, "8·250"),
        ("volume·density/10⁹", (1000, 7850), 0.00785, "1000·7850/10⁹"),
        ("over/its size, in %", (5, 20), 0.25, "5/20"),
        ("2^n", (10,), 1024.0, "2^10"),
        ("90 − β", (55,), 35.0, "90 − 55"),
    ],
)
def test_it_works_out_what_it_says(text: str, terms: tuple[float | FormulaTerm, ...], value: float, numbers: str) -> None:
    found = worked(text, *terms)
    assert found.value == pytest.approx(value, rel=1e-12)
    assert found.derivation.with_numbers == numbers and found.derivation.formula == text


def test_small_numbers_keep_four_digits_and_rounding_is_of_the_line_only() -> None:
    found = worked("a·b", 0.01234567, 1 / 3)
    assert found.derivation.with_numbers == "0.01235·0.3333" and found.value == pytest.approx(0.00411522333)


def test_nothing_to_divide_by_is_no_end() -> None:
    assert worked("holds/push", 5, 0).value == math.inf and worked("holds/push", 5, 0, most=999).value == 999


@pytest.mark.parametrize("text", ["a +", "the root of a, b", "sin α", "a b) + 1", "__import__('os')", "a; b"])
def test_what_is_no_arithmetic_is_refused(text: str) -> None:
    try:
        names = formula(text).names
    except ValueError:
        return
    assert names == (text,)  # words alone are one name, never run


def test_as_many_numbers_as_names() -> None:
    with pytest.raises(TypeError, match="names"):
        worked("a − b", 1)


def test_shares_and_forces_are_shown_in_their_unit() -> None:
    share = judged("k", "Share", worked("a/b", 3, 4), Limits(marginal_above=50, no_above=80), ("", "much", ""), unit="%")
    assert share.value == 75 and share.verdict is Verdict.MARGINAL and share.reason == "much"
    assert share.derivation is not None and share.derivation.with_numbers == "3/4"
    pull = reckoned("f", "Pull", worked("a·b", 100, 25), unit="kN")
    assert pull.value == 2.5 and pull.derivation is not None and pull.derivation.with_numbers == "100·25"


def _put_in(piece: ast.expr) -> str:
    """A piece of a formula, with a 1 or a name where one is put in, a sign where one of two is."""
    if isinstance(piece, ast.FormattedValue):
        sign = piece.value.body if isinstance(piece.value, ast.IfExp) else None
        return str(sign.value) if isinstance(sign, ast.Constant) else "1" if piece.format_spec else "name"
    assert isinstance(piece, ast.Constant)
    return str(piece.value)


def _calls() -> list[tuple[str, str, int]]:
    """(where, formula, how many numbers) of every formula in the program; what is put in stands as 1 or a name."""
    found = []
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "worked" and node.args):
                continue
            text, *terms = node.args
            if isinstance(text, ast.JoinedStr):
                said = "".join(_put_in(v) for v in text.values)
            elif isinstance(text, ast.Constant) and isinstance(text.value, str):
                said = text.value
            else:
                continue
            if not any(isinstance(t, ast.Starred) for t in terms):
                found.append((f"{path.relative_to(SOURCE)}:{node.lineno}", said, len(terms)))
    return found


@pytest.mark.house
def test_every_formula_of_the_program_reads_and_has_its_numbers() -> None:
    """Also those that no test's design comes to."""
    calls = _calls()
    wrong = [(where, said) for where, said, count in calls if len(formula(said).names) != count]
    assert not wrong and len(calls) > 400


@pytest.mark.house
def test_no_family_says_a_formula_of_the_same_numbers_twice() -> None:
    """What is shown as a figure and judged as a check is one formula, called twice."""
    again = []
    for path in sorted((SOURCE / "design").rglob("*.py")):
        said = collections.Counter(
            ast.unparse(n)
            for n in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(n, ast.Call) and isinstance(n.func, ast.Name) and n.func.id == "worked" and len(n.args) > 2
        )
        again += [(path.parent.name, line) for line, count in said.items() if count > 1]
    assert not again


@pytest.mark.parametrize(
    ("line", "written"),
    [
        ("0.022 − -0.018", "0.022 − (−0.018)"),
        ("√(0.072² + -0.018²)", "√(0.072² + (−0.018)²)"),
        ("|-0.066 − -1.4597|", "|−0.066 − (−1.4597)|"),
        ("-0.08 µm ÷ 59.856 mm = 0.29″", "−0.08 µm ÷ 59.856 mm = 0.29″"),
        ("17.6 − 30 = -12.4, up to 1", "17.6 − 30 = −12.4, up to 1"),
        ("n = (-0.167, -0.593)", "n = (−0.167, −0.593)"),
        ("2026-06-15 + 12 months", "2026-06-15 + 12 months"),
        ("M10-6H in 1/2-13 by ISO 68-1", "M10-6H in 1/2-13 by ISO 68-1"),
    ],
)
def test_a_negative_number_stands_as_one_writes_it(line: str, written: str) -> None:
    assert Derivation("", line).with_numbers == written
