"""What is told of the limit belongs together: the worst load, how many times it, and what each contact bears, balance.

The contact forces stood for the direction that was looked for last, the load beside them for one up to half a gap away.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import linprog

from elbrix.holding.contacts import HeldPart, Load, wrench
from elbrix.shop.shop import Shop
from holding_record import layouts
from layouts_tools import solve_recorded

LAYOUTS = list(layouts())
_SIDES = 64


def _left_over(held: HeldPart, load: Load, factor: float, normals: tuple[float, ...]) -> float:
    """The least that is left unbalanced, as a share of the clamps and the cut: frictions are free within their cones."""
    balance = wrench(held.cg, (0, 0, -held.weight_n))
    balance = balance + sum((wrench(p.at, np.array(p.along) * p.force_n) for p in held.forces), np.zeros(6))
    balance = balance + factor * (wrench(load.at, load.force_n) + np.concatenate([np.zeros(3), load.moment_nmm]))
    columns, limits = [], []

    def along_the_face(at: object, inward: object, most: float) -> None:
        n = np.array(inward, float)
        u = np.cross(n, (1, 0, 0) if abs(n[0]) < 0.9 else (0, 1, 0))
        u /= np.linalg.norm(u)
        v = np.cross(n, u)
        mine = []
        for k in range(_SIDES):
            a = 2 * math.pi * k / _SIDES
            mine.append(len(columns))
            columns.append(wrench(at, math.cos(a) * u + math.sin(a) * v))  # type: ignore[arg-type]
        limits.append((mine, most / math.cos(math.pi / _SIDES)))

    for c, force in zip(held.contacts, normals, strict=True):
        balance = balance + wrench(c.at, np.array(c.inward) * force)
        if c.mu * force > 0:
            along_the_face(c.at, c.inward, c.mu * force)
    for p in held.forces:
        if p.grip_n:
            along_the_face(p.at, p.along, p.grip_n)
    size = np.array([1, 1, 1, 50, 50, 50.0])
    count = len(columns)
    equal = np.column_stack([*columns, np.zeros((6, 0))]) / size[:, None] if columns else np.zeros((6, 0))
    given = balance / size
    # Minimise t with |equal·x + given| ≤ t in every row.
    upper = np.block([[equal, -np.ones((6, 1))], [-equal, -np.ones((6, 1))]])
    bound = np.concatenate([-given, given])
    for mine, most in limits:
        row = np.zeros(count + 1)
        row[mine] = 1.0
        upper, bound = np.vstack([upper, row]), np.append(bound, most)
    found = linprog([0.0] * count + [1.0], A_ub=upper, b_ub=bound)
    assert found.status == 0
    scale = factor * math.hypot(*load.force_n) + sum(p.force_n for p in held.forces) + 1.0
    return float(found.fun) / scale


@pytest.mark.parametrize("number", range(len(LAYOUTS)))
def test_the_forces_told_at_the_limit_balance(number: int, demo_shop: Shop) -> None:
    hold = solve_recorded(number, LAYOUTS[number], demo_shop)
    limit, load = hold.margin.limit, hold.margin.load
    if limit is None or limit.factor is None or not limit.forces or load is None:
        pytest.skip("nothing limits it")
    normals = tuple(limit.forces[: len(hold.held.contacts)])
    assert _left_over(hold.held, load, limit.factor, normals) < 2e-3
