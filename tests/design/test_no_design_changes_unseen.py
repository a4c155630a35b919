"""What designs say and draw is held still: see `design_record`."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

import design_record
import records
from elbrix.design.family import all_families


@cache
def kept() -> dict[str, Any]:
    return design_record.kept()


@cache
def designs() -> dict[str, Any]:
    return {name: rest for name, *rest in design_record.designs()}


@pytest.mark.parametrize("name", design_record.kept())
def test_a_design(name: str) -> None:
    assert not records.differences(kept()[name], design_record.said(*designs()[name]), name)[:8]


def test_the_record_has_every_family_solved_and_refused() -> None:
    found = kept()
    assert set(found) == set(designs())
    for key in all_families():
        mine = [v for k, v in found.items() if k.partition(" ")[0] == key]
        assert len([v for v in mine if "refused" not in v]) >= 3, key
    assert sum("refused" in v for v in found.values()) > 15
    verdicts = {(c["key"], c["limits"]["no_below"] is None) for v in found.values() for c in v.get("checks", ())}
    assert len({k for k, _ in verdicts}) > 120
