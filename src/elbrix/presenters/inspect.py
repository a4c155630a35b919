"""What the Inspect bench shows, in words and scenes, and how its entries change the book. No widgets here."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from itertools import islice
from typing import Final

from msgspec.structs import replace

from elbrix.book.documents import DesignDoc, Document, InspectionDoc, TakenDoc
from elbrix.book.inspections import (
    choose_for,
    earlier,
    inspect_doc,
    keep_as_made,
    kind_of,
    typed_readings,
    with_chosen,
    with_readings,
)
from elbrix.book.practice import exercise_of
from elbrix.book.rescues import Rescue
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, Scene
from elbrix.exchange.csv_tables import csv_text
from elbrix.inspecting.inspection import Exercise, Inspection, InspectionKind, all_kinds
from elbrix.inspecting.readings import MAX_TIMES, Place
from elbrix.instruments.lines import Quantity, Reading
from elbrix.instruments.listener import Asking
from elbrix.parameters.parameter import Parameter
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import figure_row, repair, said_scene, tiles_of, why_check
from elbrix.quantities.angles import angle_text
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import UnitStyle, entry_text, same_length
from elbrix.quantities.sentences import sentence, within
from elbrix.results.checks import Fix
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

#: What a place's entry is called on plate and card.
#: Places listed on the card; of more, those about the next one.
_MAX_ROWS: Final = 24
_MAX_EARLIER: Final = 6
#: Designs listed to be picked from.
_MAX_TO_PICK: Final = 60


class InspectPresenter:
    """One inspection worked out against shop and designs, and everything the bench says about it."""

    def __init__(
        self,
        doc: InspectionDoc,
        shop: Shop,
        style: UnitStyle,
        designs: Sequence[DesignDoc] = (),
        others: Sequence[InspectionDoc] = (),
        to_pick: Callable[[], Iterable[DesignDoc]] = tuple,
    ) -> None:
        """Work it out.

        Args:
            designs: The one it is about among them.
            others: Inspections the book has.
            to_pick: Designs it may be about; asked for when none is picked.
        """
        self.to_pick = to_pick
        self.doc, self.shop, self.style, self.designs, self.others = doc, shop, style, tuple(designs), tuple(others)
        self.kind: InspectionKind | None = None
        self.parameters: dict[str, Parameter] = {}
        self.inspection: Inspection | None = None
        self.problem: ShopError | None = None
        self.exercise: Exercise | None = None
        self.rescues: tuple[Rescue, ...] | None = None  #: None while they are looked for
        try:
            self.kind = kind_of(doc, designs, shop)
            self.parameters = {p.name: p for p in self.kind.parameters(shop)}
            self.inspection = inspect_doc(doc, designs, shop)
            self.exercise = exercise_of(doc, self.designs, shop)
        except ShopError as error:
            self.problem = error
        self.places: dict[str, Place] = {}
        if self.inspection is not None:
            self.places = {Act(Verb.READ, p.key).key: p for p in self.inspection.sheet.places}

    # --- head --------------------------------------------------------------------------------------------------------

    def title_about(self, design: DesignDoc) -> str:
        """What it is called when it is about a design."""
        said = "as made" if self.kind is None or self.kind.measures_piece else self.kind.title.lower()
        return f"{design.title}, {said}"

    def subtitle(self) -> str:
        parts = [self.kind.title if self.kind is not None else "", self.doc.began]
        if self.inspection is not None:
            sheet = self.inspection.sheet
            parts.append(f"{sheet.taken} of {sheet.wanted} readings")
        return "  ·  ".join(p for p in parts if p)

    @property
    def following(self) -> Place | None:
        """The place that is to be read next."""
        missing = self.inspection.sheet.missing if self.inspection is not None else ()
        return missing[0] if missing else None

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self) -> PlateView:
        if self.inspection is None:
            return PlateView(Scene(""), message=said_in(str(self.problem), self.style), thing=self.doc.id)
        scene = said_scene(self.inspection.scene, self.style)
        place = self.following
        footer = (
            f"Next: {place.label}   ·   type it, or press the instrument's button   ·   Tab goes on to the place after"
            if place is not None
            else "Every place is read   ·   click a number to read it again"
        )
        return PlateView(
            scene,
            title=scene.title.upper(),
            footer=footer,
            label=self.label,
            entry_text=self.entry_text,
            thing=f"{self.doc.id} {self.style.length}",
        )

    def label(self, d: Dimension) -> str:
        return dimension_text(d, self.style)

    def entry_text(self, entry: str) -> str:
        """What the entry field of a number opens with."""
        place = self.places.get(entry)
        if place is not None:
            return "; ".join(self._written(place, t.value) for t in self.doc.readings.get(place.key, ()))
        if self.inspection is None or entry not in self.parameters:
            return ""
        return self.parameters[entry].entry_text(self.inspection.values[entry], self.style.length)

    def _written(self, place: Place, value: float) -> str:
        """A reading as it would be typed."""
        if place.quantity is Quantity.ANGLE:
            return angle_text(math.radians(value))
        return f"{value:.2f}" if place.quantity is Quantity.TEMPERATURE else entry_text(value, self.style.length)

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        if self.inspection is None or self.kind is None:
            if self.problem is not None and self.problem.entry == "about":
                return CardView(sections=(self._pick_design(),))
            return CardView(
                sections=(
                    repair(
                        "This cannot be worked out",
                        said_in(str(self.problem or ""), self.style),
                        self.doc.chosen,
                        self.parameters,
                    ),
                )
            )
        first, *found = self.inspection.groups
        asked = [Section(title=first.title, hint=first.hint, rows=tuple(self.row(k) for k in first.rows)), self._readings()]
        told = [Section(title=g.title, hint=g.hint, rows=tuple(self.row(k) for k in g.rows)) for g in found]
        # While there are places to read, they come first; then the decision does.
        parts = (
            [self._next(), self._ways_out(), *told, self._truth()]
            if self.inspection.sheet.complete
            else [*told, self._ways_out(), self._next()]
        )
        sections = [s for s in parts if s is not None]
        sections = [*sections, *reversed(asked)] if self.inspection.sheet.complete else [*asked, *sections]
        sections += [s for s in (self._history(),) if s is not None]
        buttons = (
            Button(key="print", text="Inspection sheet", main=True, tip="The page with every reading (Ctrl+P)"),
            Button(key="again", text="Do it again", tip="A new inspection of the same thing; this one stays in the history"),
        )
        return CardView(sections=tuple(sections), buttons=buttons)

    def row(self, key: str) -> Row:
        assert self.inspection is not None
        parameter = self.parameters.get(key)
        given = self.inspection.values[key] if parameter is not None else None
        return figure_row(self.inspection.figure(key), self.style, parameter, given, chosen=key in self.doc.chosen)

    def _readings(self) -> Section:
        assert self.inspection is not None
        sheet = self.inspection.sheet
        places = list(sheet.places)
        hint = f"{sheet.taken} of {sheet.wanted}"
        if len(places) > _MAX_ROWS:
            at = places.index(sheet.missing[0]) if sheet.missing else 0
            start = max(0, min(at - _MAX_ROWS // 2, len(places) - _MAX_ROWS))
            places = places[start : start + _MAX_ROWS]
            hint += f"; {start + 1} to {start + _MAX_ROWS} listed"
        rows = tuple(self._reading_row(p) for p in places)
        buttons = []
        if self.exercise is not None and not sheet.complete:
            buttons.append(Button(key="press", text="Take a reading", tip="The button of the practice instrument (F8)"))
        elif self.kind is not None and self.kind.can_practise:
            buttons.append(
                Button(key="practise", text="Practise", tip="A thing that nobody knows, read by a simulated instrument")
            )
        if sheet.taken:
            buttons.append(
                Button(key="clear", text="Clear readings", tip="Every reading of this inspection; undo brings them back")
            )
        return Section(title="Readings", hint=hint, rows=rows, buttons=tuple(buttons))

    def _reading_row(self, place: Place) -> Row:
        taken = self.doc.readings.get(place.key, ())
        short = len(taken) < place.times
        shown = ", ".join(self._shown(place, t.value) for t in taken)
        told = [
            f"{self._shown(place, t.value)} ± {self._shown(place, t.u).lstrip('+')} by {t.tool or 'hand'}"
            + (f", {t.on.replace('T', ' ')}" if t.on else "")
            for t in taken
            if t.u or t.tool
        ]
        return Row(
            key=Act(Verb.READ, place.key).key,
            label=place.label,
            value=shown,
            unit="" if place.unit == "deg" else self.style.name("mm") if place.unit == "mm" else place.unit,
            origin="measured" if taken else "",
            edit="text",
            entry_text=self.entry_text(Act(Verb.READ, place.key).key),
            placeholder="" if taken else "next" if place == self.following else "read",
            derivation="\n".join(told),
            strong=place == self.following,
            chosen=bool(taken),
            wrap=False if not short else len(shown) + len(place.label) > 36,
        )

    def reading_lines(self) -> list[tuple[str, str, str]]:
        """(place, readings, tool and uncertainty) of every place, for paper."""
        lines = []
        for place in self.inspection.sheet.places if self.inspection is not None else ():
            taken = self.doc.readings.get(place.key, ())
            tools = ", ".join(
                dict.fromkeys(f"{t.tool} ± {self._shown(place, t.u).lstrip('+')}" if t.u else t.tool for t in taken if t.tool)
            )
            lines.append((place.label, ", ".join(self._shown(place, t.value) for t in taken), tools))
        return lines

    def table(self) -> str:
        """Every reading as a table for a spreadsheet: mm, degrees or °C, unrounded."""
        rows = [
            (place.label, place.quantity.value, t.value, place.unit, t.u or "", t.tool, t.on)
            for place in (self.inspection.sheet.places if self.inspection is not None else ())
            for t in self.doc.readings.get(place.key, ())
        ]
        return csv_text(("place", "quantity", "value", "unit", "uncertainty", "tool", "taken"), rows)

    def _shown(self, place: Place, value: float) -> str:
        if place.unit == "deg":
            return f"{value:.3f}".rstrip("0").rstrip(".") + "°"
        if place.unit == "°C":
            return f"{value:.1f}"
        sign = "+" if place.quantity is Quantity.DEVIATION and value > 0 else ""
        return sign + self.style.show(value, "mm", 0.001)

    def _next(self) -> Section | None:
        assert self.inspection is not None
        inspection = self.inspection
        place = self.following
        rows = [
            Row(key=f"step {i}", label=f"Step {i}", value=said_in(words, self.style), wrap=True)
            for i, words in enumerate(inspection.steps, 1)
        ]
        if not rows and place is not None:
            rows = [
                Row(
                    key="step 1",
                    label="Step 1",
                    value=f"Read {place.label}" + (f", {place.times} times" if place.times > 1 else ""),
                    wrap=True,
                )
            ]
        cautions = "\n".join(f"▲ {said_in(c, self.style)}" for c in inspection.cautions)
        buttons = [
            Button(key=Act(Verb.KEEP, f.key).key, text=f.words, tip="The shop then knows it; undo takes it back")
            for f in inspection.findings
        ]
        if self.measures_piece and inspection.sheet.taken:
            buttons.append(
                Button(key="keep as made", text="Keep with the design", tip="Fits and layouts then go by the made sizes")
            )
        return Section(title="What to do", rows=tuple(rows), text=cautions, buttons=tuple(buttons))

    @property
    def measures_piece(self) -> bool:
        """Whether the readings are sizes of a piece."""
        return bool(self.doc.about) and self.kind is not None and self.kind.measures_piece

    @property
    def wants_rescue(self) -> bool:
        """Whether a piece was measured that is not right."""
        return self.measures_piece and self.inspection is not None and any(c.verdict.rank for c in self.inspection.checks)

    def _ways_out(self) -> Section | None:
        if not self.wants_rescue:
            return None
        if self.rescues is None:
            return Section(
                title="What saves it", text="Every way is solved again before it is offered: a moment.", numbered=False
            )
        rows = tuple(
            Row(key=f"rescue {i}", label=r.title, value=said_in(r.words, self.style), wrap=True)
            for i, r in enumerate(self.rescues)
        )
        return Section(title="What saves it", hint="each solved again", rows=rows, numbered=False)

    def _history(self) -> Section | None:
        if self.kind is None or not self.kind.main:
            return None
        rows = []
        for doc in earlier(self.doc, self.others)[-_MAX_EARLIER:]:
            try:
                figure = inspect_doc(doc, self.designs, self.shop).figure(self.kind.main)
            except (ShopError, KeyError):
                continue
            row = figure_row(figure, self.style)
            rows.append(
                replace(
                    row, key=Act(Verb.OPEN, doc.id).key, label=f"{doc.began} {within(figure.label)}", edit="press", derivation=""
                )
            )
        return Section(title="Earlier", hint="the same, as it was", rows=tuple(rows), numbered=False) if rows else None

    def _truth(self) -> Section | None:
        """Of an exercise, when every place is read: what was true beside what was found."""
        inspection = self.inspection
        if self.exercise is None or inspection is None or not inspection.sheet.complete:
            return None
        rows = []
        for key, true in self.exercise.answers.items():
            try:
                figure = inspection.figure(key)
            except KeyError:
                continue
            met = abs(figure.value - true) <= figure.u
            rows.append(
                Row(
                    key=f"true {key}",
                    label=f"{'●' if met else '▲'} {figure.label}",
                    value=(
                        f"true {self.style.show(true, figure.unit, figure.step)}, off"
                        f" {self.style.show(figure.value - true, figure.unit, figure.step)}"
                    ),
                    unit=self.style.name(figure.unit),
                    wrap=True,
                )
            )
        return Section(title="What was true", hint="● within the uncertainty", rows=tuple(rows), numbered=False)

    def _pick_design(self) -> Section:
        rows = tuple(
            Row(key=Act(Verb.ABOUT, d.id).key, label=d.title, value="", edit="press")
            for d in islice(self.to_pick(), _MAX_TO_PICK)
        )
        text = "Pick the design the piece was made to." if rows else "There is no design yet: begin one in Design."
        if self.doc.about and self.problem is not None:
            text = f"{sentence(self.problem.what)}. {self.problem.do}."
        return Section(title="Which design?", text=text, rows=rows, numbered=False)

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.inspection.checks, self.style) if self.inspection is not None else ()

    def why(self, key: str) -> Why | None:
        if self.inspection is None or all(c.key != key for c in self.inspection.checks):
            return None
        return why_check(self.inspection.check(key), self.style)

    def fix(self, key: str) -> Fix | None:
        return None

    def of_features(self, features: frozenset[str]) -> tuple[frozenset[str], frozenset[str]]:
        """Numbers and checks that speak of some features."""
        if self.inspection is None or not features:
            return frozenset(), frozenset()
        keys = frozenset(f.key for f in self.inspection.figures if features & set(f.features))
        keys |= frozenset(Act(Verb.READ, f).key for f in features)
        return keys, frozenset(c.key for c in self.inspection.checks if features & set(c.features))

    def features_of_key(self, key: str) -> frozenset[str]:
        if self.inspection is None:
            return frozenset()
        act = Act.read(key)
        if act.do == Verb.READ:
            return frozenset({act.of})
        return frozenset(f for figure in self.inspection.figures if figure.key == key for f in figure.features)

    def features_of_check(self, key: str) -> tuple[frozenset[str], frozenset[str]]:
        if self.inspection is None or all(c.key != key for c in self.inspection.checks):
            return frozenset(), frozenset()
        check = self.inspection.check(key)
        return frozenset(check.features), frozenset(check.figures)

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def typed(self, name: str, text: str) -> InspectionDoc:
        """The document with a typed value or readings, which also works out.

        Raises:
            ShopError: The text, or what it leads to, cannot be; nothing changes.
        """
        place = self.places.get(name)
        if place is not None:
            return self._working(with_readings(self.doc, place.key, self._taken(place, text)))
        if self.kind is None:
            raise EntryError("Inspect", "nothing is measured yet", "A piece is measured against its drawing", "Pick a design")
        return self._working(choose_for(self.doc, self.kind, self.shop, name, text, self.style.length))

    def _working(self, doc: InspectionDoc) -> InspectionDoc:
        inspect_doc(doc, self.designs, self.shop)
        return doc

    def _taken(self, place: Place, text: str) -> tuple[TakenDoc, ...]:
        """Readings as typed; those that were there before keep what they were taken with."""
        before = list(self.doc.readings.get(place.key, ()))
        tool = dict(self.parameters["tool"].choices).get(self._tool(), "") if "tool" in self.parameters and self._tool() else ""
        found = []
        for value in typed_readings(place, text, self.style.length):
            same = next((t for t in before if same_length(t.value, value)), None)
            if same is not None:
                before.remove(same)
            found.append(same or TakenDoc(value=value, tool=tool, on=_now()))
        return tuple(found)

    def _tool(self) -> str:
        return self.inspection.values.word("tool") if self.inspection is not None and "tool" in self.inspection.values else ""

    def dragged(self, name: str, value: float) -> InspectionDoc:
        return self.doc

    def let_go(self, name: str) -> InspectionDoc:
        place = self.places.get(name)
        if place is not None:
            return with_readings(self.doc, place.key, ())
        return replace(self.doc, chosen={k: v for k, v in self.doc.chosen.items() if k != name})

    def fixed(self, fix: Fix) -> InspectionDoc:
        return self.doc

    def change_words(self, name: str, doc: InspectionDoc) -> str:
        """Label of the edit for the undo menu."""
        place = self.places.get(name)
        if place is not None:
            return f"Reading {place.label}"
        label = self.parameters[name].label if name in self.parameters else name
        return f"{label} {doc.chosen[name].typed or doc.chosen[name].text}" if name in doc.chosen else f"{label} as proposed"

    # --- instruments -------------------------------------------------------------------------------------------------

    def asks(self, name: str) -> Asking | None:
        """What a place wants of an instrument."""
        place = self.places.get(name)
        if place is None:
            return None
        return Asking(quantity=place.quantity, low=place.low, high=place.high, axis=place.axis, name=place.label)

    def captured(self, name: str, reading: Reading) -> InspectionDoc:
        """The document with a reading an instrument sent for a place.

        Raises:
            ShopError: The place has as many as are kept.
        """
        place = self.places[name]
        before = self.doc.readings.get(place.key, ())
        if len(before) >= MAX_TIMES:
            raise EntryError(place.label, f"{len(before)} readings", f"{MAX_TIMES} are kept at most", "Clear some first", name)
        kept = before if len(before) < place.times else ()
        taken = TakenDoc(value=reading.value, u=reading.u, tool=reading.instrument, on=_now())
        return self._working(with_readings(self.doc, place.key, (*kept, taken)))

    # --- what follows ------------------------------------------------------------------------------------------------

    def kept(self, key: str) -> tuple[str, tuple[Document, ...]] | None:
        """(words, documents) of a finding that is kept."""
        inspection = self.inspection
        if inspection is None:
            return None
        if key == "as made":
            design = next((d for d in self.designs if d.id == self.doc.about), None)
            if design is None:
                return None
            return f"{design.title} as made", (keep_as_made(self.doc, design, inspection, _now()[:10]),)
        finding = next((f for f in inspection.findings if f.key == key), None)
        if finding is None:
            return None
        design = next((d for d in self.designs if d.id == self.doc.about), None)
        designs = (with_chosen(design, finding.chosen),) if design is not None and finding.chosen else ()
        return finding.words, (*finding.items, *designs)


def _now() -> str:
    return datetime.now().isoformat(timespec="seconds")


def chooser() -> CardView:
    """What the card says when there is no inspection, or a new one is wanted."""
    rows = tuple(
        Row(key=Act(Verb.NEW, k.key).key, label=k.title, value=k.when, edit="press", wrap=True) for k in all_kinds().values()
    )
    return CardView(
        sections=(
            Section(title="New inspection", text="Where to touch is drawn on the plate, in order.", rows=rows, numbered=False),
        )
    )
