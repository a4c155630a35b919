"""What every step of planning needs to know, and the helpers they share."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Final

from msgspec import Struct, field

from elbrix.design.work import IN_VISE, Blank
from elbrix.making.dials import on_dial
from elbrix.making.grip import Sides, unheld_words, wanted_mm
from elbrix.making.holders import Held, held_in
from elbrix.making.options import Options
from elbrix.making.plan import AskedSize, KitItem, Move, Operation, Position, Setup, SizedBy, Term, Zero
from elbrix.making.pose import Frame, Lie, turned_words
from elbrix.making.speeds import Speed, speed_for
from elbrix.making.stock_choice import BarCutting, StockOption, round_stock_mm
from elbrix.making.strokes import Point3, Stroke, Tool
from elbrix.making.taught import cuts_so_far
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import format_number
from elbrix.shop.cut_log import experience
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import SQUARE_MM, Cutter, CutterKind
from elbrix.shop.workholding import Vise
from elbrix.standards.materials import Material, material

#: Edge finder assumed when the shop lists none, mm.
FINDER_MM = 10.0
#: Left by roughing for the finishing cuts, mm: on a wall, on a floor.
FINISH_WALL_MM, FINISH_FLOOR_MM = 0.3, 0.15
#: A cutter runs on this far beyond the metal at both ends, over its radius, mm.
OVER_RUN_MM: Final = 2.0
#: A reamer cuts this much over its own size, least and most, mm.
REAMS_UNDER_MM, REAMS_OVER_MM = 0.0, 0.012
#: Where a tool starts over the metal, mm.
CLEAR_MM: Final = 2.0
#: Deepest roughing cut by rigidity, as a share of the cutter's diameter.
_DEPTH_SHARE: Final = {"light": 0.15, "medium": 0.25, "heavy": 0.5}
#: Straight down an end mill goes at this share of its milling speed. Source: shop practice.
_STRAIGHT_DOWN: Final = 1 / 3
#: Kinds of the command line's contract.
_KINDS: Final = {
    CutterKind.END_MILL: "end_mill",
    CutterKind.FACE_MILL: "face_mill",
    CutterKind.SIDE_AND_FACE: "side_and_face",
    CutterKind.SLITTING_SAW: "slitting_saw",
    CutterKind.SPOT_DRILL: "spot_drill",
    CutterKind.DRILL: "drill",
    CutterKind.TAP: "tap",
    CutterKind.DIE: "die",
    CutterKind.COUNTERSINK: "countersink",
    CutterKind.ANGLE_CUTTER: "countersink",
    CutterKind.REAMER: "reamer",
}
_POINTS: Final = {CutterKind.DRILL: 118.0, CutterKind.SPOT_DRILL: 90.0, CutterKind.COUNTERSINK: 90.0}

#: Tools by which the cut log knows its cuts.
BORING_HEAD: Final = "boring head"
BORING_BAR: Final = "boring bar"


class Gathered(Struct):
    """What comes together while a plan is made."""

    kit: list[KitItem] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)
    leaves: list[str] = field(default_factory=list)
    lies: list[Lie] = field(default_factory=list)  #: in order, so that a setup can say how the work was turned
    sides: Sides = field(default_factory=Sides)  #: of the bar, as the setups so far have left it


class Context(Struct):
    """One planning run on one machine."""

    shop: Shop
    machine: Machine
    blank: Blank
    options: Options
    measured: Mapping[str, float]
    cutting: BarCutting
    bar: StockOption | None
    unit: str = "mm"  #: what sizes are said in, "mm" or "in"; a readout shows it, a handwheel has its own divisions
    frame: Frame | None = None  #: where the bar frame stands in the part's
    gathered: Gathered = field(default_factory=Gathered)
    main: str = ""  #: id of the plan's own machine, when this is another

    # --- said --------------------------------------------------------------------------------------------------------

    def say(self, mm: float, places: int = 2) -> str:
        """A size in words, in the unit on show: "14.4 mm", "0.5669 in"."""
        return f"{format_number(mm, places)} mm" if self.unit == "mm" else f"{mm / MM_PER_INCH:.4f} in"

    def size(self, mm: float, places: int = 3) -> str:
        """A size in a title, as the drawing has it: "18.075", "0.7116 in"."""
        return format_number(mm, places) if self.unit == "mm" else self.say(mm)

    @property
    def kit(self) -> list[KitItem]:
        return self.gathered.kit

    @property
    def assumed(self) -> list[str]:
        return self.gathered.assumed

    @property
    def problems(self) -> list[str]:
        return self.gathered.problems

    @property
    def stock(self) -> Material:
        return material(self.blank.material)

    # --- sizes -------------------------------------------------------------------------------------------------------

    @property
    def width(self) -> float:
        """Width of the bar as measured after squaring, else as designed."""
        return self.measured.get("bar_width", self.blank.width_mm)

    @property
    def height(self) -> float:
        return self.measured.get("bar_height", self.blank.height_mm)

    @property
    def bar_length(self) -> float:
        """What is sawn off the bar, for all pieces."""
        return self.cutting.length(self.blank, self.round_mm)

    @property
    def round_mm(self) -> float:
        """Ø of the bar that is turned, over the corners of a hexagon; 0: nothing is turned."""
        return round_stock_mm(self.blank, self.bar, self.unit) if self.blank.round_mm else 0.0

    @property
    def bar_ends(self) -> tuple[float, float]:
        """Both ends of the bar in the bar frame of its first piece."""
        return (-self.cutting.facing_mm, self.bar_length - self.cutting.facing_mm)

    @property
    def bar_zero(self) -> Point3:
        """The cleaned low end of the bar, the middle of its width, its finished top: in the bar frame."""
        return (-self.cutting.facing_mm, 0.0, 0.0)

    @property
    def depth_share(self) -> float:
        """Deepest roughing cut of this machine as a share of the cutter's diameter."""
        return _DEPTH_SHARE.get(self.machine.rigidity, 0.25)

    @property
    def finder(self) -> tuple[str, float]:
        """What a side is touched with, and its Ø: a possession, else an assumption that says so."""
        own = self.shop.touch_offs_for(self.machine.id)
        if own:
            taken = next((t for t in own if t.id == self.options.touch_off), own[0])
            self.request(taken.title, True)
            return taken.title, taken.size_mm
        words = f"edge finder Ø{self.say(FINDER_MM)}"
        self.request(words, False, "none in Shop: any other Ø changes the numbers it stands in")
        self.assumed.append(f"No edge finder in Shop: sides are touched with one of Ø{self.say(FINDER_MM)}")
        return words, FINDER_MM

    # --- numbers -----------------------------------------------------------------------------------------------------

    def at(self, axis: str, terms: Iterable[Term], key: str = "") -> Position:
        """A position as the sum of its terms, with its dial number."""
        listed = tuple(terms)
        value = round(sum(t.value_mm for t in listed), 9)
        return Position(
            axis=axis, value_mm=value, terms=listed, dial=on_dial(self.machine, axis, value, self.unit), unit=self.unit, key=key
        )

    def came_out(self, sizes: Sequence[tuple[str, float]]) -> list[Term]:
        """What the cuts before teach the next: their error taken off, because machine and tool give way the same again.

        Args:
            sizes: (key, size wanted) of the cuts before, in order.
        """
        cuts = cuts_so_far(self.measured, sizes)
        if abs(cuts.mean_mm) < 1e-6:
            return []
        if cuts.count == 1:
            return [Term("the cut before came out this much over", -cuts.mean_mm)]
        words = f"the {cuts.count} cuts before came out this much over, give or take {self.say(cuts.spread_mm, 3)}"
        return [Term(words, -cuts.mean_mm)]

    def speed(
        self,
        cutter: Cutter,
        axis: str = "X",
        *,
        share: float = 1.0,
        most_rpm: float = math.inf,
        takes_mm2: float | None = None,
        width_mm: float = math.inf,
    ) -> Speed:
        """As `speed_for`, on this machine and in this metal.

        Args:
            cutter: That cuts.
            axis: That feeds.
            share: Of the table's speed.
            most_rpm: No faster than this.
            takes_mm2: Metal in the way of its feed; None: as much as a roughing cut of this machine may take. An end mill that
                feeds along Z goes straight down then, on its whole Ø and slowly.
            width_mm: How far the side of a mill is in the metal.
        """
        if takes_mm2 is not None:
            taken = takes_mm2
        elif cutter.kind is CutterKind.END_MILL and axis == "Z":
            taken, share = math.pi / 4 * cutter.diameter_mm**2, share * _STRAIGHT_DOWN
        else:
            taken = self._most_taken_mm2(cutter)
        return speed_for(
            self.machine, cutter, self.stock, axis, share=share, most_rpm=most_rpm, takes_mm2=taken, width_mm=width_mm
        )

    def _most_taken_mm2(self, cutter: Cutter) -> float:
        """Across the feed, by a cutter that clears metal; what only breaks an edge or sizes a hole takes next to nothing."""
        if cutter.kind not in (CutterKind.END_MILL, CutterKind.SIDE_AND_FACE):
            return 0.0
        wide = cutter.width_mm if self.machine.horizontal else cutter.diameter_mm
        return self.roughing_mm(wide) * wide

    def roughing_mm(self, width_mm: float) -> float:
        """Deepest roughing cut of a cutter so wide on this machine."""
        return max(0.3, width_mm * self.depth_share)

    # --- tools -------------------------------------------------------------------------------------------------------

    def request(self, words: str, owned: bool, note: str = "") -> None:
        """Put a thing on the kit list once."""
        if all(item.words != words for item in self.kit):
            self.kit.append(KitItem(words, owned, note))

    def held(self, cutter: Cutter) -> Held:
        return held_in(cutter, self.machine, self.shop)

    def need_cutter(self, cutter: Cutter, owned: bool = True) -> None:
        """Put a cutter on the kit list, with a word about what holds it."""
        held = self.held(cutter)
        note = "; ".join(w for w in (cutter.notes, "" if held.certain else held.words) if w)
        self.request(cutter.title, owned, note)

    def mills(self, corner_mm: float = SQUARE_MM) -> list[Cutter]:
        """End mills with no larger corners that can be held, thickest first; all of those when none can be held."""
        mills = [c for c in self.shop.cutters_of(CutterKind.END_MILL) if c.corner_mm <= corner_mm]
        held = [c for c in mills if self.held(c).certain]
        return held or mills

    def end_mill(self, fits: Sequence[Cutter], fallback_mm: float, corner_mm: float = SQUARE_MM) -> Cutter:
        """The chosen end mill, else the first of those that fit, else a stand-in that is missing."""
        chosen = next((c for c in self.shop.cutters_of(CutterKind.END_MILL) if c.id == self.options.cutter), None)
        cutter = chosen or next(iter(fits), None)
        if cutter is None:
            return self.find(CutterKind.END_MILL, fallback_mm)
        self.need_cutter(cutter)
        if cutter.corner_mm > corner_mm:
            self.problems.append(
                f"The {cutter.title} has round corners: {self.say(cutter.corner_mm)} stay in every inner corner it cuts. Pick a"
                " square one, or relieve what sits there"
            )
        better = [c for c in self.shop.cutters_of(CutterKind.END_MILL) if c.diameter_mm > cutter.diameter_mm + 1e-9]
        if chosen is None and better and fits and better[-1] not in self.mills() and better[0] not in fits:
            held = self.held(better[0])
            if not held.certain:
                self.gathered.assumed.append(f"The {better[0].title} would be stiffer: {held.words}")
        return cutter

    def find(self, kind: CutterKind, size_mm: float, name: str = "", under: float = 0.06, over: float = 0.06) -> Cutter:
        """The owned cutter of a kind nearest to a size, or a stand-in marked as missing on the kit list.

        Args:
            under: How much smaller it may be, `over` how much larger; mm.
        """
        fitting = [
            c
            for c in self.shop.cutters_of(kind)
            if size_mm - under - 1e-9 <= c.diameter_mm <= size_mm + over + 1e-9 and c.square and (not name or c.name == name)
        ]
        if fitting:
            best = min(fitting, key=lambda c: (not self.held(c).certain, abs(c.diameter_mm - size_mm)))
            self.need_cutter(best)
            return best
        stand_in = Cutter(id=f"missing {kind.value} {name or size_mm}", kind=kind, diameter_mm=size_mm, name=name, teeth=2)
        self.request(stand_in.title, False, "not in the shop: only its own steps wait for it")
        return stand_in

    def reamer(self, size_mm: float, limits: tuple[float, float] | None = None) -> Cutter:
        """The owned reamer whose holes (H7, 0 to +0.012 or so over its size) come out as wanted; or one that is missing.

        Args:
            limits: How much under and over the size the hole may come out, mm: of two the one that is beyond them least.
        """

        def beyond(c: Cutter) -> float:
            under, over = limits or (0.0, REAMS_OVER_MM)
            return max(0.0, size_mm - under - c.diameter_mm) + max(0.0, c.diameter_mm + REAMS_OVER_MM - size_mm - over)

        fitting = [
            c
            for c in self.shop.cutters_of(CutterKind.REAMER)
            if size_mm - REAMS_OVER_MM - 1e-9 <= c.diameter_mm <= size_mm - REAMS_UNDER_MM + 1e-9
        ]
        if fitting:
            best = min(fitting, key=lambda c: round(beyond(c), 4))
            self.need_cutter(best)
            return best
        return self.find(CutterKind.REAMER, size_mm, under=0.0, over=0.0)

    def least_cut(self, tool: str) -> float:
        """The smallest cut on a diameter to plan, mm.

        Two lines of the cross-slide's dial, and no less than the cut log says may be depended on with this tool.

        Args:
            tool: As operations call it.
        """
        wheel = self.machine.axes.get("X")
        settable = 0.02 if self.machine.readout_step_mm or wheel is None else max(0.02, 2 * wheel.division_mm)
        known = experience(self.shop.others_of("logged cut"), self.machine.id, tool, self.blank.material)
        return max(settable, known.least_mm or 0.0)

    def finish_cuts(self, tool: str, finish_mm: float, most: int = 3) -> int:
        """Into how many equal cuts a finishing allowance on a diameter goes, none finer than may be depended on."""
        return max(1, min(most, int(finish_mm / self.least_cut(tool) - 1e-9)))  # on the edge the coarser

    def tool(self, cutter: Cutter, reach_mm: float = 0.0, axis: str = "z") -> Tool:
        """A cutter as it is held for a cut.

        Args:
            reach_mm: How far its end has to go below the lowest thing its holder may meet.
        """
        held = self.held(cutter)
        edge = cutter.edge_length_mm
        return Tool(
            kind=_KINDS[cutter.kind],
            diameter_mm=cutter.diameter_mm,
            corner_mm=cutter.corner_mm,
            edge_length_mm=edge,
            shank_diameter_mm=cutter.shank_mm,
            stick_out_mm=max(edge, reach_mm) + 5.0 if edge or reach_mm else 0.0,
            point_deg=_POINTS.get(cutter.kind, 0.0),
            width_mm=(
                cutter.width_mm if axis != "z" or cutter.kind in (CutterKind.SIDE_AND_FACE, CutterKind.SLITTING_SAW) else 0.0
            ),
            axis=axis,
            holder=held.words,
        )

    # --- moves -------------------------------------------------------------------------------------------------------

    def climbs(self, finish: bool) -> bool:
        """Whether the machine's policy is to climb on this cut."""
        policy = self.options.climb or self.machine.climb
        return policy == "yes" or (finish and policy == "finish only")

    def cut(
        self,
        id: str,
        words: str,
        positions: Sequence[Position],
        along: str,
        ends: tuple[float, float],
        *,
        wall: float = 0.0,
        finish: bool = False,
        fixed: Mapping[str, float] | None = None,
        **more: object,
    ) -> Move:
        """A level cut along one axis, the others standing on their numbers.

        Args:
            ends: Where along the axis it begins and ends, whichever way it goes.
            wall: Which side the metal that stays is on, over the other axis: +1, −1, or 0 with metal on both.
            finish: It is a finishing cut: the machine may climb there and not before.
            fixed: Axes that stand where no number says.
        """
        where = {"X": 0.0, "Y": 0.0, "Z": 0.0, **(fixed or {}), **{p.axis: p.value_mm for p in positions}}
        low, high = min(ends), max(ends)
        climb = self.climbs(finish)
        # Seen from above the spindle turns with the clock: climbing, the metal lies to the right of the way the cutter goes.
        climbs_forward = wall < 0 if along == "X" else wall > 0
        forward = climbs_forward is climb or wall == 0
        a, b = (low, high) if forward else (high, low)
        path = tuple(tuple(v if axis == along else where[axis] for axis in "XYZ") for v in (a, b))
        table = {
            ("X", True): "to the left",
            ("X", False): "to the right",
            ("Y", True): "toward you",
            ("Y", False): "away from you",
        }
        name = "full width, climb on one side" if wall == 0 else "climb" if climb else "conventional"
        caution = str(more.pop("caution", ""))
        axis = self.machine.axes.get(along)
        if climb and wall and axis is not None and axis.backlash_mm >= 0.1:
            caution = f"{along} has {self.say(axis.backlash_mm)} backlash: climb cutting would drag the table"
        return Move(
            id=id,
            words=words,
            positions=tuple(positions),
            strokes=(Stroke(path),),  # type: ignore[arg-type]
            direction=f"{name}: the table goes {table[along, forward]}",
            caution=caution,
            **more,  # type: ignore[arg-type]
        )

    def plunge(self, id: str, words: str, x: Position, y: Position, z: Position, **more: object) -> Move:
        """Straight down at a place."""
        top = max(CLEAR_MM, z.value_mm + CLEAR_MM)
        path: tuple[Point3, ...] = ((x.value_mm, y.value_mm, top), (x.value_mm, y.value_mm, z.value_mm))
        more.setdefault("lock", "X and Y")
        return Move(id=id, words=words, positions=(x, y, z), strokes=(Stroke(path),), **more)  # type: ignore[arg-type]

    # --- zeros -------------------------------------------------------------------------------------------------------

    def touch_side(self, id: str, axis: str, face: str, at_mm: float, what: str, *, low: bool = True) -> tuple[Move, Zero]:
        """Touch a side with the finder: the axis reads this number there.

        Args:
            at_mm: Where the side is from the axis' zero.
            what: The term's words: "half the bar".
            low: Touched from the low side, the way positions are set; else coming back, and the backlash is a term of its own.
        """
        words, size = self.finder
        sign = -1.0 if low else 1.0
        terms = [*([Term(what, at_mm)] if abs(at_mm) > 1e-9 else []), Term("half the edge finder", sign * size / 2)]
        wheel = self.machine.axes.get(axis)
        if not low and not self.machine.readout_step_mm and wheel is not None and wheel.backlash_mm:
            terms.append(Term("backlash, because the finder comes back to it", wheel.backlash_mm))
        position = self.at(axis, terms)
        move = Move(
            id=id,
            words=f"Touch {face} with the {words}, spindle running slowly: {axis} reads this number there",
            positions=(position,),
            zeroes=axis,
            lock="Y" if axis == "X" else "X",
        )
        return move, Zero(axis=axis, touches=face, tool=words, reads_mm=position.value_mm)

    def touch_top(self, id: str, face: str) -> tuple[Move, Zero]:
        """Bring the cutter down on a feeler: Z zero is the face."""
        feeler = 0.05
        move = Move(
            id=id,
            words=(
                f"{'Raise the knee until' if self.raises_knee else 'Bring'} the cutter"
                f" {'takes' if self.raises_knee else 'down on'} a {self.say(feeler)} feeler on {face}: Z reads"
                f" +{self.say(feeler)} there, zero is the face"
            ),
            positions=(self.at("Z", [Term("feeler", feeler)]),),
            zeroes="Z",
            lock=(
                "quill: use the knee, or the same quill setting throughout" if self.raises_knee else "spindle head after setting"
            ),
        )
        return move, Zero(axis="Z", touches=face, tool="the cutter on a feeler", reads_mm=feeler)

    @property
    def raises_knee(self) -> bool:
        return self.machine.kind in (MachineKind.KNEE, MachineKind.HORIZONTAL)

    @property
    def sides(self) -> Sides:
        return self.gathered.sides

    def vises_over(self, lie: Lie) -> list[Vise]:
        """The shop's vises that open over what lies across them."""
        sizes = {"B": self.blank.width_mm, "D": self.blank.width_mm, "E": self.blank.length_mm, "F": self.blank.length_mm}
        return [v for v in self.shop.vises if v.opening_mm >= sizes.get(lie.away, self.blank.height_mm)]

    def in_vise(self, lie: Lie) -> str:
        """ "in the vise", or "in the split vise" where no other opens so far."""
        opening = self.vises_over(lie)
        return "in the split vise" if opening and all(v.split for v in opening) else "in the vise"

    def held_as(self, words: str, lie: Lie) -> str:
        """How a family says that its work is held."""
        return words.replace(IN_VISE, self.in_vise(lie))

    # --- setups ------------------------------------------------------------------------------------------------------

    def setup(
        self,
        id: str,
        title: str,
        lie: Lie,
        operations: Iterable[Operation],
        *,
        holding: str,
        datum: str = "",
        zeroes: Iterable[Zero] = (),
        **more: object,
    ) -> Setup:
        """A setup whose words follow from how the work lies.

        Args:
            holding: What holds it, "in the vise on parallels" (`in_vise`); faces and turning are put before it from the lie.
        """
        before = self.gathered.lies[-1] if self.gathered.lies else None
        turned = turned_words(lie, before)
        self.gathered.lies.append(lie)
        if more.get("fixture", "vise") == "vise" and self.shop.vises and not self.vises_over(lie):
            # No vise of the shop opens that far: under straps, and nothing is said of jaws.
            more |= {"fixture": "straps", "jaws_mm": 0.0}
            holding = "on parallels under straps, clear of every cut"
        jaws = float(more.get("jaws_mm", 0.0))  # type: ignore[arg-type]
        if jaws and (held := self.sides.gripped(lie, jaws)) < wanted_mm(self.sides.tall(lie)) - 1e-9:
            words = unheld_words(title, self.say(held))
            self.problems.append(words)
            more["cautions"] = (words, *more.get("cautions", ()))  # type: ignore[misc]
        fixture = str(more.get("fixture", "vise"))
        lies = (
            f"{lie.up} up, {lie.away} to the fixed jaw, {lie.right} to the right"
            if fixture == "vise"
            else f"{lie.up} up, {lie.away} away from you, {lie.right} to the right"
            if fixture != "chuck"
            else f"{lie.up} out"
        )
        text = f"{sentence(turned)}: {lies}; {holding}" if turned else f"{lies}; {holding}"
        more.setdefault("fixture", "vise")
        return Setup(
            id=id,
            title=title,
            holding=text,
            datum=datum or datum_words(zeroes),
            operations=tuple(o for o in operations if o.moves),
            lie=lie,
            pose=lie.pose(self.frame) if self.frame else None,
            zeroes=tuple(zeroes),
            machine_id=self.machine.id if self.main and self.machine.id != self.main else "",
            **more,  # type: ignore[arg-type]
        )


def datum_words(zeroes: Iterable[Zero]) -> str:
    """The zeros of a setup in words."""
    return "; ".join(f"{z.axis} from {z.touches}" for z in zeroes) or "each face is touched with the cutter"


def asked(
    key: str, words: str, expected_mm: float, allowed_mm: float = 0.05, by: SizedBy | None = None, *, drawn: bool = True
) -> AskedSize:
    """A size to measure.

    Args:
        by: The axis whose number makes it; None where no dial does.
        drawn: Whether it is a size of the drawing, and not one on the way to it, or how far something is off.
    """
    return AskedSize(key=key, words=words, expected_mm=expected_mm, allowed_mm=allowed_mm, by=by, drawn=drawn)


#: A telescoping gauge begins at about so much, and a shop's set ends there; below it a small-hole gauge is set in the bore.
_TELESCOPING_MM: Final = (10.0, 150.0)


def in_bore(size_mm: float) -> str:
    """How a bore is measured: by what is set in it and then read over a micrometer."""
    least, most = _TELESCOPING_MM
    gauge = "small-hole gauge" if size_mm < least else "telescoping gauge"
    read = f"{gauge} and micrometer" if size_mm <= most else "inside gauge"
    return f"{read} in the bore, crosswise at both ends"
