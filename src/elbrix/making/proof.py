"""Checks on a plan before the first cut: bar, kit, dial rounding, backlash, and what was measured on the way."""

from __future__ import annotations

from collections.abc import Mapping

from elbrix.making.costs import Costs
from elbrix.making.dial_limits import TO_SIZE
from elbrix.making.limit_checks import limit_checks
from elbrix.making.make_or_buy import make_or_buy
from elbrix.making.plan import NO_BAR, Move, Plan
from elbrix.mechanics.cutting import ARRIVES
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.shop.machines import Machine

#: A dial that cannot come nearer than this to a wanted number is worth a word, mm.
ROUNDING_CLOSE, ROUNDING_NO = 0.015, 0.05


def plan_checks(
    plan: Plan, machine: Machine | None, measured: Mapping[str, float], costs: Costs | None = None
) -> tuple[Check, ...]:
    """In the order a toolmaker meets them."""
    found = [_bar(plan), _kit(plan), _rounding(plan), *limit_checks(plan), *_power(plan)]
    if costs is not None and (priced := make_or_buy(plan, costs)) is not None:
        found.append(priced)
    if machine is not None and machine.axes:
        backlash = max(a.backlash_mm for a in machine.axes.values())
        climbing = any(m.direction == "climb" for _, _, m in plan.moves)
        found.append(
            Check(
                key="slack",
                label="Backlash for climb milling",
                value=backlash,
                unit="mm",
                limits=Limits(marginal_above=0.05, no_above=0.15) if climbing else Limits(marginal_above=0.5),
                reason=(
                    "climb cutting with this backlash drags the table into the cutter"
                    if climbing and backlash > 0.15
                    else "cut conventional, take the backlash up the same way each time"
                ),
                derivation=Derivation(
                    "largest backlash of the handwheels", format_number(backlash), f"climb cutting: {machine.climb}"
                ),
            )
        )
    for n, words in enumerate(plan.problems):
        if not words.startswith(NO_BAR):  # the bar has a check of its own
            found.append(
                Check(
                    key=f"problem {n}",
                    label=words.split(":")[0][:60],
                    value=1,
                    unit="",
                    limits=Limits(no_above=0),
                    text="see why",
                    reason=words,
                )
            )
    found += [
        Check(
            key=f"assumed {n}", label="Assumed", value=1, unit="", limits=Limits(marginal_above=0), text="see why", reason=words
        )
        for n, words in enumerate(plan.assumed)
    ]
    for _, _, move in plan.moves:
        if move.asked is not None and move.asked.key in measured:
            off = measured[move.asked.key] - move.asked.expected_mm
            found.append(
                Check(
                    key=f"measured {move.asked.key}",
                    label=f"Measured {move.asked.place}",
                    value=off,
                    unit="mm",
                    limits=move.asked.judged,
                    reason=_changed(plan, move, off),
                    derivation=Derivation(
                        "measured − planned",
                        f"{format_number(measured[move.asked.key])} − {format_number(move.asked.expected_mm)}",
                    ),
                )
            )
    return tuple(found)


def _changed(plan: Plan, move: Move, off: float) -> str:
    """What a measured size changed, honestly: the moves whose numbers carry it, or nothing."""
    if abs(off) <= 1e-6:
        return "as planned"
    after = [m for _, _, m in plan.moves]
    following = after[after.index(move) + 1 :]
    taught = [m for m in following if "came out" in m.words or any("came out" in t.words for p in m.positions for t in p.terms)]
    if move.asked is not None and move.asked.key.endswith(("first_shoulder", "bar_width", "bar_height")):
        return "what is counted from it was planned again"
    if taught:
        return f"“{taught[0].words}” takes it up"
    return "nothing that follows depends on it: it stays as it is"


def _bar(plan: Plan) -> Check:
    count = len(plan.stock.fitting)
    if plan.there:
        return Check(
            key="bar",
            label="Bar in stock",
            value=1,
            unit="",
            limits=Limits(no_below=1),
            text="none needed",
            reason=f"it is made on {plan.there}",
        )
    reason = f"{plan.bar.bar.title}: {plan.bar.reason}" if plan.bar else f"no bar on the rack does. Buy {plan.stock.buy}"
    return Check(
        key="bar",
        label="Bar in stock",
        value=count,
        unit="",
        limits=Limits(no_below=1),
        text=f"{count} do" if count != 1 else "1 does",
        reason=reason,
    )


def _kit(plan: Plan) -> Check:
    missing = [k for k in plan.kit if not k.owned]
    odd = [k for k in plan.kit if k.owned and "shank" in k.note]
    if missing:
        reason = "missing: " + ", ".join(k.words for k in missing) + "; only their own steps wait"
    else:
        reason = odd[0].note if odd else "everything is in the shop"
    return Check(
        key="kit",
        label="Kit complete",
        value=len(missing) + len(odd),
        unit="",
        limits=Limits(marginal_above=0),
        text=f"{len(missing)} missing" if missing else "1 to look at" if odd else "all here",
        reason=reason,
    )


def _power(plan: Plan) -> list[Check]:
    """The heaviest cut against what arrives at the spindle; nothing where no motor of the plan is recorded."""
    asking = [(o.speed.asks_w / o.speed.arrives_w, s, o) for s in plan.setups for o in s.operations if o.speed and o.speed.asks_w]
    if not asking:
        return []
    share, setup, operation = max(asking, key=lambda a: a[0])
    speed = operation.speed
    assert speed is not None
    where = f"{operation.title}, {setup.title}"
    why = f": {speed.caution}" if speed.too_much else " asks the most; its feed is no more than the motor turns"
    return [
        Check(
            key="power",
            label="Spindle power",
            value=share,
            unit="",
            limits=Limits(no_above=1.005),
            text=f"{share:.0%}",
            reason=where + why,
            derivation=Derivation(
                "kc1.1·h^(−mc)·Q/60,000, worn, over what arrives of the motor",
                f"{speed.asks_w:.0f} W / {speed.arrives_w:.0f} W",
                f"{ARRIVES:.0%} of the motor arrive at the edge; book values of cutting force scatter by a quarter",
            ),
        )
    ]


def _rounding(plan: Plan) -> Check:
    worst, where = 0.0, ""
    brought = {move.id.removesuffix(TO_SIZE) for _, _, move in plan.moves if move.id.endswith(TO_SIZE)}
    for _, _, move in plan.moves:
        for p in move.positions if move.id not in brought else ():  # what those leave is taken off by a step of its own
            if abs(p.dial.off_mm) > worst:
                worst, where = abs(p.dial.off_mm), f"{move.words}, {p.axis}"
    return Check(
        key="rounding",
        label="Dial resolution",
        value=worst,
        unit="mm",
        limits=Limits(marginal_above=ROUNDING_CLOSE, no_above=ROUNDING_NO),
        step=0.001,
        reason=(
            "the dials set every number near enough"
            if worst <= ROUNDING_CLOSE
            else f"coarsest at: {where}. Work to a measurement there, not to the dial"
        ),
        derivation=Derivation("largest |set − wanted| of all moves", f"{format_number(worst, 4)} mm", where),
    )
