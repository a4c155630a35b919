"""What follows from the sizes of a ball detent, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.detent.sizes import COIL_STRESS, FLOWS, MU, PARAMETERS, SHEAR_MODULUS, SLOPE, DetentSizes
from elbrix.design.made_of import mass
from elbrix.mechanics.drilling import POINT
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked

_MAX = 99999.0


def _flank_formula(s: DetentSizes) -> Worked:
    return worked("90 − asin(1 − g/(ball/2))", s.groove, s.ball)


def figures(s: DetentSizes) -> list[Figure]:
    v, n = s.v, format_number
    seat = "bore" if s.kind == "staked" else "plunger"
    n(s.rate, 5)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "rate",
            "Spring rate",
            worked(
                "G·w⁴/(8·(outer Ø − w)³·n)",
                SHEAR_MODULUS,
                s.wire,
                s.coil,
                s.coils,
                source="spring steel wire; measure it with a scale when it matters",
            ),
            unit="N/mm",
            step=0.01,
            features=("spring",),
        ),
        reckoned(
            "in_groove",
            "Spring length in the groove",
            worked(f"{seat} − ball + gap + groove", s.seat, s.ball, s.gap, s.groove),
            step=0.01,
            features=("spring",),
        ),
        reckoned(
            "ridden_out",
            "Spring length ridden out",
            worked(f"{seat} − ball + gap", s.seat, s.ball, s.gap),
            step=0.01,
            features=("spring",),
        ),
        reckoned(
            "force_in",
            "Spring force in the groove",
            worked("rate·(free − length)", term(s.rate, 5), s.free, term(s.in_groove, 4)),
            unit="N",
            step=0.1,
            features=("spring",),
        ),
        reckoned(
            "force_out",
            "Spring force ridden out",
            worked("rate·(free − length)", term(s.rate, 5), s.free, term(s.ridden_out, 4)),
            unit="N",
            step=0.1,
            features=("spring",),
        ),
        reckoned(
            "solid",
            "Spring length, solid",
            worked("w·(n + 2)", s.wire, s.coils, source="closed ends"),
            step=0.01,
            features=("spring",),
        ),
        reckoned("flank", "Groove edge on the ball", _flank_formula(s), unit="deg", step=0.1, features=("groove",)),
        Figure(
            key="holds",
            label="Holding force",
            value=min(s.holds_n, _MAX),
            unit="N",
            step=0.1,
            features=("groove",),
            derivation=Derivation(
                "F·(tan β + µ)/(1 − µ·tan β)",
                f"{n(s.force(s.in_groove), 5)}·(tan({n(s.flank_deg, 5)}°) + {n(MU)})/(1 − {n(MU)}·tan({n(s.flank_deg, 5)}°))"
                if s.holds_n < _MAX
                else f"{_MAX:g}",
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
        reckoned(
            "touch",
            "Drill reading from touch",
            worked(f"bore depth + {POINT:g}·drill", s.deep, s.bore, source="its point touching the face reads nothing"),
            step=0.05,
            features=("bore",),
        ),
        reckoned("mass", "Mass", mass(s.volume, s.metal.density_kg_m3), unit="kg", step=0.001, features=("body",)),
    ]


def _spring(s: DetentSizes) -> list[Check]:
    c = s.mean_coil / s.wire
    return [
        judged(
            "pressed",
            "Spring pressed in the groove",
            worked("free − length in the groove", s.free, term(s.in_groove, 4)),
            Limits(0.0, 0.3),
            ("it presses the ball into the groove", "it hardly presses", "it is loose: the ball rattles"),
            step=0.05,
            features=("spring",),
            figures=("free_length", "in_groove"),
            remedies=("bore_depth", "length", "free_length"),
        ),
        judged(
            "coils_meet",
            "Coils apart, ridden out",
            worked("length ridden out − solid", term(s.ridden_out, 4), term(s.solid, 4)),
            Limits(0.0, 0.1 * max(0.5, s.free - s.solid)),
            ("the coils stay apart", "the coils nearly meet", "the spring is solid: the ball cannot ride out, something breaks"),
            step=0.05,
            features=("spring",),
            figures=("ridden_out", "solid"),
            remedies=("bore_depth", "length", "coils"),
        ),
        judged(
            "wire_bears",
            "Shear in the wire",
            worked(
                "8·F·Dm/(π·w³)·((4·C − 1)/(4·C − 4) + 0.615/C)",
                term(max(0.0, s.force(s.ridden_out)), 5),
                s.mean_coil,
                s.wire,
                term(c, 5),
            ),
            Limits(marginal_above=COIL_STRESS[0], no_above=COIL_STRESS[1]),
            ("it stays as long as it is", "it sets a little in time", "it sets or breaks: thicker wire, or pressed less"),
            unit="MPa",
            step=1,
            features=("spring",),
            figures=("force_out", "wire"),
            remedies=("wire", "bore_depth", "length"),
        ),
        judged(
            "spring_slides",
            "Spring in the bore",
            worked("bore − spring's outside", s.bore, s.coil),
            Limits(0.1, 0.2, 0.25 * s.bore + 0.5),
            ("it does not rub", "tight: it rubs when it is pressed" if s.bore - s.coil < 0.2 else "loose: it buckles", "it jams"),
            step=0.05,
            features=("spring", "bore"),
            figures=("bore", "coil"),
            remedies=("bore", "coil"),
        ),
    ]


def checks(s: DetentSizes) -> list[Check]:
    v = s.v
    wanted = v.number("wanted")
    words = "behind the drill's point" if s.kind == "staked" else "in front of the cone"
    return [
        judged(
            "holds_enough",
            "Holding force over wanted",
            worked("holding force/wanted", term(min(s.holds_n, _MAX), 5), wanted),
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
        ),
        judged(
            "rides_out",
            "Groove edge on the ball",
            _flank_formula(s),
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
        ),
        *_spring(s),
        judged(
            "reaches",
            "Ball reaches the groove",
            worked("most out of the mouth − gap − groove", term(s.proud, 4), s.gap, s.groove),
            Limits(0.0, 0.1),
            ("it comes out far enough", "it only just reaches the floor of the groove", "its mouth stops it before the groove"),
            step=0.05,
            features=("mouth", "groove"),
            figures=("proud", "gap", "groove"),
            remedies=("mouth", "gap", "groove", "bore_depth"),
        ),
        judged(
            "kept",
            "Mouth under the ball",
            worked("ball − mouth", s.ball, s.mouth),
            Limits(0.05, 0.15),
            ("the ball stays in when the lever is off", "a thin edge keeps it", "the ball jumps out: into an eye, or lost"),
            step=0.05,
            features=("mouth", "ball"),
            figures=("mouth", "ball"),
            remedies=("mouth",),
        ),
        judged(
            "ball_slides",
            "Ball in the bore",
            worked("bore − ball", s.bore, s.ball),
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
        ),
        judged(
            "wall",
            "Wall under the thread",
            worked("(root of the thread − bore)/2", term(s.thread.minor_d_mm, 4), s.bore),
            Limits(0.5, 1.0),
            ("a sound wall", "thin: cut the thread before the bore", "it tears when the thread is cut"),
            step=0.05,
            features=("body", "bore"),
            figures=("thread", "bore"),
            remedies=("thread",),
        ),
        judged(
            "floor",
            f"Metal {words}",
            worked(f"length − depth − {POINT:g}·bore", s.length, s.deep, s.bore)
            if s.kind == "staked"
            else worked(f"length − depth − {SLOPE:g}·(bore − mouth)/2", s.length, s.deep, s.bore, s.mouth),
            Limits(0.3, 1.0) if s.kind == "staked" else Limits(0.1, 0.25),
            ("sound", "thin", "it opens"),
            step=0.05,
            features=("bore", "body"),
            figures=("bore_depth", "length"),
            remedies=("length",),
        ),
        judged(
            "track",
            "Track in the plate",
            worked(
                f"F/(π·{FLOWS:g}·yield)/ball",
                term(max(0.0, s.force(s.ridden_out)), 5),
                term(s.metal.yield_mpa, 6),
                s.ball,
                source="a plate of the plunger's material, not hardened",
            ),
            Limits(marginal_above=0.01, no_above=0.05),
            ("too shallow to feel", "it rolls a track one feels: harden the plate", "it ploughs a groove of its own"),
            step=0.001,
            features=("ball", "groove"),
            figures=("force_out", "ball"),
            remedies=("ball", "groove"),
        ),
    ]
