"""Stacks from the shop's own boxes.

By real lengths, two at once, what a drag settles on; each against every choice of a small box.
"""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.angles.from_boxes import longer_search, stacks_at_once, typed_stacks
from elbrix.angles.setup import AngleSetup, find_kind, solve_angle_setup
from elbrix.gauging.build_up import BuiltStack, Sources
from elbrix.gauging.owned import owned_set
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.results.progress import Stopped
from elbrix.shop.gauges import Block, BlockState, GaugeSet, Parallel
from elbrix.shop.shop import Shop

#: A small box with calibrated blocks, so that every choice can be looked at.
NAMES = ("0.5", "1", "1.001", "1.003", "1.02", "1.1", "1.4", "2", "5", "10", "20")
OFF = (0.11, -0.07, 0.05, -0.12, 0.09, -0.03, 0.14, -0.08, 0.02, -0.15, 0.21)
BOX = GaugeSet(
    id="small", name="small box", blocks=tuple(Block(nominal=n, deviation_um=o) for n, o in zip(NAMES, OFF, strict=True))
)
CHOICES = [c for k in range(1, 9) for c in combinations(range(len(NAMES)), k)]


def nominal(choice: tuple[int, ...]) -> Fraction:
    return sum((Fraction(NAMES[i]) for i in choice), Fraction(0))


def real_um(choice: tuple[int, ...]) -> float:
    return sum(OFF[i] for i in choice)


def height(shop: Shop = Shop(gauge_sets=(BOX,)), **typed: str) -> AngleSetup:  # noqa: B008 (frozen)
    kind = find_kind("height")
    return solve_angle_setup(kind, shop, {p.name: p.read(typed[p.name]) for p in kind.parameters(shop) if p.name in typed})


@settings(max_examples=40)
@given(st.integers(1, len(CHOICES) - 1), st.floats(-0.0009, 0.0009))
def test_the_least_real_error_is_the_least_of_every_choice(n: int, off: float) -> None:
    target = round(float(nominal(CHOICES[n])) + off, 6)
    found = Sources(box=BOX, rank="real").nearest_real(target, 0.005)
    best = min(abs(float(nominal(c)) + real_um(c) / 1000 - target) for c in CHOICES)
    if best <= 0.005:
        assert abs(found[0].real_mm - target) == pytest.approx(best, abs=1e-9)
        errors = [round(abs(b.real_mm - target), 9) for b in found]
        assert errors == sorted(errors)
    else:
        assert not found


def test_ranked_by_real_error_within_one_block_more_than_needed() -> None:
    fewest, real = Sources(box=BOX).best(8.4, 0.002)[0], Sources(box=BOX, rank="real").best(8.4, 0.002)[0]
    assert len(fewest[0].pieces) == min(len(b.pieces) for b in fewest)
    allowed = [
        c for c in CHOICES if len(c) <= len(fewest[0].pieces) + 1 and abs(nominal(c) - Fraction("8.4")) <= Fraction("0.002")
    ]
    assert abs(real[0].real_mm - 8.4) == pytest.approx(
        min(abs(float(nominal(c)) + real_um(c) / 1000 - 8.4) for c in allowed), abs=1e-9
    )


@settings(max_examples=40)
@given(st.integers(0, len(CHOICES) - 1), st.integers(0, len(CHOICES) - 1))
def test_two_stacks_at_once_against_every_pair(a: int, b: int) -> None:
    heights = (float(nominal(CHOICES[a])), float(nominal(CHOICES[b])))
    found = stacks_at_once(Sources(box=BOX), heights)
    first = [set(c) for c in CHOICES if nominal(c) == nominal(CHOICES[a])]
    second = [set(c) for c in CHOICES if nominal(c) == nominal(CHOICES[b])]
    totals = [len(x) + len(y) for x in first for y in second if not x & y]
    if not totals:
        assert found is None or sum(len(s.pieces) for s in found) > 16  # beyond what was listed here
        return
    assert found is not None and sum(len(s.pieces) for s in found) <= min(totals)
    assert [s.height_mm for s in found] == pytest.approx(heights) and not set(found[0].names) & set(found[1].names)


def test_one_of_two_may_be_nothing() -> None:
    found = stacks_at_once(Sources(box=BOX), (0.0, 6.0))
    assert found is not None and found[0].pieces == () and found[1].height_mm == 6.0
    assert stacks_at_once(Sources(box=BOX), (0.0, 0.6)) is None


@settings(max_examples=30)
@given(st.floats(0.3, 45))
def test_a_drag_settles_on_the_nearest_of_every_two(wanted: float) -> None:
    made = [float(nominal(c)) for c in CHOICES if len(c) <= 2]
    assert abs(Sources(box=BOX).nearest_made(wanted) - wanted) == pytest.approx(min(abs(m - wanted) for m in made), abs=1e-9)


def test_wear_blocks_and_parallels_count() -> None:
    worn = Sources(box=BOX, wear=2).best(10.0, 0.0001)[0][0]
    assert worn.words == "2 + 5 + 1 + 2" and worn.height_mm == 10  # 6 between two wear blocks of 2
    foot = Parallel(id="p", height_mm=30.0, thickness_mm=8, length_mm=100)
    raised = Sources(box=BOX, parallels=(foot,)).best(31.0, 0.0001)[0][0]
    assert raised.words == "parallel 30 + 1"
    with pytest.raises(ShopError, match="wear blocks"):
        Sources(box=BOX, wear=2).best(3.5, 0.0)


def test_what_is_lent_is_not_there_and_typed_stacks_say_so() -> None:
    lent = BOX.with_block(replace(BOX.block("5"), state=BlockState.LENT, note="Ida"))
    assert all("5" not in b.names for b in Sources(box=lent).best(6.0, 0.0001)[0])
    with pytest.raises(EntryError, match="lent out, Ida"):
        typed_stacks("5 1", Sources(box=lent))
    first, second = typed_stacks("20 1 / 10", Sources(box=BOX))
    assert (first.height_mm, second.height_mm if second else 0) == (21, 10)
    with pytest.raises(EntryError, match="both stacks"):
        typed_stacks("20 1 / 10 1", Sources(box=BOX))


def test_a_long_search_tells_and_stops() -> None:
    sources = Sources(box=BOX)
    longer = longer_search(sources, 8.4, 0.002)
    assert longer is not None
    told: list[float] = []
    assert longer.run(told.append) == sources.nearest_real(8.4, 0.002)
    assert told and all(0 <= t <= 1 for t in told)

    def stop(share: float) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        longer.run(stop)
    assert (
        longer_search(Sources(box=owned_set("b", "b", "metric 47")), 8.4, 0.002) is None
    )  # never calibrated: nothing to look for


# --- the kind that shows them -----------------------------------------------------------------------------------------


def test_a_height_by_hand() -> None:
    found = height(height="21.021", tolerance="1")
    assert found.figure("stack").text in ("20 + 1 + 1.02 + 1.001", "20 + 1.02 + 1.001") or sum(
        Fraction(b) for b in found.figure("stack").text.split(" + ")
    ) == Fraction("21.021")
    blocks = found.figure("stack").text.split(" + ")
    assert found.figure("reached 0").value == pytest.approx(21.021 + sum(OFF[NAMES.index(b)] for b in blocks) / 1000)
    assert found.check("off").verdict is Verdict.GO and [s.running for s in found.steps if s.running][-1] == "21.021 mm"


def test_a_height_that_cannot_be_shows_the_nearest() -> None:
    found = height(height="21.0215", tolerance="0.1")
    assert found.check("off").verdict is Verdict.NO_GO and found.fixes["off"].changes[0][0] == "tolerance"
    mended = height(height="21.0215", tolerance=found.fixes["off"].changes[0][1])
    assert mended.check("off").verdict is Verdict.GO


@pytest.mark.parametrize(
    ("typed", "entry", "said"),
    [
        ({"height": "0.2"}, "height", "comes near|no stack"),
        ({"height": "21", "second_height": "38"}, "second_height", "cannot be had"),
        ({"height": "2", "wear": "one at each end"}, "height", "wear blocks"),
    ],
)
def test_what_no_box_makes_is_refused_beside_its_entry(typed: dict[str, str], entry: str, said: str) -> None:
    if typed["height"] == "0.2":
        found = height(**typed)
        assert found.check("off").verdict is Verdict.NO_GO  # the nearest is shown and said to be off
        return
    with pytest.raises(EntryError, match=said) as error:
        height(**typed)
    assert error.value.entry == entry


def test_an_empty_box_and_a_chosen_stack_that_is_gone() -> None:
    empty = replace(BOX, blocks=tuple(replace(b, state=BlockState.LENT) for b in BOX.blocks))
    with pytest.raises(EntryError, match="no block of small box is here"):
        height(Shop(gauge_sets=(empty,)), height="5")
    lent = BOX.with_block(replace(BOX.block("5"), state=BlockState.LENT))
    found = height(Shop(gauge_sets=(lent,)), height="6", stack="5 1")
    assert "stack" in found.dropped and found.check("dropped").verdict is Verdict.MARGINAL
    wrong = height(height="6", second_height="3", stack="5 1")
    assert "one stack where two are wanted" in wrong.dropped["stack"]


def test_uncertainty_adds_up() -> None:
    found = height(height="10", tolerance="1", difference_k="1")
    built: BuiltStack = found.stacks[0]
    assert found.figure("expected").value == pytest.approx(math.hypot(0.05, 10 * 11.5 / 1000))  # one calibrated block, 1 K
    assert built.uncertainty(0.0).rss_um == pytest.approx(0.05)
