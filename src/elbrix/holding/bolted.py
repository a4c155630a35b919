"""A body bolted into a slot that is pushed along the table: what holds it is the friction under it. N, N·m."""

from __future__ import annotations

from typing import Final

from elbrix.mechanics.strength import COUNTED, preload_n, stud_torque_nm
from elbrix.mechanics.tightened import LIPS_FIRST, SCREW_CLASS, screw_load
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, Points
from elbrix.results.figures import Derivation, Figure, Origin
from elbrix.results.formulas import kilonewtons, reckoned, term, worked
from elbrix.standards.materials import friction
from elbrix.standards.threads import find_thread

#: The bolt of a stop or a toe clamp whose own is not recorded.
BOLT: Final = find_thread(parse_thread("M10"))
_CLASS: Final = SCREW_CLASS
#: Asked of what holds a body against what pushes it.
_ENOUGH: Final = 1.5


def bolt_torque_parameter() -> Parameter:
    return Parameter(
        name="bolt_torque",
        label="Hold-down bolt torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=1,
        high=300,
        step=1,
        usually="M10, 8.8",
    )


def usual_bolt_torque(nut_factor: float) -> ParameterValue:
    """What an M10 bolt takes, rounded down."""
    return ParameterValue(float(int(stud_torque_nm(BOLT, _CLASS, nut_factor))), Origin.ASSUMED)


def bolt_load_check(name: str, pull_n: float, entry: str) -> Check:
    """A hold-down bolt of a body against its proof load.

    Args:
        entry: Of the bolt's torque.
    """
    return screw_load(
        f"{entry}.load",
        f"Hold-down bolt load, {name}",
        pull_n,
        BOLT,
        _CLASS,
        Points(features=(name,), figures=(entry,), remedies=(entry,)),
        careful=LIPS_FIRST,
    )


def bolt_pull_n(torque_nm: float, nut_factor: float) -> float:
    """Preload of a body's bolt, before what scatters."""
    return preload_n(torque_nm, nut_factor, BOLT.major_mm)


def stands_n(torque_nm: float, nut_factor: float) -> float:
    """What a body so bolted bears along the table before it slides: the friction under it, with the preload at its least."""
    return friction("steel on cast iron, dry") * COUNTED * bolt_pull_n(torque_nm, nut_factor)


def stands_figure(entry: str, name: str, torque_nm: float, nut_factor: float) -> Figure:
    return reckoned(
        entry,
        "Bears along the table",
        worked(
            f"µ·{COUNTED:g}·F",
            term(friction("steel on cast iron, dry"), 6),
            kilonewtons(bolt_pull_n(torque_nm, nut_factor), 2),
            source="F: its bolt's preload; the friction under it and no more: a slot is no stop along itself",
        ),
        unit="kN",
        features=(name,),
    )


def stands_check(key: str, name: str, push_n: float, torque_nm: float, nut_factor: float, entry: str) -> Check:
    """Whether a body stays where it is bolted while it pushes the work."""
    bears = stands_n(torque_nm, nut_factor)
    share = bears / push_n if push_n > 0 else 99.0
    return Check(
        key=key,
        label=f"Body stays, {name}",
        value=min(share, 99.0),
        unit="×",
        limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
        step=0.1,
        features=(name,),
        figures=(entry,),
        remedies=(entry,),
        reason=(
            "its bolt holds it against its own push"
            if share >= _ENOUGH
            else "its bolt barely holds it: tighten it more, or push less"
            if share >= 1
            else "it slides back along its slot before it pushes so hard: a stop behind it, or push less"
        ),
        derivation=Derivation("µ·least preload of its bolt/push", f"{bears:.0f} N/{push_n:.0f} N", "steel on cast iron, dry"),
    )
