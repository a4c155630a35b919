"""Shoulders and broken edges: cutter centre numbers with the allowance as its own term, both sides by sign."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from elbrix.design.work import Chamfer, Shoulder
from elbrix.drawing.scene import Scene
from elbrix.making.context import FINDER_MM, FINISH_FLOOR_MM, FINISH_WALL_MM, Context
from elbrix.making.passes import passes
from elbrix.making.pictures import vise_end
from elbrix.making.plan import AskedSize, Move, Operation, Position, Setup, Term
from elbrix.making.squaring import DEBURR
from elbrix.shop.tooling import Cutter, CutterKind

#: Deepest roughing cut by rigidity, as a share of the cutter's diameter.
_DEPTH_SHARE = {"light": 0.15, "medium": 0.25, "heavy": 0.5}
_NOTHING_MM = 0.002  # less on a side is nothing to take off
_OVER = "micrometer over the neck"
_LOCKS = "quill, and Y once it is on its number"


def depth_share(ctx: Context) -> float:
    """Deepest roughing cut of this machine as a share of the cutter's diameter."""
    return _DEPTH_SHARE.get(ctx.machine.rigidity, 0.25)


def touch_off(ctx: Context, id: str = "zero") -> tuple[Move, ...]:
    """Zero in the middle of the bar across, and on its top."""
    half, finder = ctx.width / 2, FINDER_MM / 2
    return (
        Move(
            id=f"{id}.Y",
            words=(
                f"Touch the far side of the bar (B) with the Ø{FINDER_MM:g} edge finder, spindle running slowly; Y reads this"
                " number there. Zero is then in the middle of the bar"
            ),
            positions=(ctx.at("Y", [Term("half the bar", half), Term("half the edge finder", finder)]),),
            lock="X",
        ),
        Move(
            id=f"{id}.Z",
            words="Bring the cutter down on a 0.05 mm feeler on the top: Z reads +0.05 there, zero is the top",
            positions=(ctx.at("Z", [Term("feeler", 0.05)]),),
            lock="quill: use the knee, or the same quill setting throughout",
        ),
    )


def shoulders(ctx: Context, work: Shoulder) -> Setup:
    """Both shoulders from the middle, by end mill or by the horizontal machine's side and face cutter."""
    return _horizontal(ctx, work) if ctx.machine.horizontal else _vertical(ctx, work)


def _vertical(ctx: Context, work: Shoulder) -> Setup:
    ledge = max(ctx.width / 2 - _wall(work, sign) for sign in (1.0, -1.0))
    mill = _end_mill(ctx, ledge, work.depth_mm)
    d = ctx.measured.get("cutter_diameter", mill.diameter_mm)
    cutter_words = "half the cutter" + (" as measured" if "cutter_diameter" in ctx.measured else "")
    most = max(0.3, mill.diameter_mm * depth_share(ctx))
    floor = passes(work.depth_mm, most, FINISH_FLOOR_MM, ctx.options.passes, finish_cuts=1)
    wall = passes(FINISH_WALL_MM, FINISH_WALL_MM, FINISH_WALL_MM, ctx.options.passes, spring=ctx.options.spring_pass)
    operations: list[Operation] = []
    pictures: dict[str, Callable[[], Scene]] = {}
    for side, sign, name in (("far", 1.0, "+"), ("near", -1.0, "−")):
        half_neck = _wall(work, sign)
        if ctx.width / 2 - half_neck < _NOTHING_MM:
            continue  # it stands out to that side of the bar
        if sign < 0 and (first := _key(work, "first_shoulder")) in ctx.measured:
            # The first shoulder came out where it came out; the second makes the neck right.
            half_neck = work.width_mm - (ctx.measured[first] - ctx.width / 2)
        base = [Term("half the bar", ctx.width / 2), Term("the shoulder", half_neck - ctx.width / 2), Term(cutter_words, d / 2)]
        signed = [Term(t.words, sign * t.value_mm) for t in base]
        moves = []
        for n, p in enumerate(q for q in floor if not q.finish):
            y = ctx.at("Y", [*signed, Term("left for finishing", sign * FINISH_WALL_MM)])
            z = ctx.at("Z", [Term("depth so far", -p.to_mm)])
            moves.append(_cut(ctx, f"{work.id}.{side}.rough{n + 1}", f"Rough the {side} shoulder, pass {n + 1}", y, z, False))
        for n, p in enumerate(wall):
            left = FINISH_WALL_MM - p.to_mm
            terms = [*signed, Term("left for the next pass", sign * left)] if left > 1e-9 else signed
            y = ctx.at("Y", terms, key=_key(work, f"shoulder_{side}") if left <= 1e-9 else "")
            z = ctx.at("Z", [Term("depth of the shoulder", -work.depth_mm)], key=_key(work, "shoulder_depth"))
            words = "spring pass, same numbers" if p.cut_mm == 0 else f"finish {n + 1}, {ctx.say(p.cut_mm)} off the wall"
            asked = None
            if n == len(wall) - 1:
                asked = (
                    _asked_first(ctx, work, half_neck)
                    if sign > 0
                    else AskedSize(key=_key(work, "neck"), words=_OVER, expected_mm=work.width_mm, allowed_mm=0.05)
                )
            moves.append(
                _cut(ctx, f"{work.id}.{side}.finish{n + 1}", f"{side.capitalize()} shoulder, {words}", y, z, True, asked)
            )
        for move in moves:
            y_at = next(p.value_mm for p in move.positions if p.axis == "Y")
            z_at = next(p.value_mm for p in move.positions if p.axis == "Z")
            pictures[move.id] = partial(
                vise_end,
                ctx.width,
                ctx.height,
                letters=("B", "A", "D"),
                profile=_profile(ctx, work, sign, y_at, z_at, d),
                cutter=(-y_at, z_at, d),
                out_of_jaws=work.depth_mm + 2,
            )
        operations.append(
            Operation(
                title=f"{side.capitalize()} shoulder ({name}Y)",
                tool=mill.title,
                speed=ctx.speed(mill),
                moves=tuple(moves),
                note=f"Cutter centre; {ctx.say(ledge)} ledge, {ctx.say(work.depth_mm)} deep",
            )
        )
    start = Operation(title="Find zero", tool=f"edge finder Ø{FINDER_MM:g}", moves=touch_off(ctx))
    ctx.request(f"edge finder Ø{FINDER_MM:g}", True)
    if mill.edge_length_mm and mill.edge_length_mm < work.depth_mm:
        ctx.problems.append(
            f"The {mill.title} cuts only {ctx.say(mill.edge_length_mm)} deep; the shoulder is {ctx.say(work.depth_mm)}: its shank"
            " would rub"
        )
    return _setup(
        ctx,
        work,
        (start, *operations),
        pictures,
        "In the vise, A up, B to the fixed jaw, on parallels; the jaws below the shoulder by 2 mm or more",
    )


def _wall(work: Shoulder, sign: float) -> float:
    """From the middle of the bar to the wall that is left on one side."""
    return work.width_mm / 2 + sign * work.off_mm


def _key(work: Shoulder, name: str) -> str:
    """Of a number or a measured size; those of a second shoulder are its own."""
    return name if work.id == "shoulder" else f"{work.id}.{name}"


def _asked_first(ctx: Context, work: Shoulder, half_neck: float) -> AskedSize:
    return AskedSize(
        key=_key(work, "first_shoulder"),
        words="over the bar, from side D to the new shoulder",
        expected_mm=ctx.width / 2 + half_neck,
        allowed_mm=0.05,
    )


def _cut(ctx: Context, id: str, words: str, y: Position, z: Position, finish: bool, asked: AskedSize | None = None) -> Move:
    slack = next((w.backlash_mm for a, w in ctx.machine.axes.items() if a == "X"), 0.0)
    direction = ctx.direction(finish)
    caution = (
        f"X has {ctx.say(slack)} slack: climb cutting would drag the table"
        if slack >= 0.1 and direction.startswith("climb")
        else ""
    )
    return Move(id=id, words=words, positions=(y, z), lock=_LOCKS, direction=direction, asked=asked, caution=caution)


def _profile(ctx: Context, work: Shoulder, sign: float, y_at: float, z_at: float, d: float) -> tuple[tuple[float, float], ...]:
    """The work from the end after this cut; picture x is −Y, the fixed jaw (far side) on the left."""
    half, wall = ctx.width / 2, max(0.0, abs(y_at) - d / 2)
    cut_far = half - _wall(work, 1.0) >= _NOTHING_MM
    far = (wall, -z_at) if sign > 0 else (_wall(work, 1.0), work.depth_mm) if cut_far else (half, 0.0)
    near = (half, 0.0) if sign > 0 else (wall, -z_at)
    points = [(-half, -ctx.height), (half, -ctx.height)]
    points += [(half, -near[1]), (near[0], -near[1]), (near[0], 0.0)] if near[1] else [(half, 0.0)]
    points += [(-far[0], 0.0), (-far[0], -far[1]), (-half, -far[1])] if far[1] else [(-half, 0.0)]
    return tuple(points)


def _horizontal(ctx: Context, work: Shoulder) -> Setup:
    cutters = [c for c in ctx.shop.cutters_of(CutterKind.SIDE_AND_FACE) if c.width_mm > 0]
    cutter = cutters[0] if cutters else Cutter(id="missing", kind=CutterKind.SIDE_AND_FACE, diameter_mm=80, width_mm=10, teeth=16)
    if not cutters:
        ctx.request(cutter.title, False, "not in the shop: only its own steps wait for it")
    else:
        ctx.need_cutter(cutter)
    reach = (cutter.diameter_mm - ctx.machine.collar_mm) / 2 - 1.0
    if reach < work.depth_mm:
        ctx.problems.append(
            f"The {cutter.title} over Ø{ctx.say(ctx.machine.collar_mm)} collars reaches {ctx.say(reach)} deep, the shoulder is"
            f" {ctx.say(work.depth_mm)}: a larger cutter or smaller collars"
        )
    width = ctx.measured.get("cutter_width", cutter.width_mm)
    operations: list[Operation] = []
    pictures: dict[str, Callable[[], Scene]] = {}
    for side, sign, name in (("far", 1.0, "+"), ("near", -1.0, "−")):
        if ctx.width / 2 - _wall(work, sign) < _NOTHING_MM:
            continue
        y = ctx.at(
            "Y",
            [
                Term("half the neck" if not work.off_mm else "middle of the bar to the wall", sign * _wall(work, sign)),
                Term("half the cutter's width", sign * width / 2),
            ],
            key=_key(work, f"shoulder_{side}"),
        )
        rough = ctx.at("Z", [Term("depth of the shoulder", -work.depth_mm), Term("left for finishing", FINISH_FLOOR_MM)])
        z = ctx.at("Z", [Term("depth of the shoulder", -work.depth_mm)], key=_key(work, "shoulder_depth"))
        asked = (
            _asked_first(ctx, work, _wall(work, sign))
            if sign > 0
            else AskedSize(key=_key(work, "neck"), words=_OVER, expected_mm=work.width_mm)
        )
        moves = (
            _cut(
                ctx,
                f"{work.id}.{side}.rough1",
                f"{side.capitalize()} shoulder, down to {ctx.say(FINISH_FLOOR_MM)} above depth",
                y,
                rough,
                False,
            ),
            _cut(ctx, f"{work.id}.{side}.finish1", f"{side.capitalize()} shoulder, last pass to depth", y, z, True, asked),
        )
        for move, at in zip(moves, (rough.value_mm, z.value_mm), strict=True):
            pictures[move.id] = partial(
                vise_end,
                ctx.width,
                ctx.height,
                letters=("B", "A", "D"),
                profile=_profile(ctx, work, sign, y.value_mm, at, width),
                cutter=(-y.value_mm, at, width),
                out_of_jaws=work.depth_mm + 2,
            )
        operations.append(
            Operation(
                title=f"{side.capitalize()} shoulder ({name}Y)",
                tool=cutter.title,
                speed=ctx.speed(cutter),
                moves=moves,
                note=f"Middle of the cutter's width; deepest reach {ctx.say(reach)}",
            )
        )
    start = Operation(
        title="Find zero",
        tool="feeler",
        moves=(
            Move(
                id="zero.Y",
                words="Touch the far side of the bar with the side of the cutter on a 0.05 mm feeler; Y reads this number there",
                positions=(
                    ctx.at(
                        "Y",
                        [Term("half the bar", ctx.width / 2), Term("half the cutter's width", width / 2), Term("feeler", 0.05)],
                    ),
                ),
                lock="X",
            ),
            Move(
                id="zero.Z",
                words="Raise the knee until the cutter takes the feeler on the top: Z reads +0.05",
                positions=(ctx.at("Z", [Term("feeler", 0.05)]),),
                lock="knee after each setting",
            ),
        ),
    )
    return _setup(
        ctx,
        work,
        (start, *operations),
        pictures,
        "In the vise, A up, B to the fixed jaw; the arbor across the table, support in place",
    )


def _setup(
    ctx: Context, work: Shoulder, operations: tuple[Operation, ...], pictures: dict[str, Callable[[], Scene]], holding: str
) -> Setup:
    last = Operation(title="Deburr", tool="file", moves=(Move(id=f"{work.id}.deburr", words=DEBURR),))
    resting = partial(vise_end, ctx.width, ctx.height, letters=("B", "A", "D"), out_of_jaws=work.depth_mm + 2)
    return Setup(
        id="shoulders" if work.id == "shoulder" else work.id,
        title=work.name,
        holding=holding,
        datum="Y zero in the middle of the bar, + away from you; Z zero on the top (A)",
        operations=(*operations, last),
        pictures=pictures | {"": resting},
        cautions=(
            "Both ends of a long bar stick out: nothing may stand where they pass.",
            "Spindle stopped before you measure or brush.",
        ),
    )


def _end_mill(ctx: Context, ledge: float, deep: float) -> Cutter:
    """The chosen one, else the thinnest that covers the ledge in one width and is long enough, else the thickest."""
    mills = ctx.shop.cutters_of(CutterKind.END_MILL)
    for cutter in mills:
        if cutter.id == ctx.options.cutter:
            ctx.need_cutter(cutter)
            return cutter
    good = [c for c in mills if c.diameter_mm >= 1.5 * ledge and (not c.edge_length_mm or c.edge_length_mm >= deep)]
    if good or mills:
        chosen = min(good, key=lambda c: c.diameter_mm) if good else mills[0]
        ctx.need_cutter(chosen)
        return chosen
    return ctx.find(CutterKind.END_MILL, 12.0)


def chamfers(ctx: Context, work: Chamfer) -> Setup | None:
    """Broken lower edges: the bar turned over, a countersink or chamfer cutter along both edges."""
    if work.leg_mm <= 0:
        return None
    cutters = ctx.shop.cutters_of(CutterKind.COUNTERSINK)
    cutter = cutters[0] if cutters else ctx.find(CutterKind.COUNTERSINK, 16.0)
    if cutters:
        ctx.need_cutter(cutter)
    moves, pictures = [], {}
    for side, sign in (("far", 1.0), ("near", -1.0)):
        run = 2.0  # the point of a 90° cutter is dull: cut a little up its flank
        y = ctx.at(
            "Y",
            [
                Term("half the bar", sign * ctx.width / 2),
                Term("the chamfer", -sign * work.leg_mm),
                Term("up the cutter's 45° flank", sign * run),
            ],
        )
        z = ctx.at("Z", [Term("up the flank, below the edge", -run)])
        id = f"chamfer.{side}"
        moves.append(
            Move(
                id=id,
                words=f"Run along the {side} edge: {ctx.say(work.leg_mm)} × 45°",
                positions=(y, z),
                lock=_LOCKS,
                direction=ctx.direction(True),
            )
        )
        pictures[id] = partial(
            vise_end,
            ctx.width,
            ctx.height,
            letters=("D", "C", "B"),
            out_of_jaws=ctx.height * 0.3,
            cutter=(-y.value_mm, z.value_mm, 3.0),
        )
    return Setup(
        id="chamfers",
        title=work.name,
        holding="In the vise upside down, C up: jaws on the head's sides, parallels clear of the neck",
        datum="Y zero in the middle of the bar, Z zero on the underside (C), touched with the point of the cutter",
        operations=(
            Operation(
                title="Deburr edges",
                tool=cutter.title,
                speed=ctx.speed(cutter),
                moves=tuple(moves),
                note="Or with a file: they only have to miss the corner fillets of the slot",
            ),
        ),
        pictures=pictures | {"": partial(vise_end, ctx.width, ctx.height, letters=("D", "C", "B"), out_of_jaws=ctx.height * 0.3)},
        cautions=("The edge is sharp until it is broken.",),
    )
