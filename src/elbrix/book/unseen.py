"""Signs nobody sees are taken out of what comes into a book: pasted or imported, they would work without being noticed.

Control characters end an SVG or DXF file before its time; signs that turn the direction of writing show a name as another; the
mark of lengths would turn numbers of a name into inches.
"""

from __future__ import annotations

from typing import Final

from elbrix.quantities.patterns import Pattern

#: Controls but the tab and the ends of lines, turns of direction, separators of lines, the mark of lengths, a file's first mark.
_RAW: Final = Pattern("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028-\u202e\u2063\u2064\u2066-\u2069\ufeff]")
#: The same as JSON escapes; after another backslash it is text that says so.
_ESCAPED: Final = Pattern(
    r"(?<!\\)((?:\\\\)*)\\(?:[bf]|u00(?:0[0-8bBcCeEfF]|1[0-9a-fA-F]|7[fF]|[89][0-9a-fA-F])"
    r"|u20(?:2[89a-eA-E]|6[346-9])|u[fF][eE][fF][fF])"
)


def without_unseen(json: str) -> str:
    """JSON without such signs, written out or escaped; anything else as it was."""
    if json.isprintable() and "\\u" not in json and "\\b" not in json and "\\f" not in json:
        return json
    found = _RAW.sub("", json)
    while True:  # what stood behind a sign that goes may be one as well
        less = _ESCAPED.sub(lambda m: m[1], found)
        if less == found:
            return found
        found = less
