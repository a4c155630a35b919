"""The solid of a clamp or a support, and what is cut to make it. mm, in the family's frame."""

from __future__ import annotations

from elbrix.design.families.clamp import pictures
from elbrix.design.families.clamp.sizes import CUP, ClampSizes
from elbrix.design.work import (
    IN_VISE,
    Groove,
    HandOperation,
    HolePattern,
    PatternHole,
    Pocket,
    Shoulder,
    Step,
    TurnedBore,
    TurnedPart,
    TurnedTaper,
)
from elbrix.mechanics.drilling import tapped_mm
from elbrix.results.length_text import length
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned, drilled


def solid(s: ClampSizes) -> Recipe:
    """Of any kind, in the family's frame."""
    if s.kind == "step":
        return Prism(pictures.stairs(s), 0.0, s.length, "yz")
    if s.kind == "jack":
        return _jack(s)
    long, high, w = (s.toe_length if s.toe else s.length), (s.toe_thickness if s.toe else s.height), s.width / 2
    bar = Prism(((0, -w), (long, -w), (long, w), (0, w)), 0.0, high, "xy")
    if s.toe:
        return Cut(bar, (drilled((0.0, 0.0, high / 2), ((pictures.cup(s), CUP),), out=(-1.0, 0.0, 0.0)),))
    if s.kind == "heel":
        return bar
    r = s.slot / 2
    tools: list[Recipe] = []
    if s.end > s.start:
        tools.append(Prism(((s.start, -r), (s.end, -r), (s.end, r), (s.start, r)), -1.0, high + 1.0, "xy"))
    tools += [Turned(((0.0, -1.0), (r, -1.0), (r, high + 1.0), (0.0, high + 1.0)), (x, 0.0, 0.0)) for x in {s.start, s.end}]
    if s.kind == "strap" and s.relief:
        a, b = s.pad, s.length - s.pad_heel
        tools.append(Prism(((a, -w - 1), (b, -w - 1), (b, w + 1), (a, w + 1)), -1.0, s.relief, "xy"))
    if s.kind == "toe":
        deep = tapped_mm(s.thread_deep, s.screw.pitch_mm)
        tools.append(drilled((s.length, 0.0, s.push_height), ((s.screw.tap_drill[1], deep),), out=(1.0, 0.0, 0.0)))
    return Cut(bar, tuple(tools))


def steps(s: ClampSizes) -> tuple[Step, ...]:
    """What is cut, in order."""
    if s.toe:
        return tuple(_toe_work(s))
    kinds = {"strap": _strap_work, "toe": _body_work, "step": _step_work, "heel": _heel_work, "jack": _jack_work}
    return tuple(kinds[s.kind](s))


def _jack(s: ClampSizes) -> Recipe:
    r, c, drill = s.width / 2, pictures.chamfer(s), s.screw.tap_drill[1] / 2
    at = (0.0, 0.0, 0.0)
    body = Turned(((0.0, 0.0), (r - c, 0.0), (r, c), (r, s.height - c), (r - c, s.height), (0.0, s.height)), at)
    bore = Turned(((0.0, -1.0), (drill, -1.0), (drill, s.height + 1), (0.0, s.height + 1)), at)
    return Cut(body, (bore,))


def _jack_work(s: ClampSizes) -> list[Step]:
    c, high = pictures.chamfer(s), s.height
    return [
        TurnedPart(name="Body", size_mm=s.width, length_mm=high, allowed_mm=0.1, feature="body", id="body"),
        TurnedTaper(
            name="Chamfer", from_size_mm=s.width - 2 * c, to_size_mm=s.width, from_mm=0.0, to_mm=c, feature="body", id="chamfer"
        ),
        TurnedTaper(
            name="Chamfer",
            from_size_mm=s.width,
            to_size_mm=s.width - 2 * c,
            from_mm=high - c,
            to_mm=high,
            feature="body",
            id="chamfer2",
        ),
        TurnedBore(name="Thread", size_mm=2 * (s.screw.tap_drill[1] / 2), thread=s.screw.name, feature="push", id="tapped"),
        HandOperation(
            name="Screw",
            words="Turn the end of a hexagon screw's head flat and slightly domed; a lock nut on it against the body.",
            tools=("file",),
            caution="Never a hand under work that stands on jacks alone.",
            check="It turns by hand over its whole reach, and the lock nut holds it.",
        ),
    ]


def _slot_step(s: ClampSizes) -> Pocket:
    return Pocket(
        name="Slot for the stud",
        corners=((s.start, 0.0), (s.end, 0.0)),
        depth_mm=s.height + 0.5,
        cutter_mm=s.slot,
        held=f"{IN_VISE} on parallels either side of the slot, a drill hole at its beginning",
        feature="slot_width",
        id="slot",
    )


def _strap_work(s: ClampSizes) -> list[Step]:
    steps: list[Step] = []
    if s.relief:
        wide = s.length - s.pad - s.pad_heel
        steps.append(
            Groove(
                name="Relief underneath",
                width_mm=wide,
                depth_mm=s.relief,
                at_mm=s.pad + wide / 2,
                across=True,
                below=True,
                feature="relief",
                id="relief",
                allowed_mm=0.3,
            )
        )
    return [
        *steps,
        _slot_step(s),
        HandOperation(
            name="Tip and edges",
            words="Round the tip's lower edge a little along its whole width: it touches behind its end; break all edges.",
            tools=("file",),
            caution="A burr under a strap marks the work and lets it slip.",
            check="On a flat plate it touches along its whole tip, behind its end, and at its heel.",
        ),
    ]


def _body_work(s: ClampSizes) -> list[Step]:
    screw = s.screw
    return [
        _slot_step(s),
        HolePattern(
            name="Push screw",
            holes=(
                PatternHole(
                    s.height - s.push_height,
                    0.0,
                    thread=screw.name,
                    drill_mm=screw.tap_drill[1],
                    depth_mm=tapped_mm(s.thread_deep, screw.pitch_mm),
                    thread_depth_mm=s.thread_deep,
                ),
            ),
            thickness_mm=s.length,
            feature="push",
            face="F",
            id="push",
            held=f"upright {IN_VISE}, square to the table",
        ),
        HandOperation(
            name="Try it",
            words="The screw's head domed and free of burrs; grease in the thread. It pushes by being turned out.",
            tools=("file",),
            caution="A toe clamp needs a stop on the far side: without one it pushes the work away.",
            check="Beside a block against a stop: it pushes the block down, not up.",
        ),
    ]


def _toe_work(s: ClampSizes) -> list[Step]:
    return [
        HolePattern(
            name="Cup for the head",
            holes=(PatternHole(s.toe_thickness / 2, 0.0, drill_mm=pictures.cup(s), depth_mm=CUP),),
            thickness_mm=s.toe_length,
            feature="toe",
            face="E",
            id="cup",
            held=f"upright {IN_VISE}, square to the table",
        ),
        HandOperation(
            name="Nose",
            words="Break the edges of the end that touches the work; harden it if it is to last.",
            tools=("file",),
            caution="Furnace and quench: the steel supplier's figures, gloves, face shield.",
            check="Its whole nose touches a flat face, to the eye.",
        ),
    ]


def _step_work(s: ClampSizes) -> list[Step]:
    """From the top step outward, each cut down to the next tread."""
    found: list[Step] = []
    far = s.depth / 2
    for i in range(s.steps - 2, -1, -1):
        wall = s.tread_at(i)[1]
        found.append(
            Shoulder(
                name=f"Step {i + 1}",
                width_mm=far - wall,
                depth_mm=s.height - s.heights[i],
                off_mm=(wall + far) / 2,
                taken_mm=s.height - s.heights[i + 1] if i < s.steps - 2 else 0.0,
                feature="steps",
                id=f"step{i + 1}",
            )
        )
    return [
        *found,
        HandOperation(
            name="Edges", words="Break the edge of every step with a fine file: a burr lifts the strap.", tools=("file",)
        ),
    ]


def _heel_work(s: ClampSizes) -> list[Step]:
    return [
        HandOperation(
            name="Edges",
            words=(f"Break all edges; stamp its heights {length(s.length)}, {length(s.width)} and {length(s.height)} on it."),
            tools=("file", "number punches"),
            caution="Eye protection when you punch.",
        )
    ]
