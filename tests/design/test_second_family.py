"""One new module is all a family takes.

A tiny one, found, solved, drawn, exported, planned and catalogued without another line.
"""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from elbrix.book.designs import issue_revision, new_design, plan_doc, slot_fits, solve_doc
from elbrix.design import families
from elbrix.design.family import all_families, find_family
from elbrix.design.files import design_json, file_bytes
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

#: Families that ship.
BEFORE = len(all_families())
MODULE = Path(__file__).parents[1] / "specimens" / "washer_plate"


@pytest.fixture
def with_washer_plate(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(families, "__path__", [*families.__path__, str(MODULE)])


@pytest.mark.usefixtures("with_washer_plate")
def test_the_core_takes_it_up(demo_shop: Shop, kernel: Kernel) -> None:
    assert "washer_plate" in all_families() and len(all_families()) == BEFORE + 1
    family = find_family("washer plate")
    doc = new_design(family, "w", "hazel", "middle slot", "Thick washer", pieces=3)
    design = solve_doc(doc, demo_shop)
    assert design.check("edge").verdict.value == "go"
    assert kernel.ask("mass", family.solid(design))["volume_mm3"] == pytest.approx(30 * 30 * 8 - 3.14159265 * 25 * 8, rel=1e-6)
    assert file_bytes(family, design, kernel, "step", "Washer", "2026-01-01T00:00:00").startswith(b"ISO-10303-21")
    assert json.dumps(design_json(family, design))
    plan = plan_doc(doc, design, demo_shop)
    assert [s.id for s in plan.setups][:2] == ["saw", "square.A"] and plan.bar is not None
    assert slot_fits(issue_revision(doc, demo_shop, "try"), demo_shop) == ()


def test_without_it_nothing_is_left_behind() -> None:
    assert "washer_plate" not in all_families() and len(all_families()) == BEFORE
