"""The nearest change of a layout that would turn a verdict, found by trying.

What may be changed stands on the check (`Check.remedies`). How deep the cut goes and what was measured never do: the part would
be another.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.holding.layout import ChosenElement
from elbrix.holding.solve import LayoutResult, all_parameters, solve_layout
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_to_step
from elbrix.results.checks import Fix, Verdict
from elbrix.results.figures import Origin
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

#: A force is changed by shares of itself, a place by millimetres.
_SHARES: Final = (0.1, 0.2, 0.3, 0.45, 0.6, 0.75, 1.0, 1.5)
_STEPS_MM: Final = (1.0, 2.0, 3.0, 5.0, 8.0, 12.0, 18.0, 26.0, 40.0, 60.0, 90.0, 130.0)
_MAX_TRIES: Final = 48


class _Try(Struct, frozen=True):
    values: Mapping[str, float | str]  #: by whole name
    words: str


def nearest_fix(
    shop: Shop, machine: Machine, chosen: Mapping[str, ParameterValue], asked: Sequence[ChosenElement], key: str
) -> Fix | None:
    """The least change that lifts a check to go, or at least up, and makes no other worse; None when none of those tried does.

    Args:
        chosen: Of the work and the cut.
        key: Of the check.
    """
    parameters = all_parameters(shop, machine, asked)
    hold = solve_layout(shop, machine, chosen, asked, quick=True)
    before = {c.key: c.verdict for c in hold.checks}
    if before.get(key, Verdict.GO) is Verdict.GO:
        return None
    better: Fix | None = None
    tries = 0
    for names in _mends(hold, key):
        for attempt in _tries(hold, parameters, names):
            tries += 1
            if tries > _MAX_TRIES:
                return better
            now = _verdicts(shop, machine, chosen, asked, attempt.values)
            # Some checks are only there while something is wrong.
            if now is None or any(v.rank > before.get(k, Verdict.GO).rank for k, v in now.items() if k != key):
                continue
            fix = Fix(attempt.words, tuple((n, _typed(v)) for n, v in attempt.values.items()))
            after = now.get(key, Verdict.GO)
            if after is Verdict.GO:
                return fix
            if better is None and after.rank < before[key].rank:
                better = fix
    return better


def _verdicts(
    shop: Shop,
    machine: Machine,
    chosen: Mapping[str, ParameterValue],
    asked: Sequence[ChosenElement],
    values: Mapping[str, float | str],
) -> dict[str, Verdict] | None:
    work, things = dict(chosen), list(asked)
    for name, value in values.items():
        number, _, own = name.rpartition(".")
        given = ParameterValue(value, Origin.CHOSEN)
        if number:
            thing = things[int(number)]
            things[int(number)] = replace(thing, chosen={**thing.chosen, own: given})
        else:
            work[own] = given
    try:
        return {c.key: c.verdict for c in solve_layout(shop, machine, work, things, quick=True).checks}
    except ShopError:
        return None


def _mends(hold: LayoutResult, key: str) -> Iterator[tuple[str, ...]]:
    """Whole names of what is changed together.

    What the check names; "*" of every thing that has it at once, "?" of each on its own.
    """
    for name in next((c.remedies for c in hold.checks if c.key == key), ()):
        number, _, own = name.rpartition(".")
        having = [f"{i}.{own}" for i, (_, values, _) in enumerate(hold.elements) if own in values]
        if number == "*":
            yield tuple(having)
        elif number == "?":
            yield from ((n,) for n in having)
        elif not number or name in having:
            yield (name,)


def _value(hold: LayoutResult, name: str) -> float | str:
    number, _, own = name.rpartition(".")
    value = (hold.elements[int(number)][1] if number else hold.values)[own].value
    assert isinstance(value, float | int | str)
    return value


def _tries(hold: LayoutResult, parameters: Mapping[str, Parameter], names: tuple[str, ...]) -> Iterator[_Try]:
    """Other values, nearest first."""
    if not names:
        return
    first = parameters[names[0]]
    number = names[0].rpartition(".")[0]
    of = f", {hold.elements[int(number)][2].name}" if number and len(names) == 1 else ", all of them" if len(names) > 1 else ""
    now = _value(hold, names[0])
    if first.kind is Kind.CHOICE:
        for pick, words in first.choices:
            if pick != now:
                yield _Try(dict.fromkeys(names, pick), f"{first.label}{of}: {words}")
        return
    if isinstance(now, str):
        return
    place = first.kind is Kind.LENGTH and names[0].rpartition(".")[2] in ("x", "y", "stud_to_tip", "offset")
    for by in _STEPS_MM if place else _SHARES:
        for sign in (1, -1):
            changed: dict[str, float | str] = {}
            for name in names:
                old, parameter = _value(hold, name), parameters[name]
                assert not isinstance(old, str)
                new = round_to_step(old + sign * by if place else old * (1 + by) ** sign, parameter.step)
                if parameter.low <= new <= parameter.high and new != old:
                    changed[name] = float(new)
            if changed:
                value = changed[next(iter(changed))]
                unit = f" {first.unit}" if first.unit else ""
                yield _Try(changed, f"{first.label}{of}: {_typed(value)}{unit}")


def _typed(value: float | str) -> str:
    return value if isinstance(value, str) else f"{value:g}"
