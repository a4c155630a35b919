"""What angle settings say and draw is held still: see `angles_record`."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

import angles_record
import records
from elbrix.angles.setup import all_kinds


@cache
def kept() -> dict[str, Any]:
    return angles_record.kept()


@cache
def settings() -> dict[str, Any]:
    return {name: rest for name, *rest in angles_record.settings()}


@pytest.mark.parametrize("name", angles_record.kept())
def test_a_setting(name: str) -> None:
    assert not records.differences(kept()[name], angles_record.said(*settings()[name]), name)[:8]


def test_the_record_has_every_kind_solved_and_refused() -> None:
    found = kept()
    assert set(found) == set(settings())
    for key in all_kinds():
        mine = [v for v in found.values() if v.get("kind") == key]
        assert len(mine) >= 8, key
    assert sum("refused" in v for v in found.values()) > 5
    assert len({c["key"] for v in found.values() for c in v.get("checks", ())}) > 15
