"""Clamping studs."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Stud
from elbrix.standards.threads import known_thread


def stud_scene(studs: tuple[Stud, ...], picked: str) -> Scene:
    """Studs lying beside each other, to scale, with their number and strength."""
    elements: list[Element] = []
    y = 0.0
    known = [(thread, stud) for stud in studs if (thread := known_thread(stud.thread)) is not None]
    for thread, stud in sorted(known, key=lambda k: (k[0].major_mm, k[1].length_mm)):
        on = stud.id == picked
        d, length = thread.major_mm, stud.length_mm
        inner = (d - thread.minor_d_mm) / 2
        y -= d + 16
        style = picked_style(on)
        elements += [box(0, y, length, y + d, Style.BODY, stud.id), box(0, y, length, y + d, style, stud.id)]
        for start, end in ((0.0, min(0.45 * length, 2.5 * d)), (length - min(0.45 * length, 2.5 * d), length)):
            elements += [Line((start, y + at), (end, y + at), Style.THREAD, stud.id) for at in (inner, d - inner)]
        elements.append(Note((length + 8, y + d / 2), f"{stud.count} of {thread.shown}, {stud.strength_class}", quiet=not on))
    return Scene("studs", "Studs", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return stud_scene(shop.studs, item.id if item is not None else ""), "To scale"


def _checks(shop: Shop, _item: Any) -> list[Check]:
    from elbrix.shop.audit import stud_checks  # not needed to read a book

    return stud_checks(shop)


KIND = ItemKind(
    kind="stud",
    key="studs",
    title="Studs",
    order=40,
    type=Stud,
    attribute="studs",
    scene=_drawn,
    checks=_checks,
    name=lambda stud, style: f"{stud.thread} × {style.show(stud.length_mm, 'mm')}",
    count=number_of,
    new=lambda id, variant: Stud(id=id, thread="M10", length_mm=100),
    parameters=(
        Parameter(name="thread", label="Thread", kind=Kind.THREAD, unit=""),
        Parameter(name="length_mm", label="Length", kind=Kind.LENGTH, low=5, high=1000, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=999),
        Parameter(
            name="strength_class",
            label="Property class",
            kind=Kind.CHOICE,
            unit="",
            choices=choices_of(("4.6", "5.6", "8.8", "10.9", "12.9")),
        ),
    ),
)
