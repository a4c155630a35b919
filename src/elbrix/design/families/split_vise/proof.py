"""What follows from the sizes of a split vise, and what may go wrong."""

from __future__ import annotations

from typing import Final

from elbrix.design.bores import hole_checks
from elbrix.design.families.split_vise.asked import PARAMETERS
from elbrix.design.families.split_vise.sizes import (
    BESIDE,
    DOWEL_MPA,
    MU_DRY,
    MU_OILED,
    MU_USUAL,
    POINT_DEEP,
    ROOM,
    SplitViseSizes,
)
from elbrix.design.hosts import measured_check, off_slots
from elbrix.design.keyed import bearing_height_check
from elbrix.design.made_of import mass
from elbrix.mechanics.strength import COUNTED, MU, stud_load_n
from elbrix.mechanics.tightened import LIPS_FIRST, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Figure
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.threads import find_thread

#: Asked of whatever must not slide, tip or shear: above, and marginal below. Source: shop practice.
_ENOUGH: Final = Limits(1.0, 1.5)
#: Of yield, %. Source: shop practice, half of it is the usual limit.
_BENT: Final = Limits(marginal_above=35.0, no_above=50.0)
#: How far the jaw faces may stand askew by the play of the keys, over their width, mm.
_ASKEW: Final = Limits(marginal_above=0.05, no_above=0.15)
_CLASS: Final = "8.8"


def _askew_formula(s: SplitViseSizes) -> Worked:
    return worked(
        f"W·play/(half − {2 * ROOM:g})", s.width, term(max(0.0, s.play), 4), s.long, source="over the width of the jaws"
    )


def figures(s: SplitViseSizes) -> list[Figure]:
    v = s.v
    torque = v.number("screw_torque")
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "force_least",
            "Clamping force, at least",
            worked(
                "torque·force per N·m, dry",
                torque,
                term(s.per_nm(MU_DRY), 2),
                source=f"µ {MU_DRY:g}: what surely reaches the work",
            ),
            unit="kN",
            features=("screw",),
        ),
        reckoned(
            "force_most",
            "Clamping force, at most",
            worked(
                "torque·force per N·m, oiled",
                torque,
                term(s.per_nm(MU_OILED), 2),
                source=f"µ {MU_OILED:g}: what halves, plate and rails may have to stand",
            ),
            unit="kN",
            features=("screw",),
        ),
        reckoned(
            "per_nm",
            "Force for each N·m",
            worked(
                "1000/(d2/2·tan(lead and friction) + µ·point/3)",
                term(s.screw.pitch_d_mm, 4),
                term(s.lead_and_friction_deg(MU_USUAL), 5, "°"),
                term(MU_USUAL, 6),
                s.point,
                source=f"µ {MU_USUAL:g}, as it usually is: what Shop is told",
            ),
            unit="N",
            step=1,
            features=("screw",),
        ),
        reckoned(
            "bears",
            "A half bears by friction",
            worked(
                f"µ·{COUNTED:g}·pull·bolts", MU, term(s.pull, 2), len(s.bolts), source="its bolts at the least their torque gives"
            ),
            unit="kN",
            features=("bolts",),
        ),
        reckoned(
            "opening",
            "Largest opening",
            worked(f"(threads − 3)·pitch − 2·first bolt − plate − {ROOM:g}", s.stations, s.pitch, s.first, s.plate)
            if s.rails
            else worked(f"table − 2·half − plate − {ROOM:g}", v.number("table_length"), s.long, s.plate),
            step=0.5,
            features=("halves",),
        ),
        reckoned(
            "screw_length",
            "Push screw length",
            worked("point + travel + upright", POINT_DEEP, v.number("screw_travel"), s.upright, source="without its head"),
            step=1,
            features=("screw",),
        ),
        Figure(key="point", label="Push screw point Ø", value=s.point, step=0.1, features=("screw",)),
        *_stand(s),
        reckoned(
            "mass",
            "Mass of this part",
            mass(s.volume, s.metal.density_kg_m3, source="holes not taken off"),
            unit="kg",
            features=("halves",),
        ),
    ]


def _stand(s: SplitViseSizes) -> list[Figure]:
    """What is only on rails, or only on a slot."""
    v = s.v
    if s.rails:
        return [
            reckoned(
                "rail_length",
                "Rail length",
                worked("(threads − 1)·pitch + 2·end", s.stations, s.pitch, s.rail_end),
                step=1,
                features=("rails",),
            ),
            reckoned(
                "dowel_y",
                "Dowel behind the face",
                worked("first bolt + pitch/2", s.first, s.pitch, source="half a pitch: both halves find their holes"),
                step=0.1,
                features=("rails",),
            ),
        ]
    return [
        reckoned("play", "Key play", worked("widest slot − key", s.neck.max, s.key), step=0.001, features=("keys",)),
        reckoned("askew", "Jaws askew by it", _askew_formula(s), step=0.001, features=("keys",)),
        reckoned(
            "key_height", "Key height", worked("keyway + below", s.seat, v.number("key_down")), step=0.1, features=("keys",)
        ),
    ]


def checks(s: SplitViseSizes) -> list[Check]:
    v = s.v
    most = s.force_most
    proof = stud_load_n(s.screw, _CLASS)
    found = [
        *(_on_rails(s) if s.rails else _on_slot(s)),
        judged(
            "tips",
            "Halves stay down",
            worked(f"{COUNTED:g}·pull·levers/(most force·height)", s.pull, s.levers, term(most, 4), s.push, most=999.0),
            _ENOUGH,
            (
                "its bolts keep each half flat",
                "little in hand: push lower, or a longer foot",
                "a half tips back about its heel and lifts the work",
            ),
            unit="×",
            features=("bolts", "halves"),
            figures=("bolt_torque", "screw_torque", "push_height", "half_length"),
            remedies=("screw_torque", "half_length", "bolt_torque"),
        ),
        judged(
            "screw_load",
            "Push screw load",
            worked("most force/three eighths of the proof load", term(most, 4), term(proof, 4)),
            Limits(marginal_above=80, no_above=100),
            ("well within what the screw bears", "near what the screw bears", "the thread yields or its point mushrooms"),
            unit="%",
            features=("screw",),
            figures=("force_most", "screw"),
            remedies=("screw_torque", "screw"),
        ),
        screw_load(
            "bolt_load",
            "Hold-down bolt load",
            s.pull,
            find_thread(parse_thread(s.bolt)),
            _CLASS,
            Points(features=("bolts",), figures=("bolt_torque", "bolt"), remedies=("bolt_torque", "bolt")),
            careful=LIPS_FIRST,
        ),
        judged(
            "travel",
            "Push screw travel",
            worked("travel − pitch", v.number("screw_travel"), s.pitch)
            if s.rails
            else worked("travel − 2", v.number("screw_travel")),
            Limits(0.0, 2.0),
            (
                "it reaches whatever the halves leave",
                "it all but reaches",
                "between two holes of the rails some work is never reached" if s.rails else "too short to take work out and in",
            ),
            step=0.5,
            features=("screw",),
            figures=("screw_travel", *(("rail_pitch",) if s.rails else ())),
            remedies=("screw_travel", *(("rail_pitch",) if s.rails else ())),
        ),
        judged(
            "upright_bends",
            "Upright, bending over yield",
            worked("bending stress/yield", term(s.upright_mpa, 4), s.metal.yield_mpa),
            _BENT,
            ("stiff and sound", "it gives: a thicker upright", "it bends back"),
            unit="%",
            features=("halves",),
            figures=("upright", "force_most", "push_height", "foot_height"),
            remedies=("upright", "screw_torque"),
        ),
        judged(
            "plate_bends",
            "Jaw plate, bending over yield",
            worked("bending stress/yield", term(s.plate_mpa, 4), s.metal.yield_mpa),
            _BENT,
            ("it presses evenly", "it bows: a thicker plate", "it bends round the screw's point"),
            unit="%",
            features=("jaw",),
            figures=("jaw_plate", "force_most", "jaw_width"),
            remedies=("jaw_plate", "screw_torque"),
        ),
        judged(
            "point_room",
            "Metal under the screw's point",
            worked("plate − point", s.plate, POINT_DEEP),
            Limits(1.5, 3.0),
            ("it does not dent through", "thin under the point", "the point comes through to the work"),
            step=0.5,
            features=("jaw", "screw"),
            figures=("jaw_plate",),
            remedies=("jaw_plate",),
        ),
        judged(
            "heads",
            "Room beside the bolt's head",
            worked("first bolt − upright − half the head", s.first, s.upright, head("socket_cap", s.bolt, "head_d").value / 2),
            Limits(0.0, BESIDE),
            ("the head and its key go in", "it all but touches the upright", "the head does not go down: it meets the upright"),
            step=0.1,
            features=("bolts", "halves"),
            figures=("bolt_first", "upright"),
            remedies=("bolt_first", "upright"),
        ),
        *measured_check(v),
    ]
    return [*found, *_holes(s)]


def _holes(s: SplitViseSizes) -> list[Check]:
    """Of the drawn part, and the upright of the screw half: whichever is worse."""
    material = s.v.word("material")
    if s.part == "jaw":
        return hole_checks(s.plate_holes, s.plate, s.edge, material, ("push_height", "guide_apart", "jaw_width"), "jaw_plate")
    if s.part == "rail":
        return hole_checks(s.rail_holes, s.rail_height, s.edge, material, ("rail_pitch", "rail_width"), "rail_height")
    foot = hole_checks(s.foot_holes, s.foot, s.edge, material, ("half_length", "jaw_width", "bolt_apart"), "foot_height")
    if s.part == "fixed":
        return foot
    face = hole_checks(s.face_holes, s.upright, s.face_edge, material, ("push_height", "height", "guide_apart"), "upright")
    worse = {c.key: c for c in foot}
    for check in face:
        before = worse.get(check.key)
        if before is None or (check.verdict.rank, check.value) < (before.verdict.rank, before.value):
            worse[check.key] = check
    return list(worse.values())


def _on_slot(s: SplitViseSizes) -> list[Check]:
    v = s.v
    play = s.neck.min - s.key
    return [
        judged(
            "stays",
            "Halves stay, by friction",
            worked("bears/most force", term(s.bears / 1000, 5), term(s.force_most / 1000, 5)),
            _ENOUGH,
            (
                "its bolts hold each half against the screw",
                "little in hand: a stop behind each half, or less torque",
                "a half slides back along its slot: a key is no stop along it. Less torque, a stop behind it, or rails",
            ),
            unit="×",
            features=("bolts", "screw"),
            figures=("bears", "force_most"),
            remedies=("screw_torque", "bolt_torque"),
        ),
        judged(
            "slides",
            "Key clearance",
            worked("tightest slot − key", s.neck.min, s.key),
            Limits(0.0, 0.005, 0.06, 0.4),
            (
                "it slides and does not shake",
                "tight: fit it with a stone" if play < 0.005 else "loose: the halves stand askew",
                "it does not go in" if play < 0 else "it guides nothing",
            ),
            step=0.001,
            features=("keys", "slot"),
            figures=("key_width", "neck"),
            remedies=("key_width",),
        ),
        judged(
            "askew",
            "Squareness by clearance",
            _askew_formula(s),
            _ASKEW,
            ("the jaws face each other", "push both to the same side of the slot", "longer halves, or a closer key"),
            step=0.001,
            features=("keys",),
            figures=("askew", "half_length"),
            remedies=("key_width", "half_length"),
        ),
        judged(
            "nuts",
            "Keys beside the T-nuts",
            s.key_gap,
            Limits(0.0, BESIDE),
            (
                "the nuts slide between the keys",
                "a nut all but touches a key",
                "a key stands on a nut's neck: the bolt squeezes them together and holds nothing to the table",
            ),
            step=0.5,
            features=("keys", "bolts"),
            figures=("key_length", "nut_length", "bolt_first", "half_length"),
            remedies=("key_length", "half_length", "bolt_first"),
        ),
        judged(
            "two_nuts",
            "Room between the T-nuts",
            worked("spacing − nut", s.apart, v.number("nut_length")),
            Limits(0.0, BESIDE),
            ("both nuts stand free", "they all but meet", "they meet: one of them is pushed out of place"),
            step=0.5,
            features=("bolts",),
            figures=("bolt_apart", "nut_length"),
            remedies=("bolt_apart",),
        ),
        judged(
            "lips",
            "Key in the lips",
            worked("shallowest lip − below the half", s.lip.min, s.down),
            Limits(0.0, 0.5),
            ("it ends inside the lips", "it all but fills the lips", "it stands out under the lips"),
            step=0.1,
            features=("keys", "slot"),
            figures=("key_down", "lip"),
            remedies=("key_down",),
        ),
        *(
            bearing_height_check(
                f"{name}_bears",
                f"Bearing height of a key in {where}",
                deep,
                Points(features=("keys",), figures=(name,), remedies=(name,)),
            )
            for name, where, deep in (
                ("key_down", "the slot", min(s.down, s.lip.min)),
                ("key_seat", "the half", v.number("key_seat")),
            )
        ),
        judged(
            "over_heads",
            "Push screw over the bolts",
            worked(
                "height − half the screw − foot − head",
                s.push,
                s.screw.major_mm / 2,
                s.foot,
                head("socket_cap", s.bolt, "head_h").value,
            ),
            Limits(0.0, BESIDE),
            ("the screw runs over their heads", "it all but scrapes them", "the screw meets a bolt's head"),
            step=0.5,
            features=("screw", "bolts"),
            figures=("push_height", "foot_height"),
            remedies=("push_height", "foot_height"),
        ),
    ]


def _on_rails(s: SplitViseSizes) -> list[Check]:
    v = s.v
    pitch = v.number("slot_pitch")
    off = min(off_slots(s.rail_apart / 2, pitch, over=over) for over in (True, False)) if pitch else s.rail_apart / 2
    clear = (clearance_hole(s.bolt, "medium").value - float(s.bolt[1:])) / 2
    return [
        judged(
            "dowels",
            "Dowels in shear",
            worked(f"{DOWEL_MPA:g}/(most force/2/(π/4·d²))", term(s.force_most, 4), s.dowel),
            _ENOUGH,
            ("they alone take the screw's push", "little in hand: thicker dowels", "they shear: less torque, or thicker dowels"),
            unit="×",
            features=("rails", "screw"),
            figures=("dowel", "force_most"),
            remedies=("dowel", "screw_torque"),
        ),
        judged(
            "rail_pulls",
            "Rail, pull over yield",
            worked("stress where a hole is/yield", term(s.rail_mpa, 4), s.metal.yield_mpa),
            _BENT,
            ("they hardly stretch", "they stretch: wider rails", "they give where a hole is"),
            unit="%",
            features=("rails",),
            figures=("rail_width", "rail_height", "force_most"),
            remedies=("rail_height", "rail_width", "screw_torque"),
        ),
        judged(
            "over_slots",
            "Rails over the slots",
            off,
            Limits(marginal_above=0.5 * clear),
            ("each has a slot under it", "not over two slots: strap the rails down, or change their spacing", ""),
            step=0.05,
            features=("rails", "slot"),
            figures=("rail_apart", "slot_pitch"),
            remedies=("rail_apart",),
        ),
        judged(
            "rail_table",
            "Rails on the table",
            worked("table − rail", v.number("table_length"), s.rail_length),
            Limits(marginal_below=0.0),
            ("they lie on it from end to end", "they stand out over its end: fewer threads", ""),
            step=1,
            features=("rails", "slot"),
            figures=("rail_length", "table_length"),
            remedies=("stations", "rail_pitch"),
        ),
    ]
