"""What follows from the sizes of V-jaws, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.bores import hole_checks
from elbrix.design.families.v_jaw.sizes import FLOOR, PARAMETERS, Sizes, half, holds_from
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, Working, num


def figures(s: Sizes) -> list[Figure]:
    v, a, m = s.v, f"sin({num(s.angle / 2)}°)", num(s.mouth)
    co, ta = f"cos({num(s.angle / 2)}°)", f"tan({num(s.angle / 2)}°)"
    g = f"({m}/2)/{ta}"
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    meets = (
        Working("M·cos(A/2)", f"{m}·{co}", "there the twins' faces meet")
        if s.twin
        else Working("2·g/(1 + 1/sin(A/2))", f"2·{num(s.deep, 5)}/(1 + 1/{a})", "there it meets the flat jaw")
    )
    p = num(v.number("pin"), 4)
    found += [
        Figure(
            key="deep",
            label="V, deep to its point",
            value=s.deep,
            step=0.01,
            features=("v",),
            working=Working("(M/2)/tan(A/2)", g),
        ),
        Figure(key="least", label="Holds from Ø", value=s.least, step=0.1, features=("round",), working=meets),
        Figure(
            key="most",
            label="Holds up to Ø",
            value=s.most,
            step=0.1,
            features=("round",),
            working=Working("M/cos(A/2)", f"{m}/{co}", "it touches at the very edge of the mouth"),
        ),
        Figure(
            key="alone",
            label="Alone in the V from Ø",
            value=s.alone,
            step=0.1,
            features=("relief",),
            working=Working("relief/cos(A/2)", f"{num(s.relief)}/{co}", "a smaller one drops on the relief's edges"),
        ),
        Figure(
            key="moves",
            label="Ø off by 0.1 mm moves it",
            value=0.1 * s.moves,
            step=0.001,
            features=("round",),
            working=Working("0.1/(2·sin(A/2))", f"0.1/(2·{a})", "toward this jaw; sideways it stays"),
        ),
        Figure(
            key="tilt",
            label="Tilted to mill a flank level",
            value=s.tilt_deg,
            unit="deg",
            features=("v",),
            working=Working("(180 − A)/2", f"(180 − {num(s.angle)})/2"),
        ),
        Figure(
            key="over_pin",
            label="Pin stands above the face",
            value=s.over_pin,
            step=0.005,
            features=("v",),
            working=Working("(P/2)·(1 + 1/sin(A/2)) − (M/2)/tan(A/2)", f"({p}/2)·(1 + 1/{a}) − {g}"),
        ),
        Figure(
            key="apart",
            label="Faces apart with the largest",
            value=s.apart(s.largest),
            step=0.1,
            features=("round",),
            working=(
                Working("d/sin(A/2) − 2·g", f"{num(s.largest)}/{a} − 2·{num(s.deep, 5)}")
                if s.twin
                else Working("(d/2)·(1 + 1/sin(A/2)) − g", f"({num(s.largest)}/2)·(1 + 1/{a}) − {num(s.deep, 5)}")
            ),
        ),
        Figure(
            key="opens",
            label="Vise opens for it",
            value=s.backs,
            step=0.1,
            features=("round",),
            working=Working("faces apart + the jaws", f"{num(s.apart(s.largest), 4)} + {2 if s.twin else 1}·{num(s.height)}"),
        ),
        Figure(
            key="centre_low",
            label="Smallest's centre above the base",
            value=s.height - s.deep + s.centre_above(s.smallest),
            step=0.01,
            features=("round",),
            working=Working("height − V + (d/2)/sin(A/2)", f"{num(s.height)} − {num(s.deep, 5)} + ({num(s.smallest)}/2)/{a}"),
        ),
        Figure(
            key="centre_high",
            label="Largest's centre above the base",
            value=s.height - s.deep + s.centre_above(s.largest),
            step=0.01,
            features=("round",),
            working=Working("height − V + (d/2)/sin(A/2)", f"{num(s.height)} − {num(s.deep, 5)} + ({num(s.largest)}/2)/{a}"),
        ),
        Figure(
            key="flank",
            label="Each flank pushes",
            value=s.flank_n,
            unit="N",
            step=None,
            features=("v",),
            working=Working("F/(2·sin(A/2))", f"{num(v.number('push'))}/(2·{a})"),
        ),
        Figure(
            key="floor",
            label="Metal under the V",
            value=s.floor,
            step=0.1,
            features=("block",),
            working=Working(
                "height − V − relief − keyway",
                f"{num(s.height)} − {num(s.deep, 5)} − {num(s.relief_deep)} − {num(s.keyway_deep if s.keys != 'none' else 0)}",
            ),
        ),
        Figure(
            key="mass",
            label="Mass of one",
            value=s.area * s.length * s.density * 1e-9,
            unit="kg",
            features=("block",),
            working=Working(
                "end × length × density, holes not taken off", f"{num(s.area, 3)}·{num(s.length)}·{s.density:g}/1000000000"
            ),
        ),
    ]
    return found


def checks(s: Sizes) -> list[Check]:
    v = s.v
    meet = "the jaws meet before they hold it" if s.twin else "the flat jaw meets the block before it holds it"
    found = [
        judged(
            "largest",
            "Largest round inside the mouth",
            s.most - s.largest,
            Limits(0.0, 0.01 * s.largest),
            ("it touches well inside", "it touches at the very edge: the edge wears", "it rides on the edges of the mouth"),
            step=0.1,
            features=("round", "v"),
            figures=("most", "largest"),
            mends=("mouth", "angle", "largest"),
            working=("M/cos(A/2) − largest", f"{num(s.mouth)}/cos({num(s.angle)}°/2) − {num(s.largest)}"),
        ),
        judged(
            "smallest",
            "Smallest round before they meet",
            s.smallest - s.least,
            Limits(0.0, 0.5),
            ("it is held with the jaws apart", "the jaws all but meet", meet),
            step=0.1,
            features=("round", "v"),
            figures=("least", "smallest"),
            mends=("angle", "mouth", "smallest"),
            working=("smallest − least held", f"{num(s.smallest)} − {num(s.least, 4)}"),
        ),
        judged(
            "drops",
            "Smallest round on the flanks",
            s.smallest - s.alone,
            Limits(0.0, 0.5),
            ("it touches above the relief", "it touches at the relief's edges", "it drops on the edges of the relief"),
            step=0.1,
            features=("relief", "round"),
            figures=("alone", "smallest"),
            mends=("relief",),
            working=("smallest − relief/cos(A/2)", f"{num(s.smallest)} − {num(s.relief)}/cos({num(s.angle)}°/2)"),
        ),
        judged(
            "under_v",
            "Metal under the V",
            s.floor,
            Limits(FLOOR[1], FLOOR[0]),
            ("stiff under the push", "thin: it springs open under a hard push", "it would crack along the point"),
            step=0.1,
            features=("block", "relief"),
            figures=("floor", "height"),
            mends=("height", "relief_deep", "keyway_deep"),
            working=(
                "height − V − relief − keyway",
                f"{num(s.height)} − {num(s.deep, 5)} − {num(s.relief_deep)} − {num(s.keyway_deep if s.keys != 'none' else 0)}",
            ),
        ),
        judged(
            "cut",
            "Flanks can be milled",
            s.angle,
            Limits(close_below=90),
            (
                "an end mill cuts them, one level, the other standing clear",
                "below 90° the far flank hangs over the cutter: an angle cutter for the bottom, or a wide relief",
                "",
            ),
            unit="deg",
            features=("v",),
            figures=("angle",),
            mends=("angle",),
            working=("included angle", num(s.angle)),
        ),
        judged(
            "opens",
            "Vise opens far enough",
            v.number("opening") - s.backs,
            Limits(0.0, 2.0),
            ("the largest goes in", "only just: no room to lay it in", "the largest does not go in between"),
            step=0.1,
            features=("round",),
            figures=("opening", "opens"),
            mends=("height", "largest"),
            working=("opening − needed", f"{num(v.number('opening'))} − {num(s.backs, 4)}"),
        ),
        judged(
            "stands",
            "Above the vise's jaws",
            100 * (s.length - v.number("jaw_height")) / s.length,
            Limits(close_above=40, no_above=60),
            ("the jaw backs it nearly to the top", "its top leans back under a hard push", "most of it has nothing behind it"),
            unit="%",
            features=("block",),
            figures=("length", "jaw_height"),
            mends=("length", "bolts_at"),
            working=("(length − jaw)/length", f"({num(s.length)} − {num(v.number('jaw_height'))})/{num(s.length)}"),
        ),
    ]
    found += hole_checks(s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolts_at", "bolts_apart"), "height")
    # Over the keyway there is less under a head.
    if s.keys in ("both", "across"):
        left = s.height - s.bolts[0].bore_deep - s.keyway_deep
        found.append(
            judged(
                "key_floor",
                "Metal over the keyway at the bolts",
                left / s.bolts[0].d,
                Limits(0.5, 0.8),
                ("the head pulls on solid metal", "thin: do not pull it hard", "it would pull through"),
                unit="× d",
                features=("keyway", "table bolts"),
                figures=("keyway_deep",),
                mends=("keyway_deep", "height"),
                working=(
                    "(height − counterbore − keyway)/d",
                    f"({num(s.height)} − {num(s.bolts[0].bore_deep)} − {num(s.keyway_deep)})/{num(s.bolts[0].d)}",
                ),
            )
        )
    if s.keys != "none":
        play = s.keyway - v.readings("neck").min
        found.append(
            judged(
                "key",
                "Keyway and table slot alike",
                abs(play),
                Limits(close_above=0.2),
                ("one plain key does for both", "a stepped key is needed", ""),
                step=0.01,
                features=("keyway",),
                figures=("keyway", "neck"),
                mends=("keyway",),
                working=("|keyway − tightest slot|", f"|{num(s.keyway, 3)} − {num(v.readings('neck').min, 3)}|"),
            )
        )
    proud = min(s.over_pin, s.mouth / 2 - s.pin_touches, s.pin_touches - s.relief / 2)
    found.append(
        judged(
            "pin",
            "Check pin touches both flanks",
            proud,
            Limits(0.0, 0.2),
            (
                "it touches between relief and mouth, and stands proud",
                "it touches near an edge",
                "it sits below the face, or on an edge: it measures nothing",
            ),
            step=0.01,
            features=("v",),
            figures=("pin", "over_pin"),
            mends=("pin",),
            working=(
                "least of: proud, from the mouth's edge, from the relief's edge",
                f"min({num(s.over_pin, 4)}; {num(s.mouth / 2 - s.pin_touches, 4)}; {num(s.pin_touches - s.relief / 2, 4)})",
            ),
        )
    )
    return found


def fits_range(angle_deg: float, smallest: float, largest: float, opposite: str) -> bool:
    """Whether one mouth of that angle holds both ends of the range."""
    return holds_from(largest * math.cos(half(angle_deg)) * 1.02, angle_deg, opposite) <= smallest
