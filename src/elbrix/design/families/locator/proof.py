"""What follows from the sizes of a locator, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.families.locator.sizes import BAND, PARAMETERS, PRESS, LocatorSizes
from elbrix.mechanics.pins import turn_rad
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, format_number

#: Which of the six motions each locator holds, with the work lying on the plate. Shown so that nothing is held twice.
HOLDS = {
    "pin": "both ways along the plate; the work still turns round it",
    "relieved": "only across the line of the two pins: so the turning",
    "pivot": "all but the turning round it",
    "bush": "what runs in it: all but turning and sliding along",
}


def figures(s: LocatorSizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    tight, size = format_number(s.hole.min, 4), format_number(s.size, 4)
    if s.kind == "bush":
        found += [
            Figure(
                key="press_least",
                label="Smallest interference",
                value=-s.loosest,
                step=0.001,
                features=("body", "hole"),
                derivation=Derivation("Ø − widest bore", f"{size} − {format_number(s.hole.max, 4)}"),
            ),
            Figure(
                key="press_most",
                label="Largest interference",
                value=-s.play,
                step=0.001,
                features=("body", "hole"),
                derivation=Derivation("Ø − tightest bore", f"{size} − {tight}"),
            ),
            Figure(
                key="wall",
                label="Bush wall",
                value=s.wall,
                step=0.01,
                features=("body",),
                derivation=Derivation("(Ø − bore)/2", f"({size} − {format_number(s.inner, 4)})/2"),
            ),
            Figure(
                key="closes",
                label="Bore closure",
                value=max(0.0, -s.play),
                step=0.001,
                features=("bush_bore",),
                note="so it is finished after pressing",
                derivation=Derivation(
                    "largest interference, a thin wall gives nearly all of it to the bore",
                    f"{format_number(max(0.0, -s.play), 4)}",
                ),
            ),
        ]
    else:
        found += [
            Figure(
                key="least_play",
                label="Smallest clearance",
                value=s.play,
                step=0.001,
                features=("body", "hole"),
                derivation=Derivation("tightest hole − Ø", f"{tight} − {size}"),
            ),
            Figure(
                key="most_play",
                label="Largest clearance",
                value=s.loosest,
                step=0.001,
                features=("body", "hole"),
                derivation=Derivation("widest hole − Ø", f"{format_number(s.hole.max, 4)} − {size}"),
            ),
        ]
    if s.kind in ("pin", "relieved"):
        found.append(
            Figure(
                key="press",
                label="Interference in the plate",
                value=s.press,
                step=0.001,
                features=("shank_diameter",),
                derivation=Derivation(
                    "shank − hole in the plate", f"{format_number(s.shank, 4)} − {format_number(v.number('plate_hole'), 4)}"
                ),
            )
        )
    if s.kind == "relieved":
        e = s.error - s.other / 2
        found += [
            Figure(
                key="widest_land",
                label="Largest land width",
                value=s.widest_land,
                step=0.01,
                features=("land_width",),
                derivation=(
                    Derivation(
                        "((D² − d²)/4 − e²)/e, at the most d",
                        f"min({size}; ((({tight})² − ({size})²)/4 − ({format_number(e, 4)})²)/{format_number(e, 4)})",
                    )
                    if e > 0
                    else Derivation("the round pin's play takes the error", size, "any land goes in")
                ),
            ),
            Figure(
                key="accepted",
                label="Accepted spacing error",
                value=s.accepted,
                step=0.001,
                features=("land_width",),
                derivation=Derivation(
                    "c/2 + (√(w² + D² − d²) − w)/2",
                    f"{format_number(s.other, 4)}/2 + (√({format_number(s.land, 4)}² + {tight}² − {size}²) −"
                    f" {format_number(s.land, 4)})/2",
                ),
            ),
            Figure(
                key="turn",
                label="Rotation on both pins ±",
                value=3600 * math.degrees(turn_rad(s.play, s.other, v.number("pin_spacing"))),
                unit="″",
                features=("body",),
                derivation=Derivation(
                    "206265·(c1 + c2)/(2·L)",
                    f"206265·({format_number(s.play, 4)} +"
                    f" {format_number(s.other, 4)})/(2·{format_number(v.number('pin_spacing'))})",
                ),
            ),
        ]
    if s.kind == "pivot":
        found.append(
            Figure(
                key="journal",
                label="Journal, long",
                value=s.height,
                step=0.01,
                features=("body",),
                derivation=Derivation(
                    "what turns on it + end float", f"{format_number(s.depth)} + {format_number(v.number('end_float'))}"
                ),
            )
        )
    found.append(
        Figure(
            key="length",
            label="Overall length",
            value=s.length,
            step=0.1,
            features=("body",),
            derivation=Derivation(
                "bush + flange" if s.kind == "bush" else "locating part + shank + head",
                (
                    f"{format_number(s.height)} + {format_number(s.head_height)}"
                    if s.kind == "bush"
                    else f"{format_number(s.height)} + {format_number(s.shank_length)} + {format_number(s.head_height)}"
                ),
            ),
        )
    )
    found.append(Figure(key="holds", label="Holding force", value=0.0, unit="", text=HOLDS[s.kind], features=("body",)))
    return found


def checks(s: LocatorSizes) -> list[Check]:
    v = s.v
    found: list[Check] = []
    if s.kind == "bush":
        found += _bush(s)
    else:
        low, high = BAND[v.word("fit")]
        found.append(
            judged(
                "goes_in",
                "Smallest clearance",
                s.play,
                Limits(0.0, low, high, 6 * high),
                (
                    "it goes in and locates",
                    (
                        "tighter than this fit: it goes in with a push, or jams"
                        if s.play < low
                        else "looser than this fit: it locates no closer than that"
                    ),
                    "it does not go in" if s.play < 0 else "it locates nothing",
                ),
                step=0.001,
                features=("body", "hole"),
                figures=("least_play", "locating_diameter", "hole"),
                remedies=("locating_diameter",),
                derivation=("tightest hole − Ø", f"{format_number(s.hole.min, 4)} − {format_number(s.size, 4)}"),
            )
        )
    if s.kind != "bush":
        found.append(
            judged(
                "round",
                "Hole roundness",
                s.hole.spread,
                Limits(marginal_above=0.02, no_above=0.2),
                (
                    "round and parallel enough",
                    "uneven: the tightest place rules, elsewhere it shakes",
                    "so uneven it has to be bored or bushed first",
                ),
                step=0.001,
                features=("hole",),
                figures=("hole",),
                derivation=("widest − tightest", f"{format_number(s.hole.max, 4)} − {format_number(s.hole.min, 4)}"),
            )
        )
    if s.kind in ("pin", "relieved"):
        found.append(
            judged(
                "press",
                "Shank interference",
                s.press,
                Limits(0.0, *PRESS, 0.03),
                (
                    "it holds, and comes out again",
                    "so light it may turn" if s.press < PRESS[0] else "tight: warm the plate, or it bulges near an edge",
                    "it falls out" if s.press < 0 else "it scores the hole or bulges the plate",
                ),
                step=0.001,
                features=("shank_diameter",),
                figures=("press", "shank_diameter"),
                remedies=("shank_diameter",),
                derivation=(
                    "shank − hole in the plate",
                    f"{format_number(s.shank, 4)} − {format_number(v.number('plate_hole'), 4)}",
                ),
            )
        )
        found.append(
            judged(
                "shank_diameter",
                "Shank length in plate",
                v.number("plate_thickness") - s.shank_length,
                Limits(0.0, 0.0),
                ("it ends inside", "", "it stands out below: the plate rocks on it"),
                step=0.1,
                features=("shank_diameter",),
                figures=("shank_length", "plate_thickness"),
                remedies=("shank_length",),
                derivation=("plate − shank", f"{format_number(v.number('plate_thickness'))} − {format_number(s.shank_length)}"),
            )
        )
        found.append(
            judged(
                "stands",
                "Shank length ratio",
                s.shank_length / s.shank,
                Limits(0.6, 1.0),
                ("it stands square", "short: it leans when the work is pushed on it", "it works loose"),
                unit="× d",
                features=("shank_diameter",),
                figures=("shank_length",),
                remedies=("shank_length",),
                derivation=("shank, long/Ø", f"{format_number(s.shank_length)}/{format_number(s.shank)}"),
            )
        )
        found.append(
            judged(
                "jams",
                "Locating length ratio",
                s.height / s.depth,
                Limits(marginal_above=0.75, no_above=1.0),
                ("the work comes off without tilting", "long in its hole: lift the work square", "it stands out above the work"),
                unit="× hole",
                features=("body",),
                figures=("locating_length", "hole_depth"),
                remedies=("locating_length",),
                derivation=("locating length/hole, deep", f"{format_number(s.height)}/{format_number(s.depth)}"),
            )
        )
    if s.kind == "relieved":
        found.append(
            judged(
                "apart",
                "Pin spacing over Ø",
                s.v.number("pin_spacing") / s.size,
                Limits(1.5, 3.0),
                (
                    "far enough apart to keep the work from turning",
                    "close together: a little play turns the work much",
                    "the two pins run into each other",
                ),
                unit="× d",
                features=("land_width",),
                figures=("pin_spacing", "locating_diameter"),
                remedies=("pin_spacing",),
                derivation=("spacing/Ø", f"{format_number(s.v.number('pin_spacing'))}/{format_number(s.size, 4)}"),
            )
        )
        found.append(
            judged(
                "land_width",
                "Land width, worst spacing",
                s.widest_land - s.land,
                Limits(0.0, 0.1),
                (
                    "the work goes on at the worst spacing",
                    "it only just goes on",
                    "it will not go on: narrower land, or more play",
                ),
                step=0.01,
                features=("land_width",),
                figures=("widest_land", "land_width"),
                remedies=("land_width", "locating_diameter"),
                derivation=("widest land − land", f"{format_number(s.widest_land, 4)} − {format_number(s.land)}"),
            )
        )
        found.append(
            judged(
                "wears",
                "Land wear",
                s.land / s.size,
                Limits(0.06, 0.12),
                ("it lasts", "narrow: it wears soon", "a knife edge"),
                unit="× d",
                features=("land_width",),
                figures=("land_width",),
                remedies=("land_width",),
                derivation=("land/Ø", f"{format_number(s.land)}/{format_number(s.size)}"),
            )
        )
    if s.kind == "pivot":
        shoulder = (s.size - s.thread.major_mm) / 2
        found.append(
            judged(
                "shoulder",
                "Shoulder to seat on",
                shoulder,
                Limits(0.5, 1.0),
                ("it seats square", "narrow: it digs into soft plates", "nothing seats"),
                step=0.1,
                features=("shank_diameter",),
                figures=("thread",),
                remedies=("thread",),
                derivation=("(journal − thread)/2", f"({format_number(s.size)} − {format_number(s.thread.major_mm)})/2"),
            )
        )
        found.append(
            judged(
                "end_float",
                "End float",
                s.height - s.depth,
                Limits(0.0, 0.02, 0.3, 2.0),
                (
                    "it turns freely",
                    "it drags" if s.height - s.depth < 0.02 else "it rattles",
                    "it clamps the part" if s.height < s.depth else "it flops",
                ),
                step=0.01,
                features=("body",),
                figures=("locating_length", "hole_depth"),
                remedies=("locating_length",),
                derivation=("journal − part", f"{format_number(s.height)} − {format_number(s.depth)}"),
            )
        )
        found.append(
            judged(
                "head_diameter",
                "Head holds the part",
                s.head / s.size,
                Limits(1.1, 1.3),
                ("it cannot slip off", "a small lip", "the part slips off"),
                unit="× d",
                features=("head_diameter",),
                figures=("head_diameter",),
                remedies=("head_diameter",),
                derivation=("head/journal", f"{format_number(s.head)}/{format_number(s.size)}"),
            )
        )
        found.append(
            judged(
                "engaged",
                "Thread long enough",
                s.shank_length / s.thread.major_mm,
                Limits(0.8, 1.0),
                ("it holds", "short in steel", "it strips"),
                unit="× d",
                features=("shank_diameter",),
                figures=("shank_length",),
                remedies=("shank_length",),
                derivation=("thread, long/d", f"{format_number(s.shank_length)}/{format_number(s.thread.major_mm)}"),
            )
        )
    return found


def _bush(s: LocatorSizes) -> list[Check]:
    least, most = -s.loosest, -s.play
    limit = max(0.012, 0.0015 * s.size)
    return [
        judged(
            "holds",
            "Interference, widest bore",
            least,
            Limits(-0.01, 0.0),
            (
                "it is pressed all over",
                "loose at its widest place: a retaining compound, as its maker says",
                "it touches only at the tight places: bore it even first",
            ),
            step=0.001,
            features=("body", "hole"),
            figures=("press_least", "locating_diameter"),
            remedies=("locating_diameter",),
            derivation=("Ø − widest bore", f"{format_number(s.size, 4)} − {format_number(s.hole.max, 4)}"),
        ),
        judged(
            "splits",
            "Interference, tightest bore",
            most,
            Limits(marginal_above=limit, no_above=2.5 * limit),
            ("it goes in with a press or a draw bolt", "tight: chill the bush or warm the housing", "it may split the casting"),
            step=0.001,
            features=("body", "hole"),
            figures=("press_most", "locating_diameter"),
            remedies=("locating_diameter",),
            derivation=(
                "Ø − tightest bore",
                f"{format_number(s.size, 4)} − {format_number(s.hole.min, 4)}",
                "close above 0.0015·Ø",
            ),
        ),
        judged(
            "wall",
            "Bush wall",
            s.wall,
            Limits(1.0, max(1.5, 0.08 * s.size)),
            ("it keeps its shape", "thin: turn it last, on a plug", "it folds when it is pressed"),
            step=0.01,
            features=("body",),
            figures=("wall", "bush_bore"),
            remedies=("bush_bore",),
            derivation=("(Ø − bore)/2", f"({format_number(s.size, 4)} − {format_number(s.inner, 4)})/2"),
        ),
        judged(
            "long",
            "Bush length",
            s.depth - s.height,
            Limits(0.0, 0.0),
            ("it ends inside", "", "it stands out at the far side"),
            step=0.1,
            features=("body", "hole"),
            figures=("locating_length", "hole_depth"),
            remedies=("locating_length",),
            derivation=("bore, deep − bush", f"{format_number(s.depth)} − {format_number(s.height)}"),
        ),
        judged(
            "even",
            "Housing bore evenness",
            s.hole.spread,
            Limits(marginal_above=max(0.03, limit)),
            ("one press fit does for all of it", "one Ø cannot fit it everywhere: bore it even, or bond it", ""),
            step=0.001,
            features=("hole",),
            figures=("hole",),
            derivation=("widest − tightest", f"{format_number(s.hole.max, 4)} − {format_number(s.hole.min, 4)}"),
        ),
    ]
