"""Puts a plan together: stock, setups in order, kit, figures for the card."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Final

from msgspec.structs import replace

from elbrix.design.work import (
    BevelledEdge,
    Blank,
    BoredHole,
    Chamfer,
    Flat,
    Groove,
    HandOperation,
    HolePattern,
    PieceHole,
    Pocket,
    RingWall,
    RoundHoles,
    Shoulder,
    SlitCut,
    TaperedFace,
    TappedHole,
    VGroove,
    Work,
)
from elbrix.making.bevels import bevelled_edge, tapered_face
from elbrix.making.boring import bored_hole, pocket
from elbrix.making.centres import why_not
from elbrix.making.context import Context
from elbrix.making.ends import Step as TurnedStep
from elbrix.making.grooves import channel, flats, slit, vees
from elbrix.making.heat import placed as heat_placed
from elbrix.making.holes import hole_pattern, piece_holes, tapped_holes
from elbrix.making.kit import complete_kit
from elbrix.making.milling import chamfers, shoulders
from elbrix.making.options import Options
from elbrix.making.parting import facing, parting
from elbrix.making.plan import NO_BAR, Move, Operation, Plan, Position, Setup
from elbrix.making.pose import frame_of
from elbrix.making.ripping import can_be_ripped, rip, ripped
from elbrix.making.rotary import ring_walls
from elbrix.making.round_work import turned
from elbrix.making.rounds import round_holes
from elbrix.making.schools import from_the_corner
from elbrix.making.squaring import raw_faces, raw_sides, squaring
from elbrix.making.stock_choice import BarCutting, StockChoice, StockOption, choose_stock, round_stock_mm
from elbrix.making.strokes import Body
from elbrix.quantities.lengths import MM_PER_INCH, UnitStyle
from elbrix.quantities.sentences import sentence, within
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.length_text import said_in
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import bounds

MILLS = (MachineKind.KNEE, MachineKind.BED, MachineKind.BENCH, MachineKind.HORIZONTAL)


def milling_machines(shop: Shop) -> list[Machine]:
    """Machines a milling plan can run on."""
    return [m for m in shop.machines if m.kind in MILLS]


def lathes(shop: Shop) -> list[Machine]:
    """Machines a turning plan can run on."""
    return [m for m in shop.machines if m.kind is MachineKind.LATHE]


def plan_work(
    title: str,
    work: Work,
    shop: Shop,
    options: Options | None = None,
    measured: Mapping[str, float] | None = None,
    home: str = "",
    unit: str = "mm",
) -> Plan:
    """Plan all the work on one machine.

    Args:
        title: Of the plan.
        work: What has to be done, from the design.
        shop: What there is.
        options: How it is wanted.
        measured: Sizes typed at the machine by key (`bar_width`, `first_shoulder`, `cutter_diameter` …), mm; what follows
            is re-planned.
        unit: What sizes are said in and what a readout shows, "mm" or "in".
        home: Id of the design's own machine, taken when it mills and no other was asked for.
    """
    options = options or Options()
    blank = work.blank
    turning = blank.round_mm > 0
    able = lathes(shop) if turning else milling_machines(shop)
    machine = _machine(able, options.machine or home, MachineKind.LATHE if turning else MachineKind.KNEE)
    cutting = (
        BarCutting(kerf_mm=0.0, facing_mm=0.0, end_mm=0.0) if blank.there else BarCutting(spindle_mm=machine.spindle_bore_mm)
    )
    stock = StockChoice((), "") if blank.there else choose_stock(blank, shop.bars, cutting, unit)
    bar = next((o for o in stock.fitting if o.bar.id == options.bar), stock.best)
    in_the_chuck = ""
    if turning and options.lathe == "centres":
        in_the_chuck = why_not(blank, work.steps, round_stock_mm(blank, bar, unit))
        if not in_the_chuck:
            cutting = replace(cutting, sawn_each=True)
            stock = choose_stock(blank, shop.bars, cutting, unit)
            bar = next((o for o in stock.fitting if bar is not None and o.bar.id == bar.bar.id), stock.best)
    lengthwise = options.rip and can_be_ripped(bar, blank)
    wide = bar.width_mm if bar else blank.width_mm
    small = "" if options.machine or turning or _reaches(machine, blank, wide) else machine.name
    if small:
        machine = next((m for m in able if not m.horizontal and _reaches(m, blank, wide)), machine)
    low, high = bounds(work.solid) if work.solid is not None else ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    ctx = Context(
        shop=shop,
        machine=machine,
        blank=blank,
        options=options,
        measured=measured or {},
        cutting=cutting,
        bar=ripped(bar, blank) if bar is not None and lengthwise else bar,
        unit=unit,
        frame=frame_of(blank.along, blank.up, low, high) if work.solid is not None else None,
        main=machine.id,
    )
    _said_of_the_shop(ctx, able, turning=turning)
    if in_the_chuck:
        ctx.assumed.append(f"Not between centres: {in_the_chuck}. Planned in the chuck")
    if small and small != machine.name:
        ctx.assumed.append(f"Planned on {machine.name}: {small} does not travel over a piece of this size")
    if blank.there:
        ctx.request(blank.there, True)
        ctx.assumed.append(f"Made on {blank.there}: nothing is sawn or squared. Prove that its sizes are those of the drawing")
    else:
        _request_bar(ctx, bar, stock.buy)
    made = _turned(ctx, work) if turning else [from_the_corner(ctx, s) for s in _milled(ctx, work)]
    sawn: list[Setup] = []
    if not blank.there:
        sawn = [_sawing(ctx, bar.bar.title if bar else "the bar"), *([rip(ctx, bar)] if bar is not None and lengthwise else [])]
    setups = _gears_said(ctx, heat_placed(ctx, [*sawn, *made]))
    complete_kit(ctx, setups)
    ctx.assumed.extend(_said_of_screws(ctx, {machine.id, *(s.machine_id for s in setups if s.machine_id)}))
    return Plan(
        title=title,
        machine_id=machine.id,
        machine=machine.name,
        stock=stock,
        bar=bar,
        cut_length=Figure(
            key="cut_length",
            label="Cut length",
            value=0.0 if blank.there else ctx.bar_length,
            step=0.5,
            derivation=None if blank.there else cutting.derivation(blank, ctx.round_mm),
        ),
        setups=tuple(setups),
        kit=tuple(ctx.kit),
        material=blank.material,
        there=blank.there,
        wide_bar=can_be_ripped(bar, blank),
        blank=_blank_of(ctx, turning=turning),
        solid=work.solid,
        pieces=tuple((i * cutting.pitch(blank), 0.0, 0.0) for i in range(blank.pieces)),
        leaves=tuple(dict.fromkeys(ctx.gathered.leaves)),
        assumed=tuple(dict.fromkeys(ctx.assumed)),
        problems=tuple(dict.fromkeys(ctx.problems)),
    )


def _gears_said(ctx: Context, setups: list[Setup]) -> list[Setup]:
    """What belts and gears of a machine have to be minded for, where its spindle first turns."""
    found, said = [], set()
    for setup in setups:
        machine = next((m for m in ctx.shop.machines if m.id == (setup.machine_id or ctx.machine.id)), ctx.machine)
        told = machine.speeds_note and machine.id not in said and any(o.speed is not None for o in setup.operations)
        found.append(replace(setup, cautions=(f"{machine.name}: {machine.speeds_note}", *setup.cautions)) if told else setup)
        said |= {machine.id} if told else set()
    return found


def _request_bar(ctx: Context, bar: StockOption | None, buy: str) -> None:
    if bar is None:
        ctx.problems.append(f"{NO_BAR}. Buy {buy}")
        ctx.request(f"bar {buy}", False, "not on the rack: the first cuts wait for it")
    else:
        ctx.request(bar.bar.title, True, f"{bar.bar.rack}, cut {ctx.say(ctx.bar_length, 1)}")


def _machine(able: list[Machine], wanted: str, kind: MachineKind) -> Machine:
    """The wanted machine, else the first that can, else one that is assumed."""
    stands_in = Machine(id="", name="a lathe" if kind is MachineKind.LATHE else "a mill", kind=kind)
    return next((m for m in able if m.id == wanted), able[0] if able else stands_in)


def _reaches(machine: Machine, blank: Blank, wide: float) -> bool:
    """Whether X and Y travel over a piece and a cutter beside it; a travel that was not recorded is no hindrance."""
    sizes = (("X", blank.length_mm), ("Y", wide))
    return all(
        (wheel := machine.axes.get(axis)) is None or not wheel.travel_mm or wheel.travel_mm >= size + _BESIDE_MM
        for axis, size in sizes
    )


def _said_of_the_shop(ctx: Context, able: list[Machine], *, turning: bool) -> None:
    if not able:
        ctx.assumed.append(
            f"No {'lathe' if turning else 'milling machine'} in Shop: numbers are for a readout of 0.01 mm, speeds for any"
            " spindle"
        )
    elif not ctx.machine.axes:
        ctx.assumed.append(f"No handwheels recorded for {ctx.machine.name}: numbers as on a readout")


def _said_of_screws(ctx: Context, used: set[str]) -> list[str]:
    """What is known of the screws a plan is dialled on: allowed for, and what no allowance takes out."""
    found = []
    for m in (m for m in ctx.shop.machines if m.id in used and not m.readout_step_mm):
        allowed = ", ".join(f"{axis} ({w.error_mm_m:+.3g} mm/m)" for axis, w in sorted(m.axes.items()) if w.error_mm_m)
        if allowed:
            found.append(f"Turns on {m.name} allow for the screw as inspected: {allowed.replace('-', '−')}")
        found += [
            f"{m.name}'s {axis} runs uneven by ±{ctx.say(w.wander_mm, 3)} whatever its dial says: measure what has to be closer"
            for axis, w in sorted(m.axes.items())
            if w.wander_mm >= _UNEVEN_MM
        ]
    return found


def _upright(ctx: Context) -> Context:
    """The same run on a machine whose spindle stands: an arbor neither drills nor end-mills."""
    if not ctx.machine.horizontal:
        return ctx
    others = [m for m in milling_machines(ctx.shop) if not m.horizontal]
    if not others:
        ctx.problems.append(
            f"{ctx.machine.name} has a lying arbor and the shop no upright spindle: holes and ends wait for a vertical mill, a"
            " vertical head or a drilling machine; their numbers are for one"
        )
        return replace(ctx, machine=replace(ctx.machine, arbor_mm=0.0))
    ctx.assumed.append(f"Faces, holes and ends go to {others[0].name}: {ctx.machine.name} has a lying arbor")
    return replace(ctx, machine=others[0])


def _milled(ctx: Context, work: Work) -> list[Setup]:
    """Squared, cut along the bar, parted, faced, then piece by piece; what is done by hand last."""
    up = _upright(ctx)
    whole = not ctx.blank.there  # else its faces and ends are what they are
    ctx.gathered.sides = raw_sides(ctx)
    setups: list[Setup | None] = list(squaring(up)) if whole else []
    bench: list[Move] = []
    ring: list[RingWall] = []
    ended = False
    for step in work.steps:
        if isinstance(step, HandOperation):
            if step.first:
                setups.append(_bench(step.name, "bench_first", _by_hand(ctx, step)))
            else:
                bench.append(_by_hand(ctx, step))
            continue
        if isinstance(step, RingWall):
            ring.append(step)
            continue
        single = isinstance(step, _OF_ONE_PIECE) or (isinstance(step, Groove) and step.across)
        if single and whole and not ended:
            setups += [parting(up), *facing(up)]  # ordinates are counted from a finished end, of each piece
            ended = True
        setups += _PLANNERS[type(step)](ctx if isinstance(step, Shoulder) else up, step)
    if whole and not ended:
        setups += [parting(up), *facing(up)]
    if ring:
        setups.append(ring_walls(up, ring))
    if bench:
        setups.append(_bench("At the bench", "bench", *bench))
    return [s for s in setups if s is not None]


def _turned(ctx: Context, work: Work) -> list[Setup]:
    """Turned from the bar; flats on a mill; what is done by hand last."""
    setups = turned(ctx, [s for s in work.steps if isinstance(s, TurnedStep)])
    mills = [m for m in milling_machines(ctx.shop) if not m.horizontal]
    for step in work.steps:
        if isinstance(step, Flat):
            if not mills:
                ctx.problems.append("No upright mill in Shop: the flats wait for one")
            setups += flats(replace(ctx, machine=mills[0]) if mills else ctx, step)
        elif isinstance(step, RoundHoles):
            if not mills:
                ctx.problems.append("No upright mill in Shop: the holes across wait for one, or for a drilling machine")
            setups.append(round_holes(replace(ctx, machine=mills[0]) if mills else ctx, step))
    bench = [_by_hand(ctx, s) for s in work.steps if isinstance(s, HandOperation)]
    return [*setups, *([_bench("At the bench", "bench", *bench)] if bench else [])]


#: Work whose ordinates are counted from a finished end, of each piece; and edges that no vise holds by afterwards.
_OF_ONE_PIECE: Final = (HolePattern, BoredHole, Pocket, SlitCut, TaperedFace, BevelledEdge)
#: A screw less uneven than this is not spoken of, mm.
_UNEVEN_MM: Final = 0.01
#: Room for a cutter's run beside a piece, mm.
_BESIDE_MM: Final = 30.0
_PLANNERS: Final[dict[type, Callable[..., Sequence[Setup | None]]]] = {
    Shoulder: lambda ctx, s: [shoulders(ctx, s)],
    Chamfer: lambda ctx, s: [chamfers(ctx, s)],
    TappedHole: lambda ctx, s: [tapped_holes(ctx, s)],
    PieceHole: lambda ctx, s: [piece_holes(ctx, s)],
    HolePattern: lambda ctx, s: [hole_pattern(ctx, s)],
    Groove: lambda ctx, s: [channel(ctx, s)],
    VGroove: vees,
    BevelledEdge: lambda ctx, s: [bevelled_edge(ctx, s)],
    TaperedFace: lambda ctx, s: [tapered_face(ctx, s)],
    BoredHole: bored_hole,
    Pocket: lambda ctx, s: [pocket(ctx, s)],
    SlitCut: lambda ctx, s: [slit(ctx, s)],
}


def _blank_of(ctx: Context, *, turning: bool) -> Body | None:
    """One piece before the first cut, in the part frame."""
    if ctx.frame is None:
        return None
    b = ctx.blank
    if turning:
        end = ctx.cutting.turned_facing_mm
        # The axis of the round lies half its finished Ø under the top of its bar frame.
        a, z = (ctx.frame.part((x, 0.0, -b.round_mm / 2))[ctx.frame.along] for x in (-end, b.length_mm + end))
        if b.hex_mm:
            return Body(shape="hex", axis="xyz"[ctx.frame.along], across_flats_mm=b.hex_mm, from_mm=min(a, z), to_mm=max(a, z))
        return Body(shape="round", axis="xyz"[ctx.frame.along], diameter_mm=ctx.round_mm, from_mm=min(a, z), to_mm=max(a, z))
    over, end = raw_faces(ctx), ctx.cutting.facing_mm
    return ctx.frame.body(
        (-end, -b.width_mm / 2 - over["D"], -b.height_mm - over["C"]), (b.length_mm + end, b.width_mm / 2 + over["B"], over["A"])
    )


def _bench(title: str, id: str, *moves: Move) -> Setup:
    return Setup(id=id, title=title, holding="By hand", datum="none", operations=(Operation(title="By hand", moves=moves),))


def _sawing(ctx: Context, what: str) -> Setup:
    one_by_one = ctx.cutting.one_by_one(ctx.blank, ctx.round_mm)
    length = ctx.cutting.sawn(ctx.blank, ctx.round_mm) if one_by_one else ctx.bar_length
    pieces = f"{ctx.blank.pieces} times {ctx.say(length)}" if one_by_one else ctx.say(length)
    move = Move(
        id="saw.cut",
        words=f"Saw {pieces} off {what}, clean one end{' of each' if one_by_one else ''} square",
        caution="Support both halves; the offcut falls and is sharp.",
    )
    return Setup(
        id="saw",
        title="Saw the bar",
        holding="In the saw's vise",
        datum="one end",
        operations=(
            Operation(
                title="Saw",
                tool="bandsaw or hacksaw",
                moves=(move,),
                note=(
                    f"{ctx.blank.pieces} pieces with {ctx.say(ctx.cutting.kerf_mm)} kerfs"
                    if ctx.blank.pieces > 1
                    else "One piece"
                ),
            ),
        ),
    )


def _by_hand(ctx: Context, step: HandOperation) -> Move:
    for tool in step.tools:
        ctx.request(tool, True)
    style = UnitStyle("mm" if ctx.unit == "mm" else "in")
    proved = f" Check: {step.check}" if step.check else ""
    return Move(
        id=f"bench.{step.name.lower().replace(' ', '_')}",
        words=said_in(f"{step.name}. {step.words}{proved}", style),
        caution=said_in(step.caution, style),
    )


def card_figures(plan: Plan) -> tuple[Figure, ...]:
    """The first numbers for the dials, for the card beside the design."""
    found: list[Figure] = []
    for _, operation, move in plan.moves:
        for p in move.positions:
            if p.key and all(f.key != f"dial_{p.key}" for f in found):
                found.append(
                    Figure(
                        key=f"dial_{p.key}",
                        label=_label(p.key),
                        value=p.value_mm,
                        text="" if not p.dial.approach else p.dial.text,
                        origin=Origin.CALCULATED,
                        derivation=position_working(p),
                        note=operation.tool,
                    )
                )
    return tuple(found)


def _label(key: str) -> str:
    """ "table_half.shoulder_far" is "Table half, far shoulder, Y"."""
    part, _, name = key.rpartition(".")
    words = _LABELS.get(name, name)
    return f"{sentence(part.replace('_', ' '))}, {within(words)}" if part else words


_LABELS = {
    "shoulder_far": "Far shoulder, Y",
    "shoulder_near": "Near shoulder, Y",
    "shoulder_depth": "Depth below top, Z",
    "hole_first": "First hole, X",
    "length_dial": "Length, X from the stop",
}


def position_working(p: Position) -> Derivation:
    """A position's terms as a line of working."""
    per, places = (1.0, 3) if p.unit == "mm" else (MM_PER_INCH, 4)
    numbers = " ".join(
        f"{'+' if t.value_mm >= 0 else '−'} {format_number(abs(t.value_mm) / per, places)}" for t in p.terms
    ).removeprefix("+ ")
    return Derivation(
        " ".join(f"{'+' if t.value_mm >= 0 else '−'} {t.words}" for t in p.terms).removeprefix("+ "),
        numbers,
        "cutter centre, from the setup's datum" + (f"; {p.dial.approach}" if p.dial.approach else ""),
    )
