"""What the shop has, and what is known of it."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.quantities.errors import ShopError
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Check, Verdict
from elbrix.shop.audit import bar_checks, cutter_checks, machine_checks, slot_checks, stud_checks
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Collet, Cutter, CutterKind, Stud


def readings(*values: float) -> Readings:
    return Readings(values_mm=values)


def by_key(checks: list[Check]) -> dict[str, Check]:
    return {c.key: c for c in checks}


# --- values that cannot be --------------------------------------------------------------------------------------


def test_lip_deeper_than_slot_is_refused(slot: TSlot) -> None:
    with pytest.raises(ShopError, match="exchange the two readings") as refused:
        replace(slot, lip=readings(16.1), depth=readings(8.0))
    assert refused.value.entry == "lip"


def test_one_bad_place_is_enough(slot: TSlot) -> None:
    """The deepest lip against the shallowest floor: they need not be at the same place to be wrong."""
    with pytest.raises(ShopError):
        replace(slot, lip=readings(8.2, 8.3), depth=readings(16.0, 8.25))


def test_head_narrower_than_neck_is_refused(slot: TSlot) -> None:
    with pytest.raises(ShopError, match="wide part below the lips") as refused:
        replace(slot, head=readings(11.0))
    assert refused.value.entry == "head"


@pytest.mark.parametrize(
    "make",
    [
        pytest.param(lambda: Axis(mm_per_turn=0, divisions=100), id="no-travel"),
        pytest.param(lambda: Axis(mm_per_turn=4, divisions=0), id="no-divisions"),
        pytest.param(lambda: Axis(mm_per_turn=4, divisions=100, backlash_mm=-0.1), id="negative-slack"),
        pytest.param(lambda: Machine(id="m", name="  ", kind=MachineKind.KNEE), id="no-name"),
        pytest.param(lambda: Machine(id="m", name="M", kind=MachineKind.KNEE, table_length_mm=-1), id="negative-table"),
        pytest.param(lambda: Bar(id="b", width_mm=0, height_mm=10, length_mm=100), id="no-width"),
        pytest.param(lambda: Bar(id="b", width_mm=10, height_mm=0, length_mm=100), id="flat-without-height"),
        pytest.param(lambda: Bar(id="b", width_mm=10, height_mm=10, length_mm=-1), id="negative-length"),
        pytest.param(lambda: Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=0), id="no-diameter"),
        pytest.param(lambda: Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=600), id="as-wide-as-the-table"),
        pytest.param(lambda: Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=10, teeth=0), id="no-teeth"),
    ],
)
def test_things_that_cannot_be(make: object) -> None:
    with pytest.raises(ShopError) as refused:
        make()  # type: ignore[operator]
    assert refused.value.why and refused.value.do


def test_a_round_bar_needs_no_height() -> None:
    bar = Bar(id="b", form=Form.ROUND, width_mm=25, length_mm=300, finish=Finish.GROUND)
    assert bar.title == "Ø25 mm ground mild steel"


# --- finding --------------------------------------------------------------------------------------------------------


def test_machines_by_id_or_name(demo_shop: Shop) -> None:
    assert demo_shop.machine("hazel") is demo_shop.machine("HAZEL")
    assert demo_shop.machine("Old Margaret").horizontal
    with pytest.raises(ShopError, match="The shop has: Hazel, Pip"):
        demo_shop.machine("Bertha")
    with pytest.raises(ShopError, match="no machine yet"):
        Shop().machine("Bertha")


def test_slots_by_label(demo_shop: Shop) -> None:
    assert demo_shop.machine("pip").slot("rear slot").neck is not None
    with pytest.raises(ShopError, match="rear slot, front slot"):
        demo_shop.machine("pip").slot("side slot")


def test_only_fully_measured_slots_count(mill: Machine, slot: TSlot) -> None:
    half = TSlot(label="half", neck=readings(12.0))
    shop = Shop(machines=(replace(mill, slots=(slot, half)),))
    assert [s.label for _, s in shop.measured_slots()] == ["middle slot"]
    assert half.places == 0 and not half.measured and half.straight


def test_cutters_thickest_first(demo_shop: Shop) -> None:
    sizes = [c.diameter_mm for c in demo_shop.cutters_of(CutterKind.END_MILL)]
    assert sizes == sorted(sizes, reverse=True) and len(sizes) == 7


@pytest.mark.parametrize(
    ("cutter", "title"),
    [
        (Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=11.968), "end mill Ø11.97"),
        (Cutter(id="c", kind=CutterKind.TAP, diameter_mm=10, name="M10x1.5"), "M10x1.5 tap"),
        (Cutter(id="c", kind=CutterKind.DRILL, diameter_mm=10.7156, name="27/64"), "drill 27/64"),
        (Cutter(id="c", kind=CutterKind.SLITTING_SAW, diameter_mm=80, width_mm=2), "slitting saw Ø80 × 2"),
    ],
)
def test_cutters_by_their_shop_names(cutter: Cutter, title: str) -> None:
    assert cutter.title == title


# --- what is known ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("neck", "verdict"),
    [
        pytest.param((12.05, 12.08, 12.10), Verdict.GO, id="even"),
        pytest.param((12.05, 12.20, 12.10), Verdict.MARGINAL, id="worn"),
        pytest.param((12.05, 12.50, 12.10), Verdict.NO_GO, id="misread"),
    ],
)
def test_a_slot_that_varies_is_called_out(slot: TSlot, neck: tuple[float, ...], verdict: Verdict) -> None:
    check = by_key(slot_checks(replace(slot, neck=readings(*neck))))["spread_neck"]
    assert check.verdict is verdict
    assert check.value == pytest.approx(max(neck) - min(neck))


@pytest.mark.parametrize(
    ("places", "verdict"), [(0, Verdict.NO_GO), (1, Verdict.MARGINAL), (2, Verdict.MARGINAL), (3, Verdict.GO), (5, Verdict.GO)]
)
def test_places(slot: TSlot, places: int, verdict: Verdict) -> None:
    def at_places(value: float) -> Readings | None:
        return readings(*[value] * places) if places else None

    measured = replace(slot, neck=at_places(12.05), lip=at_places(8.2), head=at_places(19.2), depth=at_places(16.0))
    assert by_key(slot_checks(measured))["places"].verdict is verdict


def test_against_the_book(slot: TSlot) -> None:
    assert by_key(slot_checks(slot))["book"].verdict is Verdict.GO
    tight = by_key(slot_checks(replace(slot, neck=readings(11.95))))["book"]
    assert tight.verdict is Verdict.MARGINAL and "may not go in" in tight.reason
    odd = by_key(slot_checks(replace(slot, neck=readings(12.9))))["book"]
    assert odd.verdict is Verdict.MARGINAL and "loose" in odd.reason


def test_what_planning_needs_of_a_machine(mill: Machine) -> None:
    good = by_key(machine_checks(mill))
    assert all(c.verdict is Verdict.GO for c in good.values())
    bare = by_key(machine_checks(replace(mill, axes={}, speeds_rpm=())))
    assert bare["dials"].verdict is Verdict.MARGINAL and bare["speeds"].verdict is Verdict.MARGINAL
    loose = replace(mill, axes={"X": Axis(mm_per_turn=4, divisions=200, backlash_mm=0.3)})
    assert by_key(machine_checks(loose))["slack"].verdict is Verdict.MARGINAL


def test_shanks_without_their_collet() -> None:
    cutters = (
        Cutter(id="a", kind=CutterKind.END_MILL, diameter_mm=20, shank_mm=20),
        Cutter(id="b", kind=CutterKind.END_MILL, diameter_mm=10, shank_mm=10),
        Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=40, shank_mm=32),
        Cutter(id="d", kind=CutterKind.SLITTING_SAW, diameter_mm=80, width_mm=2),
    )
    collets = (Collet(id="1", size_mm=19.05, name="3/4 inch"), Collet(id="2", size_mm=10, name="10 mm"))
    found = by_key(cutter_checks(Shop(cutters=cutters, collets=collets)))
    assert set(found) == {"shank a", "shank c", "shanks"}
    assert "never goes in" in found["shank a"].reason
    assert "no collet for a 32 mm shank" in found["shank c"].reason
    assert found["shanks"].text == "1 of 3"
    assert cutter_checks(Shop(cutters=cutters)) == []  # no collets recorded: nothing is claimed


def test_studs_that_look_alike() -> None:
    studs = tuple(Stud(id=t, thread=t, length_mm=80) for t in ("M10", "3/8-16", "M12", "M99"))
    found = by_key(stud_checks(Shop(studs=studs)))
    alike = [c for k, c in found.items() if k.startswith("alike")]
    assert len(alike) == 1 and "3/8-16" in alike[0].label + alike[0].reason
    assert found["threads"].verdict is Verdict.MARGINAL and found["threads"].text == "3 of 4"
    assert stud_checks(Shop()) == []


def test_guessed_materials_and_offcuts() -> None:
    bars = (
        Bar(id="a", width_mm=20, height_mm=16, length_mm=500, guessed="magnet and file"),
        *(Bar(id=f"o{i}", width_mm=20, height_mm=16, length_mm=40) for i in range(3)),
    )
    found = by_key(bar_checks(Shop(bars=bars)))
    assert found["guessed"].verdict is Verdict.MARGINAL and "magnet and file" in found["guessed"].reason
    assert found["offcuts"].verdict is Verdict.MARGINAL
    assert bar_checks(Shop()) == []


# --- the demo shop is lived in ------------------------------------------------------------------------------------


def test_demo_shop_has_what_every_bench_shows(demo_shop: Shop) -> None:
    kinds = {m.kind for m in demo_shop.machines}
    assert {MachineKind.KNEE, MachineKind.BENCH, MachineKind.HORIZONTAL, MachineKind.LATHE} <= kinds
    assert any(m.readout_step_mm == 0.005 for m in demo_shop.machines)
    assert any(not m.readout_step_mm and m.axes for m in demo_shop.machines)
    assert any(not s.straight for m in demo_shop.machines for s in m.slots)
    assert any(not s.measured for m in demo_shop.machines for s in m.slots)
    assert len(demo_shop.bars) > 8 and len({b.material for b in demo_shop.bars}) >= 4
    assert any(c.shank_mm and abs(c.shank_mm - c.diameter_mm) > 0.04 for c in demo_shop.cutters)


def test_old_margarets_slots_are_near_eleven_sixteenths(demo_shop: Shop) -> None:
    for slot in demo_shop.machine("margaret").slots:
        if slot.neck is not None:
            assert slot.neck.min / 25.4 == pytest.approx(11 / 16, abs=0.005)
