"""What follows from the sizes of a fixture plate, and what may go wrong."""

from __future__ import annotations

import math

from elbrix.design.bores import hole_checks
from elbrix.design.families.fixture_plate.sizes import LAND, PARAMETERS, FixturePlateSizes
from elbrix.design.hosts import measured_check
from elbrix.mechanics.lifting import lifting_check
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.shop.shop import Shop


def figures(s: FixturePlateSizes, shop: Shop) -> list[Figure]:
    v = s.v
    block, gone = s.volumes
    clear, d = format_number(s.clear + float(s.bolt[1:])), s.bolt[1:]
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        Figure(
            key="hole_count",
            label="Number of holes",
            value=len(s.work_holes),
            unit="",
            text=f"{len(s.work_holes)} holes",
            features=("work holes",),
        ),
        reckoned(
            "shift",
            "Shift in bolt holes ±",
            worked(
                "(D − d)/2",
                s.clear + float(s.bolt[1:]),
                float(s.bolt[1:]),
                source=f"clearance hole for {s.bolt}; align it before they go tight",
            ),
            step=0.01,
            features=("bolts",),
        ),
        Figure(
            key="turn",
            label="Rotation in bolt holes ±",
            value=s.turn_deg,
            unit="deg",
            features=("bolts",),
            derivation=(
                Derivation(
                    "57.2958·(D − d)/S",
                    f"57.2958·({clear} − {d})/{format_number(s.bolt_span)}",
                    "S: the two bolts farthest apart",
                )
                if s.bolt_span
                else None
            ),
        ),
        Figure(key="align", label="Alignment method", value=0.0, unit="", text=_align(s), features=("plate",)),
        reckoned(
            "mass",
            "Mass",
            worked("(block − holes)·density/10⁹", term(block, 0), term(gone, 0), term(s.density, 6), source=v.word("material")),
            unit="kg",
            features=("plate",),
        ),
    ]
    if len(s.pins) == 2:
        hole = s.pin + s.play
        relieved = v.word("pins") == "relieved"
        form = (
            (
                "c/2 + (√(w² + D² − d²) − w)/2",
                (
                    f"{format_number(s.play, 4)}/2 + (√({format_number(LAND * s.pin, 4)}² + {format_number(hole, 4)}² −"
                    f" {format_number(s.pin, 4)}²) − {format_number(LAND * s.pin, 4)})/2"
                ),
            )
            if relieved
            else ("(c1 + c2)/2", f"({format_number(s.play, 4)} + {format_number(s.play, 4)})/2")
        )
        found += [
            Figure(
                key="accepted",
                label="Accepted spacing error",
                value=s.accepted,
                step=0.001,
                features=("pins",),
                derivation=Derivation(*form),
            ),
            reckoned(
                "pins_apart",
                "Pin spacing",
                worked("√(Δx² + Δy²)", s.pins[1].x - s.pins[0].x, s.pins[1].y - s.pins[0].y),
                step=0.01,
                features=("pins",),
            ),
            reckoned(
                "pin_turn",
                "Rotation on the pins ±",
                worked("206265·(c1 + c2)/(2·L)", term(s.play, 4), term(s.play, 4), s.pin_spacing),
                unit="″",
                features=("pins",),
            ),
        ]
        if relieved:
            found.append(
                reckoned(
                    "land",
                    "Relieved pin land",
                    worked("d/3", term(s.pin, 4), source="shop practice"),
                    step=0.01,
                    features=("pins",),
                    note="across the line of the pins",
                )
            )
    round_one = s.kind == "rotary" or s.ring
    if round_one and s.work_holes:
        far = max(s.work_holes, key=lambda h: math.hypot(h.x, h.y))
        found.append(
            reckoned(
                "polar",
                f"{far.name} from the middle",
                worked("√(x² + y²)", far.x, far.y),
                step=0.001,
                features=("work holes",),
                note=f"at {math.degrees(math.atan2(far.y, far.x)):.3f}°",
            )
        )
    return found


def _align(s: FixturePlateSizes) -> str:
    if s.centre:
        return "the pin in the centre hole, then an indicator along one edge"
    return "an indicator along its long edge, or two keys in the slot"


def checks(s: FixturePlateSizes, shop: Shop) -> list[Check]:
    v = s.v
    found: list[Check] = []
    if s.bolts:
        worst = max(s.bolts, key=s.off_slot)
        off, free = s.off_slot(worst), s.clear / 2
        found.append(
            judged(
                "on_slots",
                "Bolts over the slots",
                off,
                Limits(marginal_above=0.5 * free, no_above=free),
                (
                    "each lies over the middle of a slot",
                    f"{worst.name} uses up half of what its hole allows",
                    f"{worst.name} misses the slot: no stud stands there",
                ),
                step=0.01,
                features=("bolts", "slots"),
                figures=("bolts", "slot_pitch"),
                remedies=("centred_over", "slot_pitch", "ring_radius"),
                derivation=("to the nearest slot's middle", format_number(off)),
            )
        )
        wide = float(s.bolt[1:])
        neck = v.readings("neck")
        found.append(
            judged(
                "in_slot",
                "Bolt in the slot",
                worked("tightest slot − bolt", neck.min, wide),
                Limits(0.0, 0.5),
                ("it goes through", "it only just goes through", "it does not go into the slot"),
                step=0.01,
                features=("bolts", "slots"),
                figures=("neck", "bolt"),
                remedies=("bolt",),
            )
        )
    found.append(
        judged(
            "bolts",
            "Number of bolts",
            len(s.bolts),
            Limits(2, 3),
            (
                "held at three places or more",
                "two hold it, with nothing in hand: more on a heavy cut",
                "one bolt or none: it turns under the cutter",
            ),
            unit="",
            text=f"{len(s.bolts)} bolts",
            features=("bolts",),
            figures=("bolts",),
            derivation=("bolts over the slots", str(len(s.bolts))),
        )
    )
    hang = max(s.length - v.number("table_length"), s.width - v.number("table_width")) / 2
    found.append(
        judged(
            "on_table",
            "Overhang past the table",
            max(hang, 0.0),
            Limits(marginal_above=0.0, no_above=s.thickness),
            (
                "it lies on the table all over",
                "it hangs over: nothing heavy out there",
                "so far out it bends and is in the way of the slides",
            ),
            step=0.1,
            features=("plate", "slots"),
            figures=("length", "width"),
            remedies=("length", "width"),
            derivation=("how far beyond it, at a side", format_number(max(hang, 0.0))),
        )
    )
    found += measured_check(v)
    found += hole_checks(
        (*s.holes, *s.taken) if s.taken else s.holes,
        s.thickness,
        s.edge,
        v.word("material"),
        ("length", "width", "bolt", "work_thread"),
    )
    found += _pins(s)
    if s.path:
        near = min(s.holes, key=s.from_path, default=None)
        if near is not None:
            gap = s.from_path(near)
            found.append(
                judged(
                    "cutter_path",
                    "Cutter clearance",
                    worked(
                        "to the path − half the cutter − half the hole",
                        gap + s.cutter / 2 + near.mouth / 2,
                        s.cutter / 2,
                        near.mouth / 2,
                    ),
                    Limits(0.0, 1.0),
                    (
                        "none lies under its path",
                        f"{near.name} is just beside it",
                        f"the cutter runs over {near.name}: chips in the hole, or a cut screw",
                    ),
                    step=0.1,
                    features=(near.feature, "cutter_path"),
                    figures=("cutter_path", "cutter_diameter"),
                    remedies=("cutter_diameter",),
                )
            )
    found.append(
        lifting_check(
            worked("plate + work", s.mass_kg, v.number("work_kg")),
            Points(features=("plate",), figures=("mass", "work_kg"), remedies=("thickness", "length", "width")),
            ", and drill holes for lifting eyes",
        )
    )
    return found


def _pins(s: FixturePlateSizes) -> list[Check]:
    v = s.v
    if v.word("pins") == "none":
        if s.kind != "work":
            return []
        return [
            judged(
                "located",
                "Work located",
                0,
                Limits(marginal_below=1),
                ("by pins", "nothing locates the work: it is indicated each time", ""),
                unit="",
                text="no pins",
                features=("work holes",),
                figures=("pins",),
                remedies=("pins",),
                derivation=("pins", "0"),
            )
        ]
    if len(s.pins) < 2:
        return [
            judged(
                "located",
                "Two pins",
                len(s.pins),
                Limits(2, 2),
                ("two", "", "one pin lets the work turn"),
                unit="",
                text=f"{len(s.pins)} of 2",
                features=("pins",),
                figures=("pin_positions",),
                derivation=("places given", str(len(s.pins))),
            )
        ]
    error, relieved = v.number("spacing_error"), v.word("pins") == "relieved"
    words = (
        "the work goes on",
        "it only just goes on",
        "it will not go on both: more play" if relieved else "it will not go on both: relieve one pin",
    )
    spread = max((math.dist((a.x, a.y), (b.x, b.y)) for a in (*s.work_holes, *s.pins) for b in s.pins), default=1.0)
    return [
        judged(
            "spacing",
            "Accepted spacing error",
            worked("accepted − spacing error", term(s.accepted, 4), term(error, 4)),
            Limits(0.0, 0.1 * s.play),
            words,
            step=0.001,
            features=("pins",),
            figures=("accepted", "spacing_error", "pin_clearance"),
            remedies=("pins", "pin_clearance"),
        ),
        judged(
            "apart",
            "Pin spacing",
            worked("pin to pin/farthest hole from a pin", s.pin_spacing, spread),
            Limits(15, 50),
            (
                "as far apart as the work allows",
                "farther apart they hold the direction better",
                "so near each other they hold no direction",
            ),
            unit="%",
            features=("pins",),
            figures=("pin_positions", "pins_apart"),
        ),
    ]
