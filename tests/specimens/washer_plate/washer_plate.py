"""A square washer: the smallest family there can be. Used only in tests, to show that one module is enough."""

from __future__ import annotations

from collections.abc import Mapping

from elbrix.design.family import Capability, Design, HoleLine, Request, SlotFit
from elbrix.design.work import Blank, Work
from elbrix.drawing.scene import Arc, Dimension, Handle, Scene, Side, box
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Figure, Origin
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, drilled


class WasherPlate:
    """The family."""

    key = "washer_plate"
    title = "Washer plate"
    when = "When a slot is too wide for the washer you have."
    group = "hold it"
    parameters = (
        Parameter(
            name="side", label="Side", kind=Kind.LENGTH, low=5, high=100, step=1, words=("wider", "narrower"), feature="plate"
        ),
        Parameter(name="thick", label="Thickness", kind=Kind.LENGTH, low=1, high=30, step=0.5, feature="plate"),
        Parameter(name="bore", label="Bore", kind=Kind.LENGTH, low=1, high=50, step=0.5, feature="bore"),
        Parameter(name="pieces", label="Pieces", kind=Kind.COUNT, unit="", low=1, high=99),
    )

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        usual = {"side": 30.0, "thick": 8.0, "bore": 10.0, "pieces": request.pieces}
        return Values({k: chosen.get(k, ParameterValue(v, Origin.ASSUMED)) for k, v in usual.items()})

    def solve(self, values: Values, shop: Shop) -> Design:
        side, bore = values.number("side"), values.number("bore")
        figures = tuple(
            Figure(
                key=p.name,
                label=p.label,
                value=values.number(p.name),
                unit=p.unit,
                origin=values[p.name].origin,
                features=(p.feature,),
            )
            for p in self.parameters
        )
        web = (side - bore) / 2
        edge = Check(
            key="edge",
            label="Metal beside the bore",
            value=web,
            unit="mm",
            limits=Limits(2, 4),
            reason="metal left beside the bore",
            derivation=Derivation("(side − bore)/2", f"({side} − {bore})/2"),
            features=("bore",),
            figures=("bore", "side"),
            remedies=("side", "bore"),
        )
        return Design(
            family=self.key,
            values=values,
            figures=figures,
            checks=(edge,),
            holes=(HoleLine("A", 0, 0, f"bore {bore:g}"),),
            datum="middle",
            note_words="square washer",
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (Group("Washer", ("side", "thick", "bore", "pieces")),)

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        h, r, t = design.values.number("side") / 2, design.values.number("bore") / 2, design.values.number("thick")
        plan = (box(-h, -h, h, h, feature="plate"), Arc((0, 0), r, feature="bore"))
        dims = (
            Dimension("side", (-h, -h), (h, -h), Side.BELOW, entry="side", feature="plate"),
            Dimension("bore", (-r, 0), (r, 0), Side.ABOVE, prefix="Ø", entry="bore", feature="bore", order=1),
        )
        handle = (Handle("side", (h, -h), (h, h), (1.0, 0.0), 2.0, 1.0, 5, 100, feature="plate"),)
        thick = (Dimension("thick", (-h, 0), (-h, t), Side.LEFT, entry="thick", feature="plate"),)
        return (
            Scene("in place", "Washer", plan, dims, handle),
            Scene("front", "Front", (box(-h, 0, h, t, feature="plate"),), thick),
            Scene("top", "Top", plan, dims[:1], handle),
        )

    def solid(self, design: Design) -> Recipe:
        h, t = design.values.number("side") / 2, design.values.number("thick")
        body = Prism(((-h, -h), (h, -h), (h, h), (-h, h)), 0, t, "xy")
        return Cut(body, (drilled((0, 0, t), ((design.values.number("bore"), t),), through_to=t),))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        v = design.values
        return Work(
            Blank(
                width_mm=v.number("side"), height_mm=v.number("thick"), length_mm=v.number("side"), pieces=int(v.number("pieces"))
            )
        )

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        return ()

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        return (Capability("bolt", f"bolt to {design.values.number('bore'):g}"),)


FAMILY = WasherPlate()
