"""The one kind of error a toolmaker can put right."""

from __future__ import annotations


class ShopError(Exception):
    """Something the toolmaker can put right; any other exception is our bug."""

    def __init__(self, where: str, what: str, why: str, do: str, entry: str = "") -> None:
        super().__init__(where, what, why, do, entry)  # kept in args, so it survives pickling
        self.where, self.what, self.why, self.do = where, what, why, do
        self.entry = entry  #: name of the parameter it stands beside, when there is one

    def __str__(self) -> str:
        return f"{self.where}: {self.what}. {self.why}. {self.do}."

    @property
    def beside(self) -> str:
        """The message as it stands beside an entry, where the place is plain to see."""
        return f"{self.what}. {self.why}. {self.do}."


class EntryError(ShopError):
    """A typed text that cannot be taken; the value before it stays."""
