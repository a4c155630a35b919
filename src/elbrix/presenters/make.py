"""What the Make bench shows. No widgets here."""

from __future__ import annotations

from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.drawing.scene import Scene
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.planner import milling_machines, position_working
from elbrix.making.proof import plan_checks
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import tiles_of, why_check
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import Length, UnitStyle, entry_text
from elbrix.results.checks import Check
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind


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
    tool: str
    speed: str
    setup: str


class MakePresenter:
    """The plan of one design, and how far it has come."""

    def __init__(self, doc: DesignDoc, shop: Shop, style: UnitStyle, job: JobDoc) -> None:
        self.doc, self.shop, self.style, self.job = doc, shop, style, job
        self.plan: Plan | None = None
        self.problem: ShopError | None = None
        try:
            self.plan = plan_doc(doc, solve_doc(doc, shop), shop, job, style.length)
        except ShopError as error:
            self.problem = error

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
        machine = next((m for m in self.shop.machines if m.id == self.plan.machine_id), None)
        readout = machine is None or machine.readout_step_mm > 0 or not machine.axes
        done = sum(m.id in self.job.done for _, _, m in self.moves)
        numbers = "inches" if self.style.length == "in" and readout else "mm" if readout else "handwheel turns and divisions"
        return (
            f"on {self.plan.machine}, numbers in {numbers}  ·  {done} of {len(self.moves)} moves done  ·  cut"
            f" {self.style.with_unit(self.plan.cut_length.value, 'mm', 0.5)} of"
            f" {self.plan.bar.bar.title if self.plan.bar else 'a bar to buy'}"
        )

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self, id: str) -> PlateView:
        """The setup with the cutter where the numbers put it."""
        if not self.moves:
            return PlateView(Scene(""), message=str(self.problem or "Nothing to make yet. Design something first."), thing="none")
        setup, _, move = self.moves[self.place_of(id)]
        scene = setup.picture(move) or Scene("")
        if not scene.elements:
            return PlateView(Scene(""), title=setup.title.upper(), message=f"{setup.title}\n\n{move.words}", thing=move.id)
        numbers = "     ".join(f"{p.axis} {p.dial.text}" for p in move.positions)
        return PlateView(
            scene,
            title=f"{setup.title.upper()}   {scene.title}",
            footer=numbers or setup.holding,
            thing=f"{setup.id} {self.style.length}",
        )

    # --- moves -------------------------------------------------------------------------------------------------------

    def line(self, setup: Setup, operation: Operation, move: Move) -> MoveLine:
        """A move in words."""
        details = []
        for p in move.positions:
            if len(p.terms) > 1:
                derivation = position_working(p)
                details.append(f"{p.axis} = {derivation.formula} = {derivation.with_numbers}")
            if p.dial.approach:
                details.append(f"{p.axis}: {p.dial.approach}")
            elif not p.dial.is_exact:
                details.append(
                    f"{p.axis}: wanted {self.style.show(p.value_mm, 'mm', 0.0001)}, the dial sets {p.dial.off_mm * 1000:+.1f}"
                    " µm off"
                )
        if move.lock:
            details.append(f"Lock {move.lock}")
        if move.direction:
            details.append(f"Cut {move.direction}")
        speed = ""
        if operation.speed is not None:
            speed = f"{operation.speed.rpm} rpm, {self.style.feed(operation.speed.feed_mm_min)}"
            if operation.speed.seconds_per_turn:
                speed += f", {operation.speed.seconds_per_turn:.1f} s a turn"
        asked = move.asked
        typed = self.job.measured.get(asked.key) if asked else None
        return MoveLine(
            id=move.id,
            words=move.words,
            numbers=tuple((p.axis, p.dial.text) for p in move.positions),
            details=tuple(details),
            caution=move.caution,
            ask=f"Measure {asked.words}: {self.style.with_unit(asked.expected_mm, 'mm')}" if asked else "",
            ask_key=asked.key if asked else "",
            measured="" if typed is None else entry_text(typed, self.style.length),
            done=move.id in self.job.done,
            tool=operation.tool,
            speed=speed,
            setup=setup.title,
        )

    def lines(self) -> list[MoveLine]:
        return [self.line(*place) for place in self.moves]

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self._checks(), self.style)

    def _checks(self) -> tuple[Check, ...]:
        if self.plan is None:
            return ()
        machine = next((m for m in self.shop.machines if m.id == self.plan.machine_id), None)
        return plan_checks(self.plan, machine, self.job.measured)

    def why(self, key: str) -> Why | None:
        check = next((c for c in self._checks() if c.key == key), None)
        if check is None:
            return None
        derivation = ""
        if key == "bar" and self.plan is not None:
            derivation = "\n".join(
                f"{'●' if o.fits else '■'} {o.bar.title}, {o.bar.length_mm:g} long: {o.reason}"
                for o in self.plan.stock.options[:7]
            )
        if key == "kit" and self.plan is not None:
            derivation = "\n".join(
                f"{'●' if k.owned else '■'} {k.words}" + (f": {k.note}" if k.note else "") for k in self.plan.kit
            )
        return why_check(check, self.style, derivation=derivation)

    # --- choices -----------------------------------------------------------------------------------------------------

    def options(self) -> list[tuple[str, str, list[tuple[str, str]]]]:
        """(name, words of what is taken, [(value, words)]) of each choice."""
        if self.plan is None:
            return []
        o = self.job.options
        machines = [(m.id, m.name) for m in milling_machines(self.shop)]
        bars = [("", "the best")] + [(s.bar.id, f"{s.bar.title}, {s.bar.length_mm:g} long") for s in self.plan.stock.fitting]
        mills = [("", "the best")] + [(c.id, c.title) for c in self.shop.cutters_of(CutterKind.END_MILL)]
        styles, cuts = (
            [("full", "square all faces first"), ("quick", "quick: only what is needed")],
            [("equal", "equal finishing cuts"), ("creep", "creep up on size")],
        )
        spring = [("", "no spring pass"), ("yes", "with a spring pass")]
        return [
            ("machine", f"on {self.plan.machine}", machines),
            ("style", dict(styles)[o.style].split(":")[0], styles),
            ("passes", dict(cuts)[o.passes], cuts),
            ("bar", self.plan.bar.bar.title if self.plan.bar else "no bar", bars),
            ("cutter", next((c.title for c in self.shop.cutters if c.id == o.cutter), "best end mill"), mills),
            ("spring_pass", "with a spring pass" if o.spring_pass else "no spring pass", spring),
        ]

    def with_option(self, name: str, value: str) -> JobDoc:
        changes: dict[str, Any] = {name: value == "yes" if name == "spring_pass" else value}
        return replace(self.job, options=replace(self.job.options, **changes))

    def ticked(self, id: str, done: bool) -> JobDoc:
        """The job with a move ticked or not."""
        kept = tuple(d for d in self.job.done if d != id)
        return replace(self.job, done=(*kept, id) if done else kept)

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
            asked.words.split(",")[0].capitalize(),
            max(0.0, asked.expected_mm - near),
            asked.expected_mm + near,
        ).mm
        return replace(self.job, measured={**self.job.measured, key: value})
