"""Studs in slots, angles, stops and heights: what the shop has for them."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from fractions import Fraction
from heapq import nsmallest
from typing import Final

from elbrix.angles.methods import ways_to_set
from elbrix.book.documents import DesignDoc
from elbrix.book.finishing import possession_id
from elbrix.finding.abilities import HEIGHT, QUILL_STOP, STUD, Able, those_able
from elbrix.finding.hit import Hit
from elbrix.finding.need import Need
from elbrix.finding.proving import SLOT_MM
from elbrix.gauging.owned import usable
from elbrix.gauging.stacks import solver_for
from elbrix.quantities.decimals import MM_PER
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Verdict
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, FastenerKind
from elbrix.standards.threads import find_thread, known_thread

_EXACT_MM: Final = 0.0005
#: Heights are level when they differ by no more, unless the need says otherwise.
_LEVEL_MM: Final = 0.02
_MAX_HITS: Final = 6
_Layer = tuple[float, str, str]  # height, id, name


def nuts(need: Need, shop: Shop, designs: Sequence[DesignDoc], able: Able) -> tuple[list[Hit], list[str], list[DesignDoc]]:
    """T-nuts of a thread for a slot: those in the drawer by the slots as they are measured, and bought ones; those only drawn."""
    hits: list[Hit] = []
    notes: list[str] = []
    drawn: list[DesignDoc] = []
    wide = need.sizes[0] if need.sizes else 0.0
    slots = [
        (m, s)
        for m, s in shop.measured_slots()
        if s.neck is not None and (not wide or abs(s.neck.mean - wide) <= SLOT_MM) and (not need.machine or m.id == need.machine)
    ]
    places = {(m.name, s.label) for m, s in slots}
    wanted = find_thread(parse_thread(need.thread))
    for doc, abilities in those_able(designs, STUD, able):
        studs = [(c.sizes["thread_mm"], c.sizes["pitch_mm"]) for c in abilities.of(STUD)]
        if (wanted.major_mm, wanted.pitch_mm) not in studs:
            continue
        if len(hits) >= _MAX_HITS:
            break
        for fit in abilities.fits:
            if fit.verdict is Verdict.NO_GO or (fit.machine, fit.slot) not in places:
                continue
            if not doc.made:
                if len(drawn) < _MAX_HITS:
                    notes.append(f"{doc.title} would fit, but none is made yet")
                    drawn.append(doc)
                continue
            hits.append(
                Hit(
                    items=(doc.id,),
                    words=f"{doc.title} in {fit.machine} {fit.slot}, {doc.made} made"
                    + (f", {doc.location}" if doc.location else ""),
                    verdict=fit.verdict,
                    margin=None,
                    uses={"bench": "catalogue", "design": doc.id, "machine": fit.machine, "slot": fit.slot},
                )
            )
    bought = [f for f in shop.fasteners if f.kind is FastenerKind.T_NUT and known_thread(f.thread) == wanted and f.count > 0]
    own = {possession_id(d.id) for d in designs} if bought else set()  # those come in by their designs
    for part in bought:
        if part.id not in own:
            notes.append(
                f"{part.count} bought T-nuts {part.thread} are listed; no slot is recorded for them, so they are not proved"
            )
    if not hits:
        notes.append(f"no T-nut {wanted.shown} in the drawer goes into it")
    if not slots:
        notes.append(
            f"no measured slot is near {length(wide)} mm"
            if wide
            else "no slot is measured yet" + (" on it" if need.machine else "")
        )
    return hits[:_MAX_HITS], notes, list({d.id: d for d in drawn}.values())


def angles(need: Need, shop: Shop) -> tuple[list[Hit], list[str]]:
    """Ways to set an angle with what is there, near enough."""
    hits, notes = [], []
    work = need.sizes[0] if need.sizes else 60.0
    for way in ways_to_set(shop, need.angle, work_length_mm=work):
        arcmin = math.degrees(way.error_rad) * 60
        if not way.possible or not way.owned:
            continue
        if need.close and way.error_rad > need.close:
            notes.append(f"{way.title}: ±{arcmin:.1f}′ is not near enough")
            continue
        margin = need.close / way.error_rad if need.close and way.error_rad > 0 else None
        hits.append(
            Hit(
                items=(way.key,),
                words=f"{way.title}: ±{arcmin:.2g}′, about {way.minutes} min" + (f"; {way.needs}" if way.needs else ""),
                verdict=Verdict.GO if margin is None or margin >= 2 else Verdict.MARGINAL,
                margin=margin,
                minutes=float(way.minutes),
                uses={"bench": "angles", "angle_deg": math.degrees(need.angle), "work_length_mm": work, "way": way.key},
            )
        )
    hits.sort(key=lambda h: (h.verdict.rank, h.minutes))
    return hits[:_MAX_HITS], notes


def stops(need: Need, shop: Shop, designs: Sequence[DesignDoc], able: Able) -> tuple[list[Hit], list[str], list[DesignDoc]]:
    """A depth stop that is made, and the blocks its travel is set with; those only drawn."""
    hits, notes = [], []
    fitting = []
    for doc, _ in those_able(designs, QUILL_STOP, able):
        machine = next((m for m in shop.machines if m.id == doc.machine), None)
        if machine is not None and 0 < machine.quill_mm < need.sizes[0]:
            notes.append(f"{doc.title}: {machine.name}'s quill goes {length(machine.quill_mm)}")
        else:
            fitting.append(doc)
    made = [d for d in fitting if d.made and (not need.machine or d.machine == need.machine)]
    drawn = [d for d in fitting if not d.made and (not need.machine or d.machine == need.machine)]
    notes += [f"{d.title} is drawn, but not made yet" for d in drawn]
    target = Fraction(str(need.sizes[0]))
    for doc in made:
        for box in shop.gauge_sets:
            blocks = usable(box)
            answer = solver_for(blocks).best(target / MM_PER[blocks.unit], want=1)
            if not answer.feasible:
                notes.append(f"{box.name} makes no stack of {length(need.sizes[0])}")
                continue
            stack = answer.stacks[0]
            hits.append(
                Hit(
                    items=(doc.id, box.id),
                    words=f"{doc.title}, set with {' + '.join(stack.blocks)} of {box.name}: exactly, ±{stack.u_um:.2g} µm",
                    verdict=Verdict.GO,
                    margin=None,
                    minutes=5.0,
                    uses={"bench": "design", "design": doc.id, "blocks": list(stack.blocks)},
                )
            )
    if not made and not drawn:
        notes.append("there is no quill stop in the catalogue")
    return hits[:_MAX_HITS], notes, drawn


def heights(need: Need, shop: Shop, designs: Sequence[DesignDoc], able: Able) -> tuple[list[Hit], list[str]]:
    """Pairs of blocks and parallels that stand at a height, one or two on each other, and risers that are made."""
    wanted, close = need.sizes[0], need.close or _LEVEL_MM
    layers: list[_Layer] = []
    own = {possession_id(d.id) for d in designs}  # they come in by their designs
    for block in (b for b in shop.supports if b.id not in own):
        reached = block.height_for(wanted)
        for high in {block.min_height_mm, *([reached] if reached is not None else [])}:
            if block.count >= 2 and block.kind is not BlockKind.JACK:  # a screw jack tips under what is cut on
                layers.append((high, block.id, f"two {block.title}, at {length(high)}"))
    layers += [(p.height_mm, p.id, f"two parallels {length(p.height_mm)}") for p in shop.parallels if p.count >= 2]
    layers += _risers(designs, able)
    found = [(abs(sum(layer[0] for layer in chosen) - wanted), chosen) for chosen in _standing_at(wanted, close, layers)]
    ranked = nsmallest(_MAX_HITS, found, key=lambda f: (_level(f, close).rank, f[0] + 0.001 * len(f[1])))
    notes = [] if ranked else [f"nothing, alone or in twos, stands at {length(wanted)} within {close:g}"]
    return [_height_hit(wanted, close, chosen) for _, chosen in ranked], notes


def _standing_at(wanted: float, close: float, layers: list[_Layer]) -> Iterator[tuple[_Layer, ...]]:
    """Every layer, and for every layer the nearest ones on it, that stand near enough; a thing never on itself."""
    numbers = sorted(range(len(layers)), key=lambda n: layers[n][0])
    highs = [layers[n][0] for n in numbers]

    def near(high: float) -> list[int]:
        first, last, middle = bisect_left(highs, high - close), bisect_right(highs, high + close), bisect_left(highs, high)
        return numbers[max(first, middle - 2 * _MAX_HITS) : min(last, middle + 2 * _MAX_HITS)]

    for n in near(wanted):
        yield (layers[n],)
    for n, layer in enumerate(layers):
        for other in near(wanted - layer[0]):
            if other > n and layers[other][1] != layer[1]:
                yield layer, layers[other]


def _level(found: tuple[float, tuple[_Layer, ...]], close: float) -> Verdict:
    off, chosen = found
    return Verdict.GO if len(chosen) == 1 or off < close / 2 else Verdict.MARGINAL


def _height_hit(wanted: float, close: float, chosen: tuple[_Layer, ...]) -> Hit:
    off = sum(layer[0] for layer in chosen) - wanted
    tail = "exactly" if abs(off) < _EXACT_MM else f"{off:+.3f} mm"
    return Hit(
        items=tuple(layer[1] for layer in chosen),
        words=f"{' on '.join(layer[2] for layer in chosen)}: {tail}",
        verdict=_level((abs(off), chosen), close),
        margin=close - abs(off),
        minutes=2.0 * len(chosen),
        uses={"bench": "hold", "height_mm": wanted + off},
    )


def _risers(designs: Sequence[DesignDoc], able: Able) -> list[_Layer]:
    found = []
    for doc, abilities in those_able((d for d in designs if d.made), HEIGHT, able):
        for capability in abilities.of(HEIGHT):
            high = capability.sizes["height_mm"]
            found.append((high, doc.id, f"{doc.title} {length(high)} high"))
    return found
