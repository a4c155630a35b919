"""The piece and the cut of a layout: what is asked, where the piece lies, where the cutter goes, and the loads on the way."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Final

from msgspec import Struct

from elbrix.geometry.shapes import Point, Ring, area, bounds, centroid, check_outline, circle, hull, placed, rectangle
from elbrix.holding.contacts import Load, Vec
from elbrix.holding.layout import Piece
from elbrix.holding.reach import Stretch, ToolShape
from elbrix.mechanics.cutting import GRABS_UP, CutForce, drilling_force, guessed_force, milling_force, tapping_force
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import Derivation, Origin
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import friction, material, materials
from elbrix.standards.threads import all_threads

_G: Final = 9.80665
SHAPES: Final = (("block", "a block"), ("round", "a round"), ("outline", "an outline"))
CUTS: Final = (
    ("milling", "milling, worked out"),
    ("drilling", "drilling"),
    ("tapping", "tapping"),
    ("light", "a light cut"),
    ("medium", "a medium cut"),
    ("heavy", "a heavy cut"),
)
PATHS: Final = (("around", "around its edge"), ("face", "over its top"), ("points", "at places"), ("line", "along a line"))
OIL: Final = (("dry", "dry threads"), ("oiled", "oiled threads"))
_MILLS: Final = (CutterKind.END_MILL, CutterKind.FACE_MILL)
#: Steps along the path at which the margin is looked at, and directions of the force at each.
MAX_STEPS: Final = 28
WAYS: Final = 8


def cutters_for(shop: Shop) -> tuple[Cutter, ...]:
    """Cutters that mill or drill, thickest first; an assumed one when there is none."""
    found = tuple(
        sorted(
            (c for c in shop.cutters if c.kind in (*_MILLS, CutterKind.DRILL, CutterKind.TAP)),
            key=lambda c: (c.kind is CutterKind.TAP, c.kind is CutterKind.DRILL, -c.diameter_mm),
        )
    )
    return found or (Cutter(id="", kind=CutterKind.END_MILL, diameter_mm=12, shank_mm=12, teeth=4, edge_length_mm=26),)


def parameters(shop: Shop) -> tuple[Parameter, ...]:
    """Of the work, the cut and the friction."""
    return (
        Parameter(name="shape", label="Work shape", kind=Kind.CHOICE, unit="", choices=SHAPES, feature="work"),
        Parameter(name="length", label="Work length", kind=Kind.LENGTH, low=1, high=3000, step=0.5, feature="work"),
        Parameter(name="width", label="Work width or Ø", kind=Kind.LENGTH, low=1, high=2000, step=0.5, feature="work"),
        Parameter(name="height", label="Work height", kind=Kind.LENGTH, low=0.5, high=1000, step=0.1, feature="work"),
        Parameter(
            name="outline",
            label="Work outline",
            kind=Kind.PLACES,
            unit="",
            usually="corners in order, or read from a drawing",
            feature="work",
        ),
        Parameter(name="x", label="Work position X", kind=Kind.LENGTH, low=-3000, high=3000, step=0.5, feature="work"),
        Parameter(name="y", label="Work position Y", kind=Kind.LENGTH, low=-2000, high=2000, step=0.5, feature="work"),
        Parameter(name="angle", label="Work angle", kind=Kind.ANGLE, unit="", low=-360, high=360, feature="work"),
        Parameter(
            name="material",
            label="Work material",
            kind=Kind.CHOICE,
            unit="",
            choices=tuple((m, m) for m in materials()),
            feature="work",
        ),
        Parameter(name="cut", label="Cut type", kind=Kind.CHOICE, unit="", choices=CUTS, feature="cutter_path"),
        Parameter(
            name="cutter",
            label="Cutter",
            kind=Kind.CHOICE,
            unit="",
            choices=tuple((c.id, c.title) for c in cutters_for(shop)),
            feature="cutter_path",
        ),
        Parameter(name="cutter_path", label="Cutter path", kind=Kind.CHOICE, unit="", choices=PATHS, feature="cutter_path"),
        Parameter(
            name="places",
            label="Cut positions",
            kind=Kind.PLACES,
            unit="",
            usually="x,y; x,y from the work's middle",
            feature="cutter_path",
        ),
        Parameter(
            name="depth_below_top",
            label="Depth below top",
            kind=Kind.LENGTH,
            low=0,
            high=500,
            step=0.1,
            usually="where the cutter's end runs",
            feature="cutter_path",
        ),
        Parameter(
            name="depth_of_cut", label="Depth of cut", kind=Kind.LENGTH, low=0.01, high=100, step=0.1, feature="cutter_path"
        ),
        Parameter(
            name="width_of_cut", label="Width of cut", kind=Kind.LENGTH, low=0.01, high=300, step=0.1, feature="cutter_path"
        ),
        Parameter(
            name="feed", label="Feed per tooth or turn", kind=Kind.LENGTH, low=0.001, high=2, step=0.005, feature="cutter_path"
        ),
        Parameter(
            name="friction",
            label="Friction coefficient",
            kind=Kind.NUMBER,
            unit="",
            low=0,
            high=1,
            step=0.01,
            usually="0.15: machined steel on cast iron, a little oil",
        ),
        Parameter(name="lubrication", label="Stud lubrication", kind=Kind.CHOICE, unit="", choices=OIL),
    )


def propose(shop: Shop, machine: Machine, chosen: Mapping[str, ParameterValue]) -> Values:
    """Values around what was chosen."""

    def assumed(value: float | str, why: str = "") -> ParameterValue:
        return ParameterValue(value, Origin.ASSUMED, derivation=Derivation("", "", why) if why else None)

    cutter = next((c for c in cutters_for(shop) if "cutter" in chosen and c.id == chosen["cutter"].value), cutters_for(shop)[-1])
    mills = [c for c in cutters_for(shop) if c.kind is CutterKind.END_MILL]
    if "cutter" not in chosen and mills:
        cutter = min(mills, key=lambda c: abs(c.diameter_mm - 12))
    d = cutter.diameter_mm
    height = chosen["height"].value if "height" in chosen else 20.0
    assert isinstance(height, float)
    drilling, tapping = cutter.kind is CutterKind.DRILL, cutter.kind is CutterKind.TAP
    depth = min(0.25 * d, 0.5 * height)
    return Values(
        merge_choices(
            chosen,
            {
                "shape": assumed("block"),
                "length": assumed(100.0),
                "width": assumed(60.0),
                "height": assumed(height),
                "outline": assumed("0,0; 100,0; 100,60; 0,60"),
                "x": assumed(0.0),
                "y": assumed(0.0),
                "angle": assumed(0.0),
                "material": assumed("mild steel"),
                "cut": assumed("drilling" if drilling else "tapping" if tapping else "milling"),
                "cutter": ParameterValue(cutter.id, Origin.MEASURED if shop.cutters else Origin.ASSUMED),
                "cutter_path": assumed("points" if drilling or tapping else "around"),
                "places": assumed("0,0"),
                "depth_below_top": ParameterValue(float(round(depth, 2)), Origin.CALCULATED),
                "depth_of_cut": ParameterValue(
                    float(round(depth, 2)),
                    Origin.CALCULATED,
                    derivation=Derivation("a quarter of the cutter", f"{d:g}/4", "a usual first cut"),
                ),
                "width_of_cut": ParameterValue(
                    float(round(0.5 * d, 2)), Origin.CALCULATED, derivation=Derivation("half of the cutter", f"{d:g}/2")
                ),
                "feed": ParameterValue(0.01 * d if drilling else min(0.08, 0.004 * d), Origin.CALCULATED),
                "friction": assumed(
                    friction(pair_of(str(chosen["material"].value) if "material" in chosen else "mild steel")),
                    f"{pair_of(str(chosen['material'].value) if 'material' in chosen else 'mild steel')}; measure it with a"
                    " spring balance when it matters",
                ),
                "lubrication": assumed("dry"),
            },
        )
    )


def pair_of(material_name: str) -> str:
    """The pair of surfaces whose friction is taken for a material on a table, a parallel or a jaw."""
    if "brass" in material_name or "bronze" in material_name:
        return "brass on steel, dry"
    return "aluminium on steel, dry" if "aluminium" in material_name else "steel on cast iron, dry"


def piece_of(values: Values, bottom_mm: float) -> Piece:
    """The work as it lies.

    Raises:
        EntryError: An outline that is none.
    """
    shape = values.word("shape")
    if shape == "round":
        ring: Ring = circle(values.number("width") / 2)
    elif shape == "outline":
        try:
            ring = check_outline(read_places(values.word("outline"), "mm", "Outline").points, "Outline")
        except ShopError as error:
            raise EntryError(error.where, error.what, error.why, error.do, "outline") from None
        left, low, right, high = bounds(ring)
        ring = placed(ring, -(left + right) / 2, -(low + high) / 2, 0.0)
    else:
        ring = rectangle(values.number("length"), values.number("width"))
    outline = placed(ring, values.number("x"), values.number("y"), values.number("angle"))
    height = values.number("height")
    weight = area(outline) * height * material(values.word("material")).density_kg_m3 * 1e-9 * _G
    at = centroid(outline)
    return Piece(
        shape=shape,
        outline=outline,
        middle=(values.number("x"), values.number("y")),
        bottom_mm=bottom_mm,
        height_mm=height,
        cut_depth_mm=values.number("depth_below_top"),
        material=values.word("material"),
        weight_n=weight,
        cg=(at[0], at[1], bottom_mm + height / 2),
    )


class CuttingLoad(Struct, frozen=True, kw_only=True):
    """Where the cutter goes and how hard it pushes."""

    cutter: Cutter
    path: tuple[Point, ...]
    way: tuple[Stretch, ...]  #: all of what the tool's axis runs along, piece by piece
    end_mm: float  #: of the cutter above the table
    force: CutForce
    loads: tuple[Load, ...]  #: `each` for every place
    each: int
    tool: ToolShape


def cutting_of(values: Values, shop: Shop, piece: Piece, steps: int = MAX_STEPS, ways: int = WAYS) -> CuttingLoad:
    """Path, force and loads.

    Args:
        steps: Places along the path at the most.
        ways: Directions of the sideways force at each.

    Raises:
        EntryError: A cut that is none.
    """
    cutter = next((c for c in cutters_for(shop) if c.id == values.word("cutter")), cutters_for(shop)[0])
    stock, pick = material(piece.material), values.word("cut")
    try:
        if pick == "milling":
            force = milling_force(
                stock,
                cutter.diameter_mm,
                cutter.teeth,
                values.number("depth_of_cut"),
                values.number("width_of_cut"),
                values.number("feed"),
            )
        elif pick == "drilling":
            force = drilling_force(stock, cutter.diameter_mm, values.number("feed"))
        elif pick == "tapping":
            force = tapping_force(stock, cutter.diameter_mm, _pitch_of(cutter))
        else:
            force = guessed_force(pick)
    except ShopError as error:
        raise EntryError(error.where, error.what, error.why, error.do, "depth_of_cut") from None
    track = _path(values, cutter, piece)
    kept = thinned(track, steps)
    path = tuple(track[i] for i in kept)
    runs = values.word("cutter_path")
    end = piece.top_mm - values.number("depth_below_top")
    z = end + min(values.number("depth_of_cut"), max(0.1, values.number("depth_below_top"))) / 2
    loads: list[Load] = []
    for x, y in path:
        if pick == "drilling":
            loads += _drill_loads((x, y, z), force, through=values.number("depth_below_top") >= piece.height_mm - 1e-6)
            continue
        if pick == "tapping":  # in, and out again
            loads += [Load((x, y, z), (0.0, 0.0, 0.0), (0.0, 0.0, turn * force.torque_nmm)) for turn in (1, -1)]
            continue
        for k in range(ways):
            a = 2 * math.pi * k / ways
            loads.append(Load((x, y, z), (force.sideways_n * math.cos(a), force.sideways_n * math.sin(a), force.up_n)))
    edge = cutter.edge_length_mm or 2.5 * cutter.diameter_mm
    tool = ToolShape(
        diameter_mm=cutter.diameter_mm,
        edge_mm=edge + 5,
        shank_mm=cutter.shank_mm or cutter.diameter_mm,
        holder_mm=max(32.0, 1.6 * (cutter.shank_mm or cutter.diameter_mm)),
    )
    return CuttingLoad(
        cutter=cutter,
        path=path,
        way=_stretches(track, kept, apart=runs == "points" or pick in ("drilling", "tapping"), closed=runs == "around"),
        end_mm=end,
        force=force,
        loads=tuple(loads),
        each={"drilling": DRILL_CASES, "tapping": TAP_CASES}.get(pick, ways),
        tool=tool,
    )


#: Load cases of one hole.
DRILL_CASES: Final = 3
TAP_CASES: Final = 2


def _pitch_of(cutter: Cutter) -> float:
    """Of a tap: its thread's; a size that is no thread's has the pitch of the coarse one just above."""
    threads = sorted(
        (t for t in all_threads() if t.series in ("coarse", "UNC")), key=lambda t: abs(t.major_mm - cutter.diameter_mm)
    )
    named = next((t for t in all_threads() if t.name == cutter.name), None)
    return (named or threads[0]).pitch_mm


def _drill_loads(at: Vec, force: CutForce, *, through: bool) -> list[Load]:
    """What a drill does, the worst of each: thrust alone, which may tip the work; torque without the friction thrust would earn.

    Where it breaks through the lips grab: the torque comes with a pull up.
    """
    up = -force.up_n * GRABS_UP if through else 0.0
    return [
        Load(at, (0.0, 0.0, force.up_n)),
        *(Load(at, (0.0, 0.0, up), (0.0, 0.0, turn * force.torque_nmm)) for turn in (1, -1)),
    ]


def _path(values: Values, cutter: Cutter, piece: Piece) -> list[Point]:
    r = cutter.diameter_mm / 2
    kind = values.word("cutter_path")
    if kind in ("points", "line"):
        c, s = math.cos(values.number("angle")), math.sin(values.number("angle"))
        points = read_places(values.word("places"), "mm", "Places").points
        if not points:
            raise EntryError(
                "Places", "no place is given", "The cutter goes somewhere", "Write x,y; x,y from the work's middle", "places"
            )
        placed_ = [(piece.middle[0] + c * x - s * y, piece.middle[1] + s * x + c * y) for x, y in points]
        return placed_ if kind == "points" else spread_along(placed_)
    if kind == "around":
        return around(piece.outline, r - min(values.number("width_of_cut"), 2 * r))
    left, low, right, high = bounds(piece.outline)
    rows = max(1, math.ceil((high - low) / max(1.0, 0.7 * 2 * r)))
    found: list[Point] = []
    for i in range(rows):
        y = low + (i + 0.5) * (high - low) / rows
        along = [left + (right - left) * k / 6 for k in range(7)]
        found += [(x, y) for x in (along if i % 2 == 0 else reversed(along))]
    return found


def spread_along(line: Sequence[Point], most: int = MAX_STEPS) -> list[Point]:
    """So many places along a drawn line at the most, its corners among them as far as they fit."""
    lengths = [math.dist(a, b) for a, b in pairwise(line)]
    whole = sum(lengths)
    if len(line) < 2 or not whole:
        return list(line)
    found = [line[0]]
    for (a, b), length in zip(pairwise(line), lengths, strict=True):
        n = max(1, round(length / whole * (most - len(line))))
        found += [(a[0] + (b[0] - a[0]) * k / n, a[1] + (b[1] - a[1]) * k / n) for k in range(1, n + 1)]
    return found


def around(ring: Ring, off_mm: float) -> list[Point]:
    """Where the cutter's axis runs round the work: `off_mm` outside its edge everywhere, also in its bays.

    A convex ring is moved corner by corner, which keeps the places at its corners; one with bays is offset as a whole, so that no
    place comes nearer than the offset and a bay that is too narrow is left out.
    """
    if off_mm > 0 and not _convex(ring):
        return _offset(ring, off_mm)
    found: list[Point] = []
    n = len(ring)
    for i in range(n):
        a, b, c = ring[i - 1], ring[i], ring[(i + 1) % n]
        before, after = _out(a, b), _out(b, c)
        x, y = before[0] + after[0], before[1] + after[1]
        size = max(0.35, 1 + before[0] * after[0] + before[1] * after[1])
        found.append((b[0] + off_mm * x / size, b[1] + off_mm * y / size))
        if n <= 12:
            middle = ((b[0] + c[0]) / 2, (b[1] + c[1]) / 2)
            found += [
                (b[0] + (middle[0] - b[0]) * t + off_mm * after[0], b[1] + (middle[1] - b[1]) * t + off_mm * after[1])
                for t in (0.5, 1.0, 1.5)
            ]
    return found


def _convex(ring: Ring) -> bool:
    n = len(ring)
    for i in range(n):
        a, b, c = ring[i - 1], ring[i], ring[(i + 1) % n]
        if (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) < -1e-9:
            return False
    return True


def _offset(ring: Ring, off_mm: float) -> list[Point]:
    """The outside of the ring grown by `off_mm`, at even steps, its first place kept."""
    from shapely.geometry import Polygon  # only work with bays needs it

    # Its arcs are chords: taken a hair further out, no place of them is inside.
    grown = Polygon(ring).buffer(off_mm / math.cos(math.pi / 64), quad_segs=16).exterior
    count = max(24, min(4 * MAX_STEPS, round(grown.length / max(off_mm, 1.0))))
    found = [grown.interpolate(k / count, normalized=True) for k in range(count)]
    return [(float(p.x), float(p.y)) for p in found]


def _out(a: Point, b: Point) -> Point:
    """Outward normal of an edge of a counter-clockwise ring."""
    length = math.hypot(b[0] - a[0], b[1] - a[1]) or 1.0
    return (b[1] - a[1]) / length, -(b[0] - a[0]) / length


def thinned(path: Sequence[Point], most: int) -> tuple[int, ...]:
    """Which places of a path are looked at, so many at the most: its outermost, where a push tips most, and others between.

    What stands a push at two places stands it anywhere between them, so that the outermost decide and the others draw the map.
    """
    if len(path) <= most:
        return tuple(range(len(path)))
    outermost = set(hull(path))
    first = {p: i for i, p in reversed(list(enumerate(path)))}
    kept = sorted(first[p] for p in outermost)
    if len(kept) >= most:
        return tuple(kept[round(i * len(kept) / most)] for i in range(most))
    others = [i for i in range(len(path)) if i not in set(kept)]
    room = most - len(kept)
    return tuple(sorted({*kept, *(others[round(i * len(others) / room)] for i in range(room))}))


def _stretches(track: Sequence[Point], kept: Sequence[int], *, apart: bool, closed: bool) -> tuple[Stretch, ...]:
    """All of the way, each piece with the place of the path that is nearest along it.

    Args:
        kept: Which of the track's places the path has.
        apart: The tool is lifted between the places.
    """
    if apart or len(track) < 2:
        return tuple(Stretch(p, p, min(range(len(kept)), key=lambda k: abs(kept[k] - i))) for i, p in enumerate(track))
    ends = [*range(len(track) - 1), *([len(track) - 1] if closed else [])]
    n = len(track)

    def nearest_place(at: float) -> int:
        return min(range(len(kept)), key=lambda k: min(abs(kept[k] - at), n - abs(kept[k] - at) if closed else math.inf))

    found = []
    for i in ends:
        a, b = track[i], track[(i + 1) % n]
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)  # each half with its own end
        found += [Stretch(a, middle, nearest_place(i + 0.25)), Stretch(middle, b, nearest_place(i + 0.75))]
    return tuple(found)
