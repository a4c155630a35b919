"""What is to be made is designed and planned before it is offered: one that would not do either is no answer."""

from __future__ import annotations

from collections.abc import Iterable
from math import pi
from typing import Final

from msgspec.structs import replace

from elbrix.angles.methods import usual_budget
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.finding.hit import Make
from elbrix.finding.holding import OVER_MM
from elbrix.finding.need import Need
from elbrix.making.minutes import plan_minutes
from elbrix.making.planner import milling_machines, plan_work
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import within
from elbrix.results.checks import Verdict
from elbrix.results.length_text import length
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.shop import Shop

#: A slot is meant when its neck is this near the width that was said.
SLOT_MM: Final = 0.6
#: So much longer and wider than the work a plate is, a hand first; less where the table wants it.
_LARGER_MM: Final = ((60.0, 40.0), (60.0, 20.0), (60.0, 0.0))
#: Sine plates are made this long between their rolls.
_CENTRES: Final = (100, 127, 150, 200, 250, 300)


def proved(make: Make, shop: Shop, request: Request | None = None) -> tuple[Make | None, str]:
    """(the same with its bar and its minutes, "") when the design holds together; (None, why not) when it does not."""
    family = find_family(make.family)
    try:
        design = solve_for(family, shop, request or Request(), read_choices(family, make.values))
        bad = next((c for c in design.checks if c.verdict is Verdict.NO_GO), None)
        if bad is not None:
            return None, f"{make.words} would not do: {within(bad.label)}, {bad.reason}"
        plan = plan_work(make.words, family.work(design, shop), shop, home=request.machine if request is not None else "")
    except ShopError as error:
        return None, f"{make.words} cannot be: {error.what}"
    bar = plan.source
    return replace(make, bar=bar, minutes=plan_minutes(plan)), ""


def first_proved(tries: Iterable[tuple[Make, Request | None]], shop: Shop) -> tuple[list[Make], list[str]]:
    """([the first that holds together], []), or ([], why each does not)."""
    reasons = []
    for make, request in tries:
        found, why = proved(make, shop, request)
        if found is not None:
            return [found], []
        reasons.append(why)
    return [], list(dict.fromkeys(reasons))[:3]


def nuts(need: Need, shop: Shop) -> tuple[list[Make], list[str]]:
    """A T-nut of that thread for a slot that was measured, the nearest first."""
    wide = need.sizes[0] if need.sizes else 0.0
    slots = [
        (abs(s.neck.mean - wide) if wide else 0.0, m, s)
        for m, s in shop.measured_slots()
        if s.neck is not None and s.straight and (not need.machine or m.id == need.machine)
    ]
    near = sorted((x for x in slots if x[0] <= SLOT_MM), key=lambda x: x[0])
    if not near:
        return [], ["measure the slot first, in Shop: a T-nut is made to the slot it goes into"]
    return first_proved(
        (
            (
                Make(
                    family="t_nut",
                    values={"thread": need.thread},
                    words=f"a T-nut {need.thread} for {machine.name} {slot.label}",
                    machine=machine.id,
                    slot=slot.label,
                ),
                Request(machine=machine.id, slot=slot.label),
            )
            for _, machine, slot in near
        ),
        shop,
    )


def sine_plates(need: Need, shop: Shop) -> tuple[list[Make], list[str]]:
    """The shortest sine plate that sets the angle near enough with a usual stack; its complement over 45°."""
    work = need.sizes[0] if need.sizes else 60.0
    set_at = min(need.angle, pi / 2 - need.angle)
    grade = shop.gauge_sets[0].grade if shop.gauge_sets else "1"
    best = 0.0
    for centres in _CENTRES:
        off = usual_budget(SineTool(id="", name="sine plate", centres_mm=centres), set_at, grade).rss_rad
        best = min(best or off, off)
        if (need.close and off > need.close) or centres < work + 40:
            continue
        make = Make(family="sine_plate", values={"centres": f"{centres}"}, words=f"a sine plate {centres} between its rolls")
        return first_proved([(make, None)], shop)
    seconds = best * 180 * 3600 / pi
    return [], [
        f"no sine plate up to {_CENTRES[-1]} between its rolls comes nearer than ±{seconds:.0f}″ there, or takes the work"
    ]


def stops(need: Need, shop: Shop) -> tuple[list[Make], list[str]]:
    """A quill stop, for a quill that goes so far."""
    travel = need.sizes[0]
    mills = [m for m in milling_machines(shop) if m.quill_mm and (not need.machine or m.id == need.machine)]
    reach = [m for m in mills if m.quill_mm >= travel]
    if mills and not reach:
        furthest = max(mills, key=lambda m: m.quill_mm)
        return [], [f"{furthest.name}'s quill goes {length(furthest.quill_mm)}, and none goes further"]
    machine = reach[0].id if reach else need.machine
    words = f"a quill stop set with gauge blocks, travel {length(travel)}"
    make = Make(family="depth_stop", values={"travel": f"{travel:g}"}, words=words, machine=machine)
    return first_proved([(make, Request(machine=machine))], shop)


def risers(need: Need, shop: Shop) -> tuple[list[Make], list[str]]:
    """A riser of that height, bolted through to the slots."""
    words = f"a riser {length(need.sizes[0])} high, bolted through to the slots"
    make = Make(family="riser", values={"riser_height": f"{need.sizes[0]:g}"}, words=words, machine=need.machine)
    return first_proved([(make, Request(machine=need.machine))], shop)


def plates(need: Need, shop: Shop) -> tuple[list[Make], list[str]]:
    """A plate the work is screwed to from below or through its holes, a hand larger than it, on a table that takes it."""
    long, wide = need.sizes[0], need.sizes[0] if need.shape == "round" else need.sizes[1]
    mills = [m for m in milling_machines(shop) if not need.machine or m.id == need.machine]
    takes = [m for m in mills if not m.table_length_mm or (long <= m.table_length_mm and wide <= m.table_width_mm + 2 * OVER_MM)]
    if mills and not takes:
        return [], [f"no table here takes work {length(long)} × {length(wide)}: it is for a larger machine"]
    machine = takes[0].id if takes else ""
    tries = []
    for more_long, more_wide in _LARGER_MM:
        size = f"{length(long + more_long)} × {length(wide + more_wide)}"
        words = f"a fixture plate {size}: the work is screwed to it, and everything above is free"
        values = {"length": f"{long + more_long:g}", "width": f"{wide + more_wide:g}"}
        make = Make(family="fixture_plate", values=values, words=words, machine=machine)
        tries.append((make, Request(machine=machine)))
    return first_proved(tries, shop)
