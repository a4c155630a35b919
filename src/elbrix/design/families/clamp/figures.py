"""What follows from the sizes of a clamp or a support, with its working."""

from __future__ import annotations

from elbrix.design.families.clamp.sizes import DRY, HEEL_END_MM, NOSE_MM, PARAMETERS, ClampSizes
from elbrix.design.made_of import mass
from elbrix.parameters.parameter import figure_of
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import kilonewtons, reckoned, term, worked


def figures(s: ClampSizes) -> list[Figure]:
    v = s.v
    found = [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned("mass", "Mass", mass(s.volume, s.metal.density_kg_m3), unit="kg", features=("body",)),
    ]
    return [
        *found,
        *{"strap": _strap_figures, "toe": _toe_figures, "step": _step_figures, "jack": _jack_figures}.get(s.kind, _none)(s),
    ]


def _none(s: ClampSizes) -> list[Figure]:
    return []


def _pull(s: ClampSizes) -> Figure:
    return reckoned(
        "pull",
        "Stud preload",
        worked(
            "T/(K·d)",
            term(s.v.number("torque"), 3, "N·m"),
            DRY,
            s.stud.major_mm,
            source="dry thread; it scatters by 30 % either way",
        ),
        unit="kN",
        features=("slot_width",),
    )


def _strap_figures(s: ClampSizes) -> list[Figure]:
    return [
        _pull(s),
        reckoned(
            "heel_arm",
            "Stud to heel",
            worked("length − nose − heel end − stud to tip", s.length, NOSE_MM, HEEL_END_MM, s.tip_arm),
            step=0.5,
            features=("body",),
        ),
        reckoned(
            "tip_force",
            "Force at the tip",
            worked(
                "F·heel/(tip + heel)", kilonewtons(s.pull_n), s.heel_arm, s.tip_arm, source="the strap is a lever on its heel"
            ),
            unit="kN",
            features=("tip",),
        ),
        reckoned(
            "bending",
            "Bending at the stud",
            worked("6·F·arm/((b − slot)·(t − relief)²)", term(s.tip_n, 4), s.tip_arm, s.width, s.slot, s.height, s.relief),
            unit="MPa",
            step=1,
            features=("body",),
        ),
    ]


def _toe_figures(s: ClampSizes) -> list[Figure]:
    return [
        _pull(s),
        reckoned(
            "push",
            "Push",
            worked(
                "T/(K·d)",
                term(s.v.number("push_torque"), 3, "N·m"),
                DRY,
                s.screw.major_mm,
                source="dry thread; it scatters by 30 % either way",
            ),
            unit="kN",
            features=("push",),
        ),
        reckoned(
            "down_angle",
            "Toe points down by",
            worked("asin((screw − contact)/length)", s.push_height, s.contact, s.toe_length),
            unit="deg",
            step=0.1,
            features=("toe",),
        ),
        reckoned(
            "down_force",
            "Downward force",
            worked("push·tan(angle)", kilonewtons(s.push_n), term(s.down_deg, 4, "°")),
            unit="kN",
            features=("toe",),
        ),
        reckoned(
            "reach",
            "Reach from the bolt",
            worked("body − first slot centre + toe", s.length, s.start, s.toe_length, source="the push screw's head right in"),
            step=0.5,
            features=("toe",),
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
        reckoned(
            "base", "Lowest step", worked("height − (steps − 1)·rise", s.height, s.steps, s.rise), step=0.5, features=("steps",)
        ),
        reckoned("treads", "Over all treads", worked("steps·tread", s.steps, s.tread), step=0.5, features=("steps",)),
    ]


def _jack_figures(s: ClampSizes) -> list[Figure]:
    return [
        reckoned("lowest", "Lowest", worked("body + screw's head", s.height, s.head_height), step=0.5, features=("height",)),
        reckoned(
            "highest",
            "Highest",
            worked(
                "body + screw − d + head",
                s.height,
                s.v.number("screw_length"),
                s.screw.major_mm,
                s.head_height,
                source="a full diameter of thread stays in the body",
            ),
            step=0.5,
            features=("push",),
        ),
    ]
