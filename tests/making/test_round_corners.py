"""An end mill's corner radius: what it leaves stands in the corner where the work has to sit.

A cutter had a diameter and no corner: a plan with a radiused mill was rehearsed clean and its nut would not go into the slot.
"""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc, shop_of
from elbrix.demo import documents
from elbrix.items.kind import item_kinds
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.findings import Finding
from elbrix.rehearsal.run import rehearse
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import SQUARE_MM, Cutter, CutterKind

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())


def shop_with(corner_mm: float, *ids: str) -> Shop:
    """The demo shop with round corners on some end mills, or on all."""
    return replace(
        SHOP,
        cutters=tuple(
            replace(c, corner_mm=min(corner_mm, c.diameter_mm / 2))
            if c.kind is CutterKind.END_MILL and (not ids or c.id in ids)
            else c
            for c in SHOP.cutters
        ),
    )


def planned(shop: Shop, id: str, **options: str) -> Plan:
    doc = DOCS[id]
    job = JobDoc(id="j", design=id, options=Options(**options))  # type: ignore[arg-type]
    return plan_doc(doc, solve_doc(doc, shop), shop, job)


def standing(plan: Plan) -> list[Finding]:
    return [f for f in rehearse(plan).findings if f.kind == "left"]


def cutters_used(plan: Plan, shop: Shop) -> set[str]:
    titles = {o.tool for _, o, m in plan.moves if o.cutter is not None and o.cutter.kind == "end_mill"}
    return {c.id for c in shop.cutters if c.title in titles}


@pytest.mark.parametrize("id", ["t-nut-hazel", "t-nut-pip", "stop-table", "blocks-step", "jaws-ledge"])
def test_a_square_one_is_taken_before_a_round_one(id: str) -> None:
    """Round the corners of whatever it would take: another is taken, and the plan is as clean as before."""
    first = cutters_used(planned(SHOP, id), SHOP)
    assert first
    shop = shop_with(1.0, *first)
    plan = planned(shop, id)
    assert not cutters_used(plan, shop) & first
    assert not standing(plan)
    assert not any("round corners" in p for p in plan.problems)


def test_a_chosen_round_one_is_said_and_seen_in_the_metal() -> None:
    """By two roads: the plan says so before the first cut, and the rehearsal finds the metal that is left."""
    shop = shop_with(1.5, "end-mill-12")
    plan = planned(shop, "t-nut-hazel", cutter="end-mill-12")
    said = [p for p in plan.problems if "round corners" in p]
    assert len(said) == 1
    assert said[0].startswith("The end mill Ø12 R1.5 has round corners: 1.5 mm stay in every inner corner it cuts.")
    found = standing(plan)
    assert found
    # A fillet of 1.5 stands 1.5·(√2 − 1) over its corner, measured across it, and no more than 1.5 along either face.
    most = max(f.thickness_mm for f in found)
    assert 1.5 * (math.sqrt(2) - 1) - 0.1 < most <= 1.5


def test_a_corner_like_a_chamfer_counts_as_square() -> None:
    shop = shop_with(SQUARE_MM)
    assert not any("round corners" in p for p in planned(shop, "t-nut-hazel").problems)
    assert cutters_used(planned(shop, "t-nut-hazel"), shop) == cutters_used(planned(SHOP, "t-nut-hazel"), SHOP)


def test_with_round_ones_only_the_kit_says_what_is_missing() -> None:
    shop = shop_with(3.0)
    plan = planned(shop, "t-nut-hazel")
    missing = [k.words for k in plan.kit if not k.owned]
    assert any("end mill" in m for m in missing)


def test_a_step_may_keep_the_corner_its_drawing_allows() -> None:
    """The split vise's foot may keep 1 mm: its shoulder is cut with a mill of R1, nothing else is."""
    square = {c.id for c in SHOP.cutters if c.kind is CutterKind.END_MILL}
    shop = shop_with(1.0)
    plan = planned(shop, "vise-long-bars")
    rounded = {o.title for _, o, _ in plan.moves if o.cutter is not None and o.cutter.corner_mm > SQUARE_MM}
    assert rounded
    assert square
    loose = {s.title for s in plan.setups for o in s.operations if o.title in rounded}
    assert loose <= {"Foot"}, loose


@pytest.mark.parametrize(("corner", "fine"), [(0.0, True), (0.5, True), (6.0, True), (6.01, False), (-0.1, False)])
def test_a_corner_is_from_square_to_a_ball(corner: float, fine: bool) -> None:
    def made() -> Cutter:
        return Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=12, corner_mm=corner)

    if fine:
        assert made().square is (corner <= SQUARE_MM)
    else:
        with pytest.raises(ShopError, match="corner radius"):
            made()


def test_it_can_be_typed_in_shop_in_both_units() -> None:
    kind = item_kinds()["cutter"]
    parameter = next(p for p in kind.parameters if p.name == "corner_mm")
    assert parameter.label == "Corner radius of a mill"
    assert parameter.read("1/16", "in").value == pytest.approx(25.4 / 16)
    assert parameter.read("0.8", "mm").value == 0.8
