"""What every family asks last: the material it is made of and how many pieces."""

from __future__ import annotations

from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.formulas import Worked, term, worked
from elbrix.standards.materials import materials


def made_of(
    feature: str = "", most: int = 10, material_usually: str = "", pieces_usually: str = ""
) -> tuple[Parameter, Parameter]:
    """The parameters "material" and "pieces".

    Args:
        feature: What of the picture lights up beside the material.
        most: Pieces at the most.
        material_usually: Hint beside the material.
        pieces_usually: Hint beside the pieces.
    """
    return (
        Parameter(
            name="material",
            label="Material",
            kind=Kind.CHOICE,
            unit="",
            choices=tuple((m, m) for m in materials()),
            usually=material_usually,
            feature=feature,
        ),
        Parameter(
            name="pieces",
            label="Pieces",
            kind=Kind.COUNT,
            unit="",
            low=1,
            high=most,
            words=("more", "fewer"),
            usually=pieces_usually,
        ),
    )


def mass(volume_mm3: float, density_kg_m3: float, source: str = "") -> Worked:
    """What a part weighs, kg."""
    return worked("volume·density/10⁹", term(volume_mm3, 1), term(density_kg_m3, 6), source=source)
