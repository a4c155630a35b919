"""Revisions of a design: as it was then, compared, brought back, and what was changed at the mill written back."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.choices import read_chosen
from elbrix.book.designs import as_made_design, family_of, issue_revision, made_sizes, solve_doc
from elbrix.book.documents import Chosen, DesignDoc, Revision, next_letter
from elbrix.design.family import Design
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Fix
from elbrix.shop.shop import Shop


class SizeChange(Struct, frozen=True, kw_only=True):
    """A value that differs, as text in mm; empty where a version did not ask for it."""

    name: str
    label: str
    before: str
    after: str


class CheckMove(Struct, frozen=True, kw_only=True):
    """A check whose verdict differs; None where it was not made."""

    label: str
    before: Check | None
    after: Check | None


class Comparison(Struct, frozen=True, kw_only=True):
    """A revision beside another, or beside the design as it stands."""

    sizes: tuple[SizeChange, ...]
    checks: tuple[CheckMove, ...]
    lost: tuple[str, ...] = ()  #: what the revision has and no version reads any more


def revision_of(doc: DesignDoc, letter: str) -> Revision:
    """A revision by letter.

    Raises:
        ShopError: There is none.
    """
    for revision in doc.revisions:
        if revision.letter == letter:
            return revision
    have = ", ".join(r.letter for r in doc.revisions) or "none yet"
    raise ShopError("Revision", f"there is no “{letter[:8]}”", f"{doc.title} has: {have}", "Pick one of those")


def as_revision(doc: DesignDoc, letter: str) -> DesignDoc:
    """The document as it was released: every value fixed, the readings of the slot as they were then.

    Raises:
        ShopError: There is no such revision.
    """
    revision = revision_of(doc, letter)
    upto = tuple(r for r in doc.revisions if r.on <= revision.on and len(r.letter) <= len(letter) and r.letter <= letter)
    return replace(
        doc,
        title=doc.title,
        chosen={name: Chosen(text=text) for name, text in revision.values.items() if text},
        revisions=upto if upto and upto[-1].letter == letter else (revision,),
        as_made=(),
    )


def compared(doc: DesignDoc, letter: str, shop: Shop, other: str = "") -> Comparison:
    """What is different since a revision: sizes and the checks that moved.

    Args:
        other: Letter to compare with; empty: the design as it stands.

    Raises:
        ShopError: One of the two does not exist or does not solve any more.
    """
    then = as_revision(doc, letter)
    now = as_revision(doc, other) if other else doc
    before, after = solve_doc(then, shop), solve_doc(now, shop)
    parameters = family_of(doc).parameters
    sizes = []
    for p in parameters:
        texts = [p.entry_text(d.values[p.name]) if p.name in d.values else "" for d in (before, after)]
        if texts[0] != texts[1]:
            shown = [p.shown_choice(t) if p.kind is Kind.CHOICE else t for t in texts]
            sizes.append(SizeChange(name=p.name, label=p.label, before=shown[0], after=shown[1]))
    read = read_chosen(parameters, then.chosen)
    lost = tuple(sorted(name for name in then.chosen if name not in read))
    return Comparison(sizes=tuple(sizes), checks=_moved(before, after), lost=lost)


def _moved(before: Design, after: Design) -> tuple[CheckMove, ...]:
    was, now = ({c.key: c for c in d.checks} for d in (before, after))
    found = []
    for key in dict.fromkeys((*was, *now)):
        one, two = was.get(key), now.get(key)
        if one is None or two is None or one.verdict is not two.verdict:
            label = (two or one).label  # type: ignore[union-attr]
            found.append(CheckMove(label=label, before=one, after=two))
    return tuple(found)


def restored(doc: DesignDoc, letter: str) -> DesignDoc:
    """The design with the values of a revision again; its revisions and what was made stay.

    Readings of the slot are not taken back: the slot is as it is measured now.

    Raises:
        ShopError: There is no such revision.
    """
    then = as_revision(doc, letter)
    readings = {p.name for p in family_of(doc).parameters if p.kind is Kind.READINGS}
    return replace(doc, chosen={n: c for n, c in then.chosen.items() if n not in readings})


def copy_of(doc: DesignDoc, letter: str, id: str) -> DesignDoc:
    """A design of its own that begins as a revision was.

    Raises:
        ShopError: There is no such revision.
    """
    fresh = restored(doc, letter)
    return replace(fresh, id=id, title=f"{doc.title}, from rev {letter}", revisions=(), as_made=(), made=0, location="")


def copy_with(doc: DesignDoc, fix: Fix, id: str) -> DesignDoc:
    """A design of its own that differs in what a fix changes."""
    chosen = {**doc.chosen, **{name: Chosen(text=text) for name, text in fix.changes}}
    return replace(doc, id=id, title=f"{doc.title}, changed", chosen=chosen, revisions=(), as_made=(), made=0, location="")


def made_as_revision(doc: DesignDoc, shop: Shop, on: str = "") -> DesignDoc:
    """The sizes as made become the drawing's, with the next letter: what was changed at the mill is written back.

    Each size takes the mean of its readings; the sizes as made stay with the piece.

    Raises:
        ShopError: Nothing was measured, or the design does not solve with what was.
    """
    sizes = made_sizes(doc, shop)
    if not sizes:
        raise ShopError(
            "As made", "nothing was measured on the piece", "Only sizes as made can be written back", "Measure it in Inspect"
        )
    as_made_design(doc, shop)  # refused here, with the reason, rather than kept and never solved again
    chosen = {s.parameter: Chosen(text=f"{sum(s.made_mm) / len(s.made_mm):.6f}".rstrip("0").rstrip(".")) for s in sizes}
    names = ", ".join(s.label.lower() for s in sizes)
    reason = f"as made: {names}"
    return issue_revision(replace(doc, chosen={**doc.chosen, **chosen}), shop, reason[:200], on)


def next_of(doc: DesignDoc) -> str:
    """The letter the next revision gets."""
    return next_letter(doc.letter)
