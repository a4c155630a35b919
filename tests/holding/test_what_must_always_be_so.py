"""Whole layouts: what more torque, more friction, a deeper cut, a turned table and a second look must and must not change."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc
from elbrix.book.layouts import choose_layout, forget_layout, solve_doc
from elbrix.demo.holding import layouts
from elbrix.holding.solve import LayoutResult
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop

DEMO = {d.id: d for d in layouts() if isinstance(d, LayoutDoc)}


def having(doc: LayoutDoc, **chosen: str) -> LayoutDoc:
    return replace(doc, chosen={**doc.chosen, **{k: Chosen(text=v) for k, v in chosen.items()}})


def all_elements(doc: LayoutDoc, **chosen: str) -> LayoutDoc:
    new = {k: Chosen(text=v) for k, v in chosen.items()}
    return replace(doc, elements=tuple(replace(t, chosen={**t.chosen, **new}) for t in doc.elements))


def least(doc: LayoutDoc, shop: Shop) -> float:
    return solve_doc(doc, shop, quick=True).margin.least


@pytest.mark.parametrize("doc", ["hold-dial", "hold-wedge"])
def test_more_torque_never_holds_less(doc: str, demo_shop: Shop) -> None:
    found = [least(all_elements(DEMO[doc], torque=f"{t}"), demo_shop) for t in (6, 10, 16, 24)]
    assert found == sorted(found) and found[-1] > found[0]


@pytest.mark.parametrize("doc", sorted(DEMO))
def test_more_friction_never_holds_less(doc: str, demo_shop: Shop) -> None:
    found = [least(having(DEMO[doc], friction=f"{mu}"), demo_shop) for mu in (0.05, 0.1, 0.15, 0.25)]
    assert all(b >= a * (1 - 1e-6) for a, b in pairwise(found))


@pytest.mark.parametrize("doc", sorted(DEMO))
def test_a_wider_cut_never_holds_better(doc: str, demo_shop: Shop) -> None:
    found = [
        least(having(DEMO[doc], width_of_cut=f"{wide}", cutter_path="points", places="0,0"), demo_shop) for wide in (1, 2, 4, 8)
    ]
    assert all(b <= a * (1 + 1e-6) for a, b in pairwise(found))


def test_oiled_studs_pull_harder_at_the_same_torque(demo_shop: Shop) -> None:
    dry, oiled = (solve_doc(having(DEMO["hold-dial"], lubrication=o), demo_shop, quick=True) for o in ("dry", "oiled"))
    assert oiled.figure("0.pull").value > dry.figure("0.pull").value and oiled.margin.least > dry.margin.least


def test_the_quick_look_is_never_far_from_the_whole_one(demo_shop: Shop) -> None:
    for doc in DEMO.values():
        quick, whole = solve_doc(doc, demo_shop, quick=True), solve_doc(doc, demo_shop)
        # Fewer places and directions can only overlook something; it looks at a share of what the whole one does.
        assert quick.margin.least == pytest.approx(whole.margin.least, rel=0.25)


@settings(max_examples=15, deadline=None)
@given(st.integers(-60, 60))
def test_a_layout_carried_along_the_table_holds_as_before(demo_shop: Shop, by: int) -> None:
    doc = DEMO["hold-dial"]
    moved = having(doc, x=f"{by}")
    moved = replace(
        moved,
        elements=tuple(
            replace(t, chosen={**t.chosen, "x": Chosen(text=f"{float(t.chosen['x'].text) + by:g}")}) for t in moved.elements
        ),
    )
    assert least(moved, demo_shop) == pytest.approx(least(doc, demo_shop), rel=1e-6)


def test_a_layout_and_its_mirror_image_hold_alike(demo_shop: Shop) -> None:
    def doc(side: int) -> LayoutDoc:
        things = tuple(
            ElementDoc(
                kind="strap",
                chosen={
                    k: Chosen(text=v)
                    for k, v in {"slot": "middle slot", "x": f"{side * x}", "direction": turn, "torque": "14"}.items()
                },
            )
            for x, turn in ((92, "180" if side > 0 else "0"), (-88, "0" if side > 0 else "180"))
        )
        chosen = {
            "length": "140",
            "width": "70",
            "height": "15",
            "cut": "medium",
            "cutter_path": "points",
            "places": f"{side * 40},10; {side * -20},-30",
        }
        return LayoutDoc(
            id="m", title="m", machine="hazel", chosen={k: Chosen(text=v) for k, v in chosen.items()}, elements=things
        )

    # The quick look stops its search early, and low; the whole one does not.
    one, other = (solve_doc(doc(side), demo_shop).margin.least for side in (1, -1))
    assert one == pytest.approx(other, rel=1e-6)


def test_without_friction_straps_alone_hold_nothing_sideways(demo_shop: Shop) -> None:
    hold = solve_doc(having(DEMO["hold-dial"], friction="0"), demo_shop, quick=True)
    assert hold.margin.least == pytest.approx(0, abs=1e-9) and hold.check("margin").verdict is Verdict.NO_GO


@pytest.mark.parametrize("doc", sorted(DEMO))
def test_every_number_of_a_layout_is_finite_and_every_check_says_why(doc: str, demo_shop: Shop) -> None:
    hold: LayoutResult = solve_doc(DEMO[doc], demo_shop)
    assert all(math.isfinite(f.value) for f in hold.figures)
    assert all(math.isfinite(c.value) and c.reason for c in hold.checks)
    told = {f.key for f in hold.figures}
    for group in hold.groups:
        assert set(group.rows) <= told, group.title


@pytest.mark.parametrize("doc", sorted(DEMO))
def test_what_is_chosen_and_let_go_is_as_before(doc: str, demo_shop: Shop) -> None:
    for name, text in (("angle", "10"), ("feed", "0.03"), ("friction", "0.2")):
        before = forget_layout(DEMO[doc], name)
        after = choose_layout(before, demo_shop, name, text)
        assert after != before and forget_layout(after, name) == before
