"""What follows from the sizes of a curved T-nut, and what may go wrong."""

from __future__ import annotations

from typing import Final

from elbrix.design.families.ring_nut.sizes import DRY, PARAMETERS, STUD_CLASS, RingNutSizes
from elbrix.design.hosts import measured_check
from elbrix.design.made_of import mass
from elbrix.design.slot_nut import wall_limits
from elbrix.mechanics.tightened import engaged, screw_load, stripping
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked

#: What its checks under load point at, and what mends them.
_POINTS: Final = {
    "engagement": Points(
        features=("thread",), figures=("full_thread",), remedies=("neck_height", "head_height", "thread", "material")
    ),
    "stud": Points(features=("thread",), figures=("pull", "torque"), remedies=("torque",)),
    "strip": Points(features=("thread",), figures=("torque", "full_thread"), remedies=("torque", "material")),
    "bearing": Points(
        features=("head_part", "slot"), figures=("head_width", "length"), remedies=("length", "head_width", "torque")
    ),
    "lip_shear": Points(features=("slot",), figures=("lip", "length"), remedies=("length", "torque")),
    "lip_bending": Points(features=("slot",), figures=("lip", "length"), remedies=("length", "torque")),
    "flange": Points(
        features=("head_part",), figures=("head_height", "length"), remedies=("head_height", "length", "torque", "material")
    ),
}


def figures(s: RingNutSizes) -> list[Figure]:
    v = s.v
    n, r = format_number, s.radius
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        *(
            Figure(
                key=key,
                label=label,
                value=value,
                step=0.01,
                features=(feature,),
                derivation=Derivation(f"R {sign} half the width", f"{n(r, 3)} {sign} {n(width)}/2"),
            )
            for key, label, value, sign, width, feature in (
                ("neck_inside", "Neck, inside radius", s.inner(s.nut_neck), "−", s.nut_neck, "neck"),
                ("neck_outside", "Neck, outside radius", s.outer(s.nut_neck), "+", s.nut_neck, "neck"),
                ("head_inside", "Head, inside radius", s.inner(s.nut_head), "−", s.nut_head, "head_part"),
                ("head_outside", "Head, outside radius", s.outer(s.nut_head), "+", s.nut_head, "head_part"),
            )
        ),
        reckoned("included", "Included angle", worked("2·asin(L/2/R)", s.length, r), unit="deg", step=0.01, features=("length",)),
        Figure(
            key="straight_longest",
            label="Longest straight nut",
            value=s.straight_longest,
            step=0.1,
            features=("slot",),
            derivation=Derivation(
                "2·√(outer² − (inner + width)²), the least of neck and head",
                f"min(2·√(({n(r, 3)} + ({n(s.neck.min, 3)} − 0.1)/2)² − ({n(r, 3)} − ({n(s.neck.min, 3)} − 0.1)/2 +"
                f" {n(s.nut_neck)})²); 2·√(({n(r, 3)} + ({n(s.head.min, 3)} − 0.2)/2)² − ({n(r, 3)} − ({n(s.head.min, 3)} −"
                f" 0.2)/2 + {n(s.nut_head)})²))",
                "a straight block of these widths slides in the ring up to that length",
            ),
        ),
        Figure(
            key="circle",
            label="Smallest circle round it",
            value=s.circle,
            step=0.1,
            features=("entry",),
            note="from above, round its head",
        ),
        reckoned(
            "bar_width",
            "Bar width",
            worked("outside of the head − √(inside² − (L/2)²)", s.outer(s.nut_head), s.inner(s.nut_head), s.length),
            step=0.1,
            features=("head_part",),
        ),
        reckoned(
            "pull",
            "Preload",
            worked(
                "T/(K·d)", term(v.number("torque"), 3, "N·m"), DRY, s.thread.major_mm, source="dry thread; it scatters by 30 %"
            ),
            unit="kN",
            features=("thread",),
        ),
        reckoned(
            "full_thread",
            "Thread engagement",
            worked("neck + head − 2.5·pitch", s.neck_height, s.head_height, s.thread.pitch_mm),
            step=0.1,
            features=("thread",),
        ),
        reckoned("mass", "Mass", mass(s.volume, s.metal.density_kg_m3), unit="kg", features=("neck",)),
        reckoned(
            "apart",
            "Nut to nut round the table",
            worked("360/pieces", v.number("pieces")),
            unit="deg",
            step=0.1,
            features=("slot",),
        ),
    ]


def _going_in(s: RingNutSizes) -> list[Check]:
    v = s.v
    hole = v.number("entry_hole")
    found = [
        judged(
            "neck_slides",
            "Neck clearance",
            worked(
                "tightest neck − nut − L²/8·(1/R − 1/(R + e))",
                s.neck.min,
                s.nut_neck,
                s.length,
                s.radius,
                v.number("centring_error"),
                source="what a wrong radius takes of the clearance",
            ),
            Limits(0.0, 0.1, 0.6, 2.0),
            (
                "it slides all round",
                "tight: it binds on any burr" if s.neck_play < 0.1 else "loose: it turns askew",
                "it does not go between the lips" if s.neck_play < 0 else "it guides nothing",
            ),
            step=0.01,
            features=("neck", "slot"),
            figures=("neck_width", "neck", "centring_error"),
            remedies=("neck_width", "centring_error", "length"),
        ),
        judged(
            "head_slides",
            "Head clearance",
            worked(
                "narrowest head − nut − L²/8·(1/R − 1/(R + e))",
                s.head.min,
                s.nut_head,
                s.length,
                s.radius,
                v.number("centring_error"),
            ),
            Limits(0.0, 0.3, 3.0),
            ("it slides all round", "tight: chips stop it" if s.head_play < 0.3 else "loose", "it does not go in"),
            step=0.01,
            features=("head_part", "slot"),
            figures=("head_width", "head"),
            remedies=("head_width",),
        ),
        judged(
            "below",
            "Top below the table",
            worked("shallowest lip − neck", s.lip.min, s.neck_height),
            Limits(0.25, 0.5),
            ("pulled up it stays below the table", "it all but stands out", "it stands out of the table: it clamps on itself"),
            step=0.1,
            features=("neck", "slot"),
            figures=("neck_height", "lip"),
            remedies=("neck_height",),
        ),
        judged(
            "under",
            "Room under the lips",
            worked("shallowest depth − deepest lip − head", s.depth.min, s.lip.max, s.head_height),
            Limits(0.0, 0.3),
            ("it slides everywhere", "any chip stops it", "it does not go under the lips"),
            step=0.1,
            features=("head_part", "slot"),
            figures=("head_height", "depth", "lip"),
            remedies=("head_height",),
        ),
        judged(
            "worth",
            "Longer than a straight one",
            worked("length − longest straight nut", s.length, s.straight_longest),
            Limits(marginal_below=0.0),
            (
                "a straight nut of that length does not go round",
                "a straight nut of that length slides in this ring: it saves the rotary table",
                "",
            ),
            step=0.1,
            features=("length", "slot"),
            figures=("straight_longest", "length"),
            remedies=("length",),
        ),
    ]
    if hole:
        found.append(
            judged(
                "enters",
                "Through the entry hole",
                worked("entry hole − smallest circle round it", hole, s.circle),
                Limits(0.0, 0.4),
                ("it drops in", "it only just drops in", "it does not go through: shorter, or put in from an open end"),
                step=0.1,
                features=("entry", "length"),
                figures=("circle", "entry_hole"),
                remedies=("length",),
            )
        )
    return found


def checks(s: RingNutSizes) -> list[Check]:
    nut = s.pulled
    return [
        *_going_in(s),
        judged(
            "wall",
            "Wall beside thread",
            worked("(neck − d)/2", s.nut_neck, s.thread.major_mm),
            wall_limits(s.nut_neck),
            ("a sound wall in the neck", "thin: tap with care and no side load", "the neck bursts or cracks at the thread"),
            step=0.05,
            features=("thread", "neck"),
            figures=("neck_width", "thread"),
            remedies=("thread",),
        ),
        engaged(s.thread, s.full_thread, nut.proof, nut.yield_mpa, _POINTS["engagement"]),
        screw_load("stud", "Stud load", s.pull_n, s.thread, STUD_CLASS, _POINTS["stud"]),
        stripping(s.pull_n, s.thread, s.full_thread, nut.yield_mpa, _POINTS["strip"]),
        *nut.lip_checks(s.pull_n, _POINTS),
        *measured_check(s.v),
    ]
