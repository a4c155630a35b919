"""Change wheels: counted turn by turn, against every train there is, put on the plan and asked for."""

from __future__ import annotations

import random
from fractions import Fraction
from itertools import permutations

import pytest
from msgspec.structs import replace

from elbrix.answers.answer import ShopContext
from elbrix.answers.ask import ask
from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.mechanics.change_wheels import CLEAR, change_wheels, exact_pitch
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.standards.threads import find_thread

SHOP = shop_of(documents())
TAM = next(m for m in SHOP.machines if m.id == "tam")


def cut(drivers: tuple[int, ...], driven: tuple[int, ...], screw_mm: Fraction) -> Fraction:
    """How far the carriage goes while the spindle turns once, wheel after wheel."""
    turns = Fraction(1)
    for a, b in zip(drivers, driven, strict=True):
        turns = turns * a / b
    return turns * screw_mm


@pytest.mark.parametrize(
    ("thread", "words"), [("M12x1.75", "35 to 60"), ("M10x1.5", "40 to 80"), ("M8x1.25", "25 to 60"), ("M20x2.5", "50 to 60")]
)
def test_worked_by_hand(thread: str, words: str) -> None:
    train = change_wheels(find_thread(parse_thread(thread)).pitch_mm, 3.0, TAM.change_wheels)
    assert train.words == words and train.exact


@pytest.mark.parametrize("seed", range(12))
def test_no_train_comes_nearer_and_the_wheels_pass_each_other(seed: int) -> None:
    rng = random.Random(seed)
    wheels = tuple(sorted(rng.sample(range(18, 100), rng.randint(2, 6))))
    screw = rng.choice([Fraction(3), Fraction(4), Fraction(254, 80), Fraction(127, 30)])
    wanted = rng.choice([Fraction(1, 2), Fraction(7, 4), Fraction(254, 200), Fraction(2), Fraction(254, 110)])
    train = change_wheels(float(wanted), float(screw), wheels)
    assert train.wanted_mm == wanted and train.pitch_mm == cut(train.drivers, train.driven, screw)
    used = (*train.drivers, *train.driven)
    assert len(set(used)) == len(used) and set(used) <= set(wheels)
    off = abs(train.pitch_mm - wanted)
    for a, b in permutations(wheels, 2):
        assert abs(cut((a,), (b,), screw) - wanted) >= off
    for a, b, c, d in permutations(wheels, 4):
        if a + b >= c + CLEAR and c + d >= b + CLEAR:
            assert abs(cut((a, c), (b, d), screw) - wanted) >= off


def test_a_lead_that_cannot_be_and_a_lathe_without_wheels_are_refused() -> None:
    assert exact_pitch(25.4 / 6) == Fraction(127, 30)
    for pitch, screw, wheels in ((1.5, 0.0, (20, 40)), (1.5, 3.0, (40,)), (1.5, 3.0, (40, 40)), (10.0, 3.0, (20, 40, 60))):
        with pytest.raises(ShopError):
            change_wheels(pitch, screw, wheels)


def planned(thread: str, **lathe: object) -> Plan:
    tam: Machine = replace(TAM, **lathe)
    shop: Shop = replace(SHOP, machines=tuple(tam if m.id == "tam" else m for m in SHOP.machines))
    family = find_family("hardware")
    design = solve_for(family, shop, Request(), read_choices(family, {"kind": "stud", "thread": thread}))
    return plan_work("Stud", family.work(design, shop), shop)


def test_the_plan_of_a_thread_cut_by_the_tool_names_them() -> None:
    plan = planned("M20x2.5")
    assert any("50 to 60" in o.note for _, o, _ in plan.moves) and any("50 to 60" in k.words for k in plan.kit)
    assert not any("nearest wheels" in p for p in plan.problems)
    bare = planned("M20x2.5", change_wheels=())
    assert any("machine's own table" in k.note for k in bare.kit)
    poor = planned("M20x2.5", change_wheels=(20, 45, 55))
    assert any("nearest wheels" in p for p in poor.problems)


def test_asked_for_it_says_the_train_and_what_it_is_off() -> None:
    found = ask("change wheels for 1/4-28", ShopContext(shop=SHOP))
    by = {f.key: f for f in found.figures}
    a, b, c, d = (int(w) for w in by["train"].text.replace(" · ", " to ").split(" to "))
    assert by["pitch"].value == pytest.approx(3 * a * c / (b * d)) and by["off"].value == pytest.approx(
        100 * (3 * a * c / (b * d) / (25.4 / 28) - 1)
    )
    assert any("nearest" in n for n in found.notes)
    with pytest.raises(ShopError, match=r"lead screw"):
        ask("change wheels for M10", ShopContext(shop=Shop()))
