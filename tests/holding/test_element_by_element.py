"""Every kind of thing in thousands of places, sizes and torques: words go with verdicts, workings come to their numbers.

No layout is solved: what stands is only asked what it says of itself, so that every branch of every sentence is met.
"""

from __future__ import annotations

import random
from collections import Counter, defaultdict
from collections.abc import Iterator

import pytest
from msgspec.structs import replace

from elbrix.geometry.shapes import bounds
from elbrix.holding.layout import Piece, PlacedElement, PlacingContext, all_elements, find_element
from elbrix.parameters.parameter import Parameter, ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from work_pieces import block, round_work
from workings import worked

_MANY = 500
_NUMBERS: dict[str, tuple[float, ...]] = {
    "torque": (1, 4, 8, 14, 20, 30, 45, 70, 110),
    "bolt_torque": (2, 10, 25, 40, 60),
    "stud_to_tip": (8, 15, 30, 45, 60),
    "x": (-90, -60, -30, 0, 30, 56, 65, 80, 95),
    "y": (-30, 0, 20),
    "offset": (0, 10, 16, 20, 28, 40),
    "jaw_friction": (0, 0.1, 0.3),
    "height": (5, 12, 24.98, 25, 25.03, 25.4, 38),
    "thickness": (6, 9, 12, 16, 20),
    "pin_clearance": (0.005, 0.02, 0.1),
    "spacing_error": (0.005, 0.02, 0.05),
    "pin_diameter": (3, 6, 10),
    "stop_arm": (40, 150),
    "vise_weight": (0, 5, 15),
    "direction": (0, 1.57, 2.8, 3.14159, 3.3, 4.2),
    "length": (60, 100, 160),
    "width": (40, 90, 130),
    "tip_friction": (0, 0.2),
}
#: Worked lines that are words, or a choice of two numbers.
_NO_SUM = {"support", "land"}


def _work(chance: random.Random) -> Piece:
    high = chance.choice((1.5, 3.0, 8.0, 12.0, 25.0, 40.0, 60.0, 160.0))
    if chance.random() < 0.25:
        return round_work(chance.choice((15.0, 30.0, 50.0, 70.0)), high)
    return block(chance.choice((40, 60, 100, 160)), chance.choice((8, 20, 50, 90, 120)), high=high)


def _given(p: Parameter, chance: random.Random) -> float | str | None:
    if p.choices:
        return chance.choice([value for value, _ in p.choices])
    return float(chance.choice(_NUMBERS[p.name])) if p.name in _NUMBERS else None


def _worn(shop: Shop) -> Shop:
    """The same shop with a jaw that leans and toe clamps that hardly press down."""
    vises = tuple(replace(v, fixed_lean_mm_per_m=2.5) for v in shop.vises)
    return replace(shop, vises=vises, clamps=tuple(replace(c, down_deg=min(c.down_deg, 3.0)) for c in shop.clamps))


def _standing(demo: Shop, kind: str) -> Iterator[PlacedElement]:
    chance, element, shops = random.Random(kind), find_element(kind), (demo, _worn(demo))
    for n in range(_MANY):
        shop = shops[n % 3 == 2]
        machine, piece = shop.machine(chance.choice(("hazel", "hazel", "pip", "margaret", "tam"))), _work(chance)
        chosen = {}
        for p in element.parameters(shop, machine):
            value = _given(p, chance) if chance.random() < 0.5 else None
            if value is not None:
                chosen[p.name] = ParameterValue(value, Origin.CHOSEN)
        try:
            values = element.propose(shop, machine, piece, chosen, n % 2)
            high = element.support_height_mm(values, shop)
            if kind == "backing_bar":
                high += chance.choice((0.0, 0.01, 0.03))  # other things may bear the work a little higher
            piece = replace(piece, bottom_mm=high, cg=(*piece.middle, high + piece.height_mm / 2))
            factor = chance.choice((0.15, 0.2))
            seats = (piece.outline,)
            yield element.place(
                kind, values, PlacingContext(shop=shop, machine=machine, piece=piece, mu=0.15, nut_factor=factor, seats=seats)
            )
        except ShopError:
            continue  # what cannot be says so, and is not what is looked at here


@pytest.mark.parametrize("kind", list(all_elements()))
def test_words_go_with_the_verdict_and_workings_with_the_number(demo_shop: Shop, kind: str) -> None:
    asked = {f"0.{q.name}" for q in find_element(kind).parameters(demo_shop, demo_shop.machine("hazel"))}
    said: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    stood = sums = 0
    for p in _standing(demo_shop, kind):
        stood += 1
        for check in p.checks:
            words = "".join(w for w in check.reason if not w.isdigit())
            said[(check.label.split(",")[0], words)][check.verdict.value] += 1
            assert check.label[:1].isupper() and check.reason and not check.reason.endswith(".")
            assert set(check.remedies) <= asked and set(check.figures) <= asked | {f.key for f in p.figures}, check.key
        kept = [line for line in (*p.figures, *p.checks) if line.key.rpartition(".")[2] not in _NO_SUM]
        sums += worked(_Told([x for x in kept if x in p.figures], [x for x in kept if x in p.checks]))  # type: ignore[arg-type]
    # Of what can be judged either way, both were met: else nobody has seen its words.
    for label in {label for label, _ in said} - {"Level"}:  # a block of another height is no place for it, and says so
        met = {v for (of, _), verdicts in said.items() if of == label for v in verdicts}
        assert len(met) > 1, label
    both = {key: dict(verdicts) for key, verdicts in said.items() if "go" in verdicts and len(verdicts) > 1}
    assert not both
    assert stood > _MANY // 3 and (sums > 50 or kind in ("support", "backing_bar"))


class _Told:
    def __init__(self, figures: list[object], checks: list[object]) -> None:
        self.figures, self.checks = figures, checks


@pytest.mark.parametrize("kind", list(all_elements()))
def test_what_stands_wrong_does_nothing_and_what_stands_presses_where_it_is(demo_shop: Shop, kind: str) -> None:
    """A thing with a problem holds nothing; one without touches the work's side or lies on or under it."""
    for p in _standing(demo_shop, kind):
        if p.problem:
            assert not p.forces and not p.contacts and not p.seats, p.problem
            assert not p.problem.endswith(".")
            continue
        for force in p.forces:
            assert force.force_n >= 0
        for seat in p.seats:
            left, low, right, high = bounds(seat)
            assert right > left and high > low
