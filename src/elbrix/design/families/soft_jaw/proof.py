"""What follows from the sizes of a soft jaw, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.bores import hole_checks
from elbrix.design.families.soft_jaw.nest import largest_cutter
from elbrix.design.families.soft_jaw.sizes import GRIP_LEAST, GRIP_SHARE, PARAMETERS, WALL_BEHIND, WALL_OVER, Sizes
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, Working, num
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind


def figures(s: Sizes, shop: Shop) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        Figure(
            key="push",
            label="The work is pushed with",
            value=s.push_n / 1000,
            unit="kN",
            features=("work",),
            working=Working(
                "torque × force per N·m",
                f"{num(v.number('torque'))}·{num(v.number('force_per'))}",
                "without losses in a soft jaw",
            ),
        ),
        Figure(
            key="seat",
            label="Work rests above the bed",
            value=s.seat,
            step=0.1,
            features=("grip",),
            working=Working("height − grip", f"{num(s.height)} − {num(s.grip)}"),
        ),
        Figure(
            key="mass",
            label="Mass of one",
            value=s.volume * s.density * 1e-9,
            unit="kg",
            features=("jaw",),
            working=Working("jaw less its recess × density, holes not taken off", f"{num(s.volume, 1)}·{s.density:g}/1000000000"),
        ),
    ]
    if s.kind == "pins":
        e, c, lean, out = (num(x, 4) for x in (v.number("pin_error"), s.play, v.number("pin_lean"), v.number("pin_out")))
        found.append(
            Figure(
                key="out_of_square",
                label="Out of square at worst",
                value=s.out_of_square,
                step=0.001,
                features=("pins",),
                working=Working(
                    "W·(2·e + c + lean·out)/L",
                    f"{num(v.number('square_over'))}·(2·{e} + {c} + {lean}·{out})/{num(v.number('pins_apart'))}",
                    "each pin off by e, play c, lean",
                ),
            )
        )
    if s.kind == "round":
        found.append(
            Figure(
                key="nest_d",
                label="Bore the nest Ø",
                value=2 * s.nest_r,
                step=0.01,
                features=("nest",),
                working=Working(
                    "work + larger by",
                    f"{num(s.work_deep)} + {num(v.number('over'))}",
                    "closed on the spacer, at the working torque",
                ),
            )
        )
    if s.kind == "vee":
        half = s.v_half
        found.append(
            Figure(
                key="v_deep",
                label="V, deep",
                value=s.v_deep,
                step=0.01,
                features=("v",),
                working=Working("(M/2)/tan(A/2)", f"({num(s.v_mouth)}/2)/tan({num(math.degrees(half))}°)"),
            )
        )
        found.append(
            Figure(
                key="v_most",
                label="Holds up to Ø",
                value=s.v_mouth / math.cos(half),
                step=0.1,
                features=("v",),
                working=Working("M/cos(A/2)", f"{num(s.v_mouth)}/cos({num(math.degrees(half))}°)"),
            )
        )
    if s.kind in ("round", "outline"):
        found.append(
            Figure(
                key="behind",
                label="Metal behind the nest",
                value=s.behind,
                step=0.1,
                features=("nest",),
                working=Working("thickness − recess", f"{num(s.thick)} − {num(s.recess, 4)}"),
            )
        )
    if s.kind == "outline":
        owned = tuple(c.diameter_mm for c in shop.cutters_of(CutterKind.END_MILL))
        best = largest_cutter(s.ring, v.number("clearance"), owned)
        found.append(
            Figure(
                key="best_cutter",
                label="Largest owned that does",
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
                text=f"{len(s.nest.reliefs)} of Ø{num(v.number('cutter'))}",
                features=("nest",),
            )
        )
    return found


def checks(s: Sizes, shop: Shop) -> list[Check]:
    v = s.v
    need = max(GRIP_LEAST, GRIP_SHARE * v.number("work_high"))
    found = [
        judged(
            "grip",
            "Held over enough",
            s.grip,
            Limits(0.5 * need, need),
            (
                "a tenth of its height, 3 at least",
                "less than a tenth of its height, or than 3: light cuts",
                "it tips out of the jaws",
            ),
            features=("grip", "work"),
            figures=("grip", "work_high"),
            mends=("grip",),
            step=0.1,
            working=("grip, wanted max(3; 0.1·high)", num(s.grip)),
        ),
        judged(
            "opens",
            "Vise opens far enough",
            v.number("opening") - _between(s),
            Limits(0.0, 2.0),
            ("the work goes in", "only just: no room to lay it in", "the work does not go in between"),
            step=0.1,
            features=("work", "vise"),
            figures=("opening", "work_deep"),
            mends=("thickness",),
            working=("opening − what jaws and work take", f"{num(v.number('opening'))} − {num(_between(s), 4)}"),
        ),
        judged(
            "over_heads",
            "Metal over the screws' heads",
            s.over_heads,
            Limits(0.0, WALL_OVER),
            ("the recess stays clear of them", "thin over a head", "the recess opens a counterbore"),
            step=0.1,
            features=("screws",),
            figures=("above", "grip"),
            mends=("grip", "height"),
            working=("from the recess to the counterbore", num(s.over_heads, 4)),
        ),
        *hole_checks(s.holes, s.thick, s.edge, v.word("material"), ("width", "height")),
    ]
    if s.kind in ("ledge", "vee", "round", "outline"):
        found.append(
            judged(
                "behind",
                "Metal behind the recess",
                s.behind,
                Limits(0.5 * WALL_BEHIND, WALL_BEHIND),
                ("stiff behind the push", "thin: it gives under the push", "it springs, or breaks through"),
                step=0.1,
                features=("nest", "jaw"),
                figures=("thickness",),
                mends=("thickness", "spacer"),
                working=("thickness − recess", f"{num(s.thick)} − {num(s.recess, 4)}"),
            )
        )
    if s.kind == "pins":
        wanted, reach = v.number("square_to"), v.number("pins_apart") + s.pin
        found.append(
            judged(
                "square",
                "Work comes out square",
                s.out_of_square,
                Limits(close_above=0.8 * wanted, no_above=wanted),
                (
                    f"within {num(wanted)} over {num(v.number('square_over'))}",
                    "all of what is allowed",
                    "not so close: pins farther apart, or placed better",
                ),
                step=0.001,
                features=("pins",),
                figures=("out_of_square", "pins_apart", "pin_error"),
                mends=("pins_apart", "pin_error", "pin_fit"),
                working=(
                    "W·(2·e + c + lean·out)/L",
                    (
                        f"{num(v.number('square_over'))}·(2·{num(v.number('pin_error'), 4)} + {num(s.play, 4)} +"
                        f" {num(v.number('pin_lean'), 5)}·{num(v.number('pin_out'))})/{num(v.number('pins_apart'))}"
                    ),
                ),
            )
        )
        found.append(
            judged(
                "on_pins",
                "Work lies on both pins",
                v.number("work_wide") - reach,
                Limits(0.0, 1.0),
                ("both are under it", "one is at its very corner", "it does not reach both pins"),
                step=0.1,
                features=("pins", "work"),
                figures=("pins_apart", "work_wide"),
                mends=("pins_apart",),
                working=(
                    "work along − pins apart − pin",
                    f"{num(v.number('work_wide'))} − {num(v.number('pins_apart'))} − {num(s.pin, 3)}",
                ),
            )
        )
        under = s.work_deep - v.number("pin_out") * (2 if v.word("jaws") == "pair" else 1)
        found.append(
            judged(
                "pin_out",
                "Pins clear of the other jaw",
                under,
                Limits(0.0, 0.5),
                ("the jaws close on the work", "only just", "the pins meet before the jaws hold the work"),
                step=0.1,
                features=("pins",),
                figures=("pin_out", "work_deep"),
                mends=("pin_out",),
                working=(
                    "work between − pins out",
                    f"{num(s.work_deep)} − {num(v.number('pin_out'))}·{2 if v.word('jaws') == 'pair' else 1}",
                ),
            )
        )
    if s.kind == "round":
        over = v.number("over")
        found.append(
            judged(
                "bite",
                "Nest against the work",
                over,
                Limits(0.0, 0.04, 0.2, 1.0),
                (
                    "it touches in the middle of the nest",
                    "so close it may bite at its edges" if over < 0.04 else "it touches on a line: it marks soft work",
                    "a nest smaller than the work bites at its edges" if over < 0 else "it holds on a line and turns",
                ),
                step=0.01,
                features=("nest",),
                figures=("over",),
                mends=("over",),
                working=("nest Ø − work Ø", f"{num(2 * s.nest_r, 4)} − {num(s.work_deep)}"),
            )
        )
        found.append(
            judged(
                "split",
                "Jaws part inside the work",
                s.work_deep - s.spacer,
                Limits(0.0, 0.3 * s.work_deep),
                ("each jaw holds a good part of the round", "little of it lies in each jaw", "the spacer is as wide as the work"),
                step=0.1,
                features=("nest",),
                figures=("spacer",),
                mends=("spacer",),
                working=("work Ø − spacer", f"{num(s.work_deep)} − {num(s.spacer)}"),
            )
        )
    if s.kind == "outline":
        found.append(
            judged(
                "reached",
                "Work goes into the nest",
                s.nest.left_mm2,
                Limits(close_above=0.0, no_above=0.05),
                (
                    "nothing of it meets metal",
                    "a trace at the corners: file it",
                    "metal stands where the work should be: relieve the corners, or a smaller cutter",
                ),
                unit="mm²",
                step=0.01,
                features=("nest",),
                figures=("cutter", "clearance", "best_cutter"),
                mends=("cutter", "corners", "clearance"),
                working=("work's area outside the nest", num(s.nest.left_mm2, 4)),
            )
        )
        end = s.width / 2 - s.recess_half
        found.append(
            judged(
                "ends",
                "Metal at the nest's ends",
                end,
                Limits(2.0, WALL_BEHIND),
                ("stiff beside it", "thin at the end", "it breaks out at the end"),
                step=0.1,
                features=("nest", "jaw"),
                figures=("width",),
                mends=("width",),
                working=("half the jaw − nest", f"{num(s.width / 2)} − {num(s.recess_half, 4)}"),
            )
        )
    if s.kind == "vee":
        d, least = s.work_deep, s.v_mouth * math.cos(s.v_half)
        most = s.v_mouth / math.cos(s.v_half)
        found.append(
            judged(
                "v_holds",
                "Round inside the mouth",
                min(most - d, d - least if v.word("jaws") == "pair" else most - d),
                Limits(0.0, 0.3),
                (
                    "it touches inside, the jaws apart",
                    "near the edge, or the jaws all but meet",
                    "it rides on the edges, or the jaws meet first",
                ),
                step=0.1,
                features=("v", "work"),
                figures=("v_mouth", "work_deep"),
                mends=("v_mouth", "v_angle"),
                working=(
                    "least of: below the largest, above the smallest it holds",
                    f"min({num(most - d, 4)}; {num(d - least, 4)})",
                ),
            )
        )
    return found


def _between(s: Sizes) -> float:
    """What the vise opens to with the work in: both jaws and the distance of their faces."""
    count = 2 if s.v.word("jaws") == "pair" else 1
    if s.kind == "vee":
        face = (
            s.work_deep / math.sin(s.v_half) - 2 * s.v_deep
            if count == 2
            else s.work_deep / 2 * (1 + 1 / math.sin(s.v_half)) - s.v_deep
        )
    elif s.kind in ("round", "outline"):
        face = s.spacer
    else:
        face = s.work_deep - (count * s.ledge if s.kind == "ledge" else 0.0)
    # Nests have to open past the work, a ledge is laid on from above.
    room = s.recess * count if s.kind in ("round", "outline") else 0.0
    return count * s.thick + face + room
