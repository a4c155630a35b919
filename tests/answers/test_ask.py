"""Questions in plain words: right answers by hand, any order and spelling, and nothing that breaks it."""

from __future__ import annotations

import contextlib
import math
from collections.abc import Iterator
from fractions import Fraction
from itertools import permutations
from pathlib import Path

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from elbrix.answers.answer import Answer, NotAnswered, ShopContext
from elbrix.answers.ask import answer_data, ask, examples, vocabulary, world_of
from elbrix.answers.question import read_question
from elbrix.answers.topics import all_topics
from elbrix.book.angle_setups import choose_angle, solve_angle
from elbrix.book.documents import AngleDoc, shop_of
from elbrix.demo import documents, write_demo
from elbrix.quantities.angles import parse_angle
from elbrix.results.figures import Figure
from elbrix.shop.shop import Shop

EVERY = [e for topic in all_topics() for e in topic.examples]
NOTHING = ShopContext(Shop())
DEMO = ShopContext(shop_of(documents()))


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Iterator[ShopContext]:
    book = write_demo(tmp_path_factory.mktemp("ask") / "demo.elbrix")
    yield world_of(book)
    book.close()


def figure(answer: Answer, key: str) -> Figure:
    return next(f for f in answer.figures if f.key == key)


def first(text: str, world: ShopContext = NOTHING, unit: str = "mm") -> Figure:
    return ask(text, world, unit).figures[0]


# --- every topic ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("text", EVERY)
def test_every_example_is_answered_with_working(text: str, world: ShopContext) -> None:
    answer = ask(text, world)
    assert answer.figures and answer.title and not any(n.startswith(("Not used", "Read as")) for n in answer.notes)
    assert any(f.derivation is not None for f in answer.figures)
    assert len({f.key for f in answer.figures}) == len(answer.figures)
    data = answer_data(text, answer)
    assert data["topic"] in {t.key for t in all_topics()} and len(data["figures"]) == len(answer.figures)


@pytest.mark.parametrize("text", EVERY)
def test_an_empty_shop_answers_or_says_what_is_missing(text: str) -> None:
    try:
        assert ask(text, NOTHING).figures
    except NotAnswered as refusal:
        refused = refusal
    else:
        return
    assert refused.tries and refused.do


@pytest.mark.parametrize(
    ("text", "topic"),
    [
        ("tap drill M10x1.5", "tap drill"),
        ("stack 41.7265", "stack"),
        ("sine 53d14m on 127", "sine"),
        ("speed 12 mm hss bronze", "speed"),
        ("clear hole 5/16", "clear hole"),
        ("over pins 60 deg 8", "over pins"),
        ("which thread 12.6 at 13 tpi", "which thread"),
        ("hold round 180", "hold"),
        ("where are the 12 mm nuts", "where"),
        ("M10x1.5", "thread"),
        ("53d14m", "angle"),
        ("41.7265", "size"),
        ("what is 5/16 in mm", "convert"),
        ("H7 limits for 25 mm", "fit"),
    ],
)
def test_topics(text: str, topic: str, world: ShopContext) -> None:
    assert ask(text, world).topic == topic


# --- worked by hand ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("tap drill M10x1.5", 8.5),
        ("tap drill 1/4-20", 0.2010 * 25.4),  # number 7
        ("tap drill 10-32", 0.1590 * 25.4),  # number 21
        ("drill F", 0.2570 * 25.4),
        ("clear hole M8", 9.0),
        ("clearance hole M8 close", 8.4),
        ("sine 53d14m on 100", 100 * math.sin(math.radians(53 + 14 / 60))),
        ("grade IT7 at 60", 30.0),
        ("expansion bronze 60 mm 5 K", 0.06 * 18 * 5),
        ("8 holes on 200", 200 * math.sin(math.pi / 8)),
        ("tilt head 5 deg over 100", 100 * math.tan(math.radians(5))),
        ("dovetail 55 deg width 42 rods 8", 42 + 8 * (1 + 1 / math.tan(math.radians(27.5)))),
        ("convert 1 5/16 in", 33.3375),
        ("weight 1 in round mild steel 12 in long", math.pi / 4 * 25.4**2 * 304.8 * 7850e-9),
        ("weight 12 in long 1 in round mild steel", math.pi / 4 * 25.4**2 * 304.8 * 7850e-9),
        ("weight 200 long 20 square mild steel", 20 * 20 * 200 * 7850e-9),
        ("weight tube 200 long 50 x 40 mild steel", math.pi / 4 * (50**2 - 40**2) * 200 * 7850e-9),
        ("letter drill for 8 mm", 0.316 * 25.4),  # O
        ("number drill 3.3", 0.1285 * 25.4),  # number 30
        ("hex key M12", 10.0),
        ("spanner M12", 18.0),
        ("nut thickness M10", 8.4),
        ("counterbore depth M10", 10.5),
        ("proof load M10 8.8", 0.58 * math.pi / 4 * (10 - 0.9382 * 1.5) ** 2),
        ("turning speed 30 mm mild steel", 260),  # 1000·25/(π·30) = 265, to the ten below
        ("parting speed 30 mm mild steel", 130),  # half of that
        ("chord of 60 deg on 100", 50.0),
        ("chord 90 deg radius 50", math.hypot(50, 50)),
        ("taper 1:20 over 50", 2.5),
        ("taper 90 deg over 10", 20.0),  # a right-angled cone grows on both sides
        ("thread depth M8 15 deep", 15 + 3 * 1.25),
        ("how deep to tap M10 in aluminium", 15 + 3 * 1.5),
        ("drill depth for a 3/8-16 thread in steel", 9.525 + 3 * 25.4 / 16),
        ("speed tap M8 mild steel", 240),  # 1000·6.2/(π·8) = 247, to the ten below
    ],
)
def test_first_figures(text: str, value: float) -> None:
    assert first(text).value == pytest.approx(value, abs=1e-9)


def test_a_pin_in_a_v_by_triangles() -> None:
    answer = ask("v 60 deg pin 8 width 10", NOTHING)
    # The pin's middle is r/sin 30° above the point of the V, and that point is 5/tan 30° below the face.
    assert figure(answer, "top").value == pytest.approx(4 + 4 / 0.5 - 5 / math.tan(math.radians(30)))


def test_thread_left_by_a_tap_drill_is_counted_the_usual_way() -> None:
    assert figure(ask("tap drill M10", NOTHING), "percent").value == pytest.approx(76.98, abs=0.01)


def test_a_fit_says_which_kind_it_is() -> None:
    running = ask("fit 25 H7/g6", NOTHING)
    assert running.figures[0].text == "clearance"
    assert (figure(running, "play most").value, figure(running, "play least").value) == (41, 7)
    assert ask("fit 25 H7 p6", NOTHING).figures[0].text == "interference"
    assert "either" in ask("fit 25 H7 k6", NOTHING).figures[0].text


def test_a_double_sine_plate_leans_as_far_as_its_normal() -> None:
    """The normal of a plane that falls 15° towards 30°, taken apart by hand: upper plate asin(n_x), lower atan(n_y/n_z)."""
    answer = ask("double sine plate 15 deg in direction 30 deg", NOTHING)
    fall, towards = math.radians(15), math.radians(30)
    n = (math.sin(fall) * math.cos(towards), math.sin(fall) * math.sin(towards), math.cos(fall))
    assert math.degrees(parse_angle(figure(answer, "plate_y").text)) == pytest.approx(math.degrees(math.asin(n[0])), abs=1 / 3600)
    assert abs(math.degrees(parse_angle(figure(answer, "plate_x").text))) == pytest.approx(
        math.degrees(math.atan2(n[1], n[2])), abs=1 / 3600
    )


def test_a_chord_and_its_angle_there_and_back() -> None:
    for degrees in (0.01, 3.0, 60.0, 179.0):
        chord = ask(f"chord of {degrees} deg on 80", NOTHING)
        rise = 40 - 40 * math.cos(math.radians(degrees) / 2)  # radius less what lies under the chord
        assert figure(chord, "height").value == pytest.approx(rise, abs=1e-9)
        back = ask(f"chord {chord.figures[0].value:.9f} on 80", NOTHING).figures[0].text
        assert math.degrees(parse_angle(back)) == pytest.approx(degrees, abs=1 / 3600)


def test_a_thread_too_short_is_said_to_strip() -> None:
    assert "strips" in " ".join(ask("M8 thread 5 deep in aluminium", NOTHING).notes)
    assert "Short" in " ".join(ask("M8 thread 10 deep in aluminium", NOTHING).notes)
    assert not ask("M8 thread 12 deep in aluminium", NOTHING).notes


def test_no_feed_is_told_of_a_tap_and_no_handwheel_of_what_goes_down(world: ShopContext) -> None:
    """A tap's feed is its pitch, and nobody drills with the table's handwheel."""
    keys = {word: {f.key for f in ask(f"speed {word} mild steel", world).figures} for word in ("tap M8", "drill 8 mm", "8 mm")}
    assert keys["tap M8"].isdisjoint({"feed", "chip", "turn"})
    assert "feed" in keys["drill 8 mm"] and "turn" not in keys["drill 8 mm"]
    assert {"feed", "chip", "turn"} <= keys["8 mm"]


def test_a_speed_is_of_the_size_and_the_teeth_that_were_asked(world: ShopContext) -> None:
    """Not of the nearest on the rack, which has 5.8 for 6 and four teeth for two."""
    assert ask("speed drill 6 mm mild steel", world).title.startswith("Drill Ø6 ")
    two, four = (figure(ask(f"speed 12 mm {z} flute end mill mild steel", world), "feed").value for z in (2, 4))
    assert two == pytest.approx(four / 2)


def test_inches_are_inches_whatever_word_follows(world: ShopContext) -> None:
    """ "and", "long", "round" are no places: 0.5 in was once a stack of half a millimetre."""
    assert "12.7" in ask("stack 0.5 in and 0.75 in", world).title and "19.05" in ask("stack 0.5 in and 0.75 in", world).title


def test_where_things_are_in_the_plural_and_by_their_own_name_first(world: ShopContext) -> None:
    assert ask("where are the T-nuts", world).figures[0].label == ask("where is the T-nut", world).figures[0].label
    assert ask("where are the sine bars", world).figures[0].label == "5 inch sine bar"


def test_torque_by_hand() -> None:
    answer = ask("torque M10 8.8 dry", NOTHING)
    area = math.pi / 4 * (10 - 0.9382 * 1.5) ** 2
    from elbrix.standards.materials import nut_factor

    assert answer.figures[0].value == pytest.approx(
        nut_factor("dry") * 10 * 0.375 * 580 * area / 1000
    )  # proof of 8.8 to M16: 580 MPa
    assert not any("Not used" in n for n in answer.notes)


@pytest.mark.parametrize(
    ("word", "thing"),
    [
        ("pins", "pins"),
        ("collets", "collets"),
        ("bores", "bores"),
        ("vises", "vises"),
        ("M10 studs", "studs"),
        ("20 mm bars", "rack"),
    ],
)
def test_a_word_for_a_list_finds_the_list_before_what_only_speaks_of_it(world: ShopContext, word: str, thing: str) -> None:
    answer = ask(f"where are the {word}", world)
    assert answer.go is not None and answer.go.thing == thing


def test_speed_goes_to_a_step_the_machine_has(world: ShopContext) -> None:
    answer = ask("speed 12 mm hss bronze", world)
    hazel = world.shop.machine("hazel")
    assert "Hazel" in answer.title and answer.figures[0].value in hazel.speeds_rpm
    assert ask("speed 12 mm hss bronze on pip", world).title.endswith("Pip")


def test_stacks_add_up_to_what_was_asked(world: ShopContext) -> None:
    for text, height in (("stack 41.7265", "41.7265"), ("stack 1.6427 in", "41.72458")):
        chosen = ask(text, world).go
        assert chosen is not None and Fraction(chosen.chosen["height"]) == Fraction(height)
        blocks = first(text, world).text.split(" + ")
        assert abs(sum(Fraction(b) for b in blocks) - Fraction(height)) <= Fraction(1, 1000)
        assert not {"1.11", "1.005"} & set(blocks)  # lent out, worn
    pair = first("two stacks 30 and 41.7265", world).text.split(" / ")
    assert [sum(Fraction(b) for b in p.split(" + ")) for p in pair] == [30, Fraction("41.7265")]


def test_the_button_opens_the_same_setting(world: ShopContext) -> None:
    answer = ask("sine 53d14m on 127 to 2'", world)
    assert answer.go is not None and answer.go.chosen["tool"] == "sine-127"
    doc = AngleDoc(id="x", kind=answer.go.kind, title="")
    for name, text in answer.go.chosen.items():
        doc = choose_angle(doc, world.shop, name, text)
    assert solve_angle(doc, world.shop).figure("height").value == first("sine 53d14m on 127", world).value
    assert math.degrees(solve_angle(doc, world.shop).values.number("tolerance")) == pytest.approx(2 / 60)


def test_centres_nobody_owns_are_answered_without_a_button(world: ShopContext) -> None:
    answer = ask("sine 30 deg on 200", world)
    assert (
        answer.go is None
        and answer.figures[0].value == pytest.approx(100)
        and any("no such sine plate" in n for n in answer.notes)
    )


def test_where_things_are(world: ShopContext) -> None:
    nuts = ask("where are the 12 mm nuts", world)
    hazel = {m.id for m, s in world.shop.measured_slots() if s.neck is not None and abs(s.neck.mean - 12) < 0.4}
    ids = [f.key.removeprefix("design ") for f in nuts.figures]
    assert ids and {d.machine for d in world.designs() if d.id in ids} <= hazel
    assert nuts.go is not None and (nuts.go.bench, nuts.go.thing) == ("catalogue", ids[0])
    assert "rack" in ask("where is the brass", world).figures[0].text
    assert ask("where are the 12 mm parallels", world).figures[0].label.startswith("12 ×")
    with pytest.raises(NotAnswered, match="nothing in the book"):
        ask("where is the unicorn", world)


# --- order, spelling, units -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("parts", [("tap", "drill", "M10x1.5"), ("speed", "12 mm", "hss", "bronze"), ("clear", "hole", "5/16")])
def test_order_does_not_matter(parts: tuple[str, ...], world: ShopContext) -> None:
    wanted = first(" ".join(parts), world)
    assert all(first(" ".join(p), world) == wanted for p in permutations(parts))


@pytest.mark.parametrize(
    ("text", "same"),
    [
        ("tap dril M10", "tap drill M10"),
        ("clearence hole M8", "clearance hole M8"),
        ("TAP DRILL m10", "tap drill M10"),
        ("tap drill for an M10 x 1.5?", "tap drill M10"),
        ("sine 53°14' on 127", "sine 53d14m on 127"),
        ("sine 53 degrees 14 minutes on 127 mm", "sine 53d14m on 127"),
        ("sine 53-14-0 on 127", "sine 53d14m on 127"),
        ("sine on 127 53d14m", "sine 53d14m on 127"),
        ("which thred 12.6 mm 13 tpi", "which thread 12.6 at 13 tpi"),
        ("expansion 60mm bronze 5K", "expansion bronze 60 mm 5 K"),
        ("v pin 20 width 34 90 deg", "v 90 deg pin 20 width 34"),
        ("holes 8 circle 200", "8 holes on 200"),
        ("clear hole 5/16 in", "clear hole 5/16"),
        ("how do i set 53d14m within 2'", "how to set 53d14m to 2'"),
    ],
)
def test_said_another_way(text: str, same: str, world: ShopContext) -> None:
    assert first(text, world) == first(same, world)


def test_a_respelled_word_is_told(world: ShopContext) -> None:
    assert any(n == "Read as: tap drill M10" for n in ask("tap dril M10", world).notes)


def test_bare_sizes_are_in_the_unit_of_the_window() -> None:
    assert first("drill near 0.25", unit="in").value == pytest.approx(6.35)
    assert first("drill near 6.35 mm", unit="in").value == pytest.approx(6.35)


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("tap drill M10 17", "17"),
        ("torque M10 25", "25"),
        ("tap drill M10 lefthand", "lefthand"),
        ("70 percent thread M10 tap drill", "percent"),
        ("hold round 140 x 40", "40"),
        ("gauge weight 40", "weight"),
        ("speed 12 mm hss bronze flooded", "flooded"),
        ("tap dril M10 dry clearnce", "clearnce"),  # one slip of the pen is forgiven, not two
    ],
)
def test_a_part_that_is_not_understood_is_named_and_there_is_no_answer(text: str, word: str, world: ShopContext) -> None:
    with pytest.raises(NotAnswered, match=f"“{word}”") as refusal:
        ask(text, world)
    assert "no" in refusal.value.why and refusal.value.tries


def test_numbers_belong_to_the_word_beside_them() -> None:
    q = read_question("40 wide pin 8 and 3 holes", vocabulary())
    assert (q.length("pin"), q.length("wide"), q.whole("hole", "holes")) == (8, 40, 3)
    assert q.left == ()


# --- what cannot be answered ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "Nothing was asked"),
        ("banana", "not understood"),
        ("tap drill", "thread is missing"),
        ("stack", "height is missing"),
        ("sine on 127", "angle is missing"),
        ("stack 12,5", "point"),
        ("sine 95 deg on 100", "out of range"),
        ("sine -5 deg", "out of range"),
        ("stack -4", "sign"),
        ("stack 0.001", "0.05"),
        ("tap drill M10x9", "not in the table"),
        ("clear hole M9", "never guessed"),
        ("speed 12 mm", "material is missing"),
        ("12.5d30m", "two ways"),
        ("what size drill for 10-32", "to tap it or to pass it"),
        ("speed 12 in bronze hss", "two ways"),
        ("weight round 1 in steel 300 long", "two ways"),
        ("sine 12.5 deg 30 min", "two ways"),
        ("37.42 on pip", "axis is not said"),
        ("chord on 100", "angle"),
        ("chord 120 on 100", "longer than the diameter"),
        ("thread depth M8", "how deep the thread is"),
        ("double sine plate 15 deg", "two angles is missing"),
        ("8.5 holes on 200", "count"),
        ("fit 25", "zone is missing"),
        ("x" * 300, "200"),
        ("angle of stack 120 on 100", "120"),
    ],
)
def test_refusals_say_what_why_and_what_works(text: str, words: str, world: ShopContext) -> None:
    with pytest.raises(NotAnswered, match=words) as refusal:
        ask(text, world)
    assert refusal.value.why and refusal.value.do and refusal.value.tries
    assert all(ask(t, world).figures for t in refusal.value.tries)


def test_suggestions_are_the_nearest() -> None:
    with pytest.raises(NotAnswered) as refusal:
        ask("torque", NOTHING)
    assert refusal.value.tries[0].startswith("torque")
    assert len(examples()) == len(all_topics())


@given(st.text(max_size=60))
@example("M0x0")
@example("1/0 drill")
@example("#99 tap drill")
@example("9" * 60)
@example("fit 0 H7")
@example("speed 0 bronze")
@example("stack 1e9")
@example("thread 0-20")
def test_any_text_is_answered_or_refused(text: str) -> None:
    with contextlib.suppress(NotAnswered):
        ask(text, NOTHING)


@given(
    st.lists(
        st.sampled_from(
            [
                *sorted(vocabulary()),
                "M10",
                "1/4-20",
                "53d14m",
                "12",
                "0",
                "-3",
                "5/16",
                "#7",
                "H7",
                "13 tpi",
                "5 K",
                "0.001 in",
                "2'",
            ]
        ),
        max_size=6,
    )
)
def test_any_words_of_the_trade_are_answered_or_refused(parts: list[str]) -> None:
    with contextlib.suppress(NotAnswered):
        ask(" ".join(parts), NOTHING)


@given(st.sampled_from(EVERY), st.sampled_from(EVERY), st.integers(0, 6), st.integers(0, 6), st.sampled_from(["", "M8", "0"]))
@example("fit 25 H7 g6", "clear hole M4", 4, 2, "M4")
@example("four jaw offset 4 on round 30", "four jaw offset 4 on round 30 60 long", 7, 7, "0")
@example("stack 41.7265 without 1.1", "drill 1.105 mm", 3, 1, "")
def test_two_questions_in_one_are_answered_or_refused(first: str, second: str, cut: int, begin: int, more: str) -> None:
    said = [*first.split()[:cut], *([more] if more else []), *second.split()[begin:]]
    with contextlib.suppress(NotAnswered):
        ask(" ".join(said), DEMO)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("fit 25 H7 M8", "all holes"),
        ("fit 25 H7 g6 h6", "all shafts"),
        ("fit 25 M8 g6 M4", "all holes"),
        ("limits for 50 H6 1/4-20", "“1/4-20”"),
        ("weight 20 brass x 16 x 500 mild steel", "“brass”"),
        ("speed 12 mm hss bronze aluminium", "“aluminium”|“bronze”"),
        ("expansion mild steel 200 mm bronze 3 K", "“bronze”"),
        ("preload M12 dry 40 N·m oiled", "dry and oiled"),
        ("taper 1:50 20 deg", "“20 deg”"),
        ("four jaw offset 4 on round 30 0 long", "long"),
    ],
)
def test_of_two_that_cannot_both_be_meant_neither_is_taken(text: str, why: str, world: ShopContext) -> None:
    with pytest.raises(NotAnswered, match=why):
        ask(text, world)


def test_a_block_is_left_out_by_its_size_or_as_printed(world: ShopContext) -> None:
    printed, sized = (ask(f"stack 41.7265 without {block}", world).figures[0].text for block in ("1.1", "1.1 mm"))
    assert printed == sized
    assert "1.1 " not in f"{printed} "
    assert "H7 / g6" in ask("fit 25 g6 H7", world).title


def test_the_book_is_only_read(tmp_path: Path) -> None:
    book = write_demo(tmp_path / "demo.elbrix")
    before = [str(d) for d in book.documents]
    for text in EVERY:
        ask(text, world_of(book))
    assert [str(d) for d in book.documents] == before
    book.close()
