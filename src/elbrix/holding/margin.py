"""The margin of a layout along the cutter's path: the least multiple of the cutting load, where, which way, and how it gives."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import product
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.geometry.shapes import Ring
from elbrix.holding.contacts import ClampForce, Contact, HeldPart, Load
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.directions import look_between
from elbrix.holding.layout import Piece, PlacedElement
from elbrix.holding.limit import Limit, LimitSolver, least_exactly
from elbrix.holding.motion import Motion, name_motion
from elbrix.holding.seats import pressed_contacts
from elbrix.mechanics.strength import COUNTED
from elbrix.standards.materials import PRELOAD_SCATTER

#: A tightened stud pulls this share of its figure at worst, and the other at best: torque scatters, joints settle.
LOW_SHARE: Final = COUNTED
HIGH_SHARE: Final = 1 + PRELOAD_SCATTER
#: What is asked of the margin.
ENOUGH: Final = 2.0
#: Directions of the force at the worst place.
_DIRECTIONS: Final = 72
#: Two contacts press the same way when their normals agree to this.
_ALIKE: Final = 0.9
_MAX_CORNERS: Final = 64
#: While something is dragged; the margin then errs low, by a fortieth at most in all layouts of the tests.
_COARSE: Final = 2e-3
_FINE: Final = 1e-4  # of the map along the path: two thousandths low
_FEW: Final = 6


class Margin(Struct, frozen=True, kw_only=True):
    """What the limit solver says of a whole path, with low preload and the friction given."""

    least: float  #: the smallest multiple; infinite: unbounded everywhere; 0 when it does not rest
    rests: bool
    at_places: tuple[float, ...]  #: the least of every place of the path
    worst: int  #: which load of the cut, or the one beside the worst
    load: Load | None  #: the worst itself, in the direction in which it is worst
    motion: Motion
    limit: Limit | None
    with_figures: float  #: the same with every preload as figured
    at_corners: float  #: the same over mixtures of low and high preloads, with the worst load of every place
    mixed_all: bool = True  #: every mixture was tried; else each clamp alone high, and each alone low


def held_by(
    piece: Piece,
    seats: Sequence[Ring],
    placed: Sequence[PlacedElement],
    mu: float,
    share: float = LOW_SHARE,
    *,
    without: str = "",
) -> HeldPart:
    """The rigid body of a layout with every preload at a share of its figure.

    Args:
        without: Name of a thing that is taken off.
    """
    there = [p for p in placed if p.name != without]
    forces = tuple(replace(push, force_n=push.force_n * share) for p in there for push in p.forces)
    contacts = pressed_contacts(seats, piece.bottom_mm, piece.height_mm, mu, forces, piece.cg)
    bodies = tuple(c for p in there for c in p.contacts)
    return HeldPart(
        contacts=(*contacts, *(replace(c, mu=0.0) if c.passive else c for c in bodies)),
        forces=(*forces, *_grips(bodies, forces)),
        weight_n=piece.weight_n,
        cg=piece.cg,
    )


def _grips(bodies: Sequence[Contact], forces: Sequence[ClampForce]) -> list[ClampForce]:
    """Friction of what only stands there: as much as the clamps press the work against it, and no more.

    Two stops facing each other would else brace each other without limit, with nothing that presses.
    """
    found = []
    passive = [c for c in bodies if c.passive and c.mu > 0]
    for c in passive:
        alike = sum(1 for o in passive if sum(a * b for a, b in zip(o.inward, c.inward, strict=True)) > _ALIKE)
        pressed = sum(max(0.0, -p.force_n * sum(a * b for a, b in zip(p.along, c.inward, strict=True))) for p in forces)
        if pressed > 0:
            found.append(ClampForce(c.at, c.inward, 0.0, c.mu, c.name, min(pressed / alike, c.most_n)))
    return found


def sprung(piece: Piece, seats: Sequence[Ring], placed: Sequence[PlacedElement], mu: float) -> HeldPart:
    """The same for the elastic model, every preload as figured: springs know by themselves who is pressed."""
    forces = tuple(push for p in placed for push in p.forces)
    contacts = pressed_contacts(seats, piece.bottom_mm, piece.height_mm, mu, forces, piece.cg)
    seated = tuple(replace(c, mu=mu) for c in contacts)
    return HeldPart(
        contacts=(*seated, *(replace(c, most_n=math.inf) for p in placed for c in p.contacts)),
        forces=forces,
        weight_n=piece.weight_n,
        cg=piece.cg,
    )


def margin_of(held: HeldPart, cutting: CuttingLoad, *, whole: bool = True, dragged: bool = False) -> Margin:
    """The margin over all loads of a cut.

    Args:
        held: With low preloads.
        whole: Also with the figures and at the corners of the preload range.
        dragged: While something is being dragged: nothing is looked for between the directions.
    """
    solver = LimitSolver(held)
    loads = list(cutting.loads)
    loose = not any(p.force_n > 0 for p in held.forces)
    if not solver.rests or not loads or loose:
        motion = (
            Motion("unbounded", "nothing cuts")
            if not loads
            else Motion("no-rest", "it does not even lie still: it tips or slides under its clamps alone")
            if not solver.rests
            else Motion("loose", "nothing presses it: only its own weight keeps it where it lies")
        )
        return Margin(
            least=0.0 if loads else math.inf,
            rests=solver.rests or not loads,
            at_places=(0.0,) * len(cutting.path),
            worst=0,
            load=loads[0] if loads else None,
            motion=motion,
            limit=None,
            with_figures=0.0,
            at_corners=0.0,
        )
    limits = solver.solve(loads, tight=_FINE if whole else _COARSE)
    factors = [math.inf if x.factor is None else x.factor for x in limits]
    if whole:  # the few that may be the least, to the last digit
        few = sorted(range(len(factors)), key=lambda i: factors[i])[:_FEW]
        for i, limit in zip(few, solver.solve([loads[i] for i in few]), strict=True):
            limits[i], factors[i] = limit, math.inf if limit.factor is None else limit.factor
    if not dragged:
        look_between(solver, loads, limits, factors, cutting.each)
    worst = min(range(len(factors)), key=lambda i: factors[i])
    places = tuple(min(factors[i : i + cutting.each]) for i in range(0, len(factors), cutting.each))
    figured = cornered = factors[worst]
    mixed_all = True
    if whole:
        each = cutting.each
        finer = solver.solve(_turned(loads[worst]))
        if turned := [x for x in finer if x.factor is not None and x.factor < factors[worst]]:
            # Between the directions that are looked at everywhere one may be a little worse: at the worst place all are.
            least = min(turned, key=lambda x: x.factor or 0.0)
            loads[worst] = _turned(loads[worst])[finer.index(least)]
            limits[worst], factors[worst] = least, least.factor or 0.0
            at = worst // each
            places = (*places[:at], min(places[at], factors[worst]), *places[at + 1 :])
        hardest = [min(range(i, min(i + each, len(factors))), key=lambda k: factors[k]) for i in range(0, len(factors), each)]
        figured = _least(_scaled(held, 1 / LOW_SHARE), [loads[worst]])
        cornered, mixed_all = _corners(held, [loads[i] for i in hardest])
    return Margin(
        # What the least favourable tightening leaves is what can be counted on.
        least=min(factors[worst], cornered),
        rests=True,
        at_places=places,
        worst=worst,
        load=loads[worst],
        motion=name_motion(held, loads[worst], limits[worst]),
        limit=limits[worst],
        with_figures=figured,
        at_corners=min(cornered, factors[worst]),
        mixed_all=mixed_all,
    )


def _turned(load: Load) -> list[Load]:
    """The same force at the same place in every direction along the table; a drill's has none."""
    x, y, z = load.force_n
    size = math.hypot(x, y)
    if size < 1e-9:
        return [load]
    turns = (2 * math.pi * k / _DIRECTIONS for k in range(_DIRECTIONS))
    return [replace(load, force_n=(size * math.cos(a), size * math.sin(a), z)) for a in turns]


def _scaled(held: HeldPart, by: float) -> HeldPart:
    return replace(held, forces=tuple(_with(p, by) for p in held.forces))


def _least(held: HeldPart, loads: Sequence[Load], tight: float | None = None) -> float:
    """The least multiple of some loads; nothing where it does not even rest, so that a stud slides it while it is tightened."""
    solver = LimitSolver(held)
    if not solver.rests:
        return 0.0
    found = solver.solve(list(loads)) if tight is None else solver.solve(list(loads), tight=tight)
    return min(math.inf if x.factor is None else x.factor for x in found)


def _corners(held: HeldPart, loads: Sequence[Load]) -> tuple[float, bool]:
    """λ is concave in the preloads, so the worst of their range stands at one of its corners; and whether all were tried.

    The corner with every preload low is the layout itself and not tried again. The others are looked at coarsely, those that may
    be the worst to the last digit.
    """
    groups = sorted({p.name for p in held.forces if p.force_n > 0})
    if not groups:
        return math.inf, True
    high, n = HIGH_SHARE / LOW_SHARE, len(groups)
    whole = 2**n <= _MAX_CORNERS
    mixtures: list[tuple[float, ...]] = (
        [m for m in product((1.0, high), repeat=n) if max(m) > 1.0]
        if whole
        else [tuple(a if k == i else b for k in range(n)) for i in range(n) for a, b in ((high, 1.0), (1.0, high))]
    )

    def mixed(mixture: tuple[float, ...]) -> HeldPart:
        by = dict(zip(groups, mixture, strict=True))
        # What a stop earns by being pressed stays at the least of it.
        return replace(held, forces=tuple(_with(p, by.get(p.name, 1.0)) for p in held.forces))

    coarse = [_least(mixed(m), loads, _COARSE) for m in mixtures]
    return least_exactly(coarse, lambda i: _least(mixed(mixtures[i]), loads))[0], whole


def _with(push: ClampForce, by: float) -> ClampForce:
    return replace(push, force_n=push.force_n * by, pressed_n=push.pressed_n * by)


def times(factor: float) -> str:
    """A margin as said: "2.6×"."""
    return "no limit" if math.isinf(factor) else f"{factor:.1f}×" if factor < 10 else f"{factor:.0f}×"
