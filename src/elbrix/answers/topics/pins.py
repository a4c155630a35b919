"""Sizes over pins, circles of holes, tilted cuts."""

from __future__ import annotations

import math

from elbrix.angles.circles import angle_of_chord_rad, chord_mm
from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import from_setting, mm, text_figure
from elbrix.quantities.angles import angle_text, show_angle
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import Derivation, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length

_DIAMETER = ("diameter", "dia", "circle", "pcd", "on", "pitch-circle")


def _v(q: Question, world: ShopContext) -> Answer:
    angle = q.angle() or q.angle("v", "angle", "included") or math.radians(90)
    pin = q.length("pin", "pins", "rod", "over")
    width = q.length("wide", "width", "mouth", "across")
    pin = pin or q.length()
    if pin is None:
        raise missing("The pin", "over pins 60 deg 8")
    chosen = {"v_angle": angle_text(angle), "pin_diameter": mm(pin)}
    notes: tuple[str, ...] = ()
    width = width or q.length()
    if width is None:
        width = 1.25 * pin * math.cos(angle / 2)
        notes = (f"No width was given: a V {width:.2f} mm wide at its face is assumed, so that the pin touches well inside",)
        width = round(width, 2)
    chosen["v_width"] = mm(width)
    title = f"A {show_angle(angle)} V, pin Ø{pin:g}"
    return from_setting(title, "v_over_pin", world.shop, chosen, ("top", "vertex", "contact", "largest"), notes=notes)


def _dovetail(q: Question, world: ShopContext) -> Answer:
    angle = q.angle() or q.angle("dovetail", "flank") or math.radians(60)
    rod = q.length("rod", "rods", "pin", "pins", "over")
    width = q.length("wide", "width", "dovetail", "root", "floor")
    height = q.length("high", "height", "deep")
    width, rod = width or q.length(), rod or q.length()
    if width is None or rod is None:
        raise missing("The width or the rods", "dovetail 55 deg width 42 rods 8")
    shape = "female" if q.has("female", "inside", "between") else "male"
    chosen = {"shape": shape, "corner_width": mm(width), "flank_angle": angle_text(angle), "rod_diameter": mm(rod)}
    if height is not None:
        chosen["height"] = mm(height)
    return from_setting(
        f"{sentence(shape)} dovetail over {length(rod)} {LENGTH_UNIT} rods",
        "dovetail",
        world.shop,
        chosen,
        ("across", "other", "touch"),
    )


def _circle(q: Question, world: ShopContext) -> Answer:
    holes = q.whole("hole", "holes", "bolt")
    start = q.angle("at", "start", "first", "from") or q.angle()
    diameter = q.length(*_DIAMETER) or q.length()
    if holes is None or diameter is None:
        raise missing("The number of holes or the circle", "8 holes on 200")
    chosen = {"holes": f"{holes}", "circle_diameter": mm(diameter)}
    if start is not None:
        chosen["start_angle"] = angle_text(start)
    return from_setting(
        f"{holes} holes on {length(diameter)} {LENGTH_UNIT}", "circle", world.shop, chosen, ("chord", "index", "over", "between")
    )


def _chord(q: Question, world: ShopContext) -> Answer:
    """The chord of an angle on a circle, or the angle of a chord."""
    radius = q.length("radius", "r")
    diameter = 2 * radius if radius is not None else q.length(*_DIAMETER)
    angle = q.angle()
    chord = None if angle is not None else q.length("chord")
    diameter = q.length() if diameter is None else diameter
    if diameter is None or (angle is None and chord is None):
        raise missing("The circle, or the angle", "chord of 60 deg on 100")
    n = format_number
    if angle is None:
        assert chord is not None
        angle = angle_of_chord_rad(diameter, chord)
        first = text_figure(
            "angle",
            "Angle at the middle",
            show_angle(angle, "dms"),
            Derivation("2·asin(c/D)", f"2·asin({n(chord, 4)}/{n(diameter, 4)})"),
        )
    else:
        if not 0 < angle < 2 * math.pi:
            raise ShopError("Ask", "that angle has no chord", "It is between 0° and 360°", "Give one between")
        chord = chord_mm(diameter, angle)
        first = reckoned("chord", "Chord", worked("D·sin(θ/2)", term(diameter, 4), term(math.degrees(angle), 6, "°")), step=0.001)
    # Of a flat on a round: how far its middle lies in from the outside. The square keeps the digits of a small angle.
    height = reckoned(
        "height", "Arc above the chord", worked("D·sin(θ/4)²", term(diameter, 4), term(math.degrees(angle), 6, "°")), step=0.001
    )
    return Answer(title=f"A chord of {show_angle(angle, 'dms')} on {length(diameter)} {LENGTH_UNIT}", figures=(first, height))


def _cut(q: Question, world: ShopContext) -> Answer:
    angle = q.angle() or q.angle("cut", "bevel", "chamfer")
    thickness = q.length("thick", "thickness", "through", "plate") or q.length()
    if angle is None or thickness is None:
        raise missing("The angle or the thickness", "bevel 53d14m 12 thick")
    chosen = {"cut_angle": angle_text(angle), "thickness": mm(thickness)}
    return from_setting(
        f"A cut at {show_angle(angle, 'dms')} through {length(thickness)} {LENGTH_UNIT}",
        "tilted_cut",
        world.shop,
        chosen,
        ("over", "through", "edge_run", "infeed"),
    )


TOPICS = (
    Topic(
        key="dovetail",
        needs=(words("dovetail"),),
        hints=words("rod rods over male width pin"),
        handles=words("female inside between wide high height deep root floor flank"),
        examples=("dovetail 55 deg width 42 rods 8", "female dovetail 60 deg width 50 rods 6"),
        answer=_dovetail,
    ),
    Topic(
        key="bolt circle",
        needs=(words("hole holes bolt"), words("circle pcd on pitch-circle")),
        hints=words("circle pcd start first chord") | {"@number"},
        examples=("8 holes on 200", "bolt circle 6 holes pcd 160 start 90 deg"),
        answer=_circle,
    ),
    Topic(
        key="chord",
        needs=(words("chord chords"),),
        hints=words("on circle diameter radius angle") | {"@angle"},
        examples=("chord of 60 deg on 100", "chord 50 on 100"),
        answer=_chord,
    ),
    Topic(
        key="over pins",
        needs=(words("over v vee v-block v-jaw"), frozenset({"pin", "pins", "v", "vee", "rod"})),
        hints=words("pin included width wide") | {"@angle"},
        handles=words("mouth across angle"),
        examples=("over pins 60 deg 8", "v 90 deg pin 20 width 34"),
        answer=_v,
    ),
    Topic(
        key="tilted cut",
        needs=(words("bevel chamfer slope cut"), frozenset({"@angle"})),
        hints=words("thick through bevel chamfer"),
        examples=("bevel 53d14m 12 thick", "chamfer 45 deg 3"),
        answer=_cut,
    ),
)
