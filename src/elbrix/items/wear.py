"""Wear readings: what drifts or wears, measured again and again."""

from __future__ import annotations

from datetime import date
from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of, item_kinds
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.wear import After, Wear, WearReading, said_of, wear_checks, wear_of

#: Size of the picture, in its own units: days and microns have no common scale.
_WIDE, _HIGH = 240.0, 90.0


def wear_scene(wear: Wear | None, picked: str) -> Scene:
    """The series over time: readings, the line through them, what is allowed. Not to scale."""
    elements: list[Element] = [box(0, -_HIGH / 2, _WIDE, _HIGH / 2, Style.HIDDEN), Line((0, 0), (_WIDE, 0), Style.CENTRE)]
    if wear is None:
        return Scene(
            "wear", "Wear readings", (*elements, Note((_WIDE / 2, 8), "no readings yet", quiet=True, align=0)), to_scale=False
        )
    days = [d.toordinal() for r in wear.readings if (d := r.day) is not None]
    most = max([abs(r.value_mm - wear.wanted_mm) for r in wear.readings] + [1.2 * wear.limit_mm, 1e-4])
    first, last = min(days, default=0), max(days, default=1)
    span = max(1, last - first)

    def at(day: int, off_mm: float) -> tuple[float, float]:
        return (12 + (day - first) / span * (_WIDE - 24), off_mm / most * 0.45 * _HIGH)

    if wear.limit_mm:
        for k in (-1, 1):
            y = at(first, k * wear.limit_mm)[1]
            elements.append(Line((0, y), (_WIDE, y), Style.PATH_NO_GO))
            elements.append(Note((_WIDE + 4, y), f"{'+' if k > 0 else '−'}{length(wear.limit_mm, 4)} allowed", quiet=True))
    if len(days) > 1:
        elements.append(
            Path(tuple(at(d, r.value_mm - wear.wanted_mm) for d, r in zip(days, wear.readings, strict=False)), Style.THIN)
        )
    for day, r in zip(days, wear.readings, strict=False):
        on = r.id == picked
        x, y = at(day, r.value_mm - wear.wanted_mm)
        elements.append(Arc((x, y), 2.6 if on else 1.8, style=picked_style(on), feature=r.id))
        if on or r is wear.readings[0]:
            elements.append(Note((x, y + 7), date.fromordinal(day).isoformat(), quiet=not on, align=0, feature=r.id))
    elements.append(Note((_WIDE + 4, 0), length(wear.wanted_mm, 4), quiet=True))
    return Scene("wear", f"{wear.readings[-1].title}, over time", tuple(elements), to_scale=False)


def _all(shop: Shop) -> tuple[WearReading, ...]:
    return tuple(KIND.of(shop))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return wear_scene(
        wear_of(item, _all(shop)) if item is not None else None, item.id if item is not None else ""
    ), "Not to scale"


def _called(label: str) -> tuple[str, str]:
    """ "Diameter, measured" is "diameter" as well."""
    return label.casefold(), label.casefold().split(",")[0]


def _checked(shop: Shop, item: Any) -> list[Check]:
    if item is None:
        return []
    things = [
        (thing, {words: p.name for p in kind.parameters if p.kind is Kind.LENGTH for words in _called(p.label)})
        for kind in item_kinds().values()
        if kind.kind != KIND.kind
        for thing in kind.of(shop)
    ]
    newest = all(r.on <= item.on for r in _all(shop) if r.series == item.series)
    # What was read before may well differ from what Shop says today.
    return wear_checks(item, _all(shop), said_of(item, things) if newest else None)


KIND = ItemKind(
    kind="wear reading",
    key="wear_readings",
    title="Wear readings",
    order=210,
    type=WearReading,
    scene=_drawn,
    checks=_checked,
    sort=lambda r: (r.series, -(r.day.toordinal() if r.day is not None else 0), r.id),  # the newest first
    count=lambda r, style: (
        f"{r.on or 'no date'}: {style.show(r.value_mm, 'mm')}" + ("" if r.after is After.FOUND else f", {r.after}")
    ),
    new=lambda id, variant: WearReading(id=id, thing="end mill Ø10", size="Diameter", value_mm=10.0, on=date.today().isoformat()),
    prefix="wear",
    parameters=(
        Parameter(name="thing", label="What it is of, as it is called in Shop", kind=Kind.TEXT, unit=""),
        Parameter(name="size", label="Size, as Shop calls it", kind=Kind.TEXT, unit=""),
        Parameter(name="value_mm", label="Reading", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="on", label="Read on", kind=Kind.DATE, unit=""),
        Parameter(name="after", label="State", kind=Kind.CHOICE, unit="", choices=choices_of(After)),
        Parameter(name="wanted_mm", label="Wanted, 0 as before", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="limit_mm", label="May be off by, 0 as before", kind=Kind.LENGTH, low=0, high=50, step=0.0),
    ),
)
