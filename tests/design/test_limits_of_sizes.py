"""A piece that keeps its drawing is as good as the design: tried with pieces made at random, and at every end."""

from __future__ import annotations

import random

import pytest

from elbrix.design.family import Design, Family
from elbrix.design.tolerances import GENERAL_MM, SizeLimits, limited_text, size_limits
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH, UnitStyle
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from kinds_of_family import KINDS, SHOP, kind_id, solved


def made(family: Family, design: Design, off: dict[str, float]) -> dict[str, Verdict]:
    """Verdicts of a piece whose sizes came out so much off."""
    values = design.values
    moved = {n: ParameterValue(values.number(n) + by, Origin.CHOSEN) for n, by in off.items()}
    return {c.key: c.verdict for c in family.solve(values.having(**moved), SHOP).checks}


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_whatever_keeps_its_drawing_is_as_good_as_designed(kind: tuple[str, str, str]) -> None:
    family, design = solved(*kind)
    limits = size_limits(family, design, SHOP)
    before = {c.key: c.verdict for c in design.checks}
    chance = random.Random(kind_id(kind))
    for n in range(30):
        # Every third piece stands at one end or the other everywhere; the rest anywhere between.
        ends = n % 3 == 0
        off = {
            name: chance.choice([-own.under, own.over]) if ends else chance.uniform(-own.under, own.over)
            for name, own in limits.items()
        }
        after = made(family, design, off)
        worse = {k for k, v in before.items() if k in after and after[k].rank > v.rank}
        assert not worse, (worse, off)


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_every_size_can_be_made(kind: tuple[str, str, str]) -> None:
    """Nobody is asked for ±0; what has no room on one side has some on the other; what is proposed never has none at all."""
    family, design = solved(*kind)
    for name, own in size_limits(family, design, SHOP).items():
        assert own.under + own.over >= 0.005 - 1e-9, (name, own)
        assert 0 <= own.under <= own.fails_under and 0 <= own.over <= own.fails_over


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_no_check_fails_before_it_is_said_to(kind: tuple[str, str, str]) -> None:
    """What Make calls marginal may spoil the piece, but no check is no-go yet; past it one is, or nobody looked further."""
    family, design = solved(*kind)
    before = {c.key: c.verdict for c in design.checks}
    for name, own in size_limits(family, design, SHOP).items():
        if own.general:
            continue
        for off in (-own.fails_under, own.fails_over):
            after = made(family, design, {name: off})
            assert not [k for k, v in after.items() if v is Verdict.NO_GO and before.get(k) is not Verdict.NO_GO], (name, off)


def test_a_table_key_by_hand() -> None:
    """12.04 at its tightest: a key of 12.03 may be 0.005 over, the next step is 0.01 and stands in it without play."""
    family, design = solved("table_key", "", "")
    limits = size_limits(family, design, SHOP)
    assert design.values.readings("neck").min == 12.04 and design.values.number("table_width") == 12.03
    assert limits["table_width"].over == 0.005
    assert limits["total"].general if "total" in limits else True
    assert made(family, design, {"table_width": 0.011})["slides"] is not Verdict.GO


def test_two_plates_share_what_their_height_may_be_off() -> None:
    """40 within 0.05 over both plates: each of them and the other at their ends stay inside."""
    family, design = solved("riser", "kind", "two")
    limits = size_limits(family, design, SHOP)
    both = [limits[n] for n in ("upper", "lower")]
    assert sum(own.over for own in both) <= 0.05 + 1e-9 and sum(own.under for own in both) <= 0.061


@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
@pytest.mark.parametrize("value", [12.03, 9.982, 75.0, 25.195, 38.1, 0.7874])
@pytest.mark.parametrize("own", [SizeLimits(0.01, 0.005), SizeLimits(0.003, 0.003), SizeLimits(0.0, 0.1), SizeLimits(0.05, 0.02)])
def test_what_is_written_is_never_wider_than_what_was_found(style: UnitStyle, value: float, own: SizeLimits) -> None:
    """Read back off the drawing: number and limits, rounded as they stand there."""
    number, _, limits = limited_text(value, own, style, None).partition(" ")
    per = 1.0 if style.length == "mm" else MM_PER_INCH
    if limits.startswith("±"):
        over = under = float(limits[1:])
    else:
        over, under = (float(t) for t in limits[1:].split("/−"))
    low, high = (float(number) - under) * per, (float(number) + over) * per
    # At the general limit the number's own rounding is anybody's; at none it is half a ten thousandth of an inch.
    spare = {own.under: 1e-6, own.over: 1e-6} | {GENERAL_MM: 0.006, 0.0: 0.0013}
    assert low >= value - own.under - spare[own.under]
    assert high <= value + own.over + spare[own.over]
    assert high - low >= 0.3 * (own.under + own.over)  # and not much closer either
