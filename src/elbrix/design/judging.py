"""What a verdict hinges on, and the nearest change that would turn it. Works for any family by trying values."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Final

from elbrix.design.family import Design, Family
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down, round_to_step, round_up
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check, CriticalReading, Fix, Verdict
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from elbrix.standards.threads import find_thread, first_choice

#: How far a reading may be thought wrong, mm. Beyond that it is no measuring error.
_FURTHEST_MM: Final = 3.0
_LADDER: Final = (0.02, 0.05, 0.1, 0.2, 0.35, 0.6, 1.0, 1.7, _FURTHEST_MM)


def hinges(family: Family, values: Values, shop: Shop, key: str) -> list[CriticalReading]:
    """For one check: each measured number that alone could turn its verdict, the most delicate first.

    The part stays as designed while the reading moves: it asks what happens if the slot was not what was measured.
    """
    before = _verdict(family, values, shop, key)
    found = []
    for parameter in family.parameters:
        if parameter.kind is not Kind.READINGS or parameter.name not in values or before is None:
            continue
        for sign in (1.0, -1.0):

            def verdict_at(off: float, sign: float = sign, name: str = parameter.name) -> Verdict | None:
                return _verdict(family, values.having(**{name: values.readings(name).shifted(sign * off)}), shop, key)

            turn = _first_turn(verdict_at, before)
            if turn is not None:
                found.append(CriticalReading(parameter.name, parameter.label, sign * turn[0], turn[1]))
    return sorted(found, key=lambda h: abs(h.by_mm))


def _verdict(family: Family, values: Values, shop: Shop, key: str) -> Verdict | None:
    try:
        return family.solve(values, shop).check(key).verdict
    except (ShopError, KeyError):
        return None  # readings that contradict each other say nothing about the check


def _first_turn(verdict_at: Callable[[float], Verdict | None], before: Verdict) -> tuple[float, Verdict] | None:
    low = 0.0
    for high in _LADDER:
        after = verdict_at(high)
        if after is None:
            return None
        if after is not before:
            for _ in range(9):  # to a thousandth or so
                middle = (low + high) / 2
                here = verdict_at(middle)
                if here is before:
                    low = middle
                elif here is not None:
                    high, after = middle, here  # noqa: PLW2901 - the halving ends here
            return high, after
        low = high
    return None


def hinge_sentence(family: Family, check: Check, critical: CriticalReading | None, show: Callable[[float], str]) -> str:
    """Such as: passes unless the lip depth is 0.35 less than measured."""
    if critical is None:
        return "No reading of the slot, wrong by any believable amount, changes this."
    more = "more" if critical.by_mm > 0 else "less"
    label = within(critical.label)
    opening = {"go": "Passes unless", "marginal": "Stays marginal unless", "no-go": "Fails unless"}[check.verdict.value]
    return (
        f"{opening} the {label} is {show(abs(critical.by_mm))} {more} than measured; then it is {critical.becomes.value}. Measure"
        " that again first."
    )


def nearest_fix(family: Family, design: Design, shop: Shop, key: str, most_steps: int = 60) -> Fix | None:
    """The smallest change of one chosen value that lifts a check to go (or at least up) and makes no other check worse.

    Args:
        most_steps: How many settling steps of a length to try either way.
    """
    before = {c.key: c.verdict for c in design.checks}
    best: tuple[int, int, Fix] | None = None
    for parameter in (p for name in design.check(key).remedies for p in family.parameters if p.name == name):
        for effort, given, text in _tries(parameter, design.values[parameter.name], most_steps):
            if best is not None and best[0] == 0 and effort >= best[1]:
                break
            try:
                after = family.solve(design.values.having(**{parameter.name: given}), shop)
            except ShopError:
                continue
            now = {c.key: c.verdict for c in after.checks}
            if now.get(key, Verdict.NO_GO).rank >= before[key].rank or any(
                now.get(k, v).rank > v.rank for k, v in before.items()
            ):
                continue
            ranked = (now[key].rank, effort, Fix(text, ((parameter.name, parameter.entry_text(given)),)))
            if best is None or ranked[:2] < best[:2]:
                best = ranked
            if now[key] is Verdict.GO:
                break
    return best[2] if best else None


def _tries(parameter: Parameter, now: ParameterValue, most_steps: int) -> Iterator[tuple[int, ParameterValue, str]]:
    """Other values, nearest first: (effort, value, words)."""
    label = within(parameter.label)
    if parameter.kind is Kind.CHOICE:
        for value, words in parameter.choices:
            if value != now.value:
                yield 5, ParameterValue(value, Origin.CHOSEN), f"Take “{words}” for the {label}"
        return
    if parameter.kind is Kind.THREAD:
        here = find_thread(parse_thread(str(now.value))).major_mm
        for thread in sorted(first_choice(), key=lambda t: abs(t.major_mm - here)):
            if thread.name != now.value:
                yield 8, ParameterValue(thread.name, Origin.CHOSEN), f"Use {thread.shown}"
        return
    if isinstance(now.value, str) or not isinstance(now.value, int | float):
        return
    for n in range(1, most_steps + 1):
        for sign in (-1, 1):
            start = round_down(float(now.value), parameter.step) if sign > 0 else round_up(float(now.value), parameter.step)
            size = round_to_step(start + sign * n * parameter.step, parameter.step)
            if parameter.low <= size <= parameter.high:
                by = round_to_step(abs(size - float(now.value)), parameter.step / 10)
                word = parameter.words[0 if sign > 0 else 1]
                whole = int(size) if parameter.kind is Kind.COUNT else size
                unit = f" {parameter.unit}" if parameter.unit else ""
                yield n, ParameterValue(whole, Origin.CHOSEN), f"Make the {label} {by:g}{unit} {word}"
