"""What follows from the sizes of a soft jaw, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.bores import hole_checks
from elbrix.design.families.soft_jaw.nest import largest_cutter
from elbrix.design.families.soft_jaw.sizes import GRIP_MIN, GRIP_SHARE, PARAMETERS, WALL_BEHIND, WALL_OVER, SoftJawSizes
from elbrix.design.hosts import vise_of
from elbrix.design.keyed import EDGES_MM
from elbrix.design.made_of import mass
from elbrix.mechanics.lifting import lifting_check
from elbrix.mechanics.tightened import handle_load
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop


def _out_of_square_formula(s: SoftJawSizes) -> Worked:
    return worked(
        "W·(2·e + c + lean·out)/L",
        s.v.number("square_length"),
        term(s.v.number("pin_height_error"), 4),
        term(s.play, 4),
        term(s.v.number("pin_lean"), 5),
        s.v.number("pin_protrusion"),
        s.v.number("pin_spacing"),
        source="each pin off by e, play c, lean",
    )


def _behind_formula(s: SoftJawSizes) -> Worked:
    return worked("thickness − recess", s.thickness, term(s.recess, 4))


def figures(s: SoftJawSizes, shop: Shop) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        reckoned(
            "push",
            "Clamping force",
            worked("torque × force per N·m", v.number("torque"), v.number("force_per_nm"), source="without losses in a soft jaw"),
            unit="kN",
            features=("work",),
        ),
        reckoned("seat", "Work seat height", worked("height − grip", s.height, s.grip), step=0.1, features=("grip_height",)),
        reckoned(
            "mass",
            "Mass of one jaw",
            mass(s.volume, s.density, source="jaw less its recess, holes not taken off"),
            unit="kg",
            features=("jaw",),
        ),
    ]
    if s.kind == "pins":
        found.append(
            reckoned("out_of_square", "Out of square at worst", _out_of_square_formula(s), step=0.001, features=("pins",))
        )
    if s.kind == "round":
        found.append(
            reckoned(
                "nest_d",
                "Bore the nest Ø",
                worked(
                    "work + larger by",
                    s.work_depth,
                    v.number("nest_clearance"),
                    source="closed on the spacer, at the working torque",
                ),
                step=0.01,
                features=("nest",),
            )
        )
    if s.kind == "vee":
        half = s.v_half
        found.append(
            reckoned(
                "v_deep",
                "V, deep",
                worked("(M/2)/tan(A/2)", s.v_mouth, term(2 * (math.degrees(half)), 3, "°")),
                step=0.01,
                features=("v",),
            )
        )
        found.append(
            reckoned(
                "v_most",
                "Holds up to Ø",
                worked("M/cos(A/2)", s.v_mouth, term(2 * (math.degrees(half)), 3, "°")),
                step=0.1,
                features=("v",),
            )
        )
    if s.kind in ("round", "outline"):
        found.append(reckoned("behind", "Wall behind nest", _behind_formula(s), step=0.1, features=("nest",)))
    if s.kind == "outline":
        owned = tuple(c.diameter_mm for c in shop.square_end_mills())
        best = largest_cutter(s.ring, v.number("outline_clearance"), owned)
        found.append(
            Figure(
                key="best_cutter",
                label="Largest owned cutter",
                value=best,
                unit="mm" if best else "",
                text="" if best else "none owned does",
                features=("nest",),
            )
        )
        found.append(
            Figure(
                key="reliefs",
                label="Corner reliefs",
                value=len(s.nest.reliefs),
                unit="",
                text=f"{len(s.nest.reliefs)} of Ø{length(v.number('cutter_diameter'))}",
                features=("nest",),
            )
        )
    return found


def checks(s: SoftJawSizes, shop: Shop) -> list[Check]:
    v = s.v
    request = max(GRIP_MIN, GRIP_SHARE * v.number("work_height"))
    vise, _ = vise_of(shop, v.word("vise"))
    found = [
        judged(
            "grip_height",
            "Grip height",
            s.grip,
            Limits(0.5 * request, request),
            (
                f"a tenth of its height, {length(3)} at least",
                f"less than a tenth of its height, or than {length(3)}: light cuts",
                "it tips out of the jaws",
            ),
            features=("grip_height", "work"),
            figures=("grip_height", "work_height"),
            remedies=("grip_height",),
            step=0.1,
            derivation=("grip, wanted max(3; 0.1·high)", format_number(s.grip)),
        ),
        judged(
            "opens",
            "Vise opening",
            worked("opening − what jaws and work take", v.number("opening"), term(_between(s), 4)),
            Limits(0.0, 2.0),
            ("the work goes in", "only just: no room to lay it in", "the work does not go in between"),
            step=0.1,
            features=("work", "vise"),
            figures=("opening", "work_width"),
            remedies=("thickness",),
        ),
        judged(
            "over_heads",
            "Wall over screw heads",
            s.over_heads,
            Limits(0.0, WALL_OVER),
            ("the recess stays clear of them", "thin over a head", "the recess opens a counterbore"),
            step=0.1,
            features=("screws",),
            figures=("screw_height", "grip_height"),
            remedies=("grip_height", "height"),
            derivation=("from the recess to the counterbore", format_number(s.over_heads, 4)),
        ),
        *hole_checks(s.holes, s.thickness, s.edge, v.word("material"), ("length", "height")),
    ]
    if s.kind == "ledge":
        found.append(
            judged(
                "ledge_bears",
                "Ledge under the work",
                worked("ledge − broken edges", s.ledge, EDGES_MM),
                Limits(0.5, 1.5),
                ("it carries the work", "narrow: a chip under the work tips it", "the work slips off it"),
                step=0.1,
                features=("nest", "jaw"),
                figures=("ledge_depth",),
                remedies=("ledge_depth",),
            )
        )
    if s.kind in ("ledge", "vee", "round", "outline"):
        found.append(
            judged(
                "behind",
                "Wall behind recess",
                _behind_formula(s),
                Limits(0.5 * WALL_BEHIND, WALL_BEHIND),
                ("stiff behind the push", "thin: it gives under the push", "it springs, or breaks through"),
                step=0.1,
                features=("nest", "jaw"),
                figures=("thickness",),
                remedies=("thickness", "spacer"),
            )
        )
    if s.kind == "pins":
        wanted = v.number("squareness")
        found.append(
            judged(
                "square",
                "Work comes out square",
                _out_of_square_formula(s),
                Limits(marginal_above=0.8 * wanted, no_above=wanted),
                (
                    f"within {length(wanted)} over {length(v.number('square_length'))}",
                    "all of what is allowed",
                    "not so close: pins farther apart, or placed better",
                ),
                step=0.001,
                features=("pins",),
                figures=("out_of_square", "pin_spacing", "pin_height_error"),
                remedies=("pin_spacing", "pin_height_error", "pin_fit"),
            )
        )
        found.append(
            judged(
                "on_pins",
                "Work lies on both pins",
                worked("work along − pins apart − pin", v.number("work_length"), v.number("pin_spacing"), s.pin),
                Limits(0.0, 1.0),
                ("both are under it", "one is at its very corner", "it does not reach both pins"),
                step=0.1,
                features=("pins", "work"),
                figures=("pin_spacing", "work_length"),
                remedies=("pin_spacing",),
            )
        )
        found.append(
            judged(
                "pin_protrusion",
                "Pins clear of the other jaw",
                worked(
                    "work between − pins out·jaws with pins",
                    s.work_depth,
                    v.number("pin_protrusion"),
                    2 if v.word("jaws") == "pair" else 1,
                ),
                Limits(0.0, 0.5),
                ("the jaws close on the work", "only just", "the pins meet before the jaws hold the work"),
                step=0.1,
                features=("pins",),
                figures=("pin_protrusion", "work_width"),
                remedies=("pin_protrusion",),
            )
        )
    if s.kind == "round":
        over = v.number("nest_clearance")
        found.append(
            judged(
                "bite",
                "Nest against the work",
                worked("nest Ø − work Ø", term(2 * s.nest_r, 4), s.work_depth),
                Limits(0.0, 0.04, 0.2, 1.0),
                (
                    "it touches in the middle of the nest",
                    "so close it may bite at its edges" if over < 0.04 else "it touches on a line: it marks soft work",
                    "a nest smaller than the work bites at its edges" if over < 0 else "it holds on a line and turns",
                ),
                step=0.01,
                features=("nest",),
                figures=("nest_clearance",),
                remedies=("nest_clearance",),
            )
        )
        found.append(
            judged(
                "split",
                "Jaws part inside the work",
                worked("work Ø − spacer", s.work_depth, s.spacer),
                Limits(0.0, 0.3 * s.work_depth),
                ("each jaw holds a good part of the round", "little of it lies in each jaw", "the spacer is as wide as the work"),
                step=0.1,
                features=("nest",),
                figures=("spacer",),
                remedies=("spacer",),
            )
        )
    if s.kind == "outline":
        found.append(
            judged(
                "reached",
                "Nest clearance",
                s.nest.left_mm2,
                Limits(marginal_above=0.0, no_above=0.05),
                (
                    "nothing of it meets metal",
                    "a trace at the corners: file it",
                    "metal stands where the work should be: relieve the corners, or a smaller cutter",
                ),
                unit="mm²",
                step=0.01,
                features=("nest",),
                figures=("cutter_diameter", "outline_clearance", "best_cutter"),
                remedies=("cutter_diameter", "corners", "outline_clearance"),
                derivation=("work's area outside the nest", format_number(s.nest.left_mm2, 4)),
            )
        )
        found.append(
            judged(
                "ends",
                "Wall at nest ends",
                worked("half the jaw − nest", s.width / 2, term(s.recess_half, 4)),
                Limits(2.0, WALL_BEHIND),
                ("stiff beside it", "thin at the end", "it breaks out at the end"),
                step=0.1,
                features=("nest", "jaw"),
                figures=("length",),
                remedies=("length",),
            )
        )
    if s.kind == "vee":
        d, least = s.work_depth, s.v_mouth * math.cos(s.v_half)
        most = s.v_mouth / math.cos(s.v_half)
        found.append(
            judged(
                "v_holds",
                "Round inside the mouth",
                worked("min(largest it holds − Ø; Ø − smallest it holds)", term(most, 4), d, term(least, 4))
                if v.word("jaws") == "pair"
                else worked("largest it holds − Ø", term(most, 4), d),
                Limits(0.0, 0.3),
                (
                    "it touches inside, the jaws apart",
                    "near the edge, or the jaws all but meet",
                    "it rides on the edges, or the jaws meet first",
                ),
                step=0.1,
                features=("v", "work"),
                figures=("v_width", "work_width"),
                remedies=("v_width", "v_angle"),
            )
        )
    found.append(handle_load("handle", v.number("torque"), vise.max_torque_nm, ("work", "vise"), "torque"))
    found.append(
        lifting_check(
            worked("mass", s.mass_kg), Points(features=("jaw",), figures=("mass",), remedies=("length", "height", "thickness"))
        )
    )
    return found


def _between(s: SoftJawSizes) -> float:
    """What the vise opens to with the work in: both jaws and the distance of their faces."""
    count = 2 if s.v.word("jaws") == "pair" else 1
    if s.kind == "vee":
        face = (
            s.work_depth / math.sin(s.v_half) - 2 * s.v_depth
            if count == 2
            else s.work_depth / 2 * (1 + 1 / math.sin(s.v_half)) - s.v_depth
        )
    elif s.kind in ("round", "outline"):
        face = s.spacer
    else:
        face = s.work_depth - (count * s.ledge if s.kind == "ledge" else 0.0)
    # Nests have to open past the work, a ledge is laid on from above.
    room = s.recess * count if s.kind in ("round", "outline") else 0.0
    return count * s.thickness + face + room
