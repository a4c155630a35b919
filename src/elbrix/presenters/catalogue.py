"""What the Catalogue bench shows. No widgets here."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Mapping
from typing import TYPE_CHECKING, Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.designs import MadeSize, family_of, made_sizes, slot_fits, solve_doc
from elbrix.book.documents import AsMade, DesignDoc, PhotoDoc
from elbrix.book.lessons import changed_lesson, read_lesson, with_lesson
from elbrix.book.parts import parts_list
from elbrix.book.photos import photos_of
from elbrix.book.revisions import compared, next_of, revision_of
from elbrix.book.store import Book
from elbrix.book.uses import DesignUse, uses_of
from elbrix.design.family import Design, MadeAtAssembly, SlotFit, parameter_of
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Kind
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Picture, Row, Section
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import verdict_word
from elbrix.quantities.counts import parse_amount, parse_count
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import Length, UnitStyle, all_same, entry_text
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Verdict
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

if TYPE_CHECKING:
    from elbrix.instruments.listener import Asking

#: Uses listed on the card.
_MAX_USES: Final = 8


class Entry(Struct, frozen=True):
    """One card in the drawers."""

    doc: DesignDoc
    scene: Scene | None
    lines: tuple[str, ...]  #: none: not worked out yet
    verdict: Verdict | None  #: None: not worked out yet


def state_of(doc: DesignDoc) -> str:
    """Revision, how many, and where."""
    state = f"rev {doc.letter}" if doc.letter else "draft"
    made = f", {doc.made} made" if doc.made else ""
    return f"{state}{made}   {doc.location}".rstrip()


class KnownEntry(Struct, frozen=True):
    """A card worked out before, and what else it was worked out from."""

    entry: Entry
    shop: Shop
    style: UnitStyle


def _costs(doc: DesignDoc) -> Section:
    """Four amounts that Make weighs against its minutes."""
    rows = []
    for name, label in _COSTS:
        amount = getattr(doc.costs, name)
        shown = f"{amount:g}" if amount else ""
        rows.append(
            Row(
                key=Act(Verb.COSTS, name).key,
                label=label,
                value=shown,
                placeholder="not said",
                edit="text",
                entry_text=shown,
                origin="chosen" if shown else "",
            )
        )
    return Section(title="Make or buy", hint="Make weighs it", rows=tuple(rows))


def _words_row(key: str, label: str, text: str, placeholder: str) -> Row:
    """A few words that somebody writes down."""
    return Row(key=key, label=label, value=text, placeholder=placeholder, edit="text", entry_text=text, wrap=True)


#: What making and buying cost, in the order of asking.
_COSTS: Final = (
    ("price", "Price of one bought"),
    ("rate", "Hour at the machine"),
    ("stock", "Metal for one"),
    ("tools", "Tools to buy for it"),
)


class CataloguePresenter:
    """The drawers, searched or not, and the item in hand."""

    def __init__(self, book: Book, style: UnitStyle, doc: DesignDoc | None, words: str = "", revision: str = "") -> None:
        """Show the drawers.

        Args:
            doc: The item in hand.
            words: What is searched for.
            revision: Letter of a revision that is open beside the item; "" for none.
        """
        self.book, self.shop, self.style = book, book.shop, style
        self.revision = revision if doc is not None and any(r.letter == revision for r in doc.revisions) else ""
        self.ids: list[str] = []
        self.search(words)
        self.doc = doc
        self.design: Design | None = None
        self.problem = ""
        if doc is not None:
            try:
                self.design = solve_doc(doc, self.shop)
            except ShopError as error:
                self.problem = said_in(str(error), style)
        self._fits: tuple[SlotFit, ...] | None = None
        self.uses: list[DesignUse] = []
        self.photos: list[PhotoDoc] = []

    def search(self, words: str) -> None:
        """Show what has these words, or everything."""
        self.words = words
        self.ids = (
            [id_ for kind, id_ in self.book.search(words) if kind == "design"] if words.strip() else self.book.ids(DesignDoc)
        )

    @property
    def docs(self) -> list[DesignDoc]:
        """Everything that was found; each of them is read for it."""
        everything = {d.id: d for d in self.book.all(DesignDoc)}
        return [everything[id_] for id_ in self.ids if id_ in everything]

    def shown(self, id_: str, known: Mapping[str, KnownEntry] | None = None) -> Entry | None:
        """One card as far as it is known, a picture that is not follows by `entry`; None when its design is gone.

        Args:
            known: Entries worked out before, by design, with what they were worked out from.
        """
        doc = self.book.get(DesignDoc, id_)
        if doc is None:
            return None
        before = (known or {}).get(id_)
        if before is not None and before.entry.doc == doc and before.shop is self.shop and before.style is self.style:
            return before.entry
        return Entry(doc, None, (), None)

    def entry(self, doc: DesignDoc) -> Entry:
        """One card worked out."""
        try:
            design = solve_doc(doc, self.shop)
            scene: Scene | None = next(iter(family_of(doc).scenes(design)))
            note, verdict = said_in(design.note_words, self.style), design.verdict
        except ShopError as error:
            scene, note, verdict = None, error.what, Verdict.NO_GO
        return Entry(doc, scene, (state_of(doc), note), verdict)

    @property
    def fits(self) -> tuple[SlotFit, ...]:
        if self._fits is None:
            self._fits = slot_fits(self.doc, self.shop) if self.doc is not None else ()
        return self._fits

    def title(self) -> tuple[str, str]:
        count = len(self.book.ids(DesignDoc))
        if self.words.strip():
            return "Catalogue", f"{len(self.ids)} of {count} for “{self.words.strip()[:40]}”"
        return "Catalogue", f"{count} items  ·  what was made, what it fits, where it is"

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        doc = self.doc
        if doc is None:
            return CardView(
                sections=(
                    Section(
                        title="Nothing released yet",
                        text=(
                            "Design an accessory and put it in the catalogue; its sizes, its place and what it fits are"
                            " remembered here."
                        ),
                        numbered=False,
                    ),
                )
            )
        sections = [
            self._what(doc),
            self._as_made(doc),
            self._where(doc),
            *self._parts(doc),
            _costs(doc),
            self._photographs(doc),
            self._lessons(doc),
            self._uses(doc),
            self._revisions(doc),
            self._history(doc),
        ]
        if self.revision:
            sections.insert(0, self._opened(doc, self.revision))
        buttons = (
            Button(key="design", text="Open in Design", main=True),
            Button(key="label", text="Drawer label", enabled=self.design is not None),
            Button(key="measure", text="Measure", tip="A piece against its drawing, in Inspect"),
            *(
                [Button(key="mate", text="Measure mate", tip="Where the mate's holes are: the withheld ones follow them")]
                if self.waits
                else []
            ),
        )
        return CardView(sections=tuple(sections), buttons=buttons)

    @property
    def waits(self) -> bool:
        """Whether holes of the item in hand wait for their mate."""
        if self.doc is None or self.design is None:
            return False
        family = family_of(self.doc)
        return isinstance(family, MadeAtAssembly) and family.withheld(self.design) is not None

    def _what(self, doc: DesignDoc) -> Section:
        if self.design is None:
            return Section(title=doc.title, text=said_in(self.problem, self.style))
        family = family_of(doc)
        holds = said_in(", ".join(c.words for c in family.can_hold(self.design)), self.style)
        good = [f for f in self.fits if f.verdict is Verdict.GO]
        by_machine: dict[str, list[str]] = {}
        for fit in good:
            by_machine.setdefault(fit.machine, []).append(fit.slot)
        rows = (
            Row(key="note", label="Description", value=said_in(self.design.note_words, self.style), wrap=True),
            Row(key="holds", label="Can hold", value=holds, origin="calculated"),
            Row(
                key="fits",
                label="Fits",
                value=f"{len(good)} of {len(self.fits)} slots",
                origin="calculated",
                derivation="\n".join(f"{m}: {', '.join(s)}" for m, s in by_machine.items()) or "none of the measured slots",
            ),
        )
        return Section(title=doc.title, hint=f"rev {doc.letter}" if doc.letter else "draft", rows=rows)

    def _as_made(self, doc: DesignDoc) -> Section:
        if self.design is None:
            return Section(title="As made")
        sizes: dict[str, MadeSize] = {}
        with contextlib.suppress(ShopError):
            sizes = {m.parameter: m for m in made_sizes(doc, self.shop)}
        family, rows = family_of(doc), []
        asked = {name for group in family.card(self.design) for name in group.rows}  # a size of another kind is none of this
        for p in family.parameters:
            if (
                p.kind is not Kind.LENGTH
                or p.name not in asked
                or p.name not in self.design.values
                or (self.design.values.number(p.name) == 0 and p.low == 0)
            ):
                continue
            made = sizes.get(p.name)
            designed = self.style.show(self.design.values.number(p.name), "mm")
            if made is None:
                rows.append(
                    Row(
                        key=Act(Verb.MADE, p.name).key,
                        label=f"{p.label} {designed}",
                        value="",
                        placeholder="measure",
                        edit="text",
                        unit=self.style.name("mm"),
                    )
                )
                continue
            shown = ", ".join(self.style.show(v, "mm") for v in made.made_mm)
            rows.append(
                Row(
                    key=Act(Verb.MADE, p.name).key,
                    label=f"{made.verdict.sign} {p.label} {designed}",
                    value=shown,
                    unit=self.style.name("mm"),
                    origin="measured",
                    edit="text",
                    entry_text="; ".join(entry_text(v, self.style.length) for v in made.made_mm),
                    derivation=f"{verdict_word(made.verdict)}: {made.reason}",
                )
            )
        return Section(title="As made", hint="designed, then measured", rows=tuple(rows))

    def _where(self, doc: DesignDoc) -> Section:
        rows = (
            Row(
                key="location",
                label="Storage place",
                value=doc.location,
                placeholder="not stored yet",
                edit="text",
                entry_text=doc.location,
                origin="chosen" if doc.location else "",
            ),
            Row(key="made_count", label="Pieces in stock", value=str(doc.made), edit="text", entry_text=str(doc.made)),
            _words_row("condition", "Condition", doc.condition, "as new"),
            _words_row("notes", "Notes", doc.notes, "anything about it"),
        )
        give = Button(key="give", text="Export with all it needs…", tip="Design, machine, job, layouts, photographs, in one file")
        return Section(title="Storage", rows=rows, buttons=(give,))

    def _parts(self, doc: DesignDoc) -> tuple[Section, ...]:
        """What one piece is put together with, and how many of it there are."""
        lines = parts_list(doc, self.shop) if self.design is not None else ()
        if not lines:
            return ()
        rows = []
        for n, line in enumerate(lines):
            short = line.owned is not None and line.owned < line.part.count
            there = "made for it" if line.part.made else "not listed in Shop" if line.owned is None else f"{line.owned} in Shop"
            rows.append(
                Row(
                    key=f"part {n}",
                    label=f"{line.part.count} ×   {'▲ ' if short else ''}{there}",
                    value=said_in(line.part.words, self.style),
                    wrap=True,
                )
            )
        sheet = Button(
            key="assembly", text="Assembly sheet…", tip="Parts numbered in the picture, and the order it is put together in"
        )
        return (Section(title="Parts", hint="for one piece, besides itself", rows=tuple(rows), buttons=(sheet,)),)

    def _photographs(self, doc: DesignDoc) -> Section:
        self.photos = photos_of(doc, self.book)
        pictures = tuple(
            Picture(key=Act(Verb.PHOTO, p.id).key, label=f"{p.title or 'Photograph'}, {p.on}", jpeg=p.jpeg) for p in self.photos
        )
        return Section(
            title="Photographs",
            hint="" if pictures else "none yet",
            pictures=pictures,
            buttons=(Button(key="photo add", text="Add one…", tip="A picture file; it is kept small in the book"),),
        )

    def _uses(self, doc: DesignDoc) -> Section:
        """Nobody writes these down: the book knows what it stands in."""
        self.uses = uses_of(doc, self.book)
        rows = tuple(
            Row(key=Act(Verb.USE, str(n)).key, label=use.on, value=use.words, wrap=True, edit="press" if use.bench else "")
            for n, use in enumerate(self.uses[:_MAX_USES])
        )
        more = f"{len(self.uses) - _MAX_USES} more before" if len(self.uses) > _MAX_USES else "" if rows else "none yet"
        return Section(title="Uses", hint=more, rows=rows)

    def _lessons(self, doc: DesignDoc) -> Section:
        """Dated; one that begins with the name of a size comes up again with that size."""
        labels = {p.name: p.label for p in family_of(doc).parameters}
        rows = [
            Row(
                key=Act(Verb.LESSON, str(number)).key,
                label=f"{lesson.on}  {labels.get(lesson.about, '')}".rstrip(),
                value=lesson.text,
                edit="text",
                entry_text=lesson.text,
                wrap=True,
            )
            for number, lesson in reversed(list(enumerate(doc.lessons)))
        ]
        rows.append(
            Row(
                key=Act(Verb.LESSON, "new").key,
                label="One more",
                value="",
                placeholder="neck width: what to mind next time",
                edit="text",
                wrap=True,
            )
        )
        return Section(title="Lessons", hint="shown again in Design and Make", rows=tuple(rows))

    def _revisions(self, doc: DesignDoc) -> Section:
        rows = tuple(
            Row(
                key=Act(Verb.REVISION, r.letter).key,
                label=f"{r.letter}   {r.on}",
                value=r.reason,
                wrap=True,
                edit="press",
                strong=r.letter == self.revision,
                derivation=self._revision_sizes(doc, r.letter),
            )
            for r in reversed(doc.revisions)
        )
        buttons: tuple[Button, ...] = ()
        if doc.as_made and self.design is not None:
            buttons = (
                Button(
                    key="made revision", text=f"As made becomes {next_of(doc)}", tip="The drawing follows what was cut; one undo"
                ),
            )
        return Section(title="Revisions", hint="open one to compare" if rows else "none yet", rows=rows, buttons=buttons)

    def _opened(self, doc: DesignDoc, letter: str) -> Section:
        """A revision beside the item as it stands: what changed, and which checks moved."""
        buttons = (
            Button(key="rev print", text="Its drawing", tip="Printed as it was released"),
            Button(key="rev copy", text="Open as a copy"),
            Button(
                key="rev back", text=f"Back to {letter}", tip="Its values again; the slot stays as it is measured now. One undo"
            ),
            Button(key="rev close", text="Close"),
        )
        revision = revision_of(doc, letter)
        title = f"Revision {letter}, {revision.on}"
        try:
            found = compared(doc, letter, self.shop)
        except ShopError as error:
            return Section(
                title=title, text=said_in(f"It does not solve any more. {error}", self.style), buttons=buttons, numbered=False
            )
        rows = [
            Row(
                key=f"was {s.name}",
                label=s.label,
                value=f"{self._then(s.name, s.before)} → {self._then(s.name, s.after)}",
                wrap=True,
            )
            for s in found.sizes
        ]
        for number, move in enumerate(found.checks):
            before, after = (verdict_word(c.verdict) if c is not None else "not checked" for c in (move.before, move.after))
            rows.append(Row(key=f"moved {number}", label=move.label, value=f"{before} → {after}", wrap=True))
        text = f"{revision.reason}." if revision.reason and not revision.reason.endswith(".") else revision.reason
        text += "" if rows else " Nothing is different since."
        if found.lost:
            text += f" Not read any more: {', '.join(found.lost)}."
        return Section(
            title=title, hint=f"then → now, {self.style.name('mm')}", text=text, rows=tuple(rows), buttons=buttons, numbered=False
        )

    def _revision_sizes(self, doc: DesignDoc, letter: str) -> str:
        """What a revision changed against the one before."""
        letters = [r.letter for r in doc.revisions]
        at = letters.index(letter)
        if at == 0:
            return "first issue"
        before, now = doc.revisions[at - 1].values, doc.revisions[at].values
        labels = {p.name: p.label for p in family_of(doc).parameters}
        changed = [
            f"{labels.get(k, k)} {before.get(k, '–')} → {v}"
            for k, v in now.items()
            if before.get(k) != v and k not in ("neck", "lip", "head", "depth")
        ]
        return "; ".join(changed) or "no size changed"

    def _then(self, name: str, text: str) -> str:
        """A value of a revision in the unit on show."""
        if not text or self.doc is None:
            return "not asked"
        parameter = parameter_of(family_of(self.doc), name)
        if parameter.kind is Kind.CHOICE:
            return text
        try:
            given = parameter.read(text)
            if parameter.kind is Kind.LENGTH:
                return self.style.show(float(given.value), "mm")  # type: ignore[arg-type]
            return parameter.entry_text(given, self.style.length)
        except ShopError:
            return text  # a value no version reads any more stands as it was written

    def _history(self, doc: DesignDoc) -> Section:
        edits = self.book.history("design", doc.id)[:6]
        return Section(
            title="History",
            rows=tuple(
                Row(key=f"edit {i}", label=at[:16].replace("T", " "), value=what, wrap=True) for i, (at, what) in enumerate(edits)
            ),
        )

    # --- strip -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        """One tile per measured slot: does it go in there, as made?"""
        return tuple(
            Tile(
                key=f"{f.machine}|{f.slot}",
                label=f"{f.machine}, {f.slot}",
                value={"go": "fits", "marginal": "marginal", "no-go": "no"}[f.verdict.value],
                verdict=f.verdict.value,
                sign=f.verdict.sign,
                scaled=False,
                reason=said_in(f.reason, self.style),
            )
            for f in sorted(self.fits, key=lambda f: f.verdict.rank)
        )

    def why(self, key: str) -> Why | None:
        for f in self.fits:
            if f"{f.machine}|{f.slot}" == key:
                return Why(
                    key=key,
                    title=f"{verdict_word(f.verdict)}   {f.machine}, {f.slot}",
                    reason=said_in(sentence(f.reason) + ".", self.style),
                    derivation=(
                        "Judged from the sizes as made where they were measured, else as designed, in the slot as it is measured"
                        " now."
                    ),
                )
        return None

    def asks(self, key: str) -> Asking | None:
        """What an entry wants of an instrument."""
        from elbrix.presenters.capture import length_asked

        if self.doc is None or self.design is None or Act.read(key).do != Verb.MADE:
            return None
        parameter = parameter_of(family_of(self.doc), Act.read(key).of)
        size = self.design.values.number(parameter.name)
        near = max(2.0, 0.25 * size)
        return length_asked(parameter.label, max(0.0, size - near), size + near)

    # --- changes -----------------------------------------------------------------------------------------------------

    def typed(self, key: str, text: str, tool: str = "") -> tuple[str, DesignDoc]:
        """(what was done, changed document).

        Raises:
            ShopError: It cannot be; nothing changes.
        """
        doc = self.doc
        if doc is None or len(text) > 4000:
            raise EntryError("Catalogue", f"{len(text):,} characters", "4,000 are kept at most", "Shorten it")
        if key == "location":
            return f"Lives in {text.strip()}", replace(doc, location=text.strip())
        if key == "condition":
            return f"Condition: {text.strip() or 'as new'}"[:60], replace(doc, condition=text.strip())
        act = Act.read(key)
        if act.do == Verb.COSTS:
            what = act.of
            amount = parse_amount(text, dict(_COSTS)[what]) if text.strip() else 0.0
            return f"{dict(_COSTS)[what]} {text.strip() or 'not said'}"[:60], replace(
                doc, costs=replace(doc.costs, **{what: amount})
            )
        if key == "notes":
            return "Notes", replace(doc, notes=text.strip())
        if key == "made_count":
            made = parse_count(text, "Pieces in stock", 0, 100_000, "Count the drawer")
            return f"{made} made", replace(doc, made=made)
        if act == Act(Verb.LESSON, "new"):
            return "A lesson", with_lesson(doc, read_lesson(doc, text))
        if act.do == Verb.LESSON:
            return "A lesson", changed_lesson(doc, act.number, text)
        name = act.of if act.do == Verb.MADE else key
        parameter = parameter_of(family_of(doc), name)
        others = tuple(m for m in doc.as_made if m.figure != name)
        if not text.strip():
            return f"{parameter.label} not measured", replace(doc, as_made=others)
        parts = [p for p in text.split(";") if p.strip()]
        values = tuple(Length.parse(p, self.style.length, parameter.label, parameter.low, parameter.high).mm for p in parts[:50])
        was = next((m for m in doc.as_made if m.figure == name), None)
        if was is not None and all_same(values, was.readings_mm) and tool in ("", was.measured_with):
            return f"{parameter.label} as made {text.strip()}", doc
        as_made = AsMade(
            on=time.strftime("%Y-%m-%d"),
            figure=name,
            readings_mm=values,
            measured_with=tool or (self.shop.measuring[0].name if self.shop.measuring else ""),
        )
        return f"{parameter.label} as made {text.strip()}", replace(doc, as_made=(*others, as_made))
