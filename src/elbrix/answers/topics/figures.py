"""Figures of answers: from a table, and out of a setting that was solved for the question."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from elbrix.angles.setup import AngleSetup
from elbrix.answers.answer import Answer, Destination
from elbrix.book.angle_setups import choose_angle, solve_angle
from elbrix.book.documents import AngleDoc
from elbrix.results.figures import Derivation, Figure, Origin
from elbrix.results.formulas import Worked, reckoned
from elbrix.shop.shop import Shop
from elbrix.standards.tables import TableValue

#: What one of a unit is in N·m, N and kg; pound, standard gravity and inch exactly.
_POUND_KG, _GRAVITY, _FOOT_M = 0.45359237, 9.80665, 0.3048
_POUND_N = _POUND_KG * _GRAVITY
MOMENTS = {
    "nm": 1.0,
    **dict.fromkeys(("ftlb", "ftlbf", "lbft", "lbfft"), _POUND_N * _FOOT_M),
    **dict.fromkeys(("inlb", "inlbf", "lbin", "lbfin"), _POUND_N * _FOOT_M / 12),
}
FORCES = {"n": 1.0, "kn": 1000.0, "lbf": _POUND_N, "kgf": _GRAVITY}
MASSES = {"kg": 1.0, "g": 0.001, "oz": _POUND_KG / 16, **dict.fromkeys(("lb", "lbs", "pound", "pounds"), _POUND_KG)}
TURNS = dict.fromkeys(("rpm", "rev", "revs", "revperminute", "revsperminute"), 1.0)


def looked(key: str, label: str, found: TableValue, by: Worked | None = None) -> Figure:
    """A value from a table, with where it stands.

    Args:
        by: How the table reckons it.
    """
    working = (
        replace(by.derivation, source=found.source) if by is not None else Derivation("from the table", found.name, found.source)
    )
    return Figure(key=key, label=label, value=found.value, unit=found.unit, origin=Origin.STANDARD, derivation=working)


def by_rule(key: str, label: str, value: float, by: Worked, *, unit: str = "mm", step: float | None = None) -> Figure:
    """A value by a rule that the designs use too, with its working; a test works every line again."""
    return replace(reckoned(key, label, by, unit=unit, step=step), value=value)


def text_figure(key: str, label: str, text: str, derivation: Derivation | None = None, note: str = "") -> Figure:
    """A line of words."""
    return Figure(key=key, label=label, value=0.0, unit="", text=text, derivation=derivation, note=note)


def solved(kind: str, shop: Shop, chosen: Mapping[str, str]) -> AngleSetup:
    """A setting of a kind with some values chosen, sizes in mm.

    Raises:
        ShopError: A value cannot be.
    """
    doc = AngleDoc(id="asked", kind=kind, title="")
    for name, text in chosen.items():
        doc = choose_angle(doc, shop, name, text)
    return solve_angle(doc, shop)


def from_setting(
    title: str,
    kind: str,
    shop: Shop,
    chosen: Mapping[str, str],
    keys: tuple[str, ...],
    *,
    owned: bool = True,
    notes: tuple[str, ...] = (),
) -> Answer:
    """An answer out of a setting, and the button that opens it in Angles.

    Args:
        keys: Which of its figures, the one asked for first.
        owned: Whether Angles can be filled in with it.
    """
    setting = solved(kind, shop, chosen)
    have = {f.key: f for f in setting.figures}
    figures = tuple(replace(have[k], note="") for k in keys if k in have)
    bad = tuple(f"{c.verdict.sign} {c.label}: {c.reason}" for c in setting.checks if c.verdict.rank == 2)
    go = Destination(words="Open it in Angles", bench="angles", kind=kind, title=title, chosen=chosen) if owned else None
    return Answer(title=title, figures=figures, notes=(*notes, *bad), cautions=setting.cautions[:1], go=go)


def mm(value: float) -> str:
    """A size as an entry in mm."""
    return f"{value:.7f}".rstrip("0").rstrip(".")
