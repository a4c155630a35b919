"""Holes of a block or plate.

What is said of them in the hole table, what they look like, what the kernel cuts, what may go wrong.

A hole stands square to the face it is drilled from, at ordinates (x, y) on that face from the family's datum. In a plate the
face is the top, in a jaw it is the front: `Span` says between which two faces the metal lies and which way out the mouth is.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from functools import cache, cached_property
from typing import Final

from msgspec import Struct

from elbrix.design.family import HoleLine, HoleSizes
from elbrix.design.work import HolePattern, PatternHole
from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Point, Style
from elbrix.mechanics.drilling import MIN_SHARE, POINT, point_mm, tapped_mm, thread_depth_wanted
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import format_number
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.solids.recipe import Turned, drilled
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.threads import Thread, find_thread

#: A counterbored head lies this far below the face; room round it, mm. Source: shop practice.
HEAD_BELOW_MM: Final = 0.5
ROUND: Final = 0.5
#: Drilled under size for a reamer, mm: to 10, and above. Source: shop practice.
REAM_ALLOWANCE: Final = (0.2, 0.3)
#: Depth of an ordinary drill's cone over its diameter, 118°.
#: Tapped depth over Ø: steel, and softer metals.
#: Rules of 1.5 d from an edge, 0.5 d between two, 0.8 d under a head; and where it breaks out.
_EDGE, _WEB, _FLOOR = Limits(0.75, 1.5), Limits(0.15, 0.5), Limits(0.5, 0.8)
#: From this Ø on a hole is bored, not drilled for a screw: its wall counts in mm, and its floor is flat.
BORED_MM: Final = 20.0
_BORED_WALL: Final = Limits(3.0, 6.0)


class Hole(Struct, frozen=True, kw_only=True, dict=True):
    """One hole. Sizes in mm; depths from the mouth, 0 for right through."""

    name: str
    x: float
    y: float
    drill: float
    thread: str = ""
    ream: float = 0.0
    bore: float = 0.0  #: counterbore Ø
    bore_depth: float = 0.0
    depth: float = 0.0  #: full diameter
    thread_depth: float = 0.0
    below: bool = False  #: drilled from the other face
    feature: str = "holes"
    use: str = ""  #: "for the dowel", after the sizes
    limits: tuple[float, float] | None = None  #: how much under and over its Ø it may come out; None: as the drawing's block says
    size: str = ""  #: the parameter that is its Ø: its limits are found with the others

    @property
    def threaded(self) -> Thread | None:
        return thread_of(self.thread) if self.thread else None

    @cached_property
    def d(self) -> float:
        """Nominal: what a rule counts in."""
        return self.threaded.major_mm if self.threaded else self.ream or self.drill

    @cached_property
    def mouth(self) -> float:
        """The widest Ø at its mouth."""
        return max(self.bore, self.d)

    @property
    def words(self) -> str:
        """Its line of the hole table."""
        if self.threaded is not None:
            how = f"full thread {length(self.thread_depth)} deep, " if self.thread_depth else "through, "
            text = f"{self.threaded.shown} {how}drill {length(self.drill, 2)}" + (
                f" × {length(self.depth)}" if self.depth else ""
            )
        elif self.ream:
            deep = "× " + length(self.depth) if self.depth else "through"
            text = (
                f"Ø{length(self.ream, 3)}{self._limits} bored {deep}"
                if self.ream >= BORED_MM
                else f"Ø{length(self.ream, 3)}{self._limits} reamed {deep}, drill {length(self.drill, 2)}"
            )
        else:
            text = f"Ø{length(self.drill, 2)} {'× ' + length(self.depth) if self.depth else 'through'}"
        if self.bore:
            text += f", counterbore Ø{length(self.bore)} × {length(self.bore_depth)}"
        return text + (", from below" if self.below else "") + (f", {self.use}" if self.use else "")

    @property
    def sizes(self) -> HoleSizes:
        """Its numbers."""
        return HoleSizes(
            diameter_mm=self.drill if self.threaded else self.ream or self.drill,
            depth_mm=self.depth,
            thread=self.thread,
            thread_depth_mm=self.thread_depth,
            counterbore_mm=self.bore,
            counterbore_depth_mm=self.bore_depth,
            below=self.below,
            limits=self.limits,
        )

    @property
    def _limits(self) -> str:
        if self.limits is None:
            return ""
        under, over = self.limits
        if abs(under - over) < 1e-9:
            return f" ±{length(over, 3)}"
        return f" +{length(over, 3) if over else 0}/−{length(under, 3) if under else 0}"


@cache
def thread_of(name: str) -> Thread:
    """A standard thread by name; a plate of holes asks for the same one hundreds of times."""
    return find_thread(parse_thread(name))


def tapped(
    name: str,
    x: float,
    y: float,
    thread: str,
    *,
    thread_deep: float = 0.0,
    feature: str = "holes",
    below: bool = False,
    use: str = "",
) -> Hole:
    """A tapped hole; a blind one is drilled three turns deeper than its full thread."""
    t = thread_of(thread)
    deep = round(tapped_mm(thread_deep, t.pitch_mm), 1) if thread_deep else 0.0
    return Hole(
        name=name,
        x=x,
        y=y,
        drill=t.tap_drill[1],
        thread=t.name,
        depth=deep,
        thread_depth=thread_deep,
        feature=feature,
        below=below,
        use=use,
    )


def reamed(
    name: str,
    x: float,
    y: float,
    size: float,
    *,
    limits: tuple[float, float],
    deep: float = 0.0,
    feature: str = "pins",
    below: bool = False,
    use: str = "",
) -> Hole:
    """A reamed hole with its drill, and how much under and over its size it may come out, mm."""
    return Hole(
        name=name,
        x=x,
        y=y,
        drill=round(size - REAM_ALLOWANCE[size > 10], 1),  # drills go by tenths
        ream=size,
        limits=limits,
        depth=deep,
        feature=feature,
        below=below,
        use=use,
    )


def counterbored(
    name: str,
    x: float,
    y: float,
    screw: str,
    *,
    feature: str = "bolts",
    below: bool = False,
    use: str = "",
    series: str = "medium",
) -> Hole:
    """A clearance hole with a counterbore that takes the whole head of a socket screw: "M8", "3/8"."""
    bore = math.ceil(head("socket_cap", screw, "head_d").value + 2 * ROUND)
    return Hole(
        name=name,
        x=x,
        y=y,
        drill=clearance_hole(screw, series).value,
        bore=float(bore),
        bore_depth=round(head("socket_cap", screw, "head_h").value + HEAD_BELOW_MM, 2),
        feature=feature,
        below=below,
        use=use,
    )


def screw_size(thread: str) -> str:
    """The size as screw tables spell it: "M8x1.25" is "M8", "3/8-16" is "3/8"."""
    t = thread_of(thread)
    return t.name.split("x")[0] if t.metric else t.name.rpartition("-")[0]


# --- said -------------------------------------------------------------------------------------------------------------


def hole_table(holes: Iterable[Hole], place: Callable[[Hole], Point] | None = None) -> tuple[HoleLine, ...]:
    """The lines of the hole table."""
    return tuple(HoleLine(h.name, *(place(h) if place else (h.x, h.y)), h.words, h.size, h.sizes) for h in holes)


# --- cut and drilled --------------------------------------------------------------------------------------------------


class Span(Struct, frozen=True):
    """Two faces and the metal between: a plate from z `low` to `high` ("xy"), a jaw from y `low`, its front, to `high` ("xz")."""

    low: float
    high: float
    plane: str = "xy"

    @property
    def thickness(self) -> float:
        return self.high - self.low

    def tool(self, hole: Hole) -> Turned:
        """What the kernel takes away."""
        steps = [(hole.drill if hole.threaded else hole.ream or hole.drill, hole.depth or self.thickness)]
        if hole.bore:
            steps.insert(0, (hole.bore, hole.bore_depth))
        if self.plane == "xy":
            at, out = (hole.x, hole.y, self.low if hole.below else self.high), (0.0, 0.0, -1.0 if hole.below else 1.0)
        else:
            at, out = (hole.x, self.high if hole.below else self.low, hole.y), (0.0, 1.0 if hole.below else -1.0, 0.0)
        return drilled(at, tuple(steps), through_to=None if hole.depth else self.thickness, out=out)

    def flat(self, x: float, y: float, size: float, deep: float) -> Turned:
        """A recess with a flat floor, bored from the top."""
        return drilled((x, y, self.high), ((size, deep),), point_deg=180.0)

    def tools(self, holes: Iterable[Hole]) -> tuple[Turned, ...]:
        return tuple(self.tool(h) for h in holes)


def pattern(
    holes: Iterable[Hole],
    thick: float,
    name: str,
    *,
    x0: float,
    y0: float,
    below: bool = False,
    id: str = "pattern",
    held: str = "",
    along: str = "x",
) -> HolePattern | None:
    """The holes of one face as work; None without any.

    Args:
        x0: Ordinate of the low end, y0 of the middle of the width.
        along: "x", or "y" when the bar lies along the family's y: its X is then y, and its Y, away, −x.
    """
    sign = -1.0 if below else 1.0  # turned over about its long axis, far is near

    def place(h: Hole) -> Point:
        return (h.x - x0, h.y - y0) if along == "x" else (h.y - x0, y0 - h.x)

    found = tuple(
        PatternHole(
            place(h)[0],
            sign * place(h)[1],
            thread=h.thread,
            drill_mm=h.drill,
            bore_mm=h.bore,
            bore_depth_mm=h.bore_depth,
            ream_mm=h.ream,
            limits=h.limits if h.ream else None,
            depth_mm=h.depth,
            thread_depth_mm=h.thread_depth,
        )
        for h in holes
        if h.below is below
    )
    return (
        HolePattern(name=name, holes=found, thickness_mm=thick, feature="holes", face="C" if below else "A", id=id, held=held)
        if found
        else None
    )


# --- drawn ------------------------------------------------------------------------------------------------------------


def circles(holes: Iterable[Hole], *, named: bool = True, below: bool = False) -> list[Element]:
    """Holes seen square on, from their mouths' side or from `below`."""
    listed = list(holes)
    wide = max((max(abs(h.x - listed[0].x), abs(h.y - listed[0].y)) for h in listed), default=0.0)
    letter_mm = 2.0 + 0.022 * wide  # names keep their size on the screen whatever the scale
    found: list[Element] = []
    counts = {f: sum(h.feature == f for h in listed) for f in {h.feature for h in listed}}
    shown: dict[str, int] = defaultdict(int)
    taken: list[Point] = []
    for h in listed:
        near = h.below is below
        through = not h.depth
        p = (h.x, h.y)
        seen = Style.VISIBLE if near or through else Style.HIDDEN
        found.append(Arc(p, (h.drill if h.threaded else h.ream or h.drill) / 2, style=seen, feature=h.feature))
        if h.threaded is not None and near:
            found.append(Arc(p, h.d / 2, 100, 370, Style.THREAD, h.feature))
        if h.bore:
            found.append(Arc(p, h.bore / 2, style=Style.VISIBLE if near else Style.HIDDEN, feature=h.feature))
        shown[h.feature] += 1
        first_or_last = shown[h.feature] in (1, counts[h.feature])
        if named and (counts[h.feature] <= 16 or first_or_last):
            at = _beside(h, listed, taken, letter_mm)
            taken.append(at)
            found.append(Note(at, h.name, quiet=True, align=0, feature=h.feature))
    return found


def _beside(hole: Hole, others: Sequence[Hole], taken: Sequence[Point], letter: float) -> Point:
    """Where its name stands: above it, else where it is farthest from other holes and names."""
    out = hole.mouth / 2 + letter
    spots = [
        (hole.x + 1.3 * out * math.cos(math.radians(a)), hole.y + out * math.sin(math.radians(a))) for a in (90, -90, 0, 180)
    ]

    def room(p: Point) -> float:
        holes = min((math.dist(p, (o.x, o.y)) - o.mouth / 2 for o in others if o is not hole), default=math.inf)
        return min(holes, min((math.dist(p, t) for t in taken), default=math.inf) - letter)

    return spots[0] if room(spots[0]) > 1.2 * letter else max(spots, key=room)


def hidden_lines(
    holes: Sequence[Hole], span: Span, at: Callable[[float, float], Point], along: Callable[[Hole], float]
) -> list[Element]:
    """Holes seen from the side.

    Args:
        at: From a place along the view and a height between the faces to the picture.
        along: Where a hole stands along the view: its x or its y.
    """
    found: list[Element] = []
    done: set[tuple[float, float, float, bool]] = set()
    for h in holes:
        key = (round(along(h), 3), h.d, h.bore, h.below)
        if key in done:
            continue
        done.add(key)
        p, r = along(h), (h.drill if h.threaded else h.ream or h.drill) / 2
        mouth, inward = (span.low, 1.0) if h.below is (span.plane == "xy") else (span.high, -1.0)
        floor, end = mouth + inward * h.bore_depth, mouth + inward * (h.depth or span.thickness)
        found += [Line(at(p + k * r, floor), at(p + k * r, end), Style.HIDDEN, h.feature) for k in (-1, 1)]
        if h.depth:
            found.append(Path((at(p - r, end), at(p, end + inward * point_mm(2 * r)), at(p + r, end)), Style.HIDDEN, h.feature))
        if h.bore:
            b = h.bore / 2
            found.append(Path((at(p - b, mouth), at(p - b, floor), at(p + b, floor), at(p + b, mouth)), Style.HIDDEN, h.feature))
        found.append(Line(at(p, span.low - 2), at(p, span.high + 2), Style.CENTRE, h.feature))
    return found


# --- judged -----------------------------------------------------------------------------------------------------------


def hole_checks(
    holes: Sequence[Hole],
    thick: float,
    edge: Callable[[float, float], float],
    material: str,
    remedies: tuple[str, ...] = (),
    thicker: str = "thickness",
) -> list[Check]:
    """Edge distance, metal between, under heads and points, and tapped depth, each by its worst hole.

    Args:
        edge: From a place to the nearest outside edge, mm; negative outside.
        mends: Parameters whose change may mend what is too near or too thin.
        thicker: The parameter that is the thickness.
    """
    if not holes:
        return []
    found = [_bored_wall(h, edge, remedies) for h in holes if h.d >= BORED_MM]
    screws = [h for h in holes if h.d < BORED_MM]
    if screws:
        found += _screw_holes(screws, edge, remedies)
    return found + _between_and_under(holes, thick, material, remedies, thicker)


def _bored_wall(h: Hole, edge: Callable[[float, float], float], remedies: tuple[str, ...]) -> Check:
    """Metal outside a large bore: a matter of millimetres, not of its diameter."""
    return judged(
        f"wall {h.name}",
        f"Wall outside bore {h.name}",
        worked("to the nearest edge − half the bore", edge(h.x, h.y), h.d / 2),
        _BORED_WALL,
        ("sound metal outside it", "thin: bore it last, held lightly", "it breaks out, or tears when it is bored"),
        step=0.1,
        features=(h.feature,),
        remedies=remedies,
    )


def _screw_holes(holes: Sequence[Hole], edge: Callable[[float, float], float], remedies: tuple[str, ...]) -> list[Check]:
    """Edge distance and the wall beside a counterbore."""
    worst = min(holes, key=lambda h: edge(h.x, h.y) / h.d)
    from_edge = edge(worst.x, worst.y)
    found = [
        judged(
            "edge",
            "Edge distance",
            worked("to the nearest edge/d", from_edge, worst.d),
            _EDGE,
            (
                f"the nearest is {worst.name}",
                f"{worst.name} is near the edge: thin metal there bulges or tears",
                f"{worst.name} breaks out at the edge",
            ),
            unit="× d",
            features=(worst.feature,),
            remedies=remedies,
        )
    ]
    lips = min(holes, key=lambda h: edge(h.x, h.y) - h.mouth / 2)
    lip = edge(lips.x, lips.y) - lips.mouth / 2
    if lips.bore:
        found.append(
            judged(
                "lip",
                "Wall beside counterbore",
                worked("to the edge − half the counterbore", lip + lips.mouth / 2, lips.mouth / 2),
                Limits(0.0, 1.0),
                (f"least at {lips.name}", f"thin at {lips.name}", f"the counterbore of {lips.name} is open to the side"),
                step=0.1,
                features=(lips.feature,),
                remedies=remedies,
            )
        )
    return found


def _between_and_under(
    holes: Sequence[Hole], thick: float, material: str, remedies: tuple[str, ...], thicker: str
) -> list[Check]:
    """Metal between two holes, under heads and points, and tapped depth."""
    found: list[Check] = []
    if pair := nearest_pair(holes, thick):
        gap, a, b = pair
        d = min(a.d, b.d)
        found.append(
            judged(
                "web",
                "Web between holes",
                worked(
                    "(middle to middle − half of both)/d",
                    math.dist((a.x, a.y), (b.x, b.y)),
                    math.dist((a.x, a.y), (b.x, b.y)) - gap,
                    d,
                ),
                _WEB,
                (
                    f"least between {a.name} and {b.name}",
                    f"thin between {a.name} and {b.name}",
                    f"{a.name} and {b.name} run into each other",
                ),
                unit="× d",
                features=(a.feature, b.feature),
                remedies=remedies,
            )
        )
    if bored := [h for h in holes if h.bore]:
        h = min(bored, key=lambda b: (thick - b.bore_depth) / b.d)
        found.append(
            judged(
                "floor",
                "Floor under counterbore",
                worked("(thickness − counterbore)/d", thick, h.bore_depth, h.d),
                _FLOOR,
                ("the head pulls on solid metal", f"thin under {h.name}: do not pull it hard", f"{h.name} would pull through"),
                unit="× d",
                features=(h.feature,),
                remedies=(thicker, *remedies),
            )
        )
    if blind := [h for h in holes if h.depth and h.d < BORED_MM]:
        h = max(blind, key=lambda b: b.depth + point_mm(b.drill))
        found.append(
            judged(
                "point",
                "Floor under drill point",
                worked(f"thickness − depth − {POINT:g}·drill", thick, h.depth, h.drill),
                Limits(0.0, 1.5),
                (f"deepest is {h.name}", f"thin under {h.name}", f"the point of {h.name} comes through"),
                step=0.1,
                features=(h.feature,),
                remedies=(thicker, *remedies),
            )
        )
    if threads := [h for h in holes if h.threaded]:
        h = min(threads, key=lambda t: (t.thread_depth or thick - t.bore_depth) / t.d)
        deep, request = h.thread_depth or thick - h.bore_depth, thread_depth_wanted(material)
        found.append(
            judged(
                "thread_deep",
                "Thread depth",
                worked("full thread/d", deep, h.d),
                Limits(MIN_SHARE * request, request),
                (
                    f"{format_number(request)} × d holds a screw in {material}",
                    f"short in {material}: {format_number(request)} × d is wanted",
                    f"it strips in {material}",
                ),
                unit="× d",
                features=(h.feature,),
                remedies=(thicker, *remedies),
            )
        )
    return found


def nearest_pair(holes: Sequence[Hole], thick: float = 0.0) -> tuple[float, Hole, Hole] | None:
    """The least metal between any two, mm, and which; None with one hole or none.

    Args:
        thick: Of the plate; 0 where it does not matter how deep counterbores of both faces go.
    """
    ordered = sorted(holes, key=lambda h: h.x)
    best: tuple[float, Hole, Hole] | None = None
    widest = max((h.mouth for h in holes), default=0.0)
    for i, a in enumerate(ordered):
        for b in ordered[i + 1 :]:
            if best is not None and b.x - a.x - widest > best[0]:
                break
            # Mouths on opposite faces meet only the other one's shaft, unless both are so deep that they pass each other.
            meet = a.below is b.below or (thick > 0 and a.bore_depth + b.bore_depth > thick)
            taken = (a.mouth + b.mouth) / 2 if meet else max(a.mouth + b.d, a.d + b.mouth) / 2
            gap = math.dist((a.x, a.y), (b.x, b.y)) - taken
            if best is None or gap < best[0]:
                best = (gap, a, b)
    return best
