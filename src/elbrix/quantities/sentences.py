"""Words as the beginning of a sentence."""

from __future__ import annotations


def sentence(words: str) -> str:
    """Words with a capital at their beginning, and every name in them as it is written: "edge B" stays "Edge B"."""
    return words[:1].upper() + words[1:]


def within(words: str) -> str:
    """Words as they stand inside a sentence: without the capital of their beginning, unless it belongs to the word.

    "Slot depth" is "slot depth" there; "T-slot", "V angle" and "M10 stud" stay as they are.
    """
    own = not words[1:2].islower() and words[:2] != "A "
    return words if own else words[:1].lower() + words[1:]


def unbroken(words: str) -> str:
    """Words that stay on one line: a size is not parted from its unit."""
    return words.replace(" ", "\u00a0")
