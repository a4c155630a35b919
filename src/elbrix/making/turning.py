"""Turned parts: faced, turned, bored and parted on the lathe; its cross-slide reads the diameter or the radius."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec.structs import replace

from elbrix.design.work import MadeLength, TurnedBore, TurnedGroove, TurnedKnurl, TurnedPart, TurnedTaper, TurnedThread
from elbrix.making.chucking import PLUG_LESS_MM, bar_in, finished_in, thin_bore
from elbrix.making.context import BORING_BAR, Context, asked, in_bore
from elbrix.making.cross_slide import across, sized_across
from elbrix.making.ends import Step, sides
from elbrix.making.passes import passes
from elbrix.making.plan import AskedSize, Move, Operation, Position, Setup, SizedBy, Term, Zero
from elbrix.making.pose import Lie
from elbrix.making.speeds import PARTED_SHARE, Speed, slowest_for
from elbrix.making.strokes import Stroke, Tool
from elbrix.making.turned_details import BEFORE_MM, STEEL_TOOL, TURNING_TOOL, Pace, groove, knurl, taper, thread
from elbrix.making.wander import roughing, said, wander_asked
from elbrix.mechanics.drilling import point_mm, tapped_mm
from elbrix.quantities.names import parse_thread
from elbrix.quantities.sentences import within
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.threads import find_thread

#: Roughing cut on the diameter by rigidity, and what is left on it for finishing in equal cuts, mm.
_ROUGH: Final = {"light": 0.6, "medium": 1.5, "heavy": 3.0}
_FINISH: Final = 0.6
#: Left at a shoulder for facing it to its length, mm.
_SHOULDER: Final = 0.2
#: Standing further out than so many times its Ø, the free end is carried by a centre.
SLENDER: Final = 3.0
#: Core that is left of a long piece when it is parted, and sawn, mm.
_CORE_MM: Final = 3.0


#: More than this in and behind the chuck may stand out behind the spindle of a small lathe, mm. Source: shop practice.
_BEHIND_MM: Final = 150.0
_WHIPS: Final = (
    "No bar stands out free behind the spindle: it whips, bends and strikes. Saw it shorter, or carry it there in a fixed tube."
)


class Turning:
    """The work of one bar in the chuck. Z is zero on the faced end, − toward the chuck."""

    def __init__(self, ctx: Context, steps: Sequence[Step]) -> None:
        self.ctx = ctx
        self.steps, self.behind = sides(steps, ctx.blank.length_mm)
        self.stock = ctx.round_mm
        self.tool = Cutter(id="turning tool", kind=CutterKind.END_MILL, diameter_mm=self.stock, teeth=1)

    def across(self, terms: list[Term]) -> Position:
        """The cross-slide's number."""
        return across(self.ctx, terms)

    def across_reads(self, size_mm: float) -> float:
        """What the cross-slide's dial reads on an outside of this Ø."""
        return self.across([Term("as measured", size_mm)]).value_mm

    def operation(
        self, title: str, tool: str, shape: Tool, moves: Sequence[Move], note: str = "", pace: Pace | Cutter = Pace.TURN
    ) -> Operation:
        """One operation.

        Args:
            title: On the card.
            tool: In words.
            shape: What cuts.
            moves: In order.
            note: Beside it.
            pace: How fast the work turns; or a drill, whose own Ø says so.
        """
        return Operation(
            title=title, tool=tool, cutter=shape, speed=self._speed(pace, shape.width_mm), moves=tuple(moves), note=note
        )

    def _speed(self, pace: Pace | Cutter, blade_mm: float) -> Speed | None:
        if isinstance(pace, Cutter):
            return self.ctx.speed(pace, "Z")
        if pace is Pace.HAND:
            return None
        if pace is Pace.SLOWEST:
            return slowest_for(self.ctx.machine, self.tool, self.ctx.stock, "Z")
        parts = pace is Pace.PART
        deep = blade_mm if parts else _ROUGH.get(self.ctx.machine.rigidity, 1.5) / 2
        return self.ctx.speed(self.tool, "Z", share=PARTED_SHARE if parts else 1.0, takes_mm2=math.pi * self.stock * deep)

    # --- the first end -----------------------------------------------------------------------------------------------

    def first(self) -> Setup:
        ctx, length = self.ctx, self.ctx.blank.length_mm
        skim = self.stock / 2  # where nothing is skimmed
        z0 = ctx.at("Z", [Term("face", 0.0)])
        face = Move(
            id="turn.face",
            words=self._faced_words(),
            positions=(z0,),
            strokes=(Stroke(((self.stock / 2 + BEFORE_MM, 0.0, 0.0), (0.0, 0.0, 0.0))),),
            zeroes="Z",
            lock="carriage",
            feature="free end",
        )
        outsides = sorted((s for s in self.steps if isinstance(s, TurnedPart)), key=lambda s: -s.size_mm)
        operations = [self.operation("Face", "facing tool", TURNING_TOOL, (face,))]
        if self.slender:
            operations.append(self._centred())
        at = self.stock
        uses_dial = any(isinstance(s, TurnedTaper | TurnedGroove | TurnedThread | TurnedKnurl) for s in self.steps)
        if uses_dial or any(self.stock - s.size_mm > 0.005 for s in outsides):
            widest = max((s.size_mm for s in outsides), default=self.stock)
            take = min(0.3, max(0.0, self.stock - widest))
            if take <= 0.05:
                operations.append(self.touched("turn.zero", self.stock))
            else:
                skim = (self.stock - take) / 2
                deep = min(max(5.0, 0.3 * length), outsides[0].length_mm if ctx.blank.hex_mm else length)
                touch = Move(
                    id="turn.zero",
                    words="Take a skim, measure it, and set the cross-slide dial to read it",
                    positions=(self.across([Term("diameter as measured after the skim", 2 * skim)]),),
                    strokes=(Stroke(((skim, 0.0, BEFORE_MM), (skim, 0.0, -deep))),),
                    zeroes="X",
                    lock="carriage",
                    feature="outside",
                )
                operations.append(self.operation("Set the cross-slide", STEEL_TOOL, TURNING_TOOL, (touch,)))
        for step in outsides:
            found = self.outside(step, at)
            if found is not None:
                operations.append(found)
            at = min(at, step.size_mm)
        operations += self.after(self.steps)
        for bore in (s for s in self.steps if isinstance(s, TurnedBore)):
            operations += self._bore(bore)
        core = f", down to a core of {ctx.say(_CORE_MM)}: stop, take the centre back, saw the rest" if self.slender else ""
        cut_off = ctx.at(
            "Z",
            [
                Term("length", -length),
                Term("left for facing", -ctx.cutting.turned_facing_mm),
                Term("the parting tool's width", -ctx.cutting.parting_mm),
            ],
        )
        operations.append(
            self.operation(
                "Part",
                "parting tool",
                Tool(kind="parting", axis="z", on="lathe", width_mm=ctx.cutting.parting_mm, holder="tool post"),
                (
                    Move(
                        id="turn.part",
                        words=f"Part off {ctx.say(length + ctx.cutting.turned_facing_mm)} from the face" + core,
                        positions=(cut_off,),
                        strokes=(Stroke(((self.stock / 2 + BEFORE_MM, 0.0, cut_off.value_mm), (0.0, 0.0, cut_off.value_mm))),),
                        lock="carriage",
                        feature="length",
                        may_be_air=True,
                        caution=(
                            "Never part through between chuck and centre: the piece closes on the tool and is thrown out."
                            if self.slender
                            else "Catch the piece with a wire or a tray, never with the hand; slow, plenty of oil."
                        ),
                    ),
                ),
                pace=Pace.PART,
            )
        )
        pieces = f", {ctx.blank.pieces} pieces one after the other" if ctx.blank.pieces > 1 else ""
        return ctx.setup(
            "turn",
            "Turn" + pieces,
            Lie(up="E", away="B", zero=(0.0, 0.0, -ctx.blank.round_mm / 2)),
            operations,
            holding=f"{bar_in(ctx, self.stock)}, {self._through()}{ctx.say(self.out)} out, {ctx.say(self.grip)} or more gripped"
            + ("; a centre holds the end, it is over three times its Ø" if self.slender else ""),
            datum=f"Z zero on the faced end, − toward the chuck; the cross-slide reads the {ctx.machine.dial_reads}",
            zeroes=(
                Zero(axis="Z", touches="the faced end", tool="the facing tool", reads_mm=0.0),
                Zero(axis="X", touches="the outside as measured", tool="the turning tool", reads_mm=self.across_reads(2 * skim)),
            ),
            fixture="chuck",
            stands="is turned in the lathe",
            each=True,
            cautions=(
                "Take the chuck key out before the spindle turns.",
                "No gloves, no loose sleeves, no rag at a turning lathe.",
                *((_WHIPS,) if self._behind_mm > _BEHIND_MM else ()),
            ),
        )

    @property
    def _behind_mm(self) -> float:
        """How much of the bar is in and behind the chuck when the first piece is begun."""
        one_by_one = self.ctx.cutting.one_by_one(self.ctx.blank, self.stock)
        return 0.0 if one_by_one else self.ctx.bar_length - self.out

    def _through(self) -> str:
        """Where the bar's other pieces are meanwhile: in the spindle, or sawn off by themselves."""
        ctx = self.ctx
        if ctx.blank.pieces == 1:
            return ""
        if ctx.cutting.one_by_one(ctx.blank, self.stock):
            bore = ctx.say(ctx.cutting.spindle_mm)
            return f"each length by itself, the bar does not go through the spindle's {bore}, "
        if not ctx.cutting.spindle_mm:
            ctx.assumed.append(
                f"The bar goes through the spindle: its bore is not recorded in Shop, Ø{ctx.say(self.stock)} has to pass."
                " If it does not, saw each piece with its own grip"
            )
        return "the bar through the spindle, "

    @property
    def out(self) -> float:
        """How far it stands out of the chuck."""
        cutting = self.ctx.cutting
        return self.ctx.blank.length_mm + cutting.turned_facing_mm + cutting.parting_mm + cutting.clear_of_jaws_mm

    @property
    def slender(self) -> bool:
        return self.out > SLENDER * self.stock

    def _faced_words(self) -> str:
        if not self.slender:
            return "Face the end clean; Z zero is the face"
        if not self.steady:
            return "With the bar drawn in close, face the end clean"
        self.ctx.request("fixed steady", True)
        return (
            "The bar does not go into the spindle: run it in the fixed steady, set close to the end and true by the indicator;"
            " face the end clean in light cuts"
        )

    @property
    def steady(self) -> bool:
        """Whether long work cannot be drawn in to be faced."""
        return self.slender and self.ctx.cutting.too_thick(self.stock)

    def _centred(self) -> Operation:
        """The free end is carried: what stands far out of the chuck springs from the tool, climbs on it and is bent."""
        self.ctx.request("centre drill", True)
        self.ctx.request("tailstock centre", True)
        tool = Tool(kind="drill", diameter_mm=3.0, point_deg=60.0, on="lathe", holder="tailstock chuck")
        move = Move(
            id="turn.centre",
            words=(
                "Centre-drill the end, small; its hole stays in it. "
                + ("" if self.steady else "Draw the bar out, ")
                + ("Bring" if self.steady else "bring")
                + " the tailstock's centre up,"
                + (" take the steady away," if self.steady else "")
                + " and touch the faced end again: Z zero is the face"
            ),
            positions=(self.ctx.at("Z", [Term("face", 0.0)]),),
            zeroes="Z",
            lock="tailstock",
            feature="free end",
            caution="Oil the centre, and feel it again when the work is warm: it grows in length.",
        )
        return self.operation("Centre", "centre drill in the tailstock chuck", tool, (move,))

    @property
    def grip(self) -> float:
        return self.ctx.cutting.grip(self.ctx.blank, self.stock)

    def second(self) -> Setup:
        ctx, length = self.ctx, self.ctx.blank.length_mm
        z = ctx.at("Z", [Term("face", 0.0)])
        face = Move(
            id="second_end.face",
            words=f"Face till it is {ctx.say(length)} over the ends; Z zero is the face then",
            positions=(z,),
            strokes=(Stroke(((self.stock / 2 + BEFORE_MM, 0.0, 0.0), (0.0, 0.0, 0.0))),),
            zeroes="Z",
            lock="carriage",
            asked=asked("length", "caliper over the ends", length),
            feature="length",
        )
        thin = thin_bore(self.steps, length)
        operations = [
            *([self._plug(thin)] if thin is not None else []),
            self.operation("Face to length", "facing tool", TURNING_TOOL, (face,)),
        ]
        parts = sorted((s for s in self.behind if isinstance(s, TurnedPart)), key=lambda s: -s.size_mm)
        if self.behind:
            operations.append(self.touched("second_end.zero", self.parted_mm))
        at = self.parted_mm
        for step in parts:
            found = self.outside(replace(step, shoulder=None), at)  # seen from here what lies behind it is another length
            if found is not None:
                operations.append(found)
            at = min(at, step.size_mm)
        operations += self.after(self.behind)
        return ctx.setup(
            "second_end",
            "Second end",
            Lie(up="F", away="B", zero=(length, 0.0, -ctx.blank.round_mm / 2)),
            operations,
            holding=(
                "on a plug in its bore, drawn up by a screw and a washer that stay clear of the tool: its wall is thin, jaws"
                " would press it three-cornered"
                if thin is not None
                else finished_in(ctx, self.held_by) + self._far_end(length)
            ),
            datum="Z zero on the second end once it is faced to length, − toward the chuck",
            zeroes=(Zero(axis="Z", touches="the second end, faced to length", tool="the facing tool", reads_mm=0.0),),
            fixture="chuck",
            stands="is turned in the lathe",
            each=True,
        )

    def _far_end(self, length: float) -> str:
        """What carries the end that is faced, where the piece is long and does not go into the spindle."""
        if length <= SLENDER * self.held_by or not self.ctx.cutting.too_thick(self.held_by):
            return ""
        self.ctx.request("fixed steady", True)
        return "; it does not go into the spindle: its far end runs in the fixed steady, clear of what is cut"

    @property
    def held_by(self) -> float:
        """The widest finished Ø: what the second end is held by."""
        return max((s.size_mm for s in self.steps if isinstance(s, TurnedPart)), default=self.stock)

    def _plug(self, bore: TurnedBore) -> Operation:
        """Turned where it stays, so that it runs true: the piece is pushed on it."""
        ctx = self.ctx
        self.ctx.request("scrap for a plug, a screw and a washer for its end", True)
        move = Move(
            id="second_end.plug",
            words=(
                f"Turn a plug from scrap to the bore as measured, less {ctx.say(PLUG_LESS_MM)}, shorter than the piece, tapped in"
                " its end; leave it in the chuck. Mark it to a jaw if it has to come out"
            ),
            positions=(self.across([Term(bore.name.lower(), bore.size_mm), Term("so that it slides on", -PLUG_LESS_MM)]),),
            lock="carriage",
            caution="Light cuts: only the screw drives it.",
        )
        return self.operation("Plug", STEEL_TOOL, TURNING_TOOL, (move,))

    @property
    def parted_mm(self) -> float:
        """What the end has outside at which it is parted off: the least Ø that was turned past it, else the bar's."""
        past = self.ctx.blank.length_mm - 1e-6
        turned = (s.size_mm for s in self.steps if isinstance(s, TurnedPart) and s.length_mm >= past)
        return min(turned, default=self.stock)

    def touched(self, id: str, size_mm: float) -> Operation:
        """The outside as it is there, measured, sets the cross-slide."""
        bare = size_mm >= self.stock - 1e-6
        where = "a corner of the hexagon" if self.ctx.blank.hex_mm and bare else "the outside"
        move = Move(
            id=id,
            words=f"Touch {where}, measure it there, and set the cross-slide dial to read it",
            positions=(self.across([Term("diameter as measured", size_mm)]),),
            zeroes="X",
            lock="carriage",
        )
        return self.operation("Set the cross-slide", STEEL_TOOL, TURNING_TOOL, (move,))

    def after(self, steps: Sequence[Step]) -> list[Operation]:
        """What is cut on diameters that are turned: tapers, grooves, then threads."""
        return [
            *(taper(self, s) for s in steps if isinstance(s, TurnedTaper)),
            *(groove(self, s) for s in steps if isinstance(s, TurnedGroove)),
            *(knurl(self, s) for s in steps if isinstance(s, TurnedKnurl)),
            *(thread(self, s) for s in steps if isinstance(s, TurnedThread)),
        ]

    # --- cuts --------------------------------------------------------------------------------------------------------

    def _pass(self, id: str, words: str, size: float, terms: list[Term], z: Position, **more: object) -> Move:
        stroke = Stroke(((size / 2, 0.0, BEFORE_MM), (size / 2, 0.0, z.value_mm)))
        return Move(
            id=id,
            words=words,
            positions=(self.across(terms), z),
            strokes=(stroke,),
            lock="compound slide",
            **more,  # type: ignore[arg-type]
        )

    def outside(self, step: TurnedPart, start: float) -> Operation | None:
        ctx = self.ctx
        z = ctx.at("Z", [Term("from the face", -step.length_mm)])
        last_part = step.length_mm >= ctx.blank.length_mm - 1e-6
        if last_part:
            # Turned past the end, so that nothing of the bar's skin is left where it is parted.
            z = ctx.at(
                "Z",
                [
                    Term("length", -step.length_mm),
                    Term("past the parting cut", -ctx.cutting.turned_facing_mm - ctx.cutting.parting_mm),
                ],
            )
        note = f"To {ctx.say(step.length_mm)} from the face"
        shoulder = step.shoulder if not last_part else None
        end = z
        if shoulder is not None:
            z = ctx.at("Z", [Term("from the face", -step.length_mm), Term("left for its shoulder", _SHOULDER)])
        over = start - step.size_mm
        if over <= 0.005:
            return None
        finish = _FINISH if over > 2 * _FINISH else min(over, _FINISH)
        count = ctx.finish_cuts(STEEL_TOOL, finish / 2)
        cuts = passes(over, _ROUGH.get(ctx.machine.rigidity, 1.5), finish, ctx.options.passes, finish_cuts=count)
        moves = []
        for n, p in enumerate(cuts, 1):
            left = over - p.to_mm
            last = n == len(cuts)
            terms = [
                Term(step.name.lower(), step.size_mm),
                *([Term("left for the next cut", left)] if left > 1e-9 else []),
                *ctx.came_out([(f"{step.id}.size{k}", step.size_mm + over - c.to_mm) for k, c in enumerate(cuts[: n - 1], 1)]),
            ]
            moves.append(
                self._pass(
                    f"{step.id}.{n}",
                    f"{step.name}, {'equal finishing cut' if p.finish else f'roughing cut {n}'}",
                    step.size_mm + left,
                    terms,
                    z,
                    asked=(
                        asked(
                            f"{step.id}.size" if last else f"{step.id}.size{n}",
                            f"micrometer over the {within(step.name)}",
                            step.size_mm + left,
                            step.allowed_mm if last else 0.1,
                            sized_across(ctx),
                            drawn=last,
                        )
                        if p.finish
                        else None
                    ),
                    feature=step.feature,
                )
            )
        if shoulder is not None:
            moves.append(self._shoulder(step, shoulder, end, start))
        return self.operation(f"Turn Ø{self.ctx.size(step.size_mm)}", STEEL_TOOL, TURNING_TOOL, moves, note)

    def _shoulder(self, step: TurnedPart, made: MadeLength, z: Position, start: float) -> Move:
        """Faced to its length when its Ø is made: the tool, still on it, goes the rest of the way and is drawn out."""
        on, edge, at = step.size_mm / 2, start / 2 + BEFORE_MM, z.value_mm
        return Move(
            id=f"{step.id}.shoulder",
            words=f"Face the shoulder of the {within(step.name)}: the tool, still on that Ø, on to this number, then drawn out",
            positions=(z,),
            strokes=(Stroke(((on, 0.0, at + _SHOULDER), (on, 0.0, at), (edge, 0.0, at))),),
            lock="carriage while it is drawn out",
            feature=made.size,
            asked=asked(
                f"{step.id}.length",
                made.words,
                made.length_mm,
                by=SizedBy("Z", 1.0) if made.behind else SizedBy("Z", -1.0, inside=True),
            ),
        )

    def _asked_of_drill(self, step: TurnedBore) -> AskedSize | None:
        """How far a hole wandered that is bored next; how deep a blind one is that stays as drilled."""
        if not step.drilled and not step.thread:
            return wander_asked(step.id, "it stands on the bed, the work turns")
        if not step.depth_mm or step.thread:
            return None
        words = f"depth gauge, how deep the {within(step.name)} is at its full Ø"
        return asked(f"{step.id}.depth", words, step.depth_mm, 0.1, SizedBy("Z", -1.0, inside=True))

    def _bore(self, step: TurnedBore) -> list[Operation]:
        ctx, length = self.ctx, self.ctx.blank.length_mm
        thread = find_thread(parse_thread(step.thread)) if step.thread else None
        wanted = thread.tap_drill[1] if thread else step.size_mm - 1.0
        if thread or step.drilled:
            drill = ctx.find(CutterKind.DRILL, wanted if thread else step.size_mm)
        else:
            fitting = [c for c in ctx.shop.cutters_of(CutterKind.DRILL) if c.diameter_mm <= wanted]
            drill = fitting[0] if fitting else ctx.find(CutterKind.DRILL, step.drill_mm or max(3.0, round(wanted, 1)))
            if fitting:
                ctx.need_cutter(drill)
        cone = point_mm(drill.diameter_mm)
        past = -(length + ctx.cutting.turned_facing_mm + ctx.cutting.parting_mm)
        deep = (
            [Term("depth", -step.depth_mm)]
            if step.depth_mm
            else [Term("length", -length), Term("past the parting cut", past + length)]
        )
        if thread and step.depth_mm:
            deep = [*deep, Term("three turns for the tap's lead", -tapped_mm(0.0, thread.pitch_mm))]
        z = ctx.at("Z", [*deep, Term("drill point", -cone)])
        shape = Tool(kind="drill", diameter_mm=drill.diameter_mm, point_deg=118.0, on="lathe", holder="tailstock chuck")
        found = [
            self.operation(
                f"Drill {drill.title.removeprefix('drill ')}",
                drill.title,
                shape,
                (
                    Move(
                        id=f"{step.id}.drill",
                        words="Take the centre back, then drill" if self.slender else "Centre, then drill",
                        positions=(z,),
                        strokes=(Stroke(((0.0, 0.0, BEFORE_MM), (0.0, 0.0, z.value_mm))),),
                        lock="tailstock",
                        feature=step.feature,
                        asked=self._asked_of_drill(step),
                        # Of a hole that stays as drilled the nearest drill is near enough; its cone shifts with it.
                        allowed_mm=0.85 * abs(drill.diameter_mm - step.size_mm) if step.drilled and not thread else 0.0,
                    ),
                ),
                pace=drill,
            )
        ]
        if step.drilled:
            return found
        floor = ctx.at("Z", deep)
        if thread:
            tap = ctx.find(CutterKind.TAP, thread.major_mm, name=thread.name)
            found.append(
                self.operation(
                    f"Tap {thread.shown}",
                    tap.title,
                    Tool(kind="tap", diameter_mm=tap.diameter_mm, on="lathe"),
                    (
                        Move(
                            id=f"{step.id}.tap",
                            words="Tap by hand, the tailstock's centre as guide",
                            positions=(ctx.at("Z", [Term("depth", -(step.depth_mm or length))]),),
                            lock="spindle",
                            caution="Power off.",
                            feature=step.feature,
                        ),
                    ),
                    pace=Pace.HAND,
                )
            )
            return found
        gap = step.size_mm - drill.diameter_mm
        moves = []
        wander = said(ctx, step.id, step.name, drill.diameter_mm, step.size_mm)
        cuts = (
            passes(
                gap,
                roughing(ctx, step.id, _ROUGH.get(ctx.machine.rigidity, 1.0)),
                min(_FINISH, gap),
                ctx.options.passes,
                finish_cuts=ctx.finish_cuts(BORING_BAR, min(_FINISH, gap)),
            )
            if gap > 0.005
            else ()
        )
        for n, p in enumerate(cuts, 1):
            left = gap - p.to_mm
            last = n == len(cuts)
            terms = [
                Term(step.name.lower(), step.size_mm),
                *([Term("left for the next cut", -left)] if left > 1e-9 else []),
                *ctx.came_out([(f"{step.id}.size{k}", step.size_mm - gap + c.to_mm) for k, c in enumerate(cuts[: n - 1], 1)]),
            ]
            moves.append(
                self._pass(
                    f"{step.id}.{n}",
                    f"{step.name}, {'equal finishing cut' if p.finish else 'roughing cut'}",
                    step.size_mm - left,
                    terms,
                    floor,
                    asked=(
                        asked(
                            f"{step.id}.size" if last else f"{step.id}.size{n}",
                            in_bore(step.size_mm - left),
                            step.size_mm - left,
                            step.allowed_mm if last else 0.1,
                            sized_across(ctx, inside=True),
                            drawn=last,
                        )
                        if p.finish
                        else None
                    ),
                    feature=step.feature,
                )
            )
        if moves:
            found.append(
                self.operation(
                    f"Bore Ø{ctx.size(step.size_mm)}",
                    BORING_BAR,
                    Tool(kind="boring", axis="z", on="lathe", holder="tool post"),
                    moves,
                    "Equal cuts, because bar and machine then give way by the same amount each time"
                    + (f". {wander}" if wander else ""),
                )
            )
        return found
