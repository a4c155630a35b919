"""Nuts, bolts and screws."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind, choices_of, number_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Fastener, FastenerKind
from elbrix.standards.threads import known_thread


def fastener_scene(fasteners: tuple[Fastener, ...], picked: str) -> Scene:
    """Nuts, bolts and screws from the side, to scale: heads and heights as the standards have them for the thread."""
    elements: list[Element] = []
    y = 0.0
    for one in fasteners:
        on, style = one.id == picked, picked_style(one.id == picked)
        if (thread := known_thread(one.thread)) is None:
            continue  # of no table: it stands on the card only
        d = thread.major_mm
        tee = one.kind in (FastenerKind.T_NUT, FastenerKind.T_BOLT)
        wide, high = (1.8 * d, 0.75 * d) if tee else (1.5 * d, d) if one.kind is FastenerKind.CAP_SCREW else (1.75 * d, 0.85 * d)
        neck = one.neck_mm or 1.15 * d
        y -= wide + 14
        middle = y + wide / 2
        elements += [box(0, y, high, y + wide, Style.BODY, one.id), box(0, y, high, y + wide, style, one.id)]
        end = high
        if one.kind is FastenerKind.T_NUT:
            end = high + 0.45 * d
            elements += [
                box(high, middle - neck / 2, end, middle + neck / 2, Style.BODY, one.id),
                box(high, middle - neck / 2, end, middle + neck / 2, style, one.id),
            ]
        if one.length_mm:
            end = high + one.length_mm
            elements += [
                box(high, middle - d / 2, end, middle + d / 2, Style.BODY, one.id),
                box(high, middle - d / 2, end, middle + d / 2, style, one.id),
            ]
        threaded = (high + max(0.0, one.length_mm - 2.5 * d), end) if one.length_mm else (0.0, end)
        elements += [
            Line((threaded[0], middle + s * 0.42 * d), (threaded[1], middle + s * 0.42 * d), Style.THREAD, one.id)
            for s in (1, -1)
        ]
        elements.append(Note((end + 8, middle), f"{one.count} of {one.title}", quiet=not on, stays=True))
    return Scene("fasteners", "Nuts, bolts and screws", tuple(elements))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    return fastener_scene(
        shop.fasteners, item.id if item is not None else ""
    ), "To scale; heads and heights as usual for the thread"


KIND = ItemKind(
    kind="fastener",
    key="fasteners",
    title="Nuts, bolts and screws",
    order=100,
    type=Fastener,
    attribute="fasteners",
    scene=_drawn,
    count=number_of,
    sort=lambda f: (f.kind, f.thread, f.length_mm),
    new=lambda id, variant: Fastener(id=id, thread="M10"),
    parameters=(
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(FastenerKind)),
        Parameter(name="thread", label="Thread", kind=Kind.THREAD, unit=""),
        Parameter(name="length_mm", label="Length under the head", kind=Kind.LENGTH, low=0, high=1000, step=0.0),
        Parameter(name="neck_mm", label="Neck width in the slot", kind=Kind.LENGTH, low=0, high=80, step=0.0),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=999),
        Parameter(
            name="strength_class",
            label="Property class",
            kind=Kind.CHOICE,
            unit="",
            choices=choices_of(("4.6", "5.6", "8", "8.8", "10.9", "12.9")),
        ),
    ),
)
