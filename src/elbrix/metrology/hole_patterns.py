"""Holes where they were wanted against where they are: best fit, over pins, and which one is out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

import msgspec
import numpy as np

from elbrix.metrology.readings_in import Array, table
from elbrix.quantities.errors import ShopError

#: Chance of calling any good hole wrong, over the whole pattern.
_WRONG_SHARE: Final = 0.01
_STEPS: Final = 60
#: The covariance of a pattern grows with the square of its holes.
_MAX_HOLES: Final = 300


class FittedPattern(msgspec.Struct, frozen=True):
    """A pattern laid onto its wanted places.

    Attributes:
        shift_mm: (dx, dy) of the pattern; measured = turned wanted (about the origin) + shift.
        turn: Radians, counter-clockwise.
        residual_mm: (dx, dy) of each hole, measured − laid on.
        wrong: Indices of holes that noise does not explain; they do not take part in the fit.
        undecided: Something is out, but too few holes are left to say which.
    """

    shift_mm: tuple[float, float]
    turn: float
    residual_mm: tuple[tuple[float, float], ...]
    wrong: tuple[int, ...]
    undecided: bool


class LengthOverPins(msgspec.Struct, frozen=True):
    """A length over the pins in holes `a` and `b` (indices), mm."""

    a: int
    b: int
    over_mm: float


class OverPins(msgspec.Struct, frozen=True):
    """Holes found from lengths over pins.

    Attributes:
        positions_mm: (x, y) of each, in the frame of the wanted places.
        residual_mm: (dx, dy) of each, position − wanted.
        wrong: Indices of holes that noise does not explain.
        span_left_mm: Measured − adjusted, of each length.
        wrong_spans: Indices of lengths that do not agree with the rest.
        undecided: Something is out, but what is left cannot say which.
    """

    positions_mm: tuple[tuple[float, float], ...]
    residual_mm: tuple[tuple[float, float], ...]
    wrong: tuple[int, ...]
    span_left_mm: tuple[float, ...]
    wrong_spans: tuple[int, ...]
    undecided: bool


def best_fit(wanted: Sequence[Sequence[float]], measured: Sequence[Sequence[float]], sigma_mm: float) -> FittedPattern:
    """Lay a pattern of holes onto its measured places (turn and shift, no stretch) and name the holes that are out.

    One hole that is far out draws the fit toward itself and blames its neighbours; therefore the worst hole is
    left out and the rest fitted again until the rest is explained by the noise (χ² of both directions, 1 % shared
    by all holes).

    Args:
        wanted: (x, y), mm.
        measured: (x, y), mm, in the same order.
        sigma_mm: Standard deviation of one coordinate.

    Raises:
        ShopError: Fewer than two holes, unequal numbers, all in one place, no sigma.
    """
    _need_sigma(sigma_mm)
    if len(wanted) != len(measured):
        raise ShopError(
            "holes", f"{len(wanted)} wanted and {len(measured)} measured", "Each has its partner", "Complete the list"
        )
    nominal, found = (table("holes", rows, 2, 2, _MAX_HOLES) for rows in (wanted, measured))
    if np.ptp(nominal, axis=0).max() < 1e-6:
        raise ShopError("holes", "all holes are wanted in one place", "The pattern has no direction", "Check the places")
    cov = np.eye(2 * len(nominal)) * sigma_mm**2
    good, undecided = _good_holes(nominal, found, cov)
    turn, shift = _rigid(nominal[good], found[good])
    left = found - (nominal @ _turned(turn).T + shift)
    wrong = tuple(int(i) for i in np.flatnonzero(~good))
    return FittedPattern((float(shift[0]), float(shift[1])), turn, _pairs(left), wrong, undecided)


def over_pins(
    wanted: Sequence[Sequence[float]], pins_mm: Sequence[float], spans: Sequence[LengthOverPins], sigma_mm: float
) -> OverPins:
    """Places of holes from lengths over pins, in any order, by a free network.

    Lengths know neither where nor how turned the pattern is: it is laid onto the wanted places by least squares.

    Args:
        wanted: (x, y) of each hole, mm; the adjustment starts there.
        pins_mm: Pin diameter of each hole.
        spans: Lengths over pairs of pins.
        sigma_mm: Standard deviation of one length.

    Raises:
        ShopError: Too few lengths to fix the pattern, an index or a pin that is not there, no sigma.
    """
    _need_sigma(sigma_mm)
    nominal = table("over pins", wanted, 2, 2, _MAX_HOLES)
    distances = _centre_distances(len(nominal), pins_mm, spans)
    ends = np.array([(s.a, s.b) for s in spans])
    places = _adjust(nominal, ends, distances)
    design, reached = _distance_rows(places, ends)
    wrong_spans, unsure = _wrong_spans(design, distances - reached, sigma_mm)
    used = np.ones(len(ends), dtype=bool)
    used[list(wrong_spans)] = False
    if wrong_spans:  # a length that does not agree says nothing about the holes
        places = _adjust(nominal, ends[used], distances[used])
        design, reached = _distance_rows(places, ends)
    spread: Array = np.asarray(np.linalg.pinv(design[used].T @ design[used], rcond=1e-11) * sigma_mm**2, dtype=np.float64)
    left = distances - reached
    good, undecided = _good_holes(nominal, places, spread)
    turn, shift = _rigid(nominal[good], places[good])
    laid = (places - shift) @ _turned(turn)
    wrong = tuple(int(i) for i in np.flatnonzero(~good))
    return OverPins(_pairs(laid), _pairs(laid - nominal), wrong, tuple(left.tolist()), wrong_spans, undecided or unsure)


def _chi_squared(free: int, share: float) -> float:
    """What χ² of so many directions is beyond with a chance of `share`."""
    from scipy.special import chdtri  # slow to load: only when something was measured

    return float(chdtri(free, share))


def _need_sigma(sigma_mm: float) -> None:
    if not sigma_mm > 0:
        raise ShopError("holes", f"a sigma of {sigma_mm:g}", "Without noise every hole would be wrong", "Say what repeats show")


def _pairs(rows: Array) -> tuple[tuple[float, float], ...]:
    return tuple((float(x), float(y)) for x, y in rows)


def _turned(turn: float) -> Array:
    return np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])


def _rigid(wanted: Array, measured: Array) -> tuple[float, Array]:
    """(turn, shift) of least squares, without stretch: the angle of the sums of dot and cross products."""
    a, b = wanted - wanted.mean(axis=0), measured - measured.mean(axis=0)
    turn = math.atan2(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()), float((a * b).sum()))
    return turn, measured.mean(axis=0) - _turned(turn) @ wanted.mean(axis=0)


def _good_holes(wanted: Array, measured: Array, cov: Array) -> tuple[np.ndarray, bool]:
    """(mask of the holes that agree, undecided).

    Each round lays the pattern onto the holes that are still good and tests each of them by what is left of it,
    with the covariance of exactly that; the worst one beyond the limit goes out.
    """
    count = len(wanted)
    good = np.ones(count, dtype=bool)
    limit = _chi_squared(2, _WRONG_SHARE / count)
    while True:
        turn, shift = _rigid(wanted[good], measured[good])
        left = ((measured - shift) @ _turned(turn) - wanted).ravel()
        worst, by = _furthest(wanted, left, cov, good)
        if by <= limit:
            return good, False
        if int(good.sum()) > 3:
            good[worst] = False
            continue
        # Of three, the one is out without which the other two keep their distance, if that is one only.
        out = [
            hole for hole in range(count) if good[hole] and good.sum() == 3 and _agree_without(wanted, measured, cov, good, hole)
        ]
        if len(out) != 1:
            return good, True
        good[out[0]] = False
        return good, False


def _agree_without(wanted: Array, measured: Array, cov: Array, good: np.ndarray, hole: int) -> bool:
    rest = good.copy()
    rest[hole] = False
    turn, shift = _rigid(wanted[rest], measured[rest])
    left = ((measured - shift) @ _turned(turn) - wanted).ravel()
    return _furthest(wanted, left, cov, rest)[1] <= _chi_squared(2, _WRONG_SHARE / len(wanted))


def _furthest(wanted: Array, left: Array, cov: Array, good: np.ndarray) -> tuple[int, float]:
    """(hole, its χ²) that agrees least, of the good ones, against the fit of the good ones."""
    moves = np.zeros((2 * len(wanted), 3))
    moves[0::2, 0] = moves[1::2, 1] = 1.0
    size = max(1e-9, float(np.abs(wanted - wanted[good].mean(axis=0)).max()))
    moves[0::2, 2] = -(wanted[:, 1] - wanted[good, 1].mean()) / size
    moves[1::2, 2] = (wanted[:, 0] - wanted[good, 0].mean()) / size
    use = np.repeat(good, 2)
    held = moves * use[:, None]
    keep = np.eye(2 * len(wanted)) - moves @ np.linalg.solve(held.T @ moves, held.T)
    spread = keep @ cov @ keep.T
    worst, by = -1, -1.0
    for hole in np.flatnonzero(good):
        two = slice(2 * hole, 2 * hole + 2)
        # Directions the fit takes up wholly carry no information; pinv leaves them out.
        chi = float(left[two] @ np.linalg.pinv(spread[two, two], rcond=1e-9, hermitian=True) @ left[two])
        if chi > by:
            worst, by = int(hole), chi
    return worst, by


def _centre_distances(count: int, pins_mm: Sequence[float], spans: Sequence[LengthOverPins]) -> Array:
    if len(pins_mm) != count or any(not (p > 0 and math.isfinite(p)) for p in pins_mm):
        raise ShopError("over pins", f"{len(pins_mm)} pins for {count} holes", "Each hole has its own pin", "List all of them")
    for s in spans:
        if s.a == s.b or not (0 <= s.a < count and 0 <= s.b < count):
            raise ShopError(
                "over pins", f"a length from hole {s.a} to hole {s.b}", f"Holes are numbered 0 to {count - 1}", "Correct it"
            )
    distances = np.array([s.over_mm - (pins_mm[s.a] + pins_mm[s.b]) / 2 for s in spans], dtype=np.float64)
    for s, distance in zip(spans, distances, strict=True):
        if not distance > 0:
            raise ShopError(
                "over pins",
                f"{s.over_mm:g} over holes {s.a} and {s.b} is less than the pins",
                "A length over two pins is more than half of both",
                "Measure it again, outside to outside",
            )
    return distances


def _distance_rows(places: Array, ends: np.ndarray) -> tuple[Array, Array]:
    """(derivatives of the distances by all coordinates, the distances)."""
    apart = places[ends[:, 1]] - places[ends[:, 0]]
    reached = np.hypot(apart[:, 0], apart[:, 1])
    along = apart / reached[:, None]
    design = np.zeros((len(ends), places.size))
    rows = np.arange(len(ends))
    for axis in (0, 1):
        design[rows, 2 * ends[:, 0] + axis] = -along[:, axis]
        design[rows, 2 * ends[:, 1] + axis] = along[:, axis]
    return design, reached


def _adjust(nominal: Array, ends: np.ndarray, distances: Array) -> Array:
    """Gauss-Newton with the shortest step, which neither shifts nor turns the pattern."""
    if len(ends) < 2 * len(nominal) - 3:
        raise ShopError(
            "over pins",
            f"{len(ends)} lengths do not fix {len(nominal)} holes",
            f"It takes at least {2 * len(nominal) - 3}",
            "Measure more pairs, across as well as along",
        )
    places = nominal.copy()
    if np.hypot(*(places[ends[:, 1]] - places[ends[:, 0]]).T).min() < 1e-6:
        raise ShopError("over pins", "two holes are wanted in one place", "They have no direction", "Check the places")
    values = np.linalg.svd(_distance_rows(places, ends)[0], compute_uv=False)
    if values[2 * len(nominal) - 4] < 1e-6 * values[0]:
        raise ShopError(
            "over pins", "a hole could still move", "The lengths leave it free", "Measure it from two others, across each other"
        )
    for _ in range(_STEPS):
        design, reached = _distance_rows(places, ends)
        step = np.linalg.lstsq(design, distances - reached, rcond=1e-9)[0].reshape(-1, 2)
        places = places + step
        if np.abs(step).max() < 1e-12 * max(1.0, float(np.abs(places).max())):
            return places
    if np.abs(step).max() > 1e-6:
        raise ShopError("over pins", "the lengths fit no pattern near the wanted one", "The fit does not settle", "Check them")
    return places


def _wrong_spans(design: Array, left: Array, sigma_mm: float) -> tuple[tuple[int, ...], bool]:
    """(lengths that do not agree with the rest, undecided): the worst goes out, the rest is judged again."""
    limit = _chi_squared(1, _WRONG_SHARE / len(left))
    use = np.ones(len(left), dtype=bool)
    wrong: list[int] = []
    # Near the solution the fit is linear: what another set of lengths would leave follows from these residuals.
    while True:
        rows = design[use]
        over = int(use.sum()) - (design.shape[1] - 3)
        step = np.linalg.lstsq(rows, left[use], rcond=1e-9)[0]
        now = left - design @ step
        spread = 1 - np.einsum("ij,jk,ik->i", rows, np.linalg.pinv(rows.T @ rows, rcond=1e-11), rows)
        chi = np.where(spread > 1e-9, now[use] ** 2 / (sigma_mm**2 * np.maximum(spread, 1e-9)), 0.0)
        worst = int(np.argmax(chi))
        if over < 1 or chi[worst] <= limit:
            return tuple(sorted(wrong)), False
        rank = np.linalg.matrix_rank(np.delete(rows, worst, axis=0), tol=1e-6)
        if over == 1 or rank < design.shape[1] - 3:
            return tuple(sorted(wrong)), True
        index = int(np.flatnonzero(use)[worst])
        use[index] = False
        wrong.append(index)
