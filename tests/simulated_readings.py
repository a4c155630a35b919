"""The places of an exercise read by a simulated instrument."""

from __future__ import annotations

from elbrix.inspecting.inspection import Exercise, InspectionKind
from elbrix.inspecting.readings import Taken
from elbrix.instruments.behaviour import Simulated, Truth
from elbrix.instruments.lines import Reading
from elbrix.parameters.parameter import Values
from elbrix.shop.shop import Shop


def measured(kind: InspectionKind, values: Values, shop: Shop, exercise: Exercise, seed: int) -> dict[str, tuple[Taken, ...]]:
    """The places of an exercise read in order by its simulated instrument."""
    order = [p for p in kind.places(values, shop) for _ in range(p.times)]
    axes = tuple(p.axis for p in order) if order[0].axis else ()
    instrument = Simulated(f"{exercise.tool}-1", Truth(values=tuple(exercise.true[p.key] for p in order), axes=axes), seed)
    found: dict[str, tuple[Taken, ...]] = {}
    for place in order:
        record = instrument.press()
        assert isinstance(record, Reading), record
        found[place.key] = (*found.get(place.key, ()), Taken(value=record.value, u=record.u, tool=instrument.name))
    return found
