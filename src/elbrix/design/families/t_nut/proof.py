"""What follows from the sizes, and what may go wrong: figures with their working, checks with their reasons."""

from __future__ import annotations

from typing import Final

from elbrix.design.families.t_nut.sizes import PARAMETERS, STOPS, TNutSizes
from elbrix.design.slot_nut import TOP_LIMITS, along_limits, wall_limits
from elbrix.mechanics.strength import torque_nm
from elbrix.mechanics.tightened import engaged, screw_load, stripping
from elbrix.parameters.parameter import Kind
from elbrix.results.checks import Check, Limits, Points, Verdict
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import kilonewtons, reckoned, term, worked
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES
from elbrix.standards.materials import PRELOAD_SCATTER
from elbrix.standards.near_miss import thread_near_misses
from elbrix.standards.threads import known_thread

#: What its checks under load point at, and what mends them.
_POINTS: Final = {
    "engagement": Points(
        features=("thread",), figures=("engagement_mm", "thread"), remedies=("neck_height", "head_height", "stud_stop", "thread")
    ),
    "stud": Points(features=("thread",), figures=("preload", "torque"), remedies=("torque",)),
    "strip": Points(features=("thread",), figures=("engagement_mm", "material"), remedies=("torque", "material", "head_height")),
    "bearing": Points(
        features=("head", "slot lip"), figures=("head_width", "length", "neck"), remedies=("length", "head_width", "torque")
    ),
    "lip_shear": Points(features=("slot lip",), figures=("lip", "length"), remedies=("length", "torque")),
    "lip_bending": Points(features=("slot lip",), figures=("lip", "length", "head_width"), remedies=("length", "torque")),
    "flange": Points(
        features=("head",),
        figures=("head_height", "head_width", "material"),
        remedies=("head_height", "length", "torque", "material"),
    ),
}


def figures(s: TNutSizes) -> list[Figure]:
    v, band = s.v, PRELOAD_SCATTER
    given = [
        Figure(
            key=p.name,
            label=p.label,
            unit=p.unit,
            origin=v[p.name].origin,
            derivation=v[p.name].derivation,
            note=v[p.name].note,
            step=None,
            value=(
                v.readings(p.name).min
                if p.kind is Kind.READINGS
                else v.number(p.name)
                if p.kind in (Kind.LENGTH, Kind.NUMBER, Kind.COUNT)
                else 0.0
            ),
            text=s.thread.shown if p.kind is Kind.THREAD else p.shown_choice(v.word(p.name)) if p.kind is Kind.CHOICE else "",
            features=(p.feature,) if p.feature else (),
        )
        for p in PARAMETERS
    ]
    at_close, at_no = min(s.pulled.allowed(), key=lambda a: a[1]), min(s.pulled.allowed(), key=lambda a: a[2])
    t_no = torque_nm(at_no[2], s.k, s.thread.major_mm)
    derived = [
        reckoned(
            "total_height",
            "Total height",
            worked("neck height + head height", s.neck_height, s.head_height),
            step=0.01,
            features=("neck", "head"),
        ),
        reckoned(
            "side_gap",
            "Side gap",
            worked("(tightest slot neck − neck)/2", s.neck.min, s.nut_neck),
            step=0.005,
            features=("neck",),
        ),
        reckoned(
            "below_table",
            "Top below the table",
            worked("shallowest lip − neck height", s.lip.min, s.neck_height),
            step=0.01,
            features=("neck",),
        ),
        Figure(
            key="engagement_mm",
            label="Thread engagement",
            value=s.engaged,
            step=0.1,
            features=("thread",),
            derivation=Derivation(
                "thread engaged: " + s.stop.formula.split(":")[0], s.stop.formula.split(": ")[-1], dict(STOPS)[s.stop_kind]
            ),
        ),
        reckoned(
            "preload",
            "Preload",
            worked(
                "T/(K·d)",
                term(s.torque, 3, "N·m"),
                term(s.k, 6),
                term(s.thread.major_mm, 6, "mm"),
                source=f"K {s.k:g} {v.word('lubrication')}, reference; scatter ±{band:.0%}",
            ),
            unit="kN",
            features=("thread",),
            note=(
                f"{s.preload * (1 - band) / 1000:.1f} to {s.preload * (1 + band) / 1000:.1f} kN:"
                " a torque wrench cannot say closer"
            ),
        ),
        reckoned(
            "highest_torque",
            "Largest torque",
            worked(
                "K·d·F",
                term(s.k, 6),
                term(s.thread.major_mm, 6, "mm"),
                kilonewtons(at_close[1], 2),
                source=f"F: the least any part allows, {at_close[0]}; machine maker's figure first",
            ),
            unit="N·m",
            features=("thread",),
            note=f"{at_close[0]} comes near its limit first; {at_no[0]} gives out at {t_no:.0f} N·m",
        ),
    ]
    if s.ring_radius:
        longest = s.ring_longest()
        derived.append(
            Figure(
                key="ring_longest",
                label="Longest straight nut",
                value=longest,
                step=0.1,
                features=("length",),
                derivation=Derivation(
                    "2·√(R_o² − (R_i + n)²), the smaller of neck and head",
                    f"R {format_number(s.ring_radius)}, neck {format_number(s.neck.min)} − 0.1 and {format_number(s.nut_neck)},"
                    f" head {format_number(s.head.min)} − 0.2 and {format_number(s.nut_head)}",
                    "middle on the inner wall, corners on the outer",
                ),
            )
        )
    return given + derived


def _along(s: TNutSizes) -> Check:
    """Metal along the slot between the thread and each end: a nut shorter than its thread is two pieces."""
    d = s.thread.major_mm
    along = (s.length - d) / 2
    limits = along_limits(d)
    ring = s.v.number("ring_radius") > 0
    verdict = limits.judge(along)
    reason = {
        Verdict.GO: "sound metal before and behind the thread",
        Verdict.MARGINAL: "little metal before and behind the thread: a smaller thread, or a longer nut",
        Verdict.NO_GO: "the thread takes all the metal along the slot"
        + (": a smaller thread, or a nut curved to the ring" if ring else ": make it longer or the thread smaller"),
    }[verdict]
    return Check(
        key="along",
        label="Metal along the slot beside thread",
        value=along,
        unit="mm",
        step=0.01,
        limits=limits,
        features=("thread", "neck"),
        figures=("length", "thread"),
        remedies=("length", "thread"),
        reason=reason,
        derivation=Derivation("(length − thread)/2", f"({format_number(s.length)} − {format_number(d)})/2"),
    )


def checks(s: TNutSizes, shop: Shop) -> list[Check]:
    play, head_play = s.neck.min - s.nut_neck, s.head.min - s.nut_head
    space = s.depth.min - s.lip.max - s.head_height
    wall = (s.nut_neck - s.thread.major_mm) / 2
    places = min(r.count for r in (s.neck, s.lip, s.head, s.depth))
    if any(s.v[n].origin is Origin.ASSUMED for n, *_ in SLOT_SIZES):
        places = 0
    found = [
        Check(
            key="slides",
            label="Neck clearance",
            value=play,
            unit="mm",
            step=0.01,
            limits=Limits(0.05, 0.2, 0.5),
            features=("neck", "slot neck"),
            figures=("neck", "neck_width", "side_gap"),
            remedies=("neck_width",),
            reason=(
                "wider than the tightest neck: it will not go in"
                if play < 0
                else (
                    "too tight: a burr or a chip jams it"
                    if play < 0.2
                    else "loose: it turns and leans in the slot"
                    if play > 0.5
                    else "room to slide, not to turn"
                )
            ),
            derivation=Derivation(
                "tightest slot neck − neck",
                f"{format_number(s.neck.min)} − {format_number(s.nut_neck)}",
                "0.2 to 0.5 both sides together",
            ),
        ),
        Check(
            key="top_below",
            label="Top below the table",
            value=s.below,
            unit="mm",
            step=0.01,
            limits=TOP_LIMITS,
            features=("neck", "slot lip"),
            figures=("lip", "neck_height", "below_table"),
            remedies=("neck_height",),
            reason=(
                "pulled up, the nut's top stands above the table: the clamp presses on the nut and holds nothing"
                if s.below < 0
                else (
                    "pulled up, the nut's top is all but level with the table: a burr or a shallower place, and the clamp presses"
                    " on the nut and holds nothing"
                    if s.below < 0.2
                    else (
                        "only just: a burr or a shallower place and it clamps on itself"
                        if s.below < 0.5
                        else "the pull goes into the lips, not into the nut's top"
                    )
                )
            ),
            derivation=Derivation(
                "shallowest lip − neck height",
                f"{format_number(s.lip.min)} − {format_number(s.neck_height)}",
                "nut pulled hard against the lips",
            ),
        ),
        Check(
            key="neck_fills",
            label="Neck height in the lips",
            value=s.neck_height / s.lip.min * 100,
            unit="%",
            limits=Limits(marginal_below=60),
            features=("neck",),
            figures=("neck_height", "lip"),
            remedies=("neck_height",),
            reason=(
                "a short neck guides badly and costs thread"
                if s.neck_height < 0.6 * s.lip.min
                else "the lips guide it over most of their depth"
            ),
            derivation=Derivation("neck height / shallowest lip", f"{format_number(s.neck_height)}/{format_number(s.lip.min)}"),
        ),
        Check(
            key="head_slides",
            label="Head clearance",
            value=head_play,
            unit="mm",
            step=0.01,
            limits=Limits(0.1, 0.4, 2.5),
            features=("head", "slot head"),
            figures=("head", "head_width"),
            remedies=("head_width",),
            reason=(
                "the head is wider than the slot: it will not go in"
                if head_play < 0
                else (
                    "chips in the slot will jam it"
                    if head_play < 0.4
                    else "narrow: less lip to bear on"
                    if head_play > 2.5
                    else "room for chips and the corner fillets"
                )
            ),
            derivation=Derivation(
                "narrowest slot head − head", f"{format_number(s.head.min)} − {format_number(s.nut_head)}", "about 1 mm"
            ),
        ),
        Check(
            key="head_height",
            label="Clearance to the floor",
            value=space,
            unit="mm",
            step=0.01,
            limits=Limits(0.2, 0.5),
            features=("head", "slot floor"),
            figures=("depth", "lip", "head_height"),
            remedies=("head_height",),
            reason=(
                "the head is taller than the space under the lips"
                if space < 0
                else "it binds where the slot is shallow"
                if space < 0.5
                else "it slides everywhere"
            ),
            derivation=Derivation(
                "shallowest floor − deepest lip − head height",
                f"{format_number(s.depth.min)} − {format_number(s.lip.max)} − {format_number(s.head_height)}",
            ),
        ),
        Check(
            key="lies_flat",
            label="Height below the table",
            value=s.depth.min - s.total,
            unit="mm",
            step=0.01,
            limits=Limits(0.2, 0.5),
            features=("neck", "slot floor"),
            figures=("depth", "total_height"),
            remedies=("neck_height", "head_height"),
            reason=(
                "lying on the floor it stands above the table and catches the work"
                if s.depth.min - s.total < 0.5
                else "nothing catches the work when the nut is loose"
            ),
            derivation=Derivation("shallowest floor − total height", f"{format_number(s.depth.min)} − {format_number(s.total)}"),
        ),
        _along(s),
        Check(
            key="wall",
            label="Wall beside thread",
            value=wall,
            unit="mm",
            step=0.01,
            limits=wall_limits(s.nut_neck),
            features=("thread", "neck"),
            figures=("neck_width", "thread"),
            remedies=("thread",),
            reason=(
                "the thread is wider than the neck"
                if wall < 0
                else (
                    "the neck would burst or crack at the thread"
                    if wall < 0.25
                    else (
                        "thin: tap with care and no side load"
                        if wall_limits(s.nut_neck).judge(wall) is Verdict.MARGINAL
                        else "a sound wall in the neck"
                    )
                )
            ),
            derivation=Derivation(
                "(neck − thread)/2",
                f"({format_number(s.nut_neck)} − {s.thread.major_mm:g})/2",
                f"good from min(0.8, 0.055 × neck) = {format_number(min(0.8, 0.055 * s.nut_neck))}",
            ),
        ),
        engaged(s.thread, s.engaged, s.proof, s.material.yield_mpa, _POINTS["engagement"]),
        Check(
            key="stud_stop",
            label="Stud stop",
            value=s.stop.halts_at,
            unit="mm",
            step=0.01,
            limits=Limits(no_below=0.5),
            features=("thread", "slot floor"),
            figures=("stud_stop",),
            remedies=("stud_stop",),
            reason=(
                "the stud runs through, jacks against the slot floor and breaks the lips"
                if s.stop_kind == "none"
                else "it cannot reach the slot floor"
            ),
            derivation=Derivation(
                "where the stud halts above the underside", format_number(s.stop.halts_at), dict(STOPS)[s.stop_kind]
            ),
        ),
        screw_load("stud", "Stud load", s.preload, s.thread, s.v.word("stud_class"), _POINTS["stud"]),
        stripping(s.preload, s.thread, s.engaged, s.material.yield_mpa, _POINTS["strip"]),
        *s.pulled.lip_checks(s.preload, _POINTS),
        Check(
            key="places",
            label="Slot measurements",
            value=places,
            unit="",
            limits=Limits(marginal_below=3),
            features=("slot neck",),
            figures=("neck", "lip", "head", "depth"),
            text=f"{places} of 3",
            reason=(
                "a book slot stands in: measure yours before you cut"
                if not places
                else (
                    "a slot is seldom the same along the table; measure both ends and the middle"
                    if places < 3
                    else "both ends and the middle were measured"
                )
            ),
            derivation=Derivation("fewest places any size was read at", str(places)),
        ),
    ]
    if s.ring_radius:
        longest = s.ring_longest()
        found.append(
            Check(
                key="ring",
                label="Straight nut in ring slot",
                value=longest - s.length,
                unit="mm",
                step=0.01,
                limits=Limits(0.0, 0.3),
                features=("length", "slot neck"),
                figures=("ring_longest", "length"),
                remedies=("length",),
                reason=(
                    "too long for the curve: shorten it, or make it curved"
                    if longest < s.length
                    else "a straight nut is enough; no rotary-table work is needed"
                ),
                derivation=Derivation("longest straight nut − length", f"{format_number(longest)} − {format_number(s.length)}"),
            )
        )
    on_shelf = {known for stud in shop.studs if (known := known_thread(stud.thread)) is not None}
    alike = thread_near_misses(s.thread, on_shelf - {s.thread})
    if alike:
        found.append(
            Check(
                key="look_alike",
                label="Look-alike stud",
                value=len(alike),
                unit="",
                limits=Limits(marginal_above=0),
                features=("thread",),
                figures=("thread",),
                text=alike[0].partner,
                reason=alike[0].sentence + "; mark the nut with its thread",
                derivation=Derivation("studs within 6 % in diameter and 16 % in pitch", ", ".join(m.partner for m in alike)),
            )
        )
    return found
