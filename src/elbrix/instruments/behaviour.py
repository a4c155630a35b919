"""How simulated instruments measure: like real ones, not quite the truth."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from functools import cache
from typing import Any, Final

import msgspec
from msgspec import Struct, field

from elbrix.instruments.lines import Identity, Quantity, Reading, Record, Trouble
from elbrix.quantities.errors import ShopError


class InstrumentKind(Struct, frozen=True, kw_only=True):
    """A sort of instrument. Lengths in mm, angles in degrees.

    Attributes:
        quantity: What it measures.
        resolution: Of what it shows.
        noise: Standard deviation of one reading.
        bias: Standard deviation of its own fixed error, drawn once for each instrument.
        hysteresis: Width of the dead band on reversing.
        drift: Standard deviation of a step of its slow wander, each reading.
        low: Least it can read.
        high: Most it can read.
    """

    quantity: Quantity
    resolution: float
    noise: float
    bias: float
    low: float
    high: float
    hysteresis: float = 0.0
    drift: float = 0.0

    @property
    def unit(self) -> str:
        return {Quantity.ANGLE: "deg", Quantity.TEMPERATURE: "C"}.get(self.quantity, "mm")

    @property
    def u95(self) -> float:
        """What one reading may be off, 95 %."""
        return self.u95_shown(self.resolution)

    def u95_shown(self, step: float) -> float:
        """The same where it shows other steps than its own, as in inches."""
        return _u95(step / 2, math.hypot(self.noise, self.bias), self.hysteresis)


@cache
def _u95(half: float, sigma: float, hysteresis: float) -> float:
    """Half width of 95 %: rounding evenly over a step, noise and own error normal, the dead band either way.

    Rounding is no bell: where it is the most of it, 1.96 times the root of the squares would cover 99 of 100.
    """
    low, high = 0.0, half + hysteresis + 6 * sigma
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if _covered(middle, half, sigma, hysteresis / 2) < 0.95 else (low, middle)
    return high


def _covered(within: float, half: float, sigma: float, shift: float) -> float:
    """Chance that an even spread of ±half, plus a normal one, shifted either way, is no further off than `within`."""

    def below(x: float) -> float:
        """Of the sum, without the shift: the normal distribution averaged over the even one."""
        integral = [
            (z := (x + side * half) / sigma) * _normal(z) + math.exp(-z * z / 2) / math.sqrt(math.tau) for side in (1, -1)
        ]
        return sigma * (integral[0] - integral[1]) / (2 * half)

    return sum(below(within + s) - below(-within + s) for s in (shift, -shift)) / 2


def _normal(z: float) -> float:
    return 0.5 * math.erfc(-z / math.sqrt(2))


#: What ships. Source: usual workshop grades.
KINDS: Final[dict[str, InstrumentKind]] = {
    "caliper": InstrumentKind(quantity=Quantity.LENGTH, resolution=0.01, noise=0.008, bias=0.006, low=0, high=150),
    "micrometer": InstrumentKind(quantity=Quantity.LENGTH, resolution=0.001, noise=0.0012, bias=0.001, low=0, high=25),
    "depth": InstrumentKind(quantity=Quantity.LENGTH, resolution=0.01, noise=0.01, bias=0.008, low=0, high=150),
    "height": InstrumentKind(quantity=Quantity.LENGTH, resolution=0.01, noise=0.008, bias=0.01, low=0, high=300),
    "dial": InstrumentKind(
        quantity=Quantity.DEVIATION, resolution=0.002, noise=0.0012, bias=0.0, low=-0.4, high=0.4, hysteresis=0.002, drift=0.00005
    ),
    "level": InstrumentKind(quantity=Quantity.ANGLE, resolution=0.01, noise=0.008, bias=0.02, low=-90, high=90),
    "protractor": InstrumentKind(quantity=Quantity.ANGLE, resolution=1 / 12, noise=0.02, bias=0.02, low=0, high=360),
    "thermometer": InstrumentKind(quantity=Quantity.TEMPERATURE, resolution=0.1, noise=0.05, bias=0.12, low=-20, high=120),
    "readout": InstrumentKind(quantity=Quantity.AXIS, resolution=0.005, noise=0.0015, bias=0.0, low=-1000, high=1000),
}


class Truth(Struct, frozen=True, kw_only=True):
    """What an instrument measures, in the order it is put to the places; it begins again at the end.

    Attributes:
        values: True values, mm or degrees.
        axes: Of a readout, the axis of each value.
        cosine_deg: An indicator set up askew shows its way times the cosine.
        warm_k: How much warmer the work is than 20 °C; it grows by `expansion`.
        expansion_um_m_k: Of the work.
        faults: Number of a reading → what goes wrong there: "unplugged", "battery", "lifted".
    """

    values: tuple[float, ...] = (12.05,)
    axes: tuple[str, ...] = ()
    cosine_deg: float = 0.0
    warm_k: float = 0.0
    expansion_um_m_k: float = 11.5
    faults: dict[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if not self.values or not all(math.isfinite(v) for v in self.values):
            raise ShopError("Truth", "there is nothing to measure", "It is a list of numbers", 'Write {"values": [12.05]}')
        if self.axes and len(self.axes) != len(self.values):
            raise ShopError("Truth", "not as many axes as values", "Each value is of one axis", "Complete them")


def read_truth(text: str) -> dict[str, Truth]:
    """Truths by instrument: `{"caliper-1": {"values": [12.05, 12.08]}}`.

    Raises:
        ShopError: Not such a file.
    """
    try:
        found: dict[str, Truth] = msgspec.json.decode(text, type=dict[str, Truth])
    except (msgspec.DecodeError, UnicodeError, RecursionError) as error:
        raise ShopError("Truth", f"it cannot be read ({error})", "It is JSON by instrument", "See docs/instruments.md") from None
    return found


class Simulated:
    """One instrument with its own errors. The same seed and name give the same instrument."""

    def __init__(self, name: str, truth: Truth | None = None, seed: int = 0) -> None:
        """Make one.

        Args:
            name: "caliper-1": what comes before the last dash is its kind.
            truth: What it measures.
            seed: Of its errors.

        Raises:
            ShopError: No such kind.
        """
        kind = KINDS.get(name.rpartition("-")[0] or name)
        if kind is None:
            raise ShopError(
                "Instruments", f"there is no “{name[:24]}”", f"There are: {', '.join(KINDS)}", "Write for example caliper-1"
            )
        self.name, self.kind, self.truth = name, kind, truth or Truth()
        self._chance = random.Random(f"{seed} {name}")
        self._bias = self._chance.gauss(0, kind.bias)
        self._drift = self._zero = self._before = self._band = 0.0
        self._taken = 0
        self.inches = False

    def identify(self) -> Identity:
        k = self.kind
        return Identity(
            instrument=self.name,
            kind=self.name.rpartition("-")[0] or self.name,
            resolution=k.resolution,
            low=k.low - self._zero,
            high=k.high - self._zero,
            unit=k.unit,
        )

    def zero(self) -> None:
        """Here is nothing: what it now shows is taken off from now on."""
        self._zero = self._sensed(self._true())

    def press(self) -> Record:
        """One reading of the next place, or what keeps it from one."""
        true, axis = self._true(), self._axis()
        trouble = self.truth.faults.get(str(self._taken + 1))
        self._taken += 1
        if trouble == "battery":
            return Trouble(instrument=self.name, what="battery", words="battery at 4 %")
        if trouble == "lifted":
            true = self.kind.low  # the operator took it off between two readings
        elif trouble:
            return Trouble(instrument=self.name, what="fault", words=trouble)
        sensed = self._sensed(true)
        if not self.kind.low <= sensed <= self.kind.high:
            return Trouble(instrument=self.name, what="fault", words="out of range")
        return self._shown(sensed - self._zero, axis)

    def _true(self) -> float:
        return self.truth.values[self._taken % len(self.truth.values)]

    def _axis(self) -> str:
        if self.kind.quantity is not Quantity.AXIS:
            return ""
        axes: Sequence[str] = self.truth.axes or ("X", "Y", "Z")
        return axes[self._taken % len(axes)]

    def _sensed(self, true: float) -> float:
        """True value → what the works of the instrument feel, before it is rounded."""
        k = self.kind
        if k.quantity is Quantity.LENGTH:
            true *= 1 + self.truth.expansion_um_m_k * 1e-6 * self.truth.warm_k
        elif k.quantity is Quantity.DEVIATION:
            true /= math.cos(math.radians(self.truth.cosine_deg)) if abs(self.truth.cosine_deg) < 89 else 1.0
        if true != self._before:
            self._band = math.copysign(k.hysteresis / 2, self._before - true)
            self._before = true
        self._drift += self._chance.gauss(0, k.drift) if k.drift else 0.0
        return true + self._bias + self._band + self._drift + self._chance.gauss(0, k.noise)

    def _shown(self, value: float, axis: str) -> Reading:
        k = self.kind
        inches = self.inches and k.unit == "mm"
        step = k.resolution if not inches else _inch_step(k.resolution)
        per = 25.4 if inches else 1.0
        shown = round(value / per / step) * step
        digits = next((d for d in range(7) if abs(step * 10**d - round(step * 10**d)) < 1e-9), 3)
        text = f"{shown:.{digits}f}"
        text = text.lstrip("-") if float(text) == 0 else text
        return Reading(
            instrument=self.name,
            quantity=k.quantity,
            value=float(text) * per,
            u=_up(k.u95_shown(step * per)),
            number=self._taken,
            axis=axis,
            unit="in" if inches else k.unit,
            shown=text,
        )


def _inch_step(step_mm: float) -> float:
    """The step an instrument of such a resolution has in inches: 0.01 → 0.0005, 0.001 → 0.00005."""
    return float(5 * 10.0 ** (math.floor(math.log10(step_mm)) - 2))


def _up(value: float) -> float:
    """An uncertainty in two figures, never smaller than it is."""
    place = 10.0 ** (math.floor(math.log10(value)) - 1)
    return round(math.ceil(value / place - 1e-9) * place, 9)


def describe(kinds: Mapping[str, InstrumentKind] = KINDS) -> list[dict[str, Any]]:
    """Every kind as plain data."""
    return [
        {
            "name": f"{name}-1",
            "kind": name,
            "measures": k.quantity.value,
            "unit": k.unit,
            "resolution": k.resolution,
            "range": [k.low, k.high],
            "u95": k.u95,
        }
        for name, k in kinds.items()
    ]
