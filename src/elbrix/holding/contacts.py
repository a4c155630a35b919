"""What holds a rigid piece.

Contacts that push with friction, clamps that press with a known force, and the loads on it. N, mm, N·mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from elbrix.quantities.errors import ShopError

Vec = tuple[float, float, float]
Array = NDArray[Any]
_MAX_MU = 5.0


def _unit(v: Vec, where: str) -> Vec:
    length = math.hypot(*v)
    if not (math.isfinite(length) and length > 1e-12):
        raise ShopError(where, "a direction of no length", "A contact pushes some way", "Give a direction that is not zero")
    return v[0] / length, v[1] / length, v[2] / length


def _finite(where: str, *values: float) -> None:
    if not all(math.isfinite(v) for v in values):
        raise ShopError(where, "a number that is none", "Places and forces are numbers", "Check the entries")


class Contact(Struct, frozen=True):
    """A place where something passive pushes on the piece, never pulls."""

    at: Vec
    normal: Vec  #: into the piece, any length
    mu: float
    name: str = ""
    passive: bool = False  #: only stands there: it presses back as hard as it is pressed, and no harder
    most_n: float = math.inf  #: what it bears before it gives way, N

    def __post_init__(self) -> None:
        _finite("Contact", *self.at, *self.normal, self.mu)
        _unit(self.normal, "Contact")
        if not self.most_n >= 0:
            raise ShopError("Contact", f"it bears {self.most_n:g} N", "It is zero or more", "Check the sign")
        if not 0 <= self.mu <= _MAX_MU:
            raise ShopError(
                "Contact",
                f"friction {self.mu:g}",
                f"It is from 0 to {_MAX_MU:g}; dry steel on steel is near 0.15",
                "Check the number",
            )

    @property
    def inward(self) -> Vec:
        return _unit(self.normal, "Contact")


class ClampForce(Struct, frozen=True):
    """A clamp's tip: a force that does not change, and friction it may give sideways besides."""

    at: Vec
    direction: Vec  #: of the force on the piece, any length
    force_n: float
    tip_mu: float = 0.0
    name: str = ""
    pressed_n: float = 0.0  #: it does not push with, but earns friction by: a stop others press the work against

    @property
    def grip_n(self) -> float:
        """The most it gives sideways."""
        return self.tip_mu * (self.force_n + self.pressed_n)

    def __post_init__(self) -> None:
        _finite("Clamp", *self.at, *self.direction, self.force_n, self.tip_mu, self.pressed_n)
        _unit(self.direction, "Clamp")
        if self.force_n < 0 or not 0 <= self.tip_mu <= _MAX_MU:
            raise ShopError(
                "Clamp",
                f"a force of {self.force_n:g} N with friction {self.tip_mu:g}",
                "Both are zero or more",
                "Check the signs",
            )

    @property
    def along(self) -> Vec:
        return _unit(self.direction, "Clamp")


class Load(Struct, frozen=True):
    """A force at a point, and a moment besides."""

    at: Vec
    force_n: Vec
    moment_nmm: Vec = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        _finite("Load", *self.at, *self.force_n, *self.moment_nmm)


class HeldPart(Struct, frozen=True, kw_only=True):
    """A piece with everything on it but the cutting load."""

    contacts: tuple[Contact, ...]
    forces: tuple[ClampForce, ...] = ()
    weight_n: float = 0.0
    cg: Vec = (0.0, 0.0, 0.0)
    gravity: Vec = (0.0, 0.0, -1.0)

    def __post_init__(self) -> None:
        _finite("Weight", self.weight_n, *self.cg)
        if self.weight_n < 0:
            raise ShopError("Weight", f"{self.weight_n:g} N", "A piece weighs something", "Leave the minus away")

    @property
    def up(self) -> Vec:
        g = _unit(self.gravity, "Gravity")
        return -g[0], -g[1], -g[2]


def wrench(at: Sequence[float] | Array, force: Sequence[float] | Array) -> Array:
    """(force, moment about the origin) of a force at a point."""
    (x, y, z), (u, v, w) = at, force
    return np.array([u, v, w, y * w - z * v, z * u - x * w, x * v - y * u], float)


def strap_tip_n(stud_force_n: float, tip_arm_mm: float, heel_arm_mm: float) -> float:
    """Force of a strap's tip: the stud's pull shared as on a lever, F·heel/(tip + heel).

    Args:
        tip_arm_mm: Stud to tip.
        heel_arm_mm: Stud to heel.

    Raises:
        ShopError: An arm or force that is none.
    """
    _finite("Strap", stud_force_n, tip_arm_mm, heel_arm_mm)
    if tip_arm_mm <= 0 or heel_arm_mm <= 0 or stud_force_n < 0:
        raise ShopError(
            "Strap", "an arm or a force of nothing", "The stud stands between tip and heel", "Check the distances from the stud"
        )
    return stud_force_n * heel_arm_mm / (tip_arm_mm + heel_arm_mm)
