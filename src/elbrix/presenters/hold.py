"""What the Hold bench shows, in words and scenes, and how its entries change the book. No widgets here."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs_in_layouts import add_design, changed_since, layable, offered, sizes_taken_again
from elbrix.book.documents import Chosen, DesignDoc, ElementDoc, LayoutDoc
from elbrix.book.layouts import add_element, choose_layout, fix_of, fixed, forget_layout, parameters_of, remove_element, solve_doc
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, Element, Path, Scene, Style
from elbrix.exchange.outlines import ReadOutline
from elbrix.holding.arrows import View, force_arrows
from elbrix.holding.layout import all_elements
from elbrix.holding.margin import ENOUGH, times
from elbrix.holding.pictures import ghost_ring
from elbrix.holding.slot_runs import runs
from elbrix.holding.solve import LayoutResult, machine_for
from elbrix.holding.suggest import Suggestion
from elbrix.parameters.parameter import Parameter
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import figure_row, repair, tiles_of, why_check
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import sentence, within
from elbrix.results.checks import Fix, Verdict
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

PEN_WORDS: Final = "The pen is down: each click is the next place of the cutter’s axis   ·   Esc lifts it"


class Beginning(Struct, frozen=True, kw_only=True):
    """A layout to begin with."""

    key: str
    title: str
    when: str
    path: str  #: of the cutter
    things: tuple[str, ...]

    def layout(self, id: str, machine: str = "") -> LayoutDoc:
        """It as a new document; `machine` empty: the shop's first."""
        return LayoutDoc(
            id=id,
            title=self.title,
            machine=machine,
            chosen={"cutter_path": Chosen(text=self.path)},
            elements=tuple(ElementDoc(kind=t) for t in self.things),
        )


BEGINNINGS: Final = {
    b.key: b
    for b in (
        Beginning(
            key="block", title="Block in the vise", when="two parallel sides, the top is cut", path="face", things=("vise",)
        ),
        Beginning(
            key="straps",
            title="Plate under straps",
            when="clamped down on the table beside the cut",
            path="around",
            things=("strap", "strap"),
        ),
        Beginning(
            key="plate", title="Work on a fixture plate", when="held through its own holes", path="around", things=("plate",)
        ),
    )
}


class SuggestState(Struct, frozen=True):
    """How the search for places stands."""

    running: bool = False
    share: float = 0.0
    found: tuple[Suggestion, ...] = ()
    problem: str = ""


class HoldPresenter:
    """One layout solved against the shop, and everything the bench says about it."""

    def __init__(
        self,
        doc: LayoutDoc,
        shop: Shop,
        style: UnitStyle,
        *,
        quick: bool = False,
        suggest: SuggestState | None = None,
        before: HoldPresenter | None = None,
        pen: bool = False,
        designs: Iterable[DesignDoc] = (),
    ) -> None:
        self.designs = {d.id: d for d in layable(designs)}
        self.doc, self.shop, self.style, self.quick, self.suggest, self.pen = doc, shop, style, quick, suggest, pen
        self.machine = machine_for(shop, doc.machine)
        same = (
            before is not None
            and before.shop is shop
            and before.machine is self.machine
            and [t.kind for t in before.doc.elements] == [t.kind for t in doc.elements]
        )
        self.parameters: dict[str, Parameter] = before.parameters if same and before is not None else parameters_of(doc, shop)
        self.fixes: dict[str, Fix | None] = {}
        self.hold: LayoutResult | None = None
        self.problem: ShopError | None = None
        if before is not None and (before.doc, before.quick) == (doc, quick) and before.shop is shop:
            self.hold, self.problem = before.hold, before.problem
            return
        try:
            self.hold = solve_doc(doc, shop, quick=quick)
        except ShopError as error:
            self.problem = error

    # --- head --------------------------------------------------------------------------------------------------------

    def subtitle(self) -> str:
        if self.hold is None:
            return self.machine.name
        margin = self.hold.margin
        words = (
            f"holds by {times(margin.least)} with µ {self.hold.values.number('friction'):g}" if margin.rests else "does not rest"
        )
        return f"on {self.machine.name}  ·  {words}"

    def _arrows(self, view: View) -> list[Element]:
        hold = self.hold
        return force_arrows(hold.piece, hold.held, hold.margin, view) if hold is not None and not self.quick else []

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self, phase: float | None = None) -> PlateView:
        """The table from above with all that stands on it.

        Args:
            phase: Of the motion it gives with, 0 to 1; None: as far as it is drawn when nothing moves.
        """
        if self.hold is None:
            return PlateView(Scene(""), message=said_in(str(self.problem), self.style), thing=self.doc.id)
        above, front = self.hold.scenes
        if phase is not None:
            ring = ghost_ring(self.hold.piece, self.hold.margin, phase)
            still = [e for e in above.elements if getattr(e, "feature", "") != "gives"]
            above = above.with_elements(
                [*still, *self._arrows("above"), *([Path(ring, Style.TOOL, "gives", closed=True)] if ring else [])]
            )
            front = front.with_elements([*front.elements, *self._arrows("front")])
        left, low, right, high = self.hold.scenes[1].bounds()
        tall = (high - low) > 0.4 * (right - left)  # a tall layout has its front view beside it, a flat one below
        main, inset = (
            ((0.0, 0.02, 0.6, 0.96), (0.61, 0.08, 0.99, 0.94)) if tall else ((0.0, 0.02, 1.0, 0.72), (0.0, 0.72, 1.0, 0.95))
        )
        return PlateView(
            above,
            title=above.title.upper(),
            footer=(
                PEN_WORDS
                if self.pen
                else "Arrows: clamps at their least, contacts and the cut at the limit; a ring with a dot comes toward you"
                if phase is not None
                else (
                    f"Carry a clamp, a stop or the work; drag a tip; click a number   ·   Path by safety factor: plain {ENOUGH:g}"
                    f" or more, dashed 1 to {ENOUGH:g}, heavy under 1"
                )
            ),
            label=self.label,
            entry_text=self.entry_text,
            value=self.value,
            inset=front,
            main_box=main,
            inset_box=inset,
            pen=self.pen,
            carry=("work", *(e.behaviour.name for e in all_elements().values() if e.behaviour.draggable)),
            thing=f"{self.doc.id} {self.style.length} {len(self.doc.elements)}",
        )

    def label(self, d: Dimension) -> str:
        return dimension_text(d, self.style)

    def entry_text(self, entry: str) -> str:
        if self.hold is None or entry not in self.parameters:
            return ""
        return self.parameters[entry].entry_text(self.given(entry), self.style.length)

    def given(self, name: str):  # type: ignore[no-untyped-def]
        """The value of a parameter by its whole name."""
        assert self.hold is not None
        number, _, own = name.rpartition(".")
        values = self.hold.elements[int(number)][1] if number else self.hold.values
        return values[own]

    def value(self, key: str) -> str:
        if self.hold is None:
            return ""
        figure = self.hold.figure(key)
        return figure.text or self.style.with_unit(figure.value, figure.unit, figure.step)

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        if self.hold is None:
            return CardView(sections=(self._repair(),))
        hold = self.hold
        sections: list[Section] = []
        first = len(hold.groups) - len(hold.elements) - 1
        for i, group in enumerate(hold.groups):
            number = i - first
            rows = tuple(self.row(k) for k in group.rows)
            buttons: tuple[Button, ...] = ()
            text, hint = "", group.hint
            if 0 <= number < len(hold.elements):
                source = self.designs.get(self.doc.elements[number].design)
                hint = source.title if source is not None else hint
                buttons = (Button(key=Act(Verb.REMOVE, str(number)).key, text="Remove"), *self._again(number))
                text = hold.elements[number][2].problem
                drawn_only = source is not None and not source.made
                text = f"■ {text}" if text else "▲ Drawn, and none is made yet" if drawn_only else ""
            if group.id == "work":
                buttons = (
                    Button(
                        key="outline", text="Import outline…", tip="A closed outline of a DXF, or a STEP solid seen from above"
                    ),
                )
            if group.id == "cut":
                buttons = (
                    Button(
                        key="pen",
                        text="Finish drawing" if self.pen else "Draw path on plate",
                        tip="Click where the cutter's axis goes; whole millimetres from the work's middle",
                    ),
                )
            if group.id == "holding":
                text = hold.guidance
            sections.append(Section(title=group.title, hint=hint, rows=rows, buttons=buttons, text=text))
        more = [
            Row(key=Act(Verb.ADD, t.key).key, label=t.title, value="", edit="press", derivation=t.when)
            for t in all_elements().values()
        ]
        more += [
            Row(
                key=Act(Verb.LAY, d.id).key,
                label=d.title,
                value="",
                edit="press",
                derivation="From the catalogue: its sizes, screws and pins" + ("" if d.made else "; none is made yet"),
            )
            for d in offered(self.designs.values())
        ]
        sections.append(Section(title="Add", rows=tuple(more), numbered=False))
        if any(t.behaviour.placed_by_search for t, _, _ in hold.elements):
            sections.append(self._suggestions())
        if hold.swaps:
            sections.append(Section(title="Re-clamping sequence", text=said_in("\n".join(hold.swaps), self.style)))
        order = "\n".join(f"{i}. {words}" for i, words in enumerate(hold.tighten, 1))
        sections.append(
            Section(
                title="Order of tightening",
                text=said_in("\n".join(p for p in (order, *(f"▲ {c}" for c in hold.cautions)) if p), self.style),
            )
        )
        return CardView(
            sections=tuple(sections),
            buttons=(Button(key="print", text="Setting card", main=True, tip="The page to take to the machine (Ctrl+P)"),),
        )

    def _again(self, number: int) -> tuple[Button, ...]:
        """Offered when the drawing a thing was taken from says other sizes now."""
        thing = self.doc.elements[number]
        design = self.designs.get(thing.design)
        if design is None or self.quick or not changed_since(thing, design, self.shop):
            return ()
        return (
            Button(
                key=Act(Verb.UPDATE, str(number)).key,
                text="Update from drawing",
                tip=f"The drawing of {design.title} has changed since",
            ),
        )

    def row(self, key: str) -> Row:
        assert self.hold is not None
        figure = self.hold.figure(key)
        parameter = self.parameters.get(key)
        given = self.given(key) if parameter is not None else None
        row = figure_row(figure, self.style, parameter, given, chosen=self._is_chosen(key))
        return replace(row, wrap=row.wrap or len(row.label) + len(row.value) + len(row.unit) > 33)

    def _is_chosen(self, key: str) -> bool:
        number, _, own = key.rpartition(".")
        if not number:
            return own in self.doc.chosen
        return number.isdecimal() and int(number) < len(self.doc.elements) and own in self.doc.elements[int(number)].chosen

    def _suggestions(self) -> Section:
        state = self.suggest
        if state is not None and state.running:
            return Section(
                title="Better strap positions",
                text=f"Looking: {state.share:.0%} of it done. The bench goes on working meanwhile.",
                buttons=(Button(key="stop", text="Cancel"),),
                numbered=False,
            )
        rows = (
            tuple(
                Row(key=Act(Verb.TAKE, str(i)).key, label=f"Suggestion {i + 1}", value=s.sentence, edit="press", wrap=True)
                for i, s in enumerate(state.found)
            )
            if state is not None
            else ()
        )
        text = said_in(state.problem, self.style) if state is not None else ""
        return Section(
            title="Better strap positions",
            text=text,
            rows=rows,
            buttons=(
                Button(
                    key="suggest", text="Suggest positions", tip="On the real slots, by margin and reach; everything else stays"
                ),
            ),
            numbered=False,
        )

    def _repair(self) -> Section:
        return repair("This cannot be held", said_in(str(self.problem or ""), self.style), self.doc.chosen, self.parameters)

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.hold.checks, self.style) if self.hold is not None else ()

    def why(self, key: str) -> Why | None:
        if self.hold is None or all(c.key != key for c in self.hold.checks):
            return None
        fix = self.fix(key)
        return why_check(self.hold.check(key), self.style, fix=fix.text if fix else "")

    def fix(self, key: str) -> Fix | None:
        """What `find_fix` found; it takes too long to be looked for on the way."""
        return self.fixes.get(key)

    def wants_fix(self, key: str) -> bool:
        """Whether a mend of this check has still to be looked for."""
        check = next((c for c in self.hold.checks if c.key == key), None) if self.hold is not None else None
        return check is not None and check.verdict is not Verdict.GO and key not in self.fixes and not self.quick

    def find_fix(self, key: str) -> Fix | None:
        """Look for the nearest change that mends a check: up to a second, beside the window."""
        try:
            return fix_of(self.doc, self.shop, key)
        except ShopError:
            return None

    def fixed(self, fix: Fix) -> LayoutDoc:
        return fixed(self.doc, self.shop, fix)

    def of_features(self, features: frozenset[str]) -> tuple[frozenset[str], frozenset[str]]:
        if self.hold is None or not features:
            return frozenset(), frozenset()
        named = {"cutter_path" if f.startswith("place ") else f for f in features}
        keys = frozenset(f.key for f in self.hold.figures if named & set(f.features))
        return keys, frozenset(c.key for c in self.hold.checks if named & set(c.features))

    def features_of_key(self, key: str) -> frozenset[str]:
        if self.hold is None:
            return frozenset()
        return frozenset(f for figure in self.hold.figures if figure.key == key for f in figure.features)

    def features_of_check(self, key: str) -> tuple[frozenset[str], frozenset[str]]:
        if self.hold is None or all(c.key != key for c in self.hold.checks):
            return frozenset(), frozenset()
        check = self.hold.check(key)
        return frozenset(check.features), frozenset(check.figures)

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def typed(self, name: str, text: str) -> LayoutDoc:
        """The document with a typed value that also solves.

        Raises:
            ShopError: The text, or what it leads to, cannot be; nothing changes.
        """
        doc = choose_layout(self.doc, self.shop, name, text, self.style.length)
        solve_doc(doc, self.shop, quick=True)
        return doc

    def dragged(self, name: str, value: float) -> LayoutDoc:
        return choose_layout(self.doc, self.shop, name, f"{value:g}", "mm", self.parameters)

    def carried(self, feature: str, dx: float, dy: float) -> LayoutDoc | None:
        """The document with the work or a thing moved, settled on slots and whole millimetres; None when it cannot be carried."""
        if self.hold is None:
            return None
        if feature == "work":
            at = (self.hold.values.number("x") + dx, self.hold.values.number("y") + dy)
            return self._placed("", {"x": f"{round(at[0])}", "y": f"{round(at[1])}"})
        number = next((i for i, (_, _, p) in enumerate(self.hold.elements) if p.name == feature), None)
        if number is None:
            return None
        _, values, placed = self.hold.elements[number]
        moved: dict[str, str] = {}
        if "x" in values:
            moved["x"] = f"{round(values.number('x') + dx)}"
        if "slot" in values:
            # Only what the thing may stand in: a stop's tongue goes into no ring slot.
            asked = self.parameters.get(f"{number}.slot")
            there = [r for r in runs(self.machine, rings=True) if asked is not None and r.label in dict(asked.choices)]
            if there:
                x = values.number("x") + dx
                moved["slot"] = min(there, key=lambda r: abs(r.y(x) - (placed.spot[1] + dy))).label
        elif "y" in values:
            moved["y"] = f"{round(values.number('y') + dy)}"
        return self._placed(f"{number}.", moved) if moved else None

    def _placed(self, prefix: str, moved: dict[str, str]) -> LayoutDoc:
        doc = self.doc
        for name, text in moved.items():
            doc = choose_layout(doc, self.shop, prefix + name, text, "mm", self.parameters)
        return doc

    def path_point_added(self, x: float, y: float, *, first: bool) -> LayoutDoc:
        """The document with one more place of the cutter's path, in whole millimetres from the work's middle.

        Raises:
            ShopError: The same place twice.
        """
        assert self.hold is not None
        middle, turn = self.hold.piece.middle, self.hold.values.number("angle")
        dx, dy = x - middle[0], y - middle[1]
        at = (round(dx * math.cos(turn) + dy * math.sin(turn)), round(dy * math.cos(turn) - dx * math.sin(turn)))
        before = "" if first else self.hold.values.word("places") + "; "
        return self._placed("", {"cutter_path": "line", "places": f"{before}{at[0]},{at[1]}"})

    def outlined(self, found: ReadOutline) -> LayoutDoc:
        """The document with an outline that was read from a file, and it solves.

        Raises:
            ShopError: The outline cannot be held.
        """
        doc = self._placed(
            "", {"shape": "outline", "outline": found.places, **({"height": f"{found.height_mm:g}"} if found.height_mm else {})}
        )
        solve_doc(doc, self.shop, quick=True)
        return doc

    def added(self, kind: str) -> LayoutDoc:
        return add_element(self.doc, kind)

    def laid(self, design_id: str) -> LayoutDoc:
        """The document with an accessory of the catalogue."""
        return add_design(self.doc, self.designs[design_id], self.shop)

    def again(self, number: int) -> LayoutDoc:
        """The document with a thing's sizes as its drawing has them now."""
        return sizes_taken_again(self.doc, number, self.designs[self.doc.elements[number].design], self.shop)

    def taken_away(self, number: int) -> LayoutDoc:
        return remove_element(self.doc, number)

    def suggested(self, suggestion: Suggestion) -> LayoutDoc:
        """The document with the straps where a suggestion has them."""
        doc = self.doc
        for number, values in suggestion.values.items():
            doc = forget_layout(doc, f"{number}.tip")
            for name, text in values.items():
                doc = choose_layout(doc, self.shop, f"{number}.{name}", text, "mm")
        return doc

    def let_go(self, name: str) -> LayoutDoc:
        return forget_layout(self.doc, name)

    def change_words(self, name: str, doc: LayoutDoc) -> str:
        """Label of the edit for the undo menu."""
        label = self.parameters[name].label if name in self.parameters else name
        number, _, own = name.rpartition(".")
        chosen = doc.elements[int(number)].chosen if number and int(number) < len(doc.elements) else doc.chosen
        who = (
            sentence(self.hold.elements[int(number)][2].name) + ", "
            if number and self.hold is not None and int(number) < len(self.hold.elements)
            else ""
        )
        return (
            f"{who}{within(label) if who else label} {chosen[own].typed or chosen[own].text}"
            if own in chosen
            else f"{who}{label} as proposed"
        )


def chooser() -> CardView:
    """What the card says when there is no layout."""
    rows = tuple(
        Row(key=Act(Verb.NEW, b.key).key, label=b.title, value=b.when, edit="press", wrap=True) for b in BEGINNINGS.values()
    )
    return CardView(
        sections=(
            Section(
                title="New layout",
                text="Each starts from what is in Shop and can be moved on the plate.",
                rows=rows,
                numbered=False,
            ),
        )
    )
