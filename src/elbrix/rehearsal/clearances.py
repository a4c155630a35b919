"""What is in the way of a plan's strokes: travels, the vise's opening and grip, jaws, shanks, and cuts in air."""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from elbrix.making.grip import MIN_GRIP_MM, unheld_words, wanted_mm
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.rehearsal.findings import Finding
from elbrix.rehearsal.section import extent, within_metal
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

#: Where along the work it is looked at, shares of its length: close to both ends too, the middle may be relieved.
_ALONG: Final = np.array((0.04, 0.2, 0.4, 0.6, 0.8, 0.96))
#: Metal begins this far under a surface: points that lie on one are not in it, mm.
_SKIN_MM: Final = 0.01
#: How finely what the jaws meet is looked for, up and across, mm; no more layers below and above and columns than these.
_LOOK_MM, _ASIDE_MM, _LAYERS, _ABOVE, _COLUMNS = 0.2, 0.4, 60, 10, 40
#: Bed of a vise that is not in the shop, parallels under strapped work, holder over a tool, mm.
_BED_MM, _PARALLEL_MM, _HOLDER_MM = 60.0, 20.0, 60.0
#: A shank this much over its cutter rubs where it follows it down, mm.
_OVER_MM: Final = 0.06


def in_the_way(plan: Plan, shop: Shop) -> list[Finding]:
    """Every breach of a limit and every touch of what holds work or cutter."""
    found: list[Finding] = []
    for setup in plan.setups:
        if setup.pose is None or setup.lie is None:
            continue
        id = setup.machine_id or plan.machine_id
        machine = next((m for m in shop.machines if m.id == id), None)
        if machine is not None:
            found += _travels(setup, machine)
            found += _spindle(plan, setup, machine, shop)
        if setup.fixture == "vise":
            found += _vise(plan, setup, shop)
        for operation in setup.operations:
            for move in operation.moves:
                found += _shank(setup, operation, move)
    return found


def _said(
    kind: str, setup: Setup, move: Move | None, thick: float, words: str, at: tuple[float, float, float] = (0, 0, 0)
) -> Finding:
    return Finding(
        kind=kind,
        setup=setup.id,
        move=move.id if move is not None else "",
        feature=move.feature if move is not None else "",
        thickness_mm=thick,
        at_mm=at,
        words=words,
    )


def _travels(setup: Setup, machine: Machine) -> list[Finding]:
    """Whether each slide goes as far as the strokes of one setup do."""
    found = []
    for n, axis in enumerate("XYZ"):
        wheel = machine.axes.get(axis)
        if wheel is None or not wheel.travel_mm or setup.on_lathe:
            continue
        places = [(p[n], m) for m in setup.moves for s in m.strokes for p in s.path]
        if not places:
            continue
        (low, _), (high, move) = min(places, key=lambda v: v[0]), max(places, key=lambda v: v[0])
        over = high - low - wheel.travel_mm
        if over > 0:
            found.append(
                _said(
                    "limit",
                    setup,
                    move,
                    over,
                    f"“{setup.title}” goes {length(high - low, 0)} {LENGTH_UNIT} in {axis}, {machine.name} travels"
                    f" {length(wheel.travel_mm, 0)}: move the work along the table and set its zero again, or take a"
                    " larger machine",
                )
            )
    return found


def _spindle(plan: Plan, setup: Setup, machine: Machine, shop: Shop) -> list[Finding]:
    """Quill stroke of what goes straight down, and room for work, holding and tool under the spindle."""
    found = []
    plunges = [
        (max(p[2] for p in s.path) - min(p[2] for p in s.path), m)
        for m in setup.moves
        for s in m.strokes
        if not setup.on_lathe and len(s.path) > 1 and s.path[0][:2] == s.path[-1][:2]
    ]
    deepest = max(plunges, key=lambda v: v[0], default=None)
    if deepest is not None and machine.quill_mm and deepest[0] > machine.quill_mm:
        found.append(
            _said(
                "limit",
                setup,
                deepest[1],
                deepest[0] - machine.quill_mm,
                f"“{deepest[1].words}” goes {length(deepest[0], 0)} {LENGTH_UNIT} down, the quill of {machine.name} goes"
                f" {length(machine.quill_mm, 0)}: take it in two, by knee or table",
            )
        )
    if machine.daylight_mm and setup.fixture in ("vise", "straps"):
        low, high = extent(plan, setup)
        under = min((v.bed_height_mm for v in shop.vises), default=_BED_MM) if setup.fixture == "vise" else _PARALLEL_MM
        tool = max((o.cutter.stick_out_mm for o in setup.operations if o.cutter is not None), default=0.0)
        needs = under + float(high[2] - low[2]) + tool + _HOLDER_MM
        if needs > machine.daylight_mm:
            found.append(
                _said(
                    "limit",
                    setup,
                    setup.moves[0],
                    needs - machine.daylight_mm,
                    f"“{setup.title}”: work, holding and tool are {length(needs, 0)} {LENGTH_UNIT} high, {machine.name} has"
                    f" {length(machine.daylight_mm, 0)} under its spindle",
                )
            )
    return found


def _gripped(plan: Plan, setup: Setup) -> tuple[float, float]:
    """How high the jaws bear on the work as a setup begins, on the side where it is less, and how high the work is, mm.

    Jaws shut until they meet what stands out furthest below their tops: a narrow neck beside a wide head is not touched.
    """
    low, high = extent(plan, setup)
    deep, tall, wide = -setup.jaws_mm - float(low[2]), float(high[2] - low[2]), float(high[1] - low[1])
    if deep <= 0:
        return 0.0, tall
    # Fine layers below the jaws' tops, coarse ones above.
    layers = min(_LAYERS, math.ceil(deep / _LOOK_MM))
    rise, above = deep / layers, (tall - deep) / _ABOVE
    z = low[2] + np.concatenate((rise * (np.arange(layers) + 0.5), deep + above * (np.arange(_ABOVE) + 0.5)))
    columns = min(_COLUMNS, math.ceil(wide / _ASIDE_MM))
    x = low[0] + (high[0] - low[0]) * _ALONG
    y = low[1] + wide * (np.arange(columns) + 0.5) / columns
    there = np.stack([g.ravel() for g in np.meshgrid(x, y, z, indexing="ij")], axis=1)
    solid = np.any(within_metal(plan, setup, there, _SKIN_MM).reshape(len(x), len(y), len(z)), axis=0)
    under = solid[:, :layers]
    meets = np.flatnonzero(np.any(under, axis=1))
    grip = float(min(under[meets[0]].sum(), under[meets[-1]].sum()) * rise) if len(meets) else 0.0
    there_is = np.any(solid, axis=0)
    return grip, float(there_is[:layers].sum() * rise + there_is[layers:].sum() * above)


def _vise(plan: Plan, setup: Setup, shop: Shop) -> list[Finding]:
    """Opening and grip, and whether a cutter comes down on a jaw."""
    assert setup.lie is not None
    low, high = extent(plan, setup)
    across, middle = float(high[1] - low[1]), float(low[1] + high[1]) / 2
    found = []
    opens = max((v.opening_mm for v in shop.vises), default=0.0)
    if opens and across > opens:
        found.append(
            _said(
                "limit",
                setup,
                setup.moves[0],
                across - opens,
                f"“{setup.title}”: the work is {length(across)} {LENGTH_UNIT} between the jaws, the widest vise opens"
                f" {length(opens)}: hold it under straps",
            )
        )
    flat = bool(setup.jaws_mm) and not setup.lie.tilt_deg
    grip, tall = _gripped(plan, setup) if flat else (MIN_GRIP_MM, 0.0)
    if grip + _LOOK_MM / 2 < wanted_mm(tall):
        found.append(
            _said(
                "unheld",
                setup,
                setup.moves[0],
                wanted_mm(tall) - grip,
                unheld_words(setup.title, f"{length(grip)} {LENGTH_UNIT}"),
            )
        )
    if flat:
        top = -setup.jaws_mm  # Z is zero on the finished face that is up
        for operation in setup.operations:
            tool = operation.cutter
            if tool is None or tool.axis != "z":
                continue
            for move in operation.moves:
                for stroke in move.strokes:
                    path = np.array(stroke.path)
                    along_x = np.ptp(path[:, 0]) > 1e-9 and np.ptp(path[:, 1]) < 1e-9
                    # The jaws stand at the work, wherever Y is zero.
                    beside = np.abs(path[:, 1] - middle).max() + tool.diameter_mm / 2 > across / 2 + 0.5
                    if along_x and beside and path[:, 2].min() < top - 1e-6:
                        found.append(
                            _said(
                                "collision",
                                setup,
                                move,
                                float(top - path[:, 2].min()),
                                f"“{move.words}” runs {length(float(top - path[:, 2].min()))} {LENGTH_UNIT} into the jaws",
                            )
                        )
                        break
    return found


def _shank(setup: Setup, operation: Operation, move: Move) -> list[Finding]:
    """A cutter deeper in the metal than its edges are long, with a thicker shank behind."""
    tool = operation.cutter
    if tool is None or tool.kind not in ("end_mill", "ball_mill") or not tool.edge_length_mm or tool.on == "lathe":
        return []
    deepest = min((p[2] for s in move.strokes for p in s.path), default=0.0)
    levels = len({round(s.path[-1][2], 6) for s in move.strokes})
    if levels > 1 or setup.lie is None or setup.lie.tilt_deg:
        return []  # taken in levels, no deeper than the edges each
    deep = -deepest - tool.edge_length_mm
    if deep > 1e-6 and tool.shank_diameter_mm > tool.diameter_mm + _OVER_MM:
        return [
            _said(
                "collision",
                setup,
                move,
                (tool.shank_diameter_mm - tool.diameter_mm) / 2,
                f"“{move.words}”: {length(-deepest)} {LENGTH_UNIT} deep with edges {length(tool.edge_length_mm)} long: the"
                f" Ø{length(tool.shank_diameter_mm)} shank rubs",
            )
        ]
    return []
