"""A vise closed on the work, its fixed jaw at the back; the work on parallels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from elbrix.drawing.scene import Dimension, Element, Side, Style
from elbrix.geometry.shapes import Ring, bounds, placed, rectangle
from elbrix.holding.bolted import bolt_load_check, bolt_pull_n
from elbrix.holding.contacts import ClampForce, Contact
from elbrix.holding.drawn import body, front
from elbrix.holding.jaws import (
    grip_derivation,
    jaw_friction_parameter,
    parallels_named,
    parallels_parameter,
    usual_jaw_friction,
    vise_named,
    vise_parameter,
)
from elbrix.holding.layout import Behaviour, Mount, Piece, PlacedElement, PlacingContext, Solid, Squeeze
from elbrix.holding.mounted import bolted_mount, kilograms_n, mount_parameters, stop_bears_n, usual_mount
from elbrix.holding.owned import ShelfUse
from elbrix.mechanics.tightened import handle_load
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.results.formulas import reckoned, worked
from elbrix.results.length_text import torque_text
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise as ViseTool

_ASSUMED = ViseTool(id="", name="a 125 mm vise, assumed", jaw_width_mm=125, jaw_height_mm=40, bed_height_mm=55, opening_mm=120)
#: Off the middle by this share of the jaw, a vise cocks.
_COCKS, _COCKS_MUCH = 0.15, 0.25
_EDGE_MM = 0.2  # outline points this near its side touch the jaw
_SQUARE_MM = 0.02  # out of square by more is seen
_MIN_GRIP_MM = 3.0
_CLEAR_MM = 2.0  # between the cutter's end and the jaws
_CORNER_MM = 6.0  # a flat side shorter than this in the jaws is a corner
_TAKEN_UP_MM = 0.01  # so much of a leaning jaw closes up as it is tightened
_MOUNTS = (("bolted", "bolted down"), ("floating", "floating, against a torque stop"))
_SPACER = (("no", "no"), ("yes", "an equal piece at the other end"))


def _owned(shop: Shop) -> tuple[ViseTool, ...]:
    return tuple(sorted(shop.vises, key=lambda v: v.split)) or (_ASSUMED,)


def _standing(
    seats: Sequence[Ring], jaw: tuple[float, float], piece: Piece, bed_mm: float, height_mm: float, name: str
) -> list[Solid]:
    """Parallels as something a cutter can meet: between the jaws, under the work; longer ones are pushed away from the cut."""
    left, _, right, _ = bounds(piece.outline)
    found = []
    for seat in seats if height_mm else ():
        x0, y0, x1, y1 = bounds(seat)
        x0, x1 = max(x0, jaw[0], left), min(x1, jaw[1], right)
        if x1 - x0 > 1.0:
            ring = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
            found.append(Solid(ring=ring, bottom_mm=bed_mm, top_mm=bed_mm + height_mm, name=name))
    return found


def _lean_check(key: str, name: str, lean: float, height_mm: float) -> Check:
    out = lean * height_mm / 1000
    return Check(
        key=key,
        label=f"Squareness in the jaws, {name}",
        value=out,
        unit="mm",
        limits=Limits(marginal_above=_SQUARE_MM),
        step=0.001,
        features=(name,),
        reason=(
            "the fixed jaw leans too little to matter"
            if out <= _SQUARE_MM
            else "the fixed jaw leans and the work with it: a strip of paper under its low edge, and measure the first piece"
        ),
        derivation=Derivation(
            "lean over a metre · work height/1000", f"{format_number(lean, 3)} · {format_number(height_mm, 2)}/1000"
        ),
    )


def _stop_load(name: str, values: Values, at: PlacingContext) -> tuple[Check, ...]:
    """The bolt of the stop that takes the torque of a vise that floats; the bolts of the other are judged with its mount."""
    if values.word("mounting") == "bolted":
        return ()
    pull = bolt_pull_n(values.number("bolt_torque"), at.nut_factor)
    return (bolt_load_check(f"stop of the {name}", pull, at.entry("bolt_torque")),)


def _mount(name: str, values: Values, at: PlacingContext, base: Ring) -> Mount:
    torque = at.entry("bolt_torque")
    if values.word("mounting") == "bolted":
        return bolted_mount(base, values, at.nut_factor, name, torque)
    return Mount(
        ring=base,
        bolts=(),
        preload_n=0.0,
        bears=torque,
        name=name,
        floats=True,
        stop_arm_mm=values.number("stop_arm"),
        stop_bears_n=stop_bears_n(values, at.nut_factor),
        weight_n=kilograms_n(values.number("vise_weight")) + at.piece.weight_n,
    )


def _squeeze(
    name: str, values: Values, at: PlacingContext, vise: ViseTool, force: float, held: Sequence[tuple[float, float]]
) -> Squeeze:
    _, low, _, high = bounds(at.piece.outline)
    back = next((p for p in at.shop.parallels if p.id == values.word("backing")), None)
    return Squeeze(
        gap_mm=high - low,
        along_mm=min(b - a for a, b in held),
        force_n=force,
        jaw_top_mm=vise.bed_height_mm + vise.jaw_height_mm,
        backed_to_mm=at.piece.bottom_mm + back.height_mm if back is not None else 0.0,
        name=name,
        torque=at.entry("torque"),
        backing=at.entry("backing"),
    )


class ViseElement:
    """See the module."""

    key = "vise"
    title = "Vise"
    when = "Two sides are parallel and nothing else is needed"
    order = 2
    behaviour = Behaviour(name="vise")

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            vise_parameter(_owned(shop)),
            Parameter(
                name="offset",
                label="Work offset in the jaws",
                kind=Kind.LENGTH,
                low=-500,
                high=500,
                step=1,
                usually="0: the work in the middle of the jaws",
            ),
            parallels_parameter(shop, "on the bed", "the lowest that let the cut clear the jaws"),
            Parameter(name="torque", label="Handle torque", kind=Kind.NUMBER, unit="N·m", low=1, high=300, step=1),
            Parameter(name="spacer", label="Spacer", kind=Kind.CHOICE, unit="", choices=_SPACER),
            jaw_friction_parameter(),
            Parameter(
                name="backing",
                label="Backing behind the work",
                kind=Kind.CHOICE,
                unit="",
                choices=(("", "none"), *((p.id, f"parallel {p.height_mm:g} high") for p in shop.parallels)),
                usually="a tall parallel behind sheet that stands out of the jaws",
            ),
            Parameter(
                name="mounting",
                label="Vise mounting",
                kind=Kind.CHOICE,
                unit="",
                choices=_MOUNTS,
                usually="floating: for drilling and tapping only",
            ),
            *mount_parameters("two; the vise's own slots"),
            Parameter(
                name="stop_arm",
                label="Spindle to torque stop",
                kind=Kind.LENGTH,
                low=10,
                high=1000,
                step=1,
                usually="of a floating vise",
            ),
            Parameter(name="vise_weight", label="Vise weight", kind=Kind.NUMBER, unit="kg", low=0, high=300, step=0.5),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        vise = next((v for v in _owned(shop) if "vise" in chosen and v.id == chosen["vise"].value), _owned(shop)[0])
        # The lowest pair that leaves half of the work, or what is cut and a little more, above the jaws; and still grips it.
        above = min(max(0.5 * piece.height_mm, piece.cut_depth_mm + _CLEAR_MM), piece.height_mm - _MIN_GRIP_MM)
        want = vise.jaw_height_mm - (piece.height_mm - above)
        most = vise.jaw_height_mm - max(_MIN_GRIP_MM, 0.1 * piece.height_mm)
        pairs = sorted((p for p in shop.parallels if p.count > 1 and p.height_mm <= most), key=lambda p: p.height_mm)
        pair = next((p for p in pairs if p.height_mm >= want), pairs[-1] if pairs and want > 0 else None) if want > 0 else None
        return Values(
            merge_choices(
                chosen,
                {
                    "vise": ParameterValue(vise.id, Origin.MEASURED if shop.vises else Origin.ASSUMED),
                    "offset": ParameterValue(0.0, Origin.ASSUMED),
                    "parallels": ParameterValue(
                        pair.id if pair else "",
                        Origin.CALCULATED,
                        derivation=Derivation(
                            "jaws − (work − above them): half of the work, or the cut and 2 mm",
                            f"{format_number(vise.jaw_height_mm, 1)} − ({format_number(piece.height_mm, 1)} −"
                            f" {format_number(above, 1)})",
                        ),
                    ),
                    "torque": ParameterValue(min(25.0, vise.max_torque_nm), Origin.ASSUMED),
                    "spacer": ParameterValue("no", Origin.ASSUMED),
                    "backing": ParameterValue("", Origin.ASSUMED),
                    "mounting": ParameterValue("bolted", Origin.ASSUMED),
                    **usual_mount("2"),
                    "stop_arm": ParameterValue(150.0, Origin.ASSUMED),
                    "vise_weight": ParameterValue(0.0, Origin.ASSUMED),
                    "jaw_friction": usual_jaw_friction(),
                },
            )
        )

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        pair = parallels_named(values, shop)
        return vise_named(values, _owned(shop)).bed_height_mm + (pair.height_mm if pair else 0.0)

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        vise, pair = vise_named(values, _owned(at.shop)), parallels_named(values, at.shop)
        _, low, _, high = bounds(at.piece.outline)
        middle = at.piece.middle[0] + values.number("offset")
        bed = vise.bed_height_mm
        jaw_top = bed + vise.jaw_height_mm
        grip = min(jaw_top - at.piece.bottom_mm, at.piece.height_mm)
        wide = high - low
        jaw = (middle - vise.jaw_width_mm / 2, middle + vise.jaw_width_mm / 2)
        sides = [
            (min(xs), max(xs)) for xs in ([p[0] for p in at.piece.outline if abs(p[1] - edge) < _EDGE_MM] for edge in (high, low))
        ]
        held = [(max(a, jaw[0]), min(b, jaw[1])) for a, b in sides]
        problem = ""
        if vise.split:
            problem = "its two halves stand apart on a slot: take it off and add the split vise instead"
        elif wide > vise.opening_mm:
            problem = f"the work is {format_number(wide - vise.opening_mm, 1)} mm wider than the jaws open"
        elif grip <= 0:
            problem = "the parallels lift the work out of the jaws"
        elif any(a > b for a, b in held):
            problem = "the work lies beside the jaws"
        elif at.piece.shape != "round" and min(b - a for a, b in held) < min(_CORNER_MM, 0.5 * vise.jaw_width_mm):
            problem = "the jaws hold it by a corner and it turns out of them: turn it flat against them, or use a V"
        torque = values.number("torque")
        shared = values.word("spacer") == "yes"
        force = torque * vise.force_per_nm * (0.5 if shared else 1.0)  # an equal spacer carries the other half
        contacts: tuple[Contact, ...] = ()
        forces: tuple[ClampForce, ...] = ()
        seats: tuple[Ring, ...] = ()
        if not problem:
            # A jaw that leans more than it gives touches along one edge only, and nobody knows which: the low one helps least.
            leans = vise.fixed_lean_mm_per_m * grip / 1000 > _TAKEN_UP_MM
            heights = tuple(at.piece.bottom_mm + share * grip for share in ((0.1,) if leans else (0.1, 0.9)))
            contacts = tuple(Contact((x, high, z), (0, -1, 0), at.mu, f"{name}, fixed jaw") for x in held[0] for z in heights)
            forces = tuple(
                ClampForce((x, low, at.piece.bottom_mm + grip / 2), (0, 1, 0), force / 2, values.number("jaw_friction"), name)
                for x in held[1]
            )
            thick = pair.thickness_mm if pair else (high - low) / 2
            long = pair.length_mm if pair else vise.jaw_width_mm
            seats = (
                (
                    (middle - long / 2, high - thick),
                    (middle + long / 2, high - thick),
                    (middle + long / 2, high),
                    (middle - long / 2, high),
                ),
                (
                    (middle - long / 2, low),
                    (middle + long / 2, low),
                    (middle + long / 2, low + thick),
                    (middle - long / 2, low + thick),
                ),
            )
        t = vise.jaw_thickness_mm
        rings = {
            "fixed jaw": placed(rectangle(vise.jaw_width_mm, t), middle, high + t / 2, 0.0),
            "moving jaw": placed(rectangle(vise.jaw_width_mm, t), middle, low - t / 2, 0.0),
        }
        # Its body is drawn no further than a hand beyond the jaws: it only has to be seen which way it lies.
        back, ahead = high + 1.6 * t, max(low - t - 40.0, high + 1.6 * t - vise.body_mm)
        base = placed(rectangle(vise.jaw_width_mm * 0.8, back - ahead), middle, (back + ahead) / 2, 0.0)
        above: list[Element] = [*body(base, name, Style.SURROUNDINGS)]
        side: list[Element] = [*front(base, 0.0, bed, name, Style.SURROUNDINGS)]
        for ring in rings.values():
            above += body(ring, name)
        side += front(rings["moving jaw"], bed, jaw_top, name)
        for seat in seats if pair else ():
            above += body(seat, name, Style.HIDDEN)
            side += front(seat, bed, bed + (pair.height_mm if pair else 0.0), name, Style.SURROUNDINGS)
        entry = at.entry
        checks: tuple[Check, ...] = ()
        if not problem:
            off = abs((held[1][0] + held[1][1]) / 2 - middle) / vise.jaw_width_mm
            spacer = values.word("spacer")
            cocked = off > _COCKS and spacer == "no"
            least = max(_MIN_GRIP_MM, 0.1 * at.piece.height_mm)
            checks = (
                Check(
                    key=entry("grip"),
                    remedies=(entry("parallels"),),
                    label="Grip height",
                    value=grip,
                    unit="mm",
                    limits=Limits(marginal_below=2 * least, no_below=least),
                    step=0.1,
                    features=(name,),
                    figures=(entry("parallels"),),
                    reason=(
                        "enough of the work is in the jaws"
                        if grip >= 2 * least
                        else (
                            "little: lower parallels, or a lighter cut"
                            if grip >= least
                            else "it is pulled out: at least 3 mm and a tenth of its height"
                        )
                    ),
                    derivation=grip_derivation(jaw_top, at.piece),
                ),
                Check(
                    key=entry("middle"),
                    remedies=(entry("offset"), entry("spacer")),
                    label="Work offset in the jaws",
                    value=off * 100,
                    unit="%",
                    limits=Limits(marginal_above=100 * _COCKS, no_above=100 * _COCKS_MUCH) if spacer == "no" else Limits(),
                    features=(name,),
                    figures=(entry("offset"), entry("spacer")),
                    reason=(
                        "the jaw stays parallel"
                        if off <= _COCKS
                        else (
                            "the spacer keeps the jaw parallel, and takes half of the screw's force"
                            if not cocked
                            else "the moving jaw cocks: an equal spacer at the other end, the work a paper thicker"
                        )
                    ),
                    derivation=Derivation(
                        "off the middle/jaw width",
                        f"{format_number(off * vise.jaw_width_mm, 2)}/{format_number(vise.jaw_width_mm)}",
                    ),
                ),
                handle_load(entry("torque"), torque, vise.max_torque_nm, (name,), entry("torque")),
                *_stop_load(name, values, at),
            )
        if not problem and vise.fixed_lean_mm_per_m > 0:
            checks = (*checks, _lean_check(entry("lean"), name, vise.fixed_lean_mm_per_m, at.piece.height_mm))
        figures = (
            reckoned(
                entry("force"),
                "Clamping force on the work",
                worked(
                    "torque·force per N·m/2" if shared else "torque·force per N·m",
                    torque,
                    vise.force_per_nm,
                    source="screw friction scatters by 30 %" + ("; the spacer has the other half" if shared else ""),
                ),
                unit="kN",
                features=(name,),
            ),
            reckoned(
                entry("lift"),
                "Work seat height",
                worked("bed + parallels", bed, pair.height_mm if pair else 0.0, source="above the table"),
                step=0.01,
                features=(name,),
            ),
        )
        dims = (
            Dimension(
                entry("offset"),
                (middle, high),
                (middle - vise.jaw_width_mm / 2 - 26, high + t / 2),
                Side.AT,
                value_mm=values.number("offset"),
                prefix="off ",
                entry=entry("offset"),
                feature=name,
                step_mm=0.5,
                order=10 + at.number,
            ),
        )
        solids = (
            *(Solid(ring=r, bottom_mm=bed, top_mm=jaw_top, name=f"{name}, {n}") for n, r in rings.items()),
            Solid(ring=base, bottom_mm=0.0, top_mm=bed, name=name),
            *_standing(seats, jaw, at.piece, bed, pair.height_mm if pair else 0.0, f"{name}, its parallels"),
        )
        return PlacedElement(
            name=name,
            uses=(ShelfUse(vise.title, 1),) if vise.id else (),
            contacts=contacts,
            forces=forces,
            seats=seats,
            solids=solids,
            above=tuple(above),
            front=tuple(side),
            dimensions=dims,
            checks=checks,
            figures=figures,
            problem=problem,
            spot=(middle, high + t),
            name_at=(middle + vise.jaw_width_mm / 2 + 22, high + t / 2),
            tighten=f"{sentence(name)}: {torque_text(torque)} at the handle, the work tapped down on its parallels",
            cautions=("Take the handle off before the spindle starts",),
            idle=("stop_arm", "vise_weight") if values.word("mounting") == "bolted" else ("bolts",),
            mount=_mount(name, values, at, base),
            squeeze=None if problem else _squeeze(name, values, at, vise, force, held),
        )


ELEMENT = ViseElement()
