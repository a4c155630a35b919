"""Bored on the lathe's faceplate where no boring head is owned: the hole's middle on the spindle's axis, the work turns."""

from __future__ import annotations

import math
from typing import Final

from msgspec.structs import replace

from elbrix.design.work import BoredHole
from elbrix.making.context import BORING_BAR, Context, asked, in_bore
from elbrix.making.cross_slide import across, sized_across
from elbrix.making.passes import passes
from elbrix.making.plan import Move, Operation, Setup, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.strokes import Stroke, Tool
from elbrix.making.turned_details import BEFORE_MM
from elbrix.making.wander import roughing, said, wander_asked
from elbrix.mechanics.balance import speed_to_balance
from elbrix.mechanics.drilling import point_mm
from elbrix.quantities.sentences import within
from elbrix.results.figures import format_number
from elbrix.shop.machines import MachineKind
from elbrix.shop.tooling import Cutter, CutterKind, HolderKind

#: Through a plate that stands off the faceplate on parallels, mm.
_THROUGH_MM: Final = 1.0
#: Left for equal finishing cuts, and the roughing cut by rigidity, on the diameter, mm.
_FINISH_MM: Final = 0.6
_ROUGH: Final = {"light": 0.6, "medium": 1.5, "heavy": 3.0}
_CENTRED_MM: Final = 0.02
#: Nearer to the axis than this it is taken to be in balance, mm.
_OFF_MM: Final = 0.5


def wanted(ctx: Context, work: BoredHole) -> bool:
    """Whether the shop lists its holders and no boring head among them, and has a lathe; jaws in place stay on the mill."""
    heads = [h for h in ctx.shop.holders if h.kind is HolderKind.BORING_HEAD]
    lathe = any(m.kind is MachineKind.LATHE for m in ctx.shop.machines)
    return bool(ctx.shop.holders) and not heads and lathe and work.gap_mm is None


def faceplate_bore(mill: Context, work: BoredHole) -> Setup:
    """Set true, drilled, bored in equal cuts."""
    lathe = next(m for m in mill.shop.machines if m.kind is MachineKind.LATHE)
    ctx = replace(mill, machine=lathe)
    ctx.request("faceplate, clamps, thin parallels, counterweight", True)
    ctx.assumed.append(
        f"No boring head in Shop: {within(work.name)} goes on the faceplate of {lathe.name}, if it swings over the bed"
    )
    thick = work.thickness_mm or ctx.blank.height_mm
    through = not work.depth_mm
    floor = [Term("depth", -work.depth_mm)] if not through else [Term("thickness", -thick), Term("through", -_THROUGH_MM)]
    drill = _drill(ctx, work.size_mm)
    cone = point_mm(drill.diameter_mm)
    short = max(0.0, work.depth_mm - 0.5)
    deep = [*floor, Term("drill point", -cone)] if through else [Term("depth, its point above the floor", -short)]
    operations, most_rpm = [_set_true(ctx, work)], _balanced_rpm(ctx, work)
    drilled = 0.0
    if through or short > cone + 0.5:
        z = ctx.at("Z", deep)
        drilled = drill.diameter_mm
        move = Move(
            id=f"{work.id}.drill",
            words="Centre, then drill; lift out often",
            positions=(z,),
            strokes=(Stroke(((0.0, 0.0, BEFORE_MM), (0.0, 0.0, z.value_mm))),),
            lock="tailstock",
            feature=work.feature,
            asked=wander_asked(work.id, "it stands on the bed, the work turns"),
        )
        shape = Tool(kind="drill", diameter_mm=drilled, point_deg=118.0, on="lathe", holder="tailstock chuck")
        operations.append(
            Operation(
                title=f"Drill {drill.title.removeprefix('drill ')}",
                tool=drill.title,
                cutter=shape,
                speed=ctx.speed(drill, "Z", most_rpm=most_rpm),
                moves=(move,),
            )
        )
    operations.append(_bored(ctx, work, drilled, floor, most_rpm))
    return ctx.setup(
        work.id,
        work.name,
        Lie(up="A", away="B", zero=(work.x_mm, work.y_mm, 0.0)),
        operations,
        holding="clamped on the lathe's faceplate on thin parallels that stay clear of the bore, the hole's middle on the axis",
        datum=f"Z zero on A, − toward the faceplate; the cross-slide reads the {lathe.dial_reads}",
        zeroes=(Zero(axis="Z", touches="A", tool="the boring bar", reads_mm=0.0),),
        fixture="faceplate",
        stands="is turned in the lathe",
        each=True,
        cautions=_cautions(ctx, work),
    )


def _cautions(ctx: Context, work: BoredHole) -> tuple[str, ...]:
    mass, off = _hangs(ctx, work)
    turn = "Turn it round by hand before the spindle turns: work, clamps and weight clear of bed and saddle. Lowest speed first."
    fast = _balanced_rpm(ctx, work)
    if not math.isfinite(fast):
        return (turn,)
    return (
        turn,
        (
            f"{format_number(mass, 1)} kg hang {ctx.say(off, 1)} off the axis: a counterweight opposite, or no faster than"
            f" {fast:.0f} rpm."
        ),
    )


def _set_true(ctx: Context, work: BoredHole) -> Operation:
    marked = Move(
        id=f"{work.id}.centre",
        words=(
            f"Its middle marked out and punched, {ctx.say(work.x_mm)} from the low end and {ctx.say(work.y_mm)} from the middle"
            " of the width. A long pointer from the tailstock's centre in the punch mark; tap the work till it does not swing"
        ),
        asked=asked(f"{work.id}.true", "half of what the indicator on the pointer swings", 0.0, _CENTRED_MM, drawn=False),
        feature=work.feature,
    )
    zero = Move(
        id=f"{work.id}.face",
        words="Touch A with the boring bar: Z zero",
        positions=(ctx.at("Z", []),),
        zeroes="Z",
        lock="carriage",
    )
    return Operation(title="Set true", tool="indicator", moves=(marked, zero))


def _drill(ctx: Context, size_mm: float) -> Cutter:
    fitting = [c for c in ctx.shop.cutters_of(CutterKind.DRILL) if c.diameter_mm <= size_mm - 1.0]
    if fitting:
        ctx.need_cutter(fitting[0])
        return fitting[0]
    return ctx.find(CutterKind.DRILL, max(1.0, round(size_mm - 2.0, 1)))


def _balanced_rpm(ctx: Context, work: BoredHole) -> float:
    """The speed from which it shakes the lathe without a counterweight; endless where it hangs about its own middle."""
    mass, off = _hangs(ctx, work)
    return speed_to_balance(mass, off) if off >= _OFF_MM and mass else math.inf


def _hangs(ctx: Context, work: BoredHole) -> tuple[float, float]:
    """(kg, mm off the axis) of the blank; what is bored out of it makes it lighter."""
    b = ctx.blank
    mass = b.length_mm * b.width_mm * (work.thickness_mm or b.height_mm) * ctx.stock.density_kg_m3 * 1e-9
    return mass, math.hypot(work.x_mm - b.length_mm / 2, work.y_mm)


def _bored(ctx: Context, work: BoredHole, drilled: float, floor: list[Term], most_rpm: float) -> Operation:
    gap = work.size_mm - drilled
    rough = roughing(ctx, work.id, _ROUGH.get(ctx.machine.rigidity, 1.0))
    finish = min(_FINISH_MM, gap)
    cuts = passes(gap, rough, finish, ctx.options.passes, finish_cuts=ctx.finish_cuts(BORING_BAR, finish))
    z = ctx.at("Z", floor)
    moves = []
    for n, p in enumerate(cuts, 1):
        left, last = gap - p.to_mm, n == len(cuts)
        size = work.size_mm - left
        terms = [
            Term(work.name.lower(), work.size_mm),
            *([Term("left for the next cut", -left)] if left > 1e-9 else []),
            *ctx.came_out([(f"{work.id}.size{k}", drilled + c.to_mm) for k, c in enumerate(cuts[: n - 1], 1)]),
        ]
        moves.append(
            Move(
                id=f"{work.id}.cut{n}",
                words=f"Bore to Ø{ctx.say(size, 3 if last else 2)}" + (", equal finishing cut" if p.finish else ""),
                positions=(across(ctx, terms), z),
                strokes=(Stroke(((size / 2, 0.0, BEFORE_MM), (size / 2, 0.0, z.value_mm))),),
                lock="compound slide",
                feature=work.feature,
                asked=asked(
                    f"{work.id}.size" if last else f"{work.id}.size{n}",
                    in_bore(size),
                    size,
                    work.allowed_mm if last else 0.1,
                    sized_across(ctx, inside=True),
                    drawn=last,
                )
                if p.finish
                else None,
            )
        )
    note = said(ctx, work.id, work.name, drilled, work.size_mm) if drilled else ""
    shape = Tool(kind="boring", axis="z", on="lathe", holder="tool post")
    bore = Cutter(id=BORING_BAR, kind=CutterKind.END_MILL, diameter_mm=work.size_mm, teeth=1)
    return Operation(
        title=f"Bore Ø{ctx.size(work.size_mm)}",
        tool=BORING_BAR,
        cutter=shape,
        speed=ctx.speed(bore, "Z", most_rpm=most_rpm, takes_mm2=math.pi * work.size_mm * max(p.cut_mm for p in cuts) / 2),
        moves=tuple(moves),
        note=note,
    )
