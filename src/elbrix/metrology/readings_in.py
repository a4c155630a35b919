"""Readings as arrays, refused when they cannot carry the answer."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from elbrix.metrology.rows import MAX_READINGS, check_rows
from elbrix.quantities.errors import ShopError

Array = NDArray[np.float64]

#: Singular values below this share of the largest carry no direction: the places lie on a line, or on one spot.
_NO_DIRECTION: Final = 1e-9


def table(where: str, rows: Sequence[Sequence[float]], columns: int, least: int, most: int = MAX_READINGS) -> Array:
    """Readings as an array of shape (n, columns); arguments as of `check_rows`.

    Raises:
        ShopError: As `check_rows`.
    """
    check_rows(where, rows, columns, least, most)
    return np.asarray(rows, dtype=np.float64)


def over_places(places: Array) -> Array:
    """The design of a plane or line over places: them at size 1 (one scale for all directions), and the constant."""
    size = float(np.abs(places).max())
    return np.column_stack([places / size if size > 0 else places, np.ones(len(places))])


def need_directions(where: str, design: Array, why: str) -> None:
    """Refuse places that leave an unknown undetermined.

    Args:
        where: Words for the message.
        design: One row for each reading, one column for each unknown, all of about size 1.
        why: What is wrong with such places.

    Raises:
        ShopError: The columns are not independent.
    """
    values = np.linalg.svd(design, compute_uv=False)
    if len(design) < design.shape[1] or values[-1] <= _NO_DIRECTION * values[0]:
        raise ShopError(where, why, "The fit could lie anyhow through them", "Add a place well away from the others")
