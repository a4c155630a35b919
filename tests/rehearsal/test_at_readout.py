"""At the machine with a readout: the way that is left, and a slip told before the cut and only then."""

from __future__ import annotations

from dataclasses import dataclass

import pytest

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.rehearsal.at_readout import AxisLeft, axes_left
from elbrix.shop.shop import Shop


@dataclass
class At:
    """A move of the T-nut's plan for Hazel that sets two axes."""

    plan: Plan
    shop: Shop
    setup: Setup
    operation: Operation
    move: Move

    def left(self, *, still: bool = True, **stands: float) -> dict[str, AxisLeft]:
        machine = self.shop.machine("hazel")
        found = axes_left(self.setup, self.operation, self.move, stands, machine, still=still)
        return {a.axis: a for a in found}

    def wanted(self, axis: str) -> float:
        return next(p.dial.set_mm for p in self.move.positions if p.axis == axis)


@pytest.fixture(scope="module")
def at() -> At:
    from elbrix.book.documents import shop_of

    things = documents()
    shop = shop_of(things)
    doc = next(d for d in things if isinstance(d, DesignDoc) and d.id == "t-nut-hazel")
    plan = plan_doc(doc, solve_doc(doc, shop), shop)
    setup, operation, move = next(
        (s, o, m) for s, o, m in plan.moves if len(m.positions) == 2 and all(abs(p.dial.set_mm) > 5 for p in m.positions)
    )
    return At(plan, shop, setup, operation, move)


def test_the_way_left_has_the_sign_to_come_from(at: At) -> None:
    axis = at.move.positions[0].axis
    wanted = at.wanted(axis)
    found = at.left(**{axis: wanted - 3.2})
    assert found[axis].left_mm == pytest.approx(3.2)
    assert found[axis].way == "+"
    assert not found[axis].there
    assert at.left(**{axis: wanted + 0.4})[axis].way == "−"


def test_there_is_within_a_step_of_the_readout(at: At) -> None:
    axis = at.move.positions[0].axis
    assert at.left(**{axis: at.wanted(axis) + 0.005})[axis].there
    assert not at.left(**{axis: at.wanted(axis) + 0.011})[axis].there


def test_an_axis_the_readout_does_not_tell_is_not_made_up(at: At) -> None:
    axis = at.move.positions[0].axis
    assert set(at.left(**{axis: 0.0})) == {axis}
    assert at.left(W=1.0) == {}


@pytest.mark.parametrize(("slip", "words"), [("sign", "other sign"), ("unit", "other unit"), ("decimal", "decimal point")])
def test_a_slip_is_named_where_the_slide_stands_still(at: At, slip: str, words: str) -> None:
    axis = at.move.positions[-1].axis
    wanted = at.wanted(axis)
    place = {"sign": -wanted, "unit": wanted / 25.4, "decimal": wanted / 10}[slip]
    assert words in at.left(**{axis: place})[axis].slip
    # On its way through the very same place it is no slip.
    assert at.left(still=False, **{axis: place})[axis].slip == ""


def test_stopping_anywhere_else_is_not_called_a_slip(at: At) -> None:
    axis = at.move.positions[-1].axis
    wanted = at.wanted(axis)
    told = [at.left(**{axis: wanted + 0.37 + 0.613 * n})[axis].slip for n in range(1, 12)]
    assert sum(bool(words) for words in told) <= 1  # a turn or a cutter's half may be met by chance
