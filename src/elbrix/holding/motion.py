"""The motion at failure in words: slip, spin, tip, lift, pull-out."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.holding.contacts import Array, HeldPart, Load
from elbrix.holding.limit import Limit

#: Shares that make one kind of motion the name of a mixed one.
_MAINLY: Final = 0.7
_TURNS: Final = 0.35
_ALONG: Final = (
    ("to the right", (1, 0, 0)),
    ("to the left", (-1, 0, 0)),
    ("away from you", (0, 1, 0)),
    ("towards you", (0, -1, 0)),
    ("up", (0, 0, 1)),
    ("down", (0, 0, -1)),
)


class Motion(Struct, frozen=True):
    """How it gives way."""

    mode: str  #: "slip", "spin", "tip", "lift", "pull-out", "insufficient", "no-rest" or "unbounded"
    words: str


def name_motion(held: HeldPart, load: Load, limit: Limit) -> Motion:
    """The motion of one limit.

    With friction the virtual motion lifts a sliding contact by µ per unit of sliding, which no real one does: what is named
    is the sliding.
    """
    if limit.factor is None:
        return Motion("no-rest", "it does not rest under its weight and clamps alone")
    if math.isinf(limit.factor):
        return Motion(
            "unbounded", "no multiple of this load moves it: it is pressed against its contacts, or held by its own friction"
        )
    if limit.factor < 1e-9:
        return Motion("insufficient", "nothing holds it against this load at all")
    given = held.weight_n + sum(p.force_n for p in held.forces)
    if held.contacts and max(limit.forces, default=0.0) < 1e-6 * max(given, 1e-9) and not any(p.tip_mu for p in held.forces):
        return Motion(
            "lift", "it lifts off its seat"
        )  # no contact carries anything any more; how it then turns is anybody's guess
    up = np.array(held.up)
    v0, turn = np.array(limit.motion[:3]), np.array(limit.motion[3:])
    points = np.array([c.at for c in held.contacts] + [p.at for p in held.forces] + [load.at])
    middle = points[:-1].mean(axis=0) if len(points) > 1 else points[-1]
    size = max(1.0, float(np.linalg.norm(np.ptp(points, axis=0))) / 2)
    v = v0 + np.cross(turn, middle)
    v = v - _false_lift(held, v0, turn, up)
    going, turning = float(np.linalg.norm(v)), float(np.linalg.norm(turn)) * size
    if turning > _TURNS * max(going, 1e-12):
        upright = float(turn @ up) / max(float(np.linalg.norm(turn)), 1e-300)
        if abs(upright) > _MAINLY:
            return Motion(
                "spin",
                f"it spins {'counter-clockwise' if upright > 0 else 'clockwise'} seen from above, about {_place(v0, turn, up)}",
            )
        return Motion(
            "tip", f"it tips about an edge, its far side going {_towards(np.cross(turn, points[-1] - _pivot(held, v0, turn)))}"
        )
    rising = float(v @ up) / max(going, 1e-300)
    if rising > _MAINLY:
        gripped = any(abs(float(np.array(c.inward) @ up)) < 0.5 and c.mu > 0 for c in held.contacts)
        if gripped:
            return Motion("pull-out", "it is pulled up out of its grip")
        return Motion("lift", "it lifts off its seat")
    return Motion("slip", f"it slides {_towards(v)}")


def _false_lift(held: HeldPart, v0: Array, turn: Array, up: Array) -> Array:
    """What every seat is lifted by for its sliding alone: not a motion of the piece."""
    seats = [c for c in held.contacts if c.mu != 0 and float(np.dot(c.inward, up)) >= 0.7]
    if not seats:
        return np.zeros(3)
    n = np.array([c.inward for c in seats])
    speed = v0 + np.cross(turn, np.array([c.at for c in seats]))
    off = (speed * n).sum(axis=1)
    slide = np.array([c.mu for c in seats]) * np.linalg.norm(speed - off[:, None] * n, axis=1)
    if ((slide > 0) & (off <= slide * 1.05 + 1e-9)).all():
        return np.asarray(up * off.min())
    return np.zeros(3)


def _pivot(held: HeldPart, v0: Array, turn: Array) -> Array:
    """The contact that moves least: what it tips about."""
    ats = np.array([c.at for c in held.contacts])
    if not len(ats):
        return np.zeros(3)
    speeds = np.linalg.norm(v0 + np.cross(turn, ats), axis=1)
    still = speeds <= speeds.min() + 1e-6 * max(speeds.max(), 1e-12)
    return np.asarray(ats[still].mean(axis=0))


def _place(v0: Array, turn: Array, up: Array) -> str:
    """Where the axis of a spin stands, in the plane the up direction is square to."""
    along = float(turn @ up)
    if abs(along) < 1e-15:
        return "itself"
    at = np.cross(up, v0) / along
    return f"X {at[0]:.0f}, Y {at[1]:.0f}"


def _towards(v: Array) -> str:
    length = float(np.linalg.norm(v))
    if length < 1e-12:
        return "nowhere"
    shares = sorted(((float(v @ np.array(d)) / length, words) for words, d in _ALONG), reverse=True)
    first, second = shares[0], shares[1]
    return f"{first[1]} and {second[1]}" if second[0] > 0.5 else first[1]
