"""What a tightened stud does to a thread, to the lips of a T-slot and to the flange of a nut. N, mm, MPa."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.standards.materials import PRELOAD_SCATTER, material, proof_mpa
from elbrix.standards.threads import Thread

#: A clamping stud is tightened to this share of its proof load at most: 3/8. Source: shop practice. A table slot suffers
#: before a strong stud does, and the torque that reaches the stud scatters.
STUD_SHARE: Final = 0.375
#: Of a vise's largest torque, what a handle is usually pulled with.
HANDLE_SHARE: Final = 0.5
#: Friction of a tightened joint, low on purpose. Source: shop practice, dry and slightly oily steel.
MU: Final = 0.12
#: Share of a preload that is counted on: what the scatter of a torqued screw leaves at the worst.
COUNTED: Final = 1 - PRELOAD_SCATTER
#: Shear strength over tensile yield. Source: von Mises, 1/√3 rounded.
SHEAR_OVER_YIELD: Final = 0.58
#: Allowables for a grey-iron table, MPa: (close above, no above). The machine maker's figure comes first.
LIP_BEARING: Final = (250.0, 400.0)
LIP_SHEAR: Final = (40.0, 60.0)
LIP_BENDING: Final = (40.0, 60.0)


def preload_n(torque_nm: float, nut_factor: float, diameter_mm: float) -> float:
    """Preload in N of a stud tightened to a torque in N·m: F = T/(K·d)."""
    return torque_nm * 1000.0 / (nut_factor * diameter_mm)


def torque_nm(preload: float, nut_factor: float, diameter_mm: float) -> float:
    """The torque in N·m that gives a preload in N: T = K·d·F."""
    return preload * nut_factor * diameter_mm / 1000.0


def stud_load_n(thread: Thread, strength_class: str) -> float:
    """The most a clamping stud is pulled with, N: 3/8 of its proof load."""
    return STUD_SHARE * proof_mpa(strength_class, thread.major_mm).value * thread.stress_area_mm2


def stud_torque_nm(thread: Thread, strength_class: str, nut_factor: float) -> float:
    """The torque that pulls a clamping stud with `stud_load_n`, N·m. The lips and the nut may allow less."""
    return torque_nm(stud_load_n(thread, strength_class), nut_factor, thread.major_mm)


def nut_thread_shear_mm2(thread: Thread, engaged_mm: float) -> float:
    """Shear area in mm² of an internal thread over its engaged length.

    π·d·Le/P·[P/2 + (d − D2)·tan 30°]. Source: ISO 68-1 profile, thread stripped at the stud's major diameter.
    """
    p = thread.pitch_mm
    return (
        math.pi
        * thread.major_mm
        * max(engaged_mm, 0.0)
        / p
        * (p / 2 + (thread.major_mm - thread.pitch_d_mm) * math.tan(math.radians(30)))
    )


class FlangeLoad(Struct, frozen=True, kw_only=True):
    """A ledge loaded along its length: the slot's lip, or the nut's own flange. Both sides share the preload."""

    arm_mm: float  #: middle of the contact to the root
    effective_length_mm: float
    thickness_mm: float

    def shear_mpa(self, preload: float) -> float:
        """F/(2·t·L)."""
        return preload / (2 * self.thickness_mm * self.effective_length_mm)

    def bending_mpa(self, preload: float) -> float:
        """Cantilever: (F/2)·arm over a section modulus L·t²/6, so 3·F·arm/(L·t²)."""
        return 3 * preload * max(self.arm_mm, 0.0) / (self.effective_length_mm * self.thickness_mm**2)


def bearing_mpa(preload: float, overlap_mm: float, length_mm: float) -> float:
    """Pressure under the lips, F/(2·overlap·L); infinite without overlap."""
    return preload / (2 * overlap_mm * length_mm) if overlap_mm > 0 else math.inf


def youngs_mpa(material_name: str) -> float:
    """Young's modulus of a material of the shop, MPa."""
    return material(material_name).young_mpa


#: Young's modulus of a rod of steel, MPa.
STEEL_E_MPA: Final = 205_000.0


def rod_bends_mm(push_n: float, out_mm: float, size_mm: float, e_mpa: float = STEEL_E_MPA) -> float:
    """How far the end of a round rod gives under a push across it: F·L³/(3·E·π·d⁴/64)."""
    return push_n * out_mm**3 / (3 * e_mpa * math.pi * size_mm**4 / 64)


def slit_grip_n(clamp_n: float) -> float:
    """What holds a rod along its axis in a slit bore: the screw presses it from both sides, 2·µ·F, with what is counted on."""
    return 2 * MU * COUNTED * clamp_n
