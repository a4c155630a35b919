"""Several accessories made in one go: one layout of the bars, one order of the setups, one kit."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise
from typing import Final

from msgspec import Struct

from elbrix.making.bar_layout import BarLayout, lay_on_bars
from elbrix.making.minutes import plan_minutes
from elbrix.making.order import Changes, SetupChange, best_order, change, one_after_another
from elbrix.making.plan import KitItem, Plan, Setup
from elbrix.shop.shop import Shop

#: Setups this near in height need no other table height, mm; heights are compared as whole ones of it.
_HEIGHT_STEP_MM: Final = 1.0
#: Setups that are worked at the saw.
_SAWN: Final = frozenset({"saw", "rip", "part"})


class Wanted(Struct, frozen=True, kw_only=True):
    """One accessory of the batch with its plan as it would be made alone."""

    id: str
    title: str
    plan: Plan
    bar_chosen: bool = False  #: the toolmaker picked its bar: no other is taken


class Turn(Struct, frozen=True, kw_only=True):
    """One setup in its place of the order."""

    job: str
    title: str  #: of the job
    setup: Setup
    station: str
    changed: Changes  #: on the way to it


class KitLine(Struct, frozen=True, kw_only=True):
    """A thing to lay out, and what for."""

    item: KitItem
    jobs: tuple[str, ...]  #: titles


class Together(Struct, frozen=True, kw_only=True):
    """The whole batch."""

    plans: dict[str, Plan]  #: by job, each cut from the bar of the layout
    titles: dict[str, str]
    layout: BarLayout
    to_buy: tuple[tuple[str, str], ...]  #: (job, what would do)
    moved: tuple[str, ...]  #: jobs whose own card is cut from another bar than the layout gives them
    turns: tuple[Turn, ...]
    changes: Changes
    apart: Changes  #: when one job is finished before the next is begun
    proved: bool
    kit: tuple[KitLine, ...]
    minutes: float
    problems: tuple[str, ...]


def make_together(wanted: Sequence[Wanted], shop: Shop, plan_from: Callable[[str, str], Plan]) -> Together:
    """Plan several accessories as one batch.

    Args:
        wanted: Each with its plan as made alone.
        shop: Whose machines and bars are used.
        plan_from: A job planned anew from a bar: (job, id of the bar).

    Raises:
        ShopError: A job cannot be cut from the bar it was given.
    """
    offered = {w.id: [w.plan.bar] if w.bar_chosen and w.plan.bar else list(w.plan.stock.fitting) for w in wanted}
    layout = lay_on_bars(offered)
    plans, titles = {}, {w.id: w.title for w in wanted}
    moved = []
    for w in wanted:
        bar, own = layout.bar_of(w.id), w.plan.bar
        same = bar is None or (own is not None and own.bar.id == bar.id)
        plans[w.id] = w.plan if bar is None or same else plan_from(w.id, bar.id)
        if not same:
            moved.append(w.id)
    jobs = [[_step(s, plans[w.id], shop) for s in plans[w.id].setups] for w in wanted]
    order, apart = best_order(jobs), one_after_another(jobs)
    return Together(
        plans=plans,
        titles=titles,
        layout=layout,
        to_buy=tuple((w.id, w.plan.stock.buy) for w in wanted if w.id in layout.missing),
        moved=tuple(moved),
        turns=_turns(wanted, plans, jobs, order.steps),
        changes=order.changes,
        apart=apart.changes,
        proved=order.proved,
        kit=_kit(plans, titles),
        minutes=sum(plan_minutes(p) for p in plans.values()),
        problems=tuple(f"{titles[k]}: {words}" for k, p in plans.items() for words in p.problems),
    )


def _turns(
    wanted: Sequence[Wanted], plans: Mapping[str, Plan], jobs: Sequence[Sequence[SetupChange]], steps: Sequence[tuple[int, int]]
) -> tuple[Turn, ...]:
    found, before = [], None
    for j, n in steps:
        step = jobs[j][n]
        found.append(
            Turn(
                job=wanted[j].id,
                title=wanted[j].title,
                setup=plans[wanted[j].id].setups[n],
                station=step.station,
                changed=change(before, step),
            )
        )
        before = step
    return tuple(found)


def _step(setup: Setup, plan: Plan, shop: Shop) -> SetupChange:
    tools = [o.tool for o in setup.operations if o.tool]
    on_machine = setup.lie is not None or setup.pose is not None or bool(setup.fixture) or bool(setup.machine_id)
    id_ = (setup.machine_id or plan.machine_id) if on_machine else ""
    machine = next((m for m in shop.machines if m.id == id_), None)
    station = machine.name if machine is not None else plan.machine if on_machine else "saw" if setup.id in _SAWN else "bench"
    cutter = next((o.cutter for o in setup.operations if o.cutter is not None), None)
    nose = setup.jaws_mm + (cutter.stick_out_mm if cutter is not None else 0.0)
    return SetupChange(
        id=setup.id,
        station=station,
        holding=setup.fixture,
        height_mm=_HEIGHT_STEP_MM * round(nose / _HEIGHT_STEP_MM),
        reach_mm=machine.quill_mm if machine is not None else 0.0,
        first_tool=tools[0] if tools else "",
        last_tool=tools[-1] if tools else "",
        inside=sum(a != b for a, b in pairwise(tools)),
    )


def _kit(plans: Mapping[str, Plan], titles: Mapping[str, str]) -> tuple[KitLine, ...]:
    """Each thing once, what is missing first."""
    items: dict[str, KitItem] = {}
    jobs: dict[str, list[str]] = {}
    for id_, plan in plans.items():
        for item in plan.kit:
            known = items.setdefault(item.words, item)
            if known.owned and not item.owned:
                items[item.words] = item  # what one plan does not find is not there
            if titles[id_] not in (of := jobs.setdefault(item.words, [])):
                of.append(titles[id_])
    lines = [KitLine(item=item, jobs=tuple(jobs[words])) for words, item in items.items()]
    return tuple(sorted(lines, key=lambda line: (line.item.owned, line.item.words.lower())))
