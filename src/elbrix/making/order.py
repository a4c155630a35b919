"""In which order the setups of several jobs are worked, so that the least has to be changed between them: exact, by states.

Between two setups the machine is changed, or what holds the work, or the height of the table, or the tool; fewer of the first
count more than any of the later. The setups of one job keep their order.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec import Struct

#: Changes in the order of what they cost: machine, holding, table height, tool.
Changes = tuple[int, int, int, int]
NONE: Final[Changes] = (0, 0, 0, 0)
#: States looked at for a proof; beyond it the best of these many is kept at each length.
_MAX_STATES: Final = 500_000
_KEPT: Final = 400


class SetupChange(Struct, frozen=True, kw_only=True):
    """A setup as far as changing over to it matters."""

    id: str
    station: str  #: machine, saw or bench
    holding: str = ""  #: "vise", "straps", "chuck"
    height_mm: float = 0.0  #: of the spindle's nose over what holds the work, at its first tool
    reach_mm: float = 0.0  #: that the quill moves without the table
    first_tool: str = ""
    last_tool: str = ""
    inside: int = 0  #: tools changed within it


class Order(Struct, frozen=True, kw_only=True):
    """The setups in one order."""

    steps: tuple[tuple[int, int], ...]  #: (job, setup of the job)
    changes: Changes
    proved: bool  #: no order changes less


def change(a: SetupChange | None, b: SetupChange) -> Changes:
    """What is changed from one setup to the next; setting up for the first is none."""
    if a is None:
        return NONE
    if a.station != b.station:
        return (1, 0, 0, 0)
    apart = abs(a.height_mm - b.height_mm) > max(b.reach_mm, 0.5)
    other_tool = bool(a.last_tool and b.first_tool and a.last_tool != b.first_tool)
    return (0, int(a.holding != b.holding), int(a.holding == b.holding and apart), int(other_tool))


def total(jobs: Sequence[Sequence[SetupChange]], steps: Sequence[tuple[int, int]]) -> Changes:
    """All changes of an order, those within setups with them."""
    sum_, before = NONE, None
    for job, n in steps:
        step = jobs[job][n]
        sum_ = _add(_add(sum_, change(before, step)), (0, 0, 0, step.inside))
        before = step
    return sum_


def one_after_another(jobs: Sequence[Sequence[SetupChange]]) -> Order:
    """Each job finished before the next is begun."""
    steps = tuple((j, n) for j, job in enumerate(jobs) for n in range(len(job)))
    return Order(steps=steps, changes=total(jobs, steps), proved=False)


def best_order(jobs: Sequence[Sequence[SetupChange]]) -> Order:
    """The order with the fewest changes.

    Every reachable state (how far each job is, and which was worked last) keeps its best way; with too many states for that,
    only the best few hundred of each length do, and the order is not called proved.
    """
    runs = [_runs(job) for job in jobs]
    ways = math.prod(len(job) + 1 for job in runs)
    proved = ways * len(runs) <= _MAX_STATES
    # A state is one number, how far each job is in mixed radix; costs are one number, so that adding and comparing are quick.
    radix = [math.prod(len(job) + 1 for job in runs[:j]) for j in range(len(runs))]
    first = [[jobs[j][run[0]] for run in job] for j, job in enumerate(runs)]
    last = [[jobs[j][run[-1]] for run in job] for j, job in enumerate(runs)]
    price = {
        (i, n, j, m): _as_number(change(last[i][n], first[j][m]))
        for i, one in enumerate(runs)
        for n in range(len(one))
        for j, other in enumerate(runs)
        for m in range(len(other))
    }
    layer: dict[tuple[int, int], int] = {(0, -1): 0}
    came: list[dict[tuple[int, int], int]] = []  # state → the job that was worked before
    for _ in range(sum(map(len, runs))):
        following: dict[tuple[int, int], int] = {}
        back: dict[tuple[int, int], int] = {}
        for (far, i), cost in layer.items():
            n = far // radix[i] % (len(runs[i]) + 1) - 1 if i >= 0 else 0
            for j, job in enumerate(runs):
                m = far // radix[j] % (len(job) + 1)
                if m == len(job):
                    continue
                new = far + radix[j], j
                total_ = cost if i < 0 else cost + price[i, n, j, m]
                known = following.get(new)
                if known is None or total_ < known:
                    following[new], back[new] = total_, i
        if not proved and len(following) > _KEPT:
            following = dict(sorted(following.items(), key=lambda s: s[1])[:_KEPT])
        layer = following
        came.append(back)
    far, j = min(layer, key=lambda s: (layer[s], s))
    steps: list[tuple[int, int]] = []
    for back in reversed(came):
        before = back[far, j]
        far -= radix[j]
        steps += [(j, n) for n in reversed(runs[j][far // radix[j] % (len(runs[j]) + 1)])]
        j = before
    steps.reverse()
    return Order(steps=tuple(steps), changes=total(jobs, steps), proved=proved)


def _as_number(changes: Changes) -> int:
    """Compared as the four of them are, one after another: no batch has a thousand of any."""
    machine, holding, height, tool = changes
    return ((machine * 1000 + holding) * 1000 + height) * 1000 + tool


def _runs(job: Sequence[SetupChange]) -> list[tuple[int, ...]]:
    """Setups of a job that follow one another with the same tool, holding and height: some best order has them together.

    Taking the later ones forward to the first changes nothing there, and what stood between them meets the same state after it.
    """
    found: list[tuple[int, ...]] = []
    for n, step in enumerate(job):
        before = job[found[-1][-1]] if found else None
        if before is not None and _state(before) == _state(step) and not (before.inside or step.inside):
            found[-1] = (*found[-1], n)
        else:
            found.append((n,))
    return found


def _state(step: SetupChange) -> tuple[object, ...] | None:
    if step.first_tool != step.last_tool:
        return None if not step.id else (step.id,)
    return step.station, step.holding, step.height_mm, step.reach_mm, step.first_tool


def _add(a: Changes, b: Changes) -> Changes:
    return a[0] + b[0], a[1] + b[1], a[2] + b[2], a[3] + b[3]
