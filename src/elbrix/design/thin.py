"""Whether a bar stands deep enough in the jaws while its broad faces are milled: a check of every family that may be thin."""

from __future__ import annotations

from typing import Final

from elbrix.results.checks import Check, Limits, judged
from elbrix.results.formulas import worked

#: Share of its thickness that stands in the jaws while a face is milled, and how much of it is wanted there, mm.
HELD_SHARE: Final = 0.7
HELD_MM: Final = 3.0
#: A cut comes as near to the jaws' tops, mm.
CLOSE_MM: Final = 0.5


def held_check(thick_mm: float, parameter: str, features: tuple[str, ...], shoulder_mm: float = 0.0, shoulder: str = "") -> Check:
    """Thick enough for the jaws; only marginal when not, because ground stock needs no milling.

    Args:
        parameter: The one that is the thickness.
        shoulder_mm: How deep the first shoulder goes, under which the jaws hold it.
        shoulder: Its name in the working.
    """
    under = thick_mm - shoulder_mm - CLOSE_MM
    if shoulder_mm and under < HELD_SHARE * thick_mm:
        return judged(
            "held",
            "In the jaws while it is milled",
            worked(f"height − {shoulder} − close to the jaws", thick_mm, shoulder_mm, CLOSE_MM, source="3 are wanted in them"),
            Limits(marginal_below=HELD_MM),
            (
                "the jaws hold what is left under the shoulder",
                (
                    "little is left in the jaws under the shoulder: held by its ends, stuck down on a flat plate, or with a foot"
                    " that is cut off last"
                ),
                "",
            ),
            step=0.1,
            features=features,
            figures=(parameter,),
            remedies=(parameter,),
        )
    return judged(
        "held",
        "In the jaws while it is milled",
        worked(f"{HELD_SHARE:g}·thickness", thick_mm, source="the rest stands above them; 3 are wanted in them"),
        Limits(marginal_below=HELD_MM),
        (
            "the jaws hold it while its faces are milled",
            "too thin for the jaws: ground flat stock of that thickness, or stuck down on a flat plate",
            "",
        ),
        step=0.1,
        features=features,
        figures=(parameter,),
        remedies=(parameter,),
    )
