"""Straps and toe clamps in a ring slot: their studs stand on the ring, at whatever angle, and pull as in a straight one."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import BecomesThing, Request, find_family, read_choices, solve_for
from elbrix.drawing.scene import Arc
from elbrix.holding.slot_runs import run_of, runs
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Fastener
from layouts_tools import doc, solve, thing

SHOP = shop_of(documents())
CLOVER = SHOP.machine("clover")
WORK = {"shape": "block", "length": "120", "width": "110", "height": "15", "cut": "light"}


@pytest.mark.parametrize("x", [-92, -60, -1.5, 0, 33, 91.9])
@pytest.mark.parametrize("half", ["far half", "near half"])
def test_an_x_is_one_place_on_the_ring(x: float, half: str) -> None:
    run = run_of(CLOVER, f"ring slot, {half}")
    assert run is not None and run.reaches(x)
    assert math.hypot(x, run.y(x)) == pytest.approx(92)
    assert (run.y(x) >= 0) is (half == "far half") or abs(x) == 92
    assert not run.reaches(92.5)


def test_a_tongue_goes_into_no_ring_slot() -> None:
    assert [r.label for r in runs(CLOVER)] == []
    assert all(r.side == 0 for r in runs(SHOP.machine("hazel"), rings=True))


def with_curved_nuts() -> Shop:
    """Three of the curved nuts are made and owned."""
    family = find_family("ring_nut")
    assert isinstance(family, BecomesThing)
    d = solve_for(family, SHOP, Request(machine="clover", slot="ring slot"), read_choices(family, {"length": "48"}))
    made = family.as_thing(d, "made-nuts-curved", 3)
    assert isinstance(made, Fastener)
    return replace(SHOP, fasteners=(made, *(f for f in SHOP.fasteners if f.kind is not made.kind)))


def test_a_plate_is_held_on_clover_by_straps_over_curved_nuts_that_were_made() -> None:
    shop = with_curved_nuts()
    held = solve(doc(thing("strap"), thing("strap"), machine="clover", **WORK), shop)
    studs = [p.spot for _, _, p in held.elements]
    assert all(not p.problem for _, _, p in held.elements), [p.problem for _, _, p in held.elements]
    assert all(math.hypot(*spot) == pytest.approx(92) for spot in studs)
    assert studs[0][1] * studs[1][1] < 0  # across the ring from each other
    # The lever as on any slot: pull·heel/(tip + heel), both ways down.
    for _, values, p in held.elements:
        assert p.forces and p.forces[0].along == (0, 0, -1)
        assert math.dist(p.spot, p.forces[0].at[:2]) == pytest.approx(values.number("stud_to_tip"))
    uses = {use.name: use for _, _, p in held.elements for use in p.uses}
    nut = next(use for words, use in uses.items() if "T-nut" in words)
    assert nut.owned >= 2
    assert next(c for c in held.checks if c.key == "shelf").verdict is Verdict.GO
    assert held.margin.least > 0


@pytest.mark.parametrize(("x", "words"), [("95", "outside the ring slot"), ("0", "")])
def test_off_the_ring_is_said(x: str, words: str) -> None:
    for kind in ("strap", "toe"):
        chosen = {"slot": "ring slot, near half", "x": x, "direction": "90"}
        placed = solve(doc(thing(kind, **chosen), machine="clover", **WORK), SHOP).elements[0][2]
        assert (words in placed.problem) if words else "ring" not in placed.problem


def test_the_ring_is_drawn_where_it_is() -> None:
    held = solve(doc(thing("strap"), machine="clover", **WORK), SHOP)
    radii = sorted(e.radius for s in held.scenes for e in s.elements if isinstance(e, Arc) and "ring" in e.feature)
    assert radii == pytest.approx([92 - 12.18 / 2, 92 + 12.18 / 2], abs=0.05)
