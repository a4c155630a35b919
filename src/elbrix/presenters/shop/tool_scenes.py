"""Pictures of studs, measuring tools, angle tools, vises, clamps, blocks, stops, nuts and screws.

Lengths and angles true, the rest as one knows them.
"""

from __future__ import annotations

import math

from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Point, Scene, Side, Style, box, shift
from elbrix.shop.angle_tools import AngleTool, AngleToolKind
from elbrix.shop.locating import Bore, Pin
from elbrix.shop.tooling import MeasuringTool, Stud
from elbrix.shop.workholding import Clamp, Fastener, FastenerKind, SupportBlock, TableStop, Vise
from elbrix.standards.threads import known_thread


def _style(on: bool) -> Style:
    return Style.VISIBLE if on else Style.SURROUNDINGS


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
        style = _style(on)
        elements += [box(0, y, length, y + d, Style.BODY, stud.id), box(0, y, length, y + d, style, stud.id)]
        for start, end in ((0.0, min(0.45 * length, 2.5 * d)), (length - min(0.45 * length, 2.5 * d), length)):
            elements += [Line((start, y + at), (end, y + at), Style.THREAD, stud.id) for at in (inner, d - inner)]
        elements.append(Note((length + 8, y + d / 2), f"{stud.count} of {thread.shown}, {stud.strength_class}", quiet=not on))
    return Scene("studs", "Studs", tuple(elements))


def measuring_scene(tools: tuple[MeasuringTool, ...], picked: str) -> Scene:
    """Measuring tools by how far they reach, to scale along their length: a beam with a fixed and a sliding jaw."""
    elements: list[Element] = []
    y = 0.0
    for tool in sorted(tools, key=lambda t: t.reach_mm):
        on, style = tool.id == picked, _style(tool.id == picked)
        jaw, beam, reach = 38.0, 14.0, tool.reach_mm
        y -= jaw + 34
        fixed: tuple[Point, ...] = ((-18, y + jaw), (-18, y), (0, y), (0, y + jaw - beam))
        elements += [
            Path((*fixed, (reach + 46, y + jaw - beam), (reach + 46, y + jaw)), Style.BODY, tool.id, closed=True),
            Path((*fixed, (reach + 46, y + jaw - beam), (reach + 46, y + jaw)), style, tool.id, closed=True),
            Path(
                ((reach, y), (reach + 14, y), (reach + 30, y + jaw - beam), (reach, y + jaw - beam)), style, tool.id, closed=True
            ),
        ]
        step = 10.0 if reach <= 300 else 50.0
        elements += [
            Line((x, y + jaw), (x, y + jaw - (6 if i % 5 else 9)), Style.THIN, tool.id) for i, x in enumerate(_ticks(reach, step))
        ]
        elements.append(Note((reach + 60, y + jaw / 2), f"{tool.name}, ±{tool.uncertainty_mm:g}", quiet=not on))
    return Scene("measuring", "Measuring tools, by reach", tuple(elements))


def _ticks(reach: float, step: float) -> list[float]:
    return [i * step for i in range(int(reach // step) + 1)]


def angle_tool_scene(tools: tuple[AngleTool, ...], picked: str) -> Scene:
    """Angle pieces at their true angle, readers with their scale."""
    elements: list[Element] = []
    x, y = 0.0, 0.0
    for tool in tools:
        if x > 380:
            x, y = 0.0, y - 150
        on, style = tool.id == picked, _style(tool.id == picked)
        elements += [shift(e, x, y) for e in _angle_tool(tool, style)]
        elements.append(Note((x + 60, y - 18), tool.name, quiet=not on, align=0))
        trusted = (
            f"true to ±{tool.error_deg:g}°"
            if tool.kind is AngleToolKind.ANGLE_PIECE
            else f"reads to {tool.resolution_deg:g}°, ±{tool.error_deg:g}°"
        )
        elements.append(Note((x + 60, y - 36), trusted, quiet=True, align=0))
        x += 190
    return Scene("angles", "Levels, protractors and angle pieces", tuple(elements))


def _angle_tool(tool: AngleTool, style: Style) -> list[Element]:
    """At the origin, 120 wide."""
    name = tool.id
    if tool.kind is AngleToolKind.ANGLE_PIECE:
        a = math.radians(tool.angle_deg)
        if "v" in tool.name.lower().split("-")[0].split():  # a V: both flanks lean by the angle
            ring: tuple[Point, ...] = (
                (0, 0),
                (120, 0),
                (120, 66),
                (94, 66),
                (60, 66 - 34 * math.tan(min(a, 1.2))),
                (26, 66),
                (0, 66),
            )
        else:
            ring = ((0, 0), (110, 0), (110, min(90.0, 110 * math.tan(min(a, 1.3)))))
        return [Path(ring, Style.BODY, name, closed=True), Path(ring, style, name, closed=True)]
    if tool.kind is AngleToolKind.TILTING_PLATE:
        lean = math.radians(min(tool.reach_deg, 40))
        tip: Point = (116 * math.cos(lean), 10 + 116 * math.sin(lean))
        return [
            box(0, 0, 120, 10, style, name),
            Path(((4, 10), tip, (tip[0] - 8 * math.sin(lean), tip[1] + 8 * math.cos(lean)), (4, 18)), style, name, closed=True),
        ]
    if tool.kind is AngleToolKind.LEVEL:
        return [
            box(0, 0, 120, 40, Style.BODY, name),
            box(0, 0, 120, 40, style, name),
            box(34, 12, 86, 30, Style.THIN, name),
            Note((60, 21), "0.0°", align=0, plain=True),
        ]
    centre: Point = (60, 12)
    scale: list[Element] = [
        Arc(centre, 56, 0, 180, style, name),
        Line((0, 12), (120, 12), style, name),
        box(0, 0, 120, 12, style, name),
    ]
    for degrees in range(0, 181, 15):
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        scale.append(
            Line(
                (60 + 56 * c, 12 + 56 * s),
                (60 + (46 if degrees % 45 else 40) * c, 12 + (46 if degrees % 45 else 40) * s),
                Style.THIN,
                name,
            )
        )
    return [*scale, Line(centre, (60 + 50 * math.cos(0.9), 12 + 50 * math.sin(0.9)), style, name)]


def vise_scene(vise: Vise) -> Scene:
    """A vise from above and from the side, to scale."""
    t, w = vise.jaw_thickness_mm, vise.jaw_width_mm
    gap = min(vise.opening_mm, 0.6 * w)
    long, name = vise.body_mm, vise.id
    base = (-0.4 * w, -t - gap - 0.5 * t - max(0.0, long - gap - 3.5 * t), 0.4 * w, 1.6 * t)
    elements: list[Element] = [box(*base, Style.BODY, name), box(*base, Style.SURROUNDINGS, name)]
    for low, high in ((0.0, t), (-gap - t, -gap)):
        elements += [box(-w / 2, low, w / 2, high, Style.BODY, name), box(-w / 2, low, w / 2, high, Style.VISIBLE, name)]
    dims = [Dimension("jaw_width_mm", (-w / 2, t), (w / 2, t), Side.ABOVE, feature=name, step_mm=0.1, suffix="jaws")]
    left, bed, top = w / 2 + 110.0, vise.bed_height_mm, vise.bed_height_mm + vise.jaw_height_mm
    elements += [
        Line((left - 20, 0), (left + long + 20, 0), Style.SURROUNDINGS, "table"),
        box(left, 0, left + long, bed, Style.BODY, name),
        box(left, 0, left + long, bed, Style.SURROUNDINGS, name),
    ]
    for x in (left + long - 2.6 * t, left + long - 3.6 * t - gap):
        elements += [box(x, bed, x + t, top, Style.BODY, name), box(x, bed, x + t, top, Style.VISIBLE, name)]
    dims += [
        Dimension("bed_height_mm", (left + long, 0), (left + long, bed), Side.RIGHT, feature=name, step_mm=0.1, suffix="bed"),
        Dimension("jaw_height_mm", (left, bed), (left, top), Side.LEFT, feature=name, step_mm=0.1, suffix="jaws"),
    ]
    return Scene("vise", f"{vise.name}, from above and from the side", tuple(elements), tuple(dims))


def clamp_scene(clamps: tuple[Clamp, ...], picked: str) -> Scene:
    """Clamps from above with their slots, tip to the left, to scale."""
    elements: list[Element] = []
    y = 0.0
    for clamp in clamps:
        on, style = clamp.id == picked, _style(clamp.id == picked)
        y -= clamp.width_mm + 22
        nose = 0.3 * clamp.width_mm
        ring: tuple[Point, ...] = (
            (0, y + 0.3 * clamp.width_mm),
            (nose, y),
            (clamp.length_mm, y),
            (clamp.length_mm, y + clamp.width_mm),
            (nose, y + clamp.width_mm),
            (0, y + 0.7 * clamp.width_mm),
        )
        middle = y + clamp.width_mm / 2
        elements += [Path(ring, Style.BODY, clamp.id, closed=True), Path(ring, style, clamp.id, closed=True)]
        elements.append(
            box(
                clamp.slot_from_mm,
                middle - clamp.slot_width_mm / 2,
                clamp.slot_to_mm,
                middle + clamp.slot_width_mm / 2,
                style,
                clamp.id,
            )
        )
        elements.append(Note((clamp.length_mm + 8, middle), f"{clamp.count} of {clamp.title}", quiet=not on))
    return Scene("clamps", "Clamps, tips to the left", tuple(elements))


def support_scene(blocks: tuple[SupportBlock, ...], picked: str) -> Scene:
    """Blocks and jacks from the side at their lowest, with their highest dashed, to scale."""
    elements: list[Element] = []
    x = 0.0
    for block in blocks:
        on, style = block.id == picked, _style(block.id == picked)
        elements += [
            box(x, 0, x + block.length_mm, block.min_height_mm, Style.BODY, block.id),
            box(x, 0, x + block.length_mm, block.min_height_mm, style, block.id),
        ]
        if block.max_height_mm > block.min_height_mm:
            elements.append(box(x, block.min_height_mm, x + block.length_mm, block.max_height_mm, Style.HIDDEN, block.id))
        elements.append(Note((x + block.length_mm / 2, -9), f"{block.count} × {block.min_height_mm:g}", quiet=not on, align=0))
        elements.append(Note((x + block.length_mm / 2, -19), block.kind.value, quiet=True, align=0))
        x += max(block.length_mm, 44.0) + 26
    elements.append(Line((-10, 0), (x - 10, 0), Style.SURROUNDINGS))
    return Scene("supports", "Blocks and jacks from the side", tuple(elements))


def stop_scene(stops: tuple[TableStop, ...], picked: str) -> Scene:
    """Stops from above with how far their tongue goes, to scale."""
    elements: list[Element] = []
    y = 0.0
    for stop in stops:
        on, style = stop.id == picked, _style(stop.id == picked)
        y -= stop.body_mm + 20
        middle = y + stop.body_mm / 2
        elements += [
            box(0, y, stop.body_mm, y + stop.body_mm, Style.BODY, stop.id),
            box(0, y, stop.body_mm, y + stop.body_mm, style, stop.id),
            Arc((stop.body_mm / 2, middle), 5, style=style, feature=stop.id),
        ]
        elements.append(box(stop.body_mm, middle - 4, stop.body_mm / 2 + stop.reach_mm, middle + 4, Style.HIDDEN, stop.id))
        elements.append(Note((stop.body_mm / 2 + stop.reach_mm + 8, middle), f"{stop.count} of {stop.title}", quiet=not on))
    return Scene("stops", "Table stops, tongues to the right", tuple(elements))


def fastener_scene(fasteners: tuple[Fastener, ...], picked: str) -> Scene:
    """Nuts, bolts and screws from the side, to scale: heads and heights as the standards have them for the thread."""
    elements: list[Element] = []
    y = 0.0
    for one in fasteners:
        on, style = one.id == picked, _style(one.id == picked)
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
        elements.append(Note((end + 8, middle), f"{one.count} of {one.title}", quiet=not on))
    return Scene("fasteners", "Nuts, bolts and screws", tuple(elements))


def pin_scene(pins: tuple[Pin, ...], picked: str) -> Scene:
    """Pins lying side by side, to scale."""
    elements: list[Element] = []
    y = 0.0
    for pin in pins:
        on, style = pin.id == picked, _style(pin.id == picked)
        y -= pin.diameter_mm + 10
        c = 0.12 * pin.diameter_mm
        ring = (
            (c, y),
            (pin.length_mm - c, y),
            (pin.length_mm, y + c),
            (pin.length_mm, y + pin.diameter_mm - c),
            (pin.length_mm - c, y + pin.diameter_mm),
            (c, y + pin.diameter_mm),
            (0, y + pin.diameter_mm - c),
            (0, y + c),
        )
        elements += [Path(ring, Style.BODY, pin.id, closed=True), Path(ring, style, pin.id, closed=True)]
        elements.append(Note((0, y + pin.diameter_mm + 2.5), f"{pin.count} of {pin.title}", quiet=not on))
    return Scene("pins", "Pins", tuple(elements))


def bore_scene(bores: tuple[Bore, ...], picked: str) -> Scene:
    """Bores from their mouths, the smallest circle in each drawn full, the largest hidden and ten times as far off."""
    elements: list[Element] = []
    x = 0.0
    for bore in bores:
        on, style = bore.id == picked, _style(bore.id == picked)
        r = bore.smallest_mm / 2
        x += r + 10
        grown = min(r + 5 * bore.uneven_mm, 1.3 * r)
        elements += [Arc((x, 0), grown, style=Style.HIDDEN, feature=bore.id), Arc((x, 0), r, style=style, feature=bore.id)]
        elements += [Line((x - r - 3, 0), (x + r + 3, 0), Style.CENTRE), Line((x, -r - 3), (x, r + 3), Style.CENTRE)]
        elements.append(Note((x, -grown - 8), bore.title, quiet=not on, align=0))
        x += r + 10 + 0.3 * r
    return Scene("bores", "Bores, unevenness ten times", tuple(elements))
