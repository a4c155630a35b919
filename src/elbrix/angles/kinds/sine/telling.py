"""What a sine setting says: figures with their working, checks, the wring list."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.angles.budget import ARCSEC, Budget, read_back_band_rad, solid_spacer_band_mm
from elbrix.angles.kinds.sine.facts import FACES, REFUSED, Facts, owned_readers
from elbrix.angles.methods import shown, ways_to_set
from elbrix.angles.setup import SetupStep
from elbrix.angles.wringing import dropped_check, wring_steps
from elbrix.gauging.build_up import BuiltStack
from elbrix.parameters.parameter import Group, Values
from elbrix.quantities.angles import show_angle
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check, Fix, Limits
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

CAUTIONS: Final = (
    "Clamp the work before the plate is tilted, and the plate before anything is cut: a tilted plate tips over its pivot roll",
    "Keep fingers out from under the roll while the stack goes in; a heavy plate needs a second pair of hands",
    "Never mill on gauge blocks: clamp the plate at its side, or replace the stack by a solid spacer",
)


def stack_figure(figure: Figure, stack: BuiltStack | None, base: BuiltStack | None, spacer: float) -> Figure:
    words = "the spacer" if spacer else "none: the plate lies flat" if stack is None else stack.words
    if base is not None and stack is not None:
        words = f"{stack.words} / {base.words}"
    note = "under the stack roll / under the pivot roll" if base is not None else ""
    return Figure(
        key="stack",
        label="Stack" if base is None else "Two stacks",
        value=0.0,
        unit="",
        origin=figure.origin if figure.text else Origin.CALCULATED,
        text=words,
        note=note,
        features=("stack",),
        derivation=Derivation(
            "fewest blocks within a tenth of the tolerance, then least error, then least root-sum-square of the limits",
            words,
            "exact over every choice of the blocks that are here",
        ),
    )


def figures(
    facts: Facts,
    stack: BuiltStack | None,
    base: BuiltStack | None,
    rise: float,
    work_angle: float,
    budget: Budget,
    values: Values,
    shop: Shop,
) -> list[Figure]:
    plate, at = facts.plate, facts.set_at
    lean = plate.under_rolls_rad
    formula = "C·sin θ + (d_p − d_s)/2" if facts.to_centres else "C·sin(θ + asin((d_s − d_p)/2C)) + (d_p − d_s)/2"
    numbers = (
        f"{format_number(plate.centres_mm, 4)} · sin {math.degrees(at if facts.to_centres else at + lean):.6f}° +"
        f" ({format_number(plate.roll_pivot_mm, 4)} − {format_number(plate.roll_stack_mm, 4)})/2"
    )
    low, high = solid_spacer_band_mm(plate, at, facts.tolerance) if facts.height > 0 else (0.0, 0.0)
    reader = next((r for r in owned_readers(shop) if r.id == values.word("instrument")), None)
    found = [
        Figure(
            key="set_at",
            label="Angle on the plate",
            value=math.degrees(at),
            unit="",
            text=show_angle(at, "dms"),
            features=("angle",),
            derivation=Derivation(
                "90° − θ, the work turned" if facts.turned else "the angle itself",
                show_angle(facts.angle, "dms"),
                "over 60° the complement is set",
            ),
        ),
        Figure(
            key="height",
            label="Height between rolls",
            value=facts.height,
            step=0.0001,
            features=("stack",),
            derivation=Derivation(
                formula, numbers, "triangle on the roll centres; " + dict(FACES)["centres" if facts.to_centres else "bottoms"]
            ),
        ),
        Figure(
            key="stack_height",
            label="Actual stack height" if not values.number("spacer") else "Spacer, as measured",
            value=rise,
            step=0.0001,
            features=("stack",),
            derivation=Derivation(
                "blocks with their calibrated deviations" + (", less the stack under the pivot roll" if base else ""),
                (stack.real_sum + (f" − ({base.real_sum})" if base else "")) if stack else format_number(rise, 4),
            ),
        ),
        Figure(
            key="reached",
            label="Angle reached",
            value=math.degrees(work_angle),
            unit="",
            text=show_angle(work_angle, "dms"),
            features=("angle",),
            derivation=Derivation(
                "asin((H − (d_p − d_s)/2)/C)" + (", its complement" if facts.turned else ""),
                f"H = {format_number(rise, 4)}",
                "turned round from the height",
            ),
        ),
        reckoned(
            "off",
            "Angle error",
            worked("(angle it makes − angle asked)·3600", term(math.degrees(work_angle), 9), term(math.degrees(facts.angle), 9)),
            unit="″",
        ),
        reckoned(
            "per_um",
            "Angle per µm of stack",
            worked(
                "206264.806/(C·cos(θ))/1000", plate.centres_mm, term(math.degrees(at), 5, "°"), source="derivative of C·sin θ"
            ),
            unit="″",
        ),
        Figure(
            key="expected",
            label="Expected error ±",
            value=budget.rss_rad * ARCSEC,
            unit="″",
            derivation=Derivation(
                "root of the sum of the squares of the lines",
                ", ".join(f"{within(line.label)} {line.rss_rad * ARCSEC:.1f}″" for line in budget.lines),
            ),
        ),
        Figure(
            key="worst",
            label="Worst error ±",
            value=budget.worst_rad * ARCSEC,
            unit="″",
            derivation=Derivation(
                "all lines added", ", ".join(f"{within(line.label)} {line.worst_rad * ARCSEC:.1f}″" for line in budget.lines)
            ),
        ),
        Figure(
            key="spacer_make",
            label="Solid spacer length",
            value=facts.height,
            step=0.001,
            unit="",
            text=f"{length(low, 3)} … {length(high, 3)} {LENGTH_UNIT}",
            note=(
                "ground across its full width so that it carries both sides of the roll; type what it measures and the angle is"
                " worked out anew"
            ),
            derivation=Derivation(
                "the same height at θ − tolerance and θ + tolerance", f"{format_number(low, 4)} to {format_number(high, 4)}"
            ),
        ),
    ]
    if reader is not None:
        step, error = math.radians(reader.resolution_deg), math.radians(reader.error_deg)
        band = read_back_band_rad(step, error, budget.rss_rad)
        reached = math.pi / 2 - work_angle if facts.turned else work_angle
        reading = (
            round(math.degrees(reached) / reader.resolution_deg) * reader.resolution_deg
            if reader.resolution_deg
            else math.degrees(reached)
        )
        found.append(
            Figure(
                key="read_back",
                label="Expected reading",
                value=reading,
                unit="",
                text=f"{reading:g}° ± {shown(band)}",
                features=("angle",),
                derivation=Derivation(
                    "angle on the plate to the reader's step; accept step + its error + this setting's",
                    f"{math.degrees(reached):.4f}° → {reading:g}°; {shown(step)} + {shown(error)} + {shown(budget.rss_rad)}",
                    "zeroing on what it stands on rounds too",
                ),
            )
        )
    return found


def groups(spacer: float, *, reads: bool) -> tuple[Group, ...]:
    return (
        Group("Drawing", ("angle", "tolerance", "orientation")),
        Group("Equipment", ("method", "tool", "face", "block_set", "second_set", "parallel", "wear", "ranking", "spacer")),
        Group(
            "Stack",
            (
                ("set_at", "height", "stack", "stack_height", "reached", "off")
                if not spacer
                else ("set_at", "height", "stack_height", "reached", "off")
            ),
        ),
        Group("Uncertainty", ("expected", "worst", "per_um", "stands_on", "surface_flatness_um", "difference_k", "spacer_make")),
        Group("Read-back", ("instrument", *(("read_back",) if reads else ()), "work_length")),
    )


def checks(
    facts: Facts,
    budget: Budget,
    stack: BuiltStack | None,
    base: BuiltStack | None,
    values: Values,
    shop: Shop,
    dropped: Mapping[str, str],
    work_angle: float,
    spacer: float,
) -> tuple[list[Check], dict[str, Fix]]:
    tolerance = facts.tolerance * ARCSEC
    rss, worst = budget.rss_rad * ARCSEC, budget.worst_rad * ARCSEC
    largest = max(budget.lines, key=lambda line: line.rss_rad)
    fixes: dict[str, Fix] = {}
    checks = [
        Check(
            key="rss",
            label="Expected error",
            value=rss,
            unit="″",
            limits=Limits(marginal_above=0.7 * tolerance, no_above=tolerance),
            figures=("expected",),
            remedies=("tool", "block_set"),
            reason=(
                f"{'within' if rss <= tolerance else 'outside'} ±{shown(facts.tolerance)}; most of it is the"
                f" {within(largest.label)}"
            ),
            derivation=Derivation(
                "root of the sum of the squares of the lines", ", ".join(f"{line.rss_rad * ARCSEC:.1f}″" for line in budget.lines)
            ),
        ),
        Check(
            key="worst",
            label="Worst error",
            value=worst,
            unit="″",
            limits=Limits(marginal_above=tolerance),
            figures=("worst",),
            reason=(
                "even if every error fell the same way it would hold"
                if worst <= tolerance
                else "only if every error fell the same way; the expected error counts"
            ),
        ),
    ]
    for line in budget.lines:
        share = line.rss_rad * ARCSEC
        checks.append(
            Check(
                key=f"line {line.key}",
                label=line.label,
                value=share,
                unit="″",
                limits=Limits(marginal_above=tolerance / 2, no_above=tolerance),
                features=("stack",) if line.key in ("stack", "off") else ("plate",),
                figures=(line.asks,) if line.asks else (),
                reason=f"{share / tolerance * 100:.0f} % of the tolerance"
                + ("; it alone breaks it" if share > tolerance else ""),
                derivation=Derivation(line.formula, f"{line.numbers} = {share:.2f}″", "derivative of H = C·sin θ"),
            )
        )
    steep = math.degrees(facts.set_at)
    checks.append(
        Check(
            key="steep",
            label="Steepness on the plate",
            value=steep,
            unit="deg",
            limits=Limits(marginal_above=45, no_above=60),
            features=("angle",),
            figures=("set_at",),
            remedies=("orientation",),
            reason=(
                "errors grow with tan θ: over 60° set the complement with the work turned by 90°"
                if steep > 60
                else (
                    "over 45° each µm turns it further: mind the stack" if steep > 45 else "flat enough that a µm turns it little"
                )
            ),
        )
    )
    if facts.set_at > REFUSED:
        fixes["steep"] = Fix(
            f"Set the complement, {show_angle(math.pi / 2 - facts.set_at, 'dms')}, with the work turned by 90°",
            (("orientation", "drawn" if facts.turned else "complement"),),
        )
    if stack is not None:
        count = len(stack.pieces) + (len(base.pieces) if base else 0)
        checks.append(
            Check(
                key="blocks",
                label="Number of blocks",
                value=count,
                unit="",
                limits=Limits(marginal_above=5 if base is None else 8),
                features=("stack",),
                figures=("stack",),
                text=f"{count}",
                reason="every joint is a chance for dirt" if count > 5 else "few joints",
            )
        )
        if base is not None:
            checks.append(
                Check(
                    key="low",
                    label="Thinner than any block",
                    value=facts.height,
                    unit="mm",
                    limits=Limits(marginal_below=facts.sources.smallest_mm),
                    features=("stack", "base"),
                    figures=("height",),
                    step=0.0001,
                    reason="so both rolls stand on blocks, and their difference is the height",
                )
            )
    if "stack" in dropped:
        check, fixes["dropped"] = dropped_check(dropped["stack"], tuple(b for b in (stack, base) if b is not None))
        checks.append(check)
    way = next(
        (w for w in ways_to_set(shop, min(max(facts.angle, 1e-6), math.pi / 2 - 1e-6)) if w.key == values.word("method")), None
    )
    if way is not None and way.key != "sine":
        off = way.error_rad * ARCSEC if way.possible else math.inf
        checks.append(
            Check(
                key="method",
                label="Setting method",
                value=off / 60,
                unit="′",
                limits=Limits(marginal_above=0.7 * tolerance / 60, no_above=tolerance / 60),
                figures=("method",),
                text="" if way.possible else "not this angle",
                reason=(
                    "good enough, and quicker"
                    if off <= tolerance
                    else "coarser than the drawing allows"
                    if way.possible
                    else f"it does not make this angle: {way.reach}"
                ),
            )
        )
    reader = next((r for r in owned_readers(shop) if r.id == values.word("instrument")), None)
    if reader is not None:
        band = read_back_band_rad(math.radians(reader.resolution_deg), math.radians(reader.error_deg), budget.rss_rad) * ARCSEC
        checks.append(
            Check(
                key="read_back",
                label="Read-back uncertainty",
                value=band / 60,
                unit="′",
                limits=Limits(marginal_above=tolerance / 60),
                figures=("read_back",),
                features=("angle",),
                reason=(
                    "it proves the tolerance"
                    if band <= tolerance
                    else "it catches a wrong block or a slipped digit, not the last minutes: for those the budget stands"
                ),
                derivation=Derivation(
                    "reader's step + its error + this setting's",
                    f"{reader.resolution_deg:g}° + {reader.error_deg:g}° + {shown(budget.rss_rad)}",
                ),
            )
        )
    return checks, fixes


def steps(
    facts: Facts, stack: BuiltStack | None, base: BuiltStack | None, spacer: float, found: list[Figure]
) -> tuple[SetupStep, ...]:
    steps = [
        SetupStep(
            "Let plate, blocks and work lie side by side on the surface plate",
            "an hour; the same warmth in all of them does nothing",
            "",
        )
    ]
    if spacer:
        steps.append(
            SetupStep(
                f"Stand the spacer {format_number(spacer, 4)} under the stack roll, across its full width",
                "burrs off, seat wiped",
                f"{length(spacer, 4)} {LENGTH_UNIT}",
            )
        )
    for name, built in (("stack roll", stack), ("pivot roll", base)):
        if built is not None and not spacer:
            steps += wring_steps(built, f"for the {name}")
    steps.append(
        SetupStep(
            "Set the stack under the roll; work against the stop strip" + (", turned by 90°" if facts.turned else ""),
            "feel that both ends of each roll sit; no light under them",
            show_angle(facts.set_at, "dms"),
        )
    )
    steps.append(
        SetupStep(
            "Clamp plate and work, hand tight first, then evenly",
            "the stack must still slide out with a light drag: if it is locked, the clamps bend the plate",
        )
    )
    read = next((f for f in found if f.key == "read_back"), None)
    if read is not None:
        band = read.text.partition(" ± ")[2]
        steps.append(
            SetupStep(
                f"Zero {read.label.removesuffix(' should read')} on what the setting stands on, read the work face",
                f"further off than {band}: count the blocks again",
                read.text,
            )
        )
    steps.append(
        SetupStep("Cut; then blocks apart, wiped, oiled, back in their box", "wrung blocks left overnight may not come apart")
    )
    return tuple(steps)
