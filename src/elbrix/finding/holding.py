"""Layouts that hold a piece, solved in Hold before they are offered."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

import msgspec

from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc
from elbrix.book.layouts import solve_doc, typed_in
from elbrix.finding.hit import Hit
from elbrix.finding.need import Need
from elbrix.holding.margin import ENOUGH, times
from elbrix.holding.solve import LayoutResult
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import within
from elbrix.results.checks import Verdict
from elbrix.results.length_text import length, plain
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

_MAX_MACHINES: Final = 2
_MAX_HITS: Final = 5
#: Setting up, by what holds: a shop's rule of thumb, minutes.
_MINUTES: Final = {"vise": 5, "split_vise": 12, "strap": 4, "toe": 6, "stop": 4}
_BELOW_TOP_MM: Final = 0.5
OVER_MM: Final = 100.0  # work that stands further over the table is not laid out unasked


def ways_to_hold(need: Need, shop: Shop) -> tuple[list[Hit], list[str]]:
    """(layouts that hold it on the shop's own machines, best first; why the nearest others do not)."""
    found: list[tuple[float, Hit]] = []
    reasons: list[str] = []
    for machine in _machines(need, shop):
        for kinds, extra in _arrangements(need, shop):
            doc = _layout(need, machine, kinds, extra)
            try:
                read = typed_in(doc, shop)
                quick = solve_doc(read, shop, quick=True)
                bad = _hindered(quick)
                hold = quick if bad else solve_doc(read, shop)
                bad = bad or _hindered(hold)
            except ShopError as error:
                reasons.append(f"{_said(need, machine, kinds)}: {error.what}")
                continue
            if bad:
                reasons.append(f"{_said(need, machine, kinds)}: {bad}")
                continue
            found.append((hold.margin.least, _hit(need, hold, read, machine, kinds)))
    found.sort(key=lambda f: (f[1].verdict.rank, -f[0]))
    best: dict[tuple[str, ...], Hit] = {}  # of one arrangement on one machine the best parallels are enough
    for _, hit in found:
        best.setdefault((str(hit.uses["layout"]["machine"]), *(e["kind"] for e in hit.uses["layout"]["elements"])), hit)
    ranked = sorted(best.values(), key=lambda h: (h.verdict.rank, h.minutes, -(h.margin or 0.0)))
    return ranked[:_MAX_HITS], list(dict.fromkeys(reasons))[:6]


def to_try(need: Need, shop: Shop) -> list[str]:
    """What `ways_to_hold` is going to solve, in words.

    Raises:
        ShopError: As `ways_to_hold`.
    """
    ways = [_said(need, machine, kinds) for machine in _machines(need, shop) for kinds, _ in _arrangements(need, shop)]
    return list(dict.fromkeys(ways))


def _machines(need: Need, shop: Shop) -> list[Machine]:
    mills = [m for m in shop.machines if m.kind not in (MachineKind.LATHE, MachineKind.ROTARY_TABLE)]
    if need.machine:
        chosen = [m for m in mills if m.id == need.machine]
        if not chosen:
            name = next((m.name for m in shop.machines if m.id == need.machine), need.machine)
            raise ShopError("Find", f"nothing is laid out on {name}", "Layouts are for mills", "Name a mill, or leave it away")
        return chosen
    upright = [m for m in mills if not m.horizontal] or mills  # the light cut of the proof comes from above
    return sorted(upright, key=lambda m: -m.table_length_mm * m.table_width_mm)[:_MAX_MACHINES]


def _arrangements(need: Need, shop: Shop) -> Iterable[tuple[tuple[str, ...], dict[str, str]]]:
    """(things, parameters of the first) worth trying: what stands on a face that must stay clear is not."""
    if "sides" not in need.clear:
        for vise in shop.vises:
            if not vise.split:
                yield ("vise",), {"vise": vise.title}
        if any(v.split for v in shop.vises):
            yield ("split_vise",), {}
            for parallel in shop.parallels:
                if parallel.count > 1 and "top" in need.clear:
                    yield (("split_vise",), {"parallels": f"{parallel.height_mm:g} high, {parallel.thickness_mm:g} thick"})
        yield ("stop", "toe"), {}
    if "top" not in need.clear:
        yield ("strap",) * 2, {}
        yield ("strap",) * 3, {}


def _layout(need: Need, machine: Machine, kinds: tuple[str, ...], extra: dict[str, str]) -> LayoutDoc:
    if need.shape == "round":
        work = {"shape": "a round", "width": f"{need.sizes[0]:g}", "height": f"{need.sizes[1]:g}"}
    else:
        work = dict(zip(("length", "width", "height"), (f"{s:g}" for s in need.sizes), strict=True))
    # With the top clear it is faced all over; else a light cut in its middle.
    cut = {"cutter_path": "over its top"} if "top" in need.clear else {"cutter_path": "at places", "places": "0,0"}
    chosen = {**work, "cut": "a light cut", **cut, "depth_below_top": f"{min(_BELOW_TOP_MM, 0.1 * need.sizes[-1]):g}"}
    return LayoutDoc(
        id="need",
        title=plain(_said(need, machine, kinds)),
        machine=machine.id,
        chosen={k: Chosen(text=v) for k, v in chosen.items()},
        elements=tuple(
            ElementDoc(kind=kind, chosen={k: Chosen(text=v) for k, v in extra.items()} if i == 0 else {})
            for i, kind in enumerate(kinds)
        ),
    )


def _said(need: Need, machine: Machine, kinds: tuple[str, ...]) -> str:
    """The arrangement in words, its lengths marked."""
    sizes = " × ".join(length(s) for s in need.sizes)
    names = {"vise": "vise", "split_vise": "split vise", "stop": "stop and toe clamp"}
    what = names.get(kinds[0], f"{len(kinds)} straps")
    return f"{'Ø' if need.shape == 'round' else ''}{sizes} on {machine.name}, {what}"


def _hindered(hold: LayoutResult) -> str:
    """Why a layout will not do; "" when it does."""
    worst = next((c for c in hold.checks if c.verdict is Verdict.NO_GO or (c.key == "over" and c.value > OVER_MM)), None)
    return f"{within(worst.label)}: {worst.text or worst.reason}" if worst is not None else ""


def _hit(need: Need, hold: LayoutResult, doc: LayoutDoc, machine: Machine, kinds: tuple[str, ...]) -> Hit:
    margin = hold.margin.least
    marginal = [c for c in hold.checks if c.verdict is Verdict.MARGINAL and c.key != "located"]
    verdict = Verdict.GO if margin >= ENOUGH and not marginal else Verdict.MARGINAL
    ids = [str(v.word("vise")) for _, v, _ in hold.elements if "vise" in v]
    ids += [str(v.word(n)) for _, v, _ in hold.elements for n in ("parallels", "clamp", "stop", "block") if n in v and v.word(n)]
    told = f"holds by {times(margin)} against a light cut, µ {hold.values.number('friction'):g}"
    told += f"; look at {within(marginal[0].label)}" if marginal else ""
    return Hit(
        items=tuple(i for i in dict.fromkeys([machine.id, *ids]) if i),
        words=f"{_said(need, machine, kinds)}: {told}",
        verdict=verdict,
        margin=margin,
        minutes=float(sum(_MINUTES.get(k, 5) for k in kinds)),
        uses={"bench": "hold", "layout": msgspec.to_builtins(doc)},
    )
