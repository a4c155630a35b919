"""What one kind of thing in the shop is: its document, its fields with their limits, its name and its picture."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from enum import StrEnum
from functools import cache
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from msgspec.structs import fields, replace

from elbrix import items
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue
from elbrix.parameters.plugins import find_all
from elbrix.quantities.angles import angle_text, parse_angle
from elbrix.quantities.dates import read_date
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from elbrix.standards.materials import materials

if TYPE_CHECKING:
    from elbrix.drawing.scene import Scene

#: A measured value may be off a limit by as much as rounding in another unit does to it.
_SLACK = 1e-6


def choices_of(values: Iterable[StrEnum | str]) -> tuple[tuple[str, str], ...]:
    """(value, words) of an enumeration or some words, which say themselves."""
    return tuple((str(v), str(v)) for v in values)


@cache
def materials_known() -> tuple[tuple[str, str], ...]:
    """Every material of the tables, as choices."""
    return choices_of(materials())


def title_of(item: Any, style: UnitStyle) -> str:
    """The name of a thing that has a title of its own."""
    return str(item.title)


def number_of(item: Any, style: UnitStyle) -> str:
    """How many there are."""
    return f"{item.count} of them"


class LookedAt(Struct, frozen=True, kw_only=True):
    """An inspection that a thing of the shop can be looked at with."""

    key: str
    words: str  #: on its button
    kind: str  #: of the inspection
    title: str
    chosen: dict[str, str]  #: its values, as typed in mm


def _never(item: Any) -> tuple[LookedAt, ...]:
    return ()


class ItemKind(Struct, frozen=True, kw_only=True):
    """One kind of thing. Its fields are parameters named like the attributes of its document."""

    kind: str  #: of its documents, in books and exports: part of the format
    key: str  #: of its list in Shop; empty for machines, which have a screen each
    title: str  #: of its list
    type: type  #: of its documents
    order: int
    parameters: tuple[Parameter, ...]
    new: Callable[[str, str], Any]  #: (id, variant) → one more, to be filled in
    count: Callable[[Any, UnitStyle], str]  #: what stands beside its name in the list
    name: Callable[[Any, UnitStyle], str] = title_of
    attribute: str = ""  #: of the Shop; empty: among its others
    scene: Callable[[Shop, Any, str], tuple[Scene, str]] | None = None  #: (shop, item, part) → picture, footer
    checks: Callable[[Shop, Any], list[Check]] | None = None
    sort: Callable[[Any], Any] | None = None
    variants: Callable[[], tuple[tuple[str, str], ...]] | None = None  #: what "new" can be, when not just one
    prefix: str = ""  #: of its ids; empty: the kind
    looked_at: Callable[[Any], tuple[LookedAt, ...]] = _never  #: inspections it offers

    def of(self, shop: Shop) -> tuple[Any, ...]:
        """All of this kind, in order."""
        return getattr(shop, self.attribute) if self.attribute else shop.others_of(self.kind)

    def in_order(self, found: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(sorted(found, key=self.sort)) if self.sort is not None else tuple(found)

    def parameter(self, attribute: str) -> Parameter | None:
        return next((p for p in self.parameters if p.name == attribute), None)

    def read(self, parameter: Parameter, item: Any, text: str, length_unit: str) -> Any:
        """The item with one field read from typed text.

        Raises:
            ShopError: Unreadable, outside the limits, or the thing cannot be so.
        """
        try:
            value = parameter.read(text, length_unit).value
        except ShopError as error:
            raise EntryError(error.where, error.what, error.why, error.do) from None
        return replace(item, **{parameter.name: _stored(parameter, value, text, getattr(item, parameter.name))})

    def value(self, parameter: Parameter, item: Any) -> ParameterValue:
        """A field's value as parameters carry it: angles in radians, lists as text."""
        value = getattr(item, parameter.name)
        if parameter.kind is Kind.ANGLE:
            value = float(parse_angle(f"{value:.9f}"))
        elif parameter.kind is Kind.COUNTS:
            value = ", ".join(map(str, sorted(value)))
        elif isinstance(value, StrEnum | bool):
            value = str(value)
        return ParameterValue(value, Origin.CHOSEN if parameter.kind is Kind.CHOICE else Origin.MEASURED)

    def entry_text(self, parameter: Parameter, item: Any, length_unit: str) -> str:
        """What an entry holds when it opens; reads back as the same value."""
        if parameter.kind is Kind.ANGLE:
            return angle_text(parse_angle(f"{getattr(item, parameter.name):.9f}"))
        return parameter.entry_text(self.value(parameter, item), length_unit)

    def refuse_outside(self, item: Any) -> None:
        """What cannot be typed cannot come in with a file either.

        Raises:
            ShopError: A size outside its limits, or none of the choices.
        """
        own = {f.name: f for f in fields(self.type)}
        for p in self.parameters:
            value = getattr(item, p.name)
            if value == own[p.name].default:
                continue  # not recorded
            parts = value if isinstance(value, tuple) else (value,)
            if any(isinstance(v, int | float) and not p.low - _SLACK <= v <= p.high + _SLACK for v in parts):
                raise ShopError(
                    f"{self.kind} {item.id}",
                    f"{within(p.label)} of {value} cannot be",
                    f"It is from {p.low:g} to {p.high:g} {p.unit}".rstrip(),
                    "Correct it in the file",
                    p.name,
                )
            if p.kind is Kind.DATE:
                read_date(str(value), f"{self.kind} {item.id}: {within(p.label)}")
            if p.kind is Kind.CHOICE and str(value) not in dict(p.choices):
                raise ShopError(
                    f"{self.kind} {item.id}",
                    f"{within(p.label)} “{str(value)[:40]}” is none of the choices",
                    "It is one of: " + ", ".join(v for v, _ in p.choices),
                    "Correct it in the file",
                    p.name,
                )


def _stored(parameter: Parameter, value: Any, text: str, was: Any) -> Any:
    """A parameter's value as the document keeps it: degrees, threads as written, whole numbers in a tuple."""
    if parameter.kind is Kind.ANGLE:
        return math.degrees(value)
    if parameter.kind is Kind.CHOICE:
        return value == str(True) if isinstance(was, bool) else type(was)(value)
    if parameter.kind is Kind.THREAD:
        return str(parse_thread(text, parameter.label))
    if parameter.kind is Kind.COUNTS:
        return tuple(int(part) for part in str(value).split(",") if part.strip())
    return value


@cache
def item_kinds() -> dict[str, ItemKind]:
    """Every kind by the kind of its documents, in the order of the Shop bench."""
    found = [kind for _, kind in find_all(items, "KIND", ItemKind)]
    return {k.kind: k for k in sorted(found, key=lambda k: k.order)}


@cache
def listed_kinds() -> dict[str, ItemKind]:
    """Those with a list in Shop, by its key."""
    return {k.key: k for k in item_kinds().values() if k.key}


def kind_of_item(item: Any) -> ItemKind | None:
    """The kind of a thing; None for work done with the shop, such as a design."""
    return next((k for k in item_kinds().values() if k.type is type(item)), None)
