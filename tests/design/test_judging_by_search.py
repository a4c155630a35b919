"""What a verdict hinges on and its nearest fix, against a plain search that tries everything."""

from __future__ import annotations

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from elbrix.design.family import Design, Request, find_family, parameter_of, solve_for
from elbrix.design.judging import hinges, nearest_fix
from elbrix.parameters.parameter import Kind, ParameterValue, Values
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop

FAMILY = find_family("t_nut")


def verdict(values: Values, shop: Shop, key: str) -> Verdict | None:
    try:
        return FAMILY.solve(values, shop).check(key).verdict
    except (ShopError, KeyError):
        return None


def solved(shop: Shop, **texts: str) -> Design:
    return solve_for(FAMILY, shop, Request(), {k: parameter_of(FAMILY, k).read(v) for k, v in texts.items()})


def known(nut: Design) -> list[str]:
    """Keys of the checks that have to do with the slot's sizes."""
    return [c.key for c in nut.checks if c.unit == "mm"]


@pytest.mark.parametrize("reading", ["neck", "lip", "head", "depth"])
@pytest.mark.parametrize("sign", [1, -1])
def test_hinges_against_a_walk_in_hundredths(small_shop: Shop, nut: Design, reading: str, sign: int) -> None:
    for key in known(nut):
        before = nut.check(key).verdict
        said = next(
            (h for h in hinges(FAMILY, nut.values, small_shop, key) if h.parameter == reading and h.by_mm * sign > 0), None
        )
        walked = None
        for hundredths in range(1, 301):
            off = sign * hundredths / 100
            now = verdict(nut.values.having(**{reading: nut.values.readings(reading).shifted(off)}), small_shop, key)
            if now is None:
                break
            if now is not before:
                walked = off
                break
        if said is None or walked is None:
            # Found by neither, or so near a slot that contradicts itself that one of them stops there first.
            assert (said is None and walked is None) or abs((said.by_mm if said else walked) or 0) > 0.3
        else:
            assert said.by_mm == pytest.approx(walked, abs=0.0101)


def all_better(design: Design, shop: Shop, key: str, name: str, most: int) -> list[float]:
    """Every settling value of one length that lifts a check and harms none, by distance from now."""
    parameter = parameter_of(FAMILY, name)
    now = design.values.number(name)
    before = {c.key: c.verdict.rank for c in design.checks}
    found = []
    for n in range(-most, most + 1):
        size = round(round(now / parameter.step) * parameter.step + n * parameter.step, 6)
        if not parameter.low <= size <= parameter.high:
            continue
        try:
            after = FAMILY.solve(design.values.having(**{name: ParameterValue(size, Origin.CHOSEN)}), shop)
        except ShopError:
            continue
        ranks = {c.key: c.verdict.rank for c in after.checks}
        if ranks.get(key, 9) < before[key] and all(ranks.get(k, 0) <= r for k, r in before.items()):
            found.append((ranks[key], abs(size - now), size))
    return [size for rank, _, size in sorted(found) if rank == min(f[0] for f in found)]


@settings(max_examples=25)
@given(
    neck=st.sampled_from(["11.95", "12.0", "12.1", "12.4"]),
    head_height=st.sampled_from(["6.5", "7.3", "7.9", "9"]),
    head_width=st.sampled_from(["17.8", "18.9", "19.15", "19.6"]),
)
def test_no_fix_is_nearer_than_the_one_offered(small_shop: Shop, neck: str, head_height: str, head_width: str) -> None:
    design = solved(small_shop, neck_width=neck, head_height=head_height, head_width=head_width)
    failing = [c for c in design.checks if c.verdict is not Verdict.GO and c.remedies]
    assume(failing)
    for check in failing:
        fix = nearest_fix(FAMILY, design, small_shop, check.key)
        lengths = [n for n in check.remedies if parameter_of(FAMILY, n).kind is Kind.LENGTH]
        searched = {n: all_better(design, small_shop, check.key, n, 60) for n in lengths}
        if fix is None:
            assert not any(searched.values())
            continue
        (name, text), *rest = fix.changes
        assert not rest
        after = FAMILY.solve(design.values.having(**{name: parameter_of(FAMILY, name).read(text)}), small_shop)
        assert after.check(check.key).verdict.rank < check.verdict.rank
        if name in searched:
            nearest = abs(searched[name][0] - design.values.number(name))
            assert abs(float(text) - design.values.number(name)) == pytest.approx(
                nearest, abs=parameter_of(FAMILY, name).step / 2
            )


def test_a_fix_is_not_bought_with_another_fault(small_shop: Shop) -> None:
    # A head so high that it lifts the neck out of the slot as well: whatever is offered, nothing that passed fails.
    design = solved(small_shop, head_height="9", neck_height="7.9")
    for check in (c for c in design.checks if c.verdict is Verdict.NO_GO):
        fix = nearest_fix(FAMILY, design, small_shop, check.key)
        if fix is not None:
            changes = {n: parameter_of(FAMILY, n).read(t) for n, t in fix.changes}
            after = FAMILY.solve(design.values.having(**changes), small_shop)
            assert all(after.check(c.key).verdict.rank <= c.verdict.rank for c in design.checks)


def test_a_check_nobody_knows_hinges_on_nothing(small_shop: Shop, nut: Design) -> None:
    assert hinges(FAMILY, nut.values, small_shop, "no such check") == []
