"""The fields of a thing as rows of the card: what its kind says, shown in the units of the day. No widgets here."""

from __future__ import annotations

from typing import Any

from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Row
from elbrix.quantities.lengths import UnitStyle


def field_rows(kind: ItemKind, item: Any, style: UnitStyle) -> tuple[Row, ...]:
    """A row for each field of a thing."""
    return tuple(_row(kind, p, item, style) for p in kind.parameters)


def _row(kind: ItemKind, p: Parameter, item: Any, style: UnitStyle) -> Row:
    key, value = Act(Verb.FIELD, p.name).key, getattr(item, p.name)
    if p.kind is Kind.CHOICE:
        return Row(key=key, label=p.label, value=p.shown_choice(str(value)), edit="choice", choices=p.choices, origin="chosen")
    text = kind.entry_text(p, item, style.length)
    if p.kind is Kind.LENGTH:
        shown, unit = style.show(value, "mm", p.step or None), style.name("mm")
    elif p.kind is Kind.ANGLE:
        shown, unit = text + ("°" if text.replace(".", "").isdecimal() else ""), ""
    elif p.kind is Kind.NUMBER:
        shown, unit = text, p.unit
    elif p.kind is Kind.COUNTS:
        shown, unit = text, p.unit if text else ""
    else:
        return Row(key=key, label=p.label, value=str(value), edit="text", entry_text=text, placeholder="–")
    return Row(key=key, label=p.label, value=shown, unit=unit, edit="text", origin="measured" if shown else "", entry_text=text)


def add_row(kind: ItemKind) -> Row | None:
    """One more as one of its variants, when there are several to pick from."""
    if kind.variants is None:
        return None
    return Row(key="add set", label="Add a set", value="pick one", edit="choice", choices=kind.variants())
