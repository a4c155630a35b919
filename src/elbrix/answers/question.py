"""A question taken apart: words of the trade, and threads, angles, sizes, drills and fits wherever they stand.

The grammar is loose on purpose. A question is a bag of words, which says the topic, and of things with a value, which are
told apart by how
they are written. A bare number belongs to the word before it ("pin 8"), else to the word behind it ("8 holes"), else to its
place in order.
"""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Mapping
from fractions import Fraction
from typing import Final

from msgspec import Struct, field

from elbrix.quantities.angles import parse_angle
from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import UNIT_MM, clip, read_length, tidy
from elbrix.quantities.names import DrillName, ThreadName, parse_drill, parse_thread
from elbrix.quantities.patterns import Pattern
from elbrix.standards.materials import Material, material_in, material_words

LONGEST_QUESTION: Final = 200
_N: Final = r"(?:[0-9]+\.?[0-9]*|\.[0-9]+)"
_SIZE: Final = rf"(?:[0-9]+ +[0-9]+/[0-9]+|[0-9]+/[0-9]+|{_N})"
#: In order of trying: the more a writing says, the earlier.
_TOKENS: Final = Pattern(
    "|".join(
        (
            rf"(?P<kelvin>{_N}\s*(?:°\s*C|degrees? C|kelvin|K)\b)",
            rf"(?P<tpi>{_N}\s*(?:tpi|t\.p\.i\.?|threads? per inch)\b)",
            rf"(?P<moment>{_N}\s*(?:N\s*[·.*x×]?\s*m|Nm|ft[ \-.·]?lbf?|lbf?[ \-.·]?ft|in[ \-.*]lbf?|lbf?[\-.*]in)(?![A-Za-z]))",
            rf"(?P<force>{_N}\s*(?:kN|N|lbf|kgf)(?![A-Za-z0-9]))",
            rf"(?P<mass>{_N}\s*(?:kg|g|lbs?|oz|pounds?)(?![A-Za-z0-9]))",
            rf"(?P<turns>{_N}\s*(?:rpm|r\.p\.m\.?|revs?(?: per minute)?)(?![A-Za-z]))",
            rf"(?P<ratio>{_N}\s*:\s*{_N})",
            r"(?P<grade>[Ii][Tt] ?[0-9]{1,2}(?![A-Za-z0-9.]))",
            (
                r"(?P<thread>[Mm] ?[0-9]+(?:\.[0-9]+)?(?: ?[xX*] ?[0-9](?:\.[0-9]+)?)?(?![A-Za-z0-9.])|"
                r"(?:#[0-9]+|[Nn]o\.? ?[0-9]+|(?:[0-9]+[ -])?[0-9]+/[0-9]+|(?<![0-9.])[0-9]{1,2})\"? ?- ?[0-9]{1,2}(?:\.5)?(?:"
                r" ?(?:UNC|UNF|unc|unf))?(?![0-9.\-/]))"
            ),
            (
                rf"(?P<angle>-?(?:{_N}\s*(?:°|degrees?\b|deg\b|d(?![a-z]))\s*(?:{_N}\s*(?:'|′|minutes?\b|min\b|m(?![a-z]))\s*)?"
                rf"(?:{_N}\s*(?:\"|″|''|seconds?\b|sec\b|s(?![a-z])))?|[0-9]+-[0-9]+-[0-9]+(?![0-9.])))"
            ),
            rf"(?P<small>{_N}\s*(?:'(?!')|′|minutes?\b|arcmin\b|min\b)|{_N}\s*(?:″|''|seconds?\b|arcsec\b|sec\b))",
            r"(?P<gauge>#[0-9]+|[Nn]o\.? ?[0-9]+|[Nn]umber ?[0-9]+)",
            r"(?P<zone>(?:[A-Z]{1,2}|[a-z]{1,2})[0-9]{1,2}(?![A-Za-z0-9.]))",
            rf"(?P<length>-?{_SIZE}\s*(?:mm|inch(?:es)?|in|\"|thous?|µm|um|cm)(?![A-Za-z]))",
            r"(?P<fraction>[0-9]+ +[0-9]+/[0-9]+|[0-9]+/[0-9]+)",
            rf"(?P<number>-?{_N})",
            r"(?P<word>[A-Za-z][A-Za-z\-]*)",
        )
    )
)
#: Words that carry nothing by themselves.
_NOISE: Final = frozenset(
    (
        "a",
        "an",
        "the",
        "of",
        "for",
        "is",
        "are",
        "my",
        "me",
        "i",
        "what",
        "do",
        "does",
        "it",
        "be",
        "please",
        "need",
        "want",
        "much",
        "many",
        "with",
        "and",
    )
)
#: After these "in" is a place.
_ARTICLES: Final = frozenset(["the", "a", "an", "my", "our", "this", "that"])
#: And before these it may be one.
_PLACES: Final = frozenset(
    [
        *("four", "three", "jaw", "jaws", "chuck", "collet", "lathe", "mill", "vise", "slot", "slots"),
        *("table", "quill", "box", "drawer", "rack", "hole", "holes", "bore"),
    ]
)
#: Words that change no answer, wherever they stand.
_SMALL: Final = frozenset(
    [
        "to",
        "in",
        "on",
        "at",
        "by",
        "from",
        "as",
        "than",
        "then",
        "so",
        "can",
        "could",
        "should",
        "would",
        "will",
        "shall",
        "get",
        "give",
        "tell",
        "show",
        "make",
        "use",
        "have",
        "has",
        "had",
        "there",
        "this",
        "that",
        "these",
        "those",
        "am",
        "was",
        "were",
        "if",
        "any",
        "some",
        "its",
        "our",
        "your",
        "you",
        "we",
        "us",
        "how",
        "big",
        "large",
        "whats",
        "work",
        "out",
        "find",
        "figure",
        "as",
        "about",
        "right",
        "correct",
        "say",
        "x",
        "when",
        "go",
        "goes",
        "going",
        "off",
        "up",
        "which",
        "would",
        "like",
        "size",
        "sized",
    ]
)
#: Words that speak of the number before them: "30 wide 5 high".
_BEHIND: Final = frozenset(
    [
        "wide",
        "high",
        "deep",
        "long",
        "thick",
        "tall",
        "hole",
        "holes",
        "tooth",
        "teeth",
        "flute",
        "flutes",
        "warmer",
        "colder",
        "across",
        "turns",
        "high",
        "thread",
        "threads",
    ]
)
#: A word is respelled when it is this near, and begins as the known one does.
_NEAR_ENOUGH: Final = 0.77
_SECOND: Final = math.radians(1 / 3600)


class Token(Struct, frozen=True):
    """One thing of the question."""

    kind: str  #: "word", "thread", "angle", "length", "number", "fraction", "gauge", "zone", "tpi", "kelvin"
    text: str  #: as written
    value: float | str | Fraction | ThreadName | DrillName = ""


class Question(Struct):
    """A question, and which of its things were used."""

    text: str
    tokens: tuple[Token, ...]
    respelled: tuple[tuple[str, str], ...] = ()
    unit: str = "mm"  #: of bare sizes
    _used: set[int] = field(default_factory=set)
    _said: set[str] = field(default_factory=set)

    def fresh(self) -> Question:
        """The same question with nothing used yet."""
        return Question(self.text, self.tokens, self.respelled, self.unit)

    @property
    def words(self) -> frozenset[str]:
        return frozenset(t.text for t in self.tokens if t.kind == "word")

    @property
    def understood(self) -> str:
        """The question as it was read."""
        return " ".join(t.text for t in self.tokens)

    @property
    def bare(self) -> bool:
        """Whether it has no word that means something."""
        return all(t.kind != "word" or t.text in _NOISE for t in self.tokens)

    def has(self, *words: str) -> bool:
        """Whether one of the words was said; it counts as used."""
        found = self.words.intersection(words)
        self._said |= found
        return bool(found)

    def use(self, *words: str) -> None:
        """These words have had their say."""
        self._said |= self.words.intersection(words)

    def material(self) -> Material | None:
        """The material that is named; words that name another one besides are left over."""
        found = material_in(self.words)
        if found is None:
            return None
        self.use(*found[1])
        return found[0]

    def unused(self, known: Collection[str] = ()) -> tuple[str, ...]:
        """Everything that was said and not used, but for words that change nothing: things with a value first.

        Args:
            known: Words of the topic itself.
        """
        words = (t.text for t in self.tokens if t.kind == "word")
        return (*self.left, *dict.fromkeys(w for w in words if w not in _NOISE | _SMALL | self._said and w not in known))

    def kinds(self) -> frozenset[str]:
        return frozenset(t.kind for t in self.tokens)

    # --- taking things out -------------------------------------------------------------------------------------------

    def _neighbour(self, index: int, step: int) -> str:
        """The word before or behind a thing, over words that say nothing; of two things in a row the nearer has it."""
        at = index + step
        while 0 <= at < len(self.tokens) and self.tokens[at].kind == "word":
            if self.tokens[at].text not in _NOISE:
                return self.tokens[at].text
            at += step
        return ""

    def _take(self, kinds: Collection[str], near: Collection[str] = ()) -> Token | None:
        free = [i for i, t in enumerate(self.tokens) if t.kind in kinds and i not in self._used]
        if near:
            before = [i for i in free if self._neighbour(i, -1) in near and not self._claimed_before(i)]
            behind = [i for i in free if self._neighbour(i, 1) in near and not self._claimed_behind(i)]
            free = before or behind
        if not free:
            return None
        self._used.add(free[0])
        if near:
            self.use(*{self._neighbour(free[0], step) for step in (-1, 1)} & set(near))
        return self.tokens[free[0]]

    def _claimed_before(self, index: int) -> bool:
        """Whether the word before a thing speaks of the thing before that: in "30 wide 5 high" wide belongs to the 30."""
        at = index - 1
        while at >= 0 and self.tokens[at].kind == "word" and self.tokens[at].text in _NOISE:
            at -= 1
        return at >= 1 and self.tokens[at].text in _BEHIND and self.tokens[at - 1].kind != "word"

    def _claimed_behind(self, index: int) -> bool:
        """Whether the word behind a thing is followed by a thing of its own: in "40 pin 8" pin belongs to the 8."""
        at = index + 1
        while at < len(self.tokens) and self.tokens[at].kind == "word":
            at += 1
        return at < len(self.tokens) and at - index == 2 and self.tokens[index + 1].text not in _BEHIND

    def thread(self) -> ThreadName | None:
        found = self._take({"thread"})
        return found.value if found is not None and isinstance(found.value, ThreadName) else None

    def angle(self, *near: str) -> float | None:
        """Radians; a bare number counts as degrees only beside one of the words."""
        found = self._take({"angle"}, near) or (self._take({"number"}, near) if near else None) or self._seconds(near)
        if found is None:
            return None
        if found.kind == "length":  # the sign of inches, where an angle is meant: seconds
            return float(Fraction(found.text.rstrip('" '))) * _SECOND
        return math.radians(float(found.value)) if found.kind == "number" else float(found.value)  # type: ignore[arg-type]

    def _seconds(self, near: Collection[str]) -> Token | None:
        """Seconds written with the sign of inches, beside a word that asks for an angle."""
        if not near:
            return None
        at = next(
            (
                i
                for i, t in enumerate(self.tokens)
                if t.kind == "length"
                and re.fullmatch(rf'{_N} ?"', t.text)
                and i not in self._used
                and self._neighbour(i, -1) in near
            ),
            None,
        )
        if at is None:
            return None
        self._used.add(at)
        return self.tokens[at]

    def length(self, *near: str) -> float | None:
        """Millimetres; beside one of the words when some are given, else the next in order."""
        found = self._take({"length", "number", "fraction"}, near)
        if found is None:
            return None
        if found.kind == "number":
            return float(Fraction(found.value) * UNIT_MM[self.unit])  # type: ignore[arg-type]
        return float(found.value)  # type: ignore[arg-type]

    def whole(self, *near: str) -> int | None:
        """A count."""
        found = self._take({"number"}, near)
        if found is None:
            return None
        value = Fraction(found.value)  # type: ignore[arg-type]
        if value.denominator != 1:
            raise EntryError("Ask", f"{found.text} is no count", "Only whole things are counted", "Write a whole number")
        return int(value)

    def number(self, *near: str) -> float | None:
        found = self._take({"number"}, near)
        return None if found is None else float(found.value)  # type: ignore[arg-type]

    def take(self, kind: str) -> Token | None:
        """The next thing of a kind."""
        return self._take({kind})

    def take_like(self, kind: str, pattern: str) -> Token | None:
        """The next thing of a kind that is written like this."""
        at = next(
            (i for i, t in enumerate(self.tokens) if t.kind == kind and i not in self._used and re.fullmatch(pattern, t.text)),
            None,
        )
        if at is None:
            return None
        self._used.add(at)
        return self.tokens[at]

    def after(self, *words: str) -> Token | None:
        """The next size of those that follow one of the words without a word of meaning between."""
        start = next((i for i, t in enumerate(self.tokens) if t.kind == "word" and t.text in words), None)
        if start is None:
            return None
        for i in range(start + 1, len(self.tokens)):
            token = self.tokens[i]
            if token.kind == "word" and token.text not in _NOISE:
                return None
            if token.kind in ("number", "fraction", "length") and i not in self._used:
                self._used.add(i)
                return token
        return None

    def measured(self, kind: str, units: Mapping[str, float]) -> float | None:
        """The next force, moment, mass or speed of turning, by the factor of its unit.

        Args:
            units: Unit without blanks and points, in small letters → what one of it is.
        """
        found = self._take({kind})
        if found is None:
            return None
        digits = re.match(_N, found.text)
        assert digits is not None
        unit = re.sub(r"[ .·*x\-]", "", found.text[digits.end() :]).lower()
        return float(Fraction(digits.group().rstrip("."))) * units[unit]

    def written(self, *kinds: str) -> str:
        """The next thing of some kinds as it was written; empty for none."""
        found = self._take(kinds)
        return found.text if found is not None else ""

    @property
    def left(self) -> tuple[str, ...]:
        """Things with a value that the answer did not use."""
        return tuple(t.text for i, t in enumerate(self.tokens) if t.kind != "word" and i not in self._used)


def read_question(text: str, vocabulary: Collection[str], unit: str = "mm") -> Question:
    """Take a question apart.

    Args:
        vocabulary: Words that are known; others are respelled to the nearest of them.
        unit: Of bare sizes, "mm" or "in".

    Raises:
        EntryError: Nothing asked, too long, a comma inside a number, or what can be read in two ways.
    """
    if len(text) > LONGEST_QUESTION:
        raise EntryError(
            "Ask", f"a question of {len(text):,} characters", f"Elbrix reads {LONGEST_QUESTION} at most", "Ask for one thing"
        )
    plain = " ".join(tidy(text.replace("’", "'")).split())
    if not plain:
        raise EntryError("Ask", "Nothing was asked", "A few words and a size will do", "Try: tap drill M10")
    comma = re.search(r"[0-9],[0-9]", plain)
    if comma:
        raise EntryError(
            "Ask",
            f"the comma in {clip(plain[max(0, comma.start() - 3) : comma.end() + 3])} cannot be read",
            "A comma is a decimal sign in one shop and a thousands mark in another",
            "Write the decimal with a point: 12.05",
        )
    found: list[Token] = []
    respelled: list[tuple[str, str]] = []
    sloping = re.search(r"\b(?:taper|slope|gradient|tapers)", plain, re.IGNORECASE) is not None
    place = 0
    while place < len(plain):
        match = _TOKENS.match(plain, place)
        if match is None:
            place += 1
            continue
        kind, said = str(match.lastgroup), match.group()
        if sloping and (one_in := re.match(rf"({_N})\s+in\s+({_N})(?![0-9/])", plain[place:])):
            kind, said = "ratio", one_in.group()  # "taper 1 in 20": no inch
        if kind == "length" and said.endswith(" in") and _is_preposition(said, plain[match.end() :], unit):
            said = said[:-3].rstrip()
            kind = "fraction" if "/" in said else "number"
        place += len(said)
        token = _token(kind, said)
        if token.kind == "word":
            word = _spelled(token.text, vocabulary)
            if word not in (token.text.lower(), token.text.lower()[:-1]):
                if respelled:
                    word = token.text.lower()  # one slip of the pen is forgiven; two may make another question
                else:
                    respelled.append((token.text, word))
            token = Token("word", word)
        found.append(token)
    return Question(" ".join(text.split()), tuple(found), tuple(respelled), unit)


def _is_preposition(said: str, rest: str, unit: str) -> bool:
    """Whether the "in" behind a number is none of inches: "40 in the vise".

    Raises:
        EntryError: In millimetres, before a material or a place: "12 in bronze" is 12 mm in one hand, 12 inches in another.
    """
    match = re.match(r"\s+([A-Za-z\-]+)", rest)
    word = match.group(1).lower() if match is not None else ""
    if word not in (material_words() - _NOISE) | _PLACES:
        return word in _ARTICLES
    number = said[:-3].rstrip()
    if unit == "mm" and "/" not in number:
        raise EntryError(
            "Ask",
            f"“{number} in {word[:24]}” can be read in two ways",
            f"It may be inches, or a size in {word[:24]}",
            f'Write {number} mm, or {number}"',
        )
    return True


def _token(kind: str, said: str) -> Token:
    """A thing with its value; what turns out to be none is a word or a number again."""
    digits = re.match(rf"-?{_N}", said)
    if kind == "thread":
        return Token(kind, said, parse_thread(said, "Ask"))
    if kind == "angle":
        return Token(kind, said, parse_angle(_plain_dms(said), "Ask"))
    if kind == "small":
        per = 1 if re.search(r"sec|″|''", said) else 60
        assert digits is not None
        return Token("angle", said, float(Fraction(digits.group())) * per * _SECOND)
    if kind == "gauge":
        return Token(kind, said, parse_drill(re.sub(r"(?i)^number ?", "#", said), "mm", "Ask"))
    if kind in ("tpi", "kelvin", "number"):
        assert digits is not None
        return Token(kind, said, Fraction(digits.group().rstrip(".") if digits.group() != "." else "0"))
    if kind in ("moment", "force", "mass", "turns", "grade"):
        return Token(kind, said, said)
    if kind == "ratio":
        first, second = re.findall(_N, said)
        if not Fraction(second):
            raise EntryError("Ask", f"{clip(said)} is no ratio", "Its second number is nothing", "Write it as 1:20")
        return Token(kind, said, Fraction(first) / Fraction(second))
    if kind in ("length", "fraction"):
        return Token(kind, said, read_length(said, "in" if kind == "fraction" else "mm", "Ask"))
    return Token(kind, said, said)


def _plain_dms(said: str) -> str:
    plain = re.sub(r"degrees?|deg", "d", said)
    plain = re.sub(r"minutes?|min", "m", plain)
    return re.sub(r"seconds?|sec", "s", plain)


def _spelled(word: str, vocabulary: Collection[str]) -> str:
    """The known word meant: itself, its singular, or the nearest spelling; else the word as it is."""
    low = word.lower()
    if low in vocabulary or low in _NOISE:
        return low
    if low.endswith("s") and low[:-1] in vocabulary:
        return low[:-1]
    if len(low) < 4:
        return low
    import difflib  # only for a word that means nothing

    near = difflib.get_close_matches(low, [v for v in vocabulary if len(v) > 3 and v[0] == low[0]], 1, _NEAR_ENOUGH)
    return near[0] if near else low
