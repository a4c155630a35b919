"""A proposal by its formula: rounded, within bounds, said; never a size that is no number."""

from __future__ import annotations

import pytest

from elbrix.parameters.parameter import ParameterValue
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Origin
from elbrix.results.formulas import term, worked


def said(p: Proposal, name: str) -> str:
    derivation = p.so_far()[name].derivation
    assert derivation is not None
    return derivation.with_numbers


def test_what_was_made_of_it_is_said() -> None:
    p = Proposal({})
    assert p.reckon("a", worked("0.65·d", 6), up=0.5) == 4.0 and said(p, "a") == "0.65·6 = 3.9, up to 4"
    assert p.reckon("b", worked("0.5·d", 6), up=0.5) == 3.0 and said(p, "b") == "0.5·6"
    assert p.reckon("c", worked("jaw", 125), most=120.0) == 120.0 and said(p, "c") == "125, down to 120"
    assert p.reckon("d", worked("d − 8", 6), down=0.1, least=1.0) == 1.0 and said(p, "d") == "6 − 8 = −2, up to 1"


@pytest.mark.parametrize(("newton_mm", "proposed"), [(19_400, 19.0), (2_000, 2.0), (1_990, 1.9), (252, 0.2), (99, 0.05)])
def test_a_torque_is_never_rounded_up(newton_mm: float, proposed: float) -> None:
    assert Proposal({}).torque("torque", worked("F·K·d", newton_mm, 1, 1), step=1.0) == pytest.approx(proposed)
    assert Proposal({}).torque("torque", worked("T", newton_mm / 1000), step=1.0, unit="") == pytest.approx(proposed)


@pytest.mark.parametrize(("text", "numbers"), [("√(a − b)", (1, 2)), ("a/b", (1, 0)), ("asin(a/b)", (2, 1))])
def test_no_number_is_refused_beside_its_entry_unless_one_was_chosen(text: str, numbers: tuple[float, float]) -> None:
    with pytest.raises(ShopError) as refused:
        Proposal({}).reckon("jaw_plate", worked(text, *numbers), up=0.5)
    assert refused.value.entry == "jaw_plate" and refused.value.do and text in refused.value.why
    chosen = {"jaw_plate": ParameterValue(12.0, Origin.CHOSEN)}
    assert Proposal(chosen).reckon("jaw_plate", worked(text, *numbers), up=0.5) == 12.0


def test_a_term_is_written_in_its_unit() -> None:
    assert [term(v, n, u).text for v, n, u in ((9.5, 2, "kN"), (30, 3, "°"), (-0.0123456, 3, ""))] == [
        "9.5 kN",
        "30°",
        "(−0.01235)",
    ]
