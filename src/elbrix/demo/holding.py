"""What Wrenfield Dial Works holds work with, and three layouts that tell something true."""

from __future__ import annotations

from msgspec.structs import replace

from elbrix.book.documents import Chosen, Document, ElementDoc, LayoutDoc
from elbrix.shop.locating import Bore, Pin
from elbrix.shop.workholding import BlockKind, Clamp, ClampKind, Fastener, FastenerKind, SupportBlock, TableStop, Vise


def workholding() -> list[Document]:
    """Vises, clamps, blocks, stops."""
    return [
        Vise(
            id="vise-125",
            name="125 mm vise",
            jaw_width_mm=125,
            jaw_height_mm=40,
            bed_height_mm=58,
            opening_mm=130,
            jaw_thickness_mm=18,
            length_mm=330,
            force_per_nm=420,
            max_torque_nm=45,
            key_width_mm=14,
            key_spacing_mm=210,
            jaw_screw="M8",
            jaw_screw_spacing_mm=80,
            jaw_screw_height_mm=18,
            fixed_lean_mm_per_m=0.12,
        ),
        Vise(
            id="vise-split",
            name="split vise, two blocks",
            jaw_width_mm=80,
            jaw_height_mm=24,
            bed_height_mm=22,
            opening_mm=420,
            jaw_thickness_mm=22,
            length_mm=520,
            force_per_nm=300,
            max_torque_nm=30,
            split=True,
            jaw_screw="M6",
            jaw_screw_spacing_mm=50,
            jaw_screw_height_mm=12,
        ),
        Clamp(
            id="strap-100", length_mm=100, width_mm=30, thickness_mm=18, slot_from_mm=16, slot_to_mm=56, slot_width_mm=11, count=4
        ),
        Clamp(
            id="strap-80", length_mm=80, width_mm=28, thickness_mm=16, slot_from_mm=14, slot_to_mm=44, slot_width_mm=11, count=2
        ),
        Clamp(
            id="toe-60",
            kind=ClampKind.TOE,
            length_mm=60,
            width_mm=30,
            thickness_mm=18,
            slot_from_mm=20,
            slot_to_mm=44,
            slot_width_mm=11,
            count=2,
        ),
        SupportBlock(
            id="step-6", kind=BlockKind.STEP, min_height_mm=6, max_height_mm=38, step_mm=2, length_mm=32, width_mm=25, count=4
        ),
        SupportBlock(
            id="step-38", kind=BlockKind.STEP, min_height_mm=38, max_height_mm=92, step_mm=3, length_mm=45, width_mm=25, count=2
        ),
        SupportBlock(
            id="riser-25", kind=BlockKind.RISER, min_height_mm=25.4, max_height_mm=25.4, length_mm=76.2, width_mm=50.8, count=2
        ),
        SupportBlock(id="jack-40", kind=BlockKind.JACK, min_height_mm=40, max_height_mm=62, length_mm=28, width_mm=28, count=3),
        TableStop(id="stop-30", body_mm=30, height_mm=20, reach_mm=70, count=3),
        Fastener(id="t-nut-m10", kind=FastenerKind.T_NUT, thread="M10", neck_mm=11.6, count=6),
        Fastener(id="t-nut-m8", kind=FastenerKind.T_NUT, thread="M8", neck_mm=11.6, count=4),
        Fastener(id="nut-m10", kind=FastenerKind.NUT, thread="M10", count=8),
        Fastener(id="nut-m8", kind=FastenerKind.NUT, thread="M8", count=8),
        Fastener(id="screw-m6-35", kind=FastenerKind.CAP_SCREW, thread="M6", length_mm=35, count=10),
        Pin(id="pin-6", diameter_mm=6.002, length_mm=24, count=8),
        Pin(id="pin-8", diameter_mm=8.004, length_mm=32, count=4),
        Pin(id="pin-10", diameter_mm=9.998, length_mm=40, count=2),
        Bore(id="bore-quill", name="Pip's quill stop boss", smallest_mm=25.12, largest_mm=25.19, depth_mm=28),
        Bore(id="bore-clover", name="Clover's centre bore", smallest_mm=25.005, largest_mm=25.012),
        Bore(id="bore-yoke", name="bronze yoke, trunnion", smallest_mm=18.03, largest_mm=18.07, depth_mm=22),
        Fastener(id="screw-m8-40", kind=FastenerKind.CAP_SCREW, thread="M8", length_mm=40, count=6),
    ]


def _thing(kind: str, **chosen: str) -> ElementDoc:
    return ElementDoc(kind=kind, chosen={k: Chosen(text=v) for k, v in chosen.items()})


def _chosen(**values: str) -> dict[str, Chosen]:
    return {k: Chosen(text=v) for k, v in values.items()}


def layouts() -> list[Document]:
    """A round dial plate whose clamps stand in the cut, the gnomon wedge in the vise, the bronze yoke on a plate."""
    return [
        LayoutDoc(
            id="hold-dial",
            title="Dial plate 180 × 8, step round its rim",
            machine="hazel",
            notes="The rim is cut all round, so the clamps stand in the way: two holds.",
            chosen=_chosen(
                shape="round",
                width="180",
                height="8",
                material="brass",
                y="0",
                cut="milling",
                cutter="end-mill-12",
                cutter_path="around",
                depth_below_top="3",
                depth_of_cut="1.5",
                width_of_cut="3",
                feed="0.05",
            ),
            elements=(
                _thing("strap", slot="middle slot", x="118", direction="180", clamp="strap-100", torque="16"),
                _thing("strap", slot="middle slot", x="-118", direction="0", clamp="strap-100", torque="16"),
                _thing("strap", slot="rear slot", x="96", direction="200", clamp="strap-80", torque="16"),
            ),
        ),
        LayoutDoc(
            id="hold-wedge",
            title="Gnomon wedge blank in the vise",
            machine="hazel",
            notes="Faced before the angle is set.",
            chosen=_chosen(
                shape="block",
                length="90",
                width="40",
                height="34",
                material="bronze",
                cut="milling",
                cutter="end-mill-16",
                cutter_path="face",
                depth_below_top="2",
                depth_of_cut="2",
                width_of_cut="12",
                feed="0.06",
            ),
            elements=(_thing("vise", vise="vise-125", torque="25"),),
        ),
        LayoutDoc(
            id="hold-yoke",
            title="Bronze bearing yoke on its plate",
            machine="hazel",
            notes="One pin is relieved: the holes were drilled in two settings.",
            chosen=_chosen(
                shape="outline",
                outline="0,0; 120,0; 120,36; 84,60; 36,60; 0,36",
                height="22",
                material="bronze",
                cut="milling",
                cutter="end-mill-10",
                cutter_path="around",
                depth_below_top="10",
                depth_of_cut="5",
                width_of_cut="3",
                feed="0.04",
            ),
            elements=(
                replace(
                    _thing(
                        "plate",
                        torque="7",
                        length="190",
                        width="134",
                        thickness="20",
                        screw_positions="-42,-12; 42,-12; 0,18",
                        thread="M6x1",
                        pins="relieved",
                        pin_positions="-50,-22; 50,-22",
                        pin_diameter="6.002",
                        pin_clearance="0.018",
                        spacing_error="0.03",
                    ),
                    design="plate-yoke",
                ),
            ),
        ),
    ]
