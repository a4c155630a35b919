"""What Wrenfield Dial Works sets and reads angles with, and the settings it keeps."""

from __future__ import annotations

from msgspec.structs import replace

from elbrix.book.documents import AngleDoc, Chosen, Document
from elbrix.gauging.owned import owned_angle_set, owned_set
from elbrix.shop.angle_tools import AngleTool, AngleToolKind, SineTool
from elbrix.shop.gauges import BlockState, GaugeSet, Parallel
from elbrix.shop.tooling import Cutter, CutterKind


def _metric_box() -> GaugeSet:
    """The 88-piece box, calibrated in spring; one block lent out, one worn."""
    box = owned_set("box-88", "88-piece metric box", "metric 88", grade="1")
    # Deviations as a calibration lists them: hundredths of a µm, small blocks better than long ones.
    blocks = tuple(
        replace(b, deviation_um=round(((i * 37) % 19 - 9) / 100 * (1 + float(b.nominal) / 60), 2))
        for i, b in enumerate(box.blocks)
    )
    box = replace(box, blocks=blocks, calibrated_on="2026-04-20", calibration_u_um=0.06)
    lent = replace(box.block("1.11"), state=BlockState.LENT, note="Bram at the clock shop, since 16 November")
    worn = replace(box.block("1.005"), state=BlockState.WORN, note="no longer wrings; its face is scratched")
    return box.with_block(lent).with_block(worn)


def tools() -> list[Document]:
    """Gauge sets, parallels, sine plates, levels and protractors."""
    return [
        _metric_box(),
        owned_set("box-81", "81-piece inch box", "inch 81", grade="2"),
        owned_angle_set("angle-blocks", "13 angle blocks", "angle 13"),
        *(
            Parallel(id=f"parallel-{h:g}", height_mm=h, thickness_mm=8, length_mm=150)
            for h in (12.0, 16.0, 20.0, 24.995, 32.0, 40.0)
        ),
        SineTool(
            id="sine-100",
            name="100 mm sine plate",
            centres_mm=100.0,
            roll_pivot_mm=20.0,
            roll_stack_mm=20.0,
            centres_u_mm=0.003,
            face_above_mm=22,
            length_mm=140,
            width_mm=80,
        ),
        SineTool(
            id="sine-127",
            name="5 inch sine bar",
            centres_mm=127.002,
            roll_pivot_mm=19.052,
            roll_stack_mm=19.050,
            centres_u_mm=0.004,
            face_above_mm=16,
            length_mm=150,
            width_mm=25,
        ),
        AngleTool(id="level", name="digital level", kind=AngleToolKind.LEVEL, resolution_deg=0.1, error_deg=0.1),
        AngleTool(
            id="vise-protractor", name="vise protractor", kind=AngleToolKind.VISE_PROTRACTOR, resolution_deg=0.5, error_deg=0.25
        ),
        AngleTool(
            id="v-45", name="45° V-block pair", kind=AngleToolKind.ANGLE_PIECE, angle_deg=45, resolution_deg=0, error_deg=0.03
        ),
        AngleTool(
            id="wedge-30", name="30° wedge", kind=AngleToolKind.ANGLE_PIECE, angle_deg=30, resolution_deg=0, error_deg=0.05
        ),
        Cutter(
            id="angle-45", kind=CutterKind.ANGLE_CUTTER, diameter_mm=25, shank_mm=12, teeth=4, edge_length_mm=14, flank_deg=45
        ),
    ]


def _setting(id: str, kind: str, title: str, notes: str = "", **chosen: str) -> AngleDoc:
    return AngleDoc(id=id, kind=kind, title=title, notes=notes, chosen={k: Chosen(text=v) for k, v in chosen.items()})


def settings() -> list[Document]:
    """One of each kind, all from sundials."""
    return [
        _setting(
            "angle-gnomon",
            "sine",
            "Gnomon wedge, latitude 53° 14′",
            "Style edge to the noon line; every dial of this town has it.",
            angle="53°14'00\"",
            tolerance="0°02'00\"",
            tool="sine-100",
            work_length="60",
        ),
        _setting(
            "angle-declining",
            "two_tilts",
            "Face of a declining dial",
            meaning="slopes",
            first="12",
            second="37",
            lower_centres="100",
            upper_centres="100",
        ),
        _setting(
            "angle-v", "v_over_pin", "V-jaws for 30 mm rounds", v_angle="90", v_width="34", pin_diameter="20", over_pin="7.165"
        ),
        _setting(
            "angle-dovetail",
            "dovetail",
            "Sighting slide, male dovetail",
            shape="male",
            corner_width="42",
            height="9",
            flank_angle="55",
            rod_diameter="8",
            side_play="0.18",
        ),
        _setting(
            "angle-edge",
            "tilted_cut",
            "Bevel of a gnomon edge",
            thickness="12",
            cut_angle="53°14'00\"",
            length="180",
            edge_length="14",
        ),
        _setting("angle-height", "height", "Stack for the noon mark", height="41.7265", tolerance="0.5"),
        _setting(
            "angle-hours",
            "circle",
            "Hour ring, eight segments",
            holes="8",
            circle_diameter="200",
            start_angle="90",
            hole_diameter="6",
            pin_diameter="6",
        ),
    ]
