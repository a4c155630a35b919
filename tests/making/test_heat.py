"""Heat as steps of a plan: where they stand, how long by hand, what a metal cannot take; the figures in order."""

from __future__ import annotations

import re

import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import rehearse
from elbrix.standards.heat import TREATMENTS, case_hours, treatment
from elbrix.standards.materials import materials
from elbrix.standards.tables import table

SHOP = shop_of(documents())


def planned(heat: str, material: str, family: str = "clamp", **typed: str) -> Plan:
    found = find_family(family)
    design = solve_for(found, SHOP, Request(), read_choices(found, {"material": material, **typed}))
    return plan_work("T", found.work(design, SHOP), SHOP, Options(heat=heat), home="hazel")  # type: ignore[arg-type]


def order(plan: Plan) -> list[str]:
    return [s.id for s in plan.setups]


def test_it_stands_before_the_first_cut_or_after_the_last() -> None:
    relieved = order(planned("stress relief", "mild steel"))
    assert relieved.index("heat") == 1 and relieved[0] == "saw"
    hardened = order(planned("harden", "medium carbon steel"))
    assert hardened[-2:] == ["heat", "bench"]
    assert order(planned("blacken", "mild steel"))[-1] == "heat"
    assert "heat" not in order(planned("", "mild steel"))


def test_soaked_by_the_thickest_section_by_hand() -> None:
    # A heel block 60 × 50 × 40: the heat has 40 to go through. 2.4 min a millimetre is 96, up to five: 100, 1 h 40.
    plan = planned("stress relief", "mild steel", kind="heel", length="60", width="50", height="40")
    words = " ".join(m.words for s in plan.setups if s.id == "heat" for m in s.moves)
    assert "580 to 620 °C; 1 h 40 there for 40 mm" in words
    # A stud Ø10 of medium carbon steel: ten minutes at the least.
    stud = planned("harden", "medium carbon steel", "hardware", kind="stud", thread="M10")
    words = " ".join(m.words for s in stud.setups if s.id == "heat" for m in s.moves)
    assert "820 to 860 °C; 10 min there for 10 mm" in words and "Tempered at once, 200 to 600 °C" in words
    # Half a millimetre of case: (0.5/0.635)² h is 37 min.
    assert case_hours(0.5) == pytest.approx(0.62, abs=1e-3)
    case = planned("case", "mild steel")
    assert "37 min there for a case of 0.5 mm" in " ".join(m.words for s in case.setups if s.id == "heat" for m in s.moves)


def test_what_leaves_and_what_is_ground_after_is_said_with_its_cautions() -> None:
    for kind, material in (("harden", "tool steel, annealed"), ("case", "mild steel")):
        heat = next(s for s in planned(kind, material).setups if s.id == "heat")
        words = [m.words for m in heat.moves]
        assert "0.25 mm left on every face" in words[0] and "ground to size: 0.25 mm a face" in words[-1]
        cautions = " ".join(m.caution for m in heat.moves)
        assert "face shield" in cautions and "Oil flares" in cautions and "eye" in cautions.lower()


@pytest.mark.parametrize(
    ("kind", "material", "says"),
    [
        ("harden", "mild steel", "too little carbon"),
        ("case", "medium carbon steel", "only mild steel"),
        ("blacken", "aluminium alloy", "not treated so"),
        ("anneal", "grey cast iron", "not treated so"),
    ],
)
def test_a_metal_that_cannot_take_it_is_refused_in_words_and_the_plan_stands(kind: str, material: str, says: str) -> None:
    plan = planned(kind, material)
    assert any(says in p and material in p for p in plan.problems)
    assert "heat" not in order(plan) and len(plan.moves) > 5


def test_every_treatment_of_every_metal_is_in_order_or_refused() -> None:
    for kind, _ in TREATMENTS[1:]:
        rows = set(table("heat")[kind])
        assert rows <= set(materials())
        for metal in materials():
            if metal not in rows:
                with pytest.raises(ShopError):
                    treatment(kind, metal)
                continue
            found = treatment(kind, metal)
            assert 100 <= found.low_c < found.high_c <= 950 and found.cool
            assert not found.temper_high_c or found.temper_low_c < found.temper_high_c < found.low_c
    # Steel is relieved below where it is annealed, annealed below where it is hardened.
    for metal in ("medium carbon steel", "tool steel, annealed"):
        relief, soft, hard = (treatment(k, metal) for k in ("stress relief", "anneal", "harden"))
        assert relief.high_c <= soft.high_c < hard.low_c


def test_the_rehearsal_is_the_same_with_heat_between() -> None:
    plan = planned("stress relief", "mild steel")
    assert rehearse(plan).clean
    assert all(re.search(r"°C|furnace|relieved|scale|Cooled", m.words) for s in plan.setups if s.id == "heat" for m in s.moves)
