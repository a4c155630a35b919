"""Jaws, plates, stops and locators of Wrenfield Dial Works, and the plates of metal and tools they are made with."""

from __future__ import annotations

from msgspec import Struct, field
from msgspec.structs import replace

from elbrix.book.designs import choose, issue_revision
from elbrix.book.documents import DesignDoc, Document
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Cutter, CutterKind


class _Item(Struct, frozen=True, kw_only=True):
    id: str
    family: str
    title: str
    why: str  #: reason of its first revision
    chosen: dict[str, str] = field(default_factory=dict)
    machine: str = "hazel"
    slot: str = "middle slot"
    pieces: int = 1
    location: str = ""
    notes: str = ""
    made: int = 0
    on: str = "2026-11-23"


_ITEMS: tuple[_Item, ...] = (
    _Item(
        id="plate-yoke",
        family="fixture_plate",
        title="Plate for the bronze yoke",
        location="Under the bench, left",
        why="The yoke's whole top is cut: screws and pins through its own holes",
        notes="One pin relieved: the yoke's holes were drilled in two settings.",
        chosen={
            "kind": "work",
            "length": "190",
            "pattern": "-42,-12; 42,-12; 0,18",
            "work_thread": "M6",
            "pin_positions": "-50,-22; 50,-22",
            "pin_diameter": "6.002",
            "pin_clearance": "0.018",
            "spacing_error": "0.03",
            "cutter_path": "-65,-35; 65,-35; 65,9; 27,35; -27,35; -65,9; -65,-34",
            "cutter_diameter": "10",
            "work_kg": "1.2",
        },
    ),
    _Item(
        id="plate-segments",
        family="fixture_plate",
        title="Rotary plate for hour-ring segments",
        machine="clover",
        slot="ring slot",
        location="Clover's box",
        why="Six segments on one circle, screwed from below, nothing in the cutter's way",
        notes="Heads are counterbored underneath: put the segments on before the plate goes on the table.",
        chosen={
            "kind": "rotary",
            "length": "200",
            "width": "200",
            "pattern": "circle 6 on 118 at 30; circle 6 on 146 at 15",
            "work_thread": "M4",
        },
    ),
    _Item(
        id="v-jaws",
        family="v_jaw",
        title="V-jaws for studs and levelling feet",
        pieces=2,
        location="Drawer 2",
        made=2,
        why="Everything round from 12 to 30 in one pair",
        chosen={"smallest": "12", "largest": "30"},
        notes="Marked 1 and 2; 1 goes on the fixed side.",
    ),
    _Item(
        id="jaws-ledge",
        family="soft_jaw",
        title="Ledge jaws for dial blanks",
        location="Drawer 2",
        pieces=2,
        made=2,
        why="Eight millimetre blanks, faced without parallels",
        chosen={
            "kind": "ledge",
            "work_height": "8",
            "work_length": "100",
            "work_width": "100",
            "grip_height": "4",
            "ledge_depth": "4",
        },
    ),
    _Item(
        id="jaws-foot",
        family="soft_jaw",
        title="Nest jaws for the levelling foot",
        location="Drawer 2, back",
        why="Three arms and no two flat sides",
        notes="Closed on the spacer, 22 N·m, both when cut and when used.",
        chosen={
            "kind": "outline",
            "work_height": "14",
            "grip_height": "6",
            "outline": "-6,30; -9,9; -29,-9.8; -23,-20.2; 0,-12; 23,-20.2; 29,-9.8; 9,9; 6,30",
        },
    ),
)

_ITEMS += (
    _Item(
        id="pin-relieved",
        family="locator",
        title="Relieved pin for the yoke's second hole",
        location="In the yoke's plate",
        made=1,
        why="The holes are 0.03 off in their spacing; two full pins would not go",
        chosen={
            "kind": "relieved",
            "hole": "6.02; 6.025",
            "hole_depth": "10",
            "plate_hole": "6",
            "round_pin_clearance": "0.018",
            "spacing_error": "0.03",
            "pin_spacing": "100",
        },
    ),
    _Item(
        id="bush-yoke",
        family="locator",
        title="Bush for the yoke's trunnion",
        location="Drawer 5",
        why="Bored 0.04 uneven by its last owner",
        chosen={
            "kind": "bush",
            "measured_bore": "bronze yoke, trunnion",
            "bush_bore": "12.01",
            "hole_depth": "22",
            "head_diameter": "0",
            "head_height": "0",
        },
        notes="Turned from 25 bronze; the last 0.6 in three cuts.",
    ),
    _Item(
        id="riser-vise",
        family="riser",
        title="Riser under the dividing head",
        location="Shelf over Hazel",
        made=1,
        why="Centres at the height of the tailstock",
        chosen={"kind": "two", "riser_height": "42", "height_tolerance": "0.08", "top_positions": "-40,-8; 40,-8; -40,8; 40,8"},
        notes="Joining holes were spotted through: do not swap the plates.",
    ),
    _Item(
        id="stop-vise",
        family="vise_stop",
        title="Rod stop for the 125 mm vise",
        location="On the vise",
        made=1,
        why="Twenty gnomons to one length",
    ),
    _Item(
        id="stop-table",
        family="table_stop",
        title="Table stops for Hazel",
        pieces=2,
        location="Drawer 3, left",
        made=2,
        why="Dial plates pushed against two faces, always toward the column",
        chosen={"length": "72"},
    ),
    _Item(
        id="stop-quill",
        family="depth_stop",
        title="Depth stop for Pip's quill",
        machine="pip",
        slot="front slot",
        location="On Pip",
        why="The quill's ring is a guess; gauge blocks are not",
        chosen={"travel": "8.4", "feed_force": "350"},
        notes="The boss is 0.07 oval: the sleeve went in with a draw bolt and a little heat.",
    ),
    _Item(
        id="stop-trip",
        family="trip_stop",
        title="Trip stop for Margaret's long feed",
        machine="margaret",
        slot="middle slot",
        location="On Old Margaret",
        made=1,
        why="Slots to one length without standing beside it",
        chosen={
            "travel": "120",
            "trials": "20, 20.18; 40, 40.11; 60, 60.24; 80, 80.20; 100, 100.31",
            "wanted_travel": "76.2",
            "travel_tolerance": "0.3",
        },
        notes="Trials with 80 mm a minute, to the left, slide locked half.",
    ),
    _Item(
        id="tilting-plate",
        family="tilting_plate",
        title="Tilting plate for chamfers",
        location="Box under the surface plate",
        made=1,
        why="Dial rims at 12° and 15°, a tenth is near enough",
        chosen={"tilt": "15", "front_length": "34", "rear_length": "34", "length": "110"},
    ),
    _Item(
        id="nuts-curved",
        family="ring_nut",
        title="Curved nuts for Clover",
        machine="clover",
        slot="ring slot",
        pieces=3,
        made=3,
        location="Clover's box",
        why="Three long ones spread the pull: the straight ones marked the lips",
        chosen={"length": "48"},
        notes="Cut on Clover itself, one screw through the thread: light cuts.",
    ),
    _Item(
        id="gib-tam",
        family="gib",
        title="Gib for Tam's compound slide",
        machine="tam",
        slot="",
        location="Drawer 5",
        why="0.36 of play with the old one in, its screws at their end",
        chosen={
            "flank_angle": "60",
            "way_height": "11",
            "old_thickness": "4.4",
            "slack": "0.36",
            "length": "96",
            "end_distance": "14",
            "screw": "M4",
            "torque": "0.2",
        },
        notes="Blued and scraped on the slide; 0.02 left for oil.",
    ),
    _Item(
        id="vise-long-bars",
        family="split_vise",
        title="Split vise for long bars",
        machine="hazel",
        location="Shelf over Hazel",
        why="Index bars of 400 lie in no vise of ours",
        chosen={"part": "screw", "jaw_width": "70"},
        notes="Fixed half, jaw plate and keys are made; the screw half waits for a bar of 80 × 50.",
    ),
    _Item(
        id="detent-handle",
        family="detent",
        title="Detent for the tailstock's lock lever",
        machine="tam",
        slot="",
        location="In Tam's lever",
        made=1,
        why="The lever shook itself loose on long cuts",
        chosen={"ball": "5", "wanted": "24", "wire": "0.8", "coil": "4.7", "coils": "9", "free_length": "17"},
        notes="The groove was drilled with the ball's own drill, 0.75 deep.",
    ),
    _Item(
        id="clamps-toe",
        family="clamp",
        title="Toe clamps for dial plates",
        pieces=2,
        location="Drawer 3, left",
        made=2,
        why="The whole top of a dial plate is cut: nothing may stand over its edge",
        chosen={"kind": "toe", "height": "26", "push_screw": "M8", "toe_length": "50", "material": "mild steel"},
        notes="The screw pushes by being turned out; grease it.",
    ),
    _Item(
        id="blocks-step",
        family="clamp",
        title="Low step blocks",
        pieces=2,
        location="Drawer 3, right",
        why="From 8 to 23 in threes, where the bought ones begin at 12",
        chosen={"kind": "step", "height": "23"},
        notes="A pair of one bar, so that two straps stand alike.",
    ),
    _Item(
        id="studs-hazel",
        family="hardware",
        title="Short studs with a hexagon for Hazel",
        location="Drawer 1, front",
        pieces=4,
        made=4,
        why="Under 45 high the bought studs stand in the cutter's way",
        chosen={"section": "hexagon", "clamp_low": "15", "clamp_high": "45", "material": "mild steel"},
        notes="Seated on the nut with a spanner, never with a vise's jaws on the thread.",
    ),
)


def designs(shop: Shop) -> list[DesignDoc]:
    """One item of every family, issued."""
    found = []
    for item in _ITEMS:
        doc = DesignDoc(
            id=item.id, family=item.family, title=item.title, machine=item.machine, slot=item.slot, pieces=item.pieces
        )
        for name, text in item.chosen.items():
            doc = choose(doc, name, text)
        doc = issue_revision(doc, shop, item.why, on=item.on)
        found.append(replace(doc, location=item.location, notes=item.notes, made=item.made))
    return found


def stock_and_tools() -> list[Document]:
    """Flats and plates on the rack, and the drills and reamers for them."""
    flats = [
        ("140", 140, 20, 420, "aluminium alloy"),
        ("200", 200, 20, 260, "mild steel"),
        ("40", 40, 20, 640, "aluminium alloy"),
        ("60", 60, 20, 520, "aluminium alloy"),
        ("40x25", 40, 25, 520, "aluminium alloy"),
        ("40x30", 40, 30, 400, "mild steel"),
        ("120", 120, 25, 380, "mild steel"),
    ]
    found: list[Document] = [
        Bar(
            id=f"flat-{n}-{t}-{m.split()[0]}",
            width_mm=w,
            height_mm=t,
            length_mm=left,
            full_length_mm=1000,
            material=m,
            rack="rack B, lower",
        )
        for n, w, t, left, m in flats
    ]
    rounds = [
        (25.0, 300.0, "mild steel"),
        (30.0, 410.0, "mild steel"),
        (16.0, 700.0, "medium carbon steel"),
        (50.0, 180.0, "bronze"),
    ]
    found += [
        Bar(
            id=f"round-{d:g}-{m.split()[0]}",
            form=Form.ROUND,
            width_mm=d,
            length_mm=left,
            full_length_mm=1000,
            material=m,
            finish=Finish.BRIGHT,
            rack="rack A, upright",
        )
        for d, left, m in rounds
    ]
    found += [
        Bar(id=f"hexagon-{d:g}", form=Form.HEXAGON, width_mm=d, length_mm=left, full_length_mm=1000, rack="rack A, upright")
        for d, left in ((17.0, 640.0), (14.0, 850.0))
    ]
    found += [
        Cutter(id=f"die-{n}", kind=CutterKind.DIE, diameter_mm=d, name=n, teeth=4)
        for n, d in (("M6x1", 6.0), ("M8x1.25", 8.0), ("M10x1.5", 10.0))
    ]
    found += [
        Cutter(id=f"drill-{d:g}", kind=CutterKind.DRILL, diameter_mm=d, shank_mm=d) for d in (4.5, 5.8, 6.6, 7.8, 9.0, 11.0, 13.5)
    ]
    found += [
        Cutter(id=f"reamer-{d:g}", kind=CutterKind.REAMER, diameter_mm=d, shank_mm=d, teeth=6) for d in (6.0, 6.02, 8.0, 10.0)
    ]
    return found
