"""What inspections say and draw is held still: see `inspecting_record`."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

import inspecting_record
import records
from elbrix.inspecting.inspection import all_kinds


@cache
def kept() -> dict[str, Any]:
    return inspecting_record.kept()


@cache
def inspections() -> dict[str, Any]:
    return dict(inspecting_record.inspections())


@pytest.mark.parametrize("name", inspecting_record.kept())
def test_an_inspection(name: str) -> None:
    assert not records.differences(kept()[name], inspecting_record.said(inspections()[name]), name)[:8]


def test_the_record_has_every_kind_with_readings_and_without() -> None:
    found = kept()
    assert set(found) == set(inspections())
    for key in all_kinds():
        mine = [v for v in found.values() if v.get("kind") == key]
        assert mine, key
    assert sum("refused" in v for v in found.values()) > 5
    assert len({c["key"] for v in found.values() for c in v.get("checks", ())}) > 12
    assert sum(bool(v.get("findings")) for v in found.values()) > 10
