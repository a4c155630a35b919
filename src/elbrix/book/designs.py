"""Designs in the book: solved against the shop as it stands, revised, compared with what was made, and searched for fits."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.choices import chosen_from, read_chosen
from elbrix.book.documents import AsMade, Chosen, DesignDoc, JobDoc, Revision, next_letter
from elbrix.design.family import Design, Family, Request, SlotFit, find_family, parameter_of, solve_for
from elbrix.design.work import Blank
from elbrix.making.options import Options
from elbrix.parameters.parameter import Kind, ParameterValue
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Check, Verdict, worst
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

if TYPE_CHECKING:
    from elbrix.making.plan import Plan


def family_of(doc: DesignDoc) -> Family:
    return find_family(doc.family)


def request_of(doc: DesignDoc) -> Request:
    return Request(machine=doc.machine, slot=doc.slot, pieces=doc.pieces)


def chosen_of(doc: DesignDoc) -> dict[str, ParameterValue]:
    """The chosen values, read back; a value no version can read any more is left to the proposal."""
    return read_chosen(family_of(doc).parameters, doc.chosen)


def solve_doc(doc: DesignDoc, shop: Shop) -> Design:
    """The design as the shop stands now: what was not chosen follows the measured slot."""
    return solve_for(family_of(doc), shop, request_of(doc), chosen_of(doc))


def choose(doc: DesignDoc, name: str, text: str, unit: str = "mm") -> DesignDoc:
    """The document with one value chosen from typed text.

    Raises:
        EntryError: The text cannot be taken; nothing changes.
    """
    parameter = parameter_of(family_of(doc), name)
    return replace(doc, chosen={**doc.chosen, parameter.name: chosen_from(parameter, text, unit)})


def forget_choice(doc: DesignDoc, name: str) -> DesignDoc:
    """The document with one value back to what is proposed."""
    return replace(doc, chosen={k: v for k, v in doc.chosen.items() if k != name})


def new_design(family: Family, id: str, machine: str, slot: str, title: str, pieces: int = 4) -> DesignDoc:
    return DesignDoc(id=id, family=family.key, title=title, machine=machine, slot=slot, pieces=pieces)


def issue_revision(doc: DesignDoc, shop: Shop, reason: str, on: str = "") -> DesignDoc:
    """Put the design in the catalogue with the next letter; from then on all its sizes are fixed.

    Raises:
        EntryError: No reason was given.
        ShopError: The design does not solve.
    """
    if not reason.strip():
        raise EntryError(
            "Reason",
            "Nothing was entered",
            "Next year nobody remembers why a revision was made",
            "Write a few words: “first issue”, “neck 0.1 narrower, it bound at the right end”",
        )
    design = solve_doc(doc, shop)
    family = family_of(doc)
    values = {p.name: p.entry_text(design.values[p.name]) for p in family.parameters}
    revision = Revision(letter=next_letter(doc.letter), on=on or date.today().isoformat(), reason=reason.strip(), values=values)
    fixed = {
        k: doc.chosen.get(k, Chosen(text=v))
        for k, v in values.items()
        if k in doc.chosen or parameter_of(family, k).kind is not Kind.READINGS
    }
    return replace(doc, revisions=(*doc.revisions, revision), chosen=fixed)


def revised_since(doc: DesignDoc, design: Design) -> bool:
    """Whether a size differs from the newest revision."""
    if not doc.revisions:
        return False
    last = doc.revisions[-1].values
    return any(
        last.get(p.name) != p.entry_text(design.values[p.name]) for p in family_of(doc).parameters if p.kind is not Kind.READINGS
    )


class MadeSize(Struct, frozen=True):
    """One measured size of a finished piece against its design."""

    label: str
    parameter: str
    designed_mm: float
    made_mm: tuple[float, ...]
    verdict: Verdict
    reason: str


def solve_as_made(family: Family, design: Design, made_mm: Mapping[str, float], shop: Shop) -> Design:
    """A design with sizes as they were made.

    Raises:
        ShopError: A size that could not be typed either: no such piece has it. Or together they make none.
    """
    for name, made in made_mm.items():
        limits = parameter_of(family, name)
        if not limits.low <= made <= limits.high:
            raise ShopError(
                limits.label,
                f"it would have to be from {length(limits.low)} to {length(limits.high)} {LENGTH_UNIT}",
                "No such piece has another size",
                "Read it again",
                entry=name,
            )
    return family.solve(design.values.having(**made_mm), shop)


def made_sizes(doc: DesignDoc, shop: Shop) -> list[MadeSize]:
    """Each measured size judged by what it does to the design's checks, at its worst reading."""
    design = solve_doc(doc, shop)
    family = family_of(doc)
    found = []
    for made in _newest(doc.as_made):
        parameter = parameter_of(family, made.figure)
        worse: list[Check] = []
        verdict = Verdict.GO
        for reading in (min(made.readings_mm), max(made.readings_mm)):
            try:
                checks = solve_as_made(family, design, {made.figure: reading}, shop).checks
            except ShopError as error:
                found.append(
                    MadeSize(
                        parameter.label,
                        made.figure,
                        design.values.number(made.figure),
                        made.readings_mm,
                        Verdict.NO_GO,
                        error.what,
                    )
                )
                break
            before = {c.key: c.verdict.rank for c in design.checks}
            worse += [c for c in checks if c.verdict.rank > before.get(c.key, 0)]
        else:
            verdict = worst([c.verdict for c in worse])
            reason = max(worse, key=lambda c: c.verdict.rank).reason if worse else "does everything the design asks"
            found.append(
                MadeSize(parameter.label, made.figure, design.values.number(made.figure), made.readings_mm, verdict, reason)
            )
    return found


def _newest(made: tuple[AsMade, ...]) -> list[AsMade]:
    return list({m.figure: m for m in made}.values())


def as_made_design(doc: DesignDoc, shop: Shop) -> Design:
    """The design with what was measured in place of what was drawn: the largest reading, since that one binds."""
    design = solve_doc(doc, shop)
    sizes: Mapping[str, float] = {m.figure: max(m.readings_mm) for m in _newest(doc.as_made)}
    return solve_as_made(family_of(doc), design, sizes, shop) if sizes else design


def slot_fits(doc: DesignDoc, shop: Shop) -> tuple[SlotFit, ...]:
    """Which measured slots it fits as made; recomputed from the slots as they are measured now."""
    try:
        return family_of(doc).fits(as_made_design(doc, shop), shop)
    except ShopError:
        return ()


def blank_of(doc: DesignDoc, shop: Shop) -> Blank:
    """The finished outside of one piece.

    Raises:
        ShopError: The design contradicts itself.
    """
    return family_of(doc).work(solve_doc(doc, shop), shop).blank


def plan_doc(doc: DesignDoc, design: Design, shop: Shop, job: JobDoc | None = None, unit: str = "mm") -> Plan:
    """The cutting plan of a design, with a job's choices and measured sizes, said in a unit."""
    from elbrix.making.drawn_limits import with_limits  # planning is not needed to start
    from elbrix.making.planner import plan_work

    family = family_of(doc)
    plan = plan_work(
        doc.title,
        family.work(design, shop),
        shop,
        job.options if job else Options(),
        job.measured if job else {},
        home=doc.machine,
        unit=unit,
    )
    return with_limits(plan, family, design, shop)
