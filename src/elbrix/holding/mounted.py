"""How what holds the work is itself held on the table: the bolts of a vise or a plate, or the stop of one that floats.

The same limit as for the work decides: the body lies on its base, its bolts press it down with their least preload, friction acts
under the bolts, and the cut pushes at the cutter. Its own weight is left out, which is the safe side.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec.structs import replace

from elbrix.geometry.shapes import Point, Ring, bounds, clipped, hull, is_face, rectangle
from elbrix.holding.bolted import BOLT, bolt_load_check, bolt_torque_parameter, stands_n, usual_bolt_torque
from elbrix.holding.contacts import ClampForce, HeldPart
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.directions import look_between
from elbrix.holding.layout import Mount
from elbrix.holding.limit import Limit, LimitSolver, least_exactly
from elbrix.holding.motion import name_motion
from elbrix.holding.seats import pressed_contacts
from elbrix.mechanics.cutting import GRABS_UP
from elbrix.mechanics.strength import COUNTED, preload_n
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.shop.machines import Machine
from elbrix.standards.materials import friction, nut_factor

#: Asked of the mount against the cut, as of the work itself.
_ENOUGH: Final = 2.0
#: % of a body that may stand out over an edge of the table. Source: shop practice; its bolts have to find their slots.
_OVERHANG: Final = Limits(marginal_above=10.0, no_above=33.0)
#: A bolt's pull spreads into the base by so much, mm.
_FLANGE_MM: Final = 15.0
#: Bolt middles stand so far inside the edge of a base, mm.
_INSET_MM: Final = 6.0
_NO_LIMIT: Final = 99.0
_COARSE: Final = 0.02
_G: Final = 9.80665
COUNTS: Final = (("2", "two, one at each end"), ("4", "four, at the corners"), ("6", "six, along both sides"))


def mount_parameters(count_usually: str) -> tuple[Parameter, ...]:
    """What a body asks that is bolted down."""
    return (
        Parameter(name="bolts", label="Hold-down bolts", kind=Kind.CHOICE, unit="", choices=COUNTS, usually=count_usually),
        bolt_torque_parameter(),
    )


def usual_mount(count: str) -> dict[str, ParameterValue]:
    return {"bolts": ParameterValue(count, Origin.ASSUMED), "bolt_torque": usual_bolt_torque(nut_factor("dry"))}


def bolted_mount(ring: Ring, values: Values, factor: float, name: str, entry: str) -> Mount:
    """A body bolted down by what its values say.

    Args:
        ring: Its base.
        values: With `bolts` and `bolt_torque`.
        factor: Nut factor.
        name: Of the body.
        entry: Of the torque.
    """
    pull = COUNTED * preload_n(values.number("bolt_torque"), factor, BOLT.major_mm)
    return Mount(ring=ring, bolts=bolt_places(ring, int(values.word("bolts"))), preload_n=pull, bears=entry, name=name)


def bolt_places(ring: Ring, count: int) -> tuple[Point, ...]:
    """Where the bolts of a base stand: at both ends of it, at its corners, or along both long sides."""
    left, low, right, high = bounds(ring)
    ins = min(_INSET_MM, (right - left) / 4, (high - low) / 4)
    left, low, right, high = left + ins, low + ins, right - ins, high - ins
    if count <= 2:
        return ((left, (low + high) / 2), (right, (low + high) / 2))
    steps = count // 2
    if right - left >= high - low:
        along = [left + (right - left) * k / (steps - 1) for k in range(steps)]
        return tuple((x, y) for x in along for y in (low, high))
    along = [low + (high - low) * k / (steps - 1) for k in range(steps)]
    return tuple((x, y) for y in along for x in (left, right))


def mount_checks(mount: Mount, cutting: CuttingLoad, machine: Machine) -> list[Check]:
    """Whether the body stays on the table, and lies on it."""
    if mount.floats:
        return _floating(mount, cutting)
    on, over = _on_table(mount, machine)
    found = [bolt_load_check(mount.name, mount.preload_n / COUNTED, mount.bears)]
    if over > 0:
        found.insert(0, _overhang(mount.name, over))
    return [_bolted(on, cutting), *found] if on.bolts else found


def _on_table(mount: Mount, machine: Machine) -> tuple[Mount, float]:
    """What of a body lies on the table and the bolts that find a slot there; how far it stands out, in % of its size that way."""
    long, wide = machine.table_length_mm, machine.table_width_mm
    if not long or not wide:
        return mount, 0.0
    left, low, right, high = bounds(mount.ring)
    over = max(
        (max(-long / 2 - left, right - long / 2)) / (right - left), (max(-wide / 2 - low, high - wide / 2)) / (high - low), 0.0
    )
    ring = clipped(hull(mount.ring), rectangle(long, wide))
    if over <= 1e-9 or not is_face(ring):
        return (mount, 0.0) if over <= 1e-9 else (replace(mount, bolts=()), 100 * over)
    there = tuple(p for p in mount.bolts if abs(p[0]) <= long / 2 and abs(p[1]) <= wide / 2)
    return replace(mount, ring=ring, bolts=there or bolt_places(ring, len(mount.bolts))), 100 * over


def _overhang(name: str, percent: float) -> Check:
    return judged(
        f"overhang {name}",
        f"Overhang past the table, {name}",
        percent,
        _OVERHANG,
        (
            "nearly all of it lies on the table",
            "what hangs over is carried by nothing",
            "it tips off the table, and its bolts find no slot",
        ),
        unit="%",
        step=1,
        features=(name,),
        derivation=("beyond the table/its size that way, in %", format_number(percent, 2)),
    )


def _bolted(mount: Mount, cutting: CuttingLoad) -> Check:
    mu = friction("steel on cast iron, dry")
    pulls = tuple(ClampForce((x, y, 0.0), (0.0, 0.0, -1.0), mount.preload_n, 0.0, mount.name) for x, y in mount.bolts)
    left, low, right, high = bounds(mount.ring)
    middle = ((left + right) / 2, (low + high) / 2, 0.0)
    held = HeldPart(contacts=pressed_contacts((mount.ring,), 0.0, _FLANGE_MM, mu, pulls, middle), forces=pulls)
    solver = LimitSolver(held)
    loads = list(cutting.loads)
    limits = solver.solve(loads, tight=_COARSE) if loads else []

    def exactly(i: int) -> float:
        limits[i] = solver.solve([loads[i]])[0]
        return _factor(limits[i])

    factors = [_factor(x) for x in limits]
    look_between(solver, loads, limits, factors, cutting.each)
    least, worst = least_exactly(factors, exactly) if limits else (math.inf, -1)
    motion = name_motion(held, loads[worst], limits[worst]).words if math.isfinite(least) else ""
    return Check(
        key=f"mount {mount.name}",
        label=f"Held to the table, {mount.name}",
        value=min(least, _NO_LIMIT),
        unit="×",
        limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
        text="no limit" if math.isinf(least) else f"{least:.1f}×",
        step=0.1,
        features=(mount.name,),
        figures=(mount.bears,),
        remedies=(mount.bears,),
        reason=(
            "its bolts keep it where it stands"
            if least >= _ENOUGH
            else f"the cut moves the {mount.name} itself before that ({motion}): more bolts, or tighter ones"
        ),
        derivation=Derivation(
            "largest multiple of the cut its bolts and the friction under them balance",
            f"{len(mount.bolts)} bolts, each {mount.preload_n / 1000:.1f} kN at the least; µ {mu:g}",
            "rigid body; its weight and any keys left out",
        ),
    )


def _factor(limit: Limit) -> float:
    return math.inf if limit.factor is None else limit.factor


def _floating(mount: Mount, cutting: CuttingLoad) -> list[Check]:
    force = cutting.force
    if force.sideways_n > 0:
        return [
            Check(
                key=f"mount {mount.name}",
                label=f"Held to the table, {mount.name}",
                value=1,
                unit="",
                limits=Limits(no_above=0),
                text="floats",
                features=(mount.name,),
                reason=(
                    "nothing bolts it down: a floating vise is for drilling and tapping, never for a cutter that pushes sideways"
                ),
            )
        ]
    push = force.torque_nmm / mount.stop_arm_mm if mount.stop_arm_mm > 0 else math.inf
    share = mount.stop_bears_n / push if push > 0 else _NO_LIMIT
    found = [
        Check(
            key=f"mount {mount.name}",
            label=f"Torque stop, {mount.name}",
            value=min(share, _NO_LIMIT),
            unit="×",
            limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
            step=0.1,
            features=(mount.name,),
            figures=(mount.bears,),
            remedies=(mount.bears,),
            reason=(
                "the stop takes the torque, both ways"
                if share >= _ENOUGH
                else "the stop gives way before a full turn of the torque: farther from the spindle, or tighter"
            ),
            derivation=Derivation(
                "what the stop bears · arm/torque",
                f"{mount.stop_bears_n:.0f} N · {mount.stop_arm_mm:g} mm/{force.torque_nmm:.0f} N·mm",
                "the tool itself takes the same push sideways",
            ),
        )
    ]
    lift = max((load.force_n[2] for load in cutting.loads), default=0.0)
    if lift > 0:
        stays = mount.weight_n / lift
        found.append(
            Check(
                key=f"lift {mount.name}",
                label=f"Stays down, {mount.name}",
                value=min(stays, _NO_LIMIT),
                unit="×",
                limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
                step=0.1,
                features=(mount.name,),
                reason=(
                    "its weight keeps it down at break-through"
                    if stays >= _ENOUGH
                    else "the drill lifts it where it breaks through: bolt it, or clamp it down; a hand is not enough"
                ),
                derivation=Derivation(
                    "weight/pull up at break-through", f"{mount.weight_n:.0f} N/{lift:.0f} N", f"{GRABS_UP:g} of the thrust"
                ),
            )
        )
    return found


def stop_bears_n(values: Values, factor: float) -> float:
    """What a torque stop bolted to the table bears, N."""
    return stands_n(values.number("bolt_torque"), factor)


def kilograms_n(kilograms: float) -> float:
    return kilograms * _G
