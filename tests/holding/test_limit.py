"""The margin against closed forms, against a linear programme with many-sided cones, and against what must always be so."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.optimize import linprog

from elbrix.holding.contacts import Array, ClampForce, Contact, HeldPart, Load, strap_tip_n, wrench
from elbrix.holding.elastic import Springs
from elbrix.holding.limit import Limit, LimitSolver
from elbrix.holding.motion import name_motion
from elbrix.quantities.errors import ShopError

W = 100.0


def seats(mu: float = 0.2, length: float = 100.0, width: float = 60.0) -> tuple[Contact, ...]:
    return tuple(
        Contact((x, y, 0), (0, 0, 1), mu, f"seat {x:g},{y:g}") for x in (-length / 2, length / 2) for y in (-width / 2, width / 2)
    )


BLOCK = HeldPart(contacts=seats(), weight_n=W, cg=(0, 0, 20))


def one(held: HeldPart, load: Load) -> tuple[Limit, str]:
    limit = LimitSolver(held).solve([load])[0]
    return limit, name_motion(held, load, limit).mode


# --- worked by hand ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("load", "factor", "mode"),
    [
        (Load((0, 0, 0), (10, 0, 0)), 0.2 * W / 10, "slip"),
        (Load((0, 0, 300), (10, 0, 0)), W * 50 / (10 * 300), "tip"),
        (Load((0, 0, 0), (0, 0, 10)), W / 10, "lift"),
        (Load((0, 0, 0), (0, 0, 0), (0, 0, 100)), 0.2 * W * math.hypot(50, 30) / 100, "spin"),
        (Load((0, 0, 0), (0, 0, -10)), math.inf, "unbounded"),
        (Load((0, 0, 10), (1, 0, -10)), math.inf, "unbounded"),  # inside the friction cone
    ],
)
def test_a_block_on_a_table(load: Load, factor: float, mode: str) -> None:
    limit, named = one(BLOCK, load)
    assert limit.factor == pytest.approx(factor, rel=1e-6) and named == mode


def test_a_clamp_adds_its_friction_below_and_above() -> None:
    pressed = replace(BLOCK, forces=(ClampForce((0, 0, 40), (0, 0, -1), 1000.0),))
    assert one(pressed, Load((0, 0, 0), (10, 0, 0)))[0].factor == pytest.approx(0.2 * (W + 1000) / 10, rel=1e-6)
    grips = replace(BLOCK, forces=(ClampForce((0, 0, 0), (0, 0, -1), 1000.0, tip_mu=0.1),))
    assert one(grips, Load((0, 0, 0), (10, 0, 0)))[0].factor == pytest.approx((0.2 * (W + 1000) + 0.1 * 1000) / 10, rel=1e-6)


def test_a_strap_is_a_lever() -> None:
    assert strap_tip_n(9000, 30, 60) == pytest.approx(6000)  # moments about the heel: 9000·60 = F·90
    with pytest.raises(ShopError, match="arm"):
        strap_tip_n(9000, 0, 60)


def test_pulled_out_of_a_vise() -> None:
    fixed = tuple(Contact((x, 20, z), (0, -1, 0), 0.15) for x in (-30, 30) for z in (2, 18))
    bed = tuple(Contact((x, y, 0), (0, 0, 1), 0.15) for x in (-30, 30) for y in (-15, 15))
    jaw = tuple(ClampForce((x, -20, 10), (0, 1, 0), 2500.0, tip_mu=0.15) for x in (-30, 30))
    held = HeldPart(contacts=fixed + bed, forces=jaw, weight_n=20, cg=(0, 0, 10))
    limit, mode = one(held, Load((0, 0, 10), (0, 0, 100)))
    assert limit.factor == pytest.approx((20 + 2 * 0.15 * 5000) / 100, rel=1e-6) and mode == "pull-out"


def test_a_round_in_a_v_slides_along_it() -> None:
    r, mu, s = 15.0, 0.2, math.sqrt(0.5)
    flanks = tuple(Contact((x, side * r * s, -r * s), (0, -side * s, s), mu) for x in (-20, 20) for side in (-1, 1))
    held = HeldPart(contacts=flanks, weight_n=W)
    limit, mode = one(held, Load((0, 0, 0), (10, 0, 0)))
    # Friction down the flanks may wedge the round in: n = W/(2·s) + c, and √(µ²n² − c²) is most at c = µ²·n, so 2a =
    # µ·W/(s·√(1 − µ²)).
    assert limit.factor == pytest.approx(mu * W / s / math.sqrt(1 - mu**2) / 10, rel=1e-6) and mode == "slip"


def test_between_two_leaning_contacts_it_locks_itself() -> None:
    # Both normals lean by 20° from the line between them; with µ 0.4 the line is inside both cones (21.8°), with 0.3 it is not.
    lean = math.radians(20)
    for mu, locks in ((0.4, True), (0.3, False)):
        pair = (
            Contact((-10, 0, 0), (math.cos(lean), 0, math.sin(lean)), mu),
            Contact((10, 0, 0), (-math.cos(lean), 0, math.sin(lean)), mu),
        )
        held = HeldPart(contacts=pair, weight_n=0.0)
        limit = LimitSolver(held).solve([Load((0, 0, 0), (0, 0, -10))])[0]
        assert limit.factor == math.inf  # pressed in
        out = LimitSolver(held).solve([Load((0, 0, 0), (0, 0, 10))])[0]
        assert out.factor == (math.inf if locks else pytest.approx(0, abs=1e-6))


def test_nothing_on_that_side_and_nothing_below() -> None:
    smooth = HeldPart(contacts=seats(mu=0.0), weight_n=W, cg=(0, 0, 20))
    limit, mode = one(smooth, Load((0, 0, 10), (10, 0, 0)))
    assert limit.factor == pytest.approx(0, abs=1e-7) and mode == "insufficient"
    hanging = HeldPart(contacts=seats()[:2], weight_n=W, cg=(0, 0, 20))
    limit, mode = one(hanging, Load((0, 0, 0), (10, 0, 0)))
    assert limit.factor is None and mode == "no-rest"
    assert LimitSolver(HeldPart(contacts=(), weight_n=W)).solve([Load((0, 0, 0), (1, 0, 0))])[0].factor is None


def test_motion_in_words() -> None:
    held = BLOCK
    for force, words in (((10, 0, 0), "to the right"), ((0, -10, 0), "towards you"), ((-10, 0, 0), "to the left")):
        load = Load((0, 0, 0), force)
        assert words in name_motion(held, load, LimitSolver(held).solve([load])[0]).words
    spin = Load((0, 0, 0), (0, 0, 0), (0, 0, -100))
    assert "clockwise seen from above" in name_motion(held, spin, LimitSolver(held).solve([spin])[0]).words


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: Contact((0, 0, 0), (0, 0, 0), 0.1), "direction"),
        (lambda: Contact((0, 0, 0), (0, 0, 1), -0.1), "friction"),
        (lambda: Contact((0, math.nan, 0), (0, 0, 1), 0.1), "number"),
        (lambda: ClampForce((0, 0, 0), (0, 0, -1), -5), "force"),
        (lambda: Load((0, 0, 0), (math.inf, 0, 0)), "number"),
        (lambda: LimitSolver(BLOCK).solve([Load((0, 0, 0), (0, 0, 0))]), "load of nothing"),
        (lambda: HeldPart(contacts=(), weight_n=-1), "weighs"),
    ],
)
def test_what_cannot_be_is_refused(make: object, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        make()  # type: ignore[operator]


# --- a second road ----------------------------------------------------------------------------------------------------


def pyramid(held: HeldPart, load: Load, sides: int) -> float:
    """The same with many-sided cones, by a linear programme: never more than the true one."""
    columns = []

    def around(normal: tuple[float, float, float]) -> list[np.ndarray]:
        n = np.array(normal)
        t = np.cross(n, [1, 0, 0] if abs(n[0]) < 0.9 else [0, 1, 0])
        t /= np.linalg.norm(t)
        return [math.cos(a) * t + math.sin(a) * np.cross(n, t) for a in np.arange(sides) * 2 * math.pi / sides]

    for c in held.contacts:
        columns += [wrench(c.at, np.array(c.inward) + c.mu * u) for u in around(c.inward)]
    tips = [p for p in held.forces if p.tip_mu > 0]
    first = len(columns)
    for p in tips:
        columns += [wrench(p.at, u) for u in around(p.along)]
    share = np.zeros((len(tips), len(columns) + 1))
    for k in range(len(tips)):
        share[k, first + k * sides : first + (k + 1) * sides] = 1
    a = np.array([*columns, wrench(load.at, load.force_n) + np.array([0, 0, 0, *load.moment_nmm])]).T
    b = -sum((wrench(p.at, np.array(p.along) * p.force_n) for p in held.forces), wrench(held.cg, (0, 0, -held.weight_n)))
    rows = np.array([1, 1, 1, 0.01, 0.01, 0.01])
    found = linprog(
        [0.0] * len(columns) + [-1.0],
        A_eq=a * rows[:, None],
        b_eq=b * rows,
        A_ub=share if tips else None,
        b_ub=[p.tip_mu * p.force_n for p in tips] or None,
    )
    return math.inf if found.status == 3 else float(-found.fun)


def layout(rng: np.random.Generator, *, tips: bool) -> HeldPart:
    stops = (
        Contact((-60, -50, 10), (0, 1, 0), 0.15),
        Contact((60, -50, 10), (0, 1, 0), 0.15),
        Contact((-90, 0, 10), (1, 0, 0), 0.15),
    )
    ground = tuple(Contact((x, y, 0), (0, 0, 1), 0.15) for x in (-90, 90) for y in (-50, 50))
    forces = tuple(
        ClampForce((rng.uniform(-80, 80), rng.uniform(-45, 45), 30), (0, 0, -1), rng.uniform(1000, 8000), 0.1 * tips)
        for _ in range(3)
    )
    return HeldPart(contacts=ground + stops, forces=forces, weight_n=60, cg=(0, 0, 15))


def some_load(rng: np.random.Generator) -> Load:
    return Load((rng.uniform(-80, 80), rng.uniform(-50, 50), 30), tuple(rng.normal(size=3) * 500))  # type: ignore[arg-type]


@pytest.mark.parametrize("tips", [False, True])
@pytest.mark.parametrize("seed", range(6))
def test_a_linear_programme_agrees_from_below(seed: int, tips: bool) -> None:
    rng = np.random.default_rng(seed)
    held = layout(rng, tips=tips)
    loads = [some_load(rng) for _ in range(5)]
    for load, limit in zip(loads, LimitSolver(held).solve(loads), strict=True):
        assert limit.factor is not None
        coarse, fine = pyramid(held, load, 8), pyramid(held, load, 96)
        if math.isinf(limit.factor):
            continue
        assert coarse <= fine * (1 + 1e-6) <= limit.factor * (1 + 2e-6)
        assert fine >= limit.factor * (1 - 0.003)


@pytest.mark.parametrize("seed", range(10))
@pytest.mark.parametrize("tips", [False, True])
def test_the_motion_at_failure_is_one_that_nothing_there_can_resist(seed: int, tips: bool) -> None:
    """By virtual work, and in no numbers of the solver's own.

    Every contact parts at least as fast as friction slides, or its force could grow; and the load's work at the limit is that
    of weight, clamps and the friction of their tips, and of nothing else.
    """
    rng = np.random.default_rng(100 + seed)
    held = layout(rng, tips=tips)
    for load, limit in zip(loads := [some_load(rng) for _ in range(6)], LimitSolver(held).solve(loads), strict=True):
        if limit.factor is None or math.isinf(limit.factor):
            continue
        v, turning = np.array(limit.motion[:3]), np.array(limit.motion[3:])

        def speed(at: Sequence[float], v: Array = v, turning: Array = turning) -> Array:
            found: Array = v + np.cross(turning, at)
            return found

        fastest = max(float(np.linalg.norm(speed(c.at))) for c in held.contacts)
        assert fastest > 0
        for c in held.contacts:
            normal, here = np.array(c.inward), speed(c.at)
            parts = float(normal @ here)
            slides = float(np.linalg.norm(here - parts * normal))
            assert parts >= c.mu * slides - 1e-5 * fastest
        worked = float(np.array(load.force_n) @ speed(load.at) + np.array(load.moment_nmm) @ turning)
        given = -held.weight_n * float(np.array(held.up) @ speed(held.cg))
        grips = 0.0
        for f in held.forces:
            along, here = np.array(f.along), speed(f.at)
            given += f.force_n * float(along @ here)
            grips += f.grip_n * float(np.linalg.norm(here - (along @ here) * along))
        assert worked > 0
        assert limit.factor * worked == pytest.approx(grips - given, rel=2e-3, abs=1e-6 * fastest)


@pytest.mark.parametrize("pull", [(11.0, 7.0, 0.0), (11.0, 14.0, 0.0), (-6.0, 3.0, 1.0), (0.0, 9.0, 0.0)])
def test_a_seat_on_a_line_and_one_without_friction(pull: tuple[float, float, float]) -> None:
    # The weight stands on one contact alone: friction directions there draw ever closer together, and noise must not become an
    # answer.
    seats = tuple(Contact(at, (0.0, 0.0, 1.0), mu) for at, mu in (((0, 0, 0), 0.5), ((0, 2, 0), 1.0), ((11, 7, 0), 0.0)))
    held = HeldPart(contacts=seats, weight_n=100, cg=(0, 0, 20))
    limit = LimitSolver(held).solve([Load((0, 0, 30), pull)])[0]
    fine = pyramid(held, Load((0, 0, 30), pull), 720)
    assert limit.factor is not None and limit.factor == pytest.approx(fine, rel=2e-4)


def test_forces_at_the_limit_balance() -> None:
    rng = np.random.default_rng(4)
    held = layout(rng, tips=False)
    load = some_load(rng)
    limit = LimitSolver(held).solve([load])[0]
    assert limit.factor is not None
    up = sum(f * c.inward[2] for f, c in zip(limit.forces, held.contacts, strict=True))
    down = held.weight_n + sum(p.force_n for p in held.forces) - limit.factor * load.force_n[2]
    # What the side stops' friction carries upwards is not in the normal forces: it is at most µ times theirs.
    side = sum(f * c.mu for f, c in zip(limit.forces, held.contacts, strict=True) if abs(c.inward[2]) < 0.5)
    assert up == pytest.approx(down, abs=side + 1e-3)


# --- what must always be so -------------------------------------------------------------------------------------------


@settings(max_examples=25)
@given(st.integers(0, 10_000))
def test_one_more_clamp_never_lowers_it_nor_does_turning_change_it(seed: int) -> None:
    rng = np.random.default_rng(seed)
    held = layout(rng, tips=False)
    loads = [some_load(rng) for _ in range(4)]
    before = LimitSolver(held).solve(loads)
    more = replace(held, forces=(*held.forces, ClampForce((rng.uniform(-80, 80), rng.uniform(-45, 45), 30), (0, 0, -1), 3000.0)))
    for a, b in zip(before, LimitSolver(more).solve(loads), strict=True):
        assert b.factor is not None and a.factor is not None and b.factor >= a.factor * (1 - 1e-6)
    turn, _ = np.linalg.qr(rng.normal(size=(3, 3)))
    turn *= np.sign(np.linalg.det(turn))
    move = rng.normal(size=3) * 200

    def point(p: tuple[float, float, float]) -> tuple[float, float, float]:
        return tuple((turn @ np.array(p) + move).tolist())  # type: ignore[return-value]

    def way(v: tuple[float, float, float]) -> tuple[float, float, float]:
        return tuple((turn @ np.array(v)).tolist())  # type: ignore[return-value]

    turned = HeldPart(
        contacts=tuple(Contact(point(c.at), way(c.normal), c.mu) for c in held.contacts),
        forces=tuple(ClampForce(point(p.at), way(p.direction), p.force_n) for p in held.forces),
        weight_n=held.weight_n,
        cg=point(held.cg),
        gravity=way(held.gravity),
    )
    after = LimitSolver(turned).solve([Load(point(x.at), way(x.force_n)) for x in loads])
    for a, b in zip(before, after, strict=True):
        assert a.factor is not None and b.factor is not None
        assert (math.isinf(a.factor) and math.isinf(b.factor)) or b.factor == pytest.approx(a.factor, rel=1e-5)


@settings(max_examples=8)
@given(st.integers(0, 10_000), st.booleans())
def test_springs_never_hold_more_than_the_limit(seed: int, tips: bool) -> None:
    rng = np.random.default_rng(seed)
    held = layout(rng, tips=tips)
    loads = [some_load(rng) for _ in range(4)]
    found = [
        (x, r.factor)
        for x, r in zip(loads, LimitSolver(held).solve(loads), strict=True)
        if r.factor is not None and math.isfinite(r.factor)
    ]
    if not found:
        return
    for carried, (_, factor) in zip(
        Springs(held).solve([x for x, _ in found], [1.04 * f for _, f in found], steps=26), found, strict=True
    ):
        assert carried.reached <= factor * (1 + 1e-6)


def test_springs_share_a_weight_evenly_and_slip_where_a_block_slips() -> None:
    loads = [Load((0, 0, 0), (10, 0, 0)), Load((0, 0, 300), (10, 0, 0))]
    slide, tip = Springs(BLOCK).solve(loads, [2.1, 1.75], steps=42)
    assert slide.normal_n == pytest.approx((25, 25, 25, 25), rel=1e-4)
    assert slide.reached == pytest.approx(2.0, abs=0.051) and tip.reached == pytest.approx(W * 50 / 3000, abs=0.05)
    # Statically determinate: the far seats carry (W·50 + 10·300)/100, half each.
    assert tip.normal_n[2] == pytest.approx((W * 50 + 3000) / 100 / 2, rel=0.03)
    assert 0 < slide.moved_mm < 0.01
