"""Angle settings in the book: solved against the shop as it stands, and their blocks taken out of the box and put back."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from elbrix.angles.setup import AngleSetup, find_kind, solve_angle_setup
from elbrix.book.choices import chosen_from, read_chosen
from elbrix.book.documents import AngleDoc
from elbrix.book.latest import Latest
from elbrix.parameters.parameter import parameter_named
from elbrix.quantities.errors import ShopError
from elbrix.shop.gauges import BlockState, GaugeSet
from elbrix.shop.shop import Shop

_SETTINGS: Final[Latest[AngleDoc, AngleSetup]] = Latest()


def solve_angle(doc: AngleDoc, shop: Shop) -> AngleSetup:
    """The setting as the shop stands now.

    Raises:
        ShopError: Its values contradict each other.
    """

    def work_out() -> AngleSetup:
        kind = find_kind(doc.kind)
        return solve_angle_setup(kind, shop, read_chosen(kind.parameters(shop), doc.chosen), doc.id)

    return _SETTINGS.of(doc, shop, work_out)


def choose_angle(doc: AngleDoc, shop: Shop, name: str, text: str, unit: str = "mm") -> AngleDoc:
    """The document with one value chosen from typed text; an empty stack goes back to the best one.

    Raises:
        EntryError: The text cannot be taken; nothing changes.
    """
    parameter = parameter_named(find_kind(doc.kind).parameters(shop), name, "Angles")
    return replace(doc, chosen={**doc.chosen, parameter.name: chosen_from(parameter, text, unit)})


def forget_angle(doc: AngleDoc, name: str) -> AngleDoc:
    """The document with one value back to what is proposed."""
    return replace(doc, chosen={k: v for k, v in doc.chosen.items() if k != name})


def held_by(doc: AngleDoc, shop: Shop) -> tuple[GaugeSet, ...]:
    """Sets of which the setting has blocks in its stack."""
    return tuple(g for g in shop.gauge_sets if any(b.holder == doc.id for b in g.blocks))


def wring(doc: AngleDoc, setting: AngleSetup, shop: Shop) -> tuple[GaugeSet, ...]:
    """The sets with this setting's blocks marked as in use, and whatever it held before put back.

    Raises:
        ShopError: The setting has no stack of the shop's own blocks.
    """
    owned = {g.id: g for g in put_back(doc, shop)}
    sets = {g.id: owned.get(g.id, g) for g in shop.gauge_sets}
    changed = dict(owned)
    for piece in (p for built in setting.stacks for p in built.blocks):
        box = sets.get(piece.box)
        if box is None:
            raise ShopError(
                "Stack", "its blocks are of no set in the shop", "Only owned blocks are booked out", "Add the set in Shop"
            )
        block = box.block(piece.name)
        box = box.with_block(replace(block, state=BlockState.IN_USE, holder=doc.id, note=f"stack for {doc.title}"))
        sets[box.id] = changed[box.id] = box
    if not setting.stacks:
        raise ShopError("Stack", "there is no stack to wring", "The plate lies flat or stands on a spacer", "Choose an angle")
    return tuple(changed.values())


def put_back(doc: AngleDoc, shop: Shop) -> tuple[GaugeSet, ...]:
    """The sets with this setting's blocks back in their places."""
    found = []
    for held in held_by(doc, shop):
        box = held
        for block in held.blocks:
            if block.holder == doc.id:
                box = box.with_block(replace(block, state=BlockState.HERE, holder="", note=""))
        found.append(box)
    return tuple(found)
