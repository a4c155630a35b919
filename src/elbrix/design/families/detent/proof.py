"""What follows from the sizes of a ball detent, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.detent.sizes import COIL_STRESS, FLOWS, MU, PARAMETERS, SHEAR_MODULUS, DetentSizes
from elbrix.mechanics.drilling import point_mm
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, format_number

_MOST = 99999.0


def figures(s: DetentSizes) -> list[Figure]:
    v, n = s.v, format_number
    seat = "bore" if s.kind == "staked" else "plunger"
    rate = n(s.rate, 5)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="rate",
            label="Spring rate",
            value=s.rate,
            unit="N/mm",
            step=0.01,
            features=("spring",),
            derivation=Derivation(
                "G·w⁴/(8·Dm³·n)",
                f"{SHEAR_MODULUS:g}·{n(s.wire)}⁴/(8·({n(s.coil)} − {n(s.wire)})³·{n(s.coils)})",
                "spring steel wire; measure it with a scale when it matters",
            ),
        ),
        Figure(
            key="in_groove",
            label="Spring length in the groove",
            value=s.in_groove,
            step=0.01,
            features=("spring",),
            derivation=Derivation(f"{seat} − ball + gap + groove", f"{n(s.seat)} − {n(s.ball)} + {n(s.gap)} + {n(s.groove)}"),
        ),
        Figure(
            key="ridden_out",
            label="Spring length ridden out",
            value=s.ridden_out,
            step=0.01,
            features=("spring",),
            derivation=Derivation(f"{seat} − ball + gap", f"{n(s.seat)} − {n(s.ball)} + {n(s.gap)}"),
        ),
        Figure(
            key="force_in",
            label="Spring force in the groove",
            value=s.force(s.in_groove),
            unit="N",
            step=0.1,
            features=("spring",),
            derivation=Derivation("rate·(free − length)", f"{rate}·({n(s.free)} − {n(s.in_groove, 4)})"),
        ),
        Figure(
            key="force_out",
            label="Spring force ridden out",
            value=s.force(s.ridden_out),
            unit="N",
            step=0.1,
            features=("spring",),
            derivation=Derivation("rate·(free − length)", f"{rate}·({n(s.free)} − {n(s.ridden_out, 4)})"),
        ),
        Figure(
            key="solid",
            label="Spring length, solid",
            value=s.solid,
            step=0.01,
            features=("spring",),
            derivation=Derivation("w·(n + 2)", f"{n(s.wire)}·({n(s.coils)} + 2)", "closed ends"),
        ),
        Figure(
            key="flank",
            label="Groove edge on the ball",
            value=s.flank_deg,
            unit="deg",
            step=0.1,
            features=("groove",),
            derivation=Derivation("90 − asin(1 − g/(ball/2))", f"90 − asin(1 − {n(s.groove)}/({n(s.ball)}/2))"),
        ),
        Figure(
            key="holds",
            label="Holding force",
            value=min(s.holds_n, _MOST),
            unit="N",
            step=0.1,
            features=("groove",),
            derivation=Derivation(
                "F·(tan β + µ)/(1 − µ·tan β)",
                f"{n(s.force(s.in_groove), 5)}·(tan({n(s.flank_deg, 5)}°) + {n(MU)})/(1 − {n(MU)}·tan({n(s.flank_deg, 5)}°))"
                if s.holds_n < _MOST
                else f"{_MOST:g}",
                "sideways at the ball, friction as lubricated steel",
            ),
        ),
        Figure(
            key="proud",
            label="Ball out of the mouth, most",
            value=s.proud,
            step=0.01,
            features=("mouth", "ball"),
            note="as far as the mouth's edge lets it",
        ),
        Figure(
            key="touch",
            label="Drill reading from touch",
            value=s.deep + point_mm(s.bore),
            step=0.05,
            features=("bore",),
            derivation=Derivation(
                "bore depth + 0.3004·drill", f"{n(s.deep)} + 0.3004·{n(s.bore)}", "its point touching the face reads nothing"
            ),
        ),
        Figure(
            key="mass",
            label="Mass",
            value=s.volume * s.metal.density_kg_m3 * 1e-9,
            unit="kg",
            step=0.001,
            features=("body",),
            derivation=Derivation("volume × density", f"{n(s.volume, 1)}·{s.metal.density_kg_m3:g}/1000000000"),
        ),
    ]


def _spring(s: DetentSizes) -> list[Check]:
    n, c = format_number, s.mean_coil / s.wire
    return [
        judged(
            "pressed",
            "Spring pressed in the groove",
            s.free - s.in_groove,
            Limits(0.0, 0.3),
            ("it presses the ball into the groove", "it hardly presses", "it is loose: the ball rattles"),
            step=0.05,
            features=("spring",),
            figures=("free_length", "in_groove"),
            remedies=("bore_depth", "length", "free_length"),
            derivation=("free − length in the groove", f"{n(s.free)} − {n(s.in_groove, 4)}"),
        ),
        judged(
            "coils_meet",
            "Coils apart, ridden out",
            s.ridden_out - s.solid,
            Limits(0.0, 0.1 * max(0.5, s.free - s.solid)),
            ("the coils stay apart", "the coils nearly meet", "the spring is solid: the ball cannot ride out, something breaks"),
            step=0.05,
            features=("spring",),
            figures=("ridden_out", "solid"),
            remedies=("bore_depth", "length", "coils"),
            derivation=("length ridden out − solid", f"{n(s.ridden_out, 4)} − {n(s.solid, 4)}"),
        ),
        judged(
            "wire_bears",
            "Shear in the wire",
            s.stress,
            Limits(marginal_above=COIL_STRESS[0], no_above=COIL_STRESS[1]),
            ("it stays as long as it is", "it sets a little in time", "it sets or breaks: thicker wire, or pressed less"),
            unit="MPa",
            step=1,
            features=("spring",),
            figures=("force_out", "wire"),
            remedies=("wire", "bore_depth", "length"),
            derivation=(
                "8·F·Dm/(π·w³)·((4·C − 1)/(4·C − 4) + 0.615/C)",
                (
                    f"8·{n(max(0.0, s.force(s.ridden_out)), 5)}·{n(s.mean_coil)}/(π·{n(s.wire)}³)·"
                    f"((4·{n(c, 5)} − 1)/(4·{n(c, 5)} − 4) + 0.615/{n(c, 5)})"
                ),
            ),
        ),
        judged(
            "spring_slides",
            "Spring in the bore",
            s.bore - s.coil,
            Limits(0.1, 0.2, 0.25 * s.bore + 0.5),
            ("it does not rub", "tight: it rubs when it is pressed" if s.bore - s.coil < 0.2 else "loose: it buckles", "it jams"),
            step=0.05,
            features=("spring", "bore"),
            figures=("bore", "coil"),
            remedies=("bore", "coil"),
            derivation=("bore − spring's outside", f"{n(s.bore)} − {n(s.coil)}"),
        ),
    ]


def checks(s: DetentSizes) -> list[Check]:
    v, n = s.v, format_number
    wanted = v.number("wanted")
    needs = s.gap + s.groove
    floor, words = (s.floor, "behind the drill's point") if s.kind == "staked" else (s.straight, "in front of the cone")
    return [
        judged(
            "holds_enough",
            "Holding force over wanted",
            min(s.holds_n, _MOST) / wanted,
            Limits(0.6, 0.9, 1.5, 3.0),
            (
                "it holds and lets go as wanted",
                "lighter than wanted" if s.holds_n < wanted else "heavier than wanted",
                "it does not hold" if s.holds_n < wanted else "it holds so hard that the hand wrenches it: a start",
            ),
            unit="×",
            features=("groove", "spring"),
            figures=("holds", "wanted"),
            remedies=("bore_depth", "length", "groove"),
            derivation=("holding force/wanted", f"{n(min(s.holds_n, _MOST), 5)}/{n(wanted)}"),
        ),
        judged(
            "rides_out",
            "Groove edge on the ball",
            s.flank_deg,
            Limits(10.0, 25.0, 60.0, 80.0),
            (
                "it clicks, and rides out",
                "shallow: it creeps out" if s.flank_deg < 25 else "steep: it comes out with a jerk",
                "no groove to speak of" if s.flank_deg < 10 else "it locks: friction holds it there",
            ),
            unit="deg",
            step=0.5,
            features=("groove",),
            figures=("flank",),
            remedies=("groove", "ball"),
            derivation=("90 − asin(1 − g/(ball/2))", f"90 − asin(1 − {n(s.groove)}/({n(s.ball)}/2))"),
        ),
        *_spring(s),
        judged(
            "reaches",
            "Ball reaches the groove",
            s.proud - needs,
            Limits(0.0, 0.1),
            ("it comes out far enough", "it only just reaches the floor of the groove", "its mouth stops it before the groove"),
            step=0.05,
            features=("mouth", "groove"),
            figures=("proud", "gap", "groove"),
            remedies=("mouth", "gap", "groove", "bore_depth"),
            derivation=("most out of the mouth − gap − groove", f"{n(s.proud, 4)} − {n(s.gap)} − {n(s.groove)}"),
        ),
        judged(
            "kept",
            "Mouth under the ball",
            s.ball - s.mouth,
            Limits(0.05, 0.15),
            ("the ball stays in when the lever is off", "a thin edge keeps it", "the ball jumps out: into an eye, or lost"),
            step=0.05,
            features=("mouth", "ball"),
            figures=("mouth", "ball"),
            remedies=("mouth",),
            derivation=("ball − mouth", f"{n(s.ball)} − {n(s.mouth)}"),
        ),
        judged(
            "ball_slides",
            "Ball in the bore",
            s.bore - s.ball,
            Limits(0.01, 0.03, 0.3, 1.0),
            (
                "it runs free",
                "tight: dirt stops it" if s.bore - s.ball < 0.03 else "loose: the detent has that much play",
                "it jams",
            ),
            step=0.01,
            features=("ball", "bore"),
            figures=("bore", "ball"),
            remedies=("bore",),
            derivation=("bore − ball", f"{n(s.bore)} − {n(s.ball)}"),
        ),
        judged(
            "wall",
            "Wall under the thread",
            s.wall,
            Limits(0.5, 1.0),
            ("a sound wall", "thin: cut the thread before the bore", "it tears when the thread is cut"),
            step=0.05,
            features=("body", "bore"),
            figures=("thread", "bore"),
            remedies=("thread",),
            derivation=("(root of the thread − bore)/2", f"({n(s.thread.minor_d_mm, 4)} − {n(s.bore)})/2"),
        ),
        judged(
            "floor",
            f"Metal {words}",
            floor,
            Limits(0.3, 1.0) if s.kind == "staked" else Limits(0.1, 0.25),
            ("sound", "thin", "it opens"),
            step=0.05,
            features=("bore", "body"),
            figures=("bore_depth", "length"),
            remedies=("length",),
            derivation=(
                ("length − depth − 0.3004·bore", f"{n(s.length)} − {n(s.deep)} − 0.3004·{n(s.bore)}")
                if s.kind == "staked"
                else (
                    "length − depth − 0.6009·(bore − mouth)/2",
                    f"{n(s.length)} − {n(s.deep)} − 0.6009·({n(s.bore)} − {n(s.mouth)})/2",
                )
            ),
        ),
        judged(
            "track",
            "Track in the plate",
            s.track,
            Limits(marginal_above=0.01, no_above=0.05),
            ("too shallow to feel", "it rolls a track one feels: harden the plate", "it ploughs a groove of its own"),
            step=0.001,
            features=("ball", "groove"),
            figures=("force_out", "ball"),
            remedies=("ball", "groove"),
            derivation=(
                "F/(π·3·yield)/ball",
                f"{n(max(0.0, s.force(s.ridden_out)), 5)}/(π·{n(FLOWS)}·{s.metal.yield_mpa:g})/{n(s.ball)}",
                "a plate of the plunger's material, not hardened",
            ),
        ),
    ]
