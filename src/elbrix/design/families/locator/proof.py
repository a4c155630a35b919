"""What follows from the sizes of a locator, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.locator.sizes import BAND, PARAMETERS, PRESS, LocatorSizes
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure
from elbrix.results.formulas import Worked, reckoned, term, worked

#: Which of the six motions each locator holds, with the work lying on the plate. Shown so that nothing is held twice.
HOLDS = {
    "pin": "both ways along the plate; the work still turns round it",
    "relieved": "only across the line of the two pins: so the turning",
    "pivot": "all but the turning round it",
    "bush": "what runs in it: all but turning and sliding along",
}


def _press_least_formula(s: LocatorSizes) -> Worked:
    return worked("Ø − widest bore", term(s.size, 4), term(s.hole.max, 4))


def _press_most_formula(s: LocatorSizes) -> Worked:
    return worked("Ø − tightest bore", term(s.size, 4), term(s.hole.min, 4), source="close above 0.0015·Ø")


def _wall_formula(s: LocatorSizes) -> Worked:
    return worked("(Ø − bore)/2", term(s.size, 4), term(s.inner, 4))


def _least_play_formula(s: LocatorSizes) -> Worked:
    return worked("tightest hole − Ø", term(s.hole.min, 4), term(s.size, 4))


def _press_formula(s: LocatorSizes) -> Worked:
    return worked("shank − hole in the plate", term(s.shank, 4), term(s.v.number("plate_hole"), 4))


def _uneven_formula(s: LocatorSizes) -> Worked:
    return worked("widest − tightest", term(s.hole.max, 4), term(s.hole.min, 4))


def figures(s: LocatorSizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    if s.kind == "bush":
        found += [
            reckoned("press_least", "Smallest interference", _press_least_formula(s), step=0.001, features=("body", "hole")),
            reckoned("press_most", "Largest interference", _press_most_formula(s), step=0.001, features=("body", "hole")),
            reckoned("wall", "Bush wall", _wall_formula(s), step=0.01, features=("body",)),
            reckoned(
                "closes",
                "Bore closure",
                worked(
                    "max(0; Ø − tightest hole)",
                    term(s.size, 4),
                    term(s.hole.min, 4),
                    source="a thin wall gives nearly all of it to the bore",
                ),
                step=0.001,
                features=("bush_bore",),
                note="so it is finished after pressing",
            ),
        ]
    else:
        found += [
            reckoned("least_play", "Smallest clearance", _least_play_formula(s), step=0.001, features=("body", "hole")),
            reckoned(
                "most_play",
                "Largest clearance",
                worked("widest hole − Ø", term(s.hole.max, 4), term(s.size, 4)),
                step=0.001,
                features=("body", "hole"),
            ),
        ]
    if s.kind in ("pin", "relieved"):
        found.append(reckoned("press", "Interference in the plate", _press_formula(s), step=0.001, features=("shank_diameter",)))
    if s.kind == "relieved":
        e = s.error - s.other / 2
        found += [
            reckoned(
                "widest_land",
                "Largest land width",
                worked("min(d; ((D² − d²)/4 − e²)/e)", term(s.size, 4), term(s.hole.min, 4), term(e, 4))
                if e > 0
                else worked("d", term(s.size, 4), source="the round pin's play takes the error: any land goes in"),
                step=0.01,
                features=("land_width",),
            ),
            reckoned(
                "accepted",
                "Accepted spacing error",
                worked(
                    "c/2 + (√(max(0; w² + D² − d²)) − w)/2",
                    term(s.other, 4),
                    term(min(s.land, s.size), 4),
                    term(s.hole.min, 4),
                    term(s.size, 4),
                ),
                step=0.001,
                features=("land_width",),
            ),
            reckoned(
                "turn",
                "Rotation on both pins ±",
                worked("206265·(c1 + c2)/(2·L)", term(s.play, 4), term(s.other, 4), v.number("pin_spacing")),
                unit="″",
                features=("body",),
            ),
        ]
    found.append(
        reckoned(
            "length",
            "Overall length",
            worked("bush + flange", s.height, s.head_height)
            if s.kind == "bush"
            else worked("locating part + shank + head", s.height, s.shank_length, s.head_height),
            step=0.1,
            features=("body",),
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
                _least_play_formula(s),
                Limits(0.0, low, high, 6 * high),
                (
                    "it goes in and locates",
                    "tighter than this fit: it goes in with a push, or jams"
                    if s.play < low
                    else "looser than this fit: it locates no closer than that",
                    "it does not go in" if s.play < 0 else "it locates nothing",
                ),
                step=0.001,
                features=("body", "hole"),
                figures=("least_play", "locating_diameter", "hole"),
                remedies=("locating_diameter",),
            )
        )
    if s.kind != "bush":
        found.append(
            judged(
                "round",
                "Hole roundness",
                _uneven_formula(s),
                Limits(marginal_above=0.02, no_above=0.2),
                (
                    "round and parallel enough",
                    "uneven: the tightest place rules, elsewhere it shakes",
                    "so uneven it has to be bored or bushed first",
                ),
                step=0.001,
                features=("hole",),
                figures=("hole",),
            )
        )
    if s.kind in ("pin", "relieved"):
        found.append(
            judged(
                "press",
                "Shank interference",
                _press_formula(s),
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
            )
        )
        found.append(
            judged(
                "shank_diameter",
                "Shank length in plate",
                worked("plate − shank", v.number("plate_thickness"), s.shank_length),
                Limits(0.0, 0.0),
                ("it ends inside", "", "it stands out below: the plate rocks on it"),
                step=0.1,
                features=("shank_diameter",),
                figures=("shank_length", "plate_thickness"),
                remedies=("shank_length",),
            )
        )
        found.append(
            judged(
                "stands",
                "Shank length ratio",
                worked("shank length/Ø", s.shank_length, s.shank),
                Limits(0.6, 1.0),
                ("it stands square", "short: it leans when the work is pushed on it", "it works loose"),
                unit="× d",
                features=("shank_diameter",),
                figures=("shank_length",),
                remedies=("shank_length",),
            )
        )
        found.append(
            judged(
                "jams",
                "Locating length ratio",
                worked("locating length/hole", s.height, s.depth, source="deep"),
                Limits(marginal_above=0.75, no_above=1.0),
                ("the work comes off without tilting", "long in its hole: lift the work square", "it stands out above the work"),
                unit="× hole",
                features=("body",),
                figures=("locating_length", "hole_depth"),
                remedies=("locating_length",),
            )
        )
    if s.kind == "relieved":
        found.append(
            judged(
                "apart",
                "Pin spacing over Ø",
                worked("spacing/Ø", s.v.number("pin_spacing"), term(s.size, 4)),
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
            )
        )
        found.append(
            judged(
                "land_width",
                "Land width, worst spacing",
                worked("widest land − land", term(s.widest_land, 4), s.land),
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
            )
        )
        found.append(
            judged(
                "wears",
                "Land wear",
                worked("land/Ø", s.land, s.size),
                Limits(0.06, 0.12),
                ("it lasts", "narrow: it wears soon", "a knife edge"),
                unit="× d",
                features=("land_width",),
                figures=("land_width",),
                remedies=("land_width",),
            )
        )
    if s.kind == "pivot":
        found.append(
            judged(
                "shoulder",
                "Shoulder to seat on",
                worked("(journal − thread)/2", s.size, s.thread.major_mm),
                Limits(0.5, 1.0),
                ("it seats square", "narrow: it digs into soft plates", "nothing seats"),
                step=0.1,
                features=("shank_diameter",),
                figures=("thread",),
                remedies=("thread",),
            )
        )
        found.append(
            judged(
                "end_float",
                "End float",
                worked("journal − part", s.height, s.depth),
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
            )
        )
        found.append(
            judged(
                "head_diameter",
                "Head holds the part",
                worked("head/journal", s.head, s.size),
                Limits(1.1, 1.3),
                ("it cannot slip off", "a small lip", "the part slips off"),
                unit="× d",
                features=("head_diameter",),
                figures=("head_diameter",),
                remedies=("head_diameter",),
            )
        )
        found.append(
            judged(
                "engaged",
                "Thread long enough",
                worked("thread length/d", s.shank_length, s.thread.major_mm),
                Limits(0.8, 1.0),
                ("it holds", "short in steel", "it strips"),
                unit="× d",
                features=("shank_diameter",),
                figures=("shank_length",),
                remedies=("shank_length",),
            )
        )
    return found


def _bush(s: LocatorSizes) -> list[Check]:
    limit = max(0.012, 0.0015 * s.size)
    return [
        judged(
            "holds",
            "Interference, widest bore",
            _press_least_formula(s),
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
        ),
        judged(
            "splits",
            "Interference, tightest bore",
            _press_most_formula(s),
            Limits(marginal_above=limit, no_above=2.5 * limit),
            ("it goes in with a press or a draw bolt", "tight: chill the bush or warm the housing", "it may split the casting"),
            step=0.001,
            features=("body", "hole"),
            figures=("press_most", "locating_diameter"),
            remedies=("locating_diameter",),
        ),
        judged(
            "wall",
            "Bush wall",
            _wall_formula(s),
            Limits(1.0, max(1.5, 0.08 * s.size)),
            ("it keeps its shape", "thin: turn it last, on a plug", "it folds when it is pressed"),
            step=0.01,
            features=("body",),
            figures=("wall", "bush_bore"),
            remedies=("bush_bore",),
        ),
        judged(
            "long",
            "Bush length",
            worked("bore depth − bush", s.depth, s.height),
            Limits(0.0, 0.0),
            ("it ends inside", "", "it stands out at the far side"),
            step=0.1,
            features=("body", "hole"),
            figures=("locating_length", "hole_depth"),
            remedies=("locating_length",),
        ),
        judged(
            "even",
            "Housing bore evenness",
            _uneven_formula(s),
            Limits(marginal_above=max(0.03, limit)),
            ("one press fit does for all of it", "one Ø cannot fit it everywhere: bore it even, or bond it", ""),
            step=0.001,
            features=("hole",),
            figures=("hole",),
        ),
    ]
