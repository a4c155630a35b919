"""Values somebody chose, kept as readable text: read back, changed, let go. The same for designs and for angle settings."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from elbrix.book.documents import Chosen
from elbrix.parameters.parameter import LISTS, Kind, Parameter, ParameterValue
from elbrix.quantities.errors import ShopError


def read_chosen(parameters: Iterable[Parameter], chosen: Mapping[str, Chosen]) -> dict[str, ParameterValue]:
    """The chosen values, read back; a value no version can read any more is left to the proposal."""
    known = {p.name: p for p in parameters}
    found = {}
    for name, choice in chosen.items():
        if name not in known:
            continue
        try:
            given = known[name].read(choice.text)
        except ShopError:
            continue
        found[name] = replace(given, text=choice.typed or choice.text)
    return found


def chosen_from(parameter: Parameter, text: str, unit: str = "mm") -> Chosen:
    """What somebody typed for a parameter, in a display unit.

    Raises:
        EntryError: The text cannot be taken.
    """
    given = parameter.read(text, unit)
    lengths = parameter.kind in (Kind.LENGTH, Kind.READINGS, *LISTS)
    typed = f"{text.strip()} ({unit})" if lengths and unit != "mm" else text.strip()
    return Chosen(text=parameter.entry_text(given), typed=typed)
