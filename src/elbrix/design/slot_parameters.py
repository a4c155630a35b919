"""The slot as it was measured: what every family asks that goes into one by neck, lips, head and floor."""

from __future__ import annotations

from typing import Final

from elbrix.parameters.parameter import Kind, Parameter

SLOT_AS_MEASURED: Final[tuple[Parameter, ...]] = (
    Parameter(
        name="neck",
        label="Slot neck width",
        kind=Kind.READINGS,
        low=4,
        high=60,
        step=0.01,
        usually="measured in Shop, between the lips",
        feature="slot",
    ),
    Parameter(
        name="lip", label="Lip depth", kind=Kind.READINGS, low=1, high=60, step=0.05, usually="measured in Shop", feature="slot"
    ),
    Parameter(
        name="head",
        label="Slot head width",
        kind=Kind.READINGS,
        low=6,
        high=120,
        step=0.05,
        usually="measured in Shop",
        feature="slot",
    ),
    Parameter(
        name="depth",
        label="Slot depth",
        kind=Kind.READINGS,
        low=4,
        high=130,
        step=0.05,
        usually="measured in Shop, table to floor",
        feature="slot",
    ),
)
