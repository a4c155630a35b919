"""The ball detent: its spring wound again, its ball carried out of the groove step by step, its mouth met by geometry."""

from __future__ import annotations

import math

import pytest
from scipy import optimize

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.families.detent.sizes import MU, DetentSizes
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

FAMILY = find_family("detent")
SHOP = shop_of(documents())
BASE = {
    "kind": "staked",
    "ball": "6",
    "groove": "0.9",
    "gap": "0.2",
    "wanted": "34",
    "wire": "0.8",
    "coil": "5.6",
    "coils": "8",
    "free_length": "20",
    "bore": "6.1",
    "bore_depth": "19.4",
    "mouth": "5.6",
    "thread": "M12",
    "length": "25",
    "material": "mild steel",
}
STEPPED = {**BASE, "kind": "stepped", "length": "19.4", "bore_depth": "18.8"}


def solved(typed: dict[str, str], shop: Shop = SHOP) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def check(typed: dict[str, str], key: str) -> tuple[float, Verdict]:
    found = next(c for c in solved(typed).checks if c.key == key)
    return found.value, found.verdict


def test_its_numbers_by_hand() -> None:
    d = solved(BASE)
    said = {k: d.figure(k).value for k in ("rate", "in_groove", "ridden_out", "force_in", "force_out", "solid", "flank", "touch")}
    rate = 81500 * 0.8**4 / (8 * 4.8**3 * 8)  # 4.716
    assert said["rate"] == pytest.approx(rate) and rate == pytest.approx(4.716, abs=1e-3)
    assert said["in_groove"] == pytest.approx(19.4 - 6 + 0.2 + 0.9)  # 14.5
    assert said["ridden_out"] == pytest.approx(13.6)
    assert said["force_in"] == pytest.approx(rate * 5.5) and said["force_out"] == pytest.approx(rate * 6.4)
    assert said["solid"] == pytest.approx(8.0)  # ten coils of 0.8
    assert said["flank"] == pytest.approx(math.degrees(math.acos(0.7)))  # 45.57°
    assert said["touch"] == pytest.approx(19.4 + 6.1 / 2 / math.tan(math.radians(59)))


def test_a_proposal_gives_the_force_that_is_wanted() -> None:
    for kind in ("staked", "stepped"):
        for ball, wanted in (("3", "8"), ("5", "12"), ("5", "30"), ("8", "60")):
            d = solved({"kind": kind, "ball": ball, "wanted": wanted})
            assert next(c.value for c in d.checks if c.key == "holds_enough") == pytest.approx(1.0, abs=0.02), (
                kind,
                ball,
                wanted,
            )


def test_the_spring_is_as_stiff_as_its_wire_twisted() -> None:
    """Castigliano: a force on the axis twists every piece of wire by F·D/2; the end sinks by ∫ T²/(G·J) ds / F."""
    s = DetentSizes(solved(BASE).values)
    wire, mean, n = 0.8, 4.8, 8
    j = math.pi * wire**4 / 32
    long = math.pi * mean * n
    assert s.rate == pytest.approx(81500 * j / ((mean / 2) ** 2 * long), rel=1e-9)


def test_the_ball_carried_out_of_the_groove_needs_what_is_said() -> None:
    """Pushed sideways over the edge: forces on the ball by virtual work, friction on edge and mouth side left to the edge."""
    s = DetentSizes(solved(BASE).values)
    beta = math.radians(s.flank_deg)
    # The edge presses the ball along its radius with N, rubs along it with µ·N against the motion.
    f = s.force(s.in_groove)
    normal = optimize.brentq(lambda x: x * math.cos(beta) - MU * x * math.sin(beta) - f, 0, 1e6)
    assert s.holds_n == pytest.approx(normal * math.sin(beta) + MU * normal * math.cos(beta), rel=1e-9)
    # And where the edge meets the ball: half the groove's width is as wide as the ball is at that depth.
    r, g = 3.0, 0.9
    half = math.sqrt(r * r - (r - g) ** 2)
    assert math.sin(beta) == pytest.approx(half / r)


@pytest.mark.parametrize("mouth", [2.6, 3.5, 4.5, 5.2, 5.9])
@pytest.mark.parametrize("kind", ["staked", "stepped"])
def test_the_ball_comes_as_far_out_as_the_metal_lets_it(kind: str, mouth: float) -> None:
    """The ball pushed up from below until any point of the bore's wall is in its way, by trying."""
    base = STEPPED if kind == "stepped" else BASE
    if kind == "stepped":
        deep = 19.4 - 0.3 - (6.1 - mouth) / 2 / math.tan(math.radians(59))
        base = {**base, "bore_depth": f"{deep:.4f}"}
    s = DetentSizes(solved({**base, "mouth": f"{mouth}"}).values)
    r = 3.0
    if kind == "staked":
        wall = [(mouth / 2, s.length)]
    else:
        cone_low, cone_high = s.deep, s.length - s.straight
        wall = [(3.05 + (mouth / 2 - 3.05) * i / 3000, cone_low + (cone_high - cone_low) * i / 3000) for i in range(3001)]
        wall += [(mouth / 2, cone_high + (s.length - cone_high) * i / 50) for i in range(51)]

    def in_the_way(centre: float) -> bool:
        return any(math.hypot(x, z - centre) < r - 1e-9 for x, z in wall)

    low, high = s.length - 2 * r - 3, s.length + r
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (low, middle) if in_the_way(middle) else (middle, high)
    assert s.proud == pytest.approx(low + r - s.length, abs=2e-3)


@pytest.mark.parametrize(
    ("base", "typed", "key", "verdict"),
    [
        (BASE, {"bore_depth": "20.5"}, "holds_enough", Verdict.MARGINAL),
        (BASE, {"bore_depth": "22.5"}, "holds_enough", Verdict.NO_GO),
        (BASE, {"wanted": "15"}, "holds_enough", Verdict.MARGINAL),
        (BASE, {"groove": "2.8"}, "rides_out", Verdict.NO_GO),
        (BASE, {"groove": "0.2"}, "rides_out", Verdict.MARGINAL),
        (BASE, {"free_length": "14.4"}, "pressed", Verdict.NO_GO),
        (BASE, {"free_length": "14.7"}, "pressed", Verdict.MARGINAL),
        (BASE, {"coils": "15.5"}, "coils_meet", Verdict.NO_GO),  # 17.5 coils of 0.8 are 14 long, ridden out 13.6
        (BASE, {"coils": "14.5"}, "coils_meet", Verdict.MARGINAL),
        (BASE, {"free_length": "25"}, "wire_bears", Verdict.NO_GO),
        (BASE, {"coil": "6.05"}, "spring_slides", Verdict.NO_GO),
        (BASE, {"coil": "5.95"}, "spring_slides", Verdict.MARGINAL),
        (BASE, {"mouth": "4.4"}, "reaches", Verdict.NO_GO),  # 3 − √(9 − 4.84) = 0.96 of 1.1
        (BASE, {"mouth": "5.88"}, "kept", Verdict.MARGINAL),
        (BASE, {"mouth": "5.97"}, "kept", Verdict.NO_GO),
        (BASE, {"bore": "6.02"}, "ball_slides", Verdict.MARGINAL),
        (BASE, {"bore": "6.5"}, "ball_slides", Verdict.MARGINAL),
        (BASE, {"thread": "M10"}, "wall", Verdict.GO),
        (BASE, {"thread": "M8", "bore": "6.04"}, "wall", Verdict.NO_GO),
        (BASE, {"length": "22"}, "floor", Verdict.MARGINAL),
        (STEPPED, {"bore_depth": "19.05"}, "floor", Verdict.MARGINAL),
        (BASE, {"material": "aluminium alloy", "wire": "1.2", "coil": "5.6"}, "track", Verdict.MARGINAL),
    ],
)
def test_every_check_is_seen_to_refuse(base: dict[str, str], typed: dict[str, str], key: str, verdict: Verdict) -> None:
    assert check({**base, **typed}, key)[1] is verdict


@pytest.mark.parametrize(
    ("base", "typed", "entry"),
    [
        (BASE, {"wire": "2.6"}, "wire"),
        (BASE, {"groove": "3"}, "groove"),
        (BASE, {"bore": "6"}, "bore"),
        (BASE, {"thread": "M6"}, "thread"),
        (BASE, {"length": "21"}, "length"),
        (STEPPED, {"mouth": "6.09"}, "mouth"),
        (STEPPED, {"bore_depth": "19.3"}, "bore_depth"),
    ],
)
def test_what_is_no_such_detent_is_refused_beside_its_entry(base: dict[str, str], typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved({**base, **typed})
    assert refused.value.entry == entry and refused.value.why and refused.value.do


@pytest.mark.parametrize("typed", [BASE, STEPPED, {"kind": "stepped"}, {"kind": "staked", "ball": "4"}], ids=str)
def test_weighed_rehearsed_and_a_slip_found(typed: dict[str, str], kernel: Kernel) -> None:
    d = solved(typed)
    assert kernel.ask("mass", FAMILY.solid(d))["volume_mm3"] == pytest.approx(DetentSizes(d.values).volume, rel=1e-6)
    plan = plan_work("T", FAMILY.work(d, SHOP), SHOP)
    # A drill that is not owned stands in at its size; one that is may be a hair off, and is said.
    assert all(f.thickness_mm < 0.06 for f in rehearse(plan).findings)
    drill = next(m for _, _, m in plan.moves if m.id == "ball_bore.drill")
    at = drill.positions[0]
    assert rehearse(plan, Slips(keyed={(drill.id, "Z"): at.dial.set_mm - 1.0})).wrong_at == drill.id
