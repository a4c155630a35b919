"""What follows from the sizes of a gib, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.families.gib.sizes import DIMPLE_DEEP, FLAT, PARAMETERS, STEEP, GibSizes
from elbrix.design.thin import held_check
from elbrix.mechanics.drilling import point_mm
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import SCREW_CLASS, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.standards.materials import nut_factor


def _normal(s: GibSizes) -> str:
    slack = format_number(s.v.number("slack"))
    return f"{slack}·sin({format_number(math.degrees(s.angle), 3)}°)" if s.dovetail else slack


def figures(s: GibSizes) -> list[Figure]:
    v, n = s.v, format_number
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="fitted",
            label="Thickness when fitted",
            value=s.fitted,
            step=0.001,
            features=("thickness",),
            derivation=Derivation(
                "old + play·sin β − clearance" if s.dovetail else "old + play − clearance",
                f"{n(v.number('old_thickness'))} + {_normal(s)} − {n(v.number('clearance'))}",
                "square to its faces, where it is thickest",
            ),
        ),
        Figure(
            key="bevel",
            label="Edges out of square",
            value=s.bevel_deg,
            unit="deg",
            step=0.05,
            features=("edges",),
            derivation=Derivation("90 − β", f"90 − {n(math.degrees(s.angle), 3)}") if s.dovetail else Derivation("square", "0"),
        ),
        Figure(
            key="overall",
            label="Over both edges",
            value=s.overall,
            step=0.01,
            features=("edges",),
            derivation=Derivation("face + thickness·tan(90 − β)", f"{n(s.width)} + {n(s.thick)}·tan({n(s.bevel_deg, 4)}°)"),
        ),
        Figure(
            key="slope",
            label="Taper, 1 in",
            value=s.length / s.drop if s.drop else 0.0,
            unit="",
            step=0.1,
            text="" if s.drop else "parallel",
            features=("thickness",),
            derivation=Derivation("length/taper", f"{n(s.length)}/{n(s.drop)}") if s.drop else None,
        ),
        Figure(
            key="thin_end",
            label="Thin end",
            value=s.thick - s.drop,
            step=0.01,
            features=("thickness",),
            derivation=Derivation("thickness − taper", f"{n(s.thick)} − {n(s.drop)}"),
        ),
        Figure(
            key="apart",
            label="Screw to screw",
            value=s.apart,
            step=0.1,
            features=("screws",),
            derivation=(
                Derivation("(length − 2·first)/(screws − 1)", f"({n(s.length)} − 2·{n(s.first)})/({s.screws} − 1)")
                if s.screws > 1
                else Derivation("one or none: its length", n(s.length))
            ),
        ),
        Figure(
            key="press",
            label="A screw presses",
            value=_press(s) / 1000,
            unit="kN",
            step=0.01,
            features=("screws",),
            derivation=Derivation(
                "T/(K·d)", f"{n(v.number('torque'))} N·m/({n(nut_factor('dry'))}·{n(s.screw.major_mm)})", "dry thread"
            ),
        ),
        Figure(
            key="mass",
            label="Mass",
            value=s.volume * s.metal.density_kg_m3 * 1e-9,
            unit="kg",
            features=("body",),
            derivation=Derivation("volume × density", f"{n(s.volume, 1)}·{s.metal.density_kg_m3:g}/1000000000"),
        ),
    ]


def _press(s: GibSizes) -> float:
    return preload_n(s.v.number("torque"), nut_factor("dry"), s.screw.major_mm)


def checks(s: GibSizes) -> list[Check]:
    v, n = s.v, format_number
    left = s.thick - s.fitted
    allowance = v.number("allowance")
    bulge = (
        _press(s) * s.apart**3 / (192 * s.metal.young_mpa * s.width * (s.thick - s.drop / 2) ** 3 / 12) if s.screws > 1 else 0.0
    )
    inertia = s.width * (s.thick - s.drop / 2) ** 3 / 12
    found = [
        judged(
            "to_fit",
            "Left for fitting",
            left,
            Limits(0.0, 0.5 * allowance, max(0.15, 3 * allowance), 0.6),
            (
                "it is scraped or lapped to its play",
                "hardly anything to fit" if left < allowance else "much to scrape off: mill it nearer",
                "too thin: the play stays" if left < 0 else "it does not go in",
            ),
            step=0.001,
            features=("thickness",),
            figures=("thickness", "fitted"),
            remedies=("thickness",),
            derivation=("thickness − when fitted", f"{n(s.thick)} − {n(s.fitted, 5)}"),
        ),
        judged(
            "clears_root",
            "Face under the flank",
            s.flank - s.width,
            Limits(0.0, 0.5, 4.0),
            (
                "it stands on the flank, not in the corners",
                "tight in the corners: break its edges well",
                "it stands in the corners, not on the flank",
            ),
            step=0.1,
            features=("edges",),
            figures=("width", "way_height"),
            remedies=("width",),
            derivation=(
                ("height/sin β − face", f"{n(v.number('way_height'))}/sin({n(math.degrees(s.angle), 3)}°) − {n(s.width)}")
                if s.dovetail
                else ("height − face", f"{n(v.number('way_height'))} − {n(s.width)}")
            ),
        ),
        held_check(s.thick, "thickness", ("thickness", "body")),
        judged(
            "stiff",
            "Thin end over length",
            s.length / (s.thick - s.drop),
            Limits(marginal_above=60.0, no_above=120.0),
            ("it can be milled and scraped flat", "slender: it bows when it is milled, flip it often", "it cannot be kept flat"),
            unit="×",
            features=("thickness", "body"),
            figures=("thin_end", "length"),
            remedies=("thickness",),
            derivation=("length/thin end", f"{n(s.length)}/{n(s.thick - s.drop)}"),
        ),
    ]
    if s.drop:
        found.append(
            judged(
                "holds_itself",
                "Slope",
                s.drop / s.length * 1000,
                Limits(marginal_below=1000 * FLAT, marginal_above=1000 * STEEP, no_above=60.0),
                (
                    "it stays where its adjusting screw puts it",
                    "steep: it works out unless it is locked" if s.drop / s.length > STEEP else "flat: it travels far for little",
                    "it is pushed out by the load",
                ),
                unit="mm/m",
                step=0.1,
                features=("thickness",),
                figures=("slope", "drop"),
                remedies=("drop", "length"),
                derivation=("1000·taper/length", f"1000·{n(s.drop)}/{n(s.length)}"),
            )
        )
    if s.screws:
        floor = s.thick - s.drop - DIMPLE_DEEP - point_mm(s.dimple)
        found += [
            judged(
                "floor",
                "Metal under a dimple",
                floor,
                Limits(0.2, 0.8),
                ("sound", "thin: the point prints through", "the point comes through"),
                step=0.05,
                features=("screws",),
                figures=("thin_end", "screw"),
                remedies=("thickness", "screw"),
                derivation=("thin end − 0.4 − 0.3004·dimple", f"{n(s.thick - s.drop)} − {n(DIMPLE_DEEP)} − 0.3004·{n(s.dimple)}"),
            ),
            screw_load(
                "screw_load",
                "Gib screw load",
                _press(s),
                s.screw,
                SCREW_CLASS,
                Points(features=("screws",), figures=("press", "torque"), remedies=("torque", "screw")),
                careful="its thread is in a casting",
            ),
            judged(
                "even",
                "Bulge between screws",
                bulge,
                Limits(marginal_above=0.005, no_above=0.03),
                (
                    "it presses alike along its length",
                    "it presses more at the screws: one more of them",
                    "it runs on its screws only",
                ),
                step=0.001,
                features=("screws", "thickness"),
                figures=("apart", "press"),
                remedies=("screws", "torque", "thickness"),
                derivation=(
                    "F·a³/(192·E·b·t³/12)",
                    f"{n(_press(s) if s.screws > 1 else 0.0, 3)}·{n(s.apart)}³/(192·{s.metal.young_mpa:g}·{n(inertia, 4)}·12/12)",
                    "a beam clamped at its ends, mean thickness",
                ),
            ),
        ]
    return found
