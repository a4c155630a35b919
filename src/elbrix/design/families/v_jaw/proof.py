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
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.results.length_text import length


def _floor_formula(s: VJawSizes) -> Worked:
    return worked(
        "height − V − relief − keyway", s.height, term(s.depth, 5), s.relief_depth, s.keyway_depth if s.keys != "none" else 0
    )


def figures(s: VJawSizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        reckoned("deep", "V depth", worked("(M/2)/tan(A/2)", s.mouth, term(s.angle, 3, "°")), step=0.01, features=("v",)),
        reckoned(
            "least",
            "Smallest Ø possible",
            worked("M·cos(A/2)", s.mouth, term(s.angle, 3, "°"), source="there the twins' faces meet")
            if s.twin
            else worked("2·g/(1 + 1/sin(A/2))", term(s.depth, 5), term(s.angle, 3, "°"), source="there it meets the flat jaw"),
            step=0.1,
            features=("round",),
        ),
        reckoned(
            "most",
            "Largest Ø possible",
            worked("M/cos(A/2)", s.mouth, term(s.angle, 3, "°"), source="it touches at the very edge of the mouth"),
            step=0.1,
            features=("round",),
        ),
        reckoned(
            "alone",
            "Smallest Ø in one V",
            worked("relief/cos(A/2)", s.relief, term(s.angle, 3, "°"), source="a smaller one drops on the relief's edges"),
            step=0.1,
            features=("relief_width",),
        ),
        reckoned(
            "moves",
            "Centre shift over Ø error",
            worked("1/(2·sin(A/2))", term(s.angle, 3, "°"), source="toward this jaw; sideways it stays"),
            unit="×",
            features=("round",),
        ),
        reckoned("tilt", "Tilt to mill a flank", worked("(180 − A)/2", s.angle), unit="deg", features=("v",)),
        reckoned(
            "over_pin",
            "Check pin above face",
            worked("(P/2)·(1 + 1/sin(A/2)) − (M/2)/tan(A/2)", term(v.number("pin_diameter"), 4), term(s.angle, 3, "°"), s.mouth),
            step=0.005,
            features=("v",),
        ),
        reckoned(
            "apart",
            "Jaw gap, largest Ø",
            worked("d/sin(A/2) − 2·g", s.largest, term(s.angle, 3, "°"), term(s.depth, 5))
            if s.twin
            else worked("(d/2)·(1 + 1/sin(A/2)) − g", s.largest, term(s.angle, 3, "°"), term(s.depth, 5)),
            step=0.1,
            features=("round",),
        ),
        reckoned(
            "opens",
            "Vise opening needed",
            worked("faces apart + jaws·height", term(s.apart(s.largest), 4), 2 if s.twin else 1, s.height),
            step=0.1,
            features=("round",),
        ),
        reckoned(
            "centre_low",
            "Centre height, smallest Ø",
            worked("height − V + (d/2)/sin(A/2)", s.height, term(s.depth, 5), s.smallest, term(s.angle, 3, "°")),
            step=0.01,
            features=("round",),
        ),
        reckoned(
            "centre_high",
            "Centre height, largest Ø",
            worked("height − V + (d/2)/sin(A/2)", s.height, term(s.depth, 5), s.largest, term(s.angle, 3, "°")),
            step=0.01,
            features=("round",),
        ),
        reckoned(
            "flank",
            "Force on each flank",
            worked("F/(2·sin(A/2))", v.number("clamping_force"), term(s.angle, 3, "°")),
            unit="N",
            step=None,
            features=("v",),
        ),
        reckoned("floor", "Floor under the V", _floor_formula(s), step=0.1, features=("block",)),
        reckoned(
            "mass",
            "Mass of one jaw",
            worked("end·length·density/10⁹", s.area, s.length, term(s.density, 6), source="holes not taken off"),
            unit="kg",
            features=("block",),
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
            worked("M/cos(A/2) − largest", s.mouth, term(s.angle, 3, "°"), s.largest),
            Limits(0.0, 0.01 * s.largest),
            ("it touches well inside", "it touches at the very edge: the edge wears", "it rides on the edges of the mouth"),
            step=0.1,
            features=("round", "v"),
            figures=("most", "largest"),
            remedies=("v_width", "angle", "largest"),
        ),
        judged(
            "smallest",
            "Smallest Ø gap",
            worked("smallest − least held", s.smallest, term(s.least, 4)),
            Limits(0.0, 0.5),
            ("it is held with the jaws apart", "the jaws all but meet", meet),
            step=0.1,
            features=("round", "v"),
            figures=("least", "smallest"),
            remedies=("angle", "v_width", "smallest"),
        ),
        judged(
            "drops",
            "Smallest Ø contact",
            worked("smallest − relief/cos(A/2)", s.smallest, s.relief, term(s.angle, 3, "°")),
            Limits(0.0, 0.5),
            ("it touches above the relief", "it touches at the relief's edges", "it drops on the edges of the relief"),
            step=0.1,
            features=("relief_width", "round"),
            figures=("alone", "smallest"),
            remedies=("relief_width",),
        ),
        judged(
            "under_v",
            "Floor under the V",
            _floor_formula(s),
            Limits(FLOOR[1], FLOOR[0]),
            ("stiff under the push", "thin: it springs open under a hard push", "it would crack along the point"),
            step=0.1,
            features=("block", "relief_width"),
            figures=("floor", "height"),
            remedies=("height", "relief_depth", "keyway_depth"),
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
            worked("opening − needed", v.number("opening"), term(s.backs, 4)),
            Limits(0.0, 2.0),
            ("the largest goes in", "only just: no room to lay it in", "the largest does not go in between"),
            step=0.1,
            features=("round",),
            figures=("opening", "opens"),
            remedies=("height", "largest"),
        ),
        judged(
            "stands",
            "Height above vise jaws",
            worked("(length − jaw)/length", s.length, v.number("jaw_height")),
            Limits(marginal_above=40, no_above=60),
            ("the jaw backs it nearly to the top", "its top leans back under a hard push", "most of it has nothing behind it"),
            unit="%",
            features=("block",),
            figures=("length", "jaw_height"),
            remedies=("length", "bolt_position"),
        ),
    ]
    found += measured_check(v)
    found += hole_checks(
        s.holes, s.height, s.edge, v.word("material"), ("width", "length", "bolt_position", "bolt_spacing"), "height"
    )
    # Over the keyway there is less under a head.
    if s.keys in ("both", "across"):
        found.append(
            judged(
                "key_floor",
                "Floor over keyway",
                worked("(height − counterbore − keyway)/d", s.height, s.bolts[0].bore_depth, s.keyway_depth, s.bolts[0].d),
                Limits(0.5, 0.8),
                ("the head pulls on solid metal", "thin: do not pull it hard", "it would pull through"),
                unit="× d",
                features=("keyway_width", "table bolts"),
                figures=("keyway_depth",),
                remedies=("keyway_depth", "height"),
            )
        )
    if s.keys != "none":
        deep = Points(features=("keyway_width",), figures=("keyway_depth",), remedies=("keyway_depth",))
        found.append(bearing_height_check("keyway_bears", "Bearing height in the keyway", v.number("keyway_depth"), deep))
        found.append(
            judged(
                "key",
                "Keyway fit",
                worked("|keyway − tightest slot|", s.keyway, v.readings("neck").min),
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
            )
        )
    found.append(
        judged(
            "pin_diameter",
            "Check pin contact",
            worked(
                "min(above the face; inside the mouth; outside the relief)",
                term(s.over_pin, 4),
                term(s.mouth / 2 - s.pin_touches, 4),
                term(s.pin_touches - s.relief / 2, 4),
            ),
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
        )
    )
    found.append(
        lifting_check(worked("mass", s.mass_kg), Points(features=("block",), figures=("mass",), remedies=("length", "height")))
    )
    return found


def fits_range(angle_deg: float, smallest: float, largest: float, opposite: str) -> bool:
    """Whether one mouth of that angle holds both ends of the range."""
    return holds_from(largest * math.cos(half(angle_deg)) * 1.02, angle_deg, opposite) <= smallest
