"""What follows from the sizes of a clamp or a support, with its working."""

from __future__ import annotations

from elbrix.design.families.clamp.sizes import DRY, HEEL_END_MM, NOSE_MM, PARAMETERS, ClampSizes
from elbrix.parameters.parameter import figure_of
from elbrix.results.figures import Derivation, Figure, format_number


def figures(s: ClampSizes) -> list[Figure]:
    v = s.v
    found = [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="mass",
            label="Mass",
            value=s.mass_kg,
            unit="kg",
            features=("body",),
            derivation=Derivation("volume × density", f"{format_number(s.volume, 1)}·{s.metal.density_kg_m3:g}/1000000000"),
        ),
    ]
    return [
        *found,
        *{"strap": _strap_figures, "toe": _toe_figures, "step": _step_figures, "jack": _jack_figures}.get(s.kind, _none)(s),
    ]


def _none(s: ClampSizes) -> list[Figure]:
    return []


def _pull(s: ClampSizes) -> Figure:
    return Figure(
        key="pull",
        label="Stud preload",
        value=s.pull_n / 1000,
        unit="kN",
        features=("slot_width",),
        derivation=Derivation(
            "T/(K·d)",
            f"{format_number(s.v.number('torque'))} N·m/({format_number(DRY)}·{format_number(s.stud.major_mm)})",
            "dry thread; it scatters by 30 % either way",
        ),
    )


def _strap_figures(s: ClampSizes) -> list[Figure]:
    return [
        _pull(s),
        Figure(
            key="heel_arm",
            label="Stud to heel",
            value=s.heel_arm,
            step=0.5,
            features=("body",),
            derivation=Derivation(
                "length − nose − heel end − stud to tip",
                f"{format_number(s.length)} − {format_number(NOSE_MM)} − {format_number(HEEL_END_MM)} −"
                f" {format_number(s.tip_arm)}",
            ),
        ),
        Figure(
            key="tip_force",
            label="Force at the tip",
            value=s.tip_n / 1000,
            unit="kN",
            features=("tip",),
            derivation=Derivation(
                "F·heel/(tip + heel)",
                f"{format_number(s.pull_n / 1000, 4)} kN·{format_number(s.heel_arm)}/({format_number(s.tip_arm)} +"
                f" {format_number(s.heel_arm)})",
                "the strap is a lever on its heel",
            ),
        ),
        Figure(
            key="bending",
            label="Bending at the stud",
            value=s.bending_mpa,
            unit="MPa",
            step=1,
            features=("body",),
            derivation=Derivation(
                "6·F·arm/((b − slot)·(t − relief)²)",
                f"6·{format_number(s.tip_n, 4)}·{format_number(s.tip_arm)}/(({format_number(s.width)} −"
                f" {format_number(s.slot)})·({format_number(s.height)} − {format_number(s.relief)})²)",
            ),
        ),
    ]


def _toe_figures(s: ClampSizes) -> list[Figure]:
    return [
        _pull(s),
        Figure(
            key="push",
            label="Push",
            value=s.push_n / 1000,
            unit="kN",
            features=("push",),
            derivation=Derivation(
                "T/(K·d)",
                f"{format_number(s.v.number('push_torque'))} N·m/({format_number(DRY)}·{format_number(s.screw.major_mm)})",
                "dry thread; it scatters by 30 % either way",
            ),
        ),
        Figure(
            key="down_angle",
            label="Toe points down by",
            value=s.down_deg,
            unit="deg",
            step=0.1,
            features=("toe",),
            derivation=Derivation(
                "asin((screw − contact)/length)",
                f"asin(({format_number(s.push_height)} − {format_number(s.contact)})/{format_number(s.toe_length)})",
            ),
        ),
        Figure(
            key="down_force",
            label="Downward force",
            value=s.down_n / 1000,
            unit="kN",
            features=("toe",),
            derivation=Derivation(
                "push·tan(angle)", f"{format_number(s.push_n / 1000, 4)} kN·tan({format_number(s.down_deg, 4)}°)"
            ),
        ),
        Figure(
            key="reach",
            label="Reach from the bolt",
            value=s.reach,
            step=0.5,
            features=("toe",),
            derivation=Derivation(
                "body − first slot centre + toe",
                f"{format_number(s.length)} − {format_number(s.start)} + {format_number(s.toe_length)}",
                "the push screw's head right in",
            ),
        ),
        Figure(
            key="thread_deep",
            label="Push screw thread depth",
            value=s.thread_deep,
            step=0.1,
            features=("push",),
            derivation=Derivation(
                "body − slot's end − 2 − three turns − drill point",
                f"{format_number(s.length)} − {format_number(s.end + s.slot / 2)} − 2 − 3·{format_number(s.screw.pitch_mm)} −"
                f" 0.3004·{format_number(s.screw.tap_drill[1])}",
            ),
        ),
    ]


def _step_figures(s: ClampSizes) -> list[Figure]:
    return [
        Figure(
            key="base",
            label="Lowest step",
            value=s.base,
            step=0.5,
            features=("steps",),
            derivation=Derivation(
                "height − (steps − 1)·rise", f"{format_number(s.height)} − ({s.steps} − 1)·{format_number(s.rise)}"
            ),
        ),
        Figure(
            key="treads",
            label="Over all treads",
            value=s.depth,
            step=0.5,
            features=("steps",),
            derivation=Derivation("steps·tread", f"{s.steps}·{format_number(s.tread)}"),
        ),
    ]


def _jack_figures(s: ClampSizes) -> list[Figure]:
    return [
        Figure(
            key="lowest",
            label="Lowest",
            value=s.jack_least,
            step=0.5,
            features=("height",),
            derivation=Derivation("body + screw's head", f"{format_number(s.height)} + {format_number(s.head_height)}"),
        ),
        Figure(
            key="highest",
            label="Highest",
            value=s.jack_most,
            step=0.5,
            features=("push",),
            derivation=Derivation(
                "body + screw − d + head",
                f"{format_number(s.height)} + {format_number(s.v.number('screw_length'))} −"
                f" {format_number(s.screw.major_mm)} + {format_number(s.head_height)}",
                "a full diameter of thread stays in the body",
            ),
        ),
    ]
