"""Reads the data files, and the one error for "not in the table"."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from types import MappingProxyType
from typing import Any, Final

import msgspec
from msgspec import Struct

from elbrix.quantities.errors import ShopError

_DATA: Final = Path(__file__).parent / "data"
Table = MappingProxyType[str, Any]


class TableValue(Struct, frozen=True):
    """A looked-up value with its pedigree."""

    value: float
    unit: str
    source: str  #: which standard
    kind: str  #: "exact" (by definition), "standard" (a table) or "reference" (measure your own)
    name: str = ""  #: of the thing itself, where it has one: drill "#7"


@cache
def table(name: str) -> Table:
    """One data file, read once. Each has `source`, `kind` and `as_of` beside its rows."""
    return MappingProxyType(msgspec.json.decode((_DATA / f"{name}.json").read_bytes()))


def not_in_table(where: str, asked: str, have: list[str] | tuple[str, ...]) -> ShopError:
    """Nothing is interpolated: what the table does not hold is said, with what it does hold."""
    shown = ", ".join(have[:24]) + (" …" if len(have) > 24 else "")
    return ShopError(where, f"{asked} is not in the table", "Sizes outside a table are never guessed", f"The table has: {shown}")


def row(name: str, part: str, key: str, where: str) -> Any:
    """One row of a data file's part."""
    rows = table(name)[part]
    if key not in rows:
        raise not_in_table(where, key, list(rows))
    return rows[key]
