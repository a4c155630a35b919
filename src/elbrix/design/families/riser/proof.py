"""What follows from the sizes of a riser, and what may go wrong."""

from __future__ import annotations

from elbrix.design.bores import hole_checks
from elbrix.design.families.riser.sizes import FLOOR_MM, PARAMETERS, RiserSizes
from elbrix.design.hosts import measured_check
from elbrix.design.made_of import mass
from elbrix.design.slot_nut import TOP_LIMITS
from elbrix.mechanics.lifting import lifting_check
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.results.length_text import length


def _register_play_formula(s: RiserSizes) -> Worked:
    return worked("register − plug", term(s.register, 4), term(s.v.number("plug_diameter"), 4))


def figures(s: RiserSizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    low, up = format_number(v.number("lower_tolerance"), 4), format_number(v.number("upper_tolerance") if s.two else 0, 4)
    found += [
        reckoned("height", "Height reached", worked("lower + upper", s.lower, s.upper), step=0.01, features=("height",)),
        Figure(
            key="worst",
            label="Worst height error ±",
            value=s.worst,
            step=0.001,
            features=("height",),
            derivation=Derivation("sum of both", f"{low} + {up}"),
        ),
        reckoned(
            "likely",
            "Likely height error ±",
            worked(
                "√(a² + b²)",
                term(v.number("lower_tolerance"), 4),
                term(v.number("upper_tolerance") if s.two else 0, 4),
                source="both at their limits the same way is rare",
            ),
            step=0.001,
            features=("height",),
        ),
        reckoned(
            "mass",
            "Mass of the drawn plate",
            mass(s.volume, s.density, source="plate less holes"),
            unit="kg",
            features=("plate",),
        ),
    ]
    if s.bolts:
        lip, deep = v.readings("lip"), v.readings("slot_depth")
        found += [
            reckoned(
                "bolt_least",
                "Shortest bolt under head",
                worked(
                    "height − counterbore + max(0; lip − nut's neck) + d",
                    s.height,
                    s.bolts[0].bore_depth,
                    lip.max,
                    v.number("nut_neck_height"),
                    float(s.bolt[1:]),
                    source="one diameter of thread where the lips are deepest; the nut's neck fills them",
                ),
                step=0.1,
                features=("bolts",),
            ),
            reckoned(
                "bolt_most",
                "Longest bolt under head",
                worked(
                    f"height − counterbore + min(max(0; lip − nut's neck) + full thread; slot depth − {FLOOR_MM:g})",
                    s.height,
                    s.bolts[0].bore_depth,
                    lip.min,
                    v.number("nut_neck_height"),
                    v.number("nut_full_thread"),
                    deep.min,
                    source="a longer one jams in the nut and the riser stays loose, or stands on the slot's floor",
                ),
                step=0.1,
                features=("bolts",),
            ),
            Figure(
                key="bolt_long",
                label="Bolt to buy, length under head",
                value=s.bolt_length,
                step=1,
                features=("bolts",),
                derivation=Derivation(
                    "the sold length between the shortest and the longest",
                    format_number(s.bolt_length),
                    "else the longest sold that is not too long",
                ),
            ),
        ]
    if s.two:
        found.append(
            Figure(
                key="which",
                label="Plate order",
                value=0.0,
                unit="",
                text=(
                    f"{len(s.bolts)} {s.bolt} through to the table, {len(s.joins)} {v.word('joining_screw')} into the lower plate"
                ),
                features=("bolts", "joining_positions"),
            )
        )
    if s.register:
        found.append(
            reckoned(
                "register_play",
                "Plug in the register, play",
                _register_play_formula(s),
                step=0.001,
                features=("register_diameter",),
            )
        )
    return found


def checks(s: RiserSizes) -> list[Check]:
    v = s.v
    within = v.number("height_tolerance")
    found = [
        judged(
            "height",
            "Height error",
            worked("|height − wanted| + both errors", term(s.height, 4), term(v.number("riser_height"), 4), term(s.worst, 4)),
            Limits(marginal_above=0.8 * within, no_above=within),
            (
                f"within {length(within)} whatever the plates' errors",
                "nearly all of what is allowed",
                "not so close: grind one plate to the sum",
            ),
            step=0.001,
            features=("height",),
            figures=("height", "worst", "riser_height"),
            remedies=("upper", "lower", "upper_tolerance", "lower_tolerance") if s.two else ("lower", "lower_tolerance"),
        ),
        judged(
            "bolts",
            "Number of bolts",
            len(s.bolts),
            Limits(2, 3),
            ("held at three places or more", "two hold it: a single row tips across its line", "it turns on one bolt"),
            unit="",
            text=f"{len(s.bolts)} bolts",
            features=("bolts",),
            figures=("bolts",),
            derivation=("bolts to the table", str(len(s.bolts))),
        ),
    ]
    if s.bolts:
        worst = max(s.bolts, key=s.off_slot)
        far = s.off_slot(worst)
        found.append(
            judged(
                "on_slots",
                "Bolts over the slots",
                far,
                Limits(marginal_above=0.5 * s.clear, no_above=s.clear),
                (
                    "each lies over the middle of a slot",
                    f"{worst.name} uses up half of what its hole allows",
                    f"{worst.name} misses the slot",
                ),
                step=0.01,
                features=("bolts", "slots"),
                figures=("bolts", "slot_pitch"),
                remedies=("centred_over", "slot_pitch"),
                derivation=("to the nearest slot's middle", format_number(far)),
            )
        )
        d = float(s.bolt[1:])
        found.append(
            judged(
                "in_slot",
                "Bolt in the slot",
                worked("tightest slot − bolt", v.readings("neck").min, d),
                Limits(0.0, 0.5),
                ("it goes through", "it only just goes through", "it does not go in"),
                step=0.01,
                features=("bolts", "slots"),
                figures=("neck", "bolt"),
                remedies=("bolt",),
            )
        )
        found.append(
            judged(
                "nut_top",
                "T-nut top below the table",
                worked("shallowest lip − the nut's neck", v.readings("lip").min, v.number("nut_neck_height")),
                TOP_LIMITS,
                (
                    "the pull goes into the lips, not into the riser",
                    "only just: a burr or a shallower place and it clamps on itself",
                    "the nut is pulled against the riser and holds nothing",
                ),
                step=0.05,
                features=("bolts", "slots"),
                figures=("nut_neck_height", "lip"),
                remedies=("nut_neck_height",),
            )
        )
        inside = s.load_inside + 0.0 if s.load_inside > -1e6 else -9999.0
        row = len(s.polygon) < 3 or all(abs(p[1] - s.polygon[0][1]) < 1e-6 for p in s.polygon)
        found.append(
            judged(
                "load",
                "Load inside bolt pattern",
                inside,
                Limits(0.0 if not row else -0.5, 2.0 if not row else 0.0),
                (
                    "it presses the riser down on the table",
                    "it acts at the very edge of the bolts" if not row else "a single row: a push across it tips the riser",
                    (
                        "it acts outside the bolts: it pries the riser up"
                        if not row
                        else "a single row, and the load stands beside it"
                    ),
                ),
                step=0.1,
                features=("load", "bolts"),
                figures=("load_x", "load_y"),
                remedies=("load_x", "load_y"),
                derivation=("to the nearest side of the bolts' polygon; less than 0 outside", format_number(inside)),
            )
        )
    found += measured_check(v)
    found += hole_checks(
        s.holes,
        s.thickness,
        s.edge,
        v.word("material"),
        ("length", "width", "bolt"),
        "lower" if s.part == "lower" or not s.two else "upper",
    )
    if s.two:
        found.append(
            judged(
                "joined",
                "Joining thread depth",
                worked("lower plate/d", s.lower, float(v.word("joining_screw")[1:])),
                Limits(0.8, 1.0),
                ("it holds", "short: take a thicker lower plate", "it strips"),
                unit="× d",
                features=("joining_positions",),
                figures=("lower", "joining_screw"),
                remedies=("lower", "joining_screw"),
            )
        )
        few = len(s.joins)
        found.append(
            judged(
                "joining_positions",
                "Number of joining screws",
                few,
                Limits(2, 3),
                ("at three places or more", "at two: the bolts have to do the rest", "nothing keeps them together off the table"),
                unit="",
                text=f"{few} screws",
                features=("joining_positions",),
                figures=("joining_positions",),
                derivation=("joining screws", str(few)),
            )
        )
    if s.bolts:
        found.append(
            judged(
                "bolt_thread",
                "Bolt thread in the nut",
                worked(
                    "(bolt − under the head − nut below the table)/d",
                    s.bolt_length,
                    s.under_head,
                    s.nut_down[1],
                    float(s.bolt[1:]),
                ),
                Limits(0.8, 1.0),
                (
                    "a diameter of thread or more",
                    "short of a diameter: no sold length fits better",
                    "too little thread: a deeper nut, or a bolt cut to length",
                ),
                unit="× d",
                features=("bolts",),
                figures=("bolt_long", "bolt_least", "bolt_most"),
                remedies=("nut_full_thread", "bolt"),
            )
        )
    if s.register:
        play = s.register - v.number("plug_diameter")
        found.append(
            judged(
                "register_diameter",
                "Plug in its register",
                _register_play_formula(s),
                Limits(-0.015, -0.012, 0.025, 0.1),
                (
                    "it centres what stands on it",
                    "tight: warm the plate" if play < 0 else "loose: it centres no closer than that",
                    "it does not go in" if play < 0 else "it centres nothing",
                ),
                step=0.001,
                features=("register_diameter",),
                figures=("register_diameter", "plug_diameter"),
                remedies=("register_diameter",),
            )
        )
    kg = s.assembly_kg
    found.append(
        lifting_check(
            worked("mass of all plates", kg), Points(features=("plate",), figures=("mass",), remedies=("length", "width"))
        )
    )
    return found
