"""The cut log: kept as sizes are typed, read by the next plan, and honest about what it does not know."""

from __future__ import annotations

import statistics
from itertools import pairwise

import pytest
from msgspec.structs import replace

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.work import Blank, TurnedPart, Work
from elbrix.items.kind import item_kinds
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.cut_log import Experience, LoggedCut, cut_checks, experience
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Turned

_DEMO = shop_of(documents())
SHOP = replace(_DEMO, machines=tuple(replace(m, readout_step_mm=0.005) if m.id == "tam" else m for m in _DEMO.machines))
KIND = item_kinds()["logged cut"]
PIN = Work(
    Blank(width_mm=16, height_mm=16, round_mm=16, length_mm=60, material="mild steel", along="+z", up="+x"),
    (TurnedPart(name="Pin", size_mm=12, length_mm=30, id="pin"), TurnedPart(name="Body", size_mm=16, length_mm=60, id="body")),
    solid=Turned(((0.0, 0.0), (6.0, 0.0), (6.0, 30.0), (8.0, 30.0), (8.0, 60.0), (0.0, 60.0)), (0.0, 0.0, 0.0)),
)


def cut(n: int, set_mm: float, off_mm: float, tool: str = "turning tool") -> LoggedCut:
    return LoggedCut(
        id=f"c{n}", machine="tam", tool=tool, material="mild steel", set_mm=set_mm, off_mm=off_mm, on=f"2026-10-{n + 1:02d}"
    )


def logged(*cuts: LoggedCut) -> Shop:
    others = {**dict(SHOP.others), "logged cut": cuts}
    return replace(SHOP, others=tuple(others.items()))


def test_mean_and_spread_are_those_of_another_library() -> None:
    off = [0.011, 0.014, 0.009, 0.02, 0.012]
    known = experience([cut(i, 0.2, o) for i, o in enumerate(off)], "tam", "turning tool", "mild steel")
    assert known.mean_mm == pytest.approx(statistics.mean(off)) and known.spread_mm == pytest.approx(statistics.stdev(off))
    assert experience(known.cuts, "tam", "boring bar", "mild steel").cuts == ()
    assert Experience(()).mean_mm == 0 and Experience(known.cuts[:1]).spread_mm == 0


@pytest.mark.parametrize(
    ("cuts", "least"),
    [
        ([(0.3, 0.02), (0.2, 0.02), (0.1, 0.03)], 0.1),
        ([(0.3, 0.02), (0.2, 0.02), (0.05, 0.03)], 0.2),  # of the last only two fifths came off
        # One that failed at 0.1 makes a lucky one at 0.06 no better.
        ([(0.3, 0.02), (0.1, 0.08), (0.06, 0.0), (0.2, 0.03)], 0.2),
        ([(0.3, 0.2), (0.2, 0.02), (0.1, 0.01)], None),
        ([(0.3, 0.02), (0.2, 0.02)], None),
    ],
)
def test_the_smallest_dependable_cut(cuts: list[tuple[float, float]], least: float | None) -> None:
    known = Experience(tuple(cut(i, *c) for i, c in enumerate(cuts)))
    assert known.least_mm == least
    # Another road: every logged cut at or over it took off half of itself, and no smaller logged one may be added.
    good = [s for s, o in cuts if all(abs(b) <= a / 2 for a, b in cuts if a >= s)]
    assert (min(good) if good and len(cuts) >= 3 else None) == least


def test_finer_cuts_than_may_be_depended_on_are_not_planned() -> None:
    def cuts_of(shop: Shop) -> list[float]:
        sizes = [m.asked.expected_mm for _, _, m in plan_work("T", PIN, shop, home="tam").moves if m.asked and "pin" in m.id]
        return [round(a - b, 6) for a, b in pairwise(sizes)]

    plain = cuts_of(SHOP)
    assert plain == pytest.approx([0.2, 0.2])
    coarse = cuts_of(logged(cut(0, 0.5, 0.02), cut(1, 0.4, 0.02), cut(2, 0.28, 0.03), cut(3, 0.2, 0.15)))
    assert min(coarse, default=0.6) >= 0.28
    # Another tool's, another machine's cuts say nothing.
    assert cuts_of(logged(*(cut(i, 0.4, 0.02, "boring bar") for i in range(4)))) == plain


def test_a_size_typed_at_the_second_cut_is_logged_and_goes_with_one_undo(window: Window) -> None:
    session = window.session
    session.take(DesignDoc, "studs-hazel")
    window.open_bench("make")
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench) and bench.presenter is not None
    plan = bench.presenter.plan
    assert plan is not None
    asked = [m.asked for _, _, m in plan.moves if m.asked is not None and ".size" in m.asked.key]
    stem = next(a.key.split(".size")[0] for a in asked if sum(b.key.startswith(a.key.split(".size")[0]) for b in asked) > 1)
    first, second = [a for a in asked if a.key.startswith(f"{stem}.size")][:2]
    bench._measured(first.key, f"{first.expected_mm + 0.03:.3f}")
    before = set(KIND.of(session.shop))
    assert all(c.material == "brass" for c in before)
    bench._measured(second.key, f"{second.expected_mm + 0.01:.3f}")
    (entry,) = set(KIND.of(session.shop)) - before
    # Set for its size less the 0.03 the first had taught, from 0.03 over the first: the cut planned, and 0.04 beside it.
    assert entry.off_mm == pytest.approx(0.04) and entry.set_mm == pytest.approx(first.expected_mm - second.expected_mm + 0.06)
    assert (entry.machine, entry.material) == (plan.machine_id, plan.material) and entry.rpm > 0
    told = [c for c in bench.presenter._checks() if c.key.startswith("cuts ")]
    assert [c.label for c in told] == ["Scatter, turning tool"] and "0.04" in told[0].reason
    bench._measured(second.key, f"{second.expected_mm:.3f}")
    (again,) = set(KIND.of(session.shop)) - before  # typed once more it is the same cut
    assert again.id == entry.id and again.off_mm == pytest.approx(0.03)
    window.undo()
    window.undo()
    assert set(KIND.of(session.shop)) == before


def test_checks_and_bad_input() -> None:
    cuts = [cut(i, 0.2, o) for i, o in enumerate((0.01, 0.012, 0.011))]
    found = {c.key: c for c in cut_checks(cuts[0], cuts)}
    assert found["mean"].value == pytest.approx(0.011) and found["spread"].verdict is Verdict.GO
    wild = [cut(i, 0.2, o) for i, o in enumerate((0.01, -0.1, 0.15))]
    assert {c.key: c for c in cut_checks(wild[0], wild)}["spread"].verdict is Verdict.NO_GO
    assert {c.key: c for c in cut_checks(cuts[0], cuts[:1])}["least"].text == "not known yet"
    with pytest.raises(ShopError) as refused:
        cut(0, 0.0, 0.0)
    assert refused.value.entry == "set_mm"
