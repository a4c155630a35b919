"""The lists beside the machines: what each thing is called, counted by, and which of its values can be typed. No widgets here."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any, Final

from msgspec import Struct

from elbrix.book.documents import Document
from elbrix.gauging.blocks import standard_set_names
from elbrix.gauging.owned import owned_angle_set, owned_set
from elbrix.presenters.card import Row
from elbrix.quantities.angles import angle_text, parse_angle, show_angle
from elbrix.quantities.counts import parse_count
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import Length, UnitStyle, entry_text
from elbrix.quantities.names import parse_thread
from elbrix.shop.angle_tools import AngleTool, AngleToolKind, SineTool
from elbrix.shop.gauges import AngleBlockSet, GaugeSet, Parallel
from elbrix.shop.locating import Bore, Pin
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Cutter, CutterKind, MeasuringTool, Stud
from elbrix.shop.workholding import BlockKind, Clamp, ClampKind, Fastener, FastenerKind, SupportBlock, TableStop, Vise
from elbrix.standards.materials import materials
from elbrix.standards.threads import find_thread

#: Lists beside the machines.
THINGS: Final = {
    "rack": "Bars on the rack",
    "cutters": "Cutters",
    "studs": "Studs",
    "measuring": "Measuring tools",
    "vises": "Vises",
    "clamps": "Clamps",
    "supports": "Step blocks, jacks, risers",
    "stops": "Table stops",
    "fasteners": "Nuts, bolts and screws",
    "pins": "Pins",
    "bores": "Bores to fit",
    "blocks": "Gauge blocks",
    "angle_blocks": "Angle blocks",
    "parallels": "Parallels",
    "sine": "Sine plates and bars",
    "angles": "Levels, protractors, pieces",
}


class Field(Struct, frozen=True):
    """One editable attribute of a thing in the shop."""

    attr: str
    label: str
    kind: str  #: length, count, number, text, choice, speeds
    low: float = 0.0
    high: float = 10000.0
    choices: tuple[str, ...] = ()
    step_mm: float | None = None


FIELDS: Final[dict[type, tuple[Field, ...]]] = {
    Bar: (
        Field("form", "Form", "choice", choices=tuple(f.value for f in Form)),
        Field("width_mm", "Width or Ø", "length", 1, 500),
        Field("height_mm", "Height", "length", 0, 500),
        Field("length_mm", "Length left", "length", 0, 7000, step_mm=0.5),
        Field("full_length_mm", "As bought", "length", 0, 7000, step_mm=0.5),
        Field("material", "Material", "choice", choices=tuple(materials())),
        Field("finish", "Finish", "choice", choices=tuple(f.value for f in Finish)),
        Field("guessed", "Material guessed by", "text"),
        Field("rack", "Lies", "text"),
    ),
    Cutter: (
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in CutterKind)),
        Field("diameter_mm", "Diameter, measured", "length", 0.2, 300),
        Field("shank_mm", "Shank", "length", 0, 80),
        Field("teeth", "Teeth", "count", 1, 200),
        Field("edge_length_mm", "Edge length", "length", 0, 300),
        Field("width_mm", "Width, disc cutters", "length", 0, 100),
        Field("material", "Of", "choice", choices=("HSS", "carbide")),
        Field("flank_deg", "Flank of an angle cutter", "degrees", 0, 89),
        Field("name", "Thread of a tap", "text"),
        Field("notes", "Notes", "text"),
    ),
    Stud: (
        Field("thread", "Thread", "thread"),
        Field("length_mm", "Length", "length", 5, 1000),
        Field("count", "How many", "count", 0, 999),
        Field("strength_class", "Strength", "choice", choices=("4.6", "5.6", "8.8", "10.9", "12.9")),
    ),
    MeasuringTool: (
        Field("name", "Name", "text"),
        Field("resolution_mm", "Reads to", "length", 0.0001, 5),
        Field("uncertainty_mm", "Trusted to ±", "length", 0.0001, 5),
        Field("reach_mm", "Reach", "length", 1, 2000),
    ),
    GaugeSet: (
        Field("name", "Name", "text"),
        Field("grade", "Grade", "choice", choices=("K", "0", "1", "2")),
        Field("calibrated_on", "Calibrated on", "text"),
        Field("calibration_u_um", "Calibrated to ±, µm", "number", 0.001, 5),
        Field("material", "Of", "choice", choices=tuple(materials())),
    ),
    AngleBlockSet: (Field("name", "Name", "text"), Field("limit_arcsec", "Each good to ±, ″", "number", 0.1, 120)),
    Parallel: (
        Field("height_mm", "Height, measured", "length", 0.5, 300, step_mm=0.001),
        Field("thickness_mm", "Thickness", "length", 0.5, 100),
        Field("length_mm", "Length", "length", 5, 1000),
        Field("count", "How many", "count", 0, 99),
        Field("u_mm", "Measured to ±", "length", 0.0001, 1, step_mm=0.0001),
    ),
    SineTool: (
        Field("name", "Name", "text"),
        Field("centres_mm", "Centres, measured", "length", 10, 1000, step_mm=0.001),
        Field("roll_pivot_mm", "Pivot roll Ø", "length", 1, 200, step_mm=0.001),
        Field("roll_stack_mm", "Stack roll Ø", "length", 1, 200, step_mm=0.001),
        Field("centres_u_mm", "Centres known to ±", "length", 0, 1, step_mm=0.0001),
        Field("rolls_u_mm", "Rolls alike to", "length", 0, 1, step_mm=0.0001),
        Field("face_u_mm", "Face parallel to", "length", 0, 1, step_mm=0.0001),
        Field("face_above_mm", "Face above the centres", "length", 0, 300),
        Field("length_mm", "Face length", "length", 0, 2000),
        Field("width_mm", "Face width", "length", 0, 1000),
        Field("material", "Of", "choice", choices=tuple(materials())),
    ),
    AngleTool: (
        Field("name", "Name", "text"),
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in AngleToolKind)),
        Field("resolution_deg", "Reads to", "degrees", 0, 5),
        Field("error_deg", "Trusted to ±", "degrees", 0, 5),
        Field("angle_deg", "Angle of a piece", "degrees", 0, 179.9),
        Field("reach_deg", "A tilting plate goes to", "degrees", 0, 90),
    ),
    Vise: (
        Field("name", "Name", "text"),
        Field("jaw_width_mm", "Jaw width", "length", 10, 500),
        Field("jaw_height_mm", "Jaws above the bed", "length", 3, 200),
        Field("bed_height_mm", "Bed above the table", "length", 3, 300),
        Field("opening_mm", "Opens to", "length", 5, 1000),
        Field("jaw_thickness_mm", "Jaw thickness", "length", 3, 150),
        Field("length_mm", "Body length", "length", 0, 2000),
        Field("force_per_nm", "Clamp force per N·m, N", "number", 10, 5000),
        Field("max_torque_nm", "Handle, at most, N·m", "number", 1, 500),
        Field("key_width_mm", "Key width, 0 for none", "length", 0, 60),
        Field("key_spacing_mm", "Key slots apart", "length", 0, 2000),
        Field("jaw_screw", "Jaw plate screws", "text"),
        Field("jaw_screw_spacing_mm", "Jaw screws apart", "length", 0, 500, step_mm=0.01),
        Field("jaw_screw_height_mm", "Jaw screws above the bed", "length", 0, 200, step_mm=0.01),
        Field("fixed_lean_mm_per_m", "Fixed jaw leans, mm a metre", "number", 0, 20),
    ),
    Clamp: (
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in ClampKind)),
        Field("length_mm", "Length", "length", 15, 500),
        Field("width_mm", "Width", "length", 6, 150),
        Field("thickness_mm", "Thickness", "length", 3, 80),
        Field("slot_from_mm", "Slot begins, from the tip", "length", 0, 400),
        Field("slot_to_mm", "Slot ends", "length", 0, 490),
        Field("slot_width_mm", "Slot width", "length", 1, 60),
        Field("count", "How many", "count", 0, 99),
        Field("yield_mpa", "Yield, MPa", "number", 100, 1500),
    ),
    SupportBlock: (
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in BlockKind)),
        Field("min_height_mm", "Lowest", "length", 0.5, 500),
        Field("max_height_mm", "Highest", "length", 0.5, 500),
        Field("step_mm", "In steps of, 0 for any", "length", 0, 100),
        Field("length_mm", "Length", "length", 3, 500),
        Field("width_mm", "Width", "length", 3, 300),
        Field("count", "How many", "count", 0, 99),
    ),
    TableStop: (
        Field("body_mm", "Body width", "length", 5, 200),
        Field("height_mm", "Height", "length", 2, 200),
        Field("reach_mm", "Tongue reaches", "length", 5, 400),
        Field("count", "How many", "count", 0, 99),
    ),
    Fastener: (
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in FastenerKind)),
        Field("thread", "Thread", "thread"),
        Field("length_mm", "Length under the head", "length", 0, 1000),
        Field("neck_mm", "Neck in the slot", "length", 0, 80),
        Field("count", "How many", "count", 0, 999),
        Field("strength_class", "Strength", "choice", choices=("4.6", "5.6", "8", "8.8", "10.9", "12.9")),
    ),
    Pin: (
        Field("diameter_mm", "Diameter, measured", "length", 0.3, 100, step_mm=0.001),
        Field("length_mm", "Length", "length", 1, 500),
        Field("count", "How many", "count", 0, 999),
    ),
    Bore: (
        Field("name", "Name", "text"),
        Field("smallest_mm", "Smallest Ø anywhere", "length", 0.5, 1000, step_mm=0.001),
        Field("largest_mm", "Largest Ø anywhere", "length", 0.5, 1000, step_mm=0.001),
        Field("depth_mm", "Deep, 0 for through", "length", 0, 2000),
    ),
    Machine: (
        Field("name", "Name", "text"),
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in MachineKind)),
        Field("table_length_mm", "Table length", "length", 0, 6000),
        Field("table_width_mm", "Table width", "length", 0, 2000),
        Field("readout_step_mm", "Readout step, 0 for none", "length", 0, 1),
        Field("rigidity", "Rigidity", "choice", choices=("light", "medium", "heavy")),
        Field("climb", "Climb cutting", "choice", choices=("never", "finish only", "yes")),
        Field("speeds_rpm", "Spindle steps, rpm", "speeds"),
        Field("arbor_mm", "Arbor Ø, 0 for none", "length", 0, 100),
        Field("collar_mm", "Collar Ø", "length", 0, 150),
        Field("bore_mm", "Centre bore Ø, 0 for none", "length", 0, 300, step_mm=0.005),
        Field("dial_reads", "Cross-slide dial reads", "choice", choices=("diameter", "radius")),
        Field("notes", "Notes", "text"),
    ),
}
LIST_OF: Final[dict[str, tuple[type, str]]] = {
    "rack": (Bar, "bars"),
    "cutters": (Cutter, "cutters"),
    "studs": (Stud, "studs"),
    "measuring": (MeasuringTool, "measuring"),
    "vises": (Vise, "vises"),
    "clamps": (Clamp, "clamps"),
    "supports": (SupportBlock, "supports"),
    "stops": (TableStop, "stops"),
    "fasteners": (Fastener, "fasteners"),
    "pins": (Pin, "pins"),
    "bores": (Bore, "bores"),
    "blocks": (GaugeSet, "gauge_sets"),
    "angle_blocks": (AngleBlockSet, "angle_sets"),
    "parallels": (Parallel, "parallels"),
    "sine": (SineTool, "sine_tools"),
    "angles": (AngleTool, "angle_tools"),
}


def thing_name(thing: Any, style: UnitStyle) -> str:
    if isinstance(thing, Stud):
        return f"{thing.thread} × {style.show(thing.length_mm, 'mm')}"
    if isinstance(thing, Parallel):
        return " × ".join(style.show(v, "mm") for v in (thing.height_mm, thing.thickness_mm, thing.length_mm))
    if isinstance(thing, MeasuringTool | GaugeSet | AngleBlockSet | SineTool | AngleTool):
        return thing.name
    return str(thing.title)


def thing_count(thing: Any, style: UnitStyle) -> str:
    if isinstance(thing, Bar):
        return style.show(thing.length_mm, "mm", 0.5)
    if isinstance(thing, Stud):
        return f"{thing.count} of them"
    if isinstance(thing, Cutter):
        return f"shank {style.show(thing.shank_mm, 'mm')}" if thing.shank_mm else "on arbor"
    if isinstance(thing, GaugeSet | AngleBlockSet):
        out = sum(not b.here for b in thing.blocks)
        return f"{len(thing.blocks)} blocks" + (f", {out} out" if out else "")
    if isinstance(thing, Parallel | Clamp | SupportBlock | TableStop | Fastener | Pin):
        return f"{thing.count} of them"
    if isinstance(thing, Bore):
        return f"Ø{style.show(thing.smallest_mm, 'mm')} at least"
    if isinstance(thing, Vise):
        return f"jaws {style.show(thing.jaw_width_mm, 'mm', 0.1)}"
    if isinstance(thing, SineTool):
        return f"C {style.show(thing.centres_mm, 'mm')}"
    if isinstance(thing, AngleTool):
        return (
            show_angle(parse_angle(str(thing.angle_deg)))
            if thing.kind is AngleToolKind.ANGLE_PIECE
            else f"reads {thing.resolution_deg:g}°"
        )
    return f"±{style.show(thing.uncertainty_mm, 'mm')}"


def field_row(thing: Any, f: Field, style: UnitStyle) -> Row:
    value = getattr(thing, f.attr)
    if f.kind == "length":
        return Row(
            key=f"field {f.attr}",
            label=f.label,
            value=style.show(value, "mm", f.step_mm),
            unit=style.name("mm"),
            edit="text",
            origin="measured",
            entry_text=entry_text(value, style.length),
        )
    if f.kind in ("number", "degrees"):
        text = f"{value:g}" if f.kind == "number" else angle_text(parse_angle(f"{value:.9f}"))
        return Row(
            key=f"field {f.attr}",
            label=f.label,
            value=text + ("°" if f.kind == "degrees" and text.replace(".", "").isdecimal() else ""),
            edit="text",
            origin="measured",
            entry_text=text,
        )
    if f.kind == "choice":
        return Row(
            key=f"field {f.attr}",
            label=f.label,
            value=str(value),
            edit="choice",
            choices=tuple((c, c) for c in f.choices),
            origin="chosen",
        )
    if f.kind == "speeds":
        return Row(
            key=f"field {f.attr}",
            label=f.label,
            value=", ".join(map(str, sorted(value))),
            edit="text",
            entry_text=", ".join(map(str, sorted(value))),
            origin="measured" if value else "",
        )
    return Row(key=f"field {f.attr}", label=f.label, value=str(value), edit="text", entry_text=str(value), placeholder="–")


def read_field(f: Field, thing: Any, text: str, style: UnitStyle) -> Any:
    if f.kind == "length":
        return Length.parse(text, style.length, f.label, f.low, f.high).mm
    if f.kind == "degrees":
        return math.degrees(parse_angle(text, f.label, f.low, f.high))
    if f.kind == "number":
        return _number(f, text)
    if f.kind == "count":
        return parse_count(text, f.label, int(f.low), int(f.high))
    if f.kind == "choice":
        kind = type(getattr(thing, f.attr))
        return kind(text)
    if f.kind == "speeds":
        parts = [p for p in text.replace(";", ",").split(",") if p.strip()]
        if len(parts) > 60:
            raise EntryError(f.label, f"{len(parts)} speeds", "60 are kept at most", "Leave some away")
        return tuple(sorted({parse_count(p, f.label, 1, 99999, "Write for example 80, 120, 180, 270") for p in parts}))
    if f.kind == "thread":
        name = parse_thread(text, f.label)
        find_thread(name, f.label)  # only what a table has can be drawn and reckoned with
        return str(name)
    if len(text) > 2000:
        raise EntryError(f.label, f"{len(text):,} characters", "2,000 are kept at most", "Shorten it")
    return text.strip()


def _number(f: Field, text: str) -> float:
    plain = text.strip()
    value = float(plain) if re.fullmatch(r"[0-9]{1,6}(\.[0-9]{0,6})?|\.[0-9]{1,6}", plain) else math.nan
    if not f.low <= value <= f.high:
        raise EntryError(
            f.label,
            f"“{plain[:12]}” cannot be",
            f"It is a number from {f.low:g} to {f.high:g}",
            "Type it with a point for the decimals",
        )
    return value


def new_thing(what: str, new_id: Callable[[str], str], standard: str = "") -> Document:
    """One more of the list looked at, to be filled in."""
    kind = LIST_OF[what][0]
    if kind is Bar:
        return Bar(id=new_id("bar"), width_mm=20, height_mm=20, length_mm=500, full_length_mm=500)
    if kind is Cutter:
        return Cutter(id=new_id("cutter"), kind=CutterKind.END_MILL, diameter_mm=10, shank_mm=10, teeth=4)
    if kind is GaugeSet:
        return owned_set(new_id("box"), f"{standard or 'metric 47'} set", standard or "metric 47")
    if kind is AngleBlockSet:
        return owned_angle_set(new_id("angle-box"), "Angle blocks", "angle 13")
    if kind is Parallel:
        return Parallel(id=new_id("parallel"), height_mm=20, thickness_mm=8, length_mm=150)
    if kind is SineTool:
        return SineTool(id=new_id("sine"), name="sine plate", centres_mm=100)
    if kind is AngleTool:
        return AngleTool(
            id=new_id("angle-tool"), name="protractor", kind=AngleToolKind.PROTRACTOR, resolution_deg=1, error_deg=0.5
        )
    if kind is Vise:
        return Vise(id=new_id("vise"), name="vise", jaw_width_mm=100, jaw_height_mm=35, bed_height_mm=50, opening_mm=100)
    if kind is Clamp:
        return Clamp(id=new_id("clamp"), length_mm=100, width_mm=28, thickness_mm=16, slot_from_mm=15, slot_to_mm=56)
    if kind is SupportBlock:
        return SupportBlock(id=new_id("support"), kind=BlockKind.STEP, min_height_mm=6, max_height_mm=38, step_mm=2)
    if kind is TableStop:
        return TableStop(id=new_id("stop"), body_mm=30, height_mm=25)
    if kind is Pin:
        return Pin(id=new_id("pin"), diameter_mm=6, length_mm=24)
    if kind is Bore:
        return Bore(id=new_id("bore"), name="bore", smallest_mm=20, largest_mm=20)
    if kind is Fastener:
        return Fastener(id=new_id("fastener"), thread="M10")
    if kind is Stud:
        return Stud(id=new_id("stud"), thread="M10", length_mm=100)
    return MeasuringTool(id=new_id("measuring"), name="caliper", resolution_mm=0.01, uncertainty_mm=0.03)


def add_row() -> Row:
    """Gauge blocks come as one of the usual sets."""
    choices = tuple((name, f"{name} pieces") for name in standard_set_names())
    return Row(key="add set", label="Add a set", value="pick one", edit="choice", choices=choices)
