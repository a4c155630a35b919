"""What fits what: every design against every slot, bore and vise it is judged in, with its sizes as made."""

from __future__ import annotations

from msgspec import Struct

from elbrix.book.designs import as_made_design, family_of
from elbrix.book.documents import DesignDoc
from elbrix.design.family import Request, SlotFit, solve_for
from elbrix.design.judging import nearest_fix
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Fix, Verdict
from elbrix.shop.shop import Shop


class FitRow(Struct, frozen=True, kw_only=True):
    """One design with what it was judged in."""

    design: str  #: id
    title: str
    family: str
    fits: tuple[SlotFit, ...]
    problem: str = ""  #: why it cannot be judged

    def at(self, column: tuple[str, str]) -> SlotFit | None:
        """Its fit in a place; None where it is not for such places."""
        return next((f for f in self.fits if (f.machine, f.slot) == column), None)


def fit_row(doc: DesignDoc, shop: Shop) -> FitRow:
    """One row, solved against the shop as it is measured now."""
    family = family_of(doc)
    try:
        return FitRow(
            design=doc.id, title=doc.title, family=family.title, fits=tuple(family.fits(as_made_design(doc, shop), shop))
        )
    except ShopError as error:
        return FitRow(design=doc.id, title=doc.title, family=family.title, fits=(), problem=error.what)


def columns(rows: tuple[FitRow, ...]) -> tuple[tuple[str, str], ...]:
    """Every place something was judged in, the machines' slots first, in the order they came."""
    return tuple(dict.fromkeys((f.machine, f.slot) for row in rows for f in row.fits))


def what_else(doc: DesignDoc, fit: SlotFit, shop: Shop) -> Fix | None:
    """The smallest change of one size with which a design would go where it does not: "make the neck 0.2 narrower".

    None when no change of one size does, or when the place is no slot of a machine.
    """
    if fit.verdict is Verdict.GO:
        return None
    family = family_of(doc)
    try:
        machine = shop.machine(fit.machine)
        machine.slot(fit.slot)
        now = as_made_design(doc, shop)
        chosen = {p.name: now.values[p.name] for p in family.parameters if p.kind is not Kind.READINGS and p.name in now.values}
        there = solve_for(family, shop, Request(machine=machine.id, slot=fit.slot, pieces=doc.pieces), chosen)
    except ShopError:
        return None
    for check in sorted(there.checks, key=lambda c: -c.verdict.rank):
        if check.verdict is Verdict.GO:
            break
        fix = nearest_fix(family, there, shop, check.key)
        if fix is None:
            continue
        name, text = fix.changes[0]
        parameter = next(p for p in family.parameters if p.name == name)
        try:
            after = family.solve(there.values.having(**{name: parameter.read(text)}), shop)
        except ShopError:
            continue
        if any(f.verdict is Verdict.GO and (f.machine, f.slot) == (fit.machine, fit.slot) for f in family.fits(after, shop)):
            return fix
    return None
