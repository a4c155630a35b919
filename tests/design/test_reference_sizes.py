"""A size that follows from the others stands in brackets; one that is needed never does."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.design.files import drawn_text
from elbrix.design.reference_sizes import reference_sizes
from kinds_of_family import KINDS, kind_id, solved


@pytest.mark.parametrize(
    ("kind", "bracketed"),
    [
        (("t_nut", "", ""), {"total_height"}),  # neck and head stand beside it
        (("table_key", "", ""), {"total"}),
        (("fixture_plate", "", ""), {"bolts_x", "bolts_y"}),  # the table has their ordinates
        (("soft_jaw", "kind", "vee"), set()),
        (("locator", "", ""), set()),
    ],
    ids=lambda v: kind_id(v) if isinstance(v, tuple) else "",
)
def test_by_hand(kind: tuple[str, str, str], bracketed: set[str]) -> None:
    family, design = solved(*kind)
    assert reference_sizes(design, family.scenes(design)) == bracketed


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_each_of_them_is_a_sum_of_others(kind: tuple[str, str, str]) -> None:
    """Without it the rest still reaches from one of its ends to the other; without one of the rest it no longer follows."""
    family, design = solved(*kind)
    scenes = family.scenes(design)
    found = reference_sizes(design, scenes)
    for key in found:
        alone = tuple(replace(s, dimensions=tuple(d for d in s.dimensions if d.key == key)) for s in scenes)
        assert reference_sizes(replace(design, holes=()), alone) == set()
        size = next(d for s in scenes for d in s.dimensions if d.key == key)
        assert not size.entry  # what can be typed is a size of its own
        assert drawn_text(size, {}, reference=found).startswith("(")
