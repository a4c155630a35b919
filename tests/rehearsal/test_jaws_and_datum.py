"""What runs into the jaws does so wherever Y is zero, and what does not, does not."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.rehearsal.clearances import in_the_way

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())


def planned(id: str, datum: str) -> Plan:
    doc = DOCS[id]
    return plan_work(doc.title, family_of(doc).work(solve_doc(doc, SHOP), SHOP), SHOP, Options(datum=datum), home=doc.machine)  # type: ignore[arg-type]


def collisions(plan: Plan, jaws_mm: float | None) -> list[tuple[str, float]]:
    """Move and depth of each; with all jaws so far below the top, or as planned."""
    if jaws_mm is not None:
        plan = replace(plan, setups=tuple(replace(s, jaws_mm=jaws_mm) if s.jaws_mm else s for s in plan.setups))
    return sorted((f.move, round(f.thickness_mm, 6)) for f in in_the_way(plan, SHOP) if f.kind == "collision")


@pytest.mark.parametrize("id", sorted(DOCS))
def test_neither_datum_sees_what_the_other_does_not(id: str) -> None:
    middle, corner = planned(id, "middle"), planned(id, "corner")
    assert collisions(middle, None) == collisions(corner, None) == []
    # Jaws raised nearly to the top: whatever is cut out to the sides below them hits them, as deep in either plan.
    assert collisions(middle, 0.4) == collisions(corner, 0.4)


def test_raised_jaws_are_hit_somewhere() -> None:
    assert any(collisions(planned(id, "corner"), 0.4) for id in DOCS)
