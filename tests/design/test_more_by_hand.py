"""Sizes and words that changes of the code went through unseen, worked here by hand."""

from __future__ import annotations

import math

import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.drawing.scene import Arc, Line
from elbrix.quantities.errors import ShopError

SHOP = shop_of(documents())


def solved(key: str, **typed: str) -> Design:
    family = find_family(key)
    return solve_for(family, SHOP, Request(), read_choices(family, typed))


def number(design: Design, name: str) -> float:
    return design.values.number(name)


@pytest.mark.parametrize(
    ("groove", "flank", "words"),
    [("0.15", 19.9, "shallow"), ("0.75", 45.6, "it clicks"), ("1.5", 66.4, "steep"), ("2.2", 83.1, "it locks")],
)
def test_a_detent_says_which_way_its_groove_is_wrong(groove: str, flank: float, words: str) -> None:
    """cos φ = (R − depth)/R with a ball of Ø5."""
    check = solved("detent", ball="5", groove=groove).check("rides_out")
    assert check.value == pytest.approx(math.degrees(math.acos((2.5 - float(groove)) / 2.5))) == pytest.approx(flank, abs=0.05)
    assert check.reason.startswith(words)


@pytest.mark.parametrize(("thread", "pitch"), [("M5", 0.8), ("M6", 1.0), ("M8", 1.25), ("M10", 1.5)])
def test_an_undercut_is_counted_in_pitches(thread: str, pitch: float) -> None:
    check = solved("hardware", kind="thumb_screw", thread=thread, undercut="2").check("runs_out")
    assert check.value == pytest.approx(2 / pitch)
    assert check.verdict.value == ("go" if 2 / pitch >= 1.5 else "marginal")


@pytest.mark.parametrize("short", [0.5, 1.9])
def test_a_v_as_wide_as_its_block_is_refused(short: float) -> None:
    """A millimetre of land stays on either side."""
    width = number(solved("v_jaw"), "width")
    with pytest.raises(ShopError) as refused:
        solved("v_jaw", width=f"{width}", v_width=f"{width - short}", jaw_height="40")
    assert "land" in refused.value.why or refused.value.entry in ("v_width", "width")


@pytest.mark.parametrize("width", ["12", "15", "18.2"])
def test_the_flats_of_a_t_bolt_head_end_on_its_round(width: str) -> None:
    """Seen from above the head is a round of Ø head with two flats: every corner lies on both."""
    design = solved("hardware", kind="t_bolt", head_width=width)
    head, flat = number(design, "head_diameter"), number(design, "head_width")
    scene = next(s for s in find_family("hardware").scenes(design) if s.name == "top")
    arcs = [e for e in scene.elements if isinstance(e, Arc) and e.feature == "head_height"]
    lines = [e for e in scene.elements if isinstance(e, Line) and e.feature == "head_width"]
    assert len(arcs) == 2 and len(lines) == 2
    corners = [(0.5 * flat * i, j * math.sqrt(head**2 - flat**2) / 2) for i in (-1, 1) for j in (-1, 1)]
    ends = [p for a in arcs for t in (a.start_deg, a.end_deg) for p in [(math.cos(math.radians(t)), math.sin(math.radians(t)))]]
    on_round = [(x * head / 2, y * head / 2) for x, y in ends]
    for found in (on_round, [p for e in lines for p in (e.a, e.b)]):
        assert sorted((round(x, 6), round(y, 6)) for x, y in found) == sorted((round(x, 6), round(y, 6)) for x, y in corners)


@pytest.mark.parametrize(("work", "more"), [(30, 4), (34, 7), (38, 10)])
def test_a_soft_jaw_with_a_v_grows_with_its_work(work: int, more: int) -> None:
    """Above the heads of the jaw's screws 1.1 of the work's width: where that counts, in steps of a half."""
    low, high = (number(solved("soft_jaw", kind="vee", work_width=str(w)), "height") for w in (work, work + more))
    assert all(h * 2 == pytest.approx(round(h * 2)) for h in (low, high))
    assert low > 53 and abs(high - low - 1.1 * more) <= 0.5


@pytest.mark.parametrize("dowel", ["6", "8", "10"])
def test_a_half_on_rails_reaches_past_its_dowel(dowel: str) -> None:
    """Bolt to the front, a dowel half a pitch behind it, and one and a half times its Ø of metal; up to a millimetre."""
    design = solved("split_vise", kind="rails", dowel=dowel)
    first, pitch = number(design, "bolt_first"), number(design, "rail_pitch")
    bolt = 10.0 if design.values.word("bolt") == "M10" else float(design.values.word("bolt")[1:])
    assert number(design, "half_length") == math.ceil(max(first + pitch / 2 + 1.5 * float(dowel), first + 1.5 * bolt) - 1e-9)


@pytest.mark.parametrize(("lower", "upper"), [("40", "20"), ("30", "25"), ("18", "45")])
def test_both_plates_of_a_riser_are_lifted(lower: str, upper: str) -> None:
    """What is lifted is both; the one that is not drawn counts without its holes, which makes it heavier, not lighter."""
    found = {}
    for part in ("lower", "upper"):
        design = solved("riser", kind="two", part=part, lower=lower, upper=upper, register_diameter="0", top_positions="none")
        drawn = float(lower if part == "lower" else upper)
        area = number(design, "length") * number(design, "width")
        whole = area * drawn * 7.85e-6
        other = area * (float(lower) + float(upper) - drawn) * 7.85e-6
        mass = design.figure("mass").value
        assert 0.7 * whole < mass < whole
        found[part] = design.check("mass").value
        assert found[part] == pytest.approx(mass + other, rel=1e-3)
