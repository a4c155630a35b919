"""Ways into Inspect from what is in hand: a piece, a machine, a vise, a setting."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from elbrix.answers.answer import Destination
from elbrix.book.documents import DesignDoc
from elbrix.quantities.angles import angle_text
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.workholding import Vise

if TYPE_CHECKING:
    from elbrix.presenters.angles import AnglesPresenter


def _to(words: str, kind: str, title: str, **chosen: str) -> Destination:
    return Destination(words=words, bench="inspect", kind=kind, title=title, chosen=chosen)


def measure_piece(doc: DesignDoc) -> Destination:
    """A piece against its drawing."""
    return _to("Measure a piece", "as_made", f"{doc.title}, as made", about=doc.id)


def inspect_machine(machine: Machine) -> dict[str, Destination]:
    """What can be looked at on a machine, by key of its button."""
    found = {}
    if any(s.straight for s in machine.slots):
        found["survey"] = _to("Survey slots", "slot_survey", f"Slots of {machine.name}", machine=machine.id)
    if machine.kind in (MachineKind.KNEE, MachineKind.BED, MachineKind.BENCH):
        found["tram"] = _to("Tram head", "head_tram", f"{machine.name}'s head", machine=machine.id)
    if machine.axes:
        found["backlash"] = _to("Backlash", "backlash", f"{machine.name}'s screw", machine=machine.id, axis=min(machine.axes))
    if machine.kind is MachineKind.ROTARY_TABLE:
        found["centre"] = _to(
            "Centre it", "centring", f"{machine.name} under the spindle", on="bore" if machine.bore_mm else "plug"
        )
    return found


def inspect_vise(vise: Vise) -> Destination:
    return _to("Read the jaw", "jaw", vise.name, vise=vise.id)


def read_back(presenter: AnglesPresenter) -> Destination | None:
    """The angle of a setting on a sine plate, to be read back; None when there is nothing to read."""
    setting = presenter.setting
    if setting is None or "angle" not in setting.values or presenter.kind.key != "sine":
        return None
    chosen = {"wanted": angle_text(setting.values.number("angle"))}
    tool = setting.values.word("tool")
    if any(t.id == tool for t in presenter.shop.sine_tools):
        chosen["tool_kind"] = tool
    if "tolerance" in setting.values:
        chosen["tolerance"] = f"{math.degrees(setting.values.number('tolerance')) * 60:.6g}"
    return _to("Read back", "sine_check", f"{presenter.doc.title}, read back", **chosen)
