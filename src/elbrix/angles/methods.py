"""The ways to set an angle, compared: how far each may be off, how long it takes, what it needs and what it upsets.

Minutes are a shop's rule of thumb, for comparing only. Errors are what the tools in the shop are trusted to; what is not there is
listed too, so that one sees what the next better way would need.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.angles.budget import ARCSEC, Budget, read_back_band_rad, sine_budget
from elbrix.angles.sine import SinePlate
from elbrix.gauging.uncertainty import block_u_um, stack_uncertainty
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import within
from elbrix.results.figures import format_number
from elbrix.shop.angle_tools import AngleToolKind, SineTool
from elbrix.shop.machines import MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind

#: A scribed line set by eye to a parallel, mm over the length of the line.
_EYE_MM: Final = 0.15
#: What closing the vise moves work that was set against something, mm over its length.
_SEAT_MM: Final = 0.04
#: An indicator swept over this travel when the head is tilted, and what one reading is trusted to.
_SWEEP_MM: Final = 100.0
_DIAL_MM: Final = 0.01
#: A piece or a cutter of a fixed angle is of the angle that is wanted when it is this near; at any other it makes another angle.
_THAT_ANGLE: Final = math.radians(1)
_HEAD_MAX: Final = math.radians(45)
#: A surface plate when nobody said otherwise, µm over the setting.
SURFACE_UM: Final = 3.0
#: A machine's table when nobody measured it, likewise: worn in its middle and never lapped.
TABLE_UM: Final = 20.0


class Method(Struct, frozen=True, kw_only=True):
    """One way to set the angle."""

    key: str
    title: str
    error_rad: float  #: expected; infinite: it cannot be done so
    minutes: int
    owned: bool
    needs: str = ""  #: what is missing, or what it uses
    reach: str = ""
    upsets_head: bool = False
    how: str = ""  #: one sentence

    @property
    def possible(self) -> bool:
        return math.isfinite(self.error_rad)


class Advice(Struct, frozen=True):
    """The way to take, and why."""

    way: Method
    reason: str
    next_better: str = ""


def sine_error_rad(tool: SineTool, angle_rad: float, grade: str, surface_um: float = SURFACE_UM) -> float:
    """Expected error of a sine tool with a usual stack of four blocks, radians."""
    return usual_budget(tool, angle_rad, grade, surface_um).rss_rad


def usual_budget(tool: SineTool, angle_rad: float, grade: str, surface_um: float = SURFACE_UM) -> Budget:
    """Error budget of a sine tool with a usual stack of four blocks."""
    plate = SinePlate(centres_mm=tool.centres_mm, roll_pivot_mm=tool.roll_pivot_mm, roll_stack_mm=tool.roll_stack_mm)
    height = max(1.0, tool.centres_mm * math.sin(angle_rad))
    stack = stack_uncertainty([block_u_um(length, grade) for length in (height, 1.5, 1.2, 1.0)])
    return sine_budget(
        plate,
        angle_rad,
        stack,
        centres_u_mm=tool.centres_u_mm,
        rolls_u_mm=tool.rolls_u_mm,
        face_u_mm=tool.face_u_mm,
        surface_um=surface_um,
    )


def ways_to_set(shop: Shop, angle_rad: float, *, work_length_mm: float = 60.0, cut_face_mm: float = 0.0) -> list[Method]:
    """Every way, quickest first.

    Args:
        angle_rad: Between the face to be cut and the table, 0 to 90° both excluded.
        work_length_mm: Of the face or line one sets by.
        cut_face_mm: Width of the cut, for angled cutters; 0: not known.

    Raises:
        ShopError: An angle that is none.
    """
    if not 0 < angle_rad < math.pi / 2 or not work_length_mm > 0:
        raise ShopError(
            "Setting methods", f"{math.degrees(angle_rad):.4g}°", "An angle is set between 0° and 90°", "Give one between"
        )
    found = [
        Method(
            key="line",
            title="Scribed line to a parallel",
            error_rad=_EYE_MM / work_length_mm,
            minutes=4,
            owned=True,
            needs=f"a line {format_number(work_length_mm, 0)} mm long",
            reach="any angle, in the vise",
            how="Scribe the angle, tip the work until the line is parallel to the jaw top",
        ),
        *_readers(shop, angle_rad),
        *_pieces(shop, angle_rad),
        *_angle_blocks(shop, angle_rad, work_length_mm),
        *_sine(shop, angle_rad),
        *_head(shop, angle_rad),
        *_angled_cutter(shop, angle_rad, cut_face_mm),
    ]
    return sorted(found, key=lambda w: (not w.possible, w.minutes, w.error_rad))


def _readers(shop: Shop, angle: float) -> list[Method]:
    found = []
    kinds = (
        (AngleToolKind.VISE_PROTRACTOR, "Vise protractor", 5, "in the vise", "Set the blade, lay the work on it, close the vise"),
        (
            AngleToolKind.PROTRACTOR,
            "Protractor on the jaw",
            6,
            "in the vise",
            "Stand the protractor on the jaw, tip the work to its blade",
        ),
        (
            AngleToolKind.LEVEL,
            "Level on the work",
            6,
            "in the vise, any angle",
            "Zero the level on the table, tip the work until it reads the angle",
        ),
    )
    for kind, title, minutes, reach, how in kinds:
        tools = [t for t in shop.angle_tools if t.kind is kind]
        best = min(tools, key=lambda t: t.resolution_deg + t.error_deg, default=None)
        error = math.radians(best.resolution_deg + best.error_deg) if best else math.radians(0.2)
        found.append(
            Method(
                key=kind.value,
                title=title,
                error_rad=error,
                minutes=minutes,
                owned=best is not None,
                needs=best.name if best else f"a {kind.value}",
                reach=reach,
                how=how,
            )
        )
    plate = next((t for t in shop.angle_tools if t.kind is AngleToolKind.TILTING_PLATE), None)
    level = min((t for t in shop.angle_tools if t.kind is AngleToolKind.LEVEL), key=lambda t: t.resolution_deg, default=None)
    reading = (
        read_back_band_rad(math.radians(level.resolution_deg), math.radians(level.error_deg), 0.0) if level else math.radians(0.2)
    )
    far = plate is not None and angle > math.radians(plate.reach_deg)
    needs = plate.name + (f" with {level.name}" if level else ", and a level") if plate else "a tilting plate and a level"
    found.append(
        Method(
            key="tilting plate",
            title="Tilting plate and level",
            error_rad=math.inf if far else reading,
            minutes=9,
            owned=plate is not None and level is not None,
            needs=needs,
            reach=f"goes to {plate.reach_deg:g}°" if plate else "holds the work flat",
            how="Clamp the work flat, tip plate and work, read the level, clamp",
        )
    )
    return found


def _pieces(shop: Shop, angle: float) -> list[Method]:
    """Fixed angles in a drawer: right for exactly one angle, and its complement."""
    best: Method | None = None
    for tool in shop.angle_tools:
        if tool.kind is not AngleToolKind.ANGLE_PIECE:
            continue
        fixed = math.radians(tool.angle_deg)
        for turned in (fixed, math.pi / 2 - fixed):
            error = abs(turned - angle) + math.radians(tool.error_deg)
            if abs(turned - angle) > _THAT_ANGLE:
                continue
            if best is None or error < best.error_rad:
                best = Method(
                    key="piece",
                    title="V or angle piece",
                    error_rad=error,
                    minutes=4,
                    owned=True,
                    needs=tool.name,
                    reach=f"{math.degrees(turned):g}° only",
                    how="Lay the work on the piece, clamp both",
                )
    return (
        [best]
        if best
        else [
            Method(
                key="piece",
                title="V or angle piece",
                error_rad=math.inf,
                minutes=4,
                owned=False,
                needs="a piece of that very angle",
                reach="each piece makes one angle",
            )
        ]
    )


def _angle_blocks(shop: Shop, angle: float, length_mm: float) -> list[Method]:
    title, reach = "Angle blocks", "short faces, in the vise"
    if not shop.angle_sets:
        return [
            Method(
                key="angle blocks",
                title=title,
                error_rad=math.radians(0.004),
                minutes=10,
                owned=False,
                needs="a box of angle blocks",
                reach=reach,
            )
        ]
    from elbrix.gauging.angle_blocks import best_angle_stack  # NumPy is only loaded when a stack is worked out

    box = shop.angle_sets[0]
    stack = best_angle_stack(box, angle * ARCSEC)
    error = (abs(stack.error_arcsec) + box.limit_arcsec * math.sqrt(max(1, stack.count))) / ARCSEC + _SEAT_MM / length_mm
    return [
        Method(
            key="angle blocks",
            title=title,
            error_rad=error,
            minutes=10,
            owned=True,
            needs=f"{box.name}: {stack.words}",
            reach=reach,
            how="Wring them, stand them on a parallel, tip the work to them; closing the vise moves it most",
        )
    ]


def _sine(shop: Shop, angle: float) -> list[Method]:
    title, how = "Sine plate and stack", "Wring the stack, set it under the roll, clamp the work flat on the plate"
    grade = shop.gauge_sets[0].grade if shop.gauge_sets else "1"
    set_at = min(angle, math.pi / 2 - angle) if angle > math.radians(60) else angle
    if not shop.sine_tools:
        tool = SineTool(id="", name="a sine plate", centres_mm=100)
        return [
            Method(
                key="sine",
                title=title,
                error_rad=sine_error_rad(tool, set_at, grade),
                minutes=15,
                owned=False,
                needs="a sine plate and gauge blocks",
                reach="to 60°",
                how=how,
            )
        ]
    best = min(shop.sine_tools, key=lambda t: sine_error_rad(t, set_at, grade))
    owned = bool(shop.gauge_sets)
    return [
        Method(
            key="sine",
            title=title,
            error_rad=sine_error_rad(best, set_at, grade),
            minutes=15,
            owned=owned,
            needs=best.name + ("" if owned else ", and gauge blocks"),
            reach="over 60° set by its complement" if angle > math.radians(60) else "to 60°",
            how=how,
        )
    ]


def _head(shop: Shop, angle: float) -> list[Method]:
    """Dial over table travel: d = L·tan θ, so dθ = dd·cos²θ/L."""
    mills = [m for m in shop.machines if m.kind in (MachineKind.KNEE, MachineKind.BENCH, MachineKind.BED)]
    tilt = min(angle, math.pi / 2 - angle)
    error = math.sqrt(2) * _DIAL_MM * math.cos(tilt) ** 2 / _SWEEP_MM if tilt <= _HEAD_MAX else math.inf
    needs = f"{mills[0].name}, if its head tilts (maker's figure first), and an indicator" if mills else "a mill whose head tilts"
    return [
        Method(
            key="head",
            title="Head tilt and indicator",
            error_rad=error,
            minutes=35,
            owned=bool(mills),
            needs=needs,
            reach="long faces; the quill no longer drills square",
            upsets_head=True,
            how="Tilt the head, sweep 100 mm with a dial, then bring it square again",
        )
    ]


def _angled_cutter(shop: Shop, angle: float, cut_face_mm: float) -> list[Method]:
    cutters = [c for c in shop.cutters if c.kind is CutterKind.ANGLE_CUTTER and c.flank_deg > 0]
    best: Method | None = None
    for cutter in cutters:
        for at in (math.radians(cutter.flank_deg), math.pi / 2 - math.radians(cutter.flank_deg)):
            if abs(at - angle) > _THAT_ANGLE:
                continue
            error = abs(at - angle) + math.radians(0.25)
            edge = cutter.edge_length_mm
            short = edge > 0 and cut_face_mm > edge
            reach = (
                f"edge {format_number(edge, 1)} mm"
                + (f", the cut is {format_number(cut_face_mm, 1)}: overlapping steps" if short else "")
                if edge
                else "edge not measured"
            )
            if best is None or error < best.error_rad:
                best = Method(
                    key="angled cutter",
                    title="Angled cutter",
                    error_rad=error,
                    minutes=7 if not short else 12,
                    owned=True,
                    needs=cutter.title,
                    reach=reach,
                    how="Work square in the vise; the cutter makes the angle",
                )
    return (
        [best]
        if best
        else [
            Method(
                key="angled cutter",
                title="Angled cutter",
                error_rad=math.inf,
                minutes=7,
                owned=False,
                needs="a cutter of that angle",
                reach="each cutter makes one angle, as long as its edge",
            )
        ]
    )


def recommend(ways: list[Method], tolerance_rad: float) -> Advice:
    """The quickest owned way that meets the tolerance; when none does, the best owned one, said so.

    Raises:
        ShopError: Nothing is owned that could do it, or no tolerance.
    """
    if not tolerance_rad > 0:
        raise ShopError(
            "Setting methods", "a tolerance of nothing", "Every drawing allows something", "Give what the drawing says, or 5'"
        )
    owned = [w for w in ways if w.owned and w.possible]
    if not owned:
        raise ShopError(
            "Setting methods", "nothing in the shop sets an angle", "Even a scribed line needs the work", "Add the tools in Shop"
        )
    meeting = [w for w in owned if w.error_rad <= tolerance_rad]
    asked = f"±{shown(tolerance_rad)}"
    if meeting:
        way = min(meeting, key=lambda w: (w.minutes, w.error_rad))
        finer = [w for w in ways if w.possible and w.error_rad < 0.7 * way.error_rad]
        better = min(finer, key=lambda w: (not w.owned, w.minutes), default=None)
        words = f"{better.title}: ±{shown(better.error_rad)} in {better.minutes} min, with {better.needs}" if better else ""
        quicker = [w for w in owned if w.minutes < way.minutes]
        near = min(quicker, key=lambda w: w.error_rad, default=None)
        missed = f"; quicker and only good to ±{shown(near.error_rad)}: {within(near.title)}" if near else ""
        return Advice(
            way, f"The quickest owned way within {asked}: expect ±{shown(way.error_rad)} in {way.minutes} min{missed}", words
        )
    way = min(owned, key=lambda w: w.error_rad)
    would = [w for w in ways if w.possible and not w.owned and w.error_rad <= tolerance_rad]
    buy = min(would, key=lambda w: w.minutes, default=None)
    words = f"{buy.title} would do: it needs {buy.needs}" if buy else ""
    return Advice(way, f"Nothing owned keeps {asked}; this comes nearest with ±{shown(way.error_rad)}", words)


def shown(angle_rad: float) -> str:
    """A small angle in the unit one says it in: 0.2°, 2.5′, 8″."""
    seconds = abs(angle_rad) * ARCSEC
    if seconds < 60:
        return f"{seconds:.1f}″" if seconds < 9.95 else f"{seconds:.0f}″"
    if seconds < 600:
        return f"{seconds / 60:.1f}′".replace(".0′", "′")
    if seconds < 3600:
        return f"{seconds / 60:.0f}′"
    return f"{seconds / 3600:.2f}°"
