"""Bars on the rack."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Note, Path, Scene, Style, box, picked_style
from elbrix.geometry.shapes import hexagon
from elbrix.items.kind import ItemKind, choices_of, materials_known
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check
from elbrix.results.length_text import rough_length
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar, Finish, Form, section_text

#: Room for a bar and its words, mm, however thin the bar; and how far a rack with few bars spreads them.
_MIN_ROOM, _MAX_ROOM, _GAP = 36.0, 70.0, 10.0
#: Height of the whole picture over the longest bar, as the plate has room.
_TALL = 1.45


def rack_scene(shop: Shop, picked: str) -> Scene:
    """Bars lying on the rack, to scale: section at the left, what is left, the rest of the bought length dashed."""
    elements: list[Element] = []
    longest = max((max(b.full_length_mm, b.length_mm) for b in shop.bars), default=500.0)
    least = min(_MAX_ROOM, max(_MIN_ROOM, _TALL * longest / max(1, len(shop.bars))))
    y = 0.0
    for bar in shop.bars:
        on = bar.id == picked
        style = picked_style(on)
        h = bar.height_mm if bar.form is Form.FLAT else bar.width_mm
        room = max(h + _GAP, least)
        y -= room / 2
        if bar.form is Form.ROUND:
            elements.append(Arc((-30 - bar.width_mm / 2, y), bar.width_mm / 2, style=style, feature=bar.id))
        elif bar.form is Form.HEXAGON:
            elements.append(Path(hexagon(bar.width_mm, (-30 - bar.width_mm / 2, y)), style, bar.id, closed=True))
        else:
            elements.append(box(-30 - bar.width_mm, y - h / 2, -30, y + h / 2, style, bar.id))
        elements += [
            box(0, y - h / 2, bar.length_mm, y + h / 2, Style.BODY, bar.id),
            box(0, y - h / 2, bar.length_mm, y + h / 2, style, bar.id),
        ]
        if bar.full_length_mm > bar.length_mm:
            elements.append(box(bar.length_mm, y - h / 2, bar.full_length_mm, y + h / 2, Style.HIDDEN, bar.id))
        end = max(bar.full_length_mm, bar.length_mm)
        elements.append(
            Note(
                (end + 16, y),
                f"{bar.title}, {rough_length(bar.length_mm)} left",
                quiet=not on,
                short=f"{section_text(bar.form, bar.width_mm, bar.height_mm)}, {rough_length(bar.length_mm)} left",
                stays=True,
            )
        )
        y -= room / 2
    return Scene("rack", "Bars on the rack", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return rack_scene(shop, item.id if item is not None else ""), "To scale. Dashed: what has been used of the bar as bought"


def _checks(shop: Shop, _item: Any) -> list[Check]:
    from elbrix.shop.audit import bar_checks  # not needed to read a book

    return bar_checks(shop)


KIND = ItemKind(
    kind="bar",
    key="rack",
    title="Bars on the rack",
    order=10,
    type=Bar,
    attribute="bars",
    scene=_drawn,
    checks=_checks,
    count=lambda bar, style: style.show(bar.length_mm, "mm", 0.5),
    new=lambda id, variant: Bar(id=id, width_mm=20, height_mm=20, length_mm=500, full_length_mm=500),
    parameters=(
        Parameter(name="form", label="Section", kind=Kind.CHOICE, unit="", choices=choices_of(Form)),
        Parameter(name="width_mm", label="Width, Ø or across flats", kind=Kind.LENGTH, low=1, high=500, step=0.0),
        Parameter(
            name="height_mm",
            label="Height",
            kind=Kind.LENGTH,
            low=0,
            high=500,
            step=0.0,
            usually="0 for a round bar or a hexagon",
        ),
        Parameter(name="length_mm", label="Length left", kind=Kind.LENGTH, low=0, high=7000, step=0.5),
        Parameter(name="full_length_mm", label="Length as bought", kind=Kind.LENGTH, low=0, high=7000, step=0.5),
        Parameter(name="material", label="Material", kind=Kind.CHOICE, unit="", choices=materials_known()),
        Parameter(name="finish", label="Finish", kind=Kind.CHOICE, unit="", choices=choices_of(Finish)),
        Parameter(name="guessed", label="Material guessed by", kind=Kind.TEXT, unit=""),
        Parameter(name="rack", label="Location", kind=Kind.TEXT, unit=""),
    ),
)
