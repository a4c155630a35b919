"""What a piece weighs, how dense a material is, how fast a cutter goes round."""

from __future__ import annotations

import math

from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import TURNS, looked
from elbrix.mechanics.lifting import TWO_PEOPLE, too_heavy
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.standards.materials import density, material

_ROUND = words("round rod disc disk cylinder bar dia diameter")
_HEX = words("hexagon hex hexagonal")


def _density(q: Question, world: ShopContext) -> Answer:
    stuff = q.material() or (material("mild steel") if q.has("steel") else None)
    if stuff is None:
        raise missing("The material", "density of brass")
    return Answer(title=f"Density of {stuff.name}", figures=(looked("density", "Density", density(stuff.name)),))


def _weight(q: Question, world: ShopContext) -> Answer:
    """A block by three sizes, a round or hexagon by two, a tube by three with its bore."""
    stuff = q.material() or (material("mild steel") if q.has("steel") else None)
    if stuff is None:
        raise missing("The material", "weight 40 x 20 x 105 mild steel")
    bore = q.length("bore", "inside") if q.has("bore", "inside") else None
    said_long = q.length("long", "length") if q.has("long", "length") else None
    hexagon, is_round = q.has(*_HEX), q.has("tube", "pipe", "ring") or q.has(*_ROUND)
    q.use("thick", "wide", "high", "across", "flats", "outside", "block", "piece", "plate", "flat", "bar", "square")
    sizes = []
    while (size := q.length()) is not None:
        sizes.append(size)
    if any(s <= 0 for s in sizes) or (bore is not None and bore <= 0):
        raise ShopError("Ask", "a size of nothing", "Every size is above zero", "Check the sizes")
    if is_round or hexagon:
        if q.has("tube", "pipe", "ring") and bore is None and len(sizes) + (said_long is not None) == 3:
            bore = sizes.pop(1)
        sizes += [said_long] if said_long is not None else []
        if len(sizes) != 2:
            raise missing("The diameter or the length", "weight round 30 x 100 brass")
        across, long = (sizes[0], sizes[1])
        area = math.sqrt(3) / 2 * across**2 if hexagon else math.pi / 4 * across**2
        if bore is not None and bore >= across:
            raise ShopError("Ask", f"a bore of {bore:g} in {across:g}", "Nothing would be left", "Check the sizes")
        area -= math.pi / 4 * (bore or 0.0) ** 2
        volume = area * long
        words_ = f"{area:.2f} mm² · {format_number(long, 3)} mm"
    else:
        sizes += [said_long] if said_long is not None else []
        if len(sizes) == 2 and q.has("square"):
            sizes = [sizes[0], *sizes]
        if len(sizes) != 3:
            raise missing("One of the three sizes", "weight 40 x 20 x 105 mild steel")
        volume = math.prod(sizes)
        words_ = " · ".join(format_number(s, 3) for s in sizes) + " mm³"
    per = density(stuff.name)
    mass = volume * 1e-9 * per.value
    figure = Figure(
        key="mass",
        label="Weighs",
        value=mass,
        unit="kg",
        step=0.001,
        derivation=Derivation("volume · density", f"{words_} · {per.value:g} kg/m³", per.source),
    )
    cautions = (TWO_PEOPLE,) if too_heavy(mass) else ()
    return Answer(title=f"Weight in {stuff.name}", figures=(figure,), cautions=cautions)


def _surface(q: Question, world: ShopContext) -> Answer:
    """Cutting speed of a diameter at a number of turns."""
    turns = q.measured("turns", TURNS)
    size = q.length("diameter", "dia", "cutter", "drill", "speed") or q.length()
    if turns is None or size is None or size <= 0:
        raise missing("The diameter or the revolutions", "surface speed 12 mm 800 rpm")
    q.use("mill", "cutter", "drill", "bar", "round")
    speed = worked("π·d·n/1000", size, turns)
    figure = reckoned("speed", "Cutting speed", speed, unit="m/min")
    feet = reckoned("feet", "In feet", worked("v/0.3048", speed.value), unit="ft/min")
    return Answer(title=f"{length(size)} {LENGTH_UNIT} at {turns:g} rpm", figures=(figure, feet))


TOPICS = (
    Topic(
        key="weight",
        needs=(words("weight weigh weighs mass heavy kilos"),),
        hints=words("block bar piece plate"),
        handles=_ROUND | _HEX | words("tube pipe ring bore inside long thick wide high across flats outside square flat"),
        examples=("weight 40 x 20 x 105 mild steel", "weight round 30 x 100 brass"),
        answer=_weight,
    ),
    Topic(key="density", needs=(words("density dense"),), examples=("density of brass",), answer=_density),
    Topic(
        key="surface speed",
        needs=(words("surface cutting speed sfm fpm"), frozenset({"@turns"})),
        hints=words("speed cutting surface diameter"),
        examples=("surface speed 12 mm 800 rpm",),
        answer=_surface,
    ),
)
