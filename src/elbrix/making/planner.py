"""Puts a plan together: stock, setups in order, kit, figures for the card."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import Final

from elbrix.design.work import (
    BoredHole,
    Chamfer,
    Groove,
    HandOperation,
    HolePattern,
    PieceHole,
    Pocket,
    Shoulder,
    TappedHole,
    TurnedBore,
    TurnedPart,
    VGroove,
    Work,
)
from elbrix.making.context import Context
from elbrix.making.grooves import bored_hole, channel, pocket, vee
from elbrix.making.holes import piece_holes, tapped_holes
from elbrix.making.milling import chamfers, shoulders
from elbrix.making.options import Options
from elbrix.making.parting import facing, parting
from elbrix.making.pattern import hole_pattern
from elbrix.making.pictures import bar_front
from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.making.squaring import squaring
from elbrix.making.stock_choice import BarCutting, choose_stock
from elbrix.making.turning import turned
from elbrix.quantities.lengths import MM_PER_INCH, round_up
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

MILLS = (MachineKind.KNEE, MachineKind.BED, MachineKind.BENCH, MachineKind.HORIZONTAL)


def milling_machines(shop: Shop) -> list[Machine]:
    """Machines a milling plan can run on."""
    return [m for m in shop.machines if m.kind in MILLS]


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
    round_part = work.blank.round_mm > 0
    mills = [m for m in shop.machines if m.kind is MachineKind.LATHE] if round_part else milling_machines(shop)
    wanted = options.machine or home
    machine = next(
        (m for m in mills if m.id == wanted),
        (
            mills[0]
            if mills
            else Machine(
                id="", name="a lathe" if round_part else "a mill", kind=MachineKind.LATHE if round_part else MachineKind.KNEE
            )
        ),
    )
    cutting = BarCutting()
    stock = choose_stock(work.blank, shop.bars, cutting)
    bar = next((o for o in stock.fitting if o.bar.id == options.bar), stock.best)
    ctx = Context(
        shop=shop,
        machine=machine,
        blank=work.blank,
        options=options,
        measured=measured or {},
        cutting=cutting,
        bar=bar,
        unit=unit,
    )
    if not mills:
        ctx.assumed.append(
            f"No {'lathe' if round_part else 'milling machine'} in Shop: numbers are for a readout of 0.01 mm, speeds for any"
            " spindle"
        )
    elif not machine.axes:
        ctx.assumed.append(f"No handwheels recorded for {machine.name}: numbers as on a readout")
    if bar is None:
        ctx.problems.append(f"No bar on the rack does. Buy {stock.buy}")
    ctx.request(
        bar.bar.title if bar else f"bar {stock.buy}",
        bar is not None,
        f"{bar.bar.rack}, cut {cutting.length(work.blank):.0f} mm" if bar else "not on the rack: the first cuts wait for it",
    )
    setups: list[Setup | None] = [_sawing(ctx), None if round_part else squaring(ctx)]
    bench: list[Move] = []
    ended = False
    for step in work.steps:
        if isinstance(step, Shoulder):
            setups.append(shoulders(ctx, step))
        elif isinstance(step, TappedHole):
            setups.append(tapped_holes(ctx, step))
        elif isinstance(step, PieceHole):
            setups.append(piece_holes(ctx, step))
        elif isinstance(step, HolePattern | BoredHole | Pocket) or (isinstance(step, Groove) and step.across):
            if not ended and not round_part:
                setups += [parting(ctx), facing(ctx)]  # ordinates are counted from a finished end, of each piece
                ended = True
            setups.append(hole_pattern(ctx, step) if isinstance(step, HolePattern) else _CUT[type(step)](ctx, step))
        elif isinstance(step, Groove | VGroove):
            setups.append(_CUT[type(step)](ctx, step))
        elif isinstance(step, TurnedPart | TurnedBore):
            pass  # planned together, below
        elif isinstance(step, Chamfer):
            setups.append(chamfers(ctx, step))
        elif step.first:
            setups.append(_bench(step.name, "bench_first", _by_hand(ctx, step)))
        else:
            bench.append(_by_hand(ctx, step))
    if round_part:
        setups[1] = None
        setups[2:2] = turned(ctx, [s for s in work.steps if isinstance(s, TurnedPart | TurnedBore)])
    elif not ended:
        setups += [parting(ctx), facing(ctx)]
    if bench:
        setups.append(_bench("At the bench", "bench", *bench))
    return Plan(
        title=title,
        machine_id=machine.id,
        machine=machine.name,
        stock=stock,
        bar=bar,
        cut_length=Figure(
            key="cut_length",
            label="Cut length",
            value=cutting.length(work.blank),
            step=0.5,
            derivation=cutting.derivation(work.blank),
        ),
        setups=tuple(s for s in setups if s is not None),
        kit=tuple(ctx.kit),
        assumed=tuple(dict.fromkeys(ctx.assumed)),
        problems=tuple(dict.fromkeys(ctx.problems)),
    )


_CUT: Final[dict[type, Callable[..., Setup]]] = {Groove: channel, VGroove: vee, BoredHole: bored_hole, Pocket: pocket}


def _bench(title: str, id: str, *moves: Move) -> Setup:
    return Setup(id=id, title=title, holding="By hand", datum="none", operations=(Operation(title="By hand", moves=moves),))


def _sawing(ctx: Context) -> Setup:
    length = round_up(ctx.cutting.length(ctx.blank), 0.5)
    what = ctx.bar.bar.title if ctx.bar else "the bar"
    move = Move(
        id="saw.cut",
        words=f"Saw {ctx.say(length)} off {what}, clean one end square",
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
        pictures={"": partial(bar_front, length, ctx.bar.height_mm if ctx.bar else ctx.blank.height_mm, [], [length])},
    )


def _by_hand(ctx: Context, step: HandOperation) -> Move:
    for tool in step.tools:
        ctx.request(tool, True)
    return Move(id=f"bench.{step.name.lower().replace(' ', '_')}", words=f"{step.name}. {step.words}", caution=step.caution)


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
    return f"{part.replace('_', ' ').capitalize()}, {words[:1].lower()}{words[1:]}" if part else words


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
