"""What follows from the sizes of a table stop, and what may go wrong."""

from __future__ import annotations

from elbrix.design.bores import hole_checks
from elbrix.design.families.table_stop.sizes import NUT_FACTOR, PARAMETERS, TableStopSizes
from elbrix.design.hosts import measured_check
from elbrix.design.keyed import bearing_height_check
from elbrix.design.made_of import mass
from elbrix.mechanics.lifting import lifting_check
from elbrix.mechanics.strength import COUNTED, MU
from elbrix.mechanics.tightened import LIPS_FIRST, SCREW_CLASS, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.standards.threads import find_thread


def _out_of_square_formula(s: TableStopSizes) -> Worked:
    return worked(
        "W·c/L", s.v.number("square_length"), term(max(0.0, s.play), 4), s.length, source="pushed to one side always, far less"
    )


def _slips_formula(s: TableStopSizes) -> Worked:
    return worked(f"µ·{COUNTED:g}·F/push", MU, term(s.pull_n, 4), s.v.number("stop_force"))


def figures(s: TableStopSizes) -> list[Figure]:
    v = s.v
    push = v.number("stop_force")
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "play",
            "Tongue clearance",
            worked("widest slot − tongue", s.neck.max, s.tongue),
            step=0.001,
            features=("tongue_width", "slot"),
        ),
        reckoned(
            "turn",
            "Rotation in the slot",
            worked("206265·c/L", term(max(0.0, s.play), 4), s.length),
            unit="″",
            step=1,
            features=("tongue_width",),
        ),
        reckoned("out_of_square", "Squareness error", _out_of_square_formula(s), step=0.001, features=("face",)),
        reckoned(
            "pull",
            "Bolt preload",
            worked("T/(K·d)", term(v.number("torque"), 3, "N·m"), NUT_FACTOR, float(s.bolt[1:]), source="dry thread"),
            unit="kN",
            features=("bolt",),
        ),
        reckoned("slips", "Friction limit", _slips_formula(s), unit="×", features=("face",)),
        reckoned(
            "tips",
            "Tipping force",
            worked(
                f"{COUNTED:g}·F·half its foot/contact height/push",
                term(s.pull_n, 4),
                (s.length if s.along else s.width) / 2,
                v.number("contact_height"),
                push,
            ),
            unit="×",
            features=("face",),
        ),
        reckoned(
            "mass",
            "Mass",
            mass(s.volume, s.density, source="block and both tongues, hole not taken off"),
            unit="kg",
            features=("block",),
        ),
    ]


def checks(s: TableStopSizes) -> list[Check]:
    v = s.v
    push, wanted = v.number("stop_force"), v.number("squareness")
    play = s.neck.min - s.tongue
    slides = (
        "it slides and does not shake",
        "tight: fit it with a stone" if play < 0.005 else "loose: it stands askew",
        "it does not go in" if play < 0 else "it guides nothing",
    )
    return [
        judged(
            "slides",
            "Tongue clearance",
            worked("tightest slot − tongue", s.neck.min, s.tongue),
            Limits(0.0, 0.005, 0.06, 0.4),
            slides,
            step=0.001,
            features=("tongue_width", "slot"),
            figures=("tongue_width", "neck"),
            remedies=("tongue_width",),
        ),
        judged(
            "below",
            "Room over the T-nut",
            s.nut_room,
            Limits(0.0, 0.5),
            (
                "the nut is pulled up against the lips",
                "it all but meets the tongue",
                "the tongue stands on the nut's neck: the bolt squeezes them together and holds nothing to the table",
            ),
            step=0.1,
            features=("tongue_width", "slot"),
            figures=("tongue_height", "tongue_gap", "lip", "nut_neck_height"),
            remedies=("tongue_gap", "tongue_height"),
            derivation=(
                "shallowest lip − nut's neck" + ("" if s.gap >= v.number("nut_length") + 1 else " − tongue"),
                f"{format_number(s.lip.min)} − {format_number(v.number('nut_neck_height'))}"
                + ("" if s.gap >= v.number("nut_length") + 1 else f" − {format_number(s.tongue_height)}"),
            ),
        ),
        judged(
            "enters",
            "Tongue in the slot",
            worked("shallowest lip − tongue", s.lip.min, s.tongue_height),
            Limits(0.0, 0.5),
            ("it ends inside the lips", "it all but fills the lips", "it stands out under the lips"),
            step=0.1,
            features=("tongue_width", "slot"),
            figures=("tongue_height", "lip"),
            remedies=("tongue_height",),
        ),
        bearing_height_check(
            "tongue_bears",
            "Bearing height of the tongue",
            s.tongue_height,
            Points(features=("tongue_width", "slot"), figures=("tongue_height",), remedies=("tongue_height",)),
        ),
        screw_load(
            "bolt_load",
            "Bolt load",
            s.pull_n,
            find_thread(parse_thread(s.bolt)),
            SCREW_CLASS,
            Points(features=("bolt",), figures=("pull", "torque"), remedies=("torque", "bolt")),
            careful=LIPS_FIRST,
        ),
        judged(
            "slips",
            "Safety against sliding",
            _slips_formula(s),
            Limits(1.0 if s.along else 0.0, 2.0),
            (
                "friction alone stands it twice over",
                "little in hand" if s.along else "friction alone does not: the tongue takes it, after its play",
                "it slides along the slot: tighter, or a larger bolt",
            ),
            unit="×",
            features=("face", "bolt"),
            figures=("slips", "torque"),
            remedies=("torque", "bolt"),
        ),
        judged(
            "tips",
            "Safety against tipping",
            worked("push it stands/push", term(s.tips_n, 4), push),
            Limits(1.5, 3.0),
            ("three times over or more", "little in hand: a wider block, or met lower", "it tips over"),
            unit="×",
            features=("face", "block"),
            figures=("tips", "width", "contact_height"),
            remedies=("width", "contact_height", "torque"),
        ),
        judged(
            "square",
            "Squareness by clearance",
            _out_of_square_formula(s),
            Limits(marginal_above=0.8 * wanted, no_above=wanted),
            (
                f"within {length(wanted)} over {length(v.number('square_length'))}",
                "all of what is allowed",
                "longer block or closer tongue; push it to one side always",
            ),
            step=0.001,
            features=("tongue_width", "face"),
            figures=("out_of_square", "length"),
            remedies=("length", "tongue_width"),
        ),
        judged(
            "contact_height",
            "Contact height",
            worked("height − contact height", s.height, v.number("contact_height")),
            Limits(0.0, 1.0),
            ("on the flat of the face", "at its very edge", "above it: it rides over"),
            step=0.1,
            features=("face",),
            figures=("contact_height", "height"),
            remedies=("contact_height", "height"),
        ),
        *measured_check(v),
        *hole_checks(s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolt"), "height"),
        judged(
            "tongue_wall",
            "Tongue wall at the bolt",
            worked("(tongue − hole)/2", s.tongue, s.holes[0].drill),
            Limits(0.3, 0.4),
            ("enough beside the hole", "thin: it only guides", "the hole all but cuts it"),
            step=0.01,
            features=("tongue_width", "bolt"),
            figures=("tongue_width", "bolt"),
            remedies=("bolt",),
        ),
        lifting_check(
            worked("mass", s.mass_kg), Points(features=("block",), figures=("mass",), remedies=("length", "width", "height"))
        ),
    ]
