"""What may go wrong with a clamp or a support: checks with their reasons."""

from __future__ import annotations

from elbrix.design.families.clamp.sizes import NOSE_MM, ClampSizes, clear_of
from elbrix.mechanics.drilling import LEAST_SHARE, thread_depth_wanted
from elbrix.mechanics.lifting import lifting_check
from elbrix.mechanics.strength import COUNTED, MU
from elbrix.mechanics.tightened import LIPS_FIRST, SCREW_CLASS, screw_load
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import format_number

#: Bending over yield of a strap. Source: shop practice, half of it is the usual limit.
_BENT = Limits(marginal_above=0.5, no_above=0.85)
#: Pressure over yield of what is pressed.
_PRESSED = Limits(marginal_above=0.5, no_above=1.0)


def checks(s: ClampSizes) -> list[Check]:
    lifted = lifting_check(
        s.mass_kg,
        Points(features=("body",), figures=("mass",), remedies=("length", "width", "height")),
        ("its mass", format_number(s.mass_kg, 4)),
    )
    return [*{"strap": _strap, "toe": _toe, "step": _step, "heel": _heel, "jack": _jack}[s.kind](s), lifted]


def _slot(s: ClampSizes) -> list[Check]:
    clear = clear_of(s.stud)
    side = (s.width - s.slot) / 2
    return [
        screw_load(
            "stud",
            "Stud load",
            s.pull_n,
            s.stud,
            SCREW_CLASS,
            Points(features=("slot_width",), figures=("pull", "torque"), remedies=("torque", "stud")),
            careful=LIPS_FIRST,
        ),
        judged(
            "stud_passes",
            "Stud in the slot",
            s.slot - s.stud.major_mm,
            Limits(0.0, 0.5, 3.0),
            (
                "it goes over the stud",
                "tight: any burr stops it" if s.slot < s.stud.major_mm + 0.5 else "wide: a thick washer over it",
                "the stud does not go in",
            ),
            step=0.1,
            features=("slot_width",),
            figures=("slot_width", "stud"),
            remedies=("slot_width",),
            derivation=("slot − d", f"{format_number(s.slot)} − {format_number(s.stud.major_mm)}", f"clearance hole {clear:g}"),
        ),
        judged(
            "sides",
            "Metal beside the slot",
            side / s.stud.major_mm,
            Limits(0.3, 0.6),
            ("sound", "thin: the nut needs a thick washer", "it spreads under the nut"),
            unit="× d",
            features=("slot_width", "body"),
            figures=("width", "slot_width"),
            remedies=("width",),
            derivation=(
                "(width − slot)/2/d",
                f"({format_number(s.width)} − {format_number(s.slot)})/2/{format_number(s.stud.major_mm)}",
            ),
        ),
    ]


def _strap(s: ClampSizes) -> list[Check]:
    least, most = s.start - NOSE_MM, s.end - NOSE_MM
    over = max(least - s.tip_arm, s.tip_arm - most, 0.0)
    pressed = s.tip_n / (s.pad * s.width)
    return [
        *_slot(s),
        judged(
            "bends",
            "Bending over yield",
            s.bending_mpa / s.metal.yield_mpa,
            _BENT,
            ("it springs back", "near its yield: less torque, or a thicker strap", "it stays bent: thicker, or stronger steel"),
            unit="× yield",
            features=("body", "height"),
            figures=("bending", "torque"),
            remedies=("height", "width", "torque", "material"),
            derivation=("bending/yield", f"{format_number(s.bending_mpa, 3)}/{s.metal.yield_mpa:g}"),
        ),
        judged(
            "stud_there",
            "Stud within the slot",
            over,
            Limits(no_above=1e-6),
            ("the slot lets it stand there", "", "the slot does not reach there"),
            step=0.5,
            features=("slot_width", "tip"),
            figures=("stud_to_tip", "slot_start", "slot_end"),
            remedies=("stud_to_tip",),
            derivation=(
                "beyond the slot, from the tip's pressure",
                (
                    f"max({format_number(least)} − {format_number(s.tip_arm)}; {format_number(s.tip_arm)} −"
                    f" {format_number(most)}; 0)"
                ),
            ),
        ),
        judged(
            "lever",
            "Heel over tip",
            s.heel_arm / s.tip_arm,
            Limits(0.3, 0.95),
            (
                "the stud stands nearer to the work: most of its pull is on it",
                "the heel takes more than the work: move the stud nearer to the work",
                "nearly all the pull is on the heel",
            ),
            unit="×",
            features=("tip",),
            figures=("heel_arm", "stud_to_tip"),
            remedies=("stud_to_tip", "length"),
            derivation=("heel/tip", f"{format_number(s.heel_arm)}/{format_number(s.tip_arm)}"),
        ),
        judged(
            "bruises",
            "Pressure under the tip",
            pressed,
            Limits(marginal_above=60.0, no_above=200.0),
            ("it leaves no mark on steel", "copper or aluminium under the tip", "it bruises the work: a wider or longer pad"),
            unit="MPa",
            step=0.5,
            features=("tip",),
            figures=("pad", "tip_force"),
            remedies=("pad", "torque"),
            derivation=("F/(pad·width)", f"{format_number(s.tip_n, 4)}/({format_number(s.pad)}·{format_number(s.width)})"),
        ),
    ]


def _toe(s: ClampSizes) -> list[Check]:
    wanted = thread_depth_wanted(s.v.word("material"))
    return [
        *_slot(s),
        judged(
            "stays",
            "Body stays",
            s.stands_n / s.push_n,
            Limits(1.0, 1.5),
            (
                "its bolt holds it against its own push",
                "its bolt barely holds it: tighten it more, or push less",
                "it slides back along its slot before it pushes so hard",
            ),
            unit="×",
            features=("push", "body"),
            figures=("push", "pull"),
            remedies=("push_torque", "torque", "stud"),
            derivation=(
                "µ·0.7·F/push",
                f"{format_number(MU)}·{format_number(COUNTED)}·{format_number(s.pull_n, 4)}/{format_number(s.push_n, 4)}",
            ),
        ),
        judged(
            "tips",
            "Body tips",
            s.tips_n / s.push_n,
            Limits(1.2, 2.0),
            ("it stands", "little in hand", "it tips over its back edge: the bolt nearer the work, or pushed lower"),
            unit="×",
            features=("push", "body"),
            figures=("push_height", "slot_start"),
            remedies=("slot_start", "push_height", "push_torque"),
            derivation=(
                "0.7·F·bolt to the back/height/push",
                (
                    f"{format_number(COUNTED)}·{format_number(s.pull_n, 4)}·{format_number(s.start)}"
                    f"/{format_number(s.push_height)}/{format_number(s.push_n, 4)}"
                ),
            ),
        ),
        judged(
            "points_down",
            "Toe's angle",
            s.down_deg,
            Limits(0.0, 3.0, 11.0, 25.0),
            (
                "it presses the work onto the table as well",
                "it hardly presses down" if s.down_deg < 3 else "steep: its nose may slide down the work",
                "it lifts the work" if s.down_deg < 0 else "its nose slides down the work",
            ),
            unit="deg",
            step=0.1,
            features=("toe",),
            figures=("down_angle",),
            remedies=("push_height", "contact_height", "toe_length"),
            derivation=(
                "asin((screw − contact)/length)",
                f"asin(({format_number(s.push_height)} − {format_number(s.contact)})/{format_number(s.toe_length)})",
            ),
        ),
        judged(
            "thread_holds",
            "Push screw thread",
            s.thread_deep / s.screw.major_mm,
            Limits(LEAST_SHARE * wanted, wanted),
            (
                "it holds the screw in this material, its head right in",
                "short: keep the head near the body",
                "it strips when the screw is turned out",
            ),
            unit="× d",
            features=("push",),
            figures=("thread_deep",),
            remedies=("length", "slot_end"),
            derivation=("thread/d", f"{format_number(s.thread_deep)}/{format_number(s.screw.major_mm)}"),
        ),
    ]


def _step(s: ClampSizes) -> list[Check]:
    load = s.v.number("load")
    pressed = load / (s.length * s.tread) / s.metal.yield_mpa
    return [
        judged(
            "treads",
            "Tread",
            s.tread,
            Limits(3.0, 6.0),
            ("the strap's end stands on it", "narrow: the heel slides off easily", "no heel stands on it"),
            step=0.5,
            features=("steps",),
            figures=("tread",),
            remedies=("tread",),
            derivation=("tread", format_number(s.tread)),
        ),
        judged(
            "fine",
            "Half a rise",
            s.rise / 2,
            Limits(marginal_above=1.5, no_above=5.0),
            (
                "the strap lies level enough on any work",
                "coarse: the heel may stand well above the work",
                "too coarse: the strap slides off the work",
            ),
            step=0.1,
            features=("steps",),
            figures=("rise",),
            remedies=("rise", "steps"),
            derivation=("rise/2", f"{format_number(s.rise)}/2"),
        ),
        judged(
            "low",
            "Lowest step",
            s.base,
            Limits(2.0, 4.0),
            ("sound metal under it", "thin: it bends up when it is milled", "it breaks off"),
            step=0.5,
            features=("steps",),
            figures=("base",),
            remedies=("height", "steps", "rise"),
            derivation=("height − (steps − 1)·rise", f"{format_number(s.height)} − ({s.steps} − 1)·{format_number(s.rise)}"),
        ),
        judged(
            "bears",
            "Pressure on a tread",
            pressed,
            _PRESSED,
            ("it bears the heel", "a wider block, or less torque", "the tread gives"),
            unit="× yield",
            features=("load", "steps"),
            figures=("load", "length"),
            remedies=("length", "material"),
            derivation=(
                "F/(length·tread)/yield",
                f"{format_number(load)}/({format_number(s.length)}·{format_number(s.tread)})/{s.metal.yield_mpa:g}",
            ),
        ),
        judged(
            "stands",
            "Height over depth",
            s.height / s.depth,
            Limits(marginal_above=1.5, no_above=2.5),
            ("it stands by itself", "tall: it tips while you tighten", "it falls over"),
            unit="×",
            features=("height", "steps"),
            figures=("height", "treads"),
            remedies=("tread", "steps"),
            derivation=("height/treads", f"{format_number(s.height)}/{format_number(s.depth)}"),
        ),
    ]


def _heel(s: ClampSizes) -> list[Check]:
    three = sorted((s.length, s.width, s.height))
    load = s.v.number("load")
    least = three[0] * three[1]
    return [
        judged(
            "differ",
            "Least difference of its heights",
            min(three[1] - three[0], three[2] - three[1]),
            Limits(0.0, 2.0),
            ("three heights", "two of its heights are nearly the same", ""),
            step=0.5,
            features=("body", "height"),
            figures=("length", "width", "height"),
            remedies=("length", "width", "height"),
            derivation=(
                "middle − least, most − middle",
                (
                    f"min({format_number(three[1])} − {format_number(three[0])}; {format_number(three[2])} −"
                    f" {format_number(three[1])})"
                ),
            ),
        ),
        judged(
            "stands",
            "Tallest over narrowest",
            three[2] / three[0],
            Limits(marginal_above=2.5, no_above=4.0),
            ("it stands on any side", "on its smallest face it tips while you tighten", "it falls over on its smallest face"),
            unit="×",
            features=("height",),
            figures=("length", "width", "height"),
            remedies=("width", "length", "height"),
            derivation=("tallest/narrowest", f"{format_number(three[2])}/{format_number(three[0])}"),
        ),
        judged(
            "bears",
            "Pressure on its smallest face",
            load / least / s.metal.yield_mpa,
            _PRESSED,
            ("it bears the heel", "a larger block, or less torque", "it gives"),
            unit="× yield",
            features=("load",),
            figures=("load",),
            remedies=("width", "length", "material"),
            derivation=(
                "F/(a·b)/yield",
                f"{format_number(load)}/({format_number(three[0])}·{format_number(three[1])})/{s.metal.yield_mpa:g}",
            ),
        ),
    ]


def _jack(s: ClampSizes) -> list[Check]:
    load, d = s.v.number("load"), s.screw
    stress = load / d.stress_area_mm2
    wall = (s.width - d.major_mm) / 2
    return [
        judged(
            "reaches",
            "Range",
            s.jack_most - s.jack_least,
            Limits(2.0, 6.0),
            ("it adjusts", "little range", "it hardly adjusts: a longer screw"),
            step=0.5,
            features=("push",),
            figures=("lowest", "highest"),
            remedies=("screw_length",),
            derivation=("highest − lowest", f"{format_number(s.jack_most)} − {format_number(s.jack_least)}"),
        ),
        judged(
            "goes_in",
            "Screw in the body",
            s.height - s.v.number("screw_length"),
            Limits(0.0, 0.0),
            ("its screw goes right in", "", "its screw meets the table before its head is down"),
            step=0.5,
            features=("push", "height"),
            figures=("height", "screw_length"),
            remedies=("height", "screw_length"),
            derivation=("body − screw", f"{format_number(s.height)} − {format_number(s.v.number('screw_length'))}"),
        ),
        judged(
            "stands",
            "Highest over Ø",
            s.jack_most / s.width,
            Limits(marginal_above=2.5, no_above=4.0),
            ("it stands square", "tall: a wider body", "it tips under the work"),
            unit="×",
            features=("body",),
            figures=("highest", "width"),
            remedies=("width", "screw_length"),
            derivation=("highest/Ø", f"{format_number(s.jack_most)}/{format_number(s.width)}"),
        ),
        judged(
            "bears",
            "Load on the screw",
            stress,
            Limits(marginal_above=120.0, no_above=240.0),
            ("it bears that", "much: a larger screw", "the screw gives"),
            unit="MPa",
            step=1,
            features=("load", "push"),
            figures=("load", "push_screw"),
            remedies=("push_screw", "load"),
            derivation=("F/stress area", f"{format_number(load)}/{format_number(d.stress_area_mm2, 3)}", "a screw of class 4.6"),
        ),
        judged(
            "wall",
            "Wall round the screw",
            wall,
            Limits(3.0, 4.0),
            ("sound", "thin", "it splits"),
            step=0.5,
            features=("body",),
            figures=("width", "push_screw"),
            remedies=("width",),
            derivation=("(Ø − d)/2", f"({format_number(s.width)} − {format_number(d.major_mm)})/2"),
        ),
    ]
