"""The geometry kernel behind plain data. Loaded only in the kernel process.

Every build is checked: done, one solid, valid, a believable volume. The kernel's own failures become `KernelRefusal`.
"""

from __future__ import annotations

import io
import math
import struct
from collections.abc import Callable
from functools import lru_cache
from typing import Any, Final

import numpy as np
from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakePolygon,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.collections import List_TopoDS_Shape
from OCP.GC import GC_MakeArcOfCircle
from OCP.GCPnts import GCPnts_QuasiUniformDeflection
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pln, gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.IMeshTools import IMeshTools_MeshAlgoType, IMeshTools_Parameters
from OCP.Interface import Interface_Static
from OCP.Message import Message, Message_Gravity
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.StepBasic import StepBasic_Product
from OCP.STEPControl import STEPControl_Controller, STEPControl_Reader, STEPControl_StepModelType, STEPControl_Writer
from OCP.TCollection import TCollection_HAsciiString
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from elbrix.solids.part21 import step_string
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned

#: Smallest length the kernel and we tell apart, mm.
_SAME = 1e-6
#: View name → (towards the viewer, to the right on the picture).
VIEWS: dict[str, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "front": ((0, -1, 0), (1, 0, 0)),
    "back": ((0, 1, 0), (-1, 0, 0)),
    "top": ((0, 0, 1), (1, 0, 0)),
    "side": ((1, 0, 0), (0, 1, 0)),
    "iso": ((1, -1, 0.8164965809), (0.70710678, 0.70710678, 0)),
}

for _printer in Message.DefaultMessenger_s().Printers():
    _printer.SetTraceLevel(Message_Gravity.Message_Fail)  # it would write its own log among ours


class KernelRefusal(Exception):
    """The kernel could not make or read it; the text says what."""


def _polygon(points: list[tuple[float, float, float]]) -> Any:
    maker = BRepBuilderAPI_MakePolygon()
    for p in points:
        maker.Add(gp_Pnt(*p))
    maker.Close()
    if not maker.IsDone():
        raise KernelRefusal("an outline does not close")
    return maker.Wire()


def _with_arcs(points: list[tuple[float, float, float]], arcs: dict[int, tuple[float, float, float]]) -> Any:
    """A closed wire of straight edges and of arcs through a point each."""
    maker = BRepBuilderAPI_MakeWire()
    for i, a in enumerate(points):
        b = points[(i + 1) % len(points)]
        if i in arcs:
            edge = BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(gp_Pnt(*a), gp_Pnt(*arcs[i]), gp_Pnt(*b)).Value()).Edge()
        else:
            edge = BRepBuilderAPI_MakeEdge(gp_Pnt(*a), gp_Pnt(*b)).Edge()
        maker.Add(edge)
    if not maker.IsDone():
        raise KernelRefusal("an outline does not close")
    return maker.Wire()


def _make(recipe: Recipe) -> Any:
    if isinstance(recipe, Prism):
        start, long = recipe.start, recipe.end - recipe.start
        place: Callable[[float, float], tuple[float, float, float]]
        if recipe.plane == "xz":
            place, way = (lambda x, z: (x, start, z)), gp_Vec(0, long, 0)
        elif recipe.plane == "yz":
            place, way = (lambda y, z: (start, y, z)), gp_Vec(long, 0, 0)
        else:
            place, way = (lambda x, y: (x, y, start)), gp_Vec(0, 0, long)
        points = [place(*p) for p in recipe.outline]
        wire = _with_arcs(points, {i: place(*m) for i, m in recipe.arcs}) if recipe.arcs else _polygon(points)
        return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(wire).Face(), way).Shape()
    if isinstance(recipe, Turned):
        axis = gp_Dir(*recipe.axis)
        frame = gp_Ax2(gp_Pnt(*recipe.at), axis)
        across, up, at = frame.XDirection(), frame.Direction(), np.array(recipe.at)
        a, u = np.array([across.X(), across.Y(), across.Z()]), np.array([up.X(), up.Y(), up.Z()])
        points = [(float(q[0]), float(q[1]), float(q[2])) for q in (at + r * a + z * u for r, z in recipe.profile)]
        face = BRepBuilderAPI_MakeFace(_polygon(points)).Face()
        return BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(*recipe.at), axis)).Shape()
    if isinstance(recipe, Cut):
        return _combine(BRepAlgoAPI_Cut(), [_make(recipe.body)], [_make(t) for t in recipe.tools])
    bodies = [_make(b) for b in recipe.bodies]
    return _combine(BRepAlgoAPI_Fuse(), bodies[:1], bodies[1:]) if len(bodies) > 1 else bodies[0]


def _combine(operation: Any, bodies: list[Any], tools: list[Any]) -> Any:
    both = []
    for shapes in (bodies, tools):
        listed = List_TopoDS_Shape()
        for shape in shapes:
            listed.Append(shape)
        both.append(listed)
    operation.SetArguments(both[0])
    operation.SetTools(both[1])
    operation.Build()
    if not operation.IsDone():
        raise KernelRefusal("two shapes could not be combined")
    unify = ShapeUpgrade_UnifySameDomain(operation.Shape(), True, True, False)
    unify.Build()  # coplanar faces left by a fuse draw false lines
    return unify.Shape()


def _solids(shape: Any) -> list[Any]:
    found, explorer = [], TopExp_Explorer(shape, TopAbs_ShapeEnum.TopAbs_SOLID)
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return found


@lru_cache(maxsize=48)
def build(recipe: Recipe) -> Any:
    """The one checked solid of a recipe.

    Raises:
        KernelRefusal: Not one valid solid of a believable volume.
    """
    shape = _make(recipe)
    solids = _solids(shape)
    if len(solids) != 1:
        raise KernelRefusal(f"the sizes make {len(solids)} separate pieces, not one solid")
    if not BRepCheck_Analyzer(solids[0], True, True).IsValid():
        raise KernelRefusal("the sizes make a solid that crosses itself")
    if not 1e-6 < mass_of(solids[0])["volume_mm3"] < 1e12:
        raise KernelRefusal("the sizes make a solid of no volume")
    return solids[0]


def mass_of(shape: Any) -> dict[str, Any]:
    """Volume mm³, surface mm², centroid mm, bounding box."""
    volume, surface, bounds = GProp_GProps(), GProp_GProps(), Bnd_Box()
    BRepGProp.VolumeProperties_s(shape, volume)
    BRepGProp.SurfaceProperties_s(shape, surface)
    BRepBndLib.AddOptimal_s(shape, bounds, False, False)
    c, low, high = volume.CentreOfMass(), bounds.CornerMin(), bounds.CornerMax()
    return {
        "volume_mm3": volume.Mass(),
        "surface_mm2": surface.Mass(),
        "centroid_mm": (c.X(), c.Y(), c.Z()),
        "low_mm": (low.X(), low.Y(), low.Z()),
        "high_mm": (high.X(), high.Y(), high.Z()),
    }


# --- projected views -------------------------------------------------------------------------------------------------

Curve = tuple[
    Any, ...
]  #: ("L", hidden, x1, y1, x2, y2) | ("C", hidden, cx, cy, r, from°, to°) | ("E", …, ratio, turn°, …) | ("P", hidden, points)


def view(recipe: Recipe, name: str) -> list[Curve]:
    """Exact visible and hidden edges of one view, x right and y up, mm."""
    return _project(build(recipe), *VIEWS[name])


def _project(shape: Any, to_viewer: tuple[float, float, float], right: tuple[float, float, float]) -> list[Curve]:
    hlr = HLRBRep_Algo()
    hlr.Add(shape, 0)
    hlr.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*to_viewer), gp_Dir(*right))))
    hlr.Update()
    hlr.Hide()
    out = HLRBRep_HLRToShape(hlr)
    curves: list[Curve] = []
    for hidden, parts in ((False, (out.VCompound, out.OutLineVCompound)), (True, (out.HCompound, out.OutLineHCompound))):
        for part in parts:
            compound = part()
            if compound is not None and not compound.IsNull():
                curves += _curves(compound, hidden)
    return _tidy(curves)


def _edges(shape: Any) -> list[Any]:
    found, explorer = [], TopExp_Explorer(shape, TopAbs_ShapeEnum.TopAbs_EDGE)
    while explorer.More():
        found.append(TopoDS.Edge(explorer.Current()))
        explorer.Next()
    return found


def _curves(compound: Any, hidden: bool) -> list[Curve]:
    BRepLib.BuildCurves3d_s(compound)
    found: list[Curve] = []
    for edge in _edges(compound):
        curve = BRepAdaptor_Curve(edge)
        first, last = curve.FirstParameter(), curve.LastParameter()
        p, q = curve.Value(first), curve.Value(last)
        kind = curve.GetType()
        if kind == GeomAbs_CurveType.GeomAbs_Line:
            found.append(("L", hidden, p.X(), p.Y(), q.X(), q.Y()))
        elif kind == GeomAbs_CurveType.GeomAbs_Circle:
            circle = curve.Circle()
            centre = circle.Location()
            if last - first > 2 * math.pi - 1e-6:
                start, end = 0.0, 360.0
            else:
                if circle.Axis().Direction().Z() < 0:
                    p, q = q, p
                start = math.degrees(math.atan2(p.Y() - centre.Y(), p.X() - centre.X()))
                end = math.degrees(math.atan2(q.Y() - centre.Y(), q.X() - centre.X()))
                end += 360 if end <= start else 0
            found.append(("C", hidden, centre.X(), centre.Y(), circle.Radius(), start, end))
        elif kind == GeomAbs_CurveType.GeomAbs_Ellipse:
            ellipse = curve.Ellipse()
            centre, along = ellipse.Location(), ellipse.XAxis().Direction()
            if ellipse.Axis().Direction().Z() < 0:
                first, last = -last, -first
            found.append(
                (
                    "E",
                    hidden,
                    centre.X(),
                    centre.Y(),
                    ellipse.MajorRadius(),
                    ellipse.MinorRadius() / ellipse.MajorRadius(),
                    math.degrees(math.atan2(along.Y(), along.X())),
                    math.degrees(first),
                    math.degrees(last),
                )
            )
        else:
            found += _sampled(curve, hidden)
    return found


def _sampled(curve: Any, hidden: bool) -> list[Curve]:
    sampler = GCPnts_QuasiUniformDeflection(curve, 0.01)
    points = [(sampler.Value(i).X(), sampler.Value(i).Y()) for i in range(1, sampler.NbPoints() + 1)]
    if len(points) < 2:
        return []
    xy = np.array(points)
    far = xy[np.argmax(np.hypot(*(xy - xy[0]).T))]
    length = float(np.hypot(*(far - xy[0])))
    if length < _SAME:
        return []
    # A circle seen edge-on comes as a spline that runs to and fro along one line.
    way = (far - xy[0]) / length
    off = xy - xy[0]
    if np.abs(way[0] * off[:, 1] - way[1] * off[:, 0]).max() < 1e-5:
        along = (xy - xy[0]) @ way
        a, b = xy[0] + way * along.min(), xy[0] + way * along.max()
        return [("L", hidden, float(a[0]), float(a[1]), float(b[0]), float(b[1]))]
    return [("P", hidden, tuple(points))]


def _tidy(curves: list[Curve]) -> list[Curve]:
    """Merge lines that lie on each other, drop what a visible edge covers."""
    lines: dict[tuple[float, ...], dict[bool, list[tuple[float, float]]]] = {}
    exact: dict[tuple[float, ...], tuple[float, float, float]] = {}  # the key is rounded; the line is not
    rest: list[Curve] = []
    for c in curves:
        if c[0] != "L":
            rest.append(c)
            continue
        _, hidden, x1, y1, x2, y2 = c
        length = math.hypot(x2 - x1, y2 - y1)
        if length < _SAME:
            continue
        ux, uy = (x2 - x1) / length, (y2 - y1) / length
        if ux < -1e-9 or (abs(ux) <= 1e-9 and uy < 0):
            ux, uy = -ux, -uy
        off = x1 * uy - y1 * ux
        key: tuple[float, ...] = (round(ux, 6) + 0.0, round(uy, 6) + 0.0, round(off, 4) + 0.0)
        ux, uy, off = exact.setdefault(key, (float(ux), float(uy), float(off)))
        span = sorted((x1 * ux + y1 * uy, x2 * ux + y2 * uy))
        lines.setdefault(key, {False: [], True: []})[hidden].append((span[0], span[1]))
    found: list[Curve] = []
    for key, spans in lines.items():
        ux, uy, off = exact[key]
        seen = _merged(spans[False])
        for hidden, parts in ((False, seen), (True, _less(_merged(spans[True]), seen))):
            for start, end in parts:
                found.append(
                    ("L", hidden, start * ux + off * uy, start * uy - off * ux, end * ux + off * uy, end * uy - off * ux)
                )

    def place(c: Curve) -> tuple[Any, ...]:
        return (c[0], *(round(v, 4) for v in c[2:])) if c[0] != "P" else c[2]

    shown = {place(c) for c in rest if not c[1]}
    return found + list(dict.fromkeys(c for c in rest if not c[1] or place(c) not in shown))


def _merged(spans: list[tuple[float, float]]) -> list[tuple[float, float]]:
    found: list[tuple[float, float]] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1] + 1e-5:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found


def _less(spans: list[tuple[float, float]], covers: list[tuple[float, float]]) -> list[tuple[float, float]]:
    for low, high in covers:
        spans = [
            piece
            for start, end in spans
            for piece in ((start, min(end, low)), (max(start, high), end))
            if piece[1] - piece[0] > 1e-5
        ]
    return spans


def section(recipe: Recipe, axis: str, at: float) -> dict[str, Any]:
    """Cut through at x or y = `at`: the cut faces as filled rings, and the edges seen beyond them.

    Looking from +x (axis "x", picture right is +y) or from −y (axis "y", picture right is +x).
    """
    shape = build(recipe)
    low, high = mass_of(shape)["low_mm"], mass_of(shape)["high_mm"]
    pad = 10.0
    if axis == "x":
        keep = Prism(
            ((low[0] - pad, low[2] - pad), (at, low[2] - pad), (at, high[2] + pad), (low[0] - pad, high[2] + pad)),
            low[1] - pad,
            high[1] + pad,
        )
        plane, name = gp_Pln(gp_Pnt(at, 0, 0), gp_Dir(1, 0, 0)), "side"
    else:
        wide = (
            (low[0] - pad, low[2] - pad),
            (high[0] + pad, low[2] - pad),
            (high[0] + pad, high[2] + pad),
            (low[0] - pad, high[2] + pad),
        )
        keep = Prism(wide, at, high[1] + pad)
        plane, name = gp_Pln(gp_Pnt(0, at, 0), gp_Dir(0, -1, 0)), "front"
    half = _combine(BRepAlgoAPI_Common(), [shape], [_make(keep)])
    size = float(np.abs([*low, *high]).max() * 2 + pad)
    cut = _combine(BRepAlgoAPI_Common(), [BRepBuilderAPI_MakeFace(plane, -size, size, -size, size).Face()], [shape])
    return {"curves": _project(half, *VIEWS[name]), "faces": _face_rings(cut, name), "area_mm2": _area(cut)}


def _area(shape: Any) -> float:
    surface = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, surface)
    return float(surface.Mass())


def _face_rings(shape: Any, name: str) -> list[list[list[tuple[float, float]]]]:
    across = np.array(VIEWS[name][1], dtype=float)
    faces = []
    explorer = TopExp_Explorer(shape, TopAbs_ShapeEnum.TopAbs_FACE)
    while explorer.More():
        rings = []
        wires = TopExp_Explorer(explorer.Current(), TopAbs_ShapeEnum.TopAbs_WIRE)
        while wires.More():
            ring: list[tuple[float, float]] = []
            walk = BRepTools_WireExplorer(TopoDS.Wire(wires.Current()))
            while walk.More():
                curve = BRepAdaptor_Curve(walk.Current())
                ends = [curve.FirstParameter(), curve.LastParameter()]
                if walk.Current().Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
                    ends.reverse()
                count = 1 if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line else 24
                for i in range(count):
                    p = curve.Value(ends[0] + (ends[1] - ends[0]) * i / count)
                    ring.append((float(np.dot(across, (p.X(), p.Y(), p.Z()))), p.Z()))
                walk.Next()
            rings.append(ring)
            wires.Next()
        faces.append(sorted(rings, key=lambda r: -abs(_ring_area(r))))
        explorer.Next()
    return faces


def _ring_area(ring: list[tuple[float, float]]) -> float:
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, [*ring[1:], ring[0]], strict=True)) / 2


# --- meshes and files ------------------------------------------------------------------------------------------------


def mesh(recipe: Recipe, deflection_mm: float = 0.05) -> dict[str, Any]:
    """Triangles (n, 3, 3) float32, the face each belongs to (n,), and sharp edges as runs of points."""
    triangles, owners, edges = _meshed(build(recipe), deflection_mm)
    return {"triangles": triangles, "owners": owners, "edges": edges}


def _meshed(shape: Any, deflection_mm: float) -> tuple[Any, Any, list[Any]]:
    how = IMeshTools_Parameters()
    how.MeshAlgo = IMeshTools_MeshAlgoType.IMeshTools_MeshAlgoType_Delabella
    how.Deflection, how.Angle = deflection_mm, 0.3
    BRepMesh_IncrementalMesh(shape, how)
    triangles, owners = [], []
    explorer, owner = TopExp_Explorer(shape, TopAbs_ShapeEnum.TopAbs_FACE), 0
    while explorer.More():
        face = TopoDS.Face(explorer.Current())
        place = TopLoc_Location()  # filled in: a prism's far end is its near end, placed elsewhere
        patch = BRep_Tool.Triangulation_s(face, place)
        if patch is not None:
            move = place.Transformation()
            nodes = np.array(
                [(n.X(), n.Y(), n.Z()) for n in (patch.Node(i).Transformed(move) for i in range(1, patch.NbNodes() + 1))]
            )
            corners = (
                np.array(
                    [(t.Value(1), t.Value(2), t.Value(3)) for t in (patch.Triangle(i) for i in range(1, patch.NbTriangles() + 1))]
                )
                - 1
            )
            if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
                corners = corners[:, ::-1]
            triangles.append(nodes[corners])
            owners.append(np.full(len(corners), owner))
        owner += 1
        explorer.Next()
    edges = []
    for edge in _edges(shape):
        curve = BRepAdaptor_Curve(edge)
        if BRep_Tool.Degenerated_s(edge):
            continue
        sampler = GCPnts_QuasiUniformDeflection(curve, deflection_mm)
        edges.append(
            np.array(
                [(p.X(), p.Y(), p.Z()) for p in (sampler.Value(i) for i in range(1, sampler.NbPoints() + 1))], dtype=np.float32
            )
        )
    if not triangles:
        raise KernelRefusal("it has no faces")
    return np.concatenate(triangles).astype(np.float32), np.concatenate(owners).astype(np.int32), edges


def stl_bytes(recipe: Recipe, name: str) -> bytes:
    """Binary STL, mm."""
    triangles = mesh(recipe, 0.02)["triangles"]
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    record = np.zeros(len(triangles), dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")])
    record["n"], record["v"] = normals, triangles
    # A file that begins with "solid" is taken for text, and of a long name the end is cut off: what matters comes first.
    header = f"mm, {name}".encode("ascii", "replace")[:80].ljust(80, b" ")
    return header + struct.pack("<I", len(triangles)) + record.tobytes()


#: Stands for the name until the file is written: the kernel writes letters that are not ASCII as question marks.
_NAME: Final = "ELBRIX-NAME"


def step_bytes(recipe: Recipe, name: str, stamp: str, unit: str = "MM") -> bytes:
    """STEP AP214; the same recipe, name and stamp give the same bytes."""
    STEPControl_Controller.Init_s()
    Interface_Static.SetCVal_s("write.step.schema", "AP214IS")
    Interface_Static.SetCVal_s("write.step.unit", unit)
    Interface_Static.SetIVal_s("write.surfacecurve.mode", 0)
    writer = STEPControl_Writer()
    writer.Transfer(build(recipe), STEPControl_StepModelType.STEPControl_AsIs)
    text = TCollection_HAsciiString
    header = APIHeaderSection_MakeHeader(writer.Model())
    header.SetName(text(_NAME))
    header.SetTimeStamp(text(stamp))
    header.SetAuthorValue(1, text(""))
    header.SetOrganizationValue(1, text(""))
    header.SetOriginatingSystem(text("Elbrix"))
    header.SetPreprocessorVersion(text("Elbrix"))
    header.SetAuthorisation(text(""))
    header.SetDescriptionValue(1, text(_NAME))
    for i in range(1, writer.Model().NbEntities() + 1):
        entity = writer.Model().Value(i)
        if isinstance(entity, StepBasic_Product):
            entity.SetId(text(_NAME))  # the kernel counts products up through the life of the process
            entity.SetName(text(_NAME))
    out = io.BytesIO()
    if writer.WriteStream(out) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise KernelRefusal("the STEP file could not be written")
    return out.getvalue().replace(f"'{_NAME}'".encode(), step_string(name).encode("ascii"))


def _read_step(data: bytes) -> Any:
    reader = STEPControl_Reader()
    if reader.ReadStream("step", io.BytesIO(data)) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise KernelRefusal("this is no STEP file")
    reader.TransferRoots()
    shape = reader.OneShape()
    if shape is None or shape.IsNull() or not _solids(shape):
        raise KernelRefusal("the STEP file holds no solid")
    return shape


def read_step_mass(data: bytes) -> dict[str, Any]:
    """Mass properties of a STEP file's one solid."""
    shape = _read_step(data)
    return mass_of(shape) | {"solids": len(_solids(shape)), "valid": bool(BRepCheck_Analyzer(shape, True, True).IsValid())}


def read_step_outline(data: bytes, deflection_mm: float = 0.1) -> dict[str, Any]:
    """Corners of a STEP file's mesh seen from above, and its height, mm (the reader turns other units into mm)."""
    triangles, _, _ = _meshed(_read_step(data), deflection_mm)
    points = np.unique(np.round(triangles.reshape(-1, 3)[:, :2], 3), axis=0)
    z = triangles.reshape(-1, 3)[:, 2]
    return {"points": points.tolist(), "height_mm": float(z.max() - z.min())}
