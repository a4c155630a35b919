"""Which of the six motions the locators hold, and which they hold twice."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.holding.contacts import Contact, wrench

MOTIONS: Final = (
    "along the table",
    "across the table",
    "up and down",
    "tipping front to back",
    "tipping left to right",
    "turning flat",
)
#: A singular value under this share of the largest is none.
_NONE: Final = 1e-6
#: Contacts are taken as touching at one plane or line when their rows agree to this.


class Located(Struct, frozen=True):
    """What the contacts say without friction."""

    held: int  #: of six
    free: tuple[str, ...]  #: motions nothing holds, in words
    twice: int  #: contacts more than motions they hold
    condition: float  #: best held over worst held, with lengths in half the span; large: the locators stand too close together


def located(contacts: Sequence[Contact]) -> Located:
    """Rank and condition of the contacts' rows, n and p × n about their middle.

    A seat counts as three points however many stand for it, a jaw or an edge as two: what is beyond the rank is held twice.
    """
    if not contacts:
        return Located(0, MOTIONS, 0, float("inf"))
    at = np.array([c.at for c in contacts])
    middle = at.mean(axis=0)
    size = max(1.0, float(np.linalg.norm(np.ptp(at, axis=0))) / 2)
    normals = np.array([c.inward for c in contacts])
    rows = np.concatenate([normals, np.cross((at - middle) / size, normals)], axis=1)
    _, values, directions = np.linalg.svd(rows, full_matrices=True)
    kept = int((values > _NONE * values[0]).sum())
    free = tuple(_named(direction) for direction in directions[kept:])
    groups = _groups(contacts)
    points = sum(min(len(members), most) for most, members in groups)
    return Located(kept, free, max(0, points - kept), float(values[0] / values[kept - 1]))


def guidance(found: Located) -> str:
    """What would locate what is still free, as three, two and one; what is held twice; one sentence each."""
    free = set(found.free)
    said = []
    if free & {"up and down", "tipping front to back", "tipping left to right"}:
        said.append("Three: let it lie on three places far apart, or on a whole face.")
    if {"across the table", "turning flat"} <= free:
        said.append("Two: two stops against its long side, as far apart as it allows.")
    elif "turning flat" in free:
        said.append("A second stop on the side that has one, as far from it as the side allows, takes the turning.")
    elif "across the table" in free:
        said.append("A stop against its long side takes across the table.")
    if "along the table" in free:
        said.append("One: a stop against its end takes along the table.")
    if not said:
        said.append("Located by three, two and one: put back, it comes to the same place.")
    else:
        said.append("Till then it is where it was set by hand; a second piece will not be.")
    if found.twice:
        said.append(f"{found.twice} more than needed touch: what is not true to the others bends the work, or it rocks.")
    return " ".join(said)


def moved_by_errors(contacts: Sequence[Contact], points: Sequence[tuple[float, float, float]]) -> tuple[float, str]:
    """(how far the worst point moves when the worst single locator is off by 1.

    That locator's name), by least squares over all of them.

    Only motions the locators hold are counted: what friction alone keeps is not moved by them.
    """
    if not contacts or not points:
        return 0.0, ""
    rows = np.array([wrench(c.at, c.inward) for c in contacts])
    scale = np.array(
        [1.0, 1.0, 1.0, 1e-2, 1e-2, 1e-2]
    )  # turning weighed in per 100 mm, so that the cut-off means the same in all six
    shifts = scale[:, None] * np.linalg.pinv(rows * scale, rcond=_NONE)
    worst, name = 0.0, ""
    for point in points:
        x, y, z = point
        turn = np.array([[0, z, -y], [-z, 0, x], [y, -x, 0]])
        moves = np.linalg.norm(np.concatenate([np.eye(3), turn], axis=1) @ shifts, axis=0)
        i = int(moves.argmax())
        if moves[i] > worst:
            worst, name = float(moves[i]), contacts[i].name
    return worst, name


def _named(direction: np.ndarray) -> str:
    return MOTIONS[int(np.abs(direction).argmax())]


def _groups(contacts: Sequence[Contact]) -> list[tuple[int, list[Contact]]]:
    """(most points it can count for, contacts) of contacts that lie in one plane and look the same way.

    A seat three, an upright side two.
    """
    found: list[tuple[np.ndarray, float, int, list[Contact]]] = []
    for contact in contacts:
        normal = np.array(contact.inward)
        off = float(normal @ np.array(contact.at))
        for known, where, _, members in found:
            if float(known @ normal) > 0.9999 and abs(where - off) < 0.05:
                members.append(contact)
                break
        else:
            found.append((normal, off, 3 if abs(normal[2]) > 0.7 else 2, [contact]))
    return [(most, members) for _, _, most, members in found]
