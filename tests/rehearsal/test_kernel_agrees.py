"""The second road: the JSON of a plan cut by the kernel, by somebody who has only blank, poses, cutters and strokes."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_Transform
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps

from elbrix.book.designs import family_of, plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.cli.cutting import plan_json
from elbrix.demo import documents
from elbrix.shop.shop import Shop
from elbrix.solids.kernel import build

FAR = 400.0
DESIGNS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}


def volume(shape: Any) -> float:
    found = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, found)
    return float(found.Mass())


def blank_of(blank: dict[str, Any]) -> Any:
    if blank["shape"] == "box":
        return BRepPrimAPI_MakeBox(gp_Pnt(*blank["min_mm"]), gp_Pnt(*blank["max_mm"])).Shape()
    way = {"x": gp_Dir(1, 0, 0), "y": gp_Dir(0, 1, 0), "z": gp_Dir(0, 0, 1)}[blank["axis"]]
    start = [blank["from_mm"] if a == blank["axis"] else 0.0 for a in "xyz"]
    length = blank["to_mm"] - blank["from_mm"]
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*start), way), blank["diameter_mm"] / 2, length).Shape()


def face(points: list[tuple[float, float, float]]) -> Any:
    wire = BRepBuilderAPI_MakePolygon()
    for p in points:
        wire.Add(gp_Pnt(*p))
    wire.Close()
    return BRepBuilderAPI_MakeFace(wire.Wire()).Face()


def profile(cutter: dict[str, Any]) -> list[tuple[float, float]]:
    r = cutter["diameter_mm"] / 2
    point = cutter.get("point_deg", 0.0)
    cone = r / math.tan(math.radians(point) / 2) if point else 0.0
    return [(0.0, 0.0), *([(r, cone)] if point else [(r, 0.0)]), (r, FAR), (0.0, FAR)]


def swept(cutter: dict[str, Any], path: list[list[float]]) -> list[Any]:
    """What a stroke takes away, as kernel bodies in the machine frame."""
    (ax, ay, az), (bx, _, bz) = path[0], path[-1]
    if cutter.get("on") == "lathe" and cutter["kind"] in ("turning", "boring", "parting"):
        return [_turned(cutter, path)]
    if cutter["axis"] == "y":
        r, w = cutter["diameter_mm"] / 2, cutter["width_mm"] / 2
        ends = [BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, ay - w, az + r), gp_Dir(0, 1, 0)), r, 2 * w).Shape() for x in (ax, bx)]
        low, high = min(ax, bx), max(ax, bx)
        return [*ends, BRepPrimAPI_MakeBox(gp_Pnt(low, ay - w, az), gp_Pnt(high, ay + w, az + 2 * r)).Shape()]
    z = min(az, bz)
    outline = profile(cutter)

    def at(x: float, y: float) -> Any:
        ring = face([(x + r, y, z + h) for r, h in outline])
        return BRepPrimAPI_MakeRevol(ring, gp_Ax1(gp_Pnt(x, y, 0), gp_Dir(0, 0, 1))).Shape()

    bodies = []
    for (x0, y0, _), (x1, y1, _) in pairwise(path):
        bodies += [at(x0, y0), at(x1, y1)]
        long = math.hypot(x1 - x0, y1 - y0)
        if long > 1e-9:
            side = (-(y1 - y0) / long, (x1 - x0) / long)
            whole = [(r, h) for r, h in outline[1:]]
            ring = [*whole, *((-r, h) for r, h in reversed(whole) if r > 1e-12)]
            section = face(
                [
                    (x0 + r * side[0], y0 + r * side[1], z + h)
                    for r, h in ([(0.0, 0.0), *ring] if cutter.get("point_deg") else ring)
                ]
            )
            bodies.append(BRepPrimAPI_MakePrism(section, gp_Vec(x1 - x0, y1 - y0, 0)).Shape())
    return bodies


def _turned(cutter: dict[str, Any], path: list[list[float]]) -> Any:
    corners = [(p[0], p[2]) for p in path]
    (x0, z0), (x1, z1) = corners[0], corners[-1]
    if cutter["kind"] == "parting":
        ring = [(0.0, z1), (FAR, z1), (FAR, z1 + cutter["width_mm"]), (0.0, z1 + cutter["width_mm"])]
    elif cutter["kind"] == "boring":
        ring = [(0.0, FAR), (x0, FAR), *corners, (0.0, z1)]
    elif abs(z0 - z1) < 1e-9:
        ring = [(min(x0, x1), z0), (FAR, z0), (FAR, FAR), (min(x0, x1), FAR)]
    else:
        ring = [(x0, FAR), *corners, (FAR, z1), (FAR, FAR)]
    clean = [p for i, p in enumerate(ring) if p != ring[i - 1]]
    return BRepPrimAPI_MakeRevol(face([(r, 0.0, z) for r, z in clean]), gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1))).Shape()


def into_part(shape: Any, pose: dict[str, Any]) -> Any:
    """From the machine frame into the part's: part = Rᵀ·(machine − offset)."""
    back = np.array(pose["rotation"]).T
    move = -back @ np.array(pose["offset_mm"])
    turn = gp_Trsf()
    turn.SetValues(*back[0], move[0], *back[1], move[1], *back[2], move[2])
    return BRepBuilderAPI_Transform(shape, turn, True).Shape()


def cut_out(data: dict[str, Any]) -> Any:
    """The piece, cut from the JSON alone."""
    work = blank_of(data["blank"])
    for setup in data["setups"]:
        for operation in setup["operations"]:
            for move in operation["moves"]:
                if "removes" in move:
                    work = BRepAlgoAPI_Cut(work, blank_of(move["removes"])).Shape()
                for stroke in move["strokes"]:
                    for body in swept(operation["cutter"], stroke["path_mm"]):
                        work = BRepAlgoAPI_Cut(work, into_part(body, setup["pose"])).Shape()
    return work


@pytest.mark.parametrize(
    "id", ["t-nut-first", "table-keys", "stop-table", "stop-vise", "bush-yoke", "pin-relieved", "plate-yoke"]
)
def test_an_outsider_cuts_the_same_piece(id: str, demo_shop: Shop) -> None:
    """Only what lies within the moves' own tolerance may differ: an owned drill beside the drawn one, a chamfer."""
    doc = DESIGNS[id]
    design = solve_doc(doc, demo_shop)
    plan = plan_doc(doc, design, demo_shop)
    work = family_of(doc).work(design, demo_shop)
    assert work.solid is not None and plan.solid == work.solid
    wanted, cut = build(work.solid), cut_out(plan_json(plan))  # type: ignore[arg-type]
    left, gouged = volume(BRepAlgoAPI_Cut(cut, wanted).Shape()), volume(BRepAlgoAPI_Cut(wanted, cut).Shape())
    # A counterbore is made with the next owned end mill: Ø8 for Ø7.5 takes 27 mm³ more, which the plan allows.
    over = 0.012 if any(m.allowed_mm > 0.1 for _, _, m in plan.moves) else 0.002
    assert left < 2e-3 * volume(wanted) and gouged < over * volume(wanted)
