"""Holes: one tool at all places, then the next. In every piece along one bar, or from one datum in a plate."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any, Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.design.work import HolePattern, PatternHole, PieceHole, TappedHole
from elbrix.making.context import REAMS_OVER_MM, Context
from elbrix.making.milling import touch_middle
from elbrix.making.plan import HALF_WIDTH, Move, Operation, Position, Setup, Term, Zero
from elbrix.making.pose import FACES, Lie, opposite
from elbrix.making.schools import DRILL_OVER_MM
from elbrix.making.strokes import Point3, Tool
from elbrix.mechanics.drilling import point_mm, spot_mm
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import format_number
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.threads import Thread, find_thread

#: Beyond a through hole's end, mm: a drill's full diameter, a reamer's lead.
DRILL_THROUGH_MM: Final = 1.0
REAM_THROUGH_MM: Final = 2.0
#: A blind hole is drilled so much deeper than it is reamed, for the reamer's lead, mm.
REAM_LEAD_MM: Final = 1.0
#: A head goes in a counterbore that much under the drawn Ø, and in one that much over it, mm.
BORE_UNDER_MM, BORE_OVER_MM = 0.65, 1.0
#: A drill this far off the drawn Ø does for it, mm.
DRILL_OFF_MM: Final = 0.06
_GRABS: Final = "It grabs as it breaks through: ease the feed."
#: A drill that opens a hole a little grabs: it goes at so much of a drill's speed. Source: shop practice.
_GRABBING: Final = 0.5
_POWER_OFF: Final = "Power off while a hand turns the spindle."
#: Which face is away when a face is up, so that X runs along the bar to the right; on an end X runs up or down the thickness.
AWAY: Final = {"A": "B", "B": "C", "C": "D", "D": "A", "E": "B", "F": "B"}


def hole_places(ctx: Context) -> list[float]:
    """Middle of each piece from the cleaned left end of the bar, mm."""
    first = ctx.cutting.facing_mm + ctx.blank.length_mm / 2
    return [first + i * ctx.cutting.pitch(ctx.blank) for i in range(ctx.blank.pieces)]


def saw_cuts(ctx: Context) -> list[float]:
    """Middle of each saw cut from the cleaned left end, mm."""
    piece = ctx.blank.length_mm + 2 * ctx.cutting.facing_mm
    return [piece * (i + 1) + ctx.cutting.kerf_mm * (i + 0.5) for i in range(ctx.blank.pieces - 1)]


class HolePlace(Struct, frozen=True, kw_only=True):
    """One hole with the terms of its place."""

    name: str
    hole: PatternHole
    x: tuple[Term, ...]
    y: tuple[Term, ...]
    piece: int = 0  #: of a bar with several
    sink_mm: float = 0.0  #: Ø of its countersunk mouth
    short: float = 0.0  #: metal under a thread that stops short of a through hole, mm
    key: str = ""


def always(*terms: Term) -> Callable[[HolePlace], list[Term]]:
    """The same depth at every place."""
    return lambda _: list(terms)


class Drilling:
    """The rounds of a set of holes in one setup."""

    def __init__(self, ctx: Context, id: str, thickness_mm: float, feature: str, *, alike: bool = False) -> None:
        self.ctx, self.id, self.thickness, self.feature = ctx, id, thickness_mm, feature
        self.alike = alike  #: all of one size: no size in the names of the moves
        self.operations: list[Operation] = []

    def _round(
        self,
        title: str,
        what: str,
        cutter: Cutter,
        spots: Iterable[HolePlace],
        id: str,
        z: Callable[[HolePlace], list[Term]],
        *,
        allowed: float = 0.0,
        caution: str = "",
        note: str = "",
        lock: str = "X and Y",
        share: float = 1.0,
    ) -> None:
        listed = tuple(spots)
        ctx = self.ctx
        moves = tuple(
            ctx.plunge(
                f"{self.id}.{id}.{s.name}",
                f"{what} hole {s.name}",
                ctx.at("X", s.x, s.key),
                ctx.at("Y", s.y),
                ctx.at("Z", z(s)),
                caution=caution,
                feature=self.feature,
                allowed_mm=allowed,
                piece=s.piece,
                lock=lock,
            )
            for s in listed
        )
        self.operations.append(
            Operation(
                title=title,
                tool=cutter.title,
                cutter=ctx.tool(cutter, self.thickness),
                speed=ctx.speed(cutter, "Z", share=share),
                moves=moves,
                note=note or (f"{len(listed)} holes" if len(listed) > 1 else ""),
            )
        )

    def _named(self, tool: str, size_mm: float, depth_mm: float = 0.0) -> str:
        return tool if self.alike else f"{tool}{size_mm:g}" + (f"x{depth_mm:g}" if depth_mm else "")

    def depth(self, s: HolePlace, drill_mm: float) -> list[Term]:
        """Z of a drill's point."""
        cone = Term("drill point", -point_mm(drill_mm))
        h = s.hole
        if not h.depth_mm:
            return [Term("thickness", -self.thickness), cone, Term("through", -DRILL_THROUGH_MM)]
        lead = [Term("deeper for the reamer's lead", -REAM_LEAD_MM)] if h.ream_mm else []
        return [Term("full diameter", -h.depth_mm), *lead, cone]

    def _bottom(self, hole: PatternHole, drill_mm: float) -> float:
        """How deep its drill's point comes, or the far side of the work, mm."""
        return hole.depth_mm + point_mm(drill_mm) if hole.depth_mm else self.thickness

    def all(self, spots: tuple[HolePlace, ...]) -> tuple[Operation, ...]:
        """Spot, drill, counterbore, countersink, ream, tap."""
        ctx = self.ctx
        spot = ctx.find(CutterKind.SPOT_DRILL, 10.0, under=6.0, over=6.0)
        for drill_mm, group in _by(spots, lambda s: drill_of(s.hole)):
            deep = spot_mm(drill_mm, spot.diameter_mm, min(self._bottom(s.hole, drill_mm) for s in group))
            self._round(f"Spot for Ø{ctx.say(drill_mm)}", "Spot", spot, group, "spot", always(Term("spot", -deep)))
        for (drill_mm, deep), group in _by(spots, lambda s: (drill_of(s.hole), s.hole.depth_mm)):
            drill = ctx.find(CutterKind.DRILL, drill_mm, under=DRILL_OFF_MM, over=DRILL_OFF_MM)
            threaded = next((t for s in group if (t := thread_of(s.hole))), None)
            name = threaded.tap_drill[0] if threaded else f"Ø{ctx.say(drill_mm)}"
            self._round(
                f"Drill {name}" + (f" × {ctx.say(deep)}" if deep else ""),
                "Drill",
                drill,
                group,
                self._named("drill", drill_mm, deep),
                partial(self.depth, drill_mm=drill.diameter_mm),
                allowed=abs(drill.diameter_mm - drill_mm) / 2 + 0.35 * abs(drill.diameter_mm - drill_mm),
                caution="" if deep else _GRABS,
                note=f"{'Blind' if deep else 'Through'}; lift out every {ctx.say(drill_mm)} to clear chips",
            )
        self._counterbores(spots)
        for sink_mm, group in _by([s for s in spots if s.sink_mm], lambda s: s.sink_mm):
            sink = ctx.find(CutterKind.COUNTERSINK, sink_mm, under=0.0, over=40.0)
            near = drill_of(group[0].hole)
            self._round(
                "Countersink",
                "Countersink",
                sink,
                group,
                "sink",
                always(Term("touching the hole's edge", -near / 2), Term("to the mouth's Ø", -(sink_mm - near) / 2)),
                allowed=0.1,
                note=f"Ø{ctx.say(sink_mm)} mouth",
            )
        self._reamed(spots)
        for (name, deep, short), group in _by(
            [s for s in spots if s.hole.thread], lambda s: (s.hole.thread, s.hole.thread_depth_mm, s.short)
        ):
            self.operations.append(self._tapped(str(name), deep, short, group))
        return tuple(self.operations)

    def _counterbores(self, spots: tuple[HolePlace, ...]) -> None:
        ctx = self.ctx
        for (bore_mm, deep), group in _by([s for s in spots if s.hole.bore_mm], lambda s: (s.hole.bore_mm, s.hole.bore_depth_mm)):
            mill = ctx.find(CutterKind.END_MILL, bore_mm, under=BORE_UNDER_MM, over=BORE_OVER_MM)
            self._round(
                f"Counterbore Ø{ctx.say(bore_mm)}",
                "Counterbore",
                mill,
                group,
                self._named("bore", bore_mm),
                always(Term("counterbore, from the touch", -deep)),
                allowed=abs(mill.diameter_mm - bore_mm) / 2 + 1e-6,
                note=f"{ctx.say(deep)} deep, quill stop; straight down at a third of the milling speed",
            )

    def _reamed(self, spots: tuple[HolePlace, ...]) -> None:
        ctx = self.ctx
        for (ream_mm, deep), group in _by([s for s in spots if s.hole.ream_mm], lambda s: (s.hole.ream_mm, s.hole.depth_mm)):
            if ctx.options.holes == "two drills":
                self._second_drill(ream_mm, deep, group)
                continue
            limits = [s.hole.limits for s in group if s.hole.limits is not None]
            least = (min(u for u, _ in limits), min(o for _, o in limits)) if limits else None
            reamer = ctx.reamer(ream_mm, least)
            through = (Term("thickness", -self.thickness), Term("through, past the lead", -REAM_THROUGH_MM))
            self._round(
                f"Ream Ø{ctx.say(ream_mm, 3)}",
                "Ream",
                reamer,
                group,
                self._named("ream", ream_mm),
                always(Term("depth", -deep)) if deep else always(*through),
                allowed=abs(reamer.diameter_mm - ream_mm) / 2 + 1e-6,
                note=self._reamer_note(reamer.diameter_mm, ream_mm, least),
                caution="Never turn a reamer backwards.",
            )

    def _reamer_note(self, reamer_mm: float, size_mm: float, limits: tuple[float, float] | None) -> str:
        """What it cuts against what the drawing wants: a reamer for a slide fit cuts some holes for a pressed pin too wide."""
        say, gauge = self.ctx.say, "gauge a hole in scrap of the same stock first"
        cuts = f"It cuts {say(reamer_mm, 3)} to {say(reamer_mm + REAMS_OVER_MM, 3)}"
        if limits is None:
            return f"{cuts}: {gauge}"
        low, high = size_mm - limits[0], size_mm + limits[1]
        wanted = f"the hole {say(low, 3)} to {say(high, 3)}"
        if low - 1e-6 <= reamer_mm and reamer_mm + REAMS_OVER_MM <= high + 1e-6:
            return f"{cuts}, {wanted}: {gauge}"
        return f"{cuts}, {wanted}: {gauge}; out of these, take another reamer"

    def _second_drill(self, size_mm: float, deep: float, group: list[HolePlace]) -> None:
        """Finished by a drill of its own size after one a little under it: what is left guides it."""
        ctx = self.ctx
        drill = ctx.find(CutterKind.DRILL, size_mm, under=0.011, over=0.011)
        ctx.gathered.assumed.append(
            f"Ø{ctx.say(size_mm, 3)} by two drills comes out {ctx.say(DRILL_OVER_MM[0])} to {ctx.say(DRILL_OVER_MM[1])} over: a"
            " pin that is pressed holds in no such hole"
        )
        self._round(
            f"Finish with the second drill, Ø{ctx.say(size_mm, 3)}",
            "Finish",
            drill,
            group,
            self._named("second", size_mm),
            always(Term("depth", -deep), Term("drill point", -point_mm(size_mm)))
            if deep
            else always(Term("thickness", -self.thickness), Term("drill point", -point_mm(size_mm)), Term("through", -1.0)),
            allowed=DRILL_OVER_MM[1] / 2,
            share=_GRABBING,
            caution="It grabs: slow, by hand feel, the lips stoned alike.",
        )

    def _tapped(self, name: str, deep: float, short: float, group: list[HolePlace]) -> Operation:
        ctx = self.ctx
        thread = find_thread(parse_thread(name))
        tap = ctx.find(CutterKind.TAP, thread.major_mm, name=thread.name)
        ctx.request("tapping oil" if ctx.stock.chips == "long" else ctx.stock.fluid, True)
        words = "right through"
        if deep:
            words = f"full thread to {ctx.say(deep)}; count the turns"
            if short:
                words = (
                    f"full thread to {ctx.say(deep)} below the top: stop there,"
                    f" {format_number(short / thread.pitch_mm, 1)} turns short of through"
                )
        return Operation(
            title=f"Tap {thread.shown}",
            tool=tap.title,
            cutter=Tool(kind="tap", diameter_mm=tap.diameter_mm, shank_diameter_mm=tap.shank_mm),
            note=words + ". By hand with the spindle centre as guide, half a turn back every turn",
            moves=tuple(
                Move(
                    id=f"{self.id}.tap.{s.name}",
                    words=f"Tap hole {s.name}: {words}",
                    positions=(ctx.at("X", s.x), ctx.at("Y", s.y)),
                    lock="X, Y; spindle out of gear",
                    caution=_POWER_OFF,
                    feature=self.feature,
                    piece=s.piece,
                )
                for s in group
            ),
        )


def thread_of(hole: PatternHole) -> Thread | None:
    """Of a tapped hole."""
    return find_thread(parse_thread(hole.thread)) if hole.thread else None


def drill_of(hole: PatternHole) -> float:
    """What it is drilled to, mm."""
    thread = thread_of(hole)
    return hole.drill_mm or (thread.tap_drill[1] if thread else 0.0)


def _by(spots: Iterable[HolePlace], key: Callable[[HolePlace], Any]) -> list[tuple[Any, list[HolePlace]]]:
    """Holes in groups of one size, in order of first use."""
    groups: dict[Any, list[HolePlace]] = {}
    for s in spots:
        groups.setdefault(key(s), []).append(s)
    return list(groups.items())


# --- in every piece of a bar -----------------------------------------------------------------------------------------


def _along_bar(ctx: Context, hole: PatternHole, off_mm: float, **more: Any) -> tuple[HolePlace, ...]:
    places = hole_places(ctx)
    pitch = ctx.say(ctx.cutting.pitch(ctx.blank))
    return tuple(
        HolePlace(
            name=str(i + 1),
            hole=hole,
            x=(Term("cleaned end to the middle of piece 1", places[0]), *([Term(f"{i} × {pitch}", x - places[0])] if i else [])),
            y=(Term("middle of the bar", 0.0), *([Term("off the middle", off_mm)] if off_mm else [])),
            key="hole_first" if i == 0 else "",
            piece=i,
            **more,
        )
        for i, x in enumerate(places)
    )


def _bar_setup(ctx: Context, id: str, title: str, up: str, operations: tuple[Operation, ...], feature: str) -> Setup:
    lie = Lie(up=up, away=AWAY[up], zero=(ctx.bar_zero[0], 0.0, 0.0 if up == "A" else -ctx.blank.height_mm))
    x_move, x = ctx.touch_side(f"{id}.zero.X", "X", "the cleaned left end", 0.0, "")
    jaws = ctx.sides.jaws(lie, 0.0)
    across, (y, z) = touch_middle(ctx, f"{id}.zero", lie, jaws)
    start = Operation(title="Find zero", tool=x.tool, moves=(x_move, *across))
    return ctx.setup(
        id,
        title,
        lie,
        (start, *operations),
        holding=f"{ctx.in_vise(lie)}, on parallels that stand clear of the holes",
        datum=f"X zero at the cleaned left end, + to the right; Y zero in the middle; Z zero on {up}",
        zeroes=(x, y, z),
        jaws_mm=jaws,
        cautions=("No gloves and no rag near the turning drill.",),
    )


def tapped_holes(ctx: Context, work: TappedHole) -> Setup:
    """Spot, drill, countersink and tap every piece while it is still one bar."""
    hole = PatternHole(
        0.0,
        0.0,
        thread=work.thread,
        depth_mm=0.0 if work.drill_through else work.drill_depth_mm,
        thread_depth_mm=work.tap_depth_mm,
    )
    short = ctx.height - work.tap_depth_mm if work.tap_depth_mm and work.drill_through else 0.0
    spots = _along_bar(ctx, hole, work.y_mm, sink_mm=work.countersink_mm, short=short)
    drilling = Drilling(ctx, "holes", ctx.height, work.feature, alike=True)
    return _bar_setup(ctx, "holes", work.name, "A", drilling.all(spots), work.feature)


def piece_holes(ctx: Context, work: PieceHole) -> Setup:
    """Spot, drill and counterbore every piece from the underside while it is still one bar."""
    hole = PatternHole(0.0, 0.0, drill_mm=work.drill_mm, bore_mm=work.bore_mm, bore_depth_mm=work.bore_depth_mm)
    drilling = Drilling(ctx, "bores", work.thickness_mm, work.feature, alike=True)
    return _bar_setup(ctx, "bores", work.name, "C", drilling.all(_along_bar(ctx, hole, work.off_mm)), work.feature)


# --- from one datum --------------------------------------------------------------------------------------------------


def face_lie(ctx: Context, face: str, away: str = "") -> Lie:
    """A finished piece with one face up: X from its low end, or on an end from its top or underside; Y from the middle."""
    away = away or AWAY[face]
    lie = Lie(up=face, away=away, zero=(0.0, 0.0, 0.0))
    middle: Point3 = (ctx.blank.length_mm / 2, 0.0, -ctx.blank.height_mm / 2)
    half = (ctx.blank.length_mm / 2, ctx.blank.width_mm / 2, ctx.blank.height_mm / 2)
    up, left = FACES[face], FACES[opposite(lie.right)]
    zero = tuple(m + h * (u + s) for m, h, u, s in zip(middle, half, up, left, strict=True))
    return Lie(up=face, away=away, zero=zero)  # type: ignore[arg-type]


def size_of(ctx: Context, face: str) -> float:
    """From a face to the one on the other side, mm."""
    return {"A": ctx.blank.height_mm, "C": ctx.blank.height_mm, "E": ctx.blank.length_mm, "F": ctx.blank.length_mm}.get(
        face, ctx.blank.width_mm
    )


def piece_zero(ctx: Context, id: str, lie: Lie) -> tuple[Operation, tuple[Zero, ...]]:
    """X from the finished left end, Y in the middle from the near side, Z on the face that is up."""
    left, near = opposite(lie.right), opposite(lie.away)
    x_move, x = ctx.touch_side(f"{id}.zero.X", "X", f"the finished left end, {left}", 0.0, "")
    half = size_of(ctx, lie.away) / 2
    y_move, y = ctx.touch_side(f"{id}.zero.Y", "Y", f"the near side, {near}", -half, HALF_WIDTH)
    z_move, z = ctx.touch_top(f"{id}.zero.Z", f"the top, {lie.up}")
    return Operation(title="Find zero", tool=x.tool, moves=(x_move, y_move, z_move)), (x, replace(y, half_mm=half), z)


def hole_pattern(ctx: Context, work: HolePattern) -> Setup:
    """All the holes of one face; X from the finished left end, Y from the middle."""
    lie = face_lie(ctx, work.face)
    spots = tuple(
        HolePlace(
            name=str(i), hole=h, x=(Term("ordinate from the left end", h.x_mm),), y=(Term("ordinate from the middle", h.y_mm),)
        )
        for i, h in enumerate(work.holes, 1)
    )
    start, zeroes = piece_zero(ctx, work.id, lie)
    operations = (start, *Drilling(ctx, work.id, work.thickness_mm, work.feature).all(spots))
    left = opposite(lie.right)
    return ctx.setup(
        work.id,
        work.name + (f", each of {ctx.blank.pieces}" if ctx.blank.pieces > 1 else ""),
        lie,
        operations,
        holding=ctx.held_as(work.held, lie) or f"{ctx.in_vise(lie)} or on parallels under straps, clear of every hole",
        datum=(
            f"X zero at the left end ({left}), + to the right; Y zero in the middle of the width, + away; Z zero on {work.face}"
        ),
        zeroes=zeroes,
        jaws_mm=ctx.sides.jaws(lie, 0.0),
        each=True,
        cautions=("No gloves and no rag near the turning drill.", "Every ordinate from the one datum: never from hole to hole."),
    )


def ordinates(ctx: Context, x: float, y: float) -> tuple[Position, Position]:
    """A place from the datum of a piece."""
    return ctx.at("X", [Term("ordinate from the left end", x)]), ctx.at("Y", [Term("ordinate from the middle", y)])
