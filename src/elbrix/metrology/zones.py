"""Flatness and straightness: least squares and the narrowest zone."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from elbrix.metrology.readings_in import Array, need_directions, over_places, table


class PlaneFit(msgspec.Struct, frozen=True):
    """Heights over a plane z = slope_x·x + slope_y·y + height.

    Slopes are in mm per mm, everything else in mm. `off_mm` are the heights over the least-squares plane.
    """

    slope_x: float
    slope_y: float
    height_mm: float
    off_mm: tuple[float, ...]
    zone_mm: float

    @property
    def flatness_mm(self) -> float:
        """Highest to lowest over the least-squares plane."""
        return max(self.off_mm) - min(self.off_mm)

    @property
    def high_point(self) -> int:
        return int(np.argmax(self.off_mm))

    @property
    def low_point(self) -> int:
        return int(np.argmin(self.off_mm))


class LineFit(msgspec.Struct, frozen=True):
    """Heights over a line z = slope·x + height; slope in mm per mm, the rest in mm."""

    slope: float
    height_mm: float
    off_mm: tuple[float, ...]
    zone_mm: float

    @property
    def straightness_mm(self) -> float:
        """Highest to lowest over the least-squares line."""
        return max(self.off_mm) - min(self.off_mm)


def fit_plane(points: Sequence[Sequence[float]]) -> PlaneFit:
    """Flatness of a surface from heights at places.

    Args:
        points: (x, y, reading), mm.

    Raises:
        ShopError: Fewer than three places, or all on one line.
    """
    data = table("flatness", points, 3, 3)
    middle = data.mean(axis=0)
    places = data[:, :2] - middle[:2]
    need_directions("flatness", over_places(places), "all places lie on one line")
    heights = data[:, 2] - middle[2]
    slopes, off = _least_squares(places, heights)
    height = float(middle[2] - slopes @ middle[:2])
    zone = _narrowest(places, heights, off)
    return PlaneFit(float(slopes[0]), float(slopes[1]), height, tuple(off.tolist()), zone)


def fit_line(points: Sequence[Sequence[float]]) -> LineFit:
    """Straightness of an edge or a slideway from heights along it.

    Args:
        points: (x, reading), mm.

    Raises:
        ShopError: Fewer than two places, or all at one.
    """
    data = table("straightness", points, 2, 2)
    middle = data.mean(axis=0)
    places = data[:, :1] - middle[:1]
    need_directions("straightness", over_places(places), "all readings are at one place")
    heights = data[:, 1] - middle[1]
    slopes, off = _least_squares(places, heights)
    zone = _narrowest(places, heights, off)
    return LineFit(float(slopes[0]), float(middle[1] - slopes[0] * middle[0]), tuple(off.tolist()), zone)


def _least_squares(places: Array, heights: Array) -> tuple[Array, Array]:
    """(slopes, heights over the fit); places and heights are about their means, so the constant is zero."""
    slopes: Array = np.asarray(np.linalg.lstsq(places, heights, rcond=None)[0], dtype=np.float64)
    return slopes, heights - places @ slopes


def _narrowest(places: Array, heights: Array, off: Array) -> float:
    """The least distance, along z, of two parallel planes (lines) with every point between.

    A linear programme over the residuals of the least-squares fit, everything brought to size 1 so that the
    solver's tolerance is relative; what is returned is measured on the points, so it is never too small.
    """
    from scipy.optimize import linprog  # half a second to load: only when a zone is worked out

    size = float(off.max() - off.min())
    tiny = 1e-14 * float(np.abs(heights).max() + 1e-300)
    if size <= tiny or len(places) <= places.shape[1] + 1:
        return 0.0 if len(places) <= places.shape[1] + 1 else size
    reach = np.abs(places).max(axis=0)
    scaled, residual = places / reach, off / size
    ones = np.ones((len(places), 1))
    none = np.zeros((len(places), 1))
    # unknowns: slopes, lower edge, upper edge
    rows = np.vstack([np.hstack([scaled, ones, none]), np.hstack([-scaled, none, -ones])])
    limits = np.concatenate([residual, -residual])
    wanted = np.array([0.0] * places.shape[1] + [-1.0, 1.0])
    solved = linprog(wanted, A_ub=rows, b_ub=limits, bounds=(None, None), method="highs-ds")
    if solved.x is None:
        return size
    best = _range(residual - scaled @ solved.x[: places.shape[1]])
    tight = np.flatnonzero(limits - rows @ solved.x < 1e-7)
    if len(tight) >= len(wanted):
        exact = np.linalg.lstsq(rows[tight], limits[tight], rcond=None)[0]
        best = min(best, _range(residual - scaled @ exact[: places.shape[1]]))
    return min(size, best * size)


def _range(values: Array) -> float:
    return float(values.max() - values.min())
