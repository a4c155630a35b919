"""Who carries what, and which contact slips first.

The rigid piece on springs that only push, with friction that remembers its slip.

The limit of `limit.py` is the most that any split of the forces allows. Real contacts are elastic, and the split is what the
order of
clamping made it. Here every contact is a normal spring that cannot pull and a sideways spring that holds up to µ times the
normal force.
Weight first, then the clamps one after another, then the load in steps. The stiffness of a contact is a guess, so
displacements are an order
of magnitude; forces depend on the ratios only.
"""

from __future__ import annotations

from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.holding.contacts import Array, HeldPart, Load, wrench
from elbrix.results.progress import Watch, unwatched

#: N per mm of one machined contact, and sideways: guesses between a ground pad and a rough one.
NORMAL_N_MM: Final = 50_000.0
SIDEWAYS: Final = 0.7
_ROUNDS: Final = 40
_CLOSE: Final = 1e-6
_TINY: Final = 1e-12


class Carried(Struct, frozen=True):
    """What the springs say of one load."""

    reached: float  #: the largest multiple of the load that was still balanced, up to what was tried
    slips_at: float  #: multiple at which the first contact or tip slides; infinite: none does up to there
    slips_first: str  #: its name
    normal_n: tuple[float, ...]  #: of each contact at the whole load, or the last step reached
    slip_share: tuple[float, ...]  #: sideways force over µ·N of each contact then; 1: it slides
    moved_mm: float  #: of the point of the load, from clamped to the whole load: an order of magnitude


class Springs:
    """One layout on springs."""

    def __init__(self, held: HeldPart, normal_n_mm: float = NORMAL_N_MM) -> None:
        self.held = held
        points = np.array([c.at for c in held.contacts] + [p.at for p in held.forces] or [(0.0, 0.0, 0.0)], float)
        self._middle = points.mean(axis=0)
        self._size = max(1.0, float(np.linalg.norm(np.ptp(points, axis=0))) / 2)
        n, k = len(held.contacts), len(held.forces)
        normals = np.array([c.inward for c in held.contacts] + [p.along for p in held.forces]).reshape(n + k, 3)
        self._n = normals
        self._tip = np.arange(n + k) >= n
        self._mu = np.array([c.mu for c in held.contacts] + [p.tip_mu for p in held.forces])
        arm = (points[: n + k] - self._middle) / self._size
        self._jac = np.zeros((n + k, 3, 6))  # velocity of a point for motion (u, size·θ)
        for i, r in enumerate(arm):
            self._jac[i, :, :3] = np.eye(3)
            self._jac[i, :, 3:] = -np.array([[0, -r[2], r[1]], [r[2], 0, -r[0]], [-r[1], r[0], 0]])
        self._kn, self._kt = normal_n_mm, SIDEWAYS * normal_n_mm
        # A whisper of stiffness in every direction, so that a motion nothing resists is found by its size and not by a
        # singular matrix.
        self._whisper = 1e-9 * normal_n_mm
        self._forces = np.array([p.force_n for p in held.forces])

    def _scaled(self, at: object, force: object) -> Array:
        found = wrench(np.asarray(at, float) - self._middle, np.asarray(force, float))
        found[3:] /= self._size
        return found

    def solve(self, loads: list[Load], up_to: list[float], steps: int = 24, watch: Watch = unwatched) -> list[Carried]:
        """Every load in steps up to a multiple of itself.

        Args:
            up_to: For each load, how far to try: its limit is a good choice, and at least 1.
        """
        count, held = len(loads), self.held
        wanted = np.array(
            [self._scaled(x.at, x.force_n) + np.concatenate([np.zeros(3), np.array(x.moment_nmm) / self._size]) for x in loads]
        )
        q = np.zeros((count, 6))
        slip = np.zeros((count, len(self._n), 3))
        base = np.repeat(self._scaled(held.cg, -np.array(held.up) * held.weight_n)[None], count, axis=0)
        on = np.zeros(len(held.forces))
        alive = np.ones(count, bool)
        order = list(dict.fromkeys(p.name for p in held.forces))
        for name in (None, *order):  # weight, then the clamps in order; what one screw does, the jaws of a vise, at once
            for k, push in enumerate(held.forces):
                if push.name == name:
                    on[k] = self._forces[k]
            q, slip, good = self._step(q, slip, base, on)
            alive &= good
        start = q.copy()
        tops = np.array(up_to)
        reached, slips_at = np.zeros(count), np.full(count, np.inf)
        first = np.full(count, -1)
        normal, share, moved = np.zeros((count, len(self._n))), np.zeros((count, len(self._n))), np.zeros(count)
        factors = np.linspace(0.0, 1.0, steps + 1)[1:]
        at = [np.asarray(x.at, float) - self._middle for x in loads]
        arms = np.array(at) / self._size
        for number, share_of in enumerate(factors):
            watch(number / steps)
            if not alive.any():
                break
            factor = tops * share_of
            trial_q, trial_slip, good = self._step(q, slip, base + wanted * factor[:, None], on)
            good &= alive
            q[good], slip[good] = trial_q[good], trial_slip[good]
            alive = good
            reached[good] = factor[good]
            n_now, s_now = self._shares(q, slip, on)
            sliding = (s_now > 0.999) & ((self._mu > 0)[None])
            new = good & sliding.any(axis=1) & (first < 0)
            first[new] = sliding[new].argmax(axis=1)
            slips_at[new] = factor[new]
            whole = good & ((factor <= 1.0 + 1e-9) | (moved == 0))
            normal[whole], share[whole] = n_now[whole], s_now[whole]
            drift = q - start
            moved[whole] = np.linalg.norm(drift[:, :3] + np.cross(drift[:, 3:], arms), axis=1)[whole]
        names = [c.name for c in held.contacts] + [p.name for p in held.forces]
        contacts = len(held.contacts)
        return [
            Carried(
                float(reached[i]),
                float(slips_at[i]),
                names[first[i]] if first[i] >= 0 else "",
                tuple(normal[i, :contacts].tolist()),
                tuple(share[i, :contacts].tolist()),
                float(moved[i]),
            )
            for i in range(count)
        ]

    def _contact_forces(self, q: Array, slip: Array, on: Array) -> tuple[Array, Array, Array, Array, Array]:
        """(normal force, sideways force, the sideways force the spring alone would have, moved sideways, gap)."""
        d = np.einsum("cij,lj->lci", self._jac, q)
        gap = np.einsum("lci,ci->lc", d, self._n)
        sideways = d - gap[..., None] * self._n[None]
        normal = np.where(self._tip[None], 0.0, self._kn * np.maximum(0.0, -gap))
        if self._tip.any():
            normal[:, self._tip] = on[None]
        trial = -self._kt * (sideways - slip)
        most = self._mu[None] * normal
        size = np.linalg.norm(trial, axis=2)
        friction = np.where((size <= most)[..., None], trial, trial * (most / np.maximum(size, _TINY))[..., None])
        return normal, friction, trial, sideways, gap

    def _shares(self, q: Array, slip: Array, on: Array) -> tuple[Array, Array]:
        normal, friction, _, _, _ = self._contact_forces(q, slip, on)
        most = self._mu[None] * normal
        return normal, np.where(most > 1e-9, np.linalg.norm(friction, axis=2) / np.maximum(most, 1e-300), 0.0)

    def _residual(self, q: Array, slip: Array, outside: Array, on: Array) -> Array:
        normal, friction, _, _, _ = self._contact_forces(q, slip, on)
        force = friction + normal[..., None] * self._n[None]
        left: Array = outside + np.einsum("lci,cij->lj", force, self._jac) - self._whisper * q
        return left

    def _step(self, q0: Array, slip: Array, outside: Array, on: Array) -> tuple[Array, Array, Array]:
        """Balance one step by Newton's method with a line search; (motion, slip, which balanced)."""
        q = q0.copy()
        scale = np.maximum(1.0, np.abs(outside).max(axis=1) + on.sum())
        r = self._residual(q, slip, outside, on)
        for _ in range(_ROUNDS):
            size = np.abs(r).max(axis=1)
            if (size <= _CLOSE * scale).all():
                break
            move = np.linalg.solve(self._tangent(q, slip, on), r[..., None])[..., 0]
            best_q, best_r, best = q, r, np.linalg.norm(r, axis=1)
            better = np.zeros(len(q), bool)
            length = 1.0
            for _ in range(8):
                there = q + length * move
                rest = self._residual(there, slip, outside, on)
                now = np.linalg.norm(rest, axis=1)
                take = ~better & (now < best)
                best_q, best_r = np.where(take[:, None], there, best_q), np.where(take[:, None], rest, best_r)
                better |= take
                if better.all():
                    break
                length *= 0.5
            if not better.any():
                break
            q, r = best_q, best_r
        good = (np.abs(r).max(axis=1) <= 100 * _CLOSE * scale) & (
            np.abs(q).max(axis=1) < 0.01 * self._size + 1e3 * scale / self._kn
        )
        _, friction, _, sideways, _ = self._contact_forces(q, slip, on)
        return q, sideways + friction / self._kt, good

    def _tangent(self, q: Array, slip: Array, on: Array) -> Array:
        normal, _, trial, _, gap = self._contact_forces(q, slip, on)
        most = self._mu[None] * normal
        size = np.linalg.norm(trial, axis=2)
        pressed = (gap <= _TINY) & ~self._tip[None]  # touching counts: the first step has nothing else to stand on
        nn = np.einsum("ci,cj->cij", self._n, self._n)
        flat = np.eye(3)[None] - nn
        stick = size <= most
        way = trial / np.maximum(size, _TINY)[..., None]
        k = np.where(pressed[..., None, None], self._kn * nn[None], 0.0)
        turned = flat[None] - np.einsum("lci,lcj->lcij", way, way)
        sliding = self._kt * (most / np.maximum(size, _TINY))[..., None, None] * turned
        # Pressing harder lets it hold more: the friction of a sliding contact follows its normal force.
        sliding = sliding - np.where(
            pressed[..., None, None], -self._kn * self._mu[None, :, None, None] * np.einsum("lci,cj->lcij", way, self._n), 0.0
        )
        k = k + np.where(
            stick[..., None, None],
            np.where((pressed | (self._tip[None] & (normal > 0)))[..., None, None], self._kt * flat[None], 0.0),
            sliding,
        )
        whole = np.einsum("cai,lcab,cbj->lij", self._jac, k, self._jac)
        found: Array = whole + self._whisper * np.eye(6)[None]
        return found
