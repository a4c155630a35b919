"""Random sizes into every family, with random ways of making: solved, drawn, planned, rehearsed, or refused in words."""

from __future__ import annotations

import collections
import math
import random

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, all_families, read_choices, solve_for
from elbrix.design.work import Work
from elbrix.making.options import Options
from elbrix.making.plan import NO_BAR
from elbrix.making.planner import plan_work
from elbrix.making.pose import frame_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import bounds

#: One in so many is rehearsed; a rehearsal takes longer than all the rest.
_REHEARSED = 8
#: Sizes that differ by less are the same, mm.
_SAME_MM = 0.02
_THREADS = ("M2", "M3", "M5x0.8", "M6", "M8", "M12", "M16", "1/4-20 UNC", "3/8-16", "M40x1.5")
_PLACES = ("none", "grid 15", "0,0", "-20,0; 20,0; 0,15", "row -30,0 + 4 x 15", "circle 5 on 40", "5,5; 40,5; 40,30; 22,12; 5,30")
_TEXTS = ("", "125 mm vise", "Clover's centre bore", "10,10.02; 20,20.1; 40,40.05", "nonsense")


def odd(p: Parameter, chance: random.Random) -> str:
    """What a hand may type: often small, now and then the limit itself."""
    if p.choices:
        return chance.choice([value for value, _ in p.choices])
    if p.kind is Kind.THREAD:
        return chance.choice(_THREADS)
    if p.kind in (Kind.PLACES, Kind.OUTLINE):
        return chance.choice(_PLACES)
    if p.kind is Kind.TEXT:
        return chance.choice(_TEXTS)
    high, kind = min(p.high, max(4 * p.low, 120.0)), chance.random()
    value = p.low if kind < 0.1 else high if kind < 0.2 else p.low + (high - p.low) * chance.random() ** (3 if kind < 0.6 else 1)
    return str(round(value)) if p.kind is Kind.COUNT else f"{value:.2f}"


def near(p: Parameter, design: Design, chance: random.Random) -> str | None:
    """A size between a half and nearly twice what is proposed: designs that somebody might want."""
    given = design.values.get(p.name)
    if given is None or not isinstance(given.value, int | float) or not given.value:
        return None
    value = given.value * chance.uniform(0.5, 1.8)
    if p.kind is Kind.COUNT:
        return str(max(1, round(value)))
    return f"{math.degrees(value):.3f}d" if p.kind is Kind.ANGLE else f"{value:.3f}"


def _typed(family: Family, shop: Shop, chance: random.Random) -> dict[str, str]:
    some = chance.sample(list(family.parameters), chance.randint(1, min(5, len(family.parameters))))
    if chance.random() < 0.5:
        return {p.name: odd(p, chance) for p in some}
    typed = {p.name: odd(p, chance) for p in family.parameters if p.kind is Kind.CHOICE and chance.random() < 0.6}
    first = solve_for(family, shop, Request(), read_choices(family, typed))
    sizes = {p.name: near(p, first, chance) for p in some if p.name not in typed}
    return typed | {name: text for name, text in sizes.items() if text is not None}


def _ways(chance: random.Random) -> Options:
    return Options(
        lathe=chance.choice(["", "four-jaw", "centres"]),
        datum=chance.choice(["middle", "corner"]),
        holes=chance.choice(["ream", "two drills"]),
        climb=chance.choice(["", "no", "yes", "finish only"]),
        style=chance.choice(["full", "quick"]),
        passes=chance.choice(["equal", "creep"]),
    )


def _whole(family: Family, design: Design, shop: Shop) -> None:
    family.scenes(design)
    family.solid(design)
    if wrong := blank_and_part(family.work(design, shop)):
        raise ValueError(wrong)
    family.fits(design, shop)
    if not all(math.isfinite(f.value) for f in design.figures):
        raise ValueError("a figure that is no number")
    for p in family.parameters:
        if p.name in design.values and any(p.name in group.rows for group in family.card(design)):
            p.refuse_worked_out(design.values[p.name])


def blank_and_part(work: Work) -> str:
    """How the sizes that are cut differ from those of the part; empty when they do not."""
    blank = work.blank
    if work.solid is None or blank.there:
        return ""
    low, high = bounds(work.solid)
    size = [b - a for a, b in zip(low, high, strict=True)]
    long = size.pop(frame_of(blank.along, blank.up, low, high).along)
    across = [blank.round_mm] * 2 if blank.round_mm else sorted((blank.width_mm, blank.height_mm))
    if blank.hex_mm:
        size = across = []  # over its corners one way, over its flats the other
    pairs = [(long, blank.length_mm), *zip(sorted(size), across, strict=True)]
    return next((f"the part measures {a:.3f}, its blank {b:.3f}" for a, b in pairs if abs(a - b) > _SAME_MM), "")


def _rehearsed(family: Family, design: Design, shop: Shop, ways: Options) -> str:
    plan = plan_work("D", family.work(design, shop), shop, ways)
    if not all(math.isfinite(p.value_mm) for _, _, m in plan.moves for p in m.positions):
        raise ValueError("a position that is no number")
    heard = rehearse_slips(plan, shop, SlipsMade())
    if not any(f.kind != "limit" for f in heard.findings):
        return "clean"
    if any(c.verdict is Verdict.NO_GO or (c.key == "held" and c.verdict is not Verdict.GO) for c in design.checks):
        return "a check objects"  # that it is hardly held by the jaws is said as close
    # That the rack has no bar, or a better tool is missing, names nothing that goes wrong in the metal.
    told = [words for words in plan.problems if not words.startswith(NO_BAR)]
    return "its problems say so" if told else "unclean"


def run(count: int, seed: int) -> dict[str, object]:
    """So many designs, half of them far out and half near what is proposed; on the demo shop and on an empty one."""
    chance = random.Random(seed)
    families, shops = list(all_families().values()), (shop_of(documents()), Shop())
    found: collections.Counter[str] = collections.Counter()
    uncaught: list[str] = []
    unclean: list[str] = []
    for n in range(count):
        family, shop = chance.choice(families), chance.choice(shops)
        typed: dict[str, str] = {}
        try:
            typed = _typed(family, shop, chance)
            design = solve_for(family, shop, Request(), read_choices(family, typed))
        except ShopError:
            found["refused"] += 1
            continue
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            uncaught.append(f"{family.key} {typed}: {type(error).__name__} {error}"[:300])
            continue
        found["solved"] += 1
        ways = _ways(chance)
        try:
            _whole(family, design, shop)
            if n % _REHEARSED:
                continue
            end = _rehearsed(family, design, shop, ways)
            found[end] += 1
            if end == "unclean":
                unclean.append(f"{family.key} {typed} {ways}"[:300])
        except ShopError as error:
            if any(c.verdict is Verdict.NO_GO for c in design.checks):
                found["no plan, and a check objects"] += 1
            else:
                uncaught.append(f"{family.key} {typed}: {error}"[:300])
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            uncaught.append(f"{family.key} {typed}: {type(error).__name__} {error}"[:300])
    return {"designs": count, **dict(found), "lost": len(uncaught), "uncaught": uncaught[:10], "unclean": unclean[:10]}
