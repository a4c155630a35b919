"""A strap clamp: stud in a slot, tip on the work, heel on a block."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from elbrix.design.slot_nut import nut_thread
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Side, Style
from elbrix.geometry.shapes import inside, outside_by, placed, rectangle
from elbrix.holding.contacts import ClampForce, strap_tip_n
from elbrix.holding.drawn import body, front
from elbrix.holding.layout import Behaviour, Piece, PlacedElement, PlacingContext, Solid, in_a_slot
from elbrix.holding.owned import ShelfUse, fasteners_use
from elbrix.holding.slot_runs import run_of
from elbrix.holding.spots import first_standing, heel_foot, heel_problem, reach_onto
from elbrix.holding.straps import HEEL_HIGH_MM, NOSE_MM, bending_share, heel_arm_mm, heel_for, lips_under_stud
from elbrix.mechanics.strength import preload_n, stud_torque_nm
from elbrix.mechanics.tightened import LIPS_FIRST, MIN_TORQUE_NM, proposed_nm, screw_load
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits, Points
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import kilonewtons, reckoned, term, worked
from elbrix.results.length_text import torque_text
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.tooling import Stud
from elbrix.shop.workholding import Clamp, ClampKind, FastenerKind
from elbrix.standards.materials import nut_factor
from elbrix.standards.threads import find_thread

_ASSUMED = Clamp(id="", length_mm=100, width_mm=28, thickness_mm=14, slot_from_mm=14, slot_to_mm=58)
_SAFE_SHARE = 0.67  # of yield
_BY_HAND_NM = 20.0  # hand tight with a short spanner


def owned_clamps(shop: Shop, kind: ClampKind = ClampKind.STRAP) -> tuple[Clamp, ...]:
    found = tuple(c for c in shop.clamps if c.kind is kind)
    return found or (_ASSUMED,) if kind is ClampKind.STRAP else found


def owned_studs(shop: Shop) -> tuple[Stud, ...]:
    return shop.studs or (Stud(id="", thread="M10x1.5", length_mm=100),)


class StrapElement:
    """See the module."""

    key = "strap"
    title = "Strap clamp"
    when = "Presses the work down beside the cut"
    order = 1
    behaviour = Behaviour(
        name="strap", draggable=True, moves_aside=True, tightened_last=True, spanner_mm=24.0, placed_by_search=True
    )

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            *in_a_slot(
                machine,
                "Slot",
                "Stud position X",
                "Direction",
                ("from the middle of the table", "0 is to the right, then counter-clockwise"),
                rings=True,
            ),
            Parameter(
                name="stud_to_tip",
                label="Stud to tip",
                kind=Kind.LENGTH,
                low=8,
                high=400,
                step=1,
                words=("longer", "shorter"),
                usually="short: the stud stands nearer the work than the heel",
            ),
            Parameter(
                name="clamp", label="Clamp", kind=Kind.CHOICE, unit="", choices=tuple((c.id, c.title) for c in owned_clamps(shop))
            ),
            Parameter(
                name="stud",
                label="Stud",
                kind=Kind.CHOICE,
                unit="",
                choices=tuple((s.id, f"{s.thread} × {s.length_mm:g}") for s in owned_studs(shop)),
            ),
            Parameter(
                name="torque", label="Tightening torque", kind=Kind.NUMBER, unit="N·m", low=MIN_TORQUE_NM, high=400, step=1
            ),
            Parameter(
                name="tip_friction",
                label="Friction under the tip",
                kind=Kind.NUMBER,
                unit="",
                low=0,
                high=0.5,
                step=0.05,
                usually="0: a slender strap gives sideways",
            ),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        slot, x, turn, clamp = first_standing(shop, machine, piece, chosen, owned_clamps(shop), 1.0 if number % 2 == 0 else -1.0)
        studs = owned_studs(shop)
        run = run_of(machine, slot)
        there = run.slot if run is not None else None
        reach = reach_onto(piece, (x, run.y(x) if run is not None else 0.0), turn, clamp)
        stud = next((s for s in studs if "stud" in chosen and s.id == chosen["stud"].value), None)
        stud = stud or _likeliest_stud(shop, studs, clamp, there, piece.top_mm)
        assumed = Origin.ASSUMED
        return Values(
            merge_choices(
                chosen,
                {
                    "slot": ParameterValue(slot, assumed),
                    "x": ParameterValue(float(x), assumed),
                    "direction": ParameterValue(float(turn), Origin.CALCULATED),
                    "stud_to_tip": ParameterValue(
                        reach, Origin.CALCULATED, derivation=Derivation("just onto the work", format_number(reach, 0))
                    ),
                    "clamp": ParameterValue(clamp.id, Origin.MEASURED if shop.clamps else assumed),
                    "stud": ParameterValue(stud.id, Origin.MEASURED if shop.studs else assumed),
                    "torque": _usual_torque(stud),
                    "tip_friction": ParameterValue(
                        0.0, assumed, derivation=Derivation("", "", "none: a slender strap gives sideways")
                    ),
                },
            )
        )

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        return 0.0

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        clamp = next((c for c in owned_clamps(at.shop) if c.id == values.word("clamp")), owned_clamps(at.shop)[0])
        stud = next((s for s in owned_studs(at.shop) if s.id == values.word("stud")), owned_studs(at.shop)[0])
        thread = find_thread(parse_thread(stud.thread))
        slot = at.slot(values.word("slot"))
        turn, arm, torque = values.number("direction"), values.number("stud_to_tip"), values.number("torque")
        way = (math.cos(turn), math.sin(turn))
        root = at.stands_at(values.word("slot"), values.number("x"))
        tip = (root[0] + arm * way[0], root[1] + arm * way[1])
        heel_arm = heel_arm_mm(clamp, arm)
        top, thick = at.piece.top_mm, clamp.thickness_mm
        ring = placed(
            rectangle(clamp.length_mm, clamp.width_mm),
            root[0] + way[0] * (arm + NOSE_MM - clamp.length_mm / 2),
            root[1] + way[1] * (arm + NOSE_MM - clamp.length_mm / 2),
            turn,
        )
        heel = (root[0] - heel_arm * way[0], root[1] - heel_arm * way[1])
        block = heel_for(at.shop, top)
        pull = preload_n(torque, at.nut_factor, thread.major_mm)
        tip_n = strap_tip_n(pull, arm, heel_arm) if heel_arm > 0 and arm > 0 else 0.0
        on_work = inside(at.piece.outline, tip)
        problem = ""
        if slot is None:
            problem = "its stud stands between the slots: carry it to a slot"
        elif not at.reaches(values.word("slot"), root[0]):
            problem = "its stud stands outside the ring slot: nearer to the middle"
        elif abs(root[0]) > at.machine.table_length_mm / 2 > 0:
            problem = "its stud is off the table's end"
        elif inside(at.piece.outline, root):
            problem = "its stud would go through the work"
        elif not on_work:
            problem = f"its tip misses the work by {format_number(outside_by(at.piece.outline, tip), 1)} mm"
        elif heel_arm <= 0:
            problem = "no length is left behind the stud for a heel"
        forces = (
            (ClampForce((tip[0], tip[1], top), (0, 0, -1), tip_n, values.number("tip_friction"), name),) if not problem else ()
        )
        entry = at.entry
        checks = (
            [] if problem else self._checks(name, at, values, clamp, stud, arm, heel_arm, tip, tip_n, block.height_mm, torque)
        )
        nut = thread.major_mm * 0.9
        above: list[Element] = [
            *body(ring, name),
            Arc(root, nut, feature=name),
            Arc(root, thread.major_mm / 2, feature=name),
            Line(root, tip, Style.CENTRE, name),
            Arc(tip, 2.5, style=Style.TOOL, feature=name),
        ]
        side: list[Element] = [*front(ring, top, top + thick, name)]
        standing: tuple[Solid, ...] = ()
        if block.block is not None and block.height_mm:
            foot = heel_foot(block.block, heel, way, turn)
            standing = (Solid(ring=foot, bottom_mm=0.0, top_mm=block.height_mm, name=f"{name}, its heel"),)
            if not problem:
                problem = heel_problem(at.machine, at.piece, foot)
                forces = () if problem else forces
            above += body(foot, name, Style.HIDDEN)
            side += front(foot, 0.0, block.height_mm, name, Style.SURROUNDINGS)
        stick = max(top + thick + 1.6 * thread.major_mm, 0.0)
        side.append(Line((root[0], 0.0), (root[0], stick), Style.CENTRE, name))
        beyond = (heel[0] - 34 * way[0], heel[1] - 22 * way[1])
        nut_ring = placed(rectangle(2 * nut, 2 * nut), root[0], root[1], turn)
        dims = (
            Dimension(
                entry("x"),
                (0.0, root[1]),
                beyond,
                Side.AT,
                value_mm=root[0],
                prefix="x ",
                entry=entry("x"),
                feature=name,
                step_mm=0.5,
                order=10 + at.number,
            ),
        )
        handles = (
            Handle(
                entry("stud_to_tip"),
                (tip[0] - 6 * way[1], tip[1] + 6 * way[0]),
                (tip[0] + 6 * way[1], tip[1] - 6 * way[0]),
                way,
                1.0,
                step=1.0,
                low=max(8.0, clamp.slot_from_mm - NOSE_MM),
                high=max(9.0, clamp.slot_to_mm - NOSE_MM),
                low_reason="the clamp's slot begins there",
                high_reason="the clamp's slot ends there",
                feature=name,
                value=arm,
            ),
        )
        figures = (
            reckoned(
                entry("pull"),
                "Stud preload",
                worked(
                    "T/(K·d)",
                    term(torque, 3, "N·m"),
                    at.nut_factor,
                    term(thread.major_mm, 3, "mm"),
                    source="friction scatters by 30 % either way",
                ),
                unit="kN",
                features=(name,),
            ),
            reckoned(
                entry("tip_n"),
                "Clamping force",
                worked(
                    "F·heel/(tip + heel)",
                    kilonewtons(pull, 2),
                    term(heel_arm, 1),
                    term(arm, 1),
                    source="the strap is a lever on its heel",
                ),
                unit="kN",
                features=(name,),
            ),
            Figure(
                key=entry("heel"),
                label="Heel support",
                value=block.height_mm,
                unit="",
                text=f"{block.block.title} at {format_number(block.height_mm, 1)}" if block.block else "nothing owned is so high",
                features=(name,),
                derivation=Derivation("level with the work or a hair above", f"work top {format_number(top, 2)}"),
            ),
        )
        uses = (
            *((ShelfUse(clamp.title, clamp.count),) if clamp.id else ()),
            *((ShelfUse(f"stud {thread.shown} × {stud.length_mm:g}", stud.count),) if stud.id else ()),
            *((ShelfUse(block.block.title, block.block.count),) if block.block else ()),
            *fasteners_use(at.shop, FastenerKind.T_NUT, thread, slot=slot),
            *fasteners_use(at.shop, FastenerKind.NUT, thread),
        )
        return PlacedElement(
            name=name,
            uses=uses,
            forces=forces,
            solids=(
                Solid(ring=ring, bottom_mm=top, top_mm=top + thick, name=name),
                Solid(ring=nut_ring, bottom_mm=0.0, top_mm=stick, name=f"{name}, its nut"),
                *standing,
            ),
            above=tuple(above),
            front=tuple(side),
            dimensions=dims,
            handles=handles,
            checks=tuple(checks),
            figures=figures,
            problem=problem,
            spot=root,
            name_at=(beyond[0], beyond[1] - 13),
            tighten=f"{sentence(name)}: {thread.shown}, {torque_text(torque)}",
            cautions=("Tighten in turn, a little each, and tap the work down before the last turn",),
        )

    def _checks(
        self,
        name: str,
        at: PlacingContext,
        values: Values,
        clamp: Clamp,
        stud: Stud,
        arm: float,
        heel_arm: float,
        tip: tuple[float, float],
        tip_n: float,
        heel_mm: float,
        torque: float,
    ) -> list[Check]:
        entry, top = at.entry, at.piece.top_mm
        under = min((outside_by(ring, tip) for ring in at.seats), default=math.inf)
        share = heel_arm / (arm + heel_arm) * 100
        bend = bending_share(clamp, tip_n, arm)
        slot = at.slot(values.word("slot"))
        off = arm + NOSE_MM
        found = [
            Check(
                key=entry("support"),
                remedies=(entry("stud_to_tip"), entry("x")),
                label=f"Support under tip, {name}",
                value=-under,
                unit="mm",
                limits=Limits(no_below=0.0, marginal_below=2.0),
                features=(name,),
                figures=(entry("stud_to_tip"),),
                reason=(
                    "the work stands right under it"
                    if under <= -2
                    else (
                        "near the edge of what carries it"
                        if under <= 0
                        else "it presses over air: the work bends, or tips up at the other side"
                    )
                ),
                derivation=Derivation("inside what carries the work", format_number(-under, 3)),
            ),
            Check(
                key=entry("lever"),
                remedies=(entry("stud_to_tip"), entry("x")),
                label=f"Lever ratio, {name}",
                value=share,
                unit="%",
                limits=Limits(marginal_below=50, no_below=25),
                features=(name,),
                figures=(entry("tip_n"),),
                reason=(
                    "more than half of the stud's pull is on the work"
                    if share >= 50
                    else "the heel gets more than the work: bring the stud nearer the work"
                ),
                derivation=Derivation(
                    "heel/(tip + heel)", f"{format_number(heel_arm, 1)}/({format_number(arm, 1)} + {format_number(heel_arm, 1)})"
                ),
            ),
            Check(
                key=entry("heel"),
                remedies=(entry("clamp"),),
                label=f"Heel height, {name}",
                value=heel_mm - top,
                unit="mm",
                limits=Limits(no_below=-0.5, marginal_below=0.0, marginal_above=HEEL_HIGH_MM),
                features=(name,),
                figures=(entry("heel"),),
                step=0.1,
                reason=(
                    "no block is that high"
                    if heel_mm == 0
                    else (
                        "level, or a hair above the work"
                        if 0 <= heel_mm - top <= HEEL_HIGH_MM
                        else (
                            "too high: the tip bears on its nose and walks off"
                            if heel_mm > top
                            else "lower than the work: the tip lifts and only its edge bites"
                        )
                    )
                ),
                derivation=Derivation("heel − work top", f"{format_number(heel_mm, 2)} − {format_number(top, 2)}"),
            ),
            Check(
                key=entry("bend"),
                remedies=(entry("torque"), entry("clamp")),
                label=f"Bending, {name}",
                value=bend.value * 100,
                unit="%",
                limits=Limits(marginal_above=100 * _SAFE_SHARE, no_above=100),
                features=(name,),
                figures=(entry("tip_n"),),
                reason=(
                    "well below its yield"
                    if bend.value < _SAFE_SHARE
                    else "it bends: a thicker clamp, or the stud nearer the work"
                ),
                derivation=bend.derivation,
            ),
            Check(
                key=entry("slotted"),
                remedies=(entry("stud_to_tip"),),
                label=f"Stud in slot, {name}",
                value=min(off - clamp.slot_from_mm, clamp.slot_to_mm - off),
                unit="mm",
                limits=Limits(no_below=0.0),
                features=(name,),
                figures=(entry("stud_to_tip"),),
                reason=(
                    "the clamp's own slot reaches there"
                    if clamp.slot_from_mm <= off <= clamp.slot_to_mm
                    else "the clamp has no slot there"
                ),
            ),
            Check(
                key=entry("long"),
                remedies=(entry("stud"),),
                label=f"Stud length, {name}",
                value=stud.length_mm - (top + clamp.thickness_mm + 1.3 * find_thread(parse_thread(stud.thread)).major_mm),
                unit="mm",
                limits=Limits(no_below=0.0, marginal_above=60),
                features=(name,),
                figures=(entry("stud"),),
                reason=(
                    "so long that it stands in the way of spanner and spindle"
                    if stud.length_mm > top + clamp.thickness_mm + 1.3 * find_thread(parse_thread(stud.thread)).major_mm + 60
                    else (
                        "through clamp and nut"
                        if stud.length_mm >= top + clamp.thickness_mm + 1.3 * find_thread(parse_thread(stud.thread)).major_mm
                        else "the nut is not full: a longer stud"
                    )
                ),
                derivation=Derivation(
                    "stud − work top − clamp − 1.3·d",
                    f"{format_number(stud.length_mm)} − {format_number(top, 1)} − {format_number(clamp.thickness_mm)} −"
                    f" {format_number(1.3 * find_thread(parse_thread(stud.thread)).major_mm, 1)}",
                    "what is in the nut counts as nothing",
                ),
            ),
        ]
        thread = find_thread(parse_thread(stud.thread))
        pull = preload_n(torque, at.nut_factor, thread.major_mm)
        named = Points(features=(name,), figures=(entry("torque"),), remedies=(entry("torque"),))
        of_stud = Points(features=(name,), figures=(entry("torque"),), remedies=(entry("torque"), entry("stud")))
        through = lips_under_stud(slot, thread, stud.strength_class, pull, named) if slot is not None else ()
        for check in through:
            found.append(
                replace(
                    check,
                    key=entry(check.key),
                    label=f"{check.label}, {name}",
                    remedies=of_stud.remedies if check.key == "stud" else named.remedies,
                )
            )
        if not through:  # nobody knows the lips; the stud at least is known
            label = f"Stud load, {name}"
            found.append(screw_load(entry("stud"), label, pull, thread, stud.strength_class, of_stud, careful=LIPS_FIRST))
        return found


def _likeliest_stud(shop: Shop, studs: Sequence[Stud], clamp: Clamp, slot: TSlot | None, top_mm: float) -> Stud:
    """One the strap takes, with a nut that is owned for the slot or could be made for it: the thickest that is long enough."""
    neck = slot.neck.min if slot is not None and slot.neck is not None else math.inf
    soundest = nut_thread(neck).major_mm if math.isfinite(neck) else math.inf

    def rank(stud: Stud) -> tuple[bool, bool, bool, float, float]:
        thread = find_thread(parse_thread(stud.thread))
        nuts = fasteners_use(shop, FastenerKind.T_NUT, thread, slot=slot)
        unowned = any(use.owned < use.taken for use in nuts)
        return thread.major_mm > soundest, unowned, stud.length_mm < top_mm + 40, -thread.major_mm, stud.length_mm

    fitting = [s for s in studs if find_thread(parse_thread(s.thread)).major_mm <= clamp.slot_width_mm]
    return min(fitting or studs, key=rank)


def _usual_torque(stud: Stud) -> ParameterValue:
    """Hand tight, and no more than a clamping stud is tightened; oiled, because oil needs the least torque for the pull."""
    allowed = stud_torque_nm(find_thread(parse_thread(stud.thread)), stud.strength_class, nut_factor("oiled"))
    most = min(_BY_HAND_NM, allowed)
    return ParameterValue(
        proposed_nm(most),
        Origin.ASSUMED,
        derivation=Derivation(
            "min(by hand; K·d·3/8·proof·A_s, oiled), down",
            f"min({_BY_HAND_NM:g}; {format_number(allowed, 2)})",
            "hand tight with a short spanner; the slot's lips decide",
        ),
    )


ELEMENT = StrapElement()
