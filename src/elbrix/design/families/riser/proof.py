"""What follows from the sizes of a riser, and what may go wrong."""

from __future__ import annotations

from elbrix.design.bores import hole_checks
from elbrix.design.families.riser.sizes import HEAVY_KG, PARAMETERS, Sizes
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, Working, num


def figures(s: Sizes) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    low, up = num(v.number("lower_within"), 4), num(v.number("upper_within") if s.two else 0, 4)
    found += [
        Figure(
            key="height",
            label="It comes to",
            value=s.height,
            step=0.01,
            features=("height",),
            working=Working("lower + upper", f"{num(s.lower)} + {num(s.upper)}"),
        ),
        Figure(
            key="worst",
            label="Off at worst by ±",
            value=s.worst,
            step=0.001,
            features=("height",),
            working=Working("sum of both", f"{low} + {up}"),
        ),
        Figure(
            key="likely",
            label="Likely by ±",
            value=s.likely,
            step=0.001,
            features=("height",),
            working=Working("√(a² + b²)", f"√({low}² + {up}²)", "both at their limits the same way is rare"),
        ),
        Figure(
            key="mass",
            label="Mass of the drawn plate",
            value=s.volume * s.density * 1e-9,
            unit="kg",
            features=("plate",),
            working=Working("plate less holes × density", f"{num(s.volume, 1)}·{s.density:g}/1000000000"),
        ),
    ]
    if s.bolts:
        found.append(
            Figure(
                key="bolt_long",
                label="Bolts, under the head",
                value=s.bolt_long,
                step=1,
                features=("bolts",),
                working=Working(
                    "height − sunk + lips + d",
                    f"{num(s.height)} − {num(s.bolts[0].bore_deep)} + {num(v.readings('lip').max)} + {s.bolt[1:]}",
                    "one diameter into the nut; never down on the slot's floor",
                ),
            )
        )
    if s.two:
        found.append(
            Figure(
                key="which",
                label="Which goes where",
                value=0.0,
                unit="",
                text=f"{len(s.bolts)} {s.bolt} through to the table, {len(s.joins)} {v.word('join')} into the lower plate",
                features=("bolts", "joins"),
            )
        )
    if s.register:
        play = s.register - v.number("plug")
        found.append(
            Figure(
                key="register_play",
                label="Plug in the register, play",
                value=play,
                step=0.001,
                features=("register",),
                working=Working("register − plug", f"{num(s.register, 4)} − {num(v.number('plug'), 4)}"),
            )
        )
    return found


def checks(s: Sizes) -> list[Check]:
    v = s.v
    off, within = abs(s.height - v.number("wanted")) + s.worst, v.number("within")
    found = [
        judged(
            "height",
            "Height comes out",
            off,
            Limits(close_above=0.8 * within, no_above=within),
            (
                f"within {num(within)} whatever the plates' errors",
                "nearly all of what is allowed",
                "not so close: grind one plate to the sum",
            ),
            step=0.001,
            features=("height",),
            figures=("height", "worst", "wanted"),
            mends=("upper", "lower", "upper_within", "lower_within") if s.two else ("lower", "lower_within"),
            working=(
                "|height − wanted| + both errors",
                f"|{num(s.height, 4)} − {num(v.number('wanted'), 4)}| + {num(s.worst, 4)}",
            ),
        ),
        judged(
            "bolts",
            "Bolts to hold it",
            len(s.bolts),
            Limits(2, 3),
            ("held at three places or more", "two hold it: a single row tips across its line", "it turns on one bolt"),
            unit="",
            text=f"{len(s.bolts)} bolts",
            features=("bolts",),
            figures=("bolts",),
            working=("bolts to the table", str(len(s.bolts))),
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
                Limits(close_above=0.5 * s.clear, no_above=s.clear),
                (
                    "each lies over the middle of a slot",
                    f"{worst.name} uses up half of what its hole allows",
                    f"{worst.name} misses the slot",
                ),
                step=0.01,
                features=("bolts", "slots"),
                figures=("bolts", "slot_pitch"),
                mends=("over", "slot_pitch"),
                working=("to the nearest slot's middle", num(far)),
            )
        )
        d = float(s.bolt[1:])
        found.append(
            judged(
                "in_slot",
                "Bolt goes between the lips",
                v.readings("neck").min - d,
                Limits(0.0, 0.5),
                ("it goes through", "it only just goes through", "it does not go in"),
                step=0.01,
                features=("bolts", "slots"),
                figures=("neck", "bolt"),
                mends=("bolt",),
                working=("tightest slot − bolt", f"{num(v.readings('neck').min)} − {num(d)}"),
            )
        )
        inside = s.load_inside + 0.0 if s.load_inside > -1e6 else -9999.0
        row = len(s.polygon) < 3 or all(abs(p[1] - s.polygon[0][1]) < 1e-6 for p in s.polygon)
        found.append(
            judged(
                "load",
                "Load inside the bolts",
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
                mends=("load_x", "load_y"),
                working=("to the nearest side of the bolts' polygon; less than 0 outside", num(inside)),
            )
        )
    found += hole_checks(
        s.holes,
        s.thick,
        s.edge,
        v.word("material"),
        ("length", "width", "bolt"),
        "lower" if s.part == "lower" or not s.two else "upper",
    )
    if s.two:
        found.append(
            judged(
                "joined",
                "Thread in the lower plate",
                s.join_engaged,
                Limits(0.8, 1.0),
                ("it holds", "short: take a thicker lower plate", "it strips"),
                unit="× d",
                features=("joins",),
                figures=("lower", "join"),
                mends=("lower", "join"),
                working=("lower plate/d", f"{num(s.lower)}/{v.word('join')[1:]}"),
            )
        )
        few = len(s.joins)
        found.append(
            judged(
                "joins",
                "Plates joined",
                few,
                Limits(2, 3),
                ("at three places or more", "at two: the bolts have to do the rest", "nothing keeps them together off the table"),
                unit="",
                text=f"{few} screws",
                features=("joins",),
                figures=("joins",),
                working=("joining screws", str(few)),
            )
        )
    if s.register:
        play = s.register - v.number("plug")
        found.append(
            judged(
                "register",
                "Plug in its register",
                play,
                Limits(-0.015, -0.012, 0.025, 0.1),
                (
                    "it centres what stands on it",
                    "tight: warm the plate" if play < 0 else "loose: it centres no closer than that",
                    "it does not go in" if play < 0 else "it centres nothing",
                ),
                step=0.001,
                features=("register",),
                figures=("register", "plug"),
                mends=("register",),
                working=("register − plug", f"{num(s.register, 4)} − {num(v.number('plug'), 4)}"),
            )
        )
    kg = s.volume * s.density * 1e-9
    found.append(
        judged(
            "mass",
            "Lifting it",
            kg,
            Limits(close_above=HEAVY_KG, no_above=10 * HEAVY_KG),
            ("one person lifts it", "over 15 kg: two people or a hoist", "only a crane moves it"),
            unit="kg",
            features=("plate",),
            figures=("mass",),
            mends=("length", "width"),
            working=("drawn plate", num(kg)),
        )
    )
    return found
