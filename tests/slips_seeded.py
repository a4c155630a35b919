"""Slips seeded into good cards: a digit lost, a sign, another axis' number … each as it would stand on that machine."""

from __future__ import annotations

import random
from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.rehearsal.at_readout import machine_of
from elbrix.rehearsal.distances import to_body, to_stroke
from elbrix.rehearsal.run import corners, piece_shift, posed, steps_of
from elbrix.rehearsal.slips import slips_of
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop


class Seeded(NamedTuple):
    """One slip: what is keyed, and which causes name it rightly."""

    name: str
    text: str
    causes: frozenset[str]


def cutting(plan: Plan) -> list[tuple[Setup, Operation, Move]]:
    return [(s, o, m) for s, o, m in plan.moves if m.strokes and m.positions]


def readout(value: float, digits: int = 3) -> str:
    return f"{value:.{digits}f}"


def handwheel(value: float, mm_per_turn: float, division: float) -> str:
    """Turns and divisions, as they are keyed."""
    total = round(abs(value) / division)
    turns, divisions = divmod(total, round(mm_per_turn / division))
    return f"{'-' if value < 0 else ''}{turns}t{divisions}"


class Number(NamedTuple):
    """One number of a card with what it is set on."""

    plan: Plan
    shop: Shop
    setup: Setup
    operation: Operation
    move: Move
    position: Position

    @property
    def name(self) -> str:
        return f"{self.move.id}.{self.position.axis}"

    @property
    def machine(self) -> Machine:
        found = machine_of(self.setup, self.plan, self.shop)
        assert found is not None
        return found

    @property
    def wheel(self) -> Axis | None:
        """Where it is set by hand."""
        return None if self.machine.readout_step_mm else self.machine.axes.get(self.position.axis)

    def say(self, value: float) -> str:
        return handwheel(value, self.wheel.mm_per_turn, self.wheel.division_mm) if self.wheel else readout(value)

    def seed(self, value: float, *causes: str) -> Seeded:
        return Seeded(self.name, self.say(value), frozenset(causes))


def of_digits(n: Number) -> Iterator[Seeded]:
    """On a readout: dropped, doubled, swapped, the point, the other unit."""
    mm = n.position.dial.set_mm
    shown = readout(mm)
    digits = [i for i, c in enumerate(shown) if c.isdigit() and not (c == "0" and i == len(shown) - 1)]
    i = digits[len(digits) // 2]
    either = frozenset({"digit", "decimal"})
    yield Seeded(n.name, shown[:i] + shown[i + 1 :], either)
    yield Seeded(n.name, shown[:i] + shown[i] + shown[i:], either)
    swap = next((a for a, b in pairwise(digits) if b == a + 1 and shown[a] != shown[b]), None)
    if swap is not None:
        yield Seeded(n.name, shown[:swap] + shown[swap + 1] + shown[swap] + shown[swap + 2 :], either)
    if abs(mm) >= 1:
        yield Seeded(n.name, readout(mm * 10, 2), frozenset({"decimal"}))
        yield Seeded(n.name, readout(mm / 10), either)
    yield Seeded(n.name, readout(mm / 25.4, 4), frozenset({"unit"}))


def of_the_wheel(n: Number) -> Iterator[Seeded]:
    """On a handwheel: a turn too many, one too few, the backlash."""
    wheel, mm = n.wheel, n.position.dial.set_mm
    assert wheel is not None
    for k in (1, -1):
        yield n.seed(mm + k * wheel.mm_per_turn, "turn", "tool_allowance", "sign", "digit", "diameter", "axis")
    if wheel.backlash_mm:
        yield n.seed(mm + wheel.backlash_mm, "backlash", "digit", "tool_allowance")


def of_the_setting(n: Number) -> Iterator[Seeded]:
    """On both: the sign, another axis, half the cutter, radius for diameter."""
    p, mm, tool = n.position, n.position.dial.set_mm, n.operation.cutter
    lathe = n.machine.kind is MachineKind.LATHE
    if lathe:
        if p.axis == "X":
            yield n.seed(mm / 2, "diameter")
        return
    if abs(mm) > 0.05:
        yield n.seed(-mm, "sign")
    others = [q for q in n.move.positions if q.axis != p.axis and abs(q.dial.set_mm - mm) > 0.05]
    if others:
        yield n.seed(others[0].dial.set_mm, "axis", "sign")
    if tool is not None and p.axis != "Z" and any("half the" in t.words for t in p.terms):
        half = (tool.width_mm if tool.axis != "z" else tool.diameter_mm) / 2
        for k in (half, -half):
            yield n.seed(mm + k, "tool_allowance", "turn", "digit", "axis", "decimal", "sign")


def slips_for(n: Number) -> Iterator[Seeded]:
    """All classes that can happen with one number."""
    yield from of_the_wheel(n) if n.wheel is not None else of_digits(n)
    yield from of_the_setting(n)


def sample(plan: Plan, shop: Shop, rng: random.Random, count: int) -> list[Seeded]:
    found = [
        s
        for setup, operation, move in cutting(plan)
        if not move.zeroes
        for p in move.positions
        for s in slips_for(Number(plan, shop, setup, operation, move, p))
    ]
    return rng.sample(found, min(count, len(found)))


def metal_changes(plan: Plan, shop: Shop, slip: Seeded) -> bool:
    """By brute force: whether any of 20,000 random points of the blank is cut in one of the two and not in the other."""
    slips = slips_of(plan, shop, {slip.name: slip.text})
    id = slip.name.rpartition(".")[0]
    assert plan.blank is not None
    box = corners(plan)
    points = np.random.default_rng(1).uniform(box.min(axis=0), box.max(axis=0), (20_000, 3))
    points = points[to_body(points, plan.blank) < -0.02]
    gone = np.full(len(points), np.inf)
    piece = next(m.piece for _, _, m in plan.moves if m.id == id)
    for step, really in zip(steps_of(plan), steps_of(plan, slips), strict=True):
        if step.move.removes is not None:
            gone = np.minimum(gone, to_body(points, step.move.removes))
            continue
        there = posed(points, step.setup, shift=piece_shift(plan, step.setup, piece))
        taken, wrong = (np.min([to_stroke(there, s.tool, k) for k in s.strokes], axis=0) for s in (step, really))
        if step.move.id == id:
            return bool((((taken < 0) != (wrong < 0)) & (gone > 0)).any())
        gone = np.minimum(gone, taken)
    return False
