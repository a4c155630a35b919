"""A plan said in inches says every length in inches: titles, notes, holding and cautions, not only the numbers to dial."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.lengths import INCH
from elbrix.results.length_text import said_in

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = [d for d in DOCS if isinstance(d, DesignDoc)]
#: What keeps its own numbers: bars, cutters, measuring tools by name, threads, angles, turns, shares, torques, warmth, minutes.
OWN = re.compile(
    r"(Ø?[\d.]+ × [\d.]+ mm|Ø[\d.]+ mm|[\d.]+ mm hexagon) (bright|ground|rolled|sawn|\w+ steel|bronze|brass)"
    r"|\b(end mill|drill|face mill|reamer|edge finder|countersink|spot drill|ball mill|slitting saw|side mill) Ø?[\d./]*( mm)?"
    r"|\b[Dd]rill Ø?[\d.]+( mm)?|M[\d.]+ ?[×x] ?[\d.]+|[\d.]+ turns?|[\d.]+ ?°|[\d.,]+ ?%|[\d.]+ N·m|[\d.]+ °C|[\d.]+ min"
    r"|[\d.]+ × as wide|[\d.]+ mm shank|[\d.]+ mm pitch|mm/m|[\d.]+ × \w*Ø|[\d.]+ µm|\d+(\.\d+)? marks|no more than [\d.]+ kg"
    r"|[\d.]+ kg|\d+ mm caliper|readout of 0.01 mm|Buy [^|]*|ground to [\d.]+|[\d.]+ div\b"
)


def sentences(plan: Plan) -> Iterator[str]:
    yield from (*plan.assumed, *plan.problems, *plan.leaves)
    for item in plan.kit:
        if not item.words.startswith("micrometer"):  # their ranges are of another number in inches
            yield item.note
    for setup in plan.setups:
        yield from (setup.title, setup.holding, setup.datum, *setup.cautions)
        for operation in setup.operations:
            yield from (operation.title, operation.note)
            for move in operation.moves:
                yield from (move.words, move.lock, move.direction, move.caution, *(p.dial.approach for p in move.positions))
                yield from (t.words for p in move.positions for t in p.terms)
                if move.asked is not None:
                    yield move.asked.words


@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_no_millimetre_is_left_on_an_inch_card(doc: DesignDoc) -> None:
    work = family_of(doc).work(solve_doc(doc, SHOP), SHOP)
    for options in (Options(), Options(machine="pip"), Options(lathe="four-jaw", holes="two drills", style="quick")):
        metric = list(sentences(plan_work(doc.title, work, SHOP, options)))
        inches = [said_in(s, INCH) for s in sentences(plan_work(doc.title, work, SHOP, options, unit="in"))]
        assert len(metric) == len(inches)
        for before, after in zip(metric, inches, strict=True):
            mine = OWN.sub("", after)
            assert not re.search(r"\bmm\b", mine), after
            same = set(re.findall(r"\d+\.\d+", OWN.sub("", before))) & set(re.findall(r"\d+\.\d+", mine))
            assert not same, (same, after)
