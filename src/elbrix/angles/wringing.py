"""How a stack is wrung, and what is said when a chosen one cannot be."""

from __future__ import annotations

from typing import Final

from elbrix.angles.setup import SetupStep
from elbrix.gauging.build_up import BuiltStack
from elbrix.results.checks import Check, Fix, Limits
from elbrix.results.figures import format_number

CARE: Final = (
    "Wipe blocks, rolls and surface plate with a clean lint-free cloth; a hair is 60 µm",
    "Hold blocks by their sides, with a cloth or tongs: a warm hand lengthens 50 mm by 2 µm in a minute",
    "Wring: cross them, press, slide and turn; if two do not cling, clean again and never force them",
)


def wring_steps(built: BuiltStack, place: str = "") -> list[SetupStep]:
    """Block after block with the height reached.

    Args:
        place: "for the stack roll"; empty when there is only one.
    """
    steps, height = [], 0.0
    for i, piece in enumerate(built.pieces):
        height += piece.length_mm
        words = f"Lay {piece.words} down" + (f", {place}" if place else "") if i == 0 else f"Wring {piece.words} on"
        steps.append(SetupStep(words, CARE[0] if i == 0 else CARE[2] if i == 1 else "", f"{format_number(height, 4)} mm"))
    return steps


def dropped_check(why: str, stacks: tuple[BuiltStack, ...]) -> tuple[Check, Fix]:
    """A chosen stack that cannot be followed: what stands instead, and the fix that takes it."""
    check = Check(
        key="dropped",
        label="The stack that was chosen",
        value=1,
        unit="",
        limits=Limits(marginal_above=0),
        text="not here",
        features=("stack",),
        figures=("stack",),
        reason=f"{why} The next best is shown",
    )
    return check, Fix("Take the stack shown now", (("stack", " / ".join(" ".join(b.names) for b in stacks)),))
