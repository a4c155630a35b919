"""Make or buy: both sides by hand, and the assumption that turns it found again by trying."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.making.costs import Costs
from elbrix.making.make_or_buy import compared, make_or_buy
from elbrix.making.minutes import plan_minutes
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.counts import parse_amount
from elbrix.quantities.errors import EntryError

SHOP = shop_of(documents())
FIELD = {"stock for one": "stock", "tools to buy": "tools", "price asked": "price"}


def planned(**typed: str) -> Plan:
    family = find_family("clamp")
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    return plan_work("T", family.work(design, SHOP), SHOP, home="hazel")


def test_both_sides_by_hand() -> None:
    # 180 min for four at 40 an hour are 30 each, 3 of metal, 20 of tools shared by four: 38.
    found = compared(180, 4, Costs(price=45, rate=40, stock=3, tools=20))
    assert found is not None and found.make and found.made == pytest.approx(38)
    # 7 are left: minutes may grow by 7/30, the price fall by 7/45: the price decides, at 38.
    assert found.decides == "price asked" and found.turns_at == pytest.approx(38)
    dear = compared(180, 4, Costs(price=20, rate=40))
    assert dear is not None and not dear.make and dear.decides == "minutes for one" and dear.turns_at == pytest.approx(30)


@given(st.floats(1, 600), st.integers(1, 20), st.floats(1, 300), st.floats(1, 200), st.floats(0, 100), st.floats(0, 500))
def test_what_decides_turns_it_and_nothing_turns_it_sooner(
    minutes: float, pieces: int, price: float, rate: float, stock: float, tools: float
) -> None:
    costs = Costs(price=price, rate=rate, stock=stock, tools=tools)
    found = compared(minutes, pieces, costs)
    assert found is not None

    def made_over_price(more: dict[str, float]) -> float:
        c = replace(costs, **{k: v for k, v in more.items() if k != "minutes"})
        m = more.get("minutes", minutes / pieces)
        return m / 60 * c.rate + c.stock + c.tools / pieces - c.price

    turned = {FIELD.get(found.decides, "minutes"): found.turns_at}
    assert made_over_price(turned) == pytest.approx(0.0, abs=1e-6 * max(price, found.made))
    # Any other assumption, wrong by the same share, leaves it as it is.
    now = {"minutes": minutes / pieces, "stock": stock, "tools": tools, "price": price}
    own = now[next(iter(turned))]
    share = abs(found.turns_at / own - 1) * 0.999
    for name, value in now.items():
        for sign in (-1, 1):
            if 1 + sign * share >= 0:
                assert made_over_price({name: value * (1 + sign * share)}) * (found.made - price) >= -1e-9


def test_it_says_nothing_without_a_price_or_a_rate() -> None:
    plan = planned(kind="heel")
    assert make_or_buy(plan, Costs()) is None and make_or_buy(plan, Costs(price=9)) is None
    check = make_or_buy(plan, Costs(price=9, rate=30))
    assert check is not None and check.value == pytest.approx(plan_minutes(plan) / 60 * 30 / 9)
    assert check.text.startswith("buy: ") and "hangs on the" in check.reason


def test_tools_that_are_missing_are_named_while_nothing_is_said_of_their_cost() -> None:
    plan = planned(kind="toe", push_screw="M7")
    missing = [k.words for k in plan.kit if not k.owned]
    assert missing
    check = make_or_buy(plan, Costs(price=60, rate=30))
    assert check is not None and missing[0] in check.reason
    said = make_or_buy(plan, Costs(price=60, rate=30, tools=12))
    assert said is not None and missing[0] not in said.reason


@pytest.mark.parametrize(("text", "amount"), [("12.50", 12.5), ("12,5", 12.5), (" 7 ", 7.0), ("0", 0.0)])
def test_amounts_as_they_are_typed(text: str, amount: float) -> None:
    assert parse_amount(text, "Price") == amount


@pytest.mark.parametrize("text", ["", "-3", "1e3", "nan", "12.5.1", "٣", "1_000", "99999999", "£12"])
def test_what_is_no_amount_is_refused(text: str) -> None:
    with pytest.raises(EntryError):
        parse_amount(text, "Price")


def test_no_assumption_is_turned_below_nothing() -> None:
    """Far dearer made than bought: neither free work nor free stock alone would turn it, only another price does."""
    found = compared(600.0, 1, Costs(price=1.0, rate=30.0, stock=200.0, tools=150.0))
    # 300 of work, 200 of stock, 150 of tools: 650 against 1.
    assert found is not None and found.made == pytest.approx(650.0) and not found.make
    assert (found.decides, found.turns_at) == ("price asked", pytest.approx(650.0))


@pytest.mark.parametrize("seed", range(30))
def test_what_decides_is_what_is_nearest_to_turning(seed: int) -> None:
    """Every assumption moved alone till both sides cost the same, by bisection; the one that moves least of itself decides."""
    chance = random.Random(seed)
    costs = Costs(
        price=chance.uniform(5, 80), rate=chance.uniform(20, 60), stock=chance.uniform(0.5, 9), tools=chance.uniform(0, 60)
    )
    minutes, pieces = chance.uniform(20, 300), chance.randint(1, 6)

    def made(minutes: float, costs: Costs) -> float:
        return minutes / pieces / 60 * costs.rate + costs.stock + costs.tools / pieces

    def gap(name: str, factor: float) -> float:
        changed = replace(costs, **{name: getattr(costs, name) * factor}) if name != "minutes" else costs
        return changed.price - made(minutes * factor if name == "minutes" else minutes, changed)

    moves = {}
    for name in ("minutes", "stock", "tools", "price"):
        low, high = 0.0, 400.0
        if gap(name, low) * gap(name, high) > 0:
            continue
        for _ in range(200):
            middle = (low + high) / 2
            low, high = (middle, high) if gap(name, low) * gap(name, middle) > 0 else (low, middle)
        moves[name] = low
    nearest = min(moves, key=lambda name: abs(moves[name] - 1))
    found = compared(minutes, pieces, costs)
    assert found is not None
    names = {"minutes": "minutes for one", "stock": "stock for one", "tools": "tools to buy", "price": "price asked"}
    value = {"minutes": minutes / pieces, "stock": costs.stock, "tools": costs.tools, "price": costs.price}
    assert found.decides == names[nearest]
    assert found.turns_at == pytest.approx(value[nearest] * moves[nearest], rel=1e-6)
