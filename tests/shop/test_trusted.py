"""How far a measuring tool is trusted: never to less than half of what it is read to."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.angles.kinds.sine.facts import _spacer_u_mm
from elbrix.items.kind import item_kinds
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import MeasuringTool

KIND = item_kinds()["measuring"]


def tool(resolution_mm: float, uncertainty_mm: float) -> MeasuringTool:
    return MeasuringTool(id="t", name="caliper", resolution_mm=resolution_mm, uncertainty_mm=uncertainty_mm)


@given(st.floats(0.0001, 5), st.floats(0.0001, 5))
def test_what_is_said_of_it_and_half_a_division_whichever_is_more(resolution: float, said: float) -> None:
    trusted = tool(resolution, said).trusted_mm
    assert trusted >= said
    assert 2 * trusted >= resolution
    assert trusted in (said, resolution / 2)


@pytest.mark.parametrize(("resolution", "said", "warned"), [(0.01, 0.03, False), (0.05, 0.02, True), (0.02, 0.01, False)])
def test_shop_says_it_beside_the_entry(resolution: float, said: float, warned: bool) -> None:
    checks = [c for c in KIND.checks(Shop(), tool(resolution, said)) if c.key == "read to"]
    assert [c.verdict for c in checks] == [Verdict.MARGINAL] * warned
    assert all("half of one" in c.reason for c in checks)


def test_a_spacer_is_known_no_better_than_its_tool_is_read() -> None:
    coarse = Shop(measuring=(tool(0.05, 0.001),))
    assert _spacer_u_mm(coarse, 100) == 0.025
    finer = replace(coarse, measuring=(*coarse.measuring, tool(0.001, 0.004)))
    assert _spacer_u_mm(finer, 100) == 0.004
