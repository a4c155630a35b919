"""The colours, by what they are for. Two looks: light, and dim for a dark shop."""

from __future__ import annotations

from typing import Final

from msgspec import Struct


class Palette(Struct, frozen=True):
    """Colours as #rrggbb."""

    paper: str  #: behind everything
    card: str
    line: str  #: hairlines on the card
    ink: str
    soft: str  #: secondary words, ≥ 4.5:1 on card and paper
    accent: str  #: copper: what to do next
    on_accent: str
    rail: str
    rail_soft: str
    rail_on: str
    plate: str
    grid: str
    scribed: str
    hidden: str
    brass: str
    centre: str
    body: str
    host: str
    host_fill: str
    note: str  #: remarks on the plate
    tool: str
    go: str
    marginal: str
    no_go: str
    go_soft: str
    marginal_soft: str
    no_go_soft: str

    def verdict(self, verdict: str) -> str:
        """Colour of a verdict; its sign says the same without colour."""
        return {"go": self.go, "marginal": self.marginal, "no-go": self.no_go}[verdict]

    def verdict_soft(self, verdict: str) -> str:
        return {"go": self.go_soft, "marginal": self.marginal_soft, "no-go": self.no_go_soft}[verdict]


LIGHT: Final = Palette(
    paper="#e9e4d8",
    card="#fbf8f1",
    line="#e2dccd",
    ink="#22252c",
    soft="#68645c",
    accent="#a84a22",
    on_accent="#ffffff",
    rail="#2a2e36",
    rail_soft="#b4b6ba",
    rail_on="#ffffff",
    plate="#1a2956",
    grid="#223466",
    scribed="#f6f2e4",
    hidden="#8296cf",
    brass="#ffce63",
    centre="#7fd8c6",
    body="#32478a",
    host="#9fb0de",
    host_fill="#243670",
    note="#ffa98a",
    tool="#e8b48f",
    go="#2f7d4f",
    marginal="#9a6410",
    no_go="#b3261e",
    go_soft="#bfdcc6",
    marginal_soft="#f1d9a8",
    no_go_soft="#efbdb4",
)
DIM: Final = Palette(
    paper="#1d2026",
    card="#272b33",
    line="#3a3f4a",
    ink="#ece7da",
    soft="#aaa69b",
    accent="#d9794c",
    on_accent="#1d1410",
    rail="#14161a",
    rail_soft="#9a9ca1",
    rail_on="#ffffff",
    plate="#121b3a",
    grid="#182449",
    scribed="#ece7d6",
    hidden="#7488c2",
    brass="#f5c35a",
    centre="#6cc7b5",
    body="#28396f",
    host="#8698ca",
    host_fill="#1a2854",
    note="#f39a7a",
    tool="#d9a27c",
    go="#6fcf97",
    marginal="#e0b04f",
    no_go="#ff8a80",
    go_soft="#2b4a38",
    marginal_soft="#574520",
    no_go_soft="#5c2c28",
)
