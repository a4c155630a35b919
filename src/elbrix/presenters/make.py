"""What the Make bench shows. No widgets here."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.finishing import Finished, finish, is_finished
from elbrix.book.lessons import lessons_of_feature
from elbrix.drawing.scene import Scene
from elbrix.making.chucking import LATHE_HOLDS
from elbrix.making.minutes import plan_minutes
from elbrix.making.options import Options
from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.making.planner import lathes, milling_machines, position_working
from elbrix.making.proof import plan_checks
from elbrix.making.schools import CLIMB, DATUM, HOLES
from elbrix.making.taught import cuts_so_far
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import tiles_of, why_check
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH, Length, UnitStyle, entry_text
from elbrix.quantities.sentences import sentence, unbroken, within
from elbrix.results.checks import Check
from elbrix.results.length_text import length, said_in
from elbrix.shop.cut_log import LoggedCut, cut_checks, experience, today
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind
from elbrix.standards.heat import TREATMENTS

if TYPE_CHECKING:
    from elbrix.rehearsal.at_readout import AxisLeft
    from elbrix.rehearsal.slips import RehearsalResult
    from elbrix.rehearsal.trainer import Hidden


class MoveLine(Struct, frozen=True, kw_only=True):
    """One move in words, for the list and for the view at the machine."""

    id: str
    words: str
    numbers: tuple[tuple[str, str], ...]  #: (axis, as the dial shows it)
    details: tuple[str, ...]  #: terms, approach, lock, direction
    caution: str
    ask: str  #: what to measure, with the size expected; empty for nothing
    ask_key: str
    measured: str  #: text of the measured size
    done: bool
    keyed: tuple[str, ...]  #: for each number, what was really set; empty where nothing was typed
    tool: str
    speed: str
    setup: str
    note: str = ""  #: how the whole operation is done; over the list it stands once, at the machine with every move


def hours(minutes: float) -> str:
    """A time as it is said at a bench: "50 min", "2 h 10"."""
    rounded = 10 * round(minutes / 10) or 10
    return f"{rounded} min" if rounded < 60 else f"{rounded // 60} h" + (f" {rounded % 60}" if rounded % 60 else "")


#: Views of the plate: the metal, and with handwheels under it.
PLATE_TABS: Final = ("metal", "handwheels")
#: A cut smaller than this is none: the same number set again, mm.
_NO_CUT_MM: Final = 0.002


class MakePresenter:
    """The plan of one design, and how far it has come."""

    def __init__(self, doc: DesignDoc, shop: Shop, style: UnitStyle, job: JobDoc, before: MakePresenter | None = None) -> None:
        """Plan a design.

        Args:
            before: What was shown before: when nothing that a plan is made from has changed, its plan and pictures are kept.
        """
        self.doc, self.shop, self.style, self.job = doc, shop, style, job
        self.plan: Plan | None = None
        self.problem: ShopError | None = None
        self.heard: RehearsalResult | None = None
        self.hidden: Hidden | None = None  #: a slip put into the card for practice
        self.turned: dict[str, str] | None = None  #: as the handwheels stand; None while they are not shown
        self._pictures: dict[tuple[object, ...], Scene | None] = {}
        if before is not None and before.made_from == self.made_from:
            self.plan, self.problem, self._pictures = before.plan, before.problem, before._pictures
            self.heard = before.heard if before.job.keyed == job.keyed else None
            self.hidden, self.turned = before.hidden, before.turned
            return
        try:
            self.plan = plan_doc(doc, solve_doc(doc, shop), shop, job, style.length)
        except ShopError as error:
            self.problem = error

    @property
    def made_from(self) -> tuple[object, ...]:
        """What the plan depends on."""
        return (self.doc, self.shop, self.style.length, self.job.options, self.job.measured)

    def rehearse_slips(self) -> RehearsalResult | None:
        """Rehearse the plan as it was keyed so far: a few tenths of a second, for beside the window."""
        from elbrix.rehearsal.slips import SlipsMade, rehearse_slips  # NumPy is not needed to start

        if self.plan is None or self.plan.solid is None:
            return None
        # Numbers that were steered by a reading aim at the drawn size all the same: the drawn plan is what is cut.
        drawn = self.plan
        if self.job.measured:
            drawn = plan_doc(
                self.doc, solve_doc(self.doc, self.shop), self.shop, replace(self.job, measured={}), self.style.length
            )
        try:
            return rehearse_slips(drawn, self.shop, SlipsMade(keyed=self._keyed_now()), shown=self.plan)
        except ShopError:
            return rehearse_slips(drawn, self.shop, SlipsMade())

    def slip(self, seed: int) -> Hidden | None:
        """One slip for the card; None where no number could hide it. Takes a second or so: for beside the window."""
        from elbrix.rehearsal.trainer import hide  # NumPy is not needed to start

        return hide(self.plan, self.shop, seed) if self.plan is not None and self.plan.solid is not None else None

    def accuse(self, move: str) -> str:
        """What to say when a move is called wrong in practice; found, the card is good again."""
        hidden = self.hidden
        if hidden is None:
            return ""
        if move == hidden.move:
            self.hidden = None
            return said_in(f"Found. {hidden.words}. In metal: {hidden.harm}.", self.style)
        setups = [s.title for s, _, m in self.moves if m.id == hidden.move]
        mine = next((s.title for s, _, m in self.moves if m.id == move), "")
        where = "It is in this setup" if mine in setups else f"It is not in “{mine}”"
        return f"That number is what the plan has. {where}: work one out from its terms and the picture."

    def _keyed_now(self) -> dict[str, str]:
        """What was keyed, of moves that still are in the plan."""
        there = {f"{m.id}.{p.axis}" for _, _, m in self.moves for p in m.positions}
        return {k: v for k, v in self.job.keyed.items() if k in there}

    def with_keyed(self, move: str, axis: str, text: str) -> JobDoc:
        """The job with a number as it was really set; an empty text takes it away.

        Raises:
            EntryError: No number that the machine can show.
        """
        from elbrix.rehearsal.slips import wrong_number

        name = f"{move}.{axis}"
        kept = {k: v for k, v in self.job.keyed.items() if k != name}
        if not text.strip() or self.plan is None:
            return replace(self.job, keyed=kept)
        wrong_number(self.plan, self.shop, name, text)
        return replace(self.job, keyed={**kept, name: text.strip()})

    @property
    def moves(self) -> tuple[tuple[Setup, Operation, Move], ...]:
        return self.plan.moves if self.plan else ()

    def first_open(self) -> str:
        """Id of the first move not done, else of the last."""
        for _, _, move in self.moves:
            if move.id not in self.job.done:
                return move.id
        return self.moves[-1][2].id if self.moves else ""

    def place_of(self, id: str) -> int:
        """Index of a move, 0 for an unknown one."""
        return next((i for i, (_, _, m) in enumerate(self.moves) if m.id == id), 0)

    def subtitle(self) -> str:
        if self.plan is None:
            return ""
        done = sum(m.id in self.job.done for _, _, m in self.moves)
        time = hours(plan_minutes(self.plan))
        return f"on {self.plan.machine}  ·  {done} of {len(self.moves)} moves done  ·  about {time}  ·  {self._from()}"

    def _from(self) -> str:
        assert self.plan is not None
        if self.plan.there:
            return f"on {self.plan.there}"
        cut = self.style.with_unit(self.plan.cut_length.value, "mm", 0.5)
        return f"{cut} of bar" if self.plan.bar else f"{cut} of a bar to buy"  # which bar stands over the moves

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self, id: str) -> PlateView:
        """The setup with the cutter where the numbers put it."""
        if not self.moves:
            return PlateView(
                Scene(""),
                message=said_in(str(self.problem or "Nothing to make yet. Design something first."), self.style),
                thing="none",
            )
        setup, _, move = self.moves[self.place_of(id)]
        scene = self.picture(setup, move) or Scene("")
        if not scene.elements:
            return PlateView(
                Scene(""),
                title=setup.title.upper(),
                message=self._said(f"{setup.title}\n\n{move.words}"),
                thing=move.id,
                tabs=PLATE_TABS if self.turned is not None else (),
                tab=int(self.turned is not None),
            )
        numbers = "     ".join(f"{p.axis} {self.number(move, p)}" for p in move.positions)
        slip = self.heard.slip if self.heard is not None else None
        return PlateView(
            scene,
            title=f"{setup.title.upper()}   {scene.title}"
            if self.hidden is None
            else "PRACTICE   one number is wrong: cut nothing",
            footer=self._said(slip.words if slip is not None and slip.move == move.id else numbers or setup.holding),
            thing=f"{setup.id} {self.style.length}",
            tabs=PLATE_TABS if self.has_wheels(id) or self.turned is not None else (),
            tab=int(self.turned is not None),
        )

    def has_wheels(self, id: str) -> bool:
        """Whether a move is set on handwheels that are recorded."""
        if not self.moves:
            return False
        setup, _, move = self.moves[self.place_of(id)]
        machine = next(
            (m for m in self.shop.machines if m.id == (setup.machine_id or (self.plan.machine_id if self.plan else ""))), None
        )
        return machine is not None and any(p.axis in machine.axes for p in move.positions)

    def picture(self, setup: Setup, move: Move | None = None, *, small: bool = False) -> Scene | None:
        """The metal in a setup after a move, or before its first one."""
        from elbrix.rehearsal.pictures import SMALL_CELLS, setup_scene  # NumPy is not needed to start
        from elbrix.rehearsal.section import CELLS
        from elbrix.rehearsal.slips import slips_of

        if self.plan is None:
            return None
        key, keyed = self._picture_key(setup, move, small=small), self._cut_with() if not small else {}
        if key not in self._pictures:
            slips = slips_of(self.plan, self.shop, keyed) if keyed else None
            self._pictures[key] = setup_scene(self.plan, setup, move, SMALL_CELLS if small else CELLS, slips)
        return self._pictures[key]

    def _picture_key(self, setup: Setup, move: Move | None, *, small: bool = False) -> tuple[object, ...]:
        return (setup.id, move.id if move else "", small, () if small else tuple(self._cut_with().items()))

    def _cut_with(self) -> dict[str, str]:
        """The metal on the plate is cut with what was keyed, and with what the handwheels stand at."""
        return self._keyed_now() | (self.turned or {})

    def turn_to(self, turned: dict[str, str] | None) -> None:
        """Other places of the handwheels: pictures of those before are not kept."""
        if self.turned:
            old = tuple(self._cut_with().items())
            self._pictures = {k: v for k, v in self._pictures.items() if k[-1] != old}
        self.turned = turned

    def has_picture(self, id: str) -> bool:
        """Whether the plate of a move can be shown at once; else it takes a tenth of a second to work out."""
        if not self.moves:
            return True
        setup, _, move = self.moves[self.place_of(id)]
        return self._picture_key(setup, move) in self._pictures

    def number(self, move: Move, p: Position) -> str:
        """A number of the card; in practice one of them is wrong."""
        h = self.hidden
        return h.shown if h is not None and (h.move, h.axis) == (move.id, p.axis) else p.dial.text

    # --- moves -------------------------------------------------------------------------------------------------------

    def line(self, setup: Setup, operation: Operation, move: Move) -> MoveLine:
        """A move in words."""
        details = []
        for p in move.positions:
            if self.hidden is not None:
                continue  # in practice the working is the learner's
            if len(p.terms) > 1:
                derivation = position_working(p)
                details.append(f"{p.axis} = {derivation.formula} = {derivation.with_numbers}")
            if p.dial.approach:
                details.append(f"{p.axis}: {p.dial.approach}")
            elif not p.dial.is_exact:
                off = f"{p.dial.off_mm * 1000:+.1f} µm" if self.style.length == "mm" else f"{p.dial.off_mm / MM_PER_INCH:+.5f} in"
                wanted = self.style.show(p.value_mm, "mm", 0.0001)
                details.append(f"{p.axis}: wanted {wanted}, the dial sets {off} off".replace("-", "−"))
        if move.lock:
            details.append(f"Lock {move.lock}")
        if move.direction:
            details.append(f"Cut {move.direction}")
        details += [f"Learned {lesson.on}: {lesson.text}" for lesson in lessons_of_feature(self.doc, move.feature)]
        speed = ""
        if operation.speed is not None:
            speed = f"{operation.speed.rpm} rpm, {self.style.feed(operation.speed.feed_mm_min)}"
            if operation.speed.seconds_per_turn:
                speed += f", {operation.speed.seconds_per_turn:.1f} s a turn"
        # How the whole operation has to be cut is said before its first move.
        paced = operation.speed.caution if operation.speed is not None and move is operation.moves[0] else ""
        asked = move.asked
        typed = self.job.measured.get(asked.key) if asked else None
        return MoveLine(
            id=move.id,
            words=self._said(move.words),
            numbers=tuple((p.axis, self.number(move, p)) for p in move.positions),
            details=tuple(map(self._said, details)),
            caution=self._said(" ".join(c for c in (move.caution, paced) if c)),
            ask=f"{self._said(asked.asking)}: {unbroken(asked.shown(self.style))}" if asked else "",
            ask_key=asked.key if asked else "",
            measured="" if typed is None else entry_text(typed, self.style.length),
            done=move.id in self.job.done,
            keyed=tuple(self.job.keyed.get(f"{move.id}.{p.axis}", "") for p in move.positions),
            tool=self._said(operation.tool),
            speed=speed,
            setup=self._said(setup.title),
            note=self._said(operation.note),
        )

    def _said(self, words: str) -> str:
        return said_in(words, self.style)

    def heads(self) -> dict[str, tuple[str, str]]:
        """First move of an operation → what stands over its moves: a title, and tool, speed and note."""
        found = {}
        for setup in self.plan.setups if self.plan else ():
            many = len(setup.operations) > 1
            for n, operation in enumerate(setup.operations):
                if not operation.moves:
                    continue
                title = setup.title if not many else operation.title if n else f"{setup.title}: {within(operation.title)}"
                speed = operation.speed
                paced = f"   {speed.rpm} rpm, feed {self.style.feed(speed.feed_mm_min)}" if speed else ""
                line = "  ·  ".join(w for w in (f"{operation.tool}{paced}", operation.note) if w)
                found[operation.moves[0].id] = (self._said(title), self._said(line))
        return found

    def left_to_go(self, id: str, stands: Mapping[str, float], *, still: bool) -> tuple[tuple[AxisLeft, str], ...]:
        """Each axis of a move the readout tells, with the way that is left in words."""
        from elbrix.rehearsal.at_readout import axes_left, machine_of

        if self.plan is None:
            return ()
        setup, operation, move = self.moves[self.place_of(id)]
        found = axes_left(setup, operation, move, stands, machine_of(setup, self.plan, self.shop), still=still)
        found = tuple(replace(a, slip=said_in(a.slip, self.style)) for a in found)
        return tuple((a, "" if a.there else f"{a.way} {self.style.with_unit(abs(a.left_mm), 'mm', 0.005)} to go") for a in found)

    def lines(self) -> list[MoveLine]:
        return [self.line(*place) for place in self.moves]

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self._checks(), self.style)

    def _checks(self) -> tuple[Check, ...]:
        if self.plan is None:
            return ()
        machine = next((m for m in self.shop.machines if m.id == self.plan.machine_id), None)
        found = plan_checks(self.plan, machine, self.job.measured, self.doc.costs)
        found = (*found, *self._known_cuts())
        if self.heard is None:
            return found
        from elbrix.rehearsal.proof import rehearsal_checks

        return (*rehearsal_checks(self.heard), *found)

    def _known_cuts(self) -> list[Check]:
        """What the cut log knows of the tools that measured cuts are planned with."""
        assert self.plan is not None
        log = self.shop.others_of("logged cut")
        used = (
            {(s.machine_id or self.plan.machine_id, o.tool) for s, o, m in self.plan.moves if m.asked is not None} if log else ()
        )
        found = []
        for machine, tool in sorted(used):
            known = experience(log, machine, tool, self.plan.material)
            if known.cuts:
                spread, least = cut_checks(known.cuts[-1], log)[1:]
                words = f"the {tool}'s last {len(known.cuts)} cuts here came out {length(known.mean_mm, 3)} beside what was set"
                finer = f"; none finer than {length(known.least_mm, 3)} is planned" if known.least_mm else f"; {least.reason}"
                found.append(replace(spread, key=f"cuts {machine} {tool}", label=f"Scatter, {tool}", reason=words + finer))
        return found

    def why(self, key: str) -> Why | None:
        check = next((c for c in self._checks() if c.key == key), None)
        if check is None:
            return None
        derivation = ""
        if key == "bar" and self.plan is not None:
            derivation = "\n".join(
                f"{'●' if o.fits else '■'} {o.bar.title}, {self.style.with_unit(o.bar.length_mm, 'mm', 0.5)} long:"
                f" {said_in(o.reason, self.style)}"
                for o in self.plan.stock.options[:7]
            )
        if key == "kit" and self.plan is not None:
            derivation = "\n".join(
                self._said(f"{'●' if k.owned else '■'} {k.words}" + (f": {k.note}" if k.note else "")) for k in self.plan.kit
            )
        return why_check(check, self.style, derivation=derivation)

    # --- choices -----------------------------------------------------------------------------------------------------

    def options(self) -> list[tuple[str, str, list[tuple[str, str]]]]:
        """(name, words of what is taken, [(value, words)]) of each choice."""
        return [
            (name, self._said(taken), [(value, self._said(words)) for value, words in choices])
            for name, taken, choices in self._options()
        ]

    def _options(self) -> list[tuple[str, str, list[tuple[str, str]]]]:
        if self.plan is None:
            return []
        o = self.job.options
        able = lathes(self.shop) if self.plan.turned else milling_machines(self.shop)
        machines = [(m.id, m.name) for m in able]
        bars = [("", "the best")] + [
            (s.bar.id, f"{s.bar.title}, {self.style.with_unit(s.bar.length_mm, 'mm', 0.5)} long") for s in self.plan.stock.fitting
        ]
        mills = [("", "the best")] + [(c.id, c.title) for c in self.shop.cutters_of(CutterKind.END_MILL)]
        styles, cuts = (
            [("full", "square all faces first"), ("quick", "quick: only what is needed")],
            [("equal", "equal finishing cuts"), ("creep", "creep up on size")],
        )
        milled = any(o.cutter is not None and o.cutter.kind == "end_mill" for _, o, _ in self.plan.moves)
        spring = [("", "no spring pass"), ("yes", "with a spring pass")]
        rips = [("", "its width milled away: one tool, more chips"), ("yes", "sawn lengthwise first: hours saved, a strip left")]
        return [
            ("machine", f"on {self.plan.machine}", machines),
            *([("style", dict(styles)[o.style].split(":")[0], styles)] if not self.plan.turned else []),
            ("passes", dict(cuts)[o.passes], cuts),
            *([("bar", self.plan.bar.bar.title if self.plan.bar else "no bar", bars)] if not self.plan.there else []),
            *(
                [("cutter", next((c.title for c in self.shop.cutters if c.id == o.cutter), "best end mill"), mills)]
                if milled
                else []
            ),
            *([("lathe", dict(LATHE_HOLDS)[o.lathe].split(",")[0], list(LATHE_HOLDS))] if self.plan.turned else []),
            ("heat", dict(TREATMENTS)[o.heat], list(TREATMENTS)),
            *(
                [("spring_pass", "with a spring pass" if o.spring_pass else "no spring pass", spring)]
                if not self.plan.turned
                else []
            ),
            *([("rip", "sawn lengthwise first" if o.rip else "its width milled away", rips)] if self.plan.wide_bar else []),
            *([] if self.plan.turned else self._schools(o)),
        ]

    def _schools(self, o: Options) -> list[tuple[str, str, list[tuple[str, str]]]]:
        """How this shop is used to work; the next plan begins with what was chosen last."""
        finders = self.shop.touch_offs_for(self.plan.machine_id if self.plan else "")
        found = [("datum", DATUM, o.datum), ("holes", HOLES, o.holes), ("climb", CLIMB, o.climb)]
        listed = [(name, dict(choices)[value].split(":")[0], list(choices)) for name, choices, value in found]
        if len(finders) > 1:
            taken = next((t for t in finders if t.id == o.touch_off), finders[0])
            listed.append(("touch_off", f"sides by the {taken.title}", [(t.id, t.title) for t in finders]))
        return listed

    def with_option(self, name: str, value: str) -> JobDoc:
        changes: dict[str, Any] = {name: value == "yes" if name in ("spring_pass", "rip") else value}
        return replace(self.job, options=replace(self.job.options, **changes))

    def ticked(self, id: str, done: bool) -> JobDoc:
        """The job with a move ticked or not."""
        kept = tuple(d for d in self.job.done if d != id)
        return replace(self.job, done=(*kept, id) if done else kept)

    def logged(self, key: str, job: JobDoc) -> LoggedCut | None:
        """The cut a measured size tells of, for the log: what was set for it, from the size before, and what came of it.

        None of a size that is not one of several cuts, or whose size before was not measured.
        """
        if self.plan is None or key not in job.measured or ".size" not in key:
            return None
        stem = key.split(".size")[0] + ".size"
        cuts = [(s, o, m.asked) for s, o, m in self.plan.moves if m.asked is not None and m.asked.key.startswith(stem)]
        at = next((i for i, (_, _, asked) in enumerate(cuts) if asked.key == key), 0)
        if not at or cuts[at - 1][2].key not in job.measured:
            return None
        setup, operation, asked = cuts[at]
        sizes = [(a.key, a.expected_mm) for _, _, a in cuts[:at]]
        dial = asked.expected_mm - cuts_so_far(job.measured, sizes).mean_mm
        cut = abs(job.measured[sizes[-1][0]] - dial)
        if cut < _NO_CUT_MM:
            return None
        return LoggedCut(
            id=f"cut-{job.id}-{key.replace('.', '-')}"[:120],
            machine=setup.machine_id or self.plan.machine_id,
            tool=operation.tool,
            material=self.plan.material,
            set_mm=round(cut, 6),
            off_mm=round(job.measured[key] - dial, 6),
            rpm=operation.speed.rpm if operation.speed is not None else 0.0,
            on=today(),
        )

    def finished(self, job: JobDoc) -> Finished | None:
        """What follows when a job's last move is done; None while some are not."""
        if self.plan is None or not is_finished(self.plan, job):
            return None
        return finish(self.doc, self.plan, job, self.shop)

    def with_measured(self, key: str, text: str) -> JobDoc:
        """The job with a measured size; an empty text takes it away.

        Raises:
            ShopError: The text is no length, or nowhere near what was planned.
        """
        if not text.strip():
            return replace(self.job, measured={k: v for k, v in self.job.measured.items() if k != key})
        asked = next(m.asked for _, _, m in self.moves if m.asked is not None and m.asked.key == key)
        near = max(2.0, 0.15 * asked.expected_mm)
        value = Length.parse(
            text,
            self.style.length,
            sentence(asked.words.split(",")[0]),
            max(0.0, asked.expected_mm - near),
            asked.expected_mm + near,
        ).mm
        return replace(self.job, measured={**self.job.measured, key: value})
