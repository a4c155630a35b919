"""A motion that was made up is called what it is: no solver between, every threshold seen from both sides."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import pytest

from elbrix.holding.contacts import ClampForce, Contact, HeldPart, Load
from elbrix.holding.limit import Limit
from elbrix.holding.motion import Motion, name_motion
from elbrix.results.length_text import plain

Vec = tuple[float, float, float]
CORNERS = [(sx * 50.0, sy * 30.0, 0.0) for sx in (-1, 1) for sy in (-1, 1)]
PUSH = Load((10.0, -5.0, 40.0), (1.0, 0.0, 0.0))
#: Half the diagonal of everything that touches or pushes: what a turn is measured against.
SIZE = float(np.linalg.norm((100.0, 60.0, 40.0))) / 2


def block(mu: float = 0.0, *more: Contact, forces: tuple[ClampForce, ...] = ()) -> HeldPart:
    seats = tuple(Contact(c, (0, 0, 1), mu, "seat") for c in CORNERS)
    return HeldPart(contacts=(*seats, *more), forces=forces, weight_n=50.0, cg=(0, 0, 20))


def named(held: HeldPart, v: Sequence[float], turn: Sequence[float] = (0, 0, 0), factor: float | None = 1.5) -> Motion:
    limit = Limit(factor, (*map(float, v), *map(float, turn)), tuple(10.0 for _ in held.contacts))
    return name_motion(held, PUSH, limit)


def about(axis: Sequence[float], through: Vec) -> tuple[Sequence[float], Sequence[float]]:
    """(velocity of the origin, turning) of a turn about an axis through a point."""
    return [float(x) for x in -np.cross(axis, through)], axis


@pytest.mark.parametrize(
    ("degrees", "words"),
    [
        (0, "to the right"),
        (29, "to the right"),
        (31, "to the right and away from you"),
        (59, "away from you and to the right"),
        (61, "away from you"),
        (90, "away from you"),
        (149, "to the left and away from you"),
        (180, "to the left"),
        (270, "towards you"),
        (302, "towards you and to the right"),
    ],
)
def test_sliding_is_named_by_where_it_goes(degrees: int, words: str) -> None:
    a = math.radians(degrees)
    assert named(block(), (math.cos(a), math.sin(a), 0)) == Motion("slip", f"it slides {words}")


@pytest.mark.parametrize("mu", [0.1, 0.3])
def test_the_lift_that_goes_with_sliding_is_no_lift(mu: float) -> None:
    """At failure a seat parts by µ for every unit it slides; named is the sliding. Parting twice as fast is not that."""
    assert named(block(mu), (1, 0, mu)) == Motion("slip", "it slides to the right")
    assert named(block(mu), (0, -1, mu)).words == "it slides towards you"
    assert named(block(mu), (0.2, 0, 1.0)).mode == "lift"


def test_up_is_a_lift_from_a_seat_and_a_pull_out_of_a_grip() -> None:
    rising = math.acos(0.7)
    for off, mode in ((-0.03, "lift"), (0.03, "slip")):
        a = rising + off  # from the upright
        assert named(block(), (math.sin(a), 0, math.cos(a))).mode == mode
    jaw = Contact((0, 30, 10), (0, -1, 0), 0.15, "jaw")
    assert named(block(0.0, jaw), (0, 0, 1)) == Motion("pull-out", "it is pulled up out of its grip")
    smooth = Contact((0, 30, 10), (0, -1, 0), 0.0, "jaw")
    assert named(block(0.0, smooth), (0, 0, 1)) == Motion("lift", "it lifts off its seat")


@pytest.mark.parametrize("at", [(0.0, 0.0), (35.0, -12.0), (-80.0, 44.0)])
@pytest.mark.parametrize(("way", "word"), [(1.0, "counter-clockwise"), (-1.0, "clockwise")])
def test_a_spin_says_which_way_and_about_where(at: tuple[float, float], way: float, word: str) -> None:
    found = named(block(), *about((0, 0, way), (*at, 0.0)))
    assert found.mode == "spin" and f"flat, {word} seen from above" in plain(found.words)
    x, y = plain(found.words).rpartition("about X ")[2].split(", Y ")
    assert (float(x), float(y)) == pytest.approx(at, abs=0.51)


def test_turning_gives_the_name_from_a_third_of_the_going_on() -> None:
    """A turn of 0.35 of what everything travels, at the half size of it all."""
    held, v = block(), np.array([1.0, 0.0, 0.0])
    middle = np.mean(CORNERS, axis=0)
    for share, mode in ((0.33, "slip"), (0.37, "spin")):
        turn = np.array([0.0, 0.0, share / SIZE])
        assert named(held, v - np.cross(turn, middle), turn).mode == mode


def test_a_leaning_axis_is_a_spin_as_long_as_it_is_mainly_upright() -> None:
    for off, mode in ((-0.03, "spin"), (0.03, "tip")):
        a = math.acos(0.7) + off
        assert named(block(), *about((math.sin(a), 0, math.cos(a)), (0.0, 0.0, 0.0))).mode == mode


@pytest.mark.parametrize(
    ("axis", "through", "words", "far"),
    [
        ((0, 1, 0), (50.0, 0.0, 0.0), "right edge, at X 50", "to the right and up"),
        ((0, -1, 0), (-50.0, 0.0, 0.0), "left edge, at X -50", "up and to the left"),
        ((-1, 0, 0), (0.0, 30.0, 0.0), "rear edge, at Y 30", "away from you and up"),
        ((1, 0, 0), (0.0, -30.0, 0.0), "front edge, at Y -30", "towards you and up"),
    ],
)
def test_tipping_says_over_which_edge_and_where_the_other_side_goes(axis: Vec, through: Vec, words: str, far: str) -> None:
    found = named(block(), *about(axis, through))
    assert found.mode == "tip" and f"over its {words}" in plain(found.words)
    pivot = np.array(through) * (np.abs(through) > 0)
    goes = np.cross(axis, np.array(PUSH.at) - pivot)
    strongest = max(((abs(goes[0]), 0), (abs(goes[1]), 1), (abs(goes[2]), 2)))[1]
    sides = [("to the left", "to the right"), ("towards you", "away from you"), ("down", "up")]
    assert sides[strongest][int(goes[strongest] > 0)] in plain(found.words).rpartition("going ")[2]
    expected = {*far.split(" and "), sides[strongest][int(goes[strongest] > 0)]}
    assert set(plain(found.words).rpartition("going ")[2].split(" and ")) <= expected


def test_tipping_about_its_middle_is_named_by_place() -> None:
    found = named(block(), *about((0, 1, 0), (0.0, 0.0, 25.0)))
    assert found.mode == "tip" and "edge" not in plain(found.words) and "it tips about X 0, Y 0" in plain(found.words)


@pytest.mark.parametrize(("along", "word"), [((1.0, 0.0, 0.0), "X"), ((0.0, 1.0, 0.0), "Y"), ((0.6, 0.8, 0.0), "Y")])
def test_a_round_in_a_v_turns_about_its_own_axis(along: Vec, word: str) -> None:
    """Every contact slides along one circle; a stop at its end keeps it, then it is no such turn."""
    axis = np.array(along)
    side = np.cross((0, 0, 1), axis)
    contacts = []
    for end in (-30.0, 30.0):
        for s in (-1.0, 1.0):
            inward = (-s * side + np.array([0, 0, 1.0])) / math.sqrt(2)
            at = end * axis + np.array([0, 0, 20.0]) - 15.0 * inward
            contacts.append(Contact(tuple(map(float, at)), tuple(map(float, inward)), 0.1, "v"))
    held = HeldPart(contacts=tuple(contacts), weight_n=10, cg=(0, 0, 20))
    turn = about([float(a) for a in axis], (0.0, 0.0, 20.0))
    assert named(held, *turn) == Motion("turn", f"it turns in its seat about its own axis, along {word}")
    stop = Contact(tuple(map(float, 35 * axis + np.array([0, 0, 35.0]))), tuple(map(float, -axis)), 0.1, "stop")
    kept = HeldPart(contacts=(*contacts, stop), weight_n=10, cg=(0, 0, 20))
    assert named(kept, *turn).mode == "tip"
    flat = HeldPart(contacts=tuple(Contact(c.at, (0, 0, 1), 0.1) for c in contacts), weight_n=10, cg=(0, 0, 20))
    assert named(flat, *turn).mode == "tip"


def test_what_is_no_motion() -> None:
    assert named(block(), (0, 0, 0), factor=None).mode == "no-rest"
    assert named(block(), (0, 0, 0), factor=math.inf).mode == "unbounded"
    assert named(block(), (1, 0, 0), factor=1e-10).mode == "insufficient"
    assert named(block(), (1, 0, 0), factor=1e-6).mode == "slip"
    free = Limit(2.0, (1.0, 0.0, 0.0, 0.0, 0.0, 0.0), (0.0,) * 4)  # nothing carries anything any more
    assert name_motion(block(), PUSH, free) == Motion("lift", "it lifts off its seat")
    tip = ClampForce((0, 0, 40), (0, 0, -1), 100.0, 0.1, "strap")
    assert name_motion(block(0.0, forces=(tip,)), PUSH, free).mode == "slip"  # its tip still gives friction
