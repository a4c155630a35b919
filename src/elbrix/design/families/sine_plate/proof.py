"""Figures and checks of a sine plate."""

from __future__ import annotations

import math
from itertools import combinations

from elbrix.angles.budget import ARCSEC, Budget, unlike_rolls_mm
from elbrix.angles.methods import shown, usual_budget
from elbrix.angles.sine import SinePlate
from elbrix.design.bores import HEAD_BELOW_MM
from elbrix.design.families.sine_plate.layout import CLAMP_N, STRIP_WIDE, Layout
from elbrix.gauging.owned import usable
from elbrix.mechanics.drilling import MIN_SHARE, thread_depth_wanted
from elbrix.mechanics.lifting import lifting_check
from elbrix.parameters.parameter import Parameter, Values, figure_of
from elbrix.quantities.decimals import MM_PER
from elbrix.results.checks import Check, Limits, Points
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.shop import Shop

#: Tightest tapped depth over Ø: steel, and softer metals.


def tool_of(values: Values) -> SineTool:
    """The plate as a tool of the shop, as made to its tolerances."""
    s = Layout(values)
    return SineTool(
        id="",
        name="this plate",
        centres_mm=s.centres,
        roll_pivot_mm=s.roll,
        roll_stack_mm=s.roll_stack,
        centres_u_mm=values.number("centres_tolerance"),
        rolls_u_mm=values.number("roll_match"),
        face_u_mm=values.number("face_parallelism"),
        face_to_bottoms=values.number("taper") != 0,
        face_above_mm=s.face_above,
        length_mm=s.length,
        width_mm=s.width,
        material=values.word("material"),
    )


def error_arcsec(values: Values, shop: Shop) -> float:
    """Expected error at the steepest angle, with the shop's own blocks."""
    return expected_budget(values, shop).rss_rad * ARCSEC


def expected_budget(values: Values, shop: Shop) -> Budget:
    """The same, line by line."""
    grade = shop.gauge_sets[0].grade if shop.gauge_sets else "1"
    return usual_budget(tool_of(values), math.radians(values.number("max_angle")), grade)


def smallest(shop: Shop) -> tuple[float, float]:
    """(thinnest block, step of the set), mm, of the first owned set or 0.5 and 0.0005."""
    thin, step = 0.5, 0.0005
    if shop.gauge_sets and usable(shop.gauge_sets[0]).blocks:
        from elbrix.gauging.stacks import solver_for  # NumPy is only loaded when a stack is worked out

        blocks = usable(shop.gauge_sets[0])
        per = MM_PER[blocks.unit]
        thin, step = float(min(blocks.lengths()) * per), float(solver_for(blocks).tick * per)
    return thin, step


def figures(s: Layout, parameters: tuple[Parameter, ...], shop: Shop) -> list[Figure]:
    v = s.v
    given = [figure_of(p, v[p.name]) for p in parameters]
    thin, step = smallest(shop)
    plate = SinePlate(centres_mm=s.centres)
    single, double = math.degrees(plate.angle_rad(thin)), math.degrees(plate.angle_rad(step))
    expected = error_arcsec(v, shop)
    lines = " + ".join(f"{line.rss_rad * ARCSEC:.2f}²" for line in expected_budget(v, shop).lines)
    return [
        *given,
        reckoned("length", "Length", worked("centres + 2·overhang", s.centres, s.over), step=0.5, features=("plate",)),
        reckoned(
            "between",
            "Stack between rolls",
            worked(
                "C − (d_p + d_s)/2",
                term(s.centres, 4),
                term(s.roll, 4),
                term(s.roll_stack, 4),
                source="set with gauge blocks, then tighten the screws",
            ),
            step=0.0005,
            features=("rolls",),
        ),
        reckoned(
            "over_rolls",
            "Size over rolls",
            worked(
                "C + (d_p + d_s)/2", term(s.centres, 4), term(s.roll, 4), term(s.roll_stack, 4), source="the proof, from outside"
            ),
            step=0.001,
            features=("rolls",),
        ),
        reckoned(
            "stack_roll",
            "Stack roll Ø",
            worked(
                "pivot roll − thicker at the stack end",
                term(s.roll, 4),
                term(unlike_rolls_mm(v.number("taper")), 4),
                source="(d_p − f) − (d_s − f) = t; or seat its flat deeper by t",
            ),
            step=0.001,
            features=("rolls",),
        ),
        reckoned(
            "face_above",
            "Face above centres",
            worked("thickness + roll radius − flat", s.thickness, s.roll / 2, s.flat),
            step=0.01,
            features=("plate",),
        ),
        Figure(
            key="expected",
            label="Expected error ±",
            value=expected,
            unit="″",
            derivation=Derivation(
                "root-sum-square of stack, centres, rolls, face, surface plate",
                f"√({lines})",
                f"at {format_number(v.number('max_angle'))}°: the budget of the Angles bench",
            ),
        ),
        reckoned(
            "largest",
            "Largest tilt",
            worked(
                "min(90; asin(min(1; r/√(o² + (r − f)²))) + atan((r − f)/o))",
                s.roll / 2,
                s.over,
                s.flat,
                most=90.0,
                source="its low corner meets the surface plate",
            ),
            unit="deg",
            features=("plate",),
        ),
        reckoned(
            "smallest",
            "Smallest single-stack angle",
            worked("asin(thinnest block/C)", term(thin, 5), s.centres, source="the blocks that are here"),
            unit="",
            text=shown(math.radians(single)),
        ),
        reckoned(
            "finest_step",
            "Two-stack angle step",
            worked("asin(step of the set/C)", term(step, 6), s.centres),
            unit="",
            text=shown(math.radians(double)),
        ),
        reckoned(
            "mass",
            "Mass",
            worked(
                "(plate + rolls − holes)·density/10⁹",
                *(term(x, 0) for x in s.volumes_mm3),
                term(s.density_kg_m3, 6),
                source=v.word("material"),
            ),
            unit="kg",
        ),
        reckoned(
            "sag",
            "Deflection under strap",
            worked(
                "1000·F·C³/(48·E·w·T³/12)",
                term(CLAMP_N, 6),
                s.centres,
                term(s.e_mpa, 6),
                s.width,
                s.thickness,
                source="one strap in the middle, on its rolls",
            ),
            unit="µm",
            features=("plate",),
        ),
        Figure(
            key="hole_count",
            label="Number of holes",
            value=len(s.work_holes),
            unit="",
            text=f"{len(s.work_holes)} holes",
            features=("work holes",),
            derivation=Derivation("places given, or the grid clear of edges, rolls and screws", f"{len(s.work_holes)}"),
        ),
    ]


def checks(s: Layout, shop: Shop) -> list[Check]:
    v = s.v
    wanted, expected = v.number("angle_tolerance"), error_arcsec(v, shop)
    told = {f.key: f for f in figures(s, (), shop)}
    found = [
        Check(
            features=("rolls",),
            key="error",
            label=f"Error at {format_number(v.number('max_angle'))}°",
            value=expected,
            unit="″",
            limits=Limits(marginal_above=0.8 * wanted, no_above=wanted),
            figures=("expected", "roll_centres", "centres_tolerance", "roll_match"),
            remedies=("roll_centres", "centres_tolerance", "face_parallelism"),
            reason=(
                f"keeps ±{format_number(wanted)}″ with the blocks of this shop"
                if expected <= wanted
                else f"cannot keep ±{format_number(wanted)}″: longer centres, or closer ones"
            ),
        ),
        Check(
            key="tilt",
            label="Tilt reached",
            derivation=told["largest"].derivation,
            value=s.largest_deg,
            unit="deg",
            limits=Limits(marginal_below=60, no_below=v.number("max_angle")),
            figures=("largest", "overhang"),
            features=("plate",),
            remedies=("overhang", "roll_diameter"),
            reason=(
                "its low corner clears the surface plate to 60°"
                if s.largest_deg >= 60
                else "its low corner comes down first: less overhang, or larger rolls"
            ),
        ),
        Check(
            key="sag",
            label="Deflection",
            derivation=told["sag"].derivation,
            value=s.sag_um,
            unit="µm",
            limits=Limits(marginal_above=2.0, no_above=8.0),
            figures=("sag", "thickness"),
            features=("plate",),
            remedies=("thickness",),
            reason=(
                "stiff enough that the clamp does not spoil the angle"
                if s.sag_um <= 2
                else "the clamp bends it by more than a stack is good to"
            ),
        ),
        Check(
            key="roll_flat",
            label="Roll flat width",
            value=2 * math.sqrt(max(0.0, s.roll * s.flat - s.flat**2)) / s.roll,
            unit="× d",
            limits=Limits(marginal_below=0.5, no_below=0.3),
            figures=("roll_flat",),
            features=("rolls",),
            remedies=("roll_flat",),
            reason="a wide seat holds the roll parallel",
            derivation=Derivation(
                "2·√(d·f − f²)/d",
                f"2·√({format_number(s.roll)}·{format_number(s.flat)} − {format_number(s.flat)}²)/{format_number(s.roll)}",
            ),
        ),
        Check(
            key="floor",
            label="Floor under counterbore",
            value=s.floor / s.roll_screw.major_mm,
            unit="× d",
            limits=Limits(marginal_below=0.8, no_below=0.5),
            figures=("roll_screw", "thickness"),
            features=("roll screws",),
            remedies=("thickness", "roll_screw"),
            reason="the head pulls on solid metal" if s.floor >= 0.8 * s.roll_screw.major_mm else "the head would pull through",
            derivation=Derivation(
                "(thickness − head − 0.5)/d",
                f"({format_number(s.thickness)} − {format_number(s.bore_depth - HEAD_BELOW_MM)} −"
                f" {format_number(HEAD_BELOW_MM)})/{format_number(s.roll_screw.major_mm)}",
            ),
        ),
        Check(
            key="roll_wall",
            label="Roll screw",
            derivation=Derivation("screw d/roll d", f"{format_number(s.roll_screw.major_mm)}/{format_number(s.roll)}"),
            value=s.roll_screw.major_mm / s.roll,
            unit="× d",
            limits=Limits(marginal_above=0.4, no_above=0.55),
            figures=("roll_screw", "roll_diameter"),
            features=("roll screws",),
            remedies=("roll_screw", "roll_diameter"),
            reason=(
                "the roll keeps its shape round the thread"
                if s.roll_screw.major_mm <= 0.4 * s.roll
                else "so large a thread weakens and bends the roll"
            ),
        ),
    ]
    found += _holes(s)
    request = thread_depth_wanted(v.word("material"))
    if s.work_holes:
        depth = s.thickness / s.work_thread.major_mm
        found.append(
            Check(
                key="clamp_thread",
                label="Clamp thread depth",
                derivation=Derivation("thickness/d", f"{format_number(s.thickness)}/{format_number(s.work_thread.major_mm)}"),
                value=depth,
                unit="× d",
                limits=Limits(marginal_below=request, no_below=MIN_SHARE * request),
                figures=("thickness", "work_thread"),
                features=("work holes",),
                remedies=("thickness", "work_thread"),
                reason=f"{format_number(request)} × d holds the screw in {v.word('material')}",
            )
        )
    found.append(
        lifting_check(
            worked("mass", s.mass_kg),
            Points(features=("plate",), figures=("mass",), remedies=("thickness", "width")),
            ", and lift it before the work is on",
        )
    )
    return found


def _holes(s: Layout) -> list[Check]:
    """Edges, webs, rolls and roll screws, each by its worst hole."""
    found = []
    d = s.work_thread.major_mm
    if s.work_holes:
        edge, at = min((min(x, s.length - x, s.width / 2 - abs(y)), (x, y)) for x, y in s.work_holes)
        found.append(
            Check(
                key="edge",
                label="Edge distance",
                value=edge / d,
                unit="× d",
                limits=Limits(marginal_below=1.5, no_below=0.75),
                features=("work holes",),
                figures=("pattern",),
                remedies=("work_thread",),
                reason=f"nearest is {length(at[0])}, {length(at[1])}: {length(edge, 1)} to the edge",
                derivation=Derivation("to the nearest edge/d", f"{format_number(edge, 2)}/{format_number(d)}"),
            )
        )
        rolls = min((abs(x - rx) - s.roll / 2 - d / 2, (x, y)) for x, y in s.work_holes for rx in s.roll_x)
        found.append(
            Check(
                key="rolls",
                label="Distance hole to roll",
                value=rolls[0],
                unit="mm",
                limits=Limits(marginal_below=0.5, no_below=0.0),
                step=0.1,
                features=("work holes", "rolls"),
                figures=("pattern",),
                reason=(
                    "a screw run right through would lift the roll"
                    if rolls[0] < 0
                    else f"nearest is {length(rolls[1][0])}, {length(rolls[1][1])}"
                ),
                derivation=Derivation(
                    "from the roll − roll radius − hole radius",
                    f"{format_number(rolls[0] + s.roll / 2 + d / 2)} − {format_number(s.roll / 2)} − {format_number(d / 2)}",
                ),
            )
        )
        screws = min((math.hypot(x - sx, y - sy) - s.bore_mm / 2 - d / 2) / d for x, y in s.work_holes for sx, sy in s.screws)
        found.append(
            Check(
                key="screws",
                label="Distance hole to screw",
                value=screws,
                unit="× d",
                limits=Limits(marginal_below=0.5, no_below=0.0),
                features=("work holes", "roll screws"),
                figures=("pattern",),
                reason=(
                    "they run into a counterbore"
                    if screws < 0
                    else "half a diameter is left"
                    if screws >= 0.5
                    else "thin between them"
                ),
            )
        )
    if len(s.work_holes) > 1:
        web = (
            min(math.hypot(a[0] - b[0], a[1] - b[1]) - d for a, b in combinations(s.work_holes, 2))
            if len(s.work_holes) <= 200
            else min(_neighbours(s.work_holes)) - d
        )
        found.append(
            Check(
                key="web",
                label="Web between holes",
                value=web / d,
                unit="× d",
                limits=Limits(marginal_below=0.5, no_below=0.0),
                features=("work holes",),
                figures=("pattern",),
                remedies=("work_thread",),
                reason=(
                    "two holes meet" if web < 0 else "half a diameter is left" if web >= 0.5 * d else "thin between two of them"
                ),
                derivation=Derivation(
                    "(middle to middle − d)/d", f"({format_number(web + d)} − {format_number(d)})/{format_number(d)}"
                ),
            )
        )
    if s.strip_holes and s.work_holes:
        strip = min(x for x, _ in s.work_holes) - STRIP_WIDE - d / 2
        found.append(
            Check(
                key="stop_strip",
                label="Distance hole to strip",
                value=strip,
                unit="mm",
                limits=Limits(no_below=0.0),
                step=0.1,
                features=("work holes", "stop strip"),
                figures=("pattern", "stop_strip"),
                remedies=("stop_strip",),
                reason="one lies under the strip" if strip < 0 else "none lies under it",
            )
        )
    return found


def _neighbours(points: tuple[tuple[float, float], ...]) -> list[float]:
    """Distance to the next hole, of each, in order of x: enough for many holes."""
    ordered = sorted(points)
    found = []
    for i, a in enumerate(ordered):
        near = [math.hypot(a[0] - b[0], a[1] - b[1]) for b in ordered[i + 1 : i + 60]]
        found.append(min(near, default=math.inf))
    return found
