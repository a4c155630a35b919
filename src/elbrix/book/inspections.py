"""Inspections in the book: worked out against shop and designs, readings taken, findings kept, compared with the last one."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from math import degrees

from msgspec.structs import replace

from elbrix.book.choices import chosen_from, read_chosen
from elbrix.book.designs import choose, family_of, solve_as_made, solve_doc
from elbrix.book.documents import AsMade, DesignDoc, InspectionDoc, TakenDoc
from elbrix.design.family import Design, Family, MadeAtAssembly, parameter_of
from elbrix.drawing.scene import Dimension, Scene
from elbrix.inspecting.inspection import Inspection, InspectionKind, Mating, OfADesign, Size, Subject, find_kind, inspect
from elbrix.inspecting.readings import MAX_TIMES, Place, Readings, Taken
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Kind, parameter_named
from elbrix.parameters.places import read_places
from elbrix.quantities.angles import parse_angle
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import Length
from elbrix.quantities.sentences import within
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop

#: Choices that say which thing was looked at; two inspections of one thing make a history.
_WHICH = ("machine", "axis", "slot", "vise", "tool_kind", "on")


def kind_of(doc: InspectionDoc, designs: Iterable[DesignDoc], shop: Shop) -> InspectionKind:
    """The kind of an inspection, about its design when it has one.

    Raises:
        ShopError: There is no such kind, or the design does not solve.
    """
    kind = find_kind(doc.kind)
    design = next((d for d in designs if d.id == doc.about), None)
    if design is not None and isinstance(kind, OfADesign):
        return kind.about(subject_of(design, shop))
    return kind


def subject_of(doc: DesignDoc, shop: Shop) -> Subject:
    """A design as what is measured.

    Raises:
        ShopError: It does not solve.
    """
    family, design = family_of(doc), solve_doc(doc, shop)
    before = {c.key: c.verdict.rank for c in design.checks}

    def judge(name: str, made_mm: float) -> tuple[Verdict, str]:
        try:
            after = solve_as_made(family, design, {name: made_mm}, shop)
        except ShopError as error:
            return Verdict.NO_GO, error.what
        return _worst(after, before)

    sizes = tuple(
        Size(key=p.name, label=p.label, designed_mm=design.values.number(p.name))
        for p in family.parameters
        if p.kind is Kind.LENGTH and p.name in design.values and design.values.number(p.name) > 0
    )
    return Subject(
        title=doc.title,
        scene=_view_with_most(family.scenes(design), {s.key for s in sizes}),
        sizes=sizes,
        judge=judge,
        mating=_mating(family, design, shop),
    )


def _mating(family: Family, design: Design, shop: Shop) -> Mating | None:
    """The holes of a design that wait for their mate, and what its checks say of other places."""
    waiting = family.withheld(design) if isinstance(family, MadeAtAssembly) else None
    if waiting is None:
        return None
    before = {c.key: c.verdict.rank for c in design.checks}

    def release(places: str) -> tuple[Verdict, str, dict[str, str]]:
        chosen = {waiting.positions: places, waiting.making: "now"}
        try:
            after = family.solve(design.values.having(**chosen), shop)
        except ShopError as error:
            return Verdict.NO_GO, f"{error.what}: {within(error.why)}", {}
        verdict, why = _worst(after, before)
        return verdict, why, chosen

    return Mating(
        label=parameter_of(family, waiting.positions).label,
        mate=waiting.mate,
        places=read_places(design.values.word(waiting.positions), "mm", waiting.positions).points,
        release=release,
    )


def _worst(after: Design, before: Mapping[str, int]) -> tuple[Verdict, str]:
    """(verdict, why) of the check that became worst; go when none did."""
    worse = [c for c in after.checks if c.verdict.rank > before.get(c.key, 0)]
    if not worse:
        return Verdict.GO, "does everything the design asks"
    check = max(worse, key=lambda c: c.verdict.rank)
    return check.verdict, f"{within(check.label)}: {check.reason}"


def _view_with_most(scenes: Iterable[Scene], sizes: set[str]) -> Scene:
    """The view that shows most of the sizes, with only those of its dimensions."""
    best = max(scenes, key=lambda s: len({d.entry for d in s.dimensions} & sizes))
    kept: dict[str, Dimension] = {}
    for d in best.dimensions:
        if d.entry in sizes:
            kept.setdefault(d.entry, d)
    return replace(best, dimensions=tuple(kept.values()))


def readings_of(doc: InspectionDoc) -> Readings:
    return {key: tuple(Taken(value=t.value, u=t.u, tool=t.tool, on=t.on) for t in taken) for key, taken in doc.readings.items()}


def inspect_doc(doc: InspectionDoc, designs: Iterable[DesignDoc], shop: Shop) -> Inspection:
    """An inspection as its readings stand.

    Raises:
        ShopError: Values or readings that contradict each other.
    """
    kind = kind_of(doc, designs, shop)
    return inspect(kind, shop, read_chosen(kind.parameters(shop), doc.chosen), readings_of(doc))


def choose_for(doc: InspectionDoc, kind: InspectionKind, shop: Shop, name: str, text: str, unit: str = "mm") -> InspectionDoc:
    """The document with one value chosen from typed text.

    Raises:
        EntryError: The text cannot be taken; nothing changes.
    """
    parameter = parameter_named(kind.parameters(shop), name, kind.title)
    return replace(doc, chosen={**doc.chosen, parameter.name: chosen_from(parameter, text, unit)})


def typed_readings(place: Place, text: str, unit: str) -> tuple[float, ...]:
    """Readings of a place as typed, several with semicolons between them.

    Args:
        unit: Of bare lengths.

    Raises:
        EntryError: One of them is no reading, or absurd there.
    """
    parts = [p.strip() for p in text.split(";") if p.strip()]
    if len(parts) > MAX_TIMES:
        raise EntryError(place.label, f"{len(parts)} readings", f"{MAX_TIMES} are kept at most", "Leave some away", place.key)
    try:
        return tuple(_typed(place, part, unit) for part in parts)
    except ShopError as error:
        raise EntryError(error.where, error.what, error.why, error.do, place.key) from None


def _typed(place: Place, text: str, unit: str) -> float:
    if place.quantity is Quantity.ANGLE:
        return degrees(parse_angle(text, place.label, place.low, place.high))
    if place.quantity is Quantity.TEMPERATURE:
        plain = text.removesuffix("°C").removesuffix("C").strip().replace(",", ".")
        try:
            value = float(plain) if len(plain) < 12 else float("nan")
        except ValueError:
            value = float("nan")
        if not place.low <= value <= place.high:
            raise EntryError(
                place.label, f"“{text[:20]}” is no temperature there", f"{place.low:g} to {place.high:g} °C", "Read it again"
            )
        return value
    return Length.parse(text, unit, place.label, place.low, place.high).mm


def with_readings(doc: InspectionDoc, key: str, taken: tuple[TakenDoc, ...]) -> InspectionDoc:
    """The document with the readings of one place; none takes the place away."""
    others: Mapping[str, tuple[TakenDoc, ...]] = {k: v for k, v in doc.readings.items() if k != key}
    return replace(doc, readings={**others, **({key: taken} if taken else {})})


def fresh(doc: InspectionDoc, id: str, on: str) -> InspectionDoc:
    """The same inspection to be done again."""
    return replace(doc, id=id, began=on, readings={}, notes="")


def earlier(doc: InspectionDoc, others: Iterable[InspectionDoc]) -> list[InspectionDoc]:
    """Other inspections of the same thing, the oldest first."""

    def which(one: InspectionDoc) -> tuple[str, ...]:
        named = (one.chosen[n].text if n in one.chosen else "" for n in _WHICH)
        return (one.kind, one.about, one.title, *named)

    return sorted((o for o in others if o.id != doc.id and o.readings and which(o) == which(doc)), key=lambda o: (o.began, o.id))


def with_chosen(design: DesignDoc, chosen: Mapping[str, str]) -> DesignDoc:
    """The design with what was found chosen.

    Raises:
        EntryError: It cannot be taken.
    """
    for name, text in chosen.items():
        design = choose(design, name, text)
    return design


def keep_as_made(doc: InspectionDoc, design: DesignDoc, inspection: Inspection, on: str) -> DesignDoc:
    """The design with the sizes that were read, in place of what was known of them."""
    read = [p for p in inspection.sheet.places if inspection.sheet.has(p.key)]
    names = {p.key for p in read}
    made = tuple(
        AsMade(
            on=max((t.on for t in inspection.sheet.readings[p.key]), default="")[:10] or on,
            figure=p.key,
            readings_mm=inspection.sheet.values(p.key),
            measured_with=", ".join(dict.fromkeys(t.tool for t in inspection.sheet.readings[p.key] if t.tool)),
        )
        for p in read
    )
    return replace(design, as_made=(*(m for m in design.as_made if m.figure not in names), *made))
