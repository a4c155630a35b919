"""What follows from the sizes of a gib, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.families.gib.sizes import DIMPLE_DEEP, FLAT, PARAMETERS, STEEP, GibSizes
from elbrix.design.made_of import mass
from elbrix.design.thin import held_check
from elbrix.mechanics.drilling import POINT
from elbrix.mechanics.strength import preload_n
from elbrix.mechanics.tightened import SCREW_CLASS, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.standards.materials import nut_factor


def _normal(s: GibSizes) -> str:
    slack = format_number(s.v.number("slack"))
    return f"{slack}·sin({format_number(math.degrees(s.angle), 3)}°)" if s.dovetail else slack


def figures(s: GibSizes) -> list[Figure]:
    v, n = s.v, format_number
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "fitted",
            "Thickness when fitted",
            worked(
                "old + play·sin(β) − clearance",
                v.number("old_thickness"),
                v.number("slack"),
                term(math.degrees(s.angle), 3, "°"),
                v.number("clearance"),
                source="square to its faces, where it is thickest",
            )
            if s.dovetail
            else worked(
                "old + play − clearance",
                v.number("old_thickness"),
                v.number("slack"),
                v.number("clearance"),
                source="square to its faces, where it is thickest",
            ),
            step=0.001,
            features=("thickness",),
        ),
        reckoned(
            "bevel",
            "Edges out of square",
            worked("90 − β", math.degrees(s.angle)) if s.dovetail else worked("0", source="square"),
            unit="deg",
            step=0.05,
            features=("edges",),
        ),
        reckoned(
            "overall",
            "Over both edges",
            worked("face + thickness·tan(90° − β)", s.width, s.thick, term(math.degrees(s.angle), 4, "°"))
            if s.dovetail
            else worked("face", s.width),
            step=0.01,
            features=("edges",),
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
        reckoned("thin_end", "Thin end", worked("thickness − taper", s.thick, s.drop), step=0.01, features=("thickness",)),
        reckoned(
            "apart",
            "Screw to screw",
            worked("(length − 2·first)/(screws − 1)", s.length, s.first, s.screws)
            if s.screws > 1
            else worked("length", s.length, source="one screw or none"),
            step=0.1,
            features=("screws",),
        ),
        reckoned(
            "press",
            "A screw presses",
            worked("T/(K·d)", term(v.number("torque"), 3, "N·m"), nut_factor("dry"), s.screw.major_mm, source="dry thread"),
            unit="kN",
            step=0.01,
            features=("screws",),
        ),
        reckoned("mass", "Mass", mass(s.volume, s.metal.density_kg_m3), unit="kg", features=("body",)),
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
            worked("thickness − when fitted", s.thick, term(s.fitted, 5)),
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
        ),
        judged(
            "clears_root",
            "Face under the flank",
            worked("height/sin(β) − face", v.number("way_height"), term(math.degrees(s.angle), 3, "°"), s.width)
            if s.dovetail
            else worked("height − face", v.number("way_height"), s.width),
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
        ),
        held_check(s.thick, "thickness", ("thickness", "body")),
        judged(
            "stiff",
            "Thin end over length",
            worked("length/thin end", s.length, s.thick - s.drop),
            Limits(marginal_above=60.0, no_above=120.0),
            ("it can be milled and scraped flat", "slender: it bows when it is milled, flip it often", "it cannot be kept flat"),
            unit="×",
            features=("thickness", "body"),
            figures=("thin_end", "length"),
            remedies=("thickness",),
        ),
    ]
    if s.drop:
        found.append(
            judged(
                "holds_itself",
                "Slope",
                worked("1000·taper/length", s.drop, s.length),
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
            )
        )
    if s.screws:
        found += [
            judged(
                "floor",
                "Metal under a dimple",
                worked(f"thin end − {DIMPLE_DEEP:g} − {POINT:g}·dimple", s.thick - s.drop, s.dimple),
                Limits(0.2, 0.8),
                ("sound", "thin: the point prints through", "the point comes through"),
                step=0.05,
                features=("screws",),
                figures=("thin_end", "screw"),
                remedies=("thickness", "screw"),
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
