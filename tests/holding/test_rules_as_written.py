"""The limits and proposals of Hold are those that docs/holding-rules.md says: a rule changes in both places or in none."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from elbrix.book.layouts import solve_doc, typed_in
from elbrix.geometry.shapes import bounds
from elbrix.holding.cut import parameters
from elbrix.holding.layout import all_elements
from elbrix.holding.suggest import _plain
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check
from elbrix.shop.shop import Shop
from layouts_tools import doc, thing
from work_pieces import SAID, any_of, block, round_work

_DOC = Path(__file__).parents[2] / "docs" / "holding-rules.md"
_NEVER = 1e11


def _rows(title: str) -> list[list[str]]:
    """The lines of a table of the document."""
    part = _DOC.read_text(encoding="utf-8").partition(f"## {title}\n")[2].partition("\n## ")[0]
    lines = [line for line in part.splitlines() if line.startswith("| ")]
    return [[cell.strip() for cell in line.strip("|").split("|")] for line in lines[1:]]


def _limits(check: Check) -> tuple[str, ...]:
    found = check.limits
    shown = (found.no_below, found.marginal_below, found.marginal_above, found.no_above)
    told = ("–" if abs(x) > _NEVER or x == -1 else f"{x:g}".replace("-", "−") for x in shown)
    return (*told, check.unit, "–" if check.step is None else f"{check.step:g}")


def test_limits_are_those_that_are_written(demo_shop: Shop) -> None:
    written: dict[str, set[tuple[str, ...]]] = {}
    for name, *limits in _rows("Limits"):
        written.setdefault(name, set()).add(tuple(limits))
    met: dict[str, set[tuple[str, ...]]] = {}
    chance = random.Random(4)
    for n in range(220):
        kinds = chance.sample(list(SAID), chance.choice((1, 2, 2, 3)))
        base = {
            "length": f"{chance.choice((60, 100, 160))}",
            "width": f"{chance.choice((20, 50, 90))}",
            "height": f"{chance.choice((1.5, 3, 12, 25, 60))}",
            "cut": chance.choice(("light", "medium", "heavy", "drilling", "tapping")),
        }
        try:
            layout = doc(*(thing(k, **any_of(chance, **SAID[k])) for k in kinds), **base)
            hold = solve_doc(typed_in(layout, demo_shop), demo_shop, quick=n % 9 > 0)
        except ShopError:
            continue  # a layout that cannot be says why, and is not what is looked at here
        for check in hold.checks:
            met.setdefault(check.label.split(",")[0], set()).add(_limits(check))
    places = {"Stop", "Strap", "Support", "Toe", "Split vise", "Vise", "Backing bar"}  # what does not stand where it should
    assert {k: v for k, v in met.items() if k not in places} == written


def _proposed(shop: Shop) -> list[list[str]]:
    """Every value of every thing, for the three pieces the document names."""
    found = []
    cases = ("hazel", block(100.0, 60.0), 0), ("pip", round_work(45.0, 12.0), 0), ("tam", block(160.0, 40.0, high=6.0), 1)
    for key, element in all_elements().items():
        machines = [(shop.machine(machine), piece, number) for machine, piece, number in cases]
        values = [element.propose(shop, machine, piece, {}, number) for machine, piece, number in machines]
        for p in element.parameters(shop, machines[0][0]):
            row = [key, p.name]
            for given in (v[p.name] for v in values):
                row.append((given.value or "–") if isinstance(given.value, str) else p.entry_text(given))
            found.append(row)
    return found


def test_what_is_proposed_is_what_is_written(demo_shop: Shop) -> None:
    assert _proposed(demo_shop) == _rows("Proposals")


def _entries(shop: Shop) -> list[list[str]]:
    """What may be typed: thing, value, least, most, and the step it is set and mended by."""
    hazel = shop.machine("hazel")
    asked = {"work and cut": parameters(shop), **{key: e.parameters(shop, hazel) for key, e in all_elements().items()}}
    numbers = (Kind.LENGTH, Kind.NUMBER, Kind.ANGLE)
    return [
        [key, p.name, *(f"{x:g}".replace("-", "−") for x in (p.low, p.high, p.step)), p.unit]
        for key, found in asked.items()
        for p in found
        if p.kind in numbers
    ]


def test_what_may_be_typed_is_what_is_written(demo_shop: Shop) -> None:
    assert _entries(demo_shop) == _rows("Entries")


@pytest.mark.parametrize(
    ("low", "high", "front", "rear"), [(-20.0, 20.0, "front slot", "rear slot"), (-10.0, 30.0, "front slot", "rear slot")]
)
def test_plain_arrangements_stand_in_the_slots_beside_the_work(
    demo_shop: Shop, low: float, high: float, front: str, rear: str
) -> None:
    """At both ends, pointing in; in front and behind, pointing at it, from the nearest slot that is clear of it."""
    slots = [s for s in demo_shop.machine("hazel").slots if s.straight]
    for found in _plain(slots, (-50.0, low, 50.0, high), 2, ["a", "b"]):
        labels = {s[0] for s in found}
        assert labels in ({"middle slot"}, {"front slot", "rear slot"})
        for label, x, turn, _clamp in found:
            offset = next(s.offset_mm for s in slots if s.label == label)
            if label == "middle slot":
                assert not -50.0 <= x <= 50.0 and (x > 0) == (turn > 1)
            else:
                assert (offset > high) == (turn < 0) and (offset < low) == (turn > 0)
                assert -50.0 < x < 50.0
    wide = _plain(slots, (-50.0, -60.0, 50.0, 60.0), 2, [])
    assert all({s[0] for s in found} == {"middle slot"} for found in wide)  # it covers them all
    assert bounds(block(10.0, 4.0).outline) == (-5.0, -2.0, 5.0, 2.0)
