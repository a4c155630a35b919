"""What a tightened screw bears, worked by hand from ISO 898-1, the profile of the thread and two lips as beams."""

from __future__ import annotations

import math

import pytest

from elbrix.mechanics.tightened import (
    CAREFUL,
    FULL,
    PulledNut,
    engaged,
    handle_load,
    lip_pressure,
    own_screw_load,
    screw_load,
    stripping,
)
from elbrix.results.checks import Check, Points, Verdict
from elbrix.results.formulas import term
from elbrix.standards.threads import find_thread, parse_thread
from paper_arithmetic import evaluate

M10 = find_thread(parse_thread("M10"))
#: ISO 898-1: π/4·(d − 0.9382·P)², and 580 MPa to M16.
PROOF_N = math.pi / 4 * (10 - 0.9382 * 1.5) ** 2 * 580
ANY = Points(features=("here",), figures=("torque",), remedies=("torque",))
NUT = PulledNut(
    thread=M10,
    engaged_mm=10.65,
    neck=11.7,
    head=18.2,
    head_height=7.2,
    length=20.0,
    yield_mpa=235.0,
    proof=580.0,
    slot_neck=(12.05, 12.11),
    slot_head=19.3,
    lip=8.2,
)


def _worked_on_paper(check: Check) -> float:
    assert check.derivation is not None
    return evaluate(check.derivation.with_numbers) * (100 if check.unit == "%" else 1)


@pytest.mark.parametrize(
    ("share", "careful", "verdict"),
    [
        (0.76, "", Verdict.GO),  # the scatter takes it to 0.99
        (0.78, "", Verdict.MARGINAL),
        (0.999, "", Verdict.MARGINAL),
        (1.001, "", Verdict.NO_GO),
        (0.375, "the lips first", Verdict.GO),  # as a clamping stud is tightened
        (0.39, "the lips first", Verdict.MARGINAL),
        (0.76, "the lips first", Verdict.MARGINAL),
        (0.78, "the lips first", Verdict.NO_GO),
    ],
)
def test_a_screw_goes_by_what_the_scatter_may_make_of_its_torque(share: float, careful: str, verdict: Verdict) -> None:
    check = screw_load("k", "Stud load", share * PROOF_N, M10, "8.8", ANY, careful=careful)
    assert check.value == pytest.approx(100 * share, rel=1e-6)
    assert check.verdict is verdict
    assert _worked_on_paper(check) == pytest.approx(check.value, rel=1e-4)
    if careful:
        assert (careful in check.reason) is (verdict is Verdict.MARGINAL)


def test_a_weaker_class_is_nearer_its_limit_by_its_own_proof_stress() -> None:
    shares = {c: screw_load("k", "Stud load", 10_000, M10, c, ANY).value for c in ("4.6", "5.6", "8.8", "10.9", "12.9")}
    stress = 10_000 / (math.pi / 4 * (10 - 0.9382 * 1.5) ** 2)
    by_hand = {"4.6": 225, "5.6": 280, "8.8": 580, "10.9": 830, "12.9": 970}  # ISO 898-1, MPa
    assert shares == pytest.approx({c: 100 * stress / proof for c, proof in by_hand.items()}, rel=1e-6)


def test_what_is_made_from_bar_is_pulled_with_care() -> None:
    def at(mpa: float) -> Check:
        return own_screw_load("Stud load", mpa * 60.0, 60.0, 235.0, ANY)

    assert [at(m).verdict for m in (88, 90, 180, 182)] == [Verdict.GO, Verdict.MARGINAL, Verdict.MARGINAL, Verdict.NO_GO]
    assert at(94).value == pytest.approx(40.0)
    assert _worked_on_paper(at(94)) == pytest.approx(40.0)


def test_a_thread_shears_where_the_profile_says() -> None:
    """Of each turn the nut's thread is as wide at the stud's Ø as the pitch less the stud's flat there."""
    flank = (10 - M10.pitch_d_mm) * math.tan(math.radians(30))
    turns = 10.65 / 1.5
    area = turns * math.pi * 10 * (1.5 / 2 + flank)
    check = stripping(12_000, M10, 10.65, 235.0, ANY)
    assert check.value == pytest.approx(100 * 12_000 / (area * 0.58 * 235), rel=1e-6)
    assert _worked_on_paper(check) == pytest.approx(check.value, rel=1e-4)
    assert stripping(1.0, M10, 0.0, 235.0, ANY).verdict is Verdict.NO_GO  # no thread, no nut
    assert NUT.strip_n == pytest.approx(area * 0.58 * 235)


@pytest.mark.parametrize(
    ("proof", "steel", "wanted"),
    [(580, 235, 1.0), (580, 470, 0.8), (830, 235, 830 / 580), (580, 160, 235 / 160), (225, 235, 0.8)],
)
def test_a_soft_nut_or_a_hard_stud_wants_more_thread(proof: float, steel: float, wanted: float) -> None:
    assert engaged(M10, 10 * wanted + 1e-6, proof, steel, ANY).verdict is Verdict.GO
    assert engaged(M10, 10 * wanted - 0.01, proof, steel, ANY).verdict is Verdict.MARGINAL
    assert engaged(M10, 8 * wanted - 0.01, proof, steel, ANY).verdict is Verdict.NO_GO


def test_the_lips_are_two_short_beams() -> None:
    """Half the pull on each side, in the middle of the contact, over a beam as long as the load spreads at 45°."""
    pull = 9_500.0
    found = {c.key: c for c in NUT.lip_checks(pull, dict.fromkeys(("bearing", "lip_shear", "lip_bending", "flange"), ANY))}
    inner, outer = 12.05 / 2, 18.2 / 2  # where the lip begins, where the nut's head ends
    arm = 19.3 / 2 - (inner + outer) / 2  # from the middle of the contact to the lip's root
    spread = 20 + 2 * arm
    assert found["lip_shear"].value == pytest.approx(pull / 2 / (spread * 8.2), rel=1e-6)
    assert found["lip_bending"].value == pytest.approx(pull / 2 * arm / (spread * 8.2**2 / 6), rel=1e-6)
    own = (12.11 / 2 + outer) / 2 - 11.7 / 2
    assert found["flange"].value == pytest.approx(pull / 2 * own / (20 * 7.2**2 / 6), rel=1e-6)
    # Pushed against one wall: the far side reaches under its lip by (head + neck)/2 less the slot, less broken edges.
    overlap = (18.2 + 11.7) / 2 - 12.11 - 0.3
    assert found["bearing"].value == pytest.approx(pull / 2 / (overlap * 20), rel=1e-6)
    for check in found.values():
        assert _worked_on_paper(check) == pytest.approx(check.value, rel=2e-3)


def test_what_all_of_it_allows_is_where_the_first_check_turns() -> None:
    named = dict.fromkeys(("bearing", "lip_shear", "lip_bending", "flange"), ANY)

    def verdicts(pull: float) -> set[Verdict]:
        return {
            c.verdict
            for c in (
                *NUT.lip_checks(pull, named),
                screw_load("stud", "Stud load", pull, M10, "8.8", ANY),
                stripping(pull, M10, 10.65, 235.0, ANY),
            )
        }

    marginal, no = min(a[1] for a in NUT.allowed()), min(a[2] for a in NUT.allowed())
    assert verdicts(marginal * 0.999) == {Verdict.GO}
    assert Verdict.MARGINAL in verdicts(marginal * 1.001) and Verdict.NO_GO not in verdicts(no * 0.999)
    assert Verdict.NO_GO in verdicts(no * 1.001)


def test_a_nut_that_does_not_reach_under_a_lip_is_told_so() -> None:
    check = lip_pressure("bearing", term(1.0, 3, "N"), 0.0, 20.0, ANY)
    assert check.verdict is Verdict.NO_GO and "hardly reaches" in check.reason


@pytest.mark.parametrize(
    ("torque", "verdict"), [(36.0, Verdict.GO), (36.1, Verdict.MARGINAL), (40.0, Verdict.MARGINAL), (40.1, Verdict.NO_GO)]
)
def test_a_handle_goes_by_what_the_vise_is_made_for(torque: float, verdict: Verdict) -> None:
    check = handle_load("k", torque, 40.0, ("vise",), "torque")
    assert check.verdict is verdict
    assert check.value == pytest.approx(100 * torque / 40)
    assert _worked_on_paper(check) == pytest.approx(check.value)


def test_the_two_limits_meet_where_the_scatter_says() -> None:
    assert FULL.marginal_above == CAREFUL.no_above == pytest.approx(100 / 1.3)
    assert CAREFUL.marginal_above == pytest.approx(37.5, abs=0.6)
