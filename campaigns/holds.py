"""Random things with random values round random work, under random cuts: solved and told in full, or refused in words."""

from __future__ import annotations

import collections
import math
import random

from campaigns.designs import odd
from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc, shop_of
from elbrix.book.layouts import solve_anew
from elbrix.cli.commands import hold_json
from elbrix.demo import documents
from elbrix.holding.arrows import force_arrows
from elbrix.holding.cut import parameters
from elbrix.holding.layout import all_elements
from elbrix.holding.solve import LayoutResult
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.quantities.errors import ShopError
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

#: So many things at the most hold the work.
_MAX_THINGS = 4
_OUTLINES = ("0,0; 80,0; 80,20; 40,20; 40,60; 0,60", "0,0; 120,0; 60,90")


def _typed(own: tuple[Parameter, ...], share: float, chance: random.Random) -> dict[str, Chosen]:
    found = {}
    for p in own:
        if chance.random() >= share:
            continue
        text = chance.choice(_OUTLINES) if p.kind is Kind.OUTLINE else odd(p, chance)
        found[p.name] = Chosen(text=f"{text}d" if p.kind is Kind.ANGLE else text)
    return found


def _layout(number: int, shop: Shop, machine: Machine, chance: random.Random) -> LayoutDoc:
    things = []
    for kind in chance.choices(sorted(all_elements()), k=chance.randint(0, _MAX_THINGS)):
        own = all_elements()[kind].parameters(shop, machine)
        things.append(ElementDoc(kind=kind, chosen=_typed(own, 0.4, chance)))
    chosen = _typed(parameters(shop), 0.3, chance)
    return LayoutDoc(id=f"h{number}", title="h", machine=machine.id, chosen=chosen, elements=tuple(things))


def _told(hold: LayoutResult) -> str:
    """What of a result cannot be shown: empty for nothing."""
    hold_json("h", hold)
    force_arrows(hold.piece, hold.held, hold.margin, "above")
    for check in hold.checks:
        if not check.label or not check.reason or math.isnan(check.value):
            return f"{check.key}: {check.value}"
    return ""


def run(count: int, seed: int) -> dict[str, object]:
    """So many layouts."""
    shop, chance = shop_of(documents()), random.Random(seed)
    machines = [m for m in shop.machines if m.slots]
    verdicts: collections.Counter[str] = collections.Counter()
    uncaught: list[str] = []
    for number in range(count):
        layout = _layout(number, shop, chance.choice(machines), chance)
        try:
            hold = solve_anew(layout, shop)
        except ShopError:
            verdicts["refused"] += 1
            continue
        except Exception as error:  # noqa: BLE001  # all of them are wanted
            uncaught.append(f"{error!r}: {layout!r}"[:800])
            continue
        if said := _told(hold):
            uncaught.append(f"{said}: {layout!r}"[:800])
        verdicts["rests" if hold.margin.rests else "does not rest"] += 1
    return {"layouts": count, **verdicts, "lost": len(uncaught), "uncaught": uncaught[:10]}
