"""The motion at failure in words: slip, spin, tip, lift, pull-out."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.holding.contacts import Array, HeldPart, Load
from elbrix.holding.limit import Limit
from elbrix.results.length_text import length

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
                f"it spins flat, {'counter-clockwise' if upright > 0 else 'clockwise'} seen from above, about"
                f" {_place(v0, turn, up)}",
            )
        if words := _in_a_groove(held, v0, turn):
            return Motion("turn", words)
        return Motion("tip", _tips(held, v0, turn, points))
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
    return f"X {length(at[0], 0)}, Y {length(at[1], 0)}"


#: Contacts that a motion leaves where they are move this little of what the others do.
_STILL: Final = 0.05


def _tips(held: HeldPart, v0: Array, turn: Array, points: Array) -> str:
    """Over which side it tips: the one whose contacts stay, and where the other goes."""
    pivot = _pivot(held, v0, turn)
    far = _towards(np.cross(turn, points[-1] - pivot))
    seats = np.array([c.at for c in held.contacts if c.inward[2] > 0.5])
    if len(seats):
        off = pivot - (seats.min(axis=0) + seats.max(axis=0)) / 2
        half = np.maximum(np.ptp(seats, axis=0) / 2, 1.0)
        along, across = abs(float(turn[1])), abs(float(turn[0]))
        if along > across and abs(off[0]) > 0.5 * half[0]:
            return (
                f"it tips over its {'right' if off[0] > 0 else 'left'} edge, at X {length(pivot[0], 0)}, its far side going {far}"
            )
        if across >= along and abs(off[1]) > 0.5 * half[1]:
            return (
                f"it tips over its {'rear' if off[1] > 0 else 'front'} edge, at Y {length(pivot[1], 0)}, its far side going {far}"
            )
    return f"it tips about X {length(pivot[0], 0)}, Y {length(pivot[1], 0)}, Z {length(pivot[2], 0)}, its far side going {far}"


def _in_a_groove(held: HeldPart, v0: Array, turn: Array) -> str:
    """A round that turns about its own axis: every contact only slides, along the same circle; empty for another motion."""
    if len(held.contacts) < 2:
        return ""
    axis = turn / max(float(np.linalg.norm(turn)), 1e-300)
    normals = np.array([c.inward for c in held.contacts])
    if np.abs(normals @ axis).max() > 0.3:
        return ""  # something holds it along its axis: no round in a V
    speeds = v0 + np.cross(turn, np.array([c.at for c in held.contacts]))
    fast = np.linalg.norm(speeds, axis=1)
    if fast.min() < _STILL * max(fast.max(), 1e-300) or np.ptp(fast) > 0.3 * fast.max():
        return ""
    off = np.abs((speeds * normals).sum(axis=1))
    if (off > 0.5 * fast).any():
        return ""
    sides = np.linalg.norm(normals - (normals @ np.array(held.up))[:, None] * np.array(held.up), axis=1)
    if sides.max() < 0.3:
        return ""  # a flat seat
    way = "X" if abs(axis[0]) > 0.7 else "Y" if abs(axis[1]) > 0.7 else "its axis"
    return f"it turns in its seat about its own axis, along {way}"


def _towards(v: Array) -> str:
    length = float(np.linalg.norm(v))
    if length < 1e-12:
        return "nowhere"
    shares = sorted(((float(v @ np.array(d)) / length, words) for words, d in _ALONG), reverse=True)
    first, second = shares[0], shares[1]
    return f"{first[1]} and {second[1]}" if second[0] > 0.5 else first[1]
