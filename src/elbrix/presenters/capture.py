"""What a field wants of an instrument, by the parameter it is for."""

from __future__ import annotations

from elbrix.instruments.lines import Quantity
from elbrix.instruments.listener import Asking
from elbrix.parameters.parameter import Kind, Parameter


def asking_of(parameter: Parameter) -> Asking | None:
    """Lengths, readings of lengths and angles can be measured; names and counts cannot."""
    quantity = {Kind.LENGTH: Quantity.LENGTH, Kind.READINGS: Quantity.LENGTH, Kind.ANGLE: Quantity.ANGLE}.get(parameter.kind)
    if quantity is None:
        return None
    return Asking(quantity=quantity, low=parameter.low, high=parameter.high, name=parameter.label)
