"""The rehearsal: every stroke of a plan cut from the blank in order, and the result compared with the part.

Points stand on the finished part's surface. What the plan removes is the union of its strokes and of everything outside the
blank, so a point's signed distance to it is the least of all: at the end it has to be nothing. Less is gouged by that much, more
is left standing by that much, and the stroke that made it so is to blame.
"""

from __future__ import annotations

import math
import time
from collections.abc import Mapping
from itertools import pairwise
from typing import Final

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace

from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.pose import Matrix
from elbrix.making.strokes import Stroke, Tool
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.distances import Array, Index, swept_box, to_body, to_stroke
from elbrix.rehearsal.findings import Finding
from elbrix.rehearsal.surface import Surface
from elbrix.results.length_text import LENGTH_UNIT, length

#: A surface this near to where it should be is right, mm.
TOLERANCE_MM: Final = 0.01
#: Beside every stroke, this far out of it, stand points that find strips thinner than the points of the surface are apart, mm.
_BESIDE: Final = (0.012, 0.06, 0.25)
_BESIDE_EVERY: Final = 9.0
#: No metal thicker than this anywhere in what a move sweeps: it cuts in air, mm.
_AIR_MM: Final = 1e-4
#: Where in a stroke points are tried for metal: just inside its edge, across it as shares of its half, up from its end.
_JUST_MM: Final = 0.002
_ACROSS: Final = (-0.9995, -0.95, -0.84, -0.65, -0.35, 0.0, 0.35, 0.65, 0.84, 0.95, 0.9995)
_HEIGHTS: Final = (0.0, 0.3, 0.5, 0.75, 0.97)
_ALONG: Final = (-0.93, -0.62, -0.31, 0.08, 0.44, 0.77)
#: How work can be put in wrong, in the machine's own frame.
_TURNS: Final[dict[str, Matrix]] = {
    "end": ((-1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.0, 0.0, 1.0)),
    "over": ((1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
    "mirrored": ((-1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
}


class Slips(Struct, frozen=True, kw_only=True):
    """How what was done differs from the plan."""

    keyed: Mapping[tuple[str, str], float] = field(default_factory=dict)  #: (move, axis) → where the slide was set, mm
    turned: Mapping[str, str] = field(default_factory=dict)  #: setup → "end", "over" or "mirrored"
    cutters: Mapping[str, float] = field(default_factory=dict)  #: operation's title, or the id of one of its moves → Ø, mm

    @property
    def none(self) -> bool:
        return not (self.keyed or self.turned or self.cutters)


class Rehearsal(Struct, frozen=True, kw_only=True):
    """What a rehearsal found."""

    findings: tuple[Finding, ...]
    seconds: float
    wrong_at: str = ""  #: the first move after which the metal is not what the plan has there; of a rehearsal as keyed

    @property
    def clean(self) -> bool:
        return not self.findings


class CuttingMove(Struct, frozen=True):
    """One cutting move with where it belongs and how it is really done."""

    setup: Setup
    operation: Operation
    move: Move
    tool: Tool
    strokes: tuple[Stroke, ...]


def piece_shift(plan: Plan, setup: Setup, piece: int) -> Array | None:
    """By how much the machine coordinates of a piece lie beside those of the first one, while they are one bar."""
    if not piece or setup.each or setup.lie is None:
        return None
    shift: Array = np.array(setup.lie.turn) @ np.array(plan.pieces[piece])
    return shift


def posed(points: Array, setup: Setup, turn: str = "", shift: Array | None = None, middle: Array | None = None) -> Array:
    """Part coordinates in the machine frame of a setup.

    Args:
        turn: How the work was really put in: "" as planned.
        shift: By how much the zero is off, added to the machine coordinates.
        middle: Of the work in machine coordinates; it is turned about this.
    """
    assert setup.pose is not None
    rotation = np.array(setup.pose.rotation)
    there: Array = points @ rotation.T + np.array(setup.pose.offset)
    if turn:
        assert middle is not None
        there = (there - middle) @ np.array(_TURNS[turn]).T + middle
    return there if shift is None else there + shift


def steps_of(plan: Plan, slips: Slips | None = None) -> list[CuttingMove]:
    """Every cutting move, as planned or as it was really done."""
    slips = slips or Slips()
    found = []
    for setup, operation, move in plan.moves:
        if not (move.strokes and setup.pose is not None and operation.cutter is not None) and move.removes is None:
            continue
        tool = operation.cutter or Tool(kind="saw")
        other = slips.cutters.get(operation.title, slips.cutters.get(move.id))
        if other is not None:
            tool = replace(tool, **({"width_mm": other} if tool.axis != "z" else {"diameter_mm": other}))
        found.append(CuttingMove(setup, operation, move, tool, moved(move, slips, tool)))
    return found


def moved(move: Move, slips: Slips, tool: Tool) -> tuple[Stroke, ...]:
    """A move's strokes with its axes where they were really set."""
    off = [0.0, 0.0, 0.0]
    for p in move.positions:
        keyed = slips.keyed.get((move.id, p.axis))
        if keyed is not None:
            off["XYZ".index(p.axis)] = (keyed - p.dial.set_mm) * p.per_mm
    if not any(off) or move.zeroes:
        return move.strokes
    corner = {"X", "Y"} <= {p.axis for p in move.positions}
    return tuple(_set(s, off, tool, corner=corner) for s in move.strokes)


def _set(stroke: Stroke, off: list[float], tool: Tool, *, corner: bool) -> Stroke:
    """One stroke set beside its number.

    Where both X and Y are numbers a level path goes to that corner from the one before, which stays; on a lathe a cut begins
    before the end of the bar whatever its Z is set to.
    """
    first, last = stroke.path[0], stroke.path[-1]
    to_corner = corner and first[:2] != last[:2]
    longitudinal = tool.on == "lathe" and first[2] > last[2] and abs(first[0] - last[0]) < 1e-9
    found = []
    for n, (x, y, z) in enumerate(stroke.path):
        end = n == len(stroke.path) - 1
        dx, dy, dz = off
        if to_corner and not end:
            dx = dy = 0.0
        if longitudinal and not end:
            dz = 0.0
        there = (x + dx, y + dy, z + dz)
        found.append((max(0.0, there[0]), 0.0, there[2]) if tool.on == "lathe" else there)
    return Stroke(tuple(found))


def zero_shifts(setup: Setup, slips: Slips) -> Array | None:
    """How far the zero of a setup is off because a touch-off was keyed wrong."""
    found = np.zeros(3)
    for move in setup.moves:
        if not move.zeroes:
            continue
        for p in move.positions:
            keyed = slips.keyed.get((move.id, p.axis))
            if keyed is not None:
                # The axis reads this where it should read that: everything after it lies that much to the other side.
                found["XYZ".index(p.axis)] += (keyed - p.dial.set_mm) * p.per_mm
    return found if found.any() else None


class Metal:
    """Points of the part and how far each is from what has been removed so far."""

    def __init__(self, plan: Plan, points: Array, slips: Slips | None = None, piece: int = 0) -> None:
        if plan.blank is None:
            raise ShopError(
                "Rehearsal", "the plan has no blank", "Only a part with a solid can be cut", "Plan a design that has one"
            )
        self.plan, self.points, self.slips, self.piece = plan, points, slips or Slips(), piece
        self.off: Array = -to_body(points, plan.blank)
        self.who = np.full(len(points), -1)
        # What a move leaves by intent, at the points it leaves it: beside another face the mover of that one came closer.
        self.meant = np.zeros(len(points))
        self._setup = ""
        self._there = points
        self._columns = np.ascontiguousarray(points.T)
        box = corners(plan)
        self._middle = (box.min(axis=0) + box.max(axis=0)) / 2

    def _pose(self, setup: Setup) -> None:
        if setup.id == self._setup or setup.pose is None:
            return
        self._setup = setup.id
        turn = self.slips.turned.get(setup.id, "")
        middle = posed(self._middle[None, :], setup)[0]
        shift = np.zeros(3)
        for each in (zero_shifts(setup, self.slips), piece_shift(self.plan, setup, self.piece)):
            shift += 0.0 if each is None else each
        self._there = posed(self.points, setup, turn, shift, middle)
        self._columns = np.ascontiguousarray(self._there.T)

    def cut(self, number: int, step: CuttingMove) -> None:
        """One move."""
        if step.move.removes is not None:
            self._take(number, to_body(self.points, step.move.removes), 0.0)
            return
        self._pose(step.setup)
        leaves = step.move.allowed_mm
        for stroke in deepest(step.tool, step.strokes):
            near = self._near(step.tool, stroke, leaves)
            if near is None:
                self._take(number, to_stroke(self._there, step.tool, stroke), leaves)
            elif near.size:
                self._take(number, to_stroke(self._there[near], step.tool, stroke), leaves, near)

    def _near(self, tool: Tool, stroke: Stroke, within_mm: float) -> Index | None:
        """Points a stroke may come nearer to than anything before it, or within so much; None for all."""
        box = swept_box(tool, stroke)
        if box is None:
            return None
        far = np.zeros(len(self._columns[0]))
        for v, a, b in zip(self._columns, *box, strict=True):
            out = np.maximum(np.maximum(a - v, v - b), 0.0)
            far += out * out
        room = np.maximum(self.off, within_mm)
        return np.flatnonzero(far < room * room + 1e-12)

    def _take(self, number: int, away: Array, leaves_mm: float, where: Index | None = None) -> None:
        every = np.arange(len(self.off)) if where is None else where
        closer = away < self.off[every]
        self.off[every[closer]] = away[closer]
        self.who[every[closer]] = number
        if leaves_mm:
            left = every[away <= leaves_mm + TOLERANCE_MM]
            self.meant[left] = np.maximum(self.meant[left], leaves_mm)


def rehearse(plan: Plan, slips: Slips | None = None, wanted_points: int = 20_000, piece: int = 0) -> Rehearsal:
    """Cut a plan, as planned or as it was keyed, and say what is wrong with the part.

    Args:
        piece: Of a bar with several, the one that is looked at.

    Raises:
        ShopError: A plan without a blank or a solid.
    """
    began = time.perf_counter()
    if plan.solid is None:
        raise ShopError(
            "Rehearsal", "this part is not all machined", "It has no one solid to compare with", "Rehearse another design"
        )
    surface = Surface(plan.solid, wanted_points)
    planned = steps_of(plan)
    steps = steps_of(plan, slips) if slips is not None and not slips.none else planned
    metal = Metal(plan, surface.points, slips, piece)
    probes = Metal(plan, _beside(plan, surface, planned, piece), slips, piece)
    inside, owner = _inside(plan, planned, piece)
    swept = Metal(plan, inside, slips, piece)
    references = (Metal(plan, surface.points, piece=piece), Metal(plan, inside, piece=piece)) if steps is not planned else ()
    wrong_at = ""
    air: list[CuttingMove] = []
    for n, step in enumerate(steps):
        mine = owner == n
        if mine.any() and step.move.piece == piece and not step.move.may_be_air and swept.off[mine].max() < _AIR_MM:
            air.append(step)
        for points in (metal, probes, swept):
            if len(points.points):
                points.cut(n, step)
        if references and not wrong_at:
            for reference, really in zip(references, (metal, swept), strict=True):
                reference.cut(n, planned[n])
                if _differs(really.off, reference.off):
                    wrong_at = step.move.id
    found = _compared(metal, steps)
    known = {f.setup for f in found if f.kind == "left"}
    beside = [f for f in _left_beside(probes, steps) if f.setup not in known]
    findings = [*found, *beside, *(_in_air(s) for s in air if steps is planned)]
    return Rehearsal(findings=_worst_first(findings), seconds=time.perf_counter() - began, wrong_at=wrong_at)


def deepest(tool: Tool, strokes: tuple[Stroke, ...]) -> tuple[Stroke, ...]:
    """Of strokes of an upright cutter over the same line the lowest, which takes all that the others take."""
    if len(strokes) < 2 or tool.axis != "z" or tool.on == "lathe" or tool.kind in ("t_slot", "dovetail"):
        return strokes
    lowest: dict[tuple[tuple[float, float], ...], Stroke] = {}
    for s in strokes:
        ends = tuple((x, y) for x, y, _ in s.path)
        key = min(ends, ends[::-1])
        if key not in lowest or min(p[2] for p in s.path) < min(p[2] for p in lowest[key].path):
            lowest[key] = s
    return tuple(lowest.values())


def _differs(a: Array, b: Array) -> bool:
    """Whether two states of the metal are not the same: then some point is nearer to what is gone in one of them."""
    return bool((np.abs(a - b) > TOLERANCE_MM).any())


def _compared(metal: Metal, steps: list[CuttingMove]) -> list[Finding]:
    allowed = np.array([*(s.move.allowed_mm for s in steps), 0.0])[metal.who]
    found = []
    left = metal.off > TOLERANCE_MM + np.maximum(allowed, metal.meant)
    for kind, wrong in (("gouge", metal.off < -TOLERANCE_MM - allowed), ("left", left)):
        for n in np.unique(metal.who[wrong]):
            mine = np.flatnonzero(wrong & (metal.who == n))
            worst = mine[int(np.argmax(np.abs(metal.off[mine])))]
            found.append(_finding(kind, steps[n] if n >= 0 else None, float(abs(metal.off[worst])), metal.points[worst]))
    return found


def _left_beside(probes: Metal, steps: list[CuttingMove]) -> list[Finding]:
    if not len(probes.points):
        return []
    allowed = np.array([*(s.move.allowed_mm for s in steps), 0.0])[probes.who]
    wrong = probes.off > 0.004 + np.maximum(allowed, probes.meant)
    found = []
    for n in np.unique(probes.who[wrong]):
        mine = np.flatnonzero(wrong & (probes.who == n))
        worst = mine[int(np.argmax(probes.off[mine]))]
        found.append(_finding("left", steps[n] if n >= 0 else None, float(2 * probes.off[worst]), probes.points[worst]))
    return found


def _in_air(step: CuttingMove) -> Finding:
    return Finding(
        kind="air",
        setup=step.setup.id,
        move=step.move.id,
        feature=step.move.feature,
        thickness_mm=0.0,
        at_mm=(0.0, 0.0, 0.0),
        words=f"“{step.move.words}” cuts in air: there is no metal left where it goes",
    )


def _finding(kind: str, step: CuttingMove | None, thick: float, at: Array) -> Finding:
    x, y, z = (round(float(v), 4) for v in at)
    place = (x, y, z)
    size = f"{length(thick, 3)} {LENGTH_UNIT}"
    where = f"at x {length(place[0], 2)}, y {length(place[1], 2)}, z {length(place[2], 2)}"
    if step is None:
        words = f"no move takes {size} away {where}" if kind == "left" else f"the blank is {size} too small {where}"
        return Finding(kind=kind, setup="", move="", feature="", thickness_mm=thick, at_mm=place, words=words)
    feature = step.move.feature or step.setup.title.lower()
    words = (
        f"“{step.move.words}” cuts {size} into the {feature} {where}"
        if kind == "gouge"
        else f"“{step.move.words}” leaves {size} standing at the {feature} {where}"
    )
    return Finding(
        kind=kind, setup=step.setup.id, move=step.move.id, feature=feature, thickness_mm=thick, at_mm=place, words=words
    )


def _worst_first(findings: list[Finding]) -> tuple[Finding, ...]:
    best: dict[tuple[str, str], Finding] = {}
    for f in findings:
        key = (f.kind, f.move)
        if key not in best or f.thickness_mm > best[key].thickness_mm:
            best[key] = f
    return tuple(sorted(best.values(), key=lambda f: -f.thickness_mm))


def _inside(plan: Plan, steps: list[CuttingMove], piece: int) -> tuple[Array, Index]:
    """Points just inside what each move sweeps, in the part frame, and whose they are: no metal at any of them, a cut in air."""
    found: list[Array] = []
    owner: list[int] = []
    boxes: dict[str, tuple[Array, Array]] = {}
    for n, step in enumerate(steps):
        if step.setup.pose is None or step.move.removes is not None:
            continue
        if step.setup.id not in boxes:
            there = posed(corners(plan), step.setup, shift=piece_shift(plan, step.setup, piece))
            boxes[step.setup.id] = (there.min(axis=0), there.max(axis=0))
        for stroke in deepest(step.tool, step.strokes):
            points = _swept_by(step.tool, np.array(stroke.path), *boxes[step.setup.id])
            found.append(in_part(plan, step.setup, points, piece))
            owner += [n] * len(points)
    return (np.concatenate(found) if found else np.empty((0, 3))), np.array(owner, dtype=np.intp)


def _swept_by(tool: Tool, path: Array, low: Array, high: Array) -> Array:
    """Points in what a stroke sweeps, beside the ends of the blank's box in that setup."""
    a, b = path[0], path[-1]
    if tool.on == "lathe" and tool.kind in ("turning", "boring", "parting"):
        out = -_JUST_MM if tool.kind == "boring" else _JUST_MM
        t = np.linspace(0.02, 0.98, 17)[:, None]
        corner = a + t * (b - a) + (out, 0.0, _JUST_MM)
        return np.column_stack((np.abs(corner[:, 0]), np.zeros(len(t)), corner[:, 2]))
    floor = min(a[2], b[2])
    up = np.concatenate((floor + np.array(_HEIGHTS) * max(0.1, high[2] - floor) + 0.01, floor + np.array((0.35, 0.9, 2.2))))
    if tool.axis != "z":
        up = floor + np.array((0.01, 0.5))
    r = (tool.width_mm if tool.axis != "z" else tool.diameter_mm) / 2
    if tool.point_deg and (abs(a[2] - b[2]) > 1e-9 or np.allclose(a, b)):
        # Along the flank of its point and up its side: a countersink touches the metal nowhere but there.
        slope = math.tan(math.radians(tool.point_deg) / 2)
        rise = np.concatenate((np.linspace(0.02, 0.999, 14) * r / slope, up - floor))
        rise = np.minimum(rise, max(0.05, high[2] - floor - 0.01))
        radius = np.minimum(r, rise * slope) - _JUST_MM / 2
        turn = 2 * np.pi * np.arange(6) / 6
        points = [
            (b[0] + c * np.cos(t), b[1] + c * np.sin(t), floor + h + _JUST_MM)
            for c, h in zip(radius, rise, strict=True)
            for t in turn
        ]
        return np.array([*points, (b[0], b[1], floor + 0.01)])
    if abs(a[2] - b[2]) > 1e-9 or np.allclose(a, b):
        turn = 2 * np.pi * np.arange(24) / 24
        around = np.concatenate(
            [np.column_stack((k * r * np.cos(turn), k * r * np.sin(turn))) for k in ((r - _JUST_MM / 2) / r, 0.5)]
        )
        flat = b[:2] + around
    elif len(path) > 2:
        # A path of many short ways, round a centre: some of them, all along it.
        picked = np.unique(np.linspace(0, len(path) - 2, 13).astype(int))
        ways = (path[picked + 1] - path[picked])[:, :2]
        side = np.column_stack((-ways[:, 1], ways[:, 0])) / np.linalg.norm(ways, axis=1)[:, None]
        across = (np.array(_ACROSS) * r)[None, :, None] * side[:, None, :]
        flat = ((path[picked + 1] + path[picked])[:, None, :2] / 2 + across).reshape(-1, 2)
    else:
        along = (b - a)[:2] / math.dist(a[:2], b[:2])
        side = np.array((-along[1], along[0]))
        middle, half = (low + high)[:2] / 2, float(np.abs((high - low)[:2] @ np.abs(along))) / 2
        t = np.clip(np.array(_ALONG) * half + (middle - a[:2]) @ along, 0.0, math.dist(a[:2], b[:2]))
        flat = (a[:2] + t[:, None] * along)[:, None, :] + (np.array(_ACROSS) * r)[None, :, None] * side
        flat = flat.reshape(-1, 2)
    return np.array([(x, y, z) for x, y in flat for z in up])


def corners(plan: Plan) -> Array:
    """Corners of the blank's box in the part frame."""
    b = plan.blank
    assert b is not None
    if b.shape == "box":
        low, high = b.min_mm, b.max_mm
    else:
        r = max(b.diameter_mm, b.across_flats_mm * 1.16) / 2
        low = tuple(b.from_mm if a == b.axis else -r for a in "xyz")  # type: ignore[assignment]
        high = tuple(b.to_mm if a == b.axis else r for a in "xyz")  # type: ignore[assignment]
    return np.array([[(low, high)[i >> n & 1][n] for n in range(3)] for i in range(8)])


def in_part(plan: Plan, setup: Setup, points: Array, piece: int = 0) -> Array:
    """Machine coordinates of a setup in the part frame of a piece."""
    assert setup.pose is not None
    shift = piece_shift(plan, setup, piece)
    there: Array = (points - np.array(setup.pose.offset) - (0.0 if shift is None else shift)) @ np.array(setup.pose.rotation)
    return there


def _beside(plan: Plan, surface: Surface, steps: list[CuttingMove], piece: int) -> Array:
    """Points close beside every level stroke, inside the blank and outside the part, in the part frame."""
    found: list[Array] = []
    for step in steps:
        if step.setup.pose is None or step.tool.on == "lathe" or step.tool.axis != "z":
            continue
        r = step.tool.diameter_mm / 2
        for stroke in deepest(step.tool, step.strokes):
            path = np.array(stroke.path)
            if len(path) < 2 or np.ptp(path[:, 2]) > 1e-9:
                continue
            for a, b in pairwise(path):
                long = math.dist(a, b)
                if long < 1e-9:
                    continue
                count = max(1, int(long / _BESIDE_EVERY))
                t = (np.arange(count) + 0.5) / count
                along = a + t[:, None] * (b - a)
                side = np.array((-(b - a)[1], (b - a)[0], 0.0)) / long
                for out in _BESIDE:
                    for up in (0.02, 0.5, 3.0):
                        for sign in (-1.0, 1.0):
                            there = along + sign * (r + out) * side + (0.0, 0.0, up)
                            found.append(in_part(plan, step.setup, there, piece))
    if not found or plan.blank is None:
        return np.empty((0, 3))
    points = np.concatenate(found)
    points = points[to_body(points, plan.blank) < -0.004]
    return points[~surface.shape.holds(points)] if len(points) else points
