"""Small rules of Hold, each against a figure worked by hand on both sides of its limit."""

from __future__ import annotations

import math

import pytest

from elbrix.book.layouts import solve_doc, typed_in
from elbrix.holding.contacts import ClampForce, Contact
from elbrix.holding.margin import _grips
from elbrix.holding.reclamping import Reclamping
from elbrix.holding.report import reclamping_check
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from layouts_tools import doc, thing


def test_stops_side_by_side_share_what_presses_them_and_one_behind_has_none() -> None:
    """1000 N at 30° to the stops' way: 866.03 N on two of them, 433.01 each; a weak one gives no more than it bears."""
    push = ClampForce((50.0, 0.0, 10.0), (-math.cos(math.radians(30)), 0.5, 0.0), 1000.0, 0.0, "toe")
    first = Contact((-50.0, 20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 1", passive=True)
    second = Contact((-50.0, -20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 2", passive=True)
    behind = Contact((60.0, 0.0, 10.0), (-1.0, 0.0, 0.0), 0.15, "stop 3", passive=True)
    smooth = Contact((-50.0, 0.0, 10.0), (1.0, 0.0, 0.0), 0.0, "stop 4", passive=True)
    pressing = Contact((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), 0.15, "seat")
    grips = _grips((first, second, behind, smooth, pressing), (push,))
    assert [g.name for g in grips] == ["stop 1", "stop 2"]
    assert [g.pressed_n for g in grips] == pytest.approx([433.0127, 433.0127])
    assert [g.grip_n for g in grips] == pytest.approx([64.9519, 64.9519]) and all(g.force_n == 0 for g in grips)
    weak = Contact((-50.0, 20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 1", passive=True, most_n=100.0)
    assert _grips((weak,), (push,))[0].pressed_n == 100.0
    assert not _grips((first,), (ClampForce((0, 0, 0), (1.0, 0.0, 0.0), 500.0),))  # pulled away from it


@pytest.mark.parametrize(
    ("factor", "verdict", "word"),
    [(0.9, Verdict.NO_GO, "too little"), (1.9, Verdict.MARGINAL, "too little"), (2.1, Verdict.GO, "every state holds")],
)
def test_a_state_of_reclamping_is_judged_as_a_cut_is(factor: float, verdict: Verdict, word: str) -> None:
    swaps = [Reclamping("first", 3.0), Reclamping("second", factor, off="strap 1")]
    check = reclamping_check(swaps)
    assert check.verdict is verdict and word in check.reason and "with strap 1 off" in check.reason
    assert check.value == factor and check.features == ("strap 1",)


@pytest.mark.parametrize(
    ("clearance", "error", "accepted", "word"),
    [("0.02", "0.01", 0.01, "goes on"), ("0.02", "0.03", -0.01, "will not"), ("0.02", "0.02", 0.0, "goes on")],
)
def test_two_full_pins_accept_their_mean_clearance(
    demo_shop: Shop, clearance: str, error: str, accepted: float, word: str
) -> None:
    """(0.02 + 0.02)/2 less the error of their spacing."""
    layout = doc(thing("plate", pins="two full", pin_clearance=clearance, spacing_error=error), length="100", width="60")
    hold = solve_doc(typed_in(layout, demo_shop), demo_shop, quick=True)
    check = next(c for c in hold.checks if c.label.startswith("Spacing the two pins"))
    assert check.value == pytest.approx(accepted) and word in check.reason
    assert (check.verdict is Verdict.NO_GO) == (accepted < 0)
