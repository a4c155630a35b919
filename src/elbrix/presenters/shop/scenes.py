"""Pictures of a machine, to scale: table and slots, slot section with the caliper."""

from __future__ import annotations

from itertools import pairwise

from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Scene, Side, Style, box
from elbrix.shop.machines import Machine
from elbrix.shop.slots import TSlot

#: Drawn for a size nobody has measured: marked as such, never used for anything else.
_STAND_IN = {"neck": 12.0, "lip": 8.0, "head": 19.0, "depth": 16.0}


def table_scene(machine: Machine, picked: str) -> Scene:
    """The table from above, middle at the origin; slots as wide as measured."""
    length, width = machine.table_length_mm or 600.0, machine.table_width_mm or 200.0
    rings = any(not s.straight for s in machine.slots)
    elements: list[Element] = []
    if rings:
        elements.append(Arc((0, 0), length / 2, style=Style.VISIBLE, feature="table"))
    else:
        elements += [
            box(-length / 2, -width / 2, length / 2, width / 2, Style.BODY, "table"),
            box(-length / 2, -width / 2, length / 2, width / 2, Style.VISIBLE, "table"),
        ]
    offsets = sorted(s.offset_mm for s in machine.slots if s.straight)
    pitch = min((b - a for a, b in pairwise(offsets) if b > a), default=50.0)
    for slot in machine.slots:
        neck = slot.neck.mean if slot.neck else 12.0
        head = slot.head.mean if slot.head else 20.0
        on = slot.label == picked
        edge, deep = (Style.VISIBLE if on else Style.SURROUNDINGS), Style.HIDDEN
        feature = f"pick {slot.label}"
        if slot.straight:
            y = slot.offset_mm
            elements.append(
                box(-length / 2, y - neck / 2, length / 2, y + neck / 2, Style.SURROUNDINGS_SECTION if on else edge, feature)
            )
            elements += [Line((-length / 2, y + s * neck / 2), (length / 2, y + s * neck / 2), edge, feature) for s in (-1, 1)]
            elements += [Line((-length / 2, y + s * head / 2), (length / 2, y + s * head / 2), deep, feature) for s in (-1, 1)]
            words = slot.label if slot.measured else f"{slot.label}, not measured"
            elements.append(Note((-length / 2 + 12, y + pitch / 2), words, quiet=not on))
        else:
            elements += [Arc((0, 0), slot.ring_radius_mm + s * neck / 2, style=edge, feature=feature) for s in (-1, 1)]
            elements += [Arc((0, 0), slot.ring_radius_mm + s * head / 2, style=deep, feature=feature) for s in (-1, 1)]
            elements.append(Note((0, slot.ring_radius_mm), slot.label, quiet=not on, align=0))
        if slot.measured and slot.straight and slot.neck is not None:
            for i in range(slot.neck.count):
                x = (-0.46, 0.0, 0.46)[i % 3] * length
                elements.append(Line((x, slot.offset_mm - 9), (x, slot.offset_mm + 9), Style.CENTRE, feature))
    dims: list[Dimension] = []
    if not rings:
        dims.append(
            Dimension(
                "table_length_mm",
                (-length / 2, width / 2),
                (length / 2, width / 2),
                Side.ABOVE,
                entry="table_length_mm",
                feature="table",
                step_mm=1,
                order=20,
            )
        )
        dims.append(
            Dimension(
                "table_width_mm",
                (length / 2, -width / 2),
                (length / 2, width / 2),
                Side.RIGHT,
                entry="table_width_mm",
                feature="table",
                step_mm=1,
                order=21,
            )
        )
        straight = sorted(s.offset_mm for s in machine.slots if s.straight)
        if len(straight) > 1:
            dims.append(
                Dimension(
                    "pitch",
                    (-length / 2, straight[-2]),
                    (-length / 2, straight[-1]),
                    Side.LEFT,
                    feature="table",
                    suffix="pitch",
                    step_mm=0.1,
                )
            )
    return Scene("table", f"{machine.name}, table from above", tuple(elements), tuple(dims))


def section_scene(slot: TSlot, measuring: str = "") -> Scene:
    """The slot's section as measured, tightest readings; with `measuring`, where the caliper's jaws go."""
    sizes = {n: getattr(slot, n).min if getattr(slot, n) else _STAND_IN[n] for n in _STAND_IN}
    known = {n: getattr(slot, n) is not None for n in _STAND_IN}
    sizes = _plausible(sizes, known)
    a, t, b, h = sizes["neck"] / 2, sizes["lip"], sizes["head"] / 2, sizes["depth"]
    out, under = b + max(6.0, 0.5 * b), h + max(3.0, 0.2 * h)
    host = Path(
        (
            (-out, 0),
            (-a, 0),
            (-a, -t),
            (-b, -t),
            (-b, -h),
            (b, -h),
            (b, -t),
            (a, -t),
            (a, 0),
            (out, 0),
            (out, -under),
            (-out, -under),
        ),
        Style.SURROUNDINGS_SECTION,
        "table",
        closed=True,
    )

    def edge(name: str) -> Style:
        return Style.VISIBLE if known[name] else Style.HIDDEN

    elements: list[Element] = [
        host,
        *(Line((s * a, 0), (s * a, -t), edge("neck"), "slot neck") for s in (-1, 1)),
        *(Line((s * a, -t), (s * b, -t), edge("lip"), "slot lip") for s in (-1, 1)),
        *(Line((s * b, -t), (s * b, -h), edge("head"), "slot head") for s in (-1, 1)),
        Line((-b, -h), (b, -h), edge("depth"), "slot floor"),
        Line((-out, 0), (-a, 0), Style.VISIBLE, "table"),
        Line((a, 0), (out, 0), Style.VISIBLE, "table"),
        Line((0, 3), (0, -h - 2), Style.CENTRE),
        *_caliper(measuring, a, t, b, h),
    ]
    spec = (
        ("neck", (-a, 0.0), (a, 0.0), Side.ABOVE, "neck"),
        ("lip", (-a, -t), (-a, 0.0), Side.LEFT, "lip"),
        ("head", (-b, -h), (b, -h), Side.BELOW, "head"),
        ("depth", (b, -h), (b, 0.0), Side.RIGHT, "deep"),
    )
    dims = tuple(
        Dimension(
            n,
            p,
            q,
            side,
            suffix=word,
            text="" if known[n] else "?",
            entry="" if measuring else n,
            feature=f"slot {n}" if n != "depth" else "slot floor",
            measured=True,
            order=i,
        )
        for i, (n, p, q, side, word) in enumerate(spec)
    )
    return Scene("section", f"{slot.label}, section", tuple(elements), dims)


def _plausible(sizes: dict[str, float], known: dict[str, bool]) -> dict[str, float]:
    """Stand-in sizes pushed so that the picture is still a slot."""
    s = dict(sizes)
    if not known["head"]:
        s["head"] = max(s["head"], s["neck"] * 1.6)
    if not known["neck"]:
        s["neck"] = min(s["neck"], s["head"] * 0.62)
    if not known["depth"]:
        s["depth"] = max(s["depth"], s["lip"] * 1.9)
    if not known["lip"]:
        s["lip"] = min(s["lip"], s["depth"] * 0.5)
    return s


def _caliper(measuring: str, a: float, t: float, b: float, h: float) -> list[Element]:
    """The jaws, hook or rod that take one size."""
    w, up = max(0.8, a * 0.16), max(7.0, h * 0.6)

    def jaw(points: tuple[tuple[float, float], ...]) -> Path:
        return Path(points, Style.TOOL, "caliper", closed=True)

    if measuring == "neck":
        deep = -t * 0.55
        return [
            jaw(((-a, deep), (-a, up * 0.5), (-a + 2.4 * w, up), (-a + 2.4 * w, up * 0.4), (-a + w, 0.0), (-a + w, deep))),
            jaw(((a, deep), (a, up * 0.5), (a - 2.4 * w, up), (a - 2.4 * w, up * 0.4), (a - w, 0.0), (a - w, deep))),
        ]
    if measuring == "lip":
        # An L-shaped hook: down through the neck, out under the lip; the beam lies on the table.
        return [
            jaw(
                (
                    (-a + 0.4, up * 0.35),
                    (-a + 0.4, -t - w),
                    (-a - 0.45 * (b - a), -t - w),
                    (-a - 0.45 * (b - a), -t),
                    (-a + 0.4 - w * 0.2, -t),
                    (-a + 0.4 - w * 0.2, -t),
                    (-a + 0.4 + w, -t),
                    (-a + 0.4 + w, up * 0.35),
                )
            ),
            jaw(((-a - 0.8 * b, 0.0), (-a - 0.1, 0.0), (-a - 0.1, w * 1.5), (-a - 0.8 * b, w * 1.5))),
        ]
    if measuring == "head":
        middle = -(t + h) / 2
        return [
            jaw(
                (
                    (s * b, middle - w),
                    (s * b, middle + w),
                    (s * (a * 0.75), middle + w),
                    (s * (a * 0.75), up),
                    (s * (a * 0.75 - w), up),
                    (s * (a * 0.75 - w), middle - w),
                )
            )
            for s in (-1.0, 1.0)
        ]
    if measuring == "depth":
        return [
            jaw(((-w * 0.7, -h), (w * 0.7, -h), (w * 0.7, up), (-w * 0.7, up))),
            jaw(((-b, 0.0), (b, 0.0), (b, w * 2), (-b, w * 2))),
        ]
    return []


def machine_scene(machine: Machine, slot: TSlot | None) -> tuple[Scene, Scene | None]:
    """Table from above, and the picked slot's section to be shown larger."""
    table = table_scene(machine, slot.label if slot else "")
    if slot is None:
        return table, None
    detail = section_scene(slot)
    _, bottom, right, _ = detail.bounds()
    notes = _slot_notes(slot)
    step = -bottom * 0.2
    words = (
        tuple(Note((right * 2.1, bottom * 0.2 - i * step), n, quiet=i > 0) for i, n in enumerate(notes)) if slot.straight else ()
    )
    return table, Scene("section", detail.title, (*detail.elements, *words), detail.dimensions)


def _slot_notes(slot: TSlot) -> tuple[str, ...]:
    if not slot.measured:
        return (f"{slot.label}: not measured yet", "Measure it at both ends and in the middle")
    with_ = next((getattr(slot, n).measured_with for n in _STAND_IN if getattr(slot, n) and getattr(slot, n).measured_with), "")
    on = max((getattr(slot, n).on for n in _STAND_IN if getattr(slot, n)), default="")
    return (
        f"{slot.label}, tightest readings",
        f"measured in {slot.places} place{'s' if slot.places > 1 else ''}",
        f"{with_}  {on}".strip(),
    )
