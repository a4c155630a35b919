"""A bar much too wide, sawn lengthwise: the same part, less to mill, what is left said, and only where it is worth while."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.minutes import plan_minutes
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.rehearsal.run import rehearse
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())


def planned(id: str, shop: Shop = SHOP, **how: object) -> Plan:
    doc = DOCS[id]
    return plan_work(doc.title, family_of(doc).work(solve_doc(doc, shop), shop), shop, Options(**how), home=doc.machine)  # type: ignore[arg-type]


def wide(width: float) -> Shop:
    """One bar only, 20 thick."""
    return replace(SHOP, bars=(Bar(id="wide", width_mm=width, height_mm=20, length_mm=600, material="mild steel"),))


def milled_cm3(plan: Plan) -> float:
    """What is taken off the blank's long sides: its section over the part's, by the length."""
    assert plan.blank is not None
    sizes = [h - low for low, h in zip(plan.blank.min_mm, plan.blank.max_mm, strict=True)]
    return sizes[0] * sizes[1] * sizes[2] / 1000


def test_sawn_first_it_is_the_same_part_from_less_metal() -> None:
    shop = wide(70)
    plain, sawn = planned("t-nut-hazel", shop), planned("t-nut-hazel", shop, rip=True)
    assert plain.wide_bar and sawn.wide_bar
    assert rehearse(plain).clean and rehearse(sawn).clean
    assert [s.id for s in sawn.setups][:2] == ["saw", "rip"] and "rip" not in [s.id for s in plain.setups]
    # The nut is 18.2 wide: sawn to 18.2 + 2·2.5, of 70 a kerf of 2.5 and a strip are left.
    words = next(m.words for s in sawn.setups if s.id == "rip" for m in s.moves)
    assert "23.2 mm" in words and "44.3 mm" in words
    assert milled_cm3(sawn) / milled_cm3(plain) == pytest.approx(23.2 / 70, rel=1e-6)
    assert plan_minutes(sawn) < plan_minutes(plain)
    # What is taken from the rack, and shortened when it is done, is the bar itself.
    assert sawn.bar is not None and sawn.bar.bar.width_mm == 70 and sawn.bar.bar.id == "wide"
    assert any("push stick" in m.caution for s in sawn.setups for m in s.moves)


@pytest.mark.parametrize(("width", "worth"), [(35.1, False), (35.3, True), (22, False)])
def test_only_where_it_is_worth_while(width: float, worth: bool) -> None:
    """18.2 and twice 2.5 and 12: from 35.2 on."""
    shop = wide(width)
    plan = planned("t-nut-hazel", shop, rip=True)
    assert plan.wide_bar is worth and any(s.id == "rip" for s in plan.setups) is worth
    if not worth:
        assert [s.id for s in plan.setups] == [s.id for s in planned("t-nut-hazel", shop).setups]


@pytest.mark.parametrize("id", sorted(DOCS))
def test_every_demo_design_is_clean_with_it(id: str) -> None:
    plan = planned(id, rip=True)
    assert not plan.turned or not plan.wide_bar
    if plan.wide_bar:
        assert rehearse(plan).clean
