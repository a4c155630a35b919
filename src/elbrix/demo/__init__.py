"""The demo shop that ships with Elbrix."""

from elbrix.demo.wrenfield import documents, write_demo

__all__ = ["documents", "write_demo"]
