"""Every family as proposed for the demo shop, in every one of its kinds, ways and parts."""

from __future__ import annotations

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, all_families, find_family, read_choices, solve_for
from elbrix.parameters.parameter import Kind

SHOP = shop_of(documents())
#: Family, parameter and its choice; the first two empty for the family as it is proposed.
KINDS = [(key, "", "") for key in all_families()] + [
    (key, p.name, value)
    for key, family in all_families().items()
    for p in family.parameters
    if p.name in ("kind", "way", "held", "part", "keyways", "stud_stop") and p.kind is Kind.CHOICE
    for value, _ in p.choices
]


def solved(key: str, name: str, value: str) -> tuple[Family, Design]:
    family = find_family(key)
    return family, solve_for(family, SHOP, Request(), read_choices(family, {name: value} if name else {}))


def kind_id(kind: tuple[str, str, str]) -> str:
    return "-".join(filter(None, kind))


def on_machines(machines: tuple[str, ...]) -> list[tuple[tuple[str, str, str], str]]:
    """Every kind on the first machine, and every family as it is proposed on the others."""
    return [(kind, machines[0]) for kind in KINDS] + [(kind, on) for kind in KINDS if not kind[1] for on in machines[1:]]


def on_id(value: object) -> str:
    return kind_id(value) if isinstance(value, tuple) else str(value)
