"""What is in the shop and where, and what could hold a piece of work."""

from __future__ import annotations

import re

from elbrix.answers.answer import Answer, Destination, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import text_figure
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.items.kind import item_kinds
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import METRIC
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import Derivation, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length, rough_length

#: Words of the question itself, which are not what is looked for.
_ASKING = words("where is are the my a an find which drawer in shop have i do we any got lie keep kept put of to")
_UNITS = words("mm in inch inches thou um")
_MAX = 6
#: Where work of a kind in the book is shown.
_BENCHES = {"angle": "angles", "layout": "hold", "inspection": "inspect"}
#: A size is meant when it is this near: nobody says 11.7 for a 12 mm nut.
_NEAR_MM, _NEAR = 0.1, 0.03


def _where(q: Question, world: ShopContext) -> Answer:
    sizes = []
    while (size := q.length()) is not None:
        sizes.append(size)
    while q.written("thread", "gauge", "zone", "angle", "tpi", "kelvin"):
        pass
    text = [
        w
        for w in re.findall(r"[A-Za-z0-9.\-/]+", q.text)
        if w.lower() not in _ASKING | _UNITS and not re.fullmatch(r"[0-9./]+", w)
    ]
    if not text:
        raise missing("What to look for", "where are the M10 nuts")
    hits, used = _search(world, text)
    if not hits:
        raise ShopError(
            "Ask",
            f"nothing in the book has the words {' '.join(text)}",
            "It looks through everything in the shop and the catalogue",
            "Use fewer words, or look in Catalogue",
        )
    known = {u.lower() for u in used}
    if lost := [w for w in text if known.isdisjoint((w.lower(), w.lower().removesuffix("s")))]:
        raise ShopError(
            "Ask",
            f"nothing in the book has the word {' '.join(lost)}",
            "It looks through everything in the shop and the catalogue",
            f"Ask for {' '.join(used)} alone, or look in Catalogue",
        )
    notes: tuple[str, ...] = ()
    fitting = [h for h in hits if all(_has_size(world, h, size) for size in sizes)] if sizes else hits
    if sizes and not fitting:
        raise ShopError(
            "Ask",
            f"none of the {len(hits)} found has {' and '.join(f'{length(s)} {LENGTH_UNIT}' for s in sizes)}",
            f"A size is meant when it is within {length(0.1)} {LENGTH_UNIT} or 3 %",
            f"Ask where the {' '.join(text)} are to see them all",
        )
    hits = fitting or hits
    figures, go = [], None
    for kind, id_ in hits[:_MAX]:
        document = world.documents[(kind, id_)]
        title = _title(kind, document, id_)
        figures.append(
            text_figure(f"{kind} {id_}", sentence(title), _place(kind, document), Derivation("found by", " ".join(used)))
        )
        go = go or _go(kind, id_, title)
    if len(hits) > _MAX:
        notes += (f"{len(hits)} found, {_MAX} shown",)
    return Answer(
        title=f"Where: {' '.join(text)}" + "".join(f", {length(s)} {LENGTH_UNIT}" for s in sizes),
        figures=tuple(figures),
        notes=notes,
        go=go,
    )


def _title(kind: str, document: object, id_: str) -> str:
    """What it calls itself, or what it is called in its list."""
    if title := getattr(document, "title", ""):
        return str(title)
    item = item_kinds().get(kind)
    return item.name(document, METRIC) if item is not None else id_


def _search(world: ShopContext, text: list[str]) -> tuple[list[tuple[str, str]], list[str]]:
    """Hits for all words, singular too; then with the words left away that nothing has."""
    kinds = {*item_kinds(), "design", "angle", "layout"}

    def hits(terms: list[str]) -> list[tuple[str, str]]:
        return [h for h in world.search(" ".join(terms)) if h[0] in kinds and h in world.documents]

    singular = [w[:-1] if len(w) > 3 and w.endswith("s") else w for w in text]
    named = {k for k in kinds if set(k.split()) & {w.lower() for w in singular}}
    rest = [w for w in singular if not any(w.lower() in k.split() for k in named)]
    # "M10 studs" are first of all the studs in Shop that say M10, then whatever speaks of an M10 stud.
    meant = [h for h in (hits(rest) if rest else world.documents) if h[0] in named]
    if found := [*meant, *(h for h in hits(singular) if h not in meant)]:
        # "Sine bars" are first of all what is called a sine bar, then bars whose notes speak of a sine plate.
        return sorted(found, key=lambda h: not _is_called(singular, _title(h[0], world.documents[h], h[1]))), singular
    alone = [w for w in singular if hits([w])]
    return (hits(alone) or hits(alone[:1]) if alone else []), alone


def _is_called(terms: list[str], title: str) -> bool:
    """Whether every word is one of a title."""
    own = set(re.findall(r"[a-z0-9.\-/]+", title.lower()))
    return all(own & {t.lower(), f"{t.lower()}s"} for t in terms)


def _has_size(world: ShopContext, hit: tuple[str, str], size_mm: float) -> bool:
    """Whether a thing has a size near one: its own, or for a design the neck of the slot it is for."""
    document = world.documents[hit]
    slot = next(
        (
            s
            for m, s in world.shop.measured_slots()
            if isinstance(document, DesignDoc) and (m.id, s.label) == (document.machine, document.slot)
        ),
        None,
    )
    if slot is not None and slot.neck is not None:
        values = [slot.neck.mean]
    elif isinstance(document, DesignDoc):
        try:
            values = [f.value for f in solve_doc(document, world.shop).figures if f.unit == "mm" and not f.text]
        except ShopError:
            return False
    else:
        values = [
            v
            for name in getattr(document, "__struct_fields__", ())
            if name.endswith("_mm") and isinstance(v := getattr(document, name), float)
        ]
    return any(abs(v - size_mm) <= max(_NEAR_MM, _NEAR * size_mm) for v in values)


def _place(kind: str, document: object) -> str:
    if isinstance(document, DesignDoc):
        place = document.location or "no place written down"
        state = f"; {document.condition}" if document.condition else ""
        return f"{place}, {document.made} made{state}" if document.made else f"{place}, none made yet"
    if kind == "bar":
        left = f"{rough_length(getattr(document, 'length_mm', 0))} {LENGTH_UNIT} left"
        return f"{getattr(document, 'rack', '') or 'on the rack'}, {left}"
    count = getattr(document, "count", None)
    return f"{count} of them" if count is not None else "in Shop"


def _go(kind: str, id_: str, title: str) -> Destination:
    if kind == "design":
        return Destination(words=f"See {title}", bench="catalogue", thing=id_)
    if kind == "machine":
        return Destination(words=f"See {title}", bench="shop", thing=id_)
    if kind in _BENCHES:
        return Destination(words=f"See {title}", bench=_BENCHES[kind], thing=id_)
    return Destination(words=f"See {title}", bench="shop", thing=item_kinds()[kind].key, item=id_)


def _hold(q: Question, world: ShopContext) -> Answer:
    size = q.length()
    if size is None:
        raise missing("The size of the work", "hold round 180")
    figures = []
    for machine in world.shop.machines:
        room = min(machine.table_length_mm, machine.table_width_mm)
        if room > 0:
            text = (
                f"{length(room - size, 0)} {LENGTH_UNIT} to spare across"
                if room >= size
                else f"{length(size - room, 0)} {LENGTH_UNIT} too wide for the table"
            )
            figures.append(
                reckoned(
                    f"table {machine.id}",
                    machine.name,
                    worked("table width − work", term(room, 1), term(size, 1)),
                    unit="",
                    text=text,
                )
            )
    fits = [f for f in figures if f.value >= 0]
    held = []
    for doc in world.designs():
        if not doc.letter:
            continue
        try:
            holds = family_of(doc).can_hold(solve_doc(doc, world.shop))
        except ShopError:
            continue
        held += [
            text_figure(
                f"holds {doc.id}", doc.title, ", ".join(c.words for c in holds) + (f"; {doc.location}" if doc.location else "")
            )
        ]
    if not figures and not held:
        raise ShopError(
            "Ask",
            "nothing in Shop could hold it yet",
            "Tables and accessories are compared with the work",
            "Add a machine and measure its slots in Shop",
        )
    shape = "a round" if q.has("round", "disc", "ring", "dial") else "a piece"
    chosen = {"shape": "round", "width": f"{size:g}"} if q.has("round", "disc", "ring", "dial") else {"length": f"{size:g}"}
    go = (
        Destination(
            words="Lay it out in Hold",
            bench="hold",
            kind="straps",
            title=f"{sentence(shape.removeprefix('a '))} {format_number(size, 1)}",
            chosen=chosen,
        )
        if fits
        else None
    )
    notes = () if fits else ("No table is wide enough: hold it on edge, or in parts",)
    return Answer(
        title=f"What is there to hold {shape} of {length(size, 1)} {LENGTH_UNIT}",
        figures=(*sorted(figures, key=lambda f: (f.value < 0, abs(f.value))), *held),
        notes=notes,
        cautions=("Whether it stays put is worked out in Hold; the machine maker's limits come first",),
        go=go,
    )


TOPICS = (
    Topic(
        key="hold",
        needs=(words("hold holding clamp grip workholding"),),
        hints=words("round disc plate block dial ring"),
        examples=("hold round 180",),
        answer=_hold,
    ),
    Topic(
        key="where",
        needs=(words("where find drawer have got"),),
        hints=words("are is the"),
        examples=("where are the M10 nuts", "where are the 12 mm nuts", "where is the level"),
        answer=_where,
        literal=True,
    ),
)
