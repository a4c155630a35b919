"""Pictures of what the shop has, to scale: table and slots, slot section with the caliper, bars, cutters."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from msgspec.structs import replace

from elbrix.angles.pictures import box_plan_scene, box_scene, sine_scene
from elbrix.angles.sine import SinePlate
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Scene, Side, Style, box
from elbrix.presenters.shop.tool_scenes import (
    angle_tool_scene,
    bore_scene,
    clamp_scene,
    fastener_scene,
    measuring_scene,
    pin_scene,
    stop_scene,
    stud_scene,
    support_scene,
    vise_scene,
)
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.gauges import AngleBlockSet, GaugeSet, Parallel
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.stock import Form
from elbrix.shop.tooling import Cutter
from elbrix.shop.workholding import Vise

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


def rack_scene(shop: Shop, picked: str) -> Scene:
    """Bars lying on the rack, to scale: what is left, the rest of the bought length dashed, section at the left."""
    elements: list[Element] = []
    tallest = max((max(b.width_mm, b.height_mm) for b in shop.bars), default=20.0)
    pitch = tallest * 1.9
    for i, bar in enumerate(shop.bars):
        y, on = -i * pitch, bar.id == picked
        style = Style.VISIBLE if on else Style.SURROUNDINGS
        h = bar.width_mm if bar.form is Form.ROUND else bar.height_mm
        if bar.form is Form.ROUND:
            elements.append(Arc((-70 - bar.width_mm / 2, y), bar.width_mm / 2, style=style, feature=bar.id))
        else:
            elements.append(box(-70 - bar.width_mm, y - h / 2, -70, y + h / 2, style, bar.id))
        elements += [
            box(0, y - h / 2, bar.length_mm, y + h / 2, Style.BODY, bar.id),
            box(0, y - h / 2, bar.length_mm, y + h / 2, style, bar.id),
        ]
        if bar.full_length_mm > bar.length_mm:
            elements.append(box(bar.length_mm, y - h / 2, bar.full_length_mm, y + h / 2, Style.HIDDEN, bar.id))
        elements.append(
            Note((max(bar.full_length_mm, bar.length_mm) + 30, y), f"{bar.title}, {bar.length_mm:g} left", quiet=not on)
        )
    return Scene("rack", "Bars on the rack", tuple(elements))


def cutter_scene(cutters: tuple[Cutter, ...], picked: str) -> Scene:
    """Cutters standing in rows by diameter, to scale, shank up."""
    elements: list[Element] = []
    x = y = row_height = 0.0
    for cutter in sorted(cutters, key=lambda c: (c.kind.value, c.diameter_mm)):
        on = cutter.id == picked
        style = Style.VISIBLE if on else Style.SURROUNDINGS
        d = cutter.diameter_mm
        wide = max(d, cutter.shank_mm, 24.0) + 14
        if x + wide > 620:
            x, y, row_height = 0.0, y - row_height - 46, 0.0
        cx = x + wide / 2
        if cutter.shank_mm == 0 and cutter.width_mm:
            elements += [
                Arc((cx, y - d / 2), d / 2, style=style, feature=cutter.id),
                Arc((cx, y - d / 2), 13, style=Style.HIDDEN, feature=cutter.id),
            ]
            tall = d
        else:
            edge = cutter.edge_length_mm or (40.0 if d > 40 else max(12.0, d * 1.8))
            shank = cutter.shank_mm or (22.0 if d > 40 else d * 0.8)
            stem = max(22.0, edge * 0.8)
            elements += [
                box(cx - shank / 2, y - stem, cx + shank / 2, y, style, cutter.id),
                box(cx - d / 2, y - stem - edge, cx + d / 2, y - stem, Style.BODY, cutter.id),
                box(cx - d / 2, y - stem - edge, cx + d / 2, y - stem, style, cutter.id),
            ]
            tall = stem + edge
        elements.append(Note((cx, y - tall - 9), cutter.name.split("x")[0] if cutter.name else f"{d:g}", quiet=not on, align=0))
        row_height = max(row_height, tall)
        x += wide
    return Scene("cutters", "Cutters, by kind and diameter, shanks up", tuple(elements))


def parallel_scene(parallels: tuple[Parallel, ...], picked: str) -> Scene:
    """Pairs of parallels end on beside each other, to scale, with their length behind them dashed."""
    elements: list[Element] = []
    x = 0.0
    for pair in parallels:
        style = Style.VISIBLE if pair.id == picked else Style.SURROUNDINGS
        for i in range(min(2, pair.count)):
            left = x + i * (pair.thickness_mm + 3)
            elements += [
                box(left, 0, left + pair.thickness_mm, pair.height_mm, Style.BODY, pair.id),
                box(left, 0, left + pair.thickness_mm, pair.height_mm, style, pair.id),
            ]
        elements.append(Note((x + pair.thickness_mm, -6), f"{pair.height_mm:g}", quiet=pair.id != picked, align=0))
        x += 2 * pair.thickness_mm + 16
    elements.append(Line((-6, 0), (x, 0), Style.SURROUNDINGS))
    return Scene("parallels", "Parallels, end on", tuple(elements))


def thing_scene(what: str, shop: Shop, item: Any, block: str) -> tuple[Scene, str] | None:
    """(picture, line under it) of one of the lists; None when there is nothing to draw."""
    picked = item.id if item is not None else ""
    if what == "rack" and shop.bars:
        return rack_scene(shop, picked), "To scale. Dashed: what has been used of the bar as bought"
    if what == "cutters" and shop.cutters:
        return cutter_scene(shop.cutters, picked), "To scale. A shank is seldom the size of its cutter"
    if isinstance(item, GaugeSet):
        return (
            box_scene(item, (), block),
            "To scale. Dashed: lent out or in a stack; crossed: worn. Click a block to say where it is",
        )
    if isinstance(item, AngleBlockSet):
        return box_plan_scene(item, across=4), "Dashed: not here. Click a block to say where it is"
    if what == "studs" and shop.studs:
        return stud_scene(shop.studs, picked), "To scale"
    if what == "measuring" and shop.measuring:
        return measuring_scene(shop.measuring, picked), "How far each reaches, to scale, and what it is trusted to"
    if isinstance(item, Vise):
        return vise_scene(item), "To scale; the jaws half open"
    if what == "clamps" and shop.clamps:
        return clamp_scene(shop.clamps, picked), "To scale"
    if what == "supports" and shop.supports:
        return support_scene(shop.supports, picked), "To scale at their lowest; dashed: as high as they go"
    if what == "stops" and shop.stops:
        return stop_scene(shop.stops, picked), "To scale; dashed: as far as the tongue goes"
    if what == "pins" and shop.pins:
        return pin_scene(shop.pins, picked), "To scale"
    if what == "bores" and shop.bores:
        return bore_scene(shop.bores, picked), "The smallest Ø rules what goes in"
    if what == "fasteners" and shop.fasteners:
        return fastener_scene(shop.fasteners, picked), "To scale; heads and heights as usual for the thread"
    if what == "angles" and shop.angle_tools:
        return angle_tool_scene(shop.angle_tools, picked), "Pieces at their angle; readers with their scale"
    if what == "parallels" and shop.parallels:
        return parallel_scene(shop.parallels, picked), "To scale, end on; pairs as measured"
    if isinstance(item, SineTool):
        plate = SinePlate(centres_mm=item.centres_mm, roll_pivot_mm=item.roll_pivot_mm, roll_stack_mm=item.roll_stack_mm)
        flat = sine_scene(
            plate,
            plate.angle_rad(0.0),
            0.0,
            None,
            None,
            spacer_mm=0,
            face_above_mm=item.face_above_mm or item.roll_pivot_mm * 0.85,
            work=(0.0, 0.0),
            words="",
            turned=False,
        )
        return (
            replace(flat, dimensions=tuple(d for d in flat.dimensions if d.key == "tool"), handles=()),
            "Lying flat on the surface plate",
        )
    return None
