"""Works a line of arithmetic as it stands on paper, so that a shown working can be checked by itself. No code is run."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable

_SIGNS: dict[type, Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
}
_FUNCTIONS: dict[str, Callable[..., float]] = {
    "sqrt": math.sqrt,
    "sin": math.sin,
    "cos": math.cos,
    "tan": math.tan,
    "asin": lambda x: math.degrees(math.asin(x)),
    "atan": lambda x: math.degrees(math.atan(x)),
    "min": min,
    "max": max,
    "abs": abs,
}
#: Units as written behind a number, in the base units of the line (N, mm, MPa).
_UNITS = {"kN": 1000.0, "N·m": 1000.0, "N": 1.0, "mm²": 1.0, "mm": 1.0, "MPa": 1.0}


def settled(line: str, near: float = 0.002) -> float:
    """What a line comes to: "0.65·6" to 3.9, "0.65·6 = 3.9, up to 4" to 4, once 3.9 was worked again."""
    if not (rounded := re.fullmatch(r"(.*), (up|down) to ([-−\d.]+)", line)):
        return evaluate(line)
    said, word, last = rounded.groups()
    last = last.replace("−", "-")
    sum_, _, middle = said.rpartition(" = ")
    sum_, middle = sum_ or middle, middle.replace("−", "-")
    worked = evaluate(sum_)
    scale = next((s for s in (1.0, 0.001, 0.01) if abs(worked * s - float(middle)) <= near * max(1.0, abs(float(middle)))), None)
    assert scale is not None, line
    assert (float(last) > float(middle)) == (word == "up"), line
    return float(last)


def evaluate(line: str) -> float:
    """Work a line of arithmetic as it stands on paper: × − ² |x| min(a; b) and units, no code is run."""
    text = line.split(", down to")[0].split(", to the")[0]
    for unit, factor in _UNITS.items():
        text = re.sub(rf"(\d(?:[\d.]*)) ?{re.escape(unit)}(?![\w²])", rf"(\1*{factor:g})", text)
    text = (
        text.replace("×", "*")
        .replace("·", "*")
        .replace("−", "-")
        .replace("²", "**2")
        .replace("³", "**3")
        .replace("⁴", "**4")
        .replace("⁹", "**9")
        .replace(";", ",")
        .replace("π", f"{math.pi!r}")
        .replace("^", "**")
    )
    text = re.sub(r"\|([^|]+)\|", r"abs(\1)", text)
    text = re.sub(r"(\d(?:[\d.]*))°", r"(\1*0.017453292519943295)", text).replace("√", "sqrt")

    def value(node: ast.expr) -> float:
        if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
            return float(node.value)
        if isinstance(node, ast.BinOp):
            return _SIGNS[type(node.op)](value(node.left), value(node.right))
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
            return -value(node.operand)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _FUNCTIONS:
            return _FUNCTIONS[node.func.id](*(value(a) for a in node.args))
        raise AssertionError(f"this is no arithmetic: {line!r}")

    return value(ast.parse(text.strip(), mode="eval").body)
