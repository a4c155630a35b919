"""Materials, strengths and friction: reference values, marked as such."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import Final

from msgspec import Struct

from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.standards.tables import TableValue, not_in_table, table

_MPA_PER_PSI: Final = 0.45359237 * 9.80665 / MM_PER_INCH**2  # exact: pound, standard gravity, inch


class Material(Struct, frozen=True):
    """A material with its book values. Reference: the supplier's figures first."""

    name: str
    density_kg_m3: float
    expansion_um_m_k: float
    young_mpa: float  #: Young's modulus
    thread_depth: float  #: full thread a tapped hole wants, in diameters
    yield_mpa: float
    kc11_mpa: float  #: specific cutting force at 1 mm chip thickness
    mc: float  #: its exponent
    hss_m_min: float
    carbide_m_min: float
    fz_factor: float  #: feed per tooth against mild steel
    chips: str
    fluid: str


@cache
def materials() -> dict[str, Material]:
    """All of them by name."""
    return {
        name: Material(name=name, **{k: v for k, v in row.items() if k != "also"})
        for name, row in table("materials")["materials"].items()
    }


def material(name: str) -> Material:
    """By name or by one of its other names, in any case.

    Raises:
        ShopError: Not in the table.
    """
    wanted = name.strip().lower().replace("_", " ")
    for own, row in table("materials")["materials"].items():
        if wanted == own or wanted in row["also"]:
            return materials()[own]
    raise not_in_table("Material", name, list(materials()))


def expansion(name: str) -> TableValue:
    return TableValue(material(name).expansion_um_m_k, "µm/(m·K)", table("materials")["source"], "reference", material(name).name)


def density(name: str) -> TableValue:
    return TableValue(material(name).density_kg_m3, "kg/m³", table("materials")["source"], "reference", material(name).name)


def proof_mpa(strength_class: str, major_mm: float) -> TableValue:
    """Proof stress in MPa of a property class (4.6 … 12.9) or inch grade (2, 5, 8) at a thread size."""
    data = table("strength")
    if strength_class in data["proof_mpa"]:
        for up_to, value in data["proof_mpa"][strength_class]:
            if major_mm <= up_to:
                return TableValue(float(value), "MPa", "ISO 898-1", "standard", f"class {strength_class}")
        raise not_in_table("Proof stress", f"class {strength_class} at {major_mm:g} mm", list(data["proof_mpa"]))
    grade = strength_class.lower().removeprefix("grade").strip()
    if grade in data["proof_inch_psi"]:
        for up_to_in, psi in data["proof_inch_psi"][grade]:
            if major_mm <= up_to_in * MM_PER_INCH + 1e-6:
                return TableValue(psi * _MPA_PER_PSI, "MPa", "SAE J429", "standard", f"grade {grade}")
    raise not_in_table(
        "Proof stress", f"class {strength_class}", [*data["proof_mpa"], *(f"grade {g}" for g in data["proof_inch_psi"])]
    )


def nut_factor(state: str) -> float:
    """K in T = K·d·F, "dry" or "oiled". Reference."""
    factors = table("friction")["nut_factor"]
    if state not in factors:
        raise not_in_table("Nut factor", state, list(factors))
    return float(factors[state])


def friction(pair: str) -> float:
    """Coefficient of friction of a pair of surfaces, "steel on cast iron, dry": at or below the usual design value. Reference."""
    pairs = table("friction")["friction"]
    if pair not in pairs:
        raise not_in_table("Friction", pair, list(pairs))
    return float(pairs[pair])


#: Torque to preload scatters by this share either way.
PRELOAD_SCATTER: Final = float(table("friction")["scatter"])


def _names() -> list[tuple[tuple[str, ...], str]]:
    """(words of a name, the material's own name), longest names first."""
    rows = table("materials")["materials"].items()
    names = [(tuple(name.replace(",", " ").split()), own) for own, row in rows for name in (own, *row["also"])]
    return sorted(names, key=lambda n: -len(n[0]))


@cache
def material_words() -> frozenset[str]:
    """Every word in the name of a material."""
    return frozenset(word for name, _ in _names() for word in name)


def material_in(words: Iterable[str]) -> tuple[Material, frozenset[str]] | None:
    """The material some words of a sentence name, the longest name first, and all the words that name it; None for none."""
    said = frozenset(words)
    own = next((own for name, own in _names() if said.issuperset(name)), None)
    if own is None:
        return None
    return materials()[own], frozenset(w for name, of in _names() if of == own and said.issuperset(name) for w in name)
