"""What follows from the sizes of a table stop, and what may go wrong."""

from __future__ import annotations

from elbrix.design.bores import hole_checks
from elbrix.design.families.table_stop.sizes import NUT_FACTOR, PARAMETERS, Sizes
from elbrix.mechanics.strength import COUNTED, MU
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, Working, num


def figures(s: Sizes) -> list[Figure]:
    v = s.v
    push, pull = v.number("push"), num(s.pull_n, 4)
    half = num((s.length if s.along else s.width) / 2)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="play",
            label="Play of the tongue",
            value=s.play,
            step=0.001,
            features=("tongue", "slot"),
            working=Working("widest slot − tongue", f"{num(s.neck.max, 3)} − {num(s.tongue, 3)}"),
        ),
        Figure(
            key="turn",
            label="It may stand askew by",
            value=206265 * max(0.0, s.play) / s.length,
            unit="″",
            step=1,
            features=("tongue",),
            working=Working("206265·c/L", f"206265·{num(max(0.0, s.play), 4)}/{num(s.length)}"),
        ),
        Figure(
            key="out_of_square",
            label="Over the face that is",
            value=s.out_of_square,
            step=0.001,
            features=("face",),
            working=Working(
                "W·c/L",
                f"{num(v.number('square_over'))}·{num(max(0.0, s.play), 4)}/{num(s.length)}",
                "pushed to one side always, far less",
            ),
        ),
        Figure(
            key="pull",
            label="The bolt pulls",
            value=s.pull_n / 1000,
            unit="kN",
            features=("bolt",),
            working=Working("T/(K·d)", f"{num(v.number('torque'))} N·m/({num(NUT_FACTOR)}·{s.bolt[1:]})", "dry thread"),
        ),
        Figure(
            key="slips",
            label="Friction stands the push",
            value=s.slips_n / push,
            unit="×",
            features=("face",),
            working=Working("µ·0.7·F/push", f"{num(MU)}·{num(COUNTED)}·{pull}/{num(push)}"),
        ),
        Figure(
            key="tips",
            label="It tips at",
            value=s.tips_n / push,
            unit="×",
            features=("face",),
            working=Working("0.7·F·half/meets/push", f"{num(COUNTED)}·{pull}·{half}/{num(v.number('meets'))}/{num(push)}"),
        ),
        Figure(
            key="mass",
            label="Mass",
            value=s.volume * s.density * 1e-9,
            unit="kg",
            features=("block",),
            working=Working("block + tongue × density, hole not taken off", f"{num(s.volume, 1)}·{s.density:g}/1000000000"),
        ),
    ]


def checks(s: Sizes) -> list[Check]:
    v = s.v
    push, wanted = v.number("push"), v.number("square_to")
    play = s.neck.min - s.tongue
    slides = (
        "it slides and does not shake",
        "tight: fit it with a stone" if play < 0.005 else "loose: it stands askew",
        "it does not go in" if play < 0 else "it guides nothing",
    )
    return [
        judged(
            "slides",
            "Tongue slides in the slot",
            play,
            Limits(0.0, 0.005, 0.06, 0.4),
            slides,
            step=0.001,
            features=("tongue", "slot"),
            figures=("tongue", "neck"),
            mends=("tongue",),
            working=("tightest slot − tongue", f"{num(s.neck.min, 3)} − {num(s.tongue, 3)}"),
        ),
        judged(
            "below",
            "Tongue ends between the lips",
            s.lip.min - s.tongue_high,
            Limits(0.0, 0.5),
            ("room for the nut under it", "it all but meets the nut", "it stands on the nut: the bolt pulls on nothing"),
            step=0.1,
            features=("tongue", "slot"),
            figures=("tongue_high", "lip"),
            mends=("tongue_high",),
            working=("shallowest lip − tongue", f"{num(s.lip.min)} − {num(s.tongue_high)}"),
        ),
        judged(
            "slips",
            "Does not slide under the push",
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
            mends=("torque", "bolt"),
            working=("µ·0.7·F/push", f"{num(s.slips_n, 4)}/{num(push)}"),
        ),
        judged(
            "tips",
            "Does not tip",
            s.tips_n / push,
            Limits(1.5, 3.0),
            ("three times over or more", "little in hand: a wider block, or met lower", "it tips over"),
            unit="×",
            features=("face", "block"),
            figures=("tips", "width", "meets"),
            mends=("width", "meets", "torque"),
            working=("push it stands/push", f"{num(s.tips_n, 4)}/{num(push)}"),
        ),
        judged(
            "square",
            "Square to the slot by its play",
            s.out_of_square,
            Limits(close_above=0.8 * wanted, no_above=wanted),
            (
                f"within {num(wanted)} over {num(v.number('square_over'))}",
                "all of what is allowed",
                "longer block or closer tongue; push it to one side always",
            ),
            step=0.001,
            features=("tongue", "face"),
            figures=("out_of_square", "length"),
            mends=("length", "tongue"),
            working=("W·c/L", f"{num(v.number('square_over'))}·{num(max(0.0, s.play), 4)}/{num(s.length)}"),
        ),
        judged(
            "meets",
            "Work meets the face",
            s.height - v.number("meets"),
            Limits(0.0, 1.0),
            ("on the flat of the face", "at its very edge", "above it: it rides over"),
            step=0.1,
            features=("face",),
            figures=("meets", "height"),
            mends=("meets", "height"),
            working=("height − meets", f"{num(s.height)} − {num(v.number('meets'))}"),
        ),
        *hole_checks(s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolt"), "height"),
        judged(
            "tongue_wall",
            "Tongue beside the bolt",
            (s.tongue - s.holes[0].drill) / 2,
            Limits(0.3, 0.4),
            ("enough beside the hole", "thin: it only guides", "the hole all but cuts it"),
            step=0.01,
            features=("tongue", "bolt"),
            figures=("tongue", "bolt"),
            mends=("bolt",),
            working=("(tongue − hole)/2", f"({num(s.tongue)} − {num(s.holes[0].drill)})/2"),
        ),
    ]
