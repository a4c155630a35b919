"""What may go wrong with a clamp or a support: checks with their reasons."""

from __future__ import annotations

from elbrix.design.families.clamp.sizes import NOSE_MM, ClampSizes, clear_of
from elbrix.mechanics.drilling import MIN_SHARE, thread_depth_wanted
from elbrix.mechanics.lifting import lifting_check
from elbrix.mechanics.strength import COUNTED, MU
from elbrix.mechanics.tightened import LIPS_FIRST, SCREW_CLASS, screw_load
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked

#: Bending over yield of a strap. Source: shop practice, half of it is the usual limit.
_BENT = Limits(marginal_above=0.5, no_above=0.85)
#: Pressure over yield of what is pressed.
_PRESSED = Limits(marginal_above=0.5, no_above=1.0)


def checks(s: ClampSizes) -> list[Check]:
    lifted = lifting_check(
        worked("mass", s.mass_kg), Points(features=("body",), figures=("mass",), remedies=("length", "width", "height"))
    )
    return [*{"strap": _strap, "toe": _toe, "step": _step, "heel": _heel, "jack": _jack}[s.kind](s), lifted]


def _slot(s: ClampSizes) -> list[Check]:
    clear = clear_of(s.stud)
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
            worked("slot − d", s.slot, s.stud.major_mm, source=f"clearance hole {clear:g}"),
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
        ),
        judged(
            "sides",
            "Metal beside the slot",
            worked("(width − slot)/2/d", s.width, s.slot, s.stud.major_mm),
            Limits(0.3, 0.6),
            ("sound", "thin: the nut needs a thick washer", "it spreads under the nut"),
            unit="× d",
            features=("slot_width", "body"),
            figures=("width", "slot_width"),
            remedies=("width",),
        ),
    ]


def _strap(s: ClampSizes) -> list[Check]:
    least, most = s.start - NOSE_MM, s.end - NOSE_MM
    return [
        *_slot(s),
        judged(
            "bends",
            "Bending over yield",
            worked("bending/yield", s.bending_mpa, term(s.metal.yield_mpa, 6)),
            _BENT,
            ("it springs back", "near its yield: less torque, or a thicker strap", "it stays bent: thicker, or stronger steel"),
            unit="× yield",
            features=("body", "height"),
            figures=("bending", "torque"),
            remedies=("height", "width", "torque", "material"),
        ),
        judged(
            "stud_there",
            "Stud within the slot",
            worked(
                "max(nearest − tip arm; tip arm − farthest; 0)",
                least,
                s.tip_arm,
                most,
                source="beyond the slot, from the tip's pressure",
            ),
            Limits(no_above=1e-06),
            ("the slot lets it stand there", "", "the slot does not reach there"),
            step=0.5,
            features=("slot_width", "tip"),
            figures=("stud_to_tip", "slot_start", "slot_end"),
            remedies=("stud_to_tip",),
        ),
        judged(
            "lever",
            "Heel over tip",
            worked("heel/tip", s.heel_arm, s.tip_arm),
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
        ),
        judged(
            "bruises",
            "Pressure under the tip",
            worked("F/(pad·width)", term(s.tip_n, 4), s.pad, s.width),
            Limits(marginal_above=60.0, no_above=200.0),
            ("it leaves no mark on steel", "copper or aluminium under the tip", "it bruises the work: a wider or longer pad"),
            unit="MPa",
            step=0.5,
            features=("tip",),
            figures=("pad", "tip_force"),
            remedies=("pad", "torque"),
        ),
    ]


def _toe(s: ClampSizes) -> list[Check]:
    wanted = thread_depth_wanted(s.v.word("material"))
    return [
        *_slot(s),
        judged(
            "stays",
            "Body stays",
            worked(f"µ·{COUNTED:g}·F/push", MU, term(s.pull_n, 4), term(s.push_n, 4)),
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
        ),
        judged(
            "tips",
            "Body tips",
            worked(f"{COUNTED:g}·F·bolt to the back/height/push", term(s.pull_n, 4), s.start, s.push_height, term(s.push_n, 4)),
            Limits(1.2, 2.0),
            ("it stands", "little in hand", "it tips over its back edge: the bolt nearer the work, or pushed lower"),
            unit="×",
            features=("push", "body"),
            figures=("push_height", "slot_start"),
            remedies=("slot_start", "push_height", "push_torque"),
        ),
        judged(
            "points_down",
            "Toe's angle",
            worked("asin((screw − contact)/length)", s.push_height, s.contact, s.toe_length),
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
        ),
        judged(
            "thread_holds",
            "Push screw thread",
            worked("thread/d", s.thread_deep, s.screw.major_mm),
            Limits(MIN_SHARE * wanted, wanted),
            (
                "it holds the screw in this material, its head right in",
                "short: keep the head near the body",
                "it strips when the screw is turned out",
            ),
            unit="× d",
            features=("push",),
            figures=("thread_deep",),
            remedies=("length", "slot_end"),
        ),
    ]


def _step(s: ClampSizes) -> list[Check]:
    load = s.v.number("load")
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
            worked("rise/2", s.rise),
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
        ),
        judged(
            "low",
            "Lowest step",
            worked("height − (steps − 1)·rise", s.height, s.steps, s.rise),
            Limits(2.0, 4.0),
            ("sound metal under it", "thin: it bends up when it is milled", "it breaks off"),
            step=0.5,
            features=("steps",),
            figures=("base",),
            remedies=("height", "steps", "rise"),
        ),
        judged(
            "bears",
            "Pressure on a tread",
            worked("F/(length·tread)/yield", load, s.length, s.tread, term(s.metal.yield_mpa, 6)),
            _PRESSED,
            ("it bears the heel", "a wider block, or less torque", "the tread gives"),
            unit="× yield",
            features=("load", "steps"),
            figures=("load", "length"),
            remedies=("length", "material"),
        ),
        judged(
            "stands",
            "Height over depth",
            worked("height/treads", s.height, s.depth),
            Limits(marginal_above=1.5, no_above=2.5),
            ("it stands by itself", "tall: it tips while you tighten", "it falls over"),
            unit="×",
            features=("height", "steps"),
            figures=("height", "treads"),
            remedies=("tread", "steps"),
        ),
    ]


def _heel(s: ClampSizes) -> list[Check]:
    three = sorted((s.length, s.width, s.height))
    load = s.v.number("load")
    return [
        judged(
            "differ",
            "Least difference of its heights",
            worked("min(middle − least; most − middle)", three[1], three[0], three[2]),
            Limits(0.0, 2.0),
            ("three heights", "two of its heights are nearly the same", ""),
            step=0.5,
            features=("body", "height"),
            figures=("length", "width", "height"),
            remedies=("length", "width", "height"),
        ),
        judged(
            "stands",
            "Tallest over narrowest",
            worked("tallest/narrowest", three[2], three[0]),
            Limits(marginal_above=2.5, no_above=4.0),
            ("it stands on any side", "on its smallest face it tips while you tighten", "it falls over on its smallest face"),
            unit="×",
            features=("height",),
            figures=("length", "width", "height"),
            remedies=("width", "length", "height"),
        ),
        judged(
            "bears",
            "Pressure on its smallest face",
            worked("F/(a·b)/yield", load, three[0], three[1], term(s.metal.yield_mpa, 6)),
            _PRESSED,
            ("it bears the heel", "a larger block, or less torque", "it gives"),
            unit="× yield",
            features=("load",),
            figures=("load",),
            remedies=("width", "length", "material"),
        ),
    ]


def _jack(s: ClampSizes) -> list[Check]:
    load, d = s.v.number("load"), s.screw
    return [
        judged(
            "reaches",
            "Range",
            worked("highest − lowest", s.jack_most, s.jack_least),
            Limits(2.0, 6.0),
            ("it adjusts", "little range", "it hardly adjusts: a longer screw"),
            step=0.5,
            features=("push",),
            figures=("lowest", "highest"),
            remedies=("screw_length",),
        ),
        judged(
            "goes_in",
            "Screw in the body",
            worked("body − screw", s.height, s.v.number("screw_length")),
            Limits(0.0, 0.0),
            ("its screw goes right in", "", "its screw meets the table before its head is down"),
            step=0.5,
            features=("push", "height"),
            figures=("height", "screw_length"),
            remedies=("height", "screw_length"),
        ),
        judged(
            "stands",
            "Highest over Ø",
            worked("highest/Ø", s.jack_most, s.width),
            Limits(marginal_above=2.5, no_above=4.0),
            ("it stands square", "tall: a wider body", "it tips under the work"),
            unit="×",
            features=("body",),
            figures=("highest", "width"),
            remedies=("width", "screw_length"),
        ),
        judged(
            "bears",
            "Load on the screw",
            worked("F/stress area", load, d.stress_area_mm2, source="a screw of class 4.6"),
            Limits(marginal_above=120.0, no_above=240.0),
            ("it bears that", "much: a larger screw", "the screw gives"),
            unit="MPa",
            step=1,
            features=("load", "push"),
            figures=("load", "push_screw"),
            remedies=("push_screw", "load"),
        ),
        judged(
            "wall",
            "Wall round the screw",
            worked("(Ø − d)/2", s.width, d.major_mm),
            Limits(3.0, 4.0),
            ("sound", "thin", "it splits"),
            step=0.5,
            features=("body",),
            figures=("width", "push_screw"),
            remedies=("width",),
        ),
    ]
