"""Everything Hold says of many layouts and things, written down so that no change of it goes by unseen.

This proves nothing: that the numbers are right is proven by hand, by a second solver and by the laws they obey, in the other
tests of `tests/holding`. It holds still what those do not look at: every line drawn, every word, the order of things, the
marks on the path. Whoever changes one of them on purpose reads the differences and writes it anew:
`python tests/holding_record.py`.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

import records
from elbrix.book.choices import read_chosen
from elbrix.book.documents import LayoutDoc, shop_of
from elbrix.book.layouts import asked_of, typed_in
from elbrix.demo import documents
from elbrix.holding import cut
from elbrix.holding.cut import piece_of
from elbrix.holding.layout import PlacingContext, all_elements, find_element
from elbrix.holding.solve import machine_for
from elbrix.holding.suggest import suggest
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from layouts_tools import doc, solve, thing
from records import plain

KEPT: Final = Path(__file__).parent / "data" / "holding-record.json.gz"
_SHAPES: Final = ({"shape": "block"}, {"shape": "round", "width": "90"}, {"shape": "block", "angle": "12"})
_CUTS: Final = (
    {"cut": "milling", "cutter_path": "around", "depth_below_top": "3"},
    {"cut": "milling", "cutter_path": "face", "depth_below_top": "1"},
    {"cut": "drilling", "cutter_path": "points", "places": "-20,-10; 20,10", "depth_below_top": "6"},
    {"cut": "tapping", "cutter_path": "points", "places": "0,0", "depth_below_top": "10"},
    {"cut": "medium", "cutter_path": "line", "places": "-30,-12; 30,12", "depth_below_top": "2", "lubrication": "oiled"},
    {"cut": "heavy", "cutter_path": "around", "depth_below_top": "4"},
)
# --- things by themselves ---------------------------------------------------------------------------------------------


def standing(shop: Shop, kind: str, many: int = 36) -> Iterator[Any]:
    """One kind of thing in random places."""
    chance, element = random.Random(f"record {kind}"), find_element(kind)
    for n in range(many):
        machine = shop.machine(chance.choice(("hazel", "hazel", "pip", "margaret")))
        layout = doc(machine=machine.id, **chance.choice(_SHAPES), height=str(chance.choice((6, 20, 30, 45))))
        work = cut.propose(shop, machine, read_chosen(cut.parameters(shop), typed_in(layout, shop).chosen))
        piece = piece_of(work, 0.0)
        chosen: dict[str, ParameterValue] = {}
        for p in element.parameters(shop, machine):
            if chance.random() < 0.4:
                if p.choices:
                    chosen[p.name] = ParameterValue(chance.choice([v for v, _ in p.choices]), Origin.CHOSEN)
                elif p.kind.value in ("length", "number", "angle") and p.name != "x":
                    low, high = max(p.low, 0.5), min(p.high, 60.0)
                    chosen[p.name] = ParameterValue(round(chance.uniform(low, high), 1), Origin.CHOSEN)
                elif p.name == "x":
                    chosen[p.name] = ParameterValue(float(chance.choice((-110, -70, -40, 0, 25, 70, 115))), Origin.CHOSEN)
        try:
            values = element.propose(shop, machine, piece, chosen, n % 3)
            high = element.support_height_mm(values, shop)
            stood = piece_of(work, high)
            at = PlacingContext(
                shop=shop, machine=machine, piece=stood, mu=0.15, nut_factor=0.2, seats=(stood.outline,), number=n % 3
            )
            yield {"values": plain(dict(values)), "placed": plain(element.place(f"{kind} {n}", values, at))}
        except ShopError as error:
            yield {"refused": [error.where, error.what, error.why, error.do]}


# --- whole layouts ----------------------------------------------------------------------------------------------------


def layouts() -> Iterator[LayoutDoc]:
    """Every kind of thing, cut, shape and mount at least once, and the layouts of the demo shop."""
    yield from (d for d in documents() if isinstance(d, LayoutDoc))
    milled, faced, drilled, tapped, lined, heavy = _CUTS
    block = {"shape": "block", "length": "120", "width": "70", "height": "25"}
    straps = (thing("strap", x="60", direction="180"), thing("strap", x="-60", direction="0"))
    yield doc(*straps, **block, **drilled)
    yield doc(*straps, **block, **milled, material="aluminium alloy", friction="0.2")
    yield doc(*straps, thing("stop", direction="0"), thing("stop", direction="90"), **block, **milled)
    yield doc(thing("toe", direction="180", x="100"), thing("stop", direction="0", x="-90"), **block, **faced)
    yield doc(thing("vise", torque="20"), **{**block, "height": "30"}, **faced, material="bronze")
    yield doc(thing("vise", torque="20", offset="20"), shape="block", length="30", width="50", height="40", **milled)
    yield doc(thing("vise", torque="15"), shape="block", length="80", width="40", height="1.5", **faced)
    yield doc(thing("vise", torque="12"), **{**block, "height": "40"}, **tapped)
    yield doc(thing("split_vise"), shape="block", length="150", width="60", height="20", **faced)
    yield doc(thing("plate"), shape="round", width="100", height="15", **milled)
    yield doc(thing("support"), *straps, **block, **drilled)
    yield doc(*straps, shape="block", length="60", width="20", height="70", **milled)
    yield doc(machine="pip", **block, **milled)
    yield doc(*straps, **block, **lined)
    yield doc(*straps, **block, **heavy)
    yield doc(*straps, shape="outline", outline="-50,-30; 50,-30; 50,10; 0,40; -50,10", height="20", **milled)
    yield doc(thing("strap"), machine="margaret", **block, **faced)
    yield doc(thing("vise", torque="20"), thing("backing_bar"), shape="block", length="90", width="40", height="3", **milled)
    chance = random.Random("record of layouts")
    stuff = ("mild steel", "brass", "aluminium alloy", "grey cast iron")
    for _ in range(22):
        kinds = [chance.choice(("strap", "strap", "strap", "stop", "toe", "support")) for _ in range(chance.randint(1, 4))]
        if chance.random() < 0.3:
            kinds = ["vise"]
        places = [
            {"x": str(chance.choice((-95, -75, -55, 55, 75, 95))), "direction": str(chance.choice((0, 90, 180, 270)))}
            if kind in ("strap", "stop", "toe") and chance.random() < 0.8
            else {}
            for kind in kinds
        ]
        size = {"length": str(chance.choice((70, 110, 150))), "width": str(chance.choice((40, 60, 80)))}
        shape = {"shape": chance.choice(("block", "block", "round")), "height": str(chance.choice((8, 20, 35)))}
        yield doc(
            *(thing(kind, **place) for kind, place in zip(kinds, places, strict=True)),
            machine=chance.choice(("hazel", "hazel", "hazel", "pip", "margaret")),
            **size,
            **shape,
            **chance.choice(_CUTS),
            material=chance.choice(stuff),
            angle=str(chance.choice((0, 0, 0, 20))),
        )


def said(layout: LayoutDoc, shop: Shop) -> Any:
    """What a solved layout shows."""
    try:
        r = solve(layout, shop)
    except ShopError as error:
        return {"refused": [error.where, error.what, error.why, error.do]}
    parts = ("located", "guidance", "clashes", "figures", "checks", "groups", "scenes", "tighten", "cautions", "swaps")
    margin = {
        k: getattr(r.margin, k) for k in ("least", "with_figures", "at_corners", "rests", "mixed_all", "at_places", "worst")
    }
    path = {"path": r.cutting.path, "each": r.cutting.each, "loads": r.cutting.loads}
    return plain({k: getattr(r, k) for k in parts} | {"margin": margin, "motion": r.margin.motion, "cutting": path})


def suggested(shop: Shop) -> Any:
    """The search for places, with its seed."""
    found = []
    for things in ((thing("strap"), thing("strap")), (thing("strap"), thing("strap"), thing("strap"))):
        layout = doc(*things, shape="block", length="120", width="70", height="25", **_CUTS[0])
        typed = typed_in(layout, shop)
        chosen = read_chosen(cut.parameters(shop), typed.chosen)
        found.append(plain(suggest(shop, machine_for(shop, typed.machine), chosen, asked_of(typed, shop), seed=7)))
    return found


def record() -> dict[str, Any]:
    """The whole of it."""
    shop = shop_of(documents())
    found: dict[str, Any] = {kind: list(standing(shop, kind)) for kind in all_elements()}
    found["layouts"] = [said(layout, shop) for layout in layouts()]
    found["suggested"] = suggested(shop)
    return found


def kept() -> dict[str, Any]:
    return records.read(KEPT)  # type: ignore[no-any-return]


if __name__ == "__main__":
    KEPT.parent.mkdir(exist_ok=True)
    print(records.write(KEPT, record()), "bytes")
