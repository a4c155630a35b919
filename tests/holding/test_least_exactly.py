"""The least of many factors that are first known coarsely is the least there is, and never more."""

from __future__ import annotations

import math
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import LayoutDoc
from elbrix.demo import documents
from elbrix.geometry.shapes import bounds
from elbrix.holding import margin as margin_module
from elbrix.holding.contacts import ClampForce, HeldPart
from elbrix.holding.limit import LimitSolver, least_exactly
from elbrix.holding.margin import HIGH_SHARE, LOW_SHARE
from elbrix.holding.mounted import _FLANGE_MM, _on_table
from elbrix.holding.seats import pressed_contacts
from elbrix.shop.shop import Shop
from elbrix.standards.materials import friction
from holding_record import layouts
from layouts_tools import solve

FACTORS = st.lists(st.tuples(st.floats(0.01, 50), st.floats(0, 0.2)), min_size=1, max_size=20)


@given(FACTORS)
def test_the_least_is_found_whatever_the_coarse_ones_say(pairs: list[tuple[float, float]]) -> None:
    exact = [factor for factor, _ in pairs]
    asked: list[int] = []

    def exactly(i: int) -> float:
        asked.append(i)
        return exact[i]

    least, which = least_exactly([factor * (1 - low) for factor, low in pairs], exactly)
    assert least == min(exact) == exact[which]
    assert len(asked) == len(set(asked))  # none is worked out twice


@given(FACTORS, st.integers(0, 5))
def test_given_up_early_it_errs_low(pairs: list[tuple[float, float]], most: int) -> None:
    exact = [factor for factor, _ in pairs]
    least, _ = least_exactly([factor * (1 - low) for factor, low in pairs], lambda i: exact[i], most)
    assert least <= min(exact)


def test_without_a_limit_there_is_nothing_to_work_out() -> None:
    def never(_: int) -> float:
        raise AssertionError("nothing to work out")

    assert least_exactly([math.inf, math.inf], never)[0] == math.inf


def _factor(held: HeldPart, loads: object) -> float:
    """The least multiple of some loads, every one of them to the last digit."""
    solver = LimitSolver(held)
    return min(math.inf if x.factor is None else x.factor for x in solver.solve(list(loads))) if solver.rests else 0.0  # type: ignore[call-overload]


VISES = [n for n, layout in enumerate(layouts()) if [e.kind for e in layout.elements] in (["vise"], ["vise", "backing_bar"])]


@pytest.mark.parametrize("number", VISES)
def test_how_a_vise_is_held_to_the_table_is_no_guess(demo_shop: Shop, number: int) -> None:
    """It stood an eighth too low: every direction was looked at coarsely, and the least of those was shown."""
    layout = list(layouts())[number]
    result = solve(layout, demo_shop)
    machine = next(m for m in demo_shop.machines if m.id == layout.machine)
    mounts = [
        _on_table(mount, machine)[0]
        for mount in [placed.mount for _, _, placed in result.elements if placed.mount is not None and not placed.mount.floats]
    ]
    for mount in mounts:
        check = next(c for c in result.checks if c.key == f"mount {mount.name}")
        pulls = tuple(ClampForce((x, y, 0.0), (0.0, 0.0, -1.0), mount.preload_n, 0.0, mount.name) for x, y in mount.bolts)
        left, low, right, high = bounds(mount.ring)
        middle = ((left + right) / 2, (low + high) / 2, 0.0)
        mu = friction("steel on cast iron, dry")
        held = HeldPart(contacts=pressed_contacts((mount.ring,), 0.0, _FLANGE_MM, mu, pulls, middle), forces=pulls)
        exact = _factor(held, result.cutting.loads)
        assert check.value <= exact * (1 + 1e-9)
        assert check.value == pytest.approx(min(exact, 99.0), rel=0.02)


@pytest.mark.parametrize("doc", [d for d in documents() if isinstance(d, LayoutDoc)], ids=lambda d: d.id)
def test_the_worst_mixture_of_preloads_is_the_worst_of_all(demo_shop: Shop, doc: LayoutDoc) -> None:
    """Every mixture worked out to the last digit: of those that were looked at coarsely another may be a hair worse."""
    result = solve(doc, demo_shop)
    held = result.held
    groups = sorted({p.name for p in held.forces if p.force_n > 0})
    if not groups or len(groups) > 4 or math.isinf(result.margin.at_corners):
        pytest.skip("nothing to mix")
    each, loads = result.cutting.each, list(result.cutting.loads)
    factors = [math.inf if x.factor is None else x.factor for x in LimitSolver(held).solve(loads)]
    hardest = [loads[min(range(i, min(i + each, len(loads))), key=factors.__getitem__)] for i in range(0, len(loads), each)]
    high = HIGH_SHARE / LOW_SHARE
    found = [
        _factor(replace(held, forces=tuple(margin_module._with(p, by.get(p.name, 1.0)) for p in held.forces)), hardest)
        for mixture in product((1.0, high), repeat=len(groups))
        for by in [dict(zip(groups, mixture, strict=True))]
    ]
    assert result.margin.at_corners <= min(found) * (1 + 1e-6)
    assert result.margin.at_corners >= 0.95 * min(found)  # at the worst place more directions are looked at than here
