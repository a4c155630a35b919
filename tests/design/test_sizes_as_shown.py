"""A size stands on the card and on the plate as it is made, and as it was typed."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.parameters.parameter import Kind
from elbrix.quantities.lengths import METRIC
from kinds_of_family import KINDS, SHOP, kind_id, solved

#: Half of the last digit that is shown, mm.
HALF = 0.005 + 1e-9


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_a_size_is_shown_as_it_is_made(kind: tuple[str, str, str]) -> None:
    """A plunger of 17.11 mm stood there as 17.0, and was drawn and cut 17.11 long."""
    family, design = solved(*kind)
    lengths = {p.name for p in family.parameters if p.kind is Kind.LENGTH}
    for figure in design.figures:
        if figure.key in lengths and not figure.text:
            shown = METRIC.show(figure.value, "mm", figure.step)
            assert float(shown) == pytest.approx(figure.value, abs=HALF), figure.label
    for scene in family.scenes(design):
        for d in scene.dimensions:
            if d.entry in lengths and not d.text:
                assert float(dimension_text(replace(d, prefix="", suffix="", text=""), METRIC)) == pytest.approx(
                    d.value, abs=HALF
                ), d.key


@pytest.mark.parametrize("typed", ["101.26", "101.2", "101.005", "101"])
def test_what_is_typed_between_two_steps_is_shown_as_typed(typed: str) -> None:
    """In steps of a millimetre 101.26 was shown as 101."""
    family = find_family("v_jaw")
    design = solve_for(family, SHOP, Request(), read_choices(family, {"length": typed}))
    figure = next(f for f in design.figures if f.key == "length")
    assert float(METRIC.show(figure.value, "mm", figure.step)) == float(typed)
