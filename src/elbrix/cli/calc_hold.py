"""The holding calculation of `elbrix calc`."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from elbrix.cli.calc_angles import number
from elbrix.holding.contacts import ClampForce, Contact, HeldPart, Load, Vec, strap_tip_n
from elbrix.holding.limit import Limit, LimitSolver
from elbrix.holding.motion import name_motion
from elbrix.quantities.errors import ShopError

_MAX = 10_000


def _vector(asked: Mapping[str, Any], key: str, default: Vec | None = None) -> Vec:
    value = asked.get(key, default)
    if (
        not isinstance(value, list | tuple)
        or len(value) != 3
        or not all(isinstance(v, int | float) and not isinstance(v, bool) and math.isfinite(v) for v in value)
    ):
        raise ShopError("hold_limit", f"“{key}” is missing or not three numbers", "It is x, y and z", f'Give "{key}": [0, 0, 1]')
    return float(value[0]), float(value[1]), float(value[2])


def _rows(asked: Mapping[str, Any], key: str) -> list[Mapping[str, Any]]:
    rows = asked.get(key, [])
    if not isinstance(rows, list) or len(rows) > _MAX or not all(isinstance(r, dict) for r in rows):
        raise ShopError("hold_limit", f"“{key}” is no list of objects", "Each is one of them", f'Give "{key}": [{{…}}]')
    return rows


def _push(row: Mapping[str, Any]) -> ClampForce:
    if "stud_force_N" in row:
        force = strap_tip_n(number(row, "stud_force_N"), number(row, "tip_arm_mm"), number(row, "heel_arm_mm"))
    else:
        force = number(row, "force_N")
    return ClampForce(_vector(row, "position_mm"), _vector(row, "direction"), force, number(row, "tip_mu", 0.0))


def _load(row: Mapping[str, Any]) -> Load:
    return Load(
        _vector(row, "point_mm", (0.0, 0.0, 0.0)),
        _vector(row, "force_N", (0.0, 0.0, 0.0)),
        _vector(row, "moment_Nmm", (0.0, 0.0, 0.0)),
    )


def hold_limit(asked: Mapping[str, Any]) -> dict[str, Any]:
    """The largest multiple of each load that is still balanced; the contract is in docs/command-line.md."""
    contacts = tuple(
        Contact(_vector(r, "position_mm"), _vector(r, "normal_into_part"), number(r, "mu", 0.0)) for r in _rows(asked, "contacts")
    )
    held = HeldPart(
        contacts=contacts,
        forces=tuple(_push(r) for r in _rows(asked, "clamps")),
        weight_n=number(asked, "weight_N", 0.0),
        cg=_vector(asked, "cg_mm", (0.0, 0.0, 0.0)),
        gravity=_vector(asked, "gravity_direction", (0.0, 0.0, -1.0)),
    )
    many = "loads" in asked
    rows = _rows(asked, "loads") if many else _rows({"load": [asked.get("load")]}, "load")
    if not rows:
        raise ShopError(
            "hold_limit", "there is no load", "The limit is a multiple of it", 'Give "load": {"point_mm": …, "force_N": …}'
        )
    loads = [_load(r) for r in rows]
    answers = [_told(held, load, limit) for load, limit in zip(loads, LimitSolver(held).solve(loads), strict=True)]
    return {key: [a[key] for a in answers] for key in answers[0]} if many else answers[0]


def _told(held: HeldPart, load: Load, limit: Limit) -> dict[str, Any]:
    motion = name_motion(held, load, limit)
    factor = "unbounded" if limit.factor is not None and math.isinf(limit.factor) else limit.factor
    return {"lambda": factor, "mode": motion.mode, "motion": motion.words}
