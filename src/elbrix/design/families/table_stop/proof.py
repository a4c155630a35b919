"""What follows from the sizes of a table stop, and what may go wrong."""

from __future__ import annotations

from elbrix.design.bores import hole_checks
from elbrix.design.families.table_stop.sizes import NUT_FACTOR, PARAMETERS, TableStopSizes
from elbrix.design.hosts import measured_check
from elbrix.design.keyed import bearing_height_check
from elbrix.mechanics.lifting import lifting_check
from elbrix.mechanics.strength import COUNTED, MU
from elbrix.mechanics.tightened import LIPS_FIRST, SCREW_CLASS, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.length_text import length
from elbrix.standards.threads import find_thread


def figures(s: TableStopSizes) -> list[Figure]:
    v = s.v
    push, pull = v.number("stop_force"), format_number(s.pull_n, 4)
    half = format_number((s.length if s.along else s.width) / 2)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="play",
            label="Tongue clearance",
            value=s.play,
            step=0.001,
            features=("tongue_width", "slot"),
            derivation=Derivation("widest slot − tongue", f"{format_number(s.neck.max, 3)} − {format_number(s.tongue, 3)}"),
        ),
        Figure(
            key="turn",
            label="Rotation in the slot",
            value=206265 * max(0.0, s.play) / s.length,
            unit="″",
            step=1,
            features=("tongue_width",),
            derivation=Derivation("206265·c/L", f"206265·{format_number(max(0.0, s.play), 4)}/{format_number(s.length)}"),
        ),
        Figure(
            key="out_of_square",
            label="Squareness error",
            value=s.out_of_square,
            step=0.001,
            features=("face",),
            derivation=Derivation(
                "W·c/L",
                f"{format_number(v.number('square_length'))}·{format_number(max(0.0, s.play), 4)}/{format_number(s.length)}",
                "pushed to one side always, far less",
            ),
        ),
        Figure(
            key="pull",
            label="Bolt preload",
            value=s.pull_n / 1000,
            unit="kN",
            features=("bolt",),
            derivation=Derivation(
                "T/(K·d)", f"{format_number(v.number('torque'))} N·m/({format_number(NUT_FACTOR)}·{s.bolt[1:]})", "dry thread"
            ),
        ),
        Figure(
            key="slips",
            label="Friction limit",
            value=s.slips_n / push,
            unit="×",
            features=("face",),
            derivation=Derivation("µ·0.7·F/push", f"{format_number(MU)}·{format_number(COUNTED)}·{pull}/{format_number(push)}"),
        ),
        Figure(
            key="tips",
            label="Tipping force",
            value=s.tips_n / push,
            unit="×",
            features=("face",),
            derivation=Derivation(
                "0.7·F·half/meets/push",
                f"{format_number(COUNTED)}·{pull}·{half}/{format_number(v.number('contact_height'))}/{format_number(push)}",
            ),
        ),
        Figure(
            key="mass",
            label="Mass",
            value=s.mass_kg,
            unit="kg",
            features=("block",),
            derivation=Derivation(
                "block + both tongues × density, hole not taken off", f"{format_number(s.volume, 1)}·{s.density:g}/1000000000"
            ),
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
            play,
            Limits(0.0, 0.005, 0.06, 0.4),
            slides,
            step=0.001,
            features=("tongue_width", "slot"),
            figures=("tongue_width", "neck"),
            remedies=("tongue_width",),
            derivation=("tightest slot − tongue", f"{format_number(s.neck.min, 3)} − {format_number(s.tongue, 3)}"),
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
            s.lip.min - s.tongue_height,
            Limits(0.0, 0.5),
            ("it ends inside the lips", "it all but fills the lips", "it stands out under the lips"),
            step=0.1,
            features=("tongue_width", "slot"),
            figures=("tongue_height", "lip"),
            remedies=("tongue_height",),
            derivation=("shallowest lip − tongue", f"{format_number(s.lip.min)} − {format_number(s.tongue_height)}"),
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
            s.slips_n / push,
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
            derivation=("µ·0.7·F/push", f"{format_number(s.slips_n, 4)}/{format_number(push)}"),
        ),
        judged(
            "tips",
            "Safety against tipping",
            s.tips_n / push,
            Limits(1.5, 3.0),
            ("three times over or more", "little in hand: a wider block, or met lower", "it tips over"),
            unit="×",
            features=("face", "block"),
            figures=("tips", "width", "contact_height"),
            remedies=("width", "contact_height", "torque"),
            derivation=("push it stands/push", f"{format_number(s.tips_n, 4)}/{format_number(push)}"),
        ),
        judged(
            "square",
            "Squareness by clearance",
            s.out_of_square,
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
            derivation=(
                "W·c/L",
                f"{format_number(v.number('square_length'))}·{format_number(max(0.0, s.play), 4)}/{format_number(s.length)}",
            ),
        ),
        judged(
            "contact_height",
            "Contact height",
            s.height - v.number("contact_height"),
            Limits(0.0, 1.0),
            ("on the flat of the face", "at its very edge", "above it: it rides over"),
            step=0.1,
            features=("face",),
            figures=("contact_height", "height"),
            remedies=("contact_height", "height"),
            derivation=("height − meets", f"{format_number(s.height)} − {format_number(v.number('contact_height'))}"),
        ),
        *measured_check(v),
        *hole_checks(s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolt"), "height"),
        judged(
            "tongue_wall",
            "Tongue wall at the bolt",
            (s.tongue - s.holes[0].drill) / 2,
            Limits(0.3, 0.4),
            ("enough beside the hole", "thin: it only guides", "the hole all but cuts it"),
            step=0.01,
            features=("tongue_width", "bolt"),
            figures=("tongue_width", "bolt"),
            remedies=("bolt",),
            derivation=("(tongue − hole)/2", f"({format_number(s.tongue)} − {format_number(s.holes[0].drill)})/2"),
        ),
        lifting_check(
            s.mass_kg,
            Points(features=("block",), figures=("mass",), remedies=("length", "width", "height")),
            ("its mass", format_number(s.mass_kg, 4)),
        ),
    ]
