"""Tapped holes along the bar: one tool at all places, then the next."""

from __future__ import annotations

from functools import partial

from elbrix.design.work import PieceHole, TappedHole
from elbrix.making.context import FINDER_MM, Context
from elbrix.making.pictures import bar_front
from elbrix.making.plan import Move, Operation, Setup, Term
from elbrix.mechanics.drilling import point_mm
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import format_number
from elbrix.shop.tooling import CutterKind
from elbrix.standards.threads import find_thread

#: Depth of a drill's cone over its diameter, 118° point.


def hole_places(ctx: Context) -> list[float]:
    """Middle of each piece from the cleaned left end of the bar, mm."""
    first = ctx.cutting.facing_mm + ctx.blank.length_mm / 2
    return [first + i * ctx.cutting.pitch(ctx.blank) for i in range(ctx.blank.pieces)]


def saw_cuts(ctx: Context) -> list[float]:
    """Middle of each saw cut from the cleaned left end, mm."""
    piece = ctx.blank.length_mm + 2 * ctx.cutting.facing_mm
    return [piece * (i + 1) + ctx.cutting.kerf_mm * (i + 0.5) for i in range(ctx.blank.pieces - 1)]


def tapped_holes(ctx: Context, work: TappedHole) -> Setup:
    """Spot, drill, countersink and tap every piece while it is still one bar."""
    thread = find_thread(parse_thread(work.thread))
    drill_name, drill_mm = thread.tap_drill
    spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, tolerance=6.0)
    drill = ctx.find(CutterKind.DRILL, drill_mm)
    sink = ctx.find(CutterKind.COUNTERSINK, work.countersink_mm, tolerance=20.0)
    tap = ctx.find(CutterKind.TAP, thread.major_mm, name=thread.name)
    ctx.request("tapping oil" if ctx.stock.chips == "long" else ctx.stock.fluid, True)
    places = hole_places(ctx)
    through = ctx.height + point_mm(drill_mm) + 1.0
    deep = through if work.drill_through else work.drill_depth_mm
    depth_terms = (
        [Term("thickness", -ctx.height), Term("drill point", -point_mm(drill_mm)), Term("through", -1.0)]
        if work.drill_through
        else [Term("full diameter", -work.drill_depth_mm), Term("drill point", -point_mm(drill_mm))]
    )
    pictures = {
        "": partial(bar_front, ctx.bar_length, ctx.height, [(x, str(i + 1)) for i, x in enumerate(places)], saw_cuts(ctx))
    }

    def at(i: int, z: list[Term], what: str, id: str, caution: str = "") -> Move:
        x = ctx.at(
            "X",
            [
                Term("cleaned end to the middle of piece 1", places[0]),
                *([Term(f"{i} × {ctx.say(ctx.cutting.pitch(ctx.blank))}", places[i] - places[0])] if i else []),
            ],
            key="hole_first" if i == 0 else "",
        )
        y = ctx.at("Y", [Term("middle of the bar", 0.0)])
        pictures[f"{id}.{i + 1}"] = partial(
            bar_front,
            ctx.bar_length,
            ctx.height,
            [(p, str(n + 1)) for n, p in enumerate(places)],
            saw_cuts(ctx),
            cutter=(places[i], max(sum(t.value_mm for t in z), -ctx.height * 1.2), drill_mm),
        )
        return Move(
            id=f"{id}.{i + 1}",
            words=f"{what} hole {i + 1} of {len(places)}",
            positions=(x, y, ctx.at("Z", z)),
            lock="X and Y",
            caution=caution,
        )

    spot_deep = work.countersink_mm / 2 * 0.9
    full = work.tap_depth_mm
    tap_words = (
        f"full thread to {ctx.say(full)} below the top: stop there, {format_number((ctx.height - full) / thread.pitch_mm, 1)}"
        " turns short of through"
        if full and work.drill_through
        else f"full thread to {ctx.say(full)}; count the turns"
        if full
        else "right through"
    )
    operations = (
        Operation(
            title="Find zero",
            tool=f"edge finder Ø{FINDER_MM:g}",
            moves=(
                Move(
                    id="holes.zero",
                    words=(
                        "Touch the cleaned left end of the bar with the edge finder: X reads this number there. Y as before, zero"
                        " in the middle"
                    ),
                    positions=(ctx.at("X", [Term("half the edge finder", -FINDER_MM / 2)]),),
                    lock="Y",
                ),
            ),
        ),
        Operation(
            title="Spot",
            tool=spot.title,
            speed=ctx.speed(spot, "Z"),
            moves=tuple(at(i, [Term("spot", -spot_deep)], "Spot", "holes.spot") for i in range(len(places))),
        ),
        Operation(
            title=f"Drill {drill_name}",
            tool=drill.title,
            speed=ctx.speed(drill, "Z"),
            note=(
                f"{'Through' if work.drill_through else 'Blind'}, {ctx.say(deep)} deep by the point; lift out every"
                f" {ctx.say(drill_mm)} to clear chips"
            ),
            moves=tuple(
                at(
                    i,
                    depth_terms,
                    "Drill",
                    "holes.drill",
                    caution="It grabs as it breaks through: ease the feed." if work.drill_through else "",
                )
                for i in range(len(places))
            ),
        ),
        Operation(
            title="Countersink",
            tool=sink.title,
            speed=ctx.speed(sink, "Z"),
            note=f"Ø{ctx.say(work.countersink_mm)} mouth",
            moves=tuple(
                at(i, [Term("mouth chamfer, from the touch", -(work.countersink_mm - drill_mm) / 2)], "Countersink", "holes.sink")
                for i in range(len(places))
            ),
        ),
        Operation(
            title=f"Tap {thread.shown}",
            tool=tap.title,
            note=tap_words + ". By hand with the spindle centre as guide, half a turn back every turn",
            moves=tuple(
                Move(
                    id=f"holes.tap.{i + 1}",
                    words=f"Tap hole {i + 1}: {tap_words}",
                    positions=(ctx.at("X", [Term(f"middle of piece {i + 1}", places[i])]),),
                    lock="X, Y; spindle out of gear",
                    caution="Power off while a hand turns the spindle.",
                )
                for i in range(len(places))
            ),
        ),
    )
    return Setup(
        id="holes",
        title=work.name,
        holding="In the vise, A up, on parallels that stand clear of the holes",
        datum="X zero at the cleaned left end, + to the right; Y zero in the middle; Z zero on the top",
        operations=operations,
        pictures=pictures,
        cautions=(
            "No gloves and no rag near the turning drill.",
            (
                f"Parallels and vise bed must clear the drill, {ctx.say(deep - ctx.height if work.drill_through else 0)} below"
                " the work."
            ),
        ),
    )


def piece_holes(ctx: Context, work: PieceHole) -> Setup:
    """Spot, drill and counterbore every piece from the underside while it is still one bar."""
    spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, tolerance=6.0)
    drill = ctx.find(CutterKind.DRILL, work.drill_mm)
    bore = ctx.find(CutterKind.END_MILL, work.bore_mm, tolerance=0.6)
    ctx.request(ctx.stock.fluid, True)
    places = hole_places(ctx)
    marks, cuts = [(x, str(i + 1)) for i, x in enumerate(places)], saw_cuts(ctx)
    pictures = {"": partial(bar_front, ctx.bar_length, ctx.height, marks, cuts)}

    def at(i: int, z: list[Term], what: str, id: str, size: float, caution: str = "") -> Move:
        x = ctx.at(
            "X",
            [
                Term("cleaned end to the middle of piece 1", places[0]),
                *([Term(f"{i} × {ctx.say(ctx.cutting.pitch(ctx.blank))}", places[i] - places[0])] if i else []),
            ],
            key="hole_first" if i == 0 else "",
        )
        y = ctx.at("Y", [Term("middle of the bar", 0.0), *([Term("off the middle", work.off_mm)] if work.off_mm else [])])
        pictures[f"{id}.{i + 1}"] = partial(
            bar_front,
            ctx.bar_length,
            ctx.height,
            marks,
            cuts,
            cutter=(places[i], max(sum(t.value_mm for t in z), -ctx.height * 1.2), size),
        )
        return Move(
            id=f"{id}.{i + 1}",
            words=f"{what} hole {i + 1} of {len(places)}",
            positions=(x, y, ctx.at("Z", z)),
            lock="X and Y",
            caution=caution,
        )

    through = [Term("thickness", -work.thickness_mm), Term("drill point", -point_mm(work.drill_mm)), Term("through", -1.0)]
    numbers = range(len(places))
    operations = (
        Operation(
            title="Find zero",
            tool=f"edge finder Ø{FINDER_MM:g}",
            moves=(
                Move(
                    id="bores.zero",
                    words=(
                        "Touch the cleaned left end of the bar with the edge finder: X reads this number there. Y zero in the"
                        " middle of the bar, from both sides"
                    ),
                    positions=(ctx.at("X", [Term("half the edge finder", -FINDER_MM / 2)]),),
                    lock="Y",
                ),
            ),
        ),
        Operation(
            title="Spot",
            tool=spot.title,
            speed=ctx.speed(spot, "Z"),
            moves=tuple(at(i, [Term("spot", -0.4 * work.drill_mm)], "Spot", "bores.spot", work.drill_mm) for i in numbers),
        ),
        Operation(
            title=f"Drill Ø{format_number(work.drill_mm)}",
            tool=drill.title,
            speed=ctx.speed(drill, "Z"),
            note="Through",
            moves=tuple(
                at(i, through, "Drill", "bores.drill", work.drill_mm, "It grabs as it breaks through: ease the feed.")
                for i in numbers
            ),
        ),
        Operation(
            title=f"Counterbore Ø{format_number(work.bore_mm)}",
            tool=bore.title,
            speed=ctx.speed(bore, "Z"),
            note=f"{ctx.say(work.bore_depth_mm)} deep, quill stop",
            moves=tuple(
                at(i, [Term("sunk head", -work.bore_depth_mm)], "Counterbore", "bores.bore", work.bore_mm) for i in numbers
            ),
        ),
    )
    return Setup(
        id="bores",
        title=work.name,
        holding="In the vise upside down, C up, on parallels that stand clear of the holes",
        datum="X zero at the cleaned left end, + to the right; Y zero in the middle; Z zero on the underside (C)",
        operations=operations,
        pictures=pictures,
        cautions=("No gloves and no rag near the turning drill.",),
    )
