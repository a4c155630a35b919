"""What follows from the sizes of a locator, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.families.locator.sizes import BAND, PARAMETERS, PRESS, Sizes
from elbrix.mechanics.pins import turn_rad
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, Working, num

#: Which of the six motions each locator holds, with the work lying on the plate. Shown so that nothing is held twice.
HOLDS = {
    "pin": "both ways along the plate; the work still turns round it",
    "relieved": "only across the line of the two pins: so the turning",
    "pivot": "all but the turning round it",
    "bush": "what runs in it: all but turning and sliding along",
}


def figures(s: Sizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    tight, size = num(s.hole.min, 4), num(s.size, 4)
    if s.kind == "bush":
        found += [
            Figure(
                key="press_least",
                label="Interference where it is widest",
                value=-s.loosest,
                step=0.001,
                features=("body", "hole"),
                working=Working("Ø − widest bore", f"{size} − {num(s.hole.max, 4)}"),
            ),
            Figure(
                key="press_most",
                label="And where it is tightest",
                value=-s.play,
                step=0.001,
                features=("body", "hole"),
                working=Working("Ø − tightest bore", f"{size} − {tight}"),
            ),
            Figure(
                key="wall",
                label="Wall",
                value=s.wall,
                step=0.01,
                features=("body",),
                working=Working("(Ø − bore)/2", f"({size} − {num(s.inner, 4)})/2"),
            ),
            Figure(
                key="closes",
                label="Its bore closes by up to",
                value=max(0.0, -s.play),
                step=0.001,
                features=("inner",),
                note="so it is finished after pressing",
                working=Working(
                    "largest interference, a thin wall gives nearly all of it to the bore", f"{num(max(0.0, -s.play), 4)}"
                ),
            ),
        ]
    else:
        found += [
            Figure(
                key="least_play",
                label="Play where it is tightest",
                value=s.play,
                step=0.001,
                features=("body", "hole"),
                working=Working("tightest hole − Ø", f"{tight} − {size}"),
            ),
            Figure(
                key="most_play",
                label="And where it is widest",
                value=s.loosest,
                step=0.001,
                features=("body", "hole"),
                working=Working("widest hole − Ø", f"{num(s.hole.max, 4)} − {size}"),
            ),
        ]
    if s.kind in ("pin", "relieved"):
        found.append(
            Figure(
                key="press",
                label="Pressed into the plate by",
                value=s.press,
                step=0.001,
                features=("shank",),
                working=Working("shank − hole in the plate", f"{num(s.shank, 4)} − {num(v.number('plate_hole'), 4)}"),
            )
        )
    if s.kind == "relieved":
        e = s.error - s.other / 2
        found += [
            Figure(
                key="widest_land",
                label="Widest land that goes in",
                value=s.widest_land,
                step=0.01,
                features=("land",),
                working=(
                    Working(
                        "((D² − d²)/4 − e²)/e, at the most d",
                        f"min({size}; ((({tight})² − ({size})²)/4 − ({num(e, 4)})²)/{num(e, 4)})",
                    )
                    if e > 0
                    else Working("the round pin's play takes the error", size, "any land goes in")
                ),
            ),
            Figure(
                key="accepted",
                label="Spacing error it takes",
                value=s.accepted,
                step=0.001,
                features=("land",),
                working=Working(
                    "c/2 + (√(w² + D² − d²) − w)/2",
                    f"{num(s.other, 4)}/2 + (√({num(s.land, 4)}² + {tight}² − {size}²) − {num(s.land, 4)})/2",
                ),
            ),
            Figure(
                key="turn",
                label="Turn the play of both leaves, ±",
                value=3600 * math.degrees(turn_rad(s.play, s.other, v.number("apart"))),
                unit="″",
                features=("body",),
                working=Working(
                    "206265·(c1 + c2)/(2·L)", f"206265·({num(s.play, 4)} + {num(s.other, 4)})/(2·{num(v.number('apart'))})"
                ),
            ),
        ]
    if s.kind == "pivot":
        found.append(
            Figure(
                key="journal",
                label="Journal, long",
                value=s.tall,
                step=0.01,
                features=("body",),
                working=Working("what turns on it + end float", f"{num(s.deep)} + {num(v.number('float'))}"),
            )
        )
    found.append(
        Figure(
            key="length",
            label="Length over all",
            value=s.length,
            step=0.1,
            features=("body",),
            working=Working(
                "bush + flange" if s.kind == "bush" else "locating part + shank + head",
                (
                    f"{num(s.tall)} + {num(s.head_high)}"
                    if s.kind == "bush"
                    else f"{num(s.tall)} + {num(s.shank_long)} + {num(s.head_high)}"
                ),
            ),
        )
    )
    found.append(Figure(key="holds", label="It holds", value=0.0, unit="", text=HOLDS[s.kind], features=("body",)))
    return found


def checks(s: Sizes) -> list[Check]:
    v = s.v
    found: list[Check] = []
    if s.kind == "bush":
        found += _bush(s)
    else:
        low, high = BAND[v.word("fit")]
        found.append(
            judged(
                "goes_in",
                "Play where the hole is tightest",
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
                figures=("least_play", "size", "hole"),
                mends=("size",),
                working=("tightest hole − Ø", f"{num(s.hole.min, 4)} − {num(s.size, 4)}"),
            )
        )
    if s.kind != "bush":
        found.append(
            judged(
                "round",
                "Hole alike all over",
                s.hole.spread,
                Limits(close_above=0.02, no_above=0.2),
                (
                    "round and parallel enough",
                    "uneven: the tightest place rules, elsewhere it shakes",
                    "so uneven it has to be bored or bushed first",
                ),
                step=0.001,
                features=("hole",),
                figures=("hole",),
                working=("widest − tightest", f"{num(s.hole.max, 4)} − {num(s.hole.min, 4)}"),
            )
        )
    if s.kind in ("pin", "relieved"):
        found.append(
            judged(
                "press",
                "Shank pressed in the plate",
                s.press,
                Limits(0.0, *PRESS, 0.03),
                (
                    "it holds, and comes out again",
                    "so light it may turn" if s.press < PRESS[0] else "tight: warm the plate, or it bulges near an edge",
                    "it falls out" if s.press < 0 else "it scores the hole or bulges the plate",
                ),
                step=0.001,
                features=("shank",),
                figures=("press", "shank"),
                mends=("shank",),
                working=("shank − hole in the plate", f"{num(s.shank, 4)} − {num(v.number('plate_hole'), 4)}"),
            )
        )
        found.append(
            judged(
                "shank",
                "Shank stays in the plate",
                v.number("plate") - s.shank_long,
                Limits(0.0, 0.0),
                ("it ends inside", "", "it stands out below: the plate rocks on it"),
                step=0.1,
                features=("shank",),
                figures=("shank_long", "plate"),
                mends=("shank_long",),
                working=("plate − shank", f"{num(v.number('plate'))} − {num(s.shank_long)}"),
            )
        )
        found.append(
            judged(
                "stands",
                "Shank long enough to stand",
                s.shank_long / s.shank,
                Limits(0.6, 1.0),
                ("it stands square", "short: it leans when the work is pushed on it", "it works loose"),
                unit="× d",
                features=("shank",),
                figures=("shank_long",),
                mends=("shank_long",),
                working=("shank, long/Ø", f"{num(s.shank_long)}/{num(s.shank)}"),
            )
        )
        found.append(
            judged(
                "jams",
                "Short enough not to jam",
                s.tall / s.deep,
                Limits(close_above=0.75, no_above=1.0),
                ("the work comes off without tilting", "long in its hole: lift the work square", "it stands out above the work"),
                unit="× hole",
                features=("body",),
                figures=("tall", "deep"),
                mends=("tall",),
                working=("locating length/hole, deep", f"{num(s.tall)}/{num(s.deep)}"),
            )
        )
    if s.kind == "relieved":
        found.append(
            judged(
                "land",
                "Land goes in at the worst spacing",
                s.widest_land - s.land,
                Limits(0.0, 0.1),
                (
                    "the work goes on at the worst spacing",
                    "it only just goes on",
                    "it will not go on: narrower land, or more play",
                ),
                step=0.01,
                features=("land",),
                figures=("widest_land", "land"),
                mends=("land", "size"),
                working=("widest land − land", f"{num(s.widest_land, 4)} − {num(s.land)}"),
            )
        )
        found.append(
            judged(
                "wears",
                "Land wide enough to last",
                s.land / s.size,
                Limits(0.06, 0.12),
                ("it lasts", "narrow: it wears soon", "a knife edge"),
                unit="× d",
                features=("land",),
                figures=("land",),
                mends=("land",),
                working=("land/Ø", f"{num(s.land)}/{num(s.size)}"),
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
                features=("shank",),
                figures=("thread",),
                mends=("thread",),
                working=("(journal − thread)/2", f"({num(s.size)} − {num(s.thread.major_mm)})/2"),
            )
        )
        found.append(
            judged(
                "float",
                "End float",
                s.tall - s.deep,
                Limits(0.0, 0.02, 0.3, 2.0),
                (
                    "it turns freely",
                    "it drags" if s.tall - s.deep < 0.02 else "it rattles",
                    "it clamps the part" if s.tall < s.deep else "it flops",
                ),
                step=0.01,
                features=("body",),
                figures=("tall", "deep"),
                mends=("tall",),
                working=("journal − part", f"{num(s.tall)} − {num(s.deep)}"),
            )
        )
        found.append(
            judged(
                "head",
                "Head holds the part",
                s.head / s.size,
                Limits(1.1, 1.3),
                ("it cannot slip off", "a small lip", "the part slips off"),
                unit="× d",
                features=("head",),
                figures=("head",),
                mends=("head",),
                working=("head/journal", f"{num(s.head)}/{num(s.size)}"),
            )
        )
        found.append(
            judged(
                "engaged",
                "Thread long enough",
                s.shank_long / s.thread.major_mm,
                Limits(0.8, 1.0),
                ("it holds", "short in steel", "it strips"),
                unit="× d",
                features=("shank",),
                figures=("shank_long",),
                mends=("shank_long",),
                working=("thread, long/d", f"{num(s.shank_long)}/{num(s.thread.major_mm)}"),
            )
        )
    return found


def _bush(s: Sizes) -> list[Check]:
    least, most = -s.loosest, -s.play
    limit = max(0.012, 0.0015 * s.size)
    return [
        judged(
            "holds",
            "It holds where the bore is widest",
            least,
            Limits(-0.01, 0.0),
            (
                "it is pressed all over",
                "loose at its widest place: a retaining compound, as its maker says",
                "it touches only at the tight places: bore it even first",
            ),
            step=0.001,
            features=("body", "hole"),
            figures=("press_least", "size"),
            mends=("size",),
            working=("Ø − widest bore", f"{num(s.size, 4)} − {num(s.hole.max, 4)}"),
        ),
        judged(
            "splits",
            "Not too tight where it is narrowest",
            most,
            Limits(close_above=limit, no_above=2.5 * limit),
            ("it goes in with a press or a draw bolt", "tight: chill the bush or warm the housing", "it may split the casting"),
            step=0.001,
            features=("body", "hole"),
            figures=("press_most", "size"),
            mends=("size",),
            working=("Ø − tightest bore", f"{num(s.size, 4)} − {num(s.hole.min, 4)}", "close above 0.0015·Ø"),
        ),
        judged(
            "wall",
            "Wall of the bush",
            s.wall,
            Limits(1.0, max(1.5, 0.08 * s.size)),
            ("it keeps its shape", "thin: turn it last, on a plug", "it folds when it is pressed"),
            step=0.01,
            features=("body",),
            figures=("wall", "inner"),
            mends=("inner",),
            working=("(Ø − bore)/2", f"({num(s.size, 4)} − {num(s.inner, 4)})/2"),
        ),
        judged(
            "long",
            "Bush not past the bore",
            s.deep - s.tall,
            Limits(0.0, 0.0),
            ("it ends inside", "", "it stands out at the far side"),
            step=0.1,
            features=("body", "hole"),
            figures=("tall", "deep"),
            mends=("tall",),
            working=("bore, deep − bush", f"{num(s.deep)} − {num(s.tall)}"),
        ),
        judged(
            "even",
            "Bore of the housing even",
            s.hole.spread,
            Limits(close_above=max(0.03, limit)),
            ("one press fit does for all of it", "one Ø cannot fit it everywhere: bore it even, or bond it", ""),
            step=0.001,
            features=("hole",),
            figures=("hole",),
            working=("widest − tightest", f"{num(s.hole.max, 4)} − {num(s.hole.min, 4)}"),
        ),
    ]
