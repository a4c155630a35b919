"""Readings as a toolmaker writes them down."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from elbrix.inspecting.inspection import Inspection, find_kind, inspect
from elbrix.inspecting.readings import Taken
from elbrix.shop.shop import Shop

Look = Callable[..., Inspection]


@pytest.fixture
def look(demo_shop: Shop) -> Look:
    """An inspection of the demo shop from readings by place: "0.02 0.021"."""

    def looked(key: str, readings: dict[str, str], shop: Shop | None = None, **chosen: str) -> Inspection:
        kind = find_kind(key)
        known = {p.name: p for p in kind.parameters(shop or demo_shop)}
        taken = {k: tuple(Taken(value=float(v)) for v in text.split()) for k, text in readings.items()}
        return inspect(kind, shop or demo_shop, {name: known[name].read(text) for name, text in chosen.items()}, taken)

    return looked
