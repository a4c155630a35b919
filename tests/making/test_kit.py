"""The kit list against what the steps speak of: nothing is looked for with the machine standing."""

from __future__ import annotations

import re

import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, all_families, solve_for
from elbrix.making.holders import held_in
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind, MeasuringTool

SHOP = shop_of(documents())
EMPTY = Shop()


def _plans(shop: Shop, unit: str = "mm") -> list[Plan]:
    found = []
    for family in all_families().values():
        for machine in ("hazel", "pip", "old-margaret", "clover"):
            try:
                design = solve_for(family, shop, Request(machine=machine), {})
            except ShopError:
                continue
            found.append(plan_work(family.key, family.work(design, shop), shop, Options(), home=machine, unit=unit))
    for doc in documents():
        if isinstance(doc, DesignDoc):
            work = family_of(doc).work(solve_doc(doc, SHOP), shop)
            found.append(plan_work(doc.id, work, shop, Options(), unit=unit))
    return found


#: A word of the steps that is a thing in the hand → what the list has to say.
SPOKEN = {
    r"\bcaliper\b": "caliper",
    r"\bfeeler\b": "feeler",
    r"\bprotractor\b": "protractor",
    r"\bgauge blocks\b": "gauge blocks",
    r"\bindicator\b": "indicator",
    r"\bstrip of brass\b": "strip of brass",
    r"\b(bandsaw|hacksaw)\b": "saw",
    r"\bcentre-drill\b": "centre drill",
    r"\bfixed steady\b": "fixed steady",
    r"\bagainst the stop\b": "work stop",
    r"\bon parallels\b": "parallels",
    r"\bV-block\b": "V-block",
    r"\bwith a (fine )?file\b": "file",
    r"\bagainst a square\b": "square",
    r"\bon paper\b": "paper",
}


@pytest.mark.parametrize(("shop", "unit"), [(SHOP, "mm"), (SHOP, "in"), (EMPTY, "mm")], ids=["demo", "inch", "empty"])
def test_what_the_steps_speak_of_is_on_the_list(shop: Shop, unit: str) -> None:
    plans, met = _plans(shop, unit), set()
    assert len(plans) > 30
    for plan in plans:
        kit = " | ".join(k.words for k in plan.kit)
        assert len({k.words for k in plan.kit}) == len(plan.kit)
        for setup in plan.setups:
            said = " ".join([setup.holding, setup.datum, *(f"{m.words} {m.asked.words if m.asked else ''}" for m in setup.moves)])
            for operation in setup.operations:
                if operation.cutter is not None:
                    assert operation.tool in kit or any(k.words in operation.tool for k in plan.kit), (plan.title, operation.tool)
                said += f" {operation.tool} {operation.note}"
            for pattern, wanted in SPOKEN.items():
                if re.search(pattern, said):
                    met.add(pattern)
                    assert wanted in kit, (plan.title, setup.id, wanted)
    assert len(met) >= 9


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_every_size_a_micrometer_is_asked_for_lies_in_the_range_of_one(unit: str) -> None:
    ranges = set()
    for plan in _plans(SHOP, unit):
        listed = [re.fullmatch(rf"micrometer (\d+) to (\d+) {unit}", k.words) for k in plan.kit]
        have = [(float(m[1]), float(m[2])) for m in listed if m]
        for _, _, move in plan.moves:
            if move.asked is not None and "micrometer" in move.asked.words:
                size = move.asked.expected_mm / (1.0 if unit == "mm" else 25.4)
                assert any(low - 1e-6 <= size <= high + 1e-6 for low, high in have), (plan.title, size, have)
                ranges |= {r for r in have if r[0] <= size <= r[1]}
        for item in plan.kit:
            if re.match(r"micrometer \d", item.words):  # the demo shop has one to 25 and one to 50
                assert item.owned == (item.words.split()[1] in ("0", "25" if unit == "mm" else "1")), item
                assert ("micrometer" if item.owned else "caliper is less sure") in item.note
    assert len(ranges) > 1


def test_the_surest_that_reaches_is_named_and_a_shop_that_lists_none_is_not_told_off() -> None:
    family = all_families()["t_nut"]
    work = family.work(solve_for(family, SHOP, Request(machine="hazel"), {}), SHOP)
    finer = MeasuringTool(id="m2", name="digital micrometer", resolution_mm=0.001, uncertainty_mm=0.002, reach_mm=25)

    def micrometer(shop: Shop) -> tuple[bool, str]:
        kit = plan_work("T", work, shop, Options(), home="hazel").kit
        return next((k.owned, k.note) for k in kit if k.words.startswith("micrometer"))

    assert micrometer(replace(SHOP, measuring=(*SHOP.measuring, finer))) == (True, "digital micrometer")
    assert micrometer(replace(SHOP, measuring=())) == (True, "")
    assert (
        micrometer(replace(SHOP, measuring=(MeasuringTool(id="r", name="rule", resolution_mm=0.5, uncertainty_mm=0.3),)))[0]
        is False
    )


def test_a_die_is_in_no_arbor_and_a_drill_without_a_shank_in_a_chuck() -> None:
    tam = SHOP.machine("tam")
    for kind, words in ((CutterKind.DIE, "a die holder"), (CutterKind.TAP, "a drill chuck"), (CutterKind.DRILL, "a drill chuck")):
        held = held_in(Cutter(id="x", kind=kind, diameter_mm=8, teeth=2), tam, SHOP)
        assert (held.words, held.certain) == (words, True)
