"""How far a sine setting may be off, line by line: every error as an angle, worst case and root-sum-square."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.angles.sine import SinePlate
from elbrix.gauging.uncertainty import StackUncertainty
from elbrix.results.figures import format_number

ARCSEC: float = math.degrees(1) * 3600  #: seconds of arc in a radian


class AngleBudgetLine(Struct, frozen=True):
    """One source of error, radians: how far it may turn the face at worst, and its part of the root-sum-square."""

    key: str
    label: str
    worst_rad: float
    rss_rad: float
    formula: str
    numbers: str
    asks: str = ""  #: the number it rests on


class Budget(Struct, frozen=True):
    """All lines of one setting."""

    lines: tuple[AngleBudgetLine, ...]

    @property
    def worst_rad(self) -> float:
        return math.fsum(line.worst_rad for line in self.lines)

    @property
    def rss_rad(self) -> float:
        return math.sqrt(math.fsum(line.rss_rad**2 for line in self.lines))


def sine_budget(
    plate: SinePlate,
    angle_rad: float,
    stack: StackUncertainty,
    *,
    chosen_off_mm: float = 0.0,
    centres_u_mm: float,
    rolls_u_mm: float,
    face_u_mm: float,
    surface_um: float,
    rise_mm_m: float = 0.0,
    difference_k: float = 0.0,
    expansion_um_m_k: float = 11.5,
) -> Budget:
    """Every line of a sine setting at an angle.

    Args:
        chosen_off_mm: The stack less the height that was worked out: known, and counted.
        centres_u_mm: How far the centres may be off.
        rolls_u_mm: How far the difference of the two rolls may be off, and their parallelism.
        face_u_mm: The work face out of parallel, over the centres.
        surface_um: The surface plate out of flat, over the centres.
        rise_mm_m: How far what it stands on rises over a metre, the way the setting lies, against the slide that cuts.
        difference_k: How much warmer or colder plate and blocks may be than each other; the same warmth in both does nothing.

    Source: derivatives of H = C·sin θ + (d_p − d_s)/2.
    """
    per_mm, per_centres = plate.per_mm_stack_rad(angle_rad), plate.per_mm_centres_rad(angle_rad)
    run = plate.centres_mm * math.cos(angle_rad)
    steep = f"{format_number(run)} mm"
    lines = [
        AngleBudgetLine(
            "stack",
            "Stack",
            stack.worst_um / 1000 * per_mm,
            stack.rss_um / 1000 * per_mm,
            "u ÷ (C·cos θ), blocks and wringing",
            f"{format_number(stack.rss_um, 2)} µm (worst {format_number(stack.worst_um, 2)}) ÷ {steep}",
            "block_set",
        ),
        AngleBudgetLine(
            "off",
            "Stack height error",
            abs(chosen_off_mm) * per_mm,
            abs(chosen_off_mm) * per_mm,
            "(stack − height) ÷ (C·cos θ)",
            f"{format_number(chosen_off_mm * 1000, 2)} µm ÷ {steep}",
            "stack",
        ),
        AngleBudgetLine(
            "centres",
            "Centres",
            abs(centres_u_mm * per_centres),
            abs(centres_u_mm * per_centres),
            "u·tan θ ÷ C",
            f"{format_number(centres_u_mm * 1000, 2)} µm · {format_number(math.tan(angle_rad), 4)} ÷"
            f" {format_number(plate.centres_mm)} mm",
            "tool",
        ),
        AngleBudgetLine(
            "rolls",
            "Rolls",
            rolls_u_mm / 2 * per_mm,
            rolls_u_mm / 2 * per_mm,
            "half the difference ÷ (C·cos θ)",
            f"{format_number(rolls_u_mm * 500, 2)} µm ÷ {steep}",
            "tool",
        ),
        AngleBudgetLine(
            "face",
            "Work face",
            face_u_mm / plate.centres_mm,
            face_u_mm / plate.centres_mm,
            "out of parallel ÷ C",
            f"{format_number(face_u_mm * 1000, 2)} µm ÷ {format_number(plate.centres_mm)} mm",
            "tool",
        ),
        AngleBudgetLine(
            "surface",
            "Standing surface",
            surface_um / 1000 * per_mm,
            surface_um / 1000 * per_mm,
            "out of flat ÷ (C·cos θ)",
            f"{format_number(surface_um, 2)} µm ÷ {steep}",
            "surface_flatness_um",
        ),
    ]
    if rise_mm_m:
        turn = math.atan(abs(rise_mm_m) / 1000)
        lines.append(
            AngleBudgetLine(
                "rise",
                "Table against its slide",
                turn,
                turn,
                "rise over a metre; the whole of it turns the face",
                f"{format_number(rise_mm_m, 4)} ÷ 1000",
                "stands_on",
            )
        )
    if difference_k > 0:
        turn = math.tan(angle_rad) * expansion_um_m_k * 1e-6 * difference_k
        lines.append(
            AngleBudgetLine(
                "temperature",
                "Temperature difference",
                turn,
                turn,
                "tan θ·α·ΔT; the same warmth in both does nothing",
                f"{format_number(math.tan(angle_rad), 4)} · {expansion_um_m_k:g}·10⁻⁶ · {difference_k:g} K",
                "difference_k",
            )
        )
    return Budget(tuple(lines))


def read_back_band_rad(resolution_rad: float, instrument_rad: float, budget_rad: float) -> float:
    """How far a level or protractor may read from the angle set: r + its error + the setting's own.

    Zeroing rounds by half a step and reading by another half: together one step.
    """
    return resolution_rad + instrument_rad + budget_rad


def solid_spacer_band_mm(plate: SinePlate, angle_rad: float, tolerance_rad: float) -> tuple[float, float]:
    """Heights of a solid spacer that keep the angle within ± a tolerance, mm: from, to.

    Raises:
        ShopError: An angle that cannot be set.
    """
    low, high = max(0.0, angle_rad - tolerance_rad), min(math.pi / 2 - 1e-9, angle_rad + tolerance_rad)
    return plate.stack_mm(low), plate.stack_mm(high)


def unlike_rolls_mm(thicker_at_stack_mm: float) -> float:
    """Pivot roll less stack roll, mm, that cancels a plate thicker at the stack end by so much over its centres.

    A roll seated f deep holds the underside d − f above what it stands on. The face lies level when the thicker end stands
    that much
    lower: (d_p − f_p) − (d_s − f_s) = t. So either the stack roll is thinner by t, or its seat is deeper by t. The face is
        then parallel
    to the line under the rolls, not to the line of centres.
    """
    return thicker_at_stack_mm


def head_tilt_dial_mm(angle_rad: float, travel_mm: float, how: str) -> float:
    """What an indicator shows when the head stands at an angle.

    Args:
        how: "table": table travel under a fixed upright dial, L·tan θ; "quill": quill travel along a square, L·sin θ;
            "sweep": a dial swung
            on a diameter, D·tan θ.
    """
    return travel_mm * (math.sin(angle_rad) if how == "quill" else math.tan(angle_rad))
