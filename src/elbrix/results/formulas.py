"""A formula as one writes it on paper: said once, it gives the value, the line with numbers and the words.

`worked("W·c/L", width, clearance, length)` works out 0.05 from 100, 0.02 and 40, and shows "W·c/L" and "100·0.02/40". What is
shown and what is counted on can then not drift apart.
"""

from __future__ import annotations

import _ast as ast  # the nodes alone: the module of helpers round them is a hundredth of the start
import math
import operator
from collections.abc import Callable
from functools import cache
from typing import Final

from msgspec import Struct

from elbrix.quantities.patterns import Pattern
from elbrix.results.figures import Derivation, Figure, FormulaLine, FormulaTerm, Origin

_Value = Callable[[tuple[float, ...]], float]

#: Inverse functions give degrees, as a line on paper does; what goes into sin, cos and tan carries its ° or is in radians.
_FUNCTIONS: Final[dict[str, Callable[..., float]]] = {
    "sqrt": math.sqrt,
    "sin": math.sin,
    "cos": math.cos,
    "tan": math.tan,
    "asin": lambda x: math.degrees(math.asin(x)),
    "acos": lambda x: math.degrees(math.acos(x)),
    "atan": lambda x: math.degrees(math.atan(x)),
    "min": min,
    "max": max,
    "abs": abs,
}
_OPERATORS: Final[dict[type[ast.operator], Callable[[float, float], float]]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
}
#: Signs of paper in those of the language.
_WRITTEN: Final = {
    "−": "-",
    "·": "*",
    "×": "*",
    ";": ",",
    "^": "**",
    "²": "**2",
    "³": "**3",
    "⁴": "**4",
    "⁹": "**9",
    "√": "sqrt",
    "°": f"*{math.pi / 180!r}",
    "π": repr(math.pi),
}
#: What stands behind a formula and is no part of it: "…, in %".
_AFTER: Final = Pattern(r",? (?:in|at) %$")
#: A number, a name of one or more words, a sign, |…|.
_TOKEN: Final = Pattern(r"\d+(?:\.\d+)?(?![^\W_])|\|[^|]+\||[+−·×/^();°π√²³⁴⁹]|[^\W\d](?:N·m|[^+−·×/^()|;°π√²³⁴⁹])*|\s+|.")

#: What one unit as shown is in the units a line is worked in: N, mm, MPa, radians.
_BASE: Final = {"kN": 1000.0, "N·m": 1000.0, "N": 1.0, "mm": 1.0, "mm²": 1.0, "MPa": 1.0, "°": math.pi / 180}


def term(value: float, places: int = 3, unit: str = "") -> FormulaTerm:
    """A number written with so many decimals, a small one with more.

    Args:
        value: In `unit`, which is written behind it; without one a bare number.
    """
    return FormulaTerm(value * _BASE[unit] if unit else value, value, places, unit)


def kilonewtons(newtons: float, places: int = 4) -> FormulaTerm:
    """A force of so many N, written in kN."""
    return term(newtons / 1000, places, "kN")


class Worked(Struct, frozen=True):
    """What a formula comes to, and how."""

    value: float
    derivation: Derivation

    def __float__(self) -> float:
        return self.value


class Formula(Struct, frozen=True):
    """A formula read once."""

    text: str
    names: tuple[str, ...]  #: in the order they are first named
    template: str  #: the text with {0}, {1} … where a name stands
    work_out: _Value

    def __call__(self, *terms: float | FormulaTerm | Worked, source: str = "", most: float = math.inf) -> Worked:
        """Work it out.

        Args:
            terms: One for each name, in the order of `names`.
            most: More is not said: what is divided by next to nothing.

        Raises:
            TypeError: Not as many numbers as names: a slip in the code.
        """
        if len(terms) != len(self.names):
            raise TypeError(f"{self.text!r} names {self.names}, {len(terms)} numbers are given")
        given = tuple([t if isinstance(t, FormulaTerm) else FormulaTerm(float(t), float(t)) for t in terms])
        try:
            value = self.work_out(tuple([t.value for t in given]))
        except ZeroDivisionError:
            value = math.inf
        except ValueError:  # the sine of nothing: it cannot be, and no check lets it pass
            value = math.nan
        return Worked(min(value, most), Derivation(self.text, FormulaLine(self.template, given), source))


def worked(text: str, *terms: float | FormulaTerm | Worked, source: str = "", most: float = math.inf) -> Worked:
    """Work out a formula; see `Formula`."""
    return formula(text)(*terms, source=source, most=most)


#: What the shown number is of the unit a line is worked in.
_SHOWN: Final = {"%": 100.0, "kN": 1 / 1000, "N·m": 1 / 1000}


def shown_as(by: Worked, unit: str) -> float:
    """What a formula comes to, in the unit it is shown in."""
    return by.value * _SHOWN.get(unit, 1.0)


def reckoned(
    key: str,
    label: str,
    by: Worked,
    *,
    unit: str = "mm",
    step: float | None = None,
    features: tuple[str, ...] = (),
    note: str = "",
    origin: Origin = Origin.CALCULATED,
    text: str = "",
) -> Figure:
    """A number of a design or plan by its formula."""
    return Figure(
        key=key,
        label=label,
        value=shown_as(by, unit),
        unit=unit,
        step=step,
        features=features,
        note=note,
        origin=origin,
        text=text,
        derivation=by.derivation,
    )


@cache
def formula(text: str) -> Formula:
    """Read a formula.

    Raises:
        ValueError: It is no arithmetic.
    """
    names: list[str] = []
    pieces: list[str | int] = []
    line = _read(_AFTER.sub("", text), names, pieces)
    try:
        tree = compile(line, "formula", "eval", ast.PyCF_ONLY_AST)
    except SyntaxError as error:
        raise ValueError(f"this is no arithmetic: {text!r}") from error
    assert isinstance(tree, ast.Expression)
    template = "".join(p if isinstance(p, str) else f"{{{p}}}" for p in pieces)
    return Formula(text, tuple(names), template, _value(tree.body))


def _read(text: str, names: list[str], pieces: list[str | int]) -> str:
    """The formula in the signs of the language, names as _0, _1 …; what is written is split at the names."""
    line = ""
    for match in _TOKEN.finditer(text):
        token = match.group()
        if token.startswith("|"):
            pieces.append("|")
            line += f"abs({_read(token[1:-1], names, pieces)})"
            pieces.append("|")
        elif token[0].isalpha() and token not in _WRITTEN and not (token in _FUNCTIONS and text.startswith("(", match.end())):
            name = token.rstrip()
            if name not in names:
                names.append(name)
            line += f"_{names.index(name)} "
            pieces += [names.index(name), token[len(name) :]]
        else:
            line += _WRITTEN.get(token, token)
            pieces.append(token)
    return line


def _value(node: ast.expr) -> _Value:
    """What works a formula out, without reading it again."""
    match node:
        case ast.Constant(value=int() | float() as number):
            return lambda _: number
        case ast.Name(id=name):
            place = int(name[1:])
            return lambda given: given[place]
        case ast.BinOp(left=left, op=sign, right=right):
            work, one, other = _OPERATORS[type(sign)], _value(left), _value(right)
            return lambda given: work(one(given), other(given))
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            positive = _value(operand)
            return lambda given: -positive(given)
        case ast.Call(func=ast.Name(id=called), args=args) if called in _FUNCTIONS:
            function, values = _FUNCTIONS[called], [_value(a) for a in args]
            return lambda given: function(*(v(given) for v in values))
        case _:
            raise ValueError(f"this is no arithmetic: {type(node).__name__}")
