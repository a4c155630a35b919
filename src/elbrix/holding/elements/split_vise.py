"""A split vise: two halves on one slot or on rails, the work between them, one half with the screw.

The halves are pushed apart along the slot, where no key helps: on a slot each is kept by the friction of its own bolts, and is
tipped back about its heel as well. On rails the rails take the push, and the whole stands on the table by its bolts.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.drawing.scene import Element
from elbrix.geometry.shapes import Ring, bounds, placed, rectangle
from elbrix.holding.bolted import BOLT, stands_n
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
from elbrix.holding.mounted import bolted_mount, mount_parameters, usual_mount
from elbrix.holding.owned import ShelfUse
from elbrix.mechanics.strength import COUNTED, preload_n
from elbrix.mechanics.tightened import MIN_TORQUE_NM, proposed_nm
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length, torque_text
from elbrix.shop.gauges import Parallel
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise as ViseTool

_ASSUMED: Final = ViseTool(
    id="",
    name="a split vise 80 wide, assumed",
    jaw_width_mm=80,
    jaw_height_mm=30,
    bed_height_mm=15,
    opening_mm=400,
    jaw_thickness_mm=60,
    force_per_nm=350,
    max_torque_nm=40,
    split=True,
)
_WAYS: Final = (("slot", "on one slot"), ("rails", "on rails"))
_FIXED: Final = (("left", "left"), ("right", "right"))
_EDGE_MM: Final = 0.2
#: Said of what nothing moves.
_NO_LIMIT: Final = 9999.0
_MIN_GRIP_MM: Final = 3.0
_ENOUGH: Final = 1.5
#: A screw's friction scatters by three tenths: what the halves may have to stand of what it is said to give.
_MAX: Final = 1.3


def _owned(shop: Shop) -> tuple[ViseTool, ...]:
    return tuple(v for v in shop.vises if v.split) or (_ASSUMED,)


class SplitViseElement:
    """See the module."""

    key = "split_vise"
    title = "Split vise"
    when = "The work is longer than a vise opens, and its ends are parallel"
    order = 6
    behaviour = Behaviour(name="split vise")

    def parameters(self, shop: Shop, machine: Machine) -> tuple[Parameter, ...]:
        return (
            vise_parameter(_owned(shop)),
            Parameter(name="stands", label="Halves stand", kind=Kind.CHOICE, unit="", choices=_WAYS),
            Parameter(name="fixed", label="Fixed half", kind=Kind.CHOICE, unit="", choices=_FIXED),
            parallels_parameter(shop, "on the table"),
            Parameter(name="torque", label="Screw torque", kind=Kind.NUMBER, unit="N·m", low=MIN_TORQUE_NM, high=300, step=1),
            jaw_friction_parameter(),
            *mount_parameters("two for each half"),
        )

    def propose(self, shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], number: int) -> Values:
        vise = next((v for v in _owned(shop) if "vise" in chosen and v.id == chosen["vise"].value), _owned(shop)[0])
        usual = usual_mount("2")
        factor_bears = _bears(2, float(str(usual["bolt_torque"].value)), 0.2)
        most = factor_bears / _ENOUGH / _MAX / vise.force_per_nm  # what the halves bear by their friction
        return Values(
            merge_choices(
                chosen,
                {
                    "vise": ParameterValue(vise.id, Origin.MEASURED if vise.id else Origin.ASSUMED),
                    "stands": ParameterValue("slot", Origin.ASSUMED),
                    "fixed": ParameterValue("left", Origin.ASSUMED),
                    "parallels": ParameterValue("", Origin.ASSUMED),
                    "torque": ParameterValue(
                        max(MIN_TORQUE_NM, min(vise.max_torque_nm, proposed_nm(most))),
                        Origin.CALCULATED,
                        derivation=Derivation(
                            "what two bolts bear by friction/enough/scatter/force per N·m, down",
                            f"{factor_bears:.0f}/{_ENOUGH:g}/{_MAX:g}/{format_number(vise.force_per_nm)}",
                        ),
                    ),
                    "jaw_friction": usual_jaw_friction(),
                    **usual,
                },
            )
        )

    def support_height_mm(self, values: Values, shop: Shop) -> float:
        pair = parallels_named(values, shop)
        return pair.height_mm if pair else 0.0

    def place(self, name: str, values: Values, at: PlacingContext) -> PlacedElement:
        vise, pair, piece = vise_named(values, _owned(at.shop)), parallels_named(values, at.shop), at.piece
        left, low, right, high = bounds(piece.outline)
        middle = (low + high) / 2
        jaw_top = vise.bed_height_mm + vise.jaw_height_mm
        grip = min(jaw_top - piece.bottom_mm, piece.height_mm)
        jaw = (middle - vise.jaw_width_mm / 2, middle + vise.jaw_width_mm / 2)
        ends = [[p[1] for p in piece.outline if abs(p[0] - edge) < _EDGE_MM] for edge in (left, right)]
        held = [(max(min(ys), jaw[0]), min(max(ys), jaw[1])) for ys in ends]
        problem = ""
        if right - left > vise.opening_mm:
            problem = f"the work is {length(right - left - vise.opening_mm, 1)} {LENGTH_UNIT} longer than the screw opens"
        elif grip <= 0:
            problem = "the work stands above the halves"
        elif min(b - a for a, b in held) <= _EDGE_MM and piece.shape != "round":
            problem = "the halves hold it by a corner: turn it flat against them"
        torque = values.number("torque")
        force = torque * vise.force_per_nm
        fixed_left = values.word("fixed") == "left"
        fixed, moving = (left, right) if fixed_left else (right, left)
        inward = 1.0 if fixed_left else -1.0
        on_slot = values.word("stands") == "slot"
        bolts = int(values.word("bolts"))
        bears = _bears(bolts, values.number("bolt_torque"), at.nut_factor)
        contacts: tuple[Contact, ...] = ()
        forces: tuple[ClampForce, ...] = ()
        if not problem:
            span = held[0] if fixed_left else held[1]
            other = held[1] if fixed_left else held[0]
            heights = (piece.bottom_mm + 0.1 * grip, piece.bottom_mm + 0.9 * grip)
            # What the fixed half bears beyond the clamp's own force is all the cut may add before it slides.
            most = max(bears, force) / 4 if on_slot else float("inf")
            contacts = tuple(
                Contact((fixed, y, z), (inward, 0.0, 0.0), at.mu, f"{name}, fixed half", most_n=most)
                for y in span
                for z in heights
            )
            forces = tuple(
                ClampForce(
                    (moving, y, piece.bottom_mm + grip / 2), (-inward, 0.0, 0.0), force / 2, values.number("jaw_friction"), name
                )
                for y in other
            )
        halves = self._halves(vise, left, right, middle)
        seats = self._seats(pair, left, right, low, high) if not problem and pair else ()
        whole = rectangle(right - left + 2 * vise.jaw_thickness_mm, vise.jaw_width_mm)
        above: list[Element] = [e for ring in halves for e in body(ring, name)]
        side: list[Element] = [e for ring in halves for e in front(ring, 0.0, jaw_top, name)]
        push_high = piece.bottom_mm + grip / 2
        checks = () if problem else self._checks(name, at, vise, force, grip, bears, on_slot, push_high, bolts, values)
        return PlacedElement(
            name=name,
            uses=(ShelfUse(vise.title, 1),) if vise.id else (),
            contacts=contacts,
            forces=forces,
            seats=seats,
            solids=(
                *(Solid(ring=r, bottom_mm=0.0, top_mm=jaw_top, name=name) for r in halves),
                *(Solid(ring=r, bottom_mm=0.0, top_mm=piece.bottom_mm, name=f"{name}, its parallels") for r in seats),
            ),
            above=tuple(above),
            front=tuple(side),
            checks=checks,
            figures=(
                reckoned(
                    at.entry("force"),
                    "Clamping force on the work",
                    worked(
                        "torque · force per N·m",
                        torque,
                        term(vise.force_per_nm, 3, "N"),
                        source="screw friction scatters by 30 %",
                    ),
                    unit="kN",
                    features=(name,),
                ),
            ),
            problem=problem,
            spot=(right + vise.jaw_thickness_mm, middle),
            name_at=(right + vise.jaw_thickness_mm / 2, middle - vise.jaw_width_mm / 2 - 12),
            tighten=(
                f"{sentence(name)}: both halves keyed and bolted down first, {torque_text(values.number('bolt_torque'))},"
                f" then the screw to {torque_text(torque)}"
            ),
            cautions=(
                "A half that slips lets the work go at once: look at both after the first light cut",
                "Take the handle off before the spindle starts",
            ),
            mount=self._mount(name, values, at, placed(whole, (left + right) / 2, middle, 0.0)),
            squeeze=(
                None
                if problem
                else Squeeze(
                    gap_mm=right - left,
                    along_mm=min(b - a for a, b in held),
                    force_n=force,
                    jaw_top_mm=jaw_top,
                    name=name,
                    torque=at.entry("torque"),
                )
            ),
        )

    def _halves(self, vise: ViseTool, left: float, right: float, middle: float) -> tuple[Ring, Ring]:
        block = rectangle(vise.jaw_thickness_mm, vise.jaw_width_mm)
        away = vise.jaw_thickness_mm / 2
        return placed(block, left - away, middle, 0.0), placed(block, right + away, middle, 0.0)

    def _seats(self, pair: Parallel, left: float, right: float, low: float, high: float) -> tuple[Ring, ...]:
        thick = min(pair.thickness_mm, (high - low) / 2)
        return (
            ((left, low), (right, low), (right, low + thick), (left, low + thick)),
            ((left, high - thick), (right, high - thick), (right, high), (left, high)),
        )

    def _mount(self, name: str, values: Values, at: PlacingContext, ring: Ring) -> Mount:
        """Both halves by all their bolts: against the cut they stand together, the work between them."""
        one = bolted_mount(ring, values, at.nut_factor, name, at.entry("bolt_torque"))
        left, low, right, high = bounds(ring)
        each = int(values.word("bolts")) // 2
        ys = [low + (high - low) * (k + 0.5) / each for k in range(each)]
        return Mount(
            ring=one.ring,
            bolts=tuple((x, y) for x in (left + 10.0, right - 10.0) for y in ys),
            preload_n=2 * one.preload_n,  # of the two that stand side by side at each place
            bears=one.bears,
            name=name,
        )

    def _checks(
        self,
        name: str,
        at: PlacingContext,
        vise: ViseTool,
        force: float,
        grip: float,
        bears: float,
        on_slot: bool,
        height_mm: float,
        bolts: int,
        values: Values,
    ) -> tuple[Check, ...]:
        least = max(_MIN_GRIP_MM, 0.1 * at.piece.height_mm)
        found = [
            Check(
                key=at.entry("grip"),
                label=f"Grip height, {name}",
                value=grip,
                unit="mm",
                limits=Limits(marginal_below=2 * least, no_below=least),
                step=0.1,
                features=(name,),
                remedies=(at.entry("parallels"),),
                reason="enough of the work is between the halves" if grip >= 2 * least else "little: lower parallels",
                derivation=grip_derivation(vise.bed_height_mm + vise.jaw_height_mm, at.piece),
            ),
            judged(
                at.entry("torque"),
                f"Screw torque, {name}",
                values.number("torque") / vise.max_torque_nm * 100,
                Limits(marginal_above=90, no_above=100),
                (
                    "within what the vise is made for",
                    "all but what the vise is made for",
                    "more than the vise is made for: its screw or its body gives",
                ),
                unit="%",
                features=(name,),
                figures=(at.entry("torque"),),
                remedies=(at.entry("torque"),),
            ),
        ]
        if not on_slot:
            return tuple(found)
        most = _MAX * force
        pull = COUNTED * preload_n(values.number("bolt_torque"), at.nut_factor, BOLT.major_mm) * bolts
        tips = pull * vise.jaw_thickness_mm / 2 / (most * height_mm) if most * height_mm > 0 else _NO_LIMIT
        return (
            *found,
            Check(
                key=at.entry("stays"),
                label=f"Halves stay, {name}",
                value=min(bears / most if most > 0 else _NO_LIMIT, _NO_LIMIT),
                unit="×",
                limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
                step=0.1,
                features=(name,),
                figures=(at.entry("bolt_torque"), at.entry("torque")),
                remedies=(at.entry("torque"), at.entry("bolt_torque")),
                reason=(
                    "its bolts hold each half against the screw"
                    if bears >= _ENOUGH * most
                    else (
                        "a half slides back along its slot before the screw pulls so hard: a stop behind it, rails, or less"
                        " torque"
                    )
                ),
                derivation=Derivation(
                    "µ·least preload of a half's bolts/(1.3·screw force)",
                    f"{bears:.0f} N/({_MAX:g}·{force:.0f} N)",
                    "a screw's friction scatters by 30 %",
                ),
            ),
            Check(
                key=at.entry("tips"),
                label=f"Halves stay down, {name}",
                value=min(tips, _NO_LIMIT),
                text="no limit" if tips >= _NO_LIMIT else "",
                unit="×",
                limits=Limits(no_below=1.0, marginal_below=_ENOUGH),
                step=0.1,
                features=(name,),
                figures=(at.entry("bolt_torque"), at.entry("torque")),
                remedies=(at.entry("torque"), at.entry("parallels")),
                reason=(
                    "its bolts keep each half flat"
                    if tips >= _ENOUGH
                    else "a half tips back about its heel and lifts the work: grip lower, or less torque"
                ),
                derivation=Derivation(
                    "bolts · half the block/(1.3 · screw force · height of the push)",
                    f"{pull:.0f} N · {format_number(vise.jaw_thickness_mm / 2, 1)}/({_MAX:g} · {force:.0f} N ·"
                    f" {format_number(height_mm, 2)})",
                ),
            ),
        )


def _bears(bolts: int, torque_nm: float, nut_factor: float) -> float:
    """What one half bears along its slot, N."""
    return bolts * stands_n(torque_nm, nut_factor)


ELEMENT = SplitViseElement()
