"""How many times the cutting load can still be balanced: the limit of a rigid piece with true friction cones, many loads at once.

Weight and clamp forces are given; contacts push with any force inside their cone; a clamp's tip may give friction up to its
share. The largest multiple λ of a load that some admissible set of contact forces balances is a linear programme with endlessly
many columns: one for every direction of friction. A revised simplex needs only one of them at a time. The dual vector of a step
is a virtual motion; the best friction of a contact under it points straight against its sliding, so the entering column is
computed, never looked up. Every λ on the way is feasible, so stopping early errs low. The last dual vector is the motion at
failure.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.holding.contacts import Array, HeldPart, Load, wrench
from elbrix.quantities.errors import ShopError

_ROUNDS: Final = 400
_FRESH: Final = 25  # rounds between new inverses
_PIVOT: Final = 1e-10
_NOISE: Final = 64 * float(np.finfo(float).eps)
#: How much a dual constraint may be broken, as a share of the fastest contact: λ is then right to about this share times the
#: number of contacts.
_TIGHT: Final = 1e-9
_SHAKE: Final = 1e-9  # of the right side, against cycling
_GOLDEN: Final = (math.sqrt(5) - 1) / 2
_AT_REST: Final = 1e-6


class Limit(Struct, frozen=True):
    """The answer for one load."""

    factor: float | None  #: λ; infinite: unbounded; None: the piece does not even rest under weight and clamps
    motion: tuple[
        float, ...
    ]  #: virtual velocity (3) of the origin and turning (3, rad per mm of it) at failure; zeros when there is none
    forces: tuple[float, ...] = ()  #: normal force of each contact at the limit, N


def least_exactly(coarse: Sequence[float], exactly: Callable[[int], float], most: int = 24) -> tuple[float, int]:
    """(the least of some factors, which) where only coarse ones are known, each a hair low.

    The least of them is worked out to the last digit, then what is the least after that, until it is one that was. After so
    many it stays as it is, which errs low.
    """
    found, done = list(coarse), set[int]()
    while True:
        i = min(range(len(found)), key=found.__getitem__)
        if i in done or len(done) >= most or not math.isfinite(found[i]):
            return found[i], i
        found[i] = exactly(i)
        done.add(i)


class _Tableau(Struct):
    """The simplex of many loads, one row each."""

    live: Array  #: which load
    basis: Array
    inverse: Array
    x: Array
    cost: Array
    ids: Array

    def kept(self, mask: Array) -> _Tableau:
        return _Tableau(self.live[mask], self.basis[mask], self.inverse[mask], self.x[mask], self.cost[mask], self.ids[mask])

    @property
    def dual(self) -> Array:
        found: Array = np.einsum("lm,lmn->ln", self.cost, self.inverse)
        return found


def _skew(points: Array) -> Array:
    """(C, 3, 3) that turn a force into its moment, p × f."""
    found = np.zeros((len(points), 3, 3))
    x, y, z = points[:, 0], points[:, 1], points[:, 2]
    found[:, 0, 1], found[:, 0, 2] = -z, y
    found[:, 1, 0], found[:, 1, 2] = z, -x
    found[:, 2, 0], found[:, 2, 1] = -y, x
    return found


def _motion_of(points: Array) -> Array:
    """(6, 3·C): a virtual motion (v, ω) times it is the velocity v + ω × p of every point, all x before all y and z."""
    found = np.zeros((6, 3, len(points)))
    found[:3] = np.eye(3)[:, :, None]
    found[3:] = _skew(points).transpose(1, 2, 0)
    return found.reshape(6, -1)


class LimitSolver:
    """One layout; build once, ask for many loads."""

    def __init__(self, held: HeldPart) -> None:
        self.held = held
        points = [c.at for c in held.contacts] + [p.at for p in held.forces]
        spread = np.ptp(np.array(points or [(0.0, 0.0, 0.0)]), axis=0)
        self._middle = np.mean(np.array(points or [(0.0, 0.0, 0.0)]), axis=0)
        self._size = max(1.0, float(np.linalg.norm(spread)) / 2)  # moments are divided by it, so that all six rows weigh alike
        self._tips = [p for p in held.forces if p.grip_n > 0]
        n, k = len(held.contacts), len(self._tips)
        # Contacts that bear no more than so much: each has a row for its share, as a tip has.
        self._weak = np.flatnonzero([math.isfinite(c.most_n) for c in held.contacts])
        self._contacts, self._rows = n, 6 + k + len(self._weak)
        # Contacts, then tips. A tip is a contact that does not push, whose friction is a share of its own row.
        at = np.array([c.at for c in held.contacts] + [p.at for p in self._tips]).reshape(n + k, 3)
        at = (at - self._middle) / self._size
        self._normals = np.array([c.inward for c in held.contacts] + [p.along for p in self._tips]).reshape(n + k, 3)
        self._pushes = np.repeat((1.0, 0.0), (n, k))
        self._mu = np.array([c.mu for c in held.contacts] + [1.0] * k)
        self._own_row = np.full(n + k, -1)
        self._own_row[n:] = 6 + np.arange(k)
        self._own_row[self._weak] = 6 + k + np.arange(len(self._weak))
        self._has_row = np.flatnonzero(self._own_row >= 0)
        self._skew = _skew(at)
        self._motion = _motion_of(at)
        given = np.zeros(6)
        for push in held.forces:
            given += self._wrench(push.at, np.array(push.along) * push.force_n)
        given += self._wrench(held.cg, -np.array(held.up) * held.weight_n)
        most = [held.contacts[i].most_n for i in self._weak]
        self._b = np.concatenate([-given, [p.grip_n for p in self._tips], most])
        self._scale = max(1.0, float(np.abs(self._b).max()))
        self._start: _Tableau | None = None
        self._rests = self._find_rest()

    def _wrench(self, at: object, force: Array) -> Array:
        found = wrench((np.asarray(at, float) - self._middle), force)
        found[3:] /= self._size
        return found

    @property
    def rests(self) -> bool:
        """Whether weight and clamps alone are balanced."""
        return self._rests

    # --- the columns -------------------------------------------------------------------------------------------------

    def _price(self, y: Array) -> tuple[Array, Array, Array]:
        """(broken by, which column, its friction direction) for dual vectors (L, rows): the most broken constraint of each."""
        count, points = len(self._mu), self._normals.T
        if not self._rows - 6 + count:
            return np.zeros(len(y)), np.full(len(y), -1), np.zeros((len(y), 3))
        # Component by component: sums over a last axis of three cost several times as much.
        slide = (y[:, :6] @ self._motion).reshape(len(y), 3, count)
        off = slide[:, 0] * points[0] + slide[:, 1] * points[1] + slide[:, 2] * points[2]
        slide -= off[:, None] * points
        fast = np.sqrt(slide[:, 0] ** 2 + slide[:, 1] ** 2 + slide[:, 2] ** 2)
        broken = np.empty((len(y), count + self._rows - 6))
        broken[:, :count] = off * self._pushes - self._mu * fast
        broken[:, self._has_row] += y[:, self._own_row[self._has_row]]
        broken[:, count:] = y[:, 6:]
        which, rows = broken.argmin(axis=1), np.arange(len(y))
        way = np.zeros((len(y), 3))
        point = np.flatnonzero(which < count)
        i = which[point]
        way[point] = -slide[point, :, i] / np.maximum(fast[point, i], 1e-300)[:, None]
        return broken[rows, which], which, way

    def _columns(self, which: Array, way: Array) -> Array:
        """The columns (L, rows) of some entering forces."""
        found = np.zeros((len(which), self._rows))
        count = len(self._mu)
        point = np.flatnonzero(which < count)
        i = which[point]
        force = self._normals[i] * self._pushes[i, None] + self._mu[i, None] * way[point]
        found[point, :3], found[point, 3:6] = force, np.einsum("cij,cj->ci", self._skew[i], force)
        own = self._own_row[i]
        found[point[own >= 0], own[own >= 0]] = 1.0
        slack = np.flatnonzero(which >= count)
        found[slack, 6 + which[slack] - count] = 1.0
        return found

    # --- the simplex -------------------------------------------------------------------------------------------------

    def _find_rest(self) -> bool:
        """Phase 1: a basis that balances weight and clamps, or the proof that there is none."""
        m = self._rows
        signs = np.where(self._b < 0, -1.0, 1.0)
        basis = np.diag(signs)[None].copy()
        cost, ids = np.full((1, m), -1.0), np.full((1, m), -2)  # -2: a stand-in that must go
        for k in range(m - 6):  # the shares of tips and of weak contacts start as their own slack, not as stand-ins
            cost[0, 6 + k], ids[0, 6 + k] = 0.0, len(self._mu) + k
        # No two alike, between one and two: multiples of the golden ratio. NumPy's chance would be another sixth of its loading.
        uneven = 1.0 + np.arange(1, m + 1) * _GOLDEN % 1.0
        shaken = np.abs(self._b)[None] + _SHAKE * self._scale * uneven[None]
        t = _Tableau(np.zeros(1, int), basis, basis.copy(), shaken, cost, ids)
        for turn in range(_ROUNDS):
            y = t.dual
            broken, which, way = self._price(y)
            # A column is worth entering when it lowers the stand-ins: its cost is 0, so when y·a < 0.
            if broken[0] > -_TIGHT * max(1e-300, float(self._speed(y)[0])):
                break
            if not self._pivot(t, self._columns(which, way), np.zeros(1), which, turn)[0][0]:
                break  # at the end of what the numbers can tell: the stand-ins are bounded below
        exact = np.linalg.solve(t.basis, self._b[None, :, None])[..., 0]
        if float(np.abs(exact[t.ids == -2]).sum()) > _AT_REST * self._scale:
            return False
        self._start = t
        return True

    def _speed(self, y: Array) -> Array:
        """The fastest a contact moves under each dual vector, for tolerances."""
        found: Array = np.linalg.norm(y[:, :3], axis=1) + np.linalg.norm(y[:, 3:6], axis=1) + np.abs(y[:, 6:]).sum(axis=1)
        return found

    def _pivot(self, t: _Tableau, column: Array, price: Array, entering: Array, turn: int) -> tuple[Array, Array]:
        """Bring one column into each basis: (where that was done, where only noise would stop it); neither: nothing stops it."""
        d = np.einsum("lij,lj->li", t.inverse, column)
        # What is below the rounding of its own terms is noise: two nearly parallel columns of one contact make much of it.
        noise = np.einsum("lij,lj->li", np.abs(t.inverse), np.abs(column)) * _NOISE
        firm = d > np.maximum(noise, _PIVOT)
        ratio = np.where(firm, np.maximum(t.x, 0.0) / np.where(firm, d, 1.0), np.inf)
        if self._start is not None:
            # After phase 1 a stand-in is at nothing and must stay there, whichever way the column would push it.
            ratio = np.where((t.ids == -2) & (np.abs(d) > 1e-8), 0.0, ratio)
        least = ratio.min(axis=1)
        moves: Array = np.isfinite(least)
        tied = ratio <= least[:, None] * (1 + 1e-12) + 1e-300
        leave = np.where(tied, np.abs(d), -1.0).argmax(axis=1)
        rows = np.flatnonzero(moves)
        if len(rows):
            r = leave[rows]
            pivot = d[rows, r]
            step = (
                np.maximum(t.x[rows, r], 0.0) / pivot
            )  # a hair below nothing is nothing: taken as it is, it grows with every change
            line = t.inverse[rows, r] / pivot[:, None]
            t.inverse[rows] -= d[rows][:, :, None] * line[:, None, :]
            t.inverse[rows, r] = line
            t.x[rows] -= d[rows] * step[:, None]
            t.x[rows, r] = step
            t.basis[rows, :, r] = column[rows]
            t.cost[rows, r] = price[rows]
            t.ids[rows, r] = entering[rows]
            if turn % _FRESH == _FRESH - 1:
                t.inverse[rows] = np.linalg.inv(t.basis[rows])
        return moves, ~moves & (d > _PIVOT).any(axis=1)

    def solve(self, loads: list[Load] | tuple[Load, ...], tight: float = _TIGHT) -> list[Limit]:
        """The limit of every load.

        Args:
            tight: How much a contact may still be wrong, as a share of the fastest; a coarse one stops earlier, and errs low.

        Raises:
            ShopError: A load of nothing.
        """
        if not self._rests or self._start is None:
            return [Limit(None, (0.0,) * 6) for _ in loads]
        m = self._rows
        wanted = np.zeros((len(loads), m))
        at = np.array([load.at for load in loads], float).reshape(-1, 3) - self._middle
        wanted[:, :3] = np.array([load.force_n for load in loads], float).reshape(-1, 3)
        wanted[:, 3:6] = np.array([load.moment_nmm for load in loads], float).reshape(-1, 3)
        wanted[:, 3:6] = (wanted[:, 3:6] + np.einsum("cij,cj->ci", _skew(at), wanted[:, :3])) / self._size
        strength = np.linalg.norm(wanted, axis=1)
        if (strength < 1e-12).any():
            raise ShopError("Load", "a load of nothing", "The margin is a multiple of the load", "Give a force or a moment")
        wanted /= strength[:, None]
        factors = np.full(len(loads), np.inf)
        motions = np.zeros((len(loads), 6))
        forces = np.zeros((len(loads), self._contacts))
        count, start = len(loads), self._start
        t = _Tableau(
            np.arange(count),
            np.repeat(start.basis, count, axis=0),
            np.repeat(np.linalg.inv(start.basis), count, axis=0),
            np.repeat(start.x, count, axis=0),
            np.zeros((count, m)),
            np.repeat(start.ids, count, axis=0),
        )
        moves, _ = self._pivot(t, wanted.copy(), np.ones(count), np.full(count, -1), 0)  # -1: λ itself
        t = t.kept(moves)
        for turn in range(1, _ROUNDS):
            if not len(t.live):
                break
            y = t.dual
            broken, which, way = self._price(y)
            done = (broken >= -tight * self._speed(y)) | (turn == _ROUNDS - 1)
            if done.any():
                self._keep(t.kept(done), factors, motions, forces)
                t, which, way = t.kept(~done), which[~done], way[~done]
            if len(t.live):
                moves, noisy = self._pivot(t, self._columns(which, way), np.zeros(len(t.live)), which, turn)
                if noisy.any():  # as good as the numbers allow: λ is a hair low
                    self._keep(t.kept(noisy), factors, motions, forces)
                t = t if moves.all() else t.kept(moves)  # nothing stops λ of the others
        # The numbers were of a load of strength 1, about the middle, with lengths in `size`.
        turns = motions[:, 3:] / self._size
        moved = np.concatenate([motions[:, :3] - np.cross(turns, self._middle), turns], axis=1).tolist()
        whole = np.where(np.isinf(factors), math.inf, np.maximum(0.0, factors) / strength).tolist()
        return [Limit(w, tuple(m), tuple(f)) for w, m, f in zip(whole, moved, forces.tolist(), strict=True)]

    def _keep(self, t: _Tableau, factors: Array, motions: Array, forces: Array) -> None:
        """λ from a fresh solution of the unshaken right side, and the motion."""
        x = np.linalg.solve(t.basis, np.repeat(self._b[None, :, None], len(t.live), axis=0))[..., 0]
        factors[t.live] = (t.cost * x).sum(axis=1)
        motions[t.live] = t.dual[:, :6]
        for row, i in enumerate(t.live):
            for at, kind in enumerate(t.ids[row].tolist()):
                if 0 <= kind < self._contacts:
                    forces[i, kind] += max(0.0, x[row, at])
