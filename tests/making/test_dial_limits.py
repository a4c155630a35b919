"""Last numbers that the card gives are worked back to sizes, as at the machine: none may lie beyond what the drawing allows."""

from __future__ import annotations

import re
from functools import cache

import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.making.dials import division_mm, within_limits
from elbrix.making.drawn_limits import with_limits
from elbrix.making.limit_checks import limit_checks
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan, Setup
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.keyed import keyed_text
from elbrix.rehearsal.run import rehearse
from elbrix.rehearsal.slips import slips_of
from elbrix.results.checks import Verdict
from elbrix.shop.machines import Axis, Machine, MachineKind
from kinds_of_family import KINDS, on_id, on_machines, solved

SHOP = shop_of(documents())
MILLS = ("", "pip", "margaret")


@cache
def planned(key: str, name: str, value: str, on: str) -> Plan | None:
    family, design = solved(key, name, value)
    try:
        plan = plan_work(key, family.work(design, SHOP), SHOP, Options(machine=on))
    except ShopError:
        return None
    return with_limits(plan, family, design, SHOP)


def machine_of(plan: Plan, setup: object) -> Machine:
    return SHOP.machine(getattr(setup, "machine_id", "") or plan.machine_id)


def read(text: str, wheel: Axis | None) -> float:
    """A number of the card as it stands on the machine: "back 1 turn + 3 div", "−9.020"."""
    turns, divisions = re.search(r"(\d+) turn", text), re.search(r"(\d+) div", text)
    if wheel is not None and (turns or divisions):
        mm = (float(turns[1]) * wheel.mm_per_turn if turns else 0) + (
            float(divisions[1]) * wheel.mm_per_turn / wheel.divisions if divisions else 0
        )
        return -mm if re.match(r"(left|back|down|knee up)", text) else mm
    return float(text.replace("−", "-"))


def last_numbers(plan: Plan):  # type: ignore[no-untyped-def]
    """(setup, move, size asked, the move after it)"""
    for setup in plan.setups:
        for operation in setup.operations:
            for i, move in enumerate(operation.moves):
                after = operation.moves[i + 1] if i + 1 < len(operation.moves) else None
                yield setup, move, after


@pytest.mark.parametrize(("kind", "on"), on_machines(MILLS), ids=on_id)
def test_no_number_of_a_card_makes_a_size_beyond_its_limits(kind: tuple[str, str, str], on: str) -> None:
    plan = planned(*kind, on)
    if plan is None:
        return
    for setup, move, after in last_numbers(plan):
        to_size = after is not None and after.id == f"{move.id}.to_size"
        asked = after.asked if to_size else move.asked
        if asked is None or asked.by is None or asked.limits is None:
            continue
        machine = machine_of(plan, setup)
        position = next((p for p in move.positions if p.axis == asked.by.axis), None)
        if position is None:
            continue
        wheel = None if machine.readout_step_mm else machine.axes[position.axis]
        size = asked.expected_mm + asked.by.per * (read(position.dial.text, wheel) - position.value_mm)
        low, high = asked.expected_mm - asked.limits.under, asked.expected_mm + asked.limits.over
        if to_size:
            assert size < low if asked.by.inside else size > high, move.words  # metal is left, and a step takes it off
            step = machine.readout_step_mm or wheel.mm_per_turn / wheel.divisions  # type: ignore[union-attr]
            assert abs(size - asked.expected_mm) <= step * abs(asked.by.per) + 1e-9
            assert f"{abs(size - asked.expected_mm):.3f}"[:4] in after.words
            assert move.asked is None and not after.positions and not after.strokes
        else:
            assert low - 1e-6 <= size <= high + 1e-6, move.words


def test_a_pin_is_not_turned_under_size_by_a_coarse_dial() -> None:
    """Ø10.008 ±0.003 by a cross-slide of 0.05 a division on the radius: the nearest number is Ø10.0, and was on the card."""
    plan = planned("locator", "kind", "relieved", "")
    assert plan is not None
    moves = [m for _, _, m in plan.moves]
    n = next(i for i, m in enumerate(moves) if m.asked is not None and m.id.endswith("to_size"))
    wheel = SHOP.machine("tam").axes["X"]
    cut, by_hand = moves[n - 1], moves[n]
    assert by_hand.asked is not None and by_hand.asked.limits is not None
    across = 2 * read(next(p.dial.text for p in cut.positions if p.axis == "X"), wheel)
    assert by_hand.asked.expected_mm + by_hand.asked.limits.over < across <= by_hand.asked.expected_mm + 0.1
    assert f"{across - by_hand.asked.expected_mm:.3f}" in by_hand.words
    assert "never round the work" in by_hand.caution


def one_of_each_cut(family: str):  # type: ignore[no-untyped-def]
    """(plan, its findings, setup, move that makes a size), one of each kind of cut of a family: its axis goes one way."""
    seen: set[str] = set()
    for kind in (k for k in KINDS if k[0] == family):
        plan = planned(*kind, "")
        if plan is None or plan.solid is None:
            continue
        clean: set[str] | None = None
        for setup, move, _ in last_numbers(plan):
            cut = re.sub(r"[\d.]+", "", move.id)
            if move.asked and move.asked.by and move.strokes and setup.pose is not None and cut not in seen:
                seen.add(cut)
                clean = {f.kind for f in rehearse(plan).findings} if clean is None else clean
                yield plan, clean, setup, move


@pytest.mark.parametrize("family", sorted({kind[0] for kind in KINDS}))
def test_metal_is_left_the_way_it_says(family: str) -> None:
    """Told by the metal itself: the number set off one way leaves metal on, the other way cuts into the part."""
    for plan, clean, setup, move in one_of_each_cut(family):
        _leaves_metal(plan, clean, setup, move)


def _leaves_metal(plan: Plan, clean: set[str], setup: Setup, move: Move) -> None:
    assert move.asked is not None and move.asked.by is not None
    position = next(p for p in move.positions if p.axis == move.asked.by.axis)
    machine = machine_of(plan, setup)

    def found(off: float) -> set[str]:
        text = keyed_text(position.dial.set_mm + off, position, machine, exactly=True)
        return {f.kind for f in rehearse(plan, slips_of(plan, SHOP, {f"{move.id}.{position.axis}": text})).findings} - clean

    leaving = 0.4 * move.asked.by.leaves
    assert "gouge" in found(-leaving), (move.id, found(-leaving))
    assert "gouge" not in found(leaving), (move.id, found(leaving))


@example(1.25, 0.0, 0.125, 1, (4.0, 200), 0.0, "mm")  # half way between two divisions
@given(
    st.floats(-40, 40),
    st.floats(0, 0.2),
    st.floats(0, 0.2),
    st.sampled_from([1, -1]),
    st.sampled_from([(4.0, 200), (3.0, 60), (5.08, 200), (1.27, 50)]),
    st.sampled_from([0.0, 0.005, 0.01]),
    st.sampled_from(["mm", "in"]),
)
def test_the_number_is_found_as_by_going_through_all(
    wanted: float, under: float, over: float, leaves: int, wheel: tuple[float, int], readout: float, unit: str
) -> None:
    machine = Machine(
        id="m",
        name="m",
        kind=MachineKind.KNEE,
        readout_step_mm=readout,
        axes={"X": Axis(mm_per_turn=wheel[0], divisions=wheel[1])},
    )
    step = division_mm(machine, "X", unit)
    if readout:
        assert step == pytest.approx({"mm": readout, "in": {0.005: 0.0002, 0.01: 0.0004}[readout] * 25.4}[unit])
    else:
        assert step == wheel[0] / wheel[1]
    numbers = [k * step for k in range(round((wanted - 3 * step) / step), round((wanted + 3 * step) / step) + 1)]
    dial = within_limits(machine, "X", wanted, (-under, over), leaves, unit)
    assert dial.set_mm == pytest.approx(wanted + dial.off_mm, abs=1e-9)
    inside = [n for n in numbers if -under - 1e-7 <= n - wanted <= over + 1e-7]
    if inside:
        assert abs(dial.off_mm) <= min(abs(n - wanted) for n in inside) + 1e-6
        assert -under - 1e-5 <= dial.off_mm <= over + 1e-5
    else:
        assert 0 < dial.off_mm * leaves <= step + 1e-6


def test_a_plan_says_what_is_hard_to_hit_and_to_measure() -> None:
    plan = planned("locator", "kind", "relieved", "")
    assert plan is not None
    checks = {c.key: c for c in limit_checks(plan)}
    dial, tool = checks["dial limits"], checks["measuring limits"]
    # Tam's cross-slide: 3 mm in 60 divisions of the radius, 0.1 on the Ø; limits of ±0.003 are 0.006 wide.
    assert dial.value == pytest.approx(100 * 0.1 / 0.006) and dial.verdict is Verdict.MARGINAL
    assert "No number lies within" in dial.reason
    # The 0 to 25 micrometer is trusted to ±0.004.
    assert tool.value == pytest.approx(100 * 0.008 / 0.006) and tool.verdict is Verdict.MARGINAL
    assert "gauge blocks" in tool.reason
    assert not list(limit_checks(replace(plan, setups=())))


def test_a_bore_read_by_feel_is_trusted_less(demo_shop: object) -> None:
    sizes = [m.asked for kind in KINDS for p in [planned(*kind, "")] if p is not None for _, _, m in p.moves if m.asked]
    felt = [s for s in sizes if s.tool and "telescoping" in s.words]
    straight = [s for s in sizes if s.tool == (felt[0].tool if felt else "") and "telescoping" not in s.words]
    assert felt and straight
    assert felt[0].trusted_mm == pytest.approx(straight[0].trusted_mm + 0.01)


def test_what_brings_it_to_size_is_on_the_list() -> None:
    plan = planned("locator", "kind", "relieved", "")
    assert plan is not None
    assert {"indicator", "file", "abrasive cloth"} <= {
        w for i in plan.kit for w in ("indicator", "file", "abrasive cloth") if w in i.words
    }
    assert [i.words for i in plan.kit if "indicator" in i.words] == [next(i.words for i in plan.kit if "indicator" in i.words)]
