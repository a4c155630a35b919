"""A piece that came out wrong: what saves it. Every way is solved again before it is offered."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Final

from msgspec import Struct

from elbrix.book.designs import blank_of, family_of, solve_as_made, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.book.inspections import subject_of
from elbrix.design.family import Design, Family, Request, solve_for
from elbrix.design.judging import nearest_fix
from elbrix.inspecting.inspection import Inspection, Subject
from elbrix.making.stock_choice import choose_stock
from elbrix.parameters.parameter import Kind, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down, round_up
from elbrix.quantities.sentences import within
from elbrix.results.checks import Verdict
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

#: What is taken off or made up is a whole number of these, mm.
_STEP: Final = 0.01
_MAX_SLOTS: Final = 3
#: More than this is no shim any more.
_MAX_SHIM: Final = 1.0

#: Volume of a design's solid, mm³; None when nobody can say now.
Volume = Callable[[Family, Design], float | None]


class Rescue(Struct, frozen=True, kw_only=True):
    """One way to go on."""

    title: str
    words: str  #: its lengths marked (`results.length_text`)


def rescues(design_doc: DesignDoc, inspection: Inspection, shop: Shop, volume: Volume) -> tuple[Rescue, ...]:
    """Ways to go on with a piece some of whose sizes are not go, the least work first.

    Args:
        inspection: Of the piece, as made.
        volume: Asked whether a size that is off has metal left or missing.

    Raises:
        ShopError: The design does not solve.
    """
    wrong = [c.key.removeprefix("made ") for c in inspection.checks if c.verdict is not Verdict.GO]
    if not wrong:
        return ()
    family, design, subject = family_of(design_doc), solve_doc(design_doc, shop), subject_of(design_doc, shop)
    made = {key: _worst(subject, inspection, key) for key in wrong}
    found = [_by_hand(key, made[key], inspection, family, design, subject, shop, volume) for key in wrong]
    as_made = _made(family, design, made, shop)
    if as_made is not None:
        found += [
            _other_slots(design_doc, family, design, as_made, shop),
            _another_size(family, design, as_made, set(wrong), shop),
        ]
    found.append(_remake(design_doc, shop))
    return tuple(r for r in found if r is not None)


def _worst(subject: Subject, inspection: Inspection, key: str) -> float:
    """The reading that does most harm."""
    return max(inspection.sheet.values(key), key=lambda v: (subject.judge(key, v)[0].rank, abs(v - _designed(subject, key))))


def _designed(subject: Subject, key: str) -> float:
    return next(s.designed_mm for s in subject.sizes if s.key == key)


def _made(family: Family, design: Design, made_mm: Mapping[str, float], shop: Shop) -> Design | None:
    try:
        return solve_as_made(family, design, made_mm, shop)
    except ShopError:
        return None


def _solved(family: Family, values: Values, shop: Shop) -> Design | None:
    try:
        return family.solve(values, shop)
    except ShopError:
        return None


def _by_hand(
    key: str, made: float, inspection: Inspection, family: Family, design: Design, subject: Subject, shop: Shop, volume: Volume
) -> Rescue | None:
    """Take off what is left standing, or make up what is missing: as little as makes it go for certain."""
    label, designed = next((s.label, s.designed_mm) for s in subject.sizes if s.key == key)
    u = inspection.sheet.u_of({key: 1})

    def good(at: float) -> bool:
        return all(subject.judge(key, at + way * u)[0] is Verdict.GO for way in (-1, 1))

    if not good(designed):
        return None  # no size of it is sure with this tool
    near, far = designed, made  # good here, not there
    while abs(far - near) > _STEP / 4:
        middle = (near + far) / 2
        near, far = (middle, far) if good(middle) else (near, middle)
    target = round_down(near, _STEP) if made > designed else round_up(near, _STEP)
    by = abs(made - target)
    if by < _STEP / 2 or not good(target):
        return None
    changed = _made(family, design, {key: made}, shop)
    before, after = volume(family, design), volume(family, changed) if changed is not None else None
    if before is None or after is None:
        return None
    name = within(label)
    if after > before:
        words = f"{length(by)} at the {name}: from {length(target)} on it does everything, for certain"
        return Rescue(title="Take off", words=f"{words}; the drawing says {length(designed)}")
    if by > _MAX_SHIM:
        return None
    words = f"{length(by)} at the {name} with shim or a sleeve, where that only fills a gap and carries no pull"
    return Rescue(title="Make up", words=f"{words}: {length(target)} goes")


def _other_slots(doc: DesignDoc, family: Family, design: Design, as_made: Design, shop: Shop) -> Rescue | None:
    """Slots it not only goes into: solved for each of them, no check is worse than the drawing's own."""
    before = {c.key: c.verdict.rank for c in design.checks}
    chosen = {
        p.name: as_made.values[p.name] for p in family.parameters if p.kind is not Kind.READINGS and p.name in as_made.values
    }
    good = []
    for fit in family.fits(as_made, shop):
        if fit.verdict is not Verdict.GO:
            continue
        try:
            machine = shop.machine(fit.machine)
            machine.slot(fit.slot)
            there = solve_for(family, shop, Request(machine=machine.id, slot=fit.slot, pieces=doc.pieces), chosen)
        except ShopError:
            continue
        if all(c.verdict.rank <= before.get(c.key, 0) for c in there.checks):
            good.append(fit)
    if not good:
        return None
    names = "; ".join(f"{f.machine}, {f.slot}" for f in good[:_MAX_SLOTS])
    more = f"; and {len(good) - _MAX_SLOTS} more" if len(good) > _MAX_SLOTS else ""
    return Rescue(title="Use it elsewhere", words=f"as it is, it goes into {names}{more}")


def _another_size(family: Family, design: Design, as_made: Design, fixed: set[str], shop: Shop) -> Rescue | None:
    """Another size changed to suit, when one change mends every check the piece made worse."""
    before = {c.key: c.verdict.rank for c in design.checks}
    worse = [c for c in as_made.checks if c.verdict.rank > before.get(c.key, 0)]
    for check in sorted(worse, key=lambda c: -c.verdict.rank):
        fix = nearest_fix(family, as_made, shop, check.key)
        if fix is None:
            continue
        name, text = fix.changes[0]
        if name in fixed:
            continue  # that size is what it is
        parameter = next(p for p in family.parameters if p.name == name)
        after = _solved(family, as_made.values.having(**{name: parameter.read(text)}), shop)
        if after is not None and all(c.verdict.rank <= before.get(c.key, 0) for c in after.checks):
            return Rescue(title="Make its partner to suit", words=f"{fix.text}: with that the piece does everything as it is")
    return None


def _remake(doc: DesignDoc, shop: Shop) -> Rescue | None:
    try:
        best = choose_stock(blank_of(doc, shop), shop.bars).best
    except ShopError:
        return None
    if best is None:
        return Rescue(title="Make another", words="no bar in the rack is large enough: it has to be bought")
    where = f", {best.bar.rack}" if best.bar.rack else ""
    size = (
        f"{length(best.bar.width_mm)} × {length(best.bar.height_mm)}" if best.bar.height_mm else f"Ø{length(best.bar.width_mm)}"
    )
    return Rescue(title="Make another", words=f"from the {size} {best.bar.material} bar{where}")
