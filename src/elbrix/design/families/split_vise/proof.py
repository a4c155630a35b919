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
from elbrix.mechanics.strength import COUNTED, MU, stud_load_n
from elbrix.mechanics.tightened import LIPS_FIRST, screw_load
from elbrix.parameters.parameter import figure_of
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.threads import find_thread

#: Asked of whatever must not slide, tip or shear: above, and marginal below. Source: shop practice.
_ENOUGH: Final = Limits(1.0, 1.5)
#: Of yield, %. Source: shop practice, half of it is the usual limit.
_BENT: Final = Limits(marginal_above=35.0, no_above=50.0)
#: How far the jaw faces may stand askew by the play of the keys, over their width, mm.
_ASKEW: Final = Limits(marginal_above=0.05, no_above=0.15)
_CLASS: Final = "8.8"


def figures(s: SplitViseSizes) -> list[Figure]:
    v, n = s.v, format_number
    torque = v.number("screw_torque")
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="force_least",
            label="Clamping force, at least",
            value=s.force_least / 1000,
            unit="kN",
            features=("screw",),
            derivation=Derivation(
                "torque·force per N·m, dry",
                f"{n(torque)}·{n(s.per_nm(MU_DRY), 2)}",
                f"µ {MU_DRY:g}: what surely reaches the work",
            ),
        ),
        Figure(
            key="force_most",
            label="Clamping force, at most",
            value=s.force_most / 1000,
            unit="kN",
            features=("screw",),
            derivation=Derivation(
                "torque·force per N·m, oiled",
                f"{n(torque)}·{n(s.per_nm(MU_OILED), 2)}",
                f"µ {MU_OILED:g}: what halves, plate and rails may have to stand",
            ),
        ),
        Figure(
            key="per_nm",
            label="Force for each N·m",
            value=s.per_nm(MU_USUAL),
            unit="N",
            step=1,
            features=("screw",),
            derivation=Derivation(
                "1000/(d2/2·tan(lead and friction) + µ·point/3)",
                f"1000/({n(s.screw.pitch_d_mm, 4)}/2·tan({n(s.lead_and_friction_deg(MU_USUAL), 5)}°)"
                f" + {MU_USUAL:g}·{n(s.point)}/3)",
                f"µ {MU_USUAL:g}, as it usually is: what Shop is told",
            ),
        ),
        Figure(
            key="bears",
            label="A half bears by friction",
            value=s.bears / 1000,
            unit="kN",
            features=("bolts",),
            derivation=Derivation(
                "µ·what is counted on·pull·bolts",
                f"{n(MU)}·{n(COUNTED)}·{n(s.pull, 2)}·{len(s.bolts)}",
                "its bolts at the least their torque gives",
            ),
        ),
        Figure(
            key="opening",
            label="Largest opening",
            value=s.opening,
            step=0.5,
            features=("halves",),
            derivation=(
                Derivation(
                    "(threads − 3)·pitch − 2·first bolt − plate − 1",
                    f"({s.stations} − 3)·{n(s.pitch)} − 2·{n(s.first)} − {n(s.plate)} − {n(ROOM)}",
                )
                if s.rails
                else Derivation(
                    "table − 2·half − plate − 1", f"{n(v.number('table_length'))} − 2·{n(s.long)} − {n(s.plate)} − {n(ROOM)}"
                )
            ),
        ),
        Figure(
            key="screw_length",
            label="Push screw length",
            value=s.screw_length,
            step=1,
            features=("screw",),
            derivation=Derivation(
                "point + travel + upright",
                f"{n(POINT_DEEP)} + {n(v.number('screw_travel'))} + {n(s.upright)}",
                "without its head",
            ),
        ),
        Figure(key="point", label="Push screw point Ø", value=s.point, step=0.1, features=("screw",)),
        *_stand(s),
        Figure(
            key="mass",
            label="Mass of this part",
            value=s.volume * s.metal.density_kg_m3 * 1e-9,
            unit="kg",
            features=("halves",),
            derivation=Derivation(
                "volume × density, holes not taken off", f"{n(s.volume, 1)}·{s.metal.density_kg_m3:g}/1000000000"
            ),
        ),
    ]


def _stand(s: SplitViseSizes) -> list[Figure]:
    """What is only on rails, or only on a slot."""
    v, n = s.v, format_number
    if s.rails:
        return [
            Figure(
                key="rail_length",
                label="Rail length",
                value=s.rail_length,
                step=1,
                features=("rails",),
                derivation=Derivation("(threads − 1)·pitch + 2·end", f"({s.stations} − 1)·{n(s.pitch)} + 2·{n(s.rail_end)}"),
            ),
            Figure(
                key="dowel_y",
                label="Dowel behind the face",
                value=s.dowel_y,
                step=0.1,
                features=("rails",),
                derivation=Derivation(
                    "first bolt + pitch/2", f"{n(s.first)} + {n(s.pitch)}/2", "half a pitch: both halves find their holes"
                ),
            ),
        ]
    return [
        Figure(
            key="play",
            label="Key play",
            value=s.play,
            step=0.001,
            features=("keys",),
            derivation=Derivation("widest slot − key", f"{n(s.neck.max, 3)} − {n(s.key, 3)}"),
        ),
        Figure(
            key="askew",
            label="Jaws askew by it",
            value=s.askew,
            step=0.001,
            features=("keys",),
            derivation=Derivation(
                "W·play/(half − 2)",
                f"{n(s.width)}·{n(max(0.0, s.play), 4)}/({n(s.long)} − {n(2 * ROOM)})",
                "over the width of the jaws",
            ),
        ),
        Figure(
            key="key_height",
            label="Key height",
            value=s.seat + s.down,
            step=0.1,
            features=("keys",),
            derivation=Derivation("keyway + below", f"{n(s.seat)} + {n(v.number('key_down'))}"),
        ),
    ]


def checks(s: SplitViseSizes) -> list[Check]:
    v, n = s.v, format_number
    most = s.force_most
    proof = stud_load_n(s.screw, _CLASS)
    found = [
        *(_on_rails(s) if s.rails else _on_slot(s)),
        judged(
            "tips",
            "Halves stay down",
            min(s.tips, 999.0),
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
            derivation=(
                "what is counted on·pull·levers/(most force·height)",
                f"{n(COUNTED)}·{n(s.pull, 3)}·{n(s.levers, 3)}/({n(most, 4)}·{n(s.push)})",
            ),
        ),
        judged(
            "screw_load",
            "Push screw load",
            100 * most / proof,
            Limits(marginal_above=80, no_above=100),
            ("well within what the screw bears", "near what the screw bears", "the thread yields or its point mushrooms"),
            unit="%",
            features=("screw",),
            figures=("force_most", "screw"),
            remedies=("screw_torque", "screw"),
            derivation=("most force/three eighths of the proof load", f"{n(most, 4)}/{n(proof, 4)}"),
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
            v.number("screw_travel") - (s.pitch if s.rails else 2.0),
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
            derivation=(
                "travel − pitch" if s.rails else "travel − 2",
                f"{n(v.number('screw_travel'))} − {n(s.pitch if s.rails else 2.0)}",
            ),
        ),
        judged(
            "upright_bends",
            "Upright, bending over yield",
            100 * s.upright_mpa / s.metal.yield_mpa,
            _BENT,
            ("stiff and sound", "it gives: a thicker upright", "it bends back"),
            unit="%",
            features=("halves",),
            figures=("upright", "force_most", "push_height", "foot_height"),
            remedies=("upright", "screw_torque"),
            derivation=("bending stress/yield", f"{n(s.upright_mpa, 4)}/{n(s.metal.yield_mpa)}"),
        ),
        judged(
            "plate_bends",
            "Jaw plate, bending over yield",
            100 * s.plate_mpa / s.metal.yield_mpa,
            _BENT,
            ("it presses evenly", "it bows: a thicker plate", "it bends round the screw's point"),
            unit="%",
            features=("jaw",),
            figures=("jaw_plate", "force_most", "jaw_width"),
            remedies=("jaw_plate", "screw_torque"),
            derivation=("bending stress/yield", f"{n(s.plate_mpa, 4)}/{n(s.metal.yield_mpa)}"),
        ),
        judged(
            "point_room",
            "Metal under the screw's point",
            s.plate - POINT_DEEP,
            Limits(1.5, 3.0),
            ("it does not dent through", "thin under the point", "the point comes through to the work"),
            step=0.5,
            features=("jaw", "screw"),
            figures=("jaw_plate",),
            remedies=("jaw_plate",),
            derivation=("plate − point", f"{n(s.plate)} − {n(POINT_DEEP)}"),
        ),
        judged(
            "heads",
            "Room beside the bolt's head",
            s.beside_upright,
            Limits(0.0, BESIDE),
            ("the head and its key go in", "it all but touches the upright", "the head does not go down: it meets the upright"),
            step=0.1,
            features=("bolts", "halves"),
            figures=("bolt_first", "upright"),
            remedies=("bolt_first", "upright"),
            derivation=(
                "first bolt − upright − half the head",
                f"{n(s.first)} − {n(s.upright)} − {n(head('socket_cap', s.bolt, 'head_d').value / 2)}",
            ),
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
    v, n = s.v, format_number
    play = s.neck.min - s.key
    return [
        judged(
            "stays",
            "Halves stay, by friction",
            min(s.bears / s.force_most, 999.0),
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
            derivation=("bears/most force", f"{n(s.bears / 1000, 5)}/{n(s.force_most / 1000, 5)}"),
        ),
        judged(
            "slides",
            "Key clearance",
            play,
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
            derivation=("tightest slot − key", f"{n(s.neck.min, 3)} − {n(s.key, 3)}"),
        ),
        judged(
            "askew",
            "Squareness by clearance",
            s.askew,
            _ASKEW,
            ("the jaws face each other", "push both to the same side of the slot", "longer halves, or a closer key"),
            step=0.001,
            features=("keys",),
            figures=("askew", "half_length"),
            remedies=("key_width", "half_length"),
            derivation=("W·play/(half − 2)", f"{n(s.width)}·{n(max(0.0, s.play), 4)}/({n(s.long)} − {n(2 * ROOM)})"),
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
            s.nuts_apart,
            Limits(0.0, BESIDE),
            ("both nuts stand free", "they all but meet", "they meet: one of them is pushed out of place"),
            step=0.5,
            features=("bolts",),
            figures=("bolt_apart", "nut_length"),
            remedies=("bolt_apart",),
            derivation=("spacing − nut", f"{n(s.apart)} − {n(v.number('nut_length'))}"),
        ),
        judged(
            "lips",
            "Key in the lips",
            s.lip.min - s.down,
            Limits(0.0, 0.5),
            ("it ends inside the lips", "it all but fills the lips", "it stands out under the lips"),
            step=0.1,
            features=("keys", "slot"),
            figures=("key_down", "lip"),
            remedies=("key_down",),
            derivation=("shallowest lip − below the half", f"{n(s.lip.min)} − {n(s.down)}"),
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
            s.head_clear,
            Limits(0.0, BESIDE),
            ("the screw runs over their heads", "it all but scrapes them", "the screw meets a bolt's head"),
            step=0.5,
            features=("screw", "bolts"),
            figures=("push_height", "foot_height"),
            remedies=("push_height", "foot_height"),
            derivation=(
                "height − half the screw − foot − head",
                f"{n(s.push)} − {n(s.screw.major_mm / 2)} − {n(s.foot)} − {n(head('socket_cap', s.bolt, 'head_h').value)}",
            ),
        ),
    ]


def _on_rails(s: SplitViseSizes) -> list[Check]:
    v, n = s.v, format_number
    pitch = v.number("slot_pitch")
    off = min(off_slots(s.rail_apart / 2, pitch, over=over) for over in (True, False)) if pitch else s.rail_apart / 2
    clear = (clearance_hole(s.bolt, "medium").value - float(s.bolt[1:])) / 2
    shear = s.force_most / 2 / s.dowel_area
    return [
        judged(
            "dowels",
            "Dowels in shear",
            DOWEL_MPA / shear if shear else 999.0,
            _ENOUGH,
            ("they alone take the screw's push", "little in hand: thicker dowels", "they shear: less torque, or thicker dowels"),
            unit="×",
            features=("rails", "screw"),
            figures=("dowel", "force_most"),
            remedies=("dowel", "screw_torque"),
            derivation=("200/(most force/2/(π/4·d²))", f"{n(DOWEL_MPA)}/({n(s.force_most, 4)}/2/(π/4·{n(s.dowel)}²))"),
        ),
        judged(
            "rail_pulls",
            "Rail, pull over yield",
            100 * s.rail_mpa / s.metal.yield_mpa,
            _BENT,
            ("they hardly stretch", "they stretch: wider rails", "they give where a hole is"),
            unit="%",
            features=("rails",),
            figures=("rail_width", "rail_height", "force_most"),
            remedies=("rail_height", "rail_width", "screw_torque"),
            derivation=("stress where a hole is/yield", f"{n(s.rail_mpa, 4)}/{n(s.metal.yield_mpa)}"),
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
            v.number("table_length") - s.rail_length,
            Limits(marginal_below=0.0),
            ("they lie on it from end to end", "they stand out over its end: fewer threads", ""),
            step=1,
            features=("rails", "slot"),
            figures=("rail_length", "table_length"),
            remedies=("stations", "rail_pitch"),
            derivation=("table − rail", f"{n(v.number('table_length'))} − {n(s.rail_length)}"),
        ),
    ]
