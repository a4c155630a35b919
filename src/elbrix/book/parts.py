"""The parts list of a design, with what of it lies in the shop."""

from __future__ import annotations

from msgspec import Struct

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.parts import OfParts, Part
from elbrix.shop.shop import Shop
from elbrix.standards.threads import known_thread

#: A pin is the same when its Ø is so near.
_SAME_MM = 0.02


class PartLine(Struct, frozen=True):
    """One part, and how many of it the shop has; None when it lists no such things."""

    part: Part
    owned: int | None


def parts_list(doc: DesignDoc, shop: Shop) -> tuple[PartLine, ...]:
    """Everything one piece takes besides itself.

    Raises:
        ShopError: The design does not solve.
    """
    family = family_of(doc)
    if not isinstance(family, OfParts):
        return ()
    return tuple(PartLine(part, _owned(part, shop)) for part in family.parts(solve_doc(doc, shop)))


def _owned(part: Part, shop: Shop) -> int | None:
    if part.made:
        return None
    thread = known_thread(part.thread) if part.thread else None
    if part.stud:
        return sum(s.count for s in shop.studs if known_thread(s.thread) == thread) if shop.studs else None
    if part.pin_mm:
        return sum(p.count for p in shop.pins if abs(p.diameter_mm - part.pin_mm) <= _SAME_MM) if shop.pins else None
    listed = [f for f in shop.fasteners if f.kind is part.fastener]
    if not listed:
        return None
    # One whose length nobody wrote down may be of any: it is not counted where a length is asked.
    fitting = [f for f in listed if known_thread(f.thread) == thread and (not part.length_mm or f.length_mm == part.length_mm)]
    return sum(f.count for f in fitting)
