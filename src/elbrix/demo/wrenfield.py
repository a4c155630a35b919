"""Wrenfield Dial Works: a two-person workshop that makes brass and bronze sundials. Invented, machines and all."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from msgspec.structs import replace

from elbrix.book.designs import choose, issue_revision
from elbrix.book.documents import AsMade, DesignDoc, Document, JobDoc, PhotoDoc, StockTakeDoc, shop_of
from elbrix.book.store import Book
from elbrix.demo import accessories, holding, measuring_room
from elbrix.demo.inspecting import inspections
from elbrix.making.options import Options
from elbrix.quantities.readings import Readings
from elbrix.shop.cut_log import LoggedCut
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.places import StoragePlace
from elbrix.shop.slots import TSlot
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Collet, Cutter, CutterKind, Holder, HolderKind, MeasuringTool, Stud, TouchOff
from elbrix.shop.wear import After, WearReading

_CALIPER = "150 mm caliper"
_PLACES = ("left end", "middle", "right end")


def _read(*values: float, on: str, places: tuple[str, ...] = _PLACES, with_: str = _CALIPER) -> Readings:
    return Readings(values_mm=values, measured_with=with_, on=on, places=places[: len(values)])


def _inches(*values: float, on: str) -> Readings:
    return Readings(
        values_mm=tuple(round(v * 25.4, 4) for v in values), measured_with="6 inch caliper", on=on, places=_PLACES[: len(values)]
    )


def _machines() -> list[Machine]:
    hazel = Machine(
        id="hazel",
        name="Hazel",
        kind=MachineKind.KNEE,
        table_length_mm=1066,
        table_width_mm=254,
        slots=(
            TSlot(
                label="rear slot",
                offset_mm=50,
                neck=_read(12.04, 12.06, 12.05, on="2026-11-14"),
                lip=_read(8.25, 8.30, 8.25, on="2026-11-14"),
                head=_read(19.25, 19.30, 19.20, on="2026-11-14"),
                depth=_read(16.10, 16.15, 16.05, on="2026-11-14"),
            ),
            TSlot(
                label="middle slot",
                offset_mm=0,
                neck=_read(12.05, 12.09, 12.06, on="2026-11-14"),
                lip=_read(8.20, 8.25, 8.20, on="2026-11-14"),
                head=_read(19.20, 19.30, 19.25, on="2026-11-14"),
                depth=_read(16.00, 16.10, 16.05, on="2026-11-14"),
            ),
            TSlot(
                label="front slot",
                offset_mm=-50,
                neck=_read(12.08, on="2026-11-14"),
                lip=_read(8.15, on="2026-11-14"),
                head=_read(19.20, on="2026-11-14"),
                depth=_read(16.00, on="2026-11-14"),
            ),
        ),
        axes={
            "X": Axis(mm_per_turn=4, divisions=200, backlash_mm=0.08, travel_mm=660),
            "Y": Axis(mm_per_turn=4, divisions=200, backlash_mm=0.06, travel_mm=240),
            "Z": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.02, travel_mm=380),
        },
        readout_step_mm=0.005,
        speeds_rpm=(80, 120, 180, 270, 405, 600, 900, 1350, 2000, 2720),
        speeds_note="Belt head: change speed with the spindle stopped. Back gear turns it the other way.",
        taper="R8",
        rigidity="medium",
        climb="finish only",
        power_w=1500,
        quill_mm=127,
        daylight_mm=420,
        notes="Gibs set in March. Ida scraped the knee lock pad.",
    )
    pip = Machine(
        id="pip",
        name="Pip",
        kind=MachineKind.BENCH,
        table_length_mm=460,
        table_width_mm=112,
        slots=(
            TSlot(
                label="rear slot",
                offset_mm=17.5,
                neck=_read(10.10, 10.15, 10.10, on="2026-10-02"),
                lip=_read(6.40, 6.50, 6.45, on="2026-10-02"),
                head=_read(15.30, 15.40, 15.30, on="2026-10-02"),
                depth=_read(12.60, 12.70, 12.60, on="2026-10-02"),
            ),
            TSlot(
                label="front slot",
                offset_mm=-17.5,
                neck=_read(10.20, 10.25, 10.20, on="2026-10-02"),
                lip=_read(6.30, 6.40, 6.30, on="2026-10-02"),
                head=_read(15.20, 15.30, 15.20, on="2026-10-02"),
                depth=_read(12.50, 12.60, 12.55, on="2026-10-02"),
            ),
        ),
        axes={
            "X": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.22, travel_mm=220),
            "Y": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.18, travel_mm=100),
            "Z": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.30, travel_mm=180),
        },
        speeds_rpm=(200, 350, 560, 900, 1400, 2100),
        speeds_note="Step belts: stop before moving the belt.",
        taper="MT2",
        rigidity="light",
        climb="never",
        power_w=350,
        quill_mm=60,
        daylight_mm=280,
        notes="No readout. Z drops when the lock is loosened: hold the handle.",
    )
    margaret = Machine(
        id="margaret",
        name="Old Margaret",
        kind=MachineKind.HORIZONTAL,
        table_length_mm=1016,
        table_width_mm=229,
        slots=(
            TSlot(
                label="rear slot",
                offset_mm=57.15,
                neck=_inches(0.6905, 0.692, 0.691, on="2026-09-20"),
                lip=_inches(0.452, 0.455, 0.454, on="2026-09-20"),
                head=_inches(1.128, 1.131, 1.130, on="2026-09-20"),
                depth=_inches(0.945, 0.95, 0.948, on="2026-09-20"),
            ),
            TSlot(
                label="middle slot",
                offset_mm=0,
                neck=_inches(0.6895, 0.691, 0.690, on="2026-09-20"),
                lip=_inches(0.450, 0.454, 0.452, on="2026-09-20"),
                head=_inches(1.126, 1.130, 1.128, on="2026-09-20"),
                depth=_inches(0.942, 0.948, 0.946, on="2026-09-20"),
            ),
            TSlot(label="front slot", offset_mm=-57.15),
        ),
        axes={
            "X": Axis(mm_per_turn=6.35, divisions=250, backlash_mm=0.30, travel_mm=610),
            "Y": Axis(mm_per_turn=5.08, divisions=200, backlash_mm=0.20, travel_mm=203),
            "Z": Axis(mm_per_turn=2.54, divisions=100, backlash_mm=0.05, travel_mm=430),
        },
        speeds_rpm=(28, 43, 66, 100, 152, 230, 350, 525),
        speeds_note="Geared: change only when stopped.",
        taper="40",
        rigidity="heavy",
        climb="never",
        power_w=2200,
        arbor_mm=25.4,
        collar_mm=44.45,
        notes="Inch dials, a thousandth a line. Screws worn in the middle of the table.",
    )
    tam = Machine(
        id="tam",
        name="Tam",
        kind=MachineKind.LATHE,
        table_length_mm=300,
        table_width_mm=110,
        slots=(
            TSlot(
                label="cross-slide slot",
                offset_mm=0,
                neck=_read(10.05, on="2026-08-11"),
                lip=_read(9.40, on="2026-08-11"),
                head=_read(17.10, on="2026-08-11"),
                depth=_read(22.0, on="2026-08-11"),
            ),
        ),
        axes={"X": Axis(mm_per_turn=3, divisions=60, backlash_mm=0.1), "Z": Axis(mm_per_turn=12, divisions=120)},
        speeds_rpm=(45, 72, 115, 180, 300, 500, 800, 1200),
        taper="MT3",
        power_w=1100,
        rigidity="medium",
        spindle_bore_mm=26,
        dial_reads="radius",
        lead_screw_mm=3,
        change_wheels=(20, 25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 75, 80, 127),
    )
    clover = Machine(
        id="clover",
        name="Clover",
        kind=MachineKind.ROTARY_TABLE,
        table_length_mm=250,
        table_width_mm=250,
        slots=(
            TSlot(
                label="ring slot",
                ring_radius_mm=92,
                neck=_read(12.20, 12.15, 12.20, on="2026-09-02", places=("0°", "120°", "240°")),
                lip=_read(8.9, 9.0, 8.9, on="2026-09-02"),
                head=_read(20.4, 20.5, 20.4, on="2026-09-02"),
                depth=_read(17.6, 17.7, 17.6, on="2026-09-02"),
            ),
        ),
        bore_mm=25.005,
        worm_turns=90,
        worm_marks=240,
        index_circles=(15, 16, 17, 18, 19, 20, 21, 23, 27, 29, 31, 33),
        notes="Horizontal only. 90 turns of the worm to one of the table; its dial reads minutes.",
    )
    return [hazel, pip, margaret, tam, clover]


def _bars() -> list[Bar]:
    return [
        Bar(id="bar-1", width_mm=20, height_mm=16, length_mm=500, full_length_mm=1000, rack="rack A, top"),
        Bar(id="bar-2", width_mm=25, height_mm=20, length_mm=820, full_length_mm=1000, rack="rack A, top"),
        Bar(
            id="bar-3", width_mm=30, height_mm=20, length_mm=640, full_length_mm=1000, finish=Finish.ROLLED, rack="rack A, lower"
        ),
        Bar(id="bar-4", width_mm=16, height_mm=16, length_mm=310, full_length_mm=1000, rack="rack A, top"),
        Bar(id="bar-5", width_mm=32, height_mm=25, length_mm=455, full_length_mm=1000, rack="rack A, lower"),
        Bar(id="bar-6", width_mm=20, height_mm=15, length_mm=96, full_length_mm=1000, rack="offcut box"),
        Bar(id="bar-7", width_mm=50, height_mm=10, length_mm=700, full_length_mm=1000, material="brass", rack="rack B"),
        Bar(id="bar-8", form=Form.ROUND, width_mm=25, length_mm=380, full_length_mm=1000, material="bronze", rack="rack B"),
        Bar(
            id="bar-9",
            width_mm=60,
            height_mm=20,
            length_mm=300,
            full_length_mm=500,
            material="aluminium alloy",
            rack="rack B",
            finish=Finish.SAWN,
        ),
        Bar(
            id="bar-10",
            width_mm=25,
            height_mm=16,
            length_mm=610,
            full_length_mm=1000,
            material="medium carbon steel",
            rack="rack A, lower",
            guessed="spark",
        ),
        Bar(
            id="bar-11",
            form=Form.ROUND,
            width_mm=20,
            length_mm=900,
            full_length_mm=1000,
            finish=Finish.GROUND,
            rack="rack A, lower",
        ),
    ]


def _tooling() -> list[Document]:
    end_mills = [(6, 6, 4, 13), (8, 8, 4, 19), (10, 10, 4, 22), (12, 12, 4, 26), (16, 16, 4, 32), (19.95, 20, 4, 38)]
    found: list[Document] = [
        Cutter(
            id=f"end-mill-{d:g}",
            kind=CutterKind.END_MILL,
            diameter_mm=d,
            shank_mm=s,
            teeth=z,
            edge_length_mm=e,
            notes="reground" if d == 19.95 else "",
        )
        for d, s, z, e in end_mills
    ]
    found += [
        Cutter(
            id="end-mill-half",
            kind=CutterKind.END_MILL,
            diameter_mm=12.69,
            shank_mm=12.7,
            teeth=4,
            edge_length_mm=28,
            notes="half inch",
        ),
        Cutter(id="face-mill-63", kind=CutterKind.FACE_MILL, diameter_mm=63, shank_mm=0, teeth=5, material="carbide"),
        Cutter(id="side-80", kind=CutterKind.SIDE_AND_FACE, diameter_mm=80, width_mm=10, teeth=18),
        Cutter(
            id="side-102", kind=CutterKind.SIDE_AND_FACE, diameter_mm=101.6, width_mm=12.7, teeth=20, notes="4 inch, half wide"
        ),
        Cutter(id="saw-80", kind=CutterKind.SLITTING_SAW, diameter_mm=80, width_mm=2, teeth=64),
        Cutter(id="spot-10", kind=CutterKind.SPOT_DRILL, diameter_mm=10, shank_mm=10),
        Cutter(id="sink-16", kind=CutterKind.COUNTERSINK, diameter_mm=16.5, shank_mm=10, teeth=3),
    ]
    found += [
        Cutter(id=f"drill-{d:g}", kind=CutterKind.DRILL, diameter_mm=d, shank_mm=d) for d in (3.3, 4.2, 5.0, 5.5, 6.8, 8.5, 10.2)
    ]
    found.append(Cutter(id="drill-27-64", kind=CutterKind.DRILL, diameter_mm=10.7156, shank_mm=10.7156, name="27/64"))
    taps = [("M4x0.7", 4), ("M5x0.8", 5), ("M6x1", 6), ("M8x1.25", 8), ("M10x1.5", 10), ("M12x1.75", 12), ("1/2-13", 12.7)]
    found += [Cutter(id=f"tap-{n}", kind=CutterKind.TAP, diameter_mm=d, name=n, teeth=4) for n, d in taps]
    found += [Collet(id=f"collet-{d}", size_mm=d, name=f"{d} mm", machine="hazel") for d in (6, 8, 10, 12, 16)]
    found += [Collet(id=f"collet-tam-{d}", size_mm=d, name=f"{d} mm lathe", machine="tam") for d in (8, 10, 12)]
    found += [
        Collet(id="collet-3-4", size_mm=19.05, name="3/4 inch", machine="hazel"),
        Holder(id="chuck-13", kind=HolderKind.DRILL_CHUCK, name="drill chuck 1 to 13", least_mm=1, most_mm=13, machine="hazel"),
        Holder(id="chuck-10", kind=HolderKind.DRILL_CHUCK, name="drill chuck 0.5 to 10", least_mm=0.5, most_mm=10, machine="pip"),
        Holder(id="arbor-22", kind=HolderKind.ARBOR, name="stub arbor 22", least_mm=22, most_mm=22, machine="hazel"),
        Holder(id="boring-head", kind=HolderKind.BORING_HEAD, name="boring head", least_mm=9, most_mm=110, machine="hazel"),
        Holder(id="tool-post", kind=HolderKind.TOOL_POST, name="four-way tool post", least_mm=0, most_mm=16, machine="tam"),
        TouchOff(id="finder-10", size_mm=10, name="edge finder"),
        Stud(id="stud-m8", thread="M8", length_mm=80, count=8),
        Stud(id="stud-m10", thread="M10", length_mm=120, count=6),
        Stud(id="stud-3-8", thread="3/8-16", length_mm=101.6, count=4, strength_class="5.6"),
        Stud(id="stud-m12", thread="M12", length_mm=125, count=4),
        Stud(id="stud-1-2", thread="1/2-13", length_mm=127, count=4, strength_class="5.6"),
        MeasuringTool(
            id="caliper", name=_CALIPER, resolution_mm=0.01, uncertainty_mm=0.03, checked_on="2026-06-15", check_months=12
        ),
        MeasuringTool(id="caliper-in", name="6 inch caliper", resolution_mm=0.0127, uncertainty_mm=0.03),
        MeasuringTool(id="caliper-300", name="300 mm caliper", resolution_mm=0.02, uncertainty_mm=0.05, reach_mm=300),
        MeasuringTool(
            id="micrometer",
            name="0 to 25 micrometer",
            resolution_mm=0.001,
            uncertainty_mm=0.004,
            reach_mm=25,
            checked_on="2026-09-01",
            check_months=6,
        ),
        MeasuringTool(
            id="micrometer-50",
            name="25 to 50 micrometer",
            resolution_mm=0.01,
            uncertainty_mm=0.005,
            reach_mm=50,
            checked_on="2026-09-01",
            check_months=12,
        ),
        MeasuringTool(id="indicator", name="lever indicator", resolution_mm=0.01, uncertainty_mm=0.005, reach_mm=0.8),
        MeasuringTool(id="depth", name="depth gauge", resolution_mm=0.01, uncertainty_mm=0.02, reach_mm=150),
    ]
    return found


def _designs(things: list[Document]) -> list[Document]:
    shop = shop_of(things)
    long_table = DesignDoc(
        id="t-nut-hazel", family="t_nut", title="T-nut for the long table", machine="hazel", slot="middle slot", pieces=6
    )
    long_table = issue_revision(long_table, shop, "First issue, four made for the dial plate clamps", on="2026-10-21")
    long_table = issue_revision(
        choose(long_table, "length", "20"),
        shop,
        "Length 20: less pressure on the lips, and it parts from a round number",
        on="2026-11-16",
    )
    long_table = replace(
        long_table,
        location="Drawer 3, left",
        made=6,
        notes="Deburr the slot side well; Hazel's middle slot has a burr 200 from the right end.",
        as_made=(
            AsMade(on="2026-11-18", figure="neck_width", readings_mm=(11.68, 11.71, 11.70), measured_with="0 to 25 micrometer"),
            AsMade(on="2026-11-18", figure="neck_height", readings_mm=(7.15, 7.20), measured_with="depth gauge"),
            AsMade(on="2026-11-18", figure="head_width", readings_mm=(18.15, 18.20), measured_with="0 to 25 micrometer"),
        ),
    )
    small = DesignDoc(id="t-nut-pip", family="t_nut", title="Small T-nut for Pip", machine="pip", slot="front slot", pieces=4)
    small = replace(
        issue_revision(small, shop, "First issue", on="2026-10-04"),
        location="Drawer 3, right",
        made=4,
        as_made=(AsMade(on="2026-10-06", figure="neck_width", readings_mm=(9.88, 10.02), measured_with=_CALIPER),),
    )
    wide = choose(
        choose(
            DesignDoc(
                id="t-nut-margaret",
                family="t_nut",
                title="T-nut for Old Margaret's half-inch studs",
                machine="margaret",
                slot="middle slot",
                pieces=4,
            ),
            "thread",
            "1/2-13",
        ),
        "stud_stop",
        "staked",
    )
    tall = DesignDoc(
        id="t-nut-tam",
        family="t_nut",
        title="Blind T-nut for Tam's cross-slide",
        machine="tam",
        slot="cross-slide slot",
        pieces=2,
    )
    tall = choose(choose(choose(tall, "stud_stop", "blind"), "neck_height", "8.8"), "thread", "M8")
    ring = DesignDoc(
        id="t-nut-clover",
        family="t_nut",
        title="Straight nut in Clover's ring slot",
        machine="clover",
        slot="ring slot",
        pieces=3,
    )
    ring = replace(
        issue_revision(ring, shop, "Straight one will do: no rotary-table job", on="2026-09-03"), location="Clover's box", made=3
    )
    wrong = DesignDoc(
        id="t-nut-first", family="t_nut", title="First try, kept as a lesson", machine="hazel", slot="middle slot", pieces=1
    )
    wrong = choose(choose(wrong, "neck_height", "8.1"), "neck_width", "11.95")
    wrong = replace(
        issue_revision(wrong, shop, "Made by the book, before anybody measured", on="2026-08-02"),
        location="Nail by the door",
        made=1,
        notes="As tall as the slot is deep: it clamped on itself. Measure first.",
    )
    sine = DesignDoc(id="sine-plate", family="sine_plate", title="Sine plate for gnomon wedges", machine="hazel", pieces=1)
    for name, text in (("roll_centres", "100"), ("pattern", "grid 20"), ("taper", "0.004"), ("width", "80")):
        sine = choose(sine, name, text)
    sine = issue_revision(sine, shop, "Centres by the budget for ±25″; plate came back 4 µm thick at one end", on="2026-11-20")
    sine = replace(sine, location="Box under the surface plate", notes="Stack between the rolls before the screws go tight.")
    keys = DesignDoc(
        id="table-keys",
        family="table_key",
        title="Offset keys for the 125 mm vise",
        machine="hazel",
        slot="middle slot",
        pieces=2,
    )
    for name, text in (
        ("vise_slot", "14.02"),
        ("vise_slot_depth", "6.4"),
        ("key_spacing", "210"),
        ("misalignment", "0.24"),
        ("misalignment_check", "0.25"),
    ):
        keys = choose(keys, name, text)
    keys = issue_revision(keys, shop, "Vise slots 0.245 out of line, read from both sides; one key turned round", on="2026-11-22")
    keys = replace(keys, location="In the vise", notes="Do not change them end for end: a dot of blue on the right one.")
    job = JobDoc(
        id="job-t-nut-hazel",
        design="t-nut-hazel",
        options=Options(machine="hazel"),
        done=("saw.cut", *(id for face in "ABDC" for id in (f"square.{face}", f"square.{face}.deburr")), "zero.Y", "zero.Z"),
        measured={"bar_width": 18.22},
    )
    return [long_table, small, wide, tall, ring, wrong, sine, keys, *accessories.designs(shop), job]


def _photograph() -> PhotoDoc:
    jpeg = (Path(__file__).parent / "t-nut.jpg").read_bytes()
    return PhotoDoc(
        id="photo-t-nut",
        about="t-nut-hazel",
        title="First of the batch, before the edges were broken",
        on="2026-11-18",
        jpeg=jpeg,
    )


def _stock_take() -> list[Document]:
    """Drawer 3 was counted last week; one nut is missing."""
    places = [
        StoragePlace(id="drawer-3", name="Drawer 3", capacity=24),
        StoragePlace(id="clovers-box", name="Clover's box", capacity=6),
        StoragePlace(id="nail", name="Nail by the door", capacity=1),
    ]
    worn = [
        WearReading(id=f"wear-mill-{n}", thing="end mill Ø19.95", size="Diameter", value_mm=v, on=on, after=after, **more)
        for n, (v, on, after, more) in enumerate(
            (
                (20.0, "2025-03-10", After.NEW, {"wanted_mm": 20.0, "limit_mm": 0.03}),
                (19.984, "2025-11-03", After.FOUND, {}),
                (19.95, "2026-04-07", After.GROUND, {"wanted_mm": 19.95}),
                (19.946, "2026-11-20", After.FOUND, {}),
            ),
            1,
        )
    ]
    cuts = [
        LoggedCut(
            id=f"cut-brass-{n}",
            machine="tam",
            tool="turning tool",
            material="brass",
            set_mm=s,
            off_mm=o,
            rpm=800,
            on=f"2026-10-{n:02d}",
        )
        for n, (s, o) in enumerate(((0.3, 0.008), (0.3, 0.011), (0.2, 0.009), (0.12, 0.012), (0.05, 0.034)), 1)
    ]
    return [*places, *worn, *cuts, StockTakeDoc(id="stock-take", on="2026-11-27", counted={"t-nut-hazel": 5, "t-nut-pip": 4})]


def documents() -> list[Document]:
    """Everything in the demo shop."""
    return list(_documents())


@cache  # its designs are solved and issued, which takes a while
def _documents() -> tuple[Document, ...]:
    things: list[Document] = [
        *_machines(),
        *_bars(),
        *_tooling(),
        *accessories.stock_and_tools(),
        *measuring_room.tools(),
        *holding.workholding(),
    ]
    return (
        *things,
        *_designs(things),
        *measuring_room.settings(),
        *holding.layouts(),
        *inspections(),
        _photograph(),
        *_stock_take(),
    )


def write_demo(path: Path) -> Book:
    """Write a fresh copy of the demo shop and open it."""
    for old in (path, path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
        old.unlink(missing_ok=True)
    book = Book.create(path)
    book.put("Wrenfield Dial Works", *documents())
    for key, value in (
        ("bench", "design"),
        ("design", "t-nut-hazel"),
        ("machine", "hazel"),
        ("angle", "angle-gnomon"),
        ("inspection", "tram-hazel"),
    ):
        book.remember(key, value)
    return book
