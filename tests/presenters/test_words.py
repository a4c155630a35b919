"""What the proof strip says of limits, read back: somebody who has only the sentence comes to the same verdict."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from elbrix.presenters.proof import bar_bands
from elbrix.presenters.words import check_text, figure_row, limits_text, tile_of, tiles_of, why_check, working_text
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH, UnitStyle
from elbrix.results.checks import Check, Limits, Verdict
from elbrix.results.figures import Derivation, Figure
from elbrix.results.length_text import length

STYLES = (METRIC, INCH)
NUMBER = r"(-?[0-9.]+)"


def check(value: float, limits: Limits, unit: str = "mm", **more: object) -> Check:
    return Check(key="k", label="Play", value=value, unit=unit, limits=limits, reason="it is so", **more)  # type: ignore[arg-type]


def judged_by_reading(text: str, value: float) -> Verdict:
    """The verdict of somebody who reads the sentence and knows nothing else."""
    low, high, under, over = -math.inf, math.inf, -math.inf, math.inf
    for part in text.split("; "):
        if (m := re.fullmatch(rf"go from {NUMBER}\D* to {NUMBER}\D*", part)) is not None:
            low, high = float(m[1]), float(m[2])
        elif (m := re.fullmatch(rf"go from {NUMBER}\D*", part)) is not None:
            low = float(m[1])
        elif (m := re.fullmatch(rf"go up to {NUMBER}\D*", part)) is not None:
            high = float(m[1])
        elif (m := re.fullmatch(rf"no-go under {NUMBER}\D*", part)) is not None:
            under = float(m[1])
        elif (m := re.fullmatch(rf"no-go over {NUMBER}\D*", part)) is not None:
            over = float(m[1])
        else:
            raise AssertionError(f"not understood: {part!r} of {text!r}")
    if value < under or value > over:
        return Verdict.NO_GO
    return Verdict.GO if low <= value <= high else Verdict.MARGINAL


#: On whole hundredths of a millimetre, and of thousandths of an inch in inch: what is shown is exact.
WHOLE = st.integers(-4000, 4000)
LIMIT = st.one_of(st.none(), WHOLE)


@given(st.lists(WHOLE, min_size=4, max_size=4), st.tuples(*[st.booleans()] * 4), WHOLE, st.sampled_from(STYLES))
def test_the_sentence_and_the_verdict_agree(marks: list[int], bind: tuple[bool, ...], at: int, style: UnitStyle) -> None:
    a, b, c, d = sorted(marks)
    per = 0.01 if style.length == "mm" else MM_PER_INCH / 1000
    low, high = (-math.inf, -math.inf, math.inf, math.inf), (a, b, c, d)
    limits = Limits(*(h * per if on else w for w, h, on in zip(low, high, bind, strict=True)))
    value = at * per
    text = limits_text(check(value, limits), style)
    assume(text)
    shown = at / 100 if style.length == "mm" else at / 1000
    assert judged_by_reading(text, shown) is limits.judge(value), text


def test_a_size_that_may_be_off_both_ways_says_both() -> None:
    """A size measured at the machine may be over or under: the sentence named the upper side only."""
    text = limits_text(check(-0.2, Limits(-0.15, -0.05, 0.05, 0.15)), METRIC)
    assert text == "go from -0.05 mm to 0.05 mm; no-go under -0.15 mm; no-go over 0.15 mm"


def test_nothing_binds_nothing_is_said() -> None:
    assert limits_text(check(1.0, Limits()), METRIC) == ""


@given(st.floats(-1e4, 1e4), st.sampled_from(STYLES), st.sampled_from([0.001, 0.01, 0.1, 0.5, None]))
def test_a_tile_says_its_number_to_its_step(value: float, style: UnitStyle, step: float | None) -> None:
    tile = tile_of(check(value, Limits(), step=step), style)
    number, unit = tile.value.split(" ")
    assert unit == ("mm" if style.length == "mm" else "in")
    per = 1.0 if style.length == "mm" else MM_PER_INCH
    most = 0.5 * (step or 0.01) if style.length == "mm" else 0.5 * max(step or 0.00254, 0.00254) / MM_PER_INCH * 1.28
    assert float(number) == pytest.approx(value / per, abs=most + 1e-9)


def test_the_worst_comes_first_and_order_stays_else() -> None:
    limits = Limits(no_below=0, marginal_below=1)
    checks = [check(v, limits, text=str(i)) for i, v in enumerate((5.0, 0.5, -1.0, 6.0, 0.2, -3.0))]
    assert [t.value for t in tiles_of(checks, METRIC)] == ["2", "5", "1", "4", "0", "3"]


@given(st.lists(st.integers(-500, 500), min_size=4, max_size=4, unique=True), st.integers(-800, 800))
def test_the_bar_shows_the_verdict_under_the_marker(marks: list[int], value: int) -> None:
    limits = Limits(*sorted(marks))
    bands, at = bar_bands(limits, value)
    assert 0 < at < 1 or len({*marks, value}) == 1
    assert all(0 <= a < b <= 1 for a, b, _ in bands)
    assert all(x[1] == pytest.approx(y[0], abs=1e-6) for x, y in pairwise(bands))
    under = [v for a, b, v in bands if a - 1e-9 <= at <= b + 1e-9]
    assert limits.judge(value).value in under


# --- workings --------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("value", "unit", "step", "end"),
    [
        (123.456, "mm", 0.001, "= 123.456 mm"),
        (1234.5, "mm", 0.5, "= 1234.5 mm"),
        (53.7300, "mm", 0.0001, "= 53.7300 mm"),
        (0.005, "mm", None, "= 0.005 mm"),
        (12345.6, "N", None, "= 12346 N"),
        (30.2564, "deg", None, "= 30.26°"),
        (450.0, "MPa", None, "= 450 MPa"),
    ],
)
def test_a_working_comes_to_the_number_that_is_shown(value: float, unit: str, step: float | None, end: str) -> None:
    """Four digits of it stood there: 123.456 on the card came to 123.5 in its own working."""
    figure = Figure(key="f", label="Size", value=value, unit=unit, step=step, derivation=Derivation("a + b", "100 + 23.456"))
    for style in STYLES:  # workings are in mm in both
        assert figure_row(figure, style).derivation.splitlines()[1].endswith(end)
    why = why_check(Check(key="c", label="C", value=value, unit=unit, limits=Limits(), reason="r", step=step,
                          derivation=Derivation("a + b", "100 + 23.456")), METRIC)  # fmt: skip
    assert why.derivation.splitlines()[1].endswith(end)


def test_a_result_that_stands_there_is_not_said_twice() -> None:
    assert working_text(Derivation("a", "12 + 3 = 15 mm", "table"), "15 mm", "note") == "a\n12 + 3 = 15 mm\ntable\nnote"
    assert working_text(None, "15 mm") == ""
    assert working_text(Derivation("", "", "table"), "15 mm") == "table"


@pytest.mark.parametrize("style", STYLES)
def test_a_number_that_is_not_sure_says_how_far(style: UnitStyle) -> None:
    row = figure_row(Figure(key="f", label="Size", value=25.4, u=0.0127, step=0.001), style)
    assert row.value == ("25.400 ± 0.013" if style.length == "mm" else "1.0000 ± 0.0005")


def test_check_text_prefers_words() -> None:
    assert check_text(check(3.0, Limits(), text="3 missing"), INCH) == "3 missing"


def test_a_mend_and_what_it_hinges_on_are_said_in_the_shops_unit() -> None:
    words = f"Take “slides, {length(0.0254)} to {length(0.127)}” for the fit"
    why = why_check(check(1.0, Limits()), INCH, fix=words, critical=f"off by {length(2.54)}")
    assert why.fix == "Take “slides, 0.0010 to 0.0050” for the fit"
    assert why.critical == "off by 0.1000"
    assert why_check(check(1.0, Limits()), METRIC, fix=words).fix == "Take “slides, 0.025 to 0.127” for the fit"


def test_a_rounded_line_keeps_its_unit() -> None:
    """Also in an inch shop the working is in mm: it says so."""
    assert working_text(Derivation("0.65·d", "0.65·6 = 3.9, up to 4"), "4.00 mm") == "0.65·d\n0.65·6 = 3.9, up to 4 mm"
    assert working_text(Derivation("0.65·d", "0.65·6"), "3.90 mm") == "0.65·d\n0.65·6 = 3.90 mm"
    assert working_text(Derivation("holes", "5.5, down to 5"), "5") == "holes\n5.5, down to 5"
