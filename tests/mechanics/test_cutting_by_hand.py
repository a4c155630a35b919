"""Forces of cuts: one tooth in a slot by hand, two and more by adding vectors over a turn, drills and taps by their formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest

from elbrix.mechanics.cutting import (
    OUTWARD,
    PULLS_UP,
    TAP_FULL,
    WORN,
    cutting_power_w,
    drilling_force,
    guessed_force,
    milling_force,
    tapping_force,
)
from elbrix.quantities.errors import ShopError
from elbrix.standards.materials import material

STEEL = material("mild steel")


def test_one_tooth_in_a_slot_pushes_hardest_where_its_chip_is_thickest() -> None:
    """At half a turn through the slot the chip is the whole feed, its push along the tooth's way and outward at a right angle."""
    push = STEEL.kc11_mpa * 0.05 ** (1 - STEEL.mc) * 2.0
    found = milling_force(STEEL, 10.0, 1, 2.0, 10.0, 0.05)
    assert found.sideways_n == pytest.approx(WORN * push * math.hypot(1, OUTWARD), rel=2e-3)
    assert found.torque_nmm == pytest.approx(WORN * push * 5.0, rel=2e-3)
    assert found.up_n == pytest.approx(PULLS_UP * found.sideways_n)


@pytest.mark.parametrize(
    ("teeth", "width"), [(1, 0.05), (1, 3.0), (2, 0.2), (2, 10.0), (3, 10.0), (4, 10.0), (4, 2.5), (6, 5.0), (4, 25.0)]
)
def test_teeth_are_added_as_vectors_over_a_turn(teeth: int, width: float) -> None:
    """On a fine grid of turns at once; a cut wider than the cutter is one as wide as it."""
    d, depth, feed = 10.0, 1.5, 0.06
    enters = math.acos(1 - 2 * min(width, d) / d)
    first = np.linspace(0, 2 * math.pi / teeth, 20_001)[:, None]
    phi = (first + 2 * math.pi * np.arange(teeth) / teeth) % (2 * math.pi)
    chip = np.where((phi > 0) & (phi <= enters), feed * np.sin(phi), 0.0).clip(0)
    push = STEEL.kc11_mpa * np.where(chip > 0, chip, 1) ** (1 - STEEL.mc) * depth * (chip > 0)
    # The way of a tooth is (cos φ, −sin φ) when it enters at φ = 0 moving along x; outward is (sin φ, cos φ).
    x = (push * (np.cos(phi) + OUTWARD * np.sin(phi))).sum(axis=1)
    y = (push * (-np.sin(phi) + OUTWARD * np.cos(phi))).sum(axis=1)
    found = milling_force(STEEL, d, teeth, depth, width, feed)
    assert found.sideways_n == pytest.approx(WORN * np.hypot(x, y).max(), rel=5e-3)
    assert found.torque_nmm == pytest.approx(WORN * push.sum(axis=1).max() * d / 2, rel=5e-3)


@pytest.mark.parametrize("d", [3.0, 10.0, 16.0, 63.0])
@pytest.mark.parametrize("teeth", [1, 2, 4, 6])
@pytest.mark.parametrize("share", [0.001, 0.01, 0.1, 0.4, 0.6, 1.0])
def test_a_thin_cut_is_never_reckoned_too_light(d: float, teeth: int, share: float) -> None:
    """A fly cutter of 63 mm over 0.05 mm had no force at all: its arc lay between two steps of the turn."""
    depth, feed, width = 1.0, 0.05, share * d
    enters = math.acos(1 - 2 * share)
    chips = [feed * math.sin(min(enters, math.pi / 2))]  # the thickest of one tooth: the least there is
    least = WORN * STEEL.kc11_mpa * chips[0] ** (1 - STEEL.mc) * depth
    found = milling_force(STEEL, d, teeth, depth, width, feed)
    assert found.torque_nmm >= least * d / 2 * 0.999
    if teeth == 1:
        assert found.sideways_n == pytest.approx(least * math.hypot(1, OUTWARD), rel=2e-3)


def test_a_drill_s_lips_share_the_feed() -> None:
    """Half the feed each, as thick as the sine of half the point; each bears over half the Ø, its middle at a quarter of it.

    Along its axis a lip is pushed with half of what turns it: the usual rule.
    """
    sine = math.sin(math.radians(59))
    chip, d, feed = 0.1 / 2 * sine, 8.0, 0.1
    pressure = STEEL.kc11_mpa * chip**-STEEL.mc
    on_each_lip = pressure * (feed / 2) * (d / 2)
    found = drilling_force(STEEL, d, feed)
    assert found.torque_nmm == pytest.approx(WORN * 2 * on_each_lip * d / 4, rel=1e-3)
    assert -found.up_n == pytest.approx(WORN * 2 * 0.5 * on_each_lip * sine, rel=1e-3)
    assert found.sideways_n == 0


def test_a_tap_shears_the_triangles_of_its_thread() -> None:
    found = tapping_force(STEEL, 10.0, 1.5)
    assert found.torque_nmm == pytest.approx(WORN * TAP_FULL * STEEL.kc11_mpa * (1.5**2 / 4) * (10 / 2))
    assert (found.sideways_n, found.up_n) == (0.0, 0.0)


def test_power_is_pressure_times_what_goes() -> None:
    """A chip of one millimetre has kc1.1 itself: a cubic centimetre a second of it asks kc1.1 watts and a quarter."""
    assert cutting_power_w(STEEL, 60_000.0, 1.0) == pytest.approx(STEEL.kc11_mpa * WORN)
    assert cutting_power_w(STEEL, 60_000.0, 0.1) == pytest.approx(STEEL.kc11_mpa * WORN * 10**STEEL.mc)
    assert cutting_power_w(STEEL, 0.0, 0.1) == cutting_power_w(STEEL, 100.0, 0.0) == 0.0


def test_a_guess_is_the_force_it_says() -> None:
    light, heavy = guessed_force("light"), guessed_force("heavy")
    assert light.sideways_n < heavy.sideways_n
    for cut in (light, heavy):
        assert cut.up_n == pytest.approx(PULLS_UP * cut.sideways_n)
        assert cut.torque_nmm == pytest.approx(10 * cut.sideways_n)
    with pytest.raises(ShopError, match="light, medium or heavy"):
        guessed_force("gentle")


@pytest.mark.parametrize(
    "bad", [(0.0, 4, 1.0, 1.0, 0.1), (10.0, 0, 1.0, 1.0, 0.1), (10.0, 4, 0.0, 1.0, 0.1), (10.0, 4, 1.0, 1.0, 0.0)]
)
def test_a_cut_of_nothing_is_none(bad: tuple[float, int, float, float, float]) -> None:
    with pytest.raises(ShopError, match="a cut of nothing"):
        milling_force(STEEL, *bad)
    for call in (lambda: drilling_force(STEEL, 0.0, 0.1), lambda: tapping_force(STEEL, 10.0, 0.0)):
        with pytest.raises(ShopError, match="of nothing"):
            call()
