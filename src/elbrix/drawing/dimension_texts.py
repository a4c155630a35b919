"""A dimension as it is written."""

from __future__ import annotations

from elbrix.drawing.scene import Dimension
from elbrix.quantities.lengths import UnitStyle, step_shown


def dimension_text(d: Dimension, style: UnitStyle, text: str = "") -> str:
    """One dimension in a unit style: "Ø8.50", "12.05 slot"; a text of its own goes before the figure.

    Args:
        text: Instead of the figure, where the dimension has no text of its own: with limits, say.
    """
    figure = d.text or text or style.show(d.value, "mm", step_shown(d.value, d.step_mm))
    return " ".join(p for p in (f"{d.prefix}{figure}", d.suffix) if p)
