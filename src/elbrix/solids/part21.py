"""Strings of a STEP file: ISO 10303-21, clause 6.4.3. Every letter a title can have comes through, not only those of ASCII."""

from __future__ import annotations


def step_string(text: str) -> str:
    """A text as it stands in a STEP file, quotes included.

    Quotes and backslashes stand twice; what is not ASCII is written by its code, in fours of hexadecimal digits or, beyond the
    first plane, in eights. Control characters have no place in a name.
    """
    out, run, wide = "", "", 0
    for character in f"{text}\0":
        code = ord(character)
        if 0 < code < 0x20 or 0x7F <= code < 0xA0:
            continue
        size = 0 if code < 0x7F else 4 if code <= 0xFFFF else 8
        if run and size != wide:
            out += f"\\X{wide // 2}\\{run}\\X0\\"
            run = ""
        if size:
            run, wide = f"{run}{code:0{size}X}", size
        elif code:
            out += {"'": "''", "\\": "\\\\"}.get(character, character)
    return f"'{out}'"
