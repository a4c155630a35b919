"""The needs of docs/needs.md: the right thing first, proved again here; what is to be made designed again."""

from __future__ import annotations

from pathlib import Path

import msgspec
import pytest

from elbrix.book.documents import DesignDoc, LayoutDoc, shop_of
from elbrix.book.layouts import solve_doc
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.finding.find import find
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain

_LINES = (Path(__file__).parents[2] / "docs" / "needs.md").read_text(encoding="utf-8").splitlines()
NEEDS = [tuple(c.strip() for c in line.strip("|").split("|")) for line in _LINES if line.startswith("| ")][1:]
DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = [d for d in DOCS if isinstance(d, DesignDoc)]


def test_there_are_sixty_and_ten_of_them_say_what_to_make_or_why_not() -> None:
    assert len(NEEDS) >= 60 and sum(kind != "found" for *_, kind in NEEDS) >= 10


@pytest.mark.parametrize(("text", "first", "kind"), NEEDS)
def test_a_need_is_met_as_it_is_written(text: str, first: str, kind: str) -> None:
    found = find(text, SHOP, DESIGNS)
    if kind == "found":
        assert set(first.split(" + ")) <= set(found.hits[0].items) and not found.make
        for hit in found.hits:
            if "layout" in hit.uses:
                hold = solve_doc(msgspec.convert(hit.uses["layout"], LayoutDoc), SHOP, quick=True)
                assert hold.margin.least >= 1 and not hold.clashes
        return
    assert not found.hits
    if kind == "nothing":
        assert not found.make and first in plain(" ".join(found.notes))
        return
    (make,) = found.make
    if kind == "drawn":
        assert make.design == first and next(d for d in DESIGNS if d.id == first).made == 0
        return
    family = find_family(first)
    design = solve_for(family, SHOP, Request(machine=make.machine, slot=make.slot), read_choices(family, make.values))
    assert make.family == first and all(c.verdict is not Verdict.NO_GO for c in design.checks)
    assert make.bar and make.minutes > 10
