"""When a piece is too heavy for one person."""

from __future__ import annotations

from typing import Final

from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.formulas import Worked

#: Over this one person does not lift it at a machine, kg. Source: shop practice; the law of the place comes first.
ONE_PERSON_KG: Final = 15.0
#: Over this only a crane does.
CRANE_KG: Final = 10 * ONE_PERSON_KG
TWO_PEOPLE: Final = "Two people or a hoist"


def too_heavy(mass_kg: float) -> bool:
    """Whether one person must not lift it alone."""
    return mass_kg > ONE_PERSON_KG


def lifting_words(mass_kg: float) -> str:
    """ "Two people or a hoist. " for a heavy piece, nothing for a light one: the head of a step that lifts it."""
    return f"{TWO_PEOPLE}. " if too_heavy(mass_kg) else ""


def lifting_check(mass_kg: Worked, points: Points, more: str = "") -> Check:
    """Who lifts it.

    Args:
        mass_kg: Of what is lifted at once, by its formula.
        more: What a heavy one asks for besides two people: ", and drill holes for lifting eyes".
    """
    return judged(
        "mass",
        "Lifting",
        mass_kg,
        Limits(marginal_above=ONE_PERSON_KG, no_above=CRANE_KG),
        ("one person lifts it", f"over 15 kg: two people or a hoist{more}", "so heavy only a crane moves it"),
        unit="kg",
        points=points,
    )
