"""From a text to an answer: which topic it is about, and what to suggest when none fits."""

from __future__ import annotations

import re
from functools import cache, partial
from typing import Any

from msgspec.structs import replace

from elbrix.answers.answer import Answer, NotAnswered, ShopContext, Topic
from elbrix.answers.by_code import code_answer, is_code
from elbrix.answers.by_tape import tape_answer
from elbrix.answers.question import Question, read_question
from elbrix.answers.tape.line import is_tape
from elbrix.answers.topics import all_topics
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.standards.materials import material_words
from elbrix.standards.threads import known_thread

#: Lines the tape works out.
TAPE_EXAMPLES = ('12.5 + 1-5/8"', "triangle a=30 C=90 b=40", "37.42 on Pip x", "divide 7 on Clover")
#: Suggestions when a question is not understood.
_TRIES = 4


def world_of(book: Book, job: JobDoc | None = None) -> ShopContext:
    """Everything a question may be answered from.

    Args:
        job: Whose kept lines are #1, #2 …
    """
    tape = tuple((entry.asked, entry.unit) for entry in job.tape) if job is not None else ()
    return ShopContext(book.shop, partial(book.each, DesignDoc), book.search, book.by_name, tape)


@cache
def vocabulary() -> frozenset[str]:
    """Every word that means something in a question."""
    return frozenset(w for topic in all_topics() for w in topic.vocabulary) | material_words()


@cache
def _searching() -> frozenset[str]:
    """Words that may lead to a topic whose answer is searched for."""
    return frozenset(w for t in all_topics() if t.searches for group in t.needs for w in group if not w.startswith("@"))


def may_search(text: str) -> bool:
    """Whether a question may take longer than a keystroke."""
    return not _searching().isdisjoint(re.split(r"[^a-z-]+", text.lower()))


def ask(text: str, world: ShopContext, unit: str = "mm") -> Answer:
    """Answer a question.

    Args:
        unit: Of bare sizes, "mm" or "in".

    Raises:
        NotAnswered: Not understood, or something is missing or cannot be; with the nearest questions that work.
    """
    if is_code(text):
        try:
            return code_answer(text, world)
        except ShopError as error:
            raise NotAnswered(error, ("where are the M10 T-nuts",)) from None
    if is_tape(text, world.shop) and not _is_thread(text):  # 1/2-13 is no sum
        return _by_tape(text, world, unit)
    return _by_topic(text, world, unit)


def _is_thread(text: str) -> bool:
    """Whether 8-32 is a thread and no sum: it is in the table, or a fraction or a number sign stands close before its pitch."""
    try:
        named = parse_thread(text)
    except ShopError:
        return False
    listed = any(known_thread(f"{mark}{named}") is not None for mark in ("", "#"))  # the number sign is often left away
    return listed or ((" -" not in text and "- " not in text) and ("/" in text or "#" in text))


def _by_tape(text: str, world: ShopContext, unit: str) -> Answer:
    try:
        return tape_answer(text, world, unit)
    except ShopError as error:
        raise NotAnswered(error, TAPE_EXAMPLES) from None


def _by_topic(text: str, world: ShopContext, unit: str) -> Answer:
    try:
        question = read_question(text, vocabulary(), unit)
    except ShopError as error:
        raise NotAnswered(error, nearest(text)) from None
    ranked = sorted(((t.score(question), -i, t) for i, t in enumerate(all_topics())), key=lambda r: r[:2], reverse=True)
    if not ranked or ranked[0][0] <= 0:
        puzzled = ShopError(
            "Ask",
            "That was not understood",
            "Elbrix answers questions about threads, drills, stacks, angles, speeds, fits and what is in the shop",
            "Try one of these",
        )
        raise NotAnswered(puzzled, nearest(text))
    refused: NotAnswered | None = None
    for _, _, topic in (r for r in ranked if r[0] > 0):
        own = question.fresh()
        try:
            answer = topic.answer(own, world)
        except ShopError as error:
            refused = refused or NotAnswered(error, topic.examples[:_TRIES])
            if own.unused(topic.own_words):
                continue  # perhaps another topic knows what this one does not
            break
        if not topic.literal and (unused := own.unused(topic.own_words)):
            refused = refused or NotAnswered(_not_used(unused, topic), topic.examples[:_TRIES])
            continue
        notes = list(answer.notes)
        if question.respelled and not topic.literal:
            notes.append("Read as: " + question.understood)
        return replace(answer, notes=tuple(notes), topic=topic.key, understood=question.understood)
    assert refused is not None
    raise refused


def _not_used(unused: tuple[str, ...], topic: Topic) -> ShopError:
    """A part of the question that would change the answer, and was not understood: there is none then."""
    named = ", ".join(f"“{u[:24]}”" for u in unused[:4])
    return ShopError(
        "Ask",
        f"{named} {'was' if len(unused) == 1 else 'were'} not understood here",
        "It could change the answer, so none is given",
        f"Leave it out, or ask like this: {topic.examples[0]}",
    )


def examples() -> tuple[str, ...]:
    """One question of every topic."""
    return tuple(topic.examples[0] for topic in all_topics())


def nearest(text: str) -> tuple[str, ...]:
    """The questions that work and look most like a text."""
    said = set(re.findall(r"[a-z]+", text.lower()))
    if said.isdisjoint(vocabulary()):
        return examples()[:_TRIES]
    every = [e for topic in all_topics() for e in topic.examples]

    def likeness(example: str) -> float:
        shared = len(said & set(re.findall(r"[a-z]+", example.lower())))
        import difflib  # only for what is not understood

        return shared + difflib.SequenceMatcher(None, text.lower()[:80], example.lower()).ratio()

    return tuple(sorted(every, key=likeness, reverse=True)[:_TRIES])


def answer_data(text: str, answer: Answer) -> dict[str, Any]:
    """An answer as plain data; sizes in mm, unrounded."""
    return {
        "question": text,
        "understood": answer.understood,
        "topic": answer.topic,
        "title": answer.title,
        "figures": [
            {
                "label": f.label,
                **({"text": f.text} if f.text else {"value": f.value, "unit": f.unit}),
                **(
                    {"formula": f.derivation.formula, "with_numbers": f.derivation.with_numbers, "source": f.derivation.source}
                    if f.derivation
                    else {}
                ),
            }
            for f in answer.figures
        ],
        "notes": list(answer.notes),
        "cautions": list(answer.cautions),
        "go": (
            {
                "bench": answer.go.bench,
                "kind": answer.go.kind,
                "chosen": dict(answer.go.chosen),
                "thing": answer.go.thing,
                "item": answer.go.item,
            }
            if answer.go
            else None
        ),
    }


__all__ = ["Question", "Topic", "answer_data", "ask", "examples", "nearest", "vocabulary", "world_of"]
