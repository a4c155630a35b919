"""Machines: their own screen shows table, slots and handwheels; the rest of what can be said of one stands here."""

from __future__ import annotations

from elbrix.items.kind import ItemKind, LookedAt, choices_of
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.shop.machines import Machine, MachineKind


def _order(machine: Machine) -> tuple[int, str]:
    return list(MachineKind).index(machine.kind), machine.name  # mills first


def _looked_at(machine: Machine) -> tuple[LookedAt, ...]:
    """What can be looked at on it."""

    def look(key: str, words: str, kind: str, title: str, **chosen: str) -> LookedAt:
        return LookedAt(key=key, words=words, kind=kind, title=title, chosen=chosen)

    found = []
    if any(s.straight for s in machine.slots):
        found.append(look("survey", "Survey slots", "slot_survey", f"Slots of {machine.name}", machine=machine.id))
    if machine.kind in (MachineKind.KNEE, MachineKind.BED, MachineKind.BENCH):
        found.append(look("tram", "Tram head", "head_tram", f"{machine.name}'s head", machine=machine.id))
    if machine.axes:
        axis = min(machine.axes)
        found.append(look("backlash", "Backlash", "backlash", f"{machine.name}'s {axis}", machine=machine.id, axis=axis))
        found.append(look("screw", "Screw", "screw", f"{machine.name}'s {axis} screw", machine=machine.id, axis=axis))
    if machine.table_length_mm and machine.kind is not MachineKind.LATHE:
        found.append(look("flatness", "Table flatness", "flatness", f"{machine.name}'s table", machine=machine.id))
    if machine.kind is MachineKind.ROTARY_TABLE:
        on = "bore" if machine.bore_mm else "plug"
        found.append(look("centre", "Centre it", "centring", f"{machine.name} under the spindle", on=on))
    return tuple(found)


KIND = ItemKind(
    kind="machine",
    key="",
    title="Machines",
    order=0,
    type=Machine,
    attribute="machines",
    name=lambda t, style: str(t.name),
    count=lambda m, style: f"{len(m.slots)} slots",
    sort=_order,
    looked_at=_looked_at,
    new=lambda id, variant: Machine(id=id, name="mill", kind=MachineKind.KNEE),
    parameters=(
        Parameter(name="name", label="Name", kind=Kind.TEXT, unit=""),
        Parameter(name="kind", label="Type", kind=Kind.CHOICE, unit="", choices=choices_of(MachineKind)),
        Parameter(name="table_length_mm", label="Table length", kind=Kind.LENGTH, low=0, high=6000, step=0.0),
        Parameter(name="table_width_mm", label="Table width", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="readout_step_mm", label="Readout step, 0 for none", kind=Kind.LENGTH, low=0, high=1, step=0.0),
        Parameter(name="rigidity", label="Rigidity", kind=Kind.CHOICE, unit="", choices=choices_of(("light", "medium", "heavy"))),
        Parameter(
            name="climb", label="Climb milling", kind=Kind.CHOICE, unit="", choices=choices_of(("never", "finish only", "yes"))
        ),
        Parameter(name="speeds_rpm", label="Spindle speeds", kind=Kind.COUNTS, low=1, high=99999, unit="rpm"),
        Parameter(name="power_w", label="Spindle motor power", kind=Kind.NUMBER, low=0, high=30000, unit="W"),
        Parameter(name="quill_mm", label="Quill stroke, 0 for none", kind=Kind.LENGTH, low=0, high=300, step=0.0),
        Parameter(name="daylight_mm", label="Spindle nose to table at most", kind=Kind.LENGTH, low=0, high=2000, step=0.0),
        Parameter(name="speeds_note", label="Belt and gear notes", kind=Kind.TEXT, unit=""),
        Parameter(name="arbor_mm", label="Arbor diameter, 0 for none", kind=Kind.LENGTH, low=0, high=100, step=0.0),
        Parameter(name="collar_mm", label="Collar diameter", kind=Kind.LENGTH, low=0, high=150, step=0.0),
        Parameter(name="bore_mm", label="Centre bore diameter, 0 for none", kind=Kind.LENGTH, low=0, high=300, step=0.005),
        Parameter(name="worm_turns", label="Worm turns for one of the table", kind=Kind.COUNT, unit="", low=0, high=400),
        Parameter(name="worm_marks", label="Marks of the worm's dial", kind=Kind.COUNT, unit="", low=0, high=2000),
        Parameter(name="index_circles", label="Index plate circles", kind=Kind.COUNTS, low=1, high=999, unit="holes"),
        Parameter(
            name="dial_reads",
            label="Cross-slide dial reads",
            kind=Kind.CHOICE,
            unit="",
            choices=choices_of(("diameter", "radius")),
        ),
        Parameter(name="spindle_bore_mm", label="Spindle bore, 0 not known", kind=Kind.LENGTH, low=0, high=300, step=0.0),
        Parameter(name="lead_screw_mm", label="Lead screw pitch, 0 not known", kind=Kind.LENGTH, low=0, high=30, step=0.0),
        Parameter(name="change_wheels", label="Change wheels", kind=Kind.COUNTS, low=12, high=200, unit="teeth"),
        Parameter(name="head_lean_right_mm_m", label="Head leans right", kind=Kind.NUMBER, low=-50, high=50, unit="mm/m"),
        Parameter(name="head_lean_back_mm_m", label="Head leans back", kind=Kind.NUMBER, low=-50, high=50, unit="mm/m"),
        Parameter(name="table_flat_um", label="Table out of flat, 0 not measured", kind=Kind.NUMBER, low=0, high=1000, unit="µm"),
        Parameter(name="table_rise_x_mm_m", label="Table rises toward X+", kind=Kind.NUMBER, low=-50, high=50, unit="mm/m"),
        Parameter(name="table_rise_y_mm_m", label="Table rises toward Y+", kind=Kind.NUMBER, low=-50, high=50, unit="mm/m"),
        Parameter(name="notes", label="Notes", kind=Kind.TEXT, unit=""),
    ),
)
