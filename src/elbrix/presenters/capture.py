"""What a field wants of an instrument, by the parameter it is for."""

from __future__ import annotations

from datetime import datetime

from elbrix.instruments.lines import Quantity, Reading
from elbrix.instruments.listener import Asking
from elbrix.parameters.parameter import Kind, Parameter


def asking_of(parameter: Parameter) -> Asking | None:
    """Lengths, readings of lengths and angles can be measured; names and counts cannot."""
    quantity = {Kind.LENGTH: Quantity.LENGTH, Kind.READINGS: Quantity.LENGTH, Kind.ANGLE: Quantity.ANGLE}.get(parameter.kind)
    if quantity is None:
        return None
    return Asking(quantity=quantity, low=parameter.low, high=parameter.high, name=parameter.label)


def length_asked(name: str, low: float = -1e9, high: float = 1e9) -> Asking:
    """What a field for a length wants.

    Args:
        low: The least that makes sense there, mm.
        high: The most, mm.
    """
    return Asking(quantity=Quantity.LENGTH, low=low, high=high, name=name)


def read_by(typed: str, reading: Reading) -> str:
    """What is kept beside a value that was sent: "12.053 mm by caliper-1 ± 0.02 mm, 2026-11-29 10:40"."""
    unit = "°" if reading.quantity is Quantity.ANGLE else f" {reading.unit}"
    u = reading.u / reading.quantity.units[reading.unit]
    return f"{typed} by {reading.instrument} ± {u:.3g}{unit}, {datetime.now():%Y-%m-%d %H:%M}"
