"""What plans say is held still: see `making_record`."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

import making_record
import records


@cache
def kept() -> dict[str, Any]:
    return making_record.kept()


@cache
def works() -> dict[str, Any]:
    return {name: rest for name, *rest in making_record.works()}


@pytest.mark.parametrize("name", making_record.kept())
def test_a_plan(name: str) -> None:
    now = making_record.said(*works()[name])
    assert not records.differences(kept()[name], now, name)[:8]


def test_the_record_has_every_kind_of_plan() -> None:
    plans = kept()
    assert set(plans) == set(works())
    whole = [p for p in plans.values() if "refused" not in p]
    assert len(whole) > 115
    ids = {s["id"].partition(".")[0] for p in whole for s in p["setups"]}
    assert len(ids) > 25 and {"saw", "square", "part", "face", "length", "turn"} <= ids
    assert sum(bool(p["problems"]) for p in whole) > 10 and sum(bool(p["assumed"]) for p in whole) > 10
    assert "faceplate" in {s["fixture"] for p in whole for s in p["setups"]}
