"""Whatever is tightened is judged: no family and no clamping element takes a torque that breaks it without saying so."""

from __future__ import annotations

import math
from collections import defaultdict

import pytest
from msgspec.structs import replace

from elbrix.book.designs import solve_doc as solve_design
from elbrix.book.documents import DesignDoc, LayoutDoc
from elbrix.book.layouts import solve_doc
from elbrix.demo import documents
from elbrix.design.family import Request, all_families, find_family, read_choices, solve_for
from elbrix.holding.layout import all_elements
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Stud
from layouts_tools import doc, thing

DEMO = [d for d in documents() if isinstance(d, DesignDoc)]
TORQUES = [(key, p.name) for key, family in all_families().items() for p in family.parameters if p.unit == "N·m"]
#: Kinds that have the screw at all, where the first does not.
KIND = {("clamp", "push_torque"): {"kind": "toe"}}


@pytest.mark.parametrize(("key", "name"), TORQUES)
def test_the_most_an_entry_takes_is_no_go(key: str, name: str, demo_shop: Shop) -> None:
    family = find_family(key)
    typed = KIND.get((key, name), {})
    base = solve_for(family, demo_shop, Request(), read_choices(family, typed))
    assert name in {n for group in family.card(base) for n in group.rows}
    parameter = next(p for p in family.parameters if p.name == name)
    torque = min(float(parameter.high), 10 * base.values.number(name) + 20)
    most = solve_for(family, demo_shop, Request(), read_choices(family, {**typed, name: f"{torque:g}"}))
    worse = {c.key for c in most.checks if c.verdict is Verdict.NO_GO} - {
        c.key for c in base.checks if c.verdict is Verdict.NO_GO
    }
    assert worse, f"{torque:g} N·m on {name} of {key}"
    assert any(name in c.remedies for c in most.checks if c.key in worse)  # and the torque is what is turned down


@pytest.mark.parametrize("kind", sorted(all_elements()))
def test_the_most_an_element_of_a_layout_takes_is_no_go(kind: str, demo_shop: Shop) -> None:
    element = all_elements()[kind]
    machine = demo_shop.machines[0]
    for p in element.parameters(demo_shop, machine):
        if p.unit != "N·m":
            continue
        tried = 0
        for more in ({}, {"mounting": "floating"}) if kind == "vise" else ({"mode": "screws", "screws": "-20 0; 20 0"}, {}):
            own = {k: v for k, v in more.items() if k in {q.name for q in element.parameters(demo_shop, machine)}}
            try:
                held = thing(kind, **own, **{p.name: f"{min(p.high, 300):g}"})
                hold = solve_doc(doc(held, length="80", width="40", height="30"), demo_shop)
            except ShopError:
                continue
            tried += 1
            assert any(c.verdict is Verdict.NO_GO and f"0.{p.name}" in c.remedies for c in hold.checks), p.name
        assert tried


def _load_checks(checks: tuple[Check, ...]) -> dict[str, Check]:
    wanted = ("stud", "strip", "bearing", "lip_shear", "lip_bending", "flange", "engagement")
    return {c.key.rpartition(".")[2]: c for c in checks if c.key.rpartition(".")[2] in wanted}


def test_a_straight_nut_a_curved_one_and_a_strap_are_judged_by_one_rule(demo_shop: Shop) -> None:
    """The same thread in the same slot under the same pull: the same names, units, limits and, for the stud, the same number."""
    straight = _load_checks(solve_for(find_family("t_nut"), demo_shop, Request(), {}).checks)
    ring = _load_checks(solve_for(find_family("ring_nut"), demo_shop, Request(), {}).checks)
    hold = _load_checks(solve_doc(doc(thing("strap", torque="20")), demo_shop, quick=True).checks)
    assert set(straight) == set(ring) and {"stud", "bearing", "lip_shear", "lip_bending"} <= set(hold)
    for key, check in straight.items():
        for other in (ring, hold):
            if key in other:
                assert other[key].label.partition(",")[0] == check.label
                assert (other[key].unit, other[key].limits) == (check.unit, check.limits), key


def test_an_oiled_stud_pulls_a_third_more_on_the_lips_of_the_table(demo_shop: Shop) -> None:
    """The nut was judged dry, whatever the layout said: K is 0.20 dry and 0.15 oiled."""

    def at(lubrication: str) -> dict[str, Check]:
        return _load_checks(solve_doc(doc(thing("strap", torque="20"), lubrication=lubrication), demo_shop, quick=True).checks)

    dry, oiled = at("dry"), at("oiled")
    assert {k: oiled[k].value / dry[k].value for k in dry} == pytest.approx(dict.fromkeys(dry, 4 / 3), rel=1e-6)


@pytest.mark.parametrize(("strength_class", "proof"), [("4.6", 225), ("5.6", 280), ("8.8", 580), ("12.9", 970)])
def test_a_stud_in_a_layout_is_judged_by_its_own_class(demo_shop: Shop, strength_class: str, proof: float) -> None:
    """It was judged as 8.8 wherever the slot was measured."""
    shop = replace(demo_shop, studs=(Stud(id="one", thread="M10", length_mm=120, strength_class=strength_class),))
    found = solve_doc(doc(thing("strap", torque="20"), lubrication="dry"), shop, quick=True).check("0.stud")
    assert found.value == pytest.approx(100 * 10_000 / (57.99 * proof), rel=1e-3)


def test_one_thing_is_called_one_thing_and_has_one_unit(demo_shop: Shop) -> None:
    units: dict[str, set[str]] = defaultdict(set)
    labels: set[str] = set()
    for kept in DEMO:
        design = solve_design(kept, demo_shop)
        for check in design.checks:
            units[check.label].add(check.unit)
        labels |= {c.label for c in design.checks} | {f.label for f in design.figures}
    for kept in documents():
        if isinstance(kept, LayoutDoc):
            hold = solve_doc(kept, demo_shop, quick=True)
            for check in hold.checks:
                units[check.label.partition(",")[0]].add(check.unit)
            labels |= {f.label for f in hold.figures}
    several = {label: found for label, found in units.items() if len(found) > 1}
    assert several == {}
    said = {label for label in labels if "tension" in label.lower() or label.lower().startswith("pull")}
    assert said == set()  # what a tightened screw pulls with is its preload


def test_every_length_and_number_has_a_range(demo_shop: Shop) -> None:
    """Else the law above could not be tried."""
    for family in all_families().values():
        for p in family.parameters:
            if p.kind in (Kind.LENGTH, Kind.NUMBER):
                assert math.isfinite(p.high) and math.isfinite(p.low)


@pytest.mark.parametrize("thread", ["M2", "M3", "M4", "M6", "M10", "1/4-20 UNC"])
@pytest.mark.parametrize("key", [k for k, f in all_families().items() if {"thread", "torque"} <= {p.name for p in f.parameters}])
def test_a_proposed_torque_breaks_nothing(key: str, thread: str, demo_shop: Shop) -> None:
    """However thin the thread: what is no-go as proposed is so with next to no torque, too."""
    family = find_family(key)
    try:
        usual = solve_for(family, demo_shop, Request(), read_choices(family, {"thread": thread}))
        slack = solve_for(family, demo_shop, Request(), read_choices(family, {"thread": thread, "torque": "0.02"}))
    except ShopError:
        pytest.skip("no such part")
    broken = {c.key for c in usual.checks if c.verdict is Verdict.NO_GO} - {
        c.key for c in slack.checks if c.verdict is Verdict.NO_GO
    }
    assert not broken, (usual.values.number("torque"), broken)
