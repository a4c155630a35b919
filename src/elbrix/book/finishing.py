"""What is made is owned: the bar gets shorter, the count goes up, and the piece becomes a thing of the shop; one edit."""

from __future__ import annotations

from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs import as_made_design, family_of
from elbrix.book.documents import DesignDoc, Document, JobDoc
from elbrix.design.family import BecomesThing
from elbrix.items.kind import item_kinds, kind_of_item
from elbrix.making.plan import Plan
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop


class Finished(Struct, frozen=True):
    """The edit that finishes a job."""

    label: str
    documents: tuple[Document, ...]
    words: str  #: what became of it, for the person


def is_finished(plan: Plan, job: JobDoc) -> bool:
    """Whether every move of a plan is ticked."""
    moves = {move.id for _, _, move in plan.moves}
    return bool(moves) and moves <= set(job.done)


def finish(doc: DesignDoc, plan: Plan, job: JobDoc, shop: Shop) -> Finished:
    """Everything that follows from the last move: design, bar, possession, and the job ready for the next batch.

    Args:
        doc: The design that was made.
        plan: Its plan, of which every move is done.
        job: How far it had come.
        shop: Where the bar lies and the piece goes.
    """
    count = doc.pieces
    changed: list[Document] = [replace(doc, made=doc.made + count), replace(job, done=(), measured={}, keyed={})]
    said = [f"{count} made: {doc.made + count} in the drawer"]
    bar = next((b for b in shop.bars if plan.bar is not None and b.id == plan.bar.bar.id), None)
    if bar is not None and plan.bar is not None:
        gone = plan.bar.bar.length_mm - plan.bar.left_mm  # the saw cut with it
        left = max(0.0, bar.length_mm - gone)
        changed.append(replace(bar, length_mm=left))
        said.append(f"{length(left)} {LENGTH_UNIT} left of {bar.title}")
    owned = _possession(doc, count, shop)
    if owned is not None:
        changed.append(owned)
        said.append("it is listed in Shop, and Hold and Angles can use it")
    return Finished(f"{count} made: {doc.title}", tuple(changed), "; ".join(said))


def possession_id(design_id: str) -> str:
    """Of the thing in the shop's lists that the pieces of a design become."""
    return f"made-{design_id}"


def _possession(doc: DesignDoc, count: int, shop: Shop) -> Any:
    """The piece as a thing of the shop, with its sizes as made; None of what the shop has no list for."""
    family, id_ = family_of(doc), possession_id(doc.id)
    if not isinstance(family, BecomesThing):
        return None
    before = next((t for kind in item_kinds().values() for t in kind.of(shop) if t.id == id_), None)
    try:
        item: Any = family.as_thing(as_made_design(doc, shop), id_, count + int(getattr(before, "count", 0)))
        if item is not None and (kind := kind_of_item(item)) is not None:
            kind.refuse_outside(item)
    except ShopError:
        return None  # a size the list does not take: it stays in the catalogue alone
    return item
