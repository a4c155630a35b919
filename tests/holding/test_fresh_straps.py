"""A strap that has just been added stands where a strap can stand, if there is such a place at all."""

from __future__ import annotations

import math
import random

import pytest

from elbrix.demo.holding import workholding
from elbrix.demo.wrenfield import documents
from elbrix.geometry.shapes import placed, rectangle
from elbrix.holding.layout import Piece, PlacingContext, find_element
from elbrix.parameters.parameter import Origin, ParameterValue, Values
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Stud
from elbrix.shop.workholding import Clamp, SupportBlock

_STRAP = find_element("strap")
_MACHINES = {m.name: m for m in documents() if isinstance(m, Machine)}
_SHOP = Shop(
    machines=tuple(_MACHINES.values()),
    clamps=tuple(d for d in workholding() if isinstance(d, Clamp)),
    supports=tuple(d for d in workholding() if isinstance(d, SupportBlock)),
    studs=tuple(d for d in documents() if isinstance(d, Stud)),
)


def _piece(width: float, depth: float, height: float, y: float) -> Piece:
    return Piece(
        shape="a block",
        outline=placed(rectangle(width, depth), 0, y, 0),
        middle=(0.0, y),
        bottom_mm=0,
        height_mm=height,
        cut_depth_mm=1,
        material="mild steel",
        weight_n=5,
        cg=(0, y, height / 2),
    )


def _problem(machine: Machine, piece: Piece, values: Values) -> str:
    return _STRAP.place(
        "strap", values, PlacingContext(shop=_SHOP, machine=machine, piece=piece, mu=0.12, nut_factor=0.2)
    ).problem


def _found_blindly(machine: Machine, piece: Piece, width: float, tries: int = 1500) -> bool:
    """Another road: throw straps at the table; a place is there when one stands."""
    chance, slots = random.Random(7), [s.label for s in machine.slots if s.straight]
    for _ in range(tries):
        thrown = {
            "slot": ParameterValue(chance.choice(slots), Origin.CHOSEN),
            "x": ParameterValue(chance.uniform(-width / 2 - 60, width / 2 + 60), Origin.CHOSEN),
            "direction": ParameterValue(chance.uniform(-math.pi, math.pi), Origin.CHOSEN),
            "clamp": ParameterValue(chance.choice(_SHOP.clamps[:2]).id, Origin.CHOSEN),
        }
        if not _problem(machine, piece, _STRAP.propose(_SHOP, machine, piece, thrown, 0)):
            return True
    return False


def test_a_fresh_strap_is_wrong_only_where_hardly_any_strap_can_stand() -> None:
    wrong: dict[tuple[str, float, float, float, float], str] = {}
    asked = 0
    for name in ("Hazel", "Pip", "Old Margaret", "Tam"):
        machine = _MACHINES[name]
        offsets = [s.offset_mm for s in machine.slots if s.straight]
        for width in (30.0, 80.0, 180.0):
            for depth in (20.0, 40.0, 90.0):
                for height in (10.0, 50.0):
                    for y in {0.0, *offsets, *(o + 25 for o in offsets)}:
                        if abs(y) + depth / 2 > machine.table_width_mm / 2:
                            continue
                        for number in (0, 1):
                            piece = _piece(width, depth, height, y)
                            asked += 1
                            if problem := _problem(machine, piece, _STRAP.propose(_SHOP, machine, piece, {}, number)):
                                wrong[name, width, depth, height, y] = problem
    assert asked > 400
    assert {name for name, *_ in wrong} <= {"Tam"}, wrong  # one slot, a table of 300 × 110
    missed = [case for case in wrong if _found_blindly(_MACHINES[case[0]], _piece(*case[1:]), case[1])]
    assert len(missed) <= 2, missed


@pytest.mark.parametrize("number", [0, 1])
def test_what_was_chosen_stays(number: int) -> None:
    chosen = {"x": ParameterValue(70.0, Origin.CHOSEN), "direction": ParameterValue(0.5, Origin.CHOSEN)}
    values = _STRAP.propose(_SHOP, _MACHINES["Pip"], _piece(80, 20, 10, 0), chosen, number)
    assert values.number("x") == 70 and values.number("direction") == 0.5


def test_narrow_work_at_the_outer_slot_is_clamped_with_the_heel_on_the_table() -> None:
    """Hazel, work behind the rear slot: square to it, the heel would hang over the edge, 127 from the middle."""
    hazel, piece = _MACHINES["Hazel"], _piece(80, 20, 10, 25)
    values = _STRAP.propose(_SHOP, hazel, piece, {}, 0)
    placed_strap = _STRAP.place("strap", values, PlacingContext(shop=_SHOP, machine=hazel, piece=piece, mu=0.12, nut_factor=0.2))
    assert not placed_strap.problem
    corners = [p for solid in placed_strap.solids for p in solid.ring]
    assert corners and max(abs(y) for _, y in corners) <= 127.5
