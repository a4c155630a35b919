"""Where accessories are kept."""

from __future__ import annotations

from msgspec import Struct

from elbrix.quantities.errors import ShopError


class StoragePlace(Struct, frozen=True, kw_only=True):
    """A drawer, a box, a nail by the door. What lies there says so in its storage place."""

    id: str
    name: str
    capacity: int = 0  #: pieces it takes; 0: nobody counted
    notes: str = ""

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise ShopError(
                "Storage place", "it has no name", "Labels and items name it", "Give it the name on its label", "name"
            )
        if self.capacity < 0:
            raise ShopError(
                self.name, f"room for {self.capacity}", "A place takes some, or nobody counted", "Write 0", "capacity"
            )

    @property
    def title(self) -> str:
        return self.name

    def holds(self, location: str) -> bool:
        """Whether a storage place as written on an item lies in it: "Drawer 3, left" is in "Drawer 3"."""
        here, there = self.name.strip().casefold(), location.strip().casefold()
        return there == here or (there.startswith(here) and not there[len(here)].isalnum())
