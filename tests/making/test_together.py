"""Several accessories in one go: bars and order against every other way there is."""

from __future__ import annotations

import itertools
import random

import pytest

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.bar_layout import lay_on_bars, section_mm2, waste_cm3
from elbrix.making.options import Options
from elbrix.making.order import SetupChange, best_order, change, one_after_another, total
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.making.stock_choice import StockOption
from elbrix.making.together import Wanted, make_together
from elbrix.shop.stock import Bar, Form

SHOP = shop_of(documents())
DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
KERF = 2.5


def option(bar: Bar, cut: float, removed: float) -> StockOption:
    return StockOption(bar=bar, turned=False, fits=True, cut_mm=cut, left_mm=0.0, removed_cm3=removed, reason="")


def every_way(jobs: dict[str, list[StockOption]]) -> tuple[int, float, int, float]:
    """The best of all ways to take the jobs off the bars: (missing, waste, bars begun, their length)."""
    best = (len(jobs) + 1, 0.0, 0, 0.0)
    for picked in itertools.product(*((None, *options) for options in jobs.values())):
        taken = [o for o in picked if o is not None]
        by_bar: dict[str, list[StockOption]] = {}
        for o in taken:
            by_bar.setdefault(o.bar.id, []).append(o)
        # n lengths and the n − 1 cuts between them have to be on the bar.
        if any(sum(o.cut_mm for o in mine) + (len(mine) - 1) * KERF > mine[0].bar.length_mm + 1e-9 for mine in by_bar.values()):
            continue
        waste = 0.0
        for mine in by_bar.values():
            left = mine[0].bar.length_mm - sum(o.cut_mm for o in mine) - len(mine) * KERF
            scrap = left if 0 < left < 60 else 0.0
            waste += sum(o.removed_cm3 for o in mine) + (len(mine) * KERF + scrap) * section_mm2(mine[0].bar) / 1000
        found = (len(jobs) - len(taken), round(waste, 4), len(by_bar), sum(m[0].bar.length_mm for m in by_bar.values()))
        best = min(best, found)
    return best


@pytest.mark.parametrize("seed", range(40))
def test_no_other_way_wastes_less(seed: int) -> None:
    chance = random.Random(seed)
    bars = [
        Bar(id=f"b{i}", width_mm=chance.choice((16.0, 20.0, 25.0)), height_mm=16.0, length_mm=float(chance.randint(40, 400)))
        for i in range(chance.randint(1, 3))
    ]
    jobs: dict[str, list[StockOption]] = {}
    for n in range(chance.randint(1, 5)):
        cut = float(chance.randint(20, 200)) if chance.random() < 0.8 else bars[0].length_mm
        jobs[f"j{n}"] = [option(b, cut, chance.randint(0, 40) / 4) for b in bars if cut <= b.length_mm and chance.random() < 0.9]
    layout = lay_on_bars(jobs)
    begun = [u.bar for u in layout.bars]
    mine = (len(layout.missing), round(layout.waste_cm3, 4), len(begun), sum(b.length_mm for b in begun))
    best = every_way(jobs)
    assert mine[0] == best[0]
    assert mine[1] == pytest.approx(best[1], abs=1e-3)
    if mine[1] == pytest.approx(best[1], abs=1e-6):
        assert mine[2:] == best[2:]
    for use in layout.bars:
        at = 0.0
        for length in use.lengths:  # one after another with a saw cut between, none over the end
            assert length.at_mm == pytest.approx(at)
            at += length.length_mm + KERF
        assert at - KERF <= use.bar.length_mm + 1e-9
        assert use.left_mm == pytest.approx(max(0.0, use.bar.length_mm - at))
        assert use.useful == (use.left_mm >= 60)


def test_waste_by_hand() -> None:
    """Two lengths of 100 off 270 of Ø20: 314.16 mm² · (2 · 2.5 + 65, useful: 0) and 8 cm³ of chips."""
    bar = Bar(id="r", form=Form.ROUND, width_mm=20, length_mm=270)
    assert waste_cm3([(bar, [option(bar, 100, 5), option(bar, 100, 3)])]) == pytest.approx(8 + 314.159 * 5 / 1000, abs=1e-4)
    short = Bar(id="r", form=Form.ROUND, width_mm=20, length_mm=240)  # 35 left: scrap
    assert waste_cm3([(short, [option(short, 100, 5), option(short, 100, 3)])]) == pytest.approx(
        8 + 314.159 * 40 / 1000, abs=1e-4
    )


def steps(chance: random.Random, count: int) -> list[SetupChange]:
    found = []
    for n in range(count):
        first = chance.choice("abc")
        last = chance.choice("abc") if chance.random() < 0.4 else first
        found.append(
            SetupChange(
                id=str(n),
                station=chance.choice(("saw", "mill", "mill", "mill")),
                holding=chance.choice(("vise", "vise", "straps")),
                height_mm=chance.choice((0.0, 10.0, 60.0)),
                reach_mm=chance.choice((0.0, 50.0)),
                first_tool=first,
                last_tool=last,
                inside=int(first != last),
            )
        )
    return found


def interleaved(counts: list[int]) -> set[tuple[int, ...]]:
    return set(itertools.permutations([j for j, n in enumerate(counts) for _ in range(n)]))


@pytest.mark.parametrize("seed", range(25))
def test_no_other_order_changes_less(seed: int) -> None:
    chance = random.Random(seed)
    jobs = [steps(chance, chance.randint(1, 3)) for _ in range(chance.randint(2, 3))]
    order = best_order(jobs)
    assert order.proved
    ways = []
    for way in interleaved([len(j) for j in jobs]):
        at, one = [0] * len(jobs), []
        for j in way:
            one.append((j, at[j]))
            at[j] += 1
        ways.append(total(jobs, one))
    assert order.changes == min(ways) == total(jobs, order.steps)
    assert order.changes <= one_after_another(jobs).changes
    for j, job in enumerate(jobs):
        assert [n for k, n in order.steps if k == j] == list(range(len(job)))


def test_what_is_a_change() -> None:
    vise = SetupChange(id="a", station="Hazel", holding="vise", height_mm=100, reach_mm=50, first_tool="x", last_tool="y")
    assert change(None, vise) == (0, 0, 0, 0)
    assert change(vise, SetupChange(id="b", station="Hazel", holding="vise", height_mm=150, reach_mm=50, first_tool="y")) == (
        0,
        0,
        0,
        0,
    )
    assert change(vise, SetupChange(id="b", station="Hazel", holding="vise", height_mm=151, reach_mm=50, first_tool="z")) == (
        0,
        0,
        1,
        1,
    )
    assert change(vise, SetupChange(id="b", station="Hazel", holding="straps", height_mm=500, first_tool="y")) == (0, 1, 0, 0)
    assert change(vise, SetupChange(id="b", station="saw", first_tool="saw")) == (1, 0, 0, 0)


def test_very_many_setups_get_an_order_that_is_not_called_proved() -> None:
    chance = random.Random(5)
    jobs = [steps(chance, 9) for _ in range(7)]
    order = best_order(jobs)
    assert not order.proved
    assert sorted(order.steps) == [(j, n) for j in range(7) for n in range(9)]
    assert order.changes <= one_after_another(jobs).changes


def planned(id_: str, bar: str = "") -> Plan:
    return plan_work(DOCS[id_].title, family_of(DOCS[id_]).work(solve_doc(DOCS[id_], SHOP), SHOP), SHOP, Options(bar=bar))


def test_a_batch_of_the_demo_shop() -> None:
    ids = ("t-nut-hazel", "t-nut-tam", "t-nut-clover")
    batch = make_together([Wanted(id=i, title=DOCS[i].title, plan=planned(i)) for i in ids], SHOP, planned)
    assert not batch.layout.missing and not batch.to_buy and batch.proved
    for id_ in ids:
        bar = batch.layout.bar_of(id_)
        assert bar is not None and batch.plans[id_].bar is not None and batch.plans[id_].bar.bar.id == bar.id
        length = next(c.length_mm for u in batch.layout.bars for c in u.lengths if c.job == id_)
        assert length == pytest.approx(batch.plans[id_].cut_length.value)
        mine = [t.setup.id for t in batch.turns if t.job == id_]
        assert mine == [s.id for s in batch.plans[id_].setups]
    assert batch.changes[0] < batch.apart[0]  # to the saw and back once for all, not for each
    words = [line.item.words for line in batch.kit]
    assert len(words) == len(set(words))
    assert set(words) == {item.words for plan in batch.plans.values() for item in plan.kit}
    missing = [line for line in batch.kit if not line.item.owned]
    assert batch.kit[: len(missing)] == tuple(missing)


def test_two_jobs_for_the_only_bar_take_another_where_it_is_too_short_for_both() -> None:
    alone = planned("t-nut-hazel")
    assert alone.bar is not None
    short = [
        b if b.id != alone.bar.bar.id else Bar(**{f: getattr(b, f) for f in b.__struct_fields__} | {"length_mm": 200.0})
        for b in SHOP.bars
    ]
    from msgspec.structs import replace

    shop = replace(SHOP, bars=tuple(short))

    def plan_from(id_: str, bar: str = "") -> Plan:
        doc = DOCS["t-nut-hazel"]
        return plan_work(id_, family_of(doc).work(solve_doc(doc, shop), shop), shop, Options(bar=bar))

    batch = make_together([Wanted(id=i, title=i, plan=plan_from(i)) for i in ("one", "two")], shop, plan_from)
    one, two = batch.layout.bar_of("one"), batch.layout.bar_of("two")
    assert one is not None and two is not None and one.id != two.id
    assert {p.bar.bar.id for p in batch.plans.values() if p.bar} == {one.id, two.id}


def test_how_the_setups_of_a_plan_are_told_apart() -> None:
    """Station, holding, height of the nose and tools of every setup, each worked from the card as a toolmaker reads it."""
    from elbrix.making.together import _step

    seen = set()
    for id_ in ("t-nut-hazel", "bush-yoke", "sine-plate", "t-nut-pip", "table-keys", "nuts-curved"):
        plan = planned(id_)
        for setup in plan.setups:
            step = _step(setup, plan, SHOP)
            used = [o.tool for o in setup.operations if o.tool]
            machine = next((m for m in SHOP.machines if m.id == (setup.machine_id or plan.machine_id)), None)
            if setup.id in ("saw", "rip", "part"):
                assert step.station == ("saw" if setup.pose is None else machine.name)  # type: ignore[union-attr]
            elif setup.pose is None and not setup.fixture:
                assert step.station == "bench"
            else:
                assert machine is not None and step.station == machine.name
            assert step.holding == setup.fixture and (step.first_tool, step.last_tool) == (
                (used[0], used[-1]) if used else ("", "")
            )
            assert step.inside == sum(1 for a, b in itertools.pairwise(used) if a != b)
            first = next((o.cutter for o in setup.operations if o.cutter is not None), None)
            nose = setup.jaws_mm + (first.stick_out_mm if first is not None else 0.0)
            assert abs(step.height_mm - nose) <= 0.5 and step.height_mm == round(step.height_mm)
            seen.add(step.station)
    assert {"saw", "bench", "Hazel", "Tam"} <= seen


def test_what_one_plan_does_not_find_is_not_there_for_any() -> None:
    """The kit of a batch: every thing of every card once, with whom it is for, what is missing first."""
    plans = {id_: planned(id_) for id_ in ("t-nut-hazel", "bush-yoke", "t-nut-pip")}
    batch = make_together([Wanted(id=k, title=k, plan=p) for k, p in plans.items()], SHOP, planned)
    plans = dict(batch.plans)
    everything = {item.words for p in plans.values() for item in p.kit}
    assert {line.item.words for line in batch.kit} == everything and len(batch.kit) == len(everything)
    for line in batch.kit:
        on = [(k, item) for k, p in plans.items() for item in p.kit if item.words == line.item.words]
        assert set(line.jobs) == {k for k, _ in on} and len(line.jobs) == len({k for k, _ in on})
        assert line.item.owned == all(item.owned for _, item in on)
    owned = [line.item.owned for line in batch.kit]
    assert owned == sorted(owned)
