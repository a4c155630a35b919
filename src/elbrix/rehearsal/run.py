"""The rehearsal: every stroke of a plan cut from the blank in order, and the result compared with the part.

Points stand on the finished part's surface. What the plan removes is the union of its strokes and of everything outside the blank,
so a point's signed distance to it is the least of all: at the end it has to be nothing. Less is gouged by that much, more is left
standing by that much, and the stroke that made it so is to blame.
"""

from __future__ import annotations

import math
import time
from collections.abc import Mapping
from typing import Final

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace

from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.pose import Matrix, multiplied
from elbrix.making.strokes import Stroke, Tool
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.distances import FAR, Array, to_body, to_stroke
from elbrix.rehearsal.surface import Surface
from elbrix.results.figures import format_number

#: A surface this near to where it should be is right, mm.
TOLERANCE_MM: Final = 0.01
#: Beside every stroke, this far out of it, stand points that find strips thinner than the points of the surface are apart, mm.
_BESIDE: Final = (0.012, 0.06, 0.25)
_BESIDE_EVERY: Final = 9.0
#: What is found of one move at the most.
_TURNS: Final[dict[str, Matrix]] = {
    "end": ((-1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.0, 0.0, 1.0)),
    "over": ((1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
    "mirrored": ((-1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
}


class Finding(Struct, frozen=True, kw_only=True):
    """One thing wrong with a plan."""

    kind: str  #: gouge, left, collision, air, limit or unheld
    setup: str
    move: str
    feature: str
    thickness_mm: float
    at_mm: tuple[float, float, float]  #: in the part frame
    words: str


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


class Step(Struct, frozen=True):
    """One cutting move with where it belongs and how it is really done."""

    setup: Setup
    operation: Operation
    move: Move
    tool: Tool
    strokes: tuple[Stroke, ...]


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


def steps_of(plan: Plan, slips: Slips | None = None) -> list[Step]:
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
        found.append(Step(setup, operation, move, tool, moved(move, slips, tool)))
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
    if tool.on == "lathe" and tool.kind in ("turning", "boring", "parting"):
        off[1] = 0.0
    return tuple(Stroke(tuple(_set(p, off, tool) for p in s.path)) if len(s.path) else s for s in move.strokes)


def _set(p: tuple[float, float, float], off: list[float], tool: Tool) -> tuple[float, float, float]:
    x, y, z = (a + b for a, b in zip(p, off, strict=True))
    # A lathe's path begins before the end of the bar whatever its Z is set to.
    return (max(0.0, x), y, z) if tool.on == "lathe" else (x, y, z)


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

    def __init__(self, plan: Plan, points: Array, slips: Slips | None = None) -> None:
        if plan.blank is None:
            raise ShopError(
                "Rehearsal", "the plan has no blank", "Only a part with a solid can be cut", "Plan a design that has one"
            )
        self.plan, self.points, self.slips = plan, points, slips or Slips()
        self.off: Array = -to_body(points, plan.blank)
        self.who = np.full(len(points), -1)
        self._setup = ""
        self._there = points
        b = plan.blank
        corners = (
            np.array([b.min_mm, b.max_mm])
            if b.shape == "box"
            else np.array(
                [
                    [b.from_mm if a == b.axis else -b.diameter_mm / 2 for a in "xyz"],
                    [b.to_mm if a == b.axis else b.diameter_mm / 2 for a in "xyz"],
                ]
            )
        )
        self._middle = corners.mean(axis=0)
        self._half = (corners[1] - corners[0]) / 2

    def _pose(self, setup: Setup) -> None:
        if setup.id == self._setup or setup.pose is None:
            return
        self._setup = setup.id
        turn = self.slips.turned.get(setup.id, "")
        middle = posed(self._middle[None, :], setup)[0]
        self._there = posed(self.points, setup, turn, zero_shifts(setup, self.slips), middle)

    def cut(self, number: int, step: Step) -> None:
        """One move."""
        if step.move.removes is not None:
            self._take(number, to_body(self.points, step.move.removes))
            return
        self._pose(step.setup)
        for stroke in step.strokes:
            near = self._near(step.tool, stroke)
            if near is None:
                self._take(number, to_stroke(self._there, step.tool, stroke))
            elif near.size:
                self._take(number, to_stroke(self._there[near], step.tool, stroke), near)

    def _near(self, tool: Tool, stroke: Stroke) -> Array | None:
        """Points a stroke may come nearer to than anything before it; None for all."""
        if tool.on == "lathe":
            return None
        path = np.array(stroke.path)
        r = tool.diameter_mm / 2
        low, high = path.min(axis=0) - r, path.max(axis=0) + r
        low[2], high[2] = path[:, 2].min(), FAR
        if tool.axis != "z":
            high[2] = path[:, 2].max() + tool.diameter_mm
        out = np.maximum(np.maximum(low - self._there, self._there - high), 0.0)
        return np.flatnonzero((out * out).sum(axis=1) < np.square(np.maximum(self.off, 0.0)) + 1e-12)

    def _take(self, number: int, away: Array, where: Array | None = None) -> None:
        if where is None:
            closer = away < self.off
            self.off[closer] = away[closer]
            self.who[closer] = number
            return
        closer = away < self.off[where]
        self.off[where[closer]] = away[closer]
        self.who[where[closer]] = number


def rehearse(plan: Plan, slips: Slips | None = None, wanted_points: int = 20_000) -> Rehearsal:
    """Cut a plan, as planned or as it was keyed, and say what is wrong with the part.

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
    metal = Metal(plan, surface.points, slips)
    probes = Metal(plan, _beside(plan, surface, planned), slips)
    reference = Metal(plan, surface.points) if steps is not planned else None
    wrong_at = ""
    for n, step in enumerate(steps):
        metal.cut(n, step)
        if len(probes.points):
            probes.cut(n, step)
        if reference is not None and not wrong_at:
            reference.cut(n, planned[n])
            if _differs(metal.off, reference.off):
                wrong_at = step.move.id
    findings = [*_compared(metal, steps), *_left_beside(probes, steps)]
    return Rehearsal(findings=_worst_first(findings), seconds=time.perf_counter() - began, wrong_at=wrong_at)


def _differs(a: Array, b: Array) -> bool:
    """Whether two states of the metal are not the same at the part's surface, where either has come near to it."""
    near = np.minimum(a, b) < 3.0
    return bool((np.abs(a[near] - b[near]) > TOLERANCE_MM).any()) if near.any() else False


def _compared(metal: Metal, steps: list[Step]) -> list[Finding]:
    allowed = np.array([*(s.move.allowed_mm for s in steps), 0.0])[metal.who]
    found = []
    for kind, wrong in (("gouge", metal.off < -TOLERANCE_MM - allowed), ("left", metal.off > TOLERANCE_MM + allowed)):
        for n in np.unique(metal.who[wrong]):
            mine = np.flatnonzero(wrong & (metal.who == n))
            worst = mine[int(np.argmax(np.abs(metal.off[mine])))]
            found.append(_finding(kind, steps[n] if n >= 0 else None, float(abs(metal.off[worst])), metal.points[worst]))
    return found


def _left_beside(probes: Metal, steps: list[Step]) -> list[Finding]:
    if not len(probes.points):
        return []
    allowed = np.array([*(s.move.allowed_mm for s in steps), 0.0])[probes.who]
    wrong = probes.off > 0.004 + allowed
    found = []
    for n in np.unique(probes.who[wrong]):
        mine = np.flatnonzero(wrong & (probes.who == n))
        worst = mine[int(np.argmax(probes.off[mine]))]
        found.append(_finding("left", steps[n] if n >= 0 else None, float(2 * probes.off[worst]), probes.points[worst]))
    return found


def _finding(kind: str, step: Step | None, thick: float, at: Array) -> Finding:
    place = tuple(round(float(v), 4) for v in at)
    size = f"{format_number(thick, 3)} mm"
    where = f"at x {format_number(place[0], 2)}, y {format_number(place[1], 2)}, z {format_number(place[2], 2)}"
    if step is None:
        words = f"no move takes {size} away {where}" if kind == "left" else f"the blank is {size} too small {where}"
        return Finding(kind=kind, setup="", move="", feature="", thickness_mm=thick, at_mm=place, words=words)  # type: ignore[arg-type]
    feature = step.move.feature or step.setup.title.lower()
    words = (
        f"“{step.move.words}” cuts {size} into the {feature} {where}"
        if kind == "gouge"
        else f"“{step.move.words}” leaves {size} standing at the {feature} {where}"
    )
    return Finding(
        kind=kind,
        setup=step.setup.id,
        move=step.move.id,
        feature=feature,
        thickness_mm=thick,
        at_mm=place,  # type: ignore[arg-type]
        words=words,
    )


def _worst_first(findings: list[Finding]) -> tuple[Finding, ...]:
    best: dict[tuple[str, str], Finding] = {}
    for f in findings:
        key = (f.kind, f.move)
        if key not in best or f.thickness_mm > best[key].thickness_mm:
            best[key] = f
    return tuple(sorted(best.values(), key=lambda f: -f.thickness_mm))


def _beside(plan: Plan, surface: Surface, steps: list[Step]) -> Array:
    """Points close beside every level stroke, inside the blank and outside the part, in the part frame."""
    found: list[Array] = []
    for step in steps:
        if step.setup.pose is None or step.tool.on == "lathe" or step.tool.axis != "z":
            continue
        r = step.tool.diameter_mm / 2
        for stroke in step.strokes:
            path = np.array(stroke.path)
            if len(path) < 2 or np.ptp(path[:, 2]) > 1e-9:
                continue
            for a, b in zip(path[:-1], path[1:], strict=True):
                long = math.dist(a, b)
                if long < 1e-9:
                    continue
                t = (np.arange(max(1, int(long / _BESIDE_EVERY))) + 0.5) / max(1, int(long / _BESIDE_EVERY))
                along = a + t[:, None] * (b - a)
                side = np.array((-(b - a)[1], (b - a)[0], 0.0)) / long
                for out in _BESIDE:
                    for up in (0.02, 0.5, 3.0):
                        for sign in (-1.0, 1.0):
                            there = along + sign * (r + out) * side + (0.0, 0.0, up)
                            found.append((there - np.array(step.setup.pose.offset)) @ np.array(step.setup.pose.rotation))
    if not found or plan.blank is None:
        return np.empty((0, 3))
    points = np.concatenate(found)
    points = points[to_body(points, plan.blank) < -0.004]
    return points[~surface.shape.holds(points)] if len(points) else points


def composed(a: Matrix, b: Matrix) -> Matrix:
    """One rotation after another."""
    return multiplied(a, b)
