"""Everything that many plans say, written down so that no change of it goes by unseen.

Like `holding_record` it proves nothing: that plans come to the part is proven by rehearsing them, by cutting them by hand and by
sums of their own. It holds still every number, word and stroke. Whoever changes one on purpose reads the differences and
writes it anew: `PYTHONPATH=. python tests/making_record.py`, from the checkout.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from msgspec.structs import replace

import records
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, all_families, find_family, read_choices, solve_for
from elbrix.design.work import Work
from elbrix.making.minutes import setup_minutes
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.making.proof import plan_checks
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind, HolderKind
from records import plain

KEPT: Final = Path(__file__).parent / "data" / "making-record.json.gz"
#: Ways of making, one after another through the designs.
_WAYS: Final = (
    Options(),
    Options(style="quick", passes="creep", climb="yes"),
    Options(datum="corner", holes="two drills", spring_pass=True),
    Options(lathe="four-jaw", heat="harden", climb="finish only"),
    Options(lathe="centres", heat="case", rip=True),
    Options(machine="pip"),
    Options(machine="tom", climb="no"),
)
#: Random designs for each family, on the demo shop and on an empty one.
_RANDOM: Final = 4


def _poorer(shop: Shop, n: int) -> Shop:
    """The demo shop without some of what a planner would like best: what it takes then is looked at too."""
    if n % 3 == 0:
        return replace(shop, holders=tuple(h for h in shop.holders if h.kind is not HolderKind.BORING_HEAD))
    if n % 3 == 1:
        few = (CutterKind.END_MILL, CutterKind.DRILL)
        return replace(shop, cutters=tuple(c for c in shop.cutters if c.kind in few), touch_offs=())
    return replace(shop, parallels=(), measuring=(), bars=())


def _kinds() -> Iterator[tuple[str, dict[str, str]]]:
    """Every kind and part of every family, the other choices as proposed."""
    for key, family in all_families().items():
        for p in family.parameters:
            if p.kind is Kind.CHOICE and p.name in ("kind", "part", "side", "jaws", "stands", "way"):
                yield from ((key, {p.name: value}) for value, _ in p.choices)


def as_taught(plan: Plan, chance: random.Random) -> dict[str, float]:
    """What a toolmaker types at the machine: about two of three sizes that are asked for, each a little off."""
    asked = {m.asked.key: m.asked.expected_mm for _, _, m in plan.moves if m.asked is not None}
    return {k: v + chance.choice((-0.03, 0.02, 0.08)) for k, v in sorted(asked.items()) if chance.random() < 0.66}


def works() -> Iterator[tuple[str, Work, Shop, Options, dict[str, float], str]]:
    """(name, work, shop, how, sizes measured, unit) of every plan."""
    everything = documents()
    shop, ways = shop_of(everything), _WAYS
    for n, doc in enumerate(d for d in everything if isinstance(d, DesignDoc)):
        work = family_of(doc).work(solve_doc(doc, shop), shop)
        unit = "in" if n % 4 == 3 else "mm"
        way = ways[n % len(ways)]
        yield f"{doc.id}", work, shop, way, {}, unit
        try:
            first = plan_work("P", work, shop, way, {}, unit=unit)
        except ShopError:
            continue
        yield f"{doc.id} taught", work, shop, way, as_taught(first, random.Random(doc.id)), unit
        yield f"{doc.id} poorer", work, _poorer(shop, n), ways[(n + 3) % len(ways)], {}, "mm"
    from campaigns.designs import odd

    chance = random.Random(20)
    for n, (key, kinds) in enumerate(_kinds()):
        family = find_family(key)
        try:
            work = family.work(solve_for(family, shop, Request(), read_choices(family, kinds)), shop)
        except ShopError:
            continue
        yield f"{key} {' '.join(kinds.values())}", work, shop, ways[n % len(ways)], {}, "in" if n % 5 == 4 else "mm"
    for key, family in all_families().items():
        for n in range(_RANDOM):
            there = Shop() if n == 1 else shop
            typed = {p.name: odd(p, chance) for p in chance.sample(list(family.parameters), min(3, len(family.parameters)))}
            if n > 2 and any(p.name == "pieces" for p in family.parameters):
                typed["pieces"] = str(n - 1)
            try:
                work = family.work(solve_for(family, there, Request(), read_choices(family, typed)), there)
            except ShopError:
                continue
            taught = {"bar_width": work.blank.width_mm + 1.3, "cutter_diameter": 5.96} if n == 2 else {}
            yield f"{key} {n}", work, there, chance.choice(ways), taught, "mm"


def said(work: Work, shop: Shop, how: Options, measured: dict[str, float], unit: str) -> Any:
    """What a plan says, without the solid it comes to and the bars it did not take."""
    try:
        plan = plan_work("P", work, shop, how, measured, unit=unit)
    except ShopError as error:
        return {"refused": [error.where, error.what, error.why, error.do]}
    machine = next((m for m in shop.machines if m.id == plan.machine_id), None)
    found = {f: plain(getattr(plan, f)) for f in plan.__struct_fields__ if f not in ("solid", "stock")}
    found["buy"] = plan.stock.buy
    found["bars"] = [[o.bar.id, o.fits, round(o.cut_mm, 3), round(o.left_mm, 3), o.reason] for o in plan.stock.options]
    found["checks"] = plain(plan_checks(plan, machine, measured, None))
    found["minutes"] = [plain(setup_minutes(s, max(1, len(plan.pieces)))) for s in plan.setups]
    return found


def record() -> dict[str, Any]:
    return {name: said(work, shop, how, measured, unit) for name, work, shop, how, measured, unit in works()}


def kept() -> dict[str, Any]:
    return records.read(KEPT)  # type: ignore[no-any-return]


if __name__ == "__main__":
    print(records.write(KEPT, record()), "bytes")
