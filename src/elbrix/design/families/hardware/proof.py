"""What follows from the sizes of clamp hardware, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.hardware import thumb
from elbrix.design.families.hardware.sizes import DRY, PARAMETERS, TURNS_OUT, HardwareSizes
from elbrix.design.hosts import measured_check
from elbrix.design.made_of import mass
from elbrix.mechanics.strength import SHEAR_OVER_YIELD
from elbrix.mechanics.tightened import ENGAGED, FULL, lip_pressure, own_screw_load, stripping
from elbrix.parameters.parameter import figure_of
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.standards.materials import material
from elbrix.standards.screws import clearance_hole

#: What is pulled, by kind.
_CALLED = {"stud": "Stud", "t_bolt": "Bolt", "shoulder_screw": "Screw", "thumb_screw": "Screw"}
#: Straps it presses on are of mild steel.
_STRAP = "mild steel"


def figures(s: HardwareSizes) -> list[Figure]:
    v = s.v
    found = [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "pull",
            "Preload",
            worked("T/(K·d)", term(v.number("torque"), 3, "N·m"), DRY, s.d, source="dry thread; it scatters by 30 % either way"),
            unit="kN",
            features=("thread",),
        ),
        reckoned(
            "mass", "Mass", mass(s.volume, s.metal.density_kg_m3, source="threads as turned"), unit="kg", features=("body",)
        ),
    ]
    if s.kind != "tall_nut":
        found.append(
            reckoned(
                "stress",
                "Stress at the weakest section",
                worked("F/A", term(s.pull_n, 4), s.area, source="stress area of the thread, or the undercut"),
                unit="MPa",
                step=1,
                features=("thread",),
            )
        )
    if s.kind in ("stud", "t_bolt"):
        found += _reach(s)
    if s.kind == "thumb_screw":
        found += thumb.figures(s)
    if s.kind == "shoulder_screw":
        found.append(
            reckoned(
                "overall",
                "Overall length",
                worked("thread + shoulder + head", s.lower, s.shoulder_length, s.head_height),
                step=0.1,
                features=("body",),
            )
        )
    return found


def _reach(s: HardwareSizes) -> list[Figure]:
    v = s.v
    lip = v.readings("lip")
    below = (
        Derivation("head + deepest lip", f"{format_number(s.head_height)} + {format_number(lip.max)}")
        if s.kind == "t_bolt"
        else Derivation(
            "its thread in the T-nut + the nut's top below the table",
            f"{format_number(s.lower)} + ({format_number(lip.min)} − {format_number(s.nut.neck_height)})",
            "the nut as our own rules make it for this slot",
        )
    )
    return [
        Figure(key="foot", label="Below the table", value=s.foot, step=0.1, features=("slot",), derivation=below),
        reckoned(
            "out",
            "Standing out of the nut",
            worked("length − below the table − clamped − nut", s.length, s.foot, v.number("clamp_high"), v.number("nut_height")),
            step=0.1,
            features=("upper_thread",),
        ),
        reckoned(
            "down_to",
            "Clamps down to",
            worked("0", source="threads meet: down to the table")
            if s.all_thread
            else worked("max(0; length − below the table − upper thread)", s.length, s.foot, s.upper),
            step=0.1,
            features=("upper_thread",),
        ),
    ]


def checks(s: HardwareSizes) -> list[Check]:
    own = {"stud": _stud, "tall_nut": _nut, "shoulder_screw": _screw, "t_bolt": _bolt, "thumb_screw": _thumb}[s.kind](s)
    return [*own, *(measured_check(s.v) if s.kind in ("stud", "t_bolt") else [])]


def _thumb(s: HardwareSizes) -> list[Check]:
    return [*thumb.checks(s), _pulled(s)]


def _pulled(s: HardwareSizes) -> Check:
    return own_screw_load(
        f"{_CALLED[s.kind]} load",
        s.pull_n,
        s.area,
        s.metal.yield_mpa,
        Points(features=("thread",), figures=("stress", "torque", "material"), remedies=("torque", "thread", "material")),
    )


def _engaged(s: HardwareSizes, figure: str, what: str, thread: float, wanted: float) -> Check:
    return judged(
        "engaged",
        "Thread engagement",
        worked("thread/d", thread, s.d),
        Limits(ENGAGED.no_below * wanted, ENGAGED.marginal_below * wanted),
        (f"the {what} holds it", f"short in the {what}: do not pull it hard", f"it strips in the {what}"),
        unit="× d",
        features=("thread",),
        figures=(figure,),
        remedies=(figure, "thread"),
    )


def _reaches(s: HardwareSizes) -> list[Check]:
    v = s.v
    least = v.number("clamp_low")
    return [
        judged(
            "stands_out",
            "Thread standing out",
            worked("standing out/pitch", s.out, s.pitch),
            Limits(0.0, 1.0),
            ("the nut has all its thread", "the nut only just has all its thread", "the nut is not filled: it strips"),
            unit="turns",
            features=("upper_thread", "clamped"),
            figures=("out", "clamp_high"),
            remedies=("length", "clamp_high"),
        ),
        judged(
            "long",
            "Longer than it need be",
            worked(f"max(0; standing out − {TURNS_OUT:g}·pitch)", s.out, s.pitch),
            Limits(marginal_above=25.0),
            ("nothing stands in the cutter's way", "it stands far out: in the cutter's way, and it bends", ""),
            step=0.5,
            features=("upper_thread",),
            figures=("out",),
            remedies=("length",),
        ),
        judged(
            "down",
            "Nut over the thinnest work",
            worked("least clamped height − clamps down to", least, s.down_to),
            Limits(0.0, s.pitch),
            ("its thread reaches far enough down", "it only just reaches", "the nut stops on the plain shank and clamps nothing"),
            step=0.1,
            features=("upper_thread", "clamped"),
            figures=("down_to", "clamp_low"),
            remedies=("upper_thread", "clamp_low"),
        ),
    ]


def _stud(s: HardwareSizes) -> list[Check]:
    nut = s.nut
    deep = nut.neck_height + nut.head_height
    return [
        _engaged(s, "engaged", "T-nut", min(s.lower, deep), 1.0),
        judged(
            "stopped",
            "Stud in the T-nut",
            worked("nut's neck + its head − lower thread", nut.neck_height, nut.head_height, s.lower),
            Limits(0.0, 0.2),
            (
                "its thread ends inside the nut: it cannot jack against the slot's floor",
                "it all but comes through the nut",
                "it comes through the nut and jacks against the slot's floor: that breaks the lips",
            ),
            step=0.1,
            features=("thread", "slot"),
            figures=("engaged",),
            remedies=("engaged",),
        ),
        _passes(s),
        *_reaches(s),
        _pulled(s),
    ]


def _passes(s: HardwareSizes) -> Check:
    neck = s.v.readings("neck")
    return judged(
        "passes",
        "Shank between the lips",
        worked("narrowest neck − d", neck.min, s.d),
        Limits(0.0, 0.1),
        ("it slides along", "tight between the lips", "it does not go between the lips"),
        step=0.01,
        features=("thread", "slot"),
        figures=("neck",),
        remedies=("thread",),
    )


def _nut(s: HardwareSizes) -> list[Check]:
    size = s.thread.name.split("x")[0] if s.thread.metric else s.thread.name.rpartition("-")[0]
    try:
        hole = clearance_hole(size).value
    except ShopError:  # of no table of clearance holes
        hole = 1.1 * s.d
    strap = material(_STRAP).yield_mpa
    return [
        judged(
            "tall",
            "Height over Ø",
            worked("height/d", s.length, s.d),
            Limits(0.8, 1.5),
            (
                "tall enough to be worn and lifted off with the fingers",
                "as low as a bought nut: buy one",
                "too low: its thread strips",
            ),
            unit="× d",
            features=("body",),
            figures=("length",),
            remedies=("length",),
        ),
        judged(
            "wall",
            "Wall outside the thread",
            worked("(flats − d)/2/d", s.hexagon, s.d),
            Limits(0.12, 0.2),
            ("it does not spread", "thin: it spreads when it is pulled hard", "it spreads or splits"),
            unit="× d",
            features=("flats",),
            figures=("across_flats",),
            remedies=("across_flats", "thread"),
        ),
        stripping(
            s.pull_n,
            s.thread,
            s.length,
            s.metal.yield_mpa,
            Points(features=("thread",), figures=("torque", "length"), remedies=("length", "torque", "material")),
        ),
        judged(
            "bears",
            "Pressure on the strap",
            worked(
                "F/(π/4·(flats² − hole²))/yield of the strap",
                term(s.pull_n, 4),
                s.hexagon,
                hole,
                term(strap, 6),
                source="strap of mild steel, no washer",
            ),
            Limits(marginal_above=0.6, no_above=1.0),
            ("it turns on the strap without biting", "a washer under it", "it digs into the strap: a hardened washer"),
            unit="× yield",
            features=("flats",),
            figures=("across_flats",),
            remedies=("across_flats", "torque"),
        ),
    ]


def _screw(s: HardwareSizes) -> list[Check]:
    v = s.v
    hole, thick = v.readings("hole"), v.number("work_thickness")
    play, float_ = hole.min - s.shoulder, s.shoulder_length - thick
    return [
        judged(
            "turns",
            "Clearance on the shoulder",
            worked("tightest hole − shoulder", term(hole.min, 4), term(s.shoulder, 4)),
            Limits(0.0, 0.005, 0.06, 0.3),
            (
                "it turns and does not shake",
                "tight: it may bind when it is warm or dirty" if play < 0.005 else "loose: it rocks",
                "it does not go on" if play < 0 else "it guides nothing",
            ),
            step=0.001,
            features=("shoulder", "hole"),
            figures=("shoulder_diameter", "hole"),
            remedies=("shoulder_diameter",),
        ),
        judged(
            "floats",
            "End float",
            worked("shoulder − thickness", s.shoulder_length, thick),
            Limits(0.0, 0.02, 0.25, 1.0),
            (
                "tightened, it still turns",
                "it may be clamped when it is warm" if float_ < 0.02 else "it rattles",
                "the screw clamps it: it does not turn" if float_ < 0 else "it wanders along the shoulder",
            ),
            step=0.01,
            features=("shoulder", "hole"),
            figures=("shoulder_length", "work_thickness"),
            remedies=("shoulder_length",),
        ),
        judged(
            "seats",
            "Shoulder seat",
            worked("(shoulder − d)/2", s.shoulder, s.d),
            Limits(0.3, 0.8),
            ("it seats square", "a narrow seat: it digs in", "no seat to speak of: it pulls into the plate"),
            step=0.05,
            features=("shoulder", "thread"),
            figures=("shoulder_diameter",),
            remedies=("thread", "shoulder_diameter"),
        ),
        judged(
            "engaged",
            "Thread engagement",
            worked("(thread − undercut)/d", s.lower, s.undercut, s.d, source="a steel plate; 1.5 × d in softer metals"),
            ENGAGED,
            ("the plate holds it", "short: do not pull it hard", "it strips in the plate"),
            unit="× d",
            features=("thread",),
            figures=("engaged", "undercut"),
            remedies=("engaged",),
        ),
        thumb.runs_out(s),
        judged(
            "head",
            "Head over the shoulder",
            worked("(flats − shoulder)/2", s.hexagon, s.shoulder),
            Limits(0.5, 1.5),
            ("it keeps what turns on it", "a narrow rim", "it comes off over the head"),
            step=0.1,
            features=("flats",),
            figures=("across_flats",),
            remedies=("across_flats",),
        ),
        _pulled(s),
    ]


def _bolt(s: HardwareSizes) -> list[Check]:
    v = s.v
    lip, head, depth = (v.readings(n) for n in ("lip", "head", "depth"))
    return [
        judged(
            "slides",
            "Head in the slot",
            worked("narrowest slot head − flats", head.min, s.head_width),
            Limits(0.0, 0.5, 2.5, 6.0),
            (
                "it slides along",
                "tight: any burr stops it" if head.min - s.head_width < 0.5 else "it lies askew",
                "it does not go in" if head.min < s.head_width else "it turns about in the slot",
            ),
            step=0.1,
            features=("head_width", "slot"),
            figures=("head_width", "head"),
            remedies=("head_width",),
        ),
        judged(
            "turns",
            "Round of the head over the slot",
            worked("head Ø − widest slot head", s.head, head.max),
            Limits(0.0, 0.5),
            ("its round corners keep it from turning", "it all but turns", "it turns in the slot when the nut is tightened"),
            step=0.1,
            features=("head_height", "slot"),
            figures=("head_diameter", "head"),
            remedies=("head_diameter",),
        ),
        _passes(s),
        judged(
            "below",
            "Room under the head",
            worked("shallowest depth − deepest lip − head", depth.min, lip.max, s.head_height),
            Limits(0.0, 0.5),
            ("it slides everywhere", "any chip under it stops it", "it does not go under the lips"),
            step=0.1,
            features=("head_height", "slot"),
            figures=("head_height", "depth", "lip"),
            remedies=("head_height",),
        ),
        lip_pressure(
            "lips",
            term(s.pull_n, 4, "N"),
            s.under_lips,
            s.lip_length,
            Points(
                features=("head_width", "slot"),
                figures=("head_width", "head_diameter"),
                remedies=("torque", "head_diameter", "head_width"),
            ),
        ),
        judged(
            "head_shear",
            "Head shear",
            worked(
                f"F/(π·d·height)/({SHEAR_OVER_YIELD:g}·yield)", term(s.pull_n, 4), s.d, s.head_height, term(s.metal.yield_mpa, 6)
            ),
            FULL,
            ("the shank stays in its head", "a thin head for this pull", "the head pulls off"),
            unit="%",
            features=("head_height",),
            figures=("head_height",),
            remedies=("head_height", "torque"),
        ),
        *_reaches(s),
        _pulled(s),
    ]
