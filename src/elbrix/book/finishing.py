"""What is made is owned: the bar gets shorter, the count goes up, and the piece becomes a thing of the shop; one edit."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs import as_made_design
from elbrix.book.documents import DesignDoc, Document, JobDoc
from elbrix.design.family import Design
from elbrix.items.kind import kind_of_item
from elbrix.making.plan import Plan
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import format_number
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.locating import Pin
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, Fastener, FastenerKind, SupportBlock, TableStop


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
        left = max(0.0, bar.length_mm - plan.bar.cut_mm)
        changed.append(replace(bar, length_mm=left))
        said.append(f"{format_number(left)} mm left of {bar.title}")
    owned = _possession(doc, count, shop)
    if owned is not None:
        changed.append(owned)
        said.append("it is listed in Shop, and Hold and Angles can use it")
    return Finished(f"{count} made: {doc.title}", tuple(changed), "; ".join(said))


def _possession(doc: DesignDoc, count: int, shop: Shop) -> Document | None:
    """The piece as a thing of the shop, with its sizes as made; None of what the shop has no list for."""
    maker = _MAKERS.get(doc.family)
    if maker is None:
        return None
    try:
        design = as_made_design(doc, shop)
        before = next((d for d in _things(shop) if d.id == _id(doc)), None)
        item = maker(design, _id(doc), count + _count(before))
        kind = kind_of_item(item)
        if kind is not None:
            kind.refuse_outside(item)
    except ShopError:
        return None  # a size the list does not take: it stays in the catalogue alone
    return item


def _id(doc: DesignDoc) -> str:
    return f"made-{doc.id}"


def _things(shop: Shop) -> Iterable[Document]:
    return (*shop.fasteners, *shop.stops, *shop.supports, *shop.sine_tools, *shop.pins)


def _count(item: Document | None) -> int:
    return int(getattr(item, "count", 0)) if item is not None else 0


def _t_nut(design: Design, id: str, count: int) -> Document:
    v = design.values
    return Fastener(id=id, kind=FastenerKind.T_NUT, thread=v.word("thread"), neck_mm=v.number("neck_width"), count=count)


def _table_stop(design: Design, id: str, count: int) -> Document:
    v = design.values
    return TableStop(id=id, body_mm=v.number("width"), height_mm=v.number("height"), reach_mm=v.number("length") / 2, count=count)


def _riser(design: Design, id: str, count: int) -> Document:
    v = design.values
    high = v.number("riser_height")
    return SupportBlock(
        id=id,
        kind=BlockKind.RISER,
        min_height_mm=high,
        max_height_mm=high,
        length_mm=v.number("length"),
        width_mm=v.number("width"),
        count=count,
    )


def _sine_plate(design: Design, id: str, count: int) -> Document:
    v = design.values
    roll = v.number("roll_diameter")
    return SineTool(
        id=id,
        name="sine plate, own make",
        centres_mm=v.number("roll_centres"),
        roll_pivot_mm=roll,
        roll_stack_mm=roll,
        width_mm=v.number("width"),
        material=v.word("material"),
    )


def _pin(design: Design, id: str, count: int) -> Document:
    v = design.values
    if v.word("kind") != "pin":
        raise ShopError("Locator", "it is no plain pin", "The list of pins is of round ones", "It stays in the catalogue")
    return Pin(id=id, diameter_mm=v.number("locating_diameter"), length_mm=v.number("locating_length"), count=count)


#: Family → the thing of the shop it becomes. Others stay in the catalogue, which Hold takes plates from by itself.
_MAKERS: Final[Mapping[str, Callable[[Design, str, int], Document]]] = {
    "t_nut": _t_nut,
    "table_stop": _table_stop,
    "riser": _riser,
    "sine_plate": _sine_plate,
    "locator": _pin,
}
