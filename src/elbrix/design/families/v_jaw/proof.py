"""What follows from the sizes of V-jaws, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.bores import hole_checks
from elbrix.design.families.v_jaw.sizes import FLOOR, PARAMETERS, VJawSizes, half, holds_from
from elbrix.design.hosts import measured_check
from elbrix.design.keyed import bearing_height_check
from elbrix.mechanics.lifting import lifting_check
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.length_text import length


def figures(s: VJawSizes) -> list[Figure]:
    v, a, m = s.v, f"sin({format_number(s.angle / 2)}°)", format_number(s.mouth)
    co, ta = f"cos({format_number(s.angle / 2)}°)", f"tan({format_number(s.angle / 2)}°)"
    g = f"({m}/2)/{ta}"
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    meets = (
        Derivation("M·cos(A/2)", f"{m}·{co}", "there the twins' faces meet")
        if s.twin
        else Derivation("2·g/(1 + 1/sin(A/2))", f"2·{format_number(s.depth, 5)}/(1 + 1/{a})", "there it meets the flat jaw")
    )
    p = format_number(v.number("pin_diameter"), 4)
    found += [
        Figure(
            key="deep", label="V depth", value=s.depth, step=0.01, features=("v",), derivation=Derivation("(M/2)/tan(A/2)", g)
        ),
        Figure(key="least", label="Smallest Ø possible", value=s.least, step=0.1, features=("round",), derivation=meets),
        Figure(
            key="most",
            label="Largest Ø possible",
            value=s.most,
            step=0.1,
            features=("round",),
            derivation=Derivation("M/cos(A/2)", f"{m}/{co}", "it touches at the very edge of the mouth"),
        ),
        Figure(
            key="alone",
            label="Smallest Ø in one V",
            value=s.alone,
            step=0.1,
            features=("relief_width",),
            derivation=Derivation(
                "relief/cos(A/2)", f"{format_number(s.relief)}/{co}", "a smaller one drops on the relief's edges"
            ),
        ),
        Figure(
            key="moves",
            label="Centre shift over Ø error",
            value=s.moves,
            unit="×",
            features=("round",),
            derivation=Derivation("1/(2·sin(A/2))", f"1/(2·{a})", "toward this jaw; sideways it stays"),
        ),
        Figure(
            key="tilt",
            label="Tilt to mill a flank",
            value=s.tilt_deg,
            unit="deg",
            features=("v",),
            derivation=Derivation("(180 − A)/2", f"(180 − {format_number(s.angle)})/2"),
        ),
        Figure(
            key="over_pin",
            label="Check pin above face",
            value=s.over_pin,
            step=0.005,
            features=("v",),
            derivation=Derivation("(P/2)·(1 + 1/sin(A/2)) − (M/2)/tan(A/2)", f"({p}/2)·(1 + 1/{a}) − {g}"),
        ),
        Figure(
            key="apart",
            label="Jaw gap, largest Ø",
            value=s.apart(s.largest),
            step=0.1,
            features=("round",),
            derivation=(
                Derivation("d/sin(A/2) − 2·g", f"{format_number(s.largest)}/{a} − 2·{format_number(s.depth, 5)}")
                if s.twin
                else Derivation(
                    "(d/2)·(1 + 1/sin(A/2)) − g", f"({format_number(s.largest)}/2)·(1 + 1/{a}) − {format_number(s.depth, 5)}"
                )
            ),
        ),
        Figure(
            key="opens",
            label="Vise opening needed",
            value=s.backs,
            step=0.1,
            features=("round",),
            derivation=Derivation(
                "faces apart + the jaws",
                f"{format_number(s.apart(s.largest), 4)} + {2 if s.twin else 1}·{format_number(s.height)}",
            ),
        ),
        Figure(
            key="centre_low",
            label="Centre height, smallest Ø",
            value=s.height - s.depth + s.centre_above(s.smallest),
            step=0.01,
            features=("round",),
            derivation=Derivation(
                "height − V + (d/2)/sin(A/2)",
                f"{format_number(s.height)} − {format_number(s.depth, 5)} + ({format_number(s.smallest)}/2)/{a}",
            ),
        ),
        Figure(
            key="centre_high",
            label="Centre height, largest Ø",
            value=s.height - s.depth + s.centre_above(s.largest),
            step=0.01,
            features=("round",),
            derivation=Derivation(
                "height − V + (d/2)/sin(A/2)",
                f"{format_number(s.height)} − {format_number(s.depth, 5)} + ({format_number(s.largest)}/2)/{a}",
            ),
        ),
        Figure(
            key="flank",
            label="Force on each flank",
            value=s.flank_n,
            unit="N",
            step=None,
            features=("v",),
            derivation=Derivation("F/(2·sin(A/2))", f"{format_number(v.number('clamping_force'))}/(2·{a})"),
        ),
        Figure(
            key="floor",
            label="Floor under the V",
            value=s.floor,
            step=0.1,
            features=("block",),
            derivation=Derivation(
                "height − V − relief − keyway",
                f"{format_number(s.height)} − {format_number(s.depth, 5)} − {format_number(s.relief_depth)} −"
                f" {format_number(s.keyway_depth if s.keys != 'none' else 0)}",
            ),
        ),
        Figure(
            key="mass",
            label="Mass of one jaw",
            value=s.mass_kg,
            unit="kg",
            features=("block",),
            derivation=Derivation(
                "end × length × density, holes not taken off",
                f"{format_number(s.area, 3)}·{format_number(s.length)}·{s.density:g}/1000000000",
            ),
        ),
    ]
    return found


def checks(s: VJawSizes) -> list[Check]:
    v = s.v
    meet = "the jaws meet before they hold it" if s.twin else "the flat jaw meets the block before it holds it"
    found = [
        judged(
            "largest",
            "Largest Ø contact",
            s.most - s.largest,
            Limits(0.0, 0.01 * s.largest),
            ("it touches well inside", "it touches at the very edge: the edge wears", "it rides on the edges of the mouth"),
            step=0.1,
            features=("round", "v"),
            figures=("most", "largest"),
            remedies=("v_width", "angle", "largest"),
            derivation=(
                "M/cos(A/2) − largest",
                f"{format_number(s.mouth)}/cos({format_number(s.angle)}°/2) − {format_number(s.largest)}",
            ),
        ),
        judged(
            "smallest",
            "Smallest Ø gap",
            s.smallest - s.least,
            Limits(0.0, 0.5),
            ("it is held with the jaws apart", "the jaws all but meet", meet),
            step=0.1,
            features=("round", "v"),
            figures=("least", "smallest"),
            remedies=("angle", "v_width", "smallest"),
            derivation=("smallest − least held", f"{format_number(s.smallest)} − {format_number(s.least, 4)}"),
        ),
        judged(
            "drops",
            "Smallest Ø contact",
            s.smallest - s.alone,
            Limits(0.0, 0.5),
            ("it touches above the relief", "it touches at the relief's edges", "it drops on the edges of the relief"),
            step=0.1,
            features=("relief_width", "round"),
            figures=("alone", "smallest"),
            remedies=("relief_width",),
            derivation=(
                "smallest − relief/cos(A/2)",
                f"{format_number(s.smallest)} − {format_number(s.relief)}/cos({format_number(s.angle)}°/2)",
            ),
        ),
        judged(
            "under_v",
            "Floor under the V",
            s.floor,
            Limits(FLOOR[1], FLOOR[0]),
            ("stiff under the push", "thin: it springs open under a hard push", "it would crack along the point"),
            step=0.1,
            features=("block", "relief_width"),
            figures=("floor", "height"),
            remedies=("height", "relief_depth", "keyway_depth"),
            derivation=(
                "height − V − relief − keyway",
                (
                    f"{format_number(s.height)} − {format_number(s.depth, 5)} − {format_number(s.relief_depth)} −"
                    f" {format_number(s.keyway_depth if s.keys != 'none' else 0)}"
                ),
            ),
        ),
        judged(
            "cut",
            "Flank milling",
            s.angle,
            Limits(marginal_below=90),
            (
                "an end mill cuts them, one level, the other standing clear",
                "below 90° the far flank hangs over the cutter: an angle cutter for the bottom, or a wide relief",
                "",
            ),
            unit="deg",
            features=("v",),
            figures=("angle",),
            remedies=("angle",),
            derivation=("included angle", format_number(s.angle)),
        ),
        judged(
            "opens",
            "Vise opening",
            v.number("opening") - s.backs,
            Limits(0.0, 2.0),
            ("the largest goes in", "only just: no room to lay it in", "the largest does not go in between"),
            step=0.1,
            features=("round",),
            figures=("opening", "opens"),
            remedies=("height", "largest"),
            derivation=("opening − needed", f"{format_number(v.number('opening'))} − {format_number(s.backs, 4)}"),
        ),
        judged(
            "stands",
            "Height above vise jaws",
            100 * (s.length - v.number("jaw_height")) / s.length,
            Limits(marginal_above=40, no_above=60),
            ("the jaw backs it nearly to the top", "its top leans back under a hard push", "most of it has nothing behind it"),
            unit="%",
            features=("block",),
            figures=("length", "jaw_height"),
            remedies=("length", "bolt_position"),
            derivation=(
                "(length − jaw)/length",
                f"({format_number(s.length)} − {format_number(v.number('jaw_height'))})/{format_number(s.length)}",
            ),
        ),
    ]
    found += measured_check(v)
    found += hole_checks(
        s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolt_position", "bolt_spacing"), "height"
    )
    # Over the keyway there is less under a head.
    if s.keys in ("both", "across"):
        left = s.height - s.bolts[0].bore_depth - s.keyway_depth
        found.append(
            judged(
                "key_floor",
                "Floor over keyway",
                left / s.bolts[0].d,
                Limits(0.5, 0.8),
                ("the head pulls on solid metal", "thin: do not pull it hard", "it would pull through"),
                unit="× d",
                features=("keyway_width", "table bolts"),
                figures=("keyway_depth",),
                remedies=("keyway_depth", "height"),
                derivation=(
                    "(height − counterbore − keyway)/d",
                    (
                        f"({format_number(s.height)} − {format_number(s.bolts[0].bore_depth)} −"
                        f" {format_number(s.keyway_depth)})/{format_number(s.bolts[0].d)}"
                    ),
                ),
            )
        )
    if s.keys != "none":
        play = s.keyway - v.readings("neck").min
        deep = Points(features=("keyway_width",), figures=("keyway_depth",), remedies=("keyway_depth",))
        found.append(bearing_height_check("keyway_bears", "Bearing height in the keyway", v.number("keyway_depth"), deep))
        found.append(
            judged(
                "key",
                "Keyway fit",
                abs(play),
                Limits(marginal_above=0.045),
                (
                    f"one plain key does for both: {length(0.005)} of play in the tighter, {length(0.05)} in the other at most",
                    "a stepped key is needed",
                    "",
                ),
                step=0.01,
                features=("keyway_width",),
                figures=("keyway_width", "neck"),
                remedies=("keyway_width",),
                derivation=(
                    "|keyway − tightest slot|",
                    f"|{format_number(s.keyway, 3)} − {format_number(v.readings('neck').min, 3)}|",
                ),
            )
        )
    proud = min(s.over_pin, s.mouth / 2 - s.pin_touches, s.pin_touches - s.relief / 2)
    found.append(
        judged(
            "pin_diameter",
            "Check pin contact",
            proud,
            Limits(0.0, 0.2),
            (
                "it touches between relief and mouth, and stands proud",
                "it touches near an edge",
                "it sits below the face, or on an edge: it measures nothing",
            ),
            step=0.01,
            features=("v",),
            figures=("pin_diameter", "over_pin"),
            remedies=("pin_diameter",),
            derivation=(
                "least of: proud, from the mouth's edge, from the relief's edge",
                (
                    f"min({format_number(s.over_pin, 4)}; {format_number(s.mouth / 2 - s.pin_touches, 4)};"
                    f" {format_number(s.pin_touches - s.relief / 2, 4)})"
                ),
            ),
        )
    )
    found.append(
        lifting_check(
            s.mass_kg,
            Points(features=("block",), figures=("mass",), remedies=("length", "height")),
            ("its mass", format_number(s.mass_kg, 4)),
        )
    )
    return found


def fits_range(angle_deg: float, smallest: float, largest: float, opposite: str) -> bool:
    """Whether one mouth of that angle holds both ends of the range."""
    return holds_from(largest * math.cos(half(angle_deg)) * 1.02, angle_deg, opposite) <= smallest
