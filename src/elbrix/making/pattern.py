"""A hole pattern in a plate: every place from one datum, one tool at all places, then the next."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from elbrix.design.work import HolePattern, PatternHole
from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box
from elbrix.making.context import FINDER_MM, Context
from elbrix.making.plan import Move, Operation, Position, Setup, Term
from elbrix.mechanics.drilling import point_mm
from elbrix.quantities.names import parse_thread
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.threads import find_thread

#: Names on the plate and in the words of a move.
Named = tuple[str, PatternHole]


def hole_pattern(ctx: Context, work: HolePattern) -> Setup:
    """Spot all, drill by size and depth, counterbore, ream, tap; X from the finished low end, Y from the middle."""
    named = [(str(i), h) for i, h in enumerate(work.holes, 1)]
    pictures: dict[str, Callable[[], Scene]] = {"": partial(plate_from_above, ctx.blank.length_mm, ctx.width, tuple(named), "")}
    spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, tolerance=6.0)
    operations = [
        Operation(
            title="Find zero",
            tool=f"edge finder Ø{FINDER_MM:g}",
            moves=(
                Move(
                    id=f"{work.id}.zero_x",
                    words="Touch the finished low end with the edge finder: X reads this number there",
                    positions=(ctx.at("X", [Term("half the edge finder", -FINDER_MM / 2)]),),
                    lock="Y",
                ),
                Move(
                    id=f"{work.id}.zero_y",
                    words="Touch the far side: Y reads this number there. Zero is then in the middle of the width",
                    positions=(
                        ctx.at("Y", [Term("half the width", ctx.width / 2), Term("half the edge finder", FINDER_MM / 2)]),
                    ),
                    lock="X",
                ),
            ),
        ),
        _round(ctx, "Spot", spot, named, pictures, f"{work.id}.spot", [Term("spot", -2.0)]),
    ]

    def add(title: str, cutter: Cutter, holes: list[Named], id: str, z: list[Term], caution: str = "") -> None:
        operations.append(_round(ctx, title, cutter, holes, pictures, f"{work.id}.{id}", z, caution))

    breaks = "It grabs as it breaks through: ease the feed."
    for (drill_mm, deep), holes in _by(named, lambda h: (_drill(h), h.depth_mm)):
        cone = Term("drill point", -point_mm(drill_mm))
        z = [Term("full diameter", -deep), cone] if deep else [Term("thickness", -work.thickness_mm), cone, Term("through", -1.0)]
        tail = f" × {ctx.say(deep)}" if deep else ""
        add(
            f"Drill Ø{ctx.say(drill_mm)}{tail}",
            ctx.find(CutterKind.DRILL, drill_mm),
            holes,
            f"drill{drill_mm:g}" + (f"x{deep:g}" if deep else ""),
            z,
            "" if deep else breaks,
        )
    for (bore_mm, deep), holes in _by([n for n in named if n[1].bore_mm], lambda h: (h.bore_mm, h.bore_depth_mm)):
        mill = ctx.find(CutterKind.END_MILL, bore_mm, tolerance=1.0)
        add(f"Counterbore Ø{ctx.say(bore_mm)}", mill, holes, f"bore{bore_mm:g}", [Term("counterbore, from the touch", -deep)])
    for (ream_mm, deep), holes in _by([n for n in named if n[1].ream_mm], lambda h: (h.ream_mm, h.depth_mm)):
        reamer = ctx.find(CutterKind.REAMER, ream_mm, tolerance=0.012)
        z = [Term("depth", -deep)] if deep else [Term("thickness", -work.thickness_mm), Term("through, past the lead", -2.0)]
        add(f"Ream Ø{ctx.say(ream_mm)}", reamer, holes, f"ream{ream_mm:g}", z, "Never turn a reamer backwards.")
    for (thread_name, deep), holes in _by([n for n in named if n[1].thread], lambda h: (h.thread, h.thread_depth_mm)):
        thread = find_thread(parse_thread(str(thread_name)))
        tap = ctx.find(CutterKind.TAP, thread.major_mm, name=thread.name)
        how = f"full thread to {ctx.say(deep)}; count the turns" if deep else "right through"
        operations.append(
            Operation(
                title=f"Tap {thread.shown}",
                tool=tap.title,
                note="By hand with the spindle centre as guide, half a turn back every turn",
                moves=tuple(
                    Move(
                        id=f"{work.id}.tap.{name}",
                        words=f"Tap hole {name} {how}",
                        positions=_at(ctx, h),
                        lock="X, Y; spindle out of gear",
                        caution="Power off while a hand turns the spindle.",
                    )
                    for name, h in holes
                ),
            )
        )
    face = "the underside" if work.below else "the top"
    turned = "Turned over about its long axis, underside up; " if work.below else ""
    return Setup(
        id=work.id,
        title=work.name + (f", each of {ctx.blank.pieces}" if ctx.blank.pieces > 1 and not work.together else ""),
        holding=turned + (work.held or "in the vise or on parallels under straps, clear of every hole"),
        datum=(
            f"X zero at the finished low end, + toward the high end; Y zero in the middle of the width, + away; Z zero on {face}"
        ),
        operations=tuple(operations),
        pictures=pictures,
        cautions=("No gloves and no rag near the turning drill.", "Every ordinate from the one datum: never from hole to hole."),
    )


def _drill(hole: PatternHole) -> float:
    return hole.drill_mm or find_thread(parse_thread(hole.thread)).tap_drill[1]


def _by(named: list[Named], key: Callable[[PatternHole], Any]) -> list[tuple[Any, list[Named]]]:
    """Holes in groups of one size, in order of first use."""
    groups: dict[Any, list[Named]] = {}
    for n in named:
        groups.setdefault(key(n[1]), []).append(n)
    return list(groups.items())


def _at(ctx: Context, hole: PatternHole) -> tuple[Position, Position]:
    return (
        ctx.at("X", [Term("ordinate from the low end", hole.x_mm)]),
        ctx.at("Y", [Term("ordinate from the middle", hole.y_mm)]),
    )


def _round(
    ctx: Context,
    title: str,
    cutter: Cutter,
    holes: Iterable[Named],
    pictures: dict[str, Callable[[], Scene]],
    id: str,
    z: list[Term],
    caution: str = "",
) -> Operation:
    """One tool at all its places."""
    listed = tuple(holes)
    moves = []
    for name, hole in listed:
        moves.append(
            Move(
                id=f"{id}.{name}",
                words=f"{title.split()[0]} hole {name}",
                positions=(*_at(ctx, hole), ctx.at("Z", z)),
                lock="X and Y",
                caution=caution,
            )
        )
        pictures[f"{id}.{name}"] = partial(plate_from_above, ctx.blank.length_mm, ctx.width, listed, name)
    return Operation(
        title=title, tool=cutter.title, speed=ctx.speed(cutter, "Z"), moves=tuple(moves), note=f"{len(listed)} holes"
    )


def plate_from_above(length: float, width: float, holes: tuple[Named, ...], here: str) -> Scene:
    """The plate with its holes, low end at x = 0, the middle at y = 0; the one to do now is marked."""
    elements: list[Element] = [
        box(0, -width / 2, length, width / 2, Style.BODY, "work"),
        box(0, -width / 2, length, width / 2, Style.VISIBLE, "work"),
        Line((-6, 0), (length + 6, 0), Style.CENTRE),
    ]
    for name, hole in holes:
        d = hole.drill_mm or find_thread(parse_thread(hole.thread)).major_mm
        now = name == here
        elements.append(Arc((hole.x_mm, hole.y_mm), d / 2, style=Style.TOOL if now else Style.VISIBLE, feature=name))
        if now:
            elements += [
                Line((hole.x_mm, -width / 2 - 6), (hole.x_mm, width / 2 + 6), Style.CENTRE),
                Line((-6, hole.y_mm), (length + 6, hole.y_mm), Style.CENTRE),
            ]
        if now or len(holes) <= 30:
            elements.append(Note((hole.x_mm, hole.y_mm + d / 2 + 3), name, quiet=not now, align=0))
    return Scene("setup", "From above, X from the low end", tuple(elements))
